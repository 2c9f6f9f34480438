"""``caddet grade``: a project for the sizes of a table or for people, drafted again, by rules, or by measures."""

from __future__ import annotations

import argparse
import os
from collections.abc import Sequence
from pathlib import Path

from caddet.cli.drafting import one_each
from caddet.cli.opening import opened_project
from caddet.cli.words import EXIT_FAILS, EXIT_FINE, Add, add_json, print_json, remark, say
from caddet.core.body.person import Person
from caddet.core.body.sizes import SizeTable, person_of_size, read_sizes, shipped_table
from caddet.core.errors import InputError, some
from caddet.core.files.reading import read_text
from caddet.core.files.writing import write_whole
from caddet.core.formats.keeping import pictures_of
from caddet.core.formats.people_csv import read_people
from caddet.core.formats.project import Pictures
from caddet.core.grading.nest import GradedSize, Nest
from caddet.core.grading.rules import RuleTable
from caddet.core.grading.rules_csv import read_rules, rules_text
from caddet.core.grading.sizes import (
    as_pieces,
    base_size,
    check_rules,
    chosen_sizes,
    derived_rules,
    for_person,
    measured_on,
    nearest_graded,
    nest_of,
)
from caddet.core.recipe.document import Document
from caddet.core.recipe.grading import MOST_SIZES, Grading
from caddet.core.sentences import told

SHIPPED = ("women", "men", "children")


def grade(arguments: argparse.Namespace) -> int:
    """A design in other sizes or for other people: one project each, what is to be said on standard error."""
    opened = opened_project(arguments)
    if arguments.people is None and arguments.sizes is None:
        raise InputError("expected --people P.csv or --sizes TABLE (women, men, children, or a CSV).", "grade")
    table = _table(arguments)
    document = opened.document.model_copy(update={"grading": _choices(opened.document, table, arguments)})
    if arguments.derive is not None:
        return _derive(document, table, arguments)
    if arguments.output is None and not arguments.json:
        raise InputError("expected -o DIR, or --json to look only.", "-o")
    try:
        check_rules(document)
    except InputError as error:
        raise InputError(
            f"{error} (--derive R.csv writes those of the drafted sizes, --rules R.csv reads them).", "--way"
        ) from error
    if arguments.people is not None:
        return _for_people(document, table, arguments, pictures_of(opened.pictures, arguments.file))
    return _for_sizes(document, table, arguments, pictures_of(opened.pictures, arguments.file))


def _table(arguments: argparse.Namespace) -> SizeTable:
    """The size table that is named: one that ships, or a CSV."""
    name = arguments.sizes or "women"
    if name in SHIPPED:
        return shipped_table(name)
    file = Path(name)
    if not file.suffix and not os.path.exists(file):
        raise InputError(f"there is no size table “{name}”; expected women, men, children, or a CSV.", "--sizes")
    return read_sizes(read_text(file), file.stem, arguments.unit, place=str(file))


def _choices(document: Document, table: SizeTable, arguments: argparse.Namespace) -> Grading:
    """What the project keeps about sizes, with what the command says in its place."""
    kept = document.grading
    changed: dict[str, object] = {}
    if arguments.way is not None:
        changed["way"] = arguments.way
    names = [size.name for size in table.sizes]
    if arguments.only is not None:
        wanted = tuple(one.strip() for one in arguments.only.split(",") if one.strip())
        _ordered(wanted, names, "--only")
        changed["sizes"] = wanted
    elif any(name not in names for name in kept.sizes):
        changed["sizes"] = ()
    if arguments.base is not None:
        if arguments.base not in names:
            raise InputError(f"{table.name} has no size “{arguments.base}”; it has {some(names)}.", "--base")
        changed["base"] = arguments.base
    if arguments.rules is not None:
        rules = read_rules(read_text(arguments.rules), str(arguments.rules))
        missing = [name for name in rules.sizes if name not in names]
        if missing and arguments.sizes is not None:
            raise InputError(f"{table.name} has no size “{missing[0]}”; it has {some(names)}.", str(arguments.rules))
        changed |= {"way": arguments.way or "rules", "rules": rules.rules}
        changed.setdefault("sizes", rules.sizes)
        changed.setdefault("base", rules.base)
    return Grading.model_validate({**kept.model_dump(), **changed})


def _ordered(wanted: Sequence[str], names: Sequence[str], where: str) -> None:
    """Raises :class:`InputError` for sizes that are not in the table, or not in its order."""
    unknown = [name for name in wanted if name not in names]
    if unknown or not wanted:
        raise InputError(f"there is no size “{unknown[0] if unknown else ''}”; there are {some(names)}.", where)
    if len(set(wanted)) != len(wanted) or [names.index(one) for one in wanted] != sorted(
        names.index(one) for one in wanted
    ):
        raise InputError(f"the sizes are out of order: {', '.join(wanted)}; expected them as in the table.", where)
    if len(wanted) > MOST_SIZES:
        raise InputError(f"more than {MOST_SIZES} sizes.", where)


def _derive(document: Document, table: SizeTable, arguments: argparse.Namespace) -> int:
    """Rules read off the drafted sizes, written as CSV."""
    found = derived_rules(document, table)
    remark(found.findings)
    if not found.rules:
        raise InputError("no rules could be read off these sizes; expected at least two that are drafted.", "--derive")
    rules = RuleTable(chosen_sizes(document, table), base_size(document, table), found.rules)
    write_whole(arguments.derive, rules_text(rules).encode())
    print(f"{len(found.rules)} rules for {len(rules.sizes)} sizes into {arguments.derive}")
    return EXIT_FAILS if any(one.severity == "stops" for one in found.findings) else EXIT_FINE


def _for_people(document: Document, table: SizeTable, arguments: argparse.Namespace, pictures: Pictures) -> int:
    people, remarks = read_people(arguments.people, arguments.unit)
    remark(remarks)
    redraft = document.grading.way == "redraft"
    sizes = nest_of(document, table).sizes if not redraft else ()

    def made(person: Person) -> Document:
        """The design for one person."""
        if redraft:
            return for_person(document, person)
        if document.grading.way == "measures":
            return as_pieces(document, measured_on(document, table, person))
        size = nearest_graded(document, table, sizes, person)
        say(f"{person.name}: nearest is size {size.name}")
        return for_person(as_pieces(document, size), person)

    if arguments.output is None:
        graded = nest_of(document, table, tuple(people)).sizes
        return _tell(Nest(tuple(one for one in graded if one.person in people)), arguments)
    return one_each(people, made, arguments, "made again", str(arguments.people), pictures)


def _for_sizes(document: Document, table: SizeTable, arguments: argparse.Namespace, pictures: Pictures) -> int:
    nest = nest_of(document, table)
    if arguments.output is None:
        return _tell(nest, arguments)
    people = [person_of_size(table, table.size(one.name), one.name) for one in nest.sizes]
    sizes = {one.name: one for one in nest.sizes}

    def made(person: Person) -> Document:
        """The design in one size."""
        if document.grading.way == "redraft":
            return for_person(document, person)
        return as_pieces(document, _of(sizes[person.name], person))

    code = one_each(people, made, arguments, "graded", f"{table.name}", pictures)
    for one in nest.sizes:
        remark(one.findings if document.grading.way != "redraft" else (), f"{table.name} {one.name}, ", arguments.unit)
    return code if code or not any(one.fails for one in nest.sizes) else EXIT_FAILS


def _of(size: GradedSize, person: Person) -> GradedSize:
    return GradedSize(size.name, size.pattern, size.base, size.findings, person)


def _tell(nest: Nest, arguments: argparse.Namespace) -> int:
    """The nest as JSON: sizes with their findings, pieces with the spreads of their points."""
    print_json(
        {
            "sizes": [
                {
                    "name": one.name,
                    "base": one.base,
                    "drafted": one.pattern is not None,
                    "findings": [
                        {"place": f.place, "sentence": told(f.sentence, arguments.unit), "severity": f.severity}
                        for f in one.findings
                    ],
                }
                for one in nest.sizes
            ],
            "pieces": [
                {
                    "piece": piece,
                    "points": [
                        {
                            "point": row.point,
                            "spread": [
                                None if move is None else [round(move.real, 3), round(move.imag, 3)]
                                for move in row.moves
                            ],
                        }
                        for row in nest.spreads(piece)
                    ],
                }
                for piece in nest.pieces()
            ],
        }
    )
    return EXIT_FAILS if any(one.fails for one in nest.sizes) else EXIT_FINE


def add_commands(command: Add) -> None:
    """Add these commands and their arguments to the command line."""
    sub = command("grade", "Make a design in other sizes or for other people; one project each.", grade)
    sub.add_argument("file", type=Path)
    sub.add_argument("--people", type=Path, metavar="P.csv", help="one project a row")
    sub.add_argument("--sizes", metavar="TABLE", help="women, men, children, or a CSV; one project a size")
    sub.add_argument("--only", metavar="S,M,L", help="some sizes of the table, in its order")
    sub.add_argument("--base", metavar="SIZE", help="the size the pattern is in, for rules and measures")
    sub.add_argument("--way", choices=("redraft", "rules", "measures"), help="the project's own if left out")
    sub.add_argument("--rules", type=Path, metavar="R.csv", help="grade by these rules")
    sub.add_argument(
        "--derive", type=Path, metavar="R.csv", help="write the rules read off the drafted sizes, and stop"
    )
    sub.add_argument("--unit", choices=("cm", "in"), default="cm")
    sub.add_argument("--force", action="store_true", help="write over projects that are there already")
    add_json(sub)
    sub.add_argument("-o", "--output", type=Path, metavar="DIR")
