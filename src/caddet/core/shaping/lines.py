"""Steps on lines: draw an edge anew through points, cut a piece along a drawn line."""

from __future__ import annotations

from itertools import pairwise

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point, cross, dot
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_edges, place_on, refused_as_stuck, said, said_place
from caddet.core.pattern.laid_together import over_seam
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.surgery import replace_edge, sound
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand as Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Sentence, say
from caddet.core.shaping.framing import by_piece, frame_point
from caddet.core.shaping.hemline import blended

ENDS = (("as_is", "As it was"), ("square", "Square"), ("free", "Free"))
APART = 5.0  # mm between two points of a line at least


# --- an edge through points -----------------------------------------------------------------------------


def redraw(pattern: Pattern, context: Context, values: Values) -> Result:
    """Draw an edge anew as a fair curve through points, its ends held as they were, square to what they meet, or free."""
    del context
    if not values["edge"]:
        raise Stuck(say("say which edge is drawn anew"), "edge")
    piece, key = chosen_edges(pattern, values["edge"], "edge")[0]
    index = _whole(piece, key)
    edge = piece.edges[index]
    points = []
    for one in values["points"]:
        on, at = frame_point(pattern, one, "points")
        if on is not piece:
            raise Stuck(
                say("the points must lie on the {piece}, whose edge is drawn", piece=piece.label.lower()), "points"
            )
        points.append(at)
    walked = edge.walked
    along = sorted(points, key=lambda p: dot(p - walked.start, walked.end - walked.start))
    through = [walked.start, *along, walked.end]
    if any(abs(a - b) < APART for a, b in pairwise(through)):
        raise Stuck(say("two points of the line lie less than {0.5 cm} apart"), "points")
    ways = tuple(_held(piece, index, str(values[name]), at_end=name == "end") for name in ("start", "end"))
    drawn = fair_through(through, *ways)
    path = drawn.reversed() if edge.backwards else drawn
    changed = sound(replace_edge(piece, index, path))
    if _area(changed) * _area(piece) <= 0:
        raise Stuck(say("the line would turn the {piece} inside out", piece=piece.label.lower()), "points")
    after = pattern.with_piece(changed)
    meant = tuple(one.name for one in pattern.promises if one.target != 0)
    return Result(after, changes=(*blended(pattern, after), *meant))


def _area(piece: Piece) -> float:
    """The area inside the outline, in mm²; its sign says which way round it runs."""
    points = piece.polygon(1.0)
    return sum(cross(a, b) for a, b in pairwise([*points, points[0]])) / 2


def _whole(piece: Piece, key: str) -> int:
    """The one edge that a run is. Raises :class:`Stuck` when a dart or a step divides it, or it is the fold."""
    indices = [i for i, edge in enumerate(piece.edges) if edge.name == key]
    if len(indices) != 1:
        raise Stuck(
            say("there is a dart in the {edge}, or it is in parts: it can't be drawn in one line", edge=said(key)),
            "edge",
        )
    if piece.edges[indices[0]].finish == "fold":
        raise Stuck(say("the fold of the {piece} is straight and stays so", piece=piece.label.lower()), "edge")
    return indices[0]


def _held(piece: Piece, index: int, how: str, *, at_end: bool) -> Point | None:
    """The direction, in the maker's sense, in which a new edge begins or ends; None leaves it free."""
    edge = piece.edges[index]
    old = edge.walked.end_direction if at_end else edge.walked.start_direction
    if how == "free":
        return None
    if how == "as_is":
        return old
    after = at_end != edge.backwards  # whether the neighbour there comes after it in the outline
    other: Edge = piece.edges[(index + 1) % len(piece.edges)] if after else piece.edges[index - 1]
    along = other.path.start_direction if after else other.path.end_direction
    square = along * 1j
    return square if dot(square, old) >= 0 else -square


def fair_through(points: list[Point], start: Point | None, end: Point | None) -> Path:
    """The curve of a bar that is bent round pins; two points with free ends are a straight line."""
    if len(points) == 2 and start is None and end is None:
        return Path((Line(points[0], points[1]),))
    return smooth_through(points, start, end)


def _describe_redraw(values: Values) -> Sentence:
    which = said(values["edge"][0]) if values.get("edge") else say("an edge")
    count = len(values.get("points") or ())
    if count < 2:
        return say("{edge} drawn anew through a point" if count else "{edge} drawn anew", edge=which)
    return say("{edge} drawn anew through {count} points", edge=which, count=count)


def _redraw_refuses(pattern: Pattern, chosen: Values) -> str:
    for piece, key in chosen_edges(pattern, chosen.get("edge") or ()):
        try:
            _whole(piece, key)
        except Stuck as stuck:
            return str(stuck)
    return ""


def _any(pattern: Pattern) -> str:
    return "" if pattern.pieces else say("there is nothing here yet to draw on")


REDRAW = register_step(
    Step(
        "redraw", "Draw the edge anew",
        "The edge becomes one fair curve through the points. Its ends stay where they are, and are held as they were, square to the edge they meet, or left free.",
        (Parameter("edge", "Edge", "edges", None, most=1),
         Parameter("points", "Through the points", "points", (), why="In order or not: they are taken along the edge."),
         Parameter("start", "At its start", "choice", "as_is", choices=ENDS), Parameter("end", "At its end", "choice", "as_is", choices=ENDS)),
        redraw, _describe_redraw,
        suits={"edge": 1}, key="D", symbol=((-5 + 3j, -2 - 2j, 2 - 3j, 5 + 1j),),
        asked_as=("redraw the edge", "another neckline", "change the curve", "hollow it out", "scoop", "new line"),
        fits=_any, refuses=_redraw_refuses,
    )
)  # fmt: skip


# --- a cut along a line -----------------------------------------------------------------------------------


def drawn_lines(pattern: Pattern, values: Values) -> list[tuple[Piece, CutLine]]:
    """The lines that ``line`` and ``curve`` mean, each with the piece it crosses: one, or two that meet at a seam.

    Raises :class:`Stuck`.
    """
    spots = values["line"]
    if not spots:
        raise Stuck(say("draw the line along which it is cut"), "line")
    ends: list[Spot] = []
    for spot in (spots[0], spots[-1]):
        if not isinstance(spot, Place):
            raise Stuck(say("the line must begin and end on the piece's edge"), "line")
        ends.append(place_on(pattern, spot, "line")[1])
    parts, curve = by_piece(pattern, spots, "line"), bool(values["curve"])
    if len(parts) == 1:
        if ends[0] == ends[1]:
            raise Stuck(say("the line ends where it begins"), "line")
        return [(parts[0][0], CutLine(ends[0], ends[1], tuple(parts[0][2][1:-1]), curve))]
    (one, _, before), (other, _, behind) = parts
    with refused_as_stuck("line"):
        over = over_seam(pattern, one, before, other, behind, curve=curve)
    first = CutLine(ends[0], over.first_spot, tuple(before[1:]), path=over.first)
    second = CutLine(over.second_spot, ends[1], tuple(behind[:-1]), path=over.second)
    if over.turned:  # run the other way, so that the part left of the line is the same on both pieces as sewn
        second = CutLine(second.end, second.start, second.through[::-1], path=over.second.reversed())
    return [(one, first), (other, second)]


def cut_along(pattern: Pattern, context: Context, values: Values) -> Result:
    """Cut a piece in two along a drawn line, or two pieces along one that runs over their seam; the parts are sewn again."""
    lines = drawn_lines(pattern, values)
    if values["level"]:
        if len(lines) > 1:
            raise Stuck(say("a line over a seam runs as it was drawn"), "level")
        lines = [(piece, _run_level(piece, line)) for piece, line in lines]
    labels = (str(values["first"] or ""), str(values["second"] or ""))
    after = pattern
    for number, (piece, line) in enumerate(lines):
        step, named = part_of(context.id, number, len(lines)), _labels(piece, labels, len(lines))
        after = cut_piece(after, after.piece(piece.name), line, step, named)
    return Result(after)


def part_of(step: str, number: int, count: int) -> str:
    """What one of several cuts of a step is named by: the step's id and its number; a single one by the id alone."""
    return step if count == 1 else f"{step}.{number + 1}"


def _labels(piece: Piece, labels: tuple[str, str], lines: int) -> tuple[str, str]:
    """The names of two parts; where a line runs over two pieces, each with its piece's before it."""
    if lines == 1:
        return labels
    one, other = (f"{piece.label}, {label}" if label else "" for label in labels)
    return one, other


def _run_level(piece: Piece, line: CutLine) -> CutLine:
    """The line run level from where it begins to the edge that lies straight across. Raises :class:`Stuck`."""
    assert isinstance(line.start, Spot)
    here = piece.where(line.start)
    left, _, right, _ = piece.outline().bounds()
    towards = piece.where(line.end).real - here.real if isinstance(line.end, Spot) else 1.0
    hits = [p for _, p in piece.outline().crossings(complex(left - 5, here.imag), complex(right + 5, here.imag))]
    across = [p for p in hits if (p.real - here.real) * towards > APART]
    if not across:
        raise Stuck(say("no edge lies straight across from where the line begins"), "line")
    end = min(across, key=lambda p: abs(p - here))
    key = min(piece.runs(), key=lambda k: piece.nearest_on_run(k, end)[0])
    return CutLine(line.start, piece.spot_at(key, piece.nearest_on_run(key, end)[1]))


def _describe_cut(values: Values) -> Sentence:
    spots = values.get("line") or ()
    if not spots:
        return say("cut along a line to be drawn")
    ends = [said_place(spot) for spot in (spots[0], spots[-1]) if isinstance(spot, Place)]
    return say(
        "cut from {ends}",
        ends=say("{start} to {end}", start=ends[0], end=ends[-1]) if len(ends) == 2 else say("point to point"),
    )


CUT = register_step(
    Step(
        "cut", "Cut along a line",
        "The piece is cut in two and sewn together again along the cut: a yoke, a style line, a panel in another cloth. Each part keeps its edges and their seams.",
        (Parameter("line", "Line", "line", None, why="From edge to edge of one piece, or from one over a seam to the piece that is sewn to it."),
         Parameter("curve", "Drawn as a curve", "flag", False, why="Smooth through its points; without points between its ends it is straight."),
         Parameter("level", "Run level", "flag", False, why="Straight across from where it begins, whatever its other end says: a square yoke."),
         Parameter("first", "Name of the part left of it", "text", ""), Parameter("second", "Name of the other part", "text", "")),
        cut_along, _describe_cut,
        suits={"piece": 2}, key="C", symbol=((-5 - 5j, 5 - 5j, 5 + 5j, -5 + 5j, -5 - 5j), (-6 + 2j, 6 - 1j)),
        asked_as=("split the piece", "yoke", "style line", "cut it apart", "panel", "a seam across"), fits=_any,
    )
)  # fmt: skip
