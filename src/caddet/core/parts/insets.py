"""Godets, gussets and gores: cloth set into seams."""

from __future__ import annotations

import math
from dataclasses import replace

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Point, cross, unit
from caddet.core.parts.adding import ROLES, layer_of, made_by_part, run_words, with_part
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, refused_as_stuck, said
from caddet.core.pattern.ids import base_name, named_on, own_name
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.roles import UNDERARMS
from caddet.core.pattern.seams import Join, Part, Seam
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.hemline import flared, hem_corner
from caddet.core.shaping.openings import open_seam, seam_of

FOOT = 304.8  # mm
TOPS = ("waist", "top", "shoulder")  # roles of runs from which gores are cut down, the likeliest first
BESIDE_GORE = 40.0  # mm from a gore's line to the middle of a contour dart that it runs along
GUSSET_A_FOOT = 25.4  # mm of a gusset's side for each foot of height, and as much more for hard use: common practice


# --- godets --------------------------------------------------------------------------------------------


def godet_width(hem_round: float, body_width: float) -> float:
    """A panel tunic's godet at the hem: half the hem round less the body's width, and 2 inches (mm). Common practice."""
    return hem_round / 2 - body_width + 2 * 25.4


def godet(pattern: Pattern, context: Context, values: Values) -> Result:
    """Open seams from the hem up and set a godet into each."""
    runs = chosen_edges(pattern, values["edges"]) if values["edges"] else _sides(pattern)
    made: list[Piece] = []
    seams: list[Seam] = []
    wide, high = float(values["width"]), float(values["height"])
    for number, (piece, key) in enumerate(runs):
        piece = pattern.piece(piece.name)
        found = seam_of(pattern, piece, key)
        if found is None or hem_corner(piece, key) is None:
            raise Stuck(say("the {run} is no seam that comes down to a hem", run=run_words(piece, key)), "edges")
        step = f"{context.id}.{number + 1}" if len(runs) > 1 else context.id
        at_end = _hem_end(pattern, found, piece, key)
        spans = []
        for layer in range(len(found.layers)):
            pattern = open_seam(pattern, found.name, layer, at_end, high, step, "")
        opened = pattern.seam(found.name)
        for before, now in zip(found.layers, opened.layers, strict=True):
            spans.append(_rest(before, now, at_end))
        name = f"{context.id}.godet_{number + 1}"
        lengths = [pattern.length((part,)) for part in spans]
        made.append(
            godet_piece(
                name, wide, sum(lengths) / len(lengths), str(values["form"]), _times(found, piece), str(values["cloth"])
            )
        )
        for own, part in zip(("left", "right"), spans, strict=True):
            words = say("Godet to the {edge}", edge=said(str(part.ref)))
            seams.append(
                Seam(f"{name}_{own}", words, ((part,), layer_of(named_on(name, own))), (Join(),), corners=True)
            )
    return Result(with_part(pattern, made, seams), changes=OF_THE_BODY)


def _sides(pattern: Pattern) -> list[tuple[Piece, str]]:
    found = [
        (p, key) for p in pattern.pieces for key in p.runs_of("side") if not made_by_part(p) and hem_corner(p, key)
    ]
    if not found:
        raise Stuck(say("no side seam here comes down to a hem; say which seams"), "edges")
    return found[:1]


def _hem_end(pattern: Pattern, seam: Seam, piece: Piece, key: str) -> bool:
    index, path_end = hem_corner(piece, key) or (0, True)
    for layer in seam.layers:
        for fragment in pattern.layer_fragments(layer):
            if fragment.piece.name == piece.name and fragment.index == index:
                return path_end != fragment.backwards
    return True


def _rest(before: tuple[Part, ...], now: tuple[Part, ...], at_end: bool) -> Part:
    """What of a layer was opened: between where the seam ends now and where it ended before."""
    old, new = (before[-1], now[-1]) if at_end else (before[0], now[0])
    upwards = old.backwards != at_end
    return replace(old, low=new.high, high=old.high) if upwards else replace(old, low=old.low, high=new.low)


def _times(seam: Seam, piece: Piece) -> int:
    """How many godets a seam takes: one for each side of the body, one in a centre."""
    return 1 if seam.closes() or piece.symmetry == "whole" else 2


def godet_piece(name: str, wide: float, side: float, form: str, count: int, cloth: str) -> Piece:
    """A godet with two equal sides so long: a wedge with a round hem, or squared as cut from one rectangle by a diagonal.

    Raises :class:`Stuck` when it is wider than its sides let it be.
    """
    if wide >= 2 * side * 0.98:
        raise Stuck(
            say("a godet {side} high can't be {wide} wide at the hem", side=Length(side), wide=Length(wide)), "width"
        )
    half = math.asin(wide / 2 / side)
    a, b = side * complex(-math.sin(half), math.cos(half)), side * complex(math.sin(half), math.cos(half))
    # from the right to the left, below the tip
    hem = Path((Arc(0j, side, math.pi / 2 - half, 2 * half),)) if form == "round" else Path.polyline([b, a])
    edges = (
        Edge(named_on(name, "right"), Path.polyline([0j, b])),
        Edge(named_on(name, "hem"), hem, "hem"),
        Edge(named_on(name, "left"), Path.polyline([a, 0j])),
    )
    remark = (
        say("two from one rectangle by a diagonal cut, the longer side squared off")
        if form == "straight"
        else say("let it hang a day before it is hemmed")
    )
    left = replace(edges[2], pairs=((0.0, 1.0), (1.0, 0.0)))
    return sound(
        Piece(
            name,
            say("Godet"),
            (edges[0], edges[1], left),
            grain=Grain(0.25j * side, 0.75j * side),
            cuts=(Cut(cloth, count),),
            remark=remark,
        )
    )


register_step(Step(
    "godet", "Godet",
    "A wedge set into a seam from the hem up: the skirt swings without being wider above. Stitch each side down from the tip; the last stitch above is the first one's.",
    (Parameter("edges", "In the seams", "edges", (), most=12, why="One side of each is enough. None means the side."),
     Parameter("width", "Wide at the hem", "length", 200.0, 30.0, 1500.0, why=say("A panel tunic's: half the hem round less the body's width, and {5.1 cm}.")),
     Parameter("height", "High", "length", 300.0, 50.0, 1200.0, hand=Hand("along", "edges", "hem")),
     Parameter("form", "Its hem", "choice", "round", choices=(("round", "Round"), ("straight", "Straight: from a rectangle"))),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    godet, lambda values: say("godets {wide} wide, {high} high", wide=Length(float(values.get("width", 0.0))), high=Length(float(values.get("height", 0.0)))),
    suits={"seam": 8, "edge": 27}, symbol=((0 - 5j, -4 + 4j, 0 + 5j, 4 + 4j, 0 - 5j),),
    asked_as=("wedge in the hem", "insert in the seam", "more swing", "triangle in the skirt"),
    fits=lambda pattern: "" if any(hem_corner(p, k) for p in pattern.pieces for k in p.runs()) else say("no seam here comes down to a hem"),
    source="godet width = hem round ÷ 2 − body width + 2 inches: common practice, no source",
))  # fmt: skip


# --- gussets -------------------------------------------------------------------------------------------


def gusset_side(height: float, hard: bool = False) -> float:
    """The side of an underarm gusset for a body's height (mm): an inch for each foot, an inch more for hard use."""
    return round(height / FOOT) * GUSSET_A_FOOT + (GUSSET_A_FOOT if hard else 0.0)


def gusset(pattern: Pattern, context: Context, values: Values) -> Result:
    """Open the side seam and the sleeve's seam where they meet and set a square in."""
    piece, key = chosen_edges(pattern, values["edges"])[0] if values["edges"] else _side_under_arm(pattern)
    found = seam_of(pattern, piece, key)
    if found is None:
        raise Stuck(say("the {run} is no seam", run=run_words(piece, key)), "edges")
    arm = _sleeve_seam(pattern)
    if arm is None:
        raise Stuck(say("no sleeve's seam meets this side under the arm; a gusset needs both"), "edges")
    size = float(values["side"]) or gusset_side(context.measures.get("height", 1700.0), bool(values["hard"]))
    spans: list[Part] = []
    for number, one in enumerate((found, arm)):
        at_end = not _lower_end(pattern, one)
        for layer in range(2):
            pattern = open_seam(pattern, one.name, layer, at_end, size, f"{context.id}.{number + 1}", "")
        now = pattern.seam(one.name)
        spans += [_rest(before, after, at_end) for before, after in zip(one.layers, now.layers, strict=True)]
    name = f"{context.id}.gusset"
    corners = [0j, complex(size, 0), complex(size, size), complex(0, size)]
    order = (spans[0], spans[2], spans[3], spans[1])  # front side, front sleeve, back sleeve, back side
    owns = ("front_body", "front_sleeve", "back_sleeve", "back_body")
    edges = tuple(
        Edge(named_on(name, own), Path.polyline([a, b]))
        for own, a, b in zip(owns, corners, [*corners[1:], corners[0]], strict=True)
    )
    made = Piece(
        name,
        say("Gusset"),
        edges,
        grain=Grain(complex(size / 2, size * 0.2), complex(size / 2, size * 0.8)),
        cuts=(Cut(str(values["cloth"]), 2),),
        remark=say("its edges on the grain; stitch from corner to corner, no further"),
    )
    seams = [
        Seam(
            f"{name}_{own}",
            say("Gusset to the {edge}", edge=said(str(part.ref))),
            ((part,), layer_of(named_on(name, own))),
            (Join(),),
            corners=True,
        )
        for own, part in zip(owns, order, strict=True)
    ]
    return Result(with_part(pattern, [made], seams), changes=OF_THE_BODY)


def _side_under_arm(pattern: Pattern) -> tuple[Piece, str]:
    for piece in pattern.pieces:
        if (sides := piece.runs_of("side")) and not made_by_part(piece):
            return piece, sides[0]
    raise Stuck(say("there is no side seam here"), "edges")


def _sleeve_seam(pattern: Pattern) -> Seam | None:
    """The seam along the arm: of two edges under it."""
    for seam in pattern.seams:
        roles = [fragment.edge.role for part in seam.parts() for fragment in pattern.fragments(part)[:1]]
        if len(roles) == 2 and all(role in UNDERARMS for role in roles) and seam.role != "inside":
            return seam
    return None


def _lower_end(pattern: Pattern, seam: Seam) -> bool:
    """Whether a seam's walk begins at its upper end: under the arm."""
    fragments = pattern.layer_fragments(seam.layers[0])
    return fragments[0].path().start.imag <= fragments[-1].path().end.imag


register_step(Step(
    "gusset", "Gusset",
    "A square set in under the arm, where side and sleeve meet: the arm lifts without lifting the garment. Its side is an inch for each foot of height, and one more for hard use.",
    (Parameter("edges", "Side seam", "edges", (), most=1, why="None means the side."),
     Parameter("side", "Side of the square", "length", 0.0, 0.0, 300.0, why="0 takes it from the height."),
     Parameter("hard", "For hard use", "flag", False), Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    gusset, lambda values: say("gusset under the arm"),
    suits={"seam": 10, "corner": 7}, symbol=((0 - 5j, 5 + 0j, 0 + 5j, -5 + 0j, 0 - 5j),),
    asked_as=("square under the arm", "lift the arms", "more movement", "underarm insert"),
    fits=lambda pattern: "" if _sleeve_seam(pattern) is not None else say("no sleeve here has a seam under the arm"),
    source="1 inch a side for each foot of height, 1 inch more for hard use: common practice, no source",
))  # fmt: skip


# --- gores ---------------------------------------------------------------------------------------------


def gores(pattern: Pattern, context: Context, values: Values) -> Result:
    """Cut pieces from their top to the hem into gores, and flare each at its cut edges."""
    pieces = chosen_pieces(pattern, values["pieces"])
    if not pieces:
        raise Stuck(say("say which pieces are made of gores"), "pieces")
    count, flare = int(values["count"]), float(values["flare"])
    for number, piece in enumerate(pieces):
        for n in range(1, count):
            step = f"{context.id}.{number * (count - 1) + n}"
            parts = [p for p in pattern.pieces if p.made == piece.made and piece.marks <= p.marks]
            left = max(parts, key=lambda p: abs(p.outline().bounds()[2] - p.outline().bounds()[0]))
            share = 1 / (count - n + 1)
            line = _down(left, share, 0.5 / (count - n + 1))
            with refused_as_stuck("count"):
                pattern = cut_piece(
                    pattern,
                    left,
                    line,
                    step,
                    (say("{piece}, gore {n}", piece=piece.label, n=n), piece.label),
                    say("{piece}, gore seam {n}", piece=piece.label, n=n),
                )
                pattern = _fair(pattern, step) if line.through else pattern
    if flare > 0:
        for piece in list(pattern.pieces):
            keys = [k for k in piece.runs() if base_name(k).startswith(f"{context.id}.") and own_name(k) == "cut"]
            for key in keys:
                now = pattern.piece(piece.name)
                pattern = pattern.with_piece(flared(now, key, flare, float(values["above"])))
    return Result(pattern, changes=OF_THE_BODY)


def _down(piece: Piece, share: float, near: float) -> CutLine:
    """A line from the top of a piece at a share of it down to the hem; through the dart that stands within a share of
    ``near`` of there, whose legs become the seam.
    """
    hems = [k for k in piece.runs() if piece.run(k)[0].finish == "hem"]
    if not hems:
        raise Stuck(say("the {piece} has no hem", piece=piece.label.lower()), "pieces")
    hem = hems[0]
    length = piece.run_length(hem)
    tops = [k for role in TOPS for k in piece.runs_of(role) if piece.run(k)[0].finish != "fold"]
    if not tops:
        raise Stuck(say("the {piece} has no waist or shoulder to cut from", piece=piece.label.lower()), "pieces")
    top = tops[0]
    on = {dart.id: piece.nearest_on_run(top, piece.legs(dart.id)[1]) for dart in piece.darts}
    there = {one: along / piece.run_length(top) for one, (off, along) in on.items() if off < 1.0}
    dart = min(piece.darts, key=lambda one: abs(there.get(one.id, 9.0) - share), default=None)
    if dart is not None and abs(there.get(dart.id, 9.0) - share) < near:
        share = there[dart.id]
    else:
        dart = None
    a = piece.spot_at(top, piece.run_length(top) * share)
    low = piece.spot_at(hem, length * share)
    lows = [low, piece.spot_at(hem, length * (1 - share))]
    start = piece.legs(dart.id)[2] if dart is not None else piece.where(a)
    end = min(lows, key=lambda spot: abs(unit(piece.where(spot) - start).real))
    return CutLine(dart or a, end, _contour_near(piece, start, piece.where(end)))


def _contour_near(piece: Piece, start: Point, end: Point) -> tuple[Point, ...]:
    """The two tips, upper first, of the contour dart that stands too near a line down a piece to be sewn beside it: its
    sides become the seam. None without one."""
    for feature in piece.features:
        if feature.kind == "contour_dart" and len(feature.bits) == 4:
            top, low = sorted((piece.where(feature.bits[0].a), piece.where(feature.bits[2].a)), key=lambda p: p.imag)
            off = abs(cross(unit(end - start), (top + low) / 2 - start))
            if start.imag < top.imag and low.imag < end.imag and off < BESIDE_GORE:
                return top, low
    return ()


def _fair(pattern: Pattern, step: str) -> Pattern:
    """The two sides of a gore seam along a contour dart without the corners at its ends and its middle."""
    for piece in pattern.pieces:
        edges = []
        for edge in piece.edges:
            if edge.name == f"{step}.cut" and not edge.dart:
                edge = edge.with_path(_without_corners(edge.path))
            edges.append(edge)
        pattern = pattern.with_piece(sound(piece.with_edges(edges)))
    return pattern


def _without_corners(path: Path) -> Path:
    """A line of straight parts drawn smooth through its corners; both its ends stay straight."""
    first, *between, last = path.segments
    if not between:
        return path
    points = [first.point(0.6), first.point(1), *(one.point(1) for one in between), last.point(0.4)]
    middle = smooth_through(points, first.direction(0.6), last.direction(0.4))
    return Path.join([Path.polyline([path.start, points[0]]), middle, Path.polyline([points[-1], path.end])])


register_step(Step(
    "gores", "Gores",
    "The piece is cut from top to hem into gores that are sewn together again; flared at each seam, the skirt fits above and swings below. A gore that would run beside a contour dart takes its two sides as its seam.",
    (Parameter("pieces", "Pieces", "pieces", ()), Parameter("count", "Gores of each", "count", 2.0, 2.0, 8.0, why="Of half a piece on the fold, the part on the fold stays one."),
     Parameter("flare", "Flared at each seam", "length", 40.0, 0.0, 400.0), Parameter("above", "Begins, above the hem", "length", 0.0, 0.0, 1200.0, why="0 begins at the hip, or at the top.")),
    gores, lambda values: say("{pieces} in {count} gores", pieces=", ".join(said(one) for one in values.get("pieces") or ()) or say("piece"), count=f"{float(values.get('count', 0)):g}"),
    suits={"piece": 24}, symbol=((-4 - 5j, -5 + 5j), (-1 - 5j, -2 + 5j), (1 - 5j, 2 + 5j), (4 - 5j, 5 + 5j)),
    asked_as=("gored skirt", "panels", "six gores"), fits=lambda pattern: "" if any(e.finish == "hem" for p in pattern.pieces for e in p.edges) else say("no piece here has a hem"),
))  # fmt: skip
