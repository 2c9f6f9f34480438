"""``top.raglan``: the sleeve runs up to the neck; in one piece or with a shoulder dart; a top or a jacket.

The body is cut along a line from the neckline into the armhole; what lies above it (the yokes of front and back)
goes to the sleeve, laid shoulder to shoulder on the sleeve's middle. Below, the sleeve is *solved*: on each side the
curve from the armhole's turn to the underarm is as long as the body's, and both underarm points lie level.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass

from caddet.core.drafting.curves import ease_into, hem_to_centre, square_hem
from caddet.core.drafting.declare import across, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftDart, DraftNotch, DraftPiece, level
from caddet.core.drafting.kit import Drafting, outline, solve_between
from caddet.core.drafting.torso import TORSO_FIGURES, TORSO_NEEDS, loose_sides, side_slant
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, UPPER_NEEDS, Upper, draft_upper, upper_figures
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import root_between
from caddet.core.geometry.segments import Line, Motion, Point, cross, inverse, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import LEFT_OF_MIDDLE, RIGHT_OF_MIDDLE, Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, CannotDraft, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    SCHOOL,
    Parameter("sleeve", "Sleeve", "choice", "dart", choices=(("dart", "With a shoulder dart"), ("one_piece", "In one piece")),
              why="A dart from the neck over the shoulder shapes a woven jacket; a knit does without."),
    Parameter("body_length", "Length, nape to hem", "length", 660.0, 250.0, 1300.0),
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
    *upper_figures(neck="neck + neck_wider", armhole_drop="ease_bust * 0.14 + 1.5cm", difference="0.5cm"),
    *TORSO_FIGURES,
    Figure("front_raglan", "Raglan line, on the front neckline", "3.5cm", "Where it begins, from the shoulder."),
    Figure("back_raglan", "Raglan line, on the back neckline", "2.5cm", "Where it begins, from the shoulder."),
    Figure("sleeve_width", "Sleeve width", "upper_arm + ease_upper_arm", "Round the arm; kept wide enough to reach the body's curve."),
    Figure("sleeve_long", "Sleeve, from the shoulder point", "if(sleeve_ends_short, shoulder_to_elbow * 0.75, if(sleeve_ends_three_quarter, (shoulder_to_elbow + arm_length) / 2, arm_length))", "Down the arm."),
    Figure("hem_width", "Sleeve, round the hem", "if(sleeve_ends_short, sleeve_width - 4cm, if(sleeve_ends_three_quarter, (elbow + wrist) / 2 + 9cm, max(wrist + 8cm, hand + 2cm)))", "The hand goes through."),
    Figure("shoulder_dart", "Shoulder dart, at the neck", "if(sleeve_dart, min(shoulder_length * 0.24, 3.2cm), 0cm)", "Takes in what the shoulder is narrower at the neck than over the arm."),
    Figure("underarm_drop", "Underarm, below the shoulder point", "sleeve_width * 0.4", "Solved: both curves are as long as the body's and end level."),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
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
        return self.line.end


def _cut(d: Drafting, upper: Upper, distance: float, name: str) -> _Cut:
    neck = Path((upper.neck,))
    d.need(
        5 <= distance < neck.length - 10,
        "The raglan line must begin on the neckline, between the shoulder and the centre.",
        f"{name}_raglan",
    )
    below, yoke = neck.split_at(neck.length - distance)
    assert below is not None and yoke is not None
    start, curve = below.end, upper.armhole.segments[1]

    def touch(t: float) -> float:
        """0 where the straight line from the neckline touches the armhole."""
        return cross(unit(curve.point(t) - start), curve.direction(t))

    at = root_between(touch, 0.02, 0.9, 1e-9)
    if at is None:
        raise CannotDraft(
            "No line from that place on the neckline runs into the armhole: begin it elsewhere.",
            f"figures.{name}_raglan",
        )
    lower = curve.split(at)[1]
    return _Cut(upper, start, below, yoke, Path((Line(start, lower.start),)), Path((lower,)))


def _on_sleeve(cut: _Cut, spread: float, front: bool) -> Motion:
    """How a yoke comes to lie on the sleeve: the shoulder point at 0, the shoulder up, turned out by ``spread``."""
    up = cut.upper.neck_point - cut.upper.shoulder_point
    aim = -1j * cmath.exp(-1j * spread if front else 1j * spread)
    if front:
        turn = aim * abs(up) / up
        return Motion(turn, -turn * cut.upper.shoulder_point)
    turn = aim * abs(up) / up.conjugate()
    return Motion(turn, -turn * cut.upper.shoulder_point.conjugate(), True)


def _lower(turn: Point, heading: Point, corner: Point, out: float) -> Path:
    return Path((ease_into(turn, heading, corner, complex(out, 0.04), 0.4, 0.36),))


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front, back and sleeve."""
    d = Drafting(context, options)
    slant = side_slant(d)
    front_upper, back_upper = draft_upper(d, slant, slant)
    sides = loose_sides(d, front_upper.underarm, back_upper.underarm)
    front, back = _cut(d, front_upper, d["front_raglan"], "front"), _cut(d, back_upper, d["back_raglan"], "back")
    spread = math.asin(min(d["shoulder_dart"] / 2 / d["shoulder_length"], 0.5))
    on_front, on_back = _on_sleeve(front, spread, True), _on_sleeve(back, spread, False)
    left, right = on_front(front.turn), on_back(back.turn)
    head_left, head_right = (
        motion(cut.turn) - motion(cut.begins) for motion, cut in ((on_front, front), (on_back, back))
    )
    ends_front, ends_back = front.lower.length, back.lower.length
    width = d["sleeve_width"]
    narrowest = (
        right.real - left.real + 0.8 * (ends_front + ends_back)
    )  # narrower, and the curve would bend back on itself
    if width < narrowest and context.sums["sleeve_width"].override is None:
        width = d.settle("sleeve_width", narrowest)

    widest = right.real - left.real + 1.9 * min(ends_front, ends_back)
    if width > widest:
        d.remark("draft.nearest", f"The armhole is too shallow for a sleeve {width / 10:.1f} cm wide; the nearest that works is {widest / 10:.1f} cm. Make the armhole deeper for more.",
                 "figures.sleeve_width")  # fmt: skip
        width = d.settle("sleeve_width", widest)

    def fall(turn: Point, heading: Point, x: float, length: float, out: float) -> float | None:
        return solve_between(
            lambda y: _lower(turn, heading, complex(x, y), out).length - length,
            turn.imag + length * 0.6,
            turn.imag + length * 0.02,
            turn.imag + length * 1.1,
        )

    def level(shift: float) -> tuple[float | None, float | None]:
        return (
            fall(left, head_left, -(width / 2 - shift), ends_front, -1.0),
            fall(right, head_right, width / 2 + shift, ends_back, 1.0),
        )

    def miss(shift: float) -> float:
        one, other = level(shift)
        if one is None or other is None:
            return 1000.0 if (one is None) == (shift < 0) else -1000.0
        return one - other

    most = width * 0.25
    shift = solve_between(miss, 0.0, -most, most)
    drop = None if shift is None else level(shift)[0]
    if shift is None or drop is None:
        raise CannotDraft(
            "The sleeve is too wide or too narrow to reach the body's curve on both sides: look at the upper arm, its ease and the armhole depth.",
            "figures.sleeve_width",
        )
    d.settle("underarm_drop", drop)
    corner_left, corner_right = complex(-(width / 2 - shift), drop), complex(width / 2 + shift, drop)
    lower_left, lower_right = _lower(left, head_left, corner_left, -1.0), _lower(right, head_right, corner_right, 1.0)
    d.need(d["sleeve_long"] > drop + 30, "The sleeve ends above the underarm: make it longer.", "sleeve_long")
    sleeve = _sleeve(d, front, back, (on_front, on_back), (lower_left, lower_right), shift)
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
    shown = (Shown("front", "sleeve", inverse(on_front), clip=LEFT_OF_MIDDLE), Shown("front", "front"),
             Shown("back", "sleeve", inverse(on_back), clip=RIGHT_OF_MIDDLE), Shown("back", "back"))  # fmt: skip
    return d.result(pieces, seams, closures, dimensions, shown, zero="the nape", finishes={"neckline": "facing"})


def _body(d: Drafting, name: str, cut: _Cut, side: Path) -> DraftPiece:
    hem = hem_to_centre(side.end, side.end_direction)
    opens = name == "front" and d.choice("opening") == "open"
    edges = outline(("neckline", cut.below_neck), ("raglan", Path.join([cut.line, cut.lower])), ("side", side), ("hem", hem, "hem"),
                    (f"centre_{name}", [hem.end, cut.upper.centre], "opening" if opens else "fold"))  # fmt: skip
    depth = cut.upper.underarm.imag
    return DraftPiece(name, name.capitalize(), edges, notches=(DraftNotch("raglan", cut.line.length, double=name == "back", name=f"raglan {name}"),),
                 drawn=(level("bust", "bust line", 1j * depth, cut.upper.underarm),),
                 grain=(complex(28, depth), complex(28, hem.end.imag - 40)), cut=2 if opens else 1, pair=opens)  # fmt: skip


def _sleeve(
    d: Drafting, front: _Cut, back: _Cut, motions: tuple[Motion, Motion], lowers: tuple[Path, Path], shift: float
) -> DraftPiece:
    on_front, on_back = motions
    raglan_front = Path.join([lowers[0].reversed(), front.line.moved(on_front).reversed()])
    raglan_back = Path.join([back.line.moved(on_back), lowers[1]])
    neck_front, neck_back = front.yoke_neck.moved(on_front), back.yoke_neck.moved(on_back).reversed()
    corner_left, corner_right = raglan_front.start, raglan_back.end
    low, half = d["sleeve_long"], d["hem_width"] / 2
    d.need(half > 20, "The sleeve's hem comes out narrower than 4 cm.", "hem_width")
    right_hem, left_hem = complex(shift + half, low), complex(shift - half, low)
    edges: list[Edge] = [Edge("raglan_front", raglan_front), Edge("neckline", neck_front)]
    darts: tuple[DraftDart, ...] = ()
    if abs(neck_front.end - neck_back.start) > 1:
        apex = complex(0, d["shoulder_length"] * 0.1)
        edges += [Edge("shoulder_dart", Path.polyline([neck_front.end, apex]), "", "shoulder_dart"),
                  Edge("shoulder_dart", Path.polyline([apex, neck_back.start]), "", "shoulder_dart")]  # fmt: skip
        darts = (DraftDart("shoulder_dart", "shoulder dart"),)
    edges += [Edge("neckline", neck_back), Edge("raglan_back", raglan_back), *outline(
        ("underarm_back", [corner_right, right_hem]),
        ("hem", Path((square_hem(right_hem, right_hem - corner_right, left_hem, corner_left - left_hem),)), "hem"), ("underarm_front", [left_hem, corner_left]))]  # fmt: skip
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
        (level("biceps", "widest line", corner_left, corner_right),),
        grain=(complex(shift, drop), complex(shift, low - 40)),
        cut=2,
        pair=True,
    )


def gates(pattern: Pattern, context: Context) -> Sequence[Gate]:
    """The head through a closed neck; the hand and the arm through the sleeve."""
    sleeve = pattern.piece("sleeve")
    return [
        Gate("arm", "Arm goes into the sleeve", across("sleeve", "biceps").measured(pattern), context.measures["upper_arm"] + 20, "sleeve.raglan_front", "The sleeve's width against the arm and 2 cm."),
        Gate("hand", "Hand goes through the sleeve", sleeve.run_length("hem"), context.measures["hand"], "sleeve.hem", "The sleeve's hem against the hand round the knuckles."),
    ]  # fmt: skip


BLOCK = register_block(
    Block("top.raglan", "Raglan top", "A sleeve that runs up to the neck: easy in the shoulder, for tops and jackets.",
          (*UPPER_NEEDS, *TORSO_NEEDS, "upper_arm", "arm_length", "shoulder_to_elbow", "elbow", "wrist", "hand"), (), OPTIONS, EASE, FIGURES, draft, gates,
          family="Upper body", fits=("loose_woven", "jacket", "knit_relaxed"), schools=SCHOOLS)
)  # fmt: skip
