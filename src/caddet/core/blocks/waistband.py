"""``waistband``, ``cuff``, ``neckband``: bands for any edge. Straight or, for a waist, curved to the body."""

from __future__ import annotations

import math

from caddet.core.drafting.bands import band_piece, quarters, ring_seam
from caddet.core.drafting.declare import edge, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftPiece
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import say

ON_EDGE = "it goes on the edge it was drafted for"


def edge_option(of: str) -> Parameter:
    """The length of the edge a band goes on."""
    return Parameter(
        "edge",
        "Edge it goes on",
        "length",
        0.0,
        0.0,
        5000.0,
        why=say("Its length all round. With 0 it is reckoned from the {of}.", of=of),
    )


def _waistband(pattern: Pattern, context: Context, options: Values) -> Result:
    d = Drafting(context, options)
    around, depth, overlap = d["seam_length"], d.size("depth"), d.size("overlap")
    d.need(around > 100, say("The waistband is shorter than {10 cm}."), "seam_length")
    # edges that differ by less than a hundredth are as well cut straight
    curved = d.choice("shape") == "curved" and d["upper_length"] < around * 0.99
    if curved:
        band = _curved(d["upper_length"] + overlap, around + overlap, depth, overlap)
    else:
        band = band_piece("waistband", "Waistband", around, 2 * depth, overlap, notches=quarters(around))
    closures = (promise("seam", "Band fits its edge", (run("waistband", "waist"),), around, "without the overlap"),)
    dimensions = (
        ()
        if curved
        else (
            Dimension(
                "seam_length", "waistband", complex(overlap, depth * 1.5), complex(overlap + around, depth * 1.5)
            ),
        )
    )
    seams = () if overlap > 0.01 else (ring_seam("waistband", "Waistband"),)
    if curved:
        seams = (
            *seams,
            *(
                sew(
                    f"waistband_{run_}",
                    "Waistband to its facing",
                    (edge("waistband", run_),),
                    (edge("waistband", run_),),
                )
                for run_ in ("inside", *(("end", "start", "overlap") if overlap > 0.01 else ()))
            ),
        )
    return d.result(
        (band,), seams, closures, dimensions, (Shown("front", "waistband", both=False),), joined={"waist": ON_EDGE}
    )


def _curved(top: float, bottom: float, depth: float, overlap: float) -> DraftPiece:
    """A ring's part; the lower edge is the one that is sewn. Its radius is depth × lower ÷ (lower − upper)."""
    angle = (bottom - top) / depth
    inner, outer = top / angle, bottom / angle
    start = math.pi / 2 + angle / 2
    upper = Arc(0j, inner, start, -angle)
    lower = Arc(0j, outer, start - angle, angle)
    first, second = lower.split((bottom - overlap) / bottom)
    edges = outline(
        ("inside", Path((upper,))),
        ("end", [upper.end, lower.start]),
        ("waist", Path((first,))),
        *((("overlap", Path((second,))),) if overlap > 0.01 else ()),
        ("start", [lower.end, upper.start]),
    )
    return DraftPiece(
        "waistband",
        "Curved waistband",
        edges,
        grain=(complex(0, inner + depth * 0.2), complex(0, outer - depth * 0.2)),
        cut=2,
        remark="one outside, one as its facing",
        cloth=("main", "interfacing"),
    )


register_block(
    Block("waistband", "Waistband", "A band for the waist of skirts and trousers: straight, or curved to lie below the waist.", ("waist", "high_hip", "waist_to_high_hip"), (),
          (edge_option("waist"), Parameter("shape", "Shape", "choice", "straight", choices=(("straight", "Straight"), ("curved", "Curved")),
                                           why="Straight is folded over at the waist; curved follows the hip and lies lower."),
           Parameter("depth", "Finished depth", "length", 30.0, 10.0, 150.0), Parameter("overlap", "Overlap", "length", 30.0, 0.0, 300.0, why="Room for the button.")),
          (EaseLevel("waist", "Waist", 10.0, "waist", parts=1),),
          (Figure("seam_length", "Waist edge", "if(edge > 0cm, edge, waist + ease_waist + if(shape_curved, max(high_hip - waist, 0cm) * min(depth / max(waist_to_high_hip, 1cm), 1), 0cm))",
                  "As long as the edge, without the overlap. A curved band reaches from the waist down, where the body is wider."),
           Figure("upper_length", "Upper edge of a curved band", "min(max(seam_length - max(high_hip - waist, 0cm) * min(depth / max(waist_to_high_hip, 1cm), 1), waist + ease_waist), seam_length)",
                  "What the body is there: narrower by as much as it narrows over the band's depth, never narrower than the waist."),
           Figure("cut_length", "Band, length with overlap", "seam_length + overlap", "Edge and overlap."),
           Figure("wrap_length", "Band of a wrap, cut", "seam_length + 1in", "For a wrap: the seam and an inch."),
           Figure("cut_depth", "Band, depth", "depth * if(shape_curved, 1, 2)", "A straight one is folded lengthwise: twice its depth.")),
          _waistband, family="Bands and collars", wants=("body",))
)  # fmt: skip


def _cuff(pattern: Pattern, context: Context, options: Values) -> Result:
    d = Drafting(context, options)
    around, depth = d["seam_length"], d.size("depth")
    d.need(around > 60, say("The cuff is shorter than {6 cm}."), "seam_length")
    band = band_piece("cuff", "Cuff", around, 2 * depth, d.size("overlap"), run="sleeve", cut=2)
    closures = (promise("seam", "Cuff fits its edge", (run("cuff", "sleeve"),), around, "without the overlap"),)
    seams = () if d.size("overlap") > 0.01 else (ring_seam("cuff", "Cuff"),)
    return d.result(
        (band,),
        seams,
        closures,
        (
            Dimension(
                "seam_length", "cuff", complex(d.size("overlap"), depth * 1.5), complex(d["cut_length"], depth * 1.5)
            ),
        ),
        (Shown("front", "cuff", both=False),),
        joined={"sleeve": ON_EDGE},
    )


HAND = Passes(
    "hand",
    of=(run("cuff", "sleeve"),),
    place="cuff.sleeve",
    unless="overlap",
    label="Hand goes through the cuff",
    why="A closed cuff against the hand round the knuckles.",
)


register_block(
    Block("cuff", "Cuff", "A band for the end of a sleeve, folded lengthwise, with an overlap for the button or closed.", ("wrist", "hand"), (),
          (edge_option("wrist"), Parameter("depth", "Finished depth", "length", 60.0, 10.0, 200.0),
           Parameter("overlap", "Overlap", "length", 25.0, 0.0, 80.0, why="0 for a closed cuff that the hand slips through.")),
          (EaseLevel("wrist", "Wrist", 50.0, "wrist"),),
          (Figure("seam_length", "Cuff edge", "if(edge > 0cm, edge, if(overlap > 0cm, wrist + ease_wrist, max(wrist + ease_wrist, hand + 1cm)))",
                  "Round the wrist and easy; closed, the hand has to go through."),
           Figure("cut_length", "Cuff, length with overlap", "seam_length + overlap", "Edge and overlap."),
           Figure("cut_depth", "Cuff, depth", "depth * 2", "Folded lengthwise.")),
          _cuff, (HAND,), family="Bands and collars", wants=("body",))
)  # fmt: skip


def _neckband(pattern: Pattern, context: Context, options: Values) -> Result:
    d = Drafting(context, options)
    length, depth = d["band_length"], d.size("depth")
    d.need(length > 60, say("The neckband is shorter than {6 cm}."), "band_length")
    band = band_piece(
        "neckband",
        "Neckband",
        length,
        2 * depth,
        run="neckline",
        notches=quarters(length),
        remark="stretch runs along the band",
        stretched=True,
    )
    closures = (
        promise(
            "seam",
            "Band is the wanted part of its edge",
            (run("neckband", "neckline"),),
            d["seam_length"] * d.size("ratio"),
            "along the seam line",
        ),
    )
    return d.result(
        (band,),
        (ring_seam("neckband", "Neckband"),),
        closures,
        (Dimension("band_length", "neckband", complex(0, depth * 1.5), complex(length, depth * 1.5)),),
        (Shown("front", "neckband", both=False),),
        joined={"neckline": ON_EDGE},
    )


HEAD = Passes(
    "head",
    of=(run("neckband", "neckline"),),
    stretched=True,
    place="neckband.neckline",
    label="Head goes through the stretched band",
    why="The band at its full stretch against the head.",
)


register_block(
    Block("neckband", "Neckband", "A ribbed or knit band for a neckline: shorter than the edge and stretched in by quarter points.", ("neck", "head"), (),
          (edge_option("neck"), Parameter("ratio", "Of the neckline", "number", 0.8, 0.5, 1.0, why="Rib about 0.8, a firm knit 0.85 to 0.9, woven 1."),
           Parameter("depth", "Finished depth", "length", 20.0, 5.0, 250.0), Parameter("seam", "Seam allowance", "length", 12.7, 0.0, 30.0, why="For the cut figures only; on paper it is added after.")),
          (EaseLevel("neck", "Neckline", 140.0, "neck"),),
          (Figure("seam_length", "Neckline", "if(edge > 0cm, edge, neck + ease_neck)", "As long as the edge it goes on."),
           Figure("band_length", "Band, along the seam", "seam_length * ratio", "Shorter than the edge, so that it lies flat to the neck."),
           Figure("cut_length", "Band, cut length", "band_length + seam * 2", "And two seams: with half-inch seams, 0.8 × neckline + 1 inch."),
           Figure("cut_depth", "Band, cut depth", "depth * 2 + seam * 2", "Twice its depth and two seams: 3 inches for 1 with half-inch seams."),
           Figure("give", "Stretch of the cloth", "max(stretch, 0)", "What the chosen cloth gives.", kind="count")),
          _neckband, (HEAD,), family="Bands and collars", wants=("stretch",))
)  # fmt: skip


def finished_depth(cut: float, seam: float) -> float:
    """What a band cut so deep is when finished, in mm: (cut − 2 seams) ÷ 2."""
    return (cut - 2 * seam) / 2
