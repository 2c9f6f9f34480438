"""Points and lines as a document keeps them (on edges and in their frames), as points on a piece, and back."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.geometry.offset import left_of
from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.pattern.finding import place_on
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.stuck import Lost, Stuck
from caddet.core.recipe.values import FramePoint, Place
from caddet.core.sentences import say


def chord(piece: Piece, key: str) -> tuple[Point, Point]:
    """The two ends of a run in its maker's direction: its frame. Raises :class:`Stuck` when they fall together."""
    paths = piece.walked(key)
    start, end = paths[0].start, paths[-1].end
    if abs(end - start) < 1.0:
        raise Stuck(say("the {edge} ends where it begins, so nothing can be told from it", edge=own_name(key)))
    return start, end


def framed(piece: Piece, key: str, point: Point, ref: str = "") -> FramePoint:
    """A point of a piece in the frame of one of its runs; ``ref`` is how the document names the run."""
    start, end = chord(piece, key)
    way, out = unit(end - start), left_of(unit(end - start))
    return FramePoint(edge=ref or key, along=dot(point - start, way) / abs(end - start), out=dot(point - start, out))


def frame_point(pattern: Pattern, point: FramePoint, parameter: str) -> tuple[Piece, Point]:
    """The piece and place of a point in an edge's frame. Raises :class:`Lost` or :class:`Stuck`."""
    ref = reference(point.edge)
    hits = pattern.edges(ref)
    if not hits:
        raise Lost(ref, "edge", parameter)
    piece = pattern.pieces[hits[0][0]]
    start, end = chord(piece, piece.edges[hits[0][1]].name)
    return piece, start + (end - start) * point.along + left_of(unit(end - start)) * point.out


def spot_point(pattern: Pattern, spot: Place | FramePoint, parameter: str) -> tuple[Piece, Point]:
    """The piece and place of a place or point. Raises :class:`Lost` or :class:`Stuck`."""
    if isinstance(spot, FramePoint):
        return frame_point(pattern, spot, parameter)
    piece, on = place_on(pattern, spot, parameter)
    return piece, piece.where(on)


def by_piece(
    pattern: Pattern, spots: Sequence[Place | FramePoint], parameter: str
) -> list[tuple[Piece, list[Place | FramePoint], list[Point]]]:
    """A line's points by the pieces it runs over, in its order: on one, or from one on to another.

    Raises :class:`Lost` or :class:`Stuck`.
    """
    found: list[tuple[Piece, list[Place | FramePoint], list[Point]]] = []
    for spot in spots:
        piece, point = spot_point(pattern, spot, parameter)
        if not found or found[-1][0].name != piece.name:
            found.append((piece, [], []))
        found[-1][1].append(spot)
        found[-1][2].append(point)
    if len(found) > 2:
        raise Stuck(say("the line runs over more than one seam; draw it over one at a time"), parameter)
    return found
