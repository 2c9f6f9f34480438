"""A tape to drag: real ticks in the current unit run under a fixed mark, as they do at the body."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractSlider

from caddet.core.lengths import Unit, format_length
from caddet.desk.theme import LOOK

SPACE = 64.0  # pixels for 1 cm, and for half an inch


class TapeSlider(QAbstractSlider):
    """A length on a tape. Drag it, turn the wheel, or use the arrow keys (a millimetre, a sixteenth of an inch).

    ``pulled`` while it moves, ``let_go`` when it rests; both in mm.
    """

    pulled = pyqtSignal(float)
    let_go = pyqtSignal(float)

    def __init__(self, name: str = "Tape") -> None:
        super().__init__()
        self.unit: Unit = "cm"
        self.setAccessibleName(name)
        self.setToolTip("Drag the tape, or use the arrow keys; Page Up and Page Down move further.")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setOrientation(Qt.Orientation.Horizontal)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setFixedHeight(56)
        self._from: tuple[float, int] | None = None
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(700)
        self._rest.timeout.connect(self._settle)
        self._quiet = False
        self.valueChanged.connect(self._moved)
        self.show_value(0.0, "cm")

    @property
    def step(self) -> float:
        """The smallest movement, in mm."""
        return 1.0 if self.unit == "cm" else 25.4 / 16

    @property
    def mm(self) -> float:
        """Where it stands, in mm."""
        return self.value() * self.step

    def show_value(self, mm: float, unit: Unit, longest: float = 3000.0) -> None:
        """Show a length without telling anyone."""
        self._quiet = True
        self.unit = unit
        self.setRange(0, round(longest / self.step))
        self.setSingleStep(1)
        self.setPageStep(10 if unit == "cm" else 8)
        self.setValue(round(mm / self.step))
        self._rest.stop()
        self._quiet = False
        self.update()

    def _moved(self) -> None:
        self.update()
        self.setAccessibleDescription(format_length(self.mm, self.unit, with_unit=True))
        if not self._quiet:
            self.pulled.emit(self.mm)
            if self._from is None:
                self._rest.start()

    def _settle(self) -> None:
        self._rest.stop()
        self.let_go.emit(self.mm)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the tape."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._from = (event.position().x(), self.value())
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pull the tape along under its mark."""
        if event is not None and self._from is not None:
            x, value = self._from
            self.setValue(value - round((event.position().x() - x) / self._per_step()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go; the value is settled."""
        del event
        if self._from is not None:
            moved = self.value() != self._from[1]
            self._from = None
            self.setCursor(Qt.CursorShape.OpenHandCursor)
            if moved:
                self._settle()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter settles the value at once."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._rest.isActive():
            self._settle()
            return
        super().keyPressEvent(event)

    def _per_step(self) -> float:
        return SPACE / (10 if self.unit == "cm" else 8)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The tape's marks and numbers, and the mark above it."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, tall = self.width(), self.height()
        band = QRectF(0, 8, wide, tall - 10)
        painter.fillRect(band, LOOK.color("tape"))
        painter.setPen(QPen(LOOK.color("woad" if self.hasFocus() else "tape_ink"), 2.0 if self.hasFocus() else 1.0))
        painter.drawRect(band.adjusted(1, 1, -1, -1))
        middle, per = wide / 2, self._per_step()
        parts = 10 if self.unit == "cm" else 16
        painter.setFont(LOOK.figure_font(15))
        metrics = QFontMetricsF(painter.font())
        first = max(0, math.floor(self.value() - middle / per) - 1)
        for n in range(first, self.value() + math.ceil(middle / per) + 2):
            x = middle + (n - self.value()) * per
            long = (
                20
                if n % parts == 0
                else (15 if n % (parts // 2) == 0 else (11 if self.unit == "in" and n % 4 == 0 else 7))
            )
            painter.setPen(QPen(LOOK.color("tape_ink"), 1.6 if n % parts == 0 else 1.0))
            painter.drawLine(QPointF(x, tall - 3), QPointF(x, tall - 3 - long))
            if n % parts == 0:
                words = str(n // parts)
                painter.drawText(QPointF(x - metrics.horizontalAdvance(words) / 2, 11 + metrics.ascent()), words)
        painter.setPen(QPen(LOOK.color("madder"), 2.0))
        painter.drawLine(QPointF(middle, 6), QPointF(middle, tall - 2))
        painter.setBrush(LOOK.color("madder"))
        painter.drawPolygon(QPolygonF([QPointF(middle - 6, 0), QPointF(middle + 6, 0), QPointF(middle, 9)]))
