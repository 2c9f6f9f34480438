"""As a new user: a wrong pair is found, walked and mended; a smock is graded, a rule pulled; a design made for Wren."""

from __future__ import annotations

import itertools
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.core.designs import design_named, made_mine
from caddet.core.formats.project import open_project
from caddet.core.geometry.segments import cross
from caddet.core.grading.sizes import redrafted
from caddet.core.recipe import edits
from caddet.core.recipe.document import Recipe
from caddet.core.truing.joins import hollow, joins
from caddet.core.truing.walk import walk
from caddet.desk.stations.grading.nest_item import RING, CornerRing, NestItem, name_boxes
from caddet.desk.stations.truing.lines import laid_together
from caddet.desk.stations.truing.remedy_button import RemedyButton
from caddet.desk.stations.truing.walk_items import RolledItem, TouchItem
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle, type_into
from tests.desk.pointer import drag
from tests.making import document


def graded(window: MainWindow, qtbot: QtBot) -> None:
    """Wait until the sizes are there."""
    settle(qtbot, window)
    qtbot.waitUntil(
        lambda: window.grade.task is None and (window.grade.nest is not None or bool(window.grade.wrong.text())),
        timeout=20000,
    )
    qtbot.wait(20)


def smock(window: MainWindow, qtbot: QtBot, **choices: object) -> None:
    window.bench.edit("Smock", lambda d: made_mine(d, design_named("smock")))
    window.bench.edit("Sizes", lambda d: edits.set_grading(d, **choices))
    window.go("grade")
    graded(window, qtbot)


@pytest.fixture
def practice(window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> MainWindow:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    window.projects.practise()
    settle(qtbot, window)
    return window


# --- True -----------------------------------------------------------------------------------------


def test_the_wrong_pair_is_walked_mended_and_passes(practice: MainWindow, qtbot: QtBot) -> None:
    window, station = practice, practice.true
    assert window.here == "true" and "to look at" in station.verdict.text()
    assert next(iter(station.rows)) == "side", "the worst stands first"
    station.choose("side")
    settle(qtbot, window)
    assert station.chart.walked is not None and abs(station.chart.walked.off) > 7
    station.slider.setFocus()
    QTest.keyClick(station.slider, Qt.Key.Key_End)
    ends = [item for item in window.table.own if isinstance(item, RolledItem)]
    assert len(ends) == 2
    for _ in range(6):
        rest = [line for line in window.bench.result.proof if not line.holds]  # type: ignore[union-attr]
        if not rest:
            break
        station.choose("side")
        settle(qtbot, window)
        buttons = station.findChildren(RemedyButton)
        if buttons and rest[0].kind == "seam":
            QTest.mouseClick(buttons[0], Qt.MouseButton.LeftButton)
        else:
            window.strip.remedy.emit(rest[0].remedies[0])
        settle(qtbot, window)
    assert not [line.name for line in window.bench.result.proof if not line.holds]  # type: ignore[union-attr]
    assert station.verdict.text() == "All meet." and station.status().left == 0
    window.bench.undo()
    settle(qtbot, window)
    assert station.status().left > 0


def test_a_remedy_is_shown_before_it_is_done(practice: MainWindow, qtbot: QtBot) -> None:
    window, station = practice, practice.true
    station.choose("side")
    settle(qtbot, window)
    button = station.findChildren(RemedyButton)[0]
    before = window.bench.history.document
    button.setFocus(Qt.FocusReason.TabFocusReason)
    qtbot.waitUntil(lambda: window.bench.preview_document is not None and not window.bench.busy, timeout=3000)
    pattern = window.bench.result.pattern  # type: ignore[union-attr]
    assert pattern is not None and walk(pattern, pattern.seam("side")).holds
    assert window.bench.history.document == before, "nothing is kept"
    station.slider.setFocus()
    settle(qtbot, window)
    assert window.bench.preview_document is None


def test_a_walk_plays_to_its_end_and_stops(window: MainWindow, qtbot: QtBot) -> None:
    window.go("true")
    settle(qtbot, window)
    station = window.true
    station.slider.setValue(900)
    QTest.mouseClick(station.play_button, Qt.MouseButton.LeftButton)
    assert station.play_button.text() == "Stop"
    qtbot.waitUntil(lambda: station.slider.value() == 1000 and station.play_button.text() == "Play", timeout=3000)


def test_lines_are_laid_together_and_hems_turned_up(window: MainWindow, qtbot: QtBot) -> None:
    window.go("true")
    settle(qtbot, window)
    station = window.true
    station.show_page("lines")
    assert station.verdict.text() == "Every line runs on."
    for key in list(station.rows):
        station.choose_line(key)
        assert len(window.table.own) >= 3, key
    station.show_page("folds")
    for name in [fold.name for fold in station.folds()]:
        station.choose_fold(name)
        station.slider.setValue(0)
        before = [item.sceneBoundingRect() for item in window.table.own]
        station.slider.setValue(1000)
        assert [item.sceneBoundingRect() for item in window.table.own] != before, f"{name} folds"


def test_a_hem_that_ripples_is_told_and_turned_less(window: MainWindow, qtbot: QtBot) -> None:
    from caddet.core.recipe.document import Recipe
    from caddet.core.recipe.planning import begin_with

    window.bench.edit("Circle", lambda d: begin_with(d, Recipe.of("skirt.circle")))
    settle(qtbot, window)
    hem = next(e.name for p in window.bench.result.pattern.pieces for e in p.edges if e.finish == "hem")  # type: ignore[union-attr]
    window.bench.edit("Deep hem", lambda d: edits.set_allowance(d, hem, 60.0))
    window.go("true")
    window.true.show_page("folds")
    settle(qtbot, window)
    fold = next(one for one in window.true.folds() if one.hem)
    excess, flat = window.true._hem(fold)
    assert excess > 0.03 and "ripples" in window.true.rows[fold.name].sub.text()
    window.true._turn(fold.name, flat * 0.9)
    settle(qtbot, window)
    assert "lies flat" in window.true.rows[fold.name].sub.text()


# --- Grade ----------------------------------------------------------------------------------------


def test_a_smock_is_graded_to_eight_sizes_and_the_band(window: MainWindow, qtbot: QtBot) -> None:
    smock(
        window, qtbot, sizes=("80", "84", "88", "92", "96", "100", "104", "110"), base="92", people=("Odile", "Ishbel")
    )
    page, nest = window.grade.nest_page, window.grade.nest
    assert nest is not None and len(nest.sizes) == 10 and not any(one.fails for one in nest.sizes)
    assert list(page.rows) == [one.name for one in nest.sizes]
    item = next(one for one in window.table.own if isinstance(one, NestItem))
    assert len(item.lines) == 10
    QTest.mouseClick(page.rows["84"], Qt.MouseButton.LeftButton)
    item = next(one for one in window.table.own if isinstance(one, NestItem))
    assert len(item.lines) == 9, "a size left out of the picture"
    page.align_at("side-hem" if "side-hem" in nest.points(page.piece) else nest.points(page.piece)[0])
    places = nest.aligned(page.piece, page.point)
    assert len({round(abs(motion.shift), 3) for motion in places.values()}) > 1


def test_sizes_people_and_ways_are_chosen(window: MainWindow, qtbot: QtBot) -> None:
    smock(window, qtbot, sizes=("88", "92"), base="92")
    page = window.grade.nest_page
    QTest.mouseClick(page.size_buttons["96"], Qt.MouseButton.LeftButton)
    graded(window, qtbot)
    assert window.bench.document.grading.sizes == ("88", "92", "96") and len(window.grade.nest.sizes) == 3  # type: ignore[union-attr]
    page.people["Bram"].setFocus()
    QTest.keyClick(page.people["Bram"], Qt.Key.Key_Space)
    graded(window, qtbot)
    assert [one.name for one in window.grade.nest.sizes] == ["88", "92", "96", "Bram"]  # type: ignore[union-attr]
    for name in ("88", "92"):
        QTest.mouseClick(page.size_buttons[name], Qt.MouseButton.LeftButton)
        graded(window, qtbot)
    QTest.mouseClick(page.size_buttons["96"], Qt.MouseButton.LeftButton)
    graded(window, qtbot)
    assert window.bench.document.grading.sizes == ("96",), "one size has to stay"


def test_a_rule_is_changed_by_pulling_a_corner(window: MainWindow, qtbot: QtBot) -> None:
    smock(window, qtbot, sizes=("88", "92", "96"), base="92", way="rules")
    page = window.grade.nest_page
    QTest.mouseClick(page.rules.derive_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(window.bench.document.grading.rules), timeout=10000)
    graded(window, qtbot)
    page.show_piece("sleeve")
    page.rules._choose_step("1")
    point = next(c for c in window.grade.nest.points("sleeve") if "hem" in c)  # type: ignore[union-attr]
    ring = next(one for one in window.table.own if isinstance(one, CornerRing) and one.name == point)
    before = page.rules.rule_at(point)
    start = ring.scenePos()
    drag(window, start, start + QPointF(12, 9), qtbot)
    graded(window, qtbot)
    after = page.rules.rule_at(point)
    assert before is not None and after is not None
    assert abs(after.dx - before.dx - 12) < 3 and abs(after.dy - before.dy - 9) < 3
    page.rules.corner.setCurrentIndex(page.rules.corner.findData(point))
    page.rules._show_rule()
    type_into(page.rules.dx.edit, "1.5")
    graded(window, qtbot)
    typed = page.rules.rule_at(point)
    assert typed is not None and abs(typed.dx - 15) < 1e-6
    ring = next(one for one in window.table.own if isinstance(one, CornerRing) and one.name == point)
    ring.setFocus()
    QTest.keyClick(window.table.view, Qt.Key.Key_Right)
    graded(window, qtbot)
    assert abs(page.rules.rule_at(point).dx - 16) < 1e-6  # type: ignore[union-attr]


def test_rules_that_can_not_be_used_are_said_and_nothing_is_lost(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    smock(window, qtbot, sizes=("88", "92", "96"), base="92")
    said: list[str] = []
    window.bench.said.connect(said.append)
    page = window.grade.nest_page
    bad = tmp_path / "bad.csv"
    bad.write_text("sizes,88,92\nbase,92\npiece,point,from,to,dx,dy\nsleeve,hem,88,92,wide,0\n")
    page.rules.take_rules(bad)
    assert "line 4, column dx" in said[-1] and not window.bench.document.grading.rules
    unknown = tmp_path / "unknown.csv"
    unknown.write_text("sizes,88,92\nbase,92\npiece,point,from,to,dx,dy\nsleeve,elbow,88,92,1,0\n")
    page.rules.take_rules(unknown)
    graded(window, qtbot)
    assert "has no point “elbow”" in window.grade.wrong.text() and window.grade.wrong.isVisible()
    window.bench.undo()
    graded(window, qtbot)
    assert not window.grade.wrong.isVisible() and window.grade.nest is not None


def test_cloth_nearer_and_export(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    smock(window, qtbot, sizes=("88", "92"), base="92")
    page = window.grade.nest_page
    page.doing.lay_sizes()
    qtbot.waitUntil(lambda: set(page.cloth) == {"88", "92"} and not window.grade.progress.isVisible(), timeout=30000)
    assert all(one[0].buy >= one[0].length > 300 for one in page.cloth.values())
    page.doing.find_nearer()
    qtbot.waitUntil(lambda: page.near.isVisible(), timeout=10000)
    assert "nearest to Odile" in page.near.text() and page.redrafted is not None
    page.doing.export_into(tmp_path, ".svg")
    qtbot.waitUntil(lambda: (tmp_path / "92.svg").exists() and not window.grade.progress.isVisible(), timeout=20000)
    assert open_project(tmp_path / "88.caddet").document.title.endswith("88")


def test_a_design_is_made_again_for_wren_beside_the_first(window: MainWindow, qtbot: QtBot) -> None:
    smock(window, qtbot, sizes=("92",))
    window.grade.show_page("beside")
    page = window.grade.beside_page
    page.choose("Wren")
    qtbot.waitUntil(lambda: page.both is not None and page.both[1].name == "Wren", timeout=10000)
    qtbot.wait(50)
    assert any(one.kind == "length" for one in page.found) and len(window.table.own) > 6
    QTest.mouseClick(page.take, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    assert window.bench.document.wearer == "Wren"


def test_leaving_the_station_stops_its_work(window: MainWindow, qtbot: QtBot) -> None:
    window.bench.edit("Smock", lambda d: made_mine(d, design_named("smock")))
    settle(qtbot, window)
    window.go("grade")
    window.go("draft")
    assert window.grade.task is None
    window.go("grade")
    graded(window, qtbot)
    assert window.grade.nest is not None


def test_the_ring_is_pulled_along_the_seam(window: MainWindow, qtbot: QtBot) -> None:
    window.go("true")
    settle(qtbot, window)
    station = window.true
    station.choose("side")
    station.slider.setValue(300)
    ring = next(item for item in window.table.own if isinstance(item, TouchItem))
    start = ring.scenePos()
    pattern = window.bench.result.pattern  # type: ignore[union-attr]
    goal, _, _ = pattern.piece("front").run_point("side", pattern.run_length("front.side") * 0.8)  # type: ignore[union-attr]
    drag(window, start, QPointF(goal.real, goal.imag), qtbot)
    assert abs(station.slider.value() - 800) < 30


def test_all_pieces_stand_with_the_letters_of_their_seams(window: MainWindow, qtbot: QtBot) -> None:
    window.go("true")
    settle(qtbot, window)
    window.true.whole.setFocus()
    QTest.keyClick(window.true.whole, Qt.Key.Key_Space)
    settle(qtbot, window)
    assert set(window.table.pieces) == {p.name for p in window.bench.result.pattern.pieces}  # type: ignore[union-attr]
    assert {type(one).__name__ for one in window.table.overlays} >= {"LetterTag"} and window.table.pieces["front"].lit
    QTest.keyClick(window.true.whole, Qt.Key.Key_Space)
    settle(qtbot, window)
    assert not window.table.pieces and any(isinstance(item, RolledItem) for item in window.table.own)


def test_pleats_are_folded(window: MainWindow, qtbot: QtBot) -> None:
    window.bench.edit("Trousers", lambda d: made_mine(d, design_named("ringing-trousers")))
    window.go("true")
    window.true.show_page("folds")
    settle(qtbot, window)
    pleat = next(one for one in window.true.folds() if "pleat" in one.label.lower())
    window.true.choose_fold(pleat.name)
    window.true.slider.setValue(0)
    before = [item.sceneBoundingRect() for item in window.table.own]
    window.true.slider.setValue(1000)
    assert [item.sceneBoundingRect() for item in window.table.own] != before


def test_the_names_of_twenty_sizes_stand_in_a_column_clear_of_the_rings() -> None:
    corners = [QPointF(300.0 + 3 * n, 500.0 + (-1) ** n * n) for n in range(20)]
    boxes = name_boxes([(at, 30.0) for at in corners])
    assert not any(one.intersects(two) for one, two in itertools.combinations(boxes, 2))
    assert len({box.left() for box in boxes}) == 1 and boxes[0].left() > max(at.x() for at in corners) + RING
    assert [box.top() for box in boxes] == sorted(box.top() for box in boxes)
    assert name_boxes([]) == []


@pytest.mark.parametrize("name", ["bodice.darted", "skirt.straight", "top.raglan", "trousers.tailored"])
def test_the_straight_edge_on_the_table_lies_as_far_off_as_the_hollow_says(name: str, qtbot: QtBot) -> None:
    base = document().model_copy(update={"recipe": Recipe.of(name)})
    pattern = redrafted(base, base.person).pattern
    assert pattern is not None
    found = joins(pattern)
    assert found
    for join in found:
        items, at = laid_together(pattern, join)
        edge = items[-1].path  # type: ignore[attr-defined]
        a, b = (complex(edge.elementAt(n).x, edge.elementAt(n).y) for n in (0, 1))
        assert abs(cross(b - a, at - a)) / abs(b - a) == pytest.approx(abs(hollow(pattern, join)[0]), abs=1e-4), join
