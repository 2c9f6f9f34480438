"""Where the handles of a step stand, from the kinds of its parameters; and what a handle that is moved means."""

from __future__ import annotations

import cmath
import math
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.hands.things import Thing, places_of
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, corner_on, place_on
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.parameters import Hand, Parameter
from caddet.core.recipe.registry import Step
from caddet.core.recipe.values import Corner, Place
from caddet.core.shaping.framing import by_piece, frame_point, spot_point
from caddet.core.shaping.hemline import HEMS, hem_corner

RULE = 100.0  # mm, the small rule on which a ratio, count or number runs
ARC = 70.0  # mm, the radius on which an angle's handle turns
ROW = 26.0  # mm from the rule of one amount to the next
MOST = 12  # handles of one parameter


@dataclass(frozen=True, slots=True)
class Handle:
    """Something to take hold of: which value of which parameter it changes, and where it stands on its piece (mm).

    ``guide`` is drawn with it: from where the amount is counted, the rule, or the line.
    """

    parameter: str
    index: int
    piece: str
    at: Point
    guide: tuple[Point, ...] = ()


@dataclass(frozen=True, slots=True)
class Base:
    """From where an amount is counted on one piece, and which way it grows; ``path`` is the edge it runs along, ``wide`` the piece's width under a height (mm)."""

    piece: str
    at: Point
    way: Point
    path: Path | None = None
    wide: float = 0.0


def handles(step: Step, pattern: Pattern, values: Mapping[str, Any]) -> tuple[Handle, ...]:
    """Every handle of a step with these plain values. What can't be found has none."""
    made: list[Handle] = []
    for parameter in step.parameters:
        if parameter.only is not None and values.get(parameter.only[0]) not in parameter.only[1]:
            continue
        with suppress(CaddetError):
            made += _of(step, pattern, values, parameter)[:MOST]
    return tuple(made)


def _of(step: Step, pattern: Pattern, values: Mapping[str, Any], parameter: Parameter) -> list[Handle]:
    value, name = values.get(parameter.name), parameter.name
    if parameter.is_amount:
        amount = float(value or 0.0)
        return [
            Handle(name, n, base.piece, place(base, parameter, amount), guide(base, parameter, amount))
            for n, base in enumerate(bases(step, pattern, values, parameter))
        ]
    match parameter.kind:
        case "place" if isinstance(value, Place):
            piece, spot = place_on(pattern, value, name)
            return [Handle(name, 0, piece.name, piece.where(spot))]
        case "place" if value is None and parameter.hand is not None and values.get(parameter.hand.on):
            # not chosen yet: it is pulled from where the thing it belongs to lies now
            found = places_of(pattern, Thing("dart", values[parameter.hand.on][0]))[:1]
            return [Handle(name, 0, one.piece, one.at) for one in found]
        case "corner" if isinstance(value, Corner):
            piece, index = corner_on(pattern, value, name)
            return [Handle(name, 0, piece.name, piece.edges[index].path.start)]
        case "points":
            points = [frame_point(pattern, point, name) for point in value or ()]
            return [Handle(name, n, piece.name, at) for n, (piece, at) in enumerate(points)]
        case "line" if value:
            return _line(pattern, value, name, 0)
        case "lines":
            found_: list[Handle] = []
            for line in value or ():
                found_ += _line(pattern, line, name, len(found_))
            return found_
    return []


def _line(pattern: Pattern, spots: Any, name: str, first: int) -> list[Handle]:
    found: list[Handle] = []
    for piece, _, points in by_piece(pattern, spots, name):
        begun = first + len(found)
        found += [Handle(name, begun + n, piece.name, at, () if n else tuple(points)) for n, at in enumerate(points)]
    return found


# --- amounts ------------------------------------------------------------------------------------------


def bases(step: Step, pattern: Pattern, values: Mapping[str, Any], parameter: Parameter) -> list[Base]:
    """Where the handles of an amount are counted from. Raises :class:`CaddetError` when what it stands on is gone."""
    hand = parameter.hand
    if hand is None:
        free = [one.name for one in step.parameters if one.is_amount and one.hand is None]
        return [_beside(step, pattern, values, free.index(parameter.name))] if pattern.pieces else []
    on = next((one for one in step.parameters if one.name == hand.on), None)
    chosen = values.get(hand.on) if on is not None else None
    match on.kind if on is not None else "":
        case "edges":
            return [
                base
                for piece, key in chosen_edges(pattern, chosen or ())
                if (base := _on_run(piece, key, hand)) is not None
            ]
        case "place" if chosen is not None:
            piece, at = spot_point(pattern, chosen, hand.on)
            return [Base(piece.name, at, _towards(hand, 1j))]
        case "corner" if chosen is not None:
            piece, index = corner_on(pattern, chosen, hand.on)
            before, behind = piece.edges[index - 1].path, piece.edges[index].path
            return [Base(piece.name, behind.start, unit(behind.start_direction - before.end_direction))]
        case "line" if chosen:
            piece, _, points = by_piece(pattern, chosen, hand.on)[0]
            return [Base(piece.name, (points[0] + points[-1]) / 2, unit(points[-1] - points[0]) * 1j)]
        case "lines" if chosen:
            piece, _, points = by_piece(pattern, chosen[0], hand.on)[0]
            return [Base(piece.name, (points[0] + points[-1]) / 2, unit(points[-1] - points[0]) * 1j)]
        case "dart" | "level" | "seam" if chosen:
            thing = Thing(on.kind if on is not None else "dart", chosen[0])  # type: ignore[arg-type]
            return [Base(one.piece, one.at, _towards(hand, one.out)) for one in places_of(pattern, thing)]
    pieces = chosen_pieces(pattern, chosen) if chosen else list(pattern.pieces)
    return [base for piece in pieces for base in _on_hem(piece, hand)]


def _towards(hand: Hand, out: Point) -> Point:
    return 1j if hand.way == "down" else out


def _on_run(piece: Piece, key: str, hand: Hand) -> Base | None:
    """A run held at its hem, an end or its middle; None when it is to be held at a hem and has none."""
    corner = hem_corner(piece, key) if hand.at == "hem" else None
    if hand.at == "hem":
        if corner is None:
            return None
        path = piece.edges[corner[0]].path
        up = path.reversed() if corner[1] else path  # from the hem on
        out = path.end_direction * -1j if corner[1] else path.start_direction * -1j
        return Base(piece.name, up.start, _towards(hand, out), up if hand.way == "along" else None)
    share = {"start": 0.0, "end": 1.0}.get(hand.at, 0.5)
    at, direction, index = piece.run_point(key, piece.run_length(key) * share)
    out = direction * (1j if piece.edges[index].backwards else -1j)
    path_on = piece.walked(key)[0] if hand.way == "along" else None
    return Base(piece.name, at if path_on is None else path_on.start, _towards(hand, out), path_on)


def _on_hem(piece: Piece, hand: Hand) -> list[Base]:
    """A piece held at its hem's last corner; for a height on it, at the side of its outline."""
    if hand.way == "level":
        left, _, right, _ = piece.outline().bounds()
        return [Base(piece.name, complex(right, 0.0), 1j, wide=right - left)]
    hems = [edge for edge in piece.edges if edge.finish in HEMS]
    held = (
        hems[0] if hems else max(piece.edges, key=lambda edge: edge.path.end.imag)
    )  # without a hem, at its lowest corner
    return [Base(piece.name, held.path.end, _towards(hand, held.path.end_direction * -1j))]


def _beside(step: Step, pattern: Pattern, values: Mapping[str, Any], row: int) -> Base:
    """The small rule of an amount without a hand: beside the first thing the step names, else the first piece."""
    piece, at = pattern.pieces[0], None
    for parameter in step.parameters:
        refs = values.get(parameter.name)
        if parameter.kind in ("dart", "level", "seam") and refs:
            places = places_of(pattern, Thing(parameter.kind, refs[0]))
            if places:
                piece, at = pattern.piece(places[0].piece), places[0].at
        elif parameter.kind == "edges" and refs:
            piece, key = chosen_edges(pattern, refs)[0]
            at = piece.run_point(key, piece.run_length(key) / 2)[0]
        elif parameter.kind == "pieces" and refs:
            piece = chosen_pieces(pattern, refs)[0]
        if at is not None:
            break
    left, top, right, _ = piece.outline().bounds()
    if at is None:
        return Base(piece.name, complex(left, top - 25 - ROW * row), 1 + 0j)
    inwards = 1 if at.real < (left + right) / 2 else -1  # over the piece, not over its neighbour
    return Base(piece.name, at + complex(30 * inwards, -30 - ROW * row), complex(inwards, 0))


def place(base: Base, parameter: Parameter, value: float) -> Point:
    """Where the handle of an amount stands."""
    if parameter.hand is None:
        if parameter.kind == "angle":
            return base.at + ARC * cmath.exp(1j * math.radians(value))
        if parameter.kind == "length":
            return base.at + base.way * value
        return base.at + base.way * RULE * share_of(parameter, value)
    if parameter.hand.way == "level":
        return complex(base.at.real, value)
    if base.path is not None:
        return base.path.point_at(min(max(value, 0.0), base.path.length))
    return base.at + base.way * value


def guide(base: Base, parameter: Parameter, value: float) -> tuple[Point, ...]:
    """What is drawn with the handle of an amount."""
    if parameter.hand is not None and parameter.hand.way == "level":
        return (complex(base.at.real - base.wide, value), complex(base.at.real, value))
    if parameter.hand is None and parameter.kind not in ("length", "angle"):
        return (base.at, base.at + base.way * RULE)
    if base.path is not None:
        part, _ = base.path.split_at(min(max(value, 0.1), base.path.length - 0.1))
        return tuple(part.flattened(1.0)) if part is not None else ()
    return (base.at, place(base, parameter, value))


def share_of(parameter: Parameter, value: float) -> float:
    """Where on its rule a value lies, 0 to 1."""
    return (value - parameter.low) / max(parameter.high - parameter.low, 1e-9)


def amount_at(base: Base, parameter: Parameter, point: Point) -> float:
    """The value of an amount whose handle was moved to a point of its piece, before its limits."""
    if parameter.hand is None:
        if parameter.kind == "angle":
            return math.degrees(cmath.phase(point - base.at))
        along = dot(point - base.at, base.way)
        return along if parameter.kind == "length" else parameter.low + along / RULE * (parameter.high - parameter.low)
    if parameter.hand.way == "level":
        return point.imag
    if base.path is not None:
        return base.path.nearest(point)[1]
    return dot(point - base.at, base.way)
