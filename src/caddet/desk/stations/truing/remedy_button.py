"""A remedy that shows what it would do while the pointer or the keyboard rests on it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QEnterEvent, QFocusEvent
from PyQt6.QtWidgets import QPushButton

from caddet.core.errors import CaddetError
from caddet.core.recipe.edits import Remedy
from caddet.core.sentences import told
from caddet.desk.workbench import Workbench

BY_KEY = (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason)


class RemedyButton(QPushButton):
    """Does the remedy when pressed; previews it before."""

    def __init__(self, remedy: Remedy, bench: Workbench) -> None:
        super().__init__(told(remedy.label, bench.unit))
        self.remedy, self.bench = remedy, bench
        self.setObjectName("tool")
        self.setAutoDefault(True)
        self.clicked.connect(self._do)

    def _do(self) -> None:
        self.bench.edit(self.text(), self.remedy.apply)

    def _try(self) -> None:
        try:
            self.bench.preview(self.remedy.apply(self.bench.history.document))
        except CaddetError as error:
            self.bench.said.emit(told(str(error), self.bench.unit))

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """The pointer rests on it."""
        super().enterEvent(event)
        self._try()

    def leaveEvent(self, event: QEvent | None) -> None:
        """The pointer goes away."""
        super().leaveEvent(event)
        self.bench.preview(None)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """The keyboard comes to it; where the focus only falls to it, nothing is shown."""
        super().focusInEvent(event)
        if event is not None and event.reason() in BY_KEY:
            self._try()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """The keyboard leaves it."""
        super().focusOutEvent(event)
        self.bench.preview(None)
