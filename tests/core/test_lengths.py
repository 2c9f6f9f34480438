from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.errors import InputError
from caddet.core.lengths import format_fine, format_length, parse_length


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("92", "cm", 920),
        ("92.4 cm", "in", 924),
        ("924 mm", "in", 924),
        ("92,4", "cm", 924),
        ("36 1/4", "in", 920.75),
        ('36¼"', "cm", 920.75),
        ("36.25in", "cm", 920.75),
        ("1 yd 3 in", "cm", 990.6),
        ("1/2", "in", 12.7),
        ("⅜", "in", 9.525),
        ("5' 6\"", "cm", 1676.4),
        ("-2.5", "cm", -25),
        (" + 3 ", "cm", 30),
        ("1.5 m", "cm", 1500),
        (".5", "cm", 5),
    ],
)
def test_reads_every_way_a_length_is_written(text: str, unit: str, mm: float) -> None:
    assert parse_length(text, unit) == pytest.approx(mm, abs=1e-9)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "text",
    ["", "abc", "12 parsecs", "1/0", "3 in 2 yd", "--4", "9" * 80, "5 5 5", "1e9", "nan", "9999999", "4 cm 2 cm"],
)
def test_refuses_with_what_was_expected(text: str) -> None:
    with pytest.raises(InputError) as refused:
        parse_length(text)
    assert "expected" in str(refused.value)
    assert "\n" not in str(refused.value)


@given(st.integers(min_value=1, max_value=200 * 16))
def test_every_sixteenth_survives_going_through_cm(sixteenths: int) -> None:
    shown = format_length(sixteenths / 16 * 25.4, "in")
    typed = parse_length(shown, "in")
    through_cm = parse_length(f"{typed / 10!r} cm", "in")
    assert format_length(through_cm, "in") == shown
    assert typed == pytest.approx(sixteenths / 16 * 25.4, abs=1e-9)


@given(st.text(max_size=20))
def test_no_text_brings_it_down(text: str) -> None:
    with contextlib.suppress(InputError):
        assert abs(parse_length(text)) <= 1_000_000


def test_shows_tape_fractions_and_small_differences() -> None:
    assert format_length(920.75, "in") == "36 1/4"
    assert format_length(25.4 * 3 / 16, "in") == "3/16"
    assert format_length(-254, "in", with_unit=True) == '−10"'
    assert format_length(0.2, "cm") == "0.0"
    assert (format_fine(2.0), format_fine(-0.5), format_fine(0.01)) == ("+2 mm", "−0.5 mm", "±0 mm")
