"""``top.raglan``: the sleeve runs up to the neck; in one piece or with a shoulder dart; a top or a jacket.

The body is cut along a line from the neckline into the armhole; what lies above it (the yokes of front and back)
goes to the sleeve, laid shoulder to shoulder on the sleeve's middle. Below, the sleeve is *solved*: on each side the
curve from the armhole's turn to the underarm is as long as the body's, and both underarm points lie level.
"""

from __future__ import annotations

import cmath
import math
from contextlib import suppress
from dataclasses import dataclass
from functools import cached_property

from caddet.core.drafting.curves import bend, ease_into, hem_to_centre, inflections, square_hem
from caddet.core.drafting.declare import across, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftDart, DraftNotch, DraftPiece, Drawn, level
from caddet.core.drafting.kit import CLOSE, Drafting, outline, solve_between
from caddet.core.drafting.torso import TORSO_FIGURES, TORSO_NEEDS, loose_sides, side_slant
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, UPPER_NEEDS, Upper, draft_upper, upper_figures, upper_levels
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import pair_near, root_between
from caddet.core.geometry.segments import Cubic, Motion, Point, cross, inverse, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import LEFT_OF_MIDDLE, RIGHT_OF_MIDDLE, Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Passes
from caddet.core.recipe.registry import Block, CannotDraft, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import Length, say

OPTIONS = (
    SCHOOL,
    Parameter("sleeve", "Sleeve", "choice", "dart", choices=(("dart", "With a shoulder dart"), ("one_piece", "In one piece")),
              why="A dart from the neck over the shoulder shapes a woven jacket; a knit does without."),
    Parameter("body_length", "Length, nape to hem", "length", 660.0, 250.0, 1300.0, begins="clamp(nape_to_waist + waist_to_hip + 4.5cm, 25cm, 120cm)"),
    Parameter("neck_wider", "Neckline larger by", "length", 40.0, 0.0, 600.0, why="For a top that is pulled on; a jacket that opens needs less."),
    Parameter("sleeve_ends", "Sleeve", "choice", "long", choices=(("long", "Long"), ("three_quarter", "Three-quarter"), ("short", "Short")), why="Where the sleeve ends."),
    Parameter("opening", "Front", "choice", "closed", choices=(("closed", "On the fold"), ("open", "Open")), why="A top is cut on the fold; a jacket opens down the front."),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 140.0, "bust"),
    EaseLevel("hip", "Hip", 110.0, "hip"),
    EaseLevel("upper_arm", "Upper arm", 100.0, "upper_arm"),
)
FIGURES = (
    *upper_figures(neck="max(neck + neck_wider, if(opening_closed, head / (1 + stretch * 0.8) + 1cm, 0cm))", armhole_drop="ease_upper_arm * 0.3 + 0.5cm", difference="0.5cm", armhole="armscye + 1.5cm + ease_upper_arm * 0.4"),
    *TORSO_FIGURES,
    Figure("front_bow", "Raglan line, bowed out in front", "0.8cm", "A ruled line would pull over the hollow of the shoulder: 0.6 to 1."),
    Figure("back_bow", "Raglan line, bowed out at the back", "0.45cm", "Less than in front: 0.3 to 0.6."),
    Figure("front_raglan", "Raglan line, on the front neckline", "min(4cm, neck_round / 12)", "Where it begins, from the shoulder."),
    Figure("back_raglan", "Raglan line, on the back neckline", "min(3cm, neck_round / 16)", "Where it begins, from the shoulder."),
    Figure("sleeve_width", "Sleeve width", "upper_arm + ease_upper_arm + if(sleeve_one_piece, 4cm, 0cm)", "Round the arm. In one piece it is wider: nothing takes the shoulder in."),
    Figure("sleeve_long", "Sleeve, from the shoulder point", "if(sleeve_ends_short, shoulder_to_elbow * 0.75, if(sleeve_ends_three_quarter, (shoulder_to_elbow + arm_length) / 2, arm_length))", "Down the arm."),
    Figure("hem_width", "Sleeve, round the hem", "if(sleeve_ends_short, sleeve_width - 4cm, if(sleeve_ends_three_quarter, (elbow + wrist) / 2 + 9cm, max(wrist + 8cm, hand + 2cm)))", "The hand goes through."),
    Figure("shoulder_dart", "Shoulder dart, at the neck", "if(sleeve_dart, shoulder_length * 0.3, 0cm)", "Takes in what the shoulder is narrower at the neck than over the arm. Solved: the narrower the sleeve, the wider the dart."),
    Figure("give", "Stretch of the cloth", "stretch", "What the chosen cloth gives across.", kind="count"),
    Figure("underarm_drop", "Underarm, below the shoulder point", "sleeve_width * 0.4", "Solved: both curves are as long as the body's and end level."),
)  # fmt: skip


@dataclass(frozen=True)
class _Cut:
    """Half a body cut for a raglan: where the line begins on the neckline, the line, and the armhole below it."""

    upper: Upper
    begins: Point
    below_neck: Path
    yoke_neck: Path
    line: Path
    lower: Path

    @property
    def turn(self) -> Point:
        """The end of the raglan line, where it turns into the armhole."""
        return self.line.end

    @cached_property
    def mirrored_corner(self) -> Point:
        """The underarm, mirrored in the armhole's direction at the turn."""
        along = self.lower.start_direction
        return self.turn + along * along * (self.lower.end - self.turn).conjugate()


def _cut(d: Drafting, upper: Upper, distance: float, name: str) -> _Cut:
    neck = Path((upper.neck,))
    d.need(
        5 <= distance < neck.length - 10,
        "The raglan line must begin on the neckline, between the shoulder and the centre.",
        f"{name}_raglan",
    )
    below, yoke = neck.split_at(neck.length - distance)
    assert below is not None and yoke is not None
    start, curve, bow = below.end, upper.armhole.segments[1], d[f"{name}_bow"]

    def meets(t: float) -> float:
        """0 where the armhole runs as a line from the neckline arrives that is bowed out as wanted."""
        chord = curve.point(t) - start
        return cross(chord * cmath.exp(1j * math.atan(4 * bow / abs(chord))), curve.direction(t))

    at = root_between(meets, 0.02, 0.95, 1e-9)
    if at is None:
        raise CannotDraft(
            "No line from that place on the neckline runs into the armhole: begin it elsewhere.",
            f"figures.{name}_raglan",
        )
    lower = curve.split(at)[1]
    turn = cmath.exp(-1j * math.atan(4 * bow / abs(lower.start - start)))
    line = smooth(start, unit(lower.start - start) * turn, lower.start, lower.direction(0))
    return _Cut(upper, start, below, yoke, Path((line,)), Path((lower,)))


NEARER = 5.0  # mm by which another beginning is looked for


def _cut_near(d: Drafting, upper: Upper, name: str) -> _Cut:
    """The body cut where the raglan line is meant to begin, or as near to it as a line runs into the armhole."""
    figure = f"{name}_raglan"
    asked = d[figure]
    try:
        return _cut(d, upper, asked, name)
    except CannotDraft:
        if d.sums[figure].override is not None:
            raise
        long = upper.neck.length
        others = [NEARER * n for n in range(2, int((long - 10) / NEARER))]
        for other in sorted(others, key=lambda mm: abs(mm - asked)):
            with suppress(CannotDraft):
                made = _cut(d, upper, other, name)
                d.settle(figure, other)
                return made
        raise


def _on_sleeve(cut: _Cut, spread: float, front: bool) -> Motion:
    """How a yoke comes to lie on the sleeve: the shoulder point at 0, the shoulder up, turned out by ``spread``."""
    up = cut.upper.neck_point - cut.upper.shoulder_point
    aim = -1j * cmath.exp(-1j * spread if front else 1j * spread)
    if front:
        turn = aim * abs(up) / up
        return Motion(turn, -turn * cut.upper.shoulder_point)
    turn = aim * abs(up) / up.conjugate()
    return Motion(turn, -turn * cut.upper.shoulder_point.conjugate(), True)


MOST_SPREAD = 0.62  # radians: at the neck the dart takes at most about six tenths of the shoulder


@dataclass(frozen=True, slots=True)
class _Yokes:
    """Both yokes on the sleeve: how far each is turned out at the neck (radians), and how they come to lie there."""

    front: _Cut
    back: _Cut
    out_front: float
    out_back: float

    @property
    def motions(self) -> tuple[Motion, Motion]:
        """The motions that lay both body edges on the sleeve."""
        return _on_sleeve(self.front, self.out_front, True), _on_sleeve(self.back, self.out_back, False)

    @property
    def mirrored(self) -> tuple[Path, Path]:
        """From the turns to the underarm corners, when the sleeve turns away from the body just as the body does from it."""
        found = []
        for cut, motion in zip((self.front, self.back), self.motions, strict=True):
            turn, along = cut.turn, cut.lower.start_direction
            over = Motion(along * along, turn - along * along * turn.conjugate(), True)
            found.append(cut.lower.moved(over).moved(motion))
        return found[0], found[1]

    @property
    def corners(self) -> tuple[Point, Point]:
        """Where those curves end: the sleeve's underarm corners."""
        front, back = self.motions
        return front(self.front.mirrored_corner), back(self.back.mirrored_corner)

    @property
    def width(self) -> float:
        """How wide it is, in mm."""
        left, right = self.corners
        return right.real - left.real


def _yokes(d: Drafting, front: _Cut, back: _Cut, width: float) -> _Yokes:
    """The yokes turned out so that both underarm corners lie level, and, with a dart, the sleeve has a width."""

    still_front = _on_sleeve(front, 0.0, True)(front.mirrored_corner)
    still_back = _on_sleeve(back, 0.0, False)(back.mirrored_corner)

    def level(total: float) -> _Yokes:
        # both corners turn about 0: the yokes' share that lays the line between them level is its angle
        """The place of a level on both sides."""
        half = cmath.exp(0.5j * total)
        more = cmath.phase(still_back * half - still_front / half)
        return _Yokes(front, back, total / 2 + more, total / 2 - more)

    total = 2 * math.asin(min(d.sums["shoulder_dart"].value / 2 / d["shoulder_length"], 0.5))
    if d.choice("sleeve") != "dart" or d.sums["shoulder_dart"].override is not None:
        return level(total)
    found = solve_between(lambda v: level(v).width - width, total, 0.04, MOST_SPREAD)
    if found is None:
        found = min((0.04, MOST_SPREAD), key=lambda v: abs(level(v).width - width))
    return level(found)


@dataclass(frozen=True, slots=True)
class _Underarm:
    """The sleeve below its yokes: both curves from the turns to the underarm corners, and where its middle lies."""

    yokes: _Yokes
    lowers: tuple[Path, Path]
    shift: float

    @property
    def width(self) -> float:
        """How wide it is, in mm."""
        return self.lowers[1].end.real - self.lowers[0].end.real

    @property
    def hooked(self) -> float:
        """0 where both curves turn evenly; more the more one hooks at an end, and still more where one bends back."""
        shares = []
        for path in self.lowers:
            curve = path.segments[0]
            assert isinstance(curve, Cubic)
            shares.append(min(abs(curve.out - curve.start), abs(curve.end - curve.into)) / abs(curve.end - curve.start))
        bent = any(inflections(part) for path in self.lowers for part in path.segments if isinstance(part, Cubic))
        return max(EVEN - min(shares), 0.0) + (1.0 if bent else 0.0)


EVEN = 0.16  # of the chord: with a shorter handle a curve hooks at its end


def _underarm(d: Drafting, yokes: _Yokes, width: float) -> _Underarm | None:
    """Curves as long as the body's, level at their ends and square to the sleeve's seams; None when there are none."""
    cuts, motions = (yokes.front, yokes.back), yokes.motions
    turns = [motion(cut.turn) for cut, motion in zip(cuts, motions, strict=True)]
    heads = [path.start_direction for path in yokes.mirrored]
    ends = [cut.lower.length for cut in cuts]
    lean = 0.05

    def drawn(side: int, shift: float, y: float) -> Path:
        """One edge for a shift and a height of its turn."""
        sign = (-1, 1)[side]
        out = complex(sign * math.cos(lean), math.sin(lean))
        return Path((bend(turns[side], heads[side], complex(sign * width / 2 + shift, y), out, 0.6, 0.58),))

    def off(shift: float, y: float) -> tuple[float, float]:
        """By how much both edges are too long, in mm."""
        return drawn(0, shift, y).length - ends[0], drawn(1, shift, y).length - ends[1]

    def curve(side: int, shift: float) -> Path | None:
        """One edge for a shift of its end."""
        reach, at = ends[side], turns[side].imag
        y = solve_between(
            lambda y: drawn(side, shift, y).length - reach, at + reach * 0.6, at + reach * 0.02, at + reach * 1.1
        )
        return None if y is None else drawn(side, shift, y)

    def miss(shift: float) -> float:
        """By how much the two edges are off together, in mm."""
        one, other = curve(0, shift), curve(1, shift)
        if one is None or other is None:
            return 1000.0 if (one is None) == (shift < 0) else -1000.0
        return one.end.imag - other.end.imag

    def evened(near: tuple[float, float]) -> tuple[Path, Path, float] | None:
        """Both curves as long as they should be and ended level, and the shift; looked for from a shift and a level."""
        quick = pair_near(off, *near, CLOSE)
        if (
            quick is not None
            and abs(quick[0]) <= width * 0.25
            and all(
                at.imag + reach * 0.02 <= quick[1] <= at.imag + reach * 1.1
                for at, reach in zip(turns, ends, strict=True)
            )
        ):
            return drawn(0, *quick), drawn(1, *quick), quick[0]
        shift = solve_between(miss, 0.0, -width * 0.25, width * 0.25)
        left, right = (None, None) if shift is None else (curve(0, shift), curve(1, shift))
        if shift is None or left is None or right is None or abs(left.end.imag - right.end.imag) > 0.05:
            return None
        return left, right, shift

    near = 0.0, sum(at.imag + reach * 0.6 for at, reach in zip(turns, ends, strict=True)) / 2
    for _ in range(5):
        found = evened(near)
        if found is None:
            return None
        left, right, shift = found
        near = shift, left.end.imag
        before, lean = lean, math.atan2((width - d["hem_width"]) / 2, max(d["sleeve_long"] - left.end.imag, 30.0))
        if abs(before - lean) < 1e-3:
            break
    return _Underarm(yokes, (left, right), shift)


STEPS = 8  # widths that are tried, where the one that is wanted can't be drawn


def _settled(d: Drafting, front: _Cut, back: _Cut) -> _Underarm:
    """The sleeve of the width wanted, or the nearest that can be drawn, which is said. Raises :class:`CannotDraft`."""
    wanted = d["sleeve_width"]
    tried = [wanted]
    if d.sums["sleeve_width"].override is None:
        steps = STEPS if d.choice("sleeve") == "dart" else 2 * STEPS
        tried += sorted((wanted * (0.85 + 0.6 * n / steps) for n in range(steps + 1)), key=lambda v: abs(v - wanted))
    best: _Underarm | None = None
    for width in tried:
        made = _underarm(d, _yokes(d, front, back, width), width)
        if made is not None and (best is None or made.hooked < best.hooked - 1e-6):
            best = made
        if best is not None and best.hooked == 0:
            break
    if best is None:
        raise CannotDraft(
            "The sleeve is too wide or too narrow to reach the body's curve on both sides: look at the upper arm, its ease and the armhole depth.",
            "figures.sleeve_width",
        )
    width, motions = d.settle("sleeve_width", best.width), best.yokes.motions
    d.settle("shoulder_dart", abs(motions[0](front.upper.neck_point) - motions[1](back.upper.neck_point)))
    if abs(width - wanted) > (5 if d.choice("sleeve") == "dart" else 20):
        helps = (
            "Its armhole's depth or more ease round the arm changes that."
            if d.choice("sleeve") == "dart"
            else "A shoulder dart allows others."
        )
        d.remark(
            "draft.nearest",
            say(
                "A sleeve {wanted} wide does not go with this armhole; the nearest that works is {width}. {helps}",
                wanted=Length(wanted),
                width=Length(width),
                helps=helps,
            ),
            "figures.sleeve_width",
        )
    return best


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front, back and sleeve."""
    d = Drafting(context, options)
    slant = side_slant(d)
    front_upper, back_upper = draft_upper(d, slant, slant)
    sides = loose_sides(d, front_upper.underarm, back_upper.underarm)
    front, back = _cut_near(d, front_upper, "front"), _cut_near(d, back_upper, "back")
    under = _settled(d, front, back)
    (on_front, on_back), lowers, shift = under.yokes.motions, under.lowers, under.shift
    corner_left, corner_right = lowers[0].end, lowers[1].end
    drop = d.settle("underarm_drop", corner_left.imag)
    d.need(d["sleeve_long"] > drop + 30, "The sleeve ends above the underarm: make it longer.", "sleeve_long")
    sleeve = _sleeve(d, front, back, (on_front, on_back), lowers, shift)
    pieces = [_body(d, "front", front, sides.front), _body(d, "back", back, sides.back), sleeve]
    seams = (
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew(
            "raglan_front",
            "Raglan seam, front",
            (edge("front", "raglan"),),
            (edge("sleeve", "raglan_front", backwards=True),),
        ),
        sew("raglan_back", "Raglan seam, back", (edge("back", "raglan"),), (edge("sleeve", "raglan_back"),)),
        sew(
            "sleeve",
            "Sleeve seam",
            (edge("sleeve", "underarm_front"),),
            (edge("sleeve", "underarm_back", backwards=True),),
        ),
    )
    closures = (
        promise("bust", "Bust closes on the body", (girth("bust"),), d["bust_round"], "along the bust line"),
        promise("neck", "Neckline is as long as wanted", (run("front", "neckline", worn=True), run("back", "neckline", worn=True), run("sleeve", "neckline", worn=True)), d["neck_round"],
                "body and sleeves, darts sewn"),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"),
        promise("raglan_front", "Front raglan seams are equal", (run("front", "raglan"), run("sleeve", "raglan_front", -1)), 0.0, "body less sleeve"),
        promise("raglan_back", "Back raglan seams are equal", (run("back", "raglan"), run("sleeve", "raglan_back", -1)), 0.0, "body less sleeve"),
        promise("sleeve_seam", "Sleeve seams are equal", (run("sleeve", "underarm_front"), run("sleeve", "underarm_back", -1)), 0.0, "front less back"),
    )  # fmt: skip
    dimensions = (
        Dimension("front_bust", "front", 1j * front_upper.underarm.imag, front_upper.underarm),
        Dimension("back_bust", "back", 1j * back_upper.underarm.imag, back_upper.underarm),
        Dimension("sleeve_width", "sleeve", corner_left, corner_right),
        Dimension("underarm_drop", "sleeve", 0j, complex(0, drop)),
        Dimension(
            "hem_width",
            "sleeve",
            complex(shift - 50, d["sleeve_long"] - 14),
            complex(shift + 50, d["sleeve_long"] - 14),
        ),
    )
    # the yokes lie where they were cut from: the sleeve goes back the way it came
    shown = (
        Shown("front", "sleeve", inverse(on_front), clip=LEFT_OF_MIDDLE),
        Shown("front", "front"),
        Shown("back", "sleeve", inverse(on_back), clip=RIGHT_OF_MIDDLE),
        Shown("back", "back"),
    )
    return d.result(pieces, seams, closures, dimensions, shown, zero="the nape", finishes={"neckline": "facing"})


def _body(d: Drafting, name: str, cut: _Cut, side: Path) -> DraftPiece:
    hem = hem_to_centre(side.end, side.end_direction)
    opens = name == "front" and d.choice("opening") == "open"
    edges = outline(
        ("neckline", cut.below_neck),
        ("raglan", Path.join([cut.line, cut.lower])),
        ("side", side),
        ("hem", hem, "hem"),
        (f"centre_{name}", [hem.end, cut.upper.centre], "opening" if opens else "fold"),
    )
    depth = cut.upper.underarm.imag
    return DraftPiece(
        name,
        name.capitalize(),
        edges,
        notches=(
            DraftNotch("raglan", cut.line.length, double=name == "back", name=f"raglan {name}"),
            DraftNotch("side", side.length / 2, name="side"),
        ),
        drawn=_levels(name, cut),
        grain=(complex(28, depth), complex(28, hem.end.imag - 40)),
        cut=2 if opens else 1,
        pair=opens,
    )


def _levels(name: str, cut: _Cut) -> tuple[Drawn, ...]:
    """The bust line; across front or back where the raglan seam leaves it to the body, if it does."""
    found = upper_levels(name, cut.upper)
    return tuple(one for one in found if one.name == "bust" or one.points[1].imag >= cut.turn.imag)


def _sleeve(
    d: Drafting, front: _Cut, back: _Cut, motions: tuple[Motion, Motion], lowers: tuple[Path, Path], shift: float
) -> DraftPiece:
    on_front, on_back = motions
    raglan_front = Path.join([lowers[0].reversed(), front.line.moved(on_front).reversed()])
    raglan_back = Path.join([back.line.moved(on_back), lowers[1]])
    neck_front, neck_back = front.yoke_neck.moved(on_front), back.yoke_neck.moved(on_back).reversed()
    corner_left, corner_right = raglan_front.start, raglan_back.end
    low, half = d["sleeve_long"], d["hem_width"] / 2
    d.need(half > 20, say("The sleeve's hem comes out narrower than {4 cm}."), "hem_width")
    right_hem, left_hem = complex(shift + half, low), complex(shift - half, low)
    edges: list[Edge] = [Edge("raglan_front", raglan_front), Edge("neckline", neck_front)]
    darts: tuple[DraftDart, ...] = ()
    if abs(neck_front.end - neck_back.start) > 1:
        # along the shoulder and curved over it, it ends where the arm begins
        down = -unit(unit(neck_front.end) + unit(neck_back.start))
        apex = down * 22
        legs = [ease_into(end, -end, apex, down, 0.5, 0.3) for end in (neck_front.end, neck_back.start)]
        edges += [
            Edge("shoulder_dart", Path((legs[0],)), "", "shoulder_dart"),
            Edge("shoulder_dart", Path((legs[1],)).reversed(), "", "shoulder_dart"),
        ]
        darts = (DraftDart("shoulder_dart", "shoulder dart"),)
    edges += [
        Edge("neckline", neck_back),
        Edge("raglan_back", raglan_back),
        *outline(
            ("underarm_back", [corner_right, right_hem]),
            ("hem", Path((square_hem(right_hem, right_hem - corner_right, left_hem, corner_left - left_hem),)), "hem"),
            ("underarm_front", [left_hem, corner_left]),
        ),
    ]
    notches = (
        DraftNotch("raglan_front", lowers[0].length, name="raglan front"),
        DraftNotch("raglan_back", back.line.length, double=True, name="raglan back"),
    )
    drop = corner_left.imag
    return DraftPiece(
        "sleeve",
        "Raglan sleeve",
        tuple(edges),
        darts,
        notches,
        (level("upper_arm", "widest line", corner_left, corner_right),),
        grain=(complex(shift, drop), complex(shift, low - 40)),
        cut=2,
        pair=True,
    )


def _closed(pattern: Pattern) -> bool:
    """Whether the front is closed, so that the head has to go through the neck."""
    return not all(part.pair for part in pattern.parts("front"))


PASSES = (
    Passes("head", "neck", stretched=True, when=_closed, label="Head goes through the neck",
           why="The neckline, stretched as the cloth gives, against the head. If it is less, make it larger or open the front."),
    Passes("arm", of=(across("sleeve", "upper_arm"),), limit=Body("upper_arm", plus=20.0), place="sleeve.raglan_front",
           label="Arm goes into the sleeve", why=say("The sleeve's width against the arm and {2 cm}.")),
    Passes("hand", "hem", on=("sleeve",), label="Hand goes through the sleeve", why="The sleeve's hem against the hand round the knuckles."),
)  # fmt: skip


BLOCK = register_block(
    Block("top.raglan", "Raglan top", "A sleeve that runs up to the neck: easy in the shoulder, for tops and jackets.",
          (*UPPER_NEEDS, *TORSO_NEEDS, "head", "upper_arm", "arm_length", "shoulder_to_elbow", "elbow", "wrist", "hand"), (), OPTIONS, EASE, FIGURES, draft, PASSES,
          family="Upper body", fits=("loose_woven", "jacket", "knit_relaxed"), schools=SCHOOLS)
)  # fmt: skip
