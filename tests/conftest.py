"""What all tests share. No test touches the user's own folders."""

from __future__ import annotations

from pathlib import Path

import pytest


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("DATA", "STATE", "CONFIG", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / f"xdg-{name.lower()}"))
