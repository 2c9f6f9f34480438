"""Seams: two or more layers that are sewn together, each an ordered list of parts of edges."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from caddet.core.pattern.ids import Reference, reference
from caddet.core.sentences import say

JoinKind = Literal["plain", "eased", "gathered", "pleated", "stretched"]
TOLERANCE = 3.0  # mm, ⅛": "seams of a traced pattern may differ by", common practice


@dataclass(frozen=True, slots=True)
class Part:
    """Part of a seam's layer: edges by reference, between two positions on the run as its maker drew it.

    ``backwards``: walked against the maker's direction. Spans are half-open; only one up to 1 has its end.
    """

    ref: Reference
    backwards: bool = False
    low: float = 0.0
    high: float = 1.0

    def __str__(self) -> str:
        return str(self.ref)


def part(text: str, *, backwards: bool = False, mirrored: bool = False) -> Part:
    """A part from the text of a reference; ``mirrored`` means the other side's."""
    ref = reference(text)
    return Part(replace(ref, mirrored=True) if mirrored else ref, backwards)


Layer = tuple[Part, ...]


@dataclass(frozen=True, slots=True)
class Join:
    """How a further layer meets the first one.

    ``amount`` is what it is longer on purpose: mm for eased and pleated, a ratio for gathered and stretched. ``let_in`` is
    by how many times steps made it longer since it was drafted, so that as worn it is as long as before.
    """

    kind: JoinKind = "plain"
    amount: float = 0.0
    let_in: float = 1.0

    def wanted(self, length: float) -> float:
        """How long this layer is meant to be, in mm, for this length of the first one."""
        if self.kind in ("eased", "pleated"):
            return length + self.amount
        if self.kind in ("gathered", "stretched"):
            return length * self.amount
        return length

    def wanted_of_first(self, length: float) -> float:
        """How long the first layer is meant to be, in mm, for this length of the further one."""
        if self.kind in ("eased", "pleated"):
            return length - self.amount
        if self.kind in ("gathered", "stretched") and self.amount > 0:
            return length / self.amount
        return length


@dataclass(frozen=True, slots=True)
class Seam:
    """A seam: its name, what a maker calls it, its layers, and how each further layer meets the first.

    ``corners``: the lines that cross this seam are meant to turn there. ``one_sided``: only on one side of the
    body, not on both. ``role``: ``inside`` lies in a facing or lining. Its letter is not kept; it is worked out for showing (:meth:`Pattern.letter`).
    """

    name: str
    label: str
    layers: tuple[Layer, ...]
    joins: tuple[Join, ...] = (Join(),)
    tolerance: float = TOLERANCE
    corners: bool = False
    one_sided: bool = False
    sewn: str = ""
    role: str = ""

    @property
    def a(self) -> Layer:
        """The first layer."""
        return self.layers[0]

    @property
    def b(self) -> Layer:
        """The second layer."""
        return self.layers[1]

    @property
    def kind(self) -> JoinKind:
        """How the second layer meets the first."""
        return self.joins[0].kind

    @property
    def amount(self) -> float:
        """What the second layer is longer on purpose (mm, or a ratio)."""
        return self.joins[0].amount

    def parts(self) -> tuple[Part, ...]:
        """The parts of all layers."""
        return tuple(part for layer in self.layers for part in layer)

    def closes(self) -> bool:
        """Whether it joins an edge to its own counterpart, as a centre seam does."""
        runs = [[(part.ref.name, part.ref.marks) for part in layer] for layer in self.layers]
        return len(runs) == 2 and runs[0] == runs[1]

    def counterpart(self) -> Seam:
        """The same seam on the other side of the body."""
        layers = tuple(
            tuple(replace(part, ref=replace(part.ref, mirrored=not part.ref.mirrored)) for part in layer)
            for layer in self.layers
        )
        return replace(
            self, name=f"{self.name}'", label=say("{seam}, the wearer's right", seam=self.label), layers=layers
        )
