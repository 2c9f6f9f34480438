"""People as CSV: a header row, ``name`` first, then measure codes. Values in cm or inches.

Reads what spreadsheets write: commas, semicolons or tabs; decimal points or commas; UTF-8 with or
without a mark, UTF-16 with one, or Latin-1; columns in any order, a unit behind a column's name
(``hip (in)``). Besides measures, ``date``, ``born``, ``over`` and ``note`` are understood.

Read strictly (for the command line) the first bad cell is refused; read gently (for the Workroom) it is
left out and told, and a row that is plainly in the other unit is converted and told.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from pathlib import Path

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, read_measure
from caddet.core.body.readings import MeasureSet, read_date
from caddet.core.errors import Finding, InputError, Stopped
from caddet.core.files.reading import read_text
from caddet.core.files.tables import at, lines_of
from caddet.core.lengths import Unit
from caddet.core.sentences import say

MOST_PEOPLE = 10_000
MOST_FINDINGS = 500
LONGEST_HEADING = 80
BIGGEST_CSV = 16 * 1024 * 1024
BESIDES = ("name", "date", "born", "over", "note")
_UNITS: dict[str, Unit] = {"cm": "cm", "in": "in", "inch": "in", "inches": "in"}


@dataclass(slots=True)
class _Reading:
    """What is gathered while a table is read."""

    unit: Unit
    place: str
    gently: bool
    today: str
    stopped: Callable[[], bool] = lambda: False
    people: list[Person] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    by_name: dict[str, list[Person]] = field(default_factory=dict)
    names: set[str] = field(default_factory=set)

    def tell(self, code: str, sentence: str, where: str, *, note: bool = False) -> None:
        if len(self.findings) < MOST_FINDINGS:
            self.findings.append(Finding(code, sentence, where, "note" if note else "look"))

    def fault(self, sentence: str, where: str) -> None:
        """Refuse, or when reading gently tell and go on."""
        if not self.gently:
            raise InputError(sentence, where)
        self.tell("csv.cell", sentence, where)


def read_people(
    path: Path,
    unit: Unit = "cm",
    *,
    gently: bool = False,
    today: str = "9999-12-31",
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[list[Person], list[Finding]]:
    """People from a CSV file, with findings for unknown columns and blanks.

    Raises :class:`InputError` naming file, line and column when a value can't be used; read gently,
    only when nothing of the file can. Raises :class:`Stopped` as soon as ``stopped`` says so.
    """
    text = read_text(path, BIGGEST_CSV)
    return parse_people(text, unit, str(path), gently=gently, today=today, stopped=stopped)


def parse_people(
    text: str,
    unit: Unit = "cm",
    place: str = "",
    *,
    gently: bool = False,
    today: str = "9999-12-31",
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[list[Person], list[Finding]]:
    """People from CSV text (or cells pasted from a spreadsheet); see :func:`read_people`."""
    reading = _Reading(unit, place, gently, today, stopped)
    _people(lines_of(text, place), reading)
    return reading.people, reading.findings


def _column(cell: str) -> tuple[str, Unit | None]:
    """A column's code and, when its heading says one, its unit."""
    words = " ".join(cell.lower().split())[:LONGEST_HEADING]
    match = re.fullmatch(r"(.*?)[\s_]*[(\[]?\b(cm|in|inch|inches)\b[)\]]?", words.replace("_", " "))
    unit = _UNITS[match[2]] if match and match[1].strip() else None
    name = match[1] if match and unit else words
    return re.sub(r"[\s\-_]+", "_", name.strip()), unit


def _people(rows: Iterable[tuple[int, list[str]]], reading: _Reading) -> None:
    header: list[tuple[str, Unit | None]] | None = None
    for number, row in rows:
        if reading.stopped():
            raise Stopped
        where = at(reading.place, number)
        if header is None:
            header = _header(row, where, reading)
            continue
        if len(reading.people) >= MOST_PEOPLE:
            raise InputError(say("more than {MOST_PEOPLE} people.", MOST_PEOPLE=MOST_PEOPLE), where)
        person = _person(header, row, where, reading)
        if person is not None:
            reading.people.append(person)
    if header is None:
        raise InputError("the file is empty; expected a header row with name and measure codes.", reading.place)
    if not reading.people:
        raise InputError("there is a header but nobody below it.", reading.place)


def _header(row: list[str], where: str, reading: _Reading) -> list[tuple[str, Unit | None]]:
    header = [_column(cell) for cell in row]
    codes = [code for code, _ in header]
    if "name" not in codes:
        raise InputError("the header row has no column “name”; expected name and measure codes.", where)
    twice = {code for code in codes if code and codes.count(code) > 1}
    if twice:
        raise InputError(say("the column “{twice}” is there twice.", twice=sorted(twice)[0]), where)
    for code in codes:
        if code not in MEASURES and code not in BESIDES:
            reading.tell(
                "csv.column",
                say("The column “{code}” is not a measure and is passed over.", code=code),
                f"{where}, column {code}",
                note=True,
            )
    if not any(code in MEASURES for code in codes):
        raise InputError(
            say("no column is a measure; expected codes such as {list}.", list=", ".join(list(MEASURES)[4:7])), where
        )
    return header


def _person(header: list[tuple[str, Unit | None]], row: list[str], where: str, reading: _Reading) -> Person | None:
    cells = dict(zip((code for code, _ in header), (cell.strip() for cell in row), strict=False))
    name = cells.get("name", "")
    if not name or len(name) > 80:
        what = "is blank" if not name else "is longer than 80 letters"
        reading.fault(
            say("the name {what}, so this row can't be used; expected a name on every row.", what=what),
            say("{where}, column name", where=where),
        )
        return None
    measures: dict[str, float] = {}
    for code, unit in header:
        if code not in MEASURES:
            continue
        text = cells.get(code, "")
        if not text:
            reading.tell(
                "csv.blank",
                say("{label} of {name} is blank; it is estimated where needed.", label=MEASURES[code].label, name=name),
                f"{where}, column {code}",
                note=True,
            )
            continue
        try:
            measures[code] = read_measure(code, text, unit or reading.unit)
        except InputError as error:
            other = _other_unit(code, text, unit or reading.unit) if reading.gently else None
            if other is not None:
                measures[code] = other
            else:
                reading.fault(error.sentence, f"{where}, column {code}")
    if reading.gently:
        measures = _mended(name, measures, where, reading)
    born = cells.get("born", "")[:7]
    if born and not re.fullmatch(r"\d{4}-(0[1-9]|1[0-2])", born):
        reading.fault(
            say("“{born}” is not a birth month; expected one such as 2016-03.", born=born),
            say("{where}, column born", where=where),
        )
        born = ""
    date = ""
    if cells.get("date"):
        try:
            date = read_date(cells["date"], reading.today)
        except InputError as error:
            reading.fault(error.sentence, say("{where}, column date", where=where))
    readings = {code: (value,) for code, value in measures.items()}
    origin = "file" if reading.gently else "tape"
    one = MeasureSet(date=date, over=cells.get("over", "")[:80], origin=origin, readings=readings)
    person = Person(name=name, sets=(one,) if measures else (), born=born, note=cells.get("note", "")[:2000])
    return _named(person, where, reading)


def _named(person: Person, where: str, reading: _Reading) -> Person | None:
    """The person under a name of their own; None for somebody who is there twice."""
    name = person.name
    if name not in reading.names:
        reading.names.add(name)
        reading.by_name[name] = [person]
        return person
    if not reading.gently:
        raise InputError(
            say("there are two people called {name}; each needs a name of their own.", name=name),
            say("{where}, column name", where=where),
        )
    same = reading.by_name.setdefault(name, [])
    if any((other.sets, other.born, other.note) == (person.sets, person.born, person.note) for other in same):
        reading.tell("csv.twice", say("{name} is there twice with the same values; taken once.", name=name), where)
        return None
    same.append(person)
    number = len(same)
    while f"{name[:76]} {number}" in reading.names:
        number += 1
    fresh = f"{name[:76]} {number}"
    reading.names.add(fresh)
    reading.tell(
        "csv.name",
        say("There are two people called {name}; this one is called {fresh} here.", name=name, fresh=fresh),
        where,
    )
    return person.model_copy(update={"name": fresh})


def _other_unit(code: str, text: str, unit: Unit) -> float | None:
    """The value when it can only be in the other unit."""
    try:
        value = read_measure(code, text, "in" if unit == "cm" else "cm")
    except InputError:
        return None
    low, high = MEASURES[code].plausible()
    return value if low <= value <= high else None


def _mended(name: str, measures: dict[str, float], where: str, reading: _Reading) -> dict[str, float]:
    """The measures of a row, converted when most of them make sense only in the other unit."""
    lengths = {code: value for code, value in measures.items() if MEASURES[code].kind != "weight"}
    if len(lengths) < 2:
        return measures

    def sensible(factor: float) -> int:
        return sum(MEASURES[c].low <= v * factor <= MEASURES[c].high for c, v in lengths.items())

    now = sensible(1.0)
    for factor, words in ((2.54, "inches"), (1 / 2.54, "cm")):
        if now <= 0.4 * len(lengths) and sensible(factor) >= 0.8 * len(lengths):
            reading.tell(
                "csv.unit",
                say(
                    "The row of {name} makes sense only in {words}, so it was read in {words}.", name=name, words=words
                ),
                where,
            )
            return {code: round(v * factor, 4) if code in lengths else v for code, v in measures.items()}
    return measures


def write_people(people: Iterable[Person], unit: Unit = "cm", *, tabs: bool = False) -> str:
    """People as CSV text: every measure that anyone has, decimals with a point; with tabs for a spreadsheet."""
    people = list(people)
    codes = [code for code in MEASURES if any(code in person.measures for person in people)]
    out = io.StringIO()
    writer = csv.writer(out, "excel-tab" if tabs else "excel", lineterminator="\n")
    besides = [
        key
        for key, there in (
            ("date", any(p.sets and p.sets[-1].date for p in people)),
            ("born", any(p.born for p in people)),
            ("over", any(p.sets and p.sets[-1].over for p in people)),
            ("note", any(p.note for p in people)),
        )
        if there
    ]
    writer.writerow(["name", *codes, *besides])
    for person in people:
        have = person.measures
        last = person.sets[-1] if person.sets else MeasureSet()
        more = {"date": last.date, "born": person.born, "over": last.over, "note": " ".join(person.note.split())}
        writer.writerow(
            [person.name, *(_cell(code, have.get(code), unit) for code in codes), *(more[key] for key in besides)]
        )
    return out.getvalue()


def _cell(code: str, value: float | None, unit: Unit) -> str:
    if value is None:
        return ""
    if MEASURES[code].kind == "weight":
        return f"{value:g}"
    return f"{value / (10 if unit == 'cm' else 25.4):.8g}"
