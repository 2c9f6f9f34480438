"""A traced garment beside its wearer and beside a block; and where an altered garment is sewn."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

from caddet.core.body.kept import Liked
from caddet.core.body.known import known_measure
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Point, cross
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Girth
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.ease import usual_ease
from caddet.core.recipe.registry import BLOCKS
from caddet.core.sentences import say

LIMBS = ("thigh", "knee", "calf", "ankle", "upper_arm", "elbow", "wrist")  # there are two of each
PLACES = 5  # along an edge where it is said how far the new line lies
MOVED = 0.5  # mm


@dataclass(frozen=True, slots=True)
class Beside:
    """A girth of a garment beside the wearer's: measure code, both in mm, and what the block would add (None: not known)."""

    code: str
    garment: float
    body: float | None
    estimated: bool
    usual: float | None

    @property
    def ease(self) -> float | None:
        """How much more the garment has than the body, in mm."""
        return None if self.body is None else self.garment - self.body


def girths(pattern: Pattern) -> dict[str, float]:
    """The girths of a pattern at its levels, as worn, by measure code; of a limb that of one."""
    names = {f.role for piece in pattern.pieces for f in piece.features if f.kind == "level"}
    found: dict[str, float] = {}
    for code in MEASURES:
        if code not in names or MEASURES[code].kind != "girth":
            continue
        try:
            found[code] = Girth(code, 0.5 if code in LIMBS else 1.0).measured(pattern)
        except CaddetError:
            continue
    return found


def compared(pattern: Pattern, person: Person, block: str, cloth: Cloth) -> tuple[Beside, ...]:
    """Each girth beside the wearer's, and beside the ease that a block has there of itself."""
    levels = {level.measure: level for level in (BLOCKS[block].ease if block in BLOCKS else ())}
    rows = []
    for code, garment in girths(pattern).items():
        known = known_measure(person, code)
        level = levels.get(code)
        usual = usual_ease(level, "", known.value, cloth) if level is not None and known is not None else None
        guessed = known is not None and known.guess is not None
        rows.append(Beside(code, garment, known.value if known is not None else None, guessed, usual))
    return tuple(rows)


def as_liked(name: str, pattern: Pattern) -> Liked:
    """The garment as one that fits, to be kept with the person. Raises :class:`CaddetError` when it has no level."""
    found = girths(pattern)
    if not found:
        raise CaddetError(say("this garment has no level that could be compared with a body"))
    return Liked(name=name[:80], girths=found)


@dataclass(frozen=True, slots=True)
class SewAt:
    """Where the new line of an edge lies: so many mm along the old one, so many mm inside it (negative: outside)."""

    along: float
    inside: float


def lines_to_sew(before: Pattern, after: Pattern) -> Mapping[str, tuple[SewAt, ...]]:
    """For every edge that an alteration moved, by its key, where to sew now, measured from the old seam."""
    found: dict[str, tuple[SewAt, ...]] = {}
    kept = {piece.made: piece for piece in after.pieces}
    for piece in before.pieces:
        now = kept.get(piece.made)
        if now is None:
            continue
        for key in piece.runs():
            if key not in now.runs() or piece.run(key)[0].finish == "fold":
                continue
            rows = _apart(piece, now, key)
            if any(abs(row.inside) > MOVED for row in rows):
                found[key] = rows
    return found


def _apart(piece: Piece, now: Piece, key: str) -> tuple[SewAt, ...]:
    whole = piece.run_length(key)
    rows = []
    for n in range(PLACES):
        along = whole * n / (PLACES - 1)
        point, _, inward = _frame(piece, key, along)
        line = point - inward * 400, point + inward * 400
        hits = [hit for edge in now.run(key) for _, hit in edge.path.crossings(*line)]
        ends = [edge.path.start for edge in now.run(key)[:1]] + [edge.path.end for edge in now.run(key)[-1:]]
        nearest = min(hits or ends, key=lambda hit: abs(hit - point))
        by = nearest - point
        rows.append(SewAt(along, (by * inward.conjugate()).real))
    return tuple(rows)


def _frame(piece: Piece, key: str, along: float) -> tuple[Point, Point, Point]:
    """A point of a run, its direction there, and the direction into the piece."""
    left = along
    edges = piece.run(key)
    for edge in edges:
        if left <= edge.path.length + 1e-9 or edge is edges[-1]:
            at = min(max(left, 0.0), edge.path.length)
            way = edge.path.direction_at(min(max(at, 1e-6), edge.path.length - 1e-6))
            way /= abs(way)
            corners = [one.path.start for one in piece.edges]
            area = sum(cross(a, b) for a, b in pairwise([*corners, corners[0]]))
            return edge.path.point_at(at), way, way * (1j if area > 0 else -1j)
        left -= edge.path.length
    raise AssertionError("a run has edges")
