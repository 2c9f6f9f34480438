"""The upper body, half a front and half a back: neckline, shoulder, armhole.

Frame of both halves: the centre at x = 0, the nape at y = 0, y down. The neckline meets the centre and the
shoulder at right angles; the armhole leaves the shoulder at a right angle and arrives level at the side.
Solved: the depth of the front neckline, so that both necklines together are half the neck wanted; the
height of the front neck point, so that the back armhole is longer than the front by what is wanted.
Rules of thumb: common practice, no source.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.drafting.curves import bend, left, right
from caddet.core.drafting.kit import Drafting
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Point, unit
from caddet.core.recipe.registry import Parameter

SCHOOL = Parameter(
    "school", "Way of drafting", "choice", "quarters",
    choices=(("quarters", "By quarters"), ("proportion", "By proportion")),
    why="By quarters every width and length is a measure of its own. By proportion most come from bust and height, "
    "for when the tape is not at hand.",
)  # fmt: skip
SCHOOLS = {
    "quarters": "By quarters, from direct measures: each place gets the length the tape read there.",
    "proportion": "By proportion, from bust and height: one girth and one length give the rest, as for an average body.",
}
ARMHOLE_NEEDS = ("bust", "neck", "shoulder", "shoulder_drop", "across_back", "across_front", "scye_depth")
UPPER_NEEDS = (*ARMHOLE_NEEDS, "nape_to_waist", "height")


def upper_figures(
    *,
    neck: str = "neck + ease_neck",
    armhole_drop: str = "ease_bust * 0.1 + 0.5cm",
    difference: str = "1cm",
    front_share: str = "0.5cm",
) -> tuple[Figure, ...]:
    """The figures of the upper body; what differs between blocks is given as formulas."""
    return (
        Figure("bust_round", "Bust, finished", "bust + ease_bust", "The girth the garment will have there.", short="bust round"),
        Figure("front_bust", "Bust line, front", f"bust_round / 4 + {front_share}",
               "Two halves of front and two of back go round, so each takes a quarter; the front a little more."),
        Figure("back_bust", "Bust line, back", "bust_round / 2 - front_bust", "What the front leaves of the half round."),
        Figure("neck_round", "Neckline, finished", neck, "As long as the neck is round, and what is added; where it is pulled over the head, never less than that needs.", short="neck round"),
        Figure("neck_more", "Neck wider, on each side", "(neck_round - neck) / 6", "A neckline larger than the neck is wider and deeper; this much is taken off the shoulder."),
        Figure("back_neck_width", "Neck width, back", "if(school_proportion, bust / 20 + 2.7cm, neck / 5) + neck_more",
               "A fifth of the neck: half the width of its oval; and what it is wider.", short="back neck width"),
        Figure("front_neck_width", "Neck width, front", "back_neck_width - 0.2cm", "The neck leans forward: a little less in front."),
        Figure("back_neck_rise", "Back neck, up at the shoulder", "(back_neck_width - neck_more) / 3 - neck_more * 0.3",
               "The nape lies lower than the side of the neck by about a third of the width."),
        Figure("front_neck_depth", "Neck depth, front", "neck_round / 5 + 1cm",
               "Solved: front and back neckline together are half of the neckline wanted."),
        Figure("shoulder_whole", "Shoulder, from the neck", "if(school_proportion, bust / 16 + 6.7cm, shoulder)", "From the neck to the shoulder point."),
        Figure("shoulder_length", "Shoulder seam", "max(shoulder_whole - neck_more, 2.5cm)", "What a wider neckline leaves of the shoulder.", short="shoulder"),
        Figure("shoulder_slope", "Shoulder slope", "if(school_proportion, shoulder_whole / 3 + 0.3cm, min(shoulder_drop, shoulder_whole * 0.6)) * shoulder_length / shoulder_whole",
               "How far the shoulder point lies below the end of the neckline."),
        Figure("armhole_depth", "Armhole depth, below the nape",
               f"if(school_proportion, bust / 8 + 10.5cm, scye_depth + {armhole_drop})",
               "Down to the armpit and a little more, so that the arm moves."),
        Figure("back_across", "Half across the back", "if(school_proportion, bust_round / 8 + 5.5cm, across_back / 2 + ease_bust / 12)",
               "The narrowest part of the back between the arms. Kept far enough from the shoulder point and the side."),
        Figure("front_across", "Half across the front", "if(school_proportion, bust_round / 8 + 4.3cm, across_front / 2 + ease_bust / 16)",
               "The narrowest part of the front between the arms. Kept far enough from the shoulder point and the side."),
        Figure("armhole_difference", "Back armhole longer by", difference,
               "The back has to reach round the shoulder blade: half to one and a half centimetres more."),
        Figure("front_neck_level", "Front neck point, below the back's", "0.4cm",
               "Solved: with it the back armhole is longer than the front by the difference wanted."),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Upper:
    """Half a front or back above the bust line: points and lines, in mm."""

    centre: Point
    neck_point: Point
    shoulder_point: Point
    underarm: Point
    neck: Cubic
    shoulder: Line
    armhole: Path

    @property
    def lower_armhole(self) -> float:
        """From the place of the notch to the underarm, in mm."""
        return self.armhole.segments[1].length


def half_upper(
    neck_width: float,
    neck_y: float,
    centre_y: float,
    shoulder: float,
    slope: float,
    across: float,
    underarm: Point,
    scoop: float,
    slant: float = 0.0,
) -> Upper:
    """One half from its figures; ``scoop`` says how far the lower armhole hugs its corner (0.5 to 0.7),
    ``slant`` by how many radians the side seam leans in: the armhole arrives square to it.
    """  # fmt: skip
    neck_point = complex(neck_width, neck_y)
    reach = math.sqrt(max(shoulder * shoulder - slope * slope, 1.0))
    shoulder_point = neck_point + complex(reach, slope)
    along = unit(shoulder_point - neck_point)
    centre = complex(0, centre_y)
    # a neckline much wider than deep is rounded early, or it would hook into the shoulder
    late = min(0.96, 0.56 * math.sqrt(max(1.0, neck_width / max(centre_y - neck_y, 1.0))))
    neck = bend(centre, 1 + 0j, neck_point, left(along), 0.56, late)
    fall = underarm.imag - shoulder_point.imag
    down = right(along)
    # the curve from the shoulder may come in no further than its own direction allows
    lean = -down.real / down.imag if down.imag > 0 else 0.0
    # a curve that has to come in far gets more height to do it in
    wanted = (shoulder_point.real - across) / (0.72 * lean) if lean > 0.05 else 0.0
    height = min(max(wanted, 0.52 * fall), 0.68 * fall)
    furthest, least = (shoulder_point.real - share * lean * height for share in (0.8, 0.32))
    across = min(max(across, furthest), least - 1.0, underarm.real - 15.0)
    turn = complex(across, shoulder_point.imag + height)
    upper = bend(shoulder_point, down, turn, 1j, 0.55, 0.62)
    lower = bend(turn, 1j, underarm, cmath.exp(1j * slant), scoop, scoop - 0.02)
    return Upper(
        centre, neck_point, shoulder_point, underarm, neck, Line(neck_point, shoulder_point), Path((upper, lower))
    )


def draft_upper(d: Drafting, front_slant: float = 0.0, back_slant: float = 0.0) -> tuple[Upper, Upper]:
    """Front and back, necklines and armholes solved. Raises :class:`CannotDraft` with the reason."""
    depth = d["armhole_depth"]
    d.need(
        d["front_bust"] >= 40 and d["back_bust"] >= 40,
        "A quarter of the bust comes out at less than 4 cm.",
        "front_bust",
    )
    d.need(d["back_neck_width"] >= 20, "The neck comes out narrower than 4 cm.", "back_neck_width")
    slope = d["shoulder_slope"]
    d.need(
        0 <= slope < d["shoulder_length"] * 0.9, "The shoulder slopes by more than its own length.", "shoulder_slope"
    )
    d.need(depth - slope > 60, "The armhole would be less than 6 cm deep: look at the scye depth.", "armhole_depth")
    reach = d["back_neck_width"] + math.sqrt(d["shoulder_length"] ** 2 - slope**2)
    d.need(reach < d["back_bust"] + 0.25 * depth + 60,
           "The shoulder reaches far beyond the side: look at the shoulder length and the bust.", "shoulder_length")  # fmt: skip
    back = half_upper(d["back_neck_width"], -d["back_neck_rise"], 0.0, d["shoulder_length"], slope, d["back_across"],
                      complex(d["back_bust"], depth), 0.6, back_slant)  # fmt: skip
    _settle_across(d, "back", back)

    def front(level: float, neck_depth: float) -> Upper:
        y = -d["back_neck_rise"] + level
        return half_upper(d["front_neck_width"], y, y + neck_depth, d["shoulder_length"], slope, d["front_across"],
                          complex(d["front_bust"], depth), 0.66, front_slant)  # fmt: skip

    d.solve("front_neck_depth", lambda v: back.neck.length + front(0.0, v).neck.length - d["neck_round"] / 2,
            10.0, 400.0, "no depth makes the neckline as long as wanted at this width.")  # fmt: skip
    wanted = back.armhole.length - d["armhole_difference"]
    d.solve("front_neck_level", lambda v: wanted - front(v, 50.0).armhole.length, -60.0, 60.0,
            "the armholes can't be brought to that difference.")  # fmt: skip
    made = front(d["front_neck_level"], d["front_neck_depth"])
    _settle_across(d, "front", made)
    d.need(made.centre.imag < depth + 60, "The front neckline would reach below the bust line.", "front_neck_depth")
    return made, back


def _settle_across(d: Drafting, side: str, half: Upper) -> None:
    """Where the armhole really stands in; a remark when that is far from what was wanted."""
    name, wanted = f"{side}_across", d[f"{side}_across"]
    drawn = half.armhole.segments[0].end.real
    if abs(drawn - wanted) < 1e-6:
        return
    if abs(drawn - wanted) > 12 and name not in d.solved:
        d.remark("draft.across", f"Half across the {side} is {wanted / 10:.1f} cm, which does not go with the shoulder and the bust: it is "
                 f"drawn at {drawn / 10:.1f} cm. Measure the shoulder and across the {side} again.", f"figures.{name}")  # fmt: skip
    d.settle(name, drawn)
