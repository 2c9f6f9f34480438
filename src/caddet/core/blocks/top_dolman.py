"""``top.dolman``: front and back with the sleeve in one, slanted or curved on top, with a cuff; wide neck or cowl.

Drafted from elbow to elbow over the shoulders: the top line from the neck to the sleeve's end is *solved* so that
twice the neck's width and the top line are the reach wanted. Front and back share all lines but the neckline.
"""

from __future__ import annotations

import math

from caddet.core.drafting.bands import band_piece, ring_seam
from caddet.core.drafting.curves import bend, ease_into, hem_sinks, hem_to_centre
from caddet.core.drafting.declare import edge, from_fold, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, level
from caddet.core.drafting.kit import Drafting, FitOf, outline, rectangle
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Line, Point, unit
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.seams import JoinKind, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import say

OPTIONS = (
    Parameter("top", "Top line", "choice", "slanted", choices=(("slanted", "Slanted"), ("curved", "Curved")),
              why="Slanted goes straight down from the neck; curved follows the shoulder and then the arm."),
    Parameter("neck", "Neck", "choice", "wide", choices=(("wide", "Wide"), ("cowl", "Cowl collar")), why="A wide neckline to turn in, or a long soft collar that falls in folds."),
    Parameter("body_length", "Length, shoulder to hem", "length", 620.0, 250.0, 1200.0, begins="clamp(nape_to_waist + waist_to_hip + 0.5cm, 25cm, 120cm)"),
    Parameter("slope", "Slope of the arm", "length", 76.0, 0.0, 400.0, why="How far the sleeve's end lies below the neck: less lifts the arm freely, more lies smoother when it hangs."),
    Parameter("wide", "Neck wider than the neck, on each side", "length", 60.0, 0.0, 160.0),
    Parameter("cuff", "Cuff, length", "length", 200.0, 0.0, 350.0, why="From the sleeve's end at the elbow down the arm, narrower towards the wrist; 0 for a hem."),
    Parameter("collar", "Cowl, finished height", "length", 220.0, 60.0, 400.0, only=("neck", ("cowl",))),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 160.0, "bust"),
    EaseLevel("hip", "Hip", 80.0, "hip"),
    EaseLevel("reach", "Elbow to elbow", 40.0, "elbow_to_elbow"),
)
NEEDS = (
    "bust",
    "hip",
    "neck",
    "elbow_to_elbow",
    "elbow",
    "wrist",
    "hand",
    "nape_to_waist",
    "waist_to_hip",
    "scye_depth",
    "head",
    "shoulder_to_elbow",
    "arm_length",
)
FIGURES = (
    Figure("bust_round", "Bust, finished", "bust + ease_bust", "The girth across under the arms."),
    Figure("hem_round", "Hem, all round", "max(hip + ease_hip - 8cm, bust * 0.95)", "A dolman is drawn in at the hem, so that the width blouses."),
    Figure("reach", "Elbow to elbow, finished", "max(elbow_to_elbow + ease_reach, bust_round / 2 + 34cm)",
           "Over the shoulders, arms held out; and a little, so that it does not pull. Never so short that it ends inside the body's width."),
    Figure("neck_width", "Neck, half its width", "neck / 5 + wide", "A wide neck: the head goes through, the shoulder shows."),
    Figure("arm_slope", "Sleeve end, below the neck", "min(slope, (reach / 2 - neck_width) * 0.42)", "As chosen, but never so steep that the sleeve ends in the body."),
    Figure("back_neck", "Neck depth, back", "1.5cm + wide * 0.15", "The back stays high."),
    Figure("front_neck", "Neck depth, front", "if(neck_cowl, back_neck + 7in, neck / 10 + wide * 0.8)", "Lower in front than at the back; a cowl wants about 7 inches to fall, 4 to 5 alone is snug."),
    Figure("sleeve_end", "Sleeve end, from the middle", "reach / 2 - 1cm", "Solved: along the top it is half the reach."),
    Figure("end_width", "Sleeve, round its end", "elbow + 8cm", "Easy round the bent elbow."),
    Figure("underarm_level", "Underarm, below the neck", "scye_depth + 9cm", "Deep: the sleeve is cut in one with the body."),
    Figure("cuff_length", "Cuff, round", "max(elbow * 0.95, hand + 2cm)", "From the elbow down the lower arm."),
    Figure("cuff_end", "Cuff, round at the wrist", "max(elbow + (wrist - elbow) * min(cuff / max(arm_length - shoulder_to_elbow, 5cm), 1) + 1cm, if(stretch > 0.1, hand / (1 + stretch), hand + 1cm))",
           "The cuff tapers from the elbow towards the wrist; the hand has to go through."),
    Figure("cowl_length", "Cowl collar, round", "head + 1cm", "As long as the head is round, with its seam at the centre back; never longer than the neckline, nor so short that it puckers or the cloth can't be stretched to it."),
)  # fmt: skip


def _top(d: Drafting, x: float) -> Path:
    start, end = complex(d["neck_width"], 0), complex(x, d["arm_slope"])
    if d.choice("top") == "slanted":
        return Path((Line(start, end),))
    shoulder = unit(complex(1, 0.12))
    arm = unit(complex(end.real - start.real, max(end.imag * 1.35, 1.0)))
    return Path((ease_into(start, shoulder, end, arm, 0.42, 0.36),))


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front, back, cuff and collar."""
    d = Drafting(context, options)
    neck = d["neck_width"]
    half_reach = d["reach"] / 2
    d.need(neck + 80 < half_reach, "The neck is so wide that no sleeve is left.", "neck_width")
    d.need(d["arm_slope"] < (half_reach - neck) * 0.85, "The sleeve slopes more than it is long.", "arm_slope")
    d.solve(
        "sleeve_end",
        lambda x: neck + _top(d, x).length - half_reach,
        neck + 30,
        half_reach + 50,
        "no sleeve end makes the top as long as wanted.",
    )
    top = _top(d, d["sleeve_end"])
    half_end = d["end_width"] / 2
    low_end = top.end + top.end_direction * 1j * half_end
    low, under = d.size("body_length"), d["bust_round"] / 4
    d.need(half_end > 30, say("The sleeve's end comes out narrower than {6 cm}."), "end_width")
    d.need(
        low > d["underarm_level"] + 60,
        say("The hem lies less than {6 cm} below the underarm: make it longer."),
        "recipe.options.body_length",
    )
    d.need(
        low_end.real > under + 15,
        "The sleeve ends before the side begins: look at elbow to elbow and the bust's ease.",
        "sleeve_end",
    )
    d.need(low_end.imag < low - 40, "The sleeve slopes below the hem.", "recipe.options.slope")
    side = _underside(d, top, low_end)
    pieces = [_body(d, name, top, low_end, side) for name in ("front", "back")]
    seams = [
        sew("top", "Top of sleeve and shoulder", (edge("front", "top"),), (edge("back", "top"),), corners=True),
        sew("side", "Underarm and side", (edge("front", "side"),), (edge("back", "side"),)),
    ]
    closures = [
        promise(
            "reach",
            "Reach closes on the body",
            (run("front", "top", worn=True), from_fold("front", "top", 0.0)),
            d["reach"],
            "both tops and the neck between them",
        ),
        promise(
            "bust",
            "Bust is as wide as wanted",
            (girth("bust"),),
            d["bust_round"],
            "where the underarm curve has become the side",
        ),
        promise(
            "side", "Undersides are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"
        ),
    ]
    around_neck = 2 * (pieces[0].run_length("neckline") + pieces[1].run_length("neckline"))
    if d.size("cuff") > 0:
        pieces.append(_cuff(d))
        seams.append(
            sew(
                "cuff",
                "Cuff on the sleeve",
                (edge("cuff", "sleeve"),),
                (edge("front", "end"), edge("back", "end", backwards=True)),
                "gathered",
                d["end_width"] / d["cuff_length"],
            )
        )
        seams.append(ring_seam("cuff", "Cuff"))
    fits = []
    if d.choice("neck") == "cowl":
        least = max(
            0.8, 1 / (1 + d.context.cloth.stretch)
        )  # of the neckline, as far as the cloth can be stretched to it
        collar = d.settle("cowl_length", min(max(d["cowl_length"], least * around_neck), around_neck))
        pieces.append(_collar(d, collar))
        seams += _collar_seams(around_neck / collar)
        along = (run("collar", "neckline"),)
        closures.append(promise("collar", "Cowl is as long as wanted", along, collar, "once round the head"))
        share = collar / around_neck
        fits = [FitOf("collar", (NECKLINE,), lambda lengths: _collar(d, lengths[0] * share))]
    shown = (Shown("front", "front"), Shown("back", "back"))
    return d.result(pieces, seams, closures, _dimensions(d, side), shown, fits, "the neck point")


def _collar_seams(stretch: float) -> list[Seam]:
    """The collar on the neckline, which is so many times as long, and its own ring."""
    stretched = stretch > 1.001
    kind: JoinKind = "stretched" if stretched else "plain"
    collar = (edge("collar", "neckline"),)
    return [
        sew("collar", "Cowl on the neckline", collar, NECKLINE, kind, stretch if stretched else 0.0),
        ring_seam("collar", "Cowl collar, centre back"),
    ]


def _underside(d: Drafting, top: Path, low_end: Point) -> Path:
    """From the sleeve's end, square to it, round under the arm into the side, straight for the last 6 inches."""
    low, under = d.size("body_length"), d["bust_round"] / 4
    foot = complex(d["hem_round"] / 4, low)
    level = max(d["underarm_level"] + 50, low_end.imag + 0.75 * (low_end.real - under))
    level = min(level, low - min(152.0, 0.3 * (low - low_end.imag)))
    turn = complex(under, level)
    foot -= 1j * hem_sinks(foot - turn, foot.real)
    return Path((bend(low_end, -top.end_direction, turn, unit(foot - turn), 0.62, 0.62), Line(turn, foot)))


def _dimensions(d: Drafting, side: Path) -> tuple[Dimension, ...]:
    """Where the figures stand; the bust's is where the underarm has become the side."""
    neck, low, turn = d["neck_width"], d.size("body_length"), side.segments[0].end
    arm = d["arm_slope"] * 0.6 + 60
    return (
        Dimension("sleeve_end", "front", complex(0, arm), complex(d["sleeve_end"], arm)),
        Dimension("neck_width", "back", complex(0, d["back_neck"] + 14), complex(neck, d["back_neck"] + 14)),
        Dimension("bust_round", "front", complex(0, turn.imag), turn),
        Dimension("hem_round", "front", complex(0, low - 16), complex(d["hem_round"] / 4, low - 16)),
        Dimension("front_neck", "front", complex(20, 20), complex(20, d["front_neck"])),
    )


NECKLINE = (
    edge("back", "neckline", mirrored=True),
    edge("front", "neckline", backwards=True, mirrored=True),
    edge("front", "neckline"),
    edge("back", "neckline", backwards=True),
)


def _cuff(d: Drafting) -> DraftPiece:
    """From the sleeve's end to its own hem, narrower towards the wrist; once round the arm."""
    top, low, deep = d["cuff_length"], d["cuff_end"], d.size("cuff")
    if low > top * 0.99:
        return rectangle(
            "cuff",
            "Cuff",
            top,
            deep,
            ("sleeve", "end", "hem", "start"),
            ("", "", "hem", ""),
            cut=2,
            remark="most stretch goes round the arm",
        )
    # a part of a ring, so that both ends are square to its edges
    angle = (top - low) / deep
    outer = Arc(0j, top / angle, -math.pi / 2 - angle / 2, angle)
    inner = Arc(0j, low / angle, -math.pi / 2 + angle / 2, -angle)
    edges = outline(
        ("sleeve", Path((outer,))),
        ("end", [outer.end, inner.start]),
        ("hem", Path((inner,)), "hem"),
        ("start", [inner.end, outer.start]),
    )
    high = -top / angle
    return DraftPiece(
        "cuff",
        "Cuff",
        edges,
        notches=(DraftNotch("sleeve", top / 2, name="shoulder line"),),
        grain=(complex(-top * 0.2, high + deep * 0.5), complex(top * 0.2, high + deep * 0.5)),
        cut=2,
        remark="most stretch goes round the arm",
        grain_kind="stretch",
    )


def _collar(d: Drafting, around: float) -> DraftPiece:
    """The cowl collar for a neckline of that length."""
    remark = "soft, without interfacing"
    return band_piece(
        "collar", "Cowl collar", around, 2 * d.size("collar"), run="neckline", remark=remark, stretched=True
    )


def _body(d: Drafting, name: str, top: Path, low_end: Point, side: Path) -> DraftPiece:
    depth = d[f"{name}_neck"]
    neck = bend(
        complex(0, depth), 1 + 0j, top.start, unit(top.start_direction * -1j), 0.56, 0.9 if name == "back" else 0.62
    )
    hem = hem_to_centre(side.end, side.end_direction)
    end_finish: Finish = "" if d.size("cuff") > 0 else "hem"
    neck_finish: Finish = "" if d.choice("neck") == "cowl" else "turned"
    edges = (
        *outline(("neckline", Path((neck,)), neck_finish)),
        Edge("top", top, role="shoulder"),
        Edge("end", Path.polyline([top.end, low_end]), end_finish, role="cuff"),
        *outline(
            ("side", side),
            ("hem", hem, "hem"),
            (f"centre_{name}", [hem.end, neck.start], "fold"),
        ),
    )
    turn = side.segments[0].end
    return DraftPiece(
        name,
        name.capitalize(),
        edges,
        notches=(
            DraftNotch("side", side.segments[0].length, name="side"),
            DraftNotch("top", top.length / 2, name="top"),
        ),
        drawn=(level("bust", "bust line", 1j * turn.imag, turn),),
        grain=(complex(30, d["underarm_level"]), complex(30, hem.end.imag - 50)),
    )


PASSES = (
    Passes("head", "neck", label="Head goes through the neck", why="The neckline against the head. If it is less, make the neck wider."),
    Passes("hand", "cuff", label="Hand goes through the sleeve", why="Cuff or sleeve end against the hand round the knuckles."),
)  # fmt: skip


BLOCK = register_block(
    Block(
        "top.dolman",
        "Dolman top",
        "Front and back with the sleeve cut in one: loose under the arm, drawn in at the hem.",
        NEEDS,
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        PASSES,
        family="Upper body",
        fits=("knit_relaxed", "loose_woven"),
        wants=("drape",),
    )
)
