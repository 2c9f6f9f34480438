"""A piece of a pattern: named edges in a closed round, darts, notches, grain, fold, cut count.

The outline is the *net* (stitch) line, clockwise as seen on the table. A dart's two legs stand in
the outline as edges of role ``dart``. Several edges in a row may share a name: a *run*. A split
only makes a run longer, so names survive every step; ``side.1`` and ``side.2`` are its parts.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import FLAT, Motion, Point

Role = Literal["seam", "hem", "fold", "dart", "opening", "slit", "edge"]


@dataclass(frozen=True, slots=True)
class Edge:
    """A named part of an outline. ``dart`` names the dart that a leg belongs to."""

    name: str
    path: Path
    role: Role = "seam"
    dart: str = ""

    def with_path(self, path: Path) -> Edge:
        return replace(self, path=path)


@dataclass(frozen=True, slots=True)
class Dart:
    """A dart: its legs are the two outline edges of its name, meeting at the apex."""

    name: str
    label: str = "dart"


@dataclass(frozen=True, slots=True)
class Notch:
    """A mark across an edge run, ``at`` mm along it from its start in outline order."""

    run: str
    at: float
    double: bool = False
    name: str = ""


@dataclass(frozen=True, slots=True)
class Mark:
    """A line drawn inside a piece (hip line, fold of a band); several parts after a pivot."""

    name: str
    label: str
    parts: tuple[Path, ...]

    @property
    def length(self) -> float:
        return sum(part.length for part in self.parts)


@dataclass(frozen=True, slots=True)
class Piece:
    """One pattern piece, net. ``cut`` counts what is cut from cloth; ``fold`` names a run on the fold."""

    name: str
    label: str
    edges: tuple[Edge, ...]
    darts: tuple[Dart, ...] = ()
    notches: tuple[Notch, ...] = ()
    marks: tuple[Mark, ...] = ()
    grain: tuple[Point, Point] = (0j, 100j)
    cut: int = 1
    pair: bool = False
    cloth: str = "main"
    anchor: str = ""
    remark: str = ""  # printed on the piece, such as "grain runs along the band"

    @property
    def fold(self) -> str:
        """The run that lies on the fold, or an empty string."""
        return next((edge.name for edge in self.edges if edge.role == "fold"), "")

    def outline(self) -> Path:
        """The whole net outline as one closed path."""
        return Path.join(edge.path for edge in self.edges)

    def polygon(self, tolerance: float = FLAT) -> list[Point]:
        """The net outline flattened, without repeating the first point."""
        return _polygon(self.edges, tolerance)

    def runs(self) -> list[str]:
        """The names of the edges, in outline order, each once, darts left out."""
        return list(dict.fromkeys(edge.name for edge in self.edges if not edge.dart))

    def run(self, name: str) -> list[Edge]:
        """The edges of a run in order. ``side.2`` is the second part of ``side``.

        Raises :class:`CaddetError` when the piece has no such run.
        """
        base, _, part = name.partition(".")
        edges = self._in_order(base)
        if part:
            index = int(part) - 1 if part.isdigit() else -1
            edges = edges[index : index + 1] if 0 <= index < len(edges) else []
        if not edges:
            raise CaddetError(f"{self.name} has no edge “{name}”; it has {', '.join(self.runs())}")
        return edges

    def _in_order(self, name: str) -> list[Edge]:
        at = [i for i, edge in enumerate(self.edges) if edge.name == name and not edge.dart]
        if not at:
            return []
        # a run that begins late in the list may go on at its start: begin after a foreign edge
        count = len(self.edges)
        first = next((i for i in at if not self._belongs((i - 1) % count, name)), at[0])
        return [self.edges[i] for i in sorted(at, key=lambda i: (i - first) % count)]

    def _belongs(self, index: int, name: str) -> bool:
        """Whether going backwards from ``index`` over dart legs comes to an edge of the run."""
        for _ in self.edges:
            edge = self.edges[index]
            if not edge.dart:
                return edge.name == name
            index = (index - 1) % len(self.edges)
        return False

    def run_length(self, name: str) -> float:
        """The length of a run along the stitch line, in mm, darts skipped."""
        return sum(edge.path.length for edge in self.run(name))

    def run_point(self, name: str, at: float) -> tuple[Point, Point, int]:
        """Point, direction and index in ``edges`` at a distance along a run (clamped)."""
        edges = self.run(name)
        left = at
        for edge in edges:
            size = edge.path.length
            if left <= size + 1e-9 or edge is edges[-1]:
                return edge.path.point_at(left), edge.path.direction_at(left), self.index_of(edge)
            left -= size
        raise AssertionError("unreachable: a run has edges")

    def index_of(self, edge: Edge) -> int:
        """Where one of the piece's own edges stands in ``edges`` (the same object, not an equal one)."""
        return next(index for index, other in enumerate(self.edges) if other is edge)

    def nearest_on_run(self, name: str, point: Point) -> tuple[float, float]:
        """How far a point is from a run, and how far along the run that is."""
        best, passed = (float("inf"), 0.0), 0.0
        for edge in self.run(name):
            off, along = edge.path.nearest(point)
            best = min(best, (off, passed + along))
            passed += edge.path.length
        return best

    def legs(self, dart: str) -> tuple[int, Point, Point, Point]:
        """Where a dart stands: index of its first leg, first leg point, apex, second leg point."""
        for index, edge in enumerate(self.edges):
            if edge.dart == dart:
                after = self.edges[(index + 1) % len(self.edges)]
                return index, edge.path.start, edge.path.end, after.path.end
        raise CaddetError(f"{self.name} has no dart “{dart}”")

    def mark(self, name: str) -> Mark | None:
        return next((mark for mark in self.marks if mark.name == name), None)

    def with_edges(self, edges: tuple[Edge, ...]) -> Piece:
        return replace(self, edges=edges)

    def moved(self, motion: Motion) -> Piece:
        """The piece moved rigidly; a mirror image is turned round so that it stays clockwise."""
        edges = [edge.with_path(edge.path.moved(motion)) for edge in self.edges]
        notches = self.notches
        if motion.mirror:
            edges = [edge.with_path(edge.path.reversed()) for edge in reversed(edges)]
            notches = tuple(replace(notch, at=self.run_length(notch.run) - notch.at) for notch in notches)
        marks = tuple(replace(mark, parts=tuple(p.moved(motion) for p in mark.parts)) for mark in self.marks)
        return replace(
            self,
            edges=tuple(edges),
            notches=notches,
            marks=marks,
            grain=(motion(self.grain[0]), motion(self.grain[1])),
        )

    def each_edge(self, change: Callable[[Edge], Edge]) -> Piece:
        return self.with_edges(tuple(change(edge) for edge in self.edges))

    def edge_names(self) -> Iterator[tuple[str, Edge]]:
        """Every edge with its full name: ``waist.1``, ``waist.2`` when a run has several."""
        for name in self.runs():
            edges = self.run(name)
            for number, edge in enumerate(edges, start=1):
                yield (f"{name}.{number}" if len(edges) > 1 else name), edge


@lru_cache(maxsize=512)
def _polygon_cached(edges: tuple[Edge, ...], tolerance: float) -> tuple[Point, ...]:
    points: list[Point] = []
    for edge in edges:
        points.extend(edge.path.flattened(tolerance)[1:])
    return tuple(points)


def _polygon(edges: tuple[Edge, ...], tolerance: float) -> list[Point]:
    return list(_polygon_cached(edges, tolerance))
