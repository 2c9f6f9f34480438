"""Measure: who is it for, how big are they?"""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QWidget

from caddet.core.body.doubts import doubts
from caddet.core.body.figure.drawing import VIEW_WORDS, draw_figure
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person, span
from caddet.core.devices.tape import LOW_BATTERY, SimulatedTape, TapeEvent, TapeLinked, TapeLost, TapePulled, TapeRead
from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.core.recipe.planning import needs
from caddet.core.recipe.registry import blocks_using
from caddet.core.sentences import told
from caddet.desk.clock import today
from caddet.desk.stations.base import Station, Status
from caddet.desk.stations.measuring.dates_page import DatesPage
from caddet.desk.stations.measuring.growth_page import GrowthPage
from caddet.desk.stations.measuring.kept_page import KeptPage
from caddet.desk.stations.measuring.list_page import ListPage
from caddet.desk.stations.measuring.round_page import RoundPage
from caddet.desk.stations.measuring.sizes_page import SizesPage
from caddet.desk.table.figure_item import FigureItem
from caddet.desk.widgets.fields import Choices, LengthField, Row, button, label, strong
from caddet.desk.widgets.tape_window import TapeWindow

PAGES = (("list", "List"), ("round", "Round"), ("dates", "Dates"), ("growth", "Growth"), ("sizes", "Sizes"))


class MeasureStation(Station):
    """The measures of the wearer: a list, a guided round, their history, growth and sizes."""

    key, name, own_view = "measure", "Measure", True
    why_head = "Why measure again?"
    why = (
        "A tape slips, is read in half or in inches, or sits a hand too high. Hold it level all round, do not pull it "
        "tight, and read twice. What was not measured is estimated from the rest and marked until it is."
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.code = "hip"
        self.page = "list"
        self.read_again = False
        self.device = SimulatedTape()
        self.device.listen(self.hear)
        self.device_window: TapeWindow | None = None
        self.people = QComboBox()
        self.people.setAccessibleName("Wearer")
        self.people.activated.connect(self._choose)
        add = button("Add a person…", self._begin_person)
        top = QHBoxLayout()
        top.addWidget(self.people, 1)
        top.addWidget(add)
        self.body.addLayout(top)
        self.new_name = QLineEdit()
        self.new_name.setPlaceholderText("Name of the new person, then Enter")
        self.new_name.setAccessibleName("Name of the new person")
        self.new_name.returnPressed.connect(self._add_person)
        self.new_name.hide()
        self.body.addWidget(self.new_name)
        self.note = label("", "faint", wrap=True)
        self.body.addWidget(self.note)
        self.pages_choice = Choices("Part of Measure", PAGES)
        self.pages_choice.chosen.connect(self.show_page)
        self.body.addWidget(self.pages_choice)
        self.list, self.round, self.dates = ListPage(self), RoundPage(self), DatesPage(self)
        self.growth, self.sizes, self.kept = GrowthPage(self), SizesPage(self), KeptPage(self)
        self.pages: dict[str, QWidget] = {
            "list": self.list,
            "round": self.round,
            "dates": self.dates,
            "growth": self.growth,
            "sizes": self.sizes,
            "kept": self.kept,
        }
        for page in self.pages.values():
            self.body.addWidget(page)
        self.tape_button = button("Link a tape that sends its readings…", self.open_tape, "link")
        self.body.addWidget(self.tape_button)
        self._show_only()

    @property
    def rows(self) -> dict[str, tuple[Row, LengthField]]:
        """The rows of the list, by measure."""
        return self.list.rows

    def show_page(self, page: str) -> None:
        """Go to a page of the docket."""
        self.page = page
        self.read_again = False
        self._show_only()
        if page == "round":
            self.round.begin()
        self.redraw()
        self.scroller.verticalScrollBar().setValue(0)  # type: ignore[union-attr]  # it has one

    def _show_only(self) -> None:
        self.pages_choice.show_choice(self.page)
        for key, page in self.pages.items():
            page.setVisible(key == self.page or (key == "kept" and self.page == "sizes"))
        self.tape_button.setVisible(self.page in ("list", "round"))

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        document = self.bench.document
        person = document.person
        self.aside.setText(f"{len(document.people)} people" if len(document.people) > 1 else "1 person")
        names = [p.name for p in document.people]
        self.people.blockSignals(True)
        if [self.people.itemText(i) for i in range(self.people.count())] != names:
            self.people.clear()
            self.people.addItems(names)
        self.people.setCurrentText(person.name)
        self.people.blockSignals(False)
        self.note.setText(person.note)
        self.note.setVisible(bool(person.note) and self.page == "list")
        if self.page == "list":
            self.list.refresh()
        elif self.page == "round":
            self.round.refresh()
        elif self.page == "dates":
            self.dates.refresh()
        elif self.page == "growth":
            self.growth.refresh()
        else:
            self.sizes.refresh()
            self.kept.refresh()

    def changed(self) -> None:
        """The document changed: the wearer's figure follows at once."""
        self.redraw()

    def show_measure(self, code: str) -> None:
        """Go to the field of a measure."""
        self.show_page("list")
        self.list.show_code(code)
        self.pick(code)
        self.scroller.ensureWidgetVisible(self.rows[code][0])
        self.rows[code][1].edit.setFocus()

    def pick(self, code: str) -> None:
        """Choose a measure: its place is shown, and a linked tape reads for it."""
        self.code = code
        self.redraw()

    def enter_measure(self, code: str, value: float | None) -> None:
        """Keep a measure read today; when it was to be read again, it is one more reading."""
        if value is not None and self.read_again and code == self.code:
            self.take_reading(code, value)
            return
        words = MEASURES[code].label.lower()
        deed = f"{self.bench.document.wearer}: {words}" if value is not None else f"Take away the {words}"
        self.bench.edit(deed, lambda d: edits.set_measure(d, code, value, today()))

    def take_reading(self, code: str, value: float) -> None:
        """Keep one more reading of a measure."""
        self.read_again = False
        deed = f"{self.bench.document.wearer}: {MEASURES[code].label.lower()}, read again"
        self.bench.edit(deed, lambda d: edits.add_reading(d, code, value, today()))

    def round_done(self) -> None:
        """Say that the guided round has ended."""
        self.bench.said.emit("The round is done; go on to the next station when it suits you.")

    # --- the tape that sends its readings -----------------------------------------------------

    def open_tape(self) -> None:
        """Show the practice tape."""
        if self.device_window is None:
            self.device_window = TapeWindow(self.window() or self, self.device, self.bench.unit)
        self.device_window.set_unit(self.bench.unit)
        self.device_window.show()
        self.device_window.raise_()
        if not self.device.linked:
            self.device.link()

    def tape_words(self) -> str:
        """What a linked tape is doing, in a few words."""
        if not self.device.linked:
            return ""
        low = ", low: its readings waver" if self.device.battery <= LOW_BATTERY else ""
        return f"{self.device.name} linked, battery {self.device.battery} %{low}"

    def hear(self, event: TapeEvent) -> None:
        """What a linked tape tells."""
        if isinstance(event, TapeLinked):
            self.bench.said.emit(f"{event.name} is linked; its readings go to the chosen measure.")
            self.redraw()
        elif isinstance(event, TapePulled) and self.active and self.page == "list" and self.code in self.rows:
            self.list.slider.show_value(event.mm, self.bench.unit)
        elif isinstance(event, TapeRead) and not self.active:
            self.bench.said.emit("A reading came from the tape; go to Measure and choose a measure for it.")
        elif isinstance(event, TapeRead):
            self._read(event.mm)
        elif isinstance(event, TapeLost):
            middle = (
                " in the middle of a reading: nothing was taken, what was measured before is kept"
                if event.in_reading
                else ""
            )
            self.bench.said.emit(f"The tape has lost its link ({event.reason}){middle}.")
            self.redraw()

    def _read(self, mm: float) -> None:
        measure = MEASURES[self.code]
        shown = format_length(mm, self.bench.unit, with_unit=True)
        if measure.kind == "weight" or self.page not in ("list", "round"):
            self.bench.said.emit(f"The tape sent {shown}; choose a measure for it first.")
        elif not measure.low / 3 <= mm <= measure.high * 2.6:
            self.bench.said.emit(
                f"The tape sent {shown}, which can't be the {measure.label.lower()}; nothing was taken."
            )
        else:
            self.take_reading(self.code, mm)
            if self.page == "round":
                self.round.took_from_tape()

    # --- people -------------------------------------------------------------------------------

    def _choose(self, index: int) -> None:
        name = self.people.itemText(index)
        self.bench.edit(f"For {name}", lambda d: edits.choose_wearer(d, name))
        if self.page == "round":
            self.round.begin()

    def _begin_person(self) -> None:
        self.new_name.show()
        self.new_name.setFocus()

    def _add_person(self) -> None:
        name = self.new_name.text().strip()
        if name and self.bench.edit(f"Add {name}", lambda d: edits.add_person(d, Person(name=name[:80]))):
            self.new_name.clear()
            self.new_name.hide()

    # --- the table ----------------------------------------------------------------------------

    def draw(self) -> None:
        """Lay its things on the table."""
        if self.page == "dates":
            self.table.show_own(self.dates.items(), fit=True)
            self.table.say_beside(self.dates.note(), rich=True)
            return
        drawing = draw_figure(self.bench.document.person, self.code)
        self.table.show_own([FigureItem(drawing)], fit=True)
        measure = MEASURES[self.code]
        self.table.say_beside(
            f"{strong(measure.label)}, {VIEW_WORDS[drawing.view]}<br>{measure.where}<br><br>"
            f"{strong('The usual slip:')} {measure.mistake}<br><br>{self._what_for()}",
            rich=True,
        )

    def _what_for(self) -> str:
        """What is usual for somebody as tall as the wearer, and which blocks ask for the measure."""
        height = self.bench.document.person.measures.get("height")
        users = [block.label.lower() for block in blocks_using(self.code)]
        used = ", ".join(users[:4]) + (f" and {len(users) - 4} more" if len(users) > 4 else "")
        return (
            f"{strong('Usual:')} between {told(span(self.code, height), self.bench.unit)}.<br>"
            f"{strong('Used by:')} {used or 'estimates of other measures'}."
        )

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        document = self.bench.document
        found = needs(document.recipe, document.person)
        have = document.person.measures
        missing = sum(need.needed and need.code not in have for need in found)
        words = f"{sum(need.code in have for need in found)} of {len(found)} measured" if found else "nothing asked for"
        return Status(words, missing == 0, len(doubts(document.person)))
