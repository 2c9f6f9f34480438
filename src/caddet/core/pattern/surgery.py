"""The verbs that change an outline: split, replace, cut, turn about a dart, spread.

They alone make names and marks, carry what is drawn inside a piece, and check themselves: whoever calls them
gets a sound pattern or :class:`Refused` with a sentence. ``step`` is the id of the step that calls
(``s4``): what is made anew is named below it, what is divided gets its marks (``s4.1`` before, ``s4.2`` behind).
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import shapely
import shapely.ops

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.dividing import carried, figure_carried, kept_inside
from caddet.core.pattern.edges import SAME, Edge
from caddet.core.pattern.features import Dart, FigureLine, Spot
from caddet.core.pattern.ids import Reference, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.seams import Part, Seam
from caddet.core.pattern.soundness import fault
from caddet.core.sentences import say

CLEAR = 6.0  # mm a new dart keeps from the end of an edge and from other darts
TOUCH = 0.3  # mm: a cut that comes nearer to the outline than this, away from its ends, runs along it
REACH = 1.0  # mm within which the line of a cut meets the tip of a contour dart


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
    return replace(pattern, pieces=tuple(_marked_at(piece, spot, step) for piece in pattern.pieces))


def _marked_at(piece: Piece, spot: Spot, step: str) -> Piece:
    """The edges of the spot's run marked by which side of it they lie on."""
    if all(edge.name != spot.edge for edge in piece.edges):
        return piece

    def marked(edge: Edge) -> Edge:
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
    inner = tuple((new, edge.u_at(old)) for old, new in shares if SAME < new < 1 - SAME)
    pairs = ((0.0, edge.pairs[0][1]), *inner, (1.0, edge.pairs[-1][1]))
    changed = replace(edge, path=path, pairs=pairs)
    return piece.with_edges((*piece.edges[:index], changed, *piece.edges[index + 1 :]))


# --- which part stays ----------------------------------------------------------------------------


def _ring(piece: Piece, start: int, end: int) -> list[Edge]:
    """The edges from one corner to another, in outline order."""
    count = len(piece.edges)
    return [piece.edges[(start + i) % count] for i in range((end - start) % count)]


def _region(edges: Sequence[Edge], *more: Point) -> list[Point]:
    return [*(p for edge in edges for p in edge.path.flattened(0.2)), *more]


def _stays(piece: Piece, part: Sequence[Edge], region: Sequence[Point], other: Sequence[Edge]) -> bool:
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


def sound(piece: Piece) -> Piece:
    """The piece, when it can be cut. Raises :class:`Refused` with what is wrong with it."""
    sentence = fault(piece)
    if sentence:
        raise Refused(sentence.rstrip("."), "amount")
    return piece


# --- darts ---------------------------------------------------------------------------------------


def legs(dart: Dart, apex: Point, a: Point, b: Point) -> list[Edge]:
    """The two edges of a dart from its mouth over its apex."""
    return [
        Edge(f"{_leg_stem(dart)}.leg_a{_stroke(dart)}", Path.polyline([a, apex]), dart=dart.id, marks=dart.marks),
        Edge(f"{_leg_stem(dart)}.leg_b{_stroke(dart)}", Path.polyline([apex, b]), dart=dart.id, marks=dart.marks),
    ]


def _leg_stem(dart: Dart) -> str:
    return dart.name.removesuffix("'")


def _stroke(dart: Dart) -> str:
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
    opened = _marked_at(opened, spot, step)
    start = opened.legs(dart.id)[0]
    end = start + sum(edge.dart == dart.id for edge in opened.edges)
    forward, backward = _ring(opened, end, at), _ring(opened, at, start)
    if not forward or not backward:
        raise Refused("the dart opens there already", "to")
    closing = cmath.phase((leg_a - apex) / (leg_b - apex)) * share  # turns the second leg onto the first
    forward_stays = _stays(piece, forward, _region(forward, apex), backward)
    motion = Motion.rotation(-closing if forward_stays else closing, apex)
    moving = backward if forward_stays else forward
    region = _region(moving, apex)
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
        opened, edges=edges, darts=tuple(darts),
        features=tuple(carried(piece, f, region, motion, slashes, False) for f in piece.features),
        figures=_figures(piece, region, motion), grain=_grain(piece, region, motion),
    )  # fmt: skip
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


def _figures(piece: Piece, region: Sequence[Point], motion: Motion) -> tuple[FigureLine, ...]:
    return tuple(figure_carried(line, lambda p: motion(p) if contains(region, p) else p) for line in piece.figures)


def _grain(piece: Piece, region: Sequence[Point], motion: Motion) -> Grain:
    return piece.grain.moved(motion) if contains(region, (piece.grain.a + piece.grain.b) / 2) else piece.grain


# --- spreading -----------------------------------------------------------------------------------


def spread(
    pattern: Pattern, piece: Piece, start: Spot, end: Spot, at_start: float, at_end: float, step: str
) -> Pattern:
    """Slash from one place to another and open it: by ``at_start`` and ``at_end`` mm; 0 at one end is a hinge.

    The cloth let in belongs to the edges that were slashed; levels are bridged. The part with the fold, else with
    the grain, stays. Raises :class:`Refused`.
    """
    if at_start < 0 or at_end < 0 or at_start + at_end < 1e-6:
        raise Refused("a slash is opened by more than nothing", "amount")
    a, b = piece.where(start), piece.where(end)
    _inside(piece, [a, b])
    opened, _ = opened_at(piece, start)
    opened, _ = opened_at(opened, end)
    i, j = opened_at(opened, start)[1], opened_at(opened, end)[1]
    opened = _marked_at(_marked_at(opened, start, step), end, step) if start.edge != end.edge else opened
    first, second = _ring(opened, i, j), _ring(opened, j, i)
    if not first or not second:
        raise Refused("the line does not cross the piece", "line")
    first_stays = _stays(piece, first, _region(first), second)
    if start.edge == end.edge:
        opened = _marked_parts(opened, first, second, step)
        first, second = _ring(opened, i, j), _ring(opened, j, i)
    # seen from the start the first part lies on the left of the line; the moving part goes away from it
    side = unit(b - a) * (1j if first_stays else -1j)
    motion = _opening(a, b, side, at_start, at_end)
    moving = second if first_stays else first
    region = _region(moving)
    turned = [edge.moved(motion) for edge in moving]
    first, second = (first, turned) if first_stays else (turned, second)
    for before, behind in ((first, second), (second, first)):
        gap = Path.polyline([before[-1].path.end, behind[0].path.start])
        if gap.length > 1e-6:
            before[-1] = before[-1].let_in(gap, at_end=True)
    slash = [Path.polyline([a, b])]
    changed = replace(
        opened, edges=from_first((*first, *second), opened.edges), grain=piece.grain,
        features=tuple(carried(piece, f, region, motion, slash, True) for f in piece.features),
        figures=_figures(piece, region, motion),
    )  # fmt: skip
    done = pattern.with_piece(sound(changed))
    for spot in (start, end):
        done = _divided(done, spot, step) if start.edge != end.edge else done
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


# --- cutting -------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class CutLine:
    """Where a piece is cut: from one end over points to the other. An end is a place, or a dart (its point)."""

    start: Spot | Dart
    end: Spot | Dart
    through: tuple[Point, ...] = ()


def cut_piece(
    pattern: Pattern, piece: Piece, line: CutLine, step: str, labels: tuple[str, str] = ("", ""), seam: str = ""
) -> Pattern:
    """Cut a piece in two along a line; the two cut edges are sewn together again by the seam ``step.seam``.

    The part to the left of the line, seen from its start, is ``step.1``, the other ``step.2``; the cut edges are
    ``step.cut`` with the marks ``stepa`` and ``stepb``. A cut that ends on a dart takes its legs as seam edges;
    one along a contour dart takes its two sides; one across a dart closes it in the part with its mouth. Of a half
    on the fold, the part without the fold becomes a pair. Raises :class:`Refused`.
    """
    a, b = _end_point(piece, line.start), _end_point(piece, line.end)
    points = [a, *line.through, b]
    crossed = _crossed_dart(piece, points, (line.start, line.end))
    _inside(piece, points, crossed)
    opened = piece
    for end in (line.start, line.end):
        if isinstance(end, Spot):
            opened, _ = opened_at(opened, end)
    i, j = _corner(opened, line.start), _corner(opened, line.end)
    first, second = _ring(opened, i, j), _ring(opened, j, i)
    if not first or not second or i == j:
        raise Refused("the line does not cross the piece", "line")
    sides = _cut_edges(step, *_two_sides(opened, points, first))
    if crossed is not None:
        (first, second), sides, opened = _across_dart(opened, crossed, first, second, points, step)
    freed = {end.id for end in (line.start, line.end) if isinstance(end, Dart)}
    made = [
        _part(opened, edges, sides[number], number, step, freed, labels[number])
        for number, edges in enumerate((first, second))
    ]
    done = _replaced(pattern, piece, made)
    for end in (line.start, line.end):
        if isinstance(end, Spot):
            done = _divided_elsewhere(done, end, step, {part.name for part in made})
    return replace(done, seams=(*done.seams, _cut_seam(line, step, seam or f"{piece.label}, cut")))


def _end_point(piece: Piece, end: Spot | Dart) -> Point:
    return piece.where(end) if isinstance(end, Spot) else piece.legs(end.id)[2]


def _corner(piece: Piece, end: Spot | Dart) -> int:
    """The index of the edge that begins at an end: of a dart, its second leg."""
    if isinstance(end, Spot):
        return opened_at(piece, end)[1]
    index = piece.legs(end.id)[0]
    name = piece.edges[index].name
    while piece.edges[index].name == name and piece.edges[index].dart == end.id:
        index = (index + 1) % len(piece.edges)
    return index


def _inside(piece: Piece, points: Sequence[Point], crossed: Dart | None = None) -> None:
    """Raise :class:`Refused` when a line leaves the piece, only touches it, or runs along its edge."""
    line = shapely.LineString([(p.real, p.imag) for p in points])
    if line.length < 2 * CLEAR:
        raise Refused("the line is too short to cut along", "line")
    shape: shapely.Polygon | shapely.MultiPolygon = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
    if crossed is not None:
        _, a, apex, b = piece.legs(crossed.id)
        wedge = shapely.Polygon([(p.real, p.imag) for p in (a, apex, b)])
        joined = shape.union(wedge.buffer(0.02))
        if isinstance(joined, shapely.Polygon | shapely.MultiPolygon):
            shape = joined
    if not shape.buffer(0.05).covers(line):
        raise Refused("the line leaves the piece", "line")
    middle = shapely.ops.substring(line, 1.5, line.length - 1.5) if line.length > 3 else line
    ring = shape.exterior if isinstance(shape, shapely.Polygon) else shape.boundary
    if ring.distance(middle) < 1e-3 or middle.intersection(ring.buffer(TOUCH)).length > 4.0:
        raise Refused("the line only touches the piece or runs along its edge", "line")
    if not line.is_simple:
        raise Refused("the line crosses itself", "line")


def _crossed_dart(piece: Piece, points: Sequence[Point], ends: tuple[Spot | Dart, Spot | Dart]) -> Dart | None:
    """The dart whose two legs a line crosses. Raises :class:`Refused` for more than one, or for half a dart."""
    line = shapely.LineString([(p.real, p.imag) for p in points])
    found = []
    for dart in piece.darts:
        if dart in ends:
            continue
        _, a, apex, b = piece.legs(dart.id)
        hits = [line.crosses(shapely.LineString([(p.real, p.imag) for p in leg])) for leg in ((a, apex), (apex, b))]
        if all(hits):
            found.append(dart)
        elif any(hits):
            raise Refused(say("the line runs into the {label}", label=dart.label), "line")
    if len(found) > 1:
        raise Refused(
            say(
                "the line runs across two darts: the {label} and the {label_2}",
                label=found[0].label,
                label_2=found[1].label,
            ),
            "line",
        )
    return found[0] if found else None


def _two_sides(piece: Piece, points: list[Point], first: Sequence[Edge]) -> tuple[Path, Path]:
    """The line of a cut for its two parts: the same, but along a contour dart each takes its side."""
    lines: list[list[Point]] = [list(points), list(points)]
    region = _region(first, *reversed(points[1:-1]))
    for feature in piece.features:
        if feature.kind != "contour_dart":
            continue
        top, one, low, other = (piece.where(bit.a) for bit in feature.bits)
        whole = Path.polyline(points)
        if whole.nearest(top)[0] > REACH or whole.nearest(low)[0] > REACH:
            continue
        along = [whole.nearest(p)[1] for p in (top, low)]
        tips = (top, low) if along[0] < along[1] else (low, top)
        sides = (one, other) if contains(region, one) else (other, one)
        for line, side in zip(lines, sides, strict=True):
            kept = [p for p in line if not min(along) - REACH < whole.nearest(p)[1] < max(along) + REACH]
            before = [p for p in kept if whole.nearest(p)[1] <= min(along)]
            line[:] = [*before, tips[0], side, tips[1], *kept[len(before) :]]
    return Path.polyline(lines[0]), Path.polyline(lines[1])


def _cut_edges(step: str, *lines: Path) -> tuple[list[Edge], list[Edge]]:
    """The cut edge of either part, from the start of the cut to its end."""
    first, second = (
        [Edge(f"{step}.cut", line, marks=frozenset({f"{step}.{n + 1}", f"{step}{'ab'[n]}"}))]
        for n, line in enumerate(lines)
    )
    return first, second


def _across_dart(
    piece: Piece, dart: Dart, first: list[Edge], second: list[Edge], points: list[Point], step: str
) -> tuple[tuple[list[Edge], list[Edge]], tuple[list[Edge], list[Edge]], Piece]:
    """The parts of a cut across a dart: closed in the part with its mouth, open towards the cut in the other."""
    _, _, apex, _ = piece.legs(dart.id)
    mouth_first = any(edge.dart == dart.id for edge in first)
    holder, rest = (first, second) if mouth_first else (second, first)
    where = [n for n, edge in enumerate(holder) if edge.dart == dart.id]
    before, behind = holder[: where[0]], holder[where[-1] + 1 :]
    leg_a, leg_b = holder[where[0]], holder[where[-1]]
    path = Path.polyline(points if mouth_first else points[::-1])  # from the holder's first corner to its last
    (along_a, on_a), (along_b, on_b) = _meets(path, leg_a.path), _meets(path, leg_b.path)
    near, far = path.between(0.0, along_a), path.between(along_b, path.length)
    if near is None or far is None:
        raise Refused("the line runs into the point of the dart", "line")
    p, q = leg_a.path.point_at(on_a), leg_b.path.point_at(on_b)
    turn = Motion.rotation(cmath.phase((leg_a.path.start - apex) / (leg_b.path.end - apex)), apex)
    share = near.length / (near.length + far.length)
    if not mouth_first:
        share = 1 - share
    u = ((0.0, share), (share, 1.0)) if mouth_first else ((1.0, share), (share, 0.0))
    open_marks, closed_marks = (
        frozenset({f"{step}.{n + 1}", f"{step}{'ab'[n]}"}) for n in ((1, 0) if mouth_first else (0, 1))
    )

    def cut(line: Path, ends: tuple[float, float], marks: frozenset[str]) -> Edge:
        return Edge(f"{step}.cut", line, marks=marks, pairs=((0.0, ends[0]), (1.0, ends[1])))

    shut = [cut(near, u[0], closed_marks), cut(far.moved(turn), u[1], closed_marks)]
    jog = Path.polyline([p, turn(q)])
    if jog.length > 1e-6:
        shut[0] = shut[0].let_in(jog, at_end=True)
    wide = [cut(near, u[0], open_marks), *legs(dart, apex, p, q), cut(far, u[1], open_marks)]
    if not mouth_first:
        shut, wide = ([edge.reversed() for edge in reversed(edges)] for edges in (shut, wide))
        wide = [
            e
            if not e.dart
            else replace(e, name=e.name.replace("leg_a", "leg_x").replace("leg_b", "leg_a").replace("leg_x", "leg_b"))
            for e in wide
        ]
    closed = [*before, *(edge.moved(turn) for edge in behind)]
    ring = (closed, rest) if mouth_first else (rest, closed)
    return ring, ((shut, wide) if mouth_first else (wide, shut)), piece


def _meets(path: Path, leg: Path) -> tuple[float, float]:
    """Where a line crosses a straight leg: along the line and along the leg, in mm."""
    for along, point in path.crossings(leg.start, leg.end):
        off, on = leg.nearest(point)
        if off < 1e-3:
            return along, on
    raise Refused("the line misses the leg of the dart", "line")


def _part(
    piece: Piece, edges: Sequence[Edge], side: Sequence[Edge], number: int, step: str, freed: set[str], label: str
) -> Piece:
    """One part of a cut piece, with its cut edge (given from the start of the cut to its end)."""
    mark = f"{step}.{number + 1}"
    kept = [
        replace(edge, dart="", marks=edge.marks | {mark}) if edge.dart in freed else edge.marked(mark) for edge in edges
    ]
    path = Path.join(edge.path for edge in side if not edge.dart)
    ring = [*kept, *([edge.reversed() for edge in reversed(side)] if number == 0 else side)]
    region = _region(ring)
    darts = {edge.dart for edge in ring if edge.dart}
    part = replace(
        piece, edges=tuple(ring), marks=piece.marks | {mark}, label=label or f"{piece.label} {number + 1}",
        darts=tuple(d for d in piece.darts if d.id in darts), features=(), notches=(), figures=(),
    )  # fmt: skip
    features = [kept_inside(piece, f, region, path, f"{step}.cut") for f in piece.features]
    whole = bool(piece.fold) and not part.fold
    figures = [line for line in piece.figures
               if all(part.holds_spot(e) if isinstance(e, Spot) else contains(region, e) for e in (line.bit.a, line.bit.b))]  # fmt: skip
    part = replace(
        part, features=tuple(f for f in features if f is not None), figures=tuple(figures),
        notches=tuple(n for n in piece.notches if part.on_edge(Spot(n.edge, n.u)) is not None),
        pair=piece.pair or whole,
        cuts=tuple(Cut(c.cloth, c.count * 2) for c in piece.cuts) if whole else piece.cuts,
        grain=_grain_in(piece, region),
    )  # fmt: skip
    return sound(from_first_piece(part, piece))


def from_first_piece(part: Piece, piece: Piece) -> Piece:
    """The part with its round begun where the whole piece's began, when that edge is there."""
    return part.with_edges(from_first(part.edges, piece.edges))


def _grain_in(piece: Piece, region: Sequence[Point]) -> Grain:
    """The grain line moved into a part when its middle is not in it."""
    middle = (piece.grain.a + piece.grain.b) / 2
    if contains(region, middle):
        return piece.grain
    shape = shapely.Polygon([(p.real, p.imag) for p in region])
    inner = shape.representative_point()
    to = complex(inner.x, inner.y)
    half = min(abs(piece.grain.b - piece.grain.a) / 2, math.sqrt(shape.area) / 3)
    along = unit(piece.grain.b - piece.grain.a) * half
    return replace(piece.grain, a=to - along, b=to + along)


def _replaced(pattern: Pattern, piece: Piece, parts: Sequence[Piece]) -> Pattern:
    pieces: list[Piece] = []
    for one in pattern.pieces:
        pieces += parts if one.name == piece.name else [one]
    return replace(pattern, pieces=tuple(pieces))


def _divided_elsewhere(pattern: Pattern, spot: Spot, step: str, parts: set[str]) -> Pattern:
    """What lies of a cut run on other pieces is marked by the side it is on, as the parts are."""
    pieces = []
    for piece in pattern.pieces:
        pieces.append(piece if piece.name in parts else _marked_at(piece, spot, step))
    return replace(pattern, pieces=tuple(pieces))


def _cut_seam(line: CutLine, step: str, label: str) -> Seam:
    """The seam that sews the two sides of a cut together again, from its start to its end."""
    layers = []
    for number, own in enumerate("ab"):
        parts = [Part(Reference(f"{step}.cut", frozenset({f"{step}{own}"})))]
        if isinstance(line.start, Dart):  # at the start the left part has the second leg, at the end the first
            parts.insert(0, _leg(line.start, "b" if number == 0 else "a", backwards=number == 0))
        if isinstance(line.end, Dart):
            parts.append(_leg(line.end, "a" if number == 0 else "b", backwards=number == 0))
        layers.append(tuple(parts))
    return Seam(f"{step}.seam", label, (layers[0], layers[1]))


def _leg(dart: Dart, leg: str, *, backwards: bool) -> Part:
    return Part(Reference(f"{_leg_stem(dart)}.leg_{leg}", dart.marks, bool(_stroke(dart))), backwards)
