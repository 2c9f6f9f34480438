"""What can be done with what is chosen, the best first; and the step that a maker's words mean."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from caddet.core.errors import CaddetError
from caddet.core.hands.taking import takes, values_from_selection
from caddet.core.hands.things import Selection
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.registry import STEPS, Step

FEW = 4  # tools beside the hand; the others are found by their words


@dataclass(frozen=True, slots=True)
class Offer:
    """A step that can be done with what is chosen; ``refused`` says why it can't be done here."""

    step: Step
    rank: int
    refused: str = ""


def offers(pattern: Pattern | None, selection: Selection) -> tuple[Offer, ...]:
    """The steps for what is chosen, the best first, those that can't be done here last; none when nothing is chosen."""
    if pattern is None or not selection:
        return ()
    found = []
    for number, step in enumerate(STEPS.values()):
        ranks = [step.suits.get(thing.kind) for thing in selection]
        if all(rank is not None for rank in ranks) and takes(step, pattern, selection):
            refused = _refusal(step, pattern, selection)
            found.append(
                (
                    bool(refused),
                    max(rank or 0 for rank in ranks),
                    number,
                    Offer(step, max(rank or 0 for rank in ranks), refused),
                )
            )
    return tuple(one for *_, one in sorted(found, key=lambda item: item[:3]))


def _refusal(step: Step, pattern: Pattern, selection: Selection) -> str:
    """Why a step can't be done here with what is chosen; empty when it can."""
    try:
        return step.fits(pattern) or step.refuses(pattern, values_from_selection(step, pattern, selection))
    except CaddetError as error:  # what it would need was lost by an earlier step
        return str(error)


def understood(words: str, steps: Sequence[Step] | None = None) -> tuple[Step, ...]:
    """The steps that a maker's words may mean (“make it wider”, “move the dart”), the likeliest first.

    A step's label, words and reason are looked through for every word that matters; most found comes first.
    """
    asked = [word for word in re.findall(r"[\w’']+", words.lower()) if word not in SMALL]
    if not asked:
        return ()
    scored = []
    for number, step in enumerate(STEPS.values() if steps is None else steps):
        score = _score(asked, _texts(step))
        if score >= 0.3:
            scored.append((-score, number, step))
    return tuple(step for _, _, step in sorted(scored, key=lambda one: one[:2]))


SMALL = frozenset(
    (
        "a",
        "an",
        "the",
        "it",
        "its",
        "to",
        "of",
        "in",
        "on",
        "at",
        "this",
        "that",
        "make",
        "please",
        "i",
        "want",
        "and",
        "be",
        "is",
        "some",
    )
)


def _texts(step: Step) -> list[tuple[str, float]]:
    return [(step.label, 1.0), *((words, 1.0) for words in step.asked_as), (step.why, 0.3)]


def _score(asked: Sequence[str], texts: list[tuple[str, float]]) -> float:
    """How much of what is asked a step's texts answer: the whole word counts more than one that only begins
    alike; of two that answer all of it, the one that says it more nearly."""
    total = 0.0
    for word in asked:
        best = 0.0
        for text, weight in texts:
            for one in re.findall(r"[\w’']+", text.lower()):
                if word == one:
                    best = max(best, weight)
                elif (
                    len(word) > 3
                    and len(one) > 3
                    and (one.startswith(word) or word.startswith(one) or one[:5] == word[:5])
                ):
                    best = max(best, weight * 0.7)
        total += best
    nearest = max(_alike(asked, text) * weight for text, weight in texts)
    return total / len(asked) + nearest / 10


def _alike(asked: Sequence[str], text: str) -> float:
    """How nearly a text says just what is asked: the share of words that are in both."""
    there, wanted = set(re.findall(r"[\w’']+", text.lower())) - SMALL, set(asked)
    return len(there & wanted) / max(len(there | wanted), 1)
