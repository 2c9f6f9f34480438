"""What becomes of the seams of an edge that a step made longer or shorter: gathered, eased or pleated in, or left to be seen."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Join, JoinKind, Seam
from caddet.core.sentences import Length, say
from caddet.core.shaping.finding import said

KINDS: Mapping[str, JoinKind] = {"gathered": "gathered", "pleated": "pleated", "eased": "eased"}


def joined_as(
    pattern: Pattern, changed: Mapping[str, float], how: str, place: str
) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pattern with the seams of changed runs (key → mm longer) sewn as said, and what has to be told.

    ``loose`` leaves the seams as they are: the walk then shows by how much they differ. An edge that is in no seam
    has nothing to be gathered into, and that is told.
    """
    findings: list[Finding] = []
    for key, by in changed.items():
        if abs(by) < 1e-6:
            continue
        seams = [
            seam
            for seam in pattern.seams
            if any(part.ref.key.removesuffix("'") == key.removesuffix("'") for part in seam.parts())
        ]
        fitted = {
            fit.piece
            for fit in pattern.fits
            if any(p.ref.key.removesuffix("'") == key.removesuffix("'") for layer in fit.edges for p in layer)
        }
        if not seams and by > 0 and how in KINDS:
            findings.append(
                Finding(
                    "step.fullness",
                    say(
                        "The {edge} is {by} longer and is in no seam that would hold the fullness.",
                        edge=said(key),
                        by=Length(by),
                    ),
                    place,
                    "look",
                )
            )
        for seam in seams:
            if by > 0 and how in KINDS and not any(part.ref.piece in fitted for part in seam.parts()):
                pattern = pattern.with_seam(_held(pattern, seam, key, KINDS[how]))
            elif not fitted and seam.kind == "plain" and not seam.closes():
                findings.append(
                    Finding(
                        "step.seam",
                        say(
                            "{seam}: the {edge} is {by} {more} than before; its other side has to follow.",
                            seam=seam.label,
                            edge=said(key),
                            by=Length(abs(by)),
                            more="longer" if by > 0 else "shorter",
                        ),
                        place,
                        "look",
                    )
                )
    return pattern, tuple(findings)


def _held(pattern: Pattern, seam: Seam, key: str, kind: JoinKind) -> Seam:
    """The seam with the layer of a run gathered, eased or pleated onto the other one."""
    mine = next(
        n
        for n, layer in enumerate(seam.layers)
        if any(p.ref.key.removesuffix("'") == key.removesuffix("'") for p in layer)
    )
    if len(seam.layers) != 2 or seam.closes():
        return seam
    layers = seam.layers if mine == 1 else seam.layers[::-1]
    base, full = (pattern.length(layer) for layer in layers)
    amount = full / base if kind == "gathered" else full - base
    return replace(seam, layers=layers, joins=(Join(kind, amount),))
