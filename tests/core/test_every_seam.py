"""Every seam of every block: walked there and back, measured again with shapely, rolled so that the pieces touch."""

from __future__ import annotations

import cmath
import math

import pytest
import shapely

from caddet.core.geometry.paths import Path
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam, part
from caddet.core.recipe.registry import BLOCKS
from caddet.core.truing.joins import joins
from caddet.core.truing.walk import roll, walk
from tests.making import drafted, full_people, pattern_of


def _length(fragment: Fragment) -> float:
    """The stretch of an edge measured on its flattened line."""
    path = fragment.edge.path.between(fragment.low, fragment.high)
    assert path is not None
    return float(shapely.LineString([(p.real, p.imag) for p in path.flattened(0.002)]).length)


def _layer(pattern: Pattern, seam: Seam, number: int) -> float:
    return sum(_length(fragment) for fragment in pattern.layer_fragments(seam.layers[number]))


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_seams_are_as_long_as_their_stitch_lines_and_meet_as_meant(name: str) -> None:
    pattern = pattern_of(drafted(name, full_people()[4]))
    for seam in pattern.seams:
        there = walk(pattern, seam)
        assert there.length_a == pytest.approx(_layer(pattern, seam, 0), abs=0.05) or _pleated(pattern, seam)
        assert there.length_b == pytest.approx(_layer(pattern, seam, 1), abs=0.05) or _pleated(pattern, seam)
        assert there.holds, (name, seam.name, there.off)
        join = seam.joins[0]
        if join.kind == "plain":
            assert abs(there.length_a - there.length_b) <= seam.tolerance and there.verdict == "meets"
        elif join.kind == "eased":
            assert there.length_b - there.length_a == pytest.approx(join.amount, abs=seam.tolerance)
        else:
            assert there.length_b == pytest.approx(there.length_a * join.amount, abs=seam.tolerance)
        assert sum(one.a for one in there.stretches) == pytest.approx(there.length_a)
        assert sum(one.b for one in there.stretches) == pytest.approx(there.length_b)
        assert there.stretches[-1].until == "end" and all(one.a >= 0 and one.b >= 0 for one in there.stretches)


def _pleated(pattern: Pattern, seam: Seam) -> bool:
    pieces = {id(f.piece): f.piece for layer in seam.layers for f in pattern.layer_fragments(layer)}
    return any(feature.kind == "pleat" for piece in pieces.values() for feature in piece.features)


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_rolled_to_any_place_the_pieces_touch_there(name: str) -> None:
    pattern = pattern_of(drafted(name, full_people()[4]))
    for seam in pattern.seams:
        if seam.joins[0].kind != "plain" or _pleated(pattern, seam):
            continue
        whole = walk(pattern, seam).length_a
        for share in (0.2, 0.7):
            state = roll(pattern, seam, whole * share)
            points = []
            for layer, place in ((seam.a, state.place_a), (seam.b, state.place_b)):
                left = whole * share
                for fragment in pattern.layer_fragments(layer):
                    if left <= fragment.length:
                        at = fragment.high - left if fragment.backwards else fragment.low + left
                        points.append(place(fragment.edge.path.point_at(at)))
                        break
                    left -= fragment.length
            assert len(points) < 2 or abs(points[0] - points[1]) < 0.05 + seam.tolerance, (name, seam.name, share)


def _box(name: str, tilt: float, foot: float) -> Piece:
    """A box with its left edge on the fold; its top leaves it ``tilt`` degrees off square, its hem arrives ``foot`` off."""
    top = cmath.rect(100, math.radians(tilt))
    low = 200j + cmath.rect(100, math.radians(foot))
    lines = [("top", 0j, top, ""), ("side", top, low, ""), ("hem", low, 200j, "hem"), ("fold", 200j, 0j, "fold")]
    return Piece(name, name, tuple(Edge(f"{name}.{run}", Path.polyline([a, b]), finish) for run, a, b, finish in lines))  # type: ignore[arg-type]


def test_joins_turn_by_what_was_drawn() -> None:
    """Over the fold twice the angle it is off square; over a side seam what one hem leans more than the other."""
    front, back = _box("front", 4.0, 0.0), _box("back", 0.0, 6.0)
    seam = Seam("side", "Side", ((part("front.side"),), (part("back.side"),)))
    found = {join.name: join for join in joins(Pattern((front, back), (seam,)))}
    assert found["front.top.fold"].angle == pytest.approx(8.0)
    assert found["back.hem.fold"].angle == pytest.approx(12.0)
    assert found["front.hem.fold"].angle == pytest.approx(0.0, abs=1e-9)
    across = [join.angle for name, join in found.items() if not name.endswith(".fold")]
    assert across == pytest.approx([abs(_corner(front, 2) + _corner(back, 2) - 180)]), (
        "the top is in no finish that runs on"
    )


def _corner(piece: Piece, index: int) -> float:
    """The inner angle at the start of an edge, in degrees."""
    before, after = piece.edges[index - 1].path, piece.edges[index].path
    return 180 - math.degrees(cmath.phase(after.start_direction / before.end_direction))
