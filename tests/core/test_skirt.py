from __future__ import annotations

import cmath
import math

import pytest

from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import Value
from caddet.core.truing.walk import walk
from tests.making import document, made, person, polygon, skirt


def test_pieces_fold_pair_grain_and_counts() -> None:
    pattern = skirt()
    front, back, band = (pattern.piece(name) for name in ("front", "back", "waistband"))
    assert (front.fold, front.cut, front.pair) == ("front.centre_front", 1, False)
    assert (back.fold, back.cut, back.pair) == ("", 2, True)
    assert back.run("zip")[0].finish == "opening" and band.run_length("overlap") == pytest.approx(30)
    for piece in (front, back):
        assert (piece.grain.b - piece.grain.a).real == 0
        assert front.run_length("side") == pytest.approx(back.run_length("side"), abs=0.02)


@pytest.mark.parametrize(
    "options", [{}, {"school": "seat"}, {"flare": 60.0}, {"school": "seat", "flare": 180.0, "length": 900.0}]
)
def test_the_draft_closes_on_the_body(options: dict[str, Value]) -> None:
    pattern = skirt(**options)
    for closure in pattern.promises:
        assert closure.measured(pattern) == pytest.approx(closure.target, abs=0.1)
    for seam in pattern.seams:
        assert abs(walk(pattern, seam).off) < 0.1


def test_right_angles_at_centre_and_side() -> None:
    front = skirt(school="seat").piece("front")
    waist, side = front.run("waist"), front.run("side")[0]
    assert waist[0].path.start_direction == pytest.approx(1 + 0j)
    turn = cmath.phase(side.path.start_direction / waist[-1].path.end_direction)
    assert math.degrees(turn) == pytest.approx(90, abs=1e-6)
    hem = front.run("hem")[0]
    assert math.degrees(cmath.phase(hem.path.start_direction / side.path.end_direction)) == pytest.approx(90, abs=1e-6)


def test_darts_by_the_rule() -> None:
    few = skirt(who=person(waist=86, hip=98))
    many = skirt(who=person(waist=66, hip=104))
    assert len(few.piece("front").darts) == 1 and len(many.piece("front").darts) == 2
    assert not skirt(who=person(waist=97, hip=98)).piece("front").darts
    for dart in many.piece("back").darts:
        _, a, apex, b = many.piece("back").legs(dart.id)
        assert abs(a - apex) == pytest.approx(abs(b - apex), abs=1e-6)
        assert abs(a - b) <= 35.3


def test_curves_are_fair_no_side_turns_back_on_itself() -> None:
    for who in (person(), person(waist=60, hip=75, height=139, waist_to_hip=16.5), person(waist=112, hip=108)):
        for flare in (0.0, 30.0, 120.0):
            side = skirt(who=who, flare=flare).piece("front").run("side")[0].path
            for before, after in zip(side.segments, side.segments[1:], strict=False):
                assert abs(cmath.phase(after.direction(0) / before.direction(1))) < 1e-6
            signs = {
                math.copysign(1, c)
                for s in side.segments[:1]
                for t in (0.1, 0.3, 0.5, 0.7, 0.9)
                if abs(c := s.curvature(t)) > 1e-7
            }
            assert len(signs) <= 1


@pytest.mark.parametrize(
    ("who", "options", "place"),
    [
        (person(waist_to_hip=2), {}, "waist_to_hip"),
        (person(waist_to_hip=24), {"length": 250.0}, "length"),
        (person(waist=40, hip=300), {}, "figures"),
        (person(), {"length": "long"}, "options"),
        (person(), {"pockets": True}, "options"),
        (person(), {"flare": 349.0, "length": 300.0}, "flare"),
    ],
)
def test_impossible_input_is_a_finding_not_a_broken_shape(who: object, options: dict[str, Value], place: str) -> None:
    result = made(who=who, **options)  # type: ignore[arg-type]
    if result.pattern is not None:
        assert all(polygon(piece.polygon()).is_valid for piece in result.pattern.pieces)
        return
    stops = [finding for finding in result.findings if finding.severity == "stops"]
    assert len(stops) == 1 and place in stops[0].place and stops[0].sentence.endswith(".")


def test_a_missing_measure_is_estimated_and_marked_or_asked_for() -> None:
    who = person()
    without = who.with_measure("waist_to_hip", None)
    result = made(who=without)
    assert result.pattern is not None and "waist to hip" in result.sums["hip_depth"].estimates
    bare = without.with_measure("height", None)
    refused = made(who=bare)
    assert refused.pattern is None and refused.findings[0].place == "person.waist_to_hip"
    assert refused.proof[0].verdict == "fails"


def test_zero_and_negative_ease_still_close() -> None:
    for ease in (0.0, -20.0):
        changed = edits.set_ease(edits.set_ease(document(), "waist", ease), "hip", ease)
        result = make(EvaluateRequest(changed))
        assert result.pattern is not None
        assert result.sums["hip_round"].value == 980 + ease
        assert all(line.holds for line in result.proof if line.kind == "closure")


def test_a_tight_zip_fails_the_gate_and_the_remedy_mends_it() -> None:
    changed = edits.set_override(document(), "zip_length", "6cm")
    result = make(EvaluateRequest(changed))
    gate = next(line for line in result.proof if line.name == "hips")
    assert gate.verdict == "fails"
    mended = make(EvaluateRequest(gate.remedies[0].apply(changed)))
    assert next(line for line in mended.proof if line.name == "hips").holds


@pytest.mark.parametrize("which", [0, 1])
def test_a_long_straight_skirt_stops_the_stride_and_either_remedy_frees_it(which: int) -> None:
    long = document(length=950.0)
    gate = next(line for line in make(EvaluateRequest(long)).proof if line.name == "stride")
    assert gate.verdict == "fails" and len(gate.remedies) == 2
    mended = make(EvaluateRequest(gate.remedies[which].apply(long)))
    assert next(line for line in mended.proof if line.name == "stride").holds
    assert all(line.verdict != "fails" for line in mended.proof)


def test_a_hip_much_larger_than_the_waist_still_has_room_for_its_darts() -> None:
    """Once refused: the second dart was placed by the hip and stood beyond the end of the waist."""
    front = skirt(who=person(waist=76, hip=123.7)).piece("front")
    assert len(front.darts) == 2
    mouths = [sorted(p.real for p in front.legs(dart.id)[1:4:2]) for dart in front.darts]
    end = front.run("side")[0].path.start.real
    assert mouths[0][1] < mouths[1][0] and mouths[1][1] < end - 5
