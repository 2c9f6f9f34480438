"""How steps find what they name: pieces, edges, darts and places by reference, with the reason when they don't."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import replace
from typing import Any, Protocol

from caddet.core.errors import CaddetError
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Spot
from caddet.core.pattern.ids import Reference, on_other_side, own_name, reference, spoken
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import FromFold, Promise
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.roles import BANDS, role_of_edge
from caddet.core.pattern.stuck import Lost, Stuck
from caddet.core.sentences import Length, Sentence, say


class Place(Protocol):
    """A place on an edge as a document names it: a share of it (0 to 1), or so many mm from one of its ends."""

    @property
    def edge(self) -> str:
        """The edge, by reference."""
        ...

    @property
    def share(self) -> float | None:
        """The share, or None."""
        ...

    @property
    def mm(self) -> float | None:
        """The distance in mm, or None."""
        ...

    @property
    def end(self) -> str:
        """From which end the distance counts: ``start`` or ``end``."""
        ...


STEP = re.compile(r"s?[0-9]+")  # the id of a step, or the number of a part of it, below which it names what it makes


def said(text: str) -> str:
    """A reference as a maker says it: ``front side``."""
    if not text:
        return ""
    ref = reference(text)
    made = ".".join(part for part in ref.name.split(".")[:-1] if not STEP.fullmatch(part))
    words = spoken(made.replace(".", " "), "cut edge" if ref.name.endswith(".cut") else own_name(ref.name))
    return say("{words}, the other side's", words=words) if ref.mirrored else words


def shapeable(pattern: Pattern) -> list[Piece]:
    """The pieces that are shaped themselves; facings, linings and the like follow what they were drawn from."""
    drawn = {fit.piece for fit in pattern.fits if fit.draw is not None}
    return [piece for piece in pattern.pieces if piece.name not in drawn]


def chosen_pieces(pattern: Pattern, refs: Sequence[str], parameter: str = "pieces") -> list[Piece]:
    """Every piece that is named. Raises :class:`Lost`."""
    found: list[Piece] = []
    for text in refs:
        ref = reference(text)
        meant = pattern.pieces_meant(ref)
        if not meant:
            raise Lost(ref, "piece", parameter)
        found += [piece for piece in meant if piece not in found]
    return found


def chosen_edges(pattern: Pattern, refs: Sequence[str], parameter: str = "edges") -> list[tuple[Piece, str]]:
    """The runs that are named, as (piece, key), each once. A name without a piece means that run of every piece.

    Raises :class:`Lost`.
    """
    found: list[tuple[Piece, str]] = []
    for text in refs:
        ref = reference(text)
        if "." in ref.name:
            hits = [(pattern.pieces[p], pattern.pieces[p].edges[e].name) for p, e in pattern.edges(ref)]
        else:
            every = _called(pattern, ref)
            own = {piece.name for piece in shapeable(pattern)}
            hits = [hit for hit in every if hit[0].name in own] or every
        if not hits:
            raise Lost(ref, "edge", parameter)
        found += [hit for n, hit in enumerate(hits) if hit not in found and hit not in hits[:n]]
    return found


def _called(pattern: Pattern, ref: Reference) -> list[tuple[Piece, str]]:
    """The runs that a word of the trade without a piece means: those called so, or else those that are it."""
    runs = [(piece, key) for piece in pattern.pieces for key in piece.runs() if on_other_side(key) == ref.mirrored]
    role = role_of_edge(ref.name)
    so_called = [(piece, key) for piece, key in runs if own_name(key) == ref.name]
    return so_called or [(piece, key) for piece, key in runs if role and key in piece.runs_of(role)]


def one_dart(pattern: Pattern, refs: Sequence[str], parameter: str = "dart") -> tuple[Piece, Dart]:
    """The dart that is named; without a name the first there is. Raises :class:`Lost` or :class:`Stuck`."""
    every = [(piece, dart) for piece in pattern.pieces for dart in piece.darts]
    if not refs:
        if not every:
            raise Stuck("this garment has no darts", parameter)
        return every[0]
    ref = reference(refs[0])
    found = [(piece, dart) for piece, dart in every if ref.finds(dart.name, dart.marks)]
    if not found:
        raise Lost(ref, "dart", parameter)
    if len(found) > 1:
        marks = " or ".join(dart.id for _, dart in found)
        raise Stuck(
            say("there is more than one {label}: say which, {marks}", label=found[0][1].label, marks=marks), parameter
        )
    return found[0]


def place_on(pattern: Pattern, place: Place, parameter: str) -> tuple[Piece, Spot]:
    """Where a place of a document lies on the pattern. Raises :class:`Lost` or :class:`Stuck`."""
    ref = reference(place.edge)
    hits = pattern.edges(ref)
    if not hits:
        raise Lost(ref, "edge", parameter)
    edges = [(pattern.pieces[p], pattern.pieces[p].edges[e]) for p, e in hits]
    whole = sum(edge.path.length for _, edge in edges)
    at = whole * place.share if place.share is not None else float(place.mm or 0.0)
    if place.share is None and place.end == "end":
        at = whole - at
    if not -1e-6 <= at <= whole + 1e-6:
        raise Stuck(say("the {edge} is only {whole} long", edge=said(place.edge), whole=Length(whole)), parameter)
    for piece, edge in edges:
        length = edge.path.length
        if at <= length + 1e-9 or edge is edges[-1][1]:
            share = min(max(at / length, 0.0), 1.0)
            return piece, Spot(edge.name, edge.u_at(1 - share if edge.backwards else share))
        at -= length
    raise AssertionError("unreachable: a run has edges")


class Corner(Protocol):
    """A corner as a document names it: an end of an edge."""

    @property
    def edge(self) -> str:
        """The edge, by reference."""
        ...

    @property
    def end(self) -> str:
        """Which of its ends: ``start`` or ``end``."""
        ...


def corner_on(pattern: Pattern, corner: Corner, parameter: str) -> tuple[Piece, int]:
    """The piece of a corner, and the index of the edge that begins there in outline order. Raises :class:`Lost`."""
    ref = reference(corner.edge)
    hits = pattern.edges(ref)
    if not hits:
        raise Lost(ref, "edge", parameter)
    number, index = hits[0] if corner.end == "start" else hits[-1]
    piece = pattern.pieces[number]
    begins = piece.edges[index].backwards == (corner.end == "end")
    return piece, index if begins else (index + 1) % len(piece.edges)


def said_corner(corner: Corner) -> Sentence:
    """A corner as a maker says it."""
    return say("the {end} of the {edge}", end=corner.end, edge=said(corner.edge))


def said_place(place: Place) -> Sentence:
    """A place as a maker says it."""
    if place.share is not None:
        return say("the {edge}, {share} along", edge=said(place.edge), share=f"{place.share:.0%}")
    return say(
        "the {edge}, {at} from its {end}", edge=said(place.edge), at=Length(float(place.mm or 0.0)), end=place.end
    )


def measurable(pattern: Pattern) -> Pattern:
    """The pattern without promises about what is no longer there: edges that went, a fold that was opened."""

    def there(promise: Promise) -> bool:
        """Whether what is promised can still be measured."""
        try:
            pattern.promised(promise)
        except CaddetError:
            return False
        folds = [one for one in promise.of if isinstance(one, FromFold)]
        return all(piece.fold for one in folds for piece in pattern.parts(one.piece))

    return replace(pattern, promises=tuple(one for one in pattern.promises if there(one)))


def only_runs(roles: Collection[str], why: str) -> Callable[[Pattern, Mapping[str, Any]], str]:
    """What a step's ``refuses`` says of chosen edges that have none of some roles."""

    def refuses(pattern: Pattern, chosen: Mapping[str, Any]) -> str:
        """Why a chosen edge is not the wanted one."""
        edges = chosen_edges(pattern, chosen.get("edges") or ())
        return "" if all(piece.run(key)[0].role in roles for piece, key in edges) else why

    return refuses


def _sewn_to(pattern: Pattern, piece: Piece, key: str, *, bands: bool = False) -> str:
    """The label of the piece that a whole run is sewn to; "" when a part of it is free, or (``bands``) a band holds it."""
    table, mates = pattern.sewn(), ""
    number = next(n for n, one in enumerate(pattern.pieces) if one.name == piece.name)
    for place, edge in enumerate(piece.edges):
        if edge.name != key:
            continue
        found = [(seam, layer) for seam, layer in table.get((number, place), ()) if not seam.one_sided]
        if not found:
            return ""
        seam, layer = found[0]
        others = [one for n, one in enumerate(seam.layers) if n != layer]
        hits = [hit[0] for parts in others for part in parts for hit in _pieces_of(pattern, part.ref)]
        if bands and hits and piece.role not in BANDS and all(one.role in BANDS for one in hits):
            return ""
        labels = [one.label for one in hits]
        mates = mates or next(iter(labels), piece.label)
    return mates


def _pieces_of(pattern: Pattern, ref: Reference) -> list[tuple[Piece, Edge]]:
    return [(pattern.pieces[p], pattern.pieces[p].edges[e]) for p, e in pattern.edges(replace(ref, mirrored=False))]


def on_free_edges(pattern: Pattern, chosen: Mapping[str, Any], *, bands: bool = False) -> str:
    """What a step that finishes an edge says of chosen ones that are sewn to another piece or lie on a fold."""
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        run = own_name(key).replace("_", " ")
        if any(edge.finish == "fold" for edge in piece.run(key)):
            return say("the {run} of the {piece} is a fold", run=run, piece=piece.label.lower())
        if mate := _sewn_to(pattern, piece, key, bands=bands):
            return say(
                "the {run} of the {piece} is sewn to the {other}",
                run=run,
                piece=piece.label.lower(),
                other=mate.lower(),
            )
    return ""


def on_seams(pattern: Pattern, chosen: Mapping[str, Any]) -> str:
    """What a step that is worked in a seam says of chosen edges that are sewn to nothing; a fold can become a seam."""
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        loose = not any(edge.finish in ("fold", "opening") for edge in piece.run(key))
        if loose and not _sewn_to(pattern, piece, key):
            return say(
                "the {run} of the {piece} is in no seam", run=own_name(key).replace("_", " "), piece=piece.label.lower()
            )
    return ""


@contextmanager
def refused_as_stuck(parameter: str) -> Iterator[None]:
    """What a verb refuses is a value of the step that makes no sense: the one it names, else this one."""
    try:
        yield
    except Refused as refused:
        raise Stuck(str(refused), refused.about or parameter) from refused


def lower_where(what: str, values: Mapping[str, Any]) -> Sentence:
    """How a line lies that is lower or higher in front, at the sides and behind: ``hem: front 2.0 cm lower``."""
    found = [(name, by) for name in ("front", "side", "back") if (by := float(values.get(name, 0.0)))]
    if not found:
        return say(what + " as it is")
    words = ", ".join(f"{name} {{{name}}} {'lower' if by > 0 else 'higher'}" for name, by in found)
    return say(what + ": " + words, **{name: Length(abs(by)) for name, by in found})
