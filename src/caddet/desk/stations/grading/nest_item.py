"""The nest on the table: a piece in every size, and the rings by which a corner of the next size is pulled."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.desk.table.drawing import Drawn, painter_path, qpoint
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint

KEYS = {
    Qt.Key.Key_Left: -1 + 0j,
    Qt.Key.Key_Right: 1 + 0j,
    Qt.Key.Key_Up: -1j,
    Qt.Key.Key_Down: 1j,
}
RING = 8.0  # px


@dataclass(frozen=True, slots=True)
class Line:
    """One size of the piece that is shown: its name, outline, where its name stands, and which kind of line it is."""

    name: str
    outline: Path
    at: Point
    kind: str  # base, larger, smaller, person, bad


STYLES = {
    "base": ("ink", 2.6, Qt.PenStyle.SolidLine),
    "larger": ("woad", 1.4, Qt.PenStyle.SolidLine),
    "smaller": ("woad", 1.4, Qt.PenStyle.DashLine),
    "person": ("verdigris", 1.8, Qt.PenStyle.DashDotLine),
    "bad": ("madder", 1.8, Qt.PenStyle.DotLine),
}


class NestItem(Drawn, QGraphicsItem):
    """Every size of a piece, laid on each other; the base strong on paper, the others as lines with their names."""

    def __init__(self, words: str, lines: list[Line]) -> None:
        super().__init__()
        self.words = words
        self.lines: list[Line] = []
        self.paths: list[QPainterPath] = []
        self.box = QRectF()
        self.show_lines(lines)

    def show_lines(self, lines: list[Line]) -> None:
        """Show other outlines, as while a rule is pulled."""
        self.prepareGeometryChange()
        self.lines = lines
        self.paths = [painter_path(line.outline, closed=True) for line in lines]
        self.box = QRectF()
        for path in self.paths:
            self.box = self.box.united(path.boundingRect())
        self.update()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.box.adjusted(-60, -40, 60, 40)

    def draw(self, painter: QPainter) -> None:
        """The paper of the largest, then every line, then the names."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(LOOK.color("paper"))
        for path in self.paths:
            painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for line, path in sorted(zip(self.lines, self.paths, strict=True), key=lambda one: one[0].kind == "base"):
            color, wide, style = STYLES[line.kind]
            pen = QPen(LOOK.color(color), wide, style)
            pen.setCosmetic(True)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.drawPath(path)
        world = painter.worldTransform()
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setFont(LOOK.figure_font(15))
        named = [line for line in self.lines if line.name]
        width_of = painter.fontMetrics().horizontalAdvance
        places = [(world.map(qpoint(line.at)), width_of(line.name) + 10.0) for line in named]
        for line, box in zip(named, name_boxes(places), strict=True):
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(LOOK.color("white"))
            painter.drawRoundedRect(box, 4, 4)
            painter.setPen(LOOK.color(STYLES[line.kind][0]))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, line.name)
        painter.setFont(LOOK.font(15, LOOK.font(15).Weight.DemiBold))
        painter.setPen(LOOK.color("ink"))
        middle, room = world.map(self.box.center()), self.box.width() * world.m11()
        if painter.fontMetrics().horizontalAdvance(self.words) < room:  # a small piece is known by its shape
            box = QRectF(middle.x() - 160, middle.y() - 14, 320, 28)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)
        painter.restore()


def name_boxes(places: Sequence[tuple[QPointF, float]]) -> list[QRectF]:
    """Where names stand, px: a column beside the lines, clear of their rings, read from the first down; none over another.

    ``places`` are the corners that are named and how wide each name is; the last stands beside its corner.
    """
    left = max((at.x() for at, _ in places), default=0.0) + 2 * RING
    found: list[QRectF] = []
    for at, wide in reversed(places):
        top = at.y() - 11
        if found:
            top = min(top, found[-1].top() - 22)
        found.append(QRectF(left, top, wide, 21))
    return found[::-1]


class CornerRing(Drawn, QGraphicsItem):
    """A corner of the next size: pulled with the pointer or the arrow keys, the rule of that corner follows."""

    can_focus = True

    def __init__(
        self, name: str, at: Point, pulled: Callable[[str, Point], object], dropped: Callable[[str, Point], object]
    ) -> None:
        super().__init__()
        self.name, self.begun, self.at = name, at, at
        self._pulled, self._dropped = pulled, dropped
        self.spoken = name.replace("_", " ").replace("-", ", ")
        self.setPos(qpoint(at))
        self.setZValue(30)
        self.setToolTip(hint(f"{self.spoken}: pull it, or press the arrow keys (Alt for a tenth)"))
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsFocusable)
        self.setCursor(Qt.CursorShape.SizeAllCursor)

    def boundingRect(self) -> QRectF:
        """What it covers, in pixels."""
        return QRectF(-RING - 4, -RING - 4, 2 * RING + 8, 2 * RING + 8)

    def draw(self, painter: QPainter) -> None:
        """A ring; strong when it has the keyboard."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(LOOK.color("woad"), 3.0 if self.hasFocus() else 2.0))
        painter.setBrush(LOOK.color("white"))
        painter.drawEllipse(QRectF(-RING + 2, -RING + 2, 2 * RING - 4, 2 * RING - 4))

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is taken."""
        if event is not None:
            self.setFocus()
            self.begun = self.at

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It goes with the pointer, to the millimetre (Alt: a tenth)."""
        if event is not None:
            fine = 1 if event.modifiers() & Qt.KeyboardModifier.AltModifier else 0
            off = complex(event.scenePos().x(), event.scenePos().y()) - self.begun
            self._go(self.begun + complex(round(off.real, fine), round(off.imag, fine)))

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is let go: the rule is kept."""
        if event is not None and self.at != self.begun:
            self._dropped(self.name, self.at - self.begun)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """An arrow key moves it and keeps the rule."""
        way = KEYS.get(Qt.Key(event.key())) if event is not None else None
        if event is None or way is None:
            if event is not None:
                event.ignore()
            return
        self._dropped(self.name, way * (0.1 if event.modifiers() & Qt.KeyboardModifier.AltModifier else 1.0))

    def _go(self, at: Point) -> None:
        self.at = at
        self.setPos(qpoint(at))
        self._pulled(self.name, at - self.begun)


class Words(Drawn, QGraphicsItem):
    """Words on the table in the colour of a kind of line, always as large."""

    def __init__(self, words: str, at: QPointF, kind: str) -> None:
        super().__init__()
        self.words, self.kind = words, kind
        self.setPos(at)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)

    def boundingRect(self) -> QRectF:
        """What it covers, in pixels."""
        return QRectF(0, -16, 300, 30)

    def draw(self, painter: QPainter) -> None:
        """The words with a stroke of their line."""
        color, wide, style = STYLES[self.kind]
        painter.setPen(QPen(LOOK.color(color), wide, style))
        painter.drawLine(QPointF(0, 0), QPointF(34, 0))
        painter.setFont(LOOK.font(17, LOOK.font(17).Weight.DemiBold))
        painter.drawText(QPointF(42, 6), self.words)
