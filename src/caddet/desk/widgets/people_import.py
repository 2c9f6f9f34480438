"""What was read from a CSV file or a spreadsheet, with every remark, before it is taken in."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QListWidget, QVBoxLayout

from caddet.core.body.person import Person
from caddet.core.errors import Finding
from caddet.core.lengths import Unit
from caddet.desk.widgets.fields import Choices, button, label

MOST_SHOWN = 200


class PeopleImport(QFrame):
    """A report with two ways out: take them in, or leave it."""

    take = pyqtSignal()
    leave = pyqtSignal()
    unit_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("report")
        self.people: list[Person] = []
        self.same = "readings"
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 10, 10, 10)
        column.setSpacing(6)
        self.head = label("", "heading", wrap=True)
        column.addWidget(self.head)
        self.unit = Choices("Numbers without a unit are in", (("cm", "cm"), ("in", "inches")))
        self.unit.chosen.connect(self.unit_chosen)
        row = QHBoxLayout()
        row.addWidget(label("Bare numbers are", "faint"))
        row.addWidget(self.unit, 1)
        column.addLayout(row)
        self.remarks = QListWidget()
        self.remarks.setAccessibleName("Remarks on what was read")
        self.remarks.setWordWrap(True)
        self.remarks.setMinimumHeight(120)
        column.addWidget(self.remarks)
        self.same_head = label("", "faint", wrap=True)
        column.addWidget(self.same_head)
        self.same_choice = Choices(
            "Those with a name that is there", (("readings", "New readings"), ("others", "Other people"))
        )
        self.same_choice.chosen.connect(self._same)
        column.addWidget(self.same_choice)
        row = QHBoxLayout()
        self.take_button = button("Take them in", self.take.emit, "onward")
        row.addWidget(self.take_button)
        row.addWidget(button("Leave it", self.leave.emit))
        column.addLayout(row)
        self.hide()

    def _same(self, same: str) -> None:
        self.same = same

    def show_read(
        self, people: list[Person], findings: list[Finding], slips: list[tuple[str, str]], taken: set[str], unit: Unit
    ) -> None:
        """Show what was read, with the doubts (name, sentence); ``taken`` are the names that are there already."""
        self.people = people
        self.unit.show_choice(unit)
        known = [person.name for person in people if person.name in taken]
        sure = [finding for finding in findings if finding.code not in ("csv.blank",)]
        blanks = len(findings) - len(sure)
        self.head.setText(
            f"{len(people)} {'person' if len(people) == 1 else 'people'} read, {len(sure) + len(slips)} to look at"
        )
        self.remarks.clear()
        for finding in sure[:MOST_SHOWN]:
            self.remarks.addItem(f"{finding.place.rpartition('/')[2]}: {finding.sentence}")
        for name, sentence in slips[:MOST_SHOWN]:
            self.remarks.addItem(f"{name}: {sentence}")
        if blanks:
            self.remarks.addItem(f"{blanks} blank cells: estimated where they are needed, and marked.")
        self.remarks.setVisible(self.remarks.count() > 0)
        self.same_head.setText(
            f"{len(known)} of them {'has a name' if len(known) == 1 else 'have names'} that are there already: they are"
        )
        self.same_head.setVisible(bool(known))
        self.same_choice.setVisible(bool(known))
        self.same_choice.show_choice(self.same)
        self.show()
        self.take_button.setFocus()
