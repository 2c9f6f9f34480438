"""How a step is done, on the wearer's own pieces: three small pictures, what it does, and what a maker says who wants it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from caddet.core.hands.gesture import Gesture
from caddet.core.lengths import Unit
from caddet.core.pattern.pattern import Pattern
from caddet.core.sentences import told
from caddet.desk.stations.shaping.pictures import three
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label

SAID = 4  # of a maker's words for the step


class How(QWidget):
    """A fold-out under the step in hand; it stays open or shut from one step to the next."""

    def __init__(self) -> None:
        super().__init__()
        self.toggle = button("How it is done", self._toggle, "quiet")
        self.pictures = QLabel()
        self.pictures.setAccessibleName("Before, doing, after")
        self.says = label("", "working", wrap=True)
        self.when = label("", "faint", wrap=True)
        self.inside = QWidget()
        column = QVBoxLayout(self.inside)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for part in (self.pictures, self.says, self.when):
            column.addWidget(part)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 4)
        outer.addWidget(self.toggle, 0, Qt.AlignmentFlag.AlignLeft)
        outer.addWidget(self.inside)
        self.inside.hide()
        self.gesture: Gesture | None = None
        self._unit: Unit = "cm"
        self._drawn: tuple[Pattern, Pattern | None, object] | None = None

    def show_gesture(self, gesture: Gesture, unit: Unit) -> None:
        """Show what a step in hand does; the pictures follow its values."""
        self.gesture, self._unit = gesture, unit
        if not self.inside.isHidden():
            self._fill()

    def _toggle(self) -> None:
        self.inside.setVisible(self.inside.isHidden())
        if not self.inside.isHidden():
            self._fill()

    def _fill(self) -> None:
        gesture = self.gesture
        if gesture is None:
            return
        step = gesture.step
        self.says.setText(told(step.why, self._unit))
        words = "; ".join(f"“{one}”" for one in step.asked_as[:SAID])
        self.when.setText(f"When one says {words}." if words else "")
        able = not gesture.missing and not gesture.trouble
        after = gesture.outcome.pattern if able else None
        drawn = gesture.before, after, (LOOK.evening, LOOK.scale)
        if (
            self._drawn is None
            or any(a is not b for a, b in zip(drawn[:2], self._drawn[:2], strict=True))
            or drawn[2] != self._drawn[2]
        ):
            self._drawn = drawn
            self.pictures.setPixmap(three(gesture.before, after))
        self.pictures.setVisible(after is not None)
