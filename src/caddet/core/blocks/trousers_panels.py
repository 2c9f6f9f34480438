"""``trousers.panels``: full legs from panels, shaped by a seat trapezoid and a strip of gusset between the legs.

Each leg is one panel. In front its inner edge is the crotch curve: the fly's placket, then the gusset's strip, then the
inseam. At the back the seat is let into its upper corner: down the seat's slanted side, out along half of its wide
edge (less the gusset), then the inseam. Placket and strip are as long as the slanted side, so both inseams are the leg
less that. The strip runs from the placket through the legs to the middle of the seat's wide edge. The waistband's
depth is part of the rise: forgotten, the crotch hangs lower by it. Common practice, no source.
"""

from __future__ import annotations

import math

from caddet.core.drafting.bands import band_piece
from caddet.core.drafting.declare import across, at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, level, line
from caddet.core.drafting.kit import Drafting, outline, rectangle
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import Length, say

OPTIONS = (
    Parameter("fullness", "Fullness of the legs", "number", 1.6, 1.1, 3.0, why="How many times the hip the two legs are wide together."),
    Parameter("taken_in", "Fullness taken in by", "choice", "pleats", choices=(("pleats", "Pleats"), ("gathers", "Gathers")),
              why="Pleated into band and cuffs it lies flatter, gathered it is rounder; both take the same cloth."),
    Parameter("length", "Length", "choice", "knee", choices=(("knee", "Below the knee"), ("ankle", "To the ankle")),
              why="Taken into a cuff below the knee, or at the ankle."),
    Parameter("band", "Waistband, finished depth", "length", 50.8, 15.0, 120.0, why="Part of the rise."),
    Parameter("cuff", "Cuff, finished depth", "length", 40.0, 10.0, 150.0),
    Parameter("gusset", "Gusset strip, width", "length", 76.2, 30.0, 200.0, why="From the placket through the legs to the seat: about three inches."),
)  # fmt: skip
EASE = (
    EaseLevel("crotch", "Crotch", 60.0, "crotch_length"),
    EaseLevel("waist", "Waist", 0.0, "waist"),
    EaseLevel("cuff", "Cuff", 20.0, "calf"),
)
NEEDS = ("waist", "hip", "crotch_length", "waist_to_floor", "waist_to_knee", "waist_to_hip", "calf")
FIGURES = (
    Figure("band_length", "Waistband, length", "waist + ease_waist + 4in", "Once round and four inches of overlap for the buttons."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "Folded lengthwise."),
    Figure("leg_width", "Leg panel, width", "hip * fullness / 2", "Half of the hip, times the fullness."),
    Figure("leg_length", "Leg panel, length", "if(length_knee, waist_to_knee + 10cm, waist_to_floor - 6cm) - band - cuff + 5cm",
           "From under the waistband to the top of the cuff, and five more so that it blouses."),
    Figure("crotch_round", "Crotch, finished", "crotch_length + ease_crotch", "From waist to waist through the legs, waistband included."),
    Figure("seat_top", "Seat, width at the waist", "hip * 0.2", "The seat narrows towards the waist."),
    Figure("seat_wide", "Seat, wide edge", "hip * 0.36", "Across the back of both legs, under the seat."),
    Figure("slant", "Seat, slanted side", "crotch_length * 0.45", "Solved: waistband, crotch curve and seat together make the crotch seam."),
    Figure("placket", "Fly placket", "slant * 0.62", "Down the front until the hips go through; what is left of the crotch curve is the strip."),
    Figure("strip", "Gusset strip, length", "slant - placket", "From the placket to the seat's wide edge. A crotch that hangs is taken from placket and strip."),
    Figure("cuff_length", "Cuff, length", "calf + ease_cuff", "As the widest calf: so the cuff can be pushed up."),
    Figure("cuff_depth", "Cuff, cut depth", "cuff * 2", "Folded lengthwise."),
)  # fmt: skip


def _seat_height(slant: float, top: float, wide: float) -> float:
    return math.sqrt(max(slant**2 - ((wide - top) / 2) ** 2, 0.0))


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Leg, seat, gusset strip, placket, waistband and cuff."""
    d = Drafting(context, options)
    g, band = d.size("gusset"), d.size("band")
    top, bottom = d["seat_top"], d["seat_wide"]
    d.need(10 < top < bottom, "The seat must narrow towards the waist.", "seat_top")
    ledge = (bottom - g) / 2
    d.need(ledge > 15, "The gusset is as wide as the seat: take a narrower one.", "recipe.options.gusset")

    def miss(slant: float) -> float:
        return 2 * band + slant + _seat_height(slant, top, bottom) - d["crotch_round"]

    slant = d.solve(
        "slant", miss, (bottom - top) / 2 + 10, 900.0, "no seat makes the crotch as long as wanted with that waistband."
    )
    placket = d.settle("placket", d["placket"] * slant / d.sums["slant"].value)
    d.need(
        15 < placket < slant - 15,
        "The placket must be shorter than the seat's side: the gusset's strip goes on below it.",
        "placket",
    )
    strip = d.settle("strip", slant - placket)
    seat = _seat_height(slant, top, bottom)
    wide, tall = _wide_enough(d, ledge, seat), d["leg_length"]
    d.need(tall - slant > 60, "The legs end above the crotch: make them longer, or the crotch shorter.", "leg_length")
    d.need(wide > ledge + 100, "The legs are narrower than the seat that is let into them.", "leg_width")
    leg, seat_piece = _leg(d, ledge, slant), _seat(d, seat)
    gusset = DraftPiece(
        "gusset",
        "Gusset strip",
        (
            *outline(("left", [1j * strip, 0j])),
            Edge(
                "front_end", Path.polyline([0j, complex(g, 0)]), "joined", why="it is sewn to the foot of the placket"
            ),
            *outline(("right", [complex(g, 0), complex(g, strip)]), ("back_end", [complex(g, strip), 1j * strip])),
        ),
        drawn=(line("middle", "under the body", complex(g / 2, 0), complex(g / 2, strip)),),
        grain=(complex(g * 0.3, strip * 0.2), complex(g * 0.3, strip * 0.8)),
    )
    flap = rectangle(
        "placket",
        "Fly placket",
        60.0,
        placket,
        ("top", "edge", "foot", "fly"),
        ("band", "turned", "turned", ""),
        cut=2,
        pair=True,
    )
    around = d["band_length"] - 101.6
    waistband = band_piece("waistband", "Waistband", around, d["band_depth"], 101.6)
    cuff = band_piece("cuff", "Cuff", d["cuff_length"], d["cuff_depth"], 25.0, run="leg_edge", cut=2)
    gathered = 2 * (wide - ledge) + top
    taken = "Waist pleated into the band" if d.choice("taken_in") == "pleats" else "Waist gathered into the band"
    seams = (
        sew("seat", "Seat to the right leg", (edge("leg", "seat_side"),), (edge("seat", "right"),), corners=True),
        sew("seat_left", "Seat to the left leg", (edge("leg", "seat_side", mirrored=True),), (edge("seat", "left", backwards=True),), corners=True),
        sew("seat_wide", "Wide edge of the seat, right leg", (edge("leg", "ledge"),), (edge("seat", "wide_right", backwards=True),), corners=True),
        sew("seat_wide_left", "Wide edge of the seat, left leg", (edge("leg", "ledge", mirrored=True),), (edge("seat", "wide_left"),), corners=True),
        sew("inseam", "Inseam", (edge("leg", "inseam_front", backwards=True),), (edge("leg", "inseam_back"),), corners=True),
        sew("gusset_front", "Gusset strip, right leg", (edge("leg", "strip_join"),), (edge("gusset", "left"),), corners=True),
        sew("gusset_left", "Gusset strip, left leg", (edge("leg", "strip_join", mirrored=True),), (edge("gusset", "right", backwards=True),), corners=True),
        sew("gusset_back", "Gusset strip to the seat", (edge("gusset", "back_end"),), (edge("seat", "wide_middle", backwards=True),), corners=True),
        sew("placket", "Placket", (edge("leg", "fly"),), (edge("placket", "fly"),), corners=True),
        sew("waistband", taken, (edge("waistband", "waist"),),
             (edge("leg", "waist"), edge("seat", "waist"), edge("leg", "waist", mirrored=True)), "gathered", gathered / around),
        sew("cuff", taken.replace("Waist", "Leg").replace("band", "cuff"), (edge("cuff", "leg_edge"),), (edge("leg", "cuff_edge"),), "gathered", wide / d["cuff_length"]),
    )  # fmt: skip
    closures = (
        promise("crotch", "Crotch closes on the body",
                (run("leg", "fly"), across("gusset", "middle"), across("seat", "centre"), run("waistband", "end", 1)),
                d["crotch_round"], "the waistband front and back, the placket, the gusset's strip and the seat"),
        promise("seat", "The seat's side is the crotch curve", (run("seat", "right"), run("leg", "fly", -1), run("leg", "strip_join", -1)), 0.0, "its slant less placket and strip"),
        promise("inseam", "Inseams are equal", (run("leg", "inseam_front"), run("leg", "inseam_back", -1)), 0.0, "front less back"),
        at_least("hip", "Hip is wide enough", (girth("hip"),), context.measures["hip"] + HIP_EASE, "both legs and the seat along the hip line"),
    )  # fmt: skip
    dimensions = (
        Dimension("leg_width", "leg", complex(0, tall * 0.8), complex(wide, tall * 0.8)),
        Dimension("leg_length", "leg", complex(wide * 0.4, 0), complex(wide * 0.4, tall)),
        Dimension("placket", "leg", complex(30, 0), complex(30, placket)),
        Dimension("slant", "leg", complex(wide - ledge - 20, 0), complex(wide - ledge - 20, slant)),
        Dimension("seat_top", "seat", complex(-top / 2, 14), complex(top / 2, 14)),
        Dimension("seat_wide", "seat", complex(-bottom / 2, seat - 14), complex(bottom / 2, seat - 14)),
        Dimension("band_length", "waistband", complex(d["band_length"] * 0.5, band), complex(d["band_length"], band)),
        Dimension("cuff_length", "cuff", 0j, complex(d["cuff_length"], d.size("cuff"))),
    )
    return d.result((leg, seat_piece, gusset, flap, waistband, cuff), seams, closures, dimensions,
                     (Shown("front", "leg", squeeze=0.6), Shown("back", "leg", squeeze=0.6), Shown("back", "seat", both=False, squeeze=0.6)))  # fmt: skip


HIP_EASE = 50.0  # mm, so much wider than the hip legs and seat are along the hip line at least


def _wide_enough(d: Drafting, ledge: float, seat: float) -> float:
    """The width of a leg's panel: as the fullness has it, or wider where the hips would not go in, which is said."""
    wide, least = d["leg_width"], (d.context.measures["hip"] + HIP_EASE) / 2 - _half_seat_at_hip(d, seat) + ledge
    if wide >= least or d.sums["leg_width"].override is not None:
        return wide
    d.remark(
        "draft.hip",
        say(
            "With this fullness the hips would not go in: the legs are drawn {least} wide each. More fullness, or a narrower gusset strip, changes that.",
            least=Length(least),
        ),
        "figures.leg_width",
    )
    return d.settle("leg_width", least)


def _half_seat_at_hip(d: Drafting, seat: float) -> float:
    """Half of the seat's width along the hip line, ``seat`` mm being its height."""
    top, low = d["seat_top"] / 2, d["seat_wide"] / 2
    return top + (low - top) * _hip_on(d, seat) / seat


def _hip_on(d: Drafting, reach: float) -> float:
    """How far below the waistband the hip line lies on a piece that reaches so far."""
    return min(max(d.context.measures["waist_to_hip"] - d.size("band"), 20.0), reach - 10)


def _leg(d: Drafting, ledge: float, slant: float) -> DraftPiece:
    """The leg's panel; the seat is let into its upper corner at the back."""
    wide, tall, placket = d["leg_width"], d["leg_length"], d["placket"]
    inner = wide - ledge
    hip = _hip_on(d, slant)
    return DraftPiece(
        "leg",
        "Leg",
        outline(
            ("waist", [0j, complex(inner, 0)]),
            ("seat_side", [complex(inner, 0), complex(inner, slant)]),
            ("ledge", [complex(inner, slant), complex(wide, slant)]),
            ("inseam_back", [complex(wide, slant), complex(wide, tall)]),
            ("cuff_edge", [complex(wide, tall), complex(0, tall)]),
            ("inseam_front", [complex(0, tall), complex(0, slant)]),
            ("strip_join", [complex(0, slant), complex(0, placket)]),
            ("fly", [complex(0, placket), 0j]),
        ),
        notches=(
            DraftNotch("inseam_front", (tall - slant) / 2, name="inseam"),
            DraftNotch("inseam_back", (tall - slant) / 2, name="inseam"),
        ),
        drawn=(level("hip", "hip line", 1j * hip, complex(inner, hip)),),
        grain=(complex(wide * 0.3, tall * 0.2), complex(wide * 0.3, tall * 0.8)),
        cut=2,
        pair=True,
        remark="front edge on the left",
    )


def _seat(d: Drafting, seat: float) -> DraftPiece:
    """The trapezoid over the seat; the middle of its wide edge takes the gusset's strip."""
    top, low, g = d["seat_top"] / 2, d["seat_wide"] / 2, d.size("gusset") / 2
    hip, out = _hip_on(d, seat), _half_seat_at_hip(d, seat)
    return DraftPiece(
        "seat",
        "Seat",
        outline(
            ("waist", [complex(-top, 0), complex(top, 0)]),
            ("right", [complex(top, 0), complex(low, seat)]),
            ("wide_right", [complex(low, seat), complex(g, seat)]),
            ("wide_middle", [complex(g, seat), complex(-g, seat)]),
            ("wide_left", [complex(-g, seat), complex(-low, seat)]),
            ("left", [complex(-low, seat), complex(-top, 0)]),
        ),
        drawn=(
            line("centre", "centre back", 0j, complex(0, seat)),
            level("hip", "hip line", complex(-out, hip), complex(out, hip)),
        ),
        grain=(complex(20, seat * 0.2), complex(20, seat * 0.8)),
    )


PASSES = (
    Passes("hips", "waist", on=("leg", "gusset"), plus=(run("leg", "fly", 2.0),), place="leg.fly", label="Hips go through the waist",
           why="The waistband and both sides of the fly against the hip."),
    Passes("room", of=(run("leg", "waist", 2.0), run("seat", "waist")), limit=Body("hip", plus=50.0), place="leg.waist",
           label="Legs go round the seat", why=say("The gathered width against the hip and {5 cm} to sit in.")),
)  # fmt: skip


BLOCK = register_block(
    Block(
        "trousers.panels",
        "Panel trousers",
        "Full legs pleated or gathered into band and cuffs, cut as straight panels, with a seat piece, a strip of gusset and a fly.",
        NEEDS,
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        PASSES,
        family="Panels",
        fits=("loose_woven",),
        wants=("drape",),
    )
)
