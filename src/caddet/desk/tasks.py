"""Work off the main thread, with progress and cancel.

Workers are plain threads. What they have to say goes through one :class:`Courier`, an object of the
main thread: Qt queues its signal, so every callback runs on the main thread.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from queue import SimpleQueue
from threading import Event, Thread
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from caddet.core.errors import CaddetError
from caddet.core.faults import write_fault

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
        self.cancelled = self.done = False

    def is_cancelled(self) -> bool:
        """Whether the work is no longer wanted; asked by what works."""
        return self.cancelled

    def cancel(self) -> None:
        """Ask the work to stop."""
        self.cancelled = True

    def report(self, value: object) -> None:
        """Called from the work: tell how far it is."""
        self._courier.send(self._progressed, value)


class Workers:
    """A few threads that do tasks in order.

    They end with the program, whatever they are at: closing asks their tasks to stop and does not wait long.
    """

    def __init__(self, courier: Courier, count: int) -> None:
        self.courier = courier
        self._waiting: SimpleQueue[Callable[[], None] | None] = SimpleQueue()
        self._tasks: list[Task] = []
        self._closed = False
        self._threads = [Thread(target=self._work, name="caddet", daemon=True) for _ in range(count)]
        for thread in self._threads:
            thread.start()

    def _work(self) -> None:
        while (act := self._waiting.get()) is not None:
            act()

    @property
    def idle(self) -> bool:
        """Whether everything begun so far is done (callbacks may still be on their way)."""
        self._tasks = [one for one in self._tasks if not one.done]
        return not self._tasks

    def start(
        self,
        work: Callable[[Task], Any],
        finished: Callback,
        failed: Callback,
        progressed: Callback = _ignore,
    ) -> Task:
        """Begin some work; exactly one of ``finished`` and ``failed`` is called on the main thread, none after the close.

        ``failed`` is given a :class:`CaddetError`; a fault of ours is in the log, and a sentence that says so.
        """
        task = Task(self.courier, progressed)
        if self._closed:  # a timer may still ask while its window goes
            task.cancel()
            return task

        def run() -> None:
            try:
                result = work(task)
            except CaddetError as error:
                self.courier.send(failed, error)
            except MemoryError:
                self.courier.send(failed, CaddetError("There is not enough memory for this."))
            except Exception as error:
                log = write_fault(error)
                words = f"Something went wrong inside Caddet. Your work is saved. (Details: {log})"
                self.courier.send(failed, CaddetError(words))
            else:
                self.courier.send(finished, result)
            finally:
                task.done = True

        self._tasks = [one for one in self._tasks if not one.done] + [task]
        self._waiting.put(run)
        return task

    def wait(self) -> None:
        """Block until everything begun so far is done (their callbacks may still be on their way)."""
        if self._closed:
            return
        reached = Event()
        self._waiting.put(reached.set)
        reached.wait()

    def close(self, patience: float | None = None) -> bool:
        """Wait until every worker has stopped; with ``patience`` (seconds) their tasks are asked to stop, and what does
        not stop in time is left behind. Whether all have stopped.
        """
        self._closed = True
        if patience is not None:
            for task in self._tasks:
                task.cancel()
        for _ in self._threads:
            self._waiting.put(None)
        until = None if patience is None else time.monotonic() + patience
        for thread in self._threads:
            thread.join(None if until is None else max(until - time.monotonic(), 0.0))
        return not any(thread.is_alive() for thread in self._threads)
