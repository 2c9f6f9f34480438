"""Two pieces laid together along a seam: lines cut and slashed over it, measured on the outlines."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence

import pytest

from caddet.core.made import Made
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.values import FramePoint, Place
from tests.making import area, drafted, nine, pattern_of, step

BLOCKS = {
    "skirt.straight": ("front.centre_front", "back.centre_back", 0.3, 0.4),
    "dress.sheath": ("front.centre_front", "back.centre_back", 0.2, 0.25),
    "bodice.darted": ("front.centre_front", "back.centre_back", 0.5, 0.4),
}


def _cut(block: str, who: object, kind: str, ends: tuple[float, float], **more: object) -> Made:
    first, last, *_ = BLOCKS[block]
    line = (Place(edge=first, share=ends[0]), Place(edge=last, share=ends[1]))
    return drafted(block, who, steps=(step(kind, line=line, **more),))  # type: ignore[arg-type]


def _part(pieces: Sequence[Piece], mark: str) -> Piece:
    return next(one for one in pieces if mark in one.marks)


def _angle(piece: Piece, cut: str, side: str) -> float:
    """The angle inside a piece where its cut edge meets an edge, in degrees."""
    edges = piece.edges
    for n, edge in enumerate(edges):
        if {edges[n - 1].name, edge.name} == {cut, side}:
            return math.degrees(cmath.phase(-edges[n - 1].path.end_direction / edge.path.start_direction)) % 360
    raise AssertionError((piece.name, [edge.id for edge in edges]))


@pytest.mark.parametrize("block", BLOCKS)
def test_a_line_over_a_side_seam_divides_both_its_sides_alike(block: str) -> None:
    done = 0
    for who in nine():
        *_, low, high = BLOCKS[block]
        made = _cut(block, who, "cut", (low, high))
        if made.pattern is None:
            continue
        assert not made.evaluated.outcomes[0].stuck, (who.name, made.evaluated.outcomes[0].stuck)
        pattern = made.pattern
        for half in (("s2.1.1", "s2.2.1"), ("s2.1.2", "s2.2.2")):
            front, back = (_part(pattern.pieces, mark) for mark in half)
            assert (front.made, back.made) == ("front", "back")
            assert front.run_length("front.side") == pytest.approx(back.run_length("back.side"), abs=0.5), who.name
            # sewn at the side, the line runs straight on over the seam: the two angles make half a turn
            angles = _angle(front, "s2.1.cut", "front.side") + _angle(back, "s2.2.cut", "back.side")
            assert angles == pytest.approx(180.0, abs=1.5), who.name
        seams = [line for line in made.proof if line.kind == "seam" and not line.holds]
        assert not seams, (who.name, [(line.name, line.value, line.limit) for line in seams])
        done += 1
    assert done >= 7


def test_a_curve_over_a_seam_is_smooth_there() -> None:
    first, last, low, high = BLOCKS["bodice.darted"]
    low_front = FramePoint(edge="front.side", along=0.4, out=-60.0)
    made = drafted(
        "bodice.darted",
        nine()[3],
        steps=(step("cut", line=(Place(edge=first, share=low), low_front, Place(edge=last, share=high)), curve=True),),
    )
    pattern = pattern_of(made)
    front, back = _part(pattern.pieces, "s2.1.1"), _part(pattern.pieces, "s2.2.1")
    angles = _angle(front, "s2.1.cut", "front.side") + _angle(back, "s2.2.cut", "back.side")
    assert angles == pytest.approx(180.0, abs=1.5)
    assert {piece.label for piece in (front, back)} == {"Front, upper", "Back, upper"}


@pytest.mark.parametrize(("opens", "ends"), [("all", (20.0, 20.0)), ("start", (20.0, 0.0)), ("end", (0.0, 20.0))])
@pytest.mark.parametrize("amount", [20.0, -8.0])
def test_a_slash_over_a_seam_opens_both_its_sides_by_the_same(
    opens: str, ends: tuple[float, float], amount: float
) -> None:
    first, last, *_ = BLOCKS["skirt.straight"]
    line = (Place(edge=first, share=0.5), Place(edge=last, share=0.5))
    for who in nine()[:4]:
        before = pattern_of(drafted("skirt.straight", who))
        made = drafted("skirt.straight", who, steps=(step("slash", lines=(line,), opens=opens, amount=amount),))
        assert not made.evaluated.outcomes[0].stuck
        after = pattern_of(made)
        grew = [after.run_length(f"{p}.side") - before.run_length(f"{p}.side") for p in ("front", "back")]
        assert grew[0] == pytest.approx(grew[1], abs=0.3)
        assert grew[0] * amount > 0
        centres = [after.run_length(one) - before.run_length(one) for one in (first, last)]
        wanted = [amount * end / 20.0 for end in ends]
        assert centres == pytest.approx(wanted, abs=0.5)
        more = sum(area(after.piece(p)) - area(before.piece(p)) for p in ("front", "back"))
        assert more * amount > 0


def test_what_is_no_line_over_one_seam_is_said() -> None:
    def stuck(*line: object, kind: str = "cut", **more: object) -> str:
        made = drafted("bodice.darted", nine()[3], steps=(step(kind, line=line, **more),))
        return made.evaluated.outcomes[0].stuck

    centre, sleeve = Place(edge="front.centre_front", share=0.5), Place(edge="sleeve.hem", share=0.5)
    assert "leaves" in stuck(Place(edge="front.waist", share=0.5), Place(edge="back.neckline", share=0.5))
    assert "does not cross" in stuck(Place(edge="front.armhole", share=0.8), Place(edge="back.armhole", share=0.8))
    assert "as it was drawn" in stuck(centre, Place(edge="back.centre_back", share=0.5), level=True)
    over_two = stuck(Place(edge="back.centre_back", share=0.3), centre, sleeve)
    assert "more than one seam" in over_two
    none = drafted(
        "skirt.straight",
        nine()[3],
        steps=(
            step("band", part="waistband"),
            step("cut", line=(Place(edge="front.hem", share=0.5), Place(edge="s2.waistband", share=0.2))),
        ),
    )
    assert none.evaluated.outcomes[-1].stuck


def test_a_hollow_is_cut_over_a_side_seam_and_both_sides_end_at_it() -> None:
    for who in nine()[:4]:
        low = FramePoint(edge="front.side", along=0.12, out=-5.0)
        line = (Place(edge="front.armhole", share=0.8), low, Place(edge="back.armhole", share=0.8))
        made = drafted("bodice.darted", who, sleeve=False, steps=(step("cut_out", line=line, curve=True),))
        assert not made.evaluated.outcomes[0].stuck, made.evaluated.outcomes[0].stuck
        pattern = pattern_of(made)
        assert pattern.run_length("front.side") == pytest.approx(pattern.run_length("back.side"), abs=0.5)
        assert [one.label for one in pattern.pieces if one.made in ("front", "back")] == ["Front", "Back"]
        for piece in pattern.pieces:
            for edge in piece.edges:
                if edge.name.endswith(".cut"):
                    assert edge.finish == "facing"
