"""Plan: what are we making, of what?"""

from __future__ import annotations

from functools import partial
from html import escape

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QProgressBar, QWidget

from caddet.core.designs import Design, designs, made_mine
from caddet.core.errors import CaddetError
from caddet.core.fitting.line_drawing import LineDrawing, line_drawing
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.changing import change_block
from caddet.core.recipe.document import BlockSource, Document, Recipe
from caddet.core.recipe.planning import begin_with, begun, needs
from caddet.core.recipe.registry import block_named
from caddet.core.sentences import told
from caddet.desk.stations.base import Station, Status
from caddet.desk.stations.planning.cloth_page import ClothPage
from caddet.desk.stations.planning.fit_page import FitPage
from caddet.desk.stations.planning.garment_page import GarmentPage, in_order
from caddet.desk.stations.planning.needs_page import NeedsPage
from caddet.desk.table.garment_item import GarmentItem
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import Choices, label, strong

PAGES = (("garment", "Garment"), ("fit", "Fit"), ("cloth", "Cloth"), ("needs", "Measures"))
CARD = (300.0, 230.0)  # mm on the table
ACROSS = 6
Views = tuple[LineDrawing, LineDrawing]


def gallery_order() -> list[tuple[str, str]]:
    """What can be made, by key and label: the blocks by family, then the whole designs."""
    blocks = [(block.name, block.label) for block in in_order()]
    return [*blocks, *((f"design:{one.name}", one.title) for one in designs())]


def drawn(document: Document) -> Views | None:
    """Front and back of what a document makes, or None when it can't be drafted."""
    try:
        pattern = make(EvaluateRequest(document)).pattern
    except CaddetError:
        return None
    return None if pattern is None else (line_drawing(pattern, "front"), line_drawing(pattern, "back"))


class PlanStation(Station):
    """Garment, fit, cloth, and the measures it takes."""

    key, name, own_view = "plan", "Plan", True
    why_head = "Why choose by looking?"
    why = (
        "Every drawing is made from the pattern itself, on the wearer's own measures: what you see is what the pieces would make, "
        "lying flat. Nothing is cut yet; choosing another garment begins a new draft, and undo brings the old one back."
    )
    measure_wanted = pyqtSignal(str)

    def build(self) -> None:
        """Build the docket, once."""
        self.page = "garment"
        self.found: set[str] | None = None
        self.gallery: dict[str, Views] = {}
        self._gallery_of: object = None
        self.task: Task | None = None
        self.pages_choice = Choices("Part of Plan", PAGES)
        self.pages_choice.chosen.connect(self.show_page)
        self.body.addWidget(self.pages_choice)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName("Drawing the garments")
        self.bar.hide()
        self.body.addWidget(self.bar)
        self.drawing = label("", "faint")
        self.drawing.hide()
        self.body.addWidget(self.drawing)
        self.garment, self.fit, self.cloth, self.needs = (
            GarmentPage(self),
            FitPage(self),
            ClothPage(self),
            NeedsPage(self),
        )
        self.pages: dict[str, QWidget] = {
            "garment": self.garment,
            "fit": self.fit,
            "cloth": self.cloth,
            "needs": self.needs,
        }
        for page in self.pages.values():
            self.body.addWidget(page)
        self.shortcut = QShortcut(QKeySequence("M"), self)
        self.shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        self.shortcut.activated.connect(self.measure_missing)
        self._show_only()

    def _show_only(self) -> None:
        self.pages_choice.show_choice(self.page)
        if self.isVisible():  # the keyboard stays here when the page it was on goes away
            self.pages_choice.buttons[self.page].setFocus()
        for key, page in self.pages.items():
            page.setVisible(key == self.page)

    def show_page(self, page: str) -> None:
        """Go to a page of the docket."""
        self.page = page
        self._show_only()
        self.refresh()
        self.table.forget_fit()
        self.draw()
        self.scroller.verticalScrollBar().setValue(0)  # type: ignore[union-attr]  # it has one

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        self.aside.setText(block_named(self.bench.document.recipe.block).label)
        page = self.pages[self.page]
        page.refresh()  # type: ignore[attr-defined]  # every page has it

    def choose(self, recipe: Recipe, words: str) -> None:
        """Make something else; the steps go on where they find their place, and undo brings back what was made before."""
        changed = change_block(self.bench.document, recipe)
        if self.bench.edit(f"Make: {words}", lambda d: changed.document):
            said = f"Now being made: {words[:1].lower()}{words[1:]}."
            if changed.kept:
                said += f" {len(changed.kept)} step{'s go' if len(changed.kept) > 1 else ' goes'} on: {_listed(changed.kept)}."
            if changed.off:
                said += f" Switched off, as there is no place for {'them' if len(changed.off) > 1 else 'it'} here: {_listed(changed.off)}."
            always = changed.document.person.adjustments
            if always:
                said += f" For {changed.document.wearer}, remember: {_listed(tuple(one.what for one in always))}."
            self.bench.said.emit(said)
            self.show_page("fit")

    def put_beside(self, block: BlockSource, words: str) -> None:
        """Draft one more block into the garment; its options stand in Draft."""
        if self.bench.edit(f"Put beside: {words}", lambda d: edits.put_beside(d, block)):
            self.bench.said.emit(f"{words} now lies beside the other pieces. What can be chosen of it stands in Draft.")

    def make_mine(self, design: Design) -> None:
        """Take a whole design for the people of this project; undo brings back what was made before."""
        if self.bench.edit(f"Make mine: {design.title}", lambda d: made_mine(d, design)):
            self.bench.said.emit(
                f"{design.title} is now being made for {self.bench.document.wearer}. Its steps stand in Shape; undo brings back what was here."
            )
            self.show_page("fit")

    def measure_missing(self) -> None:
        """Go and take the first measure that is missing, or else the first that is estimated."""
        document = self.bench.document
        lacking = [need.code for need in needs(document.recipe, document.person) if need.state != "there"]
        if lacking:
            self.measure_wanted.emit(lacking[0])
        else:
            self.bench.said.emit("Everything it needs is measured.")

    # --- the table ----------------------------------------------------------------------------

    def enter(self) -> None:
        """It is shown now."""
        super().enter()
        self._draw_gallery()

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        super().leave()
        if self.task is not None:
            self.task.cancel()

    def draw(self) -> None:
        """Lay its things on the table."""
        if self.page == "garment":
            self._cards()
            return
        made = self.made
        if made is None or made.pattern is None:
            self.table.show_own([])
            reason = next((f.sentence for f in made.findings if f.severity == "stops"), "") if made is not None else ""
            self.table.say_beside(told(reason, self.bench.unit))
            return
        views = (line_drawing(made.pattern, "front"), line_drawing(made.pattern, "back"))
        self.table.show_own([GarmentItem(made.block.label, views)], fit=True)
        document = self.bench.document
        words = f"{strong(made.block.label)}<br>{escape(f'for {document.wearer}, of {document.cloth}')}"
        self.table.say_beside(words, over=True, rich=True)

    def narrow(self, names: set[str]) -> None:
        """Show only the cards of these blocks and designs."""
        self.found = None if names.issuperset(name for name, _ in gallery_order()) else names
        if self.active and self.page == "garment":
            self._cards()

    def _cards(self) -> None:
        looked = self.garment.looked
        wide, tall = CARD
        items = []
        found = [(name, words) for name, words in gallery_order() if self.found is None or name in self.found]
        for index, (name, words) in enumerate(found):
            views = self.gallery.get(name, ())
            item = GarmentItem(words, views, card=CARD, chosen=name == looked, act=partial(self.garment.look_at, name))
            item.setPos(index % ACROSS * (wide + 16), index // ACROSS * (tall + 16))
            items.append(item)
        self.table.show_own(items, fit=not self.table.fitted)
        for item in items:
            if item.chosen:
                self.table.view.ensureVisible(item)
        self.table.say_beside("")

    def _draw_gallery(self) -> None:
        """Draft every block and design on the wearer, off the main thread, and show each as it comes."""
        document = self.bench.document
        of = (document.person, document.chosen_cloth)
        if of == self._gallery_of or self.task is not None:
            return
        self._gallery_of = of
        self.gallery = {}
        names = [name for name, _ in gallery_order()]
        whole = {f"design:{one.name}": one for one in designs()}
        self.bar.setRange(0, len(names))
        self.bar.setValue(0)
        self.bar.show()
        self._told(0)
        self.drawing.show()

        def work(task: Task) -> None:
            for number, name in enumerate(names, start=1):
                if task.cancelled:
                    return
                made = made_mine(document, whole[name]) if name in whole else begin_with(document, begun(name))
                task.report((number, name, drawn(made)))

        def progressed(report: tuple[int, str, Views | None]) -> None:
            number, name, views = report
            self.bar.setValue(number)
            self._told(number)
            if views is not None:
                self.gallery[name] = views
            if self.active and self.page == "garment" and number % 4 == 0:
                self._cards()

        self.task = self.bench.run(work, lambda _: self._gallery_done(), lambda _: self._gallery_done(), progressed)

    def _told(self, number: int) -> None:
        who = self.bench.document.person.name
        self.drawing.setText(f"Drawing {number} of {self.bar.maximum()} on {who}")

    def _gallery_done(self) -> None:
        cancelled = self.task is not None and self.task.cancelled
        self.task = None
        self.bar.hide()
        self.drawing.hide()
        if cancelled:
            self._gallery_of = None
        if self.active and self.page == "garment":
            self._cards()

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        document = self.bench.document
        block = block_named(document.recipe.block)
        missing = sum(need.state == "missing" and need.needed for need in needs(document.recipe, document.person))
        remarks = 0 if self.made is None else sum(f.code.startswith(("cloth.", "ease.")) for f in self.made.findings)
        return Status(block.label.lower(), missing == 0 and remarks == 0, missing + remarks)


def _listed(labels: tuple[str, ...]) -> str:
    return ", ".join(label[:1].lower() + label[1:] for label in dict.fromkeys(labels))
