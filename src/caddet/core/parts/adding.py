"""What putting on a part has in common: names below the step, seams copied, edges held or finished, fits, notions."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

import shapely

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Point, unit
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.features import Bit, Feature, FeatureKind, Notch
from caddet.core.pattern.ids import (
    Reference,
    base_name,
    named_on,
    on_other_side,
    other_side,
    own_name,
    reference,
    stroke_of,
)
from caddet.core.pattern.notions import Notion, NotionKind, Share
from caddet.core.pattern.pattern import Fit, Opening, Pattern, shapes_of
from caddet.core.pattern.piece import Cut, Grain, GrainKind, Piece
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.roles import BODY
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.recipe.registry import Stuck
from caddet.core.sentences import Length, say

INNER = "inner"  # the role, and own name, of a facing's edge that lies inside the garment
GROWN_ON = "grown_on_fold"  # the role of the line along which a facing that is grown on is folded
ROLES = (("main", "The main cloth"), ("contrast", "A contrast"), ("lining", "The lining"))


# --- names -----------------------------------------------------------------------------------------


def below(step: str, key: str, more: str = "") -> str:
    """The name of what a step makes from a piece: ``s4.front_neckline``; the stroke of the other side stays at its end."""
    base = base_name(key).replace(".", "_") + (f"_{more}" if more else "")
    return f"{step}.{base}{stroke_of(key)}"


def edge_below(piece: str, key: str) -> str:
    """The name of an edge of a piece that a step makes, after the one it comes from: ``s4.front_neckline.shoulder``."""
    return f"{base_name(piece)}.{own_name(key)}{stroke_of(key)}"


def made_by_part(piece: Piece) -> bool:
    """Whether a step made a piece as a part; not one of the garment's own (a front, a sleeve), which a step may make too."""
    return piece.source.startswith("s") and piece.role not in BODY


def run_words(piece: Piece, key: str) -> str:
    """A run as a maker says it, with its piece: ``neckline of the front``."""
    return say("{run} of the {piece}", run=own_name(key).replace("_", " "), piece=piece.label.lower())


# --- layers and seams ------------------------------------------------------------------------------


def layer_of(key: str, marks: frozenset[str] = frozenset()) -> Layer:
    """One run as a layer."""
    return (Part(Reference(base_name(key), marks, on_other_side(key))),)


def copied_seams(pattern: Pattern, names: Mapping[str, str], step: str, suffix: str = "") -> list[Seam]:
    """The seams between edges that were copied (old key → new key), between the copies."""
    found = []
    for seam in pattern.seams:
        layers = []
        for layer in seam.layers:
            parts = []
            for part in layer:
                new = names.get(part.ref.key)
                mirrored = part.ref.mirrored
                if new is None and (twin := names.get(other_side(part.ref.key))) is not None:
                    new = other_side(twin)
                    mirrored = on_other_side(new)
                if new is not None:
                    parts.append(replace(part, ref=Reference(base_name(new), part.ref.marks, mirrored)))
            layers.append(tuple(parts))
        if len(layers) >= 2 and all(layers[:2]):
            name = f"{step}.{seam.name.replace('.', '_')}{suffix}"
            found.append(
                replace(
                    seam,
                    name=name,
                    label=say("{seam}, inside", seam=seam.label),
                    role="inside",
                    layers=(layers[0], layers[1]),
                    joins=seam.joins[:1],
                )
            )
    return found


def meeting(seams: Iterable[Seam], pieces: Iterable[Piece]) -> list[Seam]:
    """Copied seams, plain where their two edges are equally long on the copies: the ease lies elsewhere."""
    pattern = Pattern(tuple(pieces))

    def plain(one: Seam) -> bool:
        """Whether both layers are there and equally long."""
        if not all(pattern.fragments(part) for part in one.parts()):
            return False
        return abs(pattern.length(one.layers[0]) - pattern.length(one.layers[1])) <= one.tolerance

    return [replace(one, joins=(Join(),)) if plain(one) else one for one in seams]


def held(pieces: Iterable[Piece], seams: Iterable[Seam], why: str) -> list[Piece]:
    """Pieces whose edges that are in none of the seams, and have no finish, are said to be caught in another seam."""
    sewn = {name for seam in seams for part in seam.parts() for name in (part.ref.key, other_side(part.ref.key))}

    def finished(edge: Edge) -> Edge:
        """An edge in a seam without a finish, any other with one."""
        if edge.dart or edge.finish == "fold":
            return edge
        if edge.name in sewn:
            return replace(edge, finish="", why="")
        return edge if edge.finish else replace(edge, finish="joined", why=why)

    return [piece.with_edges([finished(edge) for edge in piece.edges]) for piece in pieces]


Drawing = Callable[[str, str], Callable[[Pattern], Piece]]


def sewn_along(
    pattern: Pattern,
    step: str,
    runs: Sequence[tuple[Piece, str]],
    drawing: Drawing,
    words: str,
    why: str,
    suffix: str = "",
) -> tuple[Pattern, list[Piece]]:
    """The pattern with a piece cut along each run, sewn to it, and to each other where the pieces beside them are sewn.

    ``drawing`` gives for a piece's name and a run's key what draws the new piece; it is drawn again when the run or what
    lies beside it changes. ``words`` name the seam (``{run}``), ``why`` says where the other edges are caught.
    """
    made: list[Piece] = []
    seams: list[Seam] = []
    names: dict[str, str] = {}
    draws: list[tuple[list[str], Callable[[Pattern], Piece]]] = []
    for piece, key in runs:
        draw = drawing(piece.name, key)
        one = draw(pattern)
        made.append(one)
        block = block_of(piece, key)
        around = [piece.edges[n].name for n in (block.before, block.behind)]
        names |= {name: edge_below(one.made, name) for name in around if piece.run(name)[0].finish != "fold"}
        own = layer_of(edge_below(one.made, key), piece.marks)
        label = say(words, run=run_words(piece, key))
        seams.append(seam(below(step, key, f"seam{suffix}"), label, layer_of(key, piece.marks), own))
        draws.append(([key, *around], draw))
    seams += meeting(copied_seams(pattern, names, step, suffix), made)
    pieces = held(made, seams, why)
    fits = [follows(pattern, one, keys, draw) for one, (keys, draw) in zip(pieces, draws, strict=True)]
    return with_part(finish_runs(pattern, {key for _, key in runs}), pieces, seams, fits), pieces


def finish_runs(pattern: Pattern, keys: Iterable[str], finish: Finish = "", why: str = "") -> Pattern:
    """The pattern with runs finished so; no finish for what is in a seam now."""
    wanted = set(keys)
    pieces = []
    for piece in pattern.pieces:
        if wanted & {edge.name for edge in piece.edges}:
            piece = piece.with_edges(
                [
                    replace(e, finish=finish, why=why) if e.name in wanted and not e.dart and e.finish != "fold" else e
                    for e in piece.edges
                ]
            )
        pieces.append(piece)
    return replace(pattern, pieces=tuple(pieces))


# --- pieces ----------------------------------------------------------------------------------------


def instead_of(gone: Sequence[Piece], step: str) -> tuple[Finding, ...]:
    """What is said of bands that were taken off for what a step puts there."""
    words = ", ".join(piece.label.lower() for piece in gone)
    said = say("It goes on in place of the {bands}, which is taken off.", bands=words)
    return (Finding("part.instead", said, f"recipe[{step}]", "note"),) if gone else ()


def follows(pattern: Pattern, piece: Piece, keys: Sequence[str], draw: Callable[[Pattern], Piece]) -> Fit:
    """The fit of a piece that is drawn anew when one of some runs changes its shape."""
    layers = tuple(layer_of(key) for key in dict.fromkeys(keys))
    lengths = tuple(pattern.length(layer) for layer in layers)
    return Fit(piece.name, layers, lengths, piece, _not_by_length, piece.label, shapes_of(pattern, layers), draw)


def _not_by_length(lengths: tuple[float, ...]) -> Piece:
    raise CaddetError(say("it is drawn from the shape of its edges"))


def box(
    name: str, label: str, wide: float, deep: float, edges: tuple[str, str, str, str], finishes: Sequence[Finish] = (),
    *, cut: int = 1, pair: bool = False, cloth: Sequence[str] = ("main",), grain: GrainKind = "along", upright: bool = False, remark: str = "",
    role: str = "",
) -> Piece:  # fmt: skip
    """A rectangle: its top, right, bottom and left edges by own name. The grain runs along it, or up and down it."""
    corners = [0j, complex(wide, 0), complex(wide, deep), complex(0, deep), 0j]
    finishes = [*finishes, "", "", "", ""]
    made = tuple(
        Edge(named_on(name, own), Path.polyline([a, b]), finish)
        for own, a, b, finish in zip(edges, corners, corners[1:], finishes, strict=False)
    )
    return Piece(
        name,
        label,
        made,
        grain=grain_in(corners[:4], grain, upright=upright),
        cuts=tuple(Cut(one, cut) for one in cloth),
        pair=pair,
        remark=remark,
        role=role,
    )


def with_whys(piece: Piece, words: Mapping[str, str]) -> Piece:
    """The piece with what becomes of its edges said, by their own names."""
    return piece.with_edges([replace(e, why=words.get(own_name(e.name), e.why)) for e in piece.edges])


def grain_in(corners: Sequence[Point], kind: GrainKind = "along", *, upright: bool = True) -> Grain:
    """A grain line in the middle of some points."""
    xs, ys = [p.real for p in corners], [p.imag for p in corners]
    middle = complex((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
    wide, deep = max(xs) - min(xs), max(ys) - min(ys)
    if kind == "bias":
        half = unit(1 + 1j) * min(wide, deep) * 0.35
    else:
        half = 1j * deep * 0.3 if upright else complex(wide * 0.2, 0)
    return Grain(middle - half, middle + half, kind)


def grain_inside(piece: Piece) -> Piece:
    """The piece with its grain line moved into it when it lies outside, as that of what it was drawn from may."""
    points = piece.polygon(1.0)
    a, b = piece.grain.a, piece.grain.b
    if contains(points, a) and contains(points, b):
        return piece
    circle = shapely.maximum_inscribed_circle(shapely.Polygon([(p.real, p.imag) for p in points]), tolerance=2.0)
    x, y = shapely.get_coordinates(circle)[0]
    half = unit(b - a) * min(abs(b - a) / 2, circle.length * 0.9)
    return replace(piece, grain=replace(piece.grain, a=complex(x, y) - half, b=complex(x, y) + half))


# --- features --------------------------------------------------------------------------------------


def drawn(kind: FeatureKind, name: str, label: str, points: Sequence[Point], *, closed: bool = False) -> Feature:
    """A feature through points of the piece's frame."""
    ends = [*points, points[0]] if closed else list(points)
    return Feature(kind, name, label, tuple(Bit(a, b) for a, b in pairwise(ends)))


def along_path(kind: FeatureKind, name: str, label: str, path: Path, tolerance: float = 0.3) -> Feature:
    """A feature along a path, flattened for drawing."""
    return drawn(kind, name, label, path.flattened(tolerance))


CROSS = 6.0  # mm


def cross_at(kind: FeatureKind, name: str, label: str, at: Point) -> Feature:
    """A small cross: where a button is sewn on, or a point is marked."""
    half = CROSS / 2
    return Feature(kind, name, label, (Bit(at - half, at + half), Bit(at - 1j * half, at + 1j * half)))


def with_features(piece: Piece, features: Iterable[Feature]) -> Piece:
    """The piece with more drawn on it."""
    return replace(piece, features=(*piece.features, *features))


def with_notches(piece: Piece, notches: Iterable[Notch]) -> Piece:
    """The piece with more notches."""
    return replace(piece, notches=(*piece.notches, *notches))


# --- the pattern with a part -------------------------------------------------------------------------


def with_part(
    pattern: Pattern,
    pieces: Iterable[Piece] = (),
    seams: Iterable[Seam] = (),
    fits: Iterable[Fit] = (),
    notions: Iterable[Notion] = (),
    openings: Iterable[Opening] = (),
) -> Pattern:
    """The pattern with what a part adds to it."""
    return replace(
        pattern,
        pieces=(*pattern.pieces, *pieces),
        seams=(*pattern.seams, *seams),
        fits=(*pattern.fits, *fits),
        notions=(*pattern.notions, *notions),
        openings=(*pattern.openings, *openings),
    )


def notion(
    step: str,
    kind: NotionKind,
    label: str,
    along: Sequence[Share] = (),
    plus: Sequence[tuple[str, float]] = (),
    *,
    count: int = 1,
    pack: float = 0.0,
    sold: Sequence[float] = (),
    more: str = "",
) -> Notion:
    """A notion of a step."""
    return Notion(f"{step}.{kind}{more}", kind, label, tuple(along), tuple(plus), count, pack, tuple(sold))


def seam(
    name: str,
    label: str,
    a: Layer,
    b: Layer,
    join: Join | None = None,
    *,
    one_sided: bool = False,
    corners: bool = True,
) -> Seam:
    """A seam of two layers."""
    return Seam(name, label, (a, b), (join or Join(),), corners=corners, one_sided=one_sided)


def needs_length(length: float, least: float, what: str, parameter: str) -> None:
    """Raise :class:`Stuck` when an edge is too short for what is put on it."""
    if length < least - 1e-6:
        raise Stuck(
            say("{what} needs {least}; there are only {length}", what=what, least=Length(least), length=Length(length)),
            parameter,
        )


def refs_of(seam_: Seam) -> set[str]:
    """The keys of all edges of a seam."""
    return {part.ref.key for part in seam_.parts()}


def source_piece(pattern: Pattern, name: str) -> Piece:
    """The piece of a name as it is now. Raises :class:`CaddetError`."""
    return pattern.piece(str(reference(name)))
