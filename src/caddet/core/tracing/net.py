"""The outlines of a kind as numbers: from a vector of unknowns to marks, curves and what the tape would read.

Everything is worked out for many vectors at once (the first axis of every array), so that a step of the solver with its
derivatives is one pass. Points are complex, in mm.
"""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from caddet.core.tracing.kinds import Run, Seen, Shape, Way

Reals = NDArray[np.float64]
Points = NDArray[np.complex128]
NODES, WEIGHTS = np.polynomial.legendre.leggauss(12)
NODES, WEIGHTS = (NODES + 1) / 2, WEIGHTS / 2
FLAT_TURN = 1e-3  # tangents that turn less do not meet ahead
COORDINATE, BOW, FULL = "coordinate", "bow", "full"


@dataclass(frozen=True, slots=True)
class Unknown:
    """One number that is solved for: a coordinate in mm, a bow as a share of its chord, or how full a curve is."""

    kind: str
    shape: str
    of: str
    usual: float


@dataclass
class Net:
    """The shapes of a kind with their unknowns, in the order of the vector."""

    shapes: tuple[Shape, ...]
    scale: float = 1.0
    unknowns: list[Unknown] = field(default_factory=list)
    where: dict[tuple[str, str, str], int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for shape in self.shapes:
            for mark in shape.marks:
                for axis, usual in (("x", mark.x), ("y", mark.y)):
                    if axis not in mark.free or (axis == "y" and mark.like):
                        continue
                    bow = bool(mark.between[0])
                    self._add(
                        BOW if bow else COORDINATE, shape.name, f"{mark.name}.{axis}", usual, 1 if bow else self.scale
                    )
            for run in shape.runs:
                if run.full:
                    self._add(FULL, shape.name, f"{run.name}.full", run.full, 1)
                    self._add(FULL, shape.name, f"{run.name}.late", run.full, 1)

    def _add(self, kind: str, shape: str, of: str, usual: float, scale: float) -> None:
        name, _, axis = of.partition(".")
        self.where[shape, name, axis] = len(self.unknowns)
        self.unknowns.append(Unknown(kind, shape, name, usual * scale))

    @cached_property
    def parts(self) -> list[tuple[str, Net, list[int]]]:
        """Each shape by name as a net of its own, with the places of its unknowns in the vector."""
        return [
            (
                shape.name,
                Net((shape,), self.scale),
                [n for n, one in enumerate(self.unknowns) if one.shape == shape.name],
            )
            for shape in self.shapes
        ]

    @property
    def usual(self) -> Reals:
        """The vector of the usual garment at this scale."""
        return np.array([one.usual for one in self.unknowns])

    def _value(self, x: Reals, shape: str, name: str, axis: str, usual: float) -> Reals:
        at = self.where.get((shape, name, axis))
        return np.full(len(x), usual) if at is None else x[:, at]

    def marks(self, x: Reals) -> dict[tuple[str, str], Points]:
        """Every mark for every vector, by shape and name."""
        found: dict[tuple[str, str], Points] = {}
        for shape in self.shapes:
            later = []
            for mark in shape.marks:
                if mark.between[0]:
                    later.append(mark)
                    continue
                across = self._value(x, shape.name, mark.name, "x", mark.x * self.scale)
                down = (
                    found[shape.name, mark.like].imag
                    if mark.like
                    else self._value(x, shape.name, mark.name, "y", mark.y * self.scale)
                )
                found[shape.name, mark.name] = across + 1j * down
            for mark in later:
                a, b = (found[shape.name, name] for name in mark.between)
                bow = self._value(x, shape.name, mark.name, "y", mark.y)
                found[shape.name, mark.name] = a + (b - a) * (mark.x - 1j * bow)
        return found

    def curves(
        self, x: Reals, marks: Mapping[tuple[str, str], Points], only: Container[tuple[str, str]] | None = None
    ) -> dict[tuple[str, str], Points]:
        """Every run (or only these) for every vector as cubics (vectors, cubics, 4), by shape and name."""
        found: dict[tuple[str, str], Points] = {}
        for shape in self.shapes:
            runs = [n for n, run in enumerate(shape.runs) if only is None or (shape.name, run.name) in only]
            beside = {n + side for n in runs for side, way in _sides(shape.runs[n]) if way == "square"}
            wanted = {n % len(shape.runs) for n in (*runs, *beside)}
            for number in sorted(wanted, key=lambda n: "square" in (shape.runs[n].start, shape.runs[n].end)):
                run = shape.runs[number]
                points = np.stack([marks[shape.name, name] for name in run.through], axis=1)
                ends = [
                    _way(way, shape, number, side, points[:, at] - points[:, at - 1], found, marks)
                    for (side, way), at in zip(_sides(run), (1, -1), strict=True)
                ]
                if run.full and ends[0] is not None and ends[1] is not None:
                    full = x[:, self.where[shape.name, run.name, "full"]]
                    late = x[:, self.where[shape.name, run.name, "late"]]
                    found[shape.name, run.name] = _bent(points, ends[0], ends[1], full, late)
                else:
                    found[shape.name, run.name] = _splined(points, ends[0], ends[1])
        return found

    def seen(self, x: Reals, what: Sequence[Seen]) -> Reals:
        """What the tape would read (vectors, readings), in mm."""
        marks = self.marks(x)
        read = {(one.shape, run) for one in what if one.how == "along" for run in one.of}
        long = {key: lengths(curve) for key, curve in self.curves(x, marks, read).items()}
        found = np.empty((len(x), len(what)))
        for n, one in enumerate(what):
            if one.how == "along":
                found[:, n] = sum(long[one.shape, run] for run in one.of) * one.times
                continue
            a, b = (marks[one.shape, name] for name in one.of)
            by = b + a.conjugate() if one.how == "cross" else b - a
            off = np.abs(by.real) if one.how == "across" else by.imag if one.how == "drop" else np.abs(by)
            found[:, n] = off * one.times
        return found


def lengths(cubics: Points) -> Reals:
    """The lengths of runs of cubics (vectors, cubics, 4), in mm."""
    a, b, c, d = (cubics[:, :, n, None] for n in range(4))
    t = NODES
    speed = 3 * np.abs((b - a) * (1 - t) ** 2 + 2 * (c - b) * t * (1 - t) + (d - c) * t**2)
    return np.asarray((speed * WEIGHTS).sum(axis=(1, 2)))


def _sides(run: Run) -> tuple[tuple[int, Way], tuple[int, Way]]:
    return (-1, run.start), (1, run.end)


def _way(
    way: Way,
    shape: Shape,
    number: int,
    side: int,
    chord: Points,
    curves: Mapping[tuple[str, str], Points],
    marks: Mapping[tuple[str, str], Points],
) -> Points | None:
    """The direction of a run at an end for every vector, as a unit; None where it is free.

    Square to its neighbour as that ends there; to one that is square itself, as the line between its last marks.
    """
    if way is None:
        return None
    if not isinstance(way, str):
        return np.full(len(chord), way)
    beside: Run = shape.runs[(number + side) % len(shape.runs)]
    if (curve := curves.get((shape.name, beside.name))) is not None:
        along = curve[:, -1, 3] - curve[:, -1, 2] if side < 0 else curve[:, 0, 1] - curve[:, 0, 0]
    else:
        two = beside.through[-2:] if side < 0 else beside.through[:2]
        along = marks[shape.name, two[1]] - marks[shape.name, two[0]]
    square = along * 1j / np.maximum(np.abs(along), 1e-9)
    return np.where((square * chord.conjugate()).real < 0, -square, square)


def _bent(points: Points, a: Points, b: Points, full: Reals, late: Reals) -> Points:
    """The curve that turns once between two points: see :func:`caddet.core.drafting.curves.bend`."""
    start, end = points[:, 0], points[:, -1]
    chord = end - start
    turn = (a.conjugate() * b).imag
    safe = np.where(np.abs(turn) > FLAT_TURN, turn, 1.0)
    first, second = (chord.conjugate() * b).imag / safe, (a.conjugate() * chord).imag / safe
    meets = (np.abs(turn) > FLAT_TURN) & (first > 0) & (second > 0)
    first = np.where(meets, first, np.abs(chord) * 0.6)
    second = np.where(meets, second, np.abs(chord) * 0.6)
    full, late = (np.clip(one, 0.1, 1.0) for one in (full, late))
    return np.stack([start, start + a * first * full, end - b * second * late, end], axis=1)[:, None, :]


def _splined(points: Points, start: Points | None, end: Points | None) -> Points:
    """The cubic spline by chord lengths: see :func:`caddet.core.geometry.curves.smooth_through`."""
    count = points.shape[1]
    steps = np.diff(points, axis=1)
    size = np.maximum(np.abs(steps), 1e-9)
    slope = steps / size
    if count == 2 and start is None and end is None:
        a, b = points[:, 0], points[:, 1]
        return np.stack([a, a + (b - a) / 3, b - (b - a) / 3, b], axis=1)[:, None, :]
    matrix = np.zeros((len(points), count, count))
    right = np.zeros((len(points), count), dtype=complex)
    for n in range(1, count - 1):
        before, after = size[:, n - 1], size[:, n]
        matrix[:, n, n - 1], matrix[:, n, n], matrix[:, n, n + 1] = after, 2 * (before + after), before
        right[:, n] = 3 * (after * slope[:, n - 1] + before * slope[:, n])
    for n, beside, way in ((0, 1, start), (count - 1, count - 2, end)):
        if way is not None:
            matrix[:, n, n], right[:, n] = 1, way
        else:
            matrix[:, n, n], matrix[:, n, beside] = 2, 1
            right[:, n] = 3 * slope[:, min(n, beside)]
    slopes = np.linalg.solve(matrix, right[:, :, None])[:, :, 0]
    a, b = points[:, :-1], points[:, 1:]
    return np.stack([a, a + slopes[:, :-1] * size / 3, b - slopes[:, 1:] * size / 3, b], axis=2)
