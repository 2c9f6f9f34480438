"""Measure: who is it for, how big are they?"""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import (
    QComboBox,
    QGraphicsItem,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
)

from caddet.core.body.doubts import doubts
from caddet.core.body.estimates import estimate
from caddet.core.body.figure_drawing import FigureDrawing, draw_figure
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, read_measure
from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.core.recipe.registry import block_named
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.table.drawing import Drawn, painter_path
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import LengthField, Row, button, label


class FigureItem(Drawn, QGraphicsItem):
    """The drawn figure with the tape where it goes."""

    def __init__(self, drawing: FigureDrawing, code: str) -> None:
        super().__init__()
        self.parts = [painter_path(path, closed=True) for path in drawing.outlines]
        self.outlines = painter_path(drawing.outlines)
        self.tape = painter_path(drawing.tapes.get(code, ()))
        self.box = self.outlines.boundingRect().united(self.tape.boundingRect()).adjusted(-60, -60, 60, 60)

    def boundingRect(self) -> QRectF:
        return self.box

    def draw(self, painter: QPainter) -> None:
        pen = QPen(LOOK.color("ink"), 1.7)
        pen.setCosmetic(True)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.setBrush(LOOK.color("paper"))
        for part in self.parts:
            painter.drawPath(part)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for width, color in ((9.0, "tape_ink"), (6.5, "tape")):
            pen = QPen(LOOK.color(color), width)
            pen.setCosmetic(True)
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawPath(self.tape)
        pen = QPen(LOOK.color("madder"), 1.6)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.drawPath(self.tape)


class MeasureStation(Station):
    """The measures of the wearer, those the block needs first."""

    key, name = "measure", "Measure"
    why_head = "Why measure again?"
    why = (
        "A tape slips, is read in half or in inches, or sits a hand too high. Hold it level all round, do not pull it "
        "tight, and read twice. What was not measured is estimated from the rest and marked until it is."
    )

    def build(self) -> None:
        self.code = "hip"
        self.people = QComboBox()
        self.people.setAccessibleName("Wearer")
        self.people.activated.connect(self._choose)
        add = button("Add a person…", self._begin_person)
        top = QHBoxLayout()
        top.addWidget(self.people, 1)
        top.addWidget(add)
        self.body.addLayout(top)
        self.new_name = QLineEdit()
        self.new_name.setPlaceholderText("Name of the new person, then Enter")
        self.new_name.setAccessibleName("Name of the new person")
        self.new_name.returnPressed.connect(self._add_person)
        self.new_name.hide()
        self.body.addWidget(self.new_name)
        self.note = label("", "faint", wrap=True)
        self.body.addWidget(self.note)
        self.where = label("", "why", wrap=True)
        self.body.addWidget(self.where)
        self.rows_box = QVBoxLayout()
        self.rows_box.setSpacing(0)
        self.body.addLayout(self.rows_box)
        self.more = QComboBox()
        self.more.setAccessibleName("Add a measure")
        self.more.activated.connect(self._add_measure)
        self.body.addWidget(self.more)
        self.rows: dict[str, tuple[Row, LengthField]] = {}
        self._shown: tuple[str, tuple[str, ...]] = ("", ())
        self._extra: set[str] = set()

    def _codes(self, person: Person) -> list[str]:
        block = block_named(self.bench.document.recipe.block)
        wanted = ["height", *block.needs, *block.uses]
        rest = [c for c in MEASURES if (c in person.measures or c in self._extra) and c not in wanted]
        return [*dict.fromkeys([*block.needs, *block.uses, "height"]), *rest]

    def refresh(self) -> None:
        document = self.bench.document
        person = document.person
        self.aside.setText(f"{len(document.people)} people" if len(document.people) > 1 else "1 person")
        self.people.blockSignals(True)
        self.people.clear()
        self.people.addItems([p.name for p in document.people])
        self.people.setCurrentText(person.name)
        self.people.blockSignals(False)
        self.note.setText(person.note)
        self.note.setVisible(bool(person.note))
        codes = self._codes(person)
        key = (person.name, tuple(codes))
        if key != self._shown:
            self._shown = key
            self._build_rows(codes)
        found = {doubt.place.removeprefix("person."): doubt.sentence for doubt in doubts(person, self.bench.unit)}
        block = block_named(document.recipe.block)
        for code, (row, field) in self.rows.items():
            value = person.measures.get(code)
            guess = estimate(person, code) if value is None else None
            if MEASURES[code].kind == "weight":
                field.value = value
                field.edit.setText("" if value is None else f"{value:g}")
            else:
                field.show_value(value, self.bench.unit)
            field.edit.setPlaceholderText(format_length(guess.value, self.bench.unit) if guess else "—")
            need = "needed" if code in block.needs else ("useful" if code in block.uses else "")
            words = need
            if guess is not None:
                error = format_length(guess.error, self.bench.unit, with_unit=True)
                words = f"estimate ± {error}, from {guess.basis}" + (f"; {need}" if need else "")
            elif value is None:
                words = f"not measured{'; ' + need if need else ''}"
            row.set_sub(found.get(code, words))
            row.sub.setObjectName("wrong" if code in found else "working")
            style = row.sub.style()
            if style is not None:
                style.unpolish(row.sub)
                style.polish(row.sub)
        self.more.blockSignals(True)
        self.more.clear()
        self.more.addItem("Add a measure…", "")
        for code, measure in MEASURES.items():
            if code not in self.rows:
                self.more.addItem(measure.label, code)
        self.more.blockSignals(False)
        self._mark()

    def _build_rows(self, codes: list[str]) -> None:
        empty(self.rows_box)
        self.rows = {}
        for code in codes:
            row = Row(MEASURES[code].label)
            row.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            field = LengthField(MEASURES[code].label, self.bench.unit, partial(read_measure, code), may_be_empty=True)
            row.top.addWidget(field)
            row.chosen.connect(partial(self._pick, code))
            field.entered.connect(partial(self._enter, code))
            field.cleared.connect(partial(self._enter, code, None))
            field.edit.installEventFilter(self)
            field.edit.setProperty("code", code)
            self.rows[code] = (row, field)
            self.rows_box.addWidget(row)

    def eventFilter(self, watched: object, event: object) -> bool:
        if isinstance(event, QEvent) and event.type() == QEvent.Type.FocusIn and isinstance(watched, QLineEdit):
            code = watched.property("code")
            if code and code != self.code:
                self._pick(code)
        return False

    def _pick(self, code: str) -> None:
        self.code = code
        self._mark()
        if self.active:
            self.draw()

    def _mark(self) -> None:
        for code, (row, _) in self.rows.items():
            row.set_chosen(code == self.code)
        self.where.setText(f"{MEASURES[self.code].label}: {MEASURES[self.code].where}")

    def _enter(self, code: str, value: float | None) -> None:
        words = MEASURES[code].label.lower()
        deed = f"{self.bench.document.wearer}: {words}" if value is not None else f"Take away the {words}"
        self.bench.edit(deed, lambda d: edits.set_measure(d, code, value))

    def _choose(self, index: int) -> None:
        name = self.people.itemText(index)
        self.bench.edit(f"For {name}", lambda d: edits.choose_wearer(d, name))

    def _begin_person(self) -> None:
        self.new_name.show()
        self.new_name.setFocus()

    def _add_person(self) -> None:
        name = self.new_name.text().strip()
        if name and self.bench.edit(f"Add {name}", lambda d: edits.add_person(d, Person(name=name[:80]))):
            self.new_name.clear()
            self.new_name.hide()

    def _add_measure(self, index: int) -> None:
        code = self.more.itemData(index)
        if code:
            self._extra.add(code)
            self.code = code
            self.refresh()
            self.rows[code][1].edit.setFocus()

    def draw(self) -> None:
        self.table.show_own([FigureItem(draw_figure(self.bench.document.person), self.code)])

    def status(self) -> Status:
        document = self.bench.document
        block = block_named(document.recipe.block)
        wanted = [*block.needs, *block.uses]
        have = sum(code in document.person.measures for code in wanted)
        missing = sum(code not in document.person.measures for code in block.needs)
        return Status(f"{have} of {len(wanted)} measured", missing == 0, len(doubts(document.person)))
