"""How a flat table was seen by the camera: from points of the picture to millimetres on the table and back.

A view is a homography with one number for the lens: a point at a distance r from the picture's middle (half its diagonal
is 1) was moved by the lens to r (1 + lens r²). All points are complex: x to the right, y down.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.complex128]
Matrix = NDArray[np.float64]
UNBEND = 8  # rounds in which the lens is undone
STEEPEST = 60.0  # degrees from the vertical


@dataclass(frozen=True, slots=True)
class View:
    """A picture's view of the table. ``matrix`` takes unbent points, in halves of the diagonal from the middle, to mm.

    ``residual`` is how far what was known on the sheet lies from where it should, in mm.
    """

    size: tuple[int, int]
    matrix: tuple[float, ...]
    lens: float = 0.0
    residual: float = 0.0

    @property
    def _half(self) -> float:
        return math.hypot(*self.size) / 2

    @property
    def middle(self) -> complex:
        """The middle of the picture."""
        return complex(self.size[0], self.size[1]) / 2

    def to_table(self, points: Points) -> Points:
        """Points of the picture as mm on the table."""
        return _mapped(
            np.reshape(self.matrix, (3, 3)), unbent((np.asarray(points) - self.middle) / self._half, self.lens)
        )

    def to_picture(self, points: Points) -> Points:
        """Points on the table (mm) as points of the picture."""
        flat = _mapped(np.linalg.inv(np.reshape(self.matrix, (3, 3))), np.asarray(points, dtype=complex))
        return bent(flat, self.lens) * self._half + self.middle

    def scale_at(self, point: complex) -> float:
        """Millimetres on the table for one point of the picture, there."""
        near = self.to_table(np.array([point, point + 1, point + 1j]))
        return float((abs(near[1] - near[0]) + abs(near[2] - near[0])) / 2)

    @property
    def scale(self) -> float:
        """Millimetres for a point in the middle of the picture."""
        return self.scale_at(self.middle)

    @property
    def tilt(self) -> float:
        """How far the camera was held from the vertical, in degrees; where it can't be told, 0."""
        inverse = np.linalg.inv(np.reshape(self.matrix, (3, 3)))
        a, b = inverse[:, 0], inverse[:, 1]
        # the table's two directions are square to each other and of one length: that tells the focal length
        top, low = -(a[0] * b[0] + a[1] * b[1]), a[2] * b[2]
        other, under = -(a[0] ** 2 + a[1] ** 2 - b[0] ** 2 - b[1] ** 2), a[2] ** 2 - b[2] ** 2
        weight = low * low + under * under
        square = (top * low + other * under) / weight if weight > 1e-18 else 4.0
        focal = math.sqrt(square) if 0.25 < square < 100 else 2.0
        one, two = (np.array([v[0] / focal, v[1] / focal, v[2]]) for v in (a, b))
        normal = np.cross(one, two)
        return math.degrees(math.acos(min(abs(normal[2]) / max(float(np.linalg.norm(normal)), 1e-12), 1.0)))


def bent(points: Points, lens: float) -> Points:
    """Points as the lens moves them (halves of the diagonal from the middle)."""
    return np.asarray(points * (1 + lens * np.abs(points) ** 2))


def unbent(points: Points, lens: float) -> Points:
    """The points that the lens moved to these."""
    if lens == 0:
        return np.asarray(points)
    found = np.asarray(points)
    for _ in range(UNBEND):
        found = points / (1 + lens * np.abs(found) ** 2)
    return np.asarray(found)


def _mapped(matrix: Matrix, points: Points) -> Points:
    x, y = points.real, points.imag
    w = matrix[2, 0] * x + matrix[2, 1] * y + matrix[2, 2]
    w = np.where(np.abs(w) < 1e-9, 1e-9, w)
    across = (matrix[0, 0] * x + matrix[0, 1] * y + matrix[0, 2]) / w
    down = (matrix[1, 0] * x + matrix[1, 1] * y + matrix[1, 2]) / w
    return np.asarray(across + 1j * down)


def view_from(size: tuple[int, int], picture: Points, table: Points, lens: float = 0.0) -> View:
    """The view that takes these points of a picture to these on the table (mm), at least four, by least squares.

    ``lens`` is taken as given. Raises :class:`ValueError` when the points make no view.
    """
    half, middle = math.hypot(*size) / 2, complex(*size) / 2
    flat = unbent((np.asarray(picture) - middle) / half, lens)
    goal = np.asarray(table, dtype=complex)
    centre, spread = goal.mean(), max(float(np.abs(goal - goal.mean()).mean()), 1e-9)
    unit = (goal - centre) / spread
    rows = []
    for p, q in zip(flat, unit, strict=True):
        x, y, u, v = p.real, p.imag, q.real, q.imag
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y, -u])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y, -v])
    _, values, right = np.linalg.svd(np.array(rows))
    if len(values) >= 8 and values[7] < 1e-9:
        raise ValueError("these points make no view of a table")
    matrix = right[-1].reshape(3, 3)
    back = np.array([[spread, 0, centre.real], [0, spread, centre.imag], [0, 0, 1]])
    matrix = back @ matrix
    matrix = matrix / np.linalg.norm(matrix)
    made = View(size, tuple(float(v) for v in matrix.ravel()), lens)
    away = np.abs(made.to_table(np.asarray(picture)) - goal)
    return View(size, made.matrix, lens, float(np.sqrt((away**2).mean())))
