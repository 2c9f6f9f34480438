"""How chosen edges lie round the body: once round through both halves, or one round for each side, as two sleeves have."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from caddet.core.parts.adding import made_by_part, run_words
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges
from caddet.core.pattern.ids import Reference, base_name, on_other_side, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.seams import Layer, Part
from caddet.core.recipe.registry import Stuck
from caddet.core.sentences import say

Node = tuple[str, str, bool]  # a run's name, its piece, and whether it is the other side's


@dataclass(frozen=True, slots=True)
class Round:
    """Edges that follow one another, as a layer walked in order; how often that is worn; whether it closes to a ring."""

    layer: Layer
    count: int
    closed: bool


@dataclass(frozen=True, slots=True)
class _Run:
    """A chosen run: its piece, the marks that mean it there, and the edges beside its two ends in its maker's order; None for
    the fold."""

    piece: Piece
    marks: frozenset[str]
    beside: tuple[Edge | None, Edge | None]


def rounds(pattern: Pattern, refs: Sequence[str], parameter: str = "edges") -> list[Round]:
    """The rounds that some runs make, each once. Raises :class:`Lost` or :class:`Stuck`."""
    runs: dict[Node, _Run] = {}
    named = {reference(one).name for one in refs}
    for piece, key in chosen_edges(pattern, refs, parameter):
        if base_name(key) not in named and (piece.feature("band_fold") or made_by_part(piece)):
            continue  # a part is not put on a band or another part unless that is named itself
        name, other = base_name(key), on_other_side(key)
        try:
            block = block_of(piece, key)
        except Refused as refused:
            raise Stuck(str(refused), parameter) from refused
        if piece.edges[block.first].finish == "fold":
            raise Stuck(say("the {run} is a fold: the cloth goes on there", run=run_words(piece, key)), parameter)
        ends = [None if end.finish == "fold" else end for end in (piece.edges[block.before], piece.edges[block.behind])]
        if piece.edges[block.first].backwards:
            ends.reverse()
        here = piece.edges[block.first].marks
        asked = (reference(one) for one in refs)
        marks = next((one.marks for one in asked if one.name == name and one.marks <= here), frozenset())
        run = _Run(piece, marks | piece.marks, (ends[0], ends[1]))
        base = base_name(piece.name)
        runs[name, base, other] = run
        if piece.worn == 2:
            runs[name, base, not other] = run
    left = dict.fromkeys(runs)
    found: list[Round] = []
    while left:
        node = next(iter(left))
        walk, closed = _walked(pattern, runs, node)
        for one, _ in walk:
            left.pop(one, None)
        twins = [(name, piece, not other) for (name, piece, other), _ in walk]
        count = 1
        if all(twin in left for twin in twins):
            count = 2
            for twin in twins:
                left.pop(twin)
        if len(walk) == 1 and not closed:
            beside = runs[walk[0][0]].beside
            names = {base_name(edge.name) for edge in beside if edge is not None}
            closed = len(names) == 2 and any(
                {part.ref.name for part in seam.parts()} >= names for seam in pattern.seams if len(seam.layers) == 2
            )
        layer = tuple(Part(Reference(node[0], runs[node].marks, node[2]), backwards) for node, backwards in walk)
        found.append(Round(layer, count, closed))
    return found


def every_round(pattern: Pattern, refs: Sequence[str], parameter: str = "edges") -> Layer:
    """All the rounds that some runs make as one layer, as often as they are worn. Raises :class:`Stuck`."""
    found: list[Part] = []
    for one in rounds(pattern, refs, parameter):
        found += one.layer
        if one.count == 2:
            found += [replace(part, ref=replace(part.ref, mirrored=not part.ref.mirrored)) for part in one.layer]
    return tuple(found)


def one_round(pattern: Pattern, refs: Sequence[str], parameter: str = "edges") -> Round:
    """The one round that some runs make. Raises :class:`Stuck` when they make more."""
    found = rounds(pattern, refs, parameter)
    if not found:
        raise Stuck(say("there are only bands and parts here with such an edge; say which of them is meant"), parameter)
    if len(found) > 1:
        raise Stuck(
            say("these edges lie in {count} separate rounds; take them one after the other", count=len(found)),
            parameter,
        )
    return found[0]


def _walked(pattern: Pattern, runs: dict[Node, _Run], start: Node) -> tuple[list[tuple[Node, bool]], bool]:
    """The runs that follow one another through a node, each with whether it is walked backwards; and whether they close."""
    back: list[tuple[Node, bool]] = []
    node, end = start, 0
    while (after := _next(pattern, runs, node, end)) is not None and after[0] != start and len(back) < len(runs):
        node, touched = after
        back.append((node, touched == 0))  # seen from the start we walk it towards it
        end = 1 - touched
        if any(one == node for one, _ in back[:-1]):
            back.pop()
            break
    if after is not None and after[0] == start:
        ring = [(one, backwards) for one, backwards in reversed(back)]
        return [*ring, (start, False)], True
    walk: list[tuple[Node, bool]] = [*reversed(back), (start, False)]
    node, end = start, 1
    while (after := _next(pattern, runs, node, end)) is not None and all(one != after[0] for one, _ in walk):
        node, touched = after
        walk.append((node, touched == 1))
        end = 1 - touched
    return walk, False


def _next(pattern: Pattern, runs: dict[Node, _Run], node: Node, end: int) -> tuple[Node, int] | None:
    """The run that goes on at an end of a run, and which of its ends touches."""
    name, piece, other = node
    beside = runs[node].beside[end]
    if beside is None:  # over the fold to its own other half
        twin = (name, piece, not other)
        return (twin, end) if twin in runs else None
    for seam in pattern.seams:
        for number, layer in enumerate(seam.layers[:2]):
            for place, part in enumerate(layer):
                if not _means(part, beside):
                    continue
                across = seam.layers[1 - number] if len(seam.layers) > 1 else ()
                for mate in _mates(layer, across, place):
                    flipped = mate.ref.mirrored != part.ref.mirrored
                    for fresh, found in runs.items():
                        if fresh[2] != (other != flipped) or fresh == node:
                            continue
                        touching = [n for n, one in enumerate(found.beside) if one is not None and _means(mate, one)]
                        if touching:
                            return fresh, touching[0]
    return None


def _means(part: Part, edge: Edge) -> bool:
    """Whether a part of a seam means an edge, on either side of the body."""
    return part.ref.name == base_name(edge.name) and part.ref.marks <= edge.marks


def _mates(layer: Layer, across: Layer, place: int) -> list[Part]:
    """The parts of the other layer that may lie across from one, the likeliest first."""
    if len(layer) == len(across):
        return [across[place], *across[:place], *across[place + 1 :]]
    return list(across)
