"""The hand on the table, in the real window: an invented block and step with every kind of parameter, slips, groups, play."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QPlainTextEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from caddet.core.drafting.declare import promise, run
from caddet.core.drafting.draft_piece import DraftPiece, level
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.figures.sums import Figure
from caddet.core.formats.named_store import GROUPS_KEPT
from caddet.core.hands.things import Thing
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import groups, values
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.parameters import AMOUNTS, NAMING, Hand, ParameterKind
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import (
    BLOCKS,
    STEPS,
    Block,
    EaseLevel,
    Parameter,
    Step,
    Values,
    register_block,
    register_step,
)
from caddet.core.sentences import Length, say
from caddet.desk.widgets.fields import AmountField, Choices
from caddet.desk.window import MainWindow
from tests.desk import pointer
from tests.desk.conftest import settle, type_into
from tests.desk.pointer import drag

DESK = Path(__file__).parents[2] / "src/caddet/desk"
KINDS: tuple[ParameterKind, ...] = (
    *AMOUNTS,
    "choice",
    "flag",
    "text",
    "table",
    "place",
    "corner",
    "points",
    "line",
    "lines",
    *NAMING,
)  # type: ignore[assignment]


def _mat(pattern: Pattern, context: Context, options: Values) -> Result:
    d = Drafting(context, options)
    wide, tall = d["wide"], d.size("tall")
    piece = DraftPiece(
        "mat",
        "Mat",
        outline(
            ("top", [0j, complex(wide, 0)], "hem"),
            ("right", [complex(wide, 0), complex(wide, tall)], "hem"),
            ("bottom", [complex(wide, tall), complex(0, tall)], "hem"),
            ("left", [complex(0, tall), 0j], "hem"),
        ),
        drawn=(level("middle", "middle", complex(0, tall / 2), complex(wide, tall / 2)),),
        grain=(complex(20, 20), complex(20, tall - 20)),
    )
    return d.result([piece], (), (promise("round", "As wide as wanted", (run("mat", "top"),), wide, "along the top"),))


def _all(pattern: Pattern, context: Context, values: Values) -> Result:
    return Result(pattern)


@pytest.fixture
def invented(window: MainWindow, qtbot: QtBot) -> Iterator[MainWindow]:
    """The window on a block and a step that nobody knows."""
    blocks, steps = dict(BLOCKS), dict(STEPS)
    register_block(
        Block(
            "test.mat",
            "Test mat",
            "A mat.",
            ("hip",),
            (),
            (Parameter("tall", "How tall", "length", 300.0, 100.0, 900.0),),
            (EaseLevel("hip", "Hip", 0.0, "hip"),),
            (Figure("wide", "How wide", "(hip + ease_hip) / 2", "Half."),),
            _mat,
        )
    )
    register_step(Step(
        "test_all", "Everything at once", "Does nothing, with everything.",
        (
            Parameter("length", "A length", "length", 40.0, 0.0, 200.0, hand=Hand("out", "edges")),
            Parameter("high", "A height", "length", 100.0, 0.0, 300.0, hand=Hand("level", "pieces")),
            Parameter("number", "A number", "number", 2.0, 0.0, 10.0), Parameter("angle", "An angle", "angle", 30.0, -180.0, 180.0),
            Parameter("ratio", "A ratio", "ratio", 0.5, 0.0, 1.0), Parameter("count", "A count", "count", 3, 1, 9),
            Parameter("choice", "A choice", "choice", "a", choices=(("a", "First"), ("b", "Second"))), Parameter("flag", "A flag", "flag", False),
            Parameter("text", "A text", "text", ""), Parameter("table", "A table", "table", ()), Parameter("place", "A place", "place", None),
            Parameter("corner", "A corner", "corner", None), Parameter("points", "Some points", "points", ()), Parameter("line", "A line", "line", None), Parameter("lines", "Some lines", "lines", ()),
            Parameter("edges", "Some edges", "edges", ()), Parameter("pieces", "Some pieces", "pieces", ()), Parameter("dart", "A dart", "dart", ()),
            Parameter("level", "A level", "level", ()), Parameter("seam", "A seam", "seam", ()),
        ),
        _all, lambda values: say("everything by {length}", length=Length(values["length"])), suits={"edge": 1, "piece": 1},
        asked_as=("gobbledygook",), key="G", symbol=((0j, 5 + 5j),),
    ))  # fmt: skip
    window.bench.edit("Mat", lambda d: begin_with(d, Recipe.of("test.mat")))
    settle(qtbot, window)
    yield window
    window.shape.hand.leave()
    BLOCKS.clear()
    BLOCKS.update(blocks)
    STEPS.clear()
    STEPS.update(steps)


def place(window: MainWindow, x: float, y: float, piece: str = "mat") -> QPointF:
    """A place of a piece, on the table."""
    return window.table.pieces[piece].mapToScene(QPointF(x, y))


def click(
    window: MainWindow,
    x: float,
    y: float,
    modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
    piece: str = "mat",
) -> None:
    pointer.click(window, place(window, x, y, piece), modifier)


def test_the_invented_step_uses_every_kind_there_is(invented: MainWindow) -> None:
    assert {one.kind for one in STEPS["test_all"].parameters} == set(KINDS)


def test_every_kind_by_pointer(invented: MainWindow, qtbot: QtBot) -> None:
    window, hand = invented, invented.shape.hand
    window.go("shape")
    window.table.fit()
    wide = window.table.pieces["mat"].cut.piece.run_length("top")
    click(window, wide, 80)  # the right edge
    assert hand.selection == (Thing("edge", "mat.right"),) and "mat right" in hand.bar.words.text().lower()
    hand.bar.buttons["test_all"].click()
    assert hand.gesture is not None and hand.gesture.plain["edges"] == ("mat.right",)
    assert "A place" in hand.bar.asks.text()
    click(window, 0, 120)  # the place, on the left edge
    assert isinstance(hand.gesture.values["place"], values.Place)
    assert "A corner" in hand.bar.asks.text()
    click(window, wide - 4, 4)  # the nearest corner
    corner = hand.gesture.values["corner"]
    assert isinstance(corner, values.Corner) and (corner.edge, corner.end) in (
        ("mat.top", "end"),
        ("mat.right", "start"),
    )
    assert "Some points" in hand.bar.asks.text()
    for x, y in ((60, 60), (120, 90)):
        click(window, x, y)
    assert len(hand.gesture.plain["points"]) == 2
    hand.set_gesture(hand.gesture.taking(""))
    drag(window, place(window, 30, 200), place(window, wide - 30, 204), qtbot)
    assert isinstance(hand.gesture.values["line"], values.LineValue) and hand.gesture.snapped is not None
    for y in (40, 250):
        drag(window, place(window, 30, y), place(window, wide - 30, y), qtbot)
    assert isinstance(hand.gesture.values["lines"], values.LinesValue) and len(hand.gesture.plain["lines"]) == 2
    for name, (x, y), kind in (
        ("pieces", (60, 150 - 40), "pieces"),
        ("level", (70, 150), "level"),
        ("edges", (100, 0), "edges"),
    ):
        ask = next(
            b
            for b in window.shape.findChildren(QWidget)
            if b.accessibleName().endswith(": on the table")
            and b.accessibleName().startswith(next(p.label for p in STEPS["test_all"].parameters if p.name == name))
        )
        ask.click()  # type: ignore[attr-defined]
        click(window, x, y)
        value = hand.gesture.values.get(name)
        assert isinstance(value, values.References) and value.kind == kind and value.refs, name
    hand.bar.buttons["choice"].click()
    hand.bar.buttons["flag"].click()
    assert hand.gesture.values["choice"] == values.Choice(name="b") and hand.gesture.values["flag"] == values.Flag(
        on=True
    )
    moved = 0
    for name in ("length", "high", "number", "angle", "ratio", "count", "place", "points", "line", "lines", "corner"):
        item = next(one for one in hand.handles if one.handle.parameter == name)
        before = hand.gesture.values.get(name)
        spot = item.scenePos()
        by = place(window, 30, 25) if name != "corner" else place(window, -wide, 0)
        by -= place(window, 0, 0)
        drag(window, spot, spot + by, qtbot, Qt.KeyboardModifier.AltModifier)
        assert hand.gesture.values.get(name) != before, name
        moved += 1
    assert moved == 11 and hand.gesture.limit is None
    length = next(one for one in hand.handles if one.handle.parameter == "length")
    spot = length.scenePos()
    drag(window, spot, spot + (place(window, 900, 0) - place(window, 0, 0)), qtbot)
    assert hand.gesture.plain["length"] == 200 and "makes sense" in hand.bar.asks.text()
    hand.bar.buttons["keep"].click()
    settle(qtbot, window)
    kept = window.bench.history.document.recipe.steps[-1]
    assert kept.kind == "test_all" and {
        "place",
        "corner",
        "points",
        "line",
        "lines",
        "edges",
        "level",
        "pieces",
    } <= set(kept.values)


def test_every_kind_by_keyboard(invented: MainWindow, qtbot: QtBot) -> None:
    window, hand = invented, invented.shape.hand
    window.go("shape")
    view = window.table.view
    view.setFocus()
    for key in (Qt.Key.Key_Tab, Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_Left):
        QTest.keyClick(view, key)
    assert hand.selection == (Thing("edge", "mat.top"),)
    QTest.keyClick(view, Qt.Key.Key_Up)
    assert hand.selection == (Thing("piece", "mat"),)
    QTest.keyClick(view, Qt.Key.Key_G)
    assert hand.gesture is not None
    fields = window.shape.fields
    assert fields is not None
    lines = {
        "place": "mat.left@0.4",
        "corner": "mat.top@end",
        "points": "mat.top@0.4,-3cm; mat.top@0.7,-5cm",
        "line": "mat.left@0.5; mat.right@0.5",
        "lines": "mat.left@0.2; mat.right@0.2 | mat.left@0.8; mat.right@0.8",
        "edges": "mat.top, mat.left",
        "level": "mat.middle",
    }
    for name, text in lines.items():
        line = next(one for one in fields.fields[name].findChildren(QWidget) if hasattr(one, "show_value"))
        type_into(line, text)  # type: ignore[arg-type]
        assert name in hand.gesture.values, name
        fields = window.shape.fields
        assert fields is not None
    for name, text in (
        ("length", "hip / 20"),
        ("high", "12"),
        ("number", "3.5"),
        ("angle", "45"),
        ("ratio", "0.25"),
        ("count", "4"),
    ):
        field = fields.fields[name]
        assert isinstance(field, AmountField)
        type_into(field.edit, text)
    assert hand.gesture.values["length"] == values.Formula(text="hip / 20") and hand.gesture.values[
        "count"
    ] == values.Number(value=4)
    type_into(fields.fields["count"].edit, "4.5")  # type: ignore[attr-defined]
    assert "whole number" in fields.fields["count"].wrong.text()  # type: ignore[attr-defined]
    choice, flag, table = fields.fields["choice"], fields.fields["flag"], fields.fields["table"]
    assert isinstance(choice, Choices) and isinstance(flag, QCheckBox) and isinstance(table, QPlainTextEdit)
    QTest.keyClick(choice.buttons["b"], Qt.Key.Key_Space)
    QTest.keyClick(flag, Qt.Key.Key_Space)
    QTest.keyClicks(table, "1, 2.5, left")
    type_into(
        next(one for one in window.shape.fields.findChildren(QWidget) if one.accessibleName() == "A text"), "by the hem"
    )  # type: ignore[union-attr, arg-type]
    given = hand.gesture.values
    assert given["choice"] == values.Choice(name="b") and given["flag"] == values.Flag(on=True)
    assert given["text"] == values.Text(text="by the hem")
    assert given["table"] == values.TableValue(rows=((1.0, 2.5, "left"),))
    assert isinstance(given["points"], values.Points)
    before = hand.gesture.plain["length"]
    view.setFocus()
    length = next(one for one in hand.handles if one.handle.parameter == "length")
    length.setFocus()
    QTest.keyClick(view.viewport(), Qt.Key.Key_Right)
    QTest.keyClick(view.viewport(), Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert hand.gesture.plain["length"] == pytest.approx(before + 6)
    QTest.keyClick(view, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert window.bench.history.document.recipe.steps[-1].kind == "test_all" and hand.gesture is None


def test_escape_leaves_nothing_behind_and_the_finder_knows_the_words(invented: MainWindow, qtbot: QtBot) -> None:
    window, hand = invented, invented.shape.hand
    before = window.bench.history.document
    QTest.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(window.finder.field, "gobbledygook please")
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    assert window.here == "shape" and hand.gesture is not None and hand.gesture.step.kind == "test_all"
    QTest.keyClick(window.table.view, Qt.Key.Key_Escape)
    settle(qtbot, window)
    assert hand.gesture is None and window.bench.history.document == before and window.bench.preview_document is None
    assert not hand.handles and not window.table.scene.focusItem()
    click(window, 60, 60)
    QTest.keyClick(window.table.view, Qt.Key.Key_Space)
    assert window.finder.isVisible()
    assert any("Everything at once" in window.finder.list.item(n).text() for n in range(3)), (
        "what suits a piece stands first"
    )  # type: ignore[union-attr]
    QTest.keyClick(window.finder.field, Qt.Key.Key_Escape)


def test_what_is_chosen_survives_edits_and_several_things_are_chosen(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    hand = window.shape.hand
    hand.choose(Thing("edge", "front.side"))
    hand.choose(Thing("edge", "back.side"), more=True)
    assert len(hand.selection) == 2 and "front side" in hand.words().lower() and "back side" in hand.words().lower()
    hand.start(STEPS["flare"])
    assert hand.gesture is not None and hand.gesture.plain["edges"] == ("front.side", "back.side")
    qtbot.waitUntil(lambda: bool(hand.shown.chips), timeout=5000)
    assert window.bench.preview_document is not None and hand.shown.chips and hand.shown.lines.strokes, (
        "ghost and figures while it lasts"
    )
    assert any("→" in chip.words for chip in hand.shown.chips)
    QTest.keyClick(window.table.view, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert hand.selection == (Thing("edge", "front.side"), Thing("edge", "back.side"))
    window.bench.undo()
    settle(qtbot, window)
    assert len(hand.selection) == 2 and hand.bar.isVisible()
    hand.choose(Thing("edge", "back.side"), more=True)
    assert hand.selection == (Thing("edge", "front.side"),)


def test_a_step_in_hand_is_kept_when_one_goes_elsewhere_and_hovering_says_what_lies_there(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.go("shape")
    hand = window.shape.hand
    view = window.table.view
    QTest.mouseMove(view.viewport(), view.mapFromScene(pointer.on_table(window, "front", "side", 0.6)))
    assert hand.note.isVisible() and "front side" in hand.note.text().lower()
    hand.choose(Thing("edge", "front.side"))
    hand.start(STEPS["flare"])
    settle(qtbot, window)
    steps = len(window.bench.history.document.recipe.steps)
    window.go("true")
    assert len(window.bench.history.document.recipe.steps) == steps, "a tool that was only taken up leaves nothing"
    window.go("shape")
    hand.start(STEPS["flare"])
    QTest.keyClick(window.table.view, Qt.Key.Key_Right)
    window.go("true")
    settle(qtbot, window)
    assert (
        len(window.bench.history.document.recipe.steps) == steps + 1
        and not hand.bar.isVisible()
        and not hand.note.isVisible()
    )
    window.go("shape")
    hand.start(STEPS["cut"])
    window.go("mark")
    settle(qtbot, window)
    assert len(window.bench.history.document.recipe.steps) == steps + 1, "what lacks its line is left"


def test_slips_show_before_and_after_are_grouped_kept_and_put_on_another_garment(
    window: MainWindow, qtbot: QtBot
) -> None:
    window.go("shape")
    slips = window.shape.slips
    keys = [step.id for step in window.bench.history.document.recipe.steps]
    assert all(not slips.slips[key].picture.pixmap().isNull() for key in keys)
    slips.duplicate(keys[0])
    settle(qtbot, window)
    steps = window.bench.history.document.recipe.steps
    assert len(steps) == len(keys) + 1 and steps[0].values == steps[1].values and steps[0].id != steps[1].id
    for key in keys[:2]:
        slips.group(key, "Longer hem")
        settle(qtbot, window)
    assert groups.groups(window.bench.history.document) == ("Longer hem",)
    slips.keep("Longer hem")
    assert [one.name for one in GROUPS_KEPT.kept()[0]] == ["Longer hem"] and len(GROUPS_KEPT.kept()[0][0].steps) == 2
    window.bench.edit("Another", lambda d: begin_with(d, Recipe.of("skirt.straight")))
    settle(qtbot, window)
    menu = window.shape.kept_menu()
    menu.actions()[0].trigger()
    settle(qtbot, window)
    after = window.bench.history.document.recipe.steps
    assert [step.kind for step in after] == [steps[0].kind, next(s.kind for s in steps if s.id == keys[1])]
    assert {step.group for step in after} == {"Longer hem"} and not {step.id for step in after} & set(keys)
    tick = next(
        w for w in window.shape.findChildren(QCheckBox) if w.accessibleName() == "All steps of Longer hem are done"
    )
    tick.click()
    settle(qtbot, window)
    assert not any(step.on for step in window.bench.history.document.recipe.steps)


def test_a_slip_is_dragged_to_another_place_by_the_pointer(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    slips = window.shape.slips
    keys = [step.id for step in window.bench.history.document.recipe.steps]
    first, last = slips.slips[keys[0]], slips.slips[keys[-1]]
    held = QPoint(60, 20)
    QTest.mousePress(first, Qt.MouseButton.LeftButton, pos=held)
    for share in (0.3, 0.6, 1.0):
        QTest.mouseMove(first, first.mapFrom(slips, last.geometry().bottomLeft()) * share)
    assert slips.gap.isVisible(), "where it would go is shown"
    QTest.mouseRelease(first, Qt.MouseButton.LeftButton, pos=first.mapFrom(slips, last.geometry().bottomLeft()))
    settle(qtbot, window)
    assert [step.id for step in window.bench.history.document.recipe.steps] == [*keys[1:], keys[0]]
    assert not slips.gap.isVisible() and window.shape.hand.gesture is None, "moved, not taken up"
    moved = slips.slips[keys[0]]
    QTest.mousePress(moved, Qt.MouseButton.LeftButton, pos=held)
    QTest.mouseMove(moved, moved.mapFrom(slips, slips.slips[keys[1]].geometry().topLeft()))
    QTest.keyClick(moved, Qt.Key.Key_Escape)
    QTest.mouseRelease(moved, Qt.MouseButton.LeftButton, pos=held)
    assert [step.id for step in window.bench.history.document.recipe.steps] == [*keys[1:], keys[0]], "Esc: stays"
    QTest.mouseClick(moved, Qt.MouseButton.LeftButton, pos=held)
    assert window.shape.hand.gesture is not None, "a click takes it up"


def test_a_screen_reader_finds_every_handle_where_it_stands(invented: MainWindow, qtbot: QtBot) -> None:
    """Qt gives a screen reader the tree of widgets: each handle has one with its name, at its place."""
    window, hand = invented, invented.shape.hand
    window.go("shape")
    window.table.fit()
    hand.choose(Thing("edge", "mat.right"))
    hand.start(STEPS["test_all"])
    for x, y in ((0, 120), (60, 60), (120, 90)):
        click(window, x, y)
    names = window.table.view.names
    labels = {one.name: one.label for one in STEPS["test_all"].parameters}

    def named() -> bool:
        """Whether the names there are those of the handles, and no more the last view's."""
        said = {one.accessibleName().split(",")[0] for one in names.named}
        wanted = {labels[item.handle.parameter] for item in hand.handles}
        return said == wanted and len(names.named) == len(hand.handles) > 0

    qtbot.waitUntil(named, timeout=3000)
    assert len({one.accessibleName() for one in names.named}) == len(hand.handles), "no two of one name"
    view = window.table.view
    for item in hand.handles:
        at = view.mapFromScene(item.scenePos())
        assert any((one.geometry().center() - at).manhattanLength() <= 3 and one.isVisible() for one in names.named)
    hand.handles[0].setFocus()
    assert view.accessibleDescription() == hand.handles[0].spoken != ""
    window.go("draft")
    qtbot.waitUntil(lambda: not hand.handles, timeout=3000)


def test_a_step_that_cannot_be_done_says_why_and_offers_ways_out(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    hand, slips = window.shape.hand, window.shape.slips
    hand.choose(Thing("piece", "front"))
    hand.start(STEPS["cut"])
    front = window.table.pieces["front"].cut.piece
    _, top, _, bottom = front.outline().bounds()
    y = (top + bottom) / 2
    drag(window, place(window, 40, y, "front"), place(window, 160, y, "front"), qtbot)
    QTest.keyClick(window.table.view, Qt.Key.Key_Return)
    settle(qtbot, window)
    cut = window.bench.history.document.recipe.steps[-1]
    assert cut.kind == "cut" and len(window.table.pieces) == 4
    edge = next(key for item in window.table.pieces.values() for key in item.cut.piece.runs() if key.endswith(".cut"))
    hand.choose(Thing("edge", edge))
    hand.start(STEPS["band"])
    hand.settle()
    settle(qtbot, window)
    slips.switch(cut.id, False)
    settle(qtbot, window)
    last = window.bench.history.document.recipe.steps[-1]
    ways = [one.text() for one in slips.slips[last.id].findChildren(QPushButton) if one.isVisible()]
    assert "Can't be done" in slips.slips[last.id].sub.text() and ways[-2:] == ["Take it up again", "Leave it out"]
    slips.switch(last.id, False)
    settle(qtbot, window)
    assert "Can't" not in slips.slips[last.id].sub.text()


def test_the_design_is_played_through_and_scrubbed(window: MainWindow, qtbot: QtBot) -> None:
    window.go("shape")
    shape = window.shape
    whole = window.table.pieces["front"].cut.piece
    shape.scrub.setValue(0)
    settle(qtbot, window)
    assert window.bench.preview_document is not None and window.table.pieces["front"].cut.piece != whole
    shape.scrub.setValue(shape.scrub.maximum())
    settle(qtbot, window)
    assert window.bench.preview_document is None and window.table.pieces["front"].cut.piece == whole
    shape._playing.setInterval(30)
    shape.play_button.click()
    assert shape.play_button.text() == "Stop"
    qtbot.waitUntil(lambda: shape.play_button.text() == "Play", timeout=8000)
    settle(qtbot, window)
    assert window.table.pieces["front"].cut.piece == whole and window.bench.history.document == window.bench.document


@pytest.mark.parametrize("path", sorted(DESK.rglob("*.py")), ids=lambda path: path.stem)
def test_the_desk_knows_no_step_and_no_block_by_name(path: Path) -> None:
    """No kind of a step and no name of a block stands in the desk's sources; words that are also finishes or lines are theirs."""
    names = {*BLOCKS, *STEPS} - {"slit", "cut", "band", "facing", "binding", "casing", "lining"}
    texts = {
        node.value
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Constant) and isinstance(node.value, str)
    }
    assert not texts & names, path.name
    if path.parent.name in ("shaping", "table") or path.stem in ("shape", "finder", "window"):
        assert not texts & {"slit", "band"}, path.name
