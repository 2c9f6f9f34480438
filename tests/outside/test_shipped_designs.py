"""The designs that ship: on nine bodies every seam, join and section holds, or a finding names the reason."""

from __future__ import annotations

import pytest
import shapely

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.designs import Design, design_named, designs, made_mine
from caddet.core.errors import CaddetError
from caddet.core.fitting.line_drawing import line_drawing
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document
from tests.making import full_people, whole_bodies

NINE = (*whole_bodies()[::60], *full_people()[::3][:4])
# what a body may ask for that the design as it ships does not have: told by a finding, and nothing else fails
NAMED = ("measure", "step.stuck", "step.wide", "draft", "finish", "step.near", "ease")


def on(design: Design, who: Person) -> Made:
    document = design.document
    worn = Document.model_validate({**document.parts(), "people": (who,), "wearer": who.name})
    return make(EvaluateRequest(worn))


@pytest.mark.parametrize("design", designs(), ids=lambda one: one.name)
def test_a_design_holds_on_nine_bodies(design: Design) -> None:
    well = 0
    for who in NINE:
        made = on(design, who)
        if made.pattern is None:
            assert [f for f in made.findings if f.severity == "stops"], who.name
            continue
        bad = [line for line in made.proof if line.kind in ("seam", "join", "closure") and not line.holds]
        stuck = [one.stuck for one in made.evaluated.outcomes if one.stuck]
        assert not bad or stuck, (who.name, [(line.name, line.value, line.limit) for line in bad])
        looked = [line for line in made.proof if line.kind == "finding" and not line.holds]
        assert all(line.name.startswith(NAMED) for line in looked), [(line.name, line.sentence) for line in looked]
        assert all(len(words) > 20 for words in stuck)
        well += not bad and not stuck
    assert well >= 7, f"{well} of {len(NINE)}"


@pytest.mark.parametrize("design", designs(), ids=lambda one: one.name)
def test_every_edge_of_a_design_is_accounted_for_and_it_can_be_cut_and_drawn(design: Design) -> None:
    made = make(EvaluateRequest(design.document))
    pattern = made.pattern
    assert pattern is not None and not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    sewn = pattern.sewn()
    for p, piece in enumerate(pattern.pieces):
        for e, edge in enumerate(piece.edges):
            assert edge.dart or edge.finish or (p, e) in sewn, (piece.name, edge.id)
            assert edge.finish not in ("raw", "joined") or edge.why, (piece.name, edge.id)
        assert shapely.Polygon([(q.real, q.imag) for q in made.cut_piece(piece.name).polygon()]).is_valid, piece.name
    assert not [one.wrong for one in pattern.needs() if one.wrong]
    assert line_drawing(pattern, "front").shapes and len(pattern.pieces) >= 4


@pytest.mark.parametrize("design", designs(), ids=lambda one: one.name)
def test_a_design_is_made_mine_beside_what_was_there(design: Design) -> None:
    """In a project that already gave ids away, what its steps name of each other follows."""
    document = made_mine(demo_document(), design)
    made = make(EvaluateRequest(document))
    assert made.pattern is not None and not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    ids = [entry.id for entry in (*document.recipe.sources, *document.recipe.steps)]
    assert (
        not set(ids) & {entry.id for entry in demo_document().recipe.steps}
        and document.wearer == demo_document().wearer
    )


def test_an_unknown_design_names_those_there_are() -> None:
    with pytest.raises(CaddetError, match="there are waistcoat"):
        design_named("cloak")


# --- notions read by hand against the sums ---------------------------------------------------------------


def test_the_notions_of_the_trousers_by_hand() -> None:
    made = make(EvaluateRequest(design_named("ringing-trousers").document))
    pattern = made.pattern
    assert pattern is not None
    by = {one.notion.kind: one for one in pattern.needs()}
    back = 2 * pattern.run_length("back.waist")
    assert by["elastic"].length == pytest.approx(0.8 * back + 25.4, abs=0.1), "0.8 of both backs and an inch to lap"
    assert by["zip"].length == pytest.approx(made.evaluated.sums["fly"].value)
    opening = sum(e.path.length for p in pattern.pieces for e in p.edges if e.name.endswith("pocket.opening"))
    assert by["tape"].length == pytest.approx(opening + 20.0, abs=0.1) and by["tape"].notion.count == 2


def test_the_notions_of_the_coat_and_the_skirt_by_hand() -> None:
    coat = make(EvaluateRequest(design_named("harbour-coat").document)).pattern
    assert coat is not None
    holes = [f for f in coat.piece("front").features if f.kind == "buttonhole"]
    assert next(one.notion.count for one in coat.needs() if one.notion.kind == "button") == len(holes)
    skirt = make(EvaluateRequest(design_named("wrap-skirt").document)).pattern
    assert skirt is not None
    edges = sum(skirt.run_length(f"skirt.{name}") for name in ("front_edge", "hem", "front_edge_left"))
    assert next(one.length for one in skirt.needs() if one.notion.kind == "binding") == pytest.approx(
        edges + 60.0, abs=0.1
    )
