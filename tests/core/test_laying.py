from __future__ import annotations

import json

import pytest
import shapely

from caddet.core.errors import CaddetError
from caddet.core.laying.items import WontFit
from caddet.core.laying.plan import LayPlan, LayProgress, plan_lay, to_buy
from caddet.core.recipe.choices import Cloth, LayChoices
from tests.making import area, drafted, made, polygon, step

MADE = made(school="seat", flare=30.0)


def lay(width: float = 1400.0, fold: str = "open", *, nap: bool = False, gap: float = 3.0, **more: object) -> LayPlan:
    cloth = Cloth(name="Twill", width=width, nap=nap, price=10.0)
    choices = LayChoices(fold=fold, gap=gap)  # type: ignore[arg-type]
    return plan_lay(MADE.cut, cloth, choices, **{"seconds": 0.6, **more})  # type: ignore[arg-type]


def legal(plan: LayPlan, gap: float) -> None:
    shapes = [polygon(list(placed.outline)) for placed in plan.placed]
    for index, shape in enumerate(shapes):
        left, top, right, bottom = shape.bounds
        assert left >= -1e-6 and top >= -1e-6 and right <= plan.length + 1e-6 and bottom <= plan.width + 1e-6
        assert all(shape.distance(other) >= gap - 1e-3 for other in shapes[:index])


@pytest.mark.parametrize("width", [900.0, 1400.0, 1500.0])
@pytest.mark.parametrize("fold", ["open", "folded"])
@pytest.mark.parametrize("gap", [0.0, 3.0, 10.0])
def test_a_lay_is_legal_and_complete(width: float, fold: str, gap: float) -> None:
    plan = lay(width, fold, gap=gap)
    legal(plan, gap)
    counted: dict[str, int] = {}
    for placed in plan.placed:
        counted[placed.piece] = counted.get(placed.piece, 0) + 1
    assert counted == (
        {"front": 1, "back": 2, "waistband": 1} if fold == "open" else {"front": 1, "back": 1, "waistband": 1}
    )


def test_pieces_keep_grain_fold_and_hand() -> None:
    folded = lay(fold="folded")
    front = next(placed for placed in folded.placed if placed.piece == "front")
    assert front.on_fold and min(p.imag for p in front.outline) == pytest.approx(0, abs=1e-6)
    for plan in (folded, lay(fold="open")):
        for placed in plan.placed:
            piece = next(c.piece for c in MADE.cut if c.piece.name == placed.piece)
            along = placed.motion(piece.grain.b) - placed.motion(piece.grain.a)
            assert abs(along.imag) < 1e-6
    backs = [placed.mirrored for placed in lay(fold="open").placed if placed.piece == "back"]
    assert sorted(backs) == [False, True]


def test_with_a_nap_everything_lies_the_same_way_up() -> None:
    for fold in ("open", "folded"):
        plan = lay(900.0, fold, nap=True)
        ways = set()
        for placed in plan.placed:
            piece = next(c.piece for c in MADE.cut if c.piece.name == placed.piece)
            ways.add((placed.motion(piece.grain.b) - placed.motion(piece.grain.a)).real > 0)
        assert len(ways) == 1


def test_areas_add_up() -> None:
    plan = lay(fold="open", gap=0.0)
    covered = sum(polygon(list(placed.outline)).area for placed in plan.placed)
    assert plan.utilisation == pytest.approx(covered / (plan.length * plan.width), rel=1e-6)
    net = area(MADE.pattern.piece("front")) * 2 + area(MADE.pattern.piece("back")) * 2  # type: ignore[union-attr]
    assert covered > net


def test_too_narrow_a_cloth_says_which_piece_and_what_to_do() -> None:
    with pytest.raises(WontFit, match=r"Front.*wider cloth"):
        lay(400.0)
    assert lay(700.0, "better").folded is False or lay(700.0, "better").length > 0


def test_the_length_to_buy_allows_for_shrinking_and_slips() -> None:
    cloth = Cloth(name="x", width=1400.0, shrinkage=0.05)
    assert to_buy(950.0, cloth, LayChoices(extra=200.0)) == 1200.0
    assert to_buy(1000.0, Cloth(name="x", width=1400.0, shrinkage=0.0), LayChoices(extra=0.0)) == 1000.0


def test_progress_is_told_and_cancel_is_heard() -> None:
    told: list[LayProgress] = []
    plan = lay(900.0, "better", seconds=5.0, progress=told.append, cancelled=lambda: len(told) > 5)
    assert told and plan.length > 0 and len(told) < 60


def test_the_same_seed_and_number_of_tries_gives_the_same_lay() -> None:
    first, second = (lay(900.0, seconds=60.0, most_tries=25, seed=4) for _ in range(2))
    assert first.length == second.length
    assert json.dumps([str(p.outline) for p in first.placed]) == json.dumps([str(p.outline) for p in second.placed])


def test_wont_fit_is_a_plain_sentence() -> None:
    assert issubclass(WontFit, CaddetError)


def test_a_pieces_name_is_written_inside_it() -> None:
    for fold in ("open", "folded"):
        for placed in lay(fold=fold).placed:
            x, y = placed.middle.real, placed.middle.imag
            assert polygon(list(placed.outline)).contains(shapely.Point(x, y))


def test_pieces_are_called_by_their_labels_on_the_cloth() -> None:
    """A part's piece is named after its step inside; on the cloth it has its maker's name."""
    cut = drafted("skirt.straight", steps=(step("patch_pocket"),)).cut
    plan = plan_lay(cut, Cloth(name="Twill", width=1400.0), LayChoices(fold="open"), seconds=0.3)
    assert {placed.named for placed in plan.placed} == {one.piece.label for one in cut} >= {"Patch pocket"}


def test_a_legal_lay_is_shown_at_once_and_only_gets_shorter() -> None:
    """The search tells of each new best with its lay, every piece on it; the first comes with the first try."""
    cut, cloth = made().cut, Cloth(name="Twill", width=1400.0)
    told: list[LayProgress] = []
    plan = plan_lay(cut, cloth, LayChoices(fold="open"), seconds=20.0, most_tries=12, progress=told.append)
    sketches = [report.plan for report in told if report.plan is not None]
    assert sketches and told[0].plan is not None
    assert [p.length for p in sketches] == sorted((p.length for p in sketches), reverse=True)
    assert all(len(p.placed) == len(plan.placed) for p in sketches) and plan.length <= sketches[-1].length + 1e-6
    for sketch in sketches:
        shapes = [shapely.Polygon([(q.real, q.imag) for q in one.outline]) for one in sketch.placed]
        assert all(a.intersection(b).area < 1.0 for i, a in enumerate(shapes) for b in shapes[:i])
