"""A pattern: pieces, the seams between them, and the closures the block promises."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam


@dataclass(frozen=True, slots=True)
class Term:
    """``times`` × the length of a run, or of a mark inside, of a piece."""

    piece: str
    run: str
    times: float = 1.0
    mark: bool = False


@dataclass(frozen=True, slots=True)
class Closure:
    """An equality the block promises: the terms, measured on the pattern, add up to ``target`` mm."""

    name: str
    label: str
    terms: tuple[Term, ...]
    target: float
    why: str = ""

    def measured(self, pattern: Pattern) -> float:
        """The sum of the terms on this pattern, in mm."""
        total = 0.0
        for term in self.terms:
            piece = pattern.piece(term.piece)
            if term.mark:
                mark = piece.mark(term.run)
                if mark is None:
                    raise CaddetError(f"{piece.name} has no line “{term.run}”")
                total += term.times * mark.length
            else:
                total += term.times * piece.run_length(term.run)
        return total


@dataclass(frozen=True, slots=True)
class Dimension:
    """Where a figure stands on the table: along a line of a piece, in the piece's coordinates."""

    figure: str
    piece: str
    a: Point
    b: Point


STILL = Motion()
LEFT_OF_MIDDLE, RIGHT_OF_MIDDLE = (-1e5, 0.0), (0.0, 1e5)


@dataclass(frozen=True, slots=True)
class Shown:
    """How a piece stands in a line drawing of the garment: from the front or the back, moved, on one
    side of the body or (``both``) mirrored to the other as well. The middle of the body is at x = 0.
    ``clip`` shows only what lies between two x of the piece's own, as of a sleeve lying folded; ``squeeze``
    draws it narrower, as it is when gathered.
    """

    view: Literal["front", "back"]
    piece: str
    motion: Motion = STILL
    both: bool = True
    clip: tuple[float, float] | None = None
    squeeze: float = 1.0


@dataclass(frozen=True, slots=True)
class Pattern:
    """Net pieces with their seams, closures and the places of figures.

    ``solved`` are the figures that were found by solving (name, mm), ``findings`` what the draft
    remarks, ``shown`` how the pieces make up a line drawing.
    """

    pieces: tuple[Piece, ...]
    seams: tuple[Seam, ...] = ()
    closures: tuple[Closure, ...] = ()
    dimensions: tuple[Dimension, ...] = ()
    solved: tuple[tuple[str, float], ...] = ()
    findings: tuple[Finding, ...] = ()
    shown: tuple[Shown, ...] = ()

    def piece(self, name: str) -> Piece:
        for piece in self.pieces:
            if piece.name == name:
                return piece
        raise CaddetError(f"there is no piece “{name}”; there are {', '.join(p.name for p in self.pieces)}")

    def has(self, name: str) -> bool:
        return any(piece.name == name for piece in self.pieces)

    def seam(self, name: str) -> Seam:
        for seam in self.seams:
            if seam.name == name:
                return seam
        raise CaddetError(f"there is no seam “{name}”; there are {', '.join(s.name for s in self.seams)}")

    def with_piece(self, changed: Piece) -> Pattern:
        return replace(self, pieces=tuple(changed if p.name == changed.name else p for p in self.pieces))

    def change(self, name: str, verb: Callable[[Piece], Piece]) -> Pattern:
        return self.with_piece(verb(self.piece(name)))


Fate = Literal["kept", "changed", "split", "made", "removed"]


def provenance(before: Pattern, after: Pattern) -> dict[str, Fate]:
    """What became of each edge run, as ``piece.run``, from one pattern to the next."""
    fates: dict[str, Fate] = {}
    for piece in before.pieces:
        for run in piece.runs():
            key = f"{piece.name}.{run}"
            if not after.has(piece.name) or run not in after.piece(piece.name).runs():
                fates[key] = "removed"
                continue
            old, new = piece.run(run), after.piece(piece.name).run(run)
            if [edge.path for edge in old] == [edge.path for edge in new]:
                fates[key] = "kept"
            else:
                fates[key] = "split" if len(new) > len(old) else "changed"
    for piece in after.pieces:
        for run in piece.runs():
            fates.setdefault(f"{piece.name}.{run}", "made")
    return fates
