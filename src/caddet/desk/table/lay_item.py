"""The cloth on the table, with the pieces laid on it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import QGraphicsItem

from caddet.core.laying.plan import LayPlan
from caddet.desk.table.drawing import Drawn, qpoint
from caddet.desk.theme import LOOK


class LayItem(Drawn, QGraphicsItem):
    """The cloth with the pieces on it: x along the cloth, y across, the fold at the top."""

    def __init__(self, plan: LayPlan) -> None:
        super().__init__()
        self.plan = plan
        self.polygons = [(placed, QPolygonF([qpoint(p) for p in placed.outline])) for placed in plan.placed]

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-30, -60, max(self.plan.length, 1000) + 160, self.plan.width + 110)

    def draw(self, painter: QPainter) -> None:
        """The cloth with its selvedges or fold, and the pieces on it."""
        cloth = QRectF(0, 0, self.plan.length, self.plan.width)
        painter.setBrush(LOOK.color("cloth"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawRect(cloth.adjusted(0, 0, 110, 0))
        painter.setPen(_pen("iron", 1.0))
        painter.drawLine(cloth.bottomLeft(), cloth.bottomRight())
        painter.setPen(_pen("ink", 3.4 if self.plan.folded else 1.0))
        painter.drawLine(cloth.topLeft(), cloth.topRight())
        pen = _pen("madder", 1.6, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawLine(cloth.topRight(), cloth.bottomRight())
        for placed, polygon in self.polygons:
            painter.setBrush(LOOK.color("woad_tint" if placed.on_fold else "paper"))
            painter.setPen(_pen("ink", 1.5))
            painter.drawPolygon(polygon)
        transform = painter.worldTransform()
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setPen(LOOK.color("ink"))
        for placed, polygon in self.polygons:
            at = transform.map(polygon.boundingRect().center())
            room = transform.mapRect(polygon.boundingRect())
            font = LOOK.font(14, LOOK.font(14).Weight.DemiBold)
            long = QFontMetricsF(font).horizontalAdvance(placed.named) * 1.1
            upright = long > room.width() and room.height() > room.width()
            font.setPixelSize(
                max(round(font.pixelSize() * min(1.0, (room.height() if upright else room.width()) / long)), 9)
            )
            how = "on the fold" if placed.on_fold else ("turned over" if placed.mirrored else "")
            painter.save()
            painter.translate(at)
            painter.rotate(-90.0 if upright else 0.0)
            box = QRectF(-110, -20 if how else -10, 220, 20)
            painter.setFont(font)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, placed.named)
            painter.setFont(LOOK.font(12))
            painter.drawText(box.translated(0, 19), Qt.AlignmentFlag.AlignCenter, how)
            painter.restore()
        painter.setFont(LOOK.font(13, LOOK.font(13).Weight.DemiBold))
        top = transform.map(cloth.topLeft())
        painter.drawText(top + QPointF(0, -8), "fold" if self.plan.folded else "selvedge")
        bottom = transform.map(cloth.bottomLeft())
        painter.drawText(bottom + QPointF(0, 18), "selvedges" if self.plan.folded else "selvedge")
        painter.restore()


def _pen(color: str, width: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    pen = QPen(LOOK.color(color), width, style)
    pen.setCosmetic(True)
    return pen
