"""Parts that are sewn on top: patch pockets with flaps, the kangaroo pocket, the welt, belts and loops, motifs' places.

Each leaves its outline on the piece it is sewn to, as a placement that goes where the cloth goes.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import shapely

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, Segment
from caddet.core.parts.adding import (
    ROLES,
    below,
    box,
    drawn,
    grain_in,
    made_by_part,
    notion,
    with_features,
    with_part,
    with_whys,
)
from caddet.core.parts.pockets import BAG, HAND, ROOM, hand_of
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.features import Feature, Notch
from caddet.core.pattern.finding import chosen_pieces
from caddet.core.pattern.hanging import below_the_waist, hang_at
from caddet.core.pattern.ids import named_on, reference, with_word
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.promises import Across, Promise, Run
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.framing import frame_point

TURN = 30.0  # mm, the deep turn at a patch pocket's mouth: 1 cm and 2 cm, common practice
CLEAR = 12.0  # mm a part on top keeps from edges and darts
WELT_BAG = 12.0  # mm a welt's bag is wider than its mouth on either side
SHAPES = (
    ("square", "Square"),
    ("rounded", "Rounded corners"),
    ("pointed", "Pointed"),
    ("kangaroo", "Kangaroo: slanted mouths, on the centre"),
)


def _outline(wide: float, deep: float, shape: str) -> list[tuple[str, tuple[Segment, ...]]]:
    """The edges of a patch from its upper left corner, clockwise: mouth, and what is stitched on."""
    a, b, c, d = 0j, complex(wide, 0), complex(wide, deep), complex(0, deep)
    if shape == "kangaroo":
        top = wide * 0.22
        return [
            ("top", (Line(complex(top, 0), complex(wide - top, 0)),)),
            ("mouth_right", (Line(complex(wide - top, 0), complex(wide, deep * 0.6)),)),
            ("sides", (Line(complex(wide, deep * 0.6), c), Line(c, d), Line(d, complex(0, deep * 0.6)))),
            ("mouth_left", (Line(complex(0, deep * 0.6), complex(top, 0)),)),
        ]
    if shape == "pointed":
        tip = complex(wide / 2, deep)
        e, f = complex(wide, deep * 0.86), complex(0, deep * 0.86)
        return [("mouth", (Line(a, b),)), ("sides", (Line(b, e), Line(e, tip), Line(tip, f), Line(f, a)))]
    if shape == "rounded":
        r = min(wide, deep) * 0.2
        k = r * 0.5523
        p, q, s, t = c - 1j * r, c - r, d + r, d - 1j * r
        return [
            ("mouth", (Line(a, b),)),
            (
                "sides",
                (Line(b, p), Cubic(p, p + 1j * k, q + k, q), Line(q, s), Cubic(s, s - k, t + 1j * k, t), Line(t, a)),
            ),
        ]
    return [("mouth", (Line(a, b),)), ("sides", (Line(b, c), Line(c, d), Line(d, a)))]


BELOW_WAIST, DEEP_BELOW = (
    0.45,
    90.0,
)  # of the way to the hip, or mm: where a pocket begins below a waist; common practice


def _frame(piece: Piece, at: Point) -> tuple[Point, Point]:
    """Down and across on a piece as it hangs at a place, and to the right of that as drawn."""
    down = hang_at(piece, at)
    return down, down * -1j


def _placed(pattern: Pattern, values: Values, deep: float = 0.0, pocket: bool = True) -> tuple[Piece, Point]:
    """The piece a part is put on, and the middle of its upper edge. Raises :class:`Stuck`."""
    if values["at"]:
        return frame_point(pattern, values["at"][0], "at")
    pieces = chosen_pieces(pattern, values.get("pieces") or ()) or [
        p for p in pattern.pieces if p.covers == "front" and not made_by_part(p)
    ]
    if not pieces:
        raise Stuck(say("say on which piece, and where"), "at")
    piece = pieces[0]
    below = below_the_waist(piece, BELOW_WAIST, DEEP_BELOW) if pocket and values.get("shape") != "kangaroo" else None
    if below is not None:
        return piece, below
    left, top, right, bottom = piece.outline().bounds()
    middle = piece.centre_x if piece.fold else (left + right) / 2
    y = min(top + (bottom - top) * 0.55, bottom - deep - 70.0)
    hits = sorted(p.real for _, p in piece.outline().crossings(complex(left, y), complex(right, y)))
    across = (hits[0] + hits[-1]) / 2 if len(hits) > 1 else (left + right) / 2
    return piece, complex(middle if values.get("shape") == "kangaroo" else across, y)


def _inside(piece: Piece, points: list[Point], what: str, findings: list[Finding], place: str) -> None:
    """Raise :class:`Stuck` when a part leaves its piece; a finding when it comes too near to an edge or a dart."""
    shape: Any = shapely.Polygon([(p.real, p.imag) for p in piece.polygon(0.5)])
    part = shapely.Polygon([(p.real, p.imag) for p in points])
    if piece.fold and any(edge.finish == "fold" for edge in piece.edges):
        fold = next(edge for edge in piece.edges if edge.finish == "fold")
        over = Motion.reflection(fold.path.start, fold.path.end)
        other = shapely.Polygon([(over(p).real, over(p).imag) for p in piece.polygon(0.5)])
        shape = shape.union(other.buffer(0.05))
    if not shape.buffer(0.1).covers(part):
        raise Stuck(
            say(
                "the {what} would lie beyond the edge of the {piece}; make it smaller or move it",
                what=what,
                piece=piece.label.lower(),
            ),
            "at",
        )
    darts = [shapely.Polygon([(p.real, p.imag) for p in piece.legs(d.id)[1:]]) for d in piece.darts]
    if shape.boundary.distance(part) < CLEAR or any(one.distance(part) < CLEAR for one in darts):
        words = say(
            "The {what} comes nearer than {room} to an edge or a dart: its stitching would run into the seam.",
            what=what,
            room=Length(CLEAR),
        )
        findings.append(Finding("part.near", words, place, "look"))


def patch_pocket(pattern: Pattern, context: Context, values: Values) -> Result:
    """A pocket sewn on top, with a flap if wanted."""
    shape = str(values["shape"])
    hand_wide, hand_long = hand_of(context)
    wide = float(values["wide"]) or (hand_wide * 2.6 if shape == "kangaroo" else hand_wide + 2 * ROOM)
    deep = float(values["deep"]) or (hand_long * 0.95 if shape == "kangaroo" else hand_long * 0.72 + ROOM)
    piece, at = _placed(pattern, values, deep)
    down, across = _frame(piece, at)
    on_fold = bool(piece.fold) and abs(at.real - piece.centre_x) < wide / 2
    if on_fold:
        at = complex(piece.centre_x, at.imag)
    origin = at - across * wide / 2
    lay = Motion(across, origin)
    edges = _outline(wide, deep, shape)
    name = below(context.id, piece.made, "pocket")
    findings: list[Finding] = []
    place = f"recipe[{context.id}].at"
    points = [lay(p) for _, segments in edges for p in Path(segments).flattened(0.3)[1:]]
    _inside(piece, points, say("pocket"), findings, place)
    made_edges = tuple(
        Edge(
            named_on(name, own),
            Path(segments),
            "hem" if own.startswith("mouth") else "turned",
            allowance=TURN if own == "mouth" else 20.0 if own.startswith("mouth") else 10.0,
        )
        for own, segments in edges
    )
    count = 1 if on_fold else piece.cut * (2 if piece.fold else 1)
    label = say("Kangaroo pocket") if shape == "kangaroo" else say("Patch pocket")
    pocket = Piece(
        name,
        label,
        made_edges,
        grain=grain_in([e.path.start for e in made_edges] + [complex(wide, deep)]),
        cuts=(Cut(str(values["cloth"]), count),),
        remark=say("mouth turned and stitched first; sides pressed in over a card, corners mitred"),
    )
    stitched = [(own, segments) for own, segments in edges if not own.startswith("mouth")]
    features = [
        _line(with_word(name, own), label, [lay(p) for p in Path(segments).flattened(0.05)])
        for own, segments in stitched
    ]
    pieces = [pocket]
    flap = float(values["flap"])
    if flap > 0 and shape != "kangaroo":
        top = at - down * 15.0 - across * (wide + 6.0) / 2
        flap_points = [top, top + across * (wide + 6.0)]
        flap_name = below(context.id, piece.made, "flap")
        outline = _outline(wide + 6.0, flap, "rounded" if shape == "square" else shape)
        flap_edges = [
            Edge(
                f"{flap_name}.{'top' if own == 'mouth' else 'round'}",
                Path(segments),
                "turned" if own == "mouth" else "joined",
                why="" if own == "mouth" else say("its two layers are sewn together here and turned"),
            )
            for own, segments in outline
        ]
        corners = [complex(0, 0), complex(wide + 6.0, 0), complex(wide + 6.0, flap), complex(0, flap)]
        pieces.append(
            Piece(
                flap_name,
                say("Pocket flap"),
                tuple(flap_edges),
                grain=grain_in(corners),
                cuts=(Cut(str(values["cloth"]), count * 2), Cut("interfacing", count)),
                remark=say("two layers, the under one a little smaller (turn of cloth)"),
            )
        )
        _inside(piece, [*flap_points, flap_points[1] + down, flap_points[0] + down], say("flap"), findings, place)
        features.append(_line(f"{flap_name}_top", say("flap"), flap_points))
    _past_facing(piece, points, findings, place)
    promises = [
        Promise(
            with_word(name, own),
            say("{pocket} lies on its line", pocket=label),
            (Run(reference(named_on(name, own))), Across(piece.name, with_word(name, own), -1.0)),
            0.0,
            say("stitched on all round"),
        )
        for own, _ in stitched
    ]
    changed = pattern.with_piece(with_features(piece, features))
    changed = replace(changed, promises=(*changed.promises, *promises))
    return Result(with_part(changed, pieces), findings=tuple(findings))


def _line(name: str, label: str, points: list[Point]) -> Feature:
    return drawn("placement", name, label, points)


HEM_TURN = 40.0  # mm that a hem is turned up at most, as a rule


def _past_facing(piece: Piece, points: list[Point], findings: list[Finding], place: str) -> None:
    """A finding when a pocket hangs below the hem's turn or runs over a facing's edge."""
    hems = [edge.path for edge in piece.edges if edge.finish == "hem"]
    if any(hem.nearest(p)[0] < HEM_TURN for hem in hems for p in points):
        findings.append(
            Finding(
                "part.hem",
                say("The pocket reaches into the turn of the hem: move it up, or make it shorter."),
                place,
                "look",
            )
        )


def _describe_patch(values: Values) -> Sentence:
    kind = say("kangaroo pocket") if values.get("shape") == "kangaroo" else say("patch pocket")
    wide = float(values.get("wide", 0.0))
    if wide > 0:
        kind = say("{kind}, {wide} wide", kind=kind, wide=Length(wide))
    if float(values.get("flap", 0.0)) > 0:
        return say("{kind}, flap of {flap}", kind=kind, flap=Length(float(values["flap"])))
    return kind


AT = Parameter(
    "at",
    "Middle of its upper edge",
    "points",
    (),
    most=1,
    optional=True,
    why="Click where it goes. Without a place it lies in the middle of the front.",
)
ON = Parameter("pieces", "On the piece", "pieces", (), most=1)

register_step(Step(
    "patch_pocket", "Patch pocket",
    "A pocket stitched on top. Its mouth is turned twice first, the sides are pressed in, the corners mitred. The hand goes in with an inch on every side; it keeps clear of seams, darts and the hem's turn.",
    (ON, AT, Parameter("shape", "Shape", "choice", "square", choices=SHAPES),
     Parameter("wide", "Wide", "length", 0.0, 0.0, 600.0, why="0 takes it from the hand."),
     Parameter("deep", "Deep", "length", 0.0, 0.0, 500.0, why="0 takes it from the hand."),
     Parameter("flap", "Flap, deep", "length", 0.0, 0.0, 200.0, why="0 is without one."),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    patch_pocket, _describe_patch,
    suits={"piece": 16}, symbol=((-4 - 4j, 4 - 4j, 4 + 5j, -4 + 5j, -4 - 4j), (-4 - 2j, 4 - 2j)),
    asked_as=("pocket on top", "breast pocket", "kangaroo pocket", "pocket with a flap", "pouch"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"), reads=lambda values: HAND,
))  # fmt: skip


# --- the welt ----------------------------------------------------------------------------------------


def welt_pocket(pattern: Pattern, context: Context, values: Values) -> Result:
    """A slot cut into the piece, its lower lip a welt that stands up; two bags hang behind it."""
    piece, at = _placed(pattern, values)
    down, across = _frame(piece, at)
    wide, welt = float(values["width"]) or hand_of(context)[0] + ROOM, float(values["welt"])
    deep = float(values["bag_depth"]) or hand_of(context)[1] * 0.75
    slope = Motion.rotation(float(values["slope"]) * 3.141592653589793 / 180.0, at)
    corners = [
        slope(at - across * wide / 2 + down * y + across * x) for x, y in ((0, 0), (wide, 0), (wide, welt), (0, welt))
    ]
    findings: list[Finding] = []
    place = f"recipe[{context.id}].at"
    _inside(piece, corners, say("welt"), findings, place)
    reach = [
        slope(at - across * (wide / 2 + WELT_BAG) + down * y + across * x)
        for x, y in ((0, 0), (wide + 2 * WELT_BAG, 0), (wide + 2 * WELT_BAG, deep), (0, deep))
    ]
    shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon(0.5)])
    if not shape.buffer(60.0 if piece.fold else 1.0).covers(shapely.Polygon([(p.real, p.imag) for p in reach])):
        findings.append(
            Finding(
                "part.bag",
                say(
                    "The bag behind the welt would hang past the edge of the {piece}; make it less deep.",
                    piece=piece.label.lower(),
                ),
                place,
                "look",
            )
        )
    count = piece.cut * (2 if piece.fold else 1)
    name = below(context.id, piece.made, "welt")
    made = [_lip(name, wide, welt, str(values["cloth"]), count), _welt_bag(name, wide, deep, count)]
    features = [
        drawn("placement", with_word(name, "box"), say("welt"), corners, closed=True),
        drawn(
            "line",
            with_word(name, "slot"),
            say("cut here last, in a Y at both ends"),
            [(corners[0] + corners[3]) / 2, (corners[1] + corners[2]) / 2],
        ),
    ]
    changed = pattern.with_piece(with_features(piece, features))
    promise = Promise(
        with_word(name, "base"),
        say("Welt lies on its line"),
        (
            Run(reference(named_on(name, "base")), 2.0),
            Run(reference(named_on(name, "left")), 1.0),
            Across(piece.name, with_word(name, "box"), -1.0),
        ),
        0.0,
        say("the welt's base is sewn to the slot"),
    )
    return Result(with_part(replace(changed, promises=(*changed.promises, promise)), made), findings=tuple(findings))


def _lip(name: str, wide: float, welt: float, cloth: str, count: int) -> Piece:
    """The lip of a welt pocket, folded lengthwise."""
    lip = box(
        name,
        say("Welt"),
        wide,
        2 * welt,
        ("fold_side", "right", "base", "left"),
        ("joined", "joined", "joined", "joined"),
        cut=count,
        cloth=(cloth, "interfacing"),
        remark=say("folded lengthwise, its ends sewn and turned"),
    )
    lip = with_whys(
        lip,
        {
            "fold_side": say("sewn with the bag to the lower line of the slot"),
            "base": say("sewn to the lower line of the slot"),
            "right": say("its ends are sewn together and turned"),
            "left": say("its ends are sewn together and turned"),
        },
    )
    return with_features(
        lip,
        [drawn("fold_line", named_on(name, "welt_fold"), say("fold here"), [complex(0, welt), complex(wide, welt)])],
    )


def _welt_bag(name: str, wide: float, deep: float, count: int) -> Piece:
    """One bag of a welt pocket; two lie behind each slot."""
    bag = box(
        with_word(name, "bag"),
        say("Welt pocket, bag"),
        wide + 2 * WELT_BAG,
        deep + 20.0,
        ("top", "right", "bottom", "left"),
        ("joined", "joined", "joined", "joined"),
        cut=count * 2,
        cloth=("lining",),
        upright=True,
    )
    return with_whys(
        bag,
        {
            "top": say("sewn to the slot, one bag to its lower and one to its upper line"),
            "right": say("the two bags are sewn together"),
            "bottom": say("the two bags are sewn together"),
            "left": say("the two bags are sewn together"),
        },
    )


register_step(Step(
    "welt_pocket", "Welt pocket",
    "A slot in the piece with one lip that stands up over it. Mark and stitch both lines first, cut between them last and in a Y into the corners. Scissors with a fine point; a blade slips.",
    (ON, AT, Parameter("width", "Mouth, wide", "length", 0.0, 0.0, 250.0, why="0 takes the hand's width and an inch."),
     Parameter("welt", "Welt, high", "length", 20.0, 8.0, 50.0),
     Parameter("slope", "Sloped by", "angle", 0.0, -60.0, 60.0),
     BAG[1], Parameter("cloth", "Welt cut from", "choice", "main", choices=ROLES)),
    welt_pocket, lambda values: say("welt pocket, {welt} high", welt=Length(float(values.get("welt", 0.0)))),
    suits={"piece": 18}, symbol=((-5 - 1j, 5 - 1j, 5 + 2j, -5 + 2j, -5 - 1j),),
    asked_as=("slot pocket", "waistcoat pocket", "jetted pocket", "inside pocket"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"), reads=lambda values: HAND,
))  # fmt: skip


# --- belts and loops -----------------------------------------------------------------------------------


def half_belt(pattern: Pattern, context: Context, values: Values) -> Result:
    """A belt across a piece, buttoned or stitched on at its ends, or caught in the seams beside."""
    piece, at = _placed(pattern, values, pocket=False)
    left, _, right, _ = piece.outline().bounds()
    deep, across_ = float(values["depth"]), float(values["length"])
    hits = sorted(p.real for _, p in piece.outline().crossings(complex(left, at.imag), complex(right, at.imag)))
    if len(hits) < 2:
        raise Stuck(say("the belt would lie beyond the {piece}", piece=piece.label.lower()), "at")
    here = (hits[-1] - hits[0]) * piece.worn
    wide = across_ or here
    if wide > here + 1.0:
        raise Stuck(
            say(
                "the belt is longer than the {piece} is wide there ({here})",
                piece=piece.label.lower(),
                here=Length(here),
            ),
            "length",
        )
    whole = str(values["ends"]) == "seams"
    name = below(context.id, piece.made, "half_belt")
    end: Finish = "joined" if whole else "turned"
    belt = box(
        name,
        say("Half belt"),
        here if whole else wide,
        deep,
        ("top", "right", "bottom", "left"),
        ("turned", end, "turned", end),
        cut=2,
        cloth=("main",),
        remark=say("two layers, sewn and turned"),
    )
    belt = with_whys(
        replace(belt, cuts=(*belt.cuts, Cut("interfacing", 1))),
        {"left": say("caught in the seam beside the piece"), "right": say("caught in the seam beside the piece")}
        if whole
        else {},
    )
    half = (here if whole else wide) / piece.worn
    x0 = (
        piece.centre_x
        if piece.worn == 2 and piece.fold
        else (hits[0] if piece.worn == 2 else (hits[0] + hits[-1]) / 2 - half / 2)
    )
    if piece.fold and abs(hits[0] - piece.centre_x) > abs(hits[-1] - piece.centre_x):
        x0 = piece.centre_x - half
    corners = [
        complex(x0, at.imag),
        complex(x0 + half, at.imag),
        complex(x0 + half, at.imag + deep),
        complex(x0, at.imag + deep),
    ]
    mark = drawn("placement", with_word(name, "on"), say("half belt"), corners, closed=True)
    buttons = (
        []
        if whole
        else [notion(context.id, "button", say("Button, {size}", size=Length(float(values["button"]))), count=2)]
    )
    return Result(with_part(pattern.with_piece(with_features(piece, [mark])), [belt], notions=buttons))


register_step(Step(
    "half_belt", "Half belt",
    "A belt across the back only: it draws the waist in or marks it. Two layers, turned; its ends are caught in the seams or buttoned on.",
    (ON, AT, Parameter("length", "Length", "length", 0.0, 0.0, 900.0, only=("ends", ("buttons",)), why="0 goes from side to side."),
     Parameter("depth", "Deep", "length", 45.0, 10.0, 120.0),
     Parameter("ends", "Its ends", "choice", "seams", choices=(("seams", "In the seams"), ("buttons", "Buttoned on"))),
     Parameter("button", "Button", "length", 20.0, 8.0, 60.0, only=("ends", ("buttons",)))),
    half_belt, lambda values: say("half belt, {deep} deep", deep=Length(float(values.get("depth", 0.0)))),
    suits={"piece": 22}, symbol=((-5 - 2j, 5 - 2j, 5 + 1j, -5 + 1j, -5 - 2j),),
    asked_as=("martingale", "back belt", "belt at the back"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
))  # fmt: skip


def belt_loops(pattern: Pattern, context: Context, values: Values) -> Result:
    """Loops for a belt on the waist: one strip for all of them, their places marked."""
    count, belt, wide = int(values["count"]), float(values["belt"]), float(values["width"])
    each = belt + 20.0 + 20.0  # room for the belt, and a turn at both ends
    name = f"{context.id}.belt_loops"
    strip = box(
        name,
        say("Belt loops"),
        each * count,
        wide * 4,
        ("top", "right", "bottom", "left"),
        ("raw", "raw", "raw", "raw"),
        remark=say("folded in four, stitched, cut into {count} of {each}", count=count, each=Length(each)),
    )
    strip = strip.with_edges([replace(e, why=say("folded in, or cut apart")) for e in strip.edges])
    waists = [p for p in pattern.pieces if p.runs_of("waist")]
    bands = [p for p in waists if p.feature("band_fold") or p.role == "band"] or waists
    if not bands:
        raise Stuck(say("there is no waist here for a belt"), "count")
    band = bands[0]
    key = band.runs_of("waist")[0]
    marks = [Notch(key, (n + 0.5) / count, False, say("belt loop")) for n in range(count)]
    return Result(with_part(pattern.with_piece(replace(band, notches=(*band.notches, *marks))), [strip]))


register_step(Step(
    "belt_loops", "Belt loops",
    "Loops on the waistband, a finger wider than the belt. All are cut from one strip, folded in four and stitched.",
    (Parameter("count", "How many", "count", 5.0, 2.0, 12.0), Parameter("belt", "For a belt", "length", 40.0, 10.0, 100.0),
     Parameter("width", "Finished width", "length", 10.0, 5.0, 30.0)),
    belt_loops, lambda values: say("{count} belt loops, {width} wide", count=f"{float(values.get('count', 0)):g}", width=Length(float(values.get("width", 0.0)))),
    suits={"piece": 23}, symbol=((-5 - 3j, 5 - 3j), (-5 + 3j, 5 + 3j), (-2 - 4j, -2 + 4j), (2 - 4j, 2 + 4j)),
    asked_as=("loops for a belt", "carriers"),
    fits=lambda pattern: "" if any(p.runs_of("waist") for p in pattern.pieces) else say("there is no waist here"),
))  # fmt: skip
