"""Half a skirt, front or back: waist with its darts, side seam and hem. The waist is *solved*.

The side point moves until the waist, measured along its curve with the darts closed, is exactly the quarter
that is wanted. Rules: ``drafting.md`` §3 as common practice (no published source).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from caddet.core.drafting.curves import bend
from caddet.core.drafting.darted_edge import DartPlan, closed_curve, darted_edge
from caddet.core.drafting.draft_piece import DraftDart, Drawn, level
from caddet.core.drafting.waist import plan_darts
from caddet.core.errors import CaddetError
from caddet.core.figures.sums import Sums
from caddet.core.geometry.flare import flare_side
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import root_near
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.recipe.registry import CannotDraft, Values
from caddet.core.sentences import Length, say


def _side_curve(top: Point, hip: Point, flare: float, hang: float) -> Cubic:
    """The side from waist to hip: one fair curve, arriving along the line that goes on below."""
    chord = math.atan2((hip - top).real, (hip - top).imag)
    below = math.asin(min(flare / hang, 0.99)) if flare > 0 else 0.0
    arrives = min(below, max(chord, 0.0))
    leaves = 2 * chord - arrives
    return smooth(top, complex(math.sin(leaves), math.cos(leaves)), hip, complex(math.sin(arrives), math.cos(arrives)))


def _below(seam: Cubic, corner: Point, flare: float) -> tuple[Path, Path]:
    """The whole side seam, and the hem from the side to the centre."""
    hip, centre = seam.end, complex(0, corner.imag)
    try:
        flared = flare_side(hip, seam.direction(1), corner, flare)
    except CaddetError as error:
        raise CannotDraft(str(error) + ".", "recipe.options.flare") from error
    if flared is None:
        return Path((seam, Line(hip, corner))), Path((Line(corner, centre),))
    # the hem in one sweep: square to the side, level at the centre; the side ends as much higher as that needs
    straight = unit(flared.side.end_direction)
    joint = flared.side.segments[-1].start
    tan = straight.real / straight.imag
    rest = (corner.imag - joint.imag - SWEEP * tan * joint.real) / (straight.imag + SWEEP * tan * straight.real)
    end = joint + straight * rest
    hem = bend(end, straight * 1j, centre, -1 + 0j, 0.62, 0.62)
    return Path((seam, *flared.side.segments[:-1], Line(joint, end))), Path((hem,))


SWEEP = 0.16  # of the side's slant times the half's width, how far the hem of a flared skirt rises at the side


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
            """By how much the waist is too long for a place of the side, in mm."""
            return self.closed(side_x, lift, darts)[0].length - self.waist

        found = root_near(miss, guess, 40.0, near)
        if found is not None:
            return found
        raise CannotDraft(
            say(
                "No side point gives a {side} waist of {waist} with these darts; look at the darts.",
                side=self.side,
                waist=Length(self.waist),
            ),
            f"figures.{self.side}_dart",
        )


def _quarter(side: str, sums: Sums, options: Values) -> tuple[_Quarter, tuple[DartPlan, ...]]:
    """The figures of one half piece, checked. Raises :class:`CannotDraft` with the reason."""
    hip_width, waist = sums[f"{side}_hip"].value, sums[f"{side}_waist"].value
    depth, lift, length = sums["hip_depth"].value, sums["side_lift"].value, float(options["length"])
    if length - depth < 50:
        raise CannotDraft(
            say("The skirt ends less than {5 cm} below the hip: make it longer, or look at the waist-to-hip measure."),
            "recipe.options.length",
        )
    if depth < 40 or not 0 <= lift < depth * 0.5:
        raise CannotDraft(
            say(
                "The hip level lies too near the waist for a skirt; expected at least {4 cm} below it, and the side lifted by less than half of that."
            ),
            "person.waist_to_hip",
        )
    if waist < 40 or hip_width < 40:
        raise CannotDraft(
            say("A quarter of the {side} comes out at less than {4 cm}.", side=side), f"figures.{side}_waist"
        )
    count = sums[f"{side}_darts"].value
    if count not in (0, 1, 2):
        raise CannotDraft(
            say("{count} darts in half a {side}: expected 0, 1 or 2.", count=f"{count:g}", side=side),
            f"figures.{side}_darts",
        )
    plans = plan_darts(
        side,
        round(count),
        sums[f"{side}_dart_place"].value,
        waist,
        sums[f"{side}_dart"].value,
        sums[f"{side}_dart_length"].value,
    )
    for plan in plans:
        if not 10 <= plan.length <= depth:
            raise CannotDraft(
                say("A dart must be at least {1 cm} long and end at or above the hip line."),
                f"figures.{side}_dart_length",
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
    def darts(self) -> tuple[DraftDart, ...]:
        """The darts of the waist, numbered from the centre when there are several."""
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
            "The waist and the hip differ so much that the side seam would lie flat: look at both context.measures.",
            f"figures.{side}_hip",
        )
    edges = darted_edge("waist", curve, opened, darts, 0j)
    edges += [Edge("side", edge), Edge("hem", hem, "hem")]
    return Half(tuple(edges), darts, edge, seam.length)


def _labelled(plans: tuple[DartPlan, ...]) -> tuple[DraftDart, ...]:
    words = ("dart",) if len(plans) == 1 else ("dart nearer the centre", "dart nearer the side")
    return tuple(DraftDart(plan.name, word) for plan, word in zip(plans, words, strict=False))


def hip_line(width: float, depth: float) -> Drawn:
    """The hip level of half a skirt."""
    return level("hip", "hip line", complex(0, depth), complex(width, depth))
