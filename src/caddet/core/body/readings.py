"""Readings of the tape: a set of them taken on one day, and what is made of repeated ones. In mm."""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from datetime import date
from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from caddet.core.body.measures import BIGGEST_MM, MEASURES
from caddet.core.errors import InputError
from caddet.core.sentences import say

MOST_READINGS = 50
OVER = ("underwear", "light clothes", "a jumper and trousers", "outdoor clothes")
SIZE_ORIGIN = "size "


def _known_code(code: str) -> str:
    if code not in MEASURES:
        raise ValueError(say("there is no measure “{code}”", code=code[:40]))
    return code


def _possible(value: float) -> float:
    if not math.isfinite(value) or not 0 < value <= BIGGEST_MM:
        raise ValueError(
            say(
                "{value} mm; expected more than 0 and at most {BIGGEST_MM}",
                value=f"{value:g}",
                BIGGEST_MM=f"{BIGGEST_MM:g}",
            )
        )
    return value


Code = Annotated[str, AfterValidator(_known_code)]
Reading = Annotated[float, AfterValidator(_possible)]


def _real_date(text: str) -> str:
    if text:
        date.fromisoformat(text)
    return text


class MeasureSet(BaseModel):
    """Readings taken on one day: code to one or several, in mm (kg for the weight).

    ``date`` is YYYY-MM-DD or "" when it is not known; ``over`` what was worn; ``origin`` is ``tape``,
    ``file``, or ``size NAME`` for values that are a size table's and nobody's own.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    date: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$"), AfterValidator(_real_date)] = ""
    over: str = Field(default="", max_length=80)
    origin: str = Field(default="tape", max_length=120)
    readings: dict[Code, Annotated[tuple[Reading, ...], Field(min_length=1, max_length=MOST_READINGS)]] = {}

    @property
    def from_size(self) -> bool:
        """Whether the values are a size table's."""
        return self.origin.startswith(SIZE_ORIGIN)

    def value(self, code: str) -> float | None:
        """The median of the readings, or None."""
        values = self.readings.get(code)
        return median(values) if values else None

    def with_readings(self, code: str, values: Sequence[float]) -> MeasureSet:
        """The set with other readings of one measure; none takes it away."""
        kept = {key: old for key, old in self.readings.items() if key != code}
        if values:
            kept[code] = tuple(values)
        return MeasureSet(date=self.date, over=self.over, origin=self.origin, readings=kept)


def median(values: Sequence[float]) -> float:
    """The middle one of repeated readings (the mean of the two middle ones)."""
    return values[0] if len(values) == 1 else statistics.median(values)


def spread(values: Sequence[float]) -> float:
    """How far repeated readings lie apart, in their unit."""
    return max(values) - min(values)


def differ(values: Sequence[float]) -> bool:
    """Whether repeated readings differ too much: more than 1 % or 1 cm, whichever is less.

    Never for less than 3 mm, which is what a tape shows reliably. Common practice, no source.
    """
    return spread(values) > max(3.0, min(0.01 * median(values), 10.0)) + 1e-9


def read_date(text: str, today: str) -> str:
    """A date as typed: 2026-11-24, 24.11.2026 or 24/11/2026. Raises :class:`InputError`, also for the future."""
    shown = text.strip()[:40]
    parts = shown.replace("/", ".").replace("-", ".").split(".")
    wrong = InputError(say("“{shown}” is not a date; expected one such as 2026-11-24 or 24.11.2026.", shown=shown))
    if len(parts) != 3 or not all(part.isascii() and part.isdigit() for part in parts):
        raise wrong
    numbers = [int(part) for part in parts]
    if len(parts[0]) != 4:
        numbers.reverse()
    try:
        found = date(*numbers)
    except (ValueError, OverflowError):
        raise wrong from None
    if found.year < 1900:
        raise InputError(say("{isoformat} is too long ago; expected a date from 1900 on.", isoformat=found.isoformat()))
    if found.isoformat() > today:
        raise InputError(
            say(
                "{isoformat} lies in the future (today is {today}); expected a day that has been.",
                isoformat=found.isoformat(),
                today=today,
            )
        )
    return found.isoformat()
