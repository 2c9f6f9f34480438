"""``sleeve.set_in``: a sleeve for any pair of armholes: those of a piece one has, or of the darted bodice."""

from __future__ import annotations

from caddet.core.blocks.bodice_darted import ELBOW_LINE
from caddet.core.blocks.waistband import no_gates
from caddet.core.drafting.cap import (
    SLEEVE_NEEDS,
    SLEEVE_OPTIONS,
    sleeve_closures,
    sleeve_dimensions,
    sleeve_figures,
    sleeve_piece,
    sleeve_seams,
    solve_cap,
)
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.upper import ARMHOLE_NEEDS, SCHOOL, SCHOOLS, draft_upper, upper_figures
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import say

OPTIONS = (
    Parameter("front_edge", "Front armhole", "length", 0.0, 0.0, 900.0, why="Along the stitch line, shoulder to underarm. With 0 it is that of the bodice drafted on these measures."),
    Parameter("back_edge", "Back armhole", "length", 0.0, 0.0, 900.0, why="Along the stitch line. With 0 it is that of the bodice drafted on these measures."),
    SCHOOL,
    *SLEEVE_OPTIONS,
)  # fmt: skip
EASE = (
    EaseLevel("upper_arm", "Upper arm", 50.0, "upper_arm"),
    EaseLevel("bust", "Bust, of the bodice", 80.0, "bust"),
    EaseLevel("neck", "Neck, of the bodice", 10.0, "neck"),
)


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """The sleeve alone."""
    d = Drafting(context, options)
    front, back = d.size("front_edge"), d.size("back_edge")
    front_low, back_low, deep = front * 0.5, back * 0.5, 0.0
    if not front or not back:
        halves = draft_upper(d)
        front, back = front or halves[0].armhole.length, back or halves[1].armhole.length
        front_low, back_low = halves[0].lower_armhole, halves[1].lower_armhole
        deep = (halves[0].depth + halves[1].depth) / 2
        d.solved = {}  # the bodice is only measured here
    d.need(front > 100 and back > 100, say("An armhole is shorter than {10 cm}."), "recipe.options.front_edge")
    d.solved.update(front_armhole=front, back_armhole=back)
    cap = solve_cap(d, front, back, deep)
    d.settle("shoulder_to_elbow_line", d["shoulder_to_elbow_line"] + context.sums["cap_height"].value - cap.height)
    sleeve = sleeve_piece(d, cap, front_low, back_low)
    seam = sleeve_seams(d, "front", "back")[2]
    return d.result(
        (sleeve,),
        (seam,),
        sleeve_closures(d, front + back),
        sleeve_dimensions(cap, d["sleeve_long"] - cap.height),
        (Shown("front", "sleeve", Motion(), both=False),),
        zero="the biceps line",
        joined={"cap_front": "it is set into the front armhole", "cap_back": "it is set into the back armhole"},
    )


BLOCK = register_block(
    Block(
        "sleeve.set_in",
        "Set-in sleeve",
        "A sleeve for a given pair of armholes: the cap is solved to be as long as they and its ease.",
        (*ARMHOLE_NEEDS, *SLEEVE_NEEDS),
        (),
        OPTIONS,
        EASE,
        (*upper_figures(shoulder_ease="0.8cm", balance="1.5cm"), *sleeve_figures(), ELBOW_LINE),
        draft,
        no_gates,
        family="Upper body",
        fits=("fitted_woven", "loose_woven", "jacket", "knit_relaxed"),
        schools=SCHOOLS,
    )
)
