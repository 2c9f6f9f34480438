"""The rules of a piece: pulled by rings on the table, typed, read off the drafted sizes, from a file and into one."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from caddet.core.errors import CaddetError, some
from caddet.core.files.reading import read_text
from caddet.core.files.writing import write_whole
from caddet.core.geometry.segments import Motion, Point
from caddet.core.grading.moving import moved_at_corners
from caddet.core.grading.points import corners
from caddet.core.grading.rules import Derived, RuleTable
from caddet.core.grading.rules_csv import read_rules, rules_text
from caddet.core.grading.sizes import base_size, chosen_sizes, derived_rules
from caddet.core.recipe import edits
from caddet.core.recipe.grading import GradeRule
from caddet.core.sentences import told
from caddet.desk.stations.grading.nest_item import CornerRing
from caddet.desk.stations.grading.words import fill, said
from caddet.desk.widgets.fields import LengthField, PickOne, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.grading.nest_page import NestPage


class RulesBox(QWidget):
    """The step that is shown, its rules, and where they come from."""

    def __init__(self, page: NestPage) -> None:
        super().__init__()
        self.page, self.bench = page, page.bench
        self.step = 0
        column = QVBoxLayout(self)
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

    def rules(self) -> RuleTable | None:
        """The project's rules over the chosen sizes; None when these can't be used."""
        document = self.bench.document
        try:
            return RuleTable(
                chosen_sizes(document, self.page.size_table),
                base_size(document, self.page.size_table),
                document.grading.rules,
            )
        except CaddetError:
            return None

    def show_points(self, points: list[str]) -> None:
        """Show the rules of the piece that has these corners."""
        ruled = self.bench.document.grading.way == "rules"
        self.setVisible(ruled)
        table = self.rules()
        if not ruled or table is None:
            return
        steps = [f"{a} → {b}" for a, b in pairwise(table.sizes)]
        self.step = min(self.step, max(len(steps) - 1, 0))
        fill(self.steps, [(str(n), words) for n, words in enumerate(steps)], str(self.step))
        fill(self.corner, [(one, said(one)) for one in points], str(self.corner.currentData() or ""))
        self._show_rule()

    def _choose_step(self, key: str) -> None:
        self.step = int(key or 0)
        self._show_rule()
        self.page.draw()

    def rule_at(self, point: str) -> GradeRule | None:
        """The rule of a corner for the step that is shown, as it is or as it would begin."""
        table = self.rules()
        if table is None or len(table.sizes) < 2 or not self.page.piece or not point:
            return None
        for rule in table.rules:
            if (rule.piece, rule.point) == (self.page.piece, point) and table.number(
                rule.first
            ) <= self.step < table.number(rule.last):
                return rule
        ruled = any((rule.piece, rule.point) == (self.page.piece, point) for rule in table.rules)
        first, last = (
            (table.sizes[self.step], table.sizes[self.step + 1]) if ruled else (table.sizes[0], table.sizes[-1])
        )
        return GradeRule(piece=self.page.piece, point=point, first=first, last=last)

    def _show_rule(self) -> None:
        rule = self.rule_at(str(self.corner.currentData() or ""))
        for field, value in ((self.dx, rule.dx if rule else 0.0), (self.dy, rule.dy if rule else 0.0)):
            field.setEnabled(rule is not None)
            field.show_value(value, self.bench.unit)

    def _typed(self) -> None:
        rule = self.rule_at(str(self.corner.currentData() or ""))
        if rule is not None:
            changed = rule.model_copy(update={"dx": self.dx.value or 0.0, "dy": self.dy.value or 0.0})
            self.bench.edit(f"Rule of {said(rule.point)}", lambda d: edits.set_rule(d, changed))

    def rings(self) -> list[CornerRing]:
        """A ring on every corner of the size after the chosen step."""
        nest, table = self.page.station.nest, self.rules()
        if nest is None or table is None or len(table.sizes) < 2:
            return []
        size = next((one for one in nest.sizes if one.name == table.sizes[self.step + 1]), None)
        if (
            size is None
            or size.pattern is None
            or not size.pattern.has(self.page.piece)
            or size.name in self.page.hidden
        ):
            return []
        motion = nest.aligned(self.page.piece, self.page.point).get(size.name, Motion())
        return [
            CornerRing(one.name, motion(one.at), self.pull, self.drop)
            for one in corners(size.pattern.piece(self.page.piece))
        ]

    def _pulled(self, point: str, by: Point) -> GradeRule | None:
        """The rule of a corner when the ring of the size after the step is pulled by so much."""
        rule, table = self.rule_at(point), self.rules()
        if rule is None or table is None:
            return None
        at, base = self.step + 1, table.number(table.base)
        low, high = table.number(rule.first), table.number(rule.last)
        times = max(min(high, at) - max(low, base), 0) - max(min(high, base) - max(low, at), 0)
        share = by / times if times else by
        return rule.model_copy(update={"dx": round(rule.dx + share.real, 3), "dy": round(rule.dy + share.imag, 3)})

    def pull(self, point: str, by: Point) -> None:
        """Show every size as it would be, while a ring is pulled; nothing is kept."""
        changed, table, nest = self._pulled(point, by), self.rules(), self.page.station.nest
        if changed is None or table is None or nest is None or self.page.item is None or nest.base.pattern is None:
            return
        after = RuleTable(table.sizes, table.base, edits.set_rule(self.bench.document, changed).grading.rules)
        piece = nest.base.pattern.piece(self.page.piece)
        kinds = {line.name: line for line in self.page.item.lines}
        lines = []
        for name, line in kinds.items():
            if name not in table.sizes:
                lines.append(line)
                continue
            moved = moved_at_corners(piece, after.moves(name).get(self.page.piece, {}))
            lines.append(
                self.page.line_of(
                    name, moved, nest.aligned(self.page.piece, self.page.point).get(name, Motion()), line.kind
                )
            )
        self.page.item.show_lines(lines)

    def drop(self, point: str, by: Point) -> None:
        """Keep the rule that a ring was pulled to."""
        changed = self._pulled(point, by)
        if changed is not None:
            fill(
                self.corner,
                [(self.corner.itemData(n), self.corner.itemText(n)) for n in range(self.corner.count())],
                point,
            )
            self.bench.edit(f"Rule of {said(point)}", lambda d: edits.set_rule(d, changed))

    def derive(self) -> None:
        """Read the rules off the sizes as they are drafted, off the main thread."""
        document = self.bench.document

        def done(found: Derived) -> None:
            if not found.rules:
                self.bench.said.emit(
                    "No rules could be read off: these pieces are not drafted, or no two sizes are alike."
                )
                return
            self.page.set_choices("Rules read off the drafts", rules=found.rules)
            self.bench.said.emit(
                f"{len(found.rules)} rules."
                + (f" {told(found.findings[0].sentence, self.bench.unit)}" if found.findings else "")
            )

        self.page.doing.start(lambda task: derived_rules(document, stopped=task.is_cancelled), done)

    def ask_rules(self) -> None:
        """Ask for a file of rules and take them."""
        name, _ = QFileDialog.getOpenFileName(self, "Rules", "", "Rules (*.csv)")
        if name:
            self.take_rules(Path(name))

    def take_rules(self, file: Path) -> None:
        """Take the rules of a file. What can't be used is said with its line."""
        try:
            found = read_rules(read_text(file), file.name)
        except CaddetError as error:
            self.bench.said.emit(told(str(error), self.bench.unit))
            return
        names = [size.name for size in self.page.size_table.sizes]
        missing = [name for name in found.sizes if name not in names]
        if missing:
            self.bench.said.emit(f"{self.page.size_table.name} has no size “{missing[0]}”; it has {some(names)}.")
            return
        self.page.set_choices("Rules from a file", way="rules", rules=found.rules, sizes=found.sizes, base=found.base)

    def ask_save_rules(self) -> None:
        """Ask where to, and write the rules."""
        name, _ = QFileDialog.getSaveFileName(self, "Rules", "rules.csv", "Rules (*.csv)")
        table = self.rules()
        if name and table is not None:
            try:
                write_whole(Path(name), rules_text(table).encode())
            except (OSError, CaddetError) as error:
                self.bench.said.emit(str(error))
