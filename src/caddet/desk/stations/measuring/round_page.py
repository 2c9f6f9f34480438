"""The guided round: one measure at a time, in big type, advanced with one key, for measuring standing."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QProgressBar, QVBoxLayout, QWidget

from caddet.core.body.doubts import Doubt, Fix, doubts
from caddet.core.body.known import known_measure
from caddet.core.body.measures import MEASURES, USUAL_ROUND
from caddet.core.body.person import read_measure, show_measure
from caddet.core.errors import InputError
from caddet.core.recipe import edits
from caddet.core.recipe.needed import wanted_measures
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Choices, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.measure import MeasureStation

KEYS = "Enter: take it and go on.  Ctrl+Enter: read it again.  Page Down: skip.  Page Up: back.  F2: what is offered."


class RoundPage(QWidget):
    """One measure after the other."""

    def __init__(self, station: MeasureStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        self.scope = "project"
        self.at = 0
        self.skipped: set[str] = set()
        self.done = False
        self._offered: tuple[Fix, ...] = ()
        self._warned = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.scopes = Choices("Which measures", (("project", "For this"), ("usual", "Usual 22"), ("all", "All")))
        self.scopes.chosen.connect(self.begin)
        column.addWidget(self.scopes)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName("How far the round is")
        column.addWidget(self.bar)
        self.count = label("", "faint")
        column.addWidget(self.count)
        self.name = label("", "roundname", wrap=True)
        column.addWidget(self.name)
        self.field = QLineEdit()
        self.field.setObjectName("roundfield")
        self.field.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.field.installEventFilter(self)
        column.addWidget(self.field)
        self.said = label("", "roundsaid", wrap=True)
        column.addWidget(self.said)
        self.wrong = label("", "roundwrong", wrap=True)
        self.wrong.hide()
        column.addWidget(self.wrong)
        self.offers = QVBoxLayout()
        self.offers.setSpacing(5)
        column.addLayout(self.offers)
        self.keys = label(KEYS, "faint", wrap=True)
        column.addWidget(self.keys)

    @property
    def codes(self) -> list[str]:
        """The measures of the round, in order: for a project what its recipe needs, then what it can use."""
        if self.scope == "usual":
            return list(USUAL_ROUND)
        if self.scope == "all":
            return list(MEASURES)
        leaned = wanted_measures(self.bench.document.recipe)
        return list(dict.fromkeys(["height", *leaned.needs, *leaned.uses]))

    @property
    def code(self) -> str:
        """The measure that is asked for."""
        codes = self.codes
        return codes[min(self.at, len(codes) - 1)]

    def begin(self, scope: str | None = None) -> None:
        """Begin at the first measure that is missing."""
        self.scope = scope or self.scope
        self.scopes.show_choice(self.scope)
        have = self.bench.document.person.measures
        codes = self.codes
        self.at = next((i for i, code in enumerate(codes) if code not in have), 0)
        self.skipped, self.done = set(), False
        self._arrive()

    def _arrive(self) -> None:
        self._warned = ""
        self.field.setModified(False)
        self.station.pick(self.code)
        self.refresh()
        self.field.setFocus()
        self.field.selectAll()

    def refresh(self) -> None:
        """Show the document on this page."""
        person, unit, codes = self.bench.document.person, self.bench.unit, self.codes
        self.at = min(self.at, len(codes) - 1)
        code = self.code
        self.bar.setRange(0, len(codes))
        self.bar.setValue(len(codes) if self.done else self.at)
        self.count.setText(f"{self.at + 1} of {len(codes)}, {person.name}")
        measure = MEASURES[code]
        self.field.setAccessibleName(measure.label)
        self.field.setAccessibleDescription(measure.where)
        source = person.set_of(code)
        values = source.readings[code] if source is not None else ()
        if not self.field.isModified():
            self.field.setText(show_measure(code, person.measures[code], unit) if values else "")
            self.field.setModified(False)
        what = known_measure(person, code)
        guess = what.guess if what is not None else None
        self.field.setPlaceholderText(f"about {show_measure(code, guess.value, unit)}" if guess else "—")
        self.name.setText("The round is done" if self.done else measure.label)
        self.field.setVisible(not self.done)
        if self.done:
            missing = [MEASURES[c].label.lower() for c in codes if c not in person.measures]
            self.said.setText(
                "Everything is measured."
                if not missing
                else f"{len(missing)} left out: {', '.join(missing)}. They are estimated where the rest allows it, and marked."
            )
        elif len(values) > 1:
            self.said.setText(" · ".join(show_measure(code, v, unit) for v in values[-6:]) + ": the middle one counts.")
        else:
            self.said.setText(self.station.tape_words())
        found = [d for d in doubts(person) if d.code == code and not self.done]
        self._show_doubts(found)

    def _show_doubts(self, found: list[Doubt]) -> None:
        if found or not self.field.isModified():
            self.wrong.setText(" ".join(told(doubt.sentence, self.bench.unit) for doubt in found))
            self.wrong.setVisible(bool(found))
        empty(self.offers)
        self._offered = tuple(fix for doubt in found for fix in doubt.fixes)
        for index, fix in enumerate(self._offered):
            words = f"F2: {fix.label}" if index == 0 else fix.label
            self.offers.addWidget(button(words, partial(self._take_fix, fix)))
        if found:
            self.offers.addWidget(button("Enter: it is right as it stands", self._take))

    # --- keys ---------------------------------------------------------------------------------

    def eventFilter(self, watched: object, event: object) -> bool:
        """Enter takes the reading, with Ctrl for another of the same; Page keys go back and on."""
        if watched is not self.field or not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self._take_and_stay()
            else:
                self._take()
        elif key == Qt.Key.Key_PageDown:
            self.skip()
        elif key == Qt.Key.Key_PageUp:
            self.back()
        elif key == Qt.Key.Key_F2 and self._offered:
            self._take_fix(self._offered[0])
        elif key == Qt.Key.Key_Escape:
            self.station.show_page("list")
        else:
            return False
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Page up goes back when the round is done; Esc ends the round."""
        if event is not None and self.done and event.key() == Qt.Key.Key_PageUp:
            self.back()
        elif event is not None and event.key() == Qt.Key.Key_Escape:
            self.station.show_page("list")
        else:
            super().keyPressEvent(event)

    def _typed(self) -> float | None:
        """What stands in the field, or None when it can't be read (it is said why)."""
        try:
            return read_measure(self.code, self.field.text(), self.bench.unit)
        except InputError as error:
            self.wrong.setText(told(str(error), self.bench.unit))
            self.wrong.show()
            return None

    def _take(self) -> None:
        """Take what stands in the field and go on; stay when it is doubted for the first time."""
        code = self.code
        if not self.field.text().strip():
            self.skip()
            return
        if self.field.isModified():
            value = self._typed()
            if value is None:
                return
            self.field.setModified(False)
            if self.station.read_again:
                self.station.take_reading(code, value)
            else:
                self.station.enter_measure(code, value)
            self.station.read_again = False
            if any(doubt.code == code for doubt in doubts(self.bench.document.person)):
                self._warned = code
                self.refresh()
                self.field.selectAll()
                return
        elif self._warned == code and any(d.code == code for d in doubts(self.bench.document.person)):
            self.bench.edit(f"Sure of the {MEASURES[code].label.lower()}", lambda d: edits.confirm_measure(d, code))
        self._on()

    def _take_and_stay(self) -> None:
        """Take a reading and wait for another."""
        if self.field.isModified():
            value = self._typed()
            if value is None:
                return
            self.field.setModified(False)
            self.station.take_reading(self.code, value)
        self.station.read_again = True
        self.refresh()
        self.said.setText(f"{self.said.text()} Now read it again.")
        self.field.clear()
        self.field.setModified(False)

    def _take_fix(self, fix: Fix) -> None:
        self.field.setModified(False)
        self.station.enter_measure(fix.code, fix.value)
        if any(doubt.code == self.code for doubt in doubts(self.bench.document.person)):
            self._arrive()
        else:
            self._on()

    def took_from_tape(self) -> None:
        """A linked tape has sent a reading for this measure: it is shown, Enter goes on."""
        self.field.setModified(False)
        self.refresh()
        self._warned = self.code if self.wrong.isVisible() else ""
        self.field.setFocus()
        self.field.selectAll()

    def skip(self) -> None:
        """Leave this one out and go on."""
        self.skipped.add(self.code)
        self._on()

    def _on(self) -> None:
        self.station.read_again = False
        if self.at + 1 < len(self.codes):
            self.at += 1
            self._arrive()
            return
        self.done = True
        self.refresh()
        self.station.round_done()

    def back(self) -> None:
        """To the measure before."""
        self.station.read_again = False
        if self.done:
            self.done = False
        else:
            self.at = max(self.at - 1, 0)
        self._arrive()
