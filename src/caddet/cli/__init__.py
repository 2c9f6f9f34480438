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
from caddet.cli.words import EXIT_FAILS, EXIT_FINE, Parser, add_json, refuse
from caddet.core.errors import CaddetError, InputError, expected
from caddet.core.faults import write_fault
from caddet.core.formats.files import reason_of


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

    sub = add("blocks", "List the blocks, what they need, their figures and options.", drafting.blocks)
    add_json(sub)
    sub = add("draft", "Draft a block for every person of a CSV; one project per row.", drafting.draft)
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
    sub = add("grade", "Make a design in other sizes or for other people; one project each.", grading.grade)
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
    sub = add(
        "trace",
        "Trace a garment from a list of tape readings or a photograph; without a file, list what can be traced.",
        tracing.trace,
    )
    sub.add_argument(
        "files",
        nargs="*",
        type=Path,
        metavar="READINGS.csv|PHOTO…",
        help="columns what, at, value; or JPEG or PNG pictures with a sheet of known size in each, joined by the marks they share",
    )
    sub.add_argument("--kind", metavar="KIND", help="the kind of garment; alone, it lists what is read on it")
    sub.add_argument("--unit", choices=("cm", "in"), default="cm", help="of readings without a unit")
    sub.add_argument(
        "--sheet",
        choices=("A4", "Letter", "caddet", "scan_A4", "scan_Letter"),
        default="A4",
        help="the sheet in the photograph; of a scan, the page that it is",
    )
    sub.add_argument(
        "--shape", metavar="front,back", help="which pieces of the kind the outlines are, the largest first"
    )
    sub.add_argument("--force", action="store_true", help="write over a project that is there already")
    add_json(sub)
    sub.add_argument("-o", "--output", type=Path, metavar="OUT.caddet")
    sub = add("designs", "List the designs that ship with Caddet, or write one as a project.", projects.designs)
    sub.add_argument("name", nargs="?", metavar="NAME")
    add_json(sub)
    sub.add_argument("-o", "--output", type=Path, metavar="OUT.caddet")
    sub = add("notions", "List what a project needs besides cloth, with the sums.", projects.notions)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = add("pieces", "List the pieces, edges, darts, seams and figures of a project.", projects.pieces)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = add("steps", "List the steps with their values, kinds and limits.", steps.steps)
    add_json(sub)
    sub = add("add", "Add one step at the end of a project's recipe; exit 1 when it can't be done.", steps.add)
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
    sub = add("check", "Run every line of the Proof; exit 1 when one fails.", projects.check)
    sub.add_argument("file", type=Path)
    add_json(sub)
    sub = add("export", "Write the pattern as .pdf, .svg, .dxf, .csv, .json or .png.", projects.export)
    sub.add_argument("file", type=Path)
    sub.add_argument("-o", "--output", required=True, type=Path, metavar="OUT")
    sub.add_argument("--paper", default="A4", choices=("A4", "A3", "A0", "Letter", "Legal", "Tabloid"))
    sub.add_argument("--line", default="both", choices=("net", "cut", "both"))
    sub = add("lay", "Plan how the pieces lie on the cloth, and the length to buy.", projects.lay)
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
