"""Walking a seam: side B is rolled along side A at the stitch line.

Both sides are laid out as one chain of paths each; where A has been walked s mm, B lies so that the
two touch there with the same direction. Notches divide each side into stretches.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import EdgeRef, Seam

Verdict = Literal["meets", "eased", "gathered", "pleated", "stretched", "off"]


@dataclass(frozen=True, slots=True)
class Stop:
    """A notch, a part's end or a dart met while walking, ``at`` mm along its side."""

    at: float
    name: str


@dataclass(frozen=True, slots=True)
class Stretch:
    """The two lengths between one pair of stops and the next, in mm."""

    until: str
    a: float
    b: float


@dataclass(frozen=True, slots=True)
class Walk:
    """A walked seam: lengths in mm, stretches between notches, verdict, and by how much it is off."""

    seam: Seam
    length_a: float
    length_b: float
    stretches: tuple[Stretch, ...]
    off: float
    verdict: Verdict

    @property
    def holds(self) -> bool:
        return self.verdict != "off"


def walk(pattern: Pattern, seam: Seam) -> Walk:
    """Compare the two sides of a seam along their stitch lines."""
    length_a, length_b = seam.length_a(pattern), seam.length_b(pattern)
    off = length_b - seam.wanted_b(length_a)
    good: Verdict = "meets" if seam.kind == "plain" else seam.kind
    stops_a, stops_b = stops(pattern, seam.a), stops(pattern, seam.b)
    stretches = []
    last_a = last_b = 0.0
    for here in stops_a:
        there = next((stop for stop in stops_b if stop.name == here.name and stop.at > last_b - 1e-6), None)
        if there is not None:
            stretches.append(Stretch(here.name, here.at - last_a, there.at - last_b))
            last_a, last_b = here.at, there.at
    stretches.append(Stretch("end", length_a - last_a, length_b - last_b))
    return Walk(seam, length_a, length_b, tuple(stretches), off, good if abs(off) <= seam.tolerance else "off")


def stops(pattern: Pattern, side: Sequence[EdgeRef]) -> list[Stop]:
    """The notches of a side in walking order, and the joins of its pieces (named after the seams)."""
    found: list[Stop] = []
    passed = 0.0
    for index, ref in enumerate(side):
        piece = pattern.piece(ref.piece)
        length = piece.run_length(ref.run)
        for notch in piece.notches:
            if notch.run == ref.run:
                found.append(Stop(passed + (length - notch.at if ref.backwards else notch.at), notch.name or "notch"))
        passed += length
        if index + 1 < len(side):
            found.append(Stop(passed, _between(pattern, ref, side[index + 1])))
    return sorted(found, key=lambda stop: stop.at)


def _between(pattern: Pattern, ref: EdgeRef, after: EdgeRef) -> str:
    """The name of what lies where one part of a side goes over into the next."""
    if ref.piece == after.piece:
        piece = pattern.piece(ref.piece)
        return (piece.fold or piece.anchor or "join").replace("_", " ")
    runs, other = set(pattern.piece(ref.piece).runs()), set(pattern.piece(after.piece).runs())
    shared = (runs & other) - {ref.run, after.run, "hem"}
    return next(iter(sorted(shared)), "join").replace("_", " ")


def unrolled(pattern: Pattern, side: Sequence[EdgeRef]) -> Path:
    """A side as one smooth-running path: each further part laid on where the last one ends, in line.

    Darts are closed by it: the parts of a waist run on as they will when the darts are sewn.
    """
    parts: list[Path] = []
    for ref in side:
        piece = pattern.piece(ref.piece)
        for path in _walked_parts(piece, ref):
            if parts:
                turn = parts[-1].end_direction / path.start_direction
                turn /= abs(turn)
                path = path.moved(Motion(turn, parts[-1].end - turn * path.start))
            parts.append(path)
    return Path.join(parts)


def _walked_parts(piece: Piece, ref: EdgeRef) -> list[Path]:
    paths = [edge.path for edge in piece.run(ref.run)]
    if ref.mirrored:
        paths = [path.moved(Motion(mirror=True)) for path in paths]
    return [path.reversed() for path in reversed(paths)] if ref.backwards else paths


@dataclass(frozen=True, slots=True)
class Roll:
    """Piece B laid against piece A after ``at`` mm of seam: how each outline moves, and where they touch."""

    place_a: Motion
    place_b: Motion
    touch: Point
    part_a: EdgeRef
    part_b: EdgeRef
    along_a: float
    along_b: float


def roll(pattern: Pattern, seam: Seam, at: float) -> Roll:
    """Where B lies when ``at`` mm of side A have been walked (plain pace: B is walked as far).

    A lies as drafted (or mirrored where its half is meant); B is turned so that the stitch lines touch
    and run the same way at that point, and lies on the other side of the line.
    """
    at = min(max(at, 0.0), max(seam.length_a(pattern), seam.length_b(pattern)))
    ref_a, along_a = _part_at(pattern, seam.a, at)
    ref_b, along_b = _part_at(pattern, seam.b, at)
    point_a, direction_a = _contact(pattern, ref_a, along_a)
    point_b, direction_b = _contact(pattern, ref_b, along_b)
    # both outlines run clockwise, so walked the same way they lie on the same side: B is turned over
    flip_a = Motion(mirror=True) if ref_a.mirrored else Motion()
    flip_b = Motion(mirror=True) if ref_b.mirrored else Motion()
    pa, da = flip_a(point_a), flip_a(point_a + direction_a) - flip_a(point_a)
    pb, db = flip_b(point_b), flip_b(point_b + direction_b) - flip_b(point_b)
    side_a = _inner_side(ref_a)
    side_b = _inner_side(ref_b)
    if side_a == side_b:
        over = Motion(mirror=True)
        flip_b, pb, db = over.after(flip_b), over(pb), db.conjugate()
    turn = da / db
    turn /= abs(turn)
    return Roll(flip_a, Motion(turn, pa - turn * pb).after(flip_b), pa, ref_a, ref_b, along_a, along_b)


def _inner_side(ref: EdgeRef) -> bool:
    """Whether the cloth lies on the right of the walking direction."""
    return ref.backwards == ref.mirrored


def _part_at(pattern: Pattern, side: Sequence[EdgeRef], at: float) -> tuple[EdgeRef, float]:
    left = at
    for ref in side:
        length = pattern.piece(ref.piece).run_length(ref.run)
        if left <= length or ref is side[-1]:
            return ref, min(left, length)
        left -= length
    raise AssertionError("unreachable: a side has parts")


def _contact(pattern: Pattern, ref: EdgeRef, along: float) -> tuple[Point, Point]:
    piece = pattern.piece(ref.piece)
    length = piece.run_length(ref.run)
    point, direction, _ = piece.run_point(ref.run, length - along if ref.backwards else along)
    return point, -direction if ref.backwards else direction
