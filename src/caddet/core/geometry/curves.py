"""Curves through points: a bar that is bent round pins."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Point, Segment, unit

TURN = math.radians(10.0)  # of an arc that becomes one curve; the error is below 1e-7 of its radius


def smooth_through(points: Sequence[Point], start: Point | None, end: Point | None) -> Path:
    """The cubic spline through points, by the lengths of its chords, with given end directions; a free end is not bent."""
    import numpy as np
    from scipy.interpolate import CubicSpline  # takes longer to import than the window to open

    steps = [abs(b - a) for a, b in pairwise(points)]
    at = np.concatenate(([0.0], np.cumsum(steps)))
    xy = np.array([(p.real, p.imag) for p in points])

    def held(way: Point | None) -> Any:
        return (2, np.zeros(2)) if way is None else (1, np.array((unit(way).real, unit(way).imag)))

    spline = CubicSpline(at, xy, bc_type=(held(start), held(end)))
    slopes = spline(at, 1)
    made = []
    for n, step in enumerate(steps):
        a, b = points[n], points[n + 1]
        made.append(Cubic(a, a + complex(*slopes[n]) * step / 3, b - complex(*slopes[n + 1]) * step / 3, b))
    return Path(tuple(made))


def without_arcs(segment: Segment) -> list[Line | Cubic]:
    """A segment as lines and curves; an arc in parts so short that the curves are it."""
    if not isinstance(segment, Arc):
        return [segment]
    count = max(math.ceil(abs(segment.sweep) / TURN), 1)
    found: list[Line | Cubic] = []
    rest = segment
    for left in range(count, 1, -1):
        first, rest = rest.split(1 / left)
        found += first.cubics()
    return [*found, *rest.cubics()]


def parts_of(path: Path) -> list[Line | Cubic]:
    """A path as lines and curves, its arcs in short parts."""
    return [part for segment in path.segments for part in without_arcs(segment)]


def mapped(path: Path, change: Callable[[Point], Point]) -> Path:
    """A path with its points and handles changed by a map that keeps straight lines straight; arcs become curves first."""
    return Path(
        tuple(
            Line(change(part.start), change(part.end))
            if isinstance(part, Line)
            else Cubic(change(part.start), change(part.out), change(part.into), change(part.end))
            for part in parts_of(path)
        )
    )
