"""Shape: how does it become this design?"""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from typing import Any

from pydantic import BaseModel
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.errors import CaddetError
from caddet.core.figures.language import Quantity
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, StepEntry
from caddet.core.recipe.parameters import NAMING
from caddet.core.recipe.registry import STEPS, Grip, Parameter, Step, step_entry
from caddet.core.recipe.typed import typed_text, typed_value
from caddet.core.recipe.values import Formula, Place
from caddet.core.sentences import say, told
from caddet.core.shaping.finding import said
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.table.piece_item import Showing
from caddet.desk.widgets.fields import AmountField, LengthField, Row, button, label, read_number


def with_step(document: Document, kind: str, values: Mapping[str, Any]) -> Document:
    """The document with a step done by hand: merged into the last one when it is the same hold."""
    steps = document.recipe.steps
    step = STEPS[kind]
    plain = bool(steps) and not any(isinstance(value, Formula) for value in steps[-1].values.values())
    if plain and steps[-1].kind == kind and steps[-1].on:  # a formula is not added to: that would lose it
        merged = step.merge(step.shown_values(steps[-1].values), values)
        if merged is not None:
            return edits.change_step(document, steps[-1].id, values=step.tagged(merged))
    return edits.add_step(document, step_entry(kind, values))


class ShapeStation(Station):
    """The recipe as slips, in order; steps are made by hand on the table or typed."""

    key, name = "shape", "Shape"
    why_head = "Why steps?"
    why = (
        "The garment is a list of steps on top of the block. Take hold of a ring on the table and drag, or add a step "
        "and type. Change a measure or an early step and everything after it is made again."
    )

    def build(self) -> None:
        self.slips_box = QVBoxLayout()
        self.slips_box.setSpacing(0)
        self.body.addLayout(self.slips_box)
        self.body.addSpacing(8)
        self.body.addWidget(label("Add a step", "whyhead"))
        grid = QGridLayout()
        for index, step in enumerate(STEPS.values()):
            one = button(step.label, partial(self.add, step))
            one.setToolTip(step.why)
            grid.addWidget(one, index // 2, index % 2)
        self.body.addLayout(grid)
        self.open_index = -1
        self._shown: object = None
        self.table.grip_dragged.connect(self._dragged)
        self.table.grip_dropped.connect(self._dropped)
        self.table.grip_let_go.connect(lambda: self.bench.preview(None))

    # --- the recipe ---------------------------------------------------------------------------

    def refresh(self) -> None:
        steps = self.bench.document.recipe.steps
        kept = len(self.bench.history.document.recipe.steps)
        self.aside.setText(f"{kept} step{'' if kept == 1 else 's'}")
        made = self.made
        stuck = tuple(outcome.stuck for outcome in made.evaluated.outcomes) if made is not None else ()
        state = (steps, stuck, self.open_index, self.bench.unit)
        if state == self._shown or self.bench.preview_document is not None:
            return
        self._shown = state
        focus = self.focusWidget()
        typed = focus.accessibleName() if focus is not None and self.isAncestorOf(focus) else ""
        empty(self.slips_box)
        if not steps:
            self.slips_box.addWidget(label("No steps yet: the pieces are as drafted.", "faint", wrap=True))
        for index, entry in enumerate(steps):
            self.slips_box.addWidget(self._slip(index, entry, stuck[index] if index < len(stuck) else ""))
        if typed:
            for widget in self.findChildren(QWidget):
                if widget.accessibleName() == typed and widget.isVisible():
                    widget.setFocus()

    def _slip(self, index: int, entry: StepEntry, stuck: str) -> Row:
        step = STEPS.get(entry.kind)
        words = (
            told(step.describe(step.shown_values(entry.values, self._names())), self.bench.unit)
            if step
            else entry.kind.replace("_", " ")
        )
        row = Row(f"{index + 1}  {words[:1].upper()}{words[1:]}")
        row.chosen.connect(partial(self._open, index))
        if stuck:
            row.set_sub(f"Stuck: {stuck}")
            row.sub.setObjectName("wrong")
        on = QCheckBox()
        on.setChecked(entry.on)
        on.setToolTip("Whether this step is done")
        on.setAccessibleName(f"Step {index + 1} is done")
        on.toggled.connect(partial(self._switch, index))
        row.top.addWidget(on)
        if index == self.open_index and step is not None:
            row.set_chosen(True)
            row.column.addWidget(self._editor(index, entry, step))
        return row

    def _editor(self, index: int, entry: StepEntry, step: Step) -> QWidget:
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setContentsMargins(0, 6, 0, 4)
        pattern = self._before(index)
        shown = step.shown_values(entry.values, self._names())
        for line, parameter in enumerate(step.parameters):
            caption = label(parameter.label, wrap=True)
            caption.setToolTip(told(parameter.why, self.bench.unit))
            grid.addWidget(caption, line, 0)
            grid.addWidget(self._field(index, entry, parameter, shown, pattern), line, 1)
        row = QHBoxLayout()
        row.addWidget(button("Earlier", partial(self._move, index, -1)))
        row.addWidget(button("Later", partial(self._move, index, 1)))
        row.addStretch(1)
        row.addWidget(button("Take out", partial(self._take_out, index)))
        grid.addLayout(row, len(step.parameters), 0, 1, 2)
        return inside

    def _names(self) -> Mapping[str, Quantity]:
        """The measures and figures that a formula in a step sees."""
        return self.made.evaluated.names if self.made is not None else {}

    def _before(self, index: int) -> Pattern | None:
        """The pattern that a step works on."""
        made = self.made
        if made is None:
            return None
        outcomes = made.evaluated.outcomes
        return made.evaluated.drafted if index == 0 else outcomes[index - 1].pattern if index <= len(outcomes) else None

    def _field(
        self, index: int, entry: StepEntry, parameter: Parameter, shown: Mapping[str, Any], pattern: Pattern | None
    ) -> QWidget:
        value = shown[parameter.name]
        name = f"Step {index + 1}: {parameter.label}"
        if parameter.is_amount:
            field = AmountField(name, self.bench.unit)
            kept = entry.values.get(parameter.name)
            field.show_formula(kept.text if isinstance(kept, Formula) else "")
            field.formula.connect(lambda text: self._set(index, entry, parameter.name, Formula(text=text)))
            if parameter.kind != "length":
                field.read = read_number
                field.edit.setText(f"{float(value):g}")
                field.value = float(value)
            else:
                field.show_value(float(value), self.bench.unit)
            field.entered.connect(lambda v: self._set(index, entry, parameter.name, v))
            return field
        if parameter.kind == "flag":
            tick = QCheckBox()
            tick.setAccessibleName(name)
            tick.setChecked(bool(value))
            tick.toggled.connect(lambda on: self._set(index, entry, parameter.name, on))
            return tick
        choices = _names(parameter, pattern)
        if not choices and parameter.kind not in ("choice", *NAMING):
            return self._typed(name, index, entry, parameter)
        box = QComboBox()
        box.setAccessibleName(name)
        now = _shown_choice(value)
        if now not in dict(choices):
            choices.append((now, said_value(value)))
        for key, words in choices:
            box.addItem(words, key)
        box.setCurrentIndex(max(0, [key for key, _ in choices].index(now)))
        box.activated.connect(lambda at: self._set(index, entry, parameter.name, box.itemData(at)))
        if parameter.kind != "place":
            return box
        inside = QWidget()
        row = QHBoxLayout(inside)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(box, 1)
        along = LengthField(f"{name}, along it", self.bench.unit)
        along.show_value(float(value.mm or 0.0) if isinstance(value, Place) else 0.0, self.bench.unit)
        along.entered.connect(lambda mm: self._set(index, entry, parameter.name, _place(box.currentData(), mm)))
        box.activated.disconnect()
        box.activated.connect(
            lambda at: self._set(index, entry, parameter.name, _place(box.itemData(at), along.value or 0.0))
        )
        row.addWidget(along)
        return inside

    def _typed(self, name: str, index: int, entry: StepEntry, parameter: Parameter) -> QWidget:
        """A value that is typed, such as a line through places."""
        line = QLineEdit(typed_text(entry.values.get(parameter.name)))
        line.setAccessibleName(name)
        line.setToolTip("Places as front.side@0.4 or front.side@12cm, with semicolons between them.")

        def entered() -> None:
            if not line.isModified():
                return
            line.setModified(False)
            try:
                value = typed_value(parameter, line.text(), self.bench.unit)
            except CaddetError as error:
                self.bench.said.emit(say("{error}; the old value stays.", error=error))
                line.setText(typed_text(entry.values.get(parameter.name)))
                return
            self._set(index, entry, parameter.name, value)

        line.editingFinished.connect(entered)
        return line

    def _set(self, index: int, entry: StepEntry, name: str, value: Any) -> None:
        step = STEPS[entry.kind]
        tagged = value if isinstance(value, BaseModel) else step.tagged({name: value})[name]
        values = {**entry.values, name: tagged}
        self.bench.edit(f"Step {index + 1} changed", lambda d: edits.change_step(d, entry.id, values=values))

    def _switch(self, index: int, on: bool) -> None:
        entry = self.bench.history.document.recipe.steps[index]
        self.bench.edit(f"Step {index + 1} {'on' if on else 'off'}", lambda d: edits.change_step(d, entry.id, on=on))

    def _take_out(self, index: int) -> None:
        self.open_index = -1
        self.bench.edit(f"Take out step {index + 1}", lambda d: edits.set_step(d, index, None))

    def _move(self, index: int, by: int) -> None:
        to = index + by
        if 0 <= to < len(self.bench.document.recipe.steps):
            self.open_index = to
            self.bench.edit(f"Move step {index + 1}", lambda d: edits.move_step(d, index, to))

    def _open(self, index: int) -> None:
        self.open_index = -1 if index == self.open_index else index
        self.refresh()

    def add(self, step: Step) -> None:
        """Add a step with values that make sense here, and open it for typing."""
        made = self.made
        values: dict[str, Any] = {p.name: p.default for p in step.parameters}
        if made is not None and made.pattern is not None:
            grips = step.grips(made.pattern)
            if grips:
                values = {**values, **grips[0].nudge(20.0)}
        self.open_index = len(self.bench.history.document.recipe.steps)
        self.bench.edit(step.label, lambda d: edits.add_step(d, step_entry(step.kind, values)))

    # --- by hand ------------------------------------------------------------------------------

    def _dragged(self, grip: Grip, values: dict[str, Any]) -> None:
        self.bench.preview(with_step(self.bench.history.document, grip.step, values))
        words = told(STEPS[grip.step].describe(values), self.bench.unit)
        self.bench.said.emit(words[:1].upper() + words[1:])

    def _dropped(self, grip: Grip, values: dict[str, Any]) -> None:
        before = self.bench.history.document
        self.bench.edit(STEPS[grip.step].label, lambda d: with_step(d, grip.step, values))
        if len(self.bench.history.document.recipe.steps) > len(before.recipe.steps):
            self.open_index = len(before.recipe.steps)

    def draw(self) -> None:
        self.table.show_pattern(self.made, Showing(grips=True))

    def status(self) -> Status:
        made = self.made
        stuck = sum(bool(outcome.stuck) for outcome in made.evaluated.outcomes) if made is not None else 0
        count = len(self.bench.document.recipe.steps)
        return Status(f"{count} step{'' if count == 1 else 's'}", stuck == 0 and count > 0, stuck)


def _place(edge: str, mm: float) -> Place | None:
    return Place(edge=edge, mm=max(mm, 0.0)) if edge else None


def _shown_choice(value: Any) -> str:
    """What a value picks in a list: of several names, all of them."""
    if isinstance(value, Place):
        return value.edge
    return ",".join(value) if isinstance(value, tuple) else str(value or "")


def said_value(value: Any) -> str:
    """A value that is not in a list, in words."""
    if isinstance(value, tuple):
        return ", ".join(map(said, value)) or "The usual"
    return said(value.edge) if isinstance(value, Place) else str(value or "—").replace("_", " ")


def _names(parameter: Parameter, pattern: Pattern | None) -> list[tuple[str, str]]:
    """What a parameter may name on this pattern: key and words."""
    if parameter.kind == "choice":
        return list(parameter.choices)
    if pattern is None:
        return []
    usual = [("", "The usual")] if parameter.default == () else []
    match parameter.kind:
        case "pieces":
            return usual + [(piece.name, piece.label) for piece in pattern.pieces]
        case "dart":
            return usual + [
                (d.id, f"{d.label}, {piece.label.lower()}") for piece in pattern.pieces for d in piece.darts
            ]
        case "edges" | "place":
            every = {edge.own for piece in pattern.pieces for edge in piece.edges if not edge.dart}
            alike = [(own, f"{own.replace('_', ' ')}, of every piece") for own in sorted(every)]
            one = [(run, said(run)) for piece in pattern.pieces for run in piece.runs()]
            return usual + (alike if parameter.kind == "edges" else []) + one
        case "level":
            return usual + [
                (f.name, said(f.name)) for piece in pattern.pieces for f in piece.features if f.kind == "level"
            ]
        case "seam":
            return usual + [(seam.name, seam.label) for seam in pattern.seams]
    return []
