"""Chains of steps as a hand would make them: things taken at random, a tool that is offered for them, its usual values."""

from __future__ import annotations

import random
import re
from collections.abc import Collection
from typing import Any

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.formats.listing import pieces_listing
from caddet.core.hands.gesture import Gesture, begin
from caddet.core.hands.offers import offers
from caddet.core.hands.things import Thing, places_of, things
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.evaluate import StageCache
from caddet.core.recipe.registry import STEPS, step_entry
from tests.making import drafted
from tests.outside.tape import Fault, judged

TRIES = 12  # tools taken up in vain before a chain goes on without
# what throws away what the garment needs, or only says what a piece is: nothing for a tape to judge
LEFT_OUT = frozenset(("take_away", "own_piece", "remark", "cut_from", "kind"))


def chosen(pattern: Pattern, thing: Thing, kind: str, made: Made) -> Gesture:
    """A tool taken up for a thing, and what it asks for pointed at on the thing's piece."""
    context = made.evaluated.sources[0].context
    hand = begin(STEPS[kind], pattern, context, (thing,))
    found = places_of(pattern, thing)
    return _pointed(hand, pattern.piece(found[0].piece)) if found else hand


def _pointed(hand: Gesture, piece: Piece) -> Gesture:
    runs = [key for key in piece.runs() if piece.run(key)[0].finish not in ("fold", "opening")]
    left, top, right, bottom = piece.outline().bounds()
    middle = complex((left + right) / 2, (top + bottom) / 2)
    for key in sorted(runs, key=piece.run_length, reverse=True)[:5]:
        asked = hand.asked
        if asked is None or asked not in hand.missing:
            break
        match asked.kind:
            case "edges":
                hand = hand.chose(Thing("edge", key))
            case "line" | "lines":
                hand = hand.drawn(piece.name, middle - (right - left) * 0.4, middle + (right - left) * 0.4)
            case "points":
                hand = hand.clicked(piece.name, middle)
            case _:
                hand = hand.clicked(piece.name, piece.run_point(key, piece.run_length(key) * 0.45)[0])
    return hand


def chained(block: str, who: Person, chance: random.Random, length: int, kinds: Collection[str] = ()) -> Made:
    """A block with so many steps that could all be done, each on what the ones before it left."""
    made = drafted(block, who)
    cache = StageCache()
    for _ in range(length):
        made = _one_more(made, chance, cache, kinds) or made
    return made


def _one_more(made: Made, chance: random.Random, cache: StageCache, kinds: Collection[str]) -> Made | None:
    pattern = made.pattern
    if pattern is None:
        return None
    every = list(things(pattern))
    for _ in range(TRIES):
        thing = chance.choice(every)
        open_to = [one.step.kind for one in offers(pattern, (thing,)) if not one.refused]
        open_to = [one for one in open_to if one not in LEFT_OUT and (not kinds or one in kinds)]
        if open_to and (after := _done(made, thing, chance.choice(open_to), cache)) is not None:
            return after
    return None


def with_step(made: Made, kind: str, chance: random.Random, cache: StageCache) -> Made | None:
    """A garment with one step of a kind, on something that it suits; None when it can't be done there."""
    pattern = made.pattern
    if pattern is None or STEPS[kind].fits(pattern):
        return None
    fitting = [one for one in things(pattern) if one.kind in STEPS[kind].suits]
    chance.shuffle(fitting)
    for thing in fitting[:6]:
        if (after := _done(made, thing, kind, cache)) is not None:
            return after
    return None


def _done(made: Made, thing: Thing, kind: str, cache: StageCache) -> Made | None:
    pattern = made.pattern
    assert pattern is not None
    try:
        hand = chosen(pattern, thing, kind, made)
        if hand.missing or STEPS[kind].refuses(pattern, hand.plain):
            return None
    except CaddetError:
        return None
    values: dict[str, Any] = dict(hand.plain)
    document = edits.add_step(made.document, step_entry(kind, values))
    after = make(EvaluateRequest(document), cache)
    return None if after.pattern is None or after.evaluated.outcomes[-1].stuck else after


def faults(made: Made) -> list[Fault]:
    """What the tape finds wrong with a garment on its wearer."""
    stretch = max(made.document.cloth_for("main").stretch, 0.0) if made.pattern is not None else 0.0
    body = dict(made.document.person.measures)
    return judged(pieces_listing(made), body, stretch)


def found(made: Made, base: Made) -> set[tuple[str, str]]:
    """What the tape finds that it did not find on the block: kind and place, whatever steps cut it into."""
    return _unmarked(faults(made)) - _unmarked(faults(base))


def _unmarked(every: list[Fault]) -> set[tuple[str, str]]:
    # nor does an edge of a pair that was taken apart become another fault
    return {(one.kind, re.sub(r"\[.*?\]|'$", "", one.where)) for one in every}


def told(made: Made) -> list[str]:
    """What the Proof says is not right."""
    return [f"{line.kind} {line.name}: {line.label}" for line in made.proof if not line.holds]


def said_steps(made: Made) -> str:
    """The chain in words, to be made again."""
    return "; ".join(f"{one.kind} {dict(one.values)}" for one in made.document.recipe.steps)
