"""What a kind of garment declares for the tape: the usual outline of its pieces, and what can be measured on it.

A shape is drawn from marks (points in the piece's frame: x out from its centre, y down, in mm) and runs, its edges in
outline order, clockwise on the table. What a mark's coordinates are is decided by the readings; the usual outline says
where to begin, and decides weakly what no reading does.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from caddet.core.errors import CaddetError, one_line, some
from caddet.core.sentences import say

Way = complex | Literal["square"] | None
"""How a run leaves or reaches an end: in a direction, square to its neighbour, or (None) as it comes."""
OUT, IN, DOWN, UP = 1 + 0j, -1 + 0j, 1j, -1j


@dataclass(frozen=True, slots=True)
class Mark:
    """A point of a shape, where it lies on a usual garment, and which of its coordinates the readings decide.

    One that lies ``between`` two others stands at the share ``x`` of the way and ``y`` of the distance to the left of
    it; ``free`` then says whether that bow is decided ("y") or stays as it is. ``like`` names a mark of the same shape
    that it is as low as.
    """

    name: str
    x: float
    y: float
    free: str = "xy"
    between: tuple[str, str] = ("", "")
    like: str = ""


@dataclass(frozen=True, slots=True)
class Run:
    """An edge of a shape through marks. ``full``: one curve that turns once, so full; else a spline, or a line.

    ``finish`` is what becomes of an edge that is in no seam.
    """

    name: str
    through: tuple[str, ...]
    start: Way = None
    end: Way = None
    full: float = 0.0
    finish: str = ""


@dataclass(frozen=True, slots=True)
class Level:
    """A level of a shape between two marks."""

    name: str
    a: str
    b: str


@dataclass(frozen=True, slots=True)
class Shape:
    """A piece of a kind: half of one on the fold, one of a mirrored pair, or (neither) a whole one."""

    name: str
    label: str
    marks: tuple[Mark, ...]
    runs: tuple[Run, ...]
    fold: bool = False
    pair: bool = False
    levels: tuple[Level, ...] = ()
    grain: tuple[str, str] = ("", "")

    def mark(self, name: str) -> Mark:
        """A mark by name."""
        return next(mark for mark in self.marks if mark.name == name)


@dataclass(frozen=True, slots=True)
class Seen:
    """What one reading measures on one shape.

    ``straight`` from mark to mark, ``cross`` the same from the other half's first mark, ``across`` (x) or ``drop`` (y)
    between two, ``along`` runs; ``times`` it, as a width laid flat is twice the half.
    """

    how: Literal["straight", "cross", "across", "drop", "along"]
    shape: str
    of: tuple[str, ...]
    times: float = 1.0


def straight(shape: str, a: str, b: str, times: float = 1.0) -> Seen:
    """The tape held straight from mark to mark."""
    return Seen("straight", shape, (a, b), times)


def cross_over(shape: str, a: str, b: str) -> Seen:
    """The tape held straight from the first mark of the other half, over the centre, to the second."""
    return Seen("cross", shape, (a, b))


def across(shape: str, a: str, b: str, times: float = 1.0) -> Seen:
    """How far one mark lies beside another."""
    return Seen("across", shape, (a, b), times)


def drop(shape: str, a: str, b: str) -> Seen:
    """How far the second mark lies below the first."""
    return Seen("drop", shape, (a, b))


def along(shape: str, *runs: str, times: float = 1.0) -> Seen:
    """The tape stood on its edge along runs."""
    return Seen("along", shape, runs, times)


@dataclass(frozen=True, slots=True)
class Asked:
    """A reading that a kind asks for; without ``needed`` it is a check, and more than is needed for the shape."""

    name: str
    label: str
    how: str
    seen: tuple[Seen, ...]
    needed: bool = True


@dataclass(frozen=True, slots=True)
class Width:
    """Widths at heights of one's own: measured down from a mark, between two runs, or from the centre (times two).

    Each entry of ``runs`` is a shape with the mark heights are counted from and one run, or the two that are on either side.
    """

    name: str
    label: str
    how: str
    runs: tuple[tuple[str, str, tuple[str, ...]], ...]


@dataclass(frozen=True, slots=True)
class Sewn:
    """A seam of a kind: two edges as ``shape.run``, walked the same way or (``against``) from opposite ends.

    ``corners``: the lines that cross it are meant to turn there.
    """

    name: str
    label: str
    a: str
    b: str
    against: bool = False
    corners: bool = False


@dataclass(frozen=True, slots=True)
class Guide:
    """A line of the order of work, with what is easily missed."""

    name: str
    words: str


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of garment for the tape.

    ``opens`` are the steps that open what is usually sewn in it, ``block`` the block whose ease it is compared with,
    ``seam`` and ``hem`` what is usually left at its seams and hems (mm; common practice).
    """

    name: str
    label: str
    about: str
    shapes: tuple[Shape, ...]
    asked: tuple[Asked, ...]
    seams: tuple[Sewn, ...] = ()
    widths: tuple[Width, ...] = ()
    guide: tuple[Guide, ...] = ()
    opens: tuple[str, ...] = ()
    block: str = ""
    seam: float = 15.0
    hem: float = 30.0

    def reading(self, name: str) -> Asked | None:
        """A reading that it asks for, by name."""
        return next((one for one in self.asked if one.name == name), None)

    def width(self, name: str) -> Width | None:
        """Its widths at heights of that name."""
        return next((one for one in self.widths if one.name == name), None)

    def shape(self, name: str) -> Shape:
        """A shape by name."""
        return next(shape for shape in self.shapes if shape.name == name)


KINDS: dict[str, Kind] = {}


def register_kind(kind: Kind) -> Kind:
    """Make a kind known by its name. Raises :class:`CaddetError` when there is one of that name."""
    if kind.name in KINDS:
        raise CaddetError(say("two kinds of garment are called {name}", name=kind.name))
    KINDS[kind.name] = kind
    return kind


def kind_named(name: str) -> Kind:
    """The kind of that name. Raises :class:`CaddetError` naming those there are."""
    if name not in KINDS:
        raise CaddetError(
            say(
                "there is no kind of garment “{name}”; there are: {kinds}",
                name=one_line(name, 60),
                kinds=some(sorted(KINDS), name, 12),
            )
        )
    return KINDS[name]


def both(make: Callable[[str], Seen], *shapes: str) -> tuple[Seen, ...]:
    """The same on several shapes: front and back lie on each other when they are measured."""
    return tuple(make(shape) for shape in shapes or ("front", "back"))


def guided(*lines: tuple[str, str]) -> tuple[Guide, ...]:
    """Lines of a guide."""
    return tuple(Guide(*line) for line in lines)


def marks_of(given: Sequence[tuple[str, float, float, str]]) -> tuple[Mark, ...]:
    """Marks from rows of name, x, y and which are free."""
    return tuple(Mark(*row) for row in given)
