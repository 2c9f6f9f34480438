"""What the hand lays over the pieces: handles, ghosts and guides, rings round what is chosen, lengths that change."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QPointF, pyqtSignal
from PyQt6.QtGui import QTransform

from caddet.core.hands.changes import changes
from caddet.core.hands.gesture import Gesture
from caddet.core.hands.things import Selection, Thing, places_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.sentences import told
from caddet.desk.table.drawing import qpoint
from caddet.desk.table.hand_items import ChangeChip, HandleItem
from caddet.desk.table.hand_lines import (
    HandLines,
    Stroke,
    ghost_strokes,
    guide_strokes,
    rubber_stroke,
    thing_strokes,
)
from caddet.desk.table.table import Table
from caddet.desk.workbench import Workbench

SHOWN_CHANGES = 5


class HandShown(QObject):
    """Shows a gesture and what is chosen. ``frame`` gives where a piece lies on the table."""

    moved = pyqtSignal(object, QPointF, bool)  # handle, place on the table, finer
    nudged = pyqtSignal(object, float)

    def __init__(self, table: Table, bench: Workbench, frame: Callable[[str], QTransform]) -> None:
        super().__init__(table)
        self.table, self.bench, self.frame = table, bench, frame
        self.handles: list[HandleItem] = []
        self.chips: list[ChangeChip] = []
        self.lines = HandLines()
        table.scene.addItem(self.lines)

    def show_handles(self, gesture: Gesture | None) -> None:
        """The handles of a gesture where they stand now; those there are are moved, not made anew."""
        wanted = gesture.handles if gesture is not None else ()
        keys = [(one.parameter, one.index) for one in wanted]
        if keys != [(one.handle.parameter, one.handle.index) for one in self.handles]:
            self._clear_handles()
            labels = {one.name: one.label for one in gesture.step.parameters} if gesture is not None else {}
            for handle in wanted:
                several = sum(one.parameter == handle.parameter for one in wanted) > 1
                item = HandleItem(handle, labels[handle.parameter] + (f", {handle.index + 1}" if several else ""))
                item.moved.connect(self.moved)
                item.nudged.connect(self.nudged)
                self.table.scene.addItem(item)
                self.handles.append(item)
        for item, handle in zip(self.handles, wanted, strict=True):
            item.handle = handle
            item.setPos(self.frame(handle.piece).map(qpoint(handle.at)))

    def show_changes(self, gesture: Gesture | None, base: Pattern | None) -> None:
        """The lengths that the step in hand changes most, on their lines."""
        for chip in self.chips:
            self.table.scene.removeItem(chip)
        self.chips = []
        made = self.bench.result
        if gesture is None or base is None or made is None or made.pattern is None:
            return
        if self.bench.preview_document is None:
            return
        for change in changes(base, made.pattern)[:SHOWN_CHANGES]:
            item = self.table.pieces.get(change.piece)
            if item is not None:
                chip = ChangeChip(told(change.words, self.bench.unit))
                chip.setPos(item.mapToScene(qpoint(change.at)))
                self.table.scene.addItem(chip)
                self.chips.append(chip)

    def show_strokes(
        self,
        pattern: Pattern | None,
        chosen: Selection,
        hovered: Thing | None,
        gesture: Gesture | None,
        base: Pattern | None,
        rubber: tuple[QPointF, QPointF] | None,
        ring: float,
    ) -> None:
        """The lines: what is chosen and under the pointer, the ghost and guides of a gesture, a line being drawn.

        ``ring`` is the radius of the ring round a point, in mm.
        """
        strokes: list[Stroke] = []
        if pattern is not None:
            for thing in chosen:
                width = 2.6 if thing.kind == "piece" else 4.0
                strokes += thing_strokes(places_of(pattern, thing), self.frame, "woad", width, ring)
            if hovered is not None and hovered not in chosen:
                strokes += thing_strokes(places_of(pattern, hovered), self.frame, "woad", 2.0, ring)
        made = self.bench.result
        if gesture is not None:
            if base is not None and made is not None and made.pattern is not None:
                strokes += ghost_strokes(base, made.pattern, self.frame)
            strokes += guide_strokes(gesture, self.frame)
        if rubber is not None:
            strokes.append(rubber_stroke(*rubber))
        self.lines.show_strokes(tuple(strokes))

    def clear(self) -> None:
        """Nothing of the hand is on the table."""
        self._clear_handles()
        for chip in self.chips:
            self.table.scene.removeItem(chip)
        self.chips = []
        self.lines.show_strokes(())

    def _clear_handles(self) -> None:
        for item in self.handles:
            self.table.scene.removeItem(item)
        self.handles = []
