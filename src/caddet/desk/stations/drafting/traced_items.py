"""A garment that is being traced, on the table: its pieces as they are known so far, and where the tape goes."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPainterPathStroker, QPen, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.tracing.kinds import Asked, Seen, Shape
from caddet.core.tracing.outlining import path_of
from caddet.core.tracing.solving import Solved
from caddet.desk.stations.truing.walk_items import LineItem, pen
from caddet.desk.table.drawing import Drawn, painter_path
from caddet.desk.theme import LOOK

GAP = 90.0  # mm between pieces
MIRROR = Motion(-1 + 0j, 0j, True)  # over the plumb line at x = 0


def outline_of(solved: Solved, shape: Shape) -> Path:
    """The outline of a shape as solved."""
    return Path.join([path_of(solved.curves[shape.name, run.name]) for run in shape.runs])


def places(solved: Solved) -> dict[str, Motion]:
    """Where each shape lies on the table: side by side, tops level, a half on the fold with room for its other half."""
    found: dict[str, Motion] = {}
    at = 0.0
    for shape in solved.shapes:
        left, top, right, _ = outline_of(solved, shape).bounds()
        low = -right if shape.fold else left
        found[shape.name] = Motion(shift=complex(at - low, -top))
        at += right - low + GAP
    return found


def pieces(solved: Solved) -> list[QGraphicsItem]:
    """The shapes on paper, with the other half of those on the fold; dashed as long as they are only guessed."""
    found: list[QGraphicsItem] = []
    for shape in solved.shapes:
        lie = places(solved)[shape.name]
        outline = outline_of(solved, shape)
        if shape.fold:
            found.append(LineItem([outline.moved(MIRROR).moved(lie)], "grid_five", 1.2, fill="paper"))
        found.append(LineItem([outline.moved(lie)], "ink", 2.0, dashed=not solved.whole, fill="paper"))
        found.append(NameItem(shape.label, lie, outline))
    return found


def tape_line(solved: Solved, seen: Seen) -> list[Path]:
    """Where the tape goes for what is seen on one shape, in that shape's frame; over both halves where it is doubled."""
    doubled = seen.times == 2.0
    if seen.how == "along":
        runs = [path_of(solved.curves[seen.shape, run]) for run in seen.of]
        return runs + ([run.moved(MIRROR) for run in runs] if doubled else [])
    a, b = (solved.marks[seen.shape, name] for name in seen.of)
    if seen.how == "cross":
        return [Path.polyline([-a.conjugate(), b])]
    if seen.how == "drop":
        return [Path.polyline([complex(b.real, a.imag), b])] if abs(b.imag - a.imag) > 1e-6 else []
    if seen.how == "across":
        a, b = complex(a.real, a.imag), complex(b.real, a.imag)
        b = -a.conjugate() if doubled else b
    return [Path.polyline([a, b])] if abs(b - a) > 1e-6 else []


class NameItem(Drawn, QGraphicsItem):
    """The name of a piece in its middle, as large at every zoom."""

    def __init__(self, words: str, lie: Motion, outline: Path) -> None:
        super().__init__()
        left, top, right, low = outline.moved(lie).bounds()
        self.words = words
        self.setPos(QPointF((left + right) / 2, top + (low - top) * 0.62))
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-90, -12, 180, 24)

    def draw(self, painter: QPainter) -> None:
        """The words."""
        painter.setFont(LOOK.font(14, LOOK.font(14).Weight.DemiBold))
        painter.setPen(LOOK.color("iron"))
        painter.drawText(self.boundingRect(), Qt.AlignmentFlag.AlignCenter, self.words)


class TapeItem(Drawn, QGraphicsItem):
    """Where the tape goes for one reading: quiet, or lit with its words; a click chooses it."""

    def __init__(self, paths: list[Path], words: str, color: str, lit: bool, act: Callable[[], object]) -> None:
        super().__init__()
        self.path = painter_path(paths)
        self.words, self.color, self.lit, self._act = words, color, lit, act
        self.middle = self.path.pointAtPercent(0.5) if paths else QPointF()
        self.ends = [
            (QPointF(p.start.real, p.start.imag), QPointF(p.end.real, p.end.imag)) for p in paths if p.length > 1e-6
        ]
        self.setZValue(30 if lit else 20)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates: the words stand beside it at every zoom."""
        return self.path.boundingRect().adjusted(-160, -60, 160, 60)

    def shape(self) -> QPainterPath:
        """Near its line."""
        stroker = QPainterPathStroker()
        stroker.setWidth(14)
        return stroker.createStroke(self.path)

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is chosen."""
        if event is not None:
            self._act()

    def draw(self, painter: QPainter) -> None:
        """The line, its ends, and when it is lit a tag with what was read."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        stroke = pen(self.color, 4.0 if self.lit else 1.3)
        if not self.lit:
            stroke.setStyle(Qt.PenStyle.DotLine)
        painter.setPen(stroke)
        painter.drawPath(self.path)
        if not self.lit:
            return
        view = painter.worldTransform()
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setPen(QPen(LOOK.color(self.color), 2))
        painter.setBrush(LOOK.color("white"))
        for a, b in self.ends:
            painter.drawEllipse(view.map(a), 4.5, 4.5)
            painter.drawEllipse(view.map(b), 4.5, 4.5)
        if not self.words:
            painter.restore()
            return
        at = view.map(self.middle)
        painter.setFont(LOOK.figure_font(18))
        wide = painter.fontMetrics().horizontalAdvance(self.words) + 24
        box = QRectF(at.x() - wide / 2, at.y() - 42, wide, 30)
        painter.setPen(QPen(LOOK.color(self.color), 1.4))
        painter.drawRoundedRect(box, 15, 15)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)
        painter.restore()


def tape_items(
    solved: Solved,
    asked: Asked,
    words: str,
    color: str,
    lit: bool,
    lies: Mapping[str, Motion],
    act: Callable[[], object],
) -> list[QGraphicsItem]:
    """The lines of one reading, on every shape that it measures; its words stand on the first of them."""
    found: list[QGraphicsItem] = []
    for seen in asked.seen:
        paths = [path.moved(lies[seen.shape]) for path in tape_line(solved, seen)]
        if paths:
            found.append(TapeItem(paths, "" if found else words, color, lit, act))
    return found
