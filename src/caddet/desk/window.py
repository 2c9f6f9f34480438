"""The main window: rail, table, docket, proof, header; it only brings them together."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Generic, TypeVar

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError
from caddet.core.fitting.proof import ProofLine
from caddet.core.hands.offers import understood
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe import edits
from caddet.core.recipe.registry import STEPS, Step
from caddet.core.sentences import told
from caddet.core.tracing.tape import traced
from caddet.desk.finder import Command, Finder
from caddet.desk.header import Header
from caddet.desk.opening import SIZE
from caddet.desk.projects import Projects
from caddet.desk.proof_strip import ProofStrip
from caddet.desk.rail import Rail
from caddet.desk.recovery import Recovery
from caddet.desk.stations.base import Station
from caddet.desk.stations.draft import DraftStation
from caddet.desk.stations.grade import GradeStation
from caddet.desk.stations.lay import LayStation
from caddet.desk.stations.mark import MarkStation
from caddet.desk.stations.measure import MeasureStation
from caddet.desk.stations.plan import PlanStation
from caddet.desk.stations.shape import ShapeStation
from caddet.desk.stations.true import TrueStation
from caddet.desk.stations.workroom import WorkroomPlace
from caddet.desk.table.table import Table
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import button, label
from caddet.desk.workbench import Workbench

DOCKET = 332
STATIONS: tuple[type[Station], ...] = (
    MeasureStation,
    PlanStation,
    DraftStation,
    ShapeStation,
    TrueStation,
    GradeStation,
    MarkStation,
    LayStation,
)
PLACES: tuple[type[Station], ...] = (*STATIONS, WorkroomPlace)
S = TypeVar("S", bound=Station)


class Place(Generic[S]):
    """The window's station of a kind: the one that is in its place now. Raises :class:`CaddetError` when it was put away."""

    def __init__(self, kind: type[S]) -> None:
        self.kind = kind

    def __get__(self, window: MainWindow, of: type[MainWindow]) -> S:
        """The station of a window."""
        found = window.place(self.kind.key)
        if not isinstance(found, self.kind):
            raise CaddetError(f"{self.kind.name} is switched off because it keeps failing; go there to try it again.")
        return found


class MainWindow(QMainWindow):
    """One project in one window."""

    measure, plan, draft = Place(MeasureStation), Place(PlanStation), Place(DraftStation)
    shape, true, grade = Place(ShapeStation), Place(TrueStation), Place(GradeStation)
    mark, lay, workroom = Place(MarkStation), Place(LayStation), Place(WorkroomPlace)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self.setWindowTitle("Caddet")
        self.closing = False
        self.table = Table(bench)
        self.recovery = Recovery(self)
        self.here = DraftStation.key
        self.places: list[Station] = [self.recovery.made(kind) for kind in PLACES]
        self.projects = Projects(self, bench, self.table, self.say)
        self.projects.begun.connect(lambda: self.go("measure"))
        self.projects.practising.connect(lambda: self.go("true"))
        below = self.places[len(STATIONS) :]
        self.header, self.rail, self.strip = Header(bench), Rail(self.stations, below), ProofStrip()
        self.dockets = QStackedWidget()
        docket = QWidget()
        docket.setObjectName("docket")
        docket.setFixedWidth(LOOK.px(DOCKET))
        self.docket = docket
        column = QVBoxLayout(docket)
        column.setContentsMargins(0, 0, 0, 14)
        column.setSpacing(0)
        column.addWidget(self.dockets, 1)
        self.onward = button("", self.go_onward, "onward")
        row = QHBoxLayout()
        row.setContentsMargins(18, 0, 18, 0)
        row.addWidget(self.onward)
        column.addLayout(row)
        for station in self.places:
            self.dockets.addWidget(station)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.table, 1)
        middle.addWidget(self.strip)
        body = QHBoxLayout()
        body.setSpacing(0)
        body.addWidget(self.rail)
        body.addLayout(middle, 1)
        body.addWidget(docket)
        whole = QWidget()
        outer = QVBoxLayout(whole)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self.header)
        outer.addLayout(body, 1)
        self.setCentralWidget(whole)
        self.finder = Finder(whole, self.commands, self._understood)
        self.toast = label(wrap=True)
        self.toast.setParent(self.table)
        self.toast.hide()
        self._toast_timer = QTimer(self)
        self._toast_timer.setSingleShot(True)
        self._toast_timer.timeout.connect(self.toast.hide)
        self._connect()
        self._actions()
        self._restyle()
        self.resize(*SIZE)
        self.go(self.here)

    def _connect(self) -> None:
        bench = self.bench
        bench.edited.connect(self._edited)
        bench.made.connect(self._made)
        bench.saved.connect(self.header.refresh)
        bench.unit_changed.connect(self._unit)
        bench.said.connect(self.say)
        bench.changed_elsewhere.connect(self.projects.changed_elsewhere)
        self.rail.chosen.connect(self.go)
        self.header.find_wanted.connect(lambda: self.finder.open())
        self.header.project.connect(self._project_menu)
        self.strip.go_to.connect(self.go_to_place)
        self.strip.remedy.connect(lambda remedy: bench.edit(remedy.label, remedy.apply))
        self.strip.accepted.connect(self._accept)
        self.strip.opened_again.connect(
            lambda line: bench.edit(
                f"Look again: {line.label}", lambda d: edits.take_back_accepted(d, line.accepting("again"))
            )
        )
        self.strip.unsaved_clicked.connect(self.projects.save_again)
        bench.saved.connect(self._tell_saved)
        self.table.figure_chosen.connect(self._figure)
        for place in self.places:
            self._connect_station(place)
        LOOK.changed.connect(self._restyle)

    def _connect_station(self, station: Station) -> None:
        """Listen to what a station asks of the window."""
        match station:
            case PlanStation():
                station.measure_wanted.connect(self._measure)
            case DraftStation():
                station.paper_wanted.connect(self.print)
                station.step_wanted.connect(lambda kind: self._begin_step(STEPS[kind]))
            case GradeStation():
                station.graded.connect(self.rail.refresh)
            case ShapeStation():
                station.hand.more_wanted.connect(self._find_tools)

    # --- the stations -------------------------------------------------------------------------

    @property
    def stations(self) -> list[Station]:
        """Those of the rail, in the order of the work."""
        return self.places[: len(STATIONS)]

    def place(self, key: str) -> Station:
        """A station or place by its key."""
        return next(place for place in self.places if place.key == key)

    def kind(self, key: str) -> type[Station]:
        """What kind of station has a key."""
        return next(kind for kind in PLACES if kind.key == key)

    def put_in_place(self, station: Station) -> None:
        """Put a station where the one of its key is."""
        old = self.place(station.key)
        self.places[self.places.index(old)] = station
        self.dockets.insertWidget(self.dockets.indexOf(old), station)
        self.dockets.removeWidget(old)
        self.recovery.dispose_of(old)
        self.rail.buttons[station.key].station = station
        self._connect_station(station)
        if self.here == station.key:
            self.dockets.setCurrentWidget(station)
            self.recovery.guard(station.key, station.enter)
        self.rail.refresh()

    @property
    def station(self) -> Station:
        """The station or place that is shown."""
        return self.place(self.here)

    # --- keeping up ---------------------------------------------------------------------------

    def _edited(self) -> None:
        self.header.refresh()
        self._tell_saved()
        self.recovery.guard(self.here, self.station.changed)  # the others are refreshed when they are entered
        self.rail.refresh()

    def _made(self) -> None:
        made = self.bench.result
        if made is not None:
            self.strip.show_proof(made.proof, self.bench.unit)
        self.recovery.guard(self.here, self.station.redraw)
        self.rail.refresh()

    def _unit(self) -> None:
        self._edited()
        self._made()

    def _restyle(self) -> None:
        app = QApplication.instance()
        sheet = LOOK.sheet()
        if isinstance(app, QApplication) and app.styleSheet() != sheet:  # setting it looks at every widget there is
            app.setPalette(LOOK.palette())
            app.setStyleSheet(sheet)
        self.docket.setFixedWidth(round(DOCKET * (1 + (LOOK.scale - 1) * 0.6)))
        self.header.setFixedHeight(LOOK.px(50))
        self.strip.setFixedHeight(LOOK.px(66))
        self.rail.resize_text()
        self.toast.setStyleSheet(
            f"background: {LOOK.name('ink')}; color: {LOOK.name('white')}; border-radius: 6px; padding: 7px 12px;"
        )
        self._edited()
        self._made()

    def go(self, key: str) -> None:
        """Go to a station."""
        self.table.keep_moves()
        self.recovery.guard(self.here, self.station.leave)
        self.here = key
        self.dockets.setCurrentWidget(self.station)
        self.rail.show_here(key)
        self.recovery.guard(key, self.station.enter)
        after = self._after()
        last = self.station is self.stations[-1]
        self.onward.setText("Back to Measure for the next person" if last else f"On to {after.name}")
        self.rail.refresh()

    def _after(self) -> Station:
        """The station that the work goes on to."""
        index = self.stations.index(self.station) if self.station in self.stations else -1
        return self.stations[(index + 1) % len(self.stations)]

    def go_onward(self) -> None:
        """On to the next station."""
        self.go(self._after().key)

    def go_to_place(self, place: str) -> None:
        """Go where a finding or a proof line points: ``person.hip``, ``figures.x``, ``front.side``."""
        head, _, rest = place.partition(".")
        made = self.bench.result
        if head == "person":
            self.go("measure")
            if rest in MEASURES:
                self.measure.show_measure(rest)
        elif head == "figures":
            self._figure(rest)
        elif place.startswith("recipe["):
            wanted = place.partition("[")[2].partition("]")[0]
            ids = [step.id for step in self.bench.document.recipe.steps]
            if wanted in [one.id for one in traced(self.bench.document)]:
                self.trace()
                self.draft.trace.show_reading(wanted, place.rpartition("]")[2].removeprefix("."))
                return
            self.go("shape" if wanted in ids else "draft")
            if wanted in ids:
                self.shape.open_step(wanted)
        elif head == "cloth" or place.startswith("recipe.ease"):
            self.go("plan")
            self.plan.show_page("cloth" if head == "cloth" else "fit")
        elif head == "recipe":
            self.go("draft")
        elif made is not None and made.pattern is not None:
            self._show_on_table(made.pattern, place)

    def _show_on_table(self, pattern: Pattern, place: str) -> None:
        """Go where the pieces are, and light the edges that a place names."""
        try:
            ref = reference(place)
        except CaddetError:
            return
        found = pattern.edges(ref)
        if not found and not pattern.pieces_meant(ref):
            return
        if self.here not in ("draft", "shape", "mark"):
            self.go("draft")
        lit: dict[str, dict[str, str]] = {}
        for p, e in found:
            piece = pattern.pieces[p]
            lit.setdefault(piece.name, {})[piece.edges[e].name] = "weld"
        self.table.light(lit)

    def _accept(self, line: ProofLine, reason: str) -> None:
        self.bench.edit(f"Fine by me: {line.label}", lambda d: edits.accept(d, line.accepting(reason)))

    def _tell_saved(self) -> None:
        self.strip.show_unsaved(self.bench.save_error)

    def _figure(self, name: str) -> None:
        if self.here != "draft":
            self.go("draft")
        self.draft.open_figure(name)

    def say(self, words: str) -> None:
        """A passing word at the foot of the table."""
        words = told(words, self.bench.unit)
        self.toast.setText(words if len(words) < 260 else words[:257] + "…")
        wide = self.toast.fontMetrics().horizontalAdvance(self.toast.text()) + 48
        self.toast.setFixedWidth(min(wide, max(self.table.width() - 80, 200)))
        self.toast.setFixedHeight(self.toast.heightForWidth(self.toast.width()))
        self.toast.move(40, self.table.height() - self.toast.height() - 14)
        self.toast.show()
        self.toast.raise_()
        self._toast_timer.start(7000)

    # --- commands -----------------------------------------------------------------------------

    def _actions(self) -> None:
        def add(words: str, keys: str, act: Callable[..., object]) -> None:
            action = QAction(words, self)
            action.setShortcut(QKeySequence(keys))
            action.triggered.connect(act)
            self.addAction(action)

        add("Find", "Ctrl+K", lambda: self.finder.open())
        add("Undo", "Ctrl+Z", self.bench.undo)
        add("Redo", "Ctrl+Shift+Z", self.bench.redo)
        add("Redo", "Ctrl+Y", self.bench.redo)
        add("Open", "Ctrl+O", self.projects.ask_open)
        add("New", "Ctrl+N", self.projects.ask_new)
        add("Keep a copy", "Ctrl+Shift+S", self.projects.ask_copy)
        add("Print", "Ctrl+P", self.print)
        add("Export", "Ctrl+E", self.export)
        add("Units", "Ctrl+U", self.switch_unit)
        add("Light", "Ctrl+L", lambda: LOOK.switch(not LOOK.evening))
        add("Larger text", "Ctrl++", lambda: LOOK.set_scale(LOOK.scale + 0.1))
        add("Smaller text", "Ctrl+-", lambda: LOOK.set_scale(LOOK.scale - 0.1))
        add("Table", "F6", self.table.view.setFocus)
        for number, station in enumerate(self.stations, start=1):
            add(station.name, f"Alt+{number}", lambda _=False, key=station.key: self.go(key))
        add(WorkroomPlace.name, "Alt+W", lambda: self.go(WorkroomPlace.key))

    def commands(self) -> list[Command]:
        """Everything the finder offers just now."""
        bench = self.bench
        found = [
            Command(f"{station.name}", "station", partial(self.go, station.key), f"Alt+{number}")
            for number, station in enumerate(self.stations, start=1)
        ]
        found += [Command("Workroom: people", "place", partial(self.go, "workroom"), "Alt+W")]
        found += [Command(measure.label, "measure", partial(self._measure, code)) for code, measure in MEASURES.items()]
        found += [
            Command(words, "command", partial(self._measure_page, page))
            for page, words in (
                ("round", "Measure in a guided round"),
                ("dates", "Compare two dates"),
                ("growth", "Growth of the wearer"),
                ("sizes", "Nearest size"),
            )
        ]
        found += [self._step_command(step) for step in STEPS.values()]
        made = bench.result
        if made is not None:
            found += [
                Command(f"{s.figure.label} {s.shown(bench.unit)}", "figure", partial(self._figure, name))
                for name, s in made.sums.items()
            ]
            found += [Command(cut.piece.label, "piece", partial(self._pick_piece, cut.piece.name)) for cut in made.cut]
            found += [
                Command(
                    f"{made.pattern.letter(seam.name) if made.pattern else ''} {seam.label}",
                    "seam to walk",
                    partial(self._walk, seam.name),
                )
                for seam in (made.pattern.seams if made.pattern else ())
            ]
        found += [
            Command(
                person.name,
                "make it for",
                partial(bench.edit, f"For {person.name}", partial(edits.choose_wearer, name=person.name)),
            )
            for person in bench.document.people
        ]
        found += [
            Command("Undo", "command", bench.undo, "Ctrl+Z"),
            Command("Redo", "command", bench.redo, "Ctrl+Shift+Z"),
            Command("Trace a garment that fits", "command", self.trace),
            Command("Open a project", "command", self.projects.ask_open, "Ctrl+O"),
            Command("New project", "command", self.projects.ask_new, "Ctrl+N"),
            Command("Practice: a pair that does not meet", "command", self.projects.practise),
            Command("Keep a copy", "command", self.projects.ask_copy, "Ctrl+Shift+S"),
            Command("Print the pattern to PDF", "command", self.print, "Ctrl+P"),
            Command("Export SVG, DXF, PNG, CSV, JSON", "command", self.export, "Ctrl+E"),
            Command("Switch cm and inches", "command", self.switch_unit, "Ctrl+U"),
            Command("Day or evening table", "command", lambda: LOOK.switch(not LOOK.evening), "Ctrl+L"),
            Command("Larger text", "command", lambda: LOOK.set_scale(LOOK.scale + 0.1), "Ctrl++"),
            Command("Smaller text", "command", lambda: LOOK.set_scale(LOOK.scale - 0.1), "Ctrl+-"),
            Command("Show everything on the table", "command", self.table.fit, "0"),
            Command("Real size on the table", "command", lambda: self.table.view.zoom_to(1.0), "1"),
            Command("Set real size: hold a ruler to the screen", "command", self.calibrate),
            Command("Tidy the table", "command", self.tidy),
            Command("Begin the demo anew", "command", self.projects.demo_anew),
        ]
        return found

    def _measure(self, code: str) -> None:
        self.go("measure")
        self.measure.show_measure(code)

    def _measure_page(self, page: str) -> None:
        self.go("measure")
        self.measure.show_page(page)

    def _begin_step(self, step: Step) -> None:
        if self.here != "shape":
            self.go("shape")
        self.shape.begin(step)

    def _understood(self, words: str) -> list[Command]:
        """The steps that a maker's own words mean."""
        return [self._step_command(step) for step in understood(words)]

    def _step_command(self, step: Step) -> Command:
        return Command(step.label, "step by hand", partial(self._begin_step, step), step.key)

    def _find_tools(self) -> None:
        """The finder with what can be done with what is chosen, the best first."""
        self.finder.open([self._step_command(one.step) for one in self.shape.hand.offered() if not one.refused])

    def _pick_piece(self, name: str) -> None:
        if self.here not in ("draft", "shape", "mark"):
            self.go("draft")
        self.table.scene.clearSelection()
        self.table.scene.clearFocus()
        item = self.table.pieces.get(name)
        if item is not None:
            item.setSelected(True)
            self.table.view.setFocus()

    def _walk(self, seam: str) -> None:
        self.go("true")
        self.true.choose(seam)

    def trace(self) -> None:
        """Go to where a garment is traced."""
        self.go("draft")
        self.draft.show_page("trace")

    def switch_unit(self) -> None:
        """From cm to inches or back."""
        self.bench.set_unit("in" if self.bench.unit == "cm" else "cm")

    def print(self) -> None:
        """Ask for a PDF of the pattern."""
        self.go("mark")
        self.mark.ask_pdf()

    def export(self) -> None:
        """Ask for the pattern in another format."""
        self.go("mark")
        self.mark.ask_export()

    def tidy(self) -> None:
        """Put every piece back in its usual place on the table."""
        self.bench.edit("Tidy the table", lambda d: d.model_copy(update={"table": {}}))
        self.table.fit()

    def calibrate(self) -> None:
        """Set real size once with a ruler or a bank card held to the screen."""
        from caddet.desk.widgets.calibration import Calibration

        Calibration(self, self.table.view).show()

    # --- projects -----------------------------------------------------------------------------

    def _project_menu(self) -> None:
        menu = QMenu(self)
        undo, redo = self.bench.history.undo_deed, self.bench.history.redo_deed
        for words, act, there in (
            (f"Undo: {undo}" if undo else "Undo", self.bench.undo, undo is not None),
            (f"Redo: {redo}" if redo else "Redo", self.bench.redo, redo is not None),
            ("", None, True),
            ("New…", self.projects.ask_new, True),
            ("Open…", self.projects.ask_open, True),
            ("Keep a copy…", self.projects.ask_copy, True),
            ("Practice: a pair that does not meet", self.projects.practise, True),
            ("", None, True),
            ("Print to PDF…", self.print, True),
            ("Export…", self.export, True),
        ):
            if act is None:
                menu.addSeparator()
                continue
            action = menu.addAction(words)
            if action is not None:
                action.setEnabled(there)
                action.triggered.connect(act)
        menu.popup(self.header.title.mapToGlobal(self.header.title.rect().bottomLeft()))

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Ask about work that is not saved, then stop everything."""
        self.table.keep_moves()
        if not self.closing and not self.projects.may_leave():
            if event is not None:
                event.ignore()
            return
        self.closing = True
        self.bench.close()
        super().closeEvent(event)
