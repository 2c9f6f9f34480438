"""How two cut lines meet at a corner: mitred, squared, stepped, folded for a hem, capped over a dart.

Every function takes the two parallel paths as they leave the corner and gives them back joined. The
outline runs clockwise, so the allowance lies to the left of the walking direction.
"""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from caddet.core.geometry.offset import SNAP, ending_at, left_of
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, cross, dot, unit

SPIKE = 2.5  # a mitre longer than this many allowances is cut square; common practice
NEARLY_STRAIGHT = 0.05  # sine of the turn under which two edges count as running on


@dataclass(frozen=True, slots=True)
class Side:
    """One edge at a corner: its parallel path, its allowance (mm), its direction at the corner."""

    path: Path
    allowance: float
    direction: Point
    hem: bool = False


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


def corner(before: Side, after: Side, at: Point) -> list[Point]:
    """The points of the cut line between the two parallel paths at the corner ``at``, in order.

    The first is where ``before`` must end, the last where ``after`` must begin.
    """
    turn = cross(before.direction, after.direction)
    ends = [before.path.end, after.path.start]
    if abs(turn) < NEARLY_STRAIGHT and dot(before.direction, after.direction) > 0:
        # running on: a step where the allowances differ
        if abs(before.allowance - after.allowance) > 1e-6:
            return ends
        if abs(ends[0] - ends[1]) > 1e-6 and (crossing := _crossing(before.path, after.path, at)) is not None:
            return [crossing]  # the bend is tighter than the allowance
        point = meet(ends[0], before.direction, ends[1], after.direction)
        return [point] if point is not None and abs(point - ends[0]) < 10 else [(ends[0] + ends[1]) / 2]
    if turn < 0:
        return [_inner(before.path, after.path, at)]
    if before.hem != after.hem and before.allowance > 0 and after.allowance > 0:
        return _hem_corner(before, after, at)
    point = meet(ends[0], before.direction, ends[1], after.direction)
    most = max(before.allowance, after.allowance)
    if point is None or abs(point - at) > SPIKE * most:
        return [ends[0] + before.direction * most, ends[1] - after.direction * most] if most else ends
    return [point]


def _inner(before: Path, after: Path, at: Point) -> Point:
    """Where two cut lines cross inside a hollow corner, nearest to it."""
    if (crossing := _crossing(before, after, at)) is not None:
        return crossing
    point = meet(before.end, before.end_direction, after.start, after.start_direction)
    return point if point is not None else (before.end + after.start) / 2


def _crossing(before: Path, after: Path, at: Point) -> Point | None:
    """Where two paths cross, nearest to a point; None when they don't."""
    lines = [shapely.LineString([(p.real, p.imag) for p in path.flattened(0.01)]) for path in (before, after)]
    crossing = shapely.intersection(lines[0], lines[1])
    points = [complex(x, y) for x, y in shapely.get_coordinates(crossing)]
    return min(points, key=lambda p: abs(p - at)) if points else None


def _hem_corner(before: Side, after: Side, at: Point) -> list[Point]:
    """The side's cut line down to the hem line, then mirrored in it, so that the turned hem lies flat."""
    hem, side = (before, after) if before.hem else (after, before)
    fold = Motion.reflection(at, at + hem.direction)
    side_end = side.path.start if before.hem else side.path.end
    # the direction in which the side's cut line goes towards the hem
    towards = -side.direction if before.hem else side.direction
    crossing = meet(side_end, towards, at, hem.direction)
    hem_line = at + left_of(hem.direction) * hem.allowance
    if crossing is None:
        return [before.path.end, after.path.start]
    mirrored = -(fold(at + towards) - at)  # back up the side, turned over the hem line
    outer = meet(crossing, mirrored, hem_line, hem.direction)
    if outer is None or abs(outer - at) > 2 * SPIKE * max(hem.allowance, side.allowance):
        square = crossing + left_of(hem.direction) * hem.allowance
        return [square, crossing] if before.hem else [crossing, square]
    return [outer, crossing] if before.hem else [crossing, outer]


def dart_cap(before: Path, after: Path, legs: tuple[Point, Point, Point], toward_before: bool) -> list[Point]:
    """The cut line over a dart as it will be pressed: leg, fold, leg.

    ``legs`` are first leg point, apex, second leg point. The underlay is the mirror image of the
    cloth it is pressed onto, so the cap reaches the edge when the dart is folded.
    """
    first, apex, second = legs
    middle = unit(unit(first - apex) + unit(second - apex))
    base_leg, path_end, along = (first, before.end, before.end_direction)
    if not toward_before:
        base_leg, path_end, along = second, after.start, after.start_direction
    foot = meet(path_end, along, apex, base_leg - apex)
    if foot is None:
        return [before.end, after.start]
    over = Motion.reflection(apex, base_leg)
    peak = meet(foot, over(foot + along) - foot, apex, middle)
    other = Motion.reflection(apex, apex + middle)(foot)
    if peak is None or abs(peak - apex) > 2 * abs(foot - apex):
        peak = (foot + other) / 2
    return [foot, peak, other] if toward_before else [other, peak, foot]
