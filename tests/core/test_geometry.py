from __future__ import annotations

import cmath
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.errors import CaddetError
from caddet.core.geometry.flare import flare_side
from caddet.core.geometry.offset import left_of, offset_path
from caddet.core.geometry.paths import Path, area, assert_paths_close, contains
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion, Segment, dot
from tests.making import shapes

SHAPES = list(shapes().items())
coordinate = st.floats(-500, 500, allow_nan=False)
point = st.builds(complex, coordinate, coordinate)


@pytest.mark.parametrize(("name", "segment"), SHAPES)
@pytest.mark.parametrize("t", [0.1, 0.5, 0.93])
def test_a_split_keeps_the_curve_and_its_length(name: str, segment: Segment, t: float) -> None:
    first, second = segment.split(t)
    assert abs(first.end - segment.point(t)) < 1e-7 and abs(second.start - segment.point(t)) < 1e-7
    assert first.length + second.length == pytest.approx(segment.length, abs=1e-5)
    assert abs(second.point(0.5) - segment.point(t + (1 - t) / 2)) < 1e-6


@pytest.mark.parametrize(("name", "segment"), SHAPES)
def test_turned_round_it_is_the_same_curve(name: str, segment: Segment) -> None:
    back = segment.reversed()
    assert abs(back.start - segment.end) < 1e-9 and abs(back.point(0.3) - segment.point(0.7)) < 1e-7
    assert back.length == pytest.approx(segment.length)


@pytest.mark.parametrize(("name", "segment"), SHAPES)
def test_flattening_strays_less_than_it_may(name: str, segment: Segment) -> None:
    points = [segment.start, *segment.flattened(0.05)]
    chain = Path.polyline(points) if len(points) > 1 else None
    assert chain is not None and points[-1] == segment.end
    for i in range(41):
        assert chain.nearest(segment.point(i / 40))[0] <= 0.0501


@pytest.mark.parametrize(("name", "segment"), SHAPES)
def test_the_place_at_a_length_is_that_far_along(name: str, segment: Segment) -> None:
    for share in (0.0, 0.2, 0.71, 1.0):
        t = segment.at_length(segment.length * share)
        assert (segment.split(t)[0].length if 0 < t < 1 else t * segment.length) == pytest.approx(
            segment.length * share, abs=1e-5
        )


@pytest.mark.parametrize(("name", "segment"), SHAPES)
def test_a_rigid_movement_keeps_lengths_and_mirrors_curvature(name: str, segment: Segment) -> None:
    for motion in (Motion.rotation(1.1, 5 + 2j), Motion.translation(3 - 9j), Motion.reflection(1j, 5 + 3j)):
        moved = segment.moved(motion)
        assert moved.length == pytest.approx(segment.length, abs=1e-6)
        assert abs(moved.point(0.4) - motion(segment.point(0.4))) < 1e-7
        sign = -1 if motion.mirror else 1
        assert moved.curvature(0.4) == pytest.approx(sign * segment.curvature(0.4), abs=1e-9)


@given(point, point, st.floats(-3, 3), point)
def test_movements_compose(a: complex, b: complex, angle: float, z: complex) -> None:
    if abs(a - b) < 1e-3:
        return
    first, second = Motion.reflection(a, b), Motion.rotation(angle, b)
    assert abs(second.after(first)(z) - second(first(z))) < 1e-6
    assert abs(first.after(first)(z) - z) < 1e-6


@given(point, point, point, point, point)
def test_nearest_is_not_farther_than_any_sample(a: complex, b: complex, c: complex, d: complex, z: complex) -> None:
    path = Path((Cubic(a, b, c, d),))
    off, along = path.nearest(z)
    assert abs(path.point_at(along) - z) == pytest.approx(off, abs=0.01)
    assert all(off <= abs(path.segments[0].point(i / 64) - z) + 0.6 for i in range(65))


def test_crossings_of_a_line_are_on_both() -> None:
    path = Path(
        (Cubic(0j, 50 + 100j, 60 - 100j, 120 + 0j), Line(120 + 0j, 200 + 40j), Arc(200 + 90j, 50.0, -math.pi / 2, 1.5))
    )
    for a, b in ((0 + 5j, 300 + 5j), (100 - 200j, 100 + 200j)):
        found = path.crossings(a, b)
        assert found
        for along, at in found:
            assert abs(path.point_at(along) - at) < 1e-5
            assert abs(dot(at - a, (b - a) * 1j)) / abs(b - a) < 1e-6


def test_splitting_a_path_at_its_ends_leaves_nothing_over() -> None:
    path = Path.polyline([0j, 10 + 0j, 10 + 10j])
    assert path.split_at(0)[0] is None and path.split_at(20)[1] is None
    first, second = path.split_at(10)
    assert first is not None and second is not None and first.end == 10 + 0j == second.start
    middle = path.between(5, 15)
    assert middle is not None and middle.length == pytest.approx(10)
    with pytest.raises(CaddetError):
        Path(())


@pytest.mark.parametrize("distance", [15.0, 40.0, -12.0])
def test_a_parallel_curve_keeps_its_distance(distance: float) -> None:
    path = Path((Cubic(0j, 60 - 10j, 140 - 30j, 200 - 34j), Line(200 - 34j, 260 - 36j)))
    other = offset_path(path, distance)
    assert other is not None
    for i in range(1, 60):
        off, _ = path.nearest(other.point_at(other.length * i / 60))
        assert off == pytest.approx(abs(distance), abs=0.05)
    side = dot(
        other.point_at(100) - path.point_at(path.nearest(other.point_at(100))[1]), left_of(path.direction_at(100))
    )
    assert math.copysign(1, side) == math.copysign(1, distance)


def test_a_parallel_arc_is_exact_and_vanishes_inside_its_centre() -> None:
    arc = Path((Arc(0j, 30.0, 0.0, 1.0),))
    wider = offset_path(arc, 10)
    assert wider is not None and isinstance(wider.segments[0], Arc) and wider.segments[0].radius == 40
    assert offset_path(arc.reversed(), 40) is None


def test_polygons() -> None:
    square = [0j, 10 + 0j, 10 + 10j, 10j]
    assert area(square) == 100 and area(square[::-1]) == -100
    assert contains(square, 5 + 5j) and not contains(square, 15 + 5j)
    with pytest.raises(AssertionError):
        assert_paths_close(Path.polyline([0j, 10 + 0j]), Path.polyline([1j, 10 + 1j]), 0.5)


@pytest.mark.parametrize("amount", [5.0, 40.0, 150.0, 250.0])
@pytest.mark.parametrize("lean", [0.0, 0.12, -0.1])
def test_a_flared_side_is_smooth_and_meets_the_hem_square(amount: float, lean: float) -> None:
    hinge, corner = 250 + 200j, 250 + 600j
    flared = flare_side(hinge, complex(math.sin(lean), math.cos(lean)), corner, amount)
    assert flared is not None
    assert flared.side.end.real - corner.real == pytest.approx(amount, abs=1e-6)
    assert abs(flared.hem_arc.start - flared.side.end) < 1e-6
    assert abs(dot(flared.side.end_direction, flared.hem_arc.direction(0))) < 1e-6
    assert flared.hem_arc.end.imag == pytest.approx(600, abs=1e-6)
    for before, after in zip(flared.side.segments, flared.side.segments[1:], strict=False):
        assert abs(cmath.phase(after.direction(0) / before.direction(1))) < 1e-6


def test_a_flare_beyond_reason_is_refused() -> None:
    assert flare_side(0j, 1j, 400j, 0.0) is None
    with pytest.raises(CaddetError, match="60°"):
        flare_side(0j, 1j, 400j, 5000.0)
