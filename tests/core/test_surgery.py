"""The verbs that change outlines: what they promise, on real pieces, by random surgery, and what they refuse."""

from __future__ import annotations

import math
import random
from typing import Literal

import pytest
import shapely

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.fitting.line_drawing import line_drawing
from caddet.core.geometry.paths import Path
from caddet.core.geometry.paths import area as shoelace
from caddet.core.geometry.segments import Point
from caddet.core.pattern.assembly import assembled, join_pieces, mirror, remove, separate, unfold
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.edges import SAME, Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.opened import from_first
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Girth, Run, level_length
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.soundness import fault
from caddet.core.pattern.surgery import pivot_dart, spread
from caddet.core.recipe.registry import STEPS
from caddet.core.truing.walk import walk
from tests.making import drafted, nine, pattern_of, person, skirt
from tests.surgery import area_of, chain, consistent, covered, random_surgery

SKIRT = skirt()
FRONT = SKIRT.piece("front")


def middle(piece: Piece, run: str, share: float = 0.5) -> Spot:
    return piece.spot_at(run, piece.run_length(run) * share)


@pytest.mark.parametrize("who", nine(), ids=lambda p: p.name)
@pytest.mark.parametrize("style", ["", "waist_seam", "in_one"])
def test_a_design_is_carried_through_the_chain_of_verbs(style: str, who: Person) -> None:
    """Bust dart to the shoulder, princess cut, slash and spread, side panel to the back, unfolded, slit."""
    made = (
        drafted("dress.sheath", who, sleeve=False, style=style)
        if style
        else drafted("bodice.darted", who, sleeve=False)
    )
    first, join = pattern_of(made), style != "in_one"
    last = chain(first, join=join)
    consistent(last)
    for piece in first.pieces:
        for key in piece.runs():
            if key == "front.centre_front" or (join and key in ("front.side", "back.side")):
                continue  # the fold is opened, the side seam is joined
            found = last.edges(reference(key))
            assert found, f"{key} is not found by its first name"
            before, after = piece.run_length(key), Run(reference(key)).measured(last)
            grown = 20.0 if key in ("front.waist", "front.hem") else 0.0
            assert after == pytest.approx(before + grown, abs=grown * 0.2 + 0.05), key
    assert last.edges(reference("front.neckline'")), "the other side is real now"
    panels = [{"front[s3.1]", "front[s3.2]"} & {p.name, *p.also} for p in last.pieces]
    assert len(last.pieces) == {"": 2, "waist_seam": 4, "in_one": 3}[style] and sorted(map(len, panels))[-2:] == [1, 1]
    home = last.pieces_meant(reference("back"))[0]
    assert len(last.pieces_meant(reference("front"))) == 2 and (bool(home.also) is join)
    seam = last.seam("s3.seam")
    assert abs(walk(last, seam).off) < 0.5, "the princess seam is walked, its dart legs in it"
    assert abs(walk(last, last.seam("shoulder")).off) < 0.5, "the shoulder still meets, over both panels"
    if style:
        assert any(edge.finish == "slit" for piece in last.pieces for edge in piece.edges)


def test_a_cut_divides_everything_and_is_sewn_together_again() -> None:
    line = CutLine(middle(FRONT, "waist", 0.8), middle(FRONT, "hem", 0.4))
    cut = cut_piece(SKIRT, FRONT, line, "s2", ("Side front", "Centre front"))
    side, centre = (p for p in cut.pieces if p.made == "front")
    assert [p.name for p in (side, centre)] == ["front[s2.1]", "front[s2.2]"] and side.label == "Side front"
    assert abs(shoelace(side.polygon())) + abs(shoelace(centre.polygon())) == pytest.approx(
        abs(shoelace(FRONT.polygon())), rel=1e-6
    )
    assert centre.fold and not side.fold and side.pair and side.cut == 2, "the part without the fold becomes a pair"
    for run in ("front.waist", "front.hem", "front.side"):
        assert Run(reference(run)).measured(cut) == pytest.approx(FRONT.run_length(run), abs=1e-6)
    assert Girth("hip").measured(cut) == pytest.approx(Girth("hip").measured(SKIRT), abs=1e-6)
    assert [sorted(e.marks) for e in side.edges if e.own == "cut"] == [["s2.1", "s2a"]]
    walked = walk(cut, cut.seam("s2.seam"))
    assert walked.holds and walked.length_a == pytest.approx(side.run_length("s2.cut"))
    assert {n.name for n in side.notches} == {"hip"} and not centre.notches
    assert walk(cut, cut.seam("waistband")).off == pytest.approx(0, abs=0.1), "the waist is still whole"
    covered(cut)


def test_a_cut_across_a_dart_closes_it_above_and_leaves_the_rest() -> None:
    pattern = skirt(who=person(waist=84, hip=98))
    front = pattern.piece("front")
    (dart,) = front.darts
    _, a, apex, b = front.legs(dart.id)
    level = (a.imag + apex.imag) / 2
    side = next(along for along, _ in front.run("side")[0].path.crossings(complex(-999, level), complex(999, level)))
    fold = next(edge for edge in front.edges if edge.finish == "fold")
    on_fold = fold.path.crossings(complex(-999, level), complex(999, level))[0][0]
    cut = cut_piece(pattern, front, CutLine(front.spot_at("side", side), front.spot_at("centre_front", on_fold)), "s2")
    parts = [p for p in cut.pieces if p.made == "front"]
    yoke = min(parts, key=lambda p: abs(shoelace(p.polygon())))
    skirt_part = next(p for p in parts if p is not yoke)
    assert not yoke.darts and [d.name for d in skirt_part.darts] == [dart.name]
    _, c, tip, d = skirt_part.legs(skirt_part.darts[0].id)
    assert (
        tip == apex
        and c.imag == pytest.approx(level, abs=0.2)
        and abs(c - d) == pytest.approx(abs(a - b) / 2, rel=0.05)
    )
    assert walk(cut, cut.seam("s2.seam")).off == pytest.approx(0, abs=0.1)
    assert Run(reference("front.waist")).measured(cut) == pytest.approx(front.run_length("waist"), abs=0.05)
    wedge = abs((a - apex).real * (b - apex).imag - (a - apex).imag * (b - apex).real) / 2
    assert abs(shoelace(yoke.polygon())) + abs(shoelace(skirt_part.polygon())) == pytest.approx(
        abs(shoelace(front.polygon())), abs=wedge * 0.05 + 1
    )
    covered(cut)


def test_a_slash_is_opened_by_as_much_as_was_asked_for() -> None:
    for at_start, at_end in ((30.0, 0.0), (0.0, 25.0), (20.0, 20.0), (10.0, 40.0)):
        start, end = middle(FRONT, "waist", 0.8), middle(FRONT, "hem", 0.4)
        wide = spread(SKIRT, FRONT, start, end, at_start, at_end, "s2").piece("front")
        a, b = FRONT.where(start), FRONT.where(end)
        for run, amount in (("waist", at_start), ("hem", at_end)):
            assert wide.run_length(run) == pytest.approx(FRONT.run_length(run) + amount, abs=1e-6), run
        assert wide.run_length("side") == pytest.approx(FRONT.run_length("side"), abs=1e-9)
        grown = abs(shoelace(wide.polygon(0.001))) - abs(shoelace(FRONT.polygon(0.001)))
        assert grown == pytest.approx(abs(b - a) * (at_start + at_end) / 2, rel=0.02)
        assert wide.run("centre_front") == FRONT.run("centre_front"), "the part with the fold stays"
        before, after = FRONT.feature("hip"), wide.feature("hip")
        assert before is not None and after is not None
        hip, share = level_length(wide, after) - level_length(FRONT, before), 205 / 600
        assert hip == pytest.approx(at_start * (1 - share) + at_end * share, abs=1.5), "bridged, so wider"
        covered(Pattern((wide,)))


def test_unfolding_and_separating_make_the_other_side_real() -> None:
    whole = unfold(SKIRT, FRONT).piece("front")
    assert not whole.fold and whole.symmetry == "whole"
    assert abs(shoelace(whole.polygon())) == pytest.approx(2 * abs(shoelace(FRONT.polygon())), rel=1e-6)
    left, right, top, bottom = (
        f(p)
        for f, p in (
            (min, [p.real for p in whole.polygon()]),
            (max, [p.real for p in whole.polygon()]),
            (min, [0.0]),
            (max, [0.0]),
        )
    )
    assert left == pytest.approx(-right) and top == bottom
    unfolded = unfold(SKIRT, FRONT)
    assert Girth("hip").measured(unfolded) == pytest.approx(Girth("hip").measured(SKIRT)), "a whole piece counts once"
    assert Run(reference("front.waist"), worn=True).measured(unfolded) == pytest.approx(2 * FRONT.run_length("waist"))
    assert all(walk(unfolded, seam).holds for seam in unfolded.seams)
    assert len(whole.darts) == 2 * len(FRONT.darts) and {n.edge for n in whole.notches} == {"front.side", "front.side'"}
    covered(unfolded)
    back = SKIRT.piece("back")
    apart = separate(SKIRT, back)
    one, other = apart.piece("back"), apart.piece("back'")
    assert one.cut == other.cut == 1 and not one.pair
    flipped = shapely.affinity.scale(
        shapely.Polygon([(p.real, p.imag) for p in other.polygon()]), -1, 1, origin=(other.centre_x, 0)
    )
    same = shapely.Polygon([(p.real, p.imag) for p in one.polygon()])
    assert flipped.symmetric_difference(same).area < 1.0
    assert all(walk(apart, seam).holds for seam in apart.seams)
    assert apart.pieces_meant(reference("back'")) == [other] and SKIRT.pieces_meant(reference("back'")) == [back]
    covered(apart)
    over = mirror(SKIRT, back).piece("back")
    assert shoelace(over.polygon()) > 0 and mirror(Pattern((over,)), over).pieces[0].polygon() == pytest.approx(
        back.polygon(), abs=1e-9
    )


def test_two_pieces_are_joined_along_their_seam_and_both_names_find_it() -> None:
    bodice = pattern_of(drafted("bodice.darted", sleeve=False, bust_dart="none"))
    front = bodice.piece("front")
    line = CutLine(middle(front, "shoulder"), front.darts[0])
    cut = cut_piece(bodice, front, line, "s2")
    side_panel = next(p for p in cut.pieces if p.made == "front" and not p.fold)
    joined = join_pieces(cut, cut.seam("side"))
    assert len(joined.pieces) == len(cut.pieces) - 1
    home = joined.pieces_meant(reference("back"))
    assert home == joined.pieces_meant(reference(side_panel.name)) and len(home) == 1
    area = abs(shoelace(home[0].polygon()))
    assert area == pytest.approx(
        abs(shoelace(side_panel.polygon())) + abs(shoelace(bodice.piece("back").polygon())), rel=1e-3
    )
    assert Girth("bust").measured(joined) == pytest.approx(Girth("bust").measured(bodice), abs=0.5)
    assert "side" not in [seam.name for seam in joined.seams] and not joined.edges(reference("back.side"))
    assert len([f for f in home[0].features if own_name(f.name) == "bust"]) == 1, "one level with the bits of both"
    covered(joined)
    with pytest.raises(Refused, match="cm apart"):
        join_pieces(SKIRT, SKIRT.seam("side"))  # hips are curved both ways


def test_pieces_lie_together_along_their_seams() -> None:
    placed = assembled(SKIRT, ["front", "back"])
    assert set(placed) == {"front", "back"}
    seam = SKIRT.seam("side")
    one, other = (SKIRT.layer_fragments(layer) for layer in seam.layers)
    for point in (0, 1):
        ends = [placed[f[0].piece.name](f[0].path().end if point else f[0].path().start) for f in (one, other)]
        assert abs(ends[0] - ends[1]) < 1.0
    assert "waistband" not in remove(SKIRT, SKIRT.piece("waistband")).pieces
    assert "waistband" not in [s.name for s in remove(SKIRT, SKIRT.piece("waistband")).seams]


@pytest.mark.parametrize(
    "block", ["skirt.straight", "bodice.darted", "trousers.tailored", "top.knit", "leggings", "swimsuit"]
)
def test_random_surgery_leaves_sound_pieces_or_says_why_not(block: str) -> None:
    """Names and marks stay one of a kind, positions are covered once, lengths and areas are as promised."""
    done = 0
    for seed in range(6):
        done += random_surgery(pattern_of(drafted(block)), random.Random(f"{block} {seed}"), 8)
    assert done > 12, "most of it could be done"


# --- what is refused ------------------------------------------------------------------------------


def test_cuts_that_cannot_be_are_refused_in_a_sentence() -> None:
    waist, hem = middle(FRONT, "waist", 0.8), middle(FRONT, "hem")
    outside: Point = 2000 + 300j
    along = FRONT.spot_at("side", 400.0), FRONT.spot_at("side", 550.0)
    _, a, apex, _ = FRONT.legs("front_dart")
    for line, words in (
        (CutLine(waist, hem, (outside,)), "leaves the piece"),
        (CutLine(*along), "along its edge|leaves|only touches"),
        (CutLine(waist, waist), "too short|does not cross"),
        (
            CutLine(FRONT.spot_at("waist", 20.0), hem, ((a + apex) / 2 + 3, (a + apex) / 2 + 30j - 20)),
            "runs into the dart",
        ),
        (CutLine(Spot("front.sleeve", 0.5), hem), "no longer"),
    ):
        with pytest.raises(CaddetError, match=words):
            cut_piece(SKIRT, FRONT, line, "s2")
    for amount in ((-5.0, 0.0), (0.0, 0.0)):
        with pytest.raises(Refused, match="more than nothing"):
            spread(SKIRT, FRONT, waist, hem, *amount, "s2")
    with pytest.raises(Refused):
        spread(SKIRT, FRONT, FRONT.spot_at("waist", 150.0), FRONT.spot_at("side", 60.0), 900.0, 0.0, "s2")


def test_a_dart_is_not_pivoted_to_where_it_opens() -> None:
    bodice = pattern_of(drafted("bodice.darted", sleeve=False))
    front = bodice.piece("front")
    first = front.run("side")[0].path.length
    with pytest.raises(Refused, match="opens there already"):
        pivot_dart(bodice, front, front.darts[0], front.spot_at("side", first), 1.0, "s9")


def test_joins_that_do_not_match_are_refused_with_the_gap() -> None:
    with pytest.raises(Refused, match="the other half of a piece"):
        join_pieces(SKIRT, SKIRT.seam("waistband"))
    with pytest.raises(Refused, match=r"other half|both its sides"):
        join_pieces(SKIRT, SKIRT.seam("centre_back"))
    bodice = pattern_of(drafted("bodice.darted", sleeve=False))
    with pytest.raises(Refused, match=r"dart in it|not cut alike"):
        join_pieces(bodice, bodice.seam("side"))
    top = pattern_of(drafted("top.knit"))
    with pytest.raises(Refused, match=r"cm apart|not cut alike"):
        join_pieces(top, top.seam("armhole_front"))
    with pytest.raises(Refused, match="not cut on the fold"):
        unfold(SKIRT, SKIRT.piece("back"))
    with pytest.raises(Refused, match="not one of a pair"):
        separate(SKIRT, FRONT)


def test_sixty_cuts_of_one_piece_end_in_strips_or_a_sentence() -> None:
    pattern, made = SKIRT, 0
    for n in range(60):
        piece = max((p for p in pattern.pieces if p.made == "front"), key=lambda p: abs(shoelace(p.polygon(1.0))))
        level = 592.0 - 6.5 * n  # strip after strip from the hem up, below the darts
        runs = [(key, along) for key in piece.runs() for along, _ in _level_cuts(piece, key, level)]
        assert len(runs) >= 2
        line = CutLine(piece.spot_at(*runs[0]), piece.spot_at(*runs[-1]))
        try:
            pattern = cut_piece(pattern, piece, line, f"s{n + 2}")
            made += 1
        except Refused as refused:
            assert str(refused)
            break
        assert all(not fault(p) for p in pattern.pieces)
    assert made == 60
    total = area_of(p for p in pattern.pieces if p.made == "front")
    assert total == pytest.approx(area_of([FRONT]), rel=1e-3)
    consistent(pattern)


def _level_cuts(piece: Piece, key: str, level: float) -> list[tuple[float, Point]]:
    found, passed = [], 0.0
    for path in piece.walked(key):
        found += [
            (passed + along, at)
            for along, at in path.crossings(complex(-1e4, level), complex(1e4, level))
            if 1 < along < path.length - 1
        ]
        passed += path.length
    return found


def test_a_position_whose_cloth_is_gone_is_dropped_not_moved() -> None:
    line = CutLine(middle(FRONT, "waist", 0.8), middle(FRONT, "hem", 0.4))
    side = cut_piece(SKIRT, FRONT, line, "s2").piece("front[s2.1]")
    centre = cut_piece(SKIRT, FRONT, line, "s2").piece("front[s2.2]")
    gone = Spot("front.waist", 0.2)
    assert not side.holds_spot(gone) and centre.holds_spot(gone)
    with pytest.raises(Exception, match="no longer on"):
        side.where(gone)
    assert math.isclose(
        side.on_edge(Spot("front.waist", 1.0))[1], side.run("front.waist")[-1].path.length, abs_tol=SAME * 1e6
    )  # type: ignore[index]


def test_the_steps_say_why_they_do_not_fit_before_they_are_tried() -> None:
    band = pattern_of(drafted("neckband"))
    assert (
        "no darts" in STEPS["pivot_dart"].fits(band)
        and "hem" in STEPS["flare"].fits(band)
        and "hem" in STEPS["slit"].fits(band)
    )
    assert not any(STEPS[kind].fits(SKIRT) for kind in ("pivot_dart", "lengthen", "flare", "slit", "band"))


def test_a_dart_pivoted_onto_itself_is_refused() -> None:
    dart = FRONT.darts[0]
    _, a, _, _ = FRONT.legs(dart.id)
    _, along = FRONT.nearest_on_run("waist", a)
    with pytest.raises(Refused):
        pivot_dart(SKIRT, FRONT, dart, FRONT.spot_at("waist", 1.0), 1.0, "s2")
    assert along > 0


def test_the_round_begins_where_it_began_whatever_stands_before_it() -> None:
    def edge(name: str, dart: str = "") -> Edge:
        return Edge(name, Path.polyline([0j, 1 + 0j]), dart=dart)

    old = (edge("m"), edge("dart", "d"), edge("m"), edge("z"), edge("a"))
    for turned in (old[2:] + old[:2], old[3:] + old[:3], old[4:] + old[:4]):
        assert [e.name for e in from_first(turned, old)] == ["m", "dart", "m", "z", "a"]
    assert from_first(old[3:], old) == old[3:], "when its first edge is gone it stays as it is"


def _drawn(pattern: Pattern, view: Literal["front", "back"]) -> shapely.Geometry:
    shapes = line_drawing(pattern, view).shapes
    return shapely.union_all([shapely.Polygon([(p.real, p.imag) for p in shape]).buffer(0) for shape in shapes])


def test_the_line_drawing_is_the_same_when_the_other_side_is_made_real() -> None:
    bodice = pattern_of(drafted("bodice.darted"))
    views: list[tuple[Pattern, Literal["front", "back"], Pattern]] = [
        (SKIRT, "back", separate(SKIRT, SKIRT.piece("back"))),
        (SKIRT, "front", unfold(SKIRT, FRONT)),
        (bodice, "front", unfold(bodice, bodice.piece("front"))),
    ]
    for pattern, view, changed in views:
        before, after = _drawn(pattern, view), _drawn(changed, view)
        assert before.area > 1e5 and before.symmetric_difference(after).area < before.area * 2e-3, view


def test_a_cut_without_a_label_gets_one_from_its_piece() -> None:
    line = CutLine(FRONT.spot_at("side", 300.0), FRONT.spot_at("centre_front", 250.0))
    cut = cut_piece(SKIRT, FRONT, line, "s4")
    assert {piece.label for piece in cut.pieces if piece.made == "front"} == {"Front, upper", "Front, lower"}
    assert cut.seam("s4.seam").label == "Front, cut"
    named = cut_piece(SKIRT, FRONT, line, "s4", ("Upper", "Lower"), "Yoke seam")
    assert {piece.label for piece in named.pieces if piece.made == "front"} == {"Upper", "Lower"}
    assert named.seam("s4.seam").label == "Yoke seam"
