"""The one place where all that a piece has is taken along when parts of it are moved.

A verb gives the new round of edges and says which parts of the cloth moved how; whatever is drawn in the piece or kept
on it comes along here and nowhere else. ``CARRIED`` says of every field of a piece how; a test holds it complete.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.dividing import crossings
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, Dart, End, Feature, FeatureKind, FigureLine, Spot
from caddet.core.pattern.piece import Grain, Piece
from caddet.core.pattern.refused import Refused
from caddet.core.sentences import say

# of every field of a piece, what becomes of it when parts of the piece are moved
CARRIED: Mapping[str, str] = {
    "edges": "the verb gives them: each with its name, marks, finish, allowance and positions",
    "darts": "the verb gives them; their legs are among the edges",
    "notches": "stay at their places on the edges, and go where those go",
    "features": "go with the part of the piece that they lie in; what may be divided is divided along the line",
    "figures": "the ends of their lines go with the part that they lie in",
    "grain": "goes with the part that its middle lies in; with a fold, it stays along it",
    "made": "stays", "label": "stays", "cuts": "stay", "pair": "stays", "marks": "stay", "also": "stay", "remark": "stays",
    "zero": "stays", "role": "stays", "covers": "stays", "side": "stays", "source": "stays",
    "down": "stays, as it is on the part that stays",
}  # fmt: skip
# a line may be divided where it meets a slash; everything else is one thing, and a slash through it is refused
DIVIDED: frozenset[FeatureKind] = frozenset(("level", "line", "fold_line"))

Across = Literal["gap", "bridged", "stretched"]


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a piece as it was: whether a point lies in it, and how it moved (as one, or each point a little else)."""

    holds: Callable[[Point], bool]
    motion: Callable[[Point], Point]

    @staticmethod
    def inside(region: Sequence[Point], motion: Motion) -> Part:
        """What lies inside an outline."""
        return Part(lambda point: contains(region, point), motion)


def taken_along(
    piece: Piece,
    edges: Sequence[Edge],
    parts: Sequence[Part],
    *,
    slashes: Sequence[Path] = (),
    across: Across = "gap",
    darts: Sequence[Dart] | None = None,
    taken: Sequence[Point] = (),
) -> Piece:
    """The piece with another round of edges, after parts of it moved; all that it has comes along.

    Lines drawn across a slash are divided there; the gap is left out of them (``gap``: a dart opened), bridged (cloth was
    let in), or they are stretched from end to end. What lies in ``taken``, the outline of cloth that was taken out, goes.
    Raises :class:`Refused` when a slash runs through what is one thing.
    """

    def moved(point: Point) -> Point:
        """Where a point of the piece comes to."""
        return next((part.motion(point) for part in parts if part.holds(point)), point)

    return replace(
        piece.with_edges(edges),
        darts=tuple(darts) if darts is not None else piece.darts,
        features=tuple(_feature(piece, one, parts, slashes, across, moved, taken) for one in piece.features),
        figures=tuple(figure_moved(line, moved) for line in piece.figures),
        grain=_grain(piece, parts, moved if across == "stretched" else None),
    )


def figure_moved(line: FigureLine, moved: Callable[[Point], Point]) -> FigureLine:
    """A figure's line with its points moved; places on the outline follow it by themselves."""
    a, b = (end if isinstance(end, Spot) else moved(end) for end in (line.bit.a, line.bit.b))
    return replace(line, bit=Bit(a, b))


def _grain(piece: Piece, parts: Sequence[Part], moved: Callable[[Point], Point] | None) -> Grain:
    """The grain line with the part that its middle lies in; stretched with the piece where it keeps its direction.

    On a piece on the fold it keeps its direction in any case: the cloth is folded along the thread.
    """
    grain = piece.grain
    if moved is not None:
        a, b = moved(grain.a), moved(grain.b)
        if abs(a - b) > 1.0 and abs(unit(b - a) - unit(grain.b - grain.a)) < 1e-9:
            return replace(grain, a=a, b=b)
    middle = (grain.a + grain.b) / 2
    motion = next((part.motion for part in parts if part.holds(middle)), Motion())
    by = motion(middle) - middle
    a, b = (grain.a + by, grain.b + by) if piece.fold else (motion(grain.a), motion(grain.b))
    return replace(grain, a=a, b=b)


def _feature(
    piece: Piece,
    feature: Feature,
    parts: Sequence[Part],
    slashes: Sequence[Path],
    across: Across,
    moved: Callable[[Point], Point],
    taken: Sequence[Point] = (),
) -> Feature:
    if across == "stretched":
        return feature.each_point(moved)
    if feature.kind in DIVIDED:
        return _divided(piece, feature, parts, slashes, across == "bridged", taken)
    if any(_meets(piece, bit, slash) for bit in feature.bits for slash in slashes):
        raise Refused(say("the line runs through the {feature}; draw it beside it", feature=feature.label), "line")
    return _as_one(piece, feature, parts)


def _meets(piece: Piece, bit: Bit, slash: Path) -> bool:
    if not piece.holds_spot(bit.a) or not piece.holds_spot(bit.b):
        return False
    return bool(crossings(piece.where(bit.a), piece.where(bit.b), slash))


def _as_one(piece: Piece, feature: Feature, parts: Sequence[Part]) -> Feature:
    """A feature that is never taken apart: each of its lines goes with the part that its middle lies in."""
    bits = []
    for bit in feature.bits:
        if not piece.holds_spot(bit.a) or not piece.holds_spot(bit.b):
            bits.append(bit)
            continue
        middle = (piece.where(bit.a) + piece.where(bit.b)) / 2
        motion = next((part.motion for part in parts if part.holds(middle)), Motion())
        bits.append(Bit(*(end if isinstance(end, Spot) else motion(end) for end in (bit.a, bit.b))))
    return replace(feature, bits=tuple(bits))


def _divided(
    piece: Piece,
    feature: Feature,
    parts: Sequence[Part],
    slashes: Sequence[Path],
    bridge: bool,
    taken: Sequence[Point] = (),
) -> Feature:
    """A line after parts of the piece were moved; divided where it crosses a slash, the gap bridged or left out."""
    bits: list[Bit] = []

    def end(e: End, motion: Callable[[Point], Point]) -> End:
        return e if isinstance(e, Spot) else motion(e)

    for bit in feature.bits:
        a, b = piece.where(bit.a), piece.where(bit.b)
        shares = sorted({share for slash in slashes for share, _ in crossings(a, b, slash)})
        cuts = [0.0, *shares, 1.0]
        ends: list[End] = [bit.a, *(a + (b - a) * share for share in shares), bit.b]
        last: End | None = None
        over = False  # whether cloth that was taken out lies before
        for low, high, first, second in zip(cuts, cuts[1:], ends, ends[1:], strict=False):
            middle = a + (b - a) * (low + high) / 2
            if taken and low > 0 and high < 1 and contains(taken, middle):  # from one side of it to the other
                over = True
                continue
            motion = next((part.motion for part in parts if part.holds(middle)), Motion())
            start, stop = end(first, motion), end(second, motion)
            if (
                (bridge or over)
                and last is not None
                and not isinstance(last, Spot)
                and not isinstance(start, Spot)
                and abs(last - start) > 1e-9
            ):
                bits.append(Bit(last, start))
            bits.append(Bit(start, stop))
            last, over = stop, False
    return replace(feature, bits=tuple(bits))
