"""Steps on fullness: slash and spread along lines, or overlap; the opened edge gathered, pleated or eased in."""

from __future__ import annotations

import cmath
from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from functools import partial
from itertools import pairwise
from typing import Any

from caddet.core.errors import Finding
from caddet.core.geometry.segments import Motion, Point, unit
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_edges, place_on, refused_as_stuck
from caddet.core.pattern.ids import reference
from caddet.core.pattern.laid_together import over_seam, seam_runs
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.spreading import fair_lines, lines_cross, overlap, run_spot, spread_lines
from caddet.core.pattern.surgery import CLEAR, check_inside
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand, LineNote
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.framing import by_piece
from caddet.core.shaping.joins import joined_as, meant

HOLDS = (("gathered", "Gathered in"), ("pleated", "Pleated in"), ("eased", "Eased in"), ("loose", "As it is"))
BY = (("each", "At each line"), ("total", "In all"), ("ratio", "As a ratio of the edge"), ("sample", "By a sample"))
OPENS = (("all", "All along"), ("start", "At the chosen edge"), ("end", "At the other end"))
MOST_LINES = 60
MOST_RATIO = 6.0
BESIDE = 4  # mm from one try to the next beside a dart
SHORTEST = 10.0  # mm of a line
TRIES = 4  # times that a faired edge is opened a little more, until the amount comes to
CLOSE_ENOUGH = 0.2  # mm
INSIDE = 22.0  # mm from the edge that the number of a part stands


def _lines(pattern: Pattern, values: Values) -> tuple[Piece, list[tuple[Spot, Spot]]]:
    """The drawn lines, or ``count`` evenly spaced ones between two edges, on one piece."""
    if values["lines"]:
        found = []
        for points in values["lines"]:
            ends = [points[0], points[-1]]
            if not all(isinstance(one, Place) for one in ends) or len(points) != 2:
                raise Stuck(say("each line runs straight from edge to edge"), "lines")
            found.append([place_on(pattern, one, "lines") for one in ends])
        pieces = {piece.name for line in found for piece, _ in line}
        if len(pieces) != 1:
            raise Stuck(say("all lines lie on one piece, or one runs over the seam of two"), "lines")
        return found[0][0][0], [(line[0][1], line[1][1]) for line in found]
    if not values["edges"]:
        raise Stuck(say("draw lines across a piece, or choose the edge that is opened"), "edges")
    runs = chosen_edges(pattern, values["edges"])
    piece = runs[0][0]
    if any(one is not piece for one, _ in runs):
        raise Stuck(say("the chosen edges lie on one piece"), "edges")
    other = (
        chosen_edges(pattern, values["to"], "to") if values["to"] else [(piece, _opposite(piece, [k for _, k in runs]))]
    )
    if any(one is not piece for one, _ in other):
        raise Stuck(say("the lines run to an edge of the same piece"), "to")
    count = int(values["count"])
    keys, ends = [key for _, key in runs], [key for _, key in other]
    shares = _shares(piece, keys, count)
    lines = [(run_spot(piece, keys, share), run_spot(piece, ends, 1 - share)) for share in shares]
    if not values["to"] and (lines_cross(piece, lines) or not all(map(partial(_inside, piece), lines))):
        try:
            return piece, [(start, _straight_across(piece, start, keys, ends[0])) for start, _ in lines]
        except Stuck:
            beside = [
                (start, _beside_darts(piece, start, ends, 1 - share))
                for (start, _), share in zip(lines, shares, strict=True)
            ]
            if lines_cross(piece, beside):
                raise
            return piece, beside
    return piece, lines


def _meeting(piece: Piece, keys: Sequence[str]) -> list[str]:
    """Two runs that meet (the front and back of a cap at its shoulder mark), in outline order; none when they don't."""
    order = [key for key in piece.runs() if key in keys]
    beside = len(order) == 2 and piece.runs().index(order[1]) - piece.runs().index(order[0]) == 1
    return order if beside else []


def _shares(piece: Piece, keys: Sequence[str], count: int) -> list[float]:
    """Where evenly spaced lines begin: over two edges that meet, as many on either side of where they do."""
    even = [n / (count + 1) for n in range(1, count + 1)]
    both = _meeting(piece, keys)
    if not both:
        return even
    lengths = [piece.run_length(key) for key in both]
    at, apart = lengths[0] / sum(lengths), 1 / (count + 1)
    found = [at + (n - (count - 1) / 2) * apart for n in range(count)]
    return found if min(found) > apart / 4 and max(found) < 1 - apart / 4 else even


def _outer_end(piece: Piece, key: str, *, at_end: bool) -> Point:
    """Where a run begins or ends in the order of the outline."""
    edges = [edge for edge in piece.edges if edge.name == key]
    return edges[-1].path.end if at_end else edges[0].path.start


def _laid_level(piece: Piece, now: Piece, both: Sequence[str]) -> Piece:
    """A piece that was opened over two edges that meet, laid so that their outer ends lie to each other as they did."""
    was, is_now = (
        (_outer_end(one, both[0], at_end=False), _outer_end(one, both[1], at_end=True)) for one in (piece, now)
    )
    turn = unit(was[1] - was[0]) / unit(is_now[1] - is_now[0])
    turned = now.moved(Motion.rotation(cmath.phase(turn), (is_now[0] + is_now[1]) / 2))
    middle = (turned.grain.a + turned.grain.b) / 2
    half = unit(now.grain.b - now.grain.a) * abs(now.grain.b - now.grain.a) / 2
    return replace(turned, grain=replace(turned.grain, a=middle - half, b=middle + half), down=now.down)


def _beside_darts(piece: Piece, start: Spot, ends: list[str], share: float) -> Spot:
    """The place on the far edge nearest to a share of it that a line from a place reaches beside the darts. Raises :class:`Stuck`."""
    whole = sum(piece.run_length(key) for key in ends)
    for off in range(0, int(whole), BESIDE):
        for sign in (1, -1):
            at = share * whole + sign * off
            if CLEAR <= at <= whole - CLEAR and _inside(piece, (start, spot := run_spot(piece, ends, at / whole))):
                return spot
    raise Stuck(say("a dart lies in the way of the lines: move it first, or draw the lines beside it"), "edges")


def _inside(piece: Piece, line: tuple[Spot, Spot]) -> bool:
    try:
        check_inside(piece, [piece.where(spot) for spot in line])
    except Refused:
        return False
    return True


def _straight_across(piece: Piece, start: Spot, keys: list[str], other: str) -> Spot:
    """Where the outline is met from a place, in the direction that leads from the chosen edges to the one across."""
    middles = [piece.run_point(key, piece.run_length(key) / 2)[0] for key in keys]
    way = unit(piece.run_point(other, piece.run_length(other) / 2)[0] - sum(middles) / len(middles))
    left, top, right, bottom = piece.outline().bounds()
    here = piece.where(start)
    far = here + way * (right - left + bottom - top)
    found = []
    for _, point in piece.outline().crossings(here + way * 0.5, far):
        off, key = min((piece.nearest_on_run(k, point)[0], k) for k in piece.runs())
        if off > 1.0:
            raise Stuck(say("a dart lies in the way of the lines: move it first, or draw the lines beside it"), "edges")
        if key not in keys and abs(point - here) > SHORTEST:
            found.append((abs(point - here), key, point))
    if not found:
        raise Stuck(say("the lines meet no edge on the other side; draw them"), "to")
    _, key, point = min(found, key=lambda hit: hit[0])
    return piece.spot_at(key, piece.nearest_on_run(key, point)[1])


def _opposite(piece: Piece, keys: list[str]) -> str:
    """The edge that lies across from others: of those that do not touch them, the one furthest away."""
    middles = [piece.run_point(key, piece.run_length(key) / 2)[0] for key in keys]
    middle = sum(middles) / len(middles)
    order = [edge.name for edge in piece.edges if not edge.dart]
    count = len(order)
    touching = {order[(n + way) % count] for n, key in enumerate(order) if key in keys for way in (-1, 1)}
    rest = [key for key in piece.runs() if key not in keys]
    if not rest:
        raise Stuck(say("the {piece} has no edge across from it", piece=piece.label.lower()), "to")
    clear = [key for key in rest if key not in touching]
    return max(clear or rest, key=lambda key: abs(piece.run_point(key, piece.run_length(key) / 2)[0] - middle))


def slash(pattern: Pattern, context: Context, values: Values) -> Result:
    """Slash a piece along lines and open it at each; negative amounts overlap. One line may run over the seam of two pieces."""
    if _over(values, pattern):
        return _slash_over(pattern, context, values)
    piece, lines = _lines(pattern, values)
    opens = _at_ends(_amount(piece, lines, values), values)
    after, findings = _slashed(pattern, piece, lines, opens, values, context)
    both = _meeting(piece, [reference(one).key for one in values["edges"]]) if not values["lines"] else []
    if both and not piece.fold:
        after = after.with_piece(_laid_level(piece, after.piece(piece.name), both))
    return Result(after, findings=findings, changes=meant(pattern, str(values["hold"])))


def _over(values: Values, pattern: Pattern) -> bool:
    """Whether one line was drawn that runs from one piece on to another."""
    lines: Any = values["lines"]
    return bool(lines) and len(lines) == 1 and len(by_piece(pattern, lines[0], "lines")) == 2


def _slash_over(pattern: Pattern, context: Context, values: Values) -> Result:
    """Two pieces slashed along one line over their seam: where it crosses, both sides open by the same."""
    (one, spots, before), (other, more, behind) = by_piece(pattern, values["lines"][0], "lines")
    ends = [spots[0], more[-1]]
    if len(before) + len(behind) != 2 or not all(isinstance(spot, Place) for spot in ends):
        raise Stuck(say("each line runs straight from edge to edge"), "lines")
    if values["by"] != "each":
        raise Stuck(say("say by how much a line over a seam is opened"), "by")
    with refused_as_stuck("lines"):
        over = over_seam(pattern, one, before, other, behind, curve=False)
    start, end = (place_on(pattern, spot, "lines")[1] for spot in ends if isinstance(spot, Place))
    at_start, at_end = _at_ends(float(values["amount"]), values)
    share = over.first.length / (over.first.length + over.second.length)
    between = at_start + (at_end - at_start) * share
    after, findings = pattern, list[Finding]()
    for piece, line, opens in (
        (one, (start, over.first_spot), (at_start, between)),
        (other, (over.second_spot, end), (between, at_end)),
    ):
        shared = seam_runs(pattern, over.seam, piece)
        after, told = _slashed(after, after.piece(piece.name), [line], opens, values, context, shared)
        findings += told
    return Result(after, findings=tuple(findings), changes=meant(pattern, str(values["hold"])))


def _at_ends(amount: float, values: Values) -> tuple[float, float]:
    """By how much a line is opened at its start and at its end."""
    other = {"all": amount if not values["grows"] else float(values["other"]), "start": 0.0, "end": amount}
    return (amount if values["opens"] != "end" else 0.0), other[str(values["opens"])]


def _slashed(
    pattern: Pattern,
    piece: Piece,
    lines: list[tuple[Spot, Spot]],
    opens: tuple[float, float],
    values: Values,
    context: Context,
    alike: Collection[str] = (),
) -> tuple[Pattern, tuple[Finding, ...]]:
    """A piece opened (or overlapped) along lines; ``alike`` are runs whose other side is opened by the same.

    Drawn fair, an edge that is opened about a hinge is a little shorter than its parts: it is opened by as much more, so
    that what was asked for comes. Opened all along, each strip is as wide as asked.
    """
    after = _opened(pattern, piece, lines, opens, fair=bool(values["fair"]))
    wanted = [_wanted(lines, side, opens[side]) for side in (0, 1)]
    if values["fair"] and values["opens"] != "all" and min(opens) >= 0:
        for _ in range(TRIES):
            came = [_came(piece, after.piece(piece.name), keys) for keys in wanted]
            if all(abs(sum(want.values()) - got) < CLOSE_ENOUGH for want, got in zip(wanted, came, strict=True)):
                break
            opens = tuple(  # type: ignore[assignment]
                by * min(max(sum(want.values()) / got, 0.5), 2.0) if got > 1.0 else by
                for by, want, got in zip(opens, wanted, came, strict=True)
            )
            after = _opened(pattern, piece, lines, opens, fair=True)
    now = after.piece(piece.name)
    longer = {key: now.run_length(key) - piece.run_length(key) for key in piece.runs() if now.has_run(key)}
    opened = {
        key: by for key, by in longer.items() if abs(by) > 1e-6 and not piece.run(key)[0].finish and key not in alike
    }
    return joined_as(after, piece.name, opened, str(values["hold"]), f"recipe[{context.id}]")


def _opened(
    pattern: Pattern, piece: Piece, lines: list[tuple[Spot, Spot]], opens: tuple[float, float], *, fair: bool
) -> Pattern:
    if min(opens) < 0:
        after = overlap(pattern, piece, lines, -opens[0], -opens[1])
    else:
        after = spread_lines(pattern, piece, lines, opens[0], opens[1])
    if not fair:
        return after
    return after.with_piece(fair_lines(piece, after.piece(piece.name), lines))


def _wanted(lines: list[tuple[Spot, Spot]], side: int, each: float) -> dict[str, float]:
    """By how much each run is to be longer that the lines begin (0) or end (1) on, in mm."""
    found: dict[str, float] = {}
    for line in lines:
        found[line[side].edge] = found.get(line[side].edge, 0.0) + each
    return found if each else {}


def _came(piece: Piece, now: Piece, keys: Collection[str]) -> float:
    return sum(now.run_length(key) - piece.run_length(key) for key in keys)


def _parts(before: Pattern, after: Pattern, values: Values) -> list[LineNote]:
    """The parts between the slashes, numbered from left to right (or downwards) beside the edge where the lines begin."""
    if _over(values, before):
        return []
    piece, lines = _lines(before, values)
    now = after.piece(piece.name)
    found: list[Point] = []
    for key in dict.fromkeys(start.edge for start, _ in lines):
        cuts = sorted(start.u for start, _ in lines if start.edge == key)
        for low, high in pairwise((0.0, *cuts, 1.0)):
            spot = now.on_edge(Spot(key, (low + high) / 2))
            if spot is not None:
                path, along = now.edges[spot[0]].path, spot[1]
                found.append(path.point_at(along) + path.direction_at(along) * 1j * INSIDE)
    wide, tall = (max(ways) - min(ways) for ways in ([p.real for p in found], [p.imag for p in found]))
    found.sort(key=lambda p: p.real if wide >= tall else p.imag)
    return [LineNote(0, "", False, now.name, str(n), at) for n, at in enumerate(found, 1)]


def _amount(piece: Piece, lines: list[tuple[Spot, Spot]], values: Values) -> float:
    """By how much each line is opened, in mm, from the amount at each line, in all, or the ratio of the opened edge."""
    by = str(values["by"])
    if by == "each":
        return float(values["amount"])
    if by == "total":
        return float(values["amount"]) / len(lines)
    ratio = float(values["flat"]) / float(values["drawn"]) if by == "sample" else float(values["ratio"])
    if not 1 < ratio <= MOST_RATIO:
        raise Stuck(
            say(
                "the sample must be shorter drawn up than flat, and not more than {most} times", most=f"{MOST_RATIO:g}"
            ),
            "flat",
        )
    side = 1 if values["opens"] == "end" else 0
    keys = dict.fromkeys(line[side].edge for line in lines)
    return sum(piece.run_length(key) for key in keys) * (ratio - 1) / len(lines)


def _describe(values: Values) -> Sentence:
    count = len(values.get("lines") or ()) or int(values.get("count") or 0)
    amount, by = float(values.get("amount", 0.0)), str(values.get("by", "each"))
    words = {1: "one line"}.get(count, f"{count} lines")
    if by == "ratio":
        return say(
            "{lines} opened to {ratio} times the edge", lines=words, ratio=f"{float(values.get('ratio', 1.0)):g}"
        )
    if by == "sample":
        return say(
            "{lines} opened as a sample of {flat} drawn up to {drawn}",
            lines=words,
            flat=Length(float(values.get("flat", 0.0))),
            drawn=Length(float(values.get("drawn", 0.0))),
        )
    which = Length(abs(amount))
    verb = "opened by" if amount >= 0 else "overlapped by"
    if by == "total":
        return say("{lines} {verb} {amount} in all", lines=words, verb=verb, amount=which)
    return say(
        "{lines} {verb} {amount} each" if count > 1 else "{lines} {verb} {amount}", lines=words, verb=verb, amount=which
    )


def _refuses(pattern: Pattern, chosen: Values) -> str:
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        if piece.run(key)[0].finish in ("fold", "opening"):
            return say("a fold or an opening is not opened by slashes")
    return ""


def _usual(pattern: Pattern, chosen: Values) -> Mapping[str, Any]:
    """Gathers where the chosen edge is in a seam, nothing where it is free."""
    edges = chosen_edges(pattern, chosen.get("edges") or ())
    free = bool(edges) and all(piece.run(key)[0].finish for piece, key in edges)
    return {"hold": "loose"} if free else {}


SLASH = register_step(Step(
    "slash", "Slash and spread",
    "The piece is cut along lines and its parts are laid apart: cloth is let in there. Opened at one end only, the other is the hinge; opened all along, the piece is wider by the strip. A minus overlaps the parts and takes cloth out.",
    (Parameter("edges", "Opened edge", "edges", (), optional=True, why="Evenly spaced lines begin on it; with drawn lines it is not asked for."),
     Parameter("to", "To the edge", "edges", (), optional=True, why="None means the one across from it."),
     Parameter("lines", "Drawn lines", "lines", (), optional=True, why="In place of evenly spaced ones."),
     Parameter("count", "Lines, evenly spaced", "count", 3, 1, MOST_LINES, why="Seven lines make eight parts."),
     Parameter("opens", "Opened", "choice", "start", choices=OPENS, why="Opened at one end, the other is the hinge. A drawn line begins where it was begun."),
     Parameter("by", "How much is given", "choice", "each", choices=BY),
     Parameter("amount", "By", "length", 20.0, -150.0, 3000.0, only=("by", ("each", "total")), hand=Hand("out", "edges"), why="A minus overlaps."),
     Parameter("ratio", "Times the edge", "ratio", 1.5, 1.0, 6.0, only=("by", ("ratio",)), why="2 doubles it."),
     Parameter("flat", "Sample, flat", "length", 200.0, 20.0, 2000.0, only=("by", ("sample",)), why="Gather, shirr or ruche a strip of the cloth as it will be, and measure it before and after."),
     Parameter("drawn", "Sample, drawn up", "length", 100.0, 10.0, 2000.0, only=("by", ("sample",))),
     Parameter("grows", "Another amount at the other end", "flag", False, only=("opens", ("all",))),
     Parameter("other", "At the other end", "length", 10.0, 0.0, 3000.0, only=("grows", (True,))),
     Parameter("fair", "Edges drawn smooth again", "flag", True),
     Parameter("hold", "Sewn in", "choice", "gathered", choices=HOLDS, why="What becomes of the longer edge in its seam.")),
    slash, _describe,
    suits={"edge": 3, "piece": 3}, key="W", symbol=((-4 - 5j, -3 + 5j), (0 - 5j, 0 + 5j), (4 - 5j, 3 + 5j)),
    asked_as=("add fullness", "puff", "make it fuller", "spread", "open it", "gathers", "take fullness out", "ruching", "shirring"),
    usual=_usual, refuses=_refuses, fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"), parts=_parts,
    source="a puff sleeve of 7 lines opened by 1\" is 7\" wider at the biceps line: exact",
))  # fmt: skip
