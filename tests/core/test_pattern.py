"""Edges, pieces and places: names that survive, positions that are never rewritten."""

from __future__ import annotations

import math

import pytest

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.paths import area as shoelace
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Notch, Spot
from caddet.core.pattern.ids import Reference, id_of, other_side, reference
from caddet.core.pattern.opened import opened_at
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Join, Part, Seam, part
from caddet.core.pattern.stretching import let_down
from caddet.core.pattern.surgery import split_edge
from tests.making import skirt

SQUARE = Piece(
    "square", "Square",
    tuple(Edge(f"square.{n}", Path.polyline([a, b])) for n, a, b in (("top", 0j, 100 + 0j), ("side", 100 + 0j, 100 + 100j), ("hem", 100 + 100j, 100j), ("centre", 100j, 0j))),
    notches=(Notch("square.side", 0.3), Notch("square.hem", 0.2)),
)  # fmt: skip


def test_a_reference_finds_every_thing_that_has_its_marks() -> None:
    ref = reference("front.side[s3.2]")
    assert ref.finds("front.side", frozenset({"s3.2", "s5.1"})) and not ref.finds("front.side", frozenset({"s5.1"}))
    assert not ref.finds("front.side'", frozenset({"s3.2"})) and ref.plain == reference("front.side")
    assert reference("front.side'").key == "front.side'" == other_side("front.side") and other_side("a'") == "a"
    assert (
        id_of("front.side'", frozenset({"s5.1", "s3.2"}))
        == "front.side[s3.2,s5.1]'"
        == str(reference("front.side[s5.1,s3.2]'"))
    )


def test_positions_keep_their_places_through_splits_reversal_and_cloth_let_in() -> None:
    edge = Edge("p.e", Path.polyline([0j, 100 + 0j]))
    first, second = edge.split_at(40.0)
    assert first is not None and second is not None
    assert (first.low, first.high, second.low, second.high) == (0.0, 0.4, 0.4, 1.0)
    assert second.share_at(0.7) == pytest.approx(0.5) and second.share_at(0.3) is None
    turned = second.reversed()
    assert turned.backwards and turned.share_at(0.7) == pytest.approx(0.5) and turned.u_at(0.0) == 1.0
    assert turned.walked.start == second.path.start
    wider = first.let_in(Path.polyline([40 + 0j, 40 + 10j]), at_end=True)
    assert wider.path.length == 50 and wider.u_at(0.9) == wider.u_at(1.0) == 0.4, "what is let in belongs to the edge"
    assert wider.share_at(0.2) == pytest.approx(0.4)
    before = second.let_in(Path.polyline([30 + 0j, 40 + 0j]), at_end=False)
    assert before.path.start == 30 and before.u_at(0.05) == 0.4 and before.share_at(1.0) == pytest.approx(1.0)
    assert edge.split_at(0.0) == (None, edge) and edge.split_at(100.0) == (edge, None)


def test_a_split_marks_the_whole_run_on_whatever_piece_it_lies() -> None:
    pattern = Pattern((SQUARE,))
    done, index = split_edge(pattern, SQUARE, Spot("square.side", 0.4), "s3")
    piece = done.piece("square")
    assert [edge.name for edge in piece.edges] == [
        "square.top",
        "square.side",
        "square.side",
        "square.hem",
        "square.centre",
    ]
    assert index == 2 and piece.run_length("side") == 100
    assert [sorted(edge.marks) for edge in piece.run("side")] == [["s3.1"], ["s3.2"]]
    assert (
        piece.run_length("square.side[s3.2]") == 60
        and piece.run_length(Reference("square.side", frozenset({"s3.1"}))) == 40
    )
    again, _ = split_edge(done, piece, Spot("square.side", 0.1), "s4")
    marks = [sorted(edge.marks) for edge in again.piece("square").run("side")]
    assert marks == [["s3.1", "s4.1"], ["s3.1", "s4.2"], ["s3.2", "s4.2"]], (
        "all before and all behind, also the far part"
    )
    at_corner, _ = split_edge(done, piece, Spot("square.side", 0.4), "s5")
    assert [sorted(e.marks) for e in at_corner.piece("square").run("side")] == [["s3.1", "s5.1"], ["s3.2", "s5.2"]]
    assert opened_at(SQUARE, Spot("square.side", 0.0)) == (SQUARE, 1) and opened_at(
        SQUARE, Spot("square.side", 1.0)
    ) == (SQUARE, 2)
    with pytest.raises(Refused, match="no longer there"):
        opened_at(SQUARE, Spot("square.sleeve", 0.4))


def test_runs_and_darts_that_are_not_there_are_named() -> None:
    for name in ("sleeve", "square.side[s3.2]", "square.sleeve"):
        with pytest.raises(CaddetError, match="has no edge"):
            SQUARE.run(name)
    with pytest.raises(CaddetError, match="no dart"):
        SQUARE.legs("front_dart")
    with pytest.raises(CaddetError, match="has no dart"):
        SQUARE.dart(reference("square.dart"))
    with pytest.raises(CaddetError, match="there is no piece"):
        Pattern((SQUARE,)).piece("round")
    with pytest.raises(CaddetError, match="there is no seam"):
        Pattern((SQUARE,)).seam("side")


def test_a_run_that_begins_at_the_end_of_the_list_is_still_in_order() -> None:
    piece, _ = opened_at(SQUARE, Spot("square.side", 0.4))
    turned = piece.with_edges(piece.edges[2:] + piece.edges[:2])
    assert [edge.path.length for edge in turned.run("side")] == [40, 60]
    assert turned.run_point("side", 50.0)[0] == 100 + 50j and turned.along(Spot("square.side", 0.5)) == 50


def test_a_run_is_walked_over_its_darts() -> None:
    piece = skirt(school="seat").piece("back")
    assert len(piece.darts) == 2 and len(piece.run("waist")) == 3
    whole = piece.run_length("waist")
    assert abs(piece.run_point("waist", whole)[0] - piece.run("waist")[-1].path.end) < 1e-6
    off, along = piece.nearest_on_run("waist", piece.run_point("waist", whole * 0.7)[0])
    assert off < 1e-3 and along == pytest.approx(whole * 0.7, abs=1e-3)
    for share in (0.0, 0.2, 0.55, 0.9, 1.0):
        spot = piece.spot_at("waist", whole * share)
        assert spot.u == pytest.approx(share, abs=1e-9) and piece.along(spot) == pytest.approx(whole * share, abs=1e-6)
        assert abs(piece.where(spot) - piece.run_point("waist", whole * share)[0]) < 1e-6
    assert [dart.pressed for dart in piece.darts] == ["first", "first"], "to the centre"


def test_lengthening_blends_lines_and_curves_and_keeps_places() -> None:
    longer = let_down(SQUARE, 50.0, 20.0)
    assert longer.run_length("side") == 120 and longer.run_length("hem") == 100
    assert longer.along(Spot("square.side", 0.3)) == pytest.approx(30), "above the line nothing moves"
    assert 120 - longer.along(Spot("square.side", 0.8)) == pytest.approx(20), "below it everything moves along"
    shorter = let_down(SQUARE, 50.0, -20.0)
    assert shorter.run_length("side") == 80 and 0 < shorter.along(Spot("square.side", 0.3)) < 80

    def with_side(path: Path) -> Piece:
        edges = list(SQUARE.edges)
        edges[1], edges[2] = edges[1].with_path(path), edges[2].with_path(Path.polyline([path.end, 100j]))
        return SQUARE.with_edges(edges)

    curve = Path((Cubic(100 + 0j, 110 + 30j, 130 + 70j, 130 + 100j),))
    bent = let_down(with_side(curve), 50.0, 20.0).run("side")[0].path
    assert bent.start_direction == curve.start_direction and bent.end_direction == curve.end_direction
    slanted = let_down(with_side(Path((Line(100 + 0j, 130 + 100j),))), 50.0, 20.0).run("side")[0].path
    assert slanted.end == 130 + 120j and len(slanted.segments) == 1
    arc = let_down(with_side(Path((Arc(0j, 100.0, 0.0, math.pi / 4),))), 50.0, 20.0).run("side")[0].path
    assert arc.end.imag == pytest.approx(100 * math.sin(math.pi / 4) + 20)
    for level, words in ((150.0, "outside"), (-5.0, "outside")):
        with pytest.raises(Refused, match=words):
            let_down(SQUARE, level, 10.0)
    with pytest.raises(Refused, match="shortened by more"):
        let_down(SQUARE, 50.0, -60.0)


def test_a_mirrored_piece_still_runs_clockwise() -> None:
    piece = skirt(school="seat").piece("back")
    flipped = piece.moved(Motion.reflection(0j, 1j))
    assert shoelace(flipped.polygon()) == pytest.approx(shoelace(piece.polygon())) and shoelace(piece.polygon()) > 0
    for run in piece.runs():
        assert flipped.run_length(run) == pytest.approx(piece.run_length(run))
    for notch in piece.notches:
        here, there = (one.where(Spot(notch.edge, notch.u)) for one in (piece, flipped))
        assert there == pytest.approx(complex(-here.real, here.imag), abs=1e-6), "places are never rewritten"
    twice = flipped.moved(Motion.reflection(0j, 1j))
    assert twice.polygon() == pytest.approx(piece.polygon(), abs=1e-9) and twice.darts == piece.darts
    assert all(dart.pressed == "second" for dart in flipped.darts), "still to the centre"
    assert Dart("x").id == "x" and Dart("x", marks=frozenset({"s2.1"})).id == "x[s2.1]"


def test_a_seam_is_walked_over_spans_and_knows_its_neighbours() -> None:
    pattern = skirt(school="seat")
    whole = pattern.length((part("front.side"),))
    upper, lower = (
        pattern.length((Part(reference("front.side"), low=a, high=b),)) for a, b in ((0.0, 0.25), (0.25, 1.0))
    )
    assert upper == pytest.approx(whole / 4, abs=1e-6) and upper + lower == pytest.approx(whole, abs=1e-9)
    assert [f.imagined for f in pattern.fragments(part("front.side", mirrored=True))] == [True]
    with pytest.raises(CaddetError, match="no edge"):
        pattern.length((part("front.sleeve"),))
    assert [pattern.letter(seam.name) for seam in pattern.seams] == ["A", "B", "C"]
    many = Pattern(seams=tuple(Seam(f"s{n}", "", ((), ())) for n in range(30)))
    assert len({many.letter(seam.name) for seam in many.seams}) == 30 and many.letter("s26") == "A2"
    assert (
        Join("eased", 20).wanted(100) == 120 and Join("gathered", 1.5).wanted(100) == 150 and Join().wanted(100) == 100
    )
