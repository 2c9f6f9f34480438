"""The command line: a thin face on the core. Exit 0 fine, 1 a check fails, 2 the input can't be used."""

from __future__ import annotations

import argparse
import json
import re
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, NoReturn

from pydantic import ValidationError

from caddet import __version__
from caddet.core import demo
from caddet.core.body.doubts import doubts
from caddet.core.body.person import Person
from caddet.core.errors import CaddetError, Finding, InputError
from caddet.core.figures.language import FormulaError, parse
from caddet.core.formats.files import write_whole
from caddet.core.formats.people_csv import read_people
from caddet.core.formats.project import open_project, save_project
from caddet.core.lengths import Unit, format_length, in_unit, parse_length
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import MAIN, Document, Recipe
from caddet.core.recipe.ease import FITS
from caddet.core.recipe.registry import Block, block_named
from caddet.core.recipe.suitability import plain_cloth
from caddet.core.recipe.values import Plain, Value
from caddet.core.workroom import EvaluateRequest, Made, make

CLOTH_WORDS = ("stretch", "stretch_along")
EXIT_FINE, EXIT_FAILS, EXIT_INPUT = 0, 1, 2


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise InputError(f"{message}. See: {self.prog} --help", "command line")


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command, or open the window when none is named. Returns the exit code."""
    words = list(sys.argv[1:] if argv is None else argv)
    try:
        if words and words[0] in _COMMANDS:
            arguments = _parser().parse_args(words)
            command: Callable[[argparse.Namespace], int] = arguments.command
            return command(arguments)
        return _window(words)
    except InputError as error:
        return _refuse(str(error))
    except CaddetError as error:
        return _refuse(str(error))
    except BrokenPipeError:
        return EXIT_FINE
    except KeyboardInterrupt:
        return 130


def _refuse(sentence: str) -> int:
    print("caddet: " + " ".join(sentence.split()), file=sys.stderr)
    return EXIT_INPUT


def _remark(findings: Sequence[Finding], where: str = "", unit: Unit = "cm") -> None:
    for finding in findings:
        print(f"caddet: {where}{finding.place}: {in_unit(finding.sentence, unit)}", file=sys.stderr)


def _parser() -> _Parser:
    parser = _Parser(prog="caddet", description="Draft, check and lay out your own garment patterns.")
    commands = parser.add_subparsers(required=True, parser_class=_Parser)

    def add(name: str, words: str, run: Callable[[argparse.Namespace], int]) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=words, description=words)
        sub.set_defaults(command=run)
        return sub

    def add_json(sub: argparse.ArgumentParser) -> None:
        sub.add_argument("--json", action="store_true", help="one JSON document on standard output, lengths in mm")

    sub = add("blocks", "List the blocks, what they need, their figures and options.", _blocks)
    add_json(sub)
    sub = add("draft", "Draft a block for every person of a CSV; one project per row.", _draft)
    sub.add_argument("block")
    sub.add_argument("--people", required=True, type=Path, metavar="P.csv")
    sub.add_argument("--unit", choices=("cm", "in"), default="cm")
    sub.add_argument("--set", action="append", default=[], metavar="NAME=VALUE",
                     help="an option, an ease (ease_hip=5cm), a figure's formula, fit=NAME, or the cloth's stretch=30%%")  # fmt: skip
    sub.add_argument("-o", "--output", required=True, type=Path, metavar="DIR")
    sub = add("pieces", "List the pieces, edges, darts, seams and figures of a project.", _pieces)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = add("check", "Run every line of the Proof; exit 1 when one fails.", _check)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = add("export", "Write the pattern as .pdf, .svg, .dxf, .csv, .json or .png.", _export)
    sub.add_argument("file", type=Path)
    sub.add_argument("-o", "--output", required=True, type=Path, metavar="OUT")
    sub.add_argument("--paper", default="A4", choices=("A4", "A3", "A0", "Letter", "Legal", "Tabloid"))
    sub.add_argument("--line", default="both", choices=("net", "cut", "both"))
    sub = add("lay", "Plan how the pieces lie on the cloth, and the length to buy.", _lay)
    sub.add_argument("file", type=Path)
    sub.add_argument("--width", metavar="140cm", help="the cloth's width; the project's own if left out")
    fold = sub.add_mutually_exclusive_group()
    fold.add_argument("--open", action="store_true", help="in a single layer")
    fold.add_argument("--folded", action="store_true", help="folded lengthwise")
    sub.add_argument("--nap", action="store_true", help="every piece the same way up")
    sub.add_argument("--seconds", type=float, default=4.0, metavar="S", help="how long to search")
    sub.add_argument("--seed", type=int, default=1, metavar="N")
    add_json(sub)
    sub.add_argument("-o", "--output", type=Path, metavar="OUT.pdf|.svg")
    return parser


def _print_json(value: Any) -> None:
    json.dump(value, sys.stdout, ensure_ascii=False, indent=1)
    print()


def _blocks(arguments: argparse.Namespace) -> int:
    from caddet.core.formats.listing import blocks_listing

    listing = blocks_listing()
    if arguments.json:
        _print_json(listing)
        return EXIT_FINE
    for block in listing:
        print(f"{block['name']}  {block['label']}: {block['about']}")
        print(f"  needs {', '.join(block['measures']['needed'])}; can use {', '.join(block['measures']['useful'])}")
        for option in block["options"]:
            choices = f" ({' | '.join(option['choices'])})" if option["choices"] else ""
            default = option["default"]
            shown = format_length(default, "cm", with_unit=True) if option["kind"] == "length" else default
            print(f"  --set {option['name']}={shown}{choices}  {option['label']}")
    return EXIT_FINE


def _settings(block: Block, words: Sequence[str], unit: Unit) -> Recipe:
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
            raise InputError(f"“{word}” is not NAME=VALUE.", "--set")
        place = f"--set {name}"
        option = next((o for o in block.options if o.name == name), None)
        level = next((e for e in block.ease if f"ease_{e.level}" == name), None)
        try:
            if name == "fit":
                if text not in FITS:
                    raise InputError(f"“{text}” is not a way of fitting; expected one of {', '.join(FITS)}.")
                fit = text
            elif option is not None:
                value: Plain = text
                if option.kind == "length":
                    value = parse_length(text, unit)
                elif option.kind == "number":
                    value = float(text)
                elif option.kind == "flag":
                    value = text.lower() in ("yes", "true", "1")
                options[name] = option.checked(value)
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
                    f"{block.name} has no “{name}”; expected one of {', '.join(known)}, or a figure's name.", "--set"
                )
        except FormulaError as error:
            raise InputError(str(error), place) from error
        except InputError as error:
            raise error if error.place else InputError(error.sentence, place) from error
        except CaddetError as error:
            raise InputError(str(error), place) from error
        except ValueError as error:
            raise InputError(f"“{text}” is not a number.", place) from error
    return Recipe.of(block.name, fit=fit, options=options, ease=ease, overrides=overrides)


def _cloth(block: Block, words: Sequence[str]) -> Cloth:
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
                    f"“{text}” is not a stretch; expected one such as 0.3 or 30%.", f"--set {name}"
                ) from None
    return cloth


def _draft(arguments: argparse.Namespace) -> int:
    block = block_named(arguments.block)
    people, remarks = read_people(arguments.people, arguments.unit)
    recipe = _settings(block, arguments.set, arguments.unit)
    cloth = _cloth(block, arguments.set)
    _remark(remarks)
    folder: Path = arguments.output
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(f"this folder can't be made ({error.strerror}).", str(folder)) from error
    failed = refused = 0
    names: set[str] = set()
    for person in people:
        document = _document_for(person, recipe, block, cloth)
        made = make(EvaluateRequest(document))
        doubted = [doubt.finding for doubt in doubts(person, arguments.unit)]
        told = [*doubted, *(f for f in made.findings if f.severity != "note")]
        _remark(told, f"{arguments.people}, {person.name}, ", arguments.unit)
        if made.pattern is None:
            refused += 1
            continue
        bad = [line for line in made.proof if line.verdict == "fails"]
        for line in bad:
            print(f"caddet: {person.name}: {line.label}: {in_unit(line.sentence, arguments.unit)}", file=sys.stderr)
        failed += bool(bad)
        save_project(document, folder / f"{_file_name(person.name, names)}.caddet")
    print(f"{len(people) - refused} drafted into {folder}, {failed} with something that fails, {refused} refused")
    if refused:
        return EXIT_INPUT
    return EXIT_FAILS if failed else EXIT_FINE


def _document_for(person: Person, recipe: Recipe, block: Block, cloth: Cloth) -> Document:
    try:
        return Document(
            title=f"{block.label} for {person.name}"[:120],
            people=(person,),
            wearer=person.name,
            cloths=(cloth,),
            roles={MAIN: cloth.name},
            recipe=recipe,
        )
    except ValidationError as error:
        raise InputError(error.errors()[0]["msg"], person.name) from error


def _file_name(name: str, taken: set[str]) -> str:
    """A file name for a person: letters, digits, dashes; never the same twice."""
    base = re.sub(r"[^\w\-]+", "-", name, flags=re.UNICODE).strip("-")[:80] or "person"
    chosen, number = base, 2
    while chosen.lower() in taken:
        chosen, number = f"{base}-{number}", number + 1
    taken.add(chosen.lower())
    return chosen


def _made(path: Path) -> Made:
    opened = open_project(path)
    _remark(opened.findings)
    return make(EvaluateRequest(opened.document))


def _drafted(path: Path) -> Made:
    """A project that has a pattern; exit 2 with the reason when the block can't be drafted."""
    made = _made(path)
    if made.pattern is None:
        reason = next((f for f in made.findings if f.severity == "stops"), None)
        if reason is None:
            raise InputError("nothing can be drafted.", str(path))
        raise InputError(reason.sentence, f"{path}: {reason.place}")
    return made


def _pieces(arguments: argparse.Namespace) -> int:
    from caddet.core.formats.listing import pieces_listing

    made = _drafted(arguments.file)
    listing = pieces_listing(made)
    if arguments.json:
        _print_json(listing)
        return EXIT_FINE
    for piece in listing["pieces"]:
        fold = ", on the fold" if piece["on_fold"] else ""
        print(f"{piece['label']}: cut {piece['cut']}{fold}")
        for edge in piece["edges"]:
            print(f"  {edge['name']:<16}{edge['length'] / 10:8.1f} cm")
    for seam in listing["seams"]:
        print(f"seam {seam['name']} {seam['label']}: {seam['length_a'] / 10:.1f} / {seam['length_b'] / 10:.1f} cm")
    for figure in listing["figures"]:
        print(f"{figure['label']}: {figure['sum']} = {figure['value'] / 10:.1f}")
    return EXIT_FINE


def _check(arguments: argparse.Namespace) -> int:
    from caddet.core.formats.listing import proof_listing

    made = _made(arguments.file)
    if arguments.json:
        _print_json(proof_listing(made))
    else:
        for line in made.proof:
            word = {"fails": "FAILS", "look": "look ", "holds": "holds"}[line.verdict]
            values = "" if line.kind == "finding" else f"  {line.value:.1f} / {line.limit:.1f}"
            print(f"{word}  {line.label}{values}")
            if line.verdict != "holds":
                print(f"       {line.place}: {line.sentence}")
    return EXIT_FAILS if any(line.verdict == "fails" for line in made.proof) else EXIT_FINE


def _export(arguments: argparse.Namespace) -> int:
    from caddet.core.formats.export import export_bytes

    output: Path = arguments.output
    made = _drafted(arguments.file)
    write_whole(output, export_bytes(made, output.suffix, paper=arguments.paper, lines=arguments.line))
    print(f"wrote {output}")
    return EXIT_FINE


def _lay(arguments: argparse.Namespace) -> int:
    from caddet.core.formats.export import lay_bytes
    from caddet.core.formats.listing import lay_listing
    from caddet.core.laying.items import WontFit
    from caddet.core.laying.plan import plan_lay

    made = _drafted(arguments.file)
    cloth, choices = made.document.chosen_cloth, made.document.lay
    changes: dict[str, Any] = {"nap": True} if arguments.nap else {}
    if arguments.width:
        changes["width"] = parse_length(arguments.width)
    try:
        cloth = Cloth.model_validate({**cloth.model_dump(), **changes})
    except ValidationError as error:
        raise InputError(f"{arguments.width}: expected a cloth between 10 cm and 6 m wide.", "--width") from error
    if not 0 <= arguments.seconds <= 3600:
        raise InputError(f"{arguments.seconds:g} seconds; expected 0 to 3600.", "--seconds")
    if arguments.open or arguments.folded:
        choices = choices.model_copy(update={"fold": "open" if arguments.open else "folded"})
    if arguments.output and arguments.output.suffix.lower() not in (".pdf", ".svg"):
        raise InputError("a lay is written as .pdf or .svg.", str(arguments.output))
    try:
        plan = plan_lay(made.cut, cloth, choices, seconds=arguments.seconds, seed=arguments.seed)
    except WontFit as refusal:
        print(f"caddet: {refusal}", file=sys.stderr)
        return EXIT_FAILS
    if arguments.output:
        write_whole(arguments.output, lay_bytes(plan, made.document, cloth, arguments.output.suffix))
    if arguments.json:
        _print_json(lay_listing(plan))
        return EXIT_FINE
    how = "folded" if plan.folded else "open"
    print(f"{how}, {plan.length / 10:.1f} cm of {cloth.width / 10:.0f} cm cloth used ({plan.utilisation:.0%})")
    print(f"to buy: {plan.buy / 1000:.2f} m" + (f", {plan.cost:.2f}" if plan.cost else ""))
    return EXIT_FINE


def _window(words: Sequence[str]) -> int:
    parser = _Parser(
        prog="caddet",
        description="Draft, check and lay out your own garment patterns. Without a command: open the window.",
        epilog="Commands: " + ", ".join(_COMMANDS) + ". See: caddet COMMAND --help",
    )
    parser.add_argument("file", nargs="?", type=Path, help="a project NAME.caddet, or one of the commands")
    parser.add_argument("--demo", action="store_true", help="open the ringers' skirt")
    parser.add_argument("--version", action="version", version=f"caddet {__version__}")
    arguments = parser.parse_args(list(words))
    if arguments.file is not None and not arguments.file.exists() and arguments.file.suffix != ".caddet":
        raise InputError(f"no such file or command; commands are {', '.join(_COMMANDS)}.", str(arguments.file))
    try:
        from caddet.desk.app import run
    except ImportError as error:
        raise InputError(
            f"the window needs Qt, which can't be loaded ({error}). On Debian: apt-get install libegl1 libgl1 "
            "libxkbcommon-x11-0 libxcb-cursor0.",
            "display",
        ) from error
    return run(arguments.file, demo.demo_document if arguments.demo else None)


_COMMANDS = ("blocks", "draft", "pieces", "check", "export", "lay")
