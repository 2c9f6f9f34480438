"""Cut this now: for a make of half an hour, allowance, hem and casing straight on the traced outline, without naming seams.

What is set are the project's own allowances, so that it can become a full project later.
"""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.sentences import Length, Sentence, say

TURN = 20.0  # mm turned in first; common practice
EASY = 12.7  # mm of a casing more than the elastic: ½ inch; common practice
LAP = 25.4  # mm of the elastic's ends: 1 inch; common practice


@dataclass(frozen=True, slots=True)
class CutNow:
    """What is left round the outline, in mm: at every seam, at hems, and at casings for an elastic so wide (0: none)."""

    seam: float = 15.0
    hem: float = 30.0
    elastic: float = 25.0

    @property
    def casing(self) -> float:
        """The allowance of a casing grown on: turned once, then the elastic and half an inch."""
        return TURN + self.elastic + EASY if self.elastic else self.hem


def ready_to_cut(document: Document, pattern: Pattern, choice: CutNow) -> Document:
    """The document with these allowances on every edge that is not on a fold. Raises :class:`ValueError` out of limits."""
    exceptions = dict(document.finishing.exceptions)
    for piece in pattern.pieces:
        for key in piece.runs():
            finish = piece.run(key)[0].finish
            if finish == "casing":
                exceptions[key] = choice.casing
            elif finish != "fold":
                exceptions.pop(key, None)
    return edits.set_finishing(document, seam=choice.seam, hem=choice.hem, edge=choice.seam, exceptions=exceptions)


def remarks(pattern: Pattern, choice: CutNow) -> tuple[Sentence, ...]:
    """What a maker has to know at the table, of casings and the elastic in them."""
    found = []
    casings = [(piece, key) for piece in pattern.pieces for key in piece.runs() if piece.run(key)[0].finish == "casing"]
    if casings and choice.elastic:
        round_ = sum(piece.worn * piece.run_length(key) for piece, key in casings)
        found.append(
            say(
                "Casing: turn {turn} in, then fold {deep} over: the {elastic} elastic and half an inch to thread it.",
                turn=Length(TURN),
                deep=Length(choice.elastic + EASY),
                elastic=Length(choice.elastic),
            )
        )
        found.append(
            say(
                "Elastic: as long as it sits stretched round the waist, and {lap} to lap its ends. Flat, the top edge goes {round} round: it has to pass the hips.",
                lap=Length(LAP),
                round=Length(round_),
            )
        )
    return tuple(found)
