"""A garment as a line drawing on the table: front and back, with its name; a card one can choose, or large."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.fitting.line_drawing import LineDrawing
from caddet.desk.table.drawing import Drawn, qpoint
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint

GAP = 140.0  # mm between front and back


class GarmentItem(Drawn, QGraphicsItem):
    """Front and back side by side at true proportions. As a card it has a size of its own and can be chosen."""

    def __init__(
        self,
        name: str,
        views: tuple[LineDrawing, ...],
        *,
        card: tuple[float, float] | None = None,
        chosen: bool = False,
        act: Callable[[], object] | None = None,
        sub: str = "",
    ) -> None:
        super().__init__()
        self.can_focus, self.spoken = act is not None, name
        self.name, self.sub, self.card, self.chosen, self.act = name, sub, card, chosen, act
        self.views = [view for view in views if view.shapes]
        self.parts: list[tuple[list[QPolygonF], list[QPolygonF], QPointF]] = []
        x, tall = 0.0, 1.0
        for view in self.views:
            left, top, right, bottom = view.bounds
            shapes = [QPolygonF([qpoint(p) for p in shape]) for shape in view.shapes]
            lines = [QPolygonF([qpoint(p) for p in line]) for line in view.lines]
            self.parts.append((shapes, lines, QPointF(x - left, -top)))
            x += right - left + GAP
            tall = max(tall, bottom - top)
        self.size = (max(x - GAP, 1.0), tall)
        if act is not None:
            self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsFocusable)
            self.setCursor(Qt.CursorShape.PointingHandCursor)
            self.setToolTip(hint(name))

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        if self.card is not None:
            return QRectF(0, 0, *self.card)
        return QRectF(-60, -0.16 * self.size[1] - 40, self.size[0] + 120, self.size[1] * 1.2 + 140)

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """A click chooses the garment."""
        if self.act is not None:
            QTimer.singleShot(0, self.act)
        elif event is not None:
            event.ignore()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter or Space chooses the garment."""
        if event is not None and self.act is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            QTimer.singleShot(0, self.act)
        elif event is not None:
            event.ignore()

    def draw(self, painter: QPainter) -> None:
        """The line drawing with its frame and name."""
        if self.card is None:
            for shapes, lines, at in self.parts:
                self._garment(painter, shapes, lines, at)
            for (_, _, at), view, words in zip(self.parts, self.views, ("front", "back"), strict=False):
                left, _, right, _ = view.bounds
                self._words(painter, QPointF(at.x() + (left + right) / 2, self.size[1] + 40), words, strong=False)
            return
        wide, tall = self.card
        pen = QPen(LOOK.color("woad" if self.chosen or self.hasFocus() else "grid_five"), 2.6 if self.chosen else 1.2)
        pen.setCosmetic(True)
        if self.hasFocus():
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.setBrush(LOOK.color("woad_tint" if self.chosen else "white"))
        painter.drawRoundedRect(QRectF(0, 0, wide, tall), 8, 8)
        pixel = 1 / max(painter.worldTransform().m11(), 1e-6)
        room = max(tall * 0.2, min(28 * pixel, tall * 0.4))
        scale = min((wide * 0.86) / self.size[0], (tall - room - tall * 0.1) / self.size[1])
        painter.save()
        free = tall - room - tall * 0.05 - self.size[1] * scale
        painter.translate(wide / 2 - self.size[0] * scale / 2, tall * 0.05 + max(free, 0.0) / 2)
        painter.scale(scale, scale)
        for shapes, lines, at in self.parts:
            self._garment(painter, shapes, lines, at)
        painter.restore()
        self._words(painter, QPointF(wide / 2, tall - min(26 * pixel, room)), self.name, strong=True)

    def _garment(self, painter: QPainter, shapes: list[QPolygonF], lines: list[QPolygonF], at: QPointF) -> None:
        painter.save()
        painter.translate(at)
        pen = QPen(LOOK.color("ink"), 1.5)
        pen.setCosmetic(True)
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        painter.setPen(pen)
        painter.setBrush(LOOK.color("paper"))
        for shape in shapes:
            painter.drawPolygon(shape)
        pen.setWidthF(1.0)
        pen.setColor(LOOK.color("iron"))
        painter.setPen(pen)
        for line in lines:
            painter.drawPolyline(line)
        painter.restore()

    def _words(self, painter: QPainter, at: QPointF, words: str, *, strong: bool) -> None:
        scale = 1 / max(painter.worldTransform().m11(), 1e-6)
        painter.save()
        painter.translate(at)
        painter.scale(scale, scale)
        painter.setPen(LOOK.color("woad" if self.chosen else "ink") if strong else LOOK.color("iron"))
        font = LOOK.font(13, LOOK.font(13).Weight.DemiBold) if strong else LOOK.font(13)
        if self.card is not None:  # a long name stays on its card
            long = max(QFontMetricsF(font).horizontalAdvance(words) * 1.08, 1.0)
            font.setPixelSize(max(round(font.pixelSize() * min(1.0, self.card[0] / scale / long)), 9))
        painter.setFont(font)
        painter.drawText(QRectF(-110, 0, 220, 22), Qt.AlignmentFlag.AlignHCenter, words)
        painter.restore()
