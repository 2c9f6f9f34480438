"""Properties of the skirt over many bodies, options and steps, found by hypothesis."""

from __future__ import annotations

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from caddet.core.body.person import Person
from caddet.core.finishing.finish import finish_piece
from caddet.core.formats.project import no_pictures, to_bytes
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Finishing
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import evaluate
from caddet.core.truing.walk import walk
from tests.making import document, polygon, skirt, step

SOME = settings(max_examples=60, deadline=None)
girths = st.floats(500, 1500)


@st.composite
def people(draw: st.DrawFn) -> Person:
    """Bodies as they may come: the hip from a little smaller to much larger than the waist."""
    waist = draw(girths)
    hip = waist + draw(st.floats(-80, 380))
    return Person.of(
        "P",
        {
            "waist": waist,
            "hip": max(hip, 450.0),
            "waist_to_hip": draw(st.floats(130, 280)),
            "height": draw(st.floats(1200, 2000)),
        },
    )


@SOME
@given(people(), st.sampled_from(["quarters", "seat"]), st.floats(0, 150), st.floats(450, 1100))
def test_any_plausible_body_closes_or_is_told_why_not(who: Person, school: str, flare: float, length: float) -> None:
    result = make(EvaluateRequest(document(who, school=school, flare=flare, length=length)))
    if result.pattern is None:
        (reason,) = [f for f in result.findings if f.severity == "stops"]
        assert reason.place and reason.sentence.endswith(".")
        return
    for line in result.proof:
        assert line.kind != "closure" or line.holds, (line.name, line.value, line.limit)
    for cut in result.cut:
        assert polygon(cut.piece.polygon()).is_valid
        assert polygon(cut.polygon()).is_valid or any(f.place == cut.piece.name for f in result.findings)
    assert all(walk(result.pattern, seam).holds for seam in result.pattern.seams)


@SOME
@given(st.floats(3, 60), st.floats(3, 60), st.floats(3, 60))
def test_any_sensible_allowances_give_a_cut_line_outside_the_stitch_line(seam: float, hem: float, side: float) -> None:
    for piece in skirt(school="seat", flare=50.0).pieces:
        finishing = Finishing(seam=seam, hem=hem, exceptions={f"{piece.name}.side": side})
        cut = polygon(finish_piece(piece, finishing).polygon())
        assert cut.is_valid
        net = polygon(piece.polygon())
        assert net.difference(cut.buffer(0.02)).area < 1
        assert cut.area > net.area


EDITS = st.one_of(
    st.builds(lambda v: lambda d: edits.set_measure(d, "hip", v), st.floats(800, 1300)),
    st.builds(lambda v: lambda d: edits.set_option(d, "length", v), st.floats(450, 1000)),
    st.builds(lambda v: lambda d: edits.set_ease(d, "waist", v), st.floats(-10, 60)),
    st.builds(lambda v: lambda d: edits.add_step(d, step("flare", amount=v)), st.floats(0, 90)),
    st.builds(lambda v: lambda d: edits.add_step(d, step("lengthen", at=400.0, amount=v)), st.floats(-40, 90)),
    st.builds(lambda v: lambda d: edits.add_step(d, step("slit", height=v)), st.floats(20, 160)),
    st.builds(lambda v: lambda d: edits.set_allowance(d, "front.side", v), st.floats(0, 40)),
)


@settings(max_examples=30, deadline=None)
@given(st.lists(EDITS, min_size=1, max_size=6))
def test_any_run_of_edits_evaluates_and_comes_back_from_its_file(changes: list[object]) -> None:
    current = document()
    for change in changes:
        current = change(current)  # type: ignore[operator]
    result = make(EvaluateRequest(current))
    assert result.pattern is not None and len(result.cut) == 3
    again = Document.model_validate_json(current.model_dump_json())
    assert again == current and to_bytes(again, no_pictures) == to_bytes(current, no_pictures)
    assert evaluate(again) == result.evaluated


@SOME
@given(st.floats(60, 200), st.floats(0.05, 0.95))
def test_a_step_and_the_measure_under_it_are_independent(amount: float, share: float) -> None:
    """A flare adds the same to the hem whatever the waist is: the recipe is made again on the new draft."""
    gained = []
    for waist in (740.0, 840.0):
        who = Person.of("P", {"waist": waist, "hip": 1000.0, "waist_to_hip": 205.0, "height": 1680.0})
        before, after = skirt(who=who), skirt(step("flare", amount=amount * share), who=who)
        gained.append(after.piece("front").run_length("hem") - before.piece("front").run_length("hem"))
    assert gained[0] == pytest.approx(gained[1], abs=8)


@SOME
@given(people(), st.floats(700, 1500))
def test_more_hip_never_makes_a_narrower_skirt(who: Person, hip: float) -> None:
    assume(hip > who.measures["hip"])
    wider = who.with_measure("hip", hip)
    first, second = (make(EvaluateRequest(document(p))).pattern for p in (who, wider))
    assume(first is not None and second is not None)
    assert first is not None and second is not None
    assert second.piece("front").run_length("hem") > first.piece("front").run_length("hem")
