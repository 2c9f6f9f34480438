"""What each block promises of its own, beyond closing: what a cutter would look for first."""

from __future__ import annotations

import math

import pytest

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.geometry.segments import Arc
from caddet.core.pattern.features import Spot
from caddet.core.pattern.ids import Reference, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Across, Run
from caddet.core.truing.walk import walk
from tests.making import KNIT, area, drafted, pattern_of

ODILE, BRAM, WREN, ISHBEL = demo_document().people


def width_at(piece: Piece, level: float) -> float:
    """How wide a piece is at a level, in mm."""
    xs = [p.real for edge in piece.edges for _, p in edge.path.crossings(complex(-9999, level), complex(9999, level))]
    return max(xs) - min(xs)


def middle_at(piece: Piece, level: float) -> float:
    """The middle of a piece at a level."""
    xs = [p.real for edge in piece.edges for _, p in edge.path.crossings(complex(-9999, level), complex(9999, level))]
    return (max(xs) + min(xs)) / 2


def mark_length(pattern: Pattern, piece: str, name: str) -> float:
    return Across(piece, name).measured(pattern)


# --- skirts -----------------------------------------------------------------------------------


def test_a_circle_skirt_in_panels_is_the_same_skirt() -> None:
    whole, panels = (
        drafted("skirt.circle", fraction=0.5),
        drafted("skirt.circle", fraction=0.5, made="panels", panels=6.0),
    )
    one, six = pattern_of(whole).piece("skirt"), pattern_of(panels).piece("skirt")
    assert six.cut == 6 and six.label == "Panel" and one.cut == 1
    assert six.run_length("waist") * 6 == pytest.approx(one.run_length("waist"))
    assert area(six) * 6 == pytest.approx(area(one), rel=1e-5)
    assert six.run_length("seam_left") == pytest.approx(six.run_length("seam_right")) == pytest.approx(600)


def test_more_than_a_full_circle_is_made_of_several_rings() -> None:
    made = drafted("skirt.circle", fraction=1.5)
    assert pattern_of(made).piece("skirt").cut == 2 and not pattern_of(made).piece("skirt").fold
    full = pattern_of(drafted("skirt.circle", fraction=1.0)).piece("skirt")
    assert full.fold == "skirt.fold" and full.cut == 1


def test_a_wrap_goes_round_once_and_over_itself_with_a_curved_edge() -> None:
    made = drafted("skirt.circle", made="wrap", fraction=0.6, overlap=300.0)
    skirt = pattern_of(made).piece("skirt")
    assert skirt.run_length("waist") == pytest.approx(made.sums["waist_seam"].value + 300)
    right, left = skirt.run("front_edge")[0].path, skirt.run("front_edge_left")[0].path
    assert left.length == pytest.approx(600.0, abs=1e-6), "the edge below is straight down"
    both = pattern_of(drafted("skirt.circle", made="wrap", fraction=0.6, curved_edges="both")).piece("skirt")
    assert both.run_length("front_edge") == pytest.approx(both.run_length("front_edge_left"), abs=1e-6)
    hem = skirt.run("hem")[0].path
    assert abs(right.end_direction - hem.start_direction) < 1e-6, "it runs into the hem without a corner"
    assert isinstance(hem.segments[0], Arc)


def test_a_skirt_needs_no_band_and_says_where_it_opens() -> None:
    made = drafted("skirt.circle", band=0.0)
    assert [piece.name for piece in pattern_of(made).pieces] == ["skirt"]
    skirt = pattern_of(made).piece("skirt")
    notch = skirt.notches[0]
    assert notch.name == "opening ends" and notch.double
    assert made.sums["waist_seam"].value + 2 * skirt.along(Spot(notch.edge, notch.u)) >= ODILE.measures["hip"]


# --- upper bodies -----------------------------------------------------------------------------


def test_darts_of_a_bodice_point_at_the_bust_and_stop_short() -> None:
    made = drafted("bodice.darted")
    front = pattern_of(made).piece("front")
    _, _, side_apex, _ = front.legs("bust_dart")
    _, _, waist_apex, _ = front.legs("front_dart")
    neck_point = front.run("shoulder")[0].path.start
    point = complex(made.sums["bust_point"].value, neck_point.imag + made.sums["bust_level"].value)
    assert abs(side_apex - point) == pytest.approx(20, abs=0.5)
    assert waist_apex.real == pytest.approx(point.real, abs=2) and 10 < waist_apex.imag - point.imag < 45


def test_a_flat_chest_gets_no_dart_and_a_fuller_cup_a_larger_one() -> None:
    flat = ODILE.with_measure("upper_bust", 918.0)
    full = ODILE.with_measure("upper_bust", 820.0)
    darts = [drafted("bodice.darted", who, bust_dart="cup").sums["bust_dart_in"].value for who in (flat, ODILE, full)]
    assert darts == sorted(darts) and darts[0] < 8
    made = pattern_of(drafted("bodice.darted", flat, bust_dart="cup"))
    assert not any(dart.name == "front.bust_dart" for dart in made.piece("front").darts)


def test_by_the_balance_the_dart_is_what_the_front_is_longer() -> None:
    who = ODILE.with_measure("shoulder_to_waist_front", 465.0)
    made = drafted("bodice.darted", who, bust_dart="balance")
    rise = ODILE.measures["neck"] / 15
    longer = 465 - ODILE.measures["nape_to_waist"] - rise
    assert made.sums["bust_dart_in"].value == pytest.approx(longer + 15), "and what the front's armhole is shorter"
    front = pattern_of(made).piece("front")
    neck, waist = front.run("shoulder")[0].path.start.imag, front.run("waist")[-1].path.end.imag
    assert waist - neck + made.sums["neck_more"].value * 0.3 == pytest.approx(465, abs=0.1), "as measured over the bust"


@pytest.mark.parametrize(("length", "share"), [("long", 1.0), ("three_quarter", 0.79), ("short", 0.4)])
def test_sleeves_end_where_they_are_asked_to(length: str, share: float) -> None:
    made = drafted("bodice.darted", sleeve_length=length)
    sleeve = pattern_of(made).piece("sleeve")
    _, top, _, bottom = sleeve.outline().bounds()
    assert bottom - top == pytest.approx(ODILE.measures["arm_length"] * share, rel=0.06)


def test_an_elbow_dart_bends_the_sleeve_forward_and_closes() -> None:
    made = drafted("bodice.darted", sleeve_shape="dart")
    sleeve = pattern_of(made).piece("sleeve")
    straight = pattern_of(drafted("bodice.darted", sleeve_shape="tapered")).piece("sleeve")

    def hem_middle(piece: Piece) -> float:
        hem = piece.run("hem")[0].path
        return (hem.start.real + hem.end.real) / 2

    assert hem_middle(sleeve) < hem_middle(straight) - 5, "towards the front"
    _, a, apex, b = sleeve.legs("elbow_dart")
    assert abs(a - b) == pytest.approx(20, abs=0.1) and apex.real < a.real
    assert sleeve.run_length("underarm_front") == pytest.approx(sleeve.run_length("underarm_back"), abs=0.05)


def test_a_flat_cap_makes_a_wide_sleeve_and_a_high_one_a_narrow() -> None:
    widths = [
        drafted("bodice.darted", cap="width", overrides={"cap_height": f"{height}cm"}).sums["sleeve_width"].value
        for height in (8, 12, 16)
    ]
    assert widths == sorted(widths, reverse=True) and widths[0] - widths[2] > 40


def test_notches_of_cap_and_armhole_agree() -> None:
    pattern = pattern_of(drafted("bodice.darted"))
    for side in ("front", "back"):
        body, sleeve = pattern.piece(side), pattern.piece("sleeve")
        armhole = next(n for n in body.notches if n.edge == f"{side}.armhole")
        cap = next(n for n in sleeve.notches if n.edge == f"sleeve.cap_{side}" and n.name == armhole.name)
        from_underarm = body.run_length("armhole") - body.along(Spot(armhole.edge, armhole.u))
        at = sleeve.along(Spot(cap.edge, cap.u))
        on_cap = at if side == "front" else sleeve.run_length("cap_back") - at
        assert on_cap == pytest.approx(from_underarm, abs=0.01) and armhole.double is cap.double is (side == "back")


def test_a_tank_has_a_narrow_shoulder_and_no_sleeve_and_a_sweatshirt_its_bands() -> None:
    tank, sweat = pattern_of(drafted("top.knit", style="tank")), pattern_of(drafted("top.knit", style="sweatshirt"))
    assert not tank.has("sleeve") and tank.piece("front").run_length("shoulder") < 60
    assert {"neckband", "wristband", "hemband", "sleeve"} <= {piece.name for piece in sweat.pieces}
    band = sweat.seam("hemband")
    assert band.kind == "stretched" and abs(walk(sweat, band).off) < 0.01


def test_a_wider_neckline_takes_from_the_shoulder_and_leaves_its_point() -> None:
    close, wide = (pattern_of(drafted("top.knit", neck_wider=by)).piece("back") for by in (150.0, 350.0))
    assert wide.run_length("shoulder") < close.run_length("shoulder") - 20
    tips = [piece.run("shoulder")[0].path.end for piece in (close, wide)]
    assert abs(tips[0].real - tips[1].real) < 8


@pytest.mark.parametrize("sleeve", ["dart", "one_piece"])
def test_a_raglan_is_cut_from_the_neck_into_the_armhole_and_goes_back_together(sleeve: str) -> None:
    made = drafted("top.raglan", sleeve=sleeve)
    pattern = pattern_of(made)
    arm = pattern.piece("sleeve")
    assert bool(arm.darts) is (sleeve == "dart")
    for side in ("front", "back"):
        line = pattern.piece(side).run("raglan")[0].path
        straight, curve = line.segments
        assert abs(straight.direction(1) - curve.direction(0)) < 1e-6, "tangent to the armhole"
    low = [arm.run("raglan_front")[0].path.start, arm.run("raglan_back")[0].path.end]
    assert low[0].imag == pytest.approx(low[1].imag, abs=0.01), "the underarm points lie level"
    if sleeve == "one_piece":
        joins = [edge.path for edge in arm.run("neckline")]
        assert (
            abs(joins[0].end - joins[1].start) < 1e-6 and abs(joins[0].end_direction - joins[1].start_direction) < 1e-6
        )


def test_a_jacket_opens_down_the_front() -> None:
    front = pattern_of(drafted("top.raglan", opening="open")).piece("front")
    assert not front.fold and front.pair and front.cut == 2 and front.run("centre_front")[0].finish == "opening"


def test_a_dolman_reaches_from_elbow_to_elbow() -> None:
    for top in ("slanted", "curved"):
        made = drafted("top.dolman", top=top)
        front, back = pattern_of(made).piece("front"), pattern_of(made).piece("back")
        neck = made.sums["neck_width"].value
        assert 2 * (neck + front.run_length("top")) == pytest.approx(made.sums["reach"].value, abs=0.01)
        assert front.run("neckline")[0].path.start.imag > back.run("neckline")[0].path.start.imag, "lower in front"
        assert front.run_length("end") + back.run_length("end") == pytest.approx(made.sums["end_width"].value)
    woven = pattern_of(drafted("top.dolman", neck="cowl")).piece("collar")
    cowl = pattern_of(drafted("top.dolman", neck="cowl", cloth=KNIT))
    around = 2 * (cowl.piece("front").run_length("neckline") + cowl.piece("back").run_length("neckline"))
    collar = cowl.piece("collar").run_length("neckline")
    head = drafted("top.dolman", neck="cowl").sums["cowl_length"].names["head"].value
    assert collar == pytest.approx(min(max(head + 10, 0.8 * around), around), abs=0.01), "as long as the head"
    assert woven.run_length("neckline") == pytest.approx(around, abs=0.01), "woven cloth can't be stretched to it"
    assert cowl.seam("collar").amount == pytest.approx(around / collar)


def test_a_cowl_only_moves_the_front_and_hangs_as_deep_as_wanted() -> None:
    shallow, deep = drafted("top.cowl", drop=100.0), drafted("top.cowl", drop=260.0)
    for made in (shallow, deep):
        front, back = pattern_of(made).piece("front"), pattern_of(made).piece("back")
        assert front.run_length("shoulder") == pytest.approx(back.run_length("shoulder"), abs=1e-6)
        fold = front.feature("fold_line")
        assert fold is not None
        assert front.where(fold.bits[0].a).imag == pytest.approx(front.where(fold.bits[0].b).imag), (
            "square to the centre"
        )
        grain = front.grain.b - front.grain.a
        assert abs(grain.real) == pytest.approx(abs(grain.imag)), "on the bias"
        assert front.fold == "front.centre_front" and "cut it single" in front.remark
        facing, shoulder = front.run("facing_shoulder")[0].path, front.run("shoulder")[0].path
        assert abs(facing.start_direction.real + shoulder.start_direction.real) < 1e-6, "mirrored in the fold"
    assert deep.sums["swing"].value > shallow.sums["swing"].value + 50
    back = pattern_of(drafted("top.cowl", back="bias")).piece("back")
    assert abs((back.grain.b - back.grain.a).real) > 10


# --- dresses ----------------------------------------------------------------------------------


def test_a_dress_in_one_has_contour_darts_and_keeps_its_waist() -> None:
    made = drafted("dress.sheath", style="in_one")
    pattern = pattern_of(made)
    for side in ("front", "back"):
        piece = pattern.piece(side)
        assert piece.feature("contour_dart") is not None and not any(
            d.name.startswith(f"{side}.{side}_dart") for d in piece.darts
        )
        dart = made.sums[f"contour_{side}"].value
        assert mark_length(pattern, side, "waist") == pytest.approx(made.sums[f"{side}_waist"].value, abs=0.01), dart
    assert {piece.name for piece in pattern.pieces} == {"front", "back"}


def test_an_a_line_swings_out_by_its_flare_and_may_be_split() -> None:
    plain, flared = (
        pattern_of(drafted("dress.sheath", style="a_line", flare=by)).piece("back") for by in (150.0, 270.0)
    )
    out = flared.run("side")[-1].path.end.real - plain.run("side")[-1].path.end.real
    assert out == pytest.approx(120, abs=3)
    split = pattern_of(drafted("dress.sheath", style="a_line", flare=270.0, split=True))
    assert {piece.name for piece in split.pieces} == {"front", "back", "skirt_front", "skirt_back"}
    side = split.piece("back").run_length("side") + split.piece("skirt_back").run_length("side")
    assert side == pytest.approx(flared.run_length("side"), abs=0.01)


def test_a_dress_with_a_waist_seam_has_its_zip_and_all_seams() -> None:
    pattern = pattern_of(drafted("dress.sheath"))
    assert pattern.piece("skirt_back").run("zip")[0].finish == "opening"
    assert {seam.name for seam in pattern.seams} == {
        "side",
        "shoulder",
        "centre_back",
        "skirt_side",
        "waist_front",
        "waist_back",
        "skirt_centre_back",
    }
    assert pattern.piece("front").run_length("waist") == pytest.approx(
        pattern.piece("skirt_front").run_length("waist"), abs=0.01
    )


# --- trousers ---------------------------------------------------------------------------------


@pytest.mark.parametrize("leg", ["straight", "flared", "tapered", "wide"])
def test_the_crease_stays_in_the_middle_of_every_leg(leg: str) -> None:
    made = drafted("trousers.tailored", leg=leg)
    for side in ("front", "back"):
        piece = pattern_of(made).piece(side)
        crease = piece.feature("crease")
        assert crease is not None
        x = piece.where(crease.bits[0].a).real
        for level in (made.sums["knee_level"].value, made.sums["hem_level"].value - 40):
            assert middle_at(piece, level) == pytest.approx(x, abs=0.6), "widened by as much at both seams"


def test_row_19_a_leg_widened_by_two_inches_is_an_inch_wider_on_each_side() -> None:
    """Common practice: from 10 to 12 inches across one piece is 1 inch at each seam, and the crease stays."""
    inch = 25.4
    narrow, wide = (
        drafted("trousers.tailored", overrides={"hem_round": f"{by}in", "knee_round": f"{by}in", "leg_share": "0cm"})
        for by in (20, 24)
    )
    for side in ("front", "back"):
        low = narrow.sums["hem_level"].value - 60
        one, other = pattern_of(narrow).piece(side), pattern_of(wide).piece(side)
        assert width_at(one, low) / inch == pytest.approx(10, abs=0.02) and width_at(
            other, low
        ) / inch == pytest.approx(12, abs=0.02)


def test_row_34_a_pleat_holds_the_cloth_of_the_dart() -> None:
    """Exact: a pleat from a dart takes the same cloth; it is only not sewn down."""
    darts, pleats = drafted("trousers.tailored"), drafted("trousers.tailored", waist_with="pleats", pleat=0.0)
    front = pattern_of(pleats).piece("front")
    assert not front.darts and [feature.kind for feature in front.features].count("pleat") == 1
    open_, folded = front.run_length("waist"), Run(Reference("front.waist")).measured(pattern_of(pleats))
    assert open_ - folded == pytest.approx(darts.sums["front_take"].value, abs=0.1)
    assert folded == pytest.approx(pleats.sums["front_waist"].value, abs=0.1)
    assert abs(walk(pattern_of(pleats), pattern_of(pleats).seam("waistband")).off) < 0.1, "with its pleats folded"


def test_two_pleats_take_what_one_takes() -> None:
    """Exact: folded, the waist is as long as with one; the one over the crease is the deeper."""
    one, two = (drafted("trousers.tailored", waist_with="pleats", pleats=count) for count in (1, 2))
    folded = [Run(Reference("front.waist")).measured(pattern_of(each)) for each in (one, two)]
    assert folded[0] == pytest.approx(folded[1], abs=0.1)
    front = pattern_of(two).piece("front")
    ends = [[front.where(bit.a) for bit in one.bits] for one in front.features if one.kind == "pleat"]
    deep = [abs(b - a) for a, b in ends]
    assert len(deep) == 2 and deep[0] > deep[1] > 0


def test_elastic_trousers_open_nowhere_and_have_no_darts() -> None:
    pattern = pattern_of(drafted("trousers.tailored", waist_with="elastic"))
    assert not pattern.has("waistband") and not any(piece.darts for piece in pattern.pieces)
    assert not any(notch.name == "fly ends" for piece in pattern.pieces for notch in piece.notches)


def test_shorts_are_the_same_trousers_cut_off() -> None:
    made = drafted("trousers.tailored", shorter=600.0)
    assert not any(notch.name == "knee" for piece in pattern_of(made).pieces for notch in piece.notches)
    long = drafted("trousers.tailored")
    assert made.sums["front_hip"].value == long.sums["front_hip"].value


def test_the_band_is_part_of_the_rise() -> None:
    low, high = drafted("trousers.tailored", band=20.0), drafted("trousers.tailored", band=60.0)
    assert low.sums["fork_level"].value - high.sums["fork_level"].value == pytest.approx(40)
    totals = [
        sum(pattern_of(m).piece(s).run_length("crotch") for s in ("front", "back")) + 2 * b
        for m, b in ((low, 20), (high, 60))
    ]
    assert totals[0] == pytest.approx(totals[1], abs=0.05)


@pytest.mark.parametrize("length", ["ankle", "calf", "knee", "shorts"])
def test_leggings_are_one_piece_a_leg_and_smaller_than_the_body(length: str) -> None:
    made = drafted("leggings", length=length)
    leg = pattern_of(made).piece("leg")
    assert leg.pair and leg.cut == 2 and made.sums["hip_round"].value < ODILE.measures["hip"]
    assert leg.run_length("front_inseam") == pytest.approx(leg.run_length("back_inseam"), abs=0.01)
    assert leg.run_length("back_crotch") > leg.run_length("front_crotch") + 40, "the seat lies behind"
    stiff = drafted("leggings", cloth=None, length=length, ease={"hip": 0.0, "waist": 0.0, "thigh": 0.0, "length": 0.0})
    assert stiff.sums["hip_round"].value == pytest.approx(ODILE.measures["hip"])


# --- swim, panels, bands ----------------------------------------------------------------------


def test_a_swimsuit_is_closed_on_the_torso_and_its_parts_are_parts_of_it() -> None:
    whole = drafted("swimsuit")
    pattern = pattern_of(whole)
    torso = mark_length(pattern, "front", "torso") + mark_length(pattern, "back", "torso")
    assert torso == pytest.approx(whole.sums["torso_round"].value, abs=0.01)
    brief, bandeau, top = (pattern_of(drafted("swimsuit", style=style)) for style in ("brief", "bandeau", "bra_top"))
    assert brief.piece("back").run_length("leg") == pytest.approx(pattern.piece("back").run_length("leg"))
    for leg in ("low", "middle", "high"):  # where no bust is shaped in the side, the front is one and the same too
        one, other = (
            pattern_of(drafted("swimsuit", style=style, bust_shaping="none", leg=leg)).piece("front")
            for style in ("one_piece", "brief")
        )
        assert one.run_length("leg") == pytest.approx(other.run_length("leg"), abs=0.01)
    assert top.piece("back").run_length("armhole") == pytest.approx(pattern.piece("back").run_length("armhole"))
    assert set(map(own_name, bandeau.piece("front").runs())) == {"top", "side", "under", "centre_front"}
    for part in (brief, bandeau, top):
        assert all(area(part.piece(side)) < area(pattern.piece(side)) for side in ("front", "back"))
    assert pattern.piece("back").run_length("leg") != pattern.piece("front").run_length("leg"), "fuller over the seat"


def test_a_higher_leg_begins_higher_and_a_deeper_neck_lies_lower() -> None:
    sides = [
        pattern_of(drafted("swimsuit", leg=leg)).piece("front").run_length("side") for leg in ("low", "middle", "high")
    ]
    assert sides == sorted(sides, reverse=True)
    necks = [
        pattern_of(drafted("swimsuit", neck=neck)).piece("front").run("neckline")[0].path.start.imag
        for neck in ("high", "scoop", "deep")
    ]
    assert necks == sorted(necks)


def test_panels_that_are_wide_enough_get_no_sliver_of_a_godet() -> None:
    wide = Person.of("Wide", {"height": 1600.0, "bust": 1250.0, "waist": 1150.0, "hip": 1300.0, "stride": 680.0})
    made = drafted("tunic.panels", wide)
    assert made.sums["godet_width"].value <= 50.8
    pattern = pattern_of(made)
    assert not pattern.has("godet") and not [line for line in made.proof if line.verdict == "fails"]
    longer = drafted("tunic.panels", wide.with_measure("stride", 1100.0, "2026-11-24"))
    assert longer.sums["godet_width"].value > 50.8 and pattern_of(longer).has("godet")


def test_a_panel_tunic_is_rectangles_squares_and_triangles() -> None:
    made = drafted("tunic.panels", WREN)
    pattern = pattern_of(made)
    front, gusset, godet = pattern.piece("front"), pattern.piece("gusset"), pattern.piece("godet")
    assert area(gusset) == pytest.approx((made.sums["gusset"].value - 25.4) ** 2)
    hole = math.pi * (made.sums["neck_line"].value / 2) ** 2 / 4
    whole = made.sums["body_sewn"].value / 2 * made.sums["body_net"].value
    assert whole - area(front) == pytest.approx(hole, rel=0.75), "only the neck is cut out of the rectangle"
    assert godet.run_length("left") == godet.run_length("right") == pytest.approx(front.run_length("godet_join"))
    assert pattern.piece("sleeve").run_length("head") == pytest.approx(2 * front.run_length("sleeve_join"))
    plain = pattern_of(drafted("tunic.panels", WREN, godets=False))
    assert not plain.has("godet") and not plain.piece("front").has_run("godet_join")


def test_full_trousers_close_over_placket_gusset_and_seat() -> None:
    made = drafted("trousers.panels", ISHBEL)
    pattern = pattern_of(made)
    leg, seat = pattern.piece("leg"), pattern.piece("seat")
    slant = leg.run_length("fly") + leg.run_length("strip_join")
    half = (made.sums["seat_wide"].value - pattern.piece("gusset").run_length("back_end")) / 2
    assert leg.run_length("ledge") == pytest.approx(half) == pytest.approx(seat.run_length("wide_right"))
    assert pattern.piece("gusset").run_length("left") == pytest.approx(leg.run_length("strip_join"))
    assert (
        seat.run_length("right")
        == pytest.approx(slant, abs=0.01)
        == pytest.approx(leg.run_length("seat_side"), abs=0.01)
    )
    assert leg.run_length("inseam_front") == pytest.approx(made.sums["leg_length"].value - slant, abs=0.01)
    assert pattern.seam("waistband").kind == "gathered" and pattern.seam("waistband").amount > 1


@pytest.mark.parametrize("edge", [380.0, 520.0, 700.0])
@pytest.mark.parametrize("name", ["collar", "hood", "neckband", "cuff", "waistband"])
def test_bands_are_as_long_as_the_edge_they_are_given(name: str, edge: float) -> None:
    made = drafted(name, edge=edge)
    piece = pattern_of(made).pieces[0]
    run = {"cuff": "sleeve", "waistband": "waist"}.get(name, "neckline")
    times = 2 if name in ("collar", "hood") else 1
    wanted = edge * (0.8 if name == "neckband" else 1)
    assert piece.run_length(run) * times == pytest.approx(wanted, abs=0.01)


def test_a_collar_bends_round_the_neck_and_a_curved_band_round_the_hip() -> None:
    stand = pattern_of(drafted("collar", edge=400.0)).piece("collar")
    assert stand.run_length("outer") < stand.run_length("neckline"), "narrower above, like the neck"
    fold = pattern_of(drafted("collar", edge=400.0, style="fold_over")).piece("collar")
    assert fold.run_length("outer") > fold.run_length("neckline"), "it has to lie over the shoulders"
    flat = pattern_of(drafted("collar", edge=400.0, style="flat", depth=60.0)).piece("collar")
    assert flat.run_length("outer") > fold.run_length("outer")
    band = pattern_of(drafted("waistband", shape="curved", depth=60.0)).piece("waistband")
    assert band.run_length("inside") < band.run_length("waist") + band.run_length("overlap") and band.cut == 2


def test_a_cuff_that_does_not_open_lets_the_hand_through() -> None:
    shut = drafted("cuff", overlap=0.0)
    gate = next(line for line in shut.proof if line.name == "hand")
    assert gate.holds and not [line for line in drafted("cuff").proof if line.name == "hand"]


def test_a_block_leans_on_its_wearer_alone() -> None:
    """Another measure that the block does not ask for changes nothing."""
    plain = drafted("skirt.straight", ODILE)
    odd = drafted("skirt.straight", ODILE.with_measure("head", 600.0))
    assert pattern_of(plain).pieces == pattern_of(odd).pieces
    assert (
        pattern_of(drafted("trousers.tailored", Person.of("x", dict(BRAM.measures)))).pieces
        == pattern_of(drafted("trousers.tailored", BRAM)).pieces
    )
