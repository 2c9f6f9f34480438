"""What can be chosen on the table: a piece, an edge, a corner, a dart, a notch, a level, a seam.

A :class:`Thing` is a reference, never a place in a list: it finds what it means on every later pattern, wherever
that went, and again after undo. Points are in the frame of their piece, in mm.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from caddet.core.errors import CaddetError
from caddet.core.geometry.offset import left_of
from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Line, Point
from caddet.core.pattern.features import Dart, Notch, Spot
from caddet.core.pattern.finding import chosen_edges
from caddet.core.pattern.ids import id_of, own_name, reference, spoken
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import Length, Sentence, say

ThingKind = Literal["piece", "edge", "corner", "dart", "notch", "level", "seam"]
KINDS: dict[ThingKind, str] = {
    "piece": "piece",
    "edge": "edge",
    "corner": "corner",
    "dart": "dart",
    "notch": "notch",
    "level": "level",
    "seam": "seam",
}


@dataclass(frozen=True, slots=True)
class Thing:
    """Something of a pattern by reference. ``at`` says which end of its edge a corner is, and which notch is meant."""

    kind: ThingKind
    ref: str
    at: str = ""


Selection = tuple[Thing, ...]


@dataclass(frozen=True, slots=True)
class Found:
    """Where a thing lies on one piece: its lines, the point to hold it by, and which way is out of the cloth there."""

    piece: str
    lines: tuple[Path, ...]
    at: Point
    out: Point = 1 + 0j


def edge_thing(pattern: Pattern, piece: Piece, key: str) -> Thing:
    """A run of one piece. Where parts of it lie on other pieces too, the marks that its parts here have in common tell it."""
    here = piece.run(key)
    if all(pattern.pieces[p] is piece for p, _ in pattern.edges(reference(key))):
        return Thing("edge", key)
    return Thing("edge", id_of(key, frozenset.intersection(*(edge.marks for edge in here))))


def things(pattern: Pattern) -> Iterator[Thing]:
    """Everything that can be chosen, piece by piece in the order of the outlines, then the seams."""
    for piece in pattern.pieces:
        yield Thing("piece", piece.name)
        for key in piece.runs():
            edge = edge_thing(pattern, piece, key)
            yield edge
            yield from (Thing("corner", edge.ref, end) for end in ("start", "end"))
        yield from (Thing("dart", dart.id) for dart in piece.darts)
        yield from (_notch_thing(piece, notch) for notch in piece.notches)
        yield from (Thing("level", one.name) for one in piece.features if one.kind == "level")
    yield from (Thing("seam", seam.name) for seam in pattern.seams)


def _notch_thing(piece: Piece, notch: Notch) -> Thing:
    """A notch by its name, or where that does not tell it, by its position on the edge."""
    alike = sum(one.edge == notch.edge and one.name == notch.name for one in piece.notches)
    return Thing("notch", notch.edge, notch.name if notch.name and alike == 1 else f"{notch.u:.4f}")


def notch_of(piece: Piece, thing: Thing) -> Notch | None:
    """The notch of a piece that a thing means."""
    return next(
        (one for one in piece.notches if one.edge == thing.ref and thing.at in (one.name, f"{one.u:.4f}")), None
    )


def places_of(pattern: Pattern, thing: Thing) -> tuple[Found, ...]:
    """Where a thing lies now; nothing when it is gone. A level lies on every piece that has one of its name."""
    try:
        return tuple(_found(pattern, thing))
    except CaddetError:
        return ()


def _found(pattern: Pattern, thing: Thing) -> Iterator[Found]:
    match thing.kind:
        case "piece":
            for piece in pattern.pieces_meant(reference(thing.ref)):
                left, top, right, bottom = piece.outline().bounds()
                yield Found(piece.name, (piece.outline(),), complex((left + right) / 2, (top + bottom) / 2))
        case "edge":
            for piece, key in chosen_edges(pattern, (thing.ref,)):
                yield run_found(piece, key, 0.5)
        case "corner":
            for piece, key in chosen_edges(pattern, (thing.ref,)):
                one = run_found(piece, key, 0.0 if thing.at == "start" else 1.0)
                yield Found(piece.name, (), one.at, one.out)
        case "dart":
            for piece in pattern.pieces:
                for dart in piece.darts:
                    if reference(thing.ref).finds(dart.name, dart.marks):
                        _, a, apex, b = piece.legs(dart.id)
                        yield Found(
                            piece.name,
                            (Path((Line(a, apex), Line(apex, b))),),
                            (a + b) / 2,
                            left_of(b - a) / max(abs(b - a), 1e-9),
                        )
        case "notch":
            for piece in pattern.pieces:
                notch = notch_of(piece, thing)
                if notch is not None and piece.holds_spot(Spot(notch.edge, notch.u)):
                    index, along = piece.on_edge(Spot(notch.edge, notch.u)) or (0, 0.0)
                    path = piece.edges[index].path
                    at, out = path.point_at(along), left_of(path.direction_at(along))
                    yield Found(piece.name, (Path((Line(at - out * 5, at + out * 5),)),), at, out)
        case "level":
            for piece in pattern.pieces:
                for feature in piece.features:
                    if feature.kind == "level" and feature.name == thing.ref and (lines := piece.drawn(feature)):
                        yield Found(piece.name, tuple(lines), lines[-1].end, 1j)
        case "seam":
            seam = pattern.seam(thing.ref)
            runs = [
                (f.piece, f.edge.name) for layer in seam.layers for f in pattern.what_is_left(layer) if not f.imagined
            ]
            for name, key in dict.fromkeys((piece.name, key) for piece, key in runs):
                yield run_found(pattern.piece(name), key, 0.36)


def run_found(piece: Piece, key: str, share: float) -> Found:
    """A run of a piece, held at a share of its length. Raises :class:`CaddetError` when it has none of that key."""
    edges = piece.run(key)
    at, direction, index = piece.run_point(key, piece.run_length(key) * share)
    out = left_of(direction) if not piece.edges[index].backwards else -left_of(direction)
    return Found(piece.name, tuple(edge.path for edge in edges), at, out)


def thing_at(pattern: Pattern, name: str, point: Point, reach: float) -> Thing | None:
    """What lies under the pointer on a piece: a corner before a notch, a dart, an edge, a level, the piece itself."""
    piece = pattern.piece(name)
    edges = [edge_thing(pattern, piece, key) for key in piece.runs()]
    corners = [Thing("corner", edge.ref, end) for edge in edges for end in ("start", "end")]
    notches = [_notch_thing(piece, notch) for notch in piece.notches]
    for candidates, near in ((corners, reach * 0.8), (notches, reach * 0.7)):
        nearest = _nearest(pattern, candidates, name, point, near)
        if nearest is not None:
            return nearest
    for dart in piece.darts:
        if _in_dart(piece, dart, point, reach):
            return Thing("dart", dart.id)
    levels = [Thing("level", one.name) for one in piece.features if one.kind == "level"]
    along = _nearest_line(pattern, edges, name, point, reach) or _nearest_line(
        pattern, levels, name, point, reach * 0.6
    )
    if along is not None:
        return along
    return Thing("piece", piece.name) if contains(piece.polygon(1.0), point) else None


def _nearest(pattern: Pattern, candidates: list[Thing], piece: str, point: Point, reach: float) -> Thing | None:
    there = [
        (abs(one.at - point), n)
        for n, thing in enumerate(candidates)
        for one in places_of(pattern, thing)
        if one.piece == piece
    ]
    best = min(there, default=(reach + 1, 0))
    return candidates[best[1]] if best[0] <= reach else None


def _nearest_line(pattern: Pattern, candidates: list[Thing], piece: str, point: Point, reach: float) -> Thing | None:
    there = [
        (line.nearest(point)[0], n)
        for n, thing in enumerate(candidates)
        for one in places_of(pattern, thing)
        if one.piece == piece
        for line in one.lines
    ]
    best = min(there, default=(reach + 1, 0))
    return candidates[best[1]] if best[0] <= reach else None


def _in_dart(piece: Piece, dart: Dart, point: Point, reach: float) -> bool:
    _, a, apex, b = piece.legs(dart.id)
    legs = Path((Line(a, apex), Line(apex, b)))
    return contains([a, apex, b], point) or legs.nearest(point)[0] <= reach * 0.8


def said_thing(pattern: Pattern, thing: Thing) -> Sentence:
    """What a maker calls it, with its size: ``front side, 55.5 cm``."""
    places = places_of(pattern, thing)
    if not places:
        return say("{thing}, which is not there now", thing=own_name(reference(thing.ref).name).replace("_", " "))
    piece = pattern.piece(places[0].piece)
    words = own_name(reference(thing.ref).name).replace("_", " ")
    on = piece.label.lower()
    match thing.kind:
        case "piece":
            return say("{piece}", piece=piece.label)
        case "edge":
            whole = sum(line.length for one in places for line in one.lines)
            return say("{edge}, {long}", edge=spoken(on, words), long=Length(whole))
        case "corner":
            return say("corner of the {edge} on the {piece}, {end}", edge=words, piece=on, end=_end_words(piece, thing))
        case "dart":
            dart = next(d for d in piece.darts if reference(thing.ref).finds(d.name, d.marks))
            _, a, _, b = piece.legs(dart.id)
            return say("{dart} on the {piece}, {wide} wide", dart=dart.label, piece=on, wide=Length(abs(a - b)))
        case "notch":
            return say("notch “{name}” on the {edge}", name=thing.at.replace("_", " "), edge=spoken(on, words))
        case "level":
            wide = sum(line.length for line in places[0].lines)
            return say("{level} level, {wide} on the {piece}", level=words, wide=Length(wide), piece=on)
    return say(
        "{seam}, {long}", seam=pattern.seam(thing.ref).label, long=Length(pattern.length(pattern.seam(thing.ref).a))
    )


def _end_words(piece: Piece, thing: Thing) -> str:
    """Which edge meets a corner's edge there."""
    key = reference(thing.ref).key
    edges = piece.run(key)
    edge = edges[0] if thing.at == "start" else edges[-1]
    index = next(i for i, one in enumerate(piece.edges) if one is edge)
    after = (thing.at == "end") != edge.backwards
    other = piece.edges[(index + 1) % len(piece.edges) if after else index - 1]
    return say("where it meets the {edge}", edge=other.own.replace("_", " "))
