"""An independent cutter: tape, square and scissors on the finished pieces, who knows only ``pieces --json`` and the body.

Nothing of Caddet's walking, promises or proof is used: outlines are polygons (shapely), lengths are summed over points.
What is wrong is said in a line: its kind, where, and the figure. Limits without a source are common practice.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import shapely

from tests.outside.cloth import halves, length, parts, polygon

Json = dict[str, Any]
Xy = tuple[float, float]

PLAIN = 2.0  # mm by which two sides of a plain seam may differ over its whole length
RAGGED = 8.0  # degrees by which a line may turn at one point within an edge; a corner that is drawn is sharper
DRAWN = 50.0  # degrees from which a turn within an edge is a corner that was drawn
STEP = 4.0  # mm: a piece of an edge shorter than this between two turns is a ragged end
PART = 0.975  # of an edge: a seam that takes less of it is only on a part of it
LEGS = 1.0  # mm by which the two legs of a dart may differ
LOOSE = 60.0  # mm that a waist which a band or casing holds may be longer than the body


@dataclass(frozen=True)
class Fault:
    """What a cutter would not accept: of which kind, where, how much (mm, degrees, or how many)."""

    kind: str
    where: str
    by: float


def judged(listing: Json, body: Mapping[str, float], stretch: float = 0.0) -> list[Fault]:
    """Everything that a cutter finds wrong with the pieces of a garment for a body (mm by measure)."""
    return [
        *seams_meet(listing),
        *as_often(listing),
        *lines_fair(listing),
        *darts_sewable(listing),
        *pieces_as_cut(listing),
        *girths_as_worn(listing, body, stretch),
    ]


# Edges and how often they are there -----------------------------------------------------------------------------------


def _edges(listing: Json) -> dict[str, tuple[Json, Json]]:
    """Every edge by its name, with its piece."""
    return {one["name"]: (piece, one) for piece in listing["pieces"] for one in piece["edges"]}


def _found(listing: Json, name: str) -> list[tuple[Json, Json, bool]]:
    """The edges that a name in a seam means: with its marks or parts; and whether it is the other half's, only imagined."""
    edges = _edges(listing)
    if name in edges:
        return [(*edges[name], False)]
    here = [(piece, one, False) for key, (piece, one) in edges.items() if _is_part(key, name)]
    if here or not name.endswith("'"):
        return here
    return [(piece, one, True) for piece, one, _ in _found(listing, name.removesuffix("'"))]


def _is_part(key: str, name: str) -> bool:
    """Whether an edge (``front.side[s3.1]``) is a part of what a name means (``front.side``, or with fewer marks)."""
    own, _, marks = key.partition("[")
    wanted, _, asked = name.partition("[")
    if own + ("'" if marks.endswith("'") else "") != wanted + ("'" if asked.endswith("'") else ""):
        return False
    return set(filter(None, asked.rstrip("]'").split(","))) <= set(filter(None, marks.rstrip("]'").split(",")))


def _length(listing: Json, seam: Json, key: str) -> float | None:
    """How long one side of a seam is on the cloth; None when it is not there, or takes only a part of a divided edge."""
    total = 0.0
    for name, (low, high) in zip(seam[key], seam[f"{key}_of"], strict=True):
        found = _found(listing, name)
        on_cloth = sum(length(part) for piece, one, _ in found for part in parts(piece, one))
        part = high - low < PART * on_cloth
        if not found or (len(found) > 1 and part):
            return None
        total += high - low if part else on_cloth
    return total


def _whole(listing: Json, seam: Json, key: str) -> bool:
    """Whether one side of a seam takes all of its edges."""
    total = sum(length(part) for name in seam[key] for p, e, _ in _found(listing, name) for part in parts(p, e))
    return bool(sum(high - low for low, high in seam[f"{key}_of"]) > PART * total)


def _times(piece: Json, one: Json) -> float:
    """How often an edge is there when all is cut."""
    return float(piece["cut"]) * (2 if piece["on_fold"] and one["finish"] != "fold" else 1)


# Checks ---------------------------------------------------------------------------------------------------------------


def seams_meet(listing: Json) -> Iterator[Fault]:
    """Both sides of a seam that is sewn edge to edge are as long as each other (pleats are not folded here)."""
    pleated = {
        key for piece in listing["pieces"] for f in piece["features"] if f["kind"] == "pleat" for key in [piece["name"]]
    }
    for seam in listing["seams"]:
        if seam["kind"] != "plain":
            continue
        sides = [_length(listing, seam, key) for key in ("a", "b")]
        on = {piece["name"] for key in ("a", "b") for name in seam[key] for piece, _, _ in _found(listing, name)}
        if sides[0] is not None and sides[1] is not None and not on & pleated and abs(sides[0] - sides[1]) > PLAIN:
            yield Fault("seam", seam["name"], sides[0] - sides[1])


def as_often(listing: Json) -> Iterator[Fault]:
    """What is sewn together is there equally often when everything is cut; a seam holds for both sides of the body."""
    named = {name for seam in listing["seams"] for key in ("a", "b") for name in seam[key]}
    for seam in listing["seams"]:
        cloth, double = list[float](), False
        for key in ("a", "b"):
            others = [] if seam["one_sided"] else [one for one in map(_other_side, seam[key]) if one not in named]
            names = [*dict.fromkeys(seam[key]), *others]
            found = {(p["name"], e["name"]): (p, e) for name in names for p, e, _ in _found(listing, name)}
            every = sum(_times(*pair) * length(pair[1]["points"]) for pair in found.values())
            alone = seam["one_sided"] or all(_sewn_alike(listing, seam, _other_side(one)) for one in seam[key])
            halved = alone and any(p["pair"] or p["on_fold"] for p, _ in found.values())
            cloth.append(every / 2 if halved else every)
            double = double or any("collar" in p["name"] for p, _ in found.values())  # an upper and an under one
        if (
            not double
            and min(cloth) > 0
            and seam["kind"] == "plain"
            and all(_whole(listing, seam, key) for key in ("a", "b"))
        ):
            ratio = max(cloth) / min(cloth)
            if ratio > 1.5 and abs(ratio - round(ratio)) < 0.05:
                yield Fault("as often", seam["name"], ratio)


def _sewn_alike(listing: Json, seam: Json, name: str) -> bool:
    """Whether another seam sews the counterpart of an edge to what this one sews the edge to: then each is for one side."""
    pieces = _pieces(listing, seam)
    return any(
        other is not seam and name in (*other["a"], *other["b"]) and len(pieces & _pieces(listing, other)) > 1
        for other in listing["seams"]
    )


def _pieces(listing: Json, seam: Json) -> set[str]:
    return {piece["name"] for key in ("a", "b") for name in seam[key] for piece, _, _ in _found(listing, name)}


def _other_side(name: str) -> str:
    return name.removesuffix("'") if name.endswith("'") else f"{name}'"


def lines_fair(listing: Json) -> Iterator[Fault]:
    """No edge turns sharply within itself but at a corner that was drawn; a pocket's bag may."""
    for piece in listing["pieces"]:
        for one in piece["edges"] if "_bag" not in piece["name"] else ():
            for part in parts(piece, one):
                points = [p for n, p in enumerate(part) if n == 0 or math.dist(p, part[n - 1]) > 0.3]
                turns = [abs(_turn(*three)) for three in zip(points, points[1:], points[2:], strict=False)]
                worst = max((turn for n, turn in enumerate(turns) if _kink(turns, n)), default=0.0)
                if worst:
                    yield Fault("ragged", one["name"], worst)


def _kink(turns: list[float], n: int) -> bool:
    """Whether a line turns at a point by much more than just before and behind it, where a curve turns evenly."""
    beside = max([*turns[max(n - 1, 0) : n], *turns[n + 1 : n + 2]], default=0.0)
    slanted = abs(turns[n] - 45.0) < 1.0  # a corner cut off, as at the top of a vent
    return RAGGED < turns[n] < DRAWN and turns[n] > 2.5 * beside and not slanted


def _turn(a: Xy, b: Xy, c: Xy) -> float:
    one, other = (math.atan2(q[1] - p[1], q[0] - p[0]) for p, q in ((a, b), (b, c)))
    return (math.degrees(other - one) + 180) % 360 - 180


def darts_sewable(listing: Json) -> Iterator[Fault]:
    """Both legs of a dart are as long as each other."""
    for piece in listing["pieces"]:
        for dart in piece["darts"]:
            legs = [math.dist(dart["apex"], end) for end in dart["legs"]]
            if abs(legs[0] - legs[1]) > LEGS:
                yield Fault("legs", f"{piece['name']} {dart['name']}", legs[0] - legs[1])


def pieces_as_cut(listing: Json) -> Iterator[Fault]:
    """Each piece is one simple outline with its allowances, holds its net outline, and its grain arrow lies in it."""
    for piece in listing["pieces"]:
        net, cut = polygon(piece), shapely.Polygon(piece["cut_outline"])
        if any(abs(one.area - one.buffer(0).area) > 1.0 for one in (net, cut)):  # two darts may share their point
            yield Fault("as cut", piece["name"], 0.0)
            continue
        net, cut = net.buffer(0), cut.buffer(0)
        out = net.difference(cut.buffer(0.5)).area
        if out > 1.0:
            yield Fault("past the cut", piece["name"], out)
        arrow = shapely.LineString([piece["grain"]["from"], piece["grain"]["to"]])
        if piece["grain"]["kind"] != "any" and not cut.buffer(0.5).covers(arrow):
            yield Fault("grain outside", piece["name"], float(arrow.difference(cut).length))
        if piece["on_fold"]:
            fold = next(one["points"] for one in piece["edges"] if one["finish"] == "fold")
            if not _one_side(piece["outline"], fold[0], fold[-1]):
                yield Fault("over the fold", piece["name"], 0.0)


def _one_side(outline: list[Xy], a: Xy, b: Xy) -> bool:
    """Whether a half lies on one side of its fold: unfolded, it is one piece that nowhere lies over itself."""
    way = (b[0] - a[0], b[1] - a[1])
    size = math.hypot(*way)
    off = [((p[0] - a[0]) * way[1] - (p[1] - a[1]) * way[0]) / size for p in outline]
    return min(off) > -0.5 or max(off) < 0.5


# Girths ---------------------------------------------------------------------------------------------------------------


def held_waist(listing: Json) -> float | None:
    """How long the waist is as it is held by bands or casings that are sewn to it, all round; None where none is.

    A casing on part of a waist holds only that; and a band is not held by the facing grown on at its own end.
    """
    total = 0.0
    held_edges: set[str] = set()
    for seam in listing["seams"]:
        for key, other in (("a", "b"), ("b", "a")):
            on, held = ([found[n] for name in seam[other] for found in _found(listing, name)] for n in (0, 1))
            holds = [piece for name in seam[key] for piece, _, _ in _found(listing, name)]
            waist = held and holds and all(one["label"] == "waist" for one in held)
            waist = waist and not any(piece in holds for piece in on)
            if waist and all("band" in piece["name"] or "casing" in piece["name"] for piece in holds):
                held_edges |= {one["name"] for one in held}
                found = _length(listing, seam, key) or 0.0
                total += found * (2 if all(halves(piece) == 2 for piece in holds) and len(seam[key]) == 1 else 1)
                break
    loose = [
        edge["name"]
        for piece in listing["pieces"]
        for edge in piece["edges"]
        if edge["label"] == "waist"
        and not edge["name"].startswith(("s", "waistband"))
        and edge["name"] not in held_edges
    ]
    return total if total and not loose else None


def _level(listing: Json, name: str) -> float | None:
    """A level round the garment with darts shut: its lines where they lie in the cloth; None where no piece has it."""
    total, found = 0.0, False
    for piece in listing["pieces"]:
        shape = polygon(piece).buffer(0.1)
        holes = [
            shapely.Polygon([p for line in f["lines"] for p in line[:-1]])
            for f in piece["features"]
            if f["kind"] == "contour_dart"
        ]
        for level in piece["levels"]:
            if level["name"].split(".")[-1] == name:
                found = True
                for line in level["lines"]:
                    drawn = shapely.LineString(line)
                    total += halves(piece) * float(
                        drawn.intersection(shape).length - sum(drawn.intersection(hole).length for hole in holes)
                    )
    return total if found else None


def girths_as_worn(listing: Json, body: Mapping[str, float], stretch: float) -> Iterator[Fault]:
    """What holds the waist is as long as the waist and no longer than a little; levels go round the body."""
    waist = held_waist(listing)
    if waist is not None and body.get("waist"):
        if waist > body["waist"] + LOOSE and stretch == 0:
            yield Fault("waist too wide", "waist", waist - body["waist"])
        if waist < body["waist"] / (1 + stretch) - 5.0:
            yield Fault("waist too small", "waist", waist - body["waist"])
    for level in ("bust", "hip"):
        girth = _level(listing, level)
        if girth is not None and body.get(level) and girth < body[level] / (1 + stretch) - 5.0:
            yield Fault(f"{level} too small", level, girth - body[level])
