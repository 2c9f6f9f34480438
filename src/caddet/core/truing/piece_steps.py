"""Steps that put single pieces right: lines blended over their seams, edges made fair, darts, grain and halves evened."""

from __future__ import annotations

import cmath
import math
from dataclasses import replace
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.geometry.curves import mapped, smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import (
    chosen_edges,
    chosen_pieces,
    one_dart,
    refused_as_stuck,
    said,
)
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Run
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.seams import Seam
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Parameter
from caddet.core.recipe.registry import Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.truing.blend import all_blended
from caddet.core.truing.checks import NEARLY, ends_on, meeting_lines
from caddet.core.truing.ends import end_moved, lengthened
from caddet.core.truing.joins import joins

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
    return mapped(path, lambda point: about + (point - about) * scale)


def _of_dart(what: str) -> Any:
    return lambda values: say(
        "{dart} " + what, dart=said(str(values["dart"][0])) if values.get("dart") else say("the dart")
    )


register_step(
    Step(
        "dart_even",
        "Make both legs of a dart equal",
        "The longer leg is cut to the other one's length at its mouth, and the edge beside it drawn to it, so that nothing jogs when the dart is sewn.",
        (Parameter("dart", "Dart", "dart", None, why="Without one, the first there is."),),
        dart_even,
        _of_dart("with equal legs"),
        suits={"dart": 13},
        symbol=((-3 + 4j, 0 - 4j, 3 + 4j), (-4 + 4j, 4 + 4j)),
        asked_as=("legs the same", "dart legs differ", "true the dart"),
        fits=_no_dart,
    )
)


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


register_step(
    Step(
        "dart_slide",
        "Move a dart along its edge",
        "Mouth and point move by the same; what the edge loses on one side it gains on the other. So the dart of a skirt comes to stand under the seam of a bodice.",
        (
            Parameter("dart", "Dart", "dart", None, why="Without one, the first there is."),
            Parameter("by", "By, along the outline", "length", 10.0, -NEARLY * 5, NEARLY * 5),
            Parameter("meets", "To meet the line across its seam", "flag", False),
        ),
        dart_slide,
        _describe_slide,
        suits={"dart": 12},
        symbol=((-4 + 4j, -2 - 4j, 0 + 4j), (1 + 0j, 4 + 0j, 3 - 1j)),
        asked_as=("dart should meet the seam", "shift the dart", "line up darts"),
        fits=_no_dart,
    )
)


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


register_step(
    Step(
        "grain_even",
        "Turn the grain line straight",
        "The grain line is laid along the fold, or square to the level lines; across or at 45° where the piece is cut so.",
        (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece."),),
        grain_even,
        lambda values: say("grain line straight"),
        suits={"piece": 28},
        symbol=((0 - 5j, 0 + 5j), (-1.5 - 3j, 0 - 5j, 1.5 - 3j), (-1.5 + 3j, 0 + 5j, 1.5 + 3j)),
        asked_as=("grain is off", "straighten the grain", "on the straight grain"),
    )
)


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


register_step(
    Step(
        "halves_even",
        "Make left and right equal",
        "Two edges of one piece that should be each other's mirror image are made equally long, half by each.",
        (Parameter("edges", "Left and right", "edges", ()),),
        halves_even,
        _describe_halves,
        suits={"edge": 26},
        symbol=((0 - 5j, 0 + 5j), (-1 - 4j, -5 - 2j, -5 + 4j, -1 + 4j), (1 - 4j, 5 - 2j, 5 + 4j, 1 + 4j)),
        asked_as=("left and right the same", "halves differ", "make it symmetrical"),
    )
)
