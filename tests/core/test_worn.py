"""Where steps meet: what holds keeps its length, fullness comes to it, the wearer's girths are held against the body alone.

Everything is measured on the finished outlines.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from caddet.core.fitting.proof import ProofLine, prove
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.how_often import as_often
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.values import Place
from caddet.core.shaping.fullness import _shares
from tests.core.test_traced_garments import tracing
from tests.making import KNIT, WOVEN, drafted, nine, pattern_of, polygon, step

WHO = nine()[0]


def _stuck(made: Made) -> str:
    return made.evaluated.outcomes[-1].stuck


def _open(made: Made) -> set[str]:
    return {line.name for line in made.proof if not line.holds}


def _line(made: Made, name: str) -> ProofLine:
    return next(line for line in made.proof if line.name == name)


def _slashed(block: str, who: Any = WHO, **values: Any) -> Made:
    made = drafted(block, who, steps=(step("slash", **values),))
    assert not _stuck(made)
    return made


# --- what holds -----------------------------------------------------------------------------------


@pytest.mark.parametrize("hold", ["gathered", "pleated", "eased"])
def test_a_waistband_keeps_its_length_when_the_skirt_below_it_gets_fuller(hold: str) -> None:
    """The adviser's chain: four lines of 5 cm at the front waist made the band 117 for a waist of 77, and it "closed"."""
    for who in nine()[:5]:
        plain = drafted("skirt.straight", who)
        made = _slashed(
            "skirt.straight",
            who,
            edges=("front.waist",),
            to=("front.hem",),
            count=4,
            opens="all",
            amount=50.0,
            hold=hold,
        )
        band, was = pattern_of(made).run_length("waistband.waist"), pattern_of(plain).run_length("waistband.waist")
        assert band == pytest.approx(was, abs=0.01) and band == pytest.approx(_line(made, "waist").value, abs=0.1)
        assert pattern_of(made).run_length("front.waist") - pattern_of(plain).run_length(
            "front.waist"
        ) == pytest.approx(200.0, abs=0.5)
        assert _line(made, "waist").limit == pytest.approx(_line(plain, "waist").limit)
        seam = pattern_of(made).seam("waistband")
        assert seam.kind == hold and pattern_of(made).length(seam.b) == pytest.approx(
            seam.joins[0].wanted(band), abs=0.5
        )
        assert not _open(made) - _open(plain)


def test_a_second_step_on_gathers_keeps_the_band_and_a_lower_waist_moves_it() -> None:
    full = step("slash", edges=("front.waist",), to=("front.hem",), count=4, opens="all", amount=50.0)
    plain = drafted("skirt.straight", WHO)
    twice = drafted(
        "skirt.straight",
        WHO,
        steps=(full, step("slash", edges=("back.waist",), to=("back.hem",), count=2, opens="all", amount=30.0)),
    )
    assert pattern_of(twice).run_length("waistband.waist") == pytest.approx(
        pattern_of(plain).run_length("waistband.waist"), abs=0.01
    )
    lowered = [step("waist_shape", front=-20.0, back=-20.0)]
    plain_low, full_low = (drafted("skirt.straight", WHO, steps=(*more, *lowered)) for more in ((), (full,)))
    if not _stuck(plain_low) and not _stuck(full_low):
        bands = [pattern_of(one).run_length("waistband.waist") for one in (plain_low, full_low)]
        assert bands[1] == pytest.approx(bands[0], abs=6.0)


def test_a_waist_let_out_with_its_band_is_told() -> None:
    made = _slashed(
        "skirt.straight", edges=("front.waist",), to=("front.hem",), count=4, opens="all", amount=50.0, hold="loose"
    )
    line = _line(made, "worn.held")
    assert line.fails and line.value == pytest.approx(pattern_of(made).run_length("waistband.waist"), abs=1.0)
    assert not [one for one in drafted("skirt.straight", WHO).proof if one.name.startswith("worn")]


@pytest.mark.parametrize(
    ("block", "entry", "band"),
    [
        ("skirt.straight", step("shirring", pieces=("back",), edges=("waist",)), "waistband.waist"),
        ("trousers.tailored", step("shirring", pieces=("front",), edges=("waist",)), "waistband.waist"),
        ("top.knit", step("ruched_seam", edges=("front.shoulder",)), "neckband.neckline"),
    ],
)
def test_a_band_keeps_its_length_when_a_piece_is_shirred_or_ruched(block: str, entry: Any, band: str) -> None:
    done = 0
    for who in nine()[::2]:
        plain, made = drafted(block, who), drafted(block, who, steps=(entry,))
        if _stuck(made):
            continue
        assert pattern_of(made).run_length(band) == pytest.approx(pattern_of(plain).run_length(band), abs=0.01)
        assert not [line.name for line in made.proof if line.kind in ("seam", "closure") and not line.holds]
        done += 1
    assert done >= 4


@pytest.mark.parametrize("kind", ["pleats", "slash", "ruched_seam"])
def test_fullness_is_not_let_into_the_band_itself(kind: str) -> None:
    made = drafted("skirt.straight", WHO, steps=(step(kind, edges=("waistband.waist",)),))
    assert "keeps its length" in _stuck(made)


@pytest.mark.parametrize(
    ("block", "kind"), [("skirt.straight", "casing"), ("trousers.tailored", "casing"), ("top.knit", "zone_band")]
)
def test_a_casing_or_band_goes_on_in_place_of_the_blocks_own(block: str, kind: str) -> None:
    made = drafted(block, WHO, steps=(step(kind),))
    pattern, gone = pattern_of(made), "neckband" if block == "top.knit" else "waistband"
    assert not _stuck(made) and not pattern.has(gone) and "part.instead" in {one.code for one in made.findings}
    held = {
        (p, e): len({seam.name for seam, _ in seams})
        for (p, e), seams in pattern.sewn().items()
        if pattern.pieces[p].edges[e].role in ("waist", "neck") and pattern.pieces[p].role in ("front", "back", "leg")
    }
    assert held and set(held.values()) == {1}, "no edge is sewn to two"
    half = drafted("skirt.straight", WHO, steps=(step("casing", edges=("front.waist",)),))
    assert "more than what is chosen" in _stuck(half)


# --- how often ------------------------------------------------------------------------------------


def test_what_is_put_on_both_armholes_is_cut_twice_and_a_wrong_count_is_told() -> None:
    made = drafted("top.knit", WHO, steps=(step("facing", edges=("front.armhole",)),))
    facing = next(piece for piece in pattern_of(made).pieces if piece.name.startswith("s2."))
    assert facing.pair and facing.cut == 2 and all(cut.count == 2 for cut in facing.cuts)
    assert all(as_often(pattern_of(made), seam) for seam in pattern_of(made).seams)
    once = pattern_of(made).with_piece(replace(facing, pair=False, cuts=(Cut("main", 1),)))
    lines = [line for line in prove(made.evaluated.sources, once) if line.name.endswith(".often")]
    assert len(lines) == 1 and lines[0].fails and (lines[0].value, lines[0].limit) == (1, 2)


# --- the wearer -----------------------------------------------------------------------------------


def test_a_turtleneck_too_small_for_the_head_is_told_on_a_traced_shirt() -> None:
    document = edits.add_step(tracing("t_shirt"), step_entry("band", {"part": "turtleneck", "round": 320.0}))
    line = _line(make(EvaluateRequest(document)), "head")
    assert line.fails and line.value == pytest.approx(320.0, abs=1.0) and line.limit > 500


def test_a_garment_made_smaller_than_its_wearer_is_told_whatever_step_means_it() -> None:
    made = drafted(
        "skirt.straight",
        WHO,
        steps=(
            step(
                "slash",
                lines=((Place(edge="front.waist", share=0.15), Place(edge="front.hem", share=0.85)),),
                opens="all",
                amount=-35.0,
                hold="loose",
            ),
        ),
    )
    assert not _stuck(made) and _line(made, "worn.hip").fails
    assert _line(made, "worn.hip").limit == pytest.approx(WHO.measures["hip"])


# --- lines come out fair --------------------------------------------------------------------------


def _puff(who: Any) -> tuple[Piece, Piece]:
    made = _slashed("sleeve.set_in", who, edges=("sleeve.cap_front", "sleeve.cap_back"), count=7, amount=25.0)
    return pattern_of(drafted("sleeve.set_in", who)).piece("sleeve"), pattern_of(made).piece("sleeve")


def test_a_puff_gets_what_was_asked_for_alike_on_both_sides_of_the_mark_and_lies_level() -> None:
    for who in nine()[::2]:
        was, now = _puff(who)
        grew = [now.run_length(key) - was.run_length(key) for key in ("sleeve.cap_front", "sleeve.cap_back")]
        assert sum(grew) == pytest.approx(7 * 25.0, abs=0.5)
        lengths = [was.run_length(key) for key in ("sleeve.cap_front", "sleeve.cap_back")]
        places = [share * sum(lengths) for share in _shares(was, ["sleeve.cap_front", "sleeve.cap_back"], 7)]
        mark = lengths[was.runs().index("sleeve.cap_back") < was.runs().index("sleeve.cap_front")]
        assert [place - mark for place in places] == pytest.approx(
            [mark - place for place in reversed(places)], abs=0.01
        )
        assert now.run_length("sleeve.hem") == pytest.approx(was.run_length("sleeve.hem"), abs=0.1), (
            "the hinges keep their length"
        )
        ends = [
            [
                one.walked(key)[n].start if n == 0 else one.walked(key)[n].end
                for key, n in (("sleeve.cap_front", 0), ("sleeve.cap_back", -1))
            ]
            for one in (was, now)
        ]
        slopes = [(b - a).imag / (b - a).real for a, b in ends]
        assert slopes[1] == pytest.approx(slopes[0], abs=0.01)
        assert abs((now.grain.b - now.grain.a).real) < 0.01


def test_an_edge_is_smooth_where_it_was_opened_and_where_it_hinged() -> None:
    for block, values in (
        ("top.knit", {"edges": ("front.side",), "amount": 25.0}),
        ("skirt.straight", {"edges": ("front.waist",), "amount": 25.0}),
        ("sleeve.set_in", {"edges": ("sleeve.cap_front",), "amount": 15.0}),
    ):
        for piece in pattern_of(_slashed(block, **values)).pieces:
            for edge in piece.edges:
                turns = [
                    abs(a.direction(1.0) - b.direction(0.0))
                    for a, b in zip(edge.path.segments, edge.path.segments[1:], strict=False)
                ]
                assert not turns or max(turns) < 0.05, (block, edge.id)


def test_a_flare_never_makes_a_leg_narrower_and_both_sides_of_the_seam_end_together() -> None:
    for block, run in (("leggings", "leg.back_inseam"), ("trousers.tailored", "front.inseam")):
        for who in nine()[::3]:
            plain, made = drafted(block, who), drafted(block, who, steps=(step("flare", edges=(run,), amount=30.0),))
            if plain.pattern is None or _stuck(made):
                continue
            before, after = pattern_of(plain), pattern_of(made)
            for piece in before.pieces:
                if piece.role in ("front", "back", "leg"):
                    lost = polygon(piece.polygon()).difference(polygon(after.piece(piece.name).polygon()).buffer(1.0))
                    assert lost.area < 60.0 * piece.outline().length / 10, (block, who.name, piece.name)
            assert not [line.name for line in made.proof if line.kind == "seam" and not line.holds]
            inseam = next(seam for seam in after.seams if any("inseam" in str(part) for part in seam.parts()))
            assert after.length(inseam.a) - after.length(inseam.b) == pytest.approx(
                before.length(inseam.a) - before.length(inseam.b), abs=0.3
            )


# --- pieces as a maker knows them -----------------------------------------------------------------


def test_a_princess_seam_names_its_panels_and_notches_both_sides_alike() -> None:
    made = drafted(
        "bodice.darted",
        WHO,
        steps=(step("princess", dart="front.bust_dart", to=Place(edge="front.shoulder", share=0.5)),),
    )
    parts = {piece.label: piece for piece in pattern_of(made).pieces if piece.made == "front"}
    assert set(parts) == {"Front, centre", "Front, side"}
    notches = {label: [n for n in piece.notches if n.name == "above the point"] for label, piece in parts.items()}
    assert all(len(found) == 1 for found in notches.values())
    assert parts["Front, centre"].fold and parts["Front, side"].pair
    assert not [line for line in made.proof if line.kind == "piece" and not line.holds]


def test_the_bust_line_of_a_fuller_bust_goes_over_the_cloth_let_in() -> None:
    for who in nine()[:4]:
        plain, made = (drafted("bodice.darted", who, steps=steps) for steps in ((), (step("full_bust", by=40.0),)))
        more = _line(made, "bust").value - _line(plain, "bust").value
        assert 4.0 < more <= 40.0, "at the height of that line, between the hinge and the bust point"


@pytest.mark.parametrize(
    ("block", "entry"),
    [
        ("skirt.circle", step("casing", edges=("skirt.waist",))),
        ("top.knit", step("casing", edges=("sleeve.cap_back",))),
        ("neckband", step("bias")),
    ],
)
def test_the_grain_arrow_lies_in_its_piece(block: str, entry: Any) -> None:
    made = drafted(block, WHO, steps=(entry,))
    for piece in pattern_of(made).pieces:
        shape = polygon(piece.polygon()).buffer(0.5)
        assert piece.grain.kind == "any" or all(
            shape.covers(polygon([p, p + 0.1, p + 0.1j])) for p in (piece.grain.a, piece.grain.b)
        ), piece.name


def test_shirring_does_not_let_the_neck_or_armholes_grow() -> None:
    assert "below the armholes" in _stuck(drafted("top.knit", WHO, steps=(step("shirring", pieces=("back",)),)))


def test_a_facing_beside_a_short_shoulder_is_as_wide_as_there_is_room() -> None:
    princess = step("princess", dart="front.bust_dart", to=Place(edge="front.shoulder", share=0.5))
    made = drafted("dress.sheath", WHO, steps=(princess, step("facing", edges=("front.armhole", "back.armhole"))))
    assert not _stuck(made) and "part.narrower" in {one.code for one in made.findings} and not _open(made)
    too_wide = drafted("dress.sheath", WHO, steps=(step("facing", edges=("front.armhole",), width=400.0),))
    assert "wider than" in _stuck(too_wide)


def test_lines_that_would_leave_at_the_side_are_turned_to_the_hem_so_that_the_side_gets_no_step() -> None:
    for who in nine()[:4]:
        plain, made = (
            drafted("skirt.straight", who, steps=steps)
            for steps in ((), (step("shirring", pieces=("back",), edges=("waist",)),))
        )
        assert not _stuck(made)
        for run in ("back.side", "back.centre_back", "back.zip"):
            assert pattern_of(made).run_length(run) == pytest.approx(pattern_of(plain).run_length(run), abs=0.1), (
                who.name,
                run,
            )


def test_a_band_that_its_cloth_can_not_be_stretched_to_is_told() -> None:
    """Neckband of 0.8 in a woven cloth: it would have to give a quarter, and gives nothing."""
    band = step("band", edges=("neckline",), ratio=0.8)
    lines = {}
    for cloth in (WOVEN, KNIT):
        made = drafted("bodice.darted", cloth=cloth, steps=(band,))
        lines[cloth.name] = [line.holds for line in made.proof if line.name.endswith(".stretch")]
    assert lines == {WOVEN.name: [False], KNIT.name: []}
