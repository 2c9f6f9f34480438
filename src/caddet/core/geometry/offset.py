"""Parallel paths: the cut line beside the stitch line.

Lines and arcs are offset exactly. A cubic is offset by cubics whose ends have the exact offset
direction and speed (speed × (1 − distance × curvature)), halved until within tolerance.
"""

from __future__ import annotations

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Point, Segment, cross, dot

OFFSET_TOLERANCE = 0.02  # mm
SNAP = 0.1  # mm, a gap between parallel segments that is closed by moving an end
NEARLY_SMOOTH = 1e-3  # sine of the turn below which a path counts as running on


def left_of(direction: Point) -> Point:
    """The unit vector to the left of a direction (y down): outside a clockwise outline."""
    return direction * -1j


def offset_path(path: Path, distance: float) -> Path | None:
    """The parallel path ``distance`` mm to the left, segment by segment; None when nothing is left.

    Gaps at corners inside the path are bridged by a straight line.
    """
    if distance == 0:
        return path
    pieces: list[Segment] = []
    for segment in path.segments:
        for part in _offset_segment(segment, distance):
            gap = abs(pieces[-1].end - part.start) if pieces else 0.0
            if gap > SNAP:
                pieces.append(Line(pieces[-1].end, part.start))
            elif gap > 1e-9:
                pieces[-1:] = ending_at(pieces[-1], part.start)
            pieces.append(part)
    return Path(tuple(pieces)) if pieces else None


def ending_at(segment: Segment, end: Point) -> list[Segment]:
    """The segment with its end moved a hair."""
    if isinstance(segment, Line):
        return [Line(segment.start, end)]
    if isinstance(segment, Arc):
        *first, last = segment.cubics()
        return [*first, *ending_at(last, end)]
    return [Cubic(segment.start, segment.out, segment.into + end - segment.end, end)]


def smooth_parts(path: Path) -> list[Path]:
    """The path cut where it turns by more than a twentieth of a degree."""
    parts: list[list[Segment]] = [[path.segments[0]]]
    for before, after in zip(path.segments, path.segments[1:], strict=False):
        a, b = before.direction(1.0), after.direction(0.0)
        if abs(cross(a, b)) > NEARLY_SMOOTH or dot(a, b) < 0:
            parts.append([])
        parts[-1].append(after)
    return [Path(tuple(part)) for part in parts]


def _offset_segment(segment: Segment, distance: float) -> list[Segment]:
    if isinstance(segment, Line):
        shift = left_of(segment.direction(0)) * distance
        return [Line(segment.start + shift, segment.end + shift)]
    if isinstance(segment, Arc):
        radius = segment.radius + (distance if segment.sweep > 0 else -distance)
        return [Arc(segment.centre, radius, segment.angle, segment.sweep)] if radius > 1e-6 else []
    return list(_offset_cubic(segment, distance, 0))


def _offset_point(curve: Cubic, t: float, distance: float) -> Point:
    return curve.point(t) + left_of(curve.direction(t)) * distance


def _offset_cubic(curve: Cubic, distance: float, depth: int) -> list[Cubic]:
    start, end = _offset_point(curve, 0, distance), _offset_point(curve, 1, distance)
    # a clockwise bend (curvature > 0) grows on its left
    out = (curve.out - curve.start) * max(0.0, 1 + distance * curve.curvature(0))
    into = (curve.end - curve.into) * max(0.0, 1 + distance * curve.curvature(1))
    candidate = Cubic(start, start + out, end - into, end)
    stray = max(_stray(candidate, curve, t, distance) for t in (0.25, 0.5, 0.75))
    if stray <= OFFSET_TOLERANCE or depth >= 6:
        # inside a bend tighter than the distance the parallel line runs backwards: that stretch is left out
        return [candidate] if dot(end - start, curve.direction(0.5)) >= 0 else []
    first, second = curve.split(0.5)
    return _offset_cubic(first, distance, depth + 1) + _offset_cubic(second, distance, depth + 1)


def _stray(candidate: Cubic, curve: Cubic, t: float, distance: float) -> float:
    gap = candidate.point(t) - _offset_point(curve, t, distance)
    return abs(dot(gap, left_of(curve.direction(t))))
