"""A pattern as its stored form, and back: nothing that a piece carries is lost on the way.

What leans on a recipe stays behind: the fits (a stored band is the band it is), and which step meant to change a promise
(the promise stands as it was changed).
"""

from __future__ import annotations

import cmath
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any, cast

from pydantic import ValidationError

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion, Point
from caddet.core.geometry.segments import Segment as Drawn
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.features import Bit, Dart, End, Feature, FigureLine, Notch, Spot
from caddet.core.pattern.ids import reference
from caddet.core.pattern.notions import Notion, Share
from caddet.core.pattern.pattern import Opening, Pattern, Shown
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.promises import Across, FromFold, Girth, Measurement, Promise, Run
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.pattern.soundness import fault
from caddet.core.recipe import stored
from caddet.core.recipe.entries import PiecesSource
from caddet.core.recipe.stored import SaidLength, Segment, StoredLayer, StoredPiece, StoredSpot, Words, end_of
from caddet.core.recipe.values import FARTHEST
from caddet.core.sentences import Length, Sentence, flat, say

# --- a pattern as it is stored --------------------------------------------------------------------


def stored_pattern(pattern: Pattern, label: str = "") -> PiecesSource:
    """A pattern as a source of a recipe. Raises :class:`CaddetError` when one of its pieces can't be cut as it is."""
    meant: dict[str, float] = {}
    for one in pattern.meant:
        meant[one.promise] = meant.get(one.promise, 0.0) + one.amount
    return PiecesSource(
        label=label[:80],
        pieces=tuple(map(stored_piece, pattern.pieces)),
        seams=tuple(map(_seam, pattern.seams)),
        promises=tuple(_promise(one, meant.get(one.name, 0.0)) for one in pattern.promises),
        notions=tuple(map(_notion, pattern.notions)),
        openings=tuple(map(_opening, pattern.openings)),
        shown=tuple(map(_shown, pattern.shown)),
    )


def stored_piece(piece: Piece) -> StoredPiece:
    """A piece with all that it carries. Raises :class:`CaddetError` when it can't be cut as it is."""
    try:
        return _stored_piece(piece)
    except ValidationError as error:
        why = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
        raise CaddetError(say("the {label} can't be stored: {why}", label=piece.label.lower(), why=why)) from error


def _stored_piece(piece: Piece) -> StoredPiece:
    return StoredPiece(
        id=piece.name,
        label=_words(piece.label),
        start=_corner(piece.edges[0].path.start),
        edges=tuple(map(_edge, piece.edges)),
        darts=tuple(
            stored.StoredDart(id=one.id, label=_words(one.label), pressed=one.pressed, role=one.role)
            for one in piece.darts
        ),
        notches=tuple(
            stored.StoredNotch(edge=one.edge, u=one.u, double=one.double, name=_words(one.name))
            for one in piece.notches
        ),
        features=tuple(map(_feature, piece.features)),
        grain=stored.StoredGrain(
            a=_corner(piece.grain.a), b=_corner(piece.grain.b), kind=piece.grain.kind, tolerance=piece.grain.tolerance
        ),
        cuts=tuple(stored.StoredCut(cloth=one.cloth, count=one.count) for one in piece.cuts),
        pair=piece.pair,
        also=piece.also,
        remark=_words(piece.remark),
        figures=tuple(stored.StoredFigure(figure=one.figure, bit=_bit(one.bit)) for one in piece.figures),
        zero=piece.zero,
        role=piece.role,
        covers=piece.covers,
        side=piece.side,
        down=_corner(piece.down),
        source=piece.source,
    )


def _corner(point: Point) -> tuple[float, float]:
    return float(point.real), float(point.imag)  # a number of numpy's is not stored


def _words(text: str) -> Words:
    """Words as they are; with lengths in them as a template, so that they can be said in another unit."""
    found = flat(text) if isinstance(text, Sentence) else None
    if found is None:
        return "".join(text)  # without its template
    template, arguments = found
    args = {
        name: SaidLength(mm=one.mm, sign=one.sign, bare=one.bare, rough=one.rough) if isinstance(one, Length) else one
        for name, one in arguments.items()
    }
    return stored.Said(say=template, args=args)


def _edge(edge: Edge) -> stored.StoredEdge:
    return stored.StoredEdge(
        id=edge.id,
        path=tuple(part for segment in edge.path.segments for part in _segments(segment)),
        finish=edge.finish,
        dart=edge.dart,
        pairs=edge.pairs,
        why=_words(edge.why),
        allowance=edge.allowance,
        role=edge.role,
    )


def _segments(segment: Drawn) -> list[Segment]:
    match segment:
        case Line():
            return [_corner(segment.end)]
        case Arc() if max(abs(segment.centre.real), abs(segment.centre.imag)) < FARTHEST:
            return [(*_corner(segment.centre), float(segment.sweep))]
        case Arc():  # nearly straight
            return [part for curve in segment.cubics() for part in _segments(curve)]
    return [(*_corner(segment.out), *_corner(segment.into), *_corner(segment.end))]


def _end(end: End) -> stored.End:
    return StoredSpot(edge=end.edge, u=end.u) if isinstance(end, Spot) else _corner(end)


def _bit(bit: Bit) -> stored.StoredBit:
    return _end(bit.a), _end(bit.b)


def _feature(one: Feature) -> stored.StoredFeature:
    return stored.StoredFeature(
        kind=one.kind,
        name=one.name,
        label=_words(one.label),
        bits=tuple(map(_bit, one.bits)),
        towards=one.towards,
        role=one.role,
    )


def _layer(layer: Layer) -> StoredLayer:
    return tuple(
        stored.StoredPart(edge=str(one.ref), backwards=one.backwards, low=one.low, high=one.high) for one in layer
    )


def _seam(seam: Seam) -> stored.StoredSeam:
    return stored.StoredSeam(
        name=seam.name,
        label=_words(seam.label),
        layers=tuple(map(_layer, seam.layers)),
        joins=tuple(stored.StoredJoin(kind=one.kind, amount=one.amount, let_in=one.let_in) for one in seam.joins),
        tolerance=seam.tolerance,
        corners=seam.corners,
        one_sided=seam.one_sided,
        sewn=_words(seam.sewn),
        role=seam.role,
    )


def _promise(one: Promise, meant: float) -> stored.StoredPromise:
    return stored.StoredPromise(
        name=one.name,
        label=_words(one.label),
        of=tuple(map(_measurement, one.of)),
        target=one.target + meant,
        why=_words(one.why),
        kind=one.kind,
        tolerance=one.tolerance,
    )


def _measurement(one: Measurement) -> stored.StoredMeasurement:
    match one:
        case Run():
            return stored.StoredRun(ref=str(one.ref), times=one.times, worn=one.worn)
        case Girth():
            return stored.StoredGirth(level=one.level, times=one.times, source=one.source)
        case Across():
            return stored.StoredAcross(piece=one.piece, feature=one.feature, times=one.times)
    spot = StoredSpot(edge=one.spot.edge, u=one.spot.u)
    return stored.StoredFromFold(piece=one.piece, spot=spot, times=one.times)


def _notion(one: Notion) -> stored.StoredNotion:
    return stored.StoredNotion(
        name=one.name,
        kind=one.kind,
        label=_words(one.label),
        count=one.count,
        pack=one.pack,
        sold=one.sold,
        along=tuple(stored.StoredShare(layer=_layer(s.layer), times=s.times, label=_words(s.label)) for s in one.along),
        plus=tuple((_words(words), mm) for words, mm in one.plus),
    )


def _opening(one: Opening) -> stored.StoredOpening:
    return stored.StoredOpening(
        name=one.name, label=_words(one.label), edges=_layer(one.edges), around=one.around, slit=one.slit
    )


def _shown(one: Shown) -> stored.StoredShown:
    motion = stored.StoredMotion(
        turn=_corner(one.motion.turn), shift=_corner(one.motion.shift), mirror=one.motion.mirror
    )
    return stored.StoredShown(
        view=one.view, piece=one.piece, motion=motion, both=one.both, clip=one.clip, squeeze=one.squeeze
    )


# --- and back -------------------------------------------------------------------------------------


def pattern_of(source: PiecesSource) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pattern that a source stores; what can't be sewn is a finding. Raises nothing."""
    place = f"recipe[{source.id}]"
    pieces = tuple(map(piece_of, source.pieces))
    findings = [Finding("draft.shape", sentence, piece.name, "stops") for piece in pieces if (sentence := fault(piece))]
    pattern = Pattern(pieces)
    for given in source.seams:
        seam = seam_of(given)
        gone = [str(part.ref) for part in seam.parts() if not pattern.fragments(part)]
        if not gone:
            pattern = replace(pattern, seams=(*pattern.seams, seam))
            continue
        sentence = say(
            "The seam {label} can't be sewn: there is no edge “{edge}” here.", label=seam.label, edge=gone[0]
        )
        findings.append(Finding("draft.seam", sentence, place, "look"))
    return replace(
        pattern,
        promises=tuple(map(_promise_of, source.promises)),
        notions=tuple(map(_notion_of, source.notions)),
        openings=tuple(
            Opening(one.name, _said(one.label), _layer_of(one.edges), one.around, one.slit) for one in source.openings
        ),
        shown=tuple(map(_shown_of, source.shown)),
    ), tuple(findings)


def piece_of(one: StoredPiece) -> Piece:
    """The piece that is stored. Raises nothing for one that could be read."""
    ref = reference(one.id)
    at = start = complex(*one.start)
    edges: list[Edge] = []
    for number, edge in enumerate(one.edges):
        segments: list[Drawn] = []
        for part in edge.path:
            segments.append(_drawn(at, part))
            at = end_of(at, part)
        if number == len(one.edges) - 1 and at != start:
            segments[-1] = _ending(segments[-1], start)
        name = reference(edge.id)
        edges.append(
            Edge(
                name.key,
                Path(tuple(segments)),
                cast(Finish, edge.finish),
                edge.dart,
                name.marks,
                edge.pairs,
                _said(edge.why),
                edge.allowance,
                edge.role,
            )
        )
    return Piece(
        ref.key,
        _said(one.label),
        tuple(edges),
        tuple(_dart_of(dart) for dart in one.darts),
        tuple(Notch(n.edge, n.u, n.double, _said(n.name)) for n in one.notches),
        tuple(
            Feature(f.kind, f.name, _said(f.label), tuple(map(_bit_of, f.bits)), f.towards, f.role)
            for f in one.features
        ),
        Grain(complex(*one.grain.a), complex(*one.grain.b), one.grain.kind, one.grain.tolerance),
        tuple(Cut(cut.cloth, cut.count) for cut in one.cuts),
        one.pair,
        ref.marks,
        one.also,
        _said(one.remark),
        tuple(FigureLine(f.figure, _bit_of(f.bit)) for f in one.figures),
        one.zero,
        one.role,
        one.covers,
        one.side,
        complex(*one.down),
        one.source,
    )


def _dart_of(dart: stored.StoredDart) -> Dart:
    ref = reference(dart.id)
    return Dart(ref.key, _said(dart.label), dart.pressed, ref.marks, dart.role)


def _said(words: Words) -> str:
    if isinstance(words, str):
        return words
    args: Mapping[str, Any] = {
        name: one if isinstance(one, str) else Length(one.mm, one.sign, one.bare, one.rough)
        for name, one in words.args.items()
    }
    return Sentence(words.say, **args)


def _drawn(start: Point, part: Segment) -> Drawn:
    if len(part) == 2:
        return Line(start, complex(*part))
    if len(part) == 3:
        centre = complex(part[0], part[1])
        return Arc(centre, abs(start - centre), cmath.phase(start - centre), part[2])
    return Cubic(start, complex(*part[:2]), complex(*part[2:4]), complex(*part[4:]))


def _ending(segment: Drawn, end: Point) -> Drawn:
    """A segment drawn to a point a hair from its end; an arc ends where it ends."""
    return segment if isinstance(segment, Arc) else replace(segment, end=end)


def _end_of(end: stored.End) -> End:
    return Spot(end.edge, end.u) if isinstance(end, StoredSpot) else complex(*end)


def _bit_of(bit: stored.StoredBit) -> Bit:
    return Bit(_end_of(bit[0]), _end_of(bit[1]))


def _layer_of(layer: Iterable[stored.StoredPart]) -> Layer:
    return tuple(Part(reference(one.edge), one.backwards, one.low, one.high) for one in layer)


def seam_of(given: stored.StoredSeam) -> Seam:
    """The seam that is stored."""
    layers = tuple(map(_layer_of, given.layers))
    joins = tuple(Join(one.kind, one.amount, one.let_in) for one in given.joins)
    return Seam(
        given.name,
        _said(given.label),
        layers,
        (*joins, *(Join() for _ in layers[len(joins) + 1 :])),
        given.tolerance,
        given.corners,
        given.one_sided,
        _said(given.sewn),
        given.role,
    )


def _promise_of(one: stored.StoredPromise) -> Promise:
    return Promise(
        one.name,
        _said(one.label),
        tuple(map(_measurement_of, one.of)),
        one.target,
        _said(one.why),
        one.kind,
        one.tolerance,
    )


def _measurement_of(one: stored.StoredMeasurement) -> Measurement:
    match one:
        case stored.StoredRun():
            return Run(reference(one.ref), one.times, one.worn)
        case stored.StoredGirth():
            return Girth(one.level, one.times, one.source)
        case stored.StoredAcross():
            return Across(one.piece, one.feature, one.times)
    return FromFold(one.piece, Spot(one.spot.edge, one.spot.u), one.times)


def _notion_of(one: stored.StoredNotion) -> Notion:
    along = tuple(Share(_layer_of(s.layer), s.times, _said(s.label)) for s in one.along)
    plus = tuple((_said(words), mm) for words, mm in one.plus)
    return Notion(one.name, one.kind, _said(one.label), along, plus, one.count, one.pack, one.sold)


def _shown_of(one: stored.StoredShown) -> Shown:
    motion = Motion(complex(*one.motion.turn), complex(*one.motion.shift), one.motion.mirror)
    return Shown(one.view, one.piece, motion, one.both, one.clip, one.squeeze)
