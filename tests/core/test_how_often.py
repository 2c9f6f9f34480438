"""How often edges are there, by fold, pair and count, and that both sides of every seam are there equally often."""

from __future__ import annotations

from dataclasses import replace

import pytest

from caddet.core.designs import ORDER, design_named
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.how_often import BOTH, as_often, of_edge, of_layer, of_piece
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.registry import BLOCKS, STEPS, step_entry
from tests.core.test_contract import options_of
from tests.making import drafted, full_people, pattern_of, step

WHO = full_people()[0]


def _off(pattern: Pattern) -> list[str]:
    return [seam.name for seam in pattern.seams if not as_often(pattern, seam)]


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_both_sides_of_every_seam_of_every_block_are_there_equally_often(name: str) -> None:
    for options in options_of(BLOCKS[name]):
        pattern = drafted(name, WHO, **options).pattern
        assert pattern is None or not _off(pattern), options


@pytest.mark.parametrize("name", ORDER)
def test_both_sides_of_every_seam_of_every_design_are_there_equally_often(name: str) -> None:
    assert not _off(pattern_of(make(EvaluateRequest(design_named(name).document))))


@pytest.mark.parametrize("block", ["bodice.darted", "skirt.straight", "trousers.tailored", "top.knit"])
def test_whatever_a_step_adds_is_there_as_often_as_what_it_is_sewn_to(block: str) -> None:
    base, cache = drafted(block, WHO), StageCache()
    for kind in STEPS:
        made = evaluate(edits.add_step(base.document, step_entry(kind, {})), cache=cache)
        if made.pattern is not None and not made.outcomes[-1].stuck:
            assert not _off(made.pattern), kind


def test_an_edge_is_there_by_fold_pair_and_count() -> None:
    pattern = pattern_of(drafted("bodice.darted", WHO))
    front, back, sleeve = (pattern.piece(name) for name in ("front", "back", "sleeve"))
    assert front.fold and (of_edge(front, "front.side").count, of_edge(front, "front.side").sides) == (2, BOTH)
    assert of_edge(front, front.fold).count == 1 and of_piece(front).sides == {"across"}
    assert back.pair and of_edge(back, "back.side").count == 2 and of_piece(sleeve).sides == BOTH
    panels = pattern_of(drafted("skirt.circle", WHO, made="panels"))
    skirt = panels.piece("skirt")
    assert of_piece(skirt).count == skirt.cut > 2
    assert {often.count for often in of_layer(panels, panels.seam("waistband"), panels.seam("waistband").b)} == {1}
    double = replace(skirt, cuts=(Cut("main", 6),))
    assert of_piece(double).could_be == {1, 2, 3, 6}


def test_a_piece_cut_too_rarely_for_its_seam_is_seen() -> None:
    pattern = pattern_of(
        drafted("bodice.darted", WHO, steps=(step("zone_band", edges=("front.armhole", "back.armhole")),))
    )
    (band,) = [piece for piece in pattern.pieces if piece.name == "s2.band"]
    assert band.cut == 2 and not _off(pattern), "one for each armhole"
    once = pattern.with_piece(replace(band, cuts=(Cut("main", 1),)))
    assert "s2.zones" in _off(once)
    single = pattern.with_piece(_alone(pattern.piece("sleeve")))
    assert {"armhole_front", "armhole_back"} <= set(_off(single))


def _alone(piece: Piece) -> Piece:
    return replace(piece, pair=False, cuts=(Cut("main", 1),))
