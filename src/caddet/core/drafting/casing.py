"""Casings for elastic or a cord at a waist: grown on where the edge folds flat, else a band of its own.

Grown on, the casing is the piece below its straight fold mirrored above it, so that it lies flat inside. Common
practice, no source.
"""

from __future__ import annotations

from caddet.core.drafting.declare import edge, sew
from caddet.core.drafting.draft_piece import Drawn, fold_line
from caddet.core.errors import CaddetError
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.seams import Seam
from caddet.core.sentences import say

WIDEST_GROWN_ON = "4cm"


def casing_figures(elastic: str) -> tuple[Figure, ...]:
    """The sums of a casing for an elastic of a width (a formula), with the options ``casing`` and ``drawstring``."""
    return (
        Figure("casing_grown", "Casing grown on", f"if(casing_grown_on, 1, if(casing_separate, 0, if({elastic} > {WIDEST_GROWN_ON}, 0, 1)))",
               "A narrow casing folds flat on a straight waist and is grown on; a wide one does not, and is cut on its own.", kind="count"),
        Figure("casing_net", "Casing, fold to stitching", f"{elastic} + 0.5in", "The elastic and half an inch to thread it: 2 inches for 1½."),
        Figure("casing_grows", "Casing, above the finished top", f"{elastic} * 2 + 1in", "Folded inside and turned in once more: about 3 inches for 1 inch of elastic."),
        Figure("cord_length", "Cord, if there is one", "waist + 50cm", "Once round the waist, and enough on both sides to tie a bow."),
    )  # fmt: skip


def grown_on(edges: tuple[Edge, ...], top: str, deep: float) -> tuple[tuple[Edge, ...], Drawn]:
    """The outline with a casing grown on at its straight first run, and the fold: the neighbours go on mirrored above it.

    The new edges are named after the neighbours, ``…_casing``. Raises :class:`CaddetError` when the run is not the
    first, not straight, or shorter at its sides than the casing.
    """
    waist, side, last = edges[0], edges[1], edges[-1]
    a, b = waist.path.start, waist.path.end
    if waist.name != top or abs(waist.path.length - abs(b - a)) > 0.5:
        raise CaddetError(say("a casing is grown on a straight edge; “{top}” is not", top=top))
    down, up = side.path.split_at(deep)[0], last.path.split_at(last.path.length - deep)[1]
    if down is None or up is None or min(side.path.length, last.path.length) < deep:
        raise CaddetError("the casing is deeper than the edges beside it are long")
    along = unit(b - a)
    # mirrored in the line from a to b
    mirror = Motion(along * along, a - along * along * a.conjugate(), True)
    side_up, last_up = down.moved(mirror).reversed(), up.moved(mirror).reversed()
    made = (
        Edge(
            top,
            Path.polyline([last_up.end, side_up.start]),
            "raw",
            why="turned in under the casing: the turn is part of it",
        ),
        Edge(f"{side.name}_casing", side_up),
        *edges[1:],
        Edge(f"{last.name}_casing", last_up),
    )
    return made, fold_line("casing_fold", "fold here, casing inside", a, b)


def casing_seams(front: str, back: str) -> tuple[Seam, ...]:
    """The casing goes on over the side seams and the centres."""
    return (
        sew(
            "side_casing",
            "Side of the casing",
            (edge(front, "side_casing"),),
            (edge(back, "side_casing"),),
            corners=True,
        ),
        *(
            sew(
                f"{name}_casing",
                say("Centre {name} of the casing", name=name),
                (edge(name, "crotch_casing"),),
                (edge(name, "crotch_casing", mirrored=True),),
                corners=True,
            )
            for name in (front, back)
        ),
    )
