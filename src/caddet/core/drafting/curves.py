"""Fair curves between two points with given directions, as a cutter draws them with a curved rule."""

from __future__ import annotations

from itertools import pairwise

from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import quadratic_roots
from caddet.core.geometry.segments import Cubic, Line, Point, cross, dot, smooth, unit

ROUND = 0.5523  # handles of a quarter circle as one cubic


def bend(
    start: Point,
    start_direction: Point,
    end: Point,
    end_direction: Point,
    full: float = ROUND,
    late: float | None = None,
) -> Cubic:
    """A curve that turns once: handles reach ``full`` (and at the end ``late``) of the way to the corner
    where the two tangents meet. 0.55 gives a quarter of an ellipse; more hugs the corner, less cuts it.
    """
    a, b = unit(start_direction), unit(end_direction)
    chord = end - start
    turn = cross(a, b)
    first = cross(chord, b) / turn if abs(turn) > 1e-3 else 0.0
    second = cross(a, chord) / turn if abs(turn) > 1e-3 else 0.0
    if first <= 0 or second <= 0:  # the tangents do not meet ahead: a gentle S
        first = second = abs(chord) * 0.6
    late = full if late is None else late
    return Cubic(start, start + a * (first * full), end - b * (second * late), end)


def ease_into(
    start: Point, start_direction: Point, end: Point, end_direction: Point, out: float = 1 / 3, into: float = 1 / 3
) -> Cubic:
    """A curve whose handles are shares of the chord; for gentle lines and S-shapes."""
    reach = abs(end - start)
    return Cubic(start, start + unit(start_direction) * reach * out, end - unit(end_direction) * reach * into, end)


def inflections(curve: Cubic) -> list[float]:
    """Where a cubic changes the side to which it bends, as parameters strictly inside (0, 1).

    Exact: velocity × acceleration is a quadratic of the parameter. A bend flatter than a radius of 10 km is none.
    """
    a = curve.out - curve.start
    b = curve.into - 2 * curve.out + curve.start
    c = curve.end - 3 * curve.into + 3 * curve.out - curve.start
    roots = [t for t in quadratic_roots(cross(b, c), cross(a, c), cross(a, b)) if INSIDE < t < 1 - INSIDE]
    bounds = [INSIDE, *roots, 1 - INSIDE]
    bends = [curve.curvature((low + high) / 2) for low, high in pairwise(bounds)]
    found: list[float] = []
    side = 0.0  # how it bent last
    for start, bent in zip(bounds, bends, strict=False):
        if abs(bent) < FLAT_BEND:
            continue
        if side * bent < 0:
            found.append(start)
        side = bent
    return found


INSIDE = 0.005  # of the parameter: an inflection nearer to an end than this is the end itself
FLAT_BEND = 1e-7  # 1/mm


def right(direction: Point) -> Point:
    """A direction turned by a right angle, clockwise as seen on the table."""
    return direction * 1j


def left(direction: Point) -> Point:
    """A direction turned by a right angle, anticlockwise as seen on the table."""
    return direction * -1j


def foot(point: Point, on: Point, direction: Point) -> Point:
    """The foot of the perpendicular from a point to a line."""
    along = unit(direction)
    return on + along * dot(point - on, along)


def square_hem(corner: Point, down: Point, other: Point, up: Point) -> Cubic:
    """A hem from one seam's end, which runs ``down`` to it, to where the next seam goes ``up``: square to both."""
    return ease_into(corner, right(down), other, left(up))


HEM = 0.36  # of the side's slant times the width: how far a hem square to side and centre sinks between them


def hem_sinks(side_direction: Point, width: float) -> float:
    """How much lower a hem lies at the centre than at a side seam that arrives so, ``width`` mm away from it; negative: higher."""
    down = unit(side_direction)
    return HEM * width * down.real / max(down.imag, 0.2)


def hem_to_centre(corner: Point, side_direction: Point) -> Path:
    """The hem from a side seam's end to the centre at x = 0: square to both."""
    centre = complex(0, corner.imag + hem_sinks(side_direction, corner.real))
    if abs(centre.imag - corner.imag) < 1e-4:
        return Path((Line(corner, centre),))
    return Path((smooth(corner, right(side_direction), centre, -1 + 0j),))
