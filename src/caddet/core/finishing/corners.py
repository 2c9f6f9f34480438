"""How two cut lines meet at a corner: mitred, squared, stepped, folded for a hem, capped over a dart.

Every function takes the two parallel paths as they leave the corner and gives them back joined. The
outline runs clockwise, so the allowance lies to the left of the walking direction.
"""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.geometry.meeting import crossing_near, inner, meet
from caddet.core.geometry.offset import left_of
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, cross, dot, unit

SPIKE = 2.5  # a mitre longer than this many allowances is cut square; common practice
NEARLY_STRAIGHT = 0.05  # sine of the turn under which two edges count as running on


@dataclass(frozen=True, slots=True)
class Side:
    """One edge at a corner: its parallel path, its allowance (mm), its direction at the corner."""

    path: Path
    allowance: float
    direction: Point
    hem: bool = False


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
        if abs(ends[0] - ends[1]) > 1e-6 and (crossing := crossing_near(before.path, after.path, at)) is not None:
            return [crossing]  # the bend is tighter than the allowance
        point = meet(ends[0], before.direction, ends[1], after.direction)
        return [point] if point is not None and abs(point - ends[0]) < 10 else [(ends[0] + ends[1]) / 2]
    if turn < 0:
        return [inner(before.path, after.path, at)]
    if before.hem != after.hem and before.allowance > 0 and after.allowance > 0:
        return _hem_corner(before, after, at)
    point = meet(ends[0], before.direction, ends[1], after.direction)
    most = max(before.allowance, after.allowance)
    if point is None or abs(point - at) > SPIKE * most:
        return [ends[0] + before.direction * most, ends[1] - after.direction * most] if most else ends
    return [point]


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
