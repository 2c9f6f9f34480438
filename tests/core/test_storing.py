"""A pattern that is stored and read again is the pattern, whatever made it; pieces that lie are set aside."""

from __future__ import annotations

import json
import random
from typing import Any

import pytest

from caddet.core.designs import ORDER, design_named
from caddet.core.errors import CaddetError
from caddet.core.formats.repair import repaired
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Line
from caddet.core.grading.sizes import as_pieces, redrafted
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pipeline import make
from caddet.core.practice import practice_document
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, PiecesSource, Recipe
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.registry import BLOCKS, STEPS, step_entry
from caddet.core.recipe.storing import pattern_of, piece_of, stored_pattern, stored_piece
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, say, told
from tests.alike import lost_when_stored
from tests.core.test_contract import options_of
from tests.making import drafted, full_people, step
from tests.soak.garments import any_values

WHO = full_people()[0]
PLAIN = {name: made for name in sorted(BLOCKS) if (made := drafted(name, WHO)).pattern is not None}
BASES, CACHE = list(PLAIN), StageCache(size=500)


@pytest.mark.parametrize("name", BASES)
def test_every_block_is_the_same_after_it_was_stored(name: str) -> None:
    for options in options_of(BLOCKS[name]):
        pattern = drafted(name, WHO, **options).pattern
        assert pattern is None or not lost_when_stored(pattern), options


@pytest.mark.parametrize("name", ORDER)
def test_every_design_is_the_same_after_it_was_stored(name: str) -> None:
    pattern = make(EvaluateRequest(design_named(name).document)).pattern
    assert pattern is not None and not lost_when_stored(pattern)


@pytest.mark.parametrize("kind", sorted(STEPS))
def test_a_garment_is_the_same_after_it_was_stored_whatever_step_made_it(kind: str) -> None:
    """As the step stands and with values from a seed, on two blocks a step; on all of them in ``make soak``."""
    chance = random.Random(kind)
    for name in chance.sample(BASES, 2):
        base = PLAIN[name]
        assert base.pattern is not None
        for values in ({}, any_values(STEPS[kind], base.pattern, chance)):
            made = evaluate(edits.add_step(base.document, step_entry(kind, values)), cache=CACHE)
            assert made.pattern is not None
            if not any(one.code == "step.fold" for one in made.findings):
                assert not lost_when_stored(made.pattern), (name, values)


def test_words_with_lengths_are_said_in_any_unit_after_they_were_stored() -> None:
    long = say("{first:capital}, {3 cm} over", first=say("a band of {long}", long=Length(254.0)))
    piece = drafted("cuff", WHO).pattern.pieces[0]  # type: ignore[union-attr]
    (again,) = pattern_of(stored_pattern(Pattern((Piece(piece.made, long, piece.edges, remark="25.4 {cm}"),))))[
        0
    ].pieces
    assert again.label == long == "A band of 25.4 cm, 3 cm over" and again.remark == "25.4 {cm}"
    assert told(again.label, "in") == told(long, "in") != told(long, "cm")
    assert "25.4" not in stored_piece(again).model_dump_json().replace("25.4 {cm}", ""), "no length is stored as text"


def test_an_arc_with_its_centre_beyond_all_bounds_is_stored_as_curves() -> None:
    arc = Arc(2e5j, 2e5, -1.5717963, 0.002)
    edges = (Edge("a.top", Path((arc,))), Edge("a.side", Path((Line(arc.end, 100j), Line(100j, arc.start)))))
    again = piece_of(stored_piece(Piece("a", "a", edges)))
    assert again.edges[0].path.length == pytest.approx(arc.length, abs=1e-3)


# --- names that steps to come must not get ----------------------------------------------------------


def test_no_step_to_come_gets_the_name_of_what_was_stored() -> None:
    yoke = step("cut", line=(Place(edge="front.armhole", share=0.5), Place(edge="front.centre_front", share=0.3)))
    base = edits.add_step(drafted("bodice.darted", WHO).document, yoke)
    document = as_pieces(base, redrafted(base, WHO))
    (source,) = document.recipe.sources
    assert isinstance(source, PiecesSource) and source.highest >= 2
    made = make(EvaluateRequest(edits.add_step(document, step("facing"))))
    assert made.pattern is not None and not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    assert int(made.document.recipe.steps[-1].id[1:]) > source.highest
    assert len({piece.name for piece in made.pattern.pieces}) == len(made.pattern.pieces)
    with pytest.raises(ValueError, match="next_id"):
        Recipe(sources=(source,), next_id=source.highest)
    raw = json.loads(document.model_dump_json())
    raw["recipe"]["next_id"] = 2
    mended, _ = repaired(raw, "")
    assert mended.recipe.next_id > source.highest
    with pytest.raises(CaddetError, match="fold"):
        stored_piece(_bent(made.pattern))


def _bent(pattern: Pattern) -> Piece:
    piece = next(one for one in pattern.pieces if one.fold)
    index = next(n for n, edge in enumerate(piece.edges) if edge.finish == "fold")
    a, b = piece.edges[index].path.start, piece.edges[index].path.end
    edges = list(piece.edges)
    edges[index] = edges[index].with_path(Path.polyline([a, (a + b) / 2 + 30, b]))
    return piece.with_edges(edges)


# --- pieces that lie --------------------------------------------------------------------------------


def _with(raw: dict[str, Any], change: str) -> None:
    piece = raw["recipe"]["sources"][0]["pieces"][0]
    edges = piece["edges"]
    match change:
        case "an edge twice":
            edges[1]["id"] = edges[0]["id"]
        case "a bent fold":
            edges[-1]["path"] = [[60.0, 300.0], edges[-1]["path"][-1]]
        case "an open outline":
            edges[-1]["path"] = [[40.0, 90.0]]
        case "a dart without legs":
            piece["darts"] = [{"id": "front.dart"}]
        case "legs without a dart":
            edges[1]["dart"] = "front.dart"
        case "two things of one name":
            piece["features"] *= 2
        case "a count of -1":
            piece["cuts"][0]["count"] = -1
        case "a role nobody knows":
            piece["role"] = "sail"
        case "a finish nobody knows":
            edges[1]["finish"] = "sail"
        case "an endless turn":
            edges[1]["path"] = [[1.0, 1.0, 9e9]]
        case "a name with too large a number":
            edges[1]["id"] = "s999999999.cut"
        case "a place off its edge":
            piece["notches"][0]["u"] = 7.0


LIES = {
    "an edge twice": "it has the edge “front.neckline” twice",
    "a bent fold": "the fold “front.centre_front” isn't straight",
    "an open outline": "its outline does not end where it begins",
    "a dart without legs": "the dart “front.dart” has no legs",
    "legs without a dart": "the dart “front.dart” isn't described",
    "two things of one name": "two things on it are called “front.bust”",
    "a count of -1": "at least 1",
    "a role nobody knows": "“sail” isn't something a piece can be",
    "a finish nobody knows": "“sail” isn't something an edge can be",
    "an endless turn": "",
    "a name with too large a number": "too large a number",
    "a place off its edge": "",
}


@pytest.mark.parametrize("lie", LIES)
def test_a_stored_piece_that_lies_is_set_aside_and_the_rest_opens(lie: str) -> None:
    raw = json.loads(practice_document().model_dump_json())
    _with(raw, lie)
    with pytest.raises(ValueError):
        Document.model_validate(raw)
    document, aside = repaired(raw, "")
    assert aside and all(one.place.startswith("recipe.sources.0.pieces.0") for one in aside), aside
    assert LIES[lie] in aside[0].why or LIES[lie] in str([one.why for one in aside]), aside
    assert all(one.words.startswith("the piece “front”") for one in aside), [one.words for one in aside]
    made = make(EvaluateRequest(document))
    assert made.pattern is not None and made.pattern.has("back")


def test_a_seam_with_nothing_on_one_side_is_set_aside() -> None:
    raw = json.loads(practice_document().model_dump_json())
    raw["recipe"]["sources"][0]["seams"][0]["layers"][1] = []
    document, aside = repaired(raw, "")
    (source,) = document.recipe.sources
    assert isinstance(source, PiecesSource) and [seam.name for seam in source.seams] == ["side"] and aside
    assert make(EvaluateRequest(document)).proof


def test_a_seam_between_pieces_that_are_not_there_is_said() -> None:
    document = practice_document()
    (source,) = document.recipe.sources
    assert isinstance(source, PiecesSource)
    alone = source.model_copy(update={"pieces": source.pieces[1:]})
    _, findings = pattern_of(alone)
    assert {str(one.sentence) for one in findings} == {
        "The seam Shoulder seam can't be sewn: there is no edge “front.shoulder” here.",
        "The seam Side seam can't be sewn: there is no edge “front.side” here.",
    }
