"""A figure in the docket: label, value, sum; opened it shows the reason and the formula to override."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, parse
from caddet.core.figures.sums import Sum
from caddet.core.lengths import Unit
from caddet.core.sentences import say, told
from caddet.desk.widgets.fields import Row, button, hint, label, repolish


class SumRow(Row):
    """One figure. ``overridden`` carries the formula, or None to take it back; ``tried`` while typing."""

    overridden = pyqtSignal(str, object)
    tried = pyqtSignal(str, object)

    def __init__(self, sum_: Sum, unit: Unit) -> None:
        super().__init__(sum_.figure.label)
        self.name = sum_.figure.name
        self._shown: tuple[Sum, Unit] | None = None
        self.unreadable = False  # what is being typed can't be read yet
        self.mark = label("", "yours")
        self.mark.hide()
        self.value = label("", "value")
        self.unit_words = label("", "unit")
        self.unit_words.setFixedWidth(22)
        for widget in (self.mark, self.value, self.unit_words):
            self.top.addWidget(widget, 0, Qt.AlignmentFlag.AlignVCenter)
        self.inside = QWidget()
        column = QVBoxLayout(self.inside)
        column.setContentsMargins(0, 4, 0, 2)
        column.setSpacing(4)
        self.reason = label("", "why", wrap=True)
        self.formula = QLineEdit()
        self.formula.setAccessibleName(f"Formula of {sum_.figure.label}")
        self.formula.textEdited.connect(self._try)
        self.formula.returnPressed.connect(self._take)
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        self.use = button("Use this formula", self._take)
        self.back = button("Take back", lambda: self.overridden.emit(self.name, None))
        buttons = QHBoxLayout()
        buttons.addWidget(self.use)
        buttons.addWidget(self.back)
        buttons.addStretch(1)
        for line in (self.reason, self.formula, self.wrong):
            column.addWidget(line)
        column.addLayout(buttons)
        self.column.addWidget(self.inside)
        self.inside.hide()
        self.show_sum(sum_, unit)

    def show_sum(self, sum_: Sum, unit: Unit) -> None:
        """Show the figure worked out anew."""
        if (sum_, unit) == self._shown and not self.formula.isModified():
            return
        self._shown = (sum_, unit)
        self.value.setText(sum_.shown(unit))
        self.unit_words.setText(unit if sum_.figure.kind == "length" else "")
        self.set_sub(sum_.working(unit))
        yours = sum_.override is not None
        self.mark.setObjectName("yours" if yours else "guess")
        self.mark.setText("yours" if yours else "estimate")
        self.mark.setVisible(yours or bool(sum_.estimates))
        self.mark.setToolTip(hint("" if yours else "Leans on estimated: " + ", ".join(sum_.estimates)))
        repolish(self.mark)
        self.back.setEnabled(yours)
        self.reason.setText(
            told(say("{reason} ({source})", reason=sum_.figure.reason, source=sum_.figure.source), unit)
        )
        if not self.formula.isModified():
            self.formula.setText(sum_.formula)
            self.formula.setModified(False)
            self.unreadable = False

    def open(self, opened: bool) -> None:
        """Show or hide the formula and what it is made of."""
        self.inside.setVisible(opened)
        self.set_chosen(opened)
        if not opened:
            self.formula.setModified(False)

    @property
    def opened(self) -> bool:
        """Whether the formula is shown."""
        return self.inside.isVisible()

    def complain(self, sentence: str) -> None:
        """Say what is wrong with the formula; nothing when it is right."""
        self.wrong.setText(sentence)
        self.wrong.setVisible(bool(sentence))

    def _try(self, text: str) -> None:
        try:
            parse(text)
        except FormulaError as error:
            self.unreadable = True
            self.complain(str(error))
            self.tried.emit(self.name, None)
        else:
            self.unreadable = False
            self.complain("")
            self.tried.emit(self.name, text)

    def _take(self) -> None:
        text = self.formula.text().strip()
        try:
            parse(text)
        except CaddetError as error:
            self.complain(str(error))
            return
        self.formula.setModified(False)
        self.overridden.emit(self.name, text)
