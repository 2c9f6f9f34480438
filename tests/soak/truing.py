"""Truing and grading on all bodies: lines bent and blended again; what is looked at on clean pieces finds nothing; outlines."""

from __future__ import annotations

import math
import random

from caddet.core.designs import ORDER, design_named
from caddet.core.errors import CaddetError
from caddet.core.grading.sizes import redrafted
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.storing import pattern_of, stored_pattern
from caddet.core.truing.blend import _turned, blended
from caddet.core.truing.checks import troubles
from caddet.core.truing.joins import SMOOTH, Join, LineEnd, joins
from caddet.core.truing.walk import walk
from tests.making import document, full_people, whole_bodies
from tests.soak.figures import Figures

KEPT = 0.05  # mm by which a seam may change when a line over it is blended


def truing_rounds(name: str, seed: int = 1) -> Figures:
    """A block or design on everybody: every join bent and blended, every check on clean pieces, outlines and back."""
    figures, chance = Figures(), random.Random(seed)
    base = design_named(name).document if name in ORDER else document().model_copy(update={"recipe": Recipe.of(name)})
    for who in (*whole_bodies(), *full_people()):
        worn = Document.model_validate({**base.parts(), "people": (who,), "wearer": who.name})
        pattern = redrafted(worn, who).pattern
        if pattern is None:
            figures.counts["refused with a reason"] += 1
            continue
        figures.counts["bodies"] += 1
        said = f"{name} on {who.name}"
        figures.wrong += [f"{said}: {one.name} {one.sentence}" for one in troubles(pattern)][:2]
        for join in joins(pattern):
            _bend(figures, pattern, join, chance, said)
        _stored(figures, pattern, said)
    return figures


def _bend(figures: Figures, pattern: Pattern, join: Join, chance: random.Random, said: str) -> None:
    try:
        bent = pattern
        for end in {(e.piece, e.edge, e.at_end): e for e in join.ends}.values():
            turn = math.radians(chance.uniform(4, 12)) * chance.choice((-1, 1))
            bent = _turned(bent, LineEnd(end.piece, end.edge, end.at_end, turn))
        now = next(one for one in joins(bent) if (one.name, one.label) == (join.name, join.label))
        smooth = blended(bent, now)
    except CaddetError:
        figures.counts["bent so that the piece crosses itself"] += 1
        return
    figures.counts["lines blended"] += 1
    after = next(one for one in joins(smooth) if (one.name, one.label) == (join.name, join.label))
    figures.worst["degrees after blending"] = max(figures.worst.get("degrees after blending", 0.0), after.angle)
    if after.angle > SMOOTH:
        figures.wrong.append(f"{said}: {join.label} {now.angle:.1f} → {after.angle:.1f}")
    if join.seam:
        for layer in bent.seam(join.seam.removesuffix("'")).layers:
            off = abs(smooth.length(layer) - bent.length(layer))
            figures.worst["mm of a seam"] = max(figures.worst.get("mm of a seam", 0.0), off)
            if off > KEPT:
                figures.wrong.append(f"{said}: {join.label} changes its seam by {off:.2f}")


def _stored(figures: Figures, pattern: Pattern, said: str) -> None:
    """The same pieces and seams when they are stored and read again."""
    again, findings = pattern_of(stored_pattern(pattern))
    if findings:
        figures.wrong.append(f"{said}: stored, {findings[0].sentence}")
        return
    for one, two in zip(pattern.seams, again.seams, strict=True):
        for layer in range(1, len(one.layers)):
            off = abs(walk(pattern, one, layer).off - walk(again, two, layer).off)
            if off > 1e-6:
                figures.wrong.append(f"{said}: stored, {one.name} is off by {off:.3f}")
    figures.counts["stored and read again"] += 1
