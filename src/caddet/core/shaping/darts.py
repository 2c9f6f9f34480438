"""Steps on darts: pivot a dart to another place of the outline."""

from __future__ import annotations

from typing import Any

from caddet.core.geometry.segments import Point
from caddet.core.pattern.features import Dart
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.surgery import CLEAR
from caddet.core.pattern.surgery import pivot_dart as pivoted
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Grip, Parameter, Step, Stuck, Values, register_step
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


def _grips(pattern: Pattern) -> list[Grip]:
    return [_grip(piece, dart) for piece in pattern.pieces for dart in piece.darts]


def _grip(piece: Piece, dart: Dart) -> Grip:
    _, a, _, b = piece.legs(dart.id)
    at = (a + b) / 2

    def place(to: Point) -> dict[str, Any]:
        best: tuple[float, str, float] = (float("inf"), "", 0.0)
        for run in piece.runs():
            if piece.run(run)[0].finish not in NOT_INTO:
                off, along = piece.nearest_on_run(run, to)
                room = piece.run_length(run)
                best = min(best, (off, run, min(max(along, CLEAR), max(room - CLEAR, CLEAR))))
        return {"dart": (dart.id,), "to": Place(edge=best[1], mm=round(best[2], 1)), "share": 1.0}

    def nudge(by: float) -> dict[str, Any]:
        start = place(at)
        return {**start, "to": start["to"].model_copy(update={"mm": max(CLEAR, float(start["to"].mm) + by)})}

    return Grip("pivot_dart", piece.name, at, f"Pivot the {dart.label}", place, nudge)


PIVOT = register_step(
    Step(
        "pivot_dart", "Pivot a dart",
        "A dart takes in cloth towards its point; from which edge it comes is a choice. The piece is cut from the "
        "new place to the point, the old dart is folded shut, and the new one opens by the same angle.",
        PARAMETERS, pivot_dart, _describe, _grips, fits=_fits,
    )
)  # fmt: skip
