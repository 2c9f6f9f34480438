"""The history: every set of readings by its date, and any two of them side by side."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.body.comparison import at_set, compare
from caddet.core.body.figure.drawing import draw_view
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, show_measure
from caddet.core.body.readings import OVER, MeasureSet, read_date
from caddet.core.errors import InputError
from caddet.core.lengths import format_change
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.desk.clock import shown_date, today
from caddet.desk.stations.base import empty
from caddet.desk.table.figure_item import FigureItem
from caddet.desk.widgets.fields import button, label, narrow_combo, strong

if TYPE_CHECKING:
    from caddet.desk.stations.measure import MeasureStation


def set_words(one: MeasureSet) -> str:
    """A set in a few words, for a list."""
    number = len(one.readings)
    origin = f"of {one.origin}" if one.from_size else f"{number} measure{'s' if number != 1 else ''}"
    return f"{shown_date(one.date)}, {origin}"


class DatesPage(QWidget):
    """Two sets compared: as a table here, as two figures on the table."""

    def __init__(self, station: MeasureStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.then, self.now = narrow_combo(), narrow_combo()
        for words, box in (("Then (dashed)", self.then), ("Now (drawn out)", self.now)):
            box.setAccessibleName(words)
            box.activated.connect(lambda _: self.station.redraw())
            column.addWidget(label(words, "heading"))
            column.addWidget(box)
        self.said = label("", "faint", wrap=True)
        column.addWidget(self.said)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(5)
        self.grid.setColumnStretch(0, 1)
        column.addLayout(self.grid)
        column.addSpacing(10)
        column.addWidget(label("About the later set", "heading"))
        row = QHBoxLayout()
        row.addWidget(label("Taken on"))
        self.date = QLineEdit()
        self.date.setAccessibleName("Date on which it was taken, such as 2026-11-24")
        self.date.setPlaceholderText("2026-11-24")
        self.date.editingFinished.connect(self._date)
        row.addWidget(self.date, 1)
        column.addLayout(row)
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        column.addWidget(self.wrong)
        row = QHBoxLayout()
        row.addWidget(label("Measured over"))
        self.over = narrow_combo()
        self.over.setEditable(True)
        self.over.setAccessibleName("Measured over")
        self.over.addItems(["", *OVER])
        self.over.activated.connect(self._over)
        edit = self.over.lineEdit()
        if edit is not None:
            edit.editingFinished.connect(self._over)
        row.addWidget(self.over, 1)
        column.addLayout(row)
        self.away = button("Take this set away", self._take_away)
        column.addWidget(self.away)
        self._of = ""

    @property
    def chosen(self) -> tuple[int, int]:
        """The two sets that are compared, by index."""
        return max(self.then.currentIndex(), 0), max(self.now.currentIndex(), 0)

    def refresh(self) -> None:
        """Show the document on this page."""
        person = self.bench.document.person
        words = [set_words(one) for one in person.sets]
        fresh = person.name != self._of or self.then.count() != len(words)
        keep = self.chosen
        for box in (self.then, self.now):
            box.blockSignals(True)
            box.clear()
            box.addItems(words)
        first, second = (max(len(words) - 2, 0), max(len(words) - 1, 0)) if fresh else keep
        self.then.setCurrentIndex(first)
        self.now.setCurrentIndex(second)
        for box in (self.then, self.now):
            box.blockSignals(False)
        self._of = person.name
        for widget in (self.date, self.over, self.away):
            widget.setEnabled(bool(person.sets))
        if person.sets and not self.date.isModified():
            self.date.setText(person.sets[second].date)
            self.over.setCurrentText(person.sets[second].over)
        self._table(person)

    def _table(self, person: Person) -> None:
        empty(self.grid)
        unit = self.bench.unit
        if not person.sets:
            self.said.setText("Nothing has been measured yet.")
            return
        first, second = self.chosen
        changes = compare(person, first, second)
        both = [change for change in changes if change.difference is not None]
        same_cover = person.sets[first].over == person.sets[second].over
        self.said.setText(
            (
                "One set so far: measure again on another day to compare."
                if len(person.sets) < 2
                else f"{len(both)} of {len(changes)} measures were taken both times."
            )
            + ("" if same_cover else " They were taken over different clothes, which alone makes a difference.")
        )
        for column, words in enumerate(("", "then", "now", "change")):
            self.grid.addWidget(label(words, "faint"), 0, column)
        for row, change in enumerate(changes, start=1):
            self.grid.addWidget(
                label(MEASURES[change.code].label, "heading" if change.matters else "", wrap=True), row, 0
            )
            for column, value in ((1, change.then), (2, change.now)):
                shown = "–" if value is None else show_measure(change.code, value, unit)
                self.grid.addWidget(label(shown), row, column)
            if change.difference is not None:
                words = (
                    f"{change.difference:+.1f} kg"
                    if change.code == "weight_kg"
                    else format_change(change.difference, unit)
                )
                self.grid.addWidget(label(words, "heading" if change.matters else ""), row, 3)

    def items(self) -> list[FigureItem]:
        """The two figures for the table."""
        person = self.bench.document.person
        if not person.sets:
            return [FigureItem(draw_view(person, "front"))]
        first, second = self.chosen
        now = FigureItem(draw_view(at_set(person, second), "front"), words=shown_date(person.sets[second].date))
        if first == second:
            return [now]
        return [now, FigureItem(draw_view(at_set(person, first), "front"), ghost=True)]

    def note(self) -> str:
        """What stands beside the figures."""
        person = self.bench.document.person
        if len(person.sets) < 2:
            return ""
        first, second = self.chosen
        return (
            strong(f"{person.name}, then and now") + f"<br>Dashed: {shown_date(person.sets[first].date)}<br>"
            f"Drawn out: {shown_date(person.sets[second].date)}"
        )

    def _change(self, deed: str, **changes: str) -> None:
        index = self.chosen[1]

        def change(document: Document) -> Document:
            person = document.person
            one = MeasureSet.model_validate({**person.sets[index].model_dump(), **changes})
            return edits.set_person(document, person.name, person.without_set(index).with_set(one))

        if self.bench.document.person.sets:
            self.bench.edit(deed, change)

    def _date(self) -> None:
        if not self.date.isModified():
            return
        try:
            date = read_date(self.date.text(), today()) if self.date.text().strip() else ""
        except InputError as error:
            self.wrong.setText(str(error))
            self.wrong.show()
            return
        self.wrong.hide()
        self.date.setModified(False)
        self._of = ""
        self._change("When it was measured", date=date)

    def _over(self) -> None:
        person = self.bench.document.person
        over = self.over.currentText().strip()[:80]
        if person.sets and over != person.sets[self.chosen[1]].over:
            self._change("What it was measured over", over=over)

    def _take_away(self) -> None:
        index = self.chosen[1]
        self.bench.edit(
            "Take a set of readings away", lambda d: edits.set_person(d, d.wearer, d.person.without_set(index))
        )
