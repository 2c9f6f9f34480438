"""The workbench without a window: requests, stale answers, previews, saving, mishaps."""

from __future__ import annotations

import json
import sys
import threading
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError
from caddet.core.formats.journal import Journal, journal_path
from caddet.core.formats.project import open_project
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.desk.app import open_bench
from caddet.desk.display import need_display
from caddet.desk.places import demo_path, work_folder
from caddet.desk.tasks import Courier, Task, Workers
from caddet.desk.window import MainWindow
from caddet.desk.workbench import Workbench
from tests.desk.conftest import settle


@pytest.fixture
def bench(qtbot: QtBot, project: Path) -> Iterator[Workbench]:
    bench = Workbench(open_project(project), project)
    qtbot.waitUntil(lambda: not bench.busy)
    yield bench
    bench.close()


def test_many_wishes_are_answered_by_the_newest(bench: Workbench, qtbot: QtBot) -> None:
    answered: list[float] = []
    bench.made.connect(lambda: answered.append(bench.result.document.person.measures["hip"]))  # type: ignore[union-attr]
    for hip in range(960, 1060, 5):
        bench.preview(edits.set_measure(bench.history.document, "hip", float(hip)))
    qtbot.waitUntil(lambda: not bench.busy)
    assert answered[-1] == 1055.0 and len(answered) < 20
    assert answered == sorted(answered)


def test_a_stale_answer_is_dropped(bench: Workbench, qtbot: QtBot) -> None:
    newest = bench.result
    assert newest is not None
    old = make(EvaluateRequest(edits.set_measure(bench.document, "hip", 1200.0), number=newest.request.number - 1))
    with qtbot.assertNotEmitted(bench.made):
        bench._evaluated(old)
    assert bench.result is newest


def test_a_preview_is_not_kept_and_not_saved(bench: Workbench, qtbot: QtBot, project: Path) -> None:
    before = project.read_bytes()
    bench.preview(edits.set_measure(bench.document, "hip", 1000.0))
    assert bench.document.person.measures["hip"] == 1000.0
    bench.preview(None)
    bench.preview(None)
    qtbot.waitUntil(lambda: not bench.busy)
    assert bench.document == demo_document() and project.read_bytes() == before and bench.history.undo_deed is None


def test_edits_that_fail_are_said_and_leave_everything(bench: Workbench, qtbot: QtBot) -> None:
    said: list[str] = []
    bench.said.connect(said.append)
    assert not bench.edit("x", lambda d: edits.choose_wearer(d, "Nobody"))
    assert not bench.edit("x", lambda d: edits.set_lay(d, gap=-4.0))
    assert len(said) == 2 and "Nobody" in said[0] and "Gap" in said[1]
    assert bench.document == demo_document()


def test_saves_are_joined_and_the_last_one_counts(bench: Workbench, qtbot: QtBot, project: Path) -> None:
    for hip in range(950, 1000):
        bench.edit("hip", lambda d, h=hip: edits.set_measure(d, "hip", float(h)))  # type: ignore[misc]
    qtbot.waitUntil(lambda: not bench.unsaved)
    assert open_project(project).document.person.measures["hip"] == 999.0
    assert len(Journal.read(journal_path(project)).lines) == 51


def test_closing_at_once_still_saves(qtbot: QtBot, project: Path) -> None:
    bench = Workbench(open_project(project), project)
    for hip in (950.0, 951.0, 952.0):
        bench.edit("hip", lambda d, h=hip: edits.set_measure(d, "hip", h))  # type: ignore[misc]
    bench.close()
    assert open_project(project).document.person.measures["hip"] == 952.0


def test_a_read_only_project_is_never_written(qtbot: QtBot, project: Path) -> None:
    before = project.read_bytes()
    bench = Workbench(replace(open_project(project), read_only=True), project)
    bench.edit("hip", lambda d: edits.set_measure(d, "hip", 950.0))
    bench.close()
    assert project.read_bytes() == before and not journal_path(project).exists()


def test_workers_report_fail_and_stop(qtbot: QtBot) -> None:
    courier = Courier()
    workers = Workers(courier, 1)
    heard: list[object] = []
    main = threading.get_ident()
    where: list[int] = []

    def work(task: Task) -> str:
        for index in range(3):
            task.report(index)
        if task.cancelled:
            raise CaddetError("stopped")
        where.append(threading.get_ident())
        return "done"

    workers.start(work, heard.append, heard.append, heard.append)
    qtbot.waitUntil(lambda: "done" in heard)
    assert heard == [0, 1, 2, "done"] and where != [main]
    task = workers.start(lambda t: t.cancelled or 1 / 0, heard.append, heard.append)
    task.cancel()
    qtbot.waitUntil(lambda: len(heard) == 5)
    courier.close()
    workers.start(lambda _: "unheard", heard.append, heard.append)
    workers.close()
    assert workers.start(lambda _: "too late", heard.append, heard.append).cancelled  # a timer may still ask
    qtbot.wait(20)
    assert "unheard" not in heard


def _rewrite(project: Path, change: object) -> None:
    with zipfile.ZipFile(project) as archive:
        raw = json.loads(archive.read("document.json"))
    change(raw)  # type: ignore[operator]
    with zipfile.ZipFile(project, "w") as archive:
        archive.writestr("document.json", json.dumps(raw))


def test_a_file_with_odd_values_opens_and_every_station_stands(qtbot: QtBot, project: Path) -> None:
    def change(raw: dict) -> None:  # type: ignore[type-arg]
        block = raw["recipe"]["sources"][0]
        block["options"] = {"length": {"kind": "choice", "name": "long"}, "nonsense": {"kind": "flag", "on": True}}
        raw["recipe"]["steps"] = [
            {"id": "s2", "kind": "lengthen", "values": {"amount": {"kind": "text", "text": "much"}}},
            {"id": "s3", "kind": "unheard_of", "values": {"odd": {"kind": "a_kind_to_come", "with": [1, {"a": 2}]}}},
            {"id": "s4", "kind": "slit", "values": {"height": {"kind": "flag", "on": True}}},
        ]
        block["overrides"] = {"nothing": "1cm", "front_hip": "((("}

    _rewrite(project, change)
    bench = open_bench(project, None).bench
    window = MainWindow(bench)
    qtbot.addWidget(window)
    window.show()
    settle(qtbot, window)
    for station in window.stations:
        window.go(station.key)
        qtbot.wait(10)
    window.go("shape")
    window.shape.open_step("s2")
    window.shape.hand.leave()
    window.go("draft")
    assert window.strip.chips[0].line.verdict == "fails"
    window.go_to_place("recipe[s2]")
    window.go_to_place("figures.front_hip")
    window.go_to_place("person.hip")
    window.go_to_place("nowhere.at_all")
    window.close()


def test_a_fault_of_ours_is_logged_and_said_in_one_sentence(qtbot: QtBot, project: Path, tmp_path: Path) -> None:
    bench = Workbench(open_project(project), project)
    window = MainWindow(bench)
    qtbot.addWidget(window)
    try:
        raise ZeroDivisionError("a fault")
    except ZeroDivisionError:
        window.recovery.mishap(*sys.exc_info())  # type: ignore[arg-type]
    log = tmp_path / "xdg-state" / "caddet" / "faults.log"
    assert "a fault" in log.read_text() and "went wrong" in window.toast.text()
    window.close()


def test_the_demo_keeps_what_was_done_in_it(qtbot: QtBot) -> None:
    bench = open_bench(None, demo_document).bench
    bench.edit("hip", lambda d: edits.set_measure(d, "hip", 950.0))
    bench.close()
    assert demo_path().parent == work_folder()
    again = open_bench(None, demo_document).bench
    assert again.document.person.measures["hip"] == 950.0
    again.close()


def test_a_first_start_makes_a_project(qtbot: QtBot) -> None:
    begun = open_bench(None, None)
    bench, opened = begun.bench, begun.opened
    assert bench.path is not None and bench.path.exists() and opened.whole
    bench.close()
    with pytest.raises(CaddetError, match=r"no such file|can't be made|no folder"):
        open_bench(Path("/proc/nowhere/x.caddet"), None)


def test_the_screen_is_asked_for_first(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("QT_QPA_PLATFORM", "offscreen")
    need_display()
    monkeypatch.delenv("QT_QPA_PLATFORM")
    monkeypatch.setattr("caddet.desk.display._x11_answers", lambda name: name == ":0")
    monkeypatch.setenv("DISPLAY", ":0")
    need_display()
    monkeypatch.setenv("DISPLAY", ":1")
    with pytest.raises(CaddetError, match="no screen answers"):
        need_display()
    monkeypatch.delenv("DISPLAY")
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    with pytest.raises(CaddetError, match="no screen"):
        need_display()
