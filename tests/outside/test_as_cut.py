"""What a cutter would hold the finished pieces to: girths by section, lines that meet, right angles, fair curves.

Everything is measured from ``pieces --json`` by :mod:`tests.outside.cloth`, on nine bodies: small, tall, full, a child.
Limits without a source are common practice. ``make soak`` does the same on all bodies with all options.
"""

from __future__ import annotations

import math
from functools import lru_cache

import pytest
import shapely

from caddet.core.body.person import Person
from caddet.core.formats.listing import pieces_listing
from caddet.core.recipe.registry import BLOCKS
from tests.core.test_contract import options_of
from tests.making import KNIT, drafted, full_people, nine
from tests.outside.cloth import (
    Json,
    bends,
    edge,
    joints,
    kink,
    length,
    level_girth,
    named,
    parts,
    side,
    swings,
    width_at,
)

INCH = 25.4
PANELS = ("tunic.panels", "trousers.panels")  # cut by the thread: their corners are meant
FORKS = ("inseam", "front_crotch", "back_crotch")
PEOPLE = {who.name: who for who in (*nine(), *full_people())}
NINE = [who.name for who in nine()]
WHOLE = [who.name for who in full_people()]


@lru_cache(maxsize=2000)
def _listing(
    block: str, who: str, options: tuple[tuple[str, object], ...], ease: tuple[tuple[str, float], ...]
) -> Json:
    made = drafted(block, PEOPLE[who], ease=dict(ease), **dict(options))  # type: ignore[arg-type]
    return pieces_listing(made)


def cut(block: str, who: str, ease: dict[str, float] | None = None, **options: object) -> Json:
    """The pieces of a block on a body, as ``pieces --json`` prints them."""
    return _listing(block, who, tuple(sorted(options.items())), tuple(sorted((ease or {}).items())))


def figure(listing: Json, name: str) -> float:
    return float(next(one["value"] for one in listing["figures"] if one["name"] == name))


def choices(block: str) -> list[tuple[str, dict[str, object]]]:
    """Every choice of a block on one body each, the bodies taken in turn."""
    made = list(options_of(BLOCKS[block]))
    return [(NINE[n % len(NINE)], dict(options)) for n, options in enumerate(made)]


# Joins and fairness ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("block", [name for name in sorted(BLOCKS) if name not in PANELS])
def test_lines_run_on_smoothly_over_every_seam_and_square_to_every_fold(block: str) -> None:
    """Neckline over shoulder, armhole over side, hem over side and inseam, waist over side: 3°; forks 6°."""
    for who, options in [*((name, {}) for name in NINE), *choices(block)]:
        listing = cut(block, who, **options)
        for joint in joints(listing):
            assert joint.angle <= (6.0 if joint.seam in FORKS else 3.0), (who, options, joint)


SWEEPS = ("hem", "neckline", "crotch", "front_crotch", "back_crotch", "leg", "under", "top", "outer")


@pytest.mark.parametrize("block", sorted(BLOCKS))
def test_curves_are_fair(block: str) -> None:
    """No corner inside an edge; what a maker draws in one sweep bends to one side only."""
    for who, options in [*((name, {}) for name in NINE), *choices(block)]:
        listing = cut(block, who, **options)
        for piece in listing["pieces"]:
            for one in piece["edges"]:
                own = one["name"].split(".")[-1]
                if block in PANELS and (own.startswith("underarm") or own == "outer"):
                    continue  # straight lines from width to width
                for points in parts(piece, one):
                    assert kink(points) < 5.0, (who, options, one["name"])
                    if own in SWEEPS and piece["name"] != "hood" and (block, own) != ("top.raglan", "neckline"):
                        assert swings(points, 3.0) == 0, (who, options, one["name"])


# Girths by section ----------------------------------------------------------------------------------------------------

# block, options: level, measure, what is added to the body there at least and at most (a share when below 1)
GIRTHS: list[tuple[str, dict[str, object], str, str, float, float]] = [
    ("bodice.darted", {}, "bust", "bust", 79, 81),
    ("bodice.darted", {}, "across_back", "across_back", 9.9, 30),
    ("bodice.darted", {}, "across_front", "across_front", 3.9, 30),
    ("dress.sheath", {}, "hip", "hip", 49, 51),
    ("dress.sheath", {"style": "in_one"}, "waist", "waist", 49, 51),
    ("dress.sheath", {"style": "in_one"}, "hip", "hip", 49, 52),
    ("dress.sheath", {"style": "a_line"}, "hip", "hip", 49, 420),
    ("dress.sheath", {"style": "a_line", "flare": 100.0}, "hip", "hip", 49, 500),
    ("dress.sheath", {"style": "a_line", "split": True}, "hip", "hip", 49, 420),
    ("skirt.straight", {}, "hip", "hip", 39, 41),
    ("top.knit", {}, "bust", "bust", 59, 61),
    ("top.knit", {}, "across_back", "across_back", 9.9, 40),
    ("top.raglan", {}, "bust", "bust", 139, 141),
    ("top.dolman", {}, "bust", "bust", 159, 161),
    ("trousers.tailored", {}, "hip", "hip", 59, 85),
    ("trousers.tailored", {"waist_with": "elastic"}, "hip", "hip", 59, 95),
    ("trousers.tailored", {"waist_with": "pleats"}, "hip", "hip", 59, 130),
    ("leggings", {}, "hip", "hip", -0.11, -0.08),
    ("swimsuit", {}, "bust", "bust", -0.121, -0.119),
    ("swimsuit", {}, "waist", "waist", -0.101, -0.099),
    ("trousers.panels", {}, "hip", "hip", 49, 1200),
]


@pytest.mark.parametrize(("block", "options", "level", "measure", "least", "most"), GIRTHS)
def test_a_girth_is_the_body_and_its_ease(
    block: str, options: dict[str, object], level: str, measure: str, least: float, most: float
) -> None:
    for who in WHOLE:
        body = PEOPLE[who].measures[measure]
        girth = level_girth(cut(block, who, **options)["pieces"], level)
        assert girth is not None
        low, high = (body * (1 + one) if abs(one) < 1 else body + one for one in (least, most))
        assert low <= girth <= high, (who, girth - body)


# legs and arms come in twos: a level counts both
LIMBS: list[tuple[str, dict[str, object], str, float, float]] = [
    ("trousers.tailored", {}, "thigh", 58, 200),
    ("trousers.tailored", {}, "knee", 108, 260),
    ("trousers.tailored", {}, "calf", 49, 300),
    ("trousers.tailored", {"leg": "tapered"}, "calf", 49, 200),
    ("trousers.tailored", {"leg": "flared"}, "thigh", 58, 200),
    ("leggings", {}, "thigh", -0.101, -0.099),
    ("leggings", {}, "knee", -0.101, -0.099),
    ("leggings", {}, "calf", -0.101, -0.099),
    ("bodice.darted", {}, "upper_arm", 49, 90),
    ("top.knit", {}, "upper_arm", 74, 110),
    ("top.raglan", {}, "upper_arm", 75, 115),
]


@pytest.mark.parametrize(("block", "options", "level", "least", "most"), LIMBS)
def test_a_limb_has_its_ease(block: str, options: dict[str, object], level: str, least: float, most: float) -> None:
    for who in WHOLE:
        body = PEOPLE[who].measures[level]
        girth = level_girth(cut(block, who, **options)["pieces"], level)
        assert girth is not None
        low, high = (body * (1 + one) if abs(one) < 1 else body + one for one in (least, most))
        assert low <= girth / 2 <= high, (who, girth / 2 - body)


@pytest.mark.parametrize("who", WHOLE)
@pytest.mark.parametrize("shorter", [300.0, 400.0, 500.0])
def test_shorts_are_as_wide_as_the_leg_where_they_end(who: str, shorter: float) -> None:
    """A leg that is cut off is the long leg up to there: the same widths at the same heights, and no tighter than the body."""
    long, short = cut("trousers.tailored", who), cut("trousers.tailored", who, shorter=shorter)
    if not short["pieces"]:
        return
    body = PEOPLE[who].measures
    low = figure(short, "hem_level") - 40.0
    total = 0.0
    for name in ("front", "back"):
        assert width_at(named(short, name), low) == pytest.approx(width_at(named(long, name), low), abs=2.0)
        total += width_at(named(short, name), low)
    above_knee = low < figure(short, "knee_level")
    share = (low - figure(short, "fork_level")) / (figure(short, "knee_level") - figure(short, "fork_level"))
    leg = body["thigh"] + (body["knee"] - body["thigh"]) * min(max(share, 0.0), 1.0)
    assert total >= (leg if above_knee else body["knee"]) + 30


# One by one -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("who", WHOLE)
def test_the_bodice_is_balanced(who: str) -> None:
    """Front from the neck point over the bust as measured, back from the neck point as the nape and the neck's rise have it."""
    body, listing = PEOPLE[who].measures, cut("bodice.darted", who)
    lengths = {}
    for name in ("front", "back"):
        neck = edge(listing, f"{name}.shoulder")["points"][0]
        waist = edge(listing, f"{name}.waist")["points"][-1]
        lengths[name] = waist[1] - neck[1]
    assert lengths["front"] == pytest.approx(body["shoulder_to_waist_front"], abs=3.0)
    assert lengths["back"] == pytest.approx(body["nape_to_waist"] + body["neck"] / 15, abs=5.0)
    armholes = [edge(listing, f"{name}.armhole")["length"] for name in ("back", "front")]
    assert 4 <= armholes[0] - armholes[1] <= 16, "the back armhole is longer by half to one and a half centimetres"
    assert sum(armholes) - body["armscye"] == pytest.approx(20 + 9.6, abs=1.0), "the armscye and its ease"
    shoulders = [edge(listing, f"{name}.shoulder")["length"] for name in ("back", "front")]
    assert 7 <= shoulders[0] - shoulders[1] <= 12, "the back shoulder is eased in"


@pytest.mark.parametrize("who", NINE)
@pytest.mark.parametrize("flare", [0.0, 60.0, 130.0])
def test_an_a_line_hangs_alike_in_front_and_behind(who: str, flare: float) -> None:
    listing = cut("dress.sheath", who, style="a_line", flare=flare)
    hems = [edge(listing, f"{name}.hem")["length"] for name in ("front", "back")]
    assert abs(hems[0] - hems[1]) <= 30


def _hollow(points: list[tuple[float, float]], sign: int) -> float:
    """How far a curve lies on one side of its chord at most, in mm."""
    (ax, ay), (bx, by) = points[0], points[-1]
    chord = math.hypot(bx - ax, by - ay)
    return max(sign * ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / chord for x, y in points)


@pytest.mark.parametrize("who", NINE)
def test_a_cap_is_hollower_in_front_and_no_higher_than_its_armhole_allows(who: str) -> None:
    listing = cut("bodice.darted", who)
    front, back = (edge(listing, f"sleeve.cap_{name}")["points"] for name in ("front", "back"))
    more = _hollow(front, 1) - _hollow(back, 1)
    assert 3.2 <= more <= 6.0, "hollower by about half a centimetre; a child's by less"
    height = -min(p[1] for p in front)
    depths = []
    for name in ("front", "back"):
        armhole = edge(listing, f"{name}.armhole")["points"]
        depths.append(armhole[-1][1] - armhole[0][1])
    assert height <= 0.85 * sum(depths) / 2 + 0.5
    notches = {
        notch["name"]: notch for piece in listing["pieces"] for notch in piece["notches"] if piece["name"] != "sleeve"
    }
    for name in ("front", "back"):
        armhole = edge(listing, f"{name}.armhole")["length"] - notches[f"armhole {name}"]["at"]
        sleeve = next(n for n in named(listing, "sleeve")["notches"] if n["name"] == f"armhole {name}")
        cap = sleeve["at"] if name == "front" else edge(listing, "sleeve.cap_back")["length"] - sleeve["at"]
        assert cap == pytest.approx(armhole, abs=8.0), "as far from the underarm"


@pytest.mark.parametrize("who", NINE)
def test_a_raglan_sleeve_is_as_wide_as_asked_and_its_lines_are_bowed(who: str) -> None:
    widths = []
    for ease in (20.0, 50.0, 100.0):
        girth = level_girth(cut("top.raglan", who, ease={"upper_arm": ease})["pieces"], "upper_arm")
        assert girth is not None
        widths.append(girth / 2)
    assert widths[0] < widths[1] - 0.5 < widths[2] - 5, "more ease is a wider sleeve"
    arm = PEOPLE[who].measures["upper_arm"]
    for ease, width in zip((20.0, 50.0, 100.0), widths, strict=True):
        said = any(
            f.code == "draft.nearest" for f in drafted("top.raglan", PEOPLE[who], ease={"upper_arm": ease}).findings
        )
        assert width == pytest.approx(arm + ease, abs=6.0) or said, "as asked, or it is told what is nearest"
    assert widths[2] == pytest.approx(arm + 100, rel=0.09)
    listing = cut("top.raglan", who)
    for name, low, high in (("front", 6.0, 10.5), ("back", 3.0, 6.0)):
        notch = next(n for n in named(listing, name)["notches"] if n["edge"].endswith("raglan"))
        points = edge(listing, f"{name}.raglan")["points"]
        line = [points[0]]
        for p in points[1:]:
            if length([*line, p]) > notch["at"] + 0.2:
                break
            line.append(p)
        assert low <= _hollow(line, -1) <= high, (name, _hollow(line, -1))
    dart = next(d for d in named(listing, "sleeve")["darts"])
    assert dart["intake"] > 10


@pytest.mark.parametrize("who", NINE)
def test_a_curved_band_sews_to_its_edge_and_is_narrower_above(who: str) -> None:
    given = cut("waistband", who, shape="curved", edge=800.0)
    assert edge(given, "waistband.waist")["length"] == pytest.approx(800.0, abs=0.1)
    body = PEOPLE[who].measures
    own = cut("waistband", who, shape="curved")
    if body.get("high_hip", 0.0) > body["waist"] * 1.1:
        assert edge(own, "waistband.inside")["length"] - 30 == pytest.approx(body["waist"] + 10, abs=0.2)
        assert edge(own, "waistband.waist")["length"] > body["waist"] + 10


@pytest.mark.parametrize("who", WHOLE)
def test_a_hood_is_square_and_goes_round_the_head(who: str) -> None:
    listing = cut("hood", who)
    neck = side(listing, "hood.neckline")
    assert neck.corner_start == pytest.approx(90, abs=1.5) and neck.corner_end == pytest.approx(90, abs=1.5)
    around = level_girth(listing["pieces"], "head")
    assert around is not None and around >= PEOPLE[who].measures["head"] - 100


@pytest.mark.parametrize("who", NINE)
@pytest.mark.parametrize("casing", ["grown_on", "separate"])
def test_elastic_trousers_pass_the_hips_and_fold_at_the_waist(who: str, casing: str) -> None:
    listing = cut("trousers.tailored", who, waist_with="elastic", casing=casing, band=25.0)
    top = sum(2 * edge(listing, f"{name}.waist")["length"] for name in ("front", "back"))
    hip = PEOPLE[who].measures["hip"]
    assert top >= hip
    if casing == "grown_on":
        for name in ("front", "back"):
            fold = next(f for f in named(listing, name)["features"] if f["name"].endswith("casing_fold"))
            deep = edge(listing, f"{name}.side_casing")["length"]
            assert deep == pytest.approx(2 * 25 + 25.4, abs=0.5), "folded inside and turned in once more"
            (ax, ay), (bx, by) = fold["lines"][0][0], fold["lines"][0][-1]
            assert abs(ax) < 20 and abs(ay) < 25 and abs(by) < 25 and bx > 50, "the finished top is the waist"
    else:
        assert edge(listing, "waistband.waist")["length"] == pytest.approx(top, abs=0.5)


@pytest.mark.parametrize("who", NINE)
def test_trousers_hang_on_their_hip_notches_and_forks(who: str) -> None:
    listing = cut("trousers.tailored", who)
    at = [next(n["at"] for n in named(listing, name)["notches"] if n["name"] == "hip") for name in ("front", "back")]
    assert at[0] == pytest.approx(at[1], abs=0.5)
    fork, hip = figure(listing, "front_fork"), figure(listing, "hip_round")
    assert hip / 22 <= fork <= hip / 14
    for name in ("front", "back"):
        assert figure(listing, f"{name}_side_in") <= 30 or figure(listing, f"{name}_darts") == 2
        for dart in named(listing, name)["darts"]:
            if name == "back" and not dart["name"].endswith("_2"):
                assert dart["length"] == pytest.approx(figure(listing, "back_dart_length"), abs=1.5)


@pytest.mark.parametrize("who", NINE)
@pytest.mark.parametrize("name", ["front", "back"])
def test_the_inner_thigh_is_hollow(who: str, name: str) -> None:
    """Common practice, no source: from knee to fork the inseam lies inside the straight line, 3 to 12 mm for a grown leg, and never outside it."""
    listing = cut("trousers.tailored", who)
    points = sorted(edge(listing, f"{name}.inseam")["points"], key=lambda p: -p[1])
    (ax, ay), *thigh, (bx, by) = [p for p in points if p[1] <= figure(listing, "knee_level")]
    along = math.hypot(bx - ax, by - ay)
    inside = [((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / along for x, y in thigh]
    assert 0.007 <= max(inside) / along <= 0.03 and min(inside) > -0.5, (max(inside), along)


@pytest.mark.parametrize("block", ["top.knit", "top.raglan", "top.cowl", "top.dolman"])
def test_a_hem_turns_up_towards_its_sides(block: str) -> None:
    """Common practice, no source: a hem squared to a slanted side and to the centre lies flat in the middle and turns
    up towards the side; it sinks no more than the arc that meets both squarely would (half of slant times width)."""
    for who in NINE:
        for name in ("front", "back"):
            points = edge(cut(block, who), f"{name}.hem")["points"]
            corner, near, *_, centre = points if abs(points[0][0]) > abs(points[-1][0]) else points[::-1]
            slant = (near[1] - corner[1]) / abs(near[0] - corner[0])
            if abs(slant) > 0.02:
                assert 0.3 <= (centre[1] - corner[1]) / (slant * abs(corner[0])) <= 0.5, (who, name)


def _left_below(piece: Json, name: str) -> float:
    """How far the cut line lies from the middle of an edge, in mm."""
    points = edge({"pieces": [piece]}, name)["points"]
    return float(
        shapely.LinearRing(piece["cut_outline"]).distance(shapely.LineString(points).interpolate(0.5, normalized=True))
    )


@pytest.mark.parametrize("who", NINE)
def test_row_67_seams_and_hem_of_leggings(who: str) -> None:
    """CP: seams of half an inch at the most, the hem turned by an inch and an inch again."""
    turned, banded = (named(cut("leggings", who, hem=hem), "leg") for hem in ("turned", "band"))
    assert _left_below(turned, "leg.hem") == pytest.approx(2 * INCH, abs=0.1)
    for piece, name in ((turned, "front_inseam"), (turned, "back_crotch"), (turned, "waist"), (banded, "hem")):
        assert 6 <= _left_below(piece, f"leg.{name}") <= 0.5 * INCH + 0.1


@pytest.mark.parametrize("who", NINE)
def test_the_tunics_six_inches_hold_its_hem(who: str) -> None:
    """CP: body panels are cut the length and 6 inches, two of them the hem and half of one the shoulder's seam."""
    front = named(cut("tunic.panels", who, length=900.0), "front")
    top, bottom = (at(y for _, y in front["cut_outline"]) for at in (min, max))
    assert bottom - top == pytest.approx(900.0 + 6 * INCH, abs=0.5)


@pytest.mark.parametrize("who", NINE)
def test_leggings_hang_plumb(who: str) -> None:
    """Knee, calf and hem lie centred under the forks."""
    piece = named(cut("leggings", who), "leg")
    middles = [sum(p[0] for p in level["points"]) / 2 for level in piece["levels"] if not level["name"].endswith("hip")]
    forks = [edge(cut("leggings", who), f"leg.{name}")["points"] for name in ("front_inseam", "back_inseam")]
    middle = (forks[0][-1][0] + forks[1][0][0]) / 2
    assert all(one == pytest.approx(middle, abs=0.5) for one in middles)
    waist = edge(cut("leggings", who), "leg.waist")["points"]
    assert waist[0][1] > waist[-1][1] + 15, "the front's rise is lower than the back's"


@pytest.mark.parametrize("who", NINE)
def test_a_swimsuit_is_shaped_over_the_bust_and_lined(who: str) -> None:
    listing, body = cut("swimsuit", who), PEOPLE[who].measures
    lining = named(listing, "crotch_lining")
    assert lining["cuts"][0]["cloth"] == "lining"
    if body.get("under_bust") and body["bust"] - body["under_bust"] > 100:
        dart = next(d for d in named(listing, "front")["darts"])
        assert 15 <= dart["intake"] <= 60
    hollows = []
    for name in ("front", "back"):
        hollows.append(_hollow(edge(listing, f"{name}.leg")["points"], 1))
    assert abs(hollows[0]) > abs(hollows[1]) + 8, "the front's leg is hollower than the back's"


def test_a_wrap_overlaps_half_the_waist_with_one_curved_edge() -> None:
    listing = cut("skirt.circle", "average", made="wrap")
    assert figure(listing, "wrap_over") == pytest.approx(figure(listing, "waist_seam") / 2)
    one, other = (edge(listing, f"skirt.front_edge{end}")["points"] for end in ("", "_left"))
    assert sum(abs(t) for t in bends(one)) > 45 and sum(abs(t) for t in bends(other)) < 1
    assert any(f["name"].endswith("slot") for f in named(listing, "waistband")["features"])


def test_rings_lie_on_the_fold_and_gores_hang_down() -> None:
    rings = named(cut("skirt.circle", "average", fraction=2.0), "skirt")
    assert rings["on_fold"] and rings["cut"] == 2
    gore = named(cut("skirt.circle", "average", made="panels", panels=6.0, fraction=1.0), "skirt")
    assert gore["grain"]["from"][0] == pytest.approx(gore["grain"]["to"][0])


def test_a_measure_that_was_never_given_is_not_to_be_taken_again() -> None:
    """What rests on estimates says so; what was measured is to be measured again."""
    known = {code: PEOPLE["average"].measures[code] for code in ("height", "bust", "waist", "hip")}
    made = drafted("bodice.darted", Person.of("few", {**known, "shoulder": 100.0, "across_shoulders": 440.0}))
    said = [f.sentence for f in made.findings if f.code == "draft.across"]
    assert said and "Measure shoulder length again" in said[0] and "estimate" in said[0]
    assert KNIT.stretch > 0
