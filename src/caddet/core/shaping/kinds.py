"""Steps on what a piece is: on the fold, whole or a pair; a centre seam; on the bias; a copy; taken away."""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from dataclasses import replace
from typing import cast

from caddet.core.errors import Finding
from caddet.core.geometry.segments import Motion
from caddet.core.pattern import assembly
from caddet.core.pattern.combine import prefixed
from caddet.core.pattern.edges import Edge, Finish
from caddet.core.pattern.finding import chosen_pieces, measurable, refused_as_stuck, said
from caddet.core.pattern.ids import on_other_side, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.seams import Join, Part, Seam
from caddet.core.pattern.surgery import sound, split_edge
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

STRAIGHT = 0.5  # mm by which an edge may leave the straight line and still be laid on a fold


def _pieces(pattern: Pattern, values: Values) -> list[Piece]:
    if not values["pieces"]:
        raise Stuck(say("say which piece"), "pieces")
    return chosen_pieces(pattern, values["pieces"])


def _describing(words: str) -> Callable[[Values], Sentence]:
    """The sentence of a step whose only value is its pieces; ``{pieces}`` stands for them."""

    def describe(values: Values) -> Sentence:
        """The sentence with its pieces."""
        named = ", ".join(said(one) for one in values.get("pieces") or ()) or say("a piece")
        return say(words, pieces=named)

    return describe


def _if_any(able: Callable[[Piece], bool], why: str) -> Callable[[Pattern], str]:
    return lambda pattern: "" if any(able(piece) for piece in pattern.pieces) else why


def _refusing(able: Callable[[Piece], bool], why: str) -> Callable[[Pattern, Values], str]:
    """Refuses a chosen piece that is not what is wanted; ``{piece}`` stands for it."""

    def refuses(pattern: Pattern, chosen: Values) -> str:
        """Why a chosen piece is not the wanted kind."""
        for piece in chosen_pieces(pattern, chosen.get("pieces") or ()):
            if not able(piece):
                return say(why, piece=piece.label.lower())
        return ""

    return refuses


PIECES = Parameter("pieces", "Pieces", "pieces", ())

# --- fold, whole, pair ----------------------------------------------------------------------------


def unfold(pattern: Pattern, context: Context, values: Values) -> Result:
    """Open pieces on the fold out into whole ones."""
    del context
    for piece in _pieces(pattern, values):
        pattern = assembly.unfold(pattern, piece)
    return Result(measurable(pattern))


register_step(
    Step(
        "unfold",
        "Open out the fold",
        "Half a piece, laid on the fold, becomes the whole one. Left and right can then be changed each on its own: one lower shoulder, a slanted line, a wrap.",
        (PIECES,),
        unfold,
        _describing("{pieces} opened out"),
        suits={"piece": 6},
        symbol=((0j, 5 + 0j, 5 + 5j, -5 + 5j, -5 + 0j, 0j), (0 - 2j, 0 + 5j)),
        asked_as=("whole piece", "full piece", "open the fold", "asymmetric", "left and right differ"),
        fits=_if_any(lambda p: bool(p.fold), "no piece here is cut on the fold"),
        refuses=_refusing(lambda p: bool(p.fold), "the {piece} is not cut on the fold"),
    )
)


def separate(pattern: Pattern, context: Context, values: Values) -> Result:
    """Make left and right pieces of pairs."""
    del context
    for piece in _pieces(pattern, values):
        pattern = assembly.separate(pattern, piece)
    return Result(pattern)


register_step(
    Step(
        "separate",
        "Left and right apart",
        "Two mirrored pieces become a left and a right one that can be changed each on its own.",
        (PIECES,),
        separate,
        _describing("{pieces}: left and right apart"),
        suits={"piece": 7},
        symbol=((-5 - 4j, -1 - 4j, -1 + 5j, -5 + 5j, -5 - 4j), (5 - 4j, 1 - 4j, 1 + 5j, 5 + 5j, 5 - 4j)),
        asked_as=("left and right", "one side only", "different sides", "asymmetric pair"),
        fits=_if_any(lambda p: p.pair, "no piece here is one of a pair"),
        refuses=_refusing(lambda p: p.pair, "the {piece} is not one of a pair"),
    )
)


def centre_seam(pattern: Pattern, context: Context, values: Values) -> Result:
    """Cut pieces apart at the fold: a pair with a seam down the middle, open at the top for ``opening`` mm."""
    for piece in _pieces(pattern, values):
        pattern = with_centre_seam(pattern, piece, float(values["opening"]), context.id)
    return Result(measurable(pattern))


def with_centre_seam(pattern: Pattern, piece: Piece, opening: float, step: str) -> Pattern:
    """A piece on the fold as a pair with a seam in the centre, open at its top for ``opening`` mm. Raises :class:`Stuck`."""
    folds = [edge for edge in piece.edges if edge.finish == "fold"]
    if len(folds) != 1:
        raise Stuck(say("the {piece} is not cut on one fold", piece=piece.label.lower()), "pieces")
    key, length = folds[0].name, folds[0].path.length
    if opening > length - 10.0:
        raise Stuck(
            say("the middle of the {piece} is only {length} long", piece=piece.label.lower(), length=Length(length)),
            "opening",
        )
    made = replace(
        piece,
        edges=tuple(replace(e, finish="") if e.finish == "fold" else e for e in piece.edges),
        pair=True,
        cuts=tuple(Cut(cut.cloth, 2 * cut.count) for cut in piece.cuts),
    )
    pattern = pattern.with_piece(made)
    one = Part(reference(key))
    if opening > 0:
        path = folds[0].walked
        from_start = path.start.imag <= path.end.imag
        spot = made.spot_at(key, opening if from_start else length - opening)
        pattern, _ = split_edge(pattern, made, spot, step)
        one = replace(one, low=spot.u) if from_start else replace(one, high=spot.u)
        made = pattern.piece(made.name)

        def open_there(edge: Edge) -> bool:
            """Whether an edge lies in the part that is left open."""
            inside = edge.high <= spot.u + 1e-9 if from_start else edge.low >= spot.u - 1e-9
            return edge.name == key and not edge.dart and inside

        pattern = pattern.with_piece(
            made.with_edges([replace(e, finish="opening") if open_there(e) else e for e in made.edges])
        )
    other = replace(one, ref=replace(one.ref, mirrored=True))
    seam = Seam(
        f"{step}.centre_{piece.made.replace('.', '_')}",
        say("{piece}, centre", piece=piece.label),
        ((one,), (other,)),
        (Join(),),
    )
    return replace(pattern, seams=(*pattern.seams, seam))


def _describe_centre(values: Values) -> Sentence:
    named = ", ".join(said(one) for one in values.get("pieces") or ()) or say("a piece")
    opening = float(values.get("opening", 0.0))
    if opening > 0:
        return say("centre seam in {pieces}, open for {opening}", pieces=named, opening=Length(opening))
    return say("centre seam in {pieces}", pieces=named)


register_step(
    Step(
        "centre_seam",
        "Seam in the centre",
        "A piece on the fold is cut as a pair and sewn together again: that is where a zip or another opening can lie. Left open at the top, the edge waits for its fastening.",
        (PIECES, Parameter("opening", "Left open from the top", "length", 0.0, 0.0, 1500.0)),
        centre_seam,
        _describe_centre,
        suits={"piece": 5},
        symbol=((0 - 5j, 0 + 5j), (-4 - 5j, -4 + 5j), (4 - 5j, 4 + 5j)),
        asked_as=("zip down the back", "open at the centre", "seam instead of the fold", "centre back seam"),
        fits=_if_any(lambda p: bool(p.fold), "no piece here is cut on the fold"),
        refuses=_refusing(lambda p: bool(p.fold), "the {piece} is not cut on the fold"),
    )
)


def onto_fold(pattern: Pattern, context: Context, values: Values) -> Result:
    """Lay a whole piece on the fold again, or take a straight centre seam away, so that the pair is cut on the fold."""
    for number, piece in enumerate(_pieces(pattern, values)):
        if _halves(piece):
            with refused_as_stuck("pieces"):
                pattern = assembly.refold(
                    pattern, piece, f"{context.id}.fold_{number}" if number else f"{context.id}.fold"
                )
        else:
            pattern = _on_the_fold(pattern, piece)
    return Result(pattern)


def _halves(piece: Piece) -> bool:
    """Whether a whole piece is made of a half and its counterpart."""
    strokes = {on_other_side(edge.name) for edge in piece.edges}
    return not piece.pair and not piece.fold and strokes == {True, False}


def _closing(pattern: Pattern, piece: Piece) -> Seam | None:
    """The seam that sews a straight edge of a piece to its own counterpart."""
    for seam in pattern.seams:
        if seam.closes():
            layer = pattern.layer_fragments(seam.a)
            if all(one.piece is piece for one in layer):
                return seam
    return None


def _on_the_fold(pattern: Pattern, piece: Piece) -> Pattern:
    seam = _closing(pattern, piece) if piece.pair else None
    if seam is None:
        raise Stuck(say("the {piece} has no seam to its own other half", piece=piece.label.lower()), "pieces")
    keys = {fragment.edge.name for fragment in pattern.layer_fragments(seam.a)}
    edges = [edge for edge in piece.edges if edge.name in keys]
    if any(edge.finish for edge in edges):
        raise Stuck(
            say("there is an opening or a slit in the centre of the {piece}", piece=piece.label.lower()), "pieces"
        )
    start, end = edges[0].path.start, edges[-1].path.end
    line = unit_line(start, end)
    if any(abs(((p - start) / line).imag) > STRAIGHT for edge in edges for p in edge.path.flattened(0.1)):
        raise Stuck(
            say("the centre of the {piece} is not straight, so it can't lie on a fold", piece=piece.label.lower()),
            "pieces",
        )
    if any(cut.count % 2 for cut in piece.cuts):
        raise Stuck(say("the {piece} is not cut an even number of times", piece=piece.label.lower()), "pieces")
    made = replace(
        piece,
        edges=tuple(replace(e, finish="fold") if e.name in keys else e for e in piece.edges),
        pair=False,
        cuts=tuple(Cut(cut.cloth, cut.count // 2) for cut in piece.cuts),
    )
    return replace(pattern.with_piece(sound(made)), seams=tuple(s for s in pattern.seams if s.name != seam.name))


def unit_line(a: complex, b: complex) -> complex:
    """The direction from one point to another. Raises :class:`Stuck` when they are one."""
    if abs(b - a) < 1e-6:
        raise Stuck(say("the edge has no length"), "pieces")
    return (b - a) / abs(b - a)


register_step(Step(
    "onto_fold", "Onto the fold",
    "A whole piece whose two halves are alike is laid on the fold again; of a pair, the straight seam in the centre is left away.",
    (PIECES,), onto_fold, _describing("{pieces} laid on the fold"),
    suits={"piece": 8}, symbol=((-4 - 5j, -4 + 5j), (-4 - 5j, 4 - 5j, 4 + 5j, -4 + 5j)),
    asked_as=("no centre seam", "cut on the fold", "without the seam in the middle"),
    fits=_if_any(lambda p: p.pair or _halves(p), "no piece here is one of a pair with a seam in the centre, or whole with two halves"),
    refuses=lambda pattern, chosen: next(
        (say("the {piece} has no seam to its own other half", piece=p.label.lower())
         for p in chosen_pieces(pattern, chosen.get("pieces") or ()) if not _halves(p) and (not p.pair or _closing(pattern, p) is None)), ""),
))  # fmt: skip

# --- grain, copy, away ----------------------------------------------------------------------------


def on_bias(pattern: Pattern, context: Context, values: Values) -> Result:
    """Turn the grain line of pieces to 45°."""
    del context
    for piece in _pieces(pattern, values):
        middle, half = (piece.grain.a + piece.grain.b) / 2, abs(piece.grain.b - piece.grain.a) / 2
        way = half * cmath.exp(1j * math.pi / 4)
        remark = say("on the bias: open it out and cut it single") if piece.fold else piece.remark
        turned = replace(piece, grain=Grain(middle - way, middle + way, "bias"), remark=remark)
        pattern = pattern.with_piece(turned)
    return Result(pattern)


register_step(
    Step(
        "bias",
        "On the bias",
        "The piece is cut at 45° to the grain: it falls softly and gives. It stretches while it is handled, and hangs longer; let it hang before it is hemmed.",
        (PIECES,),
        on_bias,
        _describing("{pieces} on the bias"),
        suits={"piece": 9},
        symbol=((-5 + 5j, 5 - 5j), (2 - 5j, 5 - 5j, 5 - 2j)),
        asked_as=("cut it on the bias", "turn the grain", "diagonal", "softer fall"),
        fits=_if_any(lambda p: True, "there is no piece here"),
        refuses=_refusing(lambda p: p.grain.kind != "bias", "the {piece} lies on the bias already"),
    )
)


def copied(pattern: Pattern, context: Context, values: Values) -> Result:
    """A second layer: the same pieces again, sewn in no seam of their own."""
    for piece in _pieces(pattern, values):
        name = str(values["label"]) or say("{piece}, second layer", piece=piece.label)
        lines = tuple(
            replace(f, kind="line") if f.kind == "level" else f for f in piece.features
        )  # worn once, measured once
        layer = prefixed(Pattern((replace(piece, features=lines),)), f"{context.id}.").pieces[0]
        why = say("it lies under the {piece} and is sewn with it", piece=piece.label.lower())
        edges = [e if e.finish or e.dart else replace(e, finish="joined", why=why) for e in layer.edges]
        if values["mirrored"]:
            flip = Motion(turn=-1 + 0j, shift=complex(2 * layer.centre_x, 0), mirror=True)
            layer = layer.with_edges(edges).moved(flip)
            edges = list(layer.edges)
        made = replace(
            layer,
            edges=tuple(edges),
            label=name,
            cuts=(Cut(str(values["cloth"]), piece.cut),),
            marks=frozenset(),
            role="layer",
            source="",
        )
        pattern = replace(pattern, pieces=(*pattern.pieces, made))
    return Result(pattern)


register_step(Step(
    "second_layer", "A second layer",
    "The piece once more, to be cut from this or another cloth and sewn as one with the first: a lined bodice, a layer with openings, a stiffened front.",
    (PIECES,
     Parameter("label", "Name of the copy", "text", ""),
     Parameter("cloth", "Cut from", "choice", "main", choices=(("main", "The main cloth"), ("lining", "The lining"), ("interfacing", "The interfacing"))),
     Parameter("mirrored", "Turned over", "flag", False, why="The mirror image: for a piece that is cut once, and once more facing the other way.")),
    copied, _describing("second layer of {pieces}"),
    suits={"piece": 10}, symbol=((-5 - 5j, 3 - 5j, 3 + 3j, -5 + 3j, -5 - 5j), (-3 + 5j, 5 + 5j, 5 - 3j)),
    asked_as=("double it", "lining of the same shape", "copy the piece", "underlining"),
    fits=_if_any(lambda p: True, "there is no piece here"),
))  # fmt: skip


def dropped(pattern: Pattern, context: Context, values: Values) -> Result:
    """Take pieces away; edges that were only sewn to them are told."""
    place = f"recipe[{context.id}]"
    findings: list[Finding] = []
    for piece in _pieces(pattern, values):
        if len(pattern.pieces) < 2:
            raise Stuck(say("it is the last piece; a garment needs one"), "pieces")
        before = set(pattern.sewn())
        names = [(p.name, e) for p, e in ((pattern.pieces[i], e) for i, e in before)]
        pattern = assembly.remove(pattern, piece)
        after = {(pattern.pieces[i].name, e) for i, e in pattern.sewn()}
        left = {p.name: p for p in pattern.pieces}
        free = [left[name].edges[e] for name, e in names if name in left and (name, e) not in after]
        pattern = _finished_open(pattern, {edge.name for edge in free}, cast(Finish, values["finish"]))
        if free:
            words = ", ".join(dict.fromkeys(said(edge.name) for edge in free))
            findings.append(
                Finding(
                    "step.free",
                    say(
                        "Without the {piece} these edges are sewn to nothing: {edges}.",
                        piece=piece.label.lower(),
                        edges=words,
                    ),
                    place,
                    "note",
                )
            )
    left_over = measurable(pattern)
    return Result(left_over, findings=tuple(findings), changes=OF_THE_BODY)


def _finished_open(pattern: Pattern, keys: set[str], finish: Finish) -> Pattern:
    """Edges that were left free, finished."""
    for piece in pattern.pieces:
        if any(e.name in keys and not e.finish for e in piece.edges):
            edges = [
                replace(e, finish=finish) if e.name in keys and not e.finish and not e.dart else e for e in piece.edges
            ]
            pattern = pattern.with_piece(piece.with_edges(edges))
    return pattern


register_step(Step(
    "take_away", "Take a piece away",
    "The piece and the seams that only it was in go: a top without its sleeves, a skirt without its band. What it was sewn to is finished as you say.",
    (PIECES, Parameter("finish", "What it was sewn to becomes", "choice", "facing",
                       choices=(("facing", "Faced"), ("binding", "Bound"), ("hem", "Hemmed"), ("turned", "Turned")))),
    dropped, _describing("without {pieces}"),
    suits={"piece": 11}, symbol=((-4 - 4j, 4 + 4j), (-4 + 4j, 4 - 4j)),
    asked_as=("remove the piece", "without sleeves", "sleeveless", "no waistband", "delete"),
    fits=lambda pattern: "" if len(pattern.pieces) > 1 else "there is only one piece",
))  # fmt: skip
