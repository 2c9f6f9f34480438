"""Two sets of readings of one person side by side. In mm."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.body.readings import differ


@dataclass(frozen=True, slots=True)
class Change:
    """One measure then and now, in mm (kg for the weight); None where it was not taken."""

    code: str
    then: float | None
    now: float | None

    @property
    def difference(self) -> float | None:
        """Now less then, in mm; None when it was not measured both times."""
        return None if self.then is None or self.now is None else self.now - self.then

    @property
    def matters(self) -> bool:
        """Whether it is more than what two readings of one body may differ."""
        return self.then is not None and self.now is not None and differ((self.then, self.now))


def compare(person: Person, first: int, second: int) -> tuple[Change, ...]:
    """What two of a person's sets say, by their indices, in the order of the catalogue."""
    then, now = person.sets[first], person.sets[second]
    return tuple(
        Change(code, then.value(code), now.value(code))
        for code in MEASURES
        if code in then.readings or code in now.readings
    )


def at_set(person: Person, index: int) -> Person:
    """The person as they were known when that set had been taken, to be drawn."""
    return person.model_copy(update={"sets": person.sets[: index + 1]})
