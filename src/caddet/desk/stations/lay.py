"""Lay: how is it cut, and how much cloth is bought?"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QVBoxLayout,
)

from caddet.core.errors import InputError
from caddet.core.files.writing import write_whole
from caddet.core.finishing.finish import CutPiece
from caddet.core.formats.export import lay_bytes
from caddet.core.laying.items import WontFit
from caddet.core.laying.plan import LayPlan, LayProgress, plan_lay, roles_of
from caddet.core.lengths import format_length
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.core.recipe.document import MAIN
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.table.lay_item import LayItem
from caddet.desk.tasks import Task
from caddet.desk.widgets.fields import Choices, LengthRow, button, label

SECONDS = 4.0


@dataclass(frozen=True, slots=True)
class Laid:
    """What became of one role: the lay, or why there is none, and what it was made from.

    A ``sketch`` is the best so far, legal but still being searched.
    """

    key: object
    plan: LayPlan | None
    refusal: str
    sketch: bool = False


class LayStation(Station):
    """The cloth, the lay, the length to buy."""

    key, name, own_view = "lay", "Lay", True
    why_head = "Why open or folded?"
    why = (
        "Folded, two layers are cut at once and pieces on the fold come out whole. In a single layer pieces fit closer, "
        "but each is cut on its own and the second of a pair is turned over. The grain arrow always runs along the cloth."
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.chooser: Choices | None = None
        self.chooser_box = QVBoxLayout()
        self.body.addLayout(self.chooser_box)
        self.buy = label("—", "big")
        self.buy_words = label("to buy", "working", wrap=True)
        self.body.addWidget(self.buy)
        self.body.addWidget(self.buy_words)
        self.shopping = label("", "working", wrap=True)
        self.body.addWidget(self.shopping)
        self.fold = Choices("Fold", (("better", "The shorter"), ("open", "Open"), ("folded", "Folded")))
        self.fold.chosen.connect(lambda key: self.bench.edit("Fold", lambda d: edits.set_lay(d, self.role, fold=key)))
        self.body.addWidget(self.fold)
        self.cloths = QComboBox()
        self.cloths.setAccessibleName("Cloth")
        self.cloths.activated.connect(lambda at: self._choose(self.cloths.itemText(at)))
        self.body.addWidget(self.cloths)
        self.width_row = LengthRow("Width without selvedges", self.bench.unit)
        self.width_row.field.entered.connect(lambda v: self._cloth("width", v))
        self.gap_row = LengthRow("Between pieces", self.bench.unit)
        self.gap_row.field.entered.connect(
            lambda v: self.bench.edit("Gap", lambda d: edits.set_lay(d, self.role, gap=v))
        )
        self.extra_row = LengthRow("Extra for mistakes", self.bench.unit, "1/4 to 1/2 yd, or 20 to 50 cm, is usual")
        self.extra_row.field.entered.connect(
            lambda v: self.bench.edit("Extra", lambda d: edits.set_lay(d, self.role, extra=v))
        )
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
            "lower blade on the table. Local rules and your teacher come first.",
            "faint",
            wrap=True,
        )
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
        self.task: Task | None = None
        self.role = MAIN
        self.laid: dict[str, Laid] = {}
        self._wanted: tuple[str, object] = ("", None)
        self._again: set[str] = set()
        self._busy(False)

    @property
    def plan(self) -> LayPlan | None:
        """The lay of the role that is shown."""
        return self.laid[self.role].plan if self.role in self.laid else None

    @property
    def refusal(self) -> str:
        """Why the role that is shown could not be laid."""
        return self.laid[self.role].refusal if self.role in self.laid else ""

    @property
    def roles(self) -> tuple[str, ...]:
        """The roles of cloth that the garment is cut from, the main one first."""
        return (roles_of(self.made.cut) if self.made is not None and self.made.pattern is not None else ()) or (MAIN,)

    # --- the docket ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        document, unit = self.bench.document, self.bench.unit
        self._show_roles()
        cloth, choices = document.cloth_for(self.role), document.lay_for(self.role)
        self.aside.setText(cloth.name)
        self.fold.show_choice(choices.fold)
        names = [c.name for c in document.cloths]
        self.cloths.clear()
        self.cloths.addItems(names if cloth.name in names else [*names, cloth.name])
        self.cloths.setCurrentText(cloth.name)
        self.width_row.show_value(cloth.width, unit)
        self.gap_row.show_value(choices.gap, unit)
        self.extra_row.show_value(choices.extra, unit)
        self.nap.blockSignals(True)
        self.nap.setChecked(cloth.nap)
        self.nap.blockSignals(False)
        for field, words in ((self.shrinkage, f"{cloth.shrinkage * 100:g}"), (self.price, f"{cloth.price:g}")):
            if not field.hasFocus():
                field.setText(words)
        self._show_result()
        if self.active:
            self._plan_if_stale()

    def _show_roles(self) -> None:
        """A choice of roles where the garment is cut from more than one cloth."""
        roles = self.roles
        if self.role not in roles:
            self.role = MAIN
        if self.chooser is None or tuple(self.chooser.buttons) != roles:
            empty(self.chooser_box)
            self.chooser = Choices("Cloth to lay", [(role, role.replace("_", " ").capitalize()) for role in roles])
            self.chooser.chosen.connect(self.show_role)
            self.chooser_box.addWidget(self.chooser)
            self.chooser.setVisible(len(roles) > 1)
        self.chooser.show_choice(self.role)

    def show_role(self, role: str) -> None:
        """Show the lay of a role of cloth, and what is chosen for it."""
        self.role = role
        self.table.forget_fit()
        self.refresh()
        self.draw()

    def _choose(self, name: str) -> None:
        if name != self.bench.document.cloth_for(self.role).name:
            self.bench.edit("Cloth", lambda d: edits.choose_cloth(d, name, self.role))

    def _cloth(self, name: str, value: object) -> None:
        self.bench.edit(f"Cloth: {name}", lambda d: edits.change_cloth(d, self.role, **{name: value}))

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
        if value != getattr(self.bench.document.cloth_for(self.role), name):
            self._cloth(name, value)
            self.refresh()

    # --- planning -----------------------------------------------------------------------------

    def _key(self, role: str) -> tuple[tuple[CutPiece, ...], Cloth, LayChoices] | None:
        made = self.made
        if made is None or made.pattern is None:
            return None
        document = made.document
        return made.cut, document.cloth_for(role), document.lay_for(role)

    def _stale(self, role: str) -> bool:
        laid = self.laid.get(role)
        return laid is None or laid.sketch or laid.key != self._key(role) or role in self._again

    def _plan_if_stale(self) -> None:
        if self._key(self.role) is None:
            self.laid = {self.role: Laid(None, None, "The draft has to close first.")}
            self._show_result()
            self.draw()
        elif self.task is None:
            stale = [role for role in (self.role, *self.roles) if self._stale(role)]
            if stale:
                self._lay(stale[0])
        elif self._key(self._wanted[0]) != self._wanted[1] or self._wanted[0] not in self.roles:
            self.task.cancel()  # what is being laid is out of date

    def plan_now(self) -> None:
        """Search again for a lay of the role that is shown."""
        self._again.add(self.role)
        if self.task is None:
            self._plan_if_stale()

    def _lay(self, role: str) -> None:
        """Search for a lay in the background; the best so far is shown in the docket."""
        key = self._key(role)
        if key is None:
            return
        cut, cloth, choices = key
        self._wanted = role, key
        self._again.discard(role)

        def work(task: Task) -> LayPlan:
            return plan_lay(
                cut,
                cloth,
                choices,
                role=role,
                seconds=SECONDS,
                progress=task.report,
                cancelled=lambda: task.cancelled,
            )

        self._busy(True)
        self.task = self.bench.run(
            work,
            lambda plan: self._planned_now(role, Laid(key, plan, "")),
            lambda error: self._planned_now(role, Laid(key, None, _reason(error))),
            self._progress,
        )
        self._show_result()

    def _progress(self, report: LayProgress) -> None:
        self.progress.setValue(round(report.share * 100))
        role, key = self._wanted
        if report.plan is not None and (role not in self.laid or self.laid[role].key != key or self.laid[role].sketch):
            # what is known is shown: the best so far, until the search is done
            self.laid[role] = Laid(key, report.plan, "", sketch=True)
            if self.active and role == self.role:
                self.draw()
        if (self.plan is None or self.laid[self.role].sketch) and self._wanted[0] == self.role:
            self.buy_words.setText(
                f"so far {format_length(report.length, self.bench.unit, with_unit=True)} of cloth used"
            )

    def _planned_now(self, role: str, laid: Laid) -> None:
        self.task = None
        self._busy(False)
        self.laid[role] = laid
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
        self.shopping.setText(self._shopping_words())
        self.shopping.setVisible(len(self.roles) > 1)
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

    def _shopping_words(self) -> str:
        """What is bought of every cloth, and what that comes to."""
        document, words = self.bench.document, []
        for role in self.roles:
            found = self.laid.get(role)
            plan = found.plan if found else None
            what = self._buy_words(plan) if plan else "does not fit" if found and found.refusal else "…"
            words.append(f"{document.cloth_for(role).name} {what}")
        cost = sum(one.plan.cost for role, one in self.laid.items() if one.plan and role in self.roles)
        return "Altogether: " + ", ".join(words) + (f"; {cost:.2f}" if cost else "")

    # --- out ----------------------------------------------------------------------------------

    def _ask(self) -> None:
        if self.plan is None:
            self.bench.said.emit("There is no lay to print yet.")
            return
        folder = self.bench.path.parent if self.bench.path else Path.home()
        called = "lay plan.pdf" if self.role == MAIN else f"lay plan {self.role}.pdf"
        name, _ = QFileDialog.getSaveFileName(
            self, "Write the lay plan", str(folder / called), "PDF (*.pdf);;SVG (*.svg)"
        )
        if name:
            self.write(Path(name))

    def write(self, path: Path) -> None:
        """Write the lay plan; says where it went or why not."""
        if self.plan is None:
            return
        document = self.bench.document
        cloth, choices = document.cloth_for(self.role), document.lay_for(self.role)
        try:
            write_whole(path, lay_bytes(self.plan, document, cloth, choices, path.suffix or ".pdf"))
        except InputError as error:
            self.bench.said.emit(str(error))
        else:
            self.bench.said.emit(f"Written: {path}")

    def draw(self) -> None:
        """Lay its things on the table."""
        self.table.show_own([LayItem(self.plan)] if self.plan is not None else [], fit=self.plan is not None)

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        roles = self.roles
        refused = [role for role in roles if role in self.laid and self.laid[role].refusal]
        if refused:
            return Status("does not fit", False, len(refused))
        plans = [self.laid[role].plan for role in roles if not self._stale(role)]
        if len(plans) < len(roles) or plans[0] is None:
            return Status("to be laid" if not self.task else "laying…")
        more = f" and {len(plans) - 1} more" if len(plans) > 1 else ""
        return Status(self._buy_words(plans[0]) + more, True)


def _reason(error: Exception) -> str:
    return str(error) if isinstance(error, WontFit) else f"The lay could not be made: {error}"
