"""The sizes: which, by which way, laid on each other; what each says of itself; rules pulled, typed, read and written."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from caddet.core.body.sizes import SizeTable, shipped_table
from caddet.core.errors import CaddetError
from caddet.core.formats.files import write_whole
from caddet.core.geometry.segments import Motion, Point
from caddet.core.grading.moving import moved_at_corners
from caddet.core.grading.nest import GradedSize, nearer
from caddet.core.grading.points import corners
from caddet.core.grading.rules import Derived, RuleTable
from caddet.core.grading.rules_csv import read_rules, rules_text
from caddet.core.grading.sizes import as_outlines, base_size, chosen_sizes, derived_rules, for_person, redrafted
from caddet.core.laying.sizes import ClothOf, cloth_of
from caddet.core.lengths import Unit, format_length
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.recipe.grading import GradeRule
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.stations.grading.exporting import export_sizes
from caddet.desk.stations.grading.nest_item import CornerRing, Line, NestItem
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import Choices, LengthField, PickOne, Row, button, label

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
        self.way.chosen.connect(lambda key: self._set("Graded by", way=key))
        column.addWidget(self.way)
        self.tables = PickOne("Table of sizes", TABLES)
        self.tables.chosen.connect(lambda key: self._set("Table of sizes", table=key, sizes=(), base=""))
        column.addWidget(self.tables)
        self.size_grid = QGridLayout()
        self.size_grid.setSpacing(4)
        column.addLayout(self.size_grid)
        self.size_buttons: dict[str, QPushButton] = {}
        self.base_head = label("The pattern is in size", "caption")
        self.base = PickOne("The pattern is in size", ())
        self.base.chosen.connect(lambda key: self._set("Size of the pattern", base=key))
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
        self.rule_box = QWidget()
        column.addWidget(self.rule_box)
        self._build_rules()
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
        self.cloth_button = button("Cloth for each size", self.lay_sizes)
        self.near_button = button("Which is nearer?", self.find_nearer)
        self.export_button = button("Export…", self.ask_export)
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
        self.step = 0
        self.tasks: list[Task] = []
        self.item: NestItem | None = None
        self._redrafted: GradedSize | None = None
        self._listed: object = None

    def _build_rules(self) -> None:
        column = QVBoxLayout(self.rule_box)
        column.setContentsMargins(0, 4, 0, 4)
        column.setSpacing(4)
        column.addWidget(label("Rules", "whyhead"))
        column.addWidget(
            label(
                "Pull a ring on the table: that corner of the next size goes along, and so do the others of its range.",
                "faint",
                wrap=True,
            )
        )
        line = QHBoxLayout()
        self.steps = PickOne("Step", ())
        self.steps.chosen.connect(self._choose_step)
        line.addWidget(label("Step", "caption"))
        line.addWidget(self.steps, 1)
        column.addLayout(line)
        line = QHBoxLayout()
        self.corner = PickOne("Corner", ())
        self.corner.chosen.connect(lambda _: self._show_rule())
        line.addWidget(label("Corner", "caption"))
        line.addWidget(self.corner, 1)
        column.addLayout(line)
        grid = QGridLayout()
        self.dx, self.dy = (LengthField(words, self.bench.unit) for words in ("To the right", "Down"))
        for place, (words, field) in enumerate((("To the right, a size", self.dx), ("Down, a size", self.dy))):
            field.entered.connect(lambda _: self._typed())
            grid.addWidget(label(words, "caption"), 0, place)
            grid.addWidget(field, 1, place)
        column.addLayout(grid)
        self.derive_button = button("Read off the drafted sizes", self.derive)
        self.derive_button.setToolTip("The rules that the sizes come to when each is drafted again")
        column.addWidget(self.derive_button)
        line = QHBoxLayout()
        line.addWidget(button("Open…", self.ask_rules))
        line.addWidget(button("Save…", self.ask_save_rules))
        column.addLayout(line)

    # --- the document -------------------------------------------------------------------------

    def _set(self, deed: str, **changes: object) -> None:
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
        self._set("Sizes", sizes=() if len(wanted) == len(names) else tuple(n for n in names if n in wanted))

    def _toggle_person(self, name: str, on: bool) -> None:
        now = [one for one in self.bench.document.grading.people if one != name]
        self._set(f"{'With' if on else 'Without'} {name}", people=(*now, name) if on else tuple(now))

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
        _fill(self.pieces, [(name, labels.get(name, name)) for name in names], self.piece)
        self.piece = str(self.pieces.currentData() or "")
        points = nest.points(self.piece) if nest is not None and self.piece else []
        _fill(self.align, [("", "As drafted"), *((one, _said(one)) for one in points)], self.point)
        self.point = str(self.align.currentData() or "")
        self._refresh_rules(points)
        self._refresh_rows()
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
            _fill(self.base, [(name, name) for name in chosen], base_size(document, self.size_table))

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

    def _refresh_rows(self) -> None:
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
            self.spreads.addWidget(label(_said(row.point), "working", wrap=True), number, 0)
            self.spreads.addWidget(label(f"→ {_span(across, unit)}", "working"), number, 1)
            self.spreads.addWidget(label(f"↓ {_span(down, unit)}", "working"), number, 2)

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
        rings = self._rings() if self.bench.document.grading.way == "rules" else []
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
            found.append(self._line(one.name, piece, placed.get(one.name, Motion()), kind))
        if (
            self._redrafted is not None
            and self._redrafted.pattern is not None
            and self._redrafted.pattern.has(self.piece)
        ):
            found.append(
                self._line(
                    f"{self._redrafted.name}, drafted", self._redrafted.pattern.piece(self.piece), Motion(), "bad"
                )
            )
        return found

    def _line(self, name: str, piece: object, motion: Motion, kind: str) -> Line:
        from caddet.core.pattern.piece import Piece

        assert isinstance(piece, Piece)
        far = max((c.at for c in corners(piece)), key=lambda at: at.real + at.imag * 0.3, default=0j)
        return Line(name, piece.outline().moved(motion), motion(far), kind)

    # --- rules --------------------------------------------------------------------------------

    def _rules(self) -> RuleTable | None:
        document = self.bench.document
        try:
            return RuleTable(
                chosen_sizes(document, self.size_table), base_size(document, self.size_table), document.grading.rules
            )
        except CaddetError:
            return None

    def _refresh_rules(self, points: list[str]) -> None:
        ruled = self.bench.document.grading.way == "rules"
        self.rule_box.setVisible(ruled)
        table = self._rules()
        if not ruled or table is None:
            return
        steps = [f"{a} → {b}" for a, b in zip(table.sizes, table.sizes[1:], strict=False)]
        self.step = min(self.step, max(len(steps) - 1, 0))
        _fill(self.steps, [(str(n), words) for n, words in enumerate(steps)], str(self.step))
        _fill(self.corner, [(one, _said(one)) for one in points], str(self.corner.currentData() or ""))
        self._show_rule()

    def _choose_step(self, key: str) -> None:
        self.step = int(key or 0)
        self._show_rule()
        self.draw()

    def rule_at(self, point: str) -> GradeRule | None:
        """The rule of a corner for the step that is shown, as it is or as it would begin."""
        table = self._rules()
        if table is None or len(table.sizes) < 2:
            return None
        for rule in table.rules:
            if (rule.piece, rule.point) == (self.piece, point) and table.number(rule.first) <= self.step < table.number(
                rule.last
            ):
                return rule
        ruled = any((rule.piece, rule.point) == (self.piece, point) for rule in table.rules)
        first, last = (
            (table.sizes[self.step], table.sizes[self.step + 1]) if ruled else (table.sizes[0], table.sizes[-1])
        )
        return GradeRule(piece=self.piece, point=point, first=first, last=last)

    def _show_rule(self) -> None:
        rule = self.rule_at(str(self.corner.currentData() or ""))
        for field, value in ((self.dx, rule.dx if rule else 0.0), (self.dy, rule.dy if rule else 0.0)):
            field.setEnabled(rule is not None)
            field.show_value(value, self.bench.unit)

    def _typed(self) -> None:
        rule = self.rule_at(str(self.corner.currentData() or ""))
        if rule is not None:
            changed = rule.model_copy(update={"dx": self.dx.value or 0.0, "dy": self.dy.value or 0.0})
            self.bench.edit(f"Rule of {_said(rule.point)}", lambda d: edits.set_rule(d, changed))

    def _rings(self) -> list[CornerRing]:
        """A ring on every corner of the size after the chosen step."""
        nest, table = self.station.nest, self._rules()
        if nest is None or table is None or len(table.sizes) < 2:
            return []
        size = next((one for one in nest.sizes if one.name == table.sizes[self.step + 1]), None)
        if size is None or size.pattern is None or not size.pattern.has(self.piece) or size.name in self.hidden:
            return []
        motion = nest.aligned(self.piece, self.point).get(size.name, Motion())
        return [
            CornerRing(one.name, motion(one.at), self.pull, self.drop)
            for one in corners(size.pattern.piece(self.piece))
        ]

    def _pulled(self, point: str, by: Point) -> GradeRule | None:
        """The rule of a corner when the ring of the size after the step is pulled by so much."""
        rule, table = self.rule_at(point), self._rules()
        if rule is None or table is None:
            return None
        at, base = self.step + 1, table.number(table.base)
        low, high = table.number(rule.first), table.number(rule.last)
        times = max(min(high, at) - max(low, base), 0) - max(min(high, base) - max(low, at), 0)
        share = by / times if times else by
        return rule.model_copy(update={"dx": round(rule.dx + share.real, 3), "dy": round(rule.dy + share.imag, 3)})

    def pull(self, point: str, by: Point) -> None:
        """Show every size as it would be, while a ring is pulled; nothing is kept."""
        changed, table, nest = self._pulled(point, by), self._rules(), self.station.nest
        if changed is None or table is None or nest is None or self.item is None or nest.base.pattern is None:
            return
        after = RuleTable(table.sizes, table.base, edits.set_rule(self.bench.document, changed).grading.rules)
        piece = nest.base.pattern.piece(self.piece)
        kinds = {line.name: line for line in self.item.lines}
        lines = []
        for name, line in kinds.items():
            if name not in table.sizes:
                lines.append(line)
                continue
            moved = moved_at_corners(piece, after.moves(name).get(self.piece, {}))
            lines.append(self._line(name, moved, nest.aligned(self.piece, self.point).get(name, Motion()), line.kind))
        self.item.show_lines(lines)

    def drop(self, point: str, by: Point) -> None:
        """Keep the rule that a ring was pulled to."""
        changed = self._pulled(point, by)
        if changed is not None:
            _fill(
                self.corner,
                [(self.corner.itemData(n), self.corner.itemText(n)) for n in range(self.corner.count())],
                point,
            )
            self.bench.edit(f"Rule of {_said(point)}", lambda d: edits.set_rule(d, changed))

    def derive(self) -> None:
        """Read the rules off the sizes as they are drafted, off the main thread."""
        document = self.bench.document

        def done(found: Derived) -> None:
            if not found.rules:
                self.bench.said.emit(
                    "No rules could be read off: these pieces are not drafted, or no two sizes are alike."
                )
                return
            self._set("Rules read off the drafts", rules=found.rules)
            self.bench.said.emit(
                f"{len(found.rules)} rules."
                + (f" {told(found.findings[0].sentence, self.bench.unit)}" if found.findings else "")
            )

        self._start(lambda _: derived_rules(document), done)

    def ask_rules(self) -> None:
        """Ask for a file of rules and take them."""
        name, _ = QFileDialog.getOpenFileName(self, "Rules", "", "Rules (*.csv)")
        if name:
            self.take_rules(Path(name))

    def take_rules(self, file: Path) -> None:
        """Take the rules of a file. What can't be used is said with its line."""
        try:
            found = read_rules(file.read_text(encoding="utf-8-sig"), file.name)
        except (OSError, UnicodeDecodeError, CaddetError) as error:
            self.bench.said.emit(told(str(error), self.bench.unit))
            return
        names = [size.name for size in self.size_table.sizes]
        missing = [name for name in found.sizes if name not in names]
        if missing:
            self.bench.said.emit(f"{self.size_table.name} has no size “{missing[0]}”; it has {', '.join(names)}.")
            return
        self._set("Rules from a file", way="rules", rules=found.rules, sizes=found.sizes, base=found.base)

    def ask_save_rules(self) -> None:
        """Ask where to, and write the rules."""
        name, _ = QFileDialog.getSaveFileName(self, "Rules", "rules.csv", "Rules (*.csv)")
        table = self._rules()
        if name and table is not None:
            try:
                write_whole(Path(name), rules_text(table).encode())
            except (OSError, CaddetError) as error:
                self.bench.said.emit(str(error))

    # --- cloth, nearer, export ----------------------------------------------------------------

    def _start(self, work: Callable[[Task], Any], done: Callable[[Any], object]) -> None:
        """Other work off the main thread, with its faults said."""
        self.tasks = [one for one in self.tasks if not one.cancelled]
        task = self.bench.run(
            work, done, lambda error: self.bench.said.emit(told(str(error), self.bench.unit)), lambda _: None
        )
        self.tasks.append(task)

    def lay_sizes(self) -> None:
        """Lay every size, one after the other, and show what each takes as it comes."""
        nest, document = self.station.nest, self.bench.document
        if nest is None:
            return
        self.station.progress.setRange(0, len(nest.sizes))
        self.station.progress.setValue(0)
        self.station.progress.show()

        def work(task: Task) -> None:
            for number, one in enumerate(nest.sizes, 1):
                if task.cancelled:
                    return
                task.report((number, one.name, list(cloth_of(document, one))))

        def progressed(report: tuple[int, str, list[ClothOf]]) -> None:
            number, name, found = report
            self.cloth[name] = found
            self.station.progress.setValue(number)
            self._refresh_rows()

        def failed(error: Exception) -> None:
            self.station.progress.hide()
            self.bench.said.emit(told(str(error), self.bench.unit))

        self.tasks.append(self.bench.run(work, lambda _: self.station.progress.hide(), failed, progressed))

    def find_nearer(self) -> None:
        """Which size lies nearest to the wearer drafted again, and where they differ most; both shown."""
        nest, document = self.station.nest, self.bench.document
        if nest is None:
            return
        who = document.person

        def done(found: GradedSize) -> None:
            sizes = [one for one in nest.sizes if one.name in self.size_buttons]
            best = nearer(found.pattern, sizes) if found.pattern is not None else None
            self.near.show()
            if best is None:
                self.near.setText(f"{who.name} can't be drafted, so there is nothing to compare.")
                return
            size, where = best
            self._redrafted = found
            unit = self.bench.unit
            worst = "; ".join(f"{one.label} {format_length(one.by, unit, with_unit=True)}" for one in where[:3])
            close = where[0].by < 10
            self.near.setText(
                f"Size {size.name} is nearest to {who.name}. At most apart: {worst}. "
                + ("It will do as it is." if close else "Drafted again is nearer than any size: take that.")
            )
            self.show_piece(where[0].piece if nest.pieces() and where[0].piece in nest.pieces() else self.piece)

        self._start(lambda _: redrafted(document, who), done)

    def ask_export(self) -> None:
        """Ask for a folder, and write every size that is shown into it."""
        folder = QFileDialog.getExistingDirectory(self, "Folder for the sizes")
        if folder:
            self.export_into(Path(folder), ".pdf")

    def export_into(self, folder: Path, ending: str) -> None:
        """Write every size that is shown as a project and in a format, off the main thread."""
        nest, document = self.station.nest, self.bench.document
        if nest is None:
            return
        redraft = document.grading.way == "redraft"
        wanted = []
        for one in nest.sizes:
            if one.name not in self.hidden and one.pattern is not None:
                made = (
                    for_person(document, one.person)
                    if redraft and one.person is not None
                    else as_outlines(document, one)
                )
                wanted.append((one.name, made))
        self.station.progress.setRange(0, len(wanted))
        self.station.progress.show()

        def done(count: int) -> None:
            self.station.progress.hide()
            self.bench.said.emit(f"{count} size{'' if count == 1 else 's'} written into {folder}.")

        def failed(error: Exception) -> None:
            self.station.progress.hide()
            self.bench.said.emit(told(str(error), self.bench.unit))

        self.tasks.append(
            self.bench.run(
                lambda task: export_sizes(wanted, folder, ending, task), done, failed, self.station.progress.setValue
            )
        )

    def stop(self) -> None:
        """Stop what it works on."""
        for task in self.tasks:
            task.cancel()
        self.tasks = []


def _span(values: list[float], unit: Unit) -> str:
    """The least and the most of some amounts, as one where they are alike."""
    if not values:
        return "–"
    low, high = (round(edge, 1) for edge in (min(values), max(values)))
    told_ = [f"{mm / 25.4:+.2f}" if unit == "in" else f"{mm / 10:+.2f}" for mm in (low, high)]
    return told_[0] if told_[0] == told_[1] else f"{told_[0]} … {told_[1]}"


def _said(point: str) -> str:
    """A cardinal point as a maker says it: ``side-hem`` is *side, hem*."""
    return point.replace("_", " ").replace("-", ", ").replace(".point", ", point")


def _fill(box: PickOne, entries: list[tuple[str, str]], chosen: str) -> None:
    """Fill a list, if it is another now, and choose an entry of it (else the first)."""
    if [(box.itemData(n), box.itemText(n)) for n in range(box.count())] != entries:
        box.blockSignals(True)
        box.clear()
        for key, words in entries:
            box.addItem(words, key)
        box.blockSignals(False)
    index = box.findData(chosen)
    box.setCurrentIndex(max(index, 0) if entries else -1)


__all__ = ["NestPage"]
