"""The practice pieces: what is wrong with them is found, and mended by what is offered they pass and can be graded."""

from __future__ import annotations

from caddet.core.grading.sizes import nest_of
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.practice import SHORT, practice_document
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document


def open_lines(made: Made) -> list[str]:
    return [line.name for line in made.proof if not line.holds]


def mended(document: Document) -> Document:
    """Every line of the Proof put right by its first remedy."""
    for _ in range(6):
        line = next((one for one in make(EvaluateRequest(document)).proof if not one.holds), None)
        if line is None:
            return document
        assert line.remedies, (line.name, str(line.sentence))
        document = line.remedies[0].apply(document)
    raise AssertionError("it is never done")


def test_the_wrong_pair_is_found_and_nothing_else() -> None:
    made = make(EvaluateRequest(practice_document()))
    assert open_lines(made)[0] == "side" and all(name.startswith("side") for name in open_lines(made))
    side = next(line for line in made.proof if line.name == "side")
    assert abs(abs(side.value - side.limit) - SHORT) < 0.5


def test_what_is_offered_mends_it_and_it_is_graded() -> None:
    document = mended(practice_document())
    assert not open_lines(make(EvaluateRequest(document)))
    graded = edits.set_grading(document, way="measures", sizes=("84", "92", "100"), base="92")
    nest = nest_of(graded)
    assert [one.fails for one in nest.sizes] == [0, 0, 0]
    widths = [one.pattern.piece("front").outline().bounds()[2] for one in nest.sizes if one.pattern is not None]
    assert widths == sorted(widths) and widths[2] - widths[0] > 20
