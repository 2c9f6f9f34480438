"""What all commands share: exit codes and how they speak."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, NoReturn

from caddet.core.errors import Finding, InputError, one_line
from caddet.core.files.reading import read_text
from caddet.core.lengths import Unit
from caddet.core.recipe.parameters import Parameter
from caddet.core.sentences import told

EXIT_FINE, EXIT_FAILS, EXIT_INPUT = 0, 1, 2

Add = Callable[[str, str, Callable[[argparse.Namespace], int]], argparse.ArgumentParser]  # name, help, what it runs


class Parser(argparse.ArgumentParser):
    """A parser whose complaints are sentences like all others."""

    def error(self, message: str) -> NoReturn:
        """Raise :class:`InputError` with what is wrong with the words."""
        raise InputError(f"{one_line(message, 200)}. See: {self.prog} --help", "command line")


def add_json(sub: argparse.ArgumentParser) -> None:
    """The flag for output that other programs read."""
    sub.add_argument("--json", action="store_true", help="one JSON document on standard output, lengths in mm")


def refuse(sentence: str) -> int:
    """Say in one line why the input can't be used."""
    say(one_line(sentence))
    return EXIT_INPUT


def say(sentence: str) -> None:
    """One line on standard error, where there is one."""
    with contextlib.suppress(OSError, ValueError, AttributeError):  # where nobody listens, the exit code still tells
        print("caddet: " + " ".join(sentence.split()), file=sys.stderr)


def remark(findings: Sequence[Finding], where: str = "", unit: Unit = "cm") -> None:
    """Say each finding with its place."""
    for finding in findings:
        say(f"{where}{finding.place}: {told(finding.sentence, unit)}")


def print_json(value: Any) -> None:
    """One JSON document on standard output; letters are escaped where the output can't carry them."""
    if sys.stdout is None:
        raise InputError("standard output is closed.", "output")
    plain = (sys.stdout.encoding or "ascii").lower().replace("-", "") != "utf8"
    sys.stdout.write(json.dumps(value, ensure_ascii=plain, indent=1, allow_nan=False) + "\n")


def written(parameter: Parameter, text: str) -> str:
    """What is typed for a value; a text in lines may be read from a file, as ``@FILE``.

    Raises :class:`InputError` when the file can't be read.
    """
    if parameter.notes is None or not text.startswith("@"):
        return text
    try:
        return read_text(Path(text[1:]))
    except InputError as error:
        raise InputError(f"{text[1:]}: {error.sentence}", parameter.name) from error
