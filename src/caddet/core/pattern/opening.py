"""The verbs that open what was sewn when a piece was traced, and that move its edges in or out all along."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from caddet.core.geometry.meeting import inner, reach_end, reach_start
from caddet.core.geometry.offset import offset_path
from caddet.core.geometry.paths import Path, arcs_as_cubics, contains
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, Segment, dot, unit
from caddet.core.pattern.carrying import Part, taken_along
from caddet.core.pattern.dart_forms import fair_over
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Spot
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.surgery import edge_on, legs, sound
from caddet.core.sentences import say

FADES_LONG, FADES_WIDE = 2.2, 8.0  # lengths and widths of the dart over which the edge beyond the corner follows
MOST_OF_IT = 0.9  # of that edge
EVEN = 0.5  # mm by which the legs of a dart may differ and are equal
NEAR_CORNER = 8.0  # mm of the edge on either side of a mouth at least


def open_dart(
    piece: Piece, spot: Spot, width: float, length: float, aside: float, step: str, label: str, *, onward: bool
) -> Piece:
    """A dart that was sewn when the piece was traced: the cloth it holds comes back, ``width`` mm at the edge.

    What lies behind its mouth in outline order (or before it, without ``onward``), up to the corner, moves over by that
    width; an edge beyond the corner that is shorter than the dart moves with it, the next one follows evenly for twice
    the dart's length, and the rest keeps its place. ``aside`` mm is how much nearer to that corner the point lies than square below the mouth. With the dart shut
    again the edge is as long as it was. Raises :class:`Refused`.
    """
    found = piece.on_edge(spot)
    if found is None:
        raise Refused(say("that place is no longer there"), "at")
    index, at = found
    edge = piece.edges[index]
    if edge.finish in ("fold", "opening"):
        raise Refused(say("a dart can't lie in the fold or the opening"), "at")
    if not NEAR_CORNER <= at <= edge.path.length - NEAR_CORNER:
        raise Refused(say("there is no room for a dart so near to the end of its edge"), "at")
    before, behind = edge.split_at(at)
    assert before is not None and behind is not None
    mouth = before.path.end
    along = unit(edge.path.direction_at(at)) * (1 if onward else -1)
    inward = unit(edge.path.direction_at(at)) * 1j  # clockwise: inside is to the right as one walks
    down = unit(inward * length + along * aside)
    over = -1j * down if (-1j * down * along.conjugate()).real > 0 else 1j * down
    shift = over * width
    block, count = block_of(piece, edge.name), len(piece.edges)
    edges = list(piece.edges)
    first, last = (index + 1, block.last) if onward else (block.first, index - 1)
    for n in range((last - first) % count + 1 if (last - first) % count != count - 1 else 0):
        m = (first + n) % count
        edges[m] = edges[m].with_path(edges[m].path.moved(Motion.translation(shift)))
    beyond, step_by = (block.behind, 1) if onward else (block.before, -1)
    while edges[beyond].finish != "fold" and edges[beyond].path.length < length and edges[beyond].name != edge.name:
        edges[beyond] = edges[beyond].with_path(edges[beyond].path.moved(Motion.translation(shift)))
        beyond = (beyond + step_by) % count  # a short edge, such as a shoulder, moves over as it is
    if edges[beyond].finish == "fold" or edges[beyond].name == edge.name:
        raise Refused(say("on that side lies the fold, which stays; open it to the other side"), "toward")
    edges[beyond] = _followed(edges[beyond], shift, max(FADES_LONG * length, FADES_WIDE * width), at_end=not onward)
    moved = (behind if onward else before).path.moved(Motion.translation(shift))
    if onward:
        one, other = before, behind.with_path(moved)
    else:
        one, other = before.with_path(moved), behind
    one = replace(one, pairs=(*one.pairs[:-1], (1.0, spot.u)))
    other = replace(other, pairs=((0.0, spot.u), *other.pairs[1:]))
    a, b = one.path.end, other.path.start
    apex = mouth + down * length + shift / 2
    dart = Dart(f"{step}.dart", label)
    made = [*edges[:index], one, *legs(dart, apex, a, b), other, *edges[index + 1 :]]
    reach = max(FADES_LONG * length, FADES_WIDE * width)
    moves = Part(
        lambda p: dot(p - mouth, shift) > 0 and dot(p - mouth, down) < reach,
        lambda p: p + shift * _fade(max(dot(p - mouth, down), 0.0), reach)[0],
    )
    opened = taken_along(piece, made, [moves], across="stretched", darts=(*piece.darts, dart))
    if not contains(opened.polygon(0.5), mouth + down * (length - 1.0)) and not contains([a, apex, b], mouth):
        raise Refused(say("the point of the dart would lie outside the piece"), "length")
    return sound(fair_over(sound(opened), dart))


def _followed(edge: Edge, shift: Point, reach: float, *, at_end: bool) -> Edge:
    """An edge whose one end moves by a shift; that fades over so many mm along it, level where it has faded."""
    path = arcs_as_cubics(edge.path.reversed() if at_end else edge.path)
    reach = min(reach, path.length * MOST_OF_IT)
    upper, lower = path.split_at(reach)
    assert upper is not None

    segments: list[Cubic] = []
    passed = 0.0
    for part in upper.segments:
        for n in range(4):  # short parts, so that the fading is followed
            low, high = part.at_length(part.length * n / 4), part.at_length(part.length * (n + 1) / 4)
            piece = _between(part, low, high)
            (keep_a, fall_a), (keep_b, fall_b) = _fade(passed, reach), _fade(passed + piece.length, reach)
            passed += piece.length
            start, end = piece.start + shift * keep_a, piece.end + shift * keep_b
            out = start + (piece.out - piece.start) + shift * fall_a * abs(piece.out - piece.start)
            into = end - (piece.end - piece.into) - shift * fall_b * abs(piece.end - piece.into)
            segments.append(Cubic(start, out, into, end))
    whole = Path((*segments, *(lower.segments if lower is not None else ())))
    share = (reach / path.length, sum(one.length for one in segments) / whole.length)
    if at_end:
        whole, share = whole.reversed(), (1 - share[0], 1 - share[1])
    return edge_on(edge, whole, [share])


def _fade(mm: float, reach: float) -> tuple[float, float]:
    """What of a shift is left so many mm along, and how that falls with every mm."""
    t = min(mm / reach, 1.0)
    return (1 - t) ** 2 * (1 + 2 * t), -6 * t * (1 - t) / reach


def _between(part: Segment, low: float, high: float) -> Cubic:
    """A stretch of a line or cubic between two parameters, as a cubic."""
    if isinstance(part, Line):
        a, b = part.point(low), part.point(high)
        return Cubic(a, a + (b - a) / 3, b - (b - a) / 3, b)
    assert isinstance(part, Cubic)
    rest = part.split(low)[1] if low > 0 else part
    return rest.split((high - low) / (1 - low))[0] if high < 1 else rest


def inset(piece: Piece, by: Mapping[str, float]) -> Piece:
    """Runs (by key) moved into the piece by so many mm all along, or out of it (negative), their neighbours met anew.

    Positions keep their shares. Raises :class:`Refused` when nothing is left of an edge.
    """
    amounts = [0.0 if edge.dart else by.get(edge.name, 0.0) for edge in piece.edges]
    paths: list[Path] = []
    for edge, amount in zip(piece.edges, amounts, strict=True):
        moved = offset_path(edge.path, -amount)
        if moved is None:
            raise Refused(say("nothing is left of the {edge} so far in", edge=edge.own.replace("_", " ")), "by")
        paths.append(moved)
    count = len(paths)
    corners: list[Point] = []
    for n in range(count):
        after = (n + 1) % count
        if (not amounts[n] and not amounts[after]) or abs(paths[n].end - paths[after].start) < 1e-6:
            corners.append(paths[n].end)
        else:
            corners.append(inner(paths[n], paths[after], piece.edges[n].path.end))
    _even_mouths(piece, corners)
    edges = []
    for n, edge in enumerate(piece.edges):
        path = reach_end(reach_start(paths[n], corners[n - 1]), corners[n])
        turned = dot(path.end - path.start, edge.path.end - edge.path.start) <= 0 < abs(edge.path.end - edge.path.start)
        if path.length < 1.0 or turned:
            raise Refused(say("nothing is left of the {edge} so far in", edge=edge.own.replace("_", " ")), "by")
        edges.append(edge.with_path(path))
    return sound(piece.with_edges(edges))


def _even_mouths(piece: Piece, corners: list[Point]) -> None:
    """The corners of darts' mouths put equally far from their points, where both legs were equal before."""
    count = len(piece.edges)
    for dart in piece.darts:
        index, a, apex, b = piece.legs(dart.id)
        own = [n for n in range(count) if piece.edges[n].dart == dart.id]
        if len(own) != 2 or abs(abs(a - apex) - abs(b - apex)) > EVEN:
            continue
        first, last = (index - 1) % count, (index + 1) % count
        middle = (abs(corners[first] - apex) + abs(corners[last] - apex)) / 2
        for n in (first, last):
            corners[n] = apex + unit(corners[n] - apex) * middle
