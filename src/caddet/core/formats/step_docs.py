"""The page of all steps for the documentation, from what the steps declare."""

from __future__ import annotations

from caddet.core.lengths import format_length
from caddet.core.own_pieces.taught import SKIRT, WORDING
from caddet.core.recipe.parameters import Parameter
from caddet.core.recipe.registry import STEPS, Step

HEAD = """# Steps

Made by `scripts/write-block-docs` from what the steps declare. Each is done by hand on the table (choose what it suits,
press its key or find it by a maker's words), typed in the docket, or added with `caddet add FILE KIND NAME=VALUE…`.
"""


def step_page() -> str:
    """The page as Markdown."""
    return HEAD + "".join(_step(step) for step in STEPS.values())


def _step(step: Step) -> str:
    suits = ", ".join(sorted(step.suits, key=lambda kind: step.suits[kind])) or "–"
    key = f", key **{step.key}**" if step.key else ""
    words = "; ".join(step.asked_as)
    rows = "".join(_row(one) for one in step.parameters)
    return (
        f"\n## {step.label}\n\n`{step.kind}`, for: {suits}{key}. {step.why}\n\n"
        f"Also found as: {words}.\n\n| value | | usual | limits |\n|---|---|---|---|\n{rows}"
    )


def _row(one: Parameter) -> str:
    why = f" {one.why}" if one.why else ""
    if one.kind == "length":
        low, high, usual = (format_length(v, "cm", with_unit=True) for v in (one.low, one.high, float(one.default)))
        return f"| `{one.name}` | {one.label}.{why} | {usual} | {low} to {high} |\n"
    if one.is_amount:
        return f"| `{one.name}` | {one.label}.{why} | {one.default:g} | {one.low:g} to {one.high:g} |\n"
    if one.kind == "choice":
        choices = ", ".join(f"`{key}` {words.lower()}" for key, words in one.choices)
        return f"| `{one.name}` | {one.label}.{why} | `{one.default}` | {choices} |\n"
    if one.notes is not None:
        return f"| `{one.name}` | {one.label}.{why} | a small piece | a text ([how it is written](own-pieces.md)) |\n"
    return f"| `{one.name}` | {one.label}.{why} | {one.default or '–'} | {one.kind} |\n"


OWN_HEAD = """# Pieces of your own

A recipe you were taught, or worked out yourself, is written as named points, formulas and edges, one thing a line. It is
kept with the garment and runs on another body. Begin with the block *Points and formulas*, or put a piece beside others with
the step *A piece of your own*. Below the lines stand the figures they come to; a line that can't be read or worked out is
told by its number, and the others go on. Lines may stand in any order inside their piece; a point that is not given in
a piece is looked for in those above it.

Made by `scripts/write-block-docs` from what the recipe's reader declares.

| line | what it says |
|---|---|
"""


def own_page() -> str:
    """The page on how a recipe of one's own is written, as Markdown."""
    rows = "".join(f"| `{line}` | {words} |\n" for line, words in WORDING)
    return f"{OWN_HEAD}{rows}\nA skirt, as it stands in the block to begin with:\n\n```\n{SKIRT}```\n"
