"""The header: the project, the finder, for whom and of what, units and light."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QWidget

from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.desk.opening import HEADER
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Choices, hint, label
from caddet.desk.workbench import Workbench


class Header(QWidget):
    """One row along the top."""

    find_wanted = pyqtSignal()
    project = pyqtSignal()

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self.setObjectName("header")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(LOOK.px(HEADER))
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 12, 4)
        row.setSpacing(9)
        row.addWidget(label("Caddet", "wordmark"))
        self.title = QPushButton()
        self.title.setToolTip("The project: open, new, copy, export")
        self.title.setAccessibleName("Project")
        self.title.clicked.connect(self.project)
        row.addWidget(self.title)
        self.state: QLabel = label("", "faint")
        row.addWidget(self.state)
        row.addStretch(1)
        self.finder = QPushButton("Find anything…    Ctrl K")
        self.finder.setObjectName("finder")
        self.finder.setMinimumWidth(200)
        self.finder.setAccessibleName("Find, Ctrl K")
        self.finder.clicked.connect(self.find_wanted)
        row.addWidget(self.finder, 2)
        row.addStretch(1)
        self.person, self.cloth = QPushButton(), QPushButton()
        self.person.clicked.connect(self._people)
        self.cloth.clicked.connect(self._cloths)
        row.addWidget(self.person)
        row.addWidget(self.cloth)
        self.units = Choices("Unit", (("cm", "cm"), ("in", "in")))
        self.units.chosen.connect(lambda unit: bench.set_unit("in" if unit == "in" else "cm"))
        row.addWidget(self.units)
        self.light = QPushButton()
        self.light.clicked.connect(lambda: LOOK.switch(not LOOK.evening))
        row.addWidget(self.light)
        self.refresh()

    def refresh(self) -> None:
        """Show the title, whether it is saved, the wearer and the cloth."""
        document, unit = self.bench.document, self.bench.unit
        self.title.setText(f"{document.title} ▾")
        if self.bench.read_only:
            self.state.setText("read only")
        elif self.bench.save_error:
            self.state.setText("not saved!")
            self.state.setToolTip(hint(self.bench.save_error))
        elif self.bench.path is None:
            self.state.setText("not kept in a file yet")
        else:
            self.state.setText("saving…" if self.bench.unsaved else "saved")
        person = document.person
        hip = person.measures.get("hip")
        self.person.setText(f"{person.name}  hip {format_length(hip, unit)}" if hip else person.name)
        self.person.setAccessibleName(f"For {person.name}")
        cloth = document.chosen_cloth
        self.cloth.setText(f"{cloth.name}  {format_length(cloth.width, unit)}")
        self.cloth.setAccessibleName(f"Of {cloth.name}")
        self.units.show_choice(unit)
        self.light.setText("Day" if LOOK.evening else "Evening")
        self.light.setAccessibleName("Switch to the day table" if LOOK.evening else "Switch to the evening table")

    def _people(self) -> None:
        menu = QMenu(self)
        for person in self.bench.document.people:
            action = menu.addAction(person.name)
            if action is not None:
                action.setCheckable(True)
                action.setChecked(person.name == self.bench.document.wearer)
                action.triggered.connect(
                    lambda _=False, n=person.name: self.bench.edit(f"For {n}", lambda d: edits.choose_wearer(d, n))
                )
        menu.popup(self.person.mapToGlobal(self.person.rect().bottomLeft()))

    def _cloths(self) -> None:
        menu = QMenu(self)
        for cloth in self.bench.document.cloths:
            action = menu.addAction(f"{cloth.name}, {format_length(cloth.width, self.bench.unit, with_unit=True)}")
            if action is not None:
                action.setCheckable(True)
                action.setChecked(cloth.name == self.bench.document.cloth)
                action.triggered.connect(
                    lambda _=False, n=cloth.name: self.bench.edit(f"Of {n}", lambda d: edits.choose_cloth(d, n))
                )
        menu.popup(self.cloth.mapToGlobal(self.cloth.rect().bottomLeft()))
