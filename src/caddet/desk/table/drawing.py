"""From the core's paths to Qt's painter paths."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter, QPainterPath
from PyQt6.QtWidgets import QStyleOptionGraphicsItem, QWidget

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.geometry.sinks import draw


class PainterSink:
    """A sink on a QPainterPath, in mm."""

    def __init__(self) -> None:
        self.path = QPainterPath()

    def move_to(self, point: Point) -> None:
        """Begin at a point, in mm."""
        self.path.moveTo(point.real, point.imag)

    def line_to(self, point: Point) -> None:
        """A straight line to a point."""
        self.path.lineTo(point.real, point.imag)

    def curve_to(self, out: Point, into: Point, end: Point) -> None:
        """A cubic with these two control points to its end."""
        self.path.cubicTo(out.real, out.imag, into.real, into.imag, end.real, end.imag)

    def close(self) -> None:
        """Go back to where it began."""
        self.path.closeSubpath()


def painter_path(paths: Path | Iterable[Path], *, closed: bool = False) -> QPainterPath:
    """One painter path of one or several paths."""
    sink = PainterSink()
    for path in [paths] if isinstance(paths, Path) else paths:
        draw(path, sink, closed=closed)
    return sink.path


def qpoint(point: Point) -> QPointF:
    """A point of the core as a point of Qt."""
    return QPointF(point.real, point.imag)


class Drawn:
    """Mixed into graphics items: they draw themselves in ``draw``; what the Tab key reaches says what it is."""

    can_focus = False
    spoken = ""

    def draw(self, painter: QPainter) -> None:
        """Draw the item in its own coordinates."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionGraphicsItem | None, widget: QWidget | None = None
    ) -> None:
        """Hand the painter to :meth:`draw`."""
        if painter is not None:
            self.draw(painter)
