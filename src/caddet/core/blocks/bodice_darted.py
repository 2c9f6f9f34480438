"""``bodice.darted``: a bodice to the waist with bust and waist darts, with or without a set-in sleeve."""

from __future__ import annotations

from caddet.core.drafting.bodice import BODICE_FIGURES, BODICE_NEEDS, BUST_DART, Half, draft_bodice
from caddet.core.drafting.cap import (
    SLEEVE_NEEDS,
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
from caddet.core.drafting.declare import edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, upper_closures, upper_levels
from caddet.core.figures.sums import Figure
from caddet.core.pattern.edges import Finish
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.promises import Promise
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block

OPTIONS = (
    SCHOOL,
    BUST_DART,
    Parameter("sleeve", "With a sleeve", "flag", True, why="A set-in sleeve, fitted to the armholes."),
    *sleeve_options("sleeve", True),
)
EASE = (
    EaseLevel("bust", "Bust", 80.0, "bust"),
    EaseLevel("waist", "Waist", 60.0, "waist"),
    EaseLevel("neck", "Neck", 10.0, "neck"),
    EaseLevel("upper_arm", "Upper arm", 50.0, "upper_arm"),
)
ELBOW_LINE = Figure(
    "shoulder_to_elbow_line",
    "Elbow, below the biceps line",
    "shoulder_to_elbow - cap_height",
    "Where the sleeve bends.",
)
FIGURES = (*BODICE_FIGURES, *sleeve_figures(), ELBOW_LINE)
EDGES: dict[str, Finish] = {"neckline": "facing", "armhole": "facing"}
TO_COME = {"waist": "a skirt, a peplum or a band is sewn to it"}


def half_pieces(front: Half, back: Half) -> tuple[DraftPiece, DraftPiece]:
    """The two body pieces of a darted bodice, with notches and the bust line."""
    pieces = []
    for name, label, half, cut in (("front", "Front", front, 1), ("back", "Back", back, 2)):
        upper = half.upper
        armhole = upper.armhole
        low = half.waist.centre.imag
        pieces.append(
            DraftPiece(
                name,
                label,
                half.edges,
                half.darts,
                (
                    DraftNotch(
                        "armhole", armhole.length - upper.lower_armhole, double=name == "back", name=f"armhole {name}"
                    ),
                    DraftNotch("side", half.side.length * 0.75, name="side"),
                ),
                upper_levels(name, upper),
                (complex(25, upper.centre.imag + 40), complex(25, low - 30)),
                cut=cut,
                pair=cut == 2,
            )
        )
    return pieces[0], pieces[1]


def body_seams(d: Drafting) -> tuple[Seam, ...]:
    """Side and shoulder; the back's shoulder is eased in."""
    ease = d["shoulder_ease"]
    return (
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew(
            "shoulder",
            "Shoulder seam",
            (edge("front", "shoulder"),),
            (edge("back", "shoulder"),),
            "eased" if abs(ease) > 1e-6 else "plain",
            ease,
        ),
    )


def body_closures(d: Drafting, front: Half, back: Half) -> tuple[Promise, ...]:
    """What every upper body promises."""
    return (
        promise("bust", "Bust closes on the body", (girth("bust"),),
                d["bust_round"], "along the bust line, both fronts and both backs"),
        promise("neck", "Neckline fits the neck", (run("front", "neckline", worn=True), run("back", "neckline", worn=True)),
                d["neck_round"], "the whole neckline along its curve"),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0,
                "front less back, bust dart sewn"),
        promise("shoulder", "Back shoulder is eased in", (run("back", "shoulder"), run("front", "shoulder", -1)), d["shoulder_ease"], "back less front"),
        promise("armhole", "Back armhole is the longer one", (run("back", "armhole"), run("front", "armhole", -1)),
                d["armhole_difference"], "back less front"),
        *upper_closures(d, front.upper, back.upper),
    )  # fmt: skip


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front on the fold, a pair of backs, and the sleeve when it is wanted."""
    d = Drafting(context, options)
    front, back = draft_bodice(d)
    pieces: list[DraftPiece] = list(half_pieces(front, back))
    seams = list(body_seams(d))
    seams.append(
        sew(
            "centre_back",
            "Centre back seam",
            (edge("back", "centre_back"),),
            (edge("back", "centre_back", mirrored=True),),
        )
    )
    closures = [
        *body_closures(d, front, back),
        promise(
            "waist",
            "Waist closes on the body",
            (run("front", "waist", worn=True), run("back", "waist", worn=True)),
            d["waist_round"],
            "both fronts and both backs, darts sewn",
        ),
    ]
    depth = back.upper.underarm.imag
    dimensions = [
        Dimension("front_bust", "front", complex(0, depth), front.upper.underarm),
        Dimension("back_bust", "back", complex(0, depth), back.upper.underarm),
        Dimension("back_length", "back", complex(14, depth * 0.4), complex(14, depth * 0.9)),
        Dimension("front_neck_depth", "front", complex(30, front.upper.centre.imag - 40), complex(30, front.upper.centre.imag)),
        Dimension("back_waist", "back", complex(0, d["back_length"] - 35), complex(back.side_point.real, d["back_length"] - 35)),
        Dimension("front_waist", "front", complex(0, front.waist.centre.imag - 35), complex(front.side_point.real, front.waist.centre.imag - 35)),
    ]  # fmt: skip
    shown = [Shown("front", "front"), Shown("back", "back")]
    return with_sleeve(d, front, back, pieces, seams, closures, dimensions, shown)


def with_sleeve(
    d: Drafting,
    front: Half,
    back: Half,
    pieces: list[DraftPiece],
    seams: list[Seam],
    closures: list[Promise],
    dimensions: list[Dimension],
    shown: list[Shown],
) -> Result:
    """The pattern of a body; when one is wanted with a sleeve for its armholes, its seams and what it promises."""
    if not d.flag("sleeve"):
        return d.result(pieces, seams, closures, dimensions, shown, zero="the nape", finishes=EDGES, joined=TO_COME)
    fronts, backs = front.upper.armhole.length, back.upper.armhole.length
    d.solved.update(front_armhole=fronts, back_armhole=backs)
    cap = solve_cap(d, fronts, backs, (front.upper.depth + back.upper.depth) / 2)
    d.settle("shoulder_to_elbow_line", d["shoulder_to_elbow_line"] + d.sums["cap_height"].value - cap.height)
    pieces.append(sleeve_piece(d, cap, front.upper.lower_armhole, back.upper.lower_armhole))
    seams.extend(sleeve_seams(d, "front", "back"))
    closures.extend(sleeve_closures(d, fronts + backs))
    dimensions.extend(sleeve_dimensions(cap, d["sleeve_long"] - cap.height))
    hung = hung_sleeve(cap, front.upper, back.upper)
    return d.result(
        pieces,
        seams,
        closures,
        dimensions,
        [*hung, *shown],
        [sleeve_fit(d, front.upper, back.upper)],
        "the nape",
        EDGES,
        TO_COME,
    )


ARM = Passes(
    "arm",
    "armhole",
    label="Arm goes into the armhole",
    why="The armhole against the arm and a tenth more. If it is less, it cuts in at the front of the arm.",
)
HAND = Passes(
    "hand",
    "hem",
    on=("sleeve",),
    wide=400.0,
    label="Hand goes through the sleeve",
    why="The sleeve's hem against the hand round the knuckles. If it is less, it needs a slit or a placket.",
)


BLOCK = register_block(
    Block(
        "bodice.darted",
        "Darted bodice",
        "A bodice to the waist, with bust and waist darts, opening at the centre back; the base of fitted dresses, blouses and jackets.",
        (*BODICE_NEEDS, *SLEEVE_NEEDS),
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        (ARM, HAND),
        family="Upper body",
        fits=("fitted_woven", "loose_woven", "jacket"),
        wants=("body",),
        schools=SCHOOLS,
    )
)
