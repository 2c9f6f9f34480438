"""The log of faults: what went wrong inside Caddet, one line each, for whoever mends it."""

from __future__ import annotations

import contextlib
import os
import traceback
from pathlib import Path

import platformdirs

from caddet.core.errors import one_line
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import append_synced, make_folder, write_whole

LARGEST = 1024 * 1024  # bytes; of a longer log the older half goes
PLACES = 14  # calls that lead to a fault, the last ones


def fault_log() -> Path:
    """Where the log is."""
    return Path(platformdirs.user_state_dir("caddet")) / "faults.log"


def write_fault(error: BaseException) -> Path:
    """Add a fault to the log; where that is. A fault that can't be logged makes no second one."""
    log = fault_log()
    with contextlib.suppress(Exception):
        make_folder(log.parent)
        if os.path.exists(log) and os.path.getsize(log) > LARGEST:
            write_whole(log, read_whole(log)[-LARGEST // 2 :].partition(b"\n")[2], private=True)
        append_synced(log, fault_line(error).encode("utf-8", "replace") + b"\n")
    return log


def fault_line(error: BaseException) -> str:
    """A fault on one line: what it is, and from the innermost call outwards where it happened."""
    frames = traceback.extract_tb(error.__traceback__)[-PLACES:]
    places = (f"{'/'.join(Path(one.filename).parts[-2:])}:{one.lineno} {one.name}" for one in reversed(frames))
    return one_line(f"{type(error).__name__}: {error} | {' < '.join(places)}", 4000)
