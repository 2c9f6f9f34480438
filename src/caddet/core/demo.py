"""The demo: a band of handbell ringers in a harbour town sews its own ringing clothes. All invented."""

from __future__ import annotations

from pathlib import Path

from caddet.core.body.person import Growth, Person
from caddet.core.body.readings import MeasureSet
from caddet.core.recipe.choices import Cloth, Finishing, LayChoices
from caddet.core.recipe.document import MAIN, Document, Recipe, StepEntry
from caddet.core.recipe.planning import begun
from caddet.core.recipe.values import Number, References, Value


def _cm(**values: float) -> dict[str, float]:
    return {code: round(value * 10, 3) for code, value in values.items()}


ODILE = Person.of(
    "Odile",
    _cm(
        height=168, head=56, neck=36.5, bust=92, upper_bust=88, waist=76, high_hip=89, hip=99, waist_to_hip=20.5,
        waist_to_knee=59.5, waist_to_floor=105, inside_leg=77.5, nape_to_waist=41.5, stride=72, upper_arm=28.5,
    ),
    date="2026-03-07",
    note="Rings the treble; stands with the weight on her left leg.",
).with_set(
    MeasureSet(date="2026-11-14", over="light clothes", readings={
        "waist": (752.0, 748.0, 750.0), "hip": (980.0,), "bust": (918.0, 922.0), "arm_length": (585.0,),
        "shoulder": (122.0,), "across_back": (352.0,), "wrist": (160.0,),
    })
)  # fmt: skip
BRAM = Person.of(
    "Bram",
    _cm(
        height=183,
        bust=112,
        waist=101,
        hip=110,
        waist_to_hip=22,
        waist_to_floor=112,
        stride=80,
        neck=42.5,
        arm_length=64.5,
    ),
    date="2026-11-14",
    note="Rings the tenor pair and bends a lot.",
)
WREN = Person.of(
    "Wren",
    _cm(height=134, bust=67, waist=59, hip=72.5, waist_to_hip=15.5, waist_to_knee=46),
    date="2026-02-21",
    born="2016-03",
    note="Still growing: measure again before cutting.",
).with_set(
    MeasureSet(date="2026-11-14", over="light clothes", readings={
        "height": (1390.0,), "bust": (690.0,), "waist": (600.0,), "hip": (750.0,), "waist_to_hip": (165.0,),
        "waist_to_knee": (480.0,),
    })
).model_copy(update={"growth": Growth(months=9)})  # fmt: skip
ISHBEL = Person.of(
    "Ishbel",
    _cm(height=159, bust=118, waist=104, hip=126, waist_to_hip=21, waist_to_floor=99),
    date="2026-11-14",
    note="Prefers a band that does not dig in.",
)


def _step(kind: str, **values: Value) -> StepEntry:
    return StepEntry(kind=kind, values=dict(values))


def demo_document() -> Document:
    """A finished skirt project with its steps, so that every station shows something real at once."""
    return Document(
        title="Ringing skirt",
        people=(ODILE, BRAM, WREN, ISHBEL),
        wearer="Odile",
        cloths=(
            Cloth(name="Quay twill", width=1500.0, shrinkage=0.03, price=14.5),
            Cloth(name="Lantern velvet", width=1400.0, nap=True, shrinkage=0.02, price=21.0),
            Cloth(name="Bridge interfacing", width=900.0, weight="light", shrinkage=0.0, price=4.5),
        ),
        roles={MAIN: "Quay twill", "interfacing": "Bridge interfacing"},
        recipe=Recipe.of(
            "skirt.straight",
            options={"school": "seat", "length": 580.0},
            ease={"waist": 10.0, "hip": 40.0},
            overrides={"front_dart_length": "9.5cm"},
            steps=(
                _step("lengthen", at=Number(value=400.0), amount=Number(value=30.0)),
                _step("flare", amount=Number(value=35.0)),
                _step("slit", edges=References(kind="edges", refs=("back.centre_back",)), height=Number(value=140.0)),
            ),
        ),
        finishing=Finishing(hem=40.0, exceptions={"waistband.inside": 10.0}),
        lays={MAIN: LayChoices(fold="better")},
        notes="The band walks the quay in a line: stride first, then looks.",
    )


def title_of(path: Path) -> str:
    """The title of a new project in a file of that name."""
    return path.stem.encode("utf-8", "replace").decode()[:120].strip() or "New skirt"


def new_document(title: str = "New skirt") -> Document:
    """What a new project starts from: one person with average measures to be replaced, one cloth."""
    person = Person.of("Somebody", _cm(height=168, waist=76, hip=100, waist_to_hip=20))
    return Document(
        title=title,
        people=(person,),
        wearer=person.name,
        cloths=(Cloth(name="Cloth", width=1400.0),),
        roles={MAIN: "Cloth"},
        recipe=begun("skirt.straight"),
    )
