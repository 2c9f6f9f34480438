"""Trace from a photograph: the picture on the table, its outlines named, corrected and checked."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path as File
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QProgressBar, QVBoxLayout, QWidget

from caddet.core.devices.practice_shots import PRACTICE, how_close, known, practice_camera, truth
from caddet.core.errors import CaddetError
from caddet.core.files.reading import read_whole
from caddet.core.geometry.paths import Path
from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Recipe, TracedSource
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.traced import PhotoPiece, PhotoTracing
from caddet.core.sentences import told
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.photo import changing
from caddet.core.tracing.photo.automatic import joined_photos, piece_from, traced_as_far
from caddet.core.tracing.photo.flat import Flat, flattened
from caddet.core.tracing.photo.naming import corner_marks
from caddet.core.tracing.photo.picture import BIGGEST_FILE, Picture, read_picture
from caddet.core.tracing.photo.proposing import propose
from caddet.core.tracing.photo.sheets import SHEETS, Found, find_sheet, view_by_corners
from caddet.core.tracing.photo.traced import shape_of, view_of
from caddet.core.tracing.photo.view import View
from caddet.core.tracing.tape import change_tracing, traced
from caddet.desk.stations.base import empty
from caddet.desk.stations.drafting.after_box import AfterBox
from caddet.desk.stations.drafting.lines_box import LinesBox
from caddet.desk.stations.drafting.photo_begin import PhotoBegin, by_hand
from caddet.desk.stations.drafting.photo_items import DotItem, OutlineItem, picture_item
from caddet.desk.stations.drafting.photo_piece import PieceBox
from caddet.desk.stations.truing.walk_items import LineItem
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import LengthField, PickOne, Row, button, hint, label, read_number, show_number

if TYPE_CHECKING:
    from caddet.desk.stations.draft import DraftStation

FINE = 1.2  # points of the shown picture to the mm
SHEET_CHOICES = [(one.name, one.label) for one in SHEETS.values()]


@dataclass(frozen=True, slots=True)
class Seen:
    """A photograph as it is worked with: its points, and the table from above."""

    picture: Picture
    flat: Flat


class PhotoPage(QWidget):
    """A photograph's tracing: sheet, outlines, edges, checks."""

    def __init__(self, station: DraftStation) -> None:
        super().__init__()
        self.station, self.bench, self.table = station, station.bench, station.table
        self.source_id = ""
        self.chosen = ""
        self.trying: PhotoTracing | None = None
        self.task: Task | None = None
        self.closeness_of: tuple[float, float, float] | None = None
        self._seen: tuple[object, Seen] | None = None
        self._built: object = None
        self.begin = PhotoBegin(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.bar = QProgressBar()
        self.bar.setRange(0, 100)
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName("Looking at the photograph")
        self.bar.hide()
        self.stop = button("Stop", self.cancel)
        self.stop.hide()
        self.title = label("", "value", wrap=True)
        self.about = label("", "working", wrap=True)
        self.sheet = PickOne("Sheet in the picture", SHEET_CHOICES)
        self.sheet.chosen.connect(self._set_sheet)
        for one in (self.bar, self.stop, self.title, self.about, self.sheet):
            column.addWidget(one)
        self.fair = LengthField("Edges fair within", self.bench.unit)
        self.fair.read, self.fair.show_as = read_number, show_number
        self.fair.entered.connect(lambda mm: self._keep("Fair within", tolerance=mm))
        column.addWidget(label("Edges fair within, mm", "caption"))
        column.addWidget(self.fair, 0, Qt.AlignmentFlag.AlignLeft)
        self.known_head = label("A second length that is known, between the two square marks", "caption", wrap=True)
        self.known = LengthField("A second length that is known", self.bench.unit, may_be_empty=True)
        self.known.entered.connect(self._set_known)
        self.known.cleared.connect(lambda: self._keep("Second length taken out", known=None))
        column.addWidget(self.known_head)
        column.addWidget(self.known)
        self.outlines = QVBoxLayout()
        self.outlines.setSpacing(0)
        column.addLayout(self.outlines)
        self.detail = PieceBox(self)
        column.addWidget(self.detail)
        self.lines = LinesBox(self)
        column.addWidget(self.lines)
        column.addWidget(
            label(
                "Pull the line or a corner: it draws to the edge in the picture; with Alt it stays where you let go. Two clicks make or unmake a corner.",
                "faint",
                wrap=True,
            )
        )
        column.addWidget(button("Propose the outlines anew", self.propose))
        self.felt = label("", "working", wrap=True)
        column.addWidget(self.felt)
        self.how_close = button("How close was I?", self.measure)
        column.addWidget(self.how_close)
        self.closeness = label("", "working", wrap=True)
        column.addWidget(self.closeness)
        self.after = AfterBox(station)
        column.addWidget(self.after)

    # --- the document -------------------------------------------------------------------------

    @property
    def source(self) -> TracedSource | None:
        """The photograph's tracing that is shown."""
        found = [one for one in traced(self.bench.document) if isinstance(one.tracing, PhotoTracing)]
        return next((one for one in found if one.id == self.source_id), None)

    @property
    def tracing(self) -> PhotoTracing | None:
        """The tracing as it is shown: with what is being pulled."""
        source = self.source
        if source is None or not isinstance(source.tracing, PhotoTracing):
            return None
        return self.trying or source.tracing

    def view(self) -> View | None:
        """The view of the table; None when the sheet's corners make none."""
        try:
            return view_of(self.tracing) if self.tracing is not None else None
        except CaddetError:
            return None

    def seen(self) -> Seen | None:
        """The photograph, opened and seen from above; None when it is not here."""
        tracing, view = self.tracing, self.view()
        if tracing is None or view is None:
            return None
        file = self.bench.document.photographs.get(tracing.photograph, "")
        key = (file, tracing.corners, tracing.lens, tracing.sheet)
        if self._seen is not None and self._seen[0] == key:
            return self._seen[1]
        data = self.bench.picture(file) if file else None
        if data is None:
            return None
        same = self._seen is not None and isinstance(self._seen[0], tuple) and self._seen[0][0] == file
        try:
            picture = self._seen[1].picture if same and self._seen is not None else read_picture(data)
        except CaddetError as error:
            self.bench.said.emit(str(error))
            return None
        corners = np.array([complex(*one) for one in tracing.corners])
        seen = Seen(picture, flattened(picture.points, view, view.to_table(corners), FINE))
        self._seen = key, seen
        return seen

    def _keep(self, deed: str, tracing: PhotoTracing | None = None, **changes: object) -> bool:
        source, now = self.source, self.tracing
        self.trying = None
        self.closeness_of = None
        if source is None or now is None:
            return False
        try:
            made = tracing or PhotoTracing.model_validate({**now.parts(), **changes})
        except ValueError as error:
            self.bench.said.emit(str(error).splitlines()[0])
            return False
        return self.bench.edit(deed, lambda d: change_tracing(d, source.id, made))

    def change(self, deed: str, change: Callable[[PhotoPiece], PhotoPiece | None], name: str = "") -> None:
        """Change an outline, the chosen one without a name, or take it out; what can't be done is said."""
        tracing = self.tracing
        if tracing is None:
            return
        try:
            self._keep(deed, changing.changed(tracing, name or self.chosen, change))
        except CaddetError as error:
            self.bench.said.emit(f"{error}.")
            self.refresh()
        except ValueError:
            self.bench.said.emit("That lies too far outside the picture.")
            self.refresh()

    # --- beginning ----------------------------------------------------------------------------

    def open(self, paths: Sequence[File], sheet: str) -> None:
        """Trace a photograph from a file, or several joined to one, off the main thread."""
        try:
            data = [read_whole(path, BIGGEST_FILE) for path in paths]
        except CaddetError as error:
            self.bench.said.emit(str(error))
            return

        def get(task: Task) -> tuple[Picture, Found | None]:
            pictures = [read_picture(one, path.name) for one, path in zip(data, paths, strict=True)]
            task.report(0.15)
            return joined_photos(pictures, SHEETS[sheet]) if len(pictures) > 1 else (pictures[0], None)

        self._start(paths[0].stem[:60] or "photograph", sheet, "", get)

    def practise(self, code: str, sheet: str) -> None:
        """Take a practice picture and trace it, off the main thread."""
        self._start(
            f"Practice: {PRACTICE[code.split()[0]].label} ({code.split()[-1]})",
            sheet,
            code,
            lambda task: (read_picture(practice_camera(code).take()), None),
        )

    def _start(self, name: str, sheet: str, practice: str, get: Callable[[Task], tuple[Picture, Found | None]]) -> None:
        def work(task: Task) -> tuple[bytes, PhotoTracing, str]:
            task.report(0.05)
            taken, sheet_there = get(task)
            picture = read_picture(taken.as_jpeg())  # as it is kept, so that its points stay what they are

            def going(share: float) -> bool:
                task.report(0.3 + 0.7 * share)
                return not task.cancelled

            own = PRACTICE[practice.split()[0]] if practice else None
            shapes = [(own.kind, own.shape)] if own is not None and own.kind else []
            data = picture.as_jpeg()
            try:
                there = sheet_there or find_sheet(picture.points, SHEETS[sheet])
            except CaddetError as error:
                trouble = f"{str(error).rstrip('.')}. The picture is kept; pull the four square marks onto the sheet's corners."
                return data, by_hand(name, picture, sheet), trouble
            tracing, trouble = traced_as_far(name, picture.points, there, shapes, going)
            return data, tracing, f"{trouble}. The picture and its sheet are kept." if trouble else ""

        self.work_on(work, partial(self._begun, name, practice))

    def _begun(self, name: str, practice: str, answer: tuple[bytes, PhotoTracing, str]) -> None:
        data, tracing, trouble = answer
        try:
            file = self.bench.take_picture(data)
        except CaddetError as error:
            self.bench.said.emit(str(error))
            return
        tracing = tracing.model_copy(update={"practice": practice})

        def change(document: Document) -> Document:
            kept = edits.set_photograph(document, tracing.photograph, file)
            fresh = TracedSource(label=name[:80], tracing=tracing)
            if traced(document):
                last = document.recipe.steps[-1].id if document.recipe.steps else ""
                return edits.add_source(kept, fresh.model_copy(update={"after": last}))
            return begin_with(kept, Recipe().with_source(fresh)).model_copy(update={"photographs": kept.photographs})

        if self.bench.edit(f"Trace: {name}", change):
            self.station.trace.turn_to(traced(self.bench.document)[-1].id)
            if trouble:
                self.bench.said.emit(trouble)

    def work_on(self, work: Callable[[Task], object], done: Callable[[object], object]) -> None:
        """Work something out off the main thread, with the bar and a way to stop it."""
        self.cancel()
        self.bar.setValue(0)
        for one in (self.bar, self.stop):
            one.show()
        self.station.trace.show_working(True)

        def finished(answer: object) -> None:
            cancelled = self.task is None or self.task.cancelled
            self._ended()
            if not cancelled:
                done(answer)

        def failed(error: Exception) -> None:
            cancelled = self.task is None or self.task.cancelled
            self._ended()
            if not cancelled:
                self.bench.said.emit(told(f"{error}", self.bench.unit))

        self.task = self.bench.run(work, finished, failed, lambda share: self.bar.setValue(round(100 * share)))

    def _ended(self) -> None:
        self.task = None
        for one in (self.bar, self.stop):
            one.hide()
        self.station.trace.show_working(False)

    def cancel(self) -> None:
        """Stop what is being worked out; nothing of it is kept."""
        if self.task is not None:
            self.task.cancel()
            self._ended()

    def propose(self) -> None:
        """Find the outlines anew with the sheet as it is set now."""
        tracing, seen, view = self.tracing, self.seen(), self.view()
        if tracing is None or seen is None or view is None:
            return
        corners = view.to_table(np.array([complex(*one) for one in tracing.corners]))

        def work(task: Task) -> object:
            def going(share: float) -> bool:
                task.report(share)
                return not task.cancelled

            found = propose(seen.picture.points, view, corners, going)
            return tuple(piece_from(one, view, f"piece_{n}") for n, one in enumerate(found, 1))

        self.work_on(work, lambda pieces: self._keep("Outlines proposed anew", pieces=pieces))

    # --- showing ------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the tracing on this page."""
        tracing, source = self.tracing, self.source
        if tracing is None or source is None:
            return
        names = [piece.name for piece in tracing.pieces]
        if self.chosen not in names:
            self.chosen = names[0] if names else ""
        view, unit = self.view(), self.bench.unit
        self.title.setText(source.label or tracing.photograph)
        self.sheet.show_choice(tracing.sheet)
        if view is None:
            self.about.setText("The sheet's corners make no view: pull the four square marks onto them.")
        else:
            off = (
                f", the sheet within {tracing.residual:.2f} mm"
                if tracing.residual
                else ", the sheet's corners set by hand"
            )
            self.about.setText(f"{view.scale:.2f} mm a point, taken {view.tilt:.0f}° from the vertical{off}.")
        self.fair.show_value(tracing.tolerance, unit)
        has = tracing.known is not None
        self.known.show_value(tracing.known.mm if tracing.known is not None else None, unit)
        self.known.edit.setPlaceholderText("" if has else "such as 20")
        self._build(tracing, view)
        kind = next((KINDS[piece.kind] for piece in tracing.pieces if piece.kind in KINDS), None)
        self.after.setVisible(kind is not None)
        if kind is not None and self.trying is None:
            self.after.show_after(kind)
        self.how_close.setVisible(bool(tracing.practice))
        dart = known(tracing.practice)[0].dart if tracing.practice else None
        self.felt.setVisible(dart is not None)
        if dart is not None:
            long, felt = (format_length(mm, unit, with_unit=True) for mm in dart[1:])
            self.felt.setText(
                f"Under the cloth you feel: a dart, {long} long and {felt} deep, where its stitching shows."
            )
        self.closeness.setVisible(self.closeness_of is not None)
        if self.closeness_of is not None:
            half, most, worst = (f"{value:.1f} mm" for value in self.closeness_of)
            self.closeness.setText(
                f"Half of the true line lies within {half} of yours, 95 of 100 places within {most}; the farthest is {worst} off. The true line is drawn dashed."
            )

    def _build(self, tracing: PhotoTracing, view: View | None) -> None:
        key = (tracing.pieces, self.chosen, self.bench.unit, view)
        if key == self._built:
            return
        self._built = key
        empty(self.outlines)
        for piece in tracing.pieces:
            row = Row(piece.label or piece.name, self._said_of(piece, view, tracing.tolerance))
            row.set_chosen(piece.name == self.chosen)
            row.chosen.connect(partial(self.choose, piece.name))
            self.outlines.addWidget(row)
        shown = next((one for one in tracing.pieces if one.name == self.chosen), None)
        self.detail.show_piece(shown)
        self.lines.show_lines(shown if shown is not None and (not shown.kind or shown.lines) else None)

    def _said_of(self, piece: PhotoPiece, view: View | None, tolerance: float) -> str:
        if view is None:
            return ""
        count, off = changing.deviation(piece, view, tolerance)
        unseen = len(changing.unseen_corners(piece, view))
        words = f"{len(piece.corners)} corners"
        if count:
            words += f", {count} curves, within {off:.1f} mm"
        if unseen:
            words += f". At {unseen} of them the picture shows no corner: see that they stand where edges meet"
        return words

    # --- doing --------------------------------------------------------------------------------

    def choose(self, name: str) -> None:
        """Turn to one of the outlines."""
        self.chosen = name
        self.refresh()
        self.draw()

    def _set_sheet(self, name: str) -> None:
        self._keep(f"Sheet: {SHEETS[name].label}", sheet=name)

    def _set_known(self, mm: float) -> None:
        tracing, view = self.tracing, self.view()
        if tracing is None or view is None:
            return
        if tracing.known is None:
            wide, high = tracing.size
            a, b = (0.4 * wide, 0.5 * high), (0.6 * wide, 0.5 * high)
            self._keep("A second length", known={"a": a, "b": b, "mm": mm})
            self.bench.said.emit(
                f"Pull the two square marks to its ends; it should come out as {format_length(mm, self.bench.unit)}."
            )
        else:
            self._keep("A second length", known=tracing.known.model_copy(update={"mm": mm}))

    def set_kind(self, key: str) -> None:
        """Say what the chosen outline is: a kind and a shape, or (empty) of no kind."""
        kind, _, shape = key.partition(" ")
        view = self.view()
        if view is not None:
            self.change(f"This is a {shape or 'piece of no kind'}", lambda p: changing.as_shape(p, view, kind, shape))
            tracing = self.tracing
            if tracing is not None and self.chosen not in [piece.name for piece in tracing.pieces]:
                self.chosen = shape
                self.refresh()

    def snap(self) -> None:
        """Draw the chosen outline to the edge that the picture shows near it."""
        seen, view = self.seen(), self.view()
        if seen is not None and view is not None:
            self.change("Drawn to the edge", lambda p: changing.drawn_to_edge(p, view, seen.picture.points))

    def measure(self) -> None:
        """How close the chosen outline came to the practice garment's true shape."""
        tracing, view = self.tracing, self.view()
        piece = next((one for one in tracing.pieces if one.name == self.chosen), None) if tracing is not None else None
        if tracing is None or view is None or piece is None or not tracing.practice:
            return
        self.closeness_of = how_close(tracing.practice, view, changing.table_of(piece, view))
        self.refresh()
        self.draw()

    # --- the table ----------------------------------------------------------------------------

    def draw(self) -> None:
        """The photograph, the sheet's corners, the outlines and their corners."""
        tracing, seen, view = self.tracing, self.seen(), self.view()
        if tracing is None or view is None or seen is None:
            self.table.show_own([])
            self.table.say_beside(
                "The photograph is not here, or its sheet makes no view." if tracing is not None else "", over=True
            )
            return
        items: list[object] = [picture_item(seen.flat)]
        sheet = view.to_table(np.array([complex(*one) for one in tracing.corners]))
        items.append(LineItem([Path.polyline([*map(complex, sheet), complex(sheet[0])])], "verdigris", 2.0))
        for n, at in enumerate(sheet):
            items.append(DotItem(complex(at), "", "verdigris", partial(self._pull_sheet, n, view), square=True))
        if tracing.known is not None:
            ends = view.to_table(np.array([complex(*tracing.known.a), complex(*tracing.known.b)]))
            length = format_length(float(abs(ends[1] - ends[0])), self.bench.unit)
            items.append(LineItem([Path.polyline([complex(ends[0]), complex(ends[1])])], "weld", 2.4))
            for n, at in enumerate(ends):
                items.append(
                    DotItem(
                        complex(at), length if n else "", "weld", partial(self._pull_known, "ab"[n], view), square=True
                    )
                )
        for piece in tracing.pieces:
            items += self._piece_items(piece, view)
        if self.closeness_of is not None and tracing.practice:
            true = truth(tracing.practice, view)
            items.append(
                LineItem([Path.polyline([*map(complex, true), complex(true[0])])], "verdigris", 1.8, dashed=True)
            )
        self.table.show_own(items, fit=not self.table.fitted)  # type: ignore[arg-type]  # all are items
        self.table.say_beside("")

    def _piece_items(self, piece: PhotoPiece, view: View) -> list[object]:
        points = changing.table_of(piece, view)
        chosen = piece.name == self.chosen
        items: list[object] = [
            OutlineItem(
                points,
                chosen,
                lambda at: None if chosen else self.choose(piece.name),
                partial(self._pull, piece.name),
                partial(self._corner, piece.name),
            )
        ]
        items += self.lines.items(piece, view, chosen)
        if chosen:
            shape = shape_of(piece)
            names = corner_marks(shape) if shape is not None and piece.half != "whole" else []
            unseen = changing.unseen_corners(piece, view)
            for n, at in enumerate(piece.corners):
                words = names[n].replace("_", " ").replace("'", ", other side") if n < len(names) else f"corner {n + 1}"
                told_there = "" if "other side" in words or n >= len(names) else words  # the other half's would crowd
                color = "weld" if at in unseen else "woad"
                dot = DotItem(complex(points[at]), told_there, color, partial(self._pull_corner, piece.name, at))
                why = ", where the picture shows no corner" if at in unseen else ""
                dot.setToolTip(hint(f"{words}{why}: pull it to its place"))
                items.append(dot)
        return items

    def _pull_sheet(self, corner: int, view: View, to: complex, done: bool) -> None:
        tracing = self.tracing
        if tracing is None or not done:
            return
        at = complex(view.to_picture(np.array([to]))[0])
        try:
            moved = changing.sheet_corner_moved(tracing, corner, at)
            view_by_corners(moved.size, tuple(complex(*one) for one in moved.corners), SHEETS[moved.sheet])
        except CaddetError as error:
            self.bench.said.emit(f"{error}")
            self.draw()
            return
        self._keep("Sheet's corner", moved)

    def _pull_known(self, end: str, view: View, to: complex, done: bool) -> None:
        tracing = self.tracing
        if tracing is None or tracing.known is None or not done:
            return
        at = complex(view.to_picture(np.array([to]))[0])
        self._keep("Ends of the second length", known=tracing.known.model_copy(update={end: (at.real, at.imag)}))

    def _pull(self, name: str, at: int, to: complex, done: bool) -> None:
        """An outline's place is pulled; let go, it is drawn to the edge near it, unless Alt is held."""
        source, view, seen = self.source, self.view(), self.seen()
        if source is None or view is None or seen is None or not isinstance(source.tracing, PhotoTracing):
            return
        free = bool(QApplication.keyboardModifiers() & Qt.KeyboardModifier.AltModifier)
        picture = seen.picture.points if done and not free else None
        self.chosen = name
        try:
            moved = changing.changed(source.tracing, name, lambda p: changing.pulled(p, view, at, to, picture))
        except (CaddetError, ValueError):
            return
        if done:
            self._keep("Outline pulled", moved)
            return
        self.trying = moved
        item = next((one for one in self.table.scene.items() if isinstance(one, OutlineItem) and one.held >= 0), None)
        if item is not None:  # the line itself follows the hand; all is drawn anew when it is let go
            item.prepareGeometryChange()
            item.points = changing.table_of(changing.piece_named(moved, name), view)
            item.redraw()

    def _pull_corner(self, name: str, at: int, to: complex, done: bool) -> None:
        if done:
            self._pull(name, at, to, True)

    def _corner(self, name: str, at: int) -> None:
        self.chosen = name
        self.change("Corner", lambda p: changing.corner_toggled(p, at))
