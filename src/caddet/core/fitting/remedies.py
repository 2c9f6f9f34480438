"""Remedies for seams that do not meet: only those that were tried and mend it are offered."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.errors import Finding
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import Reference, maker_of, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.context import Context
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.losses import found_in
from caddet.core.recipe.registry import STEPS, step_entry
from caddet.core.recipe.stages import StepOutcome, do_step
from caddet.core.recipe.values import Corner, Place, References, Value
from caddet.core.sentences import Length, say
from caddet.core.truing.checks import Trouble, troubles
from caddet.core.truing.joins import Join, joins
from caddet.core.truing.walk import Walk, walk

EASES = 1.08  # times the shorter side, up to which the longer one can be eased in; common practice
TRIED = "s999999999"  # the id of a step that is only tried
UPRIGHT = 0.7  # an edge this much of whose length goes down can be lengthened at a level line


def proposals(pattern: Pattern, context: Context, entries: Sequence[StepEntry]) -> dict[Finding, tuple[Remedy, ...]]:
    """Steps that the garment and its cloth ask for and that are not in the recipe: a note for each, with the step ready."""
    done = {entry.kind for entry in entries}
    found: dict[Finding, tuple[Remedy, ...]] = {}
    for step in STEPS.values():
        proposed = step.proposes(pattern, context) if step.kind not in done else None
        if proposed is not None:
            finding = Finding("part.proposed", proposed.sentence, proposed.place, "note")
            found[finding] = (Remedy(step.label, step=step_entry(step.kind, proposed.values)),)
    return found


def stuck_remedies(outcomes: Sequence[StepOutcome], drafted: Pattern | None) -> dict[str, tuple[Remedy, ...]]:
    """Ways out for steps that did not find what they name, by the place of their finding.

    Falling back to the whole run is offered, never done; a step that needs a later one is moved behind it.
    """
    found: dict[str, tuple[Remedy, ...]] = {}
    for index, outcome in enumerate(outcomes):
        if outcome.lost is None:
            continue
        lost, before = outcome.lost, outcomes[index - 1].pattern if index else drafted
        ways: list[Remedy] = []
        later = [one.entry.id for one in outcomes[index + 1 :] if one.entry.id in _makers(lost.ref)]
        if later:
            number = [one.entry.id for one in outcomes].index(later[-1]) + 1
            ways.append(
                Remedy(say("Move this step behind step {number}", number=number), behind=(outcome.entry.id, later[-1]))
            )
        if lost.ref.marks and found_in(before, lost.ref.plain, lost.what):
            what = own_name(lost.ref.key).replace("_", " ")
            ways.append(
                Remedy(
                    say("Take the whole {what} instead", what=what),
                    values=(outcome.entry.id, _without_marks(outcome.entry, lost.ref)),
                )
            )
        found[f"recipe[{outcome.entry.id}].{outcome.parameter}"] = tuple(ways)
    return found


def _makers(ref: Reference) -> set[str]:
    """The ids of the steps that a reference leans on."""
    return {maker_of(ref.name), *(maker_of(mark).rstrip("ab") for mark in ref.marks)}


def _without_marks(entry: StepEntry, ref: Reference) -> dict[str, Value]:
    """A step's values with one reference taken back to the whole run."""
    found: dict[str, Value] = {}
    for name, value in entry.values.items():
        if isinstance(value, References):
            refs = tuple(str(ref.plain) if one == str(ref) else one for one in value.refs)
            found[name] = value.model_copy(update={"refs": refs})
        elif isinstance(value, Place | Corner) and value.edge == str(ref):
            found[name] = value.model_copy(update={"edge": str(ref.plain)})
        else:
            found[name] = value
    return found


def seam_remedies(pattern: Pattern, walked: Walk) -> tuple[Remedy, ...]:
    """What makes the seam meet: a side changed at a level line or at its end, or the longer side held in."""
    level = _at_a_level(pattern, walked)
    ways = MEETS[2:] if len(level) == 2 else MEETS  # each side alone is changed at its level line already
    return (*level, *_made_to_meet(pattern, walked, ways), *_held(pattern, walked))


def _at_a_level(pattern: Pattern, walked: Walk) -> list[Remedy]:
    """One side or the other lengthened or shortened at a level line, where it runs upright."""
    seam = walked.seam
    found: list[Remedy] = []
    if "lengthen" not in STEPS or any(len(layer) != 1 for layer in (seam.layers[0], seam.layers[walked.layer])):
        return found
    for layer, off in ((0, walked.off), (walked.layer, -walked.off)):
        fragments = [f for f in pattern.layer_fragments(seam.layers[layer]) if not f.imagined]
        step = _level_step(fragments, off)
        if step is None:
            continue
        after = do_step(step, pattern, Context())
        if after.stuck or after.findings or not walk(after.pattern, seam, walked.layer).holds:
            continue
        piece = fragments[0].piece
        word = "Lengthen" if off > 0 else "Shorten"
        found.append(
            Remedy(
                say("{word} the {label} by {off} there", word=word, label=piece.label.lower(), off=Length(abs(off))),
                step=step.model_copy(update={"id": ""}),
            )
        )
    return found


MEETS = (
    ("second", "{word} the second side by {off}"),
    ("first", "{other} the first side by {off}"),
    ("half", "Half by each side"),
)


def _made_to_meet(pattern: Pattern, walked: Walk, ways: Sequence[tuple[str, str]]) -> tuple[Remedy, ...]:
    """One side or the other, or both by half, taken off or added to at an end."""
    seam = walked.seam
    if "agree" not in STEPS or len(seam.layers) != 2 or seam.closes():
        return ()
    found = []
    words = ("Take off", "Add to") if walked.off > 0 else ("Add to", "Take off")
    for change, template in ways:
        step = step_entry("agree", {"seam": (seam.name,), "change": change}, id=TRIED)
        after = do_step(step, pattern, Context())
        if after.stuck or not walk(after.pattern, after.pattern.seam(seam.name), walked.layer).holds:
            continue
        label = say(template, word=words[0], other=words[1], off=Length(abs(walked.off)))
        found.append(Remedy(label, step=step.model_copy(update={"id": ""})))
    return tuple(found)


def join_remedies(pattern: Pattern, join: Join) -> tuple[Remedy, ...]:
    """The line blended over its seam, dart or fold, where that mends it."""
    if "blend" not in STEPS or not join.ends:
        return ()
    keys = tuple(dict.fromkeys(pattern.piece(end.piece).edges[end.edge].name for end in join.ends))
    step = step_entry("blend", {"edges": keys}, id=TRIED)
    after = do_step(step, pattern, Context())
    if after.stuck or any(
        one.name == join.name and one.label == join.label and one.angle > one.limit for one in joins(after.pattern)
    ):
        return ()
    return (Remedy(say("Blend the line, the seam keeps its length"), step=step.model_copy(update={"id": ""})),)


def trouble_remedies(pattern: Pattern, trouble: Trouble) -> tuple[Remedy, ...]:
    """The step that mends what is off on a piece, where it does."""
    if trouble.step not in STEPS:
        return ()
    step = step_entry(trouble.step, trouble.values, id=TRIED)
    after = do_step(step, pattern, Context())
    if after.stuck or any(one.name == trouble.name for one in troubles(after.pattern, outlines=True)):
        return ()
    return (Remedy(trouble.remedy, step=step.model_copy(update={"id": ""})),)


HOLDS = {
    "eased": "Ease the longer side in",
    "stretched": "Stretch the shorter side to it",
    "gathered": "Gather the longer side in",
}


def _held(pattern: Pattern, walked: Walk) -> tuple[Remedy, ...]:
    """The longer side eased in or the shorter one stretched where they differ by little, gathered where by much."""
    seam = walked.seam
    if "sewn_as" not in STEPS or len(seam.layers) != 2 or seam.kind != "plain":
        return ()
    lengths = [pattern.length(layer) for layer in seam.layers]
    little = max(lengths) <= min(lengths) * EASES
    found = []
    for how in ("eased", "stretched") if little else ("gathered",):
        step = step_entry("sewn_as", {"seam": (seam.name,), "how": how}, id=TRIED)
        after = do_step(step, pattern, Context())
        if not after.stuck and walk(after.pattern, after.pattern.seam(seam.name), walked.layer).holds:
            found.append(Remedy(HOLDS[how], step=step.model_copy(update={"id": ""})))
    return tuple(found)


def _level_step(fragments: list[Fragment], off: float) -> StepEntry | None:
    """The step that changes the longest upright stretch of a side by so much, at its middle."""
    if not fragments:
        return None
    longest = max(fragments, key=lambda f: f.length)
    path = longest.path()
    down = abs(path.end.imag - path.start.imag)
    if longest.length < 1e-6 or down < UPRIGHT * longest.length:
        return None
    amount = off * down / longest.length
    values = {
        "pieces": (longest.piece.name,),
        "at": round((path.start.imag + path.end.imag) / 2, 1),
        "amount": round(amount, 1),
    }
    return step_entry("lengthen", values, id=TRIED)
