"""Doubts: measures that are probably slips, each with the sentence why."""

from __future__ import annotations

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, span
from caddet.core.errors import Finding
from caddet.core.lengths import Unit, format_length


def doubts(person: Person, unit: Unit = "cm") -> tuple[Finding, ...]:
    """Every doubt about a person's measures, at ``person.CODE``."""
    found = [doubt for code in person.measures if (doubt := _range_doubt(person, code, unit))]
    have = person.measures

    def both(a: str, b: str) -> bool:
        return a in have and b in have

    if both("waist", "hip") and have["waist"] > have["hip"]:
        found.append(
            Finding(
                "measure.waist_over_hip",
                f"The waist ({format_length(have['waist'], unit)}) is larger than the hip "
                f"({format_length(have['hip'], unit, with_unit=True)}). That happens; measure both again, level all "
                "round. The skirt will hang from the waist, without darts.",
                "person.hip",
            )
        )
    if both("under_bust", "bust") and have["under_bust"] > have["bust"]:
        found.append(
            Finding(
                "measure.under_bust",
                "The under-bust is larger than the bust: one of them slipped.",
                "person.under_bust",
            )
        )
    if both("waist_to_hip", "waist_to_floor") and have["waist_to_hip"] > 0.5 * have["waist_to_floor"]:
        found.append(
            Finding(
                "measure.hip_level",
                "The hip lies more than half-way from waist to floor: measure the waist-to-hip length again.",
                "person.waist_to_hip",
            )
        )
    return tuple(found)


def _range_doubt(person: Person, code: str, unit: Unit) -> Finding | None:
    measure = MEASURES[code]
    value = person.measures[code]
    if measure.low <= value <= measure.high or measure.kind == "weight":
        return None
    sentence = f"{measure.label} is outside what bodies are, between {span(code, unit)}."
    if measure.low <= value * 2.54 <= measure.high and value < measure.low:
        sentence += f" Was it read in inches? {value / 10:.4g} inches are {format_length(value * 2.54, 'cm')} cm."
    elif measure.low <= value / 2.54 <= measure.high and value > measure.high:
        sentence += f" Was it a reading in cm, typed as inches? It would be {format_length(value / 2.54, 'cm')} cm."
    elif measure.low <= value * 2 <= measure.high:
        sentence += " Is it a half measure?"
    return Finding("measure.range", sentence, f"person.{code}")
