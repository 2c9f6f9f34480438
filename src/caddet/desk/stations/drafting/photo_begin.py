"""Where a photograph's tracing begins: a file, or a picture of a practice garment."""

from __future__ import annotations

from pathlib import Path as File
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from caddet.core.devices.practice_shots import PRACTICE
from caddet.core.errors import CaddetError
from caddet.core.files.writing import write_whole
from caddet.core.formats.calibration_sheet import WORDS, pdf_sheet
from caddet.core.recipe.traced import PhotoTracing
from caddet.core.tracing.photo.automatic import begun
from caddet.core.tracing.photo.picture import Picture
from caddet.core.tracing.photo.sheets import SHEETS, Found, view_by_corners
from caddet.desk.widgets.fields import PickOne, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.drafting.photo_page import PhotoPage


class PhotoBegin(QWidget):
    """Opening a photograph, or taking one with the practice camera."""

    def __init__(self, page: PhotoPage) -> None:
        super().__init__()
        self.page = page
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(5)
        column.addWidget(label("From a photograph", "whyhead"))
        column.addWidget(
            label(
                "One garment flat on a table of another colour, from above, a sheet of known size beside it. What is too long "
                "for one: several pictures that overlap, three crosses drawn where they do. Or scanned pages.",
                "why",
                wrap=True,
            )
        )
        self.sheet = PickOne("Sheet in the picture", [(one.name, one.label) for one in SHEETS.values()])
        column.addWidget(self.sheet)
        column.addWidget(button("Open a photograph…", self.ask))
        column.addWidget(button("Print Caddet's sheet…", self.ask_sheet, "link"))
        column.addWidget(label("Or practise: the camera takes a garment whose shape is known.", "why", wrap=True))
        self.practice = PickOne("Practice garment", [(one.name, one.label) for one in PRACTICE.values()])
        column.addWidget(self.practice)
        column.addWidget(button("Take a practice picture", self.take))
        self.seed = 1

    @property
    def chosen_sheet(self) -> str:
        """The sheet that is said to lie in the picture."""
        return str(self.sheet.currentData())

    def ask(self) -> None:
        """Ask for a photograph and trace it."""
        names, _ = QFileDialog.getOpenFileNames(
            self, "Open a photograph, or several that overlap", str(File.home()), "Photographs (*.jpg *.jpeg *.png)"
        )
        if names:
            self.page.open([File(name) for name in names], self.chosen_sheet)

    def ask_sheet(self) -> None:
        """Ask where the sheet to print goes."""
        name, _ = QFileDialog.getSaveFileName(
            self, "Caddet's sheet", str(File.home() / "caddet-sheet.pdf"), "PDF (*.pdf)"
        )
        if name:
            try:
                write_whole(File(name), pdf_sheet(self.page.bench.unit))
            except CaddetError as error:
                self.page.bench.said.emit(str(error))
                return
            self.page.bench.said.emit(WORDS)

    def take(self) -> None:
        """Take a picture with the practice camera and trace it."""
        name, sheet = str(self.practice.currentData()), self.chosen_sheet
        code = f"{name} {sheet} {self.seed}"
        self.seed += 1
        self.page.practise(code, sheet)


def by_hand(name: str, picture: Picture, sheet: str) -> PhotoTracing:
    """A tracing whose sheet has to be set by hand: its corners stand in the middle of the picture."""
    wide, high = picture.size
    one = SHEETS[sheet]
    half_wide = 0.12 * wide
    half_high = half_wide * one.short / one.long
    middle = complex(wide, high) / 2
    corners = tuple(middle + complex(x * half_wide, y * half_high) for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1)))
    view = view_by_corners(picture.size, corners, one)
    return begun(name, picture.points, Found(one, corners, view))  # type: ignore[arg-type]  # there are four
