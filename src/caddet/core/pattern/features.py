"""What is drawn inside a piece: levels, fold lines, other lines, contour darts, pleats.

Every feature is made of points that are either a :class:`Spot` (a place on the outline, by name) or a point
in the piece's frame. A spot follows the outline wherever it goes; a frame point is carried by the verbs,
which move whatever lies in the part of the piece they move, and divide whatever they cut.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal, Protocol, get_args

from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.ids import id_of, other_side, own_name
from caddet.core.pattern.roles import role_of_dart


@dataclass(frozen=True, slots=True)
class Spot:
    """A place on the outline: an edge's key, and ``u``, the position on it as its maker drew it (0 to 1)."""

    edge: str
    u: float


End = Spot | Point


@dataclass(frozen=True, slots=True)
class Bit:
    """A straight line between two ends."""

    a: End
    b: End


class Resolver(Protocol):
    """Anything that says where an end lies now; a Piece does."""

    def where(self, end: End) -> Point:
        """The point of an end, in the piece's frame."""
        ...


FeatureKind = Literal[
    "level", "fold_line", "line", "contour_dart", "pleat", "placement", "buttonhole", "button", "drill"
]
FEATURE_KINDS: tuple[str, ...] = get_args(FeatureKind)


@dataclass(frozen=True, slots=True)
class Feature:
    """A feature of a piece.

    ``level``: bust, waist, hip … from outline to outline, in bits once it was cut or slashed. ``fold_line``: the
    piece is folded there. ``line``: any other line (a crease). ``contour_dart``: four bits, tip to side to tip to
    side. ``pleat``: two bits from the edge inwards; the cloth from the first to the second is folded away,
    ``towards`` the first or the second. ``placement``: where a part is sewn on top. ``buttonhole``: one bit, as long
    as the hole. ``button`` and ``drill``: small crosses where something is sewn on or a point is marked. ``role``: which
    level or line it is (bust, hip, band_fold …); where its maker says nothing, the last part of its name.
    """

    kind: FeatureKind
    name: str
    label: str
    bits: tuple[Bit, ...]
    towards: Literal["first", "second"] = "first"
    role: str = ""

    def __post_init__(self) -> None:
        if not self.role:
            object.__setattr__(self, "role", own_name(self.name))

    def each_point(self, change: Callable[[Point], Point]) -> Feature:
        """The feature with its frame points carried; spots follow the outline by themselves."""
        return replace(self, bits=tuple(Bit(_carried(bit.a, change), _carried(bit.b, change)) for bit in self.bits))

    def mirrored(self, motion: Motion) -> Feature:
        """The counterpart on the other side of the body."""

        def turned(end: End) -> End:
            return Spot(other_side(end.edge), end.u) if isinstance(end, Spot) else motion(end)

        name = self.name if self.kind == "level" else other_side(self.name)
        return replace(self, name=name, bits=tuple(Bit(turned(bit.a), turned(bit.b)) for bit in self.bits))


def _carried(end: End, change: Callable[[Point], Point]) -> End:
    return end if isinstance(end, Spot) else change(end)


@dataclass(frozen=True, slots=True)
class FigureLine:
    """Where a figure of the sums stands on a piece: the line that it measures."""

    figure: str
    bit: Bit


@dataclass(frozen=True, slots=True)
class Notch:
    """A balance mark across an edge, at a place on it."""

    edge: str
    u: float
    double: bool = False
    name: str = ""


@dataclass(frozen=True, slots=True)
class Dart:
    """A dart. Its legs stand in the outline as the edges of its ``id``; pressed towards one of them.

    ``role``: what it takes in (bust, waist, shoulder, neck, elbow); where its maker says nothing, its name tells.
    """

    name: str
    label: str = "dart"
    pressed: Literal["first", "second"] = "first"
    marks: frozenset[str] = frozenset()
    role: str = ""

    def __post_init__(self) -> None:
        if not self.role:
            object.__setattr__(self, "role", role_of_dart(self.name))

    @property
    def id(self) -> str:
        """Key and marks as text, as its legs carry it."""
        return id_of(self.name, self.marks)
