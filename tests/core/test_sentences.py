"""Sentences: a template with typed arguments, told for a unit and by the templates of another language."""

from __future__ import annotations

import ast
import pickle
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core import library as library
from caddet.core.errors import CaddetError, InputError
from caddet.core.lengths import format_length
from caddet.core.recipe.registry import BLOCKS, STEPS
from caddet.core.sentences import Length, Sentence, joined, say, told
from tests.making import DATA


@pytest.mark.parametrize(
    ("sentence", "cm", "inches"),
    [
        (
            say("The skirt is {short} short.", short=Length(101.6)),
            "The skirt is 10.2 cm short.",
            'The skirt is 4" short.',
        ),
        (say("An A-line wants {8 to 13 cm}."), "An A-line wants 8 to 13 cm.", 'An A-line wants 3 1/4 to 5".'),
        (say("By {1–2 cm}."), "By 1–2 cm.", 'By 3/8–3/4".'),
        (say("Less than {0.5 cm}"), "Less than 0.5 cm", 'Less than 3/16"'),
        (say("{low} and {high}", low=Length(445, bare=True), high=Length(1600)), "44.5 and 160.0 cm", '17 1/2 and 63"'),
        (say("Move it {by}", by=Length(-25.4, sign=True)), "Move it −2.5 cm", 'Move it −1"'),
        (
            say("“{name}” is {off} off.", name="5 cm band", off=Length(25.4)),
            "“5 cm band” is 2.5 cm off.",
            '“5 cm band” is 1" off.',
        ),
        (say("{a} {b}", a="{b}", b=2.0), "{b} 2", "{b} 2"),
        (
            say("{why} It ends.", why=say("It is {long}.", long=Length(254))),
            "It is 25.4 cm. It ends.",
            'It is 10". It ends.',
        ),
        (joined([say("{one}", one=Length(254)), "all"]), "25.4 cm, all", '10", all'),
        (say("one {a}", a=Length(254)).capital(), "One 25.4 cm", 'One 10"'),
    ],
)
def test_a_sentence_is_told_for_a_unit(sentence: Sentence, cm: str, inches: str) -> None:
    assert sentence == cm and told(sentence, "cm") == cm and told(sentence, "in") == inches
    again = pickle.loads(pickle.dumps(sentence))
    assert again == sentence and told(again, "in") == inches


@given(st.floats(min_value=0, max_value=5000))
def test_a_sentence_says_the_same_inches_as_a_field(mm: float) -> None:
    assert (
        told(say("It is {so} long.", so=Length(mm)), "in") == f"It is {format_length(mm, 'in', with_unit=True)} long."
    )


def test_a_sentence_stays_one_in_errors_and_when_it_is_added_to() -> None:
    sentence = say("It is {long} long.", long=Length(254))
    assert told(str(CaddetError(sentence)), "in") == 'It is 10" long.'
    assert told(str(InputError(sentence, "row 3")), "in") == 'row 3: It is 10" long.'
    assert told("Look: " + sentence + " So.", "in") == 'Look: It is 10" long. So.'
    assert told(say("{error}!", error=CaddetError(sentence)), "in") == 'It is 10" long.!'


def test_another_language_needs_its_templates_only() -> None:
    german = {
        "The neck is {long} round, {3 cm} less than the head.": "{3 cm} enger als der Kopf: der Hals misst {long}.",
        "front": "Vorderteil",
        "{label} lies flat.": "{label} liegt flach.",
    }
    neck = say("The neck is {long} round, {3 cm} less than the head.", long=Length(400))
    assert told(neck, "cm", german) == "3 cm enger als der Kopf: der Hals misst 40.0 cm."
    assert told(say("{label} lies flat.", label="front"), "cm", german) == "Vorderteil liegt flach."
    assert told("front", "cm", german) == "Vorderteil" and told(neck, "in") != told(neck, "in", german)


@pytest.mark.parametrize("kind", sorted(STEPS))
def test_a_step_is_described_once_for_every_unit(kind: str) -> None:
    step = STEPS[kind]
    usual = step.shown_values({})
    sentence = step.describe(usual)
    assert isinstance(sentence, Sentence)
    shown = [one for one in step.parameters if one.kind == "length" and one.means(usual)]
    if any(one.name in ("amount", "height", "depth", "by", "width", "over", "lower") for one in shown):
        assert "cm" in told(sentence, "cm") and "cm" not in told(sentence, "in") and '"' in told(sentence, "in")


def _texts(tree: ast.AST) -> list[tuple[int, str]]:
    """Every text of a module that is neither a docstring nor part of a template, with its line."""
    inside = {
        id(one)
        for node in ast.walk(tree)
        if isinstance(node, ast.Expr)
        for one in ast.walk(node.value)
        if isinstance(node.value, ast.Constant)
    }
    return [
        (node.lineno, node.value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in inside
    ]


# of a physical test square, of typed examples, of the file's schema
ON_PURPOSE = ("every side is 10 cm", "92.4 cm", "10 cm to 13 cm is 0.3")


@pytest.mark.parametrize(
    "path", sorted((DATA.parent.parent / "src/caddet/core").rglob("*.py")), ids=lambda path: path.stem
)
def test_no_text_of_the_core_holds_a_length_that_can_not_be_told_in_inches(path: Path) -> None:
    """A length stands in a template as ``{4 cm}`` or as an argument; formulas of figures are no sentences."""
    if path.stem in ("lengths", "sentences"):
        return  # that is where lengths are written
    for line, text in _texts(ast.parse(path.read_text())):
        bare = re.sub(r"\{[^{}]*\}", "", text)
        if not any(words in text for words in ON_PURPOSE):
            assert not re.search(r"\d cm\b|^ cm\b", bare), (path.name, line, text)


def test_blocks_say_their_lengths_in_both_units() -> None:
    said = [option.why for block in BLOCKS.values() for option in block.options] + [
        f.reason for b in BLOCKS.values() for f in b.figures
    ]
    assert not [words for words in said if re.search(r"\d cm\b", told(words, "in"))]
