"""What is done with a nest besides looking: cloth for each size, the nearest size, files."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QFileDialog

from caddet.core.errors import CaddetError
from caddet.core.grading.nest import GradedSize, nearer
from caddet.core.grading.sizes import as_pieces, check_rules, for_person, redrafted
from caddet.core.laying.sizes import ClothOf, cloth_of
from caddet.core.lengths import format_length
from caddet.core.sentences import say, told
from caddet.desk.stations.grading.exporting import export_sizes
from caddet.desk.tasks import Task

if TYPE_CHECKING:
    from caddet.desk.stations.grading.nest_page import NestPage

CLOSE = 10.0  # mm: a graded size nearer than that all round will do


class NestActions:
    """Work on the whole nest, off the main thread; it can be left at any time."""

    def __init__(self, page: NestPage) -> None:
        self.page, self.bench = page, page.bench
        self.tasks: list[Task] = []

    def start(self, work: Callable[[Task], Any], done: Callable[[Any], object]) -> None:
        """Other work off the main thread, with its faults said."""
        self.tasks = [one for one in self.tasks if not one.cancelled]
        task = self.bench.run(
            work, done, lambda error: self.bench.said.emit(told(str(error), self.bench.unit)), lambda _: None
        )
        self.tasks.append(task)

    def lay_sizes(self) -> None:
        """Lay every size, one after the other, and show what each takes as it comes."""
        nest, document = self.page.station.nest, self.bench.document
        if nest is None:
            return
        self.page.station.progress.setRange(0, len(nest.sizes))
        self.page.station.progress.setValue(0)
        self.page.station.progress.show()

        def work(task: Task) -> None:
            for number, one in enumerate(nest.sizes, 1):
                if task.cancelled:
                    return
                task.report((number, one.name, list(cloth_of(document, one, cancelled=task.is_cancelled))))

        def progressed(report: tuple[int, str, list[ClothOf]]) -> None:
            number, name, found = report
            self.page.cloth[name] = found
            self.page.station.progress.setValue(number)
            self.page.refresh_rows()

        def failed(error: Exception) -> None:
            self.page.station.progress.hide()
            self.bench.said.emit(told(str(error), self.bench.unit))

        self.tasks.append(self.bench.run(work, lambda _: self.page.station.progress.hide(), failed, progressed))

    def find_nearer(self) -> None:
        """Which size lies nearest to the wearer drafted again, and where they differ most; both shown."""
        nest, document = self.page.station.nest, self.bench.document
        if nest is None:
            return
        who = document.person

        def done(found: GradedSize) -> None:
            sizes = [one for one in nest.sizes if one.name in self.page.size_buttons]
            best = nearer(found.pattern, sizes) if found.pattern is not None else None
            self.page.near.show()
            if best is None:
                self.page.near.setText(f"{who.name} can't be drafted, so there is nothing to compare.")
                return
            size, where = best
            self.page.redrafted = found
            unit = self.bench.unit
            worst = "; ".join(f"{one.label} {format_length(one.by, unit, with_unit=True)}" for one in where[:3])
            close = where[0].by < CLOSE
            self.page.near.setText(
                f"Size {size.name} is nearest to {who.name}. At most apart: {worst}. "
                + ("It will do as it is." if close else "Drafted again is nearer than any size: take that.")
            )
            self.page.show_piece(
                where[0].piece if nest.pieces() and where[0].piece in nest.pieces() else self.page.piece
            )

        self.start(lambda _: redrafted(document, who), done)

    def ask_export(self) -> None:
        """Ask for a folder, and write every size that is shown into it."""
        folder = QFileDialog.getExistingDirectory(self.page, "Folder for the sizes")
        if folder:
            self.export_into(Path(folder), ".pdf")

    def export_into(self, folder: Path, ending: str) -> None:
        """Write every size that is shown as a project and in a format, off the main thread."""
        nest, document = self.page.station.nest, self.bench.document
        if nest is None:
            return
        redraft = document.grading.way == "redraft"
        wanted = []
        try:
            check_rules(document)
            for one in nest.sizes:
                if one.name not in self.page.hidden and one.pattern is not None:
                    again = for_person(document, one.person) if redraft and one.person is not None else None
                    wanted.append((one.name, again or as_pieces(document, one)))
        except CaddetError as error:
            self.bench.said.emit(told(say("{error:capital}.", error=error), self.bench.unit))
            return
        files = {file: self.bench.picture(file) for file in document.photo_files()}
        self.page.station.progress.setRange(0, len(wanted))
        self.page.station.progress.show()

        def done(count: int) -> None:
            self.page.station.progress.hide()
            self.bench.said.emit(f"{count} size{'' if count == 1 else 's'} written into {folder}.")

        def failed(error: Exception) -> None:
            self.page.station.progress.hide()
            self.bench.said.emit(told(str(error), self.bench.unit))

        self.tasks.append(
            self.bench.run(
                lambda task: export_sizes(wanted, folder, ending, files.get, task),
                done,
                failed,
                self.page.station.progress.setValue,
            )
        )

    def stop(self) -> None:
        """Stop what it works on."""
        for task in self.tasks:
            task.cancel()
        self.tasks = []
