"""Tables from outside, as text: comma-, semicolon- or tab-separated, with the line that each row begins on."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from typing import Any

from caddet.core.errors import InputError
from caddet.core.sentences import say

MOST_COLUMNS = 500
LONGEST_CELL = 5000  # letters
MOST_ROWS = 100_000
_MOST_HEAD = 200_000


def lines_of(
    text: str, place: str = "", *, commas: bool = False, most: int = MOST_ROWS
) -> Iterator[tuple[int, list[str]]]:
    """The rows of a table that are not blank, each with the number of the line it begins on (from 1).

    What parts the cells is read off the first line, unless it is always commas. Raises :class:`InputError` with the
    line for what is no text, for quotes that don't close, and for more columns, letters or rows than a table has.
    """
    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise InputError("this is not a text file; expected a CSV with a header row.", place)
    head = _head_of(text)
    sign = "," if commas else max(";\t,", key=lambda one: (head.count(one), one == ","))
    if head.count(sign) >= MOST_COLUMNS:
        raise InputError(say("the header row has more than {most} columns.", most=MOST_COLUMNS), place)
    rows = csv.reader(io.StringIO(text, newline=""), delimiter=sign)
    count = 0
    for line, cells in _numbered(rows, place):
        if any(cell.strip() for cell in cells):
            count += 1
            if count > most:
                raise InputError(say("more than {most} rows.", most=most), at(place, line))
            yield line, cells


def at(place: str, line: int) -> str:
    """The place of a line of a file, for an error."""
    return f"{place}, line {line}" if place else f"line {line}"


def _numbered(rows: Any, place: str) -> Iterator[tuple[int, list[str]]]:
    """The rows with the line that each begins on, which a cell of several lines moves on."""
    begins = 1
    while True:
        try:
            cells = next(rows)
        except StopIteration:
            return
        except csv.Error as error:
            raise InputError(say("the CSV can't be read: {error}.", error=error), at(place, begins)) from error
        if len(cells) > MOST_COLUMNS or any(len(cell) > LONGEST_CELL for cell in cells):
            raise InputError(
                say(
                    "a row has more than {most} cells, or a cell more than {longest} letters.",
                    most=MOST_COLUMNS,
                    longest=LONGEST_CELL,
                ),
                at(place, begins),
            )
        yield begins, cells
        begins = rows.line_num + 1


def _head_of(text: str) -> str:
    """The first line that is not blank."""
    start = 0
    while start < len(text):
        end = text.find("\n", start)
        line = text[start : end if end >= 0 else len(text)][:_MOST_HEAD]
        if line.strip():
            return line
        start = end + 1 if end >= 0 else len(text)
    return ""
