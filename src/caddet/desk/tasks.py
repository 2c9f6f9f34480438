"""Work off the main thread, with progress and cancel."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal


class Task(QObject):
    """One piece of work. ``work(task)`` runs in a pool thread; signals arrive on the main thread."""

    progressed = pyqtSignal(object)
    finished = pyqtSignal(object)
    failed = pyqtSignal(object)

    def __init__(self, work: Callable[[Task], Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._work = work
        self.cancelled = False

    def start(self, pool: QThreadPool) -> Task:
        pool.start(_Runner(self))
        return self

    def cancel(self) -> None:
        self.cancelled = True

    def run(self) -> None:
        try:
            result = self._work(self)
        except Exception as error:
            self._emit(self.failed, error)
        else:
            self._emit(self.finished, result)

    def report(self, value: object) -> None:
        self._emit(self.progressed, value)

    @staticmethod
    def _emit(signal: Any, value: object) -> None:
        # the window may be gone while the work ends: then nobody waits for the answer
        try:
            signal.emit(value)
        except RuntimeError as error:
            if "deleted" not in str(error):
                raise


class _Runner(QRunnable):
    def __init__(self, task: Task) -> None:
        super().__init__()
        self.task = task

    def run(self) -> None:
        self.task.run()
