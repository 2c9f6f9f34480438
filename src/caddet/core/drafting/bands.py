"""Straight bands and other strips: waistbands, neckbands, cuffs. A band is folded lengthwise."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.geometry.paths import Path
from caddet.core.pattern.piece import Edge, Mark, Notch, Piece


def band_piece(
    name: str,
    label: str,
    around: float,
    depth: float,
    overlap: float = 0.0,
    *,
    run: str = "waist",
    remark: str = "interface it",
    notches: Sequence[tuple[float, str]] = (),
    cut: int = 1,
    folded: bool = True,
) -> Piece:
    """A band whose seam run is ``around`` mm long, cut ``depth`` mm deep, with an overlap at one end."""  # fmt: skip
    whole = around + max(overlap, 0.0)
    over = max(overlap, 0.0)
    corners = [0j, complex(whole, 0), complex(whole, depth), complex(over, depth), complex(0, depth)]
    edges = [
        Edge("inside", Path.polyline(corners[0:2])),
        Edge("end", Path.polyline(corners[1:3])),
        Edge(run, Path.polyline([corners[2], corners[3]])),
    ]
    if over > 1e-6:
        edges.append(Edge("overlap", Path.polyline([corners[3], corners[4]])))
    edges.append(Edge("start", Path.polyline([corners[4], corners[0]])))
    marks = (
        (Mark("band_fold", "fold here", (Path.polyline([complex(0, depth / 2), complex(whole, depth / 2)]),)),)
        if folded
        else ()
    )
    marked = tuple(Notch(run, at, name=word) for at, word in notches if 0 < at < around)
    grain = (complex(whole * 0.06, depth * 0.25), complex(whole * 0.3, depth * 0.25))
    return Piece(name, label, tuple(edges), notches=marked, marks=marks, grain=grain, cut=cut, remark=remark)


def quarters(around: float) -> tuple[tuple[float, str], ...]:
    """Notches at the quarter points of a band that is stretched in."""
    return tuple((around * n / 4, f"quarter {n}") for n in (1, 2, 3))
