"""Steps on shoulders: squarer or more sloping on both sides or on one, and their seams further forward."""

from __future__ import annotations

import cmath
import math

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point, smooth, unit
from caddet.core.pattern.assembly import separate, unfold
from caddet.core.pattern.finding import measurable, only_runs, refused_as_stuck
from caddet.core.pattern.ids import on_other_side
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of, carried_along, end_turned, mapped, redrawn, slid
from caddet.core.pattern.surgery import edge_on, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

NONE = say("no armhole here lies between a shoulder and a side")
NO_PAIR = say("no shoulder of a front is sewn to one of a back here")
BLEND = 60.0  # mm of a lengthened armhole over which it is drawn smooth


def _armholes(pattern: Pattern) -> list[tuple[Piece, str]]:
    """Every armhole between a shoulder and a side, with its piece."""
    return [
        (piece, key)
        for piece in pattern.pieces
        for key in piece.runs_of("armhole")
        if _neighbours(piece, key) == {"shoulder", "side"}
    ]


# --- the slope ------------------------------------------------------------------------------------


def slope(pattern: Pattern, context: Context, values: Values) -> Result:
    """The outer end of the shoulders higher or lower, the armholes and the tops of the sides with them."""
    del context
    by = float(values["by"])
    found = _armholes(pattern)
    if not found:
        raise Stuck(NONE, "by")
    for piece, key in found:
        with refused_as_stuck("by"):
            pattern = pattern.with_piece(_sloped(pattern.piece(piece.name), key, by))
    return Result(pattern, changes=OF_THE_BODY)


def _neighbours(piece: Piece, key: str) -> set[str]:
    block = block_of(piece, key)
    return {piece.edges[index].role for index in (block.before, block.behind)}


def _sloped(piece: Piece, key: str, by: float) -> Piece:
    """``by`` mm lower (positive) or higher at the shoulder point; the side begins as much lower or higher."""
    block = block_of(piece, key)
    shoulder = block.before if piece.edges[block.before].role == "shoulder" else block.behind
    edges = list(piece.edges)
    edge = edges[shoulder]
    neck, point = (edge.path.start, edge.path.end) if shoulder == block.before else (edge.path.end, edge.path.start)
    way, length = point - neck, abs(point - neck)
    low = way.imag + by
    if abs(low) > 0.9 * length:
        raise Refused(say("the shoulder is only {length} long", length=Length(length)), "by")
    # turned about the neck point, as long as it was
    factor = complex(math.copysign(math.sqrt(length * length - low * low), way.real), low) / way
    edges[shoulder] = edge.with_path(mapped(edge.path, lambda p: neck + (p - neck) * factor))
    turned = piece.with_edges(edges)
    slides = [by if index != shoulder else 0.0 for index in (block.before, block.behind)]
    done = redrawn(turned, key, slides[0], slides[1], carried_along)
    # what crosses the shoulder seam at its two ends turns with it, so that it still runs on from front to back
    edges, angle = list(done.edges), cmath.phase(factor)
    for index, at_end in (((shoulder - 1) % len(edges), True), ((shoulder + 1) % len(edges), False)):
        edges[index] = edges[index].with_path(end_turned(edges[index].path, angle, at_end=at_end))
    return sound(done.with_edges(edges))


def _describe_slope(values: Values) -> Sentence:
    by = float(values.get("by", 0.0))
    return say("shoulders {by} more sloping" if by >= 0 else "shoulders {by} squarer", by=Length(abs(by)))


register_step(Step(
    "shoulder_slope", "Square or sloping shoulders",
    "The outer end of the shoulder goes down for sloping shoulders, up for square ones, turned about the neck point so that the seam stays as long. The armhole goes with it, and a sleeve that was fitted to it is fitted again.",
    (Parameter("edges", "Shoulder or armhole", "edges", (), optional=True, why="All of them are changed together, so that they still meet."),
     Parameter("by", "Lower at the shoulder point", "length", 10.0, -40.0, 60.0, why="A minus is for square shoulders."),),
    slope, _describe_slope,
    suits={"edge": 3}, symbol=((-5 - 3j, 4 + 0j, 3 + 5j),),
    refuses=only_runs(("shoulder", "armhole"), say("that is no shoulder")),
    asked_as=("square shoulders", "sloping shoulders", "shoulder pads", "folds at the shoulder", "shoulder slope"),
    fits=lambda pattern: "" if _armholes(pattern) else NONE,
))  # fmt: skip

# --- one lower shoulder ---------------------------------------------------------------------------


def one_lower(pattern: Pattern, context: Context, values: Values) -> Result:
    """The shoulder of one side of the wearer lower: fronts and backs become left and right, or whole."""
    del context
    found = _armholes(pattern)
    if not found:
        raise Stuck(NONE, "by")
    with refused_as_stuck("side"):
        for piece, _ in found:
            if piece.fold:
                pattern = unfold(pattern, piece)
            elif piece.pair:
                pattern = separate(pattern, piece)
    right = values["side"] == "right"
    for piece, key in _armholes(pattern):
        if on_other_side(key) is right:
            with refused_as_stuck("by"):
                pattern = pattern.with_piece(_sloped(pattern.piece(piece.name), key, float(values["by"])))
    return Result(measurable(pattern), changes=OF_THE_BODY)


def _describe_one(values: Values) -> Sentence:
    return say(
        "{side} shoulder {by} lower", side=str(values.get("side", "right")), by=Length(float(values.get("by", 0.0)))
    )


register_step(Step(
    "shoulder_one", "One lower shoulder",
    "Many people carry one shoulder lower. Front and back are cut for left and right, and on that side the shoulder goes down, turned about the neck point, and the armhole with it, so that the sleeve still fits.",
    (Parameter("edges", "Shoulder", "edges", (), optional=True, why="Front and back are changed together."),
     Parameter("side", "Lower on the wearer's", "choice", "right", choices=(("left", "Left"), ("right", "Right"))),
     Parameter("by", "Lower at the shoulder point", "length", 10.0, 2.0, 50.0)),
    one_lower, _describe_one,
    suits={"edge": 7}, symbol=((-5 - 2j, -1 - 3j), (1 - 3j, 5 + 1j)),
    refuses=only_runs(("shoulder", "armhole"), say("that is no shoulder")),
    asked_as=("one shoulder lower", "uneven shoulders", "left and right differ", "crooked shoulders"),
    fits=lambda pattern: "" if _armholes(pattern) else NONE,
))  # fmt: skip

# --- further forward ------------------------------------------------------------------------------


def forward(pattern: Pattern, context: Context, values: Values) -> Result:
    """The outer ends of the shoulder seams further to the front: what the front loses the back gains."""
    del context
    by = float(values["by"])
    pairs = _shoulders(pattern)
    if not pairs:
        raise Stuck(NO_PAIR, "by")
    for front, back in pairs:
        with refused_as_stuck("by"):
            piece, key = pattern.piece(front[0].name), front[1]
            shortened, longer = _front_shoulder(piece, key, by)
            pattern = pattern.with_piece(shortened)
            corner = _corner(shortened, key)
            pattern = pattern.with_piece(_back_shoulder(pattern.piece(back[0].name), back[1], by, longer, corner))
    return Result(pattern, changes=OF_THE_BODY)


def _shoulders(pattern: Pattern) -> list[tuple[tuple[Piece, str], tuple[Piece, str]]]:
    """The armholes of fronts and of the backs whose shoulders are sewn to them."""
    found = _armholes(pattern)
    pairs = []
    for front in found:
        if front[0].covers == "back":
            continue
        key = front[0].edges[_shoulder(front[0], front[1])].name
        for seam in pattern.seams:
            names = [{part.ref.key for part in layer} for layer in seam.layers]
            if len(names) == 2 and any(key in layer for layer in names):
                other = names[1] if key in names[0] else names[0]
                pairs += [
                    (front, back)
                    for back in found
                    if back[0].covers == "back" and back[0].edges[_shoulder(*back)].name in other
                ]
    return pairs


def _shoulder(piece: Piece, armhole: str) -> int:
    block = block_of(piece, armhole)
    return block.before if piece.edges[block.before].role == "shoulder" else block.behind


def _ends(piece: Piece, index: int, first: bool) -> tuple[Point, Point]:
    """The neck point and the shoulder point; ``first``: the outline comes to the armhole from the shoulder."""
    path = piece.edges[index].path
    return (path.start, path.end) if first else (path.end, path.start)


def _plain(piece: Piece, index: int) -> None:
    name = piece.edges[index].name
    if sum(edge.name == name for edge in piece.edges) > 1:
        raise Refused(say("a dart lies in the shoulder of the {piece}: move it first", piece=piece.label.lower()), "by")


def _front_shoulder(piece: Piece, key: str, by: float) -> tuple[Piece, float]:
    """The front without a wedge at its shoulder, and by how much its shoulder is longer now."""
    block, index = block_of(piece, key), _shoulder(piece, key)
    _plain(piece, index)
    first = index == block.before
    neck, point = _ends(piece, index, first)
    edges = list(piece.edges)
    at = block.first if first else block.last
    edges[at] = slid(edges[at], by, at_end=not first)
    end = edges[at].path.start if first else edges[at].path.end
    factor = (end - neck) / (point - neck)
    edges[index] = edges[index].with_path(mapped(edges[index].path, lambda p: neck + (p - neck) * factor))
    return sound(piece.with_edges(edges)), abs(end - neck) - abs(point - neck)


def _corner(piece: Piece, key: str) -> float:
    """The angle inside the piece between its shoulder and its armhole, in radians."""
    block, index = block_of(piece, key), _shoulder(piece, key)
    first = index == block.before
    path = piece.edges[block.first if first else block.last].path
    armhole = path.start_direction if first else -path.end_direction
    edge = piece.edges[index].path
    return abs(cmath.phase(armhole / (-edge.end_direction if first else edge.start_direction)))


def _back_shoulder(piece: Piece, key: str, by: float, longer: float, corner: float) -> Piece:
    """The back with the wedge at its shoulder, as much longer there as the front; its armhole runs on from the front's.

    ``corner`` is the front's angle between shoulder and armhole (radians): the two make a straight line.
    """
    block, index = block_of(piece, key), _shoulder(piece, key)
    _plain(piece, index)
    first = index == block.before
    neck, point = _ends(piece, index, first)
    at = block.first if first else block.last
    edges = list(piece.edges)
    path = edges[at].path
    way = -path.start_direction if first else path.end_direction  # the armhole carried on
    radius, apart = abs(point - neck) + longer, abs(point - neck)
    along = (apart * apart + radius * radius - by * by) / (2 * apart)
    aside = math.sqrt(max(radius * radius - along * along, 0.0))
    axis = unit(point - neck)
    tips = [neck + axis * along + axis * 1j * sign * aside for sign in (1, -1)]
    tip = max(tips, key=lambda one: ((one - point) / way).real)
    factor = (tip - neck) / (point - neck)
    shoulder = mapped(edges[index].path, lambda p: neck + (p - neck) * factor)
    edges[index] = edges[index].with_path(shoulder)
    inward = -shoulder.end_direction if first else shoulder.start_direction
    leaves = min((inward * cmath.rect(1.0, sign * (math.pi - corner)) for sign in (1, -1)), key=lambda d: abs(d + way))
    reach = min(BLEND, path.length / 3)
    rest = path.between(reach, path.length) if first else path.between(0.0, path.length - reach)
    assert rest is not None
    if first:
        drawn = Path((smooth(tip, leaves, rest.start, rest.start_direction), *rest.segments))
    else:
        drawn = Path((*rest.segments, smooth(rest.end, rest.end_direction, tip, -leaves)))
    more = Path((Line(tip, point) if first else Line(point, tip),))
    edges[at] = edge_on(edges[at].let_in(more, at_end=not first), drawn)
    return sound(piece.with_edges(edges))


register_step(
    Step(
        "shoulder_forward",
        "Shoulder seam forward",
        "On a body whose shoulders lie forward, the seam runs too far back at its outer end. It is moved to the front there: what the front loses the back gains, the neck end stays, and a sleeve that was fitted is fitted again with its top further forward.",
        (
            Parameter("edges", "Shoulder", "edges", (), optional=True, why="Front and back are changed together."),
            Parameter("by", "Forward at the shoulder point", "length", 10.0, 2.0, 40.0),
        ),
        forward,
        lambda values: say("shoulder seams {by} further forward", by=Length(float(values.get("by", 0.0)))),
        suits={"edge": 6},
        symbol=((-5 - 3j, 4 - 3j, 5 + 0j, -5 - 3j),),
        refuses=only_runs(("shoulder", "armhole"), say("that is no shoulder")),
        asked_as=("forward shoulders", "shoulder seam too far back", "move the shoulder seam", "rolled forward"),
        fits=lambda pattern: "" if _shoulders(pattern) else NO_PAIR,
    )
)
