"""Small pictures of a pattern, for the slips: before and after, at one scale, what changed in colour."""

from __future__ import annotations

from collections.abc import Collection

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPixmap, QTransform

from caddet.core.pattern.pattern import Pattern
from caddet.desk.table.drawing import painter_path
from caddet.desk.theme import LOOK

WIDE, TALL = 92, 58  # px of one picture


class Pictures:
    """The pictures of the slips that were drawn last; one is drawn anew when its patterns or the look changed."""

    def __init__(self) -> None:
        self._drawn: dict[str, tuple[Pattern, Pattern, object, QPixmap]] = {}

    def of(self, key: str, before: Pattern, after: Pattern) -> QPixmap:
        """The picture of the step with this id."""
        look = LOOK.evening, LOOK.scale
        kept = self._drawn.get(key)
        if kept is None or kept[0] is not before or kept[1] is not after or kept[2] != look:
            kept = before, after, look, before_and_after(before, after)
            self._drawn[key] = kept
        return kept[3]

    def keep_only(self, keys: Collection[str]) -> None:
        """Forget the pictures of other steps."""
        self._drawn = {key: drawn for key, drawn in self._drawn.items() if key in keys}


def before_and_after(before: Pattern, after: Pattern) -> QPixmap:
    """Both patterns side by side, only the pieces that are not the same in both (all, when none differ)."""
    old, new = ({piece.name: piece for piece in pattern.pieces} for pattern in (before, after))
    changed = [
        name for name in {**old, **new} if name not in old or name not in new or old[name].edges != new[name].edges
    ]
    names = changed or list(old)
    sides = [[pieces[name] for name in names if name in pieces] for pieces in (old, new)]
    paths = [[painter_path(piece.outline(), closed=True) for piece in side] for side in sides]
    laid = [_row(side) for side in paths]
    box = laid[0].boundingRect().united(laid[1].boundingRect())
    ratio = 2
    image = QPixmap(LOOK.px(2 * WIDE + 22) * ratio, LOOK.px(TALL) * ratio)
    image.setDevicePixelRatio(ratio)
    image.fill(Qt.GlobalColor.transparent)
    if box.isEmpty():
        return image
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    wide, tall = LOOK.px(WIDE), LOOK.px(TALL)
    scale = min((wide - 6) / box.width(), (tall - 6) / box.height())
    for n, path in enumerate(laid):
        at = QPointF(n * (wide + LOOK.px(22)) + 3, 3)
        fit = QTransform.fromTranslate(at.x(), at.y()).scale(scale, scale).translate(-box.left(), -box.top())
        painter.setPen(QPen(LOOK.color("woad" if n and changed else "iron"), 1.3))
        painter.setBrush(LOOK.color("paper"))
        painter.drawPath(fit.map(path))
    painter.setPen(QPen(LOOK.color("iron"), 1.4))
    middle, x = tall / 2, wide + LOOK.px(5)
    painter.drawLine(QPointF(x, middle), QPointF(x + LOOK.px(11), middle))
    painter.drawLine(QPointF(x + LOOK.px(7), middle - 4), QPointF(x + LOOK.px(11), middle))
    painter.drawLine(QPointF(x + LOOK.px(7), middle + 4), QPointF(x + LOOK.px(11), middle))
    painter.end()
    return image


def _row(paths: list[QPainterPath]) -> QPainterPath:
    """Outlines side by side, in one path."""
    whole, x = QPainterPath(), 0.0
    for path in paths:
        box: QRectF = path.boundingRect()
        whole.addPath(path.translated(x - box.left(), 0))
        x += box.width() + 40
    return whole
