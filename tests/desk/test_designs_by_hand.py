"""The shipped designs made again in the window from their blocks: four by the keyboard alone, four with the pointer.

``make soak`` makes all twelve both ways.
"""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from caddet.core.designs import ORDER, design_named
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.desk.window import MainWindow
from tests.desk.by_hand import remake
from tests.desk.conftest import settle
from tests.desk.test_shape_walk import ByKeys, ByPointer, Maker
from tests.making import area
from tests.share import IN_FULL

BY_KEYS = ORDER if IN_FULL else ("bias-blouse", "wrap-skirt")
BY_POINTER = ORDER if IN_FULL else ("practice-tank", "ringing-trousers")


def same_garment(window: MainWindow, name: str) -> None:
    """What was made is what ships: piece for piece the same amount of cloth, and as sound."""
    wanted, made = make(EvaluateRequest(design_named(name).document)), window.bench.result
    assert made is not None and made.pattern is not None and wanted.pattern is not None
    assert not [told for told in (o.stuck for o in made.evaluated.outcomes) if told]
    found, expected = (sorted((round(area(p)), p.cut, p.name) for p in one.pattern.pieces) for one in (made, wanted))
    assert len(found) == len(expected)
    for (got, count, _), (want, counted, _) in zip(found, expected, strict=True):
        assert count == counted and abs(got - want) < 0.02 * want + 400, (found, expected)
    assert {line.name for line in made.proof if line.fails} <= {line.name for line in wanted.proof if line.fails}


@pytest.fixture(autouse=True)
def quick_lists(qapp: object) -> Iterator[None]:
    """A list that opens takes a click at once."""
    usual = QApplication.doubleClickInterval()
    QApplication.setDoubleClickInterval(1)
    yield
    QApplication.setDoubleClickInterval(usual)


@pytest.mark.parametrize(("name", "way"), [*((n, ByKeys) for n in BY_KEYS), *((n, ByPointer) for n in BY_POINTER)])
def test_a_design_is_made_again(window: MainWindow, qtbot: QtBot, name: str, way: type[Maker]) -> None:
    remake(way(window, qtbot), design_named(name))
    same_garment(window, name)


def test_blocks_beside_each_other_are_chosen_turned_to_and_taken_out(window: MainWindow, qtbot: QtBot) -> None:
    before = window.bench.document
    window.go("plan")
    window.plan.show_page("garment")
    window.plan.garment.look_at("swimsuit")
    QTest.mouseClick(window.plan.garment.beside, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    source = window.bench.document.recipe.sources[-1]
    assert len(window.bench.document.recipe.blocks) == 2 and source.after == before.recipe.steps[-1].id
    window.go("draft")
    settle(qtbot, window)
    draft = window.draft
    assert draft.beside.isVisible() and draft.source == "" and "style" not in draft.choices
    pieces = {piece.name for piece in window.bench.result.pattern.pieces}  # type: ignore[union-attr]
    assert any(name.startswith(f"{source.id}_") for name in pieces)
    draft.beside.combo.setFocus()
    QTest.keyClick(draft.beside.combo, Qt.Key.Key_Down)
    settle(qtbot, window)
    assert draft.source == source.id and "style" in draft.choices and draft.rows
    draft.choices["style"].chosen.emit("brief")
    settle(qtbot, window)
    assert window.bench.document.recipe.options == before.recipe.options, "the first block is left alone"
    assert window.bench.document.recipe.block_source(source.id).options["style"].name == "brief"  # type: ignore[union-attr]
    QTest.mouseClick(draft.beside.out, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    assert window.bench.document.recipe == before.recipe.model_copy(
        update={"next_id": window.bench.document.recipe.next_id}
    )
    assert not draft.beside.isVisible() and draft.source == ""
