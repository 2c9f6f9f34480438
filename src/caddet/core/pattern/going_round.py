"""How far round a garment is where something passes through: by the edges of a role, by what holds them, by what opens there."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from caddet.core.errors import CaddetError
from caddet.core.pattern.features import Spot
from caddet.core.pattern.how_often import of_piece
from caddet.core.pattern.ids import base_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Run
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.roles import BANDS, BODY
from caddet.core.sentences import say

# the notches that blocks set where a seam is left open from there on
OPEN_FROM = ("fly ends", "zip end", "opening ends")


def from_block(piece: Piece) -> bool:
    """Whether a block made the piece, or a step cut it from one that a block made; not a part that a step added."""
    return not piece.source.startswith("s") or piece.role in BODY


def runs_round(pattern: Pattern, role: str, of: Collection[str] = ()) -> list[tuple[Piece, str]]:
    """The runs of a role on the body of the garment (or on pieces of some roles), one for both sides of the body."""
    pieces = [p for p in pattern.pieces if from_block(p) and (p.role in of if of else p.role in BODY)]
    found = {base_name(key): (piece, key) for piece in pieces for key in reversed(piece.runs_of(role))}
    return list(found.values())


def around(pattern: Pattern, role: str, of: Collection[str] = (), *, each: bool = False) -> float:
    """How far round the edges of a role are, in mm: both sides of the body, or those of one limb (``each``).

    Where a block's band holds them, it is the band. Raises :class:`CaddetError` when there is no such edge.
    """
    runs = runs_round(pattern, role, of)
    if not runs:
        raise CaddetError(say("there is no {role} here", role=role.replace("_", " ")))
    keys = {base_name(key) for _, key in runs}
    for seam in pattern.seams:
        for one, other in ((0, 1), (1, 0)):
            names = {part.ref.name for part in seam.layers[one]}
            band = [f.piece for f in pattern.what_is_left(seam.layers[other])]
            if names & keys and band and all(p.role in BANDS for p in band):
                half = _half(band[0])
                held = {replace(part.ref.plain, mirrored=part.ref.mirrored and not half) for part in seam.layers[other]}
                return sum(Run(ref, worn=not each and half).measured(pattern) for ref in held)
    refs = {piece.ref(key).plain: piece for piece, key in runs}
    return sum(Run(ref, _times(piece, each), worn=not each).measured(pattern) for ref, piece in refs.items())


def _times(piece: Piece, each: bool) -> int:
    """How often a whole piece is there (panels, godets); halves and pairs are counted as worn."""
    return 1 if each or piece.symmetry != "whole" else of_piece(piece).count


def _half(piece: Piece) -> bool:
    return bool(piece.fold) or piece.pair


def left_open(pattern: Pattern, around: str) -> float:
    """By how much the openings that blocks leave lengthen the runs of a role when they are open, in mm."""
    told = {part.ref.name for one in pattern.openings for part in one.edges}
    worn = [
        piece for piece in pattern.pieces if piece.role not in ("lining", "layer")
    ]  # they open with what they lie under
    begun = {
        base_name(edge.name)
        for piece in worn
        for n, edge in enumerate(piece.edges)
        for beside in (piece.edges[n - 1], piece.edges[(n + 1) % len(piece.edges)])
        if edge.finish == "opening" and beside.role == around
    }
    total = 0.0
    for piece in worn:  # an opening that begins there counts as far as it goes, whatever was cut across it
        for edge in piece.edges:
            if edge.finish == "opening" and base_name(edge.name) in begun - told:
                total += 2 * edge.path.length
        for notch in piece.notches:
            if notch.name not in OPEN_FROM or not piece.has_run(notch.edge):
                continue
            block = block_of(piece, notch.edge)
            along, whole = piece.along(Spot(notch.edge, notch.u)), piece.run_length(notch.edge)
            lengths = [whole - along, along] if piece.edges[block.first].backwards else [along, whole - along]
            for number, length in zip((block.before, block.behind), lengths, strict=True):
                total += 2 * length * (piece.edges[number].role == around)
    return total
