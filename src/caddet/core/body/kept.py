"""What is kept about a person besides measures: garments that fit them, and what is always changed for them."""

from __future__ import annotations

import re

from pydantic import BaseModel, ConfigDict, Field

from caddet.core.body.measures import MEASURES
from caddet.core.body.readings import Code
from caddet.core.errors import InputError, some
from caddet.core.lengths import Unit, parse_length
from caddet.core.sentences import say

LONGEST_TYPED = 1000  # letters


class Liked(BaseModel):
    """A garment that fits as it should: its finished girths all round where it was measured, measure code to mm."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    name: str = Field(min_length=1, max_length=80)
    girths: dict[Code, float] = Field(min_length=1)


class Adjustment(BaseModel):
    """What is always changed for somebody: what, by how much (mm), and why."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    what: str = Field(min_length=1, max_length=80)
    amount: float = Field(ge=-500, le=500)
    reason: str = Field(default="", max_length=300)


def read_liked(text: str, unit: Unit) -> Liked:
    """A garment as typed: ``grey trousers: hip 104, thigh 66``, all round. Raises :class:`InputError` with what was expected."""
    name, colon, rest = " ".join(text.split())[:LONGEST_TYPED].partition(":")
    if not colon or not name.strip():
        raise InputError("Expected a name, a colon and girths all round, such as “grey trousers: hip 104, thigh 66”.")
    girths = {}
    for part in filter(None, (one.strip() for one in rest.split(","))):
        found = re.match(r"([A-Za-z_ -]+?)\s+(\d.*)$", part)
        code = _girth(found[1]) if found else None
        if found is None or code is None:
            known = some(
                (m.label.removesuffix(" girth").lower() for m in MEASURES.values() if m.kind == "girth"), part, 12
            )
            raise InputError(
                say("“{part}” is no girth; expected one of {known}, and a length.", part=part[:40], known=known)
            )
        value = parse_length(found[2], unit)
        if not MEASURES[code].low / 2 <= value <= MEASURES[code].high * 1.6:
            raise InputError(
                say(
                    "{label} of {found} can't be a garment's, all round.",
                    label=MEASURES[code].label,
                    found=found[2][:20],
                )
            )
        girths[code] = value
    if not girths:
        raise InputError(say("No girth of {name} is given; expected such as “hip 104”.", name=name.strip()[:40]))
    return Liked(name=name.strip()[:80], girths=girths)


def _girth(words: str) -> str | None:
    plain = words.strip().lower().replace("_", " ").removesuffix(" girth")
    return next(
        (
            code
            for code, one in MEASURES.items()
            if one.kind == "girth" and plain in (code.replace("_", " "), one.label.lower().removesuffix(" girth"))
        ),
        None,
    )


def read_adjustment(text: str, unit: Unit) -> Adjustment:
    """A change as typed: ``left shoulder lower: 1, an old break``. Raises :class:`InputError` with what was expected."""
    what, colon, rest = text.partition(":")
    amount, _, reason = rest.partition(",")
    if not colon or not what.strip() or not amount.strip():
        raise InputError("Expected what, a colon and by how much, such as “torso longer: 2, since always”.")
    value = parse_length(amount.strip().lstrip("+-"), unit)
    value = -value if amount.strip().startswith("-") else value
    if abs(value) > 500:
        raise InputError(say("More than {50 cm} is no change of a body; expected a few centimetres."))
    return Adjustment(what=what.strip()[:80], amount=value, reason=reason.strip()[:300])
