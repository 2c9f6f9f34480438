"""Work off the main thread, with progress and cancel.

Workers are plain threads. What they have to say goes through one :class:`Courier`, an object of the
main thread: Qt queues its signal, so every callback runs on the main thread.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

Callback = Callable[[Any], object]


def _ignore(value: object) -> None:
    del value


class Courier(QObject):
    """Carries values from worker threads to callbacks on the main thread."""

    delivered = pyqtSignal(object, object)

    def __init__(self) -> None:
        super().__init__()
        self.open = True
        self.delivered.connect(self._call)

    def send(self, callback: Callback, value: object) -> None:
        """Called from a worker: have ``callback(value)`` run on the main thread."""
        if self.open:
            self.delivered.emit(callback, value)

    def _call(self, callback: Callback, value: object) -> None:
        if self.open:
            callback(value)

    def close(self) -> None:
        """Nothing is delivered any more."""
        self.open = False


class Task:
    """One piece of work that can report and be cancelled."""

    def __init__(self, courier: Courier, progressed: Callback) -> None:
        self._courier, self._progressed = courier, progressed
        self.cancelled = False

    def cancel(self) -> None:
        """Ask the work to stop."""
        self.cancelled = True

    def report(self, value: object) -> None:
        """Called from the work: tell how far it is."""
        self._courier.send(self._progressed, value)


class Workers:
    """A few threads that do tasks in order."""

    def __init__(self, courier: Courier, count: int) -> None:
        self.courier = courier
        self.threads = ThreadPoolExecutor(count, "caddet")
        self._under_way: list[Future[None]] = []
        self._closed = False

    @property
    def idle(self) -> bool:
        """Whether everything begun so far is done (callbacks may still be on their way)."""
        return all(one.done() for one in self._under_way)

    def start(
        self,
        work: Callable[[Task], Any],
        finished: Callback,
        failed: Callback,
        progressed: Callback = _ignore,
    ) -> Task:
        """Begin some work; exactly one of ``finished`` and ``failed`` is called on the main thread, none after the close."""
        task = Task(self.courier, progressed)
        if self._closed:  # a timer may still ask while its window goes
            task.cancel()
            return task

        def run() -> None:
            try:
                result = work(task)
            except Exception as error:
                self.courier.send(failed, error)
            else:
                self.courier.send(finished, result)

        self._under_way = [one for one in self._under_way if not one.done()] + [self.threads.submit(run)]
        return task

    def wait(self) -> None:
        """Block until everything begun so far is done (their callbacks may still be on their way)."""
        self.threads.submit(lambda: None).result()

    def close(self) -> None:
        """Wait until every worker has stopped."""
        self._closed = True
        self.threads.shutdown(wait=True)
