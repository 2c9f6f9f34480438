"""Errors and findings: what can be wrong, said with its place and what was expected.

A programmer's misuse raises from :class:`CaddetError`. Problems of content are collected as
:class:`Finding` values, so that one stuck step or one bad formula does not hide the rest.
"""

from __future__ import annotations

import difflib
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

LONGEST = 290  # letters of a refusal: one line that can be read at a glance
LONGEST_PLACE = 120
_NOT_SHOWN = re.compile("[\x00-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff]")


def one_line(words: str, most: int = LONGEST) -> str:
    """Words on one line of at most so many letters, cut with “…”, without letters that steer a terminal.

    Words that are so already are given back as they are (a sentence keeps its template).
    """
    if len(words) <= most and not _NOT_SHOWN.search(words):
        return words
    plain = " ".join(_NOT_SHOWN.sub(" ", words).split())
    return plain if len(plain) <= most else plain[: most - 1].rstrip() + "…"


def some(names: Iterable[str], wanted: str = "", most: int = 8) -> str:
    """What could have been meant, for a refusal: the names most like what was typed, or the first ones, and how many more."""
    every = [one_line(name, 40) for name in names]
    if len(every) <= most:
        return ", ".join(every)
    near = difflib.get_close_matches(wanted[:80], every, n=3, cutoff=0.6) if wanted else []
    shown = [*near, *(name for name in every if name not in near)][:most]
    return f"{', '.join(shown)} and {len(every) - len(shown)} more"


class CaddetError(Exception):
    """The root of every error that Caddet raises on purpose. Its text is fit for a user: one line, cut where it is long."""

    def __init__(self, words: str = "") -> None:
        super().__init__(one_line(words))


class Stopped(CaddetError):
    """Work that was stopped before it was done: nobody wants its answer any more."""

    def __init__(self, words: str = "Stopped.") -> None:
        super().__init__(words)


class InputError(CaddetError):
    """Input from outside (a file, a field, a command line) that can't be used; exit code 2."""

    def __init__(self, sentence: str, place: str = "") -> None:
        self.sentence = one_line(sentence, LONGEST if not place else LONGEST - min(len(place), LONGEST_PLACE) - 2)
        self.place = place
        shown = place if len(place) <= LONGEST_PLACE else "…" + place[1 - LONGEST_PLACE :]
        super().__init__(shown + ": " + self.sentence if place else self.sentence)  # a sentence added to text stays one


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
        case "union_tag_invalid" | "union_tag_not_found":
            return f"expected {numbers.get('expected_tags', 'one of a few kinds')}"
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
