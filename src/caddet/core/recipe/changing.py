"""Another block under the same steps: which of them go on, and which find no place on it."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.evaluate import evaluate
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS


@dataclass(frozen=True, slots=True)
class Changed:
    """The document with another block; ``kept`` and ``off`` are the labels of the steps that go on and that do not."""

    document: Document
    kept: tuple[str, ...] = ()
    off: tuple[str, ...] = ()


def change_block(document: Document, recipe: Recipe) -> Changed:
    """The document with another block and the steps made so far.

    A step that finds no place on the new block is switched off, not lost: it stands in the recipe and can be switched
    on again, when its edge is there.
    """
    begun = begin_with(document, recipe)
    steps = document.recipe.steps
    if not steps or recipe.steps:
        return Changed(begun)
    bare = begun.recipe.model_copy(update={"steps": steps})
    carried = begun.model_copy(update={"recipe": bare})
    stuck = {outcome.entry.id for outcome in evaluate(carried, carried.person).outcomes if outcome.stuck}
    settled = tuple(step.model_copy(update={"on": step.on and step.id not in stuck}) for step in steps)
    labels = [(STEPS[step.kind].label if step.kind in STEPS else step.kind, step.id in stuck) for step in steps]
    return Changed(
        begun.model_copy(update={"recipe": begun.recipe.model_copy(update={"steps": settled})}),
        tuple(label for label, off in labels if not off),
        tuple(label for label, off in labels if off),
    )
