"""What is looked at after every step: whether each piece can be cut, sewn and laid as the step left it.

A finding stands only for what this step made so: what was wrong before it was told by the step that did it.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

import shapely

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.segments import dot, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import base_name, maker_of, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.context import Context
from caddet.core.sentences import Length, Sentence, say

SEAM = 15.0  # mm: a usual seam allowance; a new edge nearer to another one leaves no room for both
ENDS = 40.0  # mm of a new edge from its ends that are not looked at: there it meets the others
BENT = 0.3  # mm by which a fold may leave the straight line
MEETING = 30.0  # mm: darts on both sides of a seam that were this near are meant to meet
OFF = 3.0  # mm by which they may miss each other
UNHELD = ("hem", "casing", "slit", "opening", "raw")  # finishes of edges that hold no dart shut


def judged(before: Pattern, after: Pattern, context: Context, place: str) -> list[Finding]:
    """Everything that a step made worth a look, with its place in the recipe."""
    found = [*_unsound(before, after, place), *_too_wide(before, after, context, place)]
    old = {piece.name: piece for piece in before.pieces}
    for piece in after.pieces:
        was = old.get(piece.name)
        if was is piece:
            continue
        earlier = [was] if was is not None else [one for one in before.pieces if one.made == piece.made]
        known = {(code, about) for one in earlier for code, about, _ in _remarks(one, context)}
        found += [
            Finding(code, words, place, "look")
            for code, about, words in _remarks(piece, context)
            if (code, about) not in known
        ]
    changed = {piece.name for piece in after.pieces if piece.darts and old.get(piece.name) is not piece}
    missed = _missed(after, changed) if changed else []
    if missed:
        already = {name for name, _ in _missed(before, {piece.name for piece in before.pieces})}
        found += [Finding("step.missed", words, place, "look") for name, words in missed if name not in already]
    return found


def unheld(pattern: Pattern) -> list[Finding]:
    """Gathers at edges that nothing holds, when all is done: each a finding at the step that made them."""
    found = []
    sewn = pattern.sewn()
    for p, piece in enumerate(pattern.pieces):
        for feature in piece.features:
            end = feature.bits[0].a if feature.bits else 0j
            if not feature.role.startswith("gathers") or not isinstance(end, Spot):
                continue
            if not any((p, e) in sewn for e, edge in enumerate(piece.edges) if edge.name == end.edge):
                words = say(
                    "The gathers at the {edge} of the {piece} are in no seam that would hold the fullness.",
                    edge=own_name(end.edge).replace("_", " "),
                    piece=piece.label.lower(),
                )
                found.append(Finding("step.fullness", words, f"recipe[{maker_of(feature.name)}]", "look"))
    return found


def _remarks(piece: Piece, context: Context) -> Iterator[tuple[str, str, Sentence]]:
    """What is to be said of one piece as it is: a code, what of it that is about (a dart, an edge), and the words."""
    label = piece.label.lower()
    for edge in piece.edges:
        if edge.finish == "fold" and _bend(edge) > BENT:
            yield (
                "step.fold",
                edge.name,
                say("The fold of the {piece} is no longer straight, so it can't be laid on one.", piece=label),
            )
        if edge.finish == "opening" and _on_the_fold(piece, edge):
            words = say(
                "The opening of the {piece} lies on the fold: a zip needs a seam. Give it a seam in the centre.",
                piece=label,
            )
            yield "step.opening", edge.name, words
    for dart in piece.darts:
        start = piece.legs(dart.id)[0]
        beside = piece.edges[start - 1]
        if beside.finish in UNHELD:
            words = say(
                "The {dart} of the {piece} opens at an edge that no seam holds ({edge}): it would not stay shut.",
                dart=dart.label,
                piece=label,
                edge=beside.own.replace("_", " "),
            )
            yield "step.dart", dart.name, words
    if near := _nearest_cut(piece, context.id):
        words = say(
            "The new edge of the {piece} comes within {near} of another edge: two seams need {room} between them.",
            piece=label,
            near=Length(near),
            room=Length(2 * SEAM),
        )
        yield "step.near", context.id, words
    yield from _shaped_beside(piece, context.id)


def _shaped_beside(piece: Piece, step: str) -> Iterator[tuple[str, str, Sentence]]:
    """A contour dart that comes too near an edge which this step cut to be sewn beside its seam."""
    fresh = [edge.path for edge in piece.edges if edge.own == "cut" and maker_of(edge.name) == step]
    for feature in piece.features if step else ():
        if feature.kind != "contour_dart" or not fresh:
            continue
        corners = [piece.where(bit.a) for bit in feature.bits]
        near = min(path.nearest(corner)[0] for path in fresh for corner in corners)
        if near < SEAM:
            words = say(
                "The {dart} of the {piece} comes within {near} of its new edge, where a seam needs {room}: let the line run through both its points, or beside it.",
                dart=feature.label.lower(),
                piece=piece.label.lower(),
                near=Length(near),
                room=Length(SEAM),
            )
            yield "step.near", feature.name, words


def _bend(edge: Edge) -> float:
    """How far an edge leaves the straight line between its ends, in mm."""
    a, b = edge.path.start, edge.path.end
    if abs(b - a) < 1e-6:
        return 0.0
    across = unit(b - a) * 1j
    return max(abs(dot(point - a, across)) for point in edge.path.flattened(0.2))


def _on_the_fold(piece: Piece, edge: Edge) -> bool:
    """Whether an edge runs on from a fold in one line with it."""
    at = next(n for n, one in enumerate(piece.edges) if one is edge)
    for other in (piece.edges[at - 1], piece.edges[(at + 1) % len(piece.edges)]):
        if other.finish == "fold" and abs(dot(edge.path.start_direction, other.path.end_direction * 1j)) < 0.01:
            return True
    return False


def _nearest_cut(piece: Piece, step: str) -> float:
    """The distance in mm from an edge that this step cut to another of the piece, where that is too little; else 0."""
    fresh = [edge for edge in piece.edges if base_name(edge.name) == f"{step}.cut"]
    if not fresh or not step:
        return 0.0
    nearest = 2 * SEAM
    for edge in fresh:
        middle = edge.path.between(ENDS, edge.path.length - ENDS) if edge.path.length > 2.5 * ENDS else None
        if middle is None:
            continue
        line = shapely.LineString([(p.real, p.imag) for p in middle.flattened(0.5)])
        for other in piece.edges:
            if other is not edge and not other.dart and other.name != edge.name:
                beside = shapely.LineString([(p.real, p.imag) for p in other.path.flattened(0.5)])
                nearest = min(nearest, line.distance(beside))
    return nearest if nearest < 2 * SEAM - 0.5 else 0.0


def _missed(pattern: Pattern, pieces: Collection[str]) -> list[tuple[str, Sentence]]:
    """Darts on the two sides of a seam of some pieces that nearly meet and don't, with the seam and darts as a name."""
    found = []
    for seam in pattern.seams:
        if len(seam.layers) != 2 or seam.kind in ("gathered", "pleated"):
            continue
        try:
            sides = [pattern.layer_fragments(layer) for layer in seam.layers]
        except CaddetError:
            continue
        if not any(fragment.piece.name in pieces for side in sides for fragment in side):
            continue
        first, second = map(_dart_places, sides)
        for name, at in first:
            close = min(((abs(other - at), other_name) for other_name, other in second), default=None)
            if close is not None and OFF < close[0] < MEETING:
                words = say(
                    "Darts on both sides of the seam {seam} miss each other by {off}: move one so that they run on.",
                    seam=seam.label,
                    off=Length(close[0]),
                )
                found.append((f"{seam.name} {name} {close[1]}", words))
    return found


def _dart_places(fragments: Sequence[Fragment]) -> list[tuple[str, float]]:
    """The darts that open on a layer, and how far along it, in mm with darts shut."""
    found, passed = [], 0.0
    for fragment in fragments:
        edges = fragment.piece.edges
        after = edges[(fragment.index + (-1 if fragment.backwards else 1)) % len(edges)]
        passed += fragment.length
        if after.dart:
            found.append((after.dart, passed))
    return found


def _across(piece: Piece) -> float:
    """How much room a piece takes across the grain, in mm; a half on the fold twice."""
    if piece.grain.kind == "any":
        return 0.0
    way = unit(piece.grain.b - piece.grain.a) * (1 if piece.grain.kind in ("across", "stretch") else 1j)
    places = [dot(point, way) for point in piece.polygon(1.0)]
    return (max(places) - min(places)) * (2 if piece.fold else 1)


def _too_wide(before: Pattern, after: Pattern, context: Context, place: str) -> list[Finding]:
    """The pieces that were not too wide for the main cloth before this step and are now: said here, not at the lay."""
    width, old = context.cloth.width, {piece.name: piece for piece in before.pieces}
    found = []
    for piece in after.pieces:
        was = old.get(piece.name)
        if was is not piece and _across(piece) > width and (was is None or _across(was) <= width):
            words = say(
                "The {piece} is now {wide} wide and the cloth only {width}: it needs a seam or a wider cloth.",
                piece=piece.label.lower(),
                wide=Length(_across(piece)),
                width=Length(width),
            )
            found.append(Finding("step.wide", words, place, "look"))
    return found


def _unsound(before: Pattern, after: Pattern, place: str) -> list[Finding]:
    """The pieces that can't be cut and were sound, or not there, before this stage."""
    found = []
    old = {piece.name: piece for piece in before.pieces}
    for piece in after.pieces:
        earlier = old.get(piece.name)
        if earlier is piece or not (sentence := fault(piece)):
            continue
        if earlier is None or not fault(earlier):
            found.append(
                Finding("step.shape", say("{sentence} This step made it so.", sentence=sentence), place, "stops")
            )
    return found
