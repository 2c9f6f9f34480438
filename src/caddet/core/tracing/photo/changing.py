"""Changes to a photograph's tracing, as the hand makes them on the table. Pure functions."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from caddet.core.errors import CaddetError
from caddet.core.recipe.traced import PhotoEdge, PhotoPiece, PhotoTracing
from caddet.core.sentences import say
from caddet.core.tracing.photo.automatic import piece_from, shape_named
from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.proposing import BLURRED, Proposed, corners_of, edges_between, snapped
from caddet.core.tracing.photo.view import Points, View

SOFT = 30.0  # mm to either side of a place that is pulled, over which its neighbours follow
NEAR = 6.0  # mm within which an edge in the picture draws a place that was pulled


def table_of(piece: PhotoPiece, view: View) -> Points:
    """The places of a piece on the table, in mm."""
    return view.to_table(np.array([complex(*one) for one in piece.points]))


def piece_named(tracing: PhotoTracing, name: str) -> PhotoPiece:
    """A piece by name. Raises :class:`CaddetError` when there is none."""
    for piece in tracing.pieces:
        if piece.name == name:
            return piece
    raise CaddetError(say("there is no outline “{name}”", name=name))


def changed(tracing: PhotoTracing, name: str, change: Callable[[PhotoPiece], PhotoPiece | None]) -> PhotoTracing:
    """The tracing with one piece changed, or taken out (None)."""
    piece_named(tracing, name)
    pieces = []
    for piece in tracing.pieces:
        new = change(piece) if piece.name == name else piece
        if new is not None:
            pieces.append(new)
    return PhotoTracing.model_validate({**tracing.parts(), "pieces": tuple(pieces)})


def sheet_corner_moved(tracing: PhotoTracing, corner: int, to: complex) -> PhotoTracing:
    """The tracing with a corner of the sheet set by hand, in points of the picture."""
    corners = list(tracing.corners)
    corners[corner] = (round(to.real, 3), round(to.imag, 3))
    return PhotoTracing.model_validate({**tracing.parts(), "corners": tuple(corners), "residual": 0.0})


def with_places(piece: PhotoPiece, view: View, table: Points) -> PhotoPiece:
    """The piece with its places elsewhere on the table (mm)."""
    points = tuple((round(float(p.real), 2), round(float(p.imag), 2)) for p in view.to_picture(table))
    return PhotoPiece.model_validate({**piece.parts(), "points": points})


def pulled(
    piece: PhotoPiece, view: View, at: int, to: complex, picture: Pixels | None = None, soft: float = SOFT
) -> PhotoPiece:
    """The piece with a place pulled to another on the table (mm), its neighbours with it, softly, up to the next corners.

    With a picture the places that moved are drawn to the edge that it shows near them.
    """
    table = table_of(piece, view)
    count = len(table)
    by = to - complex(table[at])
    share = np.zeros(count)
    share[at] = 1.0
    for way in (1, -1):
        passed = 0.0
        for k in range(1, count // 2):
            n, before = (at + way * k) % count, (at + way * (k - 1)) % count
            passed += abs(complex(table[n] - table[before]))
            if passed >= soft or (n in piece.corners and n != at):
                break
            t = passed / soft
            share[n] = max(share[n], (1 - t) ** 2 * (1 + 2 * t))
    moved = table + by * share
    if picture is not None:
        drawn = snapped(picture, view, moved, NEAR)
        moved = np.where(share > 0, drawn, moved)
        if at in piece.corners:
            moved[at] = to
    return with_places(piece, view, np.asarray(moved))


def drawn_to_edge(piece: PhotoPiece, view: View, picture: Pixels) -> PhotoPiece:
    """The piece with all its places drawn to the edge that the picture shows near them; corners stay."""
    table = table_of(piece, view)
    drawn = np.array(snapped(picture, view, table, NEAR))
    for n in piece.corners:
        drawn[n] = table[n]
    return with_places(piece, view, drawn)


def corner_toggled(piece: PhotoPiece, at: int) -> PhotoPiece:
    """The piece with one more corner at a place, or without the one that is there; a new edge has a name of its own."""
    if piece.kind:
        raise CaddetError(say("the corners of a shape are its own; pull them, or name the edges by hand"))
    corners, edges = list(piece.corners), [*piece.edges]
    edges += [PhotoEdge(name=f"edge_{n + 1}") for n in range(len(edges), len(corners))]
    if at in corners:
        n = corners.index(at)
        del corners[n], edges[n]
    else:
        n = sum(corner < at for corner in corners)
        number = 1 + len(corners)
        while f"edge_{number}" in [edge.name for edge in edges]:
            number += 1
        corners.insert(n, at)
        edges.insert(n, PhotoEdge(name=f"edge_{number}"))
    return PhotoPiece.model_validate({**piece.parts(), "corners": tuple(corners), "edges": tuple(edges)})


def as_shape(piece: PhotoPiece, view: View, kind: str, shape: str) -> PhotoPiece:
    """The piece as a shape of a kind, or (empty) as one of no kind. Raises :class:`CaddetError` when it can't be that."""
    table = table_of(piece, view)
    if not kind:
        return PhotoPiece.model_validate(
            {**piece.parts(), "kind": "", "shape": "", "edges": (), "half": "mean", "pair": False}
        )
    sharp = corners_of(table) if not piece.corners or piece.kind else piece.corners
    shape_named(kind, shape)
    made = piece_from(Proposed(table, tuple(sharp)), view, piece.name, kind, shape)
    return PhotoPiece.model_validate({**made.parts(), "points": piece.points})


def edge_changed(piece: PhotoPiece, name: str, renamed: str = "", **changes: Any) -> PhotoPiece:
    """The piece with an edge of it changed: its name, whether it is straight, what becomes of it, its allowance."""
    changes = {**changes, "name": renamed or name}
    edges = list(piece.edges)
    if piece.kind:
        if name not in [edge.name for edge in edges]:
            edges.append(PhotoEdge(name=name))
    else:
        edges += [PhotoEdge(name=f"edge_{n + 1}") for n in range(len(edges), len(piece.corners))]
    found = [PhotoEdge.model_validate({**edge.parts(), **changes}) if edge.name == name else edge for edge in edges]
    names = [edge.name for edge in found]
    if len(set(names)) != len(names):
        raise CaddetError(say("two edges of one piece can't be called the same"))
    return PhotoPiece.model_validate({**piece.parts(), "edges": tuple(found)})


def unseen_corners(piece: PhotoPiece, view: View) -> tuple[int, ...]:
    """Which corners of a piece stand where the picture shows none, as where a seam runs straight on into another."""
    if not piece.corners:
        return ()
    table = table_of(piece, view)
    seen = table[list(corners_of(table))]
    return tuple(at for at in piece.corners if not len(seen) or np.abs(seen - table[at]).min() > 2 * BLURRED)


def deviation(piece: PhotoPiece, view: View, tolerance: float) -> tuple[int, float]:
    """How many curves its edges take within the tolerance, and how far the farthest place lies off them, in mm.

    An edge that turns sharply on its way, as a V neck does on the fold, is two curves there.
    """
    if len(piece.corners) < 2:
        return 0, 0.0
    table = table_of(piece, view)
    marked = table[list(piece.corners)]
    between = {at for at in corners_of(table) if np.abs(marked - table[at]).min() > 2 * BLURRED}
    paths, off = edges_between(table, tuple(sorted({*piece.corners, *between})), tolerance)
    return sum(len(path.segments) for path in paths), off


__all__ = [
    "as_shape", "changed", "corner_toggled", "deviation", "drawn_to_edge", "edge_changed", "piece_named", "pulled",
    "sheet_corner_moved", "table_of", "unseen_corners", "with_places",
]  # fmt: skip
