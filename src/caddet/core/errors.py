"""Errors and findings: what can be wrong, said with its place and what was expected.

A programmer's misuse raises from :class:`CaddetError`. Problems of content are collected as
:class:`Finding` values, so that one stuck step or one bad formula does not hide the rest.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal


class CaddetError(Exception):
    """The root of every error that Caddet raises on purpose. Its text is fit for a user."""


class InputError(CaddetError):
    """Input from outside (a file, a field, a command line) that can't be used; exit code 2."""

    def __init__(self, sentence: str, place: str = "") -> None:
        super().__init__(place + ": " + sentence if place else sentence)  # a sentence added to text stays one
        self.sentence = sentence
        self.place = place


def expected(kind: str, context: Mapping[str, Any], message: str) -> str:
    """What the schema's check of a value says, in words a maker reads; ``kind`` and ``context`` are its own."""
    numbers = {key: f"{value:,g}" if isinstance(value, int | float) else str(value) for key, value in context.items()}
    match kind:
        case "less_than_equal" | "less_than":
            return f"expected at most {numbers.get('le', numbers.get('lt', ''))}"
        case "greater_than_equal" | "greater_than":
            return (
                f"expected more than {numbers['gt']}"
                if "gt" in numbers
                else f"expected at least {numbers.get('ge', '')}"
            )
        case "float_type" | "float_parsing" | "int_type" | "int_parsing" | "finite_number" | "int_from_float":
            return "expected a number"
        case "string_type":
            return "expected words"
        case "bool_type" | "bool_parsing":
            return "expected yes or no"
        case "string_too_long" | "too_long":
            return f"longer than {numbers.get('max_length', '')}"
        case "string_too_short" | "too_short":
            return "it is empty"
        case "literal_error":
            return f"expected {numbers.get('expected', 'one of a few words')}"
        case "extra_forbidden":
            return "there is no such part"
        case "string_pattern_mismatch":
            return "not written as expected"
        case "dict_type" | "model_type" | "model_attributes_type" | "dataclass_type":
            return "expected an object"
        case "list_type" | "tuple_type":
            return "expected a list"
        case _:
            return message.removeprefix("Value error, ")


Severity = Literal["stops", "look", "note"]


@dataclass(frozen=True, slots=True)
class Finding:
    """One located remark about the content.

    ``place`` is a path such as ``recipe[3].amount``, ``front.side`` or ``figures.front_dart``.
    """

    code: str
    sentence: str
    place: str = ""
    severity: Severity = "look"
