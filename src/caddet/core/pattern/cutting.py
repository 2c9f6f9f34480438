"""The verb that cuts a piece in two along a line, through a dart if need be."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import shapely

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Point, cross, dot, unit
from caddet.core.pattern.across import STILL, Side, across
from caddet.core.pattern.closed import crossed, drawn_closed
from caddet.core.pattern.dart_forms import with_legs
from caddet.core.pattern.dividing import kept_inside
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Spot
from caddet.core.pattern.grain import moved_in
from caddet.core.pattern.ids import Reference, on_other_side
from caddet.core.pattern.opened import edges_between, from_first, marked_at, opened_at, region_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.roles import CENTRES
from caddet.core.pattern.seams import Part as SeamPart
from caddet.core.pattern.seams import Seam
from caddet.core.pattern.surgery import check_inside, leg_stem, legs, sound
from caddet.core.sentences import say

STUB = 25.0  # mm of a dart that are not left beyond a cut: no one sews them (common practice, no source)
WIDER = 2.5  # degrees by which a dart may open more where it is ended at a cut
ACROSS = 0.7  # sine of the angle at which a line crosses a dart and not runs along it
JUST_PAST = 0.02  # mm that such a dart still runs on past the line, for the two to cross; it is not opened there
REACH = 1.0  # mm within which the line of a cut meets the tip of a contour dart


@dataclass(frozen=True, slots=True)
class CutLine:
    """Where a piece is cut: from one end over points to the other. An end is a place, or a dart (its point).

    ``curve``: the line is one smooth curve through its points, square to a fold where it ends on one, not straight
    from one to the next. ``path``, where it is given, is the line itself, from end to end.
    """

    start: Spot | Dart
    end: Spot | Dart
    through: tuple[Point, ...] = ()
    curve: bool = False
    path: Path | None = None


def cut_piece(
    pattern: Pattern, piece: Piece, line: CutLine, step: str, labels: tuple[str, str] = ("", ""), seam: str = ""
) -> Pattern:
    """Cut a piece in two along a line; the two cut edges are sewn together again by the seam ``step.seam``.

    The part to the left of the line, seen from its start, is ``step.1``, the other ``step.2``; the cut edges are
    ``step.cut`` with the marks ``stepa`` and ``stepb``. A cut that ends on a dart takes its legs as seam edges;
    one along a contour dart takes its two sides; one across darts, contour darts or pleats is drawn with them closed
    (:mod:`.across`); a dart that would run on past the line by a stub ends at it. Of a half on the fold, the part without the fold becomes a pair. Raises :class:`Refused`.
    """
    a, b = _end_point(piece, line.start), _end_point(piece, line.end)
    points = [a, *line.through, b]
    drawn = line.path
    ways: tuple[Point | None, Point | None] = (None, None)
    if drawn is None and line.curve and line.through:
        ways = _square_to_fold(piece, line.start, points[1] - a), _square_to_fold(piece, line.end, b - points[-2])
        drawn = smooth_through(points, *ways)
    seen = drawn if drawn is not None else Path.polyline(points)
    ends = [end for end in (line.start, line.end) if isinstance(end, Dart)]
    along = _along_contour(piece, points)
    piece = piece if along else _without_stubs(piece, seen, ends)
    shapings = () if along else crossed(piece, seen, ends)
    check_inside(
        piece, [seen.start, *seen.flattened(0.2)], [one.what for one in shapings if isinstance(one.what, Dart)]
    )
    opened = piece
    for end in (line.start, line.end):
        if isinstance(end, Spot):
            opened, _ = opened_at(opened, end)
    i, j = _corner(opened, line.start), _corner(opened, line.end)
    first, second = edges_between(opened, i, j), edges_between(opened, j, i)
    if not first or not second or i == j:
        raise Refused("the line does not cross the piece", "line")
    if shapings:
        made_of = drawn_closed(points, shapings, seen, curve=drawn is not None, ways=ways)
        sides = [across(opened, made_of, edges, number, step) for number, edges in enumerate((first, second))]
    else:
        lines = (drawn, drawn) if drawn is not None else _two_sides(opened, points, first)
        sides = [
            Side(opened, tuple(edges), tuple(one), gone=along)
            for edges, one in zip((first, second), _cut_edges(step, *lines), strict=True)
        ]
    freed = {end.id for end in (line.start, line.end) if isinstance(end, Dart)}
    made = _named(
        piece, [_part(side, number, step, freed, labels[number]) for number, side in enumerate(sides)], labels
    )
    done = _replaced(pattern, piece, made)
    for end in (line.start, line.end):
        if isinstance(end, Spot):
            done = _divided_elsewhere(done, end, step, {part.name for part in made})
    return replace(done, seams=(*done.seams, _cut_seam(line, step, seam or f"{piece.label}, cut")))


def _without_stubs(piece: Piece, line: Path, but: Sequence[Dart]) -> Piece:
    """The piece with each dart that runs on past a line by a stub ended at the line: it can't be sewn, only eased away.

    The mouth stays, so a dart stays as it is where it would be so much wider that the edge had a corner over it.
    """
    for dart in piece.darts:
        _, a, point, b = piece.legs(dart.id)
        long = sum(edge.path.length for edge in piece.edges if edge.dart == dart.id)
        if dart in but or long > abs(a - point) + abs(b - point) + REACH:  # curved legs stay as they were drawn
            continue
        middle = (a + b) / 2
        square = unit(b - a) * 1j  # on the line square to the mouth both legs are equally long
        out = square * dot(middle - point, square)
        for along, there in line.crossings(middle, middle + square):
            past, slant = dot(there - point, unit(out)), abs(cross(line.direction_at(along), square))
            to = there - unit(out) * JUST_PAST
            wider = abs(cmath.phase((a - to) / (b - to))) - abs(cmath.phase((a - point) / (b - point)))
            if 2 * JUST_PAST < past < min(STUB, abs(out) / 2) and slant > ACROSS and math.degrees(wider) < WIDER:
                piece = with_legs(piece, dart, legs(dart, to, a, b))
                break
    return piece


def _square_to_fold(piece: Piece, end: Spot | Dart, way: Point) -> Point | None:
    """The direction square to a fold in which a curve leaves or meets it; None where it ends on another edge."""
    found = piece.on_edge(end) if isinstance(end, Spot) else None
    if found is None or piece.edges[found[0]].finish != "fold":
        return None
    square = piece.edges[found[0]].path.direction_at(found[1]) * 1j
    return square if dot(square, way) >= 0 else -square


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


def _along_contour(piece: Piece, points: Sequence[Point]) -> frozenset[str]:
    """The contour darts through both points of which a line runs, so that their sides become the edges of the cut."""
    whole, found = Path.polyline(points), set()
    for feature in piece.features:
        if feature.kind == "contour_dart" and len(feature.bits) == 4:
            top, _, low, _ = (piece.where(bit.a) for bit in feature.bits)
            if whole.nearest(top)[0] <= REACH and whole.nearest(low)[0] <= REACH:
                found.add(feature.name)
    return frozenset(found)


def _two_sides(piece: Piece, points: list[Point], first: Sequence[Edge]) -> tuple[Path, Path]:
    """The line of a cut for its two parts: the same, but along a contour dart each takes its side."""
    lines: list[list[Point]] = [list(points), list(points)]
    region = region_of(first, *reversed(points[1:-1]))
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


def _part(one: Side, number: int, step: str, freed: set[str], label: str) -> Piece:
    """One part of a cut piece."""
    piece, edges, side = one.whole, one.edges, one.cut
    mark = f"{step}.{number + 1}"
    kept = [
        replace(edge, dart="", marks=edge.marks | {mark}) if edge.dart in freed else edge.marked(mark) for edge in edges
    ]
    path = Path.join(edge.path for edge in side if not edge.dart)
    ring = [*kept, *([edge.reversed() for edge in reversed(side)] if number == 0 else side)]
    region = region_of(ring)
    darts = {edge.dart for edge in ring if edge.dart}
    part = replace(
        piece,
        edges=tuple(ring),
        marks=piece.marks | {mark},
        label=label or f"{piece.label} {number + 1}",
        darts=(*(d for d in piece.darts if d.id in darts), *one.darts),
        features=(),
        notches=(),
        figures=(),
    )
    features = [kept_inside(piece, f, region, path, f"{step}.cut") for f in piece.features if f.name not in one.gone]
    whole = bool(piece.fold) and not part.fold
    strokes = {on_other_side(edge.name) for edge in edges if not edge.dart}
    figures = [
        line
        for line in piece.figures
        if all(part.holds_spot(e) if isinstance(e, Spot) else contains(region, e) for e in (line.bit.a, line.bit.b))
    ]
    part = replace(
        part,
        features=tuple(f for f in features if f is not None),
        figures=tuple(figures),
        notches=tuple(n for n in piece.notches if part.on_edge(Spot(n.edge, n.u)) is not None),
        pair=piece.pair or whole,
        cuts=tuple(Cut(c.cloth, c.count * 2) for c in piece.cuts) if whole else piece.cuts,
        grain=moved_in(piece.grain, region),
        side=piece.side if len(strokes) != 1 or not _has_both(piece) else "right" if True in strokes else "left",
    )
    made = sound(from_first_piece(part, piece))
    return made if one.back == STILL else made.moved(one.back)


def _named(piece: Piece, parts: list[Piece], labels: tuple[str, str]) -> list[Piece]:
    """The parts with names that a maker would give: by where they lie, centre or side, upper or lower, left or right."""
    words = _where_they_lie(piece, parts)
    if not words:
        return parts
    return [
        part if given else replace(part, label=say("{piece}, {where}", piece=piece.label, where=where))
        for part, given, where in zip(parts, labels, words, strict=True)
    ]


def _where_they_lie(piece: Piece, parts: Sequence[Piece]) -> tuple[str, ...]:
    """Where two parts of a piece lie to each other; nothing when that says nothing plain."""
    middles = [_middle(part) for part in parts]
    across, down = abs(middles[1].real - middles[0].real), dot(middles[1] - middles[0], piece.down)
    if {part.side for part in parts} == {"left", "right"}:
        return tuple(say(part.side) for part in parts)
    centres = [any(edge.finish == "fold" or edge.role in CENTRES for edge in part.edges) for part in parts]
    if centres[0] != centres[1] and abs(down) < 2 * across:
        return (say("centre"), say("side")) if centres[0] else (say("side"), say("centre"))
    if abs(down) > 1.3 * across:
        return (say("upper"), say("lower")) if down > 0 else (say("lower"), say("upper"))
    return ()


def _middle(piece: Piece) -> Point:
    centre = shapely.Polygon([(p.real, p.imag) for p in piece.polygon(2.0)]).centroid
    return complex(centre.x, centre.y)


def _has_both(piece: Piece) -> bool:
    """Whether a whole piece was made of a half and its counterpart, so that its edges tell the side they lie on."""
    return {on_other_side(edge.name) for edge in piece.edges if not edge.dart} == {True, False}


def from_first_piece(part: Piece, piece: Piece) -> Piece:
    """The part with its round begun where the whole piece's began, when that edge is there."""
    return part.with_edges(from_first(part.edges, piece.edges))


def _replaced(pattern: Pattern, piece: Piece, parts: Sequence[Piece]) -> Pattern:
    pieces: list[Piece] = []
    for one in pattern.pieces:
        pieces += parts if one.name == piece.name else [one]
    return replace(pattern, pieces=tuple(pieces))


def _divided_elsewhere(pattern: Pattern, spot: Spot, step: str, parts: set[str]) -> Pattern:
    """What lies of a cut run on other pieces is marked by the side it is on, as the parts are."""
    pieces = []
    for piece in pattern.pieces:
        pieces.append(piece if piece.name in parts else marked_at(piece, spot, step))
    return replace(pattern, pieces=tuple(pieces))


def _cut_seam(line: CutLine, step: str, label: str) -> Seam:
    """The seam that sews the two sides of a cut together again, from its start to its end."""
    layers = []
    for number, own in enumerate("ab"):
        parts = [SeamPart(Reference(f"{step}.cut", frozenset({f"{step}{own}"})))]
        if isinstance(line.start, Dart):  # at the start the left part has the second leg, at the end the first
            parts.insert(0, _leg(line.start, "b" if number == 0 else "a", backwards=number == 0))
        if isinstance(line.end, Dart):
            parts.append(_leg(line.end, "a" if number == 0 else "b", backwards=number == 0))
        layers.append(tuple(parts))
    return Seam(f"{step}.seam", label, (layers[0], layers[1]))


def _leg(dart: Dart, leg: str, *, backwards: bool) -> SeamPart:
    return SeamPart(Reference(f"{leg_stem(dart)}.leg_{leg}", dart.marks, on_other_side(dart.name)), backwards)
