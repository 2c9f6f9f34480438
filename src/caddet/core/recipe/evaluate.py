"""The pipe: ``evaluate(document, person) -> Evaluated``. Pure; each stage is kept in a cache that
the caller holds, so that editing step 7 does not run steps 1 to 6 again.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from caddet.core.body.estimates import Estimate
from caddet.core.body.known import Known, all_known
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.errors import CaddetError, Finding
from caddet.core.figures.language import FormulaError, Quantity
from caddet.core.figures.sums import Given, Sum, add_up
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import Document, Recipe, StepEntry, Value
from caddet.core.recipe.ease import stretch_remark, usual_ease
from caddet.core.recipe.registry import STEPS, Block, CannotDraft, Stuck, block_named
from caddet.core.recipe.suitability import suitability


@dataclass(frozen=True, slots=True)
class StepOutcome:
    """How one step of the recipe went. ``pattern`` is the pattern after it."""

    entry: StepEntry
    pattern: Pattern
    stuck: str = ""


@dataclass(frozen=True, slots=True)
class Evaluated:
    """The answer to an evaluation: pattern (None when the block can't be drafted), sums, findings."""

    pattern: Pattern | None
    drafted: Pattern | None
    sums: Mapping[str, Sum]
    outcomes: tuple[StepOutcome, ...]
    findings: tuple[Finding, ...]
    measures: Mapping[str, float]
    estimates: Mapping[str, Estimate]


@dataclass(slots=True)
class StageCache:
    """The results of stages, newest kept. Held by the caller; a fresh one changes no answer."""

    size: int = 256
    stages: OrderedDict[object, object] = field(default_factory=OrderedDict)
    hits: int = 0
    misses: int = 0

    def get(self, key: object) -> object | None:
        found = self.stages.get(key)
        if found is None:
            self.misses += 1
        else:
            self.hits += 1
            self.stages.move_to_end(key)
        return found

    def put(self, key: object, value: object) -> None:
        self.stages[key] = value
        while len(self.stages) > self.size:
            self.stages.popitem(last=False)


@dataclass(frozen=True, slots=True)
class _Base:
    pattern: Pattern | None
    sums: Mapping[str, Sum]
    findings: tuple[Finding, ...]
    measures: Mapping[str, float]
    estimates: Mapping[str, Estimate]


def _key(values: Mapping[str, Value | float]) -> tuple[tuple[str, str, Value], ...]:
    return tuple((name, type(value).__name__, value) for name, value in sorted(values.items()))


def evaluate(document: Document, person: Person | None = None, cache: StageCache | None = None) -> Evaluated:
    """Draft the block on a person (the wearer by default) and do the steps in order.

    Content problems become findings; raises :class:`CaddetError` only when the block is unknown.
    """
    person = person or document.person
    cache = cache if cache is not None else StageCache()
    recipe = document.recipe
    block = block_named(recipe.block)
    facts = all_known(person, (*block.needs, *block.uses))
    key: object = (
        "base", block.name, tuple(facts.values()), _key(recipe.options), _key(recipe.ease),
        tuple(sorted(recipe.overrides.items())), recipe.fit, document.chosen_cloth,
    )  # fmt: skip
    base = cache.get(key)
    if not isinstance(base, _Base):
        base = _draft(block, recipe, person, facts, document.chosen_cloth)
        cache.put(key, base)
    findings = list(base.findings)
    pattern = base.pattern
    outcomes: list[StepOutcome] = []
    for index, entry in enumerate(recipe.steps):
        if pattern is None:
            break
        key = (key, entry.kind, entry.on, _key(entry.values))
        outcome = cache.get(key)
        if not isinstance(outcome, StepOutcome):
            outcome = _do(entry, pattern)
            cache.put(key, outcome)
        if outcome.stuck:
            findings.append(Finding("step.stuck", outcome.stuck, f"recipe[{index + 1}]", "look"))
        pattern = outcome.pattern
        outcomes.append(outcome)
    return Evaluated(pattern, base.pattern, base.sums, tuple(outcomes), tuple(findings), base.measures, base.estimates)


def _do(entry: StepEntry, pattern: Pattern) -> StepOutcome:
    if not entry.on:
        return StepOutcome(entry, pattern)
    step = STEPS.get(entry.kind)
    if step is None:
        return StepOutcome(entry, pattern, f"There is no step called “{entry.kind}” in this version of Caddet.")
    try:
        return StepOutcome(entry, step.apply(pattern, step.values(entry.values)))
    except (Stuck, CaddetError) as error:
        return StepOutcome(entry, pattern, f"{step.label}: {error}")


def _draft(block: Block, recipe: Recipe, person: Person, facts: Mapping[str, Known | None], cloth: Cloth) -> _Base:
    measures: dict[str, float] = {}
    estimates: dict[str, Estimate] = {}
    findings: list[Finding] = []
    givens: list[Given] = []
    for code, found in facts.items():
        if found is not None:
            measures[code] = found.value
            if found.guess is not None:
                estimates[code] = found.guess
            label = MEASURES[code].label.lower().removesuffix(" girth") + (" with growth" if found.growth else "")
            givens.append(Given(code, label, Quantity(found.value, 1), found.guess is not None))
        elif code in block.needs:
            findings.append(
                Finding(
                    "measure.missing",
                    f"{MEASURES[code].label} of {person.name} is missing and nothing measured so far supports an "
                    f"estimate. {block.label} needs it: measure it, or the height to estimate it from.",
                    f"person.{code}",
                    "stops",
                )
            )
    empty = _Base(None, {}, tuple(findings), measures, estimates)
    if findings:
        return empty
    try:
        options = block.option_values(recipe.options)
    except CaddetError as error:
        return replace(empty, findings=(Finding("option", f"{error}.", "recipe.options", "stops"),))
    remarks = suitability(block, cloth)
    for level in block.ease:
        measure = measures.get(level.measure, 0.0)
        ease = recipe.ease.get(level.level, usual_ease(level, recipe.fit, measure, cloth))
        givens.append(Given(f"ease_{level.level}", "ease", Quantity(ease, 1)))
        sentence, stops = stretch_remark(level, ease, measure, cloth)
        if sentence:
            remarks.append(
                Finding("ease.stretch", sentence, f"recipe.ease.{level.level}", "stops" if stops else "look")
            )
    givens.append(Given("stretch", "stretch", Quantity(cloth.stretch, 0)))
    givens.append(Given("stretch_along", "stretch along", Quantity(cloth.stretch_along, 0)))
    givens.append(Given("cloth_width", "cloth width", Quantity(cloth.width, 1)))
    givens.extend(_option_givens(block, options))
    try:
        sums, doubts = add_up(block.figures, givens, recipe.overrides)
    except FormulaError as error:
        return replace(
            empty, findings=(Finding("figure", f"A figure can't be worked out: {error}", "figures", "stops"),)
        )
    try:
        pattern = block.draft(sums, options)
    except CannotDraft as error:
        finding = Finding("draft", str(error), error.place, "stops")
        return replace(empty, sums=sums, findings=(*remarks, *doubts, finding))
    except (CaddetError, ArithmeticError, ValueError) as error:
        sentence = f"These figures do not make a {block.label.lower()}: {error}. Look at the measures and the options."
        return replace(empty, sums=sums, findings=(*remarks, *doubts, Finding("draft", sentence, "figures", "stops")))
    for name, value in pattern.solved:
        sums[name] = replace(sums[name], solved=value)
    unsound = [Finding("draft.shape", sentence, piece.name, "stops") for piece in pattern.pieces
               if (sentence := fault(piece))]  # fmt: skip
    return replace(empty, pattern=pattern, sums=sums, findings=(*remarks, *doubts, *pattern.findings, *unsound))


def _option_givens(block: Block, options: dict[str, Value]) -> list[Given]:
    """Options as formulas see them: of a choice, each of its keys as 1 or 0."""
    givens: list[Given] = []
    for option in block.options:
        chosen = options[option.name]
        if option.kind == "choice":
            givens.extend(
                Given(f"{option.name}_{name}", text.lower(), Quantity(float(chosen == name), 0))
                for name, text in option.choices
            )
        elif option.kind in ("length", "number", "flag"):
            dimension = 1 if option.kind == "length" else 0
            givens.append(Given(option.name, option.label.lower(), Quantity(float(chosen), dimension)))
    return givens
