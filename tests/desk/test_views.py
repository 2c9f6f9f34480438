"""Each main view beside the picture of it that is kept in the documentation.

Both are made small, so that a focus ring or another way to smooth letters doesn't count, a missing panel does.
After a wanted change: ``make screenshots``, and look at them.
"""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageQt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from caddet.desk.app import make_window
from caddet.desk.theme import LOOK
from scripts.views import views

KEPT = Path(__file__).parents[2] / "docs/screenshots"
SMALL = (160, 100)
OTHER = 24  # of 255, from which on a cell of the small picture counts as another
MAY_DIFFER = 0.015  # of all cells


def cells(picture: Image.Image) -> np.ndarray:
    return np.asarray(picture.convert("RGB").resize(SMALL, Image.Resampling.BOX), dtype=float)


def differing(one: Image.Image, other: Image.Image) -> float:
    """The share of cells in which two pictures are not alike."""
    apart = np.abs(cells(one) - cells(other)).max(axis=2)
    return float((apart > OTHER).mean())


def test_the_main_views_look_as_they_are_shown(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    for name in ("DATA", "STATE", "CONFIG", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path))
    window, _ = make_window(None, True)
    qtbot.addWidget(window)
    window.show()
    qtbot.waitExposed(window)

    def settle() -> None:
        end, last = time.monotonic() + 20.0, None
        while time.monotonic() < end:
            qtbot.wait(250)
            picture = window.grab().toImage()
            if picture == last and window.bench.idle:
                return
            last = picture

    apart = {}
    QApplication.setCursorFlashTime(0)
    try:
        for name in views(window, settle):
            window.toast.hide()
            with Image.open(KEPT / f"{name}.png") as kept:
                apart[name] = differing(ImageQt.fromqimage(window.grab().toImage()), kept)
    finally:
        LOOK.switch(False)
        window.close()
    assert not {name: share for name, share in apart.items() if share > MAY_DIFFER}, apart
    assert len(apart) >= 16


def test_a_view_with_a_panel_less_is_told_from_the_kept_one() -> None:
    with Image.open(KEPT / "shape.png") as kept:
        hurt = kept.convert("RGB")
        hurt.paste((255, 255, 255), (980, 100, 1280, 400))
        assert differing(hurt, kept) > MAY_DIFFER
        assert differing(kept, kept) == 0.0
