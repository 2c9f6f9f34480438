"""What a user types for a parameter, read into the value that a document keeps.

A length or formula as typed (``3cm``, ``waist / 20``), a choice by its name, a place as ``front.side@0.4`` or
``front.side@120mm`` (``@-120mm`` from its end), edges and pieces with commas, a line as places with semicolons.
"""

from __future__ import annotations

import re
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, parse
from caddet.core.lengths import Unit, parse_length
from caddet.core.pattern.ids import canonical
from caddet.core.recipe.parameters import KIND_WORDS, NAMING, Parameter
from caddet.core.recipe.values import (
    Choice,
    Corner,
    Flag,
    Formula,
    FramePoint,
    LinesValue,
    LineValue,
    Number,
    Place,
    Points,
    References,
    Text,
)
from caddet.core.sentences import say

_YES, _NO = ("yes", "true", "on", "1"), ("no", "false", "off", "0")


def typed_value(parameter: Parameter, text: str, unit: Unit = "cm") -> Any:
    """The value of a parameter from what was typed. Raises :class:`CaddetError` with what was expected."""
    text = text.strip()
    if parameter.is_amount:
        return _amount(parameter, text, unit)
    match parameter.kind:
        case "choice":
            return Choice(name=str(parameter.checked(text)))
        case "flag":
            if text.lower() not in (*_YES, *_NO):
                raise CaddetError(say("{label}: expected yes or no, not “{text}”", label=parameter.label, text=text))
            return Flag(on=text.lower() in _YES)
        case "text":
            return Text(text=text)
        case "place":
            return parameter.checked(typed_place(text, parameter.label, unit))
        case "corner":
            edge, _, end = (one.strip() for one in text.partition("@"))
            if end not in ("start", "end"):
                raise CaddetError(
                    say(
                        "{label}: “{text}” is no corner; expected one such as front.side@end",
                        label=parameter.label,
                        text=text[:60],
                    )
                )
            return Corner(edge=canonical_name(edge, parameter.label), end="start" if end == "start" else "end")
        case "line":
            return LineValue(points=_spots(parameter, text, unit))
        case "lines":
            return LinesValue(lines=tuple(_spots(parameter, one, unit) for one in text.split("|")))
        case "points":
            return Points(points=tuple(typed_point(one, parameter.label, unit) for one in text.split(";")))
        case kind if kind in NAMING:
            names = [one.strip() for one in _split(text)]
            return parameter.tagged(
                parameter.checked(tuple(canonical_name(one, parameter.label) for one in names if one))
            )
    raise CaddetError(
        say("{label}: {KIND_WORDS} can't be typed here", label=parameter.label, KIND_WORDS=KIND_WORDS[parameter.kind])
    )


def _split(text: str) -> list[str]:
    """Names between commas; those inside brackets belong to a reference's marks."""
    return re.split(r",(?![^\[]*\])", text)


def canonical_name(text: str, label: str) -> str:
    """A reference in its usual writing. Raises :class:`CaddetError`."""
    try:
        return canonical(text)
    except ValueError as error:
        raise CaddetError(say("{label}: {error}", label=label, error=error)) from error


def _amount(parameter: Parameter, text: str, unit: Unit) -> Any:
    try:
        value = parse_length(text, unit) if parameter.kind == "length" else float(text.removesuffix("°"))
    except (CaddetError, ValueError):
        try:
            parse(text)
        except FormulaError as error:
            raise CaddetError(
                say(
                    "{label}: “{text}” is neither {KIND_WORDS} nor a formula ({reason})",
                    label=parameter.label,
                    text=text[:60],
                    KIND_WORDS=KIND_WORDS[parameter.kind],
                    reason=error.reason,
                )
            ) from error
        return Formula(text=text)
    return Number(value=parameter.checked(value))


def _where(text: str, label: str) -> tuple[str, str]:
    edge, at, where = text.strip().partition("@")
    if not at or not where:
        raise CaddetError(
            say(
                "{label}: “{text}” is no place; expected one such as front.side@0.4 or front.side@12cm",
                label=label,
                text=text[:60],
            )
        )
    return canonical_name(edge.strip(), label), where.strip()


def typed_place(text: str, label: str, unit: Unit = "cm") -> Place:
    """A place on an edge. Raises :class:`CaddetError` with what was expected."""
    edge, where = _where(text, label)
    try:
        return Place(edge=edge, share=float(where))
    except ValueError:
        pass
    try:
        mm = parse_length(where.removeprefix("-"), unit)
    except CaddetError as error:
        raise CaddetError(
            say("{label}: “{where}” is neither a share from 0 to 1 nor a length", label=label, where=where)
        ) from error
    return Place(edge=edge, mm=mm, end="end" if where.startswith("-") else "start")


def typed_point(text: str, label: str, unit: Unit = "cm") -> FramePoint:
    """A point in an edge's frame: ``front.side@0.4,3cm``, the share along its chord and how far to its left."""
    edge, where = _where(text, label)
    along, comma, out = where.partition(",")
    try:
        return FramePoint(edge=edge, along=float(along), out=_signed(out, unit) if comma else 0.0)
    except (ValueError, CaddetError) as error:
        raise CaddetError(
            say("{label}: “{text}” is no point; expected one such as front.side@0.4,3cm", label=label, text=text[:60])
        ) from error


def _signed(text: str, unit: Unit) -> float:
    text = text.strip()
    return -parse_length(text[1:], unit) if text.startswith("-") else parse_length(text, unit)


def _spots(parameter: Parameter, text: str, unit: Unit) -> tuple[Place | FramePoint, ...]:
    found = tuple(
        typed_point(one, parameter.label, unit)
        if "," in one.partition("@")[2]
        else typed_place(one, parameter.label, unit)
        for one in text.split(";")
    )
    if len(found) < 2:
        raise CaddetError(
            say(
                "{label}: a line goes through at least two places, with a semicolon between them", label=parameter.label
            )
        )
    return found


def typed_text(value: Any) -> str:
    """How a value of a document would be typed; lengths in mm."""
    match value:
        case None:
            return ""
        case Number(value=number):
            return f"{number:g}"
        case Formula(text=text) | Text(text=text):
            return text
        case Choice(name=name):
            return name
        case Flag(on=on):
            return "yes" if on else "no"
        case Place():
            where = (
                f"{value.share:g}" if value.share is not None else f"{'-' if value.end == 'end' else ''}{value.mm:g}mm"
            )
            return f"{value.edge}@{where}"
        case Corner():
            return f"{value.edge}@{value.end}"
        case FramePoint():
            return f"{value.edge}@{value.along:g},{value.out:g}mm"
        case LineValue(points=points) | Points(points=points):
            return "; ".join(map(typed_text, points))
        case LinesValue(lines=lines):
            return " | ".join("; ".join(map(typed_text, one)) for one in lines)
        case References(refs=refs):
            return ", ".join(refs)
    return ""
