"""Binding, bands in zones, and elastic sewn to an edge: each edge has its width, each zone its ratio."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from caddet.core.errors import Finding
from caddet.core.parts.adding import (
    ROLES,
    box,
    finish_runs,
    instead_of,
    layer_of,
    notion,
    with_notches,
    with_part,
    with_whys,
)
from caddet.core.parts.rounds import every_round, one_round
from caddet.core.pattern.features import Notch, Spot
from caddet.core.pattern.finding import chosen_edges, on_free_edges, said
from caddet.core.pattern.holders import on_edges_for_bands, without_holders
from caddet.core.pattern.ids import named_on
from caddet.core.pattern.notions import Notion, Share
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Grain, Piece
from caddet.core.pattern.roles import BANDS
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, joined, say

PACK = 2500.0  # mm of ready-made binding in a pack; common practice, no source
SHORT_STRIP = 80.0  # mm, a bias strip that is not worth joining
# first guesses, to be corrected by sewing: how long a band is to its edge, 1:1 over the shoulder, shortest round a scoop
STRAIGHT_ZONE, CURVED_ZONE, SCOOP_ZONE = 1.00, 0.95, 0.88
CURVED, SCOOPED = 1 / 400.0, 1 / 130.0  # 1/mm, mean curvature from which an edge counts as curved, and as a scoop
SHORTEST_ZONE = 25.0
ROUND = 30.0  # mm of edge over which the curve is judged


# --- zones -----------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Zone:
    """A stretch of an edge with its ratio: from one distance to another along a layer, in mm."""

    kind: str
    low: float
    high: float
    ratio: float

    @property
    def length(self) -> float:
        """How long the edge is there."""
        return self.high - self.low

    @property
    def band(self) -> float:
        """How long the band is there."""
        return self.length * self.ratio


def zones(pattern: Pattern, layer: Layer, ratios: tuple[float, float, float]) -> tuple[Zone, ...]:
    """An edge in zones by how it is hollowed: straight over the shoulder, curved, scooped; short ones join their neighbour."""
    kinds: list[tuple[str, float, float]] = []
    passed = 0.0
    for fragment in pattern.layer_fragments(layer):
        path = fragment.path()
        count = max(1, round(path.length / ROUND))
        for n in range(count):
            a, b = path.length * n / count, path.length * (n + 1) / count
            turned = abs(_turn(path.direction_at(a + 0.01), path.direction_at(b - 0.01))) / max(b - a, 1.0)
            kind = "scoop" if turned >= SCOOPED else "curve" if turned >= CURVED else "straight"
            kinds.append((kind, passed + a, passed + b))
        passed += path.length
    found: list[tuple[str, float, float]] = []
    for kind, low, high in kinds:
        if found and (found[-1][0] == kind or high - low < 1e-6):
            found[-1] = (kind, found[-1][1], high)
        else:
            found.append((kind, low, high))
    n = 0
    while len(found) > 1 and n < len(found):
        kind, low, high = found[n]
        if high - low < SHORTEST_ZONE:
            other = n - 1 if n else 1
            first, second = min(n, other), max(n, other)
            found[first : second + 1] = [(found[other][0], found[first][1], found[second][2])]
            n = 0
        else:
            n += 1
    by = dict(zip(("straight", "curve", "scoop"), ratios, strict=True))
    merged: list[tuple[str, float, float]] = []
    for kind, low, high in found:
        if merged and merged[-1][0] == kind:
            merged[-1] = (kind, merged[-1][1], high)
        else:
            merged.append((kind, low, high))
    return tuple(Zone(kind, low, high, by[kind]) for kind, low, high in merged)


def _turn(a: complex, b: complex) -> float:
    return math.atan2((a.conjugate() * b).imag, (a.conjugate() * b).real)


def _places_along(pattern: Pattern, layer: Layer, at: Sequence[float]) -> list[tuple[str, float]]:
    """Places along a layer as (edge key, position); those on a half that exists only in thought are left out."""
    found: list[tuple[str, float]] = []
    for distance in at:
        left = distance
        for fragment in pattern.layer_fragments(layer):
            if left <= fragment.length + 1e-9:
                on = fragment.high - left if fragment.backwards else fragment.low + left
                if not fragment.imagined:
                    found.append((fragment.edge.name, fragment.edge.u_at(on / fragment.edge.path.length)))
                break
            left -= fragment.length
    return found


def ratios_of(values: Values) -> tuple[float, float, float]:
    """The three ratios of the zones."""
    return float(values["over_shoulder"]), float(values["on_curve"]), float(values["in_scoop"])


ZONES = (
    Parameter(
        "over_shoulder",
        "Over the shoulder",
        "ratio",
        STRAIGHT_ZONE,
        0.5,
        1.1,
        why="A first guess: 1 to 1, straight edges want nothing.",
    ),
    Parameter("on_curve", "On a gentle curve", "ratio", CURVED_ZONE, 0.5, 1.1, why="A first guess; a little shorter."),
    Parameter(
        "in_scoop",
        "Round the scoop",
        "ratio",
        SCOOP_ZONE,
        0.5,
        1.1,
        why="A first guess; shortest where it would gape. Sew a sample.",
    ),
)


def _sum_of(found: Sequence[Zone]) -> Sentence:
    """The lengths of zones with their ratios, added up."""
    return joined(
        [say("{length} × {ratio}", length=Length(zone.length), ratio=f"{zone.ratio:.2f}") for zone in found], " + "
    )


# --- a band in zones ---------------------------------------------------------------------------------


def zone_band(pattern: Pattern, context: Context, values: Values) -> Result:
    """A knit band whose length is the sum of its zones', sewn stretched by each zone's ratio."""
    refs = values["edges"] or ("neckline",)
    keys = {key for piece, key in chosen_edges(pattern, refs) if piece.role not in BANDS}
    pattern, gone = without_holders(pattern, keys)
    around = one_round(pattern, refs)
    layer = around.layer
    found = zones(pattern, layer, ratios_of(values))
    whole = pattern.length(layer)
    band = sum(zone.band for zone in found)
    if whole < 150.0:
        raise Stuck(
            say(
                "the edge is only {length} round; a band wants more than {least}",
                length=Length(whole),
                least=Length(150.0),
            ),
            "edges",
        )
    depth = float(values["depth"])
    name = f"{context.id}.band"
    piece = box(
        name,
        say("Band in zones"),
        band,
        depth * 2,
        ("inside", "end", "edge", "start"),
        ("band", "", "", ""),
        cloth=(str(values["cloth"]),),
        grain="stretch",
    )
    piece = replace(
        piece,
        grain=Grain(complex(band * 0.1, depth), complex(band * 0.4, depth), "stretch"),
        cuts=tuple(replace(cut, count=cut.count * around.count) for cut in piece.cuts),
        remark=say("the greatest stretch runs along it; folded lengthwise"),
    )
    marks, at = [], 0.0
    for number, zone in enumerate(found[:-1]):
        at += zone.band
        marks.append(Notch(named_on(name, "edge"), at / band, False, say("zone {number}", number=number + 1)))
    piece = with_notches(piece, marks)
    cloth = context.cloths.get(str(values["cloth"]), context.cloth)
    findings = [*instead_of(gone, context.id), *_zone_findings(found, band, whole, context, float(cloth.stretch))]
    ring = (Part(layer_of(named_on(name, "end"))[0].ref),), (Part(layer_of(named_on(name, "start"))[0].ref, True),)
    stretched = Join("stretched", whole / band) if band < whole - 0.5 else Join()
    seams = [
        Seam(
            f"{context.id}.zones",
            say("Band to the {edge}", edge=said(str(layer[0].ref))),
            (layer_of(named_on(name, "edge")), layer),
            (stretched,),
            corners=True,
        ),
        Seam(f"{context.id}.ends", say("Band, ends"), (ring[0], ring[1]), (Join(),), corners=True),
    ]
    for key, u in _places_along(pattern, layer, [zone.high for zone in found[:-1]]):
        base = next(p for p in pattern.pieces if key in p.runs() and p.holds_spot(Spot(key, u)))
        if not any(n.edge == key and abs(n.u - u) < 1e-6 for n in base.notches):
            pattern = pattern.with_piece(with_notches(base, [Notch(key, u, False, say("zone"))]))
    pattern = finish_runs(pattern, {part.ref.key for part in layer})
    return Result(with_part(pattern, [piece], seams), figures={}, findings=tuple(findings))


def _zone_findings(found: Sequence[Zone], band: float, whole: float, context: Context, stretch: float) -> list[Finding]:
    place = f"recipe[{context.id}]"
    sums = _sum_of(found)
    plain = 0.8 * whole
    findings = [
        Finding(
            "part.zones",
            say(
                "The band by its zones: {sums} = {band}; by the plain rule 0.8 × {edge} = {plain}. The ratios are first guesses.",
                sums=sums,
                band=Length(band),
                edge=Length(whole),
                plain=Length(plain),
            ),
            place,
            "note",
        )
    ]
    for zone in found:
        if zone.kind == "scoop" and zone.ratio > 0.96:
            findings.append(
                Finding(
                    "part.gapes",
                    say(
                        "A band of {ratio} to 1 round a scoop stands away from the body: it gapes. About 0.88 lies flat.",
                        ratio=f"{zone.ratio:.2f}",
                    ),
                    f"{place}.in_scoop",
                    "look",
                )
            )
            break
    tightest = min(zone.ratio for zone in found)
    if stretch and 1 / tightest - 1 > stretch * 0.75:
        findings.append(
            Finding(
                "part.stretch",
                say(
                    "The band would have to stretch by {need}, and this cloth gives {stretch}: it pulls the edge together.",
                    need=f"{1 / tightest - 1:.0%}",
                    stretch=f"{stretch:.0%}",
                ),
                f"{place}.in_scoop",
                "look",
            )
        )
    return findings


register_step(Step(
    "zone_band", "Band in zones",
    "A knit band that is sewn 1 to 1 over the shoulder, a little shorter on a gentle curve and shortest round a low scoop, so that it lies against the body. Notches on band and edge show where each zone ends; the ratios are first guesses, and a sample of the cloth corrects them.",
    (Parameter("edges", "Edges", "edges", (), why="None means the neckline, once round."),
     Parameter("depth", "Finished depth", "length", 20.0, 5.0, 120.0, hand=Hand("out", "edges")),
     *ZONES, Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    zone_band, lambda values: say("band in zones, {depth} deep", depth=Length(float(values.get("depth", 0.0)))),
    suits={"edge": 20}, symbol=((-5 - 3j, -2 + 3j, 2 + 3j, 5 - 3j), (-4 - 4j, -1 + 1j, 1 + 1j, 4 - 4j)),
    asked_as=("band that does not gape", "neckband by zones", "armhole band", "binding on a tank"),
    refuses=on_edges_for_bands, fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="1 to 1 over the shoulder, shorter on curves, shortest round the scoop: common practice; the numbers are guesses",
))  # fmt: skip


# --- binding -----------------------------------------------------------------------------------------

SOURCES = (("ready", "Ready-made"), ("strips", "Bias strips of one's own"))
FOLDS = (("single", "Single: turned to the inside"), ("double", "Double: over both sides"))


def strips_from(length: float, width: float, wide: float, high: float) -> tuple[int, float]:
    """How many bias strips of a width a rectangle of cloth gives, and how long they are together when joined (mm).

    Strips lie at 45°; each join takes its width once. 0 when the rectangle yields nothing worth joining. The best that
    can be had: lengths of the parallel chords of the rectangle, longest first, until the length is there.
    """
    if min(wide, high) < width or width <= 0:
        return 0, 0.0
    step = width * math.sqrt(2)
    chords = []
    at = step
    while at < wide + high:
        # a strip between two lines at 45°: its usable length is the shorter of its two sides
        chords.append(min(_chord(at - step, wide, high), _chord(at, wide, high)))
        at += step
    total, count = 0.0, 0
    for chord in sorted((c for c in chords if c > SHORT_STRIP), reverse=True):
        gain = chord - (width if count else 0.0)
        if gain <= 0:
            break
        total += gain
        count += 1
        if total >= length:
            break
    return count, total


def _chord(at: float, wide: float, high: float) -> float:
    """The length of the 45° line x + y = at across a rectangle."""
    return max(0.0, (min(at, wide) - max(0.0, at - high))) * math.sqrt(2)


def binding(pattern: Pattern, context: Context, values: Values) -> Result:
    """Bind edges: ready-made, or with bias strips out of a rectangle."""
    if not values["edges"]:
        raise Stuck(say("say which edges are bound"), "edges")
    layer = every_round(pattern, values["edges"])
    place, wide, more = f"recipe[{context.id}]", float(values["width"]), float(values["more"])
    findings: list[Finding] = []
    if taken := on_free_edges(pattern, values):
        findings.append(
            Finding("part.bound", say("A binding goes on a free edge: {why}.", why=taken), f"{place}.edges", "look")
        )
    pieces: list[Piece] = []
    notions: list[Notion] = []
    if str(values["source"]) == "strips":
        piece, told = _cloth_for_strips(f"{context.id}.binding", pattern.length(layer) + more, values)
        pieces.append(piece)
        findings.append(Finding("part.strips", told, place, "note"))
    else:
        label = say("Bias binding, {width} finished", width=Length(wide))
        share = [Share(layer, 1.0, say("edges"))]
        notions.append(notion(context.id, "binding", label, share, [(say("to join and turn in"), more)], pack=PACK))
    pattern = finish_runs(pattern, {part.ref.key for part in layer}, "binding")
    return Result(with_part(pattern, pieces, notions=notions), findings=tuple(findings))


def _cloth_for_strips(name: str, need: float, values: Values) -> tuple[Piece, Sentence]:
    """The rectangle that bias strips of so many mm in all are cut from, and what it yields. Raises :class:`Stuck`."""
    wide = float(values["width"])
    cut_width = wide * 4 if str(values["fold"]) == "double" else wide * 2 + 20.0
    sheet = float(values["sheet_wide"]), float(values["sheet_high"])
    count, got = strips_from(need, cut_width, *sheet)
    said_of = {
        "wide": Length(sheet[0]),
        "high": Length(sheet[1]),
        "got": Length(got),
        "cut": Length(cut_width),
        "need": Length(need),
    }
    if got < need - 1e-6:
        raise Stuck(
            say("a rectangle of {wide} by {high} gives {got} of binding {cut} wide, and {need} is needed", **said_of),
            "sheet_wide",
        )
    told = say(
        "{count} strips on the bias, {cut} wide, out of {wide} by {high}; {joins} joins; {got} in all for {need}.",
        count=count,
        joins=max(count - 1, 0),
        **said_of,
    )
    remark = say(
        "cut into {count} strips of {cut} on the bias, joined to {need}",
        count=count,
        cut=Length(cut_width),
        need=Length(need),
    )
    edges = ("top", "right", "bottom", "left")
    piece = box(
        name,
        say("Binding, cloth for strips"),
        *sheet,
        edges,
        ("raw",) * 4,
        cloth=(str(values["cloth"]),),
        upright=True,
        remark=remark,
    )
    return with_whys(piece, dict.fromkeys(edges, say("cut into strips"))), told


def _describe_binding(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("edges")
    return say("{edges} bound, {width} wide", edges=which, width=Length(float(values.get("width", 0.0))))


register_step(Step(
    "binding", "Binding",
    "A strip on the bias folded over the edge. Its narrow side goes on first, right sides together; it is turned over the stitches and caught in the crease. Bind first the edge whose end another binding will cover. An armhole's is wider than a collar's, a collar's wider than one that only decorates.",
    (Parameter("edges", "Edges", "edges", ()),
     Parameter("width", "Finished width", "length", 12.0, 3.0, 60.0, why="10 mm at a neck, 12 at an armhole, 6 where it only decorates."),
     Parameter("fold", "It lies", "choice", "double", choices=FOLDS),
     Parameter("source", "From", "choice", "ready", choices=SOURCES),
     Parameter("sheet_wide", "Rectangle, wide", "length", 700.0, 50.0, 3000.0, only=("source", ("strips",))),
     Parameter("sheet_high", "Rectangle, high", "length", 500.0, 50.0, 3000.0, only=("source", ("strips",))),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES, only=("source", ("strips",))),
     Parameter("more", "More, for joins and ends", "length", 60.0, 0.0, 500.0),
     Parameter("order", "Bound", "choice", "first", choices=(("first", "First: another covers its end"), ("last", "Last: it covers the ends of others")))),
    binding, _describe_binding,
    suits={"edge": 7}, symbol=((-5 + 0j, 5 + 0j), (-5 - 2j, 5 - 2j), (-5 + 2j, 5 + 2j)),
    asked_as=("bind the edge", "bias tape", "bias binding", "bound neck"),
    refuses=on_free_edges, fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
))  # fmt: skip


# --- elastic sewn to an edge -----------------------------------------------------------------------------


def edge_elastic(pattern: Pattern, context: Context, values: Values) -> Result:
    """Elastic sewn flat along edges and turned in with them, its ratio by zones."""
    if not values["edges"]:
        raise Stuck(say("say along which edges the elastic is sewn"), "edges")
    around = one_round(pattern, values["edges"])
    layer = around.layer
    found = zones(pattern, layer, ratios_of(values))
    whole = pattern.length(layer)
    relaxed = sum(zone.band for zone in found)
    if relaxed < 40.0:
        raise Stuck(say("the edge is only {length} long", length=Length(whole)), "edges")
    swim = str(values["kind"]) == "swim"
    label = (
        say("Swim elastic, {width}", width=Length(float(values["width"])))
        if swim
        else say("Elastic to sew through, {width}", width=Length(float(values["width"])))
    )
    share = [Share(layer, relaxed / whole, say("edge, by its zones"))]
    elastic = notion(
        context.id, "elastic", label, share, [(say("lap"), 12.7), (say("to hold"), 75.0)], count=around.count
    )
    for key, u in _places_along(pattern, layer, [zone.high for zone in found[:-1]]):
        base = next(p for p in pattern.pieces if key in p.runs())
        pattern = pattern.with_piece(with_notches(base, [Notch(key, u, False, say("elastic zone"))]))
    sums = _sum_of(found)
    words = say("Elastic by zones: {sums} = {length}.", sums=sums, length=Length(relaxed))
    return Result(
        with_part(finish_runs(pattern, _free(pattern, layer), "turned"), notions=[elastic]),
        findings=(Finding("part.zones", words, f"recipe[{context.id}]", "note"),),
    )


def _free(pattern: Pattern, layer: Layer) -> set[str]:
    """The keys of a layer that are in no seam."""
    found = set()
    for part in layer:
        for p, e in pattern.edges(part.ref):
            if not pattern.sewn().get((p, e)):
                found.add(part.ref.key)
    return found


register_step(Step(
    "edge_elastic", "Elastic along an edge",
    "Elastic is sewn to the wrong side of the edge and turned in with it. Pulled by about 5 percent all round at a swimsuit; more where it must hold, as under the seat, and not at all over a bone. Guide it beside the overlocker's knife, never under it.",
    (Parameter("edges", "Edges", "edges", ()),
     Parameter("kind", "Kind", "choice", "swim", choices=(("swim", "Swim rubber"), ("flat", "Elastic to sew through"))),
     Parameter("width", "Wide", "length", 6.5, 3.0, 40.0, why="6.5 mm at most swim edges, 9 to 12 for support."),
     replace(ZONES[0], label="On straight stretches", default=0.98), replace(ZONES[1], default=0.95, why="A first guess: pulled by about 5 percent."), replace(ZONES[2], label="On tight curves", default=0.92)),
    edge_elastic, lambda values: say("elastic of {width} along the {edges}", width=Length(float(values.get("width", 0.0))), edges=", ".join(said(one) for one in values.get("edges") or ()) or say("edge")),
    suits={"edge": 21}, symbol=((-5 - 2j, 5 - 2j), (-5 + 1j, -3 + 3j, -1 + 1j, 1 + 3j, 3 + 1j, 5 + 3j)),
    asked_as=("swim elastic", "elastic at the leg", "flat elastic", "edge that hugs"),
    refuses=on_free_edges, fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="pulled by about 5 percent at swim edges, 6.5 mm wide, 9 to 12 for support: common practice, no source",
))  # fmt: skip
