"""Fastenings in a seam: zips of four kinds, and the fly of trousers."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path, area
from caddet.core.geometry.segments import Cubic, Line
from caddet.core.parts.adding import (
    below,
    edge_below,
    finish_runs,
    follows,
    grain_in,
    held,
    layer_of,
    made_by_part,
    needs_length,
    notion,
    run_words,
    seam,
    with_part,
)
from caddet.core.parts.strips import parallel_points
from caddet.core.pattern.closed import closed_run
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges, measurable, on_seams, only_runs, said
from caddet.core.pattern.ids import base_name, named_on, other_side
from caddet.core.pattern.notions import ZIPS, Share
from caddet.core.pattern.pattern import Opening, Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.roles import CROTCHES
from caddet.core.pattern.seams import Layer
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.kinds import with_centre_seam
from caddet.core.shaping.openings import open_seam, seam_of

KINDS = (
    ("lapped", "Lapped"),
    ("centred", "Centred"),
    ("invisible", "Invisible"),
    ("separating", "Separating: opens at its end"),
)
SPARE = 25.0  # mm an invisible zip is longer than its opening, so that it can be drawn through; common practice
SEWN = 10.0  # mm of the seam that stay sewn below a zip
SHORTEST = 60.0
WHOLE = 1.0  # mm within which a zip takes a whole run


# --- zips ------------------------------------------------------------------------------------------


def zip_(pattern: Pattern, context: Context, values: Values) -> Result:
    """Open a seam, or a run of seams, from its top and close it with a zip."""
    if not values["edges"]:
        raise Stuck(say("say in which seam the zip goes"), "edges")
    kind, wanted = str(values["kind"]), float(values["length"])
    runs = chosen_edges(pattern, values["edges"])
    runs = [*_open_above(*runs[0], runs), *runs]
    around = _above(*runs[0])
    _one_zip(pattern, runs)
    layers: list[Layer] = []
    left = wanted
    for number, (piece, key) in enumerate(runs):
        piece = pattern.piece(piece.name)
        length = piece.run_length(key)
        own = left if wanted > 0 else length
        if kind == "separating" or wanted <= 0:
            own = length
        if all(edge.finish == "opening" for edge in piece.run(key)):
            if 0 < left < length - WHOLE:
                raise Stuck(
                    say(
                        "the opening that is there already is {length} long; a shorter zip would leave its end open",
                        length=Length(length),
                    ),
                    "length",
                )
            layers.append(layer_of(key, piece.marks))  # the block leaves it open already
        elif own > length - WHOLE:
            pattern = _whole(pattern, piece, key)
            layers.append(layer_of(key, piece.marks))
        else:
            if left < SHORTEST and number == 0:
                raise Stuck(say("a zip is {least} long at least", least=Length(SHORTEST)), "length")
            pattern, layer = _partly(
                pattern,
                piece,
                key,
                own,
                f"{context.id}.{number + 1}" if len(runs) > 1 else context.id,
                bool(values["make_seam"]),
            )
            layers.append(layer)
        left = max(left - length, 0.0)
    if kind != "separating" and left > WHOLE:
        total = sum(piece.run_length(key) for piece, key in runs)
        raise Stuck(say("the zip would be longer than the seam, which is {total}", total=Length(total)), "length")
    edges: Layer = tuple(part for layer in layers for part in layer)
    label = next(label for name, label in KINDS if name == kind).partition(":")[0].lower()
    plus = [(say("to draw it through"), SPARE)] if kind == "invisible" else []
    zipper = notion(
        context.id, "zip", say("Zip, {kind}", kind=label), [Share(edges, 1.0, say("opening"))], plus, sold=ZIPS
    )
    fresh = not all(edge.finish == "opening" for piece, key in runs for edge in piece.run(key))
    openings = [Opening(f"{context.id}.zip", say("Zip"), edges, around)] if fresh and around else []
    return Result(measurable(with_part(pattern, notions=[zipper], openings=openings)))


def _one_zip(pattern: Pattern, runs: Sequence[tuple[Piece, str]]) -> None:
    """Raise :class:`Stuck` when there is a zip in one of the runs already."""
    taken = {
        part.ref.name for one in pattern.notions if one.kind == "zip" for share in one.along for part in share.layer
    }
    for piece, key in runs:
        if base_name(key) in taken:
            raise Stuck(say("there is a zip in the {run} already", run=run_words(piece, key)), "edges")


def _top(piece: Piece, key: str) -> tuple[int, bool]:
    """The edge at the upper end of a run, and whether its path ends there."""
    block = block_of(piece, key)
    first, last = piece.edges[block.first], piece.edges[block.last]
    return (block.first, False) if first.path.start.imag <= last.path.end.imag else (block.last, True)


def _above(piece: Piece, key: str) -> str:
    """The role of the run beside the upper end of a run."""
    index, at_end = _top(piece, key)
    other = piece.edges[(index + 1) % len(piece.edges) if at_end else index - 1]
    return "" if other.finish == "fold" or other.dart else other.role


def _open_above(piece: Piece, key: str, runs: Sequence[tuple[Piece, str]]) -> list[tuple[Piece, str]]:
    """The opening that a run goes on from at its upper end: the zip begins at the top of that, not in mid-seam."""
    index, at_end = _top(piece, key)
    other = piece.edges[(index + 1) % len(piece.edges) if at_end else index - 1]
    here = piece.edges[index].path
    into = here.end_direction if at_end else -here.start_direction
    onwards = other.path.start_direction if at_end else -other.path.end_direction
    goes_on = other.finish == "opening" and abs(cmath.phase(onwards / into)) < GOES_ON
    return [(piece, other.name)] if goes_on and all(other.name != key_ for _, key_ in runs) else []


GOES_ON = math.radians(20)  # by which a seam may turn where an opening above it ends


def _whole(pattern: Pattern, piece: Piece, key: str) -> Pattern:
    """A run opened from end to end."""
    if any(edge.finish == "fold" for edge in piece.run(key)):
        return _opened_fold(pattern, piece, key)
    found = seam_of(pattern, piece, key)
    if found is None:
        return finish_runs(pattern, [key], "opening")
    keys = {part.ref.key for part in found.parts()}
    gone = replace(pattern, seams=tuple(one for one in pattern.seams if one is not found))
    return finish_runs(gone, keys | {other_side(k) for k in keys}, "opening")


def _opened_fold(pattern: Pattern, piece: Piece, key: str) -> Pattern:
    """A piece on the fold cut apart there, open all along."""
    made = replace(
        piece,
        edges=tuple(replace(e, finish="opening") if e.name == key else e for e in piece.edges),
        pair=True,
        cuts=tuple(Cut(cut.cloth, 2 * cut.count) for cut in piece.cuts),
    )
    return pattern.with_piece(made)


def _partly(
    pattern: Pattern, piece: Piece, key: str, length: float, step: str, make_seam: bool
) -> tuple[Pattern, Layer]:
    """A run opened from its upper end for so many mm; what is open as a layer."""
    whole = piece.run_length(key)
    if length > whole - SEWN:
        raise Stuck(say("the zip would be longer than the seam, which is {whole}", whole=Length(whole)), "length")
    if any(edge.finish == "fold" for edge in piece.run(key)):
        if not make_seam:
            raise Stuck(
                say(
                    "the {run} lies on the fold, and a zip needs a seam: let one be made for it",
                    run=run_words(piece, key),
                ),
                "make_seam",
            )
        pattern = with_centre_seam(pattern, piece, length, step)
        return pattern, _open_part(pattern, key)
    found = seam_of(pattern, piece, key)
    if found is None:
        raise Stuck(
            say("the {run} is not sewn to anything, so there is no seam for a zip", run=run_words(piece, key)), "edges"
        )
    index, path_end = _top(piece, key)
    at_end = True
    for layer in found.layers:
        for fragment in pattern.layer_fragments(layer):
            if fragment.piece is piece and fragment.index == index:
                at_end = path_end != fragment.backwards
    for number in range(len(found.layers)):
        pattern = open_seam(pattern, found.name, number, at_end, length, step, "opening")
    return pattern, _open_part(pattern, key)


def _open_part(pattern: Pattern, key: str) -> Layer:
    """The part of a run that is open now, as a layer."""
    ref = layer_of(key)[0].ref
    edges = [pattern.pieces[p].edges[e] for p, e in pattern.edges(ref)]
    opened = [edge for edge in edges if edge.finish == "opening"]
    part = layer_of(key)[0]
    if not opened:
        raise Stuck(say("the end of this seam can't be opened for a zip"), "edges")
    return (replace(part, low=min(e.low for e in opened), high=max(e.high for e in opened)),)


def _describe(values: Values) -> Sentence:
    kind = next((label for name, label in KINDS if name == values.get("kind")), "").partition(":")[0].lower()
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("a seam")
    length = float(values.get("length", 0.0))
    if length <= 0 or values.get("kind") == "separating":
        return say("{kind} zip in the {edges}", kind=kind, edges=which)
    return say("{kind} zip of {length} in the {edges}", kind=kind, length=Length(length), edges=which)


def _fits(pattern: Pattern) -> str:
    return "" if any(piece.runs() for piece in pattern.pieces) else say("there is no seam here")


register_step(Step(
    "zip", "Zip",
    "The seam is left open from its top and closed with a zip. Lapped and centred ones are stitched from outside, an invisible one before the seam below it is closed; a separating one opens the whole edge. On a fold there is no seam to hold it: one has to be made.",
    (Parameter("edges", "In the seam", "edges", (), most=4, why="One side is enough. A zip that goes on through a waist seam: the upper seam first, then the one below."),
     Parameter("kind", "Kind", "choice", "invisible", choices=KINDS),
     Parameter("length", "Length of the opening", "length", 300.0, 0.0, 1500.0, hand=Hand("along", "edges", "start"), why="From the top down. 0 opens the whole edge."),
     Parameter("make_seam", "Make a seam for it on the fold", "flag", False, why="The piece is then cut as a pair.")),
    zip_, _describe,
    suits={"seam": 5, "edge": 11}, key="Z", symbol=((0 - 5j, 0 + 5j), (-2 - 4j, 2 - 4j), (-2 - 1j, 2 - 1j), (-2 + 2j, 2 + 2j)),
    asked_as=("fastening", "zipper", "invisible zip", "opening", "get in and out"), refuses=on_seams, fits=_fits,
))  # fmt: skip


# --- the fly ---------------------------------------------------------------------------------------


def fly(pattern: Pattern, context: Context, values: Values) -> Result:
    """A fly at the upper end of a front crotch seam: facing, shield, zip."""
    runs = chosen_edges(pattern, values["edges"] or _crotch(pattern))
    piece, key = runs[0]
    if made_by_part(piece):
        raise Stuck(
            say("the {piece} is a part; a fly goes into a seam of the garment itself", piece=piece.label.lower()),
            "edges",
        )
    _one_zip(pattern, [(piece, key)])
    length = float(values["length"]) or float(context.sums["fly"].value if "fly" in context.sums else 180.0)
    values = {**values, "length": length}
    facing = fly_piece(pattern, piece.name, key, context.id, values)
    shield = replace(
        fly_piece(pattern, piece.name, key, context.id, {**values, "shield": True}),
        label=say("Fly shield"),
        cuts=(Cut("main", 2), Cut("interfacing", 1)),
    )
    span = _upper(piece, key, length)
    base = replace(layer_of(key, piece.marks)[0], low=span[0], high=span[1])
    seams = [
        seam(
            f"{context.id}.fly_facing",
            say("Fly facing to the front"),
            (base,),
            layer_of(edge_below(facing.made, key)),
            one_sided=True,
        ),
        seam(
            f"{context.id}.fly_shield",
            say("Fly shield to the other front"),
            (replace(base, ref=replace(base.ref, mirrored=not base.ref.mirrored)),),
            layer_of(edge_below(shield.made, key)),
            one_sided=True,
        ),
    ]
    pieces = held([facing, shield], seams, say("it is caught in the waist seam"))
    around = [key, _neighbour(piece, key)]
    fits = [
        follows(pattern, one, around, partial(fly_piece, base=piece.name, key=key, step=context.id, values=more))
        for one, more in zip(pieces, (values, {**values, "shield": True}), strict=True)
    ]
    zipper = notion(context.id, "zip", say("Zip for the fly"), [], [(say("opening"), length)], sold=ZIPS)
    opens = [one for p in pattern.parts(piece.name) for one in p.notches if "open" in one.name or "fly" in one.name]
    openings = (
        [] if opens else [Opening(f"{context.id}.fly", say("Fly"), (base,), pattern.role_at(_neighbour(piece, key)))]
    )
    return Result(with_part(pattern, pieces, seams, fits, [zipper], openings))


def _crotch(pattern: Pattern) -> tuple[str, ...]:
    found = [key for p in pattern.pieces if p.covers == "front" for key in p.runs_of("crotch", "crotch_front")]
    if not found:
        raise Stuck(say("there is no front crotch seam for a fly here; say which seam"), "edges")
    return (found[0],)


def _neighbour(piece: Piece, key: str) -> str:
    index, at_end = _top(piece, key)
    return piece.edges[(index + 1) % len(piece.edges) if at_end else index - 1].name


def _upper(piece: Piece, key: str, length: float) -> tuple[float, float]:
    """The positions of the uppermost part of a run, so many mm long."""
    whole = piece.run_length(key)
    needs_length(whole, length + SEWN, say("the fly"), "length")
    walked = piece.walked(key)
    top_first = walked[0].start.imag <= walked[-1].end.imag
    spot = piece.spot_at(key, length if top_first else whole - length)
    return (0.0, spot.u) if top_first else (spot.u, 1.0)


def fly_piece(pattern: Pattern, base: str, key: str, step: str, values: Values) -> Piece:
    """The fly's facing, or its shield, along the upper part of a crotch seam. Raises :class:`Stuck`."""
    piece = pattern.piece(base)
    length, width = float(values["length"]) or 180.0, float(values["width"])
    _upper(piece, key, length)
    path = closed_run(piece, key)
    index, at_end = _top(piece, key)
    walked_down = path if path.start.imag <= path.end.imag else path.reversed()
    line = walked_down.between(0.0, length)
    waist = piece.edges[(index + 1) % len(piece.edges) if at_end else index - 1]
    assert line is not None
    away = waist.path if at_end else waist.path.reversed()
    needs_length(waist.path.length, width + SEWN, say("the fly's width"), "width")
    top = away.split_at(width)[0]
    assert top is not None
    shield = bool(values.get("shield"))
    name = below(step, piece.made, "fly_shield" if shield else "fly")
    lines = parallel_points(line, width if not at_end else -width)
    points = [p for part in lines for p in part]
    # straight down beside the seam, then round to its end
    upto = [top.end, *(p for p in points[1:] if p.imag < line.end.imag - width * 0.9 and p.imag > top.end.imag + 5.0)]
    if shield:
        low = upto[-1] + 1j * max(line.end.imag - upto[-1].imag, 1.0)
        inner = Path((*Path.polyline([*upto[:1], low]).segments, Line(low, line.end)))
    else:
        down = (
            smooth_through(upto, None, None)
            if len(upto) > 2
            else Path.polyline([*upto, upto[-1] + 1j] if len(upto) == 1 else upto)
        )
        way = down.end_direction
        reach = abs(line.end - down.end) * 0.55
        inner = Path(
            (
                *down.segments,
                Cubic(
                    down.end,
                    down.end + way * reach,
                    complex((down.end.real + line.end.real) / 2, line.end.imag),
                    line.end,
                ),
            )
        )
    ring = [
        Edge(edge_below(name, waist.name), top),
        Edge(named_on(name, "inner"), inner, "raw", why=say("neatened and left flat")),
        Edge(edge_below(name, key), line.reversed(), pairs=_pairs(piece, key, length, walked_down is path)),
    ]
    ring = _clockwise(ring)
    made = Piece(
        name,
        say("Fly facing"),
        tuple(ring),
        grain=grain_in([p for e in ring for p in (e.path.start,)]),
        cuts=(Cut("main", 1), Cut("interfacing", 1)),
        zero=piece.zero,
    )
    return sound(made)


def _pairs(piece: Piece, key: str, length: float, forward: bool) -> tuple[tuple[float, float], ...]:
    """The positions of the fly's edge: those of the seam it is cut from, from its lower end up."""
    low, high = _upper(piece, key, length)
    return ((0.0, high), (1.0, low)) if forward else ((0.0, low), (1.0, high))


def _clockwise(ring: list[Edge]) -> list[Edge]:
    points = [p for edge in ring for p in edge.path.flattened(0.5)[1:]]
    return ring if area(points) > 0 else [edge.reversed() for edge in reversed(ring)]


register_step(Step(
    "fly", "Fly",
    "The front crotch seam stays open at its top, over a zip: a facing stitched to the side that laps, a shield behind the other. From outside one curved line of stitching shows.",
    (Parameter("edges", "In the seam", "edges", (), most=1, why="None means the front crotch."),
     Parameter("length", "Length", "length", 0.0, 0.0, 400.0, why="0 takes what the block asks for, so that the hips go through."),
     Parameter("width", "Width", "length", 40.0, 20.0, 80.0)),
    fly, lambda values: say("fly, {width} wide", width=Length(float(values.get("width", 0.0)))),
    suits={"edge": 13, "seam": 9}, symbol=((0 - 5j, 0 + 5j), (0 - 5j, 3 - 5j, 3 + 2j, 0 + 4j)),
    asked_as=("trouser zip", "front opening of trousers", "jeans zip"),
    refuses=only_runs(CROTCHES, say("a fly is set into the front crotch seam")), fits=lambda pattern: "" if any(p.runs_of(*CROTCHES) for p in pattern.pieces) else say("there is no crotch seam here"),
))  # fmt: skip
