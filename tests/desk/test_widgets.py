"""Small parts of the desk on their own."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFont, QFontMetrics
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from caddet.core.lengths import Unit
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.planning import begin_with
from caddet.desk.finder import rank
from caddet.desk.proof_strip import ProofChip, ProofStrip, figure_of
from caddet.desk.table.overlays import FigureChip, clear_place
from caddet.desk.theme import DAY, EVENING, LOOK
from caddet.desk.widgets.fields import BY_ITSELF, AmountField, Choices, LengthField, Row
from caddet.desk.widgets.sum_row import SumRow
from caddet.desk.window import MainWindow
from tests.desk.conftest import settle
from tests.making import drafted, made, step


def contrast(a: str, b: str) -> float:
    """The contrast ratio of WCAG 2 (from memory): 4.5 is asked of small text."""

    def light(name: str) -> float:
        parts = [int(name[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        r, g, b = (p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    high, low = sorted((light(a), light(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", [DAY, EVENING])
@pytest.mark.parametrize(
    ("ink", "ground"),
    [
        ("ink", "white"),
        ("iron", "white"),
        ("ink", "paper"),
        ("iron", "paper"),
        ("ink", "table"),
        ("woad", "white"),
        ("madder", "madder_tint"),
        ("weld", "weld_tint"),
        ("verdigris", "verdigris_tint"),
        ("on_woad", "woad"),
        ("rail_text", "rail"),
        ("rail_faint", "rail"),
        ("tape_ink", "tape"),
        ("ink", "woad_tint"),
        ("woad", "woad_tint"),
    ],
)
def test_text_can_be_read_on_its_ground(theme: dict[str, str], ink: str, ground: str) -> None:
    assert contrast(theme[ink], theme[ground]) >= 4.5


def test_both_tables_name_the_same_colours() -> None:
    assert DAY.keys() == EVENING.keys()
    assert LOOK.sheet().count("{") == LOOK.sheet().count("}")


@pytest.mark.parametrize(
    ("unit", "typed", "value"), [("cm", "92,4", 924.0), ("in", "36 1/4", 920.75), ("cm", "1 yd", 914.4)]
)
def test_a_length_is_taken_once_and_shown_as_typed(qtbot: QtBot, unit: Unit, typed: str, value: float) -> None:
    field = LengthField("Hip", unit)
    qtbot.addWidget(field)
    field.show()
    field.show_value(900.0, unit)
    taken: list[float] = []
    field.entered.connect(taken.append)
    field.edit.selectAll()
    QTest.keyClicks(field.edit, typed)
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert taken == [pytest.approx(value)]
    field.show_value(value, unit)
    assert not field.wrong.isVisibleTo(field)


def test_what_is_refused_stays_until_it_is_mended(qtbot: QtBot) -> None:
    field = LengthField("Hip", "cm", may_be_empty=True)
    qtbot.addWidget(field)
    field.show()
    field.show_value(900.0, "cm")
    field.edit.selectAll()
    QTest.keyClicks(field.edit, "about so")
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    field.show_value(900.0, "cm")
    assert field.edit.text() == "about so" and field.edit.property("wrong") is True
    cleared: list[bool] = []
    field.cleared.connect(lambda: cleared.append(True))
    field.edit.selectAll()
    QTest.keyClick(field.edit, Qt.Key.Key_Delete)
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert cleared and field.edit.property("wrong") is False


def test_rows_and_choices_answer_to_pointer_and_keys(qtbot: QtBot) -> None:
    row = Row("Front dart", "3.5")
    qtbot.addWidget(row)
    row.show()
    chosen: list[int] = []
    row.chosen.connect(lambda: chosen.append(1))
    row.setFocus()
    QTest.mouseClick(row, Qt.MouseButton.LeftButton, pos=row.title.geometry().center())
    for key in (Qt.Key.Key_Return, Qt.Key.Key_Space):
        QTest.keyClick(row, key)
    assert len(chosen) == 3
    choices = Choices("Fold", (("a", "Open"), ("b", "Folded")))
    qtbot.addWidget(choices)
    picked: list[str] = []
    choices.chosen.connect(picked.append)
    choices.show_choice("b")
    choices.show_choice("unknown")
    assert choices.buttons["b"].isChecked() and not picked
    QTest.mouseClick(choices.buttons["a"], Qt.MouseButton.LeftButton)
    assert picked == ["a"]


def test_a_sum_row_tries_takes_and_gives_back(qtbot: QtBot) -> None:
    sums = made().sums
    row = SumRow(sums["hip_depth"], "cm")
    qtbot.addWidget(row)
    row.show()
    row.open(True)
    tried: list[object] = []
    taken: list[object] = []
    row.tried.connect(lambda name, formula: tried.append(formula))
    row.overridden.connect(lambda name, formula: taken.append(formula))
    row.formula.selectAll()
    QTest.keyClicks(row.formula, "21cm +")
    assert tried[-1] is None and "stops short" in row.wrong.text()
    row.use.click()
    assert not taken
    QTest.keyClicks(row.formula, " 1cm")
    row.use.click()
    assert tried[-1] == taken[-1] == "21cm + 1cm"
    row.show_sum(sums["hip_depth"], "in")
    assert row.unit_words.text() == "in" and not row.mark.isVisibleTo(row)


@pytest.mark.parametrize(
    ("words", "query", "fits"),
    [
        ("Pivot a dart add a step", "dart", True),
        ("Pivot a dart", "piv dar", True),
        ("Pivot a dart", "skirt", False),
        ("Front dart", "", True),
    ],
)
def test_the_finder_wants_every_word(words: str, query: str, fits: bool) -> None:
    assert (rank(words, query) is not None) == fits


def test_the_finder_puts_beginnings_first() -> None:
    assert rank("Draft", "dra") < rank("Widen the draft", "dra") < rank("Redraft", "dra")  # type: ignore[operator]


def test_proof_lines_show_their_figure_in_both_units(qtbot: QtBot) -> None:
    for line in made(length=950.0).proof:
        for unit in ("cm", "in"):
            chip = ProofChip(line, unit)  # type: ignore[arg-type]
            qtbot.addWidget(chip)
            assert chip.figure == figure_of(line, unit) and chip.figure  # type: ignore[arg-type]
            assert line.label in chip.accessibleName()
    stride = next(line for line in made(length=950.0).proof if line.name == "stride")
    assert "short" in figure_of(stride, "cm")


def test_a_note_is_told_as_one_and_not_counted(qtbot: QtBot) -> None:
    """What is good to know neither holds nor fails."""
    found = drafted("top.knit", steps=(step("stay_edge", edges=("front.neckline",)),))
    (note,) = [line for line in found.proof if line.is_note]
    assert figure_of(note, "cm") == "good to know" and found.proof[-1] is note
    strip = ProofStrip()
    qtbot.addWidget(strip)
    strip.show_proof(found.proof, "cm")
    checks = len(found.proof) - 1
    assert strip.summary.text() == f"{checks} of {checks} hold"


def test_a_figure_stands_where_it_covers_nothing() -> None:
    size, a, b = QSizeF(20, 10), QPointF(0, 0), QPointF(200, 0)
    assert clear_place(a, b, size, []).center() == QPointF(100, 0)
    moved = clear_place(a, b, size, [QRectF(80, -20, 40, 40)])
    assert moved.center() == QPointF(60, 0)
    twice = clear_place(a, b, size, [QRectF(80, -20, 40, 40), moved])
    assert twice.center() == QPointF(140, 0)
    assert clear_place(a, b, size, [QRectF(-50, -50, 300, 100)]).center() == QPointF(100, 0), (
        "no better place: the middle"
    )


def test_figures_keep_clear_of_the_names_of_pieces(window: MainWindow, qtbot: QtBot) -> None:
    for block in ("hood", "skirt.circle", "trousers.tailored"):
        window.bench.edit("Make", lambda d, name=block: begin_with(d, Recipe.of(name)))
        settle(qtbot, window)
        window.go("draft")
        window.table.fit()
        seen = window.table.view.viewportTransform()
        pixel = 1 / seen.m11()
        chips = [c for c in window.table.overlays if isinstance(c, FigureChip)]
        assert chips
        for item in window.table.pieces.values():
            words = item.words_box(pixel)
            for chip in chips:
                box = QRectF(chip.pos() - chip.box.bottomRight() * pixel, chip.box.size() * pixel)
                assert not box.intersects(words.adjusted(2 * pixel, 2 * pixel, -2 * pixel, -2 * pixel)), (
                    block,
                    chip.figure,
                )


@pytest.mark.parametrize("words", ["The shorter", "Darts", "Front pleats"])
def test_a_choice_has_room_for_its_words_when_taken(words: str, window: MainWindow) -> None:
    chooser = Choices("One of", (("a", words), ("b", "Open"), ("c", "Folded")))
    chooser.show()
    try:
        for key in ("b", "a"):
            chooser.show_choice(key)
            one = chooser.buttons["a"]
            font = QFont(one.font())
            font.setWeight(QFont.Weight.DemiBold)
            assert one.width() >= QFontMetrics(font).horizontalAdvance(words) + 14
    finally:
        chooser.deleteLater()


def test_nothing_in_the_docket_is_cut_off_at_its_side(window: MainWindow, qtbot: QtBot) -> None:
    for unit in ("cm", "in"):
        window.bench.set_unit(unit)
        for station in window.places:
            window.go(station.key)
            settle(qtbot, window)
            inside, port = station.scroller.widget(), station.scroller.viewport()
            assert inside is not None and port is not None
            assert inside.width() <= port.width(), (station.key, unit)


def test_a_zero_that_is_no_amount_is_said_in_words(qtbot: QtBot) -> None:
    field = AmountField("Width", "cm")
    qtbot.addWidget(field)
    field.zero = BY_ITSELF
    field.show_value(0.0, "cm")
    assert field.edit.text() == "by itself"
    got: list[float] = []
    field.entered.connect(got.append)
    for typed in ("12", "By itself"):
        field.edit.setText(typed)
        field.edit.setModified(True)
        field.edit.editingFinished.emit()
    assert got == [120.0, 0.0] and field.edit.text() == "by itself" and not field.wrong.text()
    plain = AmountField("Curved by", "cm")
    qtbot.addWidget(plain)
    plain.show_value(0.0, "cm")
    assert plain.edit.text() == "0.0"
