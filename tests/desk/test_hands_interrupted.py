"""What comes in the middle of a gesture: undo, another wearer, the window closed, nonsense typed, a wheel, the table's edge."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from caddet.core.hands.things import Thing
from caddet.core.recipe import edits
from caddet.core.recipe.registry import STEPS
from caddet.desk.widgets.fields import AmountField
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle, type_into
from tests.desk.pointer import click, drag, handle, on_table
from tests.making import step


@pytest.fixture
def lengthening(window: MainWindow, qtbot: QtBot) -> MainWindow:
    """The front is about to be lengthened by 5 cm."""
    window.go("shape")
    window.table.fit()
    hand = window.shape.hand
    hand.choose(Thing("piece", "front"))
    hand.start(STEPS["lengthen"])
    assert hand.gesture is not None
    hand.set_gesture(hand.gesture.typed("5 cm", "cm", "amount"))
    qtbot.waitUntil(lambda: window.bench.preview_document is not None and not window.bench.busy, timeout=5000)
    return window


def side(window: MainWindow) -> float:
    assert window.bench.result is not None and window.bench.result.pattern is not None
    return window.bench.result.pattern.piece("front").run_length("side")


def test_undo_in_the_middle_goes_on_on_the_pattern_before(lengthening: MainWindow, qtbot: QtBot) -> None:
    window, hand = lengthening, lengthening.shape.hand
    steps = len(window.bench.history.document.recipe.steps)
    long = side(window)
    window.bench.edit("Shorter", lambda d: edits.add_step(d, step("lengthen", amount=-30.0)))
    qtbot.waitUntil(lambda: window.bench.preview_document is not None and not window.bench.busy, timeout=5000)
    assert side(window) < long - 20 and hand.gesture is not None and hand.gesture.plain["amount"] == 50.0
    window.bench.undo()
    qtbot.waitUntil(lambda: window.bench.preview_document is not None and not window.bench.busy, timeout=5000)
    assert side(window) == pytest.approx(long) and hand.gesture is not None
    QTest.keyClick(window.table.view, Qt.Key.Key_Return)
    settle(qtbot, window)
    kept = window.bench.history.document.recipe.steps
    assert len(kept) == steps + 1 and kept[-1].kind == "lengthen" and side(window) == pytest.approx(long)


def test_a_step_taken_up_again_whose_edit_is_undone_is_left(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    window.bench.edit("Longer", lambda d: edits.add_step(d, step("lengthen", amount=30.0, at=300.0)))
    settle(qtbot, window)
    window.shape.hand.take_up(window.bench.history.document.recipe.steps[-1].id)
    assert window.shape.hand.gesture is not None
    window.bench.undo()
    settle(qtbot, window)
    qtbot.waitUntil(lambda: window.shape.hand.gesture is None, timeout=3000)
    assert not window.shape.hand.handles and window.bench.preview_document is None


def test_another_wearer_in_the_middle_keeps_what_is_in_hand(lengthening: MainWindow, qtbot: QtBot) -> None:
    window, hand = lengthening, lengthening.shape.hand
    other = next(one.name for one in window.bench.document.people if one.name != window.bench.document.wearer)
    window.bench.edit(f"For {other}", lambda d: edits.choose_wearer(d, other))
    qtbot.waitUntil(lambda: window.bench.preview_document is not None and not window.bench.busy, timeout=5000)
    assert window.bench.document.wearer == other and hand.gesture is not None
    assert hand.gesture.plain["amount"] == 50.0 and window.bench.result is not None
    step_id = window.bench.result.document.recipe.steps[-1].id
    assert hand.gesture.before == window.bench.result.before_step(step_id), "it stands on the other's pattern"


def test_closing_in_the_middle_saves_what_was_kept_and_no_preview(lengthening: MainWindow, qtbot: QtBot) -> None:
    from caddet.core.formats.project import open_project

    window = lengthening
    kept = window.bench.history.document
    path = window.bench.path
    assert path is not None
    window.close()
    after = open_project(path).document
    assert after.recipe.steps == kept.recipe.steps


def test_nonsense_typed_while_a_drag_changes_the_figure_changes_nothing(lengthening: MainWindow, qtbot: QtBot) -> None:
    window, hand = lengthening, lengthening.shape.hand
    fields = window.shape.fields
    assert fields is not None and hand.gesture is not None
    field = fields.fields["amount"]
    assert isinstance(field, AmountField)
    item = handle(window, "amount")
    view = window.table.view
    at = view.mapFromScene(item.scenePos())
    QTest.mousePress(view.viewport(), Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(view.viewport(), at + QPoint(0, 15))
    pulled = hand.gesture.plain["amount"]
    assert pulled != 50.0
    type_into(field.edit, "five and a bit / hip hip")
    assert field.wrong.text() and hand.gesture is not None and hand.gesture.plain["amount"] == pulled
    QTest.mouseMove(view.viewport(), at + QPoint(0, 25))
    QTest.mouseRelease(view.viewport(), Qt.MouseButton.LeftButton, pos=at + QPoint(0, 25))
    assert hand.gesture.plain["amount"] > pulled and not field.wrong.text(), "the drag goes on and the field follows"


def test_a_wheel_while_dragging_and_its_momentum_do_not_tear_the_handle_off(
    lengthening: MainWindow, qtbot: QtBot
) -> None:
    window, hand = lengthening, lengthening.shape.hand
    view = window.table.view
    port = view.viewport()
    assert port is not None and hand.gesture is not None
    item = handle(window, "amount")
    at = view.mapFromScene(item.scenePos())
    QTest.mousePress(port, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(port, at + QPoint(0, 8))
    before, zoom = hand.gesture.plain["amount"], view.zoom_share()
    for phase in (Qt.ScrollPhase.ScrollUpdate, Qt.ScrollPhase.ScrollMomentum, Qt.ScrollPhase.NoScrollPhase):
        wheel = QWheelEvent(
            QPointF(at),
            QPointF(port.mapToGlobal(at)),
            QPoint(),
            QPoint(0, 240),
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
            phase,
            False,
        )
        QApplication.sendEvent(port, wheel)
    assert view.zoom_share() == zoom, "what is held stays under the pointer"
    QTest.mouseMove(port, at + QPoint(0, 9))
    assert abs(hand.gesture.plain["amount"] - before) < 20 / zoom
    QTest.mouseRelease(port, Qt.MouseButton.LeftButton, pos=at + QPoint(0, 9))
    momentum = QWheelEvent(
        QPointF(at),
        QPointF(port.mapToGlobal(at)),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.ScrollMomentum,
        False,
    )
    QApplication.sendEvent(port, momentum)
    assert view.zoom_share() == zoom, "a pad that rolls on does not zoom"


def test_a_drag_off_the_table_stops_at_the_limit_and_comes_back(lengthening: MainWindow, qtbot: QtBot) -> None:
    window, hand = lengthening, lengthening.shape.hand
    item = handle(window, "amount")
    far = item.scenePos() + QPointF(0, 60_000)
    drag(window, item.scenePos(), far, qtbot)
    assert hand.gesture is not None and hand.gesture.limit is not None
    largest = next(one.high for one in STEPS["lengthen"].parameters if one.name == "amount")
    assert hand.gesture.plain["amount"] == largest
    assert "makes sense" in hand.bar.asks.text()


def test_of_two_handles_at_one_place_the_upper_one_is_taken_and_tab_reaches_both(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.go("shape")
    window.table.fit()
    hand = window.shape.hand
    hand.choose(Thing("piece", "front"))
    hand.start(STEPS["lengthen"])
    assert hand.gesture is not None
    for item in hand.handles:  # as if the line lay where the amount is pulled
        item.setPos(hand.handles[0].pos())
    at = hand.handles[0].scenePos()
    before, upper = dict(hand.gesture.plain), hand.handles[-1].handle.parameter
    drag(window, at, at + QPointF(0, 40), qtbot)
    changed = [name for name, value in hand.gesture.plain.items() if before.get(name) != value]
    assert changed == [upper], "the upper one, not both"
    view = window.table.view
    view.setFocus()
    window.table.scene.clearFocus()
    reached = set()
    for _ in range(len(hand.handles)):
        view.focusNextPrevChild(True)
        reached.add(window.table.scene.focusItem())
    assert reached == set(hand.handles)


def test_what_is_chosen_and_taken_away_by_an_edit_can_no_longer_be_worked_on(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    window.table.fit()
    hand = window.shape.hand
    there = set(window.table.pieces)
    _, top, _, bottom = window.table.pieces["front"].cut.piece.outline().bounds()
    item, y = window.table.pieces["front"], (top + bottom) / 2
    hand.choose(Thing("piece", "front"))
    hand.start(STEPS["cut"])
    drag(window, item.mapToScene(QPointF(40, y)), item.mapToScene(QPointF(160, y)), qtbot)
    QTest.keyClick(window.table.view, Qt.Key.Key_Return)
    settle(qtbot, window)
    new = min(set(window.table.pieces) - there)
    hand.choose(Thing("piece", new))
    assert not hand.bar.isHidden() and hand.offered()
    window.bench.undo()
    settle(qtbot, window)
    assert hand.bar.isHidden() and not hand.offered()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_N, Qt.Key.Key_Return, Qt.Key.Key_L):
        QTest.keyClick(window.table.view, key)
    hand.leave()
    settle(qtbot, window)
    window.bench.redo()
    settle(qtbot, window)
    assert new in window.table.pieces


def test_a_recipe_of_200_steps_is_scrubbed_quickly(window: MainWindow, qtbot: QtBot) -> None:
    def long(document):  # type: ignore[no-untyped-def]
        for n in range(200):
            document = edits.add_step(document, step("lengthen", amount=10.0 if n % 2 else -10.0, at=300.0))
        return document

    window.go("shape")
    window.bench.edit("Many", long)
    qtbot.waitUntil(
        lambda: not window.bench.busy and window.bench.result.document == window.bench.document, timeout=20000
    )  # type: ignore[union-attr]
    whole = side(window)
    shape = window.shape
    steps = len(window.bench.history.document.recipe.steps)
    for count in [*range(0, steps, 7), *range(steps, 0, -11), 3]:
        shape.scrub.setValue(count)
        QApplication.processEvents()
    qtbot.waitUntil(lambda: not window.bench.busy, timeout=20000)
    on = [one.on for one in window.bench.result.document.recipe.steps]  # type: ignore[union-attr]
    assert on.count(True) == 3, "the last place that was asked for is shown"
    shape.scrub.setValue(steps)
    qtbot.waitUntil(lambda: window.bench.preview_document is None and not window.bench.busy, timeout=20000)
    assert side(window) == pytest.approx(whole)


def test_going_to_another_station_by_key_keeps_a_whole_step(lengthening: MainWindow, qtbot: QtBot) -> None:
    window = lengthening
    steps = len(window.bench.history.document.recipe.steps)
    window.go("mark")
    settle(qtbot, window)
    recipe = window.bench.history.document.recipe.steps
    assert len(recipe) == steps + 1 and window.shape.hand.gesture is None
    click(window, on_table(window, "front", "side", 0.5))
    assert window.shape.hand.gesture is None, "the hand is not on the table of another station"
