"""The stages of a recipe, each a pure function: draft a block, take outlines, do one step.

Whatever a stage raises, of any kind, becomes a finding at that stage, so that the rest of the recipe
goes on. After each of them the pattern is judged, so that a fault is laid at the stage that made it.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from contextlib import suppress
from dataclasses import dataclass, field, replace

from caddet.core.body.estimates import Estimate
from caddet.core.body.known import KnownMeasure
from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError, Finding
from caddet.core.figures.language import FormulaError, Quantity
from caddet.core.figures.sums import Given, Sum, add_up
from caddet.core.pattern.anchoring import anchored
from caddet.core.pattern.grain import arrow_inside
from caddet.core.pattern.how_often import counted
from caddet.core.pattern.ids import maker_of
from caddet.core.pattern.pattern import Meant, Pattern
from caddet.core.pattern.promises import CLOSES
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import TOLERANCE
from caddet.core.pattern.soundness import fault
from caddet.core.pattern.stuck import Lost
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.context import OF_THE_BODY, Context
from caddet.core.recipe.ease import stretch_remark, usual_ease
from caddet.core.recipe.entries import AnySource, BlockSource, PiecesSource, StepEntry, TracedSource
from caddet.core.recipe.fits import refitted
from caddet.core.recipe.judging import judged
from caddet.core.recipe.passages import Passes
from caddet.core.recipe.registry import STEPS, TRACERS, Block, CannotDraft, Stuck, block_named
from caddet.core.recipe.storing import pattern_of
from caddet.core.recipe.suitability import suitability
from caddet.core.recipe.values import Plain
from caddet.core.sentences import say

MOST_PIECES = 150
"""How many pieces a garment may have before a step: a lined coat has about forty; without an end each step takes longer."""


@dataclass(frozen=True, slots=True)
class StepOutcome:
    """How one step of the recipe went. ``pattern`` is the pattern after it.

    ``stuck`` says why it could not be done, ``parameter`` which value is at fault, ``lost`` what it named that is
    not there; ``findings`` are what it remarks, with its place in the recipe; ``passes`` what has to pass through what it
    was put on.
    """

    entry: StepEntry
    pattern: Pattern
    stuck: str = ""
    parameter: str = ""
    lost: Lost | None = None
    findings: tuple[Finding, ...] = ()
    passes: tuple[Passes, ...] = ()


@dataclass(frozen=True, slots=True)
class SourceOutcome:
    """What one source gave: its pieces (None when it can't be drafted), sums, findings, what it knew."""

    entry: AnySource
    block: Block
    pattern: Pattern | None
    sums: Mapping[str, Sum]
    names: Mapping[str, Quantity]
    findings: tuple[Finding, ...]
    measures: Mapping[str, float]
    estimates: Mapping[str, Estimate]
    context: Context = field(default_factory=Context)


# --- steps ----------------------------------------------------------------------------------------


def do_step(entry: StepEntry, pattern: Pattern, context: Context) -> StepOutcome:
    """One step done on a pattern; formulas in its values see the context's names. Raises nothing."""
    if not entry.on:
        return StepOutcome(entry, pattern)
    step = STEPS.get(entry.kind)
    if step is None:
        unknown = say(
            "There is no step called “{kind}” in this version of Caddet. It is kept and passed over.", kind=entry.kind
        )
        return StepOutcome(entry, pattern, unknown)
    if len(pattern.pieces) >= MOST_PIECES:
        full = say(
            "{label}: the garment has {count} pieces already, as many as Caddet works with; take an earlier step out",
            label=step.label,
            count=len(pattern.pieces),
        )
        return StepOutcome(entry, pattern, full)
    held = anchored(pattern)
    try:
        values = step.values(entry.values, context.names)
        here = replace(context, id=entry.id)
        result = step.apply(held, here, values)
        after, remarks = refitted(result.pattern)
        after = _from(entry.id, _arrows_inside(held, _counted(held, after, entry.id)))
        after = _meant(held, after, result.changes, entry.id)
        passes = step.passes(held, values)
    except Lost as lost:
        return StepOutcome(entry, pattern, say("{label}: {why}", label=step.label, why=lost), lost.parameter, lost)
    except Stuck as stuck:
        return StepOutcome(entry, pattern, say("{label}: {why}", label=step.label, why=stuck), stuck.parameter)
    except Refused as refused:
        known = [parameter.name for parameter in step.parameters]
        about = refused.about if refused.about in known else ""
        return StepOutcome(entry, pattern, say("{label}: {why}", label=step.label, why=refused), about)
    except CaddetError as error:
        return StepOutcome(entry, pattern, say("{label}: {why}", label=step.label, why=error))
    except Exception as error:  # a fault of ours in one step must not take the other steps with it
        return StepOutcome(
            entry,
            pattern,
            say(
                "{label}: this can't be done here ({name}: {error})",
                label=step.label,
                name=type(error).__name__,
                error=error,
            ),
        )
    place = f"recipe[{entry.id}]"
    findings = [replace(finding, place=finding.place or place) for finding in (*result.findings, *remarks)]
    findings += judged(held, after, here, place)
    return StepOutcome(entry, after, findings=tuple(findings), passes=passes)


def _counted(before: Pattern, pattern: Pattern, step: str) -> Pattern:
    """The pattern with what a step made cut as often as what it is sewn to is there."""
    old = {piece.name for piece in before.pieces}
    return counted(pattern, [p.name for p in pattern.pieces if p.name not in old and maker_of(p.made) == step])


def _arrows_inside(before: Pattern, pattern: Pattern) -> Pattern:
    """The pattern with the grain arrows of what a step changed drawn where there is cloth."""
    as_before = {id(piece) for piece in before.pieces}
    pieces = tuple(piece if id(piece) in as_before else arrow_inside(piece) for piece in pattern.pieces)
    return (
        pattern if all(a is b for a, b in zip(pieces, pattern.pieces, strict=True)) else replace(pattern, pieces=pieces)
    )


def _from(source: str, pattern: Pattern) -> Pattern:
    """The pattern with the stage that made them told of its new pieces."""
    if all(piece.source for piece in pattern.pieces):
        return pattern
    return replace(pattern, pieces=tuple(p if p.source else replace(p, source=source) for p in pattern.pieces))


def _meant(before: Pattern, pattern: Pattern, changes: Collection[str], step: str) -> Pattern:
    """The pattern with what the step means to change of what is promised, by how much it did."""
    if not changes:
        return pattern
    meant = list(pattern.meant)
    for promise in before.promises:
        named, of_the_body = promise.name in changes, OF_THE_BODY[0] in changes
        if not named and not of_the_body:
            continue
        with suppress(CaddetError):
            amount = pattern.promised(promise) - before.promised(promise)
            forgiven = not promise.agrees or abs(amount) <= TOLERANCE
            if abs(amount) > CLOSES / 100 and (named or forgiven):
                meant.append(Meant(promise.name, step, amount))
    return replace(pattern, meant=tuple(meant))


# --- sources --------------------------------------------------------------------------------------


def take_pieces(source: PiecesSource | TracedSource) -> SourceOutcome:
    """The pieces that are stored, or those of a tracing. Raises nothing: what can't be a piece or a seam is a finding."""
    if isinstance(source, PiecesSource):
        pattern, findings = pattern_of(source)
        return SourceOutcome(source, block_named(""), _from(source.id, pattern), {}, {}, findings, {}, {})
    place = f"recipe[{source.id}]"
    try:
        pattern, findings = TRACERS[source.tracing.way](source.tracing, place)
    except (CaddetError, ArithmeticError, ValueError) as error:
        pattern = Pattern()
        findings = (Finding("trace", say("This tracing can't be used: {error}.", error=error), place, "stops"),)
    findings += tuple(
        Finding("draft.shape", sentence, piece.name, "stops") for piece in pattern.pieces if (sentence := fault(piece))
    )
    made = _from(source.id, pattern) if pattern.pieces else None
    return SourceOutcome(source, block_named(""), made, {}, {}, findings, {}, {})


def draft_block(
    source: BlockSource,
    person_name: str,
    body_measures: Mapping[str, KnownMeasure | None],
    cloths: Mapping[str, Cloth],
    before: Pattern | None = None,
) -> SourceOutcome:
    """A block drafted on a body of which these body_measures are known. Raises :class:`CaddetError` for an unknown block."""
    block = block_named(source.block)
    cloth = cloths["main"]
    measures, estimates = _measured(body_measures)
    givens, findings = _measure_givens(block, source, person_name, body_measures)
    empty = SourceOutcome(source, block, None, {}, {}, tuple(findings), measures, estimates)
    if findings:
        return empty
    try:
        options = block.option_values(source.options, {given.name: given.quantity for given in givens})
    except CaddetError as error:
        return replace(empty, findings=(Finding("option", say("{error}.", error=error), "recipe.options", "stops"),))
    remarks = suitability(block, cloth)
    for level in block.ease:
        measure = measures.get(level.measure, 0.0)
        ease = source.ease.get(level.level, usual_ease(level, source.fit, measure, cloth))
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
        sums, doubts = add_up(block.figures_for(options), givens, source.overrides)
    except FormulaError as error:
        return replace(
            empty,
            findings=(
                Finding("figure", say("A figure can't be worked out: {error}", error=error), "figures", "stops"),
            ),
        )
    names = {given.name: given.quantity for given in givens}
    context = Context(measures, sums, names, cloths, source.id)
    try:
        result = block.apply(before or Pattern(), context, options)
    except CannotDraft as error:
        finding = Finding("draft", str(error), error.place, "stops")
        return replace(empty, sums=sums, findings=(*remarks, *doubts, finding))
    except Exception as error:  # whatever a draft raises, the rest of the document stays usable
        sentence = say(
            "These figures do not make a {label}: {error}. Look at the measures and the options.",
            label=block.label.lower(),
            error=error,
        )
        return replace(empty, sums=sums, findings=(*remarks, *doubts, Finding("draft", sentence, "figures", "stops")))
    for name, value in result.figures.items():
        sums[name] = replace(sums[name], solved=value)
    unsound = [
        Finding("draft.shape", sentence, piece.name, "stops")
        for piece in result.pattern.pieces
        if (sentence := fault(piece))
    ]
    names |= {name: Quantity(sum_.value, sum_.quantity.dimension) for name, sum_ in sums.items()}
    return replace(
        empty,
        pattern=_from(source.id, result.pattern),
        sums=sums,
        names=names,
        context=replace(context, names=names),
        findings=(*remarks, *doubts, *result.findings, *unsound),
    )


def _measured(body_measures: Mapping[str, KnownMeasure | None]) -> tuple[dict[str, float], dict[str, Estimate]]:
    """The measures in mm, and which of them are estimates."""
    known = {code: found for code, found in body_measures.items() if found is not None}
    estimates = {code: found.guess for code, found in known.items() if found.guess is not None}
    return {code: found.value for code, found in known.items()}, estimates


def _measure_givens(
    block: Block, source: BlockSource, person_name: str, body_measures: Mapping[str, KnownMeasure | None]
) -> tuple[list[Given], list[Finding]]:
    """What formulas may name of the body, and a finding for each measure that the block needs and nothing tells."""
    findings: list[Finding] = []
    givens: list[Given] = []
    needed = block.needs_for(source.options)
    for code, found in body_measures.items():
        if found is not None:
            label = MEASURES[code].label.lower().removesuffix(" girth") + (" with growth" if found.growth else "")
            givens.append(Given(code, label, Quantity(found.value, 1), found.guess is not None))
        elif code in needed:
            findings.append(
                Finding(
                    "measure.missing",
                    say(
                        "{label} of {person_name} is missing and nothing measured so far supports an estimate. {label_2} needs it: measure it, or the height to estimate it from.",
                        label=MEASURES[code].label,
                        person_name=person_name,
                        label_2=block.label,
                    ),
                    f"person.{code}",
                    "stops",
                )
            )
    return givens, findings


def _option_givens(block: Block, options: Mapping[str, Plain]) -> list[Given]:
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
