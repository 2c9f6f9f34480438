"""Steps on darts: pivot a dart to another place of the outline."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.surgery import pivot_dart as pivoted
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Sentence, say
from caddet.core.shaping.finding import one_dart, place_on, said, said_place

NOT_INTO = ("fold", "opening")  # finishes of edges that a dart can't open into
PARAMETERS = (
    Parameter("dart", "Dart", "dart", (), why="Without one, the first there is."),
    Parameter("to", "To the place", "place", None, why="Where the new dart opens."),
    Parameter("share", "Share of the dart", "ratio", 1.0, 0.05, 1.0, why="1 moves the whole dart; 0.5 half of it."),
)  # fmt: skip


def pivot_dart(pattern: Pattern, context: Context, values: Values) -> Result:
    """Close a dart (or a share of it) and open it elsewhere, turning the cloth between about its apex."""
    piece, dart = one_dart(pattern, values["dart"])
    if values["to"] is None:
        raise Stuck("say to which place: an edge, and how far along it", "to")
    there, spot = place_on(pattern, values["to"], "to")
    if there is not piece:
        raise Stuck(
            say(
                "the {label} is on the {label_2}, that place on the {label_3}",
                label=dart.label,
                label_2=piece.label.lower(),
                label_3=there.label.lower(),
            ),
            "to",
        )
    return Result(pivoted(pattern, piece, dart, spot, float(values["share"]), context.id))


def _describe(values: Values) -> Sentence:
    share, place = float(values.get("share", 1.0)), values.get("to")
    which = said(values["dart"][0]) if values.get("dart") else say("dart")
    where = said_place(place) if isinstance(place, Place) else say("a place to be chosen")
    if share >= 1:
        return say("{dart} pivoted to {place}", dart=which, place=where)
    return say("{share} of the {dart} pivoted to {place}", share=f"{share:.0%}", dart=which, place=where)


def _fits(pattern: Pattern) -> str:
    return "" if any(piece.darts for piece in pattern.pieces) else "there are no darts in this garment to pivot"


def _usual(pattern: Pattern, chosen: Values) -> dict[str, Any]:
    """The first dart of the piece that a place was chosen on, else the first there is."""
    if chosen.get("dart"):
        return {}
    with suppress(CaddetError):
        piece = place_on(pattern, chosen["to"], "to")[0] if chosen.get("to") else None
        on = [dart for one in pattern.pieces if piece is None or one is piece for dart in one.darts]
        return {"dart": (on[0].id,)} if on else {}
    return {}


def _refuses(pattern: Pattern, chosen: Values) -> str:
    """Why a chosen place can't take a dart: its edge is no place for one, or its piece has none to give."""
    if not chosen.get("to"):
        return ""
    piece, spot = place_on(pattern, chosen["to"], "to")
    if piece.run(spot.edge)[0].finish in NOT_INTO:
        return say("a dart can't open into a fold or an opening")
    return "" if piece.darts else say("the {piece} has no dart to pivot", piece=piece.label.lower())


PIVOT = register_step(
    Step(
        "pivot_dart", "Pivot a dart",
        "A dart takes in cloth towards its point; from which edge it comes is a choice. The piece is cut from the "
        "new place to the point, the old dart is folded shut, and the new one opens by the same angle.",
        PARAMETERS, pivot_dart, _describe,
        suits={"dart": 1, "notch": 3, "corner": 4, "edge": 4}, key="P", symbol=((-4 - 4j, 5j, 4 - 4j),),
        asked_as=("move the dart", "turn the dart to another place", "dart into the shoulder", "shift the dart"),
        usual=_usual, fits=_fits, refuses=_refuses,
    )
)  # fmt: skip
