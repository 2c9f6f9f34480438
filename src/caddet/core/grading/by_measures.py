"""Grading by measures: a piece without formulas follows the change of a body, level by level.

At each level the garment's ease stays: what the body is larger there is shared among the pieces by their widths.
Heights follow the lengths of the body between the levels. A pocket follows the hand, never a percentage of the garment.
Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from caddet.core.errors import Finding
from caddet.core.geometry.segments import Point
from caddet.core.grading.moving import bent, moved_by
from caddet.core.grading.rules import with_pieces
from caddet.core.pattern.features import Feature
from caddet.core.pattern.how_often import of_piece
from caddet.core.pattern.ids import maker_of, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import say

# how far below the nape a level lies, as a sum of measures of the body
BELOW: Mapping[str, tuple[str, ...]] = {
    "bust": ("scye_depth",),
    "waist": ("nape_to_waist",),
    "high_hip": ("nape_to_waist", "waist_to_high_hip"),
    "hip": ("nape_to_waist", "waist_to_hip"),
    "knee": ("nape_to_waist", "waist_to_knee"),
    "ankle": ("nape_to_waist", "waist_to_floor"),
}
LEVEL = 5.0  # mm: heights nearer to each other than that are one
Body = Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Level:
    """A level of a piece: its name, its height in the frame (mm down), and how wide the piece is there."""

    name: str
    at: float
    left: float
    right: float

    @property
    def width(self) -> float:
        """From edge to edge, in mm."""
        return self.right - self.left


def levels_of(piece: Piece, typed: Mapping[str, float] | None = None) -> tuple[Level, ...]:
    """The levels of a piece from the top down: those drawn on it, and those typed as heights (mm below its top)."""
    _, top, _, _ = piece.outline().bounds()
    heights = {name: top + at for name, at in (typed or {}).items()}
    for feature in piece.features:
        if feature.kind == "level" and feature.role not in heights:
            ys = [piece.where(end).imag for bit in feature.bits for end in (bit.a, bit.b) if piece.holds_spot(end)]
            if ys:
                heights[feature.role] = sum(ys) / len(ys)
    found = []
    for name, at in heights.items():
        met = sorted(place.real for _, place in piece.outline().crossings(complex(-1e5, at), complex(1e5, at)))
        if len(met) >= 2 and met[-1] - met[0] > 1:
            found.append(Level(name, at, met[0], met[-1]))
    return tuple(sorted(found, key=lambda one: one.at))


def by_measures(
    pattern: Pattern, was: Body, now: Body, size: str, typed: Mapping[str, Mapping[str, float]] | None = None
) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pattern for another body, and what could not follow. Measures in mm; ``typed`` are levels by piece.

    Raises :class:`CaddetError` when a piece would cross itself.
    """
    levels = {piece.name: levels_of(piece, (typed or {}).get(piece.name)) for piece in pattern.pieces}
    around: dict[str, float] = {}
    for piece in pattern.pieces:
        for level in levels[piece.name]:
            times = of_piece(piece).count * (2 if piece.fold else 1)
            around[level.name] = around.get(level.name, 0.0) + level.width * times
    pieces: dict[str, Piece] = {}
    later: list[Piece] = []
    for piece in pattern.pieces:
        known = [one for one in levels[piece.name] if one.name in was and one.name in now]
        if piece.role == "pocket":  # the hand decides it
            pieces[piece.name] = moved_by(piece, _by_the_hand(piece, was, now))
        elif known:
            pieces[piece.name] = bent(piece, _by_levels(piece, known, around, was, now))
        else:
            later.append(piece)
    moved = replace(pattern, pieces=tuple(pieces.get(piece.name, piece) for piece in pattern.pieces))
    findings = []
    for piece in later:
        follows = _along_its_seam(pattern, moved, piece)
        if follows is not None:
            pieces[piece.name] = moved_by(piece, follows)
            continue
        sentence = say(
            "{piece} has no level (bust, waist, hip …) to follow the body by, and is sewn to nothing that has: it stays as it is.",
            piece=piece.label,
        )
        findings.append(Finding("grade.levels", sentence, piece.name, "look"))
    pockets = {maker_of(reference(p.made).name) for p in pattern.pieces if p.role == "pocket" and "." in p.made}
    pieces = {name: _with_pockets(pattern.piece(name), one, pockets, was, now) for name, one in pieces.items()}
    return with_pieces(pattern, pieces, size), tuple(findings)


def _with_pockets(before: Piece, piece: Piece, pockets: set[str], was: Body, now: Body) -> Piece:
    """A piece on which the lines where pockets are sewn on are as large as the pockets, which follow the hand."""

    def larger(feature: Feature) -> Feature:
        """A placement about the middle of its upper edge."""
        if feature.kind != "placement" or maker_of(feature.name) not in pockets:
            return feature
        points = [piece.where(end) for bit in feature.bits for end in (bit.a, bit.b)]
        xs, ys = [p.real for p in points], [p.imag for p in points]
        return feature.each_point(by_the_hand((min(xs) + max(xs)) / 2, min(ys), was, now))

    return replace(piece, features=tuple(larger(one) for one in piece.features))


def _along_its_seam(before: Pattern, after: Pattern, piece: Piece) -> Callable[[Point], Point] | None:
    """Where a point of a band, collar or facing goes: along the edge by which it is sewn as much as what it is sewn to; else None."""
    best: tuple[float, float, Point] | None = None
    for seam in before.seams:
        pieces = [{f.piece.name for f in before.layer_fragments(layer)} for layer in seam.layers]
        for mine, other in ((0, 1), (1, 0)):
            if len(pieces) != 2 or pieces[mine] != {piece.name} or piece.name in pieces[other]:
                continue
            ratio = after.length(seam.layers[other]) / before.length(seam.layers[other])
            fragments = before.layer_fragments(seam.layers[mine])
            length = sum(one.length for one in fragments)
            way = fragments[-1].path().end - fragments[0].path().start
            if abs(ratio - 1) > 1e-6 and abs(way) > 1 and (best is None or length > best[0]):
                best = length, ratio, way / abs(way)
    if best is None:
        return None
    _, ratio, way = best
    left, top, right, bottom = piece.outline().bounds()
    start = complex(piece.centre_x if piece.fold else (left + right) / 2, (top + bottom) / 2)
    across = abs(way.real) >= abs(way.imag)

    def change(point: Point) -> Point:
        off = (point - start) * (ratio - 1)
        return point + (complex(off.real, 0) if across else complex(0, off.imag))

    return change


def _by_levels(
    piece: Piece, levels: list[Level], around: Mapping[str, float], was: Body, now: Body
) -> Callable[[Point], Point]:
    """Where a point of a piece goes: across by how much wider the nearest levels get, down by how much longer the body."""
    from scipy.interpolate import PchipInterpolator  # slow to import, and few need it

    wider = [(now[one.name] - was[one.name]) / around[one.name] for one in levels]
    downs = [_down(one.name, was, now) for one in levels]
    first = 0.0 if piece.zero == "the nape" or levels[0].at - piece.outline().bounds()[1] > 60 else downs[0]
    lower = [down - first for down in downs]
    at = [one.at for one in levels]
    middle = (
        piece.centre_x if piece.fold else (levels[0].left + levels[0].right) / 2 if not piece.pair else levels[0].left
    )

    _, top, _, bottom = piece.outline().bounds()
    known = sorted({top: (wider[0], 0.0 if at[0] - top > LEVEL else lower[0]), bottom: (wider[-1], lower[-1])}.items())
    known = [(y, both) for y, both in known if not at[0] - LEVEL <= y <= at[-1] + LEVEL]
    stops = sorted([*known, *((y, (w, d)) for y, w, d in zip(at, wider, lower, strict=True))])
    heights = [y for y, _ in stops]
    across, down = (
        PchipInterpolator(heights, [both[n] for _, both in stops])
        if len(heights) > 1
        else (lambda y, v=stops[0][1][n]: v)
        for n in (0, 1)
    )

    def change(point: Point) -> Point:
        y = min(max(point.imag, heights[0]), heights[-1])
        return complex(middle + (point.real - middle) * (1 + float(across(y))), point.imag + float(down(y)))

    return change


def _down(level: str, was: Body, now: Body) -> float:
    """By how much lower a level of the body lies."""
    codes = BELOW.get(level, ())
    if not codes or any(code not in was or code not in now for code in codes):
        return 0.0
    return sum(now[code] - was[code] for code in codes)


def _by_the_hand(piece: Piece, was: Body, now: Body) -> Callable[[Point], Point]:
    """Where a point of a pocket goes: it is as much larger as the hand, across by its width, down by its length."""
    left, top, right, _ = piece.outline().bounds()
    return by_the_hand((left + right) / 2, top, was, now)


def by_the_hand(middle: float, top: float, was: Body, now: Body) -> Callable[[Point], Point]:
    """What is as large as a hand, about the middle of its upper edge."""
    wide = now.get("hand_width", now.get("hand", 0.0)) / max(was.get("hand_width", was.get("hand", 0.0)), 1e-9)
    deep = now.get("hand_length", 0.0) / max(was.get("hand_length", 0.0), 1e-9)
    wide, deep = (wide if wide > 0 else 1.0), (deep if deep > 0 else 1.0)
    return lambda z: complex(middle + (z.real - middle) * wide, top + (z.imag - top) * deep)
