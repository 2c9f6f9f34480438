"""What the user chooses about sizes: which, for whom, and the rules. Lengths in mm."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from caddet.core.recipe.values import Ref

SizeName = Annotated[str, Field(min_length=1, max_length=40)]
Step = Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)]
MOST_SIZES = 60
MOST_RULES = 20_000


class GradeRule(BaseModel):
    """How far a cardinal point of a piece moves from one size to the next, for the sizes from ``first`` to ``last``."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    piece: Ref
    point: str = Field(min_length=1, max_length=200)
    first: SizeName
    last: SizeName
    dx: Step = 0.0
    dy: Step = 0.0


class Grading(BaseModel):
    """The way, the table and its sizes (none: all), the size that the pattern is drafted in, the people, the rules."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    way: Literal["redraft", "rules", "measures"] = "redraft"
    table: Literal["women", "men", "children"] = "women"
    sizes: tuple[SizeName, ...] = Field(default=(), max_length=MOST_SIZES)
    base: str = Field(default="", max_length=40)
    people: tuple[str, ...] = Field(default=(), max_length=500)
    rules: tuple[GradeRule, ...] = Field(default=(), max_length=MOST_RULES)
