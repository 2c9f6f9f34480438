"""What is looked at on single pieces before cloth is cut: dart legs, grain, halves, notches, straight and level lines.

Tolerances are common practice, no source, where none is named.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, cross, unit
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam
from caddet.core.sentences import Length, Sentence, say
from caddet.core.truing.notches import APART, lonely, marks, pairs

LEGS = 1.0  # mm by which the legs of a dart may differ
TURNED = 1.0  # degree by which the grain may be off the fold or level lines
BENT = (1.0, 5.0)  # mm off the straight between which a line is taken to be meant straight
MEETING = 2.0  # mm within which lines that meet across a seam do
NEARLY = 20.0  # mm within which they are taken to be meant to
ALIKE = 0.12  # share by which two edges may differ and are still taken for each other
SAME = 1e-3  # mm
HALVES = 3.0  # mm by which left and right may differ


@dataclass(frozen=True, slots=True)
class Trouble:
    """Something off on a piece or between two: its name, label, place, value against limit, and the step that mends it."""

    name: str
    label: str
    place: str
    value: float
    limit: float
    sentence: Sentence | str
    step: str = ""
    values: Mapping[str, Any] = field(default_factory=dict)
    remedy: str = ""


def troubles(pattern: Pattern, outlines: bool = False) -> Iterator[Trouble]:
    """Everything that is off; nothing on clean pieces. ``outlines``: pieces were traced or imported, not drafted."""
    for piece in pattern.pieces:
        yield from dart_legs(piece)
        yield from grain(piece, outlines)
        if outlines:
            yield from (one for one in bent_lines(piece) if not _cut_there(pattern, piece, one.place))
            yield from halves(piece)
        yield from turned_round(pattern, piece)
        yield from wavering_hems(piece)
    for seam in pattern.seams:
        try:
            yield from notches(pattern, seam)
            yield from meeting_lines(pattern, seam)
        except CaddetError:
            continue  # an edge of it is gone: the walk says so


def dart_legs(piece: Piece) -> Iterator[Trouble]:
    """Darts whose legs are not equally long."""
    for dart in piece.darts:
        lengths: dict[str, float] = {}
        for edge in piece.edges:
            if edge.dart == dart.id:
                lengths[edge.name] = lengths.get(edge.name, 0.0) + edge.path.length
        if len(lengths) == 2:
            a, b = lengths.values()
            if abs(a - b) > LEGS:
                yield Trouble(
                    f"{dart.id}.legs",
                    say("{piece}: legs of the {dart}", piece=piece.label, dart=dart.label),
                    dart.id,
                    abs(a - b),
                    LEGS,
                    say("One leg is {by} longer than the other: sewn, the edge jogs there.", by=Length(abs(a - b))),
                    "dart_even",
                    {"dart": (dart.id,)},
                    say("Make both legs equal"),
                )


def grain(piece: Piece, outlines: bool = True) -> Iterator[Trouble]:
    """A grain line that is turned against the fold; of outlines, against the level lines too, which no step has turned."""
    along = piece.grain.b - piece.grain.a
    lines = [edge.path.end - edge.path.start for edge in piece.edges if edge.finish == "fold"]
    lines += [
        (line.end - line.start) * 1j
        for feature in piece.features
        if outlines and feature.kind == "level" and not lines and len(feature.bits) == 1
        for line in piece.drawn(feature)
    ]
    wanted = {"along": 0.0, "across": 90.0, "bias": 45.0}.get(piece.grain.kind)
    if wanted is None or not lines or abs(along) < 1e-9:
        return
    turned = min(abs(abs(math.degrees(cmath.phase(along / line))) % 90 - wanted % 90) for line in lines)
    turned = min(turned, abs(90 - turned)) if wanted in (0.0, 90.0) else turned
    if TURNED + piece.grain.tolerance < turned < 20.0:
        yield Trouble(
            f"{piece.name}.grain",
            say("{piece}: grain", piece=piece.label),
            piece.name,
            turned,
            TURNED,
            say("The grain line is {by}° off: cut so, the piece twists as it is worn.", by=f"{turned:.0f}"),
            "grain_even",
            {"pieces": (piece.name,)},
            say("Turn the grain line straight"),
        )


def straying(path: Path) -> float:
    """How far a path strays from the straight line between its ends, in mm."""
    a, b = path.start, path.end
    if abs(b - a) < 1e-9:
        return 0.0
    return max(abs(cross(unit(b - a), point - a)) for point in path.flattened(0.05))


def bent_lines(piece: Piece) -> Iterator[Trouble]:
    """Lines of a traced outline that are nearly straight, and folds that are not."""
    for key in piece.runs():
        edges = piece.run(key)
        if len(edges) != 1 or edges[0].finish == "hem":  # a hem is curved on purpose
            continue
        path = edges[0].path
        off = straying(path)
        waves = _waves(path)
        low = 0.1 if edges[0].finish == "fold" else BENT[0]
        if (
            path.length > 60
            and low < off < BENT[1]
            and (waves > 0 or edges[0].finish == "fold" or off < path.length / 250)
        ):
            run = own_name(key).replace("_", " ")
            yield Trouble(
                f"{key}.straight", say("{piece}: {run}", piece=piece.label, run=run), key, off, BENT[0],
                say("The {run} is nearly straight but strays by {by}: a slip of the pencil is cut as it is drawn.", run=run, by=Length(off)),
                "fair", {"edges": (key,), "how": "straight"}, say("Draw the {run} straight", run=run),
            )  # fmt: skip


def _cut_there(pattern: Pattern, piece: Piece, key: str) -> bool:
    """Whether an edge lies along the one it is sewn to: they were cut apart there, along a line that was meant."""
    path = piece.run(key)[0].path
    middle = path.point_at(path.length / 2)
    for seam in pattern.seams:
        try:
            sewn = [one for layer in seam.layers for one in pattern.layer_fragments(layer)]
        except CaddetError:
            continue  # an edge of it is gone: the walk says so
        if any(one.piece is piece and one.edge.name == key for one in sewn) and any(
            one.piece is not piece and one.edge.path.nearest(middle)[0] < SAME for one in sewn
        ):
            return True
    return False


def _waves(path: Path) -> int:
    """How often a path turns from bending one way to bending the other."""
    points = path.flattened(0.05)
    bends = [cross(b - a, c - b) for a, b, c in zip(points, points[1:], points[2:], strict=False)]
    signs = [bend > 0 for bend in bends if abs(bend) > 1e-6]
    return sum(a != b for a, b in pairwise(signs))


BEND, DIP = math.radians(1.5), 5.0  # a bend that is seen in a hem, and by how many mm it then dips or rises


def wavering_hems(piece: Piece) -> Iterator[Trouble]:
    """Hems that bend one way, back and again between their ends: worn, they dip or rise there. Two bends draw an S, as in
    a longer back, and one the arc of a flare.
    """
    for key in piece.runs():
        edges = piece.run(key)
        if edges[0].finish != "hem" or any(edge.dart for edge in edges) or len(edges) != 1:
            continue
        path = edges[0].path
        spots = [path.point_at(path.length * n / 48) for n in range(49)]
        bends: list[float] = []
        for a, b, c in zip(spots, spots[1:], spots[2:], strict=False):
            turn = cmath.phase((c - b) / (b - a))
            if bends and bends[-1] * turn >= 0:
                bends[-1] += turn
            else:
                bends.append(turn)
        seen = [turn for turn in bends if abs(turn) > BEND]
        off = straying(path)
        if len(seen) >= 3 and off > DIP:
            yield Trouble(
                f"{key}.dips",
                say("{piece}: the {hem} dips", piece=piece.label, hem=edges[0].own.replace("_", " ")),
                key,
                off,
                DIP,
                say(
                    "Between its ends it leaves an even line by {off}: worn, the hem dips or rises there.",
                    off=Length(off),
                ),
            )


def halves(piece: Piece) -> Iterator[Trouble]:
    """Left and right edges of a whole piece that are not equally long."""
    runs = {own_name(key): key for key in piece.runs()}
    for own, key in runs.items():
        other = runs.get(own.replace("left", "right")) if "left" in own else None
        if other is None:
            continue
        a, b = piece.run_length(key), piece.run_length(other)
        if abs(a - b) > HALVES:
            yield Trouble(
                f"{piece.name}.{own}.halves", say("{piece}: left against right", piece=piece.label), key, abs(a - b), HALVES,
                say("The {own} is {by} {word} than its counterpart.", own=own.replace("_", " "), by=Length(abs(a - b)), word="longer" if a > b else "shorter"),
                "halves_even", {"edges": (key, other)}, say("Make both halves equal"),
            )  # fmt: skip


def notches(pattern: Pattern, seam: Seam) -> Iterator[Trouble]:
    """Notches that miss their partner, are of another kind, or have none."""
    there, label = bool(marks(pattern, seam.layers[0])), seam.label.lower()
    alone = say("A notch of the {seam} has no partner on the other side.", seam=label)
    for layer in range(1, len(seam.layers)):
        for pair in pairs(pattern, seam, layer):
            first, other = pair.first, pair.other
            if other is None:
                if marks(pattern, seam.layers[layer]) and not first.notch.name:
                    yield _notch(seam, first.at, 0.0, alone, first.notch.edge)
            elif pair.off:
                by = abs(other.at - pair.wanted)
                words = say(
                    "The {name} marks of the {seam} miss each other by {by}.",
                    name=first.notch.name or say("notch"),
                    seam=label,
                    by=Length(by),
                )
                yield _notch(seam, first.at, by, words, other.notch.edge)
            elif pair.unlike:
                words = say(
                    "A single notch of the {seam} meets a double one: the pieces are then sewn the wrong way round.",
                    seam=label,
                )
                yield _notch(seam, first.at, 0.0, words, other.notch.edge)
        for mark in lonely(pattern, seam, layer) if there else ():
            yield _notch(seam, mark.at, 0.0, alone, mark.notch.edge)


def _notch(seam: Seam, at: float, value: float, sentence: Sentence | str, place: str) -> Trouble:
    return Trouble(
        f"{seam.name}.notch.{at:.0f}",
        say("{seam}: notches", seam=seam.label),
        place,
        value,
        APART,
        sentence,
        "notches_even",
        {"seam": (seam.name,)},
        say("Put the notches where they meet"),
    )


def turned_round(pattern: Pattern, piece: Piece) -> Iterator[Trouble]:
    """Two edges that meet in a corner and go into different seams, with notches alike: the piece can be turned over
    and sewn the wrong way round, and nothing tells."""
    number = next(n for n, one in enumerate(pattern.pieces) if one is piece)
    sewn = pattern.sewn()
    count = len(piece.edges)
    for index, edge in enumerate(piece.edges):
        after = piece.edges[(index + 1) % count]
        if edge.dart or after.dart or edge.name == after.name:
            continue
        seams = [{seam.name for seam, _ in sewn.get((number, i % count), [])} for i in (index, index + 1)]
        if not all(seams) or seams[0] & seams[1]:
            continue
        lengths = edge.path.length, after.path.length
        if abs(lengths[0] - lengths[1]) > ALIKE * max(lengths):
            continue
        before, behind = _from_corner(piece, index, at_end=True), _from_corner(piece, (index + 1) % count, at_end=False)
        if (
            before
            and len(before) == len(behind)
            and all(abs(a[0] - b[0]) <= APART and a[1] == b[1] for a, b in zip(before, behind, strict=True))
        ):
            yield Trouble(
                f"{piece.name}.{after.own}.turned", say("{piece}: notches", piece=piece.label), after.name, 0.0, 0.0,
                say("The notches of {one} and {two} are alike: the {piece} can be sewn in the wrong way round.", one=edge.own.replace("_", " "), two=after.own.replace("_", " "), piece=piece.label.lower()),
                "notch_double", {"edges": (after.name,)}, say("Make those of the {two} double", two=after.own.replace("_", " ")),
            )  # fmt: skip


def _from_corner(piece: Piece, index: int, *, at_end: bool) -> list[tuple[float, bool]]:
    """The notches of an edge as distances from its corner, with whether they are double."""
    edge = piece.edges[index]
    found = []
    for notch in piece.notches:
        share = edge.share_at(notch.u) if notch.edge == edge.name else None
        if share is not None and 2.0 < share * edge.path.length < edge.path.length - 2.0:
            found.append(((1 - share if at_end else share) * edge.path.length, notch.double))
    return sorted(found)


def meeting_lines(pattern: Pattern, seam: Seam) -> Iterator[Trouble]:
    """Darts and seams that end on both sides of a seam nearly at one place, but miss."""
    if len(seam.layers) != 2 or seam.kind != "plain":
        return
    first, other = (ends_on(pattern, seam, n) for n in (0, 1))
    for at, what, _ in first:
        near = min(other, key=lambda one, a=at: abs(one[0] - a), default=None)  # type: ignore[misc]
        if near is None or not MEETING < abs(near[0] - at) <= NEARLY:
            continue
        if min((abs(one[0] - near[0]) for one in first), default=0.0) < abs(near[0] - at) - 1e-6:
            continue  # another one meets it better
        dart = near[2]
        yield Trouble(
            f"{seam.name}.lines.{at:.0f}", say("{seam}: lines that meet", seam=seam.label), str(seam.b[0]), abs(near[0] - at), MEETING,
            say("Across the {seam} the {one} and the {two} miss each other by {by}.", seam=seam.label.lower(), one=what, two=near[1], by=Length(abs(near[0] - at))),
            "dart_slide" if dart else "", {"dart": (dart,), "meets": True} if dart else {}, say("Move the {two}", two=near[1]),
        )  # fmt: skip


def ends_on(pattern: Pattern, seam: Seam, layer: int) -> list[tuple[float, str, str]]:
    """Where darts and other seams end on a layer: mm along it, what it is called, and the dart's id."""
    found: list[tuple[float, str, str]] = []
    passed = 0.0
    fragments = pattern.layer_fragments(seam.layers[layer])
    for number, fragment in enumerate(fragments):
        passed += fragment.length
        if number == len(fragments) - 1:
            break
        after = fragments[number + 1]
        if fragment.piece is after.piece:
            piece, step = fragment.piece, -1 if fragment.backwards else 1
            beside = piece.edges[(fragment.index + step) % len(piece.edges)]
            if beside.dart:
                dart = next((one for one in piece.darts if one.id == beside.dart), None)
                found.append((passed, str(dart.label) if dart else say("dart"), beside.dart))
        else:
            found.append((passed, say("seam"), ""))
    return found


def hem_excess(piece: Piece, key: str, deep: float) -> float:
    """By how much a hem turned up so deep is longer (or, as a minus, shorter) than the line it lies on, in mm.

    The turned edge runs ``deep`` outside the hem line and comes to lie as far inside; both follow the curve.
    """
    excess = 0.0
    for edge in piece.run(key):
        turn = cmath.phase(edge.path.end_direction / edge.path.start_direction)
        excess += 2 * deep * turn
    return excess if clockwise(piece) else -excess


def clockwise(piece: Piece) -> bool:
    """Whether the outline runs clockwise on the table (y down)."""
    points: list[Point] = piece.polygon(0.5)
    return sum(cross(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)) > 0


def deepest_flat(piece: Piece, key: str, forgives: float = 0.03) -> float:
    """How deep a hem can be turned so that it lies flat: the excess is no more than a share of its length."""
    one = abs(hem_excess(piece, key, 1.0))
    length = piece.run_length(key)
    return math.inf if one < 1e-9 else forgives * length / one
