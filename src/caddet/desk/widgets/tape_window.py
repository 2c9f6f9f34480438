"""The practice tape: a small window with a simulated tape measure that sends its readings."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from caddet.core.devices.tape import (
    LOW_BATTERY,
    SimulatedTape,
    TapeBattery,
    TapeEvent,
    TapeLinked,
    TapeLost,
    TapePulled,
    TapeRead,
)
from caddet.core.lengths import Unit, format_length
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label
from caddet.desk.widgets.tape_slider import TapeSlider


class TapeWindow(QDialog):
    """Pull the tape out, press its button, let its battery run low, lose its link."""

    def __init__(self, parent: QWidget, tape: SimulatedTape, unit: Unit) -> None:
        super().__init__(parent)
        self.tape, self.unit = tape, unit
        self.setWindowTitle("Practice tape")
        self.setModal(False)
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addWidget(
            label(
                "A tape that sends its readings, to practise with. Caddet would listen to a real one in the same way.",
                "why",
                wrap=True,
            )
        )
        self.display = label("", "big")
        self.display.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self.display)
        self.slider = TapeSlider("Pull the practice tape")
        self.slider.pulled.connect(self.tape.extend)
        column.addWidget(self.slider)
        row = QHBoxLayout()
        self.press_button = button("Press its button", self.tape.press, "onward")
        row.addWidget(self.press_button)
        column.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(label("Battery", "heading"))
        self.battery = QSlider(Qt.Orientation.Horizontal)
        self.battery.setRange(0, 100)
        self.battery.setAccessibleName("Battery of the practice tape, in percent")
        self.battery.valueChanged.connect(self._charge)
        row.addWidget(self.battery, 1)
        self.percent = label("", "heading")
        self.percent.setMinimumWidth(LOOK.px(46))
        row.addWidget(self.percent)
        column.addLayout(row)
        row = QHBoxLayout()
        self.link_button = button("Link it", self._link)
        self.lose_button = button("Walk out of reach", self.tape.lose_link)
        row.addWidget(self.link_button)
        row.addWidget(self.lose_button)
        column.addLayout(row)
        self.state = label("", "why", wrap=True)
        self.state.setAccessibleName("State of the practice tape")
        column.addWidget(self.state)
        self.tape.listen(self.hear)
        self.setMinimumWidth(LOOK.px(340))
        self._show("Not linked.")

    def _link(self) -> None:
        if self.tape.linked:
            self.tape.unlink()
        else:
            self.tape.link()

    def _charge(self, percent: int) -> None:
        self.tape.charge(percent)
        self._show(self.state.text())

    def hear(self, event: TapeEvent) -> None:
        """Show what the tape tells."""
        if isinstance(event, TapeLinked):
            self._show("Linked: press its button and the reading goes to the chosen measure.")
        elif isinstance(event, TapeRead):
            self._show(f"Sent {format_length(event.mm, self.unit, with_unit=True)}.")
        elif isinstance(event, TapeBattery) and event.percent <= LOW_BATTERY:
            self._show("The battery is low: its readings waver. Charge it, or read twice.")
        elif isinstance(event, TapeLost):
            self._show(f"Not linked: {event.reason}.")
        elif isinstance(event, TapePulled):
            self._show(self.state.text())

    def set_unit(self, unit: Unit) -> None:
        """Show lengths in this unit."""
        self.unit = unit
        self._show(self.state.text())

    def _show(self, words: str) -> None:
        self.state.setText(words)
        self.display.setText(format_length(self.tape.out, self.unit, with_unit=True))
        if abs(self.slider.mm - self.tape.out) > self.slider.step / 2 or self.slider.unit != self.unit:
            self.slider.show_value(self.tape.out, self.unit, self.tape.longest)
        self.battery.blockSignals(True)
        self.battery.setValue(self.tape.battery)
        self.battery.blockSignals(False)
        self.percent.setText(f"{self.tape.battery} %")
        self.press_button.setEnabled(self.tape.linked)
        self.lose_button.setEnabled(self.tape.linked)
        self.link_button.setText("Put it away" if self.tape.linked else "Link it")

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Closing it ends the link."""
        self.tape.unlink()
        super().closeEvent(event)
