"""Slash and spread: strips and wedges to the square millimetre, hinges that hold, edges that are sewn in."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from caddet.core.hands.gesture import begin
from caddet.core.hands.things import Thing
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import level_length
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.values import LinesValue, Place
from caddet.core.truing.walk import walk
from tests.making import drafted, nine, pattern_of, polygon, step
from tests.surgery import consistent

INCH = 25.4
BAND = pattern_of(drafted("neckband")).piece("neckband")


def done(block: str, **values: object) -> Pattern:
    after = drafted(block, steps=(step("slash", **values),))
    assert not after.evaluated.outcomes[0].stuck, after.evaluated.outcomes[0].stuck
    consistent(pattern_of(after))
    return pattern_of(after)


def why_not(block: str, **values: object) -> str:
    return str(drafted(block, steps=(step("slash", **values),)).evaluated.outcomes[0].stuck)


def cloth(piece: Piece) -> float:
    return float(polygon(piece.polygon(0.005)).area)


def test_a_puff_of_seven_lines_is_seven_inches_wider_at_the_biceps() -> None:
    """Row 20 of the check values: 7 lines, 1" gaps: biceps line + 7"."""
    before = pattern_of(drafted("sleeve.set_in")).piece("sleeve")
    after = done(
        "sleeve.set_in",
        edges=("sleeve.cap_front", "sleeve.cap_back"),
        to=("sleeve.hem",),
        count=7,
        amount=INCH,
        opens="all",
    ).piece("sleeve")
    levels = [next(f for f in one.features if f.name.endswith("upper_arm")) for one in (before, after)]
    assert level_length(after, levels[1]) == pytest.approx(level_length(before, levels[0]) + 7 * INCH, abs=0.5)
    caps = [sum(one.run_length(f"cap_{side}") for side in ("front", "back")) for one in (before, after)]
    assert caps[1] > caps[0] + 5 * INCH


def test_every_two_inches_opened_by_two_inches_double_the_length() -> None:
    """Row 21: ruching; the panel is as long again. A rectangle, so exact."""
    wide = BAND.run_length("inside")
    count = round(wide / (2 * INCH)) - 1
    amount = wide / (count + 1)
    after = done("neckband", edges=("neckband.inside",), count=count, amount=amount, opens="all", hold="loose").piece(
        "neckband"
    )
    assert after.run_length("inside") == pytest.approx(wide + count * amount, abs=1e-6)
    doubled = done(
        "neckband", edges=("neckband.inside",), count=count, by="ratio", ratio=2.0, opens="all", hold="loose"
    ).piece("neckband")
    assert doubled.run_length("inside") == pytest.approx(2 * wide, abs=1e-6)


def test_a_shirred_panel_takes_half_as_much_again() -> None:
    """Row 22: + 50 %."""
    after = done(
        "neckband", edges=("neckband.inside",), count=9, by="ratio", ratio=1.5, opens="all", hold="loose"
    ).piece("neckband")
    assert cloth(after) == pytest.approx(1.5 * cloth(BAND), rel=1e-8)


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 9), st.floats(2.0, 60.0))
def test_opened_all_along_it_grows_by_the_strips(count: int, amount: float) -> None:
    after = done("neckband", edges=("neckband.inside",), count=count, amount=amount, opens="all", hold="loose").piece(
        "neckband"
    )
    tall = cloth(BAND) / BAND.run_length("inside")
    assert cloth(after) == pytest.approx(cloth(BAND) + count * amount * tall, rel=1e-8)
    for run in ("start", "end"):
        assert after.run_length(run) == pytest.approx(BAND.run_length(run), abs=1e-9)


@settings(max_examples=25, deadline=None)
@given(st.floats(0.2, 0.8), st.floats(3.0, 60.0))
def test_a_hinge_adds_the_wedge_and_keeps_the_other_edge(share: float, amount: float) -> None:
    key = "neckband.neckline"
    line = (Place(edge="neckband.inside", share=share), Place(edge=key, share=share))
    a, b = (BAND.run_point(one.edge, BAND.run_length(one.edge) * float(one.share or 0))[0] for one in line)
    after = done("neckband", lines=LinesValue(lines=(line,)).lines, amount=amount, fair=False, hold="loose").piece(
        "neckband"
    )
    wedge = abs(a - b) ** 2 * math.sin(2 * math.asin(amount / 2 / abs(a - b))) / 2
    assert cloth(after) == pytest.approx(cloth(BAND) + wedge, rel=1e-8)
    assert after.run_length(key) == pytest.approx(BAND.run_length(key), abs=1e-9)
    assert after.run_length("inside") == pytest.approx(BAND.run_length("inside") + amount, abs=1e-9)


@pytest.mark.parametrize("opens", ["start", "all"])
def test_overlapped_it_is_shorter_by_what_was_taken_out(opens: str) -> None:
    after = done(
        "neckband", edges=("neckband.inside",), count=3, amount=-8.0, opens=opens, hold="loose", fair=False
    ).piece("neckband")
    assert after.run_length("inside") == pytest.approx(BAND.run_length("inside") - 24.0, abs=0.02)
    if opens == "all":
        tall = cloth(BAND) / BAND.run_length("inside")
        assert cloth(after) == pytest.approx(cloth(BAND) - 24.0 * tall, rel=1e-6)


def test_spread_and_overlapped_again_it_is_as_long_as_before() -> None:
    there = step("slash", edges=("neckband.inside",), count=2, amount=12.0, opens="all", hold="loose")
    back = step("slash", edges=("neckband.inside",), count=2, amount=-12.0, opens="all", hold="loose")
    after = pattern_of(drafted("neckband", steps=(there, back))).piece("neckband")
    assert cloth(after) == pytest.approx(cloth(BAND), rel=1e-6)


def test_the_opened_cap_is_gathered_into_the_armhole_and_walks() -> None:
    after = done("top.knit", edges=("sleeve.cap_front", "sleeve.cap_back"), to=("sleeve.hem",), count=7, amount=15.0)
    for name in ("armhole_front", "armhole_back"):
        seam = after.seam(name)
        assert seam.kind == "gathered" and seam.amount > 1.1 and abs(walk(after, seam).off) < 1e-6


def test_smooth_again_means_no_corner_left_on_the_opened_edge() -> None:
    for fair in (True, False):
        sleeve = done(
            "sleeve.set_in",
            edges=("sleeve.cap_front", "sleeve.cap_back"),
            to=("sleeve.hem",),
            count=7,
            amount=20.0,
            fair=fair,
        ).piece("sleeve")
        turns = [
            abs(math.degrees(math.atan2((v := two.direction(0.0) / one.direction(1.0)).imag, v.real)))
            for edge in sleeve.run("cap_front")
            for one, two in zip(edge.path.segments, edge.path.segments[1:], strict=False)
        ]
        assert (max(turns, default=0.0) < 0.5) is fair


def test_what_can_not_be_spread_says_why() -> None:
    assert "draw lines" in why_not("neckband")
    ends = [(0.3, 0.3), (0.7, 0.7)], [(0.3, 0.7), (0.7, 0.3)]  # whichever way the two edges run, one pair crosses
    crossing = [
        why_not(
            "neckband",
            lines=tuple(
                (Place(edge="neckband.inside", share=a), Place(edge="neckband.neckline", share=b)) for a, b in pair
            ),
        )
        for pair in ends
    ]
    assert sorted("cross" in one for one in crossing) == [False, True]
    assert "taken out" in why_not("neckband", edges=("neckband.inside",), count=20, amount=-60.0, opens="all")
    wide = drafted("top.knit", steps=(step("slash", edges=("back.hem",), count=9, amount=200.0, opens="all"),))
    assert any("it needs a seam or a wider cloth" in finding.sentence for finding in wide.findings)


def test_on_nine_bodies_every_block_spreads_or_says_why_not() -> None:
    done_on = 0
    for who in nine()[::3]:
        for name in ("skirt.straight", "dress.sheath", "top.knit", "trousers.tailored", "top.raglan"):
            base = drafted(name, who)
            hems = [edge.name for piece in pattern_of(base).pieces for edge in piece.edges if edge.finish == "hem"]
            for hem in hems[:2]:
                made = drafted(name, who, steps=(step("slash", edges=(hem,), count=4, amount=18.0),))
                if reason := made.evaluated.outcomes[0].stuck:
                    assert len(reason) > 25, reason
                    continue
                done_on += 1
                consistent(pattern_of(made))
    assert done_on >= 15


def test_the_parts_are_numbered_in_order_where_they_lie_now() -> None:
    """Seven lines make eight parts; each number stands inside the cloth, one after the other along the opened edge."""
    made = drafted("sleeve.set_in")
    hand = begin(STEPS["slash"], pattern_of(made), made.evaluated.sources[0].context, (Thing("edge", "sleeve.hem"),))
    hand = hand.set("count", 7.0).set("amount", 25.4)
    sleeve = hand.outcome.pattern.piece("sleeve")
    assert [one.point for one in hand.parts] == [str(n) for n in range(1, 9)]
    inside = polygon(sleeve.polygon(0.2))
    assert all(inside.contains(shapely.Point(one.at.real, one.at.imag)) for one in hand.parts)
    across = [one.at.real for one in hand.parts]
    assert across == sorted(across)
    steps = [abs(b - a) for a, b in pairwise(across)]
    assert max(steps) < 1.6 * min(steps) and not begin(STEPS["flare"], pattern_of(made), hand.context).parts
