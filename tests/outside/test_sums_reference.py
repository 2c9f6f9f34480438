"""Formulas against Python's own arithmetic, solving against SciPy's: the same numbers by other means, and always an end."""

from __future__ import annotations

import math
from collections.abc import Callable

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from caddet.core.drafting.kit import CLOSE, SCAN, nearest, solve_between
from caddet.core.figures.language import FormulaError, Quantity, names_in, parse, work_out, written

NAMES = {"bust": 920.0, "waist": 761.5, "ease": 37.0}
QUANTITIES = {name: Quantity(value, 1) for name, value in NAMES.items()}
LABELS = {name: name for name in NAMES}

# a length as Caddet writes it and as Python does, in mm
leaf = st.one_of(
    st.sampled_from([(name, name) for name in NAMES]),
    st.integers(1, 400).map(lambda n: (f"{n / 10}cm", f"({n} * 1.0)")),
    st.integers(1, 40).map(lambda n: (f"{n}/8in", f"({n} / 8 * 25.4)")),
    st.integers(1, 900).map(lambda n: (f"{n}mm", f"{n}.0")),
)


def grown(inner: st.SearchStrategy[tuple[str, str]]) -> st.SearchStrategy[tuple[str, str]]:
    both = st.tuples(inner, inner)
    factor = st.integers(1, 9)
    return st.one_of(
        both.map(lambda p: (f"({p[0][0]} + {p[1][0]})", f"({p[0][1]} + {p[1][1]})")),
        both.map(lambda p: (f"({p[0][0]} - {p[1][0]})", f"({p[0][1]} - {p[1][1]})")),
        both.map(lambda p: (f"min({p[0][0]}, {p[1][0]})", f"min({p[0][1]}, {p[1][1]})")),
        both.map(lambda p: (f"max({p[0][0]}, {p[1][0]})", f"max({p[0][1]}, {p[1][1]})")),
        both.map(lambda p: (f"slant({p[0][0]}, {p[1][0]})", f"math.hypot({p[0][1]}, {p[1][1]})")),
        both.map(
            lambda p: (
                f"if({p[0][0]} > {p[1][0]}, {p[0][0]}, {p[1][0]})",
                f"({p[0][1]} if {p[0][1]} > {p[1][1]} else {p[1][1]})",
            )
        ),
        st.tuples(inner, factor).map(lambda p: (f"{p[0][0]} × {p[1]}", f"{p[0][1]} * {p[1]}")),
        st.tuples(inner, factor).map(lambda p: (f"{p[0][0]} ÷ {p[1]}", f"{p[0][1]} / {p[1]}")),
        inner.map(lambda p: (f"quarter({p[0]})", f"({p[1]} / 4)")),
        inner.map(lambda p: (f"abs({p[0]})", f"abs({p[1]})")),
        inner.map(lambda p: (f"stretched({p[0]}, 0.3)", f"({p[1]} / 1.3)")),
        inner.map(lambda p: (f"arc({p[0]}, 0.25)", f"(2 * math.pi * {p[1]} * 0.25)")),
    )


@settings(max_examples=300, deadline=None)
@given(st.recursive(leaf, grown, max_leaves=9))
def test_a_formula_comes_to_what_python_makes_of_it(pair: tuple[str, str]) -> None:
    ours, python = pair
    wanted = eval(python, {"math": math, "min": min, "max": max, "abs": abs}, dict(NAMES))
    found = work_out(parse(ours), QUANTITIES)
    assert found.dimension == 1
    assert found.value == pytest.approx(wanted, rel=1e-9, abs=1e-6)
    assert names_in(parse(ours)) <= set(NAMES)
    for unit in ("cm", "in"):
        told = written(parse(ours), QUANTITIES, LABELS, unit)  # type: ignore[arg-type]
        assert told and all(name in told for name in names_in(parse(ours)))


@settings(max_examples=150, deadline=None)
@given(st.recursive(leaf, grown, max_leaves=6), st.sampled_from(["+ 3", "- 2", "< 4", "> 1"]))
def test_a_length_and_a_bare_number_never_mix(pair: tuple[str, str], tail: str) -> None:
    with pytest.raises(FormulaError) as caught:
        work_out(parse(f"({pair[0]}) {tail}"), QUANTITIES)
    assert "unit" in str(caught.value) and 0 <= caught.value.position < len(pair[0]) + 8


@settings(max_examples=200, deadline=None)
@given(st.floats(-90, 90), st.floats(0.2, 6), st.floats(-3, 3), st.floats(0, 1))
def test_a_root_that_is_there_is_found_where_scipy_finds_it(
    root: float, slope: float, bend: float, share: float
) -> None:
    """Rising curves with one root: found to the same place, from any guess."""

    def miss(value: float) -> float:
        off = value - root
        return slope * off + bend * bend * off**3 / 400

    found = solve_between(miss, -100 + 200 * share, -100, 100)
    assert found is not None
    assert found == pytest.approx(brentq(miss, -100, 100, xtol=1e-12), abs=2 * CLOSE / min(slope, 1.0))


NEVER: list[tuple[str, Callable[[float], float]]] = [
    ("always above", lambda v: 1 + v * v),
    ("a step over nothing", lambda v: 50.0 if v > 3 else -50.0),
    ("a pole", lambda v: 1000 / (v - 7.3) if abs(v - 7.3) > 1e-9 else 1e12),
    ("flat", lambda v: 4.0),
    ("wild", lambda v: 3 + 2 * math.sin(v * 997)),
]


@pytest.mark.parametrize(("name", "miss"), NEVER)
def test_where_there_is_no_root_the_search_ends_and_tells_the_nearest(
    name: str, miss: Callable[[float], float]
) -> None:
    """Bounded: no more than a few hundred looks, whatever the figures are."""
    looks = 0

    def counted(value: float) -> float:
        nonlocal looks
        looks += 1
        return miss(value)

    assert solve_between(counted, 10.0, -100.0, 100.0) is None
    at, by = nearest(counted, 10.0, -100.0, 100.0)
    assert -100 <= at <= 100 and by == miss(at)
    assert all(abs(by) <= abs(miss(-100 + 200 * n / SCAN)) for n in range(SCAN + 1))
    assert looks < 60 * SCAN


@pytest.mark.parametrize("guess", [-100.0, -20.0, 0.0, 35.0, 100.0])
def test_of_several_roots_one_within_bounds_is_taken_and_it_is_one(guess: float) -> None:
    roots = (-60.0, 5.0, 70.0)

    def miss(value: float) -> float:
        return math.prod(value - root for root in roots) / 3000

    found = solve_between(miss, guess, -100, 100)
    assert found is not None and min(abs(found - root) for root in roots) < 0.01
