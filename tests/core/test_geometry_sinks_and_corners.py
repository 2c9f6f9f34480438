"""Sinks, corners and surgery on outlines."""

from __future__ import annotations

import cmath
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.finishing.corners import Side, corner, dart_cap
from caddet.core.geometry.meeting import meet, reach_end, reach_start
from caddet.core.geometry.offset import offset_path, smooth_parts
from caddet.core.geometry.paths import Path, arcs_as_cubics, assert_paths_close
from caddet.core.geometry.segments import Arc, Cubic, Line, Point
from caddet.core.geometry.sinks import SvgPath, draw


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
