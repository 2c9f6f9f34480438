"""Mark: what must be on the paper? And onto paper it goes."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QProgressBar, QVBoxLayout

from caddet.core.errors import CaddetError
from caddet.core.files.writing import write_whole
from caddet.core.finishing.finish import allowance, lies_under
from caddet.core.formats.export import ENDINGS, export_bytes
from caddet.core.formats.paper import PAPERS
from caddet.core.lengths import format_length
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe import edits
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.table.piece_item import Showing
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import Choices, LengthField, LengthRow, Row, button, label

_USUAL = (
    ("seam", "Seams", '1.5 cm is usual; 1 cm or 3/8" for curves and overlocked edges.'),
    ("hem", "Hems", "2 + 2 cm turned twice; deeper for light and wide, shallower for heavy or curved."),
    ("opening", "Zip opening", "A little more than a seam, to press the zip flat."),
    ("slit", "Slit", "Turned back as its own facing."),
    ("edge", "Bound or elastic edges", "Necklines, leg openings: as deep as the binding or the elastic is wide."),
)


FINISH_WORDS = {
    "": "a seam", "hem": "a hem", "facing": "a facing", "binding": "a binding", "casing": "a casing", "band": "the inside of a band",
    "turned": "an edge turned in", "opening": "an opening", "slit": "a slit", "joined": "a seam to another piece", "raw": "a raw edge",
    "fold": "a fold",
}  # fmt: skip


def _edges_of(piece: Piece) -> list[tuple[str, str, list[Edge]]]:
    """The edges of a piece for the docket: key, words and parts; a run whose parts end differently stands in several."""
    rows: list[tuple[str, str, list[Edge]]] = []
    for run in piece.runs():
        edges = piece.run(run)
        words = edges[0].own.replace("_", " ")
        finishes = dict.fromkeys(edge.finish for edge in edges)
        if len(finishes) == 1:
            rows.append((run, words, edges))
            continue
        for finish in finishes:
            parts = [edge for edge in edges if edge.finish == finish]
            rows.append((parts[0].id, f"{words}, {FINISH_WORDS[finish].partition(' ')[2]}", parts))
    return rows


def _asked_for(pattern: Pattern) -> list[float]:
    """The allowances that the block asks for where the usual is not meant, in mm."""
    return sorted({edge.allowance for piece in pattern.pieces for edge in piece.edges if edge.allowance is not None})


class MarkStation(Station):
    """Allowances, notches and labels; export and printing."""

    key, name = "mark", "Mark"
    why_head = "Why is the allowance added last?"
    why = (
        "The draft is net: its line is where you sew. Walking and measuring are done on that line; the allowance only "
        "says where the scissors go. Some schools draft it in from the start; then every figure carries it along."
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.usual: dict[str, LengthRow] = {}
        for name, words, why in _USUAL:
            row = LengthRow(words, self.bench.unit, why)
            row.field.entered.connect(partial(self._set_usual, name))
            self.usual[name] = row
            self.body.addWidget(row)
        self.own = label("", "why", wrap=True)
        self.body.addWidget(self.own)
        self.body.addWidget(label("Notches", "heading"))
        self.notches = Choices("Notches", (("slit", "Snip"), ("t", "T"), ("inside", "Inside")))
        self.notches.chosen.connect(
            lambda key: self.bench.edit("Notches", lambda d: edits.set_finishing(d, notches=key))
        )
        self.body.addWidget(self.notches)
        self.body.addSpacing(6)
        self.body.addWidget(label("Edges of", "whyhead"))
        self.pieces = QComboBox()
        self.pieces.setAccessibleName("Piece whose edges are shown")
        self.pieces.activated.connect(lambda _: self.refresh())
        self.body.addWidget(self.pieces)
        self.edges_box = QVBoxLayout()
        self.edges_box.setSpacing(0)
        self.body.addLayout(self.edges_box)
        self._edges: dict[str, LengthField] = {}
        self._shown: object = None
        self.paper = QComboBox()
        self.paper.setAccessibleName("Paper")
        self.paper.addItems(list(PAPERS))
        self.lines = QComboBox()
        self.lines.setAccessibleName("Lines to print")
        for key, words in (("both", "Both lines"), ("net", "Stitch line only"), ("cut", "Cut line only")):
            self.lines.addItem(words, key)
        row_ = QHBoxLayout()
        row_.addWidget(self.paper, 1)
        row_.addWidget(self.lines, 2)
        self.foot.addLayout(row_)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Printing")
        self.stop = button("Stop", self._stop)
        busy = QHBoxLayout()
        busy.addWidget(self.progress, 1)
        busy.addWidget(self.stop)
        self.foot.addLayout(busy)
        self.progress.hide()
        self.stop.hide()
        self.print = button("Print to PDF…", self.ask_pdf)
        self.foot.addWidget(self.print)
        self.task: Task | None = None
        self.table.piece_chosen.connect(self._piece_chosen)

    def _piece_chosen(self, name: str) -> None:
        index = self.pieces.findData(name)
        if self.active and index >= 0:
            self.pieces.setCurrentIndex(index)
            self.refresh()

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        finishing = self.bench.document.finishing
        for name, row in self.usual.items():
            row.show_value(getattr(finishing, name), self.bench.unit)
        self.notches.show_choice(finishing.notches)
        made = self.made
        pattern = made.pattern if made is not None else None
        asked = _asked_for(pattern) if pattern is not None else []
        amounts = ", ".join(format_length(mm, self.bench.unit, with_unit=True) for mm in asked)
        self.own.setText(
            f"The block leaves its own at some edges ({amounts}), whatever stands above; each can be changed below."
        )
        self.own.setVisible(bool(asked))
        names = [(p.name, p.label) for p in pattern.pieces] if pattern is not None else []
        if names != [(self.pieces.itemData(i), self.pieces.itemText(i)) for i in range(self.pieces.count())]:
            self.pieces.clear()
            for name, words in names:
                self.pieces.addItem(words, name)
        piece = pattern.piece(self.pieces.currentData()) if pattern is not None and self.pieces.count() else None
        rows = _edges_of(piece) if piece is not None else []
        shown = (piece.name if piece else "", [key for key, _, _ in rows])
        if shown != self._shown:
            self._shown = shown
            empty(self.edges_box)
            self._edges = {}
            for key, words, edges in rows:
                if edges[0].finish == "fold" or piece is None:
                    continue
                row_ = Row(words)
                row_.setFocusPolicy(row_.focusPolicy().NoFocus)
                field = LengthField(f"Allowance of {piece.label} {words}", self.bench.unit, may_be_empty=True)
                field.entered.connect(partial(self._set_edge, key))
                field.cleared.connect(partial(self._set_edge, key, None))
                row_.chosen.connect(partial(self.table.light, {piece.name: {edges[0].name: "woad"}}))
                row_.top.addWidget(field)
                self._edges[key] = field
                self.edges_box.addWidget(row_)
        for key, _, edges in rows:
            if piece is not None and key in self._edges:
                self._edges[key].show_value(
                    allowance(finishing, edges[0], lies_under(piece, edges[0])), self.bench.unit
                )
                parent = self._edges[key].parentWidget()
                if isinstance(parent, Row):
                    own = key in finishing.exceptions
                    long = format_length(sum(edge.path.length for edge in edges), self.bench.unit, with_unit=True)
                    drafted = edges[0].allowance is not None
                    usual = "as the block has it" if drafted else f"usual for {FINISH_WORDS[edges[0].finish]}"
                    back = "as the block has it" if drafted else "the usual"
                    parent.set_sub(f"{long} long; {f'yours; empty the field for {back}' if own else usual}")
        self.aside.setText(f"{len(names)} piece{'' if len(names) == 1 else 's'}")

    def _set_usual(self, name: str, value: float) -> None:
        self.bench.edit(f"Allowance: {name}", lambda d: edits.set_finishing(d, **{name: value}))

    def _set_edge(self, key: str, value: float | None) -> None:
        self.bench.edit(f"Allowance of {key}", lambda d: edits.set_allowance(d, key, value))

    # --- out ----------------------------------------------------------------------------------

    def ask_pdf(self) -> None:
        """Ask where the PDF goes, and write it."""
        self._ask(".pdf", "PDF (*.pdf)")

    def ask_export(self) -> None:
        """Ask for a file in any of the open formats."""
        self._ask(
            ".svg", ";;".join(f"{e[1:].upper()} (*{e})" for e in (".svg", ".dxf", ".png", ".csv", ".json", ".pdf"))
        )

    def _ask(self, ending: str, kinds: str) -> None:
        folder = self.bench.path.parent if self.bench.path else Path.home()
        title = self.bench.document.title.replace("/", "-")
        name, _ = QFileDialog.getSaveFileName(self, "Write the pattern", str(folder / f"{title}{ending}"), kinds)
        if name:
            path = Path(name)
            self.write(path if path.suffix.lower() in ENDINGS else path.with_name(path.name + ending))

    def write(self, path: Path) -> None:
        """Write the pattern in the background, with progress; says where it went or why not."""
        made = self.made
        if made is None or made.pattern is None:
            self.bench.said.emit("There is nothing to print: the draft has to close first.")
            return
        paper, lines = self.paper.currentText(), self.lines.currentData()

        def work(task: Task) -> Path:
            data = export_bytes(
                made, path.suffix, paper=paper, lines=lines, progress=task.report, cancelled=lambda: task.cancelled
            )
            if task.cancelled:
                raise CaddetError("Stopped; nothing was written.")
            write_whole(path, data)
            return path

        self.progress.setValue(0)
        self.progress.show()
        self.stop.show()
        self.task = self.bench.run(
            work,
            lambda where: self._written(f"Written: {where}"),
            lambda error: self._written(str(error)),
            lambda share: self.progress.setValue(round(share * 100)),
        )

    def _written(self, words: str) -> None:
        self.progress.hide()
        self.stop.hide()
        self.task = None
        self.bench.said.emit(words)

    def _stop(self) -> None:
        if self.task is not None:
            self.task.cancel()

    def draw(self) -> None:
        """Lay its things on the table."""
        self.table.show_pattern(self.made, Showing(cut=True, letters=True))

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        super().leave()
        self.table.light({})

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        made = self.made
        wrong = sum(f.code.startswith("finish") for f in made.findings) if made is not None else 0
        words = f"seams {format_length(self.bench.document.finishing.seam, self.bench.unit)}"
        return Status(words, made is not None and made.pattern is not None and wrong == 0, wrong)
