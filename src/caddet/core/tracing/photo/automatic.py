"""From a picture to a tracing without a hand on it: the sheet found, outlines proposed, corners named where a shape is known."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from caddet.core.errors import CaddetError
from caddet.core.recipe.traced import PhotoPiece, PhotoTracing
from caddet.core.sentences import say
from caddet.core.tracing.kinds import Shape, kind_named
from caddet.core.tracing.photo.drawn import drawn_lines
from caddet.core.tracing.photo.joining import joined
from caddet.core.tracing.photo.naming import named
from caddet.core.tracing.photo.picture import Picture, Pixels
from caddet.core.tracing.photo.proposing import Proposed, propose
from caddet.core.tracing.photo.sheets import SHEETS, Found, Sheet, find_sheet, view_by_corners
from caddet.core.tracing.photo.view import View

Going = Callable[[float], bool]


def begun(photograph: str, points: Pixels, found: Found) -> PhotoTracing:
    """A tracing of a picture whose sheet was found, without outlines yet."""
    corners = tuple((round(c.real, 3), round(c.imag, 3)) for c in found.corners)
    return PhotoTracing(
        photograph=photograph,
        size=(points.shape[1], points.shape[0]),
        sheet=found.sheet.name,
        corners=corners,
        lens=round(found.view.lens, 7),
        residual=round(min(found.view.residual, 100.0), 4),
    )


def piece_from(proposed: Proposed, view: View, name: str, kind: str = "", shape: str = "") -> PhotoPiece:
    """An outline as a piece, in points of the picture; of a shape, its corners are the shape's.

    Raises :class:`CaddetError` when the outline can't be that shape.
    """
    picture = view.to_picture(proposed.points)
    points = tuple((round(float(p.real), 2), round(float(p.imag), 2)) for p in picture)
    if not kind:
        return PhotoPiece(name=name, label=name.replace("_", " ").capitalize(), points=points, corners=proposed.corners)
    one = shape_named(kind, shape)
    match = named(proposed.points, proposed.corners, one)
    return PhotoPiece(
        name=one.name,
        label=one.label,
        kind=kind,
        shape=one.name,
        points=points,
        corners=tuple(index for _, index in match.corners),
        pair=one.pair,
    )


def shape_named(kind: str, shape: str) -> Shape:
    """A shape of a kind; the first without a name. Raises :class:`CaddetError` naming those there are."""
    one = kind_named(kind)
    found = next((each for each in one.shapes if not shape or each.name == shape), None)
    if found is None:
        names = ", ".join(each.name for each in one.shapes)
        raise CaddetError(
            say("{kind} has no piece “{shape}”; it has {names}", kind=one.label, shape=shape, names=names)
        )
    return found


def traced_photo(
    photograph: str,
    points: Pixels,
    sheet: Sheet,
    shapes: Sequence[tuple[str, str]] = (),
    going: Going = lambda share: True,
) -> PhotoTracing:
    """The whole of it: ``shapes`` are (kind, shape) of the outlines, the largest first; those beyond them are of no kind.

    Raises :class:`NoSheet` without a sheet, :class:`CaddetError` without an outline or when one can't be its shape.
    """
    found = find_sheet(points, sheet)
    return traced_from(photograph, points, found, shapes, going)


def joined_photos(pictures: Sequence[Picture], sheet: Sheet) -> tuple[Picture, Found]:
    """Several pictures as one, with the sheet of the first in it. Raises :class:`CaddetError` when they can't be joined."""
    made = joined(pictures, [find_sheet(one.points, sheet) for one in pictures])
    plain = sheet if not sheet.page else SHEETS[sheet.name.removeprefix("scan_")]
    return made.picture, Found(plain, made.corners, view_by_corners(made.picture.size, made.corners, plain))


def traced_from(
    photograph: str,
    points: Pixels,
    found: Found,
    shapes: Sequence[tuple[str, str]] = (),
    going: Going = lambda share: True,
) -> PhotoTracing:
    """A picture whose sheet was found, traced; see :func:`traced_photo`."""
    tracing, trouble = traced_as_far(photograph, points, found, shapes, going)
    if trouble:
        raise CaddetError(trouble)
    return tracing


def traced_as_far(
    photograph: str,
    points: Pixels,
    found: Found,
    shapes: Sequence[tuple[str, str]] = (),
    going: Going = lambda share: True,
) -> tuple[PhotoTracing, str]:
    """A picture whose sheet was found, traced as far as it goes, and what did not: an outline that can't be its shape is of no kind."""
    going(0.3)
    tracing = begun(photograph, points, found)
    goal = found.view.to_table(np.array(found.corners))
    nothing = found.sheet.page  # a page is not left out of itself
    trouble = ""
    try:
        outlines = propose(points, found.view, goal[:1] if nothing else goal, lambda share: going(0.3 + 0.7 * share))
    except CaddetError as error:
        return tracing, str(error)
    pieces = []
    for n, outline in enumerate(outlines):
        kind, shape = shapes[n] if n < len(shapes) else ("", "")
        try:
            pieces.append(piece_from(outline, found.view, f"piece_{n + 1}", kind, shape))
        except CaddetError as error:
            trouble = trouble or str(error)
            pieces.append(piece_from(outline, found.view, f"piece_{n + 1}"))
    return tracing.model_copy(update={"pieces": tuple(pieces)}), trouble if outlines else "no outline was found"


def with_lines(tracing: PhotoTracing, points: Pixels, view: View, pair: bool) -> PhotoTracing:
    """The tracing with the lines read that are drawn on its outlines of no kind; ``pair``: each is one of a mirrored pair.

    Raises :class:`CaddetError` when there is no such outline, or no line that parts one.
    """
    if all(piece.kind for piece in tracing.pieces):
        raise CaddetError(say("there is no outline of no kind on which lines could be drawn"))
    pieces = tuple(
        piece if piece.kind else drawn_lines(points, view, piece).model_copy(update={"pair": pair})
        for piece in tracing.pieces
    )
    return PhotoTracing.model_validate({**tracing.parts(), "pieces": pieces})
