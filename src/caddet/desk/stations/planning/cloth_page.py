"""Of what: the cloth, its stretch test, and whether it suits what is being made."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from caddet.core.lengths import Unit, format_length
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import MAIN
from caddet.core.recipe.registry import block_named
from caddet.core.recipe.suitability import WANTS, suitability, suits
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.stations.planning.notions_list import NotionsList
from caddet.desk.widgets.fields import Choices, LengthField, label, narrow_combo

if TYPE_CHECKING:
    from caddet.desk.stations.plan import PlanStation

TESTED: dict[Unit, float] = {"cm": 100.0, "in": 101.6}  # mm, what is marked on the folded cloth before it is stretched
FLAGS = (
    ("nap", "Nap, or a one-way print"),
    ("recovers", "Goes back after stretching"),
    ("frays", "Frays"),
    ("slippery", "Slippery"),
    ("lining", "Wants a lining"),
)


class ClothPage(QWidget):
    """The chosen cloth, as it was found in the hand."""

    def __init__(self, station: PlanStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        self.cloths = narrow_combo()
        self.cloths.setAccessibleName("Cloth")
        self.cloths.activated.connect(
            lambda at: self.bench.edit("Cloth", lambda d: edits.choose_cloth(d, self.cloths.itemText(at)))
        )
        column.addWidget(self.cloths)
        self.new_name = QLineEdit()
        self.new_name.setPlaceholderText("Name of another cloth, then Enter")
        self.new_name.setAccessibleName("Name of another cloth")
        self.new_name.returnPressed.connect(self._add)
        column.addWidget(self.new_name)
        self.suits = QVBoxLayout()
        self.suits.setSpacing(4)
        column.addLayout(self.suits)
        self.kinds: dict[str, Choices] = {}
        for key, name, choices in (
            ("kind", "Made as", (("woven", "Woven"), ("knit", "Knit"))),
            ("weight", "Weight", (("light", "Light"), ("medium", "Medium"), ("heavy", "Heavy"))),
            ("drape", "Falls", (("soft", "Soft"), ("middling", "Middling"), ("stiff", "Stiff"))),
        ):
            chooser = Choices(name, choices)
            chooser.chosen.connect(partial(self._change, key))
            self.kinds[key] = chooser
            column.addWidget(chooser)
        column.addWidget(label("Stretch test", "whyhead"))
        self.test = label("", "why", wrap=True)
        column.addWidget(self.test)
        grid = QGridLayout()
        grid.setColumnStretch(0, 1)
        self.stretches: dict[str, tuple[LengthField, object]] = {}
        for line, (key, words) in enumerate((("stretch", "Across, it comes to"), ("stretch_along", "Along the grain"))):
            field = LengthField(words, self.bench.unit)
            field.entered.connect(partial(self._stretch, key))
            percent = label("", "heading")
            grid.addWidget(label(words), line, 0)
            grid.addWidget(field, line, 1)
            grid.addWidget(percent, line, 2)
            self.stretches[key] = (field, percent)
        column.addLayout(grid)
        self.flags: dict[str, QCheckBox] = {}
        for key, words in FLAGS:
            box = QCheckBox(words)
            box.toggled.connect(partial(self._change, key))
            self.flags[key] = box
            column.addWidget(box)
        grid = QGridLayout()
        grid.setColumnStretch(0, 1)
        self.lengths: dict[str, LengthField] = {}
        for line, (key, words) in enumerate(
            (("width", "Width without selvedges"), ("repeat", "Repeat of the print"), ("owned", "In the cupboard"))
        ):
            field = LengthField(words, self.bench.unit)
            field.entered.connect(partial(self._length, key))
            grid.addWidget(label(words), line, 0)
            grid.addWidget(field, line, 1)
            self.lengths[key] = field
        column.addLayout(grid)
        column.addWidget(label("Shrinkage and price are typed in Lay.", "faint"))
        column.addSpacing(8)
        self.notions = NotionsList(self.bench)
        column.addWidget(self.notions)

    def refresh(self) -> None:
        """Show the document on this page."""
        document, unit = self.bench.document, self.bench.unit
        cloth = document.chosen_cloth
        names = [one.name for one in document.cloths]
        self.cloths.blockSignals(True)
        if [self.cloths.itemText(i) for i in range(self.cloths.count())] != names:
            self.cloths.clear()
            self.cloths.addItems(names)
        self.cloths.setCurrentText(cloth.name)
        self.cloths.blockSignals(False)
        for key, chooser in self.kinds.items():
            chooser.show_choice(str(getattr(cloth, key)))
        marked = format_length(TESTED[unit], unit, with_unit=True)
        self.test.setText(
            f"Fold the cloth, mark {marked} on the fold, and pull until it resists. Type how long it is then; let go and look whether it goes back."
        )
        for key, (field, percent) in self.stretches.items():
            share = float(getattr(cloth, key))
            field.show_value(TESTED[unit] * (1 + share), unit)
            percent.setText(f"{share:.0%}")  # type: ignore[attr-defined]  # a label
        for key, box in self.flags.items():
            box.blockSignals(True)
            box.setChecked(bool(getattr(cloth, key)))
            box.blockSignals(False)
        for key, field in self.lengths.items():
            field.show_value(float(getattr(cloth, key)), unit)
        self._suits(cloth)
        self.notions.refresh()

    def _suits(self, cloth: Cloth) -> None:
        empty(self.suits)
        block = block_named(self.bench.document.recipe.block)
        remarks = suitability(block, cloth)
        for finding in remarks:
            self.suits.addWidget(label(told(finding.sentence, self.bench.unit), "wrong", wrap=True))
        good = [WANTS[want][0] for want in block.wants if suits(want, cloth)]
        if good and not remarks:
            self.suits.addWidget(label(f"{cloth.name} suits it: wanted is {', and '.join(good)}.", "holds", wrap=True))
        elif not block.wants:
            self.suits.addWidget(label(f"{block.label} can be made of nearly any cloth.", "faint", wrap=True))
        for finding in self.bench.result.findings if self.bench.result is not None else ():
            if finding.code == "ease.stretch":
                self.suits.addWidget(label(told(finding.sentence, self.bench.unit), "wrong", wrap=True))

    def _change(self, key: str, value: object) -> None:
        self.bench.edit(f"Cloth: {key.replace('_', ' ')}", lambda d: edits.change_cloth(d, MAIN, **{key: value}))

    def _stretch(self, key: str, mm: float) -> None:
        share = mm / TESTED[self.bench.unit] - 1
        if not 0 <= share <= 3:
            self.stretches[key][0].refuse(
                f"Expected between {format_length(TESTED[self.bench.unit], self.bench.unit, with_unit=True)} (no stretch) and four times that."
            )
            return
        self._change(key, round(share, 4))

    def _length(self, key: str, mm: float) -> None:
        self._change(key, mm)

    def _add(self) -> None:
        name = self.new_name.text().strip()[:80]
        width = self.bench.document.chosen_cloth.width
        if name and self.bench.edit(f"Cloth: {name}", lambda d: edits.add_cloth(d, Cloth(name=name, width=width))):
            self.new_name.clear()
