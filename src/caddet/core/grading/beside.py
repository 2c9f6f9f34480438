"""One design on two people: what is another on the second, and what has to be decided."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from caddet.core.grading.nest import GradedSize
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import evaluate
from caddet.core.sentences import Length, Sentence, say

MUCH = 2.0  # mm below which a length is called the same


@dataclass(frozen=True, slots=True)
class Change:
    """One thing that is another: ``decide`` wants a decision, ``other`` is good to know, ``length`` is a measure."""

    kind: Literal["decide", "other", "length"]
    sentence: Sentence | str
    place: str


def changes(document: Document, first: GradedSize, second: GradedSize) -> tuple[Change, ...]:
    """What the second has otherwise than the first, decisions first."""
    found = [*_steps(document, first, second)]
    if first.pattern is not None and second.pattern is not None:
        found += [*_pieces(first.pattern, second.pattern)]
    elif second.pattern is None:
        found += [Change("decide", one.sentence, one.place) for one in second.findings if one.severity == "stops"]
    mine = {str(one.sentence) for one in first.findings}
    found += [
        Change("decide" if one.severity == "stops" else "other", one.sentence, one.place)
        for one in second.findings
        if str(one.sentence) not in mine and one.code != "step.stuck" and second.pattern is not None
    ]
    order = {"decide": 0, "other": 1, "length": 2}
    return tuple(sorted(found, key=lambda one: order[one.kind]))


def _steps(document: Document, first: GradedSize, second: GradedSize) -> Iterator[Change]:
    """Steps that can be done on the one and not on the other."""
    if first.person is None or second.person is None:
        return
    here, there = (evaluate(document, one.person).outcomes for one in (first, second))
    for one, other in zip(here, there, strict=False):
        if other.stuck and not one.stuck:
            yield Change(
                "decide",
                say("{stuck} On {name} this step can't be done.", stuck=other.stuck, name=second.name),
                f"recipe[{other.entry.id}]",
            )
        elif one.stuck and not other.stuck:
            yield Change(
                "other",
                say("A step that is stuck on {first} is done on {second}.", first=first.name, second=second.name),
                f"recipe[{one.entry.id}]",
            )


def _pieces(first: Pattern, second: Pattern) -> Iterator[Change]:
    """Pieces, darts and lengths that are another."""
    for piece in first.pieces:
        if not second.has(piece.name):
            yield Change("decide", say("{piece} is not there.", piece=piece.label), piece.name)
            continue
        other = second.piece(piece.name)
        mine, theirs = {d.name: d for d in piece.darts}, {d.name: d for d in other.darts}
        for name, dart in mine.items():
            if name not in theirs:
                yield Change(
                    "decide",
                    say(
                        "{piece}: the {dart} has vanished; what stood on it has to go elsewhere.",
                        piece=piece.label,
                        dart=dart.label,
                    ),
                    piece.name,
                )
        for name, dart in theirs.items():
            if name not in mine:
                yield Change(
                    "other", say("{piece}: there is a {dart} more.", piece=piece.label, dart=dart.label), piece.name
                )
        for key in piece.runs():
            if not other.has_run(key):
                yield Change(
                    "other",
                    say("{piece}: the edge {edge} is not there.", piece=piece.label, edge=_said(key)),
                    piece.name,
                )
                continue
            by = other.run_length(key) - piece.run_length(key)
            if abs(by) >= MUCH:
                yield Change(
                    "length",
                    say("{piece}, {edge}: {by}", piece=piece.label, edge=_said(key), by=Length(by, sign=True)),
                    key,
                )
    for piece in second.pieces:
        if not first.has(piece.name):
            yield Change("other", say("{piece} comes in.", piece=piece.label), piece.name)


def _said(key: str) -> str:
    return own_name(key).replace("_", " ")
