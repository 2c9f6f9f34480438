"""The two parts of a piece that is cut across darts, contour darts and pleats.

The line was drawn with the shaping closed (:mod:`.closed`). A dart is shut in the part that has its mouth; in the other
part it opens into the cut. A contour dart opens into the cut in both. A pleat runs on, in both.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from caddet.core.geometry.paths import Path, area, contains
from caddet.core.geometry.segments import Motion, Point, cross, inverse
from caddet.core.pattern.carrying import Part, taken_along
from caddet.core.pattern.closed import SPENT, Crossed, Shaping, from_tip
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Feature
from caddet.core.pattern.ids import stroke_of
from caddet.core.pattern.opened import region_of
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.reshaping import smoothed
from caddet.core.pattern.surgery import leg_stem

STILL = Motion()
FAIR_OVER = 50.0  # mm to either side of a spent dart


@dataclass(frozen=True, slots=True)
class Side:
    """One part of a cut piece in the making.

    ``whole``: the piece as it lies with this part's darts shut; ``edges``: this part's of its outline, in outline order;
    ``cut``: the edges along the cut, from its start to its end. ``darts`` are new in it, ``gone`` the features that became
    darts; ``back`` brings the part to where what stays of it was.
    """

    whole: Piece
    edges: tuple[Edge, ...]
    cut: tuple[Edge, ...]
    darts: tuple[Dart, ...] = ()
    gone: frozenset[str] = frozenset()
    back: Motion = STILL


def across(piece: Piece, line: Crossed, edges: Sequence[Edge], number: int, step: str) -> Side:
    """One part: the first (0) has the outline from the start of the line to its end, the second (1) the rest."""
    mine = {edge.dart for edge in edges if edge.dart}
    own = [one for one in line.shapings if isinstance(one.what, Dart) and one.what.id in mine]
    motions = [Motion()]
    for one in own:
        motions.append(motions[-1].after(one.shut))
    stretches = _stretches(
        edges if number == 0 else edges[::-1], [one.what.id for one in own if isinstance(one.what, Dart)]
    )
    regions = [
        region_of(stretch if number == 0 else stretch[::-1], *(back if number == 0 else back[::-1]))
        for stretch, back in zip(stretches, _along_line(line, own), strict=True)
    ]
    lies = {id(edge): motion for stretch, motion in zip(stretches, motions, strict=True) for edge in stretch}
    parts = [Part.inside(region, motion) for region, motion in zip(regions, motions, strict=True)]
    features = tuple(f for f in piece.features if any(contains(r, p) for p in _points(piece, f) for r in regions))
    moved = [edge.moved(lies[id(edge)]) if id(edge) in lies else edge for edge in piece.edges]
    legs = [path for one in own for path in (one.near, one.far)]
    whole = taken_along(replace(piece, features=features), moved, parts[1:], slashes=legs) if own else piece
    cut, darts = _cut_edges(line, {id(one) for one in own}, number, step)
    shut = [edge.moved(motion) for stretch, motion in zip(stretches, motions, strict=True) for edge in stretch]
    return Side(
        whole,
        tuple(shut if number == 0 else shut[::-1]),
        tuple(cut),
        tuple(darts),
        frozenset(one.what.name for one in line.shapings if one.kind == "contour_dart"),
        inverse(motions[_staying(piece, stretches, regions)]),
    )


def _stretches(edges: Sequence[Edge], darts: Sequence[str]) -> list[list[Edge]]:
    """The edges in the stretches between some darts, whose legs are left out."""
    found: list[list[Edge]] = [[]]
    for n, edge in enumerate(edges):
        if edge.dart not in darts or not edge.dart:
            found[-1].append(edge)
        elif n == 0 or edges[n - 1].dart != edge.dart:
            found.append([])
    return found


def _along_line(line: Crossed, own: Sequence[Shaping]) -> list[list[Point]]:
    """The points of the line from the end of each stretch between this part's darts back to its start."""
    found: list[list[Point]] = [[]]
    for number, path in enumerate(line.lines):
        if number and any(one is line.shapings[number - 1] for one in own):
            found.append([])
        found[-1] += [path.start, *path.flattened(0.2)]
    return [points[::-1] for points in found]


def _staying(piece: Piece, stretches: Sequence[Sequence[Edge]], regions: Sequence[Sequence[Point]]) -> int:
    """Which stretch stays where it is: the one with the fold, else the one with the grain line, else the largest."""
    for n, stretch in enumerate(stretches):
        if any(edge.finish == "fold" for edge in stretch):
            return n
    middle = (piece.grain.a + piece.grain.b) / 2
    largest = max(range(len(regions)), key=lambda n: abs(area(regions[n])))
    return next((n for n, region in enumerate(regions) if contains(region, middle)), largest)


def _points(piece: Piece, feature: Feature) -> list[Point]:
    """Some points of a feature's lines, where their cloth is there."""
    bits = [bit for bit in feature.bits if piece.holds_spot(bit.a) and piece.holds_spot(bit.b)]
    ends = [(piece.where(bit.a), piece.where(bit.b)) for bit in bits]
    return [a + (b - a) * share for a, b in ends for share in (0.05, 0.3, 0.5, 0.7, 0.95)]


def _cut_edges(line: Crossed, own: set[int], number: int, step: str) -> tuple[list[Edge], list[Dart]]:
    """The cut edge of a part with the darts that open into it, from the start of the cut to its end."""
    marks = frozenset({f"{step}.{number + 1}", f"{step}{'ab'[number]}"})
    whole, passed, motion = line.length, 0.0, Motion()
    edges: list[Edge] = []
    darts: list[Dart] = []
    spent: list[tuple[int, float]] = []

    def cut(path: Path) -> None:
        nonlocal passed
        low, passed = passed / whole, passed + path.length
        last = edges[-1] if edges else None
        if last is not None and not last.dart and abs(last.path.end - path.start) < 1e-6:
            joined = Path.join([last.path, path.moved(motion)])
            share = last.path.length / joined.length
            pairs = (*((s * share, u) for s, u in last.pairs), (1.0, min(passed / whole, 1.0)))
            edges[-1] = replace(last, path=joined, pairs=pairs)
            return
        pairs = ((0.0, low), (1.0, min(passed / whole, 1.0)))
        edges.append(Edge(f"{step}.cut", path.moved(motion), marks=marks, pairs=pairs))

    for n, path in enumerate(line.lines):
        if n:
            shaping, over = line.shapings[n - 1], line.hidden[n - 1]
            if over is not None:
                cut(over)
            elif shaping.kind == "dart" and id(shaping) not in own and abs(path.start - shaping.near.start) < SPENT:
                cut(Path.polyline([line.lines[n - 1].end, path.start]))
                spent.append((len(edges) - 1, edges[-1].path.length))
            elif id(shaping) in own:
                motion = motion.after(shaping.shut)
            else:
                dart, made = _opening(shaping, line.lines[n - 1].end, path.start, number, step)
                edges += [edge.moved(motion) for edge in made]
                darts += [dart] if isinstance(shaping.what, Feature) else []
        cut(path)
    for n, at in spent:  # where the dart would open the line has a corner; it is sewn to one that runs on
        edges[n] = edges[n].with_path(smoothed(edges[n].path, at, FAIR_OVER))
    return edges, darts


def _opening(shaping: Shaping, p: Point, q: Point, number: int, step: str) -> tuple[Dart, list[Edge]]:
    """A dart that opens into the cut, from its near side to its far side: the dart itself, or half a contour dart."""
    near, far = shaping.near, shaping.far
    if isinstance(shaping.what, Dart):
        dart = shaping.what
    else:
        dart = Dart(shaping.what.name, shaping.what.label, marks=frozenset({f"{step}.{number + 1}"}))
        lies_right = cross(q - p, near.start - p) > 0
        if lies_right == (number == 0):  # the first part is the one to the left of the line
            near, far = near.reversed(), far.reversed()
    inward, outward = from_tip(near, p).reversed(), from_tip(far, q)
    stem, stroke = leg_stem(dart), stroke_of(dart.name)
    names = ("leg_a", "leg_b") if number == 1 else ("leg_b", "leg_a")  # leg a is met first in outline order
    pairs = ((0.0, 0.0), (1.0, 1.0)) if number == 1 else ((0.0, 1.0), (1.0, 0.0))
    return dart, [
        Edge(f"{stem}.{name}{stroke}", path, dart=dart.id, marks=dart.marks, pairs=pairs)
        for name, path in zip(names, (inward, outward), strict=True)
    ]
