"""The verbs that put pieces together and take them apart: join, unfold, separate, mirror, remove, assembled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from caddet.core.geometry.offset import ending_at
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.cutting import from_first_piece
from caddet.core.pattern.dividing import pinned
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, End, Feature, FigureLine, Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import on_other_side
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece, other_dart
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Layer, Seam
from caddet.core.pattern.surgery import sound
from caddet.core.sentences import Length, say

ALIKE = 0.5  # mm by which two halves of a piece may differ and still be laid on the fold
GAP = 1.0  # mm: edges that lie further apart than this are not joined


def join_pieces(pattern: Pattern, seam: Seam, label: str = "") -> Pattern:
    """Two pieces made one along a seam, which goes with its notches.

    Layers that run the same way round turn the second piece over. The piece with the fold stays, else the one of
    the first layer. Raises :class:`Refused` when they are not two pieces, or lie more than 1 mm apart.
    """
    if len(seam.layers) != 2:
        raise Refused(say("{label}: only a seam of two layers can be joined", label=seam.label), "seam")
    first, second = (_block(pattern, layer, seam) for layer in seam.layers)
    if first[0].piece.name == second[0].piece.name:
        raise Refused(say("{label}: both its sides are on one piece; unfold it instead", label=seam.label), "seam")
    if second[0].piece.fold and not first[0].piece.fold:
        first, second = second, first
    stays, comes = first[0].piece, second[0].piece
    _matching(stays, comes, seam)
    motion = _laid_against(first, second)
    off = _apart(first, second, motion)
    if off > GAP:
        raise Refused(
            say(
                "{label}: the two edges lie {off} apart when laid together; true them first",
                label=seam.label,
                off=Length(off),
            ),
            "seam",
        )
    gone = {fragment.edge.name for fragment in (*first, *second)}
    comes = replace(comes, features=tuple(pinned(comes, f, gone) for f in comes.features)).moved(motion)
    kept = _open_ring(stays, first)
    added = _open_ring(comes, second, turned=motion.mirror)
    added = _snapped(added, kept[-1].path.end, kept[0].path.start)
    made = replace(
        stays,
        edges=(*kept, *added),
        label=label or stays.label,
        darts=(*stays.darts, *comes.darts),
        also=(*stays.also, comes.name, *comes.also),
        notches=tuple(n for n in (*stays.notches, *comes.notches) if n.edge not in gone),
        features=(*(pinned(stays, f, gone) for f in stays.features), *comes.features),
        figures=(
            *stays.figures,
            *(line for line in comes.figures if not _uses(line.bit.a, gone) and not _uses(line.bit.b, gone)),
        ),
    )
    made = _levels_joined(sound(from_first_piece(made, stays)))
    pieces = tuple(made if p.name == stays.name else p for p in pattern.pieces if p.name != second[0].piece.name)
    return replace(
        pattern,
        pieces=pieces,
        seams=tuple(s for s in pattern.seams if s.name != seam.name),
        shown=tuple(s for s in pattern.shown if s.piece != second[0].piece.name),
    )


def _uses(end: End, gone: set[str]) -> bool:
    return isinstance(end, Spot) and end.edge in gone


def _levels_joined(piece: Piece) -> Piece:
    """Levels of one own name made one: the level of a joined piece has the bits of both."""
    features = list(piece.features)
    for index, feature in enumerate(features):
        if feature.kind != "level":
            continue
        same = [
            n
            for n in range(index + 1, len(features))
            if features[n].kind == "level" and features[n].role == feature.role
        ]
        for n in reversed(same):
            feature = replace(feature, bits=(*feature.bits, *features.pop(n).bits))
        features[index : index + 1] = [feature]
    return replace(piece, features=tuple(features))


def _block(pattern: Pattern, layer: Layer, seam: Seam) -> list[Fragment]:
    """The fragments of a layer, which must be one stretch of whole edges of one piece."""
    found = pattern.layer_fragments(layer)
    if any(fragment.imagined for fragment in found):
        raise Refused(
            say("{label}: one side is the other half of a piece; unfold or separate it first", label=seam.label), "seam"
        )
    piece = found[0].piece
    if any(fragment.piece is not piece for fragment in found):
        raise Refused(say("{label}: one side lies on more than one piece; join those first", label=seam.label), "seam")
    count = len(piece.edges)
    step = -1 if found[0].backwards else 1
    for one, other in pairwise(found):
        if other.index != (one.index + step) % count:
            raise Refused(
                say("{label}: there is a dart in it, or it is not one stretch; move the dart first", label=seam.label),
                "seam",
            )
    if any(fragment.length < fragment.edge.path.length - 1e-6 for fragment in found):
        raise Refused(say("{label}: it takes only a part of an edge; split it first", label=seam.label), "seam")
    return found


def _matching(stays: Piece, comes: Piece, seam: Seam) -> None:
    """Raise :class:`Refused` unless both are cut as often and from the same cloth, as worn."""
    one, other = ({cut.cloth: cut.count * (2 if piece.fold else 1) for cut in piece.cuts} for piece in (stays, comes))
    if one != other or (stays.symmetry == "whole") != (comes.symmetry == "whole"):
        raise Refused(
            say(
                "{label}: {label_2} and {label_3} are not cut alike; unfold or separate one first",
                label=seam.label,
                label_2=stays.label.lower(),
                label_3=comes.label.lower(),
            ),
            "seam",
        )


def _ends(fragments: Sequence[Fragment]) -> tuple[Point, Point]:
    return fragments[0].path().start, fragments[-1].path().end


def _laid_against(first: Sequence[Fragment], second: Sequence[Fragment]) -> Motion:
    """How the second piece moves so that its edge lies on the first one's."""
    flip = Motion(mirror=True) if first[0].backwards == second[0].backwards else Motion()
    (a, b), (p, q) = _ends(first), _ends(second)
    p, q = flip(p), flip(q)
    turn = unit(b - a) / unit(q - p) if abs(q - p) > 1e-9 and abs(b - a) > 1e-9 else 1 + 0j
    middle = (a + b) / 2 - turn * (p + q) / 2
    return Motion(turn, middle).after(flip)


def _apart(first: Sequence[Fragment], second: Sequence[Fragment], motion: Motion) -> float:
    """How far apart two edges lie at most when laid together, in mm."""
    one, other = Path.join(f.path() for f in first), Path.join(f.path() for f in second).moved(motion)
    lengths = one.length, other.length
    gaps = [abs(one.point_at(lengths[0] * n / 16) - other.point_at(lengths[1] * n / 16)) for n in range(17)]
    return max(*gaps, abs(lengths[0] - lengths[1]))


def _open_ring(piece: Piece, block: Sequence[Fragment], turned: bool = False) -> list[Edge]:
    """The edges of a piece without a stretch of them, from behind it round to before it.

    ``turned``: the piece was turned over since the block was found.
    """
    count = len(piece.edges)
    indices = {(count - 1 - f.index) if turned else f.index for f in block}
    start = next((i + 1) % count for i in sorted(indices) if (i + 1) % count not in indices)
    return [piece.edges[(start + n) % count] for n in range(count - len(indices))]


def _snapped(edges: list[Edge], start: Point, end: Point) -> list[Edge]:
    """The edges with their two outer ends moved the hair that is left of the gap."""
    first = edges[0].path.reversed()
    edges[0] = edges[0].with_path(Path((*first.segments[:-1], *ending_at(first.segments[-1], start))).reversed())
    last = edges[-1].path
    edges[-1] = edges[-1].with_path(Path((*last.segments[:-1], *ending_at(last.segments[-1], end))))
    return edges


def unfold(pattern: Pattern, piece: Piece) -> Pattern:
    """A half on the fold made whole: its counterpart becomes real, the fold edge goes.

    Raises :class:`Refused` when it has no fold, or the fold is not one straight line.
    """
    folds = [index for index, edge in enumerate(piece.edges) if edge.finish == "fold"]
    if not folds:
        raise Refused(say("the {label} is not cut on the fold", label=piece.label.lower()), "pieces")
    count = len(piece.edges)
    start = next(i for i in folds if (i - 1) % count not in folds)
    block = [(start + n) % count for n in range(len(folds))]
    if set(block) != set(folds):
        raise Refused(say("the fold of the {label} is in more than one part", label=piece.label.lower()), "pieces")
    a, b = piece.edges[block[0]].path.start, piece.edges[block[-1]].path.end
    if any(
        abs(piece.edges[i].path.length - abs(piece.edges[i].path.end - piece.edges[i].path.start)) > 1e-6 for i in block
    ):
        raise Refused(say("the fold of the {label} is not straight", label=piece.label.lower()), "pieces")
    over = Motion.reflection(a, b)
    ring = [piece.edges[(block[-1] + 1 + n) % count] for n in range(count - len(folds))]
    mirrored = [edge.moved(over).reversed().counterpart() for edge in reversed(ring)]
    gone = {piece.edges[i].name for i in folds}
    features = []
    for feature in (pinned(piece, f, gone) for f in piece.features):
        other = feature.mirrored(over)
        features += (
            [replace(feature, bits=(*feature.bits, *other.bits))] if feature.kind == "level" else [feature, other]
        )
    made = replace(
        piece,
        edges=(*ring, *mirrored),
        darts=(*piece.darts, *map(other_dart, piece.darts)),
        features=tuple(features),
        notches=(
            *(n for n in piece.notches if n.edge not in gone),
            *(replace(n, edge=f"{n.edge}'") for n in piece.notches if n.edge not in gone),
        ),
        figures=tuple(_pinned_line(piece, line, gone) for line in piece.figures),
        side="across",
    )
    made = sound(from_first_piece(made, piece))
    behind = _from_behind(pattern, piece)
    done = pattern.with_piece(made.moved(over) if behind else made)
    shown = []
    for s in done.shown:
        if s.piece == piece.name:
            across = Motion(turn=-1 + 0j, mirror=True) if s.view == "back" else Motion()
            s = replace(s, motion=across.after(s.motion).after(over) if behind else s.motion, both=False)
        shown.append(s)
    return replace(done, shown=tuple(shown))


def refold(pattern: Pattern, piece: Piece, name: str) -> Pattern:
    """A whole piece whose two halves are each other's mirror image laid on the fold again; the fold edge gets this name.

    Raises :class:`Refused` when it was not made of two halves, or one was changed without the other.
    """
    count = len(piece.edges)
    mine = [not on_other_side(edge.name) for edge in piece.edges]
    starts = [n for n in range(count) if mine[n] and not mine[n - 1]]
    differ = Refused(
        say("the two halves of the {label} differ, so it can't be folded", label=piece.label.lower()), "pieces"
    )
    if len(starts) != 1:
        raise differ
    own = [piece.edges[(starts[0] + n) % count] for n in range(sum(mine))]
    others = [piece.edges[(starts[0] + n) % count] for n in range(sum(mine), count)]
    a, b = own[-1].path.end, own[0].path.start
    over = Motion.reflection(a, b)
    back = [edge.moved(over).reversed() for edge in reversed(others)]
    alike = len(own) == len(back) and all(
        abs(one.path.point_at(one.path.length * share) - other.path.point_at(other.path.length * share)) < ALIKE
        for one, other in zip(own, back, strict=True)
        for share in (0.0, 0.3, 0.7, 1.0)
    )
    if not alike:
        raise differ
    fold = Edge(name, Path.polyline([a, b]), "fold", role=f"centre_{piece.covers}" if piece.covers else "")
    line = unit(b - a)
    side = max(
        (((p - a) / line).imag for edge in own for p in (edge.path.start, edge.path.point_at(edge.path.length / 2))),
        key=abs,
    )

    def half(feature: Feature) -> Feature:
        """What of a feature lies on the half that stays."""
        return replace(feature, bits=tuple(bit for bit in feature.bits if on_half(bit.a) and on_half(bit.b)))

    def on_half(end: End) -> bool:
        """Whether a place lies on the half that stays."""
        if isinstance(end, Spot):
            return not on_other_side(end.edge)
        return ((end - a) / line).imag * (1 if side > 0 else -1) > -ALIKE

    features = [half(feature) for feature in piece.features]
    made = replace(
        piece,
        edges=(*own, fold),
        darts=tuple(dart for dart in piece.darts if not on_other_side(dart.name)),
        features=tuple(feature for feature in features if feature.bits),
        notches=tuple(notch for notch in piece.notches if not on_other_side(notch.edge)),
        grain=piece.grain if on_half((piece.grain.a + piece.grain.b) / 2) else piece.grain.moved(over),
        figures=(),
        side="",
    )
    made = sound(from_first_piece(made, piece))
    behind = _from_behind(pattern, piece)
    across = Motion(turn=-1 + 0j, mirror=True)
    shown = tuple(
        replace(s, motion=across.after(s.motion).after(over) if behind else s.motion, both=True)
        if s.piece == piece.name
        else s
        for s in pattern.shown
    )
    return replace(pattern.with_piece(made.moved(over) if behind else made), shown=shown)


def _from_behind(pattern: Pattern, piece: Piece) -> bool:
    """Whether a piece is seen from behind only.

    The half that is drawn is the wearer's left, right side of the cloth up: on a front it lies to the right of the
    centre, on a back to the left. As halves and pairs stand for both sides, that matters only when they are taken apart.
    """
    views = {s.view for s in pattern.shown if s.piece == piece.name}
    return views == {"back"}


def _pinned_line(piece: Piece, line: FigureLine, gone: set[str]) -> FigureLine:
    a, b = (piece.where(end) if _uses(end, gone) else end for end in (line.bit.a, line.bit.b))
    return replace(line, bit=Bit(a, b))


def separate(pattern: Pattern, piece: Piece) -> Pattern:
    """A pair made two pieces, left and right, that can be changed each on its own. Raises :class:`Refused`."""
    if not piece.pair:
        raise Refused(say("the {label} is not one of a pair", label=piece.label.lower()), "pieces")
    if any(cut.count % 2 for cut in piece.cuts):
        raise Refused(say("the {label} is not cut an even number of times", label=piece.label.lower()), "pieces")
    one = replace(piece, pair=False, cuts=tuple(Cut(c.cloth, c.count // 2) for c in piece.cuts), side="left")
    other = replace(one.counterpart(), label=say("{label}, right", label=piece.label), side="right")
    one = replace(one, label=say("{label}, left", label=piece.label))
    flip = Motion(turn=-1 + 0j, shift=complex(2 * piece.centre_x, 0), mirror=True)
    behind = _from_behind(pattern, piece)
    if behind:
        one, other = one.moved(flip), other.moved(flip)
    pieces: list[Piece] = []
    for p in pattern.pieces:
        pieces += [one, other] if p.name == piece.name else [p]
    shown = []
    for s in pattern.shown:
        if s.piece != piece.name:
            shown.append(s)
            continue
        across = Motion(turn=-1 + 0j, mirror=True)
        here, there = s.motion, across.after(s.motion)
        if s.view == "back":  # seen from behind, the wearer's left is on the left
            here, there = there, here
        turned = [
            motion.after(flip) if mirrored else motion for motion, mirrored in ((here, behind), (there, not behind))
        ]
        shown += [replace(s, motion=turned[0], both=False), replace(s, piece=other.name, motion=turned[1], both=False)]
    return replace(pattern, pieces=tuple(pieces), shown=tuple(shown))


def mirror(pattern: Pattern, piece: Piece) -> Pattern:
    """A piece turned over, about the upright line through its middle."""
    flip = Motion(turn=-1 + 0j, shift=complex(2 * piece.centre_x, 0), mirror=True)
    return pattern.with_piece(piece.moved(flip))


def remove(pattern: Pattern, piece: Piece) -> Pattern:
    """The pattern without a piece, and without the seams that only it was in."""
    left = replace(
        pattern,
        pieces=tuple(p for p in pattern.pieces if p.name != piece.name),
        shown=tuple(s for s in pattern.shown if s.piece != piece.name),
        fits=tuple(f for f in pattern.fits if f.piece != piece.name),
    )
    seams = tuple(s for s in left.seams if all(any(left.fragments(part) for part in layer) for layer in s.layers))
    return replace(left, seams=seams)


def assembled(pattern: Pattern, names: Sequence[str]) -> dict[str, Motion]:
    """How each piece has to move so that all lie together along their seams, beginning with the first.

    Only reads. A piece that no seam reaches is left out. Curved edges that do not lie on each other are laid end to
    end by their two ends.
    """
    placed: dict[str, Motion] = {names[0]: Motion()}
    waiting = True
    while waiting:
        waiting = False
        for seam in pattern.seams:
            for one, other in ((0, 1), (1, 0)):
                if len(seam.layers) < 2:
                    continue
                layers = [pattern.layer_fragments(seam.layers[n]) for n in (one, other)]
                pieces = [{f.piece.name for f in layer if not f.imagined} for layer in layers]
                if any(len(p) != 1 for p in pieces):
                    continue
                here, there = next(iter(pieces[0])), next(iter(pieces[1]))
                if here in placed and there not in placed and there in names:
                    placed[there] = placed[here].after(_laid_against(layers[0], layers[1]))
                    waiting = True
    return placed
