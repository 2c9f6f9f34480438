"""``top.dolman``: front and back with the sleeve in one, slanted or curved on top, with a cuff; wide neck or cowl.

Drafted from elbow to elbow over the shoulders: the top line from the neck to the sleeve's end is *solved* so that
twice the neck's width and the top line are the reach wanted. Front and back share all lines but the neckline.
"""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.drafting.bands import band_piece, ring_seam
from caddet.core.drafting.curves import bend, ease_into
from caddet.core.drafting.declare import across, at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftPiece, level, line
from caddet.core.drafting.kit import Drafting, FitOf, outline
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point, smooth, unit
from caddet.core.pattern.edges import Finish
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    Parameter("top", "Top line", "choice", "slanted", choices=(("slanted", "Slanted"), ("curved", "Curved")),
              why="Slanted goes straight down from the neck; curved follows the shoulder and then the arm."),
    Parameter("neck", "Neck", "choice", "wide", choices=(("wide", "Wide"), ("cowl", "Cowl collar")), why="A wide neckline to turn in, or a long soft collar that falls in folds."),
    Parameter("body_length", "Length, shoulder to hem", "length", 620.0, 250.0, 1200.0),
    Parameter("slope", "Slope of the arm", "length", 120.0, 0.0, 400.0, why="How far the sleeve's end lies below the neck: less lifts the arm freely, more lies smoother when it hangs."),
    Parameter("wide", "Neck wider than the neck, on each side", "length", 60.0, 0.0, 160.0),
    Parameter("cuff", "Cuff, finished depth", "length", 120.0, 0.0, 350.0, why="A separate band from the sleeve's end; 0 for a hem."),
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
    Figure("front_neck", "Neck depth, front", "neck / 10 + wide * 0.8", "Lower in front than at the back."),
    Figure("back_neck", "Neck depth, back", "1.5cm + wide * 0.15", "The back stays high."),
    Figure("sleeve_end", "Sleeve end, from the middle", "reach / 2 - 1cm", "Solved: along the top it is half the reach."),
    Figure("end_width", "Sleeve, round its end", "elbow + 8cm", "Easy round the bent elbow."),
    Figure("underarm_level", "Underarm, below the neck", "scye_depth + 9cm", "Deep: the sleeve is cut in one with the body."),
    Figure("cuff_length", "Cuff, round", "max(elbow * 0.95, hand + 2cm)", "From the elbow down the lower arm."),
    Figure("cowl_length", "Cowl collar, round", "neck", "Solved from the neckline: as long as it is."),
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
    down = top.end_direction * 1j
    half_end = d["end_width"] / 2
    low_end = top.end + down * half_end
    underarm = complex(d["bust_round"] / 4, d["underarm_level"])
    low = d.size("body_length")
    foot = complex(d["hem_round"] / 4, low)
    d.need(half_end > 30, "The sleeve's end comes out narrower than 6 cm.", "end_width")
    d.need(
        low > d["underarm_level"] + 60,
        "The hem lies less than 6 cm below the underarm: make it longer.",
        "recipe.options.body_length",
    )
    d.need(
        low_end.real > underarm.real + 15,
        "The sleeve ends before the side begins: look at elbow to elbow and the bust's ease.",
        "sleeve_end",
    )
    d.need(low_end.imag < low - 40, "The sleeve slopes below the hem.", "recipe.options.slope")
    # from the sleeve's end, square to it, round under the arm into the side
    along = top.end_direction
    side_down = unit(foot - underarm)
    level = max(underarm.imag + 50, low_end.imag + 0.75 * (low_end.real - underarm.real))
    level = min(level, low - 50)
    inner = bend(
        low_end, -along, underarm + side_down * ((level - underarm.imag) / side_down.imag), side_down, 0.62, 0.62
    )
    turn = inner.end
    side = Path((inner, Line(turn, foot)))
    pieces = [_body(d, name, top, low_end, side) for name in ("front", "back")]
    seams = [
        sew("top", "Top of sleeve and shoulder", (edge("front", "top"),), (edge("back", "top"),), corners=True),
        sew("side", "Underarm and side", (edge("front", "side"),), (edge("back", "side"),)),
    ]
    closures = [
        promise(
            "reach",
            "Reach closes on the body",
            (run("front", "top", worn=True), across("front", "neck_line", 2)),
            d["reach"],
            "both tops and the neck between them",
        ),
        at_least(
            "bust",
            "Bust is as wide as wanted",
            (girth("bust"),),
            d["bust_round"],
            "under the arms, from underarm curve to underarm curve",
        ),
        promise(
            "side", "Undersides are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"
        ),
    ]
    around_neck = 2 * (pieces[0].run_length("neckline") + pieces[1].run_length("neckline"))
    d.settle("cowl_length", around_neck)
    if d.size("cuff") > 0:
        cuff = d["cuff_length"]
        pieces.append(
            band_piece(
                "cuff",
                "Cuff",
                cuff,
                2 * d.size("cuff"),
                run="sleeve",
                cut=2,
                remark="most stretch goes round the arm",
                stretched=True,
            )
        )
        seams.append(
            sew(
                "cuff",
                "Cuff on the sleeve",
                (edge("cuff", "sleeve"),),
                (edge("front", "end"), edge("back", "end", backwards=True)),
                "gathered",
                d["end_width"] / cuff,
            )
        )
        seams.append(ring_seam("cuff", "Cuff"))
    if d.choice("neck") == "cowl":
        pieces.append(_collar(d, around_neck))
        seams += [
            sew("collar", "Cowl on the neckline", (edge("collar", "neckline"),), NECKLINE),
            ring_seam("collar", "Cowl collar"),
        ]
        closures.append(
            promise("collar", "Cowl fits the neckline", (run("collar", "neckline"),), around_neck, "once round")
        )
    dimensions = (
        Dimension(
            "sleeve_end",
            "front",
            complex(0, d["arm_slope"] * 0.6 + 60),
            complex(d["sleeve_end"], d["arm_slope"] * 0.6 + 60),
        ),
        Dimension("neck_width", "back", complex(0, d["back_neck"] + 14), complex(neck, d["back_neck"] + 14)),
        Dimension("bust_round", "front", complex(0, underarm.imag), underarm),
        Dimension("hem_round", "front", complex(0, low - 16), complex(foot.real, low - 16)),
        Dimension("front_neck", "front", complex(20, 20), complex(20, d["front_neck"])),
    )
    fits = [FitOf("collar", (NECKLINE,), lambda lengths: _collar(d, lengths[0]))] if d.choice("neck") == "cowl" else []
    return d.result(
        pieces, seams, closures, dimensions, (Shown("front", "front"), Shown("back", "back")), fits, "the neck point"
    )


NECKLINE = (
    edge("back", "neckline", mirrored=True), edge("front", "neckline", backwards=True, mirrored=True),
    edge("front", "neckline"), edge("back", "neckline", backwards=True),
)  # fmt: skip


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
    foot = side.end
    leave = side.end_direction * 1j
    centre = complex(0, foot.imag + leave.imag * 0.36 * foot.real)
    end_finish: Finish = "" if d.size("cuff") > 0 else "hem"
    neck_finish: Finish = "" if d.choice("neck") == "cowl" else "turned"
    edges = outline(
        ("neckline", Path((neck,)), neck_finish), ("top", top), ("end", [top.end, low_end], end_finish), ("side", side),
        ("hem", Path((smooth(foot, leave, centre, -1 + 0j),)), "hem"), (f"centre_{name}", [centre, neck.start], "fold"),
    )  # fmt: skip
    bust = level(
        "bust", "bust line", complex(0, d["underarm_level"]), complex(d["bust_round"] / 4, d["underarm_level"])
    )
    over = line("neck_line", "neck", 0j, top.start)
    marks = (bust, over) if name == "front" else (bust,)
    return DraftPiece(
        name,
        name.capitalize(),
        edges,
        drawn=marks,
        grain=(complex(30, d["underarm_level"]), complex(30, foot.imag - 50)),
    )


def gates(pattern: Pattern, context: Context) -> Sequence[Gate]:
    """The head through the neck; the hand through cuff or sleeve; the arm lifts."""
    neck = 2 * (pattern.piece("front").run_length("neckline") + pattern.piece("back").run_length("neckline"))
    found = [
        Gate(
            "head",
            "Head goes through the neck",
            neck,
            context.measures["head"],
            "front.neckline",
            "The neckline against the head. If it is less, make the neck wider.",
        )
    ]
    end = (
        run("cuff", "sleeve").measured(pattern)
        if pattern.has("cuff")
        else run("front", "end").measured(pattern) + run("back", "end").measured(pattern)
    )
    found.append(
        Gate(
            "hand",
            "Hand goes through the sleeve",
            end,
            context.measures["hand"],
            "front.end",
            "Cuff or sleeve end against the hand round the knuckles.",
        )
    )
    return found


BLOCK = register_block(
    Block("top.dolman", "Dolman top", "Front and back with the sleeve cut in one: loose under the arm, drawn in at the hem.",
          NEEDS, (), OPTIONS, EASE, FIGURES, draft, gates, family="Upper body", fits=("knit_relaxed", "loose_woven"), wants=("drape",))
)  # fmt: skip
