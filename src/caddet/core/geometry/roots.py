"""Roots: one value where a function changes sign, and the real roots of a cubic.

SciPy's ``brentq`` does the first as well; importing ``scipy.optimize`` takes longer than everything
else before the window is up, and these thirty lines agree with it (``tests/outside``).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise


def root_between(function: Callable[[float], float], low: float, high: float, near: float = 1e-6) -> float | None:
    """Where ``function`` changes sign between ``low`` and ``high``, to ``near``; None when it doesn't.

    Brent's method (R. P. Brent, "Algorithms for Minimization without Derivatives", 1973, from memory):
    inverse quadratic or secant steps, a bisection whenever they would be slow. At most 100 calls.
    """
    a, b = low, high
    at_a, at_b = function(a), function(b)
    if at_a == 0:
        return a
    if at_b == 0:
        return b
    if (at_a > 0) == (at_b > 0) or not math.isfinite(at_a + at_b):
        return None
    c, at_c = a, at_a
    step = before = b - a
    for _ in range(98):
        if (at_b > 0) == (at_c > 0):  # the root lies between b and a: c is the other end of the bracket
            c, at_c = a, at_a
            step = before = b - a
        if abs(at_c) < abs(at_b):  # b is kept the best so far
            a, b, c = b, c, b
            at_a, at_b, at_c = at_b, at_c, at_b
        half = (c - b) / 2
        if abs(half) <= near / 2 or at_b == 0:
            return b
        if abs(before) >= near / 2 and abs(at_a) > abs(at_b):
            s = at_b / at_a
            if a == c:
                p, q = 2 * half * s, 1 - s
            else:
                q, r = at_a / at_c, at_b / at_c
                p, q = s * (2 * half * q * (q - r) - (b - a) * (r - 1)), (q - 1) * (r - 1) * (s - 1)
            q = -q if p > 0 else q
            p = abs(p)
            good = 2 * p < min(3 * half * q - abs(near / 2 * q), abs(before * q))
            before, step = (step, p / q) if good else (half, half)
        else:
            before = step = half
        a, at_a = b, at_b
        b += step if abs(step) > near / 2 else math.copysign(near / 2, half)
        at_b = function(b)
    return b


def root_near(function: Callable[[float], float], guess: float, reach: float, near: float = 1e-6) -> float | None:
    """A root within ``reach`` of a good guess, for a function that rises about as fast as its argument.

    Secant steps, which settle in two or three; when they don't, the bracket is searched ever wider.
    None when there is no change of sign within reach.
    """
    a, at_a = guess, function(guess)
    b = a - at_a
    for _ in range(5):
        if not abs(b - guess) <= reach:
            break
        at_b = function(b)
        if abs(at_b) <= near or at_b == at_a:
            if abs(at_b) <= near:
                return b
            break
        a, at_a, b = b, at_b, b - at_b * (b - a) / (at_b - at_a)
    for share in (0.05, 0.25, 1.0):
        found = root_between(function, guess - reach * share, guess + reach * share, near)
        if found is not None:
            return found
    return None


def pair_near(
    function: Callable[[float, float], tuple[float, float]], x: float, y: float, near: float = 1e-6
) -> tuple[float, float] | None:
    """Two unknowns at which two values are 0, from a good guess; None when that does not settle.

    Broyden's steps (C. G. Broyden, 1965): Newton's, with slopes taken once and then kept up from what each step did.
    """
    f, g = function(x, y)
    h = 0.5
    (fx, gx), (fy, gy) = function(x + h, y), function(x, y + h)
    a, b, c, d = (fx - f) / h, (fy - f) / h, (gx - g) / h, (gy - g) / h
    for _ in range(8):
        if abs(f) <= near and abs(g) <= near:
            return x, y
        determinant = a * d - b * c
        if not abs(determinant) > 1e-9:
            return None
        dx, dy = (b * g - d * f) / determinant, (c * f - a * g) / determinant
        size = dx * dx + dy * dy
        if not 0 < size < 1e8:
            return None
        x, y = x + dx, y + dy
        f, g = function(x, y)
        a, b = a + f * dx / size, b + f * dy / size  # after a full step what is left is what the slopes missed
        c, d = c + g * dx / size, d + g * dy / size
    return None


def cubic_roots(a: float, b: float, c: float, d: float) -> list[float]:
    """Real roots in [0, 1] of ``a t³ + b t² + c t + d``, ascending."""
    scale = max(abs(a), abs(b), abs(c), abs(d))
    if scale == 0:
        return []
    turns = [t for t in _quadratic_roots(3 * a, 2 * b, c, scale) if 0 < t < 1]
    found: list[float] = []
    for low, high in pairwise([0.0, *sorted(turns), 1.0]):
        root = _monotone_root(a, b, c, d, low, high, scale)
        if root is not None and (not found or root - found[-1] > 1e-9):
            found.append(root)
    return found


def quadratic_roots(a: float, b: float, c: float) -> list[float]:
    """Real roots of ``a t² + b t + c``, ascending; none when all three are 0."""
    return sorted(_quadratic_roots(a, b, c, max(abs(a), abs(b), abs(c))))


def _quadratic_roots(a: float, b: float, c: float, scale: float) -> list[float]:
    if abs(a) < 1e-14 * scale:
        return [-c / b] if abs(b) > 1e-14 * scale else []
    under = b * b - 4 * a * c
    if under < 0:
        return []
    half = -0.5 * (b + math.copysign(math.sqrt(under), b))
    return [half / a, c / half] if half else [0.0]


def _monotone_root(a: float, b: float, c: float, d: float, low: float, high: float, scale: float) -> float | None:
    """The root between two turns of a cubic, by Newton kept inside its bracket."""

    def value(t: float) -> float:
        return ((a * t + b) * t + c) * t + d

    at_low, at_high = value(low), value(high)
    for end, off in ((low, at_low), (high, at_high)):
        if abs(off) <= 1e-12 * scale:
            return end
    if (at_low > 0) == (at_high > 0):
        return None
    rising = at_high > 0
    t = (low + high) / 2
    for _ in range(60):
        off = value(t)
        if (off > 0) == rising:
            high = t
        else:
            low = t
        slope = (3 * a * t + 2 * b) * t + c
        step = t - off / slope if slope else math.inf
        after = step if low < step < high else (low + high) / 2
        if abs(after - t) < 1e-14:
            break
        t = after
    return t
