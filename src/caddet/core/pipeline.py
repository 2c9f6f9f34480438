"""From a request to everything derived: evaluated, finished and proved.

``EvaluateRequest(document, person, number)`` goes in, ``Made`` comes out with the same number; a
stale answer (an older number) is dropped by whoever asked.
"""

from __future__ import annotations

from caddet.core import library as library  # registers every block and step
from caddet.core.body.doubts import doubts
from caddet.core.finishing.finish import CutPiece, finish
from caddet.core.fitting.proof import prove
from caddet.core.fitting.remedies import proposals, stuck_remedies
from caddet.core.fitting.worn import body_of
from caddet.core.made import EvaluateRequest, Made
from caddet.core.recipe.context import Context
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.registry import block_named


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
    context = evaluated.sources[0].context if evaluated.sources else None
    if evaluated.pattern is not None and context is not None:
        proposed = proposals(evaluated.pattern, context, document.recipe.steps)
        findings = (*findings, *proposed)
        ways_out |= {finding.place: ways for finding, ways in proposed.items()}
    cloths = {role: document.cloth_for(role) for role in document.roles}
    proof = prove(
        evaluated.sources,
        evaluated.pattern,
        findings,
        doubts(person),
        document.accepted,
        ways_out,
        evaluated.outcomes,
        body_of(person, cloths, context or Context()),
        evaluated.drafted,
    )
    return Made(request, block, evaluated, cut, drafted, proof, findings)
