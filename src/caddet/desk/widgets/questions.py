"""The few questions that can't be undone: unsaved edits, a file changed elsewhere; and what was set aside."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QMessageBox, QPlainTextEdit, QVBoxLayout, QWidget

from caddet.core.formats.project import Opened
from caddet.core.recipe.difference import differences
from caddet.desk.widgets.fields import button, label
from caddet.desk.workbench import Workbench

Unsaved = Literal["again", "copy", "without", "stay"]
Elsewhere = Literal["mine", "theirs", "later"]


def told_on_opening(bench: Workbench, opened: Opened, file: Path) -> list[str]:
    """What has to be said of a project that was just opened."""
    said = [finding.sentence for finding in opened.findings[:1]]
    if len(opened.findings) > 1:
        said = [f"{len(opened.findings)} things in {file.name} could not be read and were set aside beside it."]
    if bench.read_only:
        said.append(f"{file.name} is only read, because {bench.read_only_why}; keep a copy to change it.")
    return said


def ask_unsaved(parent: QWidget, bench: Workbench) -> Unsaved:
    """What is to become of edits that can't be saved."""
    box = QMessageBox(parent)
    box.setWindowTitle("Not saved")
    box.setText("Your last edits are not saved.")
    why = bench.save_error or f"This project is only read, because {bench.read_only_why}."
    box.setInformativeText(f"{why}\n\nIf you go on without them they are lost.")
    answers: dict[object, Unsaved] = {}
    if not bench.read_only:
        answers[box.addButton("Try to save again", QMessageBox.ButtonRole.AcceptRole)] = "again"
    copy = box.addButton("Keep a copy elsewhere…", QMessageBox.ButtonRole.ActionRole)
    answers[copy] = "copy"
    answers[box.addButton("Go on without them", QMessageBox.ButtonRole.DestructiveRole)] = "without"
    stay = box.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
    box.setEscapeButton(stay)
    box.setDefaultButton(copy)
    box.exec()
    return answers.get(box.clickedButton(), "stay")


def ask_changed_elsewhere(parent: QWidget, bench: Workbench) -> Elsewhere:
    """What is to become of two versions of one project."""
    theirs = bench.theirs()
    if theirs is None:
        lines: tuple[str, ...] = ("The other version can’t be read as a project.",)
    else:
        lines = differences(bench.history.document, theirs, bench.unit) or ("Nothing in the project itself differs.",)
    box = QMessageBox(parent)
    box.setWindowTitle("Changed elsewhere")
    name = bench.path.name if bench.path is not None else "This project"
    box.setText(f"{name} was changed elsewhere.")
    shown = "\n".join(f"•  {line}" for line in lines)
    box.setInformativeText(f"{shown}\n\nBoth versions are kept, whichever you go on with.")
    answers: dict[object, Elsewhere] = {
        box.addButton("Go on with mine", QMessageBox.ButtonRole.AcceptRole): "mine",
    }
    if theirs is not None:
        answers[box.addButton("Go on with the other", QMessageBox.ButtonRole.ActionRole)] = "theirs"
    later = box.addButton("Decide later", QMessageBox.ButtonRole.RejectRole)
    box.setEscapeButton(later)
    box.exec()
    return answers.get(box.clickedButton(), "later")


class SetAsideList(QDialog):
    """What could not be read of a project, each with its place, and where it is kept."""

    def __init__(self, parent: QWidget, opened: Opened, path: Path) -> None:
        super().__init__(parent)
        self.setWindowTitle("What could not be read")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(560, 360)
        column = QVBoxLayout(self)
        count = len(opened.findings)
        head = f"{path.name}: {count} thing{'' if count == 1 else 's'} could not be read. All the rest is here."
        column.addWidget(label(head, "heading", wrap=True))
        column.addWidget(label("Nothing is thrown away: what was set aside is kept in a file beside the project, so that it can be "
                               "looked up and typed in again.", "faint", wrap=True))  # fmt: skip
        self.list = QPlainTextEdit("\n\n".join(finding.sentence for finding in opened.findings))
        self.list.setReadOnly(True)
        self.list.setAccessibleName("What could not be read")
        column.addWidget(self.list, 1)
        column.addWidget(button("Go on", self.close))
