"""The parts of the lay: items and their ways of lying, the grid, compaction."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import shapely

from caddet.core.errors import CaddetError
from caddet.core.finishing.finish import CutPiece
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point
from caddet.core.laying.items import Item, Shape, WontFit, folded_items, open_items, shape_of
from caddet.core.laying.raster import CELL, Grid, Layout, Spot, _hits, check_fits, compacted, search
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.piece import Cut, Grain, Piece
from tests.making import made, polygon

MADE = made(school="seat")


def block(name: str, width: float, height: float, *, cut: int = 1, pair: bool = False, fold: bool = False) -> CutPiece:
    """A rectangle ``width`` along the grain and ``height`` across it."""
    corners = [0j, complex(width, 0), complex(width, height), complex(0, height), 0j]
    roles = ["fold" if fold else "", "", "", ""]
    edges = tuple(
        Edge(n, Path.polyline([a, b]), role)  # type: ignore[arg-type]
        for n, role, (a, b) in zip(("low", "right", "top", "left"), roles, itertools.pairwise(corners), strict=True)
    )
    piece = Piece(name, name, edges, grain=Grain(0j, 10 + 0j), cuts=(Cut(count=cut),), pair=pair)
    outline = piece.outline()
    return CutPiece(piece, outline, outline, (), (), ())


def test_open_items_are_whole_and_as_many_as_are_cut() -> None:
    items = open_items(MADE.cut, nap=False)
    assert sorted(item.piece for item in items) == ["back", "back", "front", "waistband"]
    front = next(item for item in items if item.piece == "front")
    assert front.area == pytest.approx(2 * polygon(MADE.cut_piece("front").polygon(0.2)).area, rel=1e-3)
    assert not any(item.on_fold for item in items) and all(len(item.shapes) == 2 for item in items)
    assert all(len(item.shapes) == 1 for item in open_items(MADE.cut, nap=True))


def test_folded_items_lie_on_the_fold_or_are_cut_twice_at_once() -> None:
    items = {item.piece: item for item in folded_items(MADE.cut, nap=False)}
    assert items["front"].on_fold and not items["back"].on_fold
    for shape in items["front"].shapes:
        low = [p for p in shape.outline if p.imag < 0.5]
        assert max(p.real for p in low) - min(p.real for p in low) > 500, "the fold edge lies along the fold"
    assert items["waistband"].on_fold and items["waistband"].alternative is not None
    assert {shape.mirrored for shape in items["back"].shapes} == {False, True}


def test_a_single_piece_that_is_not_symmetric_is_only_doubled() -> None:
    corners = [0j, 300 + 0j, 200 + 90j, 50 + 120j, 0j]
    edges = tuple(Edge(f"e{i}", Path.polyline([a, b])) for i, (a, b) in enumerate(itertools.pairwise(corners)))
    odd = Piece("odd", "Odd", edges, grain=Grain(0j, 10 + 0j))
    outline = odd.outline()
    (item,) = folded_items([CutPiece(odd, outline, outline, (), (), ())], nap=False)
    assert not item.on_fold and item.alternative is None


@pytest.mark.parametrize("angle", [0.0, 37.0, 90.0, 180.0])
@pytest.mark.parametrize("mirrored", [False, True])
def test_a_turned_shape_is_congruent_and_begins_at_the_origin(angle: float, mirrored: bool) -> None:
    points = [0j, 100 + 0j, 80 + 60j, 10 + 90j]
    shape = shape_of(points, angle, mirrored)
    assert min(p.real for p in shape.outline) == pytest.approx(0) == min(p.imag for p in shape.outline)
    assert polygon(list(shape.outline)).area == pytest.approx(polygon(points).area)
    assert [shape.motion(p) for p in points] == pytest.approx(list(shape.outline))


def test_counting_hits_by_fourier_is_counting_hits() -> None:
    chance = np.random.default_rng(5)
    taken = (chance.random((40, 31)) < 0.2).astype(np.float32)
    mask = (chance.random((7, 9)) < 0.5).astype(np.float32)
    wanted = np.array(
        [[(taken[x : x + 7, y : y + 9] * mask).sum() for y in range(31 - 9 + 1)] for x in range(40 - 7 + 1)]
    )
    assert np.allclose(_hits(taken, mask), wanted, atol=1e-3)


def _shape(width: float, height: float) -> Shape:
    return shape_of([0j, complex(width, 0), complex(width, height), complex(0, height)], 0.0, False)


def test_a_mask_covers_its_shape_and_half_the_gap() -> None:
    grid = Grid(1000.0, 6.0)
    shape = _shape(123.0, 77.0)
    mask = grid.mask(shape)
    covered = shapely.union_all(
        [
            shapely.box(
                (x - grid.rim) * CELL, (y - grid.rim) * CELL, (x - grid.rim + 1) * CELL, (y - grid.rim + 1) * CELL
            )
            for x, y in zip(*np.nonzero(mask), strict=True)
        ]
    )
    assert covered.covers(
        polygon(list(shape.outline)).buffer(3.0 - 1e-9, join_style="mitre").simplify(0)
    ) or covered.covers(polygon(list(shape.outline)).buffer(2.9))
    assert grid.mask(shape) is mask


def _clear(layout: Layout, gap: float) -> bool:
    shapes = [polygon([p + spot.at for p in spot.shape.outline]) for spot in layout.spots]
    return all(a.distance(b) >= gap - 1e-6 for a, b in itertools.combinations(shapes, 2))


def test_search_lays_rectangles_side_by_side() -> None:
    """Four rectangles of 300 × 245 on cloth 500 wide: two and two, so about 600 and no less."""
    items = [Item(f"r{i}", (_shape(300.0, 245.0),)) for i in range(4)]
    layout = search(items, 500.0, 2.0, 1, lambda tries, best: tries < 12)
    assert _clear(layout, 2.0) and 602.0 <= compacted(layout, 2.0).length <= 603.0


def test_pieces_on_the_fold_stay_on_it() -> None:
    items = [
        Item("half", (_shape(200.0, 100.0),), True, 2),
        Item("free", (_shape(150.0, 80.0),)),
        Item("half", (_shape(90.0, 60.0),), True, 2),
    ]
    layout = compacted(search(items, 400.0, 3.0, 3, lambda tries, best: tries < 20), 3.0)
    assert _clear(layout, 3.0)
    assert all(spot.at.imag == 0 for spot in layout.spots if spot.on_fold)


def test_compaction_moves_only_towards_the_beginning() -> None:
    loose = Layout((Spot(0, _shape(100, 50), 40 + 0j, False), Spot(1, _shape(100, 50), 300 + 0j, False)), 400.0)
    tight = compacted(loose, 4.0)
    assert [spot.at.real for spot in tight.spots] == pytest.approx([0.0, 104.0], abs=0.51)
    assert tight.length <= 204.6 and _clear(tight, 4.0)


def test_what_is_too_broad_is_named_before_any_search() -> None:
    with pytest.raises(WontFit, match=r"wide.*61.0 cm.*50.0 cm"):
        check_fits([Item("wide", (_shape(100.0, 610.0),))], 500.0)
    with pytest.raises(WontFit):
        search([Item("wide", (_shape(100.0, 610.0),))], 500.0, 3.0, 1, lambda tries, best: False)


def test_a_fold_that_is_no_line_cannot_be_opened_out() -> None:
    piece = block("x", 100.0, 50.0, fold=True)
    (item,) = open_items([piece], nap=False)
    assert item.area == pytest.approx(2 * 100 * 50, rel=1e-3)
    assert issubclass(WontFit, CaddetError)
    outline: list[Point] = piece.polygon()
    assert len(outline) == 4


def test_a_piece_does_not_slide_into_one_that_begins_later() -> None:
    """A wedge that begins first lies, further along, behind a bar that begins later: it has to stop at the bar."""
    wedge = Shape((0j, 300 + 180j, 300 + 200j, 0 + 20j), Motion(), 0.0, False)
    bar = Shape((0j, 60 + 0j, 60 + 40j, 0 + 40j), Motion(), 0.0, False)
    layout = Layout((Spot(0, wedge, 100 + 0j, False), Spot(1, bar, 150 + 100j, False)), 400.0)
    lying = [
        shapely.Polygon([((p + spot.at).real, (p + spot.at).imag) for p in spot.shape.outline])
        for spot in compacted(layout, 3.0).spots
    ]
    before = [
        shapely.Polygon([((p + spot.at).real, (p + spot.at).imag) for p in spot.shape.outline]) for spot in layout.spots
    ]
    assert before[0].distance(before[1]) >= 3.0, "they lie clear to begin with"
    assert lying[0].distance(lying[1]) >= 3.0 - 1e-6
