from __future__ import annotations

import pytest
import shapely

from caddet.core.finishing.finish import finish_piece, label_place
from caddet.core.geometry.segments import dot
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Join, Seam, part
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Finishing
from caddet.core.truing.joins import joins
from caddet.core.truing.walk import roll, unrolled, walk
from tests.making import document, drafted, full_people, made, pattern_of, person, polygon, skirt, step

PATTERN = skirt(school="seat", flare=40.0)


def test_walking_is_symmetric_and_meets() -> None:
    for seam in PATTERN.seams:
        there = walk(PATTERN, seam)
        back = walk(PATTERN, Seam(seam.name, seam.label, (seam.b, seam.a)))
        assert there.holds and back.holds
        assert there.off == pytest.approx(-back.off, abs=1e-9)
        assert sum(s.a for s in there.stretches) == pytest.approx(there.length_a)
        assert sum(s.b for s in there.stretches) == pytest.approx(there.length_b)


def test_the_band_is_walked_notch_by_notch_round_the_whole_waist() -> None:
    names = [stretch.until for stretch in walk(PATTERN, PATTERN.seam("waistband")).stretches]
    assert names == ["side", "centre front", "side", "end"]
    assert all(abs(s.a - s.b) < 0.1 for s in walk(PATTERN, PATTERN.seam("waistband")).stretches)


@pytest.mark.parametrize(
    ("kind", "amount", "longer", "verdict"),
    [
        ("eased", 20.0, 20.0, "eased"),
        ("gathered", 1.5, None, "off"),
        ("plain", 0.0, 2.0, "meets"),
        ("plain", 0.0, 4.0, "off"),
        ("stretched", 0.9, None, "off"),
    ],
)
def test_verdicts_go_by_what_is_meant(kind: str, amount: float, longer: float | None, verdict: str) -> None:
    pattern = skirt(step("lengthen", pieces=("back",), at=400.0, amount=longer)) if longer else PATTERN
    seam = Seam("x", "x", ((part("front.side"),), (part("back.side"),)), (Join(kind, amount),))  # type: ignore[arg-type]
    assert walk(pattern, seam).verdict == verdict


def _touches(pattern: Pattern, seam: Seam, share: float) -> None:
    at = pattern.length(seam.a) * share
    state = roll(pattern, seam, at)
    ends = []
    for layer, place in ((seam.a, state.place_a), (seam.b, state.place_b)):
        left = at
        for fragment in pattern.layer_fragments(layer):
            if left <= fragment.length + 1e-9 or fragment is pattern.layer_fragments(layer)[-1]:
                break
            left -= fragment.length
        path = fragment.edge.path.between(fragment.low, fragment.high)
        assert path is not None
        along = min(left, path.length)
        point = path.point_at(path.length - along if fragment.backwards else along)
        direction = path.direction_at(path.length - along if fragment.backwards else along)
        here = place(point)
        walking = (place(point + direction) - here) * (-1 if fragment.backwards else 1)
        ends.append((here, walking, place(point + direction * 1j * 5) - here))
    (pa, da, ia), (pb, db, ib) = ends
    assert abs(pa - pb) < 1e-6 and dot(da, db) == pytest.approx(1, abs=1e-9)
    assert dot(ia, ib) < 0, "the two pieces lie on different sides of the line"


@pytest.mark.parametrize("name", ["side", "centre_back", "waistband"])
@pytest.mark.parametrize("share", [0.0, 0.2, 0.5, 0.8, 1.0])
def test_rolled_pieces_touch_run_the_same_way_and_lie_apart(name: str, share: float) -> None:
    _touches(PATTERN, PATTERN.seam(name), share)


def test_an_unrolled_side_is_as_long_as_the_seam_and_runs_smoothly() -> None:
    seam = PATTERN.seam("waistband")
    path = unrolled(PATTERN.layer_fragments(seam.b))
    assert path.length == pytest.approx(PATTERN.length(seam.b), abs=1e-6)


def test_joins_are_smooth_and_a_corner_is_seen() -> None:
    assert joins(PATTERN) and all(join.angle <= join.limit for join in joins(PATTERN))
    lopsided = skirt(step("flare", edges=("front.side",), amount=120.0, both=False))
    hem = [join for join in joins(lopsided) if join.name == "side.hem"]
    assert hem and hem[0].angle < 1  # the hem stays square to the side even so


# --- finishing ------------------------------------------------------------------------------------


@pytest.mark.parametrize("allowance", [6.0, 15.0, 25.0])
@pytest.mark.parametrize("options", [{}, {"school": "seat", "flare": 80.0}])
def test_the_cut_line_keeps_its_distance(allowance: float, options: dict[str, object]) -> None:
    pattern = skirt(**options)  # type: ignore[arg-type]
    for piece in pattern.pieces:
        cut = finish_piece(piece, Finishing(seam=allowance, hem=allowance, opening=allowance))
        shape = polygon(cut.polygon())
        assert shape.is_valid
        assert polygon(piece.polygon()).difference(shape.buffer(0.01)).area < 0.5
        for run in piece.runs():
            wanted = 0.0 if piece.run(run)[0].finish == "fold" else allowance
            for share in (0.25, 0.5, 0.75):
                point, direction, _ = piece.run_point(run, piece.run_length(run) * share)
                on_cut = point - direction * 1j * wanted
                assert cut.cut.nearest(on_cut)[0] < 0.05


def test_a_hem_with_a_slight_hollow_does_not_cross_itself() -> None:
    result = made(step("lengthen", at=400.0, amount=50.0), step("flare", amount=60.0), who=person(hip=102), flare=20.0)
    assert all(polygon(cut.polygon()).is_valid for cut in result.cut)
    assert not result.findings


def test_in_a_bend_slightly_tighter_than_the_allowance_the_cut_line_keeps_its_distance() -> None:
    """The leg of this body's crotch lining turns on less than 10 mm where front and back meet."""
    who = next(person for person in full_people() if person.name == "full hip small bust")
    cut = next(one for one in drafted("swimsuit", who).cut if one.piece.name == "crotch_lining")
    line = polygon(cut.polygon())
    assert line.is_valid
    legs = [edge.path for edge in cut.piece.edges if edge.finish == "turned"]
    raw_end = legs[0].start  # nothing is added beyond it
    for place in [place for leg in legs for place in leg.flattened(0.05)]:
        if abs(place - raw_end) > 15:
            assert shapely.Point(place.real, place.imag).distance(line.exterior) == pytest.approx(10.0, abs=0.05)


def test_no_allowance_on_the_fold_and_exceptions_count() -> None:
    piece = PATTERN.piece("front")
    cut = finish_piece(piece, Finishing(exceptions={"front.side": 30.0}))
    assert min(p.real for p in cut.polygon()) == pytest.approx(0, abs=1e-6)
    point, direction, _ = piece.run_point("side", 300)
    assert cut.cut.nearest(point - direction * 1j * 30)[0] < 0.05


def test_the_hem_allowance_is_mirrored_so_that_it_lies_flat() -> None:
    leaning = skirt(step("flare", amount=60.0), flare=100.0)
    piece = leaning.piece("front")
    cut = finish_piece(piece, Finishing(seam=15.0, hem=40.0))
    corner = piece.run("hem")[0].path.start
    tangent = piece.run("hem")[0].path.start_direction
    outward = tangent * -1j
    # a point of the hem's cut end, folded over the hem line, lies on the side's cut line
    tip = max(cut.polygon(), key=lambda p: dot(p - corner, outward) - dot(p - corner, tangent) * 0.01)
    folded = tip - 2 * dot(tip - corner, outward) * outward
    assert cut.cut.nearest(folded)[0] < 0.5


def test_the_dart_cap_reaches_the_edge_when_the_dart_is_folded() -> None:
    """Folded to the centre, the underlay's cut edge lies on the centre side's cut edge."""
    piece = skirt(who=person(waist=84, hip=98)).piece("front")
    cut = finish_piece(piece, Finishing(seam=15.0))
    _, a, apex, b = piece.legs("front_dart")
    middle = ((a - apex) / abs(a - apex) + (b - apex) / abs(b - apex)) / 2
    tip = max(cut.polygon(), key=lambda p: dot(p - apex, middle) if abs(dot(p - apex, middle * 1j)) < 3 else -1e9)
    leg = (a - apex) / abs(a - apex)
    folded = apex + leg * leg * (tip - apex).conjugate()  # mirrored over the first leg
    assert cut.cut.nearest(folded)[0] < 0.6


def test_too_deep_an_allowance_is_a_finding_and_the_rest_goes_on() -> None:
    deep = edits.set_allowance(document(person(waist=60)), "front.waist", 150.0)
    result = make(EvaluateRequest(deep))
    told = [finding for finding in result.findings if finding.code.startswith("finish")]
    assert told and told[0].place == "front" and "deep" in told[0].sentence
    assert len(result.cut) == 3 and len(result.cut_piece("back").polygon()) > 20


def test_notches_snip_in_from_the_cut_edge() -> None:
    piece = PATTERN.piece("back")
    for style, lines in (("slit", 1), ("t", 2), ("inside", 1)):
        cut = finish_piece(piece, Finishing(notches=style))  # type: ignore[arg-type]
        hip, zip_end = cut.notches
        assert len(hip.lines) == lines and len(zip_end.lines) == 2 * lines
        start = hip.lines[0][0]
        off = (piece.outline() if style == "inside" else cut.cut).nearest(start)[0]
        assert off < 0.05


def test_labels_say_what_to_cut_for_whom() -> None:
    cut = {c.piece.name: c.labels for c in made(school="seat").cut}
    assert cut["front"][:2] == ("Front", "cut 1 on the fold of Twill") and "Wren" in cut["front"][2]
    assert cut["back"][1] == "cut 2, a pair of Twill"
    assert cut["waistband"][1:3] == ("cut 1 of Twill", "cut 1 of interfacing"), "once for each cloth"


@pytest.mark.parametrize("deep", [80.0, 100.0, 120.0, 140.0])
def test_a_flounce_is_named_in_its_middle(deep: float) -> None:
    """It is as wide all round: of the clear places the one nearest to its centre takes the label, not an end."""
    flounced = drafted("skirt.straight", steps=(step("flounce", edges=("front.hem",), depth=deep),))
    ring = next(piece for piece in pattern_of(flounced).pieces if piece.made.endswith("flounce"))
    shape = polygon(ring.polygon(0.5))
    at = shapely.Point(label_place(ring).real, label_place(ring).imag)
    assert at.distance(shape.centroid) < deep / 2 and shape.exterior.distance(at) > 0.4 * deep


def test_a_second_layer_is_cut_like_what_it_lies_under() -> None:
    """Hem, zip and every edge that was given an allowance of its own: sewn as one, both are trimmed as one."""
    base = drafted("skirt.straight", steps=(step("second_layer", pieces=("back",)),))
    document = base.document.model_copy(update={"finishing": Finishing(exceptions={"back.side": 22.0})})
    made = make(EvaluateRequest(document))
    cut = {one.piece.made: one for one in made.cut}
    assert polygon(list(cut["s2.back"].cut.flattened(0.05))).equals_exact(
        polygon(list(cut["back"].cut.flattened(0.05))), 0.01
    )


def test_a_bound_edge_is_cut_where_it_ends() -> None:
    made = drafted("skirt.circle", made="wrap", steps=(step("binding", edges=("skirt.hem",)),))
    cut = next(one for one in made.cut if one.piece.made == "skirt")
    net = polygon(list(cut.piece.outline().flattened(0.05)))
    low = max(p.imag for p in cut.cut.flattened(0.05))
    assert low == pytest.approx(net.bounds[3], abs=0.1)
