"""Repair: the document in a damaged project, with nothing lost but the fault itself.

Part by part (each person, each cloth, each step, …) whatever does not fit the schema is set aside, key
by key, with its place; all faults of a pass at once. The wearer is never changed: somebody who can't
be read stays in the project under their name, without what could not be read.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import Any

from pydantic import BaseModel, TypeAdapter, ValidationError, create_model

from caddet.core.body.person import Person
from caddet.core.body.readings import MeasureSet
from caddet.core.errors import Finding, InputError, expected
from caddet.core.formats.repair_words import in_words
from caddet.core.recipe.choices import Cloth, Finishing, LayChoices
from caddet.core.recipe.document import (
    MAIN,
    MOST_NAMED,
    MOST_SOURCES,
    MOST_STEPS,
    SCHEMA,
    Accepted,
    CutRecord,
    Document,
    LogEntry,
    Placement,
)
from caddet.core.recipe.entries import Source, StepEntry
from caddet.core.recipe.grading import MOST_RULES, GradeRule, Grading
from caddet.core.recipe.stored import numbers_in
from caddet.core.recipe.values import Frozen
from caddet.core.sentences import say

MOST_PEOPLE = 10_000
MOST_PASSES = 12
MOST_ASIDE = 4000  # faults mended key by key; with more the file is no project any more
MOST_TOLD = 200  # findings that are shown; all are kept beside the file

# what stands in for something without which its part could not be kept
_FALLBACK: dict[str, Any] = {
    "name": "Unnamed",
    "title": "Unnamed",
    "width": 1400.0,
    "text": "",
    "x": 0.0,
    "y": 0.0,
    "block": "",
    "reason": "—",
}


@dataclass(frozen=True, slots=True)
class SetAside:
    """Something that could not be read: its place, why, and the value as it was."""

    place: str
    why: str
    value: Any
    words: str = ""  # the place as a maker says it


@dataclass(slots=True)
class _Repair:
    raw: dict[str, Any]
    aside: list[SetAside] = field(default_factory=list)

    def put(self, place: str, why: str, value: Any) -> None:
        """Set something aside, with its place and why."""
        if value in ([], {}) and self.aside and self.aside[-1].place.startswith(place):
            return  # only what is left when its parts were set aside
        self.aside.append(SetAside(place, why, value, in_words(place, self.raw)))


def repaired(raw: dict[str, Any], place: str) -> tuple[Document, tuple[SetAside, ...]]:
    """The document, and what had to be set aside. Raises :class:`InputError` when too little can be read."""
    if not any(isinstance(part, dict) and len(part) > MOST_NAMED for part in raw.values()):
        try:
            return Document.model_validate(raw), ()
        except (ValidationError, RecursionError):
            pass
    repair = _Repair(_names_of(raw))
    whole = _whole(raw, repair)
    if not whole["recipe"]["sources"] and not isinstance(raw.get("people"), list):
        raise InputError("too little of this project can be read to open it.", place)
    try:
        return Document.model_validate(whole), tuple(repair.aside)
    except (ValidationError, RecursionError) as error:
        raise InputError("too little of this project can be read to open it.", place) from error


def findings_of(aside: tuple[SetAside, ...]) -> tuple[Finding, ...]:
    """What is said of what was set aside, each with its place."""
    told = [
        Finding(
            "file.repaired",
            say(
                "{upper}{words}: {shown} could not be read ({why}) and was set aside.",
                upper=one.words[:1].upper(),
                words=one.words[1:],
                shown=_shown(one.value),
                why=one.why,
            ),
            one.place,
        )
        for one in aside[:MOST_TOLD]
    ]
    if len(aside) > MOST_TOLD:
        more = len(aside) - MOST_TOLD
        told.append(
            Finding("file.repaired", say("{more} more things could not be read and were set aside.", more=more), "file")
        )
    return tuple(told)


def _shown(value: Any) -> str:
    text = " ".join(str(value).split())
    return f"“{text}”" if isinstance(value, str | int | float) and len(text) <= 40 else "this"


def _names_of(raw: dict[str, Any]) -> dict[str, Any]:
    """What the places are called by: names, dates and kinds, as they were before anything was mended."""

    def items(holder: Any, key: str) -> list[Any]:
        found = holder.get(key) if isinstance(holder, dict) else None
        return found[:10_000] if isinstance(found, list) else []

    def only(holder: Any, key: str) -> dict[str, Any]:
        return {key: holder[key]} if isinstance(holder, dict) and key in holder else {}

    return {
        "people": [
            only(p, "name") | {"sets": [only(one, "date") for one in items(p, "sets")]} for p in items(raw, "people")
        ],
        "cloths": [only(cloth, "name") for cloth in items(raw, "cloths")],
        "recipe": {
            "steps": [only(step, "kind") for step in items(raw.get("recipe"), "steps")],
            "sources": [
                {"pieces": [only(piece, "id") for piece in items(source, "pieces")]}
                for source in items(raw.get("recipe"), "sources")
            ],
        },
    }


# --- the whole ------------------------------------------------------------------------------------


def _whole(raw: dict[str, Any], repair: _Repair) -> dict[str, Any]:
    whole: dict[str, Any] = {"schema_version": SCHEMA}
    for key in sorted(raw.keys() - Document.model_fields.keys()):
        repair.put(key, "no such part", raw[key])
    wearer, title = _text(raw, "wearer", 100_000, repair), _text(raw, "title", 120, repair)
    whole["title"] = title or "Unnamed"
    if "notes" in raw:
        whole["notes"] = _text(raw, "notes", 100_000, repair)
    whole["people"], whole["wearer"] = _people(raw.get("people", []), wearer, repair)
    cloths = _each(raw.get("cloths", []), "cloths", Cloth, 500, repair)
    whole["cloths"] = _with_own_names(cloths, "cloths", repair) or [{"name": "Cloth", "width": 1400.0}]
    whole["roles"] = _roles(raw.get("roles", {}), [cloth["name"] for cloth in whole["cloths"]], repair)
    whole["recipe"] = _recipe(raw.get("recipe", {}), repair)
    if "finishing" in raw:
        whole["finishing"] = _part(raw["finishing"], "finishing", Finishing, repair) or {}
    if "grading" in raw:
        whole["grading"] = _grading(raw["grading"], repair)
    for key, kind in (("lays", LayChoices), ("table", Placement), ("cut", CutRecord)):
        whole[key] = _by_name(raw.get(key, {}), key, kind, repair)
    for key, one, most in (("accepted", Accepted, 5000), ("log", LogEntry, 10_000)):
        whole[key] = _each(raw.get(key, []), key, one, most, repair)
    return whole | _plain_parts(raw, repair)


def _only(*names: str) -> type[BaseModel]:
    """A model of some of the document's parts."""
    return create_model("Parts", __base__=Frozen, **{n: (Document.model_fields[n].annotation, {}) for n in names})  # type: ignore[call-overload, no-any-return]


_Plain, _Names = _only("photographs", "made"), _only("lays", "table", "cut", "roles")


def _plain_parts(raw: dict[str, Any], repair: _Repair) -> dict[str, Any]:
    there: dict[str, Any] = {}
    for key in ("photographs", "made"):
        if key in raw:
            whole = list(_dict(raw[key], key, repair).items())
            there[key] = dict(whole[:MOST_NAMED])
            if len(whole) > MOST_NAMED:
                repair.put(
                    key,
                    say("more than {MOST_NAMED}; the others were set aside", MOST_NAMED=f"{MOST_NAMED:,}"),
                    dict(whole[MOST_NAMED:]),
                )
    return _part(there, "", _Plain, repair) or {}


def _text(raw: dict[str, Any], key: str, most: int, repair: _Repair) -> str:
    value = raw.get(key, "")
    if not isinstance(value, str):
        repair.put(key, "expected words", value)
        return ""
    if len(value) > most:
        repair.put(key, say("longer than {most} letters", most=most), value)
    return value[:most]


def _people(raw: Any, wearer: str, repair: _Repair) -> tuple[list[Any], str]:
    """The people, each with a name of their own, and the wearer, who is among them."""
    people: list[dict[str, Any]] = []
    for index, one in enumerate(_list(raw, "people", MOST_PEOPLE - 1, repair)):
        place = f"people.{index}"
        if isinstance(one, dict) and isinstance(one.get("name"), str) and len(one["name"]) > 80:
            repair.put(f"{place}.name", "longer than 80 letters; it was cut", one["name"])
            one = {**one, "name": one["name"][:80]}
        sets = one.pop("sets", []) if isinstance(one, dict) else []
        person = _part(one, place, Person, repair)
        if person is None:
            continue
        person["sets"] = _each(sets, f"{place}.sets", MeasureSet, 1000, repair)
        people.append(person)
    people = _with_own_names(people, "people", repair)
    wearer = wearer[:80] or (people[0]["name"] if people else "Unnamed")
    if wearer not in [person["name"] for person in people]:
        repair.put(
            "wearer", say("“{wearer}” is not among the people; nothing is known of them here", wearer=wearer), wearer
        )
        people.append({"name": wearer})
    return people, wearer


def _with_own_names(parts: list[dict[str, Any]], key: str, repair: _Repair) -> list[dict[str, Any]]:
    """Each part under a name of its own; of two with one name the second gets a number."""
    taken: set[str] = set()
    numbers: dict[str, int] = {}
    for index, part in enumerate(parts):
        name = part["name"]
        while part["name"] in taken:
            numbers[name] = numbers.get(name, 1) + 1
            part["name"] = f"{name[:70]} {numbers[name]}"
        if part["name"] != name:
            repair.put(
                f"{key}.{index}.name",
                say("there are two called {name}; this one is {name_2} now", name=name, name_2=part["name"]),
                name,
            )
        taken.add(part["name"])
    return parts


def _roles(raw: Any, cloths: list[str], repair: _Repair) -> dict[str, str]:
    roles: dict[str, str] = {}
    for role, name in _dict(raw, "roles", repair).items():
        if name in cloths and _key_fits("roles", role, name):
            roles[role] = name
        else:
            repair.put(f"roles.{role}", "there is no such cloth", name)
    return {MAIN: cloths[0], **roles}


def _grading(raw: Any, repair: _Repair) -> dict[str, Any]:
    """What was chosen about sizes, and every rule that can be read."""
    grading = dict(_dict(raw, "grading", repair))
    rules = grading.pop("rules", [])
    kept = _part(grading, "grading", Grading, repair) or {}
    return {**kept, "rules": _each(rules, "grading.rules", GradeRule, MOST_RULES, repair)}


def _recipe(raw: Any, repair: _Repair) -> dict[str, Any]:
    recipe = _dict(raw, "recipe", repair)
    for key in sorted(recipe.keys() - {"sources", "steps", "next_id"}):
        repair.put(f"recipe.{key}", "no such part", recipe[key])
    taken: set[str] = set()
    sources = _each(recipe.get("sources", []), "recipe.sources", TypeAdapter(Source), MOST_SOURCES, repair)
    steps = _each(recipe.get("steps", []), "recipe.steps", StepEntry, MOST_STEPS, repair)
    numbers = [int(e["id"][1:]) for e in (*sources, *steps) if e.get("id")]
    numbers += [number for one in sources if one.get("kind") == "stored" for number in numbers_in(json.dumps(one))]
    next_id = recipe.get("next_id", 1)
    if not isinstance(next_id, int) or isinstance(next_id, bool) or not 1 <= next_id < 1_000_000_000:
        repair.put("recipe.next_id", "expected a whole number from 1", next_id)
        next_id = 1
    next_id = max([next_id, *(number + 1 for number in numbers if number < 999_000_000)])
    for letter, entries, key in (("b", sources, "sources"), ("s", steps, "steps")):
        for index, entry in enumerate(entries):
            old = entry.get("id", "")
            if not old or old in taken or int(old[1:]) >= next_id:
                entry = entries[index] = {**entry, "id": f"{letter}{next_id}"}
                next_id += 1
                repair.put(f"recipe.{key}.{index}.id", say("not an id of its own; it is {id} now", id=entry["id"]), old)
            taken.add(entry["id"])
    return {"sources": sources, "steps": steps, "next_id": next_id}


# --- parts ----------------------------------------------------------------------------------------


def _list(raw: Any, place: str, most: int, repair: _Repair) -> list[Any]:
    if not isinstance(raw, list):
        repair.put(place, "expected a list", raw)
        return []
    if len(raw) > most:
        repair.put(place, say("more than {most}; the ones after that were set aside", most=f"{most:,}"), raw[most:])
    return raw[:most]


def _dict(raw: Any, place: str, repair: _Repair) -> dict[str, Any]:
    if not isinstance(raw, dict):
        repair.put(place, "expected an object", raw)
        return {}
    return raw


def _each(raw: Any, place: str, kind: type[BaseModel] | TypeAdapter[Any], most: int, repair: _Repair) -> list[Any]:
    """Every item of a list that can be kept, mended one by one."""
    found = (_part(one, f"{place}.{i}", kind, repair) for i, one in enumerate(_list(raw, place, most, repair)))
    return [one for one in found if one is not None]


def _by_name(raw: Any, place: str, kind: type[BaseModel], repair: _Repair) -> dict[str, Any]:
    found: dict[str, Any] = {}
    whole = list(_dict(raw, place, repair).items())
    if len(whole) > MOST_NAMED:
        repair.put(
            place,
            say("more than {MOST_NAMED}; the others were set aside", MOST_NAMED=f"{MOST_NAMED:,}"),
            dict(whole[MOST_NAMED:]),
        )
    for name, one in whole[:MOST_NAMED]:
        part = _part(one, f"{place}.{name[:80]}", kind, repair)
        if part is None:
            continue
        if _key_fits(place, name, part):
            found[name] = part
        else:
            repair.put(f"{place}.{name[:80]}", "this names nothing", one)
    return found


def _key_fits(place: str, name: str, part: Any) -> bool:
    try:
        _Names.model_validate({place: {name: part}})
    except ValidationError:
        return False
    return True


def _part(raw: Any, place: str, kind: type[BaseModel] | TypeAdapter[Any], repair: _Repair) -> Any:
    """One part with its faults set aside, or None when nothing of it can be kept."""
    validate = kind.validate_python if isinstance(kind, TypeAdapter) else kind.model_validate
    for _ in range(MOST_PASSES):
        try:
            validate(raw)
            return raw
        except ValidationError as error:
            faults = error.errors(include_url=False, include_input=False)
        except RecursionError:
            faults = []
        if not isinstance(raw, dict) or not faults or len(repair.aside) > MOST_ASIDE:
            break
        gone: set[tuple[Any, ...]] = set()
        for fault in sorted(faults, key=lambda f: [str(part).rjust(12, "0") for part in f["loc"]], reverse=True):
            location = fault["loc"]
            if any(location[:length] in gone for length in range(1, len(location) + 1)):
                continue  # in what was set aside already
            _mend(raw, list(location), fault, place, repair)
            gone.add(location[:-1] if fault["type"] == "missing" and location[-1] not in _FALLBACK else location)
    repair.put(place, "hardly anything of it can be read", raw)
    return None


def _trail(holder: Any, location: list[Any]) -> list[tuple[Any, Any]]:
    """The containers and keys that a fault's location goes through.

    A location also has words that are no keys (which kind of several was tried); of all readings the
    one that goes deepest is meant.
    """
    if not location or not isinstance(holder, dict | list):
        return []
    part, rest = location[0], location[1:]
    skipped = _trail(holder, rest)
    there = part in holder if isinstance(holder, dict) else isinstance(part, int) and 0 <= part < len(holder)
    if not there:
        return skipped
    taken = [(holder, part), *_trail(holder[part], rest)]
    return taken if len(taken) >= len(skipped) else skipped


def _mend(raw: dict[str, Any], location: list[Any], fault: Any, place: str, repair: _Repair) -> None:
    """Set aside the one thing that a fault is about."""
    trail = _trail(raw, location)
    holder = trail[-1][0][trail[-1][1]] if trail else raw
    where = ".".join([place, *(str(key) for _, key in trail)]).strip(".")
    why = expected(fault["type"], fault.get("ctx", {}), str(fault["msg"]))
    if fault["type"] == "missing":
        name = str(location[-1])
        if name in _FALLBACK and isinstance(holder, dict):
            holder[name] = _FALLBACK[name]
            return
        why = f"it has no {name}"
    if not trail:
        repair.put(where, why, dict(raw))
        raw.clear()
        return
    container, key = trail[-1]
    value = container[key]
    most = fault.get("ctx", {}).get("max_length")
    if fault["type"] in ("too_long", "string_too_long") and isinstance(most, int) and isinstance(value, list | str):
        repair.put(
            where,
            say("longer than {most}; what was over was set aside", most=f"{most:,}"),
            value if isinstance(value, str) else value[most:],
        )
        container[key] = value[:most]
        return
    repair.put(where, why, value)
    del container[key]
