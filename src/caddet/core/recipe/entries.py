"""The entries of a recipe: sources (a block, pieces, or a tracing), and the steps on top. Lengths in millimetres."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal, Self

from pydantic import FailFast, Field

from caddet.core.recipe.stored import (
    StoredNotion,
    StoredOpening,
    StoredPiece,
    StoredPromise,
    StoredSeam,
    StoredShown,
    numbers_in,
)
from caddet.core.recipe.traced import Tracing
from caddet.core.recipe.values import Frozen, Value

SourceId = Annotated[str, Field(pattern=r"^b[1-9][0-9]{0,8}$")]
StepId = Annotated[str, Field(pattern=r"^s[1-9][0-9]{0,8}$")]
Name = Annotated[str, Field(max_length=80)]
Lengths = dict[Name, Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]]


class _Entry(Frozen):
    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy, which works out its own token."""
        copied = super().model_copy(update=update, deep=deep)
        for name in ("token", "highest"):
            copied.__dict__.pop(name, None)
        return copied

    @cached_property
    def token(self) -> bytes:
        """What this entry says, as a short digest: entries of one token do the same."""
        return hashlib.blake2b(self.model_dump_json().encode(), digest_size=16).digest()


class BlockSource(_Entry):
    """A block drafted on the body: its fit, options, ease (mm in all) and the user's own formulas.

    ``after`` is the step that it stands behind; empty, it stands before all of them.
    """

    id: SourceId = "b1"
    kind: Literal["block"] = "block"
    block: Name
    fit: Annotated[str, Field(max_length=40)] = ""
    options: dict[Name, Value] = {}
    ease: Lengths = {}
    overrides: dict[Name, Annotated[str, Field(max_length=20_000)]] = {}
    after: StepId | Literal[""] = ""
    on: bool = True
    note: str = Field(default="", max_length=2000)


class PiecesSource(_Entry):
    """Pieces that are given as they are: imported, a graded size, what was made elsewhere."""

    id: SourceId = "b1"
    kind: Literal["stored"] = "stored"
    label: Name = ""
    pieces: Annotated[tuple[StoredPiece, ...], FailFast()] = Field(default=(), max_length=200)
    seams: tuple[StoredSeam, ...] = Field(default=(), max_length=500)
    promises: tuple[StoredPromise, ...] = Field(default=(), max_length=200)
    notions: tuple[StoredNotion, ...] = Field(default=(), max_length=200)
    openings: tuple[StoredOpening, ...] = Field(default=(), max_length=100)
    shown: tuple[StoredShown, ...] = Field(default=(), max_length=400)
    after: StepId | Literal[""] = ""
    on: bool = True
    note: str = Field(default="", max_length=2000)

    @cached_property
    def highest(self) -> int:
        """The largest number of a source or step that a name in it comes from; 0 when there is none."""
        return max(numbers_in(self.model_dump_json(exclude={"id", "label", "after", "note"})), default=0)


class TracedSource(_Entry):
    """Pieces traced from a garment, made again from what was read and drawn."""

    id: SourceId = "b1"
    kind: Literal["traced"] = "traced"
    label: Name = ""
    tracing: Tracing
    after: StepId | Literal[""] = ""
    on: bool = True
    note: str = Field(default="", max_length=2000)


Source = Annotated[BlockSource | PiecesSource | TracedSource, Field(discriminator="kind")]
AnySource = BlockSource | PiecesSource | TracedSource


class StepEntry(_Entry):
    """One step: its kind, its values, whether it is done, a note, and the group it belongs to.

    ``id`` comes from the recipe's counter and is never given twice; empty, the step has not been put
    into a recipe yet.
    """

    id: StepId | Literal[""] = ""
    kind: str = Field(min_length=1, max_length=60)
    values: dict[Name, Value] = {}
    on: bool = True
    note: str = Field(default="", max_length=2000)
    group: Name = ""

    @cached_property
    def token(self) -> bytes:
        """What the step does, without its note and group."""
        bare = self.model_dump_json(include={"id", "kind", "values", "on"})
        return hashlib.blake2b(bare.encode(), digest_size=16).digest()
