"""True: notches by rule, ease limits, lines that meet, seams that can hardly be walked, what is walked at a pace."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import pytest

from caddet.core.designs import design_named
from caddet.core.errors import CaddetError, InputError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Join, Seam, part
from caddet.core.pipeline import make
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.context import Context
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.stages import do_step
from caddet.core.truing.checks import deepest_flat, hem_excess, meeting_lines
from caddet.core.truing.ease_limits import COLUMNS, ease_limit, read_ease_limits
from caddet.core.truing.ends import layer_lengthened
from caddet.core.truing.joins import hollow, joins
from caddet.core.truing.notch_rules import shares_for
from caddet.core.truing.notches import marks, pairs
from caddet.core.truing.walk import roll, walk
from tests.making import document, drafted, pattern_of, skirt, step


def strip(name: str, points: list[complex]) -> Piece:
    """A piece whose first edge runs through points, closed below."""
    edges = [
        Edge(f"{name}.top", Path.polyline(points)),
        Edge(f"{name}.end", Path.polyline([points[-1], points[-1] + 50j]), "turned"),
        Edge(f"{name}.low", Path.polyline([points[-1] + 50j, points[0] + 50j]), "turned"),
        Edge(f"{name}.start", Path.polyline([points[0] + 50j, points[0]]), "turned"),
    ]
    return Piece(name, name, tuple(edges))


def two(a: list[complex], b: list[complex], join: Join = Join()) -> Pattern:  # noqa: B008  (a value, never changed)
    seam = Seam("join", "Join", ((part("one.top"),), (part("two.top"),)), (join,))
    return Pattern((strip("one", a), strip("two", b)), (seam,))


# --- walking --------------------------------------------------------------------------------------


def test_a_seam_of_a_millimetre_is_walked() -> None:
    pattern = two([0j, 1 + 0j], [0j, 1 + 0j])
    found = walk(pattern, pattern.seams[0])
    assert found.holds and found.length_a == 1 and roll(pattern, pattern.seams[0], 0.5).touch == 0.5


def test_a_walk_over_an_edge_that_doubles_back_goes_on() -> None:
    there = [0j, 100 + 0j, 100 + 0.5j, 20 + 0.5j, 20 + 1j, 120 + 1j]
    pattern = two(there, [0j, complex(sum(abs(b - a) for a, b in pairwise(there)), 0)])
    seam = pattern.seams[0]
    assert walk(pattern, seam).holds
    for at in (0.0, 99.0, 100.2, 150.0, walk(pattern, seam).length_a):
        state = roll(pattern, seam, at)
        assert abs(state.place_b(state.part_b.path().point_at(at)) - state.touch) < 1e-6


def test_a_seam_whose_edge_is_gone_is_said() -> None:
    pattern = two([0j, 50 + 0j], [0j, 50 + 0j])
    lost = Pattern(pattern.pieces[:1], pattern.seams)
    with pytest.raises(CaddetError, match="there is no edge"):
        walk(lost, lost.seams[0])


def test_gathers_are_walked_at_their_own_pace_so_that_both_ends_meet() -> None:
    pattern = two([0j, 100 + 0j], [0j, 150 + 0j], Join("gathered", 1.5))
    found = walk(pattern, pattern.seams[0])
    assert found.holds and found.pace == 1.5
    end = roll(pattern, pattern.seams[0], 100.0, pace=found.pace)
    assert abs(end.place_b(150 + 0j) - end.touch) < 1e-9 and end.touch == 100


def test_the_running_difference_ends_at_what_the_walk_is_off() -> None:
    pattern = two([0j, 100 + 0j], [0j, 108 + 0j])
    running = walk(pattern, pattern.seams[0]).running()
    assert running[0] == (0.0, 0.0, "") and running[-1][:2] == (1.0, 8.0)
    side = next(s for s in skirt().seams if s.name == "side")
    named = [name for _, _, name in walk(skirt(), side).running() if name]
    assert named == ["hip"]


# --- notches --------------------------------------------------------------------------------------


def test_notches_by_rule_are_put_on_both_sides_and_only_once() -> None:
    pattern = pattern_of(drafted("skirt.straight"))
    after = do_step(step_entry("notch_rule", {"long": 200.0}, id="s9"), pattern, Context())
    assert not after.stuck
    for seam in after.pattern.seams:
        for layer in range(1, len(seam.layers)):
            assert all(not pair.off and not pair.unlike for pair in pairs(after.pattern, seam, layer)), seam.name
    again = do_step(step_entry("notch_rule", {"long": 200.0}, id="s10"), after.pattern, Context())
    assert "every seam has its notches" in again.stuck


def test_what_a_seam_asks_for() -> None:
    def shares(join: Join, length: float) -> int:
        pattern = two([0j, complex(length)], [0j, complex(join.wanted(length))], join)
        return len(shares_for(pattern, pattern.seams[0], 300.0))

    assert [shares(Join(), n) for n in (50, 200, 400, 900)] == [0, 0, 1, 2]
    assert shares(Join("stretched", 0.8), 400) == 3 and shares(Join("gathered", 2.0), 400) == 5


def test_notches_stay_at_their_share_when_the_edge_changes() -> None:
    pattern = pattern_of(drafted("skirt.straight"))
    seam = pattern.seam("side")
    at = do_step(step_entry("notch_rule", {"seam": ("side",), "long": 100.0}, id="s9"), pattern, Context()).pattern
    before = [mark.at / at.length(seam.a) for mark in marks(at, seam.a)]
    wider = do_step(step_entry("flare", {"edges": ("front.side",), "amount": 40.0}, id="s10"), at, Context()).pattern
    after = [mark.at / wider.length(seam.a) for mark in marks(wider, seam.a)]
    assert after == pytest.approx(before, abs=0.02)


# --- lines that meet, hems ------------------------------------------------------------------------


def test_a_dart_that_misses_a_line_across_the_seam_is_moved_to_it() -> None:
    base = drafted("dress.sheath", style="waist_seam")
    pattern = pattern_of(base)
    dart = next(d for d in pattern.piece("skirt_front").darts)
    off = do_step(step_entry("dart_slide", {"dart": (dart.id,), "by": 8.0}, id="s9"), pattern, Context())
    assert not off.stuck, off.stuck
    found = [one for seam in off.pattern.seams for one in meeting_lines(off.pattern, seam)]
    moved = [one for one in found if one.value > 2.5]
    if not moved:
        pytest.skip("on this body the lines were not near each other")
    again = do_step(step_entry("dart_slide", moved[0].values, id="s10"), off.pattern, Context())
    assert not again.stuck, again.stuck
    left = [one for seam in again.pattern.seams for one in meeting_lines(again.pattern, seam)]
    assert moved[0].name not in [one.name for one in left]


def test_a_circle_hem_ripples_and_a_straight_one_lies_flat() -> None:
    circle, plain = pattern_of(drafted("skirt.circle")), skirt()
    piece = next(p for p in circle.pieces if any(e.finish == "hem" for e in p.edges))
    run = next(e.name for e in piece.edges if e.finish == "hem")
    turn = sum(abs(s.sweep) for e in piece.run(run) for s in e.path.segments if hasattr(s, "sweep"))
    assert hem_excess(piece, run, 40.0) == pytest.approx(2 * 40.0 * turn, rel=1e-6), (
        "twice the depth times the angle it turns through"
    )
    assert deepest_flat(piece, run) < 40 < deepest_flat(plain.piece("front"), "front.hem")


# --- ease limits ----------------------------------------------------------------------------------


def test_every_limit_says_where_it_comes_from() -> None:
    woven, knit = Cloth(name="W", width=1400.0), Cloth(name="K", width=1400.0, kind="knit", stretch=0.5)
    pattern = pattern_of(drafted("bodice.darted"))
    cap = ease_limit(pattern.seam("armhole_back"), 240.0, woven)
    assert cap is not None and cap.most > pattern.seam("armhole_back").amount and cap.source == "common practice"
    side = ease_limit(pattern.seam("side"), 200.0, knit)
    assert side is not None and side.source == "guess" and side.where
    gathered = Seam("g", "Gathers", ((part("a.b"),), (part("c.d"),)), (Join("gathered", 2.0),))
    assert ease_limit(gathered, 100.0, woven) is None


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("a,b\n", "expected the columns"),
        (",".join(COLUMNS) + "\nany,felt,0.1,5,x,y\n", "line 2, column cloth"),
        (",".join(COLUMNS) + "\nany,woven,much,5,x,y\n", "line 2"),
        (",".join(COLUMNS) + "\nany,woven,0.1,5,x,y\n", "expected a row “any” for knit"),
    ],
)
def test_limits_that_can_not_be_used_name_the_place(text: str, said: str) -> None:
    with pytest.raises(InputError) as refused:
        read_ease_limits(text, "limits")
    assert said in str(refused.value)


def test_seams_of_every_kind_in_the_designs_are_walked() -> None:
    kinds = set()
    for name in ("smock", "concert-dress", "practice-tank", "waistcoat", "ringing-trousers"):
        pattern = pattern_of(make(EvaluateRequest(design_named(name).document)))
        for seam in pattern.seams:
            for layer in range(1, len(seam.layers)):
                found = walk(pattern, seam, layer)
                kinds.add(found.verdict)
                end = roll(pattern, seam, found.length_a, layer, pace=found.pace)
                assert abs(end.touch) < 1e5
    assert {"meets", "eased", "gathered", "stretched"} <= kinds


def test_a_block_that_drafts_a_seam_wrong_is_said_to_be_at_fault() -> None:
    from caddet.core.fitting.proof import prove

    made = drafted("skirt.straight")
    pattern = pattern_of(made)
    wrong = do_step(
        step_entry("lengthen", {"pieces": ("front",), "at": 400.0, "amount": 20.0}, id="s9"), pattern, Context()
    ).pattern
    (source,) = made.evaluated.sources
    blamed = next(
        line for line in prove((replace(source, pattern=wrong),), wrong) if (line.kind, line.name) == ("seam", "side")
    )
    assert not blamed.holds and "the block itself is at fault" in str(blamed.sentence)
    step_made = next(line for line in prove((source,), wrong) if (line.kind, line.name) == ("seam", "side"))
    assert not step_made.holds and "at fault" not in str(step_made.sentence)


def test_a_half_that_stands_for_both_gives_half_of_what_is_asked() -> None:
    half = replace(strip("half", [0j, 100 + 0j]), pair=True)
    layers = ((part("half.top"), part("half.top", mirrored=True, backwards=True)), (part("band.top"),))
    seam = Seam("join", "Join", layers)
    pattern = Pattern((half, strip("band", [0j, 200 + 0j])), (seam,))
    assert pattern.length(seam.a) == 200
    longer = layer_lengthened(pattern, seam.a, 12.0)
    assert abs(longer.length(seam.a) - 212) < 1e-9 and abs(longer.run_length("half.top") - 106) < 1e-9


def test_the_hollow_of_a_circle_is_its_sagitta() -> None:
    base = document().model_copy(update={"recipe": Recipe.of("skirt.circle")})
    pattern = pattern_of(make(EvaluateRequest(base)))
    waist = next(edge for piece in pattern.pieces for edge in piece.edges if edge.own == "waist")
    hem = next(edge for piece in pattern.pieces for edge in piece.edges if edge.own == "hem")
    radii = [path.segments[0].radius for path in (waist.path, hem.path) if isinstance(path.segments[0], Arc)]
    found = {join.label.partition(" ")[0]: hollow(pattern, join) for join in joins(pattern)}
    for name, radius, sign in zip(("Waist", "Hem"), radii, (1, -1), strict=True):
        deep, reach = found[name]
        assert deep == pytest.approx(sign * radius * (1 - math.cos(reach / radius)), abs=1e-6), name


def test_edges_sewn_the_wrong_way_round_say_which_ends_meet() -> None:
    """By itself the ends of one kind meet; the other ones can be chosen, and are told."""
    for ends, told in (("kind", False), ("other", True)):
        made = drafted(
            "own.points",
            steps=(
                step("own_pieces", recipe=TWO_PANELS),
                step("sew", first=("s2.one.right",), second=("s2.two.left",), ends=ends),
            ),
        )
        assert not made.evaluated.outcomes[-1].stuck
        said = [one for one in made.findings if one.code == "step.ends"]
        assert bool(said) == told and all("hem" in one.sentence for one in said)


TWO_PANELS = """piece One, cut 1
A
B = A out 20cm
C = B down 30cm
D = A down 30cm
edge waist: A - B
edge right: B - C
edge hem: C - D, hem
edge left: D - A, turned
piece Two, cut 1
A
B = A out 20cm
C = B down 30cm
D = A down 30cm
edge waist: A - B
edge right: B - C, turned
edge hem: C - D, hem
edge left: D - A
"""
