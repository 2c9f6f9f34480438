"""A photograph's outlines as pieces: halves averaged, edges fair within the tolerance, allowances taken off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.fitting import fair_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Motion
from caddet.core.pattern.combine import beside
from caddet.core.pattern.opening import inset
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import CENTRES, role_of_edge
from caddet.core.pattern.seams import Seam, part
from caddet.core.recipe.registry import register_tracer
from caddet.core.recipe.traced import PhotoEdge, PhotoPiece, PhotoTracing
from caddet.core.sentences import Length, say
from caddet.core.tracing.kinds import KINDS, Run, Shape
from caddet.core.tracing.outlining import traced_piece
from caddet.core.tracing.photo.apart import apart
from caddet.core.tracing.photo.naming import corner_marks
from caddet.core.tracing.photo.proposing import BLURRED, clear_of_corners
from caddet.core.tracing.photo.sheets import SHEETS, view_by_corners
from caddet.core.tracing.photo.view import Points, View

EACH = 48  # places of an edge at which two halves are averaged
UPRIGHT = (*CENTRES, "front_edge")  # the roles of edges that lie along the grain
POINTED = 0.27  # up or down by across, 15 degrees, with which a line comes to a point on the fold
UNLIKE = 8.0  # mm by which left and right may differ before it is told
SCALE_OFF = 0.01  # of a known length


def view_of(tracing: PhotoTracing) -> View:
    """The view of the table that a tracing's sheet gives. Raises :class:`CaddetError`."""
    if tracing.sheet not in SHEETS:
        raise CaddetError(
            say("there is no sheet “{sheet}”; there are {sheets}", sheet=tracing.sheet, sheets=", ".join(SHEETS))
        )
    corners = tuple(complex(*one) for one in tracing.corners)
    return view_by_corners(tracing.size, corners, SHEETS[tracing.sheet], tracing.lens)


def shape_of(piece: PhotoPiece) -> Shape | None:
    """The shape that a piece is; None for one of no kind."""
    kind = KINDS.get(piece.kind)
    return next((one for one in kind.shapes if one.name == piece.shape), None) if kind is not None else None


def by_photo(tracing: PhotoTracing, place: str) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pieces of a photograph, and what has to be said of them. Raises :class:`CaddetError` without a view."""
    view = view_of(tracing)
    findings: list[Finding] = []
    if tracing.known is not None:
        a, b = view.to_table(np.array([complex(*tracing.known.a), complex(*tracing.known.b)]))
        found = float(abs(b - a))
        if abs(found - tracing.known.mm) > SCALE_OFF * tracing.known.mm:
            words = say(
                "The length that is known as {known} measures {found} in the picture: is the sheet really {sheet}, and does it lie flat?",
                known=Length(tracing.known.mm),
                found=Length(found),
                sheet=SHEETS[tracing.sheet].label,
            )
            findings.append(Finding("trace.scale", words, place))
    made = Pattern()
    for piece in tracing.pieces:
        try:
            outline, unlike = outline_of(piece, view, tracing.tolerance)
            net = _net(piece, outline)
        except (CaddetError, ValueError, ArithmeticError) as error:
            words = say("{piece}: {error}.", piece=piece.label or piece.name, error=error)
            findings.append(
                Finding(
                    "trace.outline", words, f"{place}.{piece.name}", "stops" if len(tracing.pieces) == 1 else "look"
                )
            )
            continue
        if piece.lines:
            cut, told = apart(piece, net, laid_as(piece, view, outline), view, tracing.tolerance, place)
            made = beside(made, cut)
            findings += told
        else:
            made = beside(made, Pattern((net,)))
        if unlike > UNLIKE:
            words = say(
                "{piece}: left and right differ by up to {by}; their mean is taken.",
                piece=outline.label,
                by=Length(unlike),
            )
            findings.append(Finding("trace.unlike", words, f"{place}.{piece.name}"))
    seams = [one for one in _seams(tracing.pieces) if all(map(made.fragments, one.parts()))]
    return replace(made, seams=(*seams, *made.seams)), tuple(findings)


def _net(piece: PhotoPiece, outline: Piece) -> Piece:
    """An outline without the allowances of the edges that were traced along their cut line."""
    amounts = {f"{outline.made}.{edge.name}": edge.cut for edge in piece.edges if edge.cut}
    return inset(outline, amounts) if amounts else outline


def laid_as(piece: PhotoPiece, view: View, outline: Piece) -> Motion:
    """How the table lies in the frame of the piece that an outline became: a turn and a shift, by least squares."""
    table = view.to_table(np.array([complex(*one) for one in piece.points]))
    starts = [edge.path.start for edge in outline.edges]
    shape = shape_of(piece)
    corners = list(piece.corners)
    if shape is not None and shape.fold and piece.half != "whole":  # its own half: the fold's ends are no corners
        starts, corners = starts[1:-1], corners[: len(corners) // 2]
    own, there = np.array(starts), table[corners]
    spin = ((own - own.mean()) * (there - there.mean()).conjugate()).sum()
    turn = complex(spin / max(abs(spin), 1e-12))
    return Motion(turn, complex(own.mean()) - turn * complex(there.mean()))


def _seams(pieces: Sequence[PhotoPiece]) -> tuple[Seam, ...]:
    """The seams that the kinds declare between shapes that are there."""
    there = {(piece.kind, piece.shape): piece.name for piece in pieces if piece.half != "whole" and not piece.lines}
    found = []
    for name in dict.fromkeys(piece.kind for piece in pieces):
        kind = KINDS.get(name)
        for seam in kind.seams if kind is not None else ():
            ends = []
            for edge in (seam.a, seam.b):
                shape, _, run = edge.partition(".")
                if (name, shape) in there:
                    ends.append(f"{there[name, shape]}.{run}")
            if len(ends) == 2:
                layers = ((part(ends[0]),), (part(ends[1], backwards=seam.against),))
                found.append(Seam(seam.name, seam.label, layers, corners=seam.corners))
    return tuple(found)


def outline_of(piece: PhotoPiece, view: View, tolerance: float) -> tuple[Piece, float]:
    """A piece by its outline as traced, and by how much its halves differ (mm). Raises :class:`CaddetError`."""
    table = view.to_table(np.array([complex(*one) for one in piece.points]))
    if _area(table) < 0:
        raise CaddetError(say("its outline goes the wrong way round"))
    if _crosses(table):
        raise CaddetError(say("its outline crosses itself; draw the places apart that lie on the wrong side"))
    shape = shape_of(piece)
    if shape is None or piece.half == "whole":
        return _free(piece, table, tolerance), 0.0
    marks = corner_marks(shape)
    if len(piece.corners) != len(marks):
        raise CaddetError(
            say(
                "a {shape} has {count} corners, and {found} are marked",
                shape=shape.label.lower(),
                count=len(marks),
                found=len(piece.corners),
            )
        )
    if shape.fold:
        return _folded(piece, shape, table, tolerance)
    return _as_shape(piece, shape, table, tolerance), 0.0


def _area(points: Points) -> float:
    return float((points.real * np.roll(points.imag, -1) - points.imag * np.roll(points.real, -1)).sum() / 2)


def _crosses(points: Points) -> bool:
    import shapely

    return not shapely.LinearRing([(p.real, p.imag) for p in points]).is_simple


def _stretch(points: Points, a: int, b: int) -> Points:
    """The places from one index to another, onwards round the outline."""
    count = len(points)
    return points[np.arange(a, a + (b - a) % count + 1) % count]


def _evenly(points: Points, count: int) -> Points:
    """A row of places at even shares of its length."""
    along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(points)))])
    at = np.linspace(0, along[-1], count)
    return np.asarray(np.interp(at, along, points.real) + 1j * np.interp(at, along, points.imag))


def _edge(points: Points, straight: bool, tolerance: float) -> Path:
    """A row of places as one edge."""
    if straight:
        return Path((Line(complex(points[0]), complex(points[-1])),))
    return fair_through([complex(p) for p in clear_of_corners(points)], tolerance)[0]


def _free(piece: PhotoPiece, table: Points, tolerance: float) -> Piece:
    """A piece of no kind, or a whole one: its edges from corner to corner as they are named."""
    corners = piece.corners
    if len(corners) < 2:
        raise CaddetError(say("an outline has at least two corners; say where its edges begin"))
    table = table * _plumb(piece, table)
    edges = [*piece.edges, *(PhotoEdge(name=f"edge_{n + 1}") for n in range(len(piece.edges), len(corners)))]
    paths = [
        _edge(_stretch(table, a, b), edge.straight, tolerance)
        for a, b, edge in zip(corners, [*corners[1:], corners[0]], edges, strict=False)
    ]
    back = Motion.translation(-complex(table.real.mean(), table.imag.min()))
    made = [(edge.name, path.moved(back), edge.finish or "turned") for path, edge in zip(paths, edges, strict=False)]
    return traced_piece(piece.name, piece.label or piece.name, made, piece.pair)


def _plumb(piece: PhotoPiece, table: Points) -> complex:
    """The turn (a unit) that lays a centre, a fold or a front edge along the grain, straight down; as it lies without one."""
    for n, edge in enumerate(piece.edges[: len(piece.corners)]):
        if edge.finish == "fold" or role_of_edge(edge.name) in UPRIGHT:
            a, b = table[piece.corners[n]], table[piece.corners[(n + 1) % len(piece.corners)]]
            way = complex(b - a) / max(abs(complex(b - a)), 1e-9)
            return (1j if way.imag >= 0 else -1j) / way
    return 1 + 0j


def _as_shape(piece: PhotoPiece, shape: Shape, table: Points, tolerance: float) -> Piece:
    """A piece that is a shape of its own: laid as the shape is drawn, its edges the shape's."""
    turn = _laid(piece, shape, table)
    laid = (table - table[piece.corners[0]]) * turn
    paths = [
        _edge(_stretch(laid, a, b), _straight(piece, run), tolerance)
        for a, b, run in zip(piece.corners, [*piece.corners[1:], piece.corners[0]], shape.runs, strict=True)
    ]
    made = [(run.name, path, run.finish) for run, path in zip(shape.runs, paths, strict=True)]
    return traced_piece(piece.name, piece.label or shape.label, made, shape.pair)


def _straight(piece: PhotoPiece, run: Run) -> bool:
    """Whether an edge is meant straight: as it is said, or else as the shape draws it."""
    said = next((edge for edge in piece.edges if edge.name == run.name), None)
    return said.straight if said is not None else False


def _laid(piece: PhotoPiece, shape: Shape, table: Points) -> complex:
    """The turn (a unit) that lays a piece as its shape is drawn."""
    from caddet.core.tracing.photo.naming import template

    usual = np.array(list(template(shape).values()))
    own = table[list(piece.corners)]
    spin = ((usual - usual.mean()) * (own - own.mean()).conjugate()).sum()
    return complex(spin / max(abs(spin), 1e-12))


def _folded(piece: PhotoPiece, shape: Shape, table: Points, tolerance: float) -> tuple[Piece, float]:
    """Half of a piece that is alike on both sides: the fold is the line in the middle of its corners."""
    marks = corner_marks(shape)
    half = len(marks) // 2
    own = table[list(piece.corners)]
    pairs = [(own[n], own[len(marks) - 1 - n]) for n in range(half)]
    middles = np.array([(a + b) / 2 for a, b in pairs])
    across = sum((a - b) / abs(a - b) for a, b in pairs)
    down = 1j * across / abs(across)
    if len(pairs) > 1 and abs(middles[-1] - middles[0]) > 50:
        off = middles - middles.mean()
        line = np.sqrt((off**2).sum() / abs((off**2).sum()))
        line = line if (line * np.conj(down)).real > 0 else -line
        down = line + down * 0.5  # both tell of it: where the middles lie, and which way the corners face
        down /= abs(down)
    laid = (table - middles.mean()) * (1j / down)
    corners = list(piece.corners)
    # the two stretches over the fold: above, from the other half's first corner to this one's; below, from this one's last
    right = [_stretch(laid, a, b) for a, b in pairwise(corners[:half])]
    left = [-_stretch(laid, corners[-1 - n - 1], corners[-1 - n]).conjugate()[::-1] for n in range(half - 1)]
    above = _stretch(laid, corners[-1], corners[0])
    below = _stretch(laid, corners[half - 1], corners[half])
    unlike = 0.0
    middle: list[Points] = []
    for one, other in zip(right, left, strict=True):
        a, b = _evenly(one, EACH), _evenly(other, EACH)
        unlike = max(unlike, float(np.abs(a - b).max()))
        middle.append(a if piece.half == "right" else b if piece.half == "left" else (a + b) / 2)
    ends = [_over_the_fold(above, piece.half), _over_the_fold(below, piece.half)]
    fold = next(n for n, run in enumerate(shape.runs) if run.finish == "fold")
    runs = [*shape.runs[fold + 1 :], *shape.runs[:fold]]
    top = _half_of(ends[0], tolerance)[1]
    low = _half_of(ends[1], tolerance)[0]
    paths = [top]
    for run, points in zip(runs[1:-1], middle, strict=True):
        paths.append(_edge(points, _straight(piece, run), tolerance))
    paths.append(low)
    paths = _joined(paths)
    back = Motion.translation(-1j * min(min(path.start.imag, path.end.imag) for path in paths))
    paths = [path.moved(back) for path in (*paths, Path((Line(paths[-1].end, paths[0].start),)))]
    made = [(run.name, path, run.finish) for run, path in zip([*runs, shape.runs[fold]], paths, strict=True)]
    marks_at = dict(zip(marks[:half], (path.start for path in paths[1:]), strict=False))
    levels = [
        (level.name, complex(0.0, marks_at[level.b].imag), marks_at[level.b])
        for level in shape.levels
        if level.b in marks_at
    ]
    return traced_piece(piece.name, piece.label or shape.label, made, False, levels), unlike


def _over_the_fold(points: Points, half: str) -> Points:
    """A stretch that crosses the fold, made alike on both sides: 2 EACH places."""
    even = _evenly(points, 2 * EACH)
    mirrored = -even.conjugate()[::-1]
    if half == "mean":
        return np.asarray((even + mirrored) / 2)
    side = even.real > 0 if half == "right" else even.real < 0
    return np.where(side, even, mirrored)


def _to_fold(half: Points) -> tuple[float, float]:
    """How steeply a stretch comes to the fold (up by across) and at which height, by its part that the picture shows sharp."""
    near = half[(np.abs(half.real) > BLURRED) & (np.abs(half.real) < 5 * BLURRED)]
    if len(near) < 3:
        return 0.0, 0.0
    slope, at = np.polyfit(near.real, near.imag, 1)
    return float(slope), float(at)


def _half_of(points: Points, tolerance: float) -> tuple[Path, Path]:
    """A stretch that is alike on both sides of the fold at x = 0, as one fair curve cut there: its two halves in order.

    One that comes to a point on the fold, as a V neck does, is two curves that meet there, when those are fewer.
    """
    path, _ = fair_through([complex(p) for p in clear_of_corners(points)], tolerance)
    half = points[: len(points) // 2]
    slope, at = _to_fold(half)
    if abs(slope) > POINTED:
        pointed = _edge(np.append(half, 1j * at), False, tolerance)
        if 2 * len(pointed.segments) < len(path.segments):
            return pointed, pointed.moved(Motion.reflection(0j, 1j)).reversed()
    first, last = path.split_at(path.length / 2)
    assert first is not None and last is not None

    def level(part: Path, at_end: bool) -> Path:
        """A half that ends on the fold, square to it."""
        one = part.segments[-1 if at_end else 0]
        if isinstance(one, Line):
            other = one.start if at_end else one.end
            on = complex(0, other.imag)
            moved: Line | Cubic = Line(other, on) if at_end else Line(on, other)
        else:
            assert isinstance(one, Cubic)
            on = complex(0, (one.end if at_end else one.start).imag)
            moved = (
                Cubic(one.start, one.out, complex(one.into.real, on.imag), on)
                if at_end
                else Cubic(on, complex(one.out.real, on.imag), one.into, one.end)
            )
        return Path((*part.segments[:-1], moved) if at_end else (moved, *part.segments[1:]))

    return level(first, True), level(last, False)


def _joined(paths: Sequence[Path]) -> list[Path]:
    """Edges whose ends meet: each begins where the one before it ends."""
    made = [paths[0]]
    for path in paths[1:]:
        gap = made[-1].end - path.start
        first = path.segments[0]
        if isinstance(first, Cubic):
            moved: Line | Cubic = Cubic(first.start + gap, first.out + gap, first.into, first.end)
        else:
            moved = Line(first.point(0) + gap, first.point(1))
        made.append(Path((moved, *path.segments[1:])))
    return made


register_tracer("photo", by_photo)
