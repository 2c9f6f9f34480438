"""Segments: line, cubic Bézier and circular arc, exact in splitting, direction and length.

Points are complex numbers in millimetres (x right, y down). A parameter ``t`` runs from 0 to 1.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from caddet.core.geometry.roots import cubic_roots

Point = complex

FLAT = 0.05  # mm, how far a flattened curve may stray at the edges of the system


def dot(a: Point, b: Point) -> float:
    """The scalar product of two vectors."""
    return a.real * b.real + a.imag * b.imag


def cross(a: Point, b: Point) -> float:
    """The vector product; positive when ``b`` is clockwise of ``a`` as seen on the table (y down)."""
    return a.real * b.imag - a.imag * b.real


def unit(vector: Point) -> Point:
    """The direction of a vector; of the zero vector, zero."""
    size = abs(vector)
    return vector / size if size > 1e-12 else 0j


@dataclass(frozen=True, slots=True)
class Motion:
    """A rigid movement ``z -> turn·z + shift``, with ``mirror`` applied (z to its conjugate) first."""

    turn: complex = 1 + 0j
    shift: complex = 0j
    mirror: bool = False

    def __call__(self, point: Point) -> Point:
        """Where a point comes to."""
        return self.turn * (point.conjugate() if self.mirror else point) + self.shift

    def turned(self, way: complex) -> complex:
        """Where a direction points after it."""
        return self.turn * (way.conjugate() if self.mirror else way)

    def after(self, first: Motion) -> Motion:
        """The movement that does ``first`` and then this one."""
        inner_turn = first.turn.conjugate() if self.mirror else first.turn
        return Motion(self.turn * inner_turn, self(first.shift), self.mirror != first.mirror)

    @staticmethod
    def translation(by: complex) -> Motion:
        """A movement without turning, by mm."""
        return Motion(shift=by)

    @staticmethod
    def rotation(angle: float, about: Point = 0j) -> Motion:
        """Turn by ``angle`` radians, clockwise as seen on the table (y down)."""
        turn = cmath.exp(1j * angle)
        return Motion(turn, about - turn * about)

    @staticmethod
    def reflection(a: Point, b: Point) -> Motion:
        """Mirror in the line through ``a`` and ``b``."""
        direction = unit(b - a)
        turn = direction * direction
        return Motion(turn, a - turn * a.conjugate(), True)


def inverse(motion: Motion) -> Motion:
    """The movement that undoes another."""
    back = motion.turn.conjugate()
    if motion.mirror:
        return Motion(motion.turn, -motion.turn * motion.shift.conjugate(), True)
    return Motion(back, -back * motion.shift)


_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(12)
_GAUSS = tuple(zip(((_NODES + 1) / 2).tolist(), (_WEIGHTS / 2).tolist(), strict=True))


@dataclass(frozen=True, slots=True)
class Line:
    """A straight segment."""

    start: Point
    end: Point

    @property
    def length(self) -> float:
        """The length in mm."""
        return abs(self.end - self.start)

    def point(self, t: float) -> Point:
        """The point at a share ``t`` of the segment's own parameter, 0 to 1."""
        return self.start + (self.end - self.start) * t

    def direction(self, t: float) -> Point:
        """The direction at ``t``, of length 1."""
        return unit(self.end - self.start)

    def curvature(self, t: float) -> float:
        """The curvature at ``t`` in 1/mm; positive where it turns clockwise on the table."""
        return 0.0

    def split(self, t: float) -> tuple[Line, Line]:
        """The parts before and after ``t``."""
        middle = self.point(t)
        return Line(self.start, middle), Line(middle, self.end)

    def reversed(self) -> Line:
        """The same segment walked the other way."""
        return Line(self.end, self.start)

    def moved(self, motion: Motion) -> Line:
        """The segment after a rigid movement."""
        return Line(motion(self.start), motion(self.end))

    def flattened(self, tolerance: float = FLAT) -> list[Point]:
        """Points after the start, up to and with the end."""
        return [self.end]

    def at_length(self, length: float) -> float:
        """The parameter at a distance along the segment, in mm."""
        whole = self.length
        return min(max(length / whole, 0.0), 1.0) if whole > 1e-12 else 0.0

    def crossings(self, a: Point, b: Point) -> list[float]:
        """Parameters where the endless line through ``a`` and ``b`` is met."""
        normal = (b - a) * 1j
        from_start, from_end = dot(self.start - a, normal), dot(self.end - a, normal)
        change = from_start - from_end
        if abs(change) < 1e-12:
            return []
        t = from_start / change
        return [t] if -1e-9 <= t <= 1 + 1e-9 else []


@dataclass(frozen=True, slots=True)
class Cubic:
    """A cubic Bézier with its two ends and two handles."""

    start: Point
    out: Point
    into: Point
    end: Point

    @property
    def length(self) -> float:
        """Arc length by Gauss-Legendre, halving until two levels agree to 1e-7 mm."""
        return _cubic_length(self)

    def point(self, t: float) -> Point:
        """The point at a share ``t`` of the segment's own parameter, 0 to 1."""
        s = 1 - t
        return (
            (s * s * s) * self.start + (3 * s * s * t) * self.out + (3 * s * t * t) * self.into + (t * t * t) * self.end
        )

    def velocity(self, t: float) -> Point:
        """The first derivative at ``t``, in mm."""
        s = 1 - t
        return 3 * (
            s * s * (self.out - self.start) + 2 * s * t * (self.into - self.out) + t * t * (self.end - self.into)
        )

    def acceleration(self, t: float) -> Point:
        """The second derivative at ``t``, in mm."""
        return 6 * ((1 - t) * (self.into - 2 * self.out + self.start) + t * (self.end - 2 * self.into + self.out))

    def direction(self, t: float) -> Point:
        """The direction at ``t``, of length 1."""
        velocity = self.velocity(t)
        if abs(velocity) > 1e-9:
            return unit(velocity)
        nudge = 1e-4 if t < 0.5 else -1e-4
        return unit(self.velocity(t + nudge))

    def curvature(self, t: float) -> float:
        """The curvature at ``t`` in 1/mm; positive where it turns clockwise on the table."""
        velocity = self.velocity(t)
        speed = abs(velocity)
        return cross(velocity, self.acceleration(t)) / speed**3 if speed > 1e-9 else 0.0

    def split(self, t: float) -> tuple[Cubic, Cubic]:
        """The parts before and after ``t``."""
        a = self.start + (self.out - self.start) * t
        b = self.out + (self.into - self.out) * t
        c = self.into + (self.end - self.into) * t
        d = a + (b - a) * t
        e = b + (c - b) * t
        middle = d + (e - d) * t
        return Cubic(self.start, a, d, middle), Cubic(middle, e, c, self.end)

    def reversed(self) -> Cubic:
        """The same segment walked the other way."""
        return Cubic(self.end, self.into, self.out, self.start)

    def moved(self, motion: Motion) -> Cubic:
        """The segment after a rigid movement."""
        return Cubic(motion(self.start), motion(self.out), motion(self.into), motion(self.end))

    def flattened(self, tolerance: float = FLAT) -> list[Point]:
        """Points after the start, up to and with the end, straying at most ``tolerance`` mm."""
        bend = max(abs(self.into - 2 * self.out + self.start), abs(self.end - 2 * self.into + self.out))
        count = max(1, math.ceil(math.sqrt(0.75 * bend / tolerance)))
        return [self.point(i / count) for i in range(1, count)] + [self.end]

    def at_length(self, length: float) -> float:
        """The parameter so many mm along; 0 before the start, 1 beyond the end."""
        whole = self.length
        if length <= 0 or whole <= 1e-12:
            return 0.0
        if length >= whole:
            return 1.0
        t = length / whole
        low, high = 0.0, 1.0
        for _ in range(30):
            off = self.split(t)[0].length - length
            if abs(off) < 1e-7:
                break
            if off > 0:
                high = t
            else:
                low = t
            speed = abs(self.velocity(t))
            step = t - off / speed if speed > 1e-9 else math.inf
            t = step if low < step < high else (low + high) / 2
        return t

    def crossings(self, a: Point, b: Point) -> list[float]:
        """The parameters, perhaps outside 0 to 1, where it crosses the endless line through ``a`` and ``b``."""
        normal = (b - a) * 1j
        d0, d1, d2, d3 = (dot(p - a, normal) for p in (self.start, self.out, self.into, self.end))
        if (d0 > 0) == (d1 > 0) == (d2 > 0) == (d3 > 0) and min(abs(d0), abs(d3)) > 1e-9 * abs(b - a):
            return []
        return cubic_roots(d3 - 3 * d2 + 3 * d1 - d0, 3 * (d2 - 2 * d1 + d0), 3 * (d1 - d0), d0)


@lru_cache(maxsize=8192)
def _cubic_length(curve: Cubic) -> float:
    legs = abs(curve.out - curve.start), abs(curve.into - curve.out), abs(curve.end - curve.into)
    chord = abs(curve.end - curve.start)
    if sum(legs) <= 1.1 * chord and 4 * min(legs) > max(legs):
        return _gauss(curve, 0.0, 1.0)  # bends so gently that twelve nodes are exact to 1e-9
    return _length_between(curve, 0.0, 1.0, _gauss(curve, 0.0, 1.0), 0)


def _gauss(curve: Cubic, low: float, high: float) -> float:
    wide = high - low
    a = 3 * (curve.out - curve.start)
    b = 6 * (curve.into - 2 * curve.out + curve.start)
    c = 3 * (curve.end - 3 * curve.into + 3 * curve.out - curve.start)
    total = 0.0
    for node, weight in _GAUSS:
        t = low + wide * node
        total += weight * abs(a + t * (b + t * c))
    return total * wide


def _length_between(curve: Cubic, low: float, high: float, whole: float, depth: int) -> float:
    middle = (low + high) / 2
    left, right = _gauss(curve, low, middle), _gauss(curve, middle, high)
    if abs(left + right - whole) < 1e-7 or depth > 12:
        return left + right
    return _length_between(curve, low, middle, left, depth + 1) + _length_between(curve, middle, high, right, depth + 1)


@dataclass(frozen=True, slots=True)
class Arc:
    """A circular arc: centre, radius in mm, start angle and signed sweep in radians (clockwise +)."""

    centre: Point
    radius: float
    angle: float
    sweep: float

    @property
    def start(self) -> Point:
        """The first point."""
        return self.point(0.0)

    @property
    def end(self) -> Point:
        """The last point."""
        return self.point(1.0)

    @property
    def length(self) -> float:
        """The length in mm."""
        return self.radius * abs(self.sweep)

    def point(self, t: float) -> Point:
        """The point at a share ``t`` of the segment's own parameter, 0 to 1."""
        return self.centre + self.radius * cmath.exp(1j * (self.angle + self.sweep * t))

    def direction(self, t: float) -> Point:
        """The direction at ``t``, of length 1."""
        return cmath.exp(1j * (self.angle + self.sweep * t)) * (1j if self.sweep > 0 else -1j)

    def curvature(self, t: float) -> float:
        """The curvature at ``t`` in 1/mm; positive where it turns clockwise on the table."""
        return math.copysign(1 / self.radius, self.sweep)

    def split(self, t: float) -> tuple[Arc, Arc]:
        """The parts before and after ``t``."""
        first = self.sweep * t
        return (
            Arc(self.centre, self.radius, self.angle, first),
            Arc(self.centre, self.radius, self.angle + first, self.sweep - first),
        )

    def reversed(self) -> Arc:
        """The same segment walked the other way."""
        return Arc(self.centre, self.radius, self.angle + self.sweep, -self.sweep)

    def moved(self, motion: Motion) -> Arc:
        """The segment after a rigid movement."""
        turn = cmath.phase(motion.turn)
        if motion.mirror:
            return Arc(motion(self.centre), self.radius, turn - self.angle, -self.sweep)
        return Arc(motion(self.centre), self.radius, self.angle + turn, self.sweep)

    def flattened(self, tolerance: float = FLAT) -> list[Point]:
        """Points after the start, to ``tolerance`` mm."""
        if self.radius <= tolerance:
            return [self.end]
        step = 2 * math.acos(1 - tolerance / self.radius)
        count = max(1, math.ceil(abs(self.sweep) / step))
        return [self.point(i / count) for i in range(1, count + 1)]

    def at_length(self, length: float) -> float:
        """The parameter so many mm along; 0 before the start, 1 beyond the end."""
        whole = self.length
        return min(max(length / whole, 0.0), 1.0) if whole > 1e-12 else 0.0

    def crossings(self, a: Point, b: Point) -> list[float]:
        """The parameters, perhaps outside 0 to 1, where it crosses the endless line through ``a`` and ``b``."""
        along = unit(b - a)
        foot = a + along * dot(self.centre - a, along)
        away = abs(foot - self.centre)
        if away > self.radius or not self.sweep:
            return []
        half = math.sqrt(self.radius**2 - away**2)
        found = []
        for point in {foot + along * half, foot - along * half}:
            turned = (cmath.phase(point - self.centre) - self.angle) * math.copysign(1, self.sweep)
            t = (turned % math.tau) / abs(self.sweep)
            if t > 1 and math.tau / abs(self.sweep) - t < 1e-9:
                t = 0.0
            if t <= 1 + 1e-9:
                found.append(min(t, 1.0))
        return sorted(found)

    def cubics(self) -> list[Cubic]:
        """The same arc as cubic Béziers of at most a quarter circle each (radial error ≤ 0.03 %)."""
        count = max(1, math.ceil(abs(self.sweep) / (math.pi / 2) - 1e-9))
        step = self.sweep / count
        reach = 4 / 3 * math.tan(step / 4)
        curves = []
        for i in range(count):
            a = cmath.exp(1j * (self.angle + step * i))
            b = cmath.exp(1j * (self.angle + step * (i + 1)))
            p, q = self.centre + self.radius * a, self.centre + self.radius * b
            curves.append(Cubic(p, p + self.radius * reach * 1j * a, q - self.radius * reach * 1j * b, q))
        return curves


Segment = Line | Cubic | Arc


def smooth(start: Point, start_direction: Point, end: Point, end_direction: Point, fullness: float = 1.0) -> Cubic:
    """A fair curve between two points with given directions; handles a third of the chord each."""
    reach = abs(end - start) / 3 * fullness
    return Cubic(start, start + unit(start_direction) * reach, end - unit(end_direction) * reach, end)
