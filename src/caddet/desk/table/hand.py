"""The hand on the table: chooses things, walks from one to the next, and makes steps. It draws what the core says."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QTransform

from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Point
from caddet.core.hands.gesture import POINTED, Gesture, begin, rebased, take_up, with_gesture
from caddet.core.hands.handles import Handle
from caddet.core.hands.offers import Offer, offers
from caddet.core.hands.things import Selection, Thing, places_of, said_thing, thing_at
from caddet.core.hands.walking import Way, walk_on
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.parameters import NAMING
from caddet.core.recipe.registry import Step
from caddet.core.sentences import told
from caddet.desk.later import later
from caddet.desk.table.drawing import qpoint
from caddet.desk.table.hand_bar import HandBar
from caddet.desk.table.hand_items import HandleItem
from caddet.desk.table.hand_shown import HandShown
from caddet.desk.table.table import Table
from caddet.desk.widgets.fields import label
from caddet.desk.workbench import Workbench

REACH = 9.0  # px within which something is meant
LATER = 40  # ms after which is looked again whether the pattern is there
ROOM_BESIDE = 70.0  # px round a piece in which a click still means it, when a place is asked for
SNAP = 0.6  # of that reach, within which a handle settles on something
DRAG = 5.0  # px from which a press is a drag
WALKS: dict[int, Way] = {
    Qt.Key.Key_Right: "next",
    Qt.Key.Key_Left: "before",
    Qt.Key.Key_Down: "in",
    Qt.Key.Key_Up: "out",
    Qt.Key.Key_N: "over",
    Qt.Key.Key_J: "seam",
}
DRAWN_LINES = ("line", "lines")


class Hand(QObject):
    """What is chosen, and the step in hand. Active while Shape is shown."""

    changed = pyqtSignal()  # what is chosen, or the step in hand
    more_wanted = pyqtSignal()

    def __init__(self, bench: Workbench, table: Table) -> None:
        super().__init__(table)
        self.bench, self.table = bench, table
        self.active = False
        self.selection: Selection = ()
        self.gesture: Gesture | None = None
        self.base: Pattern | None = None
        self.hovered: Thing | None = None
        self.shown = HandShown(table, bench, self._frame)
        self.shown.moved.connect(self._moved)
        self.shown.nudged.connect(self._nudge)
        self._frames: dict[str, QTransform] = {}
        self._pressed: tuple[QPointF, QPointF, str] | None = None  # on the screen, on the table, the piece
        self._rubber: tuple[QPointF, QPointF] | None = None
        self._touched = False  # whether the step in hand would do anything yet
        self._outdated = False  # whether the document changed under the step in hand
        self.bar = HandBar(table.view, self.start, self.settle, self.leave, self.set_gesture, self.more_wanted.emit)
        self.note = label()
        self.note.setParent(table.view)
        self.note.setObjectName("handnote")
        self.note.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.note.hide()
        table.view.hand = self
        table.view.scrolled.connect(self._stand)
        table.view.pointed.connect(self._hover)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._preview)
        bench.edited.connect(self._document_changed)

    @property
    def handles(self) -> list[HandleItem]:
        """The handles of the step in hand, as they stand on the table."""
        return self.shown.handles

    # --- what is there ------------------------------------------------------------------------

    @property
    def pattern(self) -> Pattern | None:
        """The pattern that is chosen from: the one before the step in hand, else the shown one."""
        if self.gesture is not None:
            return self.gesture.before
        return self.bench.result.pattern if self.bench.result is not None else None

    @property
    def present(self) -> Selection:
        """What is chosen and there; what an edit took away stays chosen, and comes back with it."""
        pattern = self.pattern
        return tuple(one for one in self.selection if pattern is not None and places_of(pattern, one))

    def enter(self) -> None:
        """Shape is shown: the hand is on the table."""
        self.active = True
        self.refresh()

    def depart(self) -> None:
        """Shape is left: what is in hand is kept when it can be, else left."""
        if self.gesture is not None:
            if self.gesture.missing or self.gesture.trouble or (self.gesture.entry is None and not self._touched):
                self.leave()
            else:
                self.settle()
        self.active = False
        self.hovered = None
        self.note.hide()
        self.bar.hide()
        self.shown.clear()

    def retire(self) -> None:
        """It is taken off the table for good: another hand takes its place."""
        self.active = False
        self.table.view.hand = None
        for one in (self.bar, self.note):
            one.hide()
            one.deleteLater()
        self.deleteLater()

    def choose(self, thing: Thing | None, *, more: bool = False) -> None:
        """Choose a thing; with ``more`` it is added to what is chosen, or taken out of it again."""
        if thing is None:
            self.selection = self.selection if more else ()
        elif not more:
            self.selection = (thing,)
        else:
            self.selection = (
                tuple(one for one in self.selection if one != thing)
                if thing in self.selection
                else (*self.selection, thing)
            )
        self.refresh()
        self.changed.emit()

    def walk(self, way: Way) -> None:
        """Choose the thing that lies that way of the last one."""
        if self.pattern is not None:
            self.choose(walk_on(self.pattern, self.selection[-1] if self.selection else None, way))
            self._bring_into_view()

    # --- the step in hand ---------------------------------------------------------------------

    def start(self, step: Step) -> None:
        """Take up a tool for what is chosen. A step in hand is kept first."""
        if self._laid_down():
            later(self, lambda: self.start(step), LATER)
            return
        made = self.bench.result
        if made is None or made.pattern is None:
            return
        context = made.evaluated.sources[0].context
        document = self.bench.history.document
        self._take(begin(step, made.pattern, context, self.present, f"s{document.recipe.next_id}"))
        if self.gesture is not None:
            self.set_gesture(self.gesture)
        self._touched = False

    def take_up(self, step_id: str) -> None:
        """Take up a step of the recipe again, with its values."""
        if self._laid_down():
            later(self, lambda: self.take_up(step_id), LATER)
            return
        made = self.bench.result
        entry = next((one for one in self.bench.history.document.recipe.steps if one.id == step_id), None)
        if made is None or entry is None:
            return
        before = made.before_step(step_id)
        if before is None:
            return
        try:
            self._take(take_up(entry, before, made.evaluated.sources[0].context))
        except CaddetError as error:
            self.bench.said.emit(str(error))
            return
        self._touched = True
        self.refresh()
        self.changed.emit()

    def _laid_down(self) -> bool:
        """Keep what is in hand, or leave it when it can't be kept; whether its pattern is still to come."""
        if self.gesture is None:
            return False
        self.settle()
        if self.gesture is not None:
            self.leave()
        return self.bench.busy

    def _take(self, gesture: Gesture) -> None:
        self.base = self.bench.result.pattern if self.bench.result is not None else None
        self._frames = {name: item.sceneTransform() for name, item in self.table.pieces.items()}
        self.gesture = gesture
        view = self.table.view
        view.setFocus()

    def set_gesture(self, gesture: Gesture) -> None:
        """The gesture as it is now: shown at once, made in the background."""
        if self.gesture is None:
            return
        self.gesture = gesture
        self._touched = True
        self._later.start(0)
        self.refresh()
        self.changed.emit()

    def _document_changed(self) -> None:
        """Something else was edited (undone, another wearer) while a step is in hand: it goes on on the new pattern."""
        if self.gesture is not None:
            self._later.stop()
            self._outdated = True

    def _begin_anew(self) -> None:
        """Go on with the step in hand on the pattern that was made meanwhile; where there is none, the step is left."""
        made, gesture = self.bench.result, self.gesture
        if gesture is None or made is None or made.document != self.bench.history.document:
            return
        self._outdated = False
        entry = gesture.entry
        pattern = made.before_step(entry.id) if entry is not None else made.pattern
        if pattern is None:
            self.leave()
            return
        context = made.evaluated.sources[0].context
        self._take(rebased(gesture, pattern, context, f"s{self.bench.history.document.recipe.next_id}"))
        if self._touched:
            self._later.start(0)
        self.changed.emit()

    def _preview(self) -> None:
        gesture = self.gesture
        if gesture is None or gesture.missing:
            return
        try:
            self.bench.preview(with_gesture(self.bench.history.document, gesture))
        except CaddetError as error:
            self.bench.said.emit(str(error))

    def settle(self) -> None:
        """Keep the step in hand; what is still missing or can't be done is said instead."""
        gesture = self.gesture
        if gesture is None:
            return
        wrong = gesture.trouble or (gesture.asks if gesture.missing else "")
        if wrong:
            self.bench.said.emit(wrong)
            return
        self._later.stop()
        self.gesture = None
        self._touched = self._outdated = False
        sentence = told(gesture.sentence, self.bench.unit)
        self.bench.edit(sentence[:1].upper() + sentence[1:], lambda document: with_gesture(document, gesture))
        self.refresh()
        self.changed.emit()

    def leave(self) -> None:
        """Leave the step in hand; nothing is left behind."""
        self._later.stop()
        self.gesture, self._rubber, self._pressed = None, None, None
        self._touched = self._outdated = False
        self.bench.preview(None)
        self.refresh()
        self.changed.emit()

    # --- from the view ------------------------------------------------------------------------

    def reach(self) -> float:
        """How far on the table a few pixels are, in mm."""
        return REACH / max(self.table.view.transform().m11(), 1e-6)

    def _to_piece(self, name: str, place: QPointF) -> Point:
        inverse, _ = self._frame(name).inverted()
        local = inverse.map(place)
        return complex(local.x(), local.y())

    def _frame(self, name: str) -> QTransform:
        if self.gesture is not None and name in self._frames:
            return self._frames[name]
        item = self.table.pieces.get(name)
        return item.sceneTransform() if item is not None else self._frames.get(name, QTransform())

    def _under(self, place: QPointF) -> tuple[str, Thing] | None:
        """The piece and thing under a place of the table; what lies on top first."""
        pattern = self.pattern
        if pattern is None:
            return None
        found_: tuple[str, Thing] | None = None
        for piece in reversed(pattern.pieces):
            left, top, right, bottom = piece.outline().bounds()
            at, reach = self._to_piece(piece.name, place), self.reach()
            if left - reach <= at.real <= right + reach and top - reach <= at.imag <= bottom + reach:
                thing = thing_at(pattern, piece.name, at, reach)
                if thing is not None and (found_ is None or found_[1].kind == "piece"):
                    found_ = piece.name, thing
        return found_

    def _hover(self, place: QPointF) -> None:
        if not self.active or self._pressed is not None or self.table.view.taping:
            return
        asked = self.gesture.asked if self.gesture is not None else None
        pointing = self.gesture is None or (asked is not None and asked.kind in NAMING)
        under = self._under(place) if pointing else None
        thing = under[1] if under is not None else None
        if thing != self.hovered:
            self.hovered = thing
            self._strokes()
        pattern = self.pattern
        self.note.setVisible(thing is not None and pattern is not None)
        if thing is not None and pattern is not None:
            words = told(said_thing(pattern, thing), self.bench.unit)
            if words != self.note.text():
                self.note.setText(words)
                self.note.adjustSize()
            at = self.table.view.mapFromScene(place)
            x = min(at.x() + 16, self.table.view.width() - self.note.width() - 6)
            self.note.move(max(x, 6), max(at.y() - self.note.height() - 10, 4))

    def press(self, event: QMouseEvent) -> bool:
        """A press on the table: whether the hand takes it."""
        if not self.active or event.button() != Qt.MouseButton.LeftButton:
            return False
        view = self.table.view
        if isinstance(view.itemAt(event.position().toPoint()), HandleItem):
            return False
        place = view.mapToScene(event.position().toPoint())
        under = self._under(place)
        piece = under[0] if under is not None else self._beside(place)
        if piece is None:
            if self.gesture is None:
                self.choose(None, more=self._more(event))
            return False
        self._pressed = event.position(), place, piece
        self.note.hide()
        return self.gesture is not None or (under is not None and under[1].kind != "piece")

    def _beside(self, place: QPointF) -> str | None:
        """The piece near which a place lies, when a place is asked for: a new line may run outside the old outline."""
        asked, pattern = self.gesture.asked if self.gesture is not None else None, self.pattern
        if asked is None or asked.kind not in POINTED or pattern is None:
            return None
        room = ROOM_BESIDE * self.reach() / REACH
        found: list[tuple[float, str]] = []
        for piece in pattern.pieces:
            left, top, right, bottom = piece.outline().bounds()
            at = self._to_piece(piece.name, place)
            far = max(left - at.real, at.real - right, top - at.imag, at.imag - bottom)
            if far <= room:
                found.append((far, piece.name))
        return min(found)[1] if found else None

    @staticmethod
    def _more(event: QMouseEvent) -> bool:
        return bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))

    def move(self, event: QMouseEvent) -> bool:
        """The pointer moves with the button held: a line is drawn, when one is asked for."""
        if self._pressed is not None and self.gesture is None:
            later(self, self.refresh)  # the piece goes with the pointer, and what is chosen with it
        if self._pressed is None or self.gesture is None:
            return False
        asked = self.gesture.asked
        place = self.table.view.mapToScene(event.position().toPoint())
        if asked is not None and asked.kind in DRAWN_LINES:
            self._rubber = self._pressed[1], place
            self._strokes()
        return True

    def release(self, event: QMouseEvent) -> bool:
        """The button is let go: something is chosen, clicked or drawn."""
        if self._pressed is None:
            return False
        (screen, begun, piece), self._pressed = self._pressed, None
        place, far = (
            self.table.view.mapToScene(event.position().toPoint()),
            (event.position() - screen).manhattanLength() >= DRAG,
        )
        self._rubber = None
        gesture = self.gesture
        if gesture is None:
            if not far:
                under = self._under(place)
                thing = under[1] if under is not None else None
                if thing is not None and self.selection == (thing,):
                    self.walk("seam")  # a click on what is chosen already means the seam that it is in
                else:
                    self.choose(thing, more=self._more(event))
            return not far
        asked, fine = gesture.asked, bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        reach = 0.0 if fine else self.reach()
        if far and asked is not None and asked.kind in DRAWN_LINES:
            self.set_gesture(gesture.drawn(piece, self._to_piece(piece, begun), self._to_piece(piece, place), reach))
        elif asked is not None and asked.kind in NAMING:
            under = self._under(place)
            if under is not None:
                self.set_gesture(gesture.chose(under[1]))
        elif asked is not None and not far:
            self.set_gesture(gesture.clicked(piece, self._to_piece(piece, place), reach))
        self._strokes()
        return True

    def wants(self, event: QKeyEvent) -> bool:
        """Whether a key that may be a shortcut elsewhere belongs to the hand."""
        if not self.active or event.modifiers() & (
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier
        ):
            return False
        if self.gesture is not None:
            return bool(event.text().strip()) or event.key() in (
                Qt.Key.Key_Return,
                Qt.Key.Key_Enter,
                Qt.Key.Key_Escape,
                Qt.Key.Key_Backspace,
            )
        return bool(self.selection) and (
            event.key() in WALKS or event.key() == Qt.Key.Key_Space or self._tool(event) is not None
        )

    def key(self, event: QKeyEvent) -> bool:
        """A key on the table: whether the hand takes it."""
        if not self.active or event.modifiers() & (
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier
        ):
            return False
        key = event.key()
        if self.gesture is not None:
            return self._key_in_hand(event)
        if key in WALKS and (self.selection or key == Qt.Key.Key_N):
            self.walk(WALKS[key])
        elif key == Qt.Key.Key_Escape and self.selection:
            self.choose(None)
        elif key == Qt.Key.Key_Space and self.selection:
            self.more_wanted.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            best = next((one for one in self.offered() if not one.refused), None)
            if best is None:
                self.walk("next")
            else:
                self.start(best.step)
        else:
            step = self._tool(event)
            if step is None:
                return False
            self.start(step)
        return True

    def first(self) -> bool:
        """Tab on the table: where nothing is chosen yet, the first piece is."""
        if not self.active or self.gesture is not None or self.selection or self.pattern is None:
            return False
        self.walk("next")
        return True

    def _key_in_hand(self, event: QKeyEvent) -> bool:
        gesture, key = self.gesture, event.key()
        assert gesture is not None
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.settle()
        elif key == Qt.Key.Key_Escape:
            self.leave()
        elif key == Qt.Key.Key_Backspace:
            self.set_gesture(gesture.taken_back())
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up) and gesture.handles:
            way = 1 if key in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            asked = gesture.asked
            handle = next(
                (one for one in gesture.handles if asked is not None and one.parameter == asked.name),
                gesture.handles[0],
            )
            alt, shift = (
                bool(event.modifiers() & one)
                for one in (Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier)
            )
            self._nudge(handle, way * (0.1 if alt else 1.0 if shift else 5.0))
        elif event.text().strip():
            self.bar.type_into(event.text())
        else:
            return False
        return True

    def offered(self) -> tuple[Offer, ...]:
        """What can be done with what is chosen, the best first."""
        return offers(self.pattern, self.present) if self.gesture is None else ()

    def _tool(self, event: QKeyEvent) -> Step | None:
        pressed = event.text().upper()
        return next(
            (one.step for one in self.offered() if one.step.key == pressed and pressed and not one.refused), None
        )

    def _moved(self, handle: Handle, place: QPointF, fine: bool) -> None:
        if self.gesture is not None:
            self.set_gesture(
                self.gesture.moved(handle, self._to_piece(handle.piece, place), self.reach() * SNAP, fine=fine)
            )

    def _nudge(self, handle: Handle, by: float) -> None:
        if self.gesture is not None:
            self.set_gesture(self.gesture.nudged(handle, by))

    # --- what is shown ------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the hand again, after a change of the pattern, of what is chosen or of the step."""
        if not self.active:
            return
        if self._outdated:
            self._begin_anew()
        self.shown.show_handles(self.gesture)
        self.shown.show_changes(self.gesture, self.base)
        self._strokes()
        if self.gesture is not None:
            self.bar.show_gesture(self.gesture, self.bench.unit)
        elif self.present:
            able = tuple(one for one in self.offered() if not one.refused)
            self.bar.show_offers(self.words(), able)
        else:
            self.bar.hide()
        self._stand()
        later(self, self._stand)  # its widgets know their size only once they are styled

    def words(self) -> str:
        """What is chosen, in the trade's words."""
        pattern = self.pattern
        if pattern is None:
            return ""
        said = [told(said_thing(pattern, one), self.bench.unit) for one in self.present]
        words = "; ".join(said[:3]) + (f" and {len(said) - 3} more" if len(said) > 3 else "")
        return words[:1].upper() + words[1:]

    def _strokes(self) -> None:
        gesture = self.gesture
        chosen = self.selection if gesture is None and self.active else ()
        hovered = self.hovered if self.active else None
        self.shown.show_strokes(self.pattern, chosen, hovered, gesture, self.base, self._rubber, self.reach() * 0.7)

    def _anchor(self) -> QRectF | None:
        """Where the chosen things stand in the view, in pixels."""
        pattern = self.pattern
        if pattern is None or not self.selection:
            return None
        places = places_of(pattern, self.selection[-1])
        if not places:
            return None
        at = self.table.view.mapFromScene(self._frame(places[0].piece).map(qpoint(places[0].at)))
        return QRectF(at.x() - 10, at.y() - 10, 20, 20)

    def _stand(self) -> None:
        if self.active and not self.bar.isHidden():
            self.bar.fit()
            if self.gesture is None:
                self.bar.stand(self._anchor(), self.table.view.size(), 52)
            else:
                held = [QPointF(self.table.view.mapFromScene(one.scenePos())) for one in self.handles]
                self.bar.stand_clear(held, self.table.view.size(), 52)

    def _bring_into_view(self) -> None:
        pattern = self.pattern
        places = places_of(pattern, self.selection[-1]) if pattern is not None and self.selection else ()
        if places:
            at = self._frame(places[0].piece).map(qpoint(places[0].at))
            self.table.view.ensureVisible(QRectF(at.x() - 5, at.y() - 5, 10, 10), 40, 40)
