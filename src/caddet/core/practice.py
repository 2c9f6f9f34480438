"""Practice pieces: a tabard traced a little carelessly, to be walked, mended and graded. Invented, like all of the demo.

The back's side is 8 mm short, its side notch sits too low, and with the short side its hem runs into the front's at a
corner. True finds each of them and offers what mends it.
"""

from __future__ import annotations

from caddet.core.demo import demo_document
from caddet.core.drafting.draft_piece import DraftNotch, DraftPiece, as_piece, level
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam, part
from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.storing import stored_pattern

SHORT = 8.0  # mm


def _half(name: str, label: str, neck: float, side_end: float, notch: float) -> Piece:
    """Half a tabard on the fold, neck point at (75, 0), its side ending at a height."""
    deep = neck * 0.45  # neck and armhole leave the shoulder at right angles
    corners = (complex(0, neck), 75 + 0j, 190 + 40j, 245 + 240j, complex(255, side_end), 650j, complex(0, neck))
    top, tip, point, underarm, low, middle, _ = corners
    edges = (
        Edge("neckline", Path((Cubic(top, complex(40, neck), complex(75 - 0.33 * deep, 0.94 * deep), tip),)), "turned"),
        Edge("shoulder", Path((Line(tip, point),))),
        Edge("armhole", Path((Cubic(point, 166.9 + 105.8j, 195 + 240j, underarm),)), "turned"),
        Edge("side", Path((Line(underarm, low),))),
        Edge("hem", Path((Cubic(low, complex(170, side_end + 2.1), 85 + 650j, middle),)), "hem"),
        Edge(f"centre_{name}", Path((Line(middle, top),)), "fold"),
    )
    return as_piece(
        DraftPiece(
            name,
            label,
            edges,
            grain=(30 + 200j, 30 + 500j),
            notches=(DraftNotch("side", notch * abs(low - underarm)),),
            drawn=(level("bust", "bust", 240j, underarm),),
        )
    )


def practice_document() -> Document:
    """The tabard as a project of the band's."""
    front = _half("front", "Tabard front", 90.0, 640.0, 0.5)
    back = _half("back", "Tabard back", 25.0, 640.0 - SHORT, 0.56)
    seams = tuple(
        Seam(run, label, ((part(f"front.{run}"),), (part(f"back.{run}"),)))
        for run, label in (("shoulder", "Shoulder seam"), ("side", "Side seam"))
    )
    source = stored_pattern(Pattern((front, back), seams), "Tower tabard, traced")
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
