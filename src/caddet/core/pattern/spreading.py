"""The verbs that let cloth in along several lines of a piece, or take it out; and edges drawn fair again across them."""

from __future__ import annotations

import cmath
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.offset import ending_at
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.dart_forms import move_point
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.opened import Opened, edges_between, opened, opened_at
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import ROUND, rounded_between, slid, smoothed
from caddet.core.pattern.surgery import check_inside, edge_on, in_one, sound, spread
from caddet.core.sentences import say

SWUNG = 0.1  # radians by which an edge turns over an opening, from which all of it is drawn anew
MEANT = 0.5  # radians by which an edge turns at a corner that was drawn
CLOSE = 5.0  # mm: two lines of one piece that begin nearer to each other leave no part between them


def run_spot(piece: Piece, keys: Sequence[str], share: float) -> Spot:
    """A place at a share of several runs taken together, in outline order as they lie behind each other."""
    order = [key for key in piece.runs() if key in keys]
    lengths = [piece.run_length(key) for key in order]
    at = share * sum(lengths)
    for key, length in zip(order, lengths, strict=True):
        if at <= length or key == order[-1]:
            forward = not piece.run(key)[0].backwards
            return piece.spot_at(key, min(max(at if forward else length - at, 0.0), length))
        at -= length
    raise AssertionError("unreachable: a piece has runs")


def lines_cross(piece: Piece, lines: Sequence[tuple[Spot, Spot]]) -> bool:
    """Whether two of some lines across a piece cross."""
    ends = [(piece.where(a), piece.where(b)) for a, b in lines]
    for n, (a, b) in enumerate(ends):
        for c, d in ends[n + 1 :]:
            if min(abs(b - a), abs(d - c)) < 1e-6:
                continue
            one, other = ((c - a) / (b - a)).imag, ((d - a) / (b - a)).imag
            three, four = ((a - c) / (d - c)).imag, ((b - c) / (d - c)).imag
            if one * other < -1e-9 and three * four < -1e-9:
                return True
    return False


def _apart(piece: Piece, lines: Sequence[tuple[Spot, Spot]]) -> None:
    """Raise :class:`Refused` when lines cross, are too short, or leave no part between them."""
    ends = [(piece.where(a), piece.where(b)) for a, b in lines]
    if any(abs(b - a) < CLOSE for a, b in ends):
        raise Refused(say("a line is too short to slash along"), "lines")
    if lines_cross(piece, lines):
        raise Refused(say("two of the lines cross"), "lines")
    for n, (a, b) in enumerate(ends):
        if any(max(abs(a - c), abs(b - d)) < CLOSE for c, d in ends[n + 1 :]):
            raise Refused(say("two of the lines lie on each other"), "lines")


def spread_lines(
    pattern: Pattern, piece: Piece, lines: Sequence[tuple[Spot, Spot]], at_start: float, at_end: float
) -> Pattern:
    """Slash a piece along lines and open each by so many mm at its two ends; the runs stay whole. Raises :class:`Refused`."""
    _apart(piece, lines)
    for start, end in lines:
        pattern = spread(pattern, pattern.piece(piece.name), start, end, at_start, at_end, "")
    return pattern.with_piece(sound(in_one(pattern.piece(piece.name))))


def overlap(
    pattern: Pattern, piece: Piece, lines: Sequence[tuple[Spot, Spot]], at_start: float, at_end: float
) -> Pattern:
    """Overlap a piece along lines by so many mm at their two ends: strips or wedges of cloth are taken out.

    Raises :class:`Refused`.
    """
    _apart(piece, lines)
    for start, end in lines:
        pattern = pattern.with_piece(_overlapped(pattern.piece(piece.name), start, end, at_start, at_end))
    return pattern.with_piece(sound(in_one(pattern.piece(piece.name))))


def _overlapped(piece: Piece, start: Spot, end: Spot, at_start: float, at_end: float) -> Piece:
    a, b = piece.where(start), piece.where(end)
    check_inside(piece, [a, b])
    sides = [_beside(piece, spot, width) for spot, width in ((start, at_start), (end, at_end))]
    cornered = piece
    for low, high in sides:
        for spot in dict.fromkeys((low, high)):
            cornered, _ = opened_at(cornered, spot)
    # in outline order: … start.low | taken | start.high … end.low | taken | end.high …
    (s_low, s_high), (e_low, e_high) = (tuple(opened_at(cornered, spot)[1] for spot in pair) for pair in sides)
    first, second = edges_between(cornered, s_high, e_low), edges_between(cornered, e_high, s_low)
    taken = [*edges_between(cornered, s_low, s_high), *edges_between(cornered, e_low, e_high)]
    if any(edge.dart for edge in taken if at_start + at_end > 0):
        raise Refused(say("there is a dart where cloth would be taken out"), "lines")
    if not first or not second:
        raise Refused(say("so much can't be taken out there: the parts would lie over each other"), "amount")
    cut = Opened(piece, cornered, tuple(first), tuple(second))
    stays = cut.first_stays
    (s_from, s_to), (e_from, e_to) = (
        ((low, high) if stays else (high, low))
        for low, high in ((sides[0][0], sides[0][1]), (sides[1][1], sides[1][0]))
    )
    motion = _laid(*(cornered.where(spot) for spot in (s_from, e_from, s_to, e_to)))
    corners = [[cornered.where(spot) for spot in side] for side in sides]  # before and behind both ends of the line
    strip = [Path.polyline([corners[0][n], corners[1][1 - n]]) for n in (0, 1)]
    taken_out = [corners[0][0], corners[0][1], corners[1][0], corners[1][1]]
    return sound(cut.moved(motion, _over_each_other, _over_each_other, slashes=strip, taken=taken_out))


def _over_each_other(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
    """Two edges that meet where cloth between them was taken out: its positions lie at the join."""
    gap = Path.polyline([before.path.end, behind.path.start])
    if gap.length > 1e-9:
        before = before.let_in(gap, at_end=True)
    if before.name == behind.name:
        before = replace(before, pairs=(*before.pairs, (1.0, behind.pairs[0][1])))
    return before, (), behind


def _beside(piece: Piece, spot: Spot, width: float) -> tuple[Spot, Spot]:
    """The places half a width before and behind a spot, in outline order."""
    if width < 1e-9:
        return spot, spot
    along, length = piece.along(spot), piece.run_length(spot.edge)
    low, high = along - width / 2, along + width / 2
    if low < 1.0 or high > length - 1.0:
        raise Refused(say("there is not so much to be taken out there"), "amount")
    one, other = piece.spot_at(spot.edge, low), piece.spot_at(spot.edge, high)
    return (other, one) if piece.run(spot.edge)[0].backwards else (one, other)


def _laid(from_a: Point, from_b: Point, to_a: Point, to_b: Point) -> Motion:
    """The rigid motion that lays one line on another: about an end that stays, else their middles on each other."""
    turn = unit(to_b - to_a) / unit(from_b - from_a)
    for here, there in ((from_a, to_a), (from_b, to_b)):
        if abs(here - there) < 1e-9:  # a hinge stays where it is
            return Motion.rotation(cmath.phase(turn), here)
    middle, target = (from_a + from_b) / 2, (to_a + to_b) / 2
    return Motion.translation(target - middle).after(Motion.rotation(cmath.phase(turn), middle))


# --- a part with darts in it, turned ---------------------------------------------------------------


def tilted(piece: Piece, start: Spot, end: Spot, by: float) -> Piece:
    """The part of a piece beyond a line turned about the line's end until its start is nearer by ``by`` mm (further, negative).

    The points of darts that reach over the line stay; their mouths go with the edge that they open on, and their legs are
    trued. So a fold is pinned out of a back above its waist, through the waist darts. Raises :class:`Refused`.
    """
    cut = opened(piece, start, end)
    stays = cut.first_stays
    at, hinge = piece.where(start), piece.where(end)
    if abs(by) > abs(at - hinge):
        raise Refused(say("so much can't be taken out there"), "amount")
    into = cut.first[0].path.start_direction if stays else -cut.second[-1].path.end_direction
    angle = 2 * cmath.asin(abs(by) / (2 * abs(at - hinge))).real
    turn = angle if ((at - hinge) * 1j / into).real * by > 0 else -angle

    def at_start(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
        """The part that stays, cut shorter or carried on to where the other begins now."""
        kept, met = (behind, before.path.end) if stays else (before, behind.path.start)
        if by < 0:
            gap = Path.polyline([met, kept.path.start] if stays else [kept.path.end, met])
            kept = kept.let_in(gap, at_end=not stays)
        else:
            kept = slid(kept, by, at_end=not stays)
            outwards = kept.path.reversed() if stays else kept.path
            ended = Path((*outwards.segments[:-1], *ending_at(outwards.segments[-1], met)))
            kept = kept.with_path(ended.reversed() if stays else ended)
        return (before, (), kept) if stays else (kept, (), behind)

    changed = cut.moved(
        Motion.rotation(turn, hinge),
        at_start=at_start,
        slashes=[Path.polyline([at, hinge])],
        across="bridged" if by < 0 else "gap",
    )
    moving = {edge.dart for edge in (cut.second if stays else cut.first)}
    for dart in piece.darts:
        if dart.id in moving:
            changed = move_point(changed, dart, piece.legs(dart.id)[2])
    return sound(in_one(changed))


# --- fair again -----------------------------------------------------------------------------------


def faired(piece: Piece, keys: Sequence[str], hinges: Sequence[str] = (), drawn: Piece | None = None) -> Piece:
    """The piece with opened runs drawn anew as fair curves, through the middles of their parts; darts in them stay.

    The ends and their directions stay. ``hinges`` are runs that only bend where parts of the piece turned about them: they are
    rounded there and keep their length. Corners that a run had on ``drawn``, the piece as it was, are meant and stay.
    """
    edges = list(piece.edges)
    sharp = {edge.name for edge in drawn.edges if _has_corner(edge.path)} if drawn is not None else set()
    for n, edge in enumerate(edges):
        if edge.dart or edge.finish == "fold" or edge.name in sharp:
            continue
        if edge.name in keys:
            edges[n] = _fair(edge)
        elif edge.name in hinges:
            edges[n] = _unbent(edge)
    return sound(piece.with_edges(edges))


def fair_lines(piece: Piece, now: Piece, lines: Sequence[tuple[Spot, Spot]]) -> Piece:
    """A piece that was opened along lines, drawn fair: what is longer or shorter than on ``piece``, and where it only bent."""
    changed = [
        key for key in piece.runs() if now.has_run(key) and abs(now.run_length(key) - piece.run_length(key)) > 1e-6
    ]
    return faired(now, changed, [spot.edge for line in lines for spot in line], piece)


def _has_corner(path: Path) -> bool:
    return any(abs(turn) > MEANT for _, turn in _turns(path))


def _fair(edge: Edge) -> Edge:
    """One edge drawn fair: a smooth cubic through the middles of what lies between its corners."""
    path = edge.path
    corners = _corners(path)
    if not corners:
        return edge
    turned = abs(cmath.phase(path.direction_at(corners[-1] + 0.01) / path.direction_at(corners[0] - 0.01)))
    if len(corners) == 1 or (len(corners) == 2 and turned < SWUNG):  # a hinge, a small opening: only what is near it
        return edge_on(edge, rounded_between(path, corners[0], corners[-1]))
    bounds = [0.0, *corners, path.length]
    middles = [(low + high) / 2 for low, high in pairwise(bounds) if high - low > 1e-6]
    at = [0.0, *middles, path.length]
    points = [path.point_at(one) for one in at]
    return edge.with_path(smooth_through(points, path.start_direction, path.end_direction))


def _unbent(edge: Edge) -> Edge:
    """An edge rounded at the corners that it was bent at, as long as it was."""
    path, corners = edge.path, _corners(edge.path)
    for number, corner in enumerate(corners):
        gaps = [abs(corner - other) for m, other in enumerate(corners) if m != number]
        path = smoothed(path, corner, min([ROUND, *(gap * 0.45 for gap in gaps)]))
    return edge_on(edge, path)


def _corners(path: Path) -> list[float]:
    """Where a path turns by more than a fifth of a degree, in mm along it."""
    return [at for at, turn in _turns(path) if abs(turn) > 0.0035]


def _turns(path: Path) -> list[tuple[float, float]]:
    """By how much a path turns from each of its segments to the next (radians), and how far along it (mm)."""
    found, passed = [], 0.0
    for one, other in pairwise(path.segments):
        passed += one.length
        found.append((passed, cmath.phase(other.direction(0.0) / one.direction(1.0))))
    return found
