"""The log of faults: what went wrong inside Caddet, for whoever mends it."""

from __future__ import annotations

import contextlib
import traceback
from pathlib import Path

import platformdirs


def write_fault(error: BaseException) -> Path:
    """Add a fault with its trace to the log; where that is. A fault that can't be logged makes no second one."""
    log = Path(platformdirs.user_state_dir("caddet")) / "faults.log"
    with contextlib.suppress(OSError, ValueError):
        log.parent.mkdir(parents=True, exist_ok=True)
        with log.open("a", encoding="utf-8", errors="replace") as file:
            file.writelines(traceback.format_exception(type(error), error, error.__traceback__))
    return log
