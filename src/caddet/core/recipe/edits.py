"""Edits: the verbs that make the next document from the present one. Pure functions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.core.recipe.document import (
    MAIN,
    MOST_SOURCES,
    MOST_STEPS,
    Accepted,
    BlockSource,
    CutRecord,
    Document,
    LogEntry,
    Placement,
    Recipe,
    StepEntry,
    Value,
)
from caddet.core.recipe.entries import AnySource
from caddet.core.recipe.grading import GradeRule, Grading
from caddet.core.recipe.values import Plain, as_value
from caddet.core.sentences import say


def set_measure(document: Document, code: str, mm: float | None, date: str | None = None, of: str = "") -> Document:
    """One measure of the wearer, or of somebody else by name, in mm, read on a day; None takes its newest readings away."""
    name = of or document.wearer
    return set_person(document, name, document.person_named(name).with_measure(code, mm, date))


def add_reading(document: Document, code: str, mm: float, date: str) -> Document:
    """One more reading of a measure of the wearer, in mm."""
    return set_person(document, document.wearer, document.person.with_reading(code, mm, date))


def change_person(document: Document, name: str, /, **changes: object) -> Document:
    """Change what is kept about a person (name, born, growth, note …); the new values are checked."""
    old = document.person_named(name)
    return set_person(document, name, Person.model_validate({**old.model_dump(), **changes}))


def confirm_measure(document: Document, code: str) -> Document:
    """The doubted value of a measure of the wearer is right."""
    person = document.person
    sure = {**person.sure, code: person.measures[code]}
    return set_person(document, person.name, person.model_copy(update={"sure": sure}))


def take_out_person(document: Document, name: str) -> Document:
    """The project without a person. Raises :class:`CaddetError` for the last one."""
    people = tuple(person for person in document.people if person.name != name)
    if not people:
        raise CaddetError("A project needs somebody to sew for; add another person first.")
    wearer = document.wearer if document.wearer != name else people[0].name
    return document.model_copy(update={"people": people, "wearer": wearer})


def take_in_people(document: Document, newcomers: tuple[Person, ...]) -> Document:
    """The project with these people; one of a name that is there replaces them."""
    fresh = {person.name: person for person in newcomers}
    people = tuple(fresh.pop(person.name, person) for person in document.people)
    return Document.model_validate({**document.parts(), "people": (*people, *fresh.values())})


def set_person(document: Document, name: str, person: Person) -> Document:
    """Replace the person of that name (who may get a new name)."""
    if person.name != name and any(other.name == person.name for other in document.people):
        raise CaddetError(say("There is already someone called {name}.", name=person.name))
    people = tuple(person if other.name == name else other for other in document.people)
    wearer = person.name if document.wearer == name else document.wearer
    return document.model_copy(update={"people": people, "wearer": wearer})


def add_person(document: Document, person: Person) -> Document:
    """Add a person and make them the wearer."""
    if any(other.name == person.name for other in document.people):
        raise CaddetError(say("There is already someone called {name}.", name=person.name))
    return document.model_copy(update={"people": (*document.people, person), "wearer": person.name})


def choose_wearer(document: Document, name: str) -> Document:
    """Make it for somebody else. Raises :class:`CaddetError` when nobody is called so."""
    document.person_named(name)
    return document.model_copy(update={"wearer": name})


def choose_cloth(document: Document, name: str, role: str = MAIN) -> Document:
    """The cloth of a role, the main one by default."""
    if name not in [cloth.name for cloth in document.cloths]:
        raise CaddetError(say("there is no cloth “{name}”", name=name))
    return _checked(document, roles={**document.roles, role: name})


def change_cloth(document: Document, role: str = MAIN, **changes: object) -> Document:
    """Change properties of a role's cloth; the new values are checked, and its name must be its own.

    A cloth that is only the usual one for its role comes into the document with that.
    """
    cloth = document.cloth_for(role)
    if all(other.name != cloth.name for other in document.cloths):
        document = document.model_copy(update={"cloths": (*document.cloths, cloth)})
        document = document.model_copy(update={"roles": {**document.roles, role: cloth.name}})
    changed = Cloth.model_validate({**cloth.model_dump(), **changes})
    if changed.name != cloth.name and any(other.name == changed.name for other in document.cloths):
        raise CaddetError(say("There is already a cloth called {name}.", name=changed.name))
    cloths = tuple(changed if other.name == cloth.name else other for other in document.cloths)
    roles = {role: changed.name if name == cloth.name else name for role, name in document.roles.items()}
    return document.model_copy(update={"cloths": cloths, "roles": roles})


def add_cloth(document: Document, cloth: Cloth) -> Document:
    """Add a cloth and choose it. Raises :class:`CaddetError` when its name is taken."""
    if any(other.name == cloth.name for other in document.cloths):
        raise CaddetError(say("There is already a cloth called {name}.", name=cloth.name))
    roles = {**document.roles, MAIN: cloth.name}
    return _checked(document, cloths=(*document.cloths, cloth), roles=roles)


def _checked(document: Document, **changes: object) -> Document:
    """The document with other parts, checked as a whole."""
    return Document.model_validate({**document.parts(), **changes})


def set_grading(document: Document, **changes: object) -> Document:
    """Another way, table, sizes, base, people or rules; they are checked."""
    grading = Grading.model_validate({**document.grading.model_dump(), **changes})
    return document.model_copy(update={"grading": grading})


def set_rule(document: Document, rule: GradeRule) -> Document:
    """A grading rule in place of that of its point and range, or as a new one."""
    same = (rule.piece, rule.point, rule.first, rule.last)
    kept = [one for one in document.grading.rules if (one.piece, one.point, one.first, one.last) != same]
    return set_grading(document, rules=(*kept, rule))


# --- the recipe -----------------------------------------------------------------------------------


def _with_recipe(document: Document, **changes: object) -> Document:
    return document.model_copy(update={"recipe": Recipe.model_validate({**document.recipe.parts(), **changes})})


def _block(document: Document, source: str) -> BlockSource:
    """The block of that id, the main one for an empty one. Raises :class:`CaddetError` when there is none."""
    block = document.recipe.block_source(source)
    if block is None:
        if source:
            raise CaddetError(say("there is no block {source}", source=source))
        raise CaddetError("This garment has no block; it is made of outlines only.")
    return block


def set_fit(document: Document, fit: str, source: str = "") -> Document:
    """Another way of fitting; the ease that was set by hand gives way to its.

    Here and below, ``source`` is the id of the block that is meant; the main one when empty.
    """
    return change_source(document, _block(document, source).id, fit=fit, ease={})


def clear_ease(document: Document, level: str, source: str = "") -> Document:
    """The usual ease of a level again."""
    block = _block(document, source)
    return change_source(document, block.id, ease={name: mm for name, mm in block.ease.items() if name != level})


def set_option(document: Document, name: str, value: Plain | Value, source: str = "") -> Document:
    """An option of a block: a plain value (mm, a choice, yes or no), or one as the document keeps it."""
    block = _block(document, source)
    return change_source(document, block.id, options={**block.options, name: as_value(value)})


def set_ease(document: Document, level: str, mm: float, source: str = "") -> Document:
    """The ease of a level of a block, in mm all round."""
    block = _block(document, source)
    return change_source(document, block.id, ease={**block.ease, level: mm})


def set_override(document: Document, figure: str, formula: str | None, source: str = "") -> Document:
    """Put the user's formula in place of the block's; None takes it back."""
    block = _block(document, source)
    overrides = {name: text for name, text in block.overrides.items() if name != figure}
    if formula is not None:
        overrides[figure] = formula
    return change_source(document, block.id, overrides=overrides)


def put_beside(document: Document, block: BlockSource) -> Document:
    """One more block beside what is made, drafted after the steps that are there.

    Raises :class:`CaddetError` when the recipe is full.
    """
    if len(document.recipe.sources) >= MOST_SOURCES:
        raise CaddetError(say("A garment can't begin with more than {count} blocks.", count=MOST_SOURCES))
    after = document.recipe.steps[-1].id if document.recipe.steps else ""
    return add_source(document, block.model_copy(update={"after": after}))


def add_source(document: Document, source: AnySource) -> Document:
    """One more source, under an id of its own; ``after`` must name a step that is there."""
    if source.after and source.after not in [step.id for step in document.recipe.steps]:
        raise CaddetError(say("there is no step {after} for the source to stand behind", after=source.after))
    return document.model_copy(update={"recipe": document.recipe.with_source(source)})


def change_source(document: Document, source_id: str, **changes: object) -> Document:
    """Change values of one source (but not its id); they are checked."""
    for source in document.recipe.sources:
        if source.id == source_id:
            changed = type(source).model_validate({**source.parts(), **changes, "id": source_id})
            sources = tuple(changed if s is source else s for s in document.recipe.sources)
            return _with_recipe(document, sources=sources)
    raise CaddetError(say("there is no source {source_id}", source_id=source_id))


def take_out_source(document: Document, source_id: str) -> Document:
    """The recipe without one source. Raises :class:`CaddetError` for the last one."""
    sources = tuple(source for source in document.recipe.sources if source.id != source_id)
    if len(sources) == len(document.recipe.sources):
        raise CaddetError(say("there is no source {source_id}", source_id=source_id))
    if not sources:
        raise CaddetError("A garment needs a block or outlines to begin with.")
    return _with_recipe(document, sources=sources)


def add_step(document: Document, step: StepEntry) -> Document:
    """The step at the end of the recipe, under an id that was never given before."""
    if len(document.recipe.steps) >= MOST_STEPS:
        raise CaddetError(say("A recipe can't have more than {MOST_STEPS} steps.", MOST_STEPS=MOST_STEPS))
    return document.model_copy(update={"recipe": document.recipe.with_step(step)})


def set_step(document: Document, index: int, step: StepEntry | None) -> Document:
    """Replace one step, which keeps its id; None takes it out (what stood behind it moves up)."""
    steps = list(document.recipe.steps)
    if not 0 <= index < len(steps):
        raise CaddetError(say("the recipe has no step {index}", index=index + 1))
    old = steps[index]
    if step is not None:
        steps[index] = StepEntry.model_validate({**step.parts(), "id": old.id})
        return _with_recipe(document, steps=tuple(steps))
    del steps[index]
    behind = steps[index - 1].id if index else ""
    sources = tuple(
        source.model_copy(update={"after": behind}) if source.after == old.id else source
        for source in document.recipe.sources
    )
    return _with_recipe(document, steps=tuple(steps), sources=sources)


def change_step(document: Document, step_id: str, **changes: object) -> Document:
    """Change a step's values, note, group, or whether it is on; the new ones are checked."""
    for index, step in enumerate(document.recipe.steps):
        if step.id == step_id:
            return set_step(document, index, StepEntry.model_validate({**step.parts(), **changes}))
    raise CaddetError(say("the recipe has no step {step_id}", step_id=step_id))


def move_step(document: Document, index: int, to: int) -> Document:
    """Move a step to another place in the order."""
    steps = list(document.recipe.steps)
    if not (0 <= index < len(steps) and 0 <= to < len(steps)):
        raise CaddetError("a step can only be moved within the recipe")
    steps.insert(to, steps.pop(index))
    return _with_recipe(document, steps=tuple(steps))


# --- finishing, laying, the table -----------------------------------------------------------------


def set_finishing(document: Document, **changes: object) -> Document:
    """Change the usual allowances, the exceptions or the notches; the new values are checked."""
    finishing = type(document.finishing).model_validate({**document.finishing.model_dump(), **changes})
    return document.model_copy(update={"finishing": finishing})


def set_allowance(document: Document, edge: str, mm: float | None) -> Document:
    """The allowance of one edge, by reference; None goes back to the usual one."""
    exceptions = {name: value for name, value in document.finishing.exceptions.items() if name != edge}
    if mm is not None:
        exceptions[edge] = mm
    return set_finishing(document, exceptions=exceptions)


def set_lay(document: Document, role: str = MAIN, **changes: object) -> Document:
    """How the cloth of a role is laid."""
    lay = LayChoices.model_validate({**document.lay_for(role).model_dump(), **changes})
    return _checked(document, lays={**document.lays, role: lay})


def place_piece(document: Document, piece: str, placement: Placement | None) -> Document:
    """Where a piece lies on the table; None puts it back in its usual place."""
    table = {name: place for name, place in document.table.items() if name != piece}
    if placement is not None:
        table[piece] = placement
    return _checked(document, table=table)


# --- what was cut and made, photographs, the log, what is fine by the user ------------------------


def mark_cut(document: Document, piece: str, record: CutRecord | None) -> Document:
    """A piece has been cut as the record says; None takes that back."""
    cut = {name: old for name, old in document.cut.items() if name != piece}
    if record is not None:
        cut[piece] = record
    return _checked(document, cut=cut)


def set_made(document: Document, edge: str, mm: float | None) -> Document:
    """The length of an edge as it was made, in mm; None takes that back."""
    made = {name: old for name, old in document.made.items() if name != edge}
    if mm is not None:
        made[edge] = mm
    return _checked(document, made=made)


def set_photograph(document: Document, name: str, file: str | None) -> Document:
    """A photograph of the project under a name; None takes it out (also of the log)."""
    photographs = {key: old for key, old in document.photographs.items() if key != name}
    if file is not None:
        return _checked(document, photographs={**photographs, name: file})
    log = tuple(
        entry.model_copy(update={"photographs": tuple(photo for photo in entry.photographs if photo != name)})
        for entry in document.log
    )
    return _checked(document, photographs=photographs, log=log)


def add_log(document: Document, entry: LogEntry) -> Document:
    """One more note in the wearing log."""
    return _checked(document, log=(*document.log, entry))


def accept(document: Document, accepted: Accepted) -> Document:
    """A finding or failing check is fine, for a reason."""
    return _checked(document, accepted=(*_others(document, accepted), accepted))


def take_back_accepted(document: Document, accepted: Accepted) -> Document:
    """What was fine is looked at again."""
    return _checked(document, accepted=_others(document, accepted))


def _others(document: Document, accepted: Accepted) -> tuple[Accepted, ...]:
    def which(one: Accepted) -> tuple[str, str, str]:
        return one.kind, one.name, one.place

    return tuple(one for one in document.accepted if which(one) != which(accepted))


@dataclass(frozen=True, slots=True)
class Remedy:
    """A ready change offered beside a finding: a step, other values of one, another order, an override, an option.

    ``values`` are those of a step (by id) as they would be; ``behind`` moves the first step behind the second.
    """

    label: str
    step: StepEntry | None = None
    override: tuple[str, str] | None = None
    option: tuple[str, Plain] | None = None
    ease: tuple[str, float] | None = None
    measure: tuple[str, float | None] | None = None
    sure: str = ""
    values: tuple[str, Mapping[str, Value]] | None = None
    behind: tuple[str, str] | None = None

    def apply(self, document: Document) -> Document:
        """The document with the remedy done."""
        if self.step is not None:
            document = add_step(document, self.step)
        if self.override is not None:
            document = set_override(document, *self.override)
        if self.option is not None:
            document = set_option(document, *self.option)
        if self.ease is not None:
            document = set_ease(document, *self.ease)
        if self.measure is not None:
            document = set_measure(document, *self.measure)
        if self.sure:
            document = confirm_measure(document, self.sure)
        if self.values is not None:
            document = change_step(document, self.values[0], values=dict(self.values[1]))
        if self.behind is not None:
            ids = [step.id for step in document.recipe.steps]
            document = move_step(document, ids.index(self.behind[0]), ids.index(self.behind[1]))
        return document
