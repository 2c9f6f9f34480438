"""Practice garments of many seeds traced from their pictures, and how far their edges are from the truth."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.devices.practice_shots import PRACTICE, practice_camera, practice_garment
from caddet.core.errors import CaddetError
from caddet.core.tracing.outlining import path_of
from caddet.core.tracing.photo.automatic import traced_photo, with_lines
from caddet.core.tracing.photo.picture import read_picture
from caddet.core.tracing.photo.sheets import SHEETS
from caddet.core.tracing.photo.traced import by_photo, view_of
from tests.soak.figures import Figures

FAR = 15.0  # mm by which an edge's length is never off
LINES, PANELS, MARKS = 5, 6, 6  # drawn on the practice wrap


def photo_rounds(name: str, seeds: Sequence[int]) -> Figures:
    """A practice garment traced without a hand on it, with a sheet of either kind in turn."""
    figures = Figures()
    practice = PRACTICE[name]
    for seed in seeds:
        sheet = ("A4", "caddet", "Letter")[seed % 3]
        points = read_picture(practice_camera(f"{name} {sheet} {seed}").take()).points
        try:
            tracing = traced_photo(
                name, points, SHEETS[sheet], [(practice.kind, practice.shape)] if practice.kind else ()
            )
            if not practice.kind:
                tracing = with_lines(tracing, points, view_of(tracing), pair=True)
        except CaddetError as error:
            figures.wrong.append(f"{name} {sheet} {seed}: {error}")
            continue
        figures.counts["pictures"] += 1
        pattern, findings = by_photo(tracing, name)
        figures.wrong += [f"{name} {sheet} {seed}: {one.sentence}" for one in findings if one.severity == "stops"]
        if not practice.kind:
            piece = tracing.pieces[0]
            found = len(piece.lines), len(piece.panels), sum(len(line.marks) for line in piece.lines)
            figures.counts["wraps with all lines, panels and marks"] += found == (LINES, PANELS, MARKS)
            if found[:2] != (LINES, PANELS):
                figures.wrong.append(f"{name} {sheet} {seed}: {found}")
            continue
        net, x = practice_garment(practice.kind, seed)
        for (shape, run), curve in net.curves(x[None], net.marks(x[None])).items():
            if shape != practice.shape:
                continue
            off = abs(pattern.pieces[0].run_length(run) - path_of(curve[0]).length)
            figures.counts["edges"] += 1
            figures.counts["edges within 2 mm"] += off <= 2.0
            figures.counts["edges within 4 mm"] += off <= 4.0
            figures.at_most("mm off", off)
            if off > FAR:
                figures.wrong.append(f"{name} {sheet} {seed}: the {run} is off by {off:.1f} mm")
    return figures
