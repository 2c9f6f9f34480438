"""The desk as a process of its own: killed, and on a screen that is not offscreen."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.desk.app import open_bench

CRASH = """
import os, signal, sys
from pathlib import Path
from caddet.core.recipe import edits
from caddet.desk.app import make_app, open_bench
from caddet.desk.window import MainWindow
app = make_app()
bench = open_bench(Path(sys.argv[1]), None).bench
window = MainWindow(bench)
window.show()
bench.saved.connect(lambda: bench.unsaved or os.kill(os.getpid(), signal.SIGKILL))
bench.edit("hip", lambda d: edits.set_measure(d, "hip", 1040.0))
bench.edit("length", lambda d: edits.set_option(d, "length", 610.0))
app.exec()
"""


def test_kill_9_loses_nothing_not_even_the_undo(project: Path, qtbot: QtBot) -> None:
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run([sys.executable, "-c", CRASH, str(project)], env=environment, timeout=60, capture_output=True)
    assert done.returncode == -signal.SIGKILL
    begun = open_bench(project, None)
    bench, opened = begun.bench, begun.opened
    assert bench.document.person.measures["hip"] == 1040.0
    assert bench.document.recipe.options["length"].value == 610.0 and opened.whole
    bench.undo()
    bench.undo()
    qtbot.waitUntil(lambda: not bench.reading_past)
    assert bench.document == demo_document()
    bench.close()


REAL = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from caddet.desk.app import make_app, open_bench
from caddet.desk.window import MainWindow
app = make_app()
bench = open_bench(Path(sys.argv[1]), None).bench
window = MainWindow(bench)
window.show()
def look():
    image = window.screen().grabWindow(0).toImage()
    colours = {image.pixelColor(x, y).name() for x in range(0, image.width(), 9) for y in range(0, image.height(), 9)}
    print(app.platformName(), window.isActiveWindow() or window.isVisible(), len(colours) > 12)
    window.close()
QTimer.singleShot(1500, look)
app.exec()
"""


@pytest.mark.skipif(shutil.which("xvfb-run") is None, reason="xvfb is not installed (make setup names it)")
def test_a_real_window_opens_under_a_virtual_screen(project: Path) -> None:
    environment = {k: v for k, v in os.environ.items() if k != "QT_QPA_PLATFORM"}
    done = subprocess.run(
        ["xvfb-run", "-a", "-s", "-screen 0 1280x800x24", sys.executable, "-c", REAL, str(project)],
        env=environment,
        timeout=90,
        capture_output=True,
        text=True,
    )
    assert done.stdout.split() == ["xcb", "True", "True"], done.stderr
