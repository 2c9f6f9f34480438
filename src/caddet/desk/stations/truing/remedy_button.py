"""A remedy that shows what it would do while the pointer or the keyboard rests on it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QEnterEvent, QFocusEvent
from PyQt6.QtWidgets import QPushButton

from caddet.core.errors import CaddetError
from caddet.core.recipe.document import Document
from caddet.core.recipe.edits import Remedy
from caddet.core.sentences import told
from caddet.desk.workbench import Workbench

BY_KEY = (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason)


class RemedyButton(QPushButton):
    """Does the remedy when pressed; previews it before."""

    def __init__(self, remedy: Remedy, bench: Workbench) -> None:
        super().__init__(told(remedy.label, bench.unit))
        self.remedy, self.bench = remedy, bench
        self._shown: Document | None = None
        self._retired = False
        self.setObjectName("tool")
        self.setAutoDefault(True)
        self.clicked.connect(self._do)

    def _do(self) -> None:
        self.bench.edit(self.text(), self.remedy.apply)

    def retire(self) -> None:
        """Show nothing any more: it is about to be taken away, and the focus falls from one to the next as they go."""
        self._retired = True
        self._hide()

    def _try(self) -> None:
        if self._retired:
            return
        try:
            self._shown = self.remedy.apply(self.bench.history.document)
        except CaddetError as error:
            self.bench.said.emit(told(str(error), self.bench.unit))
            return
        self.bench.preview(self._shown)

    def _hide(self) -> None:
        """Take away what it showed; what another one shows meanwhile stays."""
        if self._shown is not None and self.bench.preview_document is self._shown:
            self.bench.preview(None)
        self._shown = None

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """The pointer rests on it."""
        super().enterEvent(event)
        self._try()

    def leaveEvent(self, event: QEvent | None) -> None:
        """The pointer goes away."""
        super().leaveEvent(event)
        self._hide()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """The keyboard comes to it; where the focus only falls to it, nothing is shown."""
        super().focusInEvent(event)
        if event is not None and event.reason() in BY_KEY:
            self._try()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """The keyboard leaves it."""
        super().focusOutEvent(event)
        self._hide()
