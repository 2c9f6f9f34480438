"""The designs that ship, on all 268 bodies: every seam, join and section within tolerance, or a finding that says why not."""

from __future__ import annotations

from caddet.core.designs import design_named
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document
from tests.making import full_people, whole_bodies
from tests.soak.figures import Figures

MEASURED = ("seam", "join", "closure")


def design_rounds(name: str) -> Figures:
    """One design on everybody."""
    figures = Figures()
    document = design_named(name).document
    for who in (*whole_bodies(), *full_people()):
        figures.counts["bodies"] += 1
        worn = Document.model_validate({**document.parts(), "people": (who,), "wearer": who.name})
        try:
            made = make(EvaluateRequest(worn))
        except Exception as error:
            figures.wrong.append(f"{name} on {who.name}: {type(error).__name__}: {error}")
            continue
        if made.pattern is None:
            figures.counts["refused with a reason"] += 1
            continue
        stuck = [one.stuck for one in made.evaluated.outcomes if one.stuck]
        bad = [line for line in made.proof if line.kind in MEASURED and not line.holds]
        if not bad and not stuck:
            figures.counts["everything within tolerance"] += 1
        elif stuck:
            figures.counts["a step stuck, with its reason"] += 1
        else:
            figures.wrong += [
                f"{name} on {who.name}: {line.name} {line.value:.1f}/{line.limit:.1f}" for line in bad[:2]
            ]
    return figures
