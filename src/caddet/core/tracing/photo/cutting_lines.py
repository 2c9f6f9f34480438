"""Changes to the lines along which a traced piece is cut apart, as the hand makes them on the table. Pure functions."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely

from caddet.core.errors import CaddetError
from caddet.core.recipe.traced import PhotoLine, PhotoMark, PhotoPanel, PhotoPiece
from caddet.core.sentences import say
from caddet.core.tracing.photo.view import Points, View

REACH = 15.0  # mm by which a line may stop short of the edge or the line that it is meant to end on
SMALLEST = 1200.0  # mm² of a panel
SOFT = 60.0  # mm to either side of a place that is pulled, over which its neighbours follow
SPACED = 4.0  # mm between the places of a line
MOST = 60  # lines on a piece, and panels
SAME = 6.0  # mm within which a place on a line is the mark that is there

Drawing = Callable[[Points], Points]
"""Draws a row of places on the table to what the picture shows near them."""


def line_numbered(piece: PhotoPiece, number: int) -> PhotoLine:
    """A line by its number. Raises :class:`CaddetError` when there is none."""
    found = next((line for line in piece.lines if line.number == number), None)
    if found is None:
        raise CaddetError(say("there is no line {number} on it", number=number))
    return found


def on_table(line: PhotoLine, view: View) -> Points:
    """The places of a line on the table, in mm."""
    return view.to_table(np.array([complex(*one) for one in line.points]))


def in_picture(table: Points, view: View) -> tuple[tuple[float, float], ...]:
    """Places on the table (mm) in points of the picture."""
    return tuple((round(float(p.real), 2), round(float(p.imag), 2)) for p in view.to_picture(table))


def reached_out(points: Points) -> Points:
    """A row of places (mm) that goes on at both ends by :data:`REACH`, the way it ran there."""

    def beyond(row: Points) -> complex:
        way = complex(row[-1] - row[max(len(row) - 8, 0)])
        return complex(row[-1]) + way / max(abs(way), 1e-9) * REACH

    return np.concatenate([[beyond(points[::-1])], points, [beyond(points)]])


def line_added(piece: PhotoPiece, view: View) -> PhotoPiece:
    """The piece with one more line, straight down through the middle of its largest panel, to be pulled to its place.

    Raises :class:`CaddetError` when there is no room for one.
    """
    if len(piece.lines) >= MOST:
        raise CaddetError(say("there are {most} lines on it, and that is the most", most=MOST))
    area = max(_areas(piece, view), key=lambda one: one.area)
    left, top, right, low = area.bounds
    middle = (left + right) / 2
    down = shapely.intersection(area, shapely.LineString([(middle, top - 1), (middle, low + 1)]))
    longest = max(getattr(down, "geoms", [down]), key=lambda one: one.length)
    if longest.length < 2 * REACH:
        raise CaddetError(say("there is no room on it for another line"))
    ends = np.array([complex(x, y) for x, y in longest.coords])
    table = np.linspace(ends[0], ends[-1], max(int(longest.length / SPACED), 2) + 1)
    number = max((line.number for line in piece.lines), default=0) + 1
    return _with_lines(piece, view, (*piece.lines, PhotoLine(number=number, points=in_picture(table, view))))


def line_taken_out(piece: PhotoPiece, view: View, number: int) -> PhotoPiece:
    """The piece without a line; of two panels that become one, the first name stays."""
    line_numbered(piece, number)
    return _with_lines(piece, view, tuple(line for line in piece.lines if line.number != number))


def line_pulled(
    piece: PhotoPiece, view: View, number: int, at: int, to: complex, drawing: Drawing | None = None
) -> PhotoPiece:
    """The piece with a place of a line pulled to another on the table (mm); see :func:`pulled_places`."""
    line = line_numbered(piece, number)
    made = line.model_copy(update={"points": in_picture(pulled_places(on_table(line, view), at, to, drawing), view)})
    return _with_lines(piece, view, tuple(made if one.number == number else one for one in piece.lines))


def pulled_places(table: Points, at: int, to: complex, drawing: Drawing | None = None) -> Points:
    """The places of a line (mm) when one of them is pulled.

    By an end the whole line turns and stretches about its other end; elsewhere the neighbours follow softly. With
    ``drawing``, what moved is drawn to the pen's line that the picture shows near it.
    """
    last = len(table) - 1
    if at in (0, last):
        still, old = complex(table[last - at]), complex(table[at])
        if abs(old - still) < 1e-6 or abs(to - still) < REACH:
            return table
        return np.asarray(still + (table - still) * ((to - still) / (old - still)))
    along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(table)))])
    t = np.minimum(np.abs(along - along[at]) / SOFT, 1.0)
    share = (1 - t) ** 2 * (1 + 2 * t)
    moved = table + (to - table[at]) * share
    if drawing is not None and (share > 0).sum() > 2:
        moved[share > 0] = drawing(moved[share > 0])  # only what moved: the picture is looked at no farther
    return np.asarray(moved)


def mark_turned(piece: PhotoPiece, view: View, number: int, at: int) -> PhotoPiece:
    """The piece with a mark across a line at one of its places: none becomes one stroke, one becomes two, two none."""
    line = line_numbered(piece, number)
    along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(on_table(line, view))))])
    here, whole = float(along[at]), float(along[-1])
    there = next((mark for mark in line.marks if abs(mark.at * whole - here) < SAME), None)
    kept = tuple(mark for mark in line.marks if mark is not there)
    if there is None:
        kept = (*kept, PhotoMark(at=round(here / whole, 6)))
    elif not there.double:
        kept = (*kept, PhotoMark(at=there.at, double=True))
    made = line.model_copy(update={"marks": tuple(sorted(kept, key=lambda mark: mark.at))})
    return PhotoPiece.model_validate(
        {**piece.parts(), "lines": tuple(made if one.number == number else one for one in piece.lines)}
    )


def panel_called(piece: PhotoPiece, number: int, label: str) -> PhotoPiece:
    """The piece with one of its panels called something."""
    panels = tuple(
        one.model_copy(update={"label": label.strip()[:80]}) if one.number == number else one for one in piece.panels
    )
    return PhotoPiece.model_validate({**piece.parts(), "panels": panels})


def _with_lines(piece: PhotoPiece, view: View, lines: tuple[PhotoLine, ...]) -> PhotoPiece:
    return with_panels(PhotoPiece.model_validate({**piece.parts(), "lines": lines}), view)


def with_panels(piece: PhotoPiece, view: View) -> PhotoPiece:
    """The piece with a place in each panel that its lines make: those there are keep their numbers and names.

    New ones are numbered in reading order, from left to right. Raises :class:`CaddetError` for more than :data:`MOST`.
    """
    areas = _areas(piece, view) if piece.lines else []
    if len(areas) > MOST:
        raise CaddetError(say("these lines make {count} panels, and {most} is the most", count=len(areas), most=MOST))
    areas.sort(key=lambda one: (round(one.centroid.x / 40), one.centroid.y))
    places = [view.to_table(np.array([complex(*one.at)]))[0] for one in piece.panels]
    found: list[PhotoPanel] = []
    free = max((one.number for one in piece.panels), default=0)
    for area in areas:
        inside = [
            one for one, at in zip(piece.panels, places, strict=True) if area.contains(shapely.Point(at.real, at.imag))
        ]
        deep = shapely.maximum_inscribed_circle(area, tolerance=1.0).coords[0]
        spot = in_picture(np.array([complex(*deep)]), view)[0]
        free += not inside
        old = next((one for one in inside if one.label), inside[0] if inside else PhotoPanel(number=free, at=spot))
        found.append(old.model_copy(update={"at": spot}))
    found.sort(key=lambda one: one.number)
    return PhotoPiece.model_validate({**piece.parts(), "panels": tuple(found)})


def _areas(piece: PhotoPiece, view: View) -> list[shapely.Polygon]:
    """The parts of the table (mm) into which the lines divide a piece."""
    table = view.to_table(np.array([complex(*one) for one in piece.points]))
    ring = [(p.real, p.imag) for p in [*table, table[0]]]
    drawn = [shapely.LineString(ring)]
    for line in piece.lines:
        drawn.append(shapely.LineString([(p.real, p.imag) for p in reached_out(on_table(line, view))]))
    whole = shapely.make_valid(shapely.Polygon(ring))
    parts = shapely.polygonize([*shapely.get_parts(shapely.union_all(drawn))])
    return [
        part
        for part in parts.geoms
        if isinstance(part, shapely.Polygon) and part.area >= SMALLEST and whole.contains(part.representative_point())
    ]
