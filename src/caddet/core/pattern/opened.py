"""The surgical verb: a piece opened along a line, a part of it moved, and joined again.

``opened(piece, start, end)`` puts corners at both ends of a line across a piece and gives the two parts it makes; an end
is a place on the outline or a dart (its point). ``moved`` moves the part that does not stay, joins the parts again as
it is told, and takes along all that the piece has (:mod:`.carrying`). Pivot, spread, overlap and closing one dart into
another are this with their own joins.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.carrying import Across, Part, taken_along
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Spot
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.sentences import say

Ring = tuple[Sequence[Edge], Sequence[Edge], Sequence[Edge]]
Join = Callable[[Edge, Edge], tuple[Edge, Sequence[Edge], Edge]]
"""How two edges that lay behind each other meet again: the first one, what comes between, the second one."""


def as_they_are(before: Edge, behind: Edge) -> tuple[Edge, Sequence[Edge], Edge]:
    """Nothing comes between: they meet, or what is between them is drawn by who asked."""
    return before, (), behind


@dataclass(frozen=True, slots=True)
class Opened:
    """A piece opened along a line: the edges from its start to its end, and from its end to its start, in outline order.

    ``piece`` has corners at the line's ends, ``whole`` is the piece as it was; ``inner`` are points of the line that close
    the parts (the point of a dart). ``first_stays``: the first part is the one with the fold, else with the grain.
    """

    whole: Piece
    piece: Piece
    first: tuple[Edge, ...]
    second: tuple[Edge, ...]
    inner: tuple[Point, ...] = ()

    @property
    def first_stays(self) -> bool:
        """Whether the first part stays where it is."""
        return part_stays(self.whole, self.first, region_of(self.first, *self.inner), self.second)

    def moved(
        self,
        motion: Motion,
        at_end: Join = as_they_are,
        at_start: Join = as_they_are,
        *,
        slashes: Sequence[Path] = (),
        across: Across = "gap",
        darts: Sequence[Dart] | None = None,
        taken: Sequence[Point] = (),
    ) -> Piece:
        """The piece with the part that does not stay moved, joined again at the line's end and at its start.

        Raises :class:`Refused` when a slash runs through what can't be divided.
        """
        stays = self.first_stays
        moving = self.second if stays else self.first
        part = Part.inside(region_of(moving, *self.inner), motion)
        turned = [edge.moved(motion) for edge in moving]
        first, second = (list(self.first), turned) if stays else (turned, list(self.second))
        first[-1], at_the_end, second[0] = at_end(first[-1], second[0])
        second[-1], at_the_start, first[0] = at_start(second[-1], first[0])
        ring = from_first((*at_the_start, *first, *at_the_end, *second), self.piece.edges)
        return taken_along(self.whole, ring, [part], slashes=slashes, across=across, darts=darts, taken=taken)


def opened(piece: Piece, start: Spot | Dart, end: Spot | Dart, step: str = "", whole: Piece | None = None) -> Opened:
    """A piece opened from one place (or dart) to another.

    With a ``step``, the runs that are divided are marked ``step.1`` before and ``step.2`` behind their place; where both
    ends lie on one run, by the part that they come to lie in. ``whole`` is the piece as it was, where this one has corners
    already. Raises :class:`Refused` when the line makes no two parts.
    """
    spots = [one for one in (start, end) if isinstance(one, Spot)]
    cut = piece
    for one in spots:
        cut, _ = opened_at(cut, one)
    runs = {spot.edge for spot in spots}
    if step and len(runs) == len(spots):
        for one in spots:
            cut = marked_at(cut, one, step)
    (i, behind_start), (j, behind_end) = (_corner(cut, one) for one in (start, end))
    first, second = edges_between(cut, behind_start, j), edges_between(cut, behind_end, i)
    if not first or not second:
        raise Refused("the line does not cross the piece", "line")
    if step and len(runs) < len(spots):
        first, second = ([edge.marked(f"{step}.{n}") for edge in part] for n, part in ((1, first), (2, second)))
        cut = cut.with_edges(_put_back(cut.edges, behind_start, first, behind_end, second))
    inner = [cut.legs(one.id)[2] for one in (start, end) if isinstance(one, Dart)][:1]
    return Opened(whole or piece, cut, tuple(first), tuple(second), tuple(inner))


def _put_back(edges: Sequence[Edge], i: int, first: Sequence[Edge], j: int, second: Sequence[Edge]) -> list[Edge]:
    """A round with two stretches of it replaced by as many edges."""
    count, made = len(edges), list(edges)
    for at, part in ((i, first), (j, second)):
        for n, edge in enumerate(part):
            made[(at + n) % count] = edge
    return made


def _corner(piece: Piece, end: Spot | Dart) -> tuple[int, int]:
    """Where an end lies in the outline: the index of the edge that begins there, and of the one behind (a dart's legs)."""
    if isinstance(end, Spot):
        at = opened_at(piece, end)[1]
        return at, at
    index = piece.legs(end.id)[0]
    return index, (index + sum(edge.dart == end.id for edge in piece.edges)) % len(piece.edges)


# --- corners, parts and rounds -------------------------------------------------------------------


def opened_at(piece: Piece, spot: Spot) -> tuple[Piece, int]:
    """The piece with a corner at a spot, and the index of the edge that begins there in outline order."""
    found = piece.on_edge(spot)
    if found is None:
        raise Refused(
            say("that place on the {own_name} is no longer there", own_name=own_name(spot.edge).replace("_", " ")),
            "place",
        )
    index, along = found
    first, second = piece.edges[index].split_at(along)
    if first is None:
        return piece, index
    if second is None:
        return piece, (index + 1) % len(piece.edges)
    return piece.with_edges((*piece.edges[:index], first, second, *piece.edges[index + 1 :])), index + 1


def marked_at(piece: Piece, spot: Spot, step: str) -> Piece:
    """The edges of the spot's run marked by which side of it they lie on."""
    if all(edge.name != spot.edge for edge in piece.edges):
        return piece

    def marked(edge: Edge) -> Edge:
        """An edge with the mark of its side."""
        if edge.name != spot.edge:
            return edge
        return edge.marked(f"{step}.1" if (edge.low + edge.high) / 2 < spot.u else f"{step}.2")

    return piece.with_edges([marked(edge) for edge in piece.edges])


def edges_between(piece: Piece, start: int, end: int) -> list[Edge]:
    """The edges from one corner to another, in outline order."""
    count = len(piece.edges)
    return [piece.edges[(start + i) % count] for i in range((end - start) % count)]


def region_of(edges: Sequence[Edge], *more: Point) -> list[Point]:
    """The outline of a part, to 0.2 mm: its edges and the points that close it."""
    return [*(p for edge in edges for p in edge.path.flattened(0.2)), *more]


def part_stays(piece: Piece, part: Sequence[Edge], region: Sequence[Point], other: Sequence[Edge]) -> bool:
    """Whether this part stays where it is: the one with the fold, else the one with the grain line."""
    folds = [any(edge.finish == "fold" for edge in edges) for edges in (part, other)]
    if folds[0] != folds[1]:
        return folds[0]
    return contains(region, (piece.grain.a + piece.grain.b) / 2)


def from_first(edges: Sequence[Edge], old: Sequence[Edge]) -> tuple[Edge, ...]:
    """The round begun where it began before, so that outlines compare."""
    name = old[0].name
    for index, edge in enumerate(edges):
        before = edges[index - 1]
        if edge.name == name and before.name != name and not before.dart:
            return (*edges[index:], *edges[:index])
    return tuple(edges)
