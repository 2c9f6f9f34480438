"""What has to be measured for it: what is there, what is estimated, what is missing."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from caddet.core.body.person import show_measure
from caddet.core.recipe.planning import Need, needs
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Row, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.plan import PlanStation

HEADS = {"missing": "Missing", "estimated": "Estimated until measured", "there": "Measured"}


class NeedsPage(QWidget):
    """The measures as rows; Enter on one goes and takes it."""

    def __init__(self, station: PlanStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.said = label("", "why", wrap=True)
        column.addWidget(self.said)
        self.go = button("Measure what is missing (M)", self._go)
        column.addWidget(self.go)
        self.box = QVBoxLayout()
        self.box.setSpacing(0)
        column.addLayout(self.box)
        self.rows: dict[str, Row] = {}
        self._shown: object = None

    def refresh(self) -> None:
        """Show the document on this page."""
        document, unit = self.bench.document, self.bench.unit
        found = needs(document.recipe, document.person)
        lacking = [need for need in found if need.state != "there"]
        self.said.setText(
            f"Everything it needs is measured on {document.person.name}."
            if not lacking
            else f"{len(found) - len(lacking)} of {len(found)} are measured. What is estimated can be drafted with and is marked on every figure that leans on it."
        )
        self.go.setVisible(bool(lacking))
        if (found, unit) == self._shown:
            return
        self._shown = (found, unit)
        empty(self.box)
        self.rows = {}
        state = ""
        for need in found:
            if need.state != state:
                state = need.state
                self.box.addWidget(label(HEADS[state], "whyhead"))
            self.box.addWidget(self._row(need))

    def _row(self, need: Need) -> Row:
        unit = self.bench.unit
        words = "" if need.state != "estimated" else f"± {show_measure(need.code, need.error, unit, with_unit=True)}"
        if not need.needed:
            words = (words + "; " if words else "") + "only for checks"
        row = Row(need.label, words)
        if need.state != "missing":
            row.top.addWidget(
                label(show_measure(need.code, need.value, unit), "figure" if need.state == "there" else "faint")
            )
        row.chosen.connect(partial(self.station.measure_wanted.emit, need.code))
        self.rows[need.code] = row
        return row

    def _go(self) -> None:
        self.station.measure_missing()
