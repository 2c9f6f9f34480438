"""What a plan has to know before anything is drafted: which measures are there, and blocks of one's own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import Field

from caddet.core.body.kept import Liked
from caddet.core.body.known import known_measure, known_measures
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Lengths, Recipe, Value
from caddet.core.recipe.ease import EaseLevel, usual_ease
from caddet.core.recipe.named import Named
from caddet.core.recipe.needed import wanted_measures
from caddet.core.recipe.registry import block_named
from caddet.core.recipe.values import Formula, Plain


@dataclass(frozen=True, slots=True)
class Need:
    """One measure a block leans on: there, estimated (with its error in mm), or missing."""

    code: str
    state: Literal["there", "estimated", "missing"]
    value: float = 0.0
    error: float = 0.0
    needed: bool = True

    @property
    def label(self) -> str:
        """The measure's name."""
        return MEASURES[self.code].label


def needs(recipe: Recipe, person: Person) -> tuple[Need, ...]:
    """Every measure a recipe leans on with its state, the missing first, then the estimated.

    A measure that only other choices of the block ask for is left out, unless it is so unknown that
    nothing can be drafted at all.
    """
    leaned, block = wanted_measures(recipe), block_named(recipe.block)
    found = []
    for code, what in known_measures(person, tuple(dict.fromkeys((*block.needs, *block.uses, *leaned.needs)))).items():
        needed = code in block.needs or code in leaned.needs
        if code not in (*leaned.needs, *leaned.uses) and not (needed and what is None):
            continue
        if what is None:
            found.append(Need(code, "missing", needed=needed))
        elif what.guess is not None:
            found.append(Need(code, "estimated", what.value, what.guess.error, needed))
        else:
            found.append(Need(code, "there", what.value, needed=needed))
    order = {"missing": 0, "estimated": 1, "there": 2}
    return tuple(sorted(found, key=lambda need: order[need.state]))


def ease_of(document: Document, level: EaseLevel, source: str = "") -> float:
    """The ease of a level of a block as the draft uses it, in mm: what was set by hand, or the usual one."""
    block = document.recipe.block_source(source)
    what = known_measure(document.person, level.measure)
    usual = usual_ease(level, block.fit if block else "", what.value if what else 0.0, document.chosen_cloth)
    return block.ease.get(level.level, usual) if block else usual


def fit_like(document: Document, liked: Liked) -> Document:
    """The ease of a garment that fits: its girths less the body's, at every level of the block where it was measured."""
    for level in block_named(document.recipe.block).ease:
        what = known_measure(document.person, level.measure)
        if level.measure in liked.girths and what is not None:
            document = edits.set_ease(document, level.level, liked.girths[level.measure] - what.value)
    return document


class OwnBlock(Named):
    """A block of one's own: one of the library's with other formulas, options and ease, under a name."""

    block: str = Field(max_length=80)
    fit: str = Field(default="", max_length=40)
    options: dict[str, Value] = {}
    ease: Lengths = {}
    overrides: dict[str, str] = {}

    @staticmethod
    def of(name: str, document: Document, note: str = "") -> OwnBlock:
        """What of a document's recipe is worth keeping as a block: all but the steps on top."""
        recipe = document.recipe
        return OwnBlock(
            name=name,
            block=recipe.block,
            fit=recipe.fit,
            options=dict(recipe.options),
            ease=dict(recipe.ease),
            overrides=dict(recipe.overrides),
            note=note,
        )

    def recipe(self) -> Recipe:
        """A recipe to begin with. Raises :class:`CaddetError` when the library no longer has the block."""
        block_named(self.block)
        return Recipe.of(self.block, fit=self.fit, options=self.options, ease=self.ease, overrides=self.overrides)


def begun(block: str, *, options: Mapping[str, Plain | Value] | None = None, **others: Any) -> Recipe:
    """A new recipe of a block: lengths that nobody chose go by the wearer, and follow when the wearer changes.

    ``others`` are those of :meth:`Recipe.of`. Raises :class:`CaddetError` for an unknown block.
    """
    by_wearer = {one.name: Formula(text=one.begins) for one in block_named(block).options if one.begins}
    return Recipe.of(block, options={**by_wearer, **(options or {})}, **others)


def begin_with(document: Document, recipe: Recipe) -> Document:
    """The document with another block; the steps made on the old one are not carried over.

    The counter of ids goes on, so that no id of the old recipe is given again.
    """
    fresh = Recipe(next_id=max(document.recipe.next_id, 1))
    for source in recipe.sources:
        fresh = fresh.with_source(source)
    for step in recipe.steps:
        fresh = fresh.with_step(step)
    return document.model_copy(update={"recipe": fresh, "table": {}})
