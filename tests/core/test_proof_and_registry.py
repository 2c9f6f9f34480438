"""What blocks and steps declare, and what the proof makes of a pattern."""

from __future__ import annotations

from dataclasses import replace

import pytest

from caddet.core.errors import CaddetError, Finding
from caddet.core.figures.language import names_in, parse
from caddet.core.fitting.proof import prove
from caddet.core.formats.listing import proof_listing
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.ids import reference
from caddet.core.pattern.promises import Girth, Promise, Run
from caddet.core.pattern.seams import Seam, part
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.registry import BLOCKS, STEPS, Parameter, block_named, register_block, register_step
from caddet.core.recipe.values import Number
from tests.making import document, made, person, step

SKIRT = BLOCKS["skirt.straight"]


CLOTH_NAMES = ("stretch", "stretch_along", "cloth_width")  # every formula sees the cloth


def test_every_block_declares_what_it_uses() -> None:
    for block in BLOCKS.values():
        known = {*block.needs, *block.uses, *(f"ease_{e.level}" for e in block.ease), *CLOTH_NAMES}
        for option in block.options:
            known |= {f"{option.name}_{name}" for name, _ in option.choices} or {option.name}
        for figure in block.figures:
            assert names_in(parse(figure.formula)) <= known, figure.name
            assert figure.label and figure.reason.endswith(".") and figure.source
            known.add(figure.name)
        assert block.about.endswith(".")


def test_every_step_declares_defaults_that_it_accepts() -> None:
    for step_ in STEPS.values():
        assert step_.why.endswith(".")
        values = step_.values({})
        assert set(values) == {parameter.name for parameter in step_.parameters}
        words = step_.describe(values)
        assert words and not words.endswith(".")


def test_names_are_taken_only_once() -> None:
    with pytest.raises(CaddetError, match="two blocks"):
        register_block(SKIRT)
    with pytest.raises(CaddetError, match="two steps"):
        register_step(STEPS["slit"])
    with pytest.raises(CaddetError, match=r"there are: .*skirt\.straight"):
        block_named("hat")


@pytest.mark.parametrize(
    ("kind", "good", "bad"),
    [
        ("length", 50, [600, -1, "wide", True, float("nan")]),
        ("number", 10.5, [1e9, "x"]),
        ("flag", True, [1.0, "yes"]),
        ("choice", "a", ["c", 3.0, False]),
        ("count", 4, [2.5, -1, "x"]),
        ("ratio", 0.5, [600, None]),
    ],
)
def test_parameters_check_what_they_are_given(kind: str, good: object, bad: list[object]) -> None:
    parameter = Parameter("p", "P", kind, "a" if kind == "choice" else 0.0, 0.0, 500.0, (("a", "A"), ("b", "B")))  # type: ignore[arg-type]
    assert parameter.checked(good) == good  # type: ignore[arg-type]
    for value in bad:
        with pytest.raises(CaddetError):
            parameter.checked(value)  # type: ignore[arg-type]
        assert parameter.or_default(value) == parameter.default  # type: ignore[arg-type]


def test_worst_comes_first_and_everything_says_where_and_why() -> None:
    result = make(
        EvaluateRequest(
            edits.set_override(
                document(None, step("lengthen", pieces=("front",), at=400.0, amount=20.0)), "zip_length", "5cm"
            )
        )
    )
    order = {"fails": 0, "look": 1, "holds": 2}
    ranks = [order[line.verdict] for line in result.proof]
    assert ranks == sorted(ranks) and ranks[0] == 0
    for line in result.proof:
        assert line.sentence.endswith(".") and line.place
    listing = proof_listing(result)["proof"]
    assert {entry["kind"] for entry in listing} >= {"gate", "closure", "seam", "join"}
    assert [entry["holds"] for entry in listing] == [line.verdict != "fails" for line in result.proof]


def test_a_step_after_the_draft_that_breaks_a_closure_is_told() -> None:
    result = made(step("lengthen", pieces=("back",), at=400.0, amount=15.0))
    failing = {line.name for line in result.proof if line.verdict == "fails"}
    assert failing == {"side"} and {line.kind for line in result.proof if line.name == "side" and line.fails} == {
        "closure",
        "seam",
    }


def test_closures_and_seams_that_lost_an_edge_are_looked_at_not_crashed_on() -> None:
    pattern = made().pattern
    assert pattern is not None
    broken = replace(
        pattern,
        promises=(
            Promise("gone", "Gone", (Run(reference("front.sleeve")),), 10.0),
            Promise("level", "Level", (Girth("bust"),), 10.0),
            Promise("kept", "Kept", (Run(reference("front.side"), 0.0),), 0.0),
        ),
        seams=(Seam("z", "Gone", ((part("front.sleeve"),), (part("back.side"),))),),
    )
    lines = prove(made().evaluated.sources, broken, (Finding("x.y", "A remark.", "here"),))
    assert {line.name: line.verdict for line in lines if line.name in ("gone", "level", "z", "x.y")} == dict.fromkeys(
        ("gone", "level", "z", "x.y"), "look"
    )
    assert next(line for line in lines if line.name == "kept").holds, "one failing check leaves the others"


def test_gates_that_cannot_be_checked_say_so() -> None:
    pattern = made().pattern
    assert pattern is not None
    without = replace(pattern, pieces=pattern.pieces[2:], seams=(), promises=())
    lines = prove(made().evaluated.sources, without)
    assert any(line.kind == "gate" and "can't be checked" in line.sentence.lower() for line in lines)


def test_a_remedy_may_carry_any_kind_of_change() -> None:
    changed = Remedy("all of it", step("slit"), ("hip_depth", "22cm"), ("length", 700.0), ("hip", 60.0)).apply(
        document()
    )
    recipe = changed.recipe
    assert recipe.steps[-1].kind == "slit" and recipe.overrides == {"hip_depth": "22cm"}
    assert recipe.options["length"] == Number(value=700.0) and recipe.ease == {"hip": 60.0}


def test_the_stride_gate_is_silent_without_the_measures_it_needs() -> None:
    bare = person().with_measure("height", None)
    assert "stride" not in {line.name for line in made(who=bare).proof}


@pytest.mark.parametrize("length", [450.0, 600.0, 800.0, 1000.0])
def test_the_stride_needed_grows_with_the_length(length: float) -> None:
    """Twice the stride at the height of the hem, by proportion from the hip: worked by hand."""
    who = person(stride=72, waist_to_floor=105)
    gate = next(line for line in made(who=who, length=length).proof if line.name == "stride")
    assert gate.limit == pytest.approx(2 * 720 * (length - 205) / (1050 - 205), rel=1e-6)
    assert gate.value == pytest.approx(1020, abs=0.5)
