"""Steps on the seams of traced or spoilt pieces: edges sewn, both sides made to meet, notches put where they meet."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.pattern.features import Notch
from caddet.core.pattern.finding import (
    chosen_edges,
    place_on,
    refused_as_stuck,
    said,
    said_place,
)
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Join, JoinKind, Part, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Parameter
from caddet.core.recipe.registry import Step, Stuck, Values, register_step
from caddet.core.sentences import Sentence, say
from caddet.core.shaping.joining import KINDS, agreeing
from caddet.core.truing.ends import layer_lengthened
from caddet.core.truing.notches import agreeing as notches_agreeing
from caddet.core.truing.notches import marks, placed
from caddet.core.truing.walk import walk

SEAM = Parameter("seam", "Seam", "seam", None)


def _seam(pattern: Pattern, values: Values) -> Seam:
    if not values["seam"]:
        raise Stuck(say("say which seam"), "seam")
    return pattern.seam(values["seam"][0])


def _said_seam(values: Values) -> str:
    seam = values.get("seam")
    return own_name(seam[0]).replace("_", " ") if seam else say("to be chosen")


def _no_seam(pattern: Pattern) -> str:
    return "" if pattern.seams else say("there is no seam here")


# --- two edges sewn to each other -----------------------------------------------------------------


def sew(pattern: Pattern, context: Context, values: Values) -> Result:
    """A seam between edges that were not sewn, walked from the ends that belong together."""
    first, second = chosen_edges(pattern, values["first"], "first"), chosen_edges(pattern, values["second"], "second")
    if not values["first"] or not values["second"]:
        raise Stuck(say("choose the edges of both sides"), "first" if not values["first"] else "second")
    if {(p.name, key) for p, key in first} & {(p.name, key) for p, key in second}:
        raise Stuck(say("an edge can't be sewn to itself"), "second")
    taken = [key for piece, key in (*first, *second) if _sewn(pattern, piece, key)]
    if taken:
        raise Stuck(say("the {edge} is in a seam already", edge=said(taken[0])), "first")
    layers = [tuple(Part(reference(str(ref))) for ref in values[name]) for name in ("first", "second")]
    backwards = _other_way(first[0], second[0]) != (values["ends"] == "other")
    if backwards:
        layers[1] = tuple(replace(part, backwards=True) for part in layers[1][::-1])
    name = f"{context.id}.seam"
    words = said(str(values["first"][0]))
    made = Seam(name, say("Seam of the {edge}", edge=words), tuple(layers))
    free = {(p.name, key) for p, key in (*first, *second)}
    pieces = tuple(
        piece.with_edges(
            [replace(e, finish="") if (piece.name, e.name) in free and not e.dart else e for e in piece.edges]
        )
        for piece in pattern.pieces
    )
    pattern = replace(pattern, pieces=pieces).with_seam(made)
    kind: JoinKind = values["how"]
    if kind != "plain":
        a, b = (pattern.length(layer) for layer in made.layers)
        amount = b - a if kind in ("eased", "pleated") else b / a
        pattern = pattern.with_seam(replace(made, joins=(Join(kind, amount),)))
    return Result(pattern, findings=_ends_said(first[0], second[0], backwards, context.id))


def _ends_said(first: tuple[Piece, str], second: tuple[Piece, str], backwards: bool, step: str) -> tuple[Finding, ...]:
    """Which ends meet, where ends of one kind would meet the other way round, or where nothing tells them apart."""
    ends, others = (_beside(piece, key) for piece, key in (first, second))
    pairs = list(zip(ends, others[::-1] if backwards else others, strict=True))
    alike = sum(one == other for one, other in pairs)
    turned = sum(one == other for one, other in zip(ends, others if backwards else others[::-1], strict=True))
    if alike > turned or (alike == turned and alike > 0):
        return ()
    (one, other), (two, another) = [[word.replace("_", " ") for word in pair] for pair in pairs]
    words = say(
        "Sewn so, the end of the {first} at the {one} meets that of the {second} at the {other}, and the one at the {two} that at the {another}. If it should be the other way round, choose the other ends.",
        first=said(first[1]),
        second=said(second[1]),
        one=one,
        other=other,
        two=two,
        another=another,
    )
    return (Finding("step.ends", words, f"recipe[{step}].ends", "look" if turned > alike else "note"),)


def _sewn(pattern: Pattern, piece: Piece, key: str) -> bool:
    number = next(n for n, one in enumerate(pattern.pieces) if one is piece)
    return any((number, index) in pattern.sewn() for index in piece.indices(reference(key)))


def _other_way(first: tuple[Piece, str], second: tuple[Piece, str]) -> bool:
    """Whether the second run is walked against its maker's direction, so that ends of one kind come together."""
    ends = [_beside(piece, key) for piece, key in (first, second)]
    alike, crossed = (
        (ends[0][0] == ends[1][0]) + (ends[0][1] == ends[1][1]),
        (ends[0][0] == ends[1][1]) + (ends[0][1] == ends[1][0]),
    )
    if alike != crossed:
        return crossed > alike
    ways = [paths[-1].end - paths[0].start for paths in (piece.walked(key) for piece, key in (first, second))]
    main = [way.imag if abs(way.imag) >= abs(way.real) else way.real for way in ways]
    return main[0] * main[1] < 0


def _beside(piece: Piece, key: str) -> tuple[str, str]:
    """What becomes of the edges before and after a run, in its maker's direction: their finish and own name."""
    indices = piece.indices(reference(key))
    count = len(piece.edges)
    before, after = piece.edges[indices[0] - 1], piece.edges[(indices[-1] + 1) % count]
    if piece.edges[indices[0]].backwards:
        before, after = piece.edges[(indices[0] + 1) % count], piece.edges[indices[-1] - 1]
    return before.finish or before.own, after.finish or after.own


def _describe_sew(values: Values) -> Sentence:
    return say(
        "{first} sewn to {second}",
        first=", ".join(said(str(one)) for one in values.get("first") or ()) or say("edges to be chosen"),
        second=", ".join(said(str(one)) for one in values.get("second") or ()) or say("edges to be chosen"),
    )


register_step(Step(
    "sew", "Sew edges together",
    "Two edges that belong to no seam are told to be sewn to each other, so that they can be walked, notched and graded together. For pieces that were traced or imported.",
    (Parameter("first", "Edges of one side", "edges", ()), Parameter("second", "Edges of the other side", "edges", ()),
     Parameter("how", "The longer side", "choice", "plain", choices=KINDS),
     Parameter("ends", "Which ends meet", "choice", "kind", choices=(("kind", "Those of one kind"), ("other", "The other ones")), why="By itself the ends meet that lie beside edges of one kind: hem to hem, waist to waist.")),
    sew, _describe_sew,
    suits={"edge": 22}, symbol=((-5 - 4j, -1 - 4j, -1 + 4j, -5 + 4j), (5 - 4j, 1 - 4j, 1 + 4j, 5 + 4j), (-1 - 2j, 1 - 2j), (-1 + 2j, 1 + 2j)),
    asked_as=("sew to", "seam between", "join these edges", "sew together"),
    refuses=lambda pattern, chosen: next(
        (say("the {edge} is in a seam already", edge=said(key)) for piece, key in chosen_edges(pattern, chosen.get("first") or ()) if _sewn(pattern, piece, key)), ""
    ),
))  # fmt: skip


# --- both sides equally long ----------------------------------------------------------------------

WHICH = (("second", "The second side"), ("first", "The first side"), ("half", "Half by each"))


def agree(pattern: Pattern, context: Context, values: Values) -> Result:
    """One side of a seam made longer or shorter at its freer end, until both meet."""
    del context
    seam = _seam(pattern, values)
    if len(seam.layers) != 2:
        raise Stuck(say("{label}: only a seam of two layers", label=seam.label), "seam")
    off = walk(pattern, seam).off
    if abs(off) < 0.05:
        raise Stuck(say("both sides meet already"), "seam")
    ratio = seam.joins[0].amount if seam.kind in ("gathered", "stretched") else 1.0
    share = {"second": 1.0, "first": 0.0, "half": 0.5}[str(values["change"])]
    with refused_as_stuck("change"):
        if share > 0:
            pattern = layer_lengthened(pattern, seam.b, -off * share)
        if share < 1:
            pattern = layer_lengthened(pattern, seam.a, off * (1 - share) / ratio)
    return Result(pattern, changes=agreeing(pattern, seam))


def _describe_agree(values: Values) -> Sentence:
    which = dict(WHICH).get(str(values.get("change", "second")), "The second side").lower()
    return say("the seam {seam} made to meet by {which}", seam=_said_seam(values), which=which)


register_step(
    Step(
        "agree",
        "Make both sides meet",
        "Where one side of a seam runs out before the other, the one is taken off or added to at its end, the edge beside it drawn along. At a hem rather than at another seam.",
        (SEAM, Parameter("change", "Changed is", "choice", "second", choices=WHICH)),
        agree,
        _describe_agree,
        suits={"seam": 6},
        symbol=((-5 - 3j, 4 - 3j), (-5 + 3j, 1 + 3j), (1 + 3j, 4 + 3j), (4 - 5j, 4 + 5j)),
        asked_as=("sides the same length", "one side is longer", "true the seam", "take it off"),
        fits=_no_seam,
    )
)


# --- notches --------------------------------------------------------------------------------------


def notch(pattern: Pattern, context: Context, values: Values) -> Result:
    """A notch at a place, and where the edge is sewn its partner on the other side."""
    del context
    if values["at"] is None:
        raise Stuck(say("say where: click a place on an edge"), "at")
    piece, spot = place_on(pattern, values["at"], "at")
    double = bool(values["double"])
    pattern = pattern.with_piece(replace(piece, notches=(*piece.notches, Notch(spot.edge, spot.u, double))))
    for seam in pattern.seams:
        for number, layer in enumerate(seam.layers):
            if len(seam.layers) != 2 or not all(map(pattern.fragments, layer)):
                continue
            own = Notch(spot.edge, spot.u, double)  # the two sides of a cut have one name: only the side it was put on
            found = [one for one in marks(pattern, layer) if one.notch == own and one.piece == piece.name]
            if found:
                other = seam.layers[1 - number]
                share = pattern.length(other) / pattern.length(layer)
                mate, there = placed(pattern, other, found[0].at * share)
                pattern = pattern.with_piece(replace(mate, notches=(*mate.notches, Notch(there.edge, there.u, double))))
    return Result(pattern)


register_step(Step(
    "notch", "Notch",
    "A balance mark across an edge; where the edge is sewn, its partner is put on the other side as well, at the same share. It keeps its share when the edges change.",
    (Parameter("at", "At the place", "place", None), Parameter("double", "Double", "flag", False, why="Single in front, double behind.")),
    notch, lambda values: say("a notch on {place}", place=said_place(values["at"]) if values.get("at") is not None else say("a place to be chosen")),
    suits={"edge": 23, "corner": 6}, symbol=((-5 + 2j, 5 + 2j), (0 + 2j, 0 - 3j)),
    asked_as=("balance mark", "mark where they meet", "add a notch"),
))  # fmt: skip


def notches_even(pattern: Pattern, context: Context, values: Values) -> Result:
    """The notches of a seam's further sides where they meet those of its first."""
    del context
    seam = _seam(pattern, values)
    for layer in range(1, len(seam.layers)):
        pattern = notches_agreeing(pattern, seam, layer)
    return Result(pattern)


register_step(
    Step(
        "notches_even",
        "Put notches where they meet",
        "The notches of one side are walked off, and those of the other put where they meet them, single to single and double to double; one that is missing is added.",
        (SEAM,),
        notches_even,
        lambda values: say("notches of the seam {seam} put where they meet", seam=_said_seam(values)),
        suits={"seam": 8},
        symbol=((-5 - 2j, 5 - 2j), (-5 + 2j, 5 + 2j), (-2 - 2j, -2 + 2j), (3 - 2j, 3 + 2j)),
        asked_as=("match notches", "notches do not meet", "move the notch"),
        fits=_no_seam,
    )
)


def notch_double(pattern: Pattern, context: Context, values: Values) -> Result:
    """The notches of edges made double, on what they are sewn to as well."""
    del context
    keys = {key for _, key in chosen_edges(pattern, values["edges"])}
    if not values["edges"]:
        raise Stuck(say("say of which edges"), "edges")
    for seam in pattern.seams:
        if any(part.ref.key in keys for part in seam.parts()):
            keys |= {part.ref.key for part in seam.parts()}
    pieces = tuple(
        replace(piece, notches=tuple(replace(one, double=True) if one.edge in keys else one for one in piece.notches))
        for piece in pattern.pieces
    )
    if pieces == pattern.pieces:
        raise Stuck(say("these edges have no single notch"), "edges")
    return Result(replace(pattern, pieces=pieces))


register_step(
    Step(
        "notch_double",
        "Make notches double",
        "A second notch beside each one of an edge and of what it is sewn to, so that back and front can't be taken for each other.",
        (Parameter("edges", "Edges", "edges", ()),),
        notch_double,
        lambda values: say(
            "double notches on {edges}", edges=", ".join(said(str(one)) for one in values.get("edges") or ())
        ),
        suits={"notch": 5},
        symbol=((-5 + 2j, 5 + 2j), (-1 + 2j, -1 - 3j), (1.5 + 2j, 1.5 - 3j)),
        asked_as=("double notch", "tell front from back"),
    )
)
