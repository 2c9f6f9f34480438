"""``top.cowl``: a front that falls in folds at the neck, with a grown-on facing; the back straight or on the bias.

The front of a plain top is swung out about its hem at the centre, until the line from the shoulder square to the
centre is as long as the fold wants: from shoulder to shoulder down over the drop chosen. *Solved* by that swing;
shoulder, armhole and side are only moved, so that they still fit the back. Common practice, no source.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import replace

from caddet.core.blocks.bodice_darted import ARM, ELBOW_LINE, HAND
from caddet.core.drafting.cap import (
    SLEEVE_NEEDS,
    Cap,
    hung_sleeve,
    sleeve_closures,
    sleeve_dimensions,
    sleeve_figures,
    sleeve_fit,
    sleeve_options,
    sleeve_piece,
    sleeve_seams,
    solve_cap,
)
from caddet.core.drafting.curves import bend, hem_to_centre
from caddet.core.drafting.declare import across, at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, fold_line, level
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.drafting.torso import TORSO_FIGURES, TORSO_NEEDS, loose_sides, side_slant
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, UPPER_NEEDS, Upper, draft_upper, upper_figures, upper_levels
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.edges import Finish
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block

OPTIONS = (
    SCHOOL,
    Parameter("drop", "Drop of the cowl", "length", 160.0, 40.0, 400.0, why="How far the lowest fold hangs below the side of the neck."),
    Parameter("folds", "Fullness of the fold", "number", 1.15, 1.0, 1.8, why="1 lies just on the body; more falls in more folds."),
    Parameter("body_length", "Length, nape to hem", "length", 640.0, 250.0, 1200.0, begins="clamp(nape_to_waist + waist_to_hip + 2.5cm, 25cm, 120cm)"),
    Parameter("neck_wider", "Neckline larger by", "length", 160.0, 40.0, 500.0, why="The cowl hangs from further out on the shoulder."),
    Parameter("facing", "Facing, depth", "length", 140.0, 60.0, 220.0, why="5 to 6 inches: its weight pulls the fold down and the wrong side is not seen."),
    Parameter("back", "Back cut", "choice", "straight", choices=(("straight", "On the straight grain"), ("bias", "On the bias")), why="On the bias it follows the body like the front; on the straight it holds the shape."),
    Parameter("sleeve", "With a sleeve", "flag", False, why="A set-in sleeve, fitted to the armholes."),
    *sleeve_options("sleeve", True),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 80.0, "bust"),
    EaseLevel("hip", "Hip", 60.0, "hip"),
    EaseLevel("upper_arm", "Upper arm", 60.0, "upper_arm"),
)
FIGURES = (
    *upper_figures(neck="neck + neck_wider", armhole_drop="ease_bust * 0.1 + 0.5cm", difference="0.5cm"),
    *TORSO_FIGURES,
    *sleeve_figures("1.5cm"),
    ELBOW_LINE,
    Figure("fold_half", "Cowl, half its fold", "sqrt(front_neck_width * front_neck_width + drop * drop) * folds", "From the shoulder down to the middle of the lowest fold."),
    Figure("swing", "Centre front, swung out at the neck", "fold_half - front_neck_width", "Solved: square to the centre, the fold is as long as wanted."),
    Figure("facing_shoulder", "Facing, on the shoulder", "min(4cm, shoulder_length * 0.6)", "Caught in the shoulder seam, so that it stays inside."),
    Figure("bias_square", "Square of cloth for the front on the bias", "0.95 * (body_length + 8cm)", "The front with its fold across a square, from corner to corner; measured on the draft."),
)  # fmt: skip


def _swung(upper: Upper, hem: Point, swing: float) -> Motion:
    """The turn about the centre of the hem that brings the neck point out by ``swing`` mm."""
    reach = abs(upper.neck_point - hem)
    start = math.asin(upper.neck_point.real / reach)
    goal = math.asin(min((upper.neck_point.real + swing) / reach, 0.95))
    return Motion.rotation(goal - start, hem)


def _bias_square(front: DraftPiece) -> float:
    """The side of the square that the whole front needs, laid with its fold across it at 45° (mm)."""
    half = Path.join(edge.path for edge in front.edges).flattened(1.0)
    turned = [p * cmath.exp(0.25j * math.pi) for one in half for p in (one, complex(-one.real, one.imag))]
    sides = [max(values) - min(values) for values in ([p.real for p in turned], [p.imag for p in turned])]
    return max(sides)


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front with its facing, back, and the sleeve when it is wanted."""
    d = Drafting(context, options)
    slant = side_slant(d)
    front, back = draft_upper(d, slant, slant)
    sides = loose_sides(d, front.underarm, back.underarm)
    hem = hem_to_centre(sides.front.end, sides.front.end_direction)
    most = (hem.end.imag - front.neck_point.imag) * 0.62
    d.need(
        d["swing"] < most or context.sums["swing"].override is not None,
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
    pieces = [_front(d, front, sides.front, move), _back(d, back, sides.back)]
    d.settle("bias_square", _bias_square(pieces[0]))
    seams = [
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew("shoulder", "Shoulder seam", (edge("front", "shoulder"),), (edge("back", "shoulder"),), corners=True),
    ]
    closures = [
        promise("fold", "Fold is as long as wanted", (across("front", "fold_line", 2),), 2 * d["fold_half"], "from shoulder to shoulder along the fold"),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"),
        promise("shoulder", "Shoulders are equal", (run("front", "shoulder"), run("back", "shoulder", -1)), 0.0, "front less back"),
        promise("armhole", "Back armhole is the longer one", (run("back", "armhole"), run("front", "armhole", -1)), d["armhole_difference"], "back less front"),
        at_least("bust", "Bust goes round the body", (girth("bust"),), d["bust_round"], "from the fold to the underarm; the front is wider there by the swing"),
    ]  # fmt: skip
    neck = move(front.neck_point)
    dimensions = [
        Dimension("fold_half", "front", complex(0, neck.imag), neck),
        Dimension("back_bust", "back", 1j * back.underarm.imag, back.underarm),
        Dimension("swing", "front", complex(0, neck.imag + 40), complex(max(d["swing"], 20), neck.imag + 40)),
    ]
    shown = [Shown("front", "front"), Shown("back", "back")]
    finishes: dict[str, Finish] = {"facing_shoulder": "band", "armhole": "facing"}
    if not d.flag("sleeve"):
        return d.result(pieces, seams, closures, dimensions, shown, zero="the nape", finishes=finishes)
    cap = _cap(d, front, back)
    pieces.append(sleeve_piece(d, cap, front.lower_armhole, back.lower_armhole))
    seams += sleeve_seams(d, "front", "back")
    closures += sleeve_closures(d, front.armhole.length + back.armhole.length)
    dimensions += sleeve_dimensions(cap, d["sleeve_long"] - cap.height)
    as_worn = replace(front, shoulder_point=move(front.shoulder_point), underarm=move(front.underarm))
    shown[:0] = hung_sleeve(cap, as_worn, back)
    return d.result(pieces, seams, closures, dimensions, shown, [sleeve_fit(d, front, back)], "the nape", finishes)


def _cap(d: Drafting, front: Upper, back: Upper) -> Cap:
    """The cap for both armholes; the front's is only turned with the swing, and keeps its length."""
    fronts, backs = front.armhole.length, back.armhole.length
    d.solved.update(front_armhole=fronts, back_armhole=backs)
    cap = solve_cap(d, fronts, backs, (front.depth + back.depth) / 2)
    d.settle("shoulder_to_elbow_line", d["shoulder_to_elbow_line"] + d.sums["cap_height"].value - cap.height)
    return cap


def _bias(middle: Point, size: float) -> tuple[Point, Point]:
    reach = size / 2 * unit(1 + 1j)
    return middle - reach, middle + reach


def _front(d: Drafting, upper: Upper, side: Path, move: Motion) -> DraftPiece:
    """On the fold; above the fold line the facing, mirrored at the shoulder and curving down to the centre."""
    neck, shoulder_point = move(upper.neck_point), move(upper.shoulder_point)
    high, deep = neck.imag, d.size("facing")
    along = unit(shoulder_point - neck).conjugate()  # the shoulder, mirrored in the fold line
    caught = neck + along * d["facing_shoulder"]
    top = complex(0, high - deep)
    down_in = unit(along * -1j)
    rim = bend(top, 1 + 0j, caught, unit(complex(0.5, 1)) if caught.imag > top.imag else down_in, 0.55)
    swung_side = side.moved(move)
    hem = hem_to_centre(swung_side.end, swung_side.end_direction)
    edges = outline(
        ("facing_edge", Path((rim,)), "turned"),
        ("facing_shoulder", [caught, neck]),
        ("shoulder", [neck, shoulder_point]),
        ("armhole", upper.armhole.moved(move)),
        ("side", swung_side),
        ("hem", hem, "hem"),
        ("centre_front", [hem.end, top], "fold"),
    )
    marks = (
        fold_line("fold_line", "cowl folds here", complex(0, high), neck),
        level("bust", "bust line", _to_fold(move, upper.bust_line), move(upper.bust_line[1])),
    )
    armhole = upper.armhole
    return DraftPiece(
        "front",
        "Cowl front",
        edges,
        notches=(
            DraftNotch("armhole", armhole.length - upper.lower_armhole, name="armhole front"),
            DraftNotch("side", side.length / 2, name="side"),
        ),
        drawn=marks,
        grain=_bias(complex(neck.real * 0.45, (high + hem.end.imag) / 2), 160.0),
        grain_kind="bias",
        remark="on the bias: open it out and cut it single",
    )


def _to_fold(move: Motion, line: tuple[Point, Point]) -> Point:
    """Where a level, swung out with the front, meets the fold."""
    a, b = move(line[0]), move(line[1])
    return a - (b - a) * (a.real / (b - a).real)


def _back(d: Drafting, upper: Upper, side: Path) -> DraftPiece:
    hem = hem_to_centre(side.end, side.end_direction)
    edges = outline(
        ("neckline", Path((upper.neck,)), "turned"),
        ("shoulder", Path((upper.shoulder,))),
        ("armhole", upper.armhole),
        ("side", side),
        ("hem", hem, "hem"),
        ("centre_back", [hem.end, upper.centre], "fold"),
    )
    depth = upper.underarm.imag
    bias = d.choice("back") == "bias"
    grain = (
        _bias(complex(upper.underarm.real * 0.45, depth + 120), 160.0)
        if bias
        else (complex(28, depth), complex(28, hem.end.imag - 40))
    )
    return DraftPiece(
        "back",
        "Back",
        edges,
        notches=(
            DraftNotch("armhole", upper.armhole.length - upper.lower_armhole, double=True, name="armhole back"),
            DraftNotch("side", side.length / 2, name="side"),
        ),
        drawn=upper_levels("back", upper),
        grain=grain,
        grain_kind="bias" if bias else "along",
        remark="on the bias: open it out and cut it single" if bias else "",
    )


HEAD = Passes(
    "head",
    of=(across("front", "fold_line", 2), run("back", "neckline", worn=True)),
    place="front.facing_edge",
    label="Head goes through the neck",
    why="The cowl's fold and the back neckline against the head.",
)


BLOCK = register_block(
    Block(
        "top.cowl",
        "Cowl top",
        "A front on the bias that falls in folds at the neck, with its facing grown on; with or without sleeves.",
        (*UPPER_NEEDS, *TORSO_NEEDS, *SLEEVE_NEEDS, "head"),
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        (HEAD, ARM, HAND),
        family="Upper body",
        fits=("fitted_woven", "knit_relaxed"),
        wants=("drape", "bias"),
        schools=SCHOOLS,
    )
)
