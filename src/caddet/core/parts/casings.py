"""Elastic and drawstrings: casings grown on or cut on their own, elastic sewn flat, the channel for a cord."""

from __future__ import annotations

import cmath
import math
from dataclasses import replace
from functools import partial

from caddet.core.errors import Finding
from caddet.core.geometry.offset import offset_path
from caddet.core.geometry.paths import Path
from caddet.core.parts.adding import (
    along_path,
    below,
    copied_seams,
    edge_below,
    grain_in,
    instead_of,
    layer_of,
    made_by_part,
    notion,
    run_words,
    sewn_along,
    with_features,
    with_part,
)
from caddet.core.parts.rounds import one_round, rounds
from caddet.core.parts.strips import mirrored_on, straight, strip_ring
from caddet.core.pattern.dividing import pinned
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Feature, Notch
from caddet.core.pattern.finding import chosen_edges, refused_as_stuck, said
from caddet.core.pattern.going_round import left_open
from caddet.core.pattern.holders import on_edges_for_bands, without_holders
from caddet.core.pattern.ids import base_name, named_on, own_name, stroke_of
from caddet.core.pattern.notions import Share
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.roles import BANDS
from caddet.core.pattern.seams import Layer, Seam
from caddet.core.pattern.surgery import replace_edge, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.passages import USUAL, what_goes_through
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

HALF_INCH = 12.7
LAP = 25.4  # mm the ends of an elastic lap: an inch, common practice
WIDEST_GROWN_ON = 40.0  # mm of elastic, wider ones lie badly in a casing that is folded over a curve
BOW = 4.0  # mm a casing's edge may leave the straight line: it is drawn straight then, and folds flat
TURN = 10.0  # mm turned in at the edge of a casing
YOUNG = 7 * 12  # months: no cords at the neck of younger children, EN 14682 (from memory)
KINDS = (
    ("braided", "Braided: narrows when stretched"),
    ("knitted", "Knitted: soft, may be sewn through"),
    ("non_roll", "Non-roll: for a waist"),
    ("swim", "Swim rubber"),
)
MOST_STRETCH = {"braided": 2.2, "knitted": 2.0, "non_roll": 1.7, "swim": 1.8}  # times its length; guesses


def _how(pattern: Pattern, runs: list[tuple[Piece, str]], elastic: float, asked: str) -> tuple[str, str]:
    """Grown on or separate, and why."""
    if asked != "auto":
        return asked, ""
    if elastic > WIDEST_GROWN_ON:
        return "separate", say(
            "an elastic of {width} lies badly when the casing is folded over; it is cut on its own",
            width=Length(elastic),
        )
    for piece, key in runs:
        edges = piece.run(key)
        if len(edges) != 1:
            return "separate", say(
                "there is a dart in the {run}, so it can't be folded over", run=run_words(piece, key)
            )
        bow = _bow(edges[0].path)
        if bow > BOW:
            return "separate", say(
                "the {run} is curved by {bow} and would not lie flat when folded",
                run=run_words(piece, key),
                bow=Length(bow),
            )
        if not _square_to_fold(piece, key):
            return "separate", say(
                "the {run} is not square to the fold, so the casing would not fold flat on both halves",
                run=run_words(piece, key),
            )
    return "grown_on", say("the edge is straight and the elastic narrow, so the casing is grown on")


def _straightened(piece: Piece, key: str) -> Piece:
    """A piece whose nearly straight run is straight, so that a casing folds on it; any other as it is."""
    edges = piece.run(key)
    if len(edges) != 1 or straight(edges[0]) or _bow(edges[0].path) > BOW:
        return piece
    path = edges[0].path
    return replace_edge(piece, piece.indices(piece.ref(key))[0], Path.polyline([path.start, path.end]))


SQUARE = math.radians(0.25)


def _square_to_fold(piece: Piece, key: str) -> bool:
    """Whether a run, drawn straight, is square to the fold that it ends at; true for one that ends at none."""
    block = block_of(piece, key)
    path = piece.edges[block.first].path
    for index in (block.before, block.behind):
        fold = piece.edges[index]
        if fold.finish == "fold":
            turn = (path.end - path.start) / (fold.path.end - fold.path.start)
            return abs(abs(cmath.phase(turn)) - math.pi / 2) < SQUARE
    return True


def _bow(path: Path) -> float:
    """How far a path leaves the straight line between its ends, in mm."""
    a, b = path.start, path.end
    return max(abs(((p - a) / (b - a)).imag) * abs(b - a) for p in path.flattened(0.2))


def casing(pattern: Pattern, context: Context, values: Values) -> Result:
    """A casing for elastic on chosen edges, grown on or separate; in place of a band that held them."""
    runs = chosen_edges(pattern, values["edges"] or _usual(pattern))
    gone: list[Piece] = []
    if values["how"] != "band":
        pattern, gone = without_holders(pattern, {key for piece, key in runs if piece.role not in BANDS})
        runs = chosen_edges(pattern, values["edges"] or _usual(pattern))
    elastic, count = float(values["elastic"]), int(values["rows"])
    how, why = _how(pattern, runs, elastic, str(values["how"]))
    net = count * (elastic + HALF_INCH)
    turns = rounds(pattern, values["edges"] or _usual(pattern))
    ends, turned = turns[0].layer, turns[0].count
    length = float(values["length"])
    label = next(text for name, text in KINDS if name == values["kind"]).partition(":")[0].lower()
    words = say("Elastic, {kind}, {width}", kind=label, width=Length(elastic))
    own_ends: Layer = ends
    many = count * turned
    if length > 0:
        band = notion(
            context.id, "elastic", words, [], [(say("as stretched round"), length), (say("lap"), LAP)], count=many
        )
    else:
        band = notion(
            context.id,
            "elastic",
            words,
            [Share(own_ends, float(values["ratio"]), say("edge"))],
            [(say("lap"), LAP)],
            count=many,
        )
    findings = (
        [Finding("part.casing", say("Casing: {why}.", why=why), f"recipe[{context.id}].how", "note")] if why else []
    )
    findings += [*instead_of(gone, context.id), *_passes(pattern, context, runs, own_ends, values)]
    before = pattern
    if how == "band":
        return Result(with_part(_marked(pattern, runs), notions=[band]), findings=tuple(findings))
    if how == "grown_on":
        with refused_as_stuck("elastic"):
            for piece, key in runs:
                pattern = _grown(pattern, pattern.piece(piece.name), key, context.id, 2 * net)
        pattern = with_part(pattern, seams=_ends_sewn(before, runs, context.id), notions=[band])
        return Result(pattern, findings=tuple(findings), changes=OF_THE_BODY)
    with refused_as_stuck("elastic"):
        done, _ = sewn_along(
            pattern,
            context.id,
            runs,
            lambda base, key: partial(casing_piece, base=base, key=key, step=context.id, deep=net + TURN),
            "Casing to the {run}",
            say("caught in the seam of the piece it is turned into"),
            "_casing",
        )
        return Result(with_part(done, notions=[band]), findings=tuple(findings))


def _usual(pattern: Pattern) -> tuple[str, ...]:
    found = [
        key for p in pattern.pieces for key in p.runs_of("waist") if not made_by_part(p) and not p.feature("band_fold")
    ]
    if not found:
        raise Stuck(say("say which edge the elastic draws in"), "edges")
    return tuple(found)


def _grown(pattern: Pattern, piece: Piece, key: str, step: str, net: float) -> Pattern:
    """A piece with a casing grown on above a straight run: its neighbours go on, mirrored, and the edge is turned in."""
    piece = _straightened(piece, key)
    block = block_of(piece, key)
    run = piece.edges[block.first]
    if pattern.sewn().get((next(n for n, one in enumerate(pattern.pieces) if one.name == piece.name), block.first)):
        raise Stuck(
            say("the {run} is sewn to something; a casing grows on at a free edge", run=run_words(piece, key)), "edges"
        )
    (first, line, last), _ = mirrored_on(piece, key, net)
    stem, stroke = (
        base_name(below(step, piece.made, f"{own_name(key)}_casing")),
        stroke_of(piece.made),
    )
    new = [
        replace(first, name=f"{stem}.{own_name(piece.edges[block.before].name)}{stroke}", dart=""),
        Edge(
            key,
            line.path,
            "raw",
            marks=run.marks,
            pairs=run.pairs,
            why=say("its upper half is turned in under the lower one"),
        ),
        replace(last, name=f"{stem}.{own_name(piece.edges[block.behind].name)}{stroke}", dart=""),
    ]
    edges = list(piece.edges)
    edges[block.first : block.first + 1] = new
    fold = along_path("fold_line", f"{stem}_fold{stroke}", say("fold here, casing inside"), run.path)
    features = tuple(pinned(piece, f, {key}) for f in piece.features)
    made = replace(
        piece.with_edges(edges), features=(*features, fold), notches=tuple(n for n in piece.notches if n.edge != key)
    )
    return pattern.with_piece(sound(made))


def _ends_sewn(before: Pattern, runs: list[tuple[Piece, str]], step: str) -> list[Seam]:
    """The seams beside the casing go on over it."""
    names: dict[str, str] = {}
    for piece, key in runs:
        block = block_of(piece, key)
        stem, stroke = (
            base_name(below(step, piece.made, f"{own_name(key)}_casing")),
            stroke_of(piece.made),
        )
        for n in (block.before, block.behind):
            old = piece.edges[n].name
            names[old] = f"{stem}.{own_name(old)}{stroke}"
    found = copied_seams(before, names, step, "_casing")
    return [replace(one, label=one.label.replace("inside", say("casing"))) for one in found]


def _marked(pattern: Pattern, runs: list[tuple[Piece, str]]) -> Pattern:
    """Notches where the elastic begins and ends in a band that the edges are sewn to. Raises :class:`Stuck`."""
    keys = {base_name(key) for _, key in runs}
    for one in pattern.seams:
        for number, layer in enumerate(one.layers):
            mine = [part for part in layer if part.ref.name in keys]
            if not mine or len(one.layers) != 2 or len(one.layers[1 - number]) != 1:
                continue
            (band,) = one.layers[1 - number]
            fragments = pattern.fragments(band)
            if not fragments or not fragments[0].piece.feature("band_fold"):
                continue
            whole, passed, inside, ends = pattern.length(layer), 0.0, False, []
            for part in layer:
                if (part in mine) != inside:
                    ends.append(passed / whole)
                    inside = not inside
                passed += pattern.length((part,))
            piece = fragments[0].piece
            length = pattern.length((band,))
            notches = []
            for share in ends:
                at = share * length if not band.backwards else (1 - share) * length
                if 1.0 < at < length - 1.0:
                    spot = piece.spot_at(band.ref, at)
                    notches.append(Notch(spot.edge, spot.u, True, say("elastic begins")))
            return pattern.with_piece(replace(piece, notches=(*piece.notches, *notches)))
    raise Stuck(say("these edges are sewn to no band that the elastic could run in"), "how")


def casing_piece(pattern: Pattern, base: str, key: str, step: str, deep: float) -> Piece:
    """A separate casing for one run, cut like a facing. Raises :class:`Refused`."""
    piece = pattern.piece(base)
    name = below(step, piece.made, f"{own_name(key)}_casing")
    names = {edge.name: edge_below(name, edge.name) for edge in piece.edges}
    ring = strip_ring(piece, key, deep, names, named_on(name, "inner"))
    edges = [
        replace(e, finish="raw", why=say("turned in and stitched down"), allowance=TURN)
        if own_name(e.name) == "inner"
        else replace(e, finish=e.finish if e.finish in ("fold", "opening") else "", why="")
        for e in ring
    ]
    made = Piece(
        name,
        say("{piece}, casing", piece=piece.label),
        tuple(edges),
        grain=grain_in([e.path.start for e in edges], upright=False),
        cuts=piece.cuts[:1],
        pair=piece.pair,
        marks=piece.marks,
        zero=piece.zero,
        role="casing",
        covers=piece.covers,
    )
    return sound(made)


def _passes(
    pattern: Pattern, context: Context, runs: list[tuple[Piece, str]], edges: Layer, values: Values
) -> list[Finding]:
    """Whether the elastic lets through what has to pass: required stretch = (girth − what does not stretch) ÷ relaxed elastic."""
    around = pattern.role_at(runs[0][1])
    word = what_goes_through(around, runs[0][0].role)
    girth = USUAL[word].body(context) if word else None
    whole = pattern.length(edges)
    relaxed = float(values["length"]) or whole * float(values["ratio"])
    everything = sum(
        pattern.length(layer_of(key)) * (2 if p.worn == 2 and p.role != "sleeve" else 1)
        for p in pattern.pieces
        for key in p.runs_of(around)
        if not p.feature("band_fold") and (p.name in {q.name for q, _ in runs} or not made_by_part(p))
    )
    findings = _no_fullness(context, around, everything, values)
    if not girth:
        return findings
    stiff = max(everything - whole, 0.0)
    opened = pattern.opened(around) + left_open(pattern, around)
    need = (girth - stiff - opened) / relaxed if relaxed > 0 else 99.0
    most = MOST_STRETCH[str(values["kind"])]
    place = f"recipe[{context.id}].{'length' if float(values['length']) else 'ratio'}"
    if need > most:
        findings.append(
            Finding(
                "part.elastic",
                say(
                    "The elastic would have to stretch to {need} of its length to let the {what} through ({girth}); this kind gives about {most}. A longer one, elastic all round, or an opening.",
                    need=f"{need:.0%}",
                    what=word,
                    girth=Length(girth),
                    most=f"{most:.0%}",
                ),
                place,
                "look",
            )
        )
    if whole + stiff + opened < girth - 1.0:
        findings.append(
            Finding(
                "part.edge",
                say(
                    "The edge is {edge} round before the elastic goes in, and the {what} is {girth}: it will not go over, however far the elastic stretches.",
                    edge=Length(whole + stiff),
                    what=word,
                    girth=Length(girth),
                ),
                place,
                "look",
            )
        )
    return findings


TIGHT, SNUG = 0.85, 0.95  # of the body, relaxed: tighter than elastic should be, and as it usually is; common practice


def _no_fullness(context: Context, around: str, everything: float, values: Values) -> list[Finding]:
    """A finding where a fitted waist has nothing that its elastic could draw in."""
    body, ratio = context.measures.get("waist", 0.0), float(values["ratio"])
    if around != "waist" or not body or float(values["length"]) or ratio * everything >= TIGHT * body:
        return []
    return [
        Finding(
            "part.fitted",
            say(
                "This waist is fitted ({round} round a waist of {body}): there is little for elastic to draw in, and {ratio} of the edge would be tight. {better} of it is usual here; for gathers take the darts out first.",
                round=Length(everything),
                body=Length(body),
                ratio=f"{ratio:g}",
                better=f"{min(SNUG * body / everything, 1.0):.2g}",
            ),
            f"recipe[{context.id}].ratio",
            "look",
        )
    ]


ELASTIC = Parameter("elastic", "Elastic, wide", "length", 25.0, 3.0, 90.0)
RATIO = Parameter("ratio", "Elastic, of the edge", "ratio", 0.75, 0.2, 1.0, why="Used when no length is given.")
LENGTH = Parameter(
    "length",
    "Elastic, as stretched round",
    "length",
    0.0,
    0.0,
    2000.0,
    why="Measured on the body, comfortably tight; an inch for the lap is added. 0 takes its share of the edge.",
)
KIND = Parameter("kind", "Elastic, kind", "choice", "knitted", choices=KINDS)


def _describe(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("waist")
    return say(
        "elastic of {width} in a casing at the {edges}", width=Length(float(values.get("elastic", 0.0))), edges=which
    )


register_step(Step(
    "casing", "Elastic in a casing",
    "A tunnel for elastic along an edge. On a straight edge and for a narrow elastic it is grown on and folded in; a tilted or curved edge, or a wide elastic, gets a separate one cut to its shape, because a fold would not lie flat. The edge has to go over the body before the elastic goes in.",
    (Parameter("edges", "Edges", "edges", (), why="None means the waist. Name only the back's for elastic in the back half."),
     ELASTIC, Parameter("rows", "Rows", "count", 1.0, 1.0, 6.0),
     Parameter("how", "The casing is", "choice", "auto", choices=(("auto", "As the edge allows"), ("grown_on", "Grown on"), ("separate", "Cut on its own"), ("band", "The band that is there"))),
     LENGTH, RATIO, KIND),
    casing, _describe,
    suits={"edge": 10}, symbol=((-5 - 3j, 5 - 3j), (-5 + 2j, 5 + 2j), (-5 - 1j, -3 + 0j, -1 - 1j, 1 + 0j, 3 - 1j, 5 + 0j)),
    asked_as=("elastic waist", "elasticated", "tunnel for elastic", "gathered wrist", "pull-on"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="elastic and half an inch between fold and stitching, as much again turned in: 3 inches for 1; an inch of lap: common practice, no source",
))  # fmt: skip


# --- a channel for a cord --------------------------------------------------------------------------------


def drawstring(pattern: Pattern, context: Context, values: Values) -> Result:
    """A channel stitched along an edge for a cord, its exits marked."""
    runs = chosen_edges(pattern, values["edges"] or _usual(pattern))
    wide, inset = float(values["width"]), float(values["inset"])
    around = one_round(pattern, values["edges"] or _usual(pattern))
    ends = around.layer
    for number, (piece, key) in enumerate(runs):
        edges = piece.run(key)
        lines: list[Feature] = []
        for edge in edges:
            for deep in (inset, inset + wide):
                line = offset_path(edge.path, -deep)
                if line is not None:
                    lines.append(
                        along_path(
                            "line",
                            f"{context.id}.channel_{number}_{len(lines)}",
                            say("channel for the cord") if not lines else "",
                            line,
                        )
                    )
        pattern = pattern.with_piece(with_features(pattern.piece(piece.name), lines))
    cord = notion(
        context.id,
        "cord",
        say("Cord"),
        [Share(ends, float(values["drawn"]), say("round the edge, drawn in"))],
        [(say("to tie"), float(values["tie"]))],
    )
    findings = []
    run = pattern.role_at(runs[0][1])
    age = context.measures.get("age_months", None)
    young = age is not None and age < YOUNG
    height = context.measures.get("height", 0.0)
    small = 0 < height < 1220.0 or young
    if small and (run == "neck" or runs[0][0].role == "hood"):
        words = say(
            "No cords at the neck or hood of a young child: they catch and strangle (EN 14682). Elastic, a button or a snap does the same. Local rules come first."
        )
        findings.append(Finding("part.cord", words, f"recipe[{context.id}].edges", "stops"))
    return Result(with_part(pattern, notions=[cord]), findings=tuple(findings))


register_step(
    Step(
        "drawstring",
        "Channel for a cord",
        "Two lines of stitching along an edge with a cord between them. It comes out through two buttonholes, one, or an open seam; its ends are knotted so that they don't slip back. Never at the neck or hood of a young child.",
        (
            Parameter("edges", "Edges", "edges", ()),
            Parameter("width", "Channel, wide", "length", 15.0, 4.0, 60.0),
            Parameter("inset", "In from the edge", "length", 5.0, 0.0, 100.0),
            Parameter("drawn", "Drawn in to", "ratio", 1.0, 0.2, 1.0),
            Parameter("tie", "More, to tie", "length", 450.0, 0.0, 2000.0, why=say("{38 to 50 cm} make a bow.")),
        ),
        drawstring,
        lambda values: say("channel for a cord, {width} wide", width=Length(float(values.get("width", 0.0)))),
        suits={"edge": 19},
        symbol=((-5 - 2j, 5 - 2j), (-5 + 2j, 5 + 2j), (-5 + 0j, 5 + 0j, 3 + 5j), (5 + 0j, 5 + 5j)),
        asked_as=("drawstring", "cord", "tie in a tunnel", "lace"),
        refuses=on_edges_for_bands,
        fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
        source="EN 14682 for children's cords, from memory; 15 to 20 inches to tie: common practice, no source",
    )
)
