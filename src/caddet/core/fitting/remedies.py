"""Remedies for seams that do not meet: only those that were tried and mend it are offered."""

from __future__ import annotations

from caddet.core.pattern.pattern import Fragment, Pattern
from caddet.core.recipe.context import Context
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.registry import STEPS, step_entry
from caddet.core.recipe.stages import do_step
from caddet.core.truing.walk import Walk, walk

UPRIGHT = 0.7  # an edge this much of whose length goes down can be lengthened at a level line


def seam_remedies(pattern: Pattern, walked: Walk) -> tuple[Remedy, ...]:
    """Lengthen or shorten one side or the other at a level line, where that makes the seam meet."""
    seam = walked.seam
    if "lengthen" not in STEPS or any(len(layer) != 1 for layer in (seam.layers[0], seam.layers[walked.layer])):
        return ()
    found = []
    for layer, off in ((0, walked.off), (walked.layer, -walked.off)):
        fragments = [f for f in pattern.layer_fragments(seam.layers[layer]) if not f.imagined]
        step = _level_step(fragments, off)
        if step is None:
            continue
        after = do_step(step, pattern, Context())
        if after.stuck or after.findings or not walk(after.pattern, seam, walked.layer).holds:
            continue
        piece = fragments[0].piece
        word = "Lengthen" if off > 0 else "Shorten"
        found.append(
            Remedy(
                f"{word} the {piece.label.lower()} by {abs(off) / 10:.1f} cm there",
                step=step.model_copy(update={"id": ""}),
            )
        )
    return tuple(found)


def _level_step(fragments: list[Fragment], off: float) -> StepEntry | None:
    """The step that changes the longest upright stretch of a side by so much, at its middle."""
    if not fragments:
        return None
    longest = max(fragments, key=lambda f: f.length)
    path = longest.path()
    down = abs(path.end.imag - path.start.imag)
    if longest.length < 1e-6 or down < UPRIGHT * longest.length:
        return None
    amount = off * down / longest.length
    values = {
        "pieces": (longest.piece.name,),
        "at": round((path.start.imag + path.end.imag) / 2, 1),
        "amount": round(amount, 1),
    }
    return step_entry("lengthen", values, id="s999999999")
