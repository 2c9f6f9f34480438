"""A tracing as outlines of the document: the solved runs of a kind as named edges, with its levels and seams."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from caddet.core.errors import Finding, some
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Segment
from caddet.core.recipe.entries import Outline, OutlineEdge, OutlineLevel, OutlinePart, OutlineSeam, OutlineSource
from caddet.core.recipe.registry import register_tracer
from caddet.core.recipe.traced import TapeTracing
from caddet.core.sentences import Length, say
from caddet.core.tracing.kinds import Shape, kind_named
from caddet.core.tracing.net import Points
from caddet.core.tracing.solving import Read, Solved, solve

STRAIGHT = 1e-6  # mm from the chord within which a run is a line
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


def outlines_of(solved: Solved) -> OutlineSource:
    """The pieces and seams of a solved kind."""
    return OutlineSource(
        label=solved.kind.label,
        outlines=tuple(_outline(solved, shape) for shape in solved.shapes),
        seams=tuple(
            OutlineSeam(
                name=seam.name, label=seam.label, corners=seam.corners,
                layers=((OutlinePart(edge=seam.a),), (OutlinePart(edge=seam.b, backwards=seam.against),)),
            )
            for seam in solved.kind.seams
        ),
    )  # fmt: skip


def outline_edge(name: str, path: Path, finish: str) -> OutlineEdge:
    """A path as an edge of an outline, with what becomes of it."""
    segments = tuple(
        (part.end.real, part.end.imag)
        if isinstance(part, Line)
        else tuple(v for p in (part.out, part.into, part.end) for v in (p.real, p.imag))
        for part in path.segments
        if isinstance(part, Line | Cubic)
    )
    role = finish if finish in ("hem", "fold") else "edge" if finish else "seam"
    return OutlineEdge(name=name, role=role, finish=finish if role == "edge" else "", segments=segments)


def closed_outline(
    name: str, label: str, edges: Sequence[OutlineEdge], start: complex, pair: bool, levels: Sequence[OutlineLevel] = ()
) -> Outline:
    """An outline of edges that begins at a point (mm), its grain straight down where the piece is widest."""
    corners = np.array([complex(*part[-2:]) for edge in edges for part in edge.segments])
    left, right, top, low = corners.real.min(), corners.real.max(), corners.imag.min(), corners.imag.max()
    x = float(left + (right - left) * GRAIN_AT)
    grain = ((x, float(top + (low - top) * GRAIN_FROM)), (x, float(top + (low - top) * GRAIN_TO)))
    return Outline(
        name=name, label=label, start=(start.real, start.imag), edges=tuple(edges), grain=grain,
        count=2 if pair else 1, pair=pair, levels=tuple(levels),
    )  # fmt: skip


def _outline(solved: Solved, shape: Shape) -> Outline:
    paths = [path_of(solved.curves[shape.name, run.name]) for run in shape.runs]
    edges = [outline_edge(run.name, path, run.finish) for run, path in zip(shape.runs, paths, strict=True)]
    start = solved.marks[shape.name, shape.runs[0].through[0]]
    levels = []
    for level in shape.levels:
        a, b = (solved.marks[shape.name, name] for name in (level.a, level.b))
        levels.append(OutlineLevel(name=level.name, a=(a.real, a.imag), b=(b.real, b.imag)))
    return closed_outline(shape.name, shape.label, edges, start, shape.pair, levels)


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
                label=wanted.label, count=len(rest), others=", ".join(one.label for one in rest),
            )  # fmt: skip
        found.append(Finding("trace.missing", words, f"{place}.{wanted.name}", "stops"))
    for group in solved.doubtful:
        first = group[0]
        found.append(Finding("trace.misread", _doubt(group), f"{place}.{first.reading.what}"))
    for read in solved.reads:
        values = read.reading.values
        if len(values) > 1 and max(values) - min(values) > max(10.0, 0.01 * max(values)):
            words = say(
                "{label} was read as {low} and as {high}; the middle is used. Measure it once more.",
                label=read.label, low=Length(min(values)), high=Length(max(values)),
            )  # fmt: skip
            found.append(Finding("trace.repeated", words, f"{place}.{read.reading.what}"))
    for reading in solved.strange:
        known = some(
            [*(one.name for one in solved.kind.asked), *(one.name for one in solved.kind.widths)], reading.what
        )
        words = (
            say("{what} at {at} lies off the edge that it measures, and is left out.", what=reading.what, at=Length(reading.at))
            if solved.kind.width(reading.what) is not None and reading.at is not None
            else say("“{what}” is not measured on this garment; expected one of {known}.", what=reading.what, known=known)
        )  # fmt: skip
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
        return say("{label} {value} doesn't fit the other readings: they say about {wanted}. Measure it again.", label=first.label,
                   value=Length(first.value), wanted=wanted)  # fmt: skip
    return say(
        "{label} {value} doesn't fit the other readings: they say about {wanted}. It is left out until it is measured again.",
        label=first.label, value=Length(first.value), wanted=wanted,
    )  # fmt: skip


def by_tape(tracing: TapeTracing, place: str) -> tuple[OutlineSource, tuple[Finding, ...]]:
    """The pieces of a garment measured with the tape. Raises :class:`CaddetError` for an unknown kind."""
    solved = solve(kind_named(tracing.kind), tracing.readings)
    findings = findings_of(solved, place)
    return (outlines_of(solved) if solved.whole else OutlineSource()), findings


register_tracer("tape", by_tape)
