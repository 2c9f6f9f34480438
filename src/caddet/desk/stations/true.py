"""True: does everything meet? Seams walked, lines laid together as sewn, darts folded and hems turned up."""

from __future__ import annotations

import os
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtWidgets import QCheckBox, QGraphicsItem, QHBoxLayout, QSlider, QVBoxLayout

from caddet.core.errors import CaddetError
from caddet.core.files.reading import read_text
from caddet.core.fitting.proof import ProofLine
from caddet.core.geometry.segments import Point
from caddet.core.lengths import format_fine, format_length
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Seam
from caddet.core.recipe import edits
from caddet.core.sentences import told
from caddet.core.truing.checks import deepest_flat, hem_excess
from caddet.core.truing.ease_limits import Table, ease_limit, read_ease_limits
from caddet.core.truing.joins import Join, hollow, joins
from caddet.core.truing.walk import Walk, roll, walk
from caddet.desk.places import work_folder
from caddet.desk.stations.base import Station, Status, empty
from caddet.desk.stations.truing.chart import DifferenceChart
from caddet.desk.stations.truing.folds import dart_closed, dart_turn, hem_turned, pleat_folded
from caddet.desk.stations.truing.lines import laid_together
from caddet.desk.stations.truing.remedy_button import RemedyButton
from caddet.desk.stations.truing.walk_items import RolledItem, TouchItem
from caddet.desk.table.piece_item import Showing
from caddet.desk.widgets.fields import Choices, Row, button, label

WORDS = {
    "meets": "meets",
    "eased": "eased on purpose",
    "gathered": "gathered",
    "pleated": "pleated",
    "stretched": "stretched",
    "off": "off",
}
PAGES = (("seams", "Seams"), ("lines", "Lines"), ("folds", "Folds"))
WHOLE = 1000  # steps of the slider
COLORS = ("woad", "verdigris", "weld")  # of seams on the table, in turn, beside their letters
STEP = 6  # of them a beat while it plays
BEAT = 16  # ms
NEAR = 130.0  # mm round a crossing that are shown
FORGIVES = 0.03  # of its length by which a turned hem may be too long and is still pressed flat


@dataclass(frozen=True, slots=True)
class Fold:
    """A dart to be closed, or a hem to be turned up so deep (mm)."""

    piece: str
    name: str
    label: str
    hem: float = 0.0


class TrueStation(Station):
    """What meets and what does not; the picture walks, lays together, folds."""

    key, name, own_view = "true", "True", True
    why_head = "Why walk a seam?"
    why = (
        "Paper pieces are laid edge to edge at the stitch line and rolled along. Where one runs out before the other, "
        'the machine would have to gather or stretch it. Up to 3 mm (1/8") the cloth forgives.'
    )

    def build(self) -> None:
        """Build the docket, once."""
        self.page = "seams"
        self.seam, self.layer, self.line, self.fold = "", 1, "", ""
        self.pages_choice = Choices("True", PAGES)
        self.pages_choice.chosen.connect(self.show_page)
        self.pages_choice.show_choice(self.page)
        self.body.addWidget(self.pages_choice)
        self.verdict = label("", "good", wrap=True)
        self.body.addWidget(self.verdict)
        self.whole = QCheckBox("All pieces, partners with a letter")
        self.whole.toggled.connect(lambda _: self._again())
        self.body.addWidget(self.whole)
        self.rows_box = QVBoxLayout()
        self.rows_box.setSpacing(0)
        self.body.addLayout(self.rows_box)
        self.parts_box = QVBoxLayout()
        self.parts_box.setSpacing(3)
        self.foot.addLayout(self.parts_box)
        self.chart = DifferenceChart()
        self.foot.addWidget(self.chart)
        self.slider_words = label("Walk along the seam", "heading")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("Walk along the seam")
        self.slider.setRange(0, WHOLE)
        self.slider.setValue(350)
        self.slider.setSingleStep(5)
        self.slider.setPageStep(50)
        self.slider.valueChanged.connect(lambda _: self._moved())
        self.play_button = button("Play", self.play)
        line = QHBoxLayout()
        line.addWidget(self.play_button)
        line.addWidget(self.slider, 1)
        self.foot.addWidget(self.slider_words)
        self.foot.addLayout(line)
        self.rows: dict[str, Row] = {}
        self.ring: TouchItem | None = None
        self._shown: object = None
        self._player = QTimer(self)
        self._player.setInterval(BEAT)
        self._player.timeout.connect(self._play_on)

    def show_page(self, page: str) -> None:
        """Go to the seams, the lines that cross them, or the darts and hems."""
        self.page = page
        self.pages_choice.show_choice(page)
        self.stop()
        self._shown = None
        self.table.forget_fit()
        self.refresh()
        self.draw()

    # --- what there is ------------------------------------------------------------------------

    @property
    def pattern(self) -> Pattern | None:
        """The pattern that is shown."""
        return self.made.pattern if self.made is not None else None

    def _walk(self, seam: Seam, layer: int = 1) -> Walk | None:
        if self.pattern is None:
            return None
        try:
            return walk(self.pattern, seam, layer)
        except CaddetError:
            return None

    def walks(self) -> list[tuple[Seam, int, Walk | None]]:
        """Every seam and further layer, the worst first; what can't be walked before all."""
        pattern = self.pattern
        found = [
            (seam, layer, self._walk(seam, layer))
            for seam in (pattern.seams if pattern is not None else ())
            for layer in range(1, len(seam.layers))
        ]
        return sorted(
            found,
            key=lambda one: (
                -1e9 if one[2] is None else -abs(one[2].off) / one[0].tolerance if not one[2].holds else 0.0
            ),
        )

    def joins(self) -> list[Join]:
        """Every line across a seam, dart or fold, the sharpest corner first."""
        return sorted(joins(self.pattern), key=lambda one: -one.angle) if self.pattern is not None else []

    def folds(self) -> list[Fold]:
        """Every dart, and every hem with how deep it is turned."""
        made = self.made
        found = []
        for cut in made.cut if made is not None else ():
            piece = cut.piece
            found += [Fold(piece.name, dart.id, f"{piece.label}: {dart.label}") for dart in piece.darts]
            pleats = [one for one in piece.features if one.kind == "pleat" and len(piece.drawn(one)) == 2]
            found += [Fold(piece.name, one.name, f"{piece.label}: {one.label}") for one in pleats]
            deep = dict(cut.allowances)
            for key in piece.runs():
                edge = piece.run(key)[0]
                if edge.finish == "hem":
                    words = own_name(key).replace("_", " ")
                    found.append(Fold(piece.name, key, f"{piece.label}: {words}", deep.get(edge.id, 0.0)))
        return found

    # --- the docket ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the document and what was made of it in the docket."""
        if self.bench.preview_document is not None and self._shown is not None:
            return  # a remedy is only shown: what it stands in must stay under the pointer
        pattern = self.pattern
        seams = pattern.seams if pattern is not None else ()
        self.aside.setText(f"{len(seams)} seam{'' if len(seams) == 1 else 's'}")
        if self.seam not in [seam.name for seam in seams]:
            self.seam, self.layer = (seams[0].name if seams else ""), 1
        # of the document it was made from: what was only shown for a while makes nothing anew
        state = (
            id(self.made.document) if self.made is not None else 0,
            self.page,
            self.seam,
            self.layer,
            self.line,
            self.fold,
            self.bench.unit,
        )
        if state == self._shown:
            return
        self._shown = state
        for remedy in self.findChildren(RemedyButton):
            remedy.retire()
        empty(self.rows_box)
        empty(self.parts_box)
        self.rows = {}
        walking = self.page == "seams" and not self.whole.isChecked()
        self.whole.setVisible(self.page == "seams")
        self.chart.setVisible(walking)
        self.slider_words.setText({"seams": "Walk along the seam", "lines": "", "folds": "Fold it"}[self.page])
        for part in (self.slider_words, self.slider, self.play_button):
            part.setVisible(walking or self.page == "folds")
        {"seams": self._show_seams, "lines": self._show_lines, "folds": self._show_folds}[self.page]()

    def _row(self, key: str, title: str, sub: str, good: bool, chosen: bool, value: str = "") -> Row:
        row = Row(title)
        row.set_chosen(chosen)
        if value:
            row.top.addWidget(label(value, "value"))
        row.set_sub(("✓ " if good else "! ") + sub)
        row.sub.setObjectName("good" if good else "bad")
        self.rows[key] = row
        self.rows_box.addWidget(row)
        return row

    def _say(self, bad: int, words: str, none: str) -> None:
        self.verdict.setText(none if not self.rows else words if not bad else f"{bad} to look at, the worst first")
        self.verdict.setObjectName("good" if self.rows and not bad else "bad" if bad else "faint")
        self.verdict.style().polish(self.verdict)  # type: ignore[union-attr]  # it has one

    def _show_seams(self) -> None:
        unit, pattern = self.bench.unit, self.pattern
        found = self.walks()
        for seam, layer, walked in found:
            key = seam.name if layer == 1 else f"{seam.name}/{layer}"
            title = f"{pattern.letter(seam.name) if pattern else ''}   {seam.label}" + (
                f", layer {layer + 1}" if layer > 1 else ""
            )
            chosen = (seam.name, layer) == (self.seam, self.layer)
            if walked is None:
                row = self._row(key, title, "an edge of this seam is gone", False, chosen)
            else:
                sides = f"{format_length(walked.length_a, unit)} ⇄ {format_length(walked.length_b, unit)}"
                row = self._row(
                    key, title, f"{WORDS[walked.verdict]}, {format_fine(walked.off, unit)}", walked.holds, chosen, sides
                )
            row.chosen.connect(partial(self.choose, seam.name, layer))
        bad = sum(walked is None or not walked.holds for _, _, walked in found)
        self._say(bad, "All meet.", "There is no seam yet.")
        chosen_walk = next((w for s, n, w in found if (s.name, n) == (self.seam, self.layer)), None)
        if chosen_walk is not None:
            self._show_parts(chosen_walk)

    def _show_parts(self, walked: Walk) -> None:
        unit = self.bench.unit
        parts = [
            f"to {part.until}: {format_length(part.a, unit)} and {format_length(part.b, unit)} ({format_fine(part.b - part.a, unit)})"
            for part in walked.stretches
        ]
        self.parts_box.addWidget(label(f"{walked.seam.label}, notch to notch", "whyhead"))
        self.parts_box.addWidget(
            label(
                "\n".join(parts[:4]) + (f"\nand {len(parts) - 4} more" if len(parts) > 4 else ""), "working", wrap=True
            )
        )
        limit = ease_limit(walked.seam, walked.length_a, self.bench.document.chosen_cloth, self._limits())
        if limit is not None and walked.seam.kind == "eased":
            words = f"Eased by {format_length(walked.seam.amount, unit)} of at most {format_length(limit.most, unit)}: {limit.where} ({limit.source})."
            self.parts_box.addWidget(label(words, "faint" if walked.seam.amount <= limit.most else "bad", wrap=True))
        self._remedies("seam", walked.seam.name)

    def _limits(self) -> Table | None:
        """The user's own limits of ease, where there is such a file; what is wrong with it is said."""
        try:
            file = work_folder() / "ease-limits.csv"
            return read_ease_limits(read_text(file), file.name) if os.path.exists(file) else None
        except CaddetError as error:
            self.bench.said.emit(told(str(error), self.bench.unit))
            return None

    def _remedies(self, kind: str, name: str) -> None:
        """The ways out of a line of the Proof, each shown on the table while one rests on it."""
        made = self.made
        lines: list[ProofLine] = [one for one in made.proof if one.kind == kind and one.name == name] if made else []
        for remedy in [one for line in lines for one in line.remedies][:6]:
            self.parts_box.addWidget(RemedyButton(remedy, self.bench))

    def _show_lines(self) -> None:
        found = self.joins()
        keys = [f"{join.name}:{join.label}" for join in found]
        if self.line not in keys:
            self.line = keys[0] if keys else ""
        for key, join in zip(keys, found, strict=True):
            good = join.angle <= join.limit
            words = "runs on" if good else f"a corner of {join.angle:.0f}°"
            row = self._row(
                key,
                told(join.label, self.bench.unit),
                f"{words} ({join.angle:.1f}° of {join.limit:.0f}°), {self._hollow(join)}",
                good,
                key == self.line,
            )
            row.chosen.connect(partial(self.choose_line, key))
        self._say(sum(join.angle > join.limit for join in found), "Every line runs on.", "No line crosses a seam yet.")
        chosen = next((join for key, join in zip(keys, found, strict=True) if key == self.line), None)
        if chosen is not None:
            self._remedies("join", chosen.name)

    def _show_folds(self) -> None:
        unit, found = self.bench.unit, self.folds()
        if self.fold not in [one.name for one in found]:
            self.fold = found[0].name if found else ""
        bad = 0
        for one in found:
            if not one.hem:
                row = self._row(
                    one.name, one.label, "closes; the line across it is under Lines", True, one.name == self.fold
                )
            else:
                excess, flat = self._hem(one)
                good = excess <= FORGIVES or not one.hem
                bad += not good
                words = f"turned {format_length(one.hem, unit)}: " + (
                    "lies flat" if good else f"ripples, it lies flat up to {format_length(flat, unit)}"
                )
                row = self._row(one.name, one.label, words, good, one.name == self.fold)
            row.chosen.connect(partial(self.choose_fold, one.name))
        self._say(bad, "Darts close and hems lie flat.", "No dart and no hem.")
        chosen = next((one for one in found if one.name == self.fold), None)
        if chosen is not None and chosen.hem:
            excess, flat = self._hem(chosen)
            if excess > FORGIVES:
                depth = max(round(flat / 5 - 0.5) * 5, 5)
                words = f"Turn it {format_length(depth, unit, with_unit=True)} only"
                self.parts_box.addWidget(button(words, partial(self._turn, chosen.name, float(depth)), "tool"))
                self.parts_box.addWidget(
                    label("Deeper, it wants a facing or a binding in place of a hem.", "faint", wrap=True)
                )

    def _hem(self, fold: Fold) -> tuple[float, float]:
        """By what share of its length a hem is too long when it is turned, and how deep it lies flat (mm)."""
        assert self.pattern is not None
        piece = self.pattern.piece(fold.piece)
        return max(hem_excess(piece, fold.name, fold.hem), 0.0) / piece.run_length(fold.name), deepest_flat(
            piece, fold.name, FORGIVES
        )

    def _turn(self, run: str, depth: float) -> None:
        self.bench.edit("A hem that lies flat", lambda d: edits.set_allowance(d, run, depth))

    # --- choosing -----------------------------------------------------------------------------

    def choose(self, name: str, layer: int = 1) -> None:
        """Walk another seam."""
        self.seam, self.layer = name, layer
        if self.page != "seams":
            self.show_page("seams")
        self._again()

    def choose_line(self, key: str) -> None:
        """Look at another line."""
        self.line = key
        self._again()

    def choose_fold(self, name: str) -> None:
        """Fold another dart or hem."""
        self.fold = name
        self._again()

    def _again(self) -> None:
        self.refresh()
        self.table.forget_fit()
        self.draw()

    def play(self) -> None:
        """Roll or fold from the beginning to the end; again, and it stops."""
        if self._player.isActive():
            self.stop()
            return
        if self.slider.value() >= WHOLE:
            self.slider.setValue(0)
        self.play_button.setText("Stop")
        self._player.start()

    def _play_on(self) -> None:
        if self.slider.value() >= WHOLE:
            self.stop()
        else:
            self.slider.setValue(self.slider.value() + STEP)

    def stop(self) -> None:
        """Stop playing."""
        self._player.stop()
        self.play_button.setText("Play")

    def _moved(self) -> None:
        self.draw()

    # --- the table ----------------------------------------------------------------------------

    def draw(self) -> None:
        """Lay its things on the table."""
        if not self.active:
            return
        self.table.say_beside("")
        pattern = self.pattern
        if pattern is None:
            self.table.show_own([])
            return
        if self.page == "lines":
            self._draw_line(pattern)
        elif self.page == "folds":
            self._draw_fold(pattern)
        elif self.whole.isChecked():
            self._draw_whole(pattern)
        elif not self.seam:
            self.table.show_pattern(self.made, Showing())
            self.table.say_beside(
                "There is no seam: choose edges in Shape and sew them together, or fit a part to an edge."
            )
        else:
            self._draw_walk(pattern)

    def _draw_whole(self, pattern: Pattern) -> None:
        """Every piece, its sewn edges with the letter and the colour of their seam."""
        self.table.show_pattern(self.made, Showing(letters=True))
        runs: dict[str, dict[str, str]] = {}
        for number, seam in enumerate(pattern.seams):
            walked = self._walk(seam)
            color = COLORS[number % len(COLORS)] if walked is not None and walked.holds else "madder"
            for layer in seam.layers:
                for part in layer:
                    for fragment in pattern.fragments(part):
                        runs.setdefault(fragment.piece.name, {})[fragment.edge.name] = color
        self.table.light(runs)

    def _pull_to(self, place: complex) -> None:
        """The walk goes on to where the ring is pulled: the nearest place of the first layer."""
        pattern = self.pattern
        seam = next((one for one in pattern.seams if one.name == self.seam), None) if pattern is not None else None
        if pattern is None or seam is None or self.layer >= len(seam.layers) or self._walk(seam, self.layer) is None:
            return  # an edit took away what the ring was on
        fragments = pattern.layer_fragments(seam.a)
        passed, best = 0.0, (float("inf"), 0.0)
        for fragment in fragments:
            off, along = fragment.path().nearest(place)
            best = min(best, (off, passed + along))
            passed += fragment.length
        longest = max(passed, pattern.length(seam.layers[self.layer])) if seam.kind == "plain" else passed
        self.slider.setValue(round(best[1] / max(longest, 1e-6) * WHOLE))

    def _draw_walk(self, pattern: Pattern) -> None:
        seam = pattern.seam(self.seam)
        walked = self._walk(seam, self.layer)
        share = self.slider.value() / WHOLE
        self.chart.show_walk(walked, share, self.bench.unit)
        self.table.show_own(self._rolled(pattern, seam, walked, share) if walked is not None else [])

    def _rolled(self, pattern: Pattern, seam: Seam, walked: Walk, share: float) -> list[QGraphicsItem]:
        longest = max(walked.length_a, walked.length_b) if seam.kind == "plain" else walked.length_a
        at = longest * share
        state = roll(pattern, seam, at, self.layer, pace=walked.pace)
        first, other = (pattern.layer_fragments(seam.layers[n]) for n in (0, self.layer))
        color = "verdigris" if walked.holds else "madder"
        words = f"{format_length(at, self.bench.unit, with_unit=True)} walked"
        return [
            RolledItem(first, state.part_a.piece, state.place_a, at, "woad"),
            RolledItem(other, state.part_b.piece, state.place_b, at * walked.pace, color),
            self._ring_at(state.touch, words),
        ]

    def _ring_at(self, at: Point, words: str) -> TouchItem:
        """The ring where the pieces touch: the same one, so that it can be pulled on."""
        if self.ring is None or self.ring.scene() is None:
            self.ring = TouchItem(at, words, self._pull_to)
        self.ring.show_at(at, words)
        return self.ring

    def _draw_line(self, pattern: Pattern) -> None:
        """The pieces laid together where a line crosses, large."""
        join = next((one for one in self.joins() if f"{one.name}:{one.label}" == self.line), None)
        if join is None or not join.ends:
            self.table.show_own([])
            return
        items, at = laid_together(pattern, join)
        words = "runs on" if join.angle <= join.limit else "corner"
        self.table.show_own([*items, TouchItem(at, f"{join.angle:.1f}° {words}, {self._hollow(join)}")], fit=False)
        self.table.view.show_all(QRectF(at.real - NEAR, at.imag - NEAR, 2 * NEAR, 2 * NEAR))

    def _hollow(self, join: Join) -> str:
        """How deep the line lies under a straight edge laid over the crossing, or how far it stands out."""
        deep, reach = hollow(self.pattern, join) if self.pattern is not None else (0.0, 0.0)
        if reach < 1.0 or abs(deep) < 0.25:
            return "straight"
        return f"{format_length(abs(deep), self.bench.unit, with_unit=True)} {'hollow' if deep > 0 else 'round'}"

    def _draw_fold(self, pattern: Pattern) -> None:
        chosen = next((one for one in self.folds() if one.name == self.fold), None)
        if chosen is None:
            self.table.show_own([])
            return
        piece, share = pattern.piece(chosen.piece), self.slider.value() / WHOLE
        if chosen.hem:
            excess, _ = self._hem(chosen)
            self.table.show_own(hem_turned(piece, chosen.name, chosen.hem, share, excess > FORGIVES))
        elif any(dart.id == chosen.name for dart in piece.darts):
            self.table.show_own(dart_closed(piece, chosen.name, dart_turn(piece, chosen.name, share), share >= 1))
        else:
            self.table.show_own(pleat_folded(piece, chosen.name, share))

    def enter(self) -> None:
        """It is shown now."""
        self._shown = None
        super().enter()

    def leave(self) -> None:
        """Take away what it showed beside the pattern, and stop its own work."""
        self.stop()
        super().leave()

    def status(self) -> Status:
        """What the rail says of it: words, whether it is settled, and how much is left."""
        made = self.made
        lines = [line for line in made.proof if line.kind in ("seam", "join", "piece")] if made is not None else []
        seams = sum(line.kind == "seam" for line in lines)
        left = sum(not line.holds and not line.accepted for line in lines)
        words = (
            f"{left} to settle"
            if left
            else "1 seam meets"
            if seams == 1
            else f"{seams} seams meet"
            if seams
            else "no seams yet"
        )
        return Status(words, bool(seams) and left == 0, left)
