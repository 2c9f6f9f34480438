"""What passes through a garment: declared in a line, worked out on the finished pattern in one place."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from caddet.core.fitting.proof import ProofLine
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.going_round import around, left_open
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe.context import Context
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.passages import USUAL, Body, Gate, Mend, Passes, gate_of, what_goes_through
from caddet.core.recipe.registry import BLOCKS
from caddet.core.recipe.values import Place
from tests.core.test_contract import options_of
from tests.making import KNIT, drafted, full_people, pattern_of, step

WHO = full_people()[0]
SKIRT = drafted("skirt.straight", WHO)
CONTEXT = SKIRT.evaluated.sources[0].context


def _gate(one: Passes, pattern: Pattern, context: Context = CONTEXT) -> Gate:
    found = gate_of(one, pattern, context)
    assert found is not None
    return found


def test_the_hips_go_through_what_holds_the_waist_and_what_opens_there() -> None:
    pattern = pattern_of(SKIRT)
    band, zip_ = (pattern.run_length(name) for name in ("waistband.waist", "back.zip"))
    gate = _gate(Passes("hips", "waist"), pattern)
    assert gate.value == pytest.approx(band + 2 * zip_) and gate.limit == WHO.sets[-1].readings["hip"][0]
    longer = pattern.with_piece(replace(pattern.piece("waistband")))
    bare = replace(longer, seams=tuple(s for s in pattern.seams if s.name != "waistband"))
    edges = 2 * (pattern.run_length("front.waist") + pattern.run_length("back.waist"))
    assert around(bare, "waist") == pytest.approx(edges) and left_open(bare, "waist") == pytest.approx(2 * zip_)
    assert gate.label == "Hips go through the waist" and gate.place == "front.waist"


def test_an_opening_counts_as_far_as_it_goes_whatever_is_cut_across_it() -> None:
    line = (Place(edge="back.side", share=0.12), Place(edge="back.zip", share=0.55))
    yoke = drafted("skirt.straight", WHO, steps=(step("cut", line=line),))
    assert len([piece for piece in pattern_of(yoke).pieces if piece.made == "back"]) == 2
    before, after = (next(line for line in one.proof if line.name == "hips") for one in (SKIRT, yoke))
    assert after.value == pytest.approx(before.value, abs=0.01)


def test_a_limb_goes_through_one_of_two() -> None:
    made = drafted("bodice.darted", WHO)
    pattern, context = pattern_of(made), made.evaluated.sources[0].context
    hole = pattern.run_length("front.armhole") + pattern.run_length("back.armhole")
    arm = _gate(Passes("arm", "armhole"), pattern, context)
    assert arm.value == pytest.approx(hole) and arm.limit == pytest.approx(1.1 * context.measures["upper_arm"])
    hand = Passes("hand", "hem", on=("sleeve",))
    assert _gate(hand, pattern, context).value == pytest.approx(pattern.run_length("sleeve.hem"))
    assert gate_of(replace(hand, wide=100.0), pattern, context) is None, "so wide that anything goes through"
    assert gate_of(hand, pattern_of(SKIRT), CONTEXT) is None, "there is no sleeve"


def test_a_whole_piece_that_is_cut_several_times_counts_as_often() -> None:
    pattern = pattern_of(drafted("skirt.circle", WHO, made="panels"))
    skirt = pattern.piece("skirt")
    assert around(pattern, "hem") == pytest.approx(skirt.cut * pattern.run_length("skirt.hem")) and skirt.cut > 2


def test_what_lies_open_what_gives_and_what_is_not_measured() -> None:
    pattern = pattern_of(SKIRT)
    hips = Passes("hips", "waist", unless="waist")
    assert gate_of(hips, pattern, CONTEXT) is None, "it lies open"
    assert gate_of(Passes("hips", "waist", limit=Body("no such measure")), pattern, CONTEXT) is None
    assert gate_of(Passes("hips", "waist", when=lambda _: False), pattern, CONTEXT) is None
    bare = replace(CONTEXT, measures={"wrist": 160.0})
    assert USUAL["hand"].body(bare) == pytest.approx(208.0) and USUAL["head"].body(bare) is None
    knit = drafted("top.knit", WHO, cloth=KNIT)
    context = knit.evaluated.sources[0].context
    plain, wide = (gate_of(Passes("head", "neck", stretched=s), pattern_of(knit), context) for s in (False, True))
    assert plain is not None and wide is not None
    assert (
        wide.value == pytest.approx(plain.value * (1 + context.sums["give"].value)) and wide.value > plain.value * 1.1
    )


def test_a_mend_lets_it_pass_and_is_offered_only_where_it_lacks() -> None:
    tight = drafted("skirt.straight", WHO, overrides={"zip_length": "4cm"})
    line = next(one for one in tight.proof if one.name == "hips")
    assert not line.holds and line.remedies[0].override is not None
    mended = line.remedies[0].apply(tight.document)
    after = next(one for one in make(EvaluateRequest(mended)).proof if one.name == "hips")
    assert after.holds and after.value - after.limit == pytest.approx(20.0, abs=2.1), "10 mm on each side to spare"
    easy = next(one for one in SKIRT.proof if one.name == "hips")
    assert easy.holds and not easy.remedies
    taken = Passes("hips", "waist", limit=lambda _: 9e9, mends=(Mend("Wider", option=("style", "a_line")),))
    known = replace(CONTEXT, names={**CONTEXT.names})
    assert gate_of(taken, pattern_of(SKIRT), known).remedies  # type: ignore[union-attr]


def test_a_slit_frees_the_stride_wherever_the_skirt_hangs() -> None:
    for block, hem in (("skirt.straight", "back.centre_back"), ("dress.sheath", "skirt_back.centre_back")):
        plain = next(one for one in drafted(block, WHO).proof if one.name == "stride")
        slit = next(
            one
            for one in drafted(block, WHO, steps=(step("slit", edges=(hem,), height=250.0),)).proof
            if one.name == "stride"
        )
        assert plain.limit > 500 and slit.limit < plain.limit - 50, block


def test_a_passage_round_pieces_that_were_taken_away_cannot_be_checked() -> None:
    made = drafted("bodice.darted", WHO, steps=(step("take_away", pieces=("back",)),))
    assert not made.evaluated.outcomes[0].stuck
    (line,) = [one for one in made.proof if one.kind == "gate"]
    assert not line.holds and "Can't be checked" in line.sentence and "the back is not there" in line.sentence


def test_what_goes_through_an_edge_follows_from_its_role() -> None:
    assert what_goes_through("waist") == "hips" and what_goes_through("hem", "leg") == "foot"
    assert what_goes_through("hem", "sleeve") == what_goes_through("cuff") == "hand" and what_goes_through("hem") == ""
    assert all(what_goes_through(role) in ("", *USUAL) for role in ("neck", "armhole", "side", "leg"))


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_every_passage_of_a_block_is_worked_out_on_it(name: str) -> None:
    for options in options_of(BLOCKS[name]):
        made = drafted(name, WHO, **options)
        if made.pattern is not None:
            assert not [one.name for one in made.proof if one.kind == "gate" and one.limit <= 0]
            assert not [one for one in made.proof if one.name == "gates"], "it could be worked out"


def _line(name: str, block: str, *steps: StepEntry, **more: Any) -> ProofLine:
    return next(one for one in drafted(block, WHO, steps=steps, **more).proof if one.name == name)


def test_what_is_put_on_an_edge_is_what_passes() -> None:
    band = step("band", part="neckband", ratio=0.6)
    bare, tight = _line("head", "top.dolman"), _line("head", "top.dolman", band)
    assert bare.holds and tight.fails and tight.value == pytest.approx(0.6 * bare.value, abs=0.5)
    cuff = _line("hand", "top.raglan", step("band", part="cuff", round=120.0))
    assert cuff.fails and cuff.value == pytest.approx(120.0, abs=0.1), "the usual edge of a cuff is the sleeve's"


def test_a_part_says_what_passes_through_it_where_its_block_says_nothing() -> None:
    assert not [one for one in drafted("bodice.darted", WHO).proof if one.name == "head"]
    for part, whole in (("neckband", 0.85), ("hood", 1.0)):
        line = _line("head", "bodice.darted", step("band", part=part))
        neck = 2 * sum(pattern_of(drafted("bodice.darted", WHO)).run_length(f"{p}.neckline") for p in ("front", "back"))
        assert line.fails and line.value == pytest.approx(whole * neck, abs=0.5) and line.limit > 500
    zip_ = step("zip", edges=("back.centre_back",), kind="centred", length=300.0)
    opened = _line("head", "bodice.darted", step("band", part="neckband"), zip_)
    assert opened.holds and opened.value == pytest.approx(line.value * 0.85 + 600.0, abs=1.0)
    once = [
        one
        for one in drafted("skirt.straight", WHO, steps=(step("band", part="waistband"),)).proof
        if one.name == "hips"
    ]
    assert len(once) == 1, "what the block says of it goes before"


def test_a_part_says_nothing_of_an_edge_that_went() -> None:
    made = drafted("bodice.darted", WHO, steps=(step("band", part="cuff"), step("take_away", pieces=("sleeve",))))
    assert not [one for one in made.proof if one.name == "hand" and one.holds]
