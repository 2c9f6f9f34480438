"""The table widget: view, tapes, zoom bar, and the pieces of the shown pattern."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QGraphicsItem,
    QGraphicsPathItem,
    QGraphicsScene,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QWidget,
)

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.made import Made
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.document import Placement
from caddet.core.recipe.edits import place_piece
from caddet.core.recipe.parameters import LineNote
from caddet.core.truing.walk import walk
from caddet.desk.table.drawing import painter_path
from caddet.desk.table.overlays import FigureChip, FigureRule, LetterTag, PointLetter, clear_place
from caddet.desk.table.piece_item import PieceItem, Showing
from caddet.desk.table.tapes import THICK, Tape
from caddet.desk.table.view import TableView
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint, label
from caddet.desk.workbench import Workbench

GAP = 60.0
STAND_BY = (
    "hip",
    "bust",
    "waist",
    "head",
)  # the levels at which pieces stand beside each other, the first that both have


def levels_of(piece: Piece) -> dict[str, float]:
    """How far down a piece its levels end at the side; a sleeve's biceps line stands by the bust line."""
    found = {}
    for feature in piece.features:
        if feature.kind == "level":
            name = own_name(feature.name)
            found["bust" if name == "upper_arm" else name] = piece.where(feature.bits[-1].b).imag
    return found


WIDEST = 1150.0


_ARROWS = {Qt.Key.Key_Left: -1 + 0j, Qt.Key.Key_Right: 1 + 0j, Qt.Key.Key_Up: -1j, Qt.Key.Key_Down: 1j}


class _Corner(QWidget):
    """The corner between the tapes: says the unit."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(THICK, THICK)
        self.words = "cm"

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), LOOK.color("tape"))
        painter.setPen(LOOK.color("tape_ink"))
        painter.setFont(LOOK.font(12, LOOK.font(12).Weight.DemiBold))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.words)


class Table(QWidget):
    """Where the pieces lie."""

    figure_chosen = pyqtSignal(str)
    figure_dragged = pyqtSignal(str, float)  # figure, by how many mm
    figure_dropped = pyqtSignal(str, float)
    shown = pyqtSignal()  # another pattern, or the same anew
    piece_chosen = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self.scene = QGraphicsScene(self)
        self.scene.setItemIndexMethod(QGraphicsScene.ItemIndexMethod.NoIndex)
        self.view = TableView(self.scene)
        self.top, self.left, self.corner = Tape(self.view, False), Tape(self.view, True), _Corner()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(0)
        grid.addWidget(self.corner, 0, 0)
        grid.addWidget(self.top, 0, 1)
        grid.addWidget(self.left, 1, 0)
        grid.addWidget(self.view, 1, 1)
        self.pieces: dict[str, PieceItem] = {}
        self.overlays: list[QGraphicsItem] = []
        self.own: list[QGraphicsItem] = []
        self._laid_over: list[QGraphicsPathItem] = []
        self.showing = Showing()
        self._fitted = False
        self._over = False
        self.zoom_bar = self._make_zoom_bar()
        self.beside = label(name="tablenote", wrap=True)
        self.beside.setParent(self.view)
        self.beside.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.beside.hide()
        bench.unit_changed.connect(self._set_unit)
        LOOK.changed.connect(self.repaint_all)
        self.scene.selectionChanged.connect(self._selected)

    def _make_zoom_bar(self) -> QWidget:
        bar = QWidget(self.view)
        row = QHBoxLayout(bar)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        for words, tip, act in (
            ("−", "Smaller (−)", lambda: self.view.zoom_step(False)),
            ("+", "Larger (+)", lambda: self.view.zoom_step(True)),
            ("1:1", "Real size (1)", lambda: self.view.zoom_to(1.0)),
            ("All", "Show everything (0)", self.fit),
        ):
            button = QPushButton(words)
            button.setToolTip(hint(tip))
            button.setAccessibleName(tip)
            button.setFixedHeight(30)
            button.setMinimumWidth(36)
            button.clicked.connect(act)
            row.addWidget(button)
        bar.adjustSize()
        self.view.scrolled.connect(self._place_zoom_bar)
        return bar

    def _place_zoom_bar(self) -> None:
        port = self.view.viewport()
        if port is not None:
            self.zoom_bar.adjustSize()
            self.zoom_bar.move(port.width() - self.zoom_bar.width() - 10, port.height() - self.zoom_bar.height() - 10)

    def _set_unit(self) -> None:
        unit = self.bench.unit
        self.corner.words = unit
        self.corner.update()
        for tape in (self.top, self.left):
            tape.set_unit(unit)
        self.view.unit = unit
        self.view.viewport_update()

    def repaint_all(self) -> None:
        """Draw everything anew, as after a change of the look."""
        self.view.viewport_update()
        for widget in (self.top, self.left, self.corner):
            widget.update()
        self.scene.update()

    # --- what is shown ------------------------------------------------------------------------

    def show_pattern(self, made: Made | None, showing: Showing) -> None:
        """Show the pieces of a pattern (or none), with the overlays a station wants."""
        self.clear_own()
        cut = () if made is None else made.drafted if showing.drafted else made.cut
        lay = {name: (item.placement(), item.outer.boundingRect()) for name, item in self.pieces.items()}
        if showing != self.showing or {c.piece.name for c in cut} != set(self.pieces):
            self._clear_pieces()
            self.showing = showing
        for piece in cut:
            item = self.pieces.get(piece.piece.name)
            if item is None:
                item = self.pieces[piece.piece.name] = PieceItem(piece, showing)
                self.scene.addItem(item)
                if self.bench.preview_document is not None:
                    item.put(self._where_it_was(item, lay))
            else:
                item.set_cut(piece)
        if self.bench.preview_document is None:
            self._lay_out()
        chip = self._held_chip()
        if chip is not None:
            sum_ = made.sums.get(chip.figure) if made is not None else None
            if sum_ is not None:
                chip.show_words(sum_.shown(self.bench.unit), sum_.override is not None)
        else:
            self._clear_overlays()
            pattern = None if made is None else made.evaluated.drafted if showing.drafted else made.pattern
            if made is not None and pattern is not None:
                self._add_overlays(made, pattern)
        if not self._fitted and self.pieces:
            self.fit()
        self.shown.emit()

    @staticmethod
    def _where_it_was(item: PieceItem, lay: Mapping[str, tuple[Placement, QRectF]]) -> Placement:
        """Where a piece lies while a step is tried: as before, where the piece lay that it was cut from, or below all."""
        if item.name in lay:
            return lay[item.name][0]
        middle = item.outer.boundingRect().center()
        made = reference(item.name).name
        for name, (placement, box) in lay.items():
            if reference(name).name == made and box.contains(middle):
                return placement
        lowest = max((placement.y + box.bottom() for placement, box in lay.values()), default=0.0)
        return Placement(x=-item.outer.boundingRect().left(), y=lowest + GAP - item.outer.boundingRect().top())

    def lay_over(self, outlines: Mapping[str, Path]) -> None:
        """Draw other outlines over the pieces of their names, dashed; none takes them away."""
        for item in self._laid_over:
            if item.scene() is not None:
                self.scene.removeItem(item)
        self._laid_over = []
        for name, outline in outlines.items():
            piece = self.pieces.get(name)
            if piece is None:
                continue
            item = QGraphicsPathItem(painter_path(outline, closed=True))
            item.setTransform(piece.sceneTransform())
            pen = QPen(LOOK.color("madder"), 1.6, Qt.PenStyle.DashLine)
            pen.setCosmetic(True)
            item.setPen(pen)
            item.setZValue(15)
            self.scene.addItem(item)
            self._laid_over.append(item)

    def _lay_out(self) -> None:
        """Put each piece where the user laid it, or in rows; in a row, hip stands by hip and armhole by armhole."""
        table, top = self.bench.document.table, 0.0
        row: list[tuple[str, PieceItem]] = []
        wide = 0.0
        for name, item in self.pieces.items():
            box = item.outer.boundingRect()
            if row and wide + box.width() > WIDEST:
                top, row, wide = self._lay_row(row, top) + GAP, [], 0.0
            row.append((name, item))
            wide += box.width() + GAP
        self._lay_row(row, top)
        for name, item in self.pieces.items():
            if name in table:
                item.put(table[name])

    @staticmethod
    def _lay_row(row: list[tuple[str, PieceItem]], top: float) -> float:
        """Lay pieces side by side from a height on; where the lowest ends."""
        places, stands, x = [], dict[str, float](), 0.0
        for _, item in row:
            box, levels = item.outer.boundingRect(), levels_of(item.cut.piece)
            shared = next((name for name in STAND_BY if name in levels and name in stands), "")
            y = stands[shared] - levels[shared] if shared else -box.top()
            for name, at in levels.items():
                stands.setdefault(name, at + y)
            places.append((item, x - box.left(), y, box))
            x += box.width() + GAP
        highest = min((y + box.top() for _, _, y, box in places), default=0.0)
        for item, left, y, _ in places:
            item.put(Placement(x=left, y=y - highest + top))
        return max((y - highest + top + box.bottom() for _, _, y, box in places), default=top)

    def _add_overlays(self, made: Made, pattern: Pattern) -> None:
        if self.showing.figures:
            pixel = self._pixel()
            taken = [item.words_box(pixel) for item in self.pieces.values()]
            for piece in pattern.pieces:
                for line in piece.figures:
                    sum_ = made.sums.get(line.figure)
                    ends = (line.bit.a, line.bit.b)
                    if sum_ is None or not all(map(piece.holds_spot, ends)):
                        continue
                    item = self.pieces[piece.name]
                    start, stop = (piece.where(end) for end in ends)
                    chip = FigureChip(
                        line.figure,
                        sum_.shown(self.bench.unit),
                        sum_.figure.label,
                        sum_.override is not None,
                        bool(sum_.estimates),
                        self._along(item, start, stop),
                    )
                    a, b = (item.mapToScene(QPointF(p.real, p.imag)) for p in (start, stop))
                    taken.append(clear_place(a, b, chip.box.size() * pixel, taken))
                    chip.dragged.connect(self.figure_dragged)
                    chip.dropped.connect(self.figure_dropped)
                    chip.setPos(taken[-1].center())
                    chip.rule = FigureRule(a, b)
                    self._overlay(chip.rule)
                    chip.clicked.connect(self.figure_chosen)
                    self._overlay(chip)
        if self.showing.letters:
            for seam in pattern.seams:
                self._add_letters(pattern, seam)

    def _pixel(self) -> float:
        """How many mm a pixel is when all the pieces are in view."""
        rect = self._all()
        return max(rect.width() / max(self.view.width(), 1), rect.height() / max(self.view.height(), 1), 1e-3)

    @staticmethod
    def _along(item: PieceItem, start: Point, stop: Point) -> QPointF:
        """The direction on the table in which a figure is measured, of length 1."""
        a, b = (item.mapToScene(QPointF(p.real, p.imag)) for p in (start, stop))
        line = b - a
        size = max((line.x() ** 2 + line.y() ** 2) ** 0.5, 1e-9)
        return QPointF(line.x() / size, line.y() / size)

    def _add_letters(self, pattern: Pattern, seam: Seam) -> None:
        """The letter of a seam on every run that is in it; a half stands for its counterpart too."""
        try:
            holds = all(walk(pattern, seam, layer).holds for layer in range(1, len(seam.layers)))
        except CaddetError:
            return
        fragments = [f for part in seam.parts() for f in pattern.fragments(part) if not f.imagined]
        for name, run in dict.fromkeys((f.piece.name, f.edge.name) for f in fragments):
            item = self.pieces[name]
            point, _, _ = item.cut.piece.run_point(run, item.cut.piece.run_length(run) * 0.36)
            tag = LetterTag(pattern.letter(seam.name), "woad" if holds else "madder")
            tag.setPos(item.mapToScene(QPointF(point.real, point.imag)))
            self._overlay(tag)

    def show_points(self, notes: Iterable[LineNote]) -> None:
        """Show the points that lines of a text give, on the pieces they belong to, and no others."""
        for old in [one for one in self.overlays if isinstance(one, PointLetter)]:
            self.scene.removeItem(old)
            self.overlays.remove(old)
        by_name = {name.rpartition(".")[2]: item for name, item in self.pieces.items()}
        for note in notes:
            item = by_name.get(note.piece)
            if note.point and item is not None:
                letter = PointLetter(note.point)
                letter.setPos(item.mapToScene(QPointF(note.at.real, note.at.imag)))
                self._overlay(letter)

    def _held_chip(self) -> FigureChip | None:
        """The figure that is being dragged just now: it must outlive the redraw."""
        return next((item for item in self.overlays if isinstance(item, FigureChip) and item.change is not None), None)

    def _overlay(self, item: QGraphicsItem) -> None:
        self.scene.addItem(item)
        self.overlays.append(item)

    def show_own(self, items: Iterable[QGraphicsItem], *, fit: bool = False) -> None:
        """Show a station's own items instead of the pieces; one that lies there already stays, and keeps the pointer."""
        self._clear_pieces()
        wanted = list(items)
        for item in self.own:
            if item not in wanted:
                self.scene.removeItem(item)
        for item in wanted:
            if item.scene() is not self.scene:
                self.scene.addItem(item)
        self.own = wanted
        if fit or not self._fitted:
            self.fit()

    def clear_own(self) -> None:
        """Take away what a station laid on the table itself."""
        for item in self.own:
            self.scene.removeItem(item)
        self.own = []

    def _clear_overlays(self) -> None:
        for item in self.overlays:
            self.scene.removeItem(item)
        self.overlays = []

    def _clear_pieces(self) -> None:
        self.lay_over({})
        self._clear_overlays()
        for item in self.pieces.values():
            self.scene.removeItem(item)
        self.pieces = {}

    def say_beside(self, words: str, *, over: bool = False, rich: bool = False) -> None:
        """Words at the left of the table; empty takes them away. The picture makes room, unless they lie ``over`` it."""
        self._over = over
        self.beside.setTextFormat(Qt.TextFormat.RichText if rich else Qt.TextFormat.PlainText)
        self.beside.setText(words)
        self.beside.setVisible(bool(words))
        wide = max(LOOK.px(190), round(self.view.width() * 0.27))
        self.beside.ensurePolished()
        self.beside.setGeometry(18, 16, wide, self.beside.heightForWidth(wide) + 4)
        if words and self.own:
            self.fit()

    @property
    def fitted(self) -> bool:
        """Whether the view has been fitted to what is shown."""
        return self._fitted

    def _beside_share(self) -> float:
        """The part of the view's width that the words beside a picture take."""
        if self._over or self.beside.isHidden() or not self.beside.text():
            return 0.0
        return min((self.beside.width() + 24) / max(self.view.width(), 1), 0.5)

    def forget_fit(self) -> None:
        """Fit the view again the next time something is shown."""
        self._fitted = False

    def _all(self) -> QRectF:
        rect = QRectF()
        for item in [*self.pieces.values(), *self.own]:
            rect = rect.united(item.sceneBoundingRect())
        return rect

    def fit(self) -> None:
        """Show everything."""
        rect = self._all()
        if not rect.isEmpty() and self.view.width() > 50:
            below = rect.height() * 0.06  # room for the zoom buttons
            # what is said beside it must not lie over it: a tall picture moves to the right of the words
            share = self._beside_share()
            room = rect.height() * self.view.width() / max(self.view.height(), 1) * (1 - share)
            aside = rect.width() * share / (1 - share) if rect.width() > room else max(room / (1 - share) * share, 0.0)
            self._fitted = True  # said before: moving the view moves what is held, and that may show everything again
            self.view.show_all(rect.adjusted(-aside if share else 0, 0, 0, below))

    def light(self, runs: dict[str, dict[str, str]]) -> None:
        """Light runs: piece → run → colour name."""
        for name, item in self.pieces.items():
            item.light(runs.get(name, {}))

    # --- hands --------------------------------------------------------------------------------

    def _selected(self) -> None:
        for item in self.scene.selectedItems():
            if isinstance(item, PieceItem):
                self.piece_chosen.emit(item.name)

    def keep_moves(self) -> None:
        """Keep where pieces were laid by hand."""
        for name, item in self.pieces.items():
            if item.moved_by_hand:
                item.moved_by_hand = False
                placement = item.placement()
                x, y = item.pos().x(), item.pos().y()
                old = self.bench.history.document.table.get(name)
                if old != placement and (old is not None or self._away_from_usual(name, x, y)):
                    self.bench.edit(f"Lay the {name} elsewhere", partial(place_piece, piece=name, placement=placement))

    def _away_from_usual(self, name: str, x: float, y: float) -> bool:
        item = self.pieces[name]
        here = item.placement()
        self._lay_out()
        usual = item.placement()
        item.put(here)
        return abs(usual.x - x) > 1 or abs(usual.y - y) > 1 or usual.turn != here.turn

    def turn_selected(self, degrees: float) -> None:
        """Turn the picked-up pieces on the table; the pattern is not changed."""
        for item in self.scene.selectedItems():
            if isinstance(item, PieceItem):
                middle = item.mapToScene(item.outer.boundingRect().center())
                item.setRotation((item.rotation() + degrees) % 360)
                item.setPos(item.pos() + middle - item.mapToScene(item.outer.boundingRect().center()))
                item.moved_by_hand = True
        self.keep_moves()

    def move_selected(self, by: complex) -> None:
        """Move the picked-up pieces on the table by so many mm."""
        for item in self.scene.selectedItems():
            if isinstance(item, PieceItem):
                item.moveBy(by.real, by.imag)
                item.moved_by_hand = True
        self.keep_moves()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """R turns the chosen piece, Ctrl with the arrows moves it."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_R:
            self.turn_selected(-15 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 15)
        elif event.key() in _ARROWS and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.move_selected(
                _ARROWS[Qt.Key(event.key())] * (1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 10)
            )
        elif event.key() == Qt.Key.Key_0:
            self.fit()
        else:
            super().keyPressEvent(event)
