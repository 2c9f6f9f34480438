"""The few questions that can't be undone: unsaved edits, a file changed elsewhere; and what was set aside."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Literal, cast

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from caddet.core.formats.project import Opened
from caddet.core.recipe.difference import differences
from caddet.core.sentences import told
from caddet.desk.theme import LOOK
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


class Question(QDialog):
    """A question with its answers one below the other; Esc is the last of them, which changes nothing."""

    def __init__(
        self, parent: QWidget, title: str, head: str, words: str, answers: Sequence[tuple[str, str]], usual: str
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setModal(True)
        self.answer = answers[-1][0]
        self.words = f"{head} {words}"
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(8)
        column.addWidget(label(head, "heading", wrap=True))
        body = label(words, wrap=True)
        body.setMinimumWidth(LOOK.px(380))
        column.addWidget(body)
        column.addSpacing(6)
        self.buttons: dict[str, QPushButton] = {}
        for key, text in answers:
            one = button(text, partial(self._answered, key), "onward" if key == usual else "")
            one.setDefault(key == usual)
            column.addWidget(one)
            self.buttons[key] = one
        self.buttons[usual].setFocus()

    def _answered(self, key: str) -> None:
        self.answer = key
        self.accept()


def ask_unsaved(parent: QWidget, bench: Workbench) -> Unsaved:
    """What is to become of edits that can't be saved."""
    why = bench.save_error or f"This project is only read, because {bench.read_only_why}."
    ways: list[tuple[str, str]] = [("again", "Try to save again")] if not bench.read_only else []
    ways += [("copy", "Keep a copy elsewhere…"), ("without", "Go on without them"), ("stay", "Stay here")]
    question = Question(
        parent,
        "Not saved",
        "Your last edits are not saved.",
        f"{why}\n\nIf you go on without them they are lost.",
        ways,
        "copy",
    )
    question.exec()
    return cast(Unsaved, question.answer)


def ask_changed_elsewhere(parent: QWidget, bench: Workbench) -> Elsewhere:
    """What is to become of two versions of one project."""
    theirs = bench.theirs()
    if theirs is None:
        lines: tuple[str, ...] = ("The other version can’t be read as a project.",)
    else:
        lines = differences(bench.history.document, theirs) or ("Nothing in the project itself differs.",)
    name = bench.path.name if bench.path is not None else "This project"
    shown = "\n".join(f"•  {told(line, bench.unit)}" for line in lines)
    ways = [("mine", "Go on with mine"), ("theirs", "Go on with the other"), ("later", "Decide later")]
    question = Question(
        parent,
        "Changed elsewhere",
        f"{name} was changed by another program or window since it was opened here.",
        f"{shown}\n\nBoth versions are kept, whichever you go on with.",
        ways if theirs is not None else [ways[0], ways[2]],
        "mine",
    )
    question.exec()
    return cast(Elsewhere, question.answer)


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
        column.addWidget(
            label(
                "Nothing is thrown away: what was set aside is kept in a file beside the project, so that it can be "
                "looked up and typed in again.",
                "faint",
                wrap=True,
            )
        )
        self.list = QPlainTextEdit("\n\n".join(finding.sentence for finding in opened.findings))
        self.list.setReadOnly(True)
        self.list.setAccessibleName("What could not be read")
        column.addWidget(self.list, 1)
        column.addWidget(button("Go on", self.close))
