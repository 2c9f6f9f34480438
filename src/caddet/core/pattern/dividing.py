"""Dividing what is drawn inside a piece: which bits of it lie on which side of a cut, and where they go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Point, cross
from caddet.core.pattern.features import Bit, End, Feature, Spot
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.sentences import say


def crossings(a: Point, b: Point, line: Path) -> list[tuple[float, float]]:
    """Where the straight a → b meets a line of straight segments: (share of a → b, mm along the line)."""
    found: list[tuple[float, float]] = []
    passed = 0.0
    for segment in line.segments:
        points = [segment.start, *segment.flattened(0.01)]
        for p, q in pairwise(points):
            slope = cross(b - a, q - p)
            size = abs(q - p)
            if abs(slope) > 1e-9 and size > 0:
                share, other = cross(p - a, q - p) / slope, cross(p - a, b - a) / slope
                if 1e-9 < share < 1 - 1e-9 and -1e-9 <= other <= 1 + 1e-9:
                    found.append((share, passed + size * min(max(other, 0.0), 1.0)))
            passed += size
    return sorted(found)


def kept_inside(piece: Piece, feature: Feature, region: Sequence[Point], line: Path, cut: str) -> Feature | None:
    """What of a feature lies in a part of a piece that was cut along a line; ends at the cut become places on it.

    ``region`` is the part's outline, ``cut`` the key of its cut edge. None when nothing of it is there.
    Raises :class:`Refused` when a contour dart or pleat would be left in part.
    """
    bits: list[Bit] = []
    whole = line.length
    for bit in feature.bits:
        a, b = piece.where(bit.a), piece.where(bit.b)
        ends: list[tuple[float, End]] = [(0.0, bit.a)]
        ends += [(share, Spot(cut, along / whole)) for share, along in crossings(a, b, line)]
        ends.append((1.0, bit.b))
        for (low, first), (high, second) in pairwise(ends):
            if high - low > 1e-7 and contains(region, a + (b - a) * (low + high) / 2):
                bits.append(Bit(first, second))
    if bits and feature.kind in ("contour_dart", "pleat") and len(bits) < len(feature.bits):
        raise Refused(say("the line runs through the {feature}; draw it beside it", feature=feature.label), "line")
    if not bits:
        return None
    return replace(feature, bits=tuple(bits))


def pinned(piece: Piece, feature: Feature, gone: set[str]) -> Feature:
    """A feature whose places on edges that go become points where they are."""

    def end(e: End) -> End:
        return piece.where(e) if isinstance(e, Spot) and e.edge in gone and piece.holds_spot(e) else e

    return replace(feature, bits=tuple(Bit(end(bit.a), end(bit.b)) for bit in feature.bits))
