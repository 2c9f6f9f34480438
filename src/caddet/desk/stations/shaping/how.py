"""How a step is done, on the wearer's own pieces: three small pictures, what it does, and what a maker says who wants it."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from caddet.core.hands.gesture import Gesture
from caddet.core.lengths import Unit
from caddet.core.pattern.pattern import Pattern
from caddet.core.sentences import told
from caddet.core.words import found_in, words
from caddet.desk.stations.shaping.pictures import three
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label, strong

SAID = 4  # of a maker's words for the step


class How(QWidget):
    """A fold-out under the step in hand; it stays open or shut from one step to the next."""

    def __init__(self) -> None:
        super().__init__()
        self.toggle = button("How it is done", self._toggle, "quiet")
        self.pictures = label()
        self.pictures.setAccessibleName("Before, doing, after")
        self.says = label("", "working", wrap=True)
        self.says.setTextFormat(Qt.TextFormat.RichText)
        self.says.setTextInteractionFlags(
            Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        )
        self.says.linkActivated.connect(self._explain)
        self.word = label("", "why", wrap=True)
        self.word.setAccessibleName("What the word means")
        self.word.hide()
        self.when = label("", "faint", wrap=True)
        self.inside = QWidget()
        column = QVBoxLayout(self.inside)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for part in (self.pictures, self.says, self.word, self.when):
            column.addWidget(part)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 4)
        outer.addWidget(self.toggle, 0, Qt.AlignmentFlag.AlignLeft)
        outer.addWidget(self.inside)
        self.inside.hide()
        self.gesture: Gesture | None = None
        self._unit: Unit = "cm"
        self._said: tuple[str, bool] = "", False
        self._drawn: tuple[Pattern, Pattern | None, object] | None = None

    def show_gesture(self, gesture: Gesture, unit: Unit) -> None:
        """Show what a step in hand does; the pictures follow its values."""
        self.gesture, self._unit = gesture, unit
        if not self.inside.isHidden():
            self._fill()

    def _toggle(self) -> None:
        self.inside.setVisible(self.inside.isHidden())
        if not self.inside.isHidden():
            self._fill()

    def _say(self, name: str, text: str) -> None:
        """What the step does, the trade's words in it underlined, then those of its name: each opens what it means."""
        if (text, LOOK.evening) == self._said:
            return
        self._said = text, LOOK.evening
        self.word.hide()
        parts, done = [], 0
        found = list(found_in(text))
        for start, end, word in found:
            parts += [escape(text[done:start]), _link(word.term, text[start:end])]
            done = end
        told_there = {word.term for *_, word in found}
        more = [_link(word.term, word.term) for *_, word in found_in(name) if word.term not in told_there]
        self.says.setText("".join([*parts, escape(text[done:])]) + "".join(f" {one}." for one in more))

    def _explain(self, term: str) -> None:
        """Open what a word means, or shut it again."""
        word = words()[term]
        words_now = f"{strong(word.term[:1].upper() + word.term[1:])}: {escape(word.says)}"
        shut = self.word.isVisible() and self.word.text() == words_now
        self.word.setText(words_now)
        self.word.setVisible(not shut)

    def _fill(self) -> None:
        gesture = self.gesture
        if gesture is None:
            return
        step = gesture.step
        self._say(told(step.label, self._unit), told(step.why, self._unit))
        words = "; ".join(f"“{one}”" for one in step.asked_as[:SAID])
        self.when.setText(f"When one says {words}." if words else "")
        able = not gesture.missing and not gesture.trouble
        after = gesture.outcome.pattern if able else None
        drawn = gesture.before, after, (LOOK.evening, LOOK.scale)
        if (
            self._drawn is None
            or any(a is not b for a, b in zip(drawn[:2], self._drawn[:2], strict=True))
            or drawn[2] != self._drawn[2]
        ):
            self._drawn = drawn
            self.pictures.setPixmap(three(gesture.before, after))
        self.pictures.setVisible(after is not None)


def _link(term: str, words_: str) -> str:
    return f'<a href="{escape(term)}" style="color: {LOOK.name("woad")}">{escape(words_)}</a>'
