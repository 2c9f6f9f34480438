"""An outline matched to a shape of a kind of garment: which of its corners is which, so that its edges get their names."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from caddet.core.errors import CaddetError
from caddet.core.sentences import say
from caddet.core.tracing.kinds import Shape
from caddet.core.tracing.net import Net
from caddet.core.tracing.photo.view import Points

TURNS = 24  # ways round in which the usual outline is tried
SHARP = 0.3  # of the outline's size within which a corner is taken to be a mark's
WORST = 0.25  # of the outline's size that the usual corners may be off
ROUNDS = 6


@dataclass(frozen=True, slots=True)
class Named:
    """The corners of an outline by the marks of a shape, as indices; of a whole one on the fold the other half's end in a stroke.

    ``turn`` lays it as the shape is drawn (a unit); ``off`` is how far its corners lie from the usual outline's, as a share.
    """

    corners: tuple[tuple[str, int], ...]
    turn: complex
    off: float


def corner_marks(shape: Shape) -> list[str]:
    """The marks where a shape's edges meet, in outline order; of one on the fold those of both halves, without the fold's ends."""
    ends = [run.through[0] for run in shape.runs]
    if not shape.fold:
        return ends
    fold = next(n for n, run in enumerate(shape.runs) if run.finish == "fold")
    half = ends[fold + 1 :] + ends[:fold]  # from the fold's end on, clockwise: its own first mark lies on the fold
    right = half[1:] if half else []
    return [*right, *(f"{name}'" for name in reversed(right))]


def template(shape: Shape) -> dict[str, complex]:
    """Where the corners lie on the usual outline, both halves of one on the fold."""
    net = Net((shape,))
    marks = {name: complex(at[0]) for (_, name), at in net.marks(net.usual[None]).items()}
    return {name: -marks[name[:-1]].conjugate() if name.endswith("'") else marks[name] for name in corner_marks(shape)}


def named(points: Points, sharp: tuple[int, ...], shape: Shape) -> Named:
    """An outline (mm, clockwise) matched to a shape. Raises :class:`CaddetError` when it can't be that shape."""
    usual = template(shape)
    names = list(usual)
    goal = np.array(list(usual.values()))
    centre, size = points.mean(), float(np.abs(points - points.mean()).mean())
    outline = (points - centre) / size
    corners = outline[list(sharp)] if len(sharp) >= 3 else outline
    flat = (goal - goal.mean()) / float(np.abs(goal - goal.mean()).mean())
    for smooth in (False, True):
        fit = _fitting(names, flat, corners, outline, sharp, smooth)
        if fit is None and not smooth and len(sharp) > len(names):
            # a corner that is no mark's, as the point of a V on the fold, can draw a mark to it
            without = [tuple(one for one in sharp if one != left_out) for left_out in sharp]
            fits = (_fitting(names, flat, outline[list(rest)], outline, rest, smooth) for rest in without)
            fit = min((one for one in fits if one is not None), key=lambda one: one.off, default=None)
        if fit is not None:
            return fit
    raise CaddetError(
        say("this outline doesn't look like a {shape}; name its edges by hand", shape=shape.label.lower())
    )


def _fitting(
    names: list[str], flat: Points, corners: Points, outline: Points, sharp: tuple[int, ...], smooth: bool
) -> Named | None:
    """The marks laid on the outline, or nothing when they don't fit it or don't come in order."""
    found, spin, cost = _matched(flat, corners, outline, sharp, smooth)
    count = len(outline)
    steps = [(b - a) % count for a, b in zip(found, [*found[1:], found[0]], strict=True)]
    if sum(steps) != count or min(steps) == 0 or cost >= WORST:
        return None
    return Named(tuple(zip(names, found, strict=True)), spin.conjugate(), cost)


def _matched(
    flat: Points, corners: Points, outline: Points, sharp: tuple[int, ...], smooth: bool
) -> tuple[list[int], complex, float]:
    """The usual corners laid on the outline in the turn that fits best: the places they come to, the turn, how far off."""
    best: tuple[float, Points, complex] | None = None
    for n in range(TURNS):
        laid = flat * np.exp(2j * np.pi * n / TURNS)
        cost, laid = _settled(laid, corners, outline, smooth)
        if best is None or cost < best[0]:
            spin = ((laid - laid.mean()) * (flat - flat.mean()).conjugate()).sum()
            best = cost, laid, complex(spin / max(abs(spin), 1e-12))
    assert best is not None
    cost, laid, spin = best
    return _places(outline, sharp, laid), spin, cost


def _settled(laid: Points, corners: Points, outline: Points, smooth: bool) -> tuple[float, Points]:
    """The usual corners drawn to the outline's by a stretch and a turn, a few times over, and how far they are off then."""
    start = laid
    cost = np.inf
    for _ in range(ROUNDS):
        gaps = np.abs(corners[None, :] - laid[:, None])
        anywhere = np.abs(outline[None, :] - laid[:, None])
        # where no sharp corner is near, a mark may lie on a smooth line, as the top of a cap
        free = (gaps.min(axis=1) > SHARP) & smooth
        goal = np.where(free, outline[anywhere.argmin(axis=1)], corners[gaps.argmin(axis=1)])
        gaps = np.where(free[:, None], SHARP + anywhere.min(axis=1)[:, None], gaps)
        basis = np.column_stack([start.real, start.imag, np.ones(len(start))])
        move, *_ = np.linalg.lstsq(basis, np.column_stack([goal.real, goal.imag]), rcond=None)
        new = basis @ move
        if np.linalg.det(move[:2]) <= 0:
            return np.inf, laid
        laid = new[:, 0] + 1j * new[:, 1]
        # what is stretched very unevenly is another shape
        low, high = np.linalg.svd(move[:2], compute_uv=False)[::-1]
        cost = float(np.sqrt((gaps.min(axis=1) ** 2).mean()) + 0.15 * np.log(high / max(low, 1e-6)) ** 2)
    away = np.abs(outline[None, :] - laid[:, None]).min(axis=1)
    return cost + float(away.mean()), laid


def _places(outline: Points, sharp: tuple[int, ...], laid: Points) -> list[int]:
    """A sharp corner near each mark, no corner for two of them, or else the nearest point of the outline."""
    from scipy.optimize import linear_sum_assignment

    gaps = np.abs(outline[list(sharp)][None, :] - laid[:, None])
    none = np.where(np.eye(len(laid), dtype=bool), SHARP, 1e3)  # a column of its own for each mark without a corner
    _, chosen = linear_sum_assignment(np.hstack([gaps, none]))
    anywhere = np.abs(outline[None, :] - laid[:, None]).argmin(axis=1)
    return [int(sharp[c] if c < len(sharp) else at) for c, at in zip(chosen, anywhere, strict=True)]
