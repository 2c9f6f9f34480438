"""What to make: the blocks by family, and those of one's own."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from caddet.core.designs import Design, designs
from caddet.core.errors import CaddetError
from caddet.core.formats.named_store import BLOCKS_KEPT
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import OwnBlock, begun
from caddet.core.recipe.registry import BLOCKS, Block, block_named
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label

if TYPE_CHECKING:
    from caddet.desk.stations.plan import PlanStation

KEY = Qt.ItemDataRole.UserRole
FAMILIES = ("Skirts", "Dresses", "Upper body", "Trousers", "Panels", "Swim", "Bands and collars", "Your own")


def in_order() -> list[Block]:
    """The library in the order in which it is shown: by family, then by label."""
    return sorted(BLOCKS.values(), key=lambda b: (FAMILIES.index(b.family) if b.family in FAMILIES else 99, b.label))


class GarmentPage(QWidget):
    """A list to look through with the keyboard; the same as cards on the table."""

    def __init__(self, station: PlanStation) -> None:
        super().__init__()
        self.station, self.bench = station, station.bench
        self.own: dict[str, OwnBlock] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a garment or a part…")
        self.search.setAccessibleName("Find a garment or a part")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._filter)
        self.search.returnPressed.connect(self.list_first)
        column.addWidget(self.search)
        self.list = QListWidget()
        self.list.setAccessibleName("What to make")
        self.list.setFixedHeight(LOOK.px(270))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(lambda *_: self._looked())
        self.list.itemActivated.connect(lambda _: self.choose())
        column.addWidget(self.list)
        self.name = label("", "value", wrap=True)
        self.about = label("", "why", wrap=True)
        self.schools = label("", "faint", wrap=True)
        self.make = button("Make this", self.choose)
        self.beside = button("Put it beside what is made", self.put_beside)
        self.beside.setToolTip("Its pieces come into this garment as well: a brief beside a bandeau, a hood for a top")
        for one in (self.name, self.about, self.schools, self.make, self.beside):
            column.addWidget(one)
        column.addSpacing(8)
        column.addWidget(label("A block of your own", "heading"))
        column.addWidget(
            label(
                "Keeps this block with your formulas, choices and ease in the Workroom, without the steps.",
                "faint",
                wrap=True,
            )
        )
        self.own_name = QLineEdit()
        self.own_name.setPlaceholderText("Name for it, then Enter")
        self.own_name.setAccessibleName("Name for a block of your own")
        self.own_name.returnPressed.connect(self.keep_own)
        column.addWidget(self.own_name)
        self.forget = button("Take it out of the Workroom", self.forget_own, "link")
        column.addWidget(self.forget)
        self._read_own()

    def _read_own(self) -> None:
        kept, findings = BLOCKS_KEPT.kept()
        self.own = {own.name: own for own in kept}
        for finding in findings:
            self.bench.said.emit(finding.sentence)
        self._fill()

    def _fill(self) -> None:
        looked = self.looked
        self.list.blockSignals(True)
        self.list.clear()
        family = ""
        for block in in_order():
            if block.family != family:
                family = block.family
                self._head(family)
            self._entry(block.name, block.label)
        self._head("Whole designs")
        for design in designs():
            self._entry(f"design:{design.name}", design.title)
        if self.own:
            self._head("Yours")
            for own in self.own.values():
                self._entry(f"own:{own.name}", own.name)
        self.list.blockSignals(False)
        self.look_at(looked or self.bench.document.recipe.block)

    def _filter(self) -> None:
        """Hide what does not have all the words looked for in its name, family or description."""
        wanted = self.search.text().lower().split()
        heads: list[tuple[QListWidgetItem, bool]] = []
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is None:
                continue
            key = str(item.data(KEY) or "")
            if not key:
                heads.append((item, False))
                continue
            block, design = BLOCKS.get(key), self.design(key)
            about = block.about if block else design.about if design else ""
            words = f"{item.text()} {heads[-1][0].text() if heads else ''} {about}".lower()
            there = all(word in words for word in wanted)
            item.setHidden(not there)
            if there and heads:
                heads[-1] = (heads[-1][0], True)
        for head, used in heads:
            head.setHidden(not used)
        self.station.narrow(
            {
                str(i.data(KEY))
                for r in range(self.list.count())
                if (i := self.list.item(r)) and i.data(KEY) and not i.isHidden()
            }
        )

    def list_first(self) -> None:
        """Look at the first that was found."""
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(KEY) and not item.isHidden():
                self.list.setCurrentItem(item)
                self.list.setFocus()
                return

    def _head(self, words: str) -> None:
        item = QListWidgetItem(words)
        item.setFlags(Qt.ItemFlag.NoItemFlags)
        font = LOOK.font(12)
        item.setFont(font)
        self.list.addItem(item)

    def _entry(self, key: str, words: str) -> None:
        item = QListWidgetItem(f"   {words}")
        item.setData(KEY, key)
        self.list.addItem(item)

    @property
    def looked(self) -> str:
        """What is looked at: a block's name, or ``own:NAME``."""
        item = self.list.currentItem()
        return str(item.data(KEY) or "") if item is not None else ""

    def look_at(self, key: str) -> None:
        """Look at a block without making it."""
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(KEY) == key:
                self.list.setCurrentItem(item)
                return

    def design(self, key: str) -> Design | None:
        """The design that a key of the list means, if it means one."""
        return next((one for one in designs() if key == f"design:{one.name}"), None)

    def recipe(self) -> Recipe | None:
        """The recipe that what is looked at would begin with."""
        key = self.looked
        if (design := self.design(key)) is not None:
            return design.document.recipe
        if key.startswith("own:"):
            own = self.own.get(key[4:])
            return own.recipe() if own is not None and own.block in BLOCKS else None
        return begun(key) if key in BLOCKS else None

    def _looked(self) -> None:
        self.refresh()
        if self.station.active:
            self.station.draw()

    def refresh(self) -> None:
        """Show the document on this page."""
        recipe = self.recipe()
        current = self.bench.document.recipe
        self.beside.setVisible(recipe is not None and self.design(self.looked) is None and bool(current.block))
        if recipe is None:
            self.name.setText("")
            self.about.setText("This block is no longer in the library." if self.looked else "")
            self.make.setEnabled(False)
            self.forget.setVisible(self.looked.startswith("own:"))
            return
        block = block_named(recipe.block)
        own = self.looked.startswith("own:")
        design = self.design(self.looked)
        if design is not None:
            self.name.setText(design.title)
            self.about.setText(
                f"{design.about} From {block.label.lower()}, in {len(recipe.steps)} steps that can each be taken up again."
            )
            self.schools.setVisible(False)
            self.make.setText("Make mine")
            self.make.setEnabled(True)
            self.forget.setVisible(False)
            return
        self.name.setText(self.looked[4:] if own else block.label)
        self.about.setText((f"Your own, from {block.label.lower()}. " if own else "") + block.about)
        self.schools.setText("\n".join(block.schools.values()))
        self.schools.setVisible(bool(block.schools))
        same = recipe.block == current.block and not own
        self.make.setText("This is what is being made" if same else "Make this")
        self.make.setEnabled(not same)
        self.forget.setVisible(own)

    def choose(self) -> None:
        """Make what is looked at."""
        recipe, design = self.recipe(), self.design(self.looked)
        if design is not None:
            self.station.make_mine(design)
        elif recipe is not None and self.make.isEnabled():
            self.station.choose(recipe, self.name.text())

    def put_beside(self) -> None:
        """Draft what is looked at beside the garment that is made."""
        recipe = self.recipe()
        if recipe is not None and recipe.main is not None:
            self.station.put_beside(recipe.main, self.name.text())

    def keep_own(self) -> None:
        """Keep the block as it stands in this project."""
        name = self.own_name.text().strip()[:80]
        if not name:
            return
        try:
            BLOCKS_KEPT.keep(OwnBlock.of(name, self.bench.document))
        except CaddetError as error:
            self.bench.said.emit(str(error))
            return
        self.own_name.clear()
        self._read_own()
        self.look_at(f"own:{name}")
        self.bench.said.emit(f"{name} is kept in the Workroom; it stands under “Yours”.")

    def forget_own(self) -> None:
        """Take the looked-at block of one's own out of the Workroom."""
        name = self.looked[4:]
        BLOCKS_KEPT.forget(name)
        self._read_own()
        self.look_at(self.bench.document.recipe.block)
        self.bench.said.emit(f"{name} is taken out; its file stays beside the others as the previous one.")
