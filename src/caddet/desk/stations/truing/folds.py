"""Darts closed and hems turned up on the table, as paper would be."""

from __future__ import annotations

import cmath

from PyQt6.QtWidgets import QGraphicsItem

from caddet.core.geometry.offset import left_of
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.piece import Piece
from caddet.core.truing.checks import clockwise
from caddet.desk.stations.truing.walk_items import LineItem


def dart_turn(piece: Piece, dart: str, share: float) -> Motion:
    """How what lies behind a dart comes round its point as it closes by a share."""
    _, a, apex, b = piece.legs(dart)
    return Motion.rotation(cmath.phase((a - apex) / (b - apex)) * share, apex)


def mouth_closed(piece: Piece, dart: str) -> Motion:
    """How what lies behind a dart joins what lies before it at its mouth, where curved legs run as they are sewn."""
    first, a, _, b = piece.legs(dart)
    last = first + sum(edge.dart == dart for edge in piece.edges) - 1
    turn = piece.edges[first].path.start_direction / -piece.edges[last].path.end_direction
    turn /= abs(turn)
    return Motion(turn, a - turn * b)


def dart_closed(piece: Piece, dart: str, motion: Motion, whole: bool = True) -> list[QGraphicsItem]:
    """A piece with a dart closed by a motion: the wedge folds away, and what lies behind it comes round."""
    first, a, apex, b = piece.legs(dart)
    legs = sum(edge.dart == dart for edge in piece.edges)
    after = piece.edges[(first + legs) % len(piece.edges)]
    wedge = Path.polyline([a, apex, motion(b)])
    return [
        LineItem([piece.outline()], "grid_five", 1.4, fill="paper"),
        LineItem([wedge], "iron", 1.4, fill="weld_tint"),
        LineItem([piece.edges[first - 1].path], "woad", 3.0),
        LineItem([after.path.moved(motion)], "woad", 3.0, dashed=not whole),
        LineItem([Path.polyline([apex, motion(b)])], "ink", 1.4, dashed=True),
    ]


def pleat_folded(piece: Piece, name: str, share: float) -> list[QGraphicsItem]:
    """A piece with a pleat folded by a share: its second line comes onto its first, the edge behind it along."""
    feature = piece.feature(name)
    first, second = piece.drawn(feature)[:2] if feature is not None else (piece.outline(), piece.outline())
    way = (first.start - second.start) * share
    over = Motion(shift=way)
    run = next((e for e in piece.edges if e.path.nearest(second.start)[0] < 0.5 and not e.dart), piece.edges[0])
    along = run.path.nearest(second.start)[1]
    behind = run.path.between(along, run.path.length)
    shaded = Path.polyline([first.start, first.end, over(second.end), over(second.start), first.start])
    return [
        LineItem([piece.outline()], "grid_five", 1.4, fill="paper"),
        LineItem([shaded], "iron", 1.2, fill="weld_tint"),
        LineItem([first, second.moved(over)], "ink", 1.6, dashed=True),
        LineItem([behind.moved(over)] if behind is not None else [], "woad", 3.0, dashed=share < 1),
    ]


def hem_turned(piece: Piece, run: str, deep: float, share: float, ripples: bool) -> list[QGraphicsItem]:
    """A piece with its hem turned up by a share of the way: outside the line before, on the cloth when it is done."""
    side = 1.0 if clockwise(piece) else -1.0
    bands = []
    for edge in piece.run(run):
        path = edge.path
        count = max(int(path.length / 8), 4)
        edge_points: list[Point] = []
        for n in range(count + 1):
            at = path.length * n / count
            out = left_of(unit(path.direction_at(at))) * side
            edge_points.append(path.point_at(at) + out * deep * (1 - 2 * share))
        bands.append(Path.join([path, Path.polyline([path.end, *reversed(edge_points), path.start])]))
    color = "madder" if ripples else "verdigris"
    return [
        LineItem([piece.outline()], "ink", 1.6, fill="paper"),
        LineItem(bands, color, 1.8, fill="madder_tint" if ripples else "verdigris_tint"),
        LineItem([edge.path for edge in piece.run(run)], color, 3.0),
    ]
