"""Commands about one project: list its pieces, check it, write it out, lay it."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from pydantic import ValidationError

from caddet.cli.opening import drafted, opened_and_made
from caddet.cli.words import EXIT_FAILS, EXIT_FINE, Add, add_json, print_json, say
from caddet.core.errors import InputError
from caddet.core.files.writing import write_whole
from caddet.core.lengths import parse_length
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.core.recipe.document import MAIN, Document

if TYPE_CHECKING:
    from caddet.core.laying.plan import LayPlan


def pieces(arguments: argparse.Namespace) -> int:
    """List the pieces, edges, seams and figures of a project."""
    from caddet.core.formats.listing import pieces_listing

    made = drafted(arguments)
    listing = pieces_listing(made)
    if arguments.json:
        print_json(listing)
        return EXIT_FINE
    for piece in listing["pieces"]:
        fold = ", on the fold" if piece["on_fold"] else ""
        print(f"{piece['label']}: cut {piece['cut']}{fold}")
        for edge in piece["edges"]:
            print(f"  {edge['name']:<28}{edge['length'] / 10:8.1f} cm  {edge['finish']}".rstrip())
    for seam in listing["seams"]:
        print(f"seam {seam['name']} {seam['label']}: {seam['length_a'] / 10:.1f} / {seam['length_b'] / 10:.1f} cm")
    for figure in listing["figures"]:
        print(f"{figure['label']}: {figure['sum']} = {figure['value'] / 10:.1f}")
    return EXIT_FINE


def designs(arguments: argparse.Namespace) -> int:
    """List the shipped designs, or write one as a project of one's own."""
    from caddet.core.designs import design_named, designs
    from caddet.core.formats.project import no_pictures, save_project

    if arguments.name:
        design = design_named(arguments.name)
        if arguments.output is None:
            raise InputError("say with -o where the project is written.", "-o")
        if arguments.output.exists():
            raise InputError("there is such a file already, and it is left as it is.", str(arguments.output))
        save_project(design.document, arguments.output, no_pictures)
        print(f"wrote {arguments.output}")
        return EXIT_FINE
    if arguments.json:
        print_json([{"name": one.name, "title": one.title, "about": one.about} for one in designs()])
        return EXIT_FINE
    for one in designs():
        print(f"{one.name}  {one.title}: {one.about}")
    return EXIT_FINE


def notions(arguments: argparse.Namespace) -> int:
    """List what a project needs besides cloth, each with its sum."""
    from caddet.core.formats.listing import notions_listing

    made = drafted(arguments)
    listing = notions_listing(made)
    if arguments.json:
        print_json({"notions": listing})
        return EXIT_FINE
    for one in listing:
        length = f", {one['size'] / 10:.1f} cm" if one["length"] else ""
        packs = f", {one['packs']} packs" if one["packs"] else ""
        print(f"{one['count']} × {one['label']}{length}{packs}")
        if one["sum"]:
            print(f"  {one['sum']}")
        if one["wrong"]:
            print(f"  can't be measured: {one['wrong']}")
    if not listing:
        print("nothing besides the cloth")
    return EXIT_FINE


def check(arguments: argparse.Namespace) -> int:
    """Tell every line of the Proof; exit 1 when one fails and is not accepted."""
    from caddet.core.formats.listing import proof_listing

    made = opened_and_made(arguments)
    if arguments.json:
        print_json(proof_listing(made))
    else:
        for line in made.proof:
            word = (
                "fine "
                if line.accepted
                else "note "
                if line.is_note
                else {"fails": "FAILS", "look": "look ", "holds": "holds"}[line.verdict]
            )
            values = "" if line.kind == "finding" else f"  {line.value:.1f} / {line.limit:.1f}"
            print(f"{word}  {line.label}{values}")
            if line.verdict != "holds" or line.is_note:
                print(f"       {line.place}: {line.sentence}")
            if line.accepted:
                print(f"       accepted: {line.accepted}")
    return EXIT_FAILS if any(line.fails for line in made.proof) else EXIT_FINE


def export(arguments: argparse.Namespace) -> int:
    """Write the pattern in the format that the output's ending names."""
    from caddet.core.formats.export import export_bytes

    output: Path = arguments.output
    made = drafted(arguments)
    write_whole(output, export_bytes(made, output.suffix, paper=arguments.paper, lines=arguments.line))
    print(f"wrote {output}")
    return EXIT_FINE


def lay(arguments: argparse.Namespace) -> int:
    """Plan how the pieces lie on the cloth; exit 1 when one does not go on it."""
    from caddet.core.formats.export import lay_bytes
    from caddet.core.formats.listing import lays_listing
    from caddet.core.laying.items import WontFit
    from caddet.core.laying.plan import plan_lay, roles_of

    made = drafted(arguments)
    if not 0 <= arguments.seconds <= 3600:
        raise InputError(f"{arguments.seconds:g} seconds; expected 0 to 3600.", "--seconds")
    if arguments.output and arguments.output.suffix.lower() not in (".pdf", ".svg"):
        raise InputError("a lay is written as .pdf or .svg.", str(arguments.output))
    roles = roles_of(made.cut) or (MAIN,)
    lays: list[tuple[str, Cloth, LayPlan | str]] = []
    for role in roles:
        cloth, choices = _cloth_of(arguments, made.document, role)
        try:
            seconds = arguments.seconds / len(roles)
            lays.append(
                (role, cloth, plan_lay(made.cut, cloth, choices, role=role, seconds=seconds, seed=arguments.seed))
            )
        except WontFit as refusal:
            say(f"{cloth.name}: {refusal}" if role != MAIN else str(refusal))
            lays.append((role, cloth, str(refusal)))
    for role, cloth, plan in lays:
        if arguments.output and not isinstance(plan, str):
            where = arguments.output if role == MAIN else arguments.output.with_stem(f"{arguments.output.stem} {role}")
            choices = _cloth_of(arguments, made.document, role)[1]
            write_whole(where, lay_bytes(plan, made.document, cloth, choices, where.suffix))
    if arguments.json:
        print_json(lays_listing(lays))
    else:
        for role, cloth, plan in lays:
            if not isinstance(plan, str):
                _say_lay("" if role == MAIN else f"{role.replace('_', ' ')}: ", cloth, plan)
    return EXIT_FAILS if any(isinstance(plan, str) for _, _, plan in lays) else EXIT_FINE


def _cloth_of(arguments: argparse.Namespace, document: Document, role: str) -> tuple[Cloth, LayChoices]:
    """The cloth of a role and how it is laid; what the command line says of the cloth means the main one."""
    cloth, choices = document.cloth_for(role), document.lay_for(role)
    changes: dict[str, Any] = {"nap": True} if arguments.nap and role == MAIN else {}
    if arguments.width and role == MAIN:
        changes["width"] = parse_length(arguments.width)
    try:
        cloth = Cloth.model_validate({**cloth.model_dump(), **changes})
    except ValidationError as error:
        raise InputError(f"{arguments.width}: expected a cloth between 10 cm and 6 m wide.", "--width") from error
    if arguments.open or arguments.folded:
        choices = choices.model_copy(update={"fold": "open" if arguments.open else "folded"})
    return cloth, choices


def _say_lay(role: str, cloth: Cloth, plan: LayPlan) -> None:
    how = "folded" if plan.folded else "open"
    print(f"{role}{how}, {plan.length / 10:.1f} cm of {cloth.width / 10:.0f} cm cloth used ({plan.utilisation:.0%})")
    print(f"{role}to buy: {plan.buy / 1000:.2f} m" + (f", {plan.cost:.2f}" if plan.cost else ""))


def add_commands(command: Add) -> None:
    """Add these commands and their arguments to the command line."""
    sub = command("designs", "List the designs that ship with Caddet, or write one as a project.", designs)
    sub.add_argument("name", nargs="?", metavar="NAME")
    add_json(sub)
    sub.add_argument("-o", "--output", type=Path, metavar="OUT.caddet")
    sub = command("notions", "List what a project needs besides cloth, with the sums.", notions)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = command("pieces", "List the pieces, edges, darts, seams and figures of a project.", pieces)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = command("check", "Run every line of the Proof; exit 1 when one fails.", check)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = command("export", "Write the pattern as .pdf, .svg, .dxf, .csv, .json or .png.", export)
    sub.add_argument("file", type=Path)
    sub.add_argument("-o", "--output", required=True, type=Path, metavar="OUT")
    sub.add_argument("--paper", default="A4", choices=("A4", "A3", "A0", "Letter", "Legal", "Tabloid"))
    sub.add_argument("--line", default="both", choices=("net", "cut", "both"))
    sub = command("lay", "Plan how the pieces lie on the cloth, and the length to buy.", lay)
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
