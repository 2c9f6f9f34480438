"""What a recipe leans on: a measure that is left out changes nothing, and one that is asked for may matter."""

from __future__ import annotations

from itertools import product

import pytest

from caddet.core.body.known import known_measure
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.recipe.document import Recipe, Value
from caddet.core.recipe.needed import _wanted, wanted_measures
from caddet.core.recipe.planning import needs
from caddet.core.recipe.registry import BLOCKS, Block
from tests.making import drafted, whole_bodies
from tests.share import share

NAMES = sorted(BLOCKS)


def choices(block: Block) -> list[dict[str, Value]]:
    """The defaults, and every choice of every option with the others at their defaults."""
    found: list[dict[str, Value]] = [{}]
    for option in block.options:
        if option.kind == "choice":
            found += [{option.name: key} for key, _ in option.choices if key != option.default]
        elif option.kind == "flag":
            found.append({option.name: not option.default})
    return found


def measured(who: Person, block: Block) -> dict[str, float]:
    """Every measure of a block as if it had been taken."""
    return {code: what.value for code in (*block.needs_for({}), *block.uses) if (what := known_measure(who, code))}


def shown(name: str, who: dict[str, float], options: dict[str, Value]) -> object:
    made = drafted(name, Person.of("Somebody", who), **options)
    assert made.pattern is not None
    return made.pattern.pieces, [(line.label, line.value, line.limit) for line in made.proof if line.kind != "finding"]


@pytest.mark.parametrize("name", NAMES)
def test_a_measure_that_is_not_asked_for_changes_nothing(name: str) -> None:
    block = BLOCKS[name]
    both = (demo_document().people[1], whole_bodies()[17])
    people = [measured(who, block) for who in share(both, 2, list(NAMES).index(name))]
    for options in choices(block):
        leaned = wanted_measures(Recipe.of(name, options=options))
        for full in people:
            spared = [code for code in full if code not in (*leaned.needs, *leaned.uses)]
            if spared:
                moved = full | {code: full[code] * (1.03 if i % 2 else 0.96) for i, code in enumerate(spared)}
                assert shown(name, moved, options) == shown(name, full, options), (options, spared)


@pytest.mark.parametrize("name", NAMES)
def test_every_measure_that_a_block_lists_is_asked_for_by_some_choice(name: str) -> None:
    block = BLOCKS[name]
    kinds = [
        [(o.name, key) for key, _ in o.choices] if o.kind == "choice" else [(o.name, True), (o.name, False)]
        for o in block.options
        if o.kind in ("choice", "flag")
    ]
    lengths = [{o.name: o.low} for o in block.options if o.kind == "length"] + [{}]
    asked: set[str] = set()
    for pairs, more in product(product(*kinds), lengths):
        leaned = wanted_measures(Recipe.of(name, options=dict(pairs) | more))
        asked |= {*leaned.needs, *leaned.uses}
        if asked >= {*block.needs_for({}), *block.uses}:
            break
    assert asked == {*block.needs_for({}), *block.uses}


def test_no_sleeve_no_wrist_and_by_proportion_few_lengths() -> None:
    plain = wanted_measures(Recipe.of("bodice.darted"))
    assert {"wrist", "arm_length", "shoulder"} <= set(plain.needs) and "height" not in plain.needs
    bare = wanted_measures(Recipe.of("bodice.darted", options={"sleeve": False}))
    assert not {"wrist", "arm_length", "elbow", "hand"} & set(bare.needs)
    by_proportion = wanted_measures(Recipe.of("bodice.darted", options={"school": "proportion"}))
    assert "height" in by_proportion.needs and not {"shoulder", "scye_depth"} & set(by_proportion.needs)


def test_a_formula_of_ones_own_asks_for_its_measures() -> None:
    before = wanted_measures(Recipe.of("bodice.darted", options={"sleeve": False}))
    after = wanted_measures(
        Recipe.of("bodice.darted", options={"sleeve": False}, overrides={"front_bust": "wrist * 2 + 3cm"})
    )
    assert "wrist" not in before.needs and "wrist" in after.needs


def test_a_number_of_ones_own_spares_the_measure_and_is_pulled_at_no_cost() -> None:
    """A figure that is dragged on the table changes its number at the screen's pace."""
    bare: dict[str, Value] = {"sleeve": False}
    pulled = wanted_measures(Recipe.of("bodice.darted", options=bare, overrides={"bust_point": "9cm"}))
    assert (
        "bust_span" in wanted_measures(Recipe.of("bodice.darted", options=bare)).needs
        and "bust_span" not in pulled.needs
    )
    misses = _wanted.cache_info().misses
    for mm in range(80, 120):
        assert (
            wanted_measures(Recipe.of("bodice.darted", options=bare, overrides={"bust_point": f"{mm / 10}cm"}))
            == pulled
        )
    assert _wanted.cache_info().misses == misses


@pytest.mark.parametrize(
    "recipe",
    [
        Recipe.of("bodice.darted", options={"sleeve": 1.0}),
        Recipe.of("bodice.darted", options={"no such": True}),
    ],
)
def test_options_that_are_not_allowed_spare_nothing(recipe: Recipe) -> None:
    wanted_measures(Recipe.of("bodice.darted", options={"sleeve": True}))
    assert wanted_measures(recipe).needs == BLOCKS["bodice.darted"].needs


def test_an_unreadable_formula_is_passed_over() -> None:
    plain = wanted_measures(Recipe.of("bodice.darted"))
    assert wanted_measures(Recipe.of("bodice.darted", overrides={"front_bust": "wrist *"})) == plain


def test_a_recipe_that_cannot_be_drafted_asks_for_everything() -> None:
    stuck = wanted_measures(
        Recipe.of("bodice.darted", options={"sleeve": False}, overrides={"front_bust": "bust / 400"})
    )
    assert stuck.needs == BLOCKS["bodice.darted"].needs


def test_what_cannot_even_be_estimated_is_asked_for() -> None:
    """Without any measure nothing can be drafted, so nothing is spared."""
    found = needs(Recipe.of("bodice.darted", options={"sleeve": False}), Person(name="Nobody yet"))
    assert {need.code for need in found} >= set(BLOCKS["bodice.darted"].needs)
    known_height = Person.of("Tall", {"height": 1800.0, "bust": 900.0})
    fewer = needs(Recipe.of("bodice.darted", options={"sleeve": False}), known_height)
    assert "wrist" not in {need.code for need in fewer}
