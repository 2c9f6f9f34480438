"""What the core's tests share."""

from __future__ import annotations

from pathlib import Path

import pytest

from caddet.core.demo import demo_document
from caddet.core.formats.project import no_pictures, save_project


@pytest.fixture
def demo(tmp_path: Path) -> Path:
    file = tmp_path / "demo.caddet"
    save_project(demo_document(), file, no_pictures)
    return file
