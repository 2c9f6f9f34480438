"""The cloth along an edge: what a facing is drawn from, and what a lining leaves away.

A run is followed with its darts shut; the line inside it runs parallel at a width, from neighbour to neighbour.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np
import shapely

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.offset import ending_at, smooth_parts
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, cross, dot, unit
from caddet.core.pattern.closed import closed_up, shut_darts, shut_run
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.surgery import sound
from caddet.core.sentences import Length, say

STATION = 0.2  # of the width between two points that the inner line is drawn through
MOST_STATIONS = 40
FALLS_SHORT = 0.02  # of the width by which a point may lie nearer to the run and still count
STRAIGHT = 0.5  # mm by which an edge may leave the straight line and still be folded on
BEND = 0.01  # sine of the turn from which a short inner line is drawn as a curve
MEETS = 1.0  # mm by which the ends of two strips may differ along the seam between them and still be drawn freely
NOTHING: Mapping[str, float] = {}
LEFT = 3.0  # mm of a neighbour that have to stay


def strip(
    piece: Piece, key: str, width: float, about: str = "width", ends: Mapping[str, float] = NOTHING
) -> tuple[list[Edge], list[Edge], Path, list[Edge]]:
    """The cloth within ``width`` mm of a run, darts shut: the run's edges, those behind it as far as it goes, the
    inner line back, and those before it. ``ends`` says how far along a neighbour (by key) it goes, in mm, where that is
    known; else it goes as far as the inner line, run on, meets it.

    Raises :class:`Refused` when what lies beside the run is too short.
    """
    block = block_of(piece, key)
    count = len(piece.edges)
    mine = [piece.edges[(block.first + n) % count] for n in range((block.last - block.first) % count + 1)]
    outer, beyond = shut_run(piece, mine)
    before = [edge.reversed() for edge in away(piece, block.before, -1)]  # both lead away from the run
    behind = [edge.moved(beyond) for edge in away(piece, block.behind, 1)]
    chain = Path.join(edge.path for edge in outer)
    lines = parallel_points(chain, width)
    cuts = []
    ways = []
    for neighbour, n, way in ((before, 0, chain.start_direction), (behind, -1, chain.end_direction)):
        path = Path.join(edge.path for edge in neighbour)
        line = lines[n] if n else lines[n][::-1]  # both run towards the neighbour
        line, at, cut = _up_to_neighbour(path, line, way, width)
        wanted = ends.get(neighbour[0].name, cut)
        free = False
        if abs(wanted - cut) > MEETS:
            at, cut, free = path.point_at(wanted), wanted, neighbour[0].finish != "fold"
        ways.append(None if free else _way(neighbour[0], way))
        lines[n] = line if n else line[::-1]
        if cut > path.length - LEFT:
            raise Refused(
                say(
                    "it would be wider than the {edge} beside it is long ({length})",
                    edge=neighbour[0].own.replace("_", " "),
                    length=Length(path.length),
                ),
                about,
            )
        cuts.append((at, up_to(neighbour, cut)))
    (start, part_before), (end, part_behind) = cuts
    inner = _drawn(chain, lines, start, end, ways[0], ways[1], width)
    return outer, part_behind, inner.reversed(), [edge.reversed() for edge in reversed(part_before)]


def reach(piece: Piece, key: str, index: int, width: float) -> float:
    """How far along a neighbour of a run, the edge of that index, the cloth within ``width`` mm of the run goes, in mm.

    Raises :class:`Refused` as :func:`strip` does.
    """
    _, behind, _, before = strip(piece, key, width)
    part = before if index == block_of(piece, key).before else behind
    return sum(edge.path.length for edge in part)


def away(piece: Piece, index: int, step: int) -> list[Edge]:
    """The edges of one run from an edge on, one way round, its darts shut; each as it lies in the outline's direction."""
    count = len(piece.edges)
    found = [piece.edges[index % count]]
    name, n = found[0].name, index
    while len(found) < count:
        n += step
        edge = piece.edges[n % count]
        if edge.name != name and not edge.dart:
            break
        found.append(edge)
    while found[-1].dart:
        found.pop()
    if step > 0:
        return shut_run(piece, found)[0]
    # walked backwards: shut from the near end as well
    turned = [edge.reversed() for edge in found]
    motions = shut_darts(turned)
    walked = closed_up([e.moved(m) for e, m in zip(turned, motions, strict=True) if not e.dart])
    return [edge.reversed() for edge in walked]


def up_to(edges: Sequence[Edge], at: float) -> list[Edge]:
    """The edges, end to end, up to so many mm along."""
    found: list[Edge] = []
    for edge in edges:
        length = edge.path.length
        if at <= length + 1e-9:
            part = edge.split_at(at)[0]
            return [*found, part] if part is not None and at > 1e-6 else found
        found.append(edge)
        at -= length
    return found


def parallel_points(chain: Path, width: float) -> list[list[Point]]:
    """Points to the right of each smooth part of a chain, at the width from it; corners where the lines would meet."""
    parts = smooth_parts(chain)
    lines: list[list[Point]] = []
    for part in parts:
        length = part.length
        steps = max(1, min(MOST_STATIONS, round(length / (width * STATION))))
        straight = all(isinstance(one, Line) for one in part.segments)
        shares = (0.0, 1.0) if straight else [n / steps for n in range(steps + 1)]
        places = [part.locate(length * s) for s in shares]
        lines.append([part.segments[n].point(t) + part.segments[n].direction(t) * 1j * width for n, t in places])
    for n in range(len(parts) - 1):
        a, b = parts[n].end_direction, parts[n + 1].start_direction
        slope = cross(a, b)
        if abs(slope) < 1e-6:
            continue
        corner = lines[n][-1] + a * (cross(lines[n + 1][0] - lines[n][-1], b) / slope)
        lines[n] = [*(p for p in lines[n] if dot(p - corner, a) < -1e-6), corner]
        lines[n + 1] = [corner, *(p for p in lines[n + 1] if dot(p - corner, b) > 1e-6)]
    return lines


def _up_to_neighbour(path: Path, line: Sequence[Point], way: Point, width: float) -> tuple[list[Point], Point, float]:
    """The inner line as far as a neighbour that leaves the run's end, where the two meet, and how far along that is, in mm.

    Where the neighbour leans in under the run, the line ends before its last point; else it runs on straight.
    """
    for n, (a, b) in enumerate(pairwise(line)):
        hits = [hit for hit in path.crossings(a, b) if _near(hit[0], width) and dot(hit[1] - a, hit[1] - b) <= 0]
        if hits:
            along, at = min(hits, key=lambda hit: abs(hit[1] - a))
            return [*line[: n + 1], at], at, along
    hits = [hit for hit in path.crossings(line[-1], line[-1] + way) if _near(hit[0], width)]
    if hits:
        along, at = min(hits, key=lambda hit: abs(hit[1] - line[-1]))
        return list(line), at, along
    return list(line), path.point_at(width), width


def _near(along: float, width: float) -> bool:
    """Whether a place so far along a neighbour may be the end of a strip of this width."""
    return 0.3 * width < along < 4 * width


def _way(neighbour: Edge, along: Point) -> Point | None:
    """The direction in which the inner line leaves or meets a neighbour: square to a fold, else as the run."""
    if neighbour.finish != "fold":
        return along
    square = neighbour.path.start_direction * 1j
    return square if dot(square, along) >= 0 else -square


def _drawn(
    chain: Path,
    lines: Sequence[Sequence[Point]],
    start: Point,
    end: Point,
    first: Point | None,
    last: Point | None,
    width: float,
) -> Path:
    """The inner line from one end to the other: straight or smooth between its corners."""
    made: list[Path] = []
    at = start
    outer = shapely.LineString([(p.real, p.imag) for p in chain.flattened(0.1)])
    for n, points in enumerate(lines):
        to = end if n == len(lines) - 1 else points[-1]
        middle = np.array([(p.real, p.imag) for p in points[1:-1]]).reshape(-1, 2)
        offs = np.atleast_1d(shapely.distance(outer, shapely.points(middle)))
        between = [p for p, off in zip(points[1:-1], offs, strict=True) if off > width * (1 - FALLS_SHORT)]
        room = width * STATION / 2
        between = [p for p in between if abs(p - at) > room and abs(p - to) > room]
        if not between and abs(to - at) < 1e-6:
            continue
        ways = (first if n == 0 else None, last if n == len(lines) - 1 else None)
        bends = any(way is not None and abs(cross(unit(way), unit(to - at))) > BEND for way in ways)
        made.append(smooth_through([at, *between, to], *ways) if between or bends else Path.polyline([at, to]))
        at = to
    return Path.join(made)


def strip_ring(
    piece: Piece, key: str, width: float, named: dict[str, str], inner: str, ends: Mapping[str, float] = NOTHING
) -> tuple[Edge, ...]:
    """The outline of a piece cut along a run: its edges under other names (``named``: key → new key), and the inner edge."""
    outer, behind, line, before = strip(piece, key, width, ends=ends)
    ring = [*outer, *behind, Edge(inner, line), *before]
    return tuple(replace(edge, name=named.get(edge.name, edge.name), dart="") for edge in ring)


def less(piece: Piece, first: int, last: int, line: Path) -> Piece:
    """A piece with its edges from one to another left away, and its neighbours cut back to a line between them.

    The edge of the line has the name of the first that went, and its positions. Raises :class:`Refused`.
    """
    count = len(piece.edges)
    gone = [piece.edges[(first + n) % count] for n in range((last - first) % count + 1)]
    rest = [piece.edges[(last + 1 + n) % count] for n in range(count - len(gone))]
    kept = list(rest)
    while kept and kept[-1].path.nearest(line.start)[0] > STRAIGHT and len(kept) > 2:
        kept.pop()
    while kept and kept[0].path.nearest(line.end)[0] > STRAIGHT and len(kept) > 2:
        kept.pop(0)
    kept[-1] = _ends_at(kept[-1], line.start)
    kept[0] = _starts_at(kept[0], line.end)
    runs = [edge for edge in gone if edge.name == gone[0].name]
    made = replace(gone[0], path=line, dart="", pairs=((0.0, runs[0].pairs[0][1]), (1.0, runs[-1].pairs[-1][1])))
    ring = [*kept, made]
    start = next((n for n, edge in enumerate(ring) if edge.name == piece.edges[0].name), 0)
    return sound(piece.with_edges((*ring[start:], *ring[:start])))


def _ends_at(edge: Edge, point: Point) -> Edge:
    """An edge cut back so that its path ends at a point on it."""
    off, along = edge.path.nearest(point)
    if off > STRAIGHT * 2:
        raise Refused(say("the line does not meet the {edge}", edge=edge.own.replace("_", " ")), "")
    kept = edge.split_at(along)[0] if along < edge.path.length - 1e-6 else edge
    assert kept is not None
    path = kept.path
    return kept.with_path(Path((*path.segments[:-1], *ending_at(path.segments[-1], point))))


def _starts_at(edge: Edge, point: Point) -> Edge:
    return _ends_at(edge.reversed(), point).reversed()


def trimmed(piece: Piece, key: str, width: float, about: str = "") -> Piece:
    """A piece without the cloth within ``width`` mm of a run without darts; the run lies there now. Raises :class:`Refused`."""
    block = block_of(piece, key)
    _, _, inner, _ = strip(piece, key, width, about)
    return less(piece, block.first, block.last, inner.reversed())


def straight(edge: Edge) -> bool:
    """Whether an edge is straight enough to fold on."""
    return edge.path.length - abs(edge.path.end - edge.path.start) < 1e-3 or all(
        abs(cross(p - edge.path.start, edge.path.end - edge.path.start))
        / max(abs(edge.path.end - edge.path.start), 1e-9)
        < STRAIGHT
        for p in edge.path.flattened(0.2)
    )


def mirrored_on(piece: Piece, key: str, width: float) -> tuple[list[Edge], Motion]:
    """The cloth within ``width`` mm of a straight run mirrored in it, to be grown on: the edges from the corner before the
    run round to the corner behind it, and the mirror. Raises :class:`Refused` when the run is not one straight edge."""
    block = block_of(piece, key)
    edge = piece.edges[block.first]
    if block.first != block.last or not straight(edge):
        raise Refused(say("only a straight edge can be folded on; give this one a piece of its own"), "edges")
    over = Motion.reflection(edge.path.start, edge.path.end)
    _, behind, inner, before = strip(piece, key, width)
    line = Edge("", inner.reversed().moved(over))
    # from the corner before the run outwards, along the inner line, and back to the corner behind the run
    if len(before) > 1 or len(behind) > 1:
        raise Refused(say("there is a dart too near the corner; move it first"), "width")
    return [before[0].moved(over).reversed(), line, behind[0].moved(over).reversed()], over
