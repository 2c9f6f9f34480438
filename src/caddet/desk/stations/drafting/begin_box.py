"""Where a tracing begins: with the tape, from a rubbed-off sheet, or from a photograph."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from caddet.core.tracing.kinds import KINDS, Kind
from caddet.desk.widgets.fields import PickOne, button, label
from caddet.desk.widgets.guide_window import GuideWindow

if TYPE_CHECKING:
    from caddet.desk.stations.drafting.trace_page import TracePage


class BeginBox(QWidget):
    """The three ways, one below the other."""

    def __init__(self, page: TracePage) -> None:
        super().__init__()
        self.page = page
        self.guide: GuideWindow | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        column.addWidget(label("A garment that fits becomes pieces, without unpicking it.", "why", wrap=True))
        column.addWidget(label("With the tape", "whyhead"))
        self.kinds = PickOne("Kind of garment", [(kind.name, kind.label) for kind in KINDS.values()])
        self.kinds.chosen.connect(lambda _: self.say_kind())
        column.addWidget(self.kinds)
        self.about = label("", "why", wrap=True)
        column.addWidget(self.about)
        self.begin = button("Trace it", partial(page.begin_tape, False), "onward")
        self.beside = button("Trace it beside what is made", partial(page.begin_tape, True))
        self.beside.setToolTip("Its pieces come into this garment as well: a traced sleeve beside a block")
        self.back = button("Back to the tracing", page.back_to_it, "link")
        for one in (self.begin, self.beside, self.back):
            column.addWidget(one)
        column.addSpacing(6)
        column.addWidget(label("From a rubbed-off sheet", "whyhead"))
        words = (
            "Points measured from a grain line and a base line, or pricked through, as a list; edges run through them."
        )
        column.addWidget(label(words, "why", wrap=True))
        column.addWidget(button("Begin a list of points", page.begin_sheet))
        column.addWidget(page.photo.begin)
        column.addSpacing(6)
        column.addWidget(label("From cloth pinned on a form", "whyhead"))
        column.addWidget(
            label("Marked, taken off and laid flat, it comes in one of the same three ways.", "why", wrap=True)
        )
        column.addWidget(button("Draping: how to begin", self.show_draping))
        self.say_kind()

    def show_draping(self) -> None:
        """Show the guide to draping beside the work."""
        if self.guide is None:
            self.guide = GuideWindow(self.window() or self, "draping", "Draping: how to begin")
        self.guide.show()
        self.guide.raise_()

    @property
    def kind(self) -> Kind:
        """The kind of garment that is looked at."""
        return KINDS[str(self.kinds.currentData())]

    def say_kind(self) -> None:
        """Say what the chosen kind is and takes, and show its usual outline."""
        needed = sum(one.needed for one in self.kind.asked)
        self.about.setText(
            f"{self.kind.about} It takes {needed} readings; {len(self.kind.asked) - needed} more check them."
        )
        self.page.show_usual()
