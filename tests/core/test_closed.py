"""Lines over darts, contour darts and pleats are drawn with them closed: both legs equal on both parts, every seam meets."""

from __future__ import annotations

import cmath
import math
import random
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import pytest

from caddet.core.geometry.segments import unit
from caddet.core.pattern.closed import closed_run
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.dart_forms import contour_dart
from caddet.core.pattern.features import Bit, Feature
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.recipe import edits
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.registry import STEPS, step_entry
from caddet.core.recipe.values import Place
from caddet.core.truing.walk import walk
from tests.making import area, drafted, full_people, legs_of, nine, pattern_of, step
from tests.soak.garments import any_values

DOWN = (Place(edge="front.shoulder", share=0.5), Place(edge="front.hem", share=0.5))
BODICE = pattern_of(drafted("bodice.darted", full_people()[0], sleeve=False))


def _side_to_fold(piece: Piece, side: float, fold: float) -> CutLine:
    edge = next(edge for edge in piece.edges if edge.finish == "fold")
    return CutLine(
        piece.spot_at("side", side * piece.run_length("side")), piece.spot_at(edge.name, fold * edge.path.length)
    )


def _with_shaping(piece: Piece) -> Iterator[tuple[str, Piece]]:
    """A piece with more shaping in the way of a line from its side to its fold."""
    x0, y0, x1, y1 = piece.outline().bounds()
    middle = complex(x0 + (x1 - x0) * 0.3, (y0 + y1) / 2)
    yield "as drafted", piece
    for off, name in ((0.0, "middle"), (25.0, "above its middle"), (-25.0, "below its middle")):
        contour = contour_dart(middle + 1j * off, 90.0, 70.0, 22.0, "s1", "contour dart")
        yield f"contour dart, {name}", replace_features(piece, contour)
    hem = next(edge for edge in piece.edges if edge.finish in ("hem", "joined") or edge.role == "waist")
    far = abs(piece.run(hem.name)[-1].walked.end.real) < abs(piece.run(hem.name)[0].walked.start.real)
    shares = (0.86, 0.95) if far else (0.05, 0.14)  # beside the fold, clear of the darts
    a, b = (piece.spot_at(hem.name, piece.run_length(hem.name) * share) for share in shares)
    up = unit(piece.where(b) - piece.where(a)) * 1j
    deep = up * (y1 - y0) * 0.45
    pleat = Feature("pleat", "s1.pleat", "pleat", tuple(Bit(end, piece.where(end) + deep) for end in (a, b)))
    yield "pleat", replace_features(piece, pleat)


def replace_features(piece: Piece, *more: Feature) -> Piece:
    return replace(piece, features=(*piece.features, *more))


def _checked(pattern: Pattern, before: Piece) -> None:
    parts = [piece for piece in pattern.pieces if piece.made == before.made]
    assert len(parts) == 2
    for piece in parts:
        for dart in piece.darts:
            first, second = legs_of(piece, dart)
            assert first == pytest.approx(second, abs=0.3), (piece.name, dart.id)
        for one, other in pairwise((*piece.edges, piece.edges[0])):
            assert abs(one.path.end - other.path.start) < 1e-6
    assert abs(walk(pattern, pattern.seam("s9.seam")).off) < 0.05
    for run in before.runs():
        flat = sum(piece.run_length(run) for piece in parts if piece.has_run(run))
        assert flat == pytest.approx(before.run_length(run), abs=0.05), run


@pytest.mark.parametrize("who", nine(), ids=lambda one: one.name)
@pytest.mark.parametrize("line", [(0.3, 0.5), (0.15, 0.8), (0.85, 0.3)])
def test_a_cut_over_shaping_leaves_equal_legs_on_both_parts(who: object, line: tuple[float, float]) -> None:
    done = 0
    for block, names in (("bodice.darted", ("front", "back")), ("skirt.straight", ("front", "back"))):
        pattern = pattern_of(drafted(block, who))  # type: ignore[arg-type]
        for name in names:
            plain = pattern.piece(name)
            if not plain.fold:
                continue
            for what, piece in _with_shaping(plain):
                for curve in (False, True):
                    cut = _side_to_fold(piece, *line)
                    a, b = piece.where(cut.start), piece.where(cut.end)  # type: ignore[arg-type]
                    through = ((a + b) / 2 + 8j,) if curve else ()
                    try:
                        after = cut_piece(
                            pattern.with_piece(piece), piece, CutLine(cut.start, cut.end, through, curve), "s9"
                        )
                    except Refused as refused:
                        assert any(words in str(refused) for words in ("runs into", "runs through", "cut like that")), (
                            what,
                            str(refused),
                        )
                        continue
                    _checked(after, piece)
                    done += 1
    assert done > 8


def test_a_cut_over_two_darts_closes_both_above() -> None:
    pattern = pattern_of(
        drafted(
            "skirt.straight",
            next(one for one in nine() if len(pattern_of(drafted("skirt.straight", one)).piece("back").darts) >= 2),
        )
    )
    back = pattern.piece("back")
    level = back.where(back.spot_at("side", 60.0)).imag
    centre = min(back.runs_of("centre_back"), key=lambda run: back.nearest_on_run(run, complex(0, level))[0])
    at = back.nearest_on_run(centre, complex(0, level))[1]
    line = CutLine(back.spot_at("side", 60.0), back.spot_at(centre, at))
    after = cut_piece(pattern, back, line, "s9")
    _checked(after, back)
    yoke = min((one for one in after.pieces if one.made == "back"), key=area)
    assert not yoke.darts and sum(len(one.darts) for one in after.pieces if one.made == "back") == len(back.darts)


def test_over_a_contour_dart_both_parts_get_a_dart_and_none_is_lost() -> None:
    piece = dict(_with_shaping(BODICE.piece("front")))["contour dart, middle"]
    line = _side_to_fold(piece, 0.3, 0.55)
    after = cut_piece(BODICE.with_piece(piece), piece, line, "s9")
    parts = [one for one in after.pieces if one.made == "front"]
    found = [dart for one in parts for dart in one.darts if dart.name == "s1.contour_dart"]
    assert len(found) == 2 and len({dart.id for dart in found}) == 2
    assert not any(f.kind == "contour_dart" for one in parts for f in one.features)


def test_a_pleat_runs_on_in_both_parts_and_is_folded_in_the_seam() -> None:
    piece = dict(_with_shaping(BODICE.piece("front")))["pleat"]
    pattern = BODICE.with_piece(piece)
    after = cut_piece(pattern, piece, _side_to_fold(piece, 0.8, 0.2), "s9")
    parts = [one for one in after.pieces if one.made == "front"]
    assert [f.name for one in parts for f in one.features if f.kind == "pleat"] == ["s1.pleat"] * 2
    seam = after.seam("s9.seam")
    flat = sum(fragment.length for fragment in after.layer_fragments(seam.a))
    assert flat - after.length(seam.a) == pytest.approx(flat - after.length(seam.b), abs=0.1)
    wide = abs(piece.where(piece.feature("pleat").bits[0].a) - piece.where(piece.feature("pleat").bits[1].a))  # type: ignore[union-attr]
    assert flat - after.length(seam.a) == pytest.approx(wide, rel=0.05)


def test_a_run_with_darts_shut_is_one_line_as_long_as_its_edges() -> None:
    for block in ("skirt.straight", "bodice.darted", "trousers.tailored"):
        pattern = pattern_of(drafted(block, full_people()[0]))
        for piece in pattern.pieces:
            for run in piece.runs():
                for at in (0.0, piece.run_length(run)):
                    path = closed_run(piece, run, at)
                    assert path.length == pytest.approx(piece.run_length(run), abs=1e-6)
                    if len(piece.run(run)) > 1:
                        assert all(abs(a.end - b.start) < 1e-6 for a, b in pairwise(path.segments))
                        kept = piece.walked(run)[-1].end if at else piece.walked(run)[0].start
                        assert abs((path.end if at else path.start) - kept) < 1e-9


def test_a_line_may_end_at_the_mouth_of_a_dart() -> None:
    front = BODICE.piece("front")
    _, a, _, b = front.legs("bust_dart")
    for mouth in (a, b):
        end = min(
            (front.spot_at(key, front.nearest_on_run(key, mouth)[1]) for key in front.runs()),
            key=lambda spot: abs(front.where(spot) - mouth),
        )
        after = cut_piece(BODICE, front, CutLine(front.spot_at(front.fold, 60.0), end), "s9")
        _checked(after, front)


@pytest.mark.parametrize("edge", ["neckline", "shoulder", "armhole", "side"])
def test_no_step_that_draws_on_an_edge_leaves_the_legs_of_its_dart_unequal(edge: str) -> None:
    """Every step as it stands and twice at random, on a front whose bust dart opens into that edge; all blocks in the soak."""
    pivot = step("pivot_dart", dart="front.bust_dart", to=Place(edge=f"front.{edge}", share=0.5))
    base = drafted("bodice.darted", full_people()[0], sleeve=False, steps=(pivot,))
    pattern, cache = pattern_of(base), StageCache()
    for kind, one in STEPS.items():
        for number in range(3):
            values = any_values(one, pattern, random.Random(f"{kind} {edge} {number}")) if number else {}
            made = evaluate(edits.add_step(base.document, step_entry(kind, values)), cache=cache)
            if made.pattern is None or made.outcomes[-1].stuck:
                continue
            for piece in made.pattern.pieces:
                for dart in piece.darts:
                    first, second = legs_of(piece, dart)
                    assert first == pytest.approx(second, abs=0.5), (kind, values, piece.name, dart.id)


@pytest.mark.parametrize("kind", ["gores", "cut"])
def test_a_panel_across_a_bust_dart_hangs_as_the_dress_did(kind: str) -> None:
    """Its skirt stays and the bodice turns in: turned the other way the hem of the side panel hung 12° askew."""
    for who in nine():
        whole = drafted("dress.sheath", who, style="in_one")
        made = step("gores", pieces=("front",), flare=0.0) if kind == "gores" else step("cut", line=DOWN)
        cut = drafted("dress.sheath", who, style="in_one", steps=(made,))
        side = next(p for p in pattern_of(cut).pieces if p.made == "front" and not p.fold)
        before, after = (piece.run("front.side")[-1].path for piece in (pattern_of(whole).piece("front"), side))
        turned = cmath.phase(after.end_direction / before.end_direction)
        assert abs(math.degrees(turned)) < 0.5, who.name


def _without_corners(piece: Piece) -> bool:
    """Whether the edges of a piece's cut have no corner of a degree or more."""
    ways = [
        (a.direction(1), b.direction(0))
        for edge in piece.edges
        if edge.own == "cut"
        for a, b in pairwise(edge.path.segments)
    ]
    return all(abs(math.degrees(cmath.phase(after / before))) < 1 for before, after in ways)


def test_a_dart_that_would_run_on_past_a_cut_by_a_stub_ends_at_it() -> None:
    """A stub of 12 to 17 mm stayed in the centre panel, that no one can sew; both sides are as long, and smooth."""
    crossed = 0
    for who in nine():
        whole = pattern_of(drafted("dress.sheath", who, style="in_one"))
        made = pattern_of(drafted("dress.sheath", who, style="in_one", steps=(step("cut", line=DOWN),)))
        side, centre = sorted((p for p in made.pieces if p.made == "front"), key=lambda p: bool(p.fold))
        assert all(sum(e.path.length for e in p.edges if e.dart == d.id) > 50 for p in (side, centre) for d in p.darts)
        lengths = [sum(e.path.length for e in p.edges if e.own == "cut") for p in (side, centre)]
        assert lengths[0] == pytest.approx(lengths[1], abs=0.05), who.name
        assert _without_corners(centre), who.name
        crossed += bool(whole.piece("front").darts) and not side.darts and not centre.darts
    assert crossed >= 5


def test_a_gore_beside_a_contour_dart_runs_along_it() -> None:
    """The dart stayed in the centre panel, a few millimetres from the seam, where it can't be sewn."""
    for who in nine():
        whole = pattern_of(drafted("dress.sheath", who, style="in_one"))
        made = pattern_of(
            drafted("dress.sheath", who, style="in_one", steps=(step("gores", pieces=("front", "back"), flare=0.0),))
        )
        for name in ("front", "back"):
            before = whole.piece(name)
            parts = [piece for piece in made.pieces if piece.made == name]
            contours = [feature for feature in before.features if feature.kind == "contour_dart"]
            left = [feature for part in parts for feature in part.features if feature.kind == "contour_dart"]
            assert len(left) == max(0, len(contours) - 1), who.name
            lengths = [sum(e.path.length for e in part.edges if e.own == "cut") for part in parts]
            assert lengths[0] == pytest.approx(lengths[1], abs=1.0), who.name
            assert all(_without_corners(part) for part in parts), who.name
            if not contours or left:
                continue
            # at the middle of the dart the two parts are narrower than the piece by what the dart took in
            bits = [before.where(bit.a) for bit in contours[0].bits]
            wide = max(p.real for p in bits) - min(p.real for p in bits)
            level = next(p.imag for p in bits if p.real == max(q.real for q in bits))
            taken = _width(before, level) - sum(_width(part, level) for part in parts)
            assert taken == pytest.approx(wide, abs=1.0), (who.name, name)


def _width(piece: Piece, level: float) -> float:
    """How wide a piece is at a height, in mm."""
    hits = sorted(p.real for _, p in piece.outline().crossings(level * 1j, 1 + level * 1j))
    return hits[-1] - hits[0]
