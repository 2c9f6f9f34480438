"""Steps on darts where they stand: their point, their legs; a dart let in, opened out, shared, or made a seam."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from typing import Any

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.segments import Point, unit
from caddet.core.pattern import dart_forms
from caddet.core.pattern.blending import blend_seam
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.features import Bit, Dart, Feature, Notch, Spot
from caddet.core.pattern.finding import one_dart, place_on, said, said_place
from caddet.core.pattern.ids import base_name, own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.spreading import faired
from caddet.core.pattern.surgery import in_one, leg_stem, pivot_dart
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.framing import frame_point
from caddet.core.shaping.joins import joined_as, meant

DART = Parameter("dart", "Dart", "dart", (), why="Without one, the first there is.")
GATHERED = 12.0  # mm that the marks of gathers reach in from the edge
FROM_POINT = 50.0  # mm along a princess seam from the point of its dart to the notches above and below it
BESIDE = 60.0  # mm to the side of a dart's point within which a seam goes on through a contour dart
NO_DART = "there are no darts in this garment"
HOW = (
    ("gathered", "Gathers"),
    ("pleated", "A pleat"),
    ("eased", "Ease"),
    ("tuck", "A tuck"),
    ("loose", "Nothing: left loose"),
)


def _fits(pattern: Pattern) -> str:
    return "" if any(piece.darts for piece in pattern.pieces) else say(NO_DART)


def _named(values: Values) -> str:
    return said(values["dart"][0]) if values.get("dart") else say("dart")


# --- point and legs -------------------------------------------------------------------------------


def move_point(pattern: Pattern, context: Context, values: Values) -> Result:
    """Move the point of a dart to a place, or along its middle."""
    del context
    piece, dart = one_dart(pattern, values["dart"])
    _, a, apex, b = piece.legs(dart.id)
    to = apex
    if values["to"]:
        there, to = frame_point(pattern, values["to"][0], "to")
        if there is not piece:
            raise Stuck(say("the point must lie on the {piece}, where the dart is", piece=piece.label.lower()), "to")
    to += unit(apex - (a + b) / 2) * float(values["longer"])
    after = pattern.with_piece(dart_forms.move_point(piece, dart, to))
    return Result(after, changes=OF_THE_BODY)


def _describe_point(values: Values) -> Sentence:
    longer = float(values.get("longer", 0.0))
    if values.get("to"):
        return say("point of the {dart} moved", dart=_named(values))
    if longer < 0:
        return say("{dart} shortened by {by}", dart=_named(values), by=Length(-longer))
    return say("{dart} lengthened by {by}", dart=_named(values), by=Length(longer))


register_step(Step(
    "dart_point", "Move the dart's point",
    "The point is drawn elsewhere and the legs straight to it; the edge is trued so that they are equally long. A dart ends some way before the fullest place, or it stands off there.",
    (DART, Parameter("to", "To the place", "points", (), most=1, optional=True, why="Without one, the point stays on the dart's middle."),
     Parameter("longer", "Longer by", "length", 0.0, -300.0, 300.0, why="A minus makes it shorter.")),
    move_point, _describe_point,
    suits={"dart": 3}, key="M", symbol=((-4 - 5j, 1 + 4j, 4 - 5j), (1 + 4j, 4 + 5j)),
    asked_as=("shorter dart", "longer dart", "dart too long", "dart point higher", "dart point lower", "move the point"),
    fits=_fits,
))  # fmt: skip


def curve_legs(pattern: Pattern, context: Context, values: Values) -> Result:
    """Curve both legs of a dart alike."""
    del context
    piece, dart = one_dart(pattern, values["dart"])
    after = pattern.with_piece(dart_forms.curve_legs(piece, dart, float(values["by"])))
    return Result(after, changes=OF_THE_BODY)


def _describe_legs(values: Values) -> Sentence:
    by = float(values.get("by", 0.0))
    words = "legs of the {dart} curved outward by {by}" if by >= 0 else "legs of the {dart} curved inward by {by}"
    return say(words, dart=_named(values), by=Length(abs(by)))


register_step(Step(
    "dart_legs", "Curve the dart's legs",
    "Both legs are curved alike. Outward, the dart takes in more where the body is hollow; inward, less where it is round: over the tummy and the seat.",
    (DART, Parameter("by", "Curved by", "length", 4.0, -25.0, 25.0, why="In the middle of the leg; a minus curves it inward.")),
    curve_legs, _describe_legs,
    suits={"dart": 5}, symbol=((-4 - 5j, -3 + 0j, 0 + 5j, 3 + 0j, 4 - 5j),),
    asked_as=("curved dart", "round the dart", "dart follows the body"), fits=_fits,
))  # fmt: skip

# --- another way to hold the fullness -------------------------------------------------------------


def into(pattern: Pattern, context: Context, values: Values) -> Result:
    """Leave a dart away; its cloth is gathered, pleated or eased into the seam, sewn as a tuck, or left loose."""
    piece, dart = one_dart(pattern, values["dart"])
    key = piece.edges[piece.legs(dart.id)[0] - 1].name
    every = (
        [one for one in piece.darts if piece.edges[piece.legs(one.id)[0] - 1].name == key] if values["all"] else [dart]
    )
    findings: tuple[Finding, ...] = ()
    after = pattern
    for number, one in enumerate(every):
        after, more = _one_into(
            after, after.piece(piece.name), one, values, context.id, f"_{number + 1}" if number else ""
        )
        findings += more
    how = "pleated" if values["how"] in ("pleated", "tuck") else str(values["how"])
    return Result(after, findings=findings, changes=meant(pattern, how))


def _one_into(
    pattern: Pattern, piece: Piece, dart: Dart, values: Values, step: str, more: str
) -> tuple[Pattern, tuple[Finding, ...]]:
    """One dart left away, and held as chosen."""
    how = str(values["how"])
    index, a, apex, b = piece.legs(dart.id)
    key, width = piece.edges[index - 1].name, abs(a - b)
    opened = dart_forms.open_out(pattern, piece, dart)
    if how in ("pleated", "tuck"):
        inward = apex - (a + b) / 2
        deep = min(abs(inward), float(values["depth"])) if how == "tuck" else min(abs(inward), 60.0)
        pleated = _with_pleat(
            opened.piece(piece.name), key, dart, (a, b), unit(inward) * deep, f"{step}.pleat{more}", say("pleat")
        )
        return opened.with_piece(pleated), ()
    if how == "gathered" and not _is_sewn(
        opened, opened.piece(piece.name), key
    ):  # what is sewn to it later takes it as gathered
        down = unit(apex - (a + b) / 2) * GATHERED
        fair = faired(in_one(opened.piece(piece.name)), (key,), (), piece)
        first, last = (fair.run_point(key, fair.nearest_on_run(key, point)[1])[0] for point in (a, b))
        made = _with_pleat(fair, key, dart, (first, last), down, f"{step}.gathers{more}", say("gathers"))
        return opened.with_piece(made), ()
    opened = opened.with_piece(faired(in_one(opened.piece(piece.name)), (key,), (), piece))
    width = opened.piece(piece.name).run_length(key) - piece.run_length(key)
    return joined_as(opened, piece.name, {key: width}, how, f"recipe[{step}]")


def _is_sewn(pattern: Pattern, piece: Piece, key: str) -> bool:
    """Whether a run is in a seam."""
    number = next(n for n, one in enumerate(pattern.pieces) if one.name == piece.name)
    return any((number, n) in pattern.sewn() for n, edge in enumerate(piece.edges) if edge.name == key)


def _with_pleat(
    piece: Piece, key: str, dart: Dart, ends: tuple[Point, Point], down: Point, name: str, label: str
) -> Piece:
    """The piece with a pleat in a run where the dart's mouth was, folded away towards where the dart was pressed."""
    a, b = (piece.spot_at(key, piece.nearest_on_run(key, end)[1]) for end in ends)
    bits = (Bit(a, ends[0] + down), Bit(b, ends[1] + down))
    pleat = Feature("pleat", name, label, bits, dart.pressed)
    return replace(piece, features=(*piece.features, pleat))


def _describe_into(values: Values) -> Sentence:
    words = {
        "gathered": "{dart} into gathers",
        "pleated": "{dart} into a pleat",
        "eased": "{dart} eased in",
        "loose": "{dart} left open",
    }
    how = str(values.get("how", "gathered"))
    if how == "tuck":
        return say(
            "{dart} into a tuck, sewn for {depth}", dart=_named(values), depth=Length(float(values.get("depth", 0.0)))
        )
    return say(words[how], dart=_named(values))


register_step(Step(
    "dart_into", "Hold the dart another way",
    "The dart is not sewn; the cloth it took in is held at the edge by gathers, a pleat, a tuck or by easing it into the seam. A pleat takes up as much as the dart did.",
    (DART, Parameter("all", "All darts of that edge", "flag", False),
     Parameter("how", "Held by", "choice", "gathered", choices=HOW),
     Parameter("depth", "Sewn down for", "length", 60.0, 10.0, 400.0, only=("how", ("tuck",)))),
    into, _describe_into,
    suits={"dart": 2}, key="I", symbol=((-5 - 3j, -3 - 1j, -1 - 3j, 1 - 1j, 3 - 3j, 5 - 1j), (-3 - 1j, -3 + 3j), (1 - 1j, 1 + 3j)),
    asked_as=("gathers instead of the dart", "pleat instead of the dart", "no dart", "take the dart out", "remove the dart", "ease it in", "tuck"),
    fits=_fits, source="a front pleat that takes up 1\" is the same fabric as a dart that takes up 1\": exact",
))  # fmt: skip


def share(pattern: Pattern, context: Context, values: Values) -> Result:
    """Share a dart among two other places and what stays where it is."""
    piece, dart = one_dart(pattern, values["dart"])
    first, second = values["to"], values["also"]
    if first is None or second is None:
        missing = "to" if first is None else "also"
        raise Stuck(say("say both places that get a share"), missing)
    stays, part = float(values["stays"]), float(values["part"])
    moved = 1.0 - stays
    after = pattern
    whole = 1.0
    for number, (place, wanted) in enumerate(((first, moved * part), (second, moved * (1 - part))), 1):
        name = "to" if number == 1 else "also"
        there, spot = place_on(after, place, name)
        if there.name != piece.name:
            raise Stuck(say("that place is not on the {piece}, where the dart is", piece=piece.label.lower()), name)
        held = _rest(there, dart)
        ratio = min(wanted / whole, 1.0)
        after = pivot_dart(after, there, held, spot, ratio, f"{context.id}.{number}")
        whole -= wanted
    return Result(after, changes=OF_THE_BODY)


def _rest(piece: Piece, dart: Dart) -> Dart:
    """What is left of a dart where it was."""
    same = [one for one in piece.darts if one.name == dart.name]
    moved = {mark for one in same for mark in one.marks if mark.endswith(".2")}
    left = [one for one in same if not one.marks & moved]
    return (left or same)[0]


def _describe_share(values: Values) -> Sentence:
    places = [said_place(one) for one in (values.get("to"), values.get("also")) if isinstance(one, Place)]
    if len(places) < 2:
        return say("{dart} shared among two places", dart=_named(values))
    return say("{dart} shared between {one} and {other}", dart=_named(values), one=places[0], other=places[1])


register_step(Step(
    "dart_share", "Share a dart",
    "One deep dart makes a sharp point; shared among several places it lies softer. All shares turn about the same point.",
    (DART, Parameter("to", "To the place", "place", None), Parameter("also", "And to the place", "place", None),
     Parameter("part", "The first one's share", "ratio", 0.5, 0.05, 0.95, why="Of what is moved."),
     Parameter("stays", "Stays where it is", "ratio", 0.0, 0.0, 0.9)),
    share, _describe_share,
    suits={"dart": 4}, symbol=((-5 - 4j, 0 + 4j, -2 - 5j), (2 - 5j, 0 + 4j, 5 - 4j)),
    asked_as=("two darts from one", "split the dart", "several darts", "divide the dart"), fits=_fits,
))  # fmt: skip


def merge(pattern: Pattern, context: Context, values: Values) -> Result:
    """Close a dart into another one of its piece."""
    del context
    piece, dart = one_dart(pattern, values["dart"])
    others = [one for one in piece.darts if one.id != dart.id]
    if not others:
        raise Stuck(say("the {piece} has no other dart to close it into", piece=piece.label.lower()), "dart")
    wanted = reference(values["onto"][0]) if values["onto"] else None
    other = next((one for one in others if wanted is None or wanted.finds(one.name, one.marks)), None)
    if other is None:
        raise Stuck(say("that dart is not on the {piece}", piece=piece.label.lower()), "onto")
    after = dart_forms.pivot_onto(pattern, piece, dart, other)
    return Result(after, changes=OF_THE_BODY)


def _describe_merge(values: Values) -> Sentence:
    other = said(values["onto"][0]) if values.get("onto") else say("the other dart")
    return say("{dart} closed into {other}", dart=_named(values), other=other)


register_step(
    Step(
        "dart_merge",
        "Close a dart into another",
        "The cloth between the two darts is turned about the first one's point until it is shut; the other takes up what it held, and is drawn to that point.",
        (DART, Parameter("onto", "Into the dart", "dart", (), why="Without one, the other dart of the piece.")),
        merge,
        _describe_merge,
        suits={"dart": 6},
        symbol=((-5 - 2j, 0 + 3j), (-3 - 4j, 0 + 3j, 5 - 4j)),
        asked_as=("one dart of two", "combine darts", "into the waist dart", "put the darts together"),
        fits=lambda pattern: (
            "" if any(len(p.darts) > 1 for p in pattern.pieces) else say("no piece here has two darts")
        ),
    )
)

# --- let in ---------------------------------------------------------------------------------------


def add(pattern: Pattern, context: Context, values: Values) -> Result:
    """Let a dart into an edge."""
    if values["at"] is None:
        raise Stuck(say("say where the dart opens"), "at")
    piece, spot = place_on(pattern, values["at"], "at")
    width, length = float(values["width"]), float(values["length"])
    made = dart_forms.add_dart(piece, spot, width, length, context.id, say("dart"))
    after, findings = joined_as(
        pattern.with_piece(made), piece.name, {spot.edge: -width}, "loose", f"recipe[{context.id}]"
    )
    return Result(after, findings=findings, changes=OF_THE_BODY)


def _describe_add(values: Values) -> Sentence:
    width, place = Length(float(values.get("width", 0.0))), values.get("at")
    if isinstance(place, Place):
        return say("dart of {width} at {place}", width=width, place=said_place(place))
    return say("dart of {width} at a place to be chosen", width=width)


register_step(
    Step(
        "dart_add",
        "Let in a dart",
        "A dart takes in cloth at the edge and gives it back towards its point. The edge is shorter by its width when sewn; what it is sewn to has to agree.",
        (
            Parameter("at", "At the place", "place", None),
            Parameter("width", "Width", "length", 20.0, 4.0, 150.0),
            Parameter("length", "Length", "length", 90.0, 20.0, 400.0),
        ),
        add,
        _describe_add,
        suits={"edge": 6, "notch": 4},
        symbol=((-5 - 4j, -2 - 4j, 0 + 4j, 2 - 4j, 5 - 4j),),
        asked_as=("add a dart", "new dart", "take it in", "another dart"),
        fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
    )
)


def add_contour(pattern: Pattern, context: Context, values: Values) -> Result:
    """Let a contour dart into a piece: a point at both ends, widest between."""
    if not values["at"]:
        raise Stuck(say("say where the dart is widest"), "at")
    piece, middle = frame_point(pattern, values["at"][0], "at")
    up, down, width = (float(values[name]) for name in ("up", "down", "width"))
    dart = dart_forms.contour_dart(middle, up, down, width, context.id, say("contour dart"))
    from caddet.core.geometry.paths import contains

    outline = piece.polygon(0.5)
    for name, point in (
        ("up", middle - 1j * up),
        ("down", middle + 1j * down),
        ("width", middle + width / 2),
        ("width", middle - width / 2),
    ):
        if not contains(outline, point):
            raise Stuck(say("the dart would run out of the {piece}", piece=piece.label.lower()), name)
    made = replace(piece, features=(*piece.features, dart))
    after = pattern.with_piece(made)
    return Result(after, changes=OF_THE_BODY)


register_step(
    Step(
        "dart_contour",
        "Let in a contour dart",
        "A dart inside the piece, with a point at both ends: it takes in the waist of a dress or shirt that is cut in one from shoulder to hem.",
        (
            Parameter("at", "Widest at", "points", (), most=1),
            Parameter("width", "Width", "length", 20.0, 4.0, 80.0),
            Parameter("up", "Up to the upper point", "length", 120.0, 20.0, 400.0),
            Parameter("down", "Down to the lower point", "length", 120.0, 20.0, 400.0),
        ),
        add_contour,
        lambda values: say("contour dart of {width}", width=Length(float(values.get("width", 0.0)))),
        suits={"piece": 12, "level": 4},
        symbol=((0 - 5j, -2.5 + 0j, 0 + 5j, 2.5 + 0j, 0 - 5j),),
        asked_as=("double pointed dart", "fish dart", "take in the waist", "dart in the back"),
        fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
    )
)

# --- princess -------------------------------------------------------------------------------------


def princess(pattern: Pattern, context: Context, values: Values) -> Result:
    """A dart turned to a place of the outline and on from its point to another dart, or down: a seam over the point."""
    piece, dart = one_dart(pattern, values["dart"])
    if values["to"] is None:
        raise Stuck(say("say where the seam begins: on the shoulder, or in the armhole"), "to")
    there, spot = place_on(pattern, values["to"], "to")
    if there is not piece:
        raise Stuck(say("that place is not on the {piece}, where the dart is", piece=piece.label.lower()), "to")
    turned = pivot_dart(pattern, piece, dart, spot, 1.0, f"{context.id}.1")
    held = turned.piece(piece.name)
    moved = next(one for one in held.darts if one.name == dart.name and f"{context.id}.1.2" in one.marks)
    others = [one for one in held.darts if one.id != moved.id and _mouth(held, one) != _mouth(held, moved)]
    through = _contour_below(held, moved)
    end: Dart | Spot
    if others and not values["down"]:
        end, through = others[0], ()
    else:
        end = _below(turned, held, through[-1] if through else held.legs(moved.id)[2], values["down"])
        if end.edge == _mouth(held, moved):
            words = say(
                "the seam would begin and end in the {run}, with a sliver between; begin it at another edge",
                run=said(end.edge),
            )
            raise Stuck(words, "to")
    cut = cut_piece(
        turned,
        held,
        CutLine(moved, end, through),
        context.id,
        (str(values["first"]), str(values["second"])),
        say("Princess seam"),
    )
    cut = _notched(cut, moved, context.id)
    if values["smooth"]:
        cut = blend_seam(cut, f"{context.id}.seam", ("bust", "hip", "waist", "across_front", "across_back"))
    return Result(cut, changes=OF_THE_BODY)


def _mouth(piece: Piece, dart: Dart) -> str:
    """The key of the run that a dart's mouth lies in."""
    return piece.edges[piece.legs(dart.id)[0] - 1].name


def _notched(pattern: Pattern, dart: Dart, step: str) -> Pattern:
    """The two sides of a princess seam with notches above and below the point that it runs over, where the cloth is eased."""
    for piece in pattern.pieces:
        notches = []
        for edge in piece.edges:
            length = edge.path.length
            if edge.dart or length < 2 * FROM_POINT:
                continue
            if edge.name == f"{step}.cut":  # it begins at the point
                notches.append(Notch(edge.name, FROM_POINT / length, False, say("below the point")))
            elif base_name(edge.name) in {f"{leg_stem(dart)}.leg_{one}" for one in "ab"}:
                share = 1 - FROM_POINT / length if own_name(edge.name) == "leg_a" else FROM_POINT / length
                notches.append(Notch(edge.name, edge.u_at(share), False, say("above the point")))
        if notches:
            pattern = pattern.with_piece(replace(piece, notches=(*piece.notches, *notches)))
    return pattern


def _contour_below(piece: Piece, dart: Dart) -> tuple[Point, ...]:
    """The two tips of the contour dart that lies below a dart's point, upper first; none without one."""
    apex = piece.legs(dart.id)[2]
    for feature in piece.features:
        if feature.kind == "contour_dart" and len(feature.bits) == 4:
            top, low = sorted((piece.where(feature.bits[0].a), piece.where(feature.bits[2].a)), key=lambda p: p.imag)
            if top.imag > apex.imag and abs(top.real - apex.real) < BESIDE:
                return top, low
    return ()


def _below(pattern: Pattern, piece: Piece, apex: Point, place: Place | None) -> Spot:
    """The chosen place, or the one straight down from a point on the lowest edge."""
    if place is not None:
        there, spot = place_on(pattern, place, "down")
        if there is not piece:
            raise Stuck(say("that place is not on the {piece}, where the dart is", piece=piece.label.lower()), "down")
        return spot
    low = piece.outline().bounds()[3] + 10
    hits = [
        (along, point)
        for along, point in piece.outline().crossings(apex + 1j, complex(apex.real, low))
        if point.imag > apex.imag
    ]
    if not hits:
        raise Stuck(say("there is no edge below the point of the dart"), "down")
    point = max((p for _, p in hits), key=lambda p: p.imag)
    key = min(piece.runs(), key=lambda k: piece.nearest_on_run(k, point)[0])
    return piece.spot_at(key, piece.nearest_on_run(key, point)[1])


def _princess_usual(pattern: Pattern, chosen: Values) -> dict[str, Any]:
    """The middle of the shoulder of the dart's piece."""
    if chosen.get("to") or not any(piece.darts for piece in pattern.pieces):
        return {}
    with suppress(CaddetError):
        piece, _ = one_dart(pattern, chosen.get("dart") or ())
        key = next((k for k in piece.runs() if k.endswith(".shoulder")), None)
        return {"to": Place(edge=key, share=0.5)} if key else {}
    return {}


def _describe_princess(values: Values) -> Sentence:
    place = values.get("to")
    where = said_place(place) if isinstance(place, Place) else say("a place to be chosen")
    return say("princess seam from {place} over the {dart}", place=where, dart=_named(values))


register_step(Step(
    "princess", "Princess seam",
    "The dart is turned to where the seam shall begin, and the piece is cut from there over the dart's point into the other dart, or down to the hem. Both darts are then in the seam.",
    (DART, Parameter("to", "From the place", "place", None, why="On the shoulder, or in the armhole."),
     Parameter("down", "Down to the place", "place", None, optional=True, why="Without one, into the other dart of the piece, or straight down."),
     Parameter("smooth", "Drawn as a smooth curve", "flag", True),
     Parameter("first", "Name of the part left of it", "text", ""), Parameter("second", "Name of the other part", "text", "")),
    princess, _describe_princess,
    suits={"dart": 2}, key="R", symbol=((-5 - 5j, 5 - 5j, 5 + 5j, -5 + 5j, -5 - 5j), (1 - 5j, 0 + 0j, 1 + 5j)),
    asked_as=("darts into a seam", "seam over the bust", "panel seams", "princess line"), usual=_princess_usual, fits=_fits,
))  # fmt: skip
