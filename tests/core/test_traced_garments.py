"""What becomes of a traced garment: beside its wearer, altered, and with a block's sleeve set into it."""

from __future__ import annotations

import pytest

from caddet.core.finishing.finish import allowance
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import BlockSource, Document
from caddet.core.recipe.registry import STEPS, step_entry
from caddet.core.sentences import told
from caddet.core.tracing.comparing import as_liked, compared, girths, lines_to_sew
from caddet.core.tracing.cut_now import CutNow, ready_to_cut, remarks
from caddet.core.tracing.kinds import KINDS
from tests.core.test_tape_tracing import project
from tests.garments import garment, read_by_tape, true_reading
from tests.making import document as block_document


def tracing(kind: str, seed: int = 0) -> Document:
    net, x = garment(KINDS[kind], seed)
    return project(kind, tuple(read_by_tape(KINDS[kind], net, x, exact=True)))


def pattern_of(document: Document) -> tuple[Made, Pattern]:
    made = make(EvaluateRequest(document))
    assert made.pattern is not None
    return made, made.pattern


def test_the_girths_are_those_that_the_tape_read_all_round() -> None:
    _, pattern = pattern_of(tracing("t_shirt"))
    net, x = garment(KINDS["t_shirt"], 0)
    assert girths(pattern)["bust"] == pytest.approx(2 * true_reading(net, x, KINDS["t_shirt"], "chest"), abs=1)
    _, sleeve = pattern_of(tracing("sleeve"))
    net, x = garment(KINDS["sleeve"], 0)
    assert girths(sleeve)["upper_arm"] == pytest.approx(2 * true_reading(net, x, KINDS["sleeve"], "upper_arm"), abs=1)


def test_ease_is_what_the_garment_has_more_than_its_wearer() -> None:
    document = tracing("fitted_skirt")
    _, pattern = pattern_of(document)
    person = document.person
    row = next(
        row for row in compared(pattern, person, "skirt.straight", Cloth(name="linen", width=1400)) if row.code == "hip"
    )
    assert row.ease == pytest.approx(girths(pattern)["hip"] - person.measures["hip"])
    assert row.usual is not None and row.usual > 0 and not row.estimated
    liked = as_liked("grey skirt", pattern)
    assert liked.girths == girths(pattern)


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_what_a_kind_opens_and_is_compared_with_is_there(kind: str) -> None:
    from caddet.core.recipe.registry import BLOCKS

    one = KINDS[kind]
    assert all(name in STEPS for name in one.opens)
    assert not one.block or one.block in BLOCKS


def test_narrowed_the_lines_to_sew_are_the_same_at_both_seams() -> None:
    document = edits.add_step(tracing("fitted_skirt"), step_entry("widen", {"amount": -20.0}))
    made, pattern = pattern_of(document)
    assert made.evaluated.drafted is not None
    lines = lines_to_sew(made.evaluated.drafted, pattern)
    assert set(lines) == {"front.side", "back.side", "front.hem", "back.hem"}
    front, back = lines["front.side"], lines["back.side"]
    assert front[0].inside == pytest.approx(0, abs=0.01) and front[-1].inside == pytest.approx(20, abs=0.7)
    for one, other in zip(front, back, strict=True):
        assert one.inside == pytest.approx(other.inside, abs=0.6)
    assert front[-1].along == pytest.approx(made.evaluated.drafted.run_length("front.side"))
    made, pattern = pattern_of(edits.add_step(tracing("fitted_skirt"), step_entry("widen", {"amount": 15.0})))
    assert made.evaluated.drafted is not None
    assert lines_to_sew(made.evaluated.drafted, pattern)["front.side"][-1].inside == pytest.approx(-15, abs=0.6)
    assert not lines_to_sew(pattern, pattern)


def test_a_block_sleeve_is_set_into_the_traced_armholes_and_follows_them() -> None:
    document = edits.put_beside(tracing("t_shirt"), BlockSource(block="sleeve.set_in"))
    made, pattern = pattern_of(document)
    assert [piece.name for piece in pattern.pieces] == ["front", "back", "b2_sleeve"]
    assert not [f for f in made.findings if f.severity == "stops"]
    assert not [line.label for line in made.proof if line.verdict == "fails"]
    for seam, armhole in (("b2_armhole_front", "front.armhole"), ("b2_armhole_back", "back.armhole")):
        hole, cap = (pattern.length(layer) for layer in pattern.seam(seam).layers)
        assert hole == pytest.approx(pattern.run_length(armhole))
        assert cap - hole == pytest.approx(pattern.seam(seam).amount, abs=0.1)
    deeper = edits.add_step(document, step_entry("armhole", {"edges": ("armhole",), "lower": 25.0}))
    made, after = pattern_of(deeper)
    grown = after.run_length("front.armhole") - pattern.run_length("front.armhole")
    assert grown > 10
    now, was = (one.run_length("b2_sleeve.cap_front") for one in (after, pattern))
    assert now - was == pytest.approx(grown, abs=0.2)
    assert not [line.label for line in made.proof if line.verdict == "fails"]


def test_beside_a_garment_that_has_its_sleeves_the_block_is_the_bodices() -> None:
    base = block_document().model_copy(update={"recipe": block_document().recipe.of("bodice.darted")})
    document = edits.put_beside(base, BlockSource(block="sleeve.set_in"))
    _, pattern = pattern_of(document)
    own = [seam.name for seam in pattern.seams if seam.name.startswith("b2_armhole")]
    assert not own


def test_cut_this_now_leaves_allowance_hem_and_casing_and_says_how_long_the_elastic_is() -> None:
    """Check value 71, common practice: 2 cm turned, then the elastic and ½ inch; 1 inch of lap."""
    document = tracing("shorts")
    _, pattern = pattern_of(document)
    choice = CutNow(seam=12.0, hem=25.0, elastic=25.4)
    ready = ready_to_cut(document, pattern, choice)
    made, after = pattern_of(ready)
    assert after == pattern  # only allowances
    for name in ("front", "back"):
        amounts = {edge.own: allowance(ready.finishing, edge) for edge in after.piece(name).edges}
        assert amounts["waist"] == pytest.approx(20 + 25.4 + 12.7)
        assert (amounts["hem"], amounts["side"], amounts["inseam"], amounts["crotch"]) == (25.0, 12.0, 12.0, 12.0)
    front = made.cut_piece("front")
    top = min(point.imag for point in front.polygon())
    assert min(p.imag for p in front.piece.polygon(0.1)) - top == pytest.approx(20 + 25.4 + 12.7, abs=6)
    words = [told(one, "in") for one in remarks(pattern, choice)]
    assert "1 to lap" in words[1] or '1" to lap' in words[1] or "1 in to lap" in words[1]
    assert not remarks(pattern_of(tracing("collar"))[1], choice)
    assert CutNow(elastic=0.0).casing == CutNow().hem
