"""Where steps meet: every ordered pair of steps, and long chains, on blocks and bodies, judged by the tape from outside."""

from __future__ import annotations

import random

from caddet.core.made import Made
from caddet.core.recipe.evaluate import StageCache
from caddet.core.recipe.registry import BLOCKS, STEPS
from tests.chains import LEFT_OUT, chained, found, said_steps, told, with_step
from tests.making import drafted, nine
from tests.soak.figures import Figures


def pair_rounds(first: str) -> Figures:
    """A step with every other one after it, each on a block and body in turn: what the tape finds, the Proof has to say."""
    figures, blocks, people = Figures(), sorted(BLOCKS), nine()
    for number, second in enumerate(sorted(STEPS)):
        if second in LEFT_OUT or first in LEFT_OUT:
            continue
        chance = random.Random(f"{first} {second}")
        block, who = blocks[(number + len(first)) % len(blocks)], people[number % len(people)]
        base, cache = drafted(block, who), StageCache()
        try:
            one = with_step(base, first, chance, cache) if base.pattern is not None else None
            both = with_step(one, second, chance, cache) if one is not None else None
        except Exception as error:
            figures.wrong.append(f"{block} on {who.name}: {first}, {second} raises {error!r}"[:600])
            continue
        if both is None:
            figures.counts["that do not fit one another there"] += 1
            continue
        _judged(figures, f"{block} on {who.name}", base, both)
    return figures


def long_chain_rounds(count: int, seed: int) -> Figures:
    """Chains of five to eight steps as a hand would make them."""
    figures, blocks, people = Figures(), sorted(BLOCKS), nine()
    for number in range(count):
        chance = random.Random(f"chains {seed} {number}")
        block, who = chance.choice(blocks), chance.choice(people)
        base = drafted(block, who)
        try:
            made = chained(block, who, chance, chance.randint(5, 8))
        except Exception as error:  # a chain that raises is a fault like any other, and must not end the soak
            figures.wrong.append(f"{block} on {who.name}, chain {number} of {seed}: raises {error!r}"[:600])
            continue
        if base.pattern is not None and made.pattern is not None:
            _judged(figures, f"{block} on {who.name}", base, made)
    return figures


def _judged(figures: Figures, where: str, base: Made, made: Made) -> None:
    wrong = found(made, base)
    said = set(told(made)) - set(told(base))
    figures.counts["judged"] += 1
    figures.counts["with nothing to find"] += not wrong
    figures.counts["where nothing was found and something told"] += not wrong and bool(said)
    if wrong and said:
        figures.counts["found and told"] += 1
    elif wrong:
        figures.counts["found by the tape and passed by the Proof"] += 1
        figures.wrong.append(f"{where}: {sorted(wrong)[:4]} {said_steps(made)[:600]}")
