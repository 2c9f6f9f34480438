"""Growth: how long it should fit a growing wearer, what is allowed for, until about when that lasts."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QSpinBox, QVBoxLayout, QWidget

from caddet.core.body.growth import AVERAGES, age, fits_until, gains, height_after, still_grows
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import show_measure
from caddet.core.lengths import format_change
from caddet.core.recipe import edits
from caddet.core.recipe.registry import block_named
from caddet.desk.clock import shown_month, today
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Choices, label

if TYPE_CHECKING:
    from caddet.desk.stations.measure import MeasureStation

SCHOOLS = {
    "chart": "What the average child of this age gains, in proportion to this child's height.",
    "inch": "The plain rule: an inch here and there, a quarter of one at neck, arm and shoulder, whatever the age.",
}


class GrowthPage(QWidget):
    """Birth month, months to last, school; and what comes of it."""

    def __init__(self, station: MeasureStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        row = QHBoxLayout()
        row.addWidget(label("Born in", "heading"))
        self.born = QLineEdit()
        self.born.setPlaceholderText("2016-03")
        self.born.setAccessibleName("Birth month, such as 2016-03")
        self.born.editingFinished.connect(self._born)
        row.addWidget(self.born, 1)
        column.addLayout(row)
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        column.addWidget(self.wrong)
        row = QHBoxLayout()
        row.addWidget(label("Should last", "heading"), 1)
        self.months = QSpinBox()
        self.months.setRange(0, 60)
        self.months.setSuffix(" months")
        self.months.setSpecialValueText("no growth")
        self.months.setAccessibleName("Months it should last")
        self.months.valueChanged.connect(self._months)
        row.addWidget(self.months)
        column.addLayout(row)
        self.school = Choices("School of growth", (("chart", "By the chart"), ("inch", "An inch here and there")))
        self.school.chosen.connect(self._school)
        column.addWidget(self.school)
        self.school_words = label("", "faint", wrap=True)
        column.addWidget(self.school_words)
        self.until = label("", "value", wrap=True)
        column.addWidget(self.until)
        self.said = label("", "why", wrap=True)
        column.addWidget(self.said)
        self.grid = QGridLayout()
        self.grid.setColumnStretch(0, 1)
        self.grid.setHorizontalSpacing(10)
        column.addLayout(self.grid)

    def refresh(self) -> None:
        """Show the document on this page."""
        person, unit = self.bench.document.person, self.bench.unit
        if not self.born.isModified():
            self.born.setText(person.born)
        self.months.blockSignals(True)
        self.months.setValue(person.growth.months)
        self.months.blockSignals(False)
        self.school.show_choice(person.growth.school)
        self.school_words.setText(SCHOOLS[person.growth.school])
        empty(self.grid)
        years = age(person)
        if years is None:
            self.until.setText("")
            self.said.setText("Measure the height first: all growth is reckoned from it.")
            return
        if not still_grows(person):
            self.until.setText("")
            self.said.setText(f"{person.name} is taken as grown. For a growing wearer, give the birth month.")
            return
        of_age = f"{years / 12:.1f} years old" if person.born else f"as tall as the average at {years / 12:.0f} years"
        if not person.growth.months:
            self.until.setText("")
            self.said.setText(f"{person.name} is {of_age}. Say how many months it should last. {AVERAGES}")
            return
        block = block_named(self.bench.document.recipe.block)
        codes = tuple(dict.fromkeys(["height", *block.needs, *block.uses, *person.measures]))
        body = tuple(code for code in codes if code != "height" or person.growth.school == "chart")
        until = fits_until(person, body)
        self.until.setText(
            f"Fits until about {shown_month(until)}" if until else "Date the measures to see until when it fits"
        )
        after = height_after(person, person.growth.months)
        expected = f" By then about {show_measure('height', after, unit, with_unit=True)} tall." if after else ""
        self.said.setText(f"{person.name} is {of_age}.{expected} {AVERAGES}")
        for index, words in enumerate(("", "now", "allowed", "lasts")):
            self.grid.addWidget(label(words, "faint"), 0, index)
        for row, gain in enumerate(gains(person, codes), start=1):
            self.grid.addWidget(label(MEASURES[gain.code].label, wrap=True), row, 0)
            self.grid.addWidget(label(show_measure(gain.code, gain.now, unit)), row, 1)
            self.grid.addWidget(label(format_change(gain.gain, unit), "heading"), row, 2)
            self.grid.addWidget(label(f"{gain.months_lasting} mo"), row, 3)

    def _grow(self, deed: str, **changes: object) -> None:
        person = self.bench.document.person
        growth = {**person.growth.model_dump(), **changes}
        self.bench.edit(deed, lambda d: edits.change_person(d, d.wearer, growth=growth))

    def _months(self, months: int) -> None:
        self._grow("Months it should last", months=months)

    def _school(self, school: str) -> None:
        self._grow("School of growth", school=school)

    def _born(self) -> None:
        text = self.born.text().strip()
        if not self.born.isModified():
            return
        wrong = ""
        if text and not re.fullmatch(r"\d{4}-(0[1-9]|1[0-2])", text):
            wrong = f"“{text[:20]}” is not a birth month; expected one such as 2016-03."
        elif text > today()[:7]:
            wrong = f"{text} lies in the future; expected a month that has been."
        elif text and text < "1900":
            wrong = f"{text} is too long ago; expected a month from 1900 on."
        self.wrong.setText(wrong)
        self.wrong.setVisible(bool(wrong))
        if not wrong:
            self.born.setModified(False)
            self.bench.edit("Birth month", lambda d: edits.change_person(d, d.wearer, born=text))
