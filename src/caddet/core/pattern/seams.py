"""Seams: two sides that must meet, each an ordered list of edge runs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol

from caddet.core.pattern.piece import Piece

SeamKind = Literal["plain", "eased", "gathered", "pleated", "stretched"]
TOLERANCE = 3.0  # mm, ⅛": "seams of a traced pattern may differ by", common practice


class Pieces(Protocol):
    """Anything that gives pieces by name; a Pattern does."""

    def piece(self, name: str) -> Piece: ...


@dataclass(frozen=True, slots=True)
class EdgeRef:
    """One run of one piece as part of a seam's side.

    ``backwards``: walked against the outline's order. ``mirrored``: the other half or the other of
    a pair is meant.
    """

    piece: str
    run: str
    backwards: bool = False
    mirrored: bool = False

    def __str__(self) -> str:
        return f"{self.piece}.{self.run}"


@dataclass(frozen=True, slots=True)
class Seam:
    """A seam with its letter, two sides, kind and what is intended.

    ``amount`` is what side B is longer than side A on purpose: mm for eased and pleated, a ratio for
    gathered and stretched. ``corners``: the lines that cross this seam are meant to turn there.
    """

    name: str
    label: str
    a: tuple[EdgeRef, ...]
    b: tuple[EdgeRef, ...]
    kind: SeamKind = "plain"
    amount: float = 0.0
    tolerance: float = TOLERANCE
    corners: bool = False

    def length_a(self, pattern: Pieces) -> float:
        return side_length(pattern, self.a)

    def length_b(self, pattern: Pieces) -> float:
        return side_length(pattern, self.b)

    def wanted_b(self, length_a: float) -> float:
        """How long side B is meant to be, in mm, for this length of side A."""
        if self.kind in ("eased", "pleated"):
            return length_a + self.amount
        if self.kind in ("gathered", "stretched"):
            return length_a * self.amount
        return length_a

    def off(self, pattern: Pieces) -> float:
        """By how many mm side B is longer than it is meant to be."""
        return self.length_b(pattern) - self.wanted_b(self.length_a(pattern))


def side_length(pattern: Pieces, side: tuple[EdgeRef, ...]) -> float:
    """The length of a seam's side along its stitch lines, in mm."""
    return sum(pattern.piece(ref.piece).run_length(ref.run) for ref in side)
