"""The pipe: ``evaluate(document, person) -> Evaluated``. Pure; each stage is kept in a cache that
the caller holds, so that editing step 7 does not run steps 1 to 6 again.

A stage's key is a chained token: a digest of what the stage itself says and of the token before it.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from hashlib import blake2b

from caddet.core.body.estimates import Estimate
from caddet.core.body.known import known_measures
from caddet.core.body.person import Person
from caddet.core.errors import Finding
from caddet.core.figures.language import Quantity
from caddet.core.figures.sums import Sum
from caddet.core.pattern.combine import beside, prefixed
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.context import Context
from caddet.core.recipe.document import Document
from caddet.core.recipe.entries import AnySource, BlockSource, PiecesSource, StepEntry
from caddet.core.recipe.formulas import measures_named
from caddet.core.recipe.judging import unheld
from caddet.core.recipe.losses import why_lost
from caddet.core.recipe.registry import block_named
from caddet.core.recipe.stages import SourceOutcome, StepOutcome, do_step, draft_block, take_pieces
from caddet.core.sentences import say

NOTHING_TO_BEGIN_WITH = "This garment has no block and no outlines to begin with. Choose a block in Plan."


@dataclass(frozen=True, slots=True)
class Evaluated:
    """The answer to an evaluation: pattern (None when it can't be drafted), sums, findings.

    ``sums``, ``measures`` and ``estimates`` are the first source's; ``sources`` has those of all.
    ``drafted`` has the blocks alone, without any step; ``before`` the pattern that each step works on, by its id.
    """

    pattern: Pattern | None
    drafted: Pattern | None
    sums: Mapping[str, Sum]
    outcomes: tuple[StepOutcome, ...]
    findings: tuple[Finding, ...]
    measures: Mapping[str, float]
    estimates: Mapping[str, Estimate]
    sources: tuple[SourceOutcome, ...]
    names: Mapping[str, Quantity]
    before: Mapping[str, Pattern]


@dataclass(slots=True)
class StageCache:
    """The results of stages, newest kept. Held by the caller; a fresh one changes no answer."""

    size: int = 4096
    stages: OrderedDict[bytes, SourceOutcome | StepOutcome] = field(default_factory=OrderedDict)
    hits: int = 0
    misses: int = 0

    def get(self, token: bytes) -> SourceOutcome | StepOutcome | None:
        """What a stage gave, or None."""
        found = self.stages.get(token)
        if found is None:
            self.misses += 1
        else:
            self.hits += 1
            self.stages.move_to_end(token)
        return found

    def put(self, token: bytes, value: SourceOutcome | StepOutcome) -> None:
        """Keep what a stage gave; the oldest goes when there are too many."""
        self.stages[token] = value
        while len(self.stages) > self.size:
            self.stages.popitem(last=False)


def _chained(before: bytes, *parts: bytes) -> bytes:
    digest = blake2b(before, digest_size=16)
    for part in parts:
        digest.update(len(part).to_bytes(8, "big") + part)
    return digest.digest()


def evaluate(document: Document, person: Person | None = None, cache: StageCache | None = None) -> Evaluated:
    """Draft the sources on a person (the wearer by default) and do the steps in order.

    Content problems become findings; raises :class:`CaddetError` only when a block is unknown.
    """
    person = person or document.person
    cache = cache if cache is not None else StageCache()
    token = b""
    pattern: Pattern | None = None
    drafted: Pattern | None = None
    names: Mapping[str, Quantity] = {}
    context = Context()
    findings: list[Finding] = []
    sources: list[SourceOutcome] = []
    outcomes: list[StepOutcome] = []
    befores: dict[str, Pattern] = {}
    for stage in document.recipe.stages():
        if isinstance(stage, StepEntry):
            if pattern is None:
                continue
            token = blake2b(token + stage.token, digest_size=16).digest()
            befores[stage.id] = pattern
            outcome = cache.get(token)
            if not isinstance(outcome, StepOutcome):
                outcome = do_step(stage, pattern, context)
                cache.put(token, outcome)
            if outcome.stuck:
                place = f"recipe[{stage.id}]" + (f".{outcome.parameter}" if outcome.parameter else "")
                sentence = outcome.stuck
                if outcome.lost is not None:
                    why = why_lost(outcome.lost, document.recipe, drafted, outcomes, len(outcomes))
                    sentence = say("{label}: {why}", label=outcome.stuck.partition(":")[0], why=why)
                    outcome = replace(outcome, stuck=sentence)
                findings.append(Finding("step.stuck", sentence, place, "look"))
            findings += outcome.findings
            pattern = outcome.pattern
            outcomes.append(outcome)
            continue
        if not stage.on:
            continue
        token, made = _source(stage, document, person, token, cache, pattern)
        findings += made.findings
        prefix = f"{stage.id}_" if pattern is not None else ""
        if made.pattern is not None:
            fresh = prefixed(made.pattern, prefix) if prefix else made.pattern
            pattern = fresh if pattern is None else beside(pattern, fresh)
            drafted = fresh if drafted is None else beside(drafted, fresh)
            names = (
                {**{f"{stage.id}_{name}": value for name, value in made.names.items()}, **names}
                if names
                else made.names
            )
            context = replace(made.context if not sources else context, names=names)
        sources.append(made)
    if pattern is not None:
        findings += unheld(pattern)
    if not sources:
        findings.append(Finding("draft", NOTHING_TO_BEGIN_WITH, "recipe", "stops"))
    first = sources[0] if sources else take_pieces(PiecesSource())
    return Evaluated(
        pattern,
        drafted,
        first.sums,
        tuple(outcomes),
        tuple(findings),
        first.measures,
        first.estimates,
        tuple(sources),
        names,
        befores,
    )


def _source(
    source: AnySource,
    document: Document,
    person: Person,
    token: bytes,
    cache: StageCache,
    before: Pattern | None,
) -> tuple[bytes, SourceOutcome]:
    """What a source gives on this body and cloth, with the token of that."""
    if not isinstance(source, BlockSource):
        token = _chained(token, source.token)
        outcome = cache.get(token)
        if not isinstance(outcome, SourceOutcome):
            outcome = take_pieces(source)
            cache.put(token, outcome)
        return token, outcome
    block = block_named(source.block)
    body_measures = known_measures(person, dict.fromkeys((*block.needs, *block.uses, *measures_named(document.recipe))))
    cloths = {role: document.cloth_for(role) for role in sorted(document.roles)}
    body = repr((person.name, tuple(body_measures.values()))).encode()
    cut_from = "".join(f"{role}{cloth.model_dump_json()}" for role, cloth in cloths.items()).encode()
    token = _chained(token, source.token, body, cut_from)
    outcome = cache.get(token)
    if not isinstance(outcome, SourceOutcome):
        outcome = draft_block(source, person.name, body_measures, cloths, before)
        cache.put(token, outcome)
    return token, outcome
