"""Values as a document keeps them: each says by its ``kind`` what it is. Lengths in millimetres.

The kinds are those of the parameters of steps: an amount (a number, or a formula that gives one), a
choice, a flag, text, a table, a place on an edge, points in an edge's frame, lines through them, and
references to edges, pieces, darts, levels and seams. A kind that this version does not know is kept as
it is (:class:`KeptValue`), so that a step of another version is saved back unchanged.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Discriminator, Field, Tag

from caddet.core.figures.language import LONGEST_FORMULA
from caddet.core.pattern.ids import canonical

LONGEST_TEXT = 20_000  # characters: a recipe of points and formulas is a text too
LONGEST_NAME = 80
FARTHEST = 100_000.0  # mm: no length, place or count in a document is larger

Ref = Annotated[str, Field(max_length=240), AfterValidator(canonical)]
Bounded = Annotated[float, Field(strict=True, ge=-FARTHEST, le=FARTHEST, allow_inf_nan=False)]


class Frozen(BaseModel):
    """A part of the document: immutable, without unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def parts(self) -> dict[str, Any]:
        """The fields and their values, as they are."""
        return {name: getattr(self, name) for name in type(self).model_fields}


class Number(Frozen):
    """An amount: a length in mm, an angle in degrees, a ratio or a count, as its parameter says."""

    kind: Literal["number"] = "number"
    value: Bounded


class Formula(Frozen):
    """An amount worked out from measures and figures on each body."""

    kind: Literal["formula"] = "formula"
    text: str = Field(min_length=1, max_length=LONGEST_FORMULA)


class Choice(Frozen):
    """One of the names that a parameter offers."""

    kind: Literal["choice"] = "choice"
    name: str = Field(max_length=LONGEST_NAME)


class Flag(Frozen):
    """Yes or no."""

    kind: Literal["flag"] = "flag"
    on: bool = Field(strict=True)


class Text(Frozen):
    """Words."""

    kind: Literal["text"] = "text"
    text: str = Field(max_length=LONGEST_TEXT)


class TableValue(Frozen):
    """Rows of numbers (mm where they are lengths) and words."""

    kind: Literal["table"] = "table"
    rows: tuple[Annotated[tuple[Bounded | Annotated[str, Field(max_length=200)], ...], Field(max_length=50)], ...] = (
        Field(default=(), max_length=500)
    )


class Place(Frozen):
    """A place on an edge: a share of it (0 to 1), or so many mm from one of its ends."""

    kind: Literal["place"] = "place"
    edge: Ref
    share: Bounded | None = None
    mm: Bounded | None = None
    end: Literal["start", "end"] = "start"

    def model_post_init(self, context: Any) -> None:
        """Raises :class:`ValueError` unless exactly one of share and mm is given."""
        del context
        if (self.share is None) == (self.mm is None):
            raise ValueError("a place on an edge has either a share or mm")


class Corner(Frozen):
    """A corner of a piece: an end of one of its edges."""

    kind: Literal["corner"] = "corner"
    edge: Ref
    end: Literal["start", "end"] = "end"


class FramePoint(Frozen):
    """A point in an edge's frame: ``along`` its chord as a share, ``out`` to its left in mm."""

    kind: Literal["point"] = "point"
    edge: Ref
    along: Bounded
    out: Bounded = 0.0


Spot = Annotated[Place | FramePoint, Field(discriminator="kind")]
Spots = Annotated[tuple[Spot, ...], Field(min_length=2, max_length=200)]


class Points(Frozen):
    """Points in the frames of edges."""

    kind: Literal["points"] = "points"
    points: tuple[FramePoint, ...] = Field(max_length=500)


class LineValue(Frozen):
    """A line across a piece, through places on edges and points in their frames."""

    kind: Literal["line"] = "line"
    points: Spots


class LinesValue(Frozen):
    """Several lines."""

    kind: Literal["lines"] = "lines"
    lines: tuple[Spots, ...] = Field(max_length=100)


Named = Literal["edges", "pieces", "dart", "level", "seam"]
NAMED: tuple[Named, ...] = ("edges", "pieces", "dart", "level", "seam")


class References(Frozen):
    """Edges, pieces, a dart, a level or a seam by reference; of edges and pieces, none means every one that fits."""

    kind: Named
    refs: tuple[Ref, ...] = Field(default=(), max_length=500)


class KeptValue(BaseModel):
    """A value of a kind that this version does not know, kept as it was found."""

    model_config = ConfigDict(frozen=True, extra="allow", allow_inf_nan=False)

    kind: str = Field(max_length=60)


KINDS: tuple[str, ...] = (
    "number", "formula", "choice", "flag", "text", "table", "place", "corner", "point", "points", "line", "lines", *NAMED,
)  # fmt: skip


def _tag(value: Any) -> str:
    kind = value.get("kind") if isinstance(value, dict) else getattr(value, "kind", None)
    if kind in NAMED:
        return "refs"
    return kind if isinstance(kind, str) and kind in KINDS else "kept"


Value = Annotated[
    Annotated[Number, Tag("number")]
    | Annotated[Formula, Tag("formula")]
    | Annotated[Choice, Tag("choice")]
    | Annotated[Flag, Tag("flag")]
    | Annotated[Text, Tag("text")]
    | Annotated[TableValue, Tag("table")]
    | Annotated[Place, Tag("place")]
    | Annotated[Corner, Tag("corner")]
    | Annotated[FramePoint, Tag("point")]
    | Annotated[Points, Tag("points")]
    | Annotated[LineValue, Tag("line")]
    | Annotated[LinesValue, Tag("lines")]
    | Annotated[References, Tag("refs")]
    | Annotated[KeptValue, Tag("kept")],
    Discriminator(_tag),
]

Plain = float | str | bool  # a value as blocks and steps work with it: mm, names, yes or no


def as_value(plain: Plain | BaseModel) -> Any:
    """A plain amount, flag, choice or text as a document keeps it; a value that is one already, as it is."""
    if isinstance(plain, BaseModel):
        return plain
    if isinstance(plain, bool):
        return Flag(on=plain)
    if isinstance(plain, str):
        return Text(text=plain) if len(plain) > LONGEST_NAME or "\n" in plain else Choice(name=plain)
    return Number(value=plain)
