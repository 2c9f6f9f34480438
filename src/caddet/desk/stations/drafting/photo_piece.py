"""What one outline of a photograph is, which half of it counts, and what its edges are."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from caddet.core.recipe.traced import PhotoPiece
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.photo import changing
from caddet.core.tracing.photo.traced import shape_of
from caddet.desk.stations.base import empty
from caddet.desk.widgets.fields import Choices, LengthField, PickOne, button, label

if TYPE_CHECKING:
    from caddet.desk.stations.drafting.photo_page import PhotoPage

BECOMES = [
    ("", "turned in"),
    ("hem", "hem"),
    ("fold", "fold"),
    ("facing", "faced"),
    ("binding", "bound"),
    ("casing", "casing"),
]
HALVES = (("mean", "Mean"), ("left", "Left"), ("right", "Right"), ("whole", "Whole"))


class PieceBox(QWidget):
    """The chosen outline in the docket."""

    def __init__(self, page: PhotoPage) -> None:
        super().__init__()
        self.page = page
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(4)
        self.edge_rows: dict[str, tuple[QCheckBox, LengthField]] = {}

    def show_piece(self, piece: PhotoPiece | None) -> None:
        """Show what an outline is and what its edges are; nothing without one."""
        empty(self.column)
        self.edge_rows = {}
        if piece is None:
            return
        choices = [
            ("", "Of no kind: I name its edges"),
            *(
                (f"{kind.name} {shape.name}", f"{kind.label.partition(',')[0]}: {shape.label.lower()}")
                for kind in KINDS.values()
                for shape in kind.shapes
            ),
        ]
        self.column.addWidget(label("This outline is", "caption"))
        self.kind = PickOne("What this outline is", choices)
        self.kind.show_choice(f"{piece.kind} {piece.shape}".strip())
        self.kind.chosen.connect(self.page.set_kind)
        self.column.addWidget(self.kind)
        shape = shape_of(piece)
        if shape is not None and shape.fold:
            self.half = Choices("Half that counts", HALVES)
            self.half.show_choice(piece.half)
            self.half.chosen.connect(
                lambda half: self.page.change("Half that counts", lambda p: p.model_copy(update={"half": half}))
            )
            self.column.addWidget(self.half)
        names = (
            [run.name for run in shape.runs if run.finish != "fold"]
            if shape is not None
            else [edge.name for edge in piece.edges]
        )
        if shape is None:
            names += [f"edge_{n + 1}" for n in range(len(names), len(piece.corners))]
        if shape is None:
            pair = QCheckBox("One of a mirrored pair")
            pair.setToolTip("A half wrap, a left front: the other is its mirror")
            pair.setChecked(piece.pair)
            pair.toggled.connect(
                lambda on: self.page.change("A pair" if on else "Single", lambda p: p.model_copy(update={"pair": on}))
            )
            self.column.addWidget(pair)
        self.column.addWidget(label("Its edges", "whyhead"))
        for name in names:
            self._build_edge(piece, name, shape is None)
        self.column.addWidget(button("Draw it to the edge in the picture", self.page.snap))
        self.column.addWidget(
            button(
                "Take this outline out",
                lambda: self.page.change(f"{piece.label or piece.name} taken out", lambda p: None),
                "link",
            )
        )

    def _build_edge(self, piece: PhotoPiece, name: str, free: bool) -> None:
        edge = next((one for one in piece.edges if one.name == name), None)
        row = QHBoxLayout()
        row.setSpacing(4)
        more = row
        if free:  # its name and what becomes of it want a line of their own
            more = QHBoxLayout()
            more.setSpacing(4)
            more.addStretch(1)
            names = list(dict.fromkeys([name, *_trade_names()]))
            pick = PickOne(f"Name of {name}", [(one, one.replace("_", " ")) for one in names])
            pick.show_choice(name)
            pick.chosen.connect(
                lambda new, old=name: self.page.change(
                    f"Edge {new}", lambda p: changing.edge_changed(p, old, renamed=new)
                )
            )
            row.addWidget(pick, 1)
        else:
            row.addWidget(label(name.replace("_", " "), "heading"), 1)
        if free:
            finish = PickOne(f"What becomes of {name}", BECOMES)
            finish.show_choice(edge.finish if edge is not None else "")
            finish.chosen.connect(
                lambda new, old=name: self.page.change(
                    f"{old}: {new or 'sewn'}", lambda p: changing.edge_changed(p, old, finish=new)
                )
            )
            row.addWidget(finish, 1)
        straight = QCheckBox("straight")
        straight.setChecked(edge is not None and edge.straight)
        straight.toggled.connect(
            lambda on, old=name: self.page.change(
                f"{old} {'straight' if on else 'curved'}", lambda p: changing.edge_changed(p, old, straight=on)
            )
        )
        more.addWidget(straight)
        cut = LengthField(f"Allowance outside the {name}", self.page.bench.unit, may_be_empty=True)
        cut.edit.setToolTip("Traced along the cut line: how wide the allowance is that has to go")
        cut.edit.setPlaceholderText("cut by")
        cut.edit.setFixedWidth(70)
        cut.show_value(edge.cut if edge is not None and edge.cut else None, self.page.bench.unit)
        cut.entered.connect(
            lambda mm, old=name: self.page.change(
                f"Allowance of {old}", lambda p: changing.edge_changed(p, old, cut=mm)
            )
        )
        cut.cleared.connect(
            lambda old=name: self.page.change(
                f"No allowance on {old}", lambda p: changing.edge_changed(p, old, cut=0.0)
            )
        )
        more.addWidget(cut)
        self.column.addLayout(row)
        if more is not row:
            self.column.addLayout(more)
        self.edge_rows[name] = straight, cut


def _trade_names() -> list[str]:
    """The names of edges that the kinds of garment use."""
    return sorted({run.name for kind in KINDS.values() for shape in kind.shapes for run in shape.runs})
