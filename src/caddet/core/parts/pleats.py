"""Pleats in a run and at a centre fold, and tucks across a piece."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, Point, dot, unit
from caddet.core.parts.adding import made_by_part
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, End, Feature, Spot
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, measurable, refused_as_stuck, said
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.spreading import faired, lines_cross, run_spot
from caddet.core.pattern.stretching import let_down
from caddet.core.pattern.surgery import SLIVER, in_one, sound, spread
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.joins import holds_others, joined_as, meant


def out_at_fold(piece: Piece, by: float, name: str, label: str, deep: float, ends: Sequence[str] = ("top",)) -> Piece:
    """A piece on the fold moved out from its fold by so many mm, folded away again at its top, or at both ends.

    The neighbours of the fold go on straight. Raises :class:`Refused` when there is no one straight fold.
    """
    folds = [n for n, edge in enumerate(piece.edges) if edge.finish == "fold"]
    if len(folds) != 1:
        raise Refused(say("the {piece} is not cut on one fold", piece=piece.label.lower()), "pieces")
    fold, count = folds[0], len(piece.edges)
    edge = piece.edges[fold]
    way = unit(edge.path.end - edge.path.start) * -1j * by  # out of the cloth
    before, behind = (fold - 1) % count, (fold + 1) % count
    edges = list(piece.edges)
    edges[fold] = edge.with_path(edge.path.moved(Motion.translation(way)))
    edges[before] = edges[before].let_in(Path.polyline([edge.path.start, edge.path.start + way]), at_end=True)
    edges[behind] = edges[behind].let_in(Path.polyline([edge.path.end + way, edge.path.end]), at_end=False)
    features = list(piece.features)
    for n, at_end in ((before, True), (behind, False)):  # the cloth let in gets places of its own, at the very end
        edges[n], features = _own_places(edges[n], features, at_end=at_end)
    made = replace(piece.with_edges(edges), features=tuple(features))
    upwards = edge.path.end.imag < edge.path.start.imag
    corners = {"top": (behind, edge.path.end), "bottom": (before, edge.path.start)}
    if not upwards:
        corners = {"top": (before, edge.path.start), "bottom": (behind, edge.path.end)}
    pleats = []
    for end in ends:
        n, at = corners[end]
        key = edges[n].name
        down = complex(0, deep if end == "top" else -deep)
        a, b = (made.spot_at(key, made.nearest_on_run(key, point)[1]) for point in (at, at + way))
        own = name if end == "top" else f"{name}_low"
        pleats.append(Feature("pleat", own, label, (Bit(a, at + down), Bit(b, at + way + down))))
    return sound(replace(made, features=(*made.features, *pleats)))


def _own_places(edge: Edge, features: list[Feature], *, at_end: bool) -> tuple[Edge, list[Feature]]:
    """An edge whose last stretch, let in, has a sliver of positions of its own; what lay at its end stays where it was."""
    pairs = list(edge.pairs)
    (s, _), (t, end) = (pairs[-2], pairs[-1]) if at_end else (pairs[1], pairs[0])
    other = pairs[-3][1] if at_end and len(pairs) > 2 else pairs[2][1] if len(pairs) > 2 else 1.0 - end
    least = min(SLIVER, abs(other - end) / 2)
    old = end + (least if other > end else -least)
    pairs[-2 if at_end else 1] = (s, old)
    pairs[-1 if at_end else 0] = (t, end)

    def moved(one: End) -> End:
        """A place at the old end, where the old end is now."""
        if isinstance(one, Spot) and one.edge == edge.name and abs(one.u - end) < least / 2:
            return Spot(one.edge, old)
        return one

    kept = [replace(f, bits=tuple(Bit(moved(b.a), moved(b.b)) for b in f.bits)) for f in features]
    return replace(edge, pairs=tuple(pairs)), kept


def centre_pleat(pattern: Pattern, context: Context, values: Values) -> Result:
    """An inverted or box pleat at a centre that is cut on the fold: the fold moves out by the depth."""
    pieces = chosen_pieces(pattern, values["pieces"]) or [
        p for p in pattern.pieces if p.fold and p.covers == "back" and not made_by_part(p)
    ]
    if not pieces:
        raise Stuck(say("say which piece on the fold gets the pleat"), "pieces")
    for piece in pieces:
        label = say("inverted pleat") if values["kind"] == "inverted" else say("box pleat")
        made = out_at_fold(piece, float(values["deep"]), f"{context.id}.pleat", label, float(values["stitched"]))
        pattern = pattern.with_piece(made)
    return Result(measurable(pattern), changes=OF_THE_BODY)


register_step(Step(
    "centre_pleat", "Pleat at the centre",
    "The centre fold moves out by the pleat's depth; folded back to the old centre the cloth lies as it did, and opens below. Stitched down for some way it keeps its place. What it is sewn to stays as it was.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means the back on the fold."),
     Parameter("deep", "Deep", "length", 55.0, 5.0, 250.0, why="As felt under the cloth: the centre moves out by as much."),
     Parameter("stitched", "Stitched down for", "length", 120.0, 0.0, 900.0),
     Parameter("kind", "Kind", "choice", "inverted", choices=(("inverted", "Inverted: folds meet outside"), ("box", "Box: folds meet inside")))),
    centre_pleat, lambda values: say("pleat of {deep} at the centre of the {pieces}", deep=Length(float(values.get("deep", 0.0))), pieces=", ".join(said(one) for one in values.get("pieces") or ()) or say("back")),
    suits={"piece": 19}, symbol=((-5 - 5j, -1 - 5j, 1 + 0j, 3 - 5j, 5 - 5j), (1 + 0j, 1 + 5j)),
    asked_as=("inverted pleat", "box pleat at the back", "action pleat", "room across the back"),
    fits=lambda pattern: "" if any(p.fold for p in pattern.pieces) else say("no piece here is cut on the fold"),
    source="an inverted pleat felt 2½ inches deep moves the centre out 2½ inches: exact",
))  # fmt: skip


# --- pleats in a run -------------------------------------------------------------------------------------

KINDS = (
    ("knife", "Knife: all one way"),
    ("box", "Box: two and two away from each other"),
    ("inverted", "Inverted: two and two towards each other"),
)
SHOWN = 80.0  # mm a pleat's folds are drawn at least


def pleats(pattern: Pattern, context: Context, values: Values) -> Result:
    """Open a piece along lines from an edge to the one across, and fold what was let in away at the edge."""
    if not values["edges"]:
        raise Stuck(say("say which edge is pleated"), "edges")
    piece, key = chosen_edges(pattern, values["edges"])[0]
    if held := holds_others(pattern, piece, key):
        raise Stuck(held, "edges")
    count, deep, kind = int(values["count"]), float(values["deep"]), str(values["kind"])
    if len(piece.run(key)) != 1:
        raise Stuck(say("there is a dart in the {edge}; turn it elsewhere first", edge=said(key)), "edges")
    low, high = float(values["from"]), float(values["upto"])
    if high <= low:
        raise Stuck(say("the pleats end before they begin"), "upto")
    length = piece.run_length(key) * (high - low)
    lines = count * (2 if kind != "knife" else 1)
    gap = length / (lines + 1)
    if gap < 6.0:
        raise Stuck(say("{count} pleats don't go on {length}", count=count, length=Length(length)), "count")
    shares = [low + (high - low) * (n + 1) / (lines + 1) for n in range(lines)]
    ends = across_from(piece, key, shares)
    if any(_into_a_dart(piece, start, key) for start, _ in ends):
        raise Stuck(say("the pleats would run into a dart; turn it elsewhere first"), "edges")
    opened = pattern
    for start, end in ends:
        with refused_as_stuck("deep"):
            opened = spread(
                opened, opened.piece(piece.name), start, end, 2 * deep, 2 * deep if values["to_the_end"] else 0.0, ""
            )
    made = in_one(opened.piece(piece.name))
    ends_on = [end.edge for _, end in ends if end.edge != key]
    made = faired(made, ends_on if values["to_the_end"] else (), ends_on, piece)
    features = []
    for number, (start, _) in enumerate(ends):
        a = made.along(start)
        forward = not made.run(key)[0].backwards
        other = made.spot_at(key, a + (2 * deep if forward else -2 * deep))
        points = made.where(start), made.where(other)
        inward = _inward(made, key) * max(float(values["stitched"]), SHOWN)
        towards = _towards(kind, number, values)
        features.append(
            Feature(
                "pleat",
                f"{context.id}.pleat_{number + 1}",
                say("pleat"),
                (Bit(start, points[0] + inward), Bit(other, points[1] + inward)),
                towards,
            )
        )
    made = sound(replace(made, features=(*made.features, *features)))
    opened = opened.with_piece(made)
    longer = {
        run: made.run_length(run) - piece.run_length(run)
        for run in piece.runs()
        if run != key
        and made.has_run(run)
        and piece.run(run)[0].finish == ""
        and abs(made.run_length(run) - piece.run_length(run)) > 0.5
    }
    after, findings = joined_as(opened, piece.name, longer, "gathered", f"recipe[{context.id}]")
    return Result(after, findings=findings, changes=meant(pattern, "pleated"))


def _into_a_dart(piece: Piece, start: Spot, key: str) -> bool:
    """Whether a line from a place square into the piece comes to the side of a dart before it comes to an edge."""
    here, along = piece.where(start), _inward(piece, key)
    hits = [
        (abs(point - here), bool(edge.dart))
        for edge in piece.edges
        for _, point in edge.path.crossings(here + along * 0.5, here + along)
        if dot(point - here, along) > 5.0
    ]
    return min(hits, default=(0.0, False))[1]


def across_from(piece: Piece, key: str, shares: Sequence[float], way: Point | None = None) -> list[tuple[Spot, Spot]]:
    """Lines from places on a run to the edge across from it, square to the run's middle or in a given direction.

    Where no direction is given and some would leave the piece at its side, they all run to the same shares of the edge that
    lies across from the run's middle: a side that one of them met would get a step.
    """
    length = piece.run_length(key)
    along = way if way is not None else _inward(piece, key)
    starts = [piece.spot_at(key, length * share) for share in shares]
    ends = [_met(piece, key, start, along) for start in starts]
    if way is None and len({end.edge for end in ends}) > 1:
        across = _met(piece, key, piece.spot_at(key, length / 2), along).edge
        behind = piece.run(key)[0].backwards
        fanned = [run_spot(piece, (across,), share if behind else 1 - share) for share in shares]
        if not lines_cross(piece, list(zip(starts, fanned, strict=True))):
            ends = fanned
    return list(zip(starts, ends, strict=True))


def _met(piece: Piece, key: str, start: Spot, along: Point) -> Spot:
    """Where a line from a place on a run first meets the outline again. Raises :class:`Stuck` when it does not."""
    here = piece.where(start)
    left, top, right, bottom = piece.outline().bounds()
    far = here + along * (right - left + bottom - top)
    hits = [point for _, point in piece.outline().crossings(here + along * 0.5, far) if dot(point - here, along) > 5.0]
    if not hits:
        raise Stuck(say("the pleats meet no edge across from the {edge}", edge=said(key)), "edges")
    point = min(hits, key=lambda p: abs(p - here))
    run = min(piece.runs(), key=lambda k: piece.nearest_on_run(k, point)[0])
    return piece.spot_at(run, piece.nearest_on_run(run, point)[1])


def _inward(piece: Piece, key: str) -> Point:
    """The direction into the piece, square to the middle of a run: all its lines are parallel."""
    edge = piece.run(key)[0]
    return unit(edge.path.end - edge.path.start) * 1j


def _towards(kind: str, number: int, values: Values) -> Literal["first", "second"]:
    """Towards which of its folds a pleat is laid."""
    if kind == "knife":
        return "second" if values["turned"] else "first"
    outward = (number % 2 == 0) == (kind == "box")
    return "first" if outward else "second"


register_step(Step(
    "pleats", "Pleats",
    "The piece is opened along lines from the edge, and what is let in is folded away there: knife pleats lie one way, box pleats turn away from each other, inverted ones towards. Marked by arithmetic, or by halving with pins; folded towards the centre they flatten, outwards they round.",
    (Parameter("edges", "Edge", "edges", (), most=1),
     Parameter("count", "How many", "count", 3.0, 1.0, 60.0, why="Box and inverted pleats count in pairs of folds."),
     Parameter("deep", "Deep", "length", 20.0, 3.0, 200.0, why="As felt under the cloth; each takes twice as much."),
     Parameter("kind", "Kind", "choice", "knife", choices=KINDS),
     Parameter("from", "From, along the edge", "ratio", 0.0, 0.0, 1.0), Parameter("upto", "Up to", "ratio", 1.0, 0.0, 1.0),
     Parameter("to_the_end", "To the edge across", "flag", True, why="Otherwise they run out to nothing there."),
     Parameter("turned", "Laid the other way", "flag", False),
     Parameter("stitched", "Stitched down for", "length", 0.0, 0.0, 900.0)),
    pleats, lambda values: say("{count} {kind} pleats of {deep}", count=f"{float(values.get('count', 0)):g}", kind=dict(KINDS).get(str(values.get("kind")), "").partition(":")[0].lower(), deep=Length(float(values.get("deep", 0.0)))),
    suits={"edge": 26}, symbol=((-5 - 5j, -5 + 5j), (-3 - 5j, -3 + 5j), (0 - 5j, 0 + 5j), (2 - 5j, 2 + 5j), (5 - 5j, 5 + 5j)),
    asked_as=("knife pleats", "box pleats", "inverted pleats", "folds instead of gathers"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="a pleat ½ inch deep takes 1 inch: exact",
))  # fmt: skip


# --- tucks -----------------------------------------------------------------------------------------------


def tucks(pattern: Pattern, context: Context, values: Values) -> Result:
    """Tucks across pieces: each takes twice its depth, which is let in at its place."""
    pieces = chosen_pieces(pattern, values["pieces"]) or [
        p for p in pattern.pieces if any(e.finish == "hem" for e in p.edges) and not made_by_part(p)
    ]
    if not pieces:
        raise Stuck(say("say across which pieces the tucks go"), "pieces")
    count, deep, apart, up = int(values["count"]), float(values["deep"]), float(values["apart"]), float(values["above"])
    if apart < deep + 2.0 and count > 1:
        raise Stuck(
            say(
                "tucks of {deep} lie over each other when they are only {apart} apart",
                deep=Length(deep),
                apart=Length(apart),
            ),
            "apart",
        )
    for piece in pieces:
        low = max(p.imag for p in piece.polygon())
        made = piece
        for number in range(count):
            at = low - up - number * apart
            with refused_as_stuck("above"):
                made = let_down(made, at, 2 * deep)
            left, _, right, _ = made.outline().bounds()
            for line, y in enumerate((at, at + 2 * deep)):
                hits = sorted(p.real for _, p in made.outline().crossings(complex(left - 5, y), complex(right + 5, y)))
                if len(hits) > 1:
                    word = say("tuck: stitch these lines together") if line == 0 else ""
                    feature = Feature(
                        "line",
                        f"{context.id}.tuck_{number + 1}_{'ab'[line]}",
                        word,
                        (Bit(complex(hits[0], y), complex(hits[-1], y)),),
                    )
                    made = replace(made, features=(*made.features, feature))
        pattern = pattern.with_piece(made)
    return Result(pattern, changes=meant(pattern, "pleated"))


register_step(Step(
    "tucks", "Tucks",
    "Folds stitched across the piece. Above a child's hem they are let out one by one as the child grows; fine ones decorate. Each takes twice its depth, which is added where it lies.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece with a hem, so that they meet at the seams."),
     Parameter("count", "How many", "count", 2.0, 1.0, 30.0),
     Parameter("deep", "Deep", "length", 15.0, 1.0, 100.0),
     Parameter("apart", "Apart", "length", 40.0, 3.0, 300.0),
     Parameter("above", "Lowest, above the hem", "length", 60.0, 10.0, 900.0)),
    tucks, lambda values: say("{count} tucks of {deep}", count=f"{float(values.get('count', 0)):g}", deep=Length(float(values.get("deep", 0.0)))),
    suits={"piece": 20}, symbol=((-5 - 3j, 5 - 3j), (-5 + 0j, 5 + 0j), (-5 + 3j, 5 + 3j)),
    asked_as=("growth tucks", "pin tucks", "let out later", "room to grow"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
))  # fmt: skip
