"""``dress.sheath``: bodice and skirt with a waist seam, in one with contour darts, or a one-piece A-line."""

from __future__ import annotations

import math
from dataclasses import replace

from caddet.core.blocks.bodice_darted import ARM, ELBOW_LINE, HAND, body_closures, body_seams, half_pieces, with_sleeve
from caddet.core.drafting.bodice import BODICE_FIGURES, BODICE_NEEDS, BUST_DART, Half, draft_bodice
from caddet.core.drafting.cap import SLEEVE_NEEDS, sleeve_figures, sleeve_options
from caddet.core.drafting.declare import at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.long_half import LongHalf, aline, cut_across, fitted
from caddet.core.drafting.skirt_half import Half as SkirtHalf
from caddet.core.drafting.skirt_half import hip_line, skirt_half
from caddet.core.drafting.upper import SCHOOL, SCHOOLS
from caddet.core.figures.sums import Figure, Sum, Sums
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import Length, say

OPTIONS = (
    Parameter("style", "Made", "choice", "waist_seam", choices=(("waist_seam", "With a waist seam"), ("in_one", "In one, fitted"), ("a_line", "A-line")),
              why="A waist seam joins bodice and skirt; in one, darts run through the waist; an A-line falls from the bust without any."),
    SCHOOL, BUST_DART,
    Parameter("length", "Skirt, waist to hem", "length", 600.0, 150.0, 1300.0, begins="clamp(waist_to_floor * 0.57, 25cm, 130cm)"),
    Parameter("flare", "Flare, each side", "length", 0.0, 0.0, 300.0, why=say("At the hem, beyond the hip's width; an A-line wants {8 to 13 cm}.")),
    Parameter("split", "A-line split at the waist", "flag", False, why="Front and back cut across at the waist, to be joined by a seam.", only=("style", ("a_line",))),
    Parameter("sleeve", "With a sleeve", "flag", False, why="A set-in sleeve, fitted to the armholes."),
    *sleeve_options("sleeve", True),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 70.0, "bust"),
    EaseLevel("waist", "Waist", 50.0, "waist"),
    EaseLevel("hip", "Hip", 50.0, "hip"),
    EaseLevel("neck", "Neck", 20.0, "neck"),
    EaseLevel("upper_arm", "Upper arm", 50.0, "upper_arm"),
)
SKIRT = (
    Figure("panel_width", "Front or back at the bust, whole", "bust_round / 2", "Half the finished bust: with 5 inches of ease, 35 gives 20 inches."),
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "Enough to sit down in.", short="hip round"),
    Figure("front_hip", "Hip line, front", "hip_round / 4 + if(style_in_one, 0.3cm, 0.2cm)", "A quarter, the front a trifle more, as at the bust."),
    Figure("back_hip", "Hip line, back", "hip_round / 2 - front_hip", "What the front leaves of the half round."),
    Figure("hip_depth", "Hip level, below the waist", "waist_to_hip", "Where the fullest part lies."),
    Figure("skirt_side_lift", "Skirt waist, up at the side", "1.2cm", "The way over the hip is longer at the side than down the middle."),
    *(
        figure
        for side in ("front", "back")
        for figure in (
            Figure(f"skirt_{side}_less", say("Less from hip to waist, {side}", side=side), f"{side}_hip - {side}_waist", "So much has to be taken in on the skirt."),
            Figure(f"skirt_{side}_side_in", say("Skirt, taken in at the side, {side}", side=side), f"max(min(skirt_{side}_less * 0.4, 2.5cm), skirt_{side}_less - 7cm, 0cm)", "Two fifths, at most 2.5."),
            Figure(f"skirt_{side}_take", say("Skirt, for darts, {side}", side=side), f"max(skirt_{side}_less - skirt_{side}_side_in, 0cm)", "What is left after the side seam."),
            Figure(f"skirt_{side}_darts", say("Skirt darts in half a {side}", side=side), f"if(skirt_{side}_take < 0.8cm, 0, if(skirt_{side}_take > 3.5cm, 2, 1))", "Less than 0.8 isn't worth a dart.", kind="count"),
            Figure(f"skirt_{side}_dart", say("Skirt dart, {side}", side=side), f"skirt_{side}_take / max(skirt_{side}_darts, 1)", "Shared evenly when there are two."),
            Figure(f"skirt_{side}_dart_length", say("Skirt dart, {side}, length", side=side), "min(10cm, hip_depth * 0.55)" if side == "front" else "min(13cm, hip_depth * 0.7)",
                   "Front darts end above the tummy, back darts over the seat."),
            Figure(f"skirt_{side}_dart_place", say("Skirt dart, {side}, from the centre", side=side),
                   f"min({side}_dart_place - {side}_dart / 2 + skirt_{side}_dart / 2, {side}_hip * 0.7)", "Meets the bodice's dart at the waist seam."),
        )
    ),
    Figure("hem_flare", "Flare at the hem, each side", "if(style_a_line, max(flare, min(8cm, length * 0.14)), flare)", "An A-line that falls out by less is a tube."),
    *(
        figure
        for side, share, most, why in (("front", 0.62, 3.5, "In one: what is taken in at the waist between bust and hip."), ("back", 0.7, 4.0, "The back takes more: it is hollow there."))
        for figure in (
            Figure(f"contour_{side}_darts", say("Contour darts in half a {side}", side=side), f"if({side}_less - 2.5cm > {most}cm, 2, 1)", say("One takes {most} at most, and the side seam {2.5 cm}.", most=Length(most * 10)), kind="count"),
            Figure(f"contour_{side}_take", say("For contour darts, {side}", side=side), f"if(contour_{side}_darts > 1, {side}_less - 2.5cm, min(max({side}_less * {share}, {side}_less - 2.5cm, 0cm), {most}cm))", "What the side seam leaves."),
            Figure(f"contour_{side}", say("Contour dart, {side}", side=side), f"contour_{side}_take / contour_{side}_darts", why),
        )
    ),
    Figure("bust_dart_kept", "Bust dart kept at the side", "bust_dart_in - min(bust_dart_in / 2, 1.5cm * (front_bust - bust_point) / max(length + back_length - armhole_depth, 20cm))",
           "A-line: part of the bust dart is closed into the hem, so little that the front's hem stays nearly as wide as the back's."),
    Figure("zip_length", "Zip opening, below the nape", "back_length + max(hip_depth - 2cm, (hip - waist_round) / 2 + 1cm)", "Down the centre back until the hips go through."),
)  # fmt: skip
FIGURES = (*BODICE_FIGURES, *SKIRT, *sleeve_figures(), ELBOW_LINE)


def _skirt_names(sums: Sums) -> dict[str, Sum]:
    """The sums as the straight skirt names them."""
    names = dict(sums)
    for side in ("front", "back"):
        for what in ("dart", "darts", "dart_length", "dart_place"):
            names[f"{side}_{what}"] = sums[f"skirt_{side}_{what}"]
    names["side_lift"] = sums["skirt_side_lift"]
    return names


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Bodice and skirt, or the dress in one, with or without sleeves."""
    d = Drafting(context, options)
    d.need(d["hip_depth"] > 40, say("The hip lies less than {4 cm} below the waist."), "hip_depth")
    d.need(
        d.size("length") > d["hip_depth"] + 50 or d.choice("style") == "a_line",
        say("The dress ends less than {5 cm} below the hip: make it longer."),
        "recipe.options.length",
    )
    front, back = draft_bodice(d)
    if d.choice("style") == "waist_seam":
        return _with_seam(d, front, back)
    return _in_one(d, front, back)


def _with_seam(d: Drafting, front: Half, back: Half) -> Result:
    names, options = _skirt_names(d.sums), {"length": d.size("length"), "flare": d.size("flare")}
    skirt_front = skirt_half("front", names, options)
    skirt_back = skirt_half("back", names, options, skirt_front.side.length)
    pieces = list(half_pieces(front, back))
    pieces = [replace(piece, label=f"Bodice {piece.name}") for piece in pieces]
    pieces += [_skirt_piece("front", skirt_front, d), _skirt_piece("back", skirt_back, d)]
    seams = [*body_seams(d), *_two_part_seams()]
    closures = [
        *body_closures(d, front, back),
        promise("waist", "Waist closes on the body", (run("front", "waist", worn=True), run("back", "waist", worn=True)), d["waist_round"], "the bodice, darts sewn"),
        promise("skirt_waist", "Skirt fits the bodice", (run("skirt_front", "waist", worn=True), run("skirt_back", "waist", worn=True)), d["waist_round"], "the skirt, darts sewn"),
        promise("hip", "Hip closes on the body", (girth("hip"),), d["hip_round"], "along the hip line"),
        promise("skirt_side", "Skirt sides are equal", (run("skirt_front", "side"), run("skirt_back", "side", -1)), 0.0, "front less back"),
    ]  # fmt: skip
    depth, hip = back.upper.underarm.imag, d["hip_depth"]
    dimensions = [
        Dimension("front_bust", "front", complex(0, depth), front.upper.underarm),
        Dimension("back_bust", "back", complex(0, depth), back.upper.underarm),
        Dimension("front_hip", "skirt_front", complex(0, hip), complex(d["front_hip"], hip)),
        Dimension("back_hip", "skirt_back", complex(0, hip), complex(d["back_hip"], hip)),
        Dimension(
            "front_waist",
            "front",
            complex(0, front.waist.centre.imag - 30),
            complex(front.side_point.real, front.waist.centre.imag - 30),
        ),
    ]
    shown = [
        Shown("front", "front"),
        Shown("back", "back"),
        Shown("front", "skirt_front", Motion(shift=front.waist.centre)),
        Shown("back", "skirt_back", Motion(shift=back.waist.centre)),
    ]
    return with_sleeve(d, front, back, pieces, seams, closures, dimensions, shown)


def _two_part_seams() -> tuple[Seam, ...]:
    """What joins a bodice and a skirt of their own, and closes the centre back of both."""

    def at_waist(side: str) -> Seam:
        lower = (edge(f"skirt_{side}", "waist", backwards=True),)
        return sew(f"waist_{side}", say("Waist seam, {side}", side=side), (edge(side, "waist"),), lower, corners=True)

    def centre_back(name: str, piece: str, words: str) -> Seam:
        return sew(name, words, (edge(piece, "centre_back"),), (edge(piece, "centre_back", mirrored=True),))

    return (
        centre_back("centre_back", "back", "Centre back of the bodice, zip"),
        sew("skirt_side", "Skirt side seam", (edge("skirt_front", "side"),), (edge("skirt_back", "side"),)),
        at_waist("front"),
        at_waist("back"),
        centre_back("skirt_centre_back", "skirt_back", "Centre back of the skirt"),
    )


def _skirt_piece(side: str, half: SkirtHalf, d: Drafting) -> DraftPiece:
    """A skirt panel hanging from the waist seam: front on the fold, back with the zip's end."""
    length, hip, wide = d.size("length"), d["hip_depth"], d[f"{side}_hip"]
    zip_below = d["zip_length"] - d["back_length"]
    mark = hip_line(wide, hip)
    grain = (complex(wide * 0.16, hip + 20), complex(wide * 0.16, length - 40))
    notches: tuple[DraftNotch, ...] = (DraftNotch("side", half.hip_along, name="hip"),)
    if side == "front":
        edges = (*half.edges, Edge("centre_front", Path.polyline([1j * length, 0j]), "fold"))
        return DraftPiece("skirt_front", "Skirt front", edges, half.darts, notches, (mark,), grain)
    low = min(max(zip_below, 30.0), length - 20.0)
    edges = (
        *half.edges,
        Edge("centre_back", Path.polyline([1j * length, 1j * low])),
        Edge("zip", Path.polyline([1j * low, 0j]), "opening"),
    )
    return DraftPiece("skirt_back", "Skirt back", edges, half.darts, notches, (mark,), grain, cut=2, pair=True)


def _in_one(d: Drafting, front: Half, back: Half) -> Result:
    """The skirt goes on below the bodice's side; waist darts become contour darts inside, or nothing on an A-line."""
    loose = d.choice("style") == "a_line"
    slant = 0.0
    if loose:  # the sides swing out, and with them the armholes arrive: those are the ones a sleeve has to fit
        made = aline(d, front.waist.centre.imag)
        long_front, long_back, slant = made.front, made.back, made.slant
        front, back = (replace(half, upper=upper) for half, upper in zip((front, back), made.uppers, strict=True))
    else:
        long_front, long_back = fitted(d, front, back)
    seams = [*body_seams(d)]
    closures = list(body_closures(d, front, back))
    pieces = [long_front.piece, long_back.piece]
    closures.append(
        (at_least if loose else promise)(
            "hip", "Hip closes on the body", (girth("hip"),), d["hip_round"], "along the hip line"
        )
    )
    if not loose:
        closures.append(
            promise(
                "waist",
                "Waist closes on the body",
                (girth("waist"),),
                d["waist_round"],
                "along the waist line, contour darts sewn",
            )
        )
    seams.append(
        sew(
            "centre_back",
            "Centre back seam",
            (edge("back", "centre_back"),),
            (edge("back", "centre_back", mirrored=True),),
        )
    )
    depth = back.upper.underarm.imag
    dimensions = [
        Dimension("front_bust", "front", complex(0, depth), front.upper.underarm),
        Dimension("back_bust", "back", complex(0, depth), back.upper.underarm),
    ]
    if not loose:
        dimensions += [
            Dimension(
                "front_hip", "front", complex(0, long_front.hip_level), complex(d["front_hip"], long_front.hip_level)
            ),
            Dimension("back_hip", "back", complex(0, long_back.hip_level), complex(d["back_hip"], long_back.hip_level)),
            Dimension(
                "contour_front",
                "front",
                complex(d["bust_point"] - 20, long_front.waist_level),
                complex(d["bust_point"] + 20, long_front.waist_level),
            ),
        ]
    shown = [Shown("front", "front"), Shown("back", "back")]
    if loose and d.flag("split"):
        pieces, seams, shown = _split(d, long_front, long_back, seams, slant)
    return with_sleeve(d, front, back, pieces, seams, closures, dimensions, shown)


def _split(
    d: Drafting, front: LongHalf, back: LongHalf, seams: list[Seam], slant: float
) -> tuple[list[DraftPiece], list[Seam], list[Shown]]:
    """An A-line cut across at the waist into a top and a skirt, joined by a seam."""
    at = (d["back_length"] - d["armhole_depth"]) / math.cos(slant)  # as far down both sides, darts sewn
    pieces: list[DraftPiece] = []
    shown: list[Shown] = []
    for long, view in ((front, "front"), (back, "back")):
        for part in cut_across(long.piece, at, d["front_dip"] if view == "front" else 0.0):
            pieces.append(part)
            shown.append(Shown("front" if view == "front" else "back", part.name))
    return pieces, [*(seam for seam in seams if seam.name != "centre_back"), *_two_part_seams()], shown


BLOCK = register_block(
    Block(
        "dress.sheath",
        "Sheath dress",
        "Bodice and skirt together: with a waist seam, in one with contour darts, or falling as an A-line.",
        (*BODICE_NEEDS, *SLEEVE_NEEDS, "hip", "waist_to_hip"),
        ("stride", "waist_to_floor"),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        (ARM, HAND, Passes("stride", "hem")),
        family="Dresses",
        fits=("fitted_woven", "loose_woven"),
        wants=("body",),
        schools=SCHOOLS,
    )
)
