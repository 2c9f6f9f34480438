"""What becomes of the seams of an edge that a step made longer or shorter: gathered, eased or pleated in, or left to be seen."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.pattern.finding import said
from caddet.core.pattern.ids import base_name
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import BANDS
from caddet.core.pattern.seams import Join, JoinKind, Layer, Seam
from caddet.core.pattern.stuck import Stuck
from caddet.core.recipe.context import OF_THE_BODY
from caddet.core.sentences import Length, Sentence, say

KINDS: Mapping[str, JoinKind] = {"gathered": "gathered", "pleated": "pleated", "eased": "eased"}

ALIKE = 1.0  # mm by which both sides of a seam may differ and have changed alike; a walk lets more pass, but it is told


def joined_as(
    pattern: Pattern, piece: str, changed: Mapping[str, float], how: str, place: str
) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pattern with the seams of changed runs of a piece (key → mm longer) sewn as said, and what has to be told.

    ``loose`` leaves the seams as they are: the walk then shows by how much they differ. An edge that is in no seam
    has nothing to be gathered into, and that is told. A piece that was fitted to the edge holds it and stays as it is;
    where the seams are left as they are, it is fitted again by itself.
    """
    findings: list[Finding] = []
    for key, by in changed.items():
        if abs(by) < 1e-6:
            continue
        found = [
            (seam, n)
            for seam in pattern.seams
            for n, layer in enumerate(seam.layers)
            if _lies(pattern, layer, piece, key)
        ]
        fitted, drawn = _fitted_to(pattern, key)
        if not found and by > 0 and how in KINDS:
            words = say(
                "The {edge} is {by} longer and is in no seam that would hold the fullness.",
                edge=said(key),
                by=Length(by),
            )
            findings.append(Finding("step.fullness", words, place, "look"))
        for seam, number in found:
            others = {part.ref.piece for part in seam.parts()}
            follows = others & drawn or (others & fitted and not (by > 0 and how in KINDS))
            if follows or seam.closes() or len(seam.layers) != 2:
                continue
            if by > 0 and how in KINDS:
                if held := holds_others(pattern, pattern.piece(piece), key):
                    raise Stuck(held, "edges")
                fits = (fit.holding(pattern) if fit.piece in fitted and _on(fit, key) else fit for fit in pattern.fits)
                pattern = replace(pattern, fits=tuple(fits))
                pattern = pattern.with_seam(_held(pattern, seam, number, KINDS[how]))
            elif seam.kind == "plain" and not _meets(pattern, seam):
                words = say(
                    "{seam}: the {edge} is {by} {more} than before; its other side has to follow.",
                    seam=seam.label,
                    edge=said(key),
                    by=Length(abs(by)),
                    more="longer" if by > 0 else "shorter",
                )
                findings.append(Finding("step.seam", words, place, "look"))
    return pattern, tuple(findings)


def _meets(pattern: Pattern, seam: Seam) -> bool:
    """Whether both sides of a plain seam are as long as each other, both having changed alike."""
    one, other = (pattern.length(layer) for layer in seam.layers[:2])
    return abs(one - other) <= ALIKE


def holds_others(pattern: Pattern, piece: Piece, key: str) -> Sentence:
    """What is said of fullness let into the edge of a band that another piece is sewn to; "" where it may be."""
    if piece.role not in BANDS:
        return say("")
    for seam in pattern.seams:
        for layer, other in (seam.layers[:2], seam.layers[1::-1]) if len(seam.layers) == 2 else ():
            held = [f.piece for f in pattern.what_is_left(other)]
            if _lies(pattern, layer, piece.name, key) and held and not any(one.role in BANDS for one in held):
                return say(
                    "the {band} holds the {piece} and keeps its length: let the fullness into the {piece} instead",
                    band=piece.label.lower(),
                    piece=held[0].label.lower(),
                )
    return say("")


def meant(pattern: Pattern, how: str) -> tuple[str, ...]:
    """What a step means to change that makes an edge longer: the measures, and held in its seam also that edges agree."""
    return (*OF_THE_BODY, *(one.name for one in pattern.promises)) if how in KINDS else OF_THE_BODY


def _lies(pattern: Pattern, layer: Layer, piece: str, key: str) -> bool:
    """Whether a run of a piece is in a layer of a seam, on this or the other side of the body."""
    return any(one.piece.name == piece and one.edge.name == key for part in layer for one in pattern.fragments(part))


def _fitted_to(pattern: Pattern, key: str) -> tuple[set[str], set[str]]:
    """The pieces that were solved to the length of a run, and those that were drawn from its shape."""
    found = [fit for fit in pattern.fits if _on(fit, key)]
    return {fit.piece for fit in found if fit.draw is None}, {fit.piece for fit in found if fit.draw is not None}


def _on(fit: Fit, key: str) -> bool:
    return any(part.ref.name == base_name(key) for layer in fit.edges for part in layer)


def _held(pattern: Pattern, seam: Seam, number: int, kind: JoinKind) -> Seam:
    """The seam with one of its two layers gathered, eased or pleated onto the other."""
    layers = seam.layers if number == 1 else seam.layers[::-1]
    base, full = (pattern.length(layer) for layer in layers)
    amount = full / base if kind == "gathered" else full - base
    was = seam.joins[0]
    before = was.wanted(base) if number == 1 else was.wanted_of_first(base)
    let_in = max(full / before, 1.0) * (was.let_in if number == 1 else 1.0) if before > 0 else 1.0
    return replace(seam, layers=layers, joins=(Join(kind, amount, let_in),))
