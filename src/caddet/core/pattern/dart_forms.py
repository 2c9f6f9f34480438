"""The verbs on a dart where it stands: its point moved, its legs curved, another one let in, one opened out."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import replace

from caddet.core.geometry.offset import ending_at
from caddet.core.geometry.paths import Path, arcs_as_cubics, contains
from caddet.core.geometry.segments import Cubic, Motion, Point, dot, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, Dart, Feature, Spot
from caddet.core.pattern.opened import opened
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.surgery import in_one, legs, sound, with_gap
from caddet.core.sentences import Length, say

SHORTEST = 15.0  # mm of a leg: a shorter dart is a pleat
BEND = 0.6  # of half a leg's length, which a curved leg may leave the straight one by at most


def leg_indices(piece: Piece, dart: Dart) -> tuple[int, int]:
    """The first edge of a dart's legs and how many edges they are."""
    start = piece.legs(dart.id)[0]
    return start, sum(edge.dart == dart.id for edge in piece.edges)


def with_legs(piece: Piece, dart: Dart, new: Sequence[Edge]) -> Piece:
    """The piece with other edges in place of a dart's legs."""
    start, count = leg_indices(piece, dart)
    size = len(piece.edges)
    kept = [piece.edges[(start + count + n) % size] for n in range(size - count)]
    ring = [*new, *kept]
    first = next((n for n, edge in enumerate(ring) if edge is piece.edges[0]), 0)
    return sound(piece.with_edges([*ring[first:], *ring[:first]]))


def move_point(piece: Piece, dart: Dart, to: Point) -> Piece:
    """A dart with its point elsewhere, its legs straight.

    The ends of the mouth are trued along their legs until both are equally long, and the edge beside them with them.
    Raises :class:`Refused`.
    """
    _, a, _, b = piece.legs(dart.id)
    if min(abs(to - a), abs(to - b)) < SHORTEST:
        raise Refused(say("so short a dart can't be sewn; it needs at least {least}", least=Length(SHORTEST)), "to")
    if not contains(piece.polygon(0.5), to) and not contains([a, piece.legs(dart.id)[2], b], to):
        raise Refused(say("the point of the dart would lie outside the piece"), "to")
    long = (abs(to - a) + abs(to - b)) / 2
    one, other = to + unit(a - to) * long, to + unit(b - to) * long
    start, count = leg_indices(piece, dart)
    edges, size = list(piece.edges), len(piece.edges)
    before, behind = (start - 1) % size, (start + count) % size
    edges[before] = edges[before].with_path(_to_end(edges[before].path, one))
    edges[behind] = edges[behind].with_path(_to_end(edges[behind].path.reversed(), other).reversed())
    return fair_over(with_legs(piece.with_edges(edges), dart, legs(dart, to, one, other)), dart)


def _to_end(path: Path, end: Point) -> Path:
    """The path with its end moved a little."""
    return Path((*path.segments[:-1], *ending_at(path.segments[-1], end)))


def fair_over(piece: Piece, dart: Dart) -> Piece:
    """The edge beside a dart drawn so that it runs on smoothly when the dart is shut; its ends stay where they are."""
    start, count = leg_indices(piece, dart)
    size = len(piece.edges)
    before, behind = (start - 1) % size, (start + count) % size
    edges = list(piece.edges)
    # at the mouth, sewn leg on leg: turns what lies behind the dart onto what lies before it
    shut = edges[start].path.start_direction / -edges[behind - 1].path.end_direction
    one, other = edges[before].path.end_direction, edges[behind].path.start_direction * shut
    if dot(one, other) <= 0:
        return piece  # a corner there is meant
    way = unit(one + other)
    edges[before] = edges[before].with_path(_leaving(edges[before].path.reversed(), -way).reversed())
    edges[behind] = edges[behind].with_path(_leaving(edges[behind].path, way / shut))
    return piece.with_edges(edges)


def _leaving(path: Path, way: Point) -> Path:
    """A path that leaves its start in a direction, the rest of it as it was."""
    first, *rest = arcs_as_cubics(path).segments
    if not isinstance(first, Cubic):
        first = Cubic(first.start, first.point(1 / 3), first.point(2 / 3), first.end)
    return Path((replace(first, out=first.start + way * abs(first.out - first.start)), *rest))


def pivot_onto(pattern: Pattern, piece: Piece, dart: Dart, other: Dart) -> Pattern:
    """Close a dart into another one of the piece: the cloth between them turns about its point, to which the other's
    legs are then drawn. Raises :class:`Refused`.
    """
    _, leg_a, apex, leg_b = piece.legs(dart.id)
    try:
        cut = opened(piece, dart, other)
    except Refused as refused:
        raise Refused(say("the two darts open at one place"), "onto") from refused
    closing = cmath.phase((leg_a - apex) / (leg_b - apex))

    def drawn(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
        """The other dart, wider by what the first one held."""
        return before, legs(other, apex, before.path.end, behind.path.start), behind

    changed = cut.moved(
        Motion.rotation(-closing if cut.first_stays else closing, apex),
        drawn,
        slashes=[Path.polyline([apex, p]) for p in (leg_a, leg_b, piece.legs(other.id)[2])],
        darts=[one for one in piece.darts if one.id != dart.id],
    )
    return pattern.with_piece(in_one(move_point(changed, other, apex)))


def curve_legs(piece: Piece, dart: Dart, by: float) -> Piece:
    """A dart with both legs curved by so many mm at most: outward (the dart takes in more) where positive.

    The curve lies in the upper half, a third from the mouth; towards the point both run straight. They stay equally
    long. Raises :class:`Refused`.
    """
    _, a, apex, b = piece.legs(dart.id)
    least = min(abs(a - apex), abs(b - apex))
    if abs(by) > least / 2 * BEND:
        raise Refused(say("the legs are too short to be curved so much"), "by")
    middle = (a + b) / 2

    def leg(mouth: Point) -> Path:
        """One curved leg, from the mouth to the point."""
        out = unit(apex - mouth) * 1j
        if dot(out, mouth - middle) < 0:
            out = -out
        near = mouth + (apex - mouth) / 3 + out * by * 9 / 4  # a cubic with one control point lifted rises by 4/9 of it
        return Path((Cubic(mouth, near, mouth + (apex - mouth) * 2 / 3, apex),))

    one, other = legs(dart, apex, a, b)
    if abs(by) < 1e-9:
        return with_legs(piece, dart, [one, other])
    curved = with_legs(piece, dart, [one.with_path(leg(a)), other.with_path(leg(b).reversed())])
    return fair_over(curved, dart)


def open_out(pattern: Pattern, piece: Piece, dart: Dart) -> Pattern:
    """A dart left away: its mouth becomes part of the edge, straight across, so that the edge is longer by it.

    Raises :class:`Refused`.
    """
    start, count = leg_indices(piece, dart)
    size = len(piece.edges)
    before, behind = (start - 1) % size, (start + count) % size
    edge, other = piece.edges[before], piece.edges[behind]
    if edge.name != other.name or edge.dart or other.dart:
        raise Refused(say("the {dart} lies at the end of its edge", dart=dart.label), "dart")
    edges = list(piece.edges)
    edges[before], edges[behind] = with_gap(edge, other)
    kept = [edges[(start + count + n) % size] for n in range(size - count)]
    first = next((n for n, one in enumerate(kept) if one is edges[0]), 0)
    made = replace(
        piece.with_edges([*kept[first:], *kept[:first]]), darts=tuple(d for d in piece.darts if d.id != dart.id)
    )
    return pattern.with_piece(sound(bridged(in_one(made))))


def bridged(piece: Piece) -> Piece:
    """The piece with its levels carried on over cloth that now lies where a dart was opened."""
    inside = piece.polygon(0.5)

    def over(feature: Feature) -> Feature:
        """A level with the gaps in it that lie on cloth closed."""
        bits: list[Bit] = []
        for bit in feature.bits:
            last = bits[-1].b if bits else None
            if (
                last is not None
                and not isinstance(last, Spot)
                and not isinstance(bit.a, Spot)
                and abs(bit.a - last) > 1e-6
                and contains(inside, (bit.a + last) / 2)
            ):
                bits.append(Bit(last, bit.a))
            bits.append(bit)
        return replace(feature, bits=tuple(bits))

    return replace(piece, features=tuple(over(f) if f.kind == "level" else f for f in piece.features))


def add_dart(piece: Piece, spot: Spot, width: float, length: float, step: str, label: str) -> Piece:
    """A dart let into an edge: ``width`` mm of it are taken in, ``length`` mm deep, square to the edge.

    The edge is that much shorter when sewn; both parts keep their places. Raises :class:`Refused`.
    """
    along, whole = piece.along(spot), piece.run_length(spot.edge)
    low, high = along - width / 2, along + width / 2
    if low < 5.0 or high > whole - 5.0:
        raise Refused(say("there is no room for a dart of {width} there", width=Length(width)), "at")
    found = piece.on_edge(spot)
    assert found is not None
    index, at = found
    edge = piece.edges[index]
    if edge.finish in ("fold", "opening"):
        raise Refused(say("a dart can't lie in the fold or the opening"), "at")
    if edge.path.length < width + 10.0 or not 5.0 + width / 2 <= at <= edge.path.length - 5.0 - width / 2:
        raise Refused(say("there is no room for a dart of {width} there", width=Length(width)), "at")
    first, rest = edge.split_at(at - width / 2)
    assert first is not None and rest is not None
    taken, last = rest.split_at(width)
    assert taken is not None and last is not None
    a, b = first.path.end, last.path.start
    inward = unit(b - a) * 1j  # the outline runs clockwise as seen, so inside is to the right on the table
    middle = (a + b) / 2
    outline = piece.polygon(0.5)
    if not contains(outline, middle + inward * min(length, 10.0)):
        inward = -inward
    # legs of one length: from the chord's middle, square to it
    apex = middle + inward * length
    if not contains(outline, apex):
        raise Refused(say("the point of the dart would lie outside the piece"), "length")
    name = f"{step}.dart"
    dart = Dart(name, label)
    # what is taken in goes: its positions lie at the mouth
    first = replace(first, pairs=(*first.pairs, (1.0, spot.u)))
    last = replace(last, pairs=((0.0, spot.u), *last.pairs))
    edges = [*piece.edges[:index], first, *legs(dart, apex, a, b), last, *piece.edges[index + 1 :]]
    return sound(replace(piece.with_edges(edges), darts=(*piece.darts, dart)))


def contour_dart(middle: Point, up: float, down: float, width: float, step: str, label: str) -> Feature:
    """A dart inside a piece, upright: ``up`` and ``down`` mm from its widest place, ``width`` mm wide there."""
    top, low = middle - 1j * up, middle + 1j * down
    one, other = middle - width / 2, middle + width / 2
    bits = (Bit(top, one), Bit(one, low), Bit(low, other), Bit(other, top))
    return Feature("contour_dart", f"{step}.contour_dart", label, bits)


def angle_of(piece: Piece, dart: Dart) -> float:
    """The angle between a dart's legs at its point, in degrees."""
    _, a, apex, b = piece.legs(dart.id)
    return abs(math.degrees(cmath.phase((a - apex) / (b - apex))))
