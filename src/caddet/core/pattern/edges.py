"""Edges: named parts of an outline, each knowing which part of the run, as its maker drew it, it is."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal, get_args

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.pattern.ids import id_of, other_side, own_name
from caddet.core.pattern.roles import role_of_edge

# an edge that is in no seam has one of these; "raw" needs a reason, and so has "joined":
# it is sewn to something that is not in this pattern
Finish = Literal["", "hem", "facing", "binding", "casing", "band", "turned", "opening", "slit", "joined", "raw", "fold"]
FINISHES: tuple[str, ...] = get_args(Finish)
WHOLE: tuple[tuple[float, float], ...] = ((0.0, 0.0), (1.0, 1.0))
SAME = 1e-9  # two positions on an edge that are one


@dataclass(frozen=True, slots=True)
class Edge:
    """A named part of an outline, in outline order.

    ``name`` is its key (``front.side``; of the other side's, with a stroke), ``marks`` what steps left on it,
    ``finish`` what becomes of it when it is in no seam, ``why`` the reason of a raw or joined one, ``dart`` the id of the
    dart it is a leg of. ``pairs`` are (share of this path now, position on the edge as its maker drew it), in
    the order of the path: they go down where the outline runs against the maker's direction. ``allowance`` is what the
    block asks for here (mm) where that is not the usual one for its finish. ``role`` is what it is (side, armhole, hem …:
    :mod:`.roles`); where its maker says nothing, its name tells.
    """

    name: str
    path: Path
    finish: Finish = ""
    dart: str = ""
    marks: frozenset[str] = frozenset()
    pairs: tuple[tuple[float, float], ...] = WHOLE
    why: str = ""
    allowance: float | None = None
    role: str = ""

    def __post_init__(self) -> None:
        if not self.role and not self.dart:
            object.__setattr__(self, "role", role_of_edge(self.name))

    @property
    def id(self) -> str:
        """Key and marks as text."""
        return id_of(self.name, self.marks)

    @property
    def own(self) -> str:
        """The last part of its name: ``side``."""
        return own_name(self.name)

    @property
    def low(self) -> float:
        """The least position it covers."""
        return min(self.pairs[0][1], self.pairs[-1][1])

    @property
    def high(self) -> float:
        """The greatest position it covers."""
        return max(self.pairs[0][1], self.pairs[-1][1])

    @property
    def backwards(self) -> bool:
        """Whether the outline runs against the maker's direction here."""
        return self.pairs[0][1] > self.pairs[-1][1]

    @property
    def walked(self) -> Path:
        """The path in the maker's direction."""
        return self.path.reversed() if self.backwards else self.path

    def with_path(self, path: Path) -> Edge:
        """The edge on another path; positions keep their shares."""
        return Edge(
            self.name, path, self.finish, self.dart, self.marks, self.pairs, self.why, self.allowance, self.role
        )

    def u_at(self, share: float) -> float:
        """The position at a share of this path (0 to 1, clamped)."""
        if len(self.pairs) == 2:
            (_, a), (_, b) = self.pairs
            return a + (b - a) * min(max(share, 0.0), 1.0)
        for (s, a), (t, b) in pairwise(self.pairs):
            if share <= t:
                return a if t <= s else a + (b - a) * min(max((share - s) / (t - s), 0.0), 1.0)
        return self.pairs[-1][1]

    def share_at(self, u: float) -> float | None:
        """The first share at which a position lies; None when it is not on this edge."""
        for (s, a), (t, b) in pairwise(self.pairs):
            if min(a, b) - SAME <= u <= max(a, b) + SAME:
                return s if abs(b - a) <= SAME else s + (t - s) * min(max((u - a) / (b - a), 0.0), 1.0)
        return None

    def reversed(self) -> Edge:
        """The edge run the other way; its positions stay where they are."""
        pairs = tuple((1.0 - share, u) for share, u in reversed(self.pairs))
        return replace(self, path=self.path.reversed(), pairs=pairs)

    def moved(self, motion: Motion) -> Edge:
        """The edge moved rigidly; after a mirror image it runs the other way round."""
        return self.with_path(self.path.moved(motion))

    def marked(self, *marks: str) -> Edge:
        """The edge with more marks."""
        marked = self.marks.union(marks)
        return Edge(
            self.name, self.path, self.finish, self.dart, marked, self.pairs, self.why, self.allowance, self.role
        )

    def counterpart(self) -> Edge:
        """The same edge as the other side's."""
        return replace(self, name=other_side(self.name), dart=_other_dart(self.dart))

    def split_at(self, length: float) -> tuple[Edge | None, Edge | None]:
        """The parts before and after a distance along the path, in mm; a part of no length is None."""
        before, after = self.path.split_at(length)
        if before is None or after is None:
            return (self if before is not None else None), (self if after is not None else None)
        share = length / self.path.length
        u = self.u_at(share)
        first = [(s / share, v) for s, v in self.pairs if s < share - SAME]
        second = [((s - share) / (1 - share), v) for s, v in self.pairs if s > share + SAME]
        return (
            replace(self, path=before, pairs=(*first, (1.0, u))),
            replace(self, path=after, pairs=((0.0, u), *second)),
        )

    def let_in(self, path: Path, *, at_end: bool) -> Edge:
        """The edge with cloth let in at one end of its path: the positions of what was there stay on it."""
        old, more = self.path.length, path.length
        if at_end:
            share = old / (old + more)
            pairs = (*((s * share, u) for s, u in self.pairs), (1.0, self.pairs[-1][1]))
            return replace(self, path=Path.join([self.path, path]), pairs=pairs)
        share = more / (old + more)
        pairs = ((0.0, self.pairs[0][1]), *((share + s * (1 - share), u) for s, u in self.pairs))
        return replace(self, path=Path.join([path, self.path]), pairs=pairs)


def _other_dart(dart: str) -> str:
    return other_side(dart) if dart else ""
