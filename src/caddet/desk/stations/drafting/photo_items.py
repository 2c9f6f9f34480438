"""A photograph on the table, seen from straight above, and what is pulled on it: the sheet's corners, outlines, their corners."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPainterPathStroker, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPixmapItem, QGraphicsSceneMouseEvent

from caddet.core.geometry.paths import Path
from caddet.core.tracing.photo.flat import Flat
from caddet.core.tracing.photo.view import Points
from caddet.desk.stations.truing.walk_items import pen
from caddet.desk.table.drawing import Drawn
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint

MARK_LONG, MARK_APART = 14.0, 5.0  # mm

Pulled = Callable[[complex, bool], object]
"""Told where something is pulled (mm), and whether it was let go."""


def picture_item(flat: Flat) -> QGraphicsPixmapItem:
    """The photograph from above, in its place in mm."""
    high, wide = flat.points.shape[:2]
    shown = np.dstack([flat.points, flat.seen]).copy()
    image = QImage(shown.tobytes(), wide, high, wide * 4, QImage.Format.Format_RGBA8888)
    item = QGraphicsPixmapItem(QPixmap.fromImage(image))
    item.setTransformationMode(Qt.TransformationMode.SmoothTransformation)
    item.setScale(1 / flat.fine)
    item.setPos(flat.origin.real, flat.origin.imag)
    item.setZValue(-5)
    item.setAcceptedMouseButtons(Qt.MouseButton.NoButton)
    return item


class OutlineItem(Drawn, QGraphicsItem):
    """A traced outline: its line can be pulled anywhere; a click chooses it, two make or unmake a corner."""

    def __init__(
        self,
        points: Points,
        chosen: bool,
        act: Callable[[int], object],
        pulled: Callable[[int, complex, bool], object],
        twice: Callable[[int], object],
    ) -> None:
        super().__init__()
        self.points = points
        self.chosen, self._act, self._pulled, self._twice = chosen, act, pulled, twice
        self.line, self.path = QPolygonF(), QPainterPath()
        self.redraw()
        self.held = -1
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setZValue(24 if chosen else 22)

    def places(self) -> list[complex]:
        """The places that the line runs through: a closed round."""
        return [complex(p) for p in [*self.points, self.points[0]]]

    def redraw(self) -> None:
        """Draw the line through its places as they are now."""
        self.line = QPolygonF([QPointF(p.real, p.imag) for p in self.places()])
        self.path = QPainterPath()
        self.path.addPolygon(self.line)
        self.update()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.line.boundingRect().adjusted(-12, -12, 12, 12)

    def shape(self) -> QPainterPath:
        """Near its line."""
        stroker = QPainterPathStroker()
        stroker.setWidth(12)
        return stroker.createStroke(self.path)

    def nearest(self, at: QPointF) -> int:
        """The place of the outline nearest to a point on the table."""
        return int(np.abs(self.points - complex(at.x(), at.y())).argmin())

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is taken where it is pressed."""
        if event is not None:
            self.held = self.nearest(event.scenePos())
            self._act(self.held)

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """The place that was taken is pulled."""
        if event is not None and self.held >= 0:
            self._pulled(self.held, complex(event.scenePos().x(), event.scenePos().y()), False)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Let go."""
        if event is not None and self.held >= 0:
            moved = event.scenePos() != event.buttonDownScenePos(Qt.MouseButton.LeftButton)
            held, self.held = self.held, -1
            if moved:
                self._pulled(held, complex(event.scenePos().x(), event.scenePos().y()), True)

    def mouseDoubleClickEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """A corner is made or unmade."""
        if event is not None:
            self._twice(self.nearest(event.scenePos()))

    def draw(self, painter: QPainter) -> None:
        """The line, light under dark, so that it stands out on any cloth."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen("white", 4.4 if self.chosen else 3.0))
        painter.drawPath(self.path)
        painter.setPen(pen("woad" if self.chosen else "ink", 2.4 if self.chosen else 1.6))
        painter.drawPath(self.path)


class DrawnLineItem(OutlineItem):
    """A line drawn on a piece, with the marks across it (share of its length, double): pulled like an outline; two clicks make a mark."""

    def __init__(
        self,
        points: Points,
        marks: Sequence[tuple[float, bool]],
        chosen: bool,
        act: Callable[[int], object],
        pulled: Callable[[int, complex, bool], object],
        twice: Callable[[int], object],
    ) -> None:
        self.marks = marks
        super().__init__(points, chosen, act, pulled, twice)
        self.setZValue(26 if chosen else 23)

    def places(self) -> list[complex]:
        """The places that the line runs through, from end to end."""
        return [complex(p) for p in self.points]

    def redraw(self) -> None:
        """Draw the line and its marks."""
        super().redraw()
        drawn = Path.polyline(self.places())
        for share, double in self.marks:
            for off in (-MARK_APART / 2, MARK_APART / 2) if double else (0.0,):
                along = min(max(drawn.length * share + off, 0.0), drawn.length)
                at, way = drawn.point_at(along), drawn.direction_at(along)
                across = way / abs(way) * 1j * MARK_LONG / 2
                self.path.moveTo((at - across).real, (at - across).imag)
                self.path.lineTo((at + across).real, (at + across).imag)


class NameItem(Drawn, QGraphicsItem):
    """A name that stands in a panel; as large at every zoom."""

    def __init__(self, at: complex, words: str) -> None:
        super().__init__()
        self.words = words
        self.setPos(at.real, at.imag)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)
        self.setZValue(30)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-90, -12, 180, 24)

    def draw(self, painter: QPainter) -> None:
        """The name in the middle of a light ground."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(LOOK.font(13, LOOK.font(13).Weight.DemiBold))
        words = painter.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, 160)
        wide = painter.fontMetrics().horizontalAdvance(words) + 12
        ground = QColor(LOOK.color("white"))
        ground.setAlpha(225)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ground)
        painter.drawRoundedRect(QRectF(-wide / 2, -10, wide, 20), 4, 4)
        painter.setPen(LOOK.color("ink"))
        painter.drawText(QRectF(-wide / 2, -10, wide, 20), Qt.AlignmentFlag.AlignCenter, words)


class DotItem(Drawn, QGraphicsItem):
    """A corner that can be pulled, with its name; as large at every zoom."""

    def __init__(self, at: complex, words: str, color: str, pulled: Pulled, square: bool = False) -> None:
        super().__init__()
        self.words, self.color, self.square, self._pulled = words, color, square, pulled
        self.setPos(at.real, at.imag)
        self.setToolTip(hint(f"{words}: pull it to its place"))
        self.setCursor(Qt.CursorShape.SizeAllCursor)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setZValue(40)
        self.held = False

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-10, -12, 170, 24)

    def shape(self) -> QPainterPath:
        """The dot itself."""
        path = QPainterPath()
        path.addEllipse(QPointF(0, 0), 11, 11)
        return path

    def mousePressEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is taken."""
        self.held = event is not None

    def mouseMoveEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """It is pulled."""
        if event is not None and self.held:
            self.setPos(event.scenePos())
            self._pulled(complex(event.scenePos().x(), event.scenePos().y()), False)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Let go."""
        if event is not None and self.held:
            self.held = False
            if event.scenePos() != event.buttonDownScenePos(Qt.MouseButton.LeftButton):
                self._pulled(complex(event.scenePos().x(), event.scenePos().y()), True)

    def draw(self, painter: QPainter) -> None:
        """The dot and its name on a light ground."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(LOOK.font(12, LOOK.font(12).Weight.DemiBold))
        wide = painter.fontMetrics().horizontalAdvance(self.words)
        if self.words:
            ground = QColor(LOOK.color("white"))
            ground.setAlpha(215)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ground)
            painter.drawRoundedRect(QRectF(9, -9, wide + 8, 18), 4, 4)
            painter.setPen(LOOK.color("ink"))
            painter.drawText(QRectF(13, -9, wide + 4, 18), Qt.AlignmentFlag.AlignVCenter, self.words)
        painter.setPen(QPen(LOOK.color("white"), 2))
        painter.setBrush(LOOK.color(self.color))
        if self.square:
            painter.drawRect(QRectF(-6, -6, 12, 12))
        else:
            painter.drawEllipse(QPointF(0, 0), 6.5, 6.5)
