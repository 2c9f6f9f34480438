"""Whether a piece is one that can be cut: a closed, simple outline of some size."""

from __future__ import annotations

import math
from itertools import pairwise

import shapely

from caddet.core.pattern.edges import Edge
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import say

SMALLEST = 200.0  # mm², less is a slip and not a piece
FLAT_ENOUGH = 0.2  # mm
TOUCHING = 1.0  # mm² that two parts of an outline may share


def fault(piece: Piece) -> str:
    """What is wrong with a piece's shape, as a sentence; "" when nothing is."""
    words = piece.kept("fault", lambda: _fault(piece.edges))
    return say("{label}: {words}", label=piece.label, words=words) if words else ""


def _fault(edges: tuple[Edge, ...]) -> str:
    points = [point for edge in edges for point in edge.path.flattened(FLAT_ENOUGH)[1:]]
    if not all(math.isfinite(p.real) and math.isfinite(p.imag) for p in points):
        return "some of its points can't be worked out from these figures."
    for edge in edges:
        if any(abs(one.end - other.start) > 0.05 for one, other in pairwise(edge.path.segments)):
            return say("its outline is open within {name}.", name=edge.name)
    for before, after in zip(edges, (*edges[1:], edges[0]), strict=True):
        if abs(before.path.end - after.path.start) > 0.05:
            return say("its outline is open between {name} and {name_2}.", name=before.name, name_2=after.name)
    ring = shapely.Polygon([(p.real, p.imag) for p in points])
    if not ring.is_valid and not _only_touches(ring):
        return "its outline crosses itself with these figures; it can't be cut like that."
    if ring.area < SMALLEST:
        return "hardly anything is left of it with these figures."
    return ""


def _only_touches(ring: shapely.Polygon) -> bool:
    """Whether an outline meets itself only in points, as two darts that share an apex do.

    Then every part of it is run round the same way, so that nothing is taken away twice.
    """
    if not shapely.is_valid_reason(ring).startswith("Ring Self-intersection"):
        return False
    mended = shapely.make_valid(ring, method="structure")
    return bool(abs(mended.area - abs(ring.area)) < TOUCHING)
