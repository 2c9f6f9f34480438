"""What the pipeline is asked and what it answers, both immutable, fit for another thread."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from caddet.core.errors import Finding
from caddet.core.figures.sums import Sum
from caddet.core.finishing.finish import CutPiece
from caddet.core.fitting.proof import ProofLine
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import Evaluated
from caddet.core.recipe.registry import Block


@dataclass(frozen=True, slots=True)
class EvaluateRequest:
    """What is to be made: a document, for one of its people (the wearer by default)."""

    document: Document
    person: str = ""
    number: int = 0


@dataclass(frozen=True, slots=True)
class Made:
    """The answer: the evaluated recipe, the cut pieces (and those of the bare block), the proof."""

    request: EvaluateRequest
    block: Block
    evaluated: Evaluated
    cut: tuple[CutPiece, ...]
    drafted: tuple[CutPiece, ...]
    proof: tuple[ProofLine, ...]
    findings: tuple[Finding, ...]

    @property
    def document(self) -> Document:
        """The document that was evaluated."""
        return self.request.document

    @property
    def pattern(self) -> Pattern | None:
        """The finished pattern, or None when nothing could be drafted."""
        return self.evaluated.pattern

    @property
    def sums(self) -> Mapping[str, Sum]:
        """The sums of the first source."""
        return self.evaluated.sums

    def before_step(self, step_id: str) -> Pattern | None:
        """The pattern that a step of the recipe works on; None without one."""
        return self.evaluated.before.get(step_id)

    def sums_of(self, source: str) -> Mapping[str, Sum]:
        """The sums of a block by its id, those of the first source for an empty one."""
        found = next((one for one in self.evaluated.sources if one.entry.id == source), None)
        return found.sums if found is not None else self.sums if not source else {}

    def cut_piece(self, name: str) -> CutPiece:
        """A cut piece by its name."""
        return next(cut for cut in self.cut if cut.piece.name == name)
