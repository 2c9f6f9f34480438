"""The two tapes along the table: real lengths at the current zoom, in cm or inches."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from caddet.core.lengths import Unit
from caddet.desk.theme import LOOK

if TYPE_CHECKING:
    from caddet.desk.table.view import TableView

MOST_TICKS = 600
THICK = 26


class Tape(QWidget):
    """A tape along the top or the left of the table."""

    def __init__(self, view: TableView, upright: bool) -> None:
        super().__init__()
        self.view, self.upright = view, upright
        self.unit: Unit = "cm"
        self.pointer = 0.0
        if upright:
            self.setFixedWidth(THICK)
        else:
            self.setFixedHeight(THICK)
        view.scrolled.connect(self.update)
        view.pointed.connect(self._follow)

    def _follow(self, point: QPointF) -> None:
        self.pointer = point.y() if self.upright else point.x()
        self.update()

    def set_unit(self, unit: Unit) -> None:
        """Show lengths in this unit."""
        self.unit = unit
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The tape's marks and numbers for what is in view, and where the pointer is."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), LOOK.color("tape"))
        painter.setPen(QPen(LOOK.color("tape_ink"), 1))
        font = LOOK.font(11, family="IBM Plex Sans Condensed")
        font.setPixelSize(11)  # the tape is as wide as it is: its numbers don't grow
        painter.setFont(font)
        port = self.view.viewport()
        if port is None:
            return
        low = self.view.mapToScene(port.rect().topLeft())
        high = self.view.mapToScene(port.rect().bottomRight())
        first, last = (low.y(), high.y()) if self.upright else (low.x(), high.x())
        scale = self.view.transform().m11()
        step, parts = (10.0, 10) if self.unit == "cm" else (25.4, 8)
        every = next((n for n in (1, 2, 5, 10, 20, 50, 100) if n * step * scale >= 34), 200)
        fine = next((n for n in (parts, 2, 1) if step * scale / n >= 4 and (n != parts or parts)), 1)
        index = int(first // step) - 1
        crowd = int((last - first) / step) // MOST_TICKS  # far out, a tick every so many
        every, fine = (every, fine) if not crowd else (max(every, 10 * crowd), 1)
        while index * step <= last:
            for part in range(fine):
                value = (index + part / fine) * step
                long = 12 if part == 0 and index % every == 0 else (8 if part == 0 else 4)
                self._tick(painter, value, long)
            if index % every == 0:
                self._number(painter, index * step, str(abs(index)))
            index += 1 + crowd
        painter.setPen(QPen(LOOK.color("madder"), 1.4))
        self._tick(painter, self.pointer, THICK)

    def _along(self, value: float) -> float:
        point = self.view.mapFromScene(QPointF(value, value))
        return point.y() if self.upright else point.x()

    def _tick(self, painter: QPainter, value: float, long: int) -> None:
        at = self._along(value)
        if self.upright:
            painter.drawLine(QPointF(THICK - long, at), QPointF(THICK, at))
        else:
            painter.drawLine(QPointF(at, THICK - long), QPointF(at, THICK))

    def _number(self, painter: QPainter, value: float, words: str) -> None:
        at = self._along(value)
        if self.upright:
            painter.drawText(QRectF(0, at + 1, THICK - 8, 14), Qt.AlignmentFlag.AlignCenter, words)
        else:
            painter.drawText(QRectF(at + 3, 1, 40, 14), Qt.AlignmentFlag.AlignLeft, words)
