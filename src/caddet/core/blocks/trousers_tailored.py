"""``trousers.tailored``: two-piece legs with darts, pleats or elastic at the waist; straight, flared, tapered, wide."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from caddet.core.drafting.bands import band_piece
from caddet.core.drafting.declare import at_least, edge, girth, opening, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, Drawn, level, line, pleat
from caddet.core.drafting.kit import Drafting, FitOf
from caddet.core.drafting.legs import LEG_NEEDS, Leg, LegShape, crotch_figures, draw_leg, rise_at_fork, solve_crotch
from caddet.core.drafting.waist import taking_in
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.pattern.pattern import RIGHT_OF_MIDDLE, Pattern, Shown
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    Parameter("waist_with", "Waist with", "choice", "darts", choices=(("darts", "Darts"), ("pleats", "Front pleats"), ("elastic", "Elastic")),
              why="Darts shape it to the body; pleats leave the front dart open as a fold, with more room; elastic needs no opening, but the top has to pass the hips."),
    Parameter("leg", "Leg", "choice", "straight", choices=(("straight", "Straight"), ("flared", "Flared"), ("tapered", "Tapered"), ("wide", "Wide")),
              why="Widened or narrowed by as much at both seams, so that the crease stays in the middle."),
    Parameter("shorter", "Hem above the floor", "length", 25.0, 0.0, 800.0, why="About 2.5 for long trousers; more for shorts."),
    Parameter("band", "Waistband, finished depth", "length", 35.0, 15.0, 80.0, why="It is part of the rise: forgotten, the crotch hangs lower by it."),
    Parameter("pleat", "Pleat, besides the dart", "length", 20.0, 0.0, 80.0, why="Room added in each front and folded away at the waist.", only=("waist_with", ("pleats",))),
)  # fmt: skip
EASE = (
    EaseLevel("waist", "Waist", 10.0, "waist"),
    EaseLevel("hip", "Hip", 60.0, "hip"),
    EaseLevel("crotch", "Crotch", 20.0, "crotch_length"),
    EaseLevel("rise", "Rise", 10.0, "body_rise"),
)
FIGURES = (
    Figure("waist_seam", "Waist, finished", "waist + ease_waist", "A little air at the waist.", short="waist seam"),
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "Enough to sit down in.", short="hip round"),
    Figure("front_hip", "Hip line, front", "hip_round / 4 - 0.7cm + if(waist_with_pleats, pleat, 0cm)", "The seat is larger than the front; a pleat adds its depth."),
    Figure("back_hip", "Hip line, back", "hip_round / 2 - (hip_round / 4 - 0.7cm)", "What the front leaves of the half round."),
    Figure("front_waist", "Waist line, front", "waist_seam / 4 + 0.2cm", "A quarter of the waist."),
    Figure("back_waist", "Waist line, back", "waist_seam / 2 - front_waist", "What the front leaves of the half round."),
    Figure("hip_level", "Hip level", "waist_to_hip - band", "Below the seam of the waistband."),
    Figure("fork_level", "Crotch level", "body_rise + ease_rise - band", "The body's rise and a little air, less the waistband, which is part of it.", short="crotch level"),
    Figure("knee_level", "Knee level", "waist_to_knee - band", "The middle of the knee."),
    Figure("hem_level", "Hem level", "waist_to_floor - band - shorter", "From the waist to the floor, less what it ends above."),
    Figure("seat_tilt", "Centre back, leaned in", "if(waist_with_elastic, 1cm, clamp((hip - waist) * 0.14, 1.2cm, 4cm))", "The centre back leans towards the waist; a round seat wants more."),
    Figure("seat_rise", "Centre back, raised", "2.5cm", "The way over the seat is longer when one sits."),
    Figure("front_lean", "Centre front, leaned in", "if(waist_with_elastic, 0.3cm, 1cm)", "The front goes in a little to the waist."),
    Figure("front_drop", "Centre front, lowered", "0.8cm", "The waist dips to the front."),
    *crotch_figures(),
    Figure("knee_round", "Knee, all round", "if(leg_wide, max(thigh + 8cm, knee * 1.45), if(leg_flared, knee + 7cm, if(leg_tapered, knee + 9cm, max(knee + 11cm, hip_round * 0.44))))", "Room to bend the knee."),
    Figure("hem_round", "Hem, all round", "if(leg_wide, knee_round + 4cm, if(leg_flared, knee_round + 14cm, if(leg_tapered, max(ankle + 12cm, knee_round * 0.8), knee_round)))", "The foot has to go through."),
    Figure("leg_share", "Back leg wider by", "1cm", "Each half of the back is a little wider than the front's; seams lie forward."),
    Figure("side_lift", "Waist, up at the side", "0.6cm", "The way over the hip is longer at the side."),
    *taking_in("front", "front_hip - front_lean - if(waist_with_pleats, pleat, 0cm)", "front_waist"),
    *taking_in("back", "back_hip - seat_tilt", "back_waist"),
    Figure("front_dart_length", "Front dart, length", "min(9cm, hip_level * 0.55)", "Ends above the fullest part of the tummy."),
    Figure("back_dart_length", "Back dart, length", "min(12cm, hip_level * 0.75)", "The seat is fullest lower down."),
    Figure("fly", "Fly opening", "if(waist_with_elastic, 0cm, max(hip_level, (hip - waist_seam) / 2 + 1cm))", "The opened waist has to let the hips through."),
    Figure("band_length", "Waistband, length", "waist_seam + 4cm", "Once round, and the overlap over the fly."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "Folded lengthwise."),
    Figure("casing", "Casing, folded in", "band + 1cm", "The elastic, and half a centimetre on either side: from memory of common practice, ½ inch more than the elastic."),
)  # fmt: skip


def shapes(d: Drafting) -> tuple[LegShape, LegShape]:
    """Front and back before they are drawn. Raises :class:`CannotDraft` with the reason."""
    hip, fork, knee, hem = d["hip_level"], d["fork_level"], d["knee_level"], d["hem_level"]
    d.need(hip > 40, "The hip lies too near the waistband: look at waist to hip and the band.", "hip_level")
    d.need(fork > hip + 12, "The crotch lies at or above the hip: look at body rise and waist to hip.", "fork_level")
    d.need(hem > fork + 40, "The legs end less than 4 cm below the crotch: make them longer.", "hem_level")
    d.need(d["front_hip"] > 60 and d["back_hip"] > 60, "A quarter of the hip comes out at less than 6 cm.", "front_hip")
    d.need(d["knee_round"] > 80 and d["hem_round"] > 80, "The leg comes out narrower than 8 cm.", "knee_round")
    share = d["leg_share"]
    # shorts end above the knee: what would be the knee is then the hem
    knee = min(max(knee, fork + 30), hem)
    wide = d["knee_round"] if hem > knee + 1 else max(d["knee_round"], d["hem_round"])
    front = LegShape(
        "front",
        d["front_hip"],
        d["front_lean"],
        d["front_drop"],
        hip,
        fork,
        knee,
        hem,
        wide / 2 - 2 * share,
        d["hem_round"] / 2 - 2 * share if hem > knee + 1 else wide / 2 - 2 * share,
    )
    back = LegShape(
        "back",
        d["back_hip"],
        d["seat_tilt"],
        -d["seat_rise"],
        hip,
        fork,
        knee,
        hem,
        wide / 2 + 2 * share,
        d["hem_round"] / 2 + 2 * share if hem > knee + 1 else wide / 2 + 2 * share,
    )
    return front, back


def leg_piece(leg: Leg, label: str, extra: tuple[DraftNotch, ...] = (), marks: tuple[Drawn, ...] = ()) -> DraftPiece:
    """A leg as a pair, with hip and knee notches, and the crease as its grain."""
    shape = leg.shape
    low = shape.hem_level
    crease = line("crease", "crease", complex(leg.crease, shape.hip_level + 20), complex(leg.crease, low - 10))
    notches = (DraftNotch("side", leg.hip_along, name="hip"), *extra)
    if len(leg.side.segments) > 2:
        notches = (*notches, DraftNotch("side", leg.side.length - leg.side.segments[2].length, name="knee"),
                   DraftNotch("inseam", leg.edges[-2].path.segments[0].length, name="knee"))  # fmt: skip
    grain = (
        complex(leg.crease, shape.fork_level),
        complex(leg.crease, shape.fork_level + (low - shape.fork_level) * 0.7),
    )
    return DraftPiece(shape.name, label, leg.edges, leg.darts, notches, (crease, *marks), grain, cut=2, pair=True)


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front and back leg, and the waistband unless the waist is elastic."""
    d = Drafting(context, options)
    front_shape, back_shape = shapes(d)
    elastic, pleats = d.choice("waist_with") == "elastic", d.choice("waist_with") == "pleats"
    band = d.size("band")
    solve_crotch(d, front_shape, back_shape, d["crotch_round"] - 2 * band)
    fork, ratio = d["front_fork"], d["fork_ratio"]
    rising = rise_at_fork(front_shape, back_shape, fork, ratio, d["fork_drop"])
    pleat = 0.0
    if pleats:
        pleat = d.size("pleat") + (d["front_take"] if d["front_darts"] else 0.0)
    front_waist = None if elastic else d["front_waist"] + pleat
    if pleats:
        front = draw_leg(_without_darts(d), front_shape, fork, 0.0, rising, front_waist, d["side_lift"])
    else:
        front = draw_leg(
            d,
            front_shape,
            fork,
            0.0,
            rising,
            front_waist,
            d["side_lift"],
            None,
            d["front_hip"] * 0.45,
            d["front_dart_length"],
        )
    back = draw_leg(d, back_shape, fork * ratio, d["fork_drop"], rising, None if elastic else d["back_waist"], d["side_lift"], front.side.length,
                    d["seat_tilt"] + (d["back_hip"] - d["seat_tilt"]) * (0.33 if d["back_darts"] > 1 else 0.42), d["back_dart_length"])  # fmt: skip
    crotch_length = front.edges[-1].path.length
    fly = d["fly"]
    d.need(fly < crotch_length - 15, "The fly is longer than the front crotch.", "fly")
    extra = (DraftNotch("crotch", crotch_length - fly, double=True, name="fly ends"),) if fly > 5 else ()
    marks: tuple[Drawn, ...] = (_pleat(front, pleat),) if pleats and pleat > 0.05 else ()
    pieces = [leg_piece(front, "Front leg", extra, marks), leg_piece(back, "Back leg")]
    seams = [
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew("inseam", "Inseam", (edge("front", "inseam"),), (edge("back", "inseam"),)),
        sew(
            "front_crotch",
            "Front crotch",
            (edge("front", "crotch"),),
            (edge("front", "crotch", mirrored=True),),
            corners=True,
        ),
        sew(
            "back_crotch",
            "Back crotch",
            (edge("back", "crotch"),),
            (edge("back", "crotch", mirrored=True),),
            corners=True,
        ),
    ]
    closures = [
        at_least("hip", "Hip closes on the body", (girth("hip"),),
                 d["hip_round"] + (4 * d.size("pleat") / 2 if pleats else 0.0), "along the hip line, from crotch seam to side seam"),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"),
        promise("inseam", "Inseams are equal", (run("front", "inseam"), run("back", "inseam", -1)), 0.0, "front less back"),
    ]  # fmt: skip
    pieces = [_with_hip_line(piece, shape) for piece, shape in zip(pieces, (front_shape, back_shape), strict=True)]
    terms = [run("front", "crotch"), run("back", "crotch")]
    if elastic:
        closures.append(
            promise(
                "crotch",
                "Crotch closes on the body",
                tuple(terms),
                d["crotch_round"] - 2 * band,
                "front and back, the elastic's casing besides",
            )
        )
    else:
        closures.append(
            promise(
                "crotch",
                "Crotch closes on the body",
                (*terms, run("waistband", "end")),
                d["crotch_round"],
                "front, back, and the waistband twice",
            )
        )
        pieces.append(_band(d, d["waist_seam"]))
        seams.append(sew("waistband", "Waistband on the waist", (edge("waistband", "waist"),), WAIST))
        closures.append(promise("waist", "Waist closes on the body", (run("front", "waist", worn=True), run("back", "waist", worn=True)), d["waist_seam"],
                                "both fronts and both backs, darts sewn" + (", pleats folded" if pleats else "")))  # fmt: skip
    hip_level = front_shape.hip_level
    dimensions = (
        Dimension("front_hip", "front", complex(0, hip_level), complex(front_shape.hip, hip_level)),
        Dimension("back_hip", "back", complex(0, hip_level), complex(back_shape.hip, hip_level)),
        Dimension("front_fork", "front", complex(-fork, front_shape.fork_level), complex(0, front_shape.fork_level)),
        Dimension("fork_level", "front", complex(front_shape.hip * 0.3, 30), complex(front_shape.hip * 0.3, front_shape.fork_level * 0.7)),
        Dimension("back_waist", "back", complex(d["seat_tilt"], 24), complex(back.waist_end.real, 24)),
        Dimension("front_waist", "front", complex(0, 34), complex(front.waist_end.real, 34)),
        Dimension("knee_round", "back", complex(back.crease - 60, front_shape.knee_level), complex(back.crease + 60, front_shape.knee_level)),
        Dimension("hem_round", "back", complex(back.crease - 60, front_shape.hem_level - 25), complex(back.crease + 60, front_shape.hem_level - 25)),
    )  # fmt: skip
    return d.result(
        pieces,
        seams,
        closures,
        dimensions,
        (Shown("front", "front", clip=RIGHT_OF_MIDDLE), Shown("back", "back", clip=RIGHT_OF_MIDDLE)),
        () if elastic else (FitOf("waistband", (WAIST,), lambda lengths: _band(d, lengths[0])),),
        "the waist seam",
        {"waist": "casing"},
    )


WAIST = (
    edge("front", "waist"), edge("back", "waist", backwards=True),
    edge("back", "waist", mirrored=True), edge("front", "waist", backwards=True, mirrored=True),
)  # fmt: skip


def _band(d: Drafting, around: float) -> DraftPiece:
    """The waistband for a waist of that length, with 4 cm to lap over the fly."""
    return band_piece("waistband", "Waistband", around, 2 * d.size("band"), 40.0)


def _pleat(front: Leg, deep: float) -> Drawn:
    """The pleat over the crease, folded towards it."""
    waist = Path.join(edge.path for edge in front.edges if edge.name == "waist")
    cuts = waist.crossings(complex(front.crease, -500), complex(front.crease, 500))
    at = min(max(cuts[0][0] if cuts else waist.length / 3, 5.0), waist.length - deep - 5.0)
    return pleat("pleat", "pleat, folded to the centre", waist.point_at(at), waist.point_at(at + deep), 60j)


def _without_darts(d: Drafting) -> Drafting:
    """The same table with the front's darts left out (they are folded as pleats)."""
    return Drafting(d.context, d.options, {**d.solved, "front_darts": 0.0}, d.findings)


def _with_hip_line(piece: DraftPiece, shape: LegShape) -> DraftPiece:
    hip = level("hip", "hip line", complex(0, shape.hip_level), complex(shape.hip, shape.hip_level))
    return replace(piece, drawn=(*piece.drawn, hip))


def gates(pattern: Pattern, context: Context) -> Sequence[Gate]:
    """Hips through the waist, foot through the hem, thigh in the leg."""
    front, back = pattern.piece("front"), pattern.piece("back")
    top = 2 * (front.run_length("waist") + back.run_length("waist"))
    found = []
    if pattern.has("waistband"):
        around = pattern.piece("waistband").run_length("waist") + 2 * opening(
            pattern, "front", "crotch", "fly ends", from_end=True
        )
        found.append(Gate("hips", "Hips go through the waist", around, context.measures["hip"], "front.crotch", "The waist with the fly open, round both its sides, against the hip.",
                          (Remedy("Lengthen the fly", override=("fly", f"{((context.measures['hip'] - around) / 2 + context.sums['fly'].value + 10) / 10:.1f}cm")),) if around < context.measures["hip"] else ()))  # fmt: skip
    else:
        found.append(
            Gate(
                "hips",
                "Hips go through the top edge",
                top,
                context.measures["hip"],
                "front.waist",
                "The top edge before the elastic against the hip: it has to be pulled on over it.",
            )
        )
    hem = front.run_length("hem") + back.run_length("hem")
    found.append(
        Gate(
            "foot",
            "Foot goes through the hem",
            hem,
            context.measures["ankle"] * 1.35,
            "back.hem",
            "The hem against heel and instep, about a third more than the ankle.",
        )
    )
    thigh = _leg_round(front) + _leg_round(back)
    found.append(
        Gate(
            "thigh",
            "Thigh goes into the leg",
            thigh,
            context.measures["thigh"] + 10,
            "back.inseam",
            "The leg just below the crotch against the thigh.",
        )
    )
    return found


def _leg_round(piece: Piece) -> float:
    """The width of a leg 2 cm below its fork, in mm."""
    low = piece.run("inseam")[0].path.end.imag + 20
    cuts = [
        x.real
        for edge in (*piece.run("inseam"), *piece.run("side"))
        for _, x in edge.path.crossings(complex(-9999, low), complex(9999, low))
    ]
    return max(cuts) - min(cuts) if len(cuts) > 1 else 0.0


BLOCK = register_block(
    Block("trousers.tailored", "Trousers", "Front and back legs with a crotch solved to the body; darts, pleats or elastic at the waist.",
          LEG_NEEDS, (), OPTIONS, EASE, FIGURES, draft, gates, family="Trousers", fits=("fitted_woven", "loose_woven", "knit_relaxed"), wants=("strong",),
          schools={"darts": "Darts: the waist is shaped to the body and opens with a fly.", "pleats": "Pleats: the same cloth as the dart, folded and not sewn down; more room to sit.",
                   "elastic": "Elastic: the top is as wide as the hip and is drawn in; nothing to open."})
)  # fmt: skip
