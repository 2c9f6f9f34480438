"""Bands of blocks that hold an edge: what is put on the edge in their place takes them off first."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from caddet.core.pattern.assembly import remove
from caddet.core.pattern.finding import chosen_edges, measurable, on_free_edges
from caddet.core.pattern.going_round import from_block
from caddet.core.pattern.ids import base_name, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import BANDS
from caddet.core.pattern.stuck import Stuck
from caddet.core.sentences import Sentence, say


def holders(pattern: Pattern, keys: Collection[str]) -> list[tuple[Piece, set[str]]]:
    """The bands that are sewn to some runs, each with all the runs that it holds."""
    wanted = {base_name(key) for key in keys}
    found: dict[str, tuple[Piece, set[str]]] = {}
    for seam in pattern.seams:
        for layer, other in (seam.layers[:2], seam.layers[1::-1]) if len(seam.layers) == 2 else ():
            bands = {f.piece.name: f.piece for f in pattern.what_is_left(layer)}
            held = {base_name(f.edge.name) for f in pattern.what_is_left(other)}
            on_bands = {f.piece.name for f in pattern.what_is_left(other)} <= set(bands)
            if len(bands) == 1 and not on_bands and held & wanted:
                piece = next(iter(bands.values()))
                if piece.role in BANDS and from_block(piece):
                    found.setdefault(piece.name, (piece, set()))[1].update(held)
    return list(found.values())


def without_holders(pattern: Pattern, keys: Collection[str]) -> tuple[Pattern, list[Piece]]:
    """The pattern without the bands that hold some runs, and those bands.

    Raises :class:`Stuck` when one of them holds other edges as well: half of a band can't be taken off.
    """
    if words := _more_held(pattern, keys):
        raise Stuck(words, "edges")
    gone = [piece for piece, _ in holders(pattern, keys)]
    for piece in gone:
        pattern = remove(pattern, piece)
    return (measurable(pattern) if gone else pattern), gone


def on_edges_for_bands(pattern: Pattern, chosen: Mapping[str, Any]) -> str:
    """As :func:`on_free_edges`, for a step that goes on in place of a band: edges that only a band holds are free for it."""
    if refused := on_free_edges(pattern, chosen, bands=True):
        return refused
    return _more_held(pattern, [key for _, key in chosen_edges(pattern, chosen.get("edges") or ())])


def _more_held(pattern: Pattern, keys: Collection[str]) -> Sentence:
    """What is said when a band that holds some runs holds more than them; "" when none does."""
    wanted = {base_name(key) for key in keys}
    for piece, held in holders(pattern, keys):
        if rest := sorted(held - wanted):
            words = ", ".join(f"{_piece_of(pattern, key)} {own_name(key)}".replace("_", " ") for key in rest)
            return say(
                "the {band} is sewn there, and to more than what is chosen ({rest}): choose all of it, or take the band away first",
                band=piece.label.lower(),
                rest=words,
            )
    return say("")


def _piece_of(pattern: Pattern, key: str) -> str:
    return next((piece.label.lower() for piece in pattern.pieces if piece.has_run(key)), "")
