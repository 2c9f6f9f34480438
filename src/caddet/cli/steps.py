"""Commands about steps: list them, add one to a project."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from caddet.cli.opening import opened_project
from caddet.cli.words import EXIT_FAILS, EXIT_FINE, Add, add_json, print_json, say, written
from caddet.core.errors import CaddetError, InputError, one_line, some
from caddet.core.formats.keeping import store_edited
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.edits import add_step
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.registry import STEPS, Step
from caddet.core.recipe.typed import typed_value


def steps(arguments: argparse.Namespace) -> int:
    """List every step with its parameters, kinds and limits."""
    from caddet.core.formats.listing import steps_listing

    listing = steps_listing()
    if arguments.json:
        print_json({"steps": listing})
        return EXIT_FINE
    for step in listing:
        print(f"{step['name']}  {step['label']}: {step['about']}")
        for parameter in step["parameters"]:
            words = f" ({' | '.join(parameter['choices'])})" if parameter["choices"] else ""
            print(
                f"  {parameter['name']}: {parameter['kind']}{words}  {parameter['label']}. {parameter['why']}".rstrip()
            )
    return EXIT_FINE


def add(arguments: argparse.Namespace) -> int:
    """Add one step at the end of a recipe, as the table would make it; exit 1 when there is something wrong with it."""
    step = _step_named(arguments.step)
    values = _values(step, arguments.values)
    opened = opened_project(arguments)
    try:
        document = add_step(opened.document, StepEntry(kind=step.kind, values=values))
    except CaddetError as error:
        raise InputError(str(error), str(arguments.file)) from error
    entry = document.recipe.steps[-1]
    after = make(EvaluateRequest(document))
    target: Path = arguments.output or arguments.file
    words = step.describe(step.shown_values(entry.values, after.evaluated.names))
    store_edited(opened, arguments.file, document, words, target)
    outcome = next((one for one in after.evaluated.outcomes if one.entry.id == entry.id), None)
    remarks = [f for f in after.findings if f.place.startswith(f"recipe[{entry.id}]")]
    for remark in remarks:
        say(remark.sentence)
    if outcome is None:
        say(f"{entry.id}: the garment can't be drafted, so the step was not tried")
    print(f"{entry.id}: {words}; written to {target}")
    wrong = [one for one in remarks if one.severity != "note"]  # a note is only good to know
    return EXIT_FAILS if wrong or outcome is None else EXIT_FINE


def _step_named(name: str) -> Step:
    if name not in STEPS:
        raise InputError(f"there is no step “{one_line(name, 60)}”; there are {some(sorted(STEPS), name)}.", "step")
    return STEPS[name]


def _values(step: Step, words: list[str]) -> dict[str, Any]:
    known = {parameter.name: parameter for parameter in step.parameters}
    found: dict[str, Any] = {}
    for word in words:
        name, equals, text = word.partition("=")
        if not equals:
            raise InputError(f"“{one_line(word, 60)}” is not NAME=VALUE.", step.kind)
        if name not in known:
            raise InputError(f"it has no value “{one_line(name, 60)}”; it has {some(known, name)}.", step.kind)
        if name in found:
            raise InputError("it is given twice.", f"{step.kind} {name}")
        try:
            found[name] = typed_value(known[name], written(known[name], text))
        except InputError:
            raise
        except (CaddetError, ValueError) as error:
            raise InputError(f"{error}.", f"{step.kind} {name}") from error
    return found


def add_commands(command: Add) -> None:
    """Add these commands and their arguments to the command line."""
    sub = command("steps", "List the steps with their values, kinds and limits.", steps)
    add_json(sub)
    sub = command("add", "Add one step at the end of a project's recipe; exit 1 when it can't be done.", add)
    sub.add_argument("file", type=Path)
    sub.add_argument("step")
    sub.add_argument(
        "values",
        nargs="*",
        metavar="NAME=VALUE",
        help="a length (3cm) or formula, a choice, a place (front.side@0.4), edges with commas",
    )
    sub.add_argument(
        "-o", "--output", type=Path, metavar="OUT.caddet", help="write there; the project itself if left out"
    )
