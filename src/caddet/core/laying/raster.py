"""Placing shapes on cloth by search over a fine grid.

The cloth is a grid of small cells. A shape's mask holds every cell it (with half the gap round it)
touches, so that two masks that don't overlap are shapes that keep their gap. Free places come from a
convolution. The search places items in an order, each at the free place nearest the beginning, and
changes the order and the ways of lying while time is left.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import shapely

from caddet.core.geometry.segments import Point
from caddet.core.laying.items import Item, Shape, WontFit
from caddet.core.sentences import Length, say

CELL = 5.0  # mm
Mask = npt.NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Spot:
    """An item placed: which shape of it, and where its corner lies (mm)."""

    item: int
    shape: Shape
    at: Point
    on_fold: bool


@dataclass(frozen=True, slots=True)
class Layout:
    """Spots and the length of cloth they take, in mm."""

    spots: tuple[Spot, ...]
    length: float


class Grid:
    """The search over one cloth: width and gap in mm. Masks are kept between tries."""

    def __init__(self, width: float, gap: float) -> None:
        self.width = width
        self.gap = gap
        self.pad = gap / 2 + CELL * 0.7072
        self.rim = int(np.ceil(self.pad / CELL)) + 1
        self.masks: dict[int, Mask] = {}

    def mask(self, shape: Shape) -> Mask:
        """The cells touched by a shape lying at the origin, with a rim for the gap. Indexed [x, y]."""
        key = id(shape)
        found = self.masks.get(key)
        if found is None:
            size = shape.size
            nx = int(np.ceil(size.real / CELL)) + 2 * self.rim
            ny = int(np.ceil(size.imag / CELL)) + 2 * self.rim
            xs = (np.arange(nx) - self.rim + 0.5) * CELL
            ys = (np.arange(ny) - self.rim + 0.5) * CELL
            grid_x, grid_y = np.meshgrid(xs, ys, indexing="ij")
            polygon = shapely.Polygon([(p.real, p.imag) for p in shape.outline]).buffer(self.pad)
            shapely.prepare(polygon)
            found = np.asarray(shapely.contains_xy(polygon, grid_x, grid_y), np.float32)
            self.masks[key] = found
        return found

    def place(
        self, items: Sequence[Item], order: Sequence[int], choice: Sequence[int], stop_at: float
    ) -> Layout | None:
        """Lay the items in order, each at the free place nearest the beginning; None beyond ``stop_at``."""
        cells_y = int(np.ceil(self.width / CELL)) + 2 * self.rim
        cells_x = int(np.ceil(stop_at / CELL)) + 2 * self.rim + 1
        taken = np.zeros((cells_x, cells_y), np.float32)
        spots = []
        length = 0.0
        for index in order:
            item = items[index]
            best: tuple[float, float, Shape, int, int] | None = None
            shapes = item.shapes if choice[index] < 0 else (item.shapes[choice[index] % len(item.shapes)],)
            for shape in shapes:
                size = shape.size
                rows = int((self.width - size.imag) / CELL) + 1
                columns = int((stop_at - size.real) / CELL) + 1
                if rows < 1 or columns < 1:
                    continue
                mask = self.mask(shape)
                if item.on_fold:
                    strip = taken[:, : mask.shape[1]]
                    hits = _hits(strip, mask)[:columns, :1]
                else:
                    hits = _hits(taken, mask)[:columns, :rows]
                free = hits < 0.5
                per_column = free.any(axis=1)
                if not per_column.any():
                    continue
                x = int(np.argmax(per_column))
                y = int(np.argmax(free[x]))
                end = x * CELL + size.real
                if best is None or (end, y) < best[:2]:
                    best = (end, y, shape, x, y)
            if best is None:
                return None
            end, _, shape, x, y = best
            mask = self.mask(shape)
            taken[x : x + mask.shape[0], y : y + mask.shape[1]] += mask
            spots.append(Spot(index, shape, complex(x * CELL, y * CELL), item.on_fold))
            length = max(length, end)
        return Layout(tuple(spots), length)


def _hits(taken: Mask, mask: Mask) -> npt.NDArray[np.float64]:
    """How many taken cells the mask would cover at every place where it lies wholly inside (by FFT)."""
    from scipy.fft import irfft2, next_fast_len, rfft2  # loaded when the first lay is made

    shape = (next_fast_len(taken.shape[0]), next_fast_len(taken.shape[1]))
    product = np.conj(rfft2(mask, shape)) * rfft2(taken, shape)
    whole = irfft2(product, shape)
    return np.asarray(whole[: taken.shape[0] - mask.shape[0] + 1, : taken.shape[1] - mask.shape[1] + 1], np.float64)


def check_fits(items: Sequence[Item], width: float) -> None:
    """Raise :class:`WontFit` naming the first piece that is broader than the cloth in every way."""
    for item in items:
        least = min((shape.size.imag for shape in item.shapes), default=float("inf"))
        if least > width:
            raise WontFit(
                say(
                    "“{piece}” is {least} across the grain and does not go on {width}: take a wider cloth, lay it open, or give the piece a seam.",
                    piece=item.label or item.piece,
                    least=Length(least),
                    width=Length(width),
                )
            )


def search(
    items: list[Item],
    width: float,
    gap: float,
    seed: int,
    carry_on: Callable[[int, Layout | None], bool],
) -> Layout:
    """The shortest layout found until ``carry_on(tries, best)`` says no.

    Raises :class:`WontFit` when a piece is broader than the cloth.
    """
    check_fits(items, width)
    grid = Grid(width, gap)
    chance = random.Random(seed)
    order = sorted(range(len(items)), key=lambda i: (not items[i].on_fold, -items[i].area))
    choice = [-1] * len(items)
    longest = sum(max(shape.size.real for shape in item.shapes) + gap + 2 * CELL for item in items) + 100
    best = grid.place(items, order, choice, longest)
    if best is None:
        raise WontFit("The pieces can't be laid on this cloth.")
    floor = max(max(min(s.size.real for s in item.shapes) for item in items), sum(i.area for i in items) / width)
    tries = 1
    while carry_on(tries, best) and best.length > floor + CELL:
        trial, ways = list(order), list(choice)
        a, b = chance.randrange(len(items)), chance.randrange(len(items))
        if chance.random() < 0.3:
            trial.insert(a, trial.pop(b))
        else:
            trial[a], trial[b] = trial[b], trial[a]
        if chance.random() < 0.5:
            index = chance.randrange(len(items))
            ways[index] = chance.randrange(-1, len(items[index].shapes))
        layout = grid.place(items, trial, ways, best.length + 4 * CELL)
        tries += 1
        if layout is not None and layout.length <= best.length + (2 * CELL if chance.random() < 0.1 else 0.0):
            order, choice = trial, ways
            if layout.length < best.length:
                best = layout
    return best


def compacted(layout: Layout, gap: float) -> Layout:
    """Every piece slid towards the beginning until it is ``gap`` from the next, in small exact steps.

    A slanted piece can lie with one part behind another that begins later, so each is kept clear of
    all the others: of those that have moved, and of those that have yet to.
    """
    order = sorted(layout.spots, key=lambda s: s.at.real)
    # an outline that crosses itself is laid all the same: buffered by nothing it is sound
    polygons = [shapely.Polygon([(p.real, p.imag) for p in spot.shape.outline]).buffer(0) for spot in order]
    lying = [_moved(polygon, spot.at) for polygon, spot in zip(polygons, order, strict=True)]
    spots = []
    for index, (spot, polygon) in enumerate(zip(order, polygons, strict=True)):
        at = spot.at
        others = shapely.union_all([*lying[:index], *lying[index + 1 :]]) if len(lying) > 1 else None
        for step in (8.0, 2.0, 0.5):
            while at.real - step >= -1e-9:
                trial = _moved(polygon, at - step)
                if others is not None and trial.distance(others) < gap - 1e-6:
                    break
                at -= step
        if at.real < 0.5 and (others is None or _clear(polygon, complex(0, at.imag), others, gap)):
            at = complex(0, at.imag)
        lying[index] = _moved(polygon, at)
        spots.append(Spot(spot.item, spot.shape, at, spot.on_fold))
    return Layout(tuple(spots), max(spot.at.real + spot.shape.size.real for spot in spots))


def _clear(polygon: shapely.Polygon, at: Point, others: shapely.Geometry, gap: float) -> bool:
    return bool(_moved(polygon, at).distance(others) >= gap - 1e-6)


def _moved(polygon: shapely.Polygon, by: Point) -> shapely.Polygon:
    return shapely.transform(polygon, lambda points: points + np.array([by.real, by.imag]))
