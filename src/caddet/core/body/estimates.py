"""Estimates for measures that are missing, each marked as such wherever it is used.

Where the body data covers the measure and the person, by regression: means and covariances of the
logarithms of eleven measures of 254 adults (``data/estimates.json``, made by ``scripts/fit-estimates``)
give the regression on whatever was measured, in closed form. Elsewhere by proportion, from height and
build: common practice, no source. ``docs/estimates.md`` states the errors.
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.files.shipped import shipped_text


@dataclass(frozen=True, slots=True)
class _Rule:
    """A measure as a sum of others: (measure, factor) pairs and ``more`` mm; ``error`` is a share of the sum.

    Those in ``chained`` may themselves be estimates; the others have to be measured.
    """

    terms: tuple[tuple[str, float], ...]
    error: float
    more: float = 0.0
    chained: tuple[str, ...] = ()


# What follows from others. Common practice, no source, but for what ``docs/estimates.md`` says of the balance.
_DIRECT: dict[str, _Rule] = {
    "upper_bust": _Rule((("bust", 0.962),), 0.035),
    "under_bust": _Rule((("bust", 0.875),), 0.045),
    "high_hip": _Rule((("waist", 0.38), ("hip", 0.62)), 0.035),
    "body_rise": _Rule((("waist_to_floor", 1.0), ("inside_leg", -1.0)), 0.03),
    "inside_leg": _Rule((("waist_to_floor", 1.0), ("body_rise", -1.0)), 0.025),
    "waist_to_high_hip": _Rule((("waist_to_hip", 0.48),), 0.12),
    "shoulder_to_elbow": _Rule((("arm_length", 0.575),), 0.03),
    "arm_length": _Rule((("shoulder_to_elbow", 1.74),), 0.03),
    # the front is longer from the neck point by 1 cm, more with the cup; the nape lies a fifteenth of the neck lower
    "shoulder_to_waist_front": _Rule(
        (("nape_to_waist", 1.0), ("neck", 1 / 15), ("bust", 0.25), ("under_bust", -0.25)),
        0.035,
        -20.0,
        ("nape_to_waist", "neck", "under_bust"),
    ),
    "nape_to_waist": _Rule((("shoulder_to_waist_front", 1.0), ("neck", -1 / 15)), 0.035, -10.0, ("neck",)),
    "across_back": _Rule((("across_shoulders", 0.9),), 0.05),
    "across_front": _Rule((("across_back", 0.93),), 0.04),
    "crotch_length": _Rule((("body_rise", 2.0), ("hip", 0.139)), 0.03, 0.0, ("body_rise",)),
    "torso": _Rule((("nape_to_waist", 1.0), ("shoulder_to_waist_front", 1.0), ("crotch_length", 1.0)), 0.03, 45.0),
    "armscye": _Rule((("bust", 0.442),), 0.06),
    "shoulder": _Rule((("across_shoulders", 0.315),), 0.06),
    "hand": _Rule((("hand_width", 2.55),), 0.06),
    # the widest stance is wider than a step, and the tape goes there and back
    "stance_round": _Rule((("stride", 2.3),), 0.15),
}
_SHARES = {
    "waist_to_floor": 0.62,
    "inside_leg": 0.457,
    "arm_length": 0.343,
    "nape_to_waist": 0.244,
    "waist_to_knee": 0.345,
}  # of the height; common practice, no source
_ERRORS = {"length": 0.045, "width": 0.065, "girth": 0.07, "weight": 0.18}
_OWN_ERRORS = {"height": 0.03, "head": 0.03, "stride": 0.14, "shoulder_drop": 0.25, "waist_to_hip": 0.08,
               "bust_span": 0.09, "scye_depth": 0.06, "crotch_length": 0.07, "waist_to_high_hip": 0.14}  # fmt: skip
_BUILD = ("bust", "waist", "hip", "upper_bust", "under_bust", "high_hip", "thigh")


@dataclass(frozen=True, slots=True)
class Estimate:
    """An estimated measure: value and usual error (one standard deviation) in mm, and from what."""

    code: str
    value: float
    error: float
    basis: str


@lru_cache(maxsize=1)
def body_data() -> dict[str, Any]:
    """The shipped regression: ``names``, ``mean``, ``covariance`` (of logarithms of mm and kg), ``range``."""
    text = shipped_text("estimates.json")
    data: dict[str, Any] = json.loads(text)
    return data


@lru_cache(maxsize=1)
def _mean_and_covariance() -> tuple[np.ndarray, np.ndarray]:
    data = body_data()
    return np.array(data["mean"]), np.array(data["covariance"])


def estimate(person: Person, code: str) -> Estimate | None:
    """The best estimate of a measure from the others that were measured, or None when nothing supports one.

    A value that is there for the code itself is left out, so that it can be held against the estimate.
    """
    have = person.measures
    return estimate_from(tuple(sorted((other, value) for other, value in have.items() if other != code)), code)


@lru_cache(maxsize=4096)
def estimate_from(have: tuple[tuple[str, float], ...], code: str) -> Estimate | None:
    """:func:`estimate` from sorted pairs of code and mm."""
    known = dict(have)
    if not known:
        return None
    return _direct(known, code) or _by_regression(known, code) or _by_proportion(known, code)


def _direct(known: Mapping[str, float], code: str) -> Estimate | None:
    if code == "largest_girth":
        return _largest(known)
    rule = _DIRECT.get(code)
    if rule is None:
        return None
    value = rule.more
    for other, factor in rule.terms:
        one = known.get(other)
        if one is None and other in rule.chained:
            guess = _guessed(known, other, code)
            one = None if guess is None else guess.value
        if one is None:
            return None
        value += one * factor
    low, high = MEASURES[code].plausible(known.get("height"))
    if not 0.8 * low <= value <= 1.25 * high:
        return None
    error = rule.error * (1.4 if any(other not in known for other, _ in rule.terms) else 1.0)
    return Estimate(code, value, value * error, _listed([other for other, _ in rule.terms if other in known]))


def _largest(known: Mapping[str, float]) -> Estimate | None:
    """The largest of the girths that were taken, when the tape went round at two places at least."""
    taken = [code for code in ("bust", "waist", "high_hip", "hip") if code in known]
    if len(taken) < 2:
        return None
    largest = max(taken, key=lambda code: known[code])
    return Estimate("largest_girth", known[largest], known[largest] * 0.015, _listed([largest]))


def _guessed(known: Mapping[str, float], code: str, for_: str) -> Estimate | None:
    """An estimate that another is built on; never from that other."""
    rule = _DIRECT.get(code)
    simple = (
        None if rule is None or rule.chained or any(other == for_ for other, _ in rule.terms) else _direct(known, code)
    )
    return simple or _by_regression(known, code) or _by_proportion(known, code)


def _by_regression(known: Mapping[str, float], code: str) -> Estimate | None:
    data = body_data()
    names: list[str] = data["names"]
    if code not in names:
        return None
    used = [name for name in names if name in known and name != code]
    ranges = data["range"]
    grown = [name for name in used if name not in ("ankle", "wrist")]
    if not used or any(not ranges[name][0] * 0.92 <= known[name] for name in grown):
        return None  # a child's body: the data is of adults
    mean, cov = _mean_and_covariance()
    rows = [names.index(name) for name in used]
    target = names.index(code)
    weights = np.linalg.solve(cov[np.ix_(rows, rows)], cov[rows, target])
    off = np.log([known[name] for name in used]) - mean[rows]
    value = math.exp(mean[target] + float(weights @ off))
    error = math.sqrt(max(float(cov[target, target] - weights @ cov[rows, target]), 1e-8))
    beyond = any(known[name] > ranges[name][1] * 1.06 for name in used)
    return Estimate(code, value, value * error * (1.6 if beyond else 1.0), _listed(used))


def _by_proportion(known: Mapping[str, float], code: str) -> Estimate | None:
    height = known.get("height") or _height(known)
    if height is None:
        return None
    if code == "height":
        used = [name for name in _SHARES if name in known]
        return Estimate(code, height, height * _OWN_ERRORS["height"], _listed(used)) if used else None
    measure = MEASURES[code]
    builds = [known[name] / MEASURES[name].usual(height) for name in _BUILD if name in known and name != code]
    build = math.exp(sum(math.log(one) for one in builds) / len(builds)) if builds else 1.0
    value = measure.usual(height) * min(max(build, 0.5), 2.2) ** measure.build
    error = _OWN_ERRORS.get(code, _ERRORS[measure.kind])
    if not builds:
        error = math.hypot(error, 0.14 * measure.build)
    if "height" not in known:
        error = math.hypot(error, _OWN_ERRORS["height"])
    basis = "height" if "height" in known else "the lengths"
    return Estimate(code, value, value * error, f"{basis} and build" if builds and measure.build else basis)


def _height(known: Mapping[str, float]) -> float | None:
    found = [known[name] / share for name, share in _SHARES.items() if name in known]
    return sum(found) / len(found) if found else None


def _listed(codes: list[str]) -> str:
    names = [MEASURES[code].label.lower().removesuffix(" girth") for code in codes]
    if len(names) > 3:
        return f"{', '.join(names[:2])} and {len(names) - 2} more"
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
