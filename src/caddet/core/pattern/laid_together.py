"""Two pieces laid together along a seam, as sewn, and a line that runs from one over the seam to the other.

The line is drawn as it lies on the sewn cloth: it meets both sides of the seam at the same place and runs straight on
over it. What it crosses inside a piece is closed by whoever cuts along it (:mod:`.closed`).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import root_between
from caddet.core.geometry.segments import Motion, Point, cross, inverse
from caddet.core.pattern.features import Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Layer, Seam
from caddet.core.pattern.surgery import check_inside
from caddet.core.sentences import say

TRIED = 48  # places along a seam that a line is laid over it at, to find where it crosses
MISSED = 0.01  # mm by which the line may pass the place where the seam's two sides meet


@dataclass(frozen=True, slots=True)
class OverSeam:
    """A line over a seam: its stretch on either piece, from the line's start to its end, and where each meets the seam.

    ``turned``: the second piece is turned over to lie as sewn, so that left of the line is right of it on that piece.
    """

    seam: Seam
    first: Path
    first_spot: Spot
    second: Path
    second_spot: Spot
    turned: bool


def over_seam(
    pattern: Pattern, one: Piece, before: Sequence[Point], other: Piece, behind: Sequence[Point], *, curve: bool
) -> OverSeam:
    """The line from points on one piece over a seam to points on another, in its order.

    ``curve``: one smooth curve through all points, else straight from one to the next. Of several seams the longest that
    it crosses within both pieces. Raises :class:`Refused` when no seam joins the two, or the line meets none.
    """
    seams = _seams(pattern, one, other)
    if not seams:
        raise Refused(
            say("no seam joins the {one} and the {other}", one=one.label.lower(), other=other.label.lower()), "line"
        )
    found = [
        OverSeam(seam, *crossing)
        for seam, mine, theirs in seams
        if (crossing := _crossing(pattern, (one, mine, before), (other, theirs, behind), curve)) is not None
    ]
    if not found:
        raise Refused(say("laid together along {seam}, the line does not cross it", seam=seams[0][0].label), "line")
    whole = [over for over in found if _inside(one, over.first) and _inside(other, over.second)]
    return max(whole or found, key=lambda over: pattern.length(over.seam.a))


def _inside(piece: Piece, line: Path) -> bool:
    """Whether a line lies in a piece, over its darts as over cloth."""
    try:
        check_inside(piece, [line.start, *line.flattened(0.2)], piece.darts)
    except Refused:
        return False
    return True


def _seams(pattern: Pattern, one: Piece, other: Piece) -> list[tuple[Seam, Layer, Layer]]:
    """The seams between two pieces, each with the layer that lies on the one and on the other."""
    found = []
    for seam in pattern.seams:
        if len(seam.layers) != 2:
            continue
        on = [{f.piece.name for f in pattern.what_is_left(layer) if not f.imagined} for layer in seam.layers]
        for a, b in ((0, 1), (1, 0)):
            if one.name in on[a] and other.name in on[b]:
                found.append((seam, seam.layers[a], seam.layers[b]))
                break
    return found


def _at(fragments: Sequence[Fragment], share: float) -> tuple[Fragment, Point, Point, float]:
    """The stretch, place and walking direction at a share of a layer, and how far along its edge's path that is (mm)."""
    left = share * sum(one.length for one in fragments)
    for one in fragments:
        if left <= one.length or one is fragments[-1]:
            path = one.path()
            left = min(max(left, 0.0), path.length)
            return (
                one,
                path.point_at(left),
                path.direction_at(left),
                one.high - left if one.backwards else one.low + left,
            )
        left -= one.length
    raise AssertionError("unreachable: a layer has stretches")


def _crossing(
    pattern: Pattern,
    here: tuple[Piece, Layer, Sequence[Point]],
    there: tuple[Piece, Layer, Sequence[Point]],
    curve: bool,
) -> tuple[Path, Spot, Path, Spot, bool] | None:
    """The line's two stretches and their places on the seam; None when it does not cross it between the two pieces."""
    mine, theirs = pattern.layer_fragments(here[1]), pattern.layer_fragments(there[1])

    def laid(share: float) -> tuple[float, Path, Point, Motion]:
        """How far beside the seam's place the line passes, the line, the place, and how the other piece is laid."""
        one, at, way, _ = _at(mine, share)
        other, to, way_there, _ = _at(theirs, share)
        flip = Motion(mirror=True) if one.backwards == other.backwards else Motion()
        to, way_there = flip(to), flip(way_there)
        turn = way / way_there
        motion = Motion(turn, at - turn * to).after(flip)
        points = [*here[2], *(motion(point) for point in there[2])]
        line = smooth_through(points, None, None) if curve and len(points) > 2 else Path.polyline(points)
        off, along = line.nearest(at)
        return (off if cross(line.direction_at(along), at - line.point_at(along)) > 0 else -off), line, at, motion

    def at_both(share: float) -> bool:
        return _at(mine, share)[0].piece is here[0] and _at(theirs, share)[0].piece is there[0]

    shares = [n / TRIED for n in range(TRIED + 1)]
    for low, high in pairwise(shares):
        if not (at_both(low) and at_both(high)):
            continue
        share = root_between(lambda s: laid(s)[0], low, high, 1e-10)
        if share is None:
            continue
        off, line, at, motion = laid(share)
        along = line.nearest(at)[1]
        first, second = line.between(0.0, along), line.between(along, line.length)
        if abs(off) > MISSED or first is None or second is None:
            continue
        spots = [_spot(fragments, share) for fragments in (mine, theirs)]
        return first, spots[0], second.moved(inverse(motion)), spots[1], motion.mirror
    return None


def _spot(fragments: Sequence[Fragment], share: float) -> Spot:
    one, _, _, along = _at(fragments, share)
    return Spot(one.edge.name, one.edge.u_at(along / one.edge.path.length))


def seam_runs(pattern: Pattern, seam: Seam, piece: Piece) -> set[str]:
    """The runs of a piece that are in a seam."""
    fragments = [one for layer in seam.layers for one in pattern.what_is_left(layer)]
    return {one.edge.name for one in fragments if one.piece.name == piece.name}
