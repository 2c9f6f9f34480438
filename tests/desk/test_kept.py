"""Kept with a person: garments that fit, and what is always changed for them."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.desk.window import MainWindow


def test_what_fits_and_what_is_always_changed_is_kept_and_offered(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    window.measure.show_page("sizes")
    page = window.measure.kept
    page.garment.setText("market skirt: seam 3")
    QTest.keyClick(page.garment, Qt.Key.Key_Return)
    assert "no girth" in page.wrong.text() and page.garment.text(), "nothing typed is lost"
    page.garment.setText("market skirt: hip 105")
    QTest.keyClick(page.garment, Qt.Key.Key_Return)
    page.change.setText("waist lower in front: 1, since always")
    QTest.keyClick(page.change, Qt.Key.Key_Return)
    person = window.bench.document.person
    assert person.liked[0].girths == {"hip": 1050.0} and person.adjustments[0].reason == "since always"
    assert page.garments.count() == page.changes.count() == 1
    window.go("plan")
    window.plan.show_page("fit")
    window.plan.fit.fits["like:market skirt"].chosen.emit()
    assert window.bench.document.recipe.ease["hip"] == pytest.approx(1050.0 - person.measures["hip"])
