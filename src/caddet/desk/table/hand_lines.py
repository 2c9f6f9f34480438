"""The lines that the hand draws over the pieces: what is chosen, the ghost, guides, a line being drawn."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import QGraphicsObject

from caddet.core.hands.gesture import Gesture
from caddet.core.hands.things import Found
from caddet.core.pattern.pattern import Pattern
from caddet.desk.table.drawing import Drawn, painter_path, qpoint
from caddet.desk.theme import LOOK

Frame = Callable[[str], QTransform]  # where a piece lies on the table


@dataclass(frozen=True)
class Stroke:
    """A line to be drawn over the pieces, in table coordinates."""

    path: QPainterPath
    color: str
    width: float
    dashed: bool = False


class HandLines(Drawn, QGraphicsObject):
    """Every line that the hand shows: what is chosen, what lies under the pointer, the ghost, guides, what changes."""

    def __init__(self) -> None:
        super().__init__()
        self.strokes: tuple[Stroke, ...] = ()
        self.setZValue(14)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)

    def show_strokes(self, strokes: tuple[Stroke, ...]) -> None:
        """Show these lines instead."""
        self.prepareGeometryChange()
        self.strokes = strokes
        self.update()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        found = QRectF()
        for stroke in self.strokes:
            found = found.united(stroke.path.boundingRect())
        return found.adjusted(-10, -10, 10, 10)

    def draw(self, painter: QPainter) -> None:
        """Every stroke, as wide on the screen at any zoom."""
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for stroke in self.strokes:
            pen = QPen(LOOK.color(stroke.color), stroke.width)
            pen.setCosmetic(True)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            if stroke.dashed:
                pen.setDashPattern([5, 4])
            painter.setPen(pen)
            painter.drawPath(stroke.path)


def thing_strokes(places: Iterable[Found], frame: Frame, color: str, width: float, ring: float) -> list[Stroke]:
    """The lines of something chosen; a ring of so many mm round what has none."""
    made = []
    for one in places:
        for line in one.lines:
            made.append(Stroke(frame(one.piece).map(painter_path(line)), color, width))
        if not one.lines:
            made.append(Stroke(_ring(frame(one.piece).map(qpoint(one.at)), ring), color, min(width, 2.5)))
    return made


def ghost_strokes(before: Pattern, now: Pattern, frame: Frame) -> list[Stroke]:
    """The pieces as they were, where they are another shape now."""
    shapes = {piece.name: piece.edges for piece in now.pieces}
    return [
        Stroke(frame(piece.name).map(painter_path(piece.outline(), closed=True)), "iron", 1.2, dashed=True)
        for piece in before.pieces
        if shapes.get(piece.name) != piece.edges
    ]


def guide_strokes(gesture: Gesture, frame: Frame) -> list[Stroke]:
    """From where each amount is counted, and where a line begins that is being drawn."""
    made = []
    for handle in gesture.handles:
        if handle.guide:
            path = QPainterPath(frame(handle.piece).map(qpoint(handle.guide[0])))
            for point in handle.guide[1:]:
                path.lineTo(frame(handle.piece).map(qpoint(point)))
            made.append(Stroke(path, "woad", 1.4, dashed=True))
    if gesture.drawing is not None:
        piece, point = gesture.drawing
        made.append(Stroke(_ring(frame(piece).map(qpoint(point)), 4.0), "woad", 2.0))
    return made


def rubber_stroke(a: QPointF, b: QPointF) -> Stroke:
    """A line while it is drawn."""
    path = QPainterPath(a)
    path.lineTo(b)
    return Stroke(path, "woad", 2.0)


def _ring(at: QPointF, size: float) -> QPainterPath:
    path = QPainterPath()
    path.addEllipse(at, size, size)
    return path
