"""The verb that draws the two sides of a seam over a dart's point as smooth curves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Join, Layer, Seam
from caddet.core.pattern.surgery import sound

NEAR = 12.0  # mm: points of a curve that lie nearer to each other would make it wave
TRUE = 0.05  # mm by which two sides of a seam may differ and are still called equal


def blend_seam(pattern: Pattern, name: str, levels: Sequence[str] = ()) -> Pattern:
    """Both sides of a seam of straight parts drawn as one smooth curve each, through the middles of their parts.

    The ends stay, and so do the places where the named levels cross the seam: what is measured there is unchanged.
    By what one side comes out longer it is eased onto the other. Raises :class:`Refused` when a piece can't be cut so.
    """
    seam = pattern.seam(name)
    lengths = []
    for layer in seam.layers:
        fragments = pattern.layer_fragments(layer)
        piece = fragments[0].piece
        curve = _curve(piece, fragments, levels)
        pattern = pattern.with_piece(sound(_laid_along(piece, fragments, curve)))
        lengths.append(curve.length)
    return pattern.with_seam(_eased(seam, lengths))


def _eased(seam: Seam, lengths: Sequence[float]) -> Seam:
    more = lengths[1] - lengths[0]
    if abs(more) <= TRUE:
        return seam
    layers: tuple[Layer, ...] = seam.layers if more > 0 else seam.layers[::-1]
    return replace(seam, layers=layers, joins=(Join("eased", abs(more)),))


def _walked(fragment: Fragment) -> Path:
    return fragment.edge.path.reversed() if fragment.backwards else fragment.edge.path


def _curve(piece: Piece, fragments: Sequence[Fragment], levels: Sequence[str]) -> Path:
    """The smooth curve of one side, in walking order."""
    parts = [_walked(fragment) for fragment in fragments]
    whole = Path.join(parts)
    ends = [0.0]
    for part in parts:
        ends.append(ends[-1] + part.length)
    fixed = list[float]()  # two levels may end at one place
    for along in sorted(_crossings(piece, whole, levels)):
        if NEAR < along < whole.length - NEAR and (not fixed or along - fixed[-1] > NEAR):
            fixed.append(along)
    middles = [(low + high) / 2 for low, high in pairwise(ends)]
    at = [0.0, *fixed, whole.length]
    at += [one for one in middles if all(abs(one - other) > NEAR for other in at)]
    return smooth_through([whole.point_at(one) for one in sorted(at)], None, None)


def _crossings(piece: Piece, whole: Path, levels: Sequence[str]) -> list[float]:
    """Where levels of a piece end on a path, in mm along it."""
    found = []
    for feature in piece.features:
        if feature.kind == "level" and any(feature.name.endswith(one) for one in levels):
            for bit in feature.bits:
                for end in (bit.a, bit.b):
                    off, along = whole.nearest(piece.where(end))
                    if off < 0.5:
                        found.append(along)
    return found


def _laid_along(piece: Piece, fragments: Sequence[Fragment], curve: Path) -> Piece:
    """The piece with the edges of one side on parts of a curve, each as long a share of it as it was."""
    lengths = [fragment.edge.path.length for fragment in fragments]
    scale = curve.length / sum(lengths)
    edges: list[Edge] = list(piece.edges)
    passed = 0.0
    for fragment, length in zip(fragments, lengths, strict=True):
        low, passed = passed, passed + length * scale
        part = curve.between(low, min(passed, curve.length))
        assert part is not None
        edges[fragment.index] = fragment.edge.with_path(part.reversed() if fragment.backwards else part)
    return piece.with_edges(edges)
