"""Draft, Trace: a wrap cut apart along the lines drawn on it, in the real window; and the guide to draping."""

from __future__ import annotations

import re

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from caddet.core.recipe.traced import PhotoPiece, PhotoTracing
from caddet.core.tracing.tape import traced
from caddet.desk.stations.drafting.photo_items import DrawnLineItem, NameItem
from caddet.desk.widgets.guide_window import guide_folder
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle
from tests.desk.pointer import drag


def wrap(window: MainWindow) -> PhotoPiece:
    tracing = traced(window.bench.document)[-1].tracing
    assert isinstance(tracing, PhotoTracing)
    return tracing.pieces[0]


def pushed(window: MainWindow, words: str) -> None:
    box = window.draft.trace.photo.lines
    one = next(button for button in box.findChildren(QPushButton) if button.text() == words)
    QTest.mouseClick(one, Qt.MouseButton.LeftButton)


def drawn_items(window: MainWindow) -> list[DrawnLineItem]:
    return [item for item in window.table.scene.items() if isinstance(item, DrawnLineItem)]


def test_a_wrap_is_read_named_pulled_and_cut_apart(window: MainWindow, qtbot: QtBot) -> None:
    window.trace()
    page = window.draft.trace.photo
    page.begin.practice.setCurrentIndex(page.begin.practice.findData("wrap"))
    page.begin.sheet.show_choice("caddet")
    page.begin.seed = 6
    page.begin.take()
    qtbot.waitUntil(lambda: page.task is None, timeout=60_000)
    settle(qtbot, window)
    assert not page.lines.names and len(window.bench.result.pattern.pieces) == 1  # type: ignore[union-attr]
    pushed(window, "Read the lines in the picture")
    qtbot.waitUntil(lambda: page.task is None and len(wrap(window).lines) == 5, timeout=60_000)
    settle(qtbot, window)
    assert len(window.bench.result.pattern.pieces) == 6  # type: ignore[union-attr]
    assert all(piece.pair for piece in window.bench.result.pattern.pieces)  # type: ignore[union-attr]
    assert len(drawn_items(window)) == 5 and sum(len(item.marks) for item in drawn_items(window)) == 6

    # named from the keyboard, one after the other: the field that is being typed in is not taken away
    page.lines.names[1].setFocus()
    for n, name in enumerate(("Back", "Side back", "Side"), 1):
        QTest.keyClicks(page.lines.names[n], name)
        QTest.keyClick(page.lines.names[n], Qt.Key.Key_Return)
        settle(qtbot, window)
    labels = {piece.label for piece in window.bench.result.pattern.pieces}  # type: ignore[union-attr]
    assert labels >= {"Back", "Side back", "Side"}
    assert {"Side back", "panel 4"} <= {i.words for i in window.table.scene.items() if isinstance(i, NameItem)}

    # pulled off its ink a line draws back to it; two clicks make one more mark
    before = wrap(window).lines[1]
    item = next(
        i for i in drawn_items(window) if len(i.points) == len(before.points) and i.marks[0][0] == before.marks[0].at
    )
    at = complex(item.points[len(item.points) // 4])
    start = QPointF(at.real, at.imag)
    drag(window, start, start + QPointF(2.0, 0.5), qtbot)
    settle(qtbot, window)
    after = wrap(window).lines[1]
    assert after.points != before.points
    view = page.view()
    assert view is not None
    old, new = (view.to_table(np.array([complex(*p) for p in line.points])) for line in (before, after))
    assert max(float(np.abs(old - p).min()) for p in new) < 2.5 and abs(new[0] - old[0]) < 0.2
    item = next(i for i in drawn_items(window) if i.marks and i.marks[0][0] == after.marks[0].at)
    place = complex(item.points[len(item.points) // 6])
    port, at_port = window.table.view.viewport(), window.table.view.mapFromScene(QPointF(place.real, place.imag))
    QTest.mouseDClick(port, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at_port)
    settle(qtbot, window)
    assert len(wrap(window).lines[1].marks) == len(after.marks) + 1

    # far outside the picture it is refused in a sentence, and nothing changes
    said: list[str] = []
    window.bench.said.connect(said.append)
    page.change("far", lambda p: PhotoPiece.model_validate({**p.parts(), "points": ((1e9, 0.0),) * 3}))
    settle(qtbot, window)
    assert said and "outside" in said[-1] and len(wrap(window).lines) == 5

    # taken out, and back again
    count = len(window.bench.result.pattern.pieces)  # type: ignore[union-attr]
    pushed(window, "Take out")
    settle(qtbot, window)
    assert len(wrap(window).lines) == 4 and len(window.bench.result.pattern.pieces) == count - 1  # type: ignore[union-attr]
    window.bench.undo()
    settle(qtbot, window)
    assert len(wrap(window).lines) == 5
    pushed(window, "Draw one")
    settle(qtbot, window)
    assert [line.number for line in wrap(window).lines] == [1, 2, 3, 4, 5, 6]


def test_the_guide_to_draping_opens_beside_the_work_with_its_pictures(window: MainWindow, qtbot: QtBot) -> None:
    window.trace()
    box = window.draft.trace.begin_box
    QTest.mouseClick(
        next(one for one in box.findChildren(QPushButton) if one.text() == "Draping: how to begin"),
        Qt.MouseButton.LeftButton,
    )
    assert box.guide is not None and box.guide.isVisible() and not box.guide.isModal()
    document = box.guide.text.document()
    assert (
        document is not None
        and "bias" in document.toPlainText()
        and "Pins, scissors and irons" in document.toPlainText()
    )
    names = re.findall(r"\]\(([a-z-]+\.svg)\)", (guide_folder() / "draping.md").read_text("utf-8"))
    assert len(names) == 2
    assert not [name for name in names if QImage(str(guide_folder() / name)).isNull()]
    box.guide.close()
