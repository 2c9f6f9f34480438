"""Short ways to people, documents and patterns for tests."""

from __future__ import annotations

import csv
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import pytest
import shapely

from caddet.cli import main
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.geometry.segments import Point
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.features import Dart
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pipeline import make
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import MAIN, Document, Recipe, StepEntry
from caddet.core.recipe.registry import block_named, step_entry
from caddet.core.recipe.values import Place, Plain

T = TypeVar("T")
DATA = Path(__file__).parent / "data"


def person(name: str = "Wren", **cm: float) -> Person:
    values = {"height": 168.0, "waist": 76.0, "hip": 98.0, "waist_to_hip": 20.5} | cm
    return Person.of(name, {code: value * 10 for code, value in values.items()})


def step(kind: str, /, **values: object) -> StepEntry:
    return step_entry(kind, values)


def pivot(dart: str, edge: str, mm: float, share: float = 1.0) -> dict[str, object]:
    """The values of a pivot to a place so many mm along an edge."""
    return {"dart": dart, "to": Place(edge=edge, mm=mm), "share": share}


def document(who: Person | None = None, *steps: StepEntry, **options: Plain) -> Document:
    who = who or person()
    return Document(
        title="Test skirt",
        people=(who,),
        wearer=who.name,
        cloths=(Cloth(name="Twill", width=1400.0),),
        roles={MAIN: "Twill"},
        recipe=Recipe.of("skirt.straight", options=options, steps=steps),
    )


def made(*steps: StepEntry, who: Person | None = None, **options: Plain) -> Made:
    return make(EvaluateRequest(document(who, *steps, **options)))


def skirt(*steps: StepEntry, who: Person | None = None, **options: Plain) -> Pattern:
    pattern = made(*steps, who=who, **options).pattern
    assert pattern is not None
    return pattern


def polygon(points: list[Point]) -> shapely.Polygon:
    return shapely.Polygon([(p.real, p.imag) for p in points])


def area(piece: Piece) -> float:
    return float(polygon(piece.polygon(0.001)).area)


KNIT = Cloth(name="Knit", width=1500.0, kind="knit", stretch=0.6, stretch_along=0.4, drape="soft")
WOVEN = Cloth(name="Woven", width=1500.0, drape="middling")


def drafted(
    block: str,
    who: Person | None = None,
    *,
    cloth: Cloth | None = None,
    ease: dict[str, float] | None = None,
    overrides: dict[str, str] | None = None,
    steps: tuple[StepEntry, ...] = (),
    fit: str = "",
    **options: Plain,
) -> Made:
    """A block of the library on a person, in a cloth that suits it."""
    who = who or demo_document().person
    if cloth is None:
        cloth = KNIT if any(want.startswith("stretch") for want in block_named(block).wants) else WOVEN
    recipe = Recipe.of(block, options=options, ease=ease or {}, overrides=overrides or {}, steps=steps, fit=fit)
    return make(
        EvaluateRequest(
            Document(
                title="Test", people=(who,), wearer=who.name, cloths=(cloth,), roles={MAIN: cloth.name}, recipe=recipe
            )
        )
    )


def legs_of(piece: Piece, dart: Dart) -> tuple[float, float]:
    """How long the two legs of a dart are along the outline, in mm."""
    legs: dict[str, float] = {}
    for edge in piece.edges:
        if edge.dart == dart.id:
            legs[edge.name] = legs.get(edge.name, 0.0) + edge.path.length
    first, second = legs.values()
    return first, second


def pattern_of(made: Made) -> Pattern:
    """The pattern, which must be there."""
    assert made.pattern is not None, [finding.sentence for finding in made.findings]
    return made.pattern


def whole_bodies() -> list[Person]:
    """The 254 adults with every measure that the data has."""
    with (DATA / "bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    codes = [code for code in rows[0] if code in MEASURES and code != "weight_kg"]
    return [Person.of(row["name"], {code: float(row[code]) * 10 for code in codes}) for row in rows]


def full_people() -> list[Person]:
    """The 14 people of ``tests/data/whole-bodies.csv``, with every measure: small, tall, full, stooped, a child."""
    with (DATA / "whole-bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    return [
        Person.of(
            row["name"],
            {
                code: float(cell) * (1 if code == "weight_kg" else 10)
                for code, cell in row.items()
                if code in MEASURES and cell
            },
        )
        for row in rows
    ]


def nine() -> list[Person]:
    """Nine bodies to try things on: seven of the whole ones, from the smallest to the fullest, and two real ones."""
    return [*full_people()[::2], *whole_bodies()[40::150]]


def bodies() -> list[Person]:
    """The 254 adults of ``tests/data/bodies.csv``."""
    wanted = ("height", "bust", "waist", "hip")
    with (DATA / "bodies.csv").open() as file:
        return [
            Person.of(row["name"], {code: float(row[code]) * 10 for code in wanted}) for row in csv.DictReader(file)
        ]


# A set of geometry shapes over which geometry is tested: ordinary, tiny, huge, bent, nearly degenerate.
def shapes() -> dict[str, object]:
    from caddet.core.geometry.segments import Arc, Cubic, Line

    return {
        "line": Line(3 + 4j, 90 - 12j),
        "tiny line": Line(0j, 1e-4 + 0j),
        "huge line": Line(-9000 - 50j, 9000 + 4000j),
        "gentle cubic": Cubic(0j, 30 + 5j, 70 - 8j, 100 + 0j),
        "armhole cubic": Cubic(0j, -10 + 90j, 20 + 150j, 110 + 160j),
        "looping cubic": Cubic(0j, 300 + 200j, -200 + 200j, 100 + 0j),
        "straight cubic": Cubic(0j, 10 + 10j, 20 + 20j, 30 + 30j),
        "retracted handle": Cubic(0j, 0j, 60 + 40j, 100 + 0j),
        "quarter arc": Arc(0j, 100.0, 0.0, 1.5707963),
        "backward arc": Arc(5 + 5j, 40.0, 2.0, -4.0),
        "huge arc": Arc(0j, 8000.0, 1.0, 0.05),
    }


def counted(work: Callable[[], T]) -> tuple[T, int]:
    """What some work gives, and how many Python functions it called: its size on any machine, however slow."""
    calls = 0

    def one(frame: object, event: str, argument: object) -> None:
        nonlocal calls
        calls += event == "call"

    before = sys.getprofile()
    sys.setprofile(one)
    try:
        return work(), calls
    finally:
        sys.setprofile(before)


def run(capsys: pytest.CaptureFixture[str], *words: object) -> tuple[int, str, str]:
    """A command as a script runs it: exit code, what it printed, what it complained of."""
    code = main([str(word) for word in words])
    out = capsys.readouterr()
    return code, out.out, out.err
