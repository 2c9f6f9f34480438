"""Steps for bodies that differ from the block: bust, upper arm, shoulders. Each by numbers measured on the outlines."""

from __future__ import annotations

import math

import pytest

from caddet.core.body.person import Person
from caddet.core.pattern.dart_forms import angle_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.document import StepEntry
from caddet.core.recipe.values import Place
from tests.making import drafted, full_people, pattern_of, step

PEOPLE = full_people()[::3]
RUNS = ("front.armhole", "back.armhole", "front.shoulder", "back.shoulder", "front.side", "back.side", "front.waist")


def both(block: str, who: Person, *steps: StepEntry) -> tuple[Pattern, Pattern]:
    made = drafted(block, who, steps=steps)
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    assert not [line.name for line in made.proof if line.kind in ("seam", "closure", "join") and not line.holds]
    return pattern_of(drafted(block, who)), pattern_of(made)


def grown(before: Pattern, after: Pattern, run: str) -> float:
    return after.run_length(run) - before.run_length(run)


def width_at(piece: Piece, y: float) -> float:
    """How wide the cloth of a piece is at a height: the distances between the points in pairs where its outline is met."""
    met = sorted(point.real for _, point in piece.outline().crossings(complex(-1e4, y), complex(1e4, y)))
    return sum(b - a for a, b in zip(met[::2], met[1::2], strict=True))


@pytest.mark.parametrize("by", [-8.0, 24.0, 60.0])
@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_a_fuller_bust_lets_in_as_much_as_it_says_and_keeps_what_is_sewn(who: Person, by: float) -> None:
    made = drafted("bodice.darted", who, steps=(step("full_bust", by=by),))
    if made.evaluated.outcomes[0].stuck:
        stuck = made.evaluated.outcomes[0].stuck
        plain = pattern_of(drafted("bodice.darted", who)).piece("front")
        dartless = not any(d.name == "front.bust_dart" for d in plain.darts)
        assert by < 0 and ("would be gone" in stuck or (dartless and "there is no dart in the side" in stuck)), stuck
        return
    before, after = both("bodice.darted", who, step("full_bust", by=by))
    for run in RUNS[:-1]:
        assert abs(grown(before, after, run)) < 0.5, run
    one, other = before.piece("front"), after.piece("front")
    names = {d.name for d in one.darts}
    takes_up = "front.front_dart" in names
    assert abs(grown(before, after, "front.waist") - (0.0 if takes_up else by / 2)) < 2.0, (
        "its dart takes up what is let in"
    )
    for name, sign in (("bust_dart", 1), ("front_dart", 1)):
        if f"front.{name}" not in names:
            continue
        old, new = (next(d for d in piece.darts if d.name == f"front.{name}") for piece in (one, other))
        assert (angle_of(other, new) - angle_of(one, old)) * by * sign > 0, name
    # below the side dart the front is wider by exactly half of it, less what the waist dart takes at that height
    grows = pattern_of(drafted("bodice.darted", who, steps=(step("full_bust", by=by, kept=False),))).piece("front")
    assert abs(grows.run_length("front.waist") - one.run_length("front.waist") - by / 2) < 1.0
    drop = grows.edges[-1].path.start.imag - one.edges[-1].path.start.imag
    assert drop * by > 0, "the centre gets longer with a fuller bust"
    y = max(p.imag for p in one.polygon()) - 35.0  # below the dart in the side
    assert abs(width_at(grows, y + drop) - width_at(one, y) - by / 2) < 1.0


def test_a_bust_can_be_opened_where_there_was_no_dart_but_not_taken_in() -> None:
    who = full_people()[2]
    before, after = both("top.knit", who, step("full_bust", by=30.0))
    (dart,) = after.piece("front").darts
    assert dart.id.startswith("s2.") and abs(grown(before, after, "front.side")) < 0.5
    assert abs(grown(before, after, "front.hem") - 15.0) < 0.05 and abs(grown(before, after, "front.armhole")) < 0.05
    less = drafted("top.knit", who, steps=(step("full_bust", by=-20.0),)).evaluated.outcomes[0]
    assert "there is no dart in the side" in less.stuck and less.parameter == "by"
    more = drafted("bodice.darted", who, steps=(step("full_bust", by=200.0),)).evaluated.outcomes[0]
    assert "only" in more.stuck and more.parameter == "by"


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_a_full_arm_widens_the_biceps_and_nothing_that_is_sewn(who: Person) -> None:
    for block in ("bodice.darted", "top.knit"):
        before, after = both(block, who, step("full_arm", by=20.0))
        for run in ("cap_front", "cap_back", "underarm_front", "underarm_back", "hem"):
            assert abs(grown(before, after, f"sleeve.{run}")) < 0.01, run
        one, other = before.piece("sleeve"), after.piece("sleeve")
        ends = [[p.run("sleeve.cap_front")[0].path.start, p.run("sleeve.cap_back")[0].path.end] for p in (one, other)]
        wide = [abs(b - a) for a, b in ends]
        assert abs(wide[1] - wide[0] - 20.0) < 1e-6
        tops = [p.run("sleeve.cap_front")[0].path.end for p in (one, other)]
        # each underarm stays as far from the top of the cap: exact geometry, but for the smoothing of the top
        for n in (0, 1):
            assert abs(abs(ends[1][n] - tops[1]) - abs(ends[0][n] - tops[0])) < 3.0
        joint = [
            p.run("sleeve.cap_front")[0].path.end_direction / p.run("sleeve.cap_back")[0].path.start_direction
            for p in (one, other)
        ]
        assert all(abs(math.degrees(math.atan2(j.imag, j.real))) < 1.0 for j in joint), "no corner at the top"


def test_a_full_arm_says_how_much_shorter_the_sleeve_is() -> None:
    made = drafted("bodice.darted", full_people()[2], steps=(step("full_arm", by=25.0),))
    (finding,) = [f for f in made.findings if f.code == "step.shorter"]
    assert "shorter down its middle" in finding.sentence
    tight = drafted("bodice.darted", full_people()[2], steps=(step("full_arm", by=120.0),)).evaluated.outcomes[0]
    assert "the cap is not high enough" in tight.stuck and tight.parameter == "by"


@pytest.mark.parametrize("who", PEOPLE, ids=lambda one: one.name)
def test_a_forward_shoulder_gives_the_back_what_the_front_loses(who: Person) -> None:
    for block in ("bodice.darted", "top.knit"):
        before, after = both(block, who, step("shoulder_forward", by=12.0))
        assert abs(grown(before, after, "front.armhole") + 12.0) < 1e-6
        assert abs(grown(before, after, "back.armhole") - 12.0) < 1.0
        assert abs(grown(before, after, "front.shoulder") - grown(before, after, "back.shoulder")) < 1e-6
        for run in ("front.side", "back.side"):
            assert abs(grown(before, after, run)) < 1e-9
        assert abs(grown(before, after, "sleeve.cap_front") + 12.0) < 0.5, "the sleeve is fitted again"
        assert abs(grown(before, after, "sleeve.cap_back") - 12.0) < 1.2


@pytest.mark.parametrize("side", ["left", "right"])
def test_one_lower_shoulder_changes_that_side_of_the_wearer_only(side: str) -> None:
    who = full_people()[5]
    before, after = both("bodice.darted", who, step("shoulder_one", by=12.0, side=side))
    lower, other = ("", "'") if side == "left" else ("'", "")
    for piece in ("front", "back"):
        old = before.piece(piece)
        tip = old.run(f"{piece}.shoulder")[0].path
        for stroke, drop in ((lower, 12.0), (other, 0.0)):
            run = f"{piece}.shoulder{stroke}"
            now = next(p for p in after.pieces if run in p.runs())
            path = now.run(run)[0].path
            heights = sorted((path.start.imag, path.end.imag))
            assert abs(heights[1] - max(tip.start.imag, tip.end.imag) - drop) < 1e-6, run
            assert abs(path.length - tip.length) < 1e-6
            assert abs(now.run_length(f"{piece}.side{stroke}") - old.run_length(f"{piece}.side") + drop) < 1e-6
    front = after.piece("front")
    assert front.symmetry == "whole" and not front.fold


def test_right_side_up_the_wearers_left_lies_right_on_a_front_and_left_on_a_back() -> None:
    """Pieces taken apart are cut from their own outlines: both halves of one side have to fit the same side of the body."""
    for block, steps in (("bodice.darted", ()), ("top.knit", ())):
        del steps
        made = pattern_of(drafted(block, full_people()[2], steps=(step("shoulder_one", by=10.0, side="left"),)))
        front = next(p for p in made.pieces if "front.side" in p.runs())
        assert front.run_point("front.side", 20.0)[0].real > front.centre_x
        back = next(p for p in made.pieces if "back.side" in p.runs())
        assert back.run_point("back.side", 20.0)[0].real < back.centre_x


def test_the_slope_lets_neckline_and_armhole_run_on_over_the_seam() -> None:
    for by in (-12.0, 12.0):
        made = drafted("bodice.darted", full_people()[2], steps=(step("shoulder_slope", by=by),))
        joins = [line for line in made.proof if line.kind == "join" and line.name.startswith("shoulder.")]
        assert len(joins) == 2 and all(line.holds for line in joins), by


def test_a_right_side_that_no_longer_meets_is_seen_though_the_left_one_does() -> None:
    dart = step("dart_add", at=Place(edge="front.side'", mm=200.0), width=20.0, length=80.0)
    made = drafted("top.knit", full_people()[2], steps=(step("unfold", pieces=("front",)), dart))
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    lines = {line.name: line for line in made.proof if line.kind == "seam"}
    assert lines["side"].holds and not lines["side'"].holds and "the wearer's right" in lines["side'"].label
    whole = drafted("top.knit", full_people()[2])
    assert not [line.name for line in whole.proof if line.name.endswith("'")], "halves stand for both sides"
    skirt = drafted("skirt.straight", full_people()[2], steps=(step("unfold", pieces=("front",)),))
    assert [line.name for line in skirt.proof if line.kind == "seam" and line.name.endswith("'")] == ["side'"]
