"""The sizes: which, by which way, laid on each other; what each says of itself; rules pulled, typed, read and written."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from caddet.core.body.sizes import SizeTable, shipped_table
from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Motion
from caddet.core.grading.nest import GradedSize
from caddet.core.grading.points import corners
from caddet.core.grading.sizes import base_size, chosen_sizes
from caddet.core.laying.sizes import ClothOf
from caddet.core.lengths import format_length
from caddet.core.pattern.piece import Piece
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.stations.grading.actions import NestActions
from caddet.desk.stations.grading.nest_item import Line, NestItem
from caddet.desk.stations.grading.rules_box import RulesBox
from caddet.desk.stations.grading.words import fill, said, span
from caddet.desk.widgets.fields import Choices, PickOne, Row, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.grade import GradeStation

WAYS = (("redraft", "Redrafted"), ("rules", "Rules"), ("measures", "Measures"))
TABLES = (("women", "Women, EN 13402"), ("men", "Men, EN 13402"), ("children", "Children, EN 13402"))
ACROSS = 5  # size buttons in a row


class NestPage(QWidget):
    """What is graded to what, and the nest of one piece."""

    def __init__(self, station: GradeStation) -> None:
        super().__init__()
        self.station, self.bench, self.table = station, station.bench, station.table
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.way = Choices("Made", WAYS)
        self.way.chosen.connect(lambda key: self.set_choices("Graded by", way=key))
        column.addWidget(self.way)
        self.tables = PickOne("Table of sizes", TABLES)
        self.tables.chosen.connect(lambda key: self.set_choices("Table of sizes", table=key, sizes=(), base=""))
        column.addWidget(self.tables)
        self.size_grid = QGridLayout()
        self.size_grid.setSpacing(4)
        column.addLayout(self.size_grid)
        self.size_buttons: dict[str, QPushButton] = {}
        self.base_head = label("The pattern is in size", "caption")
        self.base = PickOne("The pattern is in size", ())
        self.base.chosen.connect(lambda key: self.set_choices("Size of the pattern", base=key))
        column.addWidget(self.base_head)
        column.addWidget(self.base)
        self.people_box = QVBoxLayout()
        self.people_box.setSpacing(2)
        column.addLayout(self.people_box)
        self.people: dict[str, QCheckBox] = {}
        column.addWidget(label("Shown on the table", "whyhead"))
        self.pieces = PickOne("Piece", ())
        self.pieces.chosen.connect(self.show_piece)
        self.align = PickOne("Laid together at", ())
        self.align.chosen.connect(self.align_at)
        for words, box in (("Piece", self.pieces), ("Laid together at", self.align)):
            line = QHBoxLayout()
            line.addWidget(label(words, "caption"))
            line.addWidget(box, 1)
            column.addLayout(line)
        self.doing = NestActions(self)
        self.rules = RulesBox(self)
        column.addWidget(self.rules)
        self.list_head = label("Sizes", "whyhead")
        column.addWidget(self.list_head)
        self.rows_box = QVBoxLayout()
        self.rows_box.setSpacing(0)
        column.addLayout(self.rows_box)
        self.rows: dict[str, Row] = {}
        self.spread_head = label("From size to size", "whyhead")
        column.addWidget(self.spread_head)
        self.spreads = QGridLayout()
        self.spreads.setHorizontalSpacing(8)
        column.addLayout(self.spreads)
        self.cloth_button = button("Cloth for each size", self.doing.lay_sizes)
        self.near_button = button("Which is nearer?", self.doing.find_nearer)
        self.export_button = button("Export…", self.doing.ask_export)
        line = QHBoxLayout()
        line.addWidget(self.cloth_button)
        line.addWidget(self.export_button)
        column.addLayout(line)
        column.addWidget(self.near_button)
        self.near = label("", "working", wrap=True)
        self.near.hide()
        column.addWidget(self.near)
        self.piece, self.point = "", ""
        self.hidden: set[str] = set()
        self.cloth: dict[str, list[ClothOf]] = {}
        self.item: NestItem | None = None
        self.redrafted: GradedSize | None = None
        self._listed: object = None

    # --- the document -------------------------------------------------------------------------

    def set_choices(self, deed: str, **changes: object) -> None:
        """Keep other choices about sizes."""
        self.bench.edit(deed, lambda d: edits.set_grading(d, **changes))

    @property
    def size_table(self) -> SizeTable:
        """The table that is graded by."""
        return shipped_table(self.bench.document.grading.table)

    def _toggle_size(self, name: str, on: bool) -> None:
        names = [size.name for size in self.size_table.sizes]
        now = set(self.bench.document.grading.sizes or names)
        wanted = now | {name} if on else now - {name}
        if not wanted:
            self.bench.said.emit("One size has to stay.")
            self.size_buttons[name].setChecked(True)
            return
        self.set_choices("Sizes", sizes=() if len(wanted) == len(names) else tuple(n for n in names if n in wanted))

    def _toggle_person(self, name: str, on: bool) -> None:
        now = [one for one in self.bench.document.grading.people if one != name]
        self.set_choices(f"{'With' if on else 'Without'} {name}", people=(*now, name) if on else tuple(now))

    # --- keeping up ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the document and the nest on this page."""
        document = self.bench.document
        grading = document.grading
        self.way.show_choice(grading.way)
        self.tables.show_choice(grading.table)
        self._refresh_sizes(document)
        self._refresh_people(document)
        nest = self.station.nest
        names = nest.pieces() if nest is not None else []
        labels = self._labels()
        fill(self.pieces, [(name, labels.get(name, name)) for name in names], self.piece)
        self.piece = str(self.pieces.currentData() or "")
        points = nest.points(self.piece) if nest is not None and self.piece else []
        fill(self.align, [("", "As drafted"), *((one, said(one)) for one in points)], self.point)
        self.point = str(self.align.currentData() or "")
        self.rules.show_points(points)
        self.refresh_rows()
        self._refresh_spreads()

    def _labels(self) -> dict[str, str]:
        nest = self.station.nest
        sizes = (nest.base, *nest.sizes) if nest is not None else ()
        return {p.name: str(p.label) for one in reversed(sizes) if one.pattern is not None for p in one.pattern.pieces}

    def _refresh_sizes(self, document: Document) -> None:
        names = [size.name for size in self.size_table.sizes]
        if list(self.size_buttons) != names:
            empty(self.size_grid)
            self.size_buttons = {}
            for number, name in enumerate(names):
                one = QPushButton(name)
                one.setObjectName("choice")
                one.setCheckable(True)
                one.setMinimumWidth(10)
                one.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
                one.setAccessibleName(f"Size {name}")
                one.clicked.connect(partial(self._toggle_size, name))
                self.size_buttons[name] = one
                self.size_grid.addWidget(one, number // ACROSS, number % ACROSS)
        try:
            chosen = chosen_sizes(document, self.size_table)
        except CaddetError:
            chosen = tuple(names)
        for name, one in self.size_buttons.items():
            one.setChecked(name in chosen)
        ruled = document.grading.way != "redraft"
        for part in (self.base_head, self.base):
            part.setVisible(ruled)
        if ruled:
            fill(self.base, [(name, name) for name in chosen], base_size(document, self.size_table))

    def _refresh_people(self, document: Document) -> None:
        names = [person.name for person in document.people]
        if list(self.people) != names:
            empty(self.people_box)
            self.people = {}
            self.people_box.addWidget(label("And for", "caption"))
            for name in names:
                tick = QCheckBox(name)
                tick.toggled.connect(partial(self._toggle_person, name))
                self.people[name] = tick
                self.people_box.addWidget(tick)
        for name, tick in self.people.items():
            tick.blockSignals(True)
            tick.setChecked(name in document.grading.people)
            tick.blockSignals(False)

    def refresh_rows(self) -> None:
        """Show what each size says of itself, and the cloth it takes."""
        nest = self.station.nest
        state = (nest, frozenset(self.hidden), repr(self.cloth), self.bench.unit)
        if state == self._listed:
            return
        self._listed = state
        empty(self.rows_box)
        self.rows = {}
        for one in nest.sizes if nest is not None else ():
            row = Row(one.name + ("  (the pattern)" if one.base else ""))
            row.setToolTip("Click to leave it out of the picture, again to show it")
            row.chosen.connect(partial(self.toggle_shown, one.name))
            said = [told(f.sentence, self.bench.unit) for f in one.findings]
            words = (
                "every seam meets"
                if not said
                else "; ".join(said[:2]) + (f" and {len(said) - 2} more" if len(said) > 2 else "")
            )
            row.set_sub(("✓ " if not said else "! ") + words + (" (not shown)" if one.name in self.hidden else ""))
            row.sub.setObjectName("good" if not said else "bad" if one.fails else "working")
            bought = [c for c in self.cloth.get(one.name, []) if not c.refusal]
            if bought:
                row.top.addWidget(label(format_length(bought[0].buy, self.bench.unit, with_unit=True), "value"))
            self.rows[one.name] = row
            self.rows_box.addWidget(row)

    def _refresh_spreads(self) -> None:
        empty(self.spreads)
        nest = self.station.nest
        some = nest is not None and bool(self.piece) and len(nest.sizes) > 1
        self.spread_head.setVisible(some)
        if nest is None or not some:
            return
        unit = self.bench.unit
        for number, row in enumerate(nest.spreads(self.piece, self.point)):
            moves = [move for move in row.moves if move is not None]
            across, down = ([getattr(move, part) for move in moves] for part in ("real", "imag"))
            self.spreads.addWidget(label(said(row.point), "working", wrap=True), number, 0)
            self.spreads.addWidget(label(f"→ {span(across, unit)}", "working"), number, 1)
            self.spreads.addWidget(label(f"↓ {span(down, unit)}", "working"), number, 2)

    # --- the table ----------------------------------------------------------------------------

    def show_piece(self, name: str) -> None:
        """Show the nest of another piece."""
        self.piece, self.point = name, ""
        self.refresh()
        self.table.forget_fit()
        self.draw()

    def align_at(self, point: str) -> None:
        """Lay the sizes together at another corner."""
        self.point = point
        self.refresh()
        self.draw()

    def toggle_shown(self, size: str) -> None:
        """Leave a size out of the picture, or show it again."""
        self.hidden ^= {size}
        self.refresh()
        self.draw()

    def draw(self) -> None:
        """The nest of the piece, with rings on the next size when rules are made."""
        nest = self.station.nest
        if nest is None or not self.piece:
            self.table.show_own([])
            self.table.say_beside("" if self.station.wrong.text() else "The sizes are being made.")
            return
        self.table.say_beside("")
        self.item = NestItem(self._labels().get(self.piece, self.piece), self._lines())
        rings = self.rules.rings() if self.bench.document.grading.way == "rules" else []
        self.table.show_own([self.item, *rings], fit=not self.table.fitted)

    def _lines(self) -> list[Line]:
        nest = self.station.nest
        assert nest is not None
        placed = nest.aligned(self.piece, self.point)
        order = [one.name for one in nest.sizes]
        base = order.index(nest.base.name)
        found = []
        shown = [
            one
            for one in nest.sizes
            if one.pattern is not None and one.pattern.has(self.piece) and one.name not in self.hidden
        ]
        for one in shown:
            assert one.pattern is not None
            piece = one.pattern.piece(self.piece)
            kind = (
                "base"
                if one.base
                else "person"
                if one.person is not None and one.name not in self.size_buttons
                else "larger"
                if order.index(one.name) > base
                else "smaller"
            )
            found.append(self.line_of(one.name, piece, placed.get(one.name, Motion()), kind))
        if self.redrafted is not None and self.redrafted.pattern is not None and self.redrafted.pattern.has(self.piece):
            found.append(
                self.line_of(
                    f"{self.redrafted.name}, drafted", self.redrafted.pattern.piece(self.piece), Motion(), "bad"
                )
            )
        return found

    def line_of(self, name: str, piece: Piece, motion: Motion, kind: str) -> Line:
        """The outline of a size, its name at the corner farthest out."""
        far = max((c.at for c in corners(piece)), key=lambda at: at.real + at.imag * 0.3, default=0j)
        return Line(name, piece.outline().moved(motion), motion(far), kind)
