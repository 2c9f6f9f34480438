"""Ease and cloth, what a plan needs, blocks of one's own, solving, line drawings, bands fitted to edges."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.drafting.kit import nearest, solve_between
from caddet.core.errors import CaddetError
from caddet.core.fitting.line_drawing import line_drawing
from caddet.core.formats.named_store import BLOCKS_KEPT
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, inverse
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.piece import Edge, Piece
from caddet.core.pattern.soundness import fault
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.changing import change_block
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.ease import FITS, EaseLevel, least_ease, stretch_remark, usual_ease
from caddet.core.recipe.planning import OwnBlock, begin_with, ease_of, needs
from caddet.core.recipe.registry import BLOCKS, block_named, blocks_using
from caddet.core.recipe.suitability import suitability
from tests.making import KNIT, WOVEN, drafted, pattern_of, step

ODILE = demo_document().person
BUST = EaseLevel("bust", "Bust", 80.0, "bust")


# --- ease and cloth ---------------------------------------------------------------------------


def test_ease_comes_from_fit_and_cloth_and_by_hand() -> None:
    assert usual_ease(BUST, "", 920, WOVEN) == 80 and usual_ease(BUST, "jacket", 920, WOVEN) == 160
    assert usual_ease(BUST, "knit_close", 920, KNIT) == pytest.approx(-46)
    document = demo_document().model_copy(update={"recipe": Recipe.of("bodice.darted", fit="loose_woven")})
    level = block_named("bodice.darted").ease[0]
    assert ease_of(document, level) == 127
    assert ease_of(edits.set_ease(document, "bust", 33.0), level) == 33
    assert edits.clear_ease(edits.set_ease(document, "bust", 33.0), "bust") == document
    assert edits.set_fit(edits.set_ease(document, "bust", 33.0), "jacket").recipe.ease == {}


@pytest.mark.parametrize("stretch", [0.0, 0.1, 0.3, 1.0, 3.0])
def test_negative_ease_takes_at_most_half_of_the_stretch(stretch: float) -> None:
    cloth = KNIT.model_copy(update={"stretch": stretch})
    ease = usual_ease(BUST, "swim", 920, cloth)
    assert ease >= least_ease(920, stretch) - 1e-9
    assert (920 + ease) * (1 + stretch / 2) >= 920 - 1e-6
    assert stretch_remark(BUST, ease, 920, cloth) == ("", False)


def test_more_than_half_the_stretch_is_warned_of_and_more_than_all_refused() -> None:
    cloth = KNIT.model_copy(update={"stretch": 0.3})
    tight, stops = stretch_remark(BUST, -150, 920, cloth)
    assert "More than half" in tight and not stops
    never, stops = stretch_remark(BUST, -400, 920, cloth)
    assert "can't be put on" in never and stops
    gone, stops = stretch_remark(BUST, -920, 920, cloth)
    assert "whole girth" in gone and stops
    made = drafted("top.knit", cloth=cloth, ease={"bust": -400.0})
    assert next(f for f in made.findings if f.code == "ease.stretch").place == "recipe.ease.bust"
    assert any(line.verdict == "fails" and line.label == "Ease" for line in made.proof)


@pytest.mark.parametrize("share", [-0.1, 3.5])
def test_a_cloth_that_can_not_be_is_refused(share: float) -> None:
    with pytest.raises(ValidationError):
        Cloth(name="x", width=1400.0, stretch=share)


def test_what_suits_and_what_does_not_is_said_with_the_reason() -> None:
    stiff = WOVEN.model_copy(update={"drape": "stiff"})
    told = suitability(block_named("top.cowl"), stiff)
    assert len(told) == 2 and all(f.place.startswith("cloth.") and stiff.name in f.sentence for f in told)
    assert not suitability(block_named("top.cowl"), WOVEN.model_copy(update={"drape": "soft"}))
    tired = KNIT.model_copy(update={"recovers": False})
    assert "hang out" in suitability(block_named("leggings"), tired)[0].sentence
    for block in BLOCKS.values():
        assert all(fit in FITS for fit in block.fits)


def test_cloths_are_added_and_chosen() -> None:
    document = edits.add_cloth(demo_document(), Cloth(name="Jersey", width=1600.0, kind="knit", stretch=0.5))
    assert document.chosen_cloth.name == "Jersey"
    with pytest.raises(CaddetError, match="already a cloth"):
        edits.add_cloth(document, Cloth(name="Jersey", width=1600.0))
    assert edits.change_cloth(document, drape="soft").chosen_cloth.drape == "soft"


# --- what is needed, and blocks of one's own --------------------------------------------------


def test_needs_say_what_is_there_estimated_and_missing() -> None:
    found = needs(Recipe.of("trousers.tailored"), ODILE)
    states = {need.code: need.state for need in found}
    assert states["waist"] == "there" and states["crotch_length"] == "estimated"
    assert all(need.error > 0 for need in found if need.state == "estimated")
    assert {need.state for need in needs(Recipe.of("skirt.straight"), Person(name="x"))} == {"missing"}
    assert [need.state for need in found] == sorted(
        (need.state for need in found), key=["missing", "estimated", "there"].index
    )


def test_a_measure_knows_the_blocks_that_ask_for_it() -> None:
    assert {"leggings", "trousers.tailored"} <= {block.name for block in blocks_using("crotch_length")}
    assert [block.name for block in blocks_using("torso")] == ["swimsuit"] and not blocks_using("weight_kg")


def test_a_block_of_ones_own_is_kept_and_used_again() -> None:
    document = begin_with(demo_document(), Recipe.of("bodice.darted", fit="jacket", options={"bust_dart": "none"}))
    document = edits.set_override(document, "armhole_depth", "scye_depth + 4cm")
    own = OwnBlock.of("Band jacket", document)
    BLOCKS_KEPT.keep(own)
    kept, findings = BLOCKS_KEPT.kept()
    assert kept == [own] and not findings
    again = begin_with(demo_document(), kept[0].recipe())
    first, second = (make(EvaluateRequest(d)).sums["armhole_depth"].value for d in (document, again))
    assert first == second and again.recipe.steps == ()
    (BLOCKS_KEPT.folder / "hurt.json").write_text("{")
    (BLOCKS_KEPT.folder / "later.json").write_text('{"format": 9, "block": {}}')
    kept, findings = BLOCKS_KEPT.kept()
    assert len(kept) == 1 and len(findings) == 2 and any("newer" in f.sentence for f in findings)
    BLOCKS_KEPT.forget("Band jacket")
    assert BLOCKS_KEPT.kept()[0] == []
    with pytest.raises(CaddetError, match="there is no block"):
        OwnBlock(name="x", block="gone").recipe()


# --- solving ----------------------------------------------------------------------------------


def test_a_root_is_looked_for_from_the_guess_outwards() -> None:
    assert solve_between(lambda x: x * x - 9, 2.5, -10, 10) == pytest.approx(3)
    assert solve_between(lambda x: x * x - 9, -2.5, -10, 10) == pytest.approx(-3)
    assert solve_between(lambda x: x * x + 1, 0, -10, 10) is None
    assert solve_between(lambda x: x - 4, 4, 0, 10) == 4
    assert solve_between(lambda x: 1 / (x - 5) if x != 5 else 1e9, 4.0, 0, 10) is None, "a jump is no root"
    value, off = nearest(lambda x: x * x + 1, 3, -10, 10)
    assert abs(value) < 0.5 and off == pytest.approx(1, abs=0.2)


def test_a_motion_is_undone_by_its_inverse() -> None:
    for motion in (Motion.rotation(0.7, 3 + 4j), Motion.reflection(1 + 0j, 2 + 5j), Motion.translation(5 - 2j)):
        for point in (0j, 3 + 1j, -20 + 7j):
            assert abs(inverse(motion)(motion(point)) - point) < 1e-9


def test_a_piece_that_can_not_be_cut_is_named() -> None:
    def piece(*points: complex) -> Piece:
        pairs = zip(points, (*points[1:], points[0]), strict=True)
        return Piece("p", "Piece", tuple(Edge(str(i), Path.polyline([a, b])) for i, (a, b) in enumerate(pairs)))

    assert fault(piece(0j, 100 + 0j, 100 + 100j, 100j)) == ""
    assert "crosses itself" in fault(piece(0j, 100 + 100j, 100 + 0j, 100j))
    assert "hardly anything" in fault(piece(0j, 5 + 0j, 5 + 5j))
    assert "worked out" in fault(piece(0j, complex(float("nan"), 0), 5 + 5j))
    open_ = Piece("p", "Piece", (Edge("a", Path.polyline([0j, 100 + 0j])), Edge("b", Path.polyline([90 + 50j, 0j]))))
    assert "open between" in fault(open_)


# --- line drawings ----------------------------------------------------------------------------


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_every_garment_has_a_drawing_in_the_wearers_proportions(name: str) -> None:
    pattern = pattern_of(drafted(name))
    front = line_drawing(pattern, "front")
    left, top, right, bottom = front.bounds
    assert front.shapes and right - left > 30 and bottom - top > 5
    assert (
        line_drawing(pattern, "back").shapes
        or block_named(name).family == "Bands and collars"
        or name in ("skirt.circle", "sleeve.set_in")
    )


def test_a_drawing_is_as_wide_as_the_garment_lies_flat_with_its_darts_closed() -> None:
    made = drafted("skirt.straight")
    left, _, right, _ = line_drawing(pattern_of(made), "front").bounds
    assert right - left == pytest.approx(2 * made.sums["front_hip"].value, abs=2)
    shape = line_drawing(pattern_of(made), "front").shapes[0]
    top = min(p.imag for p in shape)
    waist = [p.real for p in shape if p.imag < top + 12]
    assert max(waist) - min(waist) == pytest.approx(2 * made.sums["front_waist"].value, abs=14)
    assert line_drawing(pattern_of(drafted("cuff")), "back").bounds == (0, 0, 0, 0)


# --- bands fitted to edges --------------------------------------------------------------------


def test_bands_are_fitted_to_any_edges_and_follow_them() -> None:
    steps = (
        step("band", part="collar"),
        step("band", part="cuff", edges=("sleeve.hem",)),
        step("band", part="waistband", edges=("waist",)),
        step("band", part="hood"),
        step("band", part="neckband", ratio=0.8),
    )
    for who in (ODILE, demo_document().people[3]):
        made = drafted("bodice.darted", who, steps=steps)
        pattern = pattern_of(made)
        assert not [o.stuck for o in made.evaluated.outcomes if o.stuck]
        neck = 2 * (pattern.piece("front").run_length("neckline") + pattern.piece("back").run_length("neckline"))
        assert 2 * pattern.piece("s2.collar").run_length("neckline") == pytest.approx(neck, abs=0.01)
        assert pattern.piece("s6.neckband").run_length("neckline") == pytest.approx(0.8 * neck, abs=0.01)
        assert pattern.piece("s3.cuff").run_length("sleeve") == pytest.approx(
            pattern.piece("sleeve").run_length("hem"), abs=0.01
        )
        assert pattern.piece("s4.waistband").run_length("waist") == pytest.approx(
            made.sums["waist_round"].value, abs=0.1
        )
        seams = [line for line in made.proof if line.kind == "seam" and line.name != "s6.neckband.stretch"]
        assert all(line.holds for line in seams), "but that woven cloth can't be stretched"


def test_two_bands_of_a_kind_and_edges_that_are_gone() -> None:
    made = drafted("top.raglan", steps=(step("band"), step("band"), step("band", edges=("gone",)), step("band", edges=("nobody.neckline",)), step("band", part="waistband", edges=("front.raglan",), depth=250.0)))  # fmt: skip
    stuck = [o.stuck for o in made.evaluated.outcomes]
    assert (
        stuck[:2] == ["", ""]
        and "no edge" not in stuck[4]
        and "there is no edge “gone” in this garment" in stuck[2]
        and "there is no edge “nobody.neckline” in this garment" in stuck[3]
    )
    pattern = pattern_of(made)
    assert (
        pattern.has("s2.neckband")
        and pattern.has("s3.neckband")
        and len({seam.name for seam in pattern.seams}) == len(pattern.seams)
    )


def test_a_band_on_a_flared_skirt_is_redrawn_when_the_skirt_changes() -> None:
    long = drafted("skirt.circle", steps=(step("band", part="waistband", edges=("skirt.waist",)),), band=0.0)
    short = drafted(
        "skirt.circle",
        ODILE.with_measure("waist", 700.0),
        steps=(step("band", part="waistband", edges=("skirt.waist",)),),
        band=0.0,
    )
    assert (
        pattern_of(long).piece("s2.waistband").run_length("waist")
        > pattern_of(short).piece("s2.waistband").run_length("waist") + 40
    )


def test_a_project_is_begun_anew_with_another_block() -> None:
    before = demo_document()
    after = begin_with(before, Recipe.of("leggings"))
    assert after.recipe.steps == () and after.people == before.people and before.recipe.steps


def test_another_block_keeps_the_steps_that_find_their_place() -> None:
    before = demo_document()
    labels = {step.id: step.kind for step in before.recipe.steps}
    changed = change_block(before, Recipe.of("skirt.circle"))
    steps = changed.document.recipe.steps
    assert [step.id for step in steps] == list(labels) and len(changed.kept) + len(changed.off) == len(labels)
    assert changed.off and [step.on for step in steps].count(False) == len(changed.off)
    made = make(EvaluateRequest(changed.document))
    assert made.pattern is not None and not [o.stuck for o in made.evaluated.outcomes if o.stuck]
    again = change_block(before, Recipe.of("skirt.straight"))
    assert not again.off and all(step.on for step in again.document.recipe.steps)
    assert make(EvaluateRequest(again.document)).pattern == make(EvaluateRequest(before)).pattern or len(
        again.kept
    ) == len(labels)
    assert change_block(before.model_copy(update={"recipe": Recipe.of("leggings")}), Recipe.of("collar")).kept == ()


def test_a_cloth_is_called_otherwise_and_its_roles_go_with_it() -> None:
    document = edits.choose_cloth(
        edits.add_cloth(demo_document(), Cloth(name="Jersey", width=1600.0)), "Jersey", "lining"
    )
    renamed = edits.change_cloth(document, name="Bell jersey")
    assert renamed.roles["main"] == renamed.roles["lining"] == "Bell jersey"
    assert renamed.roles["interfacing"] == document.roles["interfacing"], "what another cloth is chosen for stays"
    assert [cloth.name for cloth in renamed.cloths] == [
        "Bell jersey" if c.name == "Jersey" else c.name for c in document.cloths
    ]
    with pytest.raises(CaddetError, match="already a cloth called"):
        edits.change_cloth(document, name=demo_document().cloth)


def test_a_usual_cloth_comes_into_the_document_with_its_first_change() -> None:
    document = demo_document()
    assert "rib" not in document.roles
    changed = edits.change_cloth(document, "rib", width=700.0)
    assert changed.cloth_for("rib").width == 700.0 and changed.roles["rib"] == "Rib"
    assert changed.chosen_cloth == document.chosen_cloth
    other = edits.set_lay(document, "interfacing", gap=8.0)
    assert other.lay_for("interfacing") == document.lay.model_copy(update={"gap": 8.0}) and other.lay == document.lay
