"""Facings: cut from an edge, grown on at it, all in one for neck and armholes, or turned to the outside as a border."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from caddet.core.errors import Finding
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, dot
from caddet.core.parts.adding import (
    GROWN_ON,
    INNER,
    ROLES,
    along_path,
    below,
    copied_seams,
    edge_below,
    finish_runs,
    follows,
    grain_in,
    grain_inside,
    held,
    layer_of,
    made_by_part,
    meeting,
    needs_length,
    run_words,
    seam,
    sewn_along,
    with_features,
    with_part,
)
from caddet.core.parts.strips import away, mirrored_on, reach, straight, strip_ring, up_to
from caddet.core.pattern.dividing import pinned
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Feature
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, on_free_edges, refused_as_stuck, said
from caddet.core.pattern.ids import base_name, named_on, own_name, reference, stroke_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.roles import word_of
from caddet.core.pattern.seams import Seam
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

CAUGHT = "it is caught in the seam of the piece it faces"
ROOM_BESIDE = 0.9  # of the edge beside a faced one, that a facing may take
NARROWEST = 25.0  # mm: a narrower facing does not lie
NEATENED = "neatened and left flat: turned under, it would show outside"
BOW = 0.12  # of its length, by which the lower edge of an all-in-one facing is hollowed
FACED = ("neck", "armhole", "waist", "hem", "top")


# --- cut from the edge -----------------------------------------------------------------------------


def _roles(values: Values, count: int) -> tuple[Cut, ...]:
    roles = [str(values["cloth"]), *(["interfacing"] if values["interfaced"] else [])]
    return tuple(Cut(role, count) for role in roles)


def facing_piece(
    pattern: Pattern, base: str, key: str, step: str, values: Values, faced: Sequence[tuple[str, str]] = ()
) -> Piece:
    """The facing of one run, drawn from the piece as it is now. ``faced`` names all runs (piece, key) that are faced with
    it; where two of them meet at a seam, the facings end at the same place. Raises :class:`Refused` when it is too wide."""
    piece = pattern.piece(base)
    name = below(step, piece.made, own_name(key))
    border = bool(values.get("border"))
    block = block_of(piece, key)
    names = {edge.name: edge_below(name, edge.name) for edge in piece.edges}
    ring = strip_ring(
        piece,
        key,
        float(values["width"]),
        names,
        named_on(name, INNER),
        _where_they_meet(pattern, piece, key, float(values["width"]), faced),
    )
    ends = {names[piece.edges[block.before].name], names[piece.edges[block.behind].name]}
    inner = next(edge.name for edge in ring if edge.role == INNER)
    edges = []
    for edge in ring:
        if edge.name == inner:
            edge = replace(edge, finish="turned" if border else "raw", why="" if border else NEATENED)
        elif edge.name in ends and edge.finish in ("facing", "turned", "band", "binding"):
            edge = replace(edge, finish="")
        elif edge.name not in ends:
            edge = replace(edge, finish="", why="")
        edges.append(edge)
    corners = [edge.path.start for edge in edges]
    remark = (
        say("turned to the right side; its edge is turned under and stitched on")
        if border
        else say("understitched: the allowances are stitched to it, so that it stays inside")
    )
    made = Piece(
        name, say("{piece}, {run} facing", piece=piece.label, run=own_name(key).replace("_", " ")), tuple(edges),
        grain=replace(grain_in(corners), kind=piece.grain.kind) if piece.grain.kind != "bias" else grain_in(corners, "bias"),
        cuts=_roles(values, piece.cut), pair=piece.pair, marks=piece.marks, remark=remark, zero=piece.zero, role="facing", covers=piece.covers,
    )  # fmt: skip
    return sound(_parallel_grain(made, piece))


def _where_they_meet(
    pattern: Pattern, piece: Piece, key: str, width: float, faced: Sequence[tuple[str, str]]
) -> Mapping[str, float]:
    """How far along each seam at the end of a run the facing goes, in mm, where another faced run lies behind that seam.

    Laid together, the inner line of the side that leans in is the true one; it goes less far along the seam.
    """
    found: dict[str, float] = {}
    block = block_of(piece, key)
    for index in {block.before, block.behind}:
        here = (next(n for n, one in enumerate(pattern.pieces) if one.name == piece.name), index)
        for joined, layer in pattern.sewn().get(here, ()):
            for there in (
                f
                for n, parts in enumerate(joined.layers)
                if n != layer
                for part in parts
                for f in pattern.fragments(part)
            ):
                for base, other in faced:
                    if there.piece.name == base and there.index in _beside(there.piece, other):
                        name = piece.edges[index].name
                        mine = found.get(name) or reach(piece, key, index, width)
                        found[name] = min(mine, reach(there.piece, other, there.index, width))
    return found


def _beside(piece: Piece, key: str) -> tuple[int, int]:
    """The indices of the edges at both ends of a run."""
    block = block_of(piece, key)
    return block.before, block.behind


def _parallel_grain(made: Piece, piece: Piece) -> Piece:
    """The grain line in the middle of a piece, as it runs on the piece it comes from."""
    along = piece.grain.b - piece.grain.a
    middle = (made.grain.a + made.grain.b) / 2
    half = along / abs(along) * min(abs(along) / 2, 40.0)
    return grain_inside(replace(made, grain=replace(piece.grain, a=middle - half, b=middle + half)))


def facing(pattern: Pattern, context: Context, values: Values) -> Result:
    """Cut a facing from every chosen run, sewn to it and to the facing beside it."""
    runs = chosen_edges(pattern, values["edges"] or (_usual_run(pattern),))
    for piece, key in runs:
        if any(edge.finish == "fold" for edge in piece.run(key)):
            raise Stuck(say("the fold can't be faced"), "edges")
    values, findings = _as_wide_as_it_can(runs, context.id, values)
    faced = tuple((piece.name, key) for piece, key in runs)
    with refused_as_stuck("width"):
        done, made = sewn_along(
            pattern,
            context.id,
            runs,
            lambda base, key: partial(facing_piece, base=base, key=key, step=context.id, values=values, faced=faced),
            "Facing of the {run}",
            CAUGHT,
        )
    word = say("border, its edge") if values.get("border") else say("facing, its edge")
    for (piece, key), one in zip(runs, made, strict=True):
        line = _line_on(piece, key, one)
        if line is not None:
            drawn_on = with_features(
                done.piece(piece.name), [along_path("line", below(context.id, key, "edge"), word, line, 1.0)]
            )
            done = done.with_piece(drawn_on)
    return Result(done, findings=findings)


def _as_wide_as_it_can(
    runs: Sequence[tuple[Piece, str]], step: str, values: Values
) -> tuple[Values, tuple[Finding, ...]]:
    """The values with the width that the shortest edge beside the faced ones has room for (all facings are as wide), and that said."""
    asked = float(values["width"])
    room = min(asked, *(_room_beside(piece, key) for piece, key in runs))
    if room >= asked or room < NARROWEST or asked > 2 * room:
        return values, ()
    words = say(
        "The facing is {room} wide and not {asked}: the edge beside it is no longer.",
        room=Length(room),
        asked=Length(asked),
    )
    return {**values, "width": room}, (Finding("part.narrower", words, f"recipe[{step}].width", "note"),)


def _room_beside(piece: Piece, key: str) -> float:
    """How wide a facing of a run may be for the edges beside it, in mm."""
    block = block_of(piece, key)
    beside = [piece.edges[index] for index in (block.before, block.behind) if piece.edges[index].finish != "fold"]
    return min((ROOM_BESIDE * piece.run_length(edge.name) for edge in beside), default=float("inf"))


def _line_on(piece: Piece, key: str, facing_: Piece) -> Path | None:
    """Where the facing's inner edge lies on the piece, when no dart lies between."""
    edges = [edge for edge in facing_.edges if edge.role == INNER]
    block = block_of(piece, key)
    return edges[0].path if edges and block.first == block.last else None


def _usual_run(pattern: Pattern) -> str:
    here = [piece for piece in pattern.pieces if not made_by_part(piece)]
    role = next((role for role in FACED if any(piece.runs_of(role) for piece in here)), "")
    if not role:
        raise Stuck(say("say which edge is faced"), "edges")
    return word_of(role)


def _describe(values: Values) -> Sentence:
    edges = values.get("edges") or ()
    which = ", ".join(said(one) for one in edges) or say("edge")
    word = say("border") if values.get("border") else say("facing")
    return say(
        "{word} of the {edges}, {width} wide", word=word, edges=which, width=Length(float(values.get("width", 0.0)))
    )


def _fits(pattern: Pattern) -> str:
    return "" if any(piece.runs() for piece in pattern.pieces) else say("there is no edge to face")


WIDTH = Parameter(
    "width",
    "Width",
    "length",
    60.0,
    15.0,
    400.0,
    hand=Hand("out", "edges"),
    why=say("From the edge to where the facing ends inside: {5 to 7 cm} at a neck; {7.6 cm} at a jacket's front."),
)
CLOTH = Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)
INTERFACED = Parameter("interfaced", "Interfaced", "flag", True)

FACING = register_step(Step(
    "facing", "Facing",
    "A strip of the same shape as the edge, sewn to it right sides together and turned inside. It holds a curve or a corner that can't be hemmed. Where two faced edges meet at a seam, the facings are joined there, and end at the same place of it.",
    (Parameter("edges", "Edges", "edges", (), why="A name without a piece means that edge of every piece. None means the neckline."),
     WIDTH, CLOTH, INTERFACED),
    facing, _describe,
    suits={"edge": 4}, key="A", symbol=((-5 - 4j, 5 - 4j, 5 + 0j, -5 + 0j, -5 - 4j), (-3 - 2j, 3 - 2j)),
    asked_as=("face the edge", "finish the neck", "finish the armhole", "inside strip"),
    fits=_fits, refuses=on_free_edges,
))  # fmt: skip


def border(pattern: Pattern, context: Context, values: Values) -> Result:
    """A facing turned to the outside."""
    return facing(pattern, context, {**values, "border": True})


register_step(Step(
    "border", "Border",
    "A facing that is turned to the outside and stitched on, in the same or another cloth: it finishes the edge and trims it. Sewn to the wrong side first, so that it comes out right side up.",
    (Parameter("edges", "Edges", "edges", (), why="None means the neckline."),
     replace(WIDTH, default=65.0, why=say("{5 to 7.5 cm} at a tunic's neck.")), replace(CLOTH, default="contrast"), replace(INTERFACED, default=False)),
    border, lambda values: _describe({**values, "border": True}),
    suits={"edge": 12}, symbol=((-5 - 4j, 5 - 4j, 5 + 2j, -5 + 2j, -5 - 4j), (-5 + 0j, 5 + 0j)),
    asked_as=("trim the edge", "facing outside", "contrast border", "border round the neck"),
    fits=_fits, refuses=on_free_edges,
    source="2 to 3 inches at the neck of a tunic: common practice, no source",
))  # fmt: skip


# --- grown on ----------------------------------------------------------------------------------------


def grown_on(pattern: Pattern, context: Context, values: Values) -> Result:
    """Let the piece go on past a straight edge, mirrored in it, so that it folds back inside."""
    runs = chosen_edges(pattern, values["edges"] or (_usual_straight(pattern),))
    for piece, key in runs:
        pattern = _grow(pattern, pattern.piece(piece.name), key, context.id, float(values["width"]))
    return Result(pattern, changes=OF_THE_BODY)


def _grow(pattern: Pattern, piece: Piece, key: str, step: str, width: float) -> Pattern:
    block = block_of(piece, key)
    run = piece.edges[block.first]
    words = run_words(piece, key)
    if run.finish == "fold" or pattern.sewn().get(_at(pattern, piece, block.first)):
        raise Stuck(say("the {run} is sewn or on the fold; a facing grows on at an open edge", run=words), "edges")
    with refused_as_stuck("width"):
        (first, line, last), over = mirrored_on(piece, key, width)
    del over
    stem, stroke = base_name(below(step, piece.made, own_name(key))), stroke_of(piece.made)
    new: list[Edge] = []
    seams: list[Seam] = []
    for old, part in ((piece.edges[block.before], first), (None, line), (piece.edges[block.behind], last)):
        own = INNER if old is None else own_name(old.name)
        name = f"{stem}.{own}{stroke}"
        if old is None:
            new.append(replace(part, name=name, finish="raw", why=NEATENED))
            continue
        finish, why = old.finish, old.why
        if finish in ("", "facing", "turned", "binding", "band"):
            finish, why = "", ""
            low, high = part.low, part.high
            base = layer_of(old.name, piece.marks)[0]
            seams.append(
                seam(
                    f"{step}.{own_name(old.name)}_{own_name(key)}",
                    say("{run}, facing", run=run_words(piece, old.name)),
                    (replace(base, low=low, high=high),),
                    layer_of(name, piece.marks),
                )
            )
        if finish == "fold":
            raise Stuck(say("the {run} meets the fold; give it a separate facing", run=words), "edges")
        new.append(replace(part, name=name, finish=finish, why=why, dart=""))
    count = len(piece.edges)
    rest = [piece.edges[(block.behind + n) % count] for n in range(count - 1)]
    rest = [
        replace(e, finish="")
        if e.finish in ("facing",) and e.name in (piece.edges[block.before].name, piece.edges[block.behind].name)
        else e
        for e in rest
    ]
    ring = (*rest, *new)
    start = next(
        n for n, edge in enumerate(ring) if edge.name == (piece.edges[0].name if block.first else piece.edges[1].name)
    )
    fold = along_path("fold_line", f"{stem}_fold{stroke}", say("fold here, facing inside"), run.path)
    fold = replace(fold, role=GROWN_ON)
    edge_line = along_path("line", f"{stem}_edge{stroke}", say("facing, its edge"), _mirrored(line.path, run.path), 1.0)
    made = sound(with_features(piece.with_edges((*ring[start:], *ring[:start])), [fold, edge_line]))
    made = replace(
        made,
        features=tuple(_pinned(piece, one, key) for one in made.features),
        notches=tuple(n for n in made.notches if n.edge != key),
    )
    return with_part(pattern.with_piece(made), seams=seams)


def _mirrored(path: Path, line: Path) -> Path:
    return path.moved(Motion.reflection(line.start, line.end))


def _pinned(piece: Piece, feature: Feature, key: str) -> Feature:
    return pinned(piece, feature, {key})


def _at(pattern: Pattern, piece: Piece, index: int) -> tuple[int, int]:
    return next(n for n, one in enumerate(pattern.pieces) if one.name == piece.name), index


def _usual_straight(pattern: Pattern) -> str:
    for piece in pattern.pieces:
        for key in piece.runs():
            edges = piece.run(key)
            if len(edges) == 1 and edges[0].finish in ("opening", "facing", "turned") and straight(edges[0]):
                return key
    raise Stuck(say("no edge here is open and straight; say which one is folded back"), "edges")


def _describe_grown(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("the straight edge")
    return say("facing grown on at {edges}, {width} wide", edges=which, width=Length(float(values.get("width", 0.0))))


register_step(Step(
    "grown_on_facing", "Facing grown on",
    "The piece goes on past a straight edge and folds back along it: a cowl, or the front of a jacket. Its corners are the mirror image of the piece's own, so that they lie on each other.",
    (Parameter("edges", "Edges", "edges", (), why="Straight and open. None means the first such edge."),
     Parameter("width", "Width", "length", 76.2, 15.0, 400.0, hand=Hand("out", "edges"), why=say("{7.6 cm} at a jacket's front, {13 to 15 cm} at a cowl."))),
    grown_on, _describe_grown,
    suits={"edge": 9}, symbol=((-5 - 4j, 1 - 4j, 1 + 4j, -5 + 4j, -5 - 4j), (1 - 4j, 5 - 4j, 5 + 4j, 1 + 4j)),
    asked_as=("fold back", "cut-on facing", "extended facing", "cowl facing", "front folds back"),
    refuses=on_free_edges, fits=_fits, source="3 inches past a raglan jacket's centre front, 5 to 6 at a cowl: common practice, no source",
))  # fmt: skip


# --- neck and armholes in one ------------------------------------------------------------------------


def all_in_one(pattern: Pattern, context: Context, values: Values) -> Result:
    """The upper part of a bodice once more, faced at neck and armholes."""
    pieces = chosen_pieces(pattern, values["pieces"]) or _faced_both_ways(pattern)
    if not pieces:
        raise Stuck(say("no piece here has both a neckline and an armhole"), "pieces")
    made: list[tuple[Piece, Piece]] = []
    for piece in pieces:
        with refused_as_stuck("side"):
            made.append((piece, all_in_one_piece(pattern, piece.name, context.id, values)))
    names = {
        old: edge_below(one.made, old)
        for piece, one in made
        for old in piece.runs()
        if edge_below(one.made, old) in one.runs()
    }
    faced = {old: new for piece, _ in made for old in piece.runs_of("neck", "armhole") if (new := names.get(old))}
    seams = [
        seam(below(context.id, old, "seam"), say("Facing of the {run}", run=said(old)), layer_of(old), layer_of(new))
        for old, new in faced.items()
    ]
    rest = {old: new for old, new in names.items() if old not in faced and not new.endswith(INNER)}
    seams += meeting(copied_seams(pattern, rest, context.id), [one for _, one in made])
    done = held([one for _, one in made], seams, CAUGHT)
    fits = [
        follows(pattern, one, piece.runs(), partial(all_in_one_piece, base=piece.name, step=context.id, values=values))
        for (piece, _), one in zip(made, done, strict=True)
    ]
    free = {old for old in faced if not _sewn(pattern, old)}
    return Result(with_part(finish_runs(pattern, free), done, seams, fits))


def _sewn(pattern: Pattern, key: str) -> bool:
    found = pattern.edges(reference(key))
    return bool(found) and found[0] in pattern.sewn()


def all_in_one_piece(pattern: Pattern, base: str, step: str, values: Values) -> Piece:
    """The all-in-one facing of one piece. Raises :class:`Refused`."""
    piece = pattern.piece(base)
    armholes, necks = piece.runs_of("armhole"), piece.runs_of("neck")
    if not armholes or not necks:
        raise Stuck(say("the {piece} has no neckline and armhole", piece=piece.label.lower()), "pieces")
    neck, armhole = necks[0], armholes[0]
    chain, before, behind = _neck_to_armhole(piece, neck, armhole)
    first_neck = chain[0].name == neck
    cuts = (
        (float(values["middle"]), float(values["side"]))
        if first_neck
        else (float(values["side"]), float(values["middle"]))
    )
    for edges, cut, about in (
        (before, cuts[0], "middle" if first_neck else "side"),
        (behind, cuts[1], "side" if first_neck else "middle"),
    ):
        length = sum(edge.path.length for edge in edges)
        needs_length(length, cut + 10.0, say("a facing so deep"), about)
    part_before, part_behind = up_to([e.reversed() for e in reversed(before)], cuts[0]), up_to(behind, cuts[1])
    start, end = part_before[-1].path.end, part_behind[-1].path.end
    middle = (start + end) / 2
    bowed = complex(middle.real, (middle.imag + max(start.imag, end.imag)) / 2 - BOW * abs(end - start))
    ways = []
    for edge in (part_before[-1], part_behind[-1]):
        square = edge.path.end_direction * 1j
        towards = end - start
        ways.append((square if dot(square, towards) >= 0 else -square) if edge.finish == "fold" else None)
    line = smooth_through([start, bowed, end], ways[0], ways[1]).reversed()
    cut_edge = Edge(f"{step}.cut", line)
    ring = [*chain, *part_behind, cut_edge, *(e.reversed() for e in reversed(part_before))]
    name = below(step, piece.made, "facing")
    stem, stroke = base_name(name), stroke_of(name)
    edges = []
    for edge in ring:
        if edge is cut_edge:
            edge = replace(edge, name=f"{stem}.{INNER}{stroke}", finish="raw", why=NEATENED)
        else:
            edge = replace(edge, name=edge_below(name, edge.name), dart="")
            if edge.finish in ("facing", "turned", "binding"):
                edge = replace(edge, finish="")
        edges.append(edge)
    made = Piece(name, say("{piece}, facing", piece=piece.label), tuple(edges), grain=grain_in([e.path.start for e in edges]), cuts=_roles(values, piece.cut), pair=piece.pair, marks=piece.marks, remark=say("one facing for neck and armholes"), zero=piece.zero, role="facing", covers=piece.covers)  # fmt: skip
    return sound(_parallel_grain(made, piece))


def _neck_to_armhole(piece: Piece, neck: str, armhole: str) -> tuple[list[Edge], list[Edge], list[Edge]]:
    """The edges from neckline to armhole in outline order, and those of the runs before and behind them, darts shut."""
    blocks = sorted((block_of(piece, neck), block_of(piece, armhole)), key=lambda one: one.first)
    count = len(piece.edges)
    gap = (blocks[1].first - blocks[0].last) % count
    first, last = blocks if gap <= (blocks[0].first - blocks[1].last) % count else (blocks[1], blocks[0])
    chain = [piece.edges[(first.first + n) % count] for n in range((last.last - first.first) % count + 1)]
    if any(edge.dart for edge in chain):
        raise Stuck(
            say(
                "there is a dart in neck, shoulder or armhole of the {piece}; move it first", piece=piece.label.lower()
            ),
            "pieces",
        )
    return chain, away(piece, first.before, -1)[::-1], away(piece, last.behind, 1)


def _describe_all(values: Values) -> Sentence:
    return say(
        "facing of neck and armholes in one, {side} below the armhole", side=Length(float(values.get("side", 0.0)))
    )


def _no_both(pattern: Pattern) -> str:
    both = any(p.runs_of("neck") and p.runs_of("armhole") for p in pattern.pieces)
    return "" if both else say("no piece here has both a neckline and an armhole")


def _usual(pattern: Pattern, chosen: Values) -> Mapping[str, Any]:
    """Front and back together: the facing is closed over the shoulders, so one of them alone is rarely meant."""
    both = tuple(piece.name for piece in _faced_both_ways(pattern))
    return {"pieces": both} if set(chosen.get("pieces", ())) & set(both) else {}


def _faced_both_ways(pattern: Pattern) -> list[Piece]:
    """The pieces with a neckline and an armhole, other than parts."""
    return [p for p in pattern.pieces if p.runs_of("neck") and p.runs_of("armhole") and not made_by_part(p)]


register_step(Step(
    "all_in_one_facing", "Facing, all in one",
    "One facing for neckline and armholes of a sleeveless bodice, from the side under the arm to the centre. Sew neck and armholes, turn it through the shoulders, then close the sides in one with the facing.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece with a neckline and an armhole."),
     Parameter("side", "Below the armhole", "length", 60.0, 20.0, 300.0),
     Parameter("middle", "Below the neckline", "length", 80.0, 20.0, 400.0), CLOTH, INTERFACED),
    all_in_one, _describe_all,
    suits={"piece": 21, "edge": 16}, symbol=((-2 - 5j, -4 + 2j, 5 + 4j, 5 - 2j, 2 - 5j),),
    asked_as=("face neck and armholes together", "sleeveless facing", "combined facing"),
    fits=_no_both, usual=_usual,
))  # fmt: skip
