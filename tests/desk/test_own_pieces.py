"""A recipe of one's own written in the window: what its lines come to, what is wrong, and that nothing is lost."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.core.hands.things import Thing
from caddet.core.own_pieces.taught import SKIRT
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.values import Text
from caddet.desk.table.overlays import PointLetter
from caddet.desk.widgets.lines_field import PAUSE, LinesField
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle


def letters(window: MainWindow) -> set[str]:
    return {item.name for item in window.table.overlays if isinstance(item, PointLetter)}


def test_a_recipe_is_written_tried_and_kept(window: MainWindow, qtbot: QtBot) -> None:
    window.bench.edit("own", lambda d: begin_with(d, Recipe.of("own.points")))
    window.go("draft")
    settle(qtbot, window)
    field = window.draft.texts["recipe"]
    assert field.edit.toPlainText() == SKIRT and letters(window) >= {"A", "D", "K"}
    assert {note.line for note in field.notes if note.wrong} == set()
    field.go_to(4)
    assert "25" in field.says.text(), "the line with the cursor tells what it comes to"
    assert field.edit.textCursor().block().text().startswith("wide")
    window.switch_unit()
    settle(qtbot, window)
    field = window.draft.texts["recipe"]
    field.go_to(3)
    assert field.says.textFormat() == Qt.TextFormat.RichText and "&quot;" in field.says.text(), (
        "an inch mark, escaped for rich text"
    )
    window.switch_unit()
    settle(qtbot, window)
    field = window.draft.texts["recipe"]
    field.go_to(4)
    QTest.keyClick(field.edit, Qt.Key.Key_End)
    QTest.keyClicks(field.edit, "0")
    QTest.qWait(PAUSE + 200)
    settle(qtbot, window)
    made = window.bench.result
    assert made is not None and made.pattern is not None
    wide = made.pattern.run_length("skirt_front.hem")
    assert window.bench.preview_document is not None, "tried, not kept"
    QTest.keyClicks(field.edit, "nose")
    QTest.qWait(PAUSE + 200)
    settle(qtbot, window)
    assert "Line 4" in field.says.text() and "“nose”" in field.says.text() and "Line 5" not in field.says.text()
    assert made.pattern.run_length("skirt_front.hem") == wide, "the last that could be made still lies there"
    field.says.linkActivated.emit("7")
    assert field.edit.textCursor().blockNumber() == 6
    field.edit.clearFocus()
    settle(qtbot, window)
    kept = window.bench.history.document.recipe.options["recipe"]
    assert isinstance(kept, Text) and "10nose" in kept.text, "what was written is never lost"
    assert any("Line 4" in f.sentence for f in (window.bench.result.findings if window.bench.result else ()))
    window.bench.undo()
    settle(qtbot, window)
    assert field.edit.toPlainText() == SKIRT and window.bench.result is not None and window.bench.result.pattern


def test_a_piece_is_put_beside_others_and_taken_up_again(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    settle(qtbot, window)
    hand = window.shape.hand
    hand.choose(Thing("piece", "front"))
    hand.start(STEPS["own_pieces"])
    settle(qtbot, window)
    qtbot.waitUntil(lambda: letters(window) == {"A", "B", "C", "D"}, timeout=3000)
    assert window.shape.fields is not None
    field = window.shape.fields.fields["recipe"]
    assert isinstance(field, LinesField)
    field.edit.setFocus()
    field.edit.selectAll()
    for line in (
        "piece Patch",
        "A",
        "B = A out 12",
        "C = B down 14",
        "edge a: A - B",
        "edge b: B - C",
        "edge c: C - A",
    ):
        QTest.keyClicks(field.edit, line)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
    QTest.qWait(PAUSE + 200)
    settle(qtbot, window)
    hand.settle()
    settle(qtbot, window)
    steps = window.bench.history.document.recipe.steps
    assert (
        steps[-1].kind == "own_pieces" and window.bench.result is not None and window.bench.result.pattern is not None
    )
    assert window.bench.result.pattern.has(f"{steps[-1].id}.patch")
    window.shape.open_step(steps[-1].id)
    settle(qtbot, window)
    again = window.shape.fields.fields["recipe"]
    assert isinstance(again, LinesField) and "piece Patch" in again.edit.toPlainText()


def test_what_is_written_survives_esc_another_unit_and_another_station(window: MainWindow, qtbot: QtBot) -> None:
    window.bench.edit("own", lambda d: begin_with(d, Recipe.of("own.points")))
    window.go("draft")
    settle(qtbot, window)

    def kept() -> str:
        return getattr(window.bench.history.document.recipe.options.get("recipe"), "text", "")

    for number, go_on in enumerate((window.switch_unit, lambda: window.go("shape"), None)):
        window.go("draft")
        settle(qtbot, window)
        field = window.draft.texts["recipe"]
        field.edit.setFocus()
        QTest.keyClicks(field.edit, f"# remark {number}")
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
        if go_on is None:
            QTest.keyClick(field.edit, Qt.Key.Key_Escape)
        else:
            go_on()
        settle(qtbot, window)
        assert f"# remark {number}" in kept(), number
    window.go("shape")
    hand = window.shape.hand
    hand.choose(Thing("piece", "skirt_front"))
    hand.start(STEPS["own_pieces"])
    settle(qtbot, window)
    assert window.shape.fields is not None
    lines = window.shape.fields.fields["recipe"]
    assert isinstance(lines, LinesField)
    lines.edit.setFocus()
    QTest.keyClicks(lines.edit, "# mine")
    QTest.keyClick(lines.edit, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert hand.gesture is not None and "# mine" in str(hand.gesture.plain["recipe"])


def test_how_a_step_is_done_is_shown_on_ones_own_pieces(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    settle(qtbot, window)
    hand, how = window.shape.hand, window.shape.how
    assert how.isHidden()
    hand.choose(Thing("edge", "front.side"))
    hand.start(STEPS["flare"])
    settle(qtbot, window)
    assert not how.isHidden() and how.inside.isHidden()
    QTest.mouseClick(how.toggle, Qt.MouseButton.LeftButton)
    assert '<a href="flare"' in how.says.text() and '<a href="hem"' in how.says.text()
    how.says.linkActivated.emit("hem")
    assert how.word.isVisible() and how.word.text().startswith("<span") and "turned up" in how.word.text()
    how.says.linkActivated.emit("hem")
    assert not how.word.isVisible(), "the same word again shuts it"
    before = how.pictures.pixmap().toImage()
    assert not how.inside.isHidden() and before.width() > 200 and STEPS["flare"].asked_as[0] in how.when.text()
    gesture = hand.gesture
    assert gesture is not None
    hand.set_gesture(gesture.set("amount", 200.0))
    settle(qtbot, window)
    assert how.pictures.pixmap().toImage() != before, "the pictures follow the hand"
    hand.leave()
    settle(qtbot, window)
    assert how.isHidden()
