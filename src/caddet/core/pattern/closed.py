"""Drawing with shaping closed: a line over darts, contour darts and pleats is drawn with them shut, then opened again.

So both sides of a dart stay equally long on both parts that a line makes, and the line is smooth when it is sewn. What
draws or measures across shaping asks here: a line across a piece (:func:`crossed`, :func:`drawn_closed`), and a run with
what opens into it (:func:`shut_darts`, :func:`closed_run`).
"""

from __future__ import annotations

import cmath
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from typing import Literal

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, dot, inverse, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Feature, Spot
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.sentences import say

TAKEN = 10  # places that a drawn curve is taken at between two crossings, at least so far apart:
CLEAR = 20.0  # mm
STRAIGHT = 0.05  # mm by which a line may miss a side's middle and stay straight
NEAR_TIP = 1.0  # mm of a dart's side that have to be left at its point, unless the line ends the dart:
SPENT = 0.1  # mm: less of a dart than this is not opened in the part that has its point
SAME = 1e-3  # mm


@dataclass(frozen=True, slots=True)
class Shaping:
    """A dart, contour dart or pleat that a line crosses.

    ``near`` is the side met first, ``far`` the other, both from the point (of a pleat, from its inner end) outwards;
    ``shut`` brings the far side onto the near one. ``along`` is where the line meets them, in mm from its start.
    """

    kind: Literal["dart", "contour_dart", "pleat"]
    what: Dart | Feature
    label: str
    near: Path
    far: Path
    shut: Motion
    along: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Crossed:
    """A line across a piece as it was drawn with its shaping closed, opened again.

    ``lines``: its stretches before, between and behind what it crosses; ``shapings``: what lies between them;
    ``hidden``: the way over the cloth that a pleat folds away, between its two folds (None for a dart).
    """

    lines: tuple[Path, ...]
    shapings: tuple[Shaping, ...]
    hidden: tuple[Path | None, ...]

    @property
    def length(self) -> float:
        """How long it is with darts shut and pleats open, in mm."""
        return sum(one.length for one in (*self.lines, *(path for path in self.hidden if path is not None)))


def crossed(piece: Piece, line: Path, but: Sequence[Dart | Spot] = ()) -> tuple[Shaping, ...]:
    """What a line crosses from side to side, in its order; ``but`` are darts that it ends on.

    Raises :class:`Refused` when it runs into a dart, or meets one side of it only.
    """
    found = [shaping for look in _all_shaping(piece, line, but) if (shaping := look()) is not None]
    return tuple(sorted(found, key=lambda one: one.along))


def shut_length(piece: Piece, line: Path) -> float:
    """How long a line over a piece is with the darts and contour darts shut that it crosses from side to side, in mm."""
    found = []
    for look in _all_shaping(piece, line):
        with suppress(Refused):  # it runs into one of them: measured as it lies
            found.append(look())
    return line.length - sum(one.along[1] - one.along[0] for one in found if one is not None and one.kind != "pleat")


def _all_shaping(piece: Piece, line: Path, but: Sequence[Dart | Spot] = ()) -> Iterator[Callable[[], Shaping | None]]:
    """For each dart, contour dart and pleat of a piece what says whether a line crosses it."""
    for dart in piece.darts:
        if dart not in but:
            yield partial(_dart, piece, dart, line)
    for feature in piece.features:
        if feature.kind == "contour_dart" and len(feature.bits) == 4:
            yield partial(_contour_dart, piece, feature, line)
        elif feature.kind == "pleat" and len(feature.bits) == 2:
            yield partial(_pleat, piece, feature, line)


def _meets(line: Path, side: Path) -> float | None:
    """Where a line crosses a side, in mm along the line; the side's point and the line's own ends do not count."""
    passed = 0.0
    for segment in side.segments:
        for along, point in line.crossings(segment.start, segment.end):
            t = dot(point - segment.start, unit(segment.end - segment.start))
            inside = SAME < along < line.length - SAME
            if inside and -SAME <= t <= segment.length + SAME and passed + t > SAME:
                return along
        passed += segment.length
    return None


def _sides(
    kind: Literal["dart", "contour_dart", "pleat"],
    what: Dart | Feature,
    line: Path,
    sides: tuple[Path, Path],
    shut_on: tuple[Point, Point],
) -> Shaping | None:
    """A shaping with its sides in the order in which the line meets them; ``shut_on``: what of them lies on each other."""
    hits = [_meets(line, side) for side in sides]
    if all(hit is None for hit in hits):
        return None
    label = what.label
    if hits[0] is None or hits[1] is None:
        raise Refused(say("the line runs into the {label}", label=label.lower()), "line")
    near, far = sides if hits[0] < hits[1] else sides[::-1]
    a, b = shut_on if hits[0] < hits[1] else shut_on[::-1]
    if kind == "pleat":
        turn = unit(near.end - near.start) / unit(far.end - far.start)
        shut = Motion(turn, near.start - turn * far.start)
    else:
        shut = Motion.rotation(cmath.phase((a - near.start) / (b - near.start)), near.start)
    return Shaping(kind, what, label, near, far, shut, (min(hits[0], hits[1]), max(hits[0], hits[1])))


def _dart(piece: Piece, dart: Dart, line: Path) -> Shaping | None:
    index, _, _, _ = piece.legs(dart.id)
    own: list[Edge] = []
    count, at = len(piece.edges), index
    while piece.edges[at].dart == dart.id and len(own) < count:
        own.append(piece.edges[at])
        at = (at + 1) % count
    first = Path.join(edge.path for edge in own if edge.name == own[0].name).reversed()
    second = Path.join(edge.path for edge in own if edge.name != own[0].name)
    return _sides("dart", dart, line, (first, second), (first.end, second.end))


def _contour_dart(piece: Piece, feature: Feature, line: Path) -> Shaping | None:
    top, one, low, other = (piece.where(bit.a) for bit in feature.bits)
    for tip, end in ((top, low), (low, top)):  # shut from the point on whose side of its widest place it is crossed
        sides = Path.polyline([tip, one, end]), Path.polyline([tip, other, end])
        shaping = _sides("contour_dart", feature, line, sides, (one, other))
        if shaping is None or _middle(shaping, line) <= shaping.near.segments[0].length:
            return shaping
    return shaping


def _middle(shaping: Shaping, line: Path) -> float:
    """How far from its point a line crosses a shaping, in the middle of both sides, in mm."""
    sides = zip((shaping.near, shaping.far), shaping.along, strict=True)
    return sum(side.nearest(line.point_at(at))[1] for side, at in sides) / 2


def _pleat(piece: Piece, feature: Feature, line: Path) -> Shaping | None:
    ends = [(piece.where(bit.a), piece.where(bit.b)) for bit in feature.bits]
    first, second = (Path.polyline([inner, outer]) for outer, inner in ends)
    return _sides("pleat", feature, line, (first, second), (first.end, second.end))


def drawn_closed(
    points: Sequence[Point],
    shapings: Sequence[Shaping],
    line: Path,
    *,
    curve: bool,
    ways: tuple[Point | None, Point | None],
) -> Crossed:
    """The line through points, drawn with what it crosses shut, then opened.

    ``line`` is the line as it runs over the open piece. Over each shaping it runs smoothly when that is shut, and meets
    both sides in the middle between where it crossed them; ``curve``: it is smooth all along, with these directions at
    its ends. Raises :class:`Refused` when with the shaping shut it misses a side.
    """
    motions = [Motion()]
    for shaping in shapings:
        motions.append(motions[-1].after(shaping.shut))
    places = [(line.nearest(point)[1], point) for point in points]
    if curve:
        places = _taken(line, places, shapings)
    shut: list[tuple[float, Point, bool]] = []
    for at, point in places:
        if not any(one.along[0] < at < one.along[1] for one in shapings):
            shut.append((at, motions[sum(at >= one.along[1] for one in shapings)](point), False))
    for shaping, motion in zip(shapings, motions, strict=False):
        shut.append((shaping.along[0], motion(shaping.near.point_at(_middle(shaping, line))), True))
    shut.sort(key=lambda one: one[0])
    if curve:
        last = motions[-1].turned(ways[1]) if ways[1] is not None else None
        closed = smooth_through([point for _, point, _ in shut], ways[0], last)
    else:
        closed = _smooth_over(shut)
    cuts: list[tuple[float, Point]] = []
    for shaping, motion in zip(shapings, motions, strict=False):
        cuts.append(_on_side(closed, shaping, motion, cuts[-1][0] if cuts else 0.0))
    return _opened(closed, cuts, shapings, motions)


def _taken(line: Path, places: Sequence[tuple[float, Point]], shapings: Sequence[Shaping]) -> list[tuple[float, Point]]:
    """Places of a curve that it is drawn through again: its own, and some between, not near to what it crosses."""
    stops = [0.0, *(at for one in shapings for at in one.along), line.length]
    found = [(0.0, line.start), (line.length, line.end)]
    for low, high in zip(stops[::2], stops[1::2], strict=True):
        few = max(1, min(TAKEN, int((high - low) / CLEAR)))
        found += [(at, line.point_at(at)) for at in (low + (high - low) * n / few for n in range(1, few))]
    found += [one for one in places if all(abs(one[0] - other) > CLEAR / 2 for other, _ in found)]
    return sorted(found, key=lambda one: one[0])


def _smooth_over(places: Sequence[tuple[float, Point, bool]]) -> Path:
    """Straight from place to place, but smooth over those at shaping (True)."""
    made: list[Path] = []
    chain = [places[0][1]]
    for _, point, over in places[1:]:
        chain.append(point)
        if over:
            continue
        straight = Path.polyline([chain[0], chain[-1]])
        bent = any(straight.nearest(one)[0] > STRAIGHT for one in chain[1:-1])
        made.append(smooth_through(chain, None, None) if bent else straight)
        chain = [point]
    return Path.join(made)


def _on_side(closed: Path, shaping: Shaping, motion: Motion, behind: float) -> tuple[float, Point]:
    """Where a line drawn with its shaping shut meets a side: along the line, and the place on the line."""
    for segment in shaping.near.moved(motion).segments:
        for along, point in closed.crossings(segment.start, segment.end):
            t = dot(point - segment.start, unit(segment.end - segment.start))
            off = abs(point - motion(shaping.near.start))
            clear = off > NEAR_TIP or (shaping.kind == "dart" and off < SPENT)
            if along > behind - SAME and -SAME <= t <= segment.length + SAME and clear:
                return along, point
    raise Refused(say("the line runs into the point of the {label}", label=shaping.label.lower()), "line")


def _opened(
    closed: Path, cuts: Sequence[tuple[float, Point]], shapings: Sequence[Shaping], motions: Sequence[Motion]
) -> Crossed:
    lines: list[Path] = []
    hidden: list[Path | None] = []
    stops = [0.0, *(along for along, _ in cuts), closed.length]
    for number, (low, high) in enumerate(pairwise(stops)):
        part = closed.between(low, high) if high - low > 1e-6 else None
        if part is None:
            raise Refused("the line runs along a dart", "line")
        lines.append(part.moved(inverse(motions[number])))
    for number, shaping in enumerate(shapings):
        if shaping.kind != "pleat":
            hidden.append(None)
            continue
        p, q = lines[number].end, lines[number + 1].start
        across = unit(shaping.near.end - shaping.near.start) * 1j
        way = lines[number].end_direction
        wide = dot(q - p, across)
        # under the fold the line runs on as on the cloth above, mirrored, to the middle of the pleat, and back
        aside = across * (wide / 2)
        down = dot(way, across)
        slope = way * (wide / 2 / down) - aside if abs(down) > 1e-6 else 0j
        middle = p + aside - slope
        hidden.append(Path.polyline([p, q]) if abs(slope) < SAME else Path.polyline([p, middle, q]))
    return Crossed(tuple(lines), tuple(shapings), tuple(hidden))


def from_tip(side: Path, point: Point) -> Path:
    """A side of a dart from its point up to a place on it, its end exactly there."""
    part = side.between(0.0, side.nearest(point)[1])
    if part is None:
        raise Refused("the line runs into the point of a dart", "line")
    last = part.segments[-1]
    return Path((*part.segments[:-1], replace(last, end=point))) if isinstance(last, Line) else part


# --- a run with what opens into it ----------------------------------------------------------------


def shut_darts(edges: Sequence[Edge]) -> list[Motion]:
    """For each edge of a run the motion that lays it on the first one's side when the darts between are shut."""
    motion, found = Motion(), []
    for n in range(len(edges)):
        found.append(motion)
        motion = motion.after(_shut_behind(edges, n))
    return found


def _shut_behind(edges: Sequence[Edge], n: int) -> Motion:
    """What an edge does to all that lies behind it: a dart's second leg is turned onto the first."""
    leg, before = edges[n], edges[n - 1] if n else None
    if not leg.dart or before is None or before.dart != leg.dart:
        return Motion()
    point = leg.path.start
    return Motion.rotation(cmath.phase((before.path.start - point) / (leg.path.end - point)), point)


def closed_up(edges: Sequence[Edge]) -> list[Edge]:
    """Edges laid end to end, with the hair between them closed."""
    found = list(edges[:1])
    for edge in edges[1:]:
        gap = found[-1].path.end - edge.path.start
        if abs(gap) > 1e-12:
            edge = edge.with_path(edge.path.moved(Motion.translation(gap)))
        found.append(edge)
    return found


def shut_run(piece: Piece, edges: Sequence[Edge]) -> tuple[list[Edge], Motion]:
    """Edges of a run in outline order with their darts shut and pleats folded, laid as the first one lies, end to end.

    Gives them without the legs and without the cloth that pleats fold away, and how what lies behind the last one moves.
    """
    motion, found = Motion(), []
    for n, edge in enumerate(edges):
        if edge.dart:
            motion = motion.after(_shut_behind(edges, n))
            continue
        rest: Edge | None = edge
        for low, high, shut in _pleats_on(piece, edge):
            if rest is None:
                break
            passed = edge.path.length - rest.path.length
            before, behind = rest.split_at(low - passed)
            rest = behind.split_at(high - low)[1] if behind is not None else None
            if before is not None and low - passed > SAME:
                found.append(before.moved(motion))
            motion = motion.after(shut)
        if rest is not None:
            found.append(rest.moved(motion))
    return closed_up(found), motion


def _pleats_on(piece: Piece, edge: Edge) -> list[tuple[float, float, Motion]]:
    """The pleats that open into an edge: from where to where along its path (mm), and what brings the far fold to the near one."""
    found = []
    for feature in piece.features:
        if feature.kind != "pleat" or len(feature.bits) != 2:
            continue
        ends = []
        for bit in feature.bits:
            at = piece.on_edge(bit.a) if isinstance(bit.a, Spot) else None
            if at is not None and piece.edges[at[0]] is edge:
                ends.append((at[1], bit))
        if len(ends) == 2:
            (low, near), (high, far) = sorted(ends, key=lambda one: one[0])
            here, there = (Path.polyline([piece.where(bit.b), piece.where(bit.a)]) for bit in (near, far))
            turn = unit(here.end - here.start) / unit(there.end - there.start)
            found.append((low, high, Motion(turn, here.end - turn * there.end)))
    return sorted(found, key=lambda one: one[0])


def closed_run(piece: Piece, key: str, at: float = 0.0) -> Path:
    """A run in its maker's direction with its darts shut, laid as the cloth lies so many mm along it.

    Raises :class:`CaddetError` when there is no such run.
    """
    run = piece.run(key)
    if len(run) == 1:
        return run[0].walked
    indices = piece.indices(piece.ref(key))
    count, step = len(piece.edges), -1 if run[0].backwards else 1
    block = [
        piece.edges[(indices[0] + step * n) % count] for n in range((step * (indices[-1] - indices[0])) % count + 1)
    ]
    if any(edge.name != run[0].name and not edge.dart for edge in block):
        return Path.join(piece.walked(key))  # in stretches that lie apart
    if step < 0:
        block = [edge.reversed() for edge in block]
    shut = [(edge, motion) for edge, motion in zip(block, shut_darts(block), strict=True) if not edge.dart]
    path = Path.join(edge.path for edge in closed_up([edge.moved(motion) for edge, motion in shut]))
    passed = 0.0
    for edge, motion in shut:
        passed += edge.path.length
        if at <= passed + 1e-9:
            return path.moved(inverse(motion))
    return path.moved(inverse(shut[-1][1]))
