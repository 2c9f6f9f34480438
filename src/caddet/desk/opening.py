"""What is seen while the window is being built: the room, empty, in the window's own place and size."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from caddet.desk.theme import LOOK

SIZE = (1280, 800)  # px, of this and of the window that follows
RAIL, HEADER = 138, 50  # px at the usual size of text, of the stations' column and of the line above


class Opening(QWidget):
    """Header, rail and an empty table, drawn by hand: nothing is loaded for it but Qt and the look."""

    painted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setWindowTitle("Caddet")
        self.setAccessibleName("Caddet is opening")
        self.resize(*SIZE)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The empty room, with one line that says what is going on."""
        del event
        painter = QPainter(self)
        rail, header = LOOK.px(RAIL), LOOK.px(HEADER)
        table = self.rect().adjusted(rail, header, 0, 0)
        painter.fillRect(self.rect(), LOOK.color("white"))
        painter.fillRect(QRect(0, header, rail, self.height()), LOOK.color("rail"))
        painter.fillRect(table, LOOK.color("table"))
        painter.setPen(LOOK.color("woad"))
        painter.setFont(LOOK.font(20, QFont.Weight.Bold))
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(17, 0, 300, header), middle, "Caddet")
        painter.setPen(LOOK.color("iron"))
        painter.setFont(LOOK.font(15))
        painter.drawText(QRectF(table), Qt.AlignmentFlag.AlignCenter, "Laying the pieces out…")
        painter.end()
        self.painted.emit()
