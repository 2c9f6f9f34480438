"""Slits inside a piece that open an edge: the placket of a sleeve or shirt, the faced slit of a neck."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Point, unit
from caddet.core.parts.adding import (
    ROLES,
    below,
    box,
    drawn,
    grain_in,
    made_by_part,
    notion,
    run_words,
    with_features,
    with_part,
    with_whys,
)
from caddet.core.parts.rounds import rounds
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges, place_on, said_place
from caddet.core.pattern.ids import base_name, named_on, reference, with_word
from caddet.core.pattern.pattern import Opening, Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.promises import Across, Promise, Run
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.seams import Layer
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, Sentence, say

STRIP = 30.0  # mm, a continuous placket's strip is cut so wide, net: folded it covers both sides
SHORT, LONG = 88.9, 139.7  # mm, 3½ and 5½ inches: the slit of most adults' necks; common practice
SLIT_FACING = 40.0  # mm a slit's facing goes on at either side and below


def _inward(piece: Piece, key: str, point: Point) -> Point:
    """The direction from an edge straight into its piece."""
    edge = min(piece.run(key), key=lambda e: e.path.nearest(point)[0])
    _, along = edge.path.nearest(point)
    return edge.path.direction_at(along) * 1j


def _slit(piece: Piece, key: str, point: Point, length: float) -> tuple[Point, Point]:
    """The two ends of a slit from an edge into its piece. Raises :class:`Stuck` when it would come out again."""
    way = _inward(piece, key, point)
    end = point + way * length
    hits = [abs(p - point) for _, p in piece.outline().crossings(point, end) if ((p - point) / way).real > 1.0]
    if hits and min(hits) < length + 15.0:
        raise Stuck(
            say("the slit would run through the {piece} to its other edge", piece=piece.label.lower()), "length"
        )
    return point, end


def placket(pattern: Pattern, context: Context, values: Values) -> Result:
    """A slit into a piece from an edge, finished with a placket."""
    if values["at"] is None:
        raise Stuck(say("say where the slit begins, on the edge of the sleeve or the neck"), "at")
    piece, spot = place_on(pattern, values["at"], "at")
    length, wide = float(values["length"]), float(values["width"])
    a, b = _slit(piece, spot.edge, piece.where(spot), length)
    for dart in piece.darts:
        _, p, apex, q = piece.legs(dart.id)
        if min(abs(p - a), abs(q - a), abs(apex - b)) < wide:
            raise Stuck(say("the slit runs into the {dart}", dart=dart.label), "at")
    on_fold = any(e.finish == "fold" and e.path.nearest(a)[0] < 1.0 for e in piece.edges)
    count = 1 if on_fold else piece.cut * (2 if piece.fold else 1)
    name = below(context.id, piece.made, "placket")
    cloth = (str(values["cloth"]),)
    style = str(values["style"])
    slit = drawn("line", named_on(name, "slit_line"), say("slit: cut here"), [a, b])
    pieces: list[Piece] = []
    if style == "continuous":
        strip = box(
            name,
            say("Placket, one strip"),
            2 * length,
            STRIP,
            ("sewn", "right", "free", "left"),
            ("joined", "joined", "turned", "joined"),
            cut=count,
            cloth=cloth,
            remark=say("sewn round the opened slit in one go, folded over"),
        )
        why = {
            "sewn": say("sewn to both sides of the slit, opened out straight"),
            "right": say("caught in the edge"),
            "left": say("caught in the edge"),
        }
        pieces.append(with_whys(strip, why))
        parts = Run(reference(named_on(name, "sewn")))
    else:
        for own, more, label in (
            ("over", wide * 0.9, say("Placket, upper part")),
            ("under", 0.0, say("Placket, lower part")),
        ):
            one = box(
                with_word(name, own),
                label,
                2 * wide,
                length + more,
                ("top", "free", "bottom", "sewn"),
                ("turned", "joined", "joined", "joined"),
                cut=count,
                cloth=(*cloth, "interfacing") if own == "over" else cloth,
                upright=True,
                remark=say("its end pressed to a point and stitched down over the slit") if own == "over" else "",
            )
            why = {
                "free": say("folded over and stitched to the slit"),
                "bottom": say("caught in the edge"),
                "sewn": say("sewn to one side of the slit"),
            }
            pieces.append(with_whys(one, why))
        parts = Run(reference(named_on(with_word(name, "under"), "sewn")))
    promise = Promise(
        with_word(name, "sewn"),
        say("Placket fits the slit"),
        (parts, Across(piece.name, slit.name, -2.0 if style == "continuous" else -1.0)),
        0.0,
        say("the strip against the slit's sides"),
    )
    changed = pattern.with_piece(with_features(piece, [slit]))
    changed = replace(changed, promises=(*changed.promises, promise))
    buttons = int(values["buttons"])
    found = (
        [notion(context.id, "button", say("Button, {size}", size=Length(11.0)), count=buttons * count)]
        if buttons
        else []
    )
    opening = Opening(f"{context.id}.placket", say("Placket"), (), pattern.role_at(spot.edge), (piece.name, slit.name))
    return Result(with_part(changed, pieces, notions=found, openings=[opening]))


def _describe(values: Values) -> Sentence:
    where = said_place(values["at"]) if isinstance(values.get("at"), Place) else say("a place")
    return say("placket of {length} at {place}", length=Length(float(values.get("length", 0.0))), place=where)


register_step(Step(
    "placket", "Placket",
    "A slit from the edge into the piece lets a hand or a head through; a placket finishes both its sides. One strip sewn round the opened slit suits a blouse; the two-part one, pointed above, a shirt. Stitch round the slit before it is cut, and snip into its corners.",
    (Parameter("at", "At the place", "place", None), Parameter("length", "Slit, long", "length", 100.0, 30.0, 700.0),
     Parameter("style", "Kind", "choice", "continuous", choices=(("continuous", "One strip"), ("shirt", "Shirt: two parts"))),
     Parameter("width", "Finished width", "length", 25.0, 8.0, 60.0), Parameter("buttons", "Buttons on each", "count", 0.0, 0.0, 12.0),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    placket, _describe,
    suits={"notch": 6, "edge": 31}, symbol=((-5 + 5j, 5 + 5j), (-1 + 5j, -1 - 3j, 0 - 5j, 1 - 3j, 1 + 5j)),
    asked_as=("sleeve slit", "sleeve opening", "shirt opening", "half button front"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
))  # fmt: skip


# --- a slit with its facing ------------------------------------------------------------------------------


def slit_length(head: float, neck: float) -> float:
    """How long the slit of a neck has to be for the head: half of what the neck lacks (mm). Common practice."""
    return max((head - neck) / 2, 0.0)


def faced_slit(pattern: Pattern, context: Context, values: Values) -> Result:
    """A slit down from an edge at the centre, with a facing sewn round it before it is cut."""
    key = _edge(pattern, values)
    piece = next(p for p in pattern.pieces if key in p.runs())
    fold = next((e for e in piece.edges if e.finish == "fold"), None)
    if fold is None:
        raise Stuck(say("a slit at the centre wants a piece on the fold; use a placket elsewhere"), "edges")
    block = block_of(piece, key)
    top = (
        piece.edges[block.first].path.start
        if fold.path.nearest(piece.edges[block.first].path.start)[0] < 1.0
        else piece.edges[block.last].path.end
    )
    if fold.path.nearest(top)[0] > 1.0:
        raise Stuck(say("the {run} does not meet the fold", run=run_words(piece, key)), "edges")
    around = pattern.length(_round_through(pattern, key))
    head = context.measures.get("head", 570.0)
    length = float(values["length"]) or max(slit_length(head, around), 30.0)
    down = unit(fold.path.end - fold.path.start)
    down = down if ((fold.path.point_at(fold.path.length / 2) - top) / down).real > 0 else -down
    if length + SLIT_FACING + 20.0 > fold.path.length:
        raise Stuck(
            say("the slit and its facing are longer than the centre of the {piece}", piece=piece.label.lower()),
            "length",
        )
    end = top + down * length
    name = below(context.id, piece.made, "slit")
    wide, deep = SLIT_FACING + 10.0, length + SLIT_FACING
    r = 30.0
    p, q = complex(wide, deep - r), complex(wide - r, deep)
    edges = (
        Edge(
            named_on(name, "top"), Path.polyline([0j, complex(wide, 0)]), "joined", why=say("caught in the neck's seam")
        ),
        Edge(
            named_on(name, "round"),
            Path(
                (Line(complex(wide, 0), p), Cubic(p, p + 1j * r * 0.5523, q + r * 0.5523, q), Line(q, complex(0, deep)))
            ),
            "turned",
        ),
        Edge(named_on(name, "fold"), Path.polyline([complex(0, deep), 0j]), "fold"),
    )
    facing = Piece(
        name,
        say("Facing of the slit"),
        edges,
        role="facing",
        covers=piece.covers,
        grain=grain_in([0j, complex(wide, 0), complex(wide, deep)]),
        cuts=(Cut(str(values["cloth"]), 1), Cut("interfacing", 1)),
        remark=say("stitch down one side of the line, two stitches across its end, and up the other; cut between them"),
    )
    facing = with_features(
        facing, [drawn("line", named_on(name, "facing_line"), say("stitch along here"), [0j, complex(0, length)])]
    )
    line = drawn("line", named_on(name, "slit_line"), say("slit"), [top, end])
    findings = []
    if float(values["length"]) == 0 and not SHORT * 0.6 <= length <= LONG * 1.3:
        findings.append(
            Finding(
                "part.slit",
                say(
                    "The head asks for a slit of {length}; most adults' are 3½ to 5½ inches. Look at the neckline.",
                    length=Length(length),
                ),
                f"recipe[{context.id}].length",
                "note",
            )
        )
    promise = Promise(
        with_word(name, "line"),
        say("The facing's slit is as long as the garment's"),
        (Across(name, named_on(name, "facing_line")), Across(piece.name, line.name, -1.0)),
        0.0,
        say("the two lines lie on each other"),
    )
    changed = pattern.with_piece(with_features(piece, [line]))
    changed = replace(changed, promises=(*changed.promises, promise))
    opening = Opening(f"{context.id}.slit", say("Slit"), (), pattern.role_at(key), (piece.name, line.name))
    return Result(with_part(changed, [facing], openings=[opening]), findings=tuple(findings))


def _edge(pattern: Pattern, values: Values) -> str:
    if values["edges"]:
        return chosen_edges(pattern, values["edges"])[0][1]
    found = [key for p in pattern.pieces if p.covers == "front" for key in p.runs_of("neck")]
    if not found:
        raise Stuck(say("say from which edge the slit goes down"), "edges")
    return found[0]


def _round_through(pattern: Pattern, key: str) -> Layer:
    """The round that a run lies in with all others of its role: the whole neck."""
    keys = [
        k
        for p in pattern.pieces
        for k in p.runs_of(pattern.role_at(key))
        if not p.feature("band_fold") and not made_by_part(p)
    ]
    found = rounds(pattern, tuple(keys) or (key,))
    name = base_name(key)
    return next((one for one in found if any(part.ref.name == name for part in one.layer)), found[0]).layer


register_step(Step(
    "faced_slit", "Slit with a facing",
    "A slit down the centre from the neck lets the head through. The facing goes on first, stitched down one side and up the other; then both layers are cut between the stitches and the facing is turned in.",
    (Parameter("edges", "From the edge", "edges", (), most=1, why="None means the front neckline."),
     Parameter("length", "Long", "length", 0.0, 0.0, 700.0, hand=Hand("down", "edges"), why="0 takes half of what the neck lacks of the head."),
     Parameter("cloth", "Facing cut from", "choice", "main", choices=ROLES)),
    faced_slit, lambda values: say("slit with a facing"),
    suits={"edge": 32}, symbol=((-5 - 5j, 0 - 4j, 5 - 5j), (0 - 4j, 0 + 3j), (-2 - 4j, -2 + 5j, 2 + 5j, 2 - 4j)),
    asked_as=("neck opening", "keyhole slit", "tunic neck", "head will not go through"),
    fits=lambda pattern: "" if any(p.fold for p in pattern.pieces) else say("no piece here is cut on the fold"), reads=lambda values: ("head",),
    source="slit = (head − neck) ÷ 2, 3½ to 5½ inches for most adults: common practice, no source",
))  # fmt: skip
