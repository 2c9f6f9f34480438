"""The verbs that change an outline: split, replace, turn about a dart, spread. Cutting is in :mod:`.cutting`.

They alone make names and marks, carry what is drawn inside a piece, and check themselves: whoever calls them
gets a sound pattern or :class:`Refused` with a sentence. ``step`` is the id of the step that calls
(``s4``): what is made anew is named below it, what is divided gets its marks (``s4.1`` before, ``s4.2`` behind).
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Literal

import shapely
import shapely.ops

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.edges import SAME, Edge
from caddet.core.pattern.features import Dart, Spot
from caddet.core.pattern.ids import base_name, stroke_of
from caddet.core.pattern.opened import marked_at, opened, opened_at
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.soundness import fault
from caddet.core.sentences import say

SLIVER = 1e-6  # of an edge's positions, which cloth that is let into it gets
CLEAR = 6.0  # mm a new dart keeps from the end of an edge and from other darts
TOUCH = 0.3  # mm: a cut that comes nearer to the outline than this, away from its ends, runs along it


# --- places --------------------------------------------------------------------------------------


def split_edge(pattern: Pattern, piece: Piece, spot: Spot, step: str) -> tuple[Pattern, int]:
    """Divide a run at a place: all of it before gets ``step.1``, all behind ``step.2``, on whatever piece it lies.

    Gives the pattern and the index, on the piece of that name, of the edge that begins there in the outline.
    """
    changed, at = opened_at(piece, spot)
    return _divided(pattern.with_piece(changed), spot, step), at


def _divided(pattern: Pattern, spot: Spot, step: str) -> Pattern:
    return replace(pattern, pieces=tuple(marked_at(piece, spot, step) for piece in pattern.pieces))


def replace_edge(piece: Piece, index: int, path: Path, shares: Sequence[tuple[float, float]] = ()) -> Piece:
    """One edge on another path. ``shares`` are (old share, new share) pairs in between; the ends stay ends.

    Raises :class:`Refused` when the new path does not join its neighbours.
    """
    edge = piece.edges[index]
    if abs(path.start - edge.path.start) > 0.05 and abs(path.start - piece.edges[index - 1].path.end) > 0.05:
        raise Refused(say("the new {own} does not begin where the edge before it ends", own=edge.own.replace("_", " ")))
    return piece.with_edges((*piece.edges[:index], edge_on(edge, path, shares), *piece.edges[index + 1 :]))


def edge_on(edge: Edge, path: Path, shares: Sequence[tuple[float, float]] = ()) -> Edge:
    """An edge on another path; positions keep their shares between the (old share, new share) pairs that are given."""
    anchors = [(0.0, 0.0), *sorted(one for one in shares if SAME < one[1] < 1 - SAME), (1.0, 1.0)]

    def moved(share: float) -> float:
        """The new share of an old one."""
        for (a, b), (c, d) in pairwise(anchors):
            if share <= c:
                return b + (d - b) * (share - a) / (c - a) if c > a else d
        return 1.0

    pairs = {(moved(share), u) for share, u in edge.pairs} | {(new, edge.u_at(old)) for old, new in anchors}
    falls = edge.backwards
    return replace(edge, path=path, pairs=tuple(sorted(pairs, key=lambda one: (one[0], -one[1] if falls else one[1]))))


# --- edges behind each other ----------------------------------------------------------------------


def in_one(piece: Piece) -> Piece:
    """The piece with parts of a run that lie behind each other, marked and finished alike, made one edge."""
    edges: list[Edge] = []
    for edge in piece.edges:
        last = edges[-1] if edges else None
        if last is not None and _goes_on(last, edge):
            edges[-1] = _one(last, edge)
        else:
            edges.append(edge)
    return piece if len(edges) == len(piece.edges) else piece.with_edges(edges)


def with_gap(edge: Edge, other: Edge) -> tuple[Edge, Edge]:
    """Two edges behind each other with the straight gap between them let in at the end of the first.

    Of one run, the gap has a sliver of positions of its own, so that places on it can be told apart.
    """
    gap = Path.polyline([edge.path.end, other.path.start])
    if gap.length <= 1e-6:
        return edge, other
    u = edge.pairs[-1][1]
    if edge.name != other.name or abs(u - other.pairs[0][1]) > SAME:
        return edge.let_in(gap, at_end=True), other
    last = other.pairs[-1][1]
    end = u + (SLIVER if last > u else -SLIVER) * min(1.0, abs(last - u))
    share = edge.path.length / (edge.path.length + gap.length)
    pairs = (*((s * share, v) for s, v in edge.pairs), (1.0, end))
    moved = tuple((s, end if abs(v - u) < abs(end - u) else v) for s, v in other.pairs)
    return replace(edge, path=Path.join([edge.path, gap]), pairs=pairs), replace(other, pairs=moved)


def _goes_on(edge: Edge, other: Edge) -> bool:
    alike = replace(edge, path=other.path, pairs=other.pairs) == other
    return alike and not edge.dart and abs(edge.pairs[-1][1] - other.pairs[0][1]) <= SAME


def _one(edge: Edge, other: Edge) -> Edge:
    whole = edge.path.length + other.path.length
    share = edge.path.length / whole
    pairs = (*((s * share, u) for s, u in edge.pairs), *((share + s * (1 - share), u) for s, u in other.pairs[1:]))
    return replace(edge, path=Path.join([edge.path, other.path]), pairs=pairs)


def sound(piece: Piece) -> Piece:
    """The piece, when it can be cut. Raises :class:`Refused` with what is wrong with it."""
    sentence = fault(piece)
    if sentence:
        raise Refused(sentence.rstrip("."), "amount")
    return piece


# --- lines across a piece ------------------------------------------------------------------------


def _cloth(piece: Piece) -> tuple[shapely.Polygon | shapely.MultiPolygon, shapely.Geometry]:
    """The shape of a piece, and the same a hair larger."""
    shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
    return shape, shape.buffer(0.05)


def check_inside(piece: Piece, points: Sequence[Point], crossed: Sequence[Dart] = ()) -> None:
    """Raise :class:`Refused` when a line leaves the piece, only touches it, or runs along its edge; it may cross darts."""
    line = shapely.LineString([(p.real, p.imag) for p in points])
    if line.length < 2 * CLEAR:
        raise Refused("the line is too short to cut along", "line")
    shape, grown = piece.kept("cloth", lambda: _cloth(piece))
    for dart in crossed:
        _, a, apex, b = piece.legs(dart.id)
        wedge = shapely.Polygon([(p.real, p.imag) for p in (a, apex, b)])
        joined = shape.union(wedge.buffer(0.02))
        if isinstance(joined, shapely.Polygon | shapely.MultiPolygon):
            shape, grown = joined, joined.buffer(0.05)
    if not grown.covers(line):
        raise Refused("the line leaves the piece", "line")
    middle = shapely.ops.substring(line, 1.5, line.length - 1.5) if line.length > 3 else line
    ring = shape.exterior if isinstance(shape, shapely.Polygon) else shape.boundary
    if ring.distance(middle) < 1e-3 or middle.intersection(ring.buffer(TOUCH)).length > 4.0:
        raise Refused("the line only touches the piece or runs along its edge", "line")
    if not line.is_simple:
        raise Refused("the line crosses itself", "line")


# --- darts ---------------------------------------------------------------------------------------


def legs(dart: Dart, apex: Point, a: Point, b: Point) -> list[Edge]:
    """The two edges of a dart from its mouth over its apex."""
    return [
        Edge(f"{leg_stem(dart)}.leg_a{stroke_of(dart.name)}", Path.polyline([a, apex]), dart=dart.id, marks=dart.marks),
        Edge(f"{leg_stem(dart)}.leg_b{stroke_of(dart.name)}", Path.polyline([apex, b]), dart=dart.id, marks=dart.marks),
    ]


def leg_stem(dart: Dart) -> str:
    """The name that the dart's legs begin with, on either half."""
    return base_name(dart.name)


def pivot_dart(pattern: Pattern, piece: Piece, dart: Dart, spot: Spot, share: float, step: str) -> Pattern:
    """Close a dart, or a share of it, and open it at a place, turning the cloth between about its apex.

    Keeps the area and the length of every edge. What moved is marked ``step.2``, what is left ``step.1``.
    Raises :class:`Refused` when the new dart can't be cut.
    """
    target = piece.where(spot)
    found = piece.on_edge(spot)
    assert found is not None
    at_edge = piece.edges[found[0]]
    if at_edge.finish in ("fold", "opening"):
        raise Refused("a dart can't open into the fold or the opening", "to")
    _, leg_a, apex, leg_b = piece.legs(dart.id)
    _check_slash(piece, dart, apex, target)
    along, length = piece.along(spot), piece.run_length(spot.edge)
    if not CLEAR <= along <= length - CLEAR:
        raise Refused("a dart needs a little room from the end of the edge", "to")
    try:
        cut = opened(piece, dart, spot, step)
    except Refused as refused:
        raise Refused("the dart opens there already", "to") from refused
    closing = cmath.phase((leg_a - apex) / (leg_b - apex)) * share  # turns the second leg onto the first
    stays = cut.first_stays
    made: list[Dart] = []

    def new_legs(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
        """The dart at its new place."""
        a, b = before.path.end, behind.path.start
        made.append(replace(dart, marks=dart.marks | {f"{step}.2"}, pressed=_pressed(a, b, stays)))
        return before, legs(made[0], apex, a, b), behind

    def rest(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
        """What is left of the dart where it was."""
        return before, legs(left, apex, before.path.end, behind.path.start) if share < 1 - 1e-9 else (), behind

    left = replace(
        dart,
        marks=dart.marks | {f"{step}.1"},
        label=say("rest of the {label}", label=dart.label.removeprefix("rest of the ")),
    )
    changed = cut.moved(
        Motion.rotation(-closing if stays else closing, apex),
        new_legs,
        rest,
        slashes=[Path.polyline([apex, p]) for p in (leg_a, leg_b, target)],
    )
    darts = [made[0] if one.id == dart.id else one for one in piece.darts]
    if share < 1 - 1e-9:
        darts.insert(0, left)
    return _divided(pattern.with_piece(sound(replace(changed, darts=tuple(darts)))), spot, step)


def _pressed(a: Point, b: Point, first_stays: bool) -> Literal["first", "second"]:
    """Towards which leg a dart is pressed: level ones down, upright ones to the part that stays (the centre)."""
    mouth = b - a
    if abs(mouth.imag) > abs(mouth.real):
        return "first" if a.imag > b.imag else "second"
    return "first" if first_stays else "second"


def _check_slash(piece: Piece, dart: Dart, apex: Point, target: Point) -> None:
    if abs(target - apex) < 2 * CLEAR:
        raise Refused("the new place is too near the point of the dart", "to")
    shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
    inner = apex + unit(target - apex) * 0.5, target - unit(target - apex) * 0.5
    slash = shapely.LineString([(p.real, p.imag) for p in inner])
    if not shape.buffer(0.01).covers(slash):
        raise Refused("the line from the point of the dart to the new place leaves the piece", "to")
    for other in piece.darts:
        if other.id != dart.id:
            _, a, tip, b = piece.legs(other.id)
            wedge = shapely.Polygon([(p.real, p.imag) for p in (a, tip, b)])
            near = wedge.distance(slash) < CLEAR
            if abs(tip - apex) < 1e-6:  # parts of one dart share the point; only their mouths must stay apart
                near = wedge.distance(shapely.Point(target.real, target.imag)) < CLEAR
            if near:
                raise Refused(say("the new place runs into the {label}", label=other.label), "to")


# --- spreading -----------------------------------------------------------------------------------


def spread(
    pattern: Pattern, piece: Piece, start: Spot, end: Spot, at_start: float, at_end: float, step: str
) -> Pattern:
    """Slash from one place to another and open it: by ``at_start`` and ``at_end`` mm; 0 at one end is a hinge.

    The cloth let in belongs to the edges that were slashed; levels are bridged. The part with the fold, else with
    the grain, stays. Without a ``step`` nothing is marked: the runs stay whole. Raises :class:`Refused`.
    """
    if at_start < 0 or at_end < 0 or at_start + at_end < 1e-6:
        raise Refused("a slash is opened by more than nothing", "amount")
    a, b = piece.where(start), piece.where(end)
    check_inside(piece, [a, b])
    cut = opened(piece, start, end, step)
    # seen from the start the first part lies on the left of the line; the moving part goes away from it
    side = unit(b - a) * (1j if cut.first_stays else -1j)
    motion = _opening(a, b, side, at_start, at_end)
    changed = cut.moved(motion, let_in, let_in, slashes=[Path.polyline([a, b])], across="bridged")
    done = pattern.with_piece(sound(changed))
    for spot in (start, end) if step and start.edge != end.edge else ():
        done = _divided(done, spot, step)
    return done


def let_in(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
    """The gap between two edges belongs to the first of them."""
    first, second = with_gap(before, behind)
    return first, (), second


def _opening(a: Point, b: Point, side: Point, at_start: float, at_end: float) -> Motion:
    """The motion that opens a → b by so much at its two ends, to one side."""
    if at_start < at_end:
        return _opening(b, a, side, at_end, at_start)
    length = abs(b - a)
    along = (a - b) / length  # from the end that opens less to the one that opens more
    turn = 1.0 if (side / along).imag > 0 else -1.0
    angle = 0.0
    for _ in range(40):  # |shift·i + length (e^{i·angle} − 1)| = at_start
        gap = complex(0, at_end) + length * (cmath.exp(1j * angle) - 1)
        off = at_start - abs(gap)
        if abs(off) < 1e-10:
            break
        angle += off / length
    if not abs(angle) < math.pi / 2:
        raise Refused("it would be opened so far that it folds over", "amount")
    rotation = Motion.rotation(angle * turn, b)
    return Motion.translation(side * at_end).after(rotation)
