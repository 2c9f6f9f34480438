"""The nest: a pattern in every size, laid on each other, with what each size says of itself."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.segments import Motion, Point
from caddet.core.grading.points import corners
from caddet.core.pattern.pattern import Pattern
from caddet.core.sentences import Length, say
from caddet.core.truing.joins import joins
from caddet.core.truing.walk import walk


@dataclass(frozen=True, slots=True)
class GradedSize:
    """One size of a nest: its name, its pattern (None when there is none), whether it is the base, what is to be said."""

    name: str
    pattern: Pattern | None
    base: bool = False
    findings: tuple[Finding, ...] = ()
    person: Person | None = field(default=None, compare=False)

    @property
    def fails(self) -> int:
        """How many of its findings stop it."""
        return sum(one.severity == "stops" for one in self.findings)


@dataclass(frozen=True, slots=True)
class Spread:
    """How far a cardinal point moves from one size to the next, in mm."""

    piece: str
    point: str
    moves: tuple[Point | None, ...]  # None where one of the two sizes has no such point


@dataclass(frozen=True, slots=True)
class Nest:
    """The sizes in order."""

    sizes: tuple[GradedSize, ...]

    @property
    def base(self) -> GradedSize:
        """The size that the pattern is drafted in, or the first."""
        return next((one for one in self.sizes if one.base), self.sizes[0])

    def pieces(self) -> list[str]:
        """The names of the pieces of any size, those of the base first."""
        order = (self.base, *self.sizes)
        return list(dict.fromkeys(p.name for one in order if one.pattern is not None for p in one.pattern.pieces))

    def points(self, piece: str) -> list[str]:
        """The cardinal points of a piece in any size, in the order of its outline."""
        found: dict[str, None] = {}
        for one in (self.base, *self.sizes):
            if one.pattern is not None and one.pattern.has(piece):
                found |= dict.fromkeys(c.name for c in corners(one.pattern.piece(piece)))
        return list(found)

    def aligned(self, piece: str, point: str = "") -> dict[str, Motion]:
        """How the piece of each size is moved so that all meet at a cardinal point (their drafted places without one)."""
        target = _place(self.base, piece, point)
        found = {}
        for one in self.sizes:
            at = _place(one, piece, point)
            if one.pattern is not None and one.pattern.has(piece):
                found[one.name] = Motion(shift=target - at) if at is not None and target is not None else Motion()
        return found

    def spreads(self, piece: str, point: str = "") -> tuple[Spread, ...]:
        """The table of spreads of a piece, measured on the finished outlines, aligned at a point."""
        placed = self.aligned(piece, point)
        rows = []
        for name in self.points(piece):
            at = [_place(one, piece, name) for one in self.sizes]
            there = [
                placed[one.name](where) if where is not None else None
                for one, where in zip(self.sizes, at, strict=True)
            ]
            moves = tuple(b - a if a is not None and b is not None else None for a, b in pairwise(there))
            rows.append(Spread(piece, name, moves))
        return tuple(rows)


def _place(size: GradedSize, piece: str, point: str) -> Point | None:
    if size.pattern is None or not size.pattern.has(piece) or not point:
        return None
    return next((c.at for c in corners(size.pattern.piece(piece)) if c.name == point), None)


def walked(pattern: Pattern) -> Iterator[Finding]:
    """What is wrong where the pieces of a size meet: every seam walked, every line across one looked at."""
    for seam in pattern.seams_of_both_sides():
        for layer in range(1, len(seam.layers)):
            try:
                found = walk(pattern, seam, layer)
            except CaddetError as error:
                yield Finding(
                    "seam", say("{seam} can't be walked: {error}.", seam=seam.label, error=error), seam.name, "look"
                )
                continue
            if not found.holds:
                word = "longer" if found.off > 0 else "shorter"
                by = Length(abs(found.off))
                sentence = say("{seam}: one side is {by} {word} than it should be.", seam=seam.label, by=by, word=word)
                yield Finding("seam", sentence, seam.name, "stops")
    for join in joins(pattern):
        if join.angle > join.limit:
            sentence = say("{label}: off by {angle}°.", label=join.label, angle=f"{join.angle:.0f}")
            yield Finding("join", sentence, join.place, "look")


@dataclass(frozen=True, slots=True)
class Apart:
    """Where two outlines of a piece lie farthest from each other: how far (mm), and the two places."""

    piece: str
    label: str
    by: float
    a: Point
    b: Point


def apart(one: Pattern, other: Pattern) -> tuple[Apart, ...]:
    """The largest difference between the outlines of each piece of two patterns, the largest first.

    Pieces are laid on each other at their frames; places are taken every 5 mm along one and nearest on the other.
    """
    found = []
    for piece in one.pieces:
        if not other.has(piece.name):
            continue
        path = other.piece(piece.name).outline()
        mine = piece.outline()
        count = max(int(mine.length / 5), 8)
        best = (-1.0, 0j, 0j)
        for step in range(count):
            at = mine.point_at(mine.length * step / count)
            off, along = path.nearest(at)
            if off > best[0]:
                best = off, at, path.point_at(along)
        found.append(Apart(piece.name, str(piece.label), *best))
    return tuple(sorted(found, key=lambda item: -item.by))


def nearer(wanted: Pattern, sizes: Sequence[GradedSize]) -> tuple[GradedSize, tuple[Apart, ...]] | None:
    """Of the graded sizes the one that lies nearest to a pattern (a person's redraft), with where they differ most.

    Nearest by the mean square of the largest differences of all pieces; None when there is nothing to compare.
    """
    best: tuple[float, GradedSize, tuple[Apart, ...]] | None = None
    for size in sizes:
        if size.pattern is None:
            continue
        found = apart(wanted, size.pattern)
        if not found:
            continue
        mean = math.sqrt(sum(one.by**2 for one in found) / len(found))
        if best is None or mean < best[0]:
            best = mean, size, found
    return (best[1], best[2]) if best is not None else None
