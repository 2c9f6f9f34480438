"""The recipe as slips: a sentence and two small pictures each, on or off, moved, duplicated, noted, grouped, taken up again."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QMenu,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from caddet.core.errors import InputError
from caddet.core.fitting.proof import ProofLine
from caddet.core.formats.named_store import GROUPS_KEPT
from caddet.core.made import Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import edits, groups
from caddet.core.recipe.document import StepEntry
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.stages import StepOutcome
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.stations.shaping.pictures import Pictures
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Row, button, label
from caddet.desk.workbench import Workbench


def ask_words(parent: QWidget, title: str, question: str, now: str) -> str | None:
    """Words from the user, or None when they turn away."""
    words, fine = QInputDialog.getText(parent, title, question, text=now)
    return words.strip() if fine else None


class Slip(Row):
    """One step of the recipe."""

    def __init__(self, number: int, entry: StepEntry, words: str, outcome: StepOutcome | None, list_: Slips) -> None:
        super().__init__(f"{number}  {words[:1].upper()}{words[1:]}")
        self.entry, self.list_ = entry, list_
        self.setObjectName("slip")
        unit = list_.bench.unit
        if outcome is not None and outcome.stuck:
            self.set_sub(f"Can't be done: {told(outcome.stuck, unit)}")
            self.set_sub_style("wrong")
        elif entry.note:
            self.set_sub(entry.note)
        if not entry.on:
            self.title.setEnabled(False)
        self.tick = QCheckBox()
        self.tick.setChecked(entry.on)
        self.tick.setToolTip("Whether this step is done")
        self.tick.setAccessibleName(f"Step {number} is done")
        self.tick.toggled.connect(lambda on: list_.switch(entry.id, on))
        self.menu_button = button("…", self.open_menu)
        self.menu_button.setAccessibleName(f"Step {number}: more")
        self.menu_button.setFixedWidth(LOOK.px(40))
        self.top.addWidget(self.tick)
        self.top.addWidget(self.menu_button)
        self.picture = QLabel()
        self.column.addWidget(self.picture)
        self.setToolTip(
            "Enter or a click takes it up again; drag it, or Alt with up and down, to move it; Del takes it out"
        )
        self._held: float | None = None  # where it was pressed, px under the top of the window's content
        self._dragged = False

    def show_pictures(self, outcome: StepOutcome | None, before: Pattern | None) -> None:
        """The two small pictures, when the step is done."""
        there = outcome is not None and before is not None and not outcome.stuck and self.entry.on
        self.picture.setVisible(there)
        if there and outcome is not None and before is not None:
            self.picture.setPixmap(self.list_.pictures.of(self.entry.id, before, outcome.pattern))

    def menu(self) -> QMenu:
        """What can be done with this slip."""
        menu, list_, key = QMenu(self), self.list_, self.entry.id
        for words, act in (
            ("Take it up again", lambda: list_.taken_up(key)),
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
            self.list_.gap.hide()
        elif alt and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.list_.shift(self.entry.id, -1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.key() == Qt.Key.Key_Delete:
            self.list_.take_out(self.entry.id)
        else:
            super().keyPressEvent(event)


class Slips(QWidget):
    """All slips, in the order of the recipe, groups with a heading of their own."""

    def __init__(self, bench: Workbench, take_up: Callable[[str], object]) -> None:
        super().__init__()
        self.bench = bench
        self.taken_up = take_up
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(0)
        self.slips: dict[str, Slip] = {}
        self.ways: dict[str, list[str]] = {}
        self._shown: object = None
        self._focus = ""
        self.pictures = Pictures()
        self.gap = QFrame(self)
        self.gap.setObjectName("gap")
        self.gap.hide()
        LOOK.changed.connect(self._relook)

    def _relook(self) -> None:
        self.refresh(self.bench.result)

    def refresh(self, made: Made | None) -> None:
        """Show the recipe as it is kept (not the preview of a step in hand)."""
        if self.bench.preview_document is not None:
            return
        steps = self.bench.history.document.recipe.steps
        outcomes = {one.entry.id: one for one in made.evaluated.outcomes} if made is not None else {}
        state = (
            steps,
            tuple(outcomes.get(step.id) and outcomes[step.id].stuck for step in steps),
            self.bench.unit,
            id(made),
            LOOK.evening,
            LOOK.scale,
        )
        if state == self._shown:
            return
        self._shown = state
        self.gap.hide()
        self.pictures.keep_only({step.id for step in steps})
        focused = next((key for key, slip in self.slips.items() if slip.hasFocus()), self._focus)
        self._focus = ""
        empty(self.column)
        self.slips, self.ways = {}, {}
        names = made.evaluated.names if made is not None else {}
        group = ""
        for number, entry in enumerate(steps, 1):
            if entry.group != group:
                group = entry.group
                if group:
                    self.column.addWidget(self._heading(group))
            step = STEPS.get(entry.kind)
            words = (
                told(step.describe(step.shown_values(entry.values, names)), self.bench.unit)
                if step
                else entry.kind.replace("_", " ")
            )
            outcome = outcomes.get(entry.id)
            slip = Slip(number, entry, words, outcome, self)
            slip.chosen.connect(partial(self.taken_up, entry.id))
            slip.show_pictures(outcome, made.before_step(entry.id) if made is not None else None)
            if outcome is not None and outcome.stuck and made is not None:
                self._add_ways(slip, entry, made.proof)
            self.slips[entry.id] = slip
            self.column.addWidget(slip)
        if focused in self.slips:
            self.slips[focused].setFocus()

    def _add_ways(self, slip: Slip, entry: StepEntry, proof: Sequence[ProofLine]) -> None:
        """Ways out of a step that can't be done: its remedies, turning it off, taking it up again."""
        row = QVBoxLayout()
        remedies = [one for line in proof if line.place.startswith(f"recipe[{entry.id}]") for one in line.remedies]
        for remedy in remedies[:3]:
            row.addWidget(
                button(told(remedy.label, self.bench.unit), partial(self.bench.edit, told(remedy.label), remedy.apply))
            )
        again = QHBoxLayout()
        again.addWidget(button("Take it up again", partial(self.taken_up, entry.id)))
        again.addWidget(button("Leave it out", partial(self.switch, entry.id, False)))
        row.addLayout(again)
        slip.column.addLayout(row)
        self.ways[entry.id] = [told(one.label) for one in remedies] + ["Take it up again", "Leave it out"]

    def _heading(self, name: str) -> QWidget:
        inside = QWidget()
        row = QHBoxLayout(inside)
        row.setContentsMargins(2, 8, 0, 2)
        row.addWidget(label(name, "whyhead"), 1)
        mine = [step for step in self.bench.history.document.recipe.steps if step.group == name]
        tick = QCheckBox()
        tick.setAccessibleName(f"All steps of {name} are done")
        tick.setToolTip("Whether the steps of this group are done")
        tick.setChecked(any(step.on for step in mine))
        tick.toggled.connect(
            lambda on: self.bench.edit(f"{name}: {'on' if on else 'off'}", lambda d: groups.switched(d, name, on))
        )
        keep = button("Keep", partial(self.keep, name))
        keep.setToolTip("Keeps these steps in the Workroom, to be put on another garment")
        keep.setAccessibleName(f"Keep the group {name}")
        row.addWidget(keep)
        row.addWidget(tick)
        return inside

    # --- what a slip asks for -----------------------------------------------------------------

    def _number(self, key: str) -> int:
        return [step.id for step in self.bench.history.document.recipe.steps].index(key) + 1

    def switch(self, key: str, on: bool) -> None:
        """Switch a step on or off."""
        self.bench.edit(f"Step {self._number(key)} {'on' if on else 'off'}", lambda d: edits.change_step(d, key, on=on))

    def shift(self, key: str, by: int) -> None:
        """Move a step earlier or later."""
        at = self._number(key) - 1
        if by and 0 <= at + by < len(self.bench.history.document.recipe.steps):
            self._focus = key
            self.bench.edit(f"Move step {at + 1}", lambda d: edits.move_step(d, at, at + by))

    def _lands(self, key: str, y: float) -> int:
        """The place among the steps, from 0, that a slip let go at a height (px) would have."""
        others = [slip for one, slip in self.slips.items() if one != key]
        return sum(slip.geometry().center().y() < y for slip in others)

    def show_gap(self, key: str, y: float) -> None:
        """A bar between the slips where a dragged one would go; at the edge of what is seen the docket scrolls."""
        to, others = self._lands(key, y), [slip for one, slip in self.slips.items() if one != key]
        if not others:
            return
        edge = others[to].geometry().top() if to < len(others) else others[-1].geometry().bottom()
        self.gap.setGeometry(0, edge - 2, self.width(), 4)
        self.gap.show()
        self.gap.raise_()
        around = self.parentWidget()
        while around is not None and not isinstance(around, QScrollArea):
            around = around.parentWidget()
        if around is not None:
            inside = around.widget()
            if inside is not None:
                around.ensureVisible(0, round(self.mapTo(inside, QPointF(0, y)).y()), 0, 40)

    def drop(self, key: str, y: float) -> None:
        """Let a dragged slip go at a height (px)."""
        self.gap.hide()
        self.shift(key, self._lands(key, y) - (self._number(key) - 1))

    def duplicate(self, key: str) -> None:
        """Do a step once more, behind itself."""
        self.bench.edit(f"Step {self._number(key)} once more", lambda d: groups.duplicated(d, key))

    def take_out(self, key: str) -> None:
        """Take a step out of the recipe."""
        at = self._number(key) - 1
        self.bench.edit(f"Take out step {at + 1}", lambda d: edits.set_step(d, at, None))

    def ask_note(self, key: str) -> None:
        """A note on a step."""
        words = ask_words(self, "Note", "What should be remembered of this step?", self.slips[key].entry.note)
        if words is not None:
            self.bench.edit(f"Note on step {self._number(key)}", lambda d: edits.change_step(d, key, note=words))

    def ask_group(self, key: str) -> None:
        """The name of the group that a step belongs to; none takes it out."""
        words = ask_words(self, "Group", "In which group of steps? Empty for none.", self.slips[key].entry.group)
        if words is not None:
            self.group(key, words)

    def group(self, key: str, name: str) -> None:
        """Put a step into a group; beside its fellows, when it does not stand there."""
        self.bench.edit(f"Group of step {self._number(key)}", lambda d: groups.set_group(d, (key,), name))

    def keep(self, name: str) -> None:
        """Keep a group in the Workroom."""
        try:
            GROUPS_KEPT.keep(groups.group_of(self.bench.history.document, name))
        except InputError as error:
            self.bench.said.emit(str(error))
            return
        self.bench.said.emit(f"“{name}” is kept; it can be put on any garment.")

    def put_on(self, name: str) -> None:
        """Put a kept group of steps on this garment."""
        found, _ = GROUPS_KEPT.kept()
        group = next((one for one in found if one.name == name), None)
        if group is not None:
            self.bench.edit(f"Put on: {name}", lambda d: groups.put_on(d, group))
