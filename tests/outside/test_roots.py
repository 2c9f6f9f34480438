"""Our bracketed root against SciPy's ``brentq``, and cubic roots against NumPy's."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.optimize import root as root_of_several

from caddet.core.geometry.roots import cubic_roots, pair_near, root_between


@pytest.mark.parametrize(
    ("function", "low", "high"),
    [
        (lambda x: x**3 - 2, 0.0, 5.0),
        (lambda x: math.cos(x) - x, 0.0, 2.0),
        (lambda x: math.exp(x) - 50, -10.0, 40.0),
        (lambda x: x - 3, -1e4, 1e4),
        (lambda x: math.atan(x - 1), -1e3, 1e3),
        (lambda x: -x, -1.0, 2.0),
    ],
)
def test_brackets_agree_with_scipy(function: object, low: float, high: float) -> None:
    calls = []

    def counted(x: float) -> float:
        calls.append(x)
        return float(function(x))  # type: ignore[operator]

    ours = root_between(counted, low, high, 1e-9)
    theirs = brentq(function, low, high, xtol=1e-12)
    assert ours == pytest.approx(theirs, abs=1e-7)
    assert len(calls) <= 100


def test_no_change_of_sign_is_no_root() -> None:
    assert root_between(lambda x: x * x + 1, -1, 1) is None
    assert root_between(lambda x: math.nan, -1, 1) is None
    assert root_between(lambda x: x, 0, 1) == 0


@given(st.lists(st.floats(-3, 3), min_size=3, max_size=3), st.floats(0.1, 50))
def test_cubic_roots_agree_with_numpy(roots: list[float], scale: float) -> None:
    a, b, c, d = (float(v) * scale for v in np.poly(roots))
    ours = cubic_roots(a, b, c, d)
    for root in ours:
        assert min(abs(root - wanted) for wanted in roots) < 1e-3
    simple = [r for r in roots if 0.001 < r < 0.999 and all(abs(r - o) > 0.05 for o in roots if o is not r)]
    for root in simple:
        assert min((abs(root - found) for found in ours), default=1.0) < 1e-5


@pytest.mark.parametrize(
    ("function", "start"),
    [
        (lambda x, y: (x * x + y * y - 25, x - y + 1), (2.0, 5.0)),
        (lambda x, y: (math.exp(x / 10) - y, x + 2 * y - 8), (1.0, 1.0)),
        (lambda x, y: (3 * x + y - 9, x - 4 * y + 10), (50.0, -50.0)),
    ],
)
def test_two_unknowns_against_scipy(
    function: Callable[[float, float], tuple[float, float]], start: tuple[float, float]
) -> None:
    ours = pair_near(function, *start)
    theirs = root_of_several(lambda v: function(*v), start).x
    assert ours == pytest.approx(tuple(theirs), abs=1e-6)


def test_two_unknowns_that_can_not_be_met_are_none() -> None:
    assert pair_near(lambda x, y: (x * x + y * y + 1, x - y), 1.0, 1.0) is None
    assert pair_near(lambda x, y: (x + y, x + y + 1), 1.0, 1.0) is None, "two lines that never meet"
