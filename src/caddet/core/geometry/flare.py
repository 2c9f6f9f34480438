"""A flared side: the seam swings out from a hinge, the hem follows as an arc round that hinge.

The wedge of cloth hangs from where the side begins to swing, so its hem is a circular arc about that
place: the hem meets the side at a right angle and hangs level. Exact geometry of a hinged wedge.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Line, Point, dot, smooth, unit
from caddet.core.sentences import Length, say

BLEND = 0.18  # share of the hanging length over which the side turns into the flare


@dataclass(frozen=True, slots=True)
class Flared:
    """The side from the hinge down, and the arc that the hem gains, from the side inwards."""

    side: Path
    hem_arc: Arc


def flare_side(
    hinge: Point, from_above: Point, corner: Point, amount: float, at_hem: Point | None = None
) -> Flared | None:
    """Swing the side out by ``amount`` mm (measured square to the old side, at the hem).

    ``from_above`` is the direction in which the side arrives at the hinge; ``corner`` the old hem
    corner, and ``at_hem`` the direction of the old side there (straight from the hinge if left out).
    None when the amount is nothing. Raises :class:`CaddetError` when it is more than a 60° swing.
    """
    if amount < 1e-6:
        return None
    arriving = unit(from_above)
    down = unit(at_hem) if at_hem is not None else unit(corner - hinge)
    out = down * -1j  # to the right of the piece for a side running down its right
    short = BLEND * abs(corner - hinge)
    # go on a little as the side arrives, then swing: so the seam turns in a curve, not in a corner
    pivot = hinge + arriving * short
    reach = dot(corner - pivot, down)
    swing = amount - dot(pivot - corner, out)
    if not 0 < swing <= amount:  # the side arrives leaning more than it will swing: swing from its own line
        pivot, swing = corner - down * reach, amount
    if reach <= 0 or swing > reach * math.sin(math.radians(60)):
        raise CaddetError(say("a flare of {amount} is more than this side can swing (60°)", amount=Length(amount)))
    angle = math.asin(swing / reach)
    straight = down * cmath.exp(-1j * angle)
    end, joint = pivot + straight * reach, pivot + straight * min(short, reach * 0.5)
    side = Path((smooth(hinge, arriving, joint, straight), Line(joint, end)))
    return Flared(side, Arc(pivot, reach, cmath.phase(straight), angle))
