"""Decoration placed while flat: rows of trim along an edge, motifs on a piece; and the second front layer with pads."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import shapely

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.parts.adding import (
    ROLES,
    along_path,
    below,
    drawn,
    edge_below,
    follows,
    grain_in,
    held,
    layer_of,
    made_by_part,
    notion,
    run_words,
    seam,
    with_features,
    with_part,
)
from caddet.core.parts.strips import strip
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.features import Feature
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, refused_as_stuck, said
from caddet.core.pattern.ids import base_name, named_on
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.framing import frame_point

CLEAR = 10.0  # mm that trim keeps from seams, darts and a hem's turn
HEM_TURN = 40.0


def trim_rows(pattern: Pattern, context: Context, values: Values) -> Result:
    """Rows of trim parallel to an edge, their places drawn, their length summed."""
    if not values["edges"]:
        raise Stuck(say("say along which edge the trim runs"), "edges")
    rows, first, apart, wide = (
        int(values["rows"]),
        float(values["first"]),
        float(values["apart"]),
        float(values["width"]),
    )
    if rows > 1 and apart < wide:
        raise Stuck(
            say(
                "rows {wide} wide lie over each other when they are only {apart} apart",
                wide=Length(wide),
                apart=Length(apart),
            ),
            "apart",
        )
    findings: list[Finding] = []
    place = f"recipe[{context.id}]"
    total = 0.0
    for number, (base, key) in enumerate(chosen_edges(pattern, values["edges"])):
        piece = pattern.piece(base.name)
        marks: list[Feature] = []
        for row in range(rows):
            with refused_as_stuck("first"):
                line = strip(piece, key, first + row * apart, "first")[2]
            total += line.length * piece.worn
            marks.append(
                along_path(
                    "placement", f"{context.id}.trim_{number}_{row + 1}", say("trim") if row == 0 else "", line, 0.5
                )
            )
            if _on_darts(piece, line):
                findings.append(
                    Finding(
                        "part.trim",
                        say(
                            "A row of trim on the {piece} runs over a dart: sew the dart first, or leave the row off there.",
                            piece=piece.label.lower(),
                        ),
                        f"{place}.rows",
                        "look",
                    )
                )
        if any(e.finish == "hem" for e in piece.run(key)) and first - wide / 2 < HEM_TURN:
            findings.append(
                Finding(
                    "part.trim",
                    say(
                        "The first row on the {run} lies within the turn of the hem: it would be sewn through both layers.",
                        run=run_words(piece, key),
                    ),
                    f"{place}.first",
                    "note",
                )
            )
        pattern = pattern.with_piece(with_features(piece, marks))
    reserve = float(values["reserve"])
    buy = notion(
        context.id,
        "trim",
        say("Trim, {width} wide", width=Length(wide)),
        [],
        [(say("{rows} rows", rows=rows), total), (say("reserve"), total * reserve)],
    )
    words = say(
        "Trim is stitched on while the piece is flat, before its seams; strips whose ends a binding covers come first."
    )
    return Result(with_part(pattern, notions=[buy]), findings=(*findings, Finding("part.flat", words, place, "note")))


def _on_darts(piece: Piece, line: Path) -> bool:
    drawn_line = shapely.LineString([(p.real, p.imag) for p in line.flattened(0.5)])
    return any(
        shapely.Polygon([(p.real, p.imag) for p in piece.legs(d.id)[1:]]).intersects(drawn_line) for d in piece.darts
    )


register_step(Step(
    "trim", "Rows of trim",
    "Braid, lace or ribbon stitched on in rows parallel to an edge, while the piece is still flat. Spacing and a reserve are counted; the rows keep clear of darts and the hem's turn.",
    (Parameter("edges", "Along the edges", "edges", ()), Parameter("rows", "Rows", "count", 3.0, 1.0, 40.0),
     Parameter("width", "Trim, wide", "length", 10.0, 1.0, 200.0), Parameter("first", "First row, from the edge", "length", 60.0, 5.0, 900.0, hand=Hand("out", "edges")),
     Parameter("apart", "Rows apart", "length", 25.0, 1.0, 300.0), Parameter("reserve", "Reserve", "ratio", 0.1, 0.0, 1.0)),
    trim_rows, lambda values: say("{rows} rows of trim, {width} wide, along the {edges}", width=Length(float(values.get("width", 0.0))), rows=f"{float(values.get('rows', 0)):g}", edges=", ".join(said(one) for one in values.get("edges") or ()) or say("edge")),
    suits={"edge": 30}, symbol=((-5 - 3j, 5 - 3j), (-5 + 0j, 5 + 0j), (-5 + 3j, 5 + 3j), (-5 - 5j, 5 - 5j)),
    asked_as=("braid", "lace", "ribbon", "decoration", "stripes"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
))  # fmt: skip


def motifs(pattern: Pattern, context: Context, values: Values) -> Result:
    """Motifs in a row between two places, clear of edges and darts."""
    points = values["along"]
    if len(points) < 2:
        raise Stuck(say("say between which two places the motifs lie"), "along")
    (piece, a), (other, b) = (frame_point(pattern, one, "along") for one in (points[0], points[-1]))
    if piece.name != other.name:
        raise Stuck(say("the motifs lie on one piece"), "along")
    count, size = int(values["count"]), float(values["size"])
    places: list[Point] = [a + (b - a) * (0.5 if count == 1 else n / (count - 1)) for n in range(count)]
    if count > 1 and abs(places[1] - places[0]) < size:
        raise Stuck(
            say(
                "{count} motifs of {size} don't go on {length}",
                count=count,
                size=Length(size),
                length=Length(abs(b - a)),
            ),
            "count",
        )
    shape = shapely.Polygon([(p.real, p.imag) for p in piece.polygon(0.5)]).buffer(-CLEAR)
    darts = [shapely.Polygon([(p.real, p.imag) for p in piece.legs(d.id)[1:]]) for d in piece.darts]
    marks, off = [], 0
    for number, at in enumerate(places):
        half = size / 2
        corners = [at + complex(x, y) for x, y in ((-half, -half), (half, -half), (half, half), (-half, half))]
        box = shapely.Polygon([(p.real, p.imag) for p in corners])
        if not shape.covers(box) or any(one.distance(box) < CLEAR for one in darts):
            off += 1
        marks.append(
            drawn(
                "placement",
                f"{context.id}.motif_{number + 1}",
                say("motif") if number == 0 else "",
                corners,
                closed=True,
            )
        )
    findings = (
        [
            Finding(
                "part.motif",
                say(
                    "{off} of the motifs lie nearer than {room} to an edge or a dart of the {piece}: a seam would run into them.",
                    off=off,
                    room=Length(CLEAR),
                    piece=piece.label.lower(),
                ),
                f"recipe[{context.id}].along",
                "look",
            )
        ]
        if off
        else []
    )
    worn = piece.worn if values["mirrored"] else 1
    buy = notion(
        context.id, "trim", say("Motif, {size}", size=Length(size)), count=count * worn + int(values["reserve"])
    )
    return Result(with_part(pattern.with_piece(with_features(piece, marks)), notions=[buy]), findings=tuple(findings))


register_step(Step(
    "motifs", "Motifs",
    "Patches or embroidered motifs in a row, placed while the piece is flat and clear of seams and darts. On a pair they lie mirrored, or only on one side.",
    (Parameter("along", "Between the places", "points", ()), Parameter("count", "How many", "count", 3.0, 1.0, 60.0),
     Parameter("size", "Size", "length", 40.0, 3.0, 400.0), Parameter("mirrored", "On both sides", "flag", True), Parameter("reserve", "Reserve", "count", 1.0, 0.0, 20.0)),
    motifs, lambda values: say("{count} motifs of {size}", count=f"{float(values.get('count', 0)):g}", size=Length(float(values.get("size", 0.0)))),
    suits={"piece": 26}, symbol=((-5 - 1j, -3 - 1j, -3 + 1j, -5 + 1j, -5 - 1j), (-1 - 1j, 1 - 1j, 1 + 1j, -1 + 1j, -1 - 1j), (3 - 1j, 5 - 1j, 5 + 1j, 3 + 1j, 3 - 1j)),
    asked_as=("appliqué", "patches", "embroidery", "beads"), fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
))  # fmt: skip


# --- the second front layer ---------------------------------------------------------------------------------


def pad_layer(pattern: Pattern, context: Context, values: Values) -> Result:
    """The upper front twice more inside, with openings for pads and a divider stitched through these two only."""
    pieces = chosen_pieces(pattern, values["pieces"]) or [
        p for p in pattern.pieces if p.covers == "front" and p.level("bust") and not made_by_part(p)
    ]
    if not pieces:
        raise Stuck(say("there is no front with a bust level here; say which piece"), "pieces")
    piece = pieces[0]
    made, seams, fits = list[Piece](), list[Seam](), list[Fit]()
    for which, words in PAD_LAYERS:
        drawing = partial(pad_piece, base=piece.name, step=context.id, which=which, words=words, values=values)
        layer = drawing(pattern)
        names = {old: new for old in piece.runs() if (new := edge_below(layer.made, old)) in layer.runs()}
        sewn = [
            seam(f"{context.id}.{which}_{n}", say("Layer for pads to the {edge}", edge=said(old)), (replace(layer_of(old, piece.marks)[0], low=min(e.low for e in layer.run(new)), high=max(e.high for e in layer.run(new))),), layer_of(new, piece.marks))
            for n, (old, new) in enumerate(names.items())
            if layer.run(new)[0].finish != "fold"
        ]  # fmt: skip
        (layer,) = held([layer], sewn, say("it lies under the front and is sewn with it"))
        made.append(layer)
        seams += sewn
        fits.append(follows(pattern, layer, piece.runs(), drawing))
    pads = notion(context.id, "pads", say("Pads, a pair"), count=1)
    under = (
        [
            notion(
                context.id,
                "elastic",
                say("Elastic under the layer, {width}", width=Length(12.0)),
                [],
                [
                    (say("edge"), made[-1].run_length(named_on(made[-1].made, "under")) * made[-1].worn * 0.9),
                    (say("to hold"), 75.0),
                ],
            )
        ]
        if values["elastic"]
        else []
    )
    return Result(with_part(pattern, made, seams, fits, [pads, *under]))


PAD_LAYERS = (("pads", "layer for pads"), ("pads_inner", "layer for pads, inner"))  # as their names and in words


def pad_piece(pattern: Pattern, base: str, step: str, which: str, words: str, values: Values) -> Piece:
    """One of the two inner layers of the upper front as it is now. Raises :class:`Stuck`."""
    piece = pattern.piece(base)
    bust = piece.level("bust")
    lines = piece.drawn(bust) if bust else []
    if not lines:
        raise Stuck(say("the {piece} has no bust level", piece=piece.label.lower()), "pieces")
    y = max(p.imag for line in lines for p in (line.start, line.end)) + float(values["under"])
    left, _, right, low = piece.outline().bounds()
    if y > low - 20.0:
        raise Stuck(say("the layer would reach to the hem; make it shorter"), "under")
    hits = sorted(
        ((point.real, point) for _, point in piece.outline().crossings(complex(left - 5, y), complex(right + 5, y))),
        key=lambda hit: hit[0],
    )
    if len(hits) != 2:
        raise Stuck(say("a dart or a hollow lies where the layer would end; end it elsewhere"), "under")
    ends = [
        piece.spot_at(run, piece.nearest_on_run(run, point)[1])
        for _, point in hits
        for run in [min(piece.runs(), key=lambda k: piece.nearest_on_run(k, point)[0])]
    ]
    with refused_as_stuck("under"):
        done = cut_piece(Pattern((piece,)), piece, CutLine(ends[0], ends[1]), step)
    upper = min(done.pieces, key=lambda p: sum(q.imag for q in p.polygon(2.0)) / len(p.polygon(2.0)))
    name = below(step, piece.made, which)
    marks = {f"{step}.1", f"{step}.2"}
    edges = []
    for edge in upper.edges:
        if base_name(edge.name) == f"{step}.cut":
            edges.append(replace(edge, name=named_on(name, "under"), finish="turned", marks=frozenset()))
            continue
        new = edge_below(name, edge.name) if not edge.dart else edge.name
        edges.append(
            replace(
                edge, name=new, marks=edge.marks - marks, finish=edge.finish if edge.finish == "fold" else "", dart=""
            )
        )
    layer = Piece(
        name,
        say("{piece}, {words}", piece=piece.label, words=words),
        tuple(edges),
        grain=replace(
            piece.grain, a=grain_in([e.path.start for e in edges]).a, b=grain_in([e.path.start for e in edges]).b
        ),
        cuts=(Cut(str(values["cloth"]), piece.cut),),
        pair=piece.pair,
        remark=say(
            "two of these; openings of {wide} between them at both sides; stitching down their middle keeps the pads apart",
            wide=Length(float(values["opening"])),
        ),
    )
    xs = [e.path.start.real for e in edges]
    middle = piece.centre_x if piece.fold else (min(xs) + max(xs)) / 2
    tops = [p.imag for _, p in layer.outline().crossings(complex(middle + 0.5, -1e4), complex(middle + 0.5, 1e4))]
    divider = drawn(
        "line",
        named_on(name, "divider"),
        say("divider: stitch through these two layers, not the outside"),
        [complex(middle, min(tops, default=y - 100)), complex(middle, y)],
    )
    return with_features(layer, [divider])


register_step(Step(
    "pad_layer", "Second front layer for pads",
    "The upper front is cut twice more and sewn in with neck, armholes and sides. Between these two layers it stays open at its sides, so that pads go in and come out for the wash; a divider stitched through the two keeps them in place, and nothing shows outside.",
    (Parameter("pieces", "Front", "pieces", (), most=1), Parameter("under", "Ends, below the bust", "length", 80.0, 20.0, 300.0),
     Parameter("opening", "Openings, wide", "length", 90.0, 40.0, 200.0), Parameter("elastic", "Elastic along its lower edge", "flag", True),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    pad_layer, lambda values: say("second front layer for pads"),
    suits={"piece": 27}, symbol=((-5 - 4j, 5 - 4j, 4 + 3j, -4 + 3j, -5 - 4j), (0 - 3j, 0 + 3j)),
    asked_as=("cups", "built-in bra", "shelf", "lined front with pads"), fits=lambda pattern: "" if any(p.level("bust") for p in pattern.pieces) else say("no piece here has a bust level"),
))  # fmt: skip
