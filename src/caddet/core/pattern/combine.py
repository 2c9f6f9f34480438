"""Patterns of several sources brought together: names kept apart, seams lettered on."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import EdgeRef, Seam

_LETTERS: tuple[str, ...] = (*"ABCDEFGHIJKLMNOPQRSTUVWXYZ", *(f"Z{n}" for n in range(10_000)))


def free_letter(taken: Collection[str]) -> str:
    """The first letter that no seam has yet."""
    return next(letter for letter in _LETTERS if letter not in taken)


def prefixed(pattern: Pattern, prefix: str) -> Pattern:
    """The pattern with every piece's name below a prefix; what names a piece follows."""

    def refs(side: tuple[EdgeRef, ...]) -> tuple[EdgeRef, ...]:
        return tuple(replace(ref, piece=prefix + ref.piece) for ref in side)

    return replace(
        pattern,
        pieces=tuple(replace(piece, name=prefix + piece.name) for piece in pattern.pieces),
        seams=tuple(replace(seam, a=refs(seam.a), b=refs(seam.b)) for seam in pattern.seams),
        closures=tuple(
            replace(c, name=prefix + c.name, terms=tuple(replace(t, piece=prefix + t.piece) for t in c.terms))
            for c in pattern.closures
        ),
        dimensions=(),  # figures stand on the pieces of the first source
        shown=tuple(replace(one, piece=prefix + one.piece) for one in pattern.shown),
    )


def without_prefix(pattern: Pattern, prefix: str) -> Pattern:
    """The pieces and seams below a prefix, under their own names again."""
    pieces = tuple(
        replace(piece, name=piece.name.removeprefix(prefix))
        for piece in pattern.pieces
        if piece.name.startswith(prefix)
    )
    return Pattern(pieces)


def beside(pattern: Pattern, more: Pattern) -> Pattern:
    """Both patterns as one; seams of the second take the next free letters."""
    taken = {seam.name for seam in pattern.seams}
    seams: list[Seam] = []
    for seam in more.seams:
        name = seam.name if seam.name not in taken else free_letter(taken)
        taken.add(name)
        seams.append(replace(seam, name=name))
    return replace(
        pattern,
        pieces=(*pattern.pieces, *more.pieces),
        seams=(*pattern.seams, *seams),
        closures=(*pattern.closures, *more.closures),
        findings=(*pattern.findings, *more.findings),
        shown=(*pattern.shown, *more.shown),
    )
