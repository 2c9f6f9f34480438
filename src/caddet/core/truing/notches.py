"""Notches of two sides of a seam: where they should meet, which are missing, which are of another kind.

Single in front, double behind: common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from caddet.core.pattern.features import Notch, Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Layer, Seam

FAR = 80.0  # mm from which two notches without a name are no pair
APART = 5.0  # mm by which two notches that should meet may miss; common practice


@dataclass(frozen=True, slots=True)
class Mark:
    """A notch as it is met along a layer, ``at`` mm from its start."""

    at: float
    notch: Notch
    piece: str


@dataclass(frozen=True, slots=True)
class Pair:
    """A notch of the first layer, and the one of the further layer that should meet it (None: it is missing).

    ``wanted`` is where it should be on the further layer; ``low`` and ``high`` how far it may be from there, as the
    ease may lie on either side.
    """

    first: Mark
    other: Mark | None
    wanted: float
    low: float
    high: float

    @property
    def off(self) -> float:
        """By how much the other lies outside of where it may be, in mm."""
        if self.other is None:
            return 0.0
        miss = self.other.at - self.wanted
        return miss - self.high if miss > self.high else miss - self.low if miss < self.low else 0.0

    @property
    def unlike(self) -> bool:
        """Whether one is single and the other double."""
        return self.other is not None and self.other.notch.double != self.first.notch.double


def marks(pattern: Pattern, layer: Layer) -> list[Mark]:
    """The notches of a layer in walking order."""
    found: list[Mark] = []
    passed = 0.0
    for fragment in pattern.layer_fragments(layer):
        for notch in fragment.piece.notches:
            on = fragment.piece.on_edge(Spot(notch.edge, notch.u)) if notch.edge == fragment.edge.name else None
            if on is not None and on[0] == fragment.index and fragment.low - 1e-6 <= on[1] <= fragment.high + 1e-6:
                at = fragment.high - on[1] if fragment.backwards else on[1] - fragment.low
                found.append(Mark(passed + at, notch, fragment.piece.name))
        passed += fragment.length
    return sorted(found, key=lambda mark: mark.at)


def pairs(pattern: Pattern, seam: Seam, layer: int = 1) -> list[Pair]:
    """Each notch of the first layer with its partner: the one of its name; without a name the nearest of those without."""
    first, other = marks(pattern, seam.layers[0]), marks(pattern, seam.layers[layer])
    a, b = (pattern.length(seam.layers[n]) for n in (0, layer))
    join = seam.joins[layer - 1]
    more = join.wanted(a) - a if join.kind in ("eased", "pleated") else 0.0
    left = list(other)
    found = []
    for mark in first:
        wanted = mark.at * (b / a if join.kind in ("gathered", "stretched") else 1.0)
        held = 0.25 * b if join.kind in ("gathered", "stretched") else 0.0
        low, high = min(more, 0.0) - APART - held, max(more, 0.0) + APART + held
        named = [one for one in left if one.notch.name and one.notch.name == mark.notch.name]
        unnamed = [one for one in left if not one.notch.name and abs(one.at - wanted) < FAR]
        near = named or ([] if mark.notch.name else unnamed)
        partner = min(near, key=lambda one, w=wanted: abs(one.at - w), default=None)  # type: ignore[misc]
        if partner is not None:
            left.remove(partner)
        found.append(Pair(mark, partner, wanted, low, high))
    return found


def lonely(pattern: Pattern, seam: Seam, layer: int = 1) -> list[Mark]:
    """The notches of the further layer that no notch of the first one meets; those with a name may stand alone."""
    met = [pair.other for pair in pairs(pattern, seam, layer)]
    return [mark for mark in marks(pattern, seam.layers[layer]) if not mark.notch.name and mark not in met]


def placed(pattern: Pattern, layer: Layer, at: float) -> tuple[Piece, Spot]:
    """The piece and spot at a distance along a layer, in mm (clamped)."""
    fragments = pattern.layer_fragments(layer)
    left = max(at, 0.0)
    for fragment in fragments:
        if left <= fragment.length or fragment is fragments[-1]:
            return _spot(fragment, min(left, fragment.length))
        left -= fragment.length
    raise AssertionError("unreachable: a layer has parts")


def _spot(fragment: Fragment, at: float) -> tuple[Piece, Spot]:
    along = fragment.high - at if fragment.backwards else fragment.low + at
    return fragment.piece, Spot(fragment.edge.name, fragment.edge.u_at(along / fragment.edge.path.length))


def agreeing(pattern: Pattern, seam: Seam, layer: int = 1) -> Pattern:
    """The pattern with the further layer's notches where the first layer's meet it, of the same kind; missing ones added on both."""
    a, b = (pattern.length(seam.layers[n]) for n in (0, layer))
    for mark in lonely(pattern, seam, layer):
        piece, spot = placed(pattern, seam.layers[0], mark.at * a / b)
        pattern = pattern.with_piece(
            replace(piece, notches=(*piece.notches, Notch(spot.edge, spot.u, mark.notch.double)))
        )
    for pair in pairs(pattern, seam, layer):
        mark = pair.first
        if pair.other is not None and not pair.off and not pair.unlike:
            continue
        keeps = pair.other is not None and not pair.off
        at = pair.other.at if keeps and pair.other is not None else mark.at * b / a
        piece, spot = placed(pattern, seam.layers[layer], at)
        fresh = Notch(spot.edge, spot.u, mark.notch.double, mark.notch.name)
        if pair.other is not None:
            pattern = without_notch(pattern, pair.other)
            piece = pattern.piece(piece.name)
        pattern = pattern.with_piece(replace(piece, notches=(*piece.notches, fresh)))
    return pattern


def without_notch(pattern: Pattern, mark: Mark) -> Pattern:
    """The pattern without one notch."""
    piece = pattern.piece(mark.piece)
    return pattern.with_piece(replace(piece, notches=tuple(one for one in piece.notches if one is not mark.notch)))
