"""What a tracing is kept as: what was read, typed and drawn, never the pieces that come of it. Lengths in millimetres."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import FailFast, Field

from caddet.core.recipe.values import Frozen

ReadingName = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,59}$")]
Length = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]


class Reading(Frozen):
    """A reading of the tape: what was measured, for a width at which height (``at``), and once or several times."""

    what: ReadingName
    at: float | None = Field(default=None, ge=0, le=5000, allow_inf_nan=False)
    values: tuple[Length, ...] = Field(min_length=1, max_length=20)


class TapeTracing(Frozen):
    """A garment measured with the tape: its kind, the readings, and which lines of the guide are done."""

    way: Literal["tape"] = "tape"
    kind: ReadingName
    readings: Annotated[tuple[Reading, ...], FailFast()] = Field(default=(), max_length=200)
    done: tuple[Annotated[str, Field(max_length=40)], ...] = Field(default=(), max_length=50)


Tracing = TapeTracing
