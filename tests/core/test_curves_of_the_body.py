"""Seat, tummy and back: longer or shorter at the centre by the amount, the side and the girths as they were."""

from __future__ import annotations

import pytest

from caddet.core.pattern.promises import level_length
from tests.core.test_lines_and_widths import done, seams_meet, why_not
from tests.making import drafted, nine, pattern_of, polygon, step

TROUSERS, BODICE = (pattern_of(drafted(name)) for name in ("trousers.tailored", "bodice.darted"))


@pytest.mark.parametrize(
    ("block", "kind", "piece", "centre", "side", "way"),
    [
        ("trousers.tailored", "full_seat", "back", "crotch", "side", 1),
        ("trousers.tailored", "flat_seat", "back", "crotch", "side", -1),
        ("trousers.tailored", "tummy", "front", "crotch", "side", 1),
        ("bodice.darted", "round_back", "back", "centre_back", "armhole", 1),
    ],
)
def test_the_centre_changes_by_the_amount_and_the_hinge_stays(
    block: str, kind: str, piece: str, centre: str, side: str, way: int
) -> None:
    """Worked by numbers: 2 cm at the centre, 0 at the hinge; a wedge of ½ × 2 cm × the line let in or taken out."""
    before, after = pattern_of(drafted(block)), done(block, kind, by=20.0)
    was, now = before.piece(piece), after.piece(piece)
    assert now.run_length(centre) - was.run_length(centre) == pytest.approx(way * 20.0, abs=0.02)
    assert now.run_length(side) == pytest.approx(was.run_length(side), abs=0.6), "but for the fairing at the hinge"
    for run in was.runs():
        if run.rpartition(".")[2] not in (centre, side):
            assert now.run_length(run) == pytest.approx(was.run_length(run), abs=0.05), run
    for name in ("hip", "across_back"):
        levels = [one.feature(name) for one in (was, now)]
        if levels[0] is not None and levels[1] is not None:
            assert level_length(now, levels[1]) == pytest.approx(level_length(was, levels[0]), abs=4.0), (
                name
            )  # the fairing moves it a little
    areas = [polygon(one.polygon(0.05)).area for one in (was, now)]
    wide = level_length(was, was.feature("hip") or was.feature("across_back"))  # type: ignore[arg-type]
    assert areas[1] - areas[0] == pytest.approx(way * 0.5 * 20.0 * wide, rel=0.35)
    seams_meet(before, after, "side")


def test_on_the_fold_it_says_what_to_do_instead() -> None:
    assert "give it a seam there first" in why_not("skirt.straight", "tummy")
    assert "from a centre to a side" in why_not("cuff", "full_seat")
    seamed = drafted("skirt.straight", steps=(step("centre_seam", pieces=("front",)), step("tummy", by=12.0)))
    assert not [one.stuck for one in seamed.evaluated.outcomes if one.stuck]


def test_a_sway_back_is_pinned_out_through_the_waist_darts() -> None:
    """Worked by numbers: 1 cm less at the centre, nothing at the side; the waist and the darts take in what they did."""
    for who in nine():
        for block in ("bodice.darted", "dress.sheath"):
            made = drafted(block, who, steps=(step("sway_back", by=10.0),))
            assert not made.evaluated.outcomes[0].stuck, made.evaluated.outcomes[0].stuck
            was, now = (pattern_of(one).piece("back") for one in (drafted(block, who), made))
            assert was.run_length("centre_back") - now.run_length("centre_back") == pytest.approx(10.0, abs=0.02)
            for run in ("side", "waist", "armhole", "shoulder"):
                assert now.run_length(run) == pytest.approx(was.run_length(run), abs=0.5), run
            for dart in was.darts:
                _, a, apex, b = was.legs(dart.id)
                _, c, tip, d = now.legs(dart.id)
                assert abs(apex - tip) < 1e-6 and abs(abs(c - tip) - abs(d - tip)) < 1e-6, "it points where it did"
                assert abs(d - c) == pytest.approx(abs(b - a), rel=0.06)
            assert all(one.holds for one in made.proof if one.kind in ("seam", "closure"))


def test_a_sway_back_is_taken_out_where_no_dart_lies() -> None:
    taken = step("dart_into", dart=("back.back_dart",), how="eased")
    who = next(one for one in nine() if len(pattern_of(drafted("bodice.darted", one)).piece("back").darts) == 1)
    was, now = (
        pattern_of(drafted("bodice.darted", who, steps=more)).piece("back")
        for more in ((taken,), (taken, step("sway_back", by=10.0)))
    )
    assert was.run_length("centre_back") - now.run_length("centre_back") == pytest.approx(10.0, abs=0.8)
