"""Every station, walked, done in the real window with pointer and keyboard."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QFileDialog, QLineEdit, QPushButton, QSlider
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.formats.project import open_project
from caddet.core.recipe import edits
from caddet.core.recipe.values import Formula, Number
from caddet.desk.table.overlays import FigureChip
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import AmountField
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle, type_into

# what lies on the table at each station, and at no other
SHOWN = {
    "measure": {"FigureItem"},
    "plan": {"GarmentItem"},
    "draft": {"PieceItem", "FigureChip"},
    "shape": {"PieceItem"},
    "true": {"RolledItem", "TouchItem"},
    "grade": {"NestItem"},
    "mark": {"PieceItem"},
    "lay": {"LayItem"},
}


def test_every_station_shows_something_real_at_once(window: MainWindow, qtbot: QtBot) -> None:
    for number, station in enumerate(window.stations, start=1):
        QTest.keyClick(window, Qt.Key(Qt.Key.Key_0 + number), Qt.KeyboardModifier.AltModifier)
        assert window.here == station.key
        if station.key == "lay":
            qtbot.waitUntil(lambda: window.lay.plan is not None, timeout=15000)
        if station.key == "grade":
            qtbot.waitUntil(lambda: window.grade.nest is not None, timeout=15000)
        shown = {type(item).__name__ for item in window.table.scene.items() if item.isVisible()}
        assert SHOWN[station.key] <= shown and not shown & (set.union(*SHOWN.values()) - SHOWN[station.key]), (
            station.key
        )
        assert station.status().words
    assert all(chip.line.holds for chip in window.strip.chips) and len(window.strip.chips) > 10


def test_the_hip_changes_and_figures_and_lay_follow(window: MainWindow, qtbot: QtBot) -> None:
    window.go("lay")
    qtbot.waitUntil(lambda: window.lay.plan is not None and window.lay.task is None, timeout=15000)
    before = window.lay.plan
    window.go("measure")
    type_into(window.measure.rows["hip"][1].edit, "112")
    settle(qtbot, window)
    assert window.bench.document.person.measures["hip"] == 1120
    window.go("draft")
    assert window.draft.rows["front_hip"].value.text() == "29.0"
    assert "116.0" in window.draft.rows["front_hip"].sub.text()
    window.go("lay")
    qtbot.waitUntil(lambda: window.lay.plan is not before and window.lay.task is None, timeout=15000)
    assert window.lay.plan is not None and before is not None
    assert sum(abs(p.outline[0]) for p in window.lay.plan.placed) != sum(abs(p.outline[0]) for p in before.placed)
    assert "m" in window.lay.buy.text()


def test_a_step_is_typed_switched_moved_and_taken_out(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    slips = window.shape.slips
    first, second = (step.id for step in window.bench.document.recipe.steps[:2])
    QTest.mouseClick(slips.slips[first].title, Qt.MouseButton.LeftButton)
    field = next(w for w in window.shape.findChildren(QLineEdit) if w.accessibleName() == "Longer by")
    type_into(field, "5")
    settle(qtbot, window)
    window.shape.hand.settle()
    settle(qtbot, window)
    assert window.bench.document.recipe.steps[0].values["amount"].value == 50.0
    slips.slips[first].tick.click()
    assert window.bench.document.recipe.steps[0].on is False
    settle(qtbot, window)
    slips.slips[first].setFocus()
    QTest.keyClick(slips.slips[first], Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert [s.id for s in window.bench.document.recipe.steps][:2] == [second, first]
    settle(qtbot, window)
    QTest.keyClick(slips.slips[first], Qt.Key.Key_Delete)
    assert len(window.bench.document.recipe.steps) == 2
    for _ in range(4):
        window.bench.undo()
    assert window.bench.document == demo_document()


def test_the_side_seam_is_walked_with_the_slider(window: MainWindow, qtbot: QtBot) -> None:
    window.go("true")
    places = set()
    slider = window.true.slider
    slider.setFocus()
    for _ in range(4):
        QTest.keyClick(slider, Qt.Key.Key_PageUp)
        places.add(round(window.table.own[-1].pos().y(), 1))
    assert len(places) == 4
    for seam in ("centre_back", "waistband"):
        QTest.mouseClick(window.true.rows[seam], Qt.MouseButton.LeftButton)
        assert window.true.seam == seam
        for value in (0, 130, 520, 1000):
            slider.setValue(value)
            assert len(window.table.own) == 3


def test_a_formula_is_overridden_and_taken_back(window: MainWindow, qtbot: QtBot) -> None:
    chip = next(c for c in window.table.overlays if isinstance(c, FigureChip) and c.figure == "hip_depth")
    at = window.table.view.mapFromScene(chip.scenePos())
    QTest.mouseClick(window.table.view.viewport(), Qt.MouseButton.LeftButton, pos=at)
    row = window.draft.rows["hip_depth"]
    assert row.opened
    row.formula.setFocus()
    row.formula.selectAll()
    QTest.keyClicks(row.formula, "waist_to_hip + 1.5cm")
    qtbot.waitUntil(lambda: window.bench.preview_document is not None)
    QTest.keyClick(row.formula, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert row.value.text() == "22.0" and row.mark.text() == "yours" and row.mark.isVisibleTo(row)
    assert window.bench.document.recipe.overrides["hip_depth"] == "waist_to_hip + 1.5cm"
    row.back.click()
    settle(qtbot, window)
    assert "hip_depth" not in window.bench.document.recipe.overrides and row.value.text() == "20.5"


def test_a_bad_formula_says_where_and_changes_nothing(window: MainWindow, qtbot: QtBot) -> None:
    before = window.bench.document
    window.draft.open_figure("front_hip")
    row = window.draft.rows["front_hip"]
    for text, words in (("hip_round / ", "stops short"), ("hip_round + 3", "unit"), ("front_waist", "yet")):
        type_into(row.formula, text)
        settle(qtbot, window)
        if words == "stops short":
            assert window.bench.document == before
        assert words in row.wrong.text()


def test_lengths_that_cannot_be_read_are_refused_beside_the_field(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    field = window.measure.rows["waist"][1]
    before = window.bench.document
    for text in ("abc", "-4", "9999", "0"):
        type_into(field.edit, text)
        assert field.wrong.isVisibleTo(field) and field.wrong.text().endswith(".")
        assert window.bench.document == before
    QTest.keyClick(field.edit, Qt.Key.Key_Escape)
    assert field.edit.text() == "75.0" and not field.wrong.isVisibleTo(field)
    type_into(field.edit, "130")
    settle(qtbot, window)
    assert "larger than the hip" in window.measure.rows["hip"][0].sub.text()


def test_inches_everywhere_and_back_without_drift(window: MainWindow, qtbot: QtBot) -> None:
    QTest.keyClick(window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    window.go("measure")
    field = window.measure.rows["hip"][1]
    type_into(field.edit, "36 1/4")
    settle(qtbot, window)
    window.switch_unit()
    assert field.edit.text() == "92.1"
    window.switch_unit()
    assert field.edit.text() == "36 1/4"
    window.go("draft")
    assert any("/" in c.words for c in window.table.overlays if isinstance(c, FigureChip))


def test_proof_offers_remedies_that_work(window: MainWindow, qtbot: QtBot) -> None:
    window.bench.edit("long", lambda d: edits.set_option(d, "length", 950.0))
    window.bench.edit("no slit", lambda d: edits.set_step(d, 2, None))
    window.bench.edit("no flare", lambda d: edits.set_step(d, 1, None))
    settle(qtbot, window)
    worst = window.strip.chips[0]
    assert worst.line.name == "stride" and worst.line.verdict == "fails"
    menu = window.strip.menu_of(worst)
    remedy = next(a for a in menu.actions() if a.text().startswith("Remedy: Open a slit"))
    remedy.trigger()
    settle(qtbot, window)
    assert all(chip.line.holds for chip in window.strip.chips)
    place = next(a for a in window.strip.menu_of(window.strip.chips[0]).actions() if "place" in a.text())
    place.trigger()


def test_the_finder_finds_steps_figures_pieces_and_people(window: MainWindow, qtbot: QtBot) -> None:
    for query, check in (
        ("true", lambda: window.here == "true"),
        ("wren", lambda: window.bench.document.wearer == "Wren"),
        ("zip opening", lambda: window.here == "draft" and window.draft.rows["zip_length"].opened),
        (
            "flare a seam",
            lambda: (
                window.here == "shape"
                and window.shape.hand.gesture is not None
                and window.shape.hand.gesture.step.kind == "flare"
            ),
        ),
        (
            "make it longer",
            lambda: window.shape.hand.gesture is not None and window.shape.hand.gesture.step.kind == "lengthen",
        ),
        ("waistband on", lambda: window.here == "true" and window.true.seam == "waistband"),
        ("inches", lambda: window.bench.unit == "in"),
    ):
        QTest.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        assert window.finder.isVisible()
        QTest.keyClicks(window.finder.field, query)
        QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
        settle(qtbot, window)
        qtbot.waitUntil(check, timeout=3000)  # a step waits until the one in hand is kept and made
    QTest.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(window.finder.field, "zzzz")
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    QTest.keyClick(window.finder.field, Qt.Key.Key_Escape)
    assert not window.finder.isVisible()


def test_undo_goes_to_the_start_and_redo_comes_back(window: MainWindow, qtbot: QtBot) -> None:
    start = window.bench.document
    for hip in (990.0, 1000.0, 1010.0):
        window.bench.edit("hip", lambda d, h=hip: edits.set_measure(d, "hip", h))  # type: ignore[misc]
    end = window.bench.document
    for _ in range(5):
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.bench.document == start
    for _ in range(5):
        QTest.keyClick(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert window.bench.document == end


def test_print_to_pdf_and_export(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.go("mark")
    for name, head in (("a.pdf", b"%PDF"), ("b", b"%PDF"), ("c.svg", b"<svg")):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, n=name: (str(tmp_path / n), ""))
        window.mark.ask_pdf()
        qtbot.waitUntil(lambda: window.mark.task is None, timeout=15000)
        file = tmp_path / (name if "." in name else name + ".pdf")
        assert file.read_bytes().startswith(head)
        if head == b"%PDF":
            words = " ".join(page.extract_text() for page in PdfReader(file).pages)
            assert all(piece in words for piece in ("Front", "Back", "Waistband")), "every piece is on the paper"
            pages = len(PdfReader(file).pages)
            assert pages > 8, "a skirt is larger than a handful of sheets"
        else:
            assert file.read_text().count("<path") >= 6, "a stitch line and a cut line for each piece"
    window.mark.write(tmp_path / "nowhere" / "x.pdf")
    qtbot.waitUntil(lambda: window.mark.task is None, timeout=15000)
    assert "no folder" in window.toast.text()
    window.mark.write(tmp_path / "stopped.pdf")
    window.mark._stop()
    qtbot.waitUntil(lambda: window.mark.task is None, timeout=15000)


def test_an_amount_of_a_step_may_be_typed_as_a_formula_and_shows_it(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    key = window.bench.document.recipe.steps[0].id

    def kept() -> object:
        return window.bench.history.document.recipe.steps[0].values["amount"]

    window.shape.open_step(key)
    field = next(f for f in window.shape.findChildren(AmountField) if f.edit.accessibleName() == "Longer by")
    type_into(field.edit, "hip / 20")
    settle(qtbot, window)
    assert field.edit.text() == "4.9" and field.note.text() == "= hip / 20" and field.note.isVisibleTo(field)
    assert kept() != Formula(text="hip / 20"), "not kept yet"
    window.shape.hand.settle()
    assert kept() == Formula(text="hip / 20")
    settle(qtbot, window)
    window.shape.open_step(key)
    field = next(f for f in window.shape.findChildren(AmountField) if f.edit.accessibleName() == "Longer by")
    assert field.note.text() == "= hip / 20", "taken up again with its formula"
    type_into(field.edit, "hip /")
    assert field.wrong.isVisibleTo(field)
    type_into(field.edit, "3")
    window.shape.hand.settle()
    settle(qtbot, window)
    assert kept() == Number(value=30.0)


def test_allowances_are_changed_for_all_and_for_one_edge(window: MainWindow, qtbot: QtBot) -> None:
    window.go("mark")
    type_into(window.mark.usual["hem"].field.edit, "5")
    type_into(window.mark._edges["front.side"].edit, "2")
    settle(qtbot, window)
    assert window.bench.document.finishing.hem == 50 and window.bench.document.finishing.exceptions["front.side"] == 20
    type_into(window.mark.usual["hem"].field.edit, "99")
    assert window.bench.document.finishing.hem == 50 and "Hem: expected at most 15.0 cm" in window.toast.text()


def test_light_evening_and_large_text(window: MainWindow, qtbot: QtBot) -> None:
    day = LOOK.name("paper")
    QTest.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    assert LOOK.evening and LOOK.name("paper") != day
    LOOK.set_scale(1.5)
    for station in window.stations:
        window.go(station.key)
        qtbot.wait(20)
        assert window.docket.width() <= window.width() / 2
    assert LOOK.font(8).pixelSize() >= 11


def test_every_field_and_button_has_a_name_and_can_be_focused(window: MainWindow, qtbot: QtBot) -> None:
    for station in window.stations:
        window.go(station.key)
        qtbot.wait(20)
        for kind in (QLineEdit, QComboBox, QSlider, QAbstractButton):
            for widget in window.findChildren(kind):
                if widget.isVisible() and widget.isEnabled():
                    named = widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton) else "")
                    if widget.parent() is not None and widget.parent().metaObject().className().startswith("QComboBox"):
                        continue
                    assert named, f"{station.key}: {widget}"
                    if isinstance(widget, QPushButton):
                        assert widget.focusPolicy() != Qt.FocusPolicy.NoFocus


def test_people_are_added_and_missing_measures_asked_for(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    window.measure._begin_person()
    type_into(window.measure.new_name, "Fenna")
    settle(qtbot, window)
    assert (
        window.bench.document.wearer == "Fenna"
        and window.bench.result is not None
        and window.bench.result.pattern is None
    )
    assert window.strip.chips[0].line.verdict == "fails"
    for code, text in (("waist", "70"), ("hip", "95"), ("height", "165")):
        type_into(window.measure.rows[code][1].edit, text)
    settle(qtbot, window)
    assert window.bench.result.pattern is not None
    assert "estimate" in window.measure.rows["waist_to_hip"][0].sub.text()
    window.measure._begin_person()
    type_into(window.measure.new_name, "Odile")
    assert "already" in window.toast.text()


def test_projects_new_copy_open_and_what_cannot_be_opened(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window.projects.copy_to(tmp_path / "copy.caddet")
    assert window.bench.path == tmp_path / "copy.caddet"
    window.projects.new_at(tmp_path / "fresh.caddet")
    settle(qtbot, window)
    assert window.bench.document.title == "fresh"
    (tmp_path / "bad.caddet").write_bytes(b"no")
    window.projects.open_path(tmp_path / "bad.caddet")
    assert window.bench.document.title == "fresh" and "bad.caddet" in window.toast.text()
    window.projects.open_path(tmp_path / "copy.caddet")
    settle(qtbot, window)
    assert window.bench.document.title == "Ringing skirt"
    window.projects.demo_anew()


def test_a_full_disk_is_said_and_nothing_is_lost(
    window: MainWindow, qtbot: QtBot, project: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = project.read_bytes()

    def full(handle: int) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr(os, "fsync", full)
        with qtbot.waitSignal(window.bench.saved):
            window.bench.edit("hip", lambda d: edits.set_measure(d, "hip", 1000.0))
        qtbot.waitUntil(lambda: "disk is full" in window.toast.text())
    assert project.read_bytes() == before and "not saved" in window.header.state.text()
    with qtbot.waitSignal(window.bench.saved):
        window.bench.edit("hip", lambda d: edits.set_measure(d, "hip", 1001.0))
    assert open_project(project).document.person.measures["hip"] == 1001.0
