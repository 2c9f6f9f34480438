"""A photograph seen from straight above: the table in millimetres, as far as the picture shows it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.view import Points, View

FARTHEST = 2500.0  # mm: what lies beyond is seen too flat to be of use
MOST = 12_600_000  # points
STRIP = 256  # rows at a time
GRID = 16  # points between the places that are worked out; a curve between them strays by far less than a tenth of one


@dataclass(frozen=True, slots=True)
class Flat:
    """The table from above: its points, where their top left corner lies (mm), and how many points are a mm."""

    points: Pixels
    origin: complex
    fine: float
    seen: Pixels  # 255 where the picture shows the table

    def to_table(self, points: Points) -> Points:
        """Points of it (in points, of their middles) as mm on the table."""
        return np.asarray(self.origin + (points + (0.5 + 0.5j)) / self.fine)

    def to_flat(self, table: Points) -> Points:
        """Points on the table (mm) as points of it."""
        return np.asarray((table - self.origin) * self.fine - (0.5 + 0.5j))


def bounds_of(view: View, sheet: Points) -> tuple[float, float, float, float]:
    """The part of the table that a picture shows: left, top, right, low, in mm, no farther from the sheet than is of use."""
    wide, high = view.size
    t = np.linspace(0, 1, 40)
    edge = np.concatenate([t * wide, wide + 1j * t * high, (1 - t) * wide + 1j * high, 1j * (1 - t) * high])
    table = view.to_table(edge)
    middle = complex(sheet.mean())
    near = table[np.abs(table - middle) < FARTHEST]
    if not len(near):
        near = sheet
    return float(near.real.min()), float(near.imag.min()), float(near.real.max()), float(near.imag.max())


def flattened(
    points: Pixels, view: View, sheet: Points, fine: float, within: tuple[float, float, float, float] | None = None
) -> Flat:
    """The table from above at so many points to the mm, or as many as :data:`MOST` allows: all of it, or a part (mm)."""
    import cv2

    left, top, right, low = bounds_of(view, sheet) if within is None else within
    fine = min(fine, (MOST / max((right - left) * (low - top), 1.0)) ** 0.5)
    wide, high = max(int((right - left) * fine), 2), max(int((low - top) * fine), 2)
    out = np.zeros((high, wide, 3), np.uint8)
    seen = np.zeros((high, wide), np.uint8)
    origin = complex(left, top)
    for first in range(0, high, STRIP):  # in strips, so that the memory stays small
        last = min(first + STRIP, high)
        x, y = mapped(lambda at: view.to_picture(origin + (at + (0.5 + 0.5j)) / fine), wide, first, last)
        out[first:last] = cv2.remap(points, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        inside = (x >= 0) & (y >= 0) & (x <= view.size[0] - 1) & (y <= view.size[1] - 1)
        seen[first:last] = np.where(inside, 255, 0)
    return Flat(out, origin, fine, seen)


def mapped(
    there: Callable[[Points], Points], wide: int, first: int, last: int
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Where each point of some rows of a picture lies elsewhere (x and y): worked out every :data:`GRID` points, evenly between."""
    import cv2

    columns = np.linspace(0, wide - 1, max(wide // GRID, 2))
    rows = np.linspace(first, last - 1, max((last - first) // GRID, 2))
    grid = columns[None, :] + 1j * rows[:, None]
    found = there(np.asarray(grid.ravel(), dtype=np.complex128)).reshape(grid.shape)
    down = np.linspace(0, len(rows) - 1, last - first, dtype=np.float32)
    along = np.linspace(0, len(columns) - 1, wide, dtype=np.float32)
    at_x, at_y = (np.ascontiguousarray(np.broadcast_to(one, (last - first, wide))) for one in (along, down[:, None]))
    x, y = (
        np.asarray(cv2.remap(one.astype(np.float32), at_x, at_y, cv2.INTER_LINEAR), dtype=np.float32)
        for one in (found.real, found.imag)
    )
    return x, y
