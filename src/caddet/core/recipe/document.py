"""The Document: all that is stored and all that is edited. Everything else is derived from it."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.recipe.choices import Cloth, Finishing, LayChoices

SCHEMA = 2
Value = float | str | bool


def _finite(values: dict[str, float]) -> dict[str, float]:
    for name, value in values.items():
        if not abs(value) <= 20_000:
            raise ValueError(f"{name} is {value}; expected a length in mm")
    return values


Lengths = Annotated[dict[str, float], AfterValidator(_finite)]


class StepEntry(BaseModel):
    """One step of the recipe: its kind, its values (lengths in mm), and whether it is done."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    kind: str = Field(min_length=1, max_length=60)
    values: dict[str, Value] = {}
    on: bool = True


class Recipe(BaseModel):
    """A block with its fit, options, ease (mm in all), overrides (formulas), and the steps on top."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    block: str
    fit: str = Field(default="", max_length=40)
    options: dict[str, Value] = {}
    ease: Lengths = {}
    overrides: dict[str, str] = {}
    steps: tuple[StepEntry, ...] = Field(default=(), max_length=500)


class Placement(BaseModel):
    """Where a piece lies on the table: shift in mm and turn in degrees."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    x: float
    y: float
    turn: float = 0.0


class Document(BaseModel):
    """A project. Immutable: every edit makes a new one."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    schema_version: int = SCHEMA
    title: str = Field(min_length=1, max_length=120)
    people: tuple[Person, ...] = Field(min_length=1, max_length=10_000)
    wearer: str
    cloths: tuple[Cloth, ...] = Field(min_length=1, max_length=500)
    cloth: str
    recipe: Recipe
    finishing: Finishing = Finishing()
    lay: LayChoices = LayChoices()
    table: dict[str, Placement] = {}
    notes: str = Field(default="", max_length=100_000)

    def model_post_init(self, context: Any) -> None:
        del context
        names = [person.name for person in self.people]
        if len(set(names)) != len(names):
            raise ValueError("two people have one name; each needs a name of their own")
        if self.wearer not in names:
            raise ValueError(f"the wearer “{self.wearer}” is not among the people")
        if self.cloth not in [cloth.name for cloth in self.cloths]:
            raise ValueError(f"the cloth “{self.cloth}” is not among the cloths")

    @property
    def person(self) -> Person:
        return self.person_named(self.wearer)

    def person_named(self, name: str) -> Person:
        for person in self.people:
            if person.name == name:
                return person
        raise CaddetError(f"there is no person “{name}”")

    @property
    def chosen_cloth(self) -> Cloth:
        return next(cloth for cloth in self.cloths if cloth.name == self.cloth)
