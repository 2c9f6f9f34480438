"""What the hand shows in screen pixels: handles, and lengths that change."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.hands.handles import Handle
from caddet.desk.table.overlays import Pinned
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint


class HandleItem(Pinned):
    """A handle of the step in hand: drag it, or focus it and use the arrow keys. Alt moves it finer, free of snapping."""

    can_focus = True
    moved = pyqtSignal(object, QPointF, bool)  # handle, place on the table, finer
    let_go = pyqtSignal()
    nudged = pyqtSignal(object, float)

    def __init__(self, handle: Handle, words: str) -> None:
        super().__init__()
        self.handle = handle
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsFocusable)
        self.setCursor(Qt.CursorShape.SizeAllCursor)
        self.spoken = words
        self.setToolTip(hint(f"{words}: drag, or use the arrow keys; Alt is finer"))
        self.setZValue(32)
        self.pressed_at: QPointF | None = None
        self._miss = QPointF()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-15, -15, 30, 30)

    def draw(self, painter: QPainter) -> None:
        """The dot, with a ring when it has the focus."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        active = self.hovered or self.hasFocus() or self.pressed_at is not None
        painter.setPen(QPen(LOOK.color("white"), 2.0))
        painter.setBrush(LOOK.color("woad"))
        size = 9.0 if active else 7.5
        painter.drawEllipse(QPointF(0, 0), size, size)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(LOOK.color("ink"), 1.2, Qt.PenStyle.DashLine))
            painter.drawEllipse(QPointF(0, 0), 13, 13)

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Take hold of the handle."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        self.pressed_at, self._miss = event.scenePos(), event.scenePos() - self.scenePos()
        event.accept()

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Report where it is dragged; Alt is finer."""
        if event is not None and self.pressed_at is not None:
            fine = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self.moved.emit(self.handle, event.scenePos() - self._miss, fine)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Let go."""
        del event
        if self.pressed_at is not None:
            self.pressed_at = None
            self.let_go.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the amount by 5 mm, with Shift by 1 mm, with Alt by 0.1 mm."""
        ways = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
        if event is None:
            return
        way = ways.get(Qt.Key(event.key()))
        if way is None or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            event.ignore()
            return
        alt, shift = (
            bool(event.modifiers() & one)
            for one in (Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier)
        )
        self.nudged.emit(self.handle, way * (0.1 if alt else 1.0 if shift else 5.0))


class ChangeChip(Pinned):
    """A length before and after, on its line."""

    def __init__(self, words: str) -> None:
        super().__init__()
        self.words = words
        self.font = LOOK.figure_font(14)
        size = QFontMetricsF(self.font).size(0, words)
        self.box = QRectF(-size.width() / 2 - 7, -size.height() / 2 - 2, size.width() + 14, size.height() + 4)
        self.setZValue(21)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.box.adjusted(-2, -2, 2, 2)

    def draw(self, painter: QPainter) -> None:
        """The new length and by how much it changed."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(LOOK.color("verdigris"), 1.4))
        painter.setBrush(LOOK.color("white"))
        painter.drawRoundedRect(self.box, 5, 5)
        painter.setPen(LOOK.color("ink"))
        painter.setFont(self.font)
        painter.drawText(self.box, Qt.AlignmentFlag.AlignCenter, self.words)
