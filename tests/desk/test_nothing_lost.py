"""In the real window: full disks, files changed elsewhere, second windows, bad files, and what is fine by the user."""

from __future__ import annotations

import copy
import io
import json
import shutil
import zipfile
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.files.writing import previous_of
from caddet.core.formats import keeping
from caddet.core.formats.journal import journal_path
from caddet.core.formats.keeping import Hold
from caddet.core.formats.older_journal import older_journal_path
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.formats.written import raw_of
from caddet.core.recipe import edits
from caddet.core.recipe.document import BlockSource, Document, PiecesSource, Recipe
from caddet.core.recipe.planning import begin_with
from caddet.desk.app import open_bench
from caddet.desk.places import demo_path
from caddet.desk.proof_strip import ReasonBox
from caddet.desk.table.tapes import Tape
from caddet.desk.widgets.questions import Question
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle
from tests.making import DATA, counted
from tests.share import share
from tests.soak.editing import ODD_STEP, SQUARE


@pytest.fixture
def full(monkeypatch: pytest.MonkeyPatch, project: Path) -> Iterator[Callable[[bool], None]]:
    """Fill the disk that the project is on, and free it again; other disks have room."""
    real = keeping.write_whole

    def refuse(path: Path, data: bytes, **ways: bool) -> None:
        if path == project:
            raise InputError("the disk is full; nothing was written, the file is as it was.", str(path))
        real(path, data, **ways)

    def turn(on: bool) -> None:
        monkeypatch.setattr(keeping, "write_whole", refuse if on else real)

    yield turn
    turn(False)


def answer(words: str, heard: list[str] | None = None) -> None:
    """Press the button with these words in the next question."""

    def press() -> None:
        box = QApplication.activeModalWidget()
        if not isinstance(box, Question):
            QTimer.singleShot(50, press)  # not there yet
            return
        if heard is not None:
            heard.append(box.words)
        button = next(b for b in box.buttons.values() if words in b.text())
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)

    QTimer.singleShot(50, press)


def _hip(window: MainWindow, hip: float) -> None:
    window.bench.edit("hip", lambda d: edits.set_measure(d, "hip", hip))


def _saved_hip(path: Path) -> float:
    return open_project(path).document.person.measures["hip"]


def _kept(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.bench._saving is None)
    qtbot.wait(10)


# --- full disks -----------------------------------------------------------------------------------


def test_the_strip_says_not_saved_as_long_as_it_is_so(
    window: MainWindow, qtbot: QtBot, project: Path, full: Callable[[bool], None]
) -> None:
    full(True)
    _hip(window, 1001.0)
    _kept(qtbot, window)
    assert window.strip.unsaved.isVisible() and "full" in window.strip.unsaved.toolTip()
    window._toast_timer.stop()
    _hip(window, 1002.0)
    _kept(qtbot, window)
    assert window.strip.unsaved.isVisible()
    full(False)
    QTest.mouseClick(window.strip.unsaved, Qt.MouseButton.LeftButton)
    assert not window.strip.unsaved.isVisible() and _saved_hip(project) == 1002.0
    again = open_bench(project, None).bench
    assert again.read_only, "the first window still has it"
    again.close()


def test_closing_tries_again_and_asks_before_anything_is_lost(
    window: MainWindow,
    qtbot: QtBot,
    project: Path,
    full: Callable[[bool], None],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    full(True)
    _hip(window, 1003.0)
    _kept(qtbot, window)
    heard: list[str] = []
    answer("Stay here", heard)
    assert not window.close() and window.isVisible() and "not saved" in heard[0] and "disk is full" in heard[0]
    elsewhere = tmp_path / "elsewhere.caddet"
    monkeypatch.setattr("caddet.desk.projects.QFileDialog.getSaveFileName", lambda *_: (str(elsewhere), ""))

    answer("Keep a copy")
    assert window.close() and _saved_hip(elsewhere) == 1003.0
    full(False)
    bench = open_bench(elsewhere, None).bench
    qtbot.waitUntil(lambda: not bench.reading_past)
    bench.undo()
    assert bench.document == demo_document(), "the copy has its undo"
    bench.close()


def test_what_is_given_up_is_given_up_only_by_the_user(
    window: MainWindow, qtbot: QtBot, project: Path, full: Callable[[bool], None]
) -> None:
    before = _saved_hip(project)
    full(True)
    _hip(window, 1004.0)
    _kept(qtbot, window)
    answer("Go on without them")
    assert window.close()
    full(False)
    assert _saved_hip(project) == before


def test_another_project_is_not_opened_over_unsaved_edits(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, full: Callable[[bool], None]
) -> None:
    other = tmp_path / "other.caddet"
    save_project(demo_document().model_copy(update={"title": "Other"}), other, no_pictures)
    full(True)
    _hip(window, 1005.0)
    _kept(qtbot, window)
    for leave in (
        lambda: window.projects.open_path(other),
        lambda: window.projects.new_at(tmp_path / "new.caddet"),
        window.projects.demo_anew,
    ):
        answer("Stay here")
        leave()
        assert window.bench.document.person.measures["hip"] == 1005.0
    full(False)
    window.projects.open_path(other)
    assert window.bench.document.title == "Other"


def test_the_last_edit_is_there_when_the_window_closes_at_once(window: MainWindow, project: Path) -> None:
    for hip in range(1010, 1020):
        _hip(window, float(hip))
    window.close()
    assert _saved_hip(project) == 1019.0


# --- two programs on one file ---------------------------------------------------------------------


@pytest.mark.parametrize("way", ["Go on with mine", "Go on with the other", "Decide later"])
def test_a_file_changed_elsewhere_is_shown_with_its_difference_and_both_are_kept(
    window: MainWindow, qtbot: QtBot, project: Path, way: str
) -> None:
    theirs = edits.set_measure(demo_document(), "hip", 1111.0)
    save_project(theirs, project, no_pictures)
    heard: list[str] = []
    answer(way, heard)
    _hip(window, 1007.0)
    qtbot.waitUntil(lambda: bool(heard), timeout=5000)
    qtbot.waitUntil(lambda: not window.projects.asking)
    assert "hip girth: 100.7 cm here, 111.1 cm there" in heard[0].lower().replace("odile, ", "")
    if way == "Decide later":
        assert _saved_hip(project) == 1111.0 and window.strip.unsaved.isVisible()
        answer("Go on with mine")
        window.strip.unsaved.click()
    qtbot.waitUntil(lambda: not window.bench.unsaved and not window.bench.reading_past)
    hips = {_saved_hip(path) for path in project.parent.glob("*.caddet")}
    assert hips == {1007.0, 1111.0}
    assert _saved_hip(project) == (1111.0 if "other" in way else 1007.0)
    if "other" not in way:
        window.bench.undo()
        assert window.bench.document == demo_document()


def test_closing_with_two_versions_asks_once_and_keeps_both(window: MainWindow, qtbot: QtBot, project: Path) -> None:
    save_project(edits.set_measure(demo_document(), "hip", 1111.0), project, no_pictures)
    heard: list[str] = []
    answer("Decide later", heard)
    _hip(window, 1007.0)
    qtbot.waitUntil(lambda: bool(heard) and not window.projects.asking, timeout=5000)
    answer("Go on with mine", heard)
    assert window.close() and len(heard) == 2
    assert _saved_hip(project) == 1007.0
    assert {_saved_hip(path) for path in project.parent.glob("*.caddet")} == {1007.0, 1111.0}


def test_a_second_window_reads_only_says_why_and_asks_on_leaving(qtbot: QtBot, project: Path) -> None:
    hold = Hold(project)
    begun = open_bench(project, None)
    bench, opened = begun.bench, begun.opened
    window = MainWindow(bench)
    qtbot.addWidget(window)
    window.show()
    window.projects.tell_of(opened, project)
    settle(qtbot, window)
    assert bench.read_only and "another window" in window.toast.text() and "read only" in window.header.state.text()
    before = project.read_bytes()
    _hip(window, 1008.0)
    heard: list[str] = []
    answer("Stay here", heard)
    assert not window.close() and "another window" in heard[0]
    answer("Go on without them")
    assert window.close() and project.read_bytes() == before
    hold.release()


# --- opening --------------------------------------------------------------------------------------


def test_undo_asked_for_before_the_past_is_read_is_done_when_it_is_there(qtbot: QtBot, project: Path) -> None:
    bench = open_bench(project, None).bench
    qtbot.waitUntil(lambda: not bench.reading_past)
    for hip in (1001.0, 1002.0):
        bench.edit("hip", lambda d, h=hip: edits.set_measure(d, "hip", h))  # type: ignore[misc]
    bench.close()
    again = open_bench(project, None).bench
    assert again.reading_past
    again.undo()
    qtbot.waitUntil(lambda: not again.reading_past)
    assert again.document.person.measures["hip"] == 1001.0
    again.close()
    third = open_bench(project, None).bench
    third.edit("waist", lambda d: edits.set_measure(d, "waist", 700.0))
    assert third.reading_past
    qtbot.waitUntil(lambda: not third.reading_past)
    deeds = []
    while third.history.undo_deed is not None:
        deeds.append(third.history.undo_deed)
        third.undo()
    assert third.document == demo_document() and deeds == ["waist", "hip"]
    third.close()


def test_a_project_of_an_older_version_opens_with_its_undo(qtbot: QtBot, tmp_path: Path) -> None:
    old = DATA / "older" / "v2"
    path = tmp_path / "skirt.caddet"
    shutil.copy(old / "skirt.caddet", path)
    older_journal_path(path).parent.mkdir(parents=True)
    shutil.copy(old / "skirt.caddet.journal", older_journal_path(path))
    begun = open_bench(path, None)
    bench, opened = begun.bench, begun.opened
    window = MainWindow(bench)
    qtbot.addWidget(window)
    window.show()
    settle(qtbot, window)
    assert opened.whole and bench.history.undo_deed == "Photo"
    assert bench.picture(bench.document.person.photo) is not None
    while bench.history.undo_deed is not None:
        bench.undo()
    settle(qtbot, window)
    assert [s.kind for s in bench.document.recipe.steps] == ["lengthen", "flare", "slit"]
    window.go("shape")
    assert journal_path(path).exists()
    window.close()
    assert open_project(path).document.photo_files() == frozenset()


def test_an_edit_whose_save_was_cut_off_is_told_and_can_be_done_again(
    qtbot: QtBot, project: Path, full: Callable[[bool], None]
) -> None:
    bench = open_bench(project, None).bench
    qtbot.waitUntil(lambda: not bench.reading_past)
    full(True)
    bench.edit("Hip", lambda d: edits.set_measure(d, "hip", 1001.0))
    bench.close()
    full(False)
    again = open_bench(project, None).bench
    said: list[str] = []
    again.said.connect(said.append)
    qtbot.waitUntil(lambda: not again.reading_past)
    assert any("“Hip” was not saved" in words for words in said)
    again.redo()
    assert again.document.person.measures["hip"] == 1001.0
    again.close()


def _two_blocks() -> Document:
    two = edits.add_source(demo_document(), BlockSource(block="trousers.tailored"))
    return edits.add_source(two, PiecesSource(label="Pocket", pieces=(SQUARE,), after="s3"))


@pytest.mark.parametrize(
    "document",
    [
        _two_blocks(),
        demo_document().model_copy(update={"recipe": Recipe()}),
        edits.add_step(demo_document(), ODD_STEP),
        begin_with(demo_document(), Recipe(sources=(PiecesSource(pieces=(SQUARE,)),), next_id=2)),
    ],
    ids=["two blocks", "nothing", "odd step", "outlines only"],
)
def test_every_station_stands_on_any_document_of_the_schema(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, document: Document
) -> None:
    path = tmp_path / "any.caddet"
    save_project(document, path, no_pictures)
    window.projects.open_path(path)
    settle(qtbot, window)
    assert window.bench.document == document
    for place in window.places:
        window.go(place.key)
        qtbot.wait(30)
    window.go("draft")
    window.bench.edit("hip", lambda d: edits.set_measure(d, "hip", 1001.0))
    window.bench.edit("option", lambda d: edits.set_option(d, "length", 500.0))
    settle(qtbot, window)
    window.go("shape")
    assert window.bench.result is not None
    names = [piece.name for piece in window.bench.result.pattern.pieces] if window.bench.result.pattern else []
    assert set(window.table.pieces) >= set(names)


def _packed(raw: object) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("document.json", raw if isinstance(raw, str) else json.dumps(raw))
    return buffer.getvalue()


@cache
def _bad_files() -> dict[str, bytes]:
    def hurt(change: Callable[[dict[str, Any]], object]) -> bytes:
        raw = copy.deepcopy(raw_of(demo_document()))
        change(raw)
        return _packed(raw)

    text = json.dumps(raw_of(demo_document()))
    return {
        "not a number": _packed(text.replace("580.0", "NaN")), "without end": _packed(text.replace("580.0", "9" * 5000)),
        "not a zip": b"x" * 50, "nothing": b"", "newer": hurt(lambda r: r.update(schema_version=5)), "list": _packed("[]"),
        "far away": hurt(lambda r: r["table"].update(front={"x": 1e7, "y": 0.0})), "no people": hurt(lambda r: r.update(people=[])),
        "unknown block": hurt(lambda r: r["recipe"]["sources"][0].update(block="hat")),
        "one id twice": hurt(lambda r: r["recipe"]["steps"][1].update(id="s2")),
        "endless formula": hurt(lambda r: r["recipe"]["sources"][0]["overrides"].update(front_dart="floor(" + "9" * 400 + ")")),
        "wrong kinds": hurt(lambda r: r["recipe"]["steps"][0]["values"].update(amount={"kind": "seam", "refs": ["s9.seam"]})),
        "2000 steps": hurt(lambda r: r["recipe"].update(next_id=9000, steps=[{"id": f"s{n + 2}", "kind": "odd"} for n in range(2000)])),
        "later steps": hurt(lambda r: r["recipe"]["steps"][0]["values"].update(piece={"kind": "pieces", "refs": ["s3.cut"]})),
    }  # fmt: skip


@pytest.mark.parametrize("name", share(sorted(_bad_files()), 2))
def test_the_window_says_something_a_maker_understands_of_every_bad_file(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, name: str
) -> None:
    path = tmp_path / f"{name}.caddet"
    path.write_bytes(_bad_files()[name])
    before = window.bench.path
    window.toast.setText("")
    window.projects.open_path(path)
    settle(qtbot, window)
    opened = window.bench.path == path
    finding = any(not line.holds for line in window.bench.result.proof) if window.bench.result else False
    assert window.toast.text() or finding
    assert opened or window.bench.path == before
    for words in (window.toast.text(), *(line.sentence for line in window.bench.result.proof)):  # type: ignore[union-attr]
        assert "Traceback" not in words and "Error" not in words and "pydantic" not in words
    if opened and window.toast.text():
        assert window.projects.set_aside.list.toPlainText()
        assert [p for p in tmp_path.iterdir() if "set-aside" in p.name]
        window.projects.set_aside.close()
    for station in window.stations:
        window.go(station.key)
        qtbot.wait(1)


def test_a_damaged_project_is_only_read_where_what_was_set_aside_cannot_be_kept(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "far.caddet"
    path.write_bytes(_bad_files()["far away"])

    def full(*_: object, **__: object) -> None:
        raise InputError("the disk is full")

    monkeypatch.setattr("caddet.core.formats.project.write_whole", full)
    bench = open_bench(path, None).bench
    qtbot.waitUntil(lambda: not bench.reading_past)
    assert bench.read_only and "kept beside" in bench.read_only_why
    before = path.read_bytes()
    bench.edit("hip", lambda d: edits.set_measure(d, "hip", 1001.0))
    bench.close()
    assert path.read_bytes() == before


def test_the_demo_begun_anew_keeps_the_one_before(window: MainWindow, qtbot: QtBot) -> None:
    window.projects.demo_anew()
    settle(qtbot, window)
    _hip(window, 1009.0)
    _kept(qtbot, window)
    window.projects.demo_anew()
    settle(qtbot, window)
    assert window.bench.document == demo_document() and _saved_hip(previous_of(demo_path())) == 1009.0
    window.bench.redo()
    assert window.bench.document.person.measures["hip"] == 1009.0, "even beginning anew can be taken back"


def test_drawing_is_bounded_however_far_away_things_are(window: MainWindow, qtbot: QtBot) -> None:
    view = window.table.view
    view.resetTransform()
    view.scale(0.0005, 0.0005)  # a sheet of two kilometres across
    for tape in window.findChildren(Tape):
        _, calls = counted(tape.grab)
        assert calls < 20_000
    _, calls = counted(view.grab)
    assert calls < 20_000
    view.show_all(QRectF(-1e7, -1e7, 2e7, 2e7))
    window.table.fit()


# --- fine by me -----------------------------------------------------------------------------------


def test_a_failing_check_is_accepted_with_a_reason_and_opened_again(window: MainWindow, qtbot: QtBot) -> None:
    window.bench.edit("Longer", lambda d: edits.set_step(edits.set_option(d, "length", 900.0), 2, None))
    settle(qtbot, window)
    chip = window.strip.chips[0]
    assert chip.line.name == "stride" and chip.line.fails
    menu = window.strip.menu_of(chip)
    window.strip.show_proof(window.bench.result.proof[:1], window.bench.unit)  # type: ignore[union-attr]
    QTest.qWait(10)  # the chip goes while its menu is open, as it does with the list of those that had no room
    next(one for one in menu.actions() if one.text() == "Fine by me…").trigger()
    box = next(one for one in window.strip.findChildren(ReasonBox))
    QTest.keyClick(box.reason, Qt.Key.Key_Return)
    assert box.isVisible(), "a reason is needed"
    QTest.keyClicks(box.reason, "she takes small steps")
    QTest.keyClick(box.reason, Qt.Key.Key_Return)
    settle(qtbot, window)
    chip = next(c for c in window.strip.chips if c.line.name == "stride")
    assert chip.line.accepted == "she takes small steps" and chip.figure == "fine by you"
    assert "1 fine by you" in window.strip.summary.text() and "accepted" in chip.accessibleName()
    again = next(a for a in window.strip.menu_of(chip).actions() if "Look at it again" in a.text())
    again.trigger()
    settle(qtbot, window)
    assert window.strip.chips[0].line.fails and not window.bench.document.accepted
