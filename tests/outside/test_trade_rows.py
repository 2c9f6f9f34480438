"""Steps against what the trade knows: check values 8, 13, 14, 18, 28, 35, 36, 62, 72, 73. Common practice unless exact."""

from __future__ import annotations

import pytest
import shapely

from caddet.core.pattern.piece import Piece
from caddet.core.recipe.values import Place
from caddet.core.shaping.hemline import cut_for
from tests.making import area, drafted, full_people, pattern_of, step

INCH = 25.4
PEOPLE = full_people()[::3]
WHO = full_people()[2]


def piece(block: str, name: str, *steps: object, **options: object) -> Piece:
    made = drafted(block, WHO, steps=steps, **options)  # type: ignore[arg-type]
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    return pattern_of(made).piece(name)


def test_a_dart_felt_three_eighths_deep_opens_three_quarters() -> None:
    """Row 8, common practice: the underlay is twice the depth that is felt under the cloth."""
    felt = 3 / 8 * INCH
    plain = piece("top.knit", "front")
    darted = piece(
        "top.knit", "front", step("dart_add", at=Place(edge="front.side", mm=120.0), width=2 * felt, length=90.0)
    )
    assert abs(plain.run_length("front.side") - darted.run_length("front.side") - 3 / 4 * INCH) < 0.02


def test_a_centimetre_worn_is_less_cut_in_stretch_cloth() -> None:
    """Rows 13 and 14: 0.7 cm by the quick rule (common practice), 0.77 cm by arithmetic."""
    assert cut_for(10.0, 0.30, "quick") == pytest.approx(7.0, abs=1e-9)
    assert cut_for(10.0, 0.30, "exact") == pytest.approx(7.7, abs=0.05)


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_pull_on_trousers_are_as_wide_as_the_hip_before_the_elastic(who: object) -> None:
    """Row 18, common practice; and taken in by a step, the gate says so."""
    made = drafted("trousers.tailored", who, waist_with="elastic")  # type: ignore[arg-type]
    gate = next(line for line in made.proof if line.kind == "gate" and line.name == "hips")
    top = sum(
        2 * p.run_length(f"{p.name}.waist") for p in pattern_of(made).pieces if p.has_run(f"{p.name}.waist") and p.pair
    )
    assert gate.holds and top >= gate.limit - 1e-6, "the top edge before the elastic"
    taken = step("dart_add", at=Place(edge="back.waist", share=0.5), width=80.0, length=90.0)
    drawn = drafted("trousers.tailored", who, waist_with="elastic", steps=(taken,))  # type: ignore[arg-type]
    assert not drawn.evaluated.outcomes[0].stuck
    after = next(line for line in drawn.proof if line.kind == "gate" and line.name == "hips")
    assert after.value < gate.value - 100


def test_two_godets_come_from_a_rectangle_by_one_diagonal_cut() -> None:
    """Row 28, exact: two triangles of half the rectangle each, which laid together give it again."""
    text = "piece Strip\nA\nB = A out 30\nC = B down 50\nD = A down 50\nedge top: A - B\nedge right: B - C\nedge bottom: C - D, hem\nedge left: D - A\n"
    line = (Place(edge="strip.top", mm=0.2), Place(edge="strip.bottom", mm=0.2))
    made = pattern_of(drafted("own.points", WHO, recipe=text, steps=(step("cut", line=line),)))
    assert len(made.pieces) == 2
    for part in made.pieces:
        assert abs(area(part) - 300.0 * 500.0 / 2) < 200.0
        sides = sorted(edge.path.length for edge in part.edges if edge.path.length > 5)
        assert sides[-1] == pytest.approx((300.0**2 + 500.0**2) ** 0.5, abs=1.0)


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_the_waist_of_a_straight_skirt_curves_up_by_a_centimetre_and_a_half(who: object) -> None:
    """Row 35, common practice."""
    front = pattern_of(drafted("skirt.straight", who)).piece("front")  # type: ignore[arg-type]
    run = front.run("front.waist")
    assert run[0].path.start.imag - run[-1].path.end.imag == pytest.approx(15.0, abs=1e-6)


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_the_hem_of_a_skirt_flared_by_fifteen_centimetres_curves_up_about_four(who: object) -> None:
    """Row 36, common practice: about 4 cm, give or take 1."""
    made = drafted("skirt.straight", who, steps=(step("flare", edges=("side",), amount=150.0),))  # type: ignore[arg-type]
    front = pattern_of(made).piece("front")
    hem = front.run("front.hem")[0].path
    up = max(hem.start.imag, hem.end.imag) - min(hem.start.imag, hem.end.imag)
    assert up == pytest.approx(40.0, abs=12.0), "a longer skirt swings flatter"


def test_an_inverted_pleat_felt_deep_moves_the_centre_back_out_by_as_much() -> None:
    """Row 62, exact: felt 2½" deep, the centre back of the half lies 2½" further out all along."""
    deep = 2.5 * INCH
    plain = piece("top.knit", "back")
    line = ((Place(edge="back.neckline", mm=4.0), Place(edge="back.hem", mm=plain.run_length("back.hem") - 4.0)),)
    reversed_ = (
        (Place(edge="back.neckline", mm=plain.run_length("back.neckline") - 4.0), Place(edge="back.hem", mm=4.0)),
    )
    for lines in (line, reversed_):
        made = drafted(
            "top.knit",
            WHO,
            steps=(step("slash", lines=lines, opens="all", by="each", amount=deep, fair=False, hold="pleated"),),
        )
        if made.evaluated.outcomes[0].stuck:
            continue
        back = pattern_of(made).piece("back")
        grown = [
            back.run_length(f"back.{run}") - plain.run_length(f"back.{run}") for run in ("hem", "neckline", "side")
        ]
        assert (
            grown[0] == pytest.approx(deep, abs=0.2)
            and grown[1] == pytest.approx(deep, abs=1.5)
            and abs(grown[2]) < 1e-6
        )
        return
    raise AssertionError("neither end of the neckline lies at the centre")


def test_a_straight_trouser_hem_is_about_twenty_inches_round() -> None:
    """Row 72, common practice: about 20", give or take 1, at average height; wide legs come to 24" and more."""
    (average,) = [one for one in full_people() if one.name == "average"]

    def hem(leg: str) -> float:
        made = pattern_of(drafted("trousers.tailored", average, leg=leg))
        return sum(made.piece(name).run_length(f"{name}.hem") for name in ("front", "back")) / INCH

    assert hem("straight") == pytest.approx(20.0, abs=1.0) and hem("wide") > 23.0


def test_a_front_pleat_half_an_inch_deep_takes_an_inch() -> None:
    """Rows 34 and 73, exact: a dart that takes 1" becomes a pleat that takes as much and is ½" deep."""
    made = drafted("skirt.straight", WHO, steps=(step("dart_into", dart="front.front_dart", how="pleated"),))
    assert not made.evaluated.outcomes[0].stuck
    plain = pattern_of(drafted("skirt.straight", WHO)).piece("front")
    _, a, _, b = plain.legs("front.front_dart")
    front = pattern_of(made).piece("front")
    (fold,) = [feature for feature in front.features if feature.kind == "pleat"]
    places = [front.where(bit.a) for bit in fold.bits]
    assert abs(places[1] - places[0]) == pytest.approx(abs(b - a), abs=0.02)
    assert front.run_length("front.waist") == pytest.approx(plain.run_length("front.waist") + abs(b - a), abs=0.05)
    assert shapely.Polygon([(p.real, p.imag) for p in front.polygon()]).is_valid
