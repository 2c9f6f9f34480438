"""The hand on the table: what lies under the pointer, and a handle dragged, against a 60 Hz frame."""

from __future__ import annotations

import itertools

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.demo import demo_document
from caddet.core.geometry.segments import Point
from caddet.core.hands.gesture import Gesture, begin
from caddet.core.hands.handles import Handle
from caddet.core.hands.offers import offers
from caddet.core.hands.things import Thing, thing_at
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS

FRAME = 1 / 60


def main() -> None:
    """Measure, and print each ratio with its aim."""
    for block in ("skirt.straight", "bodice.darted", "dress.sheath"):
        _on(block)


def _on(block: str) -> None:
    made = make(EvaluateRequest(begin_with(demo_document(), Recipe.of(block))))
    pattern, context = made.pattern, made.evaluated.sources[0].context
    assert pattern is not None
    front = pattern.pieces[0]
    key = max(front.runs(), key=front.run_length)
    places = itertools.cycle([front.run_point(key, front.run_length(key) * n / 50)[0] + 3 for n in range(50)])
    under = best(lambda: thing_at(pattern, front.name, next(places), 12.0), 50)
    show(f"{block}: what lies under the pointer", under, FRAME, 1.0)
    show(
        f"{block}: what can be done with an edge",
        best(lambda: offers(pattern, (Thing("edge", key),)), 20),
        FRAME,
        1.0,
    )
    hand = begin(STEPS["lengthen"], pattern, context, (Thing("piece", front.name),))
    handle = next(one for one in hand.handles if one.parameter == "amount")
    ways = itertools.cycle([handle.at + 1j * n for n in range(40)])
    dragged = best(lambda: _moved(hand, handle, next(ways)), 20)
    show(f"{block}: a handle moved, with its handles, sentence and pattern", dragged, FRAME, 1.0)


def _moved(hand: Gesture, handle: Handle, point: Point) -> None:
    moved = hand.moved(handle, point, 8.0)
    _ = moved.handles, moved.sentence, moved.outcome


if __name__ == "__main__":
    main()
