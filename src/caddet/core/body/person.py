"""A person: a name, and the sets of readings taken of them. Immutable; in millimetres."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, FailFast, Field

from caddet.core.body.kept import Adjustment, Liked
from caddet.core.body.measures import BIGGEST_MM, MEASURES
from caddet.core.body.readings import Code, MeasureSet, Reading
from caddet.core.errors import InputError
from caddet.core.lengths import Unit, format_length, parse_length
from caddet.core.sentences import Length, Sentence, say


class Growth(BaseModel):
    """For a growing wearer: how many months the garment should last, and by which school it is reckoned."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    months: int = Field(default=0, ge=0, le=60)
    school: Literal["chart", "inch"] = "chart"


class Person(BaseModel):
    """Someone to sew for. ``sets`` are their readings, the oldest first; ``measures`` what holds now.

    ``liked`` are garments that fit them, ``adjustments`` what is always changed for them. ``sure`` are values that were doubted and are right all the same; ``photo`` names a picture kept
    beside the document.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: str = Field(min_length=1, max_length=80)
    sets: Annotated[tuple[MeasureSet, ...], FailFast()] = Field(default=(), max_length=1000)
    born: str = Field(default="", pattern=r"^(\d{4}-(0[1-9]|1[0-2]))?$", description="YYYY-MM, for the growing")
    growth: Growth = Growth()
    sure: dict[Code, Reading] = {}
    note: str = Field(default="", max_length=2000)
    liked: tuple[Liked, ...] = Field(default=(), max_length=100)
    adjustments: tuple[Adjustment, ...] = Field(default=(), max_length=100)
    photo: str = Field(default="", pattern=r"^([0-9a-f]{32}\.jpg)?$")

    @staticmethod
    def of(name: str, measures: Mapping[str, float], *, date: str = "", born: str = "", note: str = "") -> Person:
        """A person with one set of readings, code to mm."""
        one = MeasureSet(date=date, readings={code: (value,) for code, value in measures.items()})
        return Person(name=name, sets=(one,) if measures else (), born=born, note=note)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy, which goes through its own readings: what was found in these does not go with it."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop("measures", None)
        return copied

    @cached_property
    def measures(self) -> Mapping[str, float]:
        """What holds now: of each measure the newest value (the median of its readings), code to mm."""
        found: dict[str, float] = {}
        for one in self.sets:
            for code in one.readings:
                value = one.value(code)
                if value is not None:
                    found[code] = value
        return found

    def set_of(self, code: str) -> MeasureSet | None:
        """The set that the present value of a measure comes from."""
        return next((one for one in reversed(self.sets) if code in one.readings), None)

    def measures_until(self, index: int) -> Mapping[str, float]:
        """What held when set ``index`` had been taken."""
        return self.model_copy(update={"sets": self.sets[: index + 1]}).measures

    def with_set(self, one: MeasureSet) -> Person:
        """The person with one more set in the order of the dates; a set of that day and origin is added to."""
        for index, old in enumerate(self.sets):
            if (old.date, old.origin) == (one.date, one.origin):
                merged = MeasureSet(
                    date=old.date,
                    over=one.over or old.over,
                    origin=old.origin,
                    readings={**old.readings, **one.readings},
                )
                return self._with_sets([*self.sets[:index], merged, *self.sets[index + 1 :]])
        after = next((i for i, old in enumerate(self.sets) if old.date > one.date), len(self.sets))
        return self._with_sets([*self.sets[:after], one, *self.sets[after:]])

    def without_set(self, index: int) -> Person:
        """The person without one set of readings."""
        return self._with_sets([*self.sets[:index], *self.sets[index + 1 :]])

    def with_readings(self, code: str, values: Sequence[float], date: str | None = None) -> Person:
        """Other readings of one measure on a day; without a day, where it was read last.

        No values take away the newest readings; an older set's then hold again.
        """
        if date is None or not values:
            old = self.set_of(code) or (self.sets[-1] if self.sets else MeasureSet())
            if old not in self.sets:
                return self.with_set(old.with_readings(code, values)) if values else self
            index = self.sets.index(old)
            changed = old.with_readings(code, values)
            return self._with_sets(
                [*self.sets[:index], *([changed] if changed.readings else []), *self.sets[index + 1 :]]
            )
        same = next((one for one in self.sets if (one.date, one.origin) == (date, "tape")), None)
        over = self.sets[-1].over if self.sets and not self.sets[-1].from_size else ""
        fresh = MeasureSet(date=date, over=over if same is None else same.over, readings={code: tuple(values)})
        return self.with_set(fresh)

    def with_measure(self, code: str, mm: float | None, date: str | None = None) -> Person:
        """The person with one measure set, or its newest readings taken away when None."""
        return self.with_readings(code, () if mm is None else (mm,), date)

    def with_reading(self, code: str, mm: float, date: str) -> Person:
        """The person with one more reading of a measure on a day."""
        same = next((one for one in self.sets if (one.date, one.origin) == (date, "tape")), None)
        before = same.readings.get(code, ()) if same is not None else ()
        return self.with_readings(code, (*before, mm), date)

    def _with_sets(self, sets: Sequence[MeasureSet]) -> Person:
        current = self.model_copy(update={"sets": tuple(sets)})
        held = current.measures
        sure = {code: value for code, value in self.sure.items() if held.get(code) == value}
        return current.model_copy(update={"sure": sure})


def read_measure(code: str, text: str, unit: Unit) -> float:
    """A measure as typed: mm (kg for the weight). Raises :class:`InputError` with what was expected."""
    measure = MEASURES[code]
    if measure.kind == "weight":
        try:
            value = float(text.strip().lower().removesuffix("kg").replace(",", "."))
        except ValueError:
            raise InputError(
                say("“{text}” is not a weight; expected kilograms such as 62.5.", text=text.strip()[:40])
            ) from None
        if not 0 < value < 500:
            raise InputError(say("{label} must be more than 0 and less than 500 kg.", label=measure.label))
        return value
    value = parse_length(text, unit)
    if value <= 0:
        raise InputError(say("{label} must be more than 0; “{text}” is not.", label=measure.label, text=text.strip()))
    if value > BIGGEST_MM:
        raise InputError(
            say(
                "{label} of {value} is longer than any body; expected between {span}.",
                label=measure.label,
                value=Length(value),
                span=span(measure.code),
            )
        )
    if not measure.low / 3 <= value <= measure.high * 2.6:
        raise InputError(
            say(
                "{label} of {value} can't be a body's; expected between {span}.",
                label=measure.label,
                value=Length(value),
                span=span(measure.code),
            )
        )
    return value


def show_measure(code: str, value: float, unit: Unit, *, with_unit: bool = False) -> str:
    """A measure as it is read: a length in the unit, the weight in kg."""
    if MEASURES[code].kind == "weight":
        return f"{value:.1f}".removesuffix(".0") + (" kg" if with_unit else "")
    return format_length(value, unit, with_unit=with_unit)


def said_measure(code: str, value: float, *, bare: bool = False) -> Length | str:
    """A measure as an argument of a sentence: a length, or the weight in kg; ``bare`` leaves the unit out."""
    if MEASURES[code].kind == "weight":
        return show_measure(code, value, "cm", with_unit=not bare)
    return Length(value, bare=bare)


def span(code: str, height: float | None = None) -> Sentence:
    """The plausible range of a measure in words: ``44.0 and 160.0 cm``."""
    low, high = MEASURES[code].plausible(height)
    return say("{low} and {high}", low=said_measure(code, low, bare=True), high=said_measure(code, high))
