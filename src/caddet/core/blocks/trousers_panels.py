"""``trousers.panels``: full gathered legs from rectangles, shaped by a seat trapezoid and a crotch gusset.

Each leg is one rectangle. In front its inner edge holds the fly's placket and one side of the gusset, below
that the inseam; at the back the slanted side of the seat, below that the inseam. Crotch curve = placket +
gusset, and that is the slanted side too, so both inseams are the leg less the slant. The waistband's depth is
part of the rise: forgotten, the crotch hangs lower by it. Common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from caddet.core.drafting.bands import band_piece
from caddet.core.drafting.declare import across, edge, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftPiece, line
from caddet.core.drafting.kit import Drafting, outline, rectangle
from caddet.core.figures.sums import Figure
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    Parameter("fullness", "Fullness of the legs", "number", 1.6, 1.1, 3.0, why="How many times the hip the two legs are wide together."),
    Parameter("length", "Length", "choice", "knee", choices=(("knee", "Below the knee"), ("ankle", "To the ankle")),
              why="Gathered into a cuff below the knee, or at the ankle."),
    Parameter("band", "Waistband, finished depth", "length", 50.8, 15.0, 120.0, why="Part of the rise."),
    Parameter("cuff", "Cuff, finished depth", "length", 40.0, 10.0, 150.0),
    Parameter("gusset", "Gusset, each side", "length", 127.0, 40.0, 250.0, why="A square between the legs: about five inches."),
)  # fmt: skip
EASE = (
    EaseLevel("crotch", "Crotch", 60.0, "crotch_length"),
    EaseLevel("waist", "Waist", 0.0, "waist"),
    EaseLevel("cuff", "Cuff", 20.0, "calf"),
)
NEEDS = ("waist", "hip", "crotch_length", "waist_to_floor", "waist_to_knee", "calf", "ankle")
FIGURES = (
    Figure("band_length", "Waistband, length", "waist + ease_waist + 4in", "Once round and four inches of overlap for the buttons."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "Folded lengthwise."),
    Figure("leg_width", "Leg panel, width", "hip * fullness / 2", "Half of the hip, times the fullness."),
    Figure("leg_length", "Leg panel, length", "if(length_knee, waist_to_knee + 10cm, waist_to_floor - 6cm) - band - cuff + 5cm",
           "From under the waistband to the top of the cuff, and five more so that it blouses."),
    Figure("placket", "Fly placket", "crotch_length * 0.2", "Solved: placket, gusset and seat together make the crotch seam."),
    Figure("crotch_round", "Crotch, finished", "crotch_length + ease_crotch", "From waist to waist through the legs, waistband included."),
    Figure("seat_top", "Seat, width at the waist", "gusset * 0.8", "The seat narrows towards the waist."),
    Figure("cuff_length", "Cuff, length", "if(length_knee, calf, ankle * 1.3) + ease_cuff", "Round the leg there; the foot goes through a slit left open."),
    Figure("cuff_depth", "Cuff, cut depth", "cuff * 2", "Folded lengthwise."),
)  # fmt: skip


def _seat_height(slant: float, top: float, bottom: float) -> float:
    return math.sqrt(max(slant**2 - ((bottom - top) / 2) ** 2, 0.0))


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Leg, seat, gusset, placket, waistband and cuff."""
    d = Drafting(context, options)
    g, band = d.size("gusset"), d.size("band")
    bottom, top = 2 * g, d["seat_top"]
    d.need(10 < top < bottom, "The seat must narrow towards the waist: its top less than twice the gusset.", "seat_top")
    diagonal = g * math.sqrt(2)

    def miss(placket: float) -> float:
        return 2 * band + placket + diagonal + _seat_height(placket + g, top, bottom) - d["crotch_round"]

    d.solve(
        "placket", miss, 15.0, 700.0, "no placket makes the crotch as long as wanted with that gusset and waistband."
    )
    slant = d["placket"] + g
    seat = _seat_height(slant, top, bottom)
    wide, tall = d["leg_width"], d["leg_length"]
    inseam = tall - slant
    d.need(inseam > 60, "The legs end above the crotch: make them longer, or the crotch shorter.", "leg_length")
    d.need(wide > 1.5 * g, "The legs are narrower than the gusset.", "leg_width")
    leg = DraftPiece(
        "leg", "Leg",
        outline(
            ("waist", [0j, complex(wide, 0)]),
            ("seat_side", [complex(wide, 0), complex(wide, slant)]), ("inseam_back", [complex(wide, slant), complex(wide, tall)]),
            ("cuff_edge", [complex(wide, tall), complex(0, tall)]),
            ("inseam_front", [complex(0, tall), complex(0, slant)]), ("gusset_join", [complex(0, slant), complex(0, d["placket"])]),
            ("fly", [complex(0, d["placket"]), 0j]),
        ),
        grain=(complex(wide * 0.3, tall * 0.2), complex(wide * 0.3, tall * 0.8)), cut=2, pair=True, remark="front edge on the left",
    )  # fmt: skip
    half_top, half_bottom = top / 2, bottom / 2
    seat_piece = DraftPiece(
        "seat", "Seat",
        outline(("waist", [complex(-half_top, 0), complex(half_top, 0)]), ("right", [complex(half_top, 0), complex(half_bottom, seat)]),
                ("gusset_right", [complex(half_bottom, seat), complex(0, seat)]), ("gusset_left", [complex(0, seat), complex(-half_bottom, seat)]),
                ("left", [complex(-half_bottom, seat), complex(-half_top, 0)])),
        drawn=(line("centre", "centre back", 0j, complex(0, seat)),),
        grain=(complex(20, seat * 0.2), complex(20, seat * 0.8)),
    )  # fmt: skip
    gusset = DraftPiece("gusset", "Crotch gusset",
                   outline(("front_left", [0j, complex(g, 0)]), ("front_right", [complex(g, 0), complex(g, g)]),
                           ("back_right", [complex(g, g), complex(0, g)]), ("back_left", [complex(0, g), 0j])),
                   drawn=(line("across", "front to back", complex(g, 0), complex(0, g)),),
                   grain=(complex(g * 0.2, g * 0.45), complex(g * 0.8, g * 0.45)))  # fmt: skip
    placket = rectangle(
        "placket",
        "Fly placket",
        60.0,
        d["placket"],
        ("top", "edge", "foot", "fly"),
        ("band", "turned", "turned", ""),
        cut=2,
        pair=True,
    )
    waistband = band_piece("waistband", "Waistband", d["band_length"] - 101.6, d["band_depth"], 101.6)
    cuff = band_piece("cuff", "Cuff", d["cuff_length"], d["cuff_depth"], 25.0, run="leg_edge", cut=2)
    band_run, gathered = d["band_length"] - 101.6, 2 * wide + top
    seams = (
        sew("seat", "Seat to the right leg", (edge("leg", "seat_side"),), (edge("seat", "right"),), corners=True),
        sew("seat_left", "Seat to the left leg", (edge("leg", "seat_side", mirrored=True),), (edge("seat", "left", backwards=True),), corners=True),
        sew("inseam", "Inseam", (edge("leg", "inseam_front", backwards=True),), (edge("leg", "inseam_back"),), corners=True),
        sew("gusset_front", "Gusset, front", (edge("leg", "gusset_join", backwards=True),), (edge("gusset", "front_left"),), corners=True),
        sew("gusset_front_right", "Gusset, front, other leg", (edge("leg", "gusset_join", backwards=True, mirrored=True),), (edge("gusset", "front_right", backwards=True),), corners=True),
        sew("gusset_back", "Gusset, back", (edge("seat", "gusset_right"),), (edge("gusset", "back_right"),), corners=True),
        sew("gusset_back_left", "Gusset, back, other side", (edge("seat", "gusset_left", backwards=True),), (edge("gusset", "back_left"),), corners=True),
        sew("placket", "Placket", (edge("leg", "fly"),), (edge("placket", "fly"),), corners=True),
        sew("waistband", "Waist gathered into the band", (edge("waistband", "waist"),),
             (edge("leg", "waist"), edge("seat", "waist"), edge("leg", "waist", mirrored=True)), "gathered", gathered / band_run),
        sew("cuff", "Leg gathered into the cuff", (edge("cuff", "leg_edge"),), (edge("leg", "cuff_edge"),), "gathered", wide / d["cuff_length"]),
    )  # fmt: skip
    closures = (
        promise("crotch", "Crotch closes on the body",
                (run("leg", "fly"), across("gusset", "across"), across("seat", "centre"), run("waistband", "end", 1)),
                d["crotch_round"], "the waistband front and back, the placket, the gusset's diagonal and the seat"),
        promise("seat", "The seat's side is placket and gusset", (run("seat", "right"), run("leg", "seat_side", -1)), 0.0, "its slant less the leg's edge"),
        promise("inseam", "Inseams are equal", (run("leg", "inseam_front"), run("leg", "inseam_back", -1)), 0.0, "front less back"),
    )  # fmt: skip
    dimensions = (
        Dimension("leg_width", "leg", complex(0, tall * 0.8), complex(wide, tall * 0.8)),
        Dimension("leg_length", "leg", complex(wide * 0.6, 0), complex(wide * 0.6, tall)),
        Dimension("placket", "leg", complex(30, 0), complex(30, d["placket"])),
        Dimension("seat_top", "seat", complex(-half_top, 14), complex(half_top, 14)),
        Dimension("band_length", "waistband", complex(d["band_length"] * 0.5, band), complex(d["band_length"], band)),
        Dimension("cuff_length", "cuff", 0j, complex(d["cuff_length"], d.size("cuff"))),
    )  # fmt: skip
    return d.result((leg, seat_piece, gusset, placket, waistband, cuff), seams, closures, dimensions,
                     (Shown("front", "leg", squeeze=0.6), Shown("back", "leg", squeeze=0.6), Shown("back", "seat", both=False, squeeze=0.6)))  # fmt: skip


def gates(pattern: Pattern, context: Context) -> Sequence[Gate]:
    """The hips through the waist, the leg in the cuff."""
    around = run("waistband", "waist").measured(pattern) + 2 * run("leg", "fly").measured(pattern)
    return (
        Gate("hips", "Hips go through the waist", around, context.measures["hip"], "leg.fly", "The waistband and both sides of the fly against the hip."),
        Gate("room", "Legs go round the seat", 2 * pattern.piece("leg").run_length("waist") + pattern.piece("seat").run_length("waist"), context.measures["hip"] + 50,
             "leg.waist", "The gathered width against the hip and 5 cm to sit in."),
    )  # fmt: skip


BLOCK = register_block(
    Block("trousers.panels", "Panel trousers", "Full gathered legs cut as rectangles, with a seat piece, a crotch gusset, a fly, a waistband and cuffs.",
          NEEDS, (), OPTIONS, EASE, FIGURES, draft, gates, family="Panels", fits=("loose_woven",), wants=("drape",))
)  # fmt: skip
