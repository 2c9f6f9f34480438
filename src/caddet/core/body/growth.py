"""Growth: how much a growing wearer will gain, and until about when a garment fits. In mm and months.

Two schools. **By the chart**: the average height by age gives the gain in height for this age (or, when
the birth month is not known, for the age at which this height is average); every other measure gains
what its usual value gains with that height. **The plain rule**: an inch here and there, whatever the age.
Charts are averages of many children; no one child follows them. Heights by age are the middle of girls
and boys, from memory of the common growth charts.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person

# years: average height in cm, girls and boys together; from memory of the common growth charts
CHART: tuple[tuple[float, float], ...] = (
    (1, 75), (2, 87), (3, 95.5), (4, 102.5), (5, 109.5), (6, 115.5), (7, 121.5), (8, 127.5), (9, 133), (10, 138.5),
    (11, 144), (12, 150), (13, 156.5), (14, 162), (15, 166), (16, 168.5), (17, 169.5), (18, 170),
)  # fmt: skip
GROWN_MONTHS = 18 * 12
INCH = 25.4
SMALL = ("head", "neck", "ankle", "wrist", "hand", "hand_width", "hand_length", "elbow", "knee", "calf", "upper_arm",
         "shoulder", "shoulder_drop", "bust_span", "across_front", "across_back", "waist_to_high_hip", "scye_depth",
         "armscye")  # fmt: skip
AVERAGES = "Charts are averages of many children; measure again before you cut."


@dataclass(frozen=True, slots=True)
class Gain:
    """What one measure is expected to gain, in mm, and how many months that lasts on the chart."""

    code: str
    now: float
    gain: float
    months_lasting: int


def average_height(months: float) -> float:
    """The average height at an age in months, in mm."""
    years = min(max(months / 12, CHART[0][0]), CHART[-1][0])
    index = min(max(bisect_right([age for age, _ in CHART], years) - 1, 0), len(CHART) - 2)
    (a, low), (b, high) = CHART[index], CHART[index + 1]
    return 10 * (low + (high - low) * (years - a) / (b - a))


def age_by_height(height: float) -> float:
    """The age in months at which a height in mm is average."""
    months = 12.0
    while months < GROWN_MONTHS and average_height(months) < height:
        months += 0.25
    return months


def age(person: Person) -> float | None:
    """The age in months when the height was taken: from the birth month, else by the height. None if unknown."""
    taken = person.set_of("height")
    if person.born and taken is not None and taken.date:
        born, then = (12 * int(text[:4]) + int(text[5:7]) for text in (person.born, taken.date))
        return float(max(then - born, 0))
    height = person.measures.get("height")
    return None if height is None else age_by_height(height)


def height_after(person: Person, months: float) -> float | None:
    """The expected height in mm after some months: the chart's gain, in proportion to this person's height."""
    height, years = person.measures.get("height"), age(person)
    if height is None or years is None:
        return None
    return height * average_height(years + months) / average_height(years)


def still_grows(person: Person) -> bool:
    """Whether the chart expects any growth: under eighteen by birth month, or of a child's height."""
    years = age(person)
    if years is None:
        return False
    return years < GROWN_MONTHS and (bool(person.born) or person.measures["height"] < 1450)


def chart_gain(person: Person, code: str, months: float) -> float:
    """What a measure gains by the chart in some months, in mm; 0 when the height is not known."""
    after, height = height_after(person, months), person.measures.get("height")
    if after is None or height is None or MEASURES[code].kind == "weight":
        return 0.0
    if code == "height":
        return after - height
    now = person.measures.get(code, MEASURES[code].usual(height))
    return now * (MEASURES[code].usual(after) / MEASURES[code].usual(height) - 1)


def allowance(person: Person, code: str) -> float:
    """What the garment allows for growth at one measure, in mm, by the person's school."""
    if (
        not person.growth.months
        or not still_grows(person)
        or MEASURES[code].kind == "weight"
        or code in ("stride", "stance_round")
    ):
        return 0.0
    if person.growth.school == "inch":
        return INCH / 4 if code in SMALL else INCH
    return chart_gain(person, code, person.growth.months)


def months_lasting(person: Person, code: str, gain: float) -> int:
    """After how many months the chart has used up a gain in mm (at most until grown, and 120)."""
    months = 0
    while months < 120 and chart_gain(person, code, months + 1) <= gain + 1e-6:
        months += 1
    return months


def gains(person: Person, codes: tuple[str, ...]) -> tuple[Gain, ...]:
    """The gain of each of the measures that are there."""
    have = person.measures
    found = []
    for code in codes:
        if code in have and (gain := allowance(person, code)) > 0:
            found.append(Gain(code, have[code], gain, months_lasting(person, code, gain)))
    return tuple(found)


def fits_until(person: Person, codes: tuple[str, ...]) -> str:
    """The month (YYYY-MM) until which the allowances last, counted from the day of measuring; "" if unknown."""
    taken = person.set_of("height")
    soonest = [gain.months_lasting for gain in gains(person, codes)]
    if taken is None or not taken.date or not soonest:
        return ""
    months = 12 * int(taken.date[:4]) + int(taken.date[5:7]) - 1 + min(soonest)
    return f"{months // 12:04d}-{months % 12 + 1:02d}"
