"""Shape: how does it become this design? The recipe as slips, and the step in hand."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QMenu, QSlider, QVBoxLayout, QWidget

from caddet.core.formats.named_store import GROUPS_KEPT
from caddet.core.hands.gesture import Gesture
from caddet.core.recipe.document import Document
from caddet.core.recipe.registry import STEPS, Step
from caddet.core.recipe.traced import PhotoTracing
from caddet.core.sentences import told
from caddet.core.tracing.tape import traced
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.stations.drafting.under import Under, pictures_under
from caddet.desk.stations.shaping.how import How
from caddet.desk.stations.shaping.slips import Slips
from caddet.desk.stations.shaping.step_fields import StepFields
from caddet.desk.table.hand import Hand
from caddet.desk.table.hand_bar import step_icon
from caddet.desk.table.piece_item import Showing
from caddet.desk.widgets.fields import button, hint, label

BEAT = 900  # ms for each step when the design is played through


LISTED = 6  # tools in the docket; the others are found by their words


class ShapeStation(Station):
    """What is chosen and what can be done with it, the step in hand, and the recipe."""

    key, name = "shape", "Shape"
    why_head = "Why steps?"
    why = (
        "The garment is a list of steps on top of the block. Choose an edge, a dart or a piece on the table, then what "
        "to do with it. Change a measure or an early step and everything after it is made again."
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.hand = Hand(self.bench, self.table)
        self.hand.changed.connect(self.refresh)
        self.table.shown.connect(self.hand.refresh)
        self.chosen = label("", "heading", wrap=True)
        self.body.addWidget(self.chosen)
        self.tools_box = QVBoxLayout()
        self.tools_box.setSpacing(4)
        self.body.addLayout(self.tools_box)
        self.fields: StepFields | None = None
        self.fields_box = QVBoxLayout()
        self.body.addLayout(self.fields_box)
        self.how = How()
        self.body.addWidget(self.how)
        self.body.addSpacing(6)
        head = QHBoxLayout()
        head.addWidget(label("Steps", "whyhead"), 1)
        self.put = button("Put on…", self.open_kept)
        self.put.setToolTip("Puts a group of steps on this garment that was kept from another")
        head.addWidget(self.put)
        self.body.addLayout(head)
        self.scrub = QSlider(Qt.Orientation.Horizontal)
        self.scrub.setAccessibleName("Play through the steps")
        self.scrub.setPageStep(1)
        self.scrub.valueChanged.connect(self._scrubbed)
        self.play_button = button("Play", self.play)
        self.player = QWidget()
        row = QHBoxLayout(self.player)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.play_button)
        row.addWidget(self.scrub, 1)
        self.body.addWidget(self.player)
        self.none = label(
            "No steps yet: the pieces are as drafted. Choose something on the table to begin.", "faint", wrap=True
        )
        self.body.addWidget(self.none)
        self.slips = Slips(self.bench, self.hand.take_up)
        self.body.addWidget(self.slips)
        self.under = QCheckBox("Photograph under the pieces")
        self.under.toggled.connect(lambda _: self.draw())
        self.body.addWidget(self.under)
        self._pictures: tuple[object, dict[str, Under]] = (None, {})
        self._tools: object = None
        self._playing = QTimer(self)
        self._playing.setInterval(BEAT)
        self._playing.timeout.connect(self._play_on)
        self._scrubbing = False

    # --- keeping up ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        steps = self.bench.history.document.recipe.steps
        self.aside.setText(f"{len(steps)} step{'' if len(steps) == 1 else 's'}")
        self._show_tools()
        self._show_fields()
        self._show_points()
        self.none.setVisible(not steps and self.hand.gesture is None)
        self.player.setVisible(len(steps) > 1 and self.hand.gesture is None)
        if not self._scrubbing:
            self.scrub.blockSignals(True)
            self.scrub.setRange(0, len(steps))
            self.scrub.setValue(len(steps))
            self.scrub.blockSignals(False)
            self.slips.refresh(self.made)
        self.under.setVisible(any(isinstance(one.tracing, PhotoTracing) for one in traced(self.bench.document)))
        self.hand.refresh()

    def _lay_pictures(self) -> None:
        """The photographs under the pieces that were traced from them, and under their parts."""
        wanted = self.under.isChecked() and not self.under.isHidden()
        key = traced(self.bench.history.document) if wanted else None
        if key != self._pictures[0]:
            self._pictures = key, pictures_under(self.bench) if wanted else {}
        for item in self.table.pieces.values():
            under = self._pictures[1].get(item.cut.piece.made)
            if under is not item.under:
                item.under = under
                item.update()

    def _show_tools(self) -> None:
        """What can be done with what is chosen; what can't be done here says why."""
        gesture, offered = self.hand.gesture, self.hand.offered()
        words = (
            told(gesture.step.label) if gesture is not None else self.hand.words() or "Choose something on the table"
        )
        self.chosen.setText(words)
        able = [one for one in offered if not one.refused]
        shown = able[:LISTED] if able else list(offered[:LISTED])  # where nothing can be done, why not
        state = (
            gesture is not None,
            tuple((one.step.kind, one.refused) for one in shown),
            len(offered),
            self.bench.unit,
        )
        if state == self._tools:
            return
        self._tools = state
        empty(self.tools_box)
        for offer in shown:
            keys = f"   {offer.step.key}" if offer.step.key else ""
            one = button(f"{offer.step.label}{keys}", partial(self.hand.start, offer.step), "tool")
            one.setIcon(step_icon(offer.step))
            one.setEnabled(not offer.refused)
            one.setToolTip(hint(told(offer.refused or offer.step.why, self.bench.unit)))
            self.tools_box.addWidget(one)
            if offer.refused:
                self.tools_box.addWidget(label(told(offer.refused, self.bench.unit), "faint", wrap=True))
        if len(offered) > len(shown):
            self.tools_box.addWidget(button("More…   Space", self.hand.more_wanted.emit, "tool"))

    def _show_points(self) -> None:
        """What stands in letters and numbers on the pieces while a step is in hand."""
        gesture = self.hand.gesture
        lines = self.fields.line_notes() if self.fields is not None else []
        self.table.show_points([*lines, *(gesture.parts if gesture is not None else ())])

    def _show_fields(self) -> None:
        gesture = self.hand.gesture
        self.how.setVisible(gesture is not None)
        if gesture is not None:
            self.how.show_gesture(gesture, self.bench.unit)
        if self.fields is not None and (
            gesture is None
            or gesture.id != self.fields.gesture.id
            or gesture.step is not self.fields.gesture.step
            or self.fields.unit != self.bench.unit
        ):
            empty(self.fields_box)
            self.fields = None
        if gesture is None:
            return
        if self.fields is None:
            self.fields = StepFields(gesture, self.bench.unit, self._entered, self.bench.said.emit)
            self.fields_box.addWidget(self.fields)
            row = QHBoxLayout()
            row.addWidget(button("Keep", self.hand.settle, "onward"))
            row.addWidget(button("Leave", self.hand.leave))
            self.fields_box.addLayout(row)
        else:
            self.fields.show_gesture(gesture)

    def _entered(self, gesture: Gesture) -> None:
        self.hand.set_gesture(gesture)

    def begin(self, step: Step) -> None:
        """Begin a step from the command finder."""
        self.hand.start(step)

    def open_step(self, step_id: str) -> None:
        """Take up a step again, from wherever it is pointed at."""
        self.hand.take_up(step_id)

    def enter(self) -> None:
        """It is shown now."""
        self.hand.enter()
        super().enter()

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        self.stop()
        self.hand.depart()
        super().leave()

    def retire(self) -> None:
        """It is taken away for good, with its hand."""
        try:
            super().retire()
        finally:
            self.hand.retire()

    def draw(self) -> None:
        """Lay its things on the table."""
        self.table.show_pattern(self.made, Showing())
        self._lay_pictures()
        self._show_points()

    # --- kept groups --------------------------------------------------------------------------

    def kept_menu(self) -> QMenu:
        """The groups of steps that are kept in the Workroom."""
        menu = QMenu(self)
        found, findings = GROUPS_KEPT.kept()
        for finding in findings:
            self.bench.said.emit(finding.sentence)
        for group in found:
            count = len(group.steps)
            action = menu.addAction(f"{group.name}   {count} step{'' if count == 1 else 's'}")
            if action is not None:
                action.triggered.connect(lambda _=False, name=group.name: self.slips.put_on(name))
        if not found:
            action = menu.addAction("Nothing is kept yet: put steps into a group, then keep it")
            if action is not None:
                action.setEnabled(False)
        return menu

    def open_kept(self) -> None:
        """Open the menu of what can be put on this garment."""
        self.kept_menu().exec(self.put.mapToGlobal(self.put.rect().bottomLeft()))

    # --- playing through ----------------------------------------------------------------------

    def play(self) -> None:
        """Show the design step by step, from the drafted pieces on; again, and it stops."""
        if self._playing.isActive():
            self.stop()
            return
        self.hand.choose(None)
        self.play_button.setText("Stop")
        self.scrub.setValue(0)
        self._playing.start()

    def _play_on(self) -> None:
        if self.scrub.value() >= self.scrub.maximum():
            self.stop()
        else:
            self.scrub.setValue(self.scrub.value() + 1)

    def stop(self) -> None:
        """Stop playing; the whole design is shown."""
        self._playing.stop()
        self.play_button.setText("Play")
        if self._scrubbing:
            self._scrubbing = False
            self.bench.preview(None)
            self.refresh()

    def _scrubbed(self, count: int) -> None:
        """The design with its first steps only."""
        document = self.bench.history.document
        whole = count >= len(document.recipe.steps)
        self._scrubbing = not whole or self._playing.isActive()
        self.bench.preview(None if whole else up_to(document, count))
        steps = document.recipe.steps
        for number, step in enumerate(steps, 1):
            slip = self.slips.slips.get(step.id)
            if slip is not None:
                slip.set_chosen(number == count and not whole)

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        made = self.made
        stuck = sum(bool(outcome.stuck) for outcome in made.evaluated.outcomes) if made is not None else 0
        count = len(self.bench.history.document.recipe.steps)
        return Status(f"{count} step{'' if count == 1 else 's'}", stuck == 0 and count > 0, stuck)


def up_to(document: Document, count: int) -> Document:
    """The document with its first steps on and the others off."""
    steps = tuple(
        step if n < count else step.model_copy(update={"on": False}) for n, step in enumerate(document.recipe.steps)
    )
    return document.model_copy(update={"recipe": document.recipe.model_copy(update={"steps": steps})})


__all__ = ["STEPS", "ShapeStation", "up_to"]
