"""Lay: how is it cut, and how much cloth is bought?"""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QGraphicsItem,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
)

from caddet.core.errors import InputError
from caddet.core.finishing.finish import CutPiece
from caddet.core.formats.export import lay_bytes
from caddet.core.formats.files import write_whole
from caddet.core.laying.items import WontFit
from caddet.core.laying.plan import LayPlan, LayProgress, plan_lay
from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.desk.stations.base import Station, Status
from caddet.desk.table.drawing import Drawn, qpoint
from caddet.desk.tasks import Task
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import Choices, LengthRow, button, label

SECONDS = 4.0


class LayItem(Drawn, QGraphicsItem):
    """The cloth with the pieces on it: x along the cloth, y across, the fold at the top."""

    def __init__(self, plan: LayPlan) -> None:
        super().__init__()
        self.plan = plan
        self.polygons = [(placed, QPolygonF([qpoint(p) for p in placed.outline])) for placed in plan.placed]

    def boundingRect(self) -> QRectF:
        return QRectF(-30, -60, max(self.plan.length, 1000) + 160, self.plan.width + 110)

    def draw(self, painter: QPainter) -> None:
        cloth = QRectF(0, 0, self.plan.length, self.plan.width)
        painter.setBrush(LOOK.color("cloth"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawRect(cloth.adjusted(0, 0, 110, 0))
        painter.setPen(_pen("iron", 1.0))
        painter.drawLine(cloth.bottomLeft(), cloth.bottomRight())
        painter.setPen(_pen("ink", 3.4 if self.plan.folded else 1.0))
        painter.drawLine(cloth.topLeft(), cloth.topRight())
        pen = _pen("madder", 1.6, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawLine(cloth.topRight(), cloth.bottomRight())
        for placed, polygon in self.polygons:
            painter.setBrush(LOOK.color("woad_tint" if placed.on_fold else "paper"))
            painter.setPen(_pen("ink", 1.5))
            painter.drawPolygon(polygon)
        transform = painter.worldTransform()
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setPen(LOOK.color("ink"))
        for placed, polygon in self.polygons:
            at = transform.map(polygon.boundingRect().center())
            painter.setFont(LOOK.font(14, LOOK.font(14).Weight.DemiBold))
            how = "on the fold" if placed.on_fold else ("turned over" if placed.mirrored else "")
            box = QRectF(at.x() - 110, at.y() - (20 if how else 10), 220, 20)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, placed.piece.replace("_", " ").capitalize())
            painter.setFont(LOOK.font(12))
            painter.drawText(box.translated(0, 19), Qt.AlignmentFlag.AlignCenter, how)
        painter.setFont(LOOK.font(13, LOOK.font(13).Weight.DemiBold))
        top = transform.map(cloth.topLeft())
        painter.drawText(top + QPointF(0, -8), "fold" if self.plan.folded else "selvedge")
        bottom = transform.map(cloth.bottomLeft())
        painter.drawText(bottom + QPointF(0, 18), "selvedges" if self.plan.folded else "selvedge")
        painter.restore()


def _pen(color: str, width: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    pen = QPen(LOOK.color(color), width, style)
    pen.setCosmetic(True)
    return pen


class LayStation(Station):
    """The cloth, the lay, the length to buy."""

    key, name = "lay", "Lay"
    why_head = "Why open or folded?"
    why = (
        "Folded, two layers are cut at once and pieces on the fold come out whole. In a single layer pieces fit closer, "
        "but each is cut on its own and the second of a pair is turned over. The grain arrow always runs along the cloth."
    )

    def build(self) -> None:
        self.buy = label("—", "big")
        self.buy_words = label("to buy", "working", wrap=True)
        self.body.addWidget(self.buy)
        self.body.addWidget(self.buy_words)
        self.fold = Choices("Fold", (("better", "The shorter"), ("open", "Open"), ("folded", "Folded")))
        self.fold.chosen.connect(lambda key: self.bench.edit("Fold", lambda d: edits.set_lay(d, fold=key)))
        self.body.addWidget(self.fold)
        self.cloths = QComboBox()
        self.cloths.setAccessibleName("Cloth")
        self.cloths.activated.connect(
            lambda at: self.bench.edit("Cloth", lambda d: edits.choose_cloth(d, self.cloths.itemText(at)))
        )
        self.body.addWidget(self.cloths)
        self.width_row = LengthRow("Width without selvedges", self.bench.unit)
        self.width_row.field.entered.connect(lambda v: self._cloth("width", v))
        self.gap_row = LengthRow("Between pieces", self.bench.unit)
        self.gap_row.field.entered.connect(lambda v: self.bench.edit("Gap", lambda d: edits.set_lay(d, gap=v)))
        self.extra_row = LengthRow("Extra for mistakes", self.bench.unit, "1/4 to 1/2 yd, or 20 to 50 cm, is usual")
        self.extra_row.field.entered.connect(lambda v: self.bench.edit("Extra", lambda d: edits.set_lay(d, extra=v)))
        for row in (self.width_row, self.gap_row, self.extra_row):
            self.body.addWidget(row)
        self.nap = QCheckBox("Nap, or a one-way print")
        self.nap.setToolTip("Every piece lies the same way up, so that the pile or the print runs one way.")
        self.nap.toggled.connect(lambda on: self._cloth("nap", on))
        self.body.addWidget(self.nap)
        self.shrinkage, self.price = QLineEdit(), QLineEdit()
        for field, words, act in (
            (self.shrinkage, "Shrinks in the wash, %", self._enter_shrinkage),
            (self.price, "Price of a metre", self._enter_price),
        ):
            field.setAccessibleName(words)
            field.setFixedWidth(104)
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.editingFinished.connect(act)
            line = QHBoxLayout()
            line.addWidget(label(words), 1)
            line.addWidget(field)
            self.body.addLayout(line)
        self.wrong = label("", "wrong", wrap=True)
        self.wrong.hide()
        self.body.addWidget(self.wrong)
        self.caution = label(
            "Rotary cutter: close the blade whenever it leaves your hand and cut away from yourself. Shears: keep the "
            "lower blade on the table. Local rules and your teacher come first.", "faint", wrap=True,
        )  # fmt: skip
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setTextVisible(False)
        self.progress.setAccessibleName("Laying")
        self.stop = button("Good enough", self._stop)
        busy = QHBoxLayout()
        busy.addWidget(self.progress, 1)
        busy.addWidget(self.stop)
        self.foot.addWidget(self.caution)
        self.foot.addLayout(busy)
        self.again = button("Lay again", self.plan_now)
        self.print = button("Print the plan…", self._ask)
        buttons = QHBoxLayout()
        buttons.addWidget(self.again)
        buttons.addWidget(self.print)
        self.foot.addLayout(buttons)
        self.plan: LayPlan | None = None
        self.refusal = ""
        self.task: Task | None = None
        self._planned: object = None
        self._wanted: object = None
        self._busy(False)

    # --- the docket ---------------------------------------------------------------------------

    def refresh(self) -> None:
        document = self.bench.document
        cloth, unit = document.chosen_cloth, self.bench.unit
        self.aside.setText(cloth.name)
        self.fold.show_choice(document.lay.fold)
        self.cloths.clear()
        self.cloths.addItems([c.name for c in document.cloths])
        self.cloths.setCurrentText(cloth.name)
        self.width_row.show_value(cloth.width, unit)
        self.gap_row.show_value(document.lay.gap, unit)
        self.extra_row.show_value(document.lay.extra, unit)
        self.nap.blockSignals(True)
        self.nap.setChecked(cloth.nap)
        self.nap.blockSignals(False)
        for field, words in ((self.shrinkage, f"{cloth.shrinkage * 100:g}"), (self.price, f"{cloth.price:g}")):
            if not field.hasFocus():
                field.setText(words)
        self._show_result()
        if self.active:
            self._plan_if_stale()

    def _cloth(self, name: str, value: object) -> None:
        self.bench.edit(f"Cloth: {name}", lambda d: edits.change_cloth(d, **{name: value}))

    def _enter_shrinkage(self) -> None:
        self._enter_number(self.shrinkage, "shrinkage", 0.01)

    def _enter_price(self) -> None:
        self._enter_number(self.price, "price", 1.0)

    def _enter_number(self, field: QLineEdit, name: str, size: float) -> None:
        if not field.isModified():
            return
        field.setModified(False)
        try:
            value = float(field.text().replace(",", ".").replace("%", "")) * size
        except ValueError:
            self.bench.said.emit(f"“{field.text()[:30]}” is not a number; the old {name} stays.")
            self.refresh()
            return
        if value != getattr(self.bench.document.chosen_cloth, name):
            self._cloth(name, value)
            self.refresh()

    # --- planning -----------------------------------------------------------------------------

    def _key(self) -> tuple[tuple[CutPiece, ...], Cloth, LayChoices] | None:
        made = self.made
        if made is None or made.pattern is None:
            return None
        document = made.document
        return made.cut, document.chosen_cloth, document.lay

    def _plan_if_stale(self) -> None:
        key = self._key()
        if key is None:
            self.plan, self._planned, self.refusal = None, None, "The draft has to close first."
            self._show_result()
            self.draw()
        elif self.task is None and key != self._planned:
            self.plan_now()
        elif self.task is not None and key != self._wanted:
            self.task.cancel()  # what is being laid is out of date

    def plan_now(self) -> None:
        """Search for a lay in the background; the best so far is shown in the docket."""
        key = self._key()
        if key is None or self.task is not None:
            return
        cut, cloth, choices = key
        self._wanted = key

        def work(task: Task) -> LayPlan:
            return plan_lay(
                cut, cloth, choices, seconds=SECONDS, progress=task.report, cancelled=lambda: task.cancelled
            )

        self._busy(True)
        self.task = self.bench.run(
            work,
            lambda plan: self._planned_now(key, plan, ""),
            lambda error: self._planned_now(key, None, _reason(error)),
            self._progress,
        )

    def _progress(self, report: LayProgress) -> None:
        self.progress.setValue(round(report.share * 100))
        if self.plan is None:
            self.buy_words.setText(
                f"so far {format_length(report.length, self.bench.unit, with_unit=True)} of cloth used"
            )

    def _planned_now(self, key: object, plan: LayPlan | None, refusal: str) -> None:
        self.task = None
        self._busy(False)
        self.plan, self.refusal, self._planned = plan, refusal, key
        self._show_result()
        self.bench.made.emit()

    def _stop(self) -> None:
        if self.task is not None:
            self.task.cancel()

    def _busy(self, busy: bool) -> None:
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)
        self.again.setEnabled(not busy)
        self.progress.setValue(0)

    def _show_result(self) -> None:
        unit = self.bench.unit
        self.wrong.setText(self.refusal)
        self.wrong.setVisible(bool(self.refusal))
        if self.plan is None:
            self.buy.setText("—")
            self.buy_words.setText("to buy" if not self.task else "laying…")
            return
        self.buy.setText(self._buy_words(self.plan))
        cost = f", {self.plan.cost:.2f}" if self.plan.cost else ""
        how = "folded" if self.plan.folded else "in a single layer"
        self.buy_words.setText(
            f"to buy{cost}. {format_length(self.plan.length, unit, with_unit=True)} used {how}, "
            f"{self.plan.utilisation:.0%} of it covered"
        )

    def _buy_words(self, plan: LayPlan) -> str:
        return f"{plan.buy / 1000:.2f} m" if self.bench.unit == "cm" else f"{plan.buy / 914.4:.2f} yd"

    # --- out ----------------------------------------------------------------------------------

    def _ask(self) -> None:
        if self.plan is None:
            self.bench.said.emit("There is no lay to print yet.")
            return
        folder = self.bench.path.parent if self.bench.path else Path.home()
        name, _ = QFileDialog.getSaveFileName(
            self, "Write the lay plan", str(folder / "lay plan.pdf"), "PDF (*.pdf);;SVG (*.svg)"
        )
        if name:
            self.write(Path(name))

    def write(self, path: Path) -> None:
        """Write the lay plan; says where it went or why not."""
        if self.plan is None:
            return
        document = self.bench.document
        try:
            write_whole(path, lay_bytes(self.plan, document, document.chosen_cloth, path.suffix or ".pdf"))
        except InputError as error:
            self.bench.said.emit(str(error))
        else:
            self.bench.said.emit(f"Written: {path}")

    def draw(self) -> None:
        self.table.show_own([LayItem(self.plan)] if self.plan is not None else [], fit=self.plan is not None)

    def leave(self) -> None:
        super().leave()
        self.table.forget_fit()

    def status(self) -> Status:
        if self.refusal:
            return Status("does not fit", False, 1)
        stale = self.plan is not None and self._planned != self._key()
        if self.plan is None or stale:
            return Status("to be laid" if not self.task else "laying…")
        return Status(self._buy_words(self.plan), True)


def _reason(error: Exception) -> str:
    return str(error) if isinstance(error, WontFit) else f"The lay could not be made: {error}"
