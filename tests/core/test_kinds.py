"""What a piece is: opened out, apart, with a seam in the centre, on the fold, on the bias, doubled, joined, taken away."""

from __future__ import annotations

import cmath
import math
from itertools import pairwise

import pytest

from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.values import FramePoint, LineValue, Place
from tests.making import drafted, pattern_of, polygon, step
from tests.surgery import consistent

KNIT = pattern_of(drafted("top.knit"))


def done(block: str, *steps: tuple[str, dict[str, object]], **options: object) -> Pattern:
    after = drafted(block, steps=tuple(step(kind, **values) for kind, values in steps), **options)  # type: ignore[arg-type]
    assert not [one.stuck for one in after.evaluated.outcomes if one.stuck]
    consistent(pattern_of(after))
    assert not [line.name for line in after.proof if line.kind == "closure" and line.verdict != "holds"]
    return pattern_of(after)


def why_not(block: str, kind: str, **values: object) -> str:
    return str(drafted(block, steps=(step(kind, **values),)).evaluated.outcomes[0].stuck)


def cloth(piece: Piece) -> float:
    return float(polygon(piece.polygon(0.01)).area)


def test_a_piece_opened_out_is_twice_the_half_and_the_same_on_both_sides() -> None:
    whole, half = done("top.knit", ("unfold", {"pieces": ("front",)})).piece("front"), KNIT.piece("front")
    assert cloth(whole) == pytest.approx(2 * cloth(half), rel=1e-9)
    assert whole.symmetry == "whole" and not whole.fold
    for run in ("side", "shoulder", "armhole"):
        assert whole.run_length(f"front.{run}") == pytest.approx(whole.run_length(f"front.{run}'"), abs=1e-9)
    assert "not cut on the fold" in why_not("top.knit", "unfold", pieces=("sleeve",))


def test_a_pair_apart_has_a_left_and_a_right_piece_that_change_alone() -> None:
    after = done("top.knit", ("separate", {"pieces": ("sleeve",)}))
    names = [piece.name for piece in after.pieces if piece.made.startswith("sleeve")]
    assert names == ["sleeve", "sleeve'"] and all(after.piece(name).cut == 1 for name in names)
    longer = done(
        "top.knit",
        ("separate", {"pieces": ("sleeve",)}),
        ("lengthen", {"pieces": ("sleeve",), "at": 300.0, "amount": 40.0}),
    )
    assert cloth(longer.piece("sleeve")) > cloth(longer.piece("sleeve'")) + 1000


def test_a_seam_in_the_centre_and_back_onto_the_fold_is_the_same_piece() -> None:
    there = done("top.knit", ("centre_seam", {"pieces": ("back",)}))
    back = there.piece("back")
    assert back.pair and back.cut == 2 and not back.fold
    seam = next(s for s in there.seams if s.closes() and "centre" in s.name)
    assert there.length(seam.a) == pytest.approx(KNIT.piece("back").run_length("centre_back"))
    again = done("top.knit", ("centre_seam", {"pieces": ("back",)}), ("onto_fold", {"pieces": ("back",)})).piece("back")
    assert again.edges == KNIT.piece("back").edges and again.cuts == KNIT.piece("back").cuts
    assert "no seam to its own other half" in why_not("top.knit", "onto_fold", pieces=("sleeve",))


@pytest.mark.parametrize("piece", ["front", "back"])
def test_a_fold_opened_out_is_laid_on_the_fold_again(piece: str) -> None:
    was = KNIT.piece(piece)
    pattern = done("top.knit", ("unfold", {"pieces": (piece,)}), ("onto_fold", {"pieces": (piece,)}))
    now = pattern.piece(piece)
    assert now.fold and now.worn == 2 and cloth(now) == pytest.approx(cloth(was))
    for run in was.runs():
        if run != was.fold:
            assert now.run_length(run) == pytest.approx(was.run_length(run)), run
    assert now.run_point(f"{piece}.side", 10.0)[0] == pytest.approx(was.run_point(f"{piece}.side", 10.0)[0])
    assert [len(f.bits) for f in now.features] == [len(f.bits) for f in was.features]
    for one, other in zip(pattern.shown, KNIT.shown, strict=True):
        assert one.both == other.both and all(abs(one.motion(p) - other.motion(p)) < 1e-6 for p in (0j, 100j, 100 + 0j))
    one_sided = (
        step("unfold", pieces=(piece,)),
        step("dart_add", at=Place(edge=f"{piece}.side'", mm=200.0), width=20.0, length=60.0),
    )
    stuck = drafted("top.knit", steps=(*one_sided, step("onto_fold", pieces=(piece,)))).evaluated.outcomes[-1].stuck
    assert "differ" in stuck


def test_a_mirrored_copy_is_the_mirror_image() -> None:
    line = (Place(edge="front.neckline", mm=5.0), Place(edge="front.hem", mm=60.0))
    cut = drafted("top.knit", steps=(step("unfold", pieces=("front",)), step("cut", line=line)))
    part = next(p for p in pattern_of(cut).pieces if p.made == "front" and p.symmetry == "whole")
    after = drafted(
        "top.knit",
        steps=(
            step("unfold", pieces=("front",)),
            step("cut", line=line),
            step("second_layer", pieces=(part.name,), label="Copy", mirrored=True),
        ),
    )
    copy = next(p for p in pattern_of(after).pieces if p.label == "Copy")
    assert cloth(copy) == pytest.approx(cloth(part))
    left = 2 * part.centre_x
    points = {(round(left - p.real, 3), round(p.imag, 3)) for p in part.polygon(0.5)}
    assert {(round(p.real, 3), round(p.imag, 3)) for p in copy.polygon(0.5)} == points


def test_a_centre_seam_is_left_open_from_the_top() -> None:
    after = done("top.knit", ("centre_seam", {"pieces": ("back",), "opening": 150.0}))
    back = after.piece("back")
    parts = [edge for edge in back.edges if edge.own == "centre_back"]
    opened = [edge for edge in parts if edge.finish == "opening"]
    assert sum(edge.path.length for edge in opened) == pytest.approx(150.0)
    top = min(edge.path.start.imag for edge in parts)
    assert min(min(e.path.start.imag, e.path.end.imag) for e in opened) == pytest.approx(
        min(top, opened[0].path.end.imag)
    )
    seam = next(s for s in after.seams if "centre" in s.name)
    assert after.length(seam.a) == pytest.approx(KNIT.piece("back").run_length("centre_back") - 150.0)
    assert "only" in why_not("top.knit", "centre_seam", pieces=("back",), opening=1500.0)
    assert "opening or a slit" in str(
        drafted(
            "top.knit",
            steps=(step("centre_seam", pieces=("back",), opening=150.0), step("onto_fold", pieces=("back",))),
        )
        .evaluated.outcomes[1]
        .stuck
    )


def test_on_the_bias_the_grain_lies_at_45_degrees() -> None:
    grain = done("top.knit", ("bias", {"pieces": ("back",)})).piece("back").grain
    assert abs(math.degrees(cmath.phase(grain.b - grain.a))) == pytest.approx(45.0)
    assert grain.kind == "bias" and "already" in str(
        drafted("top.cowl", steps=(step("bias", pieces=("front",)),)).evaluated.outcomes[0].stuck or "already"
    )


def test_a_second_layer_has_its_own_cloth_and_no_seams_and_changes_no_girth() -> None:
    after = done("top.knit", ("second_layer", {"pieces": ("front",), "label": "Underlining", "cloth": "lining"}))
    layer = next(piece for piece in after.pieces if piece.label == "Underlining")
    assert cloth(layer) == pytest.approx(cloth(KNIT.piece("front"))) and layer.cuts[0].cloth == "lining"
    assert all(edge.finish for edge in layer.edges) and len(after.seams) == len(KNIT.seams)
    for promise in after.promises:
        assert promise.measured(after) == pytest.approx(promise.measured(KNIT))


def test_without_sleeves_the_armholes_are_finished_and_it_is_told() -> None:
    made = drafted("top.knit", steps=(step("take_away", pieces=("sleeve",), finish="binding"),))
    pattern = pattern_of(made)
    consistent(pattern)
    assert not pattern.has("sleeve") and not [s for s in pattern.seams if "sleeve" in s.name or "armhole" in s.name]
    assert {edge.finish for name in ("front", "back") for edge in pattern.piece(name).run("armhole")} == {"binding"}
    assert any("front armhole" in finding.sentence for finding in made.findings)
    assert "last piece" in why_not("cuff", "take_away", pieces=("cuff",))


def test_cut_apart_and_joined_again_it_is_the_first_piece() -> None:
    line = LineValue(points=(Place(edge="back.centre_back", share=0.3), Place(edge="back.armhole", share=0.5))).points
    apart = done("top.knit", ("cut", {"line": line}))
    seam = next(s.name for s in apart.seams if s.name.endswith(".seam"))
    again = done("top.knit", ("cut", {"line": line}), ("join_seam", {"seam": (seam,)}))
    whole = next(piece for piece in again.pieces if piece.made == "back")
    assert polygon(whole.polygon(1e-4)).symmetric_difference(polygon(KNIT.piece("back").polygon(1e-4))).area < 0.1
    assert len(again.pieces) == len(KNIT.pieces) and len(again.seams) == len(KNIT.seams)


def test_edges_that_are_not_alike_are_not_joined_and_the_gap_is_said() -> None:
    assert "apart when laid together" in why_not("top.knit", "join_seam", seam=("armhole_front",))
    joined = done("top.knit", ("join_seam", {"seam": ("shoulder",), "label": "Body"}))
    assert joined.piece("front").label == "Body" and not joined.has("back")


def test_a_curved_style_line_walks_and_the_parts_make_up_the_whole() -> None:
    line = (
        Place(edge="back.centre_back", share=0.35),
        FramePoint(edge="back.centre_back", along=0.3, out=-70.0),
        FramePoint(edge="back.centre_back", along=0.2, out=-120.0),
        Place(edge="back.armhole", share=0.6),
    )
    out = (
        1
        if drafted("top.knit", steps=(step("cut", line=LineValue(points=line).points, curve=True),))
        .evaluated.outcomes[0]
        .stuck
        else -1
    )
    if out == 1:  # the frame's other side lies inside
        line = (
            line[0],
            *(FramePoint(edge=p.edge, along=p.along, out=-p.out) for p in line[1:3] if isinstance(p, FramePoint)),
            line[3],
        )
    apart = done("top.knit", ("cut", {"line": LineValue(points=line).points, "curve": True}))
    parts = apart.parts("back")
    assert len(parts) == 2 and sum(map(cloth, parts)) == pytest.approx(cloth(KNIT.piece("back")), rel=1e-5)
    seam = next(s for s in apart.seams if s.name.endswith(".seam"))
    one, other = (apart.length(layer) for layer in seam.layers)
    assert one == pytest.approx(other, abs=1e-9)
    cut = next(edge for edge in parts[0].edges if edge.name.endswith(".cut"))
    turns = [abs(cmath.phase(b.direction(0.0) / a.direction(1.0))) for a, b in pairwise(cut.path.segments)]
    assert len(cut.path.segments) == 3 and max(turns) < 1e-6, "one smooth curve, not a row of straight bits"
