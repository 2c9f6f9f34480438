"""What a change does to lengths: every edge and level that is longer or shorter than before, where it stands."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.sentences import Length, Sentence, say

SAME = 0.5  # mm; less is not worth a word while a hand moves


@dataclass(frozen=True, slots=True)
class Change:
    """A length before and after (mm): its line now, and where the figure stands on it."""

    piece: str
    name: str
    before: float
    after: float
    lines: tuple[Path, ...]
    at: Point

    @property
    def words(self) -> Sentence:
        """``25.5 → 28.5``."""
        return say("{before} → {after}", before=Length(self.before, bare=True), after=Length(self.after, bare=True))


def changes(before: Pattern, after: Pattern) -> tuple[Change, ...]:
    """The edges and levels whose length is another, the largest change first. New pieces have none."""
    old = {piece.name: piece for piece in before.pieces}
    found = [one for piece in after.pieces if piece.name in old for one in _of(old[piece.name], piece)]
    return tuple(sorted(found, key=lambda one: -abs(one.after - one.before)))


def _of(before: Piece, after: Piece) -> list[Change]:
    if before is after:
        return []
    made = []
    runs = set(before.runs())
    for key in after.runs():
        if key in runs and abs((now := after.run_length(key)) - (was := before.run_length(key))) > SAME:
            at, _, _ = after.run_point(key, now / 2)
            made.append(Change(after.name, key, was, now, tuple(edge.path for edge in after.run(key)), at))
    levels = {feature.name: feature for feature in before.features if feature.kind == "level"}
    for feature in after.features:
        if feature.name in levels and feature.kind == "level":
            try:
                now_lines, was_lines = after.drawn(feature), before.drawn(levels[feature.name])
            except CaddetError:
                continue
            now, was = (sum(line.length for line in lines) for lines in (now_lines, was_lines))
            if now_lines and abs(now - was) > SAME:
                middle = (now_lines[0].start + now_lines[-1].end) / 2
                made.append(Change(after.name, feature.name, was, now, tuple(now_lines), middle))
    return made
