"""The one way forward for what an earlier version wrote: projects, their journals, the workroom's stores.

Each function takes raw JSON of one schema to the next and knows only what that schema was; none of
them looks at today's blocks and steps. A list of functions per store, keyed by the schema they start
from; :func:`forward` runs them. What can't be carried over is left for the repair to set aside.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from difflib import SequenceMatcher
from typing import Any

from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.migrate_names import names_and_places
from caddet.core.formats.migrate_outlines import outlines_as_pieces
from caddet.core.pattern.ids import reference
from caddet.core.recipe.document import SCHEMA
from caddet.core.sentences import say

Raw = dict[str, Any]
STORE = 2  # the format of the workroom's files


ROOM = 100_000  # numbers left for the steps of a project's older moments, which get theirs later


@dataclass(slots=True)
class StepIds:
    """Ids for the steps of schemas that had none, shared by all moments of one history.

    A step that is still there in the next document asked for keeps its id: equal steps first (also when
    moved), then one of the same kind in the same gap. No number is given twice, and none from ``ROOM``
    on: from there the counter of a migrated document goes on.
    """

    next_id: int = 2  # the block has 1
    steps: list[Any] = field(default_factory=list)
    ids: list[str] = field(default_factory=list)

    def given(self, steps: list[Any]) -> list[str]:
        """The ids of these steps, which come after those asked for last."""
        before = [json.dumps(step, sort_keys=True) for step in self.steps]
        now = [json.dumps(step, sort_keys=True) for step in steps]
        found: list[str] = [""] * len(now)
        free = set(range(len(before)))

        def take(old: int, new: int) -> None:
            if old in free and not found[new]:
                found[new] = self.ids[old]
                free.discard(old)

        blocks = SequenceMatcher(None, before, now, autojunk=False).get_opcodes()
        for tag, low, high, start, end in blocks:
            if tag == "equal":
                for old, new in zip(range(low, high), range(start, end), strict=True):
                    take(old, new)
        for new, words in enumerate(now):
            same = next((i for i in sorted(free) if before[i] == words), None)
            if same is not None:
                take(same, new)
        for tag, low, high, start, end in blocks:
            if tag == "replace":
                for new in range(start, end):
                    alike = (i for i in range(low, high) if i in free and _kind(self.steps[i]) == _kind(steps[new]))
                    changed = next(alike, None)
                    if changed is not None:
                        take(changed, new)
        for new in range(len(now)):
            if not found[new]:
                found[new] = f"s{self.next_id}"
                self.next_id += 1
        self.steps, self.ids = list(steps), found
        return found


def _kind(step: Any) -> Any:
    return step.get("kind") if isinstance(step, dict) else None


# --- the project ----------------------------------------------------------------------------------


def _dated_sets(raw: Raw, ids: Sequence[str] | None) -> Raw:
    """1 to 2: a person's measures become one set of readings without a date."""
    del ids
    people = raw.get("people")
    for person in people if isinstance(people, list) else ():
        measures = person.pop("measures", None) if isinstance(person, dict) else None
        if isinstance(measures, dict) and measures:
            person["sets"] = [{"readings": {code: [value] for code, value in measures.items()}}]
    return raw


# what the text values of schema 2's steps named, by the step's kind; other texts were choices
_NAMED_IN_2 = {
    "pivot_dart": {"piece": "pieces", "dart": "dart", "to": "edges"},
    "lengthen": {"piece": "pieces"},
    "flare": {"piece": "pieces"},
    "slit": {"piece": "pieces", "run": "edges"},
    "band": {"piece": "pieces", "run": "edges"},
}


def steps_of(raw: Raw) -> list[Any]:
    """The steps of a project of schema 1 or 2, as they stand there."""
    recipe = raw.get("recipe")
    steps = recipe.get("steps") if isinstance(recipe, dict) else None
    return steps if isinstance(steps, list) else []


def _sources_and_steps(raw: Raw, ids: Sequence[str] | None) -> Raw:
    """2 to 3: the block becomes a source, steps get ids, values their kinds, cloth and lay their roles."""
    steps = steps_of(raw)
    recipe = raw.pop("recipe", None)
    if isinstance(recipe, dict):
        source = {key: recipe[key] for key in ("block", "fit", "ease", "overrides") if key in recipe}
        options = recipe.get("options", {})
        source["options"] = _options(options) if isinstance(options, dict) else options
        numbered = [
            {**step, "id": name, "values": _step_values(step)} if isinstance(step, dict) else step
            for step, name in zip(steps, ids if ids is not None else StepIds().given(steps), strict=True)
        ]
        raw["recipe"] = {"sources": [{"id": "b1", "kind": "block", **source}], "steps": numbered, "next_id": ROOM}
        odd = {
            key: value
            for key, value in recipe.items()
            if key not in ("block", "fit", "ease", "overrides", "options", "steps")
        }
        raw["recipe"] |= odd
    if "cloth" in raw:
        raw["roles"] = {"main": raw.pop("cloth")}
    if "lay" in raw:
        raw["lays"] = {"main": raw.pop("lay")}
    finishing = raw.get("finishing")
    if isinstance(finishing, dict) and isinstance(finishing.get("exceptions"), dict):
        finishing["exceptions"] = _by_reference(finishing["exceptions"])
    return raw


def _options(options: Raw) -> Raw:
    return {name: _value(value, "choice") for name, value in options.items()}


def _step_values(step: Raw) -> Any:
    values = step.get("values", {})
    if not isinstance(values, dict):
        return values
    named = _NAMED_IN_2.get(str(step.get("kind")))
    if named is None:  # a step that version did not know either
        return {name: _value(value, "text") for name, value in values.items()}
    piece = values.get("piece", "all")
    found: Raw = {}
    for name, value in values.items():
        kind = named.get(name)
        if kind is None or not isinstance(value, str):
            found[name] = _value(value, "choice")
        elif not value or (kind == "pieces" and value == "all"):
            found[name] = {"kind": kind}
        else:
            below = kind != "pieces" and isinstance(piece, str) and piece not in ("", "all")
            found[name] = {"kind": kind, "refs": [f"{piece}.{value}" if below else value]}
    return found


def _value(value: Any, text: str) -> Any:
    if isinstance(value, bool):
        return {"kind": "flag", "on": value}
    if isinstance(value, int | float):
        return {"kind": "number", "value": float(value)}
    if isinstance(value, str):
        return {"kind": "text", "text": value} if text == "text" else {"kind": "choice", "name": value}
    return value


def _by_reference(exceptions: Raw) -> Raw:
    """Allowances keyed ``piece.run`` or ``piece.run.2``: a part that schema 2 counted means the whole run."""
    found: Raw = {}
    for name, value in exceptions.items():
        try:
            parts = reference(name).name.split(".")
        except CaddetError:
            parts = [name]
        key = ".".join(parts[:2]) if len(parts) == 3 and parts[2].isdigit() else name
        found.setdefault(key, value)
    return found


PROJECT: dict[int, Callable[[Raw, Sequence[str] | None], Raw]] = {
    1: _dated_sets,
    2: _sources_and_steps,
    3: lambda raw, ids: names_and_places(raw),
    4: lambda raw, ids: outlines_as_pieces(raw),
}


def forward(raw: Raw, place: str, ids: Sequence[str] | None = None) -> Raw:
    """A project of any earlier schema as one of today's; ``raw`` is not used afterwards.

    ``ids`` are those of its steps when they had none (see :class:`StepIds`). Raises :class:`InputError` when the schema is newer or not said.
    """
    version = raw.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError("the project does not say its schema_version; expected a whole number from 1.", place)
    if version > SCHEMA:
        raise InputError(
            say(
                "this project was written by a newer Caddet (format {version}, this one knows {SCHEMA}); open it there. It has not been changed.",
                version=version,
                SCHEMA=SCHEMA,
            ),
            place,
        )
    while version < SCHEMA:
        raw = PROJECT[version](raw, ids)
        version += 1
        raw["schema_version"] = version
    return raw


# --- the workroom's stores ------------------------------------------------------------------------


def _block_options(raw: Raw) -> Raw:
    """1 to 2: the options of a block of one's own say their kinds."""
    block = raw.get("block")
    if isinstance(block, dict) and isinstance(block.get("options"), dict):
        block["options"] = _options(block["options"])
    return raw


STORES: dict[int, Callable[[Raw], Raw]] = {1: _block_options}


def store_forward(raw: Any, place: str) -> Raw:
    """A file of the workroom (a person, a block of one's own) in today's format.

    Raises :class:`InputError` when it is newer, or no such file.
    """
    version = raw.get("format") if isinstance(raw, dict) else None
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError("it is damaged, or not a file of Caddet's Workroom.", place)
    if version > STORE:
        raise InputError("it was written by a newer Caddet.", place)
    while version < STORE:
        raw = STORES[version](raw)
        version += 1
    return {**raw, "format": STORE}
