"""Straps over the body from edge to edge, crossed or spread on a grid; cords and bows."""

from __future__ import annotations

import math

from caddet.core.errors import Finding
from caddet.core.parts.adding import ROLES, box, drawn, notion, with_features, with_notches, with_part, with_whys
from caddet.core.parts.ties import strip_width, turned_in
from caddet.core.pattern.features import Notch, Spot
from caddet.core.pattern.finding import place_on, said_place
from caddet.core.pattern.ids import named_on
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, say

SPARE = 50.0  # mm to trim after trying on; common practice
KNOT, BOW = 150.0, 450.0  # mm more at an end that is tied in a knot, or a bow: 15 to 20 inches
OVER = 25.0  # mm that the way over the shoulder is longer than its two heights: its thickness; a guess
ENDS = (("sewn", "Sewn in at both ends"), ("knot", "Tied in a knot"), ("bow", "Tied in a bow"))


def path_over(pattern: Pattern, front: tuple[Piece, Spot], back: tuple[Piece, Spot], crossed: bool) -> float:
    """The way from a place on the front over the shoulder to one on the back, in mm; crossed, to the other side.

    Heights are counted on pieces drafted from the nape; where both places lie on one piece it is the straight way.
    """
    del pattern
    a, b = front[0].where(front[1]), back[0].where(back[1])
    if front[0].name == back[0].name:
        return abs(b - a)
    across = abs(a.real - front[0].centre_x) + (1 if crossed else -1) * abs(b.real - back[0].centre_x)
    return math.hypot(max(a.imag, 0.0) + max(b.imag, 0.0), across) + OVER


def straps(pattern: Pattern, context: Context, values: Values) -> Result:
    """Straps from one edge to another: how long they are, where they are sewn, and the strip that is cut."""
    if values["from"] is None or values["to"] is None:
        raise Stuck(
            say("a strap has two ends: say where it begins and where it is sewn again"),
            "from" if values["from"] is None else "to",
        )
    count, wide = int(values["count"]), float(values["width"])
    front, back = place_on(pattern, values["from"], "from"), place_on(pattern, values["to"], "to")
    crossed = bool(values["crossed"])
    path = path_over(pattern, front, back, crossed)
    ends = str(values["ends"])
    more = {"sewn": SPARE, "knot": SPARE + KNOT, "bow": SPARE + BOW}[ends]
    asked = float(values["length"])
    length = asked or path + more
    findings: list[Finding] = []
    if asked and asked < path:
        findings.append(
            Finding(
                "part.strap",
                say(
                    "The strap is {length}, and its way over the body {path}: it will not reach.",
                    length=Length(asked),
                    path=Length(path),
                ),
                f"recipe[{context.id}].length",
                "look",
            )
        )
    name = f"{context.id}.strap"
    sides = max(front[0].worn, 1)
    cut = strip_width(wide)
    one = box(
        name, say("Strap"), length, 2 * wide, ("top", "end", "bottom", "start"), ("joined", "joined", "joined", "joined"), cut=count * sides, cloth=(str(values["cloth"]),),
        remark=say("{wide} wide when it is turned, cut {cut}; {spare} are to be trimmed after trying on", wide=Length(wide), cut=Length(cut), spare=Length(SPARE)),
    )  # fmt: skip
    why = {
        "top": say("sewn to its other side and turned"),
        "bottom": say("sewn to its other side and turned"),
        "end": say("caught in the edge it is sewn to"),
        "start": say("caught in the edge it is sewn to"),
    }
    one = turned_in(with_whys(one, why))
    one = with_features(
        one,
        [drawn("fold_line", named_on(name, "strap_fold"), say("fold here"), [complex(0, wide), complex(length, wide)])],
    )
    for (piece, spot), spread in ((front, float(values["spread_from"])), (back, float(values["spread_to"]))):
        marks = _marks(piece, spot, count, spread, wide)
        now = pattern.piece(piece.name)
        pattern = pattern.with_piece(with_notches(now, [Notch(at.edge, at.u, False, say("strap")) for at in marks]))
    findings.append(
        Finding(
            "part.path",
            say(
                "Strap: {path} over the body and {more} to tie or trim = {length}; {count} of them.",
                path=Length(path),
                more=Length(more),
                length=Length(path + more),
                count=count * sides,
            ),
            f"recipe[{context.id}]",
            "note",
        )
    )
    cords = (
        [notion(context.id, "cord", say("Cord to fill the straps"), [], [(say("strap"), length)], count=count * sides)]
        if values["filled"]
        else []
    )
    return Result(with_part(pattern, [one], notions=cords), findings=tuple(findings))


def _marks(piece: Piece, spot: Spot, count: int, spread: float, wide: float) -> list[Spot]:
    """Where straps are sewn, evenly about a place on an edge. Raises :class:`Stuck` when they lie over each other."""
    if count == 1:
        return [spot]
    apart = spread / (count - 1)
    if apart < wide:
        raise Stuck(
            say(
                "{count} straps {wide} wide lie over each other within {spread}",
                count=count,
                wide=Length(wide),
                spread=Length(spread),
            ),
            "count",
        )
    middle, length = piece.along(spot), piece.run_length(spot.edge)
    low = min(max(middle - spread / 2, 0.0), max(length - spread, 0.0))
    if spread > length + 0.5:
        raise Stuck(
            say(
                "the edge is only {length} long; the straps spread over {spread}",
                length=Length(length),
                spread=Length(spread),
            ),
            "spread_from",
        )
    return [piece.spot_at(spot.edge, low + apart * n) for n in range(count)]


def _where(value: object) -> str:
    return said_place(value) if isinstance(value, Place) else say("a place")


register_step(Step(
    "straps", "Straps",
    "Strips folded, sewn and turned, from one edge over the shoulder to another; crossed at the back they stay up. Several are spread evenly by marks and woven on a grid. They are as long as their way over the body, and a little to trim at the try-on. Mind your fingers at angled straps under the needle.",
    (Parameter("from", "From the place", "place", None), Parameter("to", "To the place", "place", None),
     Parameter("count", "How many on each side", "count", 1.0, 1.0, 24.0), Parameter("width", "Finished width", "length", 15.0, 3.0, 120.0),
     Parameter("crossed", "Crossed", "flag", False), Parameter("ends", "Its ends", "choice", "sewn", choices=ENDS),
     Parameter("length", "Length", "length", 0.0, 0.0, 3000.0, why="0 takes the way over the body and what is trimmed or tied."),
     Parameter("spread_from", "Spread, where they begin", "length", 0.0, 0.0, 900.0), Parameter("spread_to", "Spread, where they end", "length", 0.0, 0.0, 900.0),
     Parameter("filled", "Filled with a cord", "flag", False), Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    straps, lambda values: say("straps of {width} from {start} to {end}", width=Length(float(values.get("width", 0.0))), start=_where(values.get("from")), end=_where(values.get("to"))),
    suits={"notch": 5, "edge": 29, "corner": 8}, symbol=((-4 + 5j, -1 - 5j, 1 - 5j), (4 + 5j, 1 - 5j)),
    asked_as=("shoulder straps", "crossed straps", "spaghetti straps", "woven straps", "halter"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="a strip 1¼ inches wide with small seams makes a cord of about ⅜ inch: common practice, no source",
))  # fmt: skip
