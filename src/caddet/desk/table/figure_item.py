"""The drawn figure on the table, with the tape where it goes; or two of them laid over each other."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.body.figure.drawing import FigureDrawing
from caddet.desk.table.drawing import Drawn, painter_path, qpoint
from caddet.desk.theme import LOOK


class FigureItem(Drawn, QGraphicsItem):
    """A figure. As a ``ghost`` only its outline is drawn, dashed; ``words`` stand under its feet."""

    def __init__(
        self,
        drawing: FigureDrawing,
        *,
        ghost: bool = False,
        words: str = "",
        strong: bool = False,
        act: Callable[[], object] | None = None,
    ) -> None:
        super().__init__()
        self.act = act
        self.ghost, self.words, self.strong = ghost, words, strong
        self.parts = [painter_path(path, closed=True) for path in drawing.outlines]
        self.lines = painter_path(drawing.details)
        self.tape = painter_path(drawing.tape)
        self.ends = [qpoint(end) for end in drawing.ends]
        whole = painter_path(drawing.outlines).boundingRect().united(self.tape.boundingRect())
        if drawing.close is not None:
            left, top, right, bottom = drawing.close
            self.box = QRectF(left, top, right - left, bottom - top)
        else:
            self.box = whole.adjusted(-60, -50, 60, 50 + (60 if words else 0))
        self.foot = QPointF(whole.center().x(), 30.0)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.box

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """A click does what the figure was given to do."""
        if self.act is not None:
            QTimer.singleShot(0, self.act)  # it may take this very item off the table
        elif event is not None:
            event.ignore()

    def draw(self, painter: QPainter) -> None:
        """The figure of the wearer with the tapes round it."""
        pen = QPen(
            LOOK.color("woad" if self.ghost or self.strong else "ink"), 2.0 if self.ghost or self.strong else 1.7
        )
        pen.setCosmetic(True)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        if self.ghost:
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush if self.ghost else LOOK.color("paper"))
        for part in self.parts:
            painter.drawPath(part)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if not self.ghost:
            self._pen(painter, "iron", 1.0)
            painter.drawPath(self.lines)
        if not self.tape.isEmpty():
            for width, color in ((9.0, "tape_ink"), (6.5, "tape"), (1.6, "madder")):
                self._pen(painter, color, width)
                painter.drawPath(self.tape)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(LOOK.color("madder"))
            size = 5.0 / max(painter.worldTransform().m11(), 1e-6)
            for end in self.ends:
                painter.drawEllipse(end, size, size)
        if self.words:
            scale = 1 / max(painter.worldTransform().m11(), 1e-6)
            painter.save()
            painter.translate(self.foot)
            painter.scale(scale, scale)
            painter.setPen(LOOK.color("woad" if self.strong else "ink"))
            painter.setFont(LOOK.font(14, LOOK.font(14).Weight.DemiBold))
            painter.drawText(QRectF(-80, 0, 160, 22), Qt.AlignmentFlag.AlignHCenter, self.words)
            painter.restore()

    def _pen(self, painter: QPainter, color: str, width: float) -> None:
        pen = QPen(LOOK.color(color), width)
        pen.setCosmetic(True)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        painter.setPen(pen)
