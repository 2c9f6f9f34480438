"""The stride in a hem: how far round a skirt is where it is still closed, against twice the stride at that height.

"Hem round = twice the stride, measured at hem height": the legs swing from the hip, so the stride at a height is in
proportion to how far below the hip it lies. Common practice, no source.
"""

from __future__ import annotations

import math
from contextlib import suppress

from caddet.core.errors import CaddetError
from caddet.core.pattern.going_round import around, runs_round
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Girth
from caddet.core.recipe.context import Context
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.values import Number, References
from caddet.core.sentences import Length, say

OWN_FRAME = 100.0  # mm: a piece whose waist lies nearer to the top of its frame hangs from it


def stride(pattern: Pattern, context: Context) -> tuple[float, float, tuple[Remedy, ...]] | None:
    """How far round the hem is where it is closed, what the stride needs there (mm), and what would let it pass.

    None without a hem, or where the body does not tell.
    """
    long, to_floor = context.measures.get("stride"), context.measures.get("waist_to_floor")
    runs = runs_round(pattern, "hem", ("front", "back", "skirt"))
    if not long or not to_floor or not runs or "hip_depth" not in context.sums:
        return None
    depth = context.sums["hip_depth"].value
    hem = around(pattern, "hem", ("front", "back", "skirt"))
    waist = max(_waist_on(piece, context) for piece, _ in runs)
    bottom = max(point.imag for piece, _ in runs for point in piece.polygon()) - waist
    # the highest slit frees the legs down from its top
    slit = max((e.path.length for piece in pattern.pieces for e in piece.edges if e.finish == "slit"), default=0.0)
    hip = hem
    with suppress(CaddetError):
        hip = Girth("hip").measured(pattern)
    closed, below = bottom - slit, max(bottom - depth, 1.0)
    round_ = hip + (hem - hip) * min(max((closed - depth) / below, 0.0), 1.0)
    legs = max(to_floor - depth, 1.0)
    needed = 2 * long * max(closed - depth, 0.0) / legs
    if round_ >= needed:
        return round_, needed, ()
    # how far up the slit must reach: round(y) = needed(y), both linear in y
    fall = 2 * long / legs - (hem - hip) / below
    free = hip / fall if fall > 0 else 0.0
    height = min(max(bottom - depth - free + 10, 30.0), bottom - depth)
    flare = (needed - round_) / 4 + 5
    remedies = [
        Remedy(
            say("Open a slit of {height} in the centre back", height=Length(height, rough=True)),
            step=StepEntry(
                kind="slit",
                values={
                    "edges": References(kind="edges", refs=(key,)),
                    "height": Number(value=math.ceil(height / 10) * 10.0),
                },
            ),
        )
        for key in _centre_back(pattern)[:1]
    ]
    wider = say("Flare each side by {flare}", flare=Length(flare))
    if "flare" in context.names and context.names["flare"].dimension:
        more = context.names["flare"].value + flare
        remedies.append(Remedy(wider, option=("flare", round(more, 0))))
    else:
        remedies.append(Remedy(wider, step=StepEntry(kind="flare", values={"amount": Number(value=round(flare, 0))})))
    return round_, needed, tuple(remedies)


def _waist_on(piece: Piece, context: Context) -> float:
    """How far down the waist lies in the frame of a piece, in mm: a skirt of its own begins there, a dress at the nape."""
    begins = piece.outline().bounds()[1]
    if "back_length" not in context.sums or (piece.runs_of("waist") and begins < OWN_FRAME):
        return 0.0
    return context.sums["back_length"].value


def _centre_back(pattern: Pattern) -> list[str]:
    """The centre back seams that come down to a hem."""
    hems = [piece for piece, _ in runs_round(pattern, "hem", ("front", "back", "skirt"))]
    return [key for piece in hems for key in piece.runs_of("centre_back") if not piece.run(key)[0].finish]
