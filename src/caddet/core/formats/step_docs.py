"""The page of all steps for the documentation, from what the steps declare."""

from __future__ import annotations

from caddet.core.lengths import format_length
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
    return f"| `{one.name}` | {one.label}.{why} | {one.default or '–'} | {one.kind} |\n"
