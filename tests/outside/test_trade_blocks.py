"""Blocks against what the trade knows. Rows of the check values; "CP": common practice, no source; "X": exact geometry."""

from __future__ import annotations

import math

import numpy as np
import pytest

from caddet.core.blocks.waistband import finished_depth
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.geometry.segments import Arc
from caddet.core.made import Made
from caddet.core.pattern.promises import Across
from caddet.core.recipe.ease import FITS, take_for_stretch
from tests.making import area, drafted, full_people, pattern_of, whole_bodies

INCH = 25.4
ODILE = demo_document().person


def body(**inches: float) -> Person:
    """Somebody whose measures are given in inches."""
    return Person.of("x", {"height": 1680.0} | {code: value * INCH for code, value in inches.items()})


def cut_box(made: Made, piece: str) -> tuple[float, float]:
    """Width and height in inches of what is cut out for a piece; both halves of one on the fold."""
    (one,) = [cut for cut in made.cut if cut.piece.made == piece]
    left, top, right, bottom = one.cut.bounds()
    return (right - left) * (2 if one.piece.fold else 1) / INCH, (bottom - top) / INCH


def test_row_1_half_circle_with_the_allowance_off_the_radius() -> None:
    """CP: 43 inches by 3.14 is 13.7; half an inch off gives 13.2."""
    who = body(waist=43, hip=46)
    plain = drafted("skirt.circle", who, ease={"waist": 0.0}, fraction=0.5)
    off = drafted("skirt.circle", who, ease={"waist": 0.0}, fraction=0.5, allowance_school="in_radius")
    assert plain.sums["radius"].value / INCH == pytest.approx(13.7, abs=0.05)
    (cut,) = [one.cut for one in off.cut if one.piece.made == "skirt"]
    assert min(abs(p) for p in cut.flattened(0.02)) / INCH == pytest.approx(13.2, abs=0.05), "where the cloth is cut"
    skirt, band = (pattern_of(off).run_length(f"{name}.waist") for name in ("skirt", "waistband"))
    assert skirt / INCH == pytest.approx(43, abs=0.05) and band == pytest.approx(skirt, abs=0.05), "what is sewn"


def test_rows_2_and_3_flounce_on_a_sleeve_edge() -> None:
    """CP: a full circle on 13 + 6 inches has a radius of 3.0, at 7 inches deep an outer one of 10."""
    flounce = drafted(
        "skirt.circle", body(waist=19, hip=40), ease={"waist": 0.0}, fraction=1.0, length=7 * INCH, band=0.0
    )
    assert flounce.sums["radius"].value / INCH == pytest.approx((13 + 6) / 6.28, abs=0.05)
    assert flounce.sums["outer_radius"].value / INCH == pytest.approx(10, abs=0.05)


def test_rows_4_to_6_neckband() -> None:
    """CP: 0.8 × neckline + 1 inch; 3 inches cut for 1 finished; 2½ cut is ¾ finished; half-inch seams."""
    sums = drafted("neckband", edge=20 * INCH, depth=1 * INCH).sums
    assert sums["cut_length"].value / INCH == pytest.approx(0.8 * 20 + 1)
    assert sums["cut_depth"].value / INCH == pytest.approx(3)
    assert finished_depth(2.5 * INCH, 0.5 * INCH) / INCH == pytest.approx(0.75)


def test_row_7_stand_collar_of_a_knit_dress() -> None:
    """CP: as long as front and back neckline; cut 2 inches wide with quarter-inch seams."""
    dress = pattern_of(drafted("top.knit"))
    around = 2 * (dress.piece("front").run_length("neckline") + dress.piece("back").run_length("neckline"))
    collar = pattern_of(drafted("collar", edge=around, style="straight_stand", depth=1.5 * INCH)).piece("collar")
    assert 2 * collar.run_length("neckline") == pytest.approx(around, abs=0.01)
    _, top, _, bottom = collar.outline().bounds()
    assert (bottom - top + 2 * 0.25 * INCH) / INCH == pytest.approx(2)


def test_rows_10_to_12_dress_with_five_inches_of_ease() -> None:
    """CP: bust 35 gives 20 inches each; the shoulder falls about 1½; the side flares 3 to 5 inches."""
    who = body(bust=35, waist=28, hip=38)
    made = drafted("dress.sheath", who, ease={"bust": 5 * INCH}, style="a_line", flare=4 * INCH, fit="loose_woven")
    assert made.sums["panel_width"].value / INCH == pytest.approx(20)
    assert made.sums["shoulder_slope"].value / INCH == pytest.approx(1.5, abs=0.5)
    back = pattern_of(made).piece("back")
    widest = max(back.run("side")[0].path.start.real, made.sums["back_hip"].value)
    assert 3 <= (back.run("side")[-1].path.end.real - widest) / INCH <= 5
    assert FITS["loose_woven"].levels["bust"][0] == 5 * INCH


def test_rows_13_and_14_less_for_the_stretch() -> None:
    """CP: 1 cm at 30 % is 0.7 by the quick rule. X: exactly 0.77."""
    exact, quick = take_for_stretch(10.0, 0.3)
    assert quick == pytest.approx(7.0) and exact == pytest.approx(7.7, abs=0.05)


def test_row_18_pull_on_trousers_pass_the_hip() -> None:
    """CP: the top edge before elastic is at least the hip."""
    for who in whole_bodies()[::25]:
        pattern = pattern_of(drafted("trousers.tailored", who, waist_with="elastic"))
        top = 2 * (pattern.piece("front").run_length("waist") + pattern.piece("back").run_length("waist"))
        assert top >= who.measures["hip"]


@pytest.mark.parametrize(
    ("height", "use", "inches"), [(60, "easy", 5), (72, "easy", 6), (60, "hard", 6), (72, "hard", 7)]
)
def test_row_23_gusset(height: float, use: str, inches: float) -> None:
    """CP: an inch a side for each foot of height, one more for hard use."""
    who = body(bust=36, waist=30, hip=39).with_measure("height", height * INCH)
    assert cut_box(drafted("tunic.panels", who, use=use), "gusset") == pytest.approx((inches, inches), abs=0.01)


def test_rows_24_to_27_panel_tunic() -> None:
    """CP: girth ÷ 2 + 3; slit (head − neck) ÷ 2, 3½ to 5 inches; neck ÷ π across; stride circle ÷ 2 − body + 2."""
    made = drafted("tunic.panels", body(bust=36, waist=30, hip=40, neck=15, head=23, stride=30))
    sums = {name: one.value / INCH for name, one in made.sums.items()}
    for name in ("front", "back"):
        assert cut_box(made, name)[0] == pytest.approx(40 / 2 + 3, abs=0.01), "cut, with its seams"
    assert sums["neck_across"] == pytest.approx(15 / math.pi) and sums["neck_line"] == pytest.approx(15 / math.pi + 0.5)
    seam_line = [pattern_of(made).piece(name).run_length("neckline") for name in ("front", "back")]
    assert 2 * sum(seam_line) / INCH == pytest.approx(15 + 0.5 * math.pi), (
        "a quarter of an inch outside, all the way round"
    )
    assert 3.5 <= (23 - 15) / 2 <= 5 and 3.5 <= sums["slit"] <= 5
    assert sums["godet_width"] == pytest.approx(60 / 2 - 23 + 2)
    hem = sum(pattern_of(made).piece(name).run_length("hem") * 2 for name in ("front", "back", "godet")) / INCH
    assert hem - 2 * (pattern_of(made).piece("godet").run_length("hem") - made.sums["godet_net"].value) / INCH == (
        pytest.approx(60, abs=0.05)
    ), "sewn, the hem is the stride there and back"
    easy = drafted("tunic.panels", body(bust=36, waist=30, hip=40, neck=15), neck="loose").sums
    assert easy["neck_line"].value / INCH == pytest.approx(15 / math.pi + 1)


def test_row_28_two_godets_from_one_rectangle() -> None:
    """X: the flat triangle has half the area of the rectangle round it, so one diagonal cut gives two."""
    made = drafted("tunic.panels", body(bust=36, waist=30, hip=38, stride=34))
    godet = pattern_of(made).piece("godet")
    side, width = godet.run_length("right"), made.sums["godet_net"].value
    assert godet.run_length("left") == pytest.approx(side)
    height = math.sqrt(side**2 - (width / 2) ** 2)
    arc = godet.run("hem")[0].path.segments[0]
    assert isinstance(arc, Arc)
    segment = arc.radius**2 / 2 * (abs(arc.sweep) - math.sin(abs(arc.sweep)))
    assert area(godet) - segment == pytest.approx(width * height / 2, rel=1e-4)


def test_rows_29_and_30_full_trousers() -> None:
    """CP: a 40 inch waist takes a 44 inch band; forgetting the band makes the crotch hang by its depth."""
    who = body(waist=40, hip=44)
    made = drafted("trousers.panels", who, band=2 * INCH)
    assert made.sums["band_length"].value / INCH == pytest.approx(44)

    def crotch(pattern_band: float) -> float:
        pattern = pattern_of(drafted("trousers.panels", who, band=pattern_band))
        lines = [Across("seat", "centre"), Across("gusset", "middle")]
        return pattern.piece("leg").run_length("fly") + sum(line.measured(pattern) for line in lines)

    # drafted as if there were (nearly) no band, then a band of 2 inches sewn on: so much too long, front and back
    forgotten = crotch(15.0) + 2 * 2 * INCH - made.sums["crotch_round"].value
    assert forgotten / 2 == pytest.approx(2 * INCH - 15.0, abs=0.1)


def test_rows_35_and_36_waist_and_hem_curve_of_a_skirt() -> None:
    """CP: 1.5 cm up at the side; flared by 15 cm, the hem comes up about 4 cm at the side."""
    who = demo_document().people[0]
    assert drafted("skirt.straight", who).sums["side_lift"].value == 15
    front = pattern_of(drafted("skirt.straight", who, flare=150.0, length=600.0)).piece("front")
    hem = front.run("hem")[0].path
    assert hem.end.imag - hem.start.imag == pytest.approx(40, abs=10)


def test_rows_38_and_39_cowl() -> None:
    """CP: a facing 5 to 6 inches deep; the front on the bias out of about 36 inches square."""
    made = drafted("top.cowl", ODILE, drop=120.0, body_length=560.0)
    piece = pattern_of(made).piece("front")
    fold = piece.feature("fold_line")
    assert fold is not None
    deep = piece.where(fold.bits[0].a).imag - piece.run("facing_edge")[0].path.start.imag
    assert 5 <= deep / INCH <= 6
    assert made.sums["bias_square"].value / INCH == pytest.approx(36, abs=6)


def test_row_44_bust_dart_by_the_quarter_method() -> None:
    """CP: about 3 cm at an average cup (bust five centimetres more than the upper bust)."""
    who = ODILE.with_measure("bust", 920.0).with_measure("upper_bust", 870.0)
    assert drafted("bodice.darted", who).sums["bust_dart_in"].value == pytest.approx(30, abs=10)


@pytest.mark.parametrize("fraction", [0.25, 0.5, 0.75, 1.0, 1.5])
def test_row_51_area_of_a_circle_skirt(fraction: float) -> None:
    """X: the pieces together are that part of π(R² − r²)."""
    made = drafted("skirt.circle", fraction=fraction)
    piece = pattern_of(made).piece("skirt")
    radius, outer = made.sums["radius"].value, made.sums["outer_radius"].value
    total = area(piece) * piece.cut * (2 if piece.fold else 1)
    assert total == pytest.approx(fraction * math.pi * (outer**2 - radius**2), rel=1e-5)


def test_row_53_ease_in_the_cap() -> None:
    """CP: woven 1.5 to 4 cm."""
    for who in whole_bodies()[::50]:
        pattern = pattern_of(drafted("bodice.darted", who))
        cap = sum(pattern.piece("sleeve").run_length(run) for run in ("cap_front", "cap_back"))
        armhole = pattern.piece("front").run_length("armhole") + pattern.piece("back").run_length("armhole")
        assert 15 <= cap - armhole <= 40


def test_a_half_circle_rolled_up_is_a_cone_that_closes_at_the_waist() -> None:
    """X: every waist point rolled on to the cone lies on one level circle as long as the waist, and the ends meet."""
    made = drafted("skirt.circle", fraction=0.5)
    arc = pattern_of(made).piece("skirt").run("waist")[0].path.segments[0]
    assert isinstance(arc, Arc)
    ratio = abs(arc.sweep) / (2 * math.pi)  # how far round the cone one turn of the flat ring goes
    points = []
    for t in np.linspace(0, 1, 400):
        point = arc.point(float(t)) - arc.centre
        distance, angle = abs(point), (math.atan2(point.imag, point.real) - arc.angle) / ratio
        points.append(
            (distance * ratio * math.cos(angle), distance * ratio * math.sin(angle), distance * math.sqrt(1 - ratio**2))
        )
    rolled = np.array(points)
    assert np.ptp(rolled[:, 2]) < 1e-9, "level"
    assert np.linalg.norm(rolled[0] - rolled[-1]) < 1e-6, "the ends meet"
    around = float(np.linalg.norm(np.diff(rolled, axis=0), axis=1).sum())
    assert around == pytest.approx(made.sums["waist_seam"].value, rel=1e-4)


@pytest.mark.parametrize("name", ["trousers.tailored", "leggings"])
def test_the_crotch_of_trousers_by_adding_the_curve(name: str) -> None:
    """X: both crotch curves flattened and added, and the waistband twice, are the crotch wanted."""
    for who in whole_bodies()[::40]:
        made = drafted(name, who)
        pattern = pattern_of(made)
        runs = (
            [("front", "crotch"), ("back", "crotch")]
            if name == "trousers.tailored"
            else [("leg", "front_crotch"), ("leg", "back_crotch")]
        )
        total = 0.0
        for piece, run in runs:
            points = np.array(
                [
                    (p.real, p.imag)
                    for edge in pattern.piece(piece).run(run)
                    for p in (edge.path.start, *edge.path.flattened(0.0005))
                ]
            )
            total += float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())
        band = 2 * (35.0 if name == "trousers.tailored" else 50.0)
        assert total + band == pytest.approx(made.sums["crotch_round"].value, abs=0.1)


@pytest.mark.parametrize(
    ("name", "round_", "measure"),
    [
        ("leggings", "hip_round", "hip"),
        ("swimsuit", "bust_round", "bust"),
        ("swimsuit", "hip_round", "hip"),
        ("top.knit", "bust_round", "bust"),
    ],
)
def test_a_knit_stretches_over_the_body(name: str, round_: str, measure: str) -> None:
    """X: finished girth × (1 + stretch) ≥ body, in any cloth, because the ease is kept within half the stretch."""
    from tests.making import KNIT

    for stretch in (0.2, 0.3, 0.6, 1.0):
        cloth = KNIT.model_copy(update={"stretch": stretch})
        made = drafted(name, cloth=cloth, fit="swim" if name == "swimsuit" else "knit_close")
        assert made.sums[round_].value * (1 + stretch) >= ODILE.measures[measure] - 1e-6
        assert made.sums[round_].value < ODILE.measures[measure]


def test_rows_56_and_57_the_tunics_neck_and_wrist() -> None:
    """CP, X: a 14 inch neck is cut 4.46 across and sewn 4.96; the sleeve takes the hand and 3 inches, or 1½ tapered."""
    who = body(bust=36, waist=30, hip=40, neck=14, hand=8)
    made = drafted("tunic.panels", who)
    (front,) = [one for one in made.cut if one.piece.made == "front"]
    centre = front.piece.run("neckline")[0].path.segments[0]
    assert isinstance(centre, Arc) and 2 * centre.radius / INCH == pytest.approx(4.96, abs=0.01), "sewn"
    near = min(abs(p - centre.centre) for p in front.cut.flattened(0.02))
    assert 2 * near / INCH == pytest.approx(4.46, abs=0.01), "cut"
    for shape, more in (("loose", 3.0), ("tapered", 1.5)):
        sleeve = next(one.cut for one in drafted("tunic.panels", who, sleeve=shape).cut if one.piece.made == "sleeve")
        low = sleeve.bounds()[3]
        wrist = [p.real for _, p in sleeve.crossings(complex(-999, low - 50), complex(999, low - 50))]
        assert (max(wrist) - min(wrist)) / INCH == pytest.approx(8 + more, abs=0.02), "cut, with its seams"


def test_hard_use_goes_round_both_legs_in_the_widest_stance() -> None:
    """CP: not doubled, and wider than for easy use; panels that are wide enough without godets are said."""
    who = body(bust=36, waist=30, hip=40, stride=30).with_measure("stance_round", 75 * INCH)
    for use, inches in (("easy", 60), ("hard", 75)):
        assert drafted("tunic.panels", who, use=use).sums["hem_round"].value / INCH == pytest.approx(inches)
    wide = drafted("tunic.panels", body(bust=60, waist=60, hip=64, stride=26))
    assert any(one.code == "draft.godet" for one in wide.findings)
    assert all(piece.made != "godet" for piece in pattern_of(wide).pieces)


def test_row_31_the_band_of_a_wrap_skirt_as_cut() -> None:
    """CP: the seam and an inch, 5 inches wide; a band 2 inches deep when it is folded."""
    made = drafted("skirt.circle", made="wrap", band=2 * INCH)
    long, wide = cut_box(made, "waistband")
    assert long == pytest.approx(pattern_of(made).run_length("skirt.waist") / INCH + 1, abs=0.01)
    assert wide == pytest.approx(5, abs=0.01)


def test_row_58_dolman_with_a_cowl() -> None:
    """CP: the top falls 3 inches from the neck to the sleeve's end; the cowl's front lies about 7 below the back."""
    pattern = pattern_of(drafted("top.dolman", neck="cowl"))
    front, back = pattern.piece("front"), pattern.piece("back")
    top = front.run("top")[0].path
    assert (top.end.imag - top.start.imag) / INCH == pytest.approx(3, abs=1)
    deep = [piece.run("neckline")[0].path.start.imag for piece in (front, back)]
    assert (deep[0] - deep[1]) / INCH == pytest.approx(7, abs=1)
    side = front.run("side")[0].path
    assert side.segments[-1].length / INCH >= 5, "straight for the last six inches at least"


def test_row_69_a_hanging_crotch_is_taken_from_placket_and_strip() -> None:
    """CP: what the seat's side loses, placket and gusset strip lose together."""
    who = body(waist=40, hip=44)
    one, other = (drafted("trousers.panels", who, ease={"crotch": ease}).sums for ease in (60.0, 20.0))
    less = {name: one[name].value - other[name].value for name in ("slant", "placket", "strip")}
    assert less["slant"] == pytest.approx(less["placket"] + less["strip"]) and min(less.values()) > 5


def test_row_66_a_wrap_skirt() -> None:
    """CP: the band is the waist as made and an inch; ties a yard and a half each; a slot of ¾ inch."""
    made = drafted("skirt.circle", made="wrap")
    assert cut_box(made, "waistband")[0] == pytest.approx(
        pattern_of(made).run_length("skirt.waist") / INCH + 1, abs=0.01
    )
    assert made.sums["tie"].value / INCH == pytest.approx(54)
    slot = pattern_of(made).piece("waistband").feature("slot")
    assert slot is not None
    a, b = (pattern_of(made).piece("waistband").where(end) for end in (slot.bits[0].a, slot.bits[0].b))
    assert abs(b - a) / INCH == pytest.approx(0.75, abs=0.01)


def test_rows_16_and_17_casings() -> None:
    """CP: about 3 inches above the finished top for 1 inch of elastic; 2 inches from fold to stitching for 1½."""
    inch = pattern_of(drafted("trousers.tailored", waist_with="elastic", band=INCH, casing="grown_on"))
    assert inch.piece("front").run_length("side_casing") / INCH == pytest.approx(3, abs=0.25)
    wide = pattern_of(drafted("trousers.tailored", waist_with="elastic", band=1.5 * INCH, casing="separate"))
    fold = wide.piece("waistband").feature("band_fold")
    assert fold is not None
    assert wide.piece("waistband").where(fold.bits[0].a).imag / INCH == pytest.approx(2, abs=0.01)


def test_row_72_a_straight_trouser_hem() -> None:
    """CP: about 20 inches round at average height; 24 is too wide in light cloth."""
    pattern = pattern_of(drafted("trousers.tailored", full_people()[0]))
    hem = pattern.piece("front").run_length("hem") + pattern.piece("back").run_length("hem")
    assert hem / INCH == pytest.approx(20, abs=1)


def test_row_73_a_front_pleat_half_an_inch_deep_takes_an_inch() -> None:
    """CP: both layers under the fold."""
    plain, pleated = (
        pattern_of(drafted("trousers.tailored", waist_with="pleats", pleat=by)).piece("front") for by in (0.0, INCH)
    )
    pleat = pleated.feature("pleat")
    assert pleat is not None and plain is not None
    a, b = (pleated.where(bit.a) for bit in pleat.bits)
    other = plain.feature("pleat")
    before = abs(plain.where(other.bits[1].a) - plain.where(other.bits[0].a)) if other else 0.0
    assert (abs(b - a) - before) / INCH == pytest.approx(1, abs=0.02)
