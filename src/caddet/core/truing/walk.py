"""Walking a seam: one layer is rolled along another at the stitch line.

Both layers are laid out as one chain of paths each; where the first has been walked s mm, the other lies so that
the two touch there with the same direction. Notches divide each layer into stretches.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.fragments import Fragment
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Layer, Seam
from caddet.core.truing.notches import marks

Verdict = Literal["meets", "eased", "gathered", "pleated", "stretched", "off"]


@dataclass(frozen=True, slots=True)
class Stop:
    """A notch, a part's end or a dart met while walking, ``at`` mm along its layer."""

    at: float
    name: str


@dataclass(frozen=True, slots=True)
class NotchInterval:
    """The two lengths between one pair of stops and the next, in mm."""

    until: str
    a: float
    b: float


@dataclass(frozen=True, slots=True)
class Walk:
    """A walked seam: lengths in mm, stretches between notches, verdict, and by how much it is off.

    ``layer`` is the number of the layer that was walked along the first.
    """

    seam: Seam
    length_a: float
    length_b: float
    stretches: tuple[NotchInterval, ...]
    off: float
    verdict: Verdict
    layer: int = 1

    @property
    def wanted(self) -> float:
        """How long the further layer is meant to be, in mm."""
        return self.seam.joins[self.layer - 1].wanted(self.length_a)

    @property
    def holds(self) -> bool:
        """Whether the layers meet as they are meant to."""
        return self.verdict != "off"

    @property
    def pace(self) -> float:
        """How far the further layer is walked for each mm of the first: 1 where they are sewn edge to edge."""
        plain = self.seam.joins[self.layer - 1].kind == "plain"
        return 1.0 if plain or self.length_a < 1e-9 else self.length_b / self.length_a

    def running(self) -> list[tuple[float, float, str]]:
        """The running difference: share of the first layer, further less wanted so far (mm), and the notch there."""
        ratio = self.wanted / self.length_a if self.length_a else 1.0
        found, a, b = [(0.0, 0.0, "")], 0.0, 0.0
        for part in self.stretches:
            a, b = a + part.a, b + part.b
            name = part.until if part is not self.stretches[-1] else ""
            found.append((a / self.length_a if self.length_a else 1.0, b - a * ratio, name))
        return found


def walk(pattern: Pattern, seam: Seam, layer: int = 1) -> Walk:
    """Compare a further layer of a seam with the first along their stitch lines.

    Raises :class:`CaddetError` when an edge of it is gone.
    """
    length_a, length_b = pattern.length(seam.layers[0]), pattern.length(seam.layers[layer])
    join = seam.joins[layer - 1]
    off = length_b - join.wanted(length_a)
    good: Verdict = "meets" if join.kind == "plain" else join.kind
    stops_a, stops_b = stops(pattern, seam.layers[0]), stops(pattern, seam.layers[layer])
    stretches = []
    last_a = last_b = 0.0
    for here in stops_a:
        there = next((stop for stop in stops_b if stop.name == here.name and stop.at > last_b - 1e-6), None)
        if there is not None:
            stretches.append(NotchInterval(here.name, here.at - last_a, there.at - last_b))
            last_a, last_b = here.at, there.at
    stretches.append(NotchInterval("end", length_a - last_a, length_b - last_b))
    verdict = good if abs(off) <= seam.tolerance else "off"
    return Walk(seam, length_a, length_b, tuple(stretches), off, verdict, layer)


def stops(pattern: Pattern, layer: Layer) -> list[Stop]:
    """The notches of a layer in walking order, and where it goes from one part to the next."""
    found = [Stop(mark.at, mark.notch.name or "notch") for mark in marks(pattern, layer)]
    passed = 0.0
    last: Fragment | None = None
    for part in layer:
        fragments = pattern.fragments(part)
        if last is not None and fragments:
            found.append(Stop(passed, _between(pattern, last, fragments[0])))
        for fragment in fragments:
            passed += fragment.length
            last = fragment
    return sorted(found, key=lambda stop: stop.at)


def _between(pattern: Pattern, one: Fragment, other: Fragment) -> str:
    """What lies where one part of a layer goes over into the next: the fold, or the seam that joins them."""
    if one.piece is other.piece and one.piece.fold:
        return own_name(one.piece.fold).replace("_", " ")
    for seam in pattern.seams:
        pieces = [{f.piece.name for part in layer for f in pattern.fragments(part)} for layer in seam.layers]
        ends = one.piece.name, other.piece.name
        if len(pieces) == 2 and any(a in pieces[0] and b in pieces[1] for a, b in (ends, ends[::-1])):
            return own_name(seam.name).replace("_", " ")
    return "join"


def unrolled(layer: Sequence[Fragment]) -> Path:
    """A layer as one smooth-running path: each further part laid on where the last one ends, in line.

    Darts are closed by it: the parts of a waist run on as they will when the darts are sewn.
    """
    parts: list[Path] = []
    for fragment in layer:
        path = fragment.path()
        if parts:
            turn = parts[-1].end_direction / path.start_direction
            turn /= abs(turn)
            path = path.moved(Motion(turn, parts[-1].end - turn * path.start))
        parts.append(path)
    return Path.join(parts)


@dataclass(frozen=True, slots=True)
class Roll:
    """One layer laid against another after ``at`` mm of seam: how each piece moves, and where they touch."""

    place_a: Motion
    place_b: Motion
    touch: Point
    part_a: Fragment
    part_b: Fragment


def roll(pattern: Pattern, seam: Seam, at: float, layer: int = 1, pace: float = 1.0) -> Roll:
    """Where a further layer lies when ``at`` mm of the first have been walked, and ``pace`` times as many of it.

    The first lies as drafted (or mirrored where its other half is meant); the other is turned so that the stitch
    lines touch and run the same way at that point, and lies on the other side of the line.
    """
    first, other = pattern.layer_fragments(seam.layers[0]), pattern.layer_fragments(seam.layers[layer])
    part_a, along_a = _part_at(first, at)
    part_b, along_b = _part_at(other, at * pace)
    flip_a = Motion(mirror=True) if part_a.imagined else Motion()
    flip_b = Motion(mirror=True) if part_b.imagined else Motion()
    pa, da = part_a.path().point_at(along_a), part_a.path().direction_at(along_a)
    pb, db = part_b.path().point_at(along_b), part_b.path().direction_at(along_b)
    # both outlines run clockwise, so walked the same way they lie on the same side: the other is turned over
    if (part_a.backwards == part_a.imagined) == (part_b.backwards == part_b.imagined):
        over = Motion(mirror=True)
        flip_b, pb, db = over.after(flip_b), over(pb), db.conjugate()
    turn = da / db
    turn /= abs(turn)
    return Roll(flip_a, Motion(turn, pa - turn * pb).after(flip_b), pa, part_a, part_b)


def _part_at(layer: Sequence[Fragment], at: float) -> tuple[Fragment, float]:
    left = max(at, 0.0)
    for fragment in layer:
        if left <= fragment.length or fragment is layer[-1]:
            return fragment, min(left, fragment.length)
        left -= fragment.length
    raise AssertionError("unreachable: a layer has parts")
