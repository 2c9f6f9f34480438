"""The verb that makes a front fuller or flatter at the bust: three cuts through the bust point, opened or overlapped.

Cut up from the lower edge to the bust point and on to the armhole, from the side to the bust point, and from the centre
to it. The part by the armhole turns about a hinge on the armhole; what is below the side cut goes out by as much as
that turn carries the bust point, without turning; what is below the cut from the centre goes down as far, so that
the lower edge is level. The armhole and the side keep their lengths, the dart in the side grows or shrinks.
Common practice, no source.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass, replace

from caddet.core.geometry.offset import ending_at
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, dot, unit
from caddet.core.pattern.carrying import Part, taken_along
from caddet.core.pattern.dart_forms import fair_over, leg_indices
from caddet.core.pattern.dividing import crossings
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, Dart, Spot
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.opened import edges_between, from_first, opened_at, region_of
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import slid, smoothed
from caddet.core.pattern.surgery import edge_on, in_one, legs, sound, with_gap
from caddet.core.sentences import Length, say

STEEPEST = 0.6  # radians by which the part at the armhole turns at most
NARROWEST = 4.0  # mm across the mouth of a dart that can still be sewn
REACH = 45.0  # mm to either side of the hinge over which the armhole is drawn smooth
BELOW = 20.0  # mm below the bust point at which a side without a dart is cut
FAR = 45.0  # mm from the bust point that the point of a new dart lies
CENTRE_CUT = 12.0  # mm below the bust point at which the centre is cut


@dataclass(frozen=True, slots=True)
class Cuts:
    """Where a front is cut: the bust point, the hinge on the armhole, the darts (if any) in the side and the lower edge.

    ``lower`` is the place on the lower edge where there is no dart; ``centre`` the name of the centre edge.
    """

    point: Point
    hinge: Spot
    side: str
    side_dart: Dart | None
    lower_dart: Dart | None
    lower: Spot | None
    centre: str


def bust_changed(piece: Piece, cuts: Cuts, by: float, kept: bool, step: str) -> Piece:
    """The piece wider by ``by`` mm at the bust point and below it (narrower where negative).

    ``kept``: the dart in the lower edge takes up what comes there; else that grows as well. Raises :class:`Refused`.
    """
    arm = cuts.point - piece.where(cuts.hinge)
    reached = cmath.phase(arm)  # the bust point lies below the hinge, so that turning it moves it sideways
    along = math.cos(reached) + by / abs(arm)
    if not 0 < reached < math.pi:
        raise Refused(say("the bust point lies above the hinge on the armhole"), "by")
    most = abs(arm) * (math.cos(max(reached - STEEPEST, 0.0)) - math.cos(reached))
    if by < 0 and cuts.side_dart is None:
        raise Refused(say("there is no dart in the side to take it out of"), "by")
    if by < 0 and along <= -1:
        raise Refused(say("so much can't be taken out there"), "by")
    if by > most or along >= 1:
        raise Refused(say("so much can't be opened there, only {most} on each side", most=Length(most)), "by")
    turn = math.acos(along) - reached
    return _turned(piece, cuts, turn, kept, step)


def _turned(piece: Piece, cuts: Cuts, turn: float, kept: bool, step: str) -> Piece:
    """The piece with the part by the armhole turned about the hinge by so many radians, and the rest after it."""
    hinge = piece.where(cuts.hinge)
    upper_motion = Motion.rotation(turn, hinge)
    shift = upper_motion(cuts.point) - cuts.point
    out, drop = Motion.translation(shift), Motion.translation(complex(0, shift.imag))
    opened, side_dart = _side_opened(piece, cuts, step)
    opened, _ = opened_at(opened, cuts.hinge)
    if cuts.lower is not None:
        opened, _ = opened_at(opened, cuts.lower)
    h = opened_at(opened, cuts.hinge)[1]
    start, count = leg_indices(opened, side_dart)
    size = len(opened.edges)
    if cuts.lower_dart is not None:
        low, more = leg_indices(opened, cuts.lower_dart)
    else:
        assert cuts.lower is not None
        low, more = opened_at(opened, cuts.lower)[1], 0
    upper = edges_between(opened, h, start)
    below = edges_between(opened, (start + count) % size, low)
    rest = edges_between(opened, (low + more) % size, h)
    at = next((n for n, edge in enumerate(rest) if edge.name == cuts.centre), -1)
    if not upper or not below or at < 1 or any(edge.name == cuts.centre for edge in rest[at + 1 :]):
        raise Refused(
            say("the {piece} does not run from its armhole over the side to the centre", piece=piece.label.lower())
        )
    apex = opened.legs(side_dart.id)[2]
    upper_region, below_region = region_of(upper, cuts.point), region_of(below, cuts.point)
    lower_region = region_of(
        rest[:at], rest[at].path.point_at(0.0), complex(rest[at].path.start.real, cuts.point.imag), cuts.point
    )
    upper = [edge.moved(upper_motion) for edge in upper]
    below = [edge.moved(out) for edge in below]
    lower = [edge.moved(drop) for edge in rest[:at]]
    centre = _longer(rest[at], cuts.point.imag + CENTRE_CUT, shift.imag)
    side_legs = _dart_between(
        side_dart, upper[-1].path.end, below[0].path.start, cuts.point + shift, abs(apex - cuts.point)
    )
    lower, below, between = _lower_edge(opened, cuts, below, lower, shift, kept)
    edges = from_first((*upper, *side_legs, *below, *between, *lower, centre, *rest[at + 1 :]), opened.edges)
    parts = ((upper_region, upper_motion), (below_region, out), (lower_region, drop))

    darts = piece.darts if cuts.side_dart is not None else (*piece.darts, side_dart)
    moved = [Part.inside(region, motion) for region, motion in parts]
    changed = taken_along(opened, edges, moved, across="stretched", darts=darts)
    changed = in_one(changed)
    changed = _armhole_smooth(changed, cuts.hinge.edge, hinge)
    changed = fair_over(changed, side_dart)
    if cuts.lower_dart is not None:
        changed = fair_over(changed, cuts.lower_dart)
    return sound(_bust_line(piece, changed, cuts, upper_motion))


def _bust_line(before: Piece, piece: Piece, cuts: Cuts, upper: Motion) -> Piece:
    """The bust level over the cut from the bust point to the armhole: on both its sides as it was, and over the cloth let in."""
    features = []
    for feature in piece.features:
        was = next((f for f in before.features if f.name == feature.name), None)
        if feature.kind == "level" and was is not None and len(was.bits) == len(feature.bits) == 1:
            ends = sorted((feature.bits[0].a, feature.bits[0].b), key=lambda end: abs(piece.where(end).real))
            a, b = (before.where(end) for end in (was.bits[0].a, was.bits[0].b))
            met = crossings(a, b, Path.polyline([cuts.point, before.where(cuts.hinge)]))
            if met:
                here = a + (b - a) * met[0][0]
                there = upper(here)
                feature = replace(feature, bits=(Bit(ends[0], here), Bit(here, there), Bit(there, ends[1])))
        features.append(feature)
    return replace(piece, features=tuple(features))


def _side_opened(piece: Piece, cuts: Cuts, step: str) -> tuple[Piece, Dart]:
    """The piece with the dart in its side; without one, a corner there with legs of no width, to be opened."""
    if cuts.side_dart is not None:
        return piece, cuts.side_dart
    made = piece.made
    dart = Dart(f"{step}.{own_name(made)}.dart", say("bust dart"), "first")
    spots = []
    passed = 0.0
    for path in piece.walked(cuts.side):
        for along, _ in path.crossings(complex(-1e5, cuts.point.imag + BELOW), complex(1e5, cuts.point.imag + BELOW)):
            spots.append(piece.spot_at(cuts.side, passed + along))
        passed += path.length
    if not spots:
        raise Refused(say("the side does not reach below the bust"))
    opened, at = opened_at(piece, spots[0])
    corner = opened.edges[at].path.start
    flat = legs(dart, cuts.point + unit(corner - cuts.point) * FAR, corner, corner)
    edges = (*opened.edges[:at], *flat, *opened.edges[at:])
    return replace(opened, edges=edges, darts=(*opened.darts, dart)), dart


def _dart_between(dart: Dart, a: Point, b: Point, point: Point, short: float) -> list[Edge]:
    """The legs of the dart in the side: its point as far from the bust point as before, equally far from both ends."""
    mouth = b - a
    if abs(mouth) < NARROWEST or mouth.imag < 0:
        raise Refused(say("the dart in the side would be gone before so much is taken out"), "by")
    middle = (a + b) / 2
    toward = point + unit(middle - point) * short
    axis = unit(mouth) * 1j
    return legs(dart, middle + axis * dot(toward - middle, axis), a, b)


def _longer(edge: Edge, cut: float, by: float) -> Edge:
    """The centre edge with its part below a height further down; positions keep their distance from both ends."""
    path = edge.path
    a, b = path.start, path.end
    if abs(a.real - b.real) > 0.5 or any(not isinstance(one, Line) for one in path.segments):
        raise Refused(say("the centre is not straight there"))
    whole, below = abs(b - a), abs(a.imag - cut)
    if not 5 < below < whole - 5 or whole + by < 20:
        raise Refused(say("the centre does not reach far enough below the bust"))
    new = Path((Line(a + complex(0, by), b),))
    after = whole + by
    low = max(min(below, below + by) - 1.0, 1.0)
    shares = ((low / whole, low / after), ((below + 1.0) / whole, (below + by + 1.0) / after))
    return edge_on(edge, new, shares)


def _lower_edge(
    piece: Piece, cuts: Cuts, below: list[Edge], lower: list[Edge], shift: Point, kept: bool
) -> tuple[list[Edge], list[Edge], list[Edge]]:
    """The lower edge where it was cut: its part by the centre, its part by the side, and the legs of its dart between."""
    dart = cuts.lower_dart
    if dart is None:
        below, lower = list(below), list(lower)
        if shift.real >= 0:
            below[-1], lower[0] = with_gap(below[-1], lower[0])
        else:
            below[-1] = _met(slid(below[-1], -shift.real, at_end=True), lower[0].path.start)
        return lower, below, []
    _, a, apex, b = piece.legs(dart.id)
    down = complex(0, shift.imag)
    if kept:
        start, end = a + shift, b + down
        if abs(end - start) < NARROWEST or (end - start).real * (b - a).real < 0:
            raise Refused(say("the {label} would be gone before so much is taken out", label=dart.label), "by")
        middle, axis = (start + end) / 2, unit(end - start) * 1j
        tip = middle + axis * dot(apex + down + shift.real / 2 - middle, axis)
        return lower, below, legs(dart, tip, start, end)
    below = list(below)
    if shift.real >= 0:
        below[-1] = below[-1].let_in(Path((Line(a + shift, a + down),)), at_end=True)
    else:
        below[-1] = _met(slid(below[-1], -shift.real, at_end=True), a + down)
    return lower, below, legs(dart, apex + down, a + down, b + down)


def _met(edge: Edge, end: Point) -> Edge:
    """An edge with its end moved to a point near by."""
    return edge.with_path(Path((*edge.path.segments[:-1], *ending_at(edge.path.segments[-1], end))))


def _armhole_smooth(piece: Piece, key: str, hinge: Point) -> Piece:
    """The armhole without the corner at the hinge."""
    edges = list(piece.edges)
    for n, edge in enumerate(edges):
        if edge.name == key:
            off, along = edge.path.nearest(hinge)
            if off < 0.01:
                edges[n] = edge_on(edge, smoothed(edge.path, along, REACH))
    return piece.with_edges(edges)
