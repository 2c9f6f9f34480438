"""Which measures a recipe really leans on: what its draft and its gates read, with the choices made.

A block lists every measure that any of its choices may ask for. A bodice without a sleeve needs no
wrist, and by proportion hardly a length; nobody should be sent round with the tape for those. So the
block is drafted once on a figure of middle size while a reader keeps count of what is looked up.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import TypeVar

from caddet.core.body.known import known_measures
from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.figures.language import (
    Binary,
    Call,
    FormulaError,
    Name,
    Negative,
    Node,
    Quantity,
    names_in,
    parse,
    work_out,
)
from caddet.core.figures.sums import Sum
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import MAIN, Document, Recipe
from caddet.core.recipe.evaluate import evaluate
from caddet.core.recipe.formulas import measures_named, measures_of_lengths
from caddet.core.recipe.registry import Block, block_named
from caddet.core.recipe.suitability import plain_cloth
from caddet.core.recipe.values import Plain

# a figure of middle size; what else it measures is estimated from these
MIDDLE = Person.of("Middle", {"height": 1680.0, "bust": 920.0, "waist": 760.0, "hip": 1000.0})
T = TypeVar("T")
_Options = tuple[tuple[str, Plain], ...]


@dataclass(frozen=True, slots=True)
class Wanted:
    """The measures to take: without ``needs`` there is no good draft, ``uses`` serve checks."""

    needs: tuple[str, ...]
    uses: tuple[str, ...]


class _Reader(Mapping[str, T]):
    """A mapping that remembers which of its names were looked up."""

    def __init__(self, inside: Mapping[str, T], read: set[str]) -> None:
        self.inside, self.read = inside, read

    def __getitem__(self, name: str) -> T:
        self.read.add(name)
        return self.inside[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self.inside)

    def __len__(self) -> int:
        return len(self.inside)


def wanted_measures(recipe: Recipe) -> Wanted:
    """The measures that a recipe leans on, in the order of its block. Raises :class:`CaddetError` without the block."""
    block = block_named(recipe.block)
    named = measures_named(recipe)
    middle = {code: Quantity(one.value, 1) for code, one in known_measures(MIDDLE, named).items() if one is not None}
    try:
        options = tuple(sorted(block.option_values(recipe.options, middle).items()))
    except CaddetError:
        return Wanted(tuple(dict.fromkeys((*block.needs, *named))), block.uses)
    formulas, numbers = [], []
    for figure, formula in sorted(recipe.overrides.items()):
        with suppress(FormulaError):  # an unreadable formula is not used
            if names_in(parse(formula)):
                formulas.append((figure, formula))
            else:
                numbers.append(figure)
    leaned = _wanted(block.name, options, tuple(formulas), frozenset(numbers))
    lengths = measures_of_lengths(recipe)
    needs = tuple(dict.fromkeys((*leaned.needs, *(code for code in named if code not in lengths))))
    uses = dict.fromkeys((*leaned.uses, *lengths))
    return Wanted(needs, tuple(code for code in uses if code not in needs))


@lru_cache(maxsize=128)
def _wanted(name: str, options: _Options, formulas: tuple[tuple[str, str], ...], numbers: frozenset[str]) -> Wanted:
    """``formulas`` are the user's own; for ``numbers`` there is a plain number, whose size does not matter here."""
    block = block_named(name)
    recipe = Recipe.of(name, options=dict(options), overrides=dict(formulas))
    cloth = plain_cloth(block)
    made = evaluate(
        Document(
            title=block.label,
            people=(MIDDLE,),
            wearer=MIDDLE.name,
            cloths=(cloth,),
            roles={MAIN: cloth.name},
            recipe=recipe,
        )
    )
    if made.pattern is None:
        return Wanted(block.needs, block.uses)
    figures: set[str] = set()
    codes: set[str] = set()
    sums = _Reader(made.sums, figures)
    try:
        context = replace(made.sources[0].context, sums=sums, measures=_Reader(made.measures, codes))
        result = block.apply(Pattern(), context, block.option_values(recipe.options))
        block.gates(result.pattern, context)
    except (CaddetError, ArithmeticError, ValueError):
        return Wanted(block.needs, block.uses)
    codes |= _leaned_on(block, made.sums, figures, numbers)
    return Wanted(tuple(c for c in block.needs if c in codes), tuple(c for c in block.uses if c in codes))


def _leaned_on(block: Block, sums: Mapping[str, Sum], figures: set[str], numbers: frozenset[str]) -> set[str]:
    """Every name that these figures come from: the measures, and the figures between."""
    chosen = {f"{o.name}_{key}" for o in block.options for key, _ in o.choices} | {o.name for o in block.options}
    shares = {f"ease_{level.level}": level.measure for level in block.ease if level.share}
    found: set[str] = set()
    todo = list(figures)
    while todo:
        name = todo.pop()
        if name in found:
            continue
        found.add(name)
        if name in sums and name not in numbers:
            todo += _terms(parse(sums[name].formula), sums[name], chosen)
        if name in shares:
            todo.append(shares[name])
    return found


def _terms(node: Node, sum_: Sum, chosen: set[str]) -> set[str]:
    """The names in a formula; of an ``if`` that only choices decide, those of the side taken."""
    match node:
        case Name(name=name):
            return {name}
        case Negative(inner=inner):
            return _terms(inner, sum_, chosen)
        case Binary(left=left, right=right):
            return _terms(left, sum_, chosen) | _terms(right, sum_, chosen)
        case Call(function="if", arguments=(condition, yes, no)) if names_in(condition) <= chosen:
            return _terms(yes if work_out(condition, sum_.names).value else no, sum_, chosen)
        case Call(arguments=arguments):
            return set().union(*(_terms(argument, sum_, chosen) for argument in arguments))
        case _:
            return set()
