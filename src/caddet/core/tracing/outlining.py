"""A tracing as pieces: the solved runs of a kind as named edges, with its levels and seams."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import cast

import numpy as np

from caddet.core.drafting.draft_piece import DraftPiece, as_piece
from caddet.core.errors import Finding, some
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Point, Segment
from caddet.core.pattern.edges import FINISHES, Edge, Finish
from caddet.core.pattern.features import Bit, End, Feature
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Seam, part
from caddet.core.recipe.registry import register_tracer
from caddet.core.recipe.traced import TapeTracing
from caddet.core.sentences import Length, say
from caddet.core.tracing.kinds import Shape, kind_named
from caddet.core.tracing.net import Points
from caddet.core.tracing.solving import Read, Solved, solve

STRAIGHT = 1e-6  # mm from the chord within which a run is a line
NEARLY = 0.05  # mm by which an outline may miss its beginning
NEAR = 1.0  # mm from an edge within which the end of a level lies on it
GRAIN_AT, GRAIN_FROM, GRAIN_TO = 0.35, 0.3, 0.75  # of the piece's width and height


def path_of(cubics: Points) -> Path:
    """A run of cubics (count, 4) as a path; what is straight as a line."""
    parts: list[Segment] = []
    for start, out, into, end in cubics:
        chord = end - start
        off = max(abs((chord.conjugate() * (p - start)).imag) for p in (out, into)) / max(abs(chord), 1e-9)
        ends = complex(start), complex(end)
        parts.append(Line(*ends) if off < STRAIGHT else Cubic(ends[0], complex(out), complex(into), ends[1]))
    return Path(tuple(parts))


def pieces_of(solved: Solved) -> Pattern:
    """The pieces and seams of a solved kind."""
    seams = tuple(
        Seam(seam.name, seam.label, ((part(seam.a),), (part(seam.b, backwards=seam.against),)), corners=seam.corners)
        for seam in solved.kind.seams
    )
    return Pattern(tuple(_piece(solved, shape) for shape in solved.shapes), seams)


def traced_piece(
    name: str,
    label: str,
    edges: Sequence[tuple[str, Path, str]],
    pair: bool,
    levels: Sequence[tuple[str, Point, Point]] = (),
) -> Piece:
    """A piece of edges (own name, path, what becomes of it) end to end, its grain straight down where it is widest.

    ``levels``: own name and ends (mm); an end on no edge stays where it is. Raises :class:`CaddetError` when an edge has
    no length.
    """
    paths = _end_to_end([path for _, path, _ in edges])
    corners = np.array([segment.end for path in paths for segment in path.segments])
    left, right, top, low = corners.real.min(), corners.real.max(), corners.imag.min(), corners.imag.max()
    x = float(left + (right - left) * GRAIN_AT)
    grain = (complex(x, top + (low - top) * GRAIN_FROM), complex(x, top + (low - top) * GRAIN_TO))
    made = tuple(
        Edge(own, path, cast(Finish, finish) if finish in FINISHES else "")
        for (own, _, finish), path in zip(edges, paths, strict=True)
    )
    piece = as_piece(DraftPiece(name, label, made, grain=grain, cut=2 if pair else 1, pair=pair))
    return replace(piece, features=tuple(_level(piece, *one) for one in levels))


def _end_to_end(paths: Sequence[Path]) -> list[Path]:
    """Paths each of which begins where the one before it ends, the last where the first begins."""
    found: list[Path] = []
    at = start = paths[0].start
    for path in paths:
        segments = list(path.segments)
        segments[0] = segments[0] if isinstance(segments[0], Arc) else replace(segments[0], start=at)
        found.append(Path(tuple(segments)))
        at = path.end
    last = found[-1].segments[-1]
    if 0 < abs(at - start) <= NEARLY and not isinstance(last, Arc):
        found[-1] = Path((*found[-1].segments[:-1], replace(last, end=start)))
    elif abs(at - start) > NEARLY:
        found[-1] = Path((*found[-1].segments, Line(at, start)))
    return found


def _level(piece: Piece, name: str, a: Point, b: Point) -> Feature:
    """A level between two places on the outline; an end that lies on no edge stays a point."""
    ends: list[End] = []
    for point in (a, b):
        key = min(piece.runs(), key=lambda run: piece.nearest_on_run(run, point)[0])
        off, along = piece.nearest_on_run(key, point)
        ends.append(piece.spot_at(key, along) if off < NEAR else point)
    return Feature("level", f"{piece.made}.{name}", name.replace("_", " "), (Bit(*ends),))


def _piece(solved: Solved, shape: Shape) -> Piece:
    edges = [(run.name, path_of(solved.curves[shape.name, run.name]), run.finish) for run in shape.runs]
    marks = solved.marks
    levels = [(level.name, marks[shape.name, level.a], marks[shape.name, level.b]) for level in shape.levels]
    return traced_piece(shape.name, shape.label, edges, shape.pair, levels)


def findings_of(solved: Solved, place: str) -> tuple[Finding, ...]:
    """What has to be said of the readings: those without which there is no shape, and those that don't fit the others."""
    found: list[Finding] = []
    if solved.missing:
        wanted, *rest = solved.missing
        words = say(
            "{label} is still to be measured; without it there is no shape. {how}", label=wanted.label, how=wanted.how
        )
        if rest:
            words = say(
                "{label} and {count} more are still to be measured; without them there is no shape: {others}.",
                label=wanted.label,
                count=len(rest),
                others=", ".join(one.label for one in rest),
            )
        found.append(Finding("trace.missing", words, f"{place}.{wanted.name}", "stops"))
    for group in solved.doubtful:
        first = group[0]
        found.append(Finding("trace.misread", _doubt(group), f"{place}.{first.reading.what}"))
    for read in solved.reads:
        values = read.reading.values
        if len(values) > 1 and max(values) - min(values) > max(10.0, 0.01 * max(values)):
            words = say(
                "{label} was read as {low} and as {high}; the middle is used. Measure it once more.",
                label=read.label,
                low=Length(min(values)),
                high=Length(max(values)),
            )
            found.append(Finding("trace.repeated", words, f"{place}.{read.reading.what}"))
    for reading in solved.strange:
        known = some(
            [*(one.name for one in solved.kind.asked), *(one.name for one in solved.kind.widths)], reading.what
        )
        words = (
            say(
                "{what} at {at} lies off the edge that it measures, and is left out.",
                what=reading.what,
                at=Length(reading.at),
            )
            if solved.kind.width(reading.what) is not None and reading.at is not None
            else say(
                "“{what}” is not measured on this garment; expected one of {known}.", what=reading.what, known=known
            )
        )
        found.append(Finding("trace.strange", words, f"{place}.{reading.what}"))
    return tuple(found)


def _doubt(group: tuple[Read, ...]) -> str:
    first = group[0]
    if len(group) > 1:
        return say(
            "{labels} don't agree; one of them is misread. Measure them again.",
            labels=", ".join(dict.fromkeys(read.label for read in group)),
        )
    wanted = Length(first.value - first.error)
    if not first.out:
        return say(
            "{label} {value} doesn't fit the other readings: they say about {wanted}. Measure it again.",
            label=first.label,
            value=Length(first.value),
            wanted=wanted,
        )
    return say(
        "{label} {value} doesn't fit the other readings: they say about {wanted}. It is left out until it is measured again.",
        label=first.label,
        value=Length(first.value),
        wanted=wanted,
    )


def by_tape(tracing: TapeTracing, place: str) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pieces of a garment measured with the tape. Raises :class:`CaddetError` for an unknown kind."""
    solved = solve(kind_named(tracing.kind), tracing.readings)
    findings = findings_of(solved, place)
    return (pieces_of(solved) if solved.whole else Pattern()), findings


register_tracer("tape", by_tape)
