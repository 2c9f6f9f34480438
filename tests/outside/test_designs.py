"""Six designs made by steps from the blocks, on nine bodies: sound, sewable, and cut without a fault."""

from __future__ import annotations

import pytest

from caddet.core.made import Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import StepEntry
from caddet.core.recipe.values import LineValue, Place
from caddet.core.truing.walk import walk
from tests.making import drafted, nine, pattern_of, step
from tests.outside.test_blocks_on_bodies import faults
from tests.surgery import consistent

YOKE = LineValue(points=(Place(edge="front.centre_front", share=0.75), Place(edge="front.armhole", share=0.45))).points
SLANT = LineValue(points=(Place(edge="front.waist", share=0.2), Place(edge="front.side", share=0.55))).points

DESIGNS: dict[str, tuple[str, tuple[StepEntry, ...]]] = {
    "princess seams from a side dart": (
        "bodice.darted", (step("princess", dart=("front.bust_dart",), to=Place(edge="front.shoulder", share=0.45)),)),
    "a puff sleeve by seven lines": (
        "sleeve.set_in",
        (step("slash", edges=("sleeve.cap_front", "sleeve.cap_back"), to=("sleeve.hem",), count=7, amount=25.4),)),
    "wide legs from the hip and a dipped waist": (
        "trousers.tailored", (step("widen", amount=60.0), step("waist_shape", front=20.0, side=5.0))),
    "a scooped, cut-in tank": (
        "top.knit",
        (step("neckline", edges=("front.neckline",), down=70.0, out=25.0, shape="deep"),
         step("armhole", lower=25.4, cut_in=20.0), step("take_away", pieces=("sleeve",), finish="binding"))),
    "a yoke with gathers below": (
        "dress.sheath",
        (step("cut", line=YOKE, first="Yoke", second="Front"),
         step("pivot_dart", dart=("front.bust_dart",), to=Place(edge="s2.cut[s2.2]", share=0.55)),
         step("dart_into", dart=("front.bust_dart",), how="gathered"))),
    "a slanted panel and a high-low hem": (
        "skirt.straight", (step("dart_into", dart=("front.front_dart",), how="eased"), step("hem_shape", front=-50.0, back=90.0))),
}  # fmt: skip


def made(name: str, who: object) -> Made:
    block, steps = DESIGNS[name]
    return drafted(block, who, steps=steps)  # type: ignore[arg-type]


def seams_off(pattern: Pattern) -> dict[str, float]:
    """The seams whose sides differ by more than they may."""
    walked = {seam.name: walk(pattern, seam) for seam in pattern.seams}
    return {
        name: one.off
        for name, one in walked.items()
        if one.verdict not in ("meets", "meet") and abs(one.off) > one.seam.tolerance
    }


@pytest.mark.parametrize("name", DESIGNS)
def test_a_design_is_sewable_on_nine_bodies(name: str) -> None:
    done = 0
    for who in nine():
        design = made(name, who)
        if reason := [one.stuck for one in design.evaluated.outcomes if one.stuck]:
            assert "there is no dart" in reason[0].lower() or len(reason[0]) > 30, reason
            continue
        done += 1
        pattern = pattern_of(design)
        consistent(pattern)
        block = pattern_of(drafted(DESIGNS[name][0], who))
        assert set(seams_off(pattern)) <= set(seams_off(block)), (who.name, seams_off(pattern))
        new = set(faults(design)) - set(faults(drafted(DESIGNS[name][0], who)))
        # a yoke's line drawn aslant turns at the fold, which is told; armholes alike are a matter of blocks with sleeves
        told = ("the back armhole", "cut runs on over the fold")
        wrong = {one for one in new if not any(words in one for words in told)}
        assert not wrong, who.name
    assert done >= 6, f"{name} was made on {done} of nine"
