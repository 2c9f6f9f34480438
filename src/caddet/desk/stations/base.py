"""What every station has: a docket, a picture on the table, a status for the rail."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLayout, QScrollArea, QVBoxLayout, QWidget

from caddet.core.made import Made
from caddet.desk.table.table import Table
from caddet.desk.widgets.fields import label
from caddet.desk.workbench import Workbench


@dataclass(frozen=True, slots=True)
class Status:
    """What the rail says of a station: words, and whether it is settled or needs a look."""

    words: str
    settled: bool = False
    left: int = 0


class Station(QWidget):
    """A place of work. Subclasses fill ``body`` in ``build`` and keep it true in ``refresh``."""

    key = ""
    name = ""
    why_head = ""
    why = ""
    own_view = False  # what it shows is not the pieces as they lie: fitted when shown, its words taken away after

    def __init__(self, bench: Workbench, table: Table) -> None:
        super().__init__()
        self.setObjectName("page")
        self.bench, self.table = bench, table
        self.active = False
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 14, 8, 14)
        outer.setSpacing(8)
        head = QHBoxLayout()
        head.setContentsMargins(0, 0, 10, 0)
        head.addWidget(label(self.name, "station"))
        head.addStretch(1)
        self.aside = label("", "faint")
        head.addWidget(self.aside)
        outer.addLayout(head)
        self.scroller = QScrollArea()
        self.scroller.setWidgetResizable(True)
        self.scroller.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        inside.setObjectName("body")
        self.body = QVBoxLayout(inside)
        self.body.setContentsMargins(0, 0, 10, 0)
        self.body.setSpacing(6)
        self.scroller.setWidget(inside)
        outer.addWidget(self.scroller, 1)
        self.foot = QVBoxLayout()
        self.foot.setContentsMargins(0, 0, 10, 0)
        self.foot.setSpacing(8)
        outer.addLayout(self.foot)
        self.build()
        if self.why:
            self.body.addSpacing(8)
            self.body.addWidget(label(self.why_head, "whyhead", wrap=True))
            self.body.addWidget(label(self.why, "why", wrap=True))
        self.body.addStretch(1)

    @property
    def made(self) -> Made | None:
        """The pattern as it was last made; None before the first."""
        return self.bench.result

    def build(self) -> None:
        """Fill the docket. Called once."""

    def refresh(self) -> None:
        """Bring the docket up to date with the workbench. Called when shown and after every change."""

    def draw(self) -> None:
        """Show on the table what belongs here. Called when shown and after every change."""

    def changed(self) -> None:
        """The document changed; its pattern is not made yet."""
        self.refresh()

    def redraw(self) -> None:
        """A new pattern is there: the docket and, when it is in front, the table."""
        self.refresh()
        if self.active:
            self.draw()

    def retire(self) -> None:
        """It is taken away for good: another of its kind takes its place."""
        self.leave()

    def enter(self) -> None:
        """The station is shown from now on."""
        self.active = True
        if self.own_view:
            self.table.forget_fit()
        self.refresh()
        self.draw()

    def leave(self) -> None:
        """Another station is shown now."""
        self.active = False
        if self.own_view:
            self.table.say_beside("")
            self.table.forget_fit()

    def status(self) -> Status:
        """For the rail."""
        return Status("")


def empty(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            empty(inner)
