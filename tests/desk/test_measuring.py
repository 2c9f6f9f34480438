"""Measure and the Workroom in the real window: the guided round by keyboard, the tape, dates, growth, people."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from caddet.core.body.growth import allowance
from caddet.core.body.known import known_measure
from caddet.core.body.measures import MEASURES, USUAL_ROUND
from caddet.core.formats.people_csv import parse_people
from caddet.core.recipe import edits
from caddet.desk.widgets.tape_slider import TapeSlider
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle

BAND = Path(__file__).parents[2] / "src/caddet/data/demo/band.csv"
TAPED = {
    "height": "168", "head": "56", "neck": "36.5", "shoulder": "12.5", "across_back": "35", "bust": "92",
    "upper_bust": "88", "waist": "76", "hip": "98", "nape_to_waist": "41", "shoulder_to_waist_front": "43.5",
    "shoulder_to_bust": "27", "waist_to_hip": "20.5", "waist_to_floor": "105", "body_rise": "27.5", "arm_length": "59",
    "upper_arm": "29",
}  # fmt: skip


def key(widget: QLineEdit, *keys: Qt.Key) -> None:
    for one in keys:
        QTest.keyClick(widget, one)


def pressed(window: MainWindow, words: str) -> None:
    """Press the button with these words in the station that is shown."""
    station = next(place for place in window.places if place.key == window.here)
    found = [b for b in station.findChildren(QAbstractButton) if b.text() == words and b.isVisible()]
    assert found, words
    found[0].click()


def test_somebody_new_is_measured_in_the_round_with_the_keyboard(window: MainWindow, qtbot: QtBot) -> None:
    """22 measures, five skipped, two slips caught and mended with one key each, the rest estimated and marked."""
    bench, station = window.bench, window.measure
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    station._begin_person()
    QTest.keyClicks(station.new_name, "Fenna")
    QTest.keyClick(station.new_name, Qt.Key.Key_Return)
    station.show_page("round")
    station.round.begin("usual")
    field, slips = station.round.field, {"waist": "152", "body_rise": "10 7/8"}
    order = []
    for _ in range(22):
        code = station.round.code
        order.append(code)
        assert field.hasFocus() and field.accessibleName() == MEASURES[code].label
        if code not in TAPED:
            key(field, Qt.Key.Key_PageDown)
            continue
        QTest.keyClicks(field, slips.get(code, TAPED[code]))
        key(field, Qt.Key.Key_Return)
        if code in slips:
            assert station.round.wrong.isVisible() and station.round.code == code, "the slip is seen"
            key(field, Qt.Key.Key_F2)
    assert tuple(order) == USUAL_ROUND and station.round.done
    assert "5 left out" in station.round.said.text()
    person = bench.document.person
    assert person.name == "Fenna" and len(person.measures) == 17
    assert person.measures["waist"] == 760 and person.measures["body_rise"] == pytest.approx(276.2, abs=0.1)
    missing = known_measure(person, "wrist")
    assert missing is not None and missing.guess is not None
    station.show_page("list")
    station.list.scopes.chosen.emit("usual")
    row, wrist = station.rows["wrist"]
    assert "estimate ±" in row.sub.text() and wrist.edit.placeholderText()
    settle(qtbot, window)


def test_what_is_right_all_the_same_takes_a_second_enter(window: MainWindow, qtbot: QtBot) -> None:
    station = window.measure
    window.go("measure")
    station.show_page("round")
    station.round.begin("all")
    while station.round.code != "waist":
        key(station.round.field, Qt.Key.Key_PageDown)
    station.round.field.selectAll()
    QTest.keyClicks(station.round.field, "150")
    key(station.round.field, Qt.Key.Key_Return)
    assert station.round.code == "waist" and station.round.wrong.isVisible()
    key(station.round.field, Qt.Key.Key_Return)
    assert station.round.code != "waist" and window.bench.document.person.sure == {"waist": 1500.0}
    key(station.round.field, Qt.Key.Key_PageUp)
    assert station.round.code == "waist"
    settle(qtbot, window)


def test_nonsense_in_the_round_is_refused_beside_the_field(window: MainWindow, qtbot: QtBot) -> None:
    station = window.measure
    window.go("measure")
    station.show_page("round")
    code, before = station.round.code, window.bench.document
    for typed in ("0", "-4", "tall", "9999", "1/0"):
        station.round.field.selectAll()
        QTest.keyClicks(station.round.field, typed)
        key(station.round.field, Qt.Key.Key_Return)
        assert station.round.code == code and station.round.wrong.isVisible() and station.round.wrong.text()
    assert window.bench.document == before


def test_a_measure_is_read_twice_and_the_middle_counts(window: MainWindow, qtbot: QtBot) -> None:
    station = window.measure
    window.go("measure")
    window.bench.edit("new", lambda d: edits.set_measure(d, "hip", 980.0, "2026-11-20"))
    station.pick("hip")
    station.enter_measure("hip", 982.0)
    station.list._read_again()
    station.enter_measure("hip", 986.0)
    source = window.bench.document.person.set_of("hip")
    assert source is not None and source.readings["hip"] == (982.0, 986.0)
    assert "2 readings" in station.list.readings.text() and window.bench.document.person.measures["hip"] == 984
    settle(qtbot, window)


def test_the_tape_is_dragged_and_nudged(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    window.measure.show_measure("hip")
    slider = window.measure.list.slider
    assert isinstance(slider, TapeSlider) and "hip" in slider.accessibleName()
    before = window.bench.document.person.measures["hip"]
    middle = QPoint(slider.width() // 2, slider.height() // 2)
    QTest.mousePress(slider, Qt.MouseButton.LeftButton, pos=middle)
    QTest.mouseMove(slider, middle - QPoint(60, 0))
    QTest.mouseRelease(slider, Qt.MouseButton.LeftButton, pos=middle - QPoint(60, 0))
    dragged = window.bench.document.person.measures["hip"]
    assert before + 5 < dragged < before + 40
    QTest.keyClick(slider, Qt.Key.Key_Right)
    QTest.keyClick(slider, Qt.Key.Key_Return)
    assert window.bench.document.person.measures["hip"] == pytest.approx(dragged + 1, abs=0.6)
    settle(qtbot, window)


def test_a_linked_tape_sends_wavers_and_breaks_off(window: MainWindow, qtbot: QtBot) -> None:
    said: list[str] = []
    window.bench.said.connect(said.append)
    window.go("measure")
    station = window.measure
    station.show_measure("waist")
    station.open_tape()
    tape = station.device
    assert tape.linked and station.device_window is not None
    tape.extend(761.0)
    assert station.list.slider.mm == 761.0
    tape.press()
    assert window.bench.document.person.measures["waist"] == pytest.approx(761, abs=4)
    kept = window.bench.document
    tape.extend(480.0)
    tape.lose_link()
    assert window.bench.document == kept and "middle of a reading: nothing was taken" in said[-1]
    station.device_window._link()
    tape.charge(10)
    assert "battery is low" in station.device_window.state.text()
    station.show_measure("wrist")
    tape.extend(5000.0)
    tape.press()
    assert window.bench.document == kept and "can't be" in said[-1]
    station.show_page("round")
    code = station.round.code
    tape.extend(MEASURES[code].usual(1680.0))
    tape.press()
    assert code in window.bench.document.person.measures and station.round.code == code
    station.device_window.close()
    assert not tape.linked
    settle(qtbot, window)


def test_a_child_gets_growth(window: MainWindow, qtbot: QtBot) -> None:
    bench, page = window.bench, window.measure.growth
    bench.edit("Juno", lambda d: edits.add_person(d, parse_people(BAND.read_text())[0][6]))
    window.go("measure")
    window.measure.show_page("growth")
    page.months.setValue(12)
    person = bench.document.person
    assert person.name == "Juno" and "November 2027" in page.until.text() and "averages" in page.said.text()
    by_chart = allowance(person, "hip")
    page.school.chosen.emit("inch")
    assert by_chart > 5 and allowance(bench.document.person, "hip") == 25.4
    for wrong in ("2016-13", "2031-01", "1066-01"):
        page.born.selectAll()
        QTest.keyClicks(page.born, wrong)
        QTest.keyClick(page.born, Qt.Key.Key_Return)
        assert page.wrong.isVisible() and bench.document.person.born == "2012-09"
    settle(qtbot, window)
    assert bench.result is not None and any(
        "growth" in words for s in bench.result.sums.values() for words in s.labels.values()
    )


def test_two_dates_are_compared_as_picture_and_table(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    page = window.measure.dates
    window.measure.show_page("dates")
    assert page.chosen == (0, 1) and len(page.items()) == 2 and "7 March 2026" in page.note()
    assert "different clothes" in page.said.text()
    page.date.selectAll()
    QTest.keyClicks(page.date, "1.1.2999")
    QTest.keyClick(page.date, Qt.Key.Key_Return)
    assert "future" in page.wrong.text()
    page.date.selectAll()
    QTest.keyClicks(page.date, "20.11.2026")
    QTest.keyClick(page.date, Qt.Key.Key_Return)
    assert window.bench.document.person.sets[1].date == "2026-11-20"
    page.over.setCurrentText("underwear")
    page._over()
    assert window.bench.document.person.sets[1].over == "underwear"
    pressed(window, "Take this set away")
    assert len(window.bench.document.person.sets) == 1 and len(page.items()) == 1
    settle(qtbot, window)


def test_somebody_starts_from_a_size(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window.go("measure")
    page = window.measure.sizes
    window.measure.show_page("sizes")
    assert page.nearest.text().startswith("Nearest: 92") and page.start_from.currentText().startswith("92")
    pressed(window, "Add a person of this size")
    assert window.bench.document.wearer == "Women 92" and window.bench.document.person.measures["hip"] == 1000
    window.measure.show_page("list")
    assert "not measured" in window.measure.rows["hip"][0].sub.text()
    own = tmp_path / "band.csv"
    own.write_text("size,bust,hip\nringer,104,110\n")
    page.take_table(own)
    assert page.table.name == "band" and page.table.source == "your own table"
    own.write_text("size,shoe\nringer,40\n")
    page.take_table(own)
    assert page.table.name == "band"
    settle(qtbot, window)


def test_the_band_comes_from_a_sheet_and_goes_back(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window.go("workroom")
    room = window.workroom
    room.read_csv(BAND)
    qtbot.waitUntil(room.report.isVisible, timeout=5000)
    assert "8 people read" in room.report.head.text() and room.report.same_choice.isVisible()
    room.report.take_button.click()
    qtbot.waitUntil(lambda: room.task is None and len(room.roster.kept) >= 8, timeout=5000)
    assert {"Merrin", "Juno", "Tolly"} <= set(room.roster.kept)
    room.choose({"Merrin", "Juno"})
    pressed(window, "Sew for them in this project")
    merrin = window.bench.document.person_named("Merrin")
    assert merrin.measures["height"] == 65 * 25.4 and merrin.measures["hip"] == 41.5 * 25.4
    room.copy_cells()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and clipboard.text().startswith("name\t")
    out = tmp_path / "out.csv"
    room.write_csv(out)
    assert {"Merrin", "Juno"} <= {person.name for person in parse_people(out.read_text())[0]}
    clipboard.setText("name\tchest\nA\t90\n")
    said: list[str] = []
    window.bench.said.connect(said.append)
    room.paste()
    qtbot.waitUntil(lambda: bool(said), timeout=5000)
    assert "no column is a measure" in said[-1]
    settle(qtbot, window)


def test_people_are_added_copied_archived_and_brought_back(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    window.go("workroom")
    room = window.workroom
    room.new_name.setText("Nerys")
    room._add()
    room.choose({"Nerys"})
    room.own_note.setPlainText("Stoops a little; likes a loose neck.")
    pressed(window, "Keep the notes")
    from PIL import Image

    picture = tmp_path / "n.png"
    Image.new("RGB", (900, 1200), "grey").save(picture)
    room.take_photo(picture)
    assert room.photo.isVisible() and room.roster.kept["Nerys"].person.photo.endswith(".jpg")
    picture.write_text("no picture")
    said: list[str] = []
    window.bench.said.connect(said.append)
    room.take_photo(picture)
    assert "expected a JPEG or PNG" in said[-1]
    pressed(window, "Copy")
    pressed(window, "Archive")
    assert room.roster.kept["Nerys 2"].archived and not room.roster.kept["Nerys"].archived
    room.shelf.chosen.emit("archived")
    room.choose({"Nerys 2"})
    pressed(window, "Bring back")
    assert not room.roster.kept["Nerys 2"].archived
    assert room.roster.kept["Nerys 2"].person.note.startswith("Stoops")


def test_a_value_keeps_its_sixteenth_through_the_other_unit(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    window.bench.set_unit("in")
    edit = window.measure.rows["hip"][1].edit
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, "36 1/4")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    for _ in range(3):
        window.switch_unit()
    assert edit.text() == "92.1"
    window.switch_unit()
    assert edit.text() == "36 1/4"
    settle(qtbot, window)


def test_every_measure_has_a_name_for_the_reader_and_can_be_tabbed_to(window: MainWindow, qtbot: QtBot) -> None:
    window.go("measure")
    window.measure.list.scopes.chosen.emit("all")
    assert set(window.measure.rows) == set(MEASURES)
    for code, (_, field) in window.measure.rows.items():
        assert field.edit.accessibleName() == MEASURES[code].label and field.edit.accessibleDescription()
        assert field.edit.focusPolicy() & Qt.FocusPolicy.TabFocus
