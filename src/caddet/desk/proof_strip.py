"""Proof: the strip along the bottom, every check that applies, worst first."""

from __future__ import annotations

import textwrap

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from caddet.core.fitting.proof import ProofLine
from caddet.core.lengths import Unit, format_fine, format_length
from caddet.core.recipe.edits import Remedy
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint, label

SPACE = 8  # pixels between chips
COLUMNS = 3  # of the list that opens upwards
_SAID = {"fails": "fails", "look": "look at this", "holds": "holds"}
_COLORS = {"fails": "madder", "look": "weld", "holds": "verdigris"}


def figure_of(line: ProofLine, unit: Unit) -> str:
    """The figure that a line of the proof shows."""
    if line.accepted:
        return "fine by you"
    if line.is_note:
        return "good to know"
    if line.kind == "finding" or (line.verdict == "look" and line.value == line.limit == 0):
        return "look here" if line.verdict == "look" else "can’t go on"
    if line.kind == "gate":
        return (
            f"{format_length(line.value - line.limit, unit, sign=True)} to spare"
            if line.holds
            else (f"{format_length(line.value - line.limit, unit, sign=True)} short")
        )
    if line.kind == "join":
        return f"{line.value:.1f}°"
    return format_fine(line.value - line.limit, unit)


class ProofChip(QAbstractButton):
    """One line of the proof. State is shown by sign, words and colour."""

    def __init__(self, line: ProofLine, unit: Unit) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.title_font, self.figure_font_ = LOOK.font(13, QFont.Weight.Medium), LOOK.figure_font(14)
        self.line, self.figure, self.unit = line, "", unit
        self.show_line(line, unit, afresh=True)

    def show_line(self, line: ProofLine, unit: Unit, *, afresh: bool = False) -> None:
        """Show a newer verdict of the same check."""
        if not afresh and (line, unit) == (self.line, self.unit):
            return
        if afresh or (line.sentence, unit) != (self.line.sentence, self.unit):
            self.setToolTip(hint("\n".join(textwrap.wrap(told(line.sentence, unit), 70))))
        self.line, self.unit, self.figure = line, unit, figure_of(line, unit)
        self.setText(line.label)
        verdict = "a note" if line.is_note else _SAID[line.verdict]
        verdict += f", accepted: {line.accepted}" if line.accepted else ""
        self.setAccessibleName(f"{line.label}: {self.figure}, {verdict}")
        wide = max(
            QFontMetricsF(self.title_font).horizontalAdvance(line.label),
            QFontMetricsF(self.figure_font_).horizontalAdvance(self.figure),
        )
        self.setFixedSize(QSize(round(wide) + 42, LOOK.px(44)))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The verdict's shape and colour, the line and what is to spare."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        name = "iron" if self.line.accepted or self.line.is_note else _COLORS[self.line.verdict]
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(QPen(LOOK.color("woad"), 2) if self.hasFocus() else Qt.PenStyle.NoPen)
        painter.setBrush(LOOK.color("table" if name == "iron" else f"{name}_tint"))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(QPen(LOOK.color(name), 2.2))
        if self.line.accepted:  # a knot tied in the thread: left so on purpose
            painter.drawLine(QPointF(8, 18), QPointF(22, 18))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(15, 14.5), 3.5, 3.5)
        elif self.line.is_note:
            painter.drawEllipse(QPointF(15, 15), 2.0, 2.0)
        elif self.line.verdict == "holds":
            painter.drawPolyline(QPolygonF([QPointF(10, 16), QPointF(14, 20), QPointF(21, 11)]))
        else:
            painter.setFont(LOOK.figure_font(18))
            painter.drawText(
                QRectF(6, 4, 20, 22), Qt.AlignmentFlag.AlignCenter, "!" if self.line.verdict == "look" else "×"
            )
        half = self.height() / 2
        painter.setPen(LOOK.color("ink"))
        painter.setFont(self.title_font)
        painter.drawText(QRectF(30, 2, self.width(), half), Qt.AlignmentFlag.AlignVCenter, self.line.label)
        painter.setPen(LOOK.color(name))
        painter.setFont(self.figure_font_)
        painter.drawText(QRectF(30, half - 1, self.width(), half), Qt.AlignmentFlag.AlignVCenter, self.figure)


class ReasonBox(QFrame):
    """Asks why a finding or failing check is fine; Enter keeps the reason, Esc leaves it open."""

    given = pyqtSignal(object, str)

    def __init__(self, parent: QWidget, line: ProofLine) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("reason")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.line = line
        column = QVBoxLayout(self)
        column.addWidget(label(f"{line.label}: fine by me, because", "heading"))
        self.reason = QLineEdit()
        self.reason.setMaxLength(500)
        self.reason.setMinimumWidth(LOOK.px(320))
        self.reason.setPlaceholderText("why, then Enter")
        self.reason.setAccessibleName("Why it is fine")
        self.reason.returnPressed.connect(self._keep)
        column.addWidget(self.reason)
        column.addWidget(label("It stays listed, and opens again when it gets worse.", "faint", wrap=True))

    def _keep(self) -> None:
        words = self.reason.text().strip()
        if words:
            self.given.emit(self.line, words)
            self.close()


class ProofStrip(QWidget):
    """The strip. A chip opens its sentence, its place and its remedies."""

    go_to = pyqtSignal(str)
    remedy = pyqtSignal(object)
    accepted = pyqtSignal(object, str)  # a line, and why it is fine by the user
    opened_again = pyqtSignal(object)
    unsaved_clicked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("strip")
        self.setFixedHeight(LOOK.px(66))
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 8, 4)
        row.addWidget(label("Proof", "heading"))
        self.summary = label("", "faint")
        row.addWidget(self.summary)
        self.unsaved = QPushButton("Not saved!")
        self.unsaved.setObjectName("unsaved")
        self.unsaved.setAccessibleName("Not saved: what to do about it")
        self.unsaved.clicked.connect(self.unsaved_clicked)
        self.unsaved.hide()
        row.addWidget(self.unsaved)
        self.inside = QWidget()
        self.inside.setObjectName("body")
        self.inside.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.chips_row = QHBoxLayout(self.inside)
        self.chips_row.setContentsMargins(0, 0, 0, 0)
        self.chips_row.setSpacing(SPACE)
        row.addWidget(self.inside, 1)
        self.more = QPushButton()
        self.more.setObjectName("more")
        self.more.clicked.connect(self.open_more)
        self.more.hide()
        row.addWidget(self.more)
        self.chips: list[ProofChip] = []
        self._shown: tuple[tuple[ProofLine, ...], Unit, bool, float] | None = None

    def show_proof(self, lines: tuple[ProofLine, ...], unit: Unit) -> None:
        """Show these lines; chips of the same checks are kept and only told anew."""
        state = (lines, unit, LOOK.evening, LOOK.scale)
        if state == self._shown:
            return
        same = self._shown is not None and state[2:] == self._shown[2:]
        self._shown = state
        checks = [line for line in lines if not line.is_note]
        good, fine = sum(line.holds for line in checks), sum(bool(line.accepted) for line in checks)
        self.summary.setText(f"{good} of {len(checks)} hold" + (f", {fine} fine by you" if fine else ""))
        if same and [(c.line.kind, c.line.name) for c in self.chips] == [(line.kind, line.name) for line in lines]:
            for chip, line in zip(self.chips, lines, strict=True):
                chip.show_line(line, unit)
            self._fit()
            return
        empty(self.chips_row)
        self.chips = []
        for line in lines:
            chip = ProofChip(line, unit)
            chip.clicked.connect(lambda _=False, c=chip: self.open(c))
            self.chips.append(chip)
            self.chips_row.addWidget(chip)
        self.chips_row.addStretch(1)
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Count again what has room."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Show the chips that have room, the worst first; the others are counted and open upwards."""
        self.more.setText("99 more ▴")
        fixed = sum(w.sizeHint().width() for w in (self.summary, self.more)) + LOOK.px(96)
        fixed += self.unsaved.sizeHint().width() if not self.unsaved.isHidden() else 0
        room, used, shown = self.width() - fixed, 0, 0
        for chip in self.chips:
            used += chip.width() + SPACE
            shown += used <= room
        shown = max(shown, 1)
        for number, chip in enumerate(self.chips):
            chip.setVisible(number < shown)
        hidden = self.chips[shown:]
        self.more.setVisible(bool(hidden))
        bad = sum(not chip.line.holds for chip in hidden)
        self.more.setText(f"{len(hidden)} more ▴")
        self.more.setAccessibleName(
            f"{len(hidden)} more checks" + (f", {bad} of them not held" if bad else ", all held")
        )

    def open_more(self) -> QFrame:
        """The checks that had no room, in a list above the strip; a click on one opens it."""
        box = QFrame(self, Qt.WindowType.Popup)
        box.setObjectName("reason")
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        grid = QGridLayout(box)
        grid.setSpacing(SPACE)
        hidden = [chip for chip in self.chips if chip.isHidden()]
        for number, of in enumerate(hidden):
            chip = ProofChip(of.line, of.unit)
            chip.clicked.connect(lambda _=False, c=chip: self.open(c))
            grid.addWidget(chip, number // COLUMNS, number % COLUMNS)
        box.adjustSize()
        size = box.sizeHint()
        corner = self.more.mapToGlobal(QPoint(self.more.width() - size.width(), -size.height() - 8))
        box.move(max(corner.x(), self.mapToGlobal(QPoint(0, 0)).x()), corner.y())
        box.show()
        return box

    def show_unsaved(self, why: str) -> None:
        """Say that the project is not saved, as long as it is so; an empty reason takes it away."""
        self.unsaved.setVisible(bool(why))
        self.unsaved.setToolTip(hint("\n".join(textwrap.wrap(why, 70))))

    def menu_of(self, chip: ProofChip) -> QMenu:
        """The sentence, where to go, and the remedies. The chip may go while the menu is open: what it shows is kept."""
        menu = QMenu(self)
        line, unit, at = chip.line, chip.unit, chip.mapToGlobal(QPoint(0, 0))
        for words in textwrap.wrap(told(line.sentence, unit), 64):
            action = menu.addAction(words)
            if action is not None:
                action.setEnabled(False)
        menu.addSeparator()
        if line.place:
            where = menu.addAction("Show me the place")
            if where is not None:
                where.triggered.connect(lambda: self.go_to.emit(line.place))
        for remedy in line.remedies:
            self._add_remedy(menu, remedy, unit)
        if line.accepted:
            words, act = f"Fine by you: “{line.accepted}”. Look at it again", self.opened_again.emit
            again = menu.addAction(words)
            if again is not None:
                again.triggered.connect(lambda: act(line))
        elif not line.holds:
            fine = menu.addAction("Fine by me…")
            if fine is not None:
                fine.triggered.connect(lambda: self.ask_reason(line, at))
        return menu

    def ask_reason(self, line: ProofLine, at: QPoint) -> ReasonBox:
        """Ask above a place on the screen why a line is fine."""
        box = ReasonBox(self, line)
        box.given.connect(self.accepted)
        box.adjustSize()
        box.move(at - QPoint(0, box.sizeHint().height() + 6))
        box.show()
        box.reason.setFocus()
        return box

    def _add_remedy(self, menu: QMenu, remedy: Remedy, unit: Unit) -> None:
        action = menu.addAction(f"Remedy: {told(remedy.label, unit)}")
        if action is not None:
            action.triggered.connect(lambda: self.remedy.emit(remedy))

    def open(self, chip: ProofChip) -> None:
        """Open the menu of a chip."""
        menu = self.menu_of(chip)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        height = menu.sizeHint().height()
        menu.popup(chip.mapToGlobal(QPoint(0, -height - 4)))
