"""How often a piece, an edge and a seam are there on the finished garment, and on which sides.

It follows from the fold, the pair, and how many are cut from the first cloth; further cloths (interfacing) lie on those.
A piece that is cut more often than once for its place may be sewn so often, or double (an upper and an under collar):
that is only told by what it is sewn to.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection
from dataclasses import dataclass, replace

from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import Side
from caddet.core.pattern.seams import Layer, Part, Seam

LIMBS = ("sleeve", "cuff", "leg")  # pieces of which each of two limbs has its own
BOTH: frozenset[Side] = frozenset(("left", "right"))


@dataclass(frozen=True, slots=True)
class Often:
    """How many there are, and on which sides of the body (none where that is not said); ``cloths`` lie on each other at most."""

    count: int
    sides: frozenset[Side] = frozenset()
    cloths: int = 1

    @property
    def could_be(self) -> frozenset[int]:
        """How often it may be sewn, each time with as many layers as are left for it."""
        least = self.count // self.cloths
        return frozenset(least * n for n in range(1, self.cloths + 1) if self.cloths % n == 0)


def of_piece(piece: Piece) -> Often:
    """How often a piece is cut from its first cloth, as a half on the fold once."""
    if piece.pair:
        return Often(piece.cut, BOTH, max(piece.cut // 2, 1))
    sides: frozenset[Side] = frozenset(("across",)) if piece.fold else frozenset((piece.side,)) - {""}
    return Often(piece.cut, sides, max(piece.cut // 2, 1) if piece.role in LIMBS else piece.cut)


def of_edge(piece: Piece, key: str) -> Often:
    """How often an edge is there: of a half on the fold twice for each, its fold once."""
    own = of_piece(piece)
    return Often(2 * own.count, BOTH, own.cloths) if piece.fold and key != piece.fold else own


def of_layer(pattern: Pattern, seam: Seam, layer: Layer) -> tuple[Often, ...]:
    """How often each stretch of a layer of a seam is there to be sewn, in walking order; none for what is lost.

    A seam holds for both sides of the body: an edge is counted with its counterpart, unless that is sewn to the same by name.
    """
    sewn_to = {part.ref.piece for one in seam.layers if one is not layer for part in one}
    alike = [one for one in pattern.seams if one is seam or sewn_to & {part.ref.piece for part in one.parts()}]
    named = {str(part.ref) for one in alike for part in one.parts()}
    here = Counter(str(part.ref) for part in layer)
    found: list[Often] = []
    for part in layer:
        other = Part(replace(part.ref, mirrored=not part.ref.mirrored))
        alone = seam.one_sided or str(other.ref) in named
        real = [] if alone else [f for f in pattern.fragments(other) if not f.imagined]
        for fragment in pattern.fragments(part):
            often = of_edge(fragment.piece, fragment.edge.name)
            if alone and often.sides == BOTH:
                often = Often(often.count // 2, frozenset(("right" if fragment.imagined else "left",)), often.cloths)
            elif real and not fragment.imagined and often.sides != BOTH:
                often = Often(often.count + of_piece(real[0].piece).count, BOTH, often.cloths)
            times = here[str(part.ref)]
            found.append(Often(max(often.count // times, 1), often.sides, max(often.cloths // times, 1)))
    return tuple(found)


def as_often(pattern: Pattern, seam: Seam) -> bool:
    """Whether all sides of a seam are there equally often, as far as they are there at all."""
    could = [often.could_be for layer in seam.layers for often in of_layer(pattern, seam, layer)]
    return not could or bool(frozenset.intersection(*could))


def counted(pattern: Pattern, made: Collection[str]) -> Pattern:
    """The pattern with what a step made (names of pieces) cut as often as the edges are there that it is sewn to.

    A facing drawn from one armhole is cut for both; as a pair, so that it is also there turned over.
    """
    for name in made:
        times = {_times(pattern, seam, name) for seam in pattern.seams} - {0}
        if not times or max(times) < 2:
            continue
        piece, by = pattern.piece(name), max(times)
        cuts = tuple(replace(cut, count=cut.count * by) for cut in piece.cuts)
        pair = piece.pair or (by == 2 and not piece.fold and piece.cut == 1)
        pattern = pattern.with_piece(replace(piece, cuts=cuts, pair=pair))
    return pattern


def _times(pattern: Pattern, seam: Seam, name: str) -> int:
    """How many times as often as a piece what it is sewn to by a seam is there; 0 where it is not in it, or that is as it should be."""
    layers = [{f.piece.name for f in pattern.what_is_left(layer)} for layer in seam.layers]
    own = [n for n, names in enumerate(layers) if names == {name}]
    if len(own) != 1 or len(seam.layers) != 2 or as_often(pattern, seam):
        return 0
    mine, others = of_layer(pattern, seam, seam.layers[own[0]]), of_layer(pattern, seam, seam.layers[1 - own[0]])
    if not mine or not others:
        return 0
    ratio = max(one.count for one in others) / max(one.count for one in mine)
    return int(ratio) if ratio >= 2 and ratio == int(ratio) else 0
