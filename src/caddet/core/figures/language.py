"""The language of formulas: ``(bust + ease_bust) / 4 + 2cm``. Read by a small parser, never run.

A quantity knows its dimension: 0 for a plain number, 1 for a length, 2 for an area. A length plus
a bare number is refused at the place where it stands. Lengths are millimetres.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from caddet.core.errors import CaddetError, some
from caddet.core.lengths import MM, Unit, format_length
from caddet.core.sentences import say

LONGEST_FORMULA = 500
DEEPEST = 40
LARGEST = 1e12  # mm, mm² or plain: larger results are slips
MOST_DIMENSIONS = 12


class Quantity(NamedTuple):
    """A value (mm, mm² or plain) and its dimension in lengths."""

    value: float
    dimension: int


class FormulaError(CaddetError):
    """A formula that can't be read or worked out; ``position`` counts characters from 0."""

    def __init__(self, reason: str, position: int) -> None:
        super().__init__(say("{reason} (at character {position})", reason=reason, position=position + 1))
        self.reason = reason
        self.position = position


@dataclass(frozen=True, slots=True)
class Number:
    """A literal, with its unit worked in."""

    quantity: Quantity
    text: str
    position: int


@dataclass(frozen=True, slots=True)
class Name:
    """A measure, figure or option by name."""

    name: str
    position: int


@dataclass(frozen=True, slots=True)
class Negative:
    """A minus before something."""

    inner: Node
    position: int


@dataclass(frozen=True, slots=True)
class Binary:
    """Two parts with a sign between."""

    sign: str
    left: Node
    right: Node
    position: int


@dataclass(frozen=True, slots=True)
class Call:
    """A function with its values."""

    function: str
    arguments: tuple[Node, ...]
    position: int


Node = Number | Name | Negative | Binary | Call

_TOKEN = re.compile(
    r"\s*(?:(?P<number>\d+(?:\.\d+)?|\.\d+)(?P<unit>mm|cm|in|ft|yd|m(?![a-z_]))?(?P<mark>[\"″])?"
    r"|(?P<name>[a-zA-Z_][a-zA-Z_0-9]*)|(?P<sign><=|>=|[-+*/()<>,×÷−]))"
)
_ASCII = {"×": "*", "÷": "/", "−": "-"}
_BINDING = {"<": 1, ">": 1, "<=": 1, ">=": 1, "+": 2, "-": 2, "*": 3, "/": 3}
FUNCTIONS: dict[str, tuple[int, int]] = {
    "min": (1, 9), "max": (1, 9), "clamp": (3, 3), "abs": (1, 1), "sqrt": (1, 1), "if": (3, 3),
    "ceil": (1, 1), "floor": (1, 1), "sin": (1, 1), "cos": (1, 1), "tan": (1, 1),
    # functions of the trade
    "half": (1, 1), "quarter": (1, 1), "radius": (2, 2), "arc": (2, 2), "slant": (2, 2), "stretched": (2, 2), "gathered": (2, 2),
}  # fmt: skip


class _Reader:
    def __init__(self, text: str) -> None:
        self.tokens: list[tuple[str, str, int]] = []
        at = 0
        end = len(text.rstrip())
        while at < end:
            match = _TOKEN.match(text, at)
            if not match:
                place = at + len(text[at:]) - len(text[at:].lstrip())
                raise FormulaError(say("“{text}” has no meaning in a formula", text=text[place]), place)
            kind = match.lastgroup or ""
            if match["number"]:
                unit = match["unit"] or ("in" if match["mark"] else "")
                self.tokens.append(("number", match["number"] + unit, match.start("number")))
            else:
                word = match[kind]
                self.tokens.append((kind, _ASCII.get(word, word), match.start(kind)))
            at = match.end()
        self.tokens.append(("end", "", end))
        self.index = 0
        self.depth = 0

    def peek(self) -> tuple[str, str, int]:
        return self.tokens[self.index]

    def take(self) -> tuple[str, str, int]:
        token = self.tokens[self.index]
        self.index += 1
        return token

    def expect(self, sign: str) -> None:
        _, text, at = self.take()
        if text != sign:
            raise FormulaError(say("expected “{sign}” here", sign=sign), at)

    def expression(self, binding: int = 0) -> Node:
        self.depth += 1
        if self.depth > DEEPEST:
            raise FormulaError("too many brackets inside each other", self.peek()[2])
        left = self.atom()
        while True:
            kind, text, at = self.peek()
            power = _BINDING.get(text, 0) if kind == "sign" else 0
            if power <= binding:
                break
            self.take()
            left = Binary(text, left, self.expression(power), at)
        self.depth -= 1
        return left

    def atom(self) -> Node:
        kind, text, at = self.take()
        if kind == "number":
            return self._number(text, at)
        if kind == "name" and self.peek()[1] == "(":
            return self._call(text, at)
        if kind == "name":
            return Name(text, at)
        if text == "(":
            inner = self.expression()
            self.expect(")")
            return inner
        if text == "-":
            return Negative(self.expression(3), at)
        if kind == "end":
            raise FormulaError("the formula stops short: expected a number or a name", at)
        raise FormulaError(say("expected a number or a name, found “{text}”", text=text), at)

    def _number(self, text: str, at: int) -> Node:
        digits = text.rstrip("mcinftyd")
        unit = text[len(digits) :]
        if not unit:
            kind, after, _ = self.peek()
            # 7/8in is one length: a fraction of an inch
            if kind == "sign" and after == "/":
                below = self.tokens[self.index + 1]
                if below[0] == "number" and below[1].endswith("in"):
                    over = float(below[1][:-2])
                    if over and below[1][:-2].isdigit() and digits.isdigit():
                        self.index += 2
                        mm = float(digits) / over * 25.4
                        return Number(_bounded(mm, 1, at), f'{digits}/{below[1][:-2]}"', at)
            return Number(_bounded(float(digits), 0, at), digits, at)
        return Number(_bounded(float(digits) * float(MM[unit]), 1, at), text, at)

    def _call(self, name: str, at: int) -> Node:
        if name not in FUNCTIONS:
            known = some(sorted(FUNCTIONS), most=12)
            raise FormulaError(say("there is no function “{name}”; there are {known}", name=name, known=known), at)
        self.expect("(")
        arguments = [self.expression()]
        while self.peek()[1] == ",":
            self.take()
            arguments.append(self.expression())
        self.expect(")")
        least, most = FUNCTIONS[name]
        if not least <= len(arguments) <= most:
            raise FormulaError(
                say(
                    "“{name}” takes {least} to {most} values, not {arguments}",
                    name=name,
                    least=least,
                    most=most,
                    arguments=len(arguments),
                ),
                at,
            )
        return Call(name, tuple(arguments), at)


@lru_cache(maxsize=2048)
def parse(text: str) -> Node:
    """Read a formula. Raises :class:`FormulaError` with the position. (Memoised: text is the key.)"""
    if len(text) > LONGEST_FORMULA:
        raise FormulaError(
            say("a formula of more than {LONGEST_FORMULA} characters", LONGEST_FORMULA=LONGEST_FORMULA), LONGEST_FORMULA
        )
    reader = _Reader(text)
    node = reader.expression()
    kind, word, at = reader.peek()
    if kind != "end":
        raise FormulaError(say("did not expect “{word}” here", word=word), at)
    return node


def work_out(node: Node, names: Mapping[str, Quantity]) -> Quantity:
    """The value of a formula for the given names. Raises :class:`FormulaError`."""
    match node:
        case Number(quantity=quantity):
            return quantity
        case Name(name=name, position=at):
            try:
                return names[name]
            except KeyError:
                raise FormulaError(say("there is no “{name}” here", name=name), at) from None
        case Negative(inner=inner):
            value, dimension = work_out(inner, names)
            return Quantity(-value, dimension)
        case Binary():
            return _binary(node, names)
        case Call():
            return _call(node, names)


_KIND = {0: "a plain number", 1: "a length", 2: "an area"}


def _same(a: Quantity, b: Quantity, what: str, at: int) -> None:
    if a.dimension != b.dimension:
        raise FormulaError(
            say(
                "{KIND} {what} {KIND_2}: give the bare number a unit, such as 2cm",
                KIND=_KIND.get(a.dimension, "a quantity"),
                what=what,
                KIND_2=_KIND.get(b.dimension, "a quantity"),
            ),
            at,
        )


def _binary(node: Binary, names: Mapping[str, Quantity]) -> Quantity:
    a, b = work_out(node.left, names), work_out(node.right, names)
    sign = node.sign
    if sign == "*":
        return _bounded(a.value * b.value, a.dimension + b.dimension, node.position)
    if sign == "/":
        if b.value == 0:
            raise FormulaError("division by zero", node.position)
        return _bounded(a.value / b.value, a.dimension - b.dimension, node.position)
    if sign in "+-":
        _same(a, b, "plus" if sign == "+" else "less", node.position)
        return _bounded(a.value + b.value if sign == "+" else a.value - b.value, a.dimension, node.position)
    _same(a, b, "compared with", node.position)
    holds = {"<": a.value < b.value, ">": a.value > b.value, "<=": a.value <= b.value, ">=": a.value >= b.value}
    return Quantity(float(holds[sign]), 0)


def _bounded(value: float, dimension: int, at: int) -> Quantity:
    """A result that is finite and not larger than anything on earth. Raises :class:`FormulaError`."""
    if not abs(value) <= LARGEST or abs(dimension) > MOST_DIMENSIONS:
        raise FormulaError("the result is too large", at)
    return Quantity(value, dimension)


# a quantity and a plain number: part of a circle, stretch as a share, ratio of gathering
_SCALED: dict[str, Callable[[float, float], float]] = {
    "radius": lambda length, part: length / (2 * math.pi * part),  # of an arc so long that is that part of a circle
    "arc": lambda radius, part: 2 * math.pi * radius * part,
    "stretched": lambda length, stretch: length / (1 + stretch),  # cut for a body of that length
    "gathered": lambda length, ratio: length * ratio,
}


def _scaled(name: str, values: list[Quantity], at: int) -> Quantity:
    first, second = values
    if second.dimension:
        raise FormulaError(say("the second value of “{name}” is a plain number", name=name), at)
    try:
        return _bounded(_SCALED[name](first.value, second.value), first.dimension, at)
    except ZeroDivisionError:
        raise FormulaError("division by zero", at) from None


_PLAIN: dict[str, Callable[[float], float]] = {
    "sin": lambda v: math.sin(math.radians(v)),
    "cos": lambda v: math.cos(math.radians(v)),
    "tan": lambda v: math.tan(math.radians(v)),
}


def _call(node: Call, names: Mapping[str, Quantity]) -> Quantity:
    name, at = node.function, node.position
    if name == "if":
        chosen = node.arguments[1 if work_out(node.arguments[0], names).value else 2]
        return work_out(chosen, names)
    values = [work_out(argument, names) for argument in node.arguments]
    first = values[0]
    if name in _SCALED:
        return _scaled(name, values, at)
    for other in values[1:]:
        _same(first, other, "beside", at)
    numbers = [value.value for value in values]
    match name:
        case "min":
            return Quantity(min(numbers), first.dimension)
        case "max":
            return Quantity(max(numbers), first.dimension)
        case "clamp":
            return Quantity(min(max(numbers[0], numbers[1]), numbers[2]), first.dimension)
        case "half":
            return Quantity(numbers[0] / 2, first.dimension)
        case "quarter":
            return Quantity(numbers[0] / 4, first.dimension)
        case "slant":
            return _bounded(math.hypot(numbers[0], numbers[1]), first.dimension, at)
        case "abs":
            return Quantity(abs(numbers[0]), first.dimension)
        case "sqrt":
            if numbers[0] < 0 or first.dimension % 2:
                raise FormulaError("sqrt takes a positive number or an area", at)
            return Quantity(math.sqrt(numbers[0]), first.dimension // 2)
    if first.dimension:
        raise FormulaError(say("“{name}” takes a plain number", name=name), at)
    if name in ("ceil", "floor"):
        return Quantity(float(math.ceil(numbers[0]) if name == "ceil" else math.floor(numbers[0])), 0)
    return _bounded(_PLAIN[name](numbers[0]), 0, at)


def written(node: Node, names: Mapping[str, Quantity], labels: Mapping[str, str], unit: Unit) -> str:
    """The formula with its numbers in it: ``(hip 100.0 + ease 4.0) ÷ 4``."""
    return _written(node, names, labels, unit, 0)


_OTHERWISE = {"<": ">=", ">": "<=", "<=": ">", ">=": "<"}
_SIGNS = {"*": "×", "/": "÷", "-": "−", "+": "+", "<": "<", ">": ">", "<=": "≤", ">=": "≥"}


def _written(node: Node, names: Mapping[str, Quantity], labels: Mapping[str, str], unit: Unit, binding: int) -> str:
    match node:
        case Number(quantity=(value, 1)):
            return format_length(value, unit)
        case Number(text=text):
            return text
        case Name(name=name):
            value, dimension = names[name]
            number = format_length(value, unit) if dimension == 1 else f"{value:g}"
            return f"{labels.get(name, name.replace('_', ' '))} {number}"
        case Negative(inner=inner):
            return "−" + _written(inner, names, labels, unit, 3)
        case Binary(sign=sign, left=left, right=right):
            power = _BINDING[sign]
            # the right side of − and ÷ needs its own brackets when it binds no tighter
            right_power = power if sign in "-/" else power - 1
            text = (
                f"{_written(left, names, labels, unit, power - 1)} {_SIGNS[sign]} "
                f"{_written(right, names, labels, unit, right_power)}"
            )
            return f"({text})" if power <= binding else text
        case Call(function="if", arguments=(test, yes, no)):
            holds = bool(work_out(test, names).value)
            chosen = yes if holds else no
            text = _written(chosen, names, labels, unit, binding)
            if binding or not isinstance(chosen, Number) or not isinstance(test, Binary):
                return text
            sign = test.sign if holds else _OTHERWISE.get(test.sign, test.sign)
            because = Binary(sign, test.left, test.right, test.position)
            return f"{text}, as {_written(because, names, labels, unit, 0)}"
        case Call(function=function, arguments=arguments):
            words = {
                "min": "the least of ",
                "max": "the most of ",
                "half": "half of ",
                "quarter": "a quarter of ",
                "slant": "the slant over ",
            }
            values = [_written(argument, names, labels, unit, 0) for argument in arguments]
            if function == "clamp":
                return say(
                    "({values}, kept between {values_2} and {values_3})",
                    values=values[0],
                    values_2=values[1],
                    values_3=values[2],
                )
            return f"{words.get(function, function)}({', '.join(values)})"


@lru_cache(maxsize=2048)
def names_in(node: Node) -> frozenset[str]:
    """Every name that a formula leans on."""
    match node:
        case Name(name=name):
            return frozenset([name])
        case Negative(inner=inner):
            return names_in(inner)
        case Binary(left=left, right=right):
            return names_in(left) | names_in(right)
        case Call(arguments=arguments):
            return frozenset().union(*(names_in(argument) for argument in arguments))
        case _:
            return frozenset()
