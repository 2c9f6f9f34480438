"""References that find nothing say why, offer a way out, and never take anything else with them."""

from __future__ import annotations

import pytest

from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.promises import Girth
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.recipe.values import Place, References
from tests.making import document, person, pivot, step

DART = person(waist=84, hip=98)
MOVED = step("pivot_dart", **pivot("front.front_dart", "front.side", 120.0, 0.5))
AGAIN = step("pivot_dart", dart="front.front_dart[s2.2]", to=Place(edge="front.waist", mm=40.0), share=1.0)


def told(project: Document) -> list[str]:
    return [f.sentence for f in make(EvaluateRequest(project)).findings if f.code == "step.stuck"]


def test_a_step_that_leans_on_another_says_what_became_of_it() -> None:
    project = document(DART, MOVED, AGAIN)
    assert not told(project)
    first, second = project.recipe.steps
    assert told(edits.change_step(project, first.id, on=False)) == [
        "Pivot a dart: “front.front_dart[s2.2]” is made by step 1, which is off."
    ]
    assert told(edits.move_step(project, 0, 1)) == [
        "Pivot a dart: “front.front_dart[s2.2]” is made by step 2, which comes later; move this step behind it."
    ]
    assert told(edits.set_step(project, 0, None)) == [
        "Pivot a dart: “front.front_dart[s2.2]” was made by a step that has been taken out."
    ]
    failed = edits.change_step(project, first.id, values={**first.values, "to": Place(edge="front.side", mm=1.0)})
    assert told(failed)[1] == "Pivot a dart: “front.front_dart[s2.2]” is made by step 1, which could not be done."
    assert second.id == "s3"


def test_what_is_gone_since_or_was_never_there_is_told_apart() -> None:
    slit = step("slit", edges=("back.centre_back[s2.2]",), height=60.0)
    open_ = document(None, step("slit", edges=("back.centre_back",), height=120.0), slit)
    made = make(EvaluateRequest(open_))
    assert told(open_) == ["Open a slit: the centre back of the back has a slit already; change that step's height"]
    never = document(None, step("slit", edges=("back.sleeve",), height=60.0), step("flare", amount=20.0))
    assert told(never) == ["Open a slit: there is no edge “back.sleeve” in this garment."]
    assert not make(EvaluateRequest(never)).evaluated.outcomes[1].stuck, "the rest goes on"
    assert made.pattern is not None


def _remedies(made: Made) -> list[str]:
    return [remedy.label for line in made.proof if line.name == "step.stuck" for remedy in line.remedies]


def test_falling_back_to_the_whole_run_is_offered_never_done() -> None:
    marked = document(None, step("slit", edges=("back.centre_back[s9.1]",), height=60.0))
    made = make(EvaluateRequest(marked))
    assert made.evaluated.outcomes[0].stuck and _remedies(made) == ["Take the whole centre back instead"]
    line = next(line for line in made.proof if line.name == "step.stuck")
    mended = line.remedies[0].apply(marked)
    assert mended.recipe.steps[0].values["edges"] == References(kind="edges", refs=("back.centre_back",))
    assert not told(mended)


@pytest.mark.parametrize("amount", [20.0, -15.0])
def test_a_step_that_means_to_change_a_promise_says_so(amount: float) -> None:
    """The Proof counts what is meant as promised; what is off besides still fails."""
    from caddet.core.body.person import Person
    from tests.making import drafted, full_people

    who: Person = full_people()[2]
    made = drafted("swimsuit", who, steps=(step("lengthen", pieces=("front", "back"), at=60.0, amount=amount),))
    line = next(line for line in made.proof if line.name == "torso")
    assert line.holds and "Meant by step s2" in line.sentence
    assert line.limit == pytest.approx(made.sums["torso_round"].value + 2 * amount, abs=1.0)
    assert made.pattern is not None and [m.step for m in made.pattern.meant if m.promise == "torso"] == ["s2"]
    assert Girth("waist").measured(made.pattern) > 0
