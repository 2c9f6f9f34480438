"""Ruffles and flounces: strips gathered onto an edge, rings and spirals that fall from it."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path, area
from caddet.core.geometry.roots import root_between
from caddet.core.geometry.segments import Arc, Point
from caddet.core.parts.adding import ROLES, along_path, box, finish_runs, layer_of, with_features, with_part
from caddet.core.parts.rounds import one_round
from caddet.core.parts.strips import strip
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges, refused_as_stuck, said
from caddet.core.pattern.ids import named_on
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

SELVEDGE = 30.0  # mm of the cloth's width that are not cut from
TRIMMED = (40.0, 15.0, 0.0)  # mm from the open edge on, by quarter marks; ours, no source
SMALLEST_RADIUS = 12.0


# --- ruffles -----------------------------------------------------------------------------------------


def ruffle(pattern: Pattern, context: Context, values: Values) -> Result:
    """Strips gathered onto edges; with more rows, further ones on lines inside the edge."""
    if not values["edges"]:
        raise Stuck(say("say on which edge the ruffle goes"), "edges")
    around = one_round(pattern, values["edges"])
    layer = around.layer
    length = pattern.length(layer)
    ratio, depth, rows = float(values["ratio"]), float(values["depth"]), int(values["rows"])
    width = context.cloths.get(str(values["cloth"]), context.cloth).width - SELVEDGE
    total = length * ratio
    strips = max(1, math.ceil(total / width - 1e-9))
    name = f"{context.id}.ruffle"

    def drawn_for(lengths: tuple[float, ...]) -> Piece:
        """One strip for an edge of this length."""
        one = lengths[0] * ratio / strips
        remark = say(
            "{strips} strips joined to {total}; two rows of gathering stitches, drawn up to {edge}",
            strips=strips,
            total=Length(lengths[0] * ratio),
            edge=Length(lengths[0]),
        )
        return box(
            name,
            say("Ruffle"),
            one,
            depth,
            ("top", "end", "bottom", "start"),
            ("", "", "hem", ""),
            cut=strips * rows,
            cloth=(str(values["cloth"]),),
            remark=remark,
        )

    piece = drawn_for((length,))
    strip_layer: Layer = tuple(Part(layer_of(named_on(name, "top"))[0].ref) for _ in range(strips))
    edges = chosen_edges(pattern, values["edges"])
    seams = [
        Seam(
            f"{name}_seam",
            say("Ruffle to the {edge}", edge=said(edges[0][1])),
            (layer, strip_layer),
            (Join("gathered", ratio),),
            corners=True,
        )
    ]
    seams.append(
        Seam(
            f"{name}_ends",
            say("Ruffle, joins of its strips"),
            (layer_of(named_on(name, "end")), layer_of(named_on(name, "start"))),
            (Join(),),
            corners=True,
        )
    )
    fit = Fit(piece.name, (layer,), (length,), piece, drawn_for, piece.label)
    findings = [
        Finding(
            "part.strips",
            say(
                "Ruffle: {edge} × {ratio} = {total}, in {strips} strips of {one}.",
                edge=Length(length),
                ratio=f"{ratio:g}",
                total=Length(total),
                strips=strips * rows,
                one=Length(total / strips),
            ),
            f"recipe[{context.id}]",
            "note",
        )
    ]
    pattern = finish_runs(pattern, {part.ref.key for part in layer} - _sewn_keys(pattern, layer))
    pattern = _with_rows(pattern, context.id, edges, rows, float(values["spacing"]))
    return Result(with_part(pattern, [piece], seams, [fit]), findings=tuple(findings))


def _with_rows(pattern: Pattern, step: str, edges: Sequence[tuple[Piece, str]], rows: int, spacing: float) -> Pattern:
    """The pattern with the lines that further rows of a ruffle are sewn to. Raises :class:`Stuck`."""
    for row in range(1, rows):
        for number, (base, key) in enumerate(edges):
            with refused_as_stuck("rows"):
                line = strip(pattern.piece(base.name), key, row * spacing, "rows")[2]
            pattern = pattern.with_piece(
                with_features(
                    pattern.piece(base.name),
                    [
                        along_path(
                            "placement",
                            f"{step}.row_{row}_{number}",
                            say("ruffle, row {row}", row=row + 1),
                            line,
                            0.5,
                        )
                    ],
                )
            )
    return pattern


def _sewn_keys(pattern: Pattern, layer: Layer) -> set[str]:
    return {part.ref.key for part in layer for p, e in pattern.edges(part.ref) if pattern.sewn().get((p, e))}


def _describe_ruffle(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("edge")
    return say(
        "ruffle on the {edges}, {ratio} to 1, {depth} deep",
        edges=which,
        ratio=f"{float(values.get('ratio', 0)):g}",
        depth=Length(float(values.get("depth", 0.0))),
    )


register_step(
    Step(
        "ruffle",
        "Ruffle",
        "A strip longer than the edge is gathered onto it: one and a half times is quiet, twice is full, three times for thin cloth. Its strips are joined first; two rows of long stitches are drawn up to the edge, quarter by quarter.",
        (
            Parameter("edges", "Edges", "edges", ()),
            Parameter("ratio", "Of the edge", "ratio", 2.0, 1.05, 5.0),
            Parameter("depth", "Deep", "length", 80.0, 10.0, 900.0, hand=Hand("out", "edges")),
            Parameter("rows", "Rows", "count", 1.0, 1.0, 12.0),
            Parameter("spacing", "Rows apart", "length", 60.0, 5.0, 500.0),
            Parameter("cloth", "Cut from", "choice", "main", choices=ROLES),
        ),
        ruffle,
        _describe_ruffle,
        suits={"edge": 24},
        symbol=((-5 - 3j, 5 - 3j), (-5 - 3j, -4 + 3j, -2 + 1j, 0 + 3j, 2 + 1j, 4 + 3j, 5 - 3j)),
        asked_as=("frill", "gathered strip", "tier", "gathered flounce"),
        fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    )
)


# --- flounces ----------------------------------------------------------------------------------------


def flounce_radius(edge: float, tail: float, rings: int) -> float:
    """The inner radius of each of some full rings for an edge and what is rolled at its end (mm): length ÷ 2π."""
    return (edge + tail) / (2 * math.pi * rings)


def flounce(pattern: Pattern, context: Context, values: Values) -> Result:
    """A flounce on edges: rings, or one spiral; its inner line is as long as the edge and what its end is rolled from."""
    if not values["edges"]:
        raise Stuck(say("say on which edge the flounce goes"), "edges")
    around = one_round(pattern, values["edges"])
    layer = around.layer
    length = pattern.length(layer)
    name = f"{context.id}.flounce"
    spiral = str(values["form"]) == "spiral"
    rings = int(values["rings"])
    tail = float(values["tail"])

    def drawn_for(lengths: tuple[float, ...]) -> Piece:
        """The flounce for an edge of this length."""
        if spiral:
            made = spiral_piece(name, lengths[0] + tail, values)
        else:
            made = ring_piece(name, flounce_radius(lengths[0], tail, rings), rings, values)
        return replace(made, cuts=tuple(Cut(one.cloth, one.count * around.count) for one in made.cuts))

    piece = drawn_for((length,))
    inner = layer_of(named_on(name, "inner"))[0]
    if spiral:
        own: Layer = (inner,)
    else:
        own = tuple(
            replace(inner, ref=replace(inner.ref, mirrored=mirrored))
            for _ in range(rings)
            for mirrored in (False, True)
        )
    edges = chosen_edges(pattern, values["edges"])
    join = Join("eased", tail) if tail > 0 else Join()
    words = say("Flounce to the {edge}", edge=said(edges[0][1]))
    seams = [Seam(f"{name}_seam", words, (layer, own), (join,), corners=True)]
    if not spiral:
        far = layer_of(named_on(name, "far"))[0]
        seams.append(
            Seam(
                f"{name}_halves",
                say("Flounce, halves of its rings") if rings > 1 else say("Flounce, its halves"),
                ((far,), (replace(far, ref=replace(far.ref, mirrored=True)),)),
                (Join(),),
                corners=True,
            )
        )
    if not spiral and rings > 1:
        slit = layer_of(named_on(name, "open"))[0]
        seams.append(
            Seam(
                f"{name}_rings",
                say("Flounce, joins of its rings"),
                ((slit,), (replace(slit, ref=replace(slit.ref, mirrored=True)),)),
                (Join(),),
                corners=True,
            )
        )
    elif not spiral:
        piece = piece.with_edges([replace(e, finish="hem") if e.name.endswith(".open") else e for e in piece.edges])
    fit = Fit(piece.name, (layer,), (length,), piece, drawn_for, piece.label)
    findings: list[Finding] = []
    if tail > 0:
        findings.append(
            Finding(
                "part.rose",
                say(
                    "{tail} of the flounce are left over at its end: rolled up from the fold, gathered or pleated at the seam, they make the rose. More for a larger one; interface the first half.",
                    tail=Length(tail),
                ),
                f"recipe[{context.id}].tail",
                "note",
            )
        )
    pattern = finish_runs(pattern, {part.ref.key for part in layer} - _sewn_keys(pattern, layer))
    return Result(with_part(pattern, [piece], seams, [fit]), findings=tuple(findings))


def _depth_at(values: Values, share: float) -> float:
    """How deep a flounce is at a share of half its ring, from the open edge (0) to the far side (1): trimmed by quarter marks."""
    depth = float(values["depth"])
    if not values["higher"]:
        return depth
    first, second, last = (float(values[one]) for one in ("trim_open", "trim_quarter", "trim_far"))
    at = share * 2
    trimmed = first + (second - first) * at if at <= 1 else second + (last - second) * (at - 1)
    return depth - trimmed


def ring_piece(name: str, radius: float, rings: int, values: Values) -> Piece:
    """Half of a full ring, cut twice: a whole one would have no cloth for the turnings at its open ends. Raises :class:`Stuck`."""
    if radius < SMALLEST_RADIUS:
        raise Stuck(
            say(
                "the edge is too short for {rings} rings: the inner circle would be {radius} in radius",
                rings=rings,
                radius=Length(radius),
            ),
            "rings",
        )
    depths = [_depth_at(values, n / 8) for n in range(9)]
    if min(depths) < 5.0:
        raise Stuck(say("more is trimmed than the flounce is deep"), "trim_open")
    angles = [
        math.pi / 2 - math.pi * n / 8 for n in range(9)
    ]  # from the open end below, round the right, up to the seam above
    level = max(depths) - min(depths) < 1e-9
    outer_points = [(radius + d) * cmath.exp(1j * a) for d, a in zip(depths, angles, strict=True)]
    inner = Path((Arc(0j, radius, -math.pi / 2, math.pi),))  # from the seam down round to the open end
    if level:
        outer = Path((Arc(0j, radius + depths[0], math.pi / 2, -math.pi),))
    else:
        outer = smooth_through(outer_points, 1 + 0j, -1 + 0j)
    ring = [
        Edge(named_on(name, "far"), Path.polyline([outer.end, inner.start])),
        Edge(named_on(name, "inner"), inner),
        Edge(named_on(name, "open"), Path.polyline([inner.end, outer.start])),
        Edge(named_on(name, "hem"), outer, "hem"),
    ]
    ring = [edge.reversed() for edge in reversed(ring)]
    # places are counted from the open end, so that the two halves of a ring run on
    ring = [replace(e, pairs=((0.0, 0.0), (1.0, 1.0))) for e in ring]
    middle = complex(radius + depths[4] / 2, 0)
    grain = Grain(middle - 30j, middle + 30j)
    remark = (
        say("{rings} full rings, each in two halves", rings=rings)
        if rings > 1
        else say("a full ring in two halves, open at one side")
    )
    made = Piece(
        name,
        say("Flounce"),
        tuple(ring),
        grain=grain,
        cuts=(Cut(str(values["cloth"]), 2 * rings),),
        pair=True,
        remark=remark,
    )
    return sound(_clockwise(made))


def _clockwise(piece: Piece) -> Piece:
    if area(piece.polygon(0.5)) > 0:
        return piece
    return piece.with_edges([edge.reversed() for edge in reversed(piece.edges)])


def spiral_piece(name: str, inner: float, values: Values) -> Piece:
    """A spiral whose inner line is so long: it needs less cloth than rings and no joins. Raises :class:`Stuck`."""
    depth, first = float(values["depth"]), float(values["radius"])
    grows = (depth + 25.0) / (2 * math.pi)  # a turn further out it clears itself, with allowances

    def points(end: float, out: float) -> list[Point]:
        """Points along the spiral up to an angle, so far outside its inner line."""
        count = max(4, math.ceil(end / (math.pi / 10)))
        return [_on_spiral(first, grows, end * n / count, out) for n in range(count + 1)]

    def line(end: float, out: float) -> Path:
        """The spiral as a smooth curve."""
        return smooth_through(points(end, out), None, None)

    most = 12 * math.pi
    end = root_between(lambda angle: line(angle, 0.0).length - inner, 0.3, most, 1e-9)
    if end is None:
        raise Stuck(
            say(
                "a spiral of at most six turns does not come to {length}; take rings, or begin further out",
                length=Length(inner),
            ),
            "radius",
        )
    near, far = line(end, 0.0), line(end, depth)
    ring = [
        Edge(named_on(name, "inner"), near),
        Edge(named_on(name, "end"), Path.polyline([near.end, far.end]), "hem"),
        Edge(named_on(name, "hem"), far.reversed(), "hem"),
        Edge(named_on(name, "start"), Path.polyline([far.start, near.start]), "hem"),
    ]
    made = Piece(
        name,
        say("Flounce, spiral"),
        tuple(ring),
        grain=Grain(_on_spiral(first, grows, 0.3, depth / 2) - 20j, _on_spiral(first, grows, 0.3, depth / 2) + 20j),
        cuts=(Cut(str(values["cloth"]), 1),),
        remark=say("one spiral; clip its inner line to straighten it onto the edge"),
    )
    return sound(_clockwise(made))


def _on_spiral(first: float, grows: float, angle: float, out: float) -> Point:
    """A point of the spiral, so many mm outside its inner line, square to it."""
    radius = first + grows * angle
    along = complex(grows, radius) * cmath.exp(1j * angle)
    return radius * cmath.exp(1j * angle) + along / abs(along) * -1j * out


def _describe_flounce(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("edge")
    if float(values.get("tail", 0.0)) > 0:
        return say(
            "flounce on the {edges}, {depth} deep, {tail} for a rose",
            edges=which,
            depth=Length(float(values.get("depth", 0.0))),
            tail=Length(float(values["tail"])),
        )
    return say("flounce on the {edges}, {depth} deep", edges=which, depth=Length(float(values.get("depth", 0.0))))


register_step(Step(
    "flounce", "Flounce",
    "A ring whose inner line is as long as the edge: sewn on straight, its outer line falls in waves. It is cut in two halves, so that its open ends have their turnings. More rings for more waves; a spiral saves cloth. It can be higher towards its open side, trimmed by quarter marks; what is left over at the end rolls up into a rose.",
    (Parameter("edges", "Edges", "edges", ()),
     Parameter("depth", "Deep", "length", 110.0, 20.0, 900.0, hand=Hand("out", "edges")),
     Parameter("form", "From", "choice", "rings", choices=(("rings", "Rings"), ("spiral", "One spiral"))),
     Parameter("rings", "How many rings", "count", 1.0, 1.0, 12.0, only=("form", ("rings",)), why="More rings, more waves."),
     Parameter("radius", "Spiral begins at a radius of", "length", 50.0, 20.0, 400.0, only=("form", ("spiral",))),
     Parameter("tail", "Left over, for a rose", "length", 0.0, 0.0, 1500.0, why=say("{15 cm} for a small one.")),
     Parameter("higher", "Higher towards its open side", "flag", False),
     Parameter("trim_open", "Trimmed at the open side", "length", TRIMMED[0], 0.0, 600.0, only=("higher", (True,))),
     Parameter("trim_quarter", "Trimmed at the quarter", "length", TRIMMED[1], 0.0, 600.0, only=("higher", (True,))),
     Parameter("trim_far", "Trimmed across from it", "length", TRIMMED[2], 0.0, 600.0, only=("higher", (True,))),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    flounce, _describe_flounce,
    suits={"edge": 25}, symbol=((-4 - 4j, -5 + 1j, -3 + 4j, 0 + 2j, 3 + 4j, 5 + 1j, 4 - 4j), (-4 - 4j, 0 - 3j, 4 - 4j)),
    asked_as=("circular ruffle", "wavy edge", "rose at the end", "falling collar", "waterfall"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="radius = (edge + end) ÷ 2π: exact; 2 inches, 1 inch, 0 by quarter marks: common practice, no source",
))  # fmt: skip
