"""What comes after the readings: what is sewn is opened, the garment is compared with its wearer, altered ones are sewn anew."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError
from caddet.core.lengths import format_length
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import edits
from caddet.core.recipe.registry import STEPS
from caddet.core.tracing.comparing import as_liked, compared, lines_to_sew
from caddet.core.tracing.cut_now import CutNow, ready_to_cut, remarks
from caddet.core.tracing.kinds import Kind
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import LengthField, Row, button, hint, label

if TYPE_CHECKING:
    from caddet.desk.stations.draft import DraftStation


class AfterBox(QWidget):
    """Three short lists, each shown when there is something in it."""

    def __init__(self, station: DraftStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(4)
        self.rows: dict[str, Row] = {}

    def show_after(self, kind: Kind) -> None:
        """Show what can be done with the pieces as they are made now."""
        empty(self.column)
        self.rows = {}
        made = self.station.made
        if made is None or made.pattern is None or made.evaluated.drafted is None:
            return
        if kind.opens:
            self.column.addWidget(label("Open again what is sewn", "whyhead"))
            for name in kind.opens:
                one = button(STEPS[name].label, partial(self.station.step_wanted.emit, name))
                one.setToolTip(hint(STEPS[name].why))
                self.column.addWidget(one)
        unit, person = self.bench.unit, self.bench.document.person
        rows = compared(made.pattern, person, kind.block, self.bench.document.chosen_cloth)
        if rows:
            self.column.addWidget(label(f"Beside {person.name}", "whyhead"))
        for row in rows:
            words = MEASURES[row.code].label.removesuffix(" girth")
            shown = Row(
                f"{words} {format_length(row.garment, unit)}", self._sentence(row.ease, row.usual, row.estimated)
            )
            self.rows[row.code] = shown
            self.column.addWidget(shown)
        if rows:
            self.column.addWidget(button(f"This is how {person.name} likes it", partial(self._like, kind)))
        self._cut_now(made.pattern, kind)
        lines = lines_to_sew(made.evaluated.drafted, made.pattern)
        if lines:
            self.column.addWidget(label("Altering it: where to sew, from the old seam", "whyhead", wrap=True))
        for key, places in lines.items():
            words = ", ".join(
                f"{format_length(abs(one.inside), unit)} {'in' if one.inside > 0 else 'out'} at {format_length(one.along, unit)}"
                if abs(one.inside) > 0.5
                else f"as it is at {format_length(one.along, unit)}"
                for one in places
            )
            self.rows[key] = Row(key.replace(".", " ").replace("_", " ").capitalize(), words)
            self.column.addWidget(self.rows[key])

    def _cut_now(self, pattern: Pattern, kind: Kind) -> None:
        """For a make of half an hour: what is left round the outline, and straight to paper."""
        unit = self.bench.unit
        self.column.addWidget(label("Cut this now", "whyhead"))
        self.column.addWidget(label("Outline, allowance, casing or hem straight to paper.", "why", wrap=True))
        casing = any(edge.finish == "casing" for piece in pattern.pieces for edge in piece.edges)
        usual = CutNow(kind.seam, kind.hem)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.fields: dict[str, LengthField] = {}
        asked = [("seam", "Seams", usual.seam), ("hem", "Hems", usual.hem)]
        for name, words, value in [*asked, ("elastic", "Elastic", usual.elastic)] if casing else asked:
            field = LengthField(words, unit)
            field.edit.setFixedWidth(72)
            field.show_value(value, unit)
            box = QVBoxLayout()
            box.addWidget(label(words, "caption"))
            box.addWidget(field)
            row.addLayout(box)
            self.fields[name] = field
        row.addStretch(1)
        self.column.addLayout(row)
        self.cut = button("To paper…", self._to_paper)
        self.column.addWidget(self.cut)

    def choice(self) -> CutNow:
        """What is to be left round the outline, as typed."""
        values = {name: field.value for name, field in self.fields.items() if field.value is not None}
        return CutNow(**values) if "elastic" in values else CutNow(**values, elastic=0.0)

    def _to_paper(self) -> None:
        made = self.station.made
        if made is None or made.pattern is None:
            return
        pattern, choice = made.pattern, self.choice()
        if self.bench.edit("Cut this now", lambda d: ready_to_cut(d, pattern, choice)):
            for words in remarks(pattern, choice):
                self.bench.said.emit(words)
            self.station.paper_wanted.emit()

    def _sentence(self, ease: float | None, usual: float | None, estimated: bool) -> str:
        if ease is None:
            return "not measured on the wearer"
        unit = self.bench.unit
        words = f"{format_length(ease, unit, sign=True)} of ease" + (", the body's an estimate" if estimated else "")
        if usual is not None:
            words += f"; the block has {format_length(usual, unit, sign=True)} of itself"
        return words

    def _like(self, kind: Kind) -> None:
        made, person = self.station.made, self.bench.document.person
        if made is None or made.pattern is None:
            return
        name = f"the traced {kind.label.partition(',')[0].lower()}"
        try:
            liked = as_liked(name, made.pattern)
        except CaddetError as error:
            self.bench.said.emit(f"{error}.")
            return
        others = tuple(one for one in person.liked if one.name != name)
        if self.bench.edit(
            f"Fits {person.name}: {name}", lambda d: edits.change_person(d, person.name, liked=(*others, liked))
        ):
            self.bench.said.emit(f"Kept with {person.name}. Plan offers it under Fit: as {name}.")
