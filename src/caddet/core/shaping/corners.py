"""A step on a corner: rounded off."""

from __future__ import annotations

import math

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, cross, dot
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import corner_on, said_corner
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.surgery import edge_on, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.joins import joined_as

LEFT = 5.0  # mm of either edge that stay as they are
FLAT = math.radians(8.0)  # a turn that is less is no corner


def round_corner(pattern: Pattern, context: Context, values: Values) -> Result:
    """The corner between two edges rounded by a radius: each edge gets half of the curve."""
    if values["corner"] is None:
        raise Stuck("choose the corner", "corner")
    piece, index = corner_on(pattern, values["corner"], "corner")
    before, behind = piece.edges[index - 1], piece.edges[index]
    if before.dart or behind.dart:
        raise Stuck(say("that is the mouth of a dart"), "corner")
    if "fold" in (before.finish, behind.finish):
        raise Stuck(say("that corner lies on the fold; the edge runs on over it"), "corner")
    a, b = before.path.end_direction, behind.path.start_direction
    turn = math.atan2(cross(a, b), dot(a, b))
    if abs(turn) < FLAT:
        raise Stuck(say("there is no corner: the edges run on"), "corner")
    off = float(values["radius"]) * math.tan(abs(turn) / 2)  # how far from the corner a circle of that radius touches
    room = min(before.path.length, behind.path.length) - LEFT
    if off > room:
        most = max(room / math.tan(abs(turn) / 2), 0.0)
        raise Stuck(say("the edges are too short for that; at most {most}", most=Length(most)), "radius")
    edges = list(piece.edges)
    edges[index - 1], edges[index] = _rounded(before, behind, off, float(values["radius"]), turn)
    made = sound(piece.with_edges(edges))
    shorter = {key: made.run_length(key) - piece.run_length(key) for key in (before.name, behind.name)}
    after, findings = joined_as(pattern.with_piece(made), piece.name, shorter, "loose", f"recipe[{context.id}]")
    return Result(after, findings=findings, changes=OF_THE_BODY)


def _rounded(before: Edge, behind: Edge, off: float, radius: float, turn: float) -> tuple[Edge, Edge]:
    """Two edges that meet in a corner, with a curve from so many mm before it to as many behind; each has half of it.

    Between straight edges it is the circle (``radius`` mm, ``turn`` radians), else the curve that leaves both as it would.
    """
    length = before.path.length
    kept, rest = before.path.split_at(length - off)[0], behind.path.split_at(off)[1]
    assert kept is not None and rest is not None
    reach = 4 / 3 * math.tan(abs(turn) / 4) * radius
    a, b = kept.end, rest.start
    curve = Path((Cubic(a, a + kept.end_direction * reach, b - rest.start_direction * reach, b),))
    one, other = curve.split_at(curve.length / 2)
    assert one is not None and other is not None
    first, last = Path.join([kept, one]), Path.join([other, rest])
    return (
        edge_on(before, first, [((length - off) / length, kept.length / first.length)]),
        edge_on(behind, last, [(off / behind.path.length, other.length / last.length)]),
    )


def _describe(values: Values) -> Sentence:
    where = said_corner(values["corner"]) if values.get("corner") is not None else say("a corner")
    return say("{corner} rounded by {radius}", corner=where, radius=Length(float(values.get("radius", 0.0))))


register_step(Step(
    "round_corner", "Round off a corner",
    "The corner becomes a curve that touches both edges. What is sewn to it is rounded alike: do it on both.",
    (Parameter("corner", "Corner", "corner", None),
     Parameter("radius", "Radius", "length", 30.0, 3.0, 400.0, hand=Hand("out", "corner"), why="A coin, a cup or a plate: what one would draw round.")),
    round_corner, _describe,
    suits={"corner": 1}, symbol=((-5 + 5j, -5 + 0j, -4 - 3j, -3 - 4j, 0 - 5j, 5 - 5j),),
    asked_as=("rounded corner", "curved hem corner", "shirt tail"),
))  # fmt: skip
