"""The entries of a recipe: sources (a block, outlines, or a tracing), and the steps on top. Lengths in millimetres."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal, Self

from pydantic import FailFast, Field

from caddet.core.recipe.traced import Tracing
from caddet.core.recipe.values import Bounded, Frozen, Ref, Value

SourceId = Annotated[str, Field(pattern=r"^b[1-9][0-9]{0,8}$")]
StepId = Annotated[str, Field(pattern=r"^s[1-9][0-9]{0,8}$")]
Name = Annotated[str, Field(max_length=80)]
Lengths = dict[Name, Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]]
Corner = tuple[Bounded, Bounded]
Curve = tuple[Bounded, Bounded, Bounded, Bounded, Bounded, Bounded]


class _Entry(Frozen):
    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy, which works out its own token."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop("token", None)
        return copied

    @cached_property
    def token(self) -> bytes:
        """What this entry says, as a short digest: entries of one token do the same."""
        return hashlib.blake2b(self.model_dump_json().encode(), digest_size=16).digest()


class OutlineEdge(Frozen):
    """An edge of an outline: from where the one before it ends, lines (x, y) and cubics (two handles and the end)."""

    name: Annotated[str, Field(pattern=r"^[A-Za-z0-9_]{1,80}$")]
    role: Literal["seam", "hem", "fold", "dart", "opening", "slit", "edge"] = "seam"
    dart: Name = ""
    finish: str = Field(
        default="", pattern=r"^[a-z]{0,20}$", description="what becomes of it, where its role does not tell"
    )
    why: str = Field(default="", max_length=500)
    segments: Annotated[tuple[Corner | Curve, ...], FailFast()] = Field(min_length=1, max_length=2000)


class OutlineNotch(Frozen):
    """A notch of an outline, at a share of the length of an edge."""

    edge: Annotated[str, Field(pattern=r"^[A-Za-z0-9_]{1,80}$")]
    at: float = Field(ge=0, le=1)
    double: bool = False
    name: Name = ""


class OutlineLevel(Frozen):
    """A level of an outline (bust, waist, hip …), from point to point."""

    name: Annotated[str, Field(pattern=r"^[A-Za-z0-9_]{1,80}$")]
    a: Corner
    b: Corner


class OutlinePart(Frozen):
    """A part of a layer of a seam between outlines: an edge, walked its way or against it, between two shares of it."""

    edge: Ref
    backwards: bool = False
    low: float = Field(default=0.0, ge=0, le=1)
    high: float = Field(default=1.0, ge=0, le=1)


class OutlineSeam(Frozen):
    """A seam between outlines: its layers, and how the second meets the first (mm eased or pleated, or a ratio)."""

    name: Annotated[str, Field(pattern=r"^[A-Za-z0-9_]{1,80}$")]
    label: Name = ""
    layers: tuple[tuple[OutlinePart, ...], ...] = Field(min_length=2, max_length=6)
    kind: Literal["plain", "eased", "gathered", "pleated", "stretched"] = "plain"
    amount: float = Field(default=0.0, ge=-20_000, le=20_000, allow_inf_nan=False)
    corners: bool = False


class Outline(Frozen):
    """A net piece as it was traced, imported or cut: edges in a closed round from ``start``, clockwise on the table."""

    name: Annotated[str, Field(pattern=r"^[A-Za-z0-9_]{1,80}$")]
    label: Name = ""
    start: Corner
    edges: Annotated[tuple[OutlineEdge, ...], FailFast()] = Field(min_length=1, max_length=500)
    grain: tuple[Corner, Corner] = ((0.0, 0.0), (0.0, 100.0))
    count: int = Field(default=1, ge=1, le=100)
    pair: bool = False
    cloth: Annotated[str, Field(max_length=40)] = "main"
    notches: tuple[OutlineNotch, ...] = Field(default=(), max_length=500)
    levels: tuple[OutlineLevel, ...] = Field(default=(), max_length=100)


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


class OutlineSource(_Entry):
    """Pieces whose outlines are given: traced from a garment, or imported."""

    id: SourceId = "b1"
    kind: Literal["outlines"] = "outlines"
    label: Name = ""
    outlines: tuple[Outline, ...] = Field(default=(), max_length=200)
    seams: tuple[OutlineSeam, ...] = Field(default=(), max_length=500)
    after: StepId | Literal[""] = ""
    on: bool = True
    note: str = Field(default="", max_length=2000)


class TracedSource(_Entry):
    """Pieces traced from a garment, made again from what was read and drawn."""

    id: SourceId = "b1"
    kind: Literal["traced"] = "traced"
    label: Name = ""
    tracing: Tracing
    after: StepId | Literal[""] = ""
    on: bool = True
    note: str = Field(default="", max_length=2000)


Source = Annotated[BlockSource | OutlineSource | TracedSource, Field(discriminator="kind")]
AnySource = BlockSource | OutlineSource | TracedSource


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
