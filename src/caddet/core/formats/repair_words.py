"""The places of a document in a maker's words: ``people.0.sets.0.readings.hip`` is “Odile, hip girth”."""

from __future__ import annotations

from typing import Any

from caddet.core.body.measures import MEASURES
from caddet.core.sentences import say

_PARTS = {
    "title": "the title", "notes": "the notes", "wearer": "whom it is for", "people": "the people", "cloths": "the cloths",
    "roles": "the cloth for", "recipe": "the recipe", "finishing": "the allowances", "lays": "the lay of the cloth for",
    "table": "the place on the table of", "photographs": "the photograph", "cut": "the cut piece", "made": "the length as made of",
    "accepted": "what is fine by you, number", "log": "the log, entry",
}  # fmt: skip
_FIELDS = {
    "born": "birth month",
    "exceptions": "the allowance of",
    "ease": "ease at the",
    "overrides": "the formula of",
    "options": "the choice",
    "width": "width",
    "next_id": "the counter of steps",
}


def in_words(place: str, raw: dict[str, Any]) -> str:
    """What a place (keys with points between) means to whoever made the project ``raw`` is of."""
    keys = place.split(".")
    match keys:
        case ["people", number, *rest]:
            return ", ".join([_named(raw, "people", number, "person"), *_of_person(rest, raw, number)])
        case ["cloths", number, *rest]:
            return ", ".join([_named(raw, "cloths", number, "cloth"), *map(_plain, rest)])
        case ["recipe", "sources", _, kind, *rest] if kind in _FIELDS and rest:
            return f"{_FIELDS[kind]} {_plain('.'.join(rest[:1]))}"
        case ["recipe", "sources", number, "pieces", index, *rest]:
            return ", ".join([_piece(raw, number, index), *_numbered(rest)])
        case ["recipe", "sources", number, *rest]:
            return ", ".join([say("source {number}", number=_counted(number)), *_numbered(rest)])
        case ["recipe", "steps", number, *rest]:
            return ", ".join(
                [_step(raw, number), *map(_plain, [key for key in rest if key not in ("values", "value")])]
            )
        case ["grading", "rules", number, *rest]:
            return ", ".join([say("grade rule {number}", number=_counted(number)), *map(_plain, rest)])
        case ["grading", *rest]:
            return ", ".join([say("the grading"), *map(_plain, rest)])
        case ["finishing", "exceptions", *rest] if rest:
            return say("the allowance of {plain}", plain=_plain(".".join(rest)))
        case [first, *rest] if first in _PARTS:
            return " ".join([_PARTS[first], *map(_plain, rest)])
    return _plain(place)


def _plain(key: str) -> str:
    return key.replace("_", " ").replace(".", " ")


def _counted(number: str) -> str:
    return str(int(number) + 1) if number.isdigit() else number


_ONE = {
    "edges": "edge", "darts": "dart", "notches": "notch", "features": "line", "cuts": "cut", "seams": "seam", "pairs": "position",
    "promises": "promise", "notions": "notion", "openings": "opening", "bits": "bit", "layers": "layer", "figures": "figure",
}  # fmt: skip


def _numbered(rest: list[str]) -> list[str]:
    """Keys in words, a list and a place in it together: ``edges``, ``0``, ``role`` is “edge 1”, “role”."""
    found: list[str] = []
    for key in rest:
        if key.isdigit() and found:
            found[-1] = f"{_ONE.get(found[-1], found[-1])} {_counted(key)}"
        else:
            found.append(_plain(key))
    return found


def _piece(raw: dict[str, Any], number: str, index: str) -> str:
    recipe = raw.get("recipe")
    source = _at(recipe, "sources", number) if isinstance(recipe, dict) else None
    one = _at(source, "pieces", index) if isinstance(source, dict) else None
    name = one.get("id") if isinstance(one, dict) else None
    return f"the piece “{name[:40]}”" if isinstance(name, str) and name else f"piece {_counted(index)}"


def _at(raw: dict[str, Any], part: str, number: str) -> Any:
    items = raw.get(part)
    return items[int(number)] if isinstance(items, list) and number.isdigit() and int(number) < len(items) else None


def _named(raw: dict[str, Any], part: str, number: str, what: str) -> str:
    one = _at(raw, part, number)
    name = one.get("name") if isinstance(one, dict) else None
    return name[:40] if isinstance(name, str) and name else f"{what} {_counted(number)}"


def _of_person(rest: list[str], raw: dict[str, Any], number: str) -> list[str]:
    match rest:
        case ["sets", index, "readings", code, *_]:
            label = MEASURES[code].label.lower() if code in MEASURES else _plain(code)
            one = _at(raw, "people", number)
            dated = _at(one, "sets", index) if isinstance(one, dict) else None
            day = dated.get("date") if isinstance(dated, dict) else None
            return [f"{label} of {day}" if isinstance(day, str) and day else label]
        case ["sets", index, *more]:
            return [
                say("set of readings {index}", index=_counted(index)),
                *map(_plain, more),
            ]
    return [_FIELDS.get(key, _plain(key)) for key in rest]


def _step(raw: dict[str, Any], number: str) -> str:
    recipe = raw.get("recipe")
    one = _at(recipe, "steps", number) if isinstance(recipe, dict) else None
    kind = one.get("kind") if isinstance(one, dict) else None
    words = f" ({_plain(kind[:40])})" if isinstance(kind, str) and kind else ""
    return f"step {_counted(number)}{words}"
