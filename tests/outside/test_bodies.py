"""All 254 real bodies draft without a failed closure.

Bodies: Heinz, Peterson, Johnson, Kerr, "Exploring Relationships in Body Dimensions", Journal of Statistics
Education 11(2), 2003; see ``tests/data/README.md``. Validity is judged by shapely.
"""

from __future__ import annotations

import pytest

from caddet.core.truing.walk import walk
from tests.making import bodies, made, polygon
from tests.share import share


@pytest.mark.parametrize("options", [{}, {"school": "seat", "flare": 60.0}, {"flare": 150.0, "length": 550.0}])
def test_every_body_gets_a_valid_skirt_that_closes(options: dict[str, object]) -> None:
    people = bodies()
    assert len(people) == 254
    for who in share(people, 4, len(options)):
        result = made(who=who, **options)  # type: ignore[arg-type]
        assert result.pattern is not None, who.name
        fails = [
            line.label for line in result.proof if line.verdict == "fails" or (line.kind == "join" and not line.holds)
        ]
        assert not fails, (who.name, fails)
        for cut in result.cut:
            for shape in (polygon(cut.piece.polygon()), polygon(cut.polygon())):
                assert shape.is_valid and shape.area > 1000, (who.name, cut.piece.name)
        for seam in result.pattern.seams:
            assert abs(walk(result.pattern, seam).off) < 0.1, (who.name, seam.name)
