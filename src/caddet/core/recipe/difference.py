"""What two versions of a project differ in, in words a maker knows."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, show_measure
from caddet.core.lengths import Unit
from caddet.core.recipe.document import Document, Recipe

MOST = 12


def differences(ours: Document, theirs: Document, unit: Unit = "cm") -> tuple[str, ...]:
    """A line for each thing that differs, at most ``MOST``; ours first, then theirs."""
    lines = [
        *_words("Title", ours.title, theirs.title),
        *_words("Sewn for", ours.wearer, theirs.wearer),
        *_people(ours, theirs, unit),
        *_named("cloth", {c.name: c for c in ours.cloths}, {c.name: c for c in theirs.cloths}),
        *_words("Main cloth", ours.cloth, theirs.cloth),
        *_recipe(ours.recipe, theirs.recipe),
        *(f"{label} differ" for label, part in _PARTS if part(ours) != part(theirs)),
    ]
    if len(lines) > MOST:
        return (*lines[: MOST - 1], f"and {len(lines) - MOST + 1} more")
    return tuple(lines)


_PARTS: tuple[tuple[str, Callable[[Document], Any]], ...] = (
    ("The allowances", lambda d: d.finishing),
    ("The lay choices", lambda d: d.lays),
    ("The places on the table", lambda d: d.table),
    ("The photographs", lambda d: d.photographs),
    ("The pieces cut and edges made", lambda d: (d.cut, d.made)),
    ("The accepted findings", lambda d: d.accepted),
    ("The log and the notes", lambda d: (d.log, d.notes)),
)


def _words(label: str, a: str, b: str) -> list[str]:
    return [f"{label}: {a} here, {b} there"] if a != b else []


def _named(what: str, a: Mapping[str, Any], b: Mapping[str, Any]) -> Iterable[str]:
    yield from (f"The {what} {name} is only here" for name in a if name not in b)
    yield from (f"The {what} {name} is only there" for name in b if name not in a)
    yield from (f"The {what} {name} differs" for name in a if name in b and a[name] != b[name])


def _people(ours: Document, theirs: Document, unit: Unit) -> Iterable[str]:
    here, there = ({p.name: p for p in d.people} for d in (ours, theirs))
    yield from (f"{name} is only here" for name in here if name not in there)
    yield from (f"{name} is only there" for name in there if name not in here)
    for name in here:
        if name in there and here[name] != there[name]:
            yield _person(here[name], there[name], unit)


def _person(a: Person, b: Person, unit: Unit) -> str:
    for code in MEASURES:
        one, other = a.measures.get(code), b.measures.get(code)
        if one != other:
            shown = [
                show_measure(code, v, unit, with_unit=True) if v is not None else "not measured" for v in (one, other)
            ]
            return f"{a.name}, {MEASURES[code].label.lower()}: {shown[0]} here, {shown[1]} there"
    return f"What is kept of {a.name} differs"


def _recipe(a: Recipe, b: Recipe) -> Iterable[str]:
    if a.block != b.block:
        yield f"The block: {a.block or 'none'} here, {b.block or 'none'} there"
    elif a.sources != b.sources:
        yield "The choices, the ease or the formulas of the block differ"
    here, there = ({step.id: step for step in recipe.steps} for recipe in (a, b))
    only_here, only_there = len(here.keys() - there.keys()), len(there.keys() - here.keys())
    if only_here:
        yield f"{only_here} step{'' if only_here == 1 else 's'} only here"
    if only_there:
        yield f"{only_there} step{'' if only_there == 1 else 's'} only there"
    both = [key for key in here if key in there]
    if any(here[key] != there[key] for key in both):
        yield "A step has other values"
    if both != [key for key in there if key in here]:
        yield "The steps stand in another order"
