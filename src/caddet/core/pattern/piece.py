"""A piece of a pattern: named edges in a closed round, features, grain, and what is cut of it.

The outline is the *net* (stitch) line, clockwise as seen on the table. A dart's two legs stand in
the outline as edges of their own, named after the dart. An edge may stand in several parts (on both
sides of a dart, after a cut): all have its name, and each knows which part of it it is.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from caddet.core.errors import CaddetError, some
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import FLAT, Motion, Point
from caddet.core.pattern.edges import SAME, Edge
from caddet.core.pattern.features import Dart, End, Feature, FigureLine, Notch, Spot
from caddet.core.pattern.ids import (
    Reference,
    base_name,
    id_of,
    named_on,
    on_other_side,
    other_side,
    own_name,
    reference,
)
from caddet.core.pattern.roles import Covers, Side, covers_of, role_of_piece
from caddet.core.sentences import say

GrainKind = Literal["along", "across", "bias", "stretch", "any"]
Symmetry = Literal["whole", "fold", "pair"]


@dataclass(frozen=True, slots=True)
class Grain:
    """The grain line, in the piece's frame; it lies along the cloth (``across``: across it).

    ``bias``: drawn at 45° to the middle of the piece; ``stretch``: the cloth's greatest stretch runs along it, which
    goes across the cloth; ``any``: it may lie as it likes.
    ``tolerance``: by how many degrees it may be off.
    """

    a: Point = 0j
    b: Point = 100j
    kind: GrainKind = "along"
    tolerance: float = 0.0

    def moved(self, motion: Motion) -> Grain:
        """The grain line moved rigidly."""
        return replace(self, a=motion(self.a), b=motion(self.b))


@dataclass(frozen=True, slots=True)
class Cut:
    """From which cloth role a piece is cut, and how often."""

    cloth: str = "main"
    count: int = 1


@dataclass(frozen=True)
class Piece:
    """One pattern piece, net.

    ``made`` is the name it was made under, ``marks`` what cuts left on it; both together are its ``name``.
    ``pair``: it stands for two, one the mirror image of the other; so does a piece with a fold edge for a whole.
    ``also``: names of pieces that were joined into it. ``remark`` is printed on it; ``zero`` says what
    lies at y = 0 of its frame (the waist, the nape): heights on it are counted from there.
    ``role`` is what it is (front, sleeve, facing …: :mod:`.roles`), ``covers`` which half of the body it covers, ``side`` on
    which it is worn, ``down`` which way is down on the wearer, in its frame; ``source`` the id of the block or step that
    made it. Where its maker does not say what it is, its name tells.
    """

    made: str
    label: str
    edges: tuple[Edge, ...]
    darts: tuple[Dart, ...] = ()
    notches: tuple[Notch, ...] = ()
    features: tuple[Feature, ...] = ()
    grain: Grain = Grain()
    cuts: tuple[Cut, ...] = (Cut(),)
    pair: bool = False
    marks: frozenset[str] = frozenset()
    also: tuple[str, ...] = ()
    remark: str = ""
    figures: tuple[FigureLine, ...] = ()
    zero: str = "the top"
    role: str = ""
    covers: Covers = ""
    side: Side = ""
    down: Point = 1j
    source: str = ""
    _memo: dict[Any, Any] = field(default_factory=dict, init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        if not self.role:
            object.__setattr__(self, "role", role_of_piece(self.made))
            object.__setattr__(self, "covers", self.covers or covers_of(self.made))

    def __hash__(self) -> int:
        found = self._memo.get("hash")
        if found is None:
            found = self._memo["hash"] = hash((self.made, self.label, self.edges, self.features, self.notches))
        return int(found)

    def kept(self, key: Any, work: Callable[[], Any]) -> Any:
        """What some work on this piece gives, done once."""
        if key not in self._memo:
            self._memo[key] = work()
        return self._memo[key]

    # --- what it is -------------------------------------------------------------------------------

    @property
    def name(self) -> str:
        """Key and marks as text: ``front``, ``front[s4.2]``."""
        return str(self.kept("name", lambda: id_of(self.made, self.marks)))

    def is_meant(self, ref: Reference) -> bool:
        """Whether a reference to pieces finds this one."""
        if ref.finds(self.made, self.marks):
            return True
        return any(ref.finds(other.key, other.marks) for other in map(reference, self.also))

    @property
    def fold(self) -> str:
        """The key of the run that lies on the fold, or an empty string."""
        return next((edge.name for edge in self.edges if edge.finish == "fold"), "")

    @property
    def symmetry(self) -> Symmetry:
        """Whole, half on a fold, or half of a pair."""
        return "fold" if self.fold else "pair" if self.pair else "whole"

    @property
    def worn(self) -> int:
        """How often it is counted as worn: a half on the fold and a pair twice, a whole piece once."""
        return 1 if self.symmetry == "whole" else 2

    @property
    def cut(self) -> int:
        """How many of it are cut from its first cloth."""
        return self.cuts[0].count

    def count_of(self, cloth: str) -> int:
        """How many of it are cut from the cloth of a role."""
        return sum(cut.count for cut in self.cuts if cut.cloth == cloth)

    @property
    def centre_x(self) -> float:
        """Where its middle of the body lies: the fold, or else the grain line."""
        for edge in self.edges:
            if edge.finish == "fold":
                return (edge.path.start.real + edge.path.end.real) / 2
        return (self.grain.a.real + self.grain.b.real) / 2

    # --- the outline ------------------------------------------------------------------------------

    def outline(self) -> Path:
        """The whole net outline as one closed path."""
        found: Path = self.kept("outline", lambda: Path.join(edge.path for edge in self.edges))
        return found

    def polygon(self, tolerance: float = FLAT) -> list[Point]:
        """The net outline flattened, without repeating the first point."""
        return list(self.kept(("polygon", tolerance), lambda: _flattened(self.edges, tolerance)))

    def runs(self) -> list[str]:
        """The keys of the edges, in outline order, each once, dart legs left out."""
        return list(self.kept("runs", lambda: dict.fromkeys(e.name for e in self.edges if not e.dart)))

    def key(self, name: str) -> str:
        """A run's key from its key or its own name (``side`` of the piece ``front`` is ``front.side``)."""
        if "." in name or name in self.runs():
            return name
        return named_on(self.made, name)

    def has_run(self, name: str) -> bool:
        """Whether it has an edge of that key or own name."""
        return self.key(name) in self.runs()

    def runs_of(self, *roles: str) -> list[str]:
        """The keys of the runs that have one of some roles, in outline order."""
        return list(dict.fromkeys(e.name for e in self.edges if e.role in roles and not e.dart))

    def level(self, role: str) -> Feature | None:
        """The level of a role (bust, hip …); None when there is none."""
        return next((f for f in self.features if f.kind == "level" and f.role == role), None)

    def indices(self, ref: Reference) -> tuple[int, ...]:
        """Which edges a reference finds on this piece, in the maker's order."""
        table: Mapping[str, tuple[int, ...]] = self.kept("index", self._by_key)
        found = table.get(ref.key, ())
        return found if not ref.marks else tuple(i for i in found if ref.marks <= self.edges[i].marks)

    def _by_key(self) -> Mapping[str, tuple[int, ...]]:
        table: dict[str, list[int]] = {}
        for index, edge in enumerate(self.edges):
            table.setdefault(edge.name, []).append(index)
        middle = {i: edge.pairs[0][1] + edge.pairs[-1][1] for i, edge in enumerate(self.edges)}
        return {key: tuple(sorted(found, key=middle.__getitem__)) for key, found in table.items()}

    def ref(self, name: str | Reference) -> Reference:
        """A reference from its text, a run's key, or its own name."""
        if isinstance(name, Reference):
            return name
        found = reference(name)
        return found if "." in found.name else Reference(self.key(found.name), found.marks, found.mirrored)

    def run(self, name: str | Reference) -> list[Edge]:
        """The edges of a run in the maker's order. Raises :class:`CaddetError` when there are none."""
        ref = self.ref(name)
        found = [self.edges[i] for i in self.indices(ref)]
        if not found:
            raise CaddetError(
                say(
                    "{name} has no edge “{name_2}”; it has {runs}",
                    name=self.name,
                    name_2=name,
                    runs=some(map(own_name, self.runs())),
                )
            )
        return found

    def run_length(self, name: str | Reference) -> float:
        """The length of a run along the stitch line, in mm, dart legs skipped, pleats open."""
        return sum(edge.path.length for edge in self.run(name))

    def walked(self, name: str | Reference) -> list[Path]:
        """The paths of a run in the maker's order and direction."""
        return [edge.walked for edge in self.run(name)]

    def run_point(self, name: str | Reference, at: float) -> tuple[Point, Point, int]:
        """Point, direction (the maker's) and index in ``edges`` at a distance along a run (clamped)."""
        indices = self.indices(self.ref(name)) or self._none(name)
        left = at
        for index in indices:
            path = self.edges[index].walked
            if left <= path.length + 1e-9 or index == indices[-1]:
                return path.point_at(left), path.direction_at(left), index
            left -= path.length
        raise AssertionError("unreachable: a run has edges")

    def _none(self, name: str | Reference) -> tuple[int, ...]:
        self.run(name)
        return ()

    def nearest_on_run(self, name: str | Reference, point: Point) -> tuple[float, float]:
        """How far a point is from a run, and how far along the run that is."""
        best, passed = (float("inf"), 0.0), 0.0
        for path in self.walked(name):
            off, along = path.nearest(point)
            best = min(best, (off, passed + along))
            passed += path.length
        return best

    def legs(self, dart: str) -> tuple[int, Point, Point, Point]:
        """Where a dart stands, by id or own name: index of its first leg, first leg point, apex, second leg point."""
        dart = dart if "." in dart else f"{self.made}.{dart}"
        for index, edge in enumerate(self.edges):
            if edge.dart == dart and self.edges[index - 1].dart != dart:
                count, last = len(self.edges), index
                while self.edges[(last + 1) % count].dart == dart:
                    last = (last + 1) % count
                middle = self._apex_index(index, last)
                return index, edge.path.start, self.edges[middle].path.end, self.edges[last].path.end
        raise CaddetError(say("{name} has no dart “{dart}”", name=self.name, dart=dart))

    def _apex_index(self, first: int, last: int) -> int:
        """The last edge of a dart's first leg."""
        name, index = self.edges[first].name, first
        while index != last and self.edges[(index + 1) % len(self.edges)].name == name:
            index = (index + 1) % len(self.edges)
        return index

    def dart(self, ref: Reference) -> Dart:
        """The one dart meant. Raises :class:`CaddetError` when there is none, or more than one."""
        found = [dart for dart in self.darts if ref.finds(dart.name, dart.marks)]
        if len(found) != 1:
            words = "has no" if not found else "has more than one"
            raise CaddetError(f"the {self.label.lower()} {words} dart “{own_name(ref.key).replace('_', ' ')}”")
        return found[0]

    # --- places -----------------------------------------------------------------------------------

    def on_edge(self, spot: Spot) -> tuple[int, float] | None:
        """The edge's index and the distance along its path at a spot; None when its cloth is gone."""
        best: tuple[int, float] | None = None
        for index in self.indices(Reference(base_name(spot.edge), frozenset(), on_other_side(spot.edge))):
            edge = self.edges[index]
            share = edge.share_at(spot.u)
            if share is not None:
                best = (index, share * edge.path.length)
                if spot.u < edge.high - SAME:
                    break  # spans are half-open: a position between two parts belongs to the later one
        return best

    def where(self, end: End) -> Point:
        """The point of an end. Raises :class:`CaddetError` when a spot's cloth is gone."""
        if not isinstance(end, Spot):
            return end
        found = self.on_edge(end)
        if found is None:
            raise CaddetError(
                say("the place on {own_name} is no longer on {name}", own_name=own_name(end.edge), name=self.name)
            )
        return self.edges[found[0]].path.point_at(found[1])

    def holds_spot(self, end: End) -> bool:
        """Whether the cloth of an end is on this piece."""
        return not isinstance(end, Spot) or self.on_edge(end) is not None

    def spot_at(self, name: str | Reference, at: float) -> Spot:
        """The place at a distance along a run, in mm from its start (clamped)."""
        indices = self.indices(self.ref(name)) or self._none(name)
        left = at
        for index in indices:
            edge = self.edges[index]
            length = edge.path.length
            if left <= length + 1e-9 or index == indices[-1]:
                share = min(max(left / length, 0.0), 1.0)
                return Spot(edge.name, edge.u_at(1 - share if edge.backwards else share))
            left -= length
        raise AssertionError("unreachable: a run has edges")

    def along(self, spot: Spot) -> float:
        """How far along its whole run a spot lies, in mm. Raises :class:`CaddetError` when its cloth is gone."""
        found = self.on_edge(spot)
        if found is None:
            raise CaddetError(
                say("the place on {own_name} is no longer on {name}", own_name=own_name(spot.edge), name=self.name)
            )
        passed = 0.0
        for index in self.indices(Reference(base_name(spot.edge), frozenset(), on_other_side(spot.edge))):
            edge = self.edges[index]
            if index == found[0]:
                return passed + (edge.path.length - found[1] if edge.backwards else found[1])
            passed += edge.path.length
        raise AssertionError("unreachable: the spot lies on the run")

    def feature(self, name: str) -> Feature | None:
        """A feature by its key or own name."""
        return next((f for f in self.features if name in (f.name, own_name(f.name))), None)

    def drawn(self, feature: Feature) -> list[Path]:
        """The lines of a feature; a bit whose cloth is gone is left out."""
        bits = [
            (self.where(b.a), self.where(b.b)) for b in feature.bits if self.holds_spot(b.a) and self.holds_spot(b.b)
        ]
        return [Path.polyline([a, b]) for a, b in bits if abs(a - b) > 1e-9]

    # --- the same piece, otherwise ----------------------------------------------------------------

    def with_edges(self, edges: Sequence[Edge]) -> Piece:
        """The piece with another outline."""
        return Piece(
            self.made,
            self.label,
            tuple(edges),
            self.darts,
            self.notches,
            self.features,
            self.grain,
            self.cuts,
            self.pair,
            self.marks,
            self.also,
            self.remark,
            self.figures,
            self.zero,
            self.role,
            self.covers,
            self.side,
            self.down,
            self.source,
        )

    def moved(self, motion: Motion) -> Piece:
        """The piece moved rigidly; a mirror image is turned round so that it stays clockwise."""
        edges = [edge.moved(motion) for edge in self.edges]
        darts = self.darts
        if motion.mirror:
            edges = [edge.reversed() for edge in reversed(edges)]
            darts = tuple(replace(d, pressed="second" if d.pressed == "first" else "first") for d in darts)
        return replace(
            self,
            edges=tuple(edges),
            darts=darts,
            grain=self.grain.moved(motion),
            features=tuple(f.each_point(motion) for f in self.features),
            figures=tuple(_figure_moved(line, motion) for line in self.figures),
            down=motion.turned(self.down),
        )

    def counterpart(self) -> Piece:
        """The other of a pair, in this piece's frame: mirrored in the upright line through its middle."""
        flip = Motion(turn=-1 + 0j, shift=complex(2 * self.centre_x, 0), mirror=True)
        edges = tuple(edge.moved(flip).reversed().counterpart() for edge in reversed(self.edges))
        return replace(
            self,
            made=other_side(self.made),
            edges=edges,
            darts=tuple(other_dart(d) for d in self.darts),
            notches=tuple(replace(n, edge=other_side(n.edge)) for n in self.notches),
            also=tuple(map(_other_id, self.also)),
            features=tuple(f.mirrored(flip) for f in self.features),
            grain=self.grain.moved(flip),
            figures=(),
        )


def other_dart(dart: Dart) -> Dart:
    """The dart as the other side's, pressed towards the leg that is now the other one."""
    return replace(dart, name=other_side(dart.name), pressed="second" if dart.pressed == "first" else "first")


def _other_id(text: str) -> str:
    ref = reference(text)
    return str(replace(ref, mirrored=not ref.mirrored))


def _figure_moved(line: FigureLine, motion: Motion) -> FigureLine:
    a, b = (end if isinstance(end, Spot) else motion(end) for end in (line.bit.a, line.bit.b))
    return replace(line, bit=replace(line.bit, a=a, b=b))


def _flattened(edges: tuple[Edge, ...], tolerance: float) -> tuple[Point, ...]:
    points: list[Point] = []
    for edge in edges:
        points.extend(edge.path.flattened(tolerance)[1:])
    return tuple(points)
