"""Readings of the tape as CSV: ``what,at,value``, one reading a row.

::

    what,at,value
    chest,,51.5
    chest,,52
    width,35,47.5 cm

A reading that is there twice was read twice. ``at`` is how far down a width of one's own was taken; lengths without a
unit are in the unit that is given. Which readings a kind knows: ``caddet trace --kind KIND``.
"""

from __future__ import annotations

import csv
import io

from caddet.core.errors import InputError, some
from caddet.core.files.tables import at, lines_of
from caddet.core.lengths import Unit, parse_length
from caddet.core.recipe.traced import Reading
from caddet.core.sentences import Length, say
from caddet.core.tracing.kinds import Kind

COLUMNS = ("what", "at", "value")
MOST_ROWS = 1000
LONGEST = 5000.0  # mm
MOST_TIMES = 20


def readings_text(readings: tuple[Reading, ...]) -> str:
    """The readings as CSV, lengths in mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for reading in readings:
        for value in reading.values:
            at = "" if reading.at is None else f"{reading.at:g} mm"
            writer.writerow((reading.what, at, f"{value:g} mm"))
    return out.getvalue()


def read_readings(text: str, kind: Kind, unit: Unit = "cm", place: str = "") -> tuple[Reading, ...]:
    """Readings for a kind from CSV. Raises :class:`InputError` with the line and column, and what was expected."""
    rows = [(number, [cell.strip() for cell in row]) for number, row in lines_of(text, place, most=MOST_ROWS + 1)]
    if not rows or tuple(cell.lower() for cell in rows[0][1][:3]) != COLUMNS:
        raise InputError("expected the header “what,at,value”.", at(place, rows[0][0] if rows else 1))
    found: dict[tuple[str, float | None], Reading] = {}
    for number, row in rows[1:]:
        reading = _reading(row, kind, unit, at(place, number))
        key = (reading.what, reading.at)
        if key in found:
            values = (*found[key].values, *reading.values)
            if len(values) > MOST_TIMES:
                raise InputError(
                    say("{what} was read more than {most} times.", what=reading.what, most=MOST_TIMES),
                    at(place, number),
                )
            reading = reading.model_copy(update={"values": values})
        found[key] = reading
    return tuple(found.values())


def _reading(row: list[str], kind: Kind, unit: Unit, where: str) -> Reading:
    what, at, value = [*row, "", "", ""][:3]
    wide = kind.width(what)
    if kind.reading(what) is None and wide is None:
        known = some([*(one.name for one in kind.asked), *(one.name for one in kind.widths)], what)
        raise InputError(
            say("“{what}” is not measured on this garment; expected one of {known}.", what=what[:40], known=known),
            f"{where}, column what",
        )
    if wide is not None and not at:
        raise InputError(say("expected how far down {what} was taken.", what=what), f"{where}, column at")
    if wide is None and at:
        raise InputError(say("{what} has its place; expected nothing here.", what=what), f"{where}, column at")
    return Reading(
        what=what,
        at=_length(at, unit, f"{where}, column at", least=-1.0) if at else None,
        values=(_length(value, unit, f"{where}, column value"),),
    )


def _length(text: str, unit: Unit, where: str, least: float = 0.0) -> float:
    try:
        value = parse_length(text, unit)
    except InputError as error:
        raise InputError(error.sentence, where) from error
    if not least < value <= LONGEST:
        raise InputError(
            say(
                "{value} can't be measured on a garment; expected more than nothing and at most {most}.",
                value=Length(value),
                most=Length(LONGEST),
            ),
            where,
        )
    return value
