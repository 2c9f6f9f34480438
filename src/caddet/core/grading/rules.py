"""Grading by rules: how far each cardinal point moves from size to size, typed, dragged, read from CSV, or derived.

A rule holds from one size to another, both included; where ranges break, each has its own. Bought and traced pieces
are graded so, as they have no formulas. Common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace

from caddet.core.errors import CaddetError, Finding, InputError, some
from caddet.core.geometry.offset import left_of
from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.grading.moving import moved_at_corners
from caddet.core.grading.points import corners
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Join
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.grading import MOST_SIZES, GradeRule
from caddet.core.sentences import Length, say
from caddet.core.truing.blend import all_blended
from caddet.core.truing.joins import joins

SAME = 0.05  # mm below which a point does not move
LESS = 0.5  # mm from which a larger size is called smaller at a point
GATHERS = 0.2  # change of a ratio up to which gathers are made as they come


@dataclass(frozen=True, slots=True)
class RuleTable:
    """Sizes in order, smallest first, the one the pattern is drafted in, and the rules between them."""

    sizes: tuple[str, ...]
    base: str
    rules: tuple[GradeRule, ...] = ()

    def __post_init__(self) -> None:
        """Raises :class:`InputError` for no sizes, too many, two of one name, or a base that is none of them."""
        if not self.sizes or len(self.sizes) > MOST_SIZES:
            raise InputError(say("expected 1 to {most} sizes, found {count}", most=MOST_SIZES, count=len(self.sizes)))
        if len(set(self.sizes)) != len(self.sizes):
            raise InputError(say("two sizes have one name: {names}", names=some(self.sizes)))
        self.number(self.base)

    def number(self, size: str) -> int:
        """Where a size stands in the order. Raises :class:`InputError` naming the sizes there are."""
        if size not in self.sizes:
            raise InputError(
                say("there is no size “{size}” here; there are {names}", size=size[:40], names=some(self.sizes))
            )
        return self.sizes.index(size)

    def moves(self, size: str) -> dict[str, dict[str, Point]]:
        """How far each point lies in a size from where it lies in the base, in mm, by piece and point."""
        at, base = self.number(size), self.number(self.base)
        found: dict[str, dict[str, Point]] = {}
        for rule in self.rules:
            low, high = self.number(rule.first), self.number(rule.last)
            steps = _between(low, high, base, at) - _between(low, high, at, base)
            of_piece = found.setdefault(rule.piece, {})
            of_piece[rule.point] = of_piece.get(rule.point, 0j) + complex(rule.dx, rule.dy) * steps
        return found

    def checked(self, pattern: Pattern) -> list[Finding]:
        """What is wrong with the rules on a pattern: sizes out of order, unknown points, gaps, what gets smaller.

        Each finding names the rule by its number.
        """
        found: list[Finding] = []
        for number, rule in enumerate(self.rules, 1):
            try:
                _check(self, pattern, rule)
            except CaddetError as error:
                found.append(Finding("grade.rule", say("{error}.", error=error), f"grading.rules[{number}]", "stops"))
        if found:
            return found
        return [*_gaps(self), *_shrinking(self, pattern), *_off_the_fold(self, pattern)]


def _between(low: int, high: int, start: int, end: int) -> int:
    """How many steps from one size up to another lie in a range."""
    return max(min(high, end) - max(low, start), 0)


def _check(table: RuleTable, pattern: Pattern, rule: GradeRule) -> None:
    low, high = table.number(rule.first), table.number(rule.last)
    if high <= low:
        raise InputError(
            say(
                "the range from {first} to {last} is out of order: the sizes are {names}",
                first=rule.first,
                last=rule.last,
                names=some(table.sizes),
            )
        )
    piece = pattern.piece(rule.piece)
    if rule.point not in [one.name for one in corners(piece)]:
        raise InputError(
            say(
                "the {piece} has no point “{name}”; it has {names}",
                piece=piece.label.lower(),
                name=rule.point[:60],
                names=some(one.name for one in corners(piece)),
            )
        )


def _gaps(table: RuleTable) -> list[Finding]:
    """Points whose rules leave a step between two sizes out, or give it twice."""
    found = []
    steps = len(table.sizes) - 1
    covered: dict[tuple[str, str], list[int]] = {}
    for rule in table.rules:
        counts = covered.setdefault((rule.piece, rule.point), [0] * steps)
        for step in range(table.number(rule.first), table.number(rule.last)):
            counts[step] += 1
    for (piece, point), counts in covered.items():
        for step, count in enumerate(counts):
            if count != 1:
                words = "no rule" if not count else "two rules"
                sentence = say(
                    "{piece}, {point}: there is {words} for the step from {a} to {b}.",
                    piece=piece,
                    point=point,
                    words=words,
                    a=table.sizes[step],
                    b=table.sizes[step + 1],
                )
                found.append(Finding("grade.gap", sentence, piece, "look"))
                break
    return found


def _shrinking(table: RuleTable, pattern: Pattern) -> list[Finding]:
    """Points at which a larger size would be smaller: its move goes into the piece on both lines that meet there."""
    found = []
    told: set[tuple[str, str]] = set()
    for rule in table.rules:
        piece = pattern.piece(rule.piece)
        one = next(c for c in corners(piece) if c.name == rule.point)
        if piece.edges[one.edge].dart or piece.edges[one.edge - 1].dart:
            continue
        move = complex(rule.dx, rule.dy)
        ways = (piece.edges[one.edge - 1].path.end_direction, piece.edges[one.edge].path.start_direction)
        outward = [dot(move, left_of(unit(way))) for way in ways]
        if (rule.piece, rule.point) not in told and max(outward) < -LESS:
            told.add((rule.piece, rule.point))
            sentence = say(
                "{piece}, {point}: a larger size is smaller there, by {by} a size.",
                piece=piece.label,
                point=rule.point,
                by=Length(abs(move)),
            )
            found.append(Finding("grade.smaller", sentence, rule.piece, "look"))
    return found


def _off_the_fold(table: RuleTable, pattern: Pattern) -> list[Finding]:
    """Fold lines that the rules would turn off the upright."""
    found = []
    moves = table.moves(table.sizes[-1])
    for piece in pattern.pieces:
        if not piece.fold:
            continue
        index = next(i for i, edge in enumerate(piece.edges) if edge.finish == "fold")
        ends = [c for c in corners(piece) if c.edge in (index, (index + 1) % len(piece.edges))]
        across = {round(moves.get(piece.name, {}).get(c.name, 0j).real, 2) for c in ends}
        if len(across) > 1:
            sentence = say(
                "{piece}: the ends of its fold move apart, so that it is no longer straight up.", piece=piece.label
            )
            found.append(Finding("grade.fold", sentence, piece.name, "look"))
    return found


def graded(pattern: Pattern, table: RuleTable, size: str) -> Pattern:
    """The pattern in a size. What was solved to the body of the base (its fits and girths) is left behind.

    Raises :class:`InputError` for an unknown size and :class:`CaddetError` when a piece would no longer be one.
    """
    moves = table.moves(size)
    return with_moves(pattern, lambda piece: moves.get(piece.name, {}), size)


def with_moves(pattern: Pattern, moves: Callable[[Piece], Mapping[str, Point]], size: str) -> Pattern:
    """The pattern with the corners of each piece moved. Raises :class:`CaddetError` when a piece crosses itself."""
    return with_pieces(pattern, {p.name: moved_at_corners(p, moves(p)) for p in pattern.pieces}, size)


def with_pieces(pattern: Pattern, pieces: Mapping[str, Piece], size: str) -> Pattern:
    """The pattern with graded pieces: gathers as they come, lines that ran on over a seam run on again, fits left behind.

    Raises :class:`CaddetError` when a piece crosses itself.
    """
    for piece in pieces.values():
        if wrong := fault(piece):
            raise CaddetError(say("{piece} in {size}: {wrong}", piece=piece.label, size=size, wrong=wrong))
    moved = replace(
        pattern,
        pieces=tuple(pieces.get(piece.name, piece) for piece in pattern.pieces),
        fits=(),
        promises=(),  # of the base body; that two sides of a seam agree is walked along the seam
        meant=(),
    )
    return _running_on(pattern, _held_as_they_come(pattern, moved))


def _held_as_they_come(before: Pattern, after: Pattern) -> Pattern:
    """Gathered and stretched seams take the ratio that the graded edges have, where it hardly changed."""
    for seam in before.seams:
        if len(seam.layers) != 2 or seam.kind not in ("gathered", "stretched"):
            continue
        with suppress(CaddetError, ZeroDivisionError):
            was, now = (p.length(seam.b) / p.length(seam.a) for p in (before, after))
            if abs(now / was - 1) <= GATHERS:
                after = after.with_seam(replace(seam, joins=(Join(seam.kind, seam.amount * now / was),)))
    return after


def _running_on(before: Pattern, after: Pattern) -> Pattern:
    """Lines that ran on over a seam before are blended again where grading bent them."""
    smooth = {join.name for join in joins(before) if join.angle <= join.limit}
    with suppress(Refused):
        return all_blended(after, smooth)
    return after


@dataclass(frozen=True, slots=True)
class Derived:
    """Rules read off two evaluated sizes, and what could not be compared."""

    rules: tuple[GradeRule, ...]
    findings: tuple[Finding, ...]


def derived(smaller: Pattern, larger: Pattern, first: str, last: str, steps: int = 1) -> Derived:
    """The rules by which one evaluated size becomes another, ``steps`` sizes away, each step alike."""
    rules: list[GradeRule] = []
    findings: list[Finding] = []
    for piece in smaller.pieces:
        other = next((p for p in larger.pieces if p.name == piece.name), None)
        names = [one.name for one in corners(piece)]
        if other is None or names != [one.name for one in corners(other)]:
            sentence = say(
                "{piece} is another in {last} (a dart or a part comes or goes): no rules were read off it.",
                piece=piece.label,
                last=last,
            )
            findings.append(Finding("grade.derived", sentence, piece.name, "look"))
            continue
        for one, two in zip(corners(piece), corners(other), strict=True):
            move = (two.at - one.at) / steps
            dx, dy = round(move.real, 4), round(move.imag, 4)
            rules.append(GradeRule(piece=piece.name, point=one.name, first=first, last=last, dx=dx, dy=dy))
    return Derived(tuple(rules), tuple(findings))


def in_ranges(sizes: Sequence[str], patterns: Sequence[Pattern]) -> Derived:
    """Rules from every evaluated size to the next: a break between each two, joined where the steps are alike."""
    rules: dict[tuple[str, str], list[GradeRule]] = {}
    findings: list[Finding] = []
    for number in range(len(sizes) - 1):
        step = derived(patterns[number], patterns[number + 1], sizes[number], sizes[number + 1])
        findings += step.findings
        for rule in step.rules:
            kept = rules.setdefault((rule.piece, rule.point), [])
            last = kept[-1] if kept else None
            if last is not None and last.last == rule.first and math.hypot(last.dx - rule.dx, last.dy - rule.dy) < SAME:
                kept[-1] = last.model_copy(update={"last": rule.last})
            else:
                kept.append(rule)
    return Derived(tuple(rule for kept in rules.values() for rule in kept), tuple(findings))
