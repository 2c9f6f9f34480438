"""``skirt.straight``: front on the fold, a pair of backs with a zip, waist darts, straight waistband.

Rules: ``drafting.md`` §3 as common practice (no published source), said beside each figure. The
waist is *solved*: the side point moves until the waist, measured along its curve with the darts
closed, is exactly the quarter that is wanted.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from caddet.core.drafting.bands import band_piece, ring_seam
from caddet.core.drafting.declare import edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece
from caddet.core.drafting.kit import Drafting, FitOf
from caddet.core.drafting.skirt_half import Half, hip_line, skirt_half
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Mend, Passes
from caddet.core.recipe.registry import (
    Block,
    CannotDraft,
    EaseLevel,
    Parameter,
    Values,
    register_block,
)

FIGURES = (
    Figure("waist_seam", "Waist, finished", "waist + ease_waist",
           "A little air at the waist, so that one can sit and eat in it.", short="waist seam"),
    Figure("hip_round", "Hip, finished", "hip + ease_hip",
           "The skirt must slide over the seat and let one sit.", short="hip round"),
    Figure("front_hip", "Hip line, front", "hip_round / 4",
           "The draft is half a front. Two halves of front and two of back go round the body, so each takes "
           "a quarter of the finished girth."),
    Figure("back_hip", "Hip line, back", "hip_round / 2 - front_hip", "What the front leaves of the half round."),
    Figure("front_waist", "Waist line, front", "waist_seam / 4 + if(school_seat, 0.5cm, 0cm)",
           "By the seat: the back is given the larger darts, so the front keeps half a centimetre more."),
    Figure("back_waist", "Waist line, back", "waist_seam / 2 - front_waist",
           "What the front leaves of the half round."),
    Figure("hip_depth", "Hip level", "waist_to_hip", "How far below the waist the fullest part lies."),
    Figure("side_lift", "Waist, up at the side", "1.5cm",
           "The way over the hip is longer at the side than down the middle."),
    Figure("quarter_less", "A quarter of hip less waist", "(hip_round - waist_seam) / 4",
           "So much has to be taken in on every quarter, at the side and in darts.", short="hip less waist"),
    Figure("side_shaping", "Taken in at the side", 
           "max(min(quarter_less * 0.4, 2.5cm), quarter_less - 7cm, 0cm)",
           "The side takes two fifths of what the waist is smaller, at most 2.5 (more makes a bump on the hip) "
           "unless two darts of 3.5 are full. A guess: the waist is then solved to the millimetre."),
    Figure("front_take", "For darts, front", "max(front_hip - front_waist - side_shaping, 0cm)",
           "What is left after the side seam.", short="for darts"),
    Figure("back_take", "For darts, back", "max(back_hip - back_waist - side_shaping, 0cm)",
           "What is left after the side seam.", short="for darts"),
    Figure("front_darts", "Darts in half a front", "if(front_take < 0.8cm, 0, if(front_take > 3.5cm, 2, 1))",
           "Less than 0.8 isn't worth a dart; more than 3.5 in one stands out at its point.", kind="count"),
    Figure("back_darts", "Darts in half a back", "if(back_take < 0.8cm, 0, if(back_take > 3.5cm, 2, 1))",
           "Less than 0.8 isn't worth a dart; more than 3.5 in one stands out at its point.", kind="count"),
    Figure("front_dart", "Front dart", "front_take / max(front_darts, 1)", "Shared evenly when there are two.",
           short="front dart"),
    Figure("back_dart", "Back dart", "back_take / max(back_darts, 1)", "Shared evenly when there are two.",
           short="back dart"),
    Figure("front_dart_length", "Front dart, length", "min(10cm, hip_depth * 0.55)",
           "The front dart ends above the fullest part of the tummy: 9-11."),
    Figure("back_dart_length", "Back dart, length", "min(13cm, hip_depth * 0.7)",
           "The seat is fullest lower down than the tummy: 12-14."),
    Figure("front_dart_place", "Front dart, from the centre", "front_hip * if(front_darts > 1, 0.36, 0.46)",
           "About half-way; with two, the first nearer the centre."),
    Figure("back_dart_place", "Back dart, from the centre", "back_hip * if(back_darts > 1, 0.34, 0.44)",
           "Over the fullest part of the seat."),
    Figure("zip_length", "Zip opening", "max(hip_depth - 2cm, (hip - waist_seam) / 2 + 1cm)",
           "Long enough that the opened waist lets the hips through."),
    Figure("band_length", "Waistband, length", "waist_seam + overlap",
           "Once round the finished waist, and the overlap for the button."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "The band is folded lengthwise: twice its depth."),
)  # fmt: skip

OPTIONS = (
    Parameter("school", "Share front and back", "choice", "quarters",
              choices=(("quarters", "By equal quarters"), ("seat", "By the seat")),
              why="Equal quarters is the plain rule. By the seat, the back takes more of the waist "
              "shaping, for a round seat and a flat front."),
    Parameter("length", "Length, waist to hem", "length", 600.0, 250.0, 1300.0, begins="clamp(waist_to_floor * 0.57, 25cm, 130cm)",
              why="Measured down the centre front, without the waistband."),
    Parameter("flare", "Flare at each side seam", "length", 0.0, 0.0, 350.0,
              why="Swung out from the hip; the hem is curved so that it meets the side square."),
    Parameter("band", "Waistband, finished depth", "length", 30.0, 15.0, 100.0),
    Parameter("overlap", "Waistband overlap", "length", 30.0, 0.0, 120.0,
              why="Room for the button beyond the zip."),
)  # fmt: skip

EASE = (EaseLevel("waist", "Waist", 10.0, "waist"), EaseLevel("hip", "Hip", 40.0, "hip"))


def _band(d: Drafting, around: float) -> DraftPiece:
    """The waistband for a waist of that length, with notches where the side seams and the centre front come."""
    depth, overlap = d["band_depth"], d["band_length"] - d["waist_seam"]
    if overlap < -1e-6 or depth < 10 or around < 100:
        raise CannotDraft("The waistband is shorter than the waist, or hardly there.", "figures.band_length")
    side = d["back_waist"] * around / d["waist_seam"]
    notches = ((side, "side"), (around / 2, "centre front"), (around - side, "side"))
    return band_piece("waistband", "Waistband", around, depth, overlap, notches=notches)


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front, back and waistband of a straight skirt. Raises :class:`CannotDraft` with the reason."""
    d = Drafting(context, options)
    length, depth = d.size("length"), d["hip_depth"]
    front_half = skirt_half("front", d.sums, options)
    back_half = skirt_half("back", d.sums, options, front_half.side.length)
    zip_length = d["zip_length"]
    d.need(
        0 < zip_length < length - 20, "The zip opening must be longer than nothing and end above the hem.", "zip_length"
    )
    opening, foot = complex(0, zip_length), complex(0, length)
    front_edges = (*front_half.edges, Edge("centre_front", Path.polyline([foot, 0j]), "fold"))
    back_edges = (
        *back_half.edges,
        Edge("centre_back", Path.polyline([foot, opening])),
        Edge("zip", Path.polyline([opening, 0j]), "opening"),
    )
    front_hip, back_hip = d["front_hip"], d["back_hip"]
    front = DraftPiece(
        "front",
        "Front",
        front_edges,
        front_half.darts,
        (DraftNotch("side", front_half.hip_along, name="hip"),),
        (hip_line(front_hip, depth),),
        (complex(front_hip * 0.14, depth + 20), complex(front_hip * 0.14, length - 60)),
    )
    back = DraftPiece(
        "back",
        "Back",
        back_edges,
        back_half.darts,
        (
            DraftNotch("side", back_half.hip_along, name="hip"),
            DraftNotch("centre_back", length - zip_length - 1e-3, double=True, name="zip end"),
        ),
        (hip_line(back_hip, depth),),
        (complex(back_hip * 0.16, depth + 20), complex(back_hip * 0.16, length - 60)),
        cut=2,
        pair=True,
    )
    waist = (
        edge("back", "waist", mirrored=True),
        edge("front", "waist", backwards=True, mirrored=True),
        edge("front", "waist"),
        edge("back", "waist", backwards=True),
    )
    seams = (
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew(
            "centre_back",
            "Centre back seam",
            (edge("back", "centre_back"),),
            (edge("back", "centre_back", mirrored=True),),
        ),
        sew("waistband", "Waistband on the waist", (edge("waistband", "waist"),), waist),
        *(() if d["band_length"] - d["waist_seam"] > 1e-6 else (ring_seam("waistband", "Waistband"),)),
    )
    promises = (
        promise("waist", "Waist closes on the body", (run("front", "waist", worn=True), run("back", "waist", worn=True)),
                d["waist_seam"], "both fronts and both backs, darts sewn"),
        promise("hip", "Hip closes on the body", (girth("hip"),), d["hip_round"], "along the hip line"),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0,
                "the front side less the back side"),
        promise("band", "Waistband fits the waist", (run("waistband", "waist"),), d["waist_seam"], "without the overlap"),
    )  # fmt: skip
    dimensions = _dimensions(d, {"front": (front_half, front_edges), "back": (back_half, back_edges)}, opening)
    return d.result(
        (front, back, _band(d, d["waist_seam"])),
        seams,
        promises,
        dimensions,
        (Shown("front", "front"), Shown("back", "back")),
        (FitOf("waistband", (waist,), lambda lengths: _band(d, lengths[0])),),
        "the waist",
    )


def _dimensions(
    d: Drafting, halves: Mapping[str, tuple[Half, Sequence[Edge]]], opening: Point
) -> tuple[Dimension, ...]:
    """Where the figures of the skirt are drawn on its pieces."""
    depth, front_hip, back_hip = d["hip_depth"], d["front_hip"], d["back_hip"]
    return (
        Dimension("front_hip", "front", complex(0, depth), complex(front_hip, depth)),
        Dimension("back_hip", "back", complex(0, depth), complex(back_hip, depth)),
        Dimension("front_waist", "front", 30j, complex(front_hip * 0.44, 30)),
        Dimension("back_waist", "back", 30j, complex(back_hip * 0.4, 30)),
        Dimension("hip_depth", "front", complex(front_hip * 0.2, 40), complex(front_hip * 0.2, depth + 20)),
        Dimension("zip_length", "back", 0j, opening),
        *(
            Dimension(f"{side}_dart", side, *_mouth(edges, half.plans[0].name))
            for side, (half, edges) in halves.items()
            if half.plans
        ),
        Dimension(
            "band_length",
            "waistband",
            complex(d["band_length"] * 0.6, d["band_depth"] / 2),
            complex(d["band_length"], d["band_depth"] / 2),
        ),
    )


def _mouth(edges: Sequence[Edge], dart: str) -> tuple[Point, Point]:
    legs = [edge.path for edge in edges if edge.dart == dart]
    return legs[0].start, legs[1].end


HIPS = Passes(
    "hips",
    "waist",
    place="back.zip",
    label="Hips go through the waist",
    why="The waist with the zip open, once round both its sides, against the hip. If it is less, the skirt can't be pulled on and the zip tears at its end.",
    mends=(Mend("Lengthen the zip opening", figure="zip_length", more=10.0),),
)


SKIRT = register_block(
    Block(
        "skirt.straight",
        "Straight skirt",
        "A skirt that follows the hip and hangs straight, with waist darts, a zip at the centre back and a band.",
        ("waist", "hip", "waist_to_hip"),
        ("stride", "waist_to_floor"),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        (HIPS, Passes("stride", "hem")),
        family="Skirts",
        fits=("fitted_woven", "loose_woven", "knit_relaxed"),
        wants=("body",),
        schools={
            "quarters": "By equal quarters: front and back alike, the plain rule.",
            "seat": "By the seat: the back takes more of the shaping, for a round seat and a flat front.",
        },
    )
)
