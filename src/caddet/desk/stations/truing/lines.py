"""Pieces laid together as they are sewn where a line crosses, with a straight edge over its hollow."""

from __future__ import annotations

from PyQt6.QtWidgets import QGraphicsItem

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.ids import base_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Seam
from caddet.core.truing.joins import Join, hollow, line_from
from caddet.core.truing.walk import Roll, roll
from caddet.desk.stations.truing.folds import dart_closed, mouth_closed
from caddet.desk.stations.truing.walk_items import LineItem, RolledItem


def laid_together(pattern: Pattern, join: Join) -> tuple[list[QGraphicsItem], Point]:
    """What is shown of a join, and where its line crosses."""
    end = join.ends[0]
    piece, line = pattern.piece(end.piece), line_from(pattern, end)
    at, motions = line.start, [Motion(), Motion()]
    if join.seam:
        seam = pattern.seam(base_name(join.seam))
        best = _at_end(pattern, seam, at)
        first, other = (pattern.layer_fragments(seam.layers[n]) for n in (0, 1))
        items: list[QGraphicsItem] = [
            RolledItem(first, best.part_a.piece, best.place_a, 0.0, "woad"),
            RolledItem(other, best.part_b.piece, best.place_b, 0.0, "verdigris"),
        ]
        at, motions = best.touch, [best.place_a, best.place_b]
    elif piece.fold and join.name.endswith(".fold"):
        fold = next(edge.path for edge in piece.edges if edge.finish == "fold")
        motions[1] = Motion.reflection(fold.start, fold.end)
        path = piece.edges[end.edge].path
        items = [
            LineItem([piece.outline()], "ink", 1.6, fill="paper"),
            LineItem([piece.outline().moved(motions[1])], "iron", 1.2, dashed=True),
            LineItem([path], "woad", 3.4),
            LineItem([path.moved(motions[1])], "woad", 3.4),
        ]
    else:
        motions[1] = mouth_closed(piece, join.name)
        items = dart_closed(piece, join.name, motions[1])
    _, reach = hollow(pattern, join)
    ends = zip(motions, (join.ends[0], join.ends[-1]), strict=True)
    far = [motion(line_from(pattern, one).point_at(reach)) for motion, one in ends]
    return [*items, LineItem([Path.polyline(far)], "madder", 1.6, dashed=True)], at


def _at_end(pattern: Pattern, seam: Seam, near: Point) -> Roll:
    """Both pieces of a seam laid together at the end of it that lies nearest to a place."""
    whole = pattern.length(seam.layers[0])
    pace = pattern.length(seam.layers[1]) / whole if whole else 1.0
    return min((roll(pattern, seam, at, 1, pace=pace) for at in (0.0, whole)), key=lambda one: abs(one.touch - near))
