"""One step of the recipe as a slip of the docket."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPixmap
from PyQt6.QtWidgets import QApplication, QCheckBox, QMenu, QVBoxLayout, QWidget

from caddet.core.recipe.document import StepEntry
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Row, button, label


class SlipList(Protocol):
    """What a slip asks of the list that it is in; steps are named by their ids, heights are in px of the list."""

    def take_up(self, key: str) -> None:
        """Take the step up again."""

    def switch(self, key: str, on: bool) -> None:
        """Switch it on or off."""

    def shift(self, key: str, by: int) -> None:
        """Move it earlier or later."""

    def duplicate(self, key: str) -> None:
        """Do it once more."""

    def take_out(self, key: str) -> None:
        """Take it out of the recipe."""

    def ask_note(self, key: str) -> None:
        """Ask for a note on it."""

    def ask_group(self, key: str) -> None:
        """Ask for the group that it belongs to."""

    def show_gap(self, key: str, y: float) -> None:
        """Show where it would go if it were let go at this height."""

    def hide_gap(self) -> None:
        """It is no longer dragged."""

    def drop(self, key: str, y: float) -> None:
        """It is let go at this height."""

    def mapFromGlobal(self, place: QPointF) -> QPointF:
        """A place of the screen in the list."""


class Slip(Row):
    """One step of the recipe."""

    def __init__(self, entry: StepEntry, list_: SlipList) -> None:
        super().__init__("")
        self.entry, self.list_ = entry, list_
        self.setObjectName("slip")
        self.tick = QCheckBox()
        self.tick.setToolTip("Whether this step is done")
        self.tick.toggled.connect(lambda on: list_.switch(self.entry.id, on))
        self.menu_button = button("…", self.open_menu)
        self.menu_button.setFixedWidth(LOOK.px(40))
        self.top.addWidget(self.tick)
        self.top.addWidget(self.menu_button)
        self.picture = label()
        self.column.addWidget(self.picture)
        self.setToolTip(
            "Enter or a click takes it up again; drag it, or Alt with up and down, to move it; Del takes it out"
        )
        self._held: float | None = None  # where it was pressed, px under the top of the window's content
        self._dragged = False
        self._shown: object = None
        self._pixmap: QPixmap | None = None
        self._ways: QWidget | None = None
        self._ways_shown: tuple[str, ...] = ()

    def show_step(self, number: int, entry: StepEntry, words: str, wrong: str) -> None:
        """Show the step as it is now; ``wrong`` says why it can't be done. What is the same is not touched."""
        self.entry = entry
        state = number, words, wrong, entry.note, entry.on
        if state == self._shown:
            return
        self._shown = state
        title = f"{number}  {words[:1].upper()}{words[1:]}"
        self.title.setText(title)
        self.title.setEnabled(entry.on)
        self.setAccessibleName(title)
        self.set_sub(f"Can't be done: {wrong}" if wrong else entry.note)
        self.set_sub_style("wrong" if wrong else "working")
        self.tick.blockSignals(True)
        self.tick.setChecked(entry.on)
        self.tick.blockSignals(False)
        self.tick.setAccessibleName(f"Step {number} is done")
        self.menu_button.setAccessibleName(f"Step {number}: more")

    def show_picture(self, picture: QPixmap | None) -> None:
        """The two small pictures; none when the step is not done."""
        if picture is not self._pixmap:
            self._pixmap = picture
            self.picture.setVisible(picture is not None)
            if picture is not None:
                self.picture.setPixmap(picture)

    def show_ways(self, ways: Sequence[tuple[str, Callable[[], object]]]) -> None:
        """Buttons for the ways out of a step that can't be done."""
        words = tuple(one for one, _ in ways)
        if words == self._ways_shown:
            return
        self._ways_shown = words
        if self._ways is not None:
            self._ways.hide()
            self._ways.deleteLater()
            self._ways = None
        if ways:
            self._ways = QWidget()
            column = QVBoxLayout(self._ways)
            column.setContentsMargins(0, 4, 0, 0)
            for one, act in ways:
                column.addWidget(button(one, act))
            self.column.addWidget(self._ways)

    def menu(self) -> QMenu:
        """What can be done with this slip."""
        menu, list_, key = QMenu(self), self.list_, self.entry.id
        for words, act in (
            ("Take it up again", lambda: list_.take_up(key)),
            ("Earlier   Alt ↑", lambda: list_.shift(key, -1)),
            ("Later   Alt ↓", lambda: list_.shift(key, 1)),
            ("Once more", lambda: list_.duplicate(key)),
            ("Note…", lambda: list_.ask_note(key)),
            ("Group…", lambda: list_.ask_group(key)),
            ("Take out   Del", lambda: list_.take_out(key)),
        ):
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, act=act: act())
        return menu

    def open_menu(self) -> None:
        """Open what can be done with the step."""
        self.menu().exec(self.menu_button.mapToGlobal(self.menu_button.rect().bottomLeft()))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Taken hold of: let go at once it is chosen, dragged it moves."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self._held, self._dragged = event.globalPosition().y(), False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Dragged: a bar shows where it would go."""
        if event is None or self._held is None:
            return
        y = event.globalPosition().y()
        self._dragged = self._dragged or abs(y - self._held) >= QApplication.startDragDistance()
        if self._dragged:
            self.list_.show_gap(self.entry.id, self.list_.mapFromGlobal(event.globalPosition()).y())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: moved to where the bar is, or taken up again."""
        if event is None or self._held is None:
            return
        dragged, self._held, self._dragged = self._dragged, None, False
        if dragged:
            self.list_.drop(self.entry.id, self.list_.mapFromGlobal(event.globalPosition()).y())
        elif self.rect().contains(event.position().toPoint()):
            self.chosen.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Alt with up and down moves the step, Delete takes it out."""
        if event is None:
            return
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if event.key() == Qt.Key.Key_Escape and self._dragged:
            self._held, self._dragged = None, False
            self.list_.hide_gap()
        elif alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.list_.shift(self.entry.id, -1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Delete:
            self.list_.take_out(self.entry.id)
        else:
            super().keyPressEvent(event)
