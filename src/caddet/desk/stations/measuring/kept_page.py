"""Kept: garments that fit the wearer, and what is always changed for them."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from caddet.core.body.kept import read_adjustment, read_liked
from caddet.core.body.measures import MEASURES
from caddet.core.errors import InputError
from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Row, label

if TYPE_CHECKING:
    from caddet.desk.stations.measure import MeasureStation


class KeptPage(QWidget):
    """Two lists and a line to type for each; a click on what is kept takes it out, and undo brings it back."""

    def __init__(self, station: MeasureStation) -> None:
        super().__init__()
        self.bench = station.bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.garment = self._line("Garments that fit", "grey trousers: hip 104, thigh 66", self._add_garment, column)
        column.addWidget(label("Measured flat and doubled. Plan offers each as a way of fitting.", "faint", wrap=True))
        self.garments = QVBoxLayout()
        column.addLayout(self.garments)
        self.change = self._line("Always changed", "torso longer: 2, since always", self._add_change, column)
        column.addWidget(label("Said again with every new garment of theirs.", "faint", wrap=True))
        self.changes = QVBoxLayout()
        column.addLayout(self.changes)
        self.wrong = label("", "wrong", wrap=True)
        column.addWidget(self.wrong)

    def _line(self, words: str, example: str, add: object, column: QVBoxLayout) -> QLineEdit:
        assert callable(add)
        column.addWidget(label(words, "whyhead"))
        field = QLineEdit()
        field.setPlaceholderText(example)
        field.setAccessibleName(f"{words}, such as {example}")
        field.returnPressed.connect(add)
        column.addWidget(field)
        return field

    def refresh(self) -> None:
        """Show the document on this page."""
        person, unit = self.bench.document.person, self.bench.unit
        empty(self.garments)
        empty(self.changes)
        for liked in person.liked:
            girths = ", ".join(
                f"{MEASURES[code].label.lower().removesuffix(' girth')} {format_length(mm, unit)}"
                for code, mm in liked.girths.items()
            )
            row = Row(liked.name, girths)
            row.setToolTip("Take it out")
            row.chosen.connect(
                partial(self._keep, f"Take out {liked.name}", liked=tuple(o for o in person.liked if o != liked))
            )
            self.garments.addWidget(row)
        for one in person.adjustments:
            row = Row(f"{one.what}: {format_length(one.amount, unit, sign=True, with_unit=True)}", one.reason)
            row.setToolTip("Take it out")
            row.chosen.connect(
                partial(
                    self._keep, f"Take out {one.what}", adjustments=tuple(o for o in person.adjustments if o != one)
                )
            )
            self.changes.addWidget(row)

    def _keep(self, words: str, **changes: object) -> None:
        name = self.bench.document.person.name
        self.wrong.setText("")
        self.bench.edit(words, lambda d: edits.change_person(d, name, **changes))

    def _add_garment(self) -> None:
        try:
            liked = read_liked(self.garment.text(), self.bench.unit)
        except InputError as error:
            self.wrong.setText(told(str(error), self.bench.unit))
            return
        self.garment.clear()
        others = tuple(one for one in self.bench.document.person.liked if one.name != liked.name)
        self._keep(f"Keep {liked.name}", liked=(*others, liked))

    def _add_change(self) -> None:
        try:
            change = read_adjustment(self.change.text(), self.bench.unit)
        except InputError as error:
            self.wrong.setText(told(str(error), self.bench.unit))
            return
        self.change.clear()
        others = tuple(one for one in self.bench.document.person.adjustments if one.what != change.what)
        self._keep(f"Keep: {change.what}", adjustments=(*others, change))
