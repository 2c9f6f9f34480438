"""A step for a bust fuller or smaller than the block's: the front is cut through the bust point and opened or overlapped.

By so much all round at the bust line; at the waist as much again unless its dart takes it up; the armhole, the side (its
dart closed) and every seam with a neighbour keep their lengths. The front gets longer or shorter at the centre, so that
the lower edge stays level. Common practice, no source.
"""

from __future__ import annotations

import math

from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Point
from caddet.core.pattern.bust import Cuts, bust_changed
from caddet.core.pattern.features import Dart, Feature, Spot
from caddet.core.pattern.finding import refused_as_stuck
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import CENTRES
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

ARMHOLES, LOWER = ("armhole", "raglan"), ("waist", "hem")
HINGE = 2 / 3  # of the armhole from the shoulder down: a third up from the underarm
SHARE = 0.42  # of the bust line from the centre, where nothing tells where the bust point lies
LOWER_THAN_LINE = 15.0  # mm below the bust line that the bust point lies at least
NEAR = 45.0  # mm beside the bust point within which a dart of the lower edge is the one under it


def bust(pattern: Pattern, context: Context, values: Values) -> Result:
    """Every front with a bust line changed by its share of what is wanted all round."""
    found = _fronts(pattern)
    if not found:
        raise Stuck(_none(), "by")
    share = float(values["by"]) / sum(piece.worn for piece in found)
    if abs(share) < 0.25:
        raise Stuck(say("that changes nothing"), "by")
    for piece in found:
        with refused_as_stuck("by"):
            changed = bust_changed(piece, _cuts(piece, context), share, bool(values["kept"]), context.id)
        pattern = pattern.with_piece(changed)
    return Result(pattern, changes=OF_THE_BODY)


def _bust_line(piece: Piece) -> Feature | None:
    return piece.level("bust")


def _fronts(pattern: Pattern) -> list[Piece]:
    """The pieces that can be cut so: a bust line from centre to side, an armhole, a waist or hem, not whole."""
    return [piece for piece in pattern.pieces if _named(piece) is not None]


def _named(piece: Piece) -> tuple[str, str, str, str] | None:
    """The keys of armhole, side, lower edge and centre of a front; None when it is none."""
    level = _bust_line(piece)
    if level is None or piece.covers == "back" or len(level.bits) != 1 or piece.symmetry == "whole":
        return None
    ends = [end for end in (level.bits[0].a, level.bits[0].b) if isinstance(end, Spot)]
    armhole, lower, side = (
        next((key for role in roles for key in piece.runs_of(role)), "") for roles in (ARMHOLES, LOWER, ("side",))
    )
    centre = next((end.edge for end in ends if end.edge in piece.runs_of(*CENTRES)), "")
    return (armhole, side, lower, centre) if armhole and side and lower and centre else None


def _cuts(piece: Piece, context: Context) -> Cuts:
    named = _named(piece)
    assert named is not None
    armhole, side, lower, centre = named
    beside = next((dart for dart in piece.darts if _opens_on(piece, dart) == side), None)
    point, below = _point(piece, named, beside, context)
    spot = None if below is not None else _under(piece, lower, point)
    hinge = piece.spot_at(armhole, piece.run_length(armhole) * HINGE)
    return Cuts(point, hinge, side, beside, below, spot, centre)


def _point(
    piece: Piece, named: tuple[str, str, str, str], beside: Dart | None, context: Context
) -> tuple[Point, Dart | None]:
    """The bust point, and the dart of the lower edge under it.

    It lies half the bust span from the centre, or over the dart of the lower edge; as high as the dart in the side
    points, else as far from the neck as it was measured, else a little below the bust line.
    """
    level = _bust_line(piece)
    assert level is not None
    a, b = (piece.where(end) for end in (level.bits[0].a, level.bits[0].b))
    middle, outer = (a, b) if abs(a.real) < abs(b.real) else (b, a)
    wide = outer.real - middle.real
    x = middle.real + min(max(context.measures.get("bust_span", 0.0) / 2 or wide * SHARE, wide * 0.25), wide * 0.7)
    below = _nearest(piece, named[2], x)
    if below is not None:
        x = piece.legs(below.id)[2].real
    if beside is not None:
        _, one, tip, other = piece.legs(beside.id)
        axis = tip - (one + other) / 2
        if abs(axis.real) > 1.0:
            return complex(x, tip.imag + axis.imag / axis.real * (x - tip.real)), below
    shoulder = next(iter(piece.runs_of("neck", "shoulder")), "")
    neck = (
        max((p for path in piece.walked(shoulder) for p in (path.start, path.end)), key=lambda p: -p.imag)
        if shoulder
        else middle
    )
    far = context.measures.get("shoulder_to_bust", 0.0)
    y = neck.imag + math.sqrt(max(far * far - (x - neck.real) ** 2, 0.0)) if far else 0.0
    return complex(x, max(y, middle.imag + LOWER_THAN_LINE)), below


def _under(piece: Piece, lower: str, point: Point) -> Spot:
    """The place on the lower edge straight under the bust point."""
    passed = 0.0
    for path in piece.walked(lower):
        crossed = path.crossings(complex(point.real, -1e5), complex(point.real, 1e5))
        if crossed:
            return piece.spot_at(lower, passed + crossed[0][0])
        passed += path.length
    raise Stuck(say("there is no lower edge under the bust point"), "by")


def _opens_on(piece: Piece, dart: Dart) -> str:
    """The run that a dart opens on."""
    return piece.edges[piece.legs(dart.id)[0] - 1].name


def _nearest(piece: Piece, lower: str, x: float) -> Dart | None:
    """The dart of the lower edge under the bust point."""
    near = [
        (abs(piece.legs(dart.id)[2].real - x), n, dart)
        for n, dart in enumerate(piece.darts)
        if _opens_on(piece, dart) == lower
    ]
    found = min(near, key=lambda one: one[:2], default=None)
    return found[2] if found is not None and found[0] < NEAR else None


def _none() -> Sentence:
    return say(
        "no front here has a bust line from its centre to a side, with an armhole above and a waist or hem below"
    )


def _fits(pattern: Pattern) -> str:
    try:
        return "" if _fronts(pattern) else _none()
    except CaddetError as error:
        return str(error)


def _describe(values: Values) -> Sentence:
    by = float(values.get("by", 0.0))
    return say("bust fuller by {by} all round" if by >= 0 else "bust smaller by {by} all round", by=Length(abs(by)))


register_step(Step(
    "full_bust", "Fuller or smaller bust",
    "The front is cut from its lower edge to the bust point and on to the armhole, from the side and from the centre, and opened so that the dart in the side grows: for folds that point to the bust, or a front that rides up. With a minus it is overlapped. Armhole and side stay as long as they were.",
    (Parameter("by", "By, all round at the bust", "length", 40.0, -80.0, 200.0, why="A minus is for a smaller bust. The hinge is a third up the armhole."),
     Parameter("kept", "Waist stays as it is", "flag", True, why="The waist dart under the bust takes up what is let in. Without such a dart, or if you say no, waist or hem grow as much.")),
    bust, _describe,
    suits={"piece": 12, "level": 2}, symbol=((0 - 5j, -1 + 0j, 0 + 5j), (-1 + 0j, 5 - 1j), (-1 + 0j, 5 + 2j)),
    asked_as=("full bust", "small bust", "bigger cup", "pulls over the bust", "bust too tight", "hollow at the bust"),
    fits=_fits,
))  # fmt: skip
