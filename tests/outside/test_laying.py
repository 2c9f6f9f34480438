"""Lays on the synthetic sets are legal by shapely, and better than a shelf."""

from __future__ import annotations

import json

import pytest
import shapely

from bench.laying import pieces
from caddet.core.laying.plan import plan_lay
from caddet.core.recipe.choices import Cloth, LayChoices
from tests.making import DATA


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
