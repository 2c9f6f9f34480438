"""Each step by hand on the dress, the largest of the upper blocks: an amount or place changed, made and shown, against a 60 Hz frame."""

from __future__ import annotations

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.demo import demo_document
from caddet.core.hands.gesture import Gesture, begin
from caddet.core.hands.things import Thing, places_of, things
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS, Step

FRAME = 1 / 60
BLOCKS = ("dress.sheath", "trousers.tailored")  # what the first can't do is tried on the second


def main() -> None:
    """Measure, and print each ratio with its aim."""
    made = [make(EvaluateRequest(begin_with(demo_document(), Recipe.of(block)))) for block in BLOCKS]
    for step in STEPS.values():
        hand = next((found for one in made if (found := _in_hand(step, one)) is not None), None)
        if hand is not None:
            show(
                f"{step.kind}: changed, made, with its handles and sentence",
                best(lambda hand=hand: _again(hand), 9),
                FRAME,
                1.0,
            )  # type: ignore[misc]


def _in_hand(step: Step, made: Made) -> Gesture | None:
    """The step begun on the first thing of a block on which it can be done."""
    pattern, context = made.pattern, made.evaluated.sources[0].context
    assert pattern is not None
    fitting = sorted((one for one in things(pattern) if one.kind in step.suits), key=lambda one: step.suits[one.kind])
    for thing in fitting:
        hand = _pointed(begin(step, pattern, context, (thing,)), pattern, thing)
        if not hand.missing and not hand.outcome.stuck:
            return hand
    return None


def _pointed(hand: Gesture, pattern: Pattern, thing: Thing) -> Gesture:
    piece = pattern.piece(places_of(pattern, thing)[0].piece)
    left, top, right, bottom = piece.outline().bounds()
    middle = complex((left + right) / 2, (top + bottom) / 2)
    for key in piece.runs():
        if hand.missing and hand.asked is not None:
            at = piece.run_point(key, piece.run_length(key) / 2)[0]
            if hand.asked.kind == "line":
                hand = hand.drawn(piece.name, middle - (right - left) * 0.4, middle + (right - left) * 0.4)
            else:
                hand = hand.clicked(piece.name, middle if hand.asked.kind == "points" else at)
    return hand


def _again(hand: Gesture) -> None:
    fresh = hand.with_values({})  # as after a drag: nothing of it is kept
    _ = fresh.outcome, fresh.handles, fresh.sentence


if __name__ == "__main__":
    main()
