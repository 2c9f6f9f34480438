"""Measures finished pieces as a cutter would, from ``pieces --json`` alone: sections, joins, right angles, fairness.

Knows nothing of figures, promises or Caddet's geometry: outlines are polygons (shapely), directions come from the
flattened points. Lengths in mm, angles in degrees.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import shapely

Json = dict[str, Any]
Xy = tuple[float, float]


def halves(piece: Json) -> int:
    """How many of a piece go round the body: fold and pair twice, whole once."""
    return 2 if piece["pair"] or piece["on_fold"] else 1


def polygon(piece: Json) -> shapely.Polygon:
    return shapely.Polygon(piece["outline"])


def level_width(piece: Json, level: Json) -> float:
    """What of the straight line between a level's two places lies in the cloth, darts taken out."""
    a, b = level["points"]
    return _cloth(piece, a, b)


def _cloth(piece: Json, a: Xy, b: Xy) -> float:
    line = shapely.LineString([a, b])
    width = float(line.intersection(polygon(piece).buffer(0.1)).length)
    for feature in piece["features"]:
        if feature["kind"] == "contour_dart":
            corners = [p for drawn in feature["lines"] for p in drawn[:-1]]
            width -= float(line.intersection(shapely.Polygon(corners)).length)
    return width


def level_girth(pieces: list[Json], name: str) -> float | None:
    """The level of that name round the whole garment; None where no piece has it."""
    found = [
        halves(piece) * level_width(piece, level)
        for piece in pieces
        for level in piece["levels"]
        if level["name"].split(".")[-1] == name
    ]
    return sum(found) if found else None


def width_at(piece: Json, y: float) -> float:
    """The cloth of a piece on a plain horizontal line."""
    left, _, right, _ = polygon(piece).bounds
    return _cloth(piece, (left - 9, y), (right + 9, y))


def named(listing: Json, name: str) -> Json:
    return next(piece for piece in listing["pieces"] if piece["name"] == name)


def has(listing: Json, name: str) -> bool:
    return any(piece["name"] == name for piece in listing["pieces"])


def edge(listing: Json, name: str) -> Json:
    """An edge by its full name."""
    return next(one for piece in listing["pieces"] for one in piece["edges"] if one["name"] == name)


def length(points: list[Xy]) -> float:
    return sum(math.dist(p, q) for p, q in pairwise(points))


# Directions -----------------------------------------------------------------------------------------------------------


def start_direction(points: list[Xy]) -> float:
    """The direction in which a flattened curve leaves its first point, in degrees."""
    return _heading(points[0], next(p for p in points[1:] if math.dist(p, points[0]) > 1e-3))


def end_direction(points: list[Xy]) -> float:
    return (start_direction(points[::-1]) + 180) % 360


def _heading(a: Xy, b: Xy) -> float:
    return math.degrees(math.atan2(b[1] - a[1], b[0] - a[0]))


def _turned(a: float, b: float) -> float:
    """From one direction to another, -180 to 180."""
    return (b - a + 180) % 360 - 180


@dataclass(frozen=True)
class Side:
    """A run of a piece with its neighbours in the outline, dart legs passed over."""

    piece: Json
    parts: list[list[Xy]]
    before: Json
    before_part: list[Xy]
    after: Json
    after_part: list[Xy]

    @property
    def corner_start(self) -> float:
        """The angle inside the cloth where the run begins."""
        return 180 - _turned(end_direction(self.before_part), start_direction(self.parts[0]))

    @property
    def corner_end(self) -> float:
        return 180 - _turned(end_direction(self.parts[-1]), start_direction(self.after_part))


def around(piece: Json) -> list[tuple[Json, list[Xy]]]:
    """The parts of the edges in the order of the outline, dart legs left out."""
    ring = shapely.LineString([*piece["outline"], piece["outline"][0]])
    found: list[tuple[float, Json, list[Xy]]] = []
    for one in piece["edges"]:
        for part in parts(piece, one):
            middle = part[len(part) // 2 - 1], part[len(part) // 2]
            at = ring.project(shapely.Point((middle[0][0] + middle[1][0]) / 2, (middle[0][1] + middle[1][1]) / 2))
            found.append((at, one, part))
    found.sort(key=lambda item: item[0])
    return [(one, part) for _, one, part in found]


def parts(piece: Json, one: Json) -> list[list[Xy]]:
    """The points of an edge, apart where a dart opens into it."""
    mouths = [dart["legs"] for dart in piece["darts"]]
    found: list[list[Xy]] = [[]]
    for p in one["points"]:
        last = found[-1]
        if last and any(
            math.dist(last[-1], m[i]) < 0.01 and math.dist(p, m[1 - i]) < 0.01 for m in mouths for i in (0, 1)
        ):
            found.append([])
        found[-1].append((p[0], p[1]))
    return [part for part in found if len(part) > 1]


Order = list[tuple[Json, list[Xy]]]


def side(listing: Json, name: str, orders: dict[str, Order] | None = None) -> Side:
    """A run with its neighbours. ``name`` may end in ``'`` for the other half; ``orders`` keep what :func:`around` gave."""
    name = name.rstrip("'")
    orders = {} if orders is None else orders
    for piece in listing["pieces"]:
        if all(one["name"] != name for one in piece["edges"]):
            continue
        if piece["name"] not in orders:
            orders[piece["name"]] = around(piece)
        order = orders[piece["name"]]
        at = [i for i, (one, _) in enumerate(order) if one["name"] == name]
        if not at:
            continue
        n = len(order)
        first = next((i for i in at if (i - 1) % n not in at), at[0])
        run = [(first + k) % n for k in range(len(at))]
        before, after = order[(run[0] - 1) % n], order[(run[-1] + 1) % n]
        return Side(piece, [order[i][1] for i in run], before[0], before[1], after[0], after[1])
    raise KeyError(name)


# Joins ----------------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Joint:
    """Where a seam ends: what crosses it on both sides, and by how much that line breaks there, in degrees."""

    seam: str
    crossing: str
    angle: float


def joints(listing: Json) -> Iterator[Joint]:
    """The crossing lines at both ends of every seam of one run with one run."""
    orders: dict[str, Order] = {}
    for seam in listing["seams"]:
        if len(seam["a"]) != 1 or len(seam["b"]) != 1:
            continue
        a, b = side(listing, seam["a"][0], orders), side(listing, seam["b"][0], orders)
        ends_a = {"start": (a.before, a.corner_start), "end": (a.after, a.corner_end)}
        ends_b = {"start": (b.before, b.corner_start), "end": (b.after, b.corner_end)}
        if seam["a"] == seam["b"]:
            continue  # a piece and the same once more, laid on each other
        own = seam["a"][0].rstrip("'") == seam["b"][0].rstrip("'")
        for end, (crossing, angle) in ends_a.items():
            if angle > RUNS_ON:
                continue
            other = ends_b[end] if own else _partner(crossing, end, ends_b)
            if _own(other[0]) != _own(crossing):
                continue  # different lines meet there: a corner is meant
            yield Joint(seam["name"], f"{crossing['name']} / {other[0]['name']}", abs(angle + other[1] - 180))
    for piece in listing["pieces"]:
        for one in piece["edges"]:
            if one["finish"] != "fold":
                continue
            fold = side(listing, one["name"], orders)
            for crossing, angle in ((fold.before, fold.corner_start), (fold.after, fold.corner_end)):
                yield Joint("fold", crossing["name"], abs(2 * angle - 180))


RUNS_ON = 160  # degrees: there the outline runs on as the next seam, and nothing crosses
ALIKE = {"front_inseam": "inseam", "back_inseam": "inseam", "front_crotch": "crotch", "back_crotch": "crotch",
         "cap_front": "cap", "cap_back": "cap", "raglan_front": "raglan", "raglan_back": "raglan",
         "top_front": "top", "top_back": "top", "centre_front": "centre", "centre_back": "centre"}  # fmt: skip


def _own(one: Json) -> str:
    name = one["name"].split(".")[-1]
    return ALIKE.get(name, name)


def _partner(crossing: Json, end: str, ends: dict[str, tuple[Json, float]]) -> tuple[Json, float]:
    """The end of the other side at which the same kind of line crosses; else the one across (seams run against each other)."""
    same = [value for value in ends.values() if _own(value[0]) == _own(crossing)]
    if len(same) == 1:
        return same[0]
    return ends["end" if end == "start" else "start"]


# Fairness -------------------------------------------------------------------------------------------------------------


def bends(points: list[Xy]) -> list[float]:
    """The turn at each inner point of a flattened curve, in degrees."""
    heads = [_heading(p, q) for p, q in pairwise(points) if math.dist(p, q) > 1e-3]
    return [_turned(p, q) for p, q in pairwise(heads)]


def kink(points: list[Xy]) -> float:
    """The sharpest corner inside a run: a turn that is not that of its neighbours (a flattened curve turns evenly)."""
    turns = bends(points)
    worst = 0.0
    for i, turn in enumerate(turns):
        near = [abs(t) for t in (*turns[max(i - 1, 0) : i], *turns[i + 1 : i + 2])]
        worst = max(worst, abs(turn) - max(near, default=0.0) * 1.5 - 1.2)
    return max(worst, 0.0)


def swings(points: list[Xy], least: float = 2.0) -> int:
    """How often a curve changes the side to which it bends, bends of less than ``least`` degrees in all left out."""
    groups: list[float] = []
    for turn in bends(points):
        if abs(turn) < 1e-3:
            continue
        if groups and (groups[-1] > 0) == (turn > 0):
            groups[-1] += turn
        else:
            groups.append(turn)
    kept = [g for g in groups if abs(g) >= least]
    return sum((p > 0) != (q > 0) for p, q in pairwise(kept))
