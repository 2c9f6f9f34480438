"""What a block or step is told, and what it gives back: one shape for all of them.

``apply(pattern, context, values) -> Result``. The context knows the body, the sums so far, the cloths, and the
id under which new things are named; the result has the pattern, the figures that were solved, and remarks.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from caddet.core.errors import Finding
from caddet.core.figures.language import Quantity, parse, work_out
from caddet.core.figures.sums import Sum
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.choices import Cloth

Values = Mapping[str, Any]
EMPTY: Mapping[str, Any] = MappingProxyType({})
OF_THE_BODY = ("*",)
PLAIN = Cloth(name="Cloth", width=1500.0)


@dataclass(frozen=True, slots=True)
class Context:
    """What is known where a block or step is done. Lengths in mm.

    ``measures``: what is known of the body; ``sums``: the figures of the block, or of the first source for a step;
    ``names``: every name a formula may use; ``cloths``: by role; ``id``: the source's or step's.
    """

    measures: Mapping[str, float] = field(default_factory=lambda: EMPTY)
    sums: Mapping[str, Sum] = field(default_factory=lambda: EMPTY)
    names: Mapping[str, Quantity] = field(default_factory=lambda: EMPTY)
    cloths: Mapping[str, Cloth] = field(default_factory=lambda: EMPTY)
    id: str = ""

    @property
    def cloth(self) -> Cloth:
        """The main cloth."""
        return self.cloths.get("main", PLAIN)

    def worked_out(self, formula: str) -> Quantity:
        """A formula over measures and figures. Raises :class:`FormulaError`."""
        return work_out(parse(formula), self.names)


@dataclass(frozen=True, slots=True)
class Result:
    """What a block or step gives: the pattern after it, solved figures (name to mm), remarks.

    ``changes`` names the promises that a step means to change: by how much is measured, and the proof says whose doing
    it is. :data:`OF_THE_BODY` stands for all that measure something of the body; that two sides of a seam agree is not
    among them: a step that changes it by more than a seam forgives has to name it, or fails it.
    """

    pattern: Pattern
    figures: Mapping[str, float] = field(default_factory=lambda: EMPTY)
    findings: tuple[Finding, ...] = ()
    changes: tuple[str, ...] = ()


Apply = Callable[[Pattern, Context, Values], Result]
