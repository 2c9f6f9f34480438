"""The designs: evaluated, proved and finished against their block drafted cold; the first step dragged; the gallery."""

from __future__ import annotations

from bench.timing import best, show
from caddet.core.demo import demo_document
from caddet.core.designs import Design, designs, made_mine
from caddet.core.fitting.line_drawing import line_drawing
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.values import Number

FRAME = 1 / 60
LARGEST = "harbour-coat"


def _bare(design: Design) -> Document:
    recipe = design.document.recipe
    return design.document.model_copy(update={"recipe": recipe.model_copy(update={"steps": ()})})


def main() -> None:
    """Measure, and print each ratio with its aim."""
    for design in designs():
        block = best(lambda design=design: make(EvaluateRequest(_bare(design))), 3)  # type: ignore[misc]
        whole = best(lambda design=design: make(EvaluateRequest(design.document)), 3)  # type: ignore[misc]
        show(f"{design.name}: evaluated, proved and finished, against its block cold", whole, block, 3.0)
    coat = next(one for one in designs() if one.name == LARGEST)
    cache = StageCache()
    make(EvaluateRequest(coat.document), cache)
    amount = [3.0]

    def dragged() -> None:
        """The first step's amount changed by a little, as while it is pulled."""
        amount[0] += 0.3
        first, *rest = coat.document.recipe.steps
        moved = first.model_copy(update={"values": {**first.values, "amount": Number(value=30.0 + amount[0])}})
        recipe = coat.document.recipe.model_copy(update={"steps": (moved, *rest)})
        evaluate(coat.document.model_copy(update={"recipe": recipe}), None, cache)

    show("the first step of the largest design dragged", best(dragged, 5), FRAME, 2.0)
    document = demo_document()

    def once() -> None:
        """Every design evaluated once."""
        for one in designs():
            make(EvaluateRequest(made_mine(document, one)))

    def gallery() -> None:
        """Every design evaluated and drawn, front and back."""
        for one in designs():
            pattern = make(EvaluateRequest(made_mine(document, one))).pattern
            assert pattern is not None
            line_drawing(pattern, "front"), line_drawing(pattern, "back")

    show("the gallery of designs for somebody new, against evaluating each once", best(gallery, 2), best(once, 2), 1.2)
