"""What two versions of a project differ in, in words a maker knows."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, said_measure
from caddet.core.recipe.document import Document, Recipe
from caddet.core.sentences import say

MOST = 12


def differences(ours: Document, theirs: Document) -> tuple[str, ...]:
    """A line for each thing that differs, at most ``MOST``; ours first, then theirs."""
    lines = [
        *_words("Title", ours.title, theirs.title),
        *_words("Sewn for", ours.wearer, theirs.wearer),
        *_people(ours, theirs),
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
    return [say("{label}: {a} here, {b} there", label=label, a=a, b=b)] if a != b else []


def _named(what: str, a: Mapping[str, Any], b: Mapping[str, Any]) -> Iterable[str]:
    yield from (say("The {what} {name} is only here", what=what, name=name) for name in a if name not in b)
    yield from (say("The {what} {name} is only there", what=what, name=name) for name in b if name not in a)
    yield from (
        say("The {what} {name} differs", what=what, name=name) for name in a if name in b and a[name] != b[name]
    )


def _people(ours: Document, theirs: Document) -> Iterable[str]:
    here, there = ({p.name: p for p in d.people} for d in (ours, theirs))
    yield from (say("{name} is only here", name=name) for name in here if name not in there)
    yield from (say("{name} is only there", name=name) for name in there if name not in here)
    for name in here:
        if name in there and here[name] != there[name]:
            yield _person(here[name], there[name])


def _person(a: Person, b: Person) -> str:
    for code in MEASURES:
        one, other = a.measures.get(code), b.measures.get(code)
        if one != other:
            shown = [said_measure(code, v) if v is not None else "not measured" for v in (one, other)]
            return say(
                "{name}, {label}: {shown} here, {shown_2} there",
                name=a.name,
                label=MEASURES[code].label.lower(),
                shown=shown[0],
                shown_2=shown[1],
            )
    return say("What is kept of {name} differs", name=a.name)


def _recipe(a: Recipe, b: Recipe) -> Iterable[str]:
    if a.block != b.block:
        yield say("The block: {what} here, {what_2} there", what=a.block or "none", what_2=b.block or "none")
    elif a.sources != b.sources:
        yield "The choices, the ease or the formulas of the block differ"
    here, there = ({step.id: step for step in recipe.steps} for recipe in (a, b))
    only_here, only_there = len(here.keys() - there.keys()), len(there.keys() - here.keys())
    if only_here:
        yield say("{only_here} step{words} only here", only_here=only_here, words="" if only_here == 1 else "s")
    if only_there:
        yield say("{only_there} step{words} only there", only_there=only_there, words="" if only_there == 1 else "s")
    both = [key for key in here if key in there]
    if any(here[key] != there[key] for key in both):
        yield "A step has other values"
    if both != [key for key in there if key in here]:
        yield "The steps stand in another order"
