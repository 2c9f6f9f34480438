"""The few tools beside the hand, and while a step is made, its one line, its field and its choices."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QKeyEvent, QPainter, QPainterPath, QPen, QPixmap
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from caddet.core.errors import CaddetError
from caddet.core.hands.gesture import Gesture
from caddet.core.hands.offers import FEW, Offer
from caddet.core.lengths import Unit, format_length
from caddet.core.recipe.parameters import Parameter
from caddet.core.recipe.registry import Step
from caddet.core.recipe.values import Formula
from caddet.core.sentences import told
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, hint, label

SIDE = 18  # px of a step's small drawing


def step_icon(step: Step) -> QIcon:
    """The small drawing that a step declares."""
    size = LOOK.px(SIDE)
    image = QPixmap(size, size)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(
        QPen(
            LOOK.color("woad"),
            max(size / 11, 1.4),
            Qt.PenStyle.SolidLine,
            Qt.PenCapStyle.RoundCap,
            Qt.PenJoinStyle.RoundJoin,
        )
    )
    painter.translate(size / 2, size / 2)
    painter.scale(size / 14, size / 14)
    pen = painter.pen()
    pen.setCosmetic(True)
    painter.setPen(pen)
    for line in step.symbol:
        path = QPainterPath(QPointF(line[0].real, line[0].imag))
        for point in line[1:]:
            path.lineTo(point.real, point.imag)
        painter.drawPath(path)
    painter.end()
    return QIcon(image)


def shown_amount(gesture: Gesture, parameter: Parameter, unit: Unit) -> str:
    """What stands in the field of an amount: its formula, or its value."""
    value = gesture.values.get(parameter.name)
    if isinstance(value, Formula):
        return value.text
    number = float(gesture.plain[parameter.name])
    return format_length(number, unit) if parameter.kind == "length" else f"{number:g}"


class HandBar(QFrame):
    """Floats over the table. Tools for what is chosen; or the step in hand."""

    def __init__(
        self,
        parent: QWidget,
        begin: Callable[[Step], object],
        keep: Callable[[], object],
        leave: Callable[[], object],
        changed: Callable[[Gesture], object],
        more: Callable[[], object],
    ) -> None:
        super().__init__(parent)
        self.setObjectName("handbar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._begin, self._keep, self._leave, self._changed, self._more = begin, keep, leave, changed, more
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(10, 7, 10, 8)
        self.column.setSpacing(4)
        self.words = label("", "heading")
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.words.setWordWrap(True)
        self.asks = label()
        self.asks.setObjectName("working")
        self.asks.setWordWrap(True)
        self.row = QHBoxLayout()
        self.row.setSpacing(6)
        self.column.addWidget(self.words)
        self.column.addWidget(self.asks)
        self.column.addLayout(self.row)
        self.chips = QHBoxLayout()
        self.chips.setSpacing(6)
        self.column.addLayout(self.chips)
        self.tools = QVBoxLayout()
        self.tools.setSpacing(3)
        self.column.addLayout(self.tools)
        self.field = QLineEdit()
        self.field.setObjectName("length")
        self.field.setFixedWidth(LOOK.px(110))
        self.field.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.field.textEdited.connect(self._typed)
        self.field.installEventFilter(self)
        self.gesture: Gesture | None = None
        self.unit: Unit = "cm"
        self.buttons: dict[str, QPushButton] = {}
        self.wrong = ""
        self._mode: object = None
        self.hide()

    def show_offers(self, chosen: str, offers: Sequence[Offer]) -> None:
        """The tools for what is chosen, with a key each."""
        self.gesture = None
        mode = ("offers", chosen, tuple(one.step.kind for one in offers))
        if mode != self._mode:
            self._mode = mode
            self._clear()
            self.words.setText(chosen)
            self.asks.hide()
            for offer in offers[:FEW]:
                keys = f"   {offer.step.key}" if offer.step.key else ""
                one = button(f"{offer.step.label}{keys}", partial(self._begin, offer.step), "tool")
                one.setIcon(step_icon(offer.step))
                one.setIconSize(QSize(LOOK.px(SIDE), LOOK.px(SIDE)))
                one.setToolTip(hint(told(offer.step.why)))
                one.setAccessibleName(offer.step.label)
                one.setFocusPolicy(Qt.FocusPolicy.NoFocus)
                self.buttons[offer.step.kind] = one
                self.tools.addWidget(one)
            if len(offers) > FEW or not offers:
                one = button("More…   Space", self._more, "tool")
                one.setFocusPolicy(Qt.FocusPolicy.NoFocus)
                self.tools.addWidget(one)
        self.fit()

    def show_gesture(self, gesture: Gesture, unit: Unit) -> None:
        """The step in hand: its sentence, what it asks for next, the field of the amount that typing changes, its choices."""
        self.gesture, self.unit = gesture, unit
        mode = ("gesture", gesture.step.kind, gesture.id)
        if mode != self._mode:
            self._mode = mode
            self._clear()
            self.wrong = ""
            self.caption = label("", "faint")
            self.unit_words = label("", "unit")
            for widget in (self.caption, self.field, self.unit_words):
                self.row.addWidget(widget)
            for parameter in gesture.step.parameters:
                if parameter.kind in ("choice", "flag"):
                    self._add_chip(parameter)
            for words, act in (("Keep   Enter", self._keep), ("Leave   Esc", self._leave)):
                one = button(words, act, "tool")
                one.setFocusPolicy(Qt.FocusPolicy.NoFocus)
                self.buttons[words.split()[0].lower()] = one
                self.row.addWidget(one)
            self.row.addStretch(1)
            self.chips.addStretch(1)
            self.asks.show()
        words = told(gesture.sentence, unit)
        self.words.setText(words[:1].upper() + words[1:])
        self._show_line()
        asked = gesture.asked
        typed = asked is not None and (asked.is_amount or asked.kind == "text")
        for widget in (self.caption, self.field):
            widget.setVisible(typed)
        self.unit_words.setVisible(typed and asked is not None and asked.kind == "length")
        if asked is not None and typed:
            self.caption.setText(asked.label)
            self.unit_words.setText(unit)
            self.field.setAccessibleName(asked.label)
            if not self.field.isModified():
                self.field.setText(
                    shown_amount(gesture, asked, unit) if asked.is_amount else str(gesture.plain[asked.name] or "")
                )
        for parameter in gesture.step.parameters:
            if parameter.name in self.buttons:
                self.buttons[parameter.name].setText(self._chip_words(parameter))
                self.buttons[parameter.name].setVisible(parameter.means(gesture.plain))
        self.fit()

    def _show_line(self) -> None:
        gesture = self.gesture
        if gesture is None:
            return
        wrong = self.wrong or gesture.trouble
        words = wrong or gesture.limit or gesture.snapped or gesture.asks
        self.asks.setText(told(words, self.unit))
        name = "wrong" if wrong else "working"
        if self.asks.objectName() != name:
            self.asks.setObjectName(name)
            style = self.asks.style()
            if style is not None:
                style.unpolish(self.asks)
                style.polish(self.asks)

    def _add_chip(self, parameter: Parameter) -> None:
        one = button("", lambda: self._turn(parameter), "tool")
        one.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        one.setAccessibleName(parameter.label)
        one.setToolTip(hint(told(parameter.why) or parameter.label))
        self.buttons[parameter.name] = one
        self.chips.addWidget(one)

    def _chip_words(self, parameter: Parameter) -> str:
        assert self.gesture is not None
        value = self.gesture.plain[parameter.name]
        if parameter.kind == "flag":
            return f"{parameter.label}: {'yes' if value else 'no'}"
        return f"{parameter.label}: {dict(parameter.choices).get(str(value), str(value)).lower()}"

    def _turn(self, parameter: Parameter) -> None:
        """The next of a few choices, or the other of two."""
        if self.gesture is None:
            return
        value = self.gesture.plain[parameter.name]
        if parameter.kind == "flag":
            self._changed(self.gesture.set(parameter.name, not value))
            return
        keys = [key for key, _ in parameter.choices]
        self._changed(self.gesture.set(parameter.name, keys[(keys.index(str(value)) + 1) % len(keys)]))

    # --- typing -------------------------------------------------------------------------------

    def type_into(self, text: str) -> None:
        """The first letter of something typed while the hand is on the table."""
        if self.field.isVisible():
            self.field.setFocus()
            self.field.setText(text)
            self.field.setModified(True)
            self._typed(text)

    def _typed(self, text: str) -> None:
        """What is typed is shown at once, as soon as it can be read."""
        if self.gesture is None or not text.strip():
            return
        try:
            changed = self.gesture.typed(text, self.unit)
        except CaddetError as error:
            self.wrong = str(error)
            self._show_line()
            self.fit()
            return
        self.wrong = ""
        self._changed(changed)

    def _entered(self) -> None:
        text = self.field.text().strip()
        if self.field.isModified() and text:
            self._typed(text)
        if self.wrong:
            return
        self.field.setModified(False)
        self._keep()

    def eventFilter(self, watched: object, event: object) -> bool:
        """Enter in the field keeps the step, Esc forgets what was typed and leaves it; the table hears of neither."""
        if watched is not self.field or not isinstance(event, QKeyEvent) or event.type() != QKeyEvent.Type.KeyPress:
            return False
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._entered()
            return True
        if event.key() == Qt.Key.Key_Escape:
            self.field.setModified(False)
            self.wrong = ""
            self._leave()
            return True
        return False

    # --- where it stands ----------------------------------------------------------------------

    def _clear(self) -> None:
        self.buttons = {}
        self.field.setModified(False)
        for layout in (self.row, self.chips, self.tools):
            while (item := layout.takeAt(0)) is not None:
                widget = item.widget()
                if widget is self.field:
                    widget.hide()
                    widget.setParent(self)
                elif widget is not None:
                    widget.hide()
                    widget.deleteLater()

    def fit(self) -> None:
        """As wide as its buttons ask for, as high as its words need then."""
        self.row.invalidate()
        self.chips.invalidate()
        self.column.activate()
        if self.gesture is None:
            wide = min(max(self.tools.sizeHint().width(), LOOK.px(170)), LOOK.px(260))
        else:
            parent = self.parentWidget()
            room = parent.width() - 44 if parent is not None else 2000
            wide = max(self.row.sizeHint().width(), self.chips.sizeHint().width(), LOOK.px(340))
            chips = [
                one for n in range(self.chips.count()) if (item := self.chips.itemAt(n)) and (one := item.widget())
            ]
            while self.chips.sizeHint().width() > room and (there := [one for one in chips if not one.isHidden()]):
                there[-1].hide()  # the docket has all of them
                self.chips.invalidate()
            wide = max(self.row.sizeHint().width(), self.chips.sizeHint().width(), LOOK.px(340))
            if wide > room:  # large text on a small table: the field goes without its words, which stand in the docket
                self.caption.hide()
                self.row.invalidate()
                wide = max(self.row.sizeHint().width(), self.chips.sizeHint().width(), LOOK.px(300))
        for words in (self.words, self.asks):
            words.setFixedWidth(wide)
            words.setFixedHeight(max(words.heightForWidth(wide), 0))
        self.column.invalidate()
        self.column.activate()
        self.adjustSize()
        self.show()
        self.raise_()

    def stand_clear(self, held: Sequence[QPointF], room: QSize, below: int) -> None:
        """Stand at the foot of the view, above what stands ``below`` px high there, or where it covers fewer of the handles.

        It stays where it is as long as it covers none.
        """
        right, foot = max(room.width() - self.width() - 10, 10), max(room.height() - self.height() - below, 10)
        middle = max((room.width() - self.width()) // 2, 10)
        places = [(middle, foot), (middle, 10), (10, foot), (right, foot), (10, 10), (right, 10)]

        def covered(place: tuple[int, int]) -> int:
            """How many handles the bar would lie on there."""
            box = QRectF(place[0], place[1], self.width(), self.height()).adjusted(-14, -14, 14, 14)
            return sum(box.contains(point) for point in held)

        here = self.x(), self.y()
        if here in places and not covered(here):
            return
        self.move(*min(places, key=lambda place: (covered(place), places.index(place))))

    def stand(self, near: QRectF | None, room: QSize, below: int) -> None:
        """Stand beside a place of the view (px), inside it; without one, at its foot, clear of what stands ``below`` px high there."""
        if near is None:
            self.move(max((room.width() - self.width()) // 2, 10), max(room.height() - self.height() - below, 10))
            return
        x = near.right() + 14 if near.right() + 14 + self.width() < room.width() else near.left() - 14 - self.width()
        y = min(max(near.center().y() - self.height() / 2, 10), room.height() - self.height() - 10)
        self.move(round(min(max(x, 10), max(room.width() - self.width() - 10, 10))), round(y))
