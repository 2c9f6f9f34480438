"""The outline of a piece of one's own: its edges through the points, curves bent over closed darts, marks on it."""

from __future__ import annotations

import cmath
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import Literal

from caddet.core.drafting.draft_piece import DraftDart, DraftNotch, DraftPiece, Drawn, fold_line, level, line
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, cross, inverse, unit
from caddet.core.own_pieces.placing import Placing, Unplaced
from caddet.core.own_pieces.reading import EdgeLine, MarkLine, NotchLine, OwnPiece
from caddet.core.pattern.edges import Edge
from caddet.core.sentences import Length, say

STILL = Motion()
LEGS = 0.05  # mm by which the legs of a dart may differ
ON_EDGE = 0.5  # mm by which a notch may lie beside its edge


def draw(placing: Placing, piece: OwnPiece) -> DraftPiece:
    """The piece as it is drafted on this body. Raises :class:`Unplaced` with the line at fault."""
    lines = [(number, one) for number, one in piece.lines if isinstance(one, EdgeLine)]
    if not lines:
        raise Unplaced(say("{piece} has no edges yet: edge side: A - B", piece=piece.label), piece.line)
    for (_, edge), (number, after) in zip(lines, (*lines[1:], lines[0]), strict=True):
        if edge.points[-1] != after.points[0]:
            raise Unplaced(
                say(
                    "the edge {after} begins at {begins}, and the one before it ends at {ends}: an outline goes round without a gap",
                    after=after.name,
                    begins=after.points[0],
                    ends=edge.points[-1],
                ),
                number,
            )
    edges: list[Edge] = []
    darts: list[DraftDart] = []
    for number, edge in lines:
        made, found = _edge(placing, piece, lines, number, edge)
        if twice := {dart.name for dart in found} & {dart.name for dart in darts}:
            name = twice.pop().removeprefix("dart_").upper()
            raise Unplaced(say("{name} is the point of another dart already; give this one its own", name=name), number)
        edges += made
        darts += found
    if _turns_left(edges):
        edges = [replace(one, path=one.path.reversed()) for one in reversed(edges)]
    drafted = DraftPiece(
        piece.name,
        piece.label,
        tuple(edges),
        tuple(darts),
        cut=piece.count,
        pair=piece.pair,
        cloth=(piece.cloth,),
        grain=_upright(edges),
    )
    return _marked(placing, piece, drafted)


def _turns_left(edges: Sequence[Edge]) -> bool:
    """Whether the outline goes round against the clock on the table."""
    points = [point for edge in edges for point in edge.path.flattened(1.0)]
    return sum(cross(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)) < 0


def _upright(edges: Sequence[Edge]) -> tuple[Point, Point]:
    """A grain line straight down, where the piece is widest from side to side."""
    points = [point for edge in edges for point in edge.path.flattened(1.0)]
    across, down = [p.real for p in points], [p.imag for p in points]
    x, top, tall = min(across) + (max(across) - min(across)) * 0.4, min(down), max(down) - min(down)
    return complex(x, top + tall * 0.25), complex(x, top + tall * 0.85)


# --- edges ----------------------------------------------------------------------------------------


def _edge(
    placing: Placing, piece: OwnPiece, lines: Sequence[tuple[int, EdgeLine]], number: int, edge: EdgeLine
) -> tuple[list[Edge], list[DraftDart]]:
    """The fragments of an edge with the darts in it, in its own direction."""
    for name, link in ((edge.points[0], edge.links[0]), (edge.points[-1], edge.links[-1])):
        if name in dict(edge.held) and link != "~":
            raise Unplaced(say("only a curve can be held at {name}: write ~ there", name=name), number)
    if edge.bow is not None and edge.links != ("~",):
        raise Unplaced(say("bow is for a curve between two points: A ~ B, bow 2"), number)
    at = [placing.point(name, piece.name, number) for name in edge.points]
    # darts closed: what lies behind each is turned round its point until the legs meet
    turns = [Motion()]
    closed, darts = [at[0]], []
    for n, link in enumerate(edge.links):
        motion = turns[-1]
        if link not in "-~":
            apex = placing.point(link, piece.name, number)
            motion = motion.after(_closing(at[n], apex, at[n + 1], link, edge.points[n : n + 2], number))
            darts.append((n, apex, f"dart_{link.lower()}"))
        turns.append(motion)
        closed.append(motion(at[n + 1]))
        if link in "-~" and abs(closed[-1] - closed[-2]) < 1e-6:
            raise Unplaced(
                say(
                    "{a} and {b} lie on each other, so nothing runs between them",
                    a=edge.points[n],
                    b=edge.points[n + 1],
                ),
                number,
            )
    paths = _paths(placing, piece, lines, number, edge, closed, turns[-1])
    made: list[Edge] = []
    run: list[Path] = []
    names = {n: (apex, name) for n, apex, name in darts}
    for n, path in enumerate(paths):
        if path is not None:
            run.append(_between(path.moved(inverse(turns[n])), at[n], at[n + 1]))
            continue
        if run:
            made.append(Edge(edge.name, Path.join(run), edge.finish))
        apex, name = names[n]
        made += [Edge("", Path((Line(at[n], apex),)), dart=name), Edge("", Path((Line(apex, at[n + 1]),)), dart=name)]
        run = []
    if run:
        made.append(Edge(edge.name, Path.join(run), edge.finish))
    if edge.finish == "fold" and (darts or any(len(one.path.segments) > 1 for one in made)):
        raise Unplaced(say("a fold is one straight line"), number)
    return made, [DraftDart(name) for _, _, name in darts]


def _closing(a: Point, apex: Point, b: Point, name: str, ends: Sequence[str], number: int) -> Motion:
    """The turn round a dart's point that lays its second leg on the first."""
    first, second = abs(a - apex), abs(b - apex)
    if min(first, second) < 1e-6 or abs(a - b) < 1e-6:
        raise Unplaced(say("the dart at {name} has no room between its legs", name=name), number)
    if abs(first - second) > LEGS:
        raise Unplaced(
            say(
                "the legs of the dart at {name} are {first} and {second} long; put its point square off their middle, as in K = {one} to {other} at 1/2 square 10cm",
                name=name,
                first=Length(first),
                second=Length(second),
                one=ends[0],
                other=ends[1],
            ),
            number,
        )
    return Motion.rotation(cmath.phase((a - apex) / (b - apex)), apex)


def _between(path: Path, a: Point, b: Point) -> Path:
    """The path with its ends exactly on two points that it comes to within :data:`LEGS`."""
    segments = list(path.segments)
    for at, end in ((0, "start"), (-1, "end")):
        only = segments[at]
        if isinstance(only, Line | Cubic):
            segments[at] = replace(only, start=a) if end == "start" else replace(only, end=b)
    return Path(tuple(segments))


def _paths(
    placing: Placing,
    piece: OwnPiece,
    lines: Sequence[tuple[int, EdgeLine]],
    number: int,
    edge: EdgeLine,
    closed: Sequence[Point],
    last: Motion,
) -> list[Path | None]:
    """What runs along each link with the darts closed, which moves the end by ``last``; None for a dart."""
    paths: list[Path | None] = [None] * len(edge.links)
    held = dict(edge.held)
    n = 0
    while n < len(edge.links):
        link = edge.links[n]
        if link == "-":
            paths[n] = Path((Line(closed[n], closed[n + 1]),))
            n += 1
            continue
        if link != "~":
            n += 1
            continue
        # a bent bar runs on over closed darts between curved parts
        end = n + 1
        while end < len(edge.links) and (
            edge.links[end] == "~"
            or (edge.links[end] not in "-~" and end + 1 < len(edge.links) and edge.links[end + 1] == "~")
        ):
            end += 1
        links = [m for m in range(n, end) if edge.links[m] == "~"]
        points = [closed[n], *(closed[m + 1] for m in links)]
        start = unit(closed[n] - closed[n - 1]) if n and edge.links[n - 1] == "-" else None
        stop = unit(closed[end + 1] - closed[end]) if end < len(edge.links) and edge.links[end] == "-" else None
        if n == 0 and edge.points[0] in held:
            start = _direction(placing, piece, lines, number, edge, 0, points[1] - points[0])
        if end == len(edge.links) and edge.points[-1] in held:
            stop = _direction(placing, piece, lines, number, edge, -1, points[-1] - points[-2], last)
        if edge.bow is not None and len(links) == 1:
            a, b = points
            out = placing.length(edge.bow, piece.name, number)
            curve = smooth_through([a, (a + b) / 2 - unit(b - a) * 1j * out, b], start, stop)
            paths[links[0]] = curve
        else:
            curve = smooth_through(points, start, stop)
            for m, segment in zip(links, curve.segments, strict=True):
                paths[m] = Path((segment,))
        n = end
    return paths


def _direction(
    placing: Placing,
    piece: OwnPiece,
    lines: Sequence[tuple[int, EdgeLine]],
    number: int,
    edge: EdgeLine,
    end: Literal[0, -1],
    along: Point,
    moved: Motion = STILL,
) -> Point:
    """The direction in which a curve leaves its first point or comes to its last, where that end is ``moved`` by darts."""
    way = dict(edge.held)[edge.points[end]]
    if way in ("level", "upright"):
        axis = 1 + 0j if way == "level" else 1j
    else:
        place = next(i for i, (at, _) in enumerate(lines) if at == number)
        beside, other = lines[(place + (1 if end else -1)) % len(lines)]
        if (edge.points[end], "square") in other.held:
            raise Unplaced(
                say(
                    "{one} and {other} are each to be square to the other at {point}",
                    one=edge.name,
                    other=other.name,
                    point=edge.points[end],
                ),
                number,
            )
        made, _ = _edge(placing, piece, lines, beside, other)
        axis = 1j * (made[0].path.start_direction if end else made[-1].path.end_direction)
    axis *= moved.turn
    return axis if (axis.real * along.real + axis.imag * along.imag) >= 0 else -axis


# --- what stands on it ------------------------------------------------------------------------------

_DRAWN: Mapping[str, Callable[[str, str, Point, Point], Drawn]] = {
    "level": level,
    "line": line,
    "fold": fold_line,
}


def _marked(placing: Placing, piece: OwnPiece, drafted: DraftPiece) -> DraftPiece:
    """The piece with its levels, lines, grain and notches."""
    drawn: list[Drawn] = []
    notches: list[DraftNotch] = []
    grain = drafted.grain
    for number, one in piece.lines:
        if isinstance(one, MarkLine):
            a, b = (placing.point(name, piece.name, number) for name in one.points)
            if abs(b - a) < 1.0:
                raise Unplaced(say("the two points of the {kind} lie on each other", kind=one.kind), number)
            if one.kind == "grain":
                grain = a, b
            else:
                drawn.append(_DRAWN[one.kind](one.name, one.name.replace("_", " "), a, b))
        elif isinstance(one, NotchLine):
            notches.append(DraftNotch(one.edge, _along(placing, piece, drafted, one, number), one.double, one.point))
    return replace(drafted, drawn=tuple(drawn), notches=tuple(notches), grain=grain)


def _along(placing: Placing, piece: OwnPiece, drafted: DraftPiece, notch: NotchLine, number: int) -> float:
    """How far along its edge a notch stands, in mm, darts left out."""
    if notch.edge not in drafted.runs():
        raise Unplaced(say("{piece} has no edge “{edge}”", piece=piece.label, edge=notch.edge), number)
    if notch.along is not None:
        found = placing.length(notch.along, piece.name, number)
        if not 0 <= found <= drafted.run_length(notch.edge):
            raise Unplaced(say("the notch would stand beyond the end of the edge"), number)
        return found
    at = placing.point(notch.point, piece.name, number)
    passed, best = 0.0, (ON_EDGE, -1.0)
    for one in drafted.run(notch.edge):
        off, along = one.path.nearest(at)
        best = min(best, (off, passed + along))
        passed += one.path.length
    if best[1] < 0:
        raise Unplaced(say("{point} does not lie on the edge {edge}", point=notch.point, edge=notch.edge), number)
    return best[1]
