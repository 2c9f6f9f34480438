"""Pockets in a seam or behind a cut edge: in the side, slanted, welt. Their size comes from the hand."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import replace
from functools import partial
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path, arcs_as_cubics, area
from caddet.core.geometry.segments import Arc, Cubic, Line, Point, dot, unit
from caddet.core.parts.adding import (
    below,
    follows,
    grain_in,
    held,
    layer_of,
    made_by_part,
    notion,
    run_words,
    seam,
    with_part,
)
from caddet.core.pattern.closed import closed_run
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.dividing import pinned
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, on_seams, said
from caddet.core.pattern.ids import named_on, own_name
from caddet.core.pattern.notions import Share
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.seams import Part, Seam
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.openings import seam_of

ROOM = 25.4  # mm round the hand on every side: an inch, common practice
HAND_WIDTH, HAND_LENGTH = 85.0, 180.0  # mm, where the hand was never measured; common practice, no source
HAND = ("hand_width", "hand_length")
MOUTH = (
    1.65  # times the hand's width, a slanted pocket's mouth down the side: 5½ inches on an adult, 3 on a small child
)
USUAL_IN = 50.0  # mm
BESIDE_DART = 3.0  # mm of a waist that have to stay between a pocket's mouth and a dart or pleat
BELOW = 30.0  # mm of a side that have to stay below a pocket's opening


def hand_of(context: Context) -> tuple[float, float]:
    """Width and length of the wearer's hand in mm, measured or estimated."""
    return context.measures.get("hand_width", HAND_WIDTH), context.measures.get("hand_length", HAND_LENGTH)


def _bag_size(context: Context, values: Values) -> tuple[float, float]:
    """How wide and deep the bag is: as given, or the hand and an inch all round."""
    wide, long = hand_of(context)
    return float(values["bag_width"]) or wide + 2 * ROOM, float(values["bag_depth"]) or long + 2 * ROOM


# --- in the side seam --------------------------------------------------------------------------------


def side_pocket(pattern: Pattern, context: Context, values: Values) -> Result:
    """A pocket in a seam that runs down: two bags for each side, sewn to the open stretch of both edges and to each other."""
    piece, key = chosen_edges(pattern, values["edges"] or _side(pattern))[0]
    found = seam_of(pattern, piece, key)
    if found is None or len(found.layers) != 2:
        raise Stuck(say("the {run} is in no seam that a pocket could open in", run=run_words(piece, key)), "edges")
    if itself := _to_itself(pattern, found):
        raise Stuck(itself, "edges")
    down, opening = float(values["down"]), float(values["opening"]) or hand_of(context)[0] + 2 * ROOM + 25.0
    wide, deep = _bag_size(context, values)
    spans = {}
    for layer in found.layers:
        if len(layer) != 1:
            raise Stuck(say("the seam {seam} is in several parts; a pocket wants one edge", seam=found.label), "edges")
        other, edge = _run_of(pattern, layer[0])
        spans[layer[0]] = _span(other, edge, down, opening)
    rest = []
    for layer in found.layers:
        part = layer[0]
        low, high = spans[part]
        pieces = [replace(part, low=part.low, high=low), replace(part, low=high, high=part.high)]
        pieces = [one for one in pieces if one.high - one.low > 1e-6]
        rest.append(tuple(reversed(pieces)) if part.backwards else tuple(pieces))
    made: list[Piece] = []
    seams: list[Seam] = []
    keys: list[list[str]] = []
    draws = []
    for number, layer in enumerate(found.layers):
        part = layer[0]
        base, edge = _run_of(pattern, part)
        draw = partial(
            bag_piece, base=base.name, key=edge, step=context.id, size=(wide, deep, down, opening), second=number == 1
        )
        bag = draw(pattern)
        made.append(bag)
        draws.append(draw)
        keys.append([edge])
        low, high = spans[part]
        seams.append(
            seam(
                f"{context.id}.bag_{number + 1}",
                say("Pocket to the {run}", run=run_words(base, edge)),
                (replace(part, low=low, high=high),),
                layer_of(f"{bag.made}.opening"),
            )
        )
    bags = [layer_of(f"{bag.made}.round") for bag in made]
    seams.append(seam(f"{context.id}.round", say("Round the pocket"), bags[0], bags[1]))
    done = held(made, seams, say("it lies along the side seam, and in the waist seam where it reaches it"))
    fits = [follows(pattern, bag, ks, draw) for bag, ks, draw in zip(done, keys, draws, strict=True)]
    changed = pattern.with_seam(replace(found, layers=(rest[0], rest[1])))
    return Result(with_part(changed, done, seams, fits))


def _to_itself(pattern: Pattern, found: Seam) -> str:
    """Why no pocket opens in a seam that joins a piece to itself or to its other half; "" for another seam."""
    joined = [_run_of(pattern, layer[0])[0].name for layer in found.layers[:2]]
    if not found.closes() and joined[0] != joined[1]:
        return ""
    return say("the seam {seam} joins a piece to itself; a pocket opens between two pieces", seam=found.label)


def _refuses(pattern: Pattern, chosen: Values) -> str:
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        found = seam_of(pattern, piece, key)
        if found is not None and len(found.layers) == 2 and (itself := _to_itself(pattern, found)):
            return itself
    return on_seams(pattern, chosen)


def _run_of(pattern: Pattern, part: Part) -> tuple[Piece, str]:
    fragments = pattern.fragments(part)
    if not fragments:
        raise Stuck(say("one side of the seam is gone"), "edges")
    return fragments[0].piece, fragments[0].edge.name


def _side(pattern: Pattern) -> tuple[str, ...]:
    found = [key for piece in pattern.pieces for key in piece.runs_of("side") if not made_by_part(piece)]
    if not found:
        raise Stuck(say("there is no side seam here; say in which seam the pocket opens"), "edges")
    return (found[0],)


def _from_top(piece: Piece, key: str, at: float) -> float:
    """A distance along a run from its start for one from its upper end."""
    walked = piece.walked(key)
    return at if walked[0].start.imag <= walked[-1].end.imag else piece.run_length(key) - at


def _span(piece: Piece, key: str, down: float, opening: float) -> tuple[float, float]:
    """The positions of the open stretch of a run."""
    length = piece.run_length(key)
    if down + opening + BELOW > length:
        raise Stuck(
            say("the pocket would open past the end of the side, which is {length} long", length=Length(length)),
            "opening",
        )
    us = [piece.spot_at(key, _from_top(piece, key, at)).u for at in (down, down + opening)]
    return min(us), max(us)


def bag_piece(
    pattern: Pattern, base: str, key: str, step: str, size: tuple[float, float, float, float], second: bool
) -> Piece:
    """One bag of a pocket in a seam: its opening lies along the edge, the rest goes inwards and down. In the piece's frame."""
    piece = pattern.piece(base)
    wide, deep, down, opening = size
    at = sorted(_from_top(piece, key, one) for one in (down, down + opening))
    whole = closed_run(piece, key, at[0])
    line = whole.between(at[0], at[1])
    assert line is not None
    if line.start.imag > line.end.imag:
        line = line.reversed()
    inward = _inward(piece, key, line)
    a, b = line.start, line.end
    low = max(b.imag, a.imag + deep - opening * 0.2) + 20.0
    foot = complex(b.real + inward * 6.0, min(low, b.imag + deep * 0.5))
    far = a.real + inward * wide
    top = complex(a.real + inward * wide * 0.45, a.imag - 10.0)
    far_side = complex(far, a.imag + deep * 0.45)
    bottom = complex(a.real + inward * wide * 0.62, max(low, a.imag + deep))
    round_ = Path(
        (
            Cubic(b, b + 1j * 12.0, foot + 1j * 10.0 - inward * 2.0, foot + 1j * 14.0),
            Cubic(
                foot + 1j * 14.0,
                foot + 1j * 14.0 + complex(inward * 6.0, (bottom.imag - foot.imag) * 0.5),
                bottom - inward * wide * 0.3,
                bottom,
            ),
            Cubic(bottom, bottom + inward * wide * 0.25, far_side + 1j * deep * 0.28, far_side),
            Cubic(far_side, far_side - 1j * deep * 0.28, top + inward * wide * 0.3, top),
            Line(top, a),
        )
    )
    name = below(step, piece.made, "bag")
    ring = [Edge(named_on(name, "opening"), line), Edge(named_on(name, "round"), round_)]
    # both bags walk their round from the lower end of the opening up to its upper end
    if inward > 0:  # down the left edge and round is anticlockwise
        ring = [edge.reversed() for edge in reversed(ring)]
    forward = dot(whole.end - whole.start, b - a) > 0
    ring = [
        replace(
            e,
            pairs=((0.0, 0.0), (1.0, 1.0))
            if (e.path.start.imag < e.path.end.imag) == forward
            else ((0.0, 1.0), (1.0, 0.0)),
        )
        if own_name(e.name) == "opening"
        else replace(e, pairs=((0.0, 0.0), (1.0, 1.0)) if abs(e.path.start - b) < 1e-6 else ((0.0, 1.0), (1.0, 0.0)))
        for e in ring
    ]
    label = say("Pocket bag, back") if second else say("Pocket bag, front")
    return sound(
        Piece(
            name,
            label,
            tuple(ring),
            grain=grain_in([a, b, bottom, far_side]),
            cuts=(Cut("lining" if not second else "main", 2),),
            pair=True,
            zero=piece.zero,
            remark=say("understitched to the seam allowance at its opening; a stay tape along the front's edge"),
        )
    )


def _inward(piece: Piece, key: str, line: Path) -> float:
    """On which side of an edge that runs down its piece lies: 1 to the right, −1 to the left."""
    xs = [p.real for p in piece.polygon(2.0)]
    return 1.0 if (min(xs) + max(xs)) / 2 > line.point_at(line.length / 2).real else -1.0


def _describe_side(values: Values) -> Sentence:
    where = said(values["edges"][0]) if values.get("edges") else say("side seam")
    return say("pocket in the {edge}, {down} down", edge=where, down=Length(float(values.get("down", 0.0))))


def _no_side(pattern: Pattern) -> str:
    return (
        ""
        if any(not p.run(k)[0].finish for p in pattern.pieces for k in p.runs())
        else say("there is no seam for a pocket here")
    )


BAG = (
    Parameter("bag_width", "Bag, wide", "length", 0.0, 0.0, 350.0, why="0 takes the hand and an inch on every side."),
    Parameter("bag_depth", "Bag, deep", "length", 0.0, 0.0, 450.0, why="0 takes the hand and an inch at both ends."),
)

register_step(Step(
    "side_pocket", "Pocket in a seam",
    "The side seam is left open a hand's width, and a bag is sewn to both edges and round. The hand with an inch on every side goes in. A stay tape keeps the front's edge from stretching.",
    (Parameter("edges", "In the seam", "edges", (), most=1, why="None means the side."),
     Parameter("down", "Opens, below the top", "length", 40.0, 0.0, 600.0, hand=Hand("along", "edges", "start")),
     Parameter("opening", "Opening", "length", 0.0, 0.0, 300.0, why="0 takes the hand's width and an inch at both ends, and room to slip in."), *BAG),
    side_pocket, _describe_side,
    suits={"seam": 7, "edge": 14}, key="", symbol=((-1 - 5j, -1 - 2j), (-1 + 2j, -1 + 5j), (-1 - 2j, 4 - 1j, 4 + 4j, 0 + 4j, -1 + 2j)),
    asked_as=("side pocket", "in-seam pocket", "pockets"), refuses=_refuses, fits=_no_side, reads=lambda values: HAND,
    source="the hand and 1 inch on every side: common practice, no source",
))  # fmt: skip


# --- slanted -----------------------------------------------------------------------------------------


def slanted_pocket(pattern: Pattern, context: Context, values: Values) -> Result:
    """Cut the front away between waist and side; a bag faces the cut, a back bag brings the corner back."""
    pieces = chosen_pieces(pattern, values["pieces"]) or _fronts(pattern)
    for number, piece in enumerate(pieces):
        pattern = _slanted(
            pattern, piece, f"{context.id}.{number + 1}" if len(pieces) > 1 else context.id, context, values
        )
    return Result(pattern)


def _fronts(pattern: Pattern) -> list[Piece]:
    found = [
        p
        for p in pattern.pieces
        if p.runs_of("waist") and p.runs_of("side") and p.covers == "front" and not made_by_part(p)
    ]
    if not found:
        raise Stuck(say("there is no front with a waist and a side here; say which piece"), "pieces")
    return found[:1]


def _slanted(pattern: Pattern, piece: Piece, step: str, context: Context, values: Values) -> Pattern:
    sides, waists = piece.runs_of("side"), piece.runs_of("waist")
    if not sides or not waists:
        raise Stuck(say("the {piece} has no corner of waist and side", piece=piece.label.lower()), "pieces")
    side, waist = sides[0], waists[0]
    in_, down = float(values["in"]), float(values["down"]) or hand_of(context)[0] * MOUTH
    wide, deep = _bag_size(context, values)
    waist_length, side_length = _nearest_part(piece, waist, side), piece.run_length(side)
    if in_ + BESIDE_DART > waist_length:
        raise Stuck(
            say("the waist has only {length} before a dart, a pleat or its end", length=Length(waist_length)), "in"
        )
    if max(down, deep) + BELOW > side_length:
        raise Stuck(
            say("the pocket is longer than the side, which is {length}", length=Length(side_length)),
            "down" if down + BELOW > side_length else "bag_depth",
        )
    a = _from_corner(piece, waist, side, in_)
    b = piece.spot_at(side, _from_top(piece, side, down))
    bow = float(values["curve"])
    p, q = piece.where(a), piece.where(b)
    corner = _corner(piece, waist, side)
    way = corner - (p + q) / 2
    through = ((p + q) / 2 - unit(way) * bow,) if bow > 0.5 and abs(way) > 1 else ()
    try:
        done = cut_piece(pattern, piece, CutLine(a, b, through, True), step, ("", ""), say("Pocket"))
    except Refused as refused:
        raise Stuck(str(refused), "in") from refused
    parts = [one for one in done.pieces if one.made == piece.made and one.marks - piece.marks]
    corner_piece = min(parts, key=lambda one: abs(_area(one)))
    front = next(one for one in parts if one is not corner_piece)
    front_cut = next(e for e in front.edges if e.name == f"{step}.cut")
    name = below(step, piece.made, "pocket")
    outline = _bag_outline(piece, corner_piece, waist, side, step, wide, deep)
    back = _back_bag(corner_piece, outline, step)
    bag = _front_bag(piece, front_cut, outline, name, step)
    front_ref = layer_of(front_cut.name, front_cut.marks)
    seams = [
        seam(f"{step}.opening", say("Pocket opening"), front_ref, layer_of(named_on(name, "opening"))),
        seam(f"{step}.bags", say("Round the pocket"), layer_of(f"{step}.round"), layer_of(named_on(name, "round"))),
    ]
    tape_words = say("caught in the seams of waist and side, under the front")
    (bag,) = held([bag], seams, tape_words)
    (back,) = _held_corner(back, seams, tape_words, step)
    label = replace(front, label=piece.label)
    pieces = tuple(
        label if one.name == front.name else back if one.name == corner_piece.name else one for one in done.pieces
    )
    kept = tuple(one for one in done.seams if one.name != f"{step}.seam")
    done = replace(done, pieces=pieces, seams=kept)
    done = replace(done, shown=tuple(one for one in done.shown))
    tape = Share(front_ref, 1.0, say("opening"))
    stay = notion(step, "tape", say("Stay tape"), [tape], [(say("to hold"), 20.0)], count=2)
    return with_part(done, [bag], seams, notions=[stay])


def _area(piece: Piece) -> float:
    return area(piece.polygon(1.0))


def _nearest_part(piece: Piece, waist: str, side: str) -> float:
    """How much of the waist lies between the side and the first dart or pleat."""
    block, other = block_of(piece, waist), block_of(piece, side)
    edge = piece.edges[block.last] if (block.last + 1) % len(piece.edges) == other.first else piece.edges[block.first]
    ends = [bit.a for f in piece.features if f.kind == "pleat" for bit in f.bits]
    pleats = [piece.along(end) for end in ends if isinstance(end, Spot) and end.edge == waist and piece.holds_spot(end)]
    whole = piece.run_length(waist)
    from_end = _corner_at_end(piece, waist, side)
    free = [whole - p if from_end else p for p in pleats]
    return min([edge.path.length, *free])


def _corner_at_end(piece: Piece, waist: str, side: str) -> bool:
    """Whether the waist, in its maker's direction, ends at the side."""
    walked = piece.walked(waist)
    sides = [path for path in piece.walked(side)]
    ends = [sides[0].start, sides[-1].end]
    return min(abs(walked[-1].end - e) for e in ends) < min(abs(walked[0].start - e) for e in ends)


def _corner(piece: Piece, waist: str, side: str) -> Point:
    walked = piece.walked(waist)
    return walked[-1].end if _corner_at_end(piece, waist, side) else walked[0].start


def _from_corner(piece: Piece, waist: str, side: str, at: float) -> Spot:
    whole = piece.run_length(waist)
    return piece.spot_at(waist, whole - at if _corner_at_end(piece, waist, side) else at)


def _bag_outline(
    piece: Piece, corner: Piece, waist: str, side: str, step: str, wide: float, deep: float
) -> tuple[Path, Path, Path]:
    """What the bag has beyond the cut: along the waist inwards, round, and along the side up to the cut. In the piece's frame."""
    cut = next(e for e in corner.edges if e.name == f"{step}.cut")
    top, low = sorted((cut.path.start, cut.path.end), key=lambda p: p.imag)
    at = _corner(piece, waist, side)
    whole_waist = closed_run(piece, waist, piece.run_length(waist) if _corner_at_end(piece, waist, side) else 0.0)
    whole_side = closed_run(piece, side, piece.nearest_on_run(side, low)[1])
    inward = 1.0 if (top - at).real > 0 else -1.0
    along = whole_waist.nearest(top)[1]
    room = along if _corner_at_end(piece, waist, side) else whole_waist.length - along
    further = min(max(wide - abs(top - at), 40.0), max(room - 5.0, 15.0))
    first = (
        whole_waist.between(along - further, along)
        if _corner_at_end(piece, waist, side)
        else whole_waist.between(along, along + further)
    )
    assert first is not None
    over = first.reversed() if abs(first.end - top) < abs(first.start - top) else first  # from the cut inwards
    start_at = whole_side.nearest(low)[1]
    down_first = whole_side.start.imag < whole_side.end.imag
    more = max(deep - abs(low.imag - at.imag), 50.0)
    span = (start_at, start_at + more) if down_first else (start_at - more, start_at)
    part = whole_side.between(*span)
    if part is None:
        raise Refused(say("the side ends where the pocket does: there is no room below for its bag"), "down")
    up = part.reversed() if down_first else part  # from its lower end up to the cut
    over, up = _begun_at(over, top), _begun_at(up.reversed(), low).reversed()
    a, b = over.end, up.start
    bottom = complex(a.real - inward * abs(a.real - b.real) * 0.45, b.imag + 15.0)
    round_ = Path(
        (
            Cubic(a, a + 1j * deep * 0.45, bottom + inward * abs(a.real - b.real) * 0.3, bottom),
            Cubic(bottom, bottom - inward * abs(a.real - b.real) * 0.25, b + complex(inward * 12.0, 10.0), b),
        )
    )
    return over, round_, up


def _begun_at(path: Path, start: Point) -> Path:
    """The path begun exactly where the cut ends; it was found on the whole outline to a hundredth of a millimetre."""
    first, *others = arcs_as_cubics(path).segments
    assert not isinstance(first, Arc)
    return Path((replace(first, start=start), *others))


def _back_bag(corner: Piece, outline: tuple[Path, Path, Path], step: str) -> Piece:
    """The corner that was cut away with the bag grown on: it shows in the pocket's mouth."""
    over, round_, up = outline
    index = next(n for n, e in enumerate(corner.edges) if e.name == f"{step}.cut")
    cut = corner.edges[index]
    from_top = abs(cut.path.start - over.start) < abs(cut.path.end - over.start)
    parts = [(f"{step}.over", over), (f"{step}.round", round_), (f"{step}.beside", up)]
    edges = [Edge(name, path) for name, path in parts]
    if not from_top:
        edges = [edge.reversed() for edge in reversed(edges)]
    ring = (*corner.edges[:index], *edges, *corner.edges[index + 1 :])
    made = corner.with_edges(ring)
    return sound(
        replace(
            made,
            label=say("Pocket back"),
            cuts=(Cut("main", corner.cut),),
            features=tuple(pinned(corner, f, {cut.name}) for f in corner.features if f.kind == "level"),
            notches=corner.notches,
            grain=_shifted(corner, made),
        )
    )


def _shifted(corner: Piece, made: Piece) -> Grain:
    along = unit(corner.grain.b - corner.grain.a)
    middle = sum((p for e in made.edges for p in (e.path.start,)), 0j) / len(made.edges)
    return replace(corner.grain, a=middle - along * 45, b=middle + along * 45)


def _front_bag(piece: Piece, cut: Edge, outline: tuple[Path, Path, Path], name: str, step: str) -> Piece:
    """The bag that faces the front's cut edge."""
    over, round_, up = outline
    del step
    from_top = abs(cut.path.start - over.start) < abs(cut.path.end - over.start)
    opening = replace(cut, name=named_on(name, "opening"), marks=frozenset())
    opening = opening if not from_top else opening.reversed()  # from the side up to the waist
    edges = [
        opening,
        Edge(named_on(name, "over"), over),
        Edge(named_on(name, "round"), round_),
        Edge(named_on(name, "beside"), up),
    ]
    points = [p for edge in edges for p in edge.path.flattened(0.5)[1:]]
    if area(points) < 0:
        edges = [edge.reversed() for edge in reversed(edges)]
    return sound(
        Piece(name, say("Pocket bag"), tuple(edges), grain=replace(piece.grain, a=_mid(points) - 45j, b=_mid(points) + 45j), cuts=(Cut("lining", piece.cut * (2 if piece.fold else 1)),), pair=True, zero=piece.zero, remark=say("understitched along the opening"))
    )  # fmt: skip


def _mid(points: list[Point]) -> Point:
    return sum(points, 0j) / len(points)


def _held_corner(back: Piece, seams: list[Seam], why: str, step: str) -> list[Piece]:
    edges = [
        replace(e, finish="joined", why=why) if e.name in (f"{step}.over", f"{step}.beside") else e for e in back.edges
    ]
    del seams
    return [back.with_edges(edges)]


def _describe_slanted(values: Values) -> Sentence:
    return say(
        "slanted pocket, {in_} in and {down} down",
        in_=Length(float(values.get("in", 0.0))),
        down=Length(float(values.get("down", 0.0))),
    )


NARROWEST_MOUTH, STEPS_OF = 20.0, 5.0  # mm


def _mouth_that_fits(pattern: Pattern, chosen: Values) -> Mapping[str, Any]:
    """As far in at the waist as a dart or pleat leaves room, where that is less than usual."""
    with suppress(CaddetError):
        for piece in chosen_pieces(pattern, chosen.get("pieces") or ()) or _fronts(pattern):
            if not piece.runs_of("waist") or not piece.runs_of("side"):
                continue
            room = _nearest_part(piece, piece.runs_of("waist")[0], piece.runs_of("side")[0]) - BESIDE_DART
            if NARROWEST_MOUTH <= room < USUAL_IN:
                return {"in": room // STEPS_OF * STEPS_OF}
    return {}


register_step(Step(
    "slanted_pocket", "Slanted pocket",
    "The front is cut away between waist and side, straight or curved. A bag faces the cut; a second one behind it has the corner that shows in the mouth of the pocket, and is sewn into waist and side in the front's place.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means the front."),
     Parameter("in", "In at the waist", "length", USUAL_IN, 15.0, 200.0, why=say("About {5 cm}; for a small child the same.")),
     Parameter("down", "Down the side", "length", 0.0, 0.0, 300.0, why=say("0 takes it from the hand: about {14 cm}, for a small child {7.6 cm}.")),
     Parameter("curve", "Curved by", "length", 0.0, 0.0, 60.0, why="0 is a straight mouth."), *BAG),
    slanted_pocket, _describe_slanted,
    suits={"piece": 15, "corner": 6}, symbol=((-5 - 5j, 5 - 5j, 5 + 5j, -5 + 5j, -5 - 5j), (0 - 5j, 5 + 1j)),
    asked_as=("cut-away pocket", "front hip pocket", "jeans pocket", "trouser pocket"),
    fits=lambda pattern: "" if any(p.runs_of("waist") and p.runs_of("side") for p in pattern.pieces) else say("no piece here has a waist and a side"),
    usual=_mouth_that_fits, reads=lambda values: HAND,
    source="opening about 2 by 5½ inches, a small child's 2 by 3: common practice, no source",
))  # fmt: skip
