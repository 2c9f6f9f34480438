"""Where the tape lies for each measure, on the figure as it stands for that measure. In mm, y down."""

from __future__ import annotations

from collections.abc import Callable

from caddet.core.body.figure import front, side
from caddet.core.body.figure.frame import Frame, ellipse, through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, unit

Tape = tuple[list[Path], list[Point]]  # the tape's paths, and its ends (none for one that goes round)
TICK = 13.0


def tape_for(frame: Frame, code: str) -> Tape:
    """The tape of one measure; the weight has none."""
    drawn = _TAPES.get(code)
    return drawn(frame) if drawn is not None else ([], [])


def _round(centre: Point, half: float, across: Point = 1 + 0j) -> Tape:
    """A tape round something: the near half of an ellipse seen a little from above."""
    left, right = centre - (half + 3) * across, centre + (half + 3) * across
    dip = half * 0.22 * across * 1j
    return [
        through(
            [
                left,
                centre + dip - across * half * 0.55 - dip * 0.28,
                centre + dip,
                centre + dip + across * half * 0.55 - dip * 0.28,
                right,
            ]
        )
    ], []


def _line(points: list[Point]) -> Tape:
    path = Path.polyline(points) if len(points) == 2 else through(points)
    return [path, _tick(points[0], points[1]), _tick(points[-1], points[-2])], [points[0], points[-1]]


def _tick(at: Point, towards: Point) -> Path:
    across = unit(towards - at) * 1j * TICK
    return Path.polyline([at - across, at + across])


def _level(code: str, level: str = "", share: float = 1.0) -> Callable[[Frame], Tape]:
    return lambda f: _round(complex(0, f.levels[level or code]), f.half_width(code) * share)


def _leg(code: str) -> Callable[[Frame], Tape]:
    return lambda f: _round(complex(f.leg_x, f.levels[code]), f.radius(code) * 1.04)


def _on_arm(code: str, index: int, more: float = 1.0) -> Callable[[Frame], Tape]:
    def drawn(f: Frame) -> Tape:
        axis = front.arm_axis(f)
        way = unit(axis[index + 1][0] - axis[index - 1][0])
        return _round(axis[index][0], axis[index][1] * more, way * -1j)

    return drawn


def _hip_side(f: Frame) -> Tape:
    ahead, behind = side.profile(f)
    left, right = behind[7].real, ahead[7].real
    return _round(complex((left + right) / 2, f.levels["hip"]), (right - left) / 2)


def _largest(f: Frame) -> Tape:
    """Round the fullest place, seen from the side."""
    fullest = max(("bust", "waist", "hip"), key=lambda code: f[code])
    if fullest == "hip":
        return _hip_side(f)
    level = f.levels[fullest]
    left, right = (min(points, key=lambda p: abs(p.imag - level)).real for points in reversed(side.profile(f)))
    return _round(complex((left + right) / 2, level), (right - left) / 2)


def _calf_side(f: Frame) -> Tape:
    return _round(complex(-0.006 * f.height, f.levels["calf"]), f.radius("calf") * 1.08)


def _elbow(f: Frame) -> Tape:
    _, elbow, wrist, _ = side.arm_joints(f)
    way = unit(wrist - elbow)
    return _round(elbow + way * 0.04 * f.height, f.radius("elbow"), way * -1j)


def _armscye(f: Frame) -> Tape:
    tip = front.shoulder_point(f)
    low = f.levels["armpit"] + 0.008 * f.height
    centre = complex(tip.real - 0.02 * f.height, (tip.imag + low) / 2)
    return [ellipse(centre, 0.022 * f.height, (low - tip.imag) / 2 + 6)], []


def _torso(f: Frame) -> Tape:
    top = (front.neck_point(f) + front.shoulder_point(f)) / 2
    return [through([top, complex(top.real * 1.02, f.levels["armpit"]), complex(0.6 * top.real, f.levels["waist"]),
                     complex(0.28 * top.real, f.levels["hip"]), complex(0, f.levels["crotch"])])], []  # fmt: skip


def _shoulder(f: Frame) -> Tape:
    return _line([front.neck_point(f), front.shoulder_point(f)])


def _across_shoulders(f: Frame) -> Tape:
    tip = front.shoulder_point(f)
    return _line([complex(-tip.real, tip.imag), complex(0, tip.imag - 0.006 * f.height), tip])


def _across(code: str) -> Callable[[Frame], Tape]:
    def drawn(f: Frame) -> Tape:
        y = (f.levels["shoulder"] + f.levels["armpit"]) / 2
        half = min(f[code] / 2, 0.52 * f["across_shoulders"])
        return _line([complex(-half, y), complex(half, y)])

    return drawn


def _bust_span(f: Frame) -> Tape:
    return _line([complex(-f["bust_span"] / 2, f.levels["bust"]), complex(f["bust_span"] / 2, f.levels["bust"])])


def _elbow_to_elbow(f: Frame) -> Tape:
    axis = front.arm_axis(f, out=True)
    elbow = axis[3][0] - axis[3][1] * 0.5j
    tip, base = front.shoulder_point(f), front.neck_point(f)
    half = [complex(0, f.levels["nape"] + 0.004 * f.height), base + 0.008j * f.height, tip - 0.006j * f.height, elbow]
    return _line([*(complex(-p.real, p.imag) for p in reversed(half[1:])), *half])


def _hand_width(f: Frame) -> Tape:
    at, half = front.arm_axis(f)[8]
    way = unit(front.arm_axis(f)[9][0] - at) * 1j
    return _line([at - way * half, at + way * half])


def _hand_length(f: Frame) -> Tape:
    axis = front.arm_axis(f)
    way = unit(axis[10][0] - axis[6][0])
    return _line([axis[6][0], axis[6][0] + way * f["hand_length"]])


def _bust_point(f: Frame) -> Point:
    return complex(f["bust_span"] / 2, f.levels["bust"])


def _front_length(f: Frame) -> Tape:
    bust = _bust_point(f)
    return _line([front.neck_point(f), bust, complex(0.9 * bust.real, f.levels["waist"])])


def _down_side(level: str, start: str = "waist") -> Callable[[Frame], Tape]:
    def drawn(f: Frame) -> Tape:
        return _line([complex(0.008 * f.height, f.levels[start]), complex(0.008 * f.height, f.levels[level])])

    return drawn


def _waist_to_knee(f: Frame) -> Tape:
    return _line([complex(0.8 * f.leg_x, f.levels["waist"]), complex(f.leg_x, f.levels["knee"])])


def _body_rise(f: Frame) -> Tape:
    seat = side.seat_level(f)
    return _line([complex(0.008 * f.height, seat - f["body_rise"]), complex(0.008 * f.height, seat)])


def _crotch_length(f: Frame) -> Tape:
    ahead, behind = side.profile(f)
    points = [*ahead[5:9], complex(-0.1 * f.half_depth("hip"), f.levels["crotch"]), *reversed(behind[5:9])]
    return _line(points)


def _arm_length(f: Frame) -> Tape:
    shoulder, elbow, wrist, _ = side.arm_joints(f)
    back = complex(-f.radius("upper_arm"), 0)
    return _line(
        [
            shoulder - 0.8j * f.radius("upper_arm"),
            (shoulder + elbow) / 2 + back * 0.55,
            elbow + back * 0.75 + 0.3j * f.radius("elbow"),
            (elbow + wrist) / 2 + 0.55j * f.radius("elbow"),
            wrist,
        ]
    )


def _upper_arm_length(f: Frame) -> Tape:
    shoulder, elbow, _, _ = side.arm_joints(f)
    back = complex(-f.radius("upper_arm"), 0)
    return _line(
        [
            shoulder - 0.8j * f.radius("upper_arm"),
            (shoulder + elbow) / 2 + back * 0.55,
            elbow + back * 0.75 + 0.3j * f.radius("elbow"),
        ]
    )


def _shoulder_drop(f: Frame) -> Tape:
    base, tip = front.neck_point(f), front.shoulder_point(f)
    corner = complex(tip.real, base.imag)
    paths, ends = _line([corner, tip])
    return [Path.polyline([base, corner]), *paths], ends


def _stride(f: Frame) -> Tape:
    _, _, heel, toe = side.stepping(f)
    return _line([heel + 14j, toe + 14j])


def _stance(f: Frame) -> Tape:
    _, _, heel, toe = side.stepping(f)
    return _round((heel + toe) / 2 + complex(0, f.levels["calf"]), abs(toe - heel) * 0.4)


def _height(f: Frame) -> Tape:
    x = -(max(f.half_width("hip"), f["across_shoulders"] / 2) + 0.12 * f.height)
    return _line([complex(x, f.levels["crown"]), complex(x, 0)])


_TAPES: dict[str, Callable[[Frame], Tape]] = {
    "height": _height,
    "head": lambda f: _round(complex(0, f.levels["crown"] + 0.36 * (f.levels["chin"] - f.levels["crown"])), f["head"] / 7.3),
    "neck": lambda f: _round(complex(0, f.levels["neck_point"] + 0.004 * f.height), 0.19 * f["neck"]),
    "upper_bust": _level("upper_bust", share=0.9), "bust": _level("bust", share=0.96), "under_bust": _level("under_bust"),
    "waist": _level("waist"), "high_hip": _level("high_hip"), "hip": _hip_side, "largest_girth": _largest,
    "thigh": _leg("thigh"), "knee": _leg("knee"), "calf": _calf_side, "ankle": _leg("ankle"),
    "armscye": _armscye, "upper_arm": _on_arm("upper_arm", 2), "elbow": _elbow, "wrist": _on_arm("wrist", 6),
    "hand": _on_arm("hand", 8, 1.12), "torso": _torso, "shoulder": _shoulder, "across_shoulders": _across_shoulders,
    "across_front": _across("across_front"), "across_back": _across("across_back"), "bust_span": _bust_span,
    "elbow_to_elbow": _elbow_to_elbow, "hand_width": _hand_width, "hand_length": _hand_length,
    "nape_to_waist": lambda f: _line([complex(0, f.levels["nape"]), complex(0, f.levels["waist"])]),
    "shoulder_to_waist_front": _front_length,
    "shoulder_to_bust": lambda f: _line([front.neck_point(f), _bust_point(f)]),
    "scye_depth": lambda f: _line([complex(0, f.levels["nape"]), complex(0, f.levels["armpit"])]),
    "waist_to_high_hip": _down_side("high_hip"), "waist_to_hip": _down_side("hip"), "waist_to_floor": _down_side("floor"),
    "waist_to_knee": _waist_to_knee,
    "inside_leg": lambda f: _line([complex(0, f.levels["crotch"]), complex(0, 0)]),
    "body_rise": _body_rise, "crotch_length": _crotch_length, "arm_length": _arm_length,
    "shoulder_to_elbow": _upper_arm_length, "shoulder_drop": _shoulder_drop, "stride": _stride, "stance_round": _stance,
}  # fmt: skip
CLOSE = {"head": 0.5, "hand": 0.3, "hand_width": 0.3, "hand_length": 0.34, "wrist": 0.34}  # share of the height shown
