"""The command line: a thin face on the core. Exit 0 fine, 1 a check fails or something was set aside on
reading, 2 the input can't be used.
"""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

from caddet import __version__
from caddet.cli.words import EXIT_FAILS, EXIT_FINE, Parser, refuse
from caddet.core.errors import CaddetError, InputError, expected
from caddet.core.faults import write_fault
from caddet.core.files.reasons import reason_of


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command, or open the window when none is named. Returns the exit code."""
    words = list(sys.argv[1:] if argv is None else argv)
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):  # a letter that the terminal lacks is no reason to stop
            stream.reconfigure(errors="backslashreplace")
    code = _guarded(words)
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except BrokenPipeError:
        _let_go_of_output()
    except OSError as error:
        _let_go_of_output()
        return refuse(f"output: {reason_of(error, Path('output'))}")
    return code


def _guarded(words: list[str]) -> int:
    """The one place that turns whatever is raised into a sentence and an exit code."""
    try:
        if words and words[0] in _COMMANDS:
            arguments = _parser().parse_args(words)
            arguments.set_aside = False
            command: Callable[[argparse.Namespace], int] = arguments.command
            code = command(arguments)
            return EXIT_FAILS if code == EXIT_FINE and arguments.set_aside else code
        return _window(words)
    except CaddetError as error:
        return refuse(str(error))
    except BrokenPipeError:
        _let_go_of_output()
        return EXIT_FINE
    except OSError as error:
        place = str(error.filename) if error.filename else "output"
        return refuse(f"{place}: {reason_of(error, Path(place))}")
    except SystemExit as ended:  # --help and --version end so
        return int(ended.code or 0)
    except KeyboardInterrupt:
        return 130
    except MemoryError:
        return refuse("there is not enough memory for this.")
    except Exception as error:
        return refuse(_said(error))


def _said(error: Exception) -> str:
    """What a value that doesn't fit was meant to be; of a fault of ours only where its trace is written."""
    from pydantic import ValidationError

    if isinstance(error, ValidationError):
        first = error.errors()[0]
        return f"{'.'.join(map(str, first['loc']))}: {expected(first['type'], first.get('ctx', {}), first['msg'])}."
    return f"something went wrong inside Caddet; what happened is written in {write_fault(error)}."


def _let_go_of_output() -> None:
    """Nothing more can be written; Python must not try at the end."""
    try:
        sys.stdout = open(os.devnull, "w")  # noqa: SIM115  (it stays open to the end)
    except OSError:
        sys.stdout = None


def _parser() -> Parser:
    from caddet.cli import drafting, grading, projects, steps, tracing  # the window opens without them

    parser = Parser(prog="caddet", description="Draft, check and lay out your own garment patterns.")
    commands = parser.add_subparsers(required=True, parser_class=Parser)

    def add(name: str, words: str, run: Callable[[argparse.Namespace], int]) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=words, description=words)
        sub.set_defaults(command=run)
        return sub

    for one in (drafting, grading, tracing, projects, steps):
        one.add_commands(add)
    return parser


def _window(words: Sequence[str]) -> int:
    parser = Parser(
        prog="caddet",
        description="Draft, check and lay out your own garment patterns. Without a command: open the window.",
        epilog="Commands: " + ", ".join(_COMMANDS) + ". See: caddet COMMAND --help",
    )
    parser.add_argument("file", nargs="?", type=Path, help="a project NAME.caddet, or one of the commands")
    parser.add_argument("--demo", action="store_true", help="open the ringers' skirt")
    parser.add_argument("--version", action="version", version=f"caddet {__version__}")
    arguments = parser.parse_args(list(words))
    if arguments.file is not None and arguments.file.suffix != ".caddet" and not os.path.exists(arguments.file):
        raise InputError(f"no such file or command; commands are {', '.join(_COMMANDS)}.", str(arguments.file))
    try:
        from caddet.desk.app import run
    except ImportError as error:
        raise InputError(
            f"the window needs Qt, which can't be loaded ({error}). On Debian: apt-get install libegl1 libgl1 "
            "libxkbcommon-x11-0 libxcb-cursor0.",
            "display",
        ) from error
    return run(arguments.file, arguments.demo)


_COMMANDS = (
    "blocks", "steps", "designs", "draft", "trace", "grade", "add", "pieces", "notions", "check", "export", "lay",
)  # fmt: skip
