"""Joins: a line that crosses a seam, dart or fold must run on smoothly there.

Limit 3°, common practice: "the line that crosses it must be smooth unless it is meant as a corner".
Which lines meet at a seam's end is found through the seam.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, cross, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam
from caddet.core.sentences import say

SMOOTH = 3.0  # degrees
HOLLOW = 50.0  # mm to either side of a crossing over which its hollow is measured
ENDS = ("opening", "slit", "fold", "raw")  # finishes that no line runs on from
RUN_ON = ("hem", "facing", "binding", "casing", "turned", "joined")  # finishes that go on over a seam


@dataclass(frozen=True, slots=True)
class LineEnd:
    """An end of an edge at a join: of which piece and edge, whether its path ends there, and by how much (radians) it
    is to be turned so that the line runs on."""

    piece: str
    edge: int
    at_end: bool
    turn: float


@dataclass(frozen=True, slots=True)
class Join:
    """A line across a seam, dart or fold: by how many degrees it turns there, and the edges' ends that make it."""

    name: str
    label: str
    angle: float
    place: str
    limit: float = SMOOTH
    ends: tuple[LineEnd, ...] = ()
    seam: str = ""


def joins(pattern: Pattern) -> list[Join]:
    """Every join there is: edges across closed darts, across the fold, across the ends of plain and eased seams."""
    found: list[Join] = []
    for piece in pattern.pieces:
        found += _across_darts(piece)
        found += _across_fold(piece)
    for seam in pattern.seams_of_both_sides():
        if seam.kind in ("plain", "eased") and not seam.corners and len(seam.layers) == 2:
            found += _across_seam(pattern, seam)
    return found


def _turn(before: Point, after: Point) -> float:
    return abs(math.degrees(cmath.phase(after / before)))


def _across_darts(piece: Piece) -> list[Join]:
    found = []
    count = len(piece.edges)
    for dart in piece.darts:
        first, _, _, _ = piece.legs(dart.id)
        legs = sum(edge.dart == dart.id for edge in piece.edges)
        before, after = piece.edges[first - 1], piece.edges[(first + legs) % count]
        if before.name != after.name:
            continue
        # at its mouth the dart closes as its legs run there: a curved one by more or less than its points say
        close = piece.edges[first].path.start_direction / -piece.edges[(first + legs - 1) % count].path.end_direction
        turn = cmath.phase(after.path.start_direction * close / before.path.end_direction)
        ends = (
            LineEnd(piece.name, (first - 1) % count, True, turn / 2),
            LineEnd(piece.name, (first + legs) % count, False, -turn / 2),
        )
        label = say(
            "{label} {own} runs on over the {label_2}",
            label=piece.label,
            own=before.own.replace("_", " "),
            label_2=dart.label,
        )
        found.append(Join(dart.id, label, abs(math.degrees(turn)), before.name, ends=ends))
    return found


def _across_fold(piece: Piece) -> list[Join]:
    """The edges that leave the fold do so at a right angle."""
    found = []
    count = len(piece.edges)
    for index, edge in enumerate(piece.edges):
        if edge.finish != "fold":
            continue
        before, after = piece.edges[index - 1], piece.edges[(index + 1) % count]
        for number, (other, along, end) in enumerate(
            (
                (before, edge.path.start_direction, before.path.end_direction),
                (after, edge.path.end_direction, after.path.start_direction),
            )
        ):
            if other.finish == "fold" or other.dart:
                continue
            angle = abs(90 - _turn(along, end)) * 2
            turned = cmath.phase(end / along)
            square = math.copysign(math.pi / 2, turned) - turned
            ends = (LineEnd(piece.name, (index - 1 if number == 0 else index + 1) % count, number == 0, square),)
            label = say("{label} {own} runs on over the fold", label=piece.label, own=other.own.replace("_", " "))
            found.append(Join(f"{other.name}.fold", label, angle, other.name, ends=ends))
    return found


@dataclass(frozen=True, slots=True)
class Leaving:
    """What leaves a seam at one of its ends: the edge, its index, whether its path starts there, and its direction away
    from the seam, relative to that of the seam."""

    fragment: Fragment
    edge: Edge
    index: int
    starts: bool
    away: Point


def _neighbour(fragment: Fragment, *, at_end: bool) -> Leaving | None:
    """What leaves a seam at one end; None when a dart stands there, or the seam ends inside an edge."""
    piece, edge = fragment.piece, fragment.edge
    at_path_end = at_end != fragment.backwards
    whole = edge.path.length
    if (at_path_end and fragment.high < whole - 1e-6) or (not at_path_end and fragment.low > 1e-6):
        return None
    index = (fragment.index + 1) % len(piece.edges) if at_path_end else (fragment.index - 1) % len(piece.edges)
    other = piece.edges[index]
    if other.dart or other.finish in ENDS or other.name == edge.name:  # the run itself goes on: a godet is set in there
        return None
    away = other.path.start_direction if at_path_end else -other.path.end_direction
    along = edge.path.end_direction if at_path_end else edge.path.start_direction
    walking = -along if fragment.backwards else along
    return Leaving(fragment, other, index, at_path_end, away / walking)


def _across_seam(pattern: Pattern, seam: Seam) -> list[Join]:
    layers = [pattern.layer_fragments(layer) if all(map(pattern.fragments, layer)) else [] for layer in seam.layers]
    if not all(layers):
        return []
    one_edge = layers[0][0].edge is layers[1][0].edge
    if one_edge and layers[0][0].imagined == layers[1][0].imagined:
        return []  # panels sewn to each other round: every seam is this one
    found = []
    for at_end in (False, True):
        ends = [_neighbour(layer[-1 if at_end else 0], at_end=at_end) for layer in layers]
        if ends[0] is None or ends[1] is None or not _runs_on(pattern, ends[0], ends[1]):
            continue
        turn = sum(abs(math.degrees(cmath.phase(end.away))) for end in ends if end is not None)
        name = ends[0].edge.own
        label = say(
            "{name} runs on over the {label}", name=name.replace("_", " ").capitalize(), label=seam.label.lower()
        )
        off = math.radians(turn - 180) / 2
        line = tuple(_to_turn(end, off) for end in ends if end is not None)
        join = Join(f"{seam.name}.{name}", label, abs(180 - turn), ends[0].edge.name, ends=line, seam=seam.name)
        found.append(join)
    return found


def _to_turn(end: Leaving, off: float) -> LineEnd:
    """How a line that leaves a seam is to be turned so that its angle with the seam is ``off`` radians less."""
    return LineEnd(end.fragment.piece.name, end.index, not end.starts, -math.copysign(1.0, cmath.phase(end.away)) * off)


def _runs_on(pattern: Pattern, one: Leaving, other: Leaving) -> bool:
    """Whether two edges that meet at a seam's end are one line: finished alike, or sewn to what is one line."""
    a, b = one.edge, other.edge
    if a is b or (a.finish == b.finish and a.finish in RUN_ON and a.why == b.why):
        return True
    if a.finish or b.finish:
        return False
    number = {id(piece): n for n, piece in enumerate(pattern.pieces)}
    sewn = pattern.sewn()
    in_a = sewn.get((number[id(one.fragment.piece)], one.index), [])
    in_b = sewn.get((number[id(other.fragment.piece)], other.index), [])
    for seam, layer in in_a:
        for seam_b, layer_b in in_b:
            if seam is seam_b and layer == layer_b:
                return True
            if seam is not seam_b and len(seam.layers) == len(seam_b.layers) == 2:
                far, far_b = (pattern.layer_fragments(s.layers[1 - n]) for s, n in ((seam, layer), (seam_b, layer_b)))
                if far[0].piece is far_b[0].piece and _adjacent(far, far_b):
                    return True
    return False


def _adjacent(one: list[Fragment], other: list[Fragment]) -> bool:
    """Whether two stretches of one piece follow each other in its outline."""
    count = len(one[0].piece.edges)
    return any((a.index - b.index) % count in (1, count - 1) for a in one for b in other)


def line_from(pattern: Pattern, end: LineEnd) -> Path:
    """The line that crosses, on one side, from the crossing on."""
    path = pattern.piece(end.piece).edges[end.edge].path
    return path.reversed() if end.at_end else path


def hollow(pattern: Pattern, join: Join) -> tuple[float, float]:
    """How deep a line lies where it crosses, and over which reach to either side it is measured, in mm.

    Laid together, a straight edge goes from the line on one side to the line on the other, as far from the crossing
    along both: what lies between it and the crossing. More than 0: the line is hollow, as a neckline over the shoulder;
    less: it stands out, as the hem of a circle skirt.
    """
    lines = []
    for end in join.ends:
        edges = pattern.piece(end.piece).edges
        beside = edges[(end.edge + (1 if end.at_end else -1)) % len(edges)].path
        lines.append((line_from(pattern, end), beside if end.at_end else beside.reversed()))
    if not lines:
        return 0.0, 0.0
    reach = min(HOLLOW, *(line.length for line, _ in lines))
    # each against the seam, dart or fold that it leaves, on its own side of it; over a fold the other side is its mirror
    far = [(line.point_at(reach) - line.start) / unit(beside.start_direction) for line, beside in lines]
    one = complex(far[0].real, abs(far[0].imag))
    other = complex(far[-1].real, -abs(far[-1].imag))
    if abs(other - one) < 1e-9:
        return 0.0, reach
    return cross(one, other) / abs(other - one), reach
