"""A whole design made again in the window from its block, step by step, by somebody with a pointer or a keyboard.

What the shipped design has is what the maker wants; how it is got is theirs: things are clicked or walked to, tools
taken from the bar, the docket or the finder, places clicked or typed, amounts typed, choices and ticks set.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QLineEdit, QPushButton, QWidget

from caddet.core.designs import Design
from caddet.core.hands.offers import offers
from caddet.core.hands.things import Thing, edge_thing, places_of
from caddet.core.pattern.features import Dart
from caddet.core.pattern.finding import chosen_edges
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import BlockSource, Document, Recipe
from caddet.core.recipe.parameters import NAMING, Parameter
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import STEPS, Step, block_named
from caddet.core.recipe.typed import typed_text, typed_value
from caddet.core.recipe.values import Formula, Number, Place
from caddet.core.shaping.framing import spot_point
from caddet.desk.widgets.fields import AmountField, Choices, LengthField
from tests.desk.conftest import settle, type_into
from tests.desk.pointer import click, drag
from tests.desk.test_shape_walk import ByKeys, ByPointer, Maker

FINE = Qt.KeyboardModifier.AltModifier


def remake(maker: Maker, design: Design) -> None:
    """Make a design from nothing but its people and cloths."""
    wanted = design.document
    window, qtbot = maker.window, maker.qtbot

    def laid_ready(document: Document) -> Document:
        """A project as it is begun, with the wearer and the cloths on the shelf."""
        document = begin_with(document, Recipe.of("skirt.straight"))
        parts = {**document.parts(), "wearer": wanted.wearer, "cloths": wanted.cloths, "roles": wanted.roles}
        return Document.model_validate(parts)

    window.bench.edit("Cloth and wearer", laid_ready)
    settle(qtbot, window)
    ids: dict[str, str] = {}
    for number, source in enumerate(wanted.recipe.sources):
        assert isinstance(source, BlockSource)
        _choose_block(maker, source, beside=number > 0)
        made = window.bench.history.document.recipe.sources[-1]
        assert isinstance(made, BlockSource) and made.block == source.block
        ids[source.id] = made.id
        _set_options(maker, source, turn_to=made.id if number else "")
    window.go("shape")
    settle(qtbot, window)
    for entry in wanted.recipe.steps:
        window.table.fit()
        settle(qtbot, window)
        values = {name: _moved(typed_text(value), ids) for name, value in entry.values.items()}
        kept = {name: value for name, value in entry.values.items()}
        _make_step(maker, STEPS[entry.kind], values, kept)
        ids[entry.id] = maker.steps[-1].id


def _moved(text: str, ids: dict[str, str]) -> str:
    """A typed reference with the ids that sources and steps have here."""
    text = re.sub(r"\bs(\d+)(?=[.ab\]_]|\b)", lambda m: ids.get(f"s{m[1]}", m[0]), text)
    return re.sub(r"\bb(\d+)_", lambda m: ids.get(f"b{m[1]}", f"b{m[1]}") + "_", text)


# --- the block ------------------------------------------------------------------------------------


def _choose_block(maker: Maker, source: BlockSource, beside: bool) -> None:
    window, page = maker.window, maker.window.plan.garment
    window.go("plan")
    window.plan.show_page("garment")
    settle(maker.qtbot, window)
    label = block_named(source.block).label
    page.search.setFocus()
    page.search.selectAll()
    QTest.keyClicks(page.search, label)
    QTest.keyClick(page.search, Qt.Key.Key_Return)
    while page.looked != source.block:
        QTest.keyClick(page.list, Qt.Key.Key_Down)
    _press(maker, page.beside if beside else page.make)
    page.search.clear()
    settle(maker.qtbot, window)


def _press(maker: Maker, button: QWidget) -> None:
    if isinstance(maker, ByKeys):
        button.setFocus()
        QTest.keyClick(button, Qt.Key.Key_Space)
    else:
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def _set_options(maker: Maker, source: BlockSource, turn_to: str) -> None:
    window = maker.window
    window.go("draft")
    settle(maker.qtbot, window)
    draft = window.draft
    if turn_to:
        _pick(maker, draft.beside.combo, turn_to)
        settle(maker.qtbot, window)
    assert draft.chosen.block == source.block
    for name, value in source.options.items():
        text = typed_text(value)
        if name in draft.choices:
            _choice(maker, draft.choices[name], text)
        elif name in draft.flags:
            _tick(maker, draft.flags[name], text == "yes")
        else:
            kind = next(one.kind for one in block_named(source.block).options if one.name == name)
            _amount(draft.fields[name], value, text, length=kind == "length")
        settle(maker.qtbot, window)
    for level, mm in source.ease.items():
        type_into(draft.fields[f"ease_{level}"].edit, f"{mm / 10:g}")
        settle(maker.qtbot, window)


# --- a step ---------------------------------------------------------------------------------------


def _make_step(maker: Maker, step: Step, values: dict[str, str], kept: dict[str, object]) -> None:
    first = _first_thing(maker.pattern, step, values)
    if isinstance(maker, ByPointer):
        _click_thing(maker, first)
    else:
        maker.choose(first)
    maker.tool(step.kind)
    maker.qtbot.waitUntil(lambda: maker.hand.gesture is not None, timeout=3000)
    gesture = maker.hand.gesture
    assert gesture is not None and gesture.step is step, f"{step.kind}: the tool did not begin on {first}"
    known = {parameter.name: parameter for parameter in step.parameters}
    # what is pointed at first, then how much: as the trade does it
    for name in sorted(values, key=lambda one: known[one].is_amount or known[one].kind in ("choice", "flag", "text")):
        _set(maker, known[name], values, kept[name])
    gesture = maker.hand.gesture
    assert gesture is not None and not gesture.trouble, f"{step.kind}: {gesture.trouble if gesture else 'gone'}"
    maker.keep()
    maker.done(step.kind)


def _first_thing(pattern: Pattern, step: Step, values: dict[str, str]) -> Thing:
    """What a maker would choose to do this: what the step names, else the first thing that it is offered for."""
    wished = [thing for parameter in step.parameters for thing in _meant(pattern, parameter, values)]
    for thing in (*wished, *_some(pattern)):
        if any(one.step is step and not one.refused for one in offers(pattern, (thing,))):
            return thing
    raise AssertionError(f"{step.kind} is offered for nothing here")


def _meant(pattern: Pattern, parameter: Parameter, values: dict[str, str]) -> Iterator[Thing]:
    """The things that a value names, piece by piece."""
    text = values.get(parameter.name, "")
    if not text:
        return
    if parameter.kind in ("edges", "place"):
        names = [text.partition("@")[0]] if parameter.kind == "place" else re.split(r", ?(?![^\[]*\])", text)
        only = values.get("pieces", "")
        for name in names:
            for piece, key in chosen_edges(pattern, (name,)):
                if only and piece not in [one for p in only.split(",") for one in pattern.pieces_meant(reference(p))]:
                    continue  # the edges of the pieces that are named beside them
                yield edge_thing(pattern, piece, key)
    elif parameter.kind in ("pieces", "dart", "level", "seam"):
        kind = "piece" if parameter.kind == "pieces" else parameter.kind
        for name in re.split(r", ?(?![^\[]*\])", text):
            if kind == "dart":
                named = [dart for piece in pattern.pieces for dart in piece.darts if _is_meant(name, dart)]
                yield from (Thing("dart", dart.id) for dart in named)
            elif kind == "piece":
                yield from (Thing("piece", piece.name) for piece in pattern.pieces_meant(reference(name)))
            else:
                yield Thing(kind, name)  # type: ignore[arg-type]  # one of the kinds of thing
    elif parameter.kind in ("line", "lines", "points"):
        for name in re.findall(r"([^;|@ ]+)@", text):
            for piece, _ in chosen_edges(pattern, (name,)):
                yield Thing("piece", piece.name)


def _is_meant(name: str, dart: Dart) -> bool:
    wanted = reference(name)
    return dart.name == wanted.name and wanted.marks <= dart.marks


def _some(pattern: Pattern) -> Iterator[Thing]:
    for piece in pattern.pieces:
        yield Thing("piece", piece.name)
        yield from (edge_thing(pattern, piece, key) for key in piece.runs())


def _set(maker: Maker, parameter: Parameter, values: dict[str, str], value: object) -> None:
    text = values[parameter.name]
    gesture, fields = maker.hand.gesture, maker.window.shape.fields
    assert gesture is not None and fields is not None
    field = fields.fields[parameter.name]
    if parameter.kind == "flag":
        _tick(maker, field.findChild(QCheckBox) or field, text == "yes")
    elif parameter.kind == "choice":
        _choice(maker, field, text)
    elif parameter.is_amount:
        assert isinstance(field, AmountField)
        _amount(field, value, text, length=parameter.kind == "length")
    elif parameter.kind in ("text", "table"):
        line = field if isinstance(field, QLineEdit) else field.findChildren(QLineEdit)[0]
        type_into(line, text)
    elif isinstance(maker, ByKeys):
        type_into(field.findChildren(QLineEdit)[0], text)
    else:
        assert isinstance(maker, ByPointer)
        _point_at(maker, parameter, field, values)
    maker.qtbot.wait(5)
    now = maker.hand.gesture
    assert now is not None, f"{gesture.step.kind}: setting {parameter.name} let the step go"


def _point_at(maker: ByPointer, parameter: Parameter, field: QWidget, values: dict[str, str]) -> None:
    """Ask for it on the table, then click it there."""
    gesture, text = maker.hand.gesture, values[parameter.name]
    assert gesture is not None
    pattern = gesture.before
    if parameter.kind in NAMING:
        now = tuple(gesture.plain.get(parameter.name) or ())
        things = [one for one in _meant(pattern, parameter, values) if one.ref not in now]
        whole = {(p.name, key) for p, key in chosen_edges(pattern, now)} if parameter.kind == "edges" and now else set()
        things = [one for one in things if not whole or not _all_in(pattern, one, whole)]
        if not things:
            return
        _ask(maker, field)
        for thing in things:
            _click_thing(maker, thing)
        return
    _ask(maker, field)
    places = _on_table(maker, pattern, parameter, text)
    view = maker.window.table.view
    if not all(view.viewport().rect().contains(view.mapFromScene(place)) for place in places):
        maker.window.table.fit()
    if parameter.kind in ("line", "lines"):
        begun, end = places
        way = (end - begun) / max(1.0, (end - begun).manhattanLength())
        drag(maker.window, begun + way * 8, end - way * 8, maker.qtbot, FINE)
    else:
        for place in places:
            click(maker.window, place, FINE)


def _all_in(pattern: Pattern, thing: Thing, runs: set[tuple[str, str]]) -> bool:
    return all((piece.name, key) in runs for piece, key in chosen_edges(pattern, (thing.ref,)))


def _ask(maker: ByPointer, field: QWidget) -> None:
    button = next(one for one in field.findChildren(QPushButton) if one.text() == "On the table")
    maker.window.shape.scroller.ensureWidgetVisible(button)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def _on_table(maker: ByPointer, pattern: Pattern, parameter: Parameter, text: str) -> list[QPointF]:
    """Where the places, line or points of a value lie on the table."""
    value = typed_value(parameter, text)
    places = []
    for spot in [value] if isinstance(value, Place) else value.points:
        piece, at = spot_point(pattern, spot, parameter.name)
        places.append(maker.window.table.pieces[piece.name].mapToScene(QPointF(at.real, at.imag)))
    return places


def _click_thing(maker: ByPointer, thing: Thing) -> None:
    """Click a thing where nothing else lies over it; what is not seen at this zoom is gone nearer to first."""
    window, view = maker.window, maker.window.table.view
    for nearer in (False, True):
        for found in places_of(maker.hand.pattern or maker.pattern, thing)[:1]:
            for place in _spots(maker, thing, found.piece):
                if nearer:
                    _go_nearer(maker, place)
                hit = maker.hand._under(view.mapToScene(view.mapFromScene(place)))
                inside = view.viewport().rect().contains(view.mapFromScene(place))
                covered = maker.hand.bar.isVisible() and maker.hand.bar.geometry().contains(view.mapFromScene(place))
                if inside and not covered and hit is not None and hit[1] == thing:
                    click(window, place)
                    maker.qtbot.wait(5)
                    return
    raise AssertionError(f"{thing} can't be clicked")


def _go_nearer(maker: ByPointer, place: QPointF) -> None:
    view = maker.window.table.view
    view.centerOn(place)
    for _ in range(6):
        if view.transform().m11() > 2.5:
            break
        QTest.keyClick(view, Qt.Key.Key_Plus)
    view.centerOn(place)


def _spots(maker: ByPointer, thing: Thing, piece: str) -> Iterator[QPointF]:
    pattern = maker.hand.pattern or maker.pattern
    item = maker.window.table.pieces[piece]
    for found in places_of(pattern, thing)[:1]:
        points = [found.at]
        if thing.kind == "piece":
            left, top, right, bottom = pattern.piece(piece).outline().bounds()
            across, down = right - left, bottom - top
            shares = (0.45, 0.3, 0.6, 0.2, 0.75, 0.1, 0.9)
            points = [complex(left + across * x, top + down * y) for x in shares for y in shares]
        elif thing.kind == "dart":
            _, a, apex, b = pattern.piece(piece).legs(thing.ref)
            points = [(a + b) / 2 + (apex - (a + b) / 2) * share for share in (0.15, 0.3, 0.5)]
        elif found.lines:
            path = found.lines[0]
            points = [path.point_at(path.length * share) for share in (0.3, 0.6, 0.45, 0.8, 0.15)]
        yield from (item.mapToScene(QPointF(at.real, at.imag)) for at in points)


# --- fields ---------------------------------------------------------------------------------------


def _amount(field: LengthField, value: object, text: str, length: bool = True) -> None:
    if isinstance(value, Number):
        text = f"{value.value / 10:g}" if length else f"{value.value:g}"
    elif isinstance(value, Formula):
        text = value.text
    type_into(field.edit, text)
    assert not field.wrong.text(), f"{field.edit.accessibleName()}: {field.wrong.text()}"


def _tick(maker: Maker, box: QWidget, on: bool) -> None:
    assert isinstance(box, QCheckBox)
    if box.isChecked() != on:
        if isinstance(maker, ByKeys):
            box.setFocus()
            QTest.keyClick(box, Qt.Key.Key_Space)
        else:
            QTest.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(8, box.height() // 2))
    assert box.isChecked() == on


def _choice(maker: Maker, field: QWidget, key: str) -> None:
    if isinstance(field, Choices):
        if not field.buttons[key].isChecked():
            _press(maker, field.buttons[key])
        assert field.buttons[key].isChecked()
        return
    combo = field if isinstance(field, QComboBox) else field.findChildren(QComboBox)[0]
    _pick(maker, combo, key)


def _pick(maker: Maker, combo: QComboBox, key: str) -> None:
    if isinstance(maker, ByKeys):
        combo.setFocus()
        up = combo.findData(key) < combo.currentIndex()
        for _ in range(combo.count()):
            if combo.currentData() == key:
                break
            QTest.keyClick(combo, Qt.Key.Key_Up if up else Qt.Key.Key_Down)
    elif combo.currentData() != key:
        maker.window.shape.scroller.ensureWidgetVisible(combo)
        QTest.mouseClick(combo, Qt.MouseButton.LeftButton)
        maker.qtbot.wait(QApplication.doubleClickInterval() + 40)  # a list just opened takes no click before that
        listed = combo.view()
        assert listed is not None
        box = listed.visualRect(combo.model().index(combo.findData(key), 0))
        QTest.mouseClick(listed.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
    assert combo.currentData() == key
