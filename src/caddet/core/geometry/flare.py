"""A flared side: the seam swings out from a hinge, the hem follows as an arc round that hinge.

The wedge of cloth hangs from the hinge, so its hem is a circular arc about it: the hem meets the
side at a right angle and the side keeps its length. Exact geometry of a hinged wedge.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Line, Point, cross, dot, smooth, unit

BLEND = 0.18  # share of the hanging length over which the side turns into the flare


@dataclass(frozen=True, slots=True)
class Flared:
    """The side from the hinge down, and the arc that the hem gains, from the side inwards."""

    side: Path
    hem_arc: Arc


def flare_side(hinge: Point, from_above: Point, corner: Point, amount: float) -> Flared | None:
    """Swing the side out by ``amount`` mm (measured square to the old side, at the hem).

    ``from_above`` is the direction in which the side arrives at the hinge; ``corner`` the old hem
    corner. None when the amount is nothing. Raises :class:`CaddetError` when it is more than a
    60° swing.
    """
    if amount < 1e-6:
        return None
    down = unit(corner - hinge)
    out = down * -1j  # to the right of the piece for a side running down its right
    hang = abs(corner - hinge)
    turn = cross(unit(from_above), down)  # > 0 when the side above leans out already
    lean = math.asin(min(max(turn, -0.99), 0.99))
    pivot, short, reach, swing = hinge, 0.0, hang, amount
    if lean > 1e-6 and dot(from_above, down) > 0:
        # the side above leans out: go on along it a little, then swing the rest
        further = hinge + unit(from_above) * BLEND * hang
        left = amount - dot(further - hinge, out)
        if left > 0:
            pivot, short, reach, swing = further, BLEND * hang, dot(corner - further, down), left
    if reach <= 0 or swing > reach * math.sin(math.radians(60)):
        raise CaddetError(f"a flare of {amount / 10:.1f} cm is more than this side can swing (60°)")
    angle = math.asin(swing / reach)
    end = pivot + reach * down * cmath.exp(-1j * angle)
    straight = unit(end - pivot)
    if short:
        joint = pivot + straight * short
        side = Path((smooth(hinge, from_above, joint, straight), Line(joint, end)))
    else:
        side = Path((Line(hinge, end),))
    arc = Arc(pivot, reach, cmath.phase(straight), angle)
    return Flared(side, arc)
