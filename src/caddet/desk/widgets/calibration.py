"""Real size, set once: a line on the screen is made as long as a bank card held to it.

A card is 85.60 mm long (ISO/IEC 7810 ID-1, from memory).
"""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from caddet.desk.settings import keep_settings
from caddet.desk.table.view import TableView
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label

CARD = 85.60


class _Bar(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.pixels = 320
        self.setFixedHeight(70)
        self.setMinimumWidth(760)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(QPen(LOOK.color("ink"), 2))
        painter.setBrush(LOOK.color("woad_tint"))
        painter.drawRoundedRect(6, 10, self.pixels, 50, 6, 6)


class Calibration(QDialog):
    """A bar and a slider; not modal."""

    def __init__(self, parent: QWidget, view: TableView) -> None:
        super().__init__(parent)
        self.view = view
        self.setWindowTitle("Real size")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        column.addWidget(label("Hold a bank card to the screen and make the bar exactly as long (8.56 cm).", wrap=True))
        self.bar = _Bar()
        column.addWidget(self.bar)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(180, 740)
        self.slider.setAccessibleName("Length of the bar")
        self.slider.valueChanged.connect(self._show)
        self.slider.setValue(round(view.real_size() * CARD))
        column.addWidget(self.slider)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("It is as long as the card", self._take, "onward"))
        column.addLayout(row)

    def _show(self, pixels: int) -> None:
        self.bar.pixels = pixels
        self.bar.update()

    def _take(self) -> None:
        self.view.dots = self.slider.value() / CARD
        keep_settings(dots_per_mm=self.view.dots)
        self.close()
