"""Two people, one design: the pieces of both side by side, and what is another on the second."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QGraphicsItem, QHBoxLayout, QVBoxLayout, QWidget

from caddet.core.fitting.line_drawing import line_drawing
from caddet.core.grading.beside import Change, changes
from caddet.core.grading.nest import GradedSize
from caddet.core.grading.sizes import redrafted
from caddet.core.recipe import edits
from caddet.core.sentences import told
from caddet.desk.stations.base import empty
from caddet.desk.stations.grading.nest_item import Line, NestItem, Words
from caddet.desk.table.garment_item import GarmentItem
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import PickOne, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.grade import GradeStation

HEADS = {
    "decide": "To be decided",
    "other": "Otherwise than on the first",
    "length": "Lengths, the second less the first",
}
MOST_SHOWN = 14
GAP = 80.0  # mm between pieces


class BesidePage(QWidget):
    """Whom the design is made for besides the wearer, and the differences."""

    def __init__(self, station: GradeStation) -> None:
        super().__init__()
        self.station, self.bench, self.table = station, station.bench, station.table
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.first = label("", "heading", wrap=True)
        column.addWidget(self.first)
        line = QHBoxLayout()
        line.addWidget(label("beside", "caption"))
        self.people = PickOne("Beside whom", ())
        self.people.chosen.connect(self.choose)
        line.addWidget(self.people, 1)
        column.addLayout(line)
        self.take = button("Go on with this one", self.take_over)
        column.addWidget(self.take)
        self.list = QVBoxLayout()
        self.list.setSpacing(3)
        column.addLayout(self.list)
        self.who = ""
        self.both: tuple[GradedSize, GradedSize] | None = None
        self.found: tuple[Change, ...] = ()
        self.task: Task | None = None
        self._of: object = None

    def refresh(self) -> None:
        """Show who is compared, and make both when something is another."""
        document = self.bench.document
        others = [person.name for person in document.people if person.name != document.wearer]
        self.first.setText(f"{document.title}: {document.wearer}")
        if [self.people.itemData(n) for n in range(self.people.count())] != others:
            self.people.clear()
            for name in others:
                self.people.addItem(name, name)
        if self.who not in others:
            self.who = others[0] if others else ""
        self.people.show_choice(self.who)
        self.take.setText(f"Go on with {self.who}" if self.who else "There is nobody else in this project")
        self.take.setEnabled(bool(self.who))
        if self.station.active and self.station.page == "beside":
            self._make()

    def choose(self, name: str) -> None:
        """Compare with somebody else."""
        self.who = name
        self.refresh()

    def take_over(self) -> None:
        """The second becomes the wearer."""
        who = self.who
        self.bench.edit(f"For {who}", lambda d: edits.choose_wearer(d, who))

    def _make(self) -> None:
        document = self.bench.document
        of = (document.recipe, document.people, document.wearer, document.cloths, document.roles, self.who)
        if of == self._of or not self.who:
            return
        self.stop()
        self._of = of
        first, second = document.person, document.person_named(self.who)

        def work(_: Task) -> tuple[GradedSize, GradedSize, tuple[Change, ...]]:
            one, two = redrafted(document, first), redrafted(document, second)
            return one, two, changes(document, one, two)

        def done(found: tuple[GradedSize, GradedSize, tuple[Change, ...]]) -> None:
            if self._of != of:
                return  # an answer to an older question
            self.task = None
            self.both, self.found = (found[0], found[1]), found[2]
            self._fill()
            if self.station.active and self.station.page == "beside":
                self.table.forget_fit()
                self.draw()

        self.task = self.bench.run(work, done, lambda error: self.bench.said.emit(str(error)), lambda _: None)

    def stop(self) -> None:
        """Give up what is being made; it is made when it is asked for again."""
        if self.task is not None:
            self.task.cancel()
            self.task, self._of = None, None

    def _fill(self) -> None:
        empty(self.list)
        for kind, head in HEADS.items():
            some = [one for one in self.found if one.kind == kind]
            if not some:
                continue
            self.list.addWidget(label(head, "whyhead"))
            for one in some[:MOST_SHOWN]:
                words = label(told(one.sentence, self.bench.unit), "bad" if kind == "decide" else "working", wrap=True)
                self.list.addWidget(words)
            if len(some) > MOST_SHOWN:
                self.list.addWidget(label(f"and {len(some) - MOST_SHOWN} more", "faint"))
        if not self.found:
            self.list.addWidget(label("Nothing is another.", "good"))

    def draw(self) -> None:
        """The line drawings of both below each other, their pieces laid on each other beside them."""
        if self.both is None:
            self.table.show_own([])
            self.table.say_beside("Both are being made." if self.who else "There is nobody else in this project.")
            return
        self.table.say_beside("")
        items: list[QGraphicsItem] = []
        wide = low = 0.0
        for one, kind in zip(self.both, ("base", "person"), strict=True):
            if one.pattern is None:
                continue
            views = tuple(line_drawing(one.pattern, side) for side in ("front", "back"))
            drawn = GarmentItem(one.name, views)
            drawn.setPos(0, low)
            items += [drawn, Words(one.name, QPointF(0, low - GAP), kind)]
            wide = max(wide, drawn.size[0])
            low += drawn.size[1] + 4 * GAP
        items += self._pieces(wide + 2 * GAP, wide)
        self.table.show_own(items, fit=not self.table.fitted)

    def _pieces(self, left: float, wide: float) -> list[QGraphicsItem]:
        """The pieces of both on each other, in rows no wider than the drawings."""
        assert self.both is not None
        first, second = self.both
        found: list[QGraphicsItem] = []
        x = top = tall = 0.0
        for piece in first.pattern.pieces if first.pattern is not None else ():
            lines = [Line("", piece.outline(), piece.outline().start, "base")]
            if second.pattern is not None and second.pattern.has(piece.name):
                other = second.pattern.piece(piece.name)
                lines.append(Line("", other.outline(), other.outline().start, "person"))
            item = NestItem(str(piece.label), lines)
            if x and x + item.box.width() > wide:
                x, top, tall = 0.0, top + tall + GAP, 0.0
            tall = max(tall, item.box.height())
            item.setPos(left + x - item.box.left(), top - item.box.top())
            x += item.box.width() + GAP
            found.append(item)
        return found
