"""Where projects lie that were given no other place."""

from __future__ import annotations

from pathlib import Path

import platformdirs

from caddet.core.errors import InputError


def work_folder() -> Path:
    """Where projects lie that were given no other place, under the XDG data directory."""
    folder = Path(platformdirs.user_data_dir("caddet")) / "projects"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(f"this folder can't be made ({error.strerror}).", str(folder)) from error
    return folder


def demo_path() -> Path:
    """Where the demo's project lies."""
    return work_folder() / "Ringing skirt.caddet"
