"""What a monkey does to a window: deeds that can be written down, played again, and cut down to the shortest list."""

from __future__ import annotations

import json
import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QGraphicsView,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QWidget,
)

from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Row
from caddet.desk.window import MainWindow

# words that somebody may type, or that a cat may
WORDS = (
    "98", "36 1/4", "12,5", "-3", "0", "9999", "hip / 4 + 2cm", "band", "1 yd 3 in", "", " ", "50%", "abc", "((", "front.side@0.5", "front",
    "Anna", "<b>x</b>", "½", "dart", "waist", "2cm; 3cm", "A = B down 3", "nan", "1e308", "a" * 300, "٣", "piece", "=1", "99" * 40,
)  # fmt: skip
KEYS = (
    "Tab", "Backtab", "Return", "Escape", "Space", "Left", "Right", "Up", "Down", "PageUp", "PageDown", "Home", "End", "Delete", "Backspace",
    "T", "N", "J", "M", "0", "1", "Plus", "Minus", "F6", "Menu",
)  # fmt: skip
SHORTCUTS = ("Ctrl+Z", "Ctrl+Y", "Ctrl+K", "Ctrl+K", "Ctrl+K", "Ctrl+U", "Ctrl+L", "Ctrl++", "Ctrl+P", "Ctrl+E", "Ctrl+O", "Ctrl+N", "Ctrl+Shift+S", "Ctrl+A", "Ctrl+C", "Ctrl+V")  # fmt: skip
REACHED = (QAbstractButton, QLineEdit, QPlainTextEdit, QAbstractSlider, QComboBox, QListWidget, Row, QGraphicsView)


@dataclass(frozen=True, slots=True)
class Deed:
    """One thing that is done: what, to which widget (by its name and number), at which shares of it, and with what."""

    what: str
    on: str = ""
    nth: int = 0
    places: tuple[tuple[float, float], ...] = ()
    text: str = ""
    number: int = 0


def written(deeds: Sequence[Deed]) -> str:
    """Deeds as lines of JSON."""
    return "".join(json.dumps(asdict(one)) + "\n" for one in deeds)


def read_deeds(path: Path) -> list[Deed]:
    """Deeds from a file."""
    found = []
    for line in path.read_text("utf-8").splitlines():
        raw: dict[str, Any] = json.loads(line)
        found.append(Deed(**{**raw, "places": tuple(tuple(one) for one in raw["places"])}))
    return found


# --- what there is to reach -----------------------------------------------------------------------


def name_of(widget: QWidget) -> str:
    """What a widget is called: its kind, and its name for a screen reader, its words or its name in the style."""
    text = widget.text() if isinstance(widget, QAbstractButton) else ""
    return f"{type(widget).__name__}|{widget.accessibleName() or text or widget.objectName()}"[:80]


def reached(window: MainWindow) -> Iterator[QWidget]:
    """Everything that can be pointed at: in the window and in those it has opened."""
    tops = [window, *(one for one in QApplication.topLevelWidgets() if one is not window and one.isVisible())]
    for top in tops:
        for kind in REACHED:
            for widget in top.findChildren(kind):
                if widget.isVisible() and widget.isEnabled() and widget.width() > 3:
                    yield widget


def _found(window: MainWindow, deed: Deed) -> QWidget | None:
    same = [widget for widget in reached(window) if name_of(widget) == deed.on]
    widget = same[deed.nth % len(same)] if same else None
    return widget.viewport() if isinstance(widget, QGraphicsView) else widget


# --- choosing -------------------------------------------------------------------------------------


def random_deed(window: MainWindow, chance: random.Random) -> Deed:
    """Something to do next with what is there."""
    roll = chance.random()
    if roll < 0.03:
        return Deed("station", number=chance.randrange(len(window.places)))
    if roll < 0.06:
        return Deed("wearer", number=chance.randrange(9))
    if roll < 0.11:
        return Deed("undo" if chance.random() < 0.6 else "redo", number=chance.randint(1, 3))
    if roll < 0.16:
        return Deed("keys", text=chance.choice(SHORTCUTS), number=chance.randrange(10**6))
    if roll < 0.24:
        return Deed("key", text=chance.choice(KEYS), number=chance.randrange(8))
    if roll < 0.32:
        return Deed("type", text=chance.choice(WORDS), number=chance.randrange(3))
    if roll < 0.34:
        return Deed("wait", number=chance.choice((5, 30, 120, 400)))
    if roll < 0.345:
        return Deed(chance.choice(("scale", "size", "size")), number=chance.randrange(5))
    if roll < 0.35:
        return Deed(chance.choice(("close", "project")), number=chance.randrange(10**6))
    every = list(reached(window))
    table = chance.random() < 0.35
    widget = window.table.view if table else chance.choice(every)
    name = name_of(widget)
    nth = [one for one in every if name_of(one) == name].index(widget) if widget in every else 0
    what = chance.choices(
        ("click", "double", "right", "hover", "wheel", "drag"), (50, 4, 4, 10, 8, 24 if table else 8)
    )[0]
    count = chance.randint(2, 9) if what == "drag" else 1
    places = tuple(_place(window, table, chance) for _ in range(count))
    return Deed(
        what,
        name,
        nth,
        places,
        text=chance.choice(("", "", "", "undo", "wearer", "station", "Escape", "edit")),
        number=chance.randrange(10**6),
    )


def _place(window: MainWindow, table: bool, chance: random.Random) -> tuple[float, float]:
    """A place as shares of a widget; on the table mostly where something lies."""
    view = window.table.view
    items = [item for item in view.scene().items() if item.isVisible()] if table and chance.random() < 0.75 else []
    if items:
        rect = chance.choice(items).sceneBoundingRect()
        at = view.mapFromScene(
            QPointF(rect.x() + rect.width() * chance.random(), rect.y() + rect.height() * chance.random())
        )
        return round(at.x() / max(view.width(), 1), 4), round(at.y() / max(view.height(), 1), 4)
    return round(chance.uniform(-0.02, 1.02), 4), round(chance.uniform(-0.02, 1.02), 4)


# --- doing ----------------------------------------------------------------------------------------

LEFT, RIGHT = Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton
MODIFIERS = (Qt.KeyboardModifier.NoModifier,) * 6 + (
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
)


def do(window: MainWindow, deed: Deed) -> None:
    """Do a deed with real events, as far as what it needs is there."""
    bench = window.bench
    match deed.what:
        case "station":
            window.go(window.places[deed.number % len(window.places)].key)
        case "wearer":
            _other_wearer(window, deed.number)
        case "undo" | "redo":
            for _ in range(deed.number):
                (bench.undo if deed.what == "undo" else bench.redo)()
        case "wait":
            QTest.qWait(deed.number)
        case "scale":
            LOOK.set_scale(1.0 + deed.number / 8)
        case "size":
            window.resize(900 + 130 * deed.number, 620 + 60 * deed.number)
        case "keys":
            keys = deed.text.split("+") if not deed.text.endswith("++") else ["Ctrl", "Plus"]
            modifier = Qt.KeyboardModifier.NoModifier
            for word in keys[:-1]:
                modifier |= Qt.KeyboardModifier[f"{'Control' if word == 'Ctrl' else word}Modifier"]
            _key(window, {"-": "Minus"}.get(keys[-1], keys[-1]), modifier)
        case "key":
            _key(window, deed.text, MODIFIERS[deed.number])
        case "type":
            for letter in deed.text:
                _letter(window, letter)
            if deed.number:
                _key(window, "Return" if deed.number == 1 else "Tab")
        case _:
            _point(window, deed)


def _other_wearer(window: MainWindow, number: int) -> None:
    from caddet.core.recipe import edits

    people = window.bench.history.document.people
    name = people[number % len(people)].name
    window.bench.edit(f"For {name}", lambda d: edits.choose_wearer(d, name))


def _key(window: MainWindow, name: str, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    target = QApplication.activePopupWidget() or QApplication.focusWidget() or window
    QTest.keyClick(target, Qt.Key[f"Key_{name}"], modifier)


def _letter(window: MainWindow, letter: str) -> None:
    """A letter typed, also one that is on no keyboard."""
    target = QApplication.activePopupWidget() or QApplication.focusWidget() or window
    for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
        key = ord(letter.upper()) if letter.isascii() else 0
        QApplication.sendEvent(target, QKeyEvent(kind, key, Qt.KeyboardModifier.NoModifier, letter))


def _point(window: MainWindow, deed: Deed) -> None:
    widget = _found(window, deed)
    if widget is None:
        return
    modifier = MODIFIERS[deed.number % len(MODIFIERS)]
    places = [QPoint(round(x * widget.width()), round(y * widget.height())) for x, y in deed.places]
    first = places[0]
    match deed.what:
        case "click":
            QTest.mouseClick(widget, LEFT, modifier, first)
        case "double":
            QTest.mouseDClick(widget, LEFT, modifier, first)
        case "right":
            QTest.mouseClick(widget, RIGHT, modifier, first)
        case "hover":
            QTest.mouseMove(widget, first)
        case "wheel":
            way = 120 * (1 if deed.number % 2 else -1)
            event = QWheelEvent(
                QPointF(first),
                QPointF(widget.mapToGlobal(first)),
                QPoint(),
                QPoint(0, way),
                Qt.MouseButton.NoButton,
                modifier,
                Qt.ScrollPhase.NoScrollPhase,
                False,
            )
            QApplication.sendEvent(widget, event)
        case "drag":
            _drag(window, widget, places, modifier, deed)


def _drag(window: MainWindow, widget: QWidget, places: list[QPoint], modifier: Qt.KeyboardModifier, deed: Deed) -> None:
    """Press, move and let go; now and then something else happens in between."""
    QTest.mousePress(widget, LEFT, modifier, places[0])
    for number, place in enumerate(places[1:], 1):
        QTest.mouseMove(widget, place)
        QApplication.processEvents()
        if number == len(places) // 2 and deed.text:
            _in_between(window, deed)
    QTest.mouseRelease(widget, LEFT, modifier, places[-1])


def _in_between(window: MainWindow, deed: Deed) -> None:
    """What happens while something is held."""
    match deed.text:
        case "undo":
            window.bench.undo()
        case "wearer":
            _other_wearer(window, deed.number)
        case "station":
            window.go(window.places[deed.number % len(window.places)].key)
        case "Escape":
            _key(window, "Escape")
        case "edit":
            from caddet.core.recipe import edits

            window.bench.edit("hip", lambda d: edits.set_measure(d, "hip", 900.0 + deed.number % 200, "2026-11-20"))


# --- cutting down ---------------------------------------------------------------------------------


def shortest(deeds: Sequence[Deed], fails: Callable[[Sequence[Deed]], bool]) -> list[Deed]:
    """The shortest list that is found and still fails: the last deeds first, then with every part left out that can be."""
    found = list(deeds)
    length = 1
    while length < len(found):
        if fails(found[-length:]):
            found = found[-length:]
            break
        length *= 2
    part = max(len(found) // 2, 1)
    while True:
        at = 0
        while at < len(found):
            fewer = [*found[:at], *found[at + part :]]
            if fewer and fails(fewer):
                found = fewer
            else:
                at += part
        if part == 1:
            return found
        part = max(part // 2, 1)
