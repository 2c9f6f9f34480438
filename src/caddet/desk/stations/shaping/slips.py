"""The recipe as slips, in its order and groups: one is moved, duplicated, noted, grouped, switched or taken up again."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QInputDialog, QScrollArea, QVBoxLayout, QWidget

from caddet.core.errors import InputError
from caddet.core.figures.language import Quantity
from caddet.core.fitting.proof import ProofLine
from caddet.core.formats.named_store import GROUPS_KEPT
from caddet.core.made import Made
from caddet.core.recipe import edits, groups
from caddet.core.recipe.document import StepEntry
from caddet.core.recipe.registry import STEPS
from caddet.core.sentences import told
from caddet.desk.stations.shaping.pictures import Pictures
from caddet.desk.stations.shaping.slip import Slip
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label
from caddet.desk.workbench import Workbench


def ask_words(parent: QWidget, title: str, question: str, now: str) -> str | None:
    """Words from the user, or None when they turn away."""
    words, fine = QInputDialog.getText(parent, title, question, text=now)
    return words.strip() if fine else None


class Slips(QWidget):
    """All slips, in the order of the recipe, groups with a heading of their own."""

    def __init__(self, bench: Workbench, take_up: Callable[[str], object]) -> None:
        super().__init__()
        self.bench = bench
        self._take_up = take_up
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(0)
        self.slips: dict[str, Slip] = {}
        self._shown: object = None
        self._order: tuple[object, object] | None = None
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
        several = len({step.id for step in steps} - self.slips.keys()) > 1 and self.isVisible()
        self._focus = self._focus or next((key for key, slip in self.slips.items() if slip.hasFocus()), "")
        if several:
            self.hide()  # shown one by one, each slip would lay out all of them again
        self._lay(steps)
        names = made.evaluated.names if made is not None else {}
        befores = made.evaluated.before if made is not None else {}
        for number, entry in enumerate(steps, 1):
            slip, outcome = self.slips[entry.id], outcomes.get(entry.id)
            stuck = told(outcome.stuck, self.bench.unit) if outcome is not None else ""
            slip.show_step(number, entry, self._words(entry, names), stuck)
            before = befores.get(entry.id)
            done = outcome is not None and before is not None and not stuck and entry.on
            slip.show_picture(self.pictures.of(entry.id, before, outcome.pattern) if done else None)  # type: ignore[arg-type, union-attr]
            slip.show_ways(self._ways(entry, made.proof) if stuck and made is not None else ())
        if several:
            self.show()
        if self._focus in self.slips:
            self.slips[self._focus].setFocus()
        self._focus = ""

    def _words(self, entry: StepEntry, names: Mapping[str, Quantity]) -> str:
        step = STEPS.get(entry.kind)
        if step is None:
            return entry.kind.replace("_", " ")
        return told(step.describe(step.shown_values(entry.values, names)), self.bench.unit)

    def _lay(self, steps: Sequence[StepEntry]) -> None:
        """The slips in the order of the recipe, under the headings of their groups; those there are are kept."""
        order = tuple((step.id, step.group, step.on if step.group else None) for step in steps)
        look = LOOK.evening, LOOK.scale
        if (order, look) == self._order:
            return
        keep = self.slips if self._order is not None and self._order[1] == look else {}
        self._order = order, look
        keys = {step.id for step in steps}
        while (item := self.column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None and not (isinstance(widget, Slip) and widget.entry.id in keys and keep):
                widget.hide()
                widget.deleteLater()
        self.slips = {step.id: keep[step.id] if step.id in keep else self._new_slip(step) for step in steps}
        group = ""
        for step in steps:
            if step.group != group:
                group = step.group
                if group:
                    self.column.addWidget(self._heading(group))
            self.column.addWidget(self.slips[step.id])

    def _new_slip(self, step: StepEntry) -> Slip:
        slip = Slip(step, self)
        slip.chosen.connect(partial(self.take_up, step.id))
        return slip

    def _ways(self, entry: StepEntry, proof: Sequence[ProofLine]) -> list[tuple[str, Callable[[], object]]]:
        """Ways out of a step that can't be done: its remedies, taking it up again, leaving it out."""
        remedies = [one for line in proof if line.place.startswith(f"recipe[{entry.id}]") for one in line.remedies]
        ways: list[tuple[str, Callable[[], object]]] = [
            (told(one.label, self.bench.unit), partial(self.bench.edit, told(one.label), one.apply))
            for one in remedies[:3]
        ]
        return [
            *ways,
            ("Take it up again", partial(self.take_up, entry.id)),
            ("Leave it out", partial(self.switch, entry.id, False)),
        ]

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

    def take_up(self, key: str) -> None:
        """Take a step up again."""
        self._take_up(key)

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

    def hide_gap(self) -> None:
        """Nothing is dragged any more."""
        self.gap.hide()

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
        entry = self.slips[key].entry
        there = groups.groups(self.bench.history.document)
        usual = entry.group or (there[-1] if there else "Group 1")
        words = ask_words(self, "Group", "In which group of steps? Empty for none.", usual)
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
