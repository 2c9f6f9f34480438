"""The parts that blocks share: curves, waists, caps, legs, bands; each by itself."""

from __future__ import annotations

import cmath
import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.drafting.bands import band_piece, quarters
from caddet.core.drafting.cap import BACK, FRONT, Rounds, cap_of, half_cap, split_width
from caddet.core.drafting.curves import bend, foot, inflections, left, right, square_hem
from caddet.core.drafting.draft_piece import DraftPiece, as_piece
from caddet.core.drafting.kit import Drafting, outline, rectangle
from caddet.core.drafting.legs import LegShape
from caddet.core.drafting.upper import half_upper
from caddet.core.drafting.waist import darts_with_rise, plan_darts, waist_below
from caddet.core.geometry.segments import Cubic
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.context import Context
from caddet.core.recipe.registry import CannotDraft
from tests.making import area, drafted

ANGLES = st.floats(0.15, 2.6)
SIZES = st.floats(5, 400)


# --- curves -----------------------------------------------------------------------------------


@given(ANGLES, SIZES, SIZES, st.floats(0.2, 0.9))
def test_a_bend_turns_once_and_keeps_its_directions(turn: float, first: float, second: float, full: float) -> None:
    start, along = 10 + 5j, 1 + 0j
    into = cmath.exp(1j * turn)
    end = start + along * first + into * second
    curve = bend(start, along, end, into, full)
    assert curve.start == start and curve.end == end
    assert abs(curve.direction(0) - along) < 1e-9 and abs(curve.direction(1) - into) < 1e-9
    assert not inflections(curve)
    assert abs(end - start) - 1e-9 <= curve.length <= first + second + 1e-9


def test_a_bend_whose_tangents_do_not_meet_is_a_gentle_s() -> None:
    curve = bend(0j, 1 + 0j, 100 + 30j, 1 + 0j)
    assert len(inflections(curve)) == 1 and abs(curve.direction(1) - 1) < 1e-9


def test_sides_feet_and_square_hems() -> None:
    assert right(1 + 0j) == 1j and left(1 + 0j) == -1j
    assert abs(foot(30 + 40j, 0j, 5 + 0j) - 30) < 1e-12
    hem = square_hem(100 + 50j, 0.1 + 1j, 0 + 50j, -0.1 - 1j)
    down, up = (0.1 + 1j) / abs(0.1 + 1j), (-0.1 - 1j) / abs(0.1 + 1j)
    assert abs(cmath.phase(hem.direction(0) / down)) == pytest.approx(math.pi / 2)
    assert abs(cmath.phase(up / hem.direction(1))) == pytest.approx(math.pi / 2)


# --- waists -----------------------------------------------------------------------------------


@pytest.mark.parametrize("count", [0, 1, 2])
def test_a_waist_at_the_foot_of_a_piece_closes_and_opens(count: int) -> None:
    plans = plan_darts("back", count, 90.0, 180.0, 25.0, 150.0)
    assert len(plans) == count
    waist = waist_below(400j, 205 + 395j, 15 - 190j, plans)
    waist = waist_below(400j, 205 + 395j, 15 - 190j, darts_with_rise(waist))
    edges = waist.edges()
    seam = [edge for edge in edges if not edge.dart]
    assert sum(edge.path.length for edge in seam) == pytest.approx(waist.length, abs=1e-6)
    assert abs(edges[0].path.start - (205 + 395j)) < 1e-6 and abs(edges[-1].path.end - 400j) < 1e-6
    assert abs(edges[-1].path.end_direction + 1) < 1e-9, "level at the centre"
    for before, after in pairwise(edges):
        assert abs(before.path.end - after.path.start) < 1e-6
    legs = [edge for edge in edges if edge.dart]
    assert len(legs) == 2 * count
    for one, other in zip(legs[::2], legs[1::2], strict=True):
        assert one.path.length == pytest.approx(other.path.length, abs=1e-6)
        assert one.path.end.imag < 400, "the apex is above the waist"


# --- caps and uppers --------------------------------------------------------------------------


@given(st.floats(90, 240), st.floats(25, 190), st.sampled_from([FRONT, BACK]), st.floats(0, 0.12))
def test_half_a_cap_leaves_square_ends_level_and_turns_over_once(
    width: float, height: float, half: Rounds, lean: float
) -> None:
    path = half_cap(width, height, half, lean)
    assert path.start == complex(-width, 0) and abs(path.end - complex(0, -height)) < 1e-9
    assert abs(path.end_direction - 1) < 1e-6
    assert -cmath.phase(path.start_direction) == pytest.approx(min(lean, math.atan2(height, width) * 0.8)), (
        "square to the seam"
    )
    lower, upper = path.segments
    assert isinstance(lower, Cubic) and isinstance(upper, Cubic)
    assert abs(lower.direction(1) - upper.direction(0)) < 1e-9
    assert lower.curvature(0.5) < 0 < upper.curvature(0.5)
    assert path.length > math.hypot(width, height)


@given(st.floats(220, 480), st.floats(40, 180), st.floats(-15, 30))
def test_a_cap_is_split_so_that_back_and_front_differ_as_wanted(width: float, height: float, more: float) -> None:
    cap = split_width(width, height, more)
    if cap is None:
        return
    assert cap.front_width + cap.back_width == pytest.approx(width)
    assert cap.back.length - cap.front.length == pytest.approx(more, abs=1e-3)
    assert cap.length > cap_of(width / 2, width / 2, height).length - 40


@given(st.floats(60, 95), st.floats(95, 150), st.floats(15, 60), st.floats(130, 210), st.floats(-0.2, 0.2))
def test_an_armhole_never_bends_back(neck: float, shoulder: float, slope: float, across: float, slant: float) -> None:
    upper = half_upper(neck, -25.0, 0.0, shoulder, slope, across, complex(245, 220), 0.6, slant)
    for segment in (upper.neck, *upper.armhole.segments):
        assert isinstance(segment, Cubic) and not inflections(segment)
    turn = upper.armhole.segments[0].end
    assert turn.real < upper.shoulder_point.real and turn.real < upper.underarm.real
    assert abs(upper.armhole.direction_at(upper.armhole.segments[0].length) - 1j) < 1e-6, (
        "upright where it is narrowest"
    )


# --- legs -------------------------------------------------------------------------------------


@given(st.floats(45, 90), st.floats(230, 330), st.floats(-10, 60))
def test_crotch_and_inseam_of_a_leg_are_fair(fork: float, hip: float, drop: float) -> None:
    front = LegShape("front", hip, 10, 8, 170, 255, 560, 990, 990, 210, 210)
    back = LegShape("back", hip + 12, 35, -25, 170, 255, 560, 990, 990, 250, 250)
    for shape, out, low in ((front, fork, 0.0), (back, fork * 2.2, drop)):
        crotch, inseam = shape.crotch(out, low), shape.inseam(out, low)
        assert abs(crotch.start - inseam.end) < 1e-9
        for path in (crotch, inseam):
            for segment in path.segments:
                if isinstance(segment, Cubic):
                    assert not inflections(segment)
        assert crotch.end == complex(shape.lean, shape.top)
        # square to its inseam, so that with the inseam sewn both crotch curves run on into each other
        corner = abs(cmath.phase(crotch.start_direction / -inseam.end_direction))
        assert corner == pytest.approx(math.pi / 2, abs=1e-6) or shape.slant(out, low) > math.radians(33)


@given(st.floats(45, 90), st.floats(300, 980))
def test_a_leg_that_is_cut_off_is_the_long_leg_up_to_there(fork: float, ends: float) -> None:
    long, short = (LegShape("back", 260, 35, -25, 170, 255, 560, 990, hem, 250, 240) for hem in (990.0, ends))
    for level in (290.0, min(ends - 5, 500.0)):
        if level < ends - 4:
            assert short.width(fork, 8.0, level) == pytest.approx(long.width(fork, 8.0, level), abs=1e-6)
    assert (
        short.inseam(fork, 8.0).start.imag
        == pytest.approx(ends)
        == pytest.approx(short.side(complex(250, -6), fork).end.imag)
    )


# --- bands and the drafting table -------------------------------------------------------------


def test_a_band_has_its_seam_run_and_overlap() -> None:
    band = band_piece("waistband", "Waistband", 760.0, 70.0, 40.0, notches=quarters(760.0))
    assert band.run_length("waist") == 760 and band.run_length("overlap") == 40 and band.run_length("inside") == 800
    assert [notch.at for notch in band.notches] == [190, 380, 570] and area(as_piece(band)) == pytest.approx(800 * 70)
    plain = band_piece("neckband", "Neckband", 400.0, 40.0, folded=False)
    assert "overlap" not in plain.runs() and not plain.drawn and not fault(as_piece(plain))


def test_outlines_and_rectangles() -> None:
    drawn = DraftPiece(
        "p", "P", outline(("a", [0j, 100 + 0j]), ("b", [100 + 0j, 100 + 50j, 50j], "hem"), ("c", [50j, 0j], "fold"))
    )
    piece = as_piece(drawn)
    assert drawn.runs() == ["a", "b", "c"] and piece.runs() == ["p.a", "p.b", "p.c"]
    assert piece.fold == "p.c" and not fault(piece)
    strip = as_piece(rectangle("r", "R", 300.0, 60.0, along=True, cut=2, pair=True))
    assert strip.grain.a.imag == strip.grain.b.imag and area(strip) == pytest.approx(18000) and strip.worn == 2


def test_the_drafting_table_solves_settles_and_respects_the_users_own() -> None:
    sums = drafted("bodice.darted", overrides={"front_neck_level": "1cm"}).sums
    table = Drafting(Context(sums=sums), {})
    table.solved.clear()
    assert table.solve("front_neck_level", lambda v: v - 25, -60, 60, "no") == 10, "the user's own is not solved over"
    assert table.settle("front_neck_level", 33.0) == 10
    assert table.solve("armhole_depth", lambda v: v - 251, 100, 400, "no") == pytest.approx(251)
    assert table["armhole_depth"] == pytest.approx(251) and not table.findings
    nearest = table.solve("back_length", lambda v: v + 1000, 100, 500, "it never closes.")
    assert nearest == pytest.approx(100) and "never closes. The nearest that works is" in table.findings[0].sentence
    with pytest.raises(CannotDraft) as refused:
        table.need(False, "too small", "hip_round")
    assert refused.value.place == "figures.hip_round"
    with pytest.raises(CannotDraft) as refused:
        table.need(False, "too small", "recipe.options.length")
    assert refused.value.place == "recipe.options.length"
