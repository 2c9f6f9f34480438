"""Real mouse events on the table, for tests."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.desk.table.hand_items import HandleItem
from caddet.desk.window import MainWindow


def handle(window: MainWindow, parameter: str) -> HandleItem:
    """A handle of the step in hand."""
    return next(item for item in window.shape.hand.handles if item.handle.parameter == parameter)


def on_table(window: MainWindow, piece: str, run: str, share: float) -> QPointF:
    """A place of a run, on the table."""
    item = window.table.pieces[piece]
    at, _, _ = item.cut.piece.run_point(run, item.cut.piece.run_length(run) * share)
    return item.mapToScene(QPointF(at.real, at.imag))


def click(window: MainWindow, place: QPointF, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """A click on a place of the table."""
    QTest.mouseClick(
        window.table.view.viewport(), Qt.MouseButton.LeftButton, modifier, window.table.view.mapFromScene(place)
    )


def drag(
    window: MainWindow,
    start: QPointF,
    end: QPointF,
    qtbot: QtBot,
    modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
    parts: int = 8,
) -> None:
    """Press, move in parts and let go, in scene coordinates, with real mouse events."""
    view = window.table.view
    port = view.viewport()
    a, b = view.mapFromScene(start), view.mapFromScene(end)
    QTest.mousePress(port, Qt.MouseButton.LeftButton, modifier, a)
    for i in range(1, parts + 1):
        QTest.mouseMove(port, a + (b - a) * i / parts)
        qtbot.wait(15)
    QTest.mouseRelease(port, Qt.MouseButton.LeftButton, modifier, b)
