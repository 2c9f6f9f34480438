"""Evaluating 100 people against 1: growth must be no more than linear."""

from __future__ import annotations

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.recipe.evaluate import evaluate


def main() -> None:
    document = demo_document()
    people = [
        Person(name=f"P{i}", measures={"height": 1500.0 + 4 * i, "waist": 640.0 + 3 * i, "hip": 880.0 + 3 * i})
        for i in range(100)
    ]
    one = best(lambda: evaluate(document, people[50]), 9)
    hundred = best(lambda: [evaluate(document, person) for person in people], 3)
    show("100 people against 1", hundred, one, 100.0)


if __name__ == "__main__":
    main()
