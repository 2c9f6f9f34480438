"""Notches by rule: single in front, double behind; quarter points of bands and rings; balance marks on long seams; where
gathers begin and end. As shares of their edges they stay in place when the edges change. Common practice, no source.
"""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import CaddetError
from caddet.core.pattern.features import Notch
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Parameter
from caddet.core.recipe.registry import Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.truing.notches import marks, placed

QUARTERS = (0.25, 0.5, 0.75)
THIRDS = (1 / 3, 2 / 3)
CLEAR = 25.0  # mm from a notch that is there, within which no other is wanted
SAME = 1e-5  # between two positions on an edge that are one
ENDS = 12.0  # mm from a seam's end at which gathers begin and end


def by_rule(pattern: Pattern, context: Context, values: Values) -> Result:
    """Every seam given the notches that its kind asks for, where it has none."""
    del context
    wanted = list(values["seam"] or ()) or [seam.name for seam in pattern.seams]
    before, long = pattern, float(values["long"])
    for name in wanted:
        try:
            pattern = _notched(pattern, pattern.seam(name), long)
        except CaddetError:
            continue  # an edge of it is gone: the walk says so
    if pattern.pieces == before.pieces:
        raise Stuck(say("every seam has its notches, or is shorter than asked for"), "long")
    return Result(pattern)


def shares_for(pattern: Pattern, seam: Seam, long: float) -> tuple[float, ...]:
    """At which shares of a seam notches are wanted: quarters where it is stretched or gathered, thirds where it is very
    long, the middle where it is long, none where it is short.
    """
    length = pattern.length(seam.a)
    if length < 60.0:
        return ()
    if seam.kind in ("gathered", "pleated"):
        inset = min(ENDS / length, 0.1)
        return (inset, *QUARTERS, 1 - inset)
    if seam.kind == "stretched":
        return QUARTERS
    if length < long:
        return ()
    return THIRDS if length > 2.5 * long else (0.5,)


def _notched(pattern: Pattern, seam: Seam, long: float) -> Pattern:
    length = pattern.length(seam.a)
    there = [mark.at for mark in marks(pattern, seam.a)]
    for share in shares_for(pattern, seam, long):
        at = share * length
        if any(abs(at - other) < CLEAR for other in there):
            continue
        sewn = [fragment for layer in seam.layers for fragment in pattern.layer_fragments(layer)]
        double = any(f.piece.covers == "back" for f in sewn) and not any(f.piece.covers == "front" for f in sewn)
        for layer in seam.layers:
            piece, spot = placed(pattern, layer, share * pattern.length(layer))
            # of a half that stands for both, one notch is met twice
            if not any(one.edge == spot.edge and abs(one.u - spot.u) < SAME for one in piece.notches):
                notch = Notch(spot.edge, spot.u, double)
                pattern = pattern.with_piece(replace(piece, notches=(*piece.notches, notch)))
    return pattern


def _describe(values: Values) -> Sentence:
    return say("notches by rule, on seams from {long} on", long=Length(float(values.get("long", 300.0))))


register_step(Step(
    "notch_rule", "Notches by rule",
    "Long seams get a balance mark, stretched bands their quarter points, gathers their quarters and where they begin and end; double where only the back is sewn. What is notched already is left alone.",
    (Parameter("seam", "Seam", "seam", (), why="None means every seam."),
     Parameter("long", "Long from", "length", 300.0, 60.0, 3000.0, why="A plain seam shorter than that needs none.")),
    by_rule, _describe,
    suits={"seam": 9}, symbol=((-5 + 2j, 5 + 2j), (-2.5 + 2j, -2.5 - 2j), (0 + 2j, 0 - 2j), (2.5 + 2j, 2.5 - 2j)),
    asked_as=("balance marks", "quarter points", "notch all seams", "where gathers begin"),
    fits=lambda pattern: "" if pattern.seams else say("there is no seam here"),
))  # fmt: skip
