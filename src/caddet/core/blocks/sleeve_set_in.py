"""``sleeve.set_in``: a sleeve for any pair of armholes: those of a piece one has, or of the darted bodice."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.blocks.bodice_darted import ELBOW_LINE
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
from caddet.core.drafting.draft_piece import DraftPiece, as_piece
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.upper import ARMHOLE_NEEDS, SCHOOL, SCHOOLS, draft_upper, upper_figures
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Fit, Pattern, Shown
from caddet.core.pattern.seams import Part
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import say

OPTIONS = (
    Parameter("front_edge", "Front armhole", "length", 0.0, 0.0, 900.0, why="Along the stitch line, shoulder to underarm. With 0 it is that of the pieces it stands beside, or else of the bodice drafted on these measures."),
    Parameter("back_edge", "Back armhole", "length", 0.0, 0.0, 900.0, why="Along the stitch line. With 0 it is that of the pieces it stands beside, or else of the bodice drafted on these measures."),
    SCHOOL,
    *SLEEVE_OPTIONS,
)  # fmt: skip
EASE = (
    EaseLevel("upper_arm", "Upper arm", 50.0, "upper_arm"),
    EaseLevel("bust", "Bust, of the bodice", 80.0, "bust"),
    EaseLevel("neck", "Neck, of the bodice", 10.0, "neck"),
)


def armholes(pattern: Pattern) -> tuple[str, str] | None:
    """The front and the back armhole of the pieces that are there; None unless there is one of each, sewn to nothing."""
    sewn = {part.ref.name for seam in pattern.seams for part in seam.parts()}
    found = []
    for side in ("front", "back"):
        keys = [
            key
            for piece in pattern.pieces
            for key in piece.runs()
            if own_name(key) == "armhole" and side in piece.made and key not in sewn
        ]
        if len(keys) != 1:
            return None
        found.append(keys[0])
    return found[0], found[1]


def beside(d: Drafting, pattern: Pattern, edges: tuple[str, str]) -> Result:
    """The sleeve set into armholes that are there, traced or shaped; it follows when they change."""
    lengths = tuple(pattern.run_length(key) for key in edges)
    heights = [pattern.piece(reference(key).piece).run(key)[0].path.bounds() for key in edges]
    deep = sum(low - top for _, top, _, low in heights) / 2
    d.need(min(lengths) > 100, say("An armhole is shorter than {10 cm}."), "recipe")

    def draw(now: tuple[float, ...]) -> DraftPiece:
        """The sleeve for these armholes."""
        fresh = Drafting(d.context, d.options, dict(d.solved))
        cap = solve_cap(fresh, now[0], now[1], deep * sum(now) / sum(lengths))
        return replace(sleeve_piece(fresh, cap, now[0] / 2, now[1] / 2), zero="the biceps line")

    d.solved.update(front_armhole=lengths[0], back_armhole=lengths[1])
    cap = solve_cap(d, lengths[0], lengths[1], deep)
    d.settle("shoulder_to_elbow_line", d["shoulder_to_elbow_line"] + d.context.sums["cap_height"].value - cap.height)
    layers = tuple((Part(reference(key)),) for key in edges)
    seams = tuple(
        replace(seam, layers=(layer, *seam.layers[1:]))
        for seam, layer in zip(sleeve_seams(d, "front", "back")[:2], layers, strict=True)
    )
    made = d.result(
        (sleeve_piece(d, cap, lengths[0] / 2, lengths[1] / 2),),
        (*seams, sleeve_seams(d, "front", "back")[2]),
        sleeve_closures(d, sum(lengths)),
        sleeve_dimensions(cap, d["sleeve_long"] - cap.height),
        (Shown("front", "sleeve", Motion(), both=False),),
        zero="the biceps line",
    )
    piece = made.pattern.piece("sleeve")
    fit = Fit("sleeve", layers, lengths, piece, lambda now: as_piece(draw(now), (), "the biceps line"))
    return replace(made, pattern=replace(made.pattern, fits=(fit,)))


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """The sleeve alone, or set into the armholes that are there."""
    d = Drafting(context, options)
    front, back = d.size("front_edge"), d.size("back_edge")
    there = armholes(pattern)
    if there is not None and not front and not back:
        return beside(d, pattern, there)
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
        "A sleeve for a given pair of armholes: the cap is solved to be as long as they and its ease. Put beside a front and a back without sleeves, drafted or traced, it is set into theirs.",
        (*ARMHOLE_NEEDS, *SLEEVE_NEEDS),
        (),
        OPTIONS,
        EASE,
        (*upper_figures(shoulder_ease="0.8cm", balance="1.5cm"), *sleeve_figures(), ELBOW_LINE),
        draft,
        family="Upper body",
        fits=("fitted_woven", "loose_woven", "jacket", "knit_relaxed"),
        schools=SCHOOLS,
    )
)
