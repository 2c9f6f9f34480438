"""Stretches of edges, as a seam or a run walks them."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.piece import Piece


@dataclass(frozen=True, slots=True)
class Fragment:
    """A stretch of one edge of one piece: between two distances along the edge's path, in walking order.

    ``imagined``: the counterpart of a half, which exists only in thought.
    """

    piece: Piece
    index: int
    low: float
    high: float
    backwards: bool
    imagined: bool = False

    @property
    def edge(self) -> Edge:
        """The edge it is a stretch of."""
        return self.piece.edges[self.index]

    @property
    def length(self) -> float:
        """Its length in mm."""
        return self.high - self.low

    def path(self) -> Path:
        """Its path in walking direction, in the piece's frame (mirrored in x when imagined)."""
        path = self.edge.path.between(self.low, self.high) or self.edge.path
        path = path.reversed() if self.backwards else path
        return path.moved(Motion(mirror=True)) if self.imagined else path
