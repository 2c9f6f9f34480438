"""``trousers.tailored``: two-piece legs with darts, pleats or elastic at the waist; straight, flared, tapered, wide."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.drafting.bands import band_piece, quarters, ring_seam
from caddet.core.drafting.casing import casing_figures, casing_seams, grown_on
from caddet.core.drafting.declare import at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, Drawn, level, line, pleat
from caddet.core.drafting.kit import Drafting, FitOf, solve_between
from caddet.core.drafting.legs import LEG_NEEDS, Leg, LegShape, crotch_figures, draw_leg, flatter_back, solve_crotch
from caddet.core.drafting.waist import taking_in
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.pattern.pattern import RIGHT_OF_MIDDLE, Pattern, Shown
from caddet.core.pattern.promises import Girth, Promise
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Mend, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import Length, say

OPTIONS = (
    Parameter("waist_with", "Waist with", "choice", "darts", choices=(("darts", "Darts"), ("pleats", "Front pleats"), ("elastic", "Elastic")),
              why="Darts shape it to the body; pleats leave the front dart open as a fold, with more room; elastic needs no opening, but the top has to pass the hips."),
    Parameter("leg", "Leg", "choice", "straight", choices=(("straight", "Straight"), ("flared", "Flared"), ("tapered", "Tapered"), ("wide", "Wide")),
              why="Widened or narrowed by as much at both seams, so that the crease stays in the middle."),
    Parameter("shorter", "Hem above the floor", "length", 25.0, 0.0, 800.0, why="About 2.5 for long trousers; more for shorts. The leg is as wide at its hem as it is at that level."),
    Parameter("band", "Waistband or elastic, depth", "length", 35.0, 6.0, 80.0, why="It is part of the rise: forgotten, the crotch hangs lower by it."),
    Parameter("casing", "Casing", "choice", "auto", choices=(("auto", "As it suits the elastic"), ("grown_on", "Grown on"), ("separate", "Cut on its own")),
              why="Grown on, the top is folded in over the elastic; that lies flat where the waist is straight and the elastic narrow.", only=("waist_with", ("elastic",))),
    Parameter("drawstring", "Drawstring", "flag", False, why="Two buttonholes at the centre front let a cord out. None for young children at the waist of what can catch.", only=("waist_with", ("elastic",))),
    Parameter("pleat", "Pleat, besides the dart", "length", 20.0, 0.0, 80.0, why="Room added in each front and folded away at the waist.", only=("waist_with", ("pleats",))),
    Parameter("pleats", "Pleats in each front", "count", 1, 1, 2, why="With two, the one over the crease takes the larger part, the one towards the side the rest.", only=("waist_with", ("pleats",))),
)  # fmt: skip
EASE = (
    EaseLevel("waist", "Waist", 10.0, "waist"),
    EaseLevel("hip", "Hip", 60.0, "hip"),
    EaseLevel("thigh", "Thigh", 60.0, "thigh"),
    EaseLevel("knee", "Knee", 110.0, "knee"),
    EaseLevel("calf", "Calf", 50.0, "calf"),
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
    *casing_figures("band"),
    Figure("band_in_rise", "Band or casing above the legs", "if(waist_with_elastic, if(casing_grown > 0, 0cm, casing_net), band)",
           "It is part of the rise. A casing that is grown on is folded in at the waist and adds nothing."),
    Figure("hip_level", "Hip level", "waist_to_hip - band_in_rise", "Below the legs' top edge."),
    Figure("fork_level", "Crotch level", "body_rise + ease_rise - band_in_rise", "The body's rise and a little air, less the waistband, which is part of it.", short="crotch level"),
    Figure("knee_level", "Knee level", "waist_to_knee - band_in_rise", "The middle of the knee."),
    Figure("foot_level", "Foot level", "waist_to_floor - band_in_rise - min(shorter, 2.5cm)", "Where a long leg ends."),
    Figure("hem_level", "Hem level", "waist_to_floor - band_in_rise - shorter", "From the waist to the floor, less what it ends above."),
    Figure("seat_rise", "Centre back, raised", "if(waist_with_elastic, 1.8cm, 2.5cm)", "The way over the seat is longer when one sits."),
    Figure("seat_tilt", "Centre back, leaned in", "if(waist_with_elastic, 0.8cm, clamp((hip - waist) * 0.14, 1.2cm, 4cm))",
           "The centre back leans towards the waist, about 2 in 10; a round seat wants more. With elastic solved: square to the waist."),
    Figure("front_lean", "Centre front, leaned in", "if(waist_with_elastic, -0.5cm, 1cm)", "The front goes in a little to the waist. With elastic solved: square to the waist, which is straight."),
    Figure("front_drop", "Centre front, lowered", "if(waist_with_elastic, 0cm, 0.8cm)", "The waist dips to the front."),
    *crotch_figures(),
    Figure("thigh_round", "Thigh, at least", "thigh + ease_thigh", "Just below the crotch; the knee is widened until it is there."),
    Figure("calf_round", "Calf, at least", "calf + ease_calf", "The calf passes on the way to the foot."),
    Figure("knee_round", "Knee, all round", "max(knee + ease_knee, if(leg_wide, max(thigh + 8cm, knee * 1.45), if(leg_flared, 0cm, if(leg_tapered, 0cm, hip_round * 0.44))) ) - if(leg_flared, 4cm, if(leg_tapered, 2cm, 0cm))", "Room to bend the knee."),
    Figure("foot_round", "Leg at the foot, all round", "max(if(leg_wide, knee_round + 4cm, if(leg_flared, knee_round + 14cm, if(leg_tapered, max(ankle + 12cm, knee_round * 0.8), knee_round))), (calf_round - knee_round * 2 / 3) * 3)",
           "The foot has to go through, and the calf on the way."),
    Figure("hem_round", "Hem, all round", "foot_round", "As wide as the leg is where it ends; measured on the draft."),
    Figure("leg_share", "Back leg wider by", "1cm", "Each half of the back is a little wider than the front's; seams lie forward."),
    Figure("side_lift", "Waist, up at the side", "if(waist_with_elastic, 0.9cm, 0.6cm)", "The way over the hip is longer at the side. With elastic solved: the waist runs straight over the side seam."),
    *taking_in("front", "front_hip - front_lean - if(waist_with_pleats, pleat, 0cm)", "front_waist"),
    *taking_in("back", "back_hip - seat_tilt", "back_waist"),
    Figure("front_dart_length", "Front dart, length", "min(9cm, hip_level * 0.55)", "Ends above the fullest part of the tummy."),
    Figure("back_dart_length", "Back dart, length", "min(12cm, hip_level * 0.75)", "The seat is fullest lower down."),
    Figure("fly", "Fly opening", "if(waist_with_elastic, 0cm, max(hip_level, (hip - waist_seam) / 2 + 1cm))", "The opened waist has to let the hips through."),
    Figure("band_length", "Waistband, length", "waist_seam + 4cm", "Once round, and the overlap over the fly."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "Folded lengthwise."),
    Figure("casing_length", "Casing cut on its own, length", "hip_round", "As long as the top edge; measured on the draft."),
)  # fmt: skip


def shapes(d: Drafting) -> tuple[LegShape, LegShape]:
    """Front and back before they are drawn. Raises :class:`CannotDraft` with the reason."""
    hip, fork, knee, hem = d["hip_level"], d["fork_level"], d["knee_level"], d["hem_level"]
    d.need(hip > 40, "The hip lies too near the waistband: look at waist to hip and the band.", "hip_level")
    d.need(fork > hip + 12, "The crotch lies at or above the hip: look at body rise and waist to hip.", "fork_level")
    d.need(hem > fork + 40, say("The legs end less than {4 cm} below the crotch: make them longer."), "hem_level")
    d.need(
        d["front_hip"] > 60 and d["back_hip"] > 60,
        say("A quarter of the hip comes out at less than {6 cm}."),
        "front_hip",
    )
    d.need(d["knee_round"] > 80 and d["hem_round"] > 80, say("The leg comes out narrower than {8 cm}."), "knee_round")
    share = d["leg_share"]
    knee = max(knee, fork + 60)
    foot = max(d["foot_level"], knee + 60)
    made = []
    for name, sign, lean, top in (
        ("front", -2, d["front_lean"], d["front_drop"]),
        ("back", 2, d["seat_tilt"], -d["seat_rise"]),
    ):
        made.append(
            LegShape(
                name,
                d[f"{name}_hip"],
                lean,
                top,
                hip,
                fork,
                knee,
                foot,
                min(hem, foot),
                d["knee_round"] / 2 + sign * share,
                d["foot_round"] / 2 + sign * share,
                d.choice("waist_with") == "elastic",
            )
        )
    return made[0], made[1]


MUCH_WIDER, WIDE_KNEE = 40.0, 1.5  # mm that the leg may be widened for the thigh, and times the knee, before it is said


def wide_enough(d: Drafting) -> tuple[LegShape, LegShape]:
    """The shapes with their crotch solved; the knee is widened until the thigh has its room, if it has to be."""
    knee, foot = d["knee_round"], d["foot_round"]

    def short(wider: float) -> float:
        """What the thigh lacks (mm) with the leg wider by so much from the knee down."""
        d.solved.update(knee_round=knee + wider, foot_round=foot + wider)
        front, back = shapes(d)
        solve_crotch(d, front, back, d["crotch_round"] - 2 * d["band_in_rise"])
        fork, ratio = d["front_fork"], d["fork_ratio"]
        return (
            d["thigh_round"]
            - front.width(fork, 0.0, front.thigh_level)
            - back.width(fork * ratio, d["fork_drop"], back.thigh_level)
        )

    fixed = d.sums["knee_round"].override is not None or d.sums["foot_round"].override is not None
    if fixed:
        front, back = shapes(d)
        solve_crotch(d, front, back, d["crotch_round"] - 2 * d["band_in_rise"])
        return front, back
    if short(0.0) > 0:
        found = solve_between(lambda v: short(v) + 0.05, 30.0, 0.0, knee * 0.8)
        wider = knee * 0.8 if found is None else found
        short(wider)
        if wider > MUCH_WIDER and knee + wider > WIDE_KNEE * d.context.measures["knee"]:
            d.remark(
                "draft.thigh",
                say(
                    "For a thigh of {thigh} the leg is drawn {wider} wider from the knee down: {round} round a knee of {knee}. {measure}",
                    thigh=Length(d.context.measures["thigh"]),
                    wider=Length(wider),
                    round=Length(knee + wider),
                    knee=Length(d.context.measures["knee"]),
                    measure=d.measure("thigh", "knee"),
                ),
                "figures.knee_round",
            )
    return shapes(d)


def leg_piece(
    leg: Leg, label: str, hip_along: float, extra: tuple[DraftNotch, ...] = (), marks: tuple[Drawn, ...] = ()
) -> DraftPiece:
    """A leg as a pair, with hip and knee notches, its levels, and the crease as its grain.

    ``hip_along`` is where along the side the hip notch stands (mm).
    """
    shape = leg.shape
    low = shape.hem_level
    crease = line("crease", "crease", complex(leg.crease, shape.hip_level + 20), complex(leg.crease, low - 10))
    notches = (DraftNotch("side", hip_along, name="hip"), *extra)
    if len(leg.side.segments) > 2:
        notches = (
            *notches,
            DraftNotch("side", leg.side.length - leg.side.segments[2].length, name="knee"),
            DraftNotch("inseam", leg.edges[-2].path.segments[0].length, name="knee"),
        )
    levels = [level("hip", "hip line", leg.edges[-1].path.segments[0].end, complex(shape.hip, shape.hip_level))]
    for name, at in (("thigh", shape.thigh_level), ("knee", shape.knee_level), ("calf", shape.calf_level)):
        across = leg.across(at)
        if across is not None:
            levels.append(level(name, name, *across))
    grain = (
        complex(leg.crease, shape.fork_level),
        complex(leg.crease, shape.fork_level + (low - shape.fork_level) * 0.7),
    )
    return DraftPiece(
        shape.name, label, leg.edges, leg.darts, notches, (crease, *levels, *marks), grain, cut=2, pair=True
    )


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front and back leg, and the waistband or the casing."""
    d = Drafting(context, options)
    elastic, pleats = d.choice("waist_with") == "elastic", d.choice("waist_with") == "pleats"
    pleat = d.size("pleat") + (d["front_take"] if d["front_darts"] else 0.0) if pleats else 0.0
    front, back = _drawn(d, elastic, pleat if pleats else None)
    for _ in range(3 if elastic else 0):
        _straighten(d, front, back)
        front, back = _drawn(d, elastic, None)
    front_shape = front.shape
    d.settle("hem_round", sum(_run(leg, "hem").length for leg in (front, back)))
    crotch_length = front.edges[-1].path.length
    fly = d["fly"]
    d.need(fly < crotch_length - 15, "The fly is longer than the front crotch.", "fly")
    extra = (DraftNotch("crotch", crotch_length - fly, double=True, name="fly ends"),) if fly > 5 else ()
    marks = _pleats(front, pleat, int(d.size("pleats"))) if pleats and pleat > 0.05 else ()
    # the sides are equally long: the notches of the hip lie as far down both
    pieces = [
        leg_piece(front, "Front leg", front.hip_along, extra, marks),
        leg_piece(back, "Back leg", front.hip_along),
    ]
    seams = [*_seams()]
    closures = [*_closures(d, front_shape, 4 * d.size("pleat") / 2 if pleats else 0.0)]
    crotch = (run("front", "crotch"), run("back", "crotch"))
    fits: tuple[FitOf, ...] = ()
    if elastic and d["casing_grown"] > 0:
        pieces = [_cased(d, piece) for piece in pieces]
        seams += casing_seams("front", "back")
        closures.append(
            promise(
                "crotch",
                "Crotch closes on the body",
                crotch,
                d["crotch_round"],
                "front and back, to the fold of the casing",
            )
        )
        closures.append(
            at_least("top", "Top edge passes the hips", TOP, d.context.measures["hip"], "before the elastic is in")
        )
    else:
        closures.append(
            promise(
                "crotch",
                "Crotch closes on the body",
                (*crotch, run("waistband", "end")),
                d["crotch_round"],
                "front, back, and the waistband twice",
            )
        )
        around = sum(_run(leg, "waist").length for leg in (front, back)) * 2 if elastic else d["waist_seam"]
        pieces.append(_band(d, around))
        seams.append(
            sew(
                "waistband",
                "Casing on the waist" if elastic else "Waistband on the waist",
                (edge("waistband", "waist"),),
                WAIST,
            )
        )
        if elastic:
            seams.append(ring_seam("waistband", "Casing"))
            d.settle("casing_length", around)
            closures.append(
                at_least("top", "Top edge passes the hips", TOP, d.context.measures["hip"], "before the elastic is in")
            )
        else:
            closures.append(
                promise(
                    "waist",
                    "Waist closes on the body",
                    TOP,
                    d["waist_seam"],
                    "both fronts and both backs, darts sewn" + (", pleats folded" if pleats else ""),
                )
            )
        fits = (FitOf("waistband", (WAIST,), lambda lengths: _band(d, lengths[0])),)
    return d.result(
        pieces,
        seams,
        closures,
        _dimensions(d, front, back),
        (Shown("front", "front", clip=RIGHT_OF_MIDDLE), Shown("back", "back", clip=RIGHT_OF_MIDDLE)),
        fits,
        "the waist" if elastic and d["casing_grown"] > 0 else "the waist seam",
    )


def _drawn(d: Drafting, elastic: bool, pleat: float | None) -> tuple[Leg, Leg]:
    """Front and back with their waists solved; ``pleat`` is what the front's pleat takes in place of darts, mm."""
    front_shape, back_shape = wide_enough(d)
    fork, lift = d["front_fork"], d["side_lift"]
    flatter = flatter_back(d, front_shape, back_shape, fork, d["fork_drop"])
    front_waist = None if elastic else d["front_waist"] + (pleat or 0.0)
    front = draw_leg(
        d if pleat is None else _without_darts(d),
        front_shape,
        fork,
        0.0,
        front_waist,
        lift,
        None,
        d["front_hip"] * 0.45,
        d["front_dart_length"],
        -flatter,
    )
    back = draw_leg(
        d,
        back_shape,
        fork * d["fork_ratio"],
        d["fork_drop"],
        None if elastic else d["back_waist"],
        lift,
        front.side.length,
        d["seat_tilt"] + (d["back_hip"] - d["seat_tilt"]) * (0.33 if d["back_darts"] > 1 else 0.42),
        d["back_dart_length"],
        flatter,
    )
    return front, back


def _straighten(d: Drafting, front: Leg, back: Leg) -> None:
    """Settle an elastic waist so that it is straight over the side seams and square to both centres.

    It climbs from the front over the side to the back by the same slope; the centres lean with it.
    """
    wide, wide_back = (leg.waist_end.real - leg.shape.lean for leg in (front, back))
    climb = d["seat_rise"] + back.waist_end.imag - front.waist_end.imag + d["front_drop"]
    slope = climb / (wide + wide_back)
    d.settle("side_lift", slope * wide - d["front_drop"])
    for leg, name, sign in ((front, "front_lean", -1), (back, "seat_tilt", 1)):
        crotch = leg.edges[-1].path
        d.settle(name, sign * slope * (crotch.segments[0].end.imag - crotch.end.imag))


def _run(leg: Leg, name: str) -> Path:
    return Path.join(edge.path for edge in leg.edges if edge.name == name)


def _cased(d: Drafting, piece: DraftPiece) -> DraftPiece:
    """A leg with its casing grown on, and buttonholes for the cord where one is wanted."""
    edges, fold = grown_on(piece.edges, "waist", d["casing_grows"])
    drawn = (*piece.drawn, fold)
    if d.flag("drawstring") and piece.name == "front":
        at = edges[-1].path.start + complex(15, -d["casing_net"] / 2 - 5)
        drawn = (*drawn, line("cord", "buttonhole for the cord", at, at + 12j))
    return replace(piece, edges=edges, drawn=drawn)


def _seams() -> tuple[Seam, ...]:
    return (
        sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),)),
        sew("inseam", "Inseam", (edge("front", "inseam"),), (edge("back", "inseam"),)),
        *(
            sew(
                f"{name}_crotch",
                f"{name.capitalize()} crotch",
                (edge(name, "crotch"),),
                (edge(name, "crotch", mirrored=True),),
                corners=True,
            )
            for name in ("front", "back")
        ),
    )


def _closures(d: Drafting, front: LegShape, pleats: float) -> tuple[Promise, ...]:
    """Girths of both legs together at each level that the leg reaches, and the seams that are equal."""
    levels = [
        ("hip", "Hip", d["hip_round"] + pleats, 0.0),
        ("thigh", "Thigh", 2 * d["thigh_round"], front.thigh_level),
        ("knee", "Knee", 2 * d["knee_round"], front.knee_level),
        ("calf", "Calf", 2 * d["calf_round"], front.calf_level),
    ]
    return (
        *(at_least(name, say("{words} is wide enough", words=words), (girth(name),), wide - 0.1, "both legs along the level, front and back")
          for name, words, wide, at in levels if at <= front.hem_level - 40),
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back"),
        promise("inseam", "Inseams are equal", (run("front", "inseam"), run("back", "inseam", -1)), 0.0, "front less back"),
    )  # fmt: skip


def _dimensions(d: Drafting, front: Leg, back: Leg) -> tuple[Dimension, ...]:
    shape, hip, fork = front.shape, front.shape.hip_level, d["front_fork"]
    found = [
        Dimension("front_hip", "front", complex(0, hip), complex(shape.hip, hip)),
        Dimension("back_hip", "back", complex(0, hip), complex(back.shape.hip, hip)),
        Dimension("front_fork", "front", complex(-fork, shape.fork_level), complex(0, shape.fork_level)),
        Dimension(
            "fork_level", "front", complex(shape.hip * 0.3, 30), complex(shape.hip * 0.3, shape.fork_level * 0.7)
        ),
        Dimension("back_waist", "back", complex(d["seat_tilt"], 24), complex(back.waist_end.real, 24)),
        Dimension("front_waist", "front", complex(0, 34), complex(front.waist_end.real, 34)),
    ]
    for name, at in (
        ("knee_round", shape.knee_level),
        ("hem_round", shape.hem_level - 41),
    ):
        across = back.across(at)
        if across is not None:
            a, b = across
            found.append(Dimension(name, "back", a, b))
    return tuple(found)


BETWEEN_PLEATS = 15.0  # mm of cloth between two pleats; common practice, no source
FIRST_PLEAT = 0.6  # of what two pleats take lies over the crease; common practice, no source
TOP = (run("front", "waist", worn=True), run("back", "waist", worn=True))
WAIST = (
    edge("front", "waist"),
    edge("back", "waist", backwards=True),
    edge("back", "waist", mirrored=True),
    edge("front", "waist", backwards=True, mirrored=True),
)


def _band(d: Drafting, around: float) -> DraftPiece:
    """The waistband for a waist of that length, with 4 cm to lap over the fly; with elastic a casing closed to a ring."""
    if d.choice("waist_with") == "elastic":
        return band_piece("waistband", "Casing", around, 2 * d["casing_net"], notches=quarters(around))
    return band_piece("waistband", "Waistband", around, 2 * d.size("band"), 40.0)


def _pleats(front: Leg, deep: float, count: int) -> tuple[Drawn, ...]:
    """The pleat over the crease, and a second one a little towards the side; both are folded towards the centre."""
    waist = Path.join(edge.path for edge in front.edges if edge.name == "waist")
    cuts = waist.crossings(complex(front.crease, -500), complex(front.crease, 500))
    at = min(max(cuts[0][0] if cuts else waist.length / 3, 5.0), waist.length - deep - 5.0)
    first = deep if count == 1 else FIRST_PLEAT * deep
    second = deep - first
    places = [(at, first), (at + first + min(BETWEEN_PLEATS, (waist.length - at - deep) / 2), second)][:count]
    return tuple(
        pleat(
            "pleat" if n == 0 else f"pleat_{n + 1}",
            say("pleat, folded to the centre"),
            waist.point_at(start),
            waist.point_at(start + size),
            60j,
        )
        for n, (start, size) in enumerate(places)
    )


def _without_darts(d: Drafting) -> Drafting:
    """The same table with the front's darts left out (they are folded as pleats)."""
    return Drafting(d.context, d.options, {**d.solved, "front_darts": 0.0}, d.findings)


def _has_fly(pattern: Pattern) -> bool:
    """Whether it opens in front."""
    return any(notch.name == "fly ends" for part in pattern.parts("front") for notch in part.notches)


PASSES = (
    Passes("hips", "waist", when=_has_fly, place="front.crotch", label="Hips go through the waist",
           why="The waist with the fly open, round both its sides, against the hip.",
           mends=(Mend("Lengthen the fly", figure="fly", more=10.0),)),
    Passes("hips", "waist", when=lambda pattern: not _has_fly(pattern), label="Hips go through the top edge",
           why="The top edge before the elastic against the hip: it has to be pulled on over it."),
    Passes("foot", "hem", label="Foot goes through the hem", why="The hem against heel and instep, about a third more than the ankle."),
    Passes("thigh", of=(Girth("thigh", 0.5),), limit=Body("thigh", plus=10.0), place="back.inseam",
           label="Thigh goes into the leg", why="The leg just below the crotch against the thigh."),
)  # fmt: skip


BLOCK = register_block(
    Block("trousers.tailored", "Trousers", "Front and back legs with a crotch solved to the body; darts, pleats or elastic at the waist.",
          LEG_NEEDS, (), OPTIONS, EASE, FIGURES, draft, PASSES, family="Trousers", fits=("fitted_woven", "loose_woven", "knit_relaxed"), wants=("strong",),
          schools={"darts": "Darts: the waist is shaped to the body and opens with a fly.", "pleats": "Pleats: the same cloth as the dart, folded and not sewn down; more room to sit.",
                   "elastic": "Elastic: the top is as wide as the hip and is drawn in; nothing to open."})
)  # fmt: skip
