"""The sheet of known size that lies beside a garment: found in the picture, its edges followed, the view worked out.

A plain sheet (A4, Letter) is known by its four edges; Caddet's own sheet has a board of squares, whose many corners also
tell how the lens bends. Sizes: ISO 216 (A4 210 × 297 mm); Letter 8½ × 11 inches; both from memory.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from caddet.core.errors import CaddetError
from caddet.core.sentences import say
from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.view import STEEPEST, Points, View, unbent, view_from

Grey = NDArray[np.uint8]
BOARD = (9, 6)  # inner corners of the board of squares
SQUARE = 25.0  # mm
SMALL = 1100  # points of the longer side of the picture in which a sheet is looked for
LEAST = 0.004  # of the picture that a sheet covers at least
ASPECT = 0.12  # by which the ratio of its sides may seem off
ANOTHER = 0.03  # by which another kind of sheet must fit better to be told
ALONG = 70  # places along each edge where it is followed
EDGE = 0.06  # mm: how well one point of an edge is followed
LENS_USUAL = 0.02  # how far a telephone's lens bends, usually


@dataclass(frozen=True, slots=True)
class Sheet:
    """A kind of sheet: its shorter and longer side in mm; with ``board`` it is Caddet's own.

    A ``page`` is a scan: the whole picture is the sheet.
    """

    name: str
    label: str
    short: float
    long: float
    board: bool = False
    page: bool = False


SHEETS = {
    one.name: one
    for one in (
        Sheet("A4", "A4", 210.0, 297.0),
        Sheet("Letter", "Letter", 215.9, 279.4),
        Sheet("caddet", "Caddet's printed sheet", 175.0, 250.0, True),
        Sheet("scan_A4", "scan of an A4 page", 210.0, 297.0, page=True),
        Sheet("scan_Letter", "scan of a Letter page", 215.9, 279.4, page=True),
    )
}


class NoSheet(CaddetError):
    """There is no sheet in the picture that could be used; its text says why."""


COLORS = np.array([1.0, 1.6, 1.6])  # how much an edge of light, and of either colour, counts


@dataclass(frozen=True, slots=True)
class Found:
    """A sheet found: its corners in the picture, clockwise from the top left one as seen, and the view."""

    sheet: Sheet
    corners: tuple[complex, complex, complex, complex]
    view: View


def find_sheet(points: Pixels, sheet: Sheet) -> Found:
    """The sheet in a picture, and the view that it gives. Raises :class:`NoSheet` with why there is none."""
    import cv2

    if sheet.page:
        return _page(points, sheet)
    grey = np.asarray(cv2.cvtColor(points, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    found = _board(grey, sheet) if sheet.board else _plain(points, grey, sheet)
    if found.view.tilt > STEEPEST:
        raise NoSheet(
            say(
                "the picture was taken {tilt}° from the vertical; hold the camera straighter, at most {most}°.",
                tilt=round(found.view.tilt),
                most=round(STEEPEST),
            )
        )
    if not sheet.board:
        size = points.shape[1], points.shape[0]
        flat = tuple(complex(c) for c in unbent_corners(found, size))
        own = _aspect_off(size, flat, sheet)
        for other in SHEETS.values():
            if (
                not other.board
                and not other.page
                and other is not sheet
                and _aspect_off(size, flat, other) + ANOTHER < own
            ):
                raise NoSheet(
                    say(
                        "the sheet in the picture looks like {other}, not like {sheet}.",
                        other=other.label,
                        sheet=sheet.label,
                    )
                )
    return found


def unbent_corners(found: Found, size: tuple[int, int]) -> Points:
    """The corners of a sheet as they would be seen without the lens's bend."""
    half, middle = float(np.hypot(*size)) / 2, complex(*size) / 2
    return np.asarray(unbent((np.array(found.corners) - middle) / half, found.view.lens) * half + middle)


def view_by_corners(size: tuple[int, int], corners: tuple[complex, ...], sheet: Sheet, lens: float = 0.0) -> View:
    """The view from a sheet's corners set by hand, clockwise from the top left one. Raises :class:`NoSheet`."""
    if len(corners) != 4 or _turns(corners) <= 0:
        raise NoSheet(say("the four corners of the sheet go round clockwise; these do not."))
    try:
        return view_from(size, np.array(corners), _goal(size, corners, sheet), lens)
    except (ValueError, np.linalg.LinAlgError) as error:
        raise NoSheet(say("the four corners of the sheet lie on a line.")) from error


def _turns(corners: tuple[complex, ...]) -> float:
    """More than nothing when the corners go round clockwise (y down) and the quadrilateral bulges nowhere in."""
    turns = []
    for n in range(4):
        a, b, c = corners[n - 1], corners[n], corners[(n + 1) % 4]
        turns.append(((b - a).conjugate() * (c - b)).imag)
    return min(turns)


def _goals(sheet: Sheet) -> tuple[Points, Points]:
    """Where the corners lie on the table, in mm: the sheet lying across, and upright."""
    return tuple(
        np.array([0, w, w + 1j * h, 1j * h]) for w, h in ((sheet.long, sheet.short), (sheet.short, sheet.long))
    )  # type: ignore[return-value]


def _goal(size: tuple[int, int], corners: tuple[complex, ...], sheet: Sheet) -> Points:
    """Where the corners lie on the table, mm: across or upright, as the view of it makes more sense."""
    if sheet.page:
        return _goals(sheet)[0 if size[0] > size[1] else 1]
    return min(_goals(sheet), key=lambda goal: _off(size, corners, goal))


def _page(points: Pixels, sheet: Sheet) -> Found:
    """A scan: its own corners are the page's. Raises :class:`NoSheet` when its sides have another ratio."""
    high, wide = points.shape[:2]
    corners = (-0.5 - 0.5j, wide - 0.5 - 0.5j, wide - 0.5 + 1j * (high - 0.5), -0.5 + 1j * (high - 0.5))
    ratio = max(wide, high) / min(wide, high)
    if abs(ratio / (sheet.long / sheet.short) - 1) > 0.02:
        raise NoSheet(
            say("the picture is no {sheet}: its sides have another ratio; scan the whole page.", sheet=sheet.label)
        )
    along = _goals(sheet)[0 if wide > high else 1]
    return Found(sheet, corners, view_from((wide, high), np.array(corners), along))


# --- a plain sheet --------------------------------------------------------------------------------


def _plain(points: Pixels, grey: Grey, sheet: Sheet) -> Found:
    import cv2

    high, wide = grey.shape
    small = min(SMALL / max(wide, high), 1.0)
    little = np.asarray(cv2.resize(points, None, fx=small, fy=small, interpolation=cv2.INTER_AREA), dtype=np.uint8)
    candidates: list[tuple[float, tuple[complex, ...]]] = []
    cut = False
    for mask in _masks(little):
        contours, _ = cv2.findContours(mask, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
        for contour in contours:
            if cv2.contourArea(contour) < LEAST * mask.size:
                continue
            hull = cv2.convexHull(contour)
            if cv2.contourArea(contour) < 0.93 * cv2.contourArea(hull):
                continue
            shape = cv2.approxPolyDP(hull, 0.02 * cv2.arcLength(hull, True), True)
            if len(shape) != 4:
                continue
            corners = _ordered([complex(*one[0]) for one in shape])
            edge = min(min(c.real, c.imag, little.shape[1] - 1 - c.real, little.shape[0] - 1 - c.imag) for c in corners)
            paper = _paper(little, corners)
            if edge < 3:
                cut = cut or (paper > 0.75 and cv2.contourArea(hull) < 0.25 * mask.size)
                continue
            off = _aspect_off((wide, high), tuple(c / small for c in corners), sheet)
            if off < ASPECT and paper > 0.6:
                candidates.append((paper - off, corners))
    if not candidates:
        if cut:
            raise NoSheet(
                say(
                    "the {sheet} sheet lies half out of the picture; all four corners have to be in it.",
                    sheet=sheet.label,
                )
            )
        raise NoSheet(
            say(
                "there is no {sheet} sheet in the picture; lay one flat beside the garment, or set its corners by hand.",
                sheet=sheet.label,
            )
        )
    best = max(candidates)[1]
    apart = abs(best[2] - best[0])
    others = [
        c for score, c in candidates if abs(sum(c) - sum(best)) / 4 > 0.6 * apart and score > max(candidates)[0] - 0.15
    ]
    if others:
        raise NoSheet(
            say("there are two sheets in the picture; take one away, or set the corners of the right one by hand.")
        )
    rough = tuple((c + 0.5 + 0.5j) / small - (0.5 + 0.5j) for c in best)
    return _followed(grey, rough, sheet)


def _masks(little: Pixels) -> list[Grey]:
    """Where there may be paper: what is bright and has little colour, by several thresholds, and areas between edges."""
    import cv2

    lab = cv2.cvtColor(little, cv2.COLOR_RGB2LAB)
    light = cv2.GaussianBlur(lab[:, :, 0], (5, 5), 0)
    found: list[Any] = []
    level, _ = cv2.threshold(light, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    for threshold in {int(level), *range(int(level) - 24, 250, 8)}:
        found.append(cv2.threshold(light, threshold, 255, cv2.THRESH_BINARY)[1])
    edges = cv2.dilate(cv2.Canny(light, 20, 60), np.ones((3, 3), np.uint8))
    found.append(cv2.bitwise_not(edges))
    return found


def _ordered(corners: list[complex]) -> tuple[complex, ...]:
    """Corners clockwise as seen, from the one nearest to the top left."""
    middle = sum(corners) / 4
    round_ = sorted(corners, key=lambda c: np.angle(c - middle))
    first = min(range(4), key=lambda n: round_[n].real + round_[n].imag)
    return tuple(round_[(first + n) % 4] for n in range(4))


def _paper(little: Pixels, corners: tuple[complex, ...]) -> float:
    """How much an area looks like plain paper, 0 to 1: brighter than what is round it, without colour, alike all over."""
    import cv2

    inside = np.zeros(little.shape[:2], np.uint8)
    polygon = np.array([[c.real, c.imag] for c in corners], np.int32)
    cv2.fillPoly(inside, [polygon], 255)
    size = max(int(abs(corners[2] - corners[0]) * 0.06), 3)
    kernel = np.ones((size, size), np.uint8)
    core, ring = cv2.erode(inside, kernel) > 0, (cv2.dilate(inside, kernel) > 0) & (inside == 0)
    if not core.any() or not ring.any():
        return 0.0
    lab = cv2.cvtColor(little, cv2.COLOR_RGB2LAB).astype(np.float64)
    here, there = lab[core], lab[ring]
    brighter = float(np.clip((here[:, 0].mean() - there[:, 0].mean()) / 25, 0, 1))
    plain = float(np.clip(1 - (np.abs(here[:, 1:] - 128).mean() - 4) / 16, 0, 1))
    even = float(np.clip(1 - (here[:, 0].std() - 4) / 22, 0, 1))
    bright = float(np.clip((here[:, 0].mean() - 90) / 70, 0, 1))
    return 0.3 * brighter + 0.25 * plain + 0.25 * even + 0.2 * bright


def _aspect_off(size: tuple[int, int], corners: tuple[complex, ...], sheet: Sheet) -> float:
    """How far a quadrilateral is from a view of the sheet."""
    return min(_off(size, corners, goal) for goal in _goals(sheet))


def _off(size: tuple[int, int], corners: tuple[complex, ...], goal: Points) -> float:
    """How far corners are from a view of a rectangle: with square points and a usual lens its sides have one ratio."""
    try:
        view = view_from(size, np.array(corners), goal)
    except (ValueError, np.linalg.LinAlgError):
        return 1.0
    inverse = np.linalg.inv(np.reshape(view.matrix, (3, 3)))
    a, b = inverse[:, 0], inverse[:, 1]
    best = 1.0
    for focal in (1.3, 1.6, 1.9, 2.3, 2.8):  # of half the diagonal: 75° to 40° across
        one, two = (np.array([v[0] / focal, v[1] / focal, v[2]]) for v in (a, b))
        long = abs(np.log(np.linalg.norm(one) / np.linalg.norm(two)))
        square = abs(float(one @ two) / float(np.linalg.norm(one) * np.linalg.norm(two)))
        best = min(best, float(long + square))
    return best


def _followed(grey: Grey, rough: tuple[complex, ...], sheet: Sheet) -> Found:
    """The view from the sheet's edges, followed point by point; the lens as far as their bow tells of it."""
    from scipy.optimize import least_squares

    size = grey.shape[1], grey.shape[0]
    goal = _goal(size, rough, sheet)
    wide, high = goal[2].real, goal[2].imag
    view = view_from(size, np.array(rough), goal)
    reach = max(0.035 * abs(rough[2] - rough[0]), 4.0)
    for narrower in (1.0, 0.35, 0.15):
        sides = _edge_points(grey, view, wide, high, reach * narrower)
        picture = np.concatenate(sides)
        which = np.concatenate([np.full(len(side), n) for n, side in enumerate(sides)])
        if min(len(side) for side in sides) < ALONG // 4:
            break
        start = np.array([*np.reshape(view.matrix, 9) / view.matrix[8], view.lens])

        def off(x: Any, picture: Points = picture, which: Any = which) -> Any:
            table = View(size, (*x[:8], 1.0), float(x[9])).to_table(picture)
            away = np.choose(which, [table.imag, table.real - wide, table.imag - high, table.real])
            return np.concatenate([away / EDGE, [x[9] / LENS_USUAL, x[8] - 1.0]])

        # the homography's numbers are of very different size
        found = least_squares(
            off, start, x_scale=np.maximum(np.abs(start), 1e-3), loss="soft_l1", f_scale=3.0, max_nfev=200
        )
        x = found.x
        view = View(size, (*(float(v) for v in x[:8]), 1.0), float(x[9]))
        rest = np.abs(off(x)[: len(picture)]) * EDGE
        view = replace(view, residual=float(np.sqrt((np.minimum(rest, 3.0) ** 2).mean())))
    corners = view.to_picture(goal)
    return Found(sheet, tuple(complex(c) for c in corners), view)  # type: ignore[arg-type]  # there are four


def _edge_points(grey: Grey, view: View, wide: float, high: float, reach: float) -> list[Points]:
    """Points of the picture on each edge of the sheet, to a fraction of a point, looked for along the edge's normal."""
    corners = [0, wide, wide + 1j * high, 1j * high]
    found = []
    for n in range(4):
        a, b = corners[n], corners[(n + 1) % 4]
        along = np.asarray(a + (b - a) * np.linspace(0.06, 0.94, ALONG), dtype=np.complex128)
        at = view.to_picture(along)
        near = view.to_picture(np.asarray(along + (b - a) / abs(b - a), dtype=np.complex128))
        normal = (near - at) * -1j
        normal /= np.abs(normal)
        found.append(edges_near(grey, at, normal, reach, fall=True))
    return found


def edges_near(grey: Grey, at: Points, normal: Points, reach: float, *, fall: bool = False) -> Points:
    """The strongest edge near each point along its normal, to a fraction of a point of the picture; none where there is none.

    With ``fall`` the picture is to get darker along the normal (paper ends there).
    """
    places, strong = edge_places(grey, at, normal, reach, fall=fall)
    good = strong > max(6.0, 0.35 * float(np.median(strong)))
    return np.asarray((at + normal * places)[good])


def edge_places(
    picture: Pixels, at: Points, normal: Points, reach: float, *, fall: bool = False, near: float = 0.0
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Where along its normal (in points) each place has its strongest edge, and how strong that is.

    In a grey picture, or in one of colours, where an edge between two colours counts more than one of light. ``near``
    prefers edges near the place: an edge at the end of the reach counts so much less.
    """
    import cv2
    from scipy.ndimage import convolve1d

    step = min(max(reach / 60, 0.25), 1.0)
    count = max(int(reach / step), 4)
    offsets = np.arange(-count, count + 1) * step
    sample = at[:, None] + normal[:, None] * offsets
    seen = cv2.remap(
        picture,
        sample.real.astype(np.float32),
        sample.imag.astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    values = np.asarray(seen if seen.ndim == 2 else cv2.cvtColor(seen, cv2.COLOR_RGB2LAB), dtype=np.float64)
    blur = max(int(1.5 / step), 1)
    kernel = np.exp(-0.5 * (np.arange(-3 * blur, 3 * blur + 1) / blur) ** 2)
    kernel /= kernel.sum()
    slope = np.gradient(convolve1d(values, kernel, axis=1, mode="nearest"), axis=1)
    weight = -slope if fall else np.abs(slope)
    if weight.ndim == 3:
        each = weight * COLORS
        most = (each * (1 - near * np.abs(offsets) / reach)[None, :, None]).max(axis=1).argmax(axis=1)
        weight = np.take_along_axis(each, most[:, None, None], axis=2)[:, :, 0]
    weight = weight * (1 - near * np.abs(offsets) / reach)
    best = weight.argmax(axis=1)
    inner = np.clip(best, 1, weight.shape[1] - 2)
    rows = np.arange(len(at))
    a, b, c = weight[rows, inner - 1], weight[rows, inner], weight[rows, inner + 1]
    bend = a - 2 * b + c
    shift = np.where(np.abs(bend) > 1e-9, 0.5 * (a - c) / np.where(np.abs(bend) > 1e-9, bend, 1.0), 0.0)
    strength = weight[rows, best] / step * blur * step
    return offsets[inner] + np.clip(shift, -1, 1) * step, strength


# --- Caddet's own sheet ---------------------------------------------------------------------------


def board_corners() -> Points:
    """Where the inner corners of the board lie, row by row, in mm from the board's top left corner."""
    return np.array([complex((x + 1) * SQUARE, (y + 1) * SQUARE) for y in range(BOARD[1]) for x in range(BOARD[0])])


def _squares(grey: Grey) -> Points | None:
    """Where the inner corners of the board lie in a picture; None without a board."""
    import cv2

    seen, corners = cv2.findChessboardCornersSB(grey, BOARD, flags=cv2.CALIB_CB_EXHAUSTIVE | cv2.CALIB_CB_ACCURACY)
    return np.asarray(corners.reshape(-1, 2) @ np.array([1, 1j])) if seen else None


def _squares_in(grey: Grey) -> Points | None:
    """The same, looked for in a small picture first and then where it lies: in a large one that is much quicker."""
    import cv2

    small = SMALL / max(grey.shape)
    if small > 0.8:
        return _squares(grey)
    rough = _squares(np.asarray(cv2.resize(grey, None, fx=small, fy=small, interpolation=cv2.INTER_AREA), np.uint8))
    if rough is None:
        return _squares(grey)
    at = (rough + (0.5 + 0.5j)) / small
    spare = 0.25 * max(float(np.ptp(at.real)), float(np.ptp(at.imag)))
    left, top = (max(int(v.min() - spare), 0) for v in (at.real, at.imag))
    right, low = (int(v.max() + spare) for v in (at.real, at.imag))
    near = _squares(np.ascontiguousarray(grey[top:low, left:right]))
    return near + complex(left, top) if near is not None else _squares(grey)


def _board(grey: Grey, sheet: Sheet) -> Found:
    from scipy.optimize import least_squares

    picture = _squares_in(grey)
    if picture is None:
        raise NoSheet(
            say("there is no {sheet} in the picture, or not all of its squares can be seen.", sheet=sheet.label)
        )
    size = grey.shape[1], grey.shape[0]
    table = board_corners()

    start = view_from(size, picture, table)

    def off(x: Any) -> Any:
        view = View(size, (*x[:8], 1.0), float(x[8]))
        away = view.to_picture(table) - picture
        return np.concatenate([away.real, away.imag])

    first = np.array([*np.reshape(start.matrix, 9)[:8] / start.matrix[8], 0.0])
    x = least_squares(off, first, x_scale=np.maximum(np.abs(first), 1e-2), max_nfev=300).x
    view = View(size, (*(float(v) for v in x[:8]), 1.0), float(x[8]))
    view = replace(view, residual=float(np.sqrt((np.abs(view.to_table(picture) - table) ** 2).mean())))
    outer = view.to_picture(np.array([0, sheet.long, sheet.long + 1j * sheet.short, 1j * sheet.short]))
    return Found(sheet, tuple(complex(c) for c in outer), view)  # type: ignore[arg-type]  # there are four
