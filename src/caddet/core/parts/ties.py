"""Ties sewn on at the end of an edge, and the slot that one of them goes through."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import Finding
from caddet.core.parts.adding import ROLES, box, drawn, layer_of, notion, run_words, with_features, with_part
from caddet.core.pattern.finding import chosen_edges, said
from caddet.core.pattern.ids import named_on
from caddet.core.pattern.notions import Notion
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Join, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.framing import spot_point

YARD_AND_HALF = 1371.6
SMALL_SEAM = 6.35  # mm, a quarter of an inch
SLOT = 19.05  # mm, ¾ of an inch: the slot that a wrap's tie goes through
SMALL_CHILD = 1220.0  # mm of height, about seven years: EN 14682, from memory


def strip_width(finished: float, allowance: float = SMALL_SEAM) -> float:
    """How wide a strip is cut that is folded, sewn along one side and turned, so that it is so wide (mm)."""
    return 2 * finished + 2 * allowance


def turned_in(strip: Piece) -> Piece:
    """A strip with small seams along its sides: wider ones can't be turned in it."""
    edges = [replace(e, allowance=SMALL_SEAM) if e.own in ("top", "bottom") else e for e in strip.edges]
    return strip.with_edges(edges)


def ties(pattern: Pattern, context: Context, values: Values) -> Result:
    """A tie at the end of each chosen edge; of one of a pair, at both."""
    if not values["edges"]:
        raise Stuck(say("say at which edges the ties are sewn on"), "edges")
    length = float(values["length"])
    made: list[Piece] = []
    seams: list[Seam] = []
    notions: list[Notion] = []
    findings: list[Finding] = []
    for number, (piece, key) in enumerate(chosen_edges(pattern, values["edges"])):
        whole = piece.run_length(key)
        here = whole / 2 if piece.feature("band_fold") else whole  # a band's end is folded in half
        wide = float(values["width"]) or here
        if wide > here + 0.5:
            raise Stuck(
                say(
                    "the tie is wider than the {run}, which is {length}", run=run_words(piece, key), length=Length(here)
                ),
                "width",
            )
        name = f"{context.id}.tie_{number + 1}"
        made.append(_tie(name, length, wide, piece.worn, str(values["cloth"])))
        base = layer_of(key, piece.marks)[0]
        if wide < whole - 0.5:
            spots = [piece.spot_at(key, at).u for at in (0.0, wide)]
            base = replace(base, low=min(spots), high=max(spots))
        words = say("Tie to the {run}", run=run_words(piece, key))
        seams.append(
            Seam(
                f"{name}_seam",
                words,
                ((base,), layer_of(named_on(name, "sewn"))),
                (Join("pleated", wide),),
                corners=True,
            )
        )
        if 0 < context.measures.get("height", 0.0) < SMALL_CHILD and ("neck" in key or "hood" in key):
            danger = say(
                "No ties or cords at the neck or hood of a young child: they catch and strangle (EN 14682). Local rules come first."
            )
            findings.append(Finding("part.cord", danger, f"recipe[{context.id}].edges", "stops"))
    if values["slot"]:
        on, point = spot_point(pattern, values["slot"][0], "slot")
        pattern = pattern.with_piece(
            with_features(
                on,
                [
                    drawn(
                        "buttonhole",
                        f"{context.id}.slot",
                        say("slot for the tie"),
                        [point - SLOT / 2, point + SLOT / 2],
                    )
                ],
            )
        )
        notions.append(
            notion(context.id, "tape", say("Stay tape at the slot"), [], [(say("both its sides"), 4 * SLOT)])
        )
    return Result(with_part(pattern, made, seams, notions=notions), findings=tuple(findings))


def _tie(name: str, length: float, wide: float, count: int, cloth: str) -> Piece:
    tie = box(
        name,
        say("Tie"),
        length,
        2 * wide,
        ("top", "end", "bottom", "sewn"),
        ("joined", "joined", "joined", ""),
        cut=count,
        cloth=(cloth,),
        remark=say("folded lengthwise, sewn and turned: {wide} wide", wide=Length(wide)),
    )
    why = say("the strip is folded lengthwise and sewn to itself")
    tie = turned_in(tie.with_edges([replace(e, why=why if e.finish else "") for e in tie.edges]))
    return with_features(
        tie,
        [drawn("fold_line", named_on(name, "tie_fold"), say("fold here"), [complex(0, wide), complex(length, wide)])],
    )


register_step(Step(
    "ties", "Ties",
    "Strips folded lengthwise, sewn and turned, sewn on at the ends of a band or an edge: a yard and a half each round a wrap skirt. The slot that one of them goes through lies just past where the front covers the band; it is worked like a buttonhole. Long ties trail: mind stairs and wheels.",
    (Parameter("edges", "At the edges", "edges", (), most=4),
     Parameter("length", "Length", "length", YARD_AND_HALF, 50.0, 4000.0),
     Parameter("width", "Finished width", "length", 0.0, 0.0, 300.0, why="0 takes the whole edge; of a band folded lengthwise, half."),
     Parameter("slot", "Slot", "points", (), most=1, optional=True, why="Where the tie goes through, if it does."),
     Parameter("cloth", "Cut from", "choice", "main", choices=ROLES)),
    ties, lambda values: say("ties of {length} at the {edges}", length=Length(float(values.get("length", 0.0))), edges=", ".join(said(one) for one in values.get("edges") or ()) or say("ends")),
    suits={"edge": 17}, symbol=((-5 - 2j, 5 - 2j, 4 + 0j, 5 + 2j, -5 + 2j, -5 - 2j),),
    asked_as=("tie wrap", "sash", "strings to tie", "bow", "belt that ties"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no edge here"),
    source="1½ yards each and a slot of ¾ inch at a wrap skirt: common practice, no source",
))  # fmt: skip
