"""A text written in lines, with what each line comes to at its end and what is wrong told below."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from html import escape

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QTextBlock, QTextCursor
from PyQt6.QtWidgets import QLabel, QPlainTextEdit, QVBoxLayout, QWidget

from caddet.core.lengths import Unit
from caddet.core.recipe.parameters import LineNote
from caddet.core.sentences import told
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label

PAUSE = 350  # ms of no typing after which the text is tried
ROOM = 12.0  # px between a line and its note
Noted = Callable[[str], Sequence[LineNote]]


class _Lines(QPlainTextEdit):
    """The lines themselves; notes are painted at their ends where there is room."""

    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.notes: dict[int, tuple[str, bool]] = {}
        self.setTabChangesFocus(True)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.WidgetWidth)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Leaving it settles the text."""
        super().focusOutEvent(event)
        if event is None or event.reason() != Qt.FocusReason.PopupFocusReason:
            self.left.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc leaves the lines and keeps them; it does not leave the step that they belong to."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            event.accept()
            self.clearFocus()
            self.left.emit()
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The text, and the notes at the right."""
        super().paintEvent(event)
        port = self.viewport()
        if port is None or not self.notes:
            return
        painter = QPainter(port)
        metrics = QFontMetricsF(self.font())
        block: QTextBlock = self.firstVisibleBlock()
        while block.isValid():
            box = self.blockBoundingGeometry(block).translated(self.contentOffset())
            if box.top() > port.height():
                break
            words, wrong = self.notes.get(block.blockNumber() + 1, ("", False))
            layout = block.layout()
            if words and layout is not None and layout.lineCount():
                last = layout.lineAt(layout.lineCount() - 1)
                end = box.left() + last.naturalTextWidth() + ROOM
                wide = metrics.horizontalAdvance(words)
                if wrong:
                    painter.setPen(LOOK.color("madder"))
                    painter.drawText(QPointF(port.width() - 12, box.top() + last.y() + last.ascent()), "!")
                elif end + wide < port.width() - 4:
                    painter.setPen(LOOK.color("iron"))
                    place = QRectF(end, box.top() + last.y(), port.width() - 4 - end, last.height())
                    painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
            block = block.next()
        painter.end()


class LinesField(QWidget):
    """Lines to write: ``tried`` while they are written, whenever nothing is wrong; ``entered`` when they are left."""

    tried = pyqtSignal(str)
    entered = pyqtSignal(str)

    def __init__(
        self, name: str, noted: Noted, unit: Unit, wording: Sequence[tuple[str, str]], tall: int = 300
    ) -> None:
        super().__init__()
        self.noted, self.unit = noted, unit
        self.edit = _Lines()
        self.edit.setAccessibleName(name)
        self.tall = tall
        self._resize()
        LOOK.changed.connect(self._resize)
        self.says = label("", "working", wrap=True)
        self.says.setTextFormat(Qt.TextFormat.RichText)
        self.says.setTextInteractionFlags(Qt.TextInteractionFlag.LinksAccessibleByMouse)
        self.says.linkActivated.connect(lambda line: self.go_to(int(line)))
        self.how = button("How it is written", self._show_how, "quiet")
        self.wording = _wording(wording)
        self.wording.hide()
        self._settled = ""
        self.notes: Sequence[LineNote] = ()
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(self._try)
        self.edit.textChanged.connect(self._pause.start)
        self.edit.cursorPositionChanged.connect(self._say)
        self.edit.left.connect(self.settle)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for part in (self.edit, self.says, self.how, self.wording):
            column.addWidget(part)

    def _resize(self) -> None:
        self.edit.setFixedHeight(LOOK.px(self.tall))

    def show_text(self, text: str) -> None:
        """Show a text without telling anyone; what is being written is left alone."""
        if text == self._settled and self.edit.toPlainText() == text:
            self._note(text)
            return
        if self.edit.hasFocus() and self.edit.toPlainText() != self._settled and text == self._settled:
            return
        self._settled = text
        if self.edit.toPlainText() != text:
            self.edit.blockSignals(True)
            at = self.edit.textCursor().position()
            self.edit.setPlainText(text)
            cursor = self.edit.textCursor()
            cursor.setPosition(min(at, len(text)))
            self.edit.setTextCursor(cursor)
            self.edit.blockSignals(False)
        self._note(text)

    def settle(self) -> None:
        """What stands there now is kept."""
        self._pause.stop()
        text = self.edit.toPlainText()
        self._note(text)
        if text != self._settled:
            self._settled = text
            self.entered.emit(text)

    def go_to(self, line: int) -> None:
        """Put the cursor on a line, counted from 1."""
        document = self.edit.document()
        assert document is not None
        cursor = QTextCursor(document.findBlockByNumber(max(line - 1, 0)))
        self.edit.setTextCursor(cursor)
        self.edit.setFocus()

    def _try(self) -> None:
        text = self.edit.toPlainText()
        self._note(text)
        if text != self._settled and not any(note.wrong for note in self.notes):
            self.tried.emit(text)

    def _note(self, text: str) -> None:
        self.notes = self.noted(text)
        self.edit.notes = {note.line: (told(note.says, self.unit), note.wrong) for note in self.notes}
        port = self.edit.viewport()
        if port is not None:
            port.update()
        self._say()

    def _say(self) -> None:
        """What is wrong, else what the line with the cursor comes to."""
        here = self.edit.textCursor().blockNumber() + 1
        wrong = [note for note in self.notes if note.wrong]
        if wrong:
            rows = (
                f'<a href="{note.line}" style="color:{LOOK.color("madder").name()}">Line {note.line}</a>: '
                f"{escape(told(note.says, self.unit))}."
                for note in wrong[:3]
            )
            more = f"<br>and {len(wrong) - 3} more" if len(wrong) > 3 else ""
            self.says.setText("<br>".join(rows) + more)
        else:
            self.says.setText(
                escape(next((f"Line {n.line}: {told(n.says, self.unit)}" for n in self.notes if n.line == here), ""))
            )

    def _show_how(self) -> None:
        self.wording.setVisible(self.wording.isHidden())


def _wording(lines: Sequence[tuple[str, str]]) -> QLabel:
    rows = "".join(
        f'<p style="margin:0 0 5px 0"><span style="font-weight:600">{escape(line)}</span><br>{escape(words)}</p>'
        for line, words in lines
    )
    return label(rows, "working", wrap=True, rich=True)
