"""The figure that shows where the tape goes: drawn by Caddet in the person's own proportions.

A front view. Half widths come from girths (a body's section taken as an ellipse about 1.35 times as
wide as deep: common practice, no source); heights from lengths, both estimated where missing.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from caddet.core.body.estimates import estimate
from caddet.core.body.person import Person
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Motion, Point

FLATNESS = 1.35  # width over depth of a section
# shares of the height, from the floor up; common proportions, no source
_SHARES = {
    "crown": 1.0, "chin": 0.87, "neck": 0.845, "shoulder": 0.82, "bust": 0.725, "under_bust": 0.69, "waist": 0.622,
    "high_hip": 0.565, "hip": 0.505, "crotch": 0.465, "thigh": 0.44, "knee": 0.275, "calf": 0.19, "ankle": 0.045,
}  # fmt: skip
_GIRTHS = {
    "head": 0.335, "neck": 0.215, "bust": 0.55, "under_bust": 0.47, "waist": 0.45, "high_hip": 0.53, "hip": 0.585,
    "thigh": 0.335, "knee": 0.215, "calf": 0.21, "ankle": 0.13, "upper_arm": 0.165, "wrist": 0.095,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class FigureDrawing:
    """The outlines of the figure, and for each measure the tape's path and its ends. In mm, y down."""

    outlines: tuple[Path, ...]
    tapes: dict[str, tuple[Path, ...]]
    height: float


def draw_figure(person: Person) -> FigureDrawing:
    """The figure of a person, standing on y = 0."""
    have = dict(person.measures)
    height = have.get("height", 1680.0)

    def girth(code: str) -> float:
        value = have.get(code)
        if value is None and (guess := estimate(person, code)) is not None:
            value = guess.value
        return value if value is not None else _GIRTHS[code] * height

    levels = {name: -share * height for name, share in _SHARES.items()}
    if "waist_to_floor" in have:
        levels["waist"] = -have["waist_to_floor"]
    if "waist_to_hip" in have:
        levels["hip"] = levels["waist"] + have["waist_to_hip"]
        levels["high_hip"] = (levels["waist"] + levels["hip"]) / 2
        levels["crotch"] = max(levels["crotch"], levels["hip"] + 0.03 * height)
    if "waist_to_knee" in have:
        levels["knee"] = levels["waist"] + have["waist_to_knee"]

    def half(code: str) -> float:
        return half_width(girth(code))

    def limb(code: str) -> float:
        return girth(code) / math.tau

    shoulder = have.get("across_shoulders", 0.235 * height) / 2
    hip_half, waist_half, bust_half = half("hip"), half("waist"), half("bust") * 0.96
    neck, leg_x, top = limb("neck") * 0.95, hip_half * 0.5, levels["shoulder"]
    right = [
        complex(neck * 0.96, levels["chin"] - 0.01 * height), complex(neck, levels["neck"] - 0.004 * height),
        complex(neck * 1.45, levels["neck"] + 0.011 * height), complex(shoulder * 0.8, top + 0.002 * height),
        complex(shoulder, top + 0.026 * height), complex(shoulder * 0.96, top + 0.062 * height),
        complex(bust_half, levels["bust"]), complex(waist_half, levels["waist"]),
        complex((waist_half + 2 * hip_half) / 3, (levels["waist"] + levels["hip"]) / 2), complex(hip_half, levels["hip"]),
        complex(leg_x + limb("thigh"), levels["thigh"] + 0.02 * height),
        complex(leg_x + limb("knee") * 1.02, levels["knee"]), complex(leg_x + limb("calf") * 1.08, levels["calf"]),
        complex(leg_x + limb("ankle"), levels["ankle"] - 0.01 * height),
        complex(leg_x + limb("ankle") * 1.9, -0.012 * height), complex(leg_x + limb("ankle") * 1.2, 0),
        complex(leg_x - limb("ankle") * 0.7, 0), complex(leg_x - limb("ankle") * 0.9, levels["ankle"] - 0.01 * height),
        complex(leg_x - limb("calf") * 0.85, levels["calf"]), complex(leg_x - limb("knee") * 0.9, levels["knee"]),
        complex(min(6.0, leg_x * 0.1), levels["crotch"] + 0.012 * height), complex(0, levels["crotch"]),
    ]  # fmt: skip
    mirror = Motion.reflection(0j, 1j)
    side = through(right)
    body = Path((*side.segments, *side.moved(mirror).reversed().segments))
    head = _ellipse(complex(0, (levels["crown"] + levels["chin"]) / 2), limb("head") * 0.9,
                    (levels["chin"] - levels["crown"]) / 2)  # fmt: skip
    arm = _arm(shoulder, top + 0.02 * height, height, limb("upper_arm"), limb("wrist"))
    outlines = [arm, arm.moved(mirror), body, head]
    tapes = _tapes(person, levels, half, limb, shoulder, leg_x, height)
    return FigureDrawing(tuple(outlines), tapes, height)


def half_width(girth: float) -> float:
    """Half the width seen from the front of a section with that girth (ellipse, Ramanujan's formula)."""
    a, b = FLATNESS, 1.0
    around = math.pi * (3 * (a + b) - math.sqrt((3 * a + b) * (a + 3 * b)))
    return girth / around * a


def through(points: list[Point]) -> Path:
    """A smooth path through points (Catmull-Rom as cubics)."""
    segments = []
    padded = [points[0], *points, points[-1]]
    for before, a, b, after in zip(padded, padded[1:], padded[2:], padded[3:], strict=False):
        segments.append(Cubic(a, a + (b - before) / 6, b - (after - a) / 6, b))
    return Path(tuple(segments))


def _ellipse(centre: Point, rx: float, ry: float) -> Path:
    k = 0.5522847498
    points = [centre + d for d in (rx, ry * 1j, -rx, -ry * 1j)]
    handles = [ry * k * 1j, -rx * k, -ry * k * 1j, rx * k]
    segments = []
    for i in range(4):
        a, b = points[i], points[(i + 1) % 4]
        segments.append(Cubic(a, a + handles[i], b - handles[(i + 1) % 4], b))
    return Path(tuple(segments))


def _arm(x: float, y: float, height: float, upper: float, wrist: float) -> Path:
    """The right arm, hanging a little away from the body, closed behind the shoulder."""
    lean = 0.05 * height

    def at(share: float, off: float) -> Point:
        return complex(x + lean * share * 1.6 - upper * 0.4 + off, y + 0.43 * height * share)

    return through([
        complex(x * 0.86, y - 0.012 * height), at(0.1, upper * 1.02), at(0.3, upper * 1.0), at(0.46, upper * 0.84),
        at(0.62, upper * 0.8), at(0.84, wrist * 1.05), at(0.92, wrist * 1.4), at(1.0, wrist * 0.7), at(1.02, 0),
        at(0.96, -wrist * 0.8), at(0.84, -wrist * 1.0), at(0.62, -upper * 0.72), at(0.46, -upper * 0.76),
        at(0.25, -upper * 0.9), complex(x * 0.84, y + 0.07 * height),
    ])  # fmt: skip


def _round(centre: Point, half: float) -> tuple[Path, ...]:
    """A tape round the body: the near half of an ellipse seen a little from above."""
    dip = half * 0.16
    left, right = centre - half - 3, centre + half + 3
    return (Path((Cubic(left, left + dip * 1.4j, right + dip * 1.4j, right),)),)


def _upright(x: float, top: float, bottom: float) -> tuple[Path, ...]:
    tick = 14.0
    a, b = complex(x, top), complex(x, bottom)
    return (Path.polyline([a, b]), Path.polyline([a - tick, a + tick]), Path.polyline([b - tick, b + tick]))


def _tapes(
    person: Person,
    levels: dict[str, float],
    half: Callable[[str], float],
    limb: Callable[[str], float],
    shoulder: float,
    leg_x: float,
    height: float,
) -> dict[str, tuple[Path, ...]]:
    tapes: dict[str, tuple[Path, ...]] = {}
    tapes["neck"] = _round(complex(0, levels["neck"]), limb("neck") * 1.1)
    for code in ("bust", "under_bust", "waist", "high_hip", "hip"):
        tapes[code] = _round(complex(0, levels[code]), half(code))
    tapes["upper_bust"] = _round(complex(0, levels["bust"] - 0.045 * height), half("bust") * 0.94)
    tapes["head"] = _round(complex(0, levels["crown"] + 0.055 * height), limb("head") * 0.9)
    for code in ("thigh", "knee", "calf", "ankle"):
        tapes[code] = _round(complex(leg_x, levels[code]), limb(code))
    far = half("hip") + 0.05 * height
    tapes["height"] = _upright(-far - 0.16 * height, -height, 0)
    tapes["waist_to_floor"] = _upright(far, levels["waist"], 0)
    tapes["waist_to_hip"] = _upright(half("hip") + 12, levels["waist"], levels["hip"])
    tapes["waist_to_high_hip"] = _upright(half("hip") + 12, levels["waist"], levels["high_hip"])
    tapes["waist_to_knee"] = _upright(leg_x, levels["waist"], levels["knee"])
    tapes["inside_leg"] = _upright(0, levels["crotch"], 0)
    tapes["body_rise"] = _upright(far, levels["waist"], levels["crotch"])
    tapes["nape_to_waist"] = _upright(0, levels["neck"], levels["waist"])
    tapes["shoulder_to_waist_front"] = _upright(limb("neck"), levels["neck"], levels["waist"])
    tapes["shoulder_to_bust"] = _upright(limb("neck"), levels["neck"], levels["bust"])
    across = complex(0, levels["shoulder"])
    tapes["across_shoulders"] = (Path.polyline([across - shoulder, across + shoulder]),)
    stride = person.measures.get("stride", 0.43 * height)
    tapes["stride"] = (Path.polyline([complex(-stride / 2, 10), complex(stride / 2, 10)]),
                       Path.polyline([complex(-stride / 2, -12), complex(-stride / 2, 32)]),
                       Path.polyline([complex(stride / 2, -12), complex(stride / 2, 32)]))  # fmt: skip
    return tapes
