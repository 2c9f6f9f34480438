"""The grain arrow drawn where there is room for it: inside its piece, along the grain, as long as it was if it can be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import shapely

from caddet.core.geometry.paths import contains
from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.pattern.piece import Grain, Piece

TRIED = 21  # places across a piece at which an arrow is tried
MARGIN = 0.06  # of the cloth along the arrow that is left free at both of its ends


def arrow_inside(piece: Piece) -> Piece:
    """The piece with its grain arrow inside the outline; as it is where it lies inside already, or any grain will do."""
    if piece.grain.kind == "any":
        return piece
    outline = piece.polygon(0.5)
    if _lies_in(piece.grain, outline):
        return piece
    return replace(piece, grain=moved_in(piece.grain, outline))


def moved_in(grain: Grain, outline: Sequence[Point]) -> Grain:
    """A grain line moved into an outline, and made shorter where there is no room; as it is when it lies there already."""
    if _lies_in(grain, outline):
        return grain
    along = unit(grain.b - grain.a)
    across = along * 1j
    shape = shapely.Polygon([(p.real, p.imag) for p in outline]).buffer(0)
    offs, ends = [dot(p, across) for p in outline], [dot(p, along) for p in outline]
    middle, wanted = dot((grain.a + grain.b) / 2, across), abs(grain.b - grain.a)
    best: tuple[float, float, Grain] | None = None
    for n in range(TRIED):
        off = min(offs) + (max(offs) - min(offs)) * (n + 0.5) / TRIED
        a, b = (along * end + across * off for end in (min(ends) - 1.0, max(ends) + 1.0))
        hit = shape.intersection(shapely.LineString([(a.real, a.imag), (b.real, b.imag)]))
        for line in getattr(hit, "geoms", [hit]):
            if not isinstance(line, shapely.LineString) or line.is_empty:
                continue
            start, end = (complex(*line.coords[m]) for m in (0, -1))
            room = abs(end - start) * (1 - 2 * MARGIN)
            centre, half = (start + end) / 2, along * min(room, wanted) / 2
            found = (-min(room, wanted), abs(off - middle), replace(grain, a=centre - half, b=centre + half))
            if best is None or found[:2] < best[:2]:
                best = found
    return grain if best is None else best[2]


def _lies_in(grain: Grain, outline: Sequence[Point]) -> bool:
    return all(contains(outline, p) for p in (grain.a, (grain.a + grain.b) / 2, grain.b))
