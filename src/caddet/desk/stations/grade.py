"""Grade: for which sizes or people? The nest on the table, its sizes and rules in the docket; two people side by side."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QProgressBar, QWidget

from caddet.core.body.sizes import shipped_table
from caddet.core.errors import CaddetError
from caddet.core.grading.nest import GradedSize, Nest
from caddet.core.grading.sizes import sizes_of
from caddet.core.sentences import told
from caddet.desk.stations.base import Station, Status
from caddet.desk.stations.grading.beside_page import BesidePage
from caddet.desk.stations.grading.nest_page import NestPage
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import Choices, label


class GradeStation(Station):
    """The pattern in other sizes and for other people."""

    graded = pyqtSignal()
    key, name, own_view = "grade", "Grade", True
    why_head = "Why two ways?"
    why = (
        "Drafted again, every size is made from its own measures and always fits. By rules, corners move by so much from "
        "size to size: for pieces that have no formulas, bought or traced. Either way every seam is walked in every size."
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.page = "nest"
        self.pages_choice = Choices("Grade", (("nest", "Sizes"), ("beside", "Two people")))
        self.pages_choice.chosen.connect(self.show_page)
        self.pages_choice.show_choice("nest")
        self.body.addWidget(self.pages_choice)
        self.nest_page, self.beside_page = NestPage(self), BesidePage(self)
        self.pages: dict[str, QWidget] = {"nest": self.nest_page, "beside": self.beside_page}
        for page in self.pages.values():
            self.body.addWidget(page)
        self.beside_page.hide()
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        self.foot.addWidget(self.wrong)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Grading")
        self.progress.hide()
        self.foot.addWidget(self.progress)
        self.nest: Nest | None = None
        self.task: Task | None = None
        self._of: object = None

    def show_page(self, page: str) -> None:
        """Go to a page of the docket."""
        self.page = page
        self.pages_choice.show_choice(page)
        for key, one in self.pages.items():
            one.setVisible(key == page)
        self.table.forget_fit()
        self.refresh()
        self.draw()

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        grading = self.bench.document.grading
        count = len(grading.sizes) or len(shipped_table(grading.table).sizes)
        self.aside.setText(f"{count} size{'' if count == 1 else 's'}")
        if self.active:
            self._grade()
        self.nest_page.refresh()
        self.beside_page.refresh()

    def draw(self) -> None:
        """Lay its things on the table."""
        if not self.active:
            return
        if self.page == "nest":
            self.nest_page.draw()
        else:
            self.beside_page.draw()

    # --- making the sizes ---------------------------------------------------------------------

    def _grade(self) -> None:
        """Make every size off the main thread, when what they come from has changed."""
        document = self.bench.document
        of = (document.recipe, document.people, document.wearer, document.cloths, document.roles, document.grading)
        if of == self._of:
            return
        self._of = of
        if self.task is not None:
            self.task.cancel()
        people = tuple(p for p in document.people if p.name in document.grading.people)
        total = (len(document.grading.sizes) or len(shipped_table(document.grading.table).sizes)) + len(people)
        self.progress.setRange(0, total)
        self.progress.setValue(0)
        self.progress.show()

        def work(task: Task) -> list[GradedSize] | None:
            found: list[GradedSize] = []
            for one in sizes_of(document, people=people):
                if task.cancelled:
                    return None
                found.append(one)
                task.report(len(found))
            return found

        def done(found: list[GradedSize] | None) -> None:
            if self._of != of:
                return  # an answer to an older question
            self.task = None
            self.progress.hide()
            if found:
                self.nest = Nest(tuple(found))
                self._say("")
                self._show()

        def failed(error: Exception) -> None:
            if self._of == of:
                self._failed(error)

        self.task = self.bench.run(work, done, failed, self.progress.setValue)

    def _failed(self, error: Exception) -> None:
        self.task = None
        self.progress.hide()
        self.nest = None
        words = told(str(error), self.bench.unit) if isinstance(error, CaddetError) else str(error)
        self._say(words[:1].upper() + words[1:])
        self._show()

    def _say(self, words: str) -> None:
        self.wrong.setText(words)
        self.wrong.setVisible(bool(words))

    def _show(self) -> None:
        self.graded.emit()
        self.nest_page.refresh()
        if self.active:
            self.draw()

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        super().leave()
        self.nest_page.doing.stop()
        self.beside_page.stop()
        if self.task is not None:
            self.task.cancel()
            self.task = None
            self._of = None
            self.progress.hide()

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        if self.nest is None:
            return Status("not graded yet")
        bad = sum(bool(one.fails) for one in self.nest.sizes)
        count = len(self.nest.sizes)
        return Status(f"{count} size{'' if count == 1 else 's'}", bad == 0, bad)
