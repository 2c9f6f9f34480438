"""``top.cowl``: a front that falls in folds at the neck, with a grown-on facing; the back straight or on the bias.

The front of a plain top is swung out about its hem at the centre, until the line from the shoulder square to the
centre is as long as the fold wants: from shoulder to shoulder down over the drop chosen. *Solved* by that swing;
shoulder, armhole and side are only moved, so that they still fit the back. Common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from caddet.core.drafting.curves import bend
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.drafting.torso import TORSO_FIGURES, TORSO_NEEDS, hem_of, loose_sides, side_slant
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, UPPER_NEEDS, Upper, draft_upper, upper_figures
from caddet.core.figures.sums import Figure, Sums
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, smooth, unit
from caddet.core.pattern.pattern import Closure, Dimension, Pattern, Shown, Term
from caddet.core.pattern.piece import Mark, Notch, Piece
from caddet.core.pattern.seams import EdgeRef, Seam
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    SCHOOL,
    Parameter("drop", "Drop of the cowl", "length", 160.0, 40.0, 400.0, why="How far the lowest fold hangs below the side of the neck."),
    Parameter("folds", "Fullness of the fold", "number", 1.15, 1.0, 1.8, why="1 lies just on the body; more falls in more folds."),
    Parameter("body_length", "Length, nape to hem", "length", 640.0, 250.0, 1200.0),
    Parameter("neck_wider", "Neckline larger by", "length", 160.0, 40.0, 500.0, why="The cowl hangs from further out on the shoulder."),
    Parameter("facing", "Facing, depth", "length", 140.0, 60.0, 220.0, why="5 to 6 inches: its weight pulls the fold down and the wrong side is not seen."),
    Parameter("back", "Back cut", "choice", "straight", choices=(("straight", "On the straight grain"), ("bias", "On the bias")), why="On the bias it follows the body like the front; on the straight it holds the shape."),
)  # fmt: skip
EASE = (EaseLevel("bust", "Bust", 80.0, "bust"), EaseLevel("hip", "Hip", 60.0, "hip"))
FIGURES = (
    *upper_figures(neck="neck + neck_wider", armhole_drop="ease_bust * 0.1 + 0.5cm", difference="0.5cm"),
    *TORSO_FIGURES,
    Figure("fold_half", "Cowl, half its fold", "sqrt(front_neck_width * front_neck_width + drop * drop) * folds", "From the shoulder down to the middle of the lowest fold."),
    Figure("swing", "Centre front, swung out at the neck", "fold_half - front_neck_width", "Solved: square to the centre, the fold is as long as wanted."),
    Figure("facing_shoulder", "Facing, on the shoulder", "min(4cm, shoulder_length * 0.6)", "Caught in the shoulder seam, so that it stays inside."),
    Figure("bias_square", "Square of cloth for the front on the bias", "36in", "The front laid at 45° needs a square of about a yard; measured on the draft."),
)  # fmt: skip


def _swung(upper: Upper, hem: Point, swing: float) -> Motion:
    """The turn about the centre of the hem that brings the neck point out by ``swing`` mm."""
    reach = abs(upper.neck_point - hem)
    start = math.asin(upper.neck_point.real / reach)
    goal = math.asin(min((upper.neck_point.real + swing) / reach, 0.95))
    return Motion.rotation(goal - start, hem)


def draft(sums: Sums, options: Values) -> Pattern:
    """Front with its facing, and back."""
    d = Drafting(sums, options)
    slant = side_slant(d)
    front, back = draft_upper(d, slant, slant)
    sides = loose_sides(d, front.underarm, back.underarm)
    hem = hem_of(sides.front, d["body_drop"])
    most = (hem.end.imag - front.neck_point.imag) * 0.62
    d.need(
        d["swing"] < most or sums["swing"].override is not None,
        "The drop is deeper than this length of front can swing to: make it less, or the top longer.",
        "recipe.options.drop",
    )
    d.solve(
        "swing",
        lambda v: _swung(front, hem.end, v)(front.neck_point).real - d["fold_half"],
        0.0,
        most,
        "the front can't swing out so far.",
    )
    move = _swung(front, hem.end, d["swing"])
    pieces = [_front(d, front, sides.front, move, hem), _back(d, back, sides.back)]
    left, top, right, bottom = pieces[0].outline().bounds()
    d.settle("bias_square", (2 * (right - max(left, 0.0)) + (bottom - top)) / math.sqrt(2))
    one = EdgeRef
    seams = (
        Seam("A", "Side seam", (one("front", "side"),), (one("back", "side"),)),
        Seam("B", "Shoulder seam", (one("front", "shoulder"),), (one("back", "shoulder"),), corners=True),
    )
    closures = (
        Closure("fold", "Fold is as long as wanted", (Term("front", "fold_line", 2, True),), 2 * d["fold_half"], "from shoulder to shoulder along the fold"),
        Closure("side", "Side seams are equal", (Term("front", "side"), Term("back", "side", -1)), 0.0, "front less back"),
        Closure("shoulder", "Shoulders are equal", (Term("front", "shoulder"), Term("back", "shoulder", -1)), 0.0, "front less back"),
        Closure("armhole", "Back armhole is the longer one", (Term("back", "armhole"), Term("front", "armhole", -1)), d["armhole_difference"], "back less front"),
        Closure("bust", "Bust closes on the body", (Term("front", "bust", 2, True), Term("back", "bust", 2, True)), d["bust_round"], "along the bust line, as it was before the swing"),
    )  # fmt: skip
    neck = move(front.neck_point)
    dimensions = (
        Dimension("fold_half", "front", complex(0, neck.imag), neck),
        Dimension("back_bust", "back", 1j * back.underarm.imag, back.underarm),
        Dimension("swing", "front", complex(0, neck.imag + 40), complex(max(d["swing"], 20), neck.imag + 40)),
    )
    return d.pattern(pieces, seams, closures, dimensions, (Shown("front", "front"), Shown("back", "back")))


def _bias(middle: Point, size: float) -> tuple[Point, Point]:
    reach = size / 2 * unit(1 + 1j)
    return middle - reach, middle + reach


def _front(d: Drafting, upper: Upper, side: Path, move: Motion, old_hem: Path) -> Piece:
    """On the fold; above the fold line the facing, mirrored at the shoulder and curving down to the centre."""
    neck, shoulder_point = move(upper.neck_point), move(upper.shoulder_point)
    level, deep = neck.imag, d.size("facing")
    along = unit(shoulder_point - neck).conjugate()  # the shoulder, mirrored in the fold line
    caught = neck + along * d["facing_shoulder"]
    top = complex(0, level - deep)
    down_in = unit(along * -1j)
    edge = bend(top, 1 + 0j, caught, unit(complex(0.5, 1)) if caught.imag > top.imag else down_in, 0.55)
    swung_side = side.moved(move)
    hem = Path((smooth(swung_side.end, swung_side.end_direction * 1j, old_hem.end, -1 + 0j),))
    edges = outline(
        ("facing_edge", Path((edge,)), "edge"), ("facing_shoulder", [caught, neck]), ("shoulder", [neck, shoulder_point]), ("armhole", upper.armhole.moved(move)),
        ("side", swung_side), ("hem", hem, "hem"), ("centre_front", [hem.end, top], "fold"),
    )  # fmt: skip
    depth = upper.underarm.imag
    marks = (
        Mark("fold_line", "cowl folds here", (Path.polyline([complex(0, level), neck]),)),
        Mark("bust", "bust line", (Path.polyline([1j * depth, upper.underarm]).moved(move),)),
    )
    armhole = upper.armhole
    return Piece("front", "Cowl front", edges, notches=(Notch("armhole", armhole.length - upper.lower_armhole, name="armhole front"),), marks=marks,
                 grain=_bias(complex(neck.real * 0.45, (level + hem.end.imag) / 2), 160.0), anchor="centre_front", remark="on the bias: open it out and cut it single")  # fmt: skip


def _back(d: Drafting, upper: Upper, side: Path) -> Piece:
    hem = hem_of(side, d["body_drop"])
    edges = outline(("neckline", Path((upper.neck,)), "edge"), ("shoulder", Path((upper.shoulder,))), ("armhole", upper.armhole), ("side", side), ("hem", hem, "hem"),
                    ("centre_back", [hem.end, upper.centre], "fold"))  # fmt: skip
    depth = upper.underarm.imag
    bias = d.choice("back") == "bias"
    grain = (
        _bias(complex(upper.underarm.real * 0.45, depth + 120), 160.0)
        if bias
        else (complex(28, depth), complex(28, hem.end.imag - 40))
    )
    return Piece("back", "Back", edges, notches=(Notch("armhole", upper.armhole.length - upper.lower_armhole, double=True, name="armhole back"),),
                 marks=(Mark("bust", "bust line", (Path.polyline([1j * depth, upper.underarm]),)),), grain=grain, anchor="centre_back",
                 remark="on the bias: open it out and cut it single" if bias else "")  # fmt: skip


def gates(pattern: Pattern, sums: Sums, measures: Mapping[str, float]) -> Sequence[Gate]:
    """The head through the fold and the back neckline; the arm in the armhole."""
    neck = 2 * sums["fold_half"].value + 2 * pattern.piece("back").run_length("neckline")
    around = pattern.piece("front").run_length("armhole") + pattern.piece("back").run_length("armhole")
    return (
        Gate(
            "head",
            "Head goes through the neck",
            neck,
            measures["head"],
            "front.facing_edge",
            "The cowl's fold and the back neckline against the head.",
        ),
        Gate(
            "arm",
            "Arm goes into the armhole",
            around,
            measures["upper_arm"] * 1.1,
            "front.armhole",
            "The armhole against the arm and a tenth more.",
        ),
    )


BLOCK = register_block(
    Block("top.cowl", "Cowl top", "A front on the bias that falls in folds at the neck, with its facing grown on; no sleeves.",
          (*UPPER_NEEDS, *TORSO_NEEDS, "head", "upper_arm"), (), OPTIONS, EASE, FIGURES, draft, gates,
          family="Upper body", fits=("fitted_woven", "knit_relaxed"), wants=("drape", "bias"), schools=SCHOOLS)
)  # fmt: skip
