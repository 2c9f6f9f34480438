"""What a place or line settles on by itself when it comes near: each with the word that says to what."""

from __future__ import annotations

import math
from collections.abc import Iterator

from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.pattern.features import Spot
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import Sentence, say

QUARTERS = ((0.25, "a quarter"), (0.5, "the middle"), (0.75, "three quarters"))
SQUARE = math.radians(4)  # a line that is nearly square becomes square


def along_edge(
    pattern: Pattern, piece: Piece, key: str, at: float, reach: float, about: Point | None = None, clear: float = 0.0
) -> tuple[float, Sentence | None]:
    """A distance along a run (mm), or the nearest place within reach that means something, with the word for it.

    Those are its notches, its quarters, where a level meets it, where a line from ``about`` (a dart's point) stands
    square on it, and as far along as a notch of what it is sewn to.
    """
    whole = piece.run_length(key)
    near = [
        (abs(to - at), to, word)
        for to, word in _places(pattern, piece, key, whole, about)
        if clear <= to <= whole - clear
    ]
    off, to, word = min(near, key=lambda one: one[0], default=(math.inf, at, None))
    return (to, word) if off <= reach else (at, None)


def _places(
    pattern: Pattern, piece: Piece, key: str, whole: float, about: Point | None
) -> Iterator[tuple[float, Sentence]]:
    for notch in piece.notches:
        if notch.edge == key and piece.holds_spot(spot := Spot(notch.edge, notch.u)):
            yield piece.along(spot), say("to the notch")
    for feature in piece.features:
        for bit in feature.bits if feature.kind == "level" else ():
            for end in (bit.a, bit.b):
                if isinstance(end, Spot) and end.edge == key and piece.holds_spot(end):
                    yield (
                        piece.along(end),
                        say("level with the {level}", level=own_name(feature.name).replace("_", " ")),
                    )
    if about is not None:
        off, along = piece.nearest_on_run(key, about)
        foot, direction, _ = piece.run_point(key, along)
        if off > 1 and abs(dot(unit(foot - about), direction)) < 0.02:
            yield along, say("square to the edge")
    for share, word in QUARTERS:
        yield whole * share, say("to {quarter} of the edge", quarter=word)
    number = next(p for p, one in enumerate(pattern.pieces) if one.name == piece.name)
    for index, edge in enumerate(piece.edges):
        for seam, layer in pattern.sewn().get((number, index), []) if edge.name == key else []:
            for parts in (*seam.layers[:layer], *seam.layers[layer + 1 :]):
                for fragment in pattern.what_is_left(parts):
                    for notch in fragment.piece.notches:
                        if (
                            notch.edge == fragment.edge.name
                            and notch.edge != key
                            and fragment.piece.holds_spot(spot := Spot(notch.edge, notch.u))
                        ):
                            yield fragment.piece.along(spot), say("as far as the notch it is sewn to")


def free_point(piece: Piece, point: Point, reach: float) -> tuple[Point, Sentence | None]:
    """A point on a piece, or the nearest within reach that means something: a dart's point, a corner."""
    near: list[tuple[float, Point, Sentence]] = []
    for dart in piece.darts:
        apex = piece.legs(dart.id)[2]
        near.append((abs(apex - point), apex, say("to the dart's point")))
    for edge in piece.edges:
        near.append((abs(edge.path.end - point), edge.path.end, say("to the corner")))
    off, to, word = min(near, key=lambda one: one[0], default=(math.inf, point, None))
    return (to, word) if off <= reach else (point, None)


def straight(start: Point, point: Point, square_to: Point | None) -> tuple[Point, Sentence | None]:
    """The end of a line from ``start``: turned level, plumb, or square to the edge it begins on when it nearly is."""
    way, long = unit(point - start), abs(point - start)
    directions = [(1 + 0j, say("level")), (1j, say("plumb"))]
    if square_to is not None:
        directions.insert(0, (square_to * 1j, say("square to the edge")))
    for direction, word in directions:
        for sign in (1, -1):
            if long > 1 and dot(way, direction * sign) > math.cos(SQUARE):
                return start + direction * sign * long, word
    return point, None


def on_level(piece: Piece, y: float, reach: float) -> tuple[float, Sentence | None]:
    """A height on a piece, or the level within reach."""
    near = []
    for feature in piece.features:
        if feature.kind == "level" and (lines := piece.drawn(feature)):
            at = lines[0].start.imag
            near.append((abs(at - y), at, say("to the {level}", level=own_name(feature.name).replace("_", " "))))
    off, to, word = min(near, key=lambda one: one[0], default=(math.inf, y, None))
    return (to, word) if off <= reach else (y, None)
