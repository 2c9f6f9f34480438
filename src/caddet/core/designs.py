"""The designs that ship with Caddet: whole garments made from blocks by steps and parts, to be looked at and made one's own."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from caddet.core import library as library  # registers every block and step
from caddet.core.errors import CaddetError, some
from caddet.core.files.shipped import shipped_bytes
from caddet.core.formats.project import read_project
from caddet.core.recipe.document import Document, Recipe
from caddet.core.sentences import say

# in the order in which they are shown; each whole builds on the one before
ORDER = (
    "waistcoat", "ringing-trousers", "harbour-coat", "wrap-skirt", "smock", "concert-dress", "pinafore", "tunic",
    "practice-tank", "jersey-top", "bias-blouse", "swim-set",
)  # fmt: skip
_STEP_ID = re.compile(r"(?<![A-Za-z0-9_])s([0-9]+)")
_SOURCE_ID = re.compile(r"(?<![A-Za-z0-9_])b([0-9]+)(?=_)")
_REFERRING = ("refs", "edge")  # keys of a step's values under which references stand


@dataclass(frozen=True, slots=True)
class Design:
    """One design: its name (of the file), what it is called, what it shows, and its project on the demo's people."""

    name: str
    title: str
    about: str
    document: Document


@lru_cache(maxsize=1)
def designs() -> tuple[Design, ...]:
    """Every design, in order."""
    found = []
    for name in ORDER:
        document = read_project(shipped_bytes(f"designs/{name}.caddet"), name).document
        found.append(Design(name, document.title, document.notes, document))
    return tuple(found)


def design_named(name: str) -> Design:
    """The design of a name. Raises :class:`CaddetError` naming those there are."""
    for design in designs():
        if design.name == name:
            return design
    raise CaddetError(say("there is no design “{name}”; there are {names}", name=name, names=some(ORDER, name, 12)))


def made_mine(document: Document, design: Design) -> Document:
    """A project with a design in place of what it made: the people stay, the design's cloths come along.

    Sources and steps get ids that were never given in this project; what steps name of each other follows.
    """
    recipe = _renumbered(design.document.recipe, document.recipe.next_id)
    taken = {cloth.name for cloth in document.cloths}
    fresh = tuple(cloth for cloth in design.document.cloths if cloth.name not in taken)
    changed = {
        **document.parts(),
        "recipe": recipe,
        "cloths": (*document.cloths, *fresh),
        "roles": {**document.roles, **design.document.roles},
        "table": {},
    }
    return Document.model_validate(changed)


def _renumbered(recipe: Recipe, first: int) -> Recipe:
    """A recipe whose ids begin at a number, with all that names them changed alike."""
    off = first - 1

    def renamed(value: Any, key: str = "") -> Any:
        """A value of the recipe's JSON with its references moved on."""
        if isinstance(value, dict):
            return {name: renamed(one, name) for name, one in value.items()}
        if isinstance(value, list):
            return [renamed(one, key) for one in value]
        if isinstance(value, str) and key in _REFERRING:
            value = _STEP_ID.sub(lambda m: f"s{int(m[1]) + off}", value)
            return _SOURCE_ID.sub(lambda m: f"b{int(m[1]) + off}", value)
        return value

    data = json.loads(recipe.model_dump_json())
    for entry in (*data["sources"], *data["steps"]):
        entry["id"] = f"{entry['id'][0]}{int(entry['id'][1:]) + off}"
        if entry.get("after"):
            entry["after"] = f"s{int(entry['after'][1:]) + off}"
        if "values" in entry:
            entry["values"] = renamed(entry["values"])
    data["next_id"] += off
    return Recipe.model_validate(data)
