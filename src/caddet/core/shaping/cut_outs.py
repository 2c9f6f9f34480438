"""Steps that take a shape out of a piece's edge, or close a front off its centre."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import shapely

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point
from caddet.core.pattern.assembly import remove, unfold
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.edges import Finish
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_pieces, measurable, refused_as_stuck, said, said_place
from caddet.core.pattern.ids import other_side
from caddet.core.pattern.laid_together import seam_runs
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.surgery import edge_on, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.hemline import HEMS
from caddet.core.shaping.joins import joined_as
from caddet.core.shaping.lines import drawn_lines, part_of

FINISHED = (("facing", "Faced"), ("binding", "Bound"), ("turned", "Turned in"))


def cut_out(pattern: Pattern, context: Context, values: Values) -> Result:
    """A piece cut along a line, or two along one over their seam; the smaller parts fall away, the new edges are finished."""
    lines = drawn_lines(pattern, values)
    runs: dict[str, dict[str, float]] = {}
    after = pattern
    for number, (piece, line) in enumerate(lines):
        step = part_of(context.id, number, len(lines))
        after, stays = _cut_off(after, after.piece(piece.name), line, step, values["finish"])
        now = after.piece(stays)
        shorter = {
            key: now.run_length(key) - piece.run_length(key)
            for key in piece.runs()
            if now.has_run(key) and not piece.run(key)[0].finish
        }
        runs[stays] = {key: by for key, by in shorter.items() if abs(by) > 0.5}
    findings: list[Finding] = []
    over = _shared(pattern, [piece for piece, _ in lines])
    for stays, shorter in runs.items():
        by_seam = {key: by for key, by in shorter.items() if key not in over}
        after, told = joined_as(after, stays, by_seam, "loose", f"recipe[{context.id}]")
        findings += told
    return Result(measurable(after), findings=tuple(findings), changes=OF_THE_BODY)


def _cut_off(pattern: Pattern, piece: Piece, line: CutLine, step: str, finish: Finish) -> tuple[Pattern, str]:
    """A piece without the smaller part beyond a line, and the name of what stays."""
    names = {one.name for one in pattern.pieces}
    after = cut_piece(pattern, piece, line, step)
    parts = sorted((one for one in after.pieces if one.name not in names), key=_area)
    if len(parts) != 2:
        raise Stuck(say("the line does not cut anything off"), "line")
    gone, stays = parts
    if gone.fold and not stays.fold:
        raise Stuck(say("what falls away would have the fold, and the rest none"), "line")
    after = remove(after, gone)
    kept = after.piece(stays.name)
    edges = [replace(edge, finish=finish) if edge.name == f"{step}.cut" else edge for edge in kept.edges]
    after = after.with_piece(replace(kept.with_edges(edges), label=piece.label))
    return replace(after, seams=tuple(seam for seam in after.seams if seam.name != f"{step}.seam")), stays.name


def _shared(pattern: Pattern, pieces: Sequence[Piece]) -> set[str]:
    """The runs of two pieces that are sewn to each other: cut at the same place, both sides stay alike."""
    if len(pieces) < 2:
        return set()
    runs = [{(key, seam.name) for seam in pattern.seams for key in seam_runs(pattern, seam, one)} for one in pieces]
    both = {name for _, name in runs[0]} & {name for _, name in runs[1]}
    return {key for found in runs for key, name in found if name in both}


def _area(piece: Piece) -> float:
    return float(shapely.Polygon([(p.real, p.imag) for p in piece.polygon(0.5)]).area)


def _describe_cut_out(values: Values) -> Sentence:
    spots = [one for one in (values.get("line") or ()) if isinstance(one, Place)]
    if len(spots) < 2:
        return say("cut-out along a line to be drawn")
    return say("cut-out from {start} to {end}", start=said_place(spots[0]), end=said_place(spots[-1]))


register_step(Step(
    "cut_out", "Cut-out",
    "A shape is taken out of the edge: a keyhole at a fold, a bare back, a hollow at the side. Draw it from edge to edge; the smaller part falls away, and the new edge is faced, bound or turned in. It may run over a seam, from one piece to the one that is sewn to it.",
    (Parameter("line", "Line", "line", None, why="From edge to edge of one piece, or over a seam; on a fold, half the shape."),
     Parameter("curve", "Drawn as a curve", "flag", True, why="Smooth through its points; without points between its ends it is straight."),
     Parameter("finish", "New edge", "choice", "facing", choices=FINISHED)),
    cut_out, _describe_cut_out,
    suits={"piece": 6}, symbol=((-5 - 5j, -1 - 5j), (1 - 5j, 5 - 5j), (-1 - 5j, -2 - 1j, 0 + 1j, 2 - 1j, 1 - 5j)),
    asked_as=("keyhole", "bare back", "open back", "take a piece out", "hole", "cut away"),
    fits=lambda pattern: "" if pattern.pieces else say("there is nothing here to cut"),
))  # fmt: skip

# --- a front closed off its centre ----------------------------------------------------------------


def asymmetric(pattern: Pattern, context: Context, values: Values) -> Result:
    """A front on the fold made a left and a right one that meet along a line from the neckline to the lower edge."""
    chosen = chosen_pieces(pattern, values["pieces"]) if values["pieces"] else _fronts(pattern)[:1]
    if not chosen:
        raise Stuck(NONE, "pieces")
    front = chosen[0]
    ends = _runs(front)
    if ends is None:
        raise Stuck(NONE, "pieces")
    with refused_as_stuck("pieces"):
        pattern = unfold(pattern, front)
    whole = pattern.piece(front.name)
    spots = _line(whole, ends, values, 0.0)
    with refused_as_stuck("top"):
        after = cut_piece(pattern, whole, CutLine(spots[0], spots[1]), context.id, ("Left front", "Right front"))
    if values["closes"] == "opens":
        after = replace(after, seams=tuple(seam for seam in after.seams if seam.name != f"{context.id}.seam"))
        over = float(values["over"]) / 2
        # the part to the wearer's left goes on to the right over the other, and that one to the left
        for mark, by in ((f"{context.id}.1", -over), (f"{context.id}.2", over)):
            part = next(one for one in after.pieces if mark in one.marks)
            further = [whole.where(spot) for spot in _line(whole, ends, values, by)]
            with refused_as_stuck("over"):
                after = after.with_piece(_opened(part, whole, f"{context.id}.cut", further))
    return Result(measurable(after), changes=OF_THE_BODY)


def _line(whole: Piece, ends: tuple[str, str], values: Values, by: float) -> list[Spot]:
    """The ends of the closing line on the whole front, so many mm further to the wearer's left."""
    return [
        _beside(whole, key, float(values[name]) + by, name) for key, name in zip(ends, ("top", "bottom"), strict=True)
    ]


def _opened(piece: Piece, whole: Piece, cut: str, further: Sequence[Point]) -> Piece:
    """A part of the front that goes on to a line further out, along the outline of the whole front, and is faced there."""
    edges = list(piece.edges)
    at = next(n for n, edge in enumerate(edges) if edge.name == cut)
    path = edges[at].path
    begin, end = sorted(further, key=lambda point: abs(point - path.start))
    before, behind = (at - 1) % len(edges), (at + 1) % len(edges)
    if abs(begin - path.start) > 1e-6 or abs(end - path.end) > 1e-6:
        edges[before] = edges[before].let_in(_outline_between(whole, path.start, begin), at_end=True)
        edges[behind] = edges[behind].let_in(_outline_between(whole, end, path.end), at_end=False)
    # what stood on the line stays as high as it was: levels run on straight over the overlap
    lines = (path.start, path.end), (begin, end)
    top, foot = max(min(a.imag, b.imag) for a, b in lines) + 1.0, min(max(a.imag, b.imag) for a, b in lines) - 1.0
    shares = tuple(tuple((y - a.imag) / (b - a).imag for a, b in lines) for y in (top, foot))
    drawn = edge_on(edges[at], Path((Line(begin, end),)), [(old, new) for old, new in shares])
    edges[at] = replace(drawn, finish="facing")
    return sound(piece.with_edges(edges))


def _outline_between(whole: Piece, a: Point, b: Point) -> Path:
    """The outline of the whole front from one point on it to another near by. Raises :class:`Refused` over a dart."""
    outline = whole.outline()
    here, there = outline.nearest(a)[1], outline.nearest(b)[1]
    found = outline.between(min(here, there), max(here, there))
    if found is None or found.length > 2 * abs(b - a) + 1.0:
        raise Refused(say("a dart or a corner lies where the overlap would be"), "over")
    return found if here < there else found.reversed()


def _runs(piece: Piece) -> tuple[str, str] | None:
    """The keys of neckline and lower edge of a front on one fold; None when it is none."""
    necks = piece.runs_of("neck")
    low = next((key for key in piece.runs() if piece.run(key)[0].finish in HEMS or key in piece.runs_of("waist")), "")
    if not piece.fold or piece.covers == "back" or not necks or not low:
        return None
    return necks[0], low


def _fronts(pattern: Pattern) -> list[Piece]:
    return [piece for piece in pattern.pieces if _runs(piece) is not None]


def _beside(piece: Piece, key: str, at: float, parameter: str) -> Spot:
    """A place so many mm from the centre along a run, on the wearer's left, or (negative) on the right."""
    run = key if at >= 0 else other_side(key)
    paths = piece.walked(run)
    begins = abs(paths[0].start.real) < abs(paths[-1].end.real)  # the centre is where it is nearest to the middle
    length = piece.run_length(run)
    off = max(abs(at), 0.2)
    if off > length - 5.0:
        raise Stuck(
            say("the {edge} is only {length} long from the centre", edge=said(key), length=Length(length)), parameter
        )
    return piece.spot_at(run, off if begins else length - off)


NONE = say("no front here is cut on the fold, with a neckline and a lower edge")


def _describe(values: Values) -> Sentence:
    return say(
        "front in two, from {top} off the centre at the neck to {bottom} at the lower edge",
        top=Length(float(values.get("top", 0.0))),
        bottom=Length(float(values.get("bottom", 0.0))),
    )


register_step(Step(
    "asymmetric_front", "Front closed off its centre",
    "The front becomes a left and a right one that meet along a slanting line: from the neckline, so far off the centre, to the lower edge. It is sewn along the line, or opens there with an overlap.",
    (Parameter("pieces", "Front", "pieces", (), most=1, optional=True, why="None means the front on the fold."),
     Parameter("top", "At the neckline, to the wearer's left", "length", -50.0, -400.0, 400.0, why="A minus is to the right."),
     Parameter("bottom", "At the lower edge, to the wearer's left", "length", 120.0, -900.0, 900.0, why="A minus is to the right."),
     Parameter("closes", "Along the line", "choice", "seam", choices=(("seam", "Sewn together"), ("opens", "Opens"))),
     Parameter("over", "Overlap", "length", 30.0, 0.0, 150.0, only=("closes", ("opens",)), why="Half on each side of the line.")),
    asymmetric, _describe,
    suits={"piece": 17}, symbol=((-5 - 5j, 5 - 5j, 5 + 5j, -5 + 5j, -5 - 5j), (-1 - 5j, 3 + 5j)),
    asked_as=("asymmetric front", "off-centre opening", "slanted front", "side closing", "diagonal closing"),
    fits=lambda pattern: "" if _fronts(pattern) else NONE,
    refuses=lambda pattern, chosen: "" if all(_runs(one) for one in chosen_pieces(pattern, chosen.get("pieces") or ())) else NONE,
))  # fmt: skip
