"""Legs of trousers, front and back: crotch solved, inseams and sides equal, waists solved.

Frame of both: the seam line of the waist at y = 0, y down, the crotch on the left, the side on the right; the
centre of the body at x = 0 at the hip. Rules of thumb: common practice, no source. Both crotch curves are square to
the waist and to their own inseam, so that the crotch runs on smoothly over the inseam.

A leg is drawn to the floor by its widths at the knee and at the foot, and cut off where it ends: shorts have the
width that the leg has there.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from dataclasses import dataclass, replace

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
from caddet.core.sentences import Length, say

LEG_NEEDS = (
    "waist", "hip", "waist_to_hip", "body_rise", "crotch_length", "waist_to_knee", "waist_to_floor", "thigh", "knee", "calf", "ankle",
)  # fmt: skip
THIGH_BELOW_FORK = 30.0  # mm, where the thigh is measured
CALF = 1 / 3  # of the way from the knee to the ankle, where the calf is fullest


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
# A back crotch that leaves its fork steeper than this no longer holds the seat: where the inseam leans out more, the
# back's corner is a little under and the front's as much over a right angle. Common practice, no source.
FLAT_ENOUGH = math.radians(17)


def crotch_curve(start: Point, slant: float, top: Point, hip_level: float) -> Path:
    """From a fork, square to an inseam that leans out by ``slant`` radians there, up to the waist at the centre.

    The centre's line is straight from the waist down to x = 0, a little above the hip, and round below; the hip line
    begins there.
    """
    rising, fork = min(slant, STEEPEST), -start.real
    high = hip_level * (0.95 if top.imag > 0 else 0.8)
    # high enough for the tangents to meet below it
    high = min(high, start.imag - fork * math.tan(rising) - max(30.0, 0.4 * fork))
    high = max(high, top.imag + 20)
    low = complex(0, high)
    return Path((bend(start, cmath.exp(-1j * rising), low, unit(top - low), 0.62, 0.66), Line(low, top)))


@dataclass(frozen=True, slots=True)
class LegShape:
    """What half a leg is drawn from: widths and levels in mm; ``lean`` is how far the centre line comes in at the top.

    ``knee`` and ``foot`` are its widths there; it ends at ``hem_level``, wherever that is below the fork. ``plumb`` says
    that its side goes straight up from the hip, to be drawn in by elastic.
    """

    name: str
    hip: float
    lean: float
    top: float
    hip_level: float
    fork_level: float
    knee_level: float
    foot_level: float
    hem_level: float
    knee: float
    foot: float
    plumb: bool = False

    @property
    def thigh_level(self) -> float:
        """The level of the thigh, in mm (y is down)."""
        return self.fork_level + THIGH_BELOW_FORK

    @property
    def calf_level(self) -> float:
        """The level of the calf, in mm (y is down)."""
        return self.knee_level + (self.foot_level - self.knee_level) * CALF

    def crease(self, fork: float) -> float:
        """Where the crease stands: about the middle of the leg at the fork, a little nearer to the inseam."""
        return (self.hip - fork) / 2 - 0.07 * fork

    def fork_point(self, fork: float, drop: float) -> Point:
        """The end of a crotch that reaches out by ``fork``, ``drop`` below the fork's level (mm)."""
        return complex(-fork, self.fork_level + drop)

    def inseam(self, fork: float, drop: float) -> Path:
        """From the hem up to the fork: straight to the knee, hollow above it."""
        middle, end = self.crease(fork), self.fork_point(fork, drop)
        foot, knee = complex(middle - self.foot / 2, self.foot_level), complex(middle - self.knee / 2, self.knee_level)
        chord = unit(end - knee)
        arrive = unit(complex(chord.real * 1.3, chord.imag))
        thigh = bend(knee, unit(knee - foot), end, arrive, 0.75, 0.6)
        return _above(Path((Line(foot, knee), thigh)), self.hem_level)

    def slant(self, fork: float, drop: float) -> float:
        """By how many radians the inseam leans out at the fork."""
        up = self.inseam(fork, drop).end_direction
        return math.atan2(-up.real, -up.imag)

    def crotch(self, fork: float, drop: float, flatter: float = 0.0) -> Path:
        """From the fork, ``flatter`` radians from square to the inseam, up to the waist at the centre."""
        slant = self.slant(fork, drop) - flatter
        return crotch_curve(self.fork_point(fork, drop), slant, complex(self.lean, self.top), self.hip_level)

    def side_leaves(self, waist: Point, fork: float) -> Point:
        """The direction in which the side seam leaves the waist."""
        if self.plumb:
            return 1j
        return unit(unit(complex(self.hip, self.hip_level) - waist) * 2 - self._at_hip(fork))

    def _at_hip(self, fork: float) -> Point:
        knee = complex(self.crease(fork) + self.knee / 2, self.knee_level)
        return unit(unit(knee - complex(self.hip, self.hip_level)) + (2.4j if self.plumb else 0.9j))

    def side(self, waist: Point, fork: float) -> Path:
        """From the waist down over the hip to the hem."""
        middle = self.crease(fork)
        hip = complex(self.hip, self.hip_level)
        knee, foot = complex(middle + self.knee / 2, self.knee_level), complex(middle + self.foot / 2, self.foot_level)
        at_hip = self._at_hip(fork)
        upper = smooth(waist, self.side_leaves(waist, fork), hip, at_hip)
        thigh = smooth(hip, at_hip, knee, unit(foot - knee))
        return _above(Path((upper, thigh, Line(knee, foot))).reversed(), self.hem_level).reversed()

    def width(self, fork: float, drop: float, level: float) -> float:
        """How wide the leg is at a level below the fork, in mm."""
        left = _at_level(self.inseam(fork, drop), level)
        right = _at_level(self.side(complex(self.hip, 0), fork), level)
        return right.real - left.real


def _above(rising: Path, level: float) -> Path:
    """What of a path that comes up from the foot lies above a level."""
    if rising.start.imag <= level + 1e-6:
        return rising
    cuts = rising.crossings(complex(0, level), complex(999, level))
    if not cuts:
        return rising
    upper = rising.split_at(cuts[-1][0])[1]
    return rising if upper is None else upper


def _at_level(path: Path, level: float) -> Point:
    cuts = path.crossings(complex(0, level), complex(999, level))
    return cuts[-1][1] if cuts else min((path.start, path.end), key=lambda p: abs(p.imag - level))


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

    def across(self, level: float) -> tuple[Point, Point] | None:
        """The leg's two seams at a level, from inseam to side; None below its hem."""
        if level > self.shape.hem_level - 40:
            return None
        inseam = next(edge.path for edge in self.edges if edge.name == "inseam")
        return _at_level(inseam, level), _at_level(self.side, level)


def flatter_back(d: Drafting, front: LegShape, back: LegShape, fork: float, drop: float) -> float:
    """By how many radians the back crotch leaves its fork flatter, and the front's steeper, than square to the inseam.

    Both corners together stay two right angles, so that the crotch runs smoothly over the inseam.
    """
    behind, before = back.slant(fork * d["fork_ratio"], drop), front.slant(fork, 0.0)
    return min(max(min(behind, STEEPEST) - FLAT_ENOUGH, 0.0), max(STEEPEST - before, 0.0))


def solve_crotch(d: Drafting, front: LegShape, back: LegShape, wanted: float) -> None:
    """Settle ``front_fork`` and ``fork_drop``: crotch as long as wanted, inseams equal; a remark when the fork is unusual."""
    ratio = d["fork_ratio"]
    d.need(0.8 <= ratio <= 4, "The back fork must be between 0.8 and 4 times the front's.", "fork_ratio")

    def drop_for(fork: float) -> float:
        """How far the back fork drops so that the inseams agree."""
        target = front.inseam(fork, 0.0).length
        found = solve_between(lambda v: back.inseam(fork * ratio, v).length - target, 8.0, -120.0, 260.0)
        return 0.0 if found is None else found

    def miss(fork: float) -> float:
        """By how much the crotch is too long, in mm."""
        drop = drop_for(fork)
        flatter = flatter_back(d, front, back, fork, drop)
        return front.crotch(fork, 0.0, -flatter).length + back.crotch(fork * ratio, drop, flatter).length - wanted

    hip = 2 * (front.hip + back.hip)
    d.solve(
        "front_fork",
        miss,
        hip / 60,
        hip / 8,
        say(
            "no fork makes the crotch seam as long as wanted with this rise. {measure}",
            measure=d.measure("body_rise", "crotch_length"),
        ),
    )
    fork = d["front_fork"]
    d.solve(
        "fork_drop",
        lambda v: back.inseam(fork * ratio, v).length - front.inseam(fork, 0.0).length,
        -120.0,
        260.0,
        "the inseams can't be brought to one length.",
    )
    if not hip / 22 <= fork <= hip / 14 and d.sums["front_fork"].override is None:
        much = "long" if fork > hip / 14 else "short"
        d.remark(
            "draft.fork",
            say(
                "The fork comes out unusually {much}: the front reaches {fork} under the body, a sixteenth to a twentieth of the hip is usual. {measure}",
                much=much,
                fork=Length(fork),
                measure=d.measure("body_rise", "crotch_length"),
            ),
            "figures.front_fork",
        )


MOST_IN_DART = 35.0  # mm; more in one stands out at its point; common practice


def draw_leg(
    d: Drafting,
    shape: LegShape,
    fork: float,
    drop: float,
    waist: float | None,
    lift: float,
    partner: float | None = None,
    dart_place: float = 0.0,
    dart_length: float = 0.0,
    flatter: float = 0.0,
) -> Leg:
    """The leg with its waist solved (``waist`` mm with the darts closed; None leaves the side straight up).

    The side takes what its figure says; what is left goes into the darts. Without darts the side takes it all.
    ``flatter`` is by how much (radians) its crotch leaves the fork flatter than square to the inseam.
    """
    name = shape.name
    crotch, inseam = shape.crotch(fork, drop, flatter), shape.inseam(fork, drop)
    centre = complex(shape.lean, shape.top)
    count = count_of(d, f"{name}_darts") if waist is not None and f"{name}_darts" in d.sums else 0
    fixed = d.sums[f"{name}_dart"].override is not None if count else False

    up = crotch.end_direction

    def closed(x: float, level: float, plans: tuple[DartPlan, ...]) -> tuple[Cubic, list[Motion]]:
        """The waist with its darts closed, and how each part moves when they open."""
        end = complex(x, level)
        if waist is None:  # straight, so that a casing folds flat on it
            way = (end - centre) / 3
            return Cubic(centre, centre + way, end - way, end), []
        return _waist_curve(centre, up, end, shape.side_leaves(end, fork) * -1j, plans)

    def planned(intake: float, rises: tuple[float, ...]) -> tuple[DartPlan, ...]:
        """The darts for a place of the side."""
        made = plan_darts(name, count, dart_place, waist or 0.0, intake, dart_length)
        return tuple(replace(dart, rise=rise) for dart, rise in zip(made, rises, strict=False))

    def short(x: float, level: float, plans: tuple[DartPlan, ...]) -> float:
        """By how much the waist is too long, in mm."""
        return closed(x, level, plans)[0].length - (waist or 0.0)

    def taken_in(level: float, x: float, rises: tuple[float, ...]) -> tuple[float, tuple[DartPlan, ...]]:
        """The side point and darts for the waist, with the darts' tops so far above the centre's level."""
        guess = d[f"{name}_dart"]
        if not fixed:
            intake = solve_between(lambda v: short(x, level, planned(v, rises)), max(guess, 6.0), 5.0, MOST_IN_DART)
            if intake is not None:
                d.solved[f"{name}_dart"] = intake  # the next search begins there
                return x, planned(intake, rises)
            guess = MOST_IN_DART if guess > MOST_IN_DART / 2 else 5.0
        plans = planned(guess, rises)
        return _side_point(name, lambda v: short(v, level, plans), x), plans

    def settled(level: float) -> tuple[float, tuple[DartPlan, ...]]:
        """The side point and the darts for a waist that ends at a level."""
        if waist is None:
            return shape.hip, ()
        if not count:
            return _side_point(name, lambda v: short(v, level, ()), shape.hip), ()
        x, rises = shape.hip - d[f"{name}_side_in"], (0.0,) * count
        for _ in range(3):  # a dart's length counts from the waist as it lies
            x, plans = taken_in(level, x, rises)
            curve, opened = closed(x, level, plans)
            tops = [edge.path.start.imag for edge in _open_waist(curve, opened, plans, centre) if edge.dart][::2]
            before, rises = rises, tuple(centre.imag - top for top in tops)
            if all(abs(new - old) < 1e-3 for new, old in zip(rises, before, strict=True)):
                break
        return x, plans

    level = -lift
    if partner is not None:  # the partner's side is given: raise or lower this one's waist until both are as long

        def miss(v: float) -> float:
            """By how much the crotch is too long, in mm."""
            x, _ = settled(v)
            return partner - shape.side(complex(x, v), fork).length

        level = _level_point(name, miss, level)
    x, plans = settled(level)
    curve, opened = closed(x, level, plans)
    side = shape.side(complex(x, level), fork)
    if plans and not fixed:
        d.settle(f"{name}_dart", plans[0].intake)
        d.settle(f"{name}_side_in", shape.hip - x)
    edges = (*_open_waist(curve, opened, plans, centre), *_below_the_waist(side, inseam, crotch))
    return Leg(shape, edges, dart_labels(plans), side, side.segments[0].length, complex(x, level), shape.crease(fork))


def _below_the_waist(side: Path, inseam: Path, crotch: Path) -> tuple[Edge, ...]:
    """The edges of a leg from its waist down the side and up again; the hem is square to both seams."""
    hem = Path((smooth(side.end, side.end_direction * 1j, inseam.start, inseam.start_direction * -1j),))
    return Edge("side", side), Edge("hem", hem, "hem"), Edge("inseam", inseam), Edge("crotch", crotch)


def _level_point(name: str, miss: Callable[[float], float], guess: float) -> float:
    """The level at which a waist ends so that its side is as long as its partner's."""
    found = solve_between(miss, guess, guess - 120, guess + 120)
    if found is None:
        raise CannotDraft(
            say(
                "The {name} side can't be brought to the length of its partner: look at waist, hip and their levels.",
                name=name,
            ),
            "figures.side_lift",
        )
    return found


def _side_point(name: str, miss: Callable[[float], float], guess: float) -> float:
    found = solve_between(miss, guess, guess - 200, guess + 160)
    if found is None:
        raise CannotDraft(
            say("No side point gives the {name} waist with these darts; look at waist, hip and darts.", name=name),
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
