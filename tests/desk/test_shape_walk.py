"""Eight designs made in the window from the blocks, once with the pointer alone and once with the keyboard alone.

Side dart into princess seams, a puff sleeve by seven lines, wide legs and a dipped waist, a tank from a T-shirt, a yoke
with gathers below, a slanted panel with a high-low hem, and a skirt from points and formulas on two people.
"""

from __future__ import annotations

import time
from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from caddet.core.demo import demo_document
from caddet.core.hands.things import Thing, places_of
from caddet.core.own_pieces.taught import SKIRT
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import edits
from caddet.core.recipe.document import Recipe, StepEntry
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.values import Place
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle, type_into
from tests.desk.pointer import click, drag, handle, on_table
from tests.making import full_people
from tests.share import share

WHO = full_people()[0]


class Maker:
    """Somebody who makes a design in the window."""

    def __init__(self, window: MainWindow, qtbot: QtBot) -> None:
        self.window, self.qtbot = window, qtbot
        self.hand = window.shape.hand

    def begin(self, block: str) -> None:
        """A new garment of a block for somebody with every measure, in Shape."""

        def fresh(document):  # type: ignore[no-untyped-def]
            people = (*document.people, WHO) if WHO.name not in [p.name for p in document.people] else document.people
            wearer = document.model_copy(update={"people": people, "wearer": WHO.name})
            return begin_with(wearer, Recipe.of(block))

        self.window.bench.edit(block, fresh)
        self.window.go("shape")
        settle(self.qtbot, self.window)
        self.window.table.fit()
        settle(self.qtbot, self.window)

    @property
    def pattern(self) -> Pattern:
        result = self.window.bench.result
        assert result is not None and result.pattern is not None
        return result.pattern

    @property
    def steps(self) -> tuple[StepEntry, ...]:
        return self.window.bench.history.document.recipe.steps

    def tool(self, kind: str) -> None:
        raise NotImplementedError

    def choose(self, thing: Thing, *more: Thing) -> None:
        raise NotImplementedError

    def place(self, run: str, share: float) -> None:
        raise NotImplementedError

    def line(self, piece: str, start: tuple[str, float], end: tuple[str, float]) -> None:
        raise NotImplementedError

    def over_a_seam(self, start: tuple[str, float], end: tuple[str, float]) -> None:
        raise NotImplementedError

    def amount(self, name: str, cm: float) -> None:
        raise NotImplementedError

    def option(self, name: str, key: str) -> None:
        raise NotImplementedError

    def keep(self) -> None:
        raise NotImplementedError

    def put_at(self, thing: Thing, kind: str, run: str, share: float) -> None:
        """A step put on what is chosen, a place given, kept and done."""
        self.choose(thing)
        self.tool(kind)
        self.place(run, share)
        self.keep()
        self.done(kind)

    def _combo(self, name: str) -> QComboBox:
        fields = self.window.shape.fields
        assert fields is not None
        field = fields.fields[name]
        return field if isinstance(field, QComboBox) else field.findChildren(QComboBox)[0]

    def done(self, kind: str) -> None:
        """The step was kept, and is done."""
        settle(self.qtbot, self.window)
        assert self.hand.gesture is None and self.steps[-1].kind == kind, (self.hand.gesture, self.steps)
        made = self.window.bench.result
        assert made is not None and not made.evaluated.outcomes[-1].stuck, made.evaluated.outcomes[-1].stuck


class ByPointer(Maker):
    """With the pointer alone: clicks, drags and buttons."""

    def _at(self, thing: Thing) -> tuple[str, QPointF]:
        found = places_of(self.pattern, thing)[0]
        item = self.window.table.pieces[found.piece]
        at = found.at
        if thing.kind == "dart":
            _, a, apex, b = item.cut.piece.legs(thing.ref)
            at = (a + b) / 2 + (apex - (a + b) / 2) * 0.15
        if thing.kind == "piece":
            at = found.at + (12 + 25j)
        if thing.kind == "edge" and found.lines:
            path = found.lines[0]
            at = path.point_at(path.length * 0.3)
        return found.piece, item.mapToScene(QPointF(at.real, at.imag))

    def choose(self, thing: Thing, *more: Thing) -> None:
        click(self.window, self._at(thing)[1])
        for other in more:
            click(self.window, self._at(other)[1], Qt.KeyboardModifier.ShiftModifier)
        assert {one.ref for one in self.hand.selection} == {thing.ref, *(one.ref for one in more)}, self.hand.selection

    def tool(self, kind: str) -> None:
        buttons = self.hand.bar.buttons
        if kind in buttons and buttons[kind].isVisible():
            QTest.mouseClick(buttons[kind], Qt.MouseButton.LeftButton)
            return
        label = STEPS[kind].label
        docket = [
            one
            for one in self.window.shape.findChildren(QPushButton, "tool")
            if one.text().partition("   ")[0] == label and one.isVisible()
        ]
        if docket:
            QTest.mouseClick(docket[0], Qt.MouseButton.LeftButton)
            return
        more = next(one for one in self.window.shape.findChildren(QPushButton, "tool") if one.text().startswith("More"))
        QTest.mouseClick(more, Qt.MouseButton.LeftButton)
        found = self.window.finder.list
        row = next(n for n in range(found.count()) if found.item(n).text().partition("   ")[0] == label)
        box = found.visualItemRect(found.item(row))
        found.scrollToItem(found.item(row))
        box = found.visualItemRect(found.item(row))
        QTest.mouseClick(found.viewport(), Qt.MouseButton.LeftButton, pos=box.center())

    def place(self, run: str, share: float) -> None:
        piece = places_of(self.pattern, Thing("edge", run))[0].piece
        there = on_table(self.window, piece, run, share)
        gesture = self.hand.gesture
        proposed = next((v for v in gesture.values.values() if isinstance(v, Place)), None) if gesture else None
        if proposed is None:
            click(self.window, there)
        else:  # a place that the step proposes is pulled by its handle
            drag(self.window, on_table(self.window, piece, proposed.edge, proposed.share or 0.5), there, self.qtbot)
        settle(self.qtbot, self.window)
        held = [v for v in self.hand.gesture.values.values() if isinstance(v, Place)]
        assert not held or held[0].edge == run, held

    def line(self, piece: str, start: tuple[str, float], end: tuple[str, float]) -> None:
        a, b = (on_table(self.window, piece, run, share) for run, share in (start, end))
        way = (b - a) / max(1.0, (b - a).manhattanLength())
        drag(self.window, a + way * 12, b - way * 12, self.qtbot)

    def over_a_seam(self, start: tuple[str, float], end: tuple[str, float]) -> None:
        self.place(*start)
        self.place(*end)

    def amount(self, name: str, cm: float) -> None:
        """Pull its handle until the amount is about right."""
        for _ in range(6):
            gesture = self.hand.gesture
            assert gesture is not None
            held = handle(self.window, name)
            now = float(gesture.plain[name])
            parameter = next(one for one in gesture.step.parameters if one.name == name)
            wanted = cm * (10 if parameter.kind == "length" else 1)
            if abs(now - wanted) <= (2.0 if parameter.kind == "length" else 0.01):
                return
            probe = gesture.moved(held.handle, held.handle.at + 20)
            along = float(probe.plain[name]) - now
            probe_down = gesture.moved(held.handle, held.handle.at + 20j)
            down = float(probe_down.plain[name]) - now
            way = complex(along, down)
            pull = way / abs(way) ** 2 * 20 * (wanted - now) if abs(way) > 1e-9 else 20
            item = self.window.table.pieces[held.handle.piece]
            target = held.handle.at + pull
            drag(
                self.window,
                held.scenePos(),
                item.mapToScene(QPointF(target.real, target.imag)),
                self.qtbot,
                Qt.KeyboardModifier.AltModifier,
            )

    def option(self, name: str, key: str) -> None:
        combo = self._combo(name)
        QTest.mouseClick(combo, Qt.MouseButton.LeftButton)
        listed = combo.view()
        assert listed is not None
        box = listed.visualRect(combo.model().index(combo.findData(key), 0))
        QTest.mouseClick(listed.viewport(), Qt.MouseButton.LeftButton, pos=box.center())

    def keep(self) -> None:
        self.qtbot.waitUntil(lambda: not self.window.bench.busy, timeout=5000)
        QTest.mouseClick(self.hand.bar.buttons["keep"], Qt.MouseButton.LeftButton)


class ByKeys(Maker):
    """With the keyboard alone: walking, letters, typing and Enter."""

    def _key(self, code: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(self.window.table.view, code, modifier)

    def choose(self, thing: Thing, *more: Thing) -> None:
        del more
        self.window.table.view.setFocus()
        self._key(Qt.Key.Key_Escape)
        self._key(Qt.Key.Key_Tab)
        piece = places_of(self.pattern, thing)[0].piece
        for _ in range(8):
            if self.hand.selection[-1].ref == piece:
                break
            self._key(Qt.Key.Key_Right)
        if thing.kind != "piece":
            for _ in range(5):
                self._key(Qt.Key.Key_Down)
                if self.hand.selection[-1].kind == thing.kind:
                    break
            for _ in range(40):
                if self.hand.selection[-1].ref == thing.ref:
                    break
                self._key(Qt.Key.Key_Right)
        assert self.hand.selection[-1] == thing, (thing, self.hand.selection)

    def tool(self, kind: str) -> None:
        step = STEPS[kind]
        if step.key:
            QTest.keyClick(self.window.table.view, step.key)
            return
        self._key(Qt.Key.Key_Space)
        QTest.keyClicks(self.window.finder.field, step.label)
        QTest.keyClick(self.window.finder.field, Qt.Key.Key_Return)

    def _typed(self, name: str, text: str) -> None:
        fields = self.window.shape.fields
        assert fields is not None
        field = fields.fields[name]
        line = field if isinstance(field, QLineEdit) else next(one for one in field.findChildren(QLineEdit))
        type_into(line, text)

    def place(self, run: str, share: float) -> None:
        gesture = self.hand.gesture
        assert gesture is not None
        name = next(one.name for one in gesture.step.parameters if one.kind == "place")
        self._typed(name, f"{run}@{share:g}")

    def line(self, piece: str, start: tuple[str, float], end: tuple[str, float]) -> None:
        self._typed("line", f"{piece}.{start[0]}@{start[1]:g}; {piece}.{end[0]}@{end[1]:g}")

    def over_a_seam(self, start: tuple[str, float], end: tuple[str, float]) -> None:
        self._typed("line", f"{start[0]}@{start[1]:g}; {end[0]}@{end[1]:g}")

    def amount(self, name: str, cm: float) -> None:
        self._typed(name, f"{cm:g}")

    def option(self, name: str, key: str) -> None:
        combo = self._combo(name)
        combo.setFocus()
        for _ in range(combo.count()):
            if combo.currentData() == key:
                break
            QTest.keyClick(combo, Qt.Key.Key_Down)

    def keep(self) -> None:
        self.qtbot.waitUntil(lambda: not self.window.bench.busy, timeout=5000)
        self.window.table.view.setFocus()
        self._key(Qt.Key.Key_Return)


def princess(maker: Maker) -> None:
    maker.begin("bodice.darted")
    maker.put_at(Thing("dart", "front.bust_dart"), "princess", "front.shoulder", 0.45)
    assert sum(p.made == "front" or p.made.startswith("front") for p in maker.pattern.pieces) == 2


def puff(maker: Maker) -> None:
    maker.begin("sleeve.set_in")
    before = maker.pattern.run_length("sleeve.cap_front") + maker.pattern.run_length("sleeve.cap_back")
    maker.choose(Thing("edge", "sleeve.cap_front"), Thing("edge", "sleeve.cap_back"))
    maker.tool("slash")
    if isinstance(maker, ByKeys):
        maker._typed("edges", "sleeve.cap_front, sleeve.cap_back")
    maker.amount("count", 7)
    maker.amount("amount", 2.5)
    maker.keep()
    maker.done("slash")
    after = maker.pattern.run_length("sleeve.cap_front") + maker.pattern.run_length("sleeve.cap_back")
    assert 130 < after - before < 220, "seven lines, each opened by about 2.5"


def wide_legs(maker: Maker) -> None:
    maker.begin("trousers.tailored")
    hem = maker.pattern.run_length("front.hem")
    maker.choose(Thing("piece", "front"))
    maker.tool("widen")
    maker.amount("amount", 6)
    maker.keep()
    maker.done("widen")
    maker.choose(Thing("edge", "front.waist"))
    maker.tool("waist_shape")
    maker.amount("front", 3)
    maker.keep()
    maker.done("waist_shape")
    assert maker.pattern.run_length("front.hem") - hem > 90


def tank(maker: Maker) -> None:
    maker.begin("top.knit")
    neck, arm = maker.pattern.run_length("front.neckline"), maker.pattern.run_length("front.armhole")
    maker.choose(Thing("edge", "front.neckline"))
    maker.tool("neckline")
    maker.amount("down", 6)
    maker.keep()
    maker.done("neckline")
    maker.choose(Thing("edge", "front.armhole"))
    maker.tool("armhole")
    maker.amount("lower", 2.5)
    maker.amount("cut_in", 2)
    maker.keep()
    maker.done("armhole")
    maker.choose(Thing("piece", "sleeve"))
    maker.tool("take_away")
    maker.keep()
    maker.done("take_away")
    assert maker.pattern.run_length("front.neckline") > neck + 30 and maker.pattern.run_length("front.armhole") > arm
    assert not maker.pattern.has("sleeve")


def hip_yoke(maker: Maker) -> None:
    """A yoke round the hips: one line from the centre front over the side seam to the centre back."""
    maker.begin("skirt.straight")
    maker.choose(Thing("piece", "front"))
    maker.tool("cut")
    maker.over_a_seam(("front.centre_front", 0.8), ("back.centre_back", 0.8))
    maker.keep()
    maker.done("cut")
    assert len([one for one in maker.pattern.pieces if one.made in ("front", "back")]) == 4


def yoke(maker: Maker) -> None:
    maker.begin("dress.sheath")
    maker.choose(Thing("piece", "front"))
    maker.tool("cut")
    maker.line("front", ("centre_front", 0.75), ("armhole", 0.45))
    maker.keep()
    maker.done("cut")
    cut = maker.steps[-1].id
    maker.choose(Thing("dart", "front.bust_dart"))
    maker.tool("pivot_dart")
    lower = next(p for p in maker.pattern.pieces if any(d.name == "front.bust_dart" for d in p.darts))
    run = next(edge.id for edge in lower.edges if edge.name == f"{cut}.cut")
    if isinstance(maker, ByKeys):
        maker.place(run, 0.55)
    else:
        item = maker.window.table.pieces[lower.name]
        at, _, _ = item.cut.piece.run_point(f"{cut}.cut", item.cut.piece.run_length(f"{cut}.cut") * 0.55)
        click(maker.window, item.mapToScene(QPointF(at.real, at.imag)))
    maker.keep()
    maker.done("pivot_dart")
    dart = next(d for p in maker.pattern.pieces for d in p.darts if d.name == "front.bust_dart")
    maker.choose(Thing("dart", dart.id))
    maker.tool("dart_into")
    maker.keep()
    maker.done("dart_into")
    assert any(seam.kind == "gathered" for seam in maker.pattern.seams)


def slanted(maker: Maker) -> None:
    maker.begin("skirt.straight")
    maker.choose(Thing("dart", "front.front_dart"))
    maker.tool("dart_into")
    maker.option("how", "eased")
    maker.keep()
    maker.done("dart_into")
    maker.choose(Thing("piece", "front"))
    maker.tool("cut")
    maker.line("front", ("waist", 0.2), ("side", 0.7))
    maker.keep()
    maker.done("cut")
    maker.choose(Thing("edge", "back.hem"))
    maker.tool("hem_shape")
    maker.amount("back", 9)
    maker.keep()
    maker.done("hem_shape")
    assert len([p for p in maker.pattern.pieces if p.made == "front"]) == 2
    assert maker.pattern.run_length("back.centre_back") > 350


def own(maker: Maker) -> None:
    """The recipe is typed in both ways; words can't be pointed at."""
    maker.begin("own.points")
    window = maker.window
    window.go("draft")
    settle(maker.qtbot, window)
    field = window.draft.texts["recipe"]
    field.edit.setFocus()
    field.edit.selectAll()
    for line in SKIRT.replace("long = 60cm", "long = 55cm").splitlines():
        QTest.keyClicks(field.edit, line)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
    window.go("shape")
    settle(maker.qtbot, window)
    lengths = []
    for who in (WHO.name, demo_document().people[0].name):
        window.bench.edit(who, lambda d, who=who: edits.choose_wearer(d, who))  # type: ignore[misc]
        settle(maker.qtbot, window)
        assert abs(maker.pattern.run_length("skirt_front.centre_front") - 550) < 1e-6
        lengths.append(maker.pattern.run_length("skirt_front.hem"))
    assert abs(lengths[0] - lengths[1]) > 1


DESIGNS: tuple[Callable[[Maker], None], ...] = (princess, puff, wide_legs, tank, yoke, hip_yoke, slanted, own)


@pytest.mark.parametrize(
    ("design", "way"),
    [(design, way) for n, design in enumerate(DESIGNS) for way in share((ByPointer, ByKeys), 2, n)],
    ids=lambda one: one.__name__,
)
def test_a_design_is_made(window: MainWindow, qtbot: QtBot, design: Callable[[Maker], None], way: type[Maker]) -> None:
    begun = time.perf_counter()
    design(way(window, qtbot))
    print(f"{design.__name__} by {way.__name__}: {time.perf_counter() - begun:.1f} s")
    made = window.bench.result
    assert made is not None and not [o.stuck for o in made.evaluated.outcomes if o.stuck]
    assert not [f for f in made.findings if f.code == "step.shape"]
