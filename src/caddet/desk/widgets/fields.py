"""Fields: a length that is typed, a choice, a row with a figure and its sum."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from html import escape

from PyQt6.QtCore import QEvent, QMargins, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFont, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from caddet.core.errors import CaddetError, InputError
from caddet.core.figures.language import names_in, parse
from caddet.core.lengths import Unit, format_length, parse_length
from caddet.core.sentences import told
from caddet.desk.theme import LOOK


def label(words: str = "", name: str = "", *, wrap: bool = False, rich: bool = False) -> QLabel:
    """A label with a style name of the theme. What a user wrote is never ``rich``: it could open a file as a picture."""
    made = QLabel(words)
    made.setTextFormat(Qt.TextFormat.RichText if rich else Qt.TextFormat.PlainText)
    made.setObjectName(name)
    made.setWordWrap(wrap)
    return made


def hint(words: str) -> str:
    """Words for a tooltip, which Qt would otherwise take for rich text where they look like it."""
    return f"<span>{escape(words)}</span>".replace("\n", "<br>") if "<" in words else words


def strong(words: str) -> str:
    """Words to stand out in rich text, in the heaviest weight that ships with Caddet."""
    return f'<span style="font-weight:600">{escape(words)}</span>'


def button(words: str, act: Callable[[], object], name: str = "") -> QPushButton:
    """A button that does one thing."""
    made = QPushButton(words)
    made.setObjectName(name)
    made.clicked.connect(lambda: act())
    made.setAutoDefault(True)
    return made


def narrow_combo() -> QComboBox:
    """A combo box that takes the width it is given, however long its entries are."""
    made = QComboBox()
    made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    made.setMinimumContentsLength(8)
    return made


def repolish(widget: QWidget) -> None:
    """Let the style sheet look at a widget again after a property of it has changed."""
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


FIELD = 104
NOTE = 132  # px of a formula beside which another field has its place


BY_ITSELF = "by itself"  # what a field says for a 0 that leaves the amount to the step


class LengthField(QWidget):
    """A typed length. Refuses what it can't read beside the field and keeps the old value."""

    entered = pyqtSignal(float)
    cleared = pyqtSignal()
    side = Qt.AlignmentFlag.AlignRight  # where the field stands over a sentence that is wider

    def __init__(
        self,
        name: str,
        unit: Unit,
        read: Callable[[str, Unit], float] = parse_length,
        *,
        may_be_empty: bool = False,
        show: Callable[[float, Unit], str] = format_length,
    ) -> None:
        super().__init__()
        self.unit, self.read, self.may_be_empty, self.show_as = unit, read, may_be_empty, show
        self.value: float | None = None
        self.zero = ""  # what stands for 0, where that leaves the amount to the step
        self.edit = QLineEdit()
        self.edit.setObjectName("length")
        self.edit.setAccessibleName(name)
        self.edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.edit.setFixedWidth(LOOK.px(FIELD))
        self.edit.editingFinished.connect(self._finished)
        self.edit.installEventFilter(self)
        LOOK.changed.connect(self._resize)
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(self.edit, 0, self.side)
        column.addWidget(self.wrong)

    def _resize(self) -> None:
        self.edit.setFixedWidth(LOOK.px(FIELD))

    def show_value(self, value: float | None, unit: Unit) -> None:
        """Show a value without telling anyone."""
        self.value, self.unit = value, unit
        if not self.edit.isModified():
            self._write()
            self._complain("")

    def _write(self) -> None:
        words = self.zero if self.value == 0 else ""
        self.edit.setText("" if self.value is None else words or self.show_as(self.value, self.unit))
        self.edit.setModified(False)

    def _finished(self) -> None:
        if not self.edit.isModified():
            return
        text = self.edit.text().strip()
        if not text and self.may_be_empty:
            self.edit.setModified(False)
            self._complain("")
            self.cleared.emit()
            return
        try:
            value = 0.0 if self.zero and text.lower() == self.zero else self.read(text, self.unit)
        except CaddetError as error:
            self._complain(str(error))
            return
        self.edit.setModified(False)
        self._complain("")
        self.value = value
        self._write()
        self.entered.emit(value)

    def refuse(self, sentence: str) -> None:
        """Say why the value was not taken."""
        self._complain(sentence)

    def _complain(self, sentence: str) -> None:
        self.wrong.setText(told(sentence, self.unit))
        self.wrong.setVisible(bool(sentence))
        if bool(self.edit.property("wrong")) != bool(sentence):
            self.edit.setProperty("wrong", bool(sentence))
            repolish(self.edit)

    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        """Esc writes the old value back; the focus chooses all that stands there."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape:
            self._write()
            self._complain("")
            return True
        if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusIn:
            self.edit.selectAll()
        return False


class AmountField(LengthField):
    """A typed amount of a step: a length or number, or a formula over measures and figures."""

    formula = pyqtSignal(str)
    side = Qt.AlignmentFlag.AlignLeft

    def __init__(self, name: str, unit: Unit) -> None:
        super().__init__(name, unit)
        self.text = ""
        self.note = label("", "working", wrap=True)
        self.note.setMaximumWidth(LOOK.px(NOTE))
        self.note.hide()
        column = self.layout()
        assert column is not None
        column.addWidget(self.note)

    def show_value(self, value: float | None, unit: Unit) -> None:
        """Show a value; one that a drag changes takes the place of words that could not be read."""
        if self.wrong.text() and value != self.value:
            self.edit.setModified(False)
        super().show_value(value, unit)

    def show_formula(self, text: str, words: str = "") -> None:
        """Show which formula the value comes from, or in words what it goes by; "" when it is a plain one."""
        self.text = text
        self.note.setText(words or f"= {text}")
        # wrapped words claim no height of their own, and would press the field flat
        self.note.setMinimumHeight(self.note.heightForWidth(self.note.maximumWidth()) if text else 0)
        self.edit.setMinimumHeight(self.edit.sizeHint().height())
        self.note.setVisible(bool(text))
        self.edit.setToolTip(hint(text))

    def _finished(self) -> None:
        text = self.edit.text().strip()
        if (
            self.edit.isModified()
            and not (self.zero and text.lower() == self.zero)
            and not _reads(lambda: self.read(text, self.unit))
            and _reads(lambda: names_in(parse(text)))
        ):
            self.edit.setModified(False)
            self._complain("")
            self.formula.emit(text)
            return
        super()._finished()


def _reads(read: Callable[[], object]) -> bool:
    """Whether some words can be read, as something that is not empty."""
    try:
        found = read()
    except CaddetError:
        return False
    return found is not None and found != frozenset()


def read_number(text: str, unit: Unit) -> float:
    """A plain number as typed; the unit does not matter. Raises :class:`InputError`."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise InputError(f"“{text.strip()[:20]}” is not a number; expected one such as 1.5.")
    return value


def show_number(value: float, unit: Unit) -> str:
    """A plain number as it is read."""
    return f"{value:g}"


class _Choice(QPushButton):
    """One of the choices; where there is room, with room for the heavier weight its words get when it is taken."""

    def __init__(self, words: str) -> None:
        super().__init__(words)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        hint = super().sizeHint()
        font = QFont(self.font())
        plain = QFontMetrics(font).horizontalAdvance(self.text())
        font.setWeight(QFont.Weight.DemiBold)
        return hint.grownBy(QMargins(0, 0, max(QFontMetrics(font).horizontalAdvance(self.text()) - plain, 0), 0))

    def minimumSizeHint(self) -> QSize:
        return super().sizeHint()


class Choices(QFrame):
    """A few choices side by side, one of them taken."""

    chosen = pyqtSignal(str)

    def __init__(self, name: str, choices: Sequence[tuple[str, str]]) -> None:
        super().__init__()
        self.setObjectName("choices")
        self.setAccessibleName(name)
        self.group = QButtonGroup(self)
        row = QHBoxLayout(self)
        row.setContentsMargins(2, 2, 2, 2)
        row.setSpacing(0)
        self.buttons: dict[str, QPushButton] = {}
        for key, words in choices:
            one = _Choice(words)
            one.setObjectName("choice")
            one.setCheckable(True)
            one.setAccessibleName(f"{name}: {words}")
            one.clicked.connect(lambda _=False, k=key: self.chosen.emit(k))
            self.group.addButton(one)
            self.buttons[key] = one
            row.addWidget(one, 1)

    def show_choice(self, key: str) -> None:
        """Show a choice as made, without telling of it."""
        if key in self.buttons:
            self.buttons[key].setChecked(True)


class PickOne(QComboBox):
    """A few choices with long words, one below the other."""

    chosen = pyqtSignal(str)

    def __init__(self, name: str, choices: Sequence[tuple[str, str]]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(8)
        for key, words in choices:
            self.addItem(words, key)
        self.activated.connect(lambda at: self.chosen.emit(str(self.itemData(at))))

    def show_choice(self, key: str) -> None:
        """Show a choice as made."""
        index = self.findData(key)
        if index >= 0:
            self.setCurrentIndex(index)


class Row(QFrame):
    """A row of the docket: words on the left, something on the right; can be chosen by click or Enter."""

    chosen = pyqtSignal()

    def __init__(self, title: str, sub: str = "") -> None:
        super().__init__()
        self.setObjectName("row")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(title)
        self.is_chosen = False
        self.title = label(title, "heading", wrap=True)
        self.sub = label(sub, "working", wrap=True)
        if not sub:  # showing it here, before it has a parent, would open a window of its own for a moment
            self.sub.hide()
        self.top = QHBoxLayout()
        self.top.setSpacing(6)
        self.top.addWidget(self.title, 1)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(6, 8, 6, 8)
        self.column.setSpacing(2)
        self.column.addLayout(self.top)
        self.column.addWidget(self.sub)

    def set_sub(self, words: str) -> None:
        """The words of the second line; it goes when there are none."""
        self.sub.setText(words)
        self.sub.setVisible(bool(words))

    def set_sub_style(self, name: str) -> None:
        """Show the second line as ``working`` or as ``wrong``."""
        if self.sub.objectName() != name:
            self.sub.setObjectName(name)
            repolish(self.sub)

    def set_chosen(self, chosen: bool) -> None:
        """Show the row as chosen or not. It is painted, not styled: a style would lay the whole list out again."""
        if self.is_chosen != chosen:
            self.is_chosen = chosen
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The ground of a chosen row, then what the style draws."""
        if self.is_chosen:
            painter = QPainter(self)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(LOOK.color("woad_tint"))
            painter.drawRoundedRect(self.rect(), 6, 6)
            painter.end()
        super().paintEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        # only the head of the row chooses it, not what is opened below
        """A click on its head chooses it."""
        head = max(self.title.geometry().bottom(), self.sub.geometry().bottom() if self.sub.isVisible() else 0)
        if event is not None and event.position().y() <= head + 8:
            self.setFocus()
            self.chosen.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter or Space chooses it, not those of a field inside."""
        window = self.window()
        here = window is not None and window.focusWidget() is self  # not a key that a field inside let through
        if event is not None and here and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit()
        elif event is not None:
            super().keyPressEvent(event)


class LengthRow(Row):
    """A row with a typed length."""

    def __init__(self, title: str, unit: Unit, sub: str = "") -> None:
        super().__init__(title, sub)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.field = LengthField(title, unit)
        self.top.addWidget(self.field)
        self.unit_words = label(unit, "unit")
        self.unit_words.setFixedWidth(22)
        self.top.addWidget(self.unit_words)

    def show_value(self, value: float | None, unit: Unit) -> None:
        """Show a length in mm, or none, in the unit."""
        self.unit_words.setText(unit)
        self.field.show_value(value, unit)
