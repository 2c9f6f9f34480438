"""Steps for a body that is rounder or hollower at the centre than the block: a slash across, hinged at the side.

Each cuts from the centre edge across to the side (or armhole), hinges there, and opens or overlaps at the centre. The
length at the centre changes by the amount, the side keeps its own, and no girth changes: what is sewn to the side is
not touched, a band at the waist is fitted again.
"""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.geometry.segments import Point
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import refused_as_stuck
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.spreading import faired, overlap, spread_lines, tilted
from caddet.core.recipe.context import OF_THE_BODY, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

CENTRES = ("centre_back", "centre_front", "crotch", "crotch_front", "crotch_back")
SIDES = ("side", "armhole")
ROOM = 30.0  # mm of a run to either side of the slash
ASIDE = 12.0  # mm beside the level that a slash lies


@dataclass(frozen=True, slots=True)
class Round:
    """One such change: on front or back, at which level (or how far above the waist, in mm), and whether it takes out."""

    kind: str
    label: str
    why: str
    asked_as: tuple[str, ...]
    back: bool
    level: str
    above_waist: float = 0.0
    takes_out: bool = False


ROUNDS = (
    Round("full_seat", "Full seat", "The back is too short over the seat and pulls down at the waist, or the crotch cuts in. It is slashed at the hip from the centre back to the side and opened at the centre.",
          ("flat at the back waist", "trousers pull down at the back", "crotch cuts in behind", "bigger seat"), True, "hip"),
    Round("flat_seat", "Flat seat", "There are folds under the seat: the back is too long there. It is overlapped at the hip, from the centre back to the side.",
          ("folds under the seat", "baggy seat", "smaller seat"), True, "hip", takes_out=True),
    Round("tummy", "Full tummy", "The front pulls up at the centre. It is slashed at the hip from the centre front to the side and opened at the centre.",
          ("front pulls up", "bigger tummy", "waist dips in front"), False, "hip"),
    Round("round_back", "Round back", "The back is too short over a round upper back and the neck pulls backwards. It is slashed across the back from the centre to the armhole and opened at the centre.",
          ("neck pulls back", "hump", "rounded shoulders", "longer upper back"), True, "across_back"),
    Round("sway_back", "Sway back", "There is a fold across the back at the waist: the hollow back is shorter. It is overlapped above the waist, from the centre back to the side.",
          ("fold above the waist at the back", "hollow back", "shorter at the centre back"), True, "", 45.0, takes_out=True),
)  # fmt: skip


def _height(piece: Piece, one: Round) -> float | None:
    """How high above the waist a piece is cut that has no level for it; None when it has not what is needed."""
    waists = piece.runs_of("waist")
    if one.level or not waists:
        return None
    waist = _middle([p for path in piece.walked(waists[0]) for p in (path.start, path.end)])
    top = piece.outline().bounds()[1]
    return waist - one.above_waist if waist - one.above_waist > top + 60.0 else None


def _middle(points: list[Point]) -> float:
    return sum(p.imag for p in points) / len(points)


def _spot(piece: Piece, roles: tuple[str, ...], height: float) -> Spot | None:
    """Where a run of one of some roles is at a height."""
    for key in piece.runs_of(*roles):
        passed = 0.0
        for path in piece.walked(key):
            for along, _ in path.crossings(complex(-1e5, height), complex(1e5, height)):
                return piece.spot_at(key, passed + along)
            passed += path.length
    return None


def _line(piece: Piece, one: Round) -> tuple[Spot, Spot] | None:
    if (piece.covers == "back") is not one.back:
        return None
    level = piece.level(one.level)
    if level is not None:
        ends = [_above(piece, end) for bit in level.bits for end in (bit.a, bit.b) if isinstance(end, Spot)]
        centres, sides = piece.runs_of(*CENTRES), piece.runs_of(*SIDES)
        start = next((end for end in ends if end.edge in centres), None)
        end = next((end for end in ends if end.edge in sides), None)
    else:
        height = _height(piece, one)
        if height is None:
            return None
        start, end = _spot(piece, CENTRES, height), _spot(piece, SIDES, height)
    return None if start is None or end is None else (start, end)


def _above(piece: Piece, spot: Spot) -> Spot:
    """A place a little above one on the same run, or below where it ends there: a level on the slash is not measured."""
    along, length = piece.along(spot), piece.run_length(spot.edge)
    places = [piece.spot_at(spot.edge, at) for at in (along - ASIDE, along + ASIDE) if ROOM < at < length - ROOM]
    return min(places, key=lambda one: piece.where(one).imag) if places else spot


def _fitting(pattern: Pattern, one: Round) -> list[tuple[Piece, tuple[Spot, Spot]]]:
    return [(piece, line) for piece in pattern.pieces if (line := _line(piece, one)) is not None]


def _apply(one: Round, pattern: Pattern, values: Values) -> Result:
    found = _fitting(pattern, one)
    if not found:
        raise Stuck(_none(one), "by")
    by = float(values["by"])
    for piece, line in found:
        if piece.run(line[0].edge)[0].finish == "fold":
            raise Stuck(
                say(
                    "the centre of the {piece} lies on the fold and would no longer be straight: give it a seam there first, or shape the waist",
                    piece=piece.label.lower(),
                ),
                "by",
            )
        with refused_as_stuck("by"):
            pattern = pattern.with_piece(_changed(pattern, piece, line, by, one.takes_out))
    return Result(pattern, changes=OF_THE_BODY)


def _changed(pattern: Pattern, piece: Piece, line: tuple[Spot, Spot], by: float, takes_out: bool) -> Piece:
    """The piece with its centre longer or shorter by ``by`` mm once it is drawn fair: so much is the slash opened."""
    key, opened = line[0].edge, by
    done = piece
    for _ in range(6):
        done = faired(_slashed(pattern, piece, line, opened, takes_out), [key, line[1].edge])
        off = by - abs(done.run_length(key) - piece.run_length(key))
        if abs(off) < 0.01:
            break
        opened += off
    return done


def _slashed(pattern: Pattern, piece: Piece, line: tuple[Spot, Spot], by: float, takes_out: bool) -> Piece:
    """The piece opened or overlapped along a line; where darts lie across it, the part with their mouths is turned."""
    try:
        return (overlap if takes_out else spread_lines)(pattern, piece, [line], by, 0.0).piece(piece.name)
    except Refused:
        if not piece.darts:
            raise
    return tilted(piece, *line, by if takes_out else -by)


def _none(one: Round) -> Sentence:
    where = say("back") if one.back else say("front")
    return say("no {where} here runs from a centre to a side at that height", where=where)


def _describing(one: Round, values: Values) -> Sentence:
    words = "{what}: centre shorter by {by}" if one.takes_out else "{what}: centre longer by {by}"
    return say(words, what=one.label.lower(), by=Length(float(values.get("by", 0.0))))


def _register(one: Round) -> None:
    register_step(
        Step(
            one.kind,
            one.label,
            one.why,
            (
                Parameter(
                    "by", "By, at the centre", "length", 15.0, 1.0, 80.0, why="At the side nothing: it is the hinge."
                ),
            ),
            lambda pattern, context, values: _apply(one, pattern, values),
            lambda values: _describing(one, values),
            suits={"piece": 16},
            symbol=((-5 - 5j, 5 - 5j), (-5 + 1j, 5 + 0j), (-5 + 3j, 5 + 0j), (-5 + 5j, 5 + 5j)),
            asked_as=one.asked_as,
            fits=lambda pattern: "" if _fitting(pattern, one) else _none(one),
        )
    )


for _one in ROUNDS:
    _register(_one)
