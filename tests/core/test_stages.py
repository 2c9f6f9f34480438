"""Evaluation in stages: faults stay where they were made, several sources, formulas in steps, accepted findings."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pytest

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError, Finding
from caddet.core.fitting.proof import ProofLine, prove
from caddet.core.formats.listing import proof_listing
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.ids import Reference, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.soundness import fault
from caddet.core.pipeline import make
from caddet.core.recipe import edits, stages
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.document import BlockSource, Document, PiecesSource, Recipe
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import BLOCKS, STEPS, Parameter, Step, register_step
from caddet.core.recipe.values import Formula, Number, Place, References
from tests.making import document, drafted, pivot, step
from tests.soak.editing import ODD_STEP, SQUARE

DEMO = demo_document()


def _twisted(pattern: Pattern, context: Context, values: Any) -> Result:
    """The first piece with two of its edges exchanged, so that its outline crosses itself."""
    piece = pattern.pieces[0]
    path = piece.edges[0].path
    away = replace(piece.edges[0], path=path.reversed())
    return Result(pattern.with_piece(replace(piece, edges=(away, *piece.edges[1:]))))


@pytest.fixture
def odd_steps() -> Iterator[None]:
    def raising(error: BaseException) -> Any:
        def apply(pattern: Pattern, context: Context, values: Any) -> Result:
            raise error

        return apply

    kinds = {
        "zero": raising(ZeroDivisionError("nothing to divide by")),
        "key": raising(KeyError("gone")),
        "deep": raising(RecursionError()),
        "twist": _twisted,
    }
    for kind, apply in kinds.items():
        amount = Parameter("amount", "Amount", "length", 1.0, 0.0, 500.0)
        register_step(Step(kind, kind.title(), "Odd.", (amount,), apply, lambda values, unit: "odd"))
    yield
    for kind in kinds:
        del STEPS[kind]


def test_whatever_a_step_raises_is_a_finding_at_it_and_the_rest_goes_on(odd_steps: None) -> None:
    steps = (step("zero"), step("lengthen", amount=20.0), step("key"), step("deep"), step("flare", amount=20.0))
    made = make(EvaluateRequest(document(None, *steps)))
    assert [bool(one.stuck) for one in made.evaluated.outcomes] == [True, False, True, True, False]
    assert [f.place for f in made.findings if f.code == "step.stuck"] == ["recipe[s2]", "recipe[s4]", "recipe[s5]"]
    plain = make(EvaluateRequest(document(None, step("lengthen", amount=20.0), step("flare", amount=20.0))))
    assert made.pattern == plain.pattern


def test_a_fault_in_shape_is_laid_at_the_step_that_made_it(odd_steps: None) -> None:
    made = make(EvaluateRequest(document(None, step("lengthen", amount=20.0), step("twist"), step("slit"))))
    shapes = [f for f in made.findings if f.code in ("step.shape", "draft.shape")]
    assert [f.place for f in shapes] == ["recipe[s3]"] and shapes[0].severity == "stops"
    assert any(line.fails and line.place == "recipe[s3]" for line in made.proof)


def test_two_darts_that_touch_at_a_point_are_no_fault_but_a_crossing_is() -> None:
    shared = make(
        EvaluateRequest(document(None, step("pivot_dart", **pivot("front.front_dart", "front.side", 100.0, 0.5))))
    )
    assert shared.pattern is not None and not [f for f in shared.findings if f.code == "step.shape"]
    front = make(EvaluateRequest(document())).pattern.piece("front")  # type: ignore[union-attr]
    assert not fault(front) and fault(_twisted(Pattern((front,)), Context(), {}).pattern.pieces[0])


def test_an_amount_may_be_a_formula_over_measures_and_figures() -> None:
    def lengthened(amount: object) -> Document:
        return document(None, step("lengthen", amount=amount))

    plain, formula = (make(EvaluateRequest(lengthened(x))) for x in (49.0, Formula(text="hip / 20")))
    assert plain.pattern == formula.pattern
    wider = make(EvaluateRequest(edits.set_measure(lengthened(Formula(text="hip / 20")), "hip", 1100.0)))
    assert wider.pattern != formula.pattern
    figure = make(EvaluateRequest(lengthened(Formula(text="front_dart_length / 2"))))
    assert not [f for f in figure.findings if f.code == "step.stuck"]
    for text, words in (
        ("hip / 0", "division by zero"),
        ("hip +", "stops short"),
        ("2", "must come out as a length"),
        ("no_such / 2", "no “no_such”"),
        ("hip * 90", "not between"),
    ):
        stuck = [f for f in make(EvaluateRequest(lengthened(Formula(text=text)))).findings if f.code == "step.stuck"]
        assert len(stuck) == 1 and words in stuck[0].sentence and stuck[0].place == "recipe[s2].amount", text


@pytest.mark.parametrize(
    ("values", "parameter"),
    [
        ({"height": References(kind="seam")}, "height"),
        ({"edges": Number(value=3.0)}, "edges"),
        ({"edges": References(kind="edges", refs=("back.centre_back[s3.1]",))}, "edges"),
        ({"edges": References(kind="edges", refs=("front.side", "back.side"))}, "edges"),
        ({"edges": Place(edge="back.centre_back", share=7.0)}, "edges"),
        ({"odd": Number(value=1.0)}, "odd"),
        ({"edges": References(kind="pieces", refs=("gone",))}, "edges"),
        ({"height": Number(value=1e5)}, "height"),
    ],
)
def test_a_value_of_the_wrong_kind_is_a_finding_at_its_parameter(values: dict[str, Any], parameter: str) -> None:
    slit = step("slit", height=100.0)
    made = make(
        EvaluateRequest(document(None, slit.model_copy(update={"values": {**slit.values, **values}}), step("flare")))
    )
    assert [f.place for f in made.findings if f.code == "step.stuck"] == [f"recipe[s2].{parameter}"]
    assert not made.evaluated.outcomes[1].stuck


def test_two_blocks_and_outlines_make_one_garment_each_judged_by_itself() -> None:
    two = edits.add_source(DEMO, BlockSource(block="trousers.tailored"))
    two = edits.add_source(two, PiecesSource(label="Pocket", pieces=(SQUARE,), after=two.recipe.steps[0].id))
    made = make(EvaluateRequest(two))
    assert made.pattern is not None
    names = [piece.name for piece in made.pattern.pieces]
    trousers = f"{two.recipe.sources[1].id}_front"
    assert {"front", trousers, f"{two.recipe.sources[2].id}_square"} <= set(names) and len(set(names)) == len(names)
    letters = [seam.name for seam in made.pattern.seams]
    assert len(set(letters)) == len(letters) and {c.piece.name for c in made.cut} == set(names)
    gates = [line.name for line in made.proof if line.kind == "gate"]
    assert "stride" in gates and any(name.startswith(f"{two.recipe.sources[1].id}_") for name in gates)
    assert [f.code for f in made.findings] == [f.code for f in make(EvaluateRequest(DEMO)).findings] or made.findings
    alone = make(EvaluateRequest(edits.change_source(two, two.recipe.sources[1].id, on=False)))
    assert alone.pattern is not None and trousers not in [piece.name for piece in alone.pattern.pieces]
    with pytest.raises(Exception, match="no step"):
        edits.add_source(DEMO, PiecesSource(after="s99"))


def test_a_source_behind_a_step_moves_up_when_that_is_taken_out() -> None:
    two = edits.add_source(DEMO, PiecesSource(pieces=(SQUARE,), after=DEMO.recipe.steps[1].id))
    order = [stage.id for stage in two.recipe.stages()]
    assert order == ["b1", "s2", "s3", "b5", "s4"]
    assert [s.id for s in edits.set_step(two, 1, None).recipe.stages()] == ["b1", "s2", "b5", "s4"]
    assert edits.set_step(edits.set_step(two, 1, None), 0, None).recipe.sources[1].after == ""


def test_outlines_alone_are_a_garment_and_a_bad_one_is_told() -> None:
    only = begin_with(DEMO, Recipe(sources=(PiecesSource(pieces=(SQUARE,)),), next_id=2))
    made = make(EvaluateRequest(only))
    assert made.pattern is not None and made.pattern.piece("square").run_length("top") == pytest.approx(100.0)
    assert made.pattern.piece("square").run("side")[0].path.length > 40 and made.cut
    top, side, hem = SQUARE.edges
    crossing = SQUARE.model_copy(
        update={
            "edges": (
                top,
                hem.model_copy(update={"path": ((0.0, 100.0), (100.0, 100.0))}),
                side.model_copy(update={"path": ((0.0, 0.0),)}),
            )
        }
    )
    told = make(EvaluateRequest(begin_with(DEMO, Recipe(sources=(PiecesSource(pieces=(crossing,)),), next_id=2))))
    assert any(f.severity == "stops" for f in told.findings)
    nothing = make(EvaluateRequest(DEMO.model_copy(update={"recipe": Recipe()})))
    assert nothing.pattern is None and "Choose a block" in nothing.findings[0].sentence


def test_an_id_is_never_given_twice() -> None:
    many = DEMO
    seen = {entry.id for entry in (*DEMO.recipe.sources, *DEMO.recipe.steps)}
    for _ in range(5):
        many = edits.add_step(many, ODD_STEP)
        assert many.recipe.steps[-1].id not in seen
        seen.add(many.recipe.steps[-1].id)
        many = edits.set_step(many, len(many.recipe.steps) - 1, None)
    fresh = begin_with(many, Recipe.of("leggings", steps=(step("flare"),)))
    assert not {e.id for e in (*fresh.recipe.sources, *fresh.recipe.steps)} & seen


def test_a_reference_is_a_name_and_a_set_of_marks() -> None:
    one = reference("front.side[s5.1,s3.2]'")
    assert one == Reference("front.side", frozenset({"s3.2", "s5.1"}), True) and (one.piece, one.own) == (
        "front",
        "side",
    )
    assert str(one) == "front.side[s3.2,s5.1]'" and str(reference("s4.cut")) == "s4.cut"
    for bad in (
        "",
        "front side",
        "front.",
        ".side",
        "front[s3.x]",
        "front[x]",
        "front[s1.1",
        "x" * 300,
        "front'x",
        "front.side[]",
        "frönt",
    ):
        with pytest.raises(Exception, match="does not name"):
            reference(bad)


def test_the_cache_is_read_by_a_chain_of_tokens() -> None:
    cache = StageCache()
    many = DEMO
    for _ in range(20):
        many = edits.add_step(many, step("lengthen", amount=1.0))
    evaluate(many, cache=cache)
    changed = edits.change_step(many, many.recipe.steps[-1].id, note="a note changes nothing")
    misses = cache.misses
    assert evaluate(changed, cache=cache).pattern == evaluate(many).pattern and cache.misses == misses
    last = edits.change_step(many, many.recipe.steps[-1].id, values=step("lengthen", amount=2.0).values)
    assert evaluate(last, cache=cache) == evaluate(last) and cache.misses == misses + 1
    moved = edits.move_step(many, 0, 5)
    assert evaluate(moved, cache=cache) == evaluate(moved)
    stretchy = edits.change_cloth(begin_with(many, Recipe.of("leggings")), stretch=0.5)
    evaluate(edits.change_cloth(stretchy, stretch=0.3), cache=cache)
    assert evaluate(stretchy, cache=cache) == evaluate(stretchy)
    fitted = edits.set_fit(many, "jacket")
    assert evaluate(fitted, cache=cache) == evaluate(fitted) != evaluate(many, cache=cache)


# --- fine by me -----------------------------------------------------------------------------------


def _line(document: Document, name: str) -> ProofLine:
    return next(line for line in make(EvaluateRequest(document)).proof if line.name == name)


def test_a_failing_check_can_be_accepted_and_opens_again_when_it_gets_worse() -> None:
    long = document(length=900.0)
    stride = _line(long, "stride")
    assert stride.fails
    fine = edits.accept(long, stride.accepting("she takes small steps"))
    line = _line(fine, "stride")
    assert line.verdict == "fails" and not line.fails and line.accepted == "she takes small steps"
    assert not [one for one in make(EvaluateRequest(fine)).proof if one.fails]
    listed = next(one for one in proof_listing(make(EvaluateRequest(fine)))["proof"] if one["name"] == "stride")
    assert (listed["holds"], listed["accepted"], listed["reason"]) == (False, True, "she takes small steps")
    worse = edits.set_option(fine, "length", 950.0)
    again = _line(worse, "stride")
    assert again.fails and "worse since" in again.sentence and "small steps" in again.sentence
    better = edits.set_option(fine, "length", 880.0)
    assert _line(better, "stride").accepted or _line(better, "stride").holds
    assert _line(edits.take_back_accepted(fine, line.accepting("x")), "stride").fails
    assert len(edits.accept(fine, stride.accepting("another reason")).accepted) == 1


def test_any_finding_can_be_accepted_and_opens_again_when_it_stops_the_draft() -> None:
    odd = document(None, step("slit"), step("unheard_of"))
    line = _line(odd, "step.stuck")
    fine = edits.accept(odd, line.accepting("waits for the next version"))
    assert _line(fine, "step.stuck").accepted
    proof = make(EvaluateRequest(fine)).proof
    order = [2 if one.accepted else {"fails": 0, "look": 1, "holds": 3}[one.verdict] for one in proof]
    assert order == sorted(order), "what is accepted stands behind what is open and before what holds"
    moved = edits.move_step(fine, 1, 0)
    assert _line(moved, "step.stuck").accepted, "a step that is moved is still the same"
    finding = Finding("odd", "Odd.", "here")
    kept = prove((), None, (finding,))[0].accepting("fine")
    assert prove((), None, (finding,), accepted=(kept,))[0].accepted == "fine"
    assert prove((), None, (replace(finding, severity="stops"),), accepted=(kept,))[0].fails, "it stops the draft now"


def test_a_formula_of_ones_own_that_can_not_be_worked_out_is_a_finding_and_the_blocks_own_is_used() -> None:
    made = drafted("skirt.straight", overrides={"front_dart": "1cm / 0"})
    told = [finding for finding in made.findings if finding.place == "figures.front_dart"]
    assert len(told) == 1 and "division by zero" in told[0].sentence and told[0].severity == "look"
    assert made.sums["front_dart"].value == drafted("skirt.straight").sums["front_dart"].value


def test_a_block_whose_own_formula_can_not_be_worked_out_waits_and_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    block = BLOCKS["skirt.straight"]
    broken = (*block.figures[:-1], replace(block.figures[-1], formula="waist / 0"))
    monkeypatch.setitem(BLOCKS, block.name, replace(block, figures=broken))
    made = drafted("skirt.straight")
    assert made.pattern is None and [f.code for f in made.findings if f.severity == "stops"] == ["figure"]


@pytest.mark.parametrize(
    ("kind", "value", "said"),
    [
        ("length", 50.0, "5.0 cm is not between 0.0 cm and 4.0 cm"),
        ("angle", 50.0, "50° is not between 0° and 40°"),
        ("ratio", 50.0, "50 is not between 0 and 40"),
        ("number", -1.0, "-1 is not between 0 and 40"),
        ("count", 2.5, "expected a whole number, not 2.5"),
        ("count", True, "expected a whole number, not “True”"),
        ("length", "x", "expected a length, not “x”"),
    ],
)
def test_an_amount_beyond_its_limits_is_told_in_its_unit(kind: Any, value: Any, said: str) -> None:
    parameter = Parameter("a", "Amount", kind, 1.0, 0.0, 40.0)
    with pytest.raises(CaddetError) as told:
        parameter.checked(value)
    assert str(told.value) == f"Amount: {said}"
    assert parameter.checked(0.0) == 0.0 and parameter.checked(40.0) == 40.0, "the limits themselves are allowed"


def test_references_and_places_are_checked() -> None:
    edges = Parameter("e", "Edges", "edges", (), most=2)
    assert edges.checked("front.side[s3.2,s1.1]") == ("front.side[s1.1,s3.2]",) and edges.checked(("a.b", "")) == (
        "a.b",
    )
    with pytest.raises(CaddetError, match="expected at most 2, not 3"):
        edges.checked(("a.b", "a.c", "a.d"))
    with pytest.raises(CaddetError, match="expected one, not 2"):
        Parameter("d", "Dart", "dart", "").checked(("a.b", "a.c"))
    place = Parameter("p", "Place", "place", None)
    for good in (Place(edge="a.b", share=0.0), Place(edge="a.b", share=1.0), Place(edge="a.b", mm=0.0)):
        assert place.checked(good) == good
    with pytest.raises(CaddetError, match="expected a place on an edge"):
        place.checked("a.b")


def test_a_garment_of_too_many_pieces_is_not_made_larger_and_the_steps_say_so(monkeypatch: pytest.MonkeyPatch) -> None:
    made = evaluate(DEMO)
    assert made.pattern is not None
    monkeypatch.setattr(stages, "MOST_PIECES", len(made.pattern.pieces))
    more = evaluate(edits.add_step(DEMO, step("lining")))
    assert more.pattern is not None and len(more.pattern.pieces) == len(made.pattern.pieces)
    stuck = [one for one in more.findings if one.code == "step.stuck"]
    assert stuck and all("pieces already, as many as Caddet works with" in one.sentence for one in stuck)
    monkeypatch.setattr(stages, "MOST_PIECES", 1 + len(made.pattern.pieces))
    assert not [one for one in evaluate(edits.add_step(DEMO, step("lining"))).findings if "as many as" in one.sentence]
