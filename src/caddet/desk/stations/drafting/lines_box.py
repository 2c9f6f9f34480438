"""The lines drawn on a traced piece, along which it is cut apart: read from the picture, drawn and pulled by hand, panels named."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.recipe.traced import PhotoLine, PhotoPiece
from caddet.core.tracing.photo import changing, cutting_lines
from caddet.core.tracing.photo.drawn import drawn_lines, drawn_to_ink
from caddet.core.tracing.photo.view import Points, View
from caddet.desk.stations.base import empty
from caddet.desk.stations.drafting.photo_items import DotItem, DrawnLineItem, NameItem
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import button, label

if TYPE_CHECKING:
    from caddet.desk.stations.drafting.photo_page import PhotoPage


class LinesBox(QWidget):
    """The lines of the chosen outline in the docket, and what is pulled of them on the table."""

    def __init__(self, page: PhotoPage) -> None:
        super().__init__()
        self.page = page
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 4, 0, 0)
        self.column.setSpacing(4)
        self.names: dict[int, QLineEdit] = {}
        self._built: object = None

    def show_lines(self, piece: PhotoPiece | None) -> None:
        """Show the lines and the panels of an outline; nothing without one."""
        key = None if piece is None else (piece.name, piece.lines, [one.number for one in piece.panels])
        if piece is not None and key == self._built:  # only names: what is being typed in stays
            for panel in piece.panels:
                self.names[panel.number].setText(panel.label)
            return
        self._built = key
        empty(self.column)
        self.names = {}
        if piece is None:
            return
        self.column.addWidget(label("Panels drawn on it", "whyhead"))
        words = (
            "Pull a line or its ends. Two clicks on it make a mark, two more a double one, two more none: each is a notch on both sides."
            if piece.lines
            else "A wrap is cut apart along its lines; the marks across them become notches on both sides of the seam."
        )
        self.column.addWidget(label(words, "faint", wrap=True))
        row = QHBoxLayout()
        row.addWidget(button("Read the lines in the picture", self.read))
        row.addWidget(button("Draw one", self.add))
        row.addStretch(1)
        self.column.addLayout(row)
        for line in piece.lines:
            self._build_line(line)
        for panel in piece.panels:
            name = QLineEdit(panel.label)
            name.setPlaceholderText(f"panel {panel.number}: what is it called?")
            name.setAccessibleName(f"Name of panel {panel.number}")
            name.setMaxLength(80)
            name.editingFinished.connect(partial(self._name, panel.number))
            self.column.addWidget(name)
            self.names[panel.number] = name

    def _build_line(self, line: PhotoLine) -> None:
        row = QHBoxLayout()
        count = len(line.marks)
        said = "no mark" if not count else "1 mark" if count == 1 else f"{count} marks"
        row.addWidget(label(f"Line {line.number}, {said}"), 1)
        out = button("Take out", partial(self._take_out, line.number), "link")
        out.setAccessibleName(f"Take line {line.number} out")
        row.addWidget(out)
        self.column.addLayout(row)

    # --- doing --------------------------------------------------------------------------------

    def read(self) -> None:
        """Read the lines, the marks and the panels from the picture, off the main thread."""
        page = self.page
        tracing, seen, view = page.tracing, page.seen(), page.view()
        if tracing is None or seen is None or view is None:
            return
        piece = changing.piece_named(tracing, page.chosen)

        def work(task: Task) -> PhotoPiece:
            def going(share: float) -> bool:
                task.report(share)
                return not task.cancelled

            return drawn_lines(seen.picture.points, view, piece, going)

        def done(found: object) -> None:
            if not isinstance(found, PhotoPiece):
                return
            first = not piece.lines and not piece.pair  # a wrap is taken of one half, and the other is its mirror
            made = found.model_copy(update={"pair": True}) if first else found
            page.change("Lines read from the picture", lambda _: made, piece.name)
            if first:
                page.bench.said.emit(
                    f"{len(made.panels)} panels, each cut as a mirrored pair; take the tick at “One of a mirrored pair” away for a whole wrap."
                )

        page.work_on(work, done)

    def add(self) -> None:
        """One more line, to be pulled to its place."""
        self._change("A line drawn", cutting_lines.line_added)

    def _take_out(self, number: int) -> None:
        self._change(f"Line {number} taken out", lambda piece, view: cutting_lines.line_taken_out(piece, view, number))

    def _name(self, number: int) -> None:
        words = self.names[number].text()
        piece = self._piece()
        if piece is not None and any(one.number == number and one.label != words.strip() for one in piece.panels):
            self._change(f"Panel called {words}", lambda p, view: cutting_lines.panel_called(p, number, words))

    def _piece(self) -> PhotoPiece | None:
        tracing = self.page.tracing
        return next((one for one in tracing.pieces if one.name == self.page.chosen), None) if tracing else None

    def _change(self, deed: str, change: Callable[[PhotoPiece, View], PhotoPiece]) -> None:
        view = self.page.view()
        if view is not None:
            self.page.change(deed, lambda piece: change(piece, view))

    # --- the table ----------------------------------------------------------------------------

    def items(self, piece: PhotoPiece, view: View, chosen: bool) -> list[object]:
        """The lines of an outline on the table; of the chosen one with their ends to pull and the names of its panels."""
        items: list[object] = []
        for line in piece.lines:
            points = cutting_lines.on_table(line, view)
            items.append(
                DrawnLineItem(
                    points,
                    [(mark.at, mark.double) for mark in line.marks],
                    chosen,
                    lambda _: None if chosen else self.page.choose(piece.name),
                    partial(self._pull, line.number),
                    partial(self._mark, line.number),
                )
            )
            for at in (0, len(points) - 1) if chosen else ():
                items.append(
                    DotItem(complex(points[at]), "", "woad", partial(self._pull_end, line.number, at), square=True)
                )
        for panel in piece.panels if chosen else ():
            middle = complex(view.to_table(np.array([complex(*panel.at)]))[0])
            items.append(NameItem(middle, panel.label or f"panel {panel.number}"))
        return items

    def _pull_end(self, number: int, at: int, to: complex, done: bool) -> None:
        if done:
            self._pull(number, at, to, True)

    def _pull(self, number: int, at: int, to: complex, done: bool) -> None:
        """A line is pulled; let go, it is drawn to the pen's line near it, unless Alt is held."""
        page = self.page
        view, seen, piece = page.view(), page.seen(), self._piece()
        if view is None or seen is None or piece is None:
            return
        free = bool(QApplication.keyboardModifiers() & Qt.KeyboardModifier.AltModifier)

        def drawing(line: Points) -> Points:
            return drawn_to_ink(seen.picture.points, view, line)

        if done:
            self._change(
                f"Line {number} pulled",
                lambda p, view: cutting_lines.line_pulled(p, view, number, at, to, None if free else drawing),
            )
            return
        item = next((i for i in page.table.scene.items() if isinstance(i, DrawnLineItem) and i.held >= 0), None)
        if item is not None:  # the line itself follows the hand; all is drawn anew when it is let go
            item.prepareGeometryChange()
            item.points = cutting_lines.pulled_places(
                cutting_lines.on_table(cutting_lines.line_numbered(piece, number), view), at, to
            )
            item.redraw()

    def _mark(self, number: int, at: int) -> None:
        self._change("Mark", lambda piece, view: cutting_lines.mark_turned(piece, view, number, at))
