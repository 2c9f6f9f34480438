"""A fair curve along many points: the fewest cubics that stay within a tolerance of all of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Point

MOST = 16  # cubics in one curve
ROUNDS = 4  # of finding each point's place on the curve anew
HOLD = 1e4  # how much more an end weighs than a point between


def fair_through(points: Sequence[Point], tolerance: float = 1.0) -> tuple[Path, float]:
    """The smooth path from the first point to the last with the fewest cubics that passes every point within a tolerance.

    Returns it and how far it strays from the farthest point, in mm. A line where the points lie on one within the
    tolerance. With :data:`MOST` cubics it is what it is. Raises :class:`ValueError` for fewer than two points, or for
    points that are all one.
    """
    z = np.asarray(points, dtype=complex)
    keep = np.concatenate([[True], np.abs(np.diff(z)) > 1e-9])
    z = z[keep]
    if len(z) < 2:
        raise ValueError("a curve needs two points that are not one")
    chord = z[-1] - z[0]
    if abs(chord) > 1e-9:
        way = chord / abs(chord)
        along, off = ((z - z[0]) * way.conjugate()).real, np.abs(((z - z[0]) * way.conjugate()).imag)
        if off.max() <= tolerance * 0.5 and np.all(along > -tolerance) and np.all(along < abs(chord) + tolerance):
            return Path((Line(complex(z[0]), complex(z[-1])),)), float(off.max())
    best: tuple[Path, float] | None = None
    for count in range(1, MOST + 1):
        if len(z) < count + 3:
            break
        made = _fitted(z, count)
        if best is None or made[1] < best[1]:
            best = made
        if made[1] <= tolerance:
            return made
    return best if best is not None else (Path.polyline([complex(p) for p in z]), 0.0)


def _fitted(z: NDArray[np.complex128], count: int) -> tuple[Path, float]:
    """The least-squares spline of so many cubics through both ends, and how far its farthest point lies from it."""
    from scipy.interpolate import make_lsq_spline  # takes longer to import than the window to open

    t = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(z)))])
    t /= t[-1]
    weights = np.ones(len(z))
    weights[[0, -1]] = HOLD
    curve, stray = None, np.inf
    for _ in range(ROUNDS):
        inner = np.quantile(t, np.linspace(0, 1, count + 1)[1:-1])
        knots = np.concatenate([[0.0] * 4, inner, [1.0] * 4])
        try:
            spline = make_lsq_spline(t, np.column_stack([z.real, z.imag]), knots, 3, weights)
        except (ValueError, np.linalg.LinAlgError):
            break
        places = np.linspace(0, 1, max(40 * count, 200))
        dense = spline(places) @ np.array([1, 1j])
        gaps = np.abs(dense[None, :] - z[:, None])
        nearest = gaps.argmin(axis=1)
        away = _to_segments(dense, z, nearest)
        if away.max() < stray:
            curve, stray = spline, float(away.max())
        t = places[nearest]
        t[0], t[-1] = 0.0, 1.0
        t = np.maximum.accumulate(t)
        t = t + np.linspace(0, 1e-9, len(t))  # no two places are one
        t /= t[-1]
    if curve is None:
        return Path.polyline([complex(p) for p in z]), 0.0
    breaks = np.unique(curve.t)
    ends = curve(breaks) @ np.array([1, 1j])
    slopes = curve.derivative()(breaks) @ np.array([1, 1j])
    made = [
        Cubic(
            complex(ends[n]),
            complex(ends[n] + slopes[n] * h / 3),
            complex(ends[n + 1] - slopes[n + 1] * h / 3),
            complex(ends[n + 1]),
        )
        for n, h in enumerate(np.diff(breaks))
    ]
    made[0] = Cubic(complex(z[0]), made[0].out, made[0].into, made[0].end)
    made[-1] = Cubic(made[-1].start, made[-1].out, made[-1].into, complex(z[-1]))
    return Path(tuple(made)), stray


def _to_segments(
    dense: NDArray[np.complex128], z: NDArray[np.complex128], nearest: NDArray[np.intp]
) -> NDArray[np.float64]:
    """How far points lie from a polyline, whose nearest corners are known."""
    away = np.full(len(z), np.inf)
    for side in (-1, 0):
        low = np.clip(nearest + side, 0, len(dense) - 2)
        a, b = dense[low], dense[low + 1]
        share = ((z - a) * (b - a).conjugate()).real / np.maximum(np.abs(b - a) ** 2, 1e-18)
        away = np.minimum(away, np.abs(a + np.clip(share, 0, 1) * (b - a) - z))
    return away
