"""A line drawing of the garment, front and back, made from the pattern's own pieces.

Each piece is laid on the body as the block says (:class:`Shown`), its darts closed by taking their width out level
by level, and mirrored to the other side. So the drawing has the proportions of what will be sewn, lying flat.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from shapely.affinity import affine_transform

from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.ids import on_other_side, reference
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.piece import Piece

View = Literal["front", "back"]
FINE = 1.0  # mm, for drawing only
FAR = 20_000.0
SHOWN_LINES = ("contour_dart", "pleat", "fold_line", "placement", "buttonhole", "button")
ROUNDS = 1.7  # a dart takes its width out in a curve, so that the side is round where it ends


@dataclass(frozen=True, slots=True)
class LineDrawing:
    """Closed shapes from the furthest to the nearest, and lines upon them. Points in mm, the body's middle at x = 0."""

    shapes: tuple[tuple[Point, ...], ...]
    lines: tuple[tuple[Point, ...], ...]

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom; all 0 when there is nothing."""
        points = [point for shape in self.shapes for point in shape]
        if not points:
            return 0.0, 0.0, 0.0, 0.0
        xs, ys = [p.real for p in points], [p.imag for p in points]
        return min(xs), min(ys), max(xs), max(ys)


@dataclass(frozen=True, slots=True)
class _Closing:
    """How one dart is closed in the drawing; what lies beyond it, away from the centre (an x), moves."""

    apex: Point
    first: Point
    second: Point
    centre: float

    @property
    def upright(self) -> bool:
        mouth = self.second - self.first
        return abs(mouth.real) >= abs(mouth.imag)

    def __call__(self, point: Point) -> Point:
        middle = (self.first + self.second) / 2
        if self.upright:
            share = (
                min(max((point.imag - self.apex.imag) / (middle.imag - self.apex.imag), 0.0), 1.0)
                if middle.imag != self.apex.imag
                else 0.0
            )
            line = self.apex.real + (middle.real - self.apex.real) * share
            width = abs(self.second.real - self.first.real) * share**ROUNDS
            if self.centre > middle.real:
                return point + width if point.real < line - 1e-6 and share > 0 else point
            return point - width if point.real > line + 1e-6 and share > 0 else point
        reach = middle.real - self.apex.real
        share = min(max((point.real - self.apex.real) / reach, 0.0), 1.0) if reach else 0.0
        line = self.apex.imag + (middle.imag - self.apex.imag) * share
        if point.imag <= line + 1e-6 or share <= 0:
            return point
        return point - 1j * abs(self.second.imag - self.first.imag) * share


def _flat(piece: Piece) -> tuple[shapely.Polygon, list[list[Point]], list[Point]]:
    """The piece with its darts closed, its darts as lines, and its waist."""
    centre = 2 * piece.centre_x if on_other_side(piece.made) else 0.0  # where the middle of the body is in its frame
    closings = []
    for dart in piece.darts:
        _, a, apex, b = piece.legs(dart.id)
        closings.append(_Closing(apex, a, b, centre))
    # the far darts first, so that each is still where it was drawn when it is closed
    closings.sort(key=lambda c: (not c.upright, -abs(c.apex.real - centre)))

    def closed(point: Point) -> Point:
        for closing in closings:
            point = closing(point)
        return point

    points = [closed(p) for edge in piece.edges if not edge.dart for p in (edge.path.start, *edge.path.flattened(FINE))]
    lines = [[closed(c.first), closed(c.apex)] for c in closings]
    lines += [
        [closed(p) for p in path.flattened(FINE)]
        for feature in piece.features
        if feature.kind in SHOWN_LINES or feature.name.endswith((".slit", "slit_line"))
        for path in piece.drawn(feature)
    ]
    shape = shapely.Polygon([(p.real, p.imag) for p in points])
    # of a piece that was unfolded, both halves
    waist = [
        closed(p)
        for edge in piece.edges
        if not edge.dart and edge.name.rstrip("'").endswith(".waist")
        for p in (edge.path.start, *edge.path.flattened(FINE))
    ]
    return (shape if shape.is_valid else shape.buffer(0)), lines, waist


def _moved(motion: Motion) -> list[float]:
    """A motion as the six numbers of an affine map."""
    t, s = motion.turn, motion.shift
    sign = -1.0 if motion.mirror else 1.0
    return [t.real, -t.imag * sign, t.imag, t.real * sign, s.real, s.imag]


def _rings(shape: shapely.Geometry) -> list[tuple[Point, ...]]:
    parts = getattr(shape, "geoms", [shape])
    return [
        tuple(complex(x, y) for x, y in part.exterior.coords)
        for part in parts
        if part.geom_type == "Polygon" and not part.is_empty
    ]


_ACROSS = [-1.0, 0.0, 0.0, 1.0, 0.0, 0.0]


def line_drawing(pattern: Pattern, view: View) -> LineDrawing:
    """The garment from the front or the back; empty when the block shows nothing from there."""
    shapes: list[tuple[Point, ...]] = []
    lines: list[tuple[Point, ...]] = []
    for shown in pattern.shown:
        if shown.view == view:
            for piece in pattern.pieces_meant(reference(shown.piece)):
                _add(piece, shown, shapes, lines, _band_depth(pattern))
    return LineDrawing(tuple(shapes), tuple(lines))


def _band_depth(pattern: Pattern) -> float:
    """How deep the finished waistband is that is sewn to a waist, in mm; 0 without one."""
    if not pattern.has("waistband"):
        return 0.0
    band = pattern.piece("waistband")
    _, top, _, bottom = band.outline().bounds()
    return (bottom - top) / (2 if band.feature("band_fold") else 1)


def _plumb(seam: list[Point]) -> Callable[[Point], Point]:
    """Makes half a leg's centre seam upright: worn, both halves meet along it. Points in the body's frame, x from 0 on."""
    places = sorted((point.imag, max(point.real, 0.0)) for point in seam)
    ys, xs = [y for y, _ in places], [x for _, x in places]
    return lambda point: point - float(np.interp(point.imag, ys, xs))


def _add(
    piece: Piece, shown: Shown, shapes: list[tuple[Point, ...]], lines: list[tuple[Point, ...]], band: float
) -> None:
    flat: shapely.Geometry
    flat, marks, waist = _flat(piece)
    if shown.clip is not None:
        low, high = shown.clip
        flat = flat.intersection(shapely.box(low, -FAR, high, FAR))
        marks = [mark for mark in marks if all(low <= point.real <= high for point in mark)]
        waist = [point for point in waist if low - 1 <= point.real <= high + 1]
    shape = affine_transform(affine_transform(flat, _moved(shown.motion)), [shown.squeeze, 0.0, 0.0, 1.0, 0.0, 0.0])
    rings = _rings(shape)
    placed = [[_squeezed(shown, point) for point in mark] for mark in marks]
    edge = [_squeezed(shown, point) for point in waist]
    seam = [
        _squeezed(shown, point)
        for run in piece.runs()
        for edge_ in piece.run(run)
        if "crotch" in run and shown.clip is not None
        for point in edge_.path.flattened(FINE)
        if shown.clip[0] - 1 <= point.real <= shown.clip[1] + 1
    ]
    if piece.pair and seam:
        plumb = _plumb(seam)
        rings = [tuple(plumb(p) for p in _finely(ring)) for ring in rings]
        placed, edge = [[plumb(p) for p in mark] for mark in placed], [plumb(p) for p in edge]
    if piece.fold and shown.both:
        whole = shapely.union(shape, affine_transform(shape, _ACROSS).buffer(0)).buffer(0.4).buffer(-0.4)
        rings = _rings(whole)
        edge += [complex(-p.real, p.imag) for p in edge]
    edge.sort(key=lambda p: p.real)
    if band and len(edge) > 1:
        rings.append((*edge, *(p - 1j * band for p in reversed(edge))))
    shapes += rings
    if shown.both and not piece.fold:
        shapes += [tuple(complex(-p.real, p.imag) for p in ring) for ring in rings]
    for mark in placed:
        lines.append(tuple(mark))
        if shown.both:
            lines.append(tuple(complex(-p.real, p.imag) for p in mark))


def _finely(ring: tuple[Point, ...]) -> list[Point]:
    """A ring with points at most 12 mm apart."""
    line = shapely.segmentize(shapely.LineString([(p.real, p.imag) for p in ring]), 12.0)
    return [complex(x, y) for x, y in line.coords]


def _squeezed(shown: Shown, point: Point) -> Point:
    moved = shown.motion(point)
    return complex(moved.real * shown.squeeze, moved.imag)
