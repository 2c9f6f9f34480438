"""The Lay station: the cloth answers, and every cloth of the garment is laid and bought."""

from __future__ import annotations

from pathlib import Path

from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.desk.table.lay_item import LayItem
from caddet.desk.window import MainWindow
from tests.desk.conftest import type_into


def test_the_lay_answers_to_the_cloth(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window.go("lay")
    qtbot.waitUntil(lambda: window.lay.plan is not None and window.lay.task is None, timeout=15000)
    assert any(isinstance(item, LayItem) for item in window.table.own)
    window.lay.write(tmp_path / "lay.pdf")
    words = PdfReader(tmp_path / "lay.pdf").pages[0].extract_text()
    assert all(said in words for said in ("Quay twill", "Front", "Back", "Waistband", "buy 105.0 cm")), words
    type_into(window.lay.width_row.field.edit, "30")
    qtbot.waitUntil(lambda: bool(window.lay.refusal) and window.lay.task is None, timeout=15000)
    assert "wider cloth" in window.lay.wrong.text() and window.lay.status().left == 1
    type_into(window.lay.price, "12,5")
    type_into(window.lay.shrinkage, "x")
    assert window.bench.document.chosen_cloth.price == 12.5
    window.bench.undo()
    window.bench.undo()
    qtbot.waitUntil(lambda: not window.lay.refusal and window.lay.plan is not None, timeout=15000)


def test_every_cloth_of_the_garment_is_laid_and_bought(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    """The waistband is cut from interfacing too: a lay of its own, and what is chosen for it is its own."""
    window.go("lay")
    lay = window.lay
    qtbot.waitUntil(lambda: lay.task is None and set(lay.laid) == {"main", "interfacing"}, timeout=30000)
    main = lay.laid["main"].plan
    assert main is not None and "Quay twill 1.05 m, Bridge interfacing" in lay.shopping.text()
    assert "and 1 more" in lay.status().words and lay.chooser is not None
    QTest.mouseClick(lay.chooser.buttons["interfacing"], Qt.MouseButton.LeftButton)
    assert lay.plan is not None and [placed.piece for placed in lay.plan.placed] == ["waistband"]
    assert lay.cloths.currentText() == "Bridge interfacing"
    before = window.bench.document
    type_into(lay.width_row.field.edit, "60")
    type_into(lay.gap_row.field.edit, "1")
    document = window.bench.document
    assert document.cloth_for("interfacing").width == 600 and document.chosen_cloth == before.chosen_cloth
    assert document.lay_for("interfacing").gap == 10 and document.lay == before.lay
    qtbot.waitUntil(lambda: lay.task is None and not lay._stale("interfacing"), timeout=30000)
    assert lay.laid["main"].plan is main, "the main cloth is not laid again for that"
    lay.write(tmp_path / "band.pdf")
    words = PdfReader(tmp_path / "band.pdf").pages[0].extract_text()
    assert "Bridge interfacing, 60.0 cm" in words and "front" not in words
