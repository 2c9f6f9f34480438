"""What is drawn on paper for a piece, as strokes and texts that SVG, PDF, DXF and PNG share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from caddet.core.finishing.finish import CutPiece, label_place
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, unit

Layer = Literal["cut", "stitch", "dart", "notch", "grain", "fold", "mark"]
LineChoice = Literal["net", "cut", "both"]
# mm; ISO 216 (A4, A3, A0) and ANSI/ASME Y14.1 (Letter, Legal, Tabloid), from memory
PAPERS: dict[str, tuple[float, float]] = {
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "A0": (841.0, 1189.0),
    "Letter": (215.9, 279.4),
    "Legal": (215.9, 355.6),
    "Tabloid": (279.4, 431.8),
}
# a fold line and a contour dart are drawn as what they are, other lines as marks
_LAYERS: dict[str, Layer] = {"fold_line": "fold", "contour_dart": "dart"}
ARROW = 8.0  # mm
TEXT_SIZE = 6.0  # mm


@dataclass(frozen=True, slots=True)
class Stroke:
    """A line on paper, on its layer."""

    layer: Layer
    path: Path
    closed: bool = False


@dataclass(frozen=True, slots=True)
class Text:
    """A line of text, centred at a point; size in mm."""

    at: Point
    words: str
    size: float = TEXT_SIZE


@dataclass(frozen=True, slots=True)
class Sheet:
    """Pieces arranged beside each other: strokes and texts per piece, and the whole size in mm."""

    pieces: tuple[tuple[str, tuple[Stroke, ...], tuple[Text, ...]], ...]
    width: float
    height: float


def strokes_of(cut: CutPiece, lines: LineChoice = "both") -> list[Stroke]:
    """Everything drawn for a piece, in the piece's own coordinates."""
    piece = cut.piece
    strokes = []
    if lines in ("cut", "both"):
        strokes.append(Stroke("cut", cut.cut, True))
    if lines in ("net", "both"):
        strokes.append(Stroke("stitch", cut.stitch, True))
    for edge in piece.edges:
        if edge.dart:
            strokes.append(Stroke("dart", edge.path))
        elif edge.finish == "fold":
            strokes.append(Stroke("fold", edge.path))
    if lines != "net":
        strokes += [Stroke("notch", Path((Line(a, b),))) for notch in cut.notches for a, b in notch.lines]
    strokes += [
        Stroke(_LAYERS.get(feature.kind, "mark"), path) for feature in piece.features for path in piece.drawn(feature)
    ]
    strokes += [Stroke("grain", path) for path in arrow(piece.grain.a, piece.grain.b)]
    return strokes


def arrow(a: Point, b: Point) -> list[Path]:
    """The grainline: a line with a head at both ends."""
    along = unit(b - a) * ARROW
    heads = [
        Path.polyline([end + back * (1 + 0.5j), end, end + back * (1 - 0.5j)])
        for end, back in ((a, along), (b, -along))
    ]
    return [Path((Line(a, b),)), *heads]


def texts_of(cut: CutPiece) -> list[Text]:
    """The label in the middle of the piece; the fold says what it is."""
    middle = label_place(cut.piece)
    texts = []
    _, top, _, bottom = cut.stitch.bounds()
    labels = list(cut.labels)
    step = TEXT_SIZE * 1.6
    if bottom - top < step * (len(labels) + 4):  # a narrow piece: two lines, clear of its middle
        half = (len(labels) + 1) // 2
        labels = [" · ".join(labels[:half]), " · ".join(labels[half:])]
        step = (bottom - top) / 2
    size = min(TEXT_SIZE, step / 1.4)
    for index, words in enumerate(labels):
        at = middle + 1j * step * (index - (len(labels) - 1) / 2)
        texts.append(Text(at, words, size * (1.3 if index == 0 else 1.0)))
    for edge in cut.piece.edges:
        if edge.finish == "fold":
            texts.append(Text(edge.path.point_at(edge.path.length / 2) + 14, "fold", TEXT_SIZE * 0.8))
    for feature in cut.piece.features:
        paths = cut.piece.drawn(feature) if feature.kind in ("fold_line", "pleat", "contour_dart") else []
        if paths:
            at = paths[0].point_at(paths[0].length * 0.8)
            texts.append(Text(at - 1j * TEXT_SIZE * 0.5, feature.label, TEXT_SIZE * 0.6))
    return texts


def arrange(cut: Sequence[CutPiece], lines: LineChoice = "both", widest: float = 900.0, gap: float = 20.0) -> Sheet:
    """Pieces in rows, none wider than ``widest`` mm unless a piece is; a long flat piece gets its own row."""
    placed = []
    x = y = row = width = 0.0
    for piece in cut:
        left, top, right, bottom = (piece.cut if lines != "net" else piece.stitch).bounds()
        if x > 0 and x + (right - left) > widest:
            x, y, row = 0.0, y + row + gap, 0.0
        move = Motion.translation(complex(x - left, y - top))
        strokes = tuple(Stroke(s.layer, s.path.moved(move), s.closed) for s in strokes_of(piece, lines))
        texts = tuple(Text(move(t.at), t.words, t.size) for t in texts_of(piece))
        placed.append((piece.piece.name, strokes, texts))
        x += right - left + gap
        row = max(row, bottom - top)
        width = max(width, x - gap)
    return Sheet(tuple(placed), width, y + row)
