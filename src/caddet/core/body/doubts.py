"""Doubts: measures that are probably slips, each with the sentence why and what would mend it.

A doubt refuses nothing. A value that is right all the same is marked as sure and not doubted again.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from caddet.core.body.estimates import estimate
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, said_measure, span
from caddet.core.body.readings import differ, median, spread
from caddet.core.errors import Finding
from caddet.core.sentences import Length, say

INCH = 2.54
# a reading may be a slip when it was read in the other unit, in half, or doubled: factor and what to say
_SLIPS = (
    (INCH, "Was it read in inches? {was} inches are {now}."),
    (1 / INCH, "Was it a reading in cm, written as inches? Then it is {now}."),
    (2.0, "Is it a half measure? The whole would be {now}."),
    (0.5, "Was it doubled? The half would be {now}."),
    (10.0, "Has a nought gone missing? Then it is {now}."),
    (0.1, "Is it a reading in mm? Then it is {now}."),
)
_FAR = 4.5  # usual errors from the estimate at which a value is a surprise
_SMALLEST_FAR = 0.2  # and at least this share


@dataclass(frozen=True, slots=True)
class Fix:
    """A ready change of one measure: what it says and the new value in mm (None takes it away)."""

    label: str
    code: str
    value: float | None


@dataclass(frozen=True, slots=True)
class Doubt:
    """A doubt about one measure, with the fixes that would settle it, the likeliest first."""

    kind: str
    code: str
    sentence: str
    fixes: tuple[Fix, ...] = ()

    @property
    def finding(self) -> Finding:
        """The doubt as a finding at the measure."""
        return Finding(f"measure.{self.kind}", self.sentence, f"person.{self.code}")


def doubts(person: Person) -> tuple[Doubt, ...]:
    """Every doubt about the present measures, without those the user is sure of."""
    have = person.measures
    found: list[Doubt] = []
    for code, value in have.items():
        if person.sure.get(code) == value or (source := person.set_of(code)) is None or source.from_size:
            continue
        doubt = _range_doubt(person, code, value) or _surprise(person, code, value)
        if doubt is not None:
            found.append(doubt)
        values = source.readings[code]
        if len(values) > 1 and differ(values):
            found.append(_spread_doubt(code, values))
    flagged = {doubt.code for doubt in found}
    found += [d for d in _contradictions(have) if person.sure.get(d.code) != have[d.code] and d.code not in flagged]
    return tuple(found)


def _range_doubt(person: Person, code: str, value: float) -> Doubt | None:
    measure = MEASURES[code]
    height = person.measures.get("height")
    low, high = measure.low, measure.high
    if height is not None and MEASURES["height"].low <= height <= MEASURES["height"].high:
        low, high = measure.plausible(height)
    else:
        height = None
    if low <= value <= high:
        return None
    of_whom = (
        "what bodies are"
        if height is None
        else say("what is usual at a height of {show}", show=said_measure("height", height))
    )
    sentence = say(
        "{label} is outside {of_whom}, between {span}.",
        label=measure.label,
        of_whom=of_whom,
        span=span(code, height),
    )
    return _with_slip(person, code, value, low, high, sentence, "range")


def _surprise(person: Person, code: str, value: float) -> Doubt | None:
    """A value far from what at least two others let expect, that a slip would explain."""
    if len(person.measures) < 3 or code in ("stride", "stance_round"):
        return None
    guess = estimate(person, code)
    if guess is None:
        return None
    far = max(_FAR * guess.error, _SMALLEST_FAR * guess.value)
    if abs(value - guess.value) <= far:
        return None
    near = max(2.2 * guess.error, 0.06 * guess.value)
    doubt = _with_slip(
        person,
        code,
        value,
        guess.value - near,
        guess.value + near,
        say(
            "{label} is far from what the other measures let expect, about {show}.",
            label=MEASURES[code].label,
            show=said_measure(code, guess.value),
        ),
        "surprise",
    )
    return doubt if doubt.fixes else None


def _with_slip(person: Person, code: str, value: float, low: float, high: float, sentence: str, kind: str) -> Doubt:
    """The doubt with the slip that fits best, if one does."""
    if MEASURES[code].kind == "weight":
        pounds = value * 0.45359237
        if low <= pounds <= high:
            fix = Fix(say("It was in pounds: {show}", show=said_measure(code, pounds)), code, round(pounds, 1))
            return Doubt(kind, code, say("{sentence} Was it in pounds?", sentence=sentence), (fix,))
        return Doubt(kind, code, sentence)
    guess = estimate(person, code)
    centre = guess.value if guess is not None else (low * high) ** 0.5
    fitting = [
        (abs(value * factor / centre - 1), factor, words) for factor, words in _SLIPS if low <= value * factor <= high
    ]
    if not fitting:
        return Doubt(kind, code, sentence)
    _, factor, words = min(fitting)
    fixed = round(value * factor, 4)
    now = Length(fixed)
    asked = say(words, was=f"{value / 10:.4g}", now=now)
    return Doubt(
        kind,
        code,
        say("{sentence} {asked}", sentence=sentence, asked=asked),
        (Fix(say("Take it as {now}", now=now), code, fixed),),
    )


def _spread_doubt(code: str, values: tuple[float, ...]) -> Doubt:
    apart, middle = said_measure(code, spread(values)), median(values)
    furthest = max(values, key=lambda value: abs(value - middle))
    rest = [value for value in values if value != furthest]
    fixes = (
        (Fix(say("Leave out {reading}", reading=said_measure(code, furthest)), code, median(rest)),)
        if len(values) > 2 and rest
        else ()
    )
    return Doubt(
        "spread",
        code,
        say(
            "The readings of the {label} lie {apart} apart; the middle one is used, {show}. Read it once more.",
            label=MEASURES[code].label.lower(),
            apart=apart,
            show=said_measure(code, middle),
        ),
        fixes,
    )


# (larger, smaller, share, sentence): the first should be at least the second times the share
_AT_LEAST: tuple[tuple[str, str, float, str], ...] = (
    ("bust", "under_bust", 1.0, "The under-bust is larger than the bust: one of them slipped."),
    ("bust", "upper_bust", 0.9, "The upper bust is much larger than the bust: one of them slipped."),
    ("waist_to_hip", "waist_to_high_hip", 1.05, "The high hip can't lie below the hip."),
    ("waist_to_floor", "waist_to_knee", 1.3, "The knee lies too near the floor for that waist-to-knee length."),
    ("waist_to_floor", "inside_leg", 1.1, "The inside leg can't be as long as from waist to floor."),
    ("waist_to_floor", "waist_to_hip", 2.0, "The hip lies more than half-way from waist to floor: measure it again."),
    ("height", "waist_to_floor", 1.4, "The waist lies too high for that height."),
    ("arm_length", "shoulder_to_elbow", 1.3, "The elbow lies too near the wrist for that arm length."),
    ("upper_arm", "wrist", 1.1, "The wrist is nearly as large as the upper arm."),
    ("thigh", "knee", 1.0, "The knee is larger than the thigh."),
    ("calf", "ankle", 1.05, "The ankle is nearly as large as the calf."),
    ("hand", "wrist", 1.0, "The wrist is larger than the hand round the knuckles."),
    ("hand", "hand_width", 1.8, "The hand is too narrow round for its width."),
    ("nape_to_waist", "scye_depth", 1.4, "The armpit lies too near the waist for that scye depth."),
    ("shoulder_to_waist_front", "shoulder_to_bust", 1.2, "The bust point lies too near the waist."),
    ("across_shoulders", "across_back", 0.92, "The back is wider across the arm folds than the shoulders are."),
    ("across_shoulders", "shoulder", 2.2, "The shoulder length is more than half of across the shoulders."),
    ("bust", "bust_span", 3.2, "The bust points lie too far apart for that bust."),
)


def _contradictions(have: Mapping[str, float]) -> list[Doubt]:
    found = [
        Doubt("contradiction", smaller, sentence)
        for larger, smaller, share, sentence in _AT_LEAST
        if larger in have and smaller in have and have[larger] < have[smaller] * share
    ]

    def there(*codes: str) -> bool:
        return all(code in have for code in codes)

    if there("waist", "hip") and have["waist"] > have["hip"]:
        found.append(
            Doubt(
                "waist_over_hip",
                "hip",
                say(
                    "The waist ({waist}) is larger than the hip ({show}). That happens; measure both again, level all round. A skirt will hang from the waist, without darts.",
                    waist=Length(have["waist"], bare=True),
                    show=said_measure("hip", have["hip"]),
                ),
            )
        )
    if there("inside_leg", "body_rise", "waist_to_floor"):
        off = have["inside_leg"] + have["body_rise"] - have["waist_to_floor"]
        if abs(off) > 50:
            found.append(
                Doubt(
                    "contradiction",
                    "body_rise",
                    say(
                        "Inside leg and body rise together are {show} {words} than from waist to floor: one of the three slipped.",
                        show=said_measure("body_rise", abs(off)),
                        words="more" if off > 0 else "less",
                    ),
                )
            )
    if there("shoulder", "neck", "across_shoulders"):
        off = 2 * have["shoulder"] + 0.36 * have["neck"] - have["across_shoulders"]
        if abs(off) > 55:
            found.append(
                Doubt(
                    "contradiction",
                    "shoulder",
                    say(
                        "Two shoulders and the neck between them come out {show} {words} than across the shoulders: one of the three slipped.",
                        show=said_measure("shoulder", abs(off)),
                        words="wider" if off > 0 else "narrower",
                    ),
                )
            )
    if there("nape_to_waist", "shoulder_to_waist_front"):
        off = have["shoulder_to_waist_front"] - have["nape_to_waist"]
        if not -60 <= off <= 110:
            found.append(
                Doubt(
                    "contradiction",
                    "shoulder_to_waist_front",
                    say(
                        "Front and back length differ by {show}: look whether the waist tape is level.",
                        show=said_measure("nape_to_waist", abs(off)),
                    ),
                )
            )
    return found
