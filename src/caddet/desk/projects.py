"""Projects: opening, beginning, copying and leaving them, so that nothing is lost on the way."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from caddet.core.demo import demo_document, new_document, title_of
from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.project import Opened, no_pictures, open_project, save_project
from caddet.core.practice import practice_document
from caddet.desk.places import demo_path
from caddet.desk.table.table import Table
from caddet.desk.widgets.questions import SetAsideList, ask_changed_elsewhere, ask_unsaved, told_on_opening
from caddet.desk.workbench import Workbench


class Projects(QObject):
    """The projects of one window; ``say`` is its passing word."""

    begun = pyqtSignal()
    practising = pyqtSignal()

    def __init__(self, window: QWidget, bench: Workbench, table: Table, say: Callable[[str], None]) -> None:
        super().__init__(window)
        self.window, self.bench, self.table, self.say = window, bench, table, say
        self.asking = False

    def open_path(self, path: Path) -> None:
        """Open a project; what can't be read is said, and the present one stays."""
        try:
            opened = open_project(path)
        except InputError as error:
            self.say(str(error))
            return
        if not self.may_leave():
            return
        if self.bench.path is not None and os.path.exists(path) and path.samefile(self.bench.path):
            opened = open_project(path)  # what was just saved into it
        self.show(opened, path)

    def show(self, opened: Opened, path: Path) -> None:
        """Put an opened project on the bench, and say and show what could not be read of it."""
        self.table.forget_fit()
        self.bench.load(opened, path)
        self.tell_of(opened, path)

    def tell_of(self, opened: Opened, path: Path) -> None:
        """Say what has to be said of a project just opened; what was set aside is shown in full."""
        for words in told_on_opening(self.bench, opened, path):
            self.say(words)
        if opened.findings:
            self.set_aside = SetAsideList(self.window, opened, path)
            self.set_aside.show()

    def may_leave(self) -> bool:
        """Whether the project on the bench is saved, or the user has said what is to become of it."""
        while not self.bench.settled():
            if not self.bench.save_error and not self.bench.read_only:
                continue  # it was changed elsewhere, and that has just been answered
            match ask_unsaved(self.window, self.bench):
                case "again":
                    continue
                case "copy":
                    name, _ = QFileDialog.getSaveFileName(
                        self.window, "Keep a copy elsewhere", str(Path.home() / "copy.caddet"), "Caddet (*.caddet)"
                    )
                    if not name:
                        continue
                    try:
                        self.bench.copy_to(_with_ending(Path(name)))
                    except CaddetError as error:
                        self.say(str(error))
                case "without":
                    self.bench.give_up_unsaved()
                    return True
                case _:
                    return False
        return True

    def changed_elsewhere(self) -> None:
        """Another program changed the file: show the difference, and let both be kept."""
        if self.asking:
            return
        self.asking = True
        try:
            match ask_changed_elsewhere(self.window, self.bench):
                case "mine":
                    self.bench.keep_mine()
                case "theirs":
                    self.table.forget_fit()
                    self.bench.take_theirs()
        finally:
            self.asking = False

    def ask_open(self) -> None:
        """Ask for a project and open it."""
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a project", str(self._folder()), "Caddet (*.caddet)")
        if name:
            self.open_path(Path(name))

    def ask_new(self) -> None:
        """Ask where a new project goes, and begin it."""
        name, _ = QFileDialog.getSaveFileName(
            self.window, "New project", str(self._folder() / "skirt.caddet"), "Caddet (*.caddet)"
        )
        if name:
            self.new_at(_with_ending(Path(name)))

    def new_at(self, path: Path) -> None:
        """Begin a new project in a file."""
        if not self.may_leave():
            return
        try:
            save_project(new_document(title_of(path)), path, no_pictures)
            opened = open_project(path)
        except CaddetError as error:
            self.say(str(error))
            return
        self.show(opened, path)
        self.begun.emit()

    def practise(self) -> None:
        """Open the practice pieces, as they come: a pair that does not meet."""
        path = demo_path().with_name("Tower tabard.caddet")
        if not self.may_leave():
            return
        try:
            if not path.exists():
                save_project(practice_document(), path, no_pictures)
            opened = open_project(path)
        except CaddetError as error:
            self.say(str(error))
            return
        self.show(opened, path)
        self.practising.emit()

    def ask_copy(self) -> None:
        """Ask where a copy goes, and go on in it."""
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Keep a copy", str(self._folder() / "copy.caddet"), "Caddet (*.caddet)"
        )
        if name:
            self.copy_to(_with_ending(Path(name)))

    def copy_to(self, path: Path) -> None:
        """Write a copy and go on with it."""
        try:
            self.bench.copy_to(path)
        except CaddetError as error:
            self.say(str(error))
            return
        self.say(f"Kept as {path.name}; from here on you work in the copy.")

    def demo_anew(self) -> None:
        """The demo as it ships, in place of the one that was worked on."""
        if not self.may_leave():
            return
        try:
            path = demo_path()
            save_project(demo_document(), path, no_pictures)
            opened = open_project(path)
        except CaddetError as error:
            self.say(str(error))
            return
        self.show(opened, path)

    def _folder(self) -> Path:
        return self.bench.path.parent if self.bench.path else Path.home()

    def save_again(self) -> None:
        """Try to save again what could not be saved, and ask what to do when that fails."""
        if self.bench.conflict:
            self.changed_elsewhere()
        elif self.may_leave() and not self.bench.save_error:
            self.say("Saved.")


def _with_ending(path: Path) -> Path:
    return path if path.suffix == ".caddet" else path.with_name(path.name + ".caddet")
