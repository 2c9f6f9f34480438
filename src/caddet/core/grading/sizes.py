"""The sizes and people that a project is graded to, one after the other."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace

from caddet.core.body.known import known_measures
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.body.sizes import SizeTable, nearest_size, person_of_size, shipped_table
from caddet.core.errors import CaddetError, Finding, InputError, Stopped, some
from caddet.core.grading.by_measures import by_measures
from caddet.core.grading.nest import GradedSize, Nest, walked
from caddet.core.grading.rules import Derived, RuleTable, graded, in_ranges
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Document, Recipe, TracedSource
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.storing import stored_pattern
from caddet.core.recipe.traced import PhotoTracing
from caddet.core.sentences import say


def body_of(person: Person) -> dict[str, float]:
    """Every measure that is known or estimated of somebody, in mm."""
    return {code: one.value for code, one in known_measures(person, MEASURES).items() if one is not None}


def chosen_sizes(document: Document, table: SizeTable) -> tuple[str, ...]:
    """The sizes of a table that are wanted, in its order; all of them when none is chosen."""
    wanted = document.grading.sizes
    names = [size.name for size in table.sizes]
    unknown = [name for name in wanted if name not in names]
    if unknown:
        raise InputError(
            say(
                "{table} has no size {unknown}; it has {names}",
                table=table.name,
                unknown=unknown[0],
                names=some(names),
            )
        )
    return tuple(name for name in names if not wanted or name in wanted)


def base_size(document: Document, table: SizeTable) -> str:
    """The size that the pattern is taken to be in: the chosen one, else the wearer's nearest, else the middle one."""
    sizes = chosen_sizes(document, table)
    if document.grading.base in sizes:
        return document.grading.base
    few = replace(table, sizes=tuple(size for size in table.sizes if size.name in sizes))
    fit = nearest_size(few, body_of(document.person))
    return fit.size.name if fit is not None else sizes[len(sizes) // 2]


def check_rules(document: Document) -> None:
    """Raise :class:`InputError` when sizes are to be written by rules and there are none: they would all be alike."""
    if document.grading.way == "rules" and not document.grading.rules:
        raise InputError(
            say(
                "this project has no rules to grade by: read them off the drafted sizes, or give them point by point; "
                "without rules every size would be the same"
            )
        )


def rule_table(document: Document, table: SizeTable) -> RuleTable:
    """The project's rules over the chosen sizes. Raises :class:`InputError` when there are none to choose from."""
    return RuleTable(chosen_sizes(document, table), base_size(document, table), document.grading.rules)


def redrafted(document: Document, person: Person, name: str = "", cache: StageCache | None = None) -> GradedSize:
    """The project drafted again on somebody: always fits; what its steps and seams say goes with it."""
    try:
        made = evaluate(document, person, cache)
    except CaddetError as error:
        return _refused(name or person.name, error, "recipe")
    found = [one for one in made.findings if one.severity != "note"]
    if made.pattern is not None:
        found += walked(made.pattern)
    return GradedSize(name or person.name, made.pattern, findings=tuple(found), person=person)


def _refused(name: str, error: CaddetError, place: str) -> GradedSize:
    return GradedSize(name, None, findings=(Finding("grade", say("{error}.", error=error), place, "stops"),))


def _beginning(document: Document, table: SizeTable, cache: StageCache | None = None) -> tuple[GradedSize, Person]:
    """The pattern that the others come from, and whose it is: the base size's, or the wearer's if it was not drafted."""
    base = base_size(document, table)
    drafted = document.recipe.main is not None
    whose = person_of_size(table, table.size(base)) if drafted else document.person
    return redrafted(document, whose, base, cache), whose


def sizes_of(
    document: Document, table: SizeTable | None = None, people: tuple[Person, ...] = (), cache: StageCache | None = None
) -> Iterator[GradedSize]:
    """Every size that is wanted, the smallest first, then the people; each as it comes, so that it can be left.

    Raises :class:`InputError` when the sizes or the rules can't be used.
    """
    table = table if table is not None else shipped_table(document.grading.table)
    names = chosen_sizes(document, table)
    start, whose = _beginning(document, table, cache)
    one_size = _one_size(document, table, start, body_of(whose), cache)
    for name in names:
        yield replace(one_size(name), base=name == start.name)
    for person in people:
        if document.recipe.main is not None:
            yield redrafted(document, person, cache=cache)
        elif start.pattern is not None:
            yield _measured(start.pattern, body_of(whose), person, person.name)


def _one_size(
    document: Document, table: SizeTable, start: GradedSize, was: Mapping[str, float], cache: StageCache | None
) -> Callable[[str], GradedSize]:
    """How one size is made: drafted again, moved by the rules, or following the measures."""
    way = document.grading.way
    if way == "redraft":
        return lambda name: (
            start if name == start.name else redrafted(document, person_of_size(table, table.size(name)), name, cache)
        )
    if start.pattern is None:
        return lambda name: replace(start, name=name)
    pattern = start.pattern
    if way == "measures":
        return lambda name: (
            start if name == start.name else _measured(pattern, was, person_of_size(table, table.size(name)), name)
        )
    rules = rule_table(document, table)
    wrong = tuple(rules.checked(pattern))
    if any(one.severity == "stops" for one in wrong):
        said = list(dict.fromkeys(f"{one.place}: {one.sentence.rstrip('.')}" for one in wrong))
        raise InputError("; ".join(said[:1]) + (f" ({len(said) - 1} more rules like it)" if len(said) > 1 else ""))

    def by_rules(name: str) -> GradedSize:
        try:
            moved = graded(pattern, rules, name)
        except CaddetError as error:
            return _refused(name, error, "grading")
        return GradedSize(name, moved, findings=(*(wrong if name == start.name else ()), *walked(moved)))

    return by_rules


def _measured(pattern: Pattern, was: Mapping[str, float], person: Person, name: str) -> GradedSize:
    try:
        moved, found = by_measures(pattern, was, body_of(person), name)
    except CaddetError as error:
        return _refused(name, error, "grading")
    return GradedSize(name, moved, findings=(*found, *walked(moved)), person=person)


def nest_of(document: Document, table: SizeTable | None = None, people: tuple[Person, ...] = ()) -> Nest:
    """All sizes at once. Raises :class:`InputError` as :func:`sizes_of` does."""
    return Nest(tuple(sizes_of(document, table, people)))


def derived_rules(
    document: Document, table: SizeTable | None = None, stopped: Callable[[], bool] = lambda: False
) -> Derived:
    """Rules read off the sizes as they are drafted, from each to the next, joined where the steps are alike.

    Raises :class:`Stopped` as soon as ``stopped`` says so.
    """
    table = table if table is not None else shipped_table(document.grading.table)
    names = chosen_sizes(document, table)
    made = []
    for name in names:
        if stopped():
            raise Stopped
        made.append(redrafted(document, person_of_size(table, table.size(name)), name))
    whole = [one for one in made if one.pattern is not None]
    found = in_ranges([one.name for one in whole], [one.pattern for one in whole if one.pattern is not None])
    missing = tuple(
        Finding("grade.derived", say("{size} can't be drafted; it is left out.", size=one.name), "grading", "look")
        for one in made
        if one.pattern is None
    )
    return Derived(found.rules, (*missing, *found.findings))


def _traced_from(document: Document) -> dict[str, str]:
    """The photographs that pieces were traced from; those of the log stay behind with it."""
    tracings = [one.tracing for one in document.recipe.sources if isinstance(one, TracedSource)]
    wanted = {one.photograph for one in tracings if isinstance(one, PhotoTracing)}
    return {name: file for name, file in document.photographs.items() if name in wanted}


def for_person(document: Document, person: Person) -> Document:
    """The project made again for one other person; what was cut, logged or placed for somebody else stays behind."""
    fresh = {
        **document.parts(),
        "people": (person,),
        "wearer": person.name,
        "title": f"{document.title} for {person.name}"[:120],
        "cut": {},
        "made": {},
        "accepted": (),
        "log": (),
        "table": {},
        "photographs": _traced_from(document),
    }
    return Document.model_validate(fresh)


def as_pieces(document: Document, size: GradedSize) -> Document:
    """The project in a graded size: its pieces and seams as they are, no longer a recipe. Raises :class:`CaddetError`."""
    if size.pattern is None:
        raise CaddetError("; ".join(str(one.sentence) for one in size.findings) or "there is no pattern in this size")
    person = size.person or document.person.model_copy(update={"name": size.name[:80]})
    base = for_person(document, person).model_copy(update={"photographs": {}})
    recipe = Recipe().with_source(stored_pattern(size.pattern, f"{document.title}, {size.name}"))
    return base.model_copy(update={"recipe": recipe, "title": f"{document.title}, size {size.name}"[:120]})


def measured_on(document: Document, table: SizeTable, person: Person) -> GradedSize:
    """The pattern following the measures of somebody, level by level, from the size or wearer that it is made for."""
    start, whose = _beginning(document, table)
    if start.pattern is None:
        return replace(start, name=person.name, person=person)
    return _measured(start.pattern, body_of(whose), person, person.name)


def nearest_graded(document: Document, table: SizeTable, sizes: Sequence[GradedSize], person: Person) -> GradedSize:
    """Of graded sizes the one that lies nearest to somebody by the table's measures."""
    names = [one.name for one in sizes]
    few = replace(table, sizes=tuple(size for size in table.sizes if size.name in names))
    fit = nearest_size(few, body_of(person))
    wanted = fit.size.name if fit is not None else base_size(document, table)
    return replace(next(one for one in sizes if one.name == wanted), person=person)
