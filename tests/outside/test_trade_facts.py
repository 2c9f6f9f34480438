"""Trade facts the skirt is held against; the numbers are rows of the design's check values.

"Common practice, no source" unless said otherwise.
"""

from __future__ import annotations

import pytest

from caddet.core.pattern.seams import TOLERANCE
from tests.making import made, person, skirt


def test_row_35_the_waist_rises_1_5_cm_at_the_side() -> None:
    front = skirt().piece("front")
    assert -front.run("side")[0].path.start.imag == pytest.approx(15, abs=0.2)


@pytest.mark.parametrize("length", [500.0, 550.0, 600.0])
def test_row_36_a_flare_of_15_cm_curves_the_hem_about_4_cm_up(length: float) -> None:
    front = skirt(flare=150.0, length=length).piece("front")
    up = length - front.run("hem")[0].path.start.imag
    assert up == pytest.approx(40, abs=10)


def test_row_9_seams_may_differ_by_an_eighth_of_an_inch() -> None:
    assert pytest.approx(25.4 / 8, abs=0.2) == TOLERANCE


def test_darts_front_short_back_long() -> None:
    """Front 9-11, back 12-14 below the waist; the side takes at most 2.5, a dart at most 3.5."""
    sums = made(who=person(waist=72, hip=98, waist_to_hip=21)).sums
    assert 90 <= sums["front_dart_length"].value <= 110 and 120 <= sums["back_dart_length"].value <= 140
    assert sums["side_shaping"].value <= 25 and sums["front_dart"].value <= 35 and sums["back_dart"].value <= 35


def test_a_quarter_of_the_hip_with_its_ease() -> None:
    """(hip 98 + ease 4) ÷ 4 = 25.5, worked by hand."""
    assert made().sums["front_hip"].value == pytest.approx(255)
    assert made().sums["front_hip"].working("cm") == "hip round 102.0 ÷ 4"
