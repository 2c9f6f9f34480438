"""The measures that a user's own formulas name: in options, overrides and steps, whatever the block itself needs."""

from __future__ import annotations

from contextlib import suppress
from functools import lru_cache

from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, names_in, parse
from caddet.core.recipe.document import BlockSource, Recipe, StepEntry
from caddet.core.recipe.registry import STEPS, Parameter, block_named
from caddet.core.recipe.values import Formula


def measures_named(recipe: Recipe) -> tuple[str, ...]:
    """The codes of the measures that formulas of the recipe name, in the order of the measures."""
    return _named(recipe, frozenset())


def measures_of_lengths(recipe: Recipe) -> tuple[str, ...]:
    """Those by which only lengths go that nobody chose: without them a length is as for an average body."""
    begins = frozenset(one.begins for source in recipe.blocks for one in _options(source) if one.begins)
    own = _named(recipe, begins)
    return tuple(code for code in _named(recipe, frozenset()) if code not in own)


def _options(source: BlockSource) -> tuple[Parameter, ...]:
    try:
        return block_named(source.block).options
    except CaddetError:
        return ()


def _named(recipe: Recipe, but: frozenset[str]) -> tuple[str, ...]:
    """The codes that formulas name, leaving out these formulas."""
    found: set[str] = set()
    for stage in recipe.stages():
        if isinstance(stage, StepEntry):
            values = stage.values.values()
            step = STEPS.get(stage.kind)
            if step is not None and step.reads is not None:
                found |= set(step.reads(step.shown_values(stage.values)))
        elif isinstance(stage, BlockSource):
            values = stage.options.values()
            with suppress(CaddetError):  # an unknown block is told where it is drafted
                block = block_named(stage.block)
                if block.reads is not None:
                    found |= set(block.needs_for(stage.options))
            for formula in stage.overrides.values():
                found |= _codes(formula)
        else:
            continue
        for value in values:
            if isinstance(value, Formula) and value.text not in but:
                found |= _codes(value.text)
    return tuple(code for code in MEASURES if code in found)


@lru_cache(maxsize=512)
def _codes(formula: str) -> frozenset[str]:
    """The measures in a formula; of an unreadable one, none."""
    try:
        return frozenset(names_in(parse(formula)) & MEASURES.keys())
    except FormulaError:
        return frozenset()
