"""The lay plan: how the pieces lie on the cloth, and the length to buy."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from caddet.core.finishing.finish import CutPiece
from caddet.core.geometry.segments import Motion, Point
from caddet.core.laying.items import Item, WontFit, folded_items, open_items
from caddet.core.laying.raster import Layout, compacted, search
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.core.recipe.document import MAIN

ROUND_UP = 50.0  # mm; shops cut to 5 cm, common practice


@dataclass(frozen=True, slots=True)
class Placed:
    """One piece on the cloth: outline in the cloth's axes (mm), and how it was turned."""

    piece: str
    outline: tuple[Point, ...]
    motion: Motion
    rotation: float
    mirrored: bool
    on_fold: bool
    label: str = ""

    @property
    def named(self) -> str:
        """What the piece is called where it is drawn."""
        return self.label or self.piece

    @property
    def middle(self) -> Point:
        """The middle of the space the piece takes, where its name is written."""
        xs, ys = [p.real for p in self.outline], [p.imag for p in self.outline]
        return complex((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


@dataclass(frozen=True, slots=True)
class LayPlan:
    """A lay: length of cloth used and to buy, in mm; ``width`` is the width laid on (half if folded)."""

    length: float
    width: float
    folded: bool
    placed: tuple[Placed, ...]
    utilisation: float
    buy: float
    cost: float
    tries: int


@dataclass(frozen=True, slots=True)
class LayProgress:
    """Sent while searching: share of the time used, the shortest length so far (mm), and a lay when it is a new best."""

    share: float
    length: float
    plan: LayPlan | None = None


Progress = Callable[[LayProgress], None]
Cancelled = Callable[[], bool]


def roles_of(cut: Sequence[CutPiece]) -> tuple[str, ...]:
    """The roles of cloth that these pieces are cut from, the main one first."""
    found = dict.fromkeys(one.cloth for piece in cut for one in piece.piece.cuts)
    return tuple(sorted(found, key=lambda role: role != MAIN))


def to_buy(length: float, cloth: Cloth, choices: LayChoices) -> float:
    """The length to buy for a length needed: before shrinking, with the extra, rounded up to 5 cm."""
    needed = length / (1 - cloth.shrinkage) + choices.extra
    return math.ceil((needed - 1e-6) / ROUND_UP) * ROUND_UP


def plan_lay(
    cut: Sequence[CutPiece],
    cloth: Cloth,
    choices: LayChoices,
    *,
    role: str = MAIN,
    seconds: float = 4.0,
    seed: int = 1,
    most_tries: int = 400,
    progress: Progress = lambda report: None,
    cancelled: Cancelled = lambda: False,
) -> LayPlan:
    """The better of the lays asked for of what is cut from the cloth of a role.

    Stops at ``most_tries`` a lay, at ``seconds``, or when cancelled.

    Raises :class:`WontFit` when no lay asked for takes all pieces.
    """
    pieces = [piece for piece in cut if piece.piece.count_of(role)]
    wanted = [False, True] if choices.fold == "better" else [choices.fold == "folded"]
    variants: list[tuple[bool, list[Item]]] = []
    for folded in wanted:
        if folded:
            items = folded_items(pieces, cloth.nap, role)
            variants.append((True, items))
            if any(item.alternative for item in items):
                variants.append((True, [item.alternative or item for item in items]))
        else:
            variants.append((False, open_items(pieces, cloth.nap, role)))
    plans: list[LayPlan] = []
    refusals: list[WontFit] = []
    shown = math.inf
    for number, (folded, items) in enumerate(variants):
        share = seconds / len(variants)

        def report(
            tries: float, best: Layout | None, number: int = number, folded: bool = folded, items: list[Item] = items
        ) -> None:
            nonlocal shown
            length = best.length if best else 0.0
            shortest = min([length, *(plan.length for plan in plans)])
            plan = None
            if best is not None and best.length < shown - 0.5:  # legal as it is, if not yet slid together
                shown, plan = best.length, _plan_of(best, items, folded, cloth, choices, 0)
            progress(LayProgress(min((number + tries) / len(variants), 1.0), shortest, plan))

        try:
            plans.append(_one(items, folded, cloth, choices, share, seed, most_tries, report, cancelled))
        except WontFit as refusal:
            refusals.append(refusal)
    if not plans:
        raise refusals[0]
    return min(plans, key=lambda plan: plan.length)


def _one(
    items: list[Item],
    folded: bool,
    cloth: Cloth,
    choices: LayChoices,
    seconds: float,
    seed: int,
    most_tries: int,
    report: Callable[[float, Layout | None], None],
    cancelled: Cancelled,
) -> LayPlan:
    width = _width(cloth, folded)
    begun = time.monotonic()
    count = 0

    def carry_on(tries: int, best: Layout | None) -> bool:
        nonlocal count
        count = tries
        used = max((time.monotonic() - begun) / seconds if seconds > 0 else 1.0, tries / most_tries)
        report(used, best)
        return used < 1 and not cancelled()

    layout = compacted(search(items, width, choices.gap, seed, carry_on), choices.gap)
    return _plan_of(layout, items, folded, cloth, choices, count)


def _width(cloth: Cloth, folded: bool) -> float:
    return cloth.width / 2 if folded else cloth.width


def _plan_of(layout: Layout, items: list[Item], folded: bool, cloth: Cloth, choices: LayChoices, tries: int) -> LayPlan:
    """A layout as a plan: where each piece lies, what is bought, and what it costs."""
    width, placed, covered = _width(cloth, folded), [], 0.0
    for spot in layout.spots:
        item = items[spot.item]
        move = Motion.translation(spot.at)
        placed.append(
            Placed(
                item.piece,
                tuple(p + spot.at for p in spot.shape.outline),
                move.after(spot.shape.motion),
                spot.shape.rotation,
                spot.shape.mirrored,
                spot.on_fold,
                item.label,
            )
        )
        covered += item.area
    buy = to_buy(layout.length, cloth, choices)
    return LayPlan(
        layout.length,
        width,
        folded,
        tuple(placed),
        covered / (layout.length * width),
        buy,
        buy / 1000 * cloth.price,
        tries,
    )
