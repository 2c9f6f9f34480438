"""Which way is down on the wearer, at a place of a piece.

A piece hangs as its source says (``Piece.down``). One that is cut in the round, as a circle skirt or a wrap, hangs from
its waist everywhere: down is away from the nearest place of it.
"""

from __future__ import annotations

import cmath
import math

from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.pattern.piece import Piece

IN_THE_ROUND = math.radians(35)  # that a waist turns from end to end, to be hung from all along

NEAR_DART, UNDER_DART = 85.0, 20.0  # mm to the side of a dart's point, and below it


def hang_at(piece: Piece, point: Point) -> Point:
    """Down on the wearer at a point of the piece's frame, a unit vector."""
    for key in piece.runs_of("waist"):
        length = piece.run_length(key)
        first, last = piece.run_point(key, 0.0)[1], piece.run_point(key, length)[1]
        if abs(cmath.phase(last / first)) < IN_THE_ROUND:
            continue
        off, along = piece.nearest_on_run(key, point)
        waist, way, index = piece.run_point(key, along)
        edge = piece.edges[index]
        inwards = way * (1j if abs(edge.walked.start - edge.path.start) < 1e-9 else -1j)  # an outline runs clockwise
        return unit(point - waist) if off > 1.0 else unit(inwards)
    return unit(piece.down)


def below_the_waist(piece: Piece, share: float, deep: float) -> Point | None:
    """A place below the middle of a piece's waist: ``share`` of the way to its hip, or ``deep`` mm where it has none.

    None for a piece that does not hang from a waist.
    """
    waists = piece.runs_of("waist")
    if not waists:
        return None
    key = waists[0]
    at, _, _ = piece.run_point(key, piece.run_length(key) / 2)
    down = hang_at(piece, at)
    if dot(down, _middle(piece) - at) <= 0:  # a bodice ends at its waist
        return None
    hip = piece.level("hip")
    if hip is not None:
        deep = share * min(dot(p - at, down) for path in piece.drawn(hip) for p in (path.start, path.end))
    for dart in piece.darts:  # below the points of darts that stand there
        apex = piece.legs(dart.id)[2] - at
        if abs(dot(apex, down * 1j)) < NEAR_DART and dot(apex, down) > 0:
            deep = max(deep, dot(apex, down) + UNDER_DART)
    return at + down * deep


def _middle(piece: Piece) -> Point:
    left, top, right, bottom = piece.outline().bounds()
    return complex((left + right) / 2, (top + bottom) / 2)
