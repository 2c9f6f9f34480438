"""Commands about blocks: list them, draft one for people."""

from __future__ import annotations

import argparse
import os
import re
from collections.abc import Callable, Sequence
from pathlib import Path

from pydantic import ValidationError

from caddet.cli.words import EXIT_FAILS, EXIT_FINE, EXIT_INPUT, Add, add_json, print_json, remark, say, written
from caddet.core.body.doubts import doubts
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.errors import CaddetError, InputError, expected, one_line, some
from caddet.core.figures.language import FormulaError, names_in, parse
from caddet.core.files.reasons import reason_of
from caddet.core.files.writing import cut_to_bytes
from caddet.core.formats.people_csv import read_people
from caddet.core.formats.project import Pictures, no_pictures, save_project
from caddet.core.lengths import Unit, format_length, parse_length
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import MAIN, Document, Recipe, Value
from caddet.core.recipe.ease import FITS
from caddet.core.recipe.parameters import KIND_WORDS
from caddet.core.recipe.planning import begun
from caddet.core.recipe.registry import Block, Parameter, block_named
from caddet.core.recipe.suitability import plain_cloth
from caddet.core.recipe.typed import typed_value
from caddet.core.recipe.values import Formula, Plain
from caddet.core.sentences import told

CLOTH_WORDS = ("stretch", "stretch_along")
LONGEST_FILE_NAME = 150  # bytes, before the ending


def blocks(arguments: argparse.Namespace) -> int:
    """List every block with its measures and options."""
    from caddet.core.formats.listing import blocks_listing

    listing = blocks_listing()
    if arguments.json:
        print_json(listing)
        return EXIT_FINE
    for block in listing:
        print(f"{block['name']}  {block['label']}: {block['about']}")
        print(f"  needs {', '.join(block['measures']['needed'])}; can use {', '.join(block['measures']['useful'])}")
        for option in block["options"]:
            choices = f" ({' | '.join(option['choices'])})" if option["choices"] else ""
            default = option["default"]
            shown = format_length(default, "cm", with_unit=True) if option["kind"] == "length" else default
            shown = "@FILE" if "\n" in str(shown) else shown
            print(f"  --set {option['name']}={shown}{choices}  {option['label']}")
    return EXIT_FINE


def _option(option: Parameter, text: str, unit: Unit) -> Value:
    """The value of an option as typed; a formula may name measures. Raises :class:`CaddetError`."""
    value: Value = typed_value(option, written(option, text), unit)
    if isinstance(value, Formula):
        for name in sorted(names_in(parse(value.text)) - MEASURES.keys()):
            raise CaddetError(
                f"{option.label}: “{text[:60]}” is not {KIND_WORDS[option.kind]}, and as a formula it may name measures only; there is no measure “{name}”"
            )
    return value


def recipe_from_words(block: Block, words: Sequence[str], unit: Unit) -> Recipe:
    """The recipe for ``--set NAME=VALUE`` words: options, eases and overrides."""
    options: dict[str, Plain | Value] = {}
    ease: dict[str, float] = {}
    overrides: dict[str, str] = {}
    fit = ""
    for word in words:
        if word.partition("=")[0] in CLOTH_WORDS:
            continue
        name, equals, text = word.partition("=")
        if not equals or not text:
            raise InputError(f"“{one_line(word, 60)}” is not NAME=VALUE.", "--set")
        place = f"--set {name}"
        option = next((o for o in block.options if o.name == name), None)
        level = next((e for e in block.ease if f"ease_{e.level}" == name), None)
        try:
            if name == "fit":
                if text not in FITS:
                    raise InputError(
                        f"“{one_line(text, 60)}” is not a way of fitting; expected one of {', '.join(FITS)}."
                    )
                fit = text
            elif option is not None:
                options[name] = _option(option, text, unit)
            elif level is not None:
                ease[level.level] = parse_length(text, unit)
            elif any(figure.name == name for figure in block.figures):
                parse(text)
                overrides[name] = text
            else:
                known = (
                    [o.name for o in block.options] + [f"ease_{e.level}" for e in block.ease] + ["fit", *CLOTH_WORDS]
                )
                raise InputError(
                    f"{block.name} has no “{one_line(name, 60)}”; expected one of {some(known, name, 12)}, or a figure's name.",
                    "--set",
                )
        except FormulaError as error:
            raise InputError(str(error), place) from error
        except InputError as error:
            raise error if error.place else InputError(error.sentence, place) from error
        except CaddetError as error:
            raise InputError(str(error), place) from error
        except ValueError as error:
            raise InputError(f"“{one_line(text, 60)}” is not a number.", place) from error
    try:
        return begun(block.name, fit=fit, options=options, ease=ease, overrides=overrides)
    except ValidationError as error:
        first = error.errors()[0]
        words = expected(first["type"], first.get("ctx", {}), first["msg"])
        raise InputError(f"this value can't be used: {words} (mm).", f"--set {first['loc'][-1]}") from error


def cloth_of(block: Block, words: Sequence[str]) -> Cloth:
    """A plain cloth that suits the block, with the stretch that ``--set stretch=30%`` gives it."""
    cloth = plain_cloth(block)
    for word in words:
        name, _, text = word.partition("=")
        if name in CLOTH_WORDS:
            try:
                share = float(text.rstrip("% ")) / (100 if "%" in text else 1)
                cloth = Cloth.model_validate(
                    {**cloth.model_dump(), name: share, "kind": "knit" if share else cloth.kind}
                )
            except (ValueError, ValidationError):
                raise InputError(
                    f"“{one_line(text, 60)}” is not a stretch; expected one such as 0.3 or 30%.", f"--set {name}"
                ) from None
    return cloth


def draft(arguments: argparse.Namespace) -> int:
    """One project per row; a row that can't be used is told and leaves the others."""
    block = block_named(arguments.block)
    people, remarks = read_people(arguments.people, arguments.unit)
    recipe = recipe_from_words(block, arguments.set, arguments.unit)
    cloth = cloth_of(block, arguments.set)
    remark(remarks)

    def document(person: Person) -> Document:
        """The block for one person."""
        return Document(
            title=f"{block.label} for {person.name}"[:120],
            people=(person,),
            wearer=person.name,
            cloths=(cloth,),
            roles={MAIN: cloth.name},
            recipe=recipe,
        )

    return one_each(people, document, arguments, "drafted", str(arguments.people))


def one_each(
    people: Sequence[Person],
    document: Callable[[Person], Document],
    arguments: argparse.Namespace,
    done: str,
    where: str,
    pictures: Pictures = no_pictures,
) -> int:
    """One project for each person into a folder; somebody who can't be drafted is told and leaves the others.

    ``where`` is where they come from (a file, a table), for what has to be said of them.
    """
    folder: Path = arguments.output
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(f"this folder can't be made: {reason_of(error, folder)}", str(folder)) from error
    names: set[str] = set()
    refused = failed = 0
    for person in people:
        file = folder / f"{file_name(person.name, names)}.caddet"
        try:
            failed += _write_one(document(person), file, arguments, where, pictures)
        except (CaddetError, ValidationError, OSError, ArithmeticError) as error:
            say(f"{person.name}: {error}")
            refused += 1
    print(f"{len(people) - refused} {done} into {folder}, {failed} with something that fails, {refused} refused")
    if refused:
        return EXIT_INPUT
    return EXIT_FAILS if failed else EXIT_FINE


def _write_one(document: Document, file: Path, arguments: argparse.Namespace, where: str, pictures: Pictures) -> bool:
    """Draft for one person; whether something fails. Raises :class:`CaddetError` when there is nothing to write."""
    person = document.person
    if os.path.exists(file) and not arguments.force:
        raise InputError("there is such a file already, and it is left as it is; --force writes over it.", str(file))
    made = make(EvaluateRequest(document))
    doubted = [doubt.finding for doubt in doubts(person)]
    remarks = [*doubted, *(f for f in made.findings if f.severity != "note")]
    remark(remarks, f"{where}, {person.name}, ", arguments.unit)
    if made.pattern is None:
        raise InputError("nothing is drafted for this row.")
    bad = [line for line in made.proof if line.fails]
    for line in bad:
        say(f"{person.name}: {line.label}: {told(line.sentence, arguments.unit)}")
    save_project(document, file, pictures)
    return bool(bad)


def file_name(name: str, taken: set[str]) -> str:
    """A file name for a person: letters, digits, dashes, short enough; never the same twice."""
    plain = re.sub(r"[^\w\-]+", "-", name, flags=re.UNICODE).strip("-")
    base = cut_to_bytes(plain, LONGEST_FILE_NAME).strip("-") or "person"
    chosen, number = base, 2
    while chosen.lower() in taken:
        chosen, number = f"{base}-{number}", number + 1
    taken.add(chosen.lower())
    return chosen


def add_commands(command: Add) -> None:
    """Add these commands and their arguments to the command line."""
    sub = command("blocks", "List the blocks, what they need, their figures and options.", blocks)
    add_json(sub)
    sub = command("draft", "Draft a block for every person of a CSV; one project per row.", draft)
    sub.add_argument("block")
    sub.add_argument("--people", required=True, type=Path, metavar="P.csv")
    sub.add_argument("--unit", choices=("cm", "in"), default="cm")
    sub.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="an option, an ease (ease_hip=5cm), a figure's formula, fit=NAME, or the cloth's stretch=30%%",
    )
    sub.add_argument("--force", action="store_true", help="write over projects that are there already")
    sub.add_argument("-o", "--output", required=True, type=Path, metavar="DIR")
