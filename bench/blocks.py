"""Every block: drafting it cold against one shapely buffer of its outlines; all bodies in one run; a pulled figure."""

from __future__ import annotations

import csv
import itertools
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

import shapely

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import MAIN, Document, Recipe
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.registry import BLOCKS
from caddet.core.recipe.suitability import plain_cloth

DATA = Path(__file__).parent.parent / "tests/data/bodies.csv"


def _document(block: str, who: Person) -> Document:
    cloth = plain_cloth(BLOCKS[block])
    return Document(
        title="bench",
        people=(who,),
        wearer=who.name,
        cloths=(cloth,),
        roles={MAIN: cloth.name},
        recipe=Recipe.of(block),
    )


def _bodies() -> list[Person]:
    with DATA.open() as file:
        rows = list(csv.DictReader(file))
    codes = [code for code in rows[0] if code in MEASURES and code != "weight_kg"]
    return [Person.of(row["name"], {code: float(row[code]) * 10 for code in codes}) for row in rows]


def main() -> None:
    """Measure, and print each ratio with its aim."""
    odile = demo_document().person
    hairs = itertools.count(1)
    for name in sorted(BLOCKS):
        pattern = evaluate(_document(name, odile)).pattern
        assert pattern is not None
        shapes = [shapely.Polygon([(p.real, p.imag) for p in piece.polygon()]) for piece in pattern.pieces]

        def cold(block: str = name) -> None:
            who = odile
            for code in ("waist", "hip", "bust", "wrist", "neck", "head"):
                who = who.with_measure(code, odile.measures.get(code, 500.0) + next(hairs) * 1e-3)
            evaluate(_document(block, who))

        reference = best(lambda shapes=shapes: [shape.buffer(15.0) for shape in shapes], 30)  # type: ignore[misc]
        show(f"{name}, against shapely.buffer of its outlines", best(cold, 7), reference, 5.0)
    bodies = _bodies()

    def run(people: list[Person]) -> float:
        begun = time.perf_counter()
        for who in people:
            for name in BLOCKS:
                evaluate(_document(name, who))
        return time.perf_counter() - begun

    part, whole = run(bodies[::10]), run(bodies)
    show(
        f"{len(bodies)} bodies × {len(BLOCKS)} blocks, against {len(bodies[::10])} bodies",
        whole,
        part,
        1.15 * len(bodies) / len(bodies[::10]),
    )
    for name in sorted(name for name, block in BLOCKS.items() if any(one.kind == "length" for one in block.figures)):
        show(
            f"{name}: one redraw while a figure is pulled, the middle one of all, against a 60 Hz frame",
            _pulled(name, odile),
            1 / 60,
            1.0,
        )


def _pulled(name: str, who: Person) -> float:
    """Seconds from a new value of a figure to its pieces, finished and proved: the median over the block's lengths."""
    document, cache = _document(name, who), StageCache()
    sums = make(EvaluateRequest(document), cache).sums
    times = []
    for figure in BLOCKS[name].figures:
        if figure.kind != "length":
            continue
        amounts = itertools.count(sums[figure.name].value, 0.13)

        def pull(figure: str = figure.name, amounts: Iterator[float] = amounts) -> None:
            make(EvaluateRequest(edits.set_override(document, figure, f"{next(amounts):.2f}mm")), cache)

        times.append(best(pull, 3))
    return median(times)


if __name__ == "__main__":
    main()
