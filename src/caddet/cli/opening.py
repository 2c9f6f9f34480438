"""How commands open the project that they work on."""

from __future__ import annotations

import argparse
from pathlib import Path

from caddet.cli.words import remark, say
from caddet.core.errors import InputError
from caddet.core.formats.project import Opened, keep_aside, open_project
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make


def opened_project(arguments: argparse.Namespace) -> Opened:
    """The project in the file that a command names; what could not be read is said and kept beside it."""
    path: Path = arguments.file
    opened = open_project(path)
    remark(opened.findings)
    if opened.findings:
        arguments.set_aside = True
        try:
            beside = keep_aside(opened, path)
        except InputError as error:
            say(f"what was set aside can't be kept beside the file: {error}")
        else:
            say(
                f"{path}: what could not be read is kept as {beside.name}"
                if beside
                else f"{path}: read as well as may be"
            )
    return opened


def opened_and_made(arguments: argparse.Namespace) -> Made:
    """The project in the file that a command names, evaluated."""
    return make(EvaluateRequest(opened_project(arguments).document))


def drafted(arguments: argparse.Namespace) -> Made:
    """A project that has a pattern. Raises :class:`InputError` with the reason when it can't be drafted."""
    made = opened_and_made(arguments)
    if made.pattern is None:
        reason = next((f for f in made.findings if f.severity == "stops"), None)
        if reason is None:
            raise InputError("nothing can be drafted.", str(arguments.file))
        raise InputError(reason.sentence, f"{arguments.file}: {reason.place}")
    return made
