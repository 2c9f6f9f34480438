"""The shape of a garment from readings of the tape, by least squares from its kind's usual outline.

Readings weigh as a tape is read (:data:`HAND`); the usual outline weighs so little that it decides only what no reading
does. Which reading was misread is found as surveyors find it: by the residual of each reading against its own spread,
given what the others check of it (data snooping; W. Baarda, "A testing procedure for use in geodetic networks", 1968; from memory).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import median

import numpy as np

from caddet.core.recipe.traced import Reading
from caddet.core.tracing.kinds import Asked, Kind, Mark, Seen, Shape, across
from caddet.core.tracing.net import BOW, COORDINATE, Net, Points, Reals, lengths

HAND = 2.0  # mm: how far a reading on cloth is off; rounding to 1/8 inch alone is 0.9 (3.2 / √12)
ALIKE = 1.2  # mm: how far two edges that lie on each other and are read once differ
USUAL = {COORDINATE: 200.0, BOW: 0.04, "full": 0.12}  # how far a garment is from the usual one: mm, and shares
LOOSE = 14.0  # mm: a coordinate known no better than this is not known
SURE = 3.29  # of its spread by which a reading must miss: one good reading in a thousand does (Baarda)
MISREAD = 10.0  # mm, at least
MUCH_ALIKE = 0.93  # a second reading that misses by this share as surely may be the misread one as well
SMOOTH = 25.0  # mm: how far an extra width lies from the line without it
STEP = 1e-3  # mm, or a thousandth of it as a share


@dataclass(frozen=True, slots=True)
class Read:
    """A reading and how it fits: ``misfit`` is how much more was read than the piece measures, in mm.

    ``error`` is by how much it seems misread, ``sure`` how many times its spread that is, ``checked`` how much of it
    the other readings check (0: nothing does; 1: wholly), ``out`` whether it was left out of the shape.
    """

    reading: Reading
    label: str
    value: float
    misfit: float = 0.0
    error: float = 0.0
    sure: float = 0.0
    checked: float = 0.0
    out: bool = False


@dataclass(frozen=True, slots=True)
class Solved:
    """A kind's shapes as solved: marks and runs (cubics) by shape and name, readings, what is missing or in doubt.

    ``missing`` are readings without which a part of the outline is not known; ``doubtful`` groups of readings one of which
    must be wrong; ``spread`` how well each mark is known, in mm.
    """

    kind: Kind
    shapes: tuple[Shape, ...]
    marks: Mapping[tuple[str, str], complex]
    curves: Mapping[tuple[str, str], Points]
    reads: tuple[Read, ...]
    missing: tuple[Asked, ...]
    doubtful: tuple[tuple[Read, ...], ...]
    spread: Mapping[tuple[str, str], float]
    strange: tuple[Reading, ...] = ()

    @property
    def whole(self) -> bool:
        """Whether the readings make the shape."""
        return not self.missing


@dataclass(frozen=True, slots=True)
class _Row:
    seen: Seen
    value: float
    reading: int  # which reading it belongs to; -1 for what is only usual
    spread: float = HAND


def solve(kind: Kind, readings: Sequence[Reading]) -> Solved:
    """The shape that these readings make. Raises nothing: what is missing or contradicts itself is told in the answer."""
    known = [one for one in readings if kind.reading(one.what) is not None and one.at is None]
    shapes, rows = kind.shapes, _rows(kind, known)
    fit = _fit(shapes, rows, _scale(kind, rows))
    extra = [one for one in readings if kind.width(one.what) is not None and one.at is not None]
    if extra:
        shapes, more, used = _widened(kind, fit.net, fit.x, extra, len(known))
        known, rows = [*known, *used], [*rows, *more]
        fit = _fit(shapes, rows, fit.net.scale)
    taken = {id(one) for one in known}
    strange = tuple(one for one in readings if id(one) not in taken)
    missing = _missing(kind, fit, {one.what for one in known})
    out: set[int] = set()
    doubtful: list[tuple[int, ...]] = []
    told = fit.snooped(len(known))
    while len(out) < max(len(known) // 6, 1):
        left = [n for n in range(len(known)) if n not in out]
        worst = max(left, key=lambda n: told[n].sure, default=-1)
        if worst < 0 or told[worst].sure < SURE or abs(told[worst].error) < MISREAD:
            break
        alike = tuple(n for n in left if told[n].sure > MUCH_ALIKE * told[worst].sure and told[n].checked > 0)
        doubtful.append(tuple(sorted(alike, key=lambda n: -told[n].sure)))
        if len(alike) > 1:
            break
        without = _fit(shapes, [row for row in rows if row.reading not in out | {worst}], fit.net.scale)
        if _missing(kind, without, {one.what for n, one in enumerate(known) if n not in out | {worst}}):
            break  # the others don't make the shape
        out.add(worst)
        fit = without
        told = {**fit.snooped(len(known)), **{n: told[n] for n in out}}
    labels = [(asked.label if (asked := kind.reading(one.what)) else _width_label(kind, one)) for one in known]
    sight = fit.net.seen(fit.x[None], [row.seen for row in rows])[0]
    reads = tuple(
        Read(one, label, _value(one), _misfit(rows, sight, n), told[n].error, told[n].sure, told[n].checked, n in out)
        for n, (one, label) in enumerate(zip(known, labels, strict=True))
    )
    marks = fit.net.marks(fit.x[None])
    curves = fit.net.curves(fit.x[None], marks)
    return Solved(
        kind,
        shapes,
        {key: complex(z[0]) for key, z in marks.items()},
        {key: c[0] for key, c in curves.items()},
        reads,
        missing,
        tuple(tuple(reads[n] for n in group) for group in doubtful),
        fit.spreads(),
        strange,
    )


def expected(solved: Solved, asked: Asked) -> float:
    """What the shape as solved measures where a reading is asked for, in mm."""
    found = []
    for seen in asked.seen:
        if seen.how == "along":
            long = sum(float(lengths(solved.curves[seen.shape, run][None])[0]) for run in seen.of)
            found.append(long * seen.times)
            continue
        a, b = (solved.marks[seen.shape, name] for name in seen.of)
        by = b + a.conjugate() if seen.how == "cross" else b - a
        found.append(
            (abs(by.real) if seen.how == "across" else by.imag if seen.how == "drop" else abs(by)) * seen.times
        )
    return sum(found) / len(found)


def width_at(solved: Solved, what: str, at: float) -> float | None:
    """How wide the shape as solved is so far down (mm), where a width of one's own would be taken; None off its edges."""
    width = solved.kind.width(what)
    if width is None:
        return None
    shape, base, runs = width.runs[0]
    height = solved.marks[shape, base].imag + at
    found = []
    for run in runs:
        cubics = solved.curves[shape, run]
        t = np.linspace(0, 1, 41)[:, None]
        a, b, c, d = cubics.T
        points = (a * (1 - t) ** 3 + 3 * b * t * (1 - t) ** 2 + 3 * c * t**2 * (1 - t) + d * t**3).T.ravel()
        order = np.argsort(points.imag)
        if not points.imag.min() + 5 < height < points.imag.max() - 5:
            return None
        found.append(float(np.interp(height, points.imag[order], points.real[order])))
    return abs(found[1] - found[0]) if len(found) == 2 else 2 * abs(found[0])


def _value(reading: Reading) -> float:
    return float(median(reading.values))


def _width_label(kind: Kind, reading: Reading) -> str:
    width = kind.width(reading.what)
    return width.label if width is not None else reading.what


def _rows(kind: Kind, readings: Sequence[Reading]) -> list[_Row]:
    return [
        _Row(seen, _value(one), n)
        for n, one in enumerate(readings)
        if (asked := kind.reading(one.what)) is not None
        for seen in asked.seen
    ]


def _misfit(rows: Sequence[_Row], sight: Reals, reading: int) -> float:
    """How much more was read than the piece measures."""
    own = [row.value - float(at) for row, at in zip(rows, sight, strict=True) if row.reading == reading]
    return sum(own) / len(own) if own else 0.0


def _scale(kind: Kind, rows: Sequence[_Row]) -> float:
    """How much larger the garment is than the usual one, by the middle of what its readings say."""
    net = Net(kind.shapes)
    if not rows:
        return 1.0
    usual = net.seen(net.usual[None], [row.seen for row in rows])[0]
    ratios = [row.value / at for row, at in zip(rows, usual, strict=True) if at > 20]
    return float(np.clip(median(ratios), 0.15, 4.0)) if ratios else 1.0


# --- fitting --------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class _Told:
    error: float
    sure: float
    checked: float


@dataclass(frozen=True, slots=True)
class _Fit:
    net: Net
    rows: Sequence[_Row]
    x: Reals
    slopes: Reals  # of the readings' rows, weighed
    left: Reals  # residuals of the rows, weighed
    inverse: Reals  # covariance of the unknowns

    def spreads(self) -> dict[tuple[str, str], float]:
        """How well the coordinates of each mark are known, in mm."""
        found: dict[tuple[str, str], float] = {}
        for n, one in enumerate(self.net.unknowns):
            if one.kind == COORDINATE:
                key = (one.shape, one.of)
                found[key] = max(found.get(key, 0.0), float(np.sqrt(max(self.inverse[n, n], 0))))
        return found

    def snooped(self, count: int) -> dict[int, _Told]:
        """For each reading by how much it seems misread, how surely, and how much of it is checked."""
        cofactor = np.eye(len(self.rows)) - self.slopes @ self.inverse @ self.slopes.T
        found = {}
        weighs = _weights(self.rows)
        for n in range(count):
            own = weighs @ np.array([row.reading == n for row in self.rows], dtype=float)
            share, pull, whole = float(own @ cofactor @ own), float(own @ self.left), float(own @ own)
            checked = max(share / whole, 0.0) if whole else 0.0
            # nothing else tells of it: an error of it can't be seen
            found[n] = _Told(-pull / share, abs(pull) / share**0.5, checked) if checked > 0.02 else _Told(0.0, 0.0, 0.0)
        return found


def _weights(rows: Sequence[_Row]) -> Reals:
    """What residuals of the rows, in mm, are multiplied by: those of one reading are off together, and differ by little."""
    together = np.diag([row.spread**2 for row in rows])
    for n, row in enumerate(rows):
        alike = [m for m, other in enumerate(rows) if other.reading == row.reading >= 0]
        if len(alike) > 1:
            together[n, alike] = row.spread**2
            together[n, n] += ALIKE**2
    return np.asarray(np.linalg.inv(np.linalg.cholesky(together))) if len(rows) else together


def _sight(net: Net, x: Reals, seen: Sequence[Seen]) -> tuple[Reals, Reals]:
    """What the tape reads, and how it changes with each unknown (readings, unknowns)."""
    steps = np.array([STEP if one.kind == COORDINATE else STEP * 0.01 for one in net.unknowns])
    sight, change = np.zeros(len(seen)), np.zeros((len(seen), len(x)))
    for shape, alone, own in net.parts:  # a shape's readings change with its own unknowns only
        rows = [n for n, one in enumerate(seen) if one.shape == shape]
        if rows:
            many = alone.seen(np.vstack([x[own], x[own] + np.diag(steps[own])]), [seen[n] for n in rows])
            sight[rows] = many[0]
            change[np.ix_(rows, own)] = ((many[1:] - many[0]) / steps[own][:, None]).T
    return sight, change


def _fit(shapes: tuple[Shape, ...], rows: Sequence[_Row], scale: float) -> _Fit:
    from scipy.optimize import least_squares  # slow to import, and most commands do without

    net = Net(shapes, scale)
    usual = net.usual
    weak = np.array([USUAL[one.kind] for one in net.unknowns])
    seen = [row.seen for row in rows]
    values, weighs = np.array([row.value for row in rows]), _weights(rows)

    latest: dict[bytes, tuple[Reals, Reals]] = {}

    def both(x: Reals) -> tuple[Reals, Reals]:
        """Residuals and their slopes: worked out together, as the solver asks for the one and then the other."""
        key = x.tobytes()
        if key not in latest:
            left, slopes = (x - usual) / weak, np.diag(1 / weak)
            if rows:
                sight, change = _sight(net, x, seen)
                left, slopes = np.concatenate([weighs @ (sight - values), left]), np.vstack([weighs @ change, slopes])
            latest.clear()
            latest[key] = left, slopes
        return latest[key]

    def residuals(x: Reals) -> Reals:
        return both(x)[0]

    def slopes(x: Reals) -> Reals:
        return both(x)[1]

    found = least_squares(residuals, usual, slopes, method="lm", x_scale=weak, max_nfev=60, xtol=1e-5, ftol=1e-7)
    at = np.asarray(found.x)
    left, jacobian = both(at)
    count = len(rows)
    inverse = np.asarray(np.linalg.inv(jacobian.T @ jacobian), dtype=np.float64)
    return _Fit(net, rows, at, jacobian[:count], left[:count], inverse)


def _missing(kind: Kind, fit: _Fit, given: set[str]) -> tuple[Asked, ...]:
    """The readings that would make known what is not: each time the one that tells most."""
    left = [one for one in kind.asked if one.name not in given]
    placed = np.array([one.kind == COORDINATE for one in fit.net.unknowns])
    found: list[Asked] = []
    inverse = fit.inverse
    if not left or not placed.any() or _loosest(np.diag(inverse)[placed]) <= LOOSE:
        return ()
    slopes = _sight(fit.net, fit.x, [seen for one in left for seen in one.seen])[1] / HAND
    rows = np.zeros((len(left), max(len(one.seen) for one in left), len(placed)))  # each reading's, filled up with none
    passed = 0
    for n, one in enumerate(left):
        rows[n, : len(one.seen)] = slopes[passed : passed + len(one.seen)]
        passed += len(one.seen)
    while left and (now := _loosest(np.diag(inverse)[placed])) > LOOSE:
        gain = rows @ inverse
        weighed = np.linalg.solve(np.eye(rows.shape[1]) + gain @ rows.transpose(0, 2, 1), gain)
        then = np.diag(inverse) - (gain * weighed).sum(axis=1)  # the variances with each of them more
        scored = [(_loosest(then[n, placed]), not one.needed, n) for n, one in enumerate(left)]
        needed = [score for score in scored if not score[1]]
        best = min(needed or scored, key=lambda score: (round(score[0], 1), score[2]))
        if best[0] > now - 0.05 and not needed:
            break
        inverse = inverse - gain[best[2]].T @ weighed[best[2]]
        found.append(left.pop(best[2]))
        rows = np.delete(rows, best[2], axis=0)
    order = [one.name for one in kind.asked]
    return tuple(sorted(found, key=lambda one: order.index(one.name)))


def _loosest(variances: Reals) -> float:
    """The spread of the least known coordinate, in mm."""
    return float(np.sqrt(max(variances.max(), 0.0)))


# --- widths at heights of one's own ---------------------------------------------------------------


def _widened(
    kind: Kind, net: Net, x: Reals, extra: Sequence[Reading], first: int
) -> tuple[tuple[Shape, ...], list[_Row], list[Reading]]:
    """The shapes with a mark on each side for every width that can be measured there, and the rows of those."""
    marks = {key: complex(z[0]) for key, z in net.marks(x[None]).items()}
    shapes = {shape.name: shape for shape in kind.shapes}
    rows: list[_Row] = []
    used: list[Reading] = []
    for reading in sorted(extra, key=lambda one: one.at or 0.0):
        width = kind.width(reading.what)
        assert width is not None and reading.at is not None
        own: list[_Row] = []
        for shape_name, base, runs in width.runs:
            height = marks[shape_name, base].imag + reading.at
            names = []
            for run in runs:
                shape, name, bow = _with_mark(shapes[shape_name], run, height, marks, net.scale)
                if name:
                    shapes[shape_name] = shape
                    names.append(name)
                    own.append(bow)
            if len(names) == len(runs):
                a, b = (names[0], names[1]) if len(names) == 2 else (names[0], base)
                centred = len(names) == 1
                seen = across(shape_name, a, _centre(shapes[shape_name], base) if centred else b, 2 if centred else 1)
                own.append(_Row(seen, _value(reading), first + len(used)))
        if any(row.reading >= 0 for row in own):
            rows += own
            used.append(reading)
    return tuple(shapes[shape.name] for shape in kind.shapes), rows, used


def _centre(shape: Shape, base: str) -> str:
    """A mark on the fold of a shape."""
    fold = next((run for run in shape.runs if run.finish == "fold"), None)
    return fold.through[0] if fold is not None else base


def _with_mark(
    shape: Shape, run_name: str, height: float, marks: dict[tuple[str, str], complex], scale: float
) -> tuple[Shape, str, _Row]:
    """The shape with one more mark on a run at a height; no name where the run doesn't pass there."""
    run = next(one for one in shape.runs if one.name == run_name)
    nothing = _Row(Seen("across", shape.name, (run.through[0], run.through[0])), 0.0, -1)
    for n, (a, b) in enumerate(zip(run.through, run.through[1:], strict=False)):
        one, other = marks[shape.name, a], marks[shape.name, b]
        low, high = sorted((one.imag, other.imag))
        if not low + 5 < height < high - 5:
            continue
        share = (height - one.imag) / (other.imag - one.imag)
        at = one.real + (other.real - one.real) * share
        name = f"{run_name}_{height:.0f}"
        marks[shape.name, name] = complex(at, height)
        mark = Mark(name, at / scale, height / scale, "x")
        through = (*run.through[: n + 1], name, *run.through[n + 1 :])
        runs = tuple(replace(r, through=through) if r is run else r for r in shape.runs)
        straight = Seen("across", shape.name, (name, a))
        rule = _Row(straight, abs(at - one.real), -1, SMOOTH)
        return replace(shape, marks=(*shape.marks, mark), runs=runs), name, rule
    return shape, "", nothing
