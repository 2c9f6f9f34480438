"""What was sewn when a garment was traced, opened again; edges moved in or out all along."""

from __future__ import annotations

import cmath
from typing import Any

import pytest

from caddet.core.geometry.paths import area
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.piece import Piece
from caddet.core.pipeline import make
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.values import Place
from caddet.core.tracing.kinds import KINDS
from tests.core.test_tape_tracing import project
from tests.garments import garment, read_by_tape


def traced_with(kind: str, *steps: tuple[str, dict[str, Any]], seed: int = 3) -> Made:
    net, x = garment(KINDS[kind], seed)
    document = project(kind, tuple(read_by_tape(KINDS[kind], net, x)))
    recipe = document.recipe
    for name, values in steps:
        recipe = recipe.with_step(step_entry(name, values))
    return make(EvaluateRequest(document.model_copy(update={"recipe": recipe})))


def piece_of(made: Made, name: str) -> Piece:
    assert made.pattern is not None
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    return made.pattern.piece(name)


def closed(piece: Piece, dart: str) -> tuple[complex, complex]:
    """Where the two ends of a dart's mouth lie when it is folded shut about its point."""
    _, a, apex, b = piece.legs(dart)
    return a, apex + (b - apex) * cmath.exp(1j * cmath.phase((a - apex) / (b - apex)))


@pytest.mark.parametrize(("felt", "opens"), [(25.4 * 3 / 8, 25.4 * 3 / 4), (12.0, 24.0)])
@pytest.mark.parametrize("edge", ["front.waist", "back.waist"])
def test_a_dart_opens_by_twice_what_is_felt(felt: float, opens: float, edge: str) -> None:
    """Check value 8, common practice: felt ⅜ inch, ¾ inch to open."""
    place = Place(edge=edge, share=0.5)
    name = edge.partition(".")[0]
    plain = piece_of(traced_with("fitted_skirt"), name)
    made = traced_with("fitted_skirt", ("open_dart", {"at": place, "felt": felt, "length": 95.0}))
    piece = piece_of(made, name)
    _, a, apex, b = piece.legs(piece.darts[0].id)
    assert abs(b - a) == pytest.approx(opens, abs=1e-6)
    assert abs(a - apex) == pytest.approx(abs(b - apex), abs=1e-9)
    one, other = closed(piece, piece.darts[0].id)
    assert one == pytest.approx(other, abs=1e-9)
    # sewn again the waist is as long as it was, the corner lies further out by the underlay, hem and lower side stay
    assert piece.run_length("waist") == pytest.approx(plain.run_length("waist"), abs=2.0)
    assert piece.run("side")[0].path.start - plain.run("side")[0].path.start == pytest.approx(opens, abs=0.4 * opens)
    side, was = piece.run("side")[0].path, plain.run("side")[0].path
    for share in (0.75, 0.9, 1.0):
        assert was.nearest(side.point_at(side.length * share))[0] < 0.05
    assert piece.run("hem")[0].path == plain.run("hem")[0].path
    assert not [line.label for line in made.proof if line.kind == "join" and line.verdict == "fails"]


def test_two_darts_of_one_waist_open_one_after_the_other() -> None:
    darts = [
        ("open_dart", {"at": Place(edge="back.waist", share=share), "felt": 10.0, "length": 110.0})
        for share in (0.35, 0.75)
    ]
    plain = piece_of(traced_with("fitted_skirt"), "back")
    piece = piece_of(traced_with("fitted_skirt", *darts), "back")
    assert len(piece.darts) == 2
    assert (piece.run("side")[0].path.start - plain.run("side")[0].path.start).real == pytest.approx(40, abs=6)


def test_a_neckline_dart_moves_the_shoulder_over_and_the_centre_front_stays() -> None:
    values = {"at": Place(edge="front.neckline", share=0.5), "felt": 10.0, "length": 180.0, "aside": 20.0}
    plain = piece_of(traced_with("jacket_front", seed=0), "front")
    piece = piece_of(traced_with("jacket_front", ("open_dart", values), seed=0), "front")
    for run in ("front_edge", "hem", "side"):
        assert piece.run(run)[0].path == plain.run(run)[0].path
    moved = piece.run("shoulder")[0].path.start - plain.run("shoulder")[0].path.start
    assert abs(moved) == pytest.approx(20, abs=1e-6)
    assert piece.run_length("shoulder") == pytest.approx(plain.run_length("shoulder"), abs=1e-6)


@pytest.mark.parametrize(
    ("values", "told"),
    [
        ({"at": Place(edge="front.waist", share=0.001)}, "no room for a dart"),
        ({"at": Place(edge="front.centre_front", share=0.5)}, "fold"),
        ({"at": Place(edge="front.waist", share=0.5), "toward": "back"}, "the fold, which stays"),
        ({"at": Place(edge="front.waist", share=0.5), "length": 300.0, "aside": 300.0}, "crosses itself"),
        ({"at": Place(edge="front.belt", share=0.5)}, "belt"),
    ],
)
def test_a_dart_that_cannot_be_opened_says_why(values: dict[str, Any], told: str) -> None:
    made = traced_with("fitted_skirt", ("open_dart", values))
    assert told in str(made.evaluated.outcomes[0].stuck)


def test_an_edge_moved_in_lies_everywhere_as_far_in_and_back_out_where_it_was() -> None:
    plain = piece_of(traced_with("t_shirt"), "front")
    inner = piece_of(traced_with("t_shirt", ("edge_moved", {"edges": ("front.neckline",), "by": 20.0})), "front")
    was, now = plain.run("neckline")[0].path, inner.run("neckline")[0].path
    for share in (0.05, 0.3, 0.6, 0.95):
        point = now.point_at(now.length * share)
        assert was.nearest(point)[0] == pytest.approx(20, abs=0.05)
    assert inner.run("hem")[0].path == plain.run("hem")[0].path
    assert now.start.imag > was.start.imag and inner.run_length("shoulder") < plain.run_length("shoulder")
    outer = piece_of(traced_with("t_shirt", ("edge_moved", {"edges": ("front.side",), "by": -12.0})), "front")
    assert outer.run("side")[0].path.start.real - plain.run("side")[0].path.start.real == pytest.approx(12, abs=0.2)


def test_the_allowance_of_a_paper_pattern_is_taken_off_every_edge_but_the_fold() -> None:
    plain = piece_of(traced_with("collar"), "collar")
    net = piece_of(traced_with("collar", ("edge_moved", {"by": 10.0})), "collar")
    assert net.run("centre_back")[0].path.start.real == pytest.approx(0, abs=1e-6)
    assert plain.run_length("front") - net.run_length("front") == pytest.approx(20, abs=3)
    lost = abs(area(plain.polygon(0.02))) - abs(area(net.polygon(0.02)))
    edges = sum(plain.run_length(key) + net.run_length(key) for key in ("outer", "front", "neckline")) / 2
    assert lost == pytest.approx(10 * edges, rel=0.02)


def test_nothing_left_of_an_edge_is_told() -> None:
    made = traced_with("collar", ("edge_moved", {"by": 60.0}), seed=1)
    assert made.evaluated.outcomes[0].stuck


def test_an_inverted_pleat_felt_two_and_a_half_inches_deep_moves_the_centre_out_by_as_much() -> None:
    """Check value 62: exact."""
    plain = piece_of(traced_with("jacket_back"), "back")
    values = {"deep": 63.5, "stitched": 101.6}
    piece = piece_of(traced_with("jacket_back", ("centre_pleat", values)), "back")
    assert plain.run("centre_back")[0].path.start.real - piece.run("centre_back")[0].path.start.real == pytest.approx(
        63.5
    )
