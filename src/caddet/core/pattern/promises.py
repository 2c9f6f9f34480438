"""What a pattern promises, and how it is measured: on the finished outlines, as they are now.

A promise is a sum of measurements held against a target. Each measurement says what it measures, from where
to where, so that a definition is not taken for a failure. A girth is every piece's level, counted as worn.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, Protocol

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import cross
from caddet.core.pattern.closed import shut_length
from caddet.core.pattern.features import Feature, Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import Reference, own_name, reference
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import CENTRES
from caddet.core.pattern.seams import Part
from caddet.core.sentences import say

CLOSES = 0.1  # mm, within which a draft closes on the body


class Measurable(Protocol):
    """What a measurement asks of a pattern."""

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """Every piece."""

    def piece(self, name: str) -> Piece:
        """The one piece of a name."""

    def edges(self, ref: Reference) -> list[tuple[int, int]]:
        """Every edge that a reference finds, as (piece, edge)."""

    def fragments(self, part: Part) -> list[Fragment]:
        """The stretches of a part, in walking order."""

    def length(self, layer: Iterable[Part]) -> float:
        """How long a layer is, in mm."""

    def held(self, part: Part) -> float:
        """How long a part is as worn, in mm: without the fullness that steps let in and its seam holds."""


@dataclass(frozen=True, slots=True)
class Run:
    """``times`` × the length of a run along its stitch line, wherever it went; darts left out, pleats folded, gathers drawn in.

    ``worn``: as worn, a half on the fold and a pair counted twice.
    """

    ref: Reference
    times: float = 1.0
    worn: bool = False

    def measured(self, pattern: Measurable) -> float:
        """In mm. Raises :class:`CaddetError` when the run is gone."""
        if not self.worn:
            return self.times * pattern.held(Part(self.ref))
        if not pattern.edges(self.ref):
            raise CaddetError(say("there is no edge “{ref}” here", ref=self.ref))
        other = Reference(self.ref.name, self.ref.marks, not self.ref.mirrored)
        if pattern.edges(other):
            return self.times * (pattern.held(Part(self.ref)) + pattern.held(Part(other)))
        fragments = pattern.fragments(Part(self.ref))
        share = sum(f.length * f.piece.worn for f in fragments) / sum(f.length for f in fragments)
        return self.times * share * pattern.held(Part(self.ref))

    def words(self) -> str:
        """What is measured."""
        what = f"{self.ref.piece} {self.ref.own}".replace("_", " ").strip()
        return say("{what}, both halves", what=what) if self.worn else what


@dataclass(frozen=True, slots=True)
class Girth:
    """The level of that name on every piece of one source, from outline to outline, as worn.

    ``source`` is what stands in front of the names of a later source's pieces (``b5_``).
    """

    level: str
    times: float = 1.0
    source: str = ""

    def measured(self, pattern: Measurable) -> float:
        """In mm. Raises :class:`CaddetError` when no piece has the level."""
        found = [
            (piece, f)
            for piece in pattern.pieces
            for f in piece.features
            if f.kind == "level" and f.role == self.level and source_of(f.name) == self.source
        ]
        if not found:
            raise CaddetError(say("no piece has the level “{level}”", level=self.level.replace("_", " ")))
        return self.times * sum(piece.worn * level_length(piece, feature) for piece, feature in found)

    def words(self) -> str:
        """What is measured."""
        return say(
            "the {level} level of every piece, from edge to edge, darts left out", level=self.level.replace("_", " ")
        )


@dataclass(frozen=True, slots=True)
class Across:
    """``times`` × the length of one line or level of one piece; when it was cut, of all its parts together."""

    piece: str
    feature: str
    times: float = 1.0

    def measured(self, pattern: Measurable) -> float:
        """In mm. Raises :class:`CaddetError` when the line is gone."""
        parts = [piece for piece in pattern.pieces if piece.is_meant(reference(self.piece))] or [
            pattern.piece(self.piece)
        ]
        drawn = [(piece, feature) for piece in parts if (feature := piece.feature(self.feature)) is not None]
        if not drawn:
            raise CaddetError(
                say("{name} has no line “{feature}”", name=parts[0].name, feature=self.feature.replace("_", " "))
            )
        return self.times * sum(level_length(piece, feature) for piece, feature in drawn)

    def words(self) -> str:
        """What is measured."""
        return f"the {self.feature.replace('_', ' ')} of the {self.piece.replace('_', ' ')}"


@dataclass(frozen=True, slots=True)
class FromFold:
    """How far a place on the outline lies from the line of the piece's fold (of a pair, its centre seam), for both halves."""

    piece: str
    spot: Spot
    times: float = 1.0

    def measured(self, pattern: Measurable) -> float:
        """In mm. Raises :class:`CaddetError` when the piece has no fold any more."""
        parts = [piece for piece in pattern.pieces if piece.is_meant(reference(self.piece))] or [
            pattern.piece(self.piece)
        ]
        fold = next((edge.path for piece in parts for edge in piece.edges if edge.finish == "fold"), None)
        if fold is None:  # cut as a pair, or each side on its own: from the line of its centre seam
            seams = [e.path for one in parts for e in one.edges if e.role in CENTRES]
            fold = max(seams, key=lambda path: path.length, default=None)
        if fold is None:
            raise CaddetError(say("the {label} has no fold to measure from", label=parts[0].label.lower()))
        piece = next((one for one in parts if one.holds_spot(self.spot)), parts[0])
        along = (fold.end - fold.start) / abs(fold.end - fold.start)
        return 2 * self.times * abs(cross(along, piece.where(self.spot) - fold.start))

    def words(self) -> str:
        """What is measured."""
        return say(
            "the {piece} from fold line to {own_name}, both halves",
            piece=self.piece.replace("_", " "),
            own_name=own_name(self.spot.edge).replace("_", " "),
        )


Measurement = Run | Girth | Across | FromFold


@dataclass(frozen=True, slots=True)
class Promise:
    """The measurements, added up, are the ``target`` (mm), within ``tolerance``; ``least``: at least that."""

    name: str
    label: str
    of: tuple[Measurement, ...]
    target: float
    why: str = ""
    kind: Literal["equal", "least"] = "equal"
    tolerance: float = CLOSES

    def measured(self, pattern: Measurable) -> float:
        """The sum, in mm. Raises :class:`CaddetError` when something it measures is gone."""
        return sum(one.measured(pattern) for one in self.of)

    @property
    def agrees(self) -> bool:
        """Whether it is that edges are equally long, as two sides of a seam are; not a measure of the body."""
        return self.target == 0 and all(isinstance(one, Run) for one in self.of)

    def words(self) -> str:
        """What it measures, from where to where."""
        signs = [("less " if one.times < 0 else "") + one.words() for one in self.of]
        return "; ".join(signs)

    @property
    def place(self) -> str:
        """An edge or piece that it can be looked at on."""
        for one in self.of:
            if isinstance(one, Run):
                return str(one.ref)
            if isinstance(one, Across):
                return one.piece
        return ""


@dataclass(frozen=True, slots=True)
class Meant:
    """A promise that a step means to change, by how much (mm)."""

    promise: str
    step: str
    amount: float


_LATER = re.compile(r"b[0-9]+_")


def source_of(name: str) -> str:
    """What a later source put in front of a name."""
    found = _LATER.match(name)
    return found.group() if found else ""


def level_length(piece: Piece, level: Feature) -> float:
    """How long a level is on the cloth that is sewn: its bits, less the darts and contour darts they cross."""
    ends = [(piece.where(bit.a), piece.where(bit.b)) for bit in level.bits]
    return sum(shut_length(piece, Path.polyline([a, b])) for a, b in ends if abs(b - a) > 1e-6)
