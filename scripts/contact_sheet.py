"""Draws blocks on bodies as one picture, to be looked at:
``contact_sheet.py OUT.png [--comb] [--set NAME=VALUE]… [--step "KIND NAME=VALUE…"]… [BLOCK,BLOCK…] [BODY,BODY…]``.

A block may be a whole design by its name, ``designs`` all of them. Options are set as for ``caddet draft``. Steps are done on every block, as ``caddet add`` would; ``nine`` stands for nine bodies.

Bodies are rows of ``tests/data/bodies.csv`` by number, or people of the demo or its band by name. Without any, the picture
for the docs is made: every block on one real body, and the darted bodice with its sleeve on nine.
"""

from __future__ import annotations

import csv
import math
import os
import sys
from collections.abc import Sequence
from functools import lru_cache
from importlib import resources
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QImage, QPainter, QPainterPath, QPen

from caddet.cli.drafting import recipe_from_words
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.designs import ORDER, design_named
from caddet.core.formats.people_csv import parse_people
from caddet.core.geometry.paths import Path as Line
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.features import Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import MAIN, Document
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.registry import BLOCKS, STEPS, block_named
from caddet.core.recipe.typed import typed_value
from caddet.desk.app import make_app
from caddet.desk.table.drawing import painter_path
from caddet.desk.theme import LOOK

ROOT = Path(__file__).parent.parent
KNIT = Cloth(name="Knit", width=1500.0, kind="knit", stretch=0.6, stretch_along=0.4, drape="soft")
WOVEN = Cloth(name="Woven", width=1500.0, drape="middling")
NINE = ("2", "17", "61", "Wren", "107", "140", "Ishbel", "203", "Bram")


def body(name: str) -> Person:
    """A row of the real bodies by number, or somebody of the demo."""
    band = resources.files("caddet") / "data/demo/band.csv"
    for person in (*demo_document().people, *parse_people(band.read_text())[0]):
        if person.name == name:
            return person
    return _rows()[int(name)]


@lru_cache(maxsize=1)
def _rows() -> list[Person]:
    with (ROOT / "tests/data/bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    codes = [code for code in rows[0] if code in MEASURES and code != "weight_kg"]
    return [Person.of(row["name"], {code: float(row[code]) * 10 for code in codes}) for row in rows]


def drafted(block: str, who: Person, steps: tuple[StepEntry, ...] = (), chosen: Sequence[str] = ()) -> Made:
    """A block on a body, in a cloth that suits it, with options chosen and steps done on it; or a whole design."""
    if block in ORDER:
        design = design_named(block).document
        return make(EvaluateRequest(design.model_copy(update={"people": (who,), "wearer": who.name})))
    cloth = KNIT if any(want.startswith("stretch") for want in block_named(block).wants) else WOVEN
    recipe = recipe_from_words(block_named(block), chosen, "cm")
    for step in steps:
        recipe = recipe.with_step(step)
    return make(
        EvaluateRequest(
            Document(
                title="Sheet", people=(who,), wearer=who.name, cloths=(cloth,), roles={MAIN: cloth.name}, recipe=recipe
            )
        )
    )


def paint(painter: QPainter, pattern: Pattern | None, box: QRectF, comb: bool) -> None:
    """The pieces of a pattern in rows, scaled into a box."""
    if pattern is None:
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "refused")
        return
    bounds = [piece.outline().bounds() for piece in pattern.pieces]
    total = sum(b[2] - b[0] + 40 for b in bounds)
    widest = max(math.sqrt(total * max(b[3] - b[1] for b in bounds)) * 1.25, max(b[2] - b[0] for b in bounds) + 40)
    spots, x, y, row = [], 0.0, 0.0, 0.0
    for b in bounds:
        if x and x + b[2] - b[0] > widest:
            x, y, row = 0.0, y + row + 50, 0.0
        spots.append(QPointF(x - b[0], y - b[1]))
        x += b[2] - b[0] + 40
        row = max(row, b[3] - b[1])
    wide = max(s.x() + b[2] for s, b in zip(spots, bounds, strict=True))
    scale = min(box.width() / wide, box.height() / (y + row))
    for piece, spot in zip(pattern.pieces, spots, strict=True):
        painter.save()
        painter.translate(box.topLeft())
        painter.scale(scale, scale)
        painter.translate(spot)
        painter.setBrush(LOOK.color("paper"))
        painter.setPen(QPen(LOOK.color("ink"), 1.5 / scale))
        painter.drawPath(painter_path(piece.outline(), closed=True))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for edge in piece.edges:
            if edge.finish == "fold":
                line(painter, edge.path, QPen(LOOK.color("woad"), 2.4 / scale, Qt.PenStyle.DashLine))
            elif comb and not edge.dart:
                combs(painter, edge.path, scale)
        for feature in piece.features:
            for part in piece.drawn(feature):
                line(painter, part, QPen(LOOK.color("iron"), 0.8 / scale, Qt.PenStyle.DotLine))
        for notch in piece.notches:
            spot = Spot(notch.edge, notch.u)
            point, direction, _ = piece.run_point(notch.edge, piece.along(spot))
            inward = direction * 1j * 7 / scale
            painter.setPen(QPen(LOOK.color("madder"), 1.6 / scale))
            painter.drawLine(QPointF(point.real, point.imag), QPointF((point + inward).real, (point + inward).imag))
        painter.restore()


def line(painter: QPainter, path: Line, pen: QPen) -> None:
    painter.setPen(pen)
    painter.drawPath(painter_path(path))


def combs(painter: QPainter, path: Line, scale: float) -> None:
    """The curvature plot: teeth as long as the line is bent."""
    painter.setPen(QPen(QColor("#B23A2E"), 0.5 / scale))
    for segment in path.segments:
        tips = QPainterPath()
        for i in range(25):
            t = i / 24
            point = segment.point(t)
            tip = point + segment.direction(t) * -1j * segment.curvature(t) * 900
            painter.drawLine(QPointF(point.real, point.imag), QPointF(tip.real, tip.imag))
            place = QPointF(tip.real, tip.imag)
            tips.lineTo(place) if i else tips.moveTo(place)
        painter.drawPath(tips)


def sheet(
    cells: list[tuple[str, Pattern | None]], out: Path, columns: int, cell: tuple[int, int], comb: bool = False
) -> None:
    """A picture of many patterns with a word under each."""
    app = make_app()
    wide, tall = cell
    rows = -(-len(cells) // columns)
    image = QImage(wide * columns, tall * rows, QImage.Format.Format_RGB32)
    image.fill(LOOK.color("table"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for number, (words, pattern) in enumerate(cells):
        box = QRectF(number % columns * wide, number // columns * tall, wide, tall)
        paint(painter, pattern, box.adjusted(14, 12, -14, -38), comb)
        painter.setPen(LOOK.color("ink"))
        painter.setFont(LOOK.font(15, QFont.Weight.Medium))
        painter.drawText(
            box.adjusted(8, 0, -8, -8), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom, words
        )
    painter.end()
    image.save(str(out))
    del app


def step_of(text: str) -> StepEntry:
    """A step as it is typed: its kind and values, separated by spaces."""
    kind, *values = text.split()
    known = {parameter.name: parameter for parameter in STEPS[kind].parameters}
    pairs = [value.partition("=") for value in values]
    return StepEntry(kind=kind, values={name: typed_value(known[name], typed) for name, _, typed in pairs})


def main(words: list[str]) -> None:
    comb = "--comb" in words
    words = [word for word in words if word != "--comb"]
    steps: tuple[StepEntry, ...] = ()
    while "--step" in words:
        at = words.index("--step")
        steps = (*steps, step_of(words[at + 1]))
        del words[at : at + 2]
    chosen = []
    while "--set" in words:
        at = words.index("--set")
        chosen.append(words[at + 1])
        del words[at : at + 2]
    if words:
        out = Path(words[0])
        blocks = words[1].replace("designs", ",".join(ORDER)).split(",") if len(words) > 1 else sorted(BLOCKS)
        bodies = list(NINE) if words[2:] == ["nine"] else words[2].split(",") if len(words) > 2 else ["2"]
        cells = [(f"{b}, {body(n).name}", drafted(b, body(n), steps, chosen).pattern) for b in blocks for n in bodies]
        sheet(cells, out, min(max(3, math.ceil(math.sqrt(len(cells)))), len(cells)), (430, 380), comb)
        return
    folder = ROOT / "docs/screenshots"
    one = body("2")
    sheet(
        [(block_named(b).label, drafted(b, one).pattern) for b in sorted(BLOCKS)], folder / "blocks.png", 5, (330, 300)
    )
    sheet(
        [(body(n).name, drafted("bodice.darted", body(n)).pattern) for n in NINE], folder / "bodices.png", 3, (430, 340)
    )


if __name__ == "__main__":
    main(sys.argv[1:])
