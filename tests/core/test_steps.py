"""The steps by hand: what they do, what they refuse and why, and that they never change what they are given."""

from __future__ import annotations

import cmath
import math
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from caddet.core.figures.language import Quantity
from caddet.core.geometry.paths import area as shoelace
from caddet.core.hands.gesture import begin
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.anchoring import anchored
from caddet.core.pattern.features import Spot
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import level_length
from caddet.core.pattern.surgery import pivot_dart
from caddet.core.pipeline import make
from caddet.core.recipe.context import Context
from caddet.core.recipe.registry import STEPS, Stuck
from caddet.core.recipe.stages import do_step
from caddet.core.recipe.values import Choice, Flag, Formula, Number, Place
from caddet.core.truing.walk import walk
from tests.making import area, drafted, made, pattern_of, person, pivot, polygon, skirt, step

SEAT = {"school": "seat"}
ONE_DART = person(waist=84, hip=98)
SKIRT = skirt(who=ONE_DART)
FRONT = SKIRT.piece("front")


def pivoted(piece: Piece, run: str, at: float, share: float = 1.0, dart: str = "", step_id: str = "s2") -> Piece:
    """A piece with its first (or a named) dart pivoted to ``at`` mm along a run."""
    chosen = piece.dart(reference(dart)) if dart else piece.darts[0]
    return pivot_dart(Pattern((piece,)), piece, chosen, piece.spot_at(run, at), share, step_id).pieces[0]


def off(pattern: Pattern, seam: str) -> float:
    return walk(pattern, pattern.seam(seam)).off


@settings(max_examples=40, deadline=None)
@given(st.floats(15, 200), st.sampled_from([0.2, 0.5, 1.0]))
def test_a_pivot_keeps_area_and_edge_lengths(at: float, share: float) -> None:
    piece = pivoted(FRONT, "side", at, share)
    assert abs(shoelace(piece.polygon(0.001))) == pytest.approx(area(FRONT), rel=1e-5)
    for run in FRONT.runs():
        assert piece.run_length(run) == pytest.approx(FRONT.run_length(run), abs=1e-6)
    assert share < 1 or polygon(piece.polygon()).is_valid  # shared, two darts touch at one point
    before, after = FRONT.feature("hip"), piece.feature("hip")
    assert before is not None and after is not None
    assert level_length(piece, after) == pytest.approx(level_length(FRONT, before), abs=1e-6), "the gap is left out"
    for dart in piece.darts:
        _, a, apex, b = piece.legs(dart.id)
        assert abs(a - apex) == pytest.approx(abs(b - apex), abs=1e-6)
    assert piece.along(Spot("front.side", 0.1)) == pytest.approx(FRONT.along(Spot("front.side", 0.1)), abs=1e-6)


def test_what_a_pivot_moves_gets_its_marks() -> None:
    whole, half = pivoted(FRONT, "side", 120.0), pivoted(FRONT, "side", 120.0, 0.5)
    assert [dart.id for dart in whole.darts] == ["front.front_dart[s2.2]"]
    assert [dart.id for dart in half.darts] == ["front.front_dart[s2.1]", "front.front_dart[s2.2]"]
    assert half.darts[0].label == "rest of the dart"
    assert [sorted(edge.marks) for edge in whole.run("side")] == [["s2.1"], ["s2.2"]]
    assert (
        whole.darts[0].pressed == "first"
        or whole.legs(whole.darts[0].id)[1].imag < whole.legs(whole.darts[0].id)[3].imag
    )
    _, a, _, b = whole.legs(whole.darts[0].id)
    low = a if whole.darts[0].pressed == "first" else b
    assert low.imag == max(a.imag, b.imag), "a dart in the side is pressed down"


def test_a_pivot_there_and_back_gives_the_same_outline() -> None:
    there = pivoted(FRONT, "side", 120.0)
    place = FRONT.run("waist")[0].path.length
    back = pivoted(there, "waist", place, step_id="s3")
    assert area(back) == pytest.approx(area(FRONT), rel=1e-6)
    gap = polygon(back.polygon(0.001)).symmetric_difference(polygon(FRONT.polygon(0.001))).area
    assert gap < 1.0
    assert {edge.name for edge in back.edges} == {edge.name for edge in FRONT.edges}, "every edge under its first name"


def test_a_pivot_within_the_waist_moves_the_cloth_between() -> None:
    piece = pivoted(FRONT, "waist", 40.0)
    assert len(piece.run("waist")) >= 2 and polygon(piece.polygon()).is_valid
    assert piece.run("centre_front") == FRONT.run("centre_front"), "the part with the fold stays"


@pytest.mark.parametrize(
    ("dart", "to", "reason"),
    [
        ("front.front_dart", Place(edge="front.centre_front", mm=300.0), "fold"),
        ("front.front_dart", Place(edge="front.side", mm=2.0), "room"),
        ("front.nothing", Place(edge="front.side", mm=90.0), "no dart"),
        ("front.front_dart", Place(edge="front.sleeve", mm=90.0), "no edge"),
        ("front.front_dart", Place(edge="back.side", mm=90.0), "is on the front, that place on the back"),
        ("front.front_dart", None, "say to which place"),
        ("front.front_dart", Place(edge="front.side", mm=9000.0), "only"),
        ("front.front_dart", Place(edge="front.side", share=1.5), "not between 0"),
        ("front.front_dart", Place(edge="front.side", mm=-3.0), "before the end"),
    ],
)
def test_a_pivot_that_cannot_be_cut_says_why(dart: str, to: Place | None, reason: str) -> None:
    values: dict[str, Any] = {"dart": dart, "share": 1.0} | ({"to": to} if to else {})
    result = made(step("pivot_dart", **values), who=ONE_DART)
    assert reason in result.evaluated.outcomes[0].stuck
    assert result.pattern is not None and result.pattern.piece("front") == FRONT


def test_a_place_may_be_counted_from_either_end_or_as_a_share() -> None:
    whole = FRONT.run_length("side")
    places = (
        Place(edge="front.side", mm=150.0),
        Place(edge="front.side", share=150 / whole),
        Place(edge="front.side", mm=whole - 150.0, end="end"),
    )
    fronts = [
        made(step("pivot_dart", dart="front.front_dart", to=p, share=1.0), who=ONE_DART).pattern.piece("front")
        for p in places
    ]  # type: ignore[union-attr]
    assert all(polygon(one.polygon()).symmetric_difference(polygon(fronts[0].polygon())).area < 1e-3 for one in fronts)


@settings(max_examples=30, deadline=None)
@given(st.floats(230, 560), st.floats(-150, 400))
def test_lengthening_changes_only_what_it_cuts(at: float, amount: float) -> None:
    if amount <= -(600 - at) + 5:
        return
    before, after = skirt(), skirt(step("lengthen", at=at, amount=amount))
    for name in ("front", "back"):
        old, new = before.piece(name), after.piece(name)
        for run in ("waist", "hem"):
            assert new.run_length(run) == pytest.approx(old.run_length(run), abs=1e-6)
        assert new.run_length("side") == pytest.approx(old.run_length("side") + amount, abs=0.5)
        hip = next(notch for notch in new.notches if notch.name == "hip")
        spot = Spot(hip.edge, hip.u)
        assert new.along(spot) == pytest.approx(old.along(spot), abs=0.05)
    assert abs(off(after, "side")) < 0.1


@pytest.mark.parametrize(
    ("at", "amount", "reason"),
    [(60.0, 20.0, "dart"), (400.0, -300.0, "shortened"), (1500.0, 10.0, "outside"), (599.9, 5.0, "hem")],
)
def test_lengthening_where_it_cannot_be_is_stuck(at: float, amount: float, reason: str) -> None:
    flared = {"flare": 60.0} if reason == "hem" else {}
    assert reason in made(step("lengthen", at=at, amount=amount), **flared).evaluated.outcomes[0].stuck


def test_one_piece_lengthened_alone_no_longer_meets_and_its_remedy_helps() -> None:
    result = made(step("lengthen", pieces=("front",), at=400.0, amount=20.0))
    line = next(line for line in result.proof if line.name == "side" and line.kind == "seam")
    assert line.verdict == "fails" and line.value - line.limit == pytest.approx(-20, abs=0.1)
    assert {remedy.label for remedy in line.remedies} == {
        "Shorten the front by 2.0 cm there",
        "Lengthen the back by 2.0 cm there",
        "Half by each side",
        "Ease the longer side in",
        "Stretch the shorter side to it",
    }
    for remedy in line.remedies:
        mended = make(EvaluateRequest(remedy.apply(result.document)))
        assert next(line for line in mended.proof if line.name == "side" and line.kind == "seam").holds


def test_a_shoulder_that_does_not_meet_gets_no_remedy_that_makes_no_sense() -> None:
    pattern = pattern_of(drafted("bodice.darted", sleeve=False))
    front = pattern.piece("front")
    index = next(n for n, edge in enumerate(front.edges) if edge.own == "shoulder")
    path = front.edges[index].path
    longer = [*front.edges]
    from caddet.core.geometry.paths import Path

    far = path.end + path.end_direction * 12
    longer[index] = longer[index].with_path(Path.polyline([path.start, far]))
    longer[index + 1] = longer[index + 1].with_path(Path.join([Path.polyline([far, path.end]), longer[index + 1].path]))
    from caddet.core.fitting.remedies import seam_remedies

    changed = pattern.with_piece(front.with_edges(longer))
    walked = walk(changed, changed.seam("shoulder"))
    remedies = seam_remedies(changed, walked)
    assert not walked.holds and {remedy.step.kind for remedy in remedies if remedy.step} <= {"agree", "sewn_as"}
    for remedy in remedies:
        assert remedy.step is not None
        after = do_step(remedy.step.model_copy(update={"id": "s9"}), changed, Context())
        assert not after.stuck and walk(after.pattern, after.pattern.seam("shoulder")).holds, remedy.label


def test_flare_swings_both_sides_and_leaves_hip_and_waist() -> None:
    before, after = skirt(), skirt(step("flare", amount=60.0))
    for promise in after.promises:
        assert promise.measured(after) == pytest.approx(promise.target, abs=0.1)
    assert after.piece("front").run_length("hem") > before.piece("front").run_length("hem") + 55
    assert abs(off(after, "side")) < 0.1
    assert made(step("flare", amount=60.0)).proof[0].holds
    one = skirt(step("flare", edges=("front.side",), amount=60.0))
    assert one.piece("back").run_length("hem") > before.piece("back").run_length("hem") + 55, (
        "its partner swings with it"
    )
    alone = skirt(step("flare", edges=("front.side",), amount=60.0, both=False))
    assert alone.piece("back") == anchored(before).piece("back")


def test_an_inseam_is_flared_to_its_own_side() -> None:
    before, after = (
        pattern_of(drafted("trousers.tailored", steps=s))
        for s in ((), (step("flare", edges=("inseam",), amount=25.0, above=300.0),))
    )
    for name in ("front", "back"):
        old, new = before.piece(name).outline().bounds(), after.piece(name).outline().bounds()
        assert after.piece(name).run_length("hem") == pytest.approx(before.piece(name).run_length("hem") + 25, abs=3)
        assert after.piece(name).run("side") == before.piece(name).run("side") and new[2] == old[2]
    assert abs(off(after, "inseam")) < 0.5


def test_flare_upon_flare_and_after_a_slit() -> None:
    result = made(
        step("slit", height=150.0), step("flare", amount=30.0), step("flare", amount=30.0, above=150.0), flare=20.0
    )
    assert not any(outcome.stuck for outcome in result.evaluated.outcomes)
    assert all(line.holds for line in result.proof)


def test_a_slit_opens_both_sides_and_shortens_their_seam() -> None:
    before, after = skirt(), skirt(step("slit", edges=("back.centre_back",), height=150.0))
    lengths = [walk(p, p.seam("centre_back")).length_a for p in (before, after)]
    assert lengths[1] == pytest.approx(lengths[0] - 150)
    open_part = [edge for edge in after.piece("back").edges if edge.finish == "slit"]
    assert [edge.id for edge in open_part] == ["back.centre_back[s2.1]"] and open_part[0].path.length == pytest.approx(
        150
    )
    side = skirt(step("slit", edges=("front.side",), height=120.0))
    for name in ("front", "back"):
        slits = [edge for edge in side.piece(name).edges if edge.finish == "slit"]
        assert [edge.path.length for edge in slits] == pytest.approx([120]), "both sides of the seam"
    assert abs(off(side, "side")) < 0.1
    notches = [notch.name for notch in side.piece("front").notches]
    assert "hip" in notches and not any(line.verdict == "fails" for line in made(step("slit", height=150.0)).proof)


@pytest.mark.parametrize(
    ("values", "reason"),
    [
        ({"edges": ("back.zip",)}, "is no seam"),
        ({"height": 900.0}, "longer than"),
        ({"edges": ("front.centre_front",)}, "fold"),
        ({"edges": ("waistband.waist",)}, "hem"),
        ({"edges": ("sleeve.side",)}, "no edge"),
        ({"edges": ("front.side", "back.side")}, "expected one"),
    ],
)
def test_slits_that_cannot_be(values: dict[str, object], reason: str) -> None:
    assert reason in made(step("slit", **values)).evaluated.outcomes[0].stuck


def test_a_stuck_step_stays_and_the_rest_goes_on() -> None:
    result = made(step("slit"), step("pivot_dart", dart="front.gone"), step("unheard_of"), step("flare", amount=30.0))
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
    hand = begin(STEPS[kind], SKIRT, Context())
    if hand.missing:
        side = FRONT.run("side")[0].path
        hand = hand.clicked("front", side.point_at(side.length / 2))
    assert hand.handles
    for handle in hand.handles:
        for moved in (
            hand.moved(handle, handle.at + (30 - 150j if handle.parameter == "above" else 30 + 30j)),
            hand.nudged(handle, 150.0 if handle.parameter == "above" else 10.0),
        ):
            checked = STEPS[kind].values(moved.values)
            assert STEPS[kind].describe(checked)
            result = made(step(kind, **checked), who=ONE_DART)
            assert result.pattern is not None and not result.evaluated.outcomes[0].stuck, result.evaluated.outcomes[
                0
            ].stuck


def test_steps_never_change_what_they_are_given() -> None:
    copy = repr(SKIRT)
    for kind, values in (
        ("pivot_dart", pivot("front.front_dart", "front.side", 120.0)),
        ("lengthen", {"amount": 30.0}),
        ("flare", {}),
        ("slit", {}),
        ("band", {"part": "waistband", "edges": ("waist",)}),
    ):
        result = STEPS[kind].apply(SKIRT, Context(id="s9"), STEPS[kind].values(STEPS[kind].tagged(values)))
        assert result.pattern != SKIRT
    assert repr(SKIRT) == copy


def test_a_dart_shared_again_and_again_keeps_every_part() -> None:
    """Shares of 50 % add up: the openings of all parts are the angle of the first dart."""
    piece = FRONT
    whole = _angle(piece, piece.darts[0].id)
    for n, at in enumerate((60.0, 110.0, 160.0)):
        piece = pivoted(
            piece, "side", at, 0.5, dart=piece.darts[-1].id if n == 0 else piece.darts[0].id, step_id=f"s{n + 2}"
        )
    assert len({dart.id for dart in piece.darts}) == 4
    assert sum(_angle(piece, dart.id) for dart in piece.darts) == pytest.approx(whole, abs=1e-9)
    assert piece.run_length("side") == pytest.approx(FRONT.run_length("side"), abs=1e-6)


def _angle(piece: Piece, dart: str) -> float:
    _, a, apex, b = piece.legs(dart)
    return abs(cmath.phase((a - apex) / (b - apex)))


def test_a_band_follows_the_edge_it_was_fitted_to() -> None:
    """A cuff on the hem of a skirt is drafted anew when a later step flares that hem, under its own names."""
    band = step("band", part="cuff", edges=("front.hem",), depth=30.0, overlap=0.0)
    plain, wider = skirt(band), skirt(band, step("flare", amount=60.0))
    assert wider.piece("s2.cuff").run_length("sleeve") == pytest.approx(
        wider.piece("front").run_length("hem"), abs=1e-3
    )
    assert wider.piece("s2.cuff").run_length("sleeve") > plain.piece("s2.cuff").run_length("sleeve") + 40
    assert [edge.name for edge in wider.piece("s2.cuff").edges] == [edge.name for edge in plain.piece("s2.cuff").edges]
    shaped = made(band, step("lengthen", pieces=("s2.cuff",), at=30.0, amount=15.0), step("flare", amount=60.0))
    told = [f for f in shaped.findings if f.code == "step.fit"]
    assert [f.place for f in told] == ["recipe[s4]"] and "a step has shaped it" in told[0].sentence


def test_a_sleeve_is_solved_again_when_a_step_changes_its_armhole() -> None:
    before = pattern_of(drafted("bodice.darted"))
    moved = step("pivot_dart", **pivot("front.bust_dart", "front.armhole", 90.0))
    same = pattern_of(drafted("bodice.darted", steps=(moved,)))
    assert same.piece("sleeve").edges == before.piece("sleeve").edges, "a pivot keeps the armhole's length"
    fit = next(one for one in before.fits if one.piece == "sleeve")
    lengths = (fit.lengths[0] + 12.0, fit.lengths[1])
    cap = fit.solve(lengths)
    assert cap.run_length("cap_front") == pytest.approx(before.piece("sleeve").run_length("cap_front") + 12, abs=0.05)
    assert cap.run_length("cap_back") == pytest.approx(before.piece("sleeve").run_length("cap_back"), abs=0.05)


@pytest.mark.parametrize("slit", [False, True])
@pytest.mark.parametrize("amount", [40.0, -30.0])
def test_a_lengthened_side_runs_on_without_a_kink(amount: float, slit: bool) -> None:
    """A slanting side is drawn anew over the line: smooth where it leaves the hip, and where the slit begins."""
    steps = [step("flare", amount=60.0), step("slit", edges=("front.side",), height=120.0)]
    piece = skirt(*steps[: 1 + slit], step("lengthen", amount=amount)).piece("front")
    segments = [segment for edge in piece.edges if edge.own == "side" for segment in edge.path.segments]
    assert len(segments) == 3 + slit
    for before, after in pairwise(segments):
        turn = abs(cmath.phase(after.direction(0.0) / before.direction(1.0)))
        assert math.degrees(turn) < 0.01
