"""The main views of the program on the demo: one walk through the stations, for pictures and for the test of them."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from caddet.core.grading.sizes import derived_rules
from caddet.core.hands.things import Thing
from caddet.core.recipe import edits
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.traced import Reading, TapeTracing
from caddet.core.tracing.solving import expected
from caddet.core.tracing.tape import change_tracing, traced
from caddet.desk.theme import LOOK
from caddet.desk.window import MainWindow

Settle = Callable[[], None]
"""Waits until nothing is being worked out and everything is drawn."""


def views(window: MainWindow, settle: Settle) -> Iterator[str]:
    """Walks a window that shows the demo from view to view and names each when it stands. The demo is changed."""
    for key in ("measure", "draft", "true", "mark"):
        window.go(key)
        settle()
        window.table.fit()
        settle()
        yield key
    yield from _measure_and_plan(window, settle)
    yield from _shape(window, settle)
    window.go("lay")
    settle()
    yield "lay"
    yield from _own_pieces(window, settle)
    window.bench.undo()
    settle()
    yield from _evening(window, settle)
    yield from _other_blocks(window, settle)
    yield from _designs(window, settle)
    yield from _tracing(window, settle)


def _measure_and_plan(window: MainWindow, settle: Settle) -> Iterator[str]:
    window.go("measure")
    window.measure.show_page("round")
    window.measure.round.begin("usual")
    settle()
    yield "measure-round"
    window.measure.show_page("list")
    for key in ("workroom", "plan"):
        window.go(key)
        settle()
        yield key


def _shape(window: MainWindow, settle: Settle) -> Iterator[str]:
    window.go("shape")
    settle()
    window.table.fit()
    settle()
    hand = window.shape.hand
    hand.choose(Thing("edge", "front.side"))
    settle()
    item = window.table.pieces["front"]
    hand.choose(Thing("dart", item.cut.piece.darts[0].id))
    hand.start(STEPS["pivot_dart"])
    view, port = window.table.view, window.table.view.viewport()
    place, _, _ = item.cut.piece.run_point("side", 90.0)
    where = view.mapFromScene(item.mapToScene(QPointF(place.real, place.imag)))
    QTest.mouseClick(port, Qt.MouseButton.LeftButton, pos=where)
    settle()
    yield "shape"
    hand.leave()
    settle()
    window.toast.hide()


def _evening(window: MainWindow, settle: Settle) -> Iterator[str]:
    LOOK.switch(True)
    window.switch_unit()
    window.go("draft")
    settle()
    window.draft.open_figure("front_dart")
    settle()
    window.table.fit()
    settle()
    yield "evening-inches"
    LOOK.switch(False)
    window.switch_unit()


def _own_pieces(window: MainWindow, settle: Settle) -> Iterator[str]:
    """A recipe of one's own, written in Draft."""
    window.bench.edit("Points and formulas", lambda document: begin_with(document, Recipe.of("own.points")))
    window.go("draft")
    settle()
    window.draft.texts["recipe"].go_to(17)
    window.table.fit()
    settle()
    yield "draft-own"


def _other_blocks(window: MainWindow, settle: Settle) -> Iterator[str]:
    window.go("plan")
    window.plan.show_page("garment")
    window.plan.garment.look_at("dress.sheath")
    window.plan.garment.choose()
    settle()
    window.toast.hide()
    settle()
    yield "plan-fit"


def _designs(window: MainWindow, settle: Settle) -> Iterator[str]:
    """A whole design made one's own: its parts in Shape, a part being put on, and what is to be bought."""
    window.go("plan")
    window.plan.show_page("garment")
    window.plan.garment.look_at("design:smock")
    window.plan.garment.choose()
    settle()
    window.toast.hide()
    window.plan.show_page("cloth")
    settle()
    window.plan.scroller.ensureWidgetVisible(window.plan.cloth.notions, 0, 400)
    settle()
    yield "plan-notions"
    window.go("shape")
    settle()
    hand = window.shape.hand
    hand.choose(Thing("edge", "front.hem"))
    hand.start(STEPS["flounce"])
    settle()
    window.table.fit()
    settle()
    yield "shape-part"
    hand.leave()
    settle()
    yield from _grade(window, settle)


def _grade(window: MainWindow, settle: Settle) -> Iterator[str]:
    """The nest of the smock by rules read off the drafted sizes, with rings on the next size."""
    sizes = ("84", "88", "92", "96", "100")
    window.bench.edit("Sizes", lambda d: edits.set_grading(d, way="rules", sizes=sizes, base="92"))
    rules = derived_rules(window.bench.document).rules
    window.bench.edit("Rules", lambda d: edits.set_grading(d, rules=rules))
    window.go("grade")
    settle()
    window.grade.nest_page.rules._choose_step("2")
    window.grade.nest_page.show_piece("sleeve")
    settle()
    window.table.fit()
    settle()
    yield "grade"


def _tracing(window: MainWindow, settle: Settle) -> Iterator[str]:
    """A shirt read with the tape, one reading an inch off; and one from a photograph by the practice camera."""
    page = window.draft.trace
    window.trace()
    page.begin_box.kinds.show_choice("t_shirt")
    page.begin_tape(False)
    solved = page.solved()
    assert solved is not None and page.kind is not None
    readings = []
    for asked in page.kind.asked:
        value = expected(solved, asked) + (25.4 if asked.name == "side" else 0.0)
        if value > 0:
            readings.append(Reading(what=asked.name, values=(round(value),)))
    tracing = TapeTracing(kind="t_shirt", readings=tuple(readings))
    source = traced(window.bench.document)[-1].id
    window.bench.edit("Readings", lambda d: change_tracing(d, source, tracing))
    settle()
    page.choose("side")
    settle()
    window.table.fit()
    settle()
    yield "trace"
    page.photo.begin.practice.setCurrentIndex(0)
    page.photo.begin.take()
    while page.photo.task is not None:
        QTest.qWait(50)
    settle()
    window.toast.hide()
    page.photo.measure()
    window.table.fit()
    settle()
    yield "trace-photo"
