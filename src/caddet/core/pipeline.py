"""The whole pipe as one request and one answer, both immutable, fit for another thread.

``EvaluateRequest(document, person, number)`` goes in, ``Made`` comes out with the same number; a
stale answer (an older number) is dropped by whoever asked.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from caddet.core import library as library  # registers every block and step
from caddet.core.body.doubts import doubts
from caddet.core.errors import Finding
from caddet.core.figures.sums import Sum
from caddet.core.finishing.finish import CutPiece, finish
from caddet.core.fitting.proof import ProofLine, prove
from caddet.core.fitting.remedies import stuck_remedies
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import Evaluated, StageCache, evaluate
from caddet.core.recipe.registry import Block, block_named


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

    def cut_piece(self, name: str) -> CutPiece:
        """A cut piece by its name."""
        return next(cut for cut in self.cut if cut.piece.name == name)


def make(request: EvaluateRequest, cache: StageCache | None = None) -> Made:
    """Evaluate, finish and prove. Raises :class:`CaddetError` only when the block is unknown."""
    document = request.document
    person = document.person_named(request.person) if request.person else document.person
    block = block_named(document.recipe.block)
    evaluated = evaluate(document, person, cache)
    cut: tuple[CutPiece, ...] = ()
    findings = evaluated.findings
    if evaluated.pattern is not None:
        cut, more = finish(evaluated.pattern, document, person.name)
        findings = (*findings, *more)
    drafted = cut
    if evaluated.drafted is not None and evaluated.drafted is not evaluated.pattern:
        drafted, _ = finish(evaluated.drafted, document, person.name)
    ways_out = stuck_remedies(evaluated.outcomes, evaluated.drafted)
    proof = prove(evaluated.sources, evaluated.pattern, findings, doubts(person), document.accepted, ways_out)
    return Made(request, block, evaluated, cut, drafted, proof, findings)
