"""Fastenings at an open edge: the button stand with holes and buttons, hooks, snaps."""

from __future__ import annotations

import math
from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.parts.adding import (
    cross_at,
    drawn,
    finish_runs,
    layer_of,
    made_by_part,
    notion,
    run_words,
    with_features,
    with_part,
)
from caddet.core.parts.strips import straight
from caddet.core.pattern.dividing import pinned
from caddet.core.pattern.features import Feature
from caddet.core.pattern.finding import chosen_edges, measurable
from caddet.core.pattern.pattern import Opening, Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

THICK = 3.0  # mm a hole is longer than the button is wide: its thickness; common practice
PAST = 3.0  # mm a hole across reaches past the centre line, where the shank pulls it; common practice
EDGE = 6.0  # mm between a button's rim and the edge at least


def button_stand(pattern: Pattern, context: Context, values: Values) -> Result:
    """Let an open edge go on past the centre, and set holes and buttons on the centre line."""
    piece, key = _edge(pattern, values)
    size, overlap = float(values["button"]), float(values["overlap"]) or float(values["button"])
    findings: list[Finding] = []
    if overlap < size / 2 + EDGE:
        words = say(
            "The button is wider than the overlap: {button} needs {least} past the centre, there are {overlap}.",
            button=Length(size),
            least=Length(size / 2 + EDGE),
            overlap=Length(overlap),
        )
        findings.append(Finding("part.overlap", words, f"recipe[{context.id}].overlap", "look"))
    fold = any(edge.finish == "fold" for edge in piece.run(key))
    if piece.run(key)[0].finish in ("hem", "casing", "joined", "raw"):
        raise Stuck(
            say(
                "the {run} does not open; buttons stand at an opening or at a fold that is opened",
                run=run_words(piece, key),
            ),
            "edges",
        )
    edge = piece.run(key)[0]
    if len(piece.run(key)) != 1 or not straight(edge):
        raise Stuck(
            say("the {run} is not one straight edge; buttons stand on a straight one", run=run_words(piece, key)),
            "edges",
        )
    places = _places(piece, key, values)
    if fold:
        piece = replace(
            piece,
            edges=tuple(replace(e, finish="opening") if e.name == key else e for e in piece.edges),
            pair=True,
            cuts=tuple(Cut(cut.cloth, 2 * cut.count) for cut in piece.cuts),
        )
        pattern = measurable(pattern.with_piece(piece))
    elif pattern.sewn().get((_number(pattern, piece), block_of(piece, key).first)):
        raise Stuck(
            say("the {run} is sewn; buttons need an open edge or a fold to open", run=run_words(piece, key)), "edges"
        )
    line = edge.path
    outward = unit(line.end - line.start) * -1j
    made = let_out(piece, key, overlap)
    marks = [drawn("line", f"{context.id}.centre_line", say("centre: buttons and holes"), [line.start, line.end])]
    hole = size + THICK
    across_ = str(values["holes"]) == "across"
    along = unit(line.end - line.start)
    for number, at in enumerate(places):
        ends = (
            [at + outward * PAST, at + outward * PAST - outward * hole]
            if across_
            else [at - along * hole / 2, at + along * hole / 2]
        )
        marks.append(drawn("buttonhole", f"{context.id}.hole_{number + 1}", say("hole") if number == 0 else "", ends))
        marks.append(cross_at("button", f"{context.id}.button_{number + 1}", "", at))
    made = replace(
        with_features(made, marks), remark=say("holes on the {lap} front, buttons on the other", lap=str(values["lap"]))
    )
    done = finish_runs(pattern.with_piece(made), [key], "turned" if values["finish"] == "turned" else "facing")
    buttons = notion(context.id, "button", say("Button, {size}", size=Length(size)), count=len(places))
    around = _upper_neighbour(made, key)
    openings = [Opening(f"{context.id}.buttons", say("Buttons"), layer_of(key), around)] if around else []
    return Result(with_part(done, notions=[buttons], openings=openings), findings=tuple(findings), changes=OF_THE_BODY)


def _number(pattern: Pattern, piece: Piece) -> int:
    return next(n for n, one in enumerate(pattern.pieces) if one.name == piece.name)


def _upper_neighbour(piece: Piece, key: str) -> str:
    block = block_of(piece, key)
    edge = piece.edges[block.first]
    other = piece.edges[block.behind if edge.path.end.imag < edge.path.start.imag else block.before]
    return other.role


def _edge(pattern: Pattern, values: Values) -> tuple[Piece, str]:
    if values["edges"]:
        return chosen_edges(pattern, values["edges"])[0]
    for finish in ("opening", "fold"):
        for piece in pattern.pieces:
            for key in piece.runs_of("centre_front"):
                if not made_by_part(piece) and piece.run(key)[0].finish == finish:
                    return piece, key
    raise Stuck(say("no front here opens; say at which edge the buttons stand"), "edges")


SLANTED = math.radians(15)  # by which a neighbour may leave the square before it runs on over the overlap as it arrives


def let_out(piece: Piece, key: str, by: float) -> Piece:
    """A piece with one straight edge moved out by so many mm; its neighbours go on straight, square to it.

    One that arrives slanting and falling, as the neckline of a V, runs on as it does: square, it would leave a step at
    its foot. Raises :class:`Refused`.
    """
    block = block_of(piece, key)
    edge = piece.edges[block.first]
    along = unit(edge.path.end - edge.path.start)
    out = along * -1j
    edges = list(piece.edges)
    before, behind = edges[block.before], edges[block.behind]
    a, b = edge.path.start, edge.path.end
    top = a + _onto(before.path.end_direction, out, along, by, edge.path.length)
    foot = b + _onto(-behind.path.start_direction, out, -along, by, edge.path.length)
    edges[block.first] = edge.with_path(Path.polyline([top, foot]))
    edges[block.before] = before.let_in(Path.polyline([a, top]), at_end=True)
    edges[block.behind] = behind.let_in(Path.polyline([foot, b]), at_end=False)
    made = replace(piece, features=tuple(pinned(piece, f, {key}) for f in piece.features))
    return sound(made.with_edges(edges))


def _onto(way: Point, out: Point, along: Point, by: float, long: float) -> Point:
    """From a corner to where its neighbour ends, ``by`` mm further out."""
    across, down = dot(way, out), dot(way, along)
    if across <= 0 or math.atan2(down, across) < SLANTED or by * down / across > long / 3:
        return out * by
    return way * (by / across)


def _places(piece: Piece, key: str, values: Values) -> list[Point]:
    """Where the buttons go on the centre line: one at the bust, the others evenly from there up and down."""
    edge = piece.run(key)[0]
    line = edge.path if edge.path.start.imag <= edge.path.end.imag else edge.path.reversed()
    length, size = line.length, float(values["button"])
    first, last = float(values["first"]) or size, float(values["last"])
    if first + last + size > length:
        raise Stuck(
            say("the edge is {length} long; there is no room for buttons on it", length=Length(length)), "edges"
        )
    count, spacing = int(values["count"]), float(values["spacing"])
    low = length - last
    bust = next((along for along in (_level_at(piece, line, name) for name in ("bust",)) if along is not None), None)
    if count == 1:
        return [line.point_at(first)]
    if bust is not None and first + size < bust < low - size:
        if count:
            above = max(1, round((count - 1) * (bust - first) / (low - first)))
            step = (bust - first) / above
            places = [first + step * n for n in range(count) if first + step * n <= length - size]
        else:
            above = max(1, round((bust - first) / spacing))
            step = (bust - first) / above
            places = [first + step * n for n in range(int((low - first) / step + 1e-6) + 1)]
    else:
        count = count or max(2, round((low - first) / spacing) + 1)
        places = [first + (low - first) * n / (count - 1) for n in range(count)]
    if len(places) > 1 and places[1] - places[0] < size + 2.0:
        raise Stuck(
            say(
                "{count} buttons of {size} don't go on {length}",
                count=len(places),
                size=Length(size),
                length=Length(low - first),
            ),
            "count",
        )
    return [line.point_at(at) for at in places]


def _level_at(piece: Piece, line: Path, name: str) -> float | None:
    """How far down a line a level meets it."""
    feature = piece.feature(name)
    for bit in feature.bits if feature else ():
        for end in (bit.a, bit.b):
            if piece.holds_spot(end):
                off, along = line.nearest(piece.where(end))
                if off < 5.0:
                    return along
    return None


def _describe(values: Values) -> Sentence:
    return say(
        "buttons of {size}, {overlap} past the centre",
        size=Length(float(values.get("button", 0.0))),
        overlap=Length(float(values.get("overlap", 0.0)) or float(values.get("button", 0.0))),
    )


LAPS = (("right", "The wearer's right laps over"), ("left", "The wearer's left laps over"))


def _refuses(pattern: Pattern, chosen: Values) -> str:
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        run = piece.run(key)
        way = run[-1].path.end - run[0].path.start
        if abs(way.real) > abs(way.imag):
            return say("the {edge} runs across: buttons close an edge that runs down", edge=run_words(piece, key))
    return ""


register_step(Step(
    "button_stand", "Buttons and holes",
    "The edge goes on past the centre by the button's width. One button stands at the bust, where the front pulls; the others are spaced from there. A hole is as long as the button is wide, and its thickness more; work one on a scrap first, and put a pin across its end before it is cut open.",
    (Parameter("edges", "At the edge", "edges", (), most=1, why="None means the open centre front; a front on the fold is opened."),
     Parameter("button", "Button", "length", 18.0, 6.0, 60.0),
     Parameter("overlap", "Past the centre", "length", 0.0, 0.0, 120.0, why="0 takes the button's width."),
     Parameter("count", "How many", "count", 0.0, 0.0, 30.0, why="0 spaces them as below."),
     Parameter("spacing", "Spacing, about", "length", 85.0, 15.0, 300.0),
     Parameter("first", "First, below the edge", "length", 0.0, 0.0, 400.0, why="0 takes the button's width."),
     Parameter("last", "Last, above the lower edge", "length", 80.0, 0.0, 900.0),
     Parameter("holes", "Holes lie", "choice", "across", choices=(("across", "Across: they hold where it pulls"), ("along", "Along the edge: on a narrow band"))),
     Parameter("lap", "Laps over", "choice", "right", choices=LAPS, why="Women's usually right over left, men's left over right; as you like it."),
     Parameter("finish", "The edge is", "choice", "facing", choices=(("facing", "Faced: put a facing on"), ("turned", "Turned in")))),
    button_stand, _describe,
    suits={"edge": 15}, symbol=((-3 - 5j, -3 + 5j), (2 - 5j, 2 + 5j), (-1 - 3j, 1 - 3j), (-1 + 0j, 1 + 0j), (-1 + 3j, 1 + 3j)),
    asked_as=("buttonholes", "button band", "button front", "button placket", "closure"),
    refuses=_refuses, fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
))  # fmt: skip


# --- hooks and snaps -----------------------------------------------------------------------------------

SMALL = (("hook", "Hook and eye"), ("bar", "Trouser hook and bar"), ("snap", "Snap"))


def small_fastening(pattern: Pattern, context: Context, values: Values) -> Result:
    """Hooks or snaps along an edge, their places marked."""
    if not values["edges"]:
        raise Stuck(say("say at which edge they are sewn on"), "edges")
    piece, key = chosen_edges(pattern, values["edges"])[0]
    count, kind = int(values["count"]), str(values["kind"])
    path = Path.join(piece.walked(key))
    inset = float(values["inset"])
    if count > 1 and path.length / count < 10.0:
        raise Stuck(say("{count} of them don't go on {length}", count=count, length=Length(path.length)), "count")
    turn = 1j if not piece.run(key)[0].backwards else -1j
    marks: list[Feature] = []
    for number in range(count):
        at = path.length * (0.5 if count == 1 else (number + 0.5) / count)
        point = path.point_at(at) + path.direction_at(at) * turn * inset
        marks.append(cross_at("drill", f"{context.id}.{kind}_{number + 1}", "", point))
    label = next(label for name, label in SMALL if name == kind)
    sewn_on = notion(context.id, "snap" if kind == "snap" else "hook", label, count=count)
    return Result(with_part(pattern.with_piece(with_features(piece, marks)), notions=[sewn_on]))


register_step(Step(
    "hooks", "Hooks or snaps",
    "Small fastenings sewn on near an edge: a hook above a zip, a bar at a waistband, snaps where nothing must show. Each takes its share of the strain.",
    (Parameter("edges", "At the edge", "edges", (), most=1),
     Parameter("kind", "Kind", "choice", "hook", choices=SMALL),
     Parameter("count", "How many", "count", 1.0, 1.0, 40.0),
     Parameter("inset", "In from the edge", "length", 8.0, 0.0, 60.0)),
    small_fastening, lambda values: say("{count} × {kind}", count=f"{float(values.get('count', 0)):g}", kind=next((label for name, label in SMALL if name == values.get("kind")), "").lower()),
    suits={"edge": 18}, symbol=((-4 + 0j, 0 - 2j, 0 + 2j, -4 + 0j), (2 - 2j, 2 + 2j)),
    asked_as=("hook and eye", "hook and bar", "snap fastener", "press stud", "popper"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
))  # fmt: skip
