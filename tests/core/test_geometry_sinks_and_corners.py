"""Sinks, corners and surgery on outlines."""

from __future__ import annotations

import cmath
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.errors import CaddetError
from caddet.core.finishing.corners import Side, corner, dart_cap, meet, reach_end, reach_start
from caddet.core.geometry.offset import offset_path, smooth_parts
from caddet.core.geometry.paths import Path, arcs_as_cubics, assert_paths_close
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion, Point
from caddet.core.geometry.sinks import SvgPath, draw
from caddet.core.pattern.piece import Dart, Edge, Notch, Piece
from caddet.core.pattern.surgery import renotched, split_edge, stretch_edge
from tests.making import skirt


class Recorder:
    """A sink that remembers."""

    def __init__(self) -> None:
        self.calls: list[tuple[str, tuple[Point, ...]]] = []

    def move_to(self, point: Point) -> None:
        self.calls.append(("move", (point,)))

    def line_to(self, point: Point) -> None:
        self.calls.append(("line", (point,)))

    def curve_to(self, out: Point, into: Point, end: Point) -> None:
        self.calls.append(("curve", (out, into, end)))

    def close(self) -> None:
        self.calls.append(("close", ()))


PATH = Path(
    (Line(0j, 100 + 0j), Arc(100 + 50j, 50.0, -math.pi / 2, math.pi), Cubic(100 + 100j, 60 + 90j, 20 + 130j, 100j))
)


def test_a_path_draws_itself_on_any_sink() -> None:
    recorder = Recorder()
    draw(PATH, recorder, closed=True)
    names = [name for name, _ in recorder.calls]
    assert names == ["move", "line", "curve", "curve", "curve", "close"]
    assert recorder.calls[0][1] == (0j,) and recorder.calls[-2][1][-1] == 100j
    words = SvgPath(5 + 5j)
    draw(PATH, words)
    assert str(words).startswith("M5.0000,5.0000 L105.0000,5.0000 C") and "Z" not in str(words)


def test_arcs_as_cubics_stay_within_the_width_of_a_hair() -> None:
    assert_paths_close(PATH, arcs_as_cubics(PATH), 0.02)


def test_smooth_parts_cut_only_at_corners() -> None:
    assert len(smooth_parts(PATH)) == 2  # the line runs into the arc; the cubic leaves at an angle
    assert len(smooth_parts(Path((Line(0j, 5 + 0j), Line(5 + 0j, 9 + 0j))))) == 1


@given(st.floats(0.05, 3.0), st.floats(2, 40), st.floats(2, 40))
def test_a_mitre_keeps_both_distances_and_never_spikes(turn: float, first: float, second: float) -> None:
    a = Path((Line(-200 + 0j, 0j),))
    direction = cmath.exp(1j * turn)
    b = Path((Line(0j, 200 * direction),))
    left, right = offset_path(a, first), offset_path(b, second)
    assert left is not None and right is not None
    points = corner(Side(left, first, 1 + 0j), Side(right, second, direction), 0j)
    assert all(abs(point) <= 2.6 * max(first, second) for point in points)
    if len(points) == 1:
        assert points[0].imag == pytest.approx(-first, abs=1e-6)
        across = (points[0] / direction).imag
        assert across == pytest.approx(-second, abs=1e-6)


def test_running_on_with_other_allowances_makes_a_step() -> None:
    a, b = Path((Line(-100 + 0j, 0j),)), Path((Line(0j, 100 + 0j),))
    left, right = offset_path(a, 15.0), offset_path(b, 40.0)
    assert left is not None and right is not None
    assert corner(Side(left, 15, 1 + 0j), Side(right, 40, 1 + 0j), 0j) == [-15j, -40j]


def test_inside_a_hollow_corner_the_lines_are_cut_back() -> None:
    a, b = Path((Line(-100 + 0j, 0j),)), Path((Line(0j, -100j),))
    left, right = offset_path(a, 10.0), offset_path(b, 20.0)
    assert left is not None and right is not None
    (point,) = corner(Side(left, 10, 1 + 0j), Side(right, 20, -1j), 0j)
    assert point == pytest.approx(-20 - 10j)
    assert reach_end(left, point).end == point and reach_start(right, point).start == point
    assert reach_end(left, point).length == pytest.approx(80)


def test_lines_that_never_meet() -> None:
    assert meet(0j, 1 + 0j, 5j, 1 + 0j) is None
    assert meet(0j, 1 + 0j, 5 + 5j, 1j) == 5 + 0j


@pytest.mark.parametrize("toward_before", [True, False])
def test_a_cap_is_the_same_seen_from_both_sides_of_an_even_dart(toward_before: bool) -> None:
    apex, a, b = 100j, -10 + 0j, 10 + 0j
    before, after = Path((Line(-90 - 15j, -10 - 15j),)), Path((Line(10 - 15j, 90 - 15j),))
    points = dart_cap(before, after, (a, apex, b), toward_before)
    assert len(points) == 3 and points[1].real == pytest.approx(0, abs=1e-9)
    assert points[0] == pytest.approx(-points[2].conjugate())
    # folded on its middle, the underlay lies under the edge: mirrored in the first leg, the peak is on the cut line
    leg = (a - apex) / abs(a - apex)
    folded = apex + leg * leg * (points[1] - apex).conjugate()
    assert folded.imag == pytest.approx(-15, abs=0.01)


# --- surgery --------------------------------------------------------------------------------------

SQUARE = Piece(
    "square", "Square",
    tuple(Edge(n, Path.polyline([a, b])) for n, a, b in (("top", 0j, 100 + 0j), ("side", 100 + 0j, 100 + 100j), ("hem", 100 + 100j, 100j), ("centre", 100j, 0j))),
    notches=(Notch("side", 30.0), Notch("hem", 20.0)),
)  # fmt: skip


def test_a_split_keeps_the_run_and_its_length() -> None:
    piece, index = split_edge(SQUARE, 1, 40.0)
    assert [edge.name for edge in piece.edges] == ["top", "side", "side", "hem", "centre"] and index == 2
    assert piece.run_length("side") == 100 and piece.run("side.2")[0].path.length == 60
    assert [name for name, _ in piece.edge_names()] == ["top", "side.1", "side.2", "hem", "centre"]
    assert split_edge(SQUARE, 1, 0.0) == (SQUARE, 1) and split_edge(SQUARE, 1, 100.0) == (SQUARE, 2)


def test_runs_that_are_not_there_are_named() -> None:
    for name in ("sleeve", "side.2", "side.x"):
        with pytest.raises(CaddetError, match="has no edge"):
            SQUARE.run(name)
    with pytest.raises(CaddetError, match="no dart"):
        SQUARE.legs("front_dart")


def test_a_run_that_begins_at_the_end_of_the_list_is_still_in_order() -> None:
    piece, _ = split_edge(SQUARE, 1, 40.0)
    turned = piece.with_edges(piece.edges[2:] + piece.edges[:2])
    assert [edge.path.length for edge in turned.run("side")] == [40, 60]
    assert turned.run_point("side", 50.0)[0] == 100 + 50j


def test_a_run_is_walked_over_its_darts() -> None:
    piece = skirt(school="seat").piece("back")
    assert len(piece.darts) == 2 and len(piece.run("waist")) == 3
    whole = piece.run_length("waist")
    assert abs(piece.run_point("waist", whole)[0] - piece.run("waist")[-1].path.end) < 1e-6
    off, along = piece.nearest_on_run("waist", piece.run_point("waist", whole * 0.7)[0])
    assert off < 1e-3 and along == pytest.approx(whole * 0.7, abs=1e-3)


def test_stretching_blends_lines_and_curves() -> None:
    slanted = Edge("side", Path((Line(0j, 30 + 100j),)))
    longer = stretch_edge(slanted, 50.0, 20.0).path
    assert (longer.start, longer.end) == (0j, 30 + 120j) and len(longer.segments) == 1
    curve = Edge("side", Path((Cubic(0j, 10 + 30j, 30 + 70j, 30 + 100j),)))
    stretched = stretch_edge(curve, 50.0, 20.0).path
    assert (
        stretched.start_direction == curve.path.start_direction and stretched.end_direction == curve.path.end_direction
    )
    arc = Edge("side", Path((Arc(0j, 100.0, 0.0, math.pi / 2),)))
    assert stretch_edge(arc, 50.0, 20.0).path.end == pytest.approx(120j)
    assert stretch_edge(slanted, 200.0, 20.0) == slanted


def test_notches_follow_what_they_mark() -> None:
    lower = SQUARE.each_edge(lambda edge: stretch_edge(edge, 50.0, 20.0))
    after = renotched(SQUARE, lower, lambda p: p + 20j if p.imag > 50 else p)
    assert [notch.at for notch in after.notches] == pytest.approx([30, 20])
    without = SQUARE.with_edges(tuple(edge for edge in SQUARE.edges if edge.name != "hem"))
    assert [notch.run for notch in renotched(SQUARE, without, lambda p: p).notches] == ["side"]


def test_a_mirrored_piece_still_runs_clockwise() -> None:
    from caddet.core.geometry.paths import area

    piece = skirt(school="seat").piece("back")
    flipped = piece.moved(Motion.reflection(0j, 1j))
    assert area(flipped.polygon()) == pytest.approx(area(piece.polygon())) and area(piece.polygon()) > 0
    for run in piece.runs():
        assert flipped.run_length(run) == pytest.approx(piece.run_length(run))
    for notch, other in zip(piece.notches, flipped.notches, strict=True):
        here, there = piece.run_point(notch.run, notch.at)[0], flipped.run_point(other.run, other.at)[0]
        assert there == pytest.approx(complex(-here.real, here.imag), abs=1e-6)
    twice = flipped.moved(Motion.reflection(0j, 1j))
    assert twice.polygon() == pytest.approx(piece.polygon(), abs=1e-9)
    assert Dart("x") == Dart("x", "dart")
