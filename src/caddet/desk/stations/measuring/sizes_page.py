"""Sizes: the nearest one with its differences, a table of one's own, and somebody to start from a size."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog, QGridLayout, QVBoxLayout, QWidget

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, show_measure
from caddet.core.body.sizes import SizeTable, nearest_size, person_of_size, read_sizes, shipped_tables
from caddet.core.errors import InputError
from caddet.core.files.reading import read_text
from caddet.core.formats.people_store import free_name
from caddet.core.lengths import format_change, format_length
from caddet.core.recipe import edits
from caddet.desk.clock import today
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import button, label, narrow_combo

if TYPE_CHECKING:
    from caddet.desk.stations.measure import MeasureStation


class SizesPage(QWidget):
    """A size table against the wearer."""

    def __init__(self, station: MeasureStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        self.tables: list[SizeTable] = list(shipped_tables())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.choice = narrow_combo()
        self.choice.setAccessibleName("Size table")
        self.choice.activated.connect(lambda _: self.refresh())
        column.addWidget(self.choice)
        self.source = label("", "faint", wrap=True)
        column.addWidget(self.source)
        self.own = button("A table of your own, from CSV…", self._ask_own, "link")
        column.addWidget(self.own)
        self.nearest = label("", "value", wrap=True)
        column.addWidget(self.nearest)
        self.said = label("", "why", wrap=True)
        column.addWidget(self.said)
        self.grid = QGridLayout()
        self.grid.setColumnStretch(0, 1)
        self.grid.setHorizontalSpacing(10)
        column.addLayout(self.grid)
        column.addSpacing(10)
        column.addWidget(label("Start somebody from a size", "heading"))
        self.start_from = narrow_combo()
        self.start_from.setAccessibleName("Size to start from")
        column.addWidget(self.start_from)
        column.addWidget(button("Add a person of this size", self._add))
        column.addWidget(
            label("Its values are marked as the table's, on every figure, until you measure.", "faint", wrap=True)
        )
        self._of = ""
        self._offered_for = ""
        self._fill()

    def _fill(self) -> None:
        index = max(self.choice.currentIndex(), 0)
        self.choice.clear()
        self.choice.addItems([table.name for table in self.tables])
        self.choice.setCurrentIndex(index)

    @property
    def table(self) -> SizeTable:
        """The chosen size table."""
        return self.tables[max(self.choice.currentIndex(), 0)]

    def _choose_for(self, person: Person) -> None:
        """For another wearer, begin with the table that lies nearest."""
        if person.name != self._of:
            self._of = person.name
            fits = [
                (fit.distance / len(fit.off), index)
                for index, table in enumerate(self.tables)
                if (fit := nearest_size(table, person.measures)) is not None
            ]
            self.choice.setCurrentIndex(min(fits)[1] if fits else 0)

    def refresh(self) -> None:
        """Show the document on this page."""
        self._choose_for(self.bench.document.person)
        table, unit, person = self.table, self.bench.unit, self.bench.document.person
        self.source.setText(table.source[:1].upper() + table.source[1:] + ".")
        names = [f"{size.name}{f' ({size.letter})' if size.letter else ''}" for size in table.sizes]
        if [self.start_from.itemText(i) for i in range(self.start_from.count())] != names:
            self.start_from.clear()
            self.start_from.addItems(names)
            self._offered_for = ""
        empty(self.grid)
        fit = nearest_size(table, person.measures)
        if fit is not None and self._offered_for != person.name:  # begin at the wearer's own, then leave it alone
            self._offered_for = person.name
            self.start_from.setCurrentIndex(table.sizes.index(fit.size))
        if fit is None:
            wanted = ", ".join(MEASURES[code].label.lower() for code in table.codes)
            self.nearest.setText("")
            self.said.setText(f"To find {person.name}'s size, measure at least one of: {wanted}.")
            return
        letter = f", letter {fit.size.letter}" if fit.size.letter else ""
        self.nearest.setText(f"Nearest: {fit.size.name}{letter}")
        largest = max(fit.off, key=lambda code: abs(fit.off[code]))
        off = fit.off[largest]
        self.said.setText(
            f"{person.name} is exactly this size."
            if abs(off) < 1
            else f"The largest difference is at the {MEASURES[largest].label.lower()}: {person.name} is "
            f"{format_length(abs(off), unit, with_unit=True)} {'larger' if off > 0 else 'smaller'} there."
        )
        for column, words in enumerate(("", "size", person.name[:9], "off by")):
            self.grid.addWidget(label(words, "faint"), 0, column)
        for row, (code, off) in enumerate(fit.off.items(), start=1):
            self.grid.addWidget(label(MEASURES[code].label, wrap=True), row, 0)
            self.grid.addWidget(label(show_measure(code, fit.size.measures[code], unit)), row, 1)
            self.grid.addWidget(label(show_measure(code, person.measures[code], unit)), row, 2)
            self.grid.addWidget(label(format_change(off, unit), "heading"), row, 3)

    def _add(self) -> None:
        size = self.table.sizes[max(self.start_from.currentIndex(), 0)]
        taken = {person.name for person in self.bench.document.people}
        person = person_of_size(self.table, size, date=today())
        person = person.model_copy(update={"name": free_name(person.name[:80], taken)})
        if self.bench.edit(f"Start from {person.name}", lambda d: edits.add_person(d, person)):
            self.bench.said.emit(f"{person.name} is added; the lengths are estimated until you measure.")

    def _ask_own(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A size table", "", "CSV (*.csv *.tsv *.txt)")
        if name:
            self.take_table(Path(name))

    def take_table(self, path: Path) -> None:
        """Use a table of one's own; what is wrong with it is said."""
        try:
            table = read_sizes(read_text(path), path.stem[:40] or "Own", self.bench.unit, place=path.name)
        except InputError as error:
            self.bench.said.emit(str(error))
            return
        self.tables = [*(old for old in self.tables if old.name != table.name), table]
        self._fill()
        self.choice.setCurrentIndex(len(self.tables) - 1)
        self.refresh()
