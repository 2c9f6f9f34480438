"""Draft: what are the basic shapes?"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QVBoxLayout, QWidget

from caddet.core.body.known import known_measures
from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError
from caddet.core.figures.language import Quantity
from caddet.core.geometry.paths import Path
from caddet.core.lengths import Unit
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import BlockSource
from caddet.core.recipe.planning import ease_of
from caddet.core.recipe.registry import Parameter, block_named
from caddet.core.recipe.values import Formula
from caddet.core.sentences import told
from caddet.core.tracing.tape import traced
from caddet.desk.later import later
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.stations.drafting.trace_page import TracePage
from caddet.desk.table.piece_item import Showing
from caddet.desk.tasks import Task
from caddet.desk.widgets.block_switch import BlockSwitch
from caddet.desk.widgets.fields import (
    BY_ITSELF,
    AmountField,
    Choices,
    LengthField,
    PickOne,
    hint,
    label,
    narrow_combo,
    read_number,
    show_number,
)
from caddet.desk.widgets.lines_field import LinesField
from caddet.desk.widgets.sum_row import SumRow

PAGES = (("block", "Block"), ("trace", "Trace"))
WHY_A_QUARTER = (
    "The draft is half a front. Two halves of front and two of back go round the body, so each takes a quarter of "
    "the finished girth. Click any figure for its sum; what you put in its place is marked as yours."
)
BY_WEARER = "by the wearer"  # of a length that nobody chose
NO_BLOCK = BlockSource(block="")  # of a garment that has outlines only


class DraftStation(Station):
    """The block's pieces with figures on them; options, ease and sums in the docket."""

    key, name = "draft", "Draft"
    paper_wanted = pyqtSignal()
    step_wanted = pyqtSignal(str)  # by its kind: Shape takes it up

    def build(self) -> None:
        """Build the docket, once."""
        self.page = "block"
        self.pages_choice = Choices("Part of Draft", PAGES)
        self.pages_choice.chosen.connect(self.show_page)
        self.pages_choice.show_choice(self.page)
        self.body.addWidget(self.pages_choice)
        self.block_page = QWidget()
        column = QVBoxLayout(self.block_page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.body.addWidget(self.block_page)
        self.sums_box = QVBoxLayout()
        self.sums_box.setSpacing(0)
        self.options_box = QGridLayout()
        self.options_box.setVerticalSpacing(2)
        self.beside = BlockSwitch(self._turn_to, self._take_out)
        column.addWidget(self.beside)
        self.school_box = QVBoxLayout()
        column.addLayout(self.school_box)
        self.sizes_head = label("Sizes and ease", "whyhead")
        column.addWidget(self.sizes_head)
        column.addLayout(self.options_box)
        self.laid = narrow_combo()
        self.laid.setAccessibleName("Lay another way over it")
        self.laid.activated.connect(lambda at: self.lay_over(str(self.laid.itemData(at))))
        self.laid_head = label("Lay over it, dashed", "caption")
        column.addWidget(self.laid_head)
        column.addWidget(self.laid)
        column.addSpacing(6)
        column.addWidget(label("Sums", "whyhead"))
        column.addLayout(self.sums_box)
        column.addSpacing(8)
        column.addWidget(label("Why a quarter?", "whyhead"))
        column.addWidget(label(WHY_A_QUARTER, "why", wrap=True))
        self.trace = TracePage(self)
        self.trace.hide()
        self.body.addWidget(self.trace)
        self.rows: dict[str, SumRow] = {}
        self.fields: dict[str, LengthField] = {}
        self.choices: dict[str, Choices | PickOne] = {}
        self.flags: dict[str, QCheckBox] = {}
        self.texts: dict[str, LinesField] = {}
        self.parts: dict[str, list[QWidget]] = {}
        self.over = ""
        self.task: Task | None = None
        self._asked: set[str] | None = None
        self._built: tuple[str, str, Unit] = ("", "", "cm")
        self._turned_to = ""
        self.table.figure_chosen.connect(self.open_figure)
        self.table.figure_dragged.connect(self._drag)
        self.table.figure_dropped.connect(self._drop)
        self._dragged_from: float | None = None

    def enter(self) -> None:
        """It is shown now: what is only traced is shown where it is traced."""
        if self.page == "block" and not self.bench.document.recipe.blocks and traced(self.bench.document):
            self.page = "trace"
            self._show_page()
        super().enter()

    def _show_page(self) -> None:
        self.pages_choice.show_choice(self.page)
        self.block_page.setVisible(self.page == "block")
        self.trace.setVisible(self.page == "trace")

    def show_page(self, page: str) -> None:
        """Go to the block, or to what is traced."""
        self.page = page
        self._show_page()
        self.table.forget_fit()
        self.refresh()
        self.draw()

    @property
    def chosen(self) -> BlockSource:
        """The block whose options and sums are shown: the one turned to, else the main one; without any, an empty one."""
        recipe = self.bench.document.recipe
        return recipe.block_source(self._turned_to) or recipe.main or NO_BLOCK

    @property
    def source(self) -> str:
        """The id of the block that is shown; empty for the main one."""
        return "" if self.chosen in (self.bench.document.recipe.main, NO_BLOCK) else self.chosen.id

    def _turn_to(self, source: str) -> None:
        """Show the options and sums of another of the blocks."""
        self._turned_to = source
        self.over = ""
        self.refresh()
        self.draw()

    def _take_out(self) -> None:
        """Take the shown block out of the garment; undo brings it back."""
        source, words = self.source, block_named(self.chosen.block).label
        self.bench.edit(f"{words} taken out", lambda d: edits.take_out_source(d, source))

    def _names(self) -> Mapping[str, Quantity]:
        """The measures that a formula in an option sees: all that are known of the wearer, not the figures."""
        found = known_measures(self.bench.document.person, MEASURES)
        return {code: Quantity(one.value, 1) for code, one in found.items() if one is not None}

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        if self.page == "trace":
            self.trace.refresh()
            return
        document = self.bench.document
        block, options = block_named(self.chosen.block), self.chosen.options
        self.aside.setText(block.label)
        self.beside.show_blocks(document.recipe.blocks, self.source)
        if (self.source, block.name, self.bench.unit) != self._built:
            self._built = (self.source, block.name, self.bench.unit)
            self._build_options()
        formulas = any(isinstance(value, Formula) for value in options.values())
        shown = block.shown_options(options, self._names() if formulas else {})
        for option in block.options:
            value = shown[option.name]
            if option.name in self.choices:
                self.choices[option.name].show_choice(str(value))
            elif option.name in self.flags:
                self.flags[option.name].blockSignals(True)
                self.flags[option.name].setChecked(bool(value))
                self.flags[option.name].blockSignals(False)
            elif option.name in self.texts:
                self.texts[option.name].show_text(str(value))
            elif option.name in self.fields:
                field = self.fields[option.name]
                field.show_value(float(value), self.bench.unit)
                chosen = options.get(option.name)
                if isinstance(field, AmountField):
                    text = chosen.text if isinstance(chosen, Formula) else ""
                    field.show_formula(text, BY_WEARER if text and text == option.begins else "")
        self.sizes_head.setVisible(bool(self.fields))
        self._show_asked({option.name for option in block.asked(options)})
        for level in block.ease:
            self.fields[f"ease_{level.level}"].show_value(ease_of(document, level, self.source), self.bench.unit)
        self._refresh_others()
        made = self.made
        if made is None:
            return
        sums = made.sums_of(self.source)
        if list(sums) != list(self.rows):
            self._build_sums()
        findings = {
            f.place.removeprefix("figures."): f.sentence for f in made.findings if f.place.startswith("figures.")
        }
        for name, row_ in self.rows.items():
            row_.show_sum(sums[name], self.bench.unit)
            if row_.unreadable:
                continue
            if name in findings:
                row_.complain(told(findings[name], self.bench.unit))
            elif not row_.formula.isModified():
                row_.complain("")

    def _build_options(self) -> None:
        empty(self.options_box)
        empty(self.school_box)
        self.fields, self.choices, self.flags, self.texts, self.parts = {}, {}, {}, {}, {}
        self._asked = None
        block, unit = block_named(self._built[1]), self._built[2]
        for option in block.options:
            if option.kind == "choice":
                self._add_choice(option, told(option.why, unit))
            elif option.kind == "flag":
                box = QCheckBox(option.label)
                box.setToolTip(hint(told(option.why, unit)))
                box.toggled.connect(partial(self._set_flag, option))
                self.flags[option.name] = box
                self.school_box.addWidget(box)
                self.parts[option.name] = [box]
            elif option.notes is not None:
                self._add_lines(option, told(option.why, unit))
            else:
                field = AmountField(option.label, unit)
                field.zero = BY_ITSELF if option.zero_by_itself else ""
                self._add_field(option.name, option.label, told(option.why, unit), field)
                field.entered.connect(partial(self._set_length, option))
                field.formula.connect(partial(self._set_formula, option))
                if option.kind != "length":
                    field.read, field.show_as = read_number, show_number
        for level in block.ease:
            words = f"Ease, {level.label.lower()}, all round"
            ease = LengthField(words, unit)
            self._add_field(
                f"ease_{level.level}",
                words,
                told(level.shared(ease_of(self.bench.document, level, self.source)), unit),
                ease,
            )
            ease.entered.connect(partial(self._set_ease, level.level))

    def _add_choice(self, option: Parameter, why: str) -> None:
        """A choice with the sentence why: side by side when the words fit, else one below the other."""
        lengths = [len(words) for _, words in option.choices]
        short = sum(lengths) <= 34 and max(lengths) <= 18
        chooser: Choices | PickOne = (
            Choices(option.label, option.choices) if short else PickOne(option.label, option.choices)
        )
        chooser.setToolTip(hint(why))
        chooser.chosen.connect(partial(self._set_choice, option))
        self.choices[option.name] = chooser
        self.parts[option.name] = [
            label(option.label, "caption"),
            chooser,
            *([label(why, "why", wrap=True)] if why else []),
        ]
        for part in self.parts[option.name]:
            self.school_box.addWidget(part)

    def _add_lines(self, option: Parameter, why: str) -> None:
        """A text in lines, each with what it comes to on the wearer."""
        notes = option.notes
        assert notes is not None
        field = LinesField(
            option.label, lambda text: notes(text, self._names(), Pattern()), self.bench.unit, option.wording
        )
        field.tried.connect(partial(self._try_text, option))
        field.entered.connect(partial(self._set_text, option))
        self.texts[option.name] = field
        self.parts[option.name] = [label(option.label, "whyhead"), label(why, "why", wrap=True), field]
        for part in self.parts[option.name]:
            self.school_box.addWidget(part)

    def _try_text(self, option: Parameter, text: str) -> None:
        """Show a text on the table while it is written; nothing is kept."""
        value = option.tagged(text)
        self.bench.preview(edits.set_option(self.bench.history.document, option.name, value, self.source))

    def _set_text(self, option: Parameter, text: str) -> None:
        self.bench.edit(option.label, lambda d: edits.set_option(d, option.name, option.tagged(text), self.source))

    def _add_field(self, name: str, words: str, why: str, field: LengthField) -> None:
        """A caption with its field below."""
        caption = label(words, "caption", wrap=True)
        caption.setToolTip(hint(why))
        field.edit.setToolTip(hint(why))
        self.fields[name] = field
        self.parts[name] = [caption, field]
        self._place_fields(list(self.fields)[-1:], len(self.fields) - 1)

    def _place_fields(self, names: Sequence[str], first: int = 0) -> None:
        """These fields, two in a row, from a place on."""
        for place, name in enumerate(names, first):
            line, column = place // 2 * 2, place % 2
            caption, field = self.parts[name]
            self.options_box.addWidget(caption, line, column, Qt.AlignmentFlag.AlignBottom)
            self.options_box.addWidget(field, line + 1, column, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)

    def _show_asked(self, asked: set[str]) -> None:
        """Hide what means nothing with the other choices."""
        if asked == self._asked:
            return
        self._asked = asked
        for name, parts in self.parts.items():
            for part in parts:
                part.setVisible(name in asked or name.startswith("ease_"))
        self._place_fields([name for name in self.fields if not self.fields[name].isHidden()])

    def _build_sums(self) -> None:
        empty(self.sums_box)
        self.rows = {}
        made = self.made
        for name, sum_ in (made.sums_of(self.source) if made else {}).items():
            row = SumRow(sum_, self.bench.unit)
            row.chosen.connect(partial(self._toggle, name))
            row.overridden.connect(self._override)
            row.tried.connect(self._try)
            self.rows[name] = row
            self.sums_box.addWidget(row)

    def _set_choice(self, option: Parameter, key: str) -> None:
        words = dict(option.choices)[key]
        self.bench.edit(f"{option.label}: {words}", lambda d: edits.set_option(d, option.name, key, self.source))

    def _set_flag(self, option: Parameter, on: bool) -> None:
        self.bench.edit(
            f"{option.label}: {'yes' if on else 'no'}", lambda d: edits.set_option(d, option.name, on, self.source)
        )

    def _set_length(self, option: Parameter, value: float) -> None:
        try:
            checked = option.checked(value)
        except CaddetError as error:
            self.fields[option.name].refuse(str(error))
            return
        self.bench.edit(option.label, lambda d: edits.set_option(d, option.name, checked, self.source))

    def _set_formula(self, option: Parameter, text: str) -> None:
        formula = Formula(text=text)
        try:
            option.plain(formula, self._names())
        except CaddetError as error:
            self.fields[option.name].refuse(str(error))
            return
        self.bench.edit(f"{option.label}: {text}", lambda d: edits.set_option(d, option.name, formula, self.source))

    def _set_ease(self, level: str, value: float) -> None:
        self.bench.edit(f"Ease at the {level}", lambda d: edits.set_ease(d, level, value, self.source))

    def _toggle(self, name: str) -> None:
        opened = self.rows[name].opened
        for other, row in self.rows.items():
            row.open(other == name and not opened)
        if opened:
            self.bench.preview(None)

    def open_figure(self, name: str) -> None:
        """Open the sum of a figure (clicked on the table, or found)."""
        if name not in self.rows:
            return
        for other, row in self.rows.items():
            row.open(other == name)
        row = self.rows[name]
        row.setFocus()
        self._reveal(row)

    def _reveal(self, row: QWidget) -> None:
        later(row, lambda: self.scroller.ensureWidgetVisible(row, 0, 60))

    def _try(self, name: str, formula: str | None) -> None:
        """Show a formula on the table while it is typed; nothing is kept."""
        if formula is None:
            self.bench.preview(None)
        else:
            self.bench.preview(edits.set_override(self.bench.history.document, name, formula, self.source))

    def _override(self, name: str, formula: str | None) -> None:
        label_ = self.rows[name].title.text()
        deed = f"{label_}: your own formula" if formula is not None else f"{label_}: taken back"
        row = self.rows[name]
        row.formula.setModified(False)
        self.bench.edit(deed, lambda d: edits.set_override(d, name, formula, self.source))

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        super().leave()
        for field in self.texts.values():
            field.settle()
        self.table.lay_over({})
        self.bench.preview(None)

    # --- figures pulled on the table ----------------------------------------------------------

    def _pulled(self, name: str, change: float) -> str | None:
        """The formula that a figure pulled by some mm would have; None when it is no length."""
        made = self.made
        sums = made.sums_of(self.source) if made is not None else {}
        if name not in sums or sums[name].figure.kind != "length":
            return None
        if self._dragged_from is None:
            self._dragged_from = sums[name].value
        value = max(self._dragged_from + change, 0.0)
        if self.bench.unit == "in":
            return f"{round(value / 25.4 * 8) / 8:g}in"
        return f"{round(value) / 10:g}cm"

    def _drag(self, name: str, change: float) -> None:
        formula = self._pulled(name, change)
        if formula is not None:
            self.bench.preview(edits.set_override(self.bench.history.document, name, formula, self.source))

    def _drop(self, name: str, change: float) -> None:
        formula = self._pulled(name, change)
        self._dragged_from = None
        if formula is None:
            self.bench.preview(None)
            return
        label_ = self.rows[name].title.text() if name in self.rows else name
        self.bench.edit(f"{label_}: pulled on the table", lambda d: edits.set_override(d, name, formula, self.source))

    # --- the other way laid over --------------------------------------------------------------

    def _others(self) -> list[tuple[str, str]]:
        """The other ways of working that can be laid over: option and choice as a key, and words."""
        block, options = block_named(self.chosen.block), self.chosen.options
        found = [("", "Nothing laid over")]
        formulas = any(isinstance(value, Formula) for value in options.values())
        shown = block.shown_options(options, self._names() if formulas else {})
        for option in block.asked(options):
            if option.kind == "choice":
                now = shown[option.name]
                found += [
                    (f"{option.name}={key}", f"{option.label}: {words.lower()}")
                    for key, words in option.choices
                    if key != now
                ]
        if self.chosen.overrides:
            found.append(("own formulas=", "Without your own formulas"))
        return found

    def _refresh_others(self) -> None:
        others = self._others()
        self.laid.setVisible(len(others) > 1)
        self.laid_head.setVisible(len(others) > 1)
        if [self.laid.itemData(i) for i in range(self.laid.count())] != [key for key, _ in others]:
            self.laid.blockSignals(True)
            self.laid.clear()
            for key, words in others:
                self.laid.addItem(words, key)
            index = next((i for i, (key, _) in enumerate(others) if key == self.over), 0)
            self.laid.setCurrentIndex(index)
            self.over = others[index][0]
            self.laid.blockSignals(False)

    def lay_over(self, key: str) -> None:
        """Lay the draft made another way over this one, dashed, to compare."""
        self.over = key
        index = self.laid.findData(key)
        if index >= 0:
            self.laid.setCurrentIndex(index)
        self.draw()

    def _lay_over(self) -> None:
        """Draft the other way off the main thread and show its outlines when they are there."""
        if self.task is not None:
            self.task.cancel()
            self.task = None
        if not self.over:
            self.table.lay_over({})
            return
        document = self.bench.document
        name, _, choice = self.over.partition("=")
        if name == "own formulas":
            other = document
            for figure in self.chosen.overrides:
                other = edits.set_override(other, figure, None, self.source)
        else:
            other = edits.set_option(document, name, choice, self.source)

        def show(outlines: dict[str, Path]) -> None:
            self.task = None
            if self.active and self.over:
                self.table.lay_over(outlines)

        def work(_: Task) -> dict[str, Path]:
            drafted = make(EvaluateRequest(other)).evaluated.drafted
            return {piece.name: piece.outline() for piece in drafted.pieces} if drafted is not None else {}

        self.task = self.bench.run(work, show, lambda error: self.bench.said.emit(str(error)), lambda _: None)

    def draw(self) -> None:
        """Lay its things on the table."""
        if self.page == "trace":
            self.trace.draw()
            return
        self.table.show_pattern(self.made, Showing(figures=not self.source, drafted=True))
        self._lay_over()
        for field in self.texts.values():
            self.table.show_points(field.notes)

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        made = self.made
        if made is None:
            return Status("")
        shaped = bool(made.evaluated.outcomes)  # girths as worn are then what the steps made of them
        wrong = sum(
            line.kind in ("closure", "gate")
            and line.verdict == "fails"
            and not (shaped and line.name.startswith("worn."))
            for line in made.proof
        )
        wrong += sum(finding.severity == "stops" for finding in made.findings)
        count = len(made.pattern.pieces) if made.pattern else 0
        return Status(f"{count} piece{'' if count == 1 else 's'}", wrong == 0 and count > 0, wrong)
