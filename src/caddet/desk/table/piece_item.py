"""A piece on the table: paper on cloth, with its lines."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPainterPath, QPen, QPixmap, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsSceneMouseEvent

from caddet.core.finishing.finish import CutPiece, cut_words, label_place
from caddet.core.formats.paper import arrow
from caddet.core.geometry.segments import Point
from caddet.core.recipe.document import Placement
from caddet.desk.table.drawing import Drawn, painter_path, qpoint
from caddet.desk.theme import LOOK


@dataclass(frozen=True, slots=True)
class Showing:
    """What the table shows for a station."""

    cut: bool = False
    figures: bool = False
    letters: bool = False
    movable: bool = True
    drafted: bool = False


FOLDED = ("fold_line",)  # features drawn as folds are


class PieceItem(Drawn, QGraphicsItem):
    """Paints one piece; can be picked up and laid elsewhere."""

    def __init__(self, cut: CutPiece, showing: Showing) -> None:
        super().__init__()
        self.cut = cut
        self.showing = showing
        self.lit: dict[str, str] = {}
        self.under: tuple[QPixmap, QTransform] | None = None
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsMovable, showing.movable)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsSelectable, showing.movable)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsFocusable, showing.movable)
        self.setCursor(Qt.CursorShape.OpenHandCursor if showing.movable else Qt.CursorShape.ArrowCursor)
        self.moved_by_hand = False
        self._build()

    @property
    def name(self) -> str:
        """The piece's name in the pattern."""
        return self.cut.piece.name

    def _build(self) -> None:
        piece = self.cut.piece
        self.stitch = painter_path(self.cut.stitch, closed=True)
        self.outer = painter_path(self.cut.cut, closed=True) if self.showing.cut else self.stitch
        self.darts = painter_path([edge.path for edge in piece.edges if edge.dart])
        self.marks = painter_path([path for f in piece.features if f.kind not in FOLDED for path in piece.drawn(f)])
        self.grain = painter_path(arrow(piece.grain.a, piece.grain.b))
        self.fold = painter_path(
            [
                *(edge.path for edge in piece.edges if edge.finish == "fold"),
                *(path for f in piece.features if f.kind in FOLDED for path in piece.drawn(f)),
            ]
        )
        self.notches = QPainterPath()
        if self.showing.cut:
            for notch in self.cut.notches:
                for a, b in notch.lines:
                    self.notches.moveTo(qpoint(a))
                    self.notches.lineTo(qpoint(b))
        self.runs = {run: painter_path([edge.path for edge in piece.run(run)]) for run in piece.runs()}
        self.label_at = qpoint(label_place(piece))
        self.words = (piece.label, cut_words(piece))
        self._bounds = self.outer.boundingRect().adjusted(-14, -14, 14, 14)

    def set_cut(self, cut: CutPiece) -> None:
        """Show a newer version of the same piece."""
        if cut is not self.cut and cut != self.cut:
            self.prepareGeometryChange()
            self.cut = cut
            self._build()
            self.update()

    def light(self, runs: dict[str, str]) -> None:
        """Light some runs, each in a colour of the theme."""
        if runs != self.lit:
            self.lit = runs
            self.update()

    def placement(self) -> Placement:
        """Where it lies and how it is turned."""
        return Placement(x=self.pos().x(), y=self.pos().y(), turn=self.rotation())

    def put(self, placement: Placement) -> None:
        """Lay it at a placement."""
        self.setPos(placement.x, placement.y)
        self.setRotation(placement.turn)

    def to_piece(self, scene: QPointF) -> Point:
        """A place on the table in the piece's own coordinates."""
        local = self.mapFromScene(scene)
        return complex(local.x(), local.y())

    # --- QGraphicsItem ------------------------------------------------------------------------

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self._bounds

    def shape(self) -> QPainterPath:
        """Where a click means this piece: inside its outer line."""
        return self.outer

    def draw(self, painter: QPainter) -> None:
        """The piece with everything that belongs on it at this station."""
        scale = painter.worldTransform().map(QPointF(1, 0)) - painter.worldTransform().map(QPointF(0, 0))
        px = 1 / max((scale.x() ** 2 + scale.y() ** 2) ** 0.5, 1e-6)  # mm in a pixel
        ink, iron = LOOK.color("ink"), LOOK.color("iron")
        shade = QColor(0, 0, 0, 26)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(shade)
        for step in (1.5, 3.0):
            painter.drawPath(self.outer.translated(step * px, step * px * 1.4))
        painter.setBrush(LOOK.color("paper"))
        painter.drawPath(self.outer)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.under is not None:
            painter.save()
            painter.setClipPath(self.outer, Qt.ClipOperation.IntersectClip)
            painter.setOpacity(0.8)
            painter.setTransform(self.under[1], True)
            painter.drawPixmap(0, 0, self.under[0])
            painter.restore()
        if self.showing.cut:
            painter.setPen(_pen(iron, 1.1))
            painter.drawPath(self.outer)
            painter.drawPath(self.notches)
        selected = self.isSelected()
        painter.setPen(_pen(LOOK.color("woad") if selected else ink, 2.2 if selected else 1.6))
        painter.drawPath(self.stitch)
        painter.setPen(_pen(ink, 1.3))
        painter.drawPath(self.darts)
        painter.setPen(_pen(iron, 1.0, Qt.PenStyle.DotLine))
        painter.drawPath(self.marks)
        painter.setPen(_pen(iron, 1.2))
        painter.drawPath(self.grain)
        if not self.fold.isEmpty():
            pen = _pen(ink, 2.4)
            pen.setDashPattern([8, 2, 1.5, 2])
            painter.setPen(pen)
            painter.drawPath(self.fold)
        for run, name in self.lit.items():
            if run in self.runs:
                painter.setPen(_pen(LOOK.color(name), 4.0))
                painter.drawPath(self.runs[run])
        self._label(painter)

    def _lines(self, transform: QTransform) -> list[tuple[QRectF, str, str, QFont]]:
        """Name and count in screen pixels, whatever the zoom, if there is room for them."""
        at = transform.map(self.label_at)
        box = transform.mapRect(self.stitch.boundingRect())
        if box.height() > 54 and box.width() > 60:
            bold = LOOK.font(14, QFont.Weight.DemiBold)
            return [
                (QRectF(at.x() - 120, at.y() - 22, 240, 20), self.words[0], "ink", bold),
                (QRectF(at.x() - 120, at.y() - 2, 240, 18), self.words[1], "iron", LOOK.font(12)),
            ]
        if box.width() > 150 and box.height() > 16:
            below = box.height() / 4  # clear of a line down the middle
            line = QRectF(box.center().x() - 160, box.center().y() + below - 9, 320, 18)
            return [(line, " · ".join(self.words), "ink", LOOK.font(12))]
        return []

    def words_box(self, pixel: float) -> QRectF:
        """Where the name and count stand on the table when a pixel is so many mm; empty without room for them."""
        transform = self.sceneTransform() * QTransform.fromScale(1 / pixel, 1 / pixel)
        found = QRectF()
        for box, text, _, font in self._lines(transform):
            half = QFontMetricsF(font).horizontalAdvance(text) / 2 + 4
            found = found.united(QRectF(box.center().x() - half, box.top(), 2 * half, box.height()))
        return QTransform.fromScale(pixel, pixel).mapRect(found)

    def _label(self, painter: QPainter) -> None:
        lines = self._lines(painter.worldTransform())
        painter.save()
        painter.setWorldTransform(QTransform())
        for line in lines:
            self._words(painter, *line)
        painter.restore()

    @staticmethod
    def _words(painter: QPainter, box: QRectF, text: str, color: str, font: QFont) -> None:
        """Words on a patch of paper, so that a line that runs behind them does not cross them out."""
        painter.setFont(font)
        wide = painter.fontMetrics().horizontalAdvance(text) + 8
        patch = LOOK.color("paper")
        patch.setAlpha(215)
        painter.fillRect(QRectF(box.center().x() - wide / 2, box.top() + 2, wide, box.height() - 3), patch)
        painter.setPen(LOOK.color(color))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def mouseReleaseEvent(self, event: QGraphicsSceneMouseEvent | None) -> None:
        """Remember that it was moved by hand."""
        super().mouseReleaseEvent(event)
        self.moved_by_hand = True


def _pen(color: QColor, width: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    pen = QPen(color, width, style)
    pen.setCosmetic(True)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen
