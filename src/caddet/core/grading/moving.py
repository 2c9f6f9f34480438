"""A piece whose corners are moved, its lines drawn with them.

Each line between two corners is changed by one map that keeps straight lines straight and tangents common: across and
along by proportion where it runs on in that direction, else leaning with the other one. So level stays level, upright
stays upright, what was smooth stays smooth, and moving back gives the outline again. Common practice (proportional
grading), no source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from caddet.core.geometry.curves import mapped, without_arcs
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Point, Segment
from caddet.core.grading.points import corners
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Feature, FeatureKind
from caddet.core.pattern.piece import Piece

RUNS_ON = 0.6  # of its extent in a direction that a line must get on in it to be graded by proportion there
HARDLY = 0.2  # of what it gets on in the other direction, below which it leans with that one
SHORT = 40.0  # mm: parts of a line that is bent
OWN_SIZE: frozenset[FeatureKind] = frozenset(("buttonhole", "button", "drill", "placement"))
"""What is drawn inside and is no larger on a larger size: it follows as a whole."""
LEAST = 1.0  # mm below which a line does not get on in a direction at all

Change = Callable[[Point], Point]


def moved_at_corners(piece: Piece, moves: Mapping[str, Point], like: Piece | None = None) -> Piece:
    """The piece with each named corner moved (mm); a corner that is not named stays.

    Notches, levels and places keep their share of their edges; what is drawn inside goes with the piece as a whole.
    ``like`` is the same piece in another size, by whose lines it is decided how each is graded; itself without one.
    """
    found = corners(piece)
    if not found or not any(abs(move) > 1e-12 for move in moves.values()):
        return piece
    shifts = [moves.get(one.name, 0j) for one in found]
    edges: list[Edge] = list(piece.edges)
    lines = _lines(piece)
    ways = (like or piece).kept("graded ways", lambda: [_way(_paths(like or piece, line)) for line in lines])
    for number, (one, indices, way) in enumerate(zip(found, lines, ways, strict=True)):
        after = (number + 1) % len(found)
        change = _change(way, one.at, found[after].at, shifts[number], shifts[after])
        for i in indices:
            edges[i] = edges[i].with_path(mapped(edges[i].path, change))
    return _redrawn(piece, edges, _inside([one.at for one in found], shifts))


def _lines(piece: Piece) -> list[list[int]]:
    """The edges between each corner and the next."""
    found, count = corners(piece), len(piece.edges)
    lines = []
    for number, one in enumerate(found):
        last = found[(number + 1) % len(found)].edge
        lines.append([i % count for i in range(one.edge, last if last > one.edge else last + count)])
    return lines


def _paths(piece: Piece, indices: Sequence[int]) -> list[Path]:
    return [piece.edges[i].path for i in indices]


@dataclass(frozen=True, slots=True)
class _Way:
    """How a line is graded: by its own getting on across, along, or (neither) turned and scaled as a whole."""

    across: bool
    along: bool


def _way(paths: Sequence[Path]) -> _Way:
    """By proportion where the line gets on steadily in a direction and not hardly at all beside the other one."""
    boxes, far = [path.bounds() for path in paths], paths[-1].end - paths[0].start
    wide = max(box[2] for box in boxes) - min(box[0] for box in boxes)
    high = max(box[3] for box in boxes) - min(box[1] for box in boxes)
    x, y = abs(far.real), abs(far.imag)
    return _Way(x > LEAST and x >= max(RUNS_ON * wide, HARDLY * y), y > LEAST and y >= max(RUNS_ON * high, HARDLY * x))


def _change(way: _Way, a: Point, b: Point, move_a: Point, move_b: Point) -> Change:
    """The map of one line from corner a to corner b that brings its ends to where they go."""
    far, turned = b - a, move_b - move_a
    if not way.across and not way.along:
        if abs(far) <= LEAST:
            return lambda z: z + move_a
        scale = (far + turned) / far
        return lambda z: a + move_a + (z - a) * scale

    def change(z: Point) -> Point:
        x = (z - a).real / far.real if way.across else (z - a).imag / far.imag
        y = (z - a).imag / far.imag if way.along else (z - a).real / far.real
        return z + move_a + complex(turned.real * x, turned.imag * y)

    return change


def moved_by(piece: Piece, change: Change) -> Piece:
    """The piece with all its lines and marks under one map that keeps straight lines straight."""
    return _redrawn(piece, [edge.with_path(mapped(edge.path, change)) for edge in piece.edges], change)


def bent(piece: Piece, change: Change) -> Piece:
    """The piece with all its lines under a map that bends: they are taken in short parts, whose points are moved."""
    edges = []
    for edge in piece.edges:
        parts = [part for segment in edge.path.segments for part in _short(segment)]
        moved = [Cubic(change(p.start), change(p.out), change(p.into), change(p.end)) for p in parts]
        edges.append(edge.with_path(Path(tuple(moved))))
    return _redrawn(piece, edges, change)


def _redrawn(piece: Piece, edges: Sequence[Edge], inside: Change) -> Piece:
    """The piece with new edges; what is drawn inside goes along, the grain keeps its direction."""
    at = inside(piece.grain.a)
    return replace(
        piece.with_edges(edges),
        features=tuple(_followed(piece, feature, inside) for feature in piece.features),
        grain=replace(piece.grain, a=at, b=at + piece.grain.b - piece.grain.a),
    )


def _followed(piece: Piece, feature: Feature, inside: Change) -> Feature:
    """A line inside the piece where the piece goes; what is as large as a button, a hand or a part keeps its size."""
    if feature.kind not in OWN_SIZE:
        return feature.each_point(inside)
    points = [piece.where(end) for bit in feature.bits for end in (bit.a, bit.b) if piece.holds_spot(end)]
    middle = sum(points, 0j) / max(len(points), 1)
    by = inside(middle) - middle
    return feature.each_point(lambda point: point + by)


def _short(segment: Segment) -> list[Cubic]:
    """A segment in curves no longer than :data:`SHORT`."""
    found = []
    for part in without_arcs(segment):
        if isinstance(part, Line):
            third = (part.end - part.start) / 3
            part = Cubic(part.start, part.start + third, part.end - third, part.end)
        rest, count = part, max(math.ceil(part.length / SHORT), 1)
        for left in range(count, 1, -1):
            first, rest = rest.split(1 / left)
            found.append(first)
        found.append(rest)
    return found


def _inside(at: list[Point], moves: list[Point]) -> Change:
    """How what lies inside goes along: the nearest map of the whole piece, stretched and moved."""
    points = np.array([[z.real, z.imag, 1.0] for z in at])
    wanted = np.array([[m.real, m.imag] for m in moves])
    found, *_ = np.linalg.lstsq(points, wanted, rcond=None)
    (ax, ay), (bx, by), (cx, cy) = ((float(x), float(y)) for x, y in found)

    def change(z: Point) -> Point:
        return z + complex(ax * z.real + bx * z.imag + cx, ay * z.real + by * z.imag + cy)

    return change
