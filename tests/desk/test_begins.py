"""The window always opens: with damaged settings, a damaged last project, folders that can't be made."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.files.writing import previous_of
from caddet.core.formats.project import no_pictures, save_project
from caddet.desk import app
from caddet.desk.app import Begun, make_window, open_bench
from caddet.desk.settings import Settings, keep_settings, read_settings, settings_file
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle

BAD_VALUES: tuple[object, ...] = ("abc", [], {}, None, True, -1, 1e308, 1e15, float("1e-9"), "\0", "x" * 5000, 7)


def written(raw: object) -> Path:
    file = settings_file()
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(raw if isinstance(raw, str) else json.dumps(raw))
    return file


def test_settings_come_back_and_one_that_is_kept_leaves_the_others() -> None:
    assert read_settings() == Settings() and not read_settings().aside
    for words in (keep_settings(evening=True), keep_settings(dots_per_mm=4.5), keep_settings(last="/a b/ü.caddet")):
        assert not words
    assert read_settings() == Settings(evening=True, unit="cm", dots_per_mm=4.5, last="/a b/ü.caddet")


@pytest.mark.parametrize("key", ["evening", "unit", "dots_per_mm", "last"])
@pytest.mark.parametrize("value", BAD_VALUES, ids=lambda value: repr(value)[:12])
def test_a_bad_setting_is_set_aside_and_said_once_and_the_others_are_used(key: str, value: object) -> None:
    good = {"evening": True, "unit": "in", "dots_per_mm": 5.0, "last": "/a.caddet"}
    file = written({**good, key: value})
    found = read_settings()
    if found.aside:
        assert len(found.aside) == 1 and f"“{key}”" in found.aside[0] and len(found.aside[0]) < 200
        assert getattr(found, key) == getattr(Settings(), key)
        keep_settings()
        assert not read_settings().aside, "said once"
        assert json.loads(previous_of(file).read_text())[key] == value, "and kept"
    else:
        assert (key, value) in (("evening", True), ("last", "abc"), ("dots_per_mm", 7))
    for other in good.keys() - {key}:
        assert getattr(found, other) == good[other]


@pytest.mark.parametrize(
    "raw", ["", "{", "[]", "null", "[General]\nunit=in", '{"dots_per_mm": 1e999}', '{"unit": NaN}', "\udcff"]
)
def test_settings_that_are_no_settings_are_said_and_the_usual_ones_used(raw: str) -> None:
    settings_file().parent.mkdir(parents=True, exist_ok=True)
    settings_file().write_bytes(raw.encode("utf-8", "surrogateescape"))
    found = read_settings()
    assert found == Settings() and len(found.aside) == 1
    keep_settings(unit="in")
    assert read_settings() == Settings(unit="in") and not read_settings().aside


def test_settings_in_a_pipe_or_without_end_are_not_waited_for() -> None:
    file = settings_file()
    file.parent.mkdir(parents=True)
    os.mkfifo(file)
    assert read_settings().aside
    file.unlink()
    file.symlink_to("/dev/zero")
    assert read_settings().aside and keep_settings(unit="in")


def test_the_settings_of_before_are_taken_over() -> None:
    file = settings_file().with_name("caddet.conf")
    file.parent.mkdir(parents=True)
    file.write_text("[General]\ndots_per_mm=4.25\nevening=yes\nlast=/home/a/Skirt.caddet\nunit=in\nodd\n")
    assert read_settings() == Settings(True, "in", 4.25, "/home/a/Skirt.caddet")
    file.write_text("[General]\ndots_per_mm=abc\nunit=in\n")
    assert read_settings() == Settings(unit="in") and "dots_per_mm" in read_settings().aside[0]


def begun(qtbot: QtBot, last: str) -> tuple[MainWindow, Begun]:
    window, how = make_window(None, False, last)
    qtbot.addWidget(window)
    window.show()
    settle(qtbot, window)
    return window, how


def test_a_damaged_last_project_leaves_a_window_on_the_start(qtbot: QtBot, tmp_path: Path) -> None:
    last = tmp_path / "My coat.caddet"
    last.write_bytes(b"PK\x03\x04 no project")
    window, how = begun(qtbot, str(last))
    assert window.bench.path is not None and window.bench.path.name == "My first skirt.caddet"
    assert "Your last project, My coat.caddet, can't be opened; the file was not changed. This is not" in how.said[
        0
    ] and last.read_bytes().startswith(b"PK")
    window.close()
    window.bench.path.write_bytes(b"")
    window, how = begun(qtbot, str(last))
    assert (
        window.bench.path is not None and window.bench.path.name == "My first skirt (new).caddet" and len(how.said) == 2
    )
    window.close()


@pytest.mark.parametrize("last", ["", "/nowhere/x.caddet", "/dev/zero", "/", "x" * 3000])
def test_a_last_project_that_is_gone_or_none_is_passed_over(qtbot: QtBot, last: str) -> None:
    how = open_bench(None, None, last)
    assert how.bench.path is not None and how.bench.path.name == "My first skirt.caddet" and not how.said
    how.bench.close()


def test_without_a_folder_to_write_in_the_window_opens_on_a_project_that_is_not_kept_yet(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "file").write_text("")
    for name in ("DATA", "STATE", "CONFIG"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "file" / "below"))
    window, how = begun(qtbot, "")
    assert window.bench.path is None and "not saved anywhere yet" in how.said[0]
    for place in window.places:
        window.go(place.key)
        settle(qtbot, window)
        assert not window.findChildren(QWidget, "failed") and window.place(place.key) is window.station
        assert "went wrong" not in window.toast.text(), place.key
    window.bench.copy_to(tmp_path / "copy.caddet")
    assert window.bench.path == tmp_path / "copy.caddet" and (tmp_path / "copy.caddet").exists()
    window.close()


def test_a_named_file_that_cannot_be_opened_is_still_refused(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    path.write_bytes(b"no project")
    with pytest.raises(InputError, match=r"a\.caddet"):
        open_bench(path, None, "")


def test_only_another_project_is_remembered_as_the_last_one(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.caddet"
    save_project(demo_document(), path, no_pictures)
    bench = open_bench(path, None).bench
    kept: list[object] = []
    monkeypatch.setattr(app, "keep_settings", lambda **changes: kept.append(changes))
    remember = app.Remembered(bench)
    for _ in range(3):
        remember.look()
    assert kept == [{"last": str(path)}]
    bench.close()
