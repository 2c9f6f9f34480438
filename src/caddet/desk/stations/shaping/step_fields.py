"""The fields of the step in hand: one for each parameter, by its kind. No step is known by name here."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLineEdit, QPlainTextEdit, QWidget

from caddet.core.errors import CaddetError
from caddet.core.hands.gesture import Gesture
from caddet.core.lengths import Unit
from caddet.core.pattern.finding import said, said_corner, said_place
from caddet.core.recipe.parameters import NAMING, LineNote, Parameter
from caddet.core.recipe.typed import typed_text
from caddet.core.recipe.values import (
    Corner,
    Formula,
    FramePoint,
    LinesValue,
    LineValue,
    Place,
    Points,
    References,
    TableValue,
)
from caddet.core.sentences import Sentence, say, told
from caddet.desk.widgets.fields import (
    BY_ITSELF,
    AmountField,
    Choices,
    PickOne,
    button,
    hint,
    label,
    read_number,
    show_number,
)
from caddet.desk.widgets.lines_field import LinesField

Changed = Callable[[Gesture], object]


class PointedLine(QLineEdit):
    """What is pointed at, in the trade's words; as it is typed while one is in the field."""

    def __init__(self) -> None:
        super().__init__()
        self.words = self.typed = ""

    def show_value(self, words: str, typed: str) -> None:
        """Show a value, unless another is being typed."""
        self.words, self.typed = words, typed
        if not self.isModified():
            self.setText(typed if self.hasFocus() else words)
            self.setCursorPosition(0)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the words of the recipe, to be typed over."""
        if not self.isModified():
            self.setText(self.typed)
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Show what they mean again."""
        super().focusOutEvent(event)
        if not self.isModified():
            self.setText(self.words)
            self.setCursorPosition(0)


class StepFields(QWidget):
    """Every parameter of a gesture as a field; what is entered gives the next gesture."""

    def __init__(self, gesture: Gesture, unit: Unit, changed: Changed, said_wrong: Callable[[str], object]) -> None:
        super().__init__()
        self.gesture, self.unit = gesture, unit
        self._changed, self._said_wrong = changed, said_wrong
        self.fields: dict[str, QWidget] = {}
        self.rows: dict[str, list[QWidget]] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 4)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(0, 1)
        for line, parameter in enumerate(gesture.step.parameters):
            caption = label(parameter.label, wrap=True)
            caption.setToolTip(hint(told(parameter.why, unit)))
            field = self._field(parameter)
            wide = not (parameter.is_amount or parameter.kind == "flag")
            if wide:
                grid.addWidget(caption, 2 * line, 0, 1, 2)
                grid.addWidget(field, 2 * line + 1, 0, 1, 2)
            else:
                grid.addWidget(caption, 2 * line, 0)
                grid.addWidget(field, 2 * line, 1)
            self.fields[parameter.name] = field
            self.rows[parameter.name] = [caption, field]
        self.show_gesture(gesture)

    # --- one field for each kind --------------------------------------------------------------

    def _field(self, parameter: Parameter) -> QWidget:
        name = parameter.label
        if parameter.is_amount:
            field = AmountField(name, self.unit)
            field.zero = BY_ITSELF if parameter.zero_by_itself else ""
            if parameter.kind != "length":
                field.read, field.show_as = read_number, show_number
            field.entered.connect(partial(self._enter, parameter))
            field.formula.connect(
                lambda text: self._do(lambda: self.gesture.typed(text, self.unit, parameter.name), parameter)
            )
            return field
        if parameter.kind == "flag":
            tick = QCheckBox()
            tick.setAccessibleName(name)
            tick.toggled.connect(lambda on: self._do(lambda: self.gesture.set(parameter.name, on), parameter))
            return tick
        if parameter.kind == "choice":
            short = sum(len(words) for _, words in parameter.choices) <= 30
            chooser: Choices | PickOne = Choices(name, parameter.choices) if short else PickOne(name, parameter.choices)
            chooser.chosen.connect(lambda key: self._do(lambda: self.gesture.set(parameter.name, key), parameter))
            return chooser
        if parameter.kind == "table":
            table = QPlainTextEdit()
            table.setAccessibleName(name)
            table.setPlaceholderText("One row a line, with commas between")
            table.setFixedHeight(84)
            table.textChanged.connect(lambda: self._enter_table(parameter, table))
            return table
        if parameter.notes is not None:
            return self._lines(parameter)
        if parameter.kind == "text":
            return self._line(parameter)
        return self._pointed(parameter)

    def _lines(self, parameter: Parameter) -> LinesField:
        """A text in lines, each with what it comes to beside the pattern as it is at this step."""
        notes = parameter.notes
        assert notes is not None
        field = LinesField(
            parameter.label,
            lambda text: notes(text, self.gesture.context.names, self.gesture.before),
            self.unit,
            parameter.wording,
            240,
        )
        for written in (field.tried, field.entered):
            written.connect(lambda text: self._do(lambda: self.gesture.set(parameter.name, text), parameter))
        return field

    def line_notes(self) -> list[LineNote]:
        """What the lines of its texts come to."""
        return [note for field in self.fields.values() if isinstance(field, LinesField) for note in field.notes]

    def _line(self, parameter: Parameter) -> PointedLine:
        line = PointedLine()
        line.setAccessibleName(parameter.label)
        line.editingFinished.connect(lambda: self._enter_text(parameter, line))
        return line

    def _pointed(self, parameter: Parameter) -> QWidget:
        """What is pointed at on the table: said, to be typed as well, and a button that asks for it."""
        inside = QWidget()
        row = QHBoxLayout(inside)
        row.setContentsMargins(0, 0, 0, 0)
        line = self._line(parameter)
        line.setToolTip(
            "Edges and pieces with commas; places as front.side@0.4 or front.side@12cm, with semicolons between"
        )
        ask = button("On the table", lambda: self._changed(self.gesture.taking(parameter.name)))
        ask.setAccessibleName(f"{parameter.label}: on the table")
        row.addWidget(line, 1)
        row.addWidget(ask)
        return inside

    # --- entering -----------------------------------------------------------------------------

    def _do(self, change: Callable[[], Gesture], parameter: Parameter) -> None:
        try:
            changed = change()
        except CaddetError as error:
            field = self.fields[parameter.name]
            if isinstance(field, AmountField):
                field.refuse(str(error))
            else:
                self._said_wrong(str(error))
                self.show_gesture(self.gesture)
            return
        self._changed(changed)

    def _enter(self, parameter: Parameter, value: float) -> None:
        self._do(lambda: self.gesture.set(parameter.name, value), parameter)

    def _enter_text(self, parameter: Parameter, line: PointedLine) -> None:
        if line.isModified():
            line.setModified(False)
            text = line.text()
            self._do(lambda: self.gesture.typed(text, self.unit, parameter.name), parameter)

    def _enter_table(self, parameter: Parameter, table: QPlainTextEdit) -> None:
        value = _rows(table.toPlainText())
        if value != self.gesture.values.get(parameter.name, TableValue()):
            self._changed(self.gesture.with_values({parameter.name: value}))

    # --- showing ------------------------------------------------------------------------------

    def show_gesture(self, gesture: Gesture) -> None:
        """Show the values as they are now; what is being typed is left alone."""
        self.gesture = gesture
        for parameter in gesture.step.parameters:
            field, value = self.fields[parameter.name], gesture.plain[parameter.name]
            for part in self.rows[parameter.name]:
                part.setVisible(parameter.means(gesture.plain))
            field.blockSignals(True)
            if isinstance(field, AmountField):
                kept = gesture.values.get(parameter.name)
                field.show_value(float(value), self.unit)
                field.show_formula(kept.text if isinstance(kept, Formula) else "")
            elif isinstance(field, QCheckBox):
                field.setChecked(bool(value))
            elif isinstance(field, Choices | PickOne):
                field.show_choice(str(value))
            elif isinstance(field, LinesField):
                field.show_text(str(value or ""))
            elif isinstance(field, QPlainTextEdit):
                if _rows(field.toPlainText()).rows != tuple(value or ()):
                    field.setPlainText(
                        "\n".join(
                            ", ".join(f"{c:g}" if isinstance(c, float) else str(c) for c in row) for row in value or ()
                        )
                    )
            else:
                line = field if isinstance(field, PointedLine) else field.findChild(PointedLine)
                if isinstance(line, PointedLine):
                    line.show_value(*_words(gesture, parameter, self.unit))
                    line.setPlaceholderText(_usual(parameter))
            field.blockSignals(False)


def _rows(text: str) -> TableValue:
    """The rows of a table as they are typed: one a line, with commas between."""
    rows = []
    for line in text.splitlines():
        cells: list[float | str] = []
        for cell in (one.strip() for one in line.split(",")):
            try:
                cells.append(float(cell))
            except ValueError:
                cells.append(cell[:200])
        if line.strip():
            rows.append(tuple(cells))
    return TableValue(rows=tuple(rows[:500]))


def _words(gesture: Gesture, parameter: Parameter, unit: Unit) -> tuple[str, str]:
    """A value in the trade's words, and as it is typed."""
    value = gesture.values.get(parameter.name)
    if parameter.kind == "text":
        text = str(gesture.plain[parameter.name] or "")
        return text, text
    if value is None:
        return "", ""
    typed = typed_text(value)
    match value:
        case References(refs=refs):
            return ", ".join(said(one) for one in refs), typed
        case Place():
            return told(said_place(value), unit), typed
        case Corner():
            return told(said_corner(value), unit), typed
        case LineValue(points=points):
            return told(say("from {start} to {end}", start=_spot(points[0]), end=_spot(points[-1])), unit), typed
        case LinesValue(lines=lines):
            return told(say("{count} lines" if len(lines) != 1 else "one line", count=len(lines)), unit), typed
        case Points(points=points):
            return told(say("{count} points" if len(points) != 1 else "one point", count=len(points)), unit), typed
    return typed, typed


def _spot(spot: Place | FramePoint) -> Sentence:
    return said_place(spot) if isinstance(spot, Place) else say("a point by the {edge}", edge=said(spot.edge))


def _usual(parameter: Parameter) -> str:
    """What stands in an empty field: what is meant without a value."""
    if parameter.kind in NAMING:
        return ", ".join(said(one) for one in parameter.default) if parameter.default else "the usual"
    return ""
