"""Grading and truing: many sizes against as many single ones, rules against affine moves of the same points, walks."""

from __future__ import annotations

import numpy as np
import shapely
from shapely import affinity

from bench.timing import best, show
from caddet.core.body.sizes import Size, SizeTable, person_of_size, shipped_table
from caddet.core.designs import design_named
from caddet.core.geometry.segments import Segment
from caddet.core.grading.moving import moved_at_corners
from caddet.core.grading.nest import walked
from caddet.core.grading.points import corners
from caddet.core.grading.sizes import redrafted, sizes_of
from caddet.core.recipe.evaluate import evaluate
from caddet.core.recipe.grading import Grading
from caddet.core.truing.walk import roll, walk

FRAME = 1 / 60
NODES, WEIGHTS = np.polynomial.legendre.leggauss(8)


def main() -> None:
    """Measure, and print each ratio with its aim."""
    dress = design_named("concert-dress").document  # twelve pieces
    table = shipped_table("women")
    twenty = SizeTable(table.name, table.source, tuple(_between(table, n) for n in range(20)))
    document = dress.model_copy(update={"grading": Grading(base=twenty.sizes[10].name)})
    many = best(lambda: list(sizes_of(document, twenty)), 2)

    def singly() -> None:
        """Every size by itself, walked."""
        for size in twenty.sizes:
            redrafted(document, person_of_size(twenty, size))

    show("20 sizes of a 12-piece design by redraft, against 20 x one size", many, best(singly, 2), 1.05)
    pattern = evaluate(dress).pattern
    assert pattern is not None
    moves = {p.name: {c.name: complex(2, 1) * n for n, c in enumerate(corners(p))} for p in pattern.pieces}

    def by_rules() -> None:
        """Every piece moved at its corners."""
        for piece in pattern.pieces:
            moved_at_corners(piece, moves[piece.name])

    polygons = [shapely.Polygon([(p.real, p.imag) for p in piece.polygon()]) for piece in pattern.pieces]
    matrix = (1.02, 0.01, 0.005, 1.03, 3.0, 4.0)
    moved = best(lambda: [affinity.affine_transform(one, matrix) for one in polygons], 5)
    show("by rules, against shapely affine moves of the same points", best(by_rules, 5), moved, 10.0)
    coat = evaluate(design_named("harbour-coat").document).pattern
    assert coat is not None

    def walks() -> None:
        """Every seam of the largest design walked."""
        for seam in coat.seams:
            for layer in range(1, len(seam.layers)):
                walk(coat, seam, layer)

    def integrated() -> None:
        """The length of every sewn edge, integrated once, nothing kept."""
        for seam in coat.seams:
            for layer in seam.layers:
                for fragment in coat.layer_fragments(layer):
                    sum(_length(segment) for segment in fragment.edge.path.segments)

    show("every seam of the largest design walked, against one integration", best(walks, 5), best(integrated, 5), 5.0)
    seam = max(coat.seams, key=lambda one: coat.length(one.a))
    whole = coat.length(seam.a)
    at = [0.0]

    def played() -> None:
        """One step of a walk that plays."""
        at[0] = (at[0] + 7.0) % whole
        roll(coat, seam, at[0])

    show("one step of a walk that plays, against a frame", best(played, 20), FRAME, 1.0)
    show(
        "the findings of a size (every seam and line), against a frame", best(lambda: list(walked(coat)), 3), FRAME, 2.0
    )


def _between(table: SizeTable, number: int) -> Size:
    """A size between those of the table: twenty of them from the second to the sixth."""
    low = table.sizes[1 + number // 5]
    high = table.sizes[2 + number // 5]
    share = number % 5 / 5
    measures = {code: low.measures[code] + (high.measures[code] - low.measures[code]) * share for code in low.measures}
    return Size(f"n{number}", measures)


def _length(segment: Segment) -> float:
    """Eight points of Gauss-Legendre over the speed of a segment."""
    step = 1e-5
    points = (NODES + 1) / 2
    speeds = [abs(segment.point(t + step) - segment.point(t - step)) / (2 * step) for t in points]
    return float(np.dot(speeds, WEIGHTS) / 2)
