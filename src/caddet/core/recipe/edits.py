"""Edits: the verbs that make the next document from the present one. Pure functions."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import Document, Placement, Recipe, StepEntry, Value


def set_measure(document: Document, code: str, mm: float | None, date: str | None = None) -> Document:
    """One measure of the wearer, in mm, read on a day; None takes its newest readings away."""
    return set_person(document, document.wearer, document.person.with_measure(code, mm, date))


def add_reading(document: Document, code: str, mm: float, date: str) -> Document:
    """One more reading of a measure of the wearer, in mm."""
    return set_person(document, document.wearer, document.person.with_reading(code, mm, date))


def change_person(document: Document, name: str, **changes: object) -> Document:
    """Change what is kept about a person (name, born, growth, note …); the new values are checked."""
    old = document.person_named(name)
    return set_person(document, name, Person.model_validate({**old.model_dump(), **changes}))


def be_sure(document: Document, code: str) -> Document:
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
    return Document.model_validate({**dict(document), "people": (*people, *fresh.values())})


def set_person(document: Document, name: str, person: Person) -> Document:
    """Replace the person of that name (who may get a new name)."""
    if person.name != name and any(other.name == person.name for other in document.people):
        raise CaddetError(f"There is already someone called {person.name}.")
    people = tuple(person if other.name == name else other for other in document.people)
    wearer = person.name if document.wearer == name else document.wearer
    return document.model_copy(update={"people": people, "wearer": wearer})


def add_person(document: Document, person: Person) -> Document:
    """Add a person and make them the wearer."""
    if any(other.name == person.name for other in document.people):
        raise CaddetError(f"There is already someone called {person.name}.")
    return document.model_copy(update={"people": (*document.people, person), "wearer": person.name})


def choose_wearer(document: Document, name: str) -> Document:
    document.person_named(name)
    return document.model_copy(update={"wearer": name})


def choose_cloth(document: Document, name: str) -> Document:
    if name not in [cloth.name for cloth in document.cloths]:
        raise CaddetError(f"there is no cloth “{name}”")
    return document.model_copy(update={"cloth": name})


def change_cloth(document: Document, **changes: object) -> Document:
    """Change properties of the chosen cloth; the new values are checked."""
    cloth = document.chosen_cloth
    changed = Cloth.model_validate({**cloth.model_dump(), **changes})
    cloths = tuple(changed if other.name == cloth.name else other for other in document.cloths)
    return document.model_copy(update={"cloths": cloths, "cloth": changed.name})


def _with_recipe(document: Document, **changes: object) -> Document:
    recipe = Recipe.model_validate({**document.recipe.model_dump(), **changes})
    return document.model_copy(update={"recipe": recipe})


def set_fit(document: Document, fit: str) -> Document:
    """Another way of fitting; the ease that was set by hand gives way to its."""
    return _with_recipe(document, fit=fit, ease={})


def clear_ease(document: Document, level: str) -> Document:
    """The usual ease of a level again."""
    return _with_recipe(document, ease={name: mm for name, mm in document.recipe.ease.items() if name != level})


def add_cloth(document: Document, cloth: Cloth) -> Document:
    """Add a cloth and choose it. Raises :class:`CaddetError` when its name is taken."""
    if any(other.name == cloth.name for other in document.cloths):
        raise CaddetError(f"There is already a cloth called {cloth.name}.")
    return document.model_copy(update={"cloths": (*document.cloths, cloth), "cloth": cloth.name})


def set_option(document: Document, name: str, value: Value) -> Document:
    return _with_recipe(document, options={**document.recipe.options, name: value})


def set_ease(document: Document, level: str, mm: float) -> Document:
    return _with_recipe(document, ease={**document.recipe.ease, level: mm})


def set_override(document: Document, figure: str, formula: str | None) -> Document:
    """Put the user's formula in place of the block's; None takes it back."""
    overrides = {name: text for name, text in document.recipe.overrides.items() if name != figure}
    if formula is not None:
        overrides[figure] = formula
    return _with_recipe(document, overrides=overrides)


def add_step(document: Document, step: StepEntry) -> Document:
    return _with_recipe(document, steps=(*document.recipe.steps, step))


def set_step(document: Document, index: int, step: StepEntry | None) -> Document:
    """Replace one step; None takes it out."""
    steps = list(document.recipe.steps)
    if not 0 <= index < len(steps):
        raise CaddetError(f"the recipe has no step {index + 1}")
    steps[index : index + 1] = [] if step is None else [step]
    return _with_recipe(document, steps=tuple(steps))


def move_step(document: Document, index: int, to: int) -> Document:
    """Move a step to another place in the order."""
    steps = list(document.recipe.steps)
    if not (0 <= index < len(steps) and 0 <= to < len(steps)):
        raise CaddetError("a step can only be moved within the recipe")
    steps.insert(to, steps.pop(index))
    return _with_recipe(document, steps=tuple(steps))


def set_finishing(document: Document, **changes: object) -> Document:
    finishing = type(document.finishing).model_validate({**document.finishing.model_dump(), **changes})
    return document.model_copy(update={"finishing": finishing})


def set_allowance(document: Document, edge: str, mm: float | None) -> Document:
    """The allowance of one ``piece.run``; None goes back to the usual one."""
    exceptions = {name: value for name, value in document.finishing.exceptions.items() if name != edge}
    if mm is not None:
        exceptions[edge] = mm
    return set_finishing(document, exceptions=exceptions)


def set_lay(document: Document, **changes: object) -> Document:
    lay = type(document.lay).model_validate({**document.lay.model_dump(), **changes})
    return document.model_copy(update={"lay": lay})


def place_piece(document: Document, piece: str, placement: Placement | None) -> Document:
    """Where a piece lies on the table; None puts it back in its usual place."""
    table = {name: place for name, place in document.table.items() if name != piece}
    if placement is not None:
        table[piece] = placement
    return document.model_copy(update={"table": table})


@dataclass(frozen=True, slots=True)
class Remedy:
    """A ready change offered beside a finding: a step, an override, an option or an ease."""

    label: str
    step: StepEntry | None = None
    override: tuple[str, str] | None = None
    option: tuple[str, Value] | None = None
    ease: tuple[str, float] | None = None
    measure: tuple[str, float | None] | None = None
    sure: str = ""

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
            document = be_sure(document, self.sure)
        return document
