"""Notions: what a part needs besides cloth, counted and measured on the finished pattern, with the sum shown."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from caddet.core.errors import CaddetError
from caddet.core.pattern.seams import Layer
from caddet.core.sentences import Length, Sentence, say

NotionKind = Literal["elastic", "zip", "button", "snap", "hook", "cord", "binding", "tape", "trim", "pads"]
# lengths in which zips are sold, mm; common practice, no source
ZIPS = (100, 120, 150, 180, 200, 220, 250, 300, 350, 400, 450, 500, 550, 600, 650, 700, 750, 800, 900, 1000)

Measure = Callable[[Layer], float]


@dataclass(frozen=True, slots=True)
class Share:
    """A part of a notion's length: ``times`` the length of edges, as they lie on the finished pattern."""

    layer: Layer
    times: float = 1.0
    label: str = ""


@dataclass(frozen=True, slots=True)
class Notion:
    """One thing to buy: ``count`` of it, each as long as its shares of edges and what is added come to (mm).

    ``plus`` are additions with their words; ``pack`` is how much a ready-made pack holds (mm), ``sold`` the lengths
    in which it is sold. A notion without a length is only counted.
    """

    name: str
    kind: NotionKind
    label: str
    along: tuple[Share, ...] = ()
    plus: tuple[tuple[str, float], ...] = ()
    count: int = 1
    pack: float = 0.0
    sold: tuple[float, ...] = ()

    @property
    def has_length(self) -> bool:
        """Whether it is bought by the length."""
        return bool(self.along or self.plus)


@dataclass(frozen=True, slots=True)
class Needed:
    """A notion as it is to be bought: length of one (mm, 0 when only counted), how it came about, what is wrong."""

    notion: Notion
    length: float = 0.0
    working: Sentence | str = ""
    wrong: Sentence | str = ""

    @property
    def total(self) -> float:
        """The length of all of them, in mm."""
        return self.length * self.notion.count

    @property
    def packs(self) -> int:
        """How many ready-made packs that is; 0 when there are none."""
        return math.ceil(self.total / self.notion.pack - 1e-9) if self.notion.pack else 0

    @property
    def size(self) -> float:
        """The length to ask for in a shop: the next one sold, in mm."""
        return next((one for one in self.notion.sold if one >= self.length - 1e-6), self.length)


def needed(notion: Notion, measure: Measure) -> Needed:
    """A notion measured with the lengths of edges as they are. Raises nothing."""
    if not notion.has_length:
        return Needed(notion)
    total, words = 0.0, []
    for share in notion.along:
        try:
            length = measure(share.layer)
        except CaddetError as error:
            return Needed(notion, wrong=str(error))
        total += length * share.times
        text = (
            say("{label} {length}", label=share.label, length=Length(length))
            if share.label
            else say("{length}", length=Length(length))
        )
        words.append(
            text if abs(share.times - 1) < 1e-9 else say("{text} × {times}", text=text, times=f"{share.times:.3g}")
        )
    for label, mm in notion.plus:
        if abs(mm) > 1e-9:
            total += mm
            words.append(say("{label} {length}", label=label, length=Length(mm)))
    working = words[0]
    for one in words[1:]:
        working = say("{sum} + {one}", sum=working, one=one)
    return Needed(notion, total, say("{sum} = {total}", sum=working, total=Length(total)))
