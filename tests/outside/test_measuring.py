"""Measuring against things outside: the real bodies, a reference regression, the size standard, exact inches."""

from __future__ import annotations

import csv
from fractions import Fraction
from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.body.doubts import doubts
from caddet.core.body.estimates import body_data, estimate
from caddet.core.body.growth import CHART, average_height
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.body.sizes import letter_of, nearest_size, shipped_table
from caddet.core.lengths import format_length, parse_length
from tests.making import DATA
from tests.share import share

INCH = 2.54


@lru_cache(maxsize=1)
def measured() -> tuple[Person, ...]:
    """The 254 adults with every measure the data set has."""
    with (DATA / "bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    codes = [code for code in rows[0] if code in MEASURES]
    return tuple(
        Person.of(row["name"], {c: float(row[c]) * (1 if c == "weight_kg" else 10) for c in codes}) for row in rows
    )


def test_the_ranges_doubt_at_most_two_values_in_a_hundred_of_real_bodies() -> None:
    values = sum(len(who.measures) for who in measured())
    doubted = sum(len({doubt.code for doubt in doubts(who)}) for who in measured())
    assert values == 254 * 12 and doubted <= 0.02 * values


@pytest.mark.parametrize("factor", [INCH, 1 / INCH])
def test_every_value_with_a_slipped_unit_is_doubted_and_mostly_mended(factor: float) -> None:
    mended = slips = 0
    for who in share(measured(), 3):
        for code, value in who.measures.items():
            if MEASURES[code].kind == "weight":
                continue
            found = [d for d in doubts(who.with_measure(code, value * factor)) if d.code == code]
            assert found, f"{who.name}: {code} of {value:g} slipped to {value * factor:g} unseen"
            slips += 1
            mended += any(fix.value is not None and abs(fix.value - value) < 0.5 for d in found for fix in d.fixes)
    assert mended >= 0.99 * slips


def test_a_whole_sheet_in_the_wrong_unit_is_doubted_too() -> None:
    for who in measured()[::10]:
        wrong = Person.of("x", {code: value / INCH for code, value in who.measures.items() if code != "weight_kg"})
        assert {"height", "bust", "hip"} <= {doubt.code for doubt in doubts(wrong)}


def test_the_shipped_regression_is_ordinary_least_squares() -> None:
    """Means and covariances must give what numpy's least squares gives on the same logarithms."""
    names = body_data()["names"]
    table = np.log([[who.measures[name] for name in names] for who in measured()])
    for target, used in (("thigh", ["hip"]), ("wrist", ["height", "upper_arm"]), ("waist", ["height", "bust", "hip"])):
        columns = [names.index(name) for name in used]
        design = np.column_stack([np.ones(len(table)), table[:, columns]])
        fit, *_ = np.linalg.lstsq(design, table[:, names.index(target)], rcond=None)
        spread = float(np.std(table[:, names.index(target)] - design @ fit))
        for who in measured()[::40]:
            have = {name: who.measures[name] for name in used}
            expected = float(np.exp(fit[0] + fit[1:] @ np.log(list(have.values()))))
            guess = estimate(Person.of("x", have), target)
            assert guess is not None and guess.value == pytest.approx(expected, rel=2e-4)
            assert guess.error / guess.value == pytest.approx(spread, rel=0.02)


def test_two_estimates_in_three_lie_within_their_stated_error() -> None:
    """A ± is one standard deviation: about 68 % of a normal sample lies within it."""
    for code in ("thigh", "calf", "upper_arm", "wrist", "across_shoulders"):
        within = 0
        for who in measured():
            few = Person.of("x", {name: who.measures[name] for name in ("height", "bust", "waist", "hip")})
            guess = estimate(few, code)
            assert guess is not None
            within += abs(guess.value - who.measures[code]) <= guess.error
        assert 0.58 <= within / 254 <= 0.8, code


def test_rows_46_to_48_size_designation() -> None:
    """EN 13402-3, from memory: women 92 is waist 76, hip 100; women's M is bust 90 to 98; men 100 is waist 88."""
    women, men = shipped_table("women"), shipped_table("men")
    assert (women.size("92").measures["waist"], women.size("92").measures["hip"]) == (760, 1000)
    low, high = next((low, high) for name, low, high in women.letters if name == "M")
    assert (low, high) == (900, 980) and letter_of(women.letters, 900) == letter_of(women.letters, 979) == "M"
    assert men.size("100").measures["waist"] == 880


def test_size_tables_rise_and_their_letters_touch() -> None:
    for key in ("women", "men", "children"):
        table = shipped_table(key)
        for before, after in zip(table.sizes, table.sizes[1:], strict=False):
            assert all(before.measures[code] < after.measures[code] for code in table.codes)
        for (_, _, end), (_, begin, _) in zip(table.letters, table.letters[1:], strict=False):
            assert end == begin
        for size in table.sizes:
            found = nearest_size(table, size.measures)
            assert found is not None and found.size == size and found.distance == 0


@given(st.integers(1, 200 * 16))
def test_a_sixteenth_of_an_inch_survives_any_number_of_unit_switches(sixteenths: int) -> None:
    """Exact: every sixteenth up to 200 inches shows as itself again after cm were shown between."""
    inches = Fraction(sixteenths, 16)
    mm = parse_length(f"{inches.numerator}/{inches.denominator}", "in")
    shown = format_length(mm, "in")
    for _ in range(3):
        format_length(mm, "cm")
        assert format_length(mm, "in") == shown
        mm = parse_length(shown, "in")
    assert parse_length(shown, "in") == float(inches * Fraction(254, 10))


def test_all_sixteenths_up_to_two_hundred_inches() -> None:
    for sixteenths in range(1, 200 * 16 + 1):
        mm = float(Fraction(sixteenths, 16) * Fraction(254, 10))
        assert parse_length(format_length(mm, "in"), "in") == mm


def test_growth_of_the_chart_is_that_of_a_child() -> None:
    """Common knowledge, from memory of growth charts: 5 to 7 cm a year at school age, hardly any at seventeen."""
    for years in range(5, 13):
        assert 50 <= average_height(12 * (years + 1)) - average_height(12 * years) <= 70
    assert average_height(18 * 12) - average_height(17 * 12) < 10
    assert [high for _, high in CHART] == sorted(high for _, high in CHART)
