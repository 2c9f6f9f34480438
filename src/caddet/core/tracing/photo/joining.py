"""Several pictures of one garment, or scans of one tracing, joined to one by the marks that they share.

Each picture is seen from above at true size first, so that marks have the same distances in both: the turn and shift that
lay most of them on each other is the one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from caddet.core.errors import CaddetError
from caddet.core.sentences import say
from caddet.core.tracing.photo.flat import Flat, flattened
from caddet.core.tracing.photo.picture import Picture
from caddet.core.tracing.photo.sheets import Found
from caddet.core.tracing.photo.view import Points

FINE = 2.0  # points to the mm
MARK = 26.0  # mm that a mark measures at most
LEAST_MARK = 3.0  # mm
ALIKE = 2.5  # mm by which two marks that are one may differ
LEAST = 3  # marks that must agree
MOST = 60  # marks of a picture that are compared
UNLIKE = 30.0  # of 255 that a point may differ where two pictures show the same, and the share that may differ more
MAY_DIFFER = 0.05
TOO_FEW = (
    "the pictures share too few marks ({found}); draw three or more crosses where they overlap, and take them again"
)
FAR = 40.0  # mm between two marks that a turn is told from


@dataclass(frozen=True, slots=True)
class Joined:
    """Several pictures as one, seen from above: the sheet's corners in it, how many marks agreed, and how well (mm)."""

    picture: Picture
    corners: tuple[complex, complex, complex, complex]
    marks: int
    off: float


def marks_in(flat: Flat) -> Points:
    """The small marks (crosses, dots, a few mm to two cm) that a picture shows, in mm on its table, the clearest first."""
    import cv2

    lab = cv2.cvtColor(flat.points, cv2.COLOR_RGB2LAB)
    light = cv2.GaussianBlur(lab[:, :, 0], (0, 0), 0.5 * flat.fine)
    size = int(8 * flat.fine) | 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    stands_out = np.maximum(
        cv2.morphologyEx(light, cv2.MORPH_BLACKHAT, kernel), cv2.morphologyEx(light, cv2.MORPH_TOPHAT, kernel)
    )
    seen = cv2.erode(flat.seen, np.ones((size, size), np.uint8))
    level = max(22.0, float(np.percentile(stands_out[seen > 0], 99)) * 0.5) if (seen > 0).any() else 255.0
    mask = np.where((stands_out > level) & (seen > 0), 255, 0).astype(np.uint8)
    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)), dtype=np.uint8)
    count, _, stats, centres = cv2.connectedComponentsWithStats(mask)
    found: list[tuple[float, complex]] = []
    for n in range(1, count):
        wide, high, area = (stats[n, k] / flat.fine for k in (cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT, cv2.CC_STAT_AREA))
        if not (min(wide, high) >= LEAST_MARK and max(wide, high) <= MARK and max(wide, high) < 2.5 * min(wide, high)):
            continue
        found.append((-float(area), complex(*centres[n])))
    found.sort(key=lambda one: one[0])
    return flat.to_table(np.array([at for _, at in found[:MOST]], dtype=np.complex128))


def laid_on(first: Points, second: Points) -> tuple[complex, complex, int, float]:
    """The turn and shift that lay the second marks on the first, how many agree, and how well (mm).

    Raises :class:`CaddetError` when fewer than :data:`LEAST` do.
    """
    best: tuple[int, float, complex, complex] = (0, 0.0, 1 + 0j, 0j)
    for a, b in combinations(range(len(first)), 2):
        chord = first[b] - first[a]
        if abs(chord) < FAR:
            continue
        gaps = second[None, :] - second[:, None]
        for c, d in np.argwhere(np.abs(np.abs(gaps) - abs(chord)) < ALIKE):
            turn = complex(chord / gaps[c, d])
            turn /= abs(turn)
            shift = complex((first[a] + first[b]) / 2 - turn * (second[c] + second[d]) / 2)
            away = np.abs(first[:, None] - (turn * second + shift)[None, :])
            near = away.min(axis=1) < ALIKE
            if near.sum() > best[0]:
                best = int(near.sum()), float(away.min(axis=1)[near].mean()), turn, shift
    agreed, _, turn, shift = best
    if agreed < LEAST:
        raise CaddetError(say(TOO_FEW, found=agreed))
    pairs = []
    for one in first:
        away = np.abs(turn * second + shift - one)
        if away.min() < ALIKE:
            pairs.append((one, second[int(away.argmin())]))
    there, own = np.array([p for p, _ in pairs]), np.array([q for _, q in pairs])
    spin = complex(((there - there.mean()) * (own - own.mean()).conjugate()).sum())
    turn = spin / abs(spin)
    shift = complex(there.mean() - turn * own.mean())
    return turn, shift, len(pairs), float(np.abs(turn * own + shift - there).mean())


def joined(pictures: Sequence[Picture], found: Sequence[Found]) -> Joined:
    """The pictures as one, the first one's sheet its measure. Raises :class:`CaddetError` when two share too few marks."""
    import cv2

    flats = [
        flattened(one.points, sheet.view, sheet.view.to_table(np.array(sheet.corners)), FINE)
        for one, sheet in zip(pictures, found, strict=True)
    ]
    motions: list[tuple[complex, complex]] = [(1 + 0j, 0j)]
    known = marks_in(flats[0])
    least, worst = len(known), 0.0
    for flat in flats[1:]:
        own = marks_in(flat)
        turn, shift, agreed, off = laid_on(known, own)
        if _unlike(flats[0], flat, turn, shift) and len(flats) == 2:
            raise CaddetError(say(TOO_FEW, found=agreed))
        motions.append((turn, shift))
        least, worst = min(least, agreed), max(worst, off)
        known = np.concatenate([known, turn * own + shift])
    ends = []
    for flat, (turn, shift) in zip(flats, motions, strict=True):
        high, wide = flat.points.shape[:2]
        ends.append(turn * flat.to_table(np.array([0, wide, wide + 1j * high, 1j * high])) + shift)
    every = np.concatenate(ends)
    origin = complex(every.real.min(), every.imag.min())
    fine = min(FINE, (12_000_000 / (np.ptp(every.real) * np.ptp(every.imag))) ** 0.5)
    size = int(np.ptp(every.real) * fine) + 1, int(np.ptp(every.imag) * fine) + 1
    whole = np.empty((size[1], size[0], 3), np.uint8)
    whole[:] = _table(flats[0])  # where no picture shows anything, the table goes on
    taken = np.zeros((size[1], size[0]), bool)
    for flat, (turn, shift) in zip(flats, motions, strict=True):
        k = turn * fine / flat.fine
        by = (turn * flat.origin + shift - origin) * fine
        matrix = np.array([[k.real, -k.imag, by.real], [k.imag, k.real, by.imag]])
        shown = cv2.warpAffine(flat.points, matrix, size)
        seen = (cv2.warpAffine(flat.seen, matrix, size, flags=cv2.INTER_NEAREST) > 0) & ~taken
        whole[seen] = shown[seen]
        taken |= seen
    sheet = found[0].view.to_table(np.array(found[0].corners))
    corners = tuple(complex(c) for c in (sheet - origin) * fine - (0.5 + 0.5j))
    return Joined(Picture(whole), corners, least, worst)  # type: ignore[arg-type]  # there are four


def _table(flat: Flat) -> NDArray[np.float64]:
    """The colour of the table: what lies along the edge of what a picture shows."""
    import cv2

    inner = cv2.erode(flat.seen, np.ones((int(20 * flat.fine),) * 2, np.uint8), borderValue=0)
    band = (flat.seen > 0) & (inner == 0)
    return np.asarray(np.median(flat.points[band], axis=0)) if band.any() else np.full(3, 128.0)


def _unlike(first: Flat, second: Flat, turn: complex, shift: complex) -> bool:
    """Whether two pictures show different things where they would lie on each other: then their marks agreed by chance."""
    import cv2

    fine = 0.5
    size = int(first.points.shape[1] * fine / first.fine), int(first.points.shape[0] * fine / first.fine)
    one = cv2.resize(cv2.GaussianBlur(first.points, (0, 0), first.fine), size, interpolation=cv2.INTER_AREA).astype(
        np.float32
    )
    seen = cv2.resize(first.seen, size, interpolation=cv2.INTER_NEAREST) > 0
    k = turn * fine / second.fine
    by = (turn * second.origin + shift - first.origin) * fine
    matrix = np.array([[k.real, -k.imag, by.real], [k.imag, k.real, by.imag]])
    other = cv2.warpAffine(cv2.GaussianBlur(second.points, (0, 0), second.fine), matrix, size).astype(np.float32)
    both = seen & (cv2.warpAffine(second.seen, matrix, size, flags=cv2.INTER_NEAREST) > 0)
    if both.sum() < 400:
        return True
    apart = np.abs(one - other).max(axis=2)[both]
    return bool((apart > UNLIKE).mean() > MAY_DIFFER)
