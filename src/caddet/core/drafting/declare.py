"""Short ways to declare what a draft consists of: edges of seams, seams, promises."""

from __future__ import annotations

from caddet.core.errors import CaddetError
from caddet.core.pattern.features import Spot
from caddet.core.pattern.ids import Reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.promises import Across, FromFold, Girth, Measurement, Promise, Run
from caddet.core.pattern.seams import Join, JoinKind, Part, Seam
from caddet.core.sentences import say


def edge(piece: str, run: str, *, backwards: bool = False, mirrored: bool = False) -> Part:
    """A run of a piece as part of a seam; ``mirrored`` means the other half or the other of a pair."""
    return Part(Reference(f"{piece}.{run}", frozenset(), mirrored), backwards)


def sew(
    name: str,
    label: str,
    a: tuple[Part, ...],
    b: tuple[Part, ...],
    kind: JoinKind = "plain",
    amount: float = 0.0,
    *,
    corners: bool = False,
) -> Seam:
    """A seam of two layers; ``amount`` is what the second is longer on purpose (mm, or a ratio)."""
    return Seam(name, label, (a, b), (Join(kind, amount),), corners=corners)


def run(piece: str, name: str, times: float = 1.0, *, worn: bool = False) -> Run:
    """``times`` × the length of a run; ``worn``: both halves of a fold, both of a pair."""
    return Run(Reference(f"{piece}.{name}"), times, worn)


def girth(level: str) -> Girth:
    """The level of that name round the whole garment, as worn."""
    return Girth(level)


def across(piece: str, feature: str, times: float = 1.0) -> Across:
    """The length of one line of a piece."""
    return Across(piece, feature, times)


def from_fold(piece: str, run: str, u: float) -> FromFold:
    """How far the place at share ``u`` of a run lies from the fold, both halves."""
    return FromFold(piece, Spot(f"{piece}.{run}", u))


def at_least(name: str, label: str, of: tuple[Measurement, ...], target: float, why: str = "") -> Promise:
    """The measurements on the finished outline add up to ``target`` mm or more."""
    return Promise(name, label, of, target, why, "least")


def promise(name: str, label: str, of: tuple[Measurement, ...], target: float, why: str = "") -> Promise:
    """An equality that is held against the finished outline: the measurements add up to ``target`` mm."""
    return Promise(name, label, of, target, why)


def promised(pattern: Pattern, name: str) -> float:
    """What a promise of that name comes to on a pattern now, in mm. Raises :class:`CaddetError` without it."""
    found = next((one for one in pattern.promises if one.name == name), None)
    if found is None:
        raise CaddetError(say("nothing is promised as “{name}”", name=name))
    return found.measured(pattern)


def round_the(pattern: Pattern, band: str, name: str, pieces: tuple[str, ...]) -> float:
    """How long a band is along its edge, in mm; where it was taken away, the edge of the pieces, once round."""
    if pattern.has_run(f"{band}.{name}"):
        return pattern.run_length(f"{band}.{name}")
    found = [one for one in pieces if pattern.has_run(f"{one}.{name}")]
    return sum(run(one, name, worn=True).measured(pattern) for one in found)


def opening(pattern: Pattern, piece: str, run: str, notch: str, *, from_end: bool = False) -> float:
    """How much of a seam is left open up to a notch, in mm, from the run's start or its end; 0 without the notch."""
    for one in pattern.parts(piece):
        at = next((n for n in one.notches if n.name == notch and n.edge == f"{piece}.{run}"), None)
        if at is not None:
            along = one.along(Spot(at.edge, at.u))
            return one.run_length(at.edge) - along if from_end else along
    return 0.0
