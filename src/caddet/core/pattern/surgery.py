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

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.dividing import carried, figure_carried
from caddet.core.pattern.edges import SAME, Edge
from caddet.core.pattern.features import Dart, FigureLine, Spot
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Grain, Piece
from caddet.core.pattern.soundness import fault
from caddet.core.sentences import say

SLIVER = 1e-6  # of an edge's positions, which cloth that is let into it gets
CLEAR = 6.0  # mm a new dart keeps from the end of an edge and from other darts
TOUCH = 0.3  # mm: a cut that comes nearer to the outline than this, away from its ends, runs along it


class Refused(CaddetError):
    """A verb can't be done here; the reason in the trade's words, and whether the place or the amount is at fault."""

    def __init__(self, reason: str, about: str = "") -> None:
        super().__init__(reason)
        self.about = about


# --- places --------------------------------------------------------------------------------------


def split_edge(pattern: Pattern, piece: Piece, spot: Spot, step: str) -> tuple[Pattern, int]:
    """Divide a run at a place: all of it before gets ``step.1``, all behind ``step.2``, on whatever piece it lies.

    Gives the pattern and the index, on the piece of that name, of the edge that begins there in the outline.
    """
    changed, at = opened_at(piece, spot)
    return _divided(pattern.with_piece(changed), spot, step), at


def opened_at(piece: Piece, spot: Spot) -> tuple[Piece, int]:
    """The piece with a corner at a spot, and the index of the edge that begins there in outline order."""
    found = piece.on_edge(spot)
    if found is None:
        raise Refused(
            say("that place on the {own_name} is no longer there", own_name=own_name(spot.edge).replace("_", " ")),
            "place",
        )
    index, along = found
    first, second = piece.edges[index].split_at(along)
    if first is None:
        return piece, index
    if second is None:
        return piece, (index + 1) % len(piece.edges)
    return piece.with_edges((*piece.edges[:index], first, second, *piece.edges[index + 1 :])), index + 1


def _divided(pattern: Pattern, spot: Spot, step: str) -> Pattern:
    return replace(pattern, pieces=tuple(marked_at(piece, spot, step) for piece in pattern.pieces))


def marked_at(piece: Piece, spot: Spot, step: str) -> Piece:
    """The edges of the spot's run marked by which side of it they lie on."""
    if all(edge.name != spot.edge for edge in piece.edges):
        return piece

    def marked(edge: Edge) -> Edge:
        """An edge with the mark of its side."""
        if edge.name != spot.edge:
            return edge
        return edge.marked(f"{step}.1" if (edge.low + edge.high) / 2 < spot.u else f"{step}.2")

    return piece.with_edges([marked(edge) for edge in piece.edges])


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


# --- which part stays ----------------------------------------------------------------------------


def edges_between(piece: Piece, start: int, end: int) -> list[Edge]:
    """The edges from one corner to another, in outline order."""
    count = len(piece.edges)
    return [piece.edges[(start + i) % count] for i in range((end - start) % count)]


def region_of(edges: Sequence[Edge], *more: Point) -> list[Point]:
    """The outline of a part, to 0.2 mm: its edges and the points that close it."""
    return [*(p for edge in edges for p in edge.path.flattened(0.2)), *more]


def part_stays(piece: Piece, part: Sequence[Edge], region: Sequence[Point], other: Sequence[Edge]) -> bool:
    """Whether this part stays where it is: the one with the fold, else the one with the grain line."""
    folds = [any(edge.finish == "fold" for edge in edges) for edges in (part, other)]
    if folds[0] != folds[1]:
        return folds[0]
    return contains(region, (piece.grain.a + piece.grain.b) / 2)


def from_first(edges: Sequence[Edge], old: Sequence[Edge]) -> tuple[Edge, ...]:
    """The round begun where it began before, so that outlines compare."""
    name = old[0].name
    for index, edge in enumerate(edges):
        before = edges[index - 1]
        if edge.name == name and before.name != name and not before.dart:
            return (*edges[index:], *edges[:index])
    return tuple(edges)


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


def check_inside(piece: Piece, points: Sequence[Point], crossed: Dart | None = None) -> None:
    """Raise :class:`Refused` when a line leaves the piece, only touches it, or runs along its edge."""
    line = shapely.LineString([(p.real, p.imag) for p in points])
    if line.length < 2 * CLEAR:
        raise Refused("the line is too short to cut along", "line")
    shape, grown = piece.kept("cloth", lambda: _cloth(piece))
    if crossed is not None:
        _, a, apex, b = piece.legs(crossed.id)
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
        Edge(f"{leg_stem(dart)}.leg_a{stroke_of(dart)}", Path.polyline([a, apex]), dart=dart.id, marks=dart.marks),
        Edge(f"{leg_stem(dart)}.leg_b{stroke_of(dart)}", Path.polyline([apex, b]), dart=dart.id, marks=dart.marks),
    ]


def leg_stem(dart: Dart) -> str:
    """The name that the dart's legs begin with, on either half."""
    return dart.name.removesuffix("'")


def stroke_of(dart: Dart) -> str:
    """The stroke that names of the mirrored half end with, or none."""
    return "'" if dart.name.endswith("'") else ""


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
    opened, at = opened_at(piece, spot)
    opened = marked_at(opened, spot, step)
    start = opened.legs(dart.id)[0]
    end = start + sum(edge.dart == dart.id for edge in opened.edges)
    forward, backward = edges_between(opened, end, at), edges_between(opened, at, start)
    if not forward or not backward:
        raise Refused("the dart opens there already", "to")
    closing = cmath.phase((leg_a - apex) / (leg_b - apex)) * share  # turns the second leg onto the first
    forward_stays = part_stays(piece, forward, region_of(forward, apex), backward)
    motion = Motion.rotation(-closing if forward_stays else closing, apex)
    moving = backward if forward_stays else forward
    region = region_of(moving, apex)
    turned = [edge.moved(motion) for edge in moving]
    forward, backward = (forward, turned) if forward_stays else (turned, backward)
    a, b = forward[-1].path.end, backward[0].path.start
    moved = replace(dart, marks=dart.marks | {f"{step}.2"}, pressed=_pressed(a, b, forward_stays))
    darts = [moved if one.id == dart.id else one for one in piece.darts]
    rest: list[Edge] = []
    if share < 1 - 1e-9:
        left = replace(
            dart,
            marks=dart.marks | {f"{step}.1"},
            label=say("rest of the {label}", label=dart.label.removeprefix("rest of the ")),
        )
        darts.insert(0, left)
        rest = legs(left, apex, backward[-1].path.end, forward[0].path.start)
    edges = from_first((*rest, *forward, *legs(moved, apex, a, b), *backward), opened.edges)
    slashes = [Path.polyline([apex, p]) for p in (leg_a, leg_b, target)]
    changed = replace(
        opened,
        edges=edges,
        darts=tuple(darts),
        features=tuple(carried(piece, f, region, motion, slashes, False) for f in piece.features),
        figures=figures_carried(piece, region, motion),
        grain=grain_carried(piece, region, motion),
    )
    return _divided(pattern.with_piece(sound(changed)), spot, step)


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


def figures_carried(piece: Piece, region: Sequence[Point], motion: Motion) -> tuple[FigureLine, ...]:
    """The lines of a piece's figures after the part of it inside ``region`` was moved."""
    return tuple(figure_carried(line, lambda p: motion(p) if contains(region, p) else p) for line in piece.figures)


def grain_carried(piece: Piece, region: Sequence[Point], motion: Motion) -> Grain:
    """The grain line after the part of the piece inside ``region`` was moved."""
    return piece.grain.moved(motion) if contains(region, (piece.grain.a + piece.grain.b) / 2) else piece.grain


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
    opened, _ = opened_at(piece, start)
    opened, _ = opened_at(opened, end)
    i, j = opened_at(opened, start)[1], opened_at(opened, end)[1]
    if step and start.edge != end.edge:
        opened = marked_at(marked_at(opened, start, step), end, step)
    first, second = edges_between(opened, i, j), edges_between(opened, j, i)
    if not first or not second:
        raise Refused("the line does not cross the piece", "line")
    first_stays = part_stays(piece, first, region_of(first), second)
    if step and start.edge == end.edge:
        opened = _marked_parts(opened, first, second, step)
        first, second = edges_between(opened, i, j), edges_between(opened, j, i)
    # seen from the start the first part lies on the left of the line; the moving part goes away from it
    side = unit(b - a) * (1j if first_stays else -1j)
    motion = _opening(a, b, side, at_start, at_end)
    moving = second if first_stays else first
    region = region_of(moving)
    turned = [edge.moved(motion) for edge in moving]
    first, second = (first, turned) if first_stays else (turned, second)
    for before, behind in ((first, second), (second, first)):
        before[-1], behind[0] = with_gap(before[-1], behind[0])
    slash = [Path.polyline([a, b])]
    changed = replace(
        opened,
        edges=from_first((*first, *second), opened.edges),
        grain=piece.grain,
        features=tuple(carried(piece, f, region, motion, slash, True) for f in piece.features),
        figures=figures_carried(piece, region, motion),
    )
    done = pattern.with_piece(sound(changed))
    for spot in (start, end) if step and start.edge != end.edge else ():
        done = _divided(done, spot, step)
    return done


def _marked_parts(piece: Piece, first: Sequence[Edge], second: Sequence[Edge], step: str) -> Piece:
    number = {id(edge): 1 for edge in first} | {id(edge): 2 for edge in second}
    return piece.with_edges([edge.marked(f"{step}.{number[id(edge)]}") for edge in piece.edges])


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
