"""Garments that fit and what is always changed: read as typed, kept with the person, offered as ease."""

from __future__ import annotations

from pathlib import Path

import pytest

from caddet.core.body.kept import read_adjustment, read_liked
from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.recipe import edits
from caddet.core.recipe.planning import ease_of, fit_like
from caddet.core.recipe.registry import block_named


def test_a_garment_is_read_as_it_is_typed() -> None:
    liked = read_liked("grey trousers: hip 104, upper arm 33.5, largest girth 41 in", "cm")
    assert liked.name == "grey trousers" and liked.girths == pytest.approx(
        {"hip": 1040.0, "upper_arm": 335.0, "largest_girth": 41 * 25.4}
    )
    change = read_adjustment("torso longer: 2, since always", "cm")
    assert (change.what, change.amount, change.reason) == ("torso longer", 20.0, "since always")
    assert read_adjustment("left shoulder: -3/8", "in").amount == pytest.approx(-9.525)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "hip 104",
        "trousers:",
        "trousers: seam 104",
        "trousers: hip",
        "trousers: hip many",
        "trousers: hip 9999",
        ": hip 104",
    ],
)
def test_a_bad_garment_is_refused_in_a_sentence(text: str) -> None:
    with pytest.raises(InputError) as told:
        read_liked(text, "cm")
    assert len(str(told.value)) > 25


@pytest.mark.parametrize("text", ["", "longer", "longer:", ": 2", "longer: much", "longer: 900"])
def test_a_bad_change_is_refused_in_a_sentence(text: str) -> None:
    with pytest.raises(InputError) as told:
        read_adjustment(text, "cm")
    assert len(str(told.value)) > 15


def test_a_garment_that_fits_is_a_way_of_fitting_and_is_kept(tmp_path: Path) -> None:
    document = demo_document()
    liked = read_liked("market skirt: hip 105, thigh 70", "cm")
    kept = edits.change_person(
        document, document.wearer, liked=(liked,), adjustments=(read_adjustment("waist lower in front: 1", "cm"),)
    )
    fitted = fit_like(kept, liked)
    levels = {level.level: level for level in block_named(document.recipe.block).ease}
    assert ease_of(fitted, levels["hip"]) == pytest.approx(1050 - document.person.measures["hip"])
    assert ease_of(fitted, levels["waist"]) == ease_of(document, levels["waist"]), (
        "where it was not measured nothing changes"
    )
    save_project(fitted, tmp_path / "kept.caddet", no_pictures)
    assert open_project(tmp_path / "kept.caddet").document == fitted
