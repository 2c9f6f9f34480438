"""The verbs that move the ends of a run along its neighbours and draw it anew; and that widen a piece from a level down."""

from __future__ import annotations

import cmath
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from caddet.core.geometry.paths import Path, arcs_as_cubics
from caddet.core.geometry.roots import root_between
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, cross, dot, inverse, smooth, unit
from caddet.core.pattern.closed import shut_darts
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, Feature
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.surgery import edge_on, sound
from caddet.core.sentences import Length, say

LEFT = 10.0  # mm of a neighbour that stay when an end slides along it
LOW = 20.0  # mm above the hem at least
ROUND = 40.0  # mm to either side of a kink that are drawn smooth


@dataclass(frozen=True, slots=True)
class Block:
    """A run in the outline with the darts in it: first and last edge, and the edges before and behind it."""

    first: int
    last: int
    before: int
    behind: int


def block_of(piece: Piece, key: str) -> Block:
    """Where a run stands in the outline. Raises :class:`Refused` when it is in several places."""
    count = len(piece.edges)
    mine = [n for n, edge in enumerate(piece.edges) if edge.name == key]
    if not mine:
        raise Refused(say("there is no such edge on the {piece}", piece=piece.label.lower()), "edges")

    def inside(n: int) -> bool:
        """Whether an edge is of the run, or a leg of a dart in it."""
        return piece.edges[n % count].name == key or bool(piece.edges[n % count].dart)

    first = mine[0]
    while inside(first - 1) and (first - 1) % count != mine[-1]:
        first -= 1
    last = first
    while inside(last + 1) and (last + 1 - first) < count:
        last += 1
    if any((n - first) % count > last - first for n in mine):
        raise Refused(say("the edge lies in several places on the {piece}", piece=piece.label.lower()), "edges")
    return Block(first % count, last % count, (first - 1) % count, (last + 1) % count)


# from an edge, its end, its way there, by mm: how it is carried on
Beyond = Callable[[Edge, Point, Point, float], Path]


def straight_on(edge: Edge, end: Point, way: Point, by: float) -> Path:
    """An edge carried on as it arrives."""
    del edge
    return Path.polyline([end, end + way * by])


def slid(edge: Edge, by: float, *, at_end: bool, beyond: Beyond = straight_on) -> Edge:
    """An edge cut shorter at one end of its path by so many mm, or carried on there (negative), straight by itself.

    What is left keeps its positions; those of what was cut off lie at the new end.
    """
    length = edge.path.length
    if by > length - LEFT:
        raise Refused(say("the edge beside it is only {length} long", length=Length(length)), "")
    if by > 0:
        before, behind = edge.split_at(length - by if at_end else by)
        kept = before if at_end else behind
        assert kept is not None
        gone = edge.pairs[-1 if at_end else 0][1]
        pairs = (*kept.pairs, (1.0, gone)) if at_end else ((0.0, gone), *kept.pairs)
        return replace(kept, pairs=pairs)
    if by < 0:
        way = edge.path.end_direction if at_end else -edge.path.start_direction
        end = edge.path.end if at_end else edge.path.start
        more = beyond(edge, end, way, -by)
        return edge.let_in(more if at_end else more.reversed(), at_end=at_end)
    return edge


def redrawn(
    piece: Piece,
    key: str,
    before: float,
    behind: float,
    draw: Callable[[Sequence[Edge], Point, Point], Sequence[Edge]],
    beyond: Beyond = straight_on,
) -> Piece:
    """A run drawn anew between its ends, which slide along their neighbours by so many mm (into the piece's edge).

    A neighbour that is made longer is carried on as ``beyond`` says. ``draw`` gets the run's edges (with the legs of darts in it) in outline order and its new ends. Raises :class:`Refused`.
    """
    block = block_of(piece, key)
    edges, count = list(piece.edges), len(piece.edges)
    edges[block.before] = slid(edges[block.before], before, at_end=True, beyond=beyond)
    edges[block.behind] = slid(edges[block.behind], behind, at_end=False, beyond=beyond)
    size = (block.last - block.first) % count + 1
    mine = [piece.edges[(block.first + n) % count] for n in range(size)]
    new = list(draw(mine, edges[block.before].path.end, edges[block.behind].path.start))
    for n, edge in enumerate(new):
        edges[(block.first + n) % count] = edge
    return levelled(sound(piece.with_edges(edges)), piece)


TILTED = 0.3  # mm that one end of a level may lie lower than before against the other


def levelled(made: Piece, before: Piece) -> Piece:
    """A redrawn piece whose levels run as they did: one that tilts goes through its lower end, from there to the outline."""
    features = []
    for feature in made.features:
        if feature.kind == "level" and len(feature.bits) == 1 and (was := before.feature(feature.name)) is not None:
            feature = _level_again(made, before, feature, was)
        features.append(feature)
    return replace(made, features=tuple(features))


def _level_again(made: Piece, before: Piece, feature: Feature, was: Feature) -> Feature:
    (bit,), (old,) = feature.bits, was.bits
    if not all(made.holds_spot(end) for end in (bit.a, bit.b)) or not all(before.holds_spot(e) for e in (old.a, old.b)):
        return feature
    a, b = made.where(bit.a), made.where(bit.b)
    way = unit(before.where(old.b) - before.where(old.a))
    lower = cross(way, b - a)
    if abs(lower) < TILTED or abs(b - a) < 1.0:
        return feature
    down = way * 1j if dot(way * 1j, made.down) > 0 else way * -1j
    stays, from_a = (b, True) if dot(b - a, down) > 0 else (a, False)
    away = way * (-1 if from_a else 1)  # from the lower end to where the other one will be
    hits = [point for _, point in made.outline().crossings(stays - away * 2, stays + away * 5e3)]
    far = max(hits, key=lambda point: dot(point - stays, away), default=stays)
    if dot(far - stays, away) < 1.0:
        return feature
    key = min(made.runs(), key=lambda one: made.nearest_on_run(one, far)[0])
    spot = made.spot_at(key, made.nearest_on_run(key, far)[1])
    return replace(feature, bits=(Bit(spot, bit.b) if from_a else Bit(bit.a, spot),))


def mapped(path: Path, change: Callable[[Point], Point]) -> Path:
    """A path with its points carried by an affine map: exact for lines and cubics, arcs as cubics."""
    segments: list[Line | Cubic] = []
    for one in arcs_as_cubics(path).segments:
        if isinstance(one, Line):
            segments.append(Line(change(one.start), change(one.end)))
        else:
            assert isinstance(one, Cubic)
            segments.append(Cubic(change(one.start), change(one.out), change(one.into), change(one.end)))
    return Path(tuple(segments))


def carried_along(edges: Sequence[Edge], start: Point, end: Point) -> list[Edge]:
    """A run carried so that it goes from one point to another, its directions at both ends kept.

    What lies between moves by a blend of what its ends move by, level at both. Darts in it are shut first, so that
    the line runs on over them as it did; their points stay. Their legs come out straight.
    """
    shut = shut_darts(edges)
    lines = [arcs_as_cubics(edge.path.moved(motion)) for edge, motion in zip(edges, shut, strict=True) if not edge.dart]
    whole = sum(line.length for line in lines)
    first, last = start - edges[0].path.start, _turn(end - edges[-1].path.end, shut[-1])

    def by(at: float) -> tuple[Point, Point]:
        """What a place so many mm along moves by, and how that grows with every mm."""
        t = at / whole
        return first + (last - first) * (3 * t * t - 2 * t**3), (last - first) * (6 * t - 6 * t * t) / whole

    made: list[Edge] = []
    passed = 0.0
    for edge, motion in zip(edges, shut, strict=True):
        if edge.dart:
            made.append(edge)
            continue
        back, segments = inverse(motion), []
        for one in lines[sum(not e.dart for e in made)].segments:
            (move_a, grow_a), (move_b, grow_b) = by(passed), by(passed + one.length)
            passed += one.length
            out, into = (one.out, one.into) if isinstance(one, Cubic) else (one.point(1 / 3), one.point(2 / 3))
            ends = one.start + move_a, one.end + move_b
            out, into = (
                ends[0] + (out - one.start) + grow_a * abs(out - one.start),
                ends[1] + (into - one.end) - grow_b * abs(into - one.end),
            )
            segments.append(Cubic(back(ends[0]), back(out), back(into), back(ends[1])))
        made.append(edge.with_path(Path(tuple(segments))))
    return _with_straight_legs(edges, _no_wider(edges, made))


def _no_wider(edges: Sequence[Edge], made: list[Edge]) -> list[Edge]:
    """A carried run whose darts are no wider at the edge than they were: carried outwards, they would take in more."""
    for n, edge in enumerate(edges):
        if not (edge.dart and n + 1 < len(edges) and edges[n + 1].dart == edge.dart) or n + 2 >= len(made) or not n:
            continue
        a, b = made[n - 1].path.end, made[n + 2].path.start
        more = abs(b - a) - abs(edges[n + 1].path.end - edge.path.start)
        if more > 1e-6:
            by = unit(b - a) * more / 2
            apex = edge.path.end
            made[n - 1] = made[n - 1].with_path(_end_moved(made[n - 1].path, by, apex))
            made[n + 2] = made[n + 2].with_path(_end_moved(made[n + 2].path.reversed(), -by, apex).reversed())
    return made


def _end_moved(path: Path, by: Point, apex: Point) -> Path:
    """A path whose end is moved with its handle, which keeps its angle to the leg from there to the dart's point."""
    last = path.segments[-1]
    assert isinstance(last, Cubic)
    end = last.end + by
    into = end + (last.into - last.end) * unit((end - apex) / (last.end - apex))
    return Path((*path.segments[:-1], Cubic(last.start, last.out, into, end)))


def _turn(vector: Point, motion: Motion) -> Point:
    return motion(vector) - motion(0j)


def _with_straight_legs(edges: Sequence[Edge], made: list[Edge]) -> list[Edge]:
    for n, edge in enumerate(edges):
        if edge.dart and n + 1 < len(edges) and edges[n + 1].dart == edge.dart:
            made[n] = edge.with_path(Path.polyline([made[n - 1].path.end, edge.path.end]))
            made[n + 1] = edges[n + 1].with_path(Path.polyline([edges[n + 1].path.start, made[n + 2].path.start]))
    return made


def squared(edges: Sequence[Edge], start: Point, end: Point, ways: tuple[Point, Point]) -> list[Edge]:
    """A run of one edge drawn as one smooth curve with these directions at its ends."""
    if len(edges) > 1:
        return carried_along(edges, start, end)
    return [edges[0].with_path(Path((smooth(start, ways[0], end, ways[1]),)))]


def rounded(path: Path, at: float, reach: float = ROUND) -> Path:
    """A path with a corner at ``at`` mm drawn smooth over so many mm to either side."""
    return rounded_between(path, at, at, reach)


def rounded_between(path: Path, low: float, high: float, reach: float = ROUND) -> Path:
    """A path drawn smooth from ``reach`` mm before one place on it to as much behind another."""
    reach = min(reach, low - 1.0, path.length - high - 1.0)
    if reach < 2.0:
        return path
    first, last = path.between(0.0, low - reach), path.between(high + reach, path.length)
    assert first is not None and last is not None
    curve = smooth(first.end, first.end_direction, last.start, last.start_direction)
    return Path((*first.segments, curve, *last.segments))


def end_turned(path: Path, angle: float, *, at_end: bool) -> Path:
    """A curve with its direction at one end turned by so many radians; the ends stay, and so does a straight one."""
    whole = path if at_end else path.reversed()
    last = arcs_as_cubics(whole).segments[-1]
    if not isinstance(last, Cubic):
        return path
    turn = cmath.rect(1.0, angle)
    bent = Path((*whole.segments[:-1], replace(last, into=last.end + (last.into - last.end) * turn)))
    return bent if at_end else bent.reversed()


def smoothed(path: Path, at: float, reach: float) -> Path:
    """A path with a corner at ``at`` mm drawn smooth over ``reach`` mm to either side, as long as it was.

    The curve is as full as that takes; where none is, or there is no room, the path as it is.
    """
    reach = min(reach, at - 1.0, path.length - at - 1.0)
    first, last = path.between(0.0, at - reach), path.between(at + reach, path.length)
    if reach < 5.0 or first is None or last is None:
        return path

    def curve(fullness: float) -> Cubic:
        """The curve from one end of what is smoothed to the other."""
        return smooth(first.end, first.end_direction, last.start, last.start_direction, fullness)

    full = root_between(lambda fullness: curve(fullness).length - 2 * reach, 0.3, 4.0, 1e-9)
    return path if full is None else Path((*first.segments, curve(full), *last.segments))


def widened(piece: Piece, runs: Sequence[str], hem: str, level: float, amount: float) -> Piece:
    """A piece wider by ``amount`` mm at its hem on each of some runs, growing evenly from a height down; the hem follows.

    What lies between the runs (a crease, the grain) stays. Negative narrows. Raises :class:`Refused`.
    """
    block = block_of(piece, hem)
    edges, count = list(piece.edges), len(piece.edges)
    size = (block.last - block.first) % count + 1
    a, b = piece.edges[block.first].path.start, piece.edges[block.last].path.end
    if abs(b.real - a.real) < 40.0:
        raise Refused(say("its hem does not run across it"), "pieces")
    middle = (a + b) / 2
    shifts = {}
    for index, corner in ((block.before, a), (block.behind, b)):
        if edges[index].name not in runs:
            shifts[index] = 0.0
            continue
        if corner.imag - level < LOW:
            raise Refused(say("it has to begin at least {2 cm} above the hem"), "level")
        shifts[index] = amount if corner.real > middle.real else -amount
        edges[index] = _swung(edges[index], level, shifts[index], corner.imag, at_end=index == block.before)
    if abs((b.real + shifts[block.behind]) - (a.real + shifts[block.before])) < 40.0 or (
        ((b.real + shifts[block.behind]) - (a.real + shifts[block.before])) * (b.real - a.real) < 0
    ):
        raise Refused(say("the hem would be narrower than {4 cm}"), "amount")
    ways = []
    for index, at_end in ((block.before, True), (block.behind, False)):
        old, new = piece.edges[index], edges[index]
        # as long as it was, so that it still meets what it is sewn to; the hem leaves it square, as it was square before
        edges[index] = slid(new, new.path.length - old.path.length, at_end=at_end)
        was = old.path.end_direction if at_end else old.path.start_direction
        now = edges[index].path.end_direction if at_end else edges[index].path.start_direction
        hem_way = (
            piece.edges[block.first].path.start_direction if at_end else piece.edges[block.last].path.end_direction
        )
        ways.append(hem_way * now / was)
    start, end = edges[block.before].path.end, edges[block.behind].path.start
    hems = squared([edges[(block.first + n) % count] for n in range(size)], start, end, (ways[0], ways[1]))
    for n, edge in enumerate(hems):
        edges[(block.first + n) % count] = edge
    return sound(piece.with_edges(edges))


def _swung(edge: Edge, level: float, by: float, low: float, *, at_end: bool) -> Edge:
    """An edge whose part below a level leans outwards, by so many mm at the height ``low`` where it ends."""
    path = arcs_as_cubics(edge.path if at_end else edge.path.reversed())  # down to the hem
    hits = path.crossings(complex(-1e5, level), complex(1e5, level))
    at = max((along for along, _ in hits), default=0.0)
    slope = by / (low - level)

    def lean(p: Point) -> Point:
        """A point below the level moved outwards."""
        return p + slope * (p.imag - level)

    upper, lower = path.split_at(at) if at > 1e-6 else (None, path)
    if lower is None or low - lower.start.imag < LOW:
        raise Refused(say("it has to begin at least {2 cm} above the hem"), "level")
    down = mapped(
        lower,
        lean if upper is not None else (lambda p: p + by * (p.imag - lower.start.imag) / (low - lower.start.imag)),
    )
    if upper is None:
        return edge.with_path(down if at_end else down.reversed())
    whole = Path.join([upper, down])
    smoothed = rounded(whole, at)
    # what lies above the level keeps its place: only below it the positions are stretched
    stays = max(at - ROUND, 0.0)
    shares = [(stays / path.length, stays / smoothed.length), (at / path.length, at / smoothed.length)]
    if not at_end:
        smoothed, shares = smoothed.reversed(), [(1 - old, 1 - new) for old, new in shares]
    return edge_on(edge, smoothed, shares)
