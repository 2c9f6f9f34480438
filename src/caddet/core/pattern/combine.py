"""Patterns of several sources brought together: names kept apart by the source's id in front of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, End, Feature, Spot
from caddet.core.pattern.ids import Reference, base_name, reference
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Across, FromFold, Girth, Measurement, Run
from caddet.core.pattern.seams import Layer, Part


def prefixed(pattern: Pattern, prefix: str) -> Pattern:
    """The pattern with every name below a prefix; what names a thing follows.

    A seam or fit may name edges of pieces that this pattern doesn't have: those of what it is put beside, left as they are.
    """
    return renamed(pattern, lambda name: prefix + name, lambda name: name.removeprefix(prefix), prefix)


def without_prefix(pattern: Pattern, prefix: str) -> Pattern:
    """The pieces, seams and promises below a prefix, under their own names again."""
    kept = replace(
        pattern,
        pieces=tuple(piece for piece in pattern.pieces if piece.made.startswith(prefix)),
        seams=tuple(seam for seam in pattern.seams if seam.name.startswith(prefix)),
        promises=tuple(one for one in pattern.promises if one.name.startswith(prefix)),
        fits=(),
        shown=(),
    )
    return renamed(kept, lambda name: name.removeprefix(prefix), lambda name: prefix + name, "")


def renamed(pattern: Pattern, named: Callable[[str], str], back: Callable[[str], str], source: str = "") -> Pattern:
    """The pattern with other names for all that it has; what names a thing follows. ``back`` gives the name it had.

    ``source``: what stands in front of the names of its levels from now on (:class:`Girth`).
    """
    own = {piece.made for piece in pattern.pieces}
    here = own | {base_name(edge.name) for piece in pattern.pieces for edge in piece.edges}

    def ref(one: Reference) -> Reference:
        """A reference under the new name; to an edge of a piece that is not here, as it is."""
        elsewhere = "." in one.name and one.piece not in own
        return one if elsewhere and one.name not in here else replace(one, name=named(one.name))

    def of_id(text: str) -> str:
        """The name and marks of a piece or line under the new name."""
        return _of_id(text, named)

    def layer(parts: Layer) -> Layer:
        """A layer of a seam under the new names."""
        return tuple(Part(ref(p.ref), p.backwards, p.low, p.high) for p in parts)

    def measured(one: Measurement) -> Measurement:
        """A measurement under the new names."""
        match one:
            case Run():
                return replace(one, ref=ref(one.ref))
            case Girth():
                return replace(one, source=source)
            case Across():
                return replace(one, piece=of_id(one.piece))
            case FromFold():
                return replace(one, piece=of_id(one.piece), spot=Spot(named(one.spot.edge), one.spot.u))

    def fit(one: Fit) -> Fit:
        """A fit under the new names."""
        solve, draw = one.solve, one.draw
        return replace(
            one,
            piece=of_id(one.piece),
            edges=tuple(map(layer, one.edges)),
            made=_piece(one.made, named),
            solve=lambda lengths: _piece(solve(lengths), named),
            draw=None if draw is None else lambda now: _piece(draw(renamed(now, back, named)), named),
        )

    return Pattern(
        tuple(_piece(piece, named) for piece in pattern.pieces),
        tuple(replace(s, name=named(s.name), layers=tuple(map(layer, s.layers))) for s in pattern.seams),
        tuple(replace(p, name=named(p.name), of=tuple(map(measured, p.of))) for p in pattern.promises),
        tuple(map(fit, pattern.fits)),
        tuple(replace(s, piece=of_id(s.piece)) for s in pattern.shown),
        tuple(replace(m, promise=named(m.promise)) for m in pattern.meant),
        tuple(
            replace(n, name=named(n.name), along=tuple(replace(s, layer=layer(s.layer)) for s in n.along))
            for n in pattern.notions
        ),
        tuple(
            replace(
                o,
                name=named(o.name),
                edges=layer(o.edges),
                slit=(of_id(o.slit[0]), named(o.slit[1])) if o.slit else None,
            )
            for o in pattern.openings
        ),
    )


def _of_id(text: str, named: Callable[[str], str]) -> str:
    found = reference(text)
    return str(replace(found, name=named(found.name)))


def _piece(piece: Piece, named: Callable[[str], str]) -> Piece:
    def end(one: End) -> End:
        """A place under the new names."""
        return Spot(named(one.edge), one.u) if isinstance(one, Spot) else one

    def edge(one: Edge) -> Edge:
        """An edge under its new name."""
        return replace(one, name=named(one.name), dart=_of_id(one.dart, named) if one.dart else "")

    def feature(one: Feature) -> Feature:
        """A feature under its new name."""
        return replace(one, name=named(one.name), bits=tuple(Bit(end(b.a), end(b.b)) for b in one.bits))

    return replace(
        piece,
        made=named(piece.made),
        edges=tuple(map(edge, piece.edges)),
        also=tuple(_of_id(text, named) for text in piece.also),
        darts=tuple(replace(d, name=named(d.name)) for d in piece.darts),
        features=tuple(map(feature, piece.features)),
        notches=tuple(replace(n, edge=named(n.edge)) for n in piece.notches),
        figures=(),
    )


def beside(pattern: Pattern, more: Pattern) -> Pattern:
    """Both patterns as one."""
    return replace(
        pattern,
        pieces=(*pattern.pieces, *more.pieces),
        seams=(*pattern.seams, *more.seams),
        promises=(*pattern.promises, *more.promises),
        fits=(*pattern.fits, *more.fits),
        shown=(*pattern.shown, *more.shown),
        meant=(*pattern.meant, *more.meant),
        notions=(*pattern.notions, *more.notions),
        openings=(*pattern.openings, *more.openings),
    )
