"""A photograph seen from straight above: the table in millimetres, as far as the picture shows it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.view import Points, View

FARTHEST = 2500.0  # mm: what lies beyond is seen too flat to be of use
MOST = 12_600_000  # points


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


def flattened(points: Pixels, view: View, sheet: Points, fine: float) -> Flat:
    """The table from above at so many points to the mm, or as many as :data:`MOST` allows."""
    import cv2

    left, top, right, low = bounds_of(view, sheet)
    fine = min(fine, (MOST / max((right - left) * (low - top), 1.0)) ** 0.5)
    wide, high = max(int((right - left) * fine), 2), max(int((low - top) * fine), 2)
    out = np.zeros((high, wide, 3), np.uint8)
    seen = np.zeros((high, wide), np.uint8)
    origin = complex(left, top)
    across = (np.arange(wide) + 0.5) / fine
    for first in range(0, high, 256):  # in strips, so that the memory stays small
        rows = np.arange(first, min(first + 256, high))
        table = origin + across[None, :] + 1j * ((rows + 0.5) / fine)[:, None]
        picture = view.to_picture(table.ravel()).reshape(table.shape)
        x, y = picture.real.astype(np.float32), picture.imag.astype(np.float32)
        out[rows] = cv2.remap(points, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        inside = (x >= 0) & (y >= 0) & (x <= view.size[0] - 1) & (y <= view.size[1] - 1)
        seen[rows] = np.where(inside, 255, 0)
    return Flat(out, origin, fine, seen)
