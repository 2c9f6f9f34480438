"""A camera that takes a picture of what lies on the table: what Caddet expects of one, and a simulated one.

The simulated camera renders pieces of known shape as a telephone would see them: from the side, turned, through a lens that
bends, with shadow, weave, creases and noise. The same seed and shot give the same picture. Lengths in mm.
"""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np
from numpy.typing import ArrayLike, NDArray

from caddet.core.geometry.paths import Path
from caddet.core.tracing.photo.flat import mapped
from caddet.core.tracing.photo.sheets import BOARD, SHEETS, SQUARE
from caddet.core.tracing.photo.view import View

FINE = 2.0  # points of the table's own picture for a mm
FOCAL = 1.7  # of half the diagonal: about 60° from corner to corner
MARGIN = 40.0  # mm round what lies on the table
FINER = 4
DRAWN, INK = 2.0, (30.0, 28.0, 34.0)  # mm wide is a line that was drawn with a pen, and its colour
SPARE = 0.3  # of its size that the table goes on beyond what is seen
DARKER = 0.18  # of the light is missing in the corners of a picture
BORDER = 18.0  # mm of paper round the board of squares


class Camera(Protocol):
    """A camera. A real one would be reached through the same two."""

    @property
    def name(self) -> str:
        """What it is called."""

    def take(self) -> bytes:
        """Take a picture; a JPEG. Raises :class:`CaddetError` when there is none."""


@dataclass(frozen=True, slots=True)
class Lying:
    """A piece as it lies on the table: its name, its closed outline in mm, its colour (red, green, blue), and lines drawn on it."""

    name: str
    outline: Path
    color: tuple[int, int, int] = (96, 122, 150)
    lines: tuple[Path, ...] = ()


@dataclass(frozen=True, slots=True)
class Scene:
    """What lies on the table, and the sheet beside it: its kind, the place of its top left corner, its turn in degrees."""

    pieces: tuple[Lying, ...]
    sheet: str = "A4"
    sheet_at: complex = 0j
    sheet_turn: float = 0.0
    table: tuple[int, int, int] = (150, 132, 110)
    look: tuple[float, float, float, float] | None = None  # left, top, right, low: only this part of it is taken


@dataclass(frozen=True, slots=True)
class Shot:
    """How a picture is taken.

    ``tilt`` from the vertical and ``turn`` in degrees, ``lens`` how much it bends (see :mod:`.view`), ``shadow``, ``noise``
    (of 255), ``contrast`` between garment and table (1: as they are), ``creases`` their count, ``size`` in points.
    """

    tilt: float = 8.0
    turn: float = 3.0
    lens: float = 0.0
    shadow: float = 0.25
    noise: float = 3.0
    contrast: float = 1.0
    creases: int = 4
    size: tuple[int, int] = (2400, 1800)
    heading: float = 30.0  # to which side it is tilted, degrees


@dataclass(slots=True)
class SimulatedCamera:
    """The stand-in: it takes pictures of a scene; ``view`` is what it really saw the table through."""

    scene: Scene
    shot: Shot = field(default_factory=Shot)
    seed: int = 1
    name: str = "Practice camera"

    def bounds(self) -> tuple[float, float, float, float]:
        """What is to be seen: left, top, right, low, in mm."""
        if self.scene.look is not None:
            return self.scene.look
        points = [p for piece in self.scene.pieces for p in piece.outline.flattened(1.0)]
        points += [complex(p) for p in self.sheet_corners()]
        x, y = [p.real for p in points], [p.imag for p in points]
        return min(x) - MARGIN, min(y) - MARGIN, max(x) + MARGIN, max(y) + MARGIN

    def sheet_corners(self) -> NDArray[np.complex128]:
        """Where the corners of the sheet really lie, in mm, clockwise from its top left one; none without a sheet."""
        sheet = SHEETS.get(self.scene.sheet)
        if sheet is None:
            return np.zeros(0, dtype=complex)
        turn = np.exp(1j * math.radians(self.scene.sheet_turn))
        wide, high = (sheet.long, sheet.short) if sheet.board else (sheet.short, sheet.long)
        return np.asarray(
            self.scene.sheet_at + np.array([0, wide, wide + 1j * high, 1j * high]) * turn, dtype=np.complex128
        )

    def view(self) -> View:
        """The view of the table that the picture is taken with."""
        left, top, right, low = self.bounds()
        middle = complex(left + right, top + low) / 2
        wide, high = self.shot.size
        half = math.hypot(wide, high) / 2
        heading, tilt, turn = (math.radians(a) for a in (self.shot.heading, self.shot.tilt, self.shot.turn))
        spin = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1]])
        axis = np.array([math.cos(heading), math.sin(heading), 0])
        cross = np.array([[0, 0, axis[1]], [0, 0, -axis[0]], [-axis[1], axis[0], 0]])
        lean = np.eye(3) + math.sin(tilt) * cross + (1 - math.cos(tilt)) * cross @ cross
        pose = lean @ spin
        corners = np.array([complex(x, y) for x in (left, right) for y in (top, low)]) - middle
        for away in np.geomspace(200, 12_000, 160):
            plane = np.column_stack([pose[:, 0], pose[:, 1], [0, 0, away]])
            matrix = np.diag([FOCAL, FOCAL, 1.0]) @ plane
            seen = matrix @ np.array([corners.real, corners.imag, np.ones(4)])
            if (seen[2] <= 1).any():
                continue
            flat = seen[0] / seen[2] + 1j * seen[1] / seen[2]
            bent = flat * (1 + self.shot.lens * np.abs(flat) ** 2) * half
            if (np.abs(bent.real) < wide / 2 * 0.98).all() and (np.abs(bent.imag) < high / 2 * 0.98).all():
                break
        shift = np.array([[1, 0, -middle.real], [0, 1, -middle.imag], [0, 0, 1]])
        back = np.linalg.inv(matrix @ shift)
        back /= np.linalg.norm(back)
        return View(self.shot.size, tuple(float(v) for v in back.ravel()), self.shot.lens)

    def take(self) -> bytes:
        """Take the picture."""
        import cv2
        from PIL import Image

        view = self.view()
        above, origin = self._from_above()
        wide, high = self.shot.size
        half = math.hypot(wide, high) / 2
        out = np.empty((high, wide, 3), np.uint8)
        for first in range(0, high, 256):  # in strips, so that the memory stays small
            last = min(first + 256, high)
            x, y = mapped(lambda at: (view.to_table(at) - origin) * FINE - (0.5 + 0.5j), wide, first, last)
            out[first:last] = cv2.remap(above, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        random = np.random.default_rng(self.seed + 1)
        across, down = (np.arange(wide) - wide / 2) / half, (np.arange(high) - high / 2) / half
        light = 1 - DARKER * (across[None, :] ** 2 + down[:, None] ** 2)
        noisy = random.standard_normal(out.shape, dtype=np.float32)
        noisy *= np.float32(self.shot.noise)
        noisy += out * light.astype(np.float32)[:, :, None]
        buffer = io.BytesIO()
        Image.fromarray(np.clip(noisy, 0, 255, out=noisy).astype(np.uint8)).save(buffer, "JPEG", quality=92)
        return buffer.getvalue()

    def _from_above(self) -> tuple[NDArray[np.uint8], complex]:
        """The table from straight above, :data:`FINE` points to the mm, and where its top left corner lies."""
        import cv2

        random = np.random.default_rng(self.seed)
        left, top, right, low = self.bounds()
        spare = SPARE * max(right - left, low - top)
        origin = complex(left - spare, top - spare)
        wide, high = (round((b - a + 2 * spare) * FINE) for a, b in ((left, right), (top, low)))
        table = np.array(self.scene.table, dtype=np.float32)
        canvas = table + _grain(random, (high, wide), 7.0, 40)[:, :, None]
        masks = [
            _filled((high, wide), [[(p - origin) * FINE for p in one.outline.flattened(0.1)]])
            for one in self.scene.pieces
        ]
        for mask in masks:
            canvas *= (1 - self.shot.shadow * _blurred(mask, 7 * FINE, round(6 * FINE)))[:, :, None]
        for piece, mask in zip(self.scene.pieces, masks, strict=True):
            color = table + (np.array(piece.color, dtype=np.float32) - table) * np.float32(self.shot.contrast)
            rough = _grain(random, (high, wide), 4.0, 3) + _creases(random, mask, self.shot.creases)
            _lay(canvas, mask, color, rough)
            drawn = np.zeros((high, wide), np.uint8)
            for line in piece.lines:
                points = np.round(
                    np.array([[p.real, p.imag] for p in ((q - origin) * FINE - 0.5 for q in line.flattened(0.2))]) * 16
                )
                cv2.polylines(drawn, [points.astype(np.int32)], False, 255, max(round(DRAWN * FINE), 1), cv2.LINE_AA, 4)
            _lay(canvas, drawn, INK)
        self._lay_sheet(canvas, origin)
        return np.clip(canvas, 0, 255).astype(np.uint8), origin

    def _lay_sheet(self, canvas: NDArray[np.float32], origin: complex) -> None:
        sheet = SHEETS.get(self.scene.sheet)
        if sheet is None:
            return
        corners = self.sheet_corners()
        turn = complex(np.exp(1j * math.radians(self.scene.sheet_turn)))
        paper = corners
        if sheet.board:  # the board stands on paper that is larger
            paper = corners + np.array([-1 - 1j, 1 - 1j, 1 + 1j, -1 + 1j]) * BORDER * turn
        size = canvas.shape[:2]
        mask = _filled(size, [[complex(p - origin) * FINE for p in paper]])
        _lay(canvas, mask, (238.0,) * 3)
        if sheet.board:
            squares = [
                [(corners[0] + (p + column + 1j * row) * SQUARE * turn - origin) * FINE for p in (0, 1, 1 + 1j, 1j)]
                for row in range(BOARD[1] + 1)
                for column in range(BOARD[0] + 1)
                if (row + column) % 2 == 0
            ]
            _lay(canvas, _filled(size, squares), (32.0,) * 3)


def _lay(
    canvas: NDArray[np.float32],
    mask: NDArray[np.uint8],
    color: ArrayLike,
    rough: NDArray[np.float32] | None = None,
) -> None:
    """Lay a colour over a canvas as far as a mask says, lighter or darker by how rough it is."""
    import cv2

    x, y, wide, high = cv2.boundingRect(mask)
    part = np.s_[y : y + high, x : x + wide]
    share = mask[part].astype(np.float32)[:, :, None] / np.float32(255)
    over = np.array(color, np.float32) if rough is None else np.array(color, np.float32) + rough[part][:, :, None]
    canvas[part] += (over - canvas[part]) * share


def _filled(size: tuple[int, ...], polygons: Sequence[Sequence[complex]]) -> NDArray[np.uint8]:
    """Polygons filled, with soft edges: drawn :data:`FINER` times as large and brought down again.

    What fills them draws their outline as well, half a point too wide: that is taken off.
    """
    import cv2
    import shapely

    mask = np.zeros(size[:2], np.uint8)
    shapes = shapely.union_all([shapely.Polygon([(p.real, p.imag) for p in points]) for points in polygons])
    left, top = (max(math.floor(v) - 2, 0) for v in shapes.bounds[:2])
    right, low = (math.ceil(v) + 2 for v in shapes.bounds[2:])
    right, low = min(right, size[1]), min(low, size[0])
    large = np.zeros(((low - top) * FINER, (right - left) * FINER), np.uint8)
    for points in polygons:
        inner = shapely.Polygon([((p.real - left) * FINER - 0.5, (p.imag - top) * FINER - 0.5) for p in points]).buffer(
            -0.5, join_style="mitre"
        )
        for part in getattr(inner, "geoms", [inner]):
            if not part.is_empty:
                cv2.fillPoly(
                    large, [np.round(np.array(part.exterior.coords) * 16).astype(np.int32)], 255, cv2.LINE_8, 4
                )
    mask[top:low, left:right] = cv2.resize(large, (right - left, low - top), interpolation=cv2.INTER_AREA)
    return mask


def _blurred(mask: NDArray[np.uint8], width: float, shift: int) -> NDArray[np.float32]:
    """A mask as the soft shadow that it throws to the lower right, 0 to 1."""
    import cv2

    small = cv2.resize(np.roll(mask, (shift, shift), (0, 1)), None, fx=1 / 8, fy=1 / 8, interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (0, 0), width / 8)
    large = cv2.resize(soft, mask.shape[::-1], interpolation=cv2.INTER_LINEAR)
    return np.asarray(large, dtype=np.float32) / np.float32(255)


def _grain(random: np.random.Generator, size: tuple[int, int], depth: float, coarse: int) -> NDArray[np.float32]:
    """An uneven surface: noise that is as coarse as so many points."""
    import cv2

    small = random.normal(0, depth, (size[0] // coarse + 2, size[1] // coarse + 2)).astype(np.float32)
    return np.asarray(cv2.resize(small, (size[1], size[0]), interpolation=cv2.INTER_LINEAR), dtype=np.float32)


def _creases(random: np.random.Generator, mask: NDArray[np.uint8], count: int) -> NDArray[np.float32]:
    """Soft lighter and darker folds across the cloth."""
    import cv2

    small = cv2.resize(mask, None, fx=1 / 4, fy=1 / 4, interpolation=cv2.INTER_AREA)
    found = np.zeros(small.shape, np.float32)
    inside = np.argwhere(small > 0)
    for _ in range(count if len(inside) else 0):
        a, b = inside[random.integers(len(inside))], inside[random.integers(len(inside))]
        line = np.zeros(small.shape, np.uint8)
        cv2.line(line, (int(a[1]), int(a[0])), (int(b[1]), int(b[0])), 255, int(random.integers(1, 3)), cv2.LINE_AA)
        depth = random.uniform(12, 30) * random.choice((-1, 1))
        found += cv2.GaussianBlur(line, (0, 0), random.uniform(1, 2.5)).astype(np.float32) / 255 * np.float32(depth)
    return np.asarray(cv2.resize(found, mask.shape[::-1], interpolation=cv2.INTER_LINEAR), dtype=np.float32)
