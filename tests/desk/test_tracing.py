"""Draft, Trace: a garment read with the tape in the real window, by keyboard and by pointer."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.core.devices.camera import Shot
from caddet.core.devices.practice_shots import practice_camera
from caddet.core.formats.project import open_project
from caddet.core.recipe import edits
from caddet.core.recipe.document import TracedSource
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.traced import PhotoTracing, TapeTracing
from caddet.core.recipe.values import Place
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.photo import changing
from caddet.core.tracing.tape import traced
from caddet.desk.stations.drafting.photo_items import OutlineItem
from caddet.desk.stations.drafting.photo_page import PhotoPage
from caddet.desk.stations.drafting.trace_page import TracePage
from caddet.desk.stations.drafting.traced_items import TapeItem
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle
from tests.desk.pointer import drag
from tests.garments import garment, read_by_tape

ENTER = Qt.Key.Key_Return


def begin(window: MainWindow, qtbot: QtBot, kind: str, *, beside: bool = False) -> TracePage:
    window.trace()
    page = window.draft.trace
    box = page.begin_box
    box.kinds.setCurrentIndex(box.kinds.findData(kind))
    box.kinds.activated.emit(box.kinds.currentIndex())
    button = box.beside if beside else box.begin
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    return page


def type_in(page: TracePage, words: str, *, again: bool = False) -> None:
    QTest.keyClicks(page.field, words)
    QTest.keyClick(page.field, ENTER, Qt.KeyboardModifier.ControlModifier if again else Qt.KeyboardModifier.NoModifier)


def kept(window: MainWindow, number: int = 0) -> TapeTracing:
    source = traced(window.bench.document)[number]
    assert isinstance(source, TracedSource) and isinstance(source.tracing, TapeTracing)
    return source.tracing


def test_a_shirt_is_read_by_keyboard_alone_and_becomes_two_pieces(window: MainWindow, qtbot: QtBot) -> None:
    page = begin(window, qtbot, "t_shirt")
    kind = KINDS["t_shirt"]
    net, x = garment(kind, 3)
    read = {one.what: one.values[0] for one in read_by_tape(kind, net, x)}
    asked = [one.name for one in kind.asked if one.needed]
    assert window.bench.result is not None and window.bench.result.pattern is None
    for name in asked:
        assert page.what == name
        type_in(page, f"{read[name] / 10:.2f}")
    settle(qtbot, window)
    pattern = window.bench.result.pattern
    assert pattern is not None and [piece.name for piece in pattern.pieces] == ["front", "back"]
    assert pattern.run_length("front.shoulder") == pytest.approx(read["shoulder"], abs=1.0)
    assert page.state.text().startswith("The shape is known")
    assert [one.what for one in kept(window).readings] == asked
    window.bench.undo()
    settle(qtbot, window)
    assert len(kept(window).readings) == len(asked) - 1 and window.bench.result.pattern is None


def test_a_misread_tape_stands_out_in_the_row_on_the_table_and_in_the_proof(window: MainWindow, qtbot: QtBot) -> None:
    page = begin(window, qtbot, "jacket_back")
    kind = KINDS["jacket_back"]
    net, x = garment(kind, 4)
    for reading in read_by_tape(kind, net, x):
        page.choose(reading.what)
        value = reading.values[0] + (30 if reading.what == "side" else 0)
        type_in(page, f"{value / 10:.2f}")
    settle(qtbot, window)
    assert page.rows["side", None].sub.text().startswith("doesn't fit")
    page.choose("chest")
    lines = [item for item in window.table.scene.items() if isinstance(item, TapeItem) and item.color == "madder"]
    assert len(lines) == 1
    line = next(line for line in window.bench.result.proof if line.name == "trace.misread")  # type: ignore[union-attr]
    window.go("lay")
    window.go_to_place(line.place)
    assert (window.here, page.what) == ("draft", "side")
    type_in(page, f"{read_by_tape(kind, net, x)[3].values[0] / 10:.2f}")
    settle(qtbot, window)
    assert not page.rows["side", None].sub.text()


def test_the_shape_follows_while_a_reading_is_typed_and_nothing_is_kept_before_enter(
    window: MainWindow, qtbot: QtBot
) -> None:
    page = begin(window, qtbot, "collar")
    before = page.solved()
    QTest.keyClicks(page.field, "11")
    now = page.solved()
    assert before is not None and now is not None
    deep = abs(now.marks["collar", "outer_centre"] - now.marks["collar", "neck_centre"])
    assert deep == pytest.approx(110, abs=0.5) and not kept(window).readings
    QTest.keyClick(page.field, Qt.Key.Key_Escape)
    assert page.field.text() == "" and not kept(window).readings
    QTest.keyClicks(page.field, "eleven")
    QTest.keyClick(page.field, ENTER)
    assert "not a length" in page.wrong.text() and not kept(window).readings


def test_a_reading_is_read_twice_chosen_on_the_table_and_taken_out(window: MainWindow, qtbot: QtBot) -> None:
    page = begin(window, qtbot, "collar")
    type_in(page, "7.5", again=True)
    type_in(page, "7.7", again=True)
    assert kept(window).readings[0].values == (75.0, 77.0)
    page.choose("outer")
    line = next(item for item in window.table.scene.items() if isinstance(item, TapeItem) and not item.lit)
    at = line.path.pointAtPercent(0.5)
    view = window.table.view
    QTest.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=view.mapFromScene(line.mapToScene(at)))
    assert page.what == "depth"
    page.field.selectAll()
    QTest.keyClick(page.field, Qt.Key.Key_Delete)
    QTest.keyClick(page.field, ENTER)
    settle(qtbot, window)
    assert not kept(window).readings


def test_a_width_of_ones_own_curves_the_side(window: MainWindow, qtbot: QtBot) -> None:
    page = begin(window, qtbot, "t_shirt")
    kind = KINDS["t_shirt"]
    net, x = garment(kind, 7)
    for reading in read_by_tape(kind, net, x, checks=False):
        page.choose(reading.what)
        type_in(page, f"{reading.values[0] / 10:.2f}")
    page._add_width("width", 400.0)
    assert (page.what, page.at) == ("width", 400.0)
    was = kept(window).readings[-1].values[0]
    QTest.keyClicks(page.field, f"{(was - 40) / 10:.2f}")
    QTest.keyClick(page.field, ENTER)
    settle(qtbot, window)
    assert window.bench.result is not None and window.bench.result.pattern is not None
    side = window.bench.result.pattern.piece("front").run("side")[0].path
    assert side.length > abs(side.end - side.start) + 0.5


def test_the_order_of_work_is_ticked_off_and_kept(window: MainWindow, qtbot: QtBot) -> None:
    page = begin(window, qtbot, "leggings")
    QTest.mouseClick(page.ticks["crotch"], Qt.MouseButton.LeftButton, pos=page.ticks["crotch"].rect().center())
    page.ticks["grain"].click()
    assert "grain" in kept(window).done
    assert page.guide_head.text().startswith("Order of work")


def test_a_sleeve_is_traced_beside_a_block_and_taken_out_again(window: MainWindow, qtbot: QtBot) -> None:
    before = [piece.name for piece in window.bench.result.pattern.pieces]  # type: ignore[union-attr]
    page = begin(window, qtbot, "sleeve", beside=True)
    kind = KINDS["sleeve"]
    net, x = garment(kind, 2)
    for reading in read_by_tape(kind, net, x, checks=False):
        page.choose(reading.what)
        type_in(page, f"{reading.values[0] / 10:.2f}")
    settle(qtbot, window)
    pattern = window.bench.result.pattern  # type: ignore[union-attr]
    assert pattern is not None
    names = [piece.name for piece in pattern.pieces]
    assert names[: len(before)] == before and names[-1].endswith("_sleeve")
    page._take_out()
    settle(qtbot, window)
    assert not traced(window.bench.document)


# --- from a photograph ----------------------------------------------------------------------------


def photographed(window: MainWindow, qtbot: QtBot, practice: str = "t_shirt", sheet: str = "A4") -> PhotoPage:
    window.trace()
    page = window.draft.trace.photo
    page.begin.practice.setCurrentIndex(page.begin.practice.findData(practice))
    page.begin.sheet.show_choice(sheet)
    page.begin.take()
    qtbot.waitUntil(lambda: page.task is None, timeout=60_000)
    settle(qtbot, window)
    return page


def pictured(window: MainWindow) -> PhotoTracing:
    tracing = traced(window.bench.document)[-1].tracing
    assert isinstance(tracing, PhotoTracing)
    return tracing


def test_a_practice_picture_becomes_a_front_and_says_how_close_it_came(window: MainWindow, qtbot: QtBot) -> None:
    page = photographed(window, qtbot)
    pattern = window.bench.result.pattern  # type: ignore[union-attr]
    assert pattern is not None and [piece.name for piece in pattern.pieces] == ["front"]
    assert {"neckline", "shoulder", "armhole", "side", "hem"} <= {edge.own for edge in pattern.pieces[0].edges}
    page.measure()
    assert page.closeness_of is not None
    half, most, _ = page.closeness_of
    assert half < 2.0 and most < 4.0 and "Half of the true line" in page.closeness.text()
    # the line pulled off its place draws back to the edge in the picture when it is let go; with Alt it would stay
    piece, view = pictured(window).pieces[0], page.view()
    assert view is not None
    at = (piece.corners[3] + 60) % len(piece.points)
    table = changing.table_of(piece, view)
    item = next(one for one in window.table.scene.items() if isinstance(one, OutlineItem))
    start = QPointF(item.points[at].real, item.points[at].imag)
    drag(window, start, start + QPointF(4, 2), qtbot)
    settle(qtbot, window)
    after = changing.table_of(pictured(window).pieces[0], view)
    assert pictured(window).pieces[0].points != piece.points
    assert np.abs(table - after[at]).min() < 2.0  # it lies on the old line again, if not at its old place on it
    page._pull("front", at, complex(table[at]) + 12, False)
    assert pictured(window).pieces[0].points != page.tracing.pieces[0].points  # type: ignore[union-attr]  # not kept before it is let go
    page.trying = None
    page.detail.edge_rows["side"][0].click()
    settle(qtbot, window)
    assert window.bench.result.pattern.piece("front").run("side")[0].path.length == pytest.approx(  # type: ignore[union-attr]
        abs(
            window.bench.result.pattern.piece("front").run("side")[0].path.end
            - window.bench.result.pattern.piece("front").run("side")[0].path.start
        )  # type: ignore[union-attr]
    )
    page.change("x", lambda p: changing.edge_changed(p, "hem", cut=20.0))
    settle(qtbot, window)
    shorter = window.bench.result.pattern.piece("front")  # type: ignore[union-attr]
    assert pattern.run_length("front.centre_front") - shorter.run_length("centre_front") == pytest.approx(20, abs=1)
    window.bench.undo()
    window.bench.undo()
    window.bench.undo()
    settle(qtbot, window)
    assert pictured(window).pieces[0].points == piece.points


def test_a_photograph_is_kept_named_by_hand_and_taken_out(window: MainWindow, qtbot: QtBot, project: Path) -> None:
    page = photographed(window, qtbot, "jacket", "Letter")
    assert window.bench.settled()
    opened = open_project(project)
    assert opened.whole and len(opened.pictures) == 1
    page.set_kind("")
    settle(qtbot, window)
    free = pictured(window).pieces[0]
    assert not free.kind and len(free.corners) == 6
    page._corner("front", (free.corners[0] + 30) % len(free.points))
    settle(qtbot, window)
    assert len(pictured(window).pieces[0].corners) == 7
    names = list(page.detail.edge_rows)
    page.change("x", lambda p: changing.edge_changed(p, names[0], renamed="shoulder"))
    settle(qtbot, window)
    assert "shoulder" in page.detail.edge_rows
    page.set_kind("t_shirt front")
    settle(qtbot, window)
    assert not pictured(window).pieces[0].kind  # it doesn't look like one: said, and nothing changed
    page._set_known(215.9)
    settle(qtbot, window)
    view = page.view()
    known = pictured(window).known
    assert known is not None and view is not None
    page._pull_known("a", view, 0j, True)
    page._pull_known("b", view, 215.9 + 0j, True)
    settle(qtbot, window)
    assert not [f for f in window.bench.result.findings if f.code == "trace.scale"]  # type: ignore[union-attr]
    page._set_known(300.0)
    settle(qtbot, window)
    assert [f for f in window.bench.result.findings if f.code == "trace.scale"]  # type: ignore[union-attr]
    page.change("out", lambda p: None)
    settle(qtbot, window)
    assert not pictured(window).pieces


def test_without_a_sheet_the_picture_is_kept_for_the_corners_to_be_set_by_hand(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    shot = Shot(size=(900, 700))
    camera = practice_camera("jacket A4 3")
    (tmp_path / "no sheet.jpg").write_bytes(replace(camera, scene=replace(camera.scene, sheet=""), shot=shot).take())
    window.trace()
    page = window.draft.trace.photo
    page.open([tmp_path / "no sheet.jpg"], "A4")
    qtbot.waitUntil(lambda: page.task is None, timeout=60_000)
    settle(qtbot, window)
    assert not pictured(window).pieces and len(window.bench.document.photographs) == 1
    view = page.view()
    assert view is not None
    before = pictured(window).corners
    page._pull_sheet(0, view, -30 - 20j, True)
    settle(qtbot, window)
    assert pictured(window).corners != before
    page._pull_sheet(0, page.view() or view, 500 + 500j, True)  # beyond the others: refused
    settle(qtbot, window)
    assert pictured(window).corners != before
    (tmp_path / "words.jpg").write_text("no picture")
    page.open([tmp_path / "words.jpg"], "A4")
    qtbot.waitUntil(lambda: page.task is None, timeout=20_000)
    assert len(traced(window.bench.document)) == 1
    page.open([tmp_path / "no sheet.jpg"], "A4")
    page.cancel()
    qtbot.wait(300)
    assert page.task is None and len(traced(window.bench.document)) == 1


def test_the_photograph_lies_under_the_pieces_in_shape_and_under_their_parts(window: MainWindow, qtbot: QtBot) -> None:
    photographed(window, qtbot, "jacket")
    window.go("shape")
    assert not window.shape.under.isHidden()
    assert all(item.under is None for item in window.table.pieces.values())
    window.shape.under.click()
    assert all(item.under is not None for item in window.table.pieces.values())
    line = (Place(edge="front.armhole", share=0.5), Place(edge="front.hem", share=0.5))
    window.bench.edit("cut", lambda d: edits.add_step(d, step_entry("cut", {"line": line})))
    settle(qtbot, window)
    assert len(window.table.pieces) == 2 and all(item.under is not None for item in window.table.pieces.values())
    window.shape.under.click()
    assert all(item.under is None for item in window.table.pieces.values())
    window.projects.demo_anew()
    settle(qtbot, window)
    window.go("shape")
    assert window.shape.under.isHidden()
