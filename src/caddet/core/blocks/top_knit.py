"""``top.knit``: T-shirt, sweatshirt or tank in a knit, with its bands; with positive or negative ease."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.drafting.bands import band_piece, quarters, ring_seam
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
from caddet.core.drafting.draft_piece import Dimension, DraftPiece
from caddet.core.drafting.kit import Drafting, FitOf
from caddet.core.drafting.torso import TORSO_FIGURES, TORSO_NEEDS, loose_half, loose_sides, side_slant
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, UPPER_NEEDS, Upper, draft_upper, upper_closures, upper_figures
from caddet.core.figures.sums import Figure
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.promises import Promise
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block

OPTIONS = (
    Parameter("style", "Made as", "choice", "tshirt", choices=(("tshirt", "T-shirt"), ("sweatshirt", "Sweatshirt"), ("tank", "Tank")),
              why="A T-shirt has a narrow neckband and hems, a sweatshirt bands at neck, wrists and hem, a tank no sleeves and wide openings."),
    SCHOOL,
    Parameter("body_length", "Length, nape to hem", "length", 640.0, 250.0, 1300.0, begins="clamp(nape_to_waist + waist_to_hip + 2.5cm, 25cm, 120cm)"),
    Parameter("neck_wider", "Neckline larger by", "length", 120.0, 0.0, 600.0, why="Larger than the neck, so that the head goes through with the band stretched."),
    Parameter("band", "Neckband, finished depth", "length", 20.0, 8.0, 120.0),
    *sleeve_options("style", "tshirt", "sweatshirt"),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 60.0, "bust"),
    EaseLevel("hip", "Hip", 40.0, "hip"),
    EaseLevel("upper_arm", "Upper arm", 75.0, "upper_arm"),
)
FIGURES = (
    *upper_figures(neck="max(neck + neck_wider + if(style_tank, 10cm, 0cm), head / (0.8 * (1 + max(stretch, 0.25))) + 1cm)", armhole_drop="ease_bust * 0.12 + if(style_tank, 2.5cm, 1cm)", difference="0.5cm", front_share="0cm", armhole="if(style_tank, 0cm, armscye + 1.5cm + ease_bust * 0.25)"),
    Figure("strap", "Shoulder of a tank", "min(shoulder_length * 0.42, 5.5cm)", "What is left of the shoulder."),
    *TORSO_FIGURES,
    *sleeve_figures("if(style_tank, 0cm, 0.5cm)", "(front_armhole + back_armhole) / 3 - 2.5cm"),
    Figure("elbow_line_guess", "Elbow, below the biceps line", "shoulder_to_elbow - cap_height", "Where the sleeve bends."),
    Figure("neckband_length", "Neckband, length", "neck_round * 0.8", "Stretched in: eight tenths of the neckline lie flat; from memory of common practice."),
    Figure("neckband_cut", "Neckband, cut length with half-inch seams", "neckband_length + 1in", "0.8 × neckline + 1 inch."),
    Figure("wristband_length", "Wristband, length", "max(wrist * 1.05, hand / (1 + max(stretch, 0.1)))", "Snug, and the hand goes through."),
    Figure("hemband_length", "Hem band, length", "hem_line * 0.85", "Drawn in a little below."),
    Figure("give", "Stretch of the cloth", "stretch", "What the chosen cloth gives across.", kind="count"),
)  # fmt: skip


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front and back on the fold, sleeves, bands."""
    d = Drafting(context, options)
    style = d.choice("style")
    tank, sweat = style == "tank", style == "sweatshirt"
    if tank:
        d.settle("shoulder_slope", d["shoulder_slope"] * d["strap"] / d["shoulder_length"])
        d.settle("shoulder_length", d["strap"])
        for side in ("front", "back"):  # the opening comes in as far as its shoulder lets it
            d.settle(f"{side}_across", min(d[f"{side}_across"], d[f"{side}_neck_width"] + d["strap"] * 0.9))
    slant = side_slant(d)
    front, back = draft_upper(d, slant, slant)
    sides = loose_sides(d, front.underarm, back.underarm)
    pieces: list[DraftPiece] = [loose_half(d, "front", front, sides), loose_half(d, "back", back, sides)]
    seams = [
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew("shoulder", "Shoulder seam", (edge("front", "shoulder"),), (edge("back", "shoulder"),)),
    ]
    closures = list(torso_closures(d, front, back))
    dimensions = [
        Dimension("front_bust", "front", 1j * front.underarm.imag, front.underarm),
        Dimension("back_bust", "back", 1j * back.underarm.imag, back.underarm),
        Dimension("front_neck_depth", "front", complex(26, front.centre.imag - 30), complex(26, front.centre.imag)),
        Dimension("body_drop", "back", complex(40, 60), complex(40, d["body_drop"])),
    ]
    shown = [Shown("front", "front"), Shown("back", "back")]
    if not tank:
        fronts, backs = front.armhole.length, back.armhole.length
        d.solved.update(front_armhole=fronts, back_armhole=backs)
        cap = solve_cap(d, fronts, backs, (front.depth + back.depth) / 2)
        pieces.append(sleeve_piece(d, cap, front.lower_armhole, back.lower_armhole))
        seams += sleeve_seams(d, "front", "back")
        closures += sleeve_closures(d, fronts + backs)
        dimensions += sleeve_dimensions(cap, d["sleeve_long"] - cap.height)
        shown[:0] = hung_sleeve(cap, front, back)
    neck = d["neckband_length"]
    pieces.append(_band(d, neck))
    seams += [
        sew(
            "neckband",
            "Neckband, stretched in",
            (edge("neckband", "neckline"),),
            NECKLINE,
            "stretched",
            d["neck_round"] / neck,
        ),
        ring_seam("neckband", "Neckband"),
    ]
    if sweat:
        pieces = [_to_a_band(piece) for piece in pieces]
        _more_bands(d, pieces, seams)
    return d.result(
        pieces, seams, closures, dimensions, shown, _fits(d, front, back), "the nape", {"armhole": "facing"}
    )


def _band(d: Drafting, neck: float) -> DraftPiece:
    """The neckband for a length along its seam."""
    return band_piece(
        "neckband",
        "Neckband",
        neck,
        2 * d.size("band"),
        run="neckline",
        notches=quarters(neck),
        remark="stretch runs along the band",
        stretched=True,
    )


def _fits(d: Drafting, front: Upper, back: Upper) -> list[FitOf]:
    """The neckband follows the neckline, the sleeve its armholes."""
    share = d["neckband_length"] / d["neck_round"]
    fits = [FitOf("neckband", (NECKLINE,), lambda lengths: _band(d, lengths[0] * share))]
    if d.choice("style") != "tank":
        fits.append(sleeve_fit(d, front, back))
    return fits


NECKLINE = (
    edge("back", "neckline", mirrored=True),
    edge("front", "neckline", backwards=True, mirrored=True),
    edge("front", "neckline"),
    edge("back", "neckline", backwards=True),
)


def _to_a_band(piece: DraftPiece) -> DraftPiece:
    """A piece whose hem is not turned up: a band is sewn to it."""
    edges = tuple(replace(one, finish="") if one.finish == "hem" else one for one in piece.edges)
    return replace(piece, edges=edges)


def _more_bands(d: Drafting, pieces: list[DraftPiece], seams: list[Seam]) -> None:
    """Wristbands and a hem band, drawn in."""
    wrist, hem = d["wristband_length"], d["hemband_length"]
    deep = max(d.size("band") * 3, 100.0)
    pieces.append(
        band_piece(
            "wristband",
            "Wristband",
            wrist,
            deep,
            run="sleeve",
            cut=2,
            remark="stretch runs along the band",
            stretched=True,
        )
    )
    pieces.append(
        band_piece(
            "hemband",
            "Hem band",
            hem,
            deep,
            run="hem_edge",
            notches=quarters(hem),
            remark="stretch runs along the band",
            stretched=True,
        )
    )
    sleeve = next(piece for piece in pieces if piece.name == "sleeve")
    front, back = pieces[0], pieces[1]
    seams.append(
        sew(
            "wristband",
            "Wristband, stretched in",
            (edge("wristband", "sleeve"),),
            (edge("sleeve", "hem"),),
            "stretched",
            sleeve.run_length("hem") / wrist,
        )
    )
    around = 2 * (front.run_length("hem") + back.run_length("hem"))
    seams.append(sew("hemband", "Hem band, stretched in", (edge("hemband", "hem_edge"),),
                      (edge("front", "hem"), edge("front", "hem", mirrored=True), edge("back", "hem"), edge("back", "hem", mirrored=True)),
                      "stretched", around / hem))  # fmt: skip
    seams += [ring_seam("wristband", "Wristband"), ring_seam("hemband", "Hem band")]


def torso_closures(d: Drafting, front: Upper, back: Upper) -> tuple[Promise, ...]:
    """What a loose upper body promises."""
    return (
        promise("bust", "Bust closes on the body", (girth("bust"),), d["bust_round"], "along the bust line"),
        promise("neck", "Neckline is as long as wanted", (run("front", "neckline", worn=True), run("back", "neckline", worn=True)), d["neck_round"], "the whole neckline along its curve"),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"),
        promise("armhole", "Back armhole is the longer one", (run("back", "armhole"), run("front", "armhole", -1)), d["armhole_difference"], "back less front"),
        *upper_closures(d, front, back),
    )  # fmt: skip


PASSES = (
    Passes("head", "neck", stretched=True, label="Head goes through the stretched neckband",
           why="The neckband at full stretch against the head. If it is less, make the neckline larger."),
    Passes("body", of=(girth("bust"),), limit=Body("bust"), stretched=True, place="front.bust",
           label="The bust stretches over the body", why="Finished girth × (1 + stretch) against the body."),
    Passes("hand", "hem", on=("sleeve",), stretched=True, label="Hand goes through the sleeve",
           why="The sleeve's end at full stretch against the hand."),
)  # fmt: skip


BLOCK = register_block(
    Block("top.knit", "Knit top", "T-shirt, sweatshirt or tank: no darts, the cloth gives; bands at the neck, and for the sweatshirt at wrists and hem.",
          (*UPPER_NEEDS, *TORSO_NEEDS, *SLEEVE_NEEDS, "head"), (), OPTIONS, EASE, FIGURES, draft, PASSES,
          family="Upper body", fits=("knit_relaxed", "knit_close"), wants=("stretch",), schools=SCHOOLS)
)  # fmt: skip
