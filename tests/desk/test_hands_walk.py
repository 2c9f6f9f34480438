"""A new user's way through Shape, once with the pointer alone and once with the keyboard alone.

A dart is moved, a hem flared, a piece cut along a drawn line, an edge drawn anew; each is taken up again and changed,
moved before another, switched off and on, and all are put on another project.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from caddet.core.recipe.document import StepEntry
from caddet.desk.stations.shaping import slips as slips_module
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle, type_into
from tests.desk.pointer import click, drag, handle, on_table

WALKED = ("pivot_dart", "flare", "redraw", "cut")


@pytest.fixture
def plain(window: MainWindow, qtbot: QtBot) -> MainWindow:
    """The demo skirt without its steps, in Shape."""
    from caddet.core.recipe import edits

    def bare(document):  # type: ignore[no-untyped-def]
        while document.recipe.steps:
            document = edits.set_step(document, len(document.recipe.steps) - 1, None)
        return document

    window.bench.edit("Plain", bare)
    settle(qtbot, window)
    window.go("shape")
    window.table.fit()
    settle(qtbot, window)
    return window


def recipe(window: MainWindow) -> tuple[StepEntry, ...]:
    return window.bench.history.document.recipe.steps


def in_piece(window: MainWindow, name: str, x: float, y: float) -> QPointF:
    return window.table.pieces[name].mapToScene(QPointF(x, y))


def previewed(window: MainWindow, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: window.bench.preview_document is not None and not window.bench.busy, timeout=5000)


def stuck(window: MainWindow) -> list[str]:
    assert window.bench.result is not None
    return [str(one.stuck) for one in window.bench.result.evaluated.outcomes if one.stuck]


def test_with_the_pointer_alone(
    plain: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    window, hand, slips = plain, plain.shape.hand, plain.shape.slips
    press = lambda name: QTest.mouseClick(hand.bar.buttons[name], Qt.MouseButton.LeftButton)  # noqa: E731

    def keep() -> None:
        previewed(window, qtbot)
        press("keep")
        settle(qtbot, window)

    piece = window.table.pieces["front"].cut.piece
    _, a, _, b = piece.legs(piece.darts[0].id)
    inside = (a + b) / 2 + 8j
    click(window, in_piece(window, "front", inside.real, inside.imag))
    press("pivot_dart")
    click(window, on_table(window, "front", "side", 0.3))
    keep()
    click(window, on_table(window, "back", "side", 0.8))
    press("flare")
    held = handle(window, "amount")
    drag(window, held.scenePos(), held.scenePos() + QPointF(25, 0), qtbot)
    keep()
    click(window, on_table(window, "back", "hem", 0.5))
    press("redraw")
    for share in (0.3, 0.7):
        spot = on_table(window, "back", "hem", share)
        click(window, spot + QPointF(0, 12))
    keep()
    click(window, in_piece(window, "back", 60, 330))
    press("cut")
    drag(window, in_piece(window, "back", 20, 400), in_piece(window, "back", 200, 402), qtbot)
    keep()
    assert [one.kind for one in recipe(window)] == list(WALKED) and not stuck(window)

    for kind, parameter in zip(WALKED, ("to", "amount", "points", "line"), strict=True):
        entry = next(one for one in recipe(window) if one.kind == kind)
        QTest.mouseClick(slips.slips[entry.id], Qt.MouseButton.LeftButton, pos=QPoint(60, 20))
        qtbot.waitUntil(lambda: hand.gesture is not None, timeout=3000)
        held = handle(window, parameter)
        drag(window, held.scenePos(), held.scenePos() + QPointF(7, 9), qtbot, Qt.KeyboardModifier.AltModifier)
        keep()
        again = next(one for one in recipe(window) if one.id == entry.id)
        assert again.values[parameter] != entry.values[parameter], kind
    assert not stuck(window)

    first, second = recipe(window)[0].id, recipe(window)[1].id
    slip, above = slips.slips[second], slips.slips[first]
    up = slip.mapFrom(slips, QPoint(60, above.geometry().top() + 4))
    QTest.mousePress(slip, Qt.MouseButton.LeftButton, pos=QPoint(60, 20))
    QTest.mouseMove(slip, up)
    QTest.mouseRelease(slip, Qt.MouseButton.LeftButton, pos=up)
    settle(qtbot, window)
    assert [one.id for one in recipe(window)][:2] == [second, first] and not stuck(window)
    pieces = set(window.table.pieces)
    cut = recipe(window)[-1].id
    for there in (False, True):
        tick = slips.slips[cut].tick
        QTest.mouseClick(tick, Qt.MouseButton.LeftButton, pos=QPoint(8, tick.height() // 2))
        settle(qtbot, window)
        assert (set(window.table.pieces) == pieces) is there

    monkeypatch.setattr(slips_module, "ask_words", lambda parent, title, question, now: now)  # OK is clicked
    for entry in recipe(window):
        slips.slips[entry.id].menu().actions()[5].trigger()
        settle(qtbot, window)
    _put_on_another(window, qtbot, tmp_path)


def _put_on_another(window: MainWindow, qtbot: QtBot, folder: Path) -> None:
    """The group that all steps are in is kept and put on a project of its own."""
    kinds = [one.kind for one in recipe(window)]
    keep = next(
        one for one in window.shape.findChildren(QPushButton) if one.accessibleName() == "Keep the group Group 1"
    )
    keep.click()
    window.projects.new_at(folder / "another.caddet")
    settle(qtbot, window)
    window.go("shape")
    before = len(recipe(window))
    window.shape.kept_menu().actions()[0].trigger()
    settle(qtbot, window)
    assert [one.kind for one in recipe(window)][before:] == kinds and not stuck(window)


def test_with_the_keyboard_alone(
    plain: MainWindow, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    window, hand, slips = plain, plain.shape.hand, plain.shape.slips
    view = window.table.view

    def key(code: Qt.Key, *, times: int = 1, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        for _ in range(times):
            QTest.keyClick(view, code, modifier)

    def walk_to(kind: str, name: str) -> None:
        """Walk with the arrow keys until the wanted thing is chosen, as one would."""
        view.setFocus()
        key(Qt.Key.Key_Escape)
        key(Qt.Key.Key_Tab)
        for _ in range(6):
            if name.split(".")[0] == hand.selection[-1].ref.split(".")[0]:
                break
            key(Qt.Key.Key_Right)
        if kind != "piece":
            for _ in range(5):
                key(Qt.Key.Key_Down)
                if hand.selection[-1].kind == kind:
                    break
            for _ in range(40):
                if hand.selection[-1].ref == name:
                    break
                key(Qt.Key.Key_Right)
        assert (hand.selection[-1].kind, hand.selection[-1].ref) == (kind, name), hand.selection

    def typed(name: str, text: str) -> None:
        fields = window.shape.fields
        assert fields is not None
        field = fields.fields[name]
        line = (
            field
            if isinstance(field, QLineEdit)
            else next(one for one in field.findChildren(QLineEdit) if not one.isHidden())
        )
        type_into(line, text)

    def keep() -> None:
        previewed(window, qtbot)
        view.setFocus()
        key(Qt.Key.Key_Return)
        settle(qtbot, window)
        assert hand.gesture is None

    walk_to("dart", window.table.pieces["front"].cut.piece.darts[0].id)
    key(Qt.Key.Key_P)
    typed("to", "front.side@0.3")
    keep()
    walk_to("edge", "back.side")
    key(Qt.Key.Key_F)
    QTest.keyClicks(view, "2")
    QTest.keyClicks(hand.bar.field, ",5")
    QTest.keyClick(hand.bar.field, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert hand.gesture is None, "Enter keeps the step and begins no other"
    walk_to("edge", "back.hem")
    key(Qt.Key.Key_D)
    typed("points", "back.hem@0.3,1.2cm; back.hem@0.7,1.2cm")
    keep()
    walk_to("piece", "back")
    key(Qt.Key.Key_C)
    typed("line", "back.centre_back@0.5; back.side@0.6")
    keep()
    assert [one.kind for one in recipe(window)] == list(WALKED) and not stuck(window)

    changes = {
        "to": "front.side@0.4",
        "amount": "3",
        "points": "back.hem@0.5,1cm",
        "line": "back.centre_back@0.5; back.side@0.55",
    }
    for kind, (parameter, text) in zip(WALKED, changes.items(), strict=True):
        entry = next(one for one in recipe(window) if one.kind == kind)
        slips.slips[entry.id].setFocus()
        QTest.keyClick(slips.slips[entry.id], Qt.Key.Key_Return)
        qtbot.waitUntil(lambda: hand.gesture is not None, timeout=3000)
        typed(parameter, text)
        keep()
        again = next(one for one in recipe(window) if one.id == entry.id)
        assert again.values[parameter] != entry.values[parameter], kind
    first, second = recipe(window)[0].id, recipe(window)[1].id
    slips.slips[second].setFocus()
    QTest.keyClick(slips.slips[second], Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    settle(qtbot, window)
    assert [one.id for one in recipe(window)][:2] == [second, first] and not stuck(window)
    cut = recipe(window)[-1].id
    for on in (False, True):
        slips.slips[cut].tick.setFocus()
        QTest.keyClick(slips.slips[cut].tick, Qt.Key.Key_Space)
        settle(qtbot, window)
        assert recipe(window)[-1].on is on
    monkeypatch.setattr(slips_module, "ask_words", lambda parent, title, question, now: "Group 1")
    for entry in recipe(window):
        slips.slips[entry.id].menu().actions()[5].trigger()
        settle(qtbot, window)
    _put_on_another(window, qtbot, tmp_path)


def test_every_widget_of_a_slip_is_reached_by_tab(plain: MainWindow, qtbot: QtBot) -> None:
    window = plain
    from caddet.core.recipe import edits
    from tests.making import step

    window.bench.edit("Longer", lambda d: edits.add_step(d, step("lengthen", amount=20.0)))
    settle(qtbot, window)
    slip = next(iter(window.shape.slips.slips.values()))
    slip.setFocus()
    reached: list[QWidget | None] = []
    for _ in range(2):
        QTest.keyClick(window.focusWidget(), Qt.Key.Key_Tab)
        reached.append(window.focusWidget())
    assert reached == [slip.tick, slip.menu_button]
