"""The table view: zoom, pan, 1:1, the grid, and the tape tool (hold T)."""

from __future__ import annotations

from typing import Protocol

from PyQt6.QtCore import QEvent, QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QFrame, QGraphicsScene, QGraphicsView

from caddet.core.geometry.segments import Point
from caddet.core.lengths import Unit, format_length
from caddet.core.pattern.ids import own_name
from caddet.desk.table.overlays import Pinned
from caddet.desk.table.piece_item import PieceItem
from caddet.desk.table.spoken import SpokenNames, stops
from caddet.desk.theme import LOOK

STEPS = (0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.67, 0.8, 1.0, 1.25, 1.6, 2.0, 3.0, 4.0)  # shares of real size
ROOM = 12_000.0  # mm of table in every direction


class Handy(Protocol):
    """A hand that may take what happens on the view before the view does."""

    def press(self, event: QMouseEvent) -> bool:
        """A press of the pointer; whether the hand uses it."""

    def move(self, event: QMouseEvent) -> bool:
        """The pointer moves; whether the hand uses it."""

    def release(self, event: QMouseEvent) -> bool:
        """The pointer is let go; whether the hand uses it."""

    def wants(self, event: QKeyEvent) -> bool:
        """Whether a key is the hand's, before any shortcut sees it."""

    def key(self, event: QKeyEvent) -> bool:
        """A key; whether the hand uses it."""

    def first(self) -> bool:
        """Choose the first thing when nothing has the focus; whether there is one."""


class TableView(QGraphicsView):
    """The view on the scene, whose unit is the millimetre."""

    scrolled = pyqtSignal()
    pointed = pyqtSignal(QPointF)
    measured = pyqtSignal(str)
    deselected = pyqtSignal()

    def __init__(self, scene: QGraphicsScene) -> None:
        super().__init__(scene)
        self.unit: Unit = "cm"
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.setResizeAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.FullViewportUpdate)
        self.setCacheMode(QGraphicsView.CacheModeFlag.CacheBackground)
        self.setMouseTracking(True)
        self.setSceneRect(QRectF(-ROOM, -ROOM, 2 * ROOM, 2 * ROOM))
        self.setAccessibleName("Table")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.dots = 0.0  # pixels in a mm at 1:1; 0 asks the screen
        self._pan: QPointF | None = None
        self._space = False
        self.taping = False
        self.hand: Handy | None = None
        self._tape_from: tuple[PieceItem, str, float] | None = None
        self._tape_words = ""
        self._tape_line: tuple[QPointF, QPointF] | None = None
        self._tape_curve: list[QPointF] = []
        self.names = SpokenNames(self, scene)
        for bar in (self.horizontalScrollBar(), self.verticalScrollBar()):
            if bar is not None:
                bar.valueChanged.connect(self.scrolled)

    # --- zoom and pan -------------------------------------------------------------------------

    def real_size(self) -> float:
        """Pixels in a millimetre when a ruler on the screen agrees."""
        if self.dots:
            return self.dots
        screen = self.screen()
        return (screen.physicalDotsPerInch() if screen else 96.0) / 25.4

    def zoom_share(self) -> float:
        """The zoom as a share of real size."""
        return self.transform().m11() / self.real_size()

    def zoom_to(self, share: float) -> None:
        """Show the table at a share of its real size."""
        share = min(max(share, STEPS[0] / 2), STEPS[-1])
        scale = share * self.real_size() / self.transform().m11()
        self.scale(scale, scale)
        self.scrolled.emit()
        self.viewport_update()

    def zoom_step(self, up: bool) -> None:
        """One step nearer or further."""
        now = self.zoom_share()
        if up:
            self.zoom_to(next((step for step in STEPS if step > now * 1.01), STEPS[-1]))
        else:
            self.zoom_to(next((step for step in reversed(STEPS) if step < now * 0.99), STEPS[0]))

    def show_all(self, rect: QRectF) -> None:
        """Fit a rectangle of the table into the view, with some room round it."""
        if rect.isEmpty():
            return
        margin = max(rect.width(), rect.height()) * 0.05
        self.fitInView(rect.adjusted(-margin, -margin, margin, margin), Qt.AspectRatioMode.KeepAspectRatio)
        self.scrolled.emit()

    def viewport_update(self) -> None:
        """Draw the view anew, with its ground."""
        self.resetCachedContent()
        port = self.viewport()
        if port is not None:
            port.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel zooms about the pointer; with Shift it goes sideways. Not while something is held, nor as a pad rolls on."""
        if event is None or event.buttons() or event.phase() == Qt.ScrollPhase.ScrollMomentum:
            return
        delta = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._scroll(-(delta.y() or delta.x()) / 2, 0)
        else:
            factor = 1.0015 ** delta.y()
            if STEPS[0] / 2 <= self.zoom_share() * factor <= STEPS[-1]:
                self.scale(factor, factor)
                self.scrolled.emit()

    def _scroll(self, dx: float, dy: float) -> None:
        for bar, by in ((self.horizontalScrollBar(), dx), (self.verticalScrollBar(), dy)):
            if bar is not None:
                bar.setValue(round(bar.value() + by))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """The hand first; then panning on empty table; then what lies there."""
        if event is None:
            return
        if self.hand is not None and not self._space and self.hand.press(event):
            return
        empty = self.itemAt(event.position().toPoint()) is None
        if event.button() == Qt.MouseButton.MiddleButton or (
            event.button() == Qt.MouseButton.LeftButton and (self._space or empty)
        ):
            self._pan = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            scene = self.scene()
            if empty and scene is not None:
                scene.clearSelection()
                self.deselected.emit()
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pan, run the tape, or let the hand see what lies there."""
        if event is None:
            return
        point = self.mapToScene(event.position().toPoint())
        self.pointed.emit(point)
        if self._pan is not None:
            move = event.position() - self._pan
            self._pan = event.position()
            self._scroll(-move.x(), -move.y())
            return
        if self.taping:
            self._tape(point)
            return
        if self.hand is not None and self.hand.move(event):
            return
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """End the pan or what the hand holds."""
        if self._pan is not None:
            self._pan = None
            self.unsetCursor()
            return
        if event is not None and self.hand is not None and self.hand.release(event):
            super().mouseReleaseEvent(event)
            return
        super().mouseReleaseEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The tapes follow."""
        super().resizeEvent(event)
        self.scrolled.emit()

    # --- keys ---------------------------------------------------------------------------------

    def focusNextPrevChild(self, next: bool) -> bool:
        """Tab goes from figure to figure or ring to ring, then on to the next widget."""
        scene = self.scene()
        if scene is None:
            return super().focusNextPrevChild(next)
        if next and self.hand is not None and self.hand.first():
            return True
        there = stops(scene)
        here = scene.focusItem()
        at = there.index(here) if here in there else (-1 if next else len(there))
        at += 1 if next else -1
        if 0 <= at < len(there):
            there[at].setFocus(Qt.FocusReason.TabFocusReason)
            self.ensureVisible(there[at])
            return True
        scene.clearFocus()
        return super().focusNextPrevChild(next)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The hand first; then what has the focus; then the table's own keys."""
        if event is None:
            return
        scene = self.scene()
        focus = scene.focusItem() if scene is not None else None
        if not isinstance(focus, Pinned) and self.hand is not None and self.hand.key(event):
            event.accept()
            return
        super().keyPressEvent(event)
        if event.isAccepted() and self.scene() is not None and self.scene().focusItem() is not None:  # type: ignore[union-attr]
            return
        if isinstance(focus, Pinned) and self.hand is not None and self.hand.key(event):
            event.accept()
            return
        key = event.key()
        arrows = {
            Qt.Key.Key_Left: (-60, 0),
            Qt.Key.Key_Right: (60, 0),
            Qt.Key.Key_Up: (0, -60),
            Qt.Key.Key_Down: (0, 60),
        }
        if key == Qt.Key.Key_T and not event.isAutoRepeat():
            self.begin_tape()
        elif key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        elif key in arrows and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._scroll(*arrows[Qt.Key(key)])
        elif key == Qt.Key.Key_1:
            self.zoom_to(1.0)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_step(True)
        elif key == Qt.Key.Key_Minus:
            self.zoom_step(False)
        else:
            event.ignore()
            return
        event.accept()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """Letting go of T ends the tape, of Space the panning."""
        if event is None:
            return
        if event.key() == Qt.Key.Key_T and not event.isAutoRepeat():
            self.end_tape()
        elif event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.unsetCursor()
        else:
            super().keyReleaseEvent(event)

    def focusOutEvent(self, event: object) -> None:
        """The tape ends."""
        self.end_tape()
        super().focusOutEvent(event)  # type: ignore[arg-type]

    def event(self, event: QEvent | None) -> bool:
        # a key that is a shortcut elsewhere still belongs to the tape while the table has the focus
        """Keys of the hand and the table come before shortcuts."""
        if event is not None and event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            if self.hand is not None and self.hand.wants(event):
                event.accept()
                return True
            plain = not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier
            if plain and event.key() in (Qt.Key.Key_T, Qt.Key.Key_1, Qt.Key.Key_Space):
                event.accept()
                return True
        return super().event(event)

    # --- the tape tool ------------------------------------------------------------------------

    def begin_tape(self) -> None:
        """Take up the tape: run along an edge from where the pointer is."""
        self.taping = True
        self._tape_from = None
        self.setCursor(Qt.CursorShape.CrossCursor)
        port = self.viewport()
        if port is not None:
            self._tape(self.mapToScene(port.mapFromGlobal(self.cursor().pos())))

    def end_tape(self) -> None:
        """Roll the tape up."""
        if self.taping:
            self.taping = False
            self._tape_line = None
            self._tape_curve = []
            self.unsetCursor()
            self.viewport_update()

    def _tape(self, scene_point: QPointF) -> None:
        """Measure from where the tape was put down, along the same edge, to the nearest place."""
        reach = 26 / self.transform().m11()
        if self._tape_from is None:
            found = self._nearest_edge(scene_point, reach)
            if found is None:
                return
            self._tape_from = found
        item, run, begun = self._tape_from
        piece = item.cut.piece
        if run not in piece.runs():
            self._tape_from = None
            return
        _, now = piece.nearest_on_run(run, item.to_piece(scene_point))
        a, b = piece.run_point(run, begun)[0], piece.run_point(run, now)[0]
        self._tape_line = (self._on_table(item, a), self._on_table(item, b))
        count = 24
        self._tape_curve = [
            self._on_table(item, piece.run_point(run, begun + (now - begun) * i / count)[0]) for i in range(count + 1)
        ]
        along, straight = format_length(abs(now - begun), self.unit), format_length(abs(b - a), self.unit)
        whole = format_length(piece.run_length(run), self.unit, with_unit=True)
        self._tape_words = f"along {along}   straight {straight}   ({own_name(run).replace('_', ' ')}, whole {whole})"
        self.measured.emit(self._tape_words)
        self.viewport_update()

    @staticmethod
    def _on_table(item: PieceItem, point: Point) -> QPointF:
        return item.mapToScene(QPointF(point.real, point.imag))

    def _nearest_edge(self, scene_point: QPointF, reach: float) -> tuple[PieceItem, str, float] | None:
        best: tuple[float, PieceItem, str, float] | None = None
        scene = self.scene()
        for item in scene.items() if scene is not None else []:
            if isinstance(item, PieceItem):
                at = item.to_piece(scene_point)
                for run in item.cut.piece.runs():
                    off, along = item.cut.piece.nearest_on_run(run, at)
                    if off <= reach and (best is None or off < best[0]):
                        best = (off, item, run, along)
        return best[1:] if best else None

    # --- painting -----------------------------------------------------------------------------

    def drawBackground(self, painter: QPainter | None, rect: QRectF) -> None:
        """The table and its grid, in the unit that is shown."""
        if painter is None:
            return
        painter.fillRect(rect, LOOK.color("table"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        step = 10.0 if self.unit == "cm" else 25.4
        scale = self.transform().m11()
        for size, color in ((step, "grid"), (step * (5 if self.unit == "cm" else 4), "grid_five")):
            if size * scale < 5:
                continue
            pen = QPen(LOOK.color(color), 1)
            pen.setCosmetic(True)
            painter.setPen(pen)
            first_x, first_y = int(rect.left() // size), int(rect.top() // size)
            lines = [
                QLineF(i * size, rect.top(), i * size, rect.bottom())
                for i in range(first_x, int(rect.right() // size) + 2)
            ]
            lines += [
                QLineF(rect.left(), i * size, rect.right(), i * size)
                for i in range(first_y, int(rect.bottom() // size) + 2)
            ]
            if lines:
                painter.drawLines(lines[0], *lines[1:])
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)

    def drawForeground(self, painter: QPainter | None, rect: QRectF) -> None:
        """The tape while it is run, along an edge or straight."""
        if painter is None or not self.taping or self._tape_line is None:
            return
        pen = QPen(LOOK.color("madder"), 1.4, Qt.PenStyle.DashLine)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.drawLine(*self._tape_line)
        pen = QPen(LOOK.color("madder"), 4)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.drawPolyline(QPolygonF(self._tape_curve))
        at = self.mapFromScene(self._tape_line[1])
        painter.save()
        painter.resetTransform()
        painter.setFont(LOOK.figure_font(18))
        box = painter.fontMetrics().boundingRect(self._tape_words)
        port = self.viewport()
        wide = port.width() if port else 800
        left = min(max(at.x() + 16, 6), wide - box.width() - 28)
        frame = QRectF(left, max(at.y() - 46, 4), box.width() + 22, 32)
        painter.setPen(QPen(LOOK.color("tape_ink"), 1))
        painter.setBrush(LOOK.color("tape"))
        painter.drawRoundedRect(frame, 5, 5)
        painter.setPen(LOOK.color("ink"))
        painter.drawText(frame, Qt.AlignmentFlag.AlignCenter, self._tape_words)
        painter.restore()
