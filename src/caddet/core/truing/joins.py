"""Joins: a line that crosses a seam, dart or fold must run on smoothly there.

Limit 3°, common practice: "the line that crosses it must be smooth unless it is meant as a corner".
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.geometry.segments import Point
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam

SMOOTH = 3.0  # degrees


@dataclass(frozen=True, slots=True)
class Join:
    """A line across a seam, dart or fold: by how many degrees it turns there."""

    name: str
    label: str
    angle: float
    place: str
    limit: float = SMOOTH


def joins(pattern: Pattern) -> list[Join]:
    """Every join there is: edges across closed darts, across the fold, across plain seams of two edges."""
    found: list[Join] = []
    for piece in pattern.pieces:
        found += _across_darts(piece)
        found += _across_fold(piece)
    for seam in pattern.seams:
        if seam.kind == "plain" and not seam.corners and len(seam.a) == len(seam.b) == 1:
            found += _across_seam(pattern, seam)
    return found


def _turn(before: Point, after: Point) -> float:
    return abs(math.degrees(cmath.phase(after / before)))


def _across_darts(piece: Piece) -> list[Join]:
    found = []
    count = len(piece.edges)
    for dart in piece.darts:
        first, a, apex, b = piece.legs(dart.name)
        before, after = piece.edges[first - 1], piece.edges[(first + 2) % count]
        if before.name != after.name:
            continue
        close = (a - apex) / (b - apex)
        angle = _turn(before.path.end_direction, after.path.start_direction * close / abs(close))
        name = f"{piece.name}.{dart.name}"
        label = f"{piece.label} {before.name.replace('_', ' ')} runs on over the {dart.label}"
        found.append(Join(name, label, angle, f"{piece.name}.{before.name}"))
    return found


def _across_fold(piece: Piece) -> list[Join]:
    """The edges that leave the fold do so at a right angle."""
    found = []
    count = len(piece.edges)
    for index, edge in enumerate(piece.edges):
        if edge.role != "fold":
            continue
        for other, direction, end in (
            (piece.edges[index - 1], edge.path.start_direction, piece.edges[index - 1].path.end_direction),
            (
                piece.edges[(index + 1) % count],
                edge.path.end_direction,
                piece.edges[(index + 1) % count].path.start_direction,
            ),
        ):
            if other.role == "fold" or other.dart:
                continue
            angle = abs(90 - _turn(direction, end)) * 2
            label = f"{piece.label} {other.name.replace('_', ' ')} runs on over the fold"
            found.append(Join(f"{piece.name}.{other.name}.fold", label, angle, f"{piece.name}.{other.name}"))
    return found


def _neighbours(piece: Piece, run: str, backwards: bool) -> tuple[tuple[str, Point] | None, tuple[str, Point] | None]:
    """What leaves the two ends of a run: run name and direction away from the seam, relative to it."""
    edges = piece.run(run)
    first, last = piece.index_of(edges[0]), piece.index_of(edges[-1])
    before, after = piece.edges[first - 1], piece.edges[(last + 1) % len(piece.edges)]
    start = (before.name, -before.path.end_direction / edges[0].path.start_direction)
    end = (after.name, after.path.start_direction / edges[-1].path.end_direction)
    ends = [None if e.dart else (n, d) for e, (n, d) in ((before, start), (after, end))]
    if backwards:  # measured against the way in which the seam is walked
        turned = [None if one is None else (one[0], -one[1]) for one in ends]
        return turned[1], turned[0]
    return ends[0], ends[1]


def _across_seam(pattern: Pattern, seam: Seam) -> list[Join]:
    a, b = seam.a[0], seam.b[0]
    pieces = pattern.piece(a.piece), pattern.piece(b.piece)
    if (
        a.run not in pieces[0].runs()
        or b.run not in pieces[1].runs()
        or (a.piece == b.piece and a.run == b.run and not b.mirrored)
    ):
        return []
    found = []
    ends_a, ends_b = _neighbours(pieces[0], a.run, a.backwards), _neighbours(pieces[1], b.run, b.backwards)
    for one, other in zip(ends_a, ends_b, strict=True):
        if one is None or other is None or one[0] != other[0] or pieces[0].run(one[0])[0].role in ("opening", "slit"):
            continue
        # both measured from the seam; sewn together the two directions must make 180°
        turn = abs(math.degrees(cmath.phase(one[1]))) + abs(math.degrees(cmath.phase(other[1])))
        label = f"{one[0].replace('_', ' ').capitalize()} runs on over the {seam.label.lower()}"
        found.append(Join(f"{seam.name}.{one[0]}", label, abs(180 - turn), f"{a.piece}.{one[0]}"))
    return found
