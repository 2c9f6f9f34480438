"""Legs of trousers, front and back: crotch solved, inseams and sides equal, waists solved.

Frame of both: the seam line of the waist at y = 0, y down, the crotch on the left, the side on the right; the
centre of the body at x = 0 at the hip. Rules of thumb: common practice, no source. Both crotch curves leave the
fork so that, with the inseam sewn, the crotch runs on smoothly over it.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from dataclasses import dataclass

from caddet.core.drafting.curves import bend
from caddet.core.drafting.darted_edge import DartPlan, closed_curve, darted_edge
from caddet.core.drafting.draft_piece import DraftDart
from caddet.core.drafting.kit import Drafting, solve_between
from caddet.core.drafting.waist import count_of, dart_labels, plan_darts
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.recipe.registry import CannotDraft

LEG_NEEDS = (
    "waist", "hip", "waist_to_hip", "body_rise", "crotch_length", "waist_to_knee", "waist_to_floor", "thigh", "knee", "ankle",
)  # fmt: skip


def crotch_figures(ratio: str = "2.2") -> tuple[Figure, ...]:
    """What front and back reach out under the body, and the crotch they make."""
    return (
        Figure("crotch_round", "Crotch, finished", "crotch_length + ease_crotch", "From waist to waist through the legs, and a little air."),
        Figure("front_fork", "Fork, front", "hip_round / 18", "How far the front reaches under the body: a sixteenth to a twentieth of the hip. Solved with the "
               "back's, so that front and back crotch seam together are the crotch wanted."),
        Figure("fork_ratio", "Back fork, times the front's", ratio, "The seat lies behind: about twice to two and a half times the front.", kind="count"),
        Figure("fork_drop", "Back fork, lower by", "0.8cm", "Solved: both inseams are equal."),
    )  # fmt: skip


STEEPEST = math.radians(34)  # steeper, and the crotch would cut off its corner instead of hugging


@dataclass(frozen=True, slots=True)
class LegShape:
    """What half a leg is drawn from: widths and levels in mm; ``lean`` is how far the centre line comes in at
    the top, ``middle`` where the crease stands when it is not the middle of the leg.
    """

    name: str
    hip: float
    lean: float
    top: float
    hip_level: float
    fork_level: float
    knee_level: float
    hem_level: float
    knee: float
    hem: float
    middle: float | None = None

    def crease(self, fork: float) -> float:
        """Where the crease stands: about the middle of the leg at the fork, a little nearer to the inseam."""
        return (self.hip - fork) / 2 - 0.07 * fork if self.middle is None else self.middle

    def fork_point(self, fork: float, drop: float) -> Point:
        return complex(-fork, self.fork_level + drop)

    def inseam(self, fork: float, drop: float) -> Path:
        """From the hem up to the fork: straight to the knee, hollow above it."""
        middle, end = self.crease(fork), self.fork_point(fork, drop)
        hem, knee = complex(middle - self.hem / 2, self.hem_level), complex(middle - self.knee / 2, self.knee_level)
        chord = unit(end - knee)
        arrive = unit(complex(chord.real * 1.3, chord.imag))
        if self.hem_level - self.knee_level <= 1:
            return Path((smooth(knee, unit(complex(chord.real * 0.85, chord.imag)), end, arrive),))
        return Path((Line(hem, knee), bend(knee, unit(knee - hem), end, arrive, 0.75, 0.6)))

    def slant(self, fork: float, drop: float) -> float:
        """By how many radians the inseam leans out at the fork."""
        up = self.inseam(fork, drop).end_direction
        return math.atan2(-up.real, -up.imag)

    def crotch(self, fork: float, drop: float, rising: float) -> Path:
        """From the fork up to the waist at the centre; it leaves the fork ``rising`` radians above level."""
        start = self.fork_point(fork, drop)
        top = complex(self.lean, self.top)
        # the centre is straight from the waist to about the hip, round below
        high = self.hip_level * (0.95 if self.top > 0 else 0.8)
        # high enough for the tangents to meet below it
        high = min(high, start.imag - fork * math.tan(rising) - max(30.0, 0.4 * fork))
        high = max(high, self.top + 20)
        share = (self.hip_level - high) / max(self.hip_level - self.top, 1.0)
        low = complex(self.lean * share, high)
        up = unit(top - low)
        return Path((bend(start, cmath.exp(-1j * rising), low, up, 0.62, 0.66), Line(low, top)))

    def side(self, waist: Point, fork: float) -> Path:
        """From the waist down over the hip to the hem."""
        middle = self.crease(fork)
        hip = complex(self.hip, self.hip_level)
        knee, hem = complex(middle + self.knee / 2, self.knee_level), complex(middle + self.hem / 2, self.hem_level)
        below = unit(hem - knee) if self.hem_level - self.knee_level > 1 else unit(knee - hip)
        at_hip = unit(unit(knee - hip) + 0.9j)
        chord = unit(hip - waist)
        leaves = unit(chord * 2 - at_hip)
        upper = smooth(waist, leaves, hip, at_hip)
        thigh = smooth(hip, at_hip, knee, below)
        lower: tuple[Line, ...] = (Line(knee, hem),) if self.hem_level - self.knee_level > 1 else ()
        return Path((upper, thigh, *lower))


@dataclass(frozen=True, slots=True)
class Leg:
    """A finished leg piece: edges, darts, and where things lie."""

    shape: LegShape
    edges: tuple[Edge, ...]
    darts: tuple[DraftDart, ...]
    side: Path
    hip_along: float
    waist_end: Point
    crease: float


def rise_at_fork(front: LegShape, back: LegShape, fork: float, ratio: float, drop: float) -> float:
    """How steeply both crotch curves leave the fork, so that they run on into each other over the inseam."""
    return min((front.slant(fork, 0.0) + back.slant(fork * ratio, drop)) / 2, STEEPEST)


def solve_crotch(d: Drafting, front: LegShape, back: LegShape, wanted: float) -> None:
    """Settle ``front_fork`` and ``fork_drop``: crotch as long as wanted, inseams equal."""
    ratio = d["fork_ratio"]
    d.need(0.8 <= ratio <= 4, "The back fork must be between 0.8 and 4 times the front's.", "fork_ratio")

    def drop_for(fork: float) -> float:
        target = front.inseam(fork, 0.0).length
        found = solve_between(lambda v: back.inseam(fork * ratio, v).length - target, 8.0, -120.0, 260.0)
        return 0.0 if found is None else found

    def miss(fork: float) -> float:
        drop = drop_for(fork)
        rising = rise_at_fork(front, back, fork, ratio, drop)
        return front.crotch(fork, 0.0, rising).length + back.crotch(fork * ratio, drop, rising).length - wanted

    hip = 2 * (front.hip + back.hip)
    d.solve(
        "front_fork",
        miss,
        hip / 60,
        hip / 8,
        "no fork makes the crotch seam as long as wanted with this rise: measure body rise and crotch length again.",
    )
    fork = d["front_fork"]
    d.solve("fork_drop", lambda v: back.inseam(fork * ratio, v).length - front.inseam(fork, 0.0).length, -120.0, 260.0,
            "the inseams can't be brought to one length.")  # fmt: skip


def draw_leg(
    d: Drafting,
    shape: LegShape,
    fork: float,
    drop: float,
    rising: float,
    waist: float | None,
    lift: float,
    partner: float | None = None,
    dart_place: float = 0.0,
    dart_length: float = 0.0,
) -> Leg:
    """The leg with its waist solved (``waist`` mm with the darts closed; None leaves the side straight up)."""
    name = shape.name
    crotch, inseam = shape.crotch(fork, drop, rising), shape.inseam(fork, drop)
    centre = complex(shape.lean, shape.top)
    count = count_of(d, f"{name}_darts") if waist is not None and f"{name}_darts" in d.sums else 0
    intake = d[f"{name}_dart"] if count else 0.0
    plans = plan_darts(name, count, dart_place, waist or 0.0, intake, dart_length)

    def closed(x: float, level: float) -> tuple[Cubic, list[Motion], Path]:
        end = complex(x, level)
        side = shape.side(end, fork)
        curve, opened = _waist_curve(centre, crotch.end_direction, end, side.start_direction * -1j, plans)
        return curve, opened, side

    def side_point(level: float) -> float:
        if waist is None:
            return shape.hip
        return _side_point(name, lambda x: closed(x, level)[0].length - waist, shape.hip)

    level = -lift
    if partner is not None:  # the partner's side is given: raise or lower this one's waist until both are as long
        found = solve_between(lambda v: partner - closed(side_point(v), v)[2].length, level, level - 120, level + 120)
        if found is None:
            raise CannotDraft(
                f"The {name} side can't be brought to the length of its partner: look at waist, hip and their levels.",
                "figures.side_lift",
            )
        level = found
    x = side_point(level)
    curve, opened, side = closed(x, level)
    edges: list[Edge] = _open_waist(curve, opened, plans, centre)
    corner = side.end
    edges += [
        Edge("side", side),
        Edge(
            "hem", Path((smooth(corner, side.end_direction * 1j, inseam.start, inseam.start_direction * -1j),)), "hem"
        ),
        Edge("inseam", inseam),
        Edge("crotch", crotch),
    ]
    return Leg(
        shape, tuple(edges), dart_labels(plans), side, side.segments[0].length, complex(x, level), shape.crease(fork)
    )


def _side_point(name: str, miss: Callable[[float], float], guess: float) -> float:
    found = solve_between(miss, guess, guess - 200, guess + 160)
    if found is None:
        raise CannotDraft(
            f"No side point gives the {name} waist with these darts; look at waist, hip and darts.",
            f"figures.{name}_dart",
        )
    return found


def _waist_curve(
    centre: Point, up: Point, end: Point, end_direction: Point, plans: tuple[DartPlan, ...]
) -> tuple[Cubic, list[Motion]]:
    """The closed waist from the centre, square to the centre seam, to the side, square to the side seam."""
    if not plans:
        return smooth(centre, up * 1j, end, end_direction), []
    _, opened = closed_curve(centre, end, end_direction, plans)
    last = opened[-1]
    turn = last.turn.conjugate()
    start = turn * (end - last.shift)
    return smooth(centre, up * 1j, start, unit(turn * end_direction)), opened


def _open_waist(curve: Cubic, opened: list[Motion], plans: tuple[DartPlan, ...], centre: Point) -> list[Edge]:
    if not plans:
        return [Edge("waist", Path((curve,)))]
    return darted_edge("waist", curve, opened, plans, centre)
