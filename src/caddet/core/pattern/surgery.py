"""Operations on a piece's outline that several steps share. All give new pieces."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion, Point, Segment
from caddet.core.pattern.piece import Edge, Notch, Piece


def split_edge(piece: Piece, index: int, at: float) -> tuple[Piece, int]:
    """Split one edge in two of the same name at a distance along it.

    Gives the piece and the index of the edge that now begins there; at an end nothing is split.
    """
    edge = piece.edges[index]
    before, after = edge.path.split_at(at)
    if before is None:
        return piece, index
    if after is None:
        return piece, (index + 1) % len(piece.edges)
    parts = (edge.with_path(before), edge.with_path(after))
    return piece.with_edges((*piece.edges[:index], *parts, *piece.edges[index + 1 :])), index + 1


def renotched(before: Piece, after: Piece, move: Callable[[Point], Point]) -> Piece:
    """Carry the notches of ``before`` over to the changed runs of ``after``.

    ``move`` says where a point of the outline went. A notch whose run is gone is dropped.
    """
    kept: list[Notch] = []
    runs = set(after.runs())
    for notch in before.notches:
        if notch.run in runs:
            point, _, _ = before.run_point(notch.run, notch.at)
            _, along = after.nearest_on_run(notch.run, move(point))
            kept.append(replace(notch, at=along))
    return replace(after, notches=tuple(kept))


def stretch_edge(edge: Edge, level: float, amount: float) -> Edge:
    """An edge whose part below ``level`` moves down by ``amount`` mm.

    A straight segment that crosses the level is redrawn straight, a curve keeps both its end
    directions: the sides are blended, no jog is left.
    """

    def move(point: Point) -> Point:
        return point + complex(0, amount) if point.imag > level else point

    segments: list[Segment] = []
    for segment in edge.path.segments:
        low, high = sorted((segment.start.imag, segment.end.imag))
        if high <= level:
            segments.append(segment)
        elif low > level:
            segments.append(segment.moved(Motion.translation(complex(0, amount))))
        else:
            segments.extend(_blended(part, move) for part in _plain(segment))
    return edge.with_path(Path(tuple(segments)))


def _plain(segment: Segment) -> list[Line | Cubic]:
    return list(segment.cubics()) if isinstance(segment, Arc) else [segment]


def _blended(part: Line | Cubic, move: Callable[[Point], Point]) -> Segment:
    start, end = move(part.start), move(part.end)
    if isinstance(part, Line):
        return Line(start, end)
    return Cubic(start, part.out + start - part.start, part.into + end - part.end, end)
