"""The outline of what lies on the table, proposed from colour and contrast and drawn to the edge in the picture."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from caddet.core.errors import CaddetError
from caddet.core.geometry.fitting import fair_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, cross
from caddet.core.sentences import say
from caddet.core.tracing.photo.flat import Flat, flattened
from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.sheets import edge_places
from caddet.core.tracing.photo.view import Points, View

DRAWN = 2.5  # points to the mm in which a drawn line is told from the paper
COARSE = 0.8  # points to the mm in which the garment is told from the table
SPACING = 2.0  # mm between the places where the edge is looked for
REACH = 6.0  # mm to either side
JUDGED = 640  # points of the longer side in which what is not sure is settled by colour
ROUND = 40.0  # mm of the table round it that tell its colour
LEAST = 2500.0  # mm² of a piece
LIGHT = 0.55  # how much lightness counts beside colour: a shadow is only darker
CORNER = 26.0  # degrees that a corner turns
NEAR, FAR, CLOSE = (
    3.0,
    18.0,
    9.0,
)  # mm beside it from which on, and over which at first and then, its two edges are taken
ALIKE, TWO = 3.0, 45.0  # degrees by which turns are alike; that each of two close corners turns at least
SHY, WEAKER = 36.0, 1.8  # mm beside a corner in which one that turns so much less is none
STRAIGHT = 0.8  # mm
BLEMISH = 0.8  # mm off the curve through the places beside it
BESIDE = (3, 9)  # places to either side through which that curve goes
FEW = 4  # places that are a blemish
BLURRED = 5.0  # mm beside a corner in which the picture shows no sharp edge


@dataclass(frozen=True, slots=True)
class Proposed:
    """An outline on the table in mm: a closed round of places, clockwise, and which of them are corners."""

    points: Points
    corners: tuple[int, ...]

    def edges(self, tolerance: float = 1.0) -> tuple[list[Path], float]:
        """Its edges from corner to corner, straight or fair, and how far the farthest place lies off them, in mm."""
        return edges_between(self.points, self.corners, tolerance)


def clear_of_corners(points: Points) -> Points:
    """A row of places without those close to its ends, which the corners blur, and without blemishes; the ends stay."""
    along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(points)))])
    clear = (along > BLURRED) & (along < along[-1] - BLURRED) & ~_blemished(points)
    clear[[0, -1]] = True
    return points[clear] if clear.sum() > 6 else points


def _blemished(points: Points) -> NDArray[np.bool_]:
    """Which places lie off the curve through those on either side: a few, as where a pen's line runs up to the edge."""
    found = np.zeros(len(points), dtype=bool)
    steps = np.concatenate([np.arange(-BESIDE[1], -BESIDE[0] + 1), np.arange(BESIDE[0], BESIDE[1] + 1)])
    if len(points) <= 2 * BESIDE[1]:
        return found
    curve = np.linalg.pinv(np.column_stack([np.ones(len(steps)), steps, steps**2]))[0]  # its middle, by least squares
    middle = np.arange(BESIDE[1], len(points) - BESIDE[1])
    near = points[middle[:, None] + steps[None, :]]
    way = near[:, -1] - near[:, 0]
    off = np.conj(way) * (points[middle] - near @ curve) / np.maximum(np.abs(way), 1e-9)
    found[middle] = np.abs(off.imag) > BLEMISH
    for row in np.split(np.flatnonzero(found), np.flatnonzero(np.diff(np.flatnonzero(found)) > 1) + 1):
        if len(row) > FEW:  # a tight turn: it lies off as a whole
            found[row] = False
        elif len(row):
            found[row[0] - 2 : row[-1] + 3] = True  # what stands beside it is drawn along
    return found


def edges_between(points: Points, corners: tuple[int, ...], tolerance: float = 1.0) -> tuple[list[Path], float]:
    """The edges of a closed round of places from corner to corner, each the fewest curves within a tolerance, and the deviation.

    Raises :class:`CaddetError` with fewer than two corners.
    """
    if len(corners) < 2:
        raise CaddetError(say("an outline has at least two corners; say where the edges end"))
    found, worst = [], 0.0
    count = len(points)
    for a, b in zip(corners, (*corners[1:], corners[0] + count), strict=True):
        places = points[np.arange(a, b + 1) % count]
        path, off = fair_through([complex(p) for p in clear_of_corners(places)], tolerance)
        found.append(path)
        worst = max(worst, off)
    return found, worst


def propose(
    points: Pixels, view: View, sheet: Points, going: Callable[[float], bool] = lambda share: True
) -> list[Proposed]:
    """The outlines of what lies on the table in a picture, the largest first; ``sheet`` is left out.

    ``going`` is told how far it is (0 to 1) and says whether to go on. Raises :class:`CaddetError` when nothing is found.
    """
    flat = flattened(points, view, sheet, COARSE)
    if not going(0.2):
        return []
    masks = _garments(flat, sheet)
    if not going(0.7):
        return []
    if not masks:  # no cloth that stands out: a line drawn on paper, perhaps
        flat = flattened(points, view, sheet, DRAWN)
        masks = _drawn(flat)
    if not masks:
        raise CaddetError(
            say("nothing could be told from the table: use a table of another colour, or click the corners by hand")
        )
    found = []
    for mask in masks:
        rough = _contour(mask, flat)
        if rough is None:
            continue
        places = without_loops(snapped(points, view, rough, REACH))
        corners = corners_of(places)
        found.append(Proposed(sharpened(places, corners), corners))
    going(1.0)
    return sorted(found, key=lambda one: -abs(_area(one.points)))


def _area(points: Points) -> float:
    return float((points.real * np.roll(points.imag, -1) - points.imag * np.roll(points.real, -1)).sum() / 2)


def _garments(flat: Flat, sheet: Points) -> list[NDArray[np.uint8]]:
    """A mask for everything that is not table, sheet or beyond the picture."""
    import cv2

    blurred = cv2.GaussianBlur(flat.points, (0, 0), 1.0)
    lab = np.asarray(cv2.cvtColor(blurred, cv2.COLOR_RGB2LAB), dtype=np.float32)
    lab[:, :, 0] *= LIGHT
    seen = flat.seen > 0
    paper = np.zeros(seen.shape, np.uint8)
    corners = flat.to_flat(sheet)
    if len(corners) > 2:
        cv2.fillPoly(paper, [np.array([[p.real, p.imag] for p in corners], np.int32)], 255)
    paper = np.asarray(cv2.dilate(paper, np.ones((int(14 * flat.fine),) * 2, np.uint8)), dtype=np.uint8)
    usable = seen & (paper == 0)
    # the table is what lies along the picture's edge
    inner = cv2.erode(flat.seen, np.ones((int(24 * flat.fine),) * 2, np.uint8), borderValue=0)
    band = usable & (inner == 0)
    if band.sum() < 50:
        return []
    table = lab[band]
    centre = np.median(table, axis=0)
    spread = np.maximum(1.4826 * np.median(np.abs(table - centre), axis=0), 1.5)
    away = np.sqrt((((lab - centre) / spread) ** 2).sum(axis=2))
    away = np.where(usable, np.minimum(away, 40), 0)
    scaled = (away / 40 * 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled[usable].reshape(-1, 1), 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    level = max(level, 255 * 4.0 / 40)
    mask = np.where((scaled > level) & usable, 255, 0).astype(np.uint8)
    mask = _settled(flat, mask, usable)
    return _parts(mask, flat)


def _drawn(flat: Flat) -> list[NDArray[np.uint8]]:
    """A mask for everything that a drawn line goes round: what can't be reached from the picture's edge over the paper."""
    import cv2

    lab = cv2.cvtColor(flat.points, cv2.COLOR_RGB2LAB)
    size = int(6 * flat.fine) | 1
    dark = cv2.morphologyEx(
        lab[:, :, 0], cv2.MORPH_BLACKHAT, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    )
    level = max(20.0, float(np.percentile(dark, 99.5)) * 0.4)
    lines = np.where((dark > level) & (flat.seen > 0), 255, 0).astype(np.uint8)
    gap = int(2.5 * flat.fine) | 1
    lines = np.asarray(cv2.morphologyEx(lines, cv2.MORPH_CLOSE, np.ones((gap, gap), np.uint8)), dtype=np.uint8)
    ringed = cv2.copyMakeBorder(lines, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    outside = ringed.copy()
    cv2.floodFill(outside, None, (0, 0), 255)
    inside = np.where((outside == 0) | (ringed > 0), 255, 0).astype(np.uint8)[1:-1, 1:-1]
    opened = cv2.morphologyEx(np.ascontiguousarray(inside), cv2.MORPH_OPEN, np.ones((gap + 2, gap + 2), np.uint8))
    return _parts(np.asarray(opened, dtype=np.uint8), flat)


def _settled(flat: Flat, mask: NDArray[np.uint8], usable: NDArray[np.bool_]) -> NDArray[np.uint8]:
    """A mask closed over creases, freed of specks, and settled by colour where it is not sure."""
    import cv2

    def kernel(mm: float) -> NDArray[np.uint8]:
        size = max(int(mm * flat.fine) | 1, 3)
        return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)), dtype=np.uint8)

    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, kernel(14)), dtype=np.uint8)
    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_OPEN, kernel(8)), dtype=np.uint8)
    sure = cv2.erode(mask, kernel(18))
    maybe = cv2.dilate(mask, kernel(18))
    if not sure.any():
        return mask
    judged = np.full(mask.shape, cv2.GC_BGD, np.uint8)
    judged[(maybe > 0) & usable] = cv2.GC_PR_BGD
    judged[mask > 0] = cv2.GC_PR_FGD
    judged[sure > 0] = cv2.GC_FGD
    rows, columns = (np.flatnonzero((maybe > 0).any(axis=axis)) for axis in (1, 0))
    spare = int(ROUND * flat.fine)
    part = np.s_[max(rows[0] - spare, 0) : rows[-1] + spare, max(columns[0] - spare, 0) : columns[-1] + spare]
    small = min(JUDGED / max(mask.shape), 1.0)
    size = tuple(int(side * small) for side in judged[part].shape[::-1])
    picture = cv2.resize(flat.points[part], size, interpolation=cv2.INTER_AREA)
    little = cv2.resize(judged[part], size, interpolation=cv2.INTER_NEAREST)
    cv2.setRNGSeed(1)  # it begins with colours at random: the same picture, the same outline
    try:
        cv2.grabCut(picture, little, None, np.zeros((1, 65)), np.zeros((1, 65)), 1, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]  # no rectangle with a mask
    except cv2.error:
        return mask
    settled = np.where((little == cv2.GC_FGD) | (little == cv2.GC_PR_FGD), 255, 0).astype(np.uint8)
    large = np.zeros_like(mask)
    large[part] = cv2.resize(settled, judged[part].shape[::-1], interpolation=cv2.INTER_LINEAR)
    return np.asarray(cv2.morphologyEx((large > 127).astype(np.uint8) * 255, cv2.MORPH_OPEN, kernel(6)), dtype=np.uint8)


def _parts(mask: NDArray[np.uint8], flat: Flat) -> list[NDArray[np.uint8]]:
    """The parts of a mask that are large enough and lie whole in the picture, each with its holes filled."""
    import cv2

    found = []
    edge = cv2.dilate((flat.seen == 0).astype(np.uint8) * 255, np.ones((5, 5), np.uint8))
    edge[:2, :], edge[-2:, :], edge[:, :2], edge[:, -2:] = 255, 255, 255, 255
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    for contour in contours:
        if cv2.contourArea(contour) < LEAST * flat.fine**2:
            continue
        one = np.zeros(mask.shape, np.uint8)
        cv2.drawContours(one, [contour], -1, 255, -1)
        at_edge = (edge[contour[:, 0, 1], contour[:, 0, 0]] > 0).mean()
        if at_edge < 0.04:
            found.append(one)
    return found


def _contour(mask: NDArray[np.uint8], flat: Flat) -> Points | None:
    """The outline of a mask on the table, clockwise, evenly spaced."""
    import cv2

    soft = cv2.GaussianBlur(mask, (0, 0), 2.0 * flat.fine)
    contours, _ = cv2.findContours((soft > 127).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not contours:
        return None
    contour = max(contours, key=cv2.contourArea)
    points = flat.to_table(contour[:, 0, 0] + 1j * contour[:, 0, 1])
    if _area(points) < 0:
        points = points[::-1]
    return spaced(np.asarray(points), SPACING)


def spaced(points: Points, spacing: float) -> Points:
    """A closed round of places at even distances."""
    ring = np.concatenate([points, points[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(ring)))])
    count = max(int(along[-1] / spacing), 8)
    at = np.linspace(0, along[-1], count, endpoint=False)
    return np.asarray(np.interp(at, along, ring.real) + 1j * np.interp(at, along, ring.imag))


def is_simple(points: Points) -> bool:
    """Whether a closed round of places nowhere crosses itself."""
    import shapely

    return bool(shapely.LinearRing([(p.real, p.imag) for p in points]).is_simple)


def without_loops(points: Points) -> Points:
    """A closed round of places without the small loops in which it crosses itself."""
    import shapely

    if is_simple(points):
        return points
    whole = shapely.make_valid(shapely.Polygon([(p.real, p.imag) for p in points]))
    parts = [one for one in getattr(whole, "geoms", [whole]) if one.geom_type == "Polygon"]
    if not parts:
        return points
    ring = np.array(max(parts, key=lambda one: one.area).exterior.coords)[:-1] @ np.array([1, 1j])
    return spaced(np.asarray(ring if _area(ring) > 0 else ring[::-1]), SPACING)


def snapped(points: Pixels, view: View, table: Points, reach: float) -> Points:
    """A closed round of places on the table (mm) drawn to the edge that the picture shows near them, and evened along it."""
    ahead, behind = np.roll(table, -2), np.roll(table, 2)
    way = (ahead - behind) / np.maximum(np.abs(ahead - behind), 1e-9)
    out = way * -1j  # clockwise: outside is to the left
    at, beside = view.to_picture(table), view.to_picture(np.asarray(table + out))
    normal = beside - at
    size = np.abs(normal)
    places, strong = edge_places(points, at, normal / size, reach * float(np.median(size)), near=0.5)
    offset = np.where(strong > 0.35 * np.median(strong), places / size, np.nan)
    return np.asarray(table + out * _evened(offset))


def _evened(offset: NDArray[np.float64]) -> NDArray[np.float64]:
    """Offsets round an outline without those that jump; where there is none, what its neighbours have."""
    count, half = len(offset), 3
    window = np.stack([np.roll(offset, k) for k in range(-half, half + 1)])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # where no neighbour has one either
        middle = np.nanmedian(window, axis=0)
    good = np.isfinite(offset) & (np.abs(offset - middle) < 1.2)
    at = np.arange(count)
    if good.sum() < 4:
        return np.where(np.isfinite(middle), middle, 0.0)
    return np.interp(at, np.concatenate([at[good] - count, at[good], at[good] + count]), np.tile(offset[good], 3))


def corners_of(points: Points) -> tuple[int, ...]:
    """Where a closed round of places turns sharply: over some way first, then where it turns most in a shorter one."""
    count = len(points)
    turns, close = turns_of(points, FAR), turns_of(points, CLOSE)
    step = float(np.abs(np.diff(points)).mean())
    reach = max(round(FAR / step), 3) // 2
    found: list[int] = []
    for n in range(count):
        window = turns[(np.arange(n - reach, n + reach + 1)) % count]
        if turns[n] >= CORNER and turns[n] == window.max() and (not found or n - found[-1] > reach):
            found.append(n)
    near = np.arange(-reach, reach + 1)
    sharp = np.array([close[(n + near) % count].max() for n in found])
    exact = []
    for n, own in zip(found, sharp, strict=True):
        apart = np.abs((np.array(found) - n + count // 2) % count - count // 2) * step
        if any((apart > 0) & (apart < SHY) & (sharp > WEAKER * own)):
            continue  # a tight curve that runs into a corner
        wide = np.arange(-2 * reach, 2 * reach + 1)
        first, second = (
            _middle_of_most(close[(n + row) % count]) for row in (wide[: 2 * reach], wide[2 * reach + 1 :])
        )
        ends = n + wide[first], n + wide[2 * reach + 1 + second]
        least = close[np.arange(ends[0], ends[1] + 1) % count].min()
        if min(close[end % count] for end in ends) > max(TWO, WEAKER * least):  # both corners of a narrow strap
            exact += [int(end) % count for end in ends]
        else:
            exact.append(
                int(n + near[_middle_of_most((close if own >= turns[n] else turns)[(n + near) % count])]) % count
            )
    return tuple(sorted(set(exact)))


def _middle_of_most(values: NDArray[np.float64]) -> int:
    """The middle of where values are about as high as the highest."""
    most = np.flatnonzero(values > values.max() - ALIKE)
    return int(most[len(most) // 2])


def turns_of(points: Points, far: float) -> NDArray[np.float64]:
    """By how many degrees a closed round of places turns at each: between the ways before and behind, taken so far (mm)."""
    count = len(points)
    step = float(np.abs(np.diff(points)).mean())
    at, steps = np.arange(count)[:, None], np.arange(max(round(NEAR / step), 1), max(round(far / step), 3) + 1)[None, :]
    one, other = _directions(points[(at - steps[:, ::-1]) % count]), _directions(points[(at + steps) % count])
    return np.asarray(np.abs(np.degrees(np.angle(other / one))))


def _directions(rows: Points) -> Points:
    """The direction of each row of places, as a unit: that of the line with the least squares through it."""
    off = rows - rows.mean(axis=1, keepdims=True)
    moment = (off**2).sum(axis=1)
    way = np.sqrt(moment / np.maximum(np.abs(moment), 1e-12))
    forth = ((rows[:, -1] - rows[:, 0]) * way.conjugate()).real > 0
    return np.asarray(np.where(forth, way, -way))


def sharpened(points: Points, corners: tuple[int, ...]) -> Points:
    """The round with its corners where the edges on either side of them meet, as far as those are near.

    A corner that would make the round cross itself is left as it was.
    """
    made = _sharp(points, points, corners)
    if is_simple(made):
        return made
    made = points
    for corner in corners:
        one = _sharp(points, made, (corner,))
        made = one if is_simple(one) else made
    return made


def _sharp(points: Points, so_far: Points, corners: tuple[int, ...]) -> Points:
    """What was made so far of the round, with these corners where the edges of the round itself meet."""
    made = np.array(so_far)
    count = len(points)
    step = float(np.abs(np.diff(points)).mean())
    near, far = max(round(NEAR / step), 1), max(round(FAR / step), 3)
    for n in corners:
        before = points[(n - np.arange(near, far + 1)) % count][::-1]
        behind = points[(n + np.arange(near, far + 1)) % count]
        a, b = (complex(_directions(row[None, :])[0]) for row in (before, behind))
        p, q = complex(before.mean()), complex(behind.mean())
        turn = cross(a, b)
        if abs(turn) < 0.2:
            continue
        meet = p + a * (cross(q - p, b) / turn)
        if abs(meet - complex(points[n])) < 8.0:
            made[n] = meet
            reach = near + int(np.ceil(abs(meet - complex(points[n])) / step))
            for k in range(1, reach):  # what was rounded off beside the corner goes with it
                share = k / reach
                for side in (-1, 1):
                    beside = complex(points[(n + side * reach) % count])
                    made[(n + side * k) % count] = meet * (1 - share) + beside * share
    return np.asarray(made)


def is_straight(path: Path) -> bool:
    """Whether an edge came out as one line."""
    return len(path.segments) == 1 and isinstance(path.segments[0], Line)
