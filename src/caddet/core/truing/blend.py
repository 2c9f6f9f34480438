"""Blending: a line that crosses a seam, dart or fold is drawn so that it runs on; the seam keeps its length.

Only the directions in which the crossing edges leave are changed, half by each; their ends stay where they are. On
paper: the pieces laid together as sewn, the line drawn anew with the curve, the pieces taken apart again.
"""

from __future__ import annotations

import cmath
from collections.abc import Iterable

from caddet.core.geometry.curves import without_arcs
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Segment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.surgery import sound
from caddet.core.truing.joins import Join, LineEnd, joins

REACH = 80.0  # mm from the seam within which the line is drawn anew


def blended(pattern: Pattern, join: Join) -> Pattern:
    """The pattern with the line of a join running on. Raises :class:`Refused` when a piece can't be drawn so."""
    # of a seam in the centre both sides are one edge: it is turned once
    for end in {(end.piece, end.edge, end.at_end): end for end in join.ends}.values():
        pattern = _turned(pattern, end)
    return pattern


def all_blended(pattern: Pattern, wanted: Iterable[str] | None = None) -> Pattern:
    """The pattern with every line that is off running on; with ``wanted`` only those of these names.

    Raises :class:`Refused` when a piece can't be drawn so.
    """
    names = None if wanted is None else frozenset(wanted)
    for join in joins(pattern):
        if join.angle > join.limit and (names is None or join.name in names):
            now = next((one for one in joins(pattern) if one.name == join.name and one.label == join.label), None)
            if now is not None and now.angle > now.limit:
                pattern = blended(pattern, now)
    return pattern


def _turned(pattern: Pattern, end: LineEnd) -> Pattern:
    piece = pattern.piece(end.piece)
    edges = list(piece.edges)
    edge = edges[end.edge]
    path = edge.path.reversed() if end.at_end else edge.path
    path = _leaves(path, end.turn)
    edges[end.edge] = edge.with_path(path.reversed() if end.at_end else path)
    return pattern.with_piece(sound(piece.with_edges(edges)))


def _leaves(path: Path, turn: float) -> Path:
    """A path whose start is turned by so many radians, from there on drawn into what it was."""
    first = path.segments[0]
    rest: tuple[Segment, ...] = path.segments[1:]
    if isinstance(first, Arc):
        head, *more = without_arcs(first)
        first, rest = head, (*more, *rest)
    if first.length > REACH * 1.5:
        share = first.at_length(REACH)
        first, behind = first.split(share)
        rest = (behind, *rest)
    if isinstance(first, Line):
        third = (first.end - first.start) / 3
        first = Cubic(first.start, first.start + third, first.end - third, first.end)
    assert isinstance(first, Cubic)
    out = first.start + (first.out - first.start) * cmath.rect(1.0, turn)
    return Path((Cubic(first.start, out, first.into, first.end), *rest))
