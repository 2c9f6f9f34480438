"""Paths: segments end to end. Every verb gives a new path; nothing is changed in place."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import (
    FLAT,
    Arc,
    Cubic,
    Line,
    Motion,
    Point,
    Segment,
    cross,
    dot,
)


@dataclass(frozen=True, slots=True)
class Path:
    """One or more segments, each beginning where the one before it ends. Lengths in mm."""

    segments: tuple[Segment, ...]

    def __post_init__(self) -> None:
        if not self.segments:
            raise CaddetError("a path needs at least one segment")

    @staticmethod
    def polyline(points: Sequence[Point]) -> Path:
        """Straight lines from point to point."""
        return Path(tuple(Line(a, b) for a, b in pairwise(points)))

    @staticmethod
    def join(paths: Iterable[Path]) -> Path:
        """Paths that follow one another as one."""
        return Path(tuple(segment for path in paths for segment in path.segments))

    @property
    def start(self) -> Point:
        """The first point."""
        return self.segments[0].start

    @property
    def end(self) -> Point:
        """The last point."""
        return self.segments[-1].end

    @property
    def length(self) -> float:
        """The length in mm."""
        if len(self.segments) == 1:
            return self.segments[0].length
        return math.fsum(segment.length for segment in self.segments)

    @property
    def start_direction(self) -> Point:
        """The direction at the start, of length 1."""
        return self.segments[0].direction(0.0)

    @property
    def end_direction(self) -> Point:
        """The direction at the end, of length 1."""
        return self.segments[-1].direction(1.0)

    def reversed(self) -> Path:
        """The same path walked the other way."""
        return Path(tuple(segment.reversed() for segment in reversed(self.segments)))

    def moved(self, motion: Motion) -> Path:
        """The path after a rigid movement."""
        return Path(tuple(segment.moved(motion) for segment in self.segments))

    def locate(self, length: float) -> tuple[int, float]:
        """The segment and its parameter at a distance along the path (clamped to the ends)."""
        left = length
        for index, segment in enumerate(self.segments):
            size = segment.length
            if left <= size or index == len(self.segments) - 1:
                return index, segment.at_length(min(max(left, 0.0), size))
            left -= size
        raise AssertionError("unreachable: a path has segments")

    def point_at(self, length: float) -> Point:
        """The point so many mm along."""
        index, t = self.locate(length)
        return self.segments[index].point(t)

    def direction_at(self, length: float) -> Point:
        """The direction so many mm along, of length 1."""
        index, t = self.locate(length)
        return self.segments[index].direction(t)

    def split_at(self, length: float) -> tuple[Path | None, Path | None]:
        """The parts before and after a distance; a part of no length is None."""
        whole = self.length
        if length <= 1e-6:
            return None, self
        if length >= whole - 1e-6:
            return self, None
        index, t = self.locate(length)
        before, after = list(self.segments[:index]), list(self.segments[index + 1 :])
        segment = self.segments[index]
        if t * segment.length < 1e-6:
            after.insert(0, segment)
        elif (1 - t) * segment.length < 1e-6:
            before.append(segment)
        else:
            first, second = segment.split(t)
            before.append(first)
            after.insert(0, second)
        return (Path(tuple(before)) if before else None), (Path(tuple(after)) if after else None)

    def between(self, low: float, high: float) -> Path | None:
        """The part from one distance to another."""
        _, rest = self.split_at(low)
        return rest.split_at(high - max(low, 0.0))[0] if rest else None

    def flattened(self, tolerance: float = FLAT) -> list[Point]:
        """Points from start to end that stray at most ``tolerance`` mm from the path."""
        points = [self.start]
        for segment in self.segments:
            points.extend(segment.flattened(tolerance))
        return points

    def crossings(self, a: Point, b: Point) -> list[tuple[float, Point]]:
        """Where the endless line through ``a`` and ``b`` is met: distance along, and point."""
        found: list[tuple[float, Point]] = []
        passed = 0.0
        for segment in self.segments:
            for t in segment.crossings(a, b):
                along = passed + (segment.split(t)[0].length if 0 < t < 1 else t * segment.length)
                if not found or along - found[-1][0] > 1e-6:
                    found.append((along, segment.point(t)))
            passed += segment.length
        return found

    def nearest(self, point: Point) -> tuple[float, float]:
        """The distance from a point to the path, and how far along the path that is (mm)."""
        # no point of the path is farther than its ends; a segment whose box is farther than that is not looked at
        at_most = min(min(abs(segment.start - point) for segment in self.segments), abs(self.end - point)) + 1e-9
        best_off, best, best_t = math.inf, 0, 0.0
        for number, segment in enumerate(self.segments):
            if _at_least(segment, point) > min(at_most, best_off):
                continue
            off, t = _nearest_on(segment, point)
            if off < best_off:
                best_off, best, best_t = off, number, t
        segment = self.segments[best]
        passed = sum(one.length for one in self.segments[:best])
        return best_off, passed + (segment.split(best_t)[0].length if 0 < best_t < 1 else best_t * segment.length)

    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom, to the flattening tolerance."""
        points = self.flattened()
        xs, ys = [p.real for p in points], [p.imag for p in points]
        return min(xs), min(ys), max(xs), max(ys)


def _at_least(segment: Segment, point: Point) -> float:
    """A distance from a point below which no point of a segment lies: that to the box of its ends and handles."""
    if isinstance(segment, Arc):
        return 0.0
    if isinstance(segment, Line):
        a, b = segment.start, segment.end
        left, right, top, bottom = min(a.real, b.real), max(a.real, b.real), min(a.imag, b.imag), max(a.imag, b.imag)
    else:
        xs = (segment.start.real, segment.out.real, segment.into.real, segment.end.real)
        ys = (segment.start.imag, segment.out.imag, segment.into.imag, segment.end.imag)
        left, right, top, bottom = min(xs), max(xs), min(ys), max(ys)
    return math.hypot(max(left - point.real, point.real - right, 0.0), max(top - point.imag, point.imag - bottom, 0.0))


def _nearest_on(segment: Segment, point: Point) -> tuple[float, float]:
    if isinstance(segment, Line):
        along = segment.end - segment.start
        size = dot(along, along)
        t = min(max(dot(point - segment.start, along) / size, 0.0), 1.0) if size else 0.0
        return abs(segment.point(t) - point), t
    if isinstance(segment, Arc):
        choices = [0.0, 1.0, *segment.crossings(segment.centre, point)] if point != segment.centre else [0.0]
        return min((abs(segment.point(t) - point), t) for t in choices)
    return _nearest_on_cubic(segment, point)


SAMPLES = 16


def _nearest_on_cubic(curve: Cubic, point: Point) -> tuple[float, float]:
    """The distance to a cubic and its parameter: sampled, then each likely minimum found by Newton's steps."""
    offs = [abs(curve.point(i / SAMPLES) - point) for i in range(SAMPLES + 1)]
    best = min((off, i / SAMPLES) for i, off in enumerate(offs))
    # nothing within a step of a sample is nearer than the sample by more than half of what the curve runs there
    reach = 3 * max(abs(curve.out - curve.start), abs(curve.into - curve.out), abs(curve.end - curve.into)) / SAMPLES
    for i, off in enumerate(offs):
        if off > best[0] + reach or off > min(offs[max(i - 1, 0)], offs[min(i + 1, SAMPLES)]):
            continue  # no minimum can lie here
        t = _settled(curve, point, max(0.0, (i - 1) / SAMPLES), i / SAMPLES, min(1.0, (i + 1) / SAMPLES))
        best = min(best, (abs(curve.point(t) - point), t))
    return best


def _settled(curve: Cubic, point: Point, low: float, t: float, high: float) -> float:
    """The parameter between two bounds at which a cubic is nearest to a point."""
    for _ in range(12):
        away, along = curve.point(t) - point, curve.velocity(t)
        slope = dot(away, along)
        bend = dot(along, along) + dot(away, curve.acceleration(t))
        if slope > 0:
            high = t
        else:
            low = t
        step = t - slope / bend if bend > 1e-12 else -1.0
        fresh = step if low < step < high else (low + high) / 2
        if abs(fresh - t) < 1e-12:
            break
        t = fresh
    return t


def area(points: Sequence[Point]) -> float:
    """Signed area in mm² of a closed polygon; positive when clockwise as seen on the table."""
    return math.fsum(cross(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)) / 2


def contains(points: Sequence[Point], point: Point) -> bool:
    """Whether a point lies inside a closed polygon (even-odd)."""
    inside = False
    for a, b in zip(points, [*points[1:], points[0]], strict=True):
        if (a.imag > point.imag) != (b.imag > point.imag):
            x = a.real + (point.imag - a.imag) / (b.imag - a.imag) * (b.real - a.real)
            inside ^= x > point.real
    return inside


def assert_paths_close(first: Path, second: Path, tolerance: float = 0.05) -> None:
    """Raise AssertionError unless two paths run within ``tolerance`` mm of each other all along."""
    for one, other in ((first, second), (second, first)):
        whole = one.length
        for i in range(33):
            off, _ = other.nearest(one.point_at(whole * i / 32))
            assert off <= tolerance, f"{off:.3f} mm apart at {whole * i / 32:.1f} mm (allowed {tolerance} mm)"


def arcs_as_cubics(path: Path) -> Path:
    """The path with every arc written as cubics, for sinks that know only lines and cubics."""
    segments: list[Line | Cubic | Arc] = []
    for segment in path.segments:
        segments.extend(segment.cubics() if isinstance(segment, Arc) else [segment])
    return Path(tuple(segments))
