"""Properties over drawn bodies, options, eases and cloths: never an exception, never a broken piece passed off."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from caddet.core.body.person import Person
from caddet.core.body.sizes import person_of_size, shipped_tables
from caddet.core.pattern.promises import Run
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.document import Value
from caddet.core.recipe.registry import BLOCKS, block_named
from tests.making import KNIT, WOVEN, drafted, pattern_of

NAMES = sorted(BLOCKS)


@st.composite
def people(draw: st.DrawFn) -> Person:
    """Somebody between a small child and a giant, of any build."""
    height = draw(st.floats(1000, 2050))
    build = draw(st.floats(0.75, 1.7))
    usual = 545 + (950 - 545) * (height - 1000) / 750
    bust = usual * build
    measures = {
        "height": height,
        "bust": bust,
        "waist": bust * draw(st.floats(0.72, 1.05)),
        "hip": bust * draw(st.floats(0.92, 1.2)),
    }
    return Person.of("drawn", {code: min(value, 1750.0) for code, value in measures.items()})


@st.composite
def plans(draw: st.DrawFn) -> tuple[str, dict[str, Value], dict[str, float]]:
    """A block with some of its options and eases anywhere within their limits."""
    block = block_named(draw(st.sampled_from(NAMES)))
    options: dict[str, Value] = {}
    for option in block.options:
        if draw(st.booleans()):
            continue
        if option.kind == "choice":
            options[option.name] = draw(st.sampled_from([key for key, _ in option.choices]))
        elif option.kind == "flag":
            options[option.name] = draw(st.booleans())
        else:
            options[option.name] = draw(st.floats(option.low, option.high))
    ease = {level.level: draw(st.floats(-80, 250)) for level in block.ease if draw(st.booleans())}
    return block.name, options, ease


@settings(max_examples=150)
@given(people(), plans(), st.sampled_from([0.0, 0.3, 1.0]))
def test_whatever_is_asked_for_is_drafted_soundly_or_told(
    who: Person, plan: tuple[str, dict[str, Value], dict[str, float]], stretch: float
) -> None:
    name, options, ease = plan
    made = drafted(name, who, cloth=KNIT.model_copy(update={"stretch": stretch}), ease=ease, **options)
    stops = [f for f in made.findings if f.severity == "stops"]
    if made.pattern is None:
        assert stops and all(f.sentence.endswith(".") for f in stops)
        return
    broken = {piece.name for piece in made.pattern.pieces if fault(piece)}
    assert broken == {f.place for f in stops if f.code == "draft.shape"}
    if broken or any(f.code == "draft.nearest" for f in made.findings):
        return
    along_edges = {promise.name for promise in made.pattern.promises if all(type(one) is Run for one in promise.of)}
    for line in made.proof:
        if line.kind == "closure":
            # a neckline 50 cm wider cuts into the bust line, 17 cm of thigh ease go into no straight leg: that is told
            told = line.name not in along_edges and line.fails and "does not come to it" in line.sentence
            assert math.isfinite(line.value) and (line.holds or told), (name, line.label, line.value, line.limit)


@settings(max_examples=40)
@given(people(), st.sampled_from(NAMES))
def test_the_same_asked_twice_is_the_same(who: Person, name: str) -> None:
    one, other = drafted(name, who), drafted(name, who)
    assert (one.pattern is None) == (other.pattern is None)
    if one.pattern is not None and other.pattern is not None:
        assert [piece.edges for piece in one.pattern.pieces] == [piece.edges for piece in other.pattern.pieces]


@settings(max_examples=40)
@given(people(), st.floats(20, 160))
def test_more_ease_at_the_bust_is_more_cloth_there_and_nowhere_less(who: Person, more: float) -> None:
    plain, wider = (drafted("bodice.darted", who, ease={"bust": 60.0 + by}) for by in (0.0, more))
    if plain.pattern is None or wider.pattern is None:
        return
    assert wider.sums["bust_round"].value - plain.sums["bust_round"].value == more or math.isclose(
        wider.sums["bust_round"].value - plain.sums["bust_round"].value, more, abs_tol=1e-6
    )
    necks = [
        sum(pattern.run_length(f"{half}.neckline") for half in ("front", "back"))
        for pattern in (plain.pattern, wider.pattern)
    ]
    assert necks[0] == pytest.approx(necks[1], abs=0.1), "the neck stays as long"
    # where the shoulder had to be lengthened or turned for the armhole, the neckline turns with it, by a hair
    same = all(
        plain.sums[name].value == pytest.approx(wider.sums[name].value, abs=1e-6)
        for name in ("shoulder_length", "shoulder_slope", "front_steeper")
    )
    assert wider.sums["front_neck_depth"].value == pytest.approx(
        plain.sums["front_neck_depth"].value, abs=0.05 if same else 1.0
    ), "the neck stays"


def test_every_block_is_drafted_on_every_size_of_every_table() -> None:
    for table in shipped_tables():
        for size in table.sizes[:: max(len(table.sizes) // 4, 1)]:
            who = person_of_size(table, size)
            for name in NAMES:
                made = drafted(name, who)
                pattern_of(made)
                assert not [line.label for line in made.proof if line.kind in ("closure", "seam") and not line.holds], (
                    table.name,
                    size.name,
                    name,
                )


def test_a_growing_wearer_gets_a_garment_that_has_grown() -> None:
    from caddet.core.demo import demo_document

    wren = demo_document().people[2]
    grown = wren.model_copy(update={"growth": wren.growth.model_copy(update={"months": 18})})
    still = wren.model_copy(update={"growth": wren.growth.model_copy(update={"months": 0})})
    for name in ("trousers.tailored", "bodice.darted", "tunic.panels"):
        one, other = (drafted(name, who) for who in (still, grown))
        round_ = next(key for key in ("hip_round", "bust_round", "largest") if key in one.sums)
        assert other.sums[round_].value > one.sums[round_].value + 5
        assert any("with growth" in words for words in other.sums[round_].labels.values())
        assert not [line for line in other.proof if line.kind in ("closure", "seam") and not line.holds]
    assert drafted("leggings", wren, cloth=WOVEN).pattern is not None
