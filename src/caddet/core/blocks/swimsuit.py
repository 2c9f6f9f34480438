"""``swimsuit``: front and back closed on the torso; brief, bandeau and bra top derived from the same draft.

Frame of both: the centre at x = 0, the waist at y = 0, y down. Everything is smaller than the body by the ease,
round and along. The torso is measured where the tape goes: from the middle of the strap to the crotch, front and
back. Solved: the depth of the crotch. Rules: common practice, no source.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from caddet.core.drafting.curves import bend
from caddet.core.drafting.declare import across, edge, from_fold, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, Drawn, level, line
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point, smooth, unit
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    Parameter("style", "Made as", "choice", "one_piece", choices=(("one_piece", "One piece"), ("brief", "Brief"), ("bandeau", "Bandeau"), ("bra_top", "Bra top")),
              why="The others are parts of the one piece: what is below the brief's top edge, round the bust, or above the under-bust."),
    Parameter("leg", "Leg cut", "choice", "middle", choices=(("low", "Low"), ("middle", "Middle"), ("high", "High")), why="How high the leg opening goes at the side."),
    Parameter("neck", "Neckline", "choice", "scoop", choices=(("high", "High"), ("scoop", "Scooped"), ("deep", "Deep")), why="How low the front neckline lies."),
    Parameter("strap", "Strap, width", "length", 40.0, 8.0, 120.0),
    Parameter("gusset", "Crotch, width", "length", 65.0, 40.0, 110.0),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 0.0, "bust", -0.12), EaseLevel("waist", "Waist", 0.0, "waist", -0.1), EaseLevel("hip", "Hip", 0.0, "hip", -0.12),
    EaseLevel("torso", "Torso, along", 0.0, "torso", -0.08),
)  # fmt: skip
NEEDS = (
    "bust",
    "waist",
    "hip",
    "torso",
    "nape_to_waist",
    "scye_depth",
    "waist_to_hip",
    "body_rise",
    "shoulder",
    "neck",
    "thigh",
)
FIGURES = (
    Figure("bust_round", "Bust, finished", "bust + ease_bust", "Smaller than the body: it stays by its stretch."),
    Figure("waist_round", "Waist, finished", "waist + ease_waist", "Smaller than the body."),
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "Smaller than the body."),
    Figure("torso_round", "Torso, finished", "torso + ease_torso", "Over the shoulder and through the legs: the suit must not pull down.", short="torso round"),
    Figure("long_factor", "Of the body's length", "torso_round / torso", "All lengths are shortened alike.", kind="count"),
    Figure("underarm_up", "Underarm, above the waist", "(nape_to_waist - scye_depth - 1.5cm) * long_factor", "A little below the armpit."),
    Figure("strap_up", "Top of the strap, above the waist", "nape_to_waist * long_factor", "The shoulder."),
    Figure("hip_down", "Hip, below the waist", "waist_to_hip * long_factor", "The fullest part."),
    Figure("leg_down", "Leg opening at the side, below the waist", "hip_down * if(leg_low, 1, if(leg_middle, 0.68, 0.34))", "Where the leg's curve begins."),
    Figure("crotch_down", "Crotch, below the waist", "body_rise * long_factor + 3cm", "Solved: front and back together are the torso wanted."),
    Figure("neck_up", "Neckline front, above the waist", "strap_up - (strap_up - underarm_up) * if(neck_high, 0.55, if(neck_scoop, 0.9, 1.25))", "How low the neckline lies."),
    Figure("back_neck_up", "Neckline back, above the waist", "underarm_up * 0.75", "An open back."),
    Figure("strap_out", "Strap, from the centre", "(neck / 5 + shoulder * 0.45) * (1 + ease_bust / bust / 2)", "The middle of the strap."),
    Figure("top_edge", "Brief, top edge below the waist", "min(hip_down * 0.3, leg_down * 0.45)", "Where a brief ends above."),
    Figure("under_bust", "Bandeau and bra top, lower edge above the waist", "underarm_up * 0.42", "Under the bust."),
    Figure("elastic", "Elastic, of the edge", "0.95", "Pulled by about 5 % while it is sewn on.", kind="count"),
    Figure("give", "Stretch of the cloth", "stretch", "What the chosen cloth gives across.", kind="count"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Body:
    """The lines of half a front or back, from which every style is cut."""

    neck: Path
    strap: Path
    armhole: Path
    side: Path
    leg: Path
    crotch: Path


def _half(d: Drafting, side: str, crotch: float) -> _Body:
    top, out, half = -d["strap_up"], d["strap_out"], d.size("strap") / 2
    inner, outer = complex(out - half, top), complex(out + half, top)
    underarm = complex(d["bust_round"] / 4, -d["underarm_up"])
    neck_y = -(d["neck_up"] if side == "front" else d["back_neck_up"])
    neck = Path((bend(complex(0, neck_y), 1 + 0j, inner, -1j, 0.62, 0.55),))
    waist, hip = complex(d["waist_round"] / 4, 0), complex(d["hip_round"] / 4, d["hip_down"])
    square = unit(waist - underarm) * -1j
    armhole = Path((bend(outer, 1j, underarm, square, 0.62 if side == "front" else 0.55),))
    at_waist = unit(unit(waist - underarm) + unit(hip - waist))
    upper = smooth(underarm, unit(waist - underarm), waist, at_waist)
    lower = smooth(waist, at_waist, hip, 1j)
    leg_down = d["leg_down"]
    cuts = lower.crossings(complex(-999, leg_down), complex(999, leg_down))
    if cuts and cuts[0] < 0.999:
        below = lower.split(max(cuts[0], 0.02))[0]
        side_path = Path((upper, below))
    else:
        side_path = Path((upper, lower))
    corner = complex(d.size("gusset") / 2, crotch)
    start = side_path.end
    # square to the side, then down to the crotch: hollow in front, fuller over the seat
    leave = side_path.end_direction * 1j
    arrive = unit(complex(0.04, 1))
    leg = Path(
        (
            bend(start, leave, corner, arrive, 0.72, 0.5)
            if side == "front"
            else bend(start, leave, corner, arrive, 0.42, 0.34),
        )
    )
    return _Body(neck, Path((Line(inner, outer),)), armhole, side_path, leg, Path((Line(corner, complex(0, crotch)),)))


def _torso_line(d: Drafting, crotch: float) -> Path:
    return Path.polyline([complex(d["strap_out"], -d["strap_up"]), complex(0, crotch)])


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front and back of the chosen part."""
    d = Drafting(context, options)
    for name in ("bust_round", "waist_round", "hip_round"):
        d.need(d[name] > 200, "The ease takes away nearly all of the girth.", name)
    d.need(d["underarm_up"] > 40, "The underarm lies at the waist: look at back length and scye depth.", "underarm_up")
    d.need(d["strap_up"] > d["underarm_up"] + 40, "The strap would be shorter than 4 cm.", "strap_up")
    d.need(
        d["strap_out"] - d.size("strap") / 2 > 8,
        "The strap is so wide that no neckline is left.",
        "recipe.options.strap",
    )
    d.need(
        d["strap_out"] + d.size("strap") / 2 < d["bust_round"] / 4 + 10,
        "The strap reaches beyond the side.",
        "recipe.options.strap",
    )
    d.need(d["neck_up"] > 10, "The neckline would lie below the waist.", "neck_up")
    d.solve("crotch_down", lambda v: 2 * _torso_line(d, v).length - d["torso_round"], d["leg_down"] + 30.0, 1500.0,
            "the torso is shorter than from the shoulder to the legs.")  # fmt: skip
    crotch = d["crotch_down"]
    d.need(crotch > d["leg_down"] + 40, "The crotch lies too near the leg opening; look at the torso.", "crotch_down")
    style = d.choice("style")
    pieces = [_cut(d, side, _half(d, side, crotch), style) for side in ("front", "back")]
    front = pieces[0]
    seams = [sew("side", "Side seam", (edge("front", "side"),), (edge("back", "side"),))]
    if "shoulder" in front.runs():
        seams.append(
            sew("shoulder", "Shoulder seam", (edge("front", "shoulder"),), (edge("back", "shoulder"),), corners=True)
        )
    if "crotch" in front.runs():
        seams.append(sew("crotch", "Crotch seam", (edge("front", "crotch"),), (edge("back", "crotch"),), corners=True))
    closures = [
        promise("side", "Side seams are equal", (run("front", "side"), run("back", "side", -1)), 0.0, "front less back")
    ]
    if style == "one_piece":
        closures.append(promise("torso", "Torso closes on the body", (across("front", "torso"), across("back", "torso")), d["torso_round"],
                                "from the strap to the crotch, front and back"))  # fmt: skip
        closures.append(
            promise(
                "waist",
                "Waist is as wide as wanted",
                (girth("waist"),),
                d["waist_round"],
                "along the waist",
            )
        )
    if style != "brief":
        closures.append(
            promise(
                "bust",
                "Bust is as wide as wanted",
                (from_fold("front", "side", 0.0), from_fold("back", "side", 0.0)),
                d["bust_round"],
                "from the centre line to the underarm, across the open neck",
            )
        )
    if style == "one_piece":
        dimensions = [
            Dimension("crotch_down", "front", 40j, complex(0, crotch)),
            Dimension("torso_round", "front", complex(d["strap_out"], -d["strap_up"] * 0.6), complex(20, crotch * 0.4)),
        ]
    else:
        dimensions = []
    return d.result(
        pieces, seams, closures, dimensions, (Shown("front", "front"), Shown("back", "back")), zero="the waist"
    )


def _level(path: Path, y: float) -> float:
    """How far along a path a level is met."""
    cuts = path.crossings(complex(-9999, y), complex(9999, y))
    return cuts[0][0] if cuts else 0.0


def _rung(centre: Point, side: Point, down: Point) -> Path:
    """An edge across the piece: level at the centre, square to the side seam (which runs ``down``)."""
    return Path((smooth(centre, 1 + 0j, side, down * -1j),))


def _between(path: Path, low: float, high: float) -> Path:
    part = path.between(low, high)
    assert part is not None
    return part


def _cut(d: Drafting, side: str, body: _Body, style: str) -> DraftPiece:
    """The piece of a style, cut from the whole."""
    fold = f"centre_{side}"
    marks: list[Drawn] = []
    bust = level("bust", "bust line", complex(0, body.side.start.imag), body.side.start)
    remark = "most stretch goes round the body"
    label = f"{side.capitalize()}"
    if style == "one_piece":
        edges = outline(("neckline", body.neck, "turned"), ("shoulder", body.strap), ("armhole", body.armhole, "turned"), ("side", body.side), ("leg", body.leg, "turned"),
                        ("crotch", body.crotch), (fold, [body.crotch.end, body.neck.start], "fold"))  # fmt: skip
        marks = [bust, level("waist", "waist", 0j, complex(d["waist_round"] / 4, 0)),
                 line("torso", "torso", complex(d["strap_out"], -d["strap_up"]), 1j * body.crotch.end.imag)]  # fmt: skip
        low, high = body.crotch.end.imag, body.neck.start.imag
    elif style == "brief":
        top = d["top_edge"]
        d.need(
            top < d["leg_down"] - 12,
            "The brief's top edge lies at its leg opening: raise one or lower the other.",
            "top_edge",
        )
        part = _between(body.side, _level(body.side, top), body.side.length)
        edges = outline(("waist", _rung(complex(0, part.start.imag), part.start, part.start_direction), "turned"), ("side", part), ("leg", body.leg, "turned"), ("crotch", body.crotch),
                        (fold, [body.crotch.end, complex(0, part.start.imag)], "fold"))  # fmt: skip
        low, high = body.crotch.end.imag, part.start.imag
    else:
        under = -d["under_bust"]
        d.need(
            under > body.side.start.imag + 30, "The lower edge lies less than 3 cm below the underarm.", "under_bust"
        )
        part = _between(body.side, 0.0, _level(body.side, under))
        foot = complex(0, part.end.imag)
        marks = [bust]
        if style == "bandeau":
            top_y = body.side.start.imag
            edges = outline(
                ("top", _rung(complex(0, top_y), body.side.start, part.start_direction), "turned"),
                ("side", part),
                ("under", _rung(foot, part.end, part.end_direction).reversed(), "turned"),
                (fold, [foot, complex(0, top_y)], "fold"),
            )
            low, high = foot.imag, top_y
        else:
            neck = body.neck
            if neck.start.imag > foot.imag - 25:
                raise_by = neck.start.imag - (foot.imag - 25)
                neck = Path((bend(complex(0, neck.start.imag - raise_by), 1 + 0j, neck.end, -1j, 0.62, 0.55),))
            edges = outline(("neckline", neck, "turned"), ("shoulder", body.strap), ("armhole", body.armhole, "turned"), ("side", part), ("under", _rung(foot, part.end, part.end_direction).reversed(), "turned"),
                            (fold, [foot, neck.start], "fold"))  # fmt: skip
            low, high = foot.imag, neck.start.imag
    notches = (DraftNotch("side", body.side.segments[0].length, name="waist"),) if style == "one_piece" else ()
    x: Point = complex(14, 0)
    return DraftPiece(side, label, edges, notches=notches, drawn=tuple(marks), grain=(x + 1j * (high + (low - high) * 0.2), x + 1j * (high + (low - high) * 0.75)), remark=remark)  # fmt: skip


def gates(pattern: Pattern, context: Context) -> Sequence[Gate]:
    """At full stretch: girths over the body, the leg in its opening, hips through the top."""
    give = 1 + context.sums["give"].value
    front, back = pattern.piece("front"), pattern.piece("back")
    found = []
    if front.has_run("neckline") or front.has_run("top"):
        found.append(
            Gate(
                "bust",
                "The bust stretches over the body",
                _round(pattern, 0.0) * give,
                context.measures["bust"],
                "front.side",
                "Finished girth × (1 + stretch) against the body.",
            )
        )
    if front.has_run("leg"):
        sums, measures = context.sums, context.measures
        share = min(sums["leg_down"].value / max(sums["hip_down"].value, 1.0), 1.0)
        body = measures["waist"] + (measures["hip"] - measures["waist"]) * share
        found.append(
            Gate(
                "hip",
                "The hip stretches over the body",
                _round(pattern, 1.0) * give,
                body,
                "front.side",
                "The suit at the top of the leg × (1 + stretch) against the body there, between waist and hip.",
            )
        )
        leg = front.run_length("leg") + back.run_length("leg")
        found.append(
            Gate(
                "leg",
                "The leg goes through its opening",
                leg * give,
                context.measures["thigh"] * 1.02,
                "front.leg",
                "The leg opening at full stretch against the thigh.",
            )
        )
    return found


def _round(pattern: Pattern, u: float) -> float:
    """The girth between the side seams at a share of them, from the folds of front and back."""
    return sum(from_fold(piece, "side", u).measured(pattern) for piece in ("front", "back"))


BLOCK = register_block(
    Block("swimsuit", "Swimsuit", "Front and back closed on the torso, smaller than the body; as one piece, brief, bandeau or bra top.",
          NEEDS, (), OPTIONS, EASE, FIGURES, draft, gates, family="Swim", fits=("swim", "knit_close"), wants=("stretch_both",))
)  # fmt: skip
