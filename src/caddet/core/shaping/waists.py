"""Steps on a waist and a front: the waist raised or dipped, a front that wraps over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Point, dot, smooth, unit
from caddet.core.pattern.dividing import pinned
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_pieces, lower_where, measurable, only_runs, refused_as_stuck, said
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.reshaping import Beyond, block_of, carried_along, redrawn, slid, straight_on
from caddet.core.pattern.seams import Part
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.hemline import HEMS


def _with(pattern: Pattern, role: str) -> list[tuple[Piece, str]]:
    return [(piece, key) for piece in pattern.pieces for key in piece.runs_of(role)]


def _is_back(piece: Piece) -> bool:
    return piece.covers == "back"


# --- the waist ------------------------------------------------------------------------------------


def shape_waist(pattern: Pattern, context: Context, values: Values) -> Result:
    """Waists lower (or higher) at the centre front, the sides and the centre back; darts keep their points."""
    found = [(p, key) for p, key in _with(pattern, "waist") if _sides(p, key)]
    if not found:
        raise Stuck(say("no piece here has a waist between a centre and a side"), "front")
    room = _room(pattern, context, found)
    for piece, key in found:
        with refused_as_stuck("front"):
            pattern = pattern.with_piece(_waist(pattern.piece(piece.name), key, values, room))
    return Result(pattern, changes=OF_THE_BODY)


def _sides(piece: Piece, key: str) -> bool:
    """Whether a run lies between a side seam and a centre."""
    block = block_of(piece, key)
    return sum(piece.edges[index].role == "side" for index in (block.before, block.behind)) == 1


CLOSEST = 0.9  # of the body's waist, as close as a stretch garment lies there; common practice, no source


def _room(pattern: Pattern, context: Context, found: Sequence[tuple[Piece, str]]) -> float:
    """By how much each side may still come in (mm) before the garment is as close as the waist of the body lets it be."""
    body = context.measures.get("waist", 0.0)
    around = sum(pattern.length((Part(piece.ref(key).plain),)) * piece.worn for piece, key in found)
    sides = sum(piece.worn for piece, _ in found)
    least = body * (CLOSEST if context.cloth.stretch > 0 else 1.0)
    return max(around - least, 0.0) / max(sides, 1)


def _up_the_body(down: Point, room: float) -> Beyond:
    """A side carried up: as it arrives, and ``room`` mm inwards at most; from there straight up."""

    def carried(edge: Edge, end: Point, way: Point, by: float) -> Path:
        """The way it takes; a centre goes straight on."""
        inwards = way - down * dot(way, down)
        if edge.role != "side" or dot(way, down) >= 0 or abs(inwards) < 1e-6 or abs(inwards) * by <= room + 0.1:
            return straight_on(edge, end, way, by)
        return Path((smooth(end, way, end + unit(inwards) * room - down * by, -down),))

    return carried


def _waist(piece: Piece, key: str, values: Values, room: float) -> Piece:
    block = block_of(piece, key)
    centre = float(values["back" if _is_back(piece) else "front"])
    slides = [
        float(values["side"]) if piece.edges[index].role == "side" else centre for index in (block.before, block.behind)
    ]
    beyond = _up_the_body(piece.down, room)

    def draw(edges: Sequence[Edge], start: Point, end: Point) -> list[Edge]:
        """The waist carried along, turned with the sides where those turn up."""
        made = carried_along(edges, start, end)
        for index, by, at_end in ((block.before, slides[0], False), (block.behind, slides[1], True)):
            side = piece.edges[index]
            if by < 0 and side.role == "side":
                now = slid(side, by, at_end=not at_end, beyond=beyond).path
                ways = [-path.start_direction if at_end else path.end_direction for path in (side.path, now)]
                n = -1 if at_end else 0
                made[n] = made[n].with_path(_turned(made[n].path, ways[1] / ways[0], at_end))
        return made

    return redrawn(piece, key, slides[0], slides[1], draw, beyond)


def _turned(path: Path, by: Point, at_end: bool) -> Path:
    """A path whose handle at one end is turned."""
    one = path.segments[-1 if at_end else 0]
    if not isinstance(one, Cubic):
        return path
    if at_end:
        return Path((*path.segments[:-1], Cubic(one.start, one.out, one.end + (one.into - one.end) * by, one.end)))
    return Path((Cubic(one.start, one.start + (one.out - one.start) * by, one.into, one.end), *path.segments[1:]))


register_step(Step(
    "waist_shape", "Raise or dip the waist",
    "The waist goes lower or higher at the centre front, the sides and the centre back, and leaves both centres square. Darts keep their points; a band is fitted again.",
    (Parameter("edges", "Waist", "edges", (), optional=True, why="All of them are changed together, so that they still meet."),
     Parameter("front", "Lower at the centre front", "length", 20.0, -80.0, 200.0, why="A minus raises it."),
     Parameter("side", "Lower at the sides", "length", 0.0, -80.0, 200.0, why="A minus raises it."),
     Parameter("back", "Lower at the centre back", "length", 0.0, -80.0, 200.0, why="A minus raises it.")),
    shape_waist, lambda values: lower_where("waist", values),
    suits={"edge": 2}, symbol=((-5 - 2j, -2 - 2j, 0 + 0j, 5 + 3j),),
    refuses=only_runs(("waist",), say("that is no waist")),
    asked_as=("dipped waist", "lower waist", "raise the waist", "low rise", "high waist", "v waist"),
    fits=lambda pattern: "" if any(_sides(p, key) for p, key in _with(pattern, "waist")) else say("no piece here has a waist between a centre and a side"),
))  # fmt: skip

# --- the wrap -------------------------------------------------------------------------------------


def wrap(pattern: Pattern, context: Context, values: Values) -> Result:
    """A front on the fold made a pair that wraps: from the neck at the shoulder to a place beyond the centre."""
    del context
    chosen = (
        chosen_pieces(pattern, values["pieces"])
        if values["pieces"]
        else [p for p in pattern.pieces if _can_wrap(p) and not _is_back(p)][:1]
    )
    if not chosen:
        raise Stuck(say("no front here is cut on the fold, with a neckline"), "pieces")
    for piece in chosen:
        pattern = pattern.with_piece(_wrapped(piece, float(values["over"]), float(values["hollow"])))
    return Result(measurable(pattern), changes=OF_THE_BODY)


def _can_wrap(piece: Piece) -> bool:
    try:
        _corners(piece)
    except CaddetError:
        return False
    return True


def _corners(piece: Piece) -> tuple[int, int, int, bool]:
    """The edges of neckline, fold and lower edge, and whether the outline runs from the neckline to the fold."""
    folds = [n for n, edge in enumerate(piece.edges) if edge.finish == "fold"]
    if len(folds) != 1:
        raise Stuck(say("the {piece} is not cut on one fold", piece=piece.label.lower()), "pieces")
    fold, count = folds[0], len(piece.edges)
    around = [(fold - 1) % count, (fold + 1) % count]
    necks = [n for n in around if piece.edges[n].role == "neck"]
    if len(necks) != 1:
        raise Stuck(say("the {piece} has no neckline at its fold", piece=piece.label.lower()), "pieces")
    low = next(n for n in around if n != necks[0])
    if not (piece.edges[low].finish in HEMS or piece.edges[low].role in ("waist", "hem")):
        raise Stuck(say("the {piece} has no waist or hem at its fold", piece=piece.label.lower()), "pieces")
    return necks[0], fold, low, necks[0] == around[0]


def _wrapped(piece: Piece, over: float, hollow: float) -> Piece:
    neck, fold, low, forward = _corners(piece)
    edges = list(piece.edges)
    bottom = edges[fold].path.end if forward else edges[fold].path.start
    way = (
        edges[low].path.start_direction if forward else -edges[low].path.end_direction
    )  # into the piece along the lower edge
    tip = bottom - unit(complex(way.real, 0.0)) * over
    top = edges[neck].path.start if forward else edges[neck].path.end
    chord = tip - top
    square = unit(chord) * (1j if ((bottom - top) / chord).imag > 0 else -1j)  # towards the body's middle
    lean = square * (hollow / max(abs(chord), 1.0) * 3)
    line = (
        Path((smooth(top, unit(unit(chord) + lean), tip, unit(unit(chord) - lean)),))
        if abs(hollow) > 1e-6
        else Path.polyline([top, tip])
    )
    edges[neck] = edges[neck].with_path(line if forward else line.reversed())
    more = [tip, bottom] if forward else [bottom, tip]
    edges[low] = edges[low].let_in(Path.polyline(more), at_end=not forward)
    kept = [edge for n, edge in enumerate(edges) if n != fold]
    keys = {piece.edges[fold].name}
    made = replace(
        piece,
        edges=tuple(kept),
        pair=True,
        cuts=tuple(Cut(cut.cloth, 2 * cut.count) for cut in piece.cuts),
        notches=tuple(n for n in piece.notches if n.edge not in keys),
        features=tuple(pinned(piece, f, keys) for f in piece.features),
        figures=tuple(
            line_
            for line_ in piece.figures
            if not any(isinstance(end, Spot) and end.edge in keys for end in (line_.bit.a, line_.bit.b))
        ),
    )
    return sound(made)


def _describe_wrap(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("pieces") or ()) or say("front")
    return say(
        "{which} wraps over by {over} beyond the centre", which=which, over=Length(float(values.get("over", 0.0)))
    )


register_step(Step(
    "wrap_front", "A front that wraps over",
    "The front is cut as a pair that goes on past the centre: its edge runs from the neck at the shoulder to the lower edge on the other side. A little hollow, the edge lies close to the body; it is stayed, as it lies on the bias.",
    (Parameter("pieces", "Front", "pieces", (), most=1, optional=True, why="None means the front on the fold."),
     Parameter("over", "Beyond the centre, at the lower edge", "length", 150.0, 10.0, 600.0),
     Parameter("hollow", "Edge curved by", "length", 0.0, -60.0, 60.0, why="A minus curves it outward.")),
    wrap, _describe_wrap,
    suits={"piece": 15}, symbol=((-4 - 5j, 5 + 5j), (4 - 5j, -5 + 5j)),
    asked_as=("wrap front", "crossover", "wrap dress", "surplice", "kimono front"),
    fits=lambda pattern: "" if any(_can_wrap(p) for p in pattern.pieces) else say("no front here is cut on the fold, with a neckline"),
))  # fmt: skip
