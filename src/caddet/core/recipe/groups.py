"""Steps that belong together: named groups, a step once more, and a group kept to be put on another garment."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from pydantic import Field

from caddet.core.errors import CaddetError
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, StepEntry
from caddet.core.recipe.named import Named
from caddet.core.sentences import say

_ID = re.compile(r"(?<![A-Za-z0-9_.'])s([1-9][0-9]{0,8})(?=[.\],ab]|$)")


class StepGroup(Named):
    """Steps kept under a name, in their order, with the ids they had when they were kept."""

    steps: tuple[StepEntry, ...] = Field(min_length=1, max_length=500)


def groups(document: Document) -> tuple[str, ...]:
    """The names of the groups, in the order in which they begin."""
    return tuple(dict.fromkeys(step.group for step in document.recipe.steps if step.group))


def group_of(document: Document, name: str) -> StepGroup:
    """A group of a recipe, to be kept. Raises :class:`CaddetError` when no step is in it."""
    steps = tuple(step for step in document.recipe.steps if step.group == name)
    if not steps or not name:
        raise CaddetError(say("no step of this garment is in a group “{name}”", name=name))
    return StepGroup(name=name, steps=steps)


def put_on(document: Document, group: StepGroup) -> Document:
    """The document with the steps of a group at its end, under ids of their own; what they name of each other follows."""
    numbers = {step.id: f"s{document.recipe.next_id + n}" for n, step in enumerate(group.steps)}
    name = _fresh(group.name, groups(document))
    for step in group.steps:
        document = edits.add_step(document, _renumbered(step, numbers).model_copy(update={"group": name}))
    return document


def duplicated(document: Document, step_id: str) -> Document:
    """The document with a step done once more, right behind itself."""
    for index, step in enumerate(document.recipe.steps):
        if step.id == step_id:
            added = edits.add_step(document, step.model_copy(update={"id": ""}))
            return edits.move_step(added, len(added.recipe.steps) - 1, index + 1)
    raise CaddetError(say("the recipe has no step {step_id}", step_id=step_id))


def set_group(document: Document, step_ids: Sequence[str], name: str) -> Document:
    """Put steps into a group of that name (out of any, when it is empty)."""
    for step_id in step_ids:
        document = edits.change_step(document, step_id, group=name.strip()[:80])
    return document


def switched(document: Document, name: str, on: bool) -> Document:
    """All the steps of a group on or off."""
    for step in document.recipe.steps:
        if step.group == name and step.on != on:
            document = edits.change_step(document, step.id, on=on)
    return document


def _renumbered(step: StepEntry, numbers: Mapping[str, str]) -> StepEntry:
    """A step whose references name other steps by their new ids."""

    def told(value: object) -> object:
        if isinstance(value, str):
            return _ID.sub(lambda found: numbers.get(f"s{found[1]}", found[0]), value)
        if isinstance(value, dict):
            return {key: told(one) for key, one in value.items()}
        if isinstance(value, list | tuple):
            return [told(one) for one in value]
        return value

    raw = step.model_dump(mode="json")
    values = {
        name: {key: one if key == "text" else told(one) for key, one in value.items()}
        if isinstance(value, dict)
        else value
        for name, value in raw["values"].items()
    }
    return StepEntry.model_validate({**raw, "id": "", "values": values})


def _fresh(name: str, taken: Sequence[str]) -> str:
    number, fresh = 2, name
    while fresh in taken:
        fresh, number = f"{name[:74]} {number}", number + 1
    return fresh
