"""The seams that a recipe of one's own asks for, between its own pieces and those that are there already."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from caddet.core.errors import CaddetError, some
from caddet.core.geometry.segments import Point, dot
from caddet.core.own_pieces.placing import Placing, Unplaced
from caddet.core.own_pieces.reading import SeamLine
from caddet.core.pattern.ids import Reference, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Girth, Measurement, Promise, Run
from caddet.core.pattern.seams import TOLERANCE, Join, Layer, Part, Seam
from caddet.core.sentences import say


@dataclass(frozen=True, slots=True)
class _Run:
    """A run of one piece, and which way it is walked."""

    piece: Piece
    ref: Reference
    backwards: bool = False

    def ends(self) -> tuple[str, str]:
        """The names of the edges that the run meets where it is entered and where it is left."""
        indices = self.piece.indices(self.ref)
        edges = self.piece.edges
        before, after = edges[indices[0] - 1], edges[(indices[-1] + 1) % len(edges)]
        first, last = (before.name, after.name) if not edges[indices[0]].backwards else (after.name, before.name)
        return (last, first) if self.backwards else (first, last)

    def way(self) -> Point:
        """From where it is entered to where it is left."""
        paths = self.piece.walked(self.ref)
        chord = paths[-1].end - paths[0].start
        return -chord if self.backwards else chord


def sewn(pattern: Pattern, prefix: str, placing: Placing) -> Pattern:
    """The pattern with the recipe's seams; its own pieces are those below ``prefix``. Raises :class:`Unplaced`."""
    for number, line in placing.written.seams:
        layers = []
        for refs in (line.first, line.second):
            layers.append(_chain(pattern, [_run(pattern, prefix, ref, number) for ref in refs]))
        first, second = layers
        if [one.ref for one in first] == [one.ref for one in second]:  # an edge to that of the other side
            second = [replace(one, ref=replace(one.ref, mirrored=True)) for one in second]
        elif len(first) == len(second) == 1:
            facing = dot(first[0].way(), second[0].way()) < 0
            if facing != line.turned:
                second = [replace(second[0], backwards=True)]
        elif line.turned:
            second = [replace(one, backwards=not one.backwards) for one in reversed(second)]
        whole = [all(one.piece.worn == 1 for one in layer) for layer in (first, second)]
        sides = [_layer(layer, round_=whole[0] != whole[1] and not whole[n]) for n, layer in enumerate((first, second))]
        name = _named(pattern, prefix, first[0].ref, second[0].ref)
        label = say("{one} to {other}", one=_said(first), other=_said(second))
        seam = Seam(name, str(label), (sides[0], sides[1]), (_join(pattern, sides, line, placing, number),))
        pattern = replace(pattern, seams=(*pattern.seams, seam))
    return pattern


def _named(pattern: Pattern, prefix: str, first: Reference, second: Reference) -> str:
    """A seam's name by the edges it joins, so that it stays when lines are added above it."""
    words = [one.name.removeprefix(prefix).replace(".", "_") for one in (first, second)]
    stem = f"{prefix}{words[0]}" if words[0] == words[1] else f"{prefix}{words[0]}_{words[1]}"
    taken = {seam.name for seam in pattern.seams}
    return next(name for name in (stem, *(f"{stem}_{n}" for n in range(2, 999))) if name not in taken)


def checked(pattern: Pattern, prefix: str, placing: Placing) -> Pattern:
    """The pattern with what the recipe wants held, as worn, on the finished outlines. Raises :class:`Unplaced`."""
    promises = []
    for number, line in placing.written.checks:
        target = placing.length(line.formula, "", number)
        within = placing.length(line.within, "", number) if line.within else TOLERANCE
        of: tuple[Measurement, ...]
        if line.level:
            of = (Girth(line.level),)
        else:
            of = tuple(Run(_run(pattern, prefix, text, number).ref, worn=True) for text in line.edges)
        label = line.name.replace("_", " ").capitalize()
        why = str(say("as your recipe says, line {number}", number=number))
        made = Promise(f"{prefix}{line.name}", label, of, target, why, "least" if line.least else "equal", within)
        try:
            made.measured(pattern)
        except CaddetError as error:
            raise Unplaced(str(error), number) from error
        promises.append(made)
    return replace(pattern, promises=(*pattern.promises, *promises))


def _run(pattern: Pattern, prefix: str, text: str, number: int) -> _Run:
    """The run that is meant: one of the recipe's own, else one that is there already."""
    for name in (f"{prefix}{text}", text):
        try:
            ref = reference(name)
        except (ValueError, CaddetError) as error:
            raise Unplaced(str(error), number) from error
        pieces = [pattern.pieces[p] for p in dict.fromkeys(p for p, _ in pattern.edges(ref))]
        if len(pieces) == 1:
            return _Run(pieces[0], ref)
        if pieces:
            raise Unplaced(say("{edge} lies on several pieces now; name one of its parts", edge=text), number)
    there = sorted(
        {edge.name.removeprefix(prefix) for piece in pattern.pieces for edge in piece.edges if not edge.dart}
    )
    raise Unplaced(say("there is no edge “{edge}”; there are {there}", edge=text, there=some(there, text)), number)


def _chain(pattern: Pattern, runs: Sequence[_Run]) -> list[_Run]:
    """The runs of a layer, each entered where the seam beside it comes in."""
    found = list(runs)
    for n in range(1, len(found)):
        before, here = found[n - 1], found[n]
        if _meet(pattern, before.ends()[1], here.ends()[0]):
            continue
        if _meet(pattern, before.ends()[1], here.ends()[1]):
            found[n] = replace(here, backwards=True)
        elif n == 1 and _meet(pattern, before.ends()[0], here.ends()[0]):
            found[0] = replace(before, backwards=True)
        elif n == 1 and _meet(pattern, before.ends()[0], here.ends()[1]):
            found[0], found[1] = replace(before, backwards=True), replace(here, backwards=True)
    return found


def _meet(pattern: Pattern, a: str, b: str) -> bool:
    """Whether two edges are sewn to each other."""
    for seam in pattern.seams:
        names = [{part.ref.name for part in layer} for layer in seam.layers]
        if any(a in names[i] and b in names[j] for i in range(len(names)) for j in range(len(names)) if i != j):
            return True
    return False


def _layer(runs: Sequence[_Run], *, round_: bool) -> Layer:
    """The layer; ``round_``: on round the body, the other half first."""
    own = tuple(Part(one.ref, one.backwards) for one in runs)
    if not round_:
        return own
    other = tuple(Part(replace(one.ref, mirrored=True), not one.backwards) for one in reversed(runs))
    return (*other, *own)


def _join(pattern: Pattern, sides: Sequence[Layer], line: SeamLine, placing: Placing, number: int) -> Join:
    """How the second side meets the first; without an amount, as they come."""
    if line.join == "plain":
        return Join()
    first, second = (pattern.length(side) for side in sides)
    if line.join in ("gathered", "stretched"):
        amount = placing.number(line.amount, "", number) if line.amount else second / first
        if not 0.05 <= amount <= 20:
            raise Unplaced(say("a ratio lies between 0.05 and 20, not {amount}", amount=f"{amount:.3g}"), number)
        return Join(line.join, amount)  # type: ignore[arg-type]
    amount = placing.length(line.amount, "", number) if line.amount else second - first
    return Join(line.join, amount)  # type: ignore[arg-type]


def _said(runs: Sequence[_Run]) -> str:
    return " and ".join(f"{one.piece.label}, {one.ref.name.rpartition('.')[2].replace('_', ' ')}" for one in runs)
