"""A corner is chosen, typed and stored as what it is; and it is rounded off so that both edges run on."""

from __future__ import annotations

import math

import pytest

from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Arc
from caddet.core.hands.gesture import begin, with_gesture
from caddet.core.hands.offers import offers
from caddet.core.hands.things import Thing
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.context import Context
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.typed import typed_text, typed_value
from caddet.core.recipe.values import Corner, Place
from tests.making import area, drafted, full_people, nine, pattern_of, step

WHO = full_people()[0]
CORNER = STEPS["round_corner"].parameters[0]


@pytest.mark.parametrize("who", nine(), ids=lambda one: one.name)
def test_a_corner_rounded_off_is_a_curve_that_touches_both_edges(who: object) -> None:
    base = pattern_of(drafted("skirt.straight", who))  # type: ignore[arg-type]
    made = drafted(
        "skirt.straight", who, steps=(step("round_corner", corner=Corner(edge="front.side", end="end"), radius=60.0),)
    )  # type: ignore[arg-type]
    assert not made.evaluated.outcomes[0].stuck
    old, new = base.piece("front"), pattern_of(made).piece("front")
    side, hem = (next(e for e in new.edges if e.own == own) for own in ("side", "hem"))
    assert abs(side.path.end - hem.path.start) < 1e-9
    assert abs(side.path.end_direction - hem.path.start_direction) < 1e-6, "it runs on"
    for edge in (side, hem):
        assert all(
            abs(one.direction(1.0) - other.direction(0.0)) < 1e-6
            for one, other in zip(edge.path.segments, edge.path.segments[1:], strict=False)
        ), "nowhere a corner"
    # a quarter of a circle of that radius takes (1 - π/4) r² from a square corner: exact geometry
    turn = math.pi / 2
    assert area(old) - area(new) == pytest.approx((1 - turn / 2) * 60.0**2, rel=0.08)
    arc = Arc(0j, 60.0, 0.0, turn)
    lost = (
        base.run_length("front.side") + base.run_length("front.hem") - (new.run_length("side") + new.run_length("hem"))
    )
    assert lost == pytest.approx(2 * 60.0 - arc.length, abs=3.0)


def test_what_is_no_corner_is_told() -> None:
    for corner, radius, words in (
        (Corner(edge="front.hem", end="end"), 60.0, "lies on the fold"),
        (Corner(edge="front.side", end="end"), 399.0, "too short"),
        (Corner(edge="front.gone", end="end"), 60.0, "there is no edge"),
        (None, 60.0, "choose the corner"),
    ):
        values = {"radius": radius} | ({"corner": corner} if corner is not None else {})
        outcome = drafted("skirt.straight", WHO, steps=(step("round_corner", **values),)).evaluated.outcomes[0]
        assert words in outcome.stuck, outcome.stuck


def test_a_chosen_corner_goes_to_the_parameter_for_corners_and_to_a_place_where_there_is_none() -> None:
    pattern = pattern_of(drafted("skirt.straight", WHO))
    thing = Thing("corner", "front.side", "end")
    found = [one.step.kind for one in offers(pattern, (thing,))]
    assert "round_corner" in found[:4] and "pivot_dart" in found
    hand = begin(STEPS["round_corner"], pattern, Context(id="s2"), (thing,))
    assert hand.values["corner"] == Corner(edge="front.side", end="end") and not hand.missing
    (handle,) = [one for one in hand.handles if one.parameter == "corner"]
    front = pattern.piece("front")
    assert abs(handle.at - front.run("side")[-1].walked.end) < 1e-9
    moved = hand.moved(handle, front.run("side")[0].walked.start + 3 + 4j)
    at = moved.values["corner"]
    assert isinstance(at, Corner) and (at.edge, at.end) in (("front.side", "start"), ("front.waist", "end"))
    document = with_gesture(drafted("skirt.straight", WHO).document, hand)
    assert document.recipe.steps[-1].values["corner"] == Corner(edge="front.side", end="end")
    assert type(document).model_validate_json(document.model_dump_json()) == document
    assert make(EvaluateRequest(document)).pattern is not None
    empty = begin(STEPS["round_corner"], pattern, Context(id="s2"), ())
    assert "click a corner" in empty.asks
    assert empty.clicked("front", front.run("side")[-1].walked.end + 2j).values["corner"] == Corner(
        edge="front.side", end="end"
    )


def test_a_corner_is_typed_and_said_back_the_same() -> None:
    value = typed_value(CORNER, "front.side[s3.2]@start")
    assert value == Corner(edge="front.side[s3.2]", end="start") and typed_text(value) == "front.side[s3.2]@start"
    for bad in ("front.side", "front.side@0.4", "@end", "front.side@"):
        with pytest.raises(CaddetError, match=r"no corner|no place|does not name"):
            typed_value(CORNER, bad)
    with pytest.raises(CaddetError, match="a corner"):
        CORNER.plain(Place(edge="front.side", share=0.5))
