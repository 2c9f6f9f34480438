"""The verb that cuts a piece in two along a line, through a dart if need be."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import shapely
import shapely.ops

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Motion, Point, dot, inverse, unit
from caddet.core.pattern.carrying import Part, taken_along
from caddet.core.pattern.dividing import kept_inside
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Feature, Spot
from caddet.core.pattern.ids import Reference
from caddet.core.pattern.opened import edges_between, from_first, marked_at, opened_at, part_stays, region_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Part as SeamPart
from caddet.core.pattern.seams import Seam
from caddet.core.pattern.surgery import check_inside, leg_stem, legs, sound, stroke_of
from caddet.core.sentences import say

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
    one along a contour dart takes its two sides; one across a dart closes it in the part with its mouth. Of a half
    on the fold, the part without the fold becomes a pair. Raises :class:`Refused`.
    """
    a, b = _end_point(piece, line.start), _end_point(piece, line.end)
    points = [a, *line.through, b]
    drawn = line.path
    if drawn is None and line.curve and line.through:
        ways = _square_to_fold(piece, line.start, points[1] - a), _square_to_fold(piece, line.end, b - points[-2])
        drawn = smooth_through(points, *ways)
    seen = points if drawn is None else [drawn.start, *drawn.flattened(0.2)]
    crossed = _crossed_dart(piece, seen, (line.start, line.end))
    if crossed is not None and drawn is not None:
        raise Refused(
            say("a curved line can't run across the {dart}; draw it straight there", dart=crossed.label), "line"
        )
    check_inside(piece, seen, crossed)
    opened = piece
    for end in (line.start, line.end):
        if isinstance(end, Spot):
            opened, _ = opened_at(opened, end)
    i, j = _corner(opened, line.start), _corner(opened, line.end)
    first, second = edges_between(opened, i, j), edges_between(opened, j, i)
    if not first or not second or i == j:
        raise Refused("the line does not cross the piece", "line")
    sides = _cut_edges(step, *((drawn, drawn) if drawn is not None else _two_sides(opened, points, first)))
    wholes, back = (opened, opened), Motion()
    if crossed is not None:
        (first, second), sides, wholes, back = _across_dart(opened, crossed, first, second, points, step)
    freed = {end.id for end in (line.start, line.end) if isinstance(end, Dart)}
    made = [
        _part(wholes[number], edges, sides[number], number, step, freed, labels[number])
        for number, edges in enumerate((first, second))
    ]
    made = [one.moved(back) if whole is not opened else one for one, whole in zip(made, wholes, strict=True)]
    done = _replaced(pattern, piece, made)
    for end in (line.start, line.end):
        if isinstance(end, Spot):
            done = _divided_elsewhere(done, end, step, {part.name for part in made})
    return replace(done, seams=(*done.seams, _cut_seam(line, step, seam or f"{piece.label}, cut")))


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


def _across_dart(
    piece: Piece, dart: Dart, first: list[Edge], second: list[Edge], points: list[Point], step: str
) -> tuple[tuple[list[Edge], list[Edge]], tuple[list[Edge], list[Edge]], tuple[Piece, Piece], Motion]:
    """The parts of a cut across a dart: closed in the part with its mouth, open towards the cut in the other.

    Gives the edges of both parts, their cut edges, for each the piece as it lies with the dart so, and the motion that
    brings the closed part back to where what stays of it was.
    """
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
        """One part of the cut edge."""
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
    region = region_of(behind, path.end, q, apex) if behind else []
    lies = {id(edge) for edge in behind}
    inner = points[1:-1] if not mouth_first else points[-2:0:-1]
    holds = Part.inside(region_of(holder, *inner), turn).holds
    mine = [one for one in piece.features if any(holds(middle) for middle in _middles(piece, one))]
    turned = taken_along(
        replace(piece, features=tuple(mine)),
        [edge.moved(turn) if id(edge) in lies else edge for edge in piece.edges],
        [Part.inside(region, turn)],
        slashes=[leg_a.path, leg_b.path],
    )
    back = inverse(turn) if part_stays(piece, behind, region, before) else Motion()
    closed = [*before, *(edge.moved(turn) for edge in behind)]
    ring = (closed, rest) if mouth_first else (rest, closed)
    wholes = (turned, piece) if mouth_first else (piece, turned)
    return ring, ((shut, wide) if mouth_first else (wide, shut)), wholes, back


def _middles(piece: Piece, feature: Feature) -> list[Point]:
    """The middles of a feature's lines, where their cloth is there."""
    bits = [bit for bit in feature.bits if piece.holds_spot(bit.a) and piece.holds_spot(bit.b)]
    return [(piece.where(bit.a) + piece.where(bit.b)) / 2 for bit in bits]


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
    region = region_of(ring)
    darts = {edge.dart for edge in ring if edge.dart}
    part = replace(
        piece,
        edges=tuple(ring),
        marks=piece.marks | {mark},
        label=label or f"{piece.label} {number + 1}",
        darts=tuple(d for d in piece.darts if d.id in darts),
        features=(),
        notches=(),
        figures=(),
    )
    features = [kept_inside(piece, f, region, path, f"{step}.cut") for f in piece.features]
    whole = bool(piece.fold) and not part.fold
    strokes = {edge.name.endswith("'") for edge in edges if not edge.dart}
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
        grain=_grain_in(piece, region),
        side=piece.side if len(strokes) != 1 or not _has_both(piece) else "right" if True in strokes else "left",
    )
    return sound(from_first_piece(part, piece))


def _has_both(piece: Piece) -> bool:
    """Whether a whole piece was made of a half and its counterpart, so that its edges tell the side they lie on."""
    return {edge.name.endswith("'") for edge in piece.edges if not edge.dart} == {True, False}


def from_first_piece(part: Piece, piece: Piece) -> Piece:
    """The part with its round begun where the whole piece's began, when that edge is there."""
    return part.with_edges(from_first(part.edges, piece.edges))


def _grain_in(piece: Piece, region: Sequence[Point]) -> Grain:
    """The grain line moved into a part, and made shorter, when it does not lie in it."""
    if all(contains(region, p) for p in (piece.grain.a, (piece.grain.a + piece.grain.b) / 2, piece.grain.b)):
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
    return SeamPart(Reference(f"{leg_stem(dart)}.leg_{leg}", dart.marks, bool(stroke_of(dart))), backwards)
