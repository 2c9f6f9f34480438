"""Forty cuts of one piece, each of what is left by the one before, against the first: a cut costs as much as before."""

from __future__ import annotations

import time

from bench.timing import show
from caddet.core import library as library
from caddet.core.demo import demo_document
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.evaluate import evaluate

CUTS = 40


def _cut(pattern: Pattern, number: int) -> tuple[Pattern, float]:
    """A horizontal strip off the bottom of the front, and the seconds it took."""
    piece = max(pattern.pieces, key=lambda one: one.run_length("front.side") if one.has_run("front.side") else 0.0)
    length = piece.run_length("front.side")
    down = length - length / (CUTS - number + 8)
    centre = piece.run_length("front.centre_front")
    line = CutLine(piece.spot_at("front.side", down), piece.spot_at("front.centre_front", centre / (CUTS - number + 8)))
    begun = time.perf_counter()
    after = cut_piece(pattern, piece, line, f"s{number + 2}")
    return after, time.perf_counter() - begun


def main() -> None:
    """Measure, and print each ratio with its aim."""
    pattern = evaluate(demo_document()).drafted
    assert pattern is not None
    took = []
    for number in range(CUTS):
        pattern, seconds = _cut(pattern, number)
        took.append(seconds)
    first = sorted(took[:5])[2]
    show(
        f"{CUTS} cuts of one piece, all together, against the first ({len(pattern.pieces)} pieces)",
        sum(took),
        first,
        CUTS,
    )
    show("the last cut against the first", sorted(took[-5:])[2], first, 2.0)


if __name__ == "__main__":
    main()
