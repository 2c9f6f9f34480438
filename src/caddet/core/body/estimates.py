"""Estimates for measures that are missing, each marked as such wherever it is used.

Girths by linear fit on the 254 bodies of ``tests/data/bodies.csv`` (``scripts/fit-estimates`` makes
the numbers again); lengths by body proportion from height: common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.body.person import Person

# code: (share of height, usual error in mm)
_BY_HEIGHT: dict[str, tuple[float, float]] = {
    "waist_to_hip": (0.120, 12.0),
    "waist_to_knee": (0.355, 18.0),
    "waist_to_floor": (0.622, 22.0),
    "inside_leg": (0.465, 22.0),
    "nape_to_waist": (0.245, 14.0),
    "stride": (0.43, 60.0),
}

# code: (constant, {other measure: factor}, residual spread); mm, fitted on the 254 bodies
_BY_FIT: dict[str, list[tuple[float, dict[str, float], float]]] = {
    "hip": [(714.3, {"waist": 0.4327, "height": -0.0468}, 48.5), (652.8, {"waist": 0.4085}, 48.6)],
    "waist": [(-902.4, {"hip": 0.8647, "height": 0.4882}, 68.5), (-312.0, {"hip": 1.1180}, 80.4)],
}


@dataclass(frozen=True, slots=True)
class Estimate:
    """An estimated measure: value and usual error in mm, and from what."""

    code: str
    value: float
    error: float
    basis: str


def estimate(person: Person, code: str) -> Estimate | None:
    """The best estimate of a missing measure from those present, or None when nothing supports one."""
    have = person.measures
    for constant, factors, error in _BY_FIT.get(code, []):
        if all(other in have for other in factors):
            value = constant + sum(factor * have[other] for other, factor in factors.items())
            return Estimate(code, value, error, "fit on " + " and ".join(factors)) if value > 0 else None
    if code in _BY_HEIGHT and "height" in have:
        share, error = _BY_HEIGHT[code]
        return Estimate(code, share * have["height"], error, f"height × {share:g}")
    return None
