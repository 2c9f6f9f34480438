"""Every block on all 254 real bodies: valid by shapely, closed to 0.1 mm, seams within tolerance, fair armholes."""

from __future__ import annotations

import pytest
import shapely

from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, pattern_of, whole_bodies

BODIES = whole_bodies()


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_a_block_closes_on_every_body(name: str) -> None:
    for who in BODIES:
        made = drafted(name, who)
        pattern = pattern_of(made)
        for line in made.proof:
            if line.kind == "closure" or line.kind in ("seam", "join"):
                assert line.holds, (who.name, line.label, line.value, line.limit)
            assert line.name != "finish.crossing", (who.name, line.sentence)
        for piece in pattern.pieces:
            shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
            assert shape.is_valid and shape.area > 500, (who.name, piece.name)
        if pattern.has("front") and pattern.piece("front").has_run("armhole") and name != "swimsuit":
            longer = pattern.piece("back").run_length("armhole") - pattern.piece("front").run_length("armhole")
            assert 0 <= longer <= 20, (who.name, longer)
