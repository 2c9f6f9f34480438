"""The figure from the side, facing right: standing with a bent arm, sitting, or taking a long step. In mm."""

from __future__ import annotations

import math

import shapely

from caddet.core.body.figure.frame import Frame, through, tube
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point

# how far front and back stand from the middle, as shares of the half depth
_FRONT = {"upper_bust": 0.95, "bust": 1.12, "under_bust": 1.0, "waist": 0.98, "high_hip": 1.02, "hip": 0.82}
_BACK = {"upper_bust": 1.12, "bust": 1.0, "under_bust": 0.96, "waist": 0.88, "high_hip": 0.98, "hip": 1.16}


def profile(frame: Frame) -> tuple[list[Point], list[Point]]:
    """The front from chin to crotch and the back from nape to seat, of the standing trunk."""
    at, height = frame.levels, frame.height
    neck = 0.15 * frame["neck"]
    codes = ("upper_bust", "bust", "under_bust", "waist", "high_hip", "hip")
    front = [complex(frame.half_depth(code) * _FRONT[code], at[code]) for code in codes]
    back = [complex(-frame.half_depth(code) * _BACK[code], at[code]) for code in codes]
    front = [
        complex(neck * 1.25, at["chin"] - 0.012 * height),
        complex(neck * 1.05, at["neck_point"] + 0.012 * height),
        *front,
        complex(0.5 * front[-1].real, at["crotch"] - 0.012 * height),
    ]
    back = [
        complex(-neck * 0.9, at["chin"] - 0.03 * height),
        complex(-neck * 1.25, at["nape"]),
        *back,
        complex(0.72 * back[-1].real, at["crotch"] + 0.006 * height),
    ]
    return front, back


def head(frame: Frame) -> Path:
    """The head from the side: an egg, faceless as a form's, a little ahead of the neck."""
    at = frame.levels
    tall, deep = at["chin"] - at["crown"], frame["head"] / 3.05
    shape = [(0.02, 0.0), (0.32, 0.09), (0.45, 0.3), (0.46, 0.52), (0.4, 0.76), (0.27, 0.95), (0.1, 1.0), (-0.12, 0.96),
             (-0.34, 0.8), (-0.46, 0.57), (-0.46, 0.3), (-0.28, 0.08)]  # fmt: skip
    middle = 0.012 * frame.height
    return through([complex(middle + x * deep, at["crown"] + y * tall) for x, y in shape], closed=True)


def leg(frame: Frame, hip: Point, knee: Point, ankle: Point) -> list[Path]:
    """A leg through its joints, with its foot."""
    thigh, girth, calf, thin = (frame.radius(code) for code in ("thigh", "knee", "calf", "ankle"))
    shin = ankle - knee
    upper = knee - hip
    foot = 0.15 * frame.height
    return [
        tube([(hip + upper * 0.05, thigh * 1.02), (hip + upper * 0.35, thigh), (hip + upper * 0.7, thigh * 0.84),
              (knee, girth), (knee + shin * 0.3 - 0.012 * frame.height, calf), (knee + shin * 0.65, calf * 0.8),
              (ankle, thin)]),
        through([ankle + complex(-thin * 1.1, -0.01 * frame.height), ankle + complex(thin, -0.004 * frame.height),
                 ankle + complex(0.6 * foot, 0.028 * frame.height), ankle + complex(0.78 * foot, 0.045 * frame.height),
                 ankle + complex(-thin * 1.2, 0.045 * frame.height)], closed=True),
    ]  # fmt: skip


def arm_joints(frame: Frame) -> tuple[Point, Point, Point, Point]:
    """Shoulder, elbow, wrist and fingertip of the bent arm."""
    shoulder = complex(-0.004 * frame.height, frame.levels["shoulder"] + 0.8 * frame.radius("upper_arm"))
    upper = 0.94 * frame["shoulder_to_elbow"]
    elbow = shoulder + upper * complex(-0.16, 0.987)
    lower = 0.94 * max(frame["arm_length"] - frame["shoulder_to_elbow"], 0.3 * frame["arm_length"])
    way = complex(0.78, 0.626)
    return shoulder, elbow, elbow + lower * way, elbow + (lower + frame["hand_length"]) * way


def arm(frame: Frame) -> Path:
    """The bent arm."""
    shoulder, elbow, wrist, tip = arm_joints(frame)
    upper, bend, thin = frame.radius("upper_arm"), frame.radius("elbow"), frame.radius("wrist")
    return tube([(shoulder, upper * 0.9), (shoulder + (elbow - shoulder) * 0.4, upper), (shoulder + (elbow - shoulder) * 0.8, upper * 0.86),
                 (elbow + (wrist - elbow) * 0.06, bend * 0.95), (elbow + (wrist - elbow) * 0.4, bend * 0.9), (wrist, thin),
                 (wrist + (tip - wrist) * 0.5, thin * 1.15), (tip, thin * 0.4)])  # fmt: skip


def _trunk(frame: Frame) -> Path:
    front, back = profile(frame)
    return through([*front, *reversed(back)], closed=True)


def _one(parts: list[Path], above: float | None = None) -> list[Path]:
    """Several outlines as one, cut off below a level when one is given."""
    whole = shapely.unary_union(
        [shapely.Polygon([(p.real, p.imag) for p in part.flattened(0.3)]).buffer(0) for part in parts]
    )
    if above is not None:
        left, top, right, _ = whole.bounds
        whole = whole.intersection(shapely.box(left, top, right, above))
    shapes = getattr(whole, "geoms", [whole])
    return [Path.polyline([complex(x, y) for x, y in shape.exterior.coords]) for shape in shapes if not shape.is_empty]


def standing(frame: Frame, *, bent_arm: bool) -> tuple[list[Path], list[Path]]:
    """Filled outlines and light lines of the standing figure; the arm is filled when it is measured."""
    at = frame.levels
    hip = complex(-0.1 * frame.half_depth("hip"), at["hip"] + 0.2 * (at["crotch"] - at["hip"]))
    knee, ankle = complex(0.004 * frame.height, at["knee"]), complex(-0.012 * frame.height, at["ankle"])
    body = _one([*leg(frame, hip, knee, ankle), _trunk(frame), head(frame)])
    return ([*body, arm(frame)], []) if bent_arm else (body, [_hanging(frame)])


def _hanging(frame: Frame) -> Path:
    """The arm that hangs at the side, to be drawn lightly so that it hides nothing."""
    shoulder, _, _, _ = arm_joints(frame)
    upper, thin, long = frame.radius("upper_arm"), frame.radius("wrist"), 0.94 * frame["arm_length"]
    wrist = shoulder + long * complex(0.02, 1)
    return tube(
        [
            (shoulder, upper * 0.9),
            (shoulder + 0.3j * long, upper),
            (shoulder + long * complex(-0.02, 0.58), upper * 0.8),
            (wrist, thin),
            (wrist + 0.5j * frame["hand_length"], thin * 1.15),
            (wrist + 0.97j * frame["hand_length"], thin * 0.5),
        ]
    )


def seat_level(frame: Frame) -> float:
    """How high the chair is, so that the sole rests on the floor."""
    return frame.levels["knee"] + frame.radius("thigh")


def sitting(frame: Frame) -> tuple[list[Path], list[Path]]:
    """On a flat chair; the trunk keeps its rise above the seat."""
    down = Motion.translation(complex(0, seat_level(frame) - (frame.levels["waist"] + frame["body_rise"])))
    hip = complex(0, seat_level(frame) - frame.radius("thigh"))
    knee = complex(0.92 * (frame.levels["knee"] - frame.levels["hip"]), hip.imag)
    ankle = complex(knee.real, frame.levels["ankle"])
    seat = seat_level(frame)
    deep = 0.24 * frame.height
    chair = Path.polyline(
        [
            complex(-0.1 * frame.height, seat),
            complex(-0.1 * frame.height + deep, seat),
            complex(-0.1 * frame.height + deep, 0),
            complex(-0.1 * frame.height, 0),
        ]
    )
    above = _one([_trunk(frame).moved(down)], above=seat)
    whole = _one([*above, head(frame).moved(down), *leg(frame, hip, knee, ankle)])
    return [chair, *whole], []


def stepping(frame: Frame) -> tuple[list[Path], list[Path], Point, Point]:
    """A long step: outlines, light lines, the heel behind and the toe before."""
    stride, height = frame["stride"], frame.height
    foot = 0.15 * height
    heel, toe = complex(-stride / 2, 0), complex(stride / 2, 0)
    behind = heel + complex(0.03 * height, frame.levels["ankle"])
    before = toe + complex(-0.78 * foot, frame.levels["ankle"])
    long = -(frame.levels["hip"] - frame.levels["ankle"]) * 1.02
    apart = (before.real - behind.real) / 2
    drop = math.sqrt(max(long * long - apart * apart, (0.5 * long) ** 2))
    hip = complex((before.real + behind.real) / 2, frame.levels["ankle"] - drop)
    down = Motion.translation(
        complex(hip.real, hip.imag - frame.levels["hip"] - 0.2 * (frame.levels["crotch"] - frame.levels["hip"]))
    )
    far = leg(frame, hip, (hip + behind) / 2 + 0.012 * height, behind)
    near = leg(frame, hip, (hip + before) / 2 + 0.02 * height, before)
    whole = _one([*near, _trunk(frame).moved(down), head(frame).moved(down)])
    return [*_one(far), *whole], [_hanging(frame).moved(down)], heel, toe
