"""Every block measured a second time by other means: SciPy's quadrature of Bernstein polynomials, shapely's sections.

Nothing here asks Caddet for a length: only for control points, names, and what was promised.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
import shapely.affinity
from numpy.polynomial import Polynomial
from scipy.integrate import quad

from caddet.core.body.known import known_measure
from caddet.core.demo import demo_document
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Across, FromFold, Measurement, Run
from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, pattern_of, whole_bodies

NAMES = sorted(BLOCKS)
PEOPLE = {who.name: who for who in (*demo_document().people, whole_bodies()[238], whole_bodies()[182])}


def length(segment: Line | Cubic | Arc) -> float:
    """The length of a segment from its definition alone."""
    if isinstance(segment, Line):
        return math.dist((segment.start.real, segment.start.imag), (segment.end.real, segment.end.imag))
    if isinstance(segment, Arc):
        return segment.radius * abs(segment.sweep)
    a, b, c, d = segment.start, segment.out, segment.into, segment.end
    curve = [
        Polynomial([p[0], 3 * (p[1] - p[0]), 3 * (p[0] - 2 * p[1] + p[2]), p[3] - 3 * p[2] + 3 * p[1] - p[0]])
        for p in ((a.real, b.real, c.real, d.real), (a.imag, b.imag, c.imag, d.imag))
    ]
    x, y = (one.deriv() for one in curve)
    total, _ = quad(lambda t: math.hypot(x(t), y(t)), 0, 1, epsabs=1e-9, limit=300)
    return float(total)


def run(pattern: Pattern, key: str) -> float:
    """The length of all edges of a key that are no dart's legs, on whatever piece, pleats folded."""
    found = [edge for piece in pattern.pieces for edge in piece.edges if edge.name == key and not edge.dart]
    assert found, key
    folded = 0.0
    for piece in pattern.pieces:
        for pleat in piece.features:
            if pleat.kind == "pleat" and all(getattr(bit.a, "edge", "") == key for bit in pleat.bits):
                path = Path.join(edge.path for edge in found)
                folded += abs(
                    path.nearest(piece.where(pleat.bits[1].a))[1] - path.nearest(piece.where(pleat.bits[0].a))[1]
                )
    return sum(length(segment) for edge in found for segment in edge.path.segments) - folded


def halves(piece: Piece) -> int:
    """How many of a piece go round the body: two of a pair or of a half on the fold."""
    return 2 if piece.pair or any(edge.finish == "fold" for edge in piece.edges) else 1


def measured(pattern: Pattern, term: Measurement) -> float:
    """A promise's measurement taken again, by quadrature along the curves and by shapely across the cloth."""
    if isinstance(term, Run):
        owner = next(p for p in pattern.pieces if any(e.name == term.ref.name for e in p.edges))
        return term.times * run(pattern, term.ref.name) * (halves(owner) if term.worn else 1)
    if isinstance(term, Across):
        feature = pattern.piece(term.piece).feature(term.feature)
        assert feature is not None
        ends = [
            (pattern.piece(term.piece).where(bit.a), pattern.piece(term.piece).where(bit.b)) for bit in feature.bits
        ]
        return term.times * sum(abs(q - p) for p, q in ends)
    if isinstance(term, FromFold):
        piece = pattern.piece(term.piece)
        fold = next(edge.path for edge in piece.edges if edge.finish == "fold")
        line = shapely.LineString([(fold.start.real, fold.start.imag), (fold.end.real, fold.end.imag)])
        middle = shapely.affinity.scale(line, 50, 50)
        at = piece.where(term.spot)
        return 2 * term.times * float(middle.distance(shapely.Point(at.real, at.imag)))
    total = 0.0
    for piece in pattern.pieces:
        for level in (f for f in piece.features if f.kind == "level" and f.name.endswith(f".{term.level}")):
            a, b = piece.where(level.bits[0].a), piece.where(level.bits[-1].b)
            line = shapely.LineString([(a.real, a.imag), (b.real, b.imag)])
            ring = shape(piece).exterior
            assert max(ring.distance(shapely.Point(p.real, p.imag)) for p in (a, b)) < 0.06, "from outline to outline"
            width = float(line.length)
            for dart in (f for f in piece.features if f.kind == "contour_dart"):
                corners = [piece.where(bit.a) for bit in dart.bits]
                width -= float(line.intersection(shapely.Polygon([(p.real, p.imag) for p in corners])).length)
            total += halves(piece) * width
    return term.times * total


def shape(piece: Piece) -> shapely.Polygon:
    return shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])


def width(pattern: Pattern, piece: str, at: float) -> float:
    """How wide a piece is across the grain at a height."""
    cut = shape(pattern.piece(piece)).intersection(shapely.LineString([(-3000, at), (3000, at)]))
    return float(cut.length)


@pytest.mark.parametrize("who", PEOPLE)
@pytest.mark.parametrize("name", NAMES)
def test_promises_hold_when_measured_again(name: str, who: str) -> None:
    pattern = pattern_of(drafted(name, PEOPLE[who]))
    for promise in pattern.promises:
        total = sum(measured(pattern, one) for one in promise.of)
        if promise.kind == "least":
            assert total >= promise.target - 0.2, promise.label
        else:
            within = max(0.2, promise.tolerance)  # a recipe of one's own says how nearly it is meant
            assert total == pytest.approx(promise.target, abs=within), promise.label


@pytest.mark.parametrize("who", PEOPLE)
@pytest.mark.parametrize("name", NAMES)
def test_seams_meet_when_measured_again(name: str, who: str) -> None:
    pattern = pattern_of(drafted(name, PEOPLE[who]))
    for seam in pattern.seams:
        a, b = (sum(run(pattern, part.ref.name) for part in layer) for layer in seam.layers)
        if seam.kind in ("eased", "pleated"):
            wanted = a + seam.amount
        elif seam.kind in ("gathered", "stretched"):
            wanted = a * seam.amount
        else:
            wanted = a
        assert b == pytest.approx(wanted, abs=seam.tolerance + 1e-6), seam.label


@pytest.mark.parametrize("name", NAMES)
def test_outlines_are_rounds_and_their_areas_agree(name: str) -> None:
    """Edges join end to end; the area inside by Green's theorem on the exact curves is shapely's."""
    for piece in pattern_of(drafted(name)).pieces:
        segments = [segment for edge in piece.edges for segment in edge.path.segments]
        for before, after in zip(segments, [*segments[1:], segments[0]], strict=True):
            assert abs(before.end - after.start) < 1e-6, piece.name
        nodes, weights = np.polynomial.legendre.leggauss(24)
        total = 0.0
        for segment in segments:
            for node, weight in zip(nodes, weights, strict=True):
                t = (node + 1) / 2
                point, speed = segment.point(t), (segment.point(t + 1e-6) - segment.point(t - 1e-6)) / 2e-6
                total += weight / 4 * (point.real * speed.imag - point.imag * speed.real)
        assert abs(total) == pytest.approx(shape(piece).area, rel=2e-3), piece.name
        assert total > 0, f"{piece.name} runs clockwise on the table"


@pytest.mark.parametrize("more", [20.0, 60.0])
@pytest.mark.parametrize("school", ["quarters", "proportion"])
def test_ease_at_the_bust_is_added_to_the_cloth(school: str, more: float) -> None:
    """A bodice grows along its bust line, front and back, left and right, by what is added at the bust."""

    def girth(ease: float) -> float:
        pattern = pattern_of(drafted("bodice.darted", ease={"bust": ease}, school=school))
        found = 0.0
        for side in ("front", "back"):
            line = pattern.piece(side).feature("bust")
            assert line is not None
            found += 2 * pattern.piece(side).where(line.bits[-1].b).real
        return found

    assert girth(80.0 + more) - girth(80.0) == pytest.approx(more, abs=0.01)


@pytest.mark.parametrize("who", ["Odile", "Ishbel", "Wren", "body-474", "body-370"])
@pytest.mark.parametrize("ease", [10.0, 40.0, 90.0])
def test_a_skirt_is_as_wide_at_the_hip_as_hip_and_ease(who: str, ease: float) -> None:
    made = drafted("skirt.straight", PEOPLE[who], ease={"hip": ease})
    pattern = pattern_of(made)
    low = made.sums["hip_depth"].value + 5
    girth = 2 * (width(pattern, "front", low) + width(pattern, "back", low))
    assert girth == pytest.approx(PEOPLE[who].measures["hip"] + _grown(who) + ease, abs=2.0)


def _grown(who: str) -> float:
    what = known_measure(PEOPLE[who], "hip")
    return what.growth if what is not None else 0.0


@pytest.mark.parametrize("name", ["top.knit", "top.raglan"])
@pytest.mark.parametrize("more", [15.0, 50.0])
def test_more_ease_makes_a_top_wider_by_as_much(name: str, more: float) -> None:
    """Below the underarm a top grows by the ease that is added, measured across the cloth by shapely."""

    def girth(ease: float) -> float:
        made = drafted(name, ease={"bust": ease})
        pattern = pattern_of(made)
        sides = [pattern.piece(side) for side in ("front", "back")]
        tops = [min(edge.path.start.imag for edge in piece.run("side")) for piece in sides]
        lows = [min(edge.path.end.imag for edge in piece.run("side")) for piece in sides]
        at = [min(top, low) + 1.0 for top, low in zip(tops, lows, strict=True)]
        return 2 * sum(width(pattern, piece.name, level) for piece, level in zip(sides, at, strict=True))

    assert girth(60.0 + more) - girth(60.0) == pytest.approx(more, abs=3.0)


def test_a_quarter_of_any_ring_has_the_area_of_the_ring() -> None:
    """Exact geometry: π(R² − r²) times the fraction, for every fraction."""
    for fraction in (0.25, 0.5, 0.75, 1.0):
        made = drafted("skirt.circle", fraction=fraction)
        piece = next(p for p in pattern_of(made).pieces if p.name == "skirt")
        arcs = sorted(
            (s.radius for edge in piece.edges for s in edge.path.segments if isinstance(s, Arc)), key=lambda r: r
        )
        inner, outer = arcs[0], arcs[-1]
        whole = shape(piece).area * piece.cut * (2 if any(edge.finish == "fold" for edge in piece.edges) else 1)
        assert whole == pytest.approx(fraction * math.pi * (outer**2 - inner**2), rel=2e-3)
        assert fraction * 2 * math.pi * inner == pytest.approx(made.sums["seam_round"].value, abs=0.1)
