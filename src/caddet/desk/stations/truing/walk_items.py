"""The pieces of a seam as they lie while it is walked, the place where they touch, and what is laid beside them."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.features import Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.piece import Piece
from caddet.desk.table.drawing import Drawn, painter_path, qpoint
from caddet.desk.theme import LOOK


class RolledItem(Drawn, QGraphicsItem):
    """A piece as it lies while walking, with the walked run strong and what has been walked lit."""

    def __init__(self, fragments: list[Fragment], piece: Piece, place: Motion, walked: float, color: str) -> None:
        super().__init__()
        moved = piece.moved(place)
        self.outline = painter_path(moved.outline(), closed=True)
        mine = [fragment for fragment in fragments if fragment.piece is piece]
        edges = [_as_it_lies(fragment).moved(place) for fragment in mine]
        self.run = painter_path(edges)
        done = []
        left = walked
        for fragment in fragments:
            if fragment.piece is piece and left > 1e-6:
                part = _as_it_lies(fragment).moved(place).between(0.0, min(left, fragment.length))
                if part is not None:
                    done.append(part)
            left -= fragment.length
        self.done = painter_path(done)
        self.darts = painter_path([edge.path for edge in moved.edges if edge.dart])
        self.notches = []
        for notch in piece.notches:
            on = piece.on_edge(Spot(notch.edge, notch.u))
            if on is not None and any(fragment.index == on[0] for fragment in mine):
                path = piece.edges[on[0]].path
                point, direction = path.point_at(on[1]), path.direction_at(on[1])
                a, b = place(point - direction * 1j * 9), place(point + direction * 1j * 9)
                self.notches.append((qpoint(a), qpoint(b)))
        self.color = color
        self.words = piece.label
        self.middle = self.outline.boundingRect().center()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.outline.boundingRect().adjusted(-12, -12, 12, 12)

    def draw(self, painter: QPainter) -> None:
        """The piece with its darts and notches; the run strong, and what has been walked lit."""
        paper = LOOK.color("paper")
        paper.setAlpha(225)
        painter.setBrush(QBrush(paper))
        painter.setPen(pen("ink", 1.4))
        painter.drawPath(self.outline)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(self.darts)
        painter.setPen(pen(self.color, 2.4))
        painter.drawPath(self.run)
        painter.setPen(pen(self.color, 5.0))
        painter.drawPath(self.done)
        painter.setPen(pen("ink", 2.4))
        for a, b in self.notches:
            painter.drawLine(a, b)
        at = painter.worldTransform().map(self.middle)
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setFont(LOOK.font(14, LOOK.font(14).Weight.DemiBold))
        painter.setPen(LOOK.color("ink"))
        painter.drawText(QRectF(at.x() - 90, at.y() - 10, 180, 20), Qt.AlignmentFlag.AlignCenter, self.words)
        painter.restore()


def _as_it_lies(fragment: Fragment) -> Path:
    """The path of a stretch in the frame of its piece, in walking direction."""
    path = fragment.edge.path.between(fragment.low, fragment.high) or fragment.edge.path
    return path.reversed() if fragment.backwards else path


class TouchItem(Drawn, QGraphicsItem):
    """The place where the two pieces touch, and how far has been walked."""

    def __init__(self, at: complex, words: str, pulled: Callable[[complex], object] | None = None) -> None:
        super().__init__()
        self.words, self._pulled = words, pulled
        self.setPos(qpoint(at))
        if pulled is not None:
            self.setCursor(Qt.CursorShape.SizeAllCursor)
            self.setToolTip("Pull it along the seam")
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setZValue(40)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-190, -52, 380, 66)

    def show_at(self, at: complex, words: str) -> None:
        """Stand elsewhere, with other words."""
        self.words = words
        self.setPos(qpoint(at))
        self.update()

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is taken, where it can be."""
        if event is not None and self._pulled is None:
            event.ignore()

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """The walk goes to where it is pulled."""
        if event is not None and self._pulled is not None:
            self._pulled(complex(event.scenePos().x(), event.scenePos().y()))

    def draw(self, painter: QPainter) -> None:
        """A ring at the place, and over it how far has been walked."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(LOOK.color("madder"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QRectF(-8, -8, 16, 16))
        painter.setFont(LOOK.figure_font(17))
        wide = painter.fontMetrics().horizontalAdvance(self.words) + 22
        box = QRectF(-wide / 2, -48, wide, 30)
        painter.setPen(QPen(LOOK.color("woad"), 1.4))
        painter.setBrush(LOOK.color("white"))
        painter.drawRoundedRect(box, 15, 15)
        painter.setPen(LOOK.color("woad"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)


def pen(color: str, width: float) -> QPen:
    """A pen of a colour of the theme, as many pixels wide at every zoom."""
    made = QPen(LOOK.color(color), width)
    made.setCosmetic(True)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return made


class LineItem(Drawn, QGraphicsItem):
    """Lines on the table in one colour and width (px), dashed or not, filled or not."""

    def __init__(self, paths: list[Path], color: str, width: float, *, dashed: bool = False, fill: str = "") -> None:
        super().__init__()
        self.path = painter_path(paths, closed=bool(fill))
        self.color, self.width, self.dashed, self.fill = color, width, dashed, fill

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.path.boundingRect().adjusted(-8, -8, 8, 8)

    def draw(self, painter: QPainter) -> None:
        """The lines."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        stroke = pen(self.color, self.width)
        if self.dashed:
            stroke.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(stroke)
        painter.setBrush(QBrush(LOOK.color(self.fill)) if self.fill else Qt.BrushStyle.NoBrush)
        painter.drawPath(self.path)
