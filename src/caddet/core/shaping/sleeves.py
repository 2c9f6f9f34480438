"""A step for an arm fuller than the block's: the sleeve wider at the biceps, its cap, wrist and seams as long as before.

Cut down the middle and across the biceps, hinged at the top of the cap, at the wrist and at both underarms: the middle
is pulled apart, and the cap gets lower. Common practice, no source.
"""

from __future__ import annotations

import math
from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.carrying import Part, taken_along
from caddet.core.pattern.finding import chosen_pieces, refused_as_stuck
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import smoothed
from caddet.core.pattern.surgery import edge_on, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

RUNS = ("cap_front", "cap_back", "underarm_back", "hem", "underarm_front")  # in the order of the outline
TOP, WRIST = 60.0, 90.0  # mm to either side of the hinge over which cap and hem are drawn smooth
NONE = say("no sleeve here has a cap of front and back, two underarm seams and a hem, without darts")


def full_arm(pattern: Pattern, context: Context, values: Values) -> Result:
    """Sleeves wider at the biceps by so much; the finding says by how much they are shorter at the middle."""
    del context
    chosen = chosen_pieces(pattern, values["pieces"]) if values["pieces"] else _sleeves(pattern)
    if not chosen or any(not _is_sleeve(piece) for piece in chosen):
        raise Stuck(NONE, "pieces")
    findings = []
    for piece in chosen:
        with refused_as_stuck("by"):
            wider, less = _wider(piece, float(values["by"]))
        pattern = pattern.with_piece(wider)
        words = say(
            "The {piece} is {less} shorter down its middle now. If it was long enough before, lengthen it below the elbow.",
            piece=piece.label.lower(),
            less=Length(less),
        )
        findings.append(Finding("step.shorter", words, "", "look"))
    return Result(pattern, findings=tuple(findings), changes=OF_THE_BODY)


def _is_sleeve(piece: Piece) -> bool:
    return [edge.role for edge in piece.edges if not edge.dart] == list(RUNS) and not piece.darts


def _sleeves(pattern: Pattern) -> list[Piece]:
    return [piece for piece in pattern.pieces if _is_sleeve(piece)]


def _wider(piece: Piece, by: float) -> tuple[Piece, float]:
    """The sleeve ``by`` mm wider between its underarms, and by how much it is shorter down the middle.

    Each quarter is rigid: the underarms lie as far from the top of the cap, and from the middle of the wrist, as before.
    """
    front, back, seam_back, hem, seam_front = piece.edges
    first, second = hem.path.split_at(hem.path.length / 2)
    assert first is not None and second is not None
    top, wrist, left, right = front.path.end, first.end, front.path.start, back.path.end
    across, wide = unit(right - left), abs(right - left) + by
    foot, high = _triangle(wide, abs(left - top), abs(right - top))
    new_left = top - across * foot + across * 1j * high
    new_right = new_left + across * wide
    foot, low = _triangle(wide, abs(left - wrist), abs(right - wrist))
    new_wrist = new_left + across * foot + across * 1j * low
    above = [_laid(top, left, top, new_left), _laid(top, right, top, new_right)]
    below = [_laid(left, wrist, new_left, new_wrist), _laid(right, wrist, new_right, new_wrist)]
    cap = Path.join([front.path.moved(above[0]), back.path.moved(above[1])])
    cap_front, cap_back = smoothed(cap, front.path.length, TOP).split_at(front.path.length)
    wrist_line = smoothed(Path.join([first.moved(below[1]), second.moved(below[0])]), first.length, WRIST)
    assert cap_front is not None and cap_back is not None
    edges = (
        edge_on(front, cap_front),
        edge_on(back, cap_back),
        seam_back.moved(below[1]),
        edge_on(hem, wrist_line),
        seam_front.moved(below[0]),
    )
    # the quarters that the slashes from cap to wrist and from underarm to underarm make
    middle = left + (right - left) * ((top - left) / (right - left)).real
    corners = ((front.path, top), (back.path, right), (seam_back.path, wrist), (seam_front.path, left))
    quarters = [[*path.flattened(0.2), last, middle, path.start] for path, last in corners]
    motions = (above[0], above[1], below[1], below[0])
    parts = [Part.inside(quarter, motion) for quarter, motion in zip(quarters, motions, strict=True)]
    slashes = [Path.polyline([top, wrist]), Path.polyline([left, right])]
    made = replace(taken_along(piece, edges, parts, slashes=slashes, across="bridged"), grain=piece.grain)
    return sound(made), abs(wrist - top) - abs(new_wrist - top)


def _triangle(wide: float, one: float, other: float) -> tuple[float, float]:
    """How far along the base of a triangle its point stands, and how high, from the lengths of its sides."""
    foot = (wide * wide + one * one - other * other) / (2 * wide)
    high = one * one - foot * foot
    if high < (one / 4) ** 2:
        raise Refused(say("the cap is not high enough for so much"), "by")
    return foot, math.sqrt(high)


def _laid(a: Point, b: Point, to_a: Point, to_b: Point) -> Motion:
    """The rigid movement that lays one line on another of its length."""
    turn = unit(to_b - to_a) / unit(b - a)
    return Motion(turn, to_a - turn * a)


def _describe(values: Values) -> Sentence:
    return say("sleeve wider by {by} at the biceps", by=Length(float(values.get("by", 0.0))))


register_step(Step(
    "full_arm", "Full arm",
    "The sleeve is tight round the upper arm. It is cut down the middle and across the biceps, hinged at the top of the cap, the wrist and both underarms, and pulled apart in the middle. Cap, wrist and underarm seams stay as long; the cap gets lower.",
    (Parameter("pieces", "Sleeve", "pieces", (), optional=True, why="None means every sleeve with a cap."),
     Parameter("by", "Wider at the biceps", "length", 25.0, 3.0, 120.0)),
    full_arm, _describe,
    suits={"piece": 13, "level": 3}, symbol=((0 - 5j, 0 + 5j), (-5 - 1j, 5 - 1j)),
    asked_as=("sleeve tight at the upper arm", "bigger biceps", "wider upper arm", "full bicep"),
    fits=lambda pattern: "" if _sleeves(pattern) else NONE,
    refuses=lambda pattern, chosen: "" if all(_is_sleeve(one) for one in chosen_pieces(pattern, chosen.get("pieces") or ())) else NONE,
))  # fmt: skip
