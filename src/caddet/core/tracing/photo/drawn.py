"""The lines drawn on a piece in a picture, from edge to edge or from line to line, with the marks across them.

They are read from what they part: the fields of cloth that a line goes round are the panels, and the middle of what lies
between two of them is the line. What parts nothing is a mark where it crosses a line, and otherwise is left alone.
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from caddet.core.errors import CaddetError
from caddet.core.recipe.traced import PhotoLine, PhotoMark, PhotoPiece
from caddet.core.sentences import say
from caddet.core.tracing.photo.cutting_lines import MOST, SMALLEST, in_picture, with_panels
from caddet.core.tracing.photo.flat import Flat, flattened
from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.proposing import DRAWN
from caddet.core.tracing.photo.view import Points, View

RIM = 4.0  # mm along the outline in which no line is looked for: its own edge shows there
WIDEST = 7.0  # mm of a pen's line at most
GAP = 3.0  # mm that a line may be missing
FAINT, SHARE = 28.0, 0.4  # of 255: a line stands out by so much at least, and by so much of what stands out most
SHORTEST = 20.0  # mm of a line
MEET = 7.0  # mm within which lines meet in one place
ONWARDS = 45.0  # degrees that a line turns at most where another ends on it
SPACED = 4.0  # mm between the places of a line
CLEAR = 2.5  # mm beside the middle of a line that are its own ink
STROKE = 25.0  # mm to which a mark reaches out from its line at most
TWO = 10.0  # mm within which two strokes are a double mark
ACROSS = 50.0  # degrees from the line that a mark's stroke lies at least

Going = Callable[[float], bool]
Mask = NDArray[np.bool_]


def drawn_lines(points: Pixels, view: View, piece: PhotoPiece, going: Going = lambda share: True) -> PhotoPiece:
    """The piece with the lines drawn on it in the picture, the marks across them and the panels they part it into.

    Names that stood in a panel stay in it. ``going`` is told how far it is (0 to 1) and says whether to go on; stopped, the
    piece is as it was. Raises :class:`CaddetError` when no line parts the piece.
    """
    table = view.to_table(np.array([complex(*one) for one in piece.points]))
    left, top, right, low = table.real.min(), table.imag.min(), table.real.max(), table.imag.max()
    within = (float(left) - 10, float(top) - 10, float(right) + 10, float(low) + 10)
    flat = flattened(points, view, table, DRAWN, within)
    if not going(0.3):
        return piece
    inner = _inside(flat, table)
    ink, strength = _ink(flat, inner)
    if not going(0.6):
        return piece
    panels = _panels(inner & ~ink, flat)
    if panels.max() < 2:
        raise CaddetError(
            say(
                "no line was found that goes over it from edge to edge; draw it darker and close its gaps, or draw the lines by hand on the photograph's page"
            )
        )
    lines = _joined(_between(panels, inner, flat), table)
    if len(lines) > MOST:
        raise CaddetError(
            say(
                "{count} lines were found on it, more than are drawn on a wrap: it seems to be a pattern of the cloth",
                count=len(lines),
            )
        )
    lines = [_onwards(_centred(one, strength, flat)) for one in lines]
    lines.sort(key=lambda one: (round(one.real.mean() / 40), one.imag.mean()))
    if not going(0.9):
        return piece
    marks = _marks(ink, lines, flat)
    found = tuple(
        PhotoLine(number=n, points=in_picture(line, view), marks=own)
        for n, (line, own) in enumerate(zip(lines, marks, strict=True), 1)
    )
    going(1.0)
    return with_panels(PhotoPiece.model_validate({**piece.parts(), "lines": found}), view)


def _inside(flat: Flat, table: Points) -> Mask:
    """What lies inside the outline, clear of its rim."""
    import cv2

    mask = np.zeros(flat.seen.shape, np.uint8)
    at = flat.to_flat(table)
    cv2.fillPoly(mask, [np.round(np.column_stack([at.real, at.imag])).astype(np.int32)], 255)
    return np.asarray(cv2.erode(mask, _round(2 * RIM * flat.fine), borderValue=0) > 0)


def _round(size: float) -> Pixels:
    import cv2

    odd = int(size) | 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (odd, odd)), dtype=np.uint8)


def _ink(flat: Flat, inner: Mask) -> tuple[Mask, NDArray[np.float32]]:
    """What stands out from the cloth round it as a pen's line does, dark or light; and how much everything does."""
    import cv2

    lab = cv2.cvtColor(cv2.GaussianBlur(flat.points, (0, 0), 0.3 * flat.fine), cv2.COLOR_RGB2LAB)
    cloth = np.median(lab[inner], axis=0).astype(np.uint8) if inner.any() else np.zeros(3, np.uint8)
    lab = np.where(cv2.dilate(inner.astype(np.uint8), _round(RIM * flat.fine))[:, :, None] > 0, lab, cloth)
    ground = cv2.medianBlur(lab, int(2.2 * WIDEST * flat.fine) | 1)
    strength = np.sqrt(((lab.astype(np.float32) - ground) ** 2).sum(axis=2))
    strength[~inner] = 0
    level = max(FAINT, SHARE * float(np.percentile(strength[inner], 99.5))) if inner.any() else FAINT
    closed = cv2.morphologyEx((strength > level).astype(np.uint8), cv2.MORPH_CLOSE, _round(GAP * flat.fine))
    return np.asarray((closed > 0) & inner), strength


def _panels(free: Mask, flat: Flat) -> NDArray[np.int32]:
    """The panels by number (from 1), each grown to the middle of the lines round it."""
    import cv2

    count, parts, stats, _ = cv2.connectedComponentsWithStats(free.astype(np.uint8), connectivity=4)
    large = [n for n in range(1, count) if stats[n, cv2.CC_STAT_AREA] >= SMALLEST * flat.fine**2]
    numbers = np.zeros(count, np.int32)
    numbers[large] = np.arange(1, len(large) + 1)
    kept = np.asarray(numbers[parts], dtype=np.int32)
    if not large:
        return kept
    _, nearest = cv2.distanceTransformWithLabels(
        (kept == 0).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_CCOMP
    )
    # the label of a field says which field it is, by any of its points
    of = np.zeros(int(nearest.max()) + 1, np.int32)
    of[nearest[kept > 0]] = kept[kept > 0]
    return np.asarray(of[nearest], dtype=np.int32)


def _between(panels: NDArray[np.int32], inner: Mask, flat: Flat) -> list[Points]:
    """The lines between each two panels on the table, in mm."""
    import shapely

    edges: dict[tuple[int, int], list[NDArray[np.float64]]] = {}
    for axis in (0, 1):
        one, other = (panels[:, :-1], panels[:, 1:]) if axis else (panels[:-1], panels[1:])
        both = (inner[:, :-1] & inner[:, 1:]) if axis else (inner[:-1] & inner[1:])
        rows, columns = np.nonzero((one != other) & both)
        start = np.column_stack([columns + axis, rows + 1 - axis]).astype(float) - 0.5
        end = start + (np.array([0, 1]) if axis else np.array([1, 0]))
        pairs = np.sort(np.column_stack([one[rows, columns], other[rows, columns]]), axis=1)
        for pair in np.unique(pairs, axis=0):
            mine = (pairs == pair).all(axis=1)
            edges.setdefault((int(pair[0]), int(pair[1])), []).append(np.stack([start[mine], end[mine]], axis=1))
    found = []
    for parts in edges.values():
        merged = shapely.line_merge(shapely.MultiLineString([*np.concatenate(parts)]))
        for line in getattr(merged, "geoms", [merged]):
            if line.length >= SHORTEST * flat.fine:
                found.append(np.asarray(flat.to_table(np.array(line.coords) @ np.array([1, 1j]))))
    return [_spaced(line) for line in found]


def _spaced(points: Points) -> Points:
    """An open row of places at even distances, its steps evened."""
    along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(points)))])
    count = max(int(along[-1] / SPACED), 4) + 1
    at = np.linspace(0, along[-1], count)
    return np.asarray(np.interp(at, along, points.real) + 1j * np.interp(at, along, points.imag))


def _joined(parts: list[Points], table: Points) -> list[Points]:
    """The parts as whole lines: where three or more meet, those go on as one that go on straightest."""
    ends = [(n, at) for n in range(len(parts)) for at in (0, -1)]
    where = {end: complex(parts[end[0]][end[1]]) for end in ends}
    rim = {end for end in ends if float(np.abs(table - where[end]).min()) < 2 * RIM + MEET}
    nodes: list[list[tuple[int, int]]] = []
    for end in ends:
        if end in rim:
            continue
        near = next((node for node in nodes if min(abs(where[end] - where[o]) for o in node) < MEET), None)
        if near is None:
            nodes.append([end])
        else:
            near.append(end)
    on: dict[tuple[int, int], tuple[int, int]] = {}
    for node in nodes:
        ways = {end: _outwards(parts[end[0]], end[1]) for end in node}
        turns = sorted(
            (abs(np.degrees(np.angle(-ways[b] / ways[a]))), a, b) for a, b in combinations(node, 2) if a[0] != b[0]
        )
        for turn, a, b in turns:
            if turn < ONWARDS and a not in on and b not in on:
                on[a], on[b] = b, a
    lines, used = [], set[int]()
    for first in (*(end for end in ends if end not in on), *ends):
        if first[0] in used:
            continue
        chain, end = [], first
        while end[0] not in used:
            used.add(end[0])
            chain.append(parts[end[0]] if end[1] == 0 else parts[end[0]][::-1])
            last = (end[0], -1 if end[1] == 0 else 0)
            end = on.get(last, last)
        joined = np.concatenate([chain[0], *(part[1:] for part in chain[1:])])
        lines.append(_spaced(joined))
    return lines


def _outwards(part: Points, end: int) -> complex:
    """The direction (a unit) in which a part runs into one of its ends, by a stretch clear of the place where it meets others."""
    row = part if end == -1 else part[::-1]
    stretch = row[max(len(row) - 8, 0) : -1] if len(row) > 4 else row
    way = complex(stretch[-1] - stretch[0])
    return way / max(abs(way), 1e-9)


def _onwards(points: Points) -> Points:
    """A row of places in the order in which one reads: downwards, or from left to right."""
    way = complex(points[-1] - points[0])
    ahead = way.imag if abs(way.imag) > abs(way.real) else way.real
    return points if ahead > 0 else points[::-1]


def _normals(points: Points) -> Points:
    way = np.gradient(points)
    return np.asarray(way / np.maximum(np.abs(way), 1e-9) * 1j)


def _centred(points: Points, strength: NDArray[np.float32], flat: Flat) -> Points:
    """A line drawn to the middle of its ink, as far as that is near, and evened along it."""
    import cv2

    offsets = np.arange(-CLEAR - 1, CLEAR + 1.01, 0.2)
    places = flat.to_flat(points[:, None] + _normals(points)[:, None] * offsets[None, :])
    seen = cv2.remap(strength, places.real.astype(np.float32), places.imag.astype(np.float32), cv2.INTER_LINEAR)
    weight = np.maximum(seen - seen.max(axis=1, keepdims=True) * 0.5, 0)
    whole = weight.sum(axis=1)
    off = np.where(whole > 1e-6, (weight * offsets).sum(axis=1) / np.maximum(whole, 1e-6), np.nan)
    sure = np.isfinite(off) & (seen.max(axis=1) > FAINT)
    if sure.sum() < 3:
        return points
    at = np.arange(len(points))
    filled = np.interp(at, at[sure], off[sure])
    padded = np.pad(filled, 2, mode="edge")
    middle = np.median(np.stack([padded[k : k + len(points)] for k in range(5)]), axis=0)
    steady = np.where(np.abs(filled - middle) > 0.6, middle, filled)
    return np.asarray(points + _normals(points) * steady)


def _marks(ink: Mask, lines: list[Points], flat: Flat) -> list[tuple[PhotoMark, ...]]:
    """The marks across each line: strokes that begin at its ink and lie across it."""
    import cv2

    own = np.zeros(ink.shape, np.uint8)
    for line in lines:
        at = flat.to_flat(line)
        row = np.round(np.column_stack([at.real, at.imag])).astype(np.int32)
        cv2.polylines(own, [row], False, 1, max(round(2 * CLEAR * flat.fine), 1))
    count, parts, stats, _ = cv2.connectedComponentsWithStats((ink & (own == 0)).astype(np.uint8), connectivity=8)
    strokes: list[list[float]] = [[] for _ in lines]
    for n in range(1, count):
        if stats[n, cv2.CC_STAT_AREA] < (1.2 * flat.fine) ** 2:
            continue
        rows, columns = np.nonzero(parts == n)
        places = flat.to_table(columns + 1j * rows)
        if n_and_at := _crossed(np.asarray(places), lines):
            strokes[n_and_at[0]].append(n_and_at[1])
    return [_as_marks(one, line) for one, line in zip(strokes, lines, strict=True)]


def _crossed(places: Points, lines: list[Points]) -> tuple[int, float] | None:
    """Which line a stroke lies across, and how far along it; None for what only lies near one, or reaches far from it."""
    for n, line in enumerate(lines):
        off = np.abs(places[:, None] - line[None, :]).min(axis=1)
        if off.min() > CLEAR + 2.0 or off.max() > STROKE:
            continue
        near = places[off < off.min() + 1.5]
        far = places[off > off.max() - 1.5]
        foot = _along(complex(near.mean()), line)
        way = complex(line[min(foot[1] + 1, len(line) - 1)] - line[foot[1]])
        reach = complex(far.mean() - near.mean())
        if abs(reach) < 1.5:
            continue
        if abs(np.degrees(np.arcsin(min(abs((reach / way).imag / abs(reach / way)), 1.0)))) < ACROSS:
            continue
        return n, foot[0]
    return None


def _along(at: complex, points: Points) -> tuple[float, int]:
    """How far along a row of places the one nearest to a point is, in mm, and the stretch in which it lies."""
    step = np.diff(points)
    share = np.clip((np.conj(step) * (at - points[:-1])).real / np.maximum(np.abs(step) ** 2, 1e-12), 0, 1)
    n = int(np.abs(points[:-1] + share * step - at).argmin())
    return float(np.abs(step[:n]).sum() + share[n] * abs(step[n])), n


def drawn_to_ink(points: Pixels, view: View, line: Points) -> Points:
    """A row of places on the table (mm) drawn to the middle of a pen's line, as far as the picture shows one near it."""
    import cv2

    within = (line.real.min() - 12, line.imag.min() - 12, line.real.max() + 12, line.imag.max() + 12)
    flat = flattened(points, view, line, DRAWN, within)
    _, strength = _ink(flat, np.asarray(cv2.erode(flat.seen, _round(3)) > 0))
    return _centred(line, strength, flat)


def _as_marks(strokes: list[float], line: Points) -> tuple[PhotoMark, ...]:
    """Strokes at places along a line (mm) as marks: the stubs on its two sides are one stroke, two close strokes one double mark."""
    length = float(np.abs(np.diff(line)).sum())
    whole: list[list[float]] = []
    for at in sorted(strokes):
        if whole and at - whole[-1][-1] < 2.0:
            whole[-1].append(at)
        else:
            whole.append([at])
    found: list[PhotoMark] = []
    middles = [sum(one) / len(one) for one in whole]
    n = 0
    while n < len(middles):
        double = n + 1 < len(middles) and middles[n + 1] - middles[n] < TWO
        at = (middles[n] + middles[n + 1]) / 2 if double else middles[n]
        if SPACED < at < length - SPACED:
            found.append(PhotoMark(at=round(at / length, 6), double=double))
        n += 2 if double else 1
    return tuple(found)
