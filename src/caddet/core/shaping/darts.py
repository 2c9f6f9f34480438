"""Steps on darts: pivot a dart to another place of the outline."""

from __future__ import annotations

import cmath
from dataclasses import replace
from itertools import pairwise

import shapely

from caddet.core.geometry.paths import Path, contains
from caddet.core.geometry.segments import Motion, Point, cross, dot, unit
from caddet.core.lengths import Unit, format_length
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Edge, Mark, Piece
from caddet.core.pattern.surgery import split_edge
from caddet.core.recipe.registry import Grip, Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Plain

CLEAR = 6.0  # mm a new dart keeps from the end of an edge and from other darts
PARAMETERS = (
    Parameter("piece", "Piece", "piece", "front"),
    Parameter("dart", "Dart", "dart", ""),
    Parameter("to", "To the edge", "run", "side"),
    Parameter("at", "Distance along it", "length", 100.0, 0.0, 5000.0),
    Parameter("share", "Share of the dart", "number", 1.0, 0.05, 1.0, why="1 moves the whole dart; 0.5 half of it."),
)  # fmt: skip


def pivot_dart(pattern: Pattern, values: Values) -> Pattern:
    """Close a dart (or a share of it) and open it elsewhere, turning the cloth between about its apex.

    Keeps the area, and the length of every edge. Raises :class:`Stuck` when the new dart can't be cut.
    """
    name, dart_name = str(values["piece"]), str(values["dart"])
    if not pattern.has(name):
        raise Stuck(f"there is no piece “{name}” any more", "piece")
    piece = pattern.piece(name)
    if dart_name not in [dart.name for dart in piece.darts]:
        raise Stuck(f"the {piece.label.lower()} has no dart “{dart_name}” any more", "dart")
    if str(values["to"]) not in piece.runs():
        raise Stuck(f"the {piece.label.lower()} has no edge “{values['to']}” any more", "to")
    return pattern.with_piece(pivoted(piece, dart_name, str(values["to"]), float(values["at"]), float(values["share"])))


def pivoted(piece: Piece, dart: str, run: str, at: float, share: float = 1.0) -> Piece:
    """The piece with a dart pivoted to a place along a run, in mm. Raises :class:`Stuck`."""
    target, _, index = piece.run_point(run, at)
    if piece.edges[index].role in ("fold", "opening"):
        raise Stuck("a dart can't open into the fold or the zip opening", "to")
    _, leg_a, apex, leg_b = piece.legs(dart)
    _check_slash(piece, dart, apex, target)
    length = sum(edge.path.length for edge in piece.run(run))
    if not CLEAR <= at <= length - CLEAR:
        raise Stuck("a dart needs a little room from the end of the edge", "at")
    along = at - _before(piece, run, index)
    piece, first_after = split_edge(piece, index, along)
    start = piece.legs(dart)[0]
    count = len(piece.edges)
    ring = [piece.edges[(start + i) % count] for i in range(count)]  # leg, leg, then round to the dart again
    cut = (first_after - start) % count
    forward, backward = ring[2:cut], ring[cut:]
    closing = cmath.phase((leg_a - apex) / (leg_b - apex)) * share  # turns the second leg onto the first
    turn_forward = piece.anchor not in [edge.name for edge in forward]
    motion = Motion.rotation(closing if turn_forward else -closing, apex)
    moving = forward if turn_forward else backward
    moved = [edge.with_path(edge.path.moved(motion)) for edge in moving]
    forward, backward = (moved, backward) if turn_forward else (forward, moved)
    new_legs = _legs(dart, apex, forward[-1].path.end, backward[0].path.start)
    left = _free_name(piece, f"{dart}_rest")
    rest = [] if share >= 1 else _legs(left, apex, backward[-1].path.end, forward[0].path.start)
    region = [p for edge in moving for p in edge.path.flattened()] + [apex]
    marks = tuple(_turned(mark, region, apex, (leg_a, leg_b, target), motion) for mark in piece.marks)
    darts = piece.darts
    if rest:
        old = next(d for d in darts if d.name == dart)
        darts = (*darts, replace(old, name=left, label=f"rest of the {old.label}"))
    edges = _from_first((*rest, *forward, *new_legs, *backward), piece.edges)
    return replace(piece, edges=edges, darts=darts, marks=marks)


def _free_name(piece: Piece, name: str) -> str:
    """The name, with a number behind it when a dart has it already."""
    taken = {dart.name for dart in piece.darts}
    return next(n for n in (name, *(f"{name}_{i}" for i in range(2, len(taken) + 3))) if n not in taken)


def _before(piece: Piece, run: str, index: int) -> float:
    """The length of the run's parts before the edge of that index."""
    passed = 0.0
    for edge in piece.run(run):
        if edge is piece.edges[index]:
            return passed
        passed += edge.path.length
    return passed


def _legs(dart: str, apex: Point, a: Point, b: Point) -> list[Edge]:
    return [
        Edge(dart, Path.polyline([a, apex]), "dart", dart),
        Edge(dart, Path.polyline([apex, b]), "dart", dart),
    ]


def _from_first(edges: tuple[Edge, ...], old: tuple[Edge, ...]) -> tuple[Edge, ...]:
    """Begin the round where it began before, so that outlines compare."""
    name = old[0].name
    for index, edge in enumerate(edges):
        before = edges[index - 1]
        if edge.name == name and not edge.dart and before.name != name and not before.dart:
            return edges[index:] + edges[:index]
    return edges


def _check_slash(piece: Piece, dart: str, apex: Point, target: Point) -> None:
    if abs(target - apex) < 2 * CLEAR:
        raise Stuck("the new place is too near the point of the dart", "at")
    shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon()])
    inner = apex + unit(target - apex) * 0.5, target - unit(target - apex) * 0.5
    slash = shapely.LineString([(p.real, p.imag) for p in inner])
    if not shape.buffer(0.01).covers(slash):
        raise Stuck("the line from the point of the dart to the new place leaves the piece", "at")
    for other in piece.darts:
        if other.name != dart:
            _, a, tip, b = piece.legs(other.name)
            wedge = shapely.Polygon([(p.real, p.imag) for p in (a, tip, b)])
            near = wedge.distance(slash) < CLEAR
            if abs(tip - apex) < 1e-6:  # parts of one dart share the point; only their mouths must stay apart
                near = wedge.distance(shapely.Point(target.real, target.imag)) < CLEAR
            if near:
                raise Stuck(f"the new place runs into the {other.label}", "at")


def _turned(mark: Mark, region: list[Point], apex: Point, ends: tuple[Point, ...], motion: Motion) -> Mark:
    """A mark cut where the slash crosses it; the parts inside the turned region turn with it."""
    parts: list[Path] = []
    for part in mark.parts:
        cuts = {0.0, part.length}
        for end in ends:
            for at, point in part.crossings(apex, end):
                if (
                    0 < dot(point - apex, end - apex) < abs(end - apex) ** 2
                    and abs(cross(point - apex, unit(end - apex))) < 1e-3
                ):
                    cuts.add(at)
        marks = sorted(cuts)
        for low, high in pairwise(marks):
            if high - low < 1e-6:
                continue
            bit = part.between(low, high)
            if bit is not None:
                inside = contains(region, bit.point_at(bit.length / 2))
                parts.append(bit.moved(motion) if inside else bit)
    return replace(mark, parts=tuple(parts))


def _describe(values: Values, unit_name: Unit) -> str:
    how = "" if float(values.get("share", 1.0)) >= 1 else f"{float(values['share']):.0%} of the "
    place = format_length(float(values.get("at", 0)), unit_name, with_unit=True)
    edge = str(values.get("to", "")).replace("_", " ")
    return f"{how}{values.get('piece', '')} dart pivoted to the {edge}, {place} along"


def _grips(pattern: Pattern) -> list[Grip]:
    grips = []
    for piece in pattern.pieces:
        for dart in piece.darts:
            _, a, _, b = piece.legs(dart.name)
            grips.append(_grip(piece, dart.name, dart.label, (a + b) / 2))
    return grips


def _grip(piece: Piece, dart: str, label: str, at: Point) -> Grip:
    def place(to: Point) -> dict[str, Plain]:
        best: tuple[float, str, float] = (float("inf"), "", 0.0)
        for run in piece.runs():
            if piece.run(run)[0].role not in ("fold", "opening"):
                off, along = piece.nearest_on_run(run, to)
                room = piece.run_length(run)
                best = min(best, (off, run, min(max(along, CLEAR), max(room - CLEAR, CLEAR))))
        return {"piece": piece.name, "dart": dart, "to": best[1], "at": round(best[2], 1), "share": 1.0}

    def nudge(by: float) -> dict[str, Plain]:
        start = place(at)
        return {**start, "at": max(CLEAR, float(start["at"]) + by)}

    return Grip("pivot_dart", piece.name, at, f"Pivot the {label}", place, nudge)


PIVOT = register_step(
    Step(
        "pivot_dart", "Pivot a dart",
        "A dart takes in cloth towards its point; from which edge it comes is a choice. The piece is cut from the "
        "new place to the point, the old dart is folded shut, and the new one opens by the same angle.",
        PARAMETERS, pivot_dart, _describe, _grips,
    )
)  # fmt: skip

__all__ = ["pivot_dart", "pivoted"]
