"""A pattern: pieces, the seams between them, what it promises, and what was fitted to what."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from caddet.core.errors import CaddetError, some
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.edges import SAME, Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import Reference, base_name, own_name, reference, spoken
from caddet.core.pattern.notions import Needed, Notion, needed
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Meant, Promise
from caddet.core.pattern.roles import role_of_edge
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.sentences import say

STILL = Motion()
LEFT_OF_MIDDLE, RIGHT_OF_MIDDLE = (-1e5, 0.0), (0.0, 1e5)
SAME_LENGTH = 1e-4  # mm


@dataclass(frozen=True, slots=True)
class Shown:
    """How a piece (and every part cut from it) stands in a line drawing of the garment.

    From the front or the back, moved from the frame of the piece, on one side of the body or (``both``) mirrored
    to the other as well. The middle of the body is at x = 0. ``clip`` shows only what lies between two x of the
    piece's frame, as of a sleeve lying folded; ``squeeze`` draws it narrower, as it is when gathered.
    """

    view: Literal["front", "back"]
    piece: str
    motion: Motion = STILL
    both: bool = True
    clip: tuple[float, float] | None = None
    squeeze: float = 1.0


@dataclass(frozen=True, slots=True)
class Fit:
    """A piece that was solved to other edges: it is solved again when their lengths change.

    ``edges`` are layers of the neighbours, ``lengths`` what each measured when it was solved (mm), ``made`` the
    piece as it was solved, ``solve`` gives it anew for other lengths, under the same names. A piece that was drawn from
    the shape of its edges (a facing) has ``draw`` in place of that, and in ``shapes`` their paths as they were.
    ``fullness`` is by how many times a layer is longer than what the piece was solved for, where a step let in cloth that
    is gathered, pleated or eased onto the piece: that keeps its length.
    """

    piece: str
    edges: tuple[Layer, ...]
    lengths: tuple[float, ...]
    made: Piece
    solve: Callable[[tuple[float, ...]], Piece] = field(compare=False, repr=False)
    label: str = ""
    shapes: tuple[Path, ...] = ()
    draw: Callable[[Pattern], Piece] | None = field(default=None, compare=False, repr=False)
    fullness: tuple[float, ...] = ()

    def _held(self, pattern: Pattern) -> tuple[float, ...]:
        """How long each layer is as it is held by the piece, in mm."""
        times = self.fullness or (1.0,) * len(self.edges)
        return tuple(pattern.length(layer) / by for layer, by in zip(self.edges, times, strict=True))

    def holding(self, pattern: Pattern) -> Fit:
        """The fit of the same piece, with what its layers are longer now held in it as fullness. Raises :class:`CaddetError`."""
        lengths = (pattern.length(layer) for layer in self.edges)
        return replace(self, fullness=tuple(now / held for now, held in zip(lengths, self.lengths, strict=True)))

    def changed(self, pattern: Pattern) -> bool:
        """Whether what it was fitted to is another now. Raises :class:`CaddetError` when an edge is gone."""
        if self.draw is not None:
            return shapes_of(pattern, self.edges) != self.shapes
        return any(abs(new - old) > SAME_LENGTH for new, old in zip(self._held(pattern), self.lengths, strict=True))

    def again(self, pattern: Pattern) -> tuple[Piece, Fit]:
        """The piece solved for the edges as they are now, and the fit of that. Raises :class:`CaddetError`."""
        lengths = self._held(pattern)
        piece = self.draw(pattern) if self.draw is not None else self.solve(lengths)
        return piece, replace(self, lengths=lengths, shapes=shapes_of(pattern, self.edges) if self.draw else ())


@dataclass(frozen=True, slots=True)
class Opening:
    """A part of an edge that opens and is closed by a fastening: a zip, buttons, a placket.

    ``edges``: one side of it, as a layer; or ``slit``, a line drawn on a piece where it is cut open (piece, line).
    ``around``: the role of the runs that it makes longer when it is open (``waist``).
    """

    name: str
    label: str
    edges: Layer
    around: str
    slit: tuple[str, str] | None = None


@dataclass(frozen=True)
class Pattern:
    """Net pieces with their seams, promises and fits; ``shown``: how they make up a line drawing."""

    pieces: tuple[Piece, ...] = ()
    seams: tuple[Seam, ...] = ()
    promises: tuple[Promise, ...] = ()
    fits: tuple[Fit, ...] = ()
    shown: tuple[Shown, ...] = ()
    meant: tuple[Meant, ...] = ()
    notions: tuple[Notion, ...] = ()
    openings: tuple[Opening, ...] = ()
    anchored: bool = field(default=False, compare=False)  # whether the ends of its figures' lines lie on edges
    _memo: dict[Any, Any] = field(default_factory=dict, init=False, compare=False, repr=False)

    # --- finding things ---------------------------------------------------------------------------

    def piece(self, name: str) -> Piece:
        """The one piece of a name. Raises :class:`CaddetError` when there is none."""
        for piece in self.pieces:
            if piece.name == name:
                return piece
        found = self.pieces_meant(reference(name))
        if len(found) == 1:
            return found[0]
        if found:
            raise CaddetError(say("“{name}” has been cut into {found}", name=name, found=some(p.name for p in found)))
        raise CaddetError(
            say(
                "there is no piece “{name}”; there are {pieces}",
                name=name,
                pieces=some((p.name for p in self.pieces), name),
            )
        )

    def has(self, name: str) -> bool:
        """Whether there is a piece of exactly that name."""
        return any(piece.name == name for piece in self.pieces)

    def pieces_meant(self, ref: Reference) -> list[Piece]:
        """Every piece that a reference finds; of a half, the counterpart that exists only in thought is its own."""
        found = [piece for piece in self.pieces if piece.is_meant(ref)]
        if not found and ref.mirrored:
            found = [piece for piece in self.pieces if piece.is_meant(replace(ref, mirrored=False)) and piece.worn == 2]
        return found

    def parts(self, name: str) -> list[Piece]:
        """A piece of a block, or what it was cut into. Raises :class:`CaddetError` when nothing of it is left."""
        return self.pieces_meant(reference(name)) or [self.piece(name)]

    def has_run(self, name: str) -> bool:
        """Whether there is an edge of that name anywhere."""
        return bool(self.edges(reference(name)))

    def seam(self, name: str) -> Seam:
        """A seam by its name. Raises :class:`CaddetError` when there is none."""
        for seam in self.seams:
            if seam.name == name:
                return seam
        raise CaddetError(
            say(
                "there is no seam “{name}”; there are {seams}",
                name=name,
                seams=some((s.name for s in self.seams), name),
            )
        )

    def seams_of_both_sides(self) -> tuple[Seam, ...]:
        """Every seam, and that of the wearer's right where pieces were taken apart: there the two sides may differ."""
        found = list(self.seams)
        for seam in self.seams:
            other = seam.counterpart()
            rings = [
                {p.ref.key for p in a} == {p.ref.key for p in b} for a, b in zip(seam.layers, other.layers, strict=True)
            ]
            real = [part for part in other.parts() if part.ref.mirrored and self.edges(part.ref)]
            if real and not seam.one_sided and not any(rings) and all(map(self.fragments, other.parts())):
                found.append(other)
        return tuple(found)

    def letter(self, name: str) -> str:
        """The letter that a seam is shown with: A, B … Z, A2 … in the order of the seams."""
        name = base_name(name)
        number = next((i for i, seam in enumerate(self.seams) if seam.name == name), 0)
        return chr(65 + number % 26) + (str(number // 26 + 1) if number >= 26 else "")

    def edges(self, ref: Reference) -> list[tuple[int, int]]:
        """Every edge that a reference finds, as (piece, edge), in the maker's order, wherever it went."""
        table = self._kept("edges", self._by_key)
        found: list[tuple[int, int]] = table.get(ref.key, [])
        if not ref.marks:
            return list(found)
        return [(p, e) for p, e in found if ref.marks <= self.pieces[p].edges[e].marks]

    def _by_key(self) -> Mapping[str, list[tuple[int, int]]]:
        table: dict[str, list[tuple[float, int, int]]] = {}
        for p, piece in enumerate(self.pieces):
            for e, edge in enumerate(piece.edges):
                table.setdefault(edge.name, []).append((edge.pairs[0][1] + edge.pairs[-1][1], p, e))
        return {key: [(p, e) for _, p, e in sorted(found)] for key, found in table.items()}

    def _kept(self, key: Any, work: Callable[[], Any]) -> Any:
        if key not in self._memo:
            self._memo[key] = work()
        return self._memo[key]

    def role_at(self, ref: str) -> str:
        """The role of the edge that is named: of the first there is, or else the one its name says."""
        found = self.edges(reference(ref))
        return self.pieces[found[0][0]].edges[found[0][1]].role if found else role_of_edge(ref)

    def run_length(self, name: str) -> float:
        """The length of a run along the stitch line, in mm, wherever its parts went. Raises :class:`CaddetError` without one."""
        found = self.edges(reference(name))
        if not found:
            raise CaddetError(say("there is no edge “{ref}” here", ref=name))
        return sum(self.pieces[p].edges[e].path.length for p, e in found)

    def fragments(self, part: Part) -> list[Fragment]:
        """The stretches of a part of a seam's layer, in walking order; none when the reference is lost."""
        found: list[Fragment] = self._kept(part, lambda: self._fragments(part))
        return found

    def _fragments(self, part: Part) -> list[Fragment]:
        found, imagined = self.edges(part.ref), False
        if not found and part.ref.mirrored:
            found, imagined = self.edges(replace(part.ref, mirrored=False)), True
        fragments: list[Fragment] = []
        for p, e in found:
            piece = self.pieces[p]
            edge = piece.edges[e]
            low, high = _within(edge, part.low, part.high)
            if high - low > SAME:
                fragments.append(Fragment(piece, e, low, high, edge.backwards != part.backwards, imagined))
        return fragments[::-1] if part.backwards else fragments

    def layer_fragments(self, layer: Iterable[Part]) -> list[Fragment]:
        """The stretches of a whole layer, in walking order. Raises :class:`CaddetError` for a lost part."""
        found: list[Fragment] = []
        for one in layer:
            fragments = self.fragments(one)
            if not fragments:
                raise CaddetError(say("there is no edge “{ref}” here", ref=one.ref))
            found += fragments
        return found

    def what_is_left(self, layer: Iterable[Part]) -> list[Fragment]:
        """The stretches of a layer that are there, in walking order; none for a part that was lost."""
        return [fragment for one in layer for fragment in self.fragments(one)]

    def length(self, layer: Iterable[Part]) -> float:
        """How long a layer is along its stitch lines, darts left out and pleats folded, in mm."""
        return sum(self._part_length(one) for one in layer)

    def _part_length(self, part: Part) -> float:
        fragments = self.fragments(part)
        if not fragments:
            raise CaddetError(say("there is no edge “{ref}” here", ref=part.ref))
        found: float = self._kept(("length", part), lambda: sum(f.length for f in fragments) - _pleated(fragments))
        return found

    def held(self, part: Part) -> float:
        """How long a part is as it is worn, in mm: without the fullness that steps let in and its seam holds."""
        found: float = self._kept(("held", part), lambda: self._held(part))
        return found

    def _held(self, part: Part) -> float:
        seams = {id(seam): (seam, layer) for at in self.edges(part.ref) for seam, layer in self.sewn().get(at, ())}
        let_in = [seam.joins[layer - 1].let_in for seam, layer in seams.values() if layer]
        return self.length((part,)) / max(let_in, default=1.0)

    def promised(self, promise: Promise) -> float:
        """What a promise comes to on the pattern, in mm; worked out once. Raises :class:`CaddetError` when it can't be."""
        found: float = self._kept(("promised", promise), lambda: promise.measured(self))
        return found

    def needs(self) -> tuple[Needed, ...]:
        """The notions of all parts, measured on the pattern as it is."""
        return tuple(needed(notion, self.length) for notion in self.notions)

    def opened(self, around: str) -> float:
        """By how much openings that steps made lengthen the runs of a role when they are open, in mm."""
        total = 0.0
        for one in self.openings:
            if one.around == around and all(self.fragments(part) for part in one.edges):
                total += 2 * self.length(one.edges)
                if one.slit is not None:
                    total += 2 * sum(
                        line.length
                        for piece in self.pieces_meant(reference(one.slit[0]))
                        for feature in piece.features
                        if feature.name == one.slit[1]
                        for line in piece.drawn(feature)
                    )
        return total

    # --- seams and edges --------------------------------------------------------------------------

    def sewn(self) -> Mapping[tuple[int, int], list[tuple[Seam, int]]]:
        """For each (piece, edge) the seams it is in, with the number of the layer."""
        found: Mapping[tuple[int, int], list[tuple[Seam, int]]] = self._kept("sewn", self._sewn)
        return found

    def _sewn(self) -> Mapping[tuple[int, int], list[tuple[Seam, int]]]:
        table: dict[tuple[int, int], list[tuple[Seam, int]]] = {}
        number = {id(piece): p for p, piece in enumerate(self.pieces)}
        for seam in self.seams:
            for layer, parts in enumerate(seam.layers):
                for one in parts:
                    for fragment in self.fragments(one):
                        table.setdefault((number[id(fragment.piece)], fragment.index), []).append((seam, layer))
                    other = replace(one, ref=replace(one.ref, mirrored=not one.ref.mirrored))
                    if not seam.one_sided and self.edges(other.ref):  # a seam holds for both sides of the body
                        for fragment in self.fragments(other):
                            table.setdefault((number[id(fragment.piece)], fragment.index), []).append((seam, layer))
        return table

    # --- the same pattern, otherwise --------------------------------------------------------------

    def with_piece(self, changed: Piece, instead_of: str = "") -> Pattern:
        """The pattern with one piece in place of the one of its name (or another's)."""
        name = instead_of or changed.name
        return replace(self, pieces=tuple(changed if p.name == name else p for p in self.pieces))

    def with_seam(self, changed: Seam) -> Pattern:
        """The pattern with one seam in place of the one of its name, or as a new one."""
        if any(seam.name == changed.name for seam in self.seams):
            return replace(self, seams=tuple(changed if s.name == changed.name else s for s in self.seams))
        return replace(self, seams=(*self.seams, changed))


def shapes_of(pattern: Pattern, layers: Iterable[Layer]) -> tuple[Path, ...]:
    """The paths of edges as they lie in their pieces. Raises :class:`CaddetError` when one is gone."""
    return tuple(fragment.path() for layer in layers for fragment in pattern.layer_fragments(layer))


def _within(edge: Edge, low: float, high: float) -> tuple[float, float]:
    """The distances along an edge's path between which its positions lie in a span."""
    whole = edge.path.length
    if low <= edge.low + SAME and high >= edge.high - SAME:
        return 0.0, whole
    if high <= edge.low or low >= edge.high:
        return 0.0, 0.0
    ends = [edge.share_at(min(max(u, edge.low), edge.high)) or 0.0 for u in (low, high)]
    return min(ends) * whole, max(ends) * whole


def _pleated(fragments: list[Fragment]) -> float:
    """What pleats on these stretches fold away, in mm."""
    total = 0.0
    seen: set[tuple[str, str]] = set()
    for fragment in fragments:
        piece = fragment.piece
        for feature in piece.features:
            if feature.kind != "pleat" or (piece.name, feature.name) in seen:
                continue
            for ends in ([bit.a for bit in feature.bits], [bit.b for bit in feature.bits]):
                spots = [end for end in ends if isinstance(end, Spot) and end.edge == fragment.edge.name]
                if len(spots) == 2 and all(map(piece.holds_spot, spots)):
                    seen.add((piece.name, feature.name))
                    total += abs(piece.along(spots[1]) - piece.along(spots[0]))
    return total


def label_of(pattern: Pattern, ref: Reference | str) -> str:
    """What a maker calls an edge or piece: ``front side``."""
    ref = reference(ref) if isinstance(ref, str) else ref
    other = ", the other side's" if ref.mirrored else ""
    found = pattern.edges(ref)
    if found:
        piece, _ = found[0]
        return spoken(pattern.pieces[piece].label.lower(), own_name(ref.name)) + other
    return f"{own_name(ref.name).replace('_', ' ')}{other}"


__all__ = [
    "LEFT_OF_MIDDLE", "RIGHT_OF_MIDDLE", "Fit", "Join", "Meant", "Opening", "Pattern", "Promise", "Shown", "label_of",
]  # fmt: skip
