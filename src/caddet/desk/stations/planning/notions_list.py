"""What has to be bought besides the cloth, each with its sum."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from caddet.core.lengths import Unit, format_length
from caddet.core.pattern.notions import Needed
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Row, label
from caddet.desk.workbench import Workbench


class NotionsList(QWidget):
    """The notions of all parts as rows: how many, how long, and how that came about."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(label("Besides the cloth", "heading"))
        self.none = label(
            "Nothing yet: zips, buttons, elastic and tape come with the parts put on in Shape.", "faint", wrap=True
        )
        column.addWidget(self.none)
        self.box = QVBoxLayout()
        self.box.setSpacing(0)
        column.addLayout(self.box)
        self.rows: list[Row] = []
        self._shown: object = None

    def refresh(self) -> None:
        """Show what the pattern needs now."""
        made, unit = self.bench.result, self.bench.unit
        found = made.pattern.needs() if made is not None and made.pattern is not None else ()
        self.none.setVisible(not found)
        if (found, unit) == self._shown:
            return
        self._shown = (found, unit)
        empty(self.box)
        self.rows = []
        for one in found:
            row = Row(told(one.notion.label, unit), told(one.wrong or one.working, unit))
            if one.wrong:
                row.set_sub_style("wrong")
            row.top.addWidget(label(amount(one, unit), "figure"))
            self.box.addWidget(row)
            self.rows.append(row)


def amount(one: Needed, unit: Unit) -> str:
    """How much of a notion to ask for: ``2 × 30.0 cm``, ``6``, ``2 packs``."""
    if one.packs:
        return f"{one.packs} pack" + ("s" if one.packs > 1 else "")
    if not one.notion.has_length:
        return str(one.notion.count)
    length = format_length(one.size, unit, with_unit=True)
    return length if one.notion.count == 1 else f"{one.notion.count} × {length}"
