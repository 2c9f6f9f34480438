"""What lies over the pieces in screen pixels: figures, grips, seam letters."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsObject,
    QGraphicsSceneHoverEvent,
    QGraphicsSceneMouseEvent,
)

from caddet.desk.table.drawing import Drawn
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint


class Pinned(Drawn, QGraphicsObject):
    """An item pinned to a place of the table and drawn in screen pixels."""

    def __init__(self) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setAcceptHoverEvents(True)
        self.hovered = False

    def hoverEnterEvent(self, event: QGraphicsSceneHoverEvent | None) -> None:
        """Show that the pointer is on it."""
        self.hovered = True
        self.update()

    def hoverLeaveEvent(self, event: QGraphicsSceneHoverEvent | None) -> None:
        """The pointer is gone."""
        self.hovered = False
        self.update()

    def focusInEvent(self, event: object) -> None:
        """Show the focus."""
        self.update()

    def focusOutEvent(self, event: object) -> None:
        """The focus is gone."""
        self.update()


DRAG_FROM = 4  # pixels the pointer has to move before a press is a drag


ALONG = (0.5, 0.3, 0.7, 0.15, 0.85)  # where on its line a figure may stand, the best first


def clear_place(a: QPointF, b: QPointF, size: QSizeF, taken: Sequence[QRectF]) -> QRectF:
    """A box of that size on the line from a to b: in the middle, or where it covers least of what is ``taken``."""

    def covered(box: QRectF) -> float:
        both = [box.intersected(other) for other in taken]
        return sum(part.width() * part.height() for part in both if not part.isEmpty())

    middles = (a + (b - a) * share for share in ALONG)
    corner = QPointF(size.width() / 2, size.height() / 2)
    return min((QRectF(middle - corner, size) for middle in middles), key=covered)


class FigureRule(Drawn, QGraphicsObject):
    """What a figure measures: its line with a tick at each end, lit while the pointer is on the figure. Table places."""

    def __init__(self, a: QPointF, b: QPointF) -> None:
        super().__init__()
        self.a, self.b, self.lit = a, b, False
        self.setZValue(16)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)

    def light(self, lit: bool) -> None:
        """Show it lit, as the figure's chip asks."""
        if lit != self.lit:
            self.lit = lit
            self.update()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(self.a, self.b).normalized().adjusted(-12, -12, 12, 12)

    def draw(self, painter: QPainter) -> None:
        """The measuring line with a tick at each end."""
        pixel = 1 / max(abs(painter.worldTransform().m11()), abs(painter.worldTransform().m12()), 1e-6)
        pen = QPen(LOOK.color("woad" if self.lit else "iron"), 2.4 if self.lit else 1.0)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.drawLine(self.a, self.b)
        way = self.b - self.a
        size = max((way.x() ** 2 + way.y() ** 2) ** 0.5, 1e-9)
        tick = QPointF(-way.y(), way.x()) * (5 * pixel / size)
        for end in (self.a, self.b):
            painter.drawLine(end - tick, end + tick)


class PointLetter(Pinned):
    """A named point of a piece: a dot with its name beside it."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = self.spoken = name
        self.setZValue(18)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)
        self.font = LOOK.figure_font(13)
        size = QFontMetricsF(self.font).size(0, name)
        self.box = QRectF(QPointF(4, -size.height() - 1), size)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.box.united(QRectF(-4, -4, 8, 8)).adjusted(-2, -2, 2, 2)

    def draw(self, painter: QPainter) -> None:
        """The dot and the name."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(LOOK.color("woad"))
        painter.drawEllipse(QPointF(0, 0), 3, 3)
        painter.setPen(LOOK.color("woad"))
        painter.setFont(self.font)
        painter.drawText(self.box, Qt.AlignmentFlag.AlignCenter, self.name)


class FigureChip(Pinned):
    """A figure at its place on a piece. A click opens its sum; dragged along its line, it grows or shrinks.

    ``along`` is the direction on the table in which the figure is measured.
    """

    clicked = pyqtSignal(str)
    dragged = pyqtSignal(str, float)  # figure, by how many mm
    dropped = pyqtSignal(str, float)
    can_focus = True

    def __init__(self, figure: str, words: str, label: str, yours: bool, guess: bool, along: QPointF) -> None:
        super().__init__()
        self.figure, self.words, self.yours, self.guess, self.along = figure, words, yours, guess, along
        self.rule: FigureRule | None = None
        self.pressed_at: QPointF | None = None
        self.change: float | None = None
        self.label = label
        self.setToolTip(hint(f"{label}: click for its sum, drag to change it"))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setZValue(20)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsFocusable)
        self.font = LOOK.figure_font(15)
        self.show_words(words, yours)

    def hoverEnterEvent(self, event: QGraphicsSceneHoverEvent | None) -> None:
        """Light the line that it measures."""
        super().hoverEnterEvent(event)
        if self.rule is not None:
            self.rule.light(True)

    def hoverLeaveEvent(self, event: QGraphicsSceneHoverEvent | None) -> None:
        """The line is no longer lit."""
        super().hoverLeaveEvent(event)
        if self.rule is not None:
            self.rule.light(False)

    def show_words(self, words: str, yours: bool) -> None:
        """Show another value."""
        self.prepareGeometryChange()
        self.words, self.yours = words, yours
        self.spoken = f"{self.label}: {words}"
        size = QFontMetricsF(self.font).size(0, words)
        self.box = QRectF(-size.width() / 2 - 8, -size.height() / 2 - 2, size.width() + 16, size.height() + 4)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.box.adjusted(-2, -2, 2, 2)

    def draw(self, painter: QPainter) -> None:
        """The figure in its frame: typed by the user, estimated, or worked out."""
        color = "woad" if self.yours or self.hovered or self.hasFocus() else ("weld" if self.guess else "grid_five")
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(LOOK.color(color), 2.4 if self.hasFocus() else 1.6 if color != "grid_five" else 1.0))
        painter.setBrush(LOOK.color("white"))
        painter.drawRoundedRect(self.box, 5, 5)
        painter.setPen(LOOK.color("ink"))
        painter.setFont(self.font)
        painter.drawText(self.box, Qt.AlignmentFlag.AlignCenter, self.words)

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Take hold of the figure."""
        if event is not None:
            event.accept()
            self.pressed_at, self.change = event.scenePos(), None

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Pull the figure along its line."""
        if event is None or self.pressed_at is None:
            return
        moved = event.screenPos() - event.buttonDownScreenPos(Qt.MouseButton.LeftButton)
        if self.change is None and moved.manhattanLength() < DRAG_FROM:
            return
        by = event.scenePos() - self.pressed_at
        self.change = by.x() * self.along.x() + by.y() * self.along.y()
        self.dragged.emit(self.figure, self.change)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """A click opens the sum; a pull sets the figure."""
        del event
        change, self.change, self.pressed_at = self.change, None, None
        if change is None:
            self.clicked.emit(self.figure)
        else:
            self.dropped.emit(self.figure, change)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter or Space opens the sum."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.clicked.emit(self.figure)
        elif event is not None:
            event.ignore()


class LetterTag(Pinned):
    """The letter that the two partner edges of a seam share."""

    def __init__(self, letter: str, color: str) -> None:
        super().__init__()
        self.letter, self.color = letter, color
        self.setZValue(15)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-13, -13, 26, 26)

    def draw(self, painter: QPainter) -> None:
        """The letter in its circle."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(LOOK.color(self.color), 1.6))
        painter.setBrush(LOOK.color("white"))
        painter.drawEllipse(QPointF(0, 0), 10.5, 10.5)
        painter.setPen(LOOK.color(self.color))
        painter.setFont(LOOK.figure_font(14))
        painter.drawText(self.boundingRect(), Qt.AlignmentFlag.AlignCenter, self.letter)
