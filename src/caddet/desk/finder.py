"""The command finder (Ctrl K): every station, step, figure, piece, person and command by name."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

MOST = 200


@dataclass(frozen=True, slots=True)
class Command:
    """Something that can be found and done."""

    words: str
    kind: str
    act: Callable[[], object]
    keys: str = ""


def rank(words: str, query: str) -> tuple[int, int] | None:
    """How well a query fits (smaller is better): every word of it must begin or stand in a word."""
    low = words.lower()
    total = 0
    for part in query.lower().split():
        at = low.find(part)
        if at < 0:
            return None
        total += 0 if at == 0 else (1 if low[at - 1] in " ·,(" else 2)
    return total, len(words)


class Finder(QFrame):
    """A field and a list, floating over the window."""

    def __init__(
        self,
        parent: QWidget,
        commands: Callable[[], Sequence[Command]],
        understood: Callable[[str], Sequence[Command]] = lambda words: (),
    ) -> None:
        super().__init__(parent)
        self.setObjectName("docket")
        self.setAutoFillBackground(True)
        self.commands, self.understood = commands, understood
        self._first: Sequence[Command] = ()
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find a step, a figure, a piece, a person or a command")
        self.field.setAccessibleName("Find")
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setAccessibleName("Found")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 10, 10, 10)
        column.addWidget(self.field)
        column.addWidget(self.list)
        self.field.textChanged.connect(lambda _: self._fill())
        self.field.installEventFilter(self)
        self.list.itemClicked.connect(lambda _: self._take())
        self._found: list[Command] = []
        self._before: QWidget | None = None
        self.hide()

    def open(self, first: Sequence[Command] = ()) -> None:
        """Open it; ``first`` stand at the top as long as nothing is typed."""
        parent = self.parentWidget()
        if parent is None:
            return
        self._before, self._first = parent.focusWidget(), first
        wide = min(560, parent.width() - 60)
        self.setGeometry((parent.width() - wide) // 2, 50, wide, min(440, parent.height() - 90))
        self.field.clear()
        self._fill()
        self.show()
        self.raise_()
        self.field.setFocus()

    def close_finder(self) -> None:
        """Close it and give the focus back."""
        self.hide()
        if self._before is not None and self._before.isVisible():
            self._before.setFocus()

    def _fill(self) -> None:
        query = self.field.text()
        ranked = [(rank(f"{c.words} {c.kind}", query), c) for c in self.commands()]
        fitting = (
            sorted(((r, c) for r, c in ranked if r is not None), key=lambda pair: pair[0])
            if query
            else [((0, 0), c) for _, c in ranked]
        )
        found = [command for _, command in fitting]
        # what the words mean stands before what they merely begin like, unless a name says just that
        meant = list(self.understood(query)) if query.strip() else list(self._first)
        exact = [command for command in found if query.strip() and query.strip().lower() in command.words.lower()]
        wished = {(command.words, command.kind) for command in self._first}
        exact.sort(key=lambda command: (command.words, command.kind) not in wished)  # what was asked for comes first
        once = {(command.words, command.kind): command for command in (*exact, *meant[: 3 if query else MOST], *found)}
        self._found = list(once.values())[:MOST]
        self.list.clear()
        for command in self._found:
            keys = f"   {command.keys}" if command.keys else ""
            self.list.addItem(QListWidgetItem(f"{command.words}   ·  {command.kind}{keys}"))
        self.list.setCurrentRow(0 if self._found else -1)

    def _take(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._found):
            command = self._found[row]
            self.close_finder()
            command.act()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Up, down, Enter and Esc in the field go to the list."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            key = event.key()
            if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if key == Qt.Key.Key_Down else -1
                count = max(1, self.list.count())
                self.list.setCurrentRow((self.list.currentRow() + step) % count)
                return True
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._take()
                return True
            if key == Qt.Key.Key_Escape:
                self.close_finder()
                return True
        if event is not None and event.type() == QEvent.Type.FocusOut and self.isVisible():
            self.hide()
        return False
