"""What a user wrote is shown as it was written: it is never taken for rich text, which could open files as pictures."""

from __future__ import annotations

import ast
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QLabel
from pytestqt.qtbot import QtBot

import caddet
from caddet.core.recipe import edits
from caddet.desk.widgets.fields import hint
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle

DESK = Path(caddet.__file__).parent / "desk"


def test_labels_and_tooltips_are_made_where_they_are_kept_plain() -> None:
    wrong = []
    for file in DESK.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text("utf-8"))):
            if not isinstance(node, ast.Call):
                continue
            name = ast.unparse(node.func).rpartition(".")[2]
            if name == "QLabel" and file.name != "fields.py":
                wrong.append(f"{file.name}:{node.lineno}: use label()")
            if name == "setToolTip" and not _known(node.args[0]):
                wrong.append(f"{file.name}:{node.lineno}: use hint()")
    assert not wrong


def _known(words: ast.expr) -> bool:
    """Whether the words stand in the program, or went through :func:`hint`."""
    if isinstance(words, ast.IfExp):
        return _known(words.body) and _known(words.orelse)
    return isinstance(words, ast.Constant) or (isinstance(words, ast.Call) and ast.unparse(words.func) == "hint")


def test_a_name_that_looks_like_rich_text_opens_no_picture(qtbot: QtBot, window: MainWindow, tmp_path: Path) -> None:
    red = QImage(60, 60, QImage.Format.Format_RGB32)
    red.fill(QColor("red"))
    red.save(str(tmp_path / "red.png"))
    name = f'<img src="{tmp_path}/red.png">'[:80]
    note = f'<img src="{tmp_path}/red.png"> <b>stands</b> crooked'
    window.bench.edit("name", lambda d: edits.change_person(d, d.wearer, note=note))
    window.bench.edit("title", lambda d: d.model_copy(update={"title": name}))
    for place in window.places:
        window.go(place.key)
        settle(qtbot, window)
        for shown in window.findChildren(QLabel):
            if "<img" in shown.text():
                assert shown.textFormat() == Qt.TextFormat.PlainText, (place.key, shown.objectName())
        picture = window.grab().toImage()
        reds = sum(picture.pixelColor(x, y).name() == "#ff0000" for x in range(0, 1280, 10) for y in range(0, 800, 10))
        assert reds < 5, place.key
    window.say(note)
    assert window.toast.text() == note and window.toast.textFormat() == Qt.TextFormat.PlainText
    assert hint(note).startswith("<span>&lt;img") and hint("plain & simple") == "plain & simple"
