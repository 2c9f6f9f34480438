"""Steps on darts: pivot a dart to another place of the outline, or close it so that an edge swings out there."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.pattern.dart_forms import open_out
from caddet.core.pattern.finding import one_dart, place_on, refused_as_stuck, said, said_place
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.spreading import faired
from caddet.core.pattern.surgery import in_one
from caddet.core.pattern.surgery import pivot_dart as pivoted
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Sentence, say

NOT_INTO = ("fold", "opening")  # finishes of edges that a dart can't open into
PARAMETERS = (
    Parameter("dart", "Dart", "dart", (), why="Without one, the first there is."),
    Parameter(
        "to",
        "To the place",
        "place",
        None,
        why="Where the new dart opens. Pull the dart there by its mouth.",
        hand=Hand("along", "dart"),
    ),
    Parameter("share", "Share of the dart", "ratio", 1.0, 0.05, 1.0, why="1 moves the whole dart; 0.5 half of it."),
)


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
        "pivot_dart",
        "Pivot a dart",
        "A dart takes in cloth towards its point; from which edge it comes is a choice. The piece is cut from the "
        "new place to the point, the old dart is folded shut, and the new one opens by the same angle.",
        PARAMETERS,
        pivot_dart,
        _describe,
        suits={"dart": 1, "notch": 3, "corner": 4, "edge": 4},
        key="P",
        symbol=((-4 - 4j, 5j, 4 - 4j),),
        asked_as=("move the dart", "turn the dart to another place", "dart into the shoulder", "shift the dart"),
        usual=_usual,
        fits=_fits,
        refuses=_refuses,
    )
)


def close_into(pattern: Pattern, context: Context, values: Values) -> Result:
    """A dart (or a share of it) closed, and the edge at another place opened by as much: flare at a hem, a cowl at a neck."""
    if values["to"] is not None and (why := _refuses_close(pattern, values)):
        raise Stuck(why, "to")
    moved = pivot_dart(pattern, context, values).pattern
    piece, dart = one_dart(pattern, values["dart"])
    now = moved.piece(piece.name)
    wanted = dart.marks | {f"{context.id}.2"}
    swung = next(one for one in now.darts if one.name == dart.name and one.marks >= wanted)
    key = now.edges[now.legs(swung.id)[0] - 1].name
    with refused_as_stuck("to"):
        opened = open_out(moved, now, swung).piece(piece.name)
    # the edge is one again, so its parts need no marks
    sides = frozenset({f"{context.id}.1", f"{context.id}.2"})
    whole = in_one(opened.with_edges([replace(e, marks=e.marks - sides) if e.name == key else e for e in opened.edges]))
    return Result(moved.with_piece(faired(whole, [key])), changes=OF_THE_BODY)


def _refuses_close(pattern: Pattern, chosen: Values) -> str:
    """Why an edge can't swing out at a chosen place: it is sewn to another, which would not reach round it."""
    if why := _refuses(pattern, chosen):
        return why
    if chosen.get("to"):
        piece, spot = place_on(pattern, chosen["to"], "to")
        if not piece.run(spot.edge)[0].finish:
            return say("that edge is sewn to another one: turn the dart there into gathers, or pivot it to a free edge")
    return ""


def _usual_close(pattern: Pattern, chosen: Values) -> dict[str, Any]:
    """The free edge that the dart points at, where its line meets it; without a dart, the first that points at one."""
    if chosen.get("to"):
        return _usual(pattern, chosen)
    with suppress(CaddetError):
        darts = (
            [one_dart(pattern, chosen["dart"])]
            if chosen.get("dart")
            else [(p, d) for p in pattern.pieces for d in p.darts]
        )
        for piece, dart in darts:
            _, a, apex, b = piece.legs(dart.id)
            for key in piece.runs():
                if piece.run(key)[0].finish in ("", *NOT_INTO) or len(piece.run(key)) > 1:
                    continue
                for along, point in piece.run(key)[0].walked.crossings((a + b) / 2, apex):
                    if abs(point - (a + b) / 2) > abs(apex - (a + b) / 2):
                        share = round(along / piece.run_length(key), 4)
                        return {"dart": (dart.id,), "to": Place(edge=key, share=share)}
    return {}


def _describe_close(values: Values) -> Sentence:
    which = said(values["dart"][0]) if values.get("dart") else say("dart")
    place = values.get("to")
    where = said_place(place) if isinstance(place, Place) else say("a place to be chosen")
    return say("{dart} closed, the edge swings out at {place}", dart=which, place=where)


register_step(
    Step(
        "dart_close", "Close the dart, the hem swings out",
        "The piece is cut from the edge to the point of the dart. As the dart is folded shut, the edge opens there and stays open: a flared hem below a waist dart, the folds of a cowl at the neck.",
        PARAMETERS, close_into, _describe_close,
        suits={"dart": 7}, symbol=((-2 - 5j, -1 + 0j, 0 - 5j), (-1 + 0j, -4 + 5j), (-1 + 0j, 3 + 5j)),
        asked_as=("dart into flare", "turn the dart into flare", "cowl from the dart", "dart into the hem", "swing the hem"),
        usual=_usual_close, fits=_fits, refuses=_refuses_close,
    )
)  # fmt: skip
