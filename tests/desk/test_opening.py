"""The start: an empty room at once, the window behind it."""

from __future__ import annotations

import gc
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from caddet.desk.app import make_window, show_opening
from caddet.desk.opening import HEADER, RAIL, Opening
from caddet.desk.theme import LOOK


def test_the_empty_room_is_painted_before_anything_is_loaded(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    seen: list[bool] = []
    paint = Opening.paintEvent
    monkeypatch.setattr(Opening, "paintEvent", lambda self, event: (paint(self, event), seen.append(True))[0])
    opening = show_opening()
    qtbot.addWidget(opening)
    assert seen, "shown, but nothing drawn"
    picture = opening.grab().toImage()
    for x, y, colour in ((RAIL // 2, 400, "rail"), (RAIL + 50, HEADER + 50, "table"), (600, HEADER // 2, "white")):
        assert picture.pixelColor(x, y).rgb() == LOOK.color(colour).rgb(), colour


def test_the_window_behind_it_holds_the_named_project(qtbot: QtBot, project: Path) -> None:
    window, begun = make_window(project, False)
    opened = begun.opened
    qtbot.addWidget(window)
    assert window.bench.path == project and opened.document == window.bench.document and not opened.findings
    assert window.width() == show_opening().width(), "the window takes the room's place"
    assert gc.isenabled()
    gc.unfreeze()
