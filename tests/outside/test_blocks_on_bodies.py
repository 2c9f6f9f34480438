"""Every block on real bodies: valid by shapely, closed to 0.1 mm, seams within tolerance, fair armholes.

Here on nine and on each twelfth of the 254; on all of them in the soak.
"""

from __future__ import annotations

import pytest
import shapely

from caddet.core.made import Made
from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, full_people, nine, pattern_of, whole_bodies
from tests.share import share

BODIES = (*nine(), *full_people()[1::2], *whole_bodies()[::12])


def faults(made: Made) -> list[str]:
    """What keeps a garment from closing or its armholes from being fair, each named with its line or piece."""
    pattern, found = pattern_of(made), []
    for line in made.proof:
        if line.kind in ("closure", "seam", "join") and not line.holds:
            found.append(f"{line.label}: {line.value} past {line.limit}")
        if line.name == "finish.crossing":
            found.append(str(line.sentence))
    for piece in pattern.pieces:
        shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
        if not shape.is_valid or shape.area <= 500:
            found.append(f"{piece.name} is {shape.area:.0f} mm² and {'valid' if shape.is_valid else 'crosses itself'}")
    swimsuit = made.document.recipe.block == "swimsuit"  # its back armhole is cut away
    if pattern.has("front") and pattern.piece("front").has_run("armhole") and not swimsuit:
        longer = pattern.piece("back").run_length("armhole") - pattern.piece("front").run_length("armhole")
        if not 0 <= longer <= 20:
            found.append(f"the back armhole is longer by {longer:.1f}")
    return found


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_a_block_closes_on_real_bodies(name: str) -> None:
    for who in share(BODIES, 2, sorted(BLOCKS).index(name)):
        assert not faults(drafted(name, who)), who.name
