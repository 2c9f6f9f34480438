"""``swimsuit``: front and back closed on the torso; brief, bandeau and bra top derived from the same draft.

Frame of both: the centre at x = 0, the waist at y = 0, y down. Everything is smaller than the body by the ease,
round and along. The torso is measured where the tape goes: from the middle of the strap to the crotch, front and
back. Solved: the depth of the crotch. Rules: common practice, no source.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.drafting.curves import bend, hem_to_centre
from caddet.core.drafting.declare import across, edge, from_fold, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftDart, DraftNotch, DraftPiece, Drawn, level, line
from caddet.core.drafting.kit import Drafting, outline, solve_between
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, smooth, unit
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.promises import Measurement, Promise
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import say

OPTIONS = (
    Parameter("style", "Made as", "choice", "one_piece", choices=(("one_piece", "One piece"), ("brief", "Brief"), ("bandeau", "Bandeau"), ("bra_top", "Bra top")),
              why="The others are parts of the one piece: what is below the brief's top edge, round the bust, or above the under-bust."),
    Parameter("leg", "Leg cut", "choice", "middle", choices=(("low", "Low"), ("middle", "Middle"), ("high", "High")), why="How high the leg opening goes at the side."),
    Parameter("neck", "Neckline", "choice", "scoop", choices=(("high", "High"), ("scoop", "Scooped"), ("deep", "Deep")), why="How low the front neckline lies."),
    Parameter("strap", "Strap, width", "length", 40.0, 8.0, 120.0),
    Parameter("bust_shaping", "Bust shaped by", "choice", "dart", choices=(("dart", "A dart at the side"), ("eased", "Easing in at the side"), ("none", "Nothing")),
              why="The front is longer over the bust. A dart takes it at the side; a stretchy cloth can be eased in to the back's shorter side; nothing for a flat chest."),
    Parameter("gusset", "Crotch, width", "length", 65.0, 40.0, 110.0),
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 0.0, "bust", -0.12),
    EaseLevel("waist", "Waist", 0.0, "waist", -0.1),
    EaseLevel("hip", "Hip", 0.0, "hip", -0.12),
    EaseLevel("torso", "Torso, along", 0.0, "torso", -0.08),
)
NEEDS = (
    "bust",
    "under_bust",
    "bust_span",
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
    Figure("neck_up", "Neckline front, above the waist", "strap_up - (strap_up - underarm_up) * if(neck_high, 0.55, if(neck_scoop, 0.9, 1.25))", "How low the neckline lies."),
    Figure("bust_up", "Bust line, above the waist", "min(underarm_up - 3.5cm, neck_up - 0.5cm)", "Where the suit is as wide as the bust: below the underarm and the neckline."),
    Figure("back_neck_up", "Neckline back, above the waist", "max(underarm_up * 0.75, bust_up + 0.5cm, if(style_bra_top, underarm_up * 0.42 + 10cm, 0cm))", "A scooped back, above the bust line, so that the suit holds there; a bra top is held by what is left at the centre back."),
    Figure("bust_in", "Bust shaping at the side", "if(bust_shaping_none, 0cm, max((bust - under_bust) / 4 - 0.5cm, 0cm) * long_factor)", "The front's side is longer by this: 2 to 4, more with the cup. Below 0.8 it is left out."),
    Figure("bust_out", "Bust point, from the centre", "bust_span / 2 * (1 + ease_bust / bust)", "Where the dart points."),
    Figure("hip_down", "Hip, below the waist", "waist_to_hip * long_factor", "The fullest part."),
    Figure("leg_down", "Leg opening at the side, below the waist", "hip_down * if(leg_low, 1, if(leg_middle, 0.68, 0.34))", "Where the leg's curve begins."),
    Figure("crotch_down", "Crotch, below the waist", "body_rise * long_factor + 3cm", "Solved: front and back together are the torso wanted."),
    Figure("strap_out", "Strap, from the centre", "(neck / 5 + shoulder * 0.45) * (1 + ease_bust / bust / 2)", "The middle of the strap."),
    Figure("top_edge", "Brief, top edge below the waist", "min(hip_down * 0.3, leg_down * 0.45)", "Where a brief ends above."),
    Figure("under_bust", "Bandeau and bra top, lower edge above the waist", "underarm_up * 0.42", "Under the bust."),
    Figure("elastic", "Elastic, of the edge", "0.95", "Pulled by about 5 % while it is sewn on.", kind="count"),
    Figure("give", "Stretch of the cloth", "stretch", "What the chosen cloth gives across.", kind="count"),
)  # fmt: skip


SLANT = math.radians(12)  # how far the leg line falls from front to back where it crosses the side


@dataclass(frozen=True, slots=True)
class _Body:
    """The lines of half a front or back, from which every style is cut. ``side`` is in parts when a dart opens in it."""

    neck: Path
    strap: Path
    armhole: Path
    side: tuple[Path, ...]
    apex: Point
    leg: Path
    crotch: Path
    bust: Point

    @property
    def side_end(self) -> Path:
        return self.side[-1]

    def sides(self, top: float | None = None, reach: float | None = None) -> tuple[Edge, ...]:
        """The side from a level on, or ``reach`` mm of it from the underarm, with the dart's legs when it opens in between."""
        parts = list(self.side)
        if top is not None:
            parts = [_between(parts[-1], _level(parts[-1], top), parts[-1].length)]
        if reach is not None:
            parts[-1] = _between(parts[-1], 0.0, reach - sum(part.length for part in parts[:-1]))
        if len(parts) == 1:
            return (Edge("side", parts[0]),)
        first, last = parts
        return (
            Edge("side", first),
            Edge("bust_dart", Path.polyline([first.end, self.apex]), "", "bust_dart"),
            Edge("bust_dart", Path.polyline([self.apex, last.start]), "", "bust_dart"),
            Edge("side", last),
        )


def _shaped(d: Drafting) -> bool:
    """Whether the front is shaped over the bust: not for a brief, nor for what is hardly there."""
    return d["bust_in"] >= 8 and d.choice("style") != "brief"


def _half(d: Drafting, side: str, crotch: float, trim: float = 0.0) -> _Body:
    """The lines of half a front or back; ``trim`` mm are added to the front's side, to bring it to the back's length."""
    top, out, half = -d["strap_up"], d["strap_out"], d.size("strap") / 2
    inner, outer = complex(out - half, top), complex(out + half, top)
    underarm, bust = complex(d["bust_round"] / 4, -d["underarm_up"]), complex(d["bust_round"] / 4, -d["bust_up"])
    neck_y = -(d["neck_up"] if side == "front" else d["back_neck_up"])
    neck = Path((bend(complex(0, neck_y), 1 + 0j, inner, -1j, 0.62, 0.55),))
    armhole = Path((bend(outer, 1j, underarm, 1 + 0j, 0.62 if side == "front" else 0.55),))
    longer = d["bust_in"] if side == "front" and _shaped(d) else 0.0
    lower_by = longer + trim
    waist = complex(math.sqrt(max((d["waist_round"] / 4) ** 2 - lower_by**2, 1.0)), lower_by)
    hip = complex(d["hip_round"] / 4, d["hip_down"] + lower_by)
    at_waist = unit(unit(waist - bust) + unit(hip - waist))
    apex = complex(min(d["bust_out"] + 20, bust.real * 0.75), bust.imag + 10 + longer / 2)
    lower = smooth(waist, at_waist, hip, 1j)
    if longer and d.choice("bust_shaping") == "dart":
        # the side as it runs when the dart is sewn, from the bust line down
        leg = bust + 10j
        turn = 2 * math.asin(min(longer / 2 / abs(leg - apex), 0.5))
        opened = Motion.rotation(turn, apex)
        above: tuple[Path, ...] = (Path.polyline([underarm, leg]),)
        below = [smooth(opened(leg), opened.turn * 1j, waist, at_waist)]
    else:
        above, below = (), [smooth(underarm, 1j, bust, 1j), smooth(bust, 1j, waist, at_waist)]
    leg_down = d["leg_down"] + lower_by
    cuts = lower.crossings(complex(-999, leg_down), complex(999, leg_down))
    below.append(lower.split(max(cuts[0], 0.02))[0] if cuts and cuts[0] < 0.999 else lower)
    last = Path(tuple(below))
    corner = complex(d.size("gusset") / 2, crotch)
    # over the side it falls to the back, over the crotch it runs straight on: hollow in front, fuller over the seat
    leave = last.end_direction * 1j * cmath.exp((1j if side == "front" else -1j) * SLANT)
    leg_line = Path(
        (
            bend(last.end, leave, corner, 1j, 0.7, 0.5)
            if side == "front"
            else bend(last.end, leave, corner, 1j, 0.36, 0.4),
        )
    )
    return _Body(
        neck,
        Path((Line(inner, outer),)),
        armhole,
        (*above, last),
        apex,
        leg_line,
        Path((Line(corner, complex(0, crotch)),)),
        bust,
    )


def _crotch_lining(d: Drafting, front: _Body, back: _Body) -> DraftPiece:
    """Over the crotch from about 8 cm in front of its seam to 8 behind, in one; the crotch lies at y = 0."""
    shift = Motion(shift=complex(0, -front.crotch.end.imag))
    flip = Motion(1 + 0j, complex(0, back.crotch.end.imag), True)  # the back turned down below the seam
    reach = min(LINING, front.leg.length * 0.6, back.leg.length * 0.6)
    before = _between(front.leg, front.leg.length - reach, front.leg.length).moved(shift)
    behind = _between(back.leg, back.leg.length - reach, back.leg.length).moved(flip).reversed()
    caught: Finish = "joined"
    edges = (
        Edge(
            "front_end",
            Path.polyline([1j * before.start.imag, before.start]),
            "raw",
            why="it lies free inside; a knit does not fray",
        ),
        Edge("leg_front", before, "turned"),
        Edge("leg_back", behind, "turned"),
        Edge(
            "back_end",
            Path.polyline([behind.end, 1j * behind.end.imag]),
            caught,
            why="it is caught in the zigzag behind the crotch seam",
        ),
        Edge("middle", Path.polyline([1j * behind.end.imag, 1j * before.start.imag]), "fold"),
    )
    return DraftPiece(
        "crotch_lining",
        "Crotch lining",
        edges,
        notches=(DraftNotch("leg_front", before.length - 1e-3, name="crotch seam"),),
        grain=(complex(6, before.start.imag * 0.6), complex(6, behind.end.imag * 0.6)),
        cloth=("lining",),
    )


LINING = 80.0  # mm in front of the crotch seam and behind; common practice


def _torso_line(d: Drafting, crotch: float) -> Path:
    return Path.polyline([complex(d["strap_out"], -d["strap_up"]), complex(0, crotch)])


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front and back of the chosen part."""
    d = Drafting(context, options)
    for name in ("bust_round", "waist_round", "hip_round"):
        d.need(d[name] > 200, "The ease takes away nearly all of the girth.", name)
    d.need(d["underarm_up"] > 40, "The underarm lies at the waist: look at back length and scye depth.", "underarm_up")
    d.need(d["strap_up"] > d["underarm_up"] + 40, say("The strap would be shorter than {4 cm}."), "strap_up")
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
    d.solve(
        "crotch_down",
        lambda v: 2 * _torso_line(d, v).length - d["torso_round"],
        d["leg_down"] + 30.0,
        1500.0,
        "the torso is shorter than from the shoulder to the legs.",
    )
    crotch = d["crotch_down"]
    d.need(crotch > d["leg_down"] + 40, "The crotch lies too near the leg opening; look at the torso.", "crotch_down")
    style = d.choice("style")
    back = _half(d, "back", crotch)
    trim = 0.0
    if d.choice("bust_shaping") == "dart" and style != "brief":  # with the dart sewn, both sides are as long
        sides = sum(path.length for path in back.side)
        trim = (
            solve_between(
                lambda v: sum(path.length for path in _half(d, "front", crotch, v).side) - sides, 0.0, -15.0, 15.0
            )
            or 0.0
        )
    bodies = {"front": _half(d, "front", crotch, trim), "back": back}
    reach = _level(back.side[-1], -d["under_bust"])
    pieces = [_cut(d, side, bodies[side], style, reach) for side in ("front", "back")]
    front = pieces[0]
    eased = front.run_length("side") - pieces[1].run_length("side")
    eased = eased if d.choice("bust_shaping") == "eased" and style != "brief" and eased > 1 else 0.0
    seams = [
        sew(
            "side", "Side seam", (edge("back", "side"),), (edge("front", "side"),), "eased" if eased else "plain", eased
        )
    ]
    if "shoulder" in front.runs():
        seams.append(
            sew("shoulder", "Shoulder seam", (edge("front", "shoulder"),), (edge("back", "shoulder"),), corners=True)
        )
    if "crotch" in front.runs():
        seams.append(sew("crotch", "Crotch seam", (edge("front", "crotch"),), (edge("back", "crotch"),), corners=True))
    if style in ("one_piece", "brief"):
        pieces.append(_crotch_lining(d, bodies["front"], bodies["back"]))
    if style == "one_piece":
        dimensions = [
            Dimension("crotch_down", "front", 40j, complex(0, crotch)),
            Dimension("torso_round", "front", complex(d["strap_out"], -d["strap_up"] * 0.6), complex(20, crotch * 0.4)),
        ]
    else:
        dimensions = []
    return d.result(
        pieces,
        seams,
        _closures(d, style, eased),
        dimensions,
        (Shown("front", "front"), Shown("back", "back")),
        zero="the waist",
    )


def _closures(d: Drafting, style: str, eased: float) -> list[Promise]:
    """What a style has to keep; ``eased`` is by how much the front's side is longer, in mm."""
    closures = [
        promise(
            "side",
            "Front side is eased in" if eased else "Side seams are equal",
            (run("front", "side"), run("back", "side", -1)),
            eased,
            "front less back",
        )
    ]
    if style == "one_piece":
        closures.append(
            promise(
                "torso",
                "Torso closes on the body",
                (across("front", "torso"), across("back", "torso")),
                d["torso_round"],
                "from the strap to the crotch, front and back",
            )
        )
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
                (girth("bust"),),
                d["bust_round"],
                "along the bust line, below the neckline",
            )
        )
    return closures


def _level(path: Path, y: float) -> float:
    """How far along a path a level is met."""
    cuts = path.crossings(complex(-9999, y), complex(9999, y))
    return cuts[0][0] if cuts else 0.0


def _rung(side: Path, at_end: bool = False) -> Path:
    """An edge from the centre to a side seam's start or end: level at the centre, square to the side."""
    where, down = (side.end, side.end_direction) if at_end else (side.start, side.start_direction)
    return hem_to_centre(where, down).reversed()


def _between(path: Path, low: float, high: float) -> Path:
    part = path.between(low, high)
    assert part is not None
    return part


def _cut(d: Drafting, side: str, body: _Body, style: str, reach: float) -> DraftPiece:
    """The piece of a style, cut from the whole; ``reach`` is how far down its side a bandeau or bra top goes (mm)."""
    fold = f"centre_{side}"
    marks: list[Drawn] = []
    bust = level("bust", "bust line", 1j * body.bust.imag, body.bust)
    remark = "most stretch goes round the body"
    label = f"{side.capitalize()}"
    darts = (DraftDart("bust_dart", "bust dart"),) if len(body.side) > 1 and style != "brief" else ()
    if style == "one_piece":
        sides = body.sides()
        edges = (
            *outline(("neckline", body.neck, "turned"), ("shoulder", body.strap), ("armhole", body.armhole, "turned")),
            *sides,
            *outline(
                ("leg", body.leg, "turned"), ("crotch", body.crotch), (fold, [body.crotch.end, body.neck.start], "fold")
            ),
        )
        waist = body.side_end.segments[-1].start
        marks = [
            bust,
            level("waist", "waist", 0j, waist),
            line("torso", "torso", complex(d["strap_out"], -d["strap_up"]), 1j * body.crotch.end.imag),
        ]
        low, high = body.crotch.end.imag, body.neck.start.imag
    elif style == "brief":
        top = d["top_edge"]
        d.need(
            top < d["leg_down"] - 12,
            "The brief's top edge lies at its leg opening: raise one or lower the other.",
            "top_edge",
        )
        sides = body.sides(top=top)
        across = _rung(sides[0].path)
        edges = (
            *outline(("waist", across, "turned")),
            *sides,
            *outline(
                ("leg", body.leg, "turned"), ("crotch", body.crotch), (fold, [body.crotch.end, across.start], "fold")
            ),
        )
        low, high = body.crotch.end.imag, across.start.imag
    else:
        d.need(
            -d["under_bust"] > body.bust.imag + 30,
            say("The lower edge lies less than {3 cm} below the bust."),
            "under_bust",
        )
        sides = body.sides(
            reach=reach + (d["bust_in"] if side == "front" and len(body.side) == 1 and _shaped(d) else 0.0)
        )
        below = _rung(sides[-1].path, at_end=True)
        marks = [bust]
        if style == "bandeau":
            above = _rung(sides[0].path)
            edges = (
                *outline(("top", above, "turned")),
                *sides,
                *outline(("under", below.reversed(), "turned"), (fold, [below.start, above.start], "fold")),
            )
            low, high = below.start.imag, above.start.imag
        else:
            neck = body.neck
            if neck.start.imag > below.start.imag - 25:
                neck = Path((bend(complex(0, below.start.imag - 25), 1 + 0j, neck.end, -1j, 0.62, 0.55),))
            edges = (
                *outline(("neckline", neck, "turned"), ("shoulder", body.strap), ("armhole", body.armhole, "turned")),
                *sides,
                *outline(("under", below.reversed(), "turned"), (fold, [below.start, neck.start], "fold")),
            )
            low, high = below.start.imag, neck.start.imag
    up_to_waist = sum(path.length for path in body.side) - body.side_end.segments[-1].length
    notches = (DraftNotch("side", up_to_waist, name="waist"),) if style == "one_piece" else ()
    x: Point = complex(14, 0)
    return DraftPiece(
        side,
        label,
        edges,
        darts,
        notches=notches,
        drawn=tuple(marks),
        grain=(x + 1j * (high + (low - high) * 0.2), x + 1j * (high + (low - high) * 0.75)),
        remark=remark,
    )


def _at_the_leg(context: Context) -> float:
    """The body at the top of the leg, between waist and hip, in mm."""
    sums, measures = context.sums, context.measures
    share = min(sums["leg_down"].value / max(sums["hip_down"].value, 1.0), 1.0)
    return measures["waist"] + (measures["hip"] - measures["waist"]) * share


def _round(u: float) -> tuple[Measurement, ...]:
    """The girth between the side seams at a share of them, from the folds of front and back."""
    return from_fold("front", "side", u), from_fold("back", "side", u)


PASSES = (
    Passes("bust", of=_round(0.0), limit=Body("bust"), stretched=True, place="front.side",
           when=lambda pattern: pattern.has_run("front.neckline") or pattern.has_run("front.top"),
           label="The bust stretches over the body", why="Finished girth × (1 + stretch) against the body."),
    Passes("hip", of=_round(1.0), limit=_at_the_leg, stretched=True, place="front.side",
           when=lambda pattern: pattern.has_run("front.leg"), label="The hip stretches over the body",
           why="The suit at the top of the leg × (1 + stretch) against the body there, between waist and hip."),
    Passes("leg", "leg", on=("front", "back"), stretched=True, label="The leg goes through its opening",
           why="The leg opening at full stretch against the thigh."),
)  # fmt: skip


BLOCK = register_block(
    Block(
        "swimsuit",
        "Swimsuit",
        "Front and back closed on the torso, smaller than the body; as one piece, brief, bandeau or bra top.",
        NEEDS,
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        PASSES,
        family="Swim",
        fits=("swim", "knit_close"),
        wants=("stretch_both",),
    )
)
