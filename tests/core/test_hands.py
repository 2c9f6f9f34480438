"""Hands: what can be chosen, walking from thing to thing, what is offered, and gestures, all without a window."""

from __future__ import annotations

import math
from typing import Any

import pytest

from caddet.core import library as library
from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError
from caddet.core.hands.changes import changes
from caddet.core.hands.gesture import Gesture, begin, take_up, with_gesture
from caddet.core.hands.offers import offers, understood
from caddet.core.hands.things import Thing, places_of, said_thing, thing_at, things
from caddet.core.hands.walking import walk_on
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe import edits, groups
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import BLOCKS, STEPS, Parameter, Step
from caddet.core.recipe.values import Formula, Number, Place
from caddet.core.sentences import say, told
from tests.making import drafted, pattern_of, step

SKIRT = pattern_of(drafted("skirt.straight"))
BODICE = pattern_of(drafted("bodice.darted"))
DART = SKIRT.piece("front").darts[0].id


def gesture(kind: str, pattern: Pattern = SKIRT, *chosen: Thing) -> Gesture:
    made = drafted("skirt.straight")
    return begin(STEPS[kind], pattern, made.evaluated.sources[0].context, chosen, "s1")


# --- things -----------------------------------------------------------------------------------------


@pytest.mark.parametrize("block", sorted(BLOCKS))
def test_everything_that_can_be_chosen_is_found_and_said(block: str) -> None:
    pattern = pattern_of(drafted(block))
    every = list(things(pattern))
    assert len(every) == len(set(every)) and {"piece", "edge", "corner"} <= {one.kind for one in every}
    for thing in every:
        places = places_of(pattern, thing)
        assert places, thing
        words = told(said_thing(pattern, thing))
        assert words and "not there" not in words, thing
        for place in places:
            assert pattern.piece(place.piece) and math.isclose(abs(place.out), 1, abs_tol=1e-6)


def test_what_lies_under_the_pointer_is_the_nearest_thing() -> None:
    front = SKIRT.piece("front")
    side, hem = front.run("side")[0].path, front.run("hem")[0].path
    middle = side.point_at(side.length * 0.7)
    assert thing_at(SKIRT, "front", middle + 2, 6.0) == Thing("edge", "front.side")
    corner = thing_at(SKIRT, "front", hem.start + (1 + 1j), 6.0)
    assert corner is not None and corner.kind == "corner"
    apex = front.legs(front.darts[0].id)[2]
    mouth = (front.legs(front.darts[0].id)[1] + front.legs(front.darts[0].id)[3]) / 2
    assert thing_at(SKIRT, "front", (apex + mouth) / 2, 6.0) == Thing("dart", front.darts[0].id)
    assert thing_at(SKIRT, "front", 60 + 400j, 6.0) == Thing("piece", "front")
    assert thing_at(SKIRT, "front", -300 + 400j, 6.0) is None


def test_what_is_chosen_survives_a_cut_and_is_lost_only_when_its_cloth_is() -> None:
    base = demo_document()
    side, dart = Thing("edge", "front.side"), Thing("dart", DART)
    line = {"line": (Place(edge="front.centre_front", mm=300.0), Place(edge="front.side", mm=320.0))}
    after = make(EvaluateRequest(edits.add_step(base, step("cut", **line)))).pattern
    assert after is not None and len(after.pieces) == len(pattern_of(make(EvaluateRequest(base))).pieces) + 1
    assert {one.piece for one in places_of(after, side)} == {"s1.1", "s1.2"} or len(places_of(after, side)) == 2
    assert len(places_of(after, dart)) == 1
    halves = [thing for thing in things(after) if thing.kind == "edge" and thing.ref.startswith("front.side")]
    assert len(halves) == 2 and all(len(places_of(after, half)) == 1 for half in halves), (
        "each half is told by its marks"
    )
    assert places_of(after, Thing("edge", "front.nowhere")) == () and "not there" in said_thing(
        after, Thing("edge", "front.nowhere")
    )


# --- walking ----------------------------------------------------------------------------------------


@pytest.mark.parametrize("block", ["skirt.straight", "bodice.darted", "trousers.tailored", "top.raglan"])
def test_the_keyboard_goes_round_the_outline_over_seams_and_in_and_out(block: str) -> None:
    pattern = pattern_of(drafted(block))
    piece = walk_on(pattern, None, "next")
    assert piece == Thing("piece", pattern.pieces[0].name)
    edge = walk_on(pattern, piece, "in")
    assert edge is not None and edge.kind == "edge" and walk_on(pattern, edge, "out") == piece
    seen, now = [edge], edge
    for _ in range(60):
        now = walk_on(pattern, now, "next")  # type: ignore[assignment]
        if now == edge:
            break
        seen.append(now)
    assert len(seen) == len(pattern.pieces[0].runs()) and len(set(seen)) == len(seen)
    assert walk_on(pattern, walk_on(pattern, edge, "next"), "before") == edge
    crossed = [one for one in seen if (walk_on(pattern, one, "over") or one) != one]
    assert crossed, "some edge is sewn to something"
    there = walk_on(pattern, crossed[0], "over")
    assert there is not None and there.kind == "edge"
    back = walk_on(pattern, there, "over")
    assert back == crossed[0] or back is not None
    corner = walk_on(pattern, edge, "in")
    assert corner is not None and corner.kind == "corner" and walk_on(pattern, corner, "next") != corner


def test_an_edge_leads_to_its_seam_and_a_seam_to_its_edges() -> None:
    seam = walk_on(SKIRT, Thing("edge", "front.side"), "seam")
    assert seam == Thing("seam", "side") and walk_on(SKIRT, seam, "over") == Thing("edge", "front.side")
    assert {one.piece for one in places_of(SKIRT, seam)} == {"front", "back"}  # type: ignore[arg-type]
    assert walk_on(SKIRT, Thing("piece", "front"), "seam") == Thing("piece", "front")
    assert walk_on(SKIRT, Thing("dart", DART), "seam") == Thing("dart", DART)


# --- offers -----------------------------------------------------------------------------------------


def test_what_is_chosen_decides_what_is_offered_and_in_which_order() -> None:
    def kinds(pattern: Pattern, *chosen: Thing) -> list[str]:
        return [one.step.kind for one in offers(pattern, chosen) if not one.refused]

    assert kinds(SKIRT) == [], "nothing chosen, nothing offered"
    assert kinds(SKIRT, Thing("dart", DART))[0] == "pivot_dart"
    assert kinds(SKIRT, Thing("piece", "front"))[0] == "lengthen"
    edge = kinds(SKIRT, Thing("edge", "front.side"))
    assert edge[0] == "redraw" and "flare" in edge and "lengthen" not in edge
    assert "slit" in kinds(SKIRT, Thing("seam", "centre_back"))
    waist = offers(SKIRT, (Thing("edge", "front.waist"),))
    assert next(one for one in waist if one.step.kind == "flare").refused, "a waist does not run down to a hem"


@pytest.mark.parametrize(
    ("words", "kind"),
    [
        ("make it wider", "flare"),
        ("move the dart", "pivot_dart"),
        ("longer", "lengthen"),
        ("shorter please", "lengthen"),
        ("split the piece", "cut"),
        ("yoke", "cut"),
        ("redraw the neckline", "redraw"),
        ("open the seam", "slit"),
        ("a collar", "band"),
    ],
)
def test_a_makers_words_find_the_step(words: str, kind: str) -> None:
    assert understood(words)[0].kind == kind
    assert understood("xylophone") == () and understood("the") == ()


# --- gestures ---------------------------------------------------------------------------------------


def test_a_dart_is_dragged_round_the_piece() -> None:
    hand = gesture("pivot_dart", BODICE, Thing("dart", "front.bust_dart"))
    assert [one.name for one in hand.missing] == ["to"] and "click a place" in hand.asks and not hand.trouble
    shoulder = BODICE.piece("front").run("shoulder")[0].path
    placed = hand.clicked("front", shoulder.point_at(shoulder.length * 0.4), 4.0)
    assert not placed.missing and not placed.trouble and isinstance(placed.plain["to"], Place)
    assert placed.outcome.pattern.piece("front").darts != BODICE.piece("front").darts
    handle = next(one for one in placed.handles if one.parameter == "to")
    middle = shoulder.point_at(shoulder.length / 2)
    snapped = placed.moved(handle, middle + 1.5, 6.0)
    assert (
        snapped.snapped is not None
        and "middle" in snapped.snapped
        and snapped.plain["to"].mm == pytest.approx(shoulder.length / 2, abs=0.02)
    )
    free = placed.moved(handle, middle + 1.5, 6.0, fine=True)
    assert free.snapped is None
    assert placed.plain["to"].mm != snapped.plain["to"].mm, "the gesture before is as it was"


def test_a_dart_is_pulled_by_its_mouth_to_where_it_is_to_open() -> None:
    pattern = pattern_of(drafted("bodice.darted"))
    context = drafted("bodice.darted").evaluated.sources[0].context
    hand = begin(STEPS["pivot_dart"], pattern, context, (Thing("dart", "front.bust_dart"),))
    (mouth,) = [one for one in hand.handles if one.parameter == "to"]
    front = pattern.piece("front")
    _, a, _, b = front.legs("front.bust_dart")
    assert abs(mouth.at - (a + b) / 2) < 1e-6 and "pull its handle" in hand.asks and hand.missing
    there = front.run_point("front.shoulder", 60.0)[0]
    pulled = hand.moved(mouth, there + 3j, 8.0)
    assert not pulled.missing and not pulled.trouble, pulled.trouble
    moved = pulled.outcome.pattern.piece("front")
    dart = next(one for one in moved.darts if one.name == "front.bust_dart")
    assert moved.edges[moved.legs(dart.id)[0] - 1].name == "front.shoulder"


def test_an_amount_follows_its_handle_is_limited_and_typed() -> None:
    hand = gesture("flare", SKIRT, Thing("edge", "front.side"))
    handle = next(one for one in hand.handles if one.parameter == "amount")
    assert handle.at == pytest.approx(SKIRT.piece("front").run("side")[0].path.end + 30, abs=0.5)
    pulled = hand.moved(handle, handle.at + (20.4 + 3j))
    assert pulled.plain["amount"] == 50 and hand.moved(handle, handle.at + 20.44, fine=True).plain[
        "amount"
    ] == pytest.approx(50.4)
    assert pulled.outcome.pattern.piece("front").run_length("hem") == pytest.approx(
        hand.outcome.pattern.piece("front").run_length("hem") + 20, abs=1.5
    )
    far = hand.moved(handle, handle.at + 4000)
    assert far.plain["amount"] == 600 and far.limit is not None and "60.0 cm" in far.limit
    typed = hand.typed("3 1/4", "in", "amount")
    assert typed.plain["amount"] == pytest.approx(82.55)
    formula = hand.typed("hip / 20", "cm", "amount")
    assert formula.values["amount"] == Formula(text="hip / 20") and formula.plain["amount"] == pytest.approx(49.0)
    for wrong in ("a lot", "900", "hip / ", "hat + 1cm"):
        with pytest.raises(CaddetError):
            hand.typed(wrong, "cm", "amount")
    nudged = hand.nudged(handle, 5)
    assert nudged.plain["amount"] == 35 and told(nudged.sentence, "in").count('"') == 1


def test_a_height_settles_on_a_level_and_a_length_runs_along_its_edge() -> None:
    hand = gesture("lengthen", SKIRT, Thing("piece", "front"))
    at = next(one for one in hand.handles if one.parameter == "at")
    hip = SKIRT.piece("front").feature("hip")
    assert hip is not None
    level = SKIRT.piece("front").where(hip.bits[0].a).imag
    settled = hand.moved(at, complex(at.at.real, level + 3), 6.0)
    assert settled.plain["at"] == pytest.approx(level) and settled.snapped is not None and "hip" in settled.snapped
    slit = gesture("slit", SKIRT, Thing("edge", "back.centre_back"))
    height = next(one for one in slit.handles if one.parameter == "height")
    path = SKIRT.piece("back").run("centre_back")[0].path
    assert path.nearest(height.at)[0] < 1e-6
    up = slit.moved(height, height.at - 60j + 5)
    assert up.plain["height"] == 240 and not up.trouble


def test_a_line_is_pulled_open_a_count_steps_and_an_angle_turns() -> None:
    """By an invented step, as its parameters declare."""
    invented = Step(
        "pulled",
        "Pulled",
        "Nothing.",
        (
            Parameter("line", "Line", "line", None),
            Parameter("gap", "Gap", "length", 0.0, 0.0, 200.0, hand=Hand("open", "line")),
            Parameter("times", "Times", "count", 3, 1, 9),
            Parameter("turn", "Turn", "angle", 0.0, -180.0, 180.0),
        ),
        lambda pattern, context, values: Result(pattern),
        lambda values: say("pulled"),
    )
    hand = begin(invented, SKIRT, Context(), (Thing("piece", "front"),)).drawn("front", 40 + 300j, 150 + 300j)
    gap = next(one for one in hand.handles if one.parameter == "gap")
    ends = [one.at for one in hand.handles if one.parameter == "line"]
    assert gap.at == pytest.approx((ends[0] + ends[1]) / 2)
    pulled = hand.moved(gap, gap.at + 40j + 7)
    assert abs(pulled.plain["gap"]) == pytest.approx(40, abs=1), "only across the line"
    assert next(one for one in pulled.handles if one.parameter == "gap").at == pytest.approx(gap.at + 40j, abs=1.0)
    times = next(one for one in hand.handles if one.parameter == "times")
    assert hand.moved(times, times.at + 1000).plain["times"] == 9 and hand.nudged(times, 1).plain["times"] == 4
    turn = next(one for one in hand.handles if one.parameter == "turn")
    quarter = hand.moved(turn, turn.at - 70 + 70j)
    assert quarter.plain["turn"] == pytest.approx(90, abs=1)


def test_a_line_is_drawn_across_and_carried_to_the_outline() -> None:
    hand = gesture("cut", SKIRT, Thing("piece", "front"))
    assert "draw across" in hand.asks
    drawn = hand.drawn("front", 40 + 300j, 150 + 303j, 8.0)
    assert not drawn.missing and not drawn.trouble and drawn.snapped is not None
    ends = [one.at for one in drawn.handles if one.parameter == "line"]
    assert (
        ends[0].real == pytest.approx(0, abs=0.01)
        and SKIRT.piece("front").run("side")[0].path.nearest(ends[1])[0] < 0.02
    )
    assert abs(ends[0].imag - ends[1].imag) < 0.05, "nearly level or square became so"
    both = gesture("cut", SKIRT, Thing("piece", "front")).clicked("front", 40 + 300j).clicked("front", 150 + 300j)
    assert not both.missing, "two clicks draw as well"
    assert len(drawn.outcome.pattern.pieces) == len(SKIRT.pieces) + 1


def test_points_are_clicked_moved_and_taken_back() -> None:
    hand = gesture("redraw", BODICE, Thing("edge", "front.neckline"))
    neck = BODICE.piece("front").run("neckline")[0].path
    middle = neck.point_at(neck.length / 2)
    one = hand.clicked("front", middle + 6j).clicked("front", neck.point_at(neck.length * 0.8) + 8j)
    assert len(one.plain["points"]) == 2 and not one.trouble, one.trouble
    made = one.outcome.pattern.piece("front").run("neckline")[0].path
    assert made.nearest(middle + 6j)[0] < 1e-6, "the line runs through the point"
    assert abs(made.end - neck.end) < 1e-9 and abs(made.start - neck.start) < 1e-9
    moved = one.moved(one.handles[0], middle + 15j)
    assert moved.outcome.pattern.piece("front").run("neckline")[0].path.nearest(middle + 15j)[0] < 1e-6
    assert len(one.taken_back().plain["points"]) == 1
    square = one.set("start", "square").set("end", "square")
    ends = square.outcome.pattern.piece("front").run("neckline")[0].path
    fold, shoulder = BODICE.piece("front").run("centre_front")[0].path, BODICE.piece("front").run("shoulder")[0].path
    for at, other in ((ends.start_direction, fold.end_direction), (ends.end_direction, shoulder.start_direction)):
        dots = [abs((at * one.conjugate()).real) for one in (other, fold.start_direction, shoulder.end_direction)]
        assert min(dots) < 1e-6, "square to what it meets"


def test_things_are_asked_for_and_toggled() -> None:
    hand = gesture("flare", SKIRT, Thing("edge", "front.side")).taking("edges")
    assert "click an edge" in hand.asks
    both = hand.chose(Thing("edge", "back.side"))
    assert set(both.plain["edges"]) == {"front.side", "back.side"}
    assert both.chose(Thing("edge", "back.side")).plain["edges"] == ("front.side",)
    assert hand.chose(Thing("dart", DART)) is hand, "a dart is no edge"
    longer = gesture("lengthen", SKIRT).taking("pieces").chose(Thing("piece", "back"))
    assert longer.plain["pieces"] == ("back",)


def test_a_step_is_taken_up_again_with_its_values_and_settled_where_it_stood() -> None:
    base = edits.add_step(demo_document(), step("flare", edges=("front.side",), amount=40.0))
    base = edits.add_step(base, step("lengthen", amount=20.0))
    made = make(EvaluateRequest(base))
    before = made.evaluated.drafted
    assert before is not None
    hand = take_up(base.recipe.steps[-2], before, made.evaluated.sources[0].context)
    assert hand.plain["amount"] == 40 and hand.handles
    handle = next(one for one in hand.handles if one.parameter == "amount")
    after = with_gesture(base, hand.moved(handle, handle.at + 15))
    assert after.recipe.steps[-2].values["amount"] == Number(value=55.0) and len(after.recipe.steps) == len(
        base.recipe.steps
    )
    assert after.recipe.steps[-2].id == base.recipe.steps[-2].id and after.recipe.steps[-1] == base.recipe.steps[-1]


def test_the_same_hold_again_adds_to_the_step_before_and_a_formula_is_never_lost() -> None:
    base = demo_document()
    made = make(EvaluateRequest(base))
    context = made.evaluated.sources[0].context
    pattern = pattern_of(made)
    edge = Thing("edge", "front.side")
    once = with_gesture(base, begin(STEPS["flare"], pattern, context, (edge,), "s1"))
    twice = with_gesture(once, begin(STEPS["flare"], pattern, context, (edge,), "s2"))
    assert len(twice.recipe.steps) == len(base.recipe.steps) + 1 and twice.recipe.steps[-1].values["amount"] == Number(
        value=60.0
    )
    formula = with_gesture(
        base, begin(STEPS["flare"], pattern, context, (edge,), "s1").typed("hip / 30", "cm", "amount")
    )
    again = with_gesture(formula, begin(STEPS["flare"], pattern, context, (edge,), "s2"))
    assert len(again.recipe.steps) == len(formula.recipe.steps) + 1


def test_what_changes_is_told_by_length() -> None:
    hand = gesture("flare", SKIRT, Thing("edge", "front.side"))
    told_ = {one.name: one for one in changes(SKIRT, hand.outcome.pattern)}
    assert told_["front.hem"].after - told_["front.hem"].before == pytest.approx(30, abs=1.5)
    assert "front.waist" not in told_ and "→" in told_["front.hem"].words and changes(SKIRT, SKIRT) == ()


@pytest.mark.parametrize("kind", sorted(STEPS))
@pytest.mark.parametrize(
    "block", ["bodice.darted", "dress.sheath", "leggings", "skirt.circle", "swimsuit", "tunic.panels", "waistband"]
)
def test_whatever_is_chosen_and_dragged_a_gesture_answers(block: str, kind: str) -> None:
    """Every step begun on every thing that it suits: handles that can be moved anywhere, never an exception (all blocks in the soak)."""
    made = drafted(block)
    pattern, context = pattern_of(made), made.evaluated.sources[0].context
    tried: set[Any] = set()
    for thing in things(pattern):
        if thing.kind in tried or thing.kind not in STEPS[kind].suits:
            continue
        tried.add(thing.kind)
        hand = begin(STEPS[kind], pattern, context, (thing,), "s1")
        assert told(hand.asks, "in") and hand.sentence
        for piece in pattern.pieces[:2]:
            hand = hand.clicked(piece.name, piece.run(piece.runs()[0])[0].path.point_at(20.0), 8.0)
            hand = hand.drawn(piece.name, piece.polygon(5.0)[0], piece.polygon(5.0)[2] + 30j, 8.0)
        for handle in hand.handles:
            moved = hand.moved(handle, handle.at + (13 + 21j), 8.0)
            assert moved.step is hand.step
            _ = moved.nudged(handle, 3.0).handles
        assert isinstance(hand.trouble, str) and hand.outcome.pattern is not None


def test_a_group_is_put_on_with_ids_of_its_own_and_names_that_follow() -> None:
    """What a step of the group names of another by its id names it by its new one; other names stay."""
    base = edits.add_step(demo_document(), step("lengthen", amount=10.0))  # so that the ids are others
    base = edits.add_step(
        base, step("cut", line=(Place(edge="front.centre_front", share=0.4), Place(edge="front.side", share=0.5)))
    )
    cut = base.recipe.steps[-1].id
    base = edits.add_step(base, step("band", part="cuff", edges=(f"{cut}.cut[{cut}a]",), depth=30.0))
    base = groups.set_group(base, [one.id for one in base.recipe.steps[-2:]], "Yoke")
    kept_group = groups.group_of(base, "Yoke")
    other = groups.put_on(demo_document(), kept_group)
    first, second = other.recipe.steps[-2:]
    assert first.id != cut and second.values["edges"].refs == (f"{first.id}.cut[{first.id}a]",)
    assert first.values["line"] == base.recipe.steps[-2].values["line"] and {first.group, second.group} == {"Yoke"}
    done = make(EvaluateRequest(other))
    assert not [one.stuck for one in done.evaluated.outcomes if one.stuck], [
        one.stuck for one in done.evaluated.outcomes
    ]
    twice = groups.put_on(other, kept_group)
    assert groups.groups(twice) == ("Yoke", "Yoke 2") and len({one.id for one in twice.recipe.steps}) == len(
        twice.recipe.steps
    )
    with pytest.raises(CaddetError, match="no step of this garment"):
        groups.group_of(base, "Nothing")
    off = groups.switched(twice, "Yoke", False)
    assert [one.on for one in off.recipe.steps if one.group == "Yoke"] == [False, False]
