"""A station that fails is begun again with a word; undo, saving and the other stations go on.

Every fault of ours is one line in the log and one calm sentence on the screen.
"""

from __future__ import annotations

from collections.abc import Callable
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from caddet.core.faults import write_fault
from caddet.desk.stations.base import Station
from caddet.desk.table.table import Table
from caddet.desk.widgets.fields import button, label
from caddet.desk.workbench import Workbench

if TYPE_CHECKING:
    from caddet.desk.window import MainWindow

MOST = 3  # times that a station is begun again by itself before it waits to be asked
WAIT = 300  # ms between looks whether a station that was taken away can be deleted
FORGOTTEN = 20_000  # ms after which its failures are forgotten


class FailedStation(Station):
    """In place of a station that can't be begun: says so, and tries again when asked."""

    def __init__(self, bench: Workbench, table: Table, key: str, name: str, again: Callable[[], object]) -> None:
        self.key, self.name = key, name
        self._again = again
        super().__init__(bench, table)

    def build(self) -> None:
        """The words and the button."""
        words = (
            f"{self.name} keeps failing, so it is switched off for now. Your work is saved, and everything else works."
        )
        self.body.addWidget(label(words, wrap=True))
        self.body.addWidget(button("Try again", self._again))

    def draw(self) -> None:
        """The pieces, if they can be shown."""
        self.table.show_own([])


class Recovery(QObject):
    """What a window does about a fault of ours."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self.window = window
        self._failures: dict[str, int] = {}
        self._waiting: set[str] = set()
        self._old: list[Station] = []
        self._soon = self._timer(0, self._begin_those_again)
        self._later = self._timer(WAIT, self._clear_old)
        self._forget = self._timer(FORGOTTEN, self._failures.clear)

    def _timer(self, wait: int, act: Callable[[], object]) -> QTimer:
        """A timer that goes with the window."""
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(wait)
        timer.timeout.connect(act)
        return timer

    def mishap(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """A fault that nobody caught, as ``sys.excepthook`` is given it: the station in front is begun again."""
        del kind
        self.failed(self.window.here, error.with_traceback(trace))

    def guard(self, key: str, act: Callable[[], object]) -> None:
        """Do something of a station; when it fails, that station is begun again."""
        try:
            act()
        except Exception as error:
            self.failed(key, error)

    def failed(self, key: str, error: BaseException) -> None:
        """A station failed: log it, say it, and begin the station again as soon as nothing of it is at work."""
        log = write_fault(error)
        name = self.window.place(key).name
        self.window.say(f"Something went wrong in {name}, so it was restarted. Your work is saved. (Details: {log})")
        if key not in self._waiting and not self.window.closing:
            self._waiting.add(key)
            self._failures[key] = self._failures.get(key, 0) + 1
            self._forget.start()
            self._soon.start()

    def _begin_those_again(self) -> None:
        waiting, self._waiting = sorted(self._waiting), set()
        for key in waiting if not self.window.closing else ():
            self._begin_again(key)

    def _begin_again(self, key: str) -> None:
        old = self.window.place(key)
        try:
            old.retire()
        except Exception as error:
            write_fault(error)
        given_up = self._failures.get(key, 0) > MOST
        self.window.put_in_place(
            self._put_away(self.window.kind(key)) if given_up else self.made(self.window.kind(key))
        )

    def dispose_of(self, old: Station) -> None:
        """Delete a station that was taken away, once nothing is worked out any more: it may still be told of its work."""
        old.hide()
        old.setParent(self.window)
        self._old.append(old)
        self._clear_old()

    def _clear_old(self) -> None:
        if self.window.bench.idle:
            for one in self._old:
                one.deleteLater()
            self._old.clear()
        else:
            self._later.start()

    def made(self, kind: type[Station]) -> Station:
        """A station, not yet in its place; one that can't be made is put away."""
        try:
            return kind(self.window.bench, self.window.table)
        except Exception as error:
            write_fault(error)
            return self._put_away(kind)

    def _put_away(self, kind: type[Station]) -> FailedStation:
        return FailedStation(self.window.bench, self.window.table, kind.key, kind.name, lambda: self._try(kind.key))

    def _try(self, key: str) -> None:
        self._failures[key] = 0
        self._begin_again(key)
