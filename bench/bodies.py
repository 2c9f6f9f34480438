"""Evaluating 100 people against 1: growth must be no more than linear. Nobody is evaluated twice."""

from __future__ import annotations

import itertools

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.recipe.evaluate import evaluate


def main() -> None:
    """Measure, and print each ratio with its aim."""
    document = demo_document()
    numbers = itertools.count()

    def somebody() -> Person:
        i = next(numbers)
        part = i % 100
        measures = {"height": 1500.0 + 4 * part + i * 1e-3, "waist": 640.0 + 3 * part, "hip": 880.0 + 3 * part}
        return Person.of(f"P{i}", measures)

    # bodies differ in cost (no, one or two darts): the one is the mean of a hundred, each timed alone
    alone = [best(lambda: evaluate(document, somebody()), 1) for _ in range(100)]
    hundred = best(lambda: [evaluate(document, somebody()) for _ in range(100)], 3)
    show("100 people against 1", hundred, sum(alone) / len(alone), 100.0)


if __name__ == "__main__":
    main()
