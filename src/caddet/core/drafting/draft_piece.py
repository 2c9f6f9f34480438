"""A piece on the drafting table, before it is a piece of the pattern: own names, places in mm, plain points.

A block draws with these; :func:`as_piece` gives every edge its full name and positions, and turns every line into a
feature whose ends are places on the outline wherever they lie on it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.pattern.anchoring import place_on
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, Dart, Feature, FeatureKind, FigureLine, Notch, Spot
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.sentences import say


@dataclass(frozen=True, slots=True)
class DraftDart:
    """A dart by its own name; its legs are the two edges of that name."""

    name: str
    label: str = "dart"


@dataclass(frozen=True, slots=True)
class DraftNotch:
    """A notch ``at`` mm along a run."""

    run: str
    at: float
    double: bool = False
    name: str = ""


@dataclass(frozen=True, slots=True)
class Drawn:
    """A line drawn on a piece through points. A level is run on to the outline at both ends."""

    kind: FeatureKind
    name: str
    label: str
    points: tuple[Point, ...]


def level(name: str, label: str, a: Point, b: Point) -> Drawn:
    """A level between two places on the outline; the straight line through both points is run on to it."""
    return Drawn("level", name, label, (a, b))


def fold_line(name: str, label: str, a: Point, b: Point) -> Drawn:
    """Where the piece is folded."""
    return Drawn("fold_line", name, label, (a, b))


def line(name: str, label: str, *points: Point) -> Drawn:
    """Any other line."""
    return Drawn("line", name, label, points)


def contour_dart(name: str, label: str, top: Point, right: Point, low: Point, left: Point) -> Drawn:
    """A dart inside the piece, from point to point."""
    return Drawn("contour_dart", name, label, (top, right, low, left, top))


def pleat(name: str, label: str, from_: Point, to: Point, deep: Point) -> Drawn:
    """A pleat between two points of the outline, its folds drawn inwards by ``deep``; folded towards the first."""
    return Drawn("pleat", name, label, (from_, from_ + deep, to, to + deep))


@dataclass(frozen=True, slots=True)
class Dimension:
    """Where a figure stands on the table: along a line of a piece."""

    figure: str
    piece: str
    a: Point
    b: Point


@dataclass(frozen=True, slots=True)
class DraftPiece:
    """A piece as a block draws it. ``cut`` counts what is cut of it, ``cloth`` names the roles, one or more."""

    name: str
    label: str
    edges: tuple[Edge, ...]
    darts: tuple[DraftDart, ...] = ()
    notches: tuple[DraftNotch, ...] = ()
    drawn: tuple[Drawn, ...] = ()
    grain: tuple[Point, Point] = (0j, 100j)
    cut: int = 1
    pair: bool = False
    cloth: tuple[str, ...] = ("main",)
    grain_kind: Literal["along", "across", "bias", "stretch", "any"] = "along"
    remark: str = ""
    zero: str = ""

    def outline(self) -> Path:
        """The whole outline as one closed path."""
        return Path.join(edge.path for edge in self.edges)

    def runs(self) -> list[str]:
        """The own names of its edges, dart legs left out."""
        return list(dict.fromkeys(edge.name for edge in self.edges if not edge.dart))

    def run(self, name: str) -> list[Edge]:
        """The edges of a run, in outline order. Raises :class:`CaddetError` when there are none."""
        at = [i for i, edge in enumerate(self.edges) if edge.name == name and not edge.dart]
        if not at:
            raise CaddetError(say("{name} has no edge “{name_2}”", name=self.name, name_2=name))
        first = next((i for i in at if not self._belongs(i - 1, name)), at[0])
        return [self.edges[i] for i in sorted(at, key=lambda i: (i - first) % len(self.edges))]

    def _belongs(self, index: int, name: str) -> bool:
        """Whether going back from an edge over dart legs comes to one of the run."""
        for step in range(len(self.edges)):
            edge = self.edges[index - step]
            if not edge.dart:
                return edge.name == name
        return False

    def run_length(self, name: str) -> float:
        """The length of a run in mm, dart legs left out."""
        return sum(edge.path.length for edge in self.run(name))


def as_piece(draft: DraftPiece, dimensions: Iterable[Dimension] = (), zero: str = "the top") -> Piece:
    """The piece of the pattern; its levels are counted from ``zero``. Raises :class:`CaddetError` when a line's end lies nowhere."""
    covered: dict[int, tuple[float, float]] = {}
    count = Counter(edge.name for edge in draft.edges if not edge.dart)
    for name in (name for name, parts in count.items() if parts > 1):
        parts = draft.run(name)
        whole, passed = sum(edge.path.length for edge in parts), 0.0
        for edge in parts:
            size = edge.path.length
            covered[id(edge)] = passed / whole, (passed + size) / whole
            passed += size
    edges: list[Edge] = []
    for index, edge in enumerate(draft.edges):
        if edge.dart:
            first = draft.edges[index - 1].dart != edge.dart
            name = f"{draft.name}.{edge.dart}.leg_{'a' if first else 'b'}"
            edges.append(Edge(name, edge.path, "", f"{draft.name}.{edge.dart}"))
        else:
            low, high = covered.get(id(edge), (0.0, 1.0))
            edges.append(
                Edge(
                    f"{draft.name}.{edge.name}",
                    edge.path,
                    edge.finish,
                    pairs=((0.0, low), (1.0, high)),
                    why=edge.why,
                    role=edge.role,
                )
            )
    bare = Piece(draft.name, draft.label, tuple(edges))
    darts = tuple(
        Dart(f"{draft.name}.{dart.name}", dart.label, _pressed(bare, f"{draft.name}.{dart.name}"))
        for dart in draft.darts
    )
    notches = []
    for notch in draft.notches:
        spot = bare.spot_at(f"{draft.name}.{notch.run}", notch.at)
        notches.append(Notch(spot.edge, spot.u, notch.double, notch.name))
    features = tuple(_feature(bare, one) for one in draft.drawn)
    figures = tuple(FigureLine(one.figure, Bit(one.a, one.b)) for one in dimensions if one.piece == draft.name)
    return Piece(
        draft.name,
        draft.label,
        tuple(edges),
        darts,
        tuple(notches),
        features,
        Grain(*draft.grain, draft.grain_kind),
        tuple(Cut(cloth, draft.cut) for cloth in draft.cloth),
        draft.pair,
        remark=draft.remark,
        figures=figures,
        zero=draft.zero or zero,
    )


def _pressed(piece: Piece, dart: str) -> Literal["first", "second"]:
    """Upright darts to the centre (x = 0 in a draft), level ones down; common practice."""
    _, a, _, b = piece.legs(dart)
    mouth = b - a
    if abs(mouth.imag) > abs(mouth.real):
        return "first" if a.imag > b.imag else "second"
    return "first" if abs(a.real) <= abs(b.real) else "second"


def _feature(piece: Piece, drawn: Drawn) -> Feature:
    name = f"{piece.made}.{drawn.name}"
    points = drawn.points
    if drawn.kind == "level":
        a, b = points
        return Feature("level", name, drawn.label, (Bit(_run_on(piece, a, b), _run_on(piece, b, a)),))
    if drawn.kind == "pleat":
        p, p_in, q, q_in = points
        return Feature("pleat", name, drawn.label, (Bit(place_on(piece, p), p_in), Bit(place_on(piece, q), q_in)))
    ends = [place_on(piece, p) if drawn.kind != "contour_dart" else p for p in points]
    return Feature(drawn.kind, name, drawn.label, tuple(Bit(a, b) for a, b in pairwise(ends)))


def _run_on(piece: Piece, point: Point, other: Point) -> Spot:
    """Where a level reaches the outline at this end: there if it does, else along its line, nearest to the end."""
    end = place_on(piece, point)
    if isinstance(end, Spot):
        return end
    best: tuple[float, Spot] | None = None
    for edge in piece.edges:
        if edge.dart:
            continue
        for along, at in edge.path.crossings(point, other):
            off = abs(at - point)
            if (best is None or off < best[0]) and abs(at - other) > off:
                best = off, Spot(edge.name, edge.u_at(along / edge.path.length))
    if best is None:
        raise CaddetError(say("the level of the {label} does not reach its outline", label=piece.label.lower()))
    return best[1]
