from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.body.doubts import doubts
from caddet.core.body.estimates import estimate
from caddet.core.body.figure.drawing import draw_figure
from caddet.core.body.figure.frame import half_width
from caddet.core.body.known import known_measure, known_measures
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Growth, Person, read_measure
from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.formats.people_csv import parse_people, write_people
from tests.making import person


@pytest.mark.parametrize(
    "text",
    [
        "name,waist,hip\nWren,76,98\n",
        "\ufeffname;waist;hip\nWren;76,0;98,0\n",
        "name\twaist\thip\nWren\t76\t98",
        "hip, name ,waist\n98 cm,Wren,760 mm\n",
        '\n\nname,waist,hip\n\nWren,"76,0",98\n,,\n',
        "Name,Waist,HIP\nWren,76,98",
    ],
)
def test_spreadsheets_are_read_as_they_are_written(text: str) -> None:
    people, findings = parse_people(text)
    assert people == [Person.of("Wren", {"waist": 760, "hip": 980})] and not findings


@pytest.mark.parametrize(
    ("text", "place", "words"),
    [
        ("", "", "empty"),
        ("waist,hip\n1,2", "line 1", "name"),
        ("name,waist\n", "", "nobody"),
        ("name,waist\nWren,abc", "line 2, column waist", "not a length"),
        ("name,waist\nWren,-4", "column waist", "more than 0"),
        ("name,waist\nWren,76\nWren,77", "line 3", "two people"),
        ("name,waist\n,76", "line 2", "blank"),
        ("name,waist,waist\nA,1,2", "line 1", "twice"),
        ("name,shoe\nA,4", "line 1", "no column"),
        ("name,waist\nA,9999", "column waist", "longer than any body"),
        ("name,waist\nA,0", "column waist", "more than 0"),
        ("name,waist\n" + "x" * 200 + ",70", "line 2", "can't be used"),
        ("\0\0\0", "", "text file"),
    ],
)
def test_a_bad_cell_is_named_by_line_and_column(text: str, place: str, words: str) -> None:
    with pytest.raises(InputError) as refused:
        parse_people(text, place="band.csv")
    assert place in refused.value.place and words in refused.value.sentence


def test_unknown_columns_and_blanks_are_reported_not_refused() -> None:
    people, findings = parse_people("name,waist,hip,shoe\nWren,76,,41")
    assert people[0].measures == {"waist": 760}
    assert [f.code for f in findings] == ["csv.column", "csv.blank"]


def test_people_go_out_and_come_back_in_both_units() -> None:
    people = list(demo_document().people)
    for unit in ("cm", "in"):
        again, _ = parse_people(write_people(people, unit), unit)  # type: ignore[arg-type]
        for old, new in zip(people, again, strict=True):
            assert new.name == old.name and new.measures.keys() == old.measures.keys()
            step = 0.01 if unit == "cm" else 0.8
            assert all(abs(new.measures[c] - old.measures[c]) <= step for c in old.measures)


def test_weight_is_not_a_length() -> None:
    assert read_measure("weight_kg", "62,5 kg", "in") == 62.5
    with pytest.raises(InputError):
        read_measure("weight_kg", "heavy", "cm")


@pytest.mark.parametrize(
    ("measures", "words"),
    [
        ({"waist": 300.0}, "inches"),
        ({"hip": 380.0}, "inches"),
        ({"waist": 1050.0, "hip": 980.0}, "larger than the hip"),
        ({"bust": 2300.0}, "cm"),
        ({"under_bust": 950.0, "bust": 900.0}, "slipped"),
        ({"waist_to_hip": 620.0, "waist_to_floor": 1000.0}, "outside"),
    ],
)
def test_slips_are_doubted_with_a_reason(measures: dict[str, float], words: str) -> None:
    found = doubts(Person.of("A", measures))
    assert any(words in doubt.sentence for doubt in found)


def test_the_demo_is_not_doubted() -> None:
    assert not [d for who in demo_document().people for d in doubts(who)]


def test_estimates_need_something_to_stand_on() -> None:
    assert estimate(Person(name="A"), "waist_to_hip") is None
    guess = estimate(person(), "stride")
    assert guess is not None and guess.error > 0 and "height" in guess.basis
    hip = estimate(Person.of("A", {"waist": 760.0}), "hip")
    assert hip is not None and 900 < hip.value < 1050


def test_the_figure_follows_the_persons_numbers() -> None:
    narrow, wide = draw_figure(person(hip=90), "hip"), draw_figure(person(hip=120), "hip")
    assert wide.tape[0].length > narrow.tape[0].length
    assert draw_figure(person(height=139), "height").height == 1390
    assert half_width(942.0) == pytest.approx(1.4 * 942 / 7.597, rel=0.01)


def test_every_measure_says_where_the_tape_goes() -> None:
    for measure in MEASURES.values():
        assert measure.where.endswith(".") and measure.mistake.endswith(".") and 0 < measure.low < measure.high


def test_what_holds_is_found_once_and_never_goes_with_a_copy() -> None:
    who = Person.of("A", {"waist": 760.0, "hip": 1000.0}, date="2026-01-01")
    held = who.measures
    assert who.measures is held, "the readings are gone through once"
    later = who.with_measure("waist", 740.0, "2026-02-01")
    assert later.measures["waist"] == 740.0 and who.measures["waist"] == 760.0
    assert later.measures_until(0)["waist"] == 760.0
    assert who == Person.of("A", {"waist": 760.0, "hip": 1000.0}, date="2026-01-01"), "looking changes nobody"
    assert who.model_dump() == Person.model_validate(who.model_dump()).model_dump()
    assert "measures" not in who.model_dump()


@given(
    st.lists(
        st.tuples(st.sampled_from(["waist", "hip", "bust"]), st.integers(500, 1300), st.integers(1, 28)),
        min_size=1,
        max_size=12,
    )
)
def test_the_newest_value_of_a_measure_holds(entries: list[tuple[str, int, int]]) -> None:
    who = Person(name="A")
    expected: dict[str, tuple[str, float]] = {}
    for code, mm, day in entries:
        date = f"2026-03-{day:02d}"
        who = who.with_measure(code, float(mm), date)
        if code not in expected or date >= expected[code][0]:
            expected[code] = (date, float(mm))
        assert dict(who.measures) == {name: value for name, (_, value) in expected.items()}
        assert who == Person.model_validate_json(who.model_dump_json())


def test_all_that_is_known_is_the_same_as_each_alone() -> None:
    who = Person.of("A", {"waist": 760.0, "height": 1400.0}, born="2017-05").model_copy(
        update={"growth": Growth(months=6)}
    )
    codes = [code for code in MEASURES]
    together = known_measures(who, codes)
    assert list(together) == codes
    assert all(together[code] == known_measure(who, code) for code in codes)
    waist, hip = together["waist"], together["hip"]
    assert waist is not None and waist.guess is None and waist.growth > 0
    assert hip is not None and hip.guess is not None
    assert all(what is None for what in known_measures(Person(name="B"), codes).values())
