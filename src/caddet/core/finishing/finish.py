"""From net pieces to cut pieces: allowances, dart caps, notches and labels."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import shapely

from caddet.core.errors import CaddetError, Finding
from caddet.core.finishing.corners import Side, corner, dart_cap, reach_end, reach_start
from caddet.core.geometry.offset import left_of, offset_path, smooth_parts
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import FLAT, Line, Point
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Edge, Notch, Piece
from caddet.core.recipe.choices import Finishing
from caddet.core.recipe.document import Document

SNIP = 5.0  # mm a notch reaches in from the cut edge; common practice
PAIR_GAP = 6.0  # mm between the two marks of a double notch


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


def allowance(finishing: Finishing, piece: Piece, edge: Edge) -> float:
    """The allowance of an edge in mm: none on a fold, the user's exception, or the usual for its role."""
    if edge.role in ("fold", "dart"):
        return 0.0
    exception = finishing.exceptions.get(f"{piece.name}.{edge.name}")
    if exception is not None:
        return exception
    usual = {
        "seam": finishing.seam,
        "hem": finishing.hem,
        "opening": finishing.opening,
        "slit": finishing.slit,
        "edge": finishing.edge,
    }
    return usual[edge.role]


def finish(pattern: Pattern, document: Document, person: str = "") -> tuple[tuple[CutPiece, ...], tuple[Finding, ...]]:
    """Every piece with its allowances. What can't be done well becomes a finding at ``piece.run``."""
    cut: list[CutPiece] = []
    findings: list[Finding] = []
    for piece in pattern.pieces:
        labels = label_lines(piece, document, person)
        try:
            done = finish_piece(piece, document.finishing, labels)
        except CaddetError as error:
            findings.append(Finding("finish", f"{piece.label}: {error}", piece.name))
            done = CutPiece(piece, piece.outline(), piece.outline(), (), labels, ())
        if not _simple(done.cut):
            findings.append(
                Finding(
                    "finish.crossing",
                    f"{piece.label}: an allowance is too deep for the curve or corner it lies on; the cut line "
                    "crosses itself. Give that edge less.",
                    piece.name,
                )
            )
        cut.append(done)
    return tuple(cut), tuple(findings)


@lru_cache(maxsize=256)
def _simple(path: Path) -> bool:
    ring = shapely.LinearRing([(p.real, p.imag) for p in path.flattened(0.5)])
    return bool(ring.is_simple)


def finish_piece(piece: Piece, finishing: Finishing, labels: tuple[str, ...] = ()) -> CutPiece:
    """One piece with its allowances. Raises :class:`CaddetError` when an allowance eats its curve."""
    amounts = {edge.name: allowance(finishing, piece, edge) for edge in piece.edges if not edge.dart}
    return _finished(piece, tuple(amounts.items()), finishing.notches, labels)


@lru_cache(maxsize=256)
def _finished(piece: Piece, allowances: tuple[tuple[str, float], ...], style: str, labels: tuple[str, ...]) -> CutPiece:
    amounts = dict(allowances)
    cut = _around(piece, amounts)
    stitch = _capped(piece) if piece.darts else piece.outline()
    notches = tuple(_notch(piece, notch, amounts[notch.run], style) for notch in piece.notches)
    return CutPiece(piece, cut, stitch, notches, labels, allowances)


def _capped(piece: Piece) -> Path:
    """The stitch line with each dart's opening closed by its cap."""
    paths: list[Path] = []
    for index, edge in enumerate(piece.edges):
        if not edge.dart:
            paths.append(edge.path)
        elif piece.edges[index - 1].dart != edge.dart:  # the first leg
            _, a, apex, b = piece.legs(edge.dart)
            before, after = piece.edges[index - 1], piece.edges[(index + 2) % len(piece.edges)]
            points = dart_cap(before.path, after.path, (a, apex, b), _pressed_to_first(piece, a, b))
            paths.append(Path.polyline([a, *points[1:-1], b]))
    return Path.join(paths)


def _around(piece: Piece, amounts: dict[str, float]) -> Path:
    """The outline offset by each run's allowance and joined at the corners, closed."""
    parts: list[tuple[Edge, Path, bool]] = []  # edge, smooth part of it, whether it is the edge's last
    for edge in piece.edges:
        if not edge.dart:
            smooth = smooth_parts(edge.path)
            parts += [(edge, part, part is smooth[-1]) for part in smooth]
    sides = []
    for edge, part, _ in parts:
        parallel = offset_path(part, amounts[edge.name])
        if parallel is None:
            raise CaddetError(f"the allowance on “{edge.name}” is deeper than its curve")
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
    piece: Piece, parts: list[tuple[Edge, Path, bool]], sides: list[Path], amounts: dict[str, float], index: int
) -> list[Point]:
    """The points of the cut line between one smooth part and the next."""
    after = (index + 1) % len(parts)
    (here, path, last), (there, next_path, _) = parts[index], parts[after]
    if last:
        following = piece.edges[(piece.index_of(here) + 1) % len(piece.edges)]
        if following.dart:
            _, a, apex, b = piece.legs(following.dart)
            return dart_cap(sides[index], sides[after], (a, apex, b), _pressed_to_first(piece, a, b))
    before = Side(sides[index], amounts[here.name], path.end_direction, here.role == "hem")
    behind = Side(sides[after], amounts[there.name], next_path.start_direction, there.role == "hem")
    return corner(before, behind, path.end)


def _pressed_to_first(piece: Piece, a: Point, b: Point) -> bool:
    """Whether a dart is pressed towards its first leg: upright darts to the centre, level ones down."""
    mouth = b - a
    if abs(mouth.imag) > abs(mouth.real):
        return a.imag > b.imag
    centre = piece.run(piece.anchor)[0].path.start.real if piece.anchor in piece.runs() else piece.outline().start.real
    return abs(a.real - centre) <= abs(b.real - centre)


def _notch(piece: Piece, notch: Notch, amount: float, style: str) -> NotchMark:
    point, direction, _ = piece.run_point(notch.run, notch.at)
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


def cut_words(piece: Piece) -> str:
    """How often a piece is cut, in words."""
    if piece.fold:
        return f"cut {piece.cut} on the fold"
    return f"cut {piece.cut}, a pair" if piece.pair else f"cut {piece.cut}"


def label_lines(piece: Piece, document: Document, person: str = "") -> tuple[str, ...]:
    """What stands on the piece: name, count, cloth, project, for whom."""
    lines = [piece.label, cut_words(piece)]
    if piece.remark:
        lines.append(piece.remark)
    lines.append(f"{document.title} · {person or document.wearer}")
    lines.append(document.cloth)
    return tuple(lines)


def label_place(piece: Piece) -> Point:
    """A point well inside the piece for its label: the centre of the widest clear part."""
    return _label_place(piece.edges)


@lru_cache(maxsize=256)
def _label_place(edges: tuple[Edge, ...]) -> Point:
    points = [p for edge in edges for p in edge.path.flattened(2.0)[1:]]
    shape = shapely.Polygon([(p.real, p.imag) for p in points])
    if not shape.is_valid:
        return sum(points, 0j) / len(points)
    circle = shapely.maximum_inscribed_circle(shape, tolerance=5.0)
    x, y = shapely.get_coordinates(circle)[0]
    return complex(x, y)
