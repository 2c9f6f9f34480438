"""Necklines, armholes, hems and widths: by the amounts asked for, alike on pieces that meet, square where it matters."""

from __future__ import annotations

import cmath
import math

import pytest

from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import level_length
from caddet.core.recipe.registry import STEPS
from caddet.core.truing.walk import walk
from tests.making import drafted, nine, pattern_of, step
from tests.surgery import consistent

INCH = 25.4
KNIT, TROUSERS, SKIRT = (pattern_of(drafted(name)) for name in ("top.knit", "trousers.tailored", "skirt.straight"))


def done(block: str, kind: str, **values: object) -> Pattern:
    after = drafted(block, steps=(step(kind, **values),))
    assert not after.evaluated.outcomes[0].stuck, after.evaluated.outcomes[0].stuck
    consistent(pattern_of(after))
    return pattern_of(after)


def why_not(block: str, kind: str, **values: object) -> str:
    return str(drafted(block, steps=(step(kind, **values),)).evaluated.outcomes[0].stuck)


def seams_meet(before: Pattern, after: Pattern, *names: str) -> None:
    for name in names:
        assert abs(walk(after, after.seam(name)).off) <= abs(walk(before, before.seam(name)).off) + 0.6, name


def corner(piece: Piece, run: str, other: str) -> complex:
    """Where two runs of a piece meet."""
    ends = [{p for path in piece.walked(one) for p in (path.start, path.end)} for one in (run, other)]
    return min((abs(p - q), p) for p in ends[0] for q in ends[1])[1]


# --- necklines and armholes -----------------------------------------------------------------------


@pytest.mark.parametrize("shape", ["round", "deep", "v", "square", "same"])
def test_a_neckline_is_lower_and_wider_by_what_was_asked(shape: str) -> None:
    after = done("top.knit", "neckline", edges=("front.neckline",), down=60.0, out=20.0, shape=shape)
    for name, down in (("front", 60.0), ("back", 0.0)):
        was, now = KNIT.piece(name), after.piece(name)
        centre = f"centre_{name}"
        assert was.run_length(centre) - now.run_length(centre) == pytest.approx(down, abs=1e-6)
        assert was.run_length("shoulder") - now.run_length("shoulder") == pytest.approx(20.0, abs=1e-6)
    seams_meet(KNIT, after, "shoulder")
    assert after.piece("neckband").run_length("neckline") != pytest.approx(
        KNIT.piece("neckband").run_length("neckline")
    ), "the band was fitted again"


def test_round_necklines_leave_the_centre_square_and_a_v_is_straight() -> None:
    for shape in ("round", "deep", "square"):
        front = done("top.knit", "neckline", edges=("front.neckline",), down=50.0, shape=shape).piece("front")
        edge = front.run("neckline")[0]
        centre = corner(front, "neckline", "centre_front")
        way = edge.path.start_direction if abs(edge.path.start - centre) < 1e-6 else edge.path.end_direction
        assert abs(way.imag) < 1e-6, shape
    front = done("top.knit", "neckline", edges=("front.neckline",), down=50.0, shape="v").piece("front")
    path = front.run("neckline")[0].path
    assert path.length == pytest.approx(abs(path.end - path.start), rel=0.02), (
        "nearly straight: it curves to the shoulder"
    )


def test_t_shirt_to_sports_top() -> None:
    """Row 64 of the check values: the armhole lowered 1", cut in 1½"."""
    after = done("top.knit", "armhole", lower=INCH, cut_in=1.5 * INCH)
    for name in ("front", "back"):
        was, now = KNIT.piece(name), after.piece(name)
        assert was.run_length("side") - now.run_length("side") == pytest.approx(INCH, abs=1e-6)
        assert was.run_length("shoulder") - now.run_length("shoulder") == pytest.approx(1.5 * INCH, abs=1e-6)
    seams_meet(KNIT, after, "shoulder", "side", "armhole_front", "armhole_back")
    assert "only" in why_not("top.knit", "armhole", cut_in=150.0)


def test_a_neckline_below_the_hem_is_refused_and_so_is_one_without_shoulders() -> None:
    assert "only" in why_not("bodice.darted", "neckline", edges=("front.neckline",), down=450.0)
    assert "only" in why_not("top.knit", "neckline", edges=("front.neckline",), out=150.0)
    assert "shoulder and a centre" in why_not("top.knit", "neckline", edges=("neckband.neckline",))
    assert "no neckline" in why_not("skirt.straight", "neckline")


# --- widths ---------------------------------------------------------------------------------------


def test_a_leg_is_widened_by_the_same_at_both_seams_and_the_crease_stays() -> None:
    """Row 19: from 10" to 12" across one piece: 1" each side."""
    after = done("trousers.tailored", "widen", amount=INCH)
    for name in ("front", "back"):
        was, now = TROUSERS.piece(name), after.piece(name)
        assert now.run_length("hem") == pytest.approx(was.run_length("hem") + 2 * INCH, rel=0.01)
        crease = [next(f for f in one.features if f.name.endswith("crease")) for one in (was, now)]
        ends = [
            [one.where(bit) for bit in (f.bits[0].a, f.bits[0].b)] for one, f in zip((was, now), crease, strict=True)
        ]
        assert abs(ends[0][1].real - ends[1][1].real) < 0.5, "the crease stays where it was"
        for run in ("side", "inseam"):
            assert abs(corner(now, run, "hem") - corner(was, run, "hem")) == pytest.approx(INCH, abs=0.6)
        hip = [next(f for f in one.features if f.name.endswith("hip")) for one in (was, now)]
        assert level_length(now, hip[1]) == pytest.approx(level_length(was, hip[0]), abs=1.0)
    seams_meet(TROUSERS, after, "side", "inseam")
    wide = done("trousers.tailored", "widen", amount=150.0)
    seams_meet(TROUSERS, wide, "side", "inseam")


@pytest.mark.parametrize("amount", [-12.0, 60.0])
def test_a_wide_leg_begins_at_the_level_that_was_named(amount: float) -> None:
    after = done("trousers.tailored", "widen", amount=amount, level=("front.knee",))
    for name in ("front", "back"):
        was, now = TROUSERS.piece(name), after.piece(name)
        thigh = [next(f for f in one.features if f.name.endswith("thigh")) for one in (was, now)]
        assert level_length(now, thigh[1]) == pytest.approx(level_length(was, thigh[0]), abs=1e-6)
        calf = [level_length(one, next(f for f in one.features if f.name.endswith("calf"))) for one in (was, now)]
        assert (calf[1] - calf[0]) * amount > 0
    seams_meet(TROUSERS, after, "side", "inseam")


def test_a_skirt_is_widened_at_its_sides_and_not_at_the_fold_or_the_centre_back() -> None:
    after = done("skirt.straight", "widen", amount=40.0)
    for name, centre in (("front", "centre_front"), ("back", "centre_back")):
        assert after.piece(name).run_length(centre) == pytest.approx(SKIRT.piece(name).run_length(centre), abs=1e-9)
        assert after.piece(name).run_length("hem") == pytest.approx(
            SKIRT.piece(name).run_length("hem") + 40.0, rel=0.012
        )
    assert "narrower" in why_not("skirt.straight", "widen", amount=-300.0)
    assert "no hem" in why_not("skirt.straight", "widen", pieces=("waistband",))


def test_the_kink_at_the_level_is_drawn_smooth() -> None:
    front = done("trousers.tailored", "widen", amount=80.0, level=("front.knee",)).piece("front")
    for run in ("side", "inseam"):
        for path in front.walked(run):
            turns = [
                abs(math.degrees(cmath.phase(two.direction(0.0) / one.direction(1.0))))
                for one, two in zip(path.segments, path.segments[1:], strict=False)
            ]
            assert max(turns, default=0.0) < 0.3, run


# --- hems -----------------------------------------------------------------------------------------


def test_a_high_low_hem_is_longer_behind_and_meets_at_the_sides() -> None:
    after = done("skirt.straight", "hem_shape", front=-80.0, side=0.0, back=120.0)
    assert after.piece("front").run_length("centre_front") == pytest.approx(
        SKIRT.piece("front").run_length("centre_front") - 80, abs=1e-6
    )
    assert after.piece("back").run_length("centre_back") == pytest.approx(
        SKIRT.piece("back").run_length("centre_back") + 120, abs=1e-6
    )
    seams_meet(SKIRT, after, "side")
    for name in ("front", "back"):
        piece = after.piece(name)
        hem = piece.run("hem")[0].path
        middle = corner(piece, "hem", f"centre_{name}")
        way = hem.start_direction if abs(hem.start - middle) < 1e-6 else hem.end_direction
        assert abs(way.imag) < 0.01, "square to the centre"
    assert "only" in why_not("skirt.straight", "hem_shape", front=-900.0)


# --- on bodies ------------------------------------------------------------------------------------


def test_lines_and_widths_on_nine_bodies_break_no_promise_they_do_not_mean_to() -> None:
    done_on = 0
    for who in nine()[::2]:
        for name in ("top.knit", "bodice.darted", "dress.sheath", "trousers.tailored", "skirt.straight"):
            base = drafted(name, who)
            before = {line.name for line in base.proof if line.kind == "closure" and line.verdict != "holds"}
            for kind, values in (
                ("neckline", {"down": 40.0, "out": 15.0}),
                ("armhole", {"lower": 20.0}),
                ("widen", {"amount": 20.0}),
                ("hem_shape", {"back": 40.0}),
            ):
                after = drafted(name, who, steps=(step(kind, **values),))
                if reason := after.evaluated.outcomes[0].stuck:
                    assert len(reason) > 25 and "Error" not in reason, reason
                    continue
                done_on += 1
                consistent(pattern_of(after))
                assert {
                    line.name for line in after.proof if line.kind == "closure" and line.verdict != "holds"
                } <= before
    assert done_on > 45


def test_no_two_steps_share_a_key_nor_take_one_of_the_tables() -> None:
    keys = [one.key for one in STEPS.values() if one.key]
    assert len(keys) == len(set(keys)) and not set(keys) & set("NJT10+-=")
