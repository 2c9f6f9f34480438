"""Why a step does not find what it names: taken out, off, later, failed, gone since, or never there."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.pattern.ids import Reference, maker_of, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.stuck import Lost
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.stages import StepOutcome
from caddet.core.sentences import say


def found_in(pattern: Pattern | None, ref: Reference, what: str) -> bool:
    """Whether a reference finds anything on a pattern; ``what`` is the kind of thing it names."""
    if pattern is None:
        return False
    match what:
        case "piece":
            return bool(pattern.pieces_meant(ref))
        case "dart":
            return any(ref.finds(dart.name, dart.marks) for piece in pattern.pieces for dart in piece.darts)
        case "seam":
            return any(seam.name == ref.key for seam in pattern.seams)
        case "level":
            return any(ref.name in (f.name, own_name(f.name)) for piece in pattern.pieces for f in piece.features)
        case _:
            return bool(pattern.edges(ref))


def why_lost(lost: Lost, recipe: Recipe, drafted: Pattern | None, outcomes: Sequence[StepOutcome], index: int) -> str:
    """The reason in a sentence. ``index`` counts the steps before the one that lost it."""
    ref, number = lost.ref, {step.id: n + 1 for n, step in enumerate(recipe.steps)}
    name = say("“{thing}”", thing=ref)
    made_by = sorted({maker_of(ref.name), *(maker_of(mark).rstrip("ab") for mark in ref.marks)})
    for step in (one for one in made_by if one[:1] == "s" and one[1:].isdigit()):
        if step not in number:
            return say("{name} was made by a step that has been taken out.", name=name)
        entry = recipe.steps[number[step] - 1]
        if number[step] - 1 >= index:
            return say(
                "{name} is made by step {number}, which comes later; move this step behind it.",
                name=name,
                number=number[step],
            )
        if not entry.on:
            return say("{name} is made by step {number}, which is off.", name=name, number=number[step])
        if outcomes[number[step] - 1].stuck:
            return say("{name} is made by step {number}, which could not be done.", name=name, number=number[step])
    for n in range(index - 1, -1, -1):
        before = outcomes[n - 1].pattern if n else drafted
        if found_in(before, ref, lost.what):
            return say("{name} was there until step {n}, which took it away.", name=name, n=n + 1)
    return say("there is no {what} {name} in this garment.", what=lost.what, name=name)
