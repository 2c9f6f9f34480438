"""True: does everything meet? Two pieces rolled along each other at the stitch line."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QSlider, QVBoxLayout

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.lengths import format_fine, format_length
from caddet.core.pattern.features import Spot
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam
from caddet.core.sentences import told
from caddet.core.truing.walk import Walk, roll, walk
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.table.drawing import Drawn, painter_path, qpoint
from caddet.desk.table.piece_item import Showing
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Row, button, label

_WORDS = {
    "meets": "meets",
    "eased": "eased on purpose",
    "gathered": "gathered",
    "pleated": "pleated",
    "stretched": "stretched",
    "off": "off",
}


class RolledItem(Drawn, QGraphicsItem):
    """A piece as it lies while walking, with the walked run strong and what has been walked lit."""

    def __init__(self, fragments: list[Fragment], piece: Piece, place: Motion, walked: float, color: str) -> None:
        super().__init__()
        moved = piece.moved(place)
        self.outline = painter_path(moved.outline(), closed=True)
        mine = [fragment for fragment in fragments if fragment.piece is piece]
        edges = [_as_it_lies(fragment).moved(place) for fragment in mine]
        self.run = painter_path(edges)
        done = []
        left = walked
        for fragment in fragments:
            if fragment.piece is piece and left > 1e-6:
                part = _as_it_lies(fragment).moved(place).between(0.0, min(left, fragment.length))
                if part is not None:
                    done.append(part)
            left -= fragment.length
        self.done = painter_path(done)
        self.darts = painter_path([edge.path for edge in moved.edges if edge.dart])
        self.notches = []
        for notch in piece.notches:
            on = piece.on_edge(Spot(notch.edge, notch.u))
            if on is not None and any(fragment.index == on[0] for fragment in mine):
                path = piece.edges[on[0]].path
                point, direction = path.point_at(on[1]), path.direction_at(on[1])
                a, b = place(point - direction * 1j * 9), place(point + direction * 1j * 9)
                self.notches.append((qpoint(a), qpoint(b)))
        self.color = color
        self.words = piece.label
        self.middle = self.outline.boundingRect().center()

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return self.outline.boundingRect().adjusted(-12, -12, 12, 12)

    def draw(self, painter: QPainter) -> None:
        """The piece with its darts and notches; the run strong, and what has been walked lit."""
        paper = LOOK.color("paper")
        paper.setAlpha(225)
        painter.setBrush(QBrush(paper))
        painter.setPen(_pen("ink", 1.4))
        painter.drawPath(self.outline)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(self.darts)
        painter.setPen(_pen(self.color, 2.4))
        painter.drawPath(self.run)
        painter.setPen(_pen(self.color, 5.0))
        painter.drawPath(self.done)
        painter.setPen(_pen("ink", 2.4))
        for a, b in self.notches:
            painter.drawLine(a, b)
        at = painter.worldTransform().map(self.middle)
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setFont(LOOK.font(14, LOOK.font(14).Weight.DemiBold))
        painter.setPen(LOOK.color("ink"))
        painter.drawText(QRectF(at.x() - 90, at.y() - 10, 180, 20), Qt.AlignmentFlag.AlignCenter, self.words)
        painter.restore()


def _as_it_lies(fragment: Fragment) -> Path:
    """The path of a stretch in the frame of its piece, in walking direction."""
    path = fragment.edge.path.between(fragment.low, fragment.high) or fragment.edge.path
    return path.reversed() if fragment.backwards else path


class TouchItem(Drawn, QGraphicsItem):
    """The place where the two pieces touch, and how far has been walked."""

    def __init__(self, at: complex, words: str) -> None:
        super().__init__()
        self.words = words
        self.setPos(qpoint(at))
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
        self.setZValue(40)

    def boundingRect(self) -> QRectF:
        """What it covers, in its own coordinates."""
        return QRectF(-110, -52, 220, 66)

    def draw(self, painter: QPainter) -> None:
        """A ring at the place, and over it how far has been walked."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(LOOK.color("madder"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QRectF(-8, -8, 16, 16))
        painter.setFont(LOOK.figure_font(17))
        wide = painter.fontMetrics().horizontalAdvance(self.words) + 22
        box = QRectF(-wide / 2, -48, wide, 30)
        painter.setPen(QPen(LOOK.color("woad"), 1.4))
        painter.setBrush(LOOK.color("white"))
        painter.drawRoundedRect(box, 15, 15)
        painter.setPen(LOOK.color("woad"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.words)


def _pen(color: str, width: float) -> QPen:
    pen = QPen(LOOK.color(color), width)
    pen.setCosmetic(True)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return pen


class TrueStation(Station):
    """The seams and their two lengths; the picture walks the chosen one."""

    key, name = "true", "True"
    why_head = "Why walk a seam?"
    why = (
        "Paper pieces are laid edge to edge at the stitch line and rolled along. Where one runs out before the other, "
        'the machine would have to gather or stretch it. Up to 3 mm (1/8") the cloth forgives.'
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.seam = ""
        self.seams_box = QVBoxLayout()
        self.seams_box.setSpacing(0)
        self.body.addLayout(self.seams_box)
        self.parts_box = QVBoxLayout()
        self.parts_box.setSpacing(2)
        self.body.addLayout(self.parts_box)
        self.foot.addWidget(label("Walk along the seam", "heading"))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Walk along the seam")
        self.slider.setRange(0, 1000)
        self.slider.setValue(350)
        self.slider.setSingleStep(5)
        self.slider.setPageStep(50)
        self.slider.valueChanged.connect(lambda _: self.draw())
        self.foot.addWidget(self.slider)
        self.rows: dict[str, Row] = {}
        self._shown: object = None

    def _walk(self, seam: Seam) -> Walk | None:
        made = self.made
        if made is None or made.pattern is None:
            return None
        try:
            return walk(made.pattern, seam)
        except CaddetError:
            return None

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        made = self.made
        pattern = made.pattern if made is not None else None
        seams = pattern.seams if pattern is not None else ()
        self.aside.setText(f"{len(seams)} seam{'' if len(seams) == 1 else 's'}")
        if self.seam not in [seam.name for seam in seams]:
            self.seam = seams[0].name if seams else ""
        walks = [self._walk(seam) for seam in seams]
        state = (walks, self.seam, self.bench.unit)
        if state == self._shown:
            return
        self._shown = state
        empty(self.seams_box)
        self.rows = {}
        unit = self.bench.unit
        for seam, walked in zip(seams, walks, strict=True):
            row = Row(f"{pattern.letter(seam.name) if pattern else ''}   {seam.label}")
            row.chosen.connect(partial(self.choose, seam.name))
            row.set_chosen(seam.name == self.seam)
            if walked is None:
                row.set_sub("An edge of this seam is gone.")
            else:
                sides = f"{format_length(walked.length_a, unit)} ⇄ {format_length(walked.length_b, unit)}"
                row.top.addWidget(label(sides, "value"))
                row.set_sub(
                    f"{'✓ ' if walked.holds else '! '}{_WORDS[walked.verdict]}, {format_fine(walked.off, unit)}"
                )
                row.sub.setObjectName("good" if walked.holds else "bad")
            self.rows[seam.name] = row
            self.seams_box.addWidget(row)
        empty(self.parts_box)
        chosen = next((w for w in walks if w is not None and w.seam.name == self.seam), None)
        if chosen is not None:
            self._show_parts(chosen)

    def _show_parts(self, walked: Walk) -> None:
        unit = self.bench.unit
        self.parts_box.addWidget(label(f"{walked.seam.label}, notch to notch", "whyhead"))
        for part in walked.stretches:
            words = (
                f"to {part.until}: {format_length(part.a, unit)} and {format_length(part.b, unit)} "
                f"({format_fine(part.b - part.a, unit)})"
            )
            self.parts_box.addWidget(label(words, "working", wrap=True))
        made = self.made
        line = next((p for p in made.proof if p.kind == "seam" and p.name == walked.seam.name), None) if made else None
        for remedy in line.remedies if line else ():
            self.parts_box.addWidget(
                button(told(remedy.label, unit), partial(self.bench.edit, remedy.label, remedy.apply))
            )

    def choose(self, name: str) -> None:
        """Walk another seam."""
        self.seam = name
        self.refresh()
        self.table.forget_fit()
        self.draw()

    def draw(self) -> None:
        """Lay its things on the table."""
        if not self.active:
            return
        made = self.made
        self.table.say_beside("")
        if made is None or made.pattern is None:
            self.table.show_own([])
            return
        if not self.seam:
            self.table.show_pattern(made, Showing())
            self.table.say_beside(
                "This part has no seam within itself: there is nothing to walk until it is fitted to an edge."
            )
            return
        seam = made.pattern.seam(self.seam)
        walked = self._walk(seam)
        if walked is None:
            self.table.show_own([])
            return
        self.table.show_own(self._rolled(made.pattern, seam, walked))

    def _rolled(self, pattern: Pattern, seam: Seam, walked: Walk) -> list[QGraphicsItem]:
        at = max(walked.length_a, walked.length_b) * self.slider.value() / 1000
        state = roll(pattern, seam, at)
        unit = self.bench.unit
        first, other = (pattern.layer_fragments(seam.layers[n]) for n in (0, 1))
        return [
            RolledItem(first, state.part_a.piece, state.place_a, at, "woad"),
            RolledItem(other, state.part_b.piece, state.place_b, at, "verdigris" if walked.holds else "madder"),
            TouchItem(state.touch, f"{format_length(at, unit, with_unit=True)} walked"),
        ]

    def enter(self) -> None:
        """It is shown now."""
        self.table.forget_fit()
        super().enter()

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        super().leave()
        self.table.say_beside("")

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        made = self.made
        lines = [line for line in made.proof if line.kind == "seam"] if made is not None else []
        good = sum(line.verdict == "holds" for line in lines)
        left = len(lines) - good
        words = (
            f"{left} to settle"
            if left
            else ("1 seam meets" if good == 1 else f"{good} seams meet" if lines else "no seams yet")
        )
        return Status(words, bool(lines) and left == 0, left)
