"""A piece cut apart along the lines drawn on it: panels with exact edges, sewn together along the lines, marks as paired notches."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.fitting import fair_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Notch
from caddet.core.pattern.on_their_own import on_their_own
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Part
from caddet.core.recipe.traced import PhotoLine, PhotoPiece
from caddet.core.sentences import say
from caddet.core.tracing.photo.cutting_lines import on_table, reached_out
from caddet.core.tracing.photo.view import Points, View

SHORT = 10.0  # mm of a piece that a line crosses at least
ON = 0.2  # mm from the outline
BY = 5.0  # mm from its line that a mark lies at most


def apart(
    piece: PhotoPiece, outline: Piece, as_piece: Motion, view: View, tolerance: float, place: str
) -> tuple[Pattern, tuple[Finding, ...]]:
    """The panels of a piece whose outline is given, their seams, and what has to be said of lines that part nothing.

    ``as_piece`` lays the table as the outline lies. A line that crosses an earlier one is two seams. Raises nothing.
    """
    pattern = Pattern((outline,))
    left = {line.number: line for line in piece.lines}
    ways = {n: _way(line, view, as_piece) for n, line in left.items()}
    cuts: dict[int, list[str]] = {}
    progress = True
    while left and progress:  # a line that ends on another waits until that one is cut
        progress = False
        for number in sorted(left):
            done, made = _cut_along(pattern, ways[number], tolerance, 1 + sum(map(len, cuts.values())))
            if made:
                pattern, progress = done, True
                cuts[number] = made
                del left[number]
    for number, made in cuts.items():
        line = next(one for one in piece.lines if one.number == number)
        pattern = _notched(pattern, line, ways[number], made)
    named = _plainly(pattern, cuts, piece, view, as_piece)
    findings = tuple(
        Finding(
            "trace.line",
            say(
                "{piece}: line {number} parts nothing; both of its ends must reach an edge or another line.",
                piece=outline.label,
                number=number,
            ),
            f"{place}.{piece.name}",
        )
        for number in sorted(left)
    )
    return named, findings


def _way(line: PhotoLine, view: View, as_piece: Motion) -> Points:
    """The places of a line as the piece lies, its ends reached out a little."""
    return reached_out(np.array([as_piece(complex(p)) for p in on_table(line, view)]))


def _cut_along(pattern: Pattern, way: Points, tolerance: float, first: int) -> tuple[Pattern, list[str]]:
    """The pattern cut along a line wherever it goes right across a piece, and the names of those cuts."""
    row = shapely.LineString([(p.real, p.imag) for p in way])
    made: list[str] = []
    for piece in pattern.pieces:
        area = shapely.Polygon([(p.real, p.imag) for p in piece.polygon(0.02)])
        crossed = shapely.intersection(area, row)
        for part in getattr(crossed, "geoms", [crossed]):
            if part.geom_type != "LineString" or part.length < SHORT:
                continue
            points = [complex(x, y) for x, y in part.coords]
            if any(area.exterior.distance(shapely.Point(p.real, p.imag)) > ON for p in (points[0], points[-1])):
                continue
            step = f"s{first + len(made)}"
            try:
                pattern = cut_piece(pattern, piece, _line(piece, points, tolerance), step)
            except (CaddetError, ValueError):
                continue
            made.append(step)
            break  # what is left of this piece has other edges now
    return pattern, made


def _line(piece: Piece, points: Sequence[Point], tolerance: float) -> CutLine:
    """The line of a cut, its ends on the edges of the piece, as few curves as keep to its places."""
    spots = []
    for point in (points[0], points[-1]):
        key = min(piece.runs(), key=lambda run: piece.nearest_on_run(run, point)[0])
        spots.append(piece.spot_at(key, piece.nearest_on_run(key, point)[1]))
    start, end = (piece.where(spot) for spot in spots)
    path, _ = fair_through([start, *points[1:-1], end], tolerance)
    return CutLine(spots[0], spots[1], path=path)


def _notched(pattern: Pattern, line: PhotoLine, way: Points, cuts: Sequence[str]) -> Pattern:
    """The pattern with a notch on either side of the line at each of its marks."""
    drawn = Path.polyline([complex(p) for p in way[1:-1]])
    pieces = []
    for piece in pattern.pieces:
        own = [run for run in piece.runs() if run.removesuffix(".cut") in cuts]
        for mark in line.marks:
            at = drawn.point_at(mark.at * drawn.length)
            near = min(own, key=lambda run: piece.nearest_on_run(run, at)[0], default=None)
            if near is None or piece.nearest_on_run(near, at)[0] > BY:
                continue
            spot = piece.spot_at(near, piece.nearest_on_run(near, at)[1])
            piece = replace(piece, notches=(*piece.notches, Notch(spot.edge, spot.u, mark.double)))
        pieces.append(piece)
    return replace(pattern, pieces=tuple(pieces))


def _plainly(pattern: Pattern, cuts: dict[int, list[str]], piece: PhotoPiece, view: View, as_piece: Motion) -> Pattern:
    """The panels as pieces of their own, with the names that stand in them and the lines' own names for their edges."""
    called = {
        f"{step}.cut": f"line_{number}" + (f"_{n + 1}" if n else "")
        for number, made in cuts.items()
        for n, step in enumerate(made)
    }

    def edge(one: Edge) -> Edge:
        return replace(one, name=called.get(one.name, one.name))

    def part(one: Part) -> Part:
        return replace(one, ref=replace(one.ref, name=called.get(one.ref.name, one.ref.name)))

    pieces = tuple(
        replace(
            one,
            edges=tuple(map(edge, one.edges)),
            notches=tuple(replace(notch, edge=called.get(notch.edge, notch.edge)) for notch in one.notches),
        )
        for one in pattern.pieces
    )
    seams = tuple(replace(one, layers=tuple(tuple(map(part, layer)) for layer in one.layers)) for one in pattern.seams)
    names = _panel_names(pieces, piece, view, as_piece)
    alone = on_their_own(Pattern(pieces, seams), [name for name, _ in names])
    panels = [replace(one, label=label) for one, (_, label) in zip(alone.pieces, names, strict=True)]
    sewn = []
    for seam in alone.seams:
        line = called[f"{seam.name.removesuffix('.seam')}.cut"]
        sewn.append(replace(seam, name=f"{piece.name}_{line}", label=line.replace("_", " ").capitalize()))
    return Pattern(tuple(sorted(panels, key=lambda one: int(one.name.rpartition("_")[2]))), tuple(sewn))


def panel_names(piece: PhotoPiece) -> list[str]:
    """What the pieces are called into which a traced piece is cut apart; none without lines on it."""
    return [f"{piece.name}_{panel.number}" for panel in piece.panels if piece.lines]


def _panel_names(pieces: Sequence[Piece], piece: PhotoPiece, view: View, as_piece: Motion) -> list[tuple[str, str]]:
    """The name and the label of each panel: by the place marked in it; without one, the next free number."""
    places = [(one, as_piece(complex(view.to_table(np.array([complex(*one.at)]))[0]))) for one in piece.panels]
    found: list[tuple[str, str]] = []
    free = max((one.number for one in piece.panels), default=0) + 1
    whole = piece.label or re.sub("_", " ", piece.name).capitalize()
    for panel in pieces:
        area = shapely.Polygon([(p.real, p.imag) for p in panel.polygon(0.5)])
        here = next((one for one, at in places if area.contains(shapely.Point(at.real, at.imag))), None)
        number = here.number if here is not None else free
        free += here is None
        found.append((f"{piece.name}_{number}", (here.label if here else "") or f"{whole}, panel {number}"))
    return found
