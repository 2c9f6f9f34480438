"""The points of a recipe of one's own, worked out on a body: each from those it leans on, in whatever order they stand."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import TypeVar

from caddet.core.errors import CaddetError
from caddet.core.figures.language import (
    Binary,
    Call,
    FormulaError,
    Negative,
    Node,
    Number,
    Quantity,
    names_in,
    work_out,
)
from caddet.core.geometry.segments import Point, cross, dot, unit
from caddet.core.lengths import MM
from caddet.core.own_pieces.reading import DISTANCE, WAYS, FigureLine, Formula, OwnPiece, PointLine, Written
from caddet.core.sentences import say

T = TypeVar("T")
FARTHEST = 20_000.0  # mm: no point of a piece lies further away
DEEPEST = 60  # points or figures that lean on one another before the first of them is found
_ADDED = ("+", "-", "<", ">", "<=", ">=")


class Unplaced(CaddetError):
    """What can't be worked out, the line (from 1) that it stands in, and the name that is not there if that is why."""

    def __init__(self, sentence: str, line: int, missing: str = "") -> None:
        super().__init__(sentence)
        self.line, self.missing = line, missing


@dataclass(slots=True)
class Placing:
    """A recipe being worked out for one body: figures and points as they are asked for.

    ``names``: measures, ease and figures from outside. ``edges``: lengths of edges as ``edge_PIECE_EDGE`` (mm), as far as
    they are drawn.
    """

    written: Written
    names: Mapping[str, Quantity]
    edges: dict[str, float] = field(default_factory=dict)
    figures: dict[str, Quantity] = field(default_factory=dict)
    points: dict[tuple[str, str], Point] = field(default_factory=dict)
    _asked: list[str] = field(default_factory=list)  # what is being worked out, to tell circles

    def length(self, formula: Formula, piece: str = "", line: int = 0) -> float:
        """A formula as a length in mm; a bare number is in the recipe's unit. Raises :class:`Unplaced`."""
        found = self._worked_out(formula, piece, line)
        if found.dimension == 0:
            return found.value * float(MM[self.written.unit])
        if found.dimension != 1:
            raise Unplaced(say("“{text}” must come out as a length", text=formula.text[:60]), line)
        return found.value

    def number(self, formula: Formula, piece: str = "", line: int = 0) -> float:
        """A formula as a plain number. Raises :class:`Unplaced`."""
        found = self._worked_out(formula, piece, line)
        if found.dimension:
            raise Unplaced(say("“{text}” must come out as a plain number", text=formula.text[:60]), line)
        return found.value

    def _worked_out(self, formula: Formula, piece: str, line: int) -> Quantity:
        names = _Names(self, piece)
        try:
            return work_out(in_unit(formula.node, names, float(MM[self.written.unit])), names)
        except FormulaError as error:
            where = say("{reason} (in “{text}”)", reason=error.reason, text=formula.text[:60])
            missing = [name for name in sorted(names_in(formula.node)) if not names.has(name)]
            raise Unplaced(where, line, missing[0] if missing else "") from error

    def figure(self, name: str) -> Quantity:
        """A figure of the recipe. Raises :class:`KeyError` without it, :class:`Unplaced` when it leans on itself."""
        if name not in self.figures:
            line, found = next(((n, one) for n, one in self.written.figures if one.name == name), (0, None))
            if found is None:
                raise KeyError(name)
            self.figures[name] = self._once(name, line, lambda: self._figure(found, line))
        return self.figures[name]

    def _figure(self, figure: FigureLine, line: int) -> Quantity:
        return self._worked_out(figure.formula, "", line)

    def point(self, name: str, piece: str, line: int = 0) -> Point:
        """A point of a piece, or of one above it. Raises :class:`Unplaced` without it."""
        found = self._point_line(name, piece)
        if found is None:
            raise Unplaced(say("there is no point {name} here or in a piece above", name=name), line, name)
        at, owner, point = found
        key = owner, name
        if key not in self.points:
            self.points[key] = self._once(f"{owner} {name}", at, lambda: self._placed(point, owner, at))
        return self.points[key]

    def _once(self, name: str, line: int, work: Callable[[], T]) -> T:
        """Work something out; raises :class:`Unplaced` when it is being worked out already."""
        if name in self._asked:
            circle = [one.rpartition(" ")[2] for one in (*self._asked[self._asked.index(name) :], name)]
            words = ", ".join(f"{a} needs {b}" for a, b in pairwise(circle))
            raise Unplaced(say("{circle}: none of them can be found", circle=words), line)
        if len(self._asked) >= DEEPEST:
            words = say(
                "more than {most} lines lean on each other here: write them in the order in which they are found",
                most=DEEPEST,
            )
            raise Unplaced(words, line)
        self._asked.append(name)
        try:
            return work()
        finally:
            self._asked.pop()

    def _point_line(self, name: str, piece: str) -> tuple[int, str, PointLine] | None:
        """Where a point is given: in this piece, else in the last above that has it."""
        names = [one.name for one in self.written.pieces]
        upto = names.index(piece) + 1 if piece in names else 0
        for own in reversed(self.written.pieces[:upto]):
            for number, line in own.lines:
                if isinstance(line, PointLine) and line.name == name:
                    return number, own.name, line
        return None

    def _placed(self, line: PointLine, piece: str, number: int) -> Point:
        at = [self.point(name, piece, number) for name in line.points]
        found = _HOW[line.how](self, line, at, piece, number)
        if not (abs(found.real) <= FARTHEST and abs(found.imag) <= FARTHEST):
            raise Unplaced(say("{name} would lie more than {20 m} away", name=line.name), number)
        return found


class _Names(Mapping[str, Quantity]):
    """What a formula of a recipe may name: figures of the recipe, distances (A_B), lengths of edges, then the body's."""

    def __init__(self, placing: Placing, piece: str) -> None:
        self.placing, self.piece = placing, piece

    def __getitem__(self, name: str) -> Quantity:
        if match := DISTANCE.match(name):
            a, b = (self.placing.point(one, self.piece) for one in match.groups())
            return Quantity(abs(b - a), 1)
        if name in self.placing.edges:
            return Quantity(self.placing.edges[name], 1)
        try:
            return self.placing.figure(name)
        except KeyError:
            return self.placing.names[name]

    def has(self, name: str) -> bool:
        """Whether it can be named here, whatever it comes to."""
        known = {figure.name for _, figure in self.placing.written.figures} | self.placing.edges.keys()
        return name in known or name in self.placing.names or bool(DISTANCE.match(name))

    def __iter__(self) -> Iterator[str]:
        return iter(self.placing.names)

    def __len__(self) -> int:
        return len(self.placing.names)


def in_unit(node: Node, names: Mapping[str, Quantity], mm: float) -> Node:
    """The formula with every bare number that is added to a length or compared with one taken as so many units of ``mm``.

    ``bust / 4 + 2`` means two centimetres, or two inches: so a recipe is written down by hand.
    """
    match node:
        case Negative(inner=inner):
            return replace(node, inner=in_unit(inner, names, mm))
        case Call(arguments=arguments):
            made = tuple(in_unit(one, names, mm) for one in arguments)
            if node.function in ("min", "max", "clamp"):
                made = _alike(made, names, mm)
            elif node.function == "if":
                made = (made[0], *_alike(made[1:], names, mm))
            return replace(node, arguments=made)
        case Binary(left=left, right=right, sign=sign):
            sides = in_unit(left, names, mm), in_unit(right, names, mm)
            if sign in _ADDED:
                first, second = _alike(sides, names, mm)
                return replace(node, left=first, right=second)
            return replace(node, left=sides[0], right=sides[1])
    return node


def _alike(nodes: tuple[Node, ...], names: Mapping[str, Quantity], mm: float) -> tuple[Node, ...]:
    """Plain numbers among lengths made lengths."""
    sizes = [work_out(node, names).dimension for node in nodes]
    if 1 not in sizes:
        return nodes
    return tuple(
        node if size else Binary("*", node, Number(Quantity(mm, 1), "", node.position), node.position)
        for node, size in zip(nodes, sizes, strict=True)
    )


def with_units(formula: Formula, names: Mapping[str, Quantity], unit_: str) -> str:
    """The formula's text with its unit behind every bare number that means a length. Raises :class:`FormulaError`."""
    text, node = formula.text, in_unit(formula.node, names, float(MM[unit_]))
    found: list[Number] = []

    def look(one: Node) -> None:
        """Find the numbers that were given a unit."""
        match one:
            case Binary(sign="*", left=Number() as number, right=Number(text="")):
                found.append(number)
            case Binary(left=left, right=right, sign=sign):
                if isinstance(right, Number) and not right.text and sign == "*":
                    raise FormulaError("a sum of bare numbers among lengths", one.position)
                look(left)
                look(right)
            case Negative(inner=inner):
                look(inner)
            case Call(arguments=arguments):
                for argument in arguments:
                    look(argument)

    look(node)
    for number in sorted(found, key=lambda one: -one.position):
        end = number.position + len(number.text)
        text = text[:end] + unit_ + text[end:]
    return text


# --- how a point is found ---------------------------------------------------------------------------


def _moved(placing: Placing, line: PointLine, at: list[Point], piece: str, number: int) -> Point:
    found, towards = at[0] if at else 0j, iter(at[1:])
    for way, formula in line.amounts:
        direction = WAYS[way] if way in WAYS else _towards(found, next(towards), line, number)
        found += direction * placing.length(formula, piece, number)
    return found


def _towards(a: Point, b: Point, line: PointLine, number: int) -> Point:
    if abs(b - a) < 1e-9:
        raise Unplaced(
            say("{name}: the two points lie on each other, so there is no way between", name=line.name), number
        )
    return unit(b - a)


def _between(placing: Placing, line: PointLine, at: list[Point], piece: str, number: int) -> Point:
    a, b = at
    amounts = dict(line.amounts)
    way = _towards(a, b, line, number)
    if "at" in amounts:
        found = a + (b - a) * placing.number(amounts["at"], piece, number)
    else:
        found = a + way * placing.length(amounts["for"], piece, number)
    # to the right as one goes: into the piece when its outline is walked
    return found + way * 1j * placing.length(amounts["square"], piece, number) if "square" in amounts else found


def _swung(placing: Placing, line: PointLine, at: list[Point], piece: str, number: int) -> Point:
    centre, a, b = at
    radius = placing.length(line.amounts[0][1], piece, number)
    way = _towards(a, b, line, number)
    foot = a + way * dot(centre - a, way)
    left = radius * radius - abs(centre - foot) ** 2
    if left < 0:
        raise Unplaced(
            say(
                "{name}: a swing from {centre} does not reach the line {a} {b}",
                name=line.name,
                centre=line.points[0],
                a=line.points[1],
                b=line.points[2],
            ),
            number,
        )
    return foot + way * math.sqrt(left)


def _cross(placing: Placing, line: PointLine, at: list[Point], piece: str, number: int) -> Point:
    del placing, piece
    a, b, c, d = at
    turn = cross(b - a, d - c)
    if abs(turn) < 1e-9 * max(abs(b - a) * abs(d - c), 1.0):
        raise Unplaced(say("{name}: the two lines run side by side and never meet", name=line.name), number)
    return a + (b - a) * (cross(c - a, d - c) / turn)


def _under(placing: Placing, line: PointLine, at: list[Point], piece: str, number: int) -> Point:
    del placing, line, piece, number
    return complex(at[0].real, at[1].imag)


_HOW: Mapping[str, Callable[[Placing, PointLine, list[Point], str, int], Point]] = {
    "moved": _moved,
    "between": _between,
    "swung": _swung,
    "cross": _cross,
    "under": _under,
}


def points_of(placing: Placing, piece: OwnPiece) -> dict[str, Point]:
    """Every point that is given in a piece. Raises :class:`Unplaced`."""
    return {
        line.name: placing.point(line.name, piece.name, number)
        for number, line in piece.lines
        if isinstance(line, PointLine)
    }
