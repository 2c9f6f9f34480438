"""Geometry against SciPy's quadrature, shapely's areas, and exact facts (rows 51 and 52 of the check values)."""

from __future__ import annotations

import math

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from caddet.core.geometry.paths import Path
from caddet.core.geometry.paths import area as polygon_area
from caddet.core.geometry.segments import Arc, Cubic
from tests.making import made, polygon, shapes, skirt


def by_quadrature(curve: Cubic) -> float:
    total, _ = quad(lambda t: abs(curve.velocity(t)), 0, 1, epsabs=1e-10, epsrel=1e-12, limit=400)
    return float(total)


@pytest.mark.parametrize("curve", [s for s in shapes().values() if isinstance(s, Cubic)])
def test_arc_length_of_chosen_curves_to_a_millionth_of_a_millimetre(curve: Cubic) -> None:
    assert curve.length == pytest.approx(by_quadrature(curve), abs=1e-6)


coordinate = st.floats(-400, 400, allow_nan=False)
point = st.builds(complex, coordinate, coordinate)


@settings(max_examples=80, deadline=None)
@given(point, point, point, point)
def test_arc_length_of_any_curve(a: complex, b: complex, c: complex, d: complex) -> None:
    curve = Cubic(a, b, c, d)
    assert curve.length == pytest.approx(by_quadrature(curve), abs=2e-4, rel=1e-6)


def test_arc_length_of_every_curve_of_a_skirt() -> None:
    for piece in skirt(school="seat", flare=60.0).pieces:
        for segment in piece.outline().segments:
            if isinstance(segment, Cubic):
                assert segment.length == pytest.approx(by_quadrature(segment), abs=1e-6)


def test_row_52_a_quarter_circle_as_one_cubic() -> None:
    """Exact: the radial error of the usual cubic is at most 0.03 %."""
    (curve,) = Arc(0j, 100.0, 0.0, math.pi / 2).cubics()
    worst = max(abs(abs(curve.point(i / 1000)) - 100) for i in range(1001))
    assert worst / 100 <= 0.0003
    assert len(Arc(0j, 1.0, 0.0, math.tau).cubics()) == 4


def test_row_51_the_area_of_a_ring() -> None:
    """Exact: π(R² − r²). The ring of a full-circle skirt, by our arcs and shapely's area."""
    outer, inner = 900.0, 120.0
    ring = shapely.Polygon(
        [(p.real, p.imag) for p in Path((Arc(0j, outer, 0.0, math.tau),)).flattened(1e-5)],
        [[(p.real, p.imag) for p in Path((Arc(0j, inner, 0.0, math.tau),)).flattened(1e-5)]],
    )
    assert ring.area == pytest.approx(math.pi * (outer**2 - inner**2), rel=1e-6)


def test_areas_and_validity_agree_with_shapely() -> None:
    for cut in made(school="seat", flare=50.0).cut:
        for points in (cut.piece.polygon(), cut.polygon()):
            shape = polygon(points)
            assert shape.is_valid
            assert polygon_area(points) == pytest.approx(shape.area, rel=1e-9)
            assert polygon_area(points) > 0, "outlines run clockwise on the table"


@pytest.mark.parametrize("distance", [10.0, 15.0, 40.0])
def test_the_cut_line_agrees_with_a_buffered_polygon(distance: float) -> None:
    """shapely's mitred buffer of the stitch outline, away from darts and corners."""
    from caddet.core.finishing.finish import finish_piece
    from caddet.core.recipe.choices import Finishing

    piece = skirt(flare=60.0).piece("front")
    cut = finish_piece(piece, Finishing(seam=distance, hem=distance))
    ring = polygon(piece.polygon()).buffer(distance, join_style="mitre").exterior
    for run in ("side", "hem"):
        for share in (0.2, 0.4, 0.6, 0.8):
            at, direction, _ = piece.run_point(run, piece.run_length(run) * share)
            there = at - direction * 1j * distance
            assert ring.distance(shapely.Point(there.real, there.imag)) < 0.1
            assert cut.cut.nearest(there)[0] < 0.05
