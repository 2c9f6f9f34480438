"""Half a bodice down to the waist: side seams that agree, a bust dart at the side, waist darts, waists solved."""

from __future__ import annotations

import math
from dataclasses import dataclass

from caddet.core.drafting.draft_piece import DraftDart
from caddet.core.drafting.kit import Drafting, solve_between
from caddet.core.drafting.upper import UPPER_NEEDS, Upper, draft_upper, upper_figures
from caddet.core.drafting.waist import (
    Waist,
    count_of,
    dart_labels,
    darts_with_rise,
    plan_darts,
    taking_in,
    waist_below,
)
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, unit
from caddet.core.pattern.edges import Edge
from caddet.core.recipe.registry import CannotDraft, Parameter
from caddet.core.sentences import Length, say

BODICE_NEEDS = (
    *UPPER_NEEDS,
    "waist",
    "upper_bust",
    "under_bust",
    "bust_span",
    "shoulder_to_bust",
    "shoulder_to_waist_front",
)
BUST_DART = Parameter(
    "bust_dart",
    "Bust dart from",
    "choice",
    "balance",
    choices=(("balance", "Front and back length"), ("cup", "Bust less upper bust"), ("none", "No bust dart")),
    why="From the balance: how much longer the front is over the bust than the back; it carries that difference. From the cup: bust less "
    "upper bust, for when the lengths are not sure. None for flat chests and loose clothes.",
)

NEARLY_SQUARE = math.radians(0.3)
NEAR = 0.05  # mm, to which the front length is found
HIGHEST, LOWEST = -40.0, 50.0  # mm, the front's neck point against the back's
LEAST_DART = 8.0  # mm; a smaller one is not worth sewing
RIDES_UP = 12.0  # mm that the front may be shorter over the bust than the body before it is said
BODICE_FIGURES = (
    *upper_figures(shoulder_ease="0.8cm", balance="1.5cm"),
    Figure("back_length", "Back length", "if(school_proportion, height / 4 - 0.5cm, nape_to_waist)", "From the nape to the waist."),
    Figure("waist_round", "Waist, finished", "waist + ease_waist", "The girth the garment will have there.", short="waist round"),
    Figure("front_length", "Front length, over the bust", "if(school_proportion, back_length + neck / 15 + 1cm + max(bust - under_bust - 12cm, -3cm) / 4, shoulder_to_waist_front)",
           "From the neck point over the bust to the waist. Not measured: the back's from the neck point and 1, more with the cup."),
    Figure("balance", "Front longer than the back", "front_length - back_length - neck / 15", "Both from the neck point to the waist: the balance. The bust dart and the height of the front's neck point carry it."),
    Figure("front_waist", "Waist line, front", "waist_round / 4 + 0.5cm", "As at the bust, the front takes a little more."),
    Figure("back_waist", "Waist line, back", "waist_round / 2 - front_waist", "What the front leaves of the half round."),
    Figure("bust_level", "Bust point, below the neck point", "if(school_proportion, bust / 4 + 4cm, shoulder_to_bust)", "Where the dart has to point."),
    Figure("bust_point", "Bust point, from the centre", "if(school_proportion, bust / 10 + 0.25cm, bust_span / 2)", "Half of what lies between the two points."),
    Figure("bust_dart_in", "Bust dart",
           "if(bust_dart_none, 0cm, if(bust_dart_balance, max(balance + 1.5cm, 0cm), max((bust - upper_bust) / 2 + 0.5cm, 0cm)))",
           "What the front is longer over the bust, and what its armhole is shorter above the bust line. Below 0.8 it is left out."),
    Figure("bust_dart_short", "Bust dart, short of the point", "2cm", "A dart that runs to the very point makes a peak."),
    *taking_in("back", "back_bust", "back_waist"),
    *taking_in("front", "front_bust", "front_waist"),
    Figure("back_dart_length", "Waist dart, back, length", "max(back_length - armhole_depth - 1cm, 3cm)", "Ends a little below the armhole line, under the shoulder blade."),
    Figure("back_dart_place", "Waist dart, back, from the centre", "back_bust * if(back_darts > 1, 0.36, 0.42)", "Below the shoulder blade."),
    Figure("front_dart_place", "Waist dart, front, from the centre", "min(bust_point, front_bust * 0.6)", "Straight below the bust point."),
    Figure("front_dart_short", "Waist dart, front, below the bust point", "2cm", "It too stops short of the point."),
    Figure("side_lift", "Waist, up at the side", "0.5cm", "The waist dips a little towards the centre of the back."),
    Figure("front_dip", "Waist, down at the centre front", "if(bust_dart_none, clamp((balance + 1.5cm) / 2, 0.7cm, 2cm), 0.7cm)", "The waist of the body dips towards the front; without a bust dart by more, for the way over the bust."),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Half:
    """Half a bodice: its upper part, the side seam (underarm to waist), the waist, the side dart."""

    upper: Upper
    side: Path
    waist: Waist
    darts: tuple[DraftDart, ...]
    edges: tuple[Edge, ...]
    side_point: Point


def draft_bodice(d: Drafting) -> tuple[Half, Half]:
    """Front and back half, closed on the waist. Raises :class:`CannotDraft` with the reason."""
    side = max(d["back_length"] - d["armhole_depth"], 40.0)
    # the armhole arrives square to the side seam, and how that leans is only known when the waist is solved
    front_slant, back_slant = (math.atan2(d[f"{half}_side_in"], side) for half in ("front", "back"))
    for _ in range(8):
        front_upper, back_upper = draft_upper(d, front_slant, back_slant)
        d.need(
            d["back_length"] - d["armhole_depth"] > 30,
            say("The waist lies less than {3 cm} below the armhole: look at back length and scye depth."),
            "back_length",
        )
        d.need(
            d["front_waist"] > 40 and d["back_waist"] > 40,
            say("A quarter of the waist comes out at less than {4 cm}."),
            "front_waist",
        )
        back = _back(d, back_upper)
        front = _front(d, front_upper, back.side.length)
        leaning = tuple(
            math.atan2(-half.side.start_direction.real, half.side.start_direction.imag) for half in (front, back)
        )
        off = _off_balance(d, front)
        if max(abs(leaning[0] - front_slant), abs(leaning[1] - back_slant)) < NEARLY_SQUARE and abs(off) < NEAR:
            break
        front_slant, back_slant = leaning
        d.settle("front_neck_level", d["front_neck_level"] + off)
    short = -_front_long(d, front)
    if _undarted(d) and short > RIDES_UP:
        d.remark(
            "draft.no_dart",
            say(
                "Without a bust dart the front is {short} shorter over the bust than the body: it will ride up there. A bust dart gives that length; a cloth that stretches forgives it.",
                short=Length(short),
            ),
            "figures.bust_dart_in",
        )
    return front, back


def _front_long(d: Drafting, front: Half) -> float:
    """By how much the front is too long from the neck point over the bust to the waist, in mm."""
    neck = front.upper.neck_point.imag - d["neck_more"] * 0.3
    return front.waist.centre.imag - neck - d["front_length"]


def _undarted(d: Drafting) -> bool:
    """Whether a body that has a use for a bust dart gets none."""
    return d.choice("bust_dart") == "none" and d["balance"] + d.sums["front_neck_level"].value >= LEAST_DART


def _off_balance(d: Drafting, front: Half) -> float:
    """By how much the front's neck point has to come down for its length to be the wanted one, within reason (mm).

    Where a bust dart is left out it stays: higher, it would only make the front's armhole longer than the back's.
    """
    off = _front_long(d, front)
    if _undarted(d) or d.sums["front_neck_level"].override is not None:
        return 0.0
    return min(max(d["front_neck_level"] + off, HIGHEST), LOWEST) - d["front_neck_level"]


def _back(d: Drafting, upper: Upper) -> Half:
    centre = complex(0, d["back_length"])
    level = d["back_length"] - d["side_lift"]
    # the armhole's depth may have been solved since the dart was reckoned: it still ends below the bust line
    d.settle("back_dart_length", min(d["back_dart_length"], max(d["back_length"] - d["armhole_depth"] - 10, 30.0)))
    plans = plan_darts(
        "back", count_of(d, "back_darts"), d["back_dart_place"], d["back_waist"], d["back_dart"], d["back_dart_length"]
    )

    def waist_at(x: float) -> Waist:
        """The waist line for a place of the side."""
        side = complex(x, level)
        return waist_below(centre, side, upper.underarm - side, plans)

    guess = d["back_bust"] - d["back_side_in"]
    for round_ in range(2 if plans else 1):
        x = _solved(lambda v: waist_at(v).length - d["back_waist"], guess, "back", d)
        if round_ == 0 and plans:
            plans = darts_with_rise(waist_at(x))
    if plans:
        x = _solved(lambda v: waist_at(v).length - d["back_waist"], x, "back", d)
    waist, side_point = waist_at(x), complex(x, level)
    side = Path((Line(upper.underarm, side_point),))
    edges = (
        *_top(upper),
        Edge("side", side),
        *waist.edges(),
        Edge("centre_back", Path.polyline([centre, upper.centre])),
    )
    return Half(upper, side, waist, dart_labels(plans), edges, side_point)


def _solved(miss: object, guess: float, side: str, d: Drafting) -> float:
    assert callable(miss)
    found = solve_between(miss, guess, guess - 160, guess + 160)
    if found is None:
        raise CannotDraft(
            say(
                "No side point gives a {side} waist of {d} with these darts; look at the darts.",
                side=side,
                d=Length(d[f"{side}_waist"]),
            ),
            f"figures.{side}_dart",
        )
    return found


def _top(upper: Upper) -> tuple[Edge, ...]:
    return (
        Edge("neckline", Path((upper.neck,))),
        Edge("shoulder", Path((upper.shoulder,))),
        Edge("armhole", upper.armhole),
    )


@dataclass(frozen=True, slots=True)
class DartedSide:
    """A side seam drawn straight with its bust dart closed, and how the dart opens it."""

    underarm: Point
    leg: Point
    apex: Point
    opened: Motion
    end: Point

    def edges(self) -> tuple[Edge, ...]:
        """From underarm to the end, with the dart's legs when there is one."""
        if self.opened == Motion():
            return (Edge("side", Path.polyline([self.underarm, self.end])),)
        low = self.opened(self.leg)
        return (
            Edge("side", Path.polyline([self.underarm, self.leg])),
            Edge("bust_dart", Path.polyline([self.leg, self.apex]), "", "bust_dart"),
            Edge("bust_dart", Path.polyline([self.apex, low]), "", "bust_dart"),
            Edge("side", Path.polyline([low, self.end])),
        )

    @property
    def last_start(self) -> Point:
        """Where the straight part that reaches the end begins."""
        return self.underarm if self.opened == Motion() else self.opened(self.leg)


def darted_side(d: Drafting, upper: Upper, slant: Point, length: float, dart: str = "bust_dart_in") -> DartedSide:
    """A front side seam of a length (dart closed) in a direction, with the bust dart opened in it."""
    intake = d[dart] if d[dart] >= LEAST_DART else 0.0
    underarm = upper.underarm
    if not intake:
        return DartedSide(underarm, underarm, underarm, Motion(), underarm + slant * length)
    point = complex(d["bust_point"], upper.neck_point.imag + d["bust_level"])
    d.need(
        underarm.real - point.real > 40,
        "The bust point lies too near the side for a dart: look at the bust span.",
        "bust_point",
    )
    below_waist = d["back_length"] - d["armhole_depth"]
    at = min(max(point.imag + 10 - underarm.imag, 30.0), below_waist * 0.62)
    leg = underarm + slant * at
    aim = complex(point.real, max(point.imag, upper.bust_level + 8))
    apex = aim + unit(leg - aim) * d["bust_dart_short"]
    angle = 2 * math.asin(min(intake / 2 / abs(leg - apex), 0.9))
    opened = Motion.rotation(angle, apex)
    return DartedSide(underarm, leg, apex, opened, opened(underarm + slant * length))


def _front(d: Drafting, upper: Upper, side_length: float) -> Half:
    """The side seam is drawn with the bust dart closed, straight from underarm to waist, then opened at the dart."""
    level = max(upper.neck_point.imag + d["bust_level"], upper.underarm.imag)

    def sides(x: float) -> DartedSide:
        """The end of the side seam for a place of the side."""
        slant = complex(x, math.sqrt(max(side_length**2 - x * x, 1.0))) / side_length
        return darted_side(d, upper, slant, side_length)

    count = count_of(d, "front_darts")

    def waist_at(x: float) -> tuple[Waist, DartedSide]:
        """The waist line for a place of the side."""
        side = sides(x)
        centre = complex(0, side.end.imag + d["front_dip"])
        length = max(centre.imag - level - d["front_dart_short"], 25.0)
        plans = plan_darts("front", count, d["front_dart_place"], d["front_waist"], d["front_dart"], length, 0.8)
        return waist_below(centre, side.end, side.last_start - side.end, plans), side

    swing = side_length * 0.75
    found = solve_between(lambda v: waist_at(v)[0].length - d["front_waist"], -d["front_side_in"], -swing, swing)
    if found is None:
        raise CannotDraft(
            say(
                "No side seam gives a front waist of {front_waist} with these darts; look at the darts.",
                front_waist=Length(d["front_waist"]),
            ),
            "figures.front_dart",
        )
    waist, drawn = waist_at(found)
    side_edges = drawn.edges()
    darts = ((DraftDart("bust_dart", "bust dart"),) if len(side_edges) > 1 else ()) + dart_labels(waist.darts)
    side = Path.join(edge.path for edge in side_edges if not edge.dart)
    edges = (
        *_top(upper),
        *side_edges,
        *waist.edges(),
        Edge("centre_front", Path.polyline([waist.centre, upper.centre]), "fold"),
    )
    return Half(upper, side, waist, darts, edges, drawn.end)
