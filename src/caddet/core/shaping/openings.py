"""Steps that open a seam: a slit from the hem up, a vent."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from typing import Any

from caddet.core.geometry.offset import offset_path
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_edges, said
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import other_side
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam
from caddet.core.pattern.surgery import sound, split_edge
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.hemline import HEMS, hem_corner

LEFT_SEWN = 10.0  # mm of a seam that stay closed above a slit


def slit(pattern: Pattern, context: Context, values: Values) -> Result:
    """Leave a seam open from the hem up to a height; both its sides are opened, and finished as a slit."""
    height = float(values["height"])
    piece, key = chosen_edges(pattern, values["edges"], "edges")[0] if values["edges"] else _usual(pattern)
    seam = _openable(pattern, piece, key)
    at_end = _hem_end(pattern, seam, piece, key)
    for number in range(len(seam.layers)):
        pattern = open_seam(pattern, seam.name, number, at_end, height, context.id)
    return Result(pattern)


def _openable(pattern: Pattern, piece: Piece, key: str) -> Seam:
    """The seam that a run is in, when it can be left open at the hem. Raises :class:`Stuck`."""
    edge = piece.run(key)[0]
    words = f"the {edge.own.replace('_', ' ')} of the {piece.label.lower()}"
    if edge.finish == "fold":
        raise Stuck(say("{words} lies on the fold; a fold would have to become a seam first", words=words), "edges")
    if any(part.finish == "slit" for part in piece.run(key)):
        raise Stuck(say("{words} has a slit already; change that step's height", words=words), "edges")
    if edge.finish:
        raise Stuck(say("{words} is no seam, so it can't be left open", words=words), "edges")
    if hem_corner(piece, key) is None:
        raise Stuck(say("{words} does not reach a hem to open from", words=words), "edges")
    seam = seam_of(pattern, piece, key)
    if seam is None:
        raise Stuck(say("{words} is not sewn to anything", words=words), "edges")
    return seam


def _usual(pattern: Pattern) -> tuple[Piece, str]:
    """The seam one would open: one that closes a centre, else any that comes to the hem."""
    found = [
        (seam, f.piece, f.edge.name)
        for seam in pattern.seams
        for f in pattern.what_is_left(seam.layers[0])
        if not f.edge.finish and hem_corner(f.piece, f.edge.name) is not None
    ]
    if not found:
        raise Stuck("no seam of this garment comes down to a hem", "edges")
    closing = [(piece, key) for seam, piece, key in found if seam.closes()]
    return (closing or [(piece, key) for _, piece, key in found])[0]


def seam_of(pattern: Pattern, piece: Piece, key: str) -> Seam | None:
    """The first seam that a run of a piece is in, on this side of the body; None without one."""
    for seam in pattern.seams:
        for layer in seam.layers:
            if any(f.piece is piece and f.edge.name == key for f in pattern.what_is_left(layer)):
                return seam
    return None


def _hem_end(pattern: Pattern, seam: Seam, piece: Piece, key: str) -> bool:
    """Whether the seam's walk ends at the hem (else it begins there)."""
    index, path_end = hem_corner(piece, key) or (0, True)
    for layer in seam.layers:
        for fragment in pattern.layer_fragments(layer):
            if fragment.piece is piece and fragment.index == index:
                return path_end != fragment.backwards
    return True


def open_seam(
    pattern: Pattern, name: str, number: int, at_end: bool, height: float, step: str, finish: Finish = "slit"
) -> Pattern:
    """The pattern with one layer of a seam open for ``height`` mm from one end, and finished so. Raises :class:`Stuck`."""
    seam = pattern.seam(name)
    layer = seam.layers[number]
    fragments = pattern.layer_fragments(layer)
    length = sum(f.length for f in fragments)
    if height > length - LEFT_SEWN:
        raise Stuck(say("it would be longer than the seam is ({length})", length=Length(length)), "height")
    spot, left = _from_end(fragments if not at_end else fragments[::-1], height, at_end)
    part = layer[-1 if at_end else 0]
    if left is None or spot.edge not in (part.ref.key, part.ref.name, other_side(part.ref.key)):
        raise Stuck("it would run past the end of this edge into the next", "height")
    upwards = part.backwards != at_end  # whether the sewn part lies below the place, as its maker counts
    changed = replace(part, high=spot.u) if upwards else replace(part, low=spot.u)
    layers = list(seam.layers)
    layers[number] = tuple(changed if one is part else one for one in layer)
    for key in (spot.edge, other_side(spot.edge)):
        piece = next((p for p in pattern.pieces if key in p.runs()), None)
        if piece is not None and not _split_already(piece, key, step):
            pattern, _ = split_edge(pattern, piece, Spot(key, spot.u), step)
            pattern = _finished(pattern, key, spot.u, upwards, finish)
    return pattern.with_seam(replace(seam, layers=tuple(layers)))


def _split_already(piece: Piece, key: str, step: str) -> bool:
    return any(any(mark.startswith(f"{step}.") for mark in edge.marks) for edge in piece.run(key))


def _from_end(fragments: list[Fragment], height: float, at_end: bool) -> tuple[Spot, Fragment | None]:
    """The place so many mm from the hem end of a layer; ``fragments`` begin there."""
    left = height
    for fragment in fragments:
        if left <= fragment.length:
            walked_up = fragment.backwards != at_end  # whether going up from the hem runs against the path
            on_path = fragment.high - left if walked_up else fragment.low + left
            return Spot(fragment.edge.name, fragment.edge.u_at(on_path / fragment.edge.path.length)), fragment
        left -= fragment.length
    return Spot("", 0.0), None


def _finished(pattern: Pattern, key: str, u: float, below: bool, finish: Finish) -> Pattern:
    """The open part of a run finished: above the place as its maker counts, or below it."""
    pieces = []
    for piece in pattern.pieces:
        edges = [
            replace(edge, finish=finish)
            if edge.name == key and not edge.dart and ((edge.low >= u - 1e-9) if below else (edge.high <= u + 1e-9))
            else edge
            for edge in piece.edges
        ]
        pieces.append(piece.with_edges(edges) if edges != list(piece.edges) else piece)
    return replace(pattern, pieces=tuple(pieces))


def _fits(pattern: Pattern) -> str:
    try:
        _usual(pattern)
    except Stuck as stuck:
        return str(stuck)
    return ""


def _usual_values(pattern: Pattern, chosen: Values) -> dict[str, Any]:
    if chosen.get("edges"):
        return {}
    with suppress(Stuck):
        return {"edges": (_usual(pattern)[1],)}
    return {}


def _refuses(pattern: Pattern, chosen: Values) -> str:
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        try:
            _openable(pattern, piece, key)
        except Stuck as stuck:
            return str(stuck)
    return ""


def _describe(values: Values) -> Sentence:
    height = Length(float(values.get("height", 0.0)))
    if values.get("edges"):
        return say("slit of {height} in the {edge}", height=height, edge=said(values["edges"][0]))
    return say("slit of {height}", height=height)


SLIT = register_step(
    Step(
        "slit", "Open a slit",
        "The lowest part of a seam is left open so that one can stride. The end takes the strain: it is bar-tacked.",
        (Parameter("edges", "In the seam", "edges", (), most=1, why="One side of the seam is enough. None means the centre back, or else a side."),
         Parameter("height", "Height", "length", 180.0, 10.0, 1200.0, hand=Hand("along", "edges", "hem"))),
        slit, _describe,
        suits={"seam": 1, "edge": 3, "corner": 2}, key="S", symbol=((-1 - 5j, -3 + 5j), (-1 - 5j, 3 + 5j)),
        asked_as=("open the seam", "leave it open at the bottom", "room to stride", "vent"),
        usual=_usual_values, fits=_fits, refuses=_refuses,
    )
)  # fmt: skip


# --- a vent ---------------------------------------------------------------------------------------


def vent(pattern: Pattern, context: Context, values: Values) -> Result:
    """A slit whose two sides go on under each other: cloth is let on along both, slanting at its top."""
    wide = float(values["width"])
    done = slit(pattern, context, values).pattern
    marks = (f"{context.id}.1", f"{context.id}.2")
    for piece in done.pieces:
        for edge in piece.edges:
            if edge.finish == "slit" and not edge.marks.isdisjoint(marks):
                done = done.with_piece(_let_on(done.piece(piece.name), edge, wide))
    return Result(done, changes=OF_THE_BODY)


def _let_on(piece: Piece, edge: Edge, wide: float) -> Piece:
    """A piece with cloth let on along an open edge down to the hem. Raises :class:`Stuck`."""
    edges = list(piece.edges)
    at = edges.index(edge)
    down = edges[(at + 1) % len(edges)].finish in HEMS
    hem = (at + 1 if down else at - 1) % len(edges)
    further = offset_path(edge.path, wide)
    part = None
    if further is not None and further.length > wide * 1.5:
        part = further.split_at(wide)[1] if down else further.split_at(further.length - wide)[0]
    if part is None:
        raise Stuck(say("the vent must be higher than it is wide"), "width")
    if down:
        path = Path((Line(edge.path.start, part.start), *part.segments))
        strip = Path((Line(part.end, edge.path.end),))
    else:
        path = Path((*part.segments, Line(part.end, edge.path.end)))
        strip = Path((Line(edge.path.start, part.start),))
    edges[at] = edge.with_path(path)
    edges[hem] = edges[hem].let_in(strip, at_end=not down)
    return sound(piece.with_edges(edges))


def _describe_vent(values: Values) -> Sentence:
    height = Length(float(values.get("height", 0.0)))
    if values.get("edges"):
        return say("vent of {height} in the {edge}", height=height, edge=said(values["edges"][0]))
    return say("vent of {height}", height=height)


VENT = register_step(
    Step(
        "vent", "Vent",
        "The lowest part of a seam opens, and both its sides go on under each other, so that nothing shows when one strides. The top slants and is sewn through all layers.",
        (Parameter("edges", "In the seam", "edges", (), most=1, why="One side of the seam is enough. None means the centre back, or else a side."),
         Parameter("height", "Height", "length", 180.0, 40.0, 1200.0, hand=Hand("along", "edges", "hem")),
         Parameter("width", "Under each other by", "length", 40.0, 10.0, 150.0)),
        vent, _describe_vent,
        suits={"seam": 4, "edge": 8}, symbol=((-1 - 5j, -1 - 1j, 4 + 1j, 4 + 5j, -1 + 5j), (-1 - 1j, -1 + 5j)),
        asked_as=("back vent", "kick pleat", "overlapping slit", "room to stride"),
        usual=_usual_values, fits=_fits, refuses=_refuses,
    )
)  # fmt: skip
