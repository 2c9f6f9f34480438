"""Lays on the synthetic sets are legal by shapely; estimates are the least-squares fit they claim to be."""

from __future__ import annotations

import csv
import json

import numpy as np
import pytest
import shapely
from bench.laying import pieces

from caddet.core.body.estimates import _BY_FIT, estimate
from caddet.core.body.person import Person
from caddet.core.laying.plan import plan_lay
from caddet.core.recipe.choices import Cloth, LayChoices
from tests.making import DATA, bodies


@pytest.mark.parametrize("name", ["skirt", "trousers"])
@pytest.mark.parametrize("fold", ["open", "folded"])
def test_a_lay_of_a_synthetic_set_is_legal_and_no_worse_than_a_shelf(name: str, fold: str) -> None:
    """Shelf layouts of these sets need 138.7 cm (skirt) and 240 cm (trousers) on 140 cm cloth (our own trial)."""
    shelf = {"skirt": 1387.0, "trousers": 2400.0}[name]
    plan = plan_lay(pieces(name), Cloth(name="c", width=1400.0), LayChoices(fold=fold), seconds=2.0)  # type: ignore[arg-type]
    shapes = [shapely.Polygon([(p.real, p.imag) for p in placed.outline]) for placed in plan.placed]
    entries = json.loads((DATA / "lay-sets.json").read_text())["sets"][name]
    assert len(shapes) >= len(entries)
    for index, shape in enumerate(shapes):
        left, top, right, bottom = shape.bounds
        assert left >= -1e-6 and top >= -1e-6 and right <= plan.length + 1e-6 and bottom <= plan.width + 1e-6
        assert all(shape.distance(other) >= 3.0 - 1e-3 for other in shapes[:index])
    assert plan.length < shelf
    for placed in plan.placed:
        entry = next(e for e in entries if e["name"] == placed.piece)
        if fold == "folded" and entry["on_fold"]:
            assert placed.on_fold and min(p.imag for p in placed.outline) == pytest.approx(0, abs=1e-6)


def test_the_shipped_coefficients_are_the_fit_on_the_bodies() -> None:
    with (DATA / "bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    column = {name: np.array([float(row[name]) * 10 for row in rows]) for name in ("height", "waist", "hip")}
    for target, fits in _BY_FIT.items():
        for constant, factors, spread in fits:
            table = np.column_stack([np.ones(len(rows)), *(column[name] for name in factors)])
            fit, *_ = np.linalg.lstsq(table, column[target], rcond=None)
            assert constant == pytest.approx(fit[0], abs=0.06)
            assert list(factors.values()) == pytest.approx(list(fit[1:]), abs=6e-5)
            assert spread == pytest.approx(float(np.std(column[target] - table @ fit)), abs=0.06)


def test_two_estimates_in_three_lie_within_their_stated_error() -> None:
    """A spread is one standard deviation: about 68 % of a normal sample lies within it."""
    within = 0
    for who in bodies():
        guess = estimate(
            Person(name="x", measures={"waist": who.measures["waist"], "height": who.measures["height"]}), "hip"
        )
        assert guess is not None
        within += abs(guess.value - who.measures["hip"]) <= guess.error
    assert 0.58 <= within / 254 <= 0.8


def test_the_ranges_doubt_no_real_body_and_every_slipped_unit() -> None:
    from caddet.core.body.doubts import doubts

    doubted = [who.name for who in bodies() if any(d.code == "measure.range" for d in doubts(who))]
    assert len(doubted) <= 254 * 0.02
    for who in bodies():
        for code in ("waist", "hip", "bust"):
            slipped = who.with_measure(code, who.measures[code] / 2.54)  # inches read, cm written
            found = [d for d in doubts(slipped) if d.place == f"person.{code}"]
            small = who.measures[code] / 2.54 < 440
            assert bool(found) == small or found
