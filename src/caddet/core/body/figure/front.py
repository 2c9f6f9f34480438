"""The figure from the front and from the back, arms hanging or held out. In mm, y down, standing on 0."""

from __future__ import annotations

import cmath

from caddet.core.body.figure.frame import Frame, ellipse, through, tube
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point

_MIRROR = Motion.reflection(0j, 1j)


def shoulder_point(frame: Frame) -> Point:
    """Where the shoulder ends, on the right of the picture."""
    return complex(frame["across_shoulders"] / 2, frame.levels["shoulder"])


def neck_point(frame: Frame) -> Point:
    """Where neck and shoulder meet, on the right of the picture."""
    return complex(0.19 * frame["neck"], frame.levels["neck_point"])


def arm_axis(frame: Frame, *, out: bool = False) -> list[tuple[Point, float]]:
    """The middle line of the arm on the right, with half widths, from the shoulder to the fingertips."""
    start = shoulder_point(frame) + complex(-0.9 * frame.radius("upper_arm"), 0.75 * frame.radius("upper_arm"))
    way = cmath.exp(1j * (0.03 if out else 1.43))
    length, upper, wrist = 0.96 * frame["arm_length"], frame.radius("upper_arm"), frame.radius("wrist")
    hand, palm = frame["hand_length"], frame["hand_width"] / 2
    axis = [
        (0.02, upper * 0.8),
        (0.16, upper * 1.02),
        (0.36, upper),
        (0.55, upper * 0.82),
        (0.66, upper * 0.84),
        (0.86, wrist * 1.2),
        (1.0, wrist * 1.08),
    ]
    found = [(start + way * length * share, half) for share, half in axis]
    end = start + way * length
    return [
        *found,
        (end + way * hand * 0.3, palm * 0.86),
        (end + way * hand * 0.52, palm),
        (end + way * hand * 0.8, palm * 0.78),
        (end + way * hand * 0.97, palm * 0.34),
    ]


def outlines(frame: Frame, *, out: bool = False) -> list[Path]:
    """Filled outlines from the back one to the front one: arms, hands, body, head."""
    axis = arm_axis(frame, out=out)
    arms = [tube(axis)]
    arms += [part.moved(_MIRROR) for part in arms]
    side = through(_half(frame, out))
    body = Path((*side.segments, *side.moved(_MIRROR).reversed().segments))
    head = ellipse(
        complex(0, (frame.levels["crown"] + frame.levels["chin"]) / 2),
        0.94 * frame["head"] / 6.9,
        (frame.levels["chin"] - frame.levels["crown"]) / 2,
    )
    return [*arms, body, head]


def _half(frame: Frame, out: bool) -> list[Point]:
    """The right half of the body's outline, from the chin down to the crotch."""
    at, height = frame.levels, frame.height
    neck, leg = 0.166 * frame["neck"], frame.leg_x
    bust, waist, hip = frame.half_width("bust") * 0.96, frame.half_width("waist"), frame.half_width("hip")
    tip, base = shoulder_point(frame), neck_point(frame)
    lift = -0.25 * frame["shoulder_drop"] if out else 0.0
    thigh, knee, calf, ankle = (frame.radius(code) for code in ("thigh", "knee", "calf", "ankle"))
    high = (frame.half_width("high_hip") + 0.3 * hip + 0.7 * frame.half_width("high_hip")) / 2
    return [
        complex(neck * 0.98, at["chin"] - 0.012 * height), complex(neck, (at["chin"] + at["neck_point"]) / 2),
        base, 0.5 * base + 0.5 * tip + 0.005j * height,
        complex(0.9 * tip.real, tip.imag + lift + 0.001 * height), complex(tip.real, tip.imag + 0.022 * height),
        complex(tip.real * 0.99, tip.imag + 0.55 * (at["armpit"] - tip.imag)),
        complex(0.5 * (bust + tip.real), at["armpit"]) if bust < tip.real else complex(bust * 0.97, at["armpit"]),
        complex(bust, at["bust"] + 0.008 * height), complex(frame.half_width("under_bust"), at["under_bust"]),
        complex(waist, at["waist"]), complex(high, at["high_hip"]), complex(hip, at["hip"]),
        complex(leg + thigh * 0.98, at["thigh"] + 0.03 * height),
        complex(leg + knee * 1.06, at["knee"]), complex(leg + calf * 1.06, at["calf"]),
        complex(leg + ankle, at["ankle"]), complex(leg + ankle * 1.9, -0.014 * height), complex(leg + ankle * 1.3, 0),
        complex(leg - ankle * 0.7, 0), complex(leg - ankle * 0.86, at["ankle"]), complex(leg - calf * 0.86, at["calf"]),
        complex(leg - knee * 0.9, at["knee"]), complex(max(leg - thigh * 0.99, 2.0), at["thigh"]),
        complex(0, at["crotch"]),
    ]  # fmt: skip


def details(frame: Frame, *, back: bool) -> list[Path]:
    """Light lines that tell front from back."""
    at, height = frame.levels, frame.height
    base, hip = neck_point(frame), frame.half_width("hip")
    if back:
        blade = complex(0.42 * frame["across_back"], at["armpit"] - 0.03 * height)
        seat = at["hip"] + 0.42 * (at["crotch"] - at["hip"])
        cheek = through(
            [
                complex(0.06 * hip, seat + 0.01 * height),
                complex(0.45 * hip, seat + 0.028 * height),
                complex(0.8 * hip, seat + 0.006 * height),
            ]
        )
        lines = [
            through(
                [
                    blade * 1,
                    blade + complex(-0.02 * height, 0.035 * height),
                    blade + complex(-0.05 * height, 0.045 * height),
                ]
            ),
            cheek,
        ]
        middle = [Path.polyline([complex(0, at["nape"] + 0.006 * height), complex(0, at["waist"])])]
        return [*lines, *(line.moved(_MIRROR) for line in lines), *middle]
    collar = through(
        [
            complex(0.05 * frame["neck"], at["neck_point"] + 0.026 * height),
            base + complex(0.04 * height, 0.026 * height),
        ]
    )
    curve = frame["bust_span"] / 2
    depth = (0.42 if frame["bust"] - frame["under_bust"] > 0.13 * frame["bust"] else 0.16) * curve
    chest = through(
        [
            complex(0.28 * curve, at["bust"] + 0.55 * depth),
            complex(curve, at["bust"] + depth),
            complex(min(1.72 * curve, 0.9 * frame.half_width("bust")), at["bust"] + 0.2 * depth),
        ]
    )
    lines = [collar, chest]
    return [*lines, *(line.moved(_MIRROR) for line in lines)]
