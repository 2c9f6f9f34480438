"""Starting the window: display, fonts, project, and the last project when none is named."""

from __future__ import annotations

import gc
import os
import signal
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEventLoop, QSettings, Qt, QTimer
from PyQt6.QtWidgets import QApplication

from caddet.core.faults import write_fault
from caddet.desk.display import need_display
from caddet.desk.opening import Opening
from caddet.desk.theme import LOOK, load_fonts

if TYPE_CHECKING:  # the rest is imported behind the first picture
    from caddet.core.formats.project import Opened
    from caddet.core.recipe.document import Document
    from caddet.desk.window import MainWindow
    from caddet.desk.workbench import Workbench


def make_app() -> QApplication:
    """The application with fonts and look."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["caddet"])
    app.setApplicationName("Caddet")
    app.setStyle("Fusion")
    load_fonts()
    app.setPalette(LOOK.palette())
    return app


def open_bench(file: Path | None, demo: Callable[[], Document] | None) -> tuple[Workbench, Opened]:
    """The workbench for a file, for the demo, or for the last project; and what was read.

    Raises :class:`InputError` when a named file can't be opened.
    """
    from caddet.core.demo import new_document, title_of
    from caddet.core.formats.project import open_project, save_project
    from caddet.desk.places import demo_path, work_folder
    from caddet.desk.workbench import Workbench

    if file is None and demo is not None:
        file = demo_path()
        if not os.path.exists(file):
            save_project(demo(), file)
    if file is None:
        last = Path(str(QSettings("caddet", "caddet").value("last", "")))
        file = last if os.path.isfile(last) else work_folder() / "My first skirt.caddet"
    if not os.path.exists(file):
        save_project(new_document(title_of(file)), file)
    opened = open_project(file)
    return Workbench(opened, file), opened


def _mishap(window: MainWindow, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    """A fault of ours: it is written to a log and said in one sentence; the work goes on."""
    del kind
    log = write_fault(error.with_traceback(trace))
    window.say(f"Something went wrong inside Caddet; your work is saved. What happened is written in {log}.")


def show_opening() -> Opening:
    """The empty room, painted before this returns; everything else is loaded behind it."""
    opening = Opening()
    waiting = QEventLoop()
    opening.painted.connect(waiting.quit)
    QTimer.singleShot(PATIENCE, waiting.quit)
    opening.show()
    waiting.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
    return opening


PATIENCE = 500  # ms within which a screen that shows windows has painted one


def make_window(file: Path | None, demo: bool) -> tuple[MainWindow, Opened]:
    """Load the rest of the program, open the project and build its window, not yet shown.

    Raises :class:`InputError` when a named file can't be opened.
    """
    gc.disable()  # what is loaded stays: looking through it again and again costs a quarter of the start
    try:
        from caddet.core.demo import demo_document
        from caddet.desk.window import MainWindow

        bench, opened = open_bench(file, demo_document if demo else None)
        return MainWindow(bench), opened
    finally:
        gc.freeze()
        gc.enable()


def run(file: Path | None, demo: bool) -> int:
    """Open the window and stay until it is closed. Returns the exit code.

    Raises :class:`InputError` when there is no screen or a named file can't be opened.
    """
    need_display()
    QApplication.setAttribute(Qt.ApplicationAttribute.AA_DontUseNativeMenuBar)
    app = make_app()
    settings = QSettings("caddet", "caddet")
    LOOK.switch(settings.value("evening", "no") == "yes")
    opening = show_opening()
    window, opened = make_window(file, demo)
    bench = window.bench
    window.table.view.dots = float(settings.value("dots_per_mm", 0.0) or 0.0)
    bench.set_unit("in" if settings.value("unit", "cm") == "in" else "cm")
    bench.unit_changed.connect(lambda: settings.setValue("unit", bench.unit))
    LOOK.changed.connect(lambda: settings.setValue("evening", "yes" if LOOK.evening else "no"))
    bench.edited.connect(lambda: settings.setValue("last", str(bench.path or "")))
    settings.setValue("last", str(bench.path or ""))
    sys.excepthook = partial(_mishap, window)
    window.setGeometry(opening.geometry())
    window.show()
    opening.close()
    opening.deleteLater()
    if bench.path is not None:
        window.projects.tell_of(opened, bench.path)
    signal.signal(signal.SIGINT, lambda *_: window.close())
    beat = QTimer()  # lets Python see Ctrl C while Qt waits
    beat.start(300)
    beat.timeout.connect(lambda: None)
    return app.exec()
