"""A real window on the demo, offscreen, in folders of its own."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.desk.app import make_app
from caddet.desk.theme import LOOK
from caddet.desk.window import MainWindow
from caddet.desk.workbench import Workbench

if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


@pytest.fixture(scope="session")
def qapp() -> Iterator[object]:
    yield make_app()


@pytest.fixture
def project(tmp_path: Path) -> Path:
    file = tmp_path / "Ringing skirt.caddet"
    save_project(demo_document(), file, no_pictures)
    return file


@pytest.fixture
def window(qtbot: QtBot, project: Path) -> Iterator[MainWindow]:
    threads = threading.active_count()
    bench = Workbench(open_project(project), project)
    window = MainWindow(bench)
    qtbot.addWidget(window)
    window.show()
    qtbot.waitExposed(window)
    settle(qtbot, window)
    yield window
    window.close()
    LOOK.switch(False)
    LOOK.set_scale(1.0)
    assert threading.active_count() <= threads + 1, "a thread was left behind"


def settle(qtbot: QtBot, window: MainWindow) -> None:
    """Wait until the shown pattern is that of the document."""
    bench = window.bench
    qtbot.waitUntil(
        lambda: (
            not bench.busy
            and not bench.reading_past
            and bench.result is not None
            and bench.result.document == bench.document
        ),
        timeout=5000,
    )
    qtbot.wait(20)


def type_into(field: QLineEdit, text: str) -> None:
    """Type over what stands in a field, and press Enter."""
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)
