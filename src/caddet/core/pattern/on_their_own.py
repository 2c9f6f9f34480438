"""Pieces that were cut from one another as pieces of their own: names of their own, no marks of the cuts."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, End, Feature, FigureLine, Notch, Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Layer, Part, Seam

SAME_SHARE = 1e-10  # of a run; 1e-6 of a long one would be a thousandth of a millimetre


def on_their_own(pattern: Pattern, names: Sequence[str]) -> Pattern:
    """The pieces under these names, each with runs of its own from 0 to 1, and the seams between them.

    ``names``: one for each piece, in their order. What else the pattern has (promises, fits …) leans on the old names and
    stays behind.
    """
    alone = [_Alone.of(piece, name) for piece, name in zip(pattern.pieces, names, strict=True)]
    by_id = {id(one.was): one for one in alone}
    seams = tuple(_seam(pattern, seam, by_id) for seam in pattern.seams)
    return Pattern(tuple(one.piece for one in alone), seams)


def _plain(text: str) -> str:
    """A name of letters, digits and strokes: ``front[s5.2]`` becomes ``front_s5_2``, ``front'`` ``front_other``."""
    return re.sub(r"[^A-Za-z0-9]+", "_", text.replace("'", "_other")).strip("_")[:80]


@dataclass(frozen=True, slots=True)
class _Alone:
    """A piece as it was, as it is now, and for each of its edges the stretch of its run that it covers."""

    was: Piece
    piece: Piece
    spans: tuple[tuple[float, float], ...]

    @staticmethod
    def of(piece: Piece, name: str) -> _Alone:
        """A piece under another name."""
        whole: dict[str, float] = {}
        for edge in piece.edges:
            if not edge.dart:
                whole[edge.name] = whole.get(edge.name, 0.0) + edge.path.length
        passed = dict.fromkeys(whole, 0.0)
        spans: list[tuple[float, float]] = []
        for edge in piece.edges:
            if edge.dart:
                spans.append((0.0, 1.0))
                continue
            low = passed[edge.name] / whole[edge.name]
            passed[edge.name] += edge.path.length
            spans.append((low, passed[edge.name] / whole[edge.name]))
        own = [own_name(key) for key in piece.runs()]
        runs = {
            key: f"{name}.{one if own.count(one) == 1 else _plain(key)}"
            for key, one in zip(piece.runs(), own, strict=True)
        }
        darts = {dart.id: f"{name}.{_plain(own_name(reference(dart.id).key))}" for dart in piece.darts}
        if len(set(darts.values())) < len(darts):
            darts = {dart.id: f"{name}.{_plain(dart.id)}" for dart in piece.darts}

        def end(one: End) -> End:
            """A place on its run as that is now."""
            found = piece.on_edge(one) if isinstance(one, Spot) else None
            if not isinstance(one, Spot) or found is None:
                return one if not isinstance(one, Spot) else piece.where(one)
            index, at = found
            low, high = spans[index]
            return Spot(runs[piece.edges[index].name], low + (high - low) * at / piece.edges[index].path.length)

        def edge_of(index: int, edge: Edge) -> Edge:
            """An edge under its new name."""
            low, high = spans[index]
            leg = f"{darts[edge.dart]}.{own_name(edge.name)}" if edge.dart else runs[edge.name]
            dart = darts[edge.dart] if edge.dart else ""
            return replace(edge, name=leg, dart=dart, marks=frozenset(), pairs=((0.0, low), (1.0, high)))

        def feature(one: Feature) -> Feature:
            """A line under its new name."""
            bits = tuple(Bit(end(bit.a), end(bit.b)) for bit in one.bits)
            return replace(one, name=f"{name}.{own_name(one.name)}", bits=bits)

        def notch(one: Notch) -> Notch | None:
            """A notch on its run as that is now; None when its cloth is gone."""
            spot = end(Spot(one.edge, one.u)) if piece.holds_spot(Spot(one.edge, one.u)) else None
            return replace(one, edge=spot.edge, u=spot.u) if isinstance(spot, Spot) else None

        there = [one for one in piece.features if all(piece.holds_spot(e) for bit in one.bits for e in (bit.a, bit.b))]
        lines = [one for one in piece.figures if piece.holds_spot(one.bit.a) and piece.holds_spot(one.bit.b)]
        fresh = replace(
            piece,
            made=name,
            marks=frozenset(),
            also=(),
            edges=tuple(edge_of(index, edge) for index, edge in enumerate(piece.edges)),
            darts=tuple(replace(d, name=darts[d.id], marks=frozenset()) for d in piece.darts),
            features=tuple(map(feature, there)),
            notches=tuple(one for one in map(notch, piece.notches) if one is not None),
            figures=tuple(FigureLine(one.figure, Bit(end(one.bit.a), end(one.bit.b))) for one in lines),
        )
        return _Alone(piece, fresh, tuple(spans))

    def part(self, fragment: Fragment) -> Part:
        """A stretch of one of its edges, as a part of a seam."""
        low, high = self.spans[fragment.index]
        length = fragment.edge.path.length
        a, b = (low + (high - low) * at / length for at in (fragment.low, fragment.high))
        a, b = (0.0 if a < SAME_SHARE else a), (1.0 if b > 1 - SAME_SHARE else b)
        ref = replace(reference(self.piece.edges[fragment.index].name), mirrored=fragment.imagined)
        return Part(ref, fragment.backwards, a, b)


def _seam(pattern: Pattern, seam: Seam, alone: Mapping[int, _Alone]) -> Seam:
    def layer(parts: Layer) -> Layer:
        """A layer on the new runs; stretches that follow each other on one run are one part."""
        found: list[Part] = []
        for fragment in pattern.layer_fragments(parts):
            part = alone[id(fragment.piece)].part(fragment)
            last = found[-1] if found else None
            if last is not None and (last.ref, last.backwards) == (part.ref, part.backwards):
                if not part.backwards and abs(last.high - part.low) < SAME_SHARE:
                    found[-1] = replace(last, high=part.high)
                    continue
                if part.backwards and abs(last.low - part.high) < SAME_SHARE:
                    found[-1] = replace(last, low=part.low)
                    continue
            found.append(part)
        return tuple(found)

    return replace(seam, layers=tuple(map(layer, seam.layers)))
