"""Straight bands and other strips: waistbands, neckbands, cuffs. A band is folded lengthwise."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.drafting.declare import edge, sew
from caddet.core.drafting.draft_piece import DraftNotch, DraftPiece, fold_line
from caddet.core.geometry.paths import Path
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.seams import Seam


def band_piece(
    name: str,
    label: str,
    around: float,
    depth: float,
    overlap: float = 0.0,
    *,
    run: str = "waist",
    joined: str = "",
    remark: str = "",
    stretched: bool = False,
    notches: Sequence[tuple[float, str]] = (),
    cut: int = 1,
    folded: bool = True,
) -> DraftPiece:
    """A band whose seam run is ``around`` mm long, cut ``depth`` mm deep, with an overlap at one end.

    Without an overlap it is a ring, whose ends :func:`ring_seam` joins. ``joined`` says what the run is sewn to when
    that is not in the pattern. A ``stretched`` one (a rib, a band in stretch cloth) is not interfaced, and the greatest
    stretch runs along it.
    """
    whole = around + max(overlap, 0.0)
    over = max(overlap, 0.0)
    corners = [0j, complex(whole, 0), complex(whole, depth), complex(over, depth), complex(0, depth)]
    edges = [
        Edge("inside", Path.polyline(corners[0:2]), "band"),
        Edge("end", Path.polyline(corners[1:3]), "band" if over > 1e-6 else ""),
        Edge(run, Path.polyline([corners[2], corners[3]]), "joined" if joined else "", why=joined),
    ]
    if over > 1e-6:
        edges.append(Edge("overlap", Path.polyline([corners[3], corners[4]]), "band"))
    edges.append(Edge("start", Path.polyline([corners[4], corners[0]]), "band" if over > 1e-6 else ""))
    marks = (fold_line("band_fold", "fold here", complex(0, depth / 2), complex(whole, depth / 2)),) if folded else ()
    marked = tuple(DraftNotch(run, at, name=word) for at, word in notches if 0 < at < around)
    grain = (complex(whole * 0.06, depth * 0.25), complex(whole * 0.3, depth * 0.25))
    return DraftPiece(
        name,
        label,
        tuple(edges),
        notches=marked,
        drawn=marks,
        grain=grain,
        cut=cut,
        remark=remark,
        cloth=("main",) if stretched else ("main", "interfacing"),
        grain_kind="stretch" if stretched else "along",
    )


def ring_seam(band: str, label: str) -> Seam:
    """The seam that closes a band without an overlap into a ring."""
    return sew(f"{band}_ends", f"{label}, ends", (edge(band, "end"),), (edge(band, "start", backwards=True),))


def quarters(around: float) -> tuple[tuple[float, str], ...]:
    """Notches at the quarter points of a band that is stretched in."""
    return tuple((around * n / 4, f"quarter {n}") for n in (1, 2, 3))
