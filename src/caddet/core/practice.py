"""Practice pieces: a tabard traced a little carelessly, to be walked, mended and graded. Invented, like all of the demo.

The back's side is 8 mm short, its side notch sits too low, and with the short side its hem runs into the front's at a
corner. True finds each of them and offers what mends it.
"""

from __future__ import annotations

from caddet.core.demo import demo_document
from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.entries import (
    Outline,
    OutlineEdge,
    OutlineLevel,
    OutlineNotch,
    OutlinePart,
    OutlineSeam,
    OutlineSource,
)

SHORT = 8.0  # mm


def _half(name: str, label: str, neck: float, side_end: float, notch: float) -> Outline:
    """Half a tabard on the fold, neck point at (75, 0), its side ending at a height."""
    deep = neck * 0.45  # neck and armhole leave the shoulder at right angles
    edges = (
        OutlineEdge(name="neckline", role="edge", segments=((40.0, neck, 75 - 0.33 * deep, 0.94 * deep, 75.0, 0.0),)),
        OutlineEdge(name="shoulder", segments=((190.0, 40.0),)),
        OutlineEdge(name="armhole", role="edge", segments=((166.9, 105.8, 195.0, 240.0, 245.0, 240.0),)),
        OutlineEdge(name="side", segments=((255.0, side_end),)),
        OutlineEdge(name="hem", role="hem", segments=((170.0, side_end + 2.1, 85.0, 650.0, 0.0, 650.0),)),
        OutlineEdge(name=f"centre_{name}", role="fold", segments=((0.0, neck),)),
    )
    return Outline(
        name=name, label=label, start=(0.0, neck), edges=edges, grain=((30.0, 200.0), (30.0, 500.0)), count=1,
        notches=(OutlineNotch(edge="side", at=notch),),
        levels=(OutlineLevel(name="bust", a=(0.0, 240.0), b=(245.0, 240.0)),),
    )  # fmt: skip


def practice_document() -> Document:
    """The tabard as a project of the band's."""
    front = _half("front", "Tabard front", 90.0, 640.0, 0.5)
    back = _half("back", "Tabard back", 25.0, 640.0 - SHORT, 0.56)
    seams = tuple(
        OutlineSeam(name=run, label=label, layers=tuple((OutlinePart(edge=f"{p}.{run}"),) for p in ("front", "back")))
        for run, label in (("shoulder", "Shoulder seam"), ("side", "Side seam"))
    )
    source = OutlineSource(label="Tower tabard, traced", outlines=(front, back), seams=seams)
    base = demo_document()
    return Document(
        title="Tower tabard",
        people=base.people,
        wearer=base.wearer,
        cloths=base.cloths,
        roles=base.roles,
        recipe=Recipe().with_source(source),
        notes="Traced from the old tabard in the ringing room. Something is not right with it.",
    )
