"""Fits: pieces that were solved to other edges are solved again when those edges change."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import CaddetError, Finding
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import say


def refitted(pattern: Pattern) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pattern with every fitted piece solved again whose edges have other lengths than it was solved for.

    A piece that a step has shaped since can't be solved again: its fit is loosened, with a finding.
    """
    findings: list[Finding] = []
    for fit in pattern.fits:
        try:
            changed = fit.changed(pattern)
        except CaddetError as error:
            findings.append(_loose(fit, say("what it was fitted to is gone ({error})", error=error)))
            pattern = without_fit(pattern, fit)
            continue
        if not changed:
            continue
        pattern, finding = _solved_again(pattern, fit)
        if finding is not None:
            findings.append(finding)
    return pattern, tuple(findings)


def _solved_again(pattern: Pattern, fit: Fit) -> tuple[Pattern, Finding | None]:
    found = [piece for piece in pattern.pieces if piece.name == fit.piece]
    if not found or not same_shape(found[0], fit.made):
        return without_fit(pattern, fit), _loose(fit, "a step has shaped it")
    try:
        made, now = fit.again(pattern)
    except CaddetError as error:
        return without_fit(pattern, fit), _loose(fit, say("it can't be solved for them: {error}", error=error))
    was = found[0]
    made = replace(
        made, made=was.made, label=was.label, role=was.role, covers=was.covers, side=was.side, source=was.source
    )
    if fit.draw is not None:
        made = _kept(made, was)
    fits = tuple(replace(now, made=made) if one is fit else one for one in pattern.fits)
    return replace(pattern.with_piece(made, fit.piece), fits=fits), None


def _kept(made: Piece, before: Piece) -> Piece:
    """A piece drawn anew, its edges finished, its notches and its cuts as they were."""
    was = {edge.name: edge for edge in reversed(before.edges)}
    edges = [
        replace(e, finish=was[e.name].finish, why=was[e.name].why, allowance=was[e.name].allowance)
        if e.name in was
        else e
        for e in made.edges
    ]
    return replace(made, edges=tuple(edges), notches=before.notches, cuts=before.cuts)


def same_shape(piece: Piece, made: Piece) -> bool:
    """Whether a piece is still as it was solved; marks that a step left on its edges do not count."""
    return len(piece.edges) == len(made.edges) and all(
        one.path == other.path for one, other in zip(piece.edges, made.edges, strict=True)
    )


def without_fit(pattern: Pattern, fit: Fit) -> Pattern:
    """The pattern with one fit loosened."""
    return replace(pattern, fits=tuple(one for one in pattern.fits if one is not fit))


def _loose(fit: Fit, why: str) -> Finding:
    label = fit.label or fit.piece
    return Finding(
        "step.fit",
        say(
            "The {label} no longer follows the edges it was fitted to: {why}. Its seams show what it is off by; move this step before the one that shaped it, or true the seam.",
            label=label.lower(),
            why=why,
        ),
    )
