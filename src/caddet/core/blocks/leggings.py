"""``leggings``: one piece a leg, a waistband; from girths and negative ease, in a cloth that stretches both ways."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.drafting.bands import band_piece, quarters, ring_seam
from caddet.core.drafting.declare import at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, level, line
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.legs import LEG_NEEDS, LegShape, crotch_figures, rise_at_fork, solve_crotch
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, smooth
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    Parameter("length", "Length", "choice", "ankle", choices=(("ankle", "Ankle"), ("calf", "Calf"), ("knee", "Knee"), ("shorts", "Shorts")),
              why="Where they end."),
    Parameter("band", "Waistband, finished depth", "length", 50.0, 15.0, 150.0, why="Folded double, with or without elastic in it; part of the rise."),
)  # fmt: skip
EASE = (
    EaseLevel("waist", "Waist", 0.0, "waist", -0.1),
    EaseLevel("hip", "Hip", 0.0, "hip", -0.1),
    EaseLevel("thigh", "Leg", 0.0, "thigh", -0.1),
    EaseLevel("length", "Length", 0.0, "waist_to_floor", -0.03),
)
FIGURES = (
    Figure("waist_round", "Waist, finished", "waist + ease_waist", "Smaller than the body: it stays up by its stretch."),
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "Smaller than the body by what the cloth gives.", short="hip round"),
    Figure("leg_factor", "Of the leg's girth", "(thigh + ease_thigh) / thigh", "The same share is taken off knee and ankle.", kind="count"),
    Figure("long_factor", "Of the body's length", "(waist_to_floor + ease_length) / waist_to_floor", "A cloth that stretches along the leg is cut a little shorter.", kind="count"),
    Figure("front_hip", "Hip line, front", "hip_round / 4 - 0.8cm", "The seat is larger than the front."),
    Figure("back_hip", "Hip line, back", "hip_round / 2 - front_hip", "What the front leaves."),
    Figure("hip_level", "Hip level", "waist_to_hip * long_factor - band", "Below the seam of the waistband."),
    Figure("fork_level", "Crotch level", "body_rise * long_factor - band", "The rise, less the waistband, which is part of it."),
    Figure("knee_level", "Knee level", "waist_to_knee * long_factor - band", "The middle of the knee."),
    Figure("hem_level", "Hem level", "(if(length_ankle, waist_to_floor - 7cm, if(length_calf, (waist_to_knee + waist_to_floor) / 2, if(length_knee, waist_to_knee + 4cm, body_rise + 14cm)))) * long_factor - band",
           "Where they end."),
    Figure("seat_tilt", "Centre back, leaned in", "clamp((hip - waist) * 0.12, 1cm, 3.5cm)", "Solved with the front's lean, so that the top edge is as long as wanted."),
    Figure("seat_rise", "Centre back, raised", "2cm", "The way over the seat is longer when one sits."),
    Figure("front_drop", "Centre front, lowered", "1cm", "The waist dips to the front."),
    Figure("top_round", "Top edge", "max(waist_round, hip / (1 + stretch) + 1cm)", "At full stretch it has to pass the hips."),
    Figure("crotch_wanted", "Crotch, of the body", "crotch_length * long_factor", "From waist to waist through the legs, in this cloth."),
    *(Figure(f.name, f.label, "crotch_wanted", "Shorter than the body's by what the cloth gives along it.") if f.name == "crotch_round" else f
      for f in crotch_figures("2")),
    Figure("knee_round", "Knee, all round", "knee * leg_factor", "Less than the knee: it stretches."),
    Figure("calf_round", "Calf, all round", "calf * leg_factor", "Less than the calf."),
    Figure("hem_round", "Hem, all round", "if(length_ankle, max(ankle * leg_factor, ankle * 1.35 / (1 + stretch) + 0.5cm), if(length_calf, calf * leg_factor, if(length_knee, knee * leg_factor, thigh * leg_factor * 0.98)))",
           "Close, but the heel has to go through at full stretch."),
    Figure("band_length", "Waistband, length", "top_round * 0.95", "A little shorter than the edge, stretched in by quarter points."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "Folded double."),
    Figure("give", "Stretch of the cloth", "stretch", "What the chosen cloth gives across.", kind="count"),
)  # fmt: skip


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """One leg, a pair, and the waistband."""
    d = Drafting(context, options)
    hip, fork_level, knee, hem = d["hip_level"], d["fork_level"], d["knee_level"], d["hem_level"]
    d.need(hip > 30, "The hip lies too near the waistband.", "hip_level")
    d.need(
        fork_level > hip + 10, "The crotch lies at or above the hip: look at body rise and waist to hip.", "fork_level"
    )
    d.need(hem > fork_level + 40, "The legs end less than 4 cm below the crotch.", "hem_level")
    d.need(
        d["knee_round"] > 60 and d["hem_round"] > 60 and d["front_hip"] > 50,
        "The leg comes out narrower than 6 cm.",
        "knee_round",
    )
    knee = min(max(knee, fork_level + 30), hem)
    above = hem - knee < 5
    knee_round = d["hem_round"] if above else d["knee_round"]
    fh, bh = d["front_hip"], d["back_hip"]
    d.need(knee_round / 2 < min(fh, bh) * 1.6, "The knee is wider than the hip; look at both.", "knee_round")
    band = d.size("band")

    def halves(tilt: float) -> tuple[LegShape, LegShape]:
        front = LegShape(
            "front", fh, tilt * 0.5, d["front_drop"], hip, fork_level, knee, hem, knee_round, d["hem_round"], fh
        )
        back = LegShape("back", bh, tilt, -d["seat_rise"], hip, fork_level, knee, hem, knee_round, d["hem_round"], bh)
        return front, back

    def top(tilt: float) -> Path:
        front, back = halves(tilt)
        start, end = complex(front.lean, front.top), complex(fh + bh - back.lean, back.top)
        up_front = complex(front.lean, front.top) - complex(0, hip)
        up_back = complex(fh + bh - back.lean, back.top) - complex(fh + bh, hip)
        return Path((smooth(start, up_front * 1j, end, up_back * 1j),))

    most = min(fh, bh) * 0.6
    d.solve(
        "seat_tilt",
        lambda v: top(v).length - d["top_round"] / 2,
        -most,
        most,
        "the centre lines can't lean in so far that the top edge is as long as wanted.",
    )
    front, back = halves(d["seat_tilt"])
    solve_crotch(d, front, back, d["crotch_round"] - 2 * band)
    fork, ratio, drop = d["front_fork"], d["fork_ratio"], d["fork_drop"]
    rising = rise_at_fork(front, back, fork, ratio, drop)
    turn = Motion(-1 + 0j, complex(fh + bh, 0), True)  # the back half lies mirrored beside the front
    front_in, back_in = front.inseam(fork, 0.0), back.inseam(fork * ratio, drop).moved(turn).reversed()
    front_crotch = front.crotch(fork, 0.0, rising)
    back_crotch = back.crotch(fork * ratio, drop, rising).moved(turn).reversed()
    hem_line = Path((smooth(back_in.end, back_in.end_direction * 1j, front_in.start, front_in.start_direction * -1j),))
    edges = (
        Edge("waist", top(d["seat_tilt"])), Edge("back_crotch", back_crotch), Edge("back_inseam", back_in), Edge("hem", hem_line, "hem"),
        Edge("front_inseam", front_in), Edge("front_crotch", front_crotch),
    )  # fmt: skip
    side: list[Point] = [complex(fh, 10), complex(fh, hem - 10)]
    marks = (
        line("side", "side", *side),
        level("hip", "hip line", complex(0, hip), complex(fh + bh, hip)),
        *((level("knee", "knee", complex(fh - knee_round / 2, knee), complex(fh + knee_round / 2, knee)),) if not above else ()),
    )  # fmt: skip
    leg = DraftPiece("leg", "Leg", edges, notches=(DraftNotch("waist", edges[0].path.length / 2, name="side"),), drawn=marks,
                grain=(complex(fh, fork_level + 30), complex(fh, hem - 40)), cut=2, pair=True, remark="most stretch goes round the leg")  # fmt: skip
    waistband = band_piece(
        "waistband",
        "Waistband",
        d["band_length"],
        2 * band,
        notches=quarters(d["band_length"]),
        remark="stretch runs along the band",
        stretched=True,
    )
    seams = (
        sew("inseam", "Inseam", (edge("leg", "front_inseam"),), (edge("leg", "back_inseam", backwards=True),)),
        sew("front_crotch", "Front crotch", (edge("leg", "front_crotch"),), (edge("leg", "front_crotch", mirrored=True),), corners=True),
        sew("back_crotch", "Back crotch", (edge("leg", "back_crotch"),), (edge("leg", "back_crotch", mirrored=True),), corners=True),
        sew("waistband", "Waistband, stretched in", (edge("waistband", "waist"),), (edge("leg", "waist"), edge("leg", "waist", backwards=True, mirrored=True)),
             "stretched", d["top_round"] / d["band_length"]),
        ring_seam("waistband", "Waistband"),
    )  # fmt: skip
    closures = (
        at_least("hip", "Hip closes on the body", (girth("hip"),), d["hip_round"], "both legs along the hip line, from crotch seam to crotch seam"),
        promise("waist", "Top edge is as long as wanted", (run("leg", "waist", worn=True),), d["top_round"], "both legs"),
        promise("crotch", "Crotch closes on the body", (run("leg", "front_crotch"), run("leg", "back_crotch"), run("waistband", "end")), d["crotch_round"],
                "front, back, and the waistband twice"),
        promise("inseam", "Inseams are equal", (run("leg", "front_inseam"), run("leg", "back_inseam", -1)), 0.0, "front less back"),
    )  # fmt: skip
    dimensions = (
        Dimension("front_hip", "leg", complex(0, hip), complex(fh, hip)),
        Dimension("back_hip", "leg", complex(fh, hip), complex(fh + bh, hip)),
        Dimension("front_fork", "leg", complex(-fork, fork_level), complex(0, fork_level)),
        Dimension("knee_round", "leg", complex(fh - 60, knee), complex(fh + 60, knee)),
        Dimension("hem_round", "leg", complex(fh - 60, hem - 15), complex(fh + 60, hem - 15)),
        Dimension("band_length", "waistband", complex(0, band * 1.5), complex(d["band_length"], band * 1.5)),
    )  # fmt: skip
    return d.result(
        (leg, waistband),
        seams,
        closures,
        dimensions,
        (
            Shown("front", "leg", clip=(0.0, fh)),
            Shown("back", "leg", Motion(-1 + 0j, complex(fh + bh, 0), True), clip=(fh, fh + bh)),
        ),
        zero="the waist seam",
    )


def gates(pattern: Pattern, context: Context) -> Sequence[Gate]:
    """At full stretch: the hips through the top, the heel through the hem, the body in the girths."""
    give = 1 + context.sums["give"].value
    leg = pattern.piece("leg")
    top = 2 * leg.run_length("waist") * give
    hem = leg.run_length("hem") * give
    heel = context.measures["ankle"] * 1.35
    return (
        Gate("hips", "Hips go through the stretched top", top, context.measures["hip"], "leg.waist", "The top edge at its full stretch against the hip."),
        Gate("body", "The hip stretches over the body", girth("hip").measured(pattern) * give, context.measures["hip"], "leg.front_crotch", "Finished girth × (1 + stretch) against the body."),
        Gate("foot", "Heel goes through the stretched hem", hem, heel, "leg.hem", "The hem at its full stretch against heel and instep, about a third more than the ankle."),
    )  # fmt: skip


BLOCK = register_block(
    Block("leggings", "Leggings", "One piece for each leg and a double waistband, smaller than the body in a cloth that stretches both ways.",
          (*LEG_NEEDS, "calf"), (), OPTIONS, EASE, FIGURES, draft, gates, family="Trousers", fits=("knit_close", "swim", "knit_relaxed"), wants=("stretch_both",))
)  # fmt: skip
