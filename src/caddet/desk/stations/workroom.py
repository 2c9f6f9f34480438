"""Workroom: the people one sews for, beyond any one project."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QItemSelectionModel, Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QProgressBar,
)

from caddet.core.body.doubts import doubts
from caddet.core.body.figure.drawing import draw_view
from caddet.core.body.person import Person
from caddet.core.errors import CaddetError, Finding, Stopped
from caddet.core.files.writing import write_whole
from caddet.core.formats.people_csv import parse_people, read_people, write_people
from caddet.core.formats.people_store import free_name, keep_photo
from caddet.core.lengths import Unit
from caddet.core.recipe import edits
from caddet.core.sentences import told
from caddet.desk.clock import today
from caddet.desk.pictures import photograph
from caddet.desk.roster import Entry, Roster, merged
from caddet.desk.stations.base import Station, Status
from caddet.desk.table.figure_item import FigureItem
from caddet.desk.tasks import Task
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Choices, button, label
from caddet.desk.widgets.people_import import PeopleImport

MOST_STANDING = 24
MOST_DOUBTED = 1000  # people of a long sheet whose values are looked at before they are taken in
NAME = Qt.ItemDataRole.UserRole


class WorkroomPlace(Station):
    """Everybody in a list and in a row on the table."""

    key, name, own_view = "workroom", "Workroom", True
    why_head = "What is kept here?"
    why = (
        "People with their readings, notes and a photograph, for every project to come. A project holds copies of those it "
        "is made for, so that an old project stays as it was when somebody is measured anew."
    )

    def build(self) -> None:
        """Build the page, once."""
        self.roster = Roster(self.bench.picture)
        self.task: Task | None = None
        self._read_again: Callable[[Unit, Callable[[], bool]], tuple[list[Person], list[Finding]]] | None = None
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a name")
        self.search.setAccessibleName("Find a name")
        self.search.textChanged.connect(lambda _: self.refill())
        self.shelf = Choices("Which people", (("use", "In use"), ("archived", "Archived")))
        self.shelf.chosen.connect(self._shelf)
        self.shelf.show_choice("use")
        self.archived = False
        self.body.addWidget(self.search)
        self.body.addWidget(self.shelf)
        self.list = QListWidget()
        self.list.setAccessibleName("People")
        self.list.setSelectionMode(QListWidget.SelectionMode.ExtendedSelection)
        self.list.setFixedHeight(LOOK.px(190))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemSelectionChanged.connect(self._picked)
        self.body.addWidget(self.list)
        self.new_name = QLineEdit()
        self.new_name.setPlaceholderText("Name of somebody new, then Enter")
        self.new_name.setAccessibleName("Name of somebody new")
        self.new_name.returnPressed.connect(self._add)
        self.body.addWidget(self.new_name)
        self.take_in = button("Sew for them in this project", self._take_in)
        self.take_out = button("Take out of this project", self._take_out)
        self.keep = button("Keep in the Workroom", self._keep)
        for one in (self.take_in, self.keep, self.take_out):
            self.body.addWidget(one)
        row = QHBoxLayout()
        self.copy = button("Copy", self._copy)
        self.put_away = button("Archive", partial(self._archive, True))
        self.bring_back = button("Bring back", partial(self._archive, False))
        for one in (self.copy, self.put_away, self.bring_back):
            row.addWidget(one)
        self.body.addLayout(row)
        self._build_details()
        self._build_table_ways()

    def _build_details(self) -> None:
        self.own_name = QLineEdit()
        self.own_name.setAccessibleName("Name")
        self.own_name.editingFinished.connect(self._rename)
        self.own_note = QPlainTextEdit()
        self.own_note.setAccessibleName("Notes: posture, preferences")
        self.own_note.setPlaceholderText("Notes: posture, preferences")
        self.own_note.setFixedHeight(LOOK.px(70))
        self.own_note.setTabChangesFocus(True)
        self.note_kept = button("Keep the notes", self._note, "link")
        self.photo = label()
        self.photo.setAccessibleName("Photograph")
        self.photo_button = button("Photograph…", self._ask_photo, "link")
        self.photo_away = button("Without photograph", partial(self._set_photo, ""), "link")
        self.details_head = label("", "heading")
        for one in (self.details_head, self.own_name, self.own_note, self.note_kept, self.photo):
            self.body.addWidget(one)
        row = QHBoxLayout()
        row.addWidget(self.photo_button)
        row.addWidget(self.photo_away)
        row.addStretch(1)
        self.body.addLayout(row)

    def _build_table_ways(self) -> None:
        self.body.addWidget(label("With a spreadsheet", "heading"))
        self.report = PeopleImport()
        self.report.take.connect(self._take_read)
        self.report.leave.connect(self.report.hide)
        self.report.unit_chosen.connect(lambda unit: self._read("in" if unit == "in" else "cm"))
        self.body.insertWidget(0, self.report)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.hide()
        self.body.addWidget(self.bar)
        self.stop = button("Stop", self._stop)
        self.stop.hide()
        self.body.addWidget(self.stop)
        for words, act in (
            ("People from a CSV file…", self._ask_csv),
            ("People to a CSV file…", self._ask_write),
            ("Paste from a spreadsheet", self.paste),
            ("Copy for a spreadsheet", self.copy_cells),
        ):
            self.body.addWidget(button(words, act, "link"))
        for keys, act in (
            (QKeySequence.StandardKey.Paste, self.paste),
            (QKeySequence.StandardKey.Copy, self.copy_cells),
        ):
            shortcut = QShortcut(QKeySequence(keys), self.list)
            shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
            shortcut.activated.connect(act)

    # --- who is there -------------------------------------------------------------------------

    def enter(self) -> None:
        """It is shown now."""
        self.roster.load()
        super().enter()
        for finding in self.roster.findings:
            self.bench.said.emit(finding.sentence)

    def entries(self) -> list[Entry]:
        """Those in the Workroom and the project whom the search finds; archived ones when they are asked for."""
        return self.roster.entries(self.bench.document.people, archived=self.archived, find=self.search.text().strip())

    def chosen(self) -> list[Entry]:
        """The people chosen in the list."""
        names = {item.data(NAME) for item in self.list.selectedItems()}
        return [entry for entry in self.entries() if entry.name in names]

    def choose(self, names: set[str]) -> None:
        """Choose people in the list."""
        self.list.blockSignals(True)
        self.list.clearSelection()
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(NAME) in names:
                item.setSelected(True)
                self.list.setCurrentItem(item, QItemSelectionModel.SelectionFlag.Select)
        self.list.blockSignals(False)
        self._picked()

    def refill(self) -> None:
        """Show everybody anew; who was chosen stays chosen."""
        names = {item.data(NAME) for item in self.list.selectedItems()}
        entries = self.entries()
        self.list.blockSignals(True)
        self.list.clear()
        for entry in entries:
            item = QListWidgetItem(f"{entry.name}\n{entry.words}")
            item.setData(NAME, entry.name)
            self.list.addItem(item)
        self.list.blockSignals(False)
        self.aside.setText(f"{len(entries)} people" if len(entries) != 1 else "1 person")
        if not names & {entry.name for entry in entries} and entries:
            names = {self.bench.document.wearer} if not self.archived else {entries[0].name}
        self.choose(names)

    def refresh(self) -> None:
        """List everyone who is kept or in the project."""
        self.refill()

    def _shelf(self, shelf: str) -> None:
        self.archived = shelf == "archived"
        self.refill()

    def _picked(self) -> None:
        chosen = self.chosen()
        one = chosen[0] if len(chosen) == 1 else None
        self.take_in.setEnabled(
            any(entry.here is None or (entry.kept and entry.kept.person != entry.here) for entry in chosen)
        )
        self.take_in.setText(
            "Take the Workroom's values"
            if one and one.here and one.kept and one.kept.person != one.here
            else "Sew for them in this project"
        )
        self.keep.setEnabled(
            any(entry.here is not None and (entry.kept is None or entry.kept.person != entry.here) for entry in chosen)
        )
        self.take_out.setEnabled(any(entry.here is not None for entry in chosen))
        self.copy.setEnabled(one is not None)
        self.put_away.setVisible(not self.archived)
        self.put_away.setEnabled(bool(chosen))
        self.bring_back.setVisible(self.archived)
        self.bring_back.setEnabled(bool(chosen))
        for widget in (self.own_name, self.own_note, self.note_kept, self.photo_button):
            widget.setEnabled(one is not None)
        self.details_head.setText(f"About {one.name}" if one else f"{len(chosen)} chosen")
        self.own_name.setText(one.name if one else "")
        self.own_note.setPlainText(one.person.note if one else "")
        picture = photograph(self.bench.picture(one.person.photo)) if one else None
        self.photo.setVisible(picture is not None)
        self.photo_away.setVisible(picture is not None)
        if picture is not None:
            self.photo.setPixmap(picture.scaledToHeight(LOOK.px(150), Qt.TransformationMode.SmoothTransformation))
        if self.active:
            self.draw()

    def draw(self) -> None:
        """Everybody in a row, each as tall as they are."""
        entries = self.entries()
        names = {item.data(NAME) for item in self.list.selectedItems()}
        shown = entries[:MOST_STANDING]
        items: list[FigureItem] = []
        x, baseline, tallest = 0.0, 0.0, 0.0
        for index, entry in enumerate(shown):
            drawing = draw_view(entry.person, "front")
            wide = 0.46 * drawing.height
            if index and index % 12 == 0:
                x, baseline = 0.0, baseline + tallest + 420.0
            item = FigureItem(
                drawing, words=entry.name, strong=entry.name in names, act=partial(self.choose, {entry.name})
            )
            item.setPos(x + wide / 2, baseline)
            x += wide + 60.0
            tallest = max(tallest, drawing.height)
            items.append(item)
        self.table.show_own(items, fit=True)
        more = f"{len(entries) - len(shown)} more are in the list." if len(entries) > len(shown) else ""
        self.table.say_beside(
            more if entries else "Nobody here yet: type a name, or take people in from a spreadsheet."
        )

    # --- verbs --------------------------------------------------------------------------------

    def _try(self, act: Callable[[], object]) -> bool:
        try:
            act()
        except (CaddetError, ValueError) as error:
            self.bench.said.emit(str(error))
            self.refill()
            return False
        return True

    def _add(self) -> None:
        name = self.new_name.text().strip()[:80]
        taken = {
            entry.name
            for archived in (False, True)
            for entry in self.roster.entries(self.bench.document.people, archived=archived)
        }
        if name in taken:
            self.bench.said.emit(f"There is already someone called {name}; give another name.")
        elif name and self._try(lambda: self.roster.keep(Person(name=name))):
            self.new_name.clear()
            self.refill()
            self.choose({name})

    def _take_in(self) -> None:
        people = tuple(entry.kept.person for entry in self.chosen() if entry.kept is not None)
        words = people[0].name if len(people) == 1 else f"{len(people)} people"
        if people:
            self.bench.edit(f"Sew for {words}", lambda d: edits.take_in_people(d, people))

    def _take_out(self) -> None:
        """Out of this project; who was only there is kept in the Workroom first."""
        here = [entry for entry in self.chosen() if entry.here is not None]
        if self._try(partial(self.roster.keep_all, [entry.person for entry in here if entry.kept is None])):
            self._leave_project(here)

    def _keep(self) -> None:
        kept = [entry.here for entry in self.chosen() if entry.here is not None]
        if self._try(partial(self.roster.keep_all, kept)):
            self.bench.said.emit(f"Kept in the Workroom: {', '.join(person.name for person in kept[:5])}.")
            self.refill()

    def _copy(self) -> None:
        one = self.chosen()[0].person
        fresh = one.model_copy(update={"name": self.roster.free(one.name, self.bench.document.people)})
        if self._try(lambda: self.roster.keep(fresh)):
            self.refill()
            self.choose({fresh.name})

    def _archive(self, archived: bool) -> None:
        chosen = self.chosen()
        here = [entry for entry in chosen if entry.here is not None]
        if archived and here and not self._leave_project(here):
            return
        if self._try(partial(self.roster.archive_all, [entry.person for entry in chosen], archived)):
            self.refill()

    def _leave_project(self, entries: list[Entry]) -> bool:
        """Who is archived is not sewn for any more; undo brings them back to the project."""
        return all(
            self.bench.edit(f"Without {entry.name}", lambda d, n=entry.name: edits.take_out_person(d, n))  # type: ignore[misc]
            for entry in entries
        )

    def _change(self, deed: str, **changes: object) -> None:
        """Change what is kept about the one who is chosen, wherever they are."""
        chosen = self.chosen()
        if len(chosen) != 1:
            return
        entry = chosen[0]

        def both() -> None:
            if entry.kept is not None:
                fresh = Person.model_validate({**entry.kept.person.model_dump(), **changes})
                self.roster.rename(entry.name, fresh)
            if entry.here is not None:
                self.bench.edit(deed, lambda d: edits.change_person(d, entry.name, **changes))

        if self._try(both):
            self.refill()
            self.choose({str(changes.get("name", entry.name))})

    def _rename(self) -> None:
        name = self.own_name.text().strip()[:80]
        chosen = self.chosen()
        if not self.own_name.isModified() or len(chosen) != 1 or name == chosen[0].name:
            return
        self.own_name.setModified(False)
        if not name or name in {entry.name for entry in self.roster.entries(self.bench.document.people)}:
            self.bench.said.emit(f"There is already someone called {name}." if name else "A person needs a name.")
            self.own_name.setText(chosen[0].name)
            return
        self._change(f"{chosen[0].name} is called {name}", name=name)

    def _note(self) -> None:
        self._change("Notes", note=self.own_note.toPlainText()[:2000])

    def _ask_photo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A photograph", "", "Pictures (*.jpg *.jpeg *.png)")
        if name:
            self.take_photo(Path(name))

    def take_photo(self, path: Path) -> None:
        """Put a photograph to the one who is chosen."""
        self._try(lambda: self._set_photo(keep_photo(path)))

    def _set_photo(self, name: str) -> None:
        self._change("Photograph", photo=name)

    # --- spreadsheets -------------------------------------------------------------------------

    def _ask_csv(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "People from a CSV file", "", "CSV (*.csv *.tsv *.txt);;All files (*)"
        )
        if name:
            self.read_csv(Path(name))

    def read_csv(self, path: Path) -> None:
        """Read a file and show what is in it."""
        self._read_again = lambda unit, stopped: read_people(path, unit, gently=True, today=today(), stopped=stopped)
        self._read(self.bench.unit)

    def paste(self) -> None:
        """Read cells from the clipboard and show what is in them."""
        clipboard = QApplication.clipboard()
        text = clipboard.text() if clipboard is not None else ""
        self._read_again = lambda unit, stopped: parse_people(
            text, unit, "pasted", gently=True, today=today(), stopped=stopped
        )
        self._read(self.bench.unit)

    def _read(self, unit: Unit) -> None:
        reader = self._read_again
        if reader is None:
            return
        taken = {*self.roster.kept, *(person.name for person in self.bench.document.people)}

        def work(task: Task) -> tuple[list[Person], list[Finding], list[tuple[str, str]]]:
            people, findings = reader(unit, task.is_cancelled)
            doubted: list[tuple[str, str]] = []
            for person in people[:MOST_DOUBTED]:
                if task.cancelled:
                    raise Stopped
                doubted += [(person.name, told(one.sentence, unit)) for one in doubts(person)]
            return people, findings, doubted

        def show(answer: tuple[list[Person], list[Finding], list[tuple[str, str]]]) -> None:
            self._busy(False)
            self.report.show_read(*answer, taken, unit)
            self.scroller.verticalScrollBar().setValue(0)  # type: ignore[union-attr]  # it has one

        self._busy(True)
        self.task = self.bench.run(work, show, self._failed, lambda _: None)

    def _failed(self, error: Exception) -> None:
        self._busy(False)
        self.bench.said.emit(str(error))

    def _busy(self, busy: bool, steps: int = 0) -> None:
        self.bar.setRange(0, steps)
        self.bar.setVisible(busy)
        self.stop.setVisible(busy)
        if not busy:
            self.task = None

    def _stop(self) -> None:
        if self.task is not None:
            self.task.cancel()

    def _take_read(self) -> None:
        """Keep everybody that was read, off the main thread, for thousands take a while."""
        here = {person.name: person for person in self.bench.document.people}
        fresh: list[Person] = []
        names = {*self.roster.kept, *here}
        for person in self.report.people:
            if person.name not in names:
                fresh.append(person)
            elif self.report.same == "readings":
                kept = self.roster.kept.get(person.name)
                fresh.append(merged(kept.person if kept else here[person.name], person))
            else:
                name = free_name(person.name, names)
                names.add(name)
                fresh.append(person.model_copy(update={"name": name}))
        self.report.hide()

        def work(task: Task) -> int:
            for number, person in enumerate(fresh, start=1):
                if task.cancelled:
                    return number - 1
                self.roster.keep(person)
                task.report(number)
            return len(fresh)

        def done(number: int) -> None:
            self._busy(False)
            self.roster.load()
            self.refill()
            self.choose({person.name for person in fresh[:number]})
            self.bench.said.emit(
                f"{number} taken into the Workroom, and chosen: “Sew for them in this project” brings them here."
            )

        self._busy(True, len(fresh))
        self.task = self.bench.run(work, done, self._failed, lambda step: self.bar.setValue(int(step)))

    def _people_out(self) -> list[Person]:
        chosen = self.chosen()
        return [entry.person for entry in (chosen if len(chosen) > 1 else self.entries())]

    def _ask_write(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "People to a CSV file", "people.csv", "CSV (*.csv)")
        if name:
            self.write_csv(Path(name))

    def write_csv(self, path: Path) -> None:
        """Write those who are chosen (everybody shown when it is one) in the unit of the window."""
        people = self._people_out()
        if self._try(lambda: write_whole(path, write_people(people, self.bench.unit).encode(), private=True)):
            self.bench.said.emit(
                f"{len(people)} people written to {path.name}, in {'cm' if self.bench.unit == 'cm' else 'inches'}."
            )

    def copy_cells(self) -> None:
        """Put those who are chosen on the clipboard, as cells."""
        people = self._people_out()
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(write_people(people, self.bench.unit, tabs=True))
            self.bench.said.emit(
                f"{len(people)} people copied as cells, in {'cm' if self.bench.unit == 'cm' else 'inches'}."
            )

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        number = len(self.bench.document.people)
        return Status(f"{number} people here" if number != 1 else "1 person here")
