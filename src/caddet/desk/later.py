"""Something to be done a moment later, unless what it is done to has gone by then."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer


def later(owner: QObject, act: Callable[[], object], wait: int = 0) -> None:
    """Do it after ``wait`` ms, when the events on their way are dealt with; not when the owner is deleted before."""
    timer = QTimer(owner)
    timer.setSingleShot(True)
    timer.timeout.connect(act)
    timer.timeout.connect(timer.deleteLater)
    timer.start(wait)
