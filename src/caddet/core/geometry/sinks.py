"""One drawing protocol, many sinks: the screen, SVG, PDF, a recorder for tests."""

from __future__ import annotations

from typing import Protocol

from caddet.core.geometry.paths import Path, arcs_as_cubics
from caddet.core.geometry.segments import Cubic, Point


class Sink(Protocol):
    """What a path can draw itself on. Points are in mm, y down."""

    def move_to(self, point: Point) -> None:
        """Begin at a point, in mm."""

    def line_to(self, point: Point) -> None:
        """A straight line to a point."""

    def curve_to(self, out: Point, into: Point, end: Point) -> None:
        """A cubic with these two control points to its end."""

    def close(self) -> None:
        """Go back to where it began."""


def draw(path: Path, sink: Sink, *, closed: bool = False) -> None:
    """Draw a path onto a sink, arcs as cubics."""
    sink.move_to(path.start)
    for segment in arcs_as_cubics(path).segments:
        if isinstance(segment, Cubic):
            sink.curve_to(segment.out, segment.into, segment.end)
        else:
            sink.line_to(segment.end)
    if closed:
        sink.close()


class SvgPath:
    """Collects the ``d`` attribute of an SVG path, in mm."""

    def __init__(self, shift: complex = 0j) -> None:
        self.words: list[str] = []
        self.shift = shift

    def _pair(self, point: Point) -> str:
        point += self.shift
        return f"{point.real:.4f},{point.imag:.4f}"

    def move_to(self, point: Point) -> None:
        """Begin at a point, in mm."""
        self.words.append("M" + self._pair(point))

    def line_to(self, point: Point) -> None:
        """A straight line to a point."""
        self.words.append("L" + self._pair(point))

    def curve_to(self, out: Point, into: Point, end: Point) -> None:
        """A cubic with these two control points to its end."""
        self.words.append(f"C{self._pair(out)} {self._pair(into)} {self._pair(end)}")

    def close(self) -> None:
        """Go back to where it began."""
        self.words.append("Z")

    def __str__(self) -> str:
        return " ".join(self.words)
