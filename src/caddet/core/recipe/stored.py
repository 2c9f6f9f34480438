"""A pattern as a document stores it: pieces with all that they carry, seams, promises, notions, openings. Lengths in mm.

One stored form of each thing in :mod:`caddet.core.pattern`, field by field; :mod:`.storing` goes both ways. What can't be
a piece (an edge twice, a fold that is not straight, an outline that stays open) is refused here, so that the repair of a
damaged file sets it aside.
"""

from __future__ import annotations

import cmath
import math
import re
from collections.abc import Iterator
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Discriminator, FailFast, Field, Tag, model_validator

from caddet.core.pattern.edges import FINISHES
from caddet.core.pattern.features import FEATURE_KINDS, FeatureKind
from caddet.core.pattern.ids import reference
from caddet.core.pattern.notions import NotionKind
from caddet.core.pattern.piece import GrainKind
from caddet.core.pattern.roles import EDGE_ROLES, PIECE_ROLES, Covers, Side
from caddet.core.pattern.seams import JoinKind
from caddet.core.recipe.values import Bounded, Frozen, Ref
from caddet.core.sentences import say

CLOSED = 0.05  # mm by which an outline may miss its beginning
STRAIGHT = 10.0  # mm off its line that a fold may be: up to here it is told and can be straightened
SAME = 1e-6  # of an edge as its maker drew it, by which two of its parts may lie over each other
MOST_ID = 900_000_000  # the largest number of a source or step that a stored name may have

Name = Annotated[str, Field(max_length=120)]
Label = Annotated[str, Field(max_length=500)]
Share = Annotated[float, Field(ge=-SAME, le=1 + SAME, allow_inf_nan=False)]
Corner = tuple[Bounded, Bounded]
Sweep = Annotated[float, Field(ge=-2 * math.pi - SAME, le=2 * math.pi + SAME, allow_inf_nan=False)]
Turn = tuple[Bounded, Bounded, Sweep]
Curve = tuple[Bounded, Bounded, Bounded, Bounded, Bounded, Bounded]


def _shape(part: Any) -> str | None:
    """Which kind of segment a list of numbers is; None when it is none."""
    return {2: "line", 3: "arc", 6: "curve"}.get(len(part)) if isinstance(part, list | tuple) else None


Segment = Annotated[
    Annotated[Corner, Tag("line")] | Annotated[Turn, Tag("arc")] | Annotated[Curve, Tag("curve")],
    Discriminator(
        _shape,
        custom_error_type="segment",
        custom_error_message="expected a line (x, y), an arc (x, y, radians) or a curve (six numbers)",
    ),
]
"""From where the one before it ends: a line to (x, y); an arc about (x, y), radians clockwise; a cubic by its two handles and end."""

_STEP_OR_SOURCE = re.compile(r"\b[bs]([1-9][0-9]{0,8})(?=[ab]?\b|_)")


def _known(what: str, names: tuple[str, ...]) -> AfterValidator:
    def check(value: str) -> str:
        if value and value not in names:
            raise ValueError(say("“{value}” isn't something {what} can be", value=value[:40], what=what))
        return value

    return AfterValidator(check)


def _numbered(value: str) -> str:
    if any(number > MOST_ID for number in numbers_in(value)):
        raise ValueError(say("“{value}” is named after a step with too large a number", value=value[:60]))
    return value


def numbers_in(name: str) -> Iterator[int]:
    """The numbers of sources and steps in a stored name: of ``front.side[s3.2]`` 3."""
    return (int(number) for number in _STEP_OR_SOURCE.findall(name))


Id = Annotated[Ref, AfterValidator(_numbered)]
"""The name of a thing with its marks, as text: ``front.side[s3.2]'``."""


class SaidLength(Frozen):
    """A length within words."""

    mm: Bounded
    sign: bool = False
    bare: bool = False
    rough: bool = False


class Said(Frozen):
    """Words with lengths in them, so that they can be said in any unit."""

    say: Annotated[str, Field(max_length=1000)]
    args: dict[Annotated[str, Field(pattern=r"^[a-z0-9_]{1,80}$")], SaidLength | Label] = Field(max_length=40)


Words = Label | Said


class StoredSpot(Frozen):
    """A place on the outline: an edge, and the position on it as its maker drew it."""

    edge: Id
    u: Share


End = StoredSpot | Corner
StoredBit = tuple[End, End]


class StoredEdge(Frozen):
    """An edge: its name and marks, its path, and what becomes of it. ``pairs``: share of the path now, position as drawn."""

    id: Id
    path: Annotated[tuple[Segment, ...], FailFast()] = Field(min_length=1, max_length=2000)
    finish: Annotated[str, _known("an edge", FINISHES)] = ""
    dart: Id | Literal[""] = ""
    pairs: tuple[tuple[Share, Share], ...] = Field(default=((0.0, 0.0), (1.0, 1.0)), min_length=2, max_length=500)
    why: Words = ""
    allowance: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] | None = None
    role: Annotated[str, _known("an edge", EDGE_ROLES)] = ""


class StoredDart(Frozen):
    """A dart, whose legs are the edges of its name."""

    id: Id
    label: Words = "dart"
    pressed: Literal["first", "second"] = "first"
    role: Annotated[str, Field(max_length=40)] = ""


class StoredNotch(Frozen):
    """A notch at a position of an edge."""

    edge: Id
    u: Share
    double: bool = False
    name: Words = ""


class StoredFeature(Frozen):
    """What is drawn inside a piece."""

    kind: Annotated[FeatureKind, _known("a line on a piece", FEATURE_KINDS)]
    name: Id
    label: Words = ""
    bits: tuple[StoredBit, ...] = Field(default=(), max_length=500)
    towards: Literal["first", "second"] = "first"
    role: Annotated[str, Field(max_length=120)] = ""


class StoredFigure(Frozen):
    """The line on a piece that a figure of the sums measures."""

    figure: Name
    bit: StoredBit


class StoredGrain(Frozen):
    """The grain line and how it lies on the cloth."""

    a: Corner = (0.0, 0.0)
    b: Corner = (0.0, 100.0)
    kind: GrainKind = "along"
    tolerance: Annotated[float, Field(ge=0, le=90, allow_inf_nan=False)] = 0.0


class StoredCut(Frozen):
    """From which cloth, and how many."""

    cloth: Annotated[str, Field(pattern=r"^[a-z_]{1,40}$")] = "main"
    count: int = Field(default=1, ge=1, le=100)


class StoredPiece(Frozen):
    """A net piece with all that it carries; its edges in a closed round from ``start``, clockwise on the table."""

    id: Id
    label: Words
    start: Corner
    edges: Annotated[tuple[StoredEdge, ...], FailFast()] = Field(min_length=1, max_length=500)
    darts: tuple[StoredDart, ...] = Field(default=(), max_length=100)
    notches: tuple[StoredNotch, ...] = Field(default=(), max_length=500)
    features: tuple[StoredFeature, ...] = Field(default=(), max_length=500)
    grain: StoredGrain = StoredGrain()
    cuts: tuple[StoredCut, ...] = Field(default=(StoredCut(),), min_length=1, max_length=10)
    pair: bool = False
    also: tuple[Id, ...] = Field(default=(), max_length=100)
    remark: Words = ""
    figures: tuple[StoredFigure, ...] = Field(default=(), max_length=200)
    zero: Label = "the top"
    role: Annotated[str, _known("a piece", PIECE_ROLES)] = ""
    covers: Covers = ""
    side: Side = ""
    down: Corner = (0.0, 1.0)
    source: Annotated[str, Field(pattern=r"^([bs][1-9][0-9]{0,8})?$"), AfterValidator(_numbered)] = ""

    @model_validator(mode="after")
    def _is_a_piece(self) -> StoredPiece:
        """Raises :class:`ValueError` where its edges can't be those of a piece."""
        at = start = complex(*self.start)
        known = {dart.id for dart in self.darts}
        for edge in self.edges:
            begins = at
            for part in edge.path:
                at = end_of(at, part)
            if edge.dart and edge.dart not in known:
                raise ValueError(say("the dart “{dart}” isn't described", dart=edge.dart))
            if edge.finish == "fold" and _bent(begins, edge.path):
                raise ValueError(say("the fold “{edge}” isn't straight", edge=edge.id))
        if abs(at - start) > CLOSED:
            raise ValueError(say("its outline does not end where it begins"))
        if legless := known - {edge.dart for edge in self.edges}:
            raise ValueError(say("the dart “{dart}” has no legs", dart=min(legless)))
        self._once_each()
        return self

    def _once_each(self) -> None:
        """Raises :class:`ValueError` where two edges of one name cover the same of it, or two things have one name."""
        covered: dict[tuple[str, bool], list[tuple[float, float]]] = {}
        for edge in self.edges:
            ref = reference(edge.id)
            ends = sorted((edge.pairs[0][1], edge.pairs[-1][1]))
            if not edge.dart:
                covered.setdefault((ref.name, ref.mirrored), []).append((ends[0], ends[1]))
        for (name, _), spans in covered.items():
            spans.sort()
            if any(low < high - SAME for (_, high), (low, _) in pairwise(spans)):
                raise ValueError(say("it has the edge “{edge}” twice", edge=name))
        for names in ([dart.id for dart in self.darts], [one.name for one in self.features]):
            if len(set(names)) != len(names):
                twice = next(name for n, name in enumerate(names) if name in names[:n])
                raise ValueError(say("two things on it are called “{name}”", name=twice))


def end_of(start: complex, part: Segment) -> complex:
    """Where a segment ends that begins at a point."""
    if len(part) == 3:
        centre = complex(part[0], part[1])
        return centre + (start - centre) * cmath.exp(1j * part[2])
    return complex(part[-2], part[-1])


def _bent(start: complex, path: tuple[Segment, ...]) -> bool:
    """Whether a path leaves the straight line between its ends."""
    points, at = [], start
    for part in path:
        points += [complex(x, y) for x, y in zip(part[::2], part[1::2], strict=False)] if len(part) != 3 else []
        at = end_of(at, part)
        points.append(at)
    chord = at - start
    if abs(chord) < SAME or any(len(part) == 3 for part in path):
        return True
    return any(abs(((point - start) * chord.conjugate()).imag) / abs(chord) > STRAIGHT for point in points)


# --- what belongs to several pieces ---------------------------------------------------------------


class StoredPart(Frozen):
    """A part of a seam's layer: edges, walked their way or against it, between two positions as they were drawn."""

    edge: Id
    backwards: bool = False
    low: Share = 0.0
    high: Share = 1.0


StoredLayer = Annotated[tuple[StoredPart, ...], Field(max_length=100)]


class StoredJoin(Frozen):
    """How a further layer meets the first one: mm for eased and pleated, a ratio for gathered and stretched."""

    kind: JoinKind = "plain"
    amount: float = Field(default=0.0, ge=-20_000, le=20_000, allow_inf_nan=False)
    let_in: float = Field(default=1.0, ge=0.01, le=100.0, allow_inf_nan=False)


class StoredSeam(Frozen):
    """A seam between pieces."""

    name: Id
    label: Words = ""
    layers: tuple[Annotated[StoredLayer, Field(min_length=1)], ...] = Field(min_length=2, max_length=6)
    joins: tuple[StoredJoin, ...] = Field(default=(StoredJoin(),), min_length=1, max_length=5)
    tolerance: float = Field(default=3.0, ge=0, le=1000, allow_inf_nan=False)
    corners: bool = False
    one_sided: bool = False
    sewn: Words = ""
    role: Annotated[str, Field(max_length=40)] = ""


class StoredShare(Frozen):
    """What a notion is as long as."""

    layer: StoredLayer
    times: Bounded = 1.0
    label: Words = ""


class StoredNotion(Frozen):
    """A thing to buy."""

    name: Name
    kind: NotionKind
    label: Words = ""
    along: tuple[StoredShare, ...] = Field(default=(), max_length=100)
    plus: tuple[tuple[Words, Bounded], ...] = Field(default=(), max_length=100)
    count: int = Field(default=1, ge=0, le=10_000)
    pack: Bounded = 0.0
    sold: tuple[Bounded, ...] = Field(default=(), max_length=200)


class StoredOpening(Frozen):
    """A part of an edge, or a line on a piece, that opens."""

    name: Name
    label: Words = ""
    edges: StoredLayer = ()
    around: Annotated[str, Field(max_length=40)] = ""
    slit: tuple[Id, Id] | None = None


class StoredRun(Frozen):
    """A promise's measurement of a run; ``worn``: counted as worn."""

    how: Literal["run"] = "run"
    ref: Id
    times: Bounded = 1.0
    worn: bool = False


class StoredGirth(Frozen):
    """A promise's measurement of a level of every piece of one source."""

    how: Literal["girth"] = "girth"
    level: Name
    times: Bounded = 1.0
    source: Annotated[str, Field(pattern=r"^(b[1-9][0-9]{0,8}_)?$")] = ""


class StoredAcross(Frozen):
    """A promise's measurement of a line of one piece."""

    how: Literal["across"] = "across"
    piece: Id
    feature: Id
    times: Bounded = 1.0


class StoredFromFold(Frozen):
    """A promise's measurement of how far a place is from the fold, for both halves."""

    how: Literal["from_fold"] = "from_fold"
    piece: Id
    spot: StoredSpot
    times: Bounded = 1.0


StoredMeasurement = Annotated[StoredRun | StoredGirth | StoredAcross | StoredFromFold, Field(discriminator="how")]


class StoredPromise(Frozen):
    """What the pattern promises: the measurements add up to the target (mm)."""

    name: Name
    label: Words = ""
    of: tuple[StoredMeasurement, ...] = Field(min_length=1, max_length=100)
    target: Bounded
    why: Words = ""
    kind: Literal["equal", "least"] = "equal"
    tolerance: float = Field(default=1.0, ge=0, le=1000, allow_inf_nan=False)


class StoredMotion(Frozen):
    """A turn (a unit, x and y), a shift (mm), and whether it is mirrored first."""

    turn: Corner = (1.0, 0.0)
    shift: Corner = (0.0, 0.0)
    mirror: bool = False


class StoredShown(Frozen):
    """How a piece stands in the line drawing."""

    view: Literal["front", "back"]
    piece: Id
    motion: StoredMotion = StoredMotion()
    both: bool = True
    clip: Corner | None = None
    squeeze: float = Field(default=1.0, gt=0, le=10, allow_inf_nan=False)
