"""A person: a name and their measures, in millimetres. Immutable."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from caddet.core.body.measures import BIGGEST_MM, MEASURES
from caddet.core.errors import InputError
from caddet.core.lengths import Unit, format_length, parse_length


def _checked_measures(values: dict[str, float]) -> dict[str, float]:
    for code, value in values.items():
        if code not in MEASURES:
            raise ValueError(f"there is no measure “{code}”")
        if not math.isfinite(value) or not 0 < value <= BIGGEST_MM:
            raise ValueError(f"{code} is {value:g} mm; expected more than 0 and at most {BIGGEST_MM:g}")
    return values


class Person(BaseModel):
    """Someone to sew for. ``measures`` maps codes to mm (kg for the weight)."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: str = Field(min_length=1, max_length=80)
    measures: Annotated[dict[str, float], AfterValidator(_checked_measures)] = {}
    born: str = Field(default="", pattern=r"^(\d{4}-\d{2})?$", description="YYYY-MM, for the growing")
    note: str = Field(default="", max_length=2000)

    def with_measure(self, code: str, mm: float | None) -> Person:
        """The person with one measure set, or taken away when None."""
        values = {key: value for key, value in self.measures.items() if key != code}
        if mm is not None:
            values[code] = mm
        return self.model_copy(update={"measures": values})


def read_measure(code: str, text: str, unit: Unit) -> float:
    """A measure as typed: mm (kg for the weight). Raises :class:`InputError` with what was expected."""
    measure = MEASURES[code]
    if measure.kind == "weight":
        try:
            value = float(text.strip().lower().removesuffix("kg").replace(",", "."))
        except ValueError:
            raise InputError(f"“{text.strip()[:40]}” is not a weight; expected kilograms such as 62.5.") from None
        if not 0 < value < 500:
            raise InputError(f"{measure.label} must be more than 0 and less than 500 kg.")
        return value
    value = parse_length(text, unit)
    if value <= 0:
        raise InputError(f"{measure.label} must be more than 0; “{text.strip()}” is not.")
    if value > BIGGEST_MM:
        raise InputError(
            f"{measure.label} of {format_length(value, unit, with_unit=True)} is longer than any body; "
            f"expected between {span(measure.code, unit)}."
        )
    if not measure.low / 3 <= value <= measure.high * 2:
        raise InputError(
            f"{measure.label} of {format_length(value, unit, with_unit=True)} can't be a body's; "
            f"expected between {span(measure.code, unit)}."
        )
    return value


def span(code: str, unit: Unit) -> str:
    """The plausible range of a measure in words: ``44.0 and 160.0 cm``."""
    measure = MEASURES[code]
    low, high = format_length(measure.low, unit), format_length(measure.high, unit, with_unit=True)
    return f"{low} and {high}"
