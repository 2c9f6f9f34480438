"""Waists with darts, at the top of a piece or at its foot: how the taking-in is shared, and where darts stand."""

from __future__ import annotations

from dataclasses import dataclass, replace

from caddet.core.drafting.darted_edge import DartPlan, closed_curve, darted_edge
from caddet.core.drafting.draft_piece import DraftDart
from caddet.core.drafting.kit import Drafting
from caddet.core.figures.sums import Figure
from caddet.core.geometry.segments import Cubic, Motion, Point, unit
from caddet.core.pattern.edges import Edge
from caddet.core.sentences import say


def taking_in(side: str, wide: str, waist: str, most_side: str = "2.5cm") -> tuple[Figure, ...]:
    """The figures that share what a waist is smaller between the side seam and one or two darts."""
    label = side
    return (
        Figure(f"{side}_less", say("Less at the waist, {label}", label=label), f"{wide} - {waist}", "So much has to be taken in.", short="less at the waist"),
        Figure(f"{side}_side_in", say("Taken in at the side, {label}", label=label),
               f"if({side}_less < 0cm, {side}_less, max(min({side}_less * 0.35, {most_side}), {side}_less - 7cm))",
               "The side takes about a third, at most 2.5, unless two darts of 3.5 are full. A guess: the waist is then solved."),
        Figure(f"{side}_take", f"For darts, {label}", f"max({side}_less - {side}_side_in, 0cm)", "What is left after the side seam.", short="for darts"),
        Figure(f"{side}_darts", say("Darts in half a {label}", label=label), f"if({side}_take < 0.8cm, 0, if({side}_take > 3.5cm, 2, 1))",
               "Less than 0.8 isn't worth a dart; more than 3.5 in one stands out at its point.", kind="count"),
        Figure(f"{side}_dart", say("Waist dart, {label}", label=label), f"{side}_take / max({side}_darts, 1)", "Shared evenly when there are two.", short="waist dart"),
    )  # fmt: skip


def plan_darts(
    name: str, count: int, place: float, waist: float, intake: float, length: float, second: float = 0.9
) -> tuple[DartPlan, ...]:
    """One or two darts; the second a little past half-way from the first to the open waist's end."""
    if count <= 0 or intake <= 0:
        return ()
    if count == 1:
        return (DartPlan(f"{name}_dart", place, intake, length),)
    further = place + 0.55 * (waist + count * intake - place)
    return (
        DartPlan(f"{name}_dart", place, intake, length),
        DartPlan(f"{name}_dart_2", further, intake, length * second),
    )


def dart_labels(plans: tuple[DartPlan, ...]) -> tuple[DraftDart, ...]:
    """The darts of a piece with the words for them."""
    words = ("waist dart",) if len(plans) == 1 else ("waist dart nearer the centre", "waist dart nearer the side")
    return tuple(DraftDart(plan.name, word) for plan, word in zip(plans, words, strict=False))


def count_of(d: Drafting, name: str) -> int:
    """A number of darts: 0, 1 or 2. Raises :class:`CannotDraft`."""
    count = d[name]
    d.need(count in (0, 1, 2), say("{count} darts in half a piece: expected 0, 1 or 2.", count=f"{count:g}"), name)
    return round(count)


@dataclass(frozen=True, slots=True)
class Waist:
    """A waist at the foot of a piece, from the centre to the side, drawn with its darts closed.

    It is worked out upside down, as if it were the top of a skirt: ``flip`` turns it over.
    """

    centre: Point
    curve: Cubic
    opened: list[Motion]
    darts: tuple[DartPlan, ...]

    @property
    def length(self) -> float:
        """The length of the waist with its darts closed, in mm."""
        return self.curve.length

    def edges(self, name: str = "waist") -> list[Edge]:
        """The open edges in outline order, from the side to the centre."""
        flip = Motion(shift=complex(self.centre.real, self.centre.imag), mirror=True)
        edges = darted_edge(name, self.curve, self.opened, self.darts, 0j)
        return [edge.with_path(edge.path.moved(flip).reversed()) for edge in reversed(edges)]


def waist_below(centre: Point, side: Point, side_up: Point, darts: tuple[DartPlan, ...]) -> Waist:
    """A waist from ``centre`` (which it leaves level) to ``side``, square to the side seam going up."""
    end = (side - centre).conjugate()
    curve, opened = closed_curve(0j, end, unit(side_up.conjugate()) * -1j, darts)
    return Waist(centre, curve, opened, darts)


def darts_with_rise(waist: Waist) -> tuple[DartPlan, ...]:
    """The darts told how far the waist really lies from the level line, so that their lengths hold when it is drawn anew."""
    if not waist.darts:
        return ()
    edges = darted_edge("waist", waist.curve, waist.opened, waist.darts, 0j)
    rises = [-edge.path.start.imag for edge in edges if edge.dart][::2]
    return tuple(replace(dart, rise=rise) for dart, rise in zip(waist.darts, rises, strict=True))
