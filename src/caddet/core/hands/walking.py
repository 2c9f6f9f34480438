"""From thing to thing by the keyboard: along the outline, over the seam, into the piece and out again."""

from __future__ import annotations

from typing import Literal

from caddet.core.hands.taking import taken
from caddet.core.hands.things import Thing, edge_thing, places_of, things
from caddet.core.pattern.finding import chosen_edges
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece

Way = Literal["next", "before", "over", "in", "out", "seam"]


def walk_on(pattern: Pattern, thing: Thing | None, way: Way) -> Thing | None:
    """The thing that lies that way; where there is none, the same one. Without one, the first piece.

    ``next`` and ``before`` go along the outline (of pieces and seams, through their list), ``over`` to what a seam
    joins, ``seam`` to the seam that an edge is in, ``in`` from a piece to its edges, from an edge to its ends and on to what is on the piece, ``out`` to the piece.
    """
    if thing is None or not places_of(pattern, thing):
        return Thing("piece", pattern.pieces[0].name) if pattern.pieces else None
    match way:
        case "next" | "before":
            return _along(pattern, thing, 1 if way == "next" else -1)
        case "over":
            return _over(pattern, thing) or thing
        case "in":
            return _in(pattern, thing) or thing
        case "seam":
            name = taken(pattern, thing, "seam")
            return thing if name is None else Thing("seam", name)
    piece = _home(pattern, thing)
    return thing if thing.kind == "piece" or piece is None else Thing("piece", piece.name)


def _home(pattern: Pattern, thing: Thing) -> Piece | None:
    places = places_of(pattern, thing)
    return pattern.piece(places[0].piece) if places else None


def _on(pattern: Pattern, piece: Piece, kind: str) -> list[Thing]:
    """The things of a kind on one piece, along its outline; each corner once."""
    mine = [
        one
        for one in things(pattern)
        if one.kind == kind and any(f.piece == piece.name for f in places_of(pattern, one))
    ]
    kept: list[Thing] = []
    for one in mine:
        at = places_of(pattern, one)[0].at
        if kind != "corner" or all(abs(places_of(pattern, other)[0].at - at) > 0.01 for other in kept):
            kept.append(one)
    return kept


def _along(pattern: Pattern, thing: Thing, step: int) -> Thing:
    home = _home(pattern, thing)
    if thing.kind in ("piece", "seam") or home is None:
        row = [one for one in things(pattern) if one.kind == thing.kind]
    else:
        row = _on(pattern, home, thing.kind)
    if thing not in row:  # the other name of the same corner
        at = places_of(pattern, thing)[0].at
        row = row or [thing]
        thing = min(row, key=lambda one: abs(places_of(pattern, one)[0].at - at))
    return row[(row.index(thing) + step) % len(row)]


def _over(pattern: Pattern, thing: Thing) -> Thing | None:
    """The edge that an edge is sewn to, the other piece of a piece's first seam, the first edge of a seam."""
    if thing.kind == "seam":
        sewn = [f for f in pattern.what_is_left(pattern.seam(thing.ref).a) if not f.imagined]
        return edge_thing(pattern, sewn[0].piece, sewn[0].edge.name) if sewn else None
    if thing.kind in ("edge", "corner"):
        piece, key = chosen_edges(pattern, (thing.ref,))[0]
        for partner, other in _partners(pattern, piece, key):
            edge = edge_thing(pattern, partner, other)
            return edge if thing.kind == "edge" else Thing("corner", edge.ref, thing.at)
        return None
    home = _home(pattern, thing)
    for key in home.runs() if home is not None and thing.kind == "piece" else ():
        for partner, _ in _partners(pattern, home, key):  # type: ignore[arg-type]
            if partner is not home:
                return Thing("piece", partner.name)
    return None


def _partners(pattern: Pattern, piece: Piece, key: str) -> list[tuple[Piece, str]]:
    """The runs that a run is sewn to, its own other half left out."""
    number = next(p for p, one in enumerate(pattern.pieces) if one is piece)
    found_: list[tuple[Piece, str]] = []
    for index in piece.indices(reference(key)):
        for seam, layer in pattern.sewn().get((number, index), []):
            for other, parts in enumerate(seam.layers):
                if other != layer:
                    found_ += [(f.piece, f.edge.name) for f in pattern.what_is_left(parts)]
    return [one for n, one in enumerate(found_) if one not in found_[:n] and one != (piece, key)]


def _in(pattern: Pattern, thing: Thing) -> Thing | None:
    home = _home(pattern, thing)
    if home is None:
        return None
    order = ("edge", "corner", "dart", "notch", "level")
    after = (
        order
        if thing.kind in ("piece", "seam")
        else order[order.index(thing.kind) + 1 :]
        if thing.kind in order
        else ()
    )
    for kind in after:
        if kind == "corner" and thing.kind == "edge":
            return Thing("corner", thing.ref, "start")
        row = _on(pattern, home, kind)
        if row:
            return row[0]
    return None
