"""The drafting table of one draft: reads the sums, solves figures, remembers what was solved and why not.

A figure that is *solved* has a rule of thumb as its formula: the guess from which the search starts. When
the user has put a formula of their own in its place, that value is taken as it is, and the closure
shows what it does. When nothing within reach closes, the nearest is taken and a finding says so.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from caddet.core.body.measures import MEASURES
from caddet.core.drafting.draft_piece import Dimension, DraftPiece, as_piece
from caddet.core.errors import Finding
from caddet.core.figures.sums import Sums
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import root_between
from caddet.core.geometry.segments import Point
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.pattern import Fit, Pattern, Shown
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Promise
from caddet.core.pattern.seams import Layer, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import CannotDraft, Values
from caddet.core.sentences import Length, say

CLOSE = 1e-4  # mm, to which solved figures are found
SCAN = 24  # parts into which the reach is cut when looking for a change of sign


@dataclass(slots=True)
class Drafting:
    """One draft in the making. ``solved`` and ``findings`` go into the result."""

    context: Context
    options: Values
    solved: dict[str, float] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)

    @property
    def sums(self) -> Sums:
        """The sums so far."""
        return self.context.sums

    def __getitem__(self, name: str) -> float:
        """A figure: solved when it has been, in mm."""
        return self.solved.get(name, self.sums[name].value)

    def size(self, option: str) -> float:
        """A length or number among the options."""
        return float(self.options[option])

    def choice(self, option: str) -> str:
        """A choice among the options."""
        return str(self.options[option])

    def flag(self, option: str) -> bool:
        """An option that is on or off."""
        return bool(self.options[option])

    def need(self, holds: bool, reason: str, place: str) -> None:
        """Raise :class:`CannotDraft` unless something holds."""
        if not holds:
            raise CannotDraft(reason, place if "." in place else f"figures.{place}")

    def settle(self, name: str, value: float) -> float:
        """Keep a figure at another value than its guess, unless it is the user's own."""
        if self.sums[name].override is not None:
            return self[name]
        self.solved[name] = value
        return value

    def solve(
        self, name: str, miss: Callable[[float], float], low: float, high: float, why: str, near: float | None = None
    ) -> float:
        """The value of a figure at which ``miss`` (mm) is 0, looked for from its guess outwards.

        ``low`` and ``high`` bound it; ``why`` is said when nothing between them closes; ``near`` is a better guess.
        """
        guess = self[name]
        if self.sums[name].override is not None:
            return guess
        found = solve_between(miss, guess if near is None else near, low, high)
        if found is None:
            value, off = nearest(miss, guess, low, high)
            label = self.sums[name].figure.label
            self.remark(
                "draft.nearest",
                say(
                    "{label}: {why} The nearest that works is {value}; it misses by {off}.",
                    label=label,
                    why=why,
                    value=Length(value),
                    off=Length(abs(off)),
                ),
                f"figures.{name}",
            )
            found = value
        self.solved[name] = found
        return found

    def measure(self, *codes: str) -> str:
        """What to do about measures that do not go together: take again those that were taken, take those that are estimates."""
        guessed = {label for one in self.sums.values() for label in one.estimates}
        names = [MEASURES[code].label.lower() for code in codes]
        taken, missing = [n for n in names if n not in guessed], [n for n in names if n in guessed]
        again = say("Measure {taken} again.", taken=" and ".join(taken)) if taken else ""
        first = (
            say(
                "Measure {missing}: they are only estimates."
                if len(missing) > 1
                else "Measure {missing}: it is only an estimate.",
                missing=" and ".join(missing),
            )
            if missing
            else ""
        )
        return " ".join(part for part in (again, first) if part)

    def remark(self, code: str, sentence: str, place: str) -> None:
        """Say something about the draft that is worth a look; what was said of the same before, no longer holds."""
        self.findings[:] = [one for one in self.findings if (one.code, one.place) != (code, place)]
        self.findings.append(Finding(code, sentence, place))

    def result(
        self,
        pieces: Iterable[DraftPiece],
        seams: Iterable[Seam],
        promises: Iterable[Promise],
        dimensions: Iterable[Dimension] = (),
        shown: Iterable[Shown] = (),
        fits: Iterable[FitOf] = (),
        zero: str = "the top",
        finishes: Mapping[str, Finish] | None = None,
        joined: Mapping[str, str] | None = None,
        allowances: Mapping[str, str] | None = None,
    ) -> Result:
        """The finished draft: pieces with their full names, what was solved, and what was found on the way.

        ``zero`` says where the draft's levels are counted from: lengths are taken below it. ``finishes`` say for runs
        (by own name) what becomes of them where they are in no seam, ``joined`` what they are sewn to that is not here,
        ``allowances`` which figure says what is to be left at an edge (by full name) where that is not the usual.
        """
        shown_on = [one for one in dimensions if one.figure in self.sums]
        made = tuple(as_piece(piece, shown_on, zero) for piece in pieces)
        pattern = _finished(
            Pattern(made, tuple(seams), tuple(promises), (), tuple(shown)), finishes or {}, joined or {}
        )
        left = {name: self._left(figure) for name, figure in (allowances or {}).items()}
        if left:
            pattern = replace(pattern, pieces=tuple(_allowed(piece, left) for piece in pattern.pieces))
        return Result(fitted(pattern, fits, zero), dict(sorted(self.solved.items())), tuple(self.findings))

    def _left(self, figure: str) -> float:
        label, value = self.sums[figure].figure.label, self[figure]
        self.need(0 <= value <= 150, say("{label}: an allowance lies between {0 and 15 cm}.", label=label), figure)
        return value


def _finished(pattern: Pattern, finishes: Mapping[str, Finish], joined: Mapping[str, str]) -> Pattern:
    """The pattern with a finish for every edge that is in no seam and has one named for it."""
    if not finishes and not joined:
        return pattern
    sewn = {one.ref.name for seam in pattern.seams for layer in seam.layers for one in layer}
    pieces = []
    for piece in pattern.pieces:
        edges = list(piece.edges)
        for e, edge in enumerate(edges):
            if edge.dart or edge.finish or edge.name in sewn:
                continue
            if edge.own in joined:
                edges[e] = replace(edge, finish="joined", why=joined[edge.own])
            elif edge.own in finishes:
                edges[e] = replace(edge, finish=finishes[edge.own])
        same = all(after is before for after, before in zip(edges, piece.edges, strict=True))
        pieces.append(piece if same else piece.with_edges(edges))
    return replace(pattern, pieces=tuple(pieces))


def _allowed(piece: Piece, allowances: Mapping[str, float]) -> Piece:
    """The piece with the allowances that are asked for on some of its edges."""
    return piece.with_edges(
        [replace(edge, allowance=allowances.get(edge.name, edge.allowance)) for edge in piece.edges]
    )


@dataclass(frozen=True, slots=True)
class FitOf:
    """A piece solved to other edges: ``draw`` draws it for their lengths (mm)."""

    piece: str
    edges: tuple[Layer, ...]
    draw: Callable[[tuple[float, ...]], DraftPiece]


def fitted(pattern: Pattern, fits: Iterable[FitOf], zero: str = "the top") -> Pattern:
    """The pattern with its fits, each knowing the lengths it was solved for."""
    made = []
    for fit in fits:
        lengths = tuple(pattern.length(layer) for layer in fit.edges)
        piece = pattern.piece(fit.piece)

        def solve(new: tuple[float, ...], draw: Callable[[tuple[float, ...]], DraftPiece] = fit.draw) -> Piece:
            """The piece for other lengths of its edges."""
            return as_piece(draw(new), (), zero)

        made.append(Fit(fit.piece, fit.edges, lengths, piece, solve, piece.label))
    return replace(pattern, fits=(*pattern.fits, *made))


def solve_between(miss: Callable[[float], float], guess: float, low: float, high: float) -> float | None:
    """A root of ``miss`` between two bounds, the one nearest to the guess; None when there is none."""
    guess = min(max(guess, low), high)
    at_guess = miss(guess)
    if abs(at_guess) <= CLOSE:
        return guess
    quick = _by_secants(miss, guess, at_guess, low, high)
    if quick is not None:
        return quick
    step = (high - low) / SCAN
    before_up, before_down = (guess, at_guess), (guess, at_guess)
    for n in range(1, SCAN + 1):
        for sign in (1, -1):
            last, at_last = before_up if sign > 0 else before_down
            here = min(max(guess + sign * n * step, low), high)
            if here == last:
                continue
            at_here = miss(here)
            if (at_here > 0) != (at_last > 0):
                found = root_between(miss, min(last, here), max(last, here), CLOSE / 10)
                if found is not None and abs(miss(found)) < 1.0:
                    return found
            if sign > 0:
                before_up = (here, at_here)
            else:
                before_down = (here, at_here)
    return None


def _by_secants(miss: Callable[[float], float], a: float, at_a: float, low: float, high: float) -> float | None:
    """A root by secant steps from the guess; None as soon as they leave the bounds or do not settle."""
    b = a + (1.0 if a + 1.0 <= high else -1.0)
    for _ in range(7):
        at_b = miss(b)
        if abs(at_b) <= CLOSE:
            return b
        if at_b == at_a or abs(at_b) > 4 * abs(at_a) + 1:
            return None
        a, at_a, b = b, at_b, b - at_b * (b - a) / (at_b - at_a)
        if not low <= b <= high:
            return None
    return None


def nearest(miss: Callable[[float], float], guess: float, low: float, high: float) -> tuple[float, float]:
    """The value between two bounds at which ``miss`` is least, and by how much it misses."""
    tried = [min(max(guess, low), high), *(low + (high - low) * n / SCAN for n in range(SCAN + 1))]
    best = min(tried, key=lambda value: abs(miss(value)))
    return best, miss(best)


def outline(
    *parts: tuple[str, Sequence[Point] | Path] | tuple[str, Sequence[Point] | Path, Finish],
) -> tuple[Edge, ...]:
    """Edges from names with their points (straight) or paths, in outline order; an edge in no seam says its finish."""
    edges = []
    for part in parts:
        path = part[1] if isinstance(part[1], Path) else Path.polyline(part[1])
        edges.append(Edge(part[0], path, part[2] if len(part) > 2 else ""))
    return tuple(edges)


def rectangle(
    name: str,
    label: str,
    wide: float,
    tall: float,
    names: tuple[str, str, str, str] = ("top", "right", "bottom", "left"),
    finishes: tuple[Finish, Finish, Finish, Finish] = ("", "", "", ""),
    *,
    cut: int = 1,
    pair: bool = False,
    along: bool = False,
    remark: str = "",
    cloth: tuple[str, ...] = ("main",),
) -> DraftPiece:
    """A rectangular piece; ``along``: the grain runs along its width."""
    corners = [0j, complex(wide, 0), complex(wide, tall), complex(0, tall), 0j]
    edges = tuple(
        Edge(edge, Path.polyline([a, b]), finish)
        for edge, finish, a, b in zip(names, finishes, corners, corners[1:], strict=False)
    )
    if along:
        grain = (complex(wide * 0.1, tall * 0.5), complex(wide * 0.45, tall * 0.5))
    else:
        grain = (complex(wide * 0.3, tall * 0.15), complex(wide * 0.3, tall * 0.85))
    return DraftPiece(name, label, edges, grain=grain, cut=cut, pair=pair, remark=remark, cloth=cloth)
