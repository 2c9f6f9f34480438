"""The verb that lengthens: everything below a level line moves, and the sides are blended."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion, Point, Segment, unit
from caddet.core.pattern.carrying import Part, taken_along
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.surgery import sound
from caddet.core.sentences import say

SMOOTH = 0.02  # between two unit directions (about a degree): the line runs on


def let_down(piece: Piece, level: float, amount: float) -> Piece:
    """One piece made longer (or shorter) by ``amount`` mm at ``level`` mm below the zero of its frame.

    Edges that cross the line are drawn anew without a jog; places on them stay where they were on either side of
    it. Raises :class:`Refused` when the line runs through a dart, the hem or a fold across, or outside the piece.
    """
    words = piece.label.lower()
    heights = [point.imag for point in piece.polygon()]
    if not min(heights) < level < max(heights):
        raise Refused(say("the line lies outside the {words}", words=words), "at")
    for dart in piece.darts:
        _, a, apex, b = piece.legs(dart.id)
        if min(p.imag for p in (a, apex, b)) < level < max(p.imag for p in (a, apex, b)):
            raise Refused(
                say("the line runs through the {label}: choose a place above or below it", label=dart.label), "at"
            )
    crossed = [edge for edge in piece.edges if _crosses(edge, level)]
    if any(edge.finish in ("hem", "casing") for edge in crossed):
        raise Refused("the line runs through the hem: choose a place above it", "at")
    if len(crossed) != 2:
        raise Refused(say("the line does not cross the {words} from side to side there", words=words), "at")
    lower = [
        point.imag
        for edge in piece.edges
        if edge.path.bounds()[1] >= level
        for point in (edge.path.start, edge.path.end)
    ]
    room = min(lower, default=max(heights)) - level
    if amount <= -room:
        raise Refused("it can't be shortened by more than there is below the line", "amount")
    down = Motion.translation(complex(0, amount))

    edges = [_stretched(piece, index, level, amount) for index in range(len(piece.edges))]
    below = Part(lambda point: point.imag > level, down)
    return sound(taken_along(piece, edges, [below], across="stretched"))


def _crosses(edge: Edge, level: float) -> bool:
    _, top, _, bottom = edge.path.bounds()
    return top < level < bottom


def _stretched(piece: Piece, index: int, level: float, amount: float) -> Edge:
    """An edge whose part below a level moved down. What crosses it keeps the direction of each end where the line
    runs on smoothly there; straight from corner to corner it stays straight."""
    edge = piece.edges[index]
    before, after = _runs_on(piece, index)

    def move(point: Point) -> Point:
        """A point below the level moved down."""
        return point + complex(0, amount) if point.imag > level else point

    segments: list[Segment] = []
    whole = edge.path.segments
    for number, segment in enumerate(whole):
        low, high = sorted((segment.start.imag, segment.end.imag))
        if high <= level:
            segments.append(segment)
        elif low > level:
            segments.append(segment.moved(Motion.translation(complex(0, amount))))
        else:
            first = whole[number - 1].direction(1.0) if number else before
            then = whole[number + 1].direction(0.0) if number + 1 < len(whole) else after
            segments.extend(_blended(part, move, first, then) for part in _plain(segment))
    path = Path(tuple(segments))
    cuts = edge.path.crossings(complex(-1e5, level), complex(1e5, level))
    if path == edge.path or not cuts or not _crosses(edge, level):
        return edge.with_path(path)
    at, old, new = cuts[0][0], edge.path.length, path.length
    if amount >= 0:
        shares = [(at / old, min(at / new, 1.0)), (at / old, max(1 - (old - at) / new, at / new))]
    else:
        at = min(at, new)  # the cloth between is folded away at the line
        shares = [(at / old, at / new), (min((at + old - new) / old, 1.0), at / new)]
    inner = tuple((share, edge.u_at(was)) for was, share in shares)
    return replace(edge, path=path, pairs=(edge.pairs[0], *inner, edge.pairs[-1]))


def _plain(segment: Segment) -> list[Line | Cubic]:
    return list(segment.cubics()) if isinstance(segment, Arc) else [segment]


def _runs_on(piece: Piece, index: int) -> tuple[Point | None, Point | None]:
    """The directions of the outline before and after an edge, where the edge beside it is of the same run."""
    edge, count = piece.edges[index], len(piece.edges)
    before, after = piece.edges[index - 1], piece.edges[(index + 1) % count]
    return (
        before.path.end_direction if before.name == edge.name and not before.dart else None,
        after.path.start_direction if after.name == edge.name and not after.dart else None,
    )


def _blended(part: Line | Cubic, move: Callable[[Point], Point], before: Point | None, after: Point | None) -> Segment:
    """What crosses the level between its moved ends."""
    start, end = move(part.start), move(part.end)
    if isinstance(part, Cubic):
        return Cubic(start, part.out + start - part.start, part.into + end - part.end, end)
    along = unit(part.end - part.start)
    fresh = unit(end - start)
    smooth = [other is not None and abs(other - along) < SMOOTH for other in (before, after)]
    if not any(smooth) or abs(fresh - along) < 1e-9:
        return Line(start, end)
    third = abs(end - start) / 3
    leave, arrive = (along if kept else fresh for kept in smooth)
    return Cubic(start, start + leave * third, end - arrive * third, end)
