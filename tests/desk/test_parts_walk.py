"""Parts put on in the window, by the pointer alone and by the keyboard alone; whole designs looked at and made one's own."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.hands.things import Thing
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle
from tests.desk.test_shape_walk import ByKeys, ByPointer, Maker
from tests.share import share


def put(maker: Maker, thing: Thing, kind: str, **amounts: float) -> None:
    """A part put on what is chosen, its amounts given, kept and done."""
    maker.choose(thing)
    maker.tool(kind)
    for name, value in amounts.items():
        maker.amount(name, value)
    maker.keep()
    maker.done(kind)


def owns(maker: Maker) -> set[str]:
    """The own names of all pieces."""
    return {piece.made.rpartition(".")[2] for piece in maker.pattern.pieces}


def waistcoat(maker: Maker) -> None:
    maker.begin("bodice.darted")
    put(maker, Thing("edge", "front.neckline"), "facing", width=5)
    put(maker, Thing("piece", "sleeve"), "take_away")
    put(maker, Thing("edge", "front.armhole"), "facing")
    put(maker, Thing("piece", "back"), "half_belt")
    assert {"front_neckline", "front_armhole", "back_half_belt"} <= owns(maker)


def ringing_trousers(maker: Maker) -> None:
    maker.begin("trousers.tailored")
    put(maker, Thing("piece", "front"), "slanted_pocket")
    put(maker, Thing("edge", "front.crotch"), "fly")
    put(maker, Thing("edge", "back.hem"), "turn_up", deep=3)
    assert "front_pocket" in owns(maker) and {n.notion.kind for n in maker.pattern.needs()} == {"tape", "zip"}


def wrap_skirt(maker: Maker) -> None:
    maker.begin("skirt.straight")
    put(maker, Thing("edge", "front.hem"), "binding")
    put(maker, Thing("edge", "waistband.end"), "ties")
    put(maker, Thing("piece", "front"), "patch_pocket")
    assert {"tie_1", "front_pocket"} <= owns(maker)


def practice_top(maker: Maker) -> None:
    maker.begin("top.knit")
    put(maker, Thing("piece", "front"), "pad_layer")
    put(maker, Thing("edge", "sleeve.hem"), "flounce", depth=8)
    assert next(p for p in maker.pattern.pieces if p.made.endswith(".flounce")).cut == 4


DESIGNS: tuple[Callable[[Maker], None], ...] = (waistcoat, ringing_trousers, wrap_skirt, practice_top)


@pytest.mark.parametrize(
    ("design", "way"),
    [(design, way) for n, design in enumerate(DESIGNS) for way in share((ByPointer, ByKeys), 2, n)],
    ids=lambda one: one.__name__,
)
def test_parts_are_put_on(window: MainWindow, qtbot: QtBot, design: Callable[[Maker], None], way: type[Maker]) -> None:
    design(way(window, qtbot))
    made = window.bench.result
    assert made is not None and not [o.stuck for o in made.evaluated.outcomes if o.stuck]
    wrong = [line.name for line in made.proof if line.kind == "seam" and not line.holds]
    assert not [name for name in wrong if not name.endswith(".stretch")], "the demo's twill does not stretch"


def test_a_design_is_found_looked_at_made_mine_and_taken_back(window: MainWindow, qtbot: QtBot) -> None:
    window.go("plan")
    settle(qtbot, window)
    page = window.plan.garment
    QTest.keyClicks(page.search, "pile cloth")
    QTest.keyClick(page.search, Qt.Key.Key_Return)
    assert page.name.text() == "Harbour coat" and page.make.text() == "Make mine"
    page.make.setFocus()
    QTest.keyClick(page.make, Qt.Key.Key_Space)
    settle(qtbot, window)
    document = window.bench.document
    assert document.wearer == demo_document().wearer and document.cloth == "Harbour fleece"
    assert len(document.recipe.steps) == 8 and document.recipe.block == "top.raglan"
    made = window.bench.result
    assert made is not None and not [line.name for line in made.proof if line.fails]
    window.plan.show_page("cloth")
    settle(qtbot, window)
    rows = window.plan.cloth.notions.rows
    assert rows and any("Button" in row.title.text() for row in rows)
    window.go("shape")
    settle(qtbot, window)
    assert len(window.shape.slips.rows if hasattr(window.shape.slips, "rows") else document.recipe.steps) == 8
    window.bench.undo()
    settle(qtbot, window)
    assert window.bench.document == demo_document()


def test_notions_are_told_in_the_unit_of_the_window(window: MainWindow, qtbot: QtBot) -> None:
    from caddet.core.recipe import edits
    from tests.making import step

    entry = step("casing", edges=("waist",), how="band", length=700.0)
    window.bench.edit("Elastic", lambda d: edits.add_step(d, entry))
    window.go("plan")
    window.plan.show_page("cloth")
    settle(qtbot, window)
    (row,) = window.plan.cloth.notions.rows
    assert "72.5 cm" in row.sub.text()
    window.bench.set_unit("in") if hasattr(window.bench, "set_unit") else None
    settle(qtbot, window)
