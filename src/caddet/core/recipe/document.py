"""The Document: all that is stored and all that is edited. Everything else is derived from it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Annotated, Any, Final, Literal

from pydantic import FailFast, Field

from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.recipe.choices import USUAL, Allowance, Cloth, Finishing, LayChoices
from caddet.core.recipe.entries import (
    AnySource,
    BlockSource,
    Lengths,
    PiecesSource,
    Source,
    StepEntry,
    TracedSource,
)
from caddet.core.recipe.grading import Grading
from caddet.core.recipe.stored import StoredPiece
from caddet.core.recipe.values import Frozen, Plain, Ref, Value, as_value
from caddet.core.sentences import say

SCHEMA: Final = 5
MOST_STEPS = 500
MOST_SOURCES = 20
MOST_NAMED = 5000
MAIN = "main"  # the cloth role that every document has

Role = Annotated[str, Field(pattern=r"^[a-z_]{1,40}$")]
Day = Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
PhotoFile = Annotated[str, Field(pattern=r"^[0-9a-f]{32}\.jpg$")]


class Recipe(Frozen):
    """The sources, the steps on top, and the counter that their ids come from."""

    sources: Annotated[tuple[Source, ...], FailFast()] = Field(default=(), max_length=MOST_SOURCES)
    steps: Annotated[tuple[StepEntry, ...], FailFast()] = Field(default=(), max_length=MOST_STEPS)
    next_id: int = Field(default=1, ge=1, le=1_000_000_000, description="the number the next source or step gets")

    def model_post_init(self, context: Any) -> None:
        """Raises :class:`ValueError` when ids meet or ``next_id`` is behind them."""
        del context
        ids = [entry.id for entry in (*self.sources, *self.steps)]
        if len(set(ids)) != len(ids) or "" in ids:
            raise ValueError("every source and step needs an id of its own")
        if any(int(name[1:]) >= self.next_id for name in ids) or self.behind:
            raise ValueError("next_id must be larger than the number of every id")

    @property
    def behind(self) -> bool:
        """Whether a step to come could get an id that pieces brought from elsewhere are named after."""
        return any(one.highest >= self.next_id for one in self.sources if isinstance(one, PiecesSource))

    @staticmethod
    def of(
        block: str,
        *,
        fit: str = "",
        options: Mapping[str, Plain | Value] | None = None,
        ease: Mapping[str, float] | None = None,
        overrides: Mapping[str, str] | None = None,
        steps: tuple[StepEntry, ...] = (),
    ) -> Recipe:
        """A recipe that begins with one block; the steps get their ids here."""
        source = BlockSource(
            block=block,
            fit=fit,
            ease=dict(ease or {}),
            overrides=dict(overrides or {}),
            options={name: as_value(value) for name, value in (options or {}).items()},
        )
        recipe = Recipe(sources=(source,), next_id=2)
        for step in steps:
            recipe = recipe.with_step(step)
        return recipe

    def with_step(self, step: StepEntry) -> Recipe:
        """The recipe with one more step at its end, under an id that was never given before."""
        numbered = StepEntry.model_validate({**step.parts(), "id": f"s{self.next_id}"})
        return Recipe(sources=self.sources, steps=(*self.steps, numbered), next_id=self.next_id + 1)

    def with_source(self, source: AnySource) -> Recipe:
        """The recipe with one more source, under an id that was never given before."""
        numbered = source.model_copy(update={"id": f"b{self.next_id}"})
        after = max(self.next_id, source.highest if isinstance(source, PiecesSource) else 0) + 1
        return Recipe(sources=(*self.sources, numbered), steps=self.steps, next_id=after)

    def stages(self) -> Iterator[AnySource | StepEntry]:
        """Sources and steps in the order in which they are made."""
        later = {source.after for source in self.sources} & {step.id for step in self.steps}
        yield from (source for source in self.sources if source.after not in later)
        for step in self.steps:
            yield step
            if step.id in later:
                yield from (source for source in self.sources if source.after == step.id)

    @property
    def main(self) -> BlockSource | None:
        """The block that the garment begins with; None when it has only outlines."""
        return next(iter(self.blocks), None)

    @property
    def blocks(self) -> tuple[BlockSource, ...]:
        """The blocks that the garment is made from, the main one first."""
        return tuple(source for source in self.sources if isinstance(source, BlockSource))

    def block_source(self, source: str = "") -> BlockSource | None:
        """The block of that id, the main one for an empty one; None when there is none."""
        return next((one for one in self.blocks if one.id == source), None) if source else self.main

    @property
    def block(self) -> str:
        """The name of the main block; empty when there is none."""
        return self.main.block if self.main else ""

    @property
    def fit(self) -> str:
        """The way of fitting of the main block; empty for the block's own."""
        return self.main.fit if self.main else ""

    @property
    def options(self) -> Mapping[str, Value]:
        """The options of the main block that were chosen."""
        return self.main.options if self.main else {}

    @property
    def ease(self) -> Mapping[str, float]:
        """The ease of the main block that was set by hand, level to mm."""
        return self.main.ease if self.main else {}

    @property
    def overrides(self) -> Mapping[str, str]:
        """The user's own formulas for figures of the main block."""
        return self.main.overrides if self.main else {}


class Placement(Frozen):
    """Where a piece lies on the table: shift in mm and turn in degrees."""

    x: float = Field(ge=-20_000, le=20_000, allow_inf_nan=False)
    y: float = Field(ge=-20_000, le=20_000, allow_inf_nan=False)
    turn: float = Field(default=0.0, ge=-3600, le=3600, allow_inf_nan=False)


class CutRecord(Frozen):
    """A piece as it was cut from cloth: the net piece, the allowances (edge to mm), the cloth's role, the day."""

    piece: StoredPiece
    allowances: dict[Ref, Allowance] = {}
    cloth: Role = MAIN
    date: Day = ""


class Accepted(Frozen):
    """A finding or failing check that is fine by the user, with the reason.

    ``kind``, ``name`` and ``place`` say which; ``worse`` is how far off it was (mm, degrees; 0 for a
    finding without a figure), ``stops`` whether it stopped the draft.
    """

    kind: Annotated[str, Field(max_length=40)]
    name: Annotated[str, Field(max_length=200)]
    place: Annotated[str, Field(max_length=300)] = ""
    reason: str = Field(min_length=1, max_length=500)
    worse: float = Field(default=0.0, ge=0, le=1e9, allow_inf_nan=False)
    stops: bool = False


class LogEntry(Frozen):
    """A note of the wearing log: the day, the words, and the photographs (by name) that go with it."""

    date: Day = ""
    text: str = Field(max_length=4000)
    photographs: tuple[Annotated[str, Field(max_length=80)], ...] = Field(default=(), max_length=100)


class Document(Frozen):
    """A project. Immutable: every edit makes a new one."""

    schema_version: Literal[5] = SCHEMA
    title: str = Field(min_length=1, max_length=120)
    people: Annotated[tuple[Person, ...], FailFast()] = Field(min_length=1, max_length=10_000)
    wearer: str
    cloths: Annotated[tuple[Cloth, ...], FailFast()] = Field(min_length=1, max_length=500)
    roles: dict[Role, str]
    recipe: Recipe
    finishing: Finishing = Finishing()
    lays: dict[Role, LayChoices] = {}
    table: dict[Ref, Placement] = Field(default={}, max_length=MOST_NAMED)
    photographs: dict[Annotated[str, Field(min_length=1, max_length=80)], PhotoFile] = Field(
        default={}, max_length=MOST_NAMED
    )
    cut: dict[Ref, CutRecord] = Field(default={}, max_length=MOST_NAMED)
    made: dict[Ref, Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]] = Field(
        default={}, max_length=MOST_NAMED
    )
    accepted: Annotated[tuple[Accepted, ...], FailFast()] = Field(default=(), max_length=5000)
    log: Annotated[tuple[LogEntry, ...], FailFast()] = Field(default=(), max_length=10_000)
    notes: str = Field(default="", max_length=100_000)
    grading: Grading = Grading()

    def model_post_init(self, context: Any) -> None:
        """Raises :class:`ValueError` when names meet, or one that is pointed to is not there."""
        del context
        names = [person.name for person in self.people]
        if len(set(names)) != len(names):
            raise ValueError("two people have one name; each needs a name of their own")
        if self.wearer not in names:
            raise ValueError(say("the wearer “{wearer}” is not among the people", wearer=self.wearer))
        cloths = [cloth.name for cloth in self.cloths]
        if len(set(cloths)) != len(cloths):
            raise ValueError("two cloths have one name; each needs a name of its own")
        if MAIN not in self.roles:
            raise ValueError("no cloth is chosen for the role “main”")
        for role, name in self.roles.items():
            if name not in cloths:
                raise ValueError(say("the cloth “{name}” ({role}) is not among the cloths", name=name, role=role))

    @property
    def person(self) -> Person:
        """The wearer."""
        return self.person_named(self.wearer)

    def person_named(self, name: str) -> Person:
        """Somebody by name. Raises :class:`CaddetError` when nobody is called so."""
        for person in self.people:
            if person.name == name:
                return person
        raise CaddetError(say("there is no person “{name}”", name=name))

    @property
    def cloth(self) -> str:
        """The name of the main cloth."""
        return self.roles[MAIN]

    @property
    def chosen_cloth(self) -> Cloth:
        """The main cloth."""
        return self.cloth_for(MAIN)

    def cloth_for(self, role: str) -> Cloth:
        """The cloth of a role; where none is chosen for it the usual one, or else the main."""
        if role not in self.roles and role in USUAL:
            return USUAL[role]
        name = self.roles.get(role, self.cloth)
        return next(cloth for cloth in self.cloths if cloth.name == name)

    def lay_for(self, role: str) -> LayChoices:
        """How the cloth of a role is laid; like the main one where nothing was chosen."""
        return self.lays.get(role, self.lay)

    @property
    def lay(self) -> LayChoices:
        """How the main cloth is laid."""
        return self.lays.get(MAIN, LayChoices())

    def photo_files(self) -> frozenset[str]:
        """Every photograph the document refers to."""
        return frozenset([*(person.photo for person in self.people if person.photo), *self.photographs.values()])


__all__ = [
    "MAIN", "MOST_STEPS", "SCHEMA", "Accepted", "BlockSource", "CutRecord", "Document", "Lengths", "LogEntry",
    "PiecesSource", "Placement", "Recipe", "StepEntry", "TracedSource", "Value",
]  # fmt: skip
