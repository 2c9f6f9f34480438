"""An edge made longer or shorter at one of its ends; the edge beside it comes along."""

from __future__ import annotations

from caddet.core.geometry.curves import parts_of
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Point, Segment, unit
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Layer
from caddet.core.pattern.surgery import sound
from caddet.core.sentences import Length, say

FREE = (
    "hem",
    "facing",
    "binding",
    "casing",
    "turned",
    "band",
    "joined",
    "raw",
    "",
)  # best first, as beside a seam's end


def end_moved(path: Path, by: Point, *, at_end: bool) -> Path:
    """A path whose one end is moved; what lies between goes with it less and less towards the other end."""
    parts = parts_of(path)
    whole = sum(part.length for part in parts)
    made: list[Segment] = []
    passed = 0.0
    for part in parts:
        low, high = passed / whole, (passed + part.length) / whole
        passed += part.length
        shares = [low + (high - low) * n / 3 for n in range(4)]
        moves = [by * (share if at_end else 1 - share) for share in shares]
        if isinstance(part, Line):
            made.append(Line(part.start + moves[0], part.end + moves[3]))
        else:
            points = (part.start, part.out, part.into, part.end)
            made.append(Cubic(*(point + move for point, move in zip(points, moves, strict=True))))
    return Path(tuple(made))


def lengthened(piece: Piece, index: int, by: float, *, at_end: bool) -> Piece:
    """The piece with one edge longer by so many mm (a minus: shorter) at an end of its path, running on as it ran there.

    Raises :class:`Refused` when there is not so much of it.
    """
    edges = list(piece.edges)
    edge = edges[index]
    path = edge.path if at_end else edge.path.reversed()
    if by < 0:
        kept = path.between(0.0, path.length + by)
        if kept is None or path.length + by < 1.0:
            raise Refused(say("there is no {by} to take away there", by=Length(-by)), "change")
        path = kept
    else:
        path = Path.join([path, Path.polyline([path.end, path.end + unit(path.end_direction) * by])])
    shift = path.end - (edge.path.end if at_end else edge.path.start)
    edges[index] = edge.with_path(path if at_end else path.reversed())
    beside = (index + 1 if at_end else index - 1) % len(edges)
    edges[beside] = edges[beside].with_path(end_moved(edges[beside].path, shift, at_end=not at_end))
    return sound(piece.with_edges(edges))


def layer_lengthened(pattern: Pattern, layer: Layer, by: float) -> Pattern:
    """The pattern with one layer of a seam longer by so many mm, at the end where it disturbs the least: at a hem rather
    than at another seam, never at a fold or a dart.

    Raises :class:`Refused` when both ends lie on a fold or dart, or it is one piece with what it is sewn to.
    """
    whole_layer = pattern.layer_fragments(layer)
    fragments = [one for one in whole_layer if not one.imagined]
    if not fragments:
        raise Refused("this side stands for another; change the other one", "change")
    drawn, counted = (sum(one.length for one in found) for found in (fragments, whole_layer))
    by *= drawn / counted  # a half stands for both: each side gives its part
    number = {id(piece): n for n, piece in enumerate(pattern.pieces)}
    sewn = pattern.sewn()
    ends: list[tuple[float, int, bool, Piece, float]] = []
    for fragment, last in ((fragments[0], False), (fragments[-1], True)):
        at_end = last != fragment.backwards
        piece = fragment.piece
        beside = (fragment.index + 1 if at_end else fragment.index - 1) % len(piece.edges)
        other = piece.edges[beside]
        whole = fragment.edge.path.length
        inner = fragment.high < whole - 1e-6 if at_end else fragment.low > 1e-6
        if other.dart or other.finish in ("fold", "opening", "slit"):
            continue
        # where the seam ends inside the edge (a band with an overlap), the whole edge grows as its part in the seam does
        grows = whole / fragment.length if inner else 1.0
        disturbs = 20.0 if (number[id(piece)], beside) in sewn else 0.0
        rank = FREE.index(other.finish) if other.finish in FREE else len(FREE)
        ends.append((disturbs + rank + (0 if last else 0.5), fragment.index, at_end, piece, grows))
    if not ends:
        raise Refused("both ends of this side lie on a fold or a dart; change the other one", "change")
    _, index, at_end, piece, grows = min(ends, key=lambda one: one[0])
    return pattern.with_piece(lengthened(piece, index, by * grows, at_end=at_end))
