from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from caddet.core.figures.language import Quantity
from caddet.core.geometry.paths import area as shoelace
from caddet.core.pattern.pattern import provenance
from caddet.core.recipe.registry import STEPS, Stuck
from caddet.core.recipe.values import Choice, Flag, Formula, Number
from caddet.core.shaping.darts import pivoted
from tests.making import area, made, person, polygon, skirt, step

SEAT = {"school": "seat"}
ONE_DART = person(waist=84, hip=98)
FRONT = skirt(who=ONE_DART).piece("front")


@settings(max_examples=40, deadline=None)
@given(st.floats(15, 200), st.sampled_from([0.2, 0.5, 1.0]))
def test_a_pivot_keeps_area_and_edge_lengths(at: float, share: float) -> None:
    piece = pivoted(FRONT, "front_dart", "side", at, share)
    assert abs(shoelace(piece.polygon(0.001))) == pytest.approx(area(FRONT), rel=1e-5)
    for run in FRONT.runs():
        assert piece.run_length(run) == pytest.approx(FRONT.run_length(run), abs=1e-6)
    assert share < 1 or polygon(piece.polygon()).is_valid  # shared, two darts touch at one point
    for mark in FRONT.marks:
        after = piece.mark(mark.name)
        assert after is not None and after.length == pytest.approx(mark.length, abs=1e-6)
    for dart in piece.darts:
        _, a, apex, b = piece.legs(dart.name)
        assert abs(a - apex) == pytest.approx(abs(b - apex), abs=1e-6)


def test_a_pivot_there_and_back_gives_the_same_outline() -> None:
    there = pivoted(FRONT, "front_dart", "side", 120.0)
    place = FRONT.run("waist")[0].path.length
    back = pivoted(there, "front_dart", "waist", place)
    assert area(back) == pytest.approx(area(FRONT), rel=1e-6)
    gap = polygon(back.polygon(0.001)).symmetric_difference(polygon(FRONT.polygon(0.001))).area
    assert gap < 1.0


def test_a_pivot_within_the_waist_moves_the_cloth_between() -> None:
    piece = pivoted(FRONT, "front_dart", "waist", 40.0)
    assert len(piece.run("waist")) >= 2 and polygon(piece.polygon()).is_valid
    assert piece.run("centre_front") == FRONT.run("centre_front")


@pytest.mark.parametrize(
    ("dart", "run", "at", "reason"),
    [
        ("front_dart", "centre_front", 300.0, "fold"), ("front_dart", "side", 2.0, "room"),
        ("nothing", "side", 90.0, "no dart"), ("front_dart", "sleeve", 90.0, "no edge"),
    ],
)  # fmt: skip
def test_a_pivot_that_cannot_be_cut_says_why(dart: str, run: str, at: float, reason: str) -> None:
    result = made(step("pivot_dart", piece="front", dart=dart, to=run, at=at, share=1.0), who=ONE_DART)
    stuck = result.evaluated.outcomes[0].stuck
    assert reason in stuck
    assert result.pattern is not None and result.pattern.piece("front") == FRONT


@settings(max_examples=30, deadline=None)
@given(st.floats(230, 560), st.floats(-150, 400))
def test_lengthening_changes_only_what_it_cuts(at: float, amount: float) -> None:
    if amount <= -(600 - at) + 5:
        return
    before, after = skirt(), skirt(step("lengthen", piece="all", at=at, amount=amount))
    for name in ("front", "back"):
        old, new = before.piece(name), after.piece(name)
        for run in ("waist", "hem"):
            assert new.run_length(run) == pytest.approx(old.run_length(run), abs=1e-6)
        assert new.run_length("side") == pytest.approx(old.run_length("side") + amount, abs=0.5)
    assert abs(after.seam("A").off(after)) < 0.1
    assert after.piece("front").notches[0].at == pytest.approx(before.piece("front").notches[0].at, abs=0.05)


@pytest.mark.parametrize(
    ("at", "amount", "reason"), [(60.0, 20.0, "dart"), (400.0, -300.0, "shortened"), (1500.0, 10.0, "outside")]
)
def test_lengthening_where_it_cannot_be_is_stuck(at: float, amount: float, reason: str) -> None:
    assert reason in made(step("lengthen", at=at, amount=amount)).evaluated.outcomes[0].stuck


def test_one_piece_lengthened_alone_no_longer_meets_and_its_remedy_helps() -> None:
    result = made(step("lengthen", piece="front", at=400.0, amount=20.0))
    line = next(line for line in result.proof if line.name == "A" and line.kind == "seam")
    assert line.verdict == "fails" and line.value - line.limit == pytest.approx(-20, abs=0.1)
    from caddet.core.workroom import EvaluateRequest, make

    mended = make(EvaluateRequest(line.remedies[0].apply(result.document)))
    assert next(line for line in mended.proof if line.name == "A" and line.kind == "seam").holds


def test_flare_swings_both_sides_and_leaves_hip_and_waist() -> None:
    before, after = skirt(), skirt(step("flare", piece="all", amount=60.0))
    for closure in after.closures:
        assert closure.measured(after) == pytest.approx(closure.target, abs=0.1)
    assert after.piece("front").run_length("hem") > before.piece("front").run_length("hem") + 55
    assert abs(after.seam("A").off(after)) < 0.1
    assert made(step("flare", amount=60.0)).proof[0].holds


def test_flare_upon_flare_and_after_a_slit() -> None:
    result = made(
        step("slit", height=150.0), step("flare", amount=30.0), step("flare", amount=30.0, above=150.0), flare=20.0
    )
    assert not any(outcome.stuck for outcome in result.evaluated.outcomes)
    assert all(line.holds for line in result.proof)


def test_a_slit_opens_both_halves_and_shortens_their_seam() -> None:
    before, after = skirt(), skirt(step("slit", piece="back", run="centre_back", height=150.0))
    assert after.seam("B").length_a(after) == pytest.approx(before.seam("B").length_a(before) - 150)
    assert after.piece("back").run("slit")[0].role == "slit"
    side = skirt(step("slit", piece="front", run="side", height=120.0))
    assert side.piece("back").run_length("slit") == pytest.approx(120) == side.piece("front").run_length("slit")
    assert abs(side.seam("A").off(side)) < 0.1


@pytest.mark.parametrize(
    ("values", "reason"),
    [
        ({"run": "zip"}, "only a seam"), ({"height": 900.0}, "longer than"), ({"piece": "front", "run": "centre_front"}, "fold"),
        ({"piece": "waistband", "run": "waist"}, "hem"), ({"piece": "sleeve"}, "no piece"),
    ],
)  # fmt: skip
def test_slits_that_cannot_be(values: dict[str, object], reason: str) -> None:
    assert reason in made(step("slit", **values)).evaluated.outcomes[0].stuck  # type: ignore[arg-type]


def test_a_stuck_step_stays_and_the_rest_goes_on() -> None:
    result = made(step("slit"), step("pivot_dart", dart="gone"), step("unheard_of"), step("flare", amount=30.0))
    stuck = [bool(outcome.stuck) for outcome in result.evaluated.outcomes]
    assert stuck == [False, True, True, False]
    assert [f.place for f in result.findings if f.code == "step.stuck"] == ["recipe[s3].dart", "recipe[s4]"]


def test_values_are_checked_by_what_the_step_declares() -> None:
    for kind in STEPS:
        with pytest.raises(Stuck):
            STEPS[kind].values({"no such": Number(value=1.0)})
    for bad in (Choice(name="much"), Number(value=90_000.0), Flag(on=True), Formula(text="2"), Formula(text="hip +")):
        with pytest.raises(Stuck) as stuck:
            STEPS["lengthen"].values({"amount": bad}, {"hip": Quantity(900.0, 1)})
        assert stuck.value.parameter == "amount"
    worked = STEPS["lengthen"].values({"amount": Formula(text="hip / 10")}, {"hip": Quantity(900.0, 1)})
    assert worked["amount"] == 90.0


@pytest.mark.parametrize("kind", ["pivot_dart", "lengthen", "flare", "slit"])
def test_what_a_hand_drags_is_what_can_be_typed(kind: str) -> None:
    pattern = skirt(who=ONE_DART)
    grips = STEPS[kind].grips(pattern)
    assert grips
    for grip in grips:
        for values in (grip.drag(grip.at + 60 + 60j), grip.nudge(10.0)):
            checked = STEPS[kind].values(STEPS[kind].tagged(values))
            assert STEPS[kind].describe(checked, "cm")
            assert made(step(kind, **values), who=ONE_DART).pattern is not None


def test_provenance_tells_what_became_of_each_edge() -> None:
    fates = provenance(skirt(), skirt(step("slit", height=150.0)))
    assert fates["back.centre_back"] == "changed" and fates["back.slit"] == "made" and fates["front.side"] == "kept"
    fates = provenance(skirt(who=ONE_DART), skirt(step("pivot_dart", dart="front_dart", at=100.0), who=ONE_DART))
    assert fates["front.side"] == "split" and fates["front.centre_front"] == "kept"


def test_steps_never_change_what_they_are_given() -> None:
    pattern = skirt(who=ONE_DART)
    copy = repr(pattern)
    for kind, values in (
        ("pivot_dart", {"dart": "front_dart"}),
        ("lengthen", {"amount": 30.0}),
        ("flare", {}),
        ("slit", {}),
    ):
        STEPS[kind].apply(pattern, STEPS[kind].values(STEPS[kind].tagged(values)))
    assert repr(pattern) == copy


def test_a_dart_shared_again_and_again_keeps_every_part() -> None:
    """Shares of 50 % add up: the openings of all parts are the angle of the first dart."""
    piece = FRONT
    whole = _angle(piece, "front_dart")
    for at in (60.0, 110.0, 160.0):
        piece = pivoted(piece, "front_dart", "side", at, 0.5)
    assert len({dart.name for dart in piece.darts}) == 4
    assert sum(_angle(piece, dart.name) for dart in piece.darts) == pytest.approx(whole, abs=1e-9)
    assert piece.run_length("side") == pytest.approx(FRONT.run_length("side"), abs=1e-6)


def _angle(piece: object, dart: str) -> float:
    import cmath

    _, a, apex, b = piece.legs(dart)  # type: ignore[attr-defined]
    return abs(cmath.phase((a - apex) / (b - apex)))
