"""Darts where they stand: point, legs, gathers and pleats in their place, shared, merged, let in, made a seam."""

from __future__ import annotations

import cmath
import math
from itertools import pairwise

import pytest
import shapely

from caddet.core.made import Made
from caddet.core.pattern.dart_forms import angle_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import level_length
from caddet.core.recipe.registry import BLOCKS
from caddet.core.recipe.values import FramePoint, Place
from caddet.core.truing.walk import walk
from tests.making import drafted, nine, pattern_of, polygon, step
from tests.surgery import consistent

BODICE = pattern_of(drafted("bodice.darted"))
DRESS = drafted("dress.sheath")


def done(block: str, kind: str, **values: object) -> Pattern:
    after = drafted(block, steps=(step(kind, **values),))
    assert not after.evaluated.outcomes[0].stuck, after.evaluated.outcomes[0].stuck
    pattern = pattern_of(after)
    consistent(pattern)
    return pattern


def stuck(block: str, kind: str, **values: object) -> str:
    return str(drafted(block, steps=(step(kind, **values),)).evaluated.outcomes[0].stuck)


def cloth(piece: Piece) -> float:
    """The area inside a piece by shapely, in mm²."""
    return float(polygon(piece.polygon(0.01)).area)


def leg_lengths(piece: Piece, dart: str) -> tuple[float, float]:
    _, a, apex, b = piece.legs(dart)
    del a, apex, b
    one, other = (edge.path.length for edge in piece.edges if edge.dart == dart)
    return one, other


# --- point and legs -------------------------------------------------------------------------------


@pytest.mark.parametrize("by", [-25.0, 18.0])
def test_the_point_moves_along_the_middle_and_the_legs_stay_equal(by: float) -> None:
    front = BODICE.piece("front")
    after = done("bodice.darted", "dart_point", dart=("front.front_dart",), longer=by).piece("front")
    _, a, before, b = front.legs("front_dart")
    _, _, apex, _ = after.legs("front_dart")
    way = before - (a + b) / 2
    assert abs(apex - before - way / abs(way) * by) < 1e-9
    one, other = leg_lengths(after, "front.front_dart")
    assert one == pytest.approx(other, abs=1e-9)


def test_the_point_goes_to_a_place_off_the_middle_and_the_edge_is_trued() -> None:
    place = FramePoint(edge="front.waist", along=0.4, out=-90.0)
    before = BODICE.piece("front")
    after = done("bodice.darted", "dart_point", dart=("front.front_dart",), to=(place,)).piece("front")
    one, other = leg_lengths(after, "front.front_dart")
    assert one == pytest.approx(other, abs=1e-9)
    assert abs(after.legs("front_dart")[2] - before.legs("front_dart")[2]) > 5
    assert "outside the piece" in stuck("bodice.darted", "dart_point", dart=("front.front_dart",), longer=-300.0)


def test_curved_legs_take_in_more_outward_and_less_inward_by_the_cubics_own_area() -> None:
    """A cubic with one control point lifted by L encloses 3/20 of chord × L with its chord (∫ by hand)."""
    front = BODICE.piece("front")
    _, a, apex, _ = front.legs("front_dart")
    for by in (5.0, -5.0):
        after = done("bodice.darted", "dart_legs", dart=("front.front_dart",), by=by).piece("front")
        # one control point lifted at a third: the area between curve and chord is 3/20 × chord × lift
        wanted = -2 * 0.15 * abs(apex - a) * by * 9 / 4 * 3 / 2
        got = cloth(after) - cloth(front)
        assert math.copysign(1, got) == math.copysign(1, wanted), "outward the dart takes in more"
        one, other = leg_lengths(after, "front.front_dart")
        assert one == pytest.approx(other, abs=1e-9)
        most = max(
            abs(((p - a) / (apex - a)).imag) * abs(apex - a)
            for edge in after.edges
            if edge.dart == "front.front_dart" and abs(edge.path.start - a) < 1e-6
            for p in edge.path.flattened(0.001)
        )
        assert most == pytest.approx(abs(by), abs=0.02)


# --- held another way -----------------------------------------------------------------------------


def test_a_pleat_takes_up_what_the_dart_took_up() -> None:
    """Row 34 of the check values: a pleat of an inch in place of a dart of an inch is the same fabric."""
    before, after = BODICE, done("bodice.darted", "dart_into", dart=("front.front_dart",), how="pleated")
    _, a, _, b = before.piece("front").legs("front_dart")
    front = after.piece("front")
    assert front.run_length("waist") == pytest.approx(before.piece("front").run_length("waist") + abs(a - b), abs=1e-9)
    pleat = next(f for f in front.features if f.kind == "pleat")
    ends = [front.where(bit.a) for bit in pleat.bits]
    assert abs(ends[0] - ends[1]) == pytest.approx(abs(a - b), abs=1e-6)
    assert not [d for d in front.darts if d.name == "front.front_dart"]


def test_gathers_and_ease_are_in_the_seam_that_holds_them() -> None:
    before = pattern_of(DRESS)
    for how, kind in (("gathered", "gathered"), ("eased", "eased")):
        after = done("dress.sheath", "dart_into", dart=("front.front_dart",), how=how)
        seam = after.seam("waist_front")
        assert seam.kind == kind
        lengths = sorted(after.length(layer) for layer in seam.layers)
        wanted = lengths[1] / lengths[0] if kind == "gathered" else lengths[1] - lengths[0]
        assert seam.amount == pytest.approx(wanted)
        assert abs(walk(after, seam).off) < 1e-6
        assert lengths[0] == pytest.approx(before.length(before.seam("waist_front").a), abs=3.0)


def test_fullness_with_no_seam_to_hold_it_is_told() -> None:
    after = drafted("bodice.darted", steps=(step("dart_into", dart=("front.front_dart",), how="gathered"),))
    assert any("in no seam that would hold" in f.sentence for f in after.findings)
    side = drafted("bodice.darted", steps=(step("dart_into", dart=("front.bust_dart",), how="loose"),))
    assert any("its other side has to follow" in f.sentence for f in side.findings)


# --- shared and merged ----------------------------------------------------------------------------


@pytest.mark.parametrize(("part", "stays"), [(0.5, 0.0), (0.3, 0.25)])
def test_shares_have_the_angle_of_the_whole(part: float, stays: float) -> None:
    front = BODICE.piece("front")
    whole = angle_of(front, front.darts[0])
    after = done(
        "bodice.darted",
        "dart_share",
        dart=("front.bust_dart",),
        part=part,
        stays=stays,
        to=Place(edge="front.shoulder", share=0.5),
        also=Place(edge="front.armhole", share=0.5),
    ).piece("front")
    shares = [angle_of(after, dart) for dart in after.darts if dart.name == "front.bust_dart"]
    assert sum(shares) == pytest.approx(whole, abs=1e-9)
    wanted = sorted(s for s in ((1 - stays) * part, (1 - stays) * (1 - part), stays) if s > 0)
    assert sorted(one / whole for one in shares) == pytest.approx(wanted, abs=1e-9)
    assert cloth(after) == pytest.approx(cloth(front), rel=1e-6)


def test_a_dart_closed_into_another_leaves_one_that_ends_at_its_point() -> None:
    front = BODICE.piece("front")
    after = done("bodice.darted", "dart_merge", dart=("front.bust_dart",), onto=("front.front_dart",)).piece("front")
    assert [dart.name for dart in after.darts] == ["front.front_dart"]
    assert abs(after.legs("front_dart")[2] - front.legs("bust_dart")[2]) < 1e-9
    one, other = leg_lengths(after, "front.front_dart")
    assert one == pytest.approx(other, abs=1e-9)
    assert after.run_length("side") == pytest.approx(front.run_length("side"), abs=1e-9)
    assert len(after.run("side")) == 1, "the side is in one again"


# --- let in ---------------------------------------------------------------------------------------


def test_a_dart_let_in_shortens_its_edge_by_its_width_and_both_legs_are_equal() -> None:
    before = pattern_of(drafted("top.knit")).piece("front")
    after = done("top.knit", "dart_add", at=Place(edge="front.side", share=0.4), width=24.0, length=90.0).piece("front")
    assert after.run_length("side") == pytest.approx(before.run_length("side") - 24.0, abs=1e-9)
    dart = after.darts[0]
    one, other = leg_lengths(after, dart.id)
    assert one == pytest.approx(other, abs=1e-9) and one == pytest.approx(math.hypot(90, 12), abs=0.2)
    taken = shapely.Polygon([(p.real, p.imag) for p in after.legs(dart.id)[1:]]).area
    assert cloth(after) == pytest.approx(cloth(before) - taken, abs=40)
    assert "fold" in stuck("top.knit", "dart_add", at=Place(edge="front.centre_front", share=0.5))
    assert "no room" in stuck("top.knit", "dart_add", at=Place(edge="front.side", share=0.01))
    assert "outside" in stuck("top.knit", "dart_add", at=Place(edge="front.side", share=0.4), length=400.0)


def test_a_contour_dart_stays_inside_the_piece_or_says_which_way_it_runs_out() -> None:
    at = (FramePoint(edge="back.hem", along=0.5, out=-280.0),)
    after = drafted("top.knit", steps=(step("dart_contour", at=at, width=20.0),))
    reason = after.evaluated.outcomes[0].stuck
    at = (FramePoint(edge="back.hem", along=0.5, out=280.0),) if reason else at
    piece = done("top.knit", "dart_contour", at=at, width=20.0).piece("back")
    dart = next(f for f in piece.features if f.kind == "contour_dart")
    points = [piece.where(bit.a) for bit in dart.bits]
    assert abs(points[1] - points[3]) == pytest.approx(20.0)
    assert "run out of the back" in stuck("top.knit", "dart_contour", at=at, up=400.0, down=400.0)


# --- princess -------------------------------------------------------------------------------------


@pytest.mark.parametrize("edge", ["front.shoulder", "front.armhole"])
@pytest.mark.parametrize("block", ["bodice.darted", "dress.sheath"])
def test_a_princess_split_walks_true_and_keeps_the_bust(block: str, edge: str) -> None:
    before = pattern_of(drafted(block))
    after = done(block, "princess", dart=("front.bust_dart",), to=Place(edge=edge, share=0.5))
    seam = next(s for s in after.seams if s.label == "Princess seam")
    assert abs(walk(after, seam).off) < 0.05
    assert seam.kind == "plain" or seam.amount < 3.0, "eased over the bust by no more than a seam forgives"
    turns = [
        abs(math.degrees(cmath.phase(other.path.start_direction / one.path.end_direction)))
        for piece in after.parts("front")
        for one, other in pairwise([e for e in piece.edges if e.name.endswith(".cut") or ".leg_" in e.name])
        if abs(one.path.end - other.path.start) < 1e-6
    ]
    assert turns and max(turns) < 0.1, "no corner is left at the points of the darts"
    parts = after.parts("front")
    assert len(parts) == 2 and not any(piece.darts for piece in parts), "both darts are in the seam"
    level = before.piece("front").feature("bust")
    assert level is not None
    girth = sum(level_length(p, f) for p in parts if (f := p.feature("bust")) is not None)
    assert girth == pytest.approx(level_length(before.piece("front"), level), abs=1e-6)
    assert sum(map(cloth, parts)) == pytest.approx(cloth(before.piece("front")), rel=0.02)


def _wrong(made: Made) -> set[str]:
    """The promises and the crossing lines that do not hold."""
    return {line.label for line in made.proof if line.kind in ("closure", "join") and not line.holds}


def test_darts_are_changed_on_nine_bodies_or_a_sentence_says_why_not() -> None:
    tried = 0
    for name in [one for one in BLOCKS if pattern_of(drafted(one)).pieces[0].darts]:
        for who in nine()[::2]:
            base = drafted(name, who)
            for kind, values in (
                ("dart_point", {"longer": -15.0}),
                ("dart_legs", {"by": 3.0}),
                ("dart_into", {"how": "pleated"}),
                ("dart_merge", {}),
                ("princess", {"to": Place(edge=pattern_of(base).pieces[0].runs()[1], share=0.5)}),
            ):
                after = drafted(name, who, steps=(step(kind, **values),))
                if reason := after.evaluated.outcomes[0].stuck:
                    assert len(reason) > 25 and "Error" not in reason, (name, kind, reason)
                    continue
                tried += 1
                consistent(pattern_of(after))
                new = _wrong(after) - _wrong(base)
                assert kind == "princess" or not new, (name, who.name, kind, new)
    assert tried > 50


def test_a_composed_step_leaves_marks_of_its_own_parts() -> None:
    after = done("bodice.darted", "princess", dart=("front.bust_dart",), to=Place(edge="front.shoulder", share=0.5))
    marks = {mark for piece in after.pieces for edge in piece.edges for mark in edge.marks}
    step_id = min(mark.split(".")[0] for mark in marks if "." in mark)
    assert f"{step_id}.1.2" in marks and f"{step_id}.2" in marks, "the pivot's and the cut's are told apart"
