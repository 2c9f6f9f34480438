"""What all tests share. No test touches the user's own folders."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

import pytest
from hypothesis import settings

# the same examples every time; HYPOTHESIS_PROFILE=explore looks for new ones
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("explore", max_examples=500, deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))

# what the tests start as programs of their own is compiled once, also where nothing may be written beside the source
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
os.environ["PYTHONPYCACHEPREFIX"] = str(Path(tempfile.gettempdir()) / f"caddet-compiled-{os.getuid()}")


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("DATA", "STATE", "CONFIG", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / f"xdg-{name.lower()}"))
