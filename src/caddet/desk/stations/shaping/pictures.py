"""Small pictures of a pattern: before and after, or before, doing and after, at one scale, what changed in colour."""

from __future__ import annotations

from collections.abc import Collection, Sequence

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
    old, new, changed = _sides(before, after)
    return _side_by_side([[(old, "iron")], [(new, "woad" if changed else "iron")]], WIDE)


def three(before: Pattern, after: Pattern | None) -> QPixmap:
    """Before, doing (the new over the old) and after, of the pieces that a step changes."""
    old, new, changed = _sides(before, after or before)
    color = "woad" if changed else "iron"
    return _side_by_side([[(old, "iron")], [(old, "grid_five"), (new, color)], [(new, color)]], WIDE * 5 // 6)


def _sides(before: Pattern, after: Pattern) -> tuple[QPainterPath, QPainterPath, bool]:
    """The outlines before and after of what differs, each in one row, and whether anything does."""
    old, new = ({piece.name: piece for piece in pattern.pieces} for pattern in (before, after))
    changed = [
        name for name in {**old, **new} if name not in old or name not in new or old[name].edges != new[name].edges
    ]
    names = changed or list(old)
    sides = [[pieces[name] for name in names if name in pieces] for pieces in (old, new)]
    rows = [_row([painter_path(piece.outline(), closed=True) for piece in side]) for side in sides]
    return rows[0], rows[1], bool(changed)


def _side_by_side(pictures: Sequence[Sequence[tuple[QPainterPath, str]]], wide: int) -> QPixmap:
    """Pictures of one scale with arrows between; each is outlines, one over the other, in a colour of the theme."""
    box = QRectF()
    for path, _ in (one for picture in pictures for one in picture):
        box = box.united(path.boundingRect())
    ratio, gap = 2, 22
    count = len(pictures)
    image = QPixmap(LOOK.px(count * wide + (count - 1) * gap) * ratio, LOOK.px(TALL) * ratio)
    image.setDevicePixelRatio(ratio)
    image.fill(Qt.GlobalColor.transparent)
    if box.isEmpty():
        return image
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    across, tall = LOOK.px(wide), LOOK.px(TALL)
    scale = min((across - 6) / box.width(), (tall - 6) / box.height())
    for n, picture in enumerate(pictures):
        at = QPointF(n * (across + LOOK.px(gap)) + 3, 3)
        fit = QTransform.fromTranslate(at.x(), at.y()).scale(scale, scale).translate(-box.left(), -box.top())
        for m, (path, color) in enumerate(picture):
            painter.setPen(QPen(LOOK.color(color), 1.3))
            painter.setBrush(LOOK.color("paper") if m == 0 else Qt.BrushStyle.NoBrush)
            painter.drawPath(fit.map(path))
        if n:
            _arrow(painter, n * across + (n - 1) * LOOK.px(gap) + LOOK.px(5), tall / 2)
    painter.end()
    return image


def _arrow(painter: QPainter, x: float, middle: float) -> None:
    painter.setPen(QPen(LOOK.color("iron"), 1.4))
    painter.drawLine(QPointF(x, middle), QPointF(x + LOOK.px(11), middle))
    painter.drawLine(QPointF(x + LOOK.px(7), middle - 4), QPointF(x + LOOK.px(11), middle))
    painter.drawLine(QPointF(x + LOOK.px(7), middle + 4), QPointF(x + LOOK.px(11), middle))


def _row(paths: list[QPainterPath]) -> QPainterPath:
    """Outlines side by side, in one path."""
    whole, x = QPainterPath(), 0.0
    for path in paths:
        box: QRectF = path.boundingRect()
        whole.addPath(path.translated(x - box.left(), 0))
        x += box.width() + 40
    return whole
