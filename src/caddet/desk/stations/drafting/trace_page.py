"""Trace: a garment that fits, reading by reading with the tape."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.errors import CaddetError
from caddet.core.lengths import format_length, parse_length
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Recipe, TracedSource
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.traced import PhotoTracing, Reading, TapeTracing
from caddet.core.sentences import told
from caddet.core.tracing.kinds import KINDS, Asked, Kind, kind_named
from caddet.core.tracing.outlining import findings_of
from caddet.core.tracing.rubbed_off import rubbed_off
from caddet.core.tracing.solving import Read, Solved, expected, solve, width_at
from caddet.core.tracing.tape import after, change_tracing, reading_of, set_reading, taped, ticked, traced
from caddet.desk.later import later
from caddet.desk.stations.base import empty
from caddet.desk.stations.drafting.after_box import AfterBox
from caddet.desk.stations.drafting.begin_box import BeginBox
from caddet.desk.stations.drafting.photo_page import PhotoPage
from caddet.desk.stations.drafting.traced_items import pieces, places, tape_items
from caddet.desk.widgets.fields import LengthField, PickOne, Row, button, label, repolish

if TYPE_CHECKING:
    from caddet.desk.stations.draft import DraftStation

OFF = 4.0  # mm of misfit that is shown as such
KEYS = "Enter: take it and go on.  Ctrl+Enter: read it once more.  Page Down: leave it out.  Page Up: back."


class TracePage(QWidget):
    """What is traced, its guide, the reading at hand, and all readings with how they fit."""

    def __init__(self, station: DraftStation) -> None:
        super().__init__()
        self.station, self.bench, self.table = station, station.bench, station.table
        self.source_id = ""
        self.what = ""
        self.at: float | None = None
        self.trying: TapeTracing | None = None
        self._built: object = None
        self._solved: tuple[object, Solved] | None = None
        self._began, self._guide_of = False, ""
        self.rows: dict[tuple[str, float | None], Row] = {}
        self.ticks: dict[str, QCheckBox] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.photo = PhotoPage(station)
        self.begin_box = BeginBox(self)
        column.addWidget(self.begin_box)
        self.switch = PickOne("Tracing that is shown", [])
        self.switch.chosen.connect(self.turn_to)
        column.addWidget(self.switch)
        self.work_box = self._work_box()
        column.addWidget(self.work_box)
        column.addWidget(self.photo)
        self.another = button("Trace another garment", self._another, "link")
        self.out = button("Take this tracing out", self._take_out, "link")
        column.addWidget(self.another)
        column.addWidget(self.out)

    # --- building -----------------------------------------------------------------------------

    def _work_box(self) -> QWidget:
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.kind_name = label("", "value", wrap=True)
        column.addWidget(self.kind_name)
        self.guide_head = button("", self._open_guide, "link")
        column.addWidget(self.guide_head)
        self.guide_box = QVBoxLayout()
        self.guide_box.setSpacing(3)
        self.guide = QWidget()
        self.guide.setLayout(self.guide_box)
        self.guide_box.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.guide)
        self.state = label("", "heading", wrap=True)
        column.addWidget(self.state)
        self.name = label("", "roundname", wrap=True)
        column.addWidget(self.name)
        self.how = label("", "working", wrap=True)
        column.addWidget(self.how)
        self.field = QLineEdit()
        self.field.setObjectName("roundfield")
        self.field.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.field.installEventFilter(self)
        self.field.textEdited.connect(lambda _: self._try())
        column.addWidget(self.field)
        self.said = label("", "working", wrap=True)
        column.addWidget(self.said)
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        column.addWidget(self.wrong)
        column.addWidget(label(KEYS, "faint", wrap=True))
        self.list = QVBoxLayout()
        self.list.setSpacing(0)
        column.addLayout(self.list)
        self.after = AfterBox(self.station)
        column.addWidget(self.after)
        return box

    # --- the document -------------------------------------------------------------------------

    @property
    def source(self) -> TracedSource | None:
        """The tracing that is shown: the one turned to, else the first; None without any."""
        found = self._sources()
        return next((one for one in found if one.id == self.source_id), found[0] if found else None)

    def _sources(self) -> list[TracedSource]:
        """Those from a photograph, and those with the tape of a kind that is known."""
        known = taped(self.bench.document)
        return [one for one in traced(self.bench.document) if one.id not in known or known[one.id].kind in KINDS]

    @property
    def pictured(self) -> bool:
        """Whether what is shown is a photograph."""
        source = self.source
        return source is not None and isinstance(source.tracing, PhotoTracing)

    def show_usual(self) -> None:
        """Show the usual outline of the kind that is looked at."""
        if self.station.active and self.station.page == "trace" and not self.begin_box.isHidden():
            self.table.forget_fit()
            self.draw()

    def show_working(self, on: bool) -> None:
        """Show that a photograph is being looked at, in place of where one begins."""
        self.photo.setVisible(on or (self.pictured and self.begin_box.isHidden()))
        self.begin_box.setEnabled(not on)

    @property
    def kept(self) -> TapeTracing:
        """The tracing as it is kept; an empty one without any."""
        source = self.source
        found = taped(self.bench.document).get(source.id) if source is not None else None
        return found or TapeTracing(kind="t_shirt")

    @property
    def tracing(self) -> TapeTracing | None:
        """The tracing as it is shown: with what is being typed."""
        return self.trying or (self.kept if self.source is not None and not self.pictured else None)

    @property
    def kind(self) -> Kind | None:
        """The kind of what is traced."""
        tracing = self.tracing
        return kind_named(tracing.kind) if tracing is not None else None

    def solved(self) -> Solved | None:
        """The shape as known so far, with what is being typed."""
        tracing, kind = self.tracing, self.kind
        if tracing is None or kind is None:
            return None
        key = (kind.name, tracing.readings)
        if self._solved is None or self._solved[0] != key:
            self._solved = key, solve(kind, tracing.readings)
        return self._solved[1]

    def turn_to(self, source: str) -> None:
        """Show another of the tracings."""
        self.source_id, self.what, self.at, self.trying = source, "", None, None
        self.begin_box.hide()
        self.table.forget_fit()
        self._arrive()

    def begin_tape(self, beside: bool) -> None:
        """Begin with what was chosen, in place of what is made or beside it."""
        kind = self.begin_box.kind
        name = kind.name
        fresh = TracedSource(label=kind.label, tracing=TapeTracing(kind=name))

        def change(document: Document) -> Document:
            if beside:
                last = document.recipe.steps[-1].id if document.recipe.steps else ""
                return edits.add_source(document, fresh.model_copy(update={"after": last}))
            return begin_with(document, Recipe().with_source(fresh))

        if self.bench.edit(f"Trace: {kind.label}", change):
            self.turn_to(traced(self.bench.document)[-1].id)

    def begin_sheet(self) -> None:
        """Begin with a list of measured points, as a recipe of points and formulas."""
        if self.bench.edit("Trace: a rubbed-off sheet", lambda d: begin_with(d, rubbed_off())):
            self.station.show_page("block")

    def _another(self) -> None:
        self.begin_box.show()
        self.work_box.hide()
        self.begin_box.back.show()
        self.begin_box.kinds.setFocus()
        self.table.forget_fit()
        self.draw()

    def back_to_it(self) -> None:
        """Back from where a tracing begins to the one that is there."""
        self.begin_box.hide()
        self.table.forget_fit()
        self.refresh()
        self.draw()

    def _take_out(self) -> None:
        source = self.source
        if source is None:
            return
        self.source_id, self.what = "", ""
        words = f"{source.label or 'Tracing'} taken out"
        if len(self.bench.document.recipe.sources) > 1:
            self.bench.edit(words, lambda d: edits.take_out_source(d, source.id))
        else:
            self.bench.said.emit("It is all that this garment is made from. Begin with a block in Plan, and it goes.")

    def _keep(self, deed: str, tracing: TapeTracing) -> bool:
        source = self.source
        self.trying = None
        return source is not None and self.bench.edit(deed, lambda d: change_tracing(d, source.id, tracing))

    # --- showing ------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the document on this page."""
        source, kind = self.source, self.kind
        self.begin_box.beside.setVisible(bool(self.bench.document.recipe.sources))
        if source is None:
            self.begin_box.show()
        choosing = not self.begin_box.isHidden()
        self.begin_box.back.setVisible(choosing and source is not None)
        self.work_box.setVisible(kind is not None and not choosing)
        self.photo.setVisible((self.pictured and not choosing) or self.photo.task is not None)
        for one in (self.another, self.out):
            one.setVisible(source is not None and not choosing)
        self._show_switch()
        self.station.aside.setText("" if source is None else "from a photograph" if self.pictured else "with the tape")
        if source is not None and self.pictured:
            self.photo.source_id = source.id
            self.photo.refresh()
        if source is None or kind is None:
            return
        if not self.what or (kind.reading(self.what) is None and kind.width(self.what) is None):
            self.what, self.at = after(kind, self.kept) or kind.asked[0].name, None
        self._build(source, kind)
        self._show(source)

    def _show_switch(self) -> None:
        found = self._sources()
        source = self.source
        self.switch.setVisible(len(found) > 1 and self.begin_box.isHidden())
        self.switch.clear()
        for number, one in enumerate(found, 1):
            self.switch.addItem(f"{number}  {one.label}", one.id)
        if source is not None:
            self.switch.show_choice(source.id)

    def _build(self, source: TracedSource, kind: Kind) -> None:
        widths = [(one.what, one.at) for one in self.kept.readings if one.at is not None]
        key = (source.id, kind.name, tuple(widths))
        if key == self._built:
            return
        self._built = key
        empty(self.list)
        empty(self.guide_box)
        self.rows, self.ticks = {}, {}
        for line in kind.guide:
            box = QCheckBox()
            box.setAccessibleName(line.words)
            box.setChecked(line.name in self.kept.done)
            box.toggled.connect(partial(self._tick, line.name))
            row = QHBoxLayout()
            words = label(line.words, "why", wrap=True)
            words.setBuddy(box)
            row.addWidget(box, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(words, 1)
            self.guide_box.addLayout(row)
            self.ticks[line.name] = box
        self.guide.setVisible(any(line.name not in self.kept.done for line in kind.guide) and not self.kept.readings)
        for head, needed in (("What makes the shape", True), ("To be surer", False)):
            found = [one for one in kind.asked if one.needed == needed]
            if found:
                self.list.addWidget(label(head, "whyhead"))
            for asked in found:
                self._add_row(asked.label, asked.name, None)
        for width in kind.widths:
            self.list.addWidget(label(width.label, "whyhead", wrap=True))
            self.list.addWidget(label(width.how, "why", wrap=True))
            for what, at in widths:
                if what == width.name and at is not None:
                    self._add_row(f"{self._length(at)} down", what, at)
            add = LengthField(f"{width.label}: how far down", self.bench.unit)
            add.edit.setPlaceholderText("down by")
            add.entered.connect(partial(self._add_width, width.name))
            self.list.addWidget(add, 0, Qt.AlignmentFlag.AlignLeft)

    def _add_row(self, title: str, what: str, at: float | None) -> None:
        row = Row(title)
        row.figure = label("", "figure", rich=True)  # type: ignore[attr-defined]  # the value stands at the right
        row.top.addWidget(row.figure)  # type: ignore[attr-defined]
        row.chosen.connect(partial(self.choose, what, at))
        self.rows[what, at] = row
        self.list.addWidget(row)

    def _length(self, mm: float) -> str:
        return format_length(mm, self.bench.unit)

    def _show(self, source: TracedSource) -> None:
        """Fill in what is known, and how each reading fits."""
        solved, kind = self.solved(), self.kind
        if solved is None or kind is None:
            return
        self.kind_name.setText(kind.label)
        done = sum(line.name in self.kept.done for line in kind.guide)
        began = bool(self.kept.readings)
        if began != self._began or self._guide_of != source.id:  # open to begin with, out of the way once work goes on
            self._began, self._guide_of = began, source.id
            self.guide.setVisible(not began and done < len(kind.guide))
        self.guide_head.setText(f"Order of work, {done} of {len(kind.guide)} done")
        for name, box in self.ticks.items():
            box.blockSignals(True)
            box.setChecked(name in self.kept.done)
            box.blockSignals(False)
        reads = {(read.reading.what, read.reading.at): read for read in solved.reads}
        wrong = {(read.reading.what, read.reading.at) for group in solved.doubtful for read in group}
        for key, row in self.rows.items():
            read = reads.get(key)
            row.set_chosen(key == (self.what, self.at))
            row.figure.setText(self._figure(read))  # type: ignore[attr-defined]
            row.set_sub(self._fits(read, key in wrong) if read is not None else "")
            row.set_sub_style("wrong" if key in wrong else "working")
        self._say_state(solved)
        if self.trying is None:
            self.after.show_after(kind)
        self._show_now(kind, reads.get((self.what, self.at)), (self.what, self.at) in wrong, solved)

    def _figure(self, read: Read | None) -> str:
        """A reading, and behind it how much more it is than the piece measures."""
        if read is None:
            return "—"
        off = format_length(abs(read.misfit), self.bench.unit)
        sign = "±" if off == format_length(0.0, self.bench.unit) else "+" if read.misfit > 0 else "−"
        told_off = "" if read.checked < 0.02 else f' <span style="font-weight:400">{sign}{off}</span>'
        return f"{self._length(read.value)}{told_off}"

    def _fits(self, read: Read, wrong: bool) -> str:
        if wrong:
            left = ", left out" if read.out else ""
            return f"doesn't fit: the others say {self._length(read.value - read.error)}{left}"
        if abs(read.misfit) < OFF:
            return ""
        more = "more" if read.misfit > 0 else "less"
        return f"{self._length(abs(read.misfit))} {more} than the others say"

    def _say_state(self, solved: Solved) -> None:
        missing = len(solved.missing)
        findings = [f for f in findings_of(solved, "") if f.code != "trace.missing"]
        if missing:
            words = f"{missing} more reading{'s' if missing > 1 else ''} make{'' if missing > 1 else 's'} the shape."
        elif findings:
            words = told(findings[0].sentence, self.bench.unit)
        else:
            checks = sum(read.checked > 0.3 for read in solved.reads)
            words = f"The shape is known. {checks} of {len(solved.reads)} readings are checked by others."
        self.state.setText(words)
        name = "heading" if missing else "wrong" if findings else "good"
        if self.state.objectName() != name:
            self.state.setObjectName(name)
            repolish(self.state)

    def _show_now(self, kind: Kind, read: Read | None, wrong: bool, solved: Solved) -> None:
        asked, width = kind.reading(self.what), kind.width(self.what)
        title = (
            asked.label if asked is not None else f"{width.label}: {self._length(self.at or 0)} down" if width else ""
        )
        how = asked.how if asked is not None else width.how if width is not None else ""
        self.name.setText(title)
        self.how.setText(how)
        self.field.setAccessibleName(title)
        self.field.setAccessibleDescription(how)
        if not self.field.isModified():
            self.field.setText(self._length(read.value) if read is not None else "")
            self.field.setModified(False)
        likely = self._likely(solved, asked)
        self.field.setPlaceholderText(f"about {self._length(likely)}" if likely else "—")
        several = read.reading.values if read is not None and len(read.reading.values) > 1 else ()
        times = " · ".join(self._length(value) for value in several)
        fits = (
            self._fits(read, wrong) or ("It fits the others." if read.checked > 0.05 else "")
            if read is not None
            else ""
        )
        self.said.setText(f"{times}: the middle one counts." if several else fits)

    def _likely(self, solved: Solved, asked: Asked | None) -> float | None:
        """What the shape as known so far would measure there, to catch a slip while typing."""
        if asked is None or len(solved.reads) < 3:
            return None
        return expected(solved, asked)

    # --- doing --------------------------------------------------------------------------------

    def choose(self, what: str, at: float | None = None) -> None:
        """Turn to one of the readings."""
        self.what, self.at, self.trying = what, at, None
        self._arrive()

    def _arrive(self) -> None:
        self.field.setModified(False)
        self.wrong.hide()
        self.refresh()
        self.draw()
        if not self.pictured:
            self.field.setFocus()
            self.field.selectAll()
            later(self.field, lambda: self.station.scroller.ensureWidgetVisible(self.field, 0, 260))

    def show_reading(self, source: str, what: str) -> None:
        """Turn to a reading of a tracing, by the tracing's id and the reading's name."""
        self.source_id, self.at, self.trying = source, None, None
        self.begin_box.hide()
        kind = self.kind
        self.what = what if kind is not None and kind.reading(what) is not None else ""
        self._arrive()

    def _typed(self) -> float | None:
        """What stands in the field, or None when it can't be read (it is said why)."""
        try:
            value = parse_length(self.field.text(), self.bench.unit)
            Reading(what=self.what, at=self.at, values=(value,))
        except CaddetError as error:
            words = told(str(error), self.bench.unit)
        except ValueError:
            words = "Expected a length of more than nothing and at most 5 m."
        else:
            self.wrong.hide()
            return value
        self.wrong.setText(words)
        self.wrong.show()
        return None

    def _try(self) -> None:
        """Show the shape with what is being typed; nothing is kept."""
        tracing = self.kept if self.source is not None else None
        try:
            value = parse_length(self.field.text(), self.bench.unit)
            self.trying = set_reading(tracing, self.what, self.at, (value,)) if tracing is not None else None
        except (CaddetError, ValueError):
            self.trying = None
        if self.source is not None:
            self._show(self.source)
        self.draw()

    def _take(self, *, again: bool = False) -> None:
        """Take what stands in the field, in place of what was read or beside it, and go on."""
        source, kind = self.source, self.kind
        if source is None or kind is None:
            return
        title = self.name.text()
        if self.field.isModified():
            old = reading_of(self.kept, self.what, self.at)
            if not self.field.text().strip():
                self._keep(f"{title}: taken out", set_reading(self.kept, self.what, self.at, ()))
            else:
                value = self._typed()
                if value is None:
                    return
                values = (*old.values, value) if again and old is not None else (value,)
                self.field.setModified(False)
                if not self._keep(f"{title} {self._length(value)}", set_reading(self.kept, self.what, self.at, values)):
                    return
        self.field.setModified(False)
        if again:
            self.refresh()
            self.field.clear()
            self.field.setFocus()
        else:
            self._on(1)

    def _on(self, way: int) -> None:
        """To the next reading, or the one before; from the last needed one on to the checks."""
        keys = list(self.rows)
        here = keys.index((self.what, self.at)) if (self.what, self.at) in keys else -1
        kind, source = self.kind, self.source
        nxt = after(kind, self.kept, self.what) if way > 0 and kind is not None and source is not None else ""
        if nxt and kind is not None and (asked := kind.reading(self.what)) is not None and asked.needed:
            self.choose(nxt)
            return
        self.choose(*keys[min(max(here + way, 0), len(keys) - 1)])

    def _add_width(self, what: str, at: float) -> None:
        source = self.source
        if source is None:
            return
        if not 0 <= at <= 5000:
            self.bench.said.emit("Expected how far down, between nothing and 5 m.")
            return
        self.what, self.at = what, at
        solved = self.solved()
        guess = 100.0
        if solved is not None:
            guess = width_at(solved, what, at) or 0.0
        if not guess:
            self.bench.said.emit("No edge to measure at passes there; choose a height between its ends.")
            return
        self._keep(f"Width {self._length(at)} down", set_reading(self.kept, what, at, (guess,)))
        self._arrive()

    def _tick(self, name: str, on: bool) -> None:
        source = self.source
        if source is not None:
            self._keep("Order of work", ticked(self.kept, name, on))

    def _open_guide(self) -> None:
        self.guide.setVisible(self.guide.isHidden())

    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        """Enter takes the reading, with Ctrl once more; Page keys go on and back; Esc gives up what was typed."""
        if watched is not self.field or not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        match event.key():
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._take(again=bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
            case Qt.Key.Key_PageDown:
                self._on(1)
            case Qt.Key.Key_PageUp:
                self._on(-1)
            case Qt.Key.Key_Escape:
                self.choose(self.what, self.at)
            case _:
                return False
        return True

    # --- the table ----------------------------------------------------------------------------

    def draw(self) -> None:
        """The pieces as known so far, and where the tape goes."""
        choosing = not self.begin_box.isHidden()
        if self.pictured and not choosing:
            self.photo.draw()
            return
        solved, kind = (None, None) if choosing else (self.solved(), self.kind)
        if solved is None or kind is None:
            self._draw_usual(self.begin_box.kind)
            return
        lies = places(solved)
        reads = {read.reading.what: read for read in solved.reads if read.reading.at is None}
        wrong = {read.reading.what for group in solved.doubtful for read in group}
        items = pieces(solved)
        for asked in kind.asked:
            lit = asked.name == self.what
            read = reads.get(asked.name)
            if not lit and read is None:
                continue
            words = f"{asked.label} {self._length(read.value)}" if read is not None else asked.label
            color = "madder" if asked.name in wrong else "woad" if lit else "iron"
            items += tape_items(solved, asked, words, color, lit, lies, partial(self.choose, asked.name))
        self.table.show_own(items, fit=not self.table.fitted)
        self.table.say_beside("")

    def _draw_usual(self, kind: Kind) -> None:
        """A kind to be chosen: its usual outline, and where the tape would go."""
        solved = solve(kind, ())
        lies = places(solved)
        items = pieces(solved)
        for asked in kind.asked:
            if asked.needed:
                items += tape_items(solved, asked, "", "iron", False, lies, lambda: None)
        self.table.show_own(items, fit=not self.table.fitted)
        self.table.say_beside("")
