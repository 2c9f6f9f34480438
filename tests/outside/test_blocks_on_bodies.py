"""Every block on real bodies: valid by shapely, closed to 0.1 mm, seams within tolerance, fair armholes.

Here on nine and on each twelfth of the 254; on all of them in the soak.
"""

from __future__ import annotations

import pytest
import shapely

from caddet.core.made import Made
from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, nine, pattern_of, whole_bodies

BODIES = (*nine(), *whole_bodies()[::12])


def closes(made: Made) -> None:
    """AssertionError, with the line or piece, if a garment doesn't close or its armholes are not fair."""
    pattern = pattern_of(made)
    for line in made.proof:
        if line.kind in ("closure", "seam", "join"):
            assert line.holds, f"{line.label}: {line.value} past {line.limit}"
        assert line.name != "finish.crossing", str(line.sentence)
    for piece in pattern.pieces:
        shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
        assert shape.is_valid and shape.area > 500, piece.name
    swimsuit = made.document.recipe.block == "swimsuit"  # its back armhole is cut away
    if pattern.has("front") and pattern.piece("front").has_run("armhole") and not swimsuit:
        longer = pattern.piece("back").run_length("armhole") - pattern.piece("front").run_length("armhole")
        assert 0 <= longer <= 20, f"the back armhole is longer by {longer:.1f}"


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_a_block_closes_on_real_bodies(name: str) -> None:
    for who in BODIES:
        made = drafted(name, who)
        try:
            closes(made)
        except AssertionError as error:
            raise AssertionError(f"{who.name}: {error}") from None
