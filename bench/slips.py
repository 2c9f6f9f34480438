"""The slips of a recipe of 40 steps: their pictures, the list after a change, and playing through, each against its aim."""

from __future__ import annotations

import os

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.demo import demo_document
from caddet.core.fitting.line_drawing import LineDrawing, line_drawing
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Recipe, StepEntry
from caddet.core.recipe.evaluate import StageCache
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.values import Number

STEPS, LONG = 40, 200
FRAME = 1 / 60


def recipe_of(count: int) -> Document:
    """The straight skirt with so many steps, a little longer and shorter in turn."""
    document = begin_with(demo_document(), Recipe.of("skirt.straight"))
    for n in range(count):
        amount = Number(value=20.0 if n % 2 else -10.0)
        document = edits.add_step(document, StepEntry(kind="lengthen", values={"amount": amount}))
    return document


def main() -> None:
    """Measure, and print each ratio with its aim."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import QSize
    from PyQt6.QtGui import QPainter, QPixmap

    from caddet.desk.app import make_app
    from caddet.desk.stations.shaping.pictures import Pictures
    from caddet.desk.table.garment_item import GarmentItem

    app = make_app()
    made = make(EvaluateRequest(recipe_of(STEPS)))
    assert made.pattern is not None and len(made.evaluated.outcomes) == STEPS
    pairs = [(one.entry.id, made.before_step(one.entry.id), one.pattern) for one in made.evaluated.outcomes]

    def pictures(kept: Pictures) -> None:
        for key, before, after in pairs:
            assert before is not None
            kept.of(key, before, after)

    pattern = made.pattern
    drawings: list[LineDrawing] = [line_drawing(pattern, "front")]

    def line_drawings() -> None:
        for _ in range(2 * STEPS):
            page = QPixmap(QSize(184, 116))
            page.fill()
            item = GarmentItem("", (drawings[0],), card=(184.0, 116.0))
            painter = QPainter(page)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            item.draw(painter)
            painter.end()

    reference = best(line_drawings)
    show(
        f"the pictures of {STEPS} slips, against {2 * STEPS} line drawings",
        best(lambda: pictures(Pictures())),
        reference,
        1.0,
    )
    kept = Pictures()
    pictures(kept)
    show("the same once more, kept", best(lambda: pictures(kept)), reference, 0.05)
    _playing()
    app.processEvents()


def _playing() -> None:
    """Each place of a long recipe, asked for as the slider asks: with the pattern's stages kept."""
    from caddet.desk.stations.shape import up_to

    document = recipe_of(LONG)
    cache = StageCache()
    make(EvaluateRequest(document), cache)
    for count in (0, LONG // 2, LONG - 1):
        past = up_to(document, count)
        show(
            f"step {count} of {LONG} looked at again",
            best(lambda past=past: make(EvaluateRequest(past), cache)),
            FRAME,
            1.0,
        )


if __name__ == "__main__":
    main()
