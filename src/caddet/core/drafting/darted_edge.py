"""A waist edge with darts, drawn as it lies once the darts are sewn.

The edge is one fair curve in the *closed* state; it is cut where the darts stand and opened again.
So the legs of each dart are equal and the waist is smooth when sewn, by construction.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Motion, Point, inverse, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.recipe.registry import CannotDraft
from caddet.core.sentences import say


@dataclass(frozen=True, slots=True)
class DartPlan:
    """A dart: its middle's distance from the centre, intake and length in mm.

    ``rise`` is how far the waist lies above the level line at the dart.
    """

    name: str
    middle: float
    intake: float
    length: float
    rise: float = 0.0

    def apex(self, centre: Point) -> Point:
        """The dart's apex, in mm; ``centre`` is where the edge meets the centre line."""
        return complex(self.middle, centre.imag + self.length - self.rise)


def closed_curve(
    centre: Point, end: Point, end_direction: Point, darts: tuple[DartPlan, ...]
) -> tuple[Cubic, list[Motion]]:
    """The waist curve with every dart closed, and for each part the movement that opens it.

    It leaves the centre level and arrives at ``end`` running in ``end_direction``.
    """
    opened = [Motion()]
    for dart in darts:
        apex = dart.apex(centre)
        angle = 2 * math.atan2(dart.intake / 2, dart.length)
        opened.append(Motion.rotation(angle, apex).after(opened[-1]))
    close = inverse(opened[-1])
    curve = smooth(centre, 1 + 0j, close(end), unit(close.turn * end_direction))
    return curve, opened


def darted_edge(
    name: str, curve: Cubic, opened: list[Motion], darts: tuple[DartPlan, ...], centre: Point
) -> list[Edge]:
    """The edges of the open waist: parts of the run ``name`` with the dart legs between them.

    Raises :class:`CannotDraft` when the darts crowd each other off the curve.
    """
    edges: list[Edge] = []
    rest, passed = curve, 0.0
    for dart, before, after in zip(darts, opened, opened[1:], strict=False):
        apex = dart.apex(centre)
        back = inverse(before)
        # the seam of the closed dart: from the apex up along the leg nearer the centre
        half = math.atan2(dart.intake / 2, dart.length)
        leg = apex - dart.length * complex(math.sin(half), math.cos(half))
        cuts = [t for t in rest.crossings(back(apex), back(leg)) if 1e-6 < t < 1 - 1e-6]
        if not cuts:
            raise CannotDraft(
                say(
                    "The darts don't fit on the waist: “{name}” would stand beyond its end. Make the darts smaller or move them towards the centre.",
                    name=dart.name,
                ),
                f"figures.{name}",
            )
        part, rest = rest.split(cuts[0])
        passed += part.length
        edges.append(Edge(name, Path((part.moved(before),))))
        edges.append(Edge(dart.name, Path.polyline([before(part.end), apex]), "", dart.name))
        edges.append(Edge(dart.name, Path.polyline([apex, after(part.end)]), "", dart.name))
    edges.append(Edge(name, Path((rest.moved(opened[-1]),))))
    return edges
