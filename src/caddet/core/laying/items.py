"""What has to be laid: pieces turned with their grain along the cloth, for an open or a folded lay.

Axes of the cloth: x along it, y across; on folded cloth y counts from the fold. Lengths in mm.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass

import shapely

from caddet.core.errors import CaddetError
from caddet.core.finishing.finish import CutPiece
from caddet.core.geometry.paths import area
from caddet.core.geometry.segments import Motion, Point, cross, dot, unit
from caddet.core.recipe.document import MAIN
from caddet.core.sentences import say

OUTLINE_TOLERANCE = 0.2  # mm, for laying only
OFF_GRAIN = 0.05  # sine of the angle up to which a grain line counts as running along the fold


class WontFit(CaddetError):
    """A piece is larger than the cloth it should lie on."""


@dataclass(frozen=True, slots=True)
class Shape:
    """One way a piece may lie: its outline with its lowest x and y at 0, and how it got there."""

    outline: tuple[Point, ...]
    motion: Motion
    rotation: float
    mirrored: bool

    @property
    def size(self) -> Point:
        """Its width and height in mm; it begins at 0, 0."""
        return complex(max(p.real for p in self.outline), max(p.imag for p in self.outline))


@dataclass(frozen=True, slots=True)
class Item:
    """Something to be placed once: a piece in one of several shapes, perhaps only on the fold."""

    piece: str
    shapes: tuple[Shape, ...]
    on_fold: bool = False
    layers: int = 1
    alternative: Item | None = None
    label: str = ""

    @property
    def area(self) -> float:
        """The area of one of it, in mm²."""
        return abs(area(list(self.shapes[0].outline)))


def open_items(cut: Sequence[CutPiece], nap: bool, role: str = MAIN) -> list[Item]:
    """Every piece opened out, once for each time it is cut from the cloth of a role; the second of a pair mirrored."""
    items = []
    for piece in cut:
        outline = _unfolded(piece)
        for number in range(piece.piece.count_of(role)):
            mirrored = piece.piece.pair and number % 2 == 1
            items.append(Item(piece.piece.name, _ways(outline, piece, nap, [mirrored]), label=piece.piece.label))
    return items


def folded_items(cut: Sequence[CutPiece], nap: bool, role: str = MAIN) -> list[Item]:
    """Pieces for cloth folded lengthwise, wrong side out: two layers are cut at once.

    A half on a fold that its grain does not run along (a bias front) can't lie on the cloth's fold: it is opened out.
    """
    items = []
    for piece in cut:
        net = piece.piece
        count = net.count_of(role)
        if net.fold and _along_fold(piece):
            half = Item(net.name, _on_fold(piece.polygon(OUTLINE_TOLERANCE), piece, nap), True, 2, label=net.label)
            items += [half] * count
            continue
        ways = _ways(_unfolded(piece), piece, nap, [False, True])
        items += [Item(net.name, ways, layers=2, label=net.label)] * (count // 2)
        if count % 2:
            doubled = Item(net.name, ways, layers=2, label=net.label)
            halves = _half_of_symmetric(piece, nap)
            items.append(Item(net.name, halves, True, 2, doubled, net.label) if halves else doubled)
    return items


def _grain(piece: CutPiece) -> Point:
    """The direction of a piece that lies along the cloth."""
    grain = piece.piece.grain
    along = unit(grain.b - grain.a)
    return along * 1j if grain.kind in ("across", "stretch") else along


def _along_fold(piece: CutPiece) -> bool:
    """Whether a piece's grain runs along its fold edge."""
    edge = piece.piece.run(piece.piece.fold)[0].path
    return abs(cross(unit(edge.end - edge.start), _grain(piece))) < OFF_GRAIN


def _unfolded(piece: CutPiece) -> list[Point]:
    points = piece.polygon(OUTLINE_TOLERANCE)
    fold = piece.piece.fold
    if not fold:
        return points
    edge = piece.piece.run(fold)[0].path
    mirror = Motion.reflection(edge.start, edge.end)
    halves = [shapely.Polygon([(p.real, p.imag) for p in side]) for side in (points, [mirror(p) for p in points])]
    # a hair of overlap along the fold, so that the two halves become one outline
    whole = shapely.union_all([half.buffer(0.01, join_style="mitre") for half in halves])
    if not isinstance(whole, shapely.Polygon):
        raise CaddetError(say("{label} can't be opened out along its fold", label=piece.piece.label))
    return [complex(x, y) for x, y in shapely.get_coordinates(whole.exterior)[:-1]]


def _ways(outline: list[Point], piece: CutPiece, nap: bool, mirrors: list[bool]) -> tuple[Shape, ...]:
    turns = [0.0] if nap else [0.0, 180.0]
    if piece.piece.grain.kind == "any" and not nap:
        turns = [0.0, 90.0, 180.0, 270.0]
    grain = _grain(piece)
    return tuple(
        shape_of(outline, -math.degrees(cmath.phase(grain.conjugate() if mirrored else grain)) + turn, mirrored, turn)
        for mirrored in mirrors
        for turn in turns
    )


def shape_of(outline: Sequence[Point], angle: float, mirrored: bool, shown: float = 0.0) -> Shape:
    """The outline (mirrored first, then turned by ``angle`` degrees) pushed to the origin."""
    turned = Motion(cmath.exp(1j * math.radians(angle)), 0j, mirrored)
    points = [turned(p) for p in outline]
    low = complex(min(p.real for p in points), min(p.imag for p in points))
    motion = Motion.translation(-low).after(turned)
    return Shape(tuple(p - low for p in points), motion, shown, mirrored)


def _on_fold(points: list[Point], piece: CutPiece, nap: bool) -> tuple[Shape, ...]:
    """The half with its fold edge along y = 0; it may lie either way unless there is a nap."""
    edge = piece.piece.run(piece.piece.fold)[0].path
    return _against_fold(points, edge.start, edge.end, _grain(piece), nap)


def _against_fold(points: list[Point], a: Point, b: Point, grain: Point, nap: bool) -> tuple[Shape, ...]:
    along = unit(b - a)
    if dot(along, grain) < 0:
        along = -along
    shapes = []
    for turn in [0.0] if nap else [0.0, 180.0]:
        for mirrored in (False, True):
            direction = along.conjugate() if mirrored else along
            shape = shape_of(points, -math.degrees(cmath.phase(direction)) + turn, mirrored, turn)
            if abs(shape.motion(a).imag) < 0.5 and abs(shape.motion(b).imag) < 0.5:
                shapes.append(shape)
    return tuple(shapes)


def _half_of_symmetric(piece: CutPiece, nap: bool) -> tuple[Shape, ...]:
    """For a single piece that is symmetric about a line along its grain: its half, for the fold."""
    points = piece.polygon(OUTLINE_TOLERANCE)
    grain = _grain(piece)
    shape = shapely.Polygon([(p.real, p.imag) for p in points])
    across = grain * 1j
    offsets = [dot(p, across) for p in points]
    middle = across * (min(offsets) + max(offsets)) / 2
    mirror = Motion.reflection(middle, middle + grain)
    other = shapely.Polygon([(q.real, q.imag) for q in map(mirror, points)])
    if shape.symmetric_difference(other).area > 0.001 * shape.area:
        return ()
    far = 10_000.0
    a, b = middle - grain * far, middle + grain * far
    half_plane = shapely.Polygon([(p.real, p.imag) for p in (a, b, b + across * far, a + across * far)])
    half = shape.intersection(half_plane)
    if not isinstance(half, shapely.Polygon):
        return ()
    outline = [complex(x, y) for x, y in shapely.get_coordinates(half.exterior)[:-1]]
    foot = middle + grain * dot(outline[0] - middle, grain)
    return _against_fold(outline, foot, foot + grain, grain, nap)
