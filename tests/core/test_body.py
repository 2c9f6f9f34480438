"""Readings, doubts and their remedies, growth, sizes, and what is known of a measure."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from caddet.core.body.comparison import at_set, compare
from caddet.core.body.doubts import doubts
from caddet.core.body.estimates import estimate
from caddet.core.body.growth import allowance, fits_until, gains, height_after, still_grows
from caddet.core.body.known import known_measure
from caddet.core.body.measures import MEASURES, USUAL_ROUND
from caddet.core.body.person import Growth, Person
from caddet.core.body.readings import MeasureSet, differ, read_date
from caddet.core.body.sizes import nearest_size, person_of_size, read_sizes, shipped_table
from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from tests.making import document, person


def dated(*sets: tuple[str, dict[str, tuple[float, ...]]]) -> Person:
    return Person(name="A", sets=tuple(MeasureSet(date=date, readings=readings) for date, readings in sets))


# --- readings ---------------------------------------------------------------------------------


def test_the_middle_of_repeated_readings_counts() -> None:
    who = dated(("2026-01-01", {"waist": (760.0, 752.0, 749.0)}))
    assert who.measures == {"waist": 752.0}
    assert who.with_reading("waist", 753.0, "2026-01-01").measures["waist"] == 752.5


def test_the_newest_set_holds_and_the_older_one_stays() -> None:
    who = dated(("2026-01-01", {"waist": (760.0,), "hip": (980.0,)}), ("2026-05-01", {"waist": (770.0,)}))
    assert who.measures == {"waist": 770.0, "hip": 980.0} and who.measures_until(0)["waist"] == 760.0
    assert who.set_of("hip") is who.sets[0]
    without = who.with_measure("waist", None)
    assert without.measures["waist"] == 760.0 and len(without.sets) == 1


def test_a_measure_of_today_opens_a_set_and_keeps_what_was_worn() -> None:
    who = Person(name="A", sets=(MeasureSet(date="2026-01-01", over="jumper", readings={"waist": (760.0,)}),))
    later = who.with_measure("hip", 990.0, "2026-02-02").with_measure("bust", 900.0, "2026-02-02")
    assert [one.date for one in later.sets] == ["2026-01-01", "2026-02-02"]
    assert later.sets[1].over == "jumper" and set(later.sets[1].readings) == {"hip", "bust"}
    assert who.sets == later.sets[:1]


def test_a_set_takes_its_place_by_date_and_one_of_the_same_day_is_added_to() -> None:
    who = dated(("2026-01-01", {"waist": (760.0,)}), ("2026-05-01", {"waist": (770.0,)}))
    who = who.with_set(MeasureSet(date="2026-03-01", readings={"waist": (765.0,)}))
    assert [one.date[5:7] for one in who.sets] == ["01", "03", "05"] and who.measures["waist"] == 770
    who = who.with_set(MeasureSet(date="2026-03-01", readings={"hip": (980.0,)}))
    assert len(who.sets) == 3 and set(who.sets[1].readings) == {"waist", "hip"}
    assert len(who.without_set(1).sets) == 2


@pytest.mark.parametrize(
    ("values", "too_far"),
    [
        ((980.0, 989.0), False),
        ((980.0, 991.0), True),
        ((160.0, 162.9), False),
        ((160.0, 163.5), True),
        ((1680.0, 1691.0), True),
    ],
)
def test_repeated_readings_may_differ_a_little(values: tuple[float, ...], too_far: bool) -> None:
    assert differ(values) is too_far
    found = [d for d in doubts(dated(("", {"hip": values}))) if d.kind == "spread"]
    assert bool(found) is too_far


def test_a_reading_that_strays_can_be_left_out() -> None:
    spread = next(d for d in doubts(dated(("", {"hip": (980.0, 982.0, 1030.0)}))) if d.kind == "spread")
    assert spread.fixes[0].value == 981.0 and "103.0" in spread.fixes[0].label


@pytest.mark.parametrize("bad", [0.0, -4.0, float("nan"), float("inf"), 9e9])
def test_a_set_takes_no_reading_that_is_none(bad: float) -> None:
    with pytest.raises(ValidationError):
        MeasureSet(readings={"hip": (bad,)})
    with pytest.raises(ValidationError):
        MeasureSet(readings={"hip": ()})
    with pytest.raises(ValidationError):
        MeasureSet(readings={"shoe": (40.0,)})


@pytest.mark.parametrize(
    ("text", "found"), [("2026-11-24", "2026-11-24"), ("24.11.2026", "2026-11-24"), ("4/1/2025", "2025-01-04")]
)
def test_dates_are_read_as_people_write_them(text: str, found: str) -> None:
    assert read_date(text, "2026-11-24") == found


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("2026-11-25", "future"),
        ("31.2.2026", "not a date"),
        ("soon", "not a date"),
        ("", "not a date"),
        ("1.1.1066", "too long ago"),
    ],
)
def test_a_date_that_can_not_be_is_refused(text: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        read_date(text, "2026-11-24")


# --- doubts -----------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("measures", "code", "words", "fixed"),
    [
        ({"height": 1680, "waist": 760, "hip": 385.8}, "hip", "inches", 980),
        ({"height": 1680, "waist": 760, "hip": 490}, "hip", "half", 980),
        ({"height": 1680, "bust": 920, "hip": 980, "waist": 1520}, "waist", "doubled", 760),
        ({"height": 1680, "hip": 98, "waist": 760}, "hip", "nought", 980),
        ({"height": 1680, "bust": 900, "waist": 740, "hip": 980, "weight_kg": 139}, "weight_kg", "pounds", 63),
        ({"waist": 1050, "hip": 980}, "hip", "larger than the hip", None),
        ({"inside_leg": 770, "body_rise": 380, "waist_to_floor": 1050}, "body_rise", "10.0 cm more", None),
        ({"shoulder": 170, "neck": 370, "across_shoulders": 390}, "shoulder", "wider than across", None),
        ({"nape_to_waist": 420, "shoulder_to_waist_front": 560}, "shoulder_to_waist_front", "level", None),
        ({"bust": 900, "under_bust": 950}, "under_bust", "slipped", None),
        ({"wrist": 240, "upper_arm": 230}, "wrist", "nearly as large", None),
    ],
)
def test_slips_are_doubted_with_the_reason_and_mended_with_one_key(
    measures: dict[str, float], code: str, words: str, fixed: float | None
) -> None:
    found = [d for d in doubts(Person.of("A", measures)) if d.code == code]
    assert found and words in found[0].sentence
    if fixed is not None:
        assert found[0].fixes[0].value == pytest.approx(fixed, rel=0.01)


def test_what_one_is_sure_of_is_not_doubted_again_until_it_changes() -> None:
    base = document(Person.of("A", {"height": 1680.0, "waist": 1700.0}))
    assert doubts(base.person)
    sure = edits.confirm_measure(base, "waist")
    assert not doubts(sure.person)
    assert doubts(edits.set_measure(sure, "waist", 1750.0).person)


def test_a_doubt_stands_in_the_proof_with_its_remedies() -> None:
    base = document(person(hip=38.6))
    line = next(line for line in make(EvaluateRequest(base)).proof if line.place == "person.hip")
    mended = line.remedies[0].apply(base)
    assert mended.person.measures["hip"] == pytest.approx(980.4, abs=0.1)
    assert not [x for x in make(EvaluateRequest(mended)).proof if x.place == "person.hip"]
    assert not [x for x in make(EvaluateRequest(line.remedies[-1].apply(base))).proof if x.place == "person.hip"]


def test_no_demo_person_is_doubted() -> None:
    assert not [d for who in demo_document().people for d in doubts(who)]


# --- estimates --------------------------------------------------------------------------------


def test_from_a_height_alone_everything_is_estimated_within_what_is_plausible() -> None:
    for height in (1000.0, 1250.0, 1500.0, 1680.0, 2000.0):
        who = Person.of("A", {"height": height})
        for code, measure in MEASURES.items():
            if code == "height":
                continue
            guess = estimate(who, code)
            low, high = measure.plausible(height)
            assert guess is not None and low * 0.97 <= guess.value <= high * 1.03 and guess.error > 0, (code, height)


def test_an_estimate_leans_on_what_is_nearest() -> None:
    who = person(inside_leg=78, waist_to_floor=105)
    rise = estimate(who, "body_rise")
    assert rise is not None and rise.value == 270.0 and "inside leg" in rise.basis
    assert estimate(Person(name="A"), "hip") is None
    tall = estimate(Person.of("A", {"inside_leg": 800.0}), "height")
    assert tall is not None and 1650 < tall.value < 1850


def test_a_childs_limbs_are_not_those_of_a_small_adult() -> None:
    child = Person.of("A", {"height": 1100.0, "bust": 585.0, "waist": 550.0, "hip": 615.0})
    head, thigh = estimate(child, "head"), estimate(child, "thigh")
    assert head is not None and 490 < head.value < 530
    assert thigh is not None and 300 < thigh.value < 380 and "build" in thigh.basis


def test_what_leans_on_an_estimate_says_so_in_the_sum() -> None:
    who = person().with_measure("waist_to_hip", None)
    result = make(EvaluateRequest(document(who)))
    assert "waist_to_hip" in result.evaluated.estimates
    assert any(one.estimates for one in result.sums.values())


# --- growth -----------------------------------------------------------------------------------


def child(months: int = 12, school: str = "chart") -> Person:
    who = Person.of(
        "W", {"height": 1390.0, "waist": 600.0, "hip": 750.0, "waist_to_knee": 480.0}, date="2026-11-14", born="2016-03"
    )
    return who.model_copy(update={"growth": Growth.model_validate({"months": months, "school": school})})


def test_a_child_is_drafted_with_its_growth() -> None:
    grown = known_measure(child(), "hip")
    assert grown is not None and 20 < grown.growth < 45 and grown.value == pytest.approx(750 + grown.growth)
    assert allowance(child(0), "hip") == 0
    sums = make(EvaluateRequest(document(child()))).sums
    assert any("with growth" in words for one in sums.values() for words in one.labels.values())


def test_the_plain_rule_gives_an_inch_whatever_the_age() -> None:
    by_code = {gain.code: gain.gain for gain in gains(child(school="inch"), ("hip", "waist", "waist_to_knee"))}
    assert set(by_code.values()) == {25.4} and allowance(child(school="inch"), "wrist") == 25.4 / 4


def test_fits_until_about_counts_from_the_day_of_measuring() -> None:
    assert fits_until(child(12), ("hip", "waist")) == "2027-11"
    assert fits_until(child(6), ("hip", "waist")) == "2027-05"
    assert fits_until(child(12, "inch"), ("hip",)) == "2027-08"
    assert fits_until(child(0), ("hip",)) == ""


def test_who_is_grown_does_not_grow() -> None:
    adult = person().model_copy(update={"growth": Growth(months=24)})
    assert not still_grows(adult) and allowance(adult, "hip") == 0
    nobody = Person(name="A", growth=Growth(months=6))
    assert height_after(nobody, 6) is None and allowance(nobody, "hip") == 0


# --- sizes ------------------------------------------------------------------------------------


def test_the_nearest_size_says_how_far_off_each_level_is() -> None:
    fit = nearest_size(shipped_table("women"), {"bust": 945.0, "waist": 775.0, "hip": 1010.0})
    assert fit is not None and fit.size.name == "96" and fit.off == {"bust": -15.0, "waist": -25.0, "hip": -30.0}
    assert nearest_size(shipped_table("women"), {"height": 1680.0}) is None


def test_somebody_can_start_from_a_size_and_is_marked_until_measured() -> None:
    table = shipped_table("women")
    who = person_of_size(table, table.size("92"), "Fenna")
    hip = known_measure(who, "hip")
    assert hip is not None and hip.value == 1000 and hip.guess is not None and "92" in hip.guess.basis
    measured = who.with_measure("hip", 1010.0, "2026-11-24")
    hip = known_measure(measured, "hip")
    assert hip is not None and hip.guess is None and hip.value == 1010 and measured.measures["waist"] == 760
    assert not doubts(who)


def test_a_table_of_ones_own_is_read_from_csv() -> None:
    table = read_sizes("size;bust;hip\nsmall;84;92\nlarge;100,5;108", "Band")
    assert table.size("large").measures == {"bust": 1005, "hip": 1080}
    assert read_sizes("size,bust\nA,36 1/4", "Band", "in").size("A").measures["bust"] == pytest.approx(920.75)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "empty"),
        ("bust,hip\n1,2", "expected “size”"),
        ("size,shoe\nA,40", "measure codes"),
        ("size,bust\n", "no size"),
        ("size,bust\nA,84\nA,86", "its own name"),
        ("size,bust\nA,tall", "not a length"),
        ("size,bust,bust\nA,84,84", "each once"),
    ],
)
def test_a_bad_table_is_refused_with_its_place(text: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        read_sizes(text, "Own", place="own.csv")
    with pytest.raises(InputError, match="has no size"):
        shipped_table("men").size("99")


# --- history ----------------------------------------------------------------------------------


def test_two_sets_are_compared_measure_by_measure() -> None:
    who = dated(
        ("2026-01-01", {"waist": (760.0,), "hip": (980.0,)}), ("2026-05-01", {"waist": (775.0,), "bust": (900.0,)})
    )
    by_code = {change.code: change for change in compare(who, 0, 1)}
    assert by_code["waist"].difference == 15 and by_code["waist"].matters
    assert by_code["hip"].now is None and by_code["hip"].difference is None and not by_code["bust"].matters
    assert at_set(who, 0).measures["waist"] == 760


def test_the_usual_round_has_twenty_two_measures() -> None:
    assert len(USUAL_ROUND) == len(set(USUAL_ROUND)) == 22 and set(USUAL_ROUND) <= set(MEASURES)
