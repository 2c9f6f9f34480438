"""Evaluate and finish the whole skirt after one changed measure, against shapely buffering its outlines once.

Both start cold: a fresh waist every time, so that no memo of an earlier run helps.
"""

from __future__ import annotations

import itertools

import shapely

from bench.timing import best, show
from caddet.core.demo import demo_document
from caddet.core.finishing.finish import finish
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.values import Number


def main() -> None:
    """Measure, and print each ratio with its aim."""
    document = demo_document()
    made = make(EvaluateRequest(document))
    assert made.pattern is not None
    shapes = [shapely.Polygon([(p.real, p.imag) for p in piece.polygon()]) for piece in made.pattern.pieces]
    waists = itertools.count(700.0, 0.37)

    def ours() -> None:
        changed = edits.set_measure(document, "waist", next(waists))
        evaluated = evaluate(changed)
        assert evaluated.pattern is not None
        finish(evaluated.pattern, changed)

    def drag() -> None:
        step = edits.set_step(
            document, 1, document.recipe.steps[1].model_copy(update={"values": {"amount": Number(value=next(amounts))}})
        )
        make(EvaluateRequest(step), cache)

    cache = StageCache()
    amounts = itertools.count(10.0, 0.13)
    reference = best(lambda: [shape.buffer(15.0) for shape in shapes], 30)
    show("evaluate + finish after one changed measure, against shapely.buffer", best(ours, 30), reference, 3.0)
    frame = 1 / 60
    show("one redraw while dragging (evaluate, finish, prove), against a 60 Hz frame", best(drag, 30), frame, 1.0)


if __name__ == "__main__":
    main()
