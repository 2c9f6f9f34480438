"""How it fits: a way of fitting, and the ease at each level, in all and on each quarter."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from caddet.core.body.kept import Liked
from caddet.core.body.known import known_measure
from caddet.core.lengths import Unit, format_length
from caddet.core.recipe import edits
from caddet.core.recipe.ease import FITS, EaseLevel, stretch_remark, take_for_stretch
from caddet.core.recipe.planning import ease_of, fit_like
from caddet.core.recipe.registry import Block, block_named
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import LengthRow, Row, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.plan import PlanStation


class FitPage(QWidget):
    """Fits as rows to choose, levels as rows to type."""

    def __init__(self, station: PlanStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(label("Way of fitting", "whyhead"))
        self.fits_box = QVBoxLayout()
        self.fits_box.setSpacing(0)
        column.addLayout(self.fits_box)
        column.addSpacing(6)
        column.addWidget(label("Ease, all round", "whyhead"))
        self.levels_box = QVBoxLayout()
        self.levels_box.setSpacing(0)
        column.addLayout(self.levels_box)
        self.rows: dict[str, LengthRow] = {}
        self.fits: dict[str, Row] = {}
        self._built: tuple[str, Unit] | None = None
        self._likes: tuple[str, ...] = ()

    def _build(self, block: Block, unit: Unit) -> None:
        empty(self.fits_box)
        empty(self.levels_box)
        self.fits, self.rows = {}, {}
        choices = [
            ("", "As the block has it", "The block's own ease, a good beginning."),
            *((name, FITS[name].label, FITS[name].why) for name in block.fits),
        ]
        for name, words, why in choices:
            row = Row(words, told(why, unit))
            row.chosen.connect(partial(self._fit, name, words))
            self.fits[name] = row
            self.fits_box.addWidget(row)
        for liked in self.bench.document.person.liked:
            row = Row(f"As {liked.name}", "Its girths less the body's, where it was measured: a garment that fits.")
            row.chosen.connect(partial(self._like, liked))
            self.fits[f"like:{liked.name}"] = row
            self.fits_box.addWidget(row)
        for level in block.ease:
            field = LengthRow(level.label, self.bench.unit, " ")
            field.field.entered.connect(partial(self._ease, level.level))
            self.rows[level.level] = field
            self.levels_box.addWidget(field)
        if not block.ease:
            self.levels_box.addWidget(label("This block has no ease to give.", "faint", wrap=True))
        self.usual = button("The usual ease again", self._usual, "link")
        self.levels_box.addWidget(self.usual)

    def refresh(self) -> None:
        """Show the document on this page."""
        recipe, unit = self.bench.document.recipe, self.bench.unit
        block = block_named(recipe.block)
        likes = tuple(liked.name for liked in self.bench.document.person.liked)
        if (recipe.block, unit) != self._built or likes != self._likes:
            self._built, self._likes = (recipe.block, unit), likes
            self._build(block, unit)
        for name, row in self.fits.items():
            row.set_chosen(name == recipe.fit)
            row.setAccessibleDescription("chosen" if name == recipe.fit else "")
        for level in block.ease:
            ease = ease_of(self.bench.document, level)
            self.rows[level.level].show_value(ease, unit)
            words, wrong = self._words(level, ease)
            self.rows[level.level].set_sub(words)
            self.rows[level.level].set_sub_style("wrong" if wrong else "working")
        self.usual.setVisible(bool(recipe.ease))

    def _words(self, level: EaseLevel, ease: float) -> tuple[str, bool]:
        unit, document = self.bench.unit, self.bench.document
        what = known_measure(document.person, level.measure)
        shared = told(level.shared(ease), unit)
        yours = ", yours" if level.level in document.recipe.ease else ""
        if what is None:
            return f"{shared}{yours}; the {level.measure.replace('_', ' ')} is not known yet", False
        finished = format_length(what.value + ease, unit, with_unit=True)
        sentence, _ = stretch_remark(level, ease, what.value, document.chosen_cloth)
        if sentence:
            return told(sentence, unit), True
        words = f"{shared}, finished {finished}{yours}"
        if ease < 0:
            exact, quick = take_for_stretch(what.value, document.chosen_cloth.stretch)
            words += f". At full stretch {format_length(exact, unit)} would do; by the quick rule {format_length(quick, unit)}"
        return words, False

    def _fit(self, name: str, words: str) -> None:
        self.bench.edit(f"Fit: {words}", lambda d: edits.set_fit(d, name))

    def _like(self, liked: Liked) -> None:
        self.bench.edit(f"Fit as {liked.name}", lambda d: fit_like(d, liked))

    def _ease(self, level: str, value: float) -> None:
        self.bench.edit(f"Ease at the {level.replace('_', ' ')}", lambda d: edits.set_ease(d, level, value))

    def _usual(self) -> None:
        fit = self.bench.document.recipe.fit
        self.bench.edit("The usual ease", lambda d: edits.set_fit(d, fit))
