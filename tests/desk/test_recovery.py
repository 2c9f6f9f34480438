"""A station that fails is begun again; undo, saving and the others go on. And the stations that failed, one by one."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Literal

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from caddet.core.body.sizes import shipped_table
from caddet.core.errors import CaddetError, Stopped
from caddet.core.faults import LARGEST, fault_line, fault_log, write_fault
from caddet.core.formats.people_csv import parse_people
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.grading.sizes import derived_rules
from caddet.core.practice import practice_document
from caddet.core.recipe import edits
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS
from caddet.core.truing.ease_limits import read_ease_limits, shipped_limits
from caddet.desk.app import open_bench
from caddet.desk.places import work_folder
from caddet.desk.recovery import MOST, FailedStation
from caddet.desk.stations.lay import LayStation
from caddet.desk.stations.shape import ShapeStation
from caddet.desk.stations.true import TrueStation
from caddet.desk.tasks import Courier, Task, Workers
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Choices
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle, type_into
from tests.making import document


@pytest.fixture
def caught(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> Iterator[MainWindow]:
    """The window as it runs: what nobody catches goes to its recovery."""
    monkeypatch.setattr(sys, "excepthook", window.recovery.mishap)
    yield window


def faults() -> list[str]:
    return fault_log().read_text("utf-8").splitlines() if fault_log().exists() else []


def broken(*_: object) -> None:
    raise ZeroDivisionError("two\nlines of a fault")


@pytest.mark.parametrize("verb", ["refresh", "draw", "enter", "leave", "status"])
def test_a_station_that_fails_is_begun_again_and_all_the_rest_goes_on(
    qtbot: QtBot, caught: MainWindow, monkeypatch: pytest.MonkeyPatch, verb: str
) -> None:
    window = caught
    window.go("shape")
    settle(qtbot, window)
    old = window.shape
    with monkeypatch.context() as while_it_fails:
        while_it_fails.setattr(old, verb, broken)
        window.bench.edit("hip", lambda d: edits.set_measure(d, "hip", 1003.0, "2026-11-20"))
        settle(qtbot, window)
        window.go("shape")
        window.go("mark")
        qtbot.waitUntil(lambda: window.place("shape") is not old)
    assert (
        window.here == "mark"
        and "Shape" in window.toast.text()
        and "was restarted. Your work is saved" in window.toast.text()
    )
    assert faults() and all("two lines of a fault" in line for line in faults()), "one line each"
    window.go("shape")
    settle(qtbot, window)
    assert isinstance(window.station, ShapeStation) and window.station is window.shape is not old
    assert window.dockets.currentWidget() is window.shape and window.table.view.hand is window.shape.hand
    window.shape.hand.walk("next")
    assert window.shape.hand.selection, "its hand is on the table"
    window.bench.undo()
    settle(qtbot, window)
    assert window.bench.settled() and open_project(window.bench.path).document == window.bench.document  # type: ignore[arg-type]


def test_a_station_that_fails_again_and_again_is_put_away_until_it_is_asked_for(
    qtbot: QtBot, caught: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = caught
    with monkeypatch.context() as while_it_fails:
        while_it_fails.setattr(LayStation, "draw", broken)
        window.go("lay")
        qtbot.waitUntil(lambda: isinstance(window.station, FailedStation))
    assert len(faults()) == MOST + 1 and window.station.name == "Lay"
    with pytest.raises(CaddetError, match="Lay is switched off"):
        _ = window.lay
    window.go("mark")
    window.go("lay")
    settle(qtbot, window)
    again = next(one for one in window.station.findChildren(QPushButton) if one.text() == "Try again")
    QTest.mouseClick(again, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: isinstance(window.station, LayStation))
    settle(qtbot, window)
    window.close()


def test_a_station_that_cannot_even_be_built_leaves_a_window_with_all_the_others(
    qtbot: QtBot, project: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with monkeypatch.context() as while_it_fails:
        while_it_fails.setattr(LayStation, "build", broken)
        window = MainWindow(open_bench(project, None).bench)
    qtbot.addWidget(window)
    window.show()
    settle(qtbot, window)
    assert [type(one) is FailedStation for one in window.places] == [False] * 7 + [True, False]
    window.go("lay")
    again = next(one for one in window.station.findChildren(QPushButton) if one.text() == "Try again")
    QTest.mouseClick(again, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: isinstance(window.station, LayStation))
    window.close()


def test_a_fault_in_the_background_is_one_sentence_and_one_line(qtbot: QtBot, window: MainWindow) -> None:
    said: list[str] = []
    window.bench.run(broken, lambda _: None, lambda error: said.append(str(error)), lambda _: None)
    qtbot.waitUntil(lambda: bool(said))
    assert "went wrong" in said[0] and "\n" not in said[0] and "ZeroDivision" not in said[0]
    assert len(faults()) == 1 and faults()[0].startswith("ZeroDivisionError: two lines of a fault | ")


def test_the_log_of_faults_stays_small_and_a_place_where_none_can_be_is_no_second_fault(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    try:
        broken()
    except ZeroDivisionError as error:
        fault_log().parent.mkdir(parents=True)
        fault_log().write_bytes(b"x" * 99 + b"\n" + b"y" * LARGEST)
        write_fault(error)
        assert fault_log().stat().st_size < LARGEST and faults()[-1] == fault_line(error)
        fault_log().unlink()
        os.mkfifo(fault_log())
        assert write_fault(error) == fault_log()


@pytest.mark.parametrize("unit", ["cm", "in"])
def test_every_page_of_every_station_stands_on_pieces_without_a_block(
    qtbot: QtBot, window: MainWindow, unit: Literal["cm", "in"]
) -> None:
    window.bench.set_unit(unit)
    window.bench.edit("practice", lambda d: practice_document())
    settle(qtbot, window)
    for place in window.places:
        window.go(place.key)
        for choices in place.findChildren(Choices):
            for one in list(choices.buttons.values()):
                if one.isVisible():
                    QTest.mouseClick(one, Qt.MouseButton.LeftButton)
                    settle(qtbot, window)
        assert not faults() and window.station is place, place.key


# --- Measure --------------------------------------------------------------------------------------


def test_rows_built_anew_under_the_focus_leave_the_tape_where_it_is(qtbot: QtBot, window: MainWindow) -> None:
    """Another wearer and undo while a field has the focus: the tape went with the row it had moved to."""
    window.go("measure")
    settle(qtbot, window)
    window.measure.show_measure("hip")
    for _ in range(2):
        names = [person.name for person in window.bench.document.people]
        for name in names:
            window.bench.edit(name, lambda d, n=name: edits.choose_wearer(d, n))  # type: ignore[misc]
            settle(qtbot, window)
            window.measure.list._scope("all" if name == names[0] else "project")
            window.bench.undo()
            settle(qtbot, window)
            QTest.mouseMove(window.measure.list.slider, QPoint(40, 20))
            assert window.measure.list.slider.isVisible() and window.measure.list.panel.parent() is not None
    field = window.measure.rows["hip"][1].edit
    assert field.hasFocus(), "the field that one was at is at hand again"


def test_what_is_being_typed_for_one_is_kept_for_that_one_and_never_for_another(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.go("measure")
    settle(qtbot, window)
    window.measure.show_measure("hip")
    field = window.measure.rows["hip"][1].edit
    field.setText("77.7")
    field.setModified(True)
    first = window.bench.document.wearer
    other = next(one.name for one in window.bench.document.people if one.name != window.bench.document.wearer)
    before = window.bench.document.person_named(other).measures.get("hip")
    window.bench.edit(other, lambda d: edits.choose_wearer(d, other))
    settle(qtbot, window)
    assert window.bench.document.wearer == other
    assert window.bench.document.person_named(other).measures.get("hip") == before
    assert window.bench.document.person_named(first).measures["hip"] == 777.0


# --- Workroom -------------------------------------------------------------------------------------


def test_somebody_of_the_open_project_is_renamed(qtbot: QtBot, window: MainWindow) -> None:
    window.go("workroom")
    settle(qtbot, window)
    name = window.bench.document.wearer
    window.workroom.choose({name})
    type_into(window.workroom.own_name, "Odile of the tower")
    settle(qtbot, window)
    assert window.bench.document.wearer == "Odile of the tower" and not faults()
    window.bench.undo()
    assert window.bench.document.wearer == name


# --- True -----------------------------------------------------------------------------------------


def walking(qtbot: QtBot, window: MainWindow) -> QPoint:
    """True, with the ring on the table; where it is on the screen."""
    window.go("true")
    settle(qtbot, window)
    assert window.true.ring is not None
    return window.table.view.mapFromScene(window.true.ring.pos())


def test_a_ring_that_is_pulled_while_the_table_is_fitted_does_not_pull_itself(qtbot: QtBot, window: MainWindow) -> None:
    at = walking(qtbot, window)
    port = window.table.view.viewport()
    QTest.mousePress(port, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    for number in range(12):
        window.table.forget_fit()  # as after every edit
        QTest.mouseMove(port, at + QPoint(9 * number, 14 * number))
        qtbot.wait(5)
    QTest.mouseRelease(port, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at + QPoint(100, 150))
    assert window.true.ring is not None and not faults()


def test_a_ring_that_is_held_while_its_seam_goes_stays_where_it_is(qtbot: QtBot, window: MainWindow) -> None:
    at = walking(qtbot, window)
    window.true.choose("waistband")
    settle(qtbot, window)
    assert window.true.ring is not None
    at = window.table.view.mapFromScene(window.true.ring.pos())
    port = window.table.view.viewport()
    QTest.mousePress(port, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    with qtbot.captureExceptions() as exceptions:
        for block in ("skirt.circle", "swimsuit"):
            window.bench.edit("other", lambda d, b=block: begin_with(d, Recipe.of(b)))  # type: ignore[misc]
            QTest.mouseMove(port, at + QPoint(5, 9))
            settle(qtbot, window)
            QTest.mouseMove(port, at + QPoint(15, 19))
        window.true.seam = "of another garment"
        window.true._pull_to(3 + 4j)
        window.true.seam, window.true.layer = window.bench.result.pattern.seams[0].name, 9  # type: ignore[union-attr]
        window.true._pull_to(3 + 4j)
        QTest.mouseRelease(port, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    assert not exceptions


def test_limits_of_ease_that_cannot_be_read_are_said_and_the_usual_ones_hold(qtbot: QtBot, window: MainWindow) -> None:
    file = work_folder() / "ease-limits.csv"
    head = "seam,cloth,share,most,where,source\n"
    for text in (
        head + "any,woven," + "9" * 140_000,
        head + "any,woven,nan,3,,\n",
        head + "any,woven,0.1,inf,,\n",
        head + "any\rwoven",
        "",
        "\0",
    ):
        file.write_text(text)
        window.go("true")
        settle(qtbot, window)
        assert not faults() and window.toast.text(), text[:60]
        window.go("mark")


@pytest.mark.parametrize("cell", ["nan", "inf", "-1", "1e9", "", "x", "0.05;"])
def test_a_limit_is_a_number_within_sense(cell: str) -> None:
    with pytest.raises(CaddetError, match="line 2"):
        read_ease_limits(f"seam,cloth,share,most,where,source\nany,woven,{cell},5,here,me\nany,knit,0.1,5,here,me\n")
    assert shipped_limits()["any", "knit"][1] == 15.0


def test_a_data_folder_that_cannot_be_made_is_no_end_of_true(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "file").write_text("")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "file"))
    window.go("true")
    settle(qtbot, window)
    assert isinstance(window.station, TrueStation) and not faults()


# --- Shape ----------------------------------------------------------------------------------------


def test_a_word_typed_into_dart_on_a_garment_without_darts_is_refused_in_a_sentence(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.bench.edit("circle", lambda d: begin_with(d, Recipe.of("skirt.circle")))
    settle(qtbot, window)
    window.go("shape")
    window.shape.begin(STEPS["pivot_dart"])
    settle(qtbot, window)
    fields = window.shape.fields
    assert fields is not None
    with qtbot.captureExceptions() as exceptions:
        type_into(fields.fields["dart"].findChild(QLineEdit), "front.front_dart")  # type: ignore[arg-type]
        settle(qtbot, window)
    assert not exceptions and not faults()


# --- closing --------------------------------------------------------------------------------------


def test_closing_does_not_wait_for_what_is_being_worked_out(qtbot: QtBot, project: Path) -> None:
    courier = Courier()
    workers = Workers(courier, 1)
    heard: list[object] = []

    def stubborn(task: Task) -> None:
        until = time.monotonic() + 20
        while time.monotonic() < until:
            time.sleep(0.01)

    def willing(task: Task) -> None:
        while not task.cancelled:
            time.sleep(0.005)

    one = workers.start(willing, heard.append, heard.append)
    begun = time.monotonic()
    assert workers.close(5.0) and one.cancelled and time.monotonic() - begun < 2
    other = Workers(courier, 1)
    other.start(stubborn, heard.append, heard.append)
    begun = time.monotonic()
    assert not other.close(0.2) and time.monotonic() - begun < 2
    assert other.start(willing, heard.append, heard.append).cancelled, "nothing is begun any more"


def test_a_large_table_of_people_is_stopped_at_once_and_a_grading_too() -> None:
    rows = "name,hip,waist\n" + "".join(f"P{n},98,74\n" for n in range(5000))
    asked: list[int] = []

    def soon() -> bool:
        asked.append(1)
        return len(asked) > 10

    with pytest.raises(Stopped):
        parse_people(rows, stopped=soon)
    assert len(asked) == 11
    with pytest.raises(Stopped):
        derived_rules(document(), shipped_table("women"), stopped=lambda: True)


def test_the_window_closes_while_people_are_taken_in(qtbot: QtBot, tmp_path: Path) -> None:
    path, sheet = tmp_path / "a.caddet", tmp_path / "people.csv"
    save_project(document(), path, no_pictures)
    sheet.write_text("name,hip,waist\n" + "".join(f"P{n},98,74\n" for n in range(6000)))
    window = MainWindow(open_bench(path, None).bench)
    qtbot.addWidget(window)
    window.show()
    window.go("workroom")
    settle(qtbot, window)
    window.workroom.read_csv(sheet)
    qtbot.waitUntil(lambda: bool(window.workroom.report.people), timeout=20_000)
    window.workroom._take_read()
    qtbot.wait(50)
    begun = time.monotonic()
    window.close()
    assert time.monotonic() - begun < 3 and not window.bench.left_behind
    LOOK.set_scale(1.0)
