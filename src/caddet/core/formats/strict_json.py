"""Reading and writing JSON within bounds: no NaN, no infinity, no endless numbers, no bombs.

Every reader of Caddet's own files goes through :func:`read_json`; what it writes, through
:func:`canonical`, so that equal values are equal text.
"""

from __future__ import annotations

import json
import math
from typing import Any, NoReturn

from caddet.core.errors import InputError
from caddet.core.sentences import say

MOST_PARTS = 1_400_000  # values and keys of one file
LONGEST_NUMBER = 400  # characters
LARGEST = 1e15


class _NotHere(ValueError):
    """A number that no file of ours has."""


def read_json(data: bytes, place: str, what: str = "the file") -> Any:
    """The value of a JSON text in UTF-8.

    Raises :class:`InputError` naming the place (with line and column where the parser knows them) for
    anything that is no JSON, has numbers without bounds, or more than ``MOST_PARTS`` parts.
    """
    if parts_of(data) > MOST_PARTS:
        raise InputError(
            say(
                "{what} has more than {MOST_PARTS} parts; that can't be a project.",
                what=what,
                MOST_PARTS=f"{MOST_PARTS:,}",
            ),
            place,
        )
    try:
        text = data.decode("utf-8")
        value = json.loads(text, parse_constant=_constant, parse_float=_float, parse_int=_int)
        if "\\ud" in text or "\\uD" in text:  # half a letter can't be written again
            compact(value).encode("utf-8")
        return value
    except json.JSONDecodeError as error:
        where = say(" (line {lineno}, column {colno})", lineno=error.lineno, colno=error.colno)
        raise InputError(say("{what} can't be read{where}; expected JSON.", what=what, where=where), place) from error
    except _NotHere as error:
        raise InputError(say("{what} can't be read: {error}.", what=what, error=error), place) from error
    except (UnicodeDecodeError, RecursionError, ValueError, MemoryError) as error:
        raise InputError(say("{what} can't be read; expected JSON in UTF-8.", what=what), place) from error


def parts_of(data: bytes) -> int:
    """At most how many values and keys a JSON text has."""
    return sum(data.count(sign) for sign in (b",", b"[", b"{"))


def _constant(name: str) -> NoReturn:
    raise _NotHere(say("it has {name} where a number was expected", name=name))


def _float(text: str) -> float:
    value = float(text) if len(text) <= LONGEST_NUMBER else math.inf
    if not abs(value) <= LARGEST:
        raise _NotHere(say("it has a number without sense ({text}…)", text=text[:20]))
    return value


def _int(text: str) -> int:
    if len(text) > 17:
        raise _NotHere(say("it has a number without sense ({text}…)", text=text[:20]))
    return int(text)


def canonical(value: Any) -> str:
    """The one text of a value: keys in order, of an object each key on a line of its own.

    Raises :class:`ValueError` for NaN and infinity.
    """
    if not isinstance(value, dict):
        return compact(value)
    lines = (f"{json.dumps(key, ensure_ascii=False)}:{compact(value[key])}" for key in sorted(value))
    return "{\n" + ",\n".join(lines) + "\n}\n"


def compact(value: Any) -> str:
    """A value on one line, keys in order."""
    return json.dumps(value, ensure_ascii=False, sort_keys=True, separators=(",", ":"), allow_nan=False)
