"""Points as places on an outline, so that they go where the outline goes."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Line, Point, Segment
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, End, Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece

ON_OUTLINE = 0.05  # mm within which the end of a line lies on the outline
_Box = tuple[float, float, float, float]


def _boxes(piece: Piece) -> list[tuple[Edge, Segment, float, _Box]]:
    """Every segment of the outline but those of darts: its edge, how far along that it begins, and a box that holds it."""
    found: list[tuple[Edge, Segment, float, _Box]] = []
    for edge in piece.edges:
        passed = 0.0
        for segment in edge.path.segments if not edge.dart else ():
            if isinstance(segment, Arc):
                c, r = segment.centre, segment.radius
                box = (c.real - r, c.imag - r, c.real + r, c.imag + r)
            else:
                inner = () if isinstance(segment, Line) else (segment.out, segment.into)
                xs, ys = zip(*((p.real, p.imag) for p in (segment.start, *inner, segment.end)), strict=True)
                box = (min(xs), min(ys), max(xs), max(ys))
            found.append((edge, segment, passed, box))
            passed += segment.length
    return found


def place_on(piece: Piece, point: Point) -> End:
    """A point as a place on the outline when it lies on it, else as it is."""
    x, y = point.real, point.imag
    best: tuple[float, Spot] | None = None
    for edge, segment, passed, (left, top, right, bottom) in piece.kept("boxes", lambda: _boxes(piece)):
        if not (left - ON_OUTLINE <= x <= right + ON_OUTLINE and top - ON_OUTLINE <= y <= bottom + ON_OUTLINE):
            continue
        if abs(segment.start - point) < 1e-9:
            off, along = 0.0, 0.0
        elif abs(segment.end - point) < 1e-9:
            off, along = 0.0, segment.length
        else:
            off, along = Path((segment,)).nearest(point)
        if off <= ON_OUTLINE and (best is None or off < best[0] - 1e-6):
            best = off, Spot(edge.name, edge.u_at((passed + along) / edge.path.length))
            if off < 1e-9:
                break
    return best[1] if best is not None else point


def anchored(pattern: Pattern) -> Pattern:
    """The pattern with the ends of its figures' lines held by the edges they lie on. Done before a step changes edges."""
    if pattern.anchored:
        return pattern
    return replace(pattern, pieces=tuple(_anchored(piece) for piece in pattern.pieces), anchored=True)


def _anchored(piece: Piece) -> Piece:
    if all(isinstance(end, Spot) for line in piece.figures for end in (line.bit.a, line.bit.b)):
        return piece
    lines = [replace(line, bit=Bit(*(_held(piece, end) for end in (line.bit.a, line.bit.b)))) for line in piece.figures]
    return replace(piece, figures=tuple(lines))


def _held(piece: Piece, end: End) -> End:
    return end if isinstance(end, Spot) else place_on(piece, end)
