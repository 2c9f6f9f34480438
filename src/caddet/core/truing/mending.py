"""Steps that true a pattern: sides made to agree, notches put where they meet, lines blended, darts and grain put right.

They are offered as remedies where the Proof finds something, and for what is chosen on the table.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import replace
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Cubic, Line, Motion, Point, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Notch
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Run
from caddet.core.pattern.seams import Join, JoinKind, Part, Seam
from caddet.core.pattern.surgery import Refused, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Parameter
from caddet.core.recipe.registry import Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.finding import (
    chosen_edges,
    chosen_pieces,
    one_dart,
    place_on,
    refused_as_stuck,
    said,
    said_place,
)
from caddet.core.shaping.joining import KINDS, agreeing
from caddet.core.truing.blend import all_blended
from caddet.core.truing.checks import NEARLY, ends_on, meeting_lines
from caddet.core.truing.ends import end_moved, layer_lengthened, lengthened
from caddet.core.truing.joins import joins
from caddet.core.truing.notches import agreeing as notches_agreeing
from caddet.core.truing.notches import marks, placed
from caddet.core.truing.walk import walk

SEAM = Parameter("seam", "Seam", "seam", None)


def _seam(pattern: Pattern, values: Values) -> Seam:
    if not values["seam"]:
        raise Stuck(say("say which seam"), "seam")
    return pattern.seam(values["seam"][0])


def _said_seam(values: Values) -> str:
    seam = values.get("seam")
    return own_name(seam[0]).replace("_", " ") if seam else say("to be chosen")


def _no_seam(pattern: Pattern) -> str:
    return "" if pattern.seams else say("there is no seam here")


# --- two edges sewn to each other -----------------------------------------------------------------


def sew(pattern: Pattern, context: Context, values: Values) -> Result:
    """A seam between edges that were not sewn, walked from the ends that belong together."""
    first, second = chosen_edges(pattern, values["first"], "first"), chosen_edges(pattern, values["second"], "second")
    if not values["first"] or not values["second"]:
        raise Stuck(say("choose the edges of both sides"), "first" if not values["first"] else "second")
    if {(p.name, key) for p, key in first} & {(p.name, key) for p, key in second}:
        raise Stuck(say("an edge can't be sewn to itself"), "second")
    taken = [key for piece, key in (*first, *second) if _sewn(pattern, piece, key)]
    if taken:
        raise Stuck(say("the {edge} is in a seam already", edge=said(taken[0])), "first")
    layers = [tuple(Part(reference(str(ref))) for ref in values[name]) for name in ("first", "second")]
    if _other_way(first[0], second[0]):
        layers[1] = tuple(replace(part, backwards=True) for part in layers[1][::-1])
    name = f"{context.id}.seam"
    words = said(str(values["first"][0]))
    made = Seam(name, say("Seam of the {edge}", edge=words), tuple(layers))
    free = {(p.name, key) for p, key in (*first, *second)}
    pieces = tuple(
        piece.with_edges(
            [replace(e, finish="") if (piece.name, e.name) in free and not e.dart else e for e in piece.edges]
        )
        for piece in pattern.pieces
    )
    pattern = replace(pattern, pieces=pieces).with_seam(made)
    kind: JoinKind = values["how"]
    if kind != "plain":
        a, b = (pattern.length(layer) for layer in made.layers)
        amount = b - a if kind in ("eased", "pleated") else b / a
        pattern = pattern.with_seam(replace(made, joins=(Join(kind, amount),)))
    return Result(pattern)


def _sewn(pattern: Pattern, piece: Piece, key: str) -> bool:
    number = next(n for n, one in enumerate(pattern.pieces) if one is piece)
    return any((number, index) in pattern.sewn() for index in piece.indices(reference(key)))


def _other_way(first: tuple[Piece, str], second: tuple[Piece, str]) -> bool:
    """Whether the second run is walked against its maker's direction, so that ends of one kind come together."""
    ends = [_beside(piece, key) for piece, key in (first, second)]
    alike, crossed = (
        (ends[0][0] == ends[1][0]) + (ends[0][1] == ends[1][1]),
        (ends[0][0] == ends[1][1]) + (ends[0][1] == ends[1][0]),
    )
    if alike != crossed:
        return crossed > alike
    ways = [paths[-1].end - paths[0].start for paths in (piece.walked(key) for piece, key in (first, second))]
    main = [way.imag if abs(way.imag) >= abs(way.real) else way.real for way in ways]
    return main[0] * main[1] < 0


def _beside(piece: Piece, key: str) -> tuple[str, str]:
    """What becomes of the edges before and after a run, in its maker's direction: their finish and own name."""
    indices = piece.indices(reference(key))
    count = len(piece.edges)
    before, after = piece.edges[indices[0] - 1], piece.edges[(indices[-1] + 1) % count]
    if piece.edges[indices[0]].backwards:
        before, after = piece.edges[(indices[0] + 1) % count], piece.edges[indices[-1] - 1]
    return before.finish or before.own, after.finish or after.own


def _describe_sew(values: Values) -> Sentence:
    return say(
        "{first} sewn to {second}",
        first=", ".join(said(str(one)) for one in values.get("first") or ()) or say("edges to be chosen"),
        second=", ".join(said(str(one)) for one in values.get("second") or ()) or say("edges to be chosen"),
    )


register_step(Step(
    "sew", "Sew edges together",
    "Two edges that belong to no seam are told to be sewn to each other, so that they can be walked, notched and graded together. For pieces that were traced or imported.",
    (Parameter("first", "Edges of one side", "edges", ()), Parameter("second", "Edges of the other side", "edges", ()),
     Parameter("how", "The longer side", "choice", "plain", choices=KINDS)),
    sew, _describe_sew,
    suits={"edge": 22}, symbol=((-5 - 4j, -1 - 4j, -1 + 4j, -5 + 4j), (5 - 4j, 1 - 4j, 1 + 4j, 5 + 4j), (-1 - 2j, 1 - 2j), (-1 + 2j, 1 + 2j)),
    asked_as=("sew to", "seam between", "join these edges", "sew together"),
    refuses=lambda pattern, chosen: next(
        (say("the {edge} is in a seam already", edge=said(key)) for piece, key in chosen_edges(pattern, chosen.get("first") or ()) if _sewn(pattern, piece, key)), ""
    ),
))  # fmt: skip


# --- both sides equally long ----------------------------------------------------------------------

WHICH = (("second", "The second side"), ("first", "The first side"), ("half", "Half by each"))


def agree(pattern: Pattern, context: Context, values: Values) -> Result:
    """One side of a seam made longer or shorter at its freer end, until both meet."""
    del context
    seam = _seam(pattern, values)
    if len(seam.layers) != 2:
        raise Stuck(say("{label}: only a seam of two layers", label=seam.label), "seam")
    off = walk(pattern, seam).off
    if abs(off) < 0.05:
        raise Stuck(say("both sides meet already"), "seam")
    ratio = seam.joins[0].amount if seam.kind in ("gathered", "stretched") else 1.0
    share = {"second": 1.0, "first": 0.0, "half": 0.5}[str(values["change"])]
    with refused_as_stuck("change"):
        if share > 0:
            pattern = layer_lengthened(pattern, seam.b, -off * share)
        if share < 1:
            pattern = layer_lengthened(pattern, seam.a, off * (1 - share) / ratio)
    return Result(pattern, changes=agreeing(pattern, seam))


def _describe_agree(values: Values) -> Sentence:
    which = dict(WHICH).get(str(values.get("change", "second")), "The second side").lower()
    return say("the seam {seam} made to meet by {which}", seam=_said_seam(values), which=which)


register_step(Step(
    "agree", "Make both sides meet",
    "Where one side of a seam runs out before the other, the one is taken off or added to at its end, the edge beside it drawn along. At a hem rather than at another seam.",
    (SEAM, Parameter("change", "Changed is", "choice", "second", choices=WHICH)),
    agree, _describe_agree,
    suits={"seam": 6}, symbol=((-5 - 3j, 4 - 3j), (-5 + 3j, 1 + 3j), (1 + 3j, 4 + 3j), (4 - 5j, 4 + 5j)),
    asked_as=("sides the same length", "one side is longer", "true the seam", "take it off"),
    fits=_no_seam,
))  # fmt: skip


# --- notches --------------------------------------------------------------------------------------


def notch(pattern: Pattern, context: Context, values: Values) -> Result:
    """A notch at a place, and where the edge is sewn its partner on the other side."""
    del context
    if values["at"] is None:
        raise Stuck(say("say where: click a place on an edge"), "at")
    piece, spot = place_on(pattern, values["at"], "at")
    double = bool(values["double"])
    pattern = pattern.with_piece(replace(piece, notches=(*piece.notches, Notch(spot.edge, spot.u, double))))
    for seam in pattern.seams:
        for number, layer in enumerate(seam.layers):
            if len(seam.layers) != 2 or not all(map(pattern.fragments, layer)):
                continue
            found = [one for one in marks(pattern, layer) if one.notch == Notch(spot.edge, spot.u, double)]
            if found:
                other = seam.layers[1 - number]
                share = pattern.length(other) / pattern.length(layer)
                mate, there = placed(pattern, other, found[0].at * share)
                pattern = pattern.with_piece(replace(mate, notches=(*mate.notches, Notch(there.edge, there.u, double))))
    return Result(pattern)


register_step(Step(
    "notch", "Notch",
    "A balance mark across an edge; where the edge is sewn, its partner is put on the other side as well, at the same share. It keeps its share when the edges change.",
    (Parameter("at", "At the place", "place", None), Parameter("double", "Double", "flag", False, why="Single in front, double behind.")),
    notch, lambda values: say("a notch on {place}", place=said_place(values["at"]) if values.get("at") is not None else say("a place to be chosen")),
    suits={"edge": 23, "corner": 6}, symbol=((-5 + 2j, 5 + 2j), (0 + 2j, 0 - 3j)),
    asked_as=("balance mark", "mark where they meet", "add a notch"),
))  # fmt: skip


def notches_even(pattern: Pattern, context: Context, values: Values) -> Result:
    """The notches of a seam's further sides where they meet those of its first."""
    del context
    seam = _seam(pattern, values)
    for layer in range(1, len(seam.layers)):
        pattern = notches_agreeing(pattern, seam, layer)
    return Result(pattern)


register_step(Step(
    "notches_even", "Put notches where they meet",
    "The notches of one side are walked off, and those of the other put where they meet them, single to single and double to double; one that is missing is added.",
    (SEAM,), notches_even, lambda values: say("notches of the seam {seam} put where they meet", seam=_said_seam(values)),
    suits={"seam": 8}, symbol=((-5 - 2j, 5 - 2j), (-5 + 2j, 5 + 2j), (-2 - 2j, -2 + 2j), (3 - 2j, 3 + 2j)),
    asked_as=("match notches", "notches do not meet", "move the notch"),
    fits=_no_seam,
))  # fmt: skip


def notch_double(pattern: Pattern, context: Context, values: Values) -> Result:
    """The notches of edges made double, on what they are sewn to as well."""
    del context
    keys = {key for _, key in chosen_edges(pattern, values["edges"])}
    if not values["edges"]:
        raise Stuck(say("say of which edges"), "edges")
    for seam in pattern.seams:
        if any(part.ref.key in keys for part in seam.parts()):
            keys |= {part.ref.key for part in seam.parts()}
    pieces = tuple(
        replace(piece, notches=tuple(replace(one, double=True) if one.edge in keys else one for one in piece.notches))
        for piece in pattern.pieces
    )
    if pieces == pattern.pieces:
        raise Stuck(say("these edges have no single notch"), "edges")
    return Result(replace(pattern, pieces=pieces))


register_step(Step(
    "notch_double", "Make notches double",
    "A second notch beside each one of an edge and of what it is sewn to, so that back and front can't be taken for each other.",
    (Parameter("edges", "Edges", "edges", ()),),
    notch_double, lambda values: say("double notches on {edges}", edges=", ".join(said(str(one)) for one in values.get("edges") or ())),
    suits={"notch": 5}, symbol=((-5 + 2j, 5 + 2j), (-1 + 2j, -1 - 3j), (1.5 + 2j, 1.5 - 3j)),
    asked_as=("double notch", "tell front from back"),
))  # fmt: skip


# --- lines that run on ----------------------------------------------------------------------------


def blend(pattern: Pattern, context: Context, values: Values) -> Result:
    """Lines that cross a seam, dart or fold drawn so that they run on."""
    del context
    wanted = {key for _, key in chosen_edges(pattern, values["edges"])}
    off = [
        join.name
        for join in joins(pattern)
        if join.angle > join.limit
        and join.ends
        and (not wanted or wanted & {_key(pattern, end.piece, end.edge) for end in join.ends})
    ]
    if not off:
        raise Stuck(say("these lines run on already"), "edges")
    with refused_as_stuck("edges"):
        return Result(all_blended(pattern, off))


def _key(pattern: Pattern, piece: str, edge: int) -> str:
    return pattern.piece(piece).edges[edge].name


register_step(Step(
    "blend", "Blend a line over its seams",
    "The pieces are laid together as they are sewn, and the line that crosses (neck, armhole, waist, hem) is drawn anew without a corner. The seams keep their lengths; each side gives way by half.",
    (Parameter("edges", "Lines", "edges", (), why="None means every line that has a corner."),),
    blend, lambda values: say("{edges} blended", edges=", ".join(said(str(one)) for one in values.get("edges") or ()) or say("every line that crosses a seam")),
    suits={"edge": 24}, symbol=((-5 + 2j, -2 + 0.4j, 0j, 2 + 0.4j, 5 + 2j), (0 - 4j, 0 + 4j)),
    asked_as=("smooth the join", "no corner at the seam", "blend", "true the neckline"),
))  # fmt: skip


WAYS = (("straight", "Straight"), ("curve", "A fair curve"))


def fair(pattern: Pattern, context: Context, values: Values) -> Result:
    """Edges drawn straight, or as one fair curve between their ends."""
    del context
    if not values["edges"]:
        raise Stuck(say("say which edges"), "edges")
    for piece, key in chosen_edges(pattern, values["edges"]):
        now = pattern.piece(piece.name)
        edges = list(now.edges)
        for index in now.indices(reference(key)):
            edges[index] = edges[index].with_path(_fair(edges[index].path, str(values["how"])))
        with refused_as_stuck("edges"):
            pattern = pattern.with_piece(sound(now.with_edges(edges)))
    return Result(pattern, changes=OF_THE_BODY)


def _fair(path: Path, how: str) -> Path:
    if how == "straight":
        return Path.polyline([path.start, path.end])
    points = [path.point_at(path.length * share) for share in (0.0, 0.3, 0.7, 1.0)]
    return smooth_through(points, path.start_direction, path.end_direction)


register_step(Step(
    "fair", "Straighten or smooth an edge",
    "A line that was meant straight is drawn with the ruler, a wavering one with the curve, between the ends it has.",
    (Parameter("edges", "Edges", "edges", ()), Parameter("how", "Drawn", "choice", "straight", choices=WAYS)),
    fair, lambda values: say("{edges} drawn {how}", edges=", ".join(said(str(one)) for one in values.get("edges") or ()) or say("edges"), how=dict(WAYS).get(str(values.get("how", "straight")), "Straight").lower()),
    suits={"edge": 25}, symbol=((-5 + 1j, -2 - 1j, 1 + 1j, 5 - 1j), (-5 + 4j, 5 + 4j)),
    asked_as=("straighten", "smooth the line", "fair curve", "wobbly line"),
))  # fmt: skip


# --- darts, grain, halves -------------------------------------------------------------------------


def _no_dart(pattern: Pattern) -> str:
    return "" if any(piece.darts for piece in pattern.pieces) else say("there is no dart here")


def dart_even(pattern: Pattern, context: Context, values: Values) -> Result:
    """The longer leg of a dart as long as the other: its mouth comes in, and the edge with it."""
    del context
    piece, dart = one_dart(pattern, values["dart"])
    legs: dict[str, list[int]] = {}
    for index, edge in enumerate(piece.edges):
        if edge.dart == dart.id:
            legs.setdefault(edge.name, []).append(index)
    (first, one), (second, two) = legs.items()
    del first, second
    lengths = [sum(piece.edges[i].path.length for i in leg) for leg in (one, two)]
    if abs(lengths[0] - lengths[1]) < 0.05:
        raise Stuck(say("its legs are equally long"), "dart")
    _, _, apex, _ = piece.legs(dart.id)
    longer = one if lengths[0] > lengths[1] else two
    scale = min(lengths) / max(lengths)
    edges = list(piece.edges)
    before = edges[longer[0]].path.start if longer is one else edges[longer[-1]].path.end
    for index in longer:
        edges[index] = edges[index].with_path(_scaled(edges[index].path, apex, scale))
    after = edges[longer[0]].path.start if longer is one else edges[longer[-1]].path.end
    beside = (longer[0] - 1 if longer is one else longer[-1] + 1) % len(edges)
    edges[beside] = edges[beside].with_path(end_moved(edges[beside].path, after - before, at_end=longer is one))
    with refused_as_stuck("dart"):
        return Result(pattern.with_piece(sound(piece.with_edges(edges))))


def _scaled(path: Path, about: Point, scale: float) -> Path:
    def to(point: Point) -> Point:
        return about + (point - about) * scale

    parts: list[Line | Cubic] = []
    for segment in path.segments:
        parts += segment.cubics() if isinstance(segment, Arc) else [segment]
    return Path(
        tuple(
            Line(to(p.start), to(p.end))
            if isinstance(p, Line)
            else Cubic(to(p.start), to(p.out), to(p.into), to(p.end))
            for p in parts
        )
    )


def _of_dart(what: str) -> Any:
    return lambda values: say(
        "{dart} " + what, dart=said(str(values["dart"][0])) if values.get("dart") else say("the dart")
    )


register_step(Step(
    "dart_even", "Make both legs of a dart equal",
    "The longer leg is cut to the other one's length at its mouth, and the edge beside it drawn to it, so that nothing jogs when the dart is sewn.",
    (Parameter("dart", "Dart", "dart", None, why="Without one, the first there is."),),
    dart_even, _of_dart("with equal legs"),
    suits={"dart": 13}, symbol=((-3 + 4j, 0 - 4j, 3 + 4j), (-4 + 4j, 4 + 4j)),
    asked_as=("legs the same", "dart legs differ", "true the dart"),
    fits=_no_dart,
))  # fmt: skip


def dart_slide(pattern: Pattern, context: Context, values: Values) -> Result:
    """A dart moved along its edge; with ``meets``, to where a line across the seam ends."""
    del context
    piece, dart = one_dart(pattern, values["dart"])
    first, a, _, b = piece.legs(dart.id)
    by = float(values["by"])
    if values["meets"]:
        by = _to_meet(pattern, dart.id)
    if abs(by) < 0.01:
        raise Stuck(say("say by how much"), "by")
    shift = unit(b - a) * by
    count, legs = len(piece.edges), sum(edge.dart == dart.id for edge in piece.edges)
    moved: list[Edge] = []
    for index, edge in enumerate(piece.edges):
        if edge.dart == dart.id:
            moved.append(edge.with_path(edge.path.moved(Motion(shift=shift))))
        elif index == (first - 1) % count:
            moved.append(edge.with_path(end_moved(edge.path, shift, at_end=True)))
        elif index == (first + legs) % count:
            moved.append(edge.with_path(end_moved(edge.path, shift, at_end=False)))
        else:
            moved.append(edge)
    with refused_as_stuck("by"):
        after = pattern.with_piece(sound(piece.with_edges(moved)))
    return Result(after, changes=(*OF_THE_BODY, *_agreeing_on(pattern, {piece.edges[first - 1].name})))


def _agreeing_on(pattern: Pattern, keys: set[str]) -> tuple[str, ...]:
    """The promises that edges agree with what they are sewn to: drawn anew, they are a hair longer or shorter."""
    return tuple(
        one.name
        for one in pattern.promises
        if one.agrees and {run.ref.key for run in one.of if isinstance(run, Run)} & keys
    )


def _to_meet(pattern: Pattern, dart: str) -> float:
    """How far a dart has to go along its edge, in the outline's direction, to meet the line across its seam."""
    for seam in pattern.seams:
        try:
            found = [one for one in meeting_lines(pattern, seam) if one.values.get("dart") == (dart,)]
        except CaddetError:
            continue
        if found:
            return _signed(pattern, seam, dart, found[0].value)
    raise Stuck(say("no line across its seam ends near it"), "meets")


def _signed(pattern: Pattern, seam: Seam, dart: str, miss: float) -> float:
    """The miss with its sign: which way along the outline brings the dart nearer."""
    mine = next(at for at, _, one in ends_on(pattern, seam, 1) if one == dart)
    other = min((at for at, _, _ in ends_on(pattern, seam, 0)), key=lambda at: abs(at - mine))
    backwards = pattern.layer_fragments(seam.b)[0].backwards
    return math.copysign(miss, other - mine) * (-1 if backwards else 1)


def _describe_slide(values: Values) -> Sentence:
    dart = said(str(values["dart"][0])) if values.get("dart") else say("the dart")
    if values.get("meets"):
        return say("{dart} moved to meet the line across its seam", dart=dart)
    return say("{dart} moved by {by} along its edge", dart=dart, by=Length(float(values.get("by", 10.0))))


register_step(Step(
    "dart_slide", "Move a dart along its edge",
    "Mouth and point move by the same; what the edge loses on one side it gains on the other. So the dart of a skirt comes to stand under the seam of a bodice.",
    (Parameter("dart", "Dart", "dart", None, why="Without one, the first there is."),
     Parameter("by", "By, along the outline", "length", 10.0, -NEARLY * 5, NEARLY * 5),
     Parameter("meets", "To meet the line across its seam", "flag", False)),
    dart_slide, _describe_slide,
    suits={"dart": 12}, symbol=((-4 + 4j, -2 - 4j, 0 + 4j), (1 + 0j, 4 + 0j, 3 - 1j)),
    asked_as=("dart should meet the seam", "shift the dart", "line up darts"),
    fits=_no_dart,
))  # fmt: skip


def grain_even(pattern: Pattern, context: Context, values: Values) -> Result:
    """The grain line turned to lie as it promises: along the fold, or square to the level lines."""
    del context
    changed = 0
    for piece in chosen_pieces(pattern, values["pieces"]) or list(pattern.pieces):
        line = _upright(piece)
        along = piece.grain.b - piece.grain.a
        wanted = {"along": 0.0, "across": 90.0, "bias": 45.0}.get(piece.grain.kind)
        if line is None or wanted is None or abs(along) < 1e-9:
            continue
        turns = [
            cmath.phase(line * cmath.rect(1.0, math.radians(way)) / along)
            for way in (wanted, wanted + 180, -wanted, 180 - wanted)
        ]
        turn = min(turns, key=abs)
        if abs(turn) > 1e-6:
            changed += 1
            middle = (piece.grain.a + piece.grain.b) / 2
            grain = replace(
                piece.grain,
                a=middle + (piece.grain.a - middle) * cmath.rect(1, turn),
                b=middle + (piece.grain.b - middle) * cmath.rect(1, turn),
            )
            pattern = pattern.with_piece(replace(piece, grain=grain))
    if not changed:
        raise Stuck(say("the grain lies as it should"), "pieces")
    return Result(pattern)


def _upright(piece: Piece) -> Point | None:
    """The direction that the grain is held against."""
    for edge in piece.edges:
        if edge.finish == "fold":
            return unit(edge.path.end - edge.path.start)
    for feature in piece.features:
        if feature.kind == "level" and len(feature.bits) == 1:
            for line in piece.drawn(feature):
                return unit((line.end - line.start) * 1j)
    return 1j


register_step(Step(
    "grain_even", "Turn the grain line straight",
    "The grain line is laid along the fold, or square to the level lines; across or at 45° where the piece is cut so.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece."),),
    grain_even, lambda values: say("grain line straight"),
    suits={"piece": 28}, symbol=((0 - 5j, 0 + 5j), (-1.5 - 3j, 0 - 5j, 1.5 - 3j), (-1.5 + 3j, 0 + 5j, 1.5 + 3j)),
    asked_as=("grain is off", "straighten the grain", "on the straight grain"),
))  # fmt: skip


def halves_even(pattern: Pattern, context: Context, values: Values) -> Result:
    """Two edges of one piece made equally long, half by each."""
    del context
    found = chosen_edges(pattern, values["edges"])
    if len(found) != 2 or found[0][0] is not found[1][0]:
        raise Stuck(say("choose two edges of one piece, the left and the right one"), "edges")
    piece = found[0][0]
    lengths = [piece.run_length(key) for _, key in found]
    off = (lengths[1] - lengths[0]) / 2
    if abs(off) < 0.05:
        raise Stuck(say("both are equally long"), "edges")
    with refused_as_stuck("edges"):
        for (_, key), by in zip(found, (off, -off), strict=True):
            index, at_end = _free_end(piece, key)
            piece = lengthened(piece, index, by, at_end=at_end)
    return Result(pattern.with_piece(piece))


def _free_end(piece: Piece, key: str) -> tuple[int, bool]:
    """The edge of a run, and the end of its path at which it can be changed: at a hem rather than elsewhere."""
    indices = piece.indices(reference(key))
    found = []
    for index, at_end in ((indices[0], False), (indices[-1], True)):
        at_end = at_end != piece.edges[index].backwards
        other = piece.edges[(index + 1 if at_end else index - 1) % len(piece.edges)]
        worst = 2 if other.dart or other.finish in ("fold", "opening", "slit") else 0 if other.finish == "hem" else 1
        found.append((worst, index, at_end))
    worst, index, at_end = min(found)
    if worst == 2:
        raise Refused(say("both its ends lie on a fold or a dart"), "edges")
    return index, at_end


def _describe_halves(values: Values) -> Sentence:
    return say("{edges} equally long", edges=say(" and ").join(said(str(one)) for one in values.get("edges") or ()))


register_step(Step(
    "halves_even", "Make left and right equal",
    "Two edges of one piece that should be each other's mirror image are made equally long, half by each.",
    (Parameter("edges", "Left and right", "edges", ()),),
    halves_even, _describe_halves,
    suits={"edge": 26}, symbol=((0 - 5j, 0 + 5j), (-1 - 4j, -5 - 2j, -5 + 4j, -1 + 4j), (1 - 4j, 5 - 2j, 5 + 4j, 1 + 4j)),
    asked_as=("left and right the same", "halves differ", "make it symmetrical"),
))  # fmt: skip
