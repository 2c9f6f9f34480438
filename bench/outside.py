"""Every block on real bodies with its sections and joins measured from outside, against drafting alone: at most twice."""

from __future__ import annotations

import sys

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.formats.listing import pieces_listing
from caddet.core.made import Made
from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, whole_bodies
from tests.outside.cloth import joints, level_girth

EVERY = 10  # of the 254 bodies; ``--all`` takes them all


def _measured(made: Made) -> None:
    listing = pieces_listing(made)
    list(joints(listing))
    for level in {level["name"].split(".")[-1] for piece in listing["pieces"] for level in piece["levels"]}:
        level_girth(listing["pieces"], level)


def main() -> None:
    """Measure, and print each ratio with its aim."""
    bodies = whole_bodies()[:: 1 if "--all" in sys.argv else EVERY]
    for block in sorted(BLOCKS):
        drafted(block, bodies[0])
        alone = best(lambda: [drafted(block, who) for who in bodies], 1)  # noqa: B023
        both = best(lambda: [_measured(drafted(block, who)) for who in bodies], 1)  # noqa: B023
        show(f"{block}: drafted and measured against drafted", both, alone, 2.0)


if __name__ == "__main__":
    main()
