"""Outlines of a document as pieces and seams, and back: pieces traced, imported, cut, or graded by rules."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import cast

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.curves import parts_of
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line
from caddet.core.pattern.edges import FINISHES, Edge, Finish
from caddet.core.pattern.features import Bit, Dart, Feature, Notch
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.entries import (
    Outline,
    OutlineEdge,
    OutlineLevel,
    OutlineNotch,
    OutlinePart,
    OutlineSeam,
    OutlineSource,
)
from caddet.core.sentences import say

# what an outline of a document calls the role of an edge, and what becomes of it
ROLES: Mapping[str, Finish] = {"hem": "hem", "fold": "fold", "opening": "opening", "slit": "slit", "edge": "turned"}
SAME = 1e-6  # mm
SAME_SHARE = 1e-10  # of a run; 1e-6 of a long one would be a thousandth of a millimetre
NEARLY = 0.05  # mm by which an outline may miss its beginning


def pattern_of(source: OutlineSource) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pieces and seams of a source of outlines; what can't be one is a finding. Raises nothing."""
    place = f"recipe[{source.id}]"
    pieces: list[Piece] = []
    findings: list[Finding] = []
    for outline in source.outlines:
        what = outline.label or outline.name
        try:
            piece = piece_of(outline)
        except (CaddetError, ArithmeticError, ValueError) as error:
            findings.append(
                Finding("draft", say("{what} can't be used: {error}.", what=what, error=error), place, "stops")
            )
            continue
        pieces.append(piece)
        if sentence := fault(piece):
            findings.append(Finding("draft.shape", sentence, piece.name, "stops"))
    pattern = Pattern(tuple(pieces))
    for given in source.seams:
        made = _seam(given)
        gone = [str(part.ref) for part in made.parts() if not pattern.fragments(part)]
        if gone:
            sentence = say(
                "The seam {label} can't be sewn: there is no edge “{edge}” here.", label=made.label, edge=gone[0]
            )
            findings.append(Finding("draft.seam", sentence, place, "look"))
            continue
        pattern = pattern.with_seam(made)
    return pattern, tuple(findings)


def _seam(given: OutlineSeam) -> Seam:
    layers = tuple(
        tuple(Part(reference(one.edge), one.backwards, one.low, one.high) for one in layer) for layer in given.layers
    )
    joins = (Join(given.kind, given.amount), *(Join() for _ in layers[2:]))
    return Seam(given.name, given.label or given.name.replace("_", " "), layers, joins, corners=given.corners)


def piece_of(outline: Outline) -> Piece:
    """The net piece of an outline. Raises :class:`CaddetError` when a part of it has no length."""
    at = complex(*outline.start)
    edges: list[Edge] = []
    for number, edge in enumerate(outline.edges):
        segments: list[Line | Cubic] = []
        for part in edge.segments:
            points = [complex(x, y) for x, y in zip(part[::2], part[1::2], strict=True)]
            if len(points) > 1 or abs(points[-1] - at) > SAME:
                segments.append(Line(at, points[0]) if len(points) == 1 else Cubic(at, *points))
            at = points[-1]
        start = complex(*outline.start)
        if number == len(outline.edges) - 1 and abs(at - start) > SAME:
            if segments and abs(at - start) <= NEARLY:  # a hair: the end is drawn to the beginning
                segments[-1] = replace(segments[-1], end=start)
            else:
                segments.append(Line(at, start))
        if not segments:
            raise CaddetError(say("the edge “{name}” has no length", name=edge.name))
        finish = cast(Finish, edge.finish) if edge.finish in FINISHES and edge.finish else ROLES.get(edge.role, "")
        edges.append(Edge(edge.name, Path(tuple(segments)), finish, edge.dart, why=edge.why))
    darts = tuple(
        Dart(f"{outline.name}.{name}") for name in dict.fromkeys(edge.dart for edge in outline.edges if edge.dart)
    )
    for dart in dict.fromkeys(edge.dart for edge in edges if edge.dart):
        last = max(n for n, other in enumerate(edges) if other.dart == dart)
        edges = [
            replace(e, name=f"{outline.name}.{dart}.leg_{'b' if n == last else 'a'}", dart=f"{outline.name}.{dart}")
            if e.dart == dart
            else e
            for n, e in enumerate(edges)
        ]
    piece = Piece(
        outline.name,
        outline.label or outline.name,
        _shared_out(edges, outline.name),
        darts,
        tuple(Notch(f"{outline.name}.{n.edge}", n.at, n.double, n.name) for n in outline.notches),
        grain=Grain(complex(*outline.grain[0]), complex(*outline.grain[1])),
        cuts=(Cut(outline.cloth, outline.count),),
        pair=outline.pair,
    )
    return replace(piece, features=tuple(_level(piece, one) for one in outline.levels))


def _level(piece: Piece, given: OutlineLevel) -> Feature:
    """A level between two places on the outline; an end that lies on no edge stays a point."""
    ends = []
    for x, y in (given.a, given.b):
        point = complex(x, y)
        off, key, along = min(
            (*piece.nearest_on_run(key, point)[:1], key, piece.nearest_on_run(key, point)[1]) for key in piece.runs()
        )
        ends.append(piece.spot_at(key, along) if off < 1.0 else point)
    return Feature("level", f"{piece.made}.{given.name}", given.name.replace("_", " "), (Bit(*ends),))


def _shared_out(edges: Sequence[Edge], piece: str) -> tuple[Edge, ...]:
    """The edges with their full names; those of one name are parts of one run, in outline order."""
    whole: dict[str, float] = {}
    for edge in edges:
        if not edge.dart:
            whole[edge.name] = whole.get(edge.name, 0.0) + edge.path.length
    passed: dict[str, float] = {}
    found = []
    for edge in edges:
        if edge.dart:
            found.append(edge)
            continue
        low = passed.get(edge.name, 0.0)
        high = passed[edge.name] = low + edge.path.length / whole[edge.name]
        found.append(replace(edge, name=f"{piece}.{edge.name}", pairs=((0.0, low), (1.0, high))))
    return tuple(found)


# --- a pattern as outlines ------------------------------------------------------------------------


def outlines_of(pattern: Pattern, label: str = "") -> OutlineSource:
    """The pieces and seams of a pattern as they are, without what made them: edges, darts, notches, levels, seams."""
    plain = _told_apart([piece.name for piece in pattern.pieces])
    names = {piece.name: name for piece, name in zip(pattern.pieces, plain, strict=True)}
    seams = _told_apart([seam.name for seam in pattern.seams])
    return OutlineSource(
        label=label[:80],
        outlines=tuple(_outline(piece, names[piece.name]) for piece in pattern.pieces),
        seams=tuple(_given(pattern, seam, names, name) for seam, name in zip(pattern.seams, seams, strict=True)),
    )


def _told_apart(texts: Sequence[str]) -> list[str]:
    """A plain name for each text, no two alike."""
    found: list[str] = []
    for text in texts:
        plain, number = _plain(text), 1
        while plain in found:
            number += 1
            plain = f"{_plain(text)[:76]}_{number}"
        found.append(plain)
    return found


def _plain(text: str) -> str:
    """A name of letters, digits and strokes: ``front[s5.2]`` becomes ``front_s5_2``, ``front'`` ``front_other``."""
    return re.sub(r"[^A-Za-z0-9]+", "_", text.replace("'", "_other")).strip("_")[:80]


def _edge_name(piece: Piece, key: str) -> str:
    """The name of a run on its outline; two runs of one own name are told apart by where they were made."""
    own = own_name(key)
    alike = sum(own_name(other) == own for other in piece.runs())
    return _plain(own if alike == 1 else key)


def _dart_name(piece: Piece, dart: str) -> str:
    """The own name of a dart; two of one own name are told apart by where they were made."""
    own = own_name(reference(dart).key)
    alike = sum(own_name(reference(one.id).key) == own for one in piece.darts)
    return _plain(own if alike == 1 else dart)


def _outline(piece: Piece, name: str) -> Outline:
    roles = {finish: role for role, finish in ROLES.items()}
    edges = []
    for edge in piece.edges:
        dart = _dart_name(piece, edge.dart) if edge.dart else ""
        role = "dart" if dart else roles.get(edge.finish, "seam" if not edge.finish else "edge")
        own = _plain(edge.name) if dart else _edge_name(piece, edge.name)
        finish = edge.finish if role == "edge" else ""
        segments = tuple(_drawn(edge.path))
        edges.append(
            OutlineEdge(name=own, role=role, dart=dart, finish=finish, why=str(edge.why)[:500], segments=segments)
        )
    start = piece.edges[0].path.start
    notches = []
    for notch in piece.notches:
        share = _share(piece, notch)
        if share is not None:
            notches.append(
                OutlineNotch(edge=_edge_name(piece, notch.edge), at=share, double=notch.double, name=notch.name[:80])
            )
    levels = []
    for feature in piece.features:
        lines = piece.drawn(feature) if feature.kind == "level" else []
        if lines:
            a, b = lines[0].start, lines[-1].end
            levels.append(OutlineLevel(name=_plain(own_name(feature.name)), a=(a.real, a.imag), b=(b.real, b.imag)))
    grain = ((piece.grain.a.real, piece.grain.a.imag), (piece.grain.b.real, piece.grain.b.imag))
    return Outline(
        name=name, label=str(piece.label)[:80], start=(start.real, start.imag), edges=tuple(edges), grain=grain,
        count=piece.cut, pair=piece.pair, cloth=piece.cuts[0].cloth, notches=tuple(notches), levels=tuple(levels),
    )  # fmt: skip


def _drawn(path: Path) -> list[tuple[float, ...]]:
    found: list[tuple[float, ...]] = []
    for part in parts_of(path):
        points = (part.end,) if isinstance(part, Line) else (part.out, part.into, part.end)
        found.append(tuple(value for point in points for value in (point.real, point.imag)))
    return found


def _stretch(piece: Piece, index: int) -> tuple[float, float]:
    """Where an edge begins on its run taken in outline order, and how long the whole run is, in mm."""
    key = piece.edges[index].name
    run = [(i, edge.path.length) for i, edge in enumerate(piece.edges) if edge.name == key and not edge.dart]
    return sum(length for i, length in run if i < index), sum(length for _, length in run)


def _share(piece: Piece, notch: Notch) -> float | None:
    """Where a notch is on its run, as a share in outline order; None when its stretch is cut away."""
    for index in piece.indices(reference(notch.edge)):
        at = piece.edges[index].share_at(notch.u)
        if at is not None:
            passed, whole = _stretch(piece, index)
            return min(max((passed + at * piece.edges[index].path.length) / whole, 0.0), 1.0)
    return None


def _given(pattern: Pattern, seam: Seam, names: Mapping[str, str], name: str) -> OutlineSeam:
    layers = tuple(tuple(_parts(pattern, layer, names)) for layer in seam.layers)
    kind, amount = seam.kind, seam.amount
    flat = [sum(one.length for one in pattern.layer_fragments(layer)) for layer in seam.layers[:2]]
    folded = [pattern.length(layer) for layer in seam.layers[:2]]
    if kind == "plain" and any(abs(a - b) > SAME for a, b in zip(flat, folded, strict=True)):
        kind, amount = "pleated", flat[1] - flat[0] - (folded[1] - folded[0])  # outlines have no pleats of their own
    return OutlineSeam(
        name=name, label=str(seam.label)[:80], layers=layers, kind=kind, amount=amount, corners=seam.corners
    )


def _parts(pattern: Pattern, layer: Layer, names: Mapping[str, str]) -> list[OutlinePart]:
    """The stretches of a layer on the new runs, those that follow each other on one run as one part."""
    found: list[OutlinePart] = []
    for fragment in pattern.layer_fragments(layer):
        passed, whole = _stretch(fragment.piece, fragment.index)
        low, high = ((passed + at) / whole for at in (fragment.low, fragment.high))
        edge = f"{names[fragment.piece.name]}.{_edge_name(fragment.piece, fragment.edge.name)}{_other(fragment)}"
        low, high = (0.0 if low < SAME_SHARE else low), (1.0 if high > 1 - SAME_SHARE else high)
        part = OutlinePart(edge=edge, backwards=fragment.backwards, low=low, high=high)
        last = found[-1] if found else None
        if last is not None and (last.edge, last.backwards) == (part.edge, part.backwards):
            if not part.backwards and abs(last.high - part.low) < SAME_SHARE:
                part = last.model_copy(update={"high": part.high})
                found.pop()
            elif part.backwards and abs(last.low - part.high) < SAME_SHARE:
                part = last.model_copy(update={"low": part.low})
                found.pop()
        found.append(part)
    return found


def _other(fragment: Fragment) -> str:
    return "'" if fragment.imagined else ""
