"""The upper body, half a front and half a back: neckline, shoulder, armhole.

Frame of both halves: the centre at x = 0, the nape at y = 0, y down. The neckline meets the centre and the
shoulder at right angles; the armhole leaves the shoulder at a right angle and arrives level at the side.
Solved: the depth of the front neckline, so that both necklines together are half the neck wanted; how much
steeper the front shoulder is, so that the back armhole is longer than the front by what is wanted; where the
armscye was measured, the armhole's depth. The front neck point lies where the balance puts it.
Rules of thumb: common practice, no source.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.drafting.curves import bend, left, right
from caddet.core.drafting.declare import at_least, girth
from caddet.core.drafting.draft_piece import Drawn, level
from caddet.core.drafting.kit import CLOSE, Drafting, nearest, solve_between
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import pair_near
from caddet.core.geometry.segments import Cubic, Line, Point, unit
from caddet.core.pattern.promises import Promise
from caddet.core.recipe.registry import Parameter
from caddet.core.sentences import Length, say

SCHOOL = Parameter(
    "school",
    "Way of drafting",
    "choice",
    "quarters",
    choices=(("quarters", "By quarters"), ("proportion", "By proportion")),
    why="By quarters every width and length is a measure of its own. By proportion most come from bust and height, "
    "for when the tape is not at hand.",
)
SCHOOLS = {
    "quarters": "By quarters, from direct measures: each place gets the length the tape read there.",
    "proportion": "By proportion, from bust and height: one girth and one length give the rest, as for an average body.",
}
ARMHOLE_NEEDS = ("bust", "neck", "shoulder", "shoulder_drop", "across_back", "across_front", "scye_depth", "armscye")
UPPER_NEEDS = (*ARMHOLE_NEEDS, "nape_to_waist", "height")


def upper_figures(
    *,
    neck: str = "neck + ease_neck",
    armhole_drop: str = "ease_bust * 0.1 + 0.5cm",
    difference: str = "1cm",
    front_share: str = "0.5cm",
    shoulder_ease: str = "0cm",
    balance: str = "0cm",
    armhole: str = "armscye + 2cm + ease_bust * 0.12",
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
        Figure("back_neck_drop", "Back neck, lower at the centre", "max(neck_more, 0cm) * 0.4", "A wider neckline lies lower at the back too, or it could not run square into the shoulder."),
        Figure("front_neck_depth", "Neck depth, front", "neck_round / 5 + 1cm",
               "Solved: front and back neckline together are half of the neckline wanted."),
        Figure("shoulder_whole", "Shoulder, from the neck", "if(school_proportion, bust / 16 + 6.7cm, shoulder)", "From the neck to the shoulder point."),
        Figure("shoulder_length", "Shoulder seam", "max(shoulder_whole - neck_more, 2.5cm)", "What a wider neckline leaves of the shoulder.", short="shoulder"),
        Figure("shoulder_ease", "Back shoulder longer by", shoulder_ease, "Eased in, so that the back rounds over the shoulder blade: 0.7 to 1.2 in a woven cloth."),
        Figure("shoulder_slope", "Shoulder slope", "if(school_proportion, shoulder_whole / 3 + 0.3cm, min(shoulder_drop, shoulder_whole * 0.6)) * shoulder_length / shoulder_whole",
               "How far the shoulder point lies below the end of the neckline."),
        Figure("armhole_depth", "Armhole depth, below the nape",
               f"if(school_proportion, bust / 8 + 10.5cm, scye_depth + {armhole_drop})",
               "Down to the armpit and a little more, so that the arm moves."),
        Figure("armhole_round", "Armhole, finished", armhole, "Round the arm's joint and a little air. Where the armscye was measured, the armhole's depth is solved for it."),
        Figure("back_across", "Half across the back", "if(school_proportion, bust_round / 8 + 5.5cm, across_back / 2 + max(ease_bust / 12, 0.5cm))",
               "The narrowest part of the back between the arms. Kept far enough from the shoulder point and the side."),
        Figure("front_across", "Half across the front", "if(school_proportion, bust_round / 8 + 4.3cm, across_front / 2 + max(ease_bust / 16, 0.2cm))",
               "The narrowest part of the front between the arms. Kept far enough from the shoulder point and the side."),
        Figure("armhole_difference", "Back armhole longer by", difference,
               "The back has to reach round the shoulder blade: half to one and a half centimetres more."),
        Figure("front_neck_level", "Front neck point, below the back's", balance,
               "The balance: both seen with the armholes level and the bust dart closed."),
        Figure("front_steeper", "Front shoulder steeper by", "0.5cm",
               "Solved: the front slopes so much more and the back so much less than the shoulder; with it the back armhole is longer by the difference wanted."),
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
    bust_level: float

    @property
    def bust_line(self) -> tuple[Point, Point]:
        """Two places on the bust line, which lies below all of the armhole: on the centre and at the side."""
        return complex(0, self.bust_level), complex(self.underarm.real, self.bust_level)

    @property
    def has_across(self) -> bool:
        """Whether the cloth runs through from the centre to where the armhole stands in furthest."""
        return self.armhole.segments[0].end.imag > self.centre.imag + 1

    @property
    def depth(self) -> float:
        """How deep the armhole is, from the shoulder point straight down, in mm."""
        return self.underarm.imag - self.shoulder_point.imag

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
    upright: float = 0.0,
) -> Upper:
    """One half from its figures; ``scoop`` says how far the lower armhole hugs its corner (0.5 to 0.7),
    ``slant`` by how many radians the side seam leans in: the armhole arrives square to it. The neckline meets the
    shoulder square, or ``upright`` radians steeper.
    """
    neck_point = complex(neck_width, neck_y)
    reach = math.sqrt(max(shoulder * shoulder - slope * slope, 1.0))
    shoulder_point = neck_point + complex(reach, slope)
    along = unit(shoulder_point - neck_point)
    centre = complex(0, centre_y)
    # a neckline wider than deep runs level for longer before it turns up to the shoulder
    wider = neck_width / max(centre_y - neck_y, 1.0)
    neck = bend(
        centre,
        1 + 0j,
        neck_point,
        left(along) * cmath.exp(-1j * upright),
        min(max(0.64 + 0.08 * wider, 0.68), 0.76),
        0.64,
    )
    fall = underarm.imag - shoulder_point.imag
    down = right(along)
    # the curve from the shoulder may come in no further than its own direction allows
    lean = -down.real / down.imag if down.imag > 0 else 0.0
    # a curve that has to come in far gets more height to do it in
    wanted = (shoulder_point.real - across) / (0.72 * lean) if lean > 0.05 else 0.0
    height = min(max(wanted, 0.52 * fall), 0.68 * fall)
    furthest, least = (shoulder_point.real - share * lean * height for share in (0.8, OUT))
    across = min(max(across, furthest), least - 1.0, underarm.real - NEAR_SIDE)
    turn = complex(across, shoulder_point.imag + height)
    upper = bend(shoulder_point, down, turn, 1j, 0.55, 0.62)
    lower, level = bend(turn, 1j, underarm, cmath.exp(1j * slant), scoop, scoop - 0.02), underarm.imag
    if slant < 0:  # the side leans out: the armhole dips below its corner, and the bust line lies below the dip
        for _ in range(3):
            level = _lowest(lower) + 0.3
            corner = underarm - math.tan(-slant) * (level - underarm.imag)
            lower = bend(turn, 1j, corner, cmath.exp(1j * slant), scoop, scoop - 0.02)
        underarm = corner
    return Upper(
        centre,
        neck_point,
        shoulder_point,
        underarm,
        neck,
        Line(neck_point, shoulder_point),
        Path((upper, lower)),
        level,
    )


def _lowest(curve: Cubic) -> float:
    """The lowest level that a curve reaches, in mm."""
    a, b, c, e = (p.imag for p in (curve.start, curve.out, curve.into, curve.end))
    # where the derivative is 0: a quadratic in t
    p, q, r = e - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a
    root = max(q * q - 4 * p * r, 0.0) ** 0.5
    at = [-r / q] if abs(p) < 1e-9 and q else [(-q + root) / (2 * p), (-q - root) / (2 * p)] if abs(p) >= 1e-9 else []
    return max([a, e, *(curve.point(t).imag for t in at if 0 < t < 1)])


OUT = 0.32  # of the way that the armhole leans in from the shoulder, so much it has to come in at least
SHALLOW = 50.0  # mm, a front neckline's depth while only the armholes are asked for
NEAR_SIDE = 12.0  # mm, as near to the side as the armhole may stand at its narrowest
LEANING = math.radians(32)  # a front neckline leans in no further from its shoulder,
# and runs in towards the centre by no more of its width: a close one is square to its shoulder, a wide or deep one would
# come to a V. Common practice, no source.
CLOSE_NECK, ROUND = 0.6, 0.36
WIDE = 10.0  # mm that a neckline is wider than the neck on each side, and no longer close
STEEPEST = 0.65  # of the shoulder's slope, so much front and back may differ from it


def draft_upper(d: Drafting, front_slant: float = 0.0, back_slant: float = 0.0) -> tuple[Upper, Upper]:
    """Front and back, necklines and armholes solved. Raises :class:`CannotDraft` with the reason."""
    d.need(
        d["front_bust"] >= 40 and d["back_bust"] >= 40,
        say("A quarter of the bust comes out at less than {4 cm}."),
        "front_bust",
    )
    d.need(d["back_neck_width"] >= 20, say("The neck comes out narrower than {4 cm}."), "back_neck_width")
    slope = d["shoulder_slope"]
    d.need(
        0 <= slope < d["shoulder_length"] * 0.9, "The shoulder slopes by more than its own length.", "shoulder_slope"
    )
    d.need(
        d["armhole_depth"] - slope > 60,
        say("The armhole would be less than {6 cm} deep: look at the scye depth."),
        "armhole_depth",
    )
    reach = d["back_neck_width"] + math.sqrt(d["shoulder_length"] ** 2 - slope**2)
    d.need(
        reach < d["back_bust"] + 0.25 * d["armhole_depth"] + 60,
        "The shoulder reaches far beyond the side: look at the shoulder length and the bust.",
        "shoulder_length",
    )
    _broad_enough(d)
    halves = _Halves(d, front_slant, back_slant)
    halves.fit()
    if _broad_enough(d):
        halves.fit()
    d.solve(
        "front_neck_depth",
        lambda v: (
            halves.back(d["front_steeper"], v).neck.length
            + halves.front(d["front_steeper"], v).neck.length
            - d["neck_round"] / 2
        ),
        10.0,
        400.0,
        "no depth makes the neckline as long as wanted at this width.",
    )
    depth = d["front_neck_depth"]
    back, front = halves.back(d["front_steeper"], depth), halves.front(d["front_steeper"], depth)
    for side, half in (("back", back), ("front", front)):
        _settle_across(d, side, half)
    d.need(
        front.centre.imag < d["armhole_depth"] + 60,
        "The front neckline would reach below the bust line.",
        "front_neck_depth",
    )
    return front, back


@dataclass(frozen=True, slots=True)
class _Halves:
    """Front and back of one body as the table has them now, for a shoulder that is so much steeper in front (mm)."""

    d: Drafting
    front_slant: float
    back_slant: float

    def upright(self, steeper: float, neck_depth: float) -> float:
        """By how many radians the front neckline meets its shoulder steeper than square, and the back's flatter: sewn,
        it runs on smoothly; square, a wide or deep neck would come to a point at the centre.
        """
        d = self.d
        slope = math.asin(min((d["shoulder_slope"] + steeper) / d["shoulder_length"], 0.95))
        most = (ROUND if d["neck_more"] > WIDE else CLOSE_NECK) * d["front_neck_width"]
        leaning = min(LEANING, math.atan2(most, max(neck_depth, 1.0)))
        return max(slope - leaning, 0.0)

    def back(self, steeper: float, neck_depth: float = SHALLOW) -> Upper:
        """Half the back for an armhole depth; ``neck_depth`` is the front's."""
        d = self.d
        return half_upper(
            d["back_neck_width"],
            -d["back_neck_rise"],
            d["back_neck_drop"],
            d["shoulder_length"] + d["shoulder_ease"],
            d["shoulder_slope"] - steeper,
            d["back_across"],
            complex(d["back_bust"], d["armhole_depth"]),
            0.6,
            self.back_slant,
            -self.upright(steeper, neck_depth),
        )

    def front(self, steeper: float, neck_depth: float) -> Upper:
        """Half the front for an armhole depth."""
        d = self.d
        y = -d["back_neck_rise"] + d["front_neck_level"]
        return half_upper(
            d["front_neck_width"],
            y,
            y + neck_depth,
            d["shoulder_length"],
            d["shoulder_slope"] + steeper,
            d["front_across"],
            complex(d["front_bust"], d["armhole_depth"]),
            0.66,
            self.front_slant,
            self.upright(steeper, neck_depth),
        )

    def fit(self) -> None:
        """Settle how much steeper the front shoulder is, and the armhole's depth where the armscye was measured."""
        self._share()
        d = self.d
        if (
            d["armhole_round"] <= 0
            or d.sums["armhole_round"].estimates
            or d.choice("school") == "proportion"
            or d.sums["armhole_depth"].override is not None
        ):
            return
        guess = d["armhole_depth"]

        def miss(depth: float) -> float:
            """By how much the armhole is too long for a depth, in mm."""
            d.solved["armhole_depth"] = depth
            self._share()
            s = d["front_steeper"]
            return self.back(s).armhole.length + self.front(s, SHALLOW).armhole.length - d["armhole_round"]

        found = self._at_once(guess)
        if found is None:
            found = solve_between(miss, guess, guess * 0.8, guess * 1.3)
        if found is None:
            found, off = nearest(miss, guess, guess * 0.8, guess * 1.3)
            d.remark(
                "draft.nearest",
                say(
                    "The armscye of {armhole_round} with its air does not go with scye depth, shoulder and across back: the armhole misses it by {off}. {measure}",
                    armhole_round=Length(d["armhole_round"]),
                    off=Length(abs(off)),
                    measure=d.measure("armscye", "scye_depth"),
                ),
                "figures.armhole_round",
            )
        d.solved["armhole_depth"] = found
        self._share()

    def _at_once(self, guess: float) -> float | None:
        """The depth of the armhole, looked for together with how much steeper the front shoulder is; None when that does not settle."""
        d = self.d
        if d.sums["front_steeper"].override is not None:
            return None
        wanted, most = d.sums["armhole_difference"].value, d["shoulder_slope"] * STEEPEST

        def off(depth: float, steeper: float) -> tuple[float, float]:
            """Both misses of the armhole, in mm."""
            d.solved["armhole_depth"] = min(max(depth, guess * 0.8), guess * 1.3)
            steeper = min(max(steeper, -most), most)
            back, front = self.back(steeper).armhole.length, self.front(steeper, SHALLOW).armhole.length
            return back + front - d["armhole_round"], back - front - wanted

        found = pair_near(off, guess, d["front_steeper"], CLOSE)
        if found is None or not guess * 0.8 <= found[0] <= guess * 1.3 or abs(found[1]) > most:
            return None
        d.solved["front_steeper"] = found[1]
        return found[0]

    def _share(self) -> None:
        """How much steeper the front shoulder has to be for the back armhole to be longer as wanted; the nearest that is possible."""
        d = self.d
        if d.sums["front_steeper"].override is not None:
            d.settle("armhole_difference", self._longer(d["front_steeper"]))
            return
        most = d["shoulder_slope"] * STEEPEST
        wanted = d.sums["armhole_difference"].value
        near = min(max(d.solved.get("front_steeper", 5.0), -most), most)
        found = solve_between(lambda v: self._longer(v) - wanted, near, -most, most)
        if found is None:
            found = min((-most, most), key=lambda v: abs(self._longer(v) - wanted))
        d.solved["front_steeper"] = found
        d.settle("armhole_difference", self._longer(found))

    def _longer(self, steeper: float) -> float:
        return self.back(steeper).armhole.length - self.front(steeper, SHALLOW).armhole.length


def _broad_enough(d: Drafting) -> bool:
    """Lengthen the shoulder, if need be, until armholes can be drawn through the across lines; a remark when that is much."""
    if d.sums["shoulder_length"].override is not None:
        return False
    slope, length = d["shoulder_slope"], d["shoulder_length"]
    level = math.sqrt(max(length**2 - slope**2, 1.0))
    deep = OUT * 0.52 * (d["armhole_depth"] - slope)
    steeper = d["front_steeper"]
    needed = (
        max(
            d["back_across"] - d["back_neck_width"] + deep * (slope - steeper) / level - d["shoulder_ease"],
            d["front_across"] - d["front_neck_width"] + deep * (slope + steeper) / level + slope * steeper / level,
        )
        + 1.5
    )
    longer = math.hypot(needed, slope) - length
    if longer <= 0.1:
        return False
    was = d.sums["shoulder_length"].value
    # what the garment's own ease asks for is a dropped shoulder, and no fault of the tape
    eased = max(
        (d[f"{side}_across"] - d.context.measures.get(f"across_{side}", 0.0) / 2 for side in ("front", "back")),
        default=0.0,
    )
    if length + longer - was > 12 + max(eased, 0.0):
        d.remark(
            "draft.across",
            say(
                "Across the back and front are broad for a shoulder of {was}: it is drawn {length} longer, so that nothing is tight across. {measure}",
                was=Length(was),
                length=Length(length + longer - was),
                measure=d.measure("shoulder", "across_back"),
            ),
            "figures.shoulder_length",
        )
    d.settle("shoulder_slope", slope * (1 + longer / length))
    d.settle("shoulder_length", length + longer)
    return True


def _settle_across(d: Drafting, side: str, half: Upper) -> None:
    """Where the armhole really stands in; a remark when that is tighter than was wanted."""
    name, wanted = f"{side}_across", d[f"{side}_across"]
    drawn = half.armhole.segments[0].end.real
    if abs(drawn - wanted) < 1e-6:
        return
    if drawn < wanted - 5 and name not in d.solved:
        d.remark(
            "draft.across",
            say(
                "Half across the {side} is {wanted}, nearly as much as a quarter of the bust: it is drawn at {drawn}. {measure} Or give the bust more ease.",
                side=side,
                wanted=Length(wanted),
                drawn=Length(drawn),
                measure=d.measure("bust", f"across_{side}"),
            ),
            f"figures.{name}",
        )
    d.settle(name, drawn)


def upper_levels(side: str, upper: Upper) -> tuple[Drawn, ...]:
    """The bust line, and across the front or back where the armhole stands in furthest, unless the neckline is as deep."""
    found = [level("bust", "bust line", *upper.bust_line)]
    if upper.has_across:
        turn = upper.armhole.segments[0].end
        found.append(level(f"across_{side}", say("across the {side}", side=side), complex(0, turn.imag), turn))
    return tuple(found)


def upper_closures(d: Drafting, front: Upper, back: Upper) -> tuple[Promise, ...]:
    """Nothing is tight across: the garment lies outside the arms' folds."""
    return tuple(
        at_least(
            f"across_{side}",
            say("Across the {side} is wide enough", side=side),
            (girth(f"across_{side}"),),
            2 * d[f"{side}_across"],
            "from armhole to armhole, half-way down",
        )
        for side, upper in (("front", front), ("back", back))
        if upper.has_across
    )
