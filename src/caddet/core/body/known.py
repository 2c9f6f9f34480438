"""What is known of a measure when something is drafted: measured, from a size, or estimated; with growth."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from caddet.core.body.estimates import Estimate, estimate_from
from caddet.core.body.growth import allowance
from caddet.core.body.person import Person


@dataclass(frozen=True, slots=True)
class KnownMeasure:
    """A measure as a draft uses it, in mm: ``value`` holds the ``growth`` already.

    ``guess`` is set when the measure was not taken; for a value of a size table its error is 0.
    """

    code: str
    value: float
    growth: float = 0.0
    guess: Estimate | None = None


def known_measure(person: Person, code: str) -> KnownMeasure | None:
    """The measure to draft with, or None when nothing supports even an estimate."""
    return known_measures(person, (code,))[code]


def known_measures(person: Person, codes: Iterable[str]) -> dict[str, KnownMeasure | None]:
    """Of each measure what :func:`known_measure` tells; the readings are gone through once for all of them."""
    have = person.measures
    pairs = tuple(sorted(have.items()))
    return {code: _known(person, code, have.get(code), pairs) for code in codes}


def _known(person: Person, code: str, value: float | None, have: tuple[tuple[str, float], ...]) -> KnownMeasure | None:
    guess: Estimate | None = None
    if value is None:
        guess = estimate_from(have, code)
        if guess is None:
            return None
        value = guess.value
    else:
        source = person.set_of(code)
        if source is not None and source.from_size:
            guess = Estimate(code, value, 0.0, source.origin)
    more = allowance(person, code) if person.growth.months else 0.0
    return KnownMeasure(code, value + more, more, guess)
