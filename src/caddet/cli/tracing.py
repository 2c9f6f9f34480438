"""The command that traces: a list of the tape's readings, or a photograph, becomes a project."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from caddet.cli.words import EXIT_FAILS, EXIT_FINE, Add, add_json, print_json, remark, say
from caddet.core.errors import CaddetError, InputError, some
from caddet.core.lengths import Unit
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.document import Recipe, TracedSource
from caddet.core.sentences import told
from caddet.core.tracing.kinds import KINDS, Kind, kind_named


def trace(arguments: argparse.Namespace) -> int:
    """Trace readings into a project; without a file, list the kinds, or what one of them asks for."""
    from caddet.core import library as library  # registers the kinds

    if not arguments.files:
        return _list(_kind(arguments.kind) if arguments.kind else None, arguments.json)
    arguments.file = arguments.files[0]
    if arguments.pair and not arguments.lines:
        raise InputError("it goes with --lines, which cuts what was traced apart into panels.", "--pair")
    lists = [path for path in arguments.files if path.suffix.lower() == ".csv"]
    if not lists:
        return _by_photo(arguments)
    if len(arguments.files) > 1:
        raise InputError("a list of readings is traced alone.", str(lists[0]))
    if arguments.lines:
        raise InputError("lines are read from a photograph, not from a list of readings.", "--lines")
    if not arguments.kind:
        raise InputError(f"say with --kind what garment it is; there are {some(sorted(KINDS))}.", "--kind")
    return _by_tape(arguments, _kind(arguments.kind))


def _kind(name: str) -> Kind:
    try:
        return kind_named(name)
    except CaddetError as error:
        raise InputError(f"{error}.", "--kind") from error


def _list(kind: Kind | None, as_json: bool) -> int:
    if kind is None:
        rows: list[dict[str, Any]] = [{"name": k.name, "label": k.label, "about": k.about} for k in KINDS.values()]
    else:
        rows = [
            {"name": one.name, "label": one.label, "how": one.how, "needed": one.needed, "at": False}
            for one in kind.asked
        ] + [{"name": one.name, "label": one.label, "how": one.how, "needed": False, "at": True} for one in kind.widths]
    if as_json:
        print_json(rows)
        return EXIT_FINE
    for row in rows:
        more = "" if kind is None or row["needed"] else "  (at a height)" if row["at"] else "  (a check)"
        print(f"{row['name']}{more}  {row['label']}: {row.get('about', row.get('how'))}")
    return EXIT_FINE


def _by_photo(arguments: argparse.Namespace) -> int:
    from caddet.core.demo import new_document
    from caddet.core.files.reading import read_whole
    from caddet.core.formats.people_store import named_photo
    from caddet.core.formats.project import save_project
    from caddet.core.recipe.edits import set_photograph
    from caddet.core.tracing.photo.automatic import joined_photos, traced_from, with_lines
    from caddet.core.tracing.photo.picture import BIGGEST_FILE, read_picture
    from caddet.core.tracing.photo.sheets import SHEETS, find_sheet
    from caddet.core.tracing.photo.traced import view_of

    path: Path = arguments.file
    _may_write(arguments)
    pictures = []
    for one in arguments.files:
        pictures.append(read_picture(read_whole(one, BIGGEST_FILE), str(one)))
        for words in pictures[-1].remarks:
            say(f"{one}: {words}")
    shapes, sheet = _shapes(arguments), SHEETS[arguments.sheet]
    try:
        picture, found = (
            joined_photos(pictures, sheet)
            if len(pictures) > 1
            else (pictures[0], find_sheet(pictures[0].points, sheet))
        )
        tracing = traced_from(path.stem[:80], picture.points, found, shapes)
        if arguments.lines:
            tracing = with_lines(tracing, picture.points, view_of(tracing), arguments.pair)
    except CaddetError as error:
        raise InputError(str(error), str(path)) from error
    data = picture.as_jpeg()
    base = set_photograph(new_document(path.stem[:100] or "Traced"), path.stem[:80], named_photo(data))
    document = base.model_copy(
        update={"recipe": Recipe().with_source(TracedSource(label=path.stem[:80], tracing=tracing))}
    )
    made = make(EvaluateRequest(document))
    about = [f for f in made.findings if f.code.startswith(("trace", "draft"))]
    if made.pattern is None:
        raise InputError(told(about[0].sentence, arguments.unit) if about else "there is no outline in it.", str(path))
    remark(about, unit=arguments.unit)
    view = view_of(tracing)
    if arguments.output is not None:
        save_project(document, arguments.output, lambda name: data)
    if arguments.json:
        corners = [[round(x, 2), round(y, 2)] for x, y in tracing.corners]
        print_json(
            {
                "scale": round(view.scale, 5),
                "residual": round(found.view.residual, 4),
                "tilt": round(view.tilt, 1),
                "sheet": tracing.sheet,
                "corners": corners,
                "outlines": outlines_listing(made),
            }
        )
    else:
        count = sum(len(piece.panels) for piece in tracing.pieces)
        panels = f", {count} panels" if count else ""
        print(
            f"{len(tracing.pieces)} outline(s){panels}, {view.scale:.3f} mm a point, {view.tilt:.0f}° from the vertical; written to {arguments.output}"
        )
    return EXIT_FAILS if about else EXIT_FINE


def _shapes(arguments: argparse.Namespace) -> list[tuple[str, str]]:
    """The shapes of the outlines, the largest first, as they are asked for."""
    if not arguments.kind:
        return []
    kind = _kind(arguments.kind)
    wanted = [one.strip() for one in (arguments.shape or kind.shapes[0].name).split(",") if one.strip()]
    names = [one.name for one in kind.shapes]
    for one in wanted:
        if one not in names:
            raise InputError(f"a {kind.label.lower()} has no piece “{one}”; it has {', '.join(names)}.", "--shape")
    return [(kind.name, one) for one in wanted]


def _may_write(arguments: argparse.Namespace) -> None:
    if arguments.output is None and not arguments.json:
        raise InputError("say with -o where the project is written, or ask for --json.", "-o")
    if arguments.output is not None and arguments.output.exists() and not arguments.force:
        raise InputError("there is such a file already; --force writes over it.", str(arguments.output))


def _by_tape(arguments: argparse.Namespace, kind: Kind) -> int:
    from caddet.core.demo import new_document
    from caddet.core.files.reading import read_text
    from caddet.core.formats.project import no_pictures, save_project
    from caddet.core.recipe.traced import TapeTracing
    from caddet.core.tracing.readings_csv import read_readings
    from caddet.core.tracing.solving import solve

    path: Path = arguments.file
    unit: Unit = arguments.unit
    _may_write(arguments)
    readings = read_readings(read_text(path), kind, unit, str(path))
    tracing = TapeTracing(kind=kind.name, readings=readings)
    title = path.stem[:100] or kind.label
    base = new_document(title)
    document = base.model_copy(update={"recipe": Recipe().with_source(TracedSource(label=kind.label, tracing=tracing))})
    made = make(EvaluateRequest(document))
    about = [f for f in made.findings if f.code.startswith("trace")]
    if made.pattern is None:
        raise InputError(told(about[0].sentence, unit) if about else "these readings make no shape.", str(path))
    remark(about, unit=unit)
    if arguments.output is not None:
        save_project(document, arguments.output, no_pictures)
    if arguments.json:
        solved = solve(kind, readings)
        reads = [
            {
                "what": r.reading.what,
                "at": r.reading.at,
                "value": r.value,
                "misfit": round(r.misfit, 2),
                "checked": round(r.checked, 2),
                "misread_by": round(r.error, 1) if r.out else 0.0,
                "left_out": r.out,
            }
            for r in solved.reads
        ]
        print_json({"kind": kind.name, "outlines": outlines_listing(made), "readings": reads})
    else:
        print(f"{kind.label}, {len(readings)} readings; written to {arguments.output}")
    return EXIT_FAILS if about else EXIT_FINE


def outlines_listing(made: Made) -> list[dict[str, Any]]:
    """The traced outlines, flattened, in mm."""
    if made.pattern is None:
        return []
    return [
        {"name": piece.name, "points": [[round(p.real, 3), round(p.imag, 3)] for p in piece.outline().flattened()]}
        for piece in made.pattern.pieces
    ]


def add_commands(command: Add) -> None:
    """Add these commands and their arguments to the command line."""
    sub = command(
        "trace",
        "Trace a garment from a list of tape readings or a photograph; without a file, list what can be traced.",
        trace,
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
    sub.add_argument(
        "--lines",
        action="store_true",
        help="read the lines drawn on the outlines of no kind, and cut them apart into panels (a wrap)",
    )
    sub.add_argument("--pair", action="store_true", help="with --lines: half of it was traced, the other is its mirror")
    sub.add_argument("--force", action="store_true", help="write over a project that is there already")
    add_json(sub)
    sub.add_argument("-o", "--output", type=Path, metavar="OUT.caddet")
