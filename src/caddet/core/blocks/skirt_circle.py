"""``skirt.circle``: any fraction of a circle, whole, in panels, or as a wrap. Exact geometry of a ring.

radius = seam length ÷ (2π × fraction). Some sewists take half an inch off the radius for the seam; here the
allowance is added after, and the other school's radius is shown as a figure.
"""

from __future__ import annotations

import math
from dataclasses import replace

from caddet.core.drafting.bands import band_piece
from caddet.core.drafting.curves import bend
from caddet.core.drafting.declare import edge, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, line
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Point
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Promise
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import Block, CannotDraft, EaseLevel, Gate, Parameter, Values, register_block
from caddet.core.sentences import say

OPTIONS = (
    Parameter("fraction", "Part of a circle", "number", 0.5, 0.1, 2.0,
              why="1 is a full circle, 0.5 a half. More than 1 is made of several rings."),
    Parameter("length", "Length, waist to hem", "length", 600.0, 50.0, 1400.0, begins="clamp(waist_to_floor * 0.57, 25cm, 130cm)"),
    Parameter("made", "Made", "choice", "whole", choices=(("whole", "Whole"), ("panels", "In panels"), ("wrap", "As a wrap")),
              why="Whole has one seam. Panels fit a narrow cloth. A wrap overlaps in front and has a curved front edge."),
    Parameter("panels", "Panels", "number", 4.0, 2.0, 24.0, why="How many equal parts.", only=("made", ("panels",))),
    Parameter("overlap", "Wrap overlap", "length", 0.0, 0.0, 900.0, only=("made", ("wrap",)),
              why="How far the wrap lies over itself at the waist. 0: half the waist, from one side seam to the other; less gapes when one sits."),
    Parameter("curved_edges", "Front edges curved", "choice", "one", choices=(("one", "The one on top"), ("both", "Both")), only=("made", ("wrap",)),
              why="The edge that is seen runs in a curve into the hem; the one below may stay straight, or match it."),
    Parameter("allowance_school", "Seam allowance", "choice", "after", choices=(("after", "Added after"), ("in_radius", "Taken off the radius")),
              why="Added after, the usual allowance lies inside the stitch line. Taken off the radius, half an inch does: the shorter "
              "radius is the one to draw on the cloth, and what is sewn is the same waist."),
    Parameter("band", "Waistband, finished depth", "length", 30.0, 0.0, 120.0, why="0 for none: a facing or an elastic."),
)  # fmt: skip
EASE = (EaseLevel("waist", "Waist", 10.0, "waist", parts=1),)
FIGURES = (
    Figure("waist_seam", "Waist, finished", "waist + ease_waist", "A little air at the waist.", short="waist seam"),
    Figure("wrap_over", "Wrap, lies over itself by", "if(made_wrap, if(overlap > 0cm, overlap, waist_seam / 2), 0cm)", "From one side seam to the other by default."),
    Figure("seam_round", "Seam line at the waist", "waist_seam + wrap_over",
           "A wrap goes round once and over itself.", short="seam line"),
    Figure("radius", "Radius to the waist", "seam_round / (6.2831853072 * fraction)",
           "The waist is an arc of a circle: its length is 2π × radius × the part of a circle.", source="exact geometry"),
    Figure("waist_turn", "Allowance at the waist", "0.5in", "Where it is taken off the radius: half an inch."),
    Figure("cut_radius", "Radius to cut the waist at", "radius - if(allowance_school_in_radius, waist_turn, 0cm)", "The radius less the allowance: drawn straight on the cloth, it is the cut line."),
    Figure("outer_radius", "Radius to the hem", "radius + length", "The same centre, further out by the length.", source="exact geometry"),
    Figure("hem_round", "Hem, all round", "6.2831853072 * fraction * outer_radius", "So much hem has to be turned up or bound.", source="exact geometry"),
    Figure("cloth_room", "Cloth, width", "cloth_width", "What the chosen cloth gives across."),
    Figure("opening", "Opening", "max((hip - waist_seam) / 2 + 1cm, 12cm)", "Long enough to let the hips through.", short="opening"),
    Figure("band_length", "Waistband, length", "seam_round + if(made_wrap, 0cm, 3cm)",
           "The seam and an overlap for the button; on a wrap the seam alone, and cut an inch longer."),
    Figure("band_turn", "Allowance round the band of a wrap", "0.5in", "It is cut an inch longer than the seam: half an inch at each end, and as much at its sides."),
    Figure("slot", "Slot for the tie, from the band's end", "wrap_over + 2cm", "Just past where the front covers the band, so that the tie comes out at the side. Marked on the body and moved by dragging."),
    Figure("tie", "Ties of a wrap, each", "1.5yd", "Once round and a bow: a yard and a half."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "The band is folded lengthwise: twice its depth."),
)  # fmt: skip


def _count(d: Drafting) -> int:
    """How many equal sectors are cut: panels as asked, or as many as keep each within a full ring."""
    if d.choice("made") == "panels":
        return round(d.size("panels"))
    if d.choice("made") == "wrap":
        return 1
    return max(1, math.ceil(d.size("fraction") - 1e-9))


def sector(
    name: str,
    label: str,
    radius: float,
    outer: float,
    angle: float,
    sides: tuple[str, str],
    cut: int,
    fold: bool,
    panel: bool = False,
) -> DraftPiece:
    """A part of a ring, symmetrical about its middle, which points down; with ``fold`` its right half only.

    A ``panel`` hangs down its middle, however wide; another part may lie along the cloth.
    """
    middle = math.pi / 2
    from_ = middle - angle / 2
    until = middle if fold else middle + angle / 2
    inner = Arc(0j, radius, until, from_ - until)
    hem = Arc(0j, outer, from_, until - from_)
    edges = [
        Edge("waist", Path((inner,))),
        Edge(sides[0], Path.polyline([inner.end, hem.start])),
        Edge("hem", Path((hem,)), "hem"),
        Edge("fold" if fold else sides[1], Path.polyline([hem.end, inner.start]), "fold" if fold else ""),
    ]
    inside = outer * 0.04 if fold else 0.0
    grain = _grain(
        tuple(edges), complex(inside, radius + (outer - radius) * 0.5), (outer - radius) * 0.7, fold or panel
    )
    return DraftPiece(name, label, tuple(edges), grain=grain, cut=cut)


def _grain(edges: tuple[Edge, ...], middle: Point, size: float, fold: bool) -> tuple[Point, Point]:
    """Down the middle; but of a part that is wider than long along its straight edge, so that it goes on the cloth."""
    left, top, right, bottom = Path.join(edge.path for edge in edges).bounds()
    half = size / 2 if not fold and right - left > bottom - top else size / 2 * 1j
    return middle - half, middle + half


def _wrap(d: Drafting, angle: float) -> DraftPiece:
    """The wrap: its hem runs up in a curve into the waist at the front edge on top, or at both."""
    radius, outer = d["radius"], d["outer_radius"]
    middle = math.pi / 2
    half = angle / 2
    swing = min(half * 0.42, math.radians(55))
    inner = Arc(0j, radius, middle + half, -angle)
    both = d.choice("curved_edges") == "both"
    hem = Arc(0j, outer, middle - half + swing, angle - swing * (2 if both else 1))

    def front(corner: Point, hem_point: Point, along: Point) -> Cubic:
        """From the waist's corner out along its own radius, then round into the hem."""
        return bend(corner, corner / abs(corner), hem_point, along, 0.62, 0.75)

    right = front(inner.end, hem.start, hem.direction(0))
    if both:
        left = Path((front(inner.start, hem.end, -hem.direction(1)).reversed(),))
    else:
        left = Path.polyline([hem.end, inner.start])
    edges = outline(
        ("waist", Path((inner,))),
        ("front_edge", Path((right,)), "binding"),
        ("hem", Path((hem,)), "hem"),
        ("front_edge_left", left, "binding"),
    )
    grain = _grain(edges, complex(0, (radius + outer) / 2), (outer - radius) * 0.6, False)
    return DraftPiece(
        "skirt",
        "Wrap skirt",
        edges,
        grain=grain,
        remark="curved front edges: bind or face them" if both else "curved front edge: bind or face it",
    )


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """The ring or its parts, and the waistband."""
    d = Drafting(context, options)
    radius, outer, fraction = d["radius"], d["outer_radius"], d.size("fraction")
    d.need(
        radius >= 5, "The radius comes out at less than half a centimetre: take a smaller part of a circle.", "radius"
    )
    count = _count(d)
    angle = 2 * math.pi * fraction / count
    if angle > 2 * math.pi - 0.02 and d.choice("made") == "wrap":
        raise CannotDraft(
            "A wrap needs less than a full circle, or its edges would lie on each other.", "recipe.options.fraction"
        )
    wanted = d["seam_round"]
    closures: list[Promise] = []
    seams: list[Seam] = []
    if d.choice("made") == "wrap":
        skirt = _wrap(d, angle)
        waist = (run("skirt", "waist"),)
        closures.append(promise("waist", "Waist closes on the body", waist, wanted, "the waist and its overlap"))
    else:
        skirt = _ring(d, angle, count)
        fold = "fold" in skirt.runs()
        ends = ("back", "back") if fold else ("seam_right", "seam_left")
        other = (edge("skirt", ends[1], backwards=not fold, mirrored=fold),)
        seams.append(sew("panel", "Seam" if count == 1 else "Panel seam", (edge("skirt", ends[0]),), other))
        waist, hem = ((run("skirt", name, float(count), worn=fold),) for name in ("waist", "hem"))
        around = 2 * math.pi * fraction * outer
        closures += [
            promise("waist", "Waist closes on the body", waist, wanted, "all panels along their arcs"),
            promise("hem", "Hem is the ring's", hem, around, "exact geometry"),
        ]
    pieces = [skirt]
    dimensions = [
        Dimension("radius", "skirt", 0j, complex(0, radius)),
        Dimension("outer_radius", "skirt", complex(0, radius), complex(0, outer)),
    ]
    if d.size("band") > 0:
        pieces.append(_band(d))
        seams.append(_band_seam(skirt))
        along = (run("waistband", "waist"),)
        closures.append(promise("band", "Waistband fits the waist", along, d["seam_round"], "without the overlap"))
        dimensions.append(Dimension("band_length", "waistband", 0j, complex(d["band_length"], d["band_depth"] / 2)))
    return d.result(
        pieces,
        seams,
        closures,
        dimensions,
        [Shown("front", "skirt", both="fold" in skirt.runs())],
        zero="the middle of the circle",
        finishes={"waist": "facing"},
        allowances=_allowances(d),
    )


def _allowances(d: Drafting) -> dict[str, str]:
    """What is left at the waist where it is taken off the radius, and round the band of a wrap."""
    waist = {"skirt.waist": "waist_turn"} if d.choice("allowance_school") == "in_radius" else {}
    wrap = d.choice("made") == "wrap" and d.size("band") > 0
    return waist | ({f"waistband.{one}": "band_turn" for one in ("start", "end", "waist", "inside")} if wrap else {})


def _ring(d: Drafting, angle: float, count: int) -> DraftPiece:
    """The ring or one of its parts, with its opening. A whole ring is half of it on the fold: no seam falls on itself."""
    fold = angle > 2 * math.pi - 1e-6
    sides = ("back", "front") if fold else ("seam_right", "seam_left")
    label = "Circle skirt" if count == 1 else "Ring" if fold else "Panel"
    panels = d.choice("made") == "panels" and not fold
    ring = sector("skirt", label, d["radius"], d["outer_radius"], angle, sides, count, fold, panels)
    if d["opening"] >= d.size("length") - 20:
        return ring
    return replace(ring, notches=(DraftNotch(sides[0], d["opening"], double=True, name="opening ends"),))


def _band(d: Drafting) -> DraftPiece:
    """The waistband with its overlap; on a wrap with a slot for the tie."""
    overlap = d["band_length"] - d["seam_round"]
    band = band_piece("waistband", "Waistband", d["seam_round"], d["band_depth"], overlap)
    if d.choice("made") != "wrap":
        return band
    edges = tuple(replace(one, finish="band") if one.name in ("start", "end") else one for one in band.edges)
    band = replace(band, edges=edges)
    at = complex(band.edges[0].path.end.real - d["slot"], d["band_depth"] * 0.75)
    return replace(band, drawn=(*band.drawn, line("slot", "slot for the tie", at - 9.5, at + 9.5)))


def _band_seam(skirt: DraftPiece) -> Seam:
    """The band on all parts of the skirt."""
    waist = [edge("skirt", "waist")]
    if "fold" in skirt.runs():
        waist.append(edge("skirt", "waist", backwards=True, mirrored=True))
    return sew("waistband", "Waistband on the waist", (edge("waistband", "waist"),), tuple(waist * skirt.cut))


HIPS = Passes(
    "hips",
    "waist",
    unless="front_edge",
    label="Hips go through the waist",
    why="The waist with its opening, round both sides, against the hip.",
)


def _cloth(pattern: Pattern, context: Context) -> list[Gate]:
    """Each panel on the width of the cloth."""
    return [_on_cloth(part, context) for part in pattern.parts("skirt")]


def _on_cloth(skirt: Piece, context: Context) -> Gate:
    """The piece across the cloth; on the fold it lies with its fold along it."""
    left_, top, right_, bottom = skirt.outline().bounds()
    level = abs((skirt.grain.b - skirt.grain.a).real) > 1
    across = bottom - top if level else right_ - left_
    if skirt.fold:
        across *= 2
    room = context.sums["cloth_room"].value
    remedies: tuple[Remedy, ...] = ()
    if across > room:
        in_panels = skirt.label == "Panel"
        more = Remedy(say("Cut it in {cut} panels", cut=skirt.cut + 2), option=("panels", float(skirt.cut + 2)))
        remedies = (more if in_panels else Remedy("Cut it in panels", option=("made", "panels")),)
    return Gate(
        "cloth",
        "It goes on the cloth",
        room,
        across,
        "skirt.hem",
        "The width of the cloth against the piece. Radius and length together are more than the cloth has: cut it in panels, "
        "or take a wider cloth.",
        remedies,
    )


BLOCK = register_block(
    Block(
        "skirt.circle",
        "Circle skirt",
        "A ring or part of one: no darts, the fullness falls from the waist.",
        ("waist", "hip"),
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        (HIPS,),
        more_gates=_cloth,
        family="Skirts",
        fits=("fitted_woven", "knit_relaxed"),
        wants=("drape",),
        schools={
            "after": "Allowance added after: the paper shows the stitch line, the cut line lies inside it.",
            "in_radius": "Half an inch off the radius: the shorter radius is the cut line, drawn straight on the cloth.",
        },
    )
)
