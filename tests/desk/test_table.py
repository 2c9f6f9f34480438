"""Pieces, handles, figures and the tape on the table, with pointer and keyboard in the real window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.desk.table.overlays import FigureChip
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle
from tests.desk.pointer import click, drag, handle, on_table


def test_a_dart_is_pivoted_by_dragging_it(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    qtbot.wait(50)
    item = window.table.pieces["front"]
    piece = item.cut.piece
    _, a, _, b = piece.legs(piece.darts[0].id)
    middle = (a + b) / 2 + 8j
    click(window, item.mapToScene(QPointF(middle.real, middle.imag)))
    assert [one.kind for one in window.shape.hand.selection] == [
        "dart"
    ] and "dart" in window.shape.chosen.text().lower()
    QTest.keyClick(window.table.view, Qt.Key.Key_P)
    assert "click a place" in window.shape.hand.bar.asks.text()
    click(window, on_table(window, "front", "side", 0.3))
    settle(qtbot, window)
    seen: list[bool] = []
    window.bench.made.connect(lambda: seen.append(window.bench.preview_document is not None))
    target, _, _ = piece.run_point("side", 90.0)
    drag(window, handle(window, "to").scenePos(), item.mapToScene(QPointF(target.real, target.imag)), qtbot)
    settle(qtbot, window)
    QTest.keyClick(window.table.view, Qt.Key.Key_Return)
    settle(qtbot, window)
    step = window.bench.document.recipe.steps[-1]
    assert step.kind == "pivot_dart" and step.values["to"].edge == "front.side"
    assert step.values["to"].mm == pytest.approx(90, abs=6)
    assert True in seen, "the pieces were redrawn while dragging"
    after = window.table.pieces["front"].cut.piece
    assert len(after.run("side")) == 2 and len(after.run("waist")) == 2
    window.bench.undo()
    settle(qtbot, window)
    assert window.table.pieces["front"].cut.piece == piece


def test_hem_and_side_are_dragged_and_holding_again_adds_up(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    qtbot.wait(50)
    steps = len(window.bench.document.recipe.steps)
    for _ in range(2):
        click(window, on_table(window, "front", "side", 0.6))
        QTest.keyClick(window.table.view, Qt.Key.Key_F)
        settle(qtbot, window)
        held = handle(window, "amount")
        drag(window, held.scenePos(), held.scenePos() + QPointF(10, 0), qtbot)
        settle(qtbot, window)
        QTest.keyClick(window.table.view, Qt.Key.Key_Return)
        settle(qtbot, window)
    recipe = window.bench.document.recipe.steps
    assert len(recipe) == steps + 1 and recipe[-1].values["amount"].value == pytest.approx(80, abs=6)


def test_a_step_is_made_by_keyboard(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    qtbot.wait(50)
    view = window.table.view
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Tab)
    assert [one.kind for one in window.shape.hand.selection] == ["piece"]
    QTest.keyClick(view, Qt.Key.Key_L)
    held = handle(window, "amount")
    held.setFocus()
    for _ in range(4):
        QTest.keyClick(view.viewport(), Qt.Key.Key_Down)
    qtbot.waitUntil(lambda: window.bench.preview_document is not None)
    QTest.keyClick(view.viewport(), Qt.Key.Key_Return)
    settle(qtbot, window)
    last = window.bench.document.recipe.steps[-1]
    assert (last.kind, last.values["amount"].value) == ("lengthen", 20.0)
    QTest.keyClick(view, Qt.Key.Key_L)
    QTest.keyClicks(view, "3")
    assert window.shape.hand.bar.field.text() == "3"
    QTest.keyClicks(window.shape.hand.bar.field, ",5")
    QTest.keyClick(window.shape.hand.bar.field, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.bench.document.recipe.steps[-1].values["amount"].value == 55.0, "3.5 cm more than before"


def test_the_tape_runs_along_an_edge(window: MainWindow, qtbot: QtBot) -> None:
    window.go("draft")
    qtbot.wait(50)
    view = window.table.view
    item = window.table.pieces["front"]
    port = view.viewport()
    assert port is not None
    piece = item.cut.piece

    def at(along: float) -> QPoint:
        point, _, _ = piece.run_point("side", along)
        return view.mapFromScene(item.mapToScene(QPointF(point.real, point.imag)))

    words: list[str] = []
    view.measured.connect(words.append)
    view.setFocus()
    QTest.mouseMove(port, at(100))
    QTest.keyPress(view, Qt.Key.Key_T)
    QTest.mouseMove(port, at(100))
    QTest.mouseMove(port, at(400))
    qtbot.wait(30)
    QTest.keyRelease(view, Qt.Key.Key_T)
    assert not view.taping and words
    along = float(words[-1].split()[1])
    assert along == pytest.approx(30, abs=0.6) or "side" in words[-1]


def test_zoom_pan_real_size_and_fit(window: MainWindow, qtbot: QtBot) -> None:
    view = window.table.view
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_1)
    assert view.zoom_share() == pytest.approx(1.0, abs=0.01)
    QTest.keyClick(view, Qt.Key.Key_Plus)
    assert view.zoom_share() == pytest.approx(1.25, abs=0.01)
    QTest.keyClick(view, Qt.Key.Key_Minus)
    before = view.mapToScene(0, 0)
    QTest.keyClick(view, Qt.Key.Key_Right)
    assert view.mapToScene(0, 0) != before
    window.calibrate()
    QTest.keyClick(window.table, Qt.Key.Key_0)
    assert view.zoom_share() < 1


def test_pieces_are_laid_elsewhere_and_turned_without_changing_the_pattern(window: MainWindow, qtbot: QtBot) -> None:
    window.go("mark")
    qtbot.wait(50)
    pattern = window.bench.result.pattern  # type: ignore[union-attr]
    item = window.table.pieces["back"]
    start = item.mapToScene(QPointF(120, 300))
    drag(window, start, start + QPointF(80, 40), qtbot)
    window.table.turn_selected(15)
    settle(qtbot, window)
    placed = window.bench.document.table["back"]
    assert placed.turn == 15
    assert window.bench.result.pattern == pattern  # type: ignore[union-attr]
    window.tidy()
    assert not window.bench.document.table


def test_tab_goes_over_figures_and_rings_and_enter_opens(window: MainWindow, qtbot: QtBot) -> None:
    view = window.table.view
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Tab)
    first = window.table.scene.focusItem()
    assert isinstance(first, FigureChip)
    QTest.keyClick(view, Qt.Key.Key_Tab)
    chip = window.table.scene.focusItem()
    assert isinstance(chip, FigureChip) and chip is not first
    QTest.keyClick(view.viewport(), Qt.Key.Key_Return)
    assert window.draft.rows[chip.figure].opened
    QTest.keyClick(view, Qt.Key.Key_Backtab)
    window.go("shape")
    qtbot.wait(50)
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Tab)
    assert window.shape.hand.selection, "the first piece is chosen"
    QTest.keyClick(view, Qt.Key.Key_Escape)
    window._pick_piece("front")
    before = window.table.pieces["front"].pos()
    QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    assert window.table.pieces["front"].pos().x() == before.x() + 10
    settle(qtbot, window)
    assert "front" in window.bench.document.table
