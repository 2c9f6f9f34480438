"""From net pieces to cut pieces: allowances, dart caps, notches and labels."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import shapely
import shapely.ops

from caddet.core.errors import CaddetError, Finding
from caddet.core.finishing.corners import Side, corner, dart_cap
from caddet.core.geometry.meeting import reach_end, reach_start
from caddet.core.geometry.offset import left_of, offset_path, smooth_parts
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import FLAT, Line, Point
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Notch, Spot
from caddet.core.pattern.ids import base_name, reference, without_maker
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.recipe.choices import Finishing
from caddet.core.recipe.document import MAIN, Document
from caddet.core.sentences import say

SNIP = 5.0  # mm a notch reaches in from the cut edge; common practice
PAIR_GAP = 6.0  # mm between the two marks of a double notch
TURNED_UP = ("hem", "casing")  # finishes whose corners are mirrored to the fold


@dataclass(frozen=True, slots=True)
class NotchMark:
    """The lines of one notch on the paper."""

    lines: tuple[tuple[Point, Point], ...]


@dataclass(frozen=True, slots=True)
class CutPiece:
    """A piece as it goes onto paper and cloth: cut line, stitch line with dart caps, notches, labels."""

    piece: Piece
    cut: Path
    stitch: Path
    notches: tuple[NotchMark, ...]
    labels: tuple[str, ...]
    allowances: tuple[tuple[str, float], ...]

    def polygon(self, tolerance: float = FLAT) -> list[Point]:
        """The cut line flattened, without repeating the first point."""
        return _flat(self.cut, tolerance)


@lru_cache(maxsize=512)
def _flat_cached(path: Path, tolerance: float) -> tuple[Point, ...]:
    return tuple(path.flattened(tolerance)[:-1])


def _flat(path: Path, tolerance: float) -> list[Point]:
    return list(_flat_cached(path, tolerance))


def lies_under(piece: Piece, edge: Edge) -> str:
    """The key of the edge that an edge of a second layer lies under and is cut like; empty for any other piece's."""
    return without_maker(edge.name) if piece.role == "layer" else ""


def allowance(finishing: Finishing, edge: Edge, under: str = "") -> float:
    """The allowance of an edge in mm: none on a fold, the user's exception, what the block asks for, or the usual one.

    Of several exceptions that mean the edge the most specific wins: the one that asks for the most marks, and one
    for the other side before one for both. What is asked for the edge ``under`` which it lies holds for it as well.
    """
    if edge.finish == "fold" or edge.dart:
        return 0.0
    best: tuple[tuple[int, bool], float] | None = None
    for text, mm in finishing.exceptions.items():
        ref = reference(text)
        exact = ref.key in (edge.name, under)
        named = ref.name in (base_name(edge.name), base_name(under)) and not ref.mirrored
        if (exact or named) and ref.marks <= edge.marks:
            rank = (len(ref.marks), exact)
            if best is None or rank > best[0]:
                best = rank, mm
    if best is not None:
        return best[1]
    return usual(finishing, edge) if edge.allowance is None else edge.allowance


def usual(finishing: Finishing, edge: Edge) -> float:
    """The usual allowance for what becomes of an edge, in mm."""
    match edge.finish:
        case "hem" | "casing":
            return finishing.hem
        case "opening":
            return finishing.opening
        case "slit":
            return finishing.slit
        case "turned":
            return finishing.edge
        case "fold" | "raw" | "binding":  # a binding encloses the edge where it is cut
            return 0.0
        case _:
            return finishing.seam


def finish(pattern: Pattern, document: Document, person: str = "") -> tuple[tuple[CutPiece, ...], tuple[Finding, ...]]:
    """Every piece with its allowances. What can't be done well becomes a finding at the piece."""
    cut: list[CutPiece] = []
    findings: list[Finding] = []
    for piece in pattern.pieces:
        labels = label_lines(piece, document, person)
        try:
            done = finish_piece(piece, document.finishing, labels)
        except CaddetError as error:
            findings.append(Finding("finish", say("{label}: {error}", label=piece.label, error=error), piece.name))
            done = CutPiece(piece, piece.outline(), piece.outline(), (), labels, ())
        if not _simple(done.cut):
            findings.append(
                Finding(
                    "finish.crossing",
                    say(
                        "{label}: an allowance is too deep for the curve or corner it lies on; the cut line crosses itself. Give that edge less.",
                        label=piece.label,
                    ),
                    piece.name,
                )
            )
        cut.append(done)
    return tuple(cut), tuple(findings)


@lru_cache(maxsize=256)
def _simple(path: Path) -> bool:
    # to a millionth of a mm: ends that differ only by how numbers are kept are one point
    ring = shapely.LinearRing([(round(p.real, 6), round(p.imag, 6)) for p in path.flattened(0.5)])
    return bool(ring.is_simple)


def finish_piece(piece: Piece, finishing: Finishing, labels: tuple[str, ...] = ()) -> CutPiece:
    """One piece with its allowances. Raises :class:`CaddetError` when an allowance eats its curve."""
    return _finished(
        piece,
        tuple(allowance(finishing, edge, lies_under(piece, edge)) for edge in piece.edges),
        finishing.notches,
        labels,
    )


@lru_cache(maxsize=256)
def _finished(piece: Piece, amounts: tuple[float, ...], style: str, labels: tuple[str, ...]) -> CutPiece:
    cut = _around(piece, amounts)
    stitch = _capped(piece) if piece.darts else piece.outline()
    notches = tuple(mark for notch in piece.notches if (mark := _notch(piece, notch, amounts, style)) is not None)
    allowances = {edge.id: amount for edge, amount in zip(piece.edges, amounts, strict=True) if not edge.dart}
    return CutPiece(piece, cut, stitch, notches, labels, tuple(allowances.items()))


def _capped(piece: Piece) -> Path:
    """The stitch line with each dart's opening closed by its cap."""
    paths: list[Path] = []
    for index, edge in enumerate(piece.edges):
        if not edge.dart:
            paths.append(edge.path)
        elif piece.edges[index - 1].dart != edge.dart:  # the first leg
            _, a, apex, b = piece.legs(edge.dart)
            before, after = piece.edges[index - 1], piece.edges[_behind(piece, index)]
            points = dart_cap(before.path, after.path, (a, apex, b), _pressed_first(piece, edge.dart))
            paths.append(Path.polyline([a, *points[1:-1], b]))
    return Path.join(paths)


def _behind(piece: Piece, index: int) -> int:
    """The index of the edge behind the dart whose first leg is at ``index``."""
    dart, count = piece.edges[index].dart, len(piece.edges)
    while piece.edges[index].dart == dart:
        index = (index + 1) % count
    return index


def _around(piece: Piece, amounts: tuple[float, ...]) -> Path:
    """The outline offset by each edge's allowance and joined at the corners, closed."""
    parts: list[tuple[int, Path, bool]] = []  # edge, smooth part of it, whether it is the edge's last
    for index, edge in enumerate(piece.edges):
        if not edge.dart:
            smooth = smooth_parts(edge.path)
            parts += [(index, part, part is smooth[-1]) for part in smooth]
    sides = []
    for index, part, _ in parts:
        parallel = offset_path(part, amounts[index])
        if parallel is None:
            raise CaddetError(say("the allowance on “{own}” is deeper than its curve", own=piece.edges[index].own))
        sides.append(parallel)
    joins = [_join(piece, parts, sides, amounts, i) for i in range(len(parts))]
    segments: list[Path] = []
    for i, side in enumerate(sides):
        path = reach_start(side, joins[i - 1][-1])
        path = reach_end(path, joins[i][0])
        segments.append(path)
        segments.extend(Path((Line(a, b),)) for a, b in zip(joins[i], joins[i][1:], strict=False) if abs(a - b) > 1e-6)
    return Path.join(segments)


def _join(
    piece: Piece, parts: list[tuple[int, Path, bool]], sides: list[Path], amounts: tuple[float, ...], number: int
) -> list[Point]:
    """The points of the cut line between one smooth part and the next."""
    after = (number + 1) % len(parts)
    (here, path, last), (there, next_path, _) = parts[number], parts[after]
    if last:
        following = piece.edges[(here + 1) % len(piece.edges)]
        if following.dart:
            _, a, apex, b = piece.legs(following.dart)
            return dart_cap(sides[number], sides[after], (a, apex, b), _pressed_first(piece, following.dart))
    hems = [piece.edges[n].finish in TURNED_UP for n in (here, there)]
    before = Side(sides[number], amounts[here], path.end_direction, hems[0])
    behind = Side(sides[after], amounts[there], next_path.start_direction, hems[1])
    return corner(before, behind, path.end)


def _pressed_first(piece: Piece, dart: str) -> bool:
    """Whether a dart is pressed towards its first leg."""
    return next(one.pressed == "first" for one in piece.darts if one.id == dart)


def _notch(piece: Piece, notch: Notch, amounts: tuple[float, ...], style: str) -> NotchMark | None:
    found = piece.on_edge(Spot(notch.edge, notch.u))
    if found is None:
        return None
    index, along = found
    point, direction = piece.edges[index].path.point_at(along), piece.edges[index].path.direction_at(along)
    amount = amounts[index]
    out = left_of(direction)
    lines: list[tuple[Point, Point]] = []
    for shift in (-PAIR_GAP / 2, PAIR_GAP / 2) if notch.double else (0.0,):
        at = point + direction * shift
        edge = at + out * amount
        if style == "inside":
            lines.append((at, at - out * SNIP))
        else:
            lines.append((edge, edge - out * SNIP))
            if style == "t":
                tip = edge - out * SNIP
                lines.append((tip - direction * SNIP / 2, tip + direction * SNIP / 2))
    return NotchMark(tuple(lines))


def cut_words(piece: Piece, cut: Cut | None = None) -> str:
    """How often a piece is cut from one cloth, in words."""
    count = (cut or piece.cuts[0]).count
    if piece.fold:
        return say("cut {count} on the fold", count=count)
    return say("cut {count}, a pair", count=count) if piece.pair else f"cut {count}"


def label_lines(piece: Piece, document: Document, person: str = "") -> tuple[str, ...]:
    """What stands on the piece: name, count and cloth for each cloth, project, for whom."""
    lines = [piece.label]
    for cut in piece.cuts:
        cloth = document.cloth if cut.cloth == MAIN else document.roles.get(cut.cloth, cut.cloth.replace("_", " "))
        lines.append(f"{cut_words(piece, cut)} of {cloth}")
    if piece.remark:
        lines.append(piece.remark)
    lines.append(f"{document.title} · {person or document.wearer}")
    return tuple(lines)


def label_place(piece: Piece) -> Point:
    """A point well inside the piece for its label: the centre of the widest clear part."""
    return _label_place(piece.edges)


LONG = 10.0  # times the square of the radius that fits in: the area of a piece two and a half times as long as wide
CLEAR_ENOUGH = 0.9  # of the widest clear part, which the label's place needs


@lru_cache(maxsize=256)
def _label_place(edges: tuple[Edge, ...]) -> Point:
    points = [p for edge in edges for p in edge.path.flattened(2.0)[1:]]
    shape = shapely.Polygon([(p.real, p.imag) for p in points])
    if not shape.is_valid:
        return sum(points, 0j) / len(points)
    circle = shapely.maximum_inscribed_circle(shape, tolerance=5.0)
    if shape.area > LONG * circle.length**2:  # as wide all along, straight or round: it is named in its middle
        clear = shape.buffer(-CLEAR_ENOUGH * circle.length)
        if not clear.is_empty:
            middle = shapely.ops.nearest_points(clear, shape.centroid)[0]
            return complex(middle.x, middle.y)
    x, y = shapely.get_coordinates(circle)[0]
    return complex(x, y)
