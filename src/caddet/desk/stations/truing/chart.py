"""The running difference of a seam's two sides, as a small chart."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from caddet.core.lengths import Unit, format_fine
from caddet.core.truing.walk import Walk
from caddet.desk.theme import LOOK


class DifferenceChart(QWidget):
    """Along the seam from left to right; above the line the second side is ahead, below it is behind."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(LOOK.px(78))
        self.walked: Walk | None = None
        self.at = 0.0
        self.unit: Unit = "cm"

    def show_walk(self, walked: Walk | None, at: float, unit: Unit) -> None:
        """Show a seam, walked so far (a share of it)."""
        self.walked, self.at, self.unit = walked, at, unit
        if walked is not None:
            said = "; ".join(f"to {name} {format_fine(off, unit)}" for _, off, name in walked.running() if name)
            self.setAccessibleName(f"Running difference: {said or format_fine(walked.off, unit)}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The band of what cloth forgives, the line, a dot at every notch, and where the walk is."""
        del event
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        walked = self.walked
        if walked is None:
            return
        box = QRectF(6, 6, self.width() - 12, self.height() - 26)
        tolerance = walked.seam.tolerance
        running = walked.running()
        most = max([abs(off) for _, off, _ in running] + [tolerance * 2])

        def place(share: float, off: float) -> QPointF:
            return QPointF(box.left() + share * box.width(), box.center().y() - off / most * box.height() / 2)

        painter.fillRect(QRectF(place(0, tolerance), place(1, -tolerance)), LOOK.color("verdigris_tint"))
        painter.setPen(QPen(LOOK.color("grid_five"), 1))
        painter.drawLine(place(0, 0), place(1, 0))
        painter.setPen(QPen(LOOK.color("verdigris" if walked.holds else "madder"), 2.2))
        painter.drawPolyline(QPolygonF([place(share, off) for share, off, _ in running]))
        painter.setBrush(LOOK.color("white"))
        for share, off, name in running:
            if name:
                painter.drawEllipse(place(share, off), 3.5, 3.5)
        painter.setPen(QPen(LOOK.color("woad"), 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(place(self.at, 0).x(), box.top()), QPointF(place(self.at, 0).x(), box.bottom()))
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("iron"))
        foot = QRectF(box.left(), box.bottom() + 2, box.width(), 18)
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, "start")
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{format_fine(walked.off, self.unit)} at the end")
