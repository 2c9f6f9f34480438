"""The list of measures: typed, pulled on the tape slider, or sent by a linked tape; with doubts and fixes."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.body.doubts import Doubt, doubts
from caddet.core.body.known import known_measure
from caddet.core.body.measures import MEASURES, USUAL_ROUND
from caddet.core.body.person import Person, read_measure, show_measure
from caddet.core.errors import InputError
from caddet.core.recipe import edits
from caddet.core.recipe.needed import wanted_measures
from caddet.core.sentences import told
from caddet.desk.clock import shown_date, today
from caddet.desk.later import later
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Choices, LengthField, Row, button, label
from caddet.desk.widgets.tape_slider import TapeSlider

if TYPE_CHECKING:
    from caddet.desk.stations.measure import MeasureStation

SCOPES = (("project", "For this"), ("usual", "Usual"), ("all", "All"))


class ListPage(QWidget):
    """Every measure with its field; the chosen one with its tape."""

    def __init__(self, station: MeasureStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        self.scope = "project"
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.scopes = Choices("Which measures", SCOPES)
        self.scopes.chosen.connect(self._scope)
        self.scopes.show_choice(self.scope)
        column.addWidget(self.scopes)
        self.taken = label("", "faint", wrap=True)
        column.addWidget(self.taken)
        self.rows_box = QVBoxLayout()
        self.rows_box.setSpacing(0)
        column.addLayout(self.rows_box)
        self.rows: dict[str, tuple[Row, LengthField]] = {}
        self._shown: tuple[str, tuple[str, ...]] = ("", ())
        self._extra: set[str] = set()
        self.panel = self._panel()
        self.panel_of = ""

    def _panel(self) -> QWidget:
        """What opens under the chosen measure: the tape slider, the readings, the doubts."""
        panel = QWidget()
        inside = QVBoxLayout(panel)
        inside.setContentsMargins(0, 4, 0, 4)
        inside.setSpacing(6)
        self.slider = TapeSlider()
        self.slider.pulled.connect(self._pulled)
        self.slider.let_go.connect(self._let_go)
        inside.addWidget(self.slider)
        row = QHBoxLayout()
        self.readings = label("", "faint", wrap=True)
        row.addWidget(self.readings, 1)
        self.again = button("Read again", self._read_again, "link")
        row.addWidget(self.again)
        inside.addLayout(row)
        self.fixes = QVBoxLayout()
        self.fixes.setSpacing(4)
        inside.addLayout(self.fixes)
        return panel

    def _scope(self, scope: str) -> None:
        self.scope = scope
        self._shown = ("", ())
        self.station.refresh()

    def codes(self, person: Person) -> list[str]:
        """The measures shown: those of the scope, and in any scope those that were asked for or are doubted."""
        have = person.measures
        if self.scope == "all":
            return list(MEASURES)
        if self.scope == "usual":
            codes: list[str] = list(USUAL_ROUND)
        else:
            leaned = wanted_measures(self.bench.document.recipe)
            codes = [*leaned.needs, *leaned.uses, "height"]
            codes += [code for code in MEASURES if code in have]
        return list(dict.fromkeys([*codes, *(code for code in MEASURES if code in self._extra)]))

    def show_code(self, code: str) -> None:
        """Make sure that a measure has its row."""
        if code not in self.rows:
            self._extra.add(code)
            self.refresh()

    def refresh(self) -> None:
        """Show the document on this page."""
        document, unit = self.bench.document, self.bench.unit
        person = document.person
        codes = self.codes(person)
        key = (person.name, tuple(codes))
        if key != self._shown:
            of = self._shown[0]
            self._shown = key
            self._build(codes, of)
        last = person.sets[-1] if person.sets else None
        self.taken.setText(
            "Nothing measured yet: begin the guided round, or start from a size."
            if last is None
            else f"Last measured: {shown_date(last.date)}{', over ' + last.over if last.over else ''}"
        )
        found: dict[str, list[Doubt]] = {}
        for doubt in doubts(person):
            found.setdefault(doubt.code, []).append(doubt)
        leaned = wanted_measures(document.recipe)
        have = person.measures
        for code, (row, field) in self.rows.items():
            field.show_value(have.get(code), unit)
            need = "needed" if code in leaned.needs else ("useful" if code in leaned.uses else "")
            row.set_sub(
                " ".join(told(d.sentence, unit) for d in found[code])
                if code in found
                else self._words(person, code, need, field)
            )
            row.set_sub_style("wrong" if code in found else "working")
        self._show_panel(found.get(self.station.code, []))

    def _words(self, person: Person, code: str, need: str, field: LengthField) -> str:
        """What stands under a measure: how it came, how sure it is, what it is for."""
        unit = self.bench.unit
        what = known_measure(person, code)
        words: list[str] = []
        if what is None:
            words.append("not measured")
        elif what.guess is not None and code not in person.measures:
            words.append(
                f"estimate ± {show_measure(code, what.guess.error, unit, with_unit=True)}, from {what.guess.basis}"
            )
        elif what.guess is not None:
            words.append(f"of {what.guess.basis}, not measured")
        field.edit.setPlaceholderText(
            show_measure(code, what.guess.value, unit) if what is not None and what.guess is not None else "—"
        )
        source = person.set_of(code)
        if source is not None and source is not person.sets[-1] and source.date:
            words.append(f"read {shown_date(source.date)}")
        if what is not None and what.growth:
            words.append(f"+ {show_measure(code, what.growth, unit, with_unit=True)} for growth")
        if code in person.sure:
            words.append("you are sure of it")
        if need:
            words.append(need)
        return "; ".join(words)

    def _build(self, codes: list[str], of: str) -> None:
        """The rows anew; ``of`` is the person whose measures were shown before."""
        # while rows go the focus moves from field to field: none of them is meant, and nothing is to open under one
        here = next((code for code, (_, field) in self.rows.items() if field.edit.hasFocus()), "")
        typed = {code: field.edit.text() for code, (_, field) in self.rows.items() if field.edit.isModified()}
        for _, field in self.rows.values():
            field.edit.removeEventFilter(self)
            field.blockSignals(True)
        self.panel.hide()
        self.panel.setParent(self)
        self.panel_of = ""
        empty(self.rows_box)
        self.rows = {}
        for code in codes:
            row = Row(MEASURES[code].label)
            row.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            field = LengthField(
                MEASURES[code].label,
                self.bench.unit,
                partial(read_measure, code),
                may_be_empty=True,
                show=partial(show_measure, code),
            )
            field.edit.setAccessibleDescription(MEASURES[code].where)
            row.top.addWidget(field)
            row.chosen.connect(partial(self.station.pick, code))
            field.entered.connect(partial(self.station.enter_measure, code))
            field.cleared.connect(partial(self.station.enter_measure, code, None))
            field.edit.installEventFilter(self)
            field.edit.setProperty("code", code)
            self.rows[code] = (row, field)
            self.rows_box.addWidget(row)
        if of != self._shown[0]:
            later(self, partial(self._keep_for, of, typed))  # not in the middle of an edit
        else:
            for code in typed.keys() & self.rows.keys():
                self.rows[code][1].edit.setText(typed[code])
                self.rows[code][1].edit.setModified(True)
        if here in self.rows:
            self.rows[here][1].edit.setFocus()

    def _keep_for(self, name: str, typed: dict[str, str]) -> None:
        """What was typed for somebody and not confirmed when another wearer was chosen is kept for the one it was typed for."""
        if name not in [person.name for person in self.bench.document.people]:
            return
        for code, text in typed.items():
            try:
                value = read_measure(code, text.strip(), self.bench.unit)
            except InputError as error:
                if text.strip():
                    self.bench.said.emit(f"{name}'s {MEASURES[code].label.lower()} was not kept: {error.sentence}")
                continue
            deed = f"{name}: {MEASURES[code].label.lower()}"
            self.bench.edit(deed, partial(edits.set_measure, code=code, mm=value, date=today(), of=name))

    def eventFilter(self, watched: object, event: object) -> bool:
        """A field that gets the focus makes its measure the chosen one."""
        if isinstance(event, QEvent) and event.type() == QEvent.Type.FocusIn and isinstance(watched, QLineEdit):
            code = watched.property("code")
            if code and code != self.station.code:
                self.station.pick(code)
        return False

    def _show_panel(self, found: list[Doubt]) -> None:
        code, unit, person = self.station.code, self.bench.unit, self.bench.document.person
        for other, (row, _) in self.rows.items():
            row.set_chosen(other == code)
        if code not in self.rows or MEASURES[code].kind == "weight":
            self.panel.hide()
            return
        if self.panel_of != code:
            self.panel_of = code
            self.rows[code][0].column.addWidget(self.panel)
        self.panel.show()
        self.slider.setAccessibleName(f"Tape for {MEASURES[code].label.lower()}")
        what = known_measure(person, code)
        value = person.measures.get(code, what.value if what is not None else MEASURES[code].usual(1680.0))
        self.slider.show_value(value, unit)
        source = person.set_of(code)
        values = source.readings[code] if source is not None else ()
        shown = " · ".join(show_measure(code, value, unit) for value in values[-6:])
        self.readings.setText(
            f"{len(values)} readings: {shown}; the middle one counts"
            if len(values) > 1
            else ("Read it twice to be sure." if values else "Type it, pull the tape, or press a linked one.")
        )
        self.again.setVisible(bool(values))
        empty(self.fixes)
        for doubt in found:
            for fix in doubt.fixes:
                self.fixes.addWidget(
                    button(told(fix.label, self.bench.unit), partial(self.station.enter_measure, fix.code, fix.value))
                )
        if found and any(doubt.kind != "spread" for doubt in found):
            self.fixes.addWidget(button("It is right as it stands", partial(self._sure, code)))

    def _sure(self, code: str) -> None:
        self.bench.edit(f"Sure of the {MEASURES[code].label.lower()}", lambda d: edits.confirm_measure(d, code))

    def _pulled(self, mm: float) -> None:
        field = self.rows[self.station.code][1]
        field.show_value(mm, self.bench.unit)

    def _let_go(self, mm: float) -> None:
        if self.station.code in self.rows:
            self.station.enter_measure(self.station.code, mm)

    def _read_again(self) -> None:
        """The next value typed is one more reading, not another value."""
        self.station.read_again = True
        self.readings.setText("Type the second reading, then Enter.")
        self.rows[self.station.code][1].edit.setFocus()
        self.rows[self.station.code][1].edit.selectAll()
