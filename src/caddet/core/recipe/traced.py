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


Spot = tuple[
    Annotated[float, Field(ge=-20_000, le=40_000, allow_inf_nan=False)],
    Annotated[float, Field(ge=-20_000, le=40_000, allow_inf_nan=False)],
]
EdgeName = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,59}$")]


class PhotoEdge(Frozen):
    """An edge of a traced outline: what it is called, whether it is meant straight, what becomes of it, and the allowance
    that lies outside it when it was the cut line that was traced (mm).
    """

    name: EdgeName
    straight: bool = False
    finish: str = Field(default="", pattern=r"^[a-z]{0,20}$")
    cut: float = Field(default=0.0, ge=0, le=150, allow_inf_nan=False)


class PhotoMark(Frozen):
    """A registration mark across a drawn line, at a share of its length; two close strokes are a double one."""

    at: float = Field(ge=0, le=1, allow_inf_nan=False)
    double: bool = False


class PhotoLine(Frozen):
    """A line drawn on a piece, along which it is cut apart: places in points of the picture, and the marks across it.

    Its number stays when others are taken out, so that what names its edges still finds them.
    """

    number: int = Field(ge=1, le=200)
    points: Annotated[tuple[Spot, ...], FailFast()] = Field(min_length=2, max_length=2000)
    marks: tuple[PhotoMark, ...] = Field(default=(), max_length=40)


class PhotoPanel(Frozen):
    """What the panel that lies at a place of the picture is called; its number stays, as a line's does."""

    number: int = Field(ge=1, le=200)
    at: Spot
    label: Annotated[str, Field(max_length=80)] = ""


class PhotoPiece(Frozen):
    """An outline in a picture: places in points of the picture, in a closed round, clockwise on the table.

    ``corners`` are the places where its edges begin, in order; ``edges`` one for each. As a ``shape`` of a ``kind`` of
    garment its edges are the kind's. One on the fold keeps the half that ``half`` says: the mean of both, or one of them.
    Along its ``lines`` a piece is cut apart into ``panels``.
    """

    name: EdgeName
    label: Annotated[str, Field(max_length=80)] = ""
    kind: Annotated[str, Field(max_length=60)] = ""
    shape: Annotated[str, Field(max_length=60)] = ""
    points: Annotated[tuple[Spot, ...], FailFast()] = Field(min_length=3, max_length=6000)
    corners: tuple[Annotated[int, Field(ge=0, le=6000)], ...] = Field(default=(), max_length=200)
    edges: tuple[PhotoEdge, ...] = Field(default=(), max_length=200)
    half: Literal["mean", "right", "left", "whole"] = "mean"
    pair: bool = False
    lines: tuple[PhotoLine, ...] = Field(default=(), max_length=60)
    panels: tuple[PhotoPanel, ...] = Field(default=(), max_length=100)


class Known(Frozen):
    """A second length that is known in a picture: between two of its points, so many mm."""

    a: Spot
    b: Spot
    mm: Length


class PhotoTracing(Frozen):
    """A photograph of garments laid flat: the picture (by its name among the project's), the sheet's corners in it, the lens,
    and the outlines. ``residual`` is how far the sheet's own edges or squares lay from where they should (mm), ``tolerance`` how far a fair curve may stray from what was seen, in mm; ``practice`` names the
    practice garment that the simulated camera took, whose true shape is known.
    """

    way: Literal["photo"] = "photo"
    photograph: Annotated[str, Field(max_length=80)]
    size: tuple[Annotated[int, Field(ge=1, le=40_000)], Annotated[int, Field(ge=1, le=40_000)]]
    sheet: Annotated[str, Field(max_length=20)] = "A4"
    corners: tuple[Spot, Spot, Spot, Spot]
    lens: float = Field(default=0.0, ge=-0.6, le=0.6, allow_inf_nan=False)
    residual: float = Field(default=0.0, ge=0, le=100, allow_inf_nan=False)
    known: Known | None = None
    tolerance: float = Field(default=1.0, ge=0.1, le=10, allow_inf_nan=False)
    pieces: Annotated[tuple[PhotoPiece, ...], FailFast()] = Field(default=(), max_length=60)
    practice: Annotated[str, Field(max_length=80)] = ""


Tracing = Annotated[TapeTracing | PhotoTracing, Field(discriminator="way")]
