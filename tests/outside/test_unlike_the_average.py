"""Blocks on bodies unlike the average, measured on the finished outlines as a cutter would. Common practice, no source, where nothing else is said."""

from __future__ import annotations

import cmath
import math

import pytest

from caddet.core.body.estimates import estimate
from caddet.core.body.person import Person
from caddet.core.geometry.paths import Path
from caddet.core.made import Made
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.needed import wanted_measures
from caddet.core.recipe.planning import begun
from tests.making import drafted, nine, pattern_of, step

HIPS = (900, 990, 1120, 1180, 1280, 1400)


def round_body(hip: float) -> Person:
    return Person.of("round", {"height": 1680.0, "waist": hip - 200, "hip": hip, "bust": hip - 50})


def path(piece: Piece, name: str) -> Path:
    return Path.join(edge.path for edge in piece.run(name))


def part(made: Made, name: str) -> Piece:
    return pattern_of(made).piece(name)


def hollow(curve: Path) -> float:
    """How far a curve leaves its chord, as a share of the chord."""
    a, b = curve.start, curve.end
    return max(abs(((p - a) / (b - a)).imag) for p in curve.flattened(0.2))


# Trousers -------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("hip", HIPS)
def test_a_large_seat_keeps_its_curve(hip: float) -> None:
    """The back crotch hugs the body: hollow below, upright above the hip, and no longer than the front's two and a half times."""
    made = drafted("trousers.tailored", round_body(hip))
    back, front = part(made, "back"), part(made, "front")
    crotch = back.run("crotch")[0].path
    round_, straight = crotch.segments[0], crotch.segments[-1]
    assert hollow(Path((round_,))) >= 0.105, "a flat one cuts into the seat"
    assert straight.length >= 0.3 * crotch.length, "straight from above the hip to the waist"
    ends = [piece.run("inseam")[-1].path.end_direction for piece in (front, back)]
    starts = [piece.run("crotch")[0].path.start_direction for piece in (front, back)]
    corners = [abs(cmath.phase(-end / start)) for end, start in zip(ends, starts, strict=True)]
    assert math.degrees(sum(corners)) == pytest.approx(180, abs=6), "sewn, the crotch runs on over the inseam"


def test_the_rise_and_the_crotch_grow_with_the_seat() -> None:
    """From memory of published size tables: with 5 cm of hip the rise grows by about 0.7 cm, the crotch by 2 to 2.5."""
    small, large = round_body(990), round_body(1190)
    rise = [estimate(who, "body_rise").value for who in (small, large)]  # type: ignore[union-attr]
    crotch = [estimate(who, "crotch_length").value for who in (small, large)]  # type: ignore[union-attr]
    assert (rise[1] - rise[0]) / 200 == pytest.approx(0.13, abs=0.03)
    assert 0.33 <= (crotch[1] - crotch[0]) / 200 <= 0.5


def test_a_leg_that_is_widened_for_a_large_thigh_says_so() -> None:
    who = Person.of("x", {"height": 1680.0, "waist": 860.0, "hip": 1120.0, "thigh": 780.0, "knee": 380.0})
    assert any(one.code == "draft.thigh" for one in drafted("trousers.tailored", who).findings)
    assert not any(one.code == "draft.thigh" for one in drafted("trousers.tailored", round_body(990)).findings)


# Bodices and dresses --------------------------------------------------------------------------------------------------


def slope(piece: Piece) -> float:
    along = path(piece, "shoulder")
    way = along.end - along.start
    return math.degrees(math.asin(abs(way.imag) / abs(way)))


@pytest.mark.parametrize("block", ["bodice.darted", "dress.sheath"])
def test_without_a_bust_dart_the_shoulders_slope_as_with_one(block: str) -> None:
    for who in nine():
        with_one, without = (drafted(block, who, bust_dart=choice) for choice in ("balance", "none"))
        for side in ("front", "back"):
            assert slope(part(without, side)) == pytest.approx(slope(part(with_one, side)), abs=4.0), (who.name, side)
        longer = path(part(without, "back"), "armhole").length - path(part(without, "front"), "armhole").length
        assert longer == pytest.approx(10, abs=1), who.name


def test_a_front_without_a_bust_dart_that_rides_up_says_so() -> None:
    full = Person.of("full", {"height": 1680.0, "bust": 1080.0, "under_bust": 860.0, "waist": 840.0, "hip": 1060.0})
    assert any(one.code == "draft.no_dart" for one in drafted("bodice.darted", full, bust_dart="none").findings)
    assert not any(one.code == "draft.no_dart" for one in drafted("bodice.darted", full).findings)


def test_an_a_line_falls_out() -> None:
    """Eight centimetres at each side beyond the hip, or it is a tube; less on a short one."""
    for who in nine():
        made = drafted("dress.sheath", who, style="a_line")
        for side in ("front", "back"):
            piece = part(made, side)
            assert path(piece, "hem").length - who_quarter(made, side) >= 70, (who.name, side)


def who_quarter(made: Made, side: str) -> float:
    return made.sums[f"{side}_hip"].value


def test_the_side_of_a_dress_in_one_takes_in_what_its_rule_says() -> None:
    """At most 2.5 cm from the bust to the waist; contour darts take the rest, none of them over 4 cm."""
    wasp = Person.of("wasp", {"height": 1700.0, "bust": 1000.0, "waist": 640.0, "hip": 1080.0})
    for who in (*nine(), wasp):
        for side in ("front", "back"):
            piece = part(drafted("dress.sheath", who, style="in_one"), side)
            line = piece.level("waist")
            assert line is not None
            ends = [path_.end for path_ in piece.drawn(line)]
            bust = path(piece, "armhole").end.real
            assert bust - max(end.real for end in ends) <= 25.5, (who.name, side)
            for one in (f for f in piece.features if "contour_dart" in f.name):
                wide = [p.real for path_ in piece.drawn(one) for p in path_.flattened(0.1)]
                assert max(wide) - min(wide) <= 40.5


# Necklines and sleeves ------------------------------------------------------------------------------------------------

ROUND_NECKS = [
    ("top.knit", {"style": "tank"}),
    ("top.knit", {}),
    ("top.raglan", {}),
    ("bodice.darted", {}),
    ("dress.sheath", {"style": "a_line"}),
]


@pytest.mark.parametrize(("block", "options"), ROUND_NECKS)
def test_round_necklines_are_round(block: str, options: dict[str, str]) -> None:
    """Level at the centre for its first centimetre and a half (a circle of 7.5 cm rises by 6°), and well out of its chord."""
    for who in nine():
        neck = path(part(drafted(block, who, **options), "front"), "neckline")
        rise = neck.point_at(min(15.0, neck.length / 4)) - neck.start
        assert math.degrees(math.atan2(-rise.imag, rise.real)) <= 11, who.name
        wide, deep = neck.end.real - neck.start.real, neck.start.imag - neck.end.imag
        full = max((p.real - neck.start.real) / wide + (p.imag - neck.end.imag) / deep - 1 for p in neck.flattened(0.2))
        assert full >= 0.23, (who.name, "a quarter of an ellipse has 0.41, a V has 0")


@pytest.mark.parametrize("length", ["long", "short"])
@pytest.mark.parametrize("shape", ["straight", "tapered", "elbow", "dart"])
def test_a_sleeve_is_as_long_over_the_arm_as_the_arm(shape: str, length: str) -> None:
    """From the shoulder's notch down the middle to the hem, where a dart at the elbow has ended."""
    for who in nine():
        made = drafted("sleeve.set_in", who, sleeve_shape=shape, sleeve_length=length)
        sleeve, asked = part(made, "sleeve"), made.sums["sleeve_long"].value
        hem = path(sleeve, "hem")
        over = hem.point_at(hem.length / 2).imag - path(sleeve, "cap_back").start.imag
        assert over == pytest.approx(asked, abs=2.0), who.name


def test_a_casing_grows_on_at_a_straight_sleeve() -> None:
    """Its hem bows by 2 mm: it is drawn straight for the fold."""
    made = drafted("sleeve.set_in", sleeve_shape="straight", steps=(step("casing", edges=("sleeve.hem",)),))
    assert not made.evaluated.outcomes[-1].stuck
    sleeve = part(made, "sleeve")
    assert sleeve.run("hem")[0].path.length > 0 and len(pattern_of(made).pieces) == 1, "no piece of its own"


# Swim, collars, hoods -------------------------------------------------------------------------------------------------


def test_a_bra_top_holds_at_the_centre_back() -> None:
    for who in nine():
        made = drafted("swimsuit", who, style="bra_top")
        assert path(part(made, "back"), "centre_back").length >= 48, who.name


def turning(curve: Path) -> float:
    """How much faster a curve turns where it turns most than on the average."""
    spots = [curve.point_at(curve.length * n / 60) for n in range(61)]
    turns = [abs(cmath.phase((c - b) / (b - a))) for a, b, c in zip(spots, spots[1:], spots[2:], strict=False)]
    return max(turns) / (sum(turns) / len(turns))


def test_a_flat_collar_has_no_bend_at_the_shoulder() -> None:
    for who in nine():
        collar = part(drafted("collar", who, style="flat"), "collar")
        assert turning(path(collar, "neckline")) <= 2.6, who.name


def test_a_hood_rises_to_the_nape_without_a_wave() -> None:
    """Square to the centre seam, its neck edge may lie no more than 4 mm above where it ends."""
    for who in nine():
        neck = path(part(drafted("hood", who), "hood"), "neckline")
        nape = min((neck.start, neck.end), key=lambda p: p.imag)
        assert nape.imag - min(p.imag for p in neck.flattened(0.2)) <= 4.5, who.name


# Lengths by the wearer ------------------------------------------------------------------------------------------------


def test_lengths_nobody_chose_go_by_the_wearer() -> None:
    """No skirt reaches the floor of a child; it follows another wearer, and a length that was chosen stays."""
    tall, child = Person.of("tall", {"height": 1800.0}), Person.of("child", {"height": 1050.0})
    for block in ("skirt.straight", "top.knit"):
        recipe = begun(block)
        lengths = [front_length(drafted(block, who, **recipe.options)) for who in (tall, child)]
        assert lengths[0] > 600 > 450 > lengths[1], (block, lengths)
        assert "waist_to_floor" not in wanted_measures(recipe).needs, "a skirt is drafted without it"
    assert front_length(drafted("skirt.straight", child, length=500.0)) > 490
    unknown = Person.of("unknown", {"waist": 760.0, "hip": 980.0, "waist_to_hip": 205.0})
    made = drafted("skirt.straight", unknown, **begun("skirt.straight").options)
    assert made.pattern is not None, "without the measure it is as for an average body"


def front_length(made: Made) -> float:
    pattern = pattern_of(made)
    piece = next(one for one in pattern.pieces if any(edge.finish == "hem" for edge in one.edges))
    _, top, _, low = piece.outline().bounds()
    return low - top
