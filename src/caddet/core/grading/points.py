"""Cardinal points: the corners of a piece by name, between which its lines are graded.

A corner is named after the edges that meet there (``side-hem``), those of a dart after it (``bust_dart.point``). Where
one run goes on smoothly from one edge into the next there is no corner.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.errors import CaddetError, some
from caddet.core.geometry.segments import Point
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import say

SMOOTH = math.radians(3.0)  # up to this turn a run goes on: the limit of a smooth join


@dataclass(frozen=True, slots=True)
class Corner:
    """A cardinal point: its name on the piece, the edge that begins there, and where it lies (mm)."""

    name: str
    edge: int
    at: Point


def corners(piece: Piece) -> tuple[Corner, ...]:
    """The cardinal points of a piece in the order of its outline, each under a name of its own."""
    return tuple(piece.kept("corners", lambda: _corners(piece)))


def _corners(piece: Piece) -> tuple[Corner, ...]:
    found: list[Corner] = []
    seen: dict[str, int] = {}
    for index, edge in enumerate(piece.edges):
        before = piece.edges[index - 1]
        if before.name == edge.name and before.dart == edge.dart and len(piece.edges) > 1:
            turn = abs(cmath.phase(edge.path.start_direction / before.path.end_direction))
            if turn < SMOOTH:
                continue
        name = _name(before.dart, edge.dart, before.own, edge.own)
        seen[name] = seen.get(name, 0) + 1
        found.append(Corner(name if seen[name] == 1 else f"{name}.{seen[name]}", index, edge.path.start))
    return tuple(found)


def _name(dart_before: str, dart: str, before: str, own: str) -> str:
    if dart_before and dart_before == dart:
        return f"{_dart(dart)}.point"
    return f"{_dart(dart_before) if dart_before else before}-{_dart(dart) if dart else own}"


def _dart(text: str) -> str:
    return own_name(reference(text).key)


def corner(pattern: Pattern, piece: str, name: str) -> Corner:
    """A cardinal point by piece and name. Raises :class:`CaddetError` naming those there are."""
    found = pattern.piece(piece)
    for one in corners(found):
        if one.name == name:
            return one
    raise CaddetError(
        say(
            "the {piece} has no point “{name}”; it has {names}",
            piece=found.label.lower(),
            name=name[:60],
            names=some(one.name for one in corners(found)),
        )
    )
