"""The frame of a figure: heights, half widths and half depths of a body, from its measures. In mm, y down.

What was not measured is estimated; without any measure the frame is that of a body of 168 cm. A section
is taken as an ellipse (Ramanujan's formula for its girth) of a common flatness. Common practice, no source.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from caddet.core.body.estimates import estimate
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Point, unit

USUAL_HEIGHT = 1680.0
FLATNESS = {
    "head": 0.8,
    "bust": 1.4,
    "upper_bust": 1.45,
    "under_bust": 1.42,
    "waist": 1.36,
    "high_hip": 1.42,
    "hip": 1.4,
}  # width over depth


@dataclass(frozen=True, slots=True)
class Frame:
    """Levels above the floor (negative: y is down), girths and lengths of one body."""

    values: dict[str, float]
    levels: dict[str, float]

    @property
    def height(self) -> float:
        """The height of the crown over the floor, in mm."""
        return -self.levels["crown"]

    def __getitem__(self, code: str) -> float:
        """A measure in mm."""
        return self.values[code]

    def half_width(self, code: str) -> float:
        """Half the width of a section seen from the front."""
        return half_width(self.values[code], FLATNESS.get(code, 1.0))

    def half_depth(self, code: str) -> float:
        """Half the depth of a section seen from the side."""
        return self.half_width(code) / FLATNESS.get(code, 1.0)

    def radius(self, code: str) -> float:
        """The radius of a round limb."""
        return self.values[code] / math.tau

    @property
    def leg_x(self) -> float:
        """How far the middle of a leg stands from the middle of the body."""
        return max(self.half_width("hip") - self.radius("thigh"), 0.8 * self.radius("thigh"))


def frame_of(person: Person) -> Frame:
    """The frame of a person."""
    have = dict(person.measures)
    base = Person.of(person.name, have or {"height": USUAL_HEIGHT})
    values: dict[str, float] = {}
    for code, measure in MEASURES.items():
        value = have.get(code)
        if value is None:
            guess = estimate(base, code)
            height = have.get("height", USUAL_HEIGHT)
            value = guess.value if guess is not None else measure.usual(height)
        values[code] = value
    return Frame(values, _levels(values))


def _levels(v: dict[str, float]) -> dict[str, float]:
    height = v["height"]
    waist = -min(max(v["waist_to_floor"], 0.5 * height), 0.72 * height)
    nape = max(waist - 0.98 * v["nape_to_waist"], -0.92 * height)
    head = min(0.40 * v["head"], height + nape - 0.002 * height)
    crotch = -min(max(v["inside_leg"], 0.3 * height), -waist - 0.08 * height)
    hip = min(waist + v["waist_to_hip"], crotch - 0.03 * height)
    knee = min(max(waist + v["waist_to_knee"], 0.55 * crotch), 0.7 * crotch)
    neck_point = nape + 0.008 * height
    bust = min(neck_point + 0.94 * v["shoulder_to_bust"], waist - 0.08 * height)
    return {
        "crown": -height, "chin": -height + head, "nape": nape, "neck_point": neck_point,
        "shoulder": neck_point + v["shoulder_drop"], "armpit": min(nape + v["scye_depth"], bust + 0.02 * height),
        "bust": bust, "upper_bust": (nape + v["scye_depth"] + bust) / 2 - 0.02 * height,
        "under_bust": bust + 0.36 * (waist - bust), "waist": waist,
        "high_hip": waist + min(v["waist_to_high_hip"], 0.8 * (hip - waist)), "hip": hip, "crotch": crotch,
        "thigh": crotch + 0.035 * height, "knee": knee, "calf": 0.7 * knee, "ankle": -0.045 * height, "floor": 0.0,
    }  # fmt: skip


def half_width(girth: float, flatness: float = 1.4) -> float:
    """Half the width of an ellipse of that girth (Ramanujan's formula)."""
    a, b = flatness, 1.0
    around = math.pi * (3 * (a + b) - math.sqrt((3 * a + b) * (a + 3 * b)))
    return girth / around * a


def through(points: list[Point], *, closed: bool = False) -> Path:
    """A smooth path through points (Catmull-Rom as cubics)."""
    padded = [points[-1], *points, points[0], points[1]] if closed else [points[0], *points, points[-1]]
    return Path(
        tuple(
            Cubic(a, a + (b - before) / 6, b - (after - a) / 6, b)
            for before, a, b, after in zip(padded, padded[1:], padded[2:], padded[3:], strict=False)
        )
    )


def ellipse(centre: Point, rx: float, ry: float) -> Path:
    """A whole ellipse."""
    k = 0.5522847498
    points = [centre + d for d in (rx, ry * 1j, -rx, -ry * 1j)]
    handles = [ry * k * 1j, -rx * k, -ry * k * 1j, rx * k]
    return Path(
        tuple(
            Cubic(points[i], points[i] + handles[i], points[(i + 1) % 4] - handles[(i + 1) % 4], points[(i + 1) % 4])
            for i in range(4)
        )
    )


def tube(axis: list[tuple[Point, float]]) -> Path:
    """A closed smooth outline round a line of middle points with half widths."""
    left: list[Point] = []
    right: list[Point] = []
    for i, (at, half) in enumerate(axis):
        before, after = axis[max(i - 1, 0)][0], axis[min(i + 1, len(axis) - 1)][0]
        across = unit(after - before) * 1j
        left.append(at - across * half)
        right.append(at + across * half)
    first, last = axis[0], axis[-1]
    out = unit(last[0] - axis[-2][0]) * last[1] * 0.8
    back = unit(first[0] - axis[1][0]) * first[1] * 0.6
    return through([*left, last[0] + out, *reversed(right), first[0] + back], closed=True)
