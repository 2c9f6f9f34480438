"""How much cloth each size of a nest takes."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.errors import CaddetError
from caddet.core.finishing.finish import finish
from caddet.core.grading.nest import GradedSize
from caddet.core.laying.plan import Cancelled, plan_lay, roles_of, to_buy
from caddet.core.recipe.choices import LayChoices
from caddet.core.recipe.document import Document
from caddet.core.sentences import told

SECONDS = 0.6  # of search for each lay of a size: near enough to compare sizes


@dataclass(frozen=True, slots=True)
class ClothOf:
    """The cloth that a size takes from a role: the length of the lay and the length to buy (mm), or why there is none."""

    size: str
    role: str
    length: float = 0.0
    buy: float = 0.0
    refusal: str = ""


def cloth_of(
    document: Document, size: GradedSize, seconds: float = SECONDS, cancelled: Cancelled = lambda: False
) -> tuple[ClothOf, ...]:
    """What a size takes of each cloth, by a short search; as much as was found when it is cancelled. Raises nothing."""
    if size.pattern is None:
        return ()
    cut, _ = finish(size.pattern, document, size.name)
    found = []
    for role in roles_of(cut):
        cloth, choices = document.cloth_for(role), document.lays.get(role, LayChoices())
        try:
            plan = plan_lay(cut, cloth, choices, role=role, seconds=seconds, most_tries=60, cancelled=cancelled)
        except CaddetError as error:
            found.append(ClothOf(size.name, role, refusal=told(str(error), "cm")))
            continue
        found.append(ClothOf(size.name, role, plan.length, to_buy(plan.length, cloth, choices)))
    return tuple(found)
