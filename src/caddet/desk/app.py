"""Starting the window: display, fonts, project, and the last project when none is named."""

from __future__ import annotations

import gc
import os
import signal
import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEventLoop, Qt, QTimer
from PyQt6.QtWidgets import QApplication

from caddet.core.errors import CaddetError, InputError
from caddet.desk.display import need_display
from caddet.desk.opening import Opening
from caddet.desk.settings import keep_settings, read_settings
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


def _why(error: CaddetError) -> str:
    """Why a file that is named already can't be used."""
    words = error.sentence if isinstance(error, InputError) else str(error)
    return words[:1].upper() + words[1:]


@dataclass(frozen=True, slots=True)
class Begun:
    """What the window begins with: its workbench, what was read, and what has to be said of it."""

    bench: Workbench
    opened: Opened
    said: tuple[str, ...] = ()


def open_bench(file: Path | None, demo: Callable[[], Document] | None, last: str = "") -> Begun:
    """The workbench for a named file, for the demo, or for the last project.

    Raises :class:`InputError` when a named file can't be opened. Without one there is always something to begin
    with: when the last project can't be opened, the start; when that can't be written either, a project that is not
    kept yet.
    """
    from caddet.core.demo import new_document, title_of
    from caddet.core.formats.keeping import free_path
    from caddet.core.formats.project import Opened, no_pictures, open_project, save_project
    from caddet.desk.places import demo_path, work_folder
    from caddet.desk.workbench import Workbench

    if file is not None:
        if not os.path.exists(file):
            save_project(new_document(title_of(file)), file, no_pictures)
        opened = open_project(file)
        return Begun(Workbench(opened, file), opened)
    said: list[str] = []
    if demo is None and os.path.isfile(last):
        try:
            opened = open_project(Path(last))
            return Begun(Workbench(opened, Path(last)), opened)
        except CaddetError as error:
            said.append(
                f"Your last project, {Path(last).name}, can't be opened; the file was not changed. {_why(error)}"
            )
    document = demo() if demo is not None else new_document("My first skirt")
    try:
        file = demo_path() if demo is not None else work_folder() / "My first skirt.caddet"
        if not os.path.exists(file):
            save_project(document, file, no_pictures)
        try:
            opened = open_project(file)
        except CaddetError as error:
            said.append(f"{file.name} can't be opened, so this is a new one; the file was not changed. {_why(error)}")
            file = free_path(file, "new")
            save_project(document, file, no_pictures)
            opened = open_project(file)
        return Begun(Workbench(opened, file), opened, tuple(said))
    except CaddetError as error:
        said.append(f"This project is not saved anywhere yet: {error} Save a copy to keep it.")
        opened = Opened(document)
        return Begun(Workbench(opened, None), opened, tuple(said))


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


def make_window(file: Path | None, demo: bool, last: str = "") -> tuple[MainWindow, Begun]:
    """Load the rest of the program, open the project and build its window, not yet shown.

    Raises :class:`InputError` when a named file can't be opened.
    """
    gc.disable()  # what is loaded stays: looking through it again and again costs a quarter of the start
    try:
        from caddet.core.demo import demo_document
        from caddet.desk.window import MainWindow

        begun = open_bench(file, demo_document if demo else None, last)
        return MainWindow(begun.bench), begun
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
    settings = read_settings()
    LOOK.switch(settings.evening)
    opening = show_opening()
    window, begun = make_window(file, demo, settings.last)
    bench = begun.bench
    window.table.view.dots = settings.dots_per_mm
    bench.set_unit(settings.unit)
    bench.unit_changed.connect(lambda: keep_settings(unit=bench.unit))
    LOOK.changed.connect(lambda: keep_settings(evening=LOOK.evening))
    remember = Remembered(bench)
    bench.edited.connect(remember.look)
    remember.look()
    sys.excepthook = window.recovery.mishap
    window.setGeometry(opening.geometry())
    window.show()
    opening.close()
    opening.deleteLater()
    if bench.path is not None:
        window.projects.tell_of(begun.opened, bench.path)
    if settings.aside or begun.said:
        window.say(" ".join((*settings.aside, *begun.said)))
    signal.signal(signal.SIGINT, lambda *_: window.close())
    beat = QTimer()  # lets Python see Ctrl C while Qt waits
    beat.start(300)
    beat.timeout.connect(lambda: None)
    code = app.exec()
    if bench.left_behind:  # what is still being worked out is of no use any more: the program does not wait for it
        for stream in (sys.stdout, sys.stderr):
            if stream is not None:
                stream.flush()
        os._exit(code)
    return code


class Remembered:
    """Keeps the path of the project on the bench as the last one, when it is another than before."""

    def __init__(self, bench: Workbench) -> None:
        self.bench = bench
        self.path: Path | None = None

    def look(self) -> None:
        """Keep the path if it has changed."""
        if self.bench.path is not None and self.bench.path != self.path:
            self.path = self.bench.path
            keep_settings(last=str(self.path.absolute()))
