"""Where two parallel paths meet at a corner, and paths made to end or begin there."""

from __future__ import annotations

import shapely

from caddet.core.geometry.offset import SNAP, ending_at
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point, cross, dot


def meet(p: Point, along_p: Point, q: Point, along_q: Point) -> Point | None:
    """Where two lines given by point and direction cross; None when (nearly) parallel."""
    slope = cross(along_p, along_q)
    if abs(slope) < 1e-9:
        return None
    return p + along_p * (cross(q - p, along_q) / slope)


def reach_end(path: Path, point: Point) -> Path:
    """The path made to end at ``point``: lengthened by a straight line, or cut back to it."""
    gap = abs(path.end - point)
    if gap < 1e-6:
        return path
    if gap < SNAP:
        return Path((*path.segments[:-1], *ending_at(path.segments[-1], point)))
    if dot(point - path.end, path.end_direction) < 0:
        _, along = path.nearest(point)
        before, _ = path.split_at(along)
        if before is None:
            return Path((Line(path.start, point),)) if abs(path.start - point) > 1e-9 else path
        path = before
        if abs(path.end - point) < SNAP:  # a line from a hair behind it would run back over the path
            return Path((*path.segments[:-1], *ending_at(path.segments[-1], point)))
    return Path((*path.segments, Line(path.end, point)))


def reach_start(path: Path, point: Point) -> Path:
    """The path made to begin at ``point``."""
    if abs(path.start - point) < 1e-6:
        return path
    return reach_end(path.reversed(), point).reversed()


def inner(before: Path, after: Path, at: Point) -> Point:
    """Where two cut lines cross inside a hollow corner, nearest to it."""
    if (crossing := crossing_near(before, after, at)) is not None:
        return crossing
    point = meet(before.end, before.end_direction, after.start, after.start_direction)
    return point if point is not None else (before.end + after.start) / 2


def crossing_near(before: Path, after: Path, at: Point) -> Point | None:
    """Where two paths cross, nearest to a point; None when they don't."""
    lines = [shapely.LineString([(p.real, p.imag) for p in path.flattened(0.01)]) for path in (before, after)]
    crossing = shapely.intersection(lines[0], lines[1])
    points = [complex(x, y) for x, y in shapely.get_coordinates(crossing)]
    return min(points, key=lambda p: abs(p - at)) if points else None
