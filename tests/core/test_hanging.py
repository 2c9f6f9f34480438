"""Pockets hang as the piece does on the wearer, not as it lies on the sheet."""

from __future__ import annotations

import cmath
import math

import pytest

from caddet.core.geometry.segments import unit
from caddet.core.hands.things import things
from caddet.core.pattern.hanging import hang_at
from caddet.core.recipe.values import FramePoint
from caddet.core.shaping.framing import chord
from tests.making import drafted, nine, pattern_of, step


@pytest.mark.parametrize("kind", ["patch_pocket", "welt_pocket"])
@pytest.mark.parametrize("share", [0.15, 0.5, 0.8])
def test_a_pocket_on_a_wrap_skirt_hangs_from_its_waist(kind: str, share: float) -> None:
    """The mouth is square to the way from the nearest place of the waist; it hung up to 63° askew."""
    plain = pattern_of(drafted("skirt.circle", made="wrap")).piece("skirt")
    waist, way, _ = plain.run_point("waist", plain.run_length("waist") * share)
    down = hang_at(plain, waist)
    start, end = chord(plain, "skirt.waist")
    aside = (waist + down * 120 - start) / (end - start)
    at = FramePoint(edge="skirt.waist", along=aside.real, out=-aside.imag * abs(end - start))
    made = drafted("skirt.circle", made="wrap", steps=(step(kind, at=(at,)),))
    assert not made.evaluated.outcomes[-1].stuck
    piece = pattern_of(made).piece("skirt")
    marks = [path for f in piece.features if f.kind == "placement" for path in piece.drawn(f)]
    sides = [segment for path in marks for segment in path.segments if abs(segment.end - segment.start) > 15]
    off = [abs(math.degrees(cmath.phase(unit(one.end - one.start) / down))) % 90 for one in sides]
    assert all(min(angle, 90 - angle) < 4 for angle in off), off
    assert abs(math.degrees(cmath.phase(way / down))) == pytest.approx(90, abs=1), "down is square to the waist"


@pytest.mark.parametrize("block", ["trousers.tailored", "skirt.straight"])
def test_a_welt_nobody_placed_lies_between_waist_and_seat(block: str) -> None:
    """Below the back darts and above the hip, not at the knee."""
    for who in nine():
        made = drafted(block, who, steps=(step("welt_pocket", pieces=("back",)),))
        assert not made.evaluated.outcomes[-1].stuck, who.name
        piece = pattern_of(made).piece("back")
        box = next(f for f in piece.features if f.kind == "placement")
        lows = [p.imag for path in piece.drawn(box) for p in path.flattened(1.0)]
        tips = [piece.legs(dart.id)[2].imag for dart in piece.darts]
        hip = max(p.imag for path in piece.drawn(piece.level("hip")) for p in (path.start, path.end))  # type: ignore[arg-type]
        assert max([0.0, *(tip for tip in tips)]) < max(lows) < hip + 40, who.name


def test_parts_on_the_other_side_of_a_pair_have_names_that_can_be_read() -> None:
    """A pocket on a back cut singly was called so that nothing could name its edges any more."""
    apart = step("separate", pieces=("back",))
    other = next(p.made for p in pattern_of(drafted("skirt.straight", steps=(apart,))).pieces if p.made.endswith("'"))
    for kind in ("welt_pocket", "patch_pocket", "half_belt"):
        made = drafted("skirt.straight", steps=(apart, step(kind, pieces=(other,))))
        assert not made.evaluated.outcomes[-1].stuck
        assert any(thing.ref.startswith("s3.") for thing in things(pattern_of(made)))
