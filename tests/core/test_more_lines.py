"""Vents, cut-outs, fronts closed off their centre, darts closed into a swing, how seams are sewn, and what steps spoil."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.dart_forms import angle_of
from caddet.core.pipeline import make
from caddet.core.recipe.document import StepEntry
from caddet.core.recipe.values import Formula, FramePoint, Place
from tests.making import area, drafted, full_people, nine, pattern_of, step

WHO = full_people()[2]


def done(block: str, *steps: StepEntry, **options: object) -> Made:
    made = drafted(block, WHO, steps=steps, **options)  # type: ignore[arg-type]
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    return made


def why_not(block: str, kind: str, **values: object) -> str:
    return drafted(block, WHO, steps=(step(kind, **values),)).evaluated.outcomes[0].stuck


def codes(made: Made) -> set[str]:
    return {finding.code for finding in made.findings}


def test_a_vent_lets_a_strip_on_along_both_sides_of_the_open_seam() -> None:
    plain, made = (
        pattern_of(drafted("skirt.straight", WHO)),
        done("skirt.straight", step("vent", height=180.0, width=40.0)),
    )
    back, old = pattern_of(made).piece("back"), plain.piece("back")
    # a trapezium: 180 high at the seam, 140 at its outer edge, 40 wide
    assert abs(area(back) - area(old) - 40.0 * (180.0 + 140.0) / 2) < 1.0
    assert abs(back.run_length("back.hem") - old.run_length("back.hem") - 40.0) < 1e-6
    assert all(line.holds for line in made.proof if line.kind in ("seam", "closure"))
    side = done("skirt.straight", step("vent", edges=("front.side",), height=150.0, width=30.0))
    for name in ("front", "back"):
        let_on = area(pattern_of(side).piece(name)) - area(plain.piece(name))
        assert abs(let_on - 30.0 * (150.0 + 120.0) / 2) < 20.0, "the top slants"
    assert "must be higher than it is wide" in why_not("skirt.straight", "vent", height=60.0, width=60.0)
    assert "longer than the seam" in why_not("skirt.straight", "vent", height=1100.0, width=60.0)


def test_a_cut_out_at_the_fold_is_square_to_it_and_faced() -> None:
    line = (
        Place(edge="back.centre_back", mm=100.0),
        FramePoint(edge="back.centre_back", along=0.3, out=-60.0),
        Place(edge="back.centre_back", mm=300.0),
    )
    made = done("top.knit", step("cut_out", line=line, curve=True))
    old, back = (
        pattern_of(drafted("top.knit", WHO)).piece("back"),
        next(p for p in pattern_of(made).pieces if p.made == "back"),
    )
    assert back.label == old.label and back.fold and area(back) < area(old) - 2000
    (edge,) = [edge for edge in back.edges if edge.name == "s2.cut"]
    assert edge.finish == "facing"
    assert abs(edge.path.start_direction.imag) < 1e-6 and abs(edge.path.end_direction.imag) < 1e-6
    assert abs(back.run_length("back.centre_back") - old.run_length("back.centre_back") + 200.0) < 1e-6
    assert not [line for line in made.proof if line.kind in ("seam", "join", "closure") and not line.holds]


def test_a_cut_out_in_a_side_says_that_the_other_piece_has_to_follow() -> None:
    line = (
        Place(edge="front.side", mm=150.0),
        FramePoint(edge="front.side", along=0.5, out=-60.0),
        Place(edge="front.side", mm=350.0),
    )
    made = done("top.knit", step("cut_out", line=line))
    assert "step.seam" in codes(made)
    other = tuple(one.model_copy(update={"edge": "back.side"}) for one in line)
    both = done("top.knit", step("cut_out", line=line), step("cut_out", line=other))
    assert all(one.holds for one in both.proof if one.kind == "seam" and one.name == "side")
    assert "draw the line" in why_not("top.knit", "cut_out")


def test_a_front_closed_off_its_centre_is_the_whole_front_along_the_line() -> None:
    old = pattern_of(drafted("top.knit", WHO)).piece("front")
    sewn = pattern_of(done("top.knit", step("asymmetric_front", top=-50.0, bottom=120.0)))
    parts = [p for p in sewn.pieces if p.made == "front"]
    assert abs(sum(map(area, parts)) - 2 * area(old)) < 1.0
    assert {p.label for p in parts} == {"Left front", "Right front"}
    left = next(p for p in parts if p.label == "Left front")
    right = next(p for p in parts if p.label == "Right front")
    assert "front.side" in left.runs() and "front.side'" in right.runs(), "drawn is the wearer's left"
    seam = sewn.seam("s2.seam")
    assert abs(sewn.length(seam.a) - sewn.length(seam.b)) < 1e-6
    open_ = pattern_of(done("top.knit", step("asymmetric_front", top=-50.0, bottom=120.0, closes="opens", over=40.0)))
    wide = [p for p in open_.pieces if p.made == "front"]
    hems = sum(p.run_length("front.hem") for p in wide if p.has_run("front.hem")) + sum(
        p.run_length("front.hem'") for p in wide if p.has_run("front.hem'")
    )
    assert abs(hems - 2 * old.run_length("front.hem") - 40.0) < 0.1, "half the overlap on each side"
    assert all(seam.name != "s2.seam" for seam in open_.seams)
    assert all(edge.finish == "facing" for p in wide for edge in p.edges if edge.name == "s2.cut")
    for part in wide:  # levels run on over the overlap as straight as they were
        for one in part.features:
            if one.kind == "level":
                ends = [part.where(end) for bit in one.bits for end in (bit.a, bit.b)]
                assert max(p.imag for p in ends) - min(p.imag for p in ends) < 0.5, (part.label, one.name)
    assert "from the centre" in why_not("top.knit", "asymmetric_front", top=300.0)


def test_a_dart_closed_into_the_hem_swings_it_out_by_its_angle() -> None:
    plain = pattern_of(drafted("skirt.straight", WHO)).piece("front")
    dart = next(d for d in plain.darts if d.name == "front.front_dart")
    made = done("skirt.straight", step("dart_close", dart="front.front_dart", to=Place(edge="front.hem", share=0.5)))
    front = pattern_of(made).piece("front")
    assert not [d for d in front.darts if d.name == dart.name]
    turned = math.degrees(math.atan2(*reversed(_way(front)))) - math.degrees(math.atan2(*reversed(_way(plain))))
    assert abs(abs(turned) - angle_of(plain, dart)) < 1e-6
    (hem,) = front.run("front.hem")
    assert all(abs(b.direction(0.0) - a.direction(1.0)) < 1e-6 for a, b in pairwise(hem.path.segments)), "drawn fair"
    hip = next(line for line in made.proof if line.name == "hip")
    wider = hip.value - next(line for line in drafted("skirt.straight", WHO).proof if line.name == "hip").value
    assert hip.holds and 10 < wider < 90, "there is more cloth at the hip, on purpose"
    assert "sewn to another" in why_not(
        "skirt.straight", "dart_close", dart="front.front_dart", to=Place(edge="front.side", share=0.5)
    )


def _way(piece: object) -> tuple[float, float]:
    direction = piece.run("front.side")[-1].path.end_direction  # type: ignore[attr-defined]
    return direction.real, direction.imag


def test_a_flare_begins_at_the_level_that_is_named() -> None:
    for block, level, edge in (
        ("skirt.straight", "front.hip", "front.side"),
        ("trousers.tailored", "front.knee", "front.side"),
    ):
        plain, made = (
            pattern_of(drafted(block, WHO)),
            done(block, step("flare", edges=(edge,), amount=40.0, level=(level,))),
        )
        at = next(
            e
            for bit in plain.piece("front").feature(level.partition(".")[2]).bits
            for e in (bit.a, bit.b)
            if getattr(e, "edge", "") == edge
        )  # type: ignore[union-attr]
        height = plain.piece("front").where(at).imag
        old, new = plain.piece("front"), pattern_of(made).piece("front")
        for y, moved in ((height - 5.0, False), (height + 80.0, True)):
            xs = [
                max(p.real for _, p in one.outline().crossings(complex(-1e4, y), complex(1e4, y))) for one in (old, new)
            ]
            assert (xs[1] - xs[0] > 0.2) is moved, (block, y)
    assert "does not meet" in why_not(
        "trousers.tailored", "flare", edges=("side",), amount=30.0, level=("front.nothing",)
    )


def test_a_length_that_is_wanted_worn_is_cut_shorter_in_cloth_that_gives() -> None:
    lengths = {
        rule: pattern_of(done("top.knit", step("lengthen", at=400.0, amount=100.0, stretch=rule))).run_length(
            "front.centre_front"
        )
        for rule in ("none", "quick", "exact")
    }
    old = pattern_of(drafted("top.knit", WHO)).run_length("front.centre_front")
    assert abs(lengths["none"] - old - 100) < 1e-6 and abs(lengths["quick"] - old - 60) < 1e-6  # gives 40 % along
    assert abs(lengths["exact"] - old - 100 / 1.4) < 1e-6
    assert "step.stretch" in codes(done("top.knit", step("lengthen", amount=100.0)))
    assert "step.stretch" not in codes(done("top.knit", step("lengthen", amount=100.0, stretch="exact")))
    assert "step.stretch" not in codes(done("skirt.straight", step("lengthen", amount=100.0)))


def test_fullness_by_a_sample_is_what_the_sample_drew_up() -> None:
    plain = pattern_of(drafted("skirt.straight", WHO))
    made = pattern_of(
        done("skirt.straight", step("slash", edges=("front.hem",), by="sample", flat=230.0, drawn=100.0, fair=False))
    )
    assert abs(made.run_length("front.hem") / plain.run_length("front.hem") - 2.3) < 1e-6
    assert "shorter drawn up" in why_not(
        "skirt.straight", "slash", edges=("front.hem",), by="sample", flat=100.0, drawn=200.0
    )


def test_the_longer_side_of_a_seam_is_held_in_and_the_proof_offers_it() -> None:
    made = done("skirt.straight", step("lengthen", pieces=("front",), at=400.0, amount=20.0))
    line = next(line for line in made.proof if line.name == "side" and line.kind == "seam")
    remedy = next(one for one in line.remedies if one.label == "Ease the longer side in")
    mended = make(EvaluateRequest(remedy.apply(made.document)))
    assert next(line for line in mended.proof if line.name == "side" and line.kind == "seam").holds
    seam = pattern_of(mended).seam("side")
    assert seam.kind == "eased" and abs(abs(seam.amount) - 20.0) < 0.5
    assert "nothing to hold" in why_not("skirt.straight", "sewn_as", seam="side", how="gathered")


# --- what a step spoils is told there ---------------------------------------------------------------


def test_a_line_too_near_to_an_edge_is_told() -> None:
    def cut(mm: float) -> Made:
        line = (Place(edge="front.centre_front", mm=mm), Place(edge="front.side", share=0.99))
        return drafted("skirt.straight", WHO, steps=(step("cut", line=line),))

    hem = pattern_of(drafted("skirt.straight", WHO)).run_length("front.side")
    assert hem > 300
    near, far = (
        cut(8.0),
        drafted(
            "skirt.straight",
            WHO,
            steps=(
                step("cut", line=(Place(edge="front.centre_front", mm=250.0), Place(edge="front.side", share=0.5))),
            ),
        ),
    )
    assert "step.near" in codes(near) and "step.near" not in codes(far)


def test_a_line_too_near_to_a_contour_dart_is_told() -> None:
    """Within a seam's allowance of it: nothing was said, though the dart can't be sewn there."""

    def told(aside: float) -> bool:
        front = pattern_of(drafted("dress.sheath", WHO, style="in_one")).piece("front")
        dart = next(feature for feature in front.features if feature.kind == "contour_dart")
        corners = [front.where(bit.a) for bit in dart.bits]
        x = max(corner.real for corner in corners) + aside
        ends = []
        for run in ("shoulder", "hem"):
            found = [
                along / front.run_length(run)
                for edge in front.run(f"front.{run}")
                for along, _ in edge.path.crossings(x + 0j, x + 1j)
            ]
            ends.append(Place(edge=f"front.{run}", share=found[0]))
        made = drafted("dress.sheath", WHO, style="in_one", steps=(step("cut", line=tuple(ends)),))
        assert not made.evaluated.outcomes[-1].stuck
        return any(
            one.code == "step.near" and "contour dart" in str(one.sentence).lower() for one in made.evaluated.findings
        )

    assert told(8.0) and not told(45.0)


def test_a_dart_that_opens_at_a_hem_holds_nothing() -> None:
    made = done("skirt.straight", step("pivot_dart", dart="front.front_dart", to=Place(edge="front.hem", share=0.5)))
    assert "step.dart" in codes(made)
    assert "step.dart" not in codes(drafted("skirt.straight", WHO))


def test_an_opening_on_the_fold_and_a_bent_fold_are_told() -> None:
    text = "piece P\nA\nB = A out 20\nC = B down 40\nD = A down 40\nZ = A down 15\nedge top: A - B\nedge right: B - C\nedge hem: C - D, hem\nedge fold: D - Z, fold\nedge zip: Z - A, opening\n"
    assert "step.opening" in codes(done("skirt.straight", step("own_pieces", recipe=text)))


@pytest.mark.parametrize("share", [0.35, 0.8])
def test_darts_that_miss_each_other_across_a_seam_are_told(share: float) -> None:
    plain = drafted("dress.sheath", WHO)
    assert "step.missed" not in codes(plain)
    front = pattern_of(plain)
    skirt = next(p for p in front.pieces if p.made.startswith("skirt_front") or p.made == "skirt_front")
    dart = skirt.darts[0]
    run = skirt.edges[skirt.legs(dart.id)[0] - 1].name
    before = skirt.run_length(run)
    at = skirt.along(skirt.spot_at(run, 0.0))
    del at
    mouth = sum(e.path.length for e in skirt.run(run)[:1])
    target = min(max(mouth + (18.0 if share > 0.5 else -18.0), 10.0), before - 10.0)
    moved = drafted("dress.sheath", WHO, steps=(step("pivot_dart", dart=dart.id, to=Place(edge=run, mm=target)),))
    if not moved.evaluated.outcomes[0].stuck:
        assert "step.missed" in codes(moved)


BOW_TIE = (
    Place(edge="front.centre_front", mm=200.0),
    FramePoint(edge="front.centre_front", along=0.6, out=-150.0),
    FramePoint(edge="front.centre_front", along=0.4, out=-150.0),
    FramePoint(edge="front.centre_front", along=0.6, out=-40.0),
    Place(edge="front.side", share=0.5),
)


@pytest.mark.parametrize(
    ("block", "kind", "values", "parameter", "said"),
    [
        ("bodice.darted", "pivot_dart", {"dart": "front.bust_dart", "to": Place(edge="front.armhole", share=0.98)}, "to", "room"),
        ("skirt.straight", "slash", {"edges": ("front.hem",), "count": 2, "amount": 3000.0, "opens": "start"}, "amount", "fold"),
        ("top.knit", "neckline", {"edges": ("front.neckline",), "down": 700.0}, "down", ""),
        ("skirt.straight", "cut", {"line": (Place(edge="front.side", share=0.4), Place(edge="front.side", share=0.7))}, "line", ""),
        ("skirt.straight", "cut", {"line": BOW_TIE}, "line", "crosses itself"),
        ("skirt.straight", "cut", {"line": (Place(edge="front.centre_front", share=0.1), Place(edge="front.centre_front", share=0.9))}, "line", "runs along its edge"),
        ("bodice.darted", "join_seam", {"seam": "armhole_front"}, "seam", "apart when laid together"),
        ("skirt.straight", "slash", {"edges": ("front.hem",), "count": 0}, "count", "is not between 1 and 60"),
        ("skirt.straight", "slash", {"edges": ("front.hem",), "count": 500}, "count", "is not between 1 and 60"),
        ("skirt.straight", "lengthen", {"amount": 3000.0}, "amount", "is not between"),
        ("skirt.straight", "vent", {"height": 1.0}, "height", "is not between"),
        ("skirt.straight", "flare", {"amount": Formula(text="hip * hip")}, "amount", "must come out as a length"),
        ("skirt.straight", "flare", {"amount": Formula(text="hip / waist")}, "amount", "must come out as a length"),
        ("skirt.straight", "own_pieces", {"recipe": "piece X\nA = B down 2\nB = A out 3\nedge a: A - B - A\n"}, "recipe", "A needs B, B needs A"),
    ],
)  # fmt: skip
def test_bad_input_is_a_sentence_at_its_parameter(
    block: str, kind: str, values: dict[str, object], parameter: str, said: str
) -> None:
    made = drafted(block, WHO, steps=(step(kind, **values),))
    (outcome,) = made.evaluated.outcomes
    assert said in outcome.stuck and len(outcome.stuck) > 20 and outcome.parameter == parameter, (
        outcome.stuck,
        outcome.parameter,
    )
    assert made.pattern is not None and made.pattern.pieces == pattern_of(drafted(block, WHO)).pieces, "nothing is lost"


def test_a_millimetre_is_done_where_a_millimetre_makes_sense() -> None:
    plain = pattern_of(drafted("skirt.straight", WHO))
    for kind, values, run in (
        ("lengthen", {"amount": 1.0, "at": 400.0}, "front.centre_front"),
        ("flare", {"amount": 1.0}, "front.hem"),
    ):
        grown = pattern_of(done("skirt.straight", step(kind, **values))).run_length(run) - plain.run_length(run)
        assert 0.5 < grown < 1.5, kind


def test_a_wide_round_back_neckline_does_not_hook() -> None:
    """Five centimetres wider, it dipped below its centre on its way to the shoulder; it is lowered, and that is said."""
    for block in ("bodice.darted", "top.knit", "dress.sheath"):
        made = drafted(block, steps=(step("neckline", edges=("front.neckline", "back.neckline"), out=50.0, down=0.0),))
        assert any(one.code == "step.lower" for one in made.findings)
        neck = pattern_of(made).piece("back").run("neckline")[0].path
        points = neck.flattened(0.1)
        assert max(p.imag for p in points) <= neck.start.imag + 0.5, block
        ups = [b.imag - a.imag for a, b in pairwise([neck.start, *points])]
        assert max(ups) < 0.05, "it only rises from the centre to the shoulder"


@pytest.mark.parametrize(
    "change",
    [("neckline", {"edges": ("front.neckline",), "down": 60.0}), ("armhole", {"lower": 40.0, "cut_in": 20.0})],
    ids=["neckline", "armhole"],
)
def test_levels_stay_level_when_an_edge_they_end_at_goes_lower(change: tuple[str, dict[str, object]]) -> None:
    kind, values = change
    for who in nine():
        for block in ("bodice.darted", "top.knit", "dress.sheath"):
            pattern = pattern_of(drafted(block, who, steps=(step(kind, **values),)))
            for piece in pattern.pieces:
                for one in (f for f in piece.features if f.kind == "level" and piece.made in ("front", "back")):
                    ends = [p for path in piece.drawn(one) for p in (path.start, path.end)]
                    assert max(p.imag for p in ends) - min(p.imag for p in ends) < 0.5, (who.name, block, one.name)
