"""People as CSV: a header row, ``name`` first, then measure codes. Values in cm or inches.

Reads what spreadsheets write: commas, semicolons or tabs; decimal points or commas; UTF-8 with or
without a mark, UTF-16 with one, or Latin-1.
"""

from __future__ import annotations

import codecs
import csv
import io
from collections.abc import Iterable
from pathlib import Path

from pydantic import ValidationError

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, read_measure
from caddet.core.errors import Finding, InputError
from caddet.core.formats.files import read_whole
from caddet.core.lengths import Unit, format_length

MOST_PEOPLE = 10_000


def read_people(path: Path, unit: Unit = "cm") -> tuple[list[Person], list[Finding]]:
    """People from a CSV file, with findings for unknown columns and blanks.

    Raises :class:`InputError` naming file, line and column when a value can't be used.
    """
    return parse_people(_text(read_whole(path, 50 * 1024 * 1024)), unit, str(path))


def _text(data: bytes) -> str:
    if data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return data.decode("utf-16", errors="replace")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def parse_people(text: str, unit: Unit = "cm", place: str = "") -> tuple[list[Person], list[Finding]]:
    """People from CSV text; see :func:`read_people`."""
    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise InputError("this is not a text file; expected a CSV with a header row.", place)
    lines = text.splitlines()
    head = next((line for line in lines if line.strip()), "")
    delimiter = max(";\t,", key=lambda sign: (head.count(sign), sign == ","))
    rows = csv.reader(io.StringIO(text), delimiter=delimiter)
    try:
        return _people(rows, unit, place)
    except csv.Error as error:
        raise InputError(f"the CSV can't be read: {error}.", place) from error


def _people(rows: Iterable[list[str]], unit: Unit, place: str) -> tuple[list[Person], list[Finding]]:
    people: list[Person] = []
    findings: list[Finding] = []
    header: list[str] | None = None
    seen: set[str] = set()
    for number, row in enumerate(rows, start=1):
        if not any(cell.strip() for cell in row):
            continue
        where = f"{place}, line {number}" if place else f"line {number}"
        if header is None:
            header = [cell.strip().lower().replace(" ", "_").replace("-", "_") for cell in row]
            if "name" not in header:
                raise InputError("the header row has no column “name”; expected name and measure codes.", where)
            twice = {code for code in header if code and header.count(code) > 1}
            if twice:
                raise InputError(f"the column “{sorted(twice)[0]}” is there twice.", where)
            findings += [
                Finding(
                    "csv.column",
                    f"The column “{code}” is not a measure and is passed over.",
                    f"{where}, column {code}",
                    "note",
                )
                for code in header
                if code not in MEASURES and code != "name"
            ]
            if not any(code in MEASURES for code in header):
                raise InputError(
                    f"no column is a measure; expected codes such as {', '.join(list(MEASURES)[4:7])}.", where
                )
            continue
        if len(people) >= MOST_PEOPLE:
            raise InputError(f"more than {MOST_PEOPLE} people.", where)
        people.append(_person(header, row, unit, where, findings, seen))
    if header is None:
        raise InputError("the file is empty; expected a header row with name and measure codes.", place)
    if not people:
        raise InputError("there is a header but nobody below it.", place)
    return people, findings


def _person(
    header: list[str], row: list[str], unit: Unit, where: str, findings: list[Finding], seen: set[str]
) -> Person:
    cells = dict(zip(header, (cell.strip() for cell in row), strict=False))
    name = cells.get("name", "")
    if not name:
        raise InputError("the name is blank; expected one on every row.", f"{where}, column name")
    if name in seen:
        raise InputError(
            f"there are two people called {name}; each needs a name of their own.", f"{where}, column name"
        )
    seen.add(name)
    measures = {}
    for code in header:
        if code not in MEASURES:
            continue
        text = cells.get(code, "")
        if not text:
            findings.append(
                Finding("csv.blank", f"{MEASURES[code].label} of {name} is blank; it is estimated where needed.",
                        f"{where}, column {code}", "note")
            )  # fmt: skip
            continue
        try:
            measures[code] = read_measure(code, text, unit)
        except InputError as error:
            raise InputError(error.sentence, f"{where}, column {code}") from error
    try:
        return Person(name=name, measures=measures)
    except ValidationError as error:
        raise InputError(f"this row can't be used: {error.errors()[0]['msg']}.", where) from error


def write_people(people: Iterable[Person], unit: Unit = "cm") -> str:
    """People as CSV text: every measure that anyone has, decimals with a point."""
    people = list(people)
    codes = [code for code in MEASURES if any(code in person.measures for person in people)]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["name", *codes])
    for person in people:
        writer.writerow([person.name, *(_cell(code, person.measures.get(code), unit) for code in codes)])
    return out.getvalue()


def _cell(code: str, value: float | None, unit: Unit) -> str:
    if value is None:
        return ""
    if MEASURES[code].kind == "weight":
        return f"{value:g}"
    return f"{value / (10 if unit == 'cm' else 25.4):.6g}" if unit == "cm" else format_length(value, "in")
