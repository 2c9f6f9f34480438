"""Ease: what a garment is larger than the body (or smaller, in a cloth that stretches), per level. In mm.

It comes from how it should fit and from the cloth. Negative ease is kept to half of what the cloth
stretches, unless the user says otherwise. Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from caddet.core.recipe.choices import Cloth
from caddet.core.sentences import Length, Sentence, say


@dataclass(frozen=True, slots=True)
class EaseLevel:
    """A level at which ease is given: name, label, default in mm for the whole round, and the measure.

    ``share`` is added as a share of the measure; a negative one takes from a cloth that stretches. ``parts`` is in how
    many equal parts the level is drafted; 0 means four for the girths of the trunk, and one for all others.
    """

    level: str
    label: str
    default: float
    measure: str
    share: float = 0.0
    parts: int = 0

    def shared(self, ease: float) -> Sentence:
        """How an ease in mm lies in the pieces: on each quarter, or all in one."""
        parts = self.parts or (4 if self.measure in TRUNK else 1)
        if parts == 4:
            return say("{quarter} on each quarter", quarter=Length(ease / 4))
        return say("{ease} in all", ease=Length(ease))


TRUNK = ("bust", "upper_bust", "under_bust", "waist", "high_hip", "hip", "largest_girth")


@dataclass(frozen=True, slots=True)
class Fit:
    """A way of fitting: per level the ease in mm and as a share of the measure."""

    name: str
    label: str
    why: str
    levels: Mapping[str, tuple[float, float]]


def _fit(name: str, label: str, why: str, **levels: tuple[float, float]) -> Fit:
    return Fit(name, label, why, MappingProxyType(levels))


FITS: dict[str, Fit] = {
    fit.name: fit
    for fit in (
        _fit("fitted_woven", "Fitted, woven", say("Close to the body; about {2 cm} more on each quarter, so that one can breathe."),
             bust=(80, 0), waist=(40, 0), hip=(50, 0), upper_arm=(50, 0), neck=(10, 0), thigh=(60, 0), wrist=(40, 0)),
        _fit("loose_woven", "Loose, woven", "Room to lift the arms and bend: 5 inches all round, as for a child's or a dance dress.",
             bust=(127, 0), waist=(127, 0), hip=(127, 0), upper_arm=(100, 0), neck=(20, 0), thigh=(140, 0), wrist=(60, 0)),
        _fit("jacket", "Jacket, over clothes", "Goes over what is worn below; measure over that, or take this.",
             bust=(160, 0), waist=(150, 0), hip=(130, 0), upper_arm=(100, 0), neck=(30, 0), thigh=(120, 0), wrist=(70, 0)),
        _fit("knit_relaxed", "Knit, relaxed", "A knit gives by itself: a little ease is much.",
             bust=(60, 0), waist=(60, 0), hip=(40, 0), upper_arm=(40, 0), neck=(10, 0), thigh=(40, 0), wrist=(20, 0)),
        _fit("knit_close", "Knit, close", "Cut a little smaller than the body; the cloth has to stretch.",
             bust=(0, -.05), waist=(0, -.05), hip=(0, -.05), upper_arm=(0, -.03), neck=(0, 0), thigh=(0, -.06), wrist=(0, -.03)),
        _fit("swim", "Swim", "Cut smaller than the body all over, so that it stays when wet.",
             bust=(0, -.12), waist=(0, -.12), hip=(0, -.12), upper_arm=(0, -.08), neck=(0, 0), thigh=(0, -.12),
             wrist=(0, -.08), torso=(0, -.1)),
    )
}  # fmt: skip


def least_ease(measure: float, stretch: float) -> float:
    """The most negative ease in mm that uses half of a cloth's stretch (a share)."""
    used = stretch / 2
    return -measure * used / (1 + used)


def usual_ease(level: EaseLevel, fit: str, measure: float, cloth: Cloth) -> float:
    """The ease in mm that a fit (or, without one, the block) proposes at a level on this cloth."""
    base, share = level.default, level.share
    if fit in FITS and level.level in FITS[fit].levels:
        base, share = FITS[fit].levels[level.level]
    ease = base + share * measure
    return max(ease, least_ease(measure, cloth.stretch)) if ease < 0 else ease


def stretch_remark(level: EaseLevel, ease: float, measure: float, cloth: Cloth) -> tuple[str, bool]:
    """What is wrong with a negative ease on this cloth: a sentence ("" when nothing), and whether it can't be worn."""
    if ease >= 0 or measure <= 0:
        return "", False
    finished = measure + ease
    if finished <= 0:
        return say("{label}: the ease takes away more than the whole girth.", label=level.label), True
    needed = measure / finished - 1
    size = Length(finished)
    if needed > cloth.stretch + 1e-9:
        return (
            say(
                "{label}: at {size} it must stretch by {needed} to go round, and {name} gives {stretch}. It can't be put on; take less off, or a cloth that stretches more.",
                label=level.label,
                size=size,
                needed=f"{needed:.0%}",
                name=cloth.name,
                stretch=f"{cloth.stretch:.0%}",
            )
        ), True
    if needed > cloth.stretch / 2 + 1e-9:
        return (
            say(
                "{label}: at {size} it uses {needed} of the {stretch} that {name} stretches. More than half is tight, strains the seams and tires the cloth.",
                label=level.label,
                size=size,
                needed=f"{needed:.0%}",
                stretch=f"{cloth.stretch:.0%}",
                name=cloth.name,
            )
        ), False
    return "", False


def take_for_stretch(amount: float, stretch: float) -> tuple[float, float]:
    """A length or width wanted on the body, as cut from a cloth that stretches: exact, and by the quick rule.

    Exact: ÷ (1 + stretch). Quick, as sewists do it: × (1 − stretch). In mm.
    """
    return amount / (1 + stretch), amount * (1 - stretch)
