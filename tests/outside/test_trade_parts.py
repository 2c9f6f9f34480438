"""Parts against what the trade knows, measured on finished outlines. Each row of the check values is named; common practice
unless it says exact."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
import shapely
import shapely.affinity

from caddet.core.body.person import Person
from caddet.core.finishing.finish import finish_piece
from caddet.core.formats.listing import pieces_listing
from caddet.core.geometry.paths import Path
from caddet.core.made import Made
from caddet.core.parts.bindings import strips_from
from caddet.core.parts.insets import godet_width, gusset_side
from caddet.core.parts.plackets import slit_length
from caddet.core.parts.ruffles import flounce_radius
from caddet.core.parts.straps import path_over
from caddet.core.parts.ties import SLOT, YARD_AND_HALF, strip_width
from caddet.core.pattern.features import Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.choices import Finishing
from caddet.core.recipe.document import StepEntry
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.values import LineValue, Place
from tests.making import drafted, full_people, pattern_of, step

INCH, YARD = 25.4, 914.4
WHO = full_people()[2]
PEOPLE = full_people()[::3]


def done(block: str, *steps: StepEntry, who: Person = WHO, **options: object) -> Made:
    made = drafted(block, who, steps=steps, **options)  # type: ignore[arg-type]
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    assert not [line.name for line in made.proof if line.kind in ("seam", "join", "closure") and not line.holds]
    return made


def pattern(block: str, *steps: StepEntry, who: Person = WHO, **options: object) -> Pattern:
    return pattern_of(done(block, *steps, who=who, **options))


def line(path: Path) -> shapely.LineString:
    return shapely.LineString([(p.real, p.imag) for p in path.flattened(0.05)])


def run(piece: Piece, name: str) -> shapely.LineString:
    return line(Path.join(piece.walked(name)))


# --- facings and linings ----------------------------------------------------------------------------


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_a_facing_is_as_wide_all_along_and_meets_its_neighbour(who: Person) -> None:
    """Row 75 for the border (2 to 3 inches); the width is exact: the inner edge lies so far from the edge everywhere."""
    made = pattern("bodice.darted", step("facing", edges=("neckline",), width=60.0), who=who)
    for name in ("front", "back"):
        facing = made.piece(f"s2.{name}_neckline")
        edge, inner = run(made.piece(name), "neckline"), run(facing, "inner")
        assert facing.run_length("neckline") == pytest.approx(made.piece(name).run_length("neckline"), abs=0.01)
        points = [inner.interpolate(share, normalized=True) for share in (0.15, 0.3, 0.5, 0.7, 0.85)]
        assert all(abs(edge.distance(point) - 60.0) < 0.6 for point in points), name
    shoulders = [made.piece(f"s2.{name}_neckline").run_length("shoulder") for name in ("front", "back")]
    assert abs(shoulders[0] - shoulders[1]) < 1.0
    border = next(one for one in STEPS["border"].parameters if one.name == "width")
    assert 2 * INCH <= border.default <= 3 * INCH


def test_a_lining_goes_two_centimetres_on_past_the_cut_facing_and_is_an_inch_shorter() -> None:
    """Row 37, exact: facing width off, 2 cm on; hem 1 inch shorter; the sleeve without its turn-up."""
    steps = (step("facing", edges=("neckline",)), step("lining", pieces=("front", "back", "sleeve"), pleat=0.0))
    made = pattern("bodice.darted", *steps)
    finishing = Finishing(seam=15.0)
    facing, lining = made.piece("s2.front_neckline"), made.piece("s3.front")
    cut = [
        shapely.Polygon([(p.real, p.imag) for p in finish_piece(piece, finishing).polygon()])
        for piece in (facing, lining)
    ]
    inner = run(facing, "inner").interpolate(0.5, normalized=True)
    over = cut[0].intersection(cut[1])
    normal = min((over.exterior.distance(inner) for _ in (0,)), default=0.0)
    assert normal == pytest.approx(10.0, abs=0.2), "each goes a centimetre past the seam they share: 2 cm together"
    shell, sleeve = made.piece("sleeve"), made.piece("s3.sleeve")
    assert shell.run_length("underarm_front") - sleeve.run_length("underarm_front") == pytest.approx(INCH, abs=0.2)
    up = pattern("bodice.darted", step("turn_up", edges=("sleeve.hem",), deep=40.0), step("lining", pieces=("sleeve",)))
    assert up.piece("sleeve").run_length("underarm_front") > shell.run_length("underarm_front") + 79.0
    assert up.piece("s3.sleeve").run_length("underarm_front") == pytest.approx(
        sleeve.run_length("underarm_front"), abs=0.5
    )


def test_a_jacket_front_folds_back_three_inches_and_its_corner_is_mirrored() -> None:
    """Row 61: facing past the centre front 3 inches, lining hem 1 inch shorter. The mirrored corner is exact."""
    made = pattern("top.raglan", step("grown_on_facing"), opening="open", neck_wider=80.0)
    front = made.piece("front")
    left = min(p.real for p in front.polygon())
    fold = next(f for f in front.features if f.kind == "fold_line")
    (at, *_) = front.drawn(fold)
    assert at.start.real - left == pytest.approx(3 * INCH, abs=0.05)
    neck, own = (
        run(front, "neckline"),
        line(next(e.path for e in front.edges if e.name == "s2.front_centre_front.neckline")),
    )
    mirrored = shapely.LineString([(2 * at.start.real - x, y) for x, y in own.coords])
    assert neck.buffer(0.1).covers(mirrored), "folded back, it lies on the neckline"
    assert next(p for p in STEPS["lining"].parameters if p.name == "shorter").default == pytest.approx(INCH)


# --- casings and elastic ------------------------------------------------------------------------------


def test_a_casing_grown_on_takes_three_inches_for_an_inch_of_elastic() -> None:
    """Rows 16 and 17: 3 inches above the finished top for 1 inch, turned in once more; 2 inches net for 1½."""
    made = pattern(
        "trousers.tailored",
        step("take_away", pieces=("waistband",)),
        step("casing", edges=("front.waist", "back.waist"), elastic=INCH, how="grown_on"),
        waist_with="elastic",
        casing="separate",
    )
    plain = pattern("trousers.tailored", waist_with="elastic", casing="separate")
    grown = min(p.imag for p in plain.piece("front").polygon()) - min(p.imag for p in made.piece("front").polygon())
    assert grown == pytest.approx(3 * INCH, abs=0.25 * INCH)
    separate = pattern("bodice.darted", step("casing", edges=("sleeve.hem",), elastic=1.5 * INCH, how="separate"))
    piece = separate.piece("s2.sleeve_hem_casing")
    edge = run(piece, "hem")
    deep = edge.distance(run(piece, "inner").interpolate(0.5, normalized=True))
    assert deep - 10.0 == pytest.approx(2 * INCH, abs=0.5), "between fold and stitching; a centimetre is turned in"


def test_elastic_is_as_long_as_stretched_round_and_an_inch_and_swim_elastic_is_pulled_by_five_percent() -> None:
    """Rows 71, 15 and 63."""
    made = pattern("bodice.darted", step("casing", edges=("sleeve.hem",), length=180.0, elastic=6.0))
    (elastic,) = made.needs()
    assert elastic.length == pytest.approx(180.0 + INCH) and elastic.notion.count == 2
    values = {one.name: one.default for one in STEPS["edge_elastic"].parameters}
    assert 1 - values["on_curve"] == pytest.approx(0.05) and values["width"] == 6.5
    suit = pattern("swimsuit", step("edge_elastic", edges=("front.leg", "back.leg")))
    (leg,) = suit.needs()
    around = suit.run_length("front.leg") + suit.run_length("back.leg")
    assert leg.notion.count == 2 and 0.90 * around < leg.length - 75.0 - 12.7 < 0.99 * around


# --- pleats, ruffles, flounces ------------------------------------------------------------------------


def test_a_pleat_half_an_inch_deep_takes_an_inch_and_folds_away_again() -> None:
    """Row 73, exact; the waist it is sewn to stays as long."""
    steps = (step("pleats", edges=("skirt_front.waist",), count=3, deep=INCH / 2),)
    made, plain = (pattern("dress.sheath", *s, style="a_line", split=True) for s in (steps, ()))
    grew = made.run_length("skirt_front.waist") - plain.run_length("skirt_front.waist")
    assert grew == pytest.approx(3 * INCH, abs=0.05)
    seam = next(s for s in made.seams if any(p.ref.name == "skirt_front.waist" for p in s.parts()))
    layer = next(x for x in seam.layers if any(p.ref.name == "skirt_front.waist" for p in x))
    assert made.length(layer) == pytest.approx(plain.run_length("skirt_front.waist"), abs=0.05)


def test_an_inverted_pleat_moves_the_centre_out_by_what_is_felt() -> None:
    """Row 62, exact: felt 2½ inches deep, 4 inches long, cut on the fold: the centre moves out 2½ inches."""
    felt = step("centre_pleat", deep=2.5 * INCH, stitched=4 * INCH)
    made, plain = pattern("top.raglan", felt), pattern("top.raglan")
    one, other = made.piece("back"), plain.piece("back")
    assert min(p.real for p in other.polygon()) - min(p.real for p in one.polygon()) == pytest.approx(
        2.5 * INCH, abs=0.01
    )
    pleat = next(f for f in one.features if f.kind == "pleat")
    assert max(p.length for p in one.drawn(pleat)) == pytest.approx(4 * INCH, abs=2.0)


def test_a_flounce_is_a_ring_whose_inner_line_is_the_edge_and_its_rose() -> None:
    """Rows 2, 3, exact: (13 + 6) ÷ 2π = 3.0 inches; 7 deep, the outer radius is 10. Row 74: trimmed 2, 1, 0 by quarters."""
    assert flounce_radius(13 * INCH, 6 * INCH, 1) == pytest.approx(3.02 * INCH, abs=0.05 * INCH)
    made = pattern("bodice.darted", step("flounce", edges=("sleeve.hem",), tail=6 * INCH, depth=7 * INCH))
    ring, hem = made.piece("s2.flounce"), made.run_length("sleeve.hem")
    inner = 2 * ring.run_length("inner")
    assert inner == pytest.approx(hem + 6 * INCH, abs=0.05)
    radius = inner / (2 * math.pi)
    assert max(abs(p) for p in ring.polygon()) == pytest.approx(radius + 7 * INCH, abs=0.1)
    assert ring.cut == 4, "two halves for each sleeve"
    area = 2 * shapely.Polygon([(p.real, p.imag) for p in ring.polygon(0.01)]).area
    assert area == pytest.approx(math.pi * ((radius + 7 * INCH) ** 2 - radius**2), rel=1e-4), "row 51"
    higher = pattern(
        "bodice.darted",
        step("flounce", edges=("sleeve.hem",), depth=7 * INCH, higher=True, trim_open=2 * INCH, trim_quarter=INCH),
    ).piece("s2.flounce")
    deep = [
        line(higher.run("hem")[0].path).distance(run(higher, "inner").interpolate(share, normalized=True))
        for share in (0.0, 0.5, 1.0)
    ]
    assert sorted(round((7 * INCH - d) / INCH, 1) for d in deep) == pytest.approx([0.0, 1.0, 2.0], abs=0.15)
    assert higher.run_length("open") == pytest.approx(5 * INCH, abs=0.05)


@pytest.mark.parametrize("form", ["rings", "spiral"])
def test_a_flounce_meets_its_edge_in_either_form(form: str) -> None:
    made = pattern("bodice.darted", step("flounce", edges=("sleeve.hem",), form=form, depth=90.0))
    flounce = made.piece("s2.flounce")
    own = flounce.run_length("inner") * (2 if form == "rings" else 1)
    assert own == pytest.approx(made.run_length("sleeve.hem"), abs=0.05)
    if form == "spiral":
        inner = run(flounce, "inner")
        far = [inner.distance(run(flounce, "hem").interpolate(n / 10, normalized=True)) for n in range(1, 10)]
        assert all(d == pytest.approx(90.0, abs=1.0) for d in far), "as deep all along"


@pytest.mark.parametrize("ratio", [1.5, 2.0, 3.0])
def test_ruffle_strips_by_hand(ratio: float) -> None:
    """Worked by hand: edge × ratio, in as many strips as the usable width of the cloth asks for (150 less 3 cm)."""
    made = pattern("skirt.straight", step("ruffle", edges=("hem",), ratio=ratio, depth=100.0))
    hem = 2 * (made.run_length("front.hem") + made.run_length("back.hem"))
    piece = made.piece("s2.ruffle")
    strips = math.ceil(hem * ratio / 1470.0)
    assert piece.cut == strips and piece.run_length("top") * strips == pytest.approx(hem * ratio, abs=0.05)


def test_shirring_is_half_as_wide_again_with_rows_a_centimetre_apart() -> None:
    """Row 22."""
    made, plain = (
        pattern("dress.sheath", *s, style="a_line", split=True)
        for s in ((step("shirring", pieces=("skirt_back",), edges=("waist",)),), ())
    )
    assert made.run_length("skirt_back.waist") == pytest.approx(1.5 * plain.run_length("skirt_back.waist"), rel=0.01)
    rows = [f for f in made.piece("skirt_back").features if ".row_" in f.name]
    ys = sorted(made.piece("skirt_back").drawn(f)[0].start.imag for f in rows)
    assert all(b - a == pytest.approx(10.0, abs=0.01) for a, b in pairwise(ys)) and len(rows) == 10


def test_a_ruched_seam_is_twice_as_long_and_its_cord_as_long_as_it_is_ruched() -> None:
    """Rows 21 and 41: every 2 inches opened by 2; the cord 15 to 20 inches longer than the seam as ruched."""
    made, plain = (pattern("top.knit", *s) for s in ((step("ruched_seam", **{"from": 0.0, "upto": 1.0}),), ()))
    for name in ("front.side", "back.side"):
        assert made.run_length(name) == pytest.approx(2 * plain.run_length(name), rel=0.02)
    (cord,) = made.needs()
    assert 15 * INCH <= cord.length - plain.run_length("front.side") <= 20 * INCH


# --- pockets, ties, straps, bindings --------------------------------------------------------------------


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_a_side_pocket_takes_the_hand_and_an_inch_on_every_side(who: Person) -> None:
    """Row 33."""
    made = done("trousers.tailored", step("slanted_pocket"), who=who)
    known = made.evaluated.measures
    bag = pattern_of(made).piece("s2.front_pocket")
    _, top, _, bottom = bag.outline().bounds()
    assert bottom - top >= known["hand_length"] + 2 * INCH - 1.0
    front = pattern_of(made).piece("front[s2.2]")
    cut = next(e.path for e in front.edges if e.name == "s2.cut")
    assert abs(cut.end.imag - cut.start.imag) == pytest.approx(1.65 * known["hand_width"], rel=0.25)
    assert made.pattern is not None and 40.0 < abs(cut.end.real - cut.start.real) < 90.0
    skirt = pattern_of(done("skirt.straight", step("side_pocket"), who=who))
    box = skirt.piece("s2.front_bag").outline().bounds()
    assert (
        box[2] - box[0] >= known["hand_width"] + 2 * INCH - 1.0
        and box[3] - box[1] >= known["hand_length"] + 2 * INCH - 1.0
    )


def test_ties_slots_and_strips() -> None:
    """Rows 66 and 40: ties of 1½ yards, a slot of ¾ inch; a strip 1¼ inches wide with small seams makes a cord of ⅜."""
    assert pytest.approx(1.5 * YARD) == YARD_AND_HALF and pytest.approx(0.75 * INCH) == SLOT
    assert strip_width(3 / 8 * INCH) == pytest.approx(1.25 * INCH, abs=0.01)
    made = pattern("skirt.straight", step("ties", edges=("waistband.end",)))
    tie = made.piece("s2.tie_1")
    assert tie.run_length("top") == pytest.approx(1.5 * YARD)
    assert tie.run_length("sewn") == pytest.approx(made.run_length("waistband.end")), "the band's end is folded in half"


def test_a_strap_is_as_long_as_its_way_over_the_shoulder() -> None:
    places = {"from": Place(edge="front.neckline", share=0.5), "to": Place(edge="back.neckline", share=0.5)}
    made = pattern("top.knit", step("straps", width=15.0, **places))
    front, back = made.piece("front"), made.piece("back")
    spots = [(piece, piece.spot_at("neckline", piece.run_length("neckline") / 2)) for piece in (front, back)]
    way = path_over(made, spots[0], spots[1], False)
    heights = sum(max(piece.where(spot).imag, 0.0) for piece, spot in spots)
    assert way >= heights, "it goes up the one side and down the other"
    assert made.piece("s2.strap").run_length("top") == pytest.approx(way + 50.0)
    crossed = pattern("top.knit", step("straps", width=15.0, crossed=True, **places))
    assert crossed.piece("s2.strap").run_length("top") > way + 50.0
    short = drafted("top.knit", WHO, steps=(step("straps", length=60.0, **places),))
    assert any("will not reach" in finding.sentence for finding in short.findings)


def test_binding_of_a_knee_length_half_circle_is_just_under_three_yards() -> None:
    """Row 32: waist 43 inches, 18½ long."""
    who = Person.of("Round", {"waist": 43 * INCH, "hip": 46 * INCH, "height": 1650.0, "waist_to_hip": 200.0})
    made = pattern("skirt.circle", step("binding", edges=("hem",), more=0.0), who=who, fraction=0.5, length=18.5 * INCH)
    (binding,) = made.needs()
    assert 2.7 * YARD < binding.length < 3.0 * YARD
    exact = math.pi * (made.run_length("skirt.waist") / math.pi + 18.5 * INCH)
    assert binding.length == pytest.approx(exact, abs=0.5)
    assert binding.packs == math.ceil(binding.length / 2500.0)


def test_bias_strips_out_of_a_rectangle_never_give_more_than_its_cloth() -> None:
    """Exact: strips × width can't be more than the rectangle's area; a big one gives most of it."""
    for wide, high, width in ((700.0, 500.0, 50.8), (1000.0, 1000.0, 40.0), (300.0, 200.0, 30.0)):
        count, got = strips_from(1e9, width, wide, high)
        assert 0.5 * wide * high < (got + (count - 1) * width) * width <= wide * high
    assert strips_from(500.0, 60.0, 50.0, 900.0) == (0, 0.0)
    single = drafted("bodice.darted", WHO, steps=(step("binding", edges=("back.neckline",), width=12.7),))
    assert pattern_of(single).needs()[0].notion.label, "row 65: folded double, 12.7 mm finished is cut 2 inches"
    assert pytest.approx(2 * INCH) == 4 * 12.7


# --- tunics, gussets, armholes ----------------------------------------------------------------------------


def test_slit_gusset_and_godet_by_their_rules() -> None:
    """Rows 23, 25, 27."""
    assert gusset_side(5 * 304.8) == pytest.approx(5 * INCH) and gusset_side(6 * 304.8, hard=True) == pytest.approx(
        7 * INCH
    )
    assert slit_length(22 * INCH, 14 * INCH) == pytest.approx(4 * INCH), "within 3½ to 5½"
    assert godet_width(2 * 30 * INCH, 22 * INCH) == pytest.approx(10 * INCH)


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_a_slit_lets_the_head_through(who: Person) -> None:
    steps = (step("take_away", pieces=("front_facing", "back_facing")), step("faced_slit"))
    made = done("tunic.panels", *steps, who=who)
    front = pattern_of(made).piece("front")
    slit = next(f for f in front.features if f.name.endswith("slit_line"))
    length = sum(path.length for path in front.drawn(slit))
    around = 2 * (front.run_length("neckline") + pattern_of(made).piece("back").run_length("neckline"))
    assert around + 2 * length >= made.evaluated.measures["head"] - 0.1


def test_a_gusset_is_set_in_square_by_four_seams() -> None:
    made = pattern("top.knit", step("gusset", hard=True))
    gusset = made.piece("s2.gusset")
    assert len({round(e.path.length, 3) for e in gusset.edges}) == 1 and gusset.cut == 2
    sewn = [s for s in made.seams if s.name.startswith("s2.gusset")]
    assert len(sewn) == 4 and all(abs(made.length(s.a) - made.length(s.b)) < 0.01 for s in sewn)


def test_a_t_shirt_becomes_a_sports_top() -> None:
    """Row 64: armhole lowered 1 inch, cut in 1½; row 68: a sweatshirt's neckline lowered 1 inch for a 1 inch band."""
    plain, made = (
        pattern("top.knit", step("take_away", pieces=("sleeve",)), *s)
        for s in ((), (step("armhole", lower=INCH, cut_in=1.5 * INCH),))
    )
    for name in ("front", "back"):
        assert plain.piece(name).run_length("side") - made.piece(name).run_length("side") == pytest.approx(
            INCH, abs=0.5
        )
        assert plain.piece(name).run_length("shoulder") - made.piece(name).run_length("shoulder") == pytest.approx(
            1.5 * INCH, abs=0.5
        )
    low = pattern("top.knit", step("neckline", down=INCH), style="sweatshirt").piece("front")
    was = pattern("top.knit", style="sweatshirt").piece("front")
    assert was.run_length("centre_front") - low.run_length("centre_front") == pytest.approx(INCH, abs=0.05)


def test_buttons_are_spaced_from_the_bust() -> None:
    made = pattern("bodice.darted", step("button_stand", button=15.0, spacing=70.0, last=40.0))
    front = made.piece("front")
    holes = sorted(front.drawn(f)[0].start.imag for f in front.features if f.kind == "buttonhole")
    gaps = [b - a for a, b in pairwise(holes)]
    assert max(gaps) - min(gaps) < 0.01
    bust = next(f for f in front.features if f.name == "front.bust")
    ends = [front.where(end) for bit in bust.bits for end in (bit.a, bit.b)]
    centre = min(ends, key=lambda p: p.real)
    assert min(abs(y - centre.imag) for y in holes) < 0.5, "one stands at the bust"
    hole = next(f for f in front.features if f.kind == "buttonhole")
    assert front.drawn(hole)[0].length == pytest.approx(18.0), "the button and its thickness"


@pytest.mark.parametrize("rings", [1, 2, 3])
def test_a_flounce_has_cloth_for_the_turnings_at_its_open_ends(rings: int) -> None:
    """Cut out with its allowances, no half ring lies over another: a whole ring's turnings lay in itself. Exact."""
    made = drafted("skirt.straight", steps=(step("flounce", edges=("waistband.waist",), rings=rings),))
    listing = pieces_listing(made)
    (half,) = [one for one in listing["pieces"] if one["name"] == "s2.flounce"]
    assert half["cut"] == 2 * rings and not half["on_fold"]
    shape = shapely.Polygon(half["cut_outline"])
    net = shapely.Polygon(half["outline"])
    assert shape.is_valid and shape.contains(net) and shape.area > net.area + 1000


def test_a_fold_is_no_edge_to_sew_to() -> None:
    for kind in ("flounce", "ruffle", "binding", "casing"):
        made = drafted("skirt.straight", steps=(step(kind, edges=("front.centre_front",)),))
        assert "fold" in made.evaluated.outcomes[-1].stuck, kind


def test_a_strap_and_a_tie_are_cut_with_seams_that_can_be_turned_in_them() -> None:
    """Rows 40, 66 on the cut outline: twice its width and a quarter of an inch on both sides. Common practice, no source."""
    start, end = (Place(edge=f"{one}.shoulder", share=0.5) for one in ("front", "back"))
    strap = drafted("top.knit", steps=(step("straps", **{"from": start, "to": end}, width=12.0),))
    tie = drafted("skirt.straight", steps=(step("ties", edges=("waistband.end",)),))
    for made, name, wide in ((strap, "s2.strap", 12.0), (tie, "s2.tie_1", 30.0)):
        (one,) = [cut for cut in made.cut if cut.piece.made == name]
        _, top, _, low = one.cut.bounds()
        assert low - top == pytest.approx(2 * wide + 2 * 0.25 * INCH, abs=0.05), name
    assert all(line.holds for line in tie.proof if line.name == "s2.tie_1_seam"), "half the band's end, as it is folded"


def test_pads_lie_between_two_inner_layers() -> None:
    """The divider is stitched through these two: through the front it would show. Common practice, no source."""
    made = pattern("top.knit", step("pad_layer"))
    layers = [piece for piece in made.pieces if "pads" in piece.made]
    assert len(layers) == 2 and all(
        one.feature("divider") or any("divider" in f.name for f in one.features) for one in layers
    )
    assert not any("divider" in f.name for f in made.piece("front").features)
    assert {piece.cut for piece in layers} == {made.piece("front").cut}


def test_the_neckline_of_a_v_runs_on_over_the_overlap() -> None:
    """Its foot lies on the edge of the button stand; cut square there, a step was left."""
    steps = (
        step("neckline", edges=("front.neckline",), down=120.0, shape="v"),
        step("button_stand", edges=("front.centre_front",), overlap=25.0, button=18.0),
    )
    neck = run(pattern("bodice.darted", *steps).piece("front"), "neckline")
    points = list(neck.coords)
    turns = [
        math.degrees(
            math.atan2(
                (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]),
                (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]),
            )
        )
        for a, b, c in zip(points, points[1:], points[2:], strict=False)
        if math.dist(a, b) > 0.01 and math.dist(b, c) > 0.01
    ]
    assert max(abs(turn) for turn in turns) < 3, "one line to its foot"


def test_a_band_in_zones_marks_the_part_that_holds_the_place() -> None:
    """On a back that was cut at its armhole, a zone's notch was put on the part that does not have the place."""
    line = LineValue(points=(Place(edge="back.armhole", share=0.55), Place(edge="back.centre_back", share=0.78)))
    made = pattern(
        "top.knit",
        step("take_away", pieces=("neckband",)),
        step("cut", line=line, level=True),
        step("zone_band", edges=("armhole",)),
        style="tank",
    )
    for piece in made.pieces:
        for notch in piece.notches:
            assert piece.holds_spot(Spot(notch.edge, notch.u)), (piece.name, notch.name)


def test_the_square_for_a_bias_front_is_what_it_takes() -> None:
    """Exact: the whole front, its fold from corner to corner, fits into the square and into none that is smaller."""
    made = drafted("top.cowl")
    front = pattern_of(made).piece("front")
    half = shapely.Polygon([(p.real, p.imag) for p in front.polygon(0.5)])
    whole = shapely.unary_union([half, shapely.affinity.scale(half, -1, 1, origin=(0, 0))])
    left, top, right, bottom = shapely.affinity.rotate(whole, 45, origin=(0, 0)).bounds
    assert made.sums["bias_square"].value == pytest.approx(max(right - left, bottom - top), abs=2.0)
