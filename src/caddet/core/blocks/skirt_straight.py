"""``skirt.straight``: front on the fold, a pair of backs with a zip, waist darts, straight waistband.

Rules: ``drafting.md`` §3 as common practice (no published source), said beside each figure. The
waist is *solved*: the side point moves until the waist, measured along its curve with the darts
closed, is exactly the quarter that is wanted.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from caddet.core.drafting.darted_edge import DartPlan, closed_curve, darted_edge
from caddet.core.drafting.waist import plan_darts
from caddet.core.errors import CaddetError
from caddet.core.figures.sums import Figure, Sums
from caddet.core.geometry.flare import flare_side
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import root_near
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, smooth
from caddet.core.pattern.pattern import Closure, Dimension, Pattern, Shown, Term
from caddet.core.pattern.piece import Dart, Edge, Mark, Notch, Piece
from caddet.core.pattern.seams import EdgeRef, Seam
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.registry import (
    Block,
    CannotDraft,
    EaseLevel,
    Gate,
    Parameter,
    Values,
    register_block,
)
from caddet.core.recipe.values import Number, References

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
    Parameter("length", "Length, waist to hem", "length", 600.0, 250.0, 1300.0,
              why="Measured down the centre front, without the waistband."),
    Parameter("flare", "Flare at each side seam", "length", 0.0, 0.0, 350.0,
              why="Swung out from the hip; the hem is curved so that it meets the side square."),
    Parameter("band", "Waistband, finished depth", "length", 30.0, 15.0, 100.0),
    Parameter("overlap", "Waistband overlap", "length", 30.0, 0.0, 120.0,
              why="Room for the button beyond the zip."),
)  # fmt: skip

EASE = (EaseLevel("waist", "Waist", 10.0, "waist"), EaseLevel("hip", "Hip", 40.0, "hip"))


def _side_curve(top: Point, hip: Point, flare: float, hang: float) -> Cubic:
    """The side from waist to hip: one fair curve, arriving along the line that goes on below."""
    chord = math.atan2((hip - top).real, (hip - top).imag)
    below = math.asin(min(flare / hang, 0.99)) if flare > 0 else 0.0
    arrives = min(below, max(chord, 0.0))
    leaves = 2 * chord - arrives
    return smooth(top, complex(math.sin(leaves), math.cos(leaves)), hip,
                  complex(math.sin(arrives), math.cos(arrives)))  # fmt: skip


def _below(seam: Cubic, corner: Point, flare: float) -> tuple[Path, Path]:
    """The whole side seam, and the hem from the side to the centre."""
    hip, centre = seam.end, complex(0, corner.imag)
    try:
        flared = flare_side(hip, seam.direction(1), corner, flare)
    except CaddetError as error:
        raise CannotDraft(str(error) + ".", "recipe.options.flare") from error
    if flared is None:
        return Path((seam, Line(hip, corner))), Path((Line(corner, centre),))
    return Path((seam, *flared.side.segments)), Path((flared.hem_arc, Line(flared.hem_arc.end, centre)))


@dataclass(frozen=True, slots=True)
class _Quarter:
    """What half a front or half a back is drafted from, in mm."""

    side: str
    hip: Point
    waist: float
    lift: float
    corner: Point
    flare: float

    def closed(self, side_x: float, lift: float, darts: tuple[DartPlan, ...]) -> tuple[Cubic, list[Motion], Cubic]:
        """For a side point: the waist with its darts closed, how they open, and the side above the hip."""
        seam = _side_curve(complex(side_x, -lift), self.hip, self.flare, (self.corner - self.hip).imag)
        waist, opened = closed_curve(0j, seam.start, seam.direction(0) * -1j, darts)
        return waist, opened, seam

    def solved(self, guess: float, lift: float, darts: tuple[DartPlan, ...], near: float = 1e-4) -> float:
        """The side point that gives the wanted waist, looked for ever wider round the guess."""

        def miss(side_x: float) -> float:
            return self.closed(side_x, lift, darts)[0].length - self.waist

        found = root_near(miss, guess, 40.0, near)
        if found is not None:
            return found
        raise CannotDraft(
            f"No side point gives a {self.side} waist of {self.waist / 10:.1f} cm with these darts; look at the darts.",
            f"figures.{self.side}_dart",
        )


def _quarter(side: str, sums: Sums, options: Values) -> tuple[_Quarter, tuple[DartPlan, ...]]:
    """The figures of one half piece, checked. Raises :class:`CannotDraft` with the reason."""
    hip_width, waist = sums[f"{side}_hip"].value, sums[f"{side}_waist"].value
    depth, lift, length = sums["hip_depth"].value, sums["side_lift"].value, float(options["length"])
    if length - depth < 50:
        raise CannotDraft(
            "The skirt ends less than 5 cm below the hip: make it longer, or look at the waist-to-hip measure.",
            "recipe.options.length",
        )
    if depth < 40 or not 0 <= lift < depth * 0.5:
        raise CannotDraft(
            "The hip level lies too near the waist for a skirt; expected at least 4 cm below it, and the side lifted by "
            "less than half of that.",
            "person.waist_to_hip",
        )
    if waist < 40 or hip_width < 40:
        raise CannotDraft(f"A quarter of the {side} comes out at less than 4 cm.", f"figures.{side}_waist")
    count = sums[f"{side}_darts"].value
    if count not in (0, 1, 2):
        raise CannotDraft(f"{count:g} darts in half a {side}: expected 0, 1 or 2.", f"figures.{side}_darts")
    plans = plan_darts(side, round(count), sums[f"{side}_dart_place"].value, waist, sums[f"{side}_dart"].value,
                   sums[f"{side}_dart_length"].value)  # fmt: skip
    for plan in plans:
        if not 10 <= plan.length <= depth:
            raise CannotDraft(
                "A dart must be at least 1 cm long and end at or above the hip line.", f"figures.{side}_dart_length"
            )
        if not 5 <= plan.middle <= hip_width - 5:
            raise CannotDraft("A dart stands outside the piece.", f"figures.{side}_dart_place")
    corner = complex(hip_width, length)
    return _Quarter(side, complex(hip_width, depth), waist, lift, corner, float(options["flare"])), plans


@dataclass(frozen=True, slots=True)
class Half:
    """Half a skirt: edges from the waist's centre to the hem's, dart plans, side seam, and how far along it the hip lies."""

    edges: tuple[Edge, ...]
    plans: tuple[DartPlan, ...]
    side: Path
    hip_along: float

    @property
    def darts(self) -> tuple[Dart, ...]:
        return _labelled(self.plans)


def skirt_half(side: str, sums: Sums, options: Values, partner: float | None = None) -> Half:
    """Waist, side and hem of half a front or back; with the partner's side given, this one is made as long."""
    quarter, darts = _quarter(side, sums, options)
    lift = quarter.lift
    at = quarter.waist + sum(dart.intake for dart in darts)
    for _ in range(2 if darts else 0):  # a dart's length and intake count from the waist as it will lie
        at = quarter.solved(at, lift, darts, 0.5)
        curve, opened, _ = quarter.closed(at, lift, darts)
        rises = [-e.path.start.imag for e in darted_edge("waist", curve, opened, darts, 0j) if e.dart][::2]
        darts = tuple(replace(dart, rise=rise) for dart, rise in zip(darts, rises, strict=True))
    for _ in range(9):  # the partner side is given: lift this one until both are as long
        at = quarter.solved(at, lift, darts)
        curve, opened, seam = quarter.closed(at, lift, darts)
        edge, hem = _below(seam, quarter.corner, quarter.flare)
        if partner is None or abs(partner - edge.length) < 0.005:
            break
        lift += partner - edge.length
    if abs(at - quarter.hip.real) > quarter.hip.imag:
        raise CannotDraft(
            "The waist and the hip differ so much that the side seam would lie flat: look at both measures.",
            f"figures.{side}_hip",
        )
    edges = darted_edge("waist", curve, opened, darts, 0j)
    edges += [Edge("side", edge), Edge("hem", hem, "hem")]
    return Half(tuple(edges), darts, edge, seam.length)


def _hip_mark(width: float, depth: float) -> Mark:
    return Mark("hip", "hip line", (Path.polyline([complex(0, depth), complex(width, depth)]),))


def _labelled(plans: tuple[DartPlan, ...]) -> tuple[Dart, ...]:
    words = ("dart",) if len(plans) == 1 else ("dart nearer the centre", "dart nearer the side")
    return tuple(Dart(plan.name, word) for plan, word in zip(plans, words, strict=False))


def _band(sums: Sums, options: Values) -> Piece:
    around, depth = sums["waist_seam"].value, sums["band_depth"].value
    overlap = sums["band_length"].value - around
    if overlap < -1e-6 or depth < 10 or around < 100:
        raise CannotDraft("The waistband is shorter than the waist, or hardly there.", "figures.band_length")
    whole = around + overlap
    corners = [0j, complex(whole, 0), complex(whole, depth), complex(overlap, depth), complex(0, depth)]
    edges = [
        Edge("inside", Path.polyline(corners[0:2])),
        Edge("end", Path.polyline(corners[1:3])),
        Edge("waist", Path.polyline([corners[2], corners[3]])),
    ]
    if overlap > 1e-6:
        edges.append(Edge("overlap", Path.polyline([corners[3], corners[4]])))
    edges.append(Edge("start", Path.polyline([corners[4], corners[0]])))
    fold = Mark("band_fold", "fold here", (Path.polyline([complex(0, depth / 2), complex(whole, depth / 2)]),))
    side = 2 * sums["back_waist"].value / 2
    notches = (
        Notch("waist", side, name="side"),
        Notch("waist", around / 2, name="centre front"),
        Notch("waist", around - side, name="side"),
    )
    grain = (complex(whole * 0.06, depth * 0.25), complex(whole * 0.3, depth * 0.25))
    return Piece("waistband", "Waistband", tuple(edges), notches=notches, marks=(fold,), grain=grain,
                 remark="interface it")  # fmt: skip


def draft(sums: Sums, options: Values) -> Pattern:
    """Front, back and waistband of a straight skirt. Raises :class:`CannotDraft` with the reason."""
    length = float(options["length"])
    front_half = skirt_half("front", sums, options)
    back_half = skirt_half("back", sums, options, front_half.side.length)
    front_edges, back_edges = list(front_half.edges), list(back_half.edges)
    front_hip, back_hip = sums["front_hip"].value, sums["back_hip"].value
    front_edges.append(Edge("centre_front", Path.polyline([complex(0, length), 0j]), "fold"))
    zip_length = sums["zip_length"].value
    if not 0 < zip_length < length - 20:
        raise CannotDraft("The zip opening must be longer than nothing and end above the hem.", "figures.zip_length")
    opening = complex(0, zip_length)
    back_edges.append(Edge("centre_back", Path.polyline([complex(0, length), opening])))
    back_edges.append(Edge("zip", Path.polyline([opening, 0j]), "opening"))
    depth = sums["hip_depth"].value
    grain_low = length - 60
    front = Piece(
        "front", "Front", tuple(front_edges), front_half.darts,
        (Notch("side", front_half.hip_along, name="hip"),), (_hip_mark(front_hip, depth),),
        (complex(front_hip * 0.14, depth + 20), complex(front_hip * 0.14, grain_low)), cut=1, anchor="centre_front",
    )  # fmt: skip
    back = Piece(
        "back", "Back", tuple(back_edges), back_half.darts,
        (Notch("side", back_half.hip_along, name="hip"),
         Notch("centre_back", length - zip_length - 1e-3, double=True, name="zip end")),
        (_hip_mark(back_hip, depth),),
        (complex(back_hip * 0.16, depth + 20), complex(back_hip * 0.16, grain_low)), cut=2, pair=True,
        anchor="centre_back",
    )  # fmt: skip
    band = _band(sums, options)
    seams = (
        Seam("A", "Side seam", (EdgeRef("front", "side"),), (EdgeRef("back", "side"),)),
        Seam("B", "Centre back seam", (EdgeRef("back", "centre_back"),),
             (EdgeRef("back", "centre_back", mirrored=True),)),
        Seam(
            "C", "Waistband on the waist",
            (EdgeRef("waistband", "waist"),),
            (EdgeRef("back", "waist", mirrored=True), EdgeRef("front", "waist", backwards=True, mirrored=True),
             EdgeRef("front", "waist"), EdgeRef("back", "waist", backwards=True)),
        ),
    )  # fmt: skip
    closures = (
        Closure("waist", "Waist closes on the body", (Term("front", "waist", 2), Term("back", "waist", 2)),
                sums["waist_seam"].value, "both fronts and both backs, darts sewn"),
        Closure("hip", "Hip closes on the body", (Term("front", "hip", 2, True), Term("back", "hip", 2, True)),
                sums["hip_round"].value, "along the hip line"),
        Closure("side", "Side seams are equal", (Term("front", "side", 1), Term("back", "side", -1)), 0.0,
                "the front side less the back side"),
        Closure("band", "Waistband fits the waist", (Term("waistband", "waist"),), sums["waist_seam"].value,
                "without the overlap"),
    )  # fmt: skip
    dimensions = (
        Dimension("front_hip", "front", complex(0, depth), complex(front_hip, depth)),
        Dimension("back_hip", "back", complex(0, depth), complex(back_hip, depth)),
        Dimension("front_waist", "front", 30j, complex(front_hip * 0.44, 30)),
        Dimension("back_waist", "back", 30j, complex(back_hip * 0.4, 30)),
        Dimension("hip_depth", "front", complex(front_hip * 0.2, 40), complex(front_hip * 0.2, depth + 20)),
        Dimension("zip_length", "back", 0j, opening),
        *(Dimension(f"{side}_dart", side, *_mouth(edges, plans[0].name))
          for side, edges, plans in (("front", front_edges, front_half.plans), ("back", back_edges, back_half.plans)) if plans),
        Dimension("band_length", "waistband", complex(sums["band_length"].value * 0.6, sums["band_depth"].value / 2),
                  complex(sums["band_length"].value, sums["band_depth"].value / 2)),
    )  # fmt: skip
    return Pattern(
        (front, back, band), seams, closures, dimensions, shown=(Shown("front", "front"), Shown("back", "back"))
    )


def _mouth(edges: list[Edge], dart: str) -> tuple[Point, Point]:
    legs = [edge.path for edge in edges if edge.dart == dart]
    return legs[0].start, legs[1].end


def gates(pattern: Pattern, sums: Sums, measures: Mapping[str, float]) -> list[Gate]:
    """Hips through the opened waist; stride clear of the hem. Rules: common practice."""
    found = []
    band = pattern.piece("waistband").run_length("waist")
    opening = pattern.piece("back").run_length("zip")
    hip = measures["hip"]
    longer = (hip - band) / 2 + 10
    found.append(
        Gate(
            "hips", "Hips go through the waist", band + 2 * opening, hip, "back.zip",
            "The waist with the zip open, once round both its sides, against the hip. If it is less, the skirt "
            "can't be pulled on and the zip tears at its end.",
            (Remedy("Lengthen the zip opening", override=("zip_length", f"{longer / 10:.1f}cm")),)
            if band + 2 * opening < hip else (),
        )
    )  # fmt: skip
    stride = measures.get("stride")
    to_floor = measures.get("waist_to_floor")
    if stride and to_floor:
        found.append(_stride_gate(pattern, sums, stride, to_floor))
    return found


def _stride_gate(pattern: Pattern, sums: Sums, stride: float, to_floor: float) -> Gate:
    """The hem round, where the cloth is still closed, against twice the stride at that height.

    "Hem round = twice the stride, measured at hem height": the legs swing from the hip, so the stride
    at a height is in proportion to how far below the hip it lies.
    """
    front, back = pattern.piece("front"), pattern.piece("back")
    depth = sums["hip_depth"].value
    hem = 2 * (front.run_length("hem") + back.run_length("hem"))
    hip = sums["hip_round"].value
    bottom = max(point.imag for piece in (front, back) for point in piece.polygon())
    slits = [
        piece.run_length("slit") for piece in (front, back) if "slit" in piece.runs()
    ]  # the highest slit frees the legs down from its top
    slit = max(slits, default=0.0)
    closed = bottom - slit
    share = min(max((closed - depth) / max(bottom - depth, 1.0), 0.0), 1.0)
    around = hip + (hem - hip) * share
    legs = max(to_floor - depth, 1.0)
    needed = 2 * stride * max(closed - depth, 0.0) / legs
    remedies: tuple[Remedy, ...] = ()
    if around < needed:
        # how far up the slit must reach: round(y) = needed(y), both linear in y
        fall = 2 * stride / legs - (hem - hip) / max(bottom - depth, 1.0)
        free = hip / fall if fall > 0 else 0.0
        height = min(max(bottom - depth - free + 10, 30.0), bottom - depth)
        flare = (needed - around) / 4 + 5
        remedies = (
            Remedy(f"Open a slit of {height / 10:.0f} cm in the centre back",
                   step=StepEntry(kind="slit", values={
                       "piece": References(kind="pieces", refs=("back",)),
                       "run": References(kind="edges", refs=("back.centre_back",)),
                       "height": Number(value=math.ceil(height / 10) * 10.0)})),
            Remedy(f"Flare each side by {flare / 10:.1f} cm",
                   step=StepEntry(kind="flare", values={"piece": References(kind="pieces"),
                                                        "amount": Number(value=round(flare, 0))})),
        )  # fmt: skip
    return Gate(
        "stride", "Stride clears the hem", around, needed, "front.hem",
        "The hem round against twice the stride at that height. If it is less, one can only take short steps "
        "and the back seam splits.",
        remedies,
    )  # fmt: skip


SKIRT = register_block(
    Block(
        "skirt.straight",
        "Straight skirt",
        "A skirt that follows the hip and hangs straight, with waist darts, a zip at the centre back and a band.",
        ("waist", "hip", "waist_to_hip"),
        ("stride", "waist_to_floor"),
        OPTIONS, EASE, FIGURES, draft, gates, family="Skirts", fits=("fitted_woven", "loose_woven", "knit_relaxed"), wants=("body",),
        schools={
            "quarters": "By equal quarters: front and back alike, the plain rule.",
            "seat": "By the seat: the back takes more of the shaping, for a round seat and a flat front.",
        },
    )
)  # fmt: skip
