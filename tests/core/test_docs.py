"""The pages that show code or commands are true."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from caddet.cli import _parser
from caddet.core.formats.block_docs import block_page
from caddet.core.formats.step_docs import own_page, step_page
from caddet.core.hands.gesture import begin
from caddet.core.hands.things import Thing
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import stored
from caddet.core.recipe.choices import LayChoices
from caddet.core.recipe.context import Context
from caddet.core.recipe.document import Accepted, CutRecord, PiecesSource, Recipe, StepEntry
from caddet.core.recipe.registry import BLOCKS, STEPS
from caddet.core.recipe.values import KINDS, Frozen
from tests.making import document, skirt

ROOT = Path(__file__).parent.parent.parent


@pytest.fixture
def registries() -> Iterator[None]:
    blocks, steps = dict(BLOCKS), dict(STEPS)
    yield
    for registry, before in ((BLOCKS, blocks), (STEPS, steps)):
        registry.clear()
        registry.update(before)  # type: ignore[call-overload]


def code_of(page: str) -> str:
    return "\n".join(re.findall(r"```python\n(.*?)```", (ROOT / "docs" / page).read_text(), re.S))


def test_the_block_in_the_docs_drafts_and_closes(registries: None) -> None:
    exec(compile(code_of("how-to-add-a-block.md"), "block", "exec"), {})
    made = make(EvaluateRequest(document().model_copy(update={"recipe": Recipe.of("example.mat")})))
    assert made.pattern is not None and all(line.holds for line in made.proof)
    assert made.pattern.piece("mat").run_length("top") == pytest.approx(190)
    assert {line.name for line in made.proof if line.kind == "closure"} == {"round", "middle"}


def test_the_step_in_the_docs_works(registries: None) -> None:
    exec(compile(code_of("how-to-add-a-step.md"), "step", "exec"), {})
    step, pattern = STEPS["example_grow"], skirt()
    moved = step.apply(pattern, Context(id="s2"), step.values(step.tagged({"by": 25.0}))).pattern
    before, after = (one.piece("front").outline().bounds()[3] for one in (pattern, moved))
    assert after == pytest.approx(before + 25) and step.fits(pattern) == ""
    hand = begin(step, pattern, Context(), (Thing("piece", "front"),))
    handle = next(one for one in hand.handles if one.parameter == "by")
    assert hand.moved(handle, handle.at + 12j).plain["by"] == 32, "the handle comes from what the parameter declares"


def test_the_promises_in_the_docs_are_measured_on_the_outline() -> None:
    room: dict[str, Any] = {}
    exec(compile(code_of("how-to-add-a-promise.md"), "promise", "exec"), room)
    pattern = room["with_promises"](skirt())
    assert all(abs(one.measured(pattern) - one.target) < 0.1 for one in pattern.promises)
    wider = replace(pattern, pieces=tuple(map(room["ten_percent_wider"], pattern.pieces)))
    hip = wider.promises[0]
    assert hip.measured(wider) == pytest.approx(hip.target * 1.1, rel=1e-4)


def test_every_command_and_flag_is_in_the_page() -> None:
    page = (ROOT / "docs/cli.md").read_text()
    commands = next(a for a in _parser()._actions if hasattr(a, "choices") and a.choices)
    for name, sub in commands.choices.items():  # type: ignore[union-attr, attr-defined]
        assert f"caddet {name}" in page
        for action in sub._actions:
            for flag in action.option_strings:
                assert flag in ("-h", "--help", "--output") or flag in page, (name, flag)


def test_the_readme_links_every_picture_and_only_pictures_that_are_there() -> None:
    readme = (ROOT / "README.md").read_text()
    shots = {path.name for path in (ROOT / "docs/screenshots").glob("*.png")}
    assert shots and len(shots) < 20
    assert set(re.findall(r"docs/screenshots/([\w-]+\.png)", readme)) == shots
    for link in re.findall(r"\]\(([\w./-]+)\)", readme):
        assert (ROOT / link).exists(), link


def test_the_file_format_page_names_every_field() -> None:
    page = (ROOT / "docs/file-format.md").read_text()
    dump = document().model_dump()
    for name in (
        *dump,
        *dump["recipe"],
        *dump["recipe"]["sources"][0],
        *StepEntry.model_fields,
        *dump["finishing"],
        *LayChoices.model_fields,
        *dump["cloths"][0],
        *dump["people"][0],
        *CutRecord.model_fields,
        *Accepted.model_fields,
        *KINDS,
        *(name for model in vars(stored).values() if _is_stored(model) for name in model.model_fields),
        *PiecesSource.model_fields,
    ):
        assert f"`{name}`" in page, name


def _is_stored(model: object) -> bool:
    return isinstance(model, type) and issubclass(model, Frozen) and model.__module__ == stored.__name__


def test_the_page_of_the_blocks_is_what_the_code_says() -> None:
    assert (ROOT / "docs/blocks.md").read_text() == block_page(), "run scripts/write-block-docs"


def test_the_page_of_the_steps_is_what_the_code_says() -> None:
    page = (ROOT / "docs/steps.md").read_text()
    assert page == step_page(), "run scripts/write-block-docs"
    assert all(f"`{kind}`" in page for kind in STEPS)
    assert (ROOT / "docs/own-pieces.md").read_text() == own_page(), "run scripts/write-block-docs"
