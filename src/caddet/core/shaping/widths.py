"""Steps on width and hems: wider or narrower from a level down; a hem lower here than there."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from caddet.core.geometry.segments import Point
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, lower_where, refused_as_stuck, said
from caddet.core.pattern.ids import base_name, own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.reshaping import block_of, redrawn, squared, widened
from caddet.core.pattern.roles import CENTRES
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.hemline import HEMS, with_neighbours


def hem_of(piece: Piece) -> str | None:
    """The run that is a piece's hem, or the casing or cuff edge at its foot."""
    low = [(edge.path.point_at(edge.path.length / 2).imag, edge.name) for edge in piece.edges if edge.finish in HEMS]
    if low:
        return max(low)[1]
    ends = piece.runs_of("hem", "cuff")
    return ends[0] if ends else None


def _side_runs(pattern: Pattern, piece: Piece, hem: str) -> list[str]:
    """The runs beside the hem that are seams to another edge: not a fold, an opening, nor a seam to their own other half."""
    block = block_of(piece, hem)
    closing = {part.ref.name for seam in pattern.seams if seam.closes() for part in seam.parts()}
    found = []
    for index in (block.before, block.behind):
        edge = piece.edges[index]
        if edge.finish not in ("fold", "opening") and base_name(edge.name) not in closing and edge.role not in CENTRES:
            found.append(edge.name)
    return found


def _level(piece: Piece, values: Values) -> float:
    """The height on a piece from which it is changed: the named level, or the highest that crosses it below its top."""
    wanted = own_name(reference(values["level"][0]).name) if values["level"] else ""
    heights = {
        f.role: sum(piece.where(end).imag for bit in f.bits for end in (bit.a, bit.b)) / (2 * len(f.bits))
        for f in piece.features
        if f.kind == "level"
    }
    if wanted:
        if wanted not in heights:
            raise Stuck(say("the {piece} has no such level", piece=piece.label.lower()), "level")
        return heights[wanted]
    for name in ("hip", "upper_arm", "bust", "thigh"):
        if name in heights:
            return heights[name]
    return piece.outline().bounds()[1]


def widen(pattern: Pattern, context: Context, values: Values) -> Result:
    """Pieces wider or narrower at the hem, by the same amount at each seam, from a level down."""
    del context
    chosen = chosen_pieces(pattern, values["pieces"]) if values["pieces"] else [p for p in pattern.pieces if hem_of(p)]
    amount, done = float(values["amount"]), 0
    for piece in chosen:
        hem = hem_of(piece)
        if hem is None:
            raise Stuck(say("the {piece} has no hem", piece=piece.label.lower()), "pieces")
        runs = _side_runs(pattern, piece, hem)
        if not runs:
            continue
        with refused_as_stuck("amount"):
            pattern = pattern.with_piece(widened(piece, runs, hem, _level(piece, values), amount))
        done += 1
    if not done:
        raise Stuck(say("none of these pieces has a seam that runs down to its hem"), "pieces")
    return Result(pattern, changes=OF_THE_BODY)


def _describe_widen(values: Values) -> Sentence:
    amount = float(values.get("amount", 0.0))
    which = ", ".join(said(one) for one in values.get("pieces") or ()) or say("all hems")
    by = Length(abs(amount))
    words = "{which} wider by {by} at each seam" if amount >= 0 else "{which} narrower by {by} at each seam"
    if values.get("level"):
        return say(
            words + " from the {level} down",
            which=which,
            by=by,
            level=own_name(reference(values["level"][0]).name).replace("_", " "),
        )
    return say(words, which=which, by=by)


def _usual_widen(pattern: Pattern, chosen: Values) -> Mapping[str, Any]:
    """With a piece, those whose sides meet its sides: seams change together."""
    if not chosen.get("pieces"):
        return {}
    return {"pieces": tuple(piece.name for piece in with_neighbours(pattern, chosen_pieces(pattern, chosen["pieces"])))}


register_step(Step(
    "widen", "Wider or narrower",
    "A leg, sleeve or skirt is made wider or narrower from a level down, by the same amount at both seams, so that the crease stays in the middle. Pieces that meet are changed together.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece with a hem."),
     Parameter("level", "From the level down", "level", (), why="None means the hip, the upper arm, or the bust."),
     Parameter("amount", "At each seam", "length", 25.4, -300.0, 600.0, hand=Hand("out", "pieces", "hem"), why="A minus narrows.")),
    widen, _describe_widen,
    suits={"piece": 4, "level": 2}, key="E", symbol=((-3 - 5j, -5 + 5j), (3 - 5j, 5 + 5j), (0 - 5j, 0 + 5j)),
    asked_as=("wide leg", "narrower leg", "wider sleeve", "wider from the hip", "taper", "bell", "slimmer"),
    usual=_usual_widen, fits=lambda pattern: "" if any(hem_of(p) for p in pattern.pieces) else say("no piece here ends in a hem"),
    source="from 10\" to 12\": 1\" at each side, the crease stays: common practice",
))  # fmt: skip

# --- shaped hems ----------------------------------------------------------------------------------


def shape_hem(pattern: Pattern, context: Context, values: Values) -> Result:
    """Hems lower (or higher) at the centre front, the sides and the centre back, each by its own amount."""
    del context
    chosen = chosen_pieces(pattern, values["pieces"]) or [piece for piece, _ in chosen_edges(pattern, values["edges"])]
    chosen = chosen or [piece for piece in pattern.pieces if hem_of(piece)]
    if not chosen:
        raise Stuck(say("no piece here ends in a hem"), "pieces")
    for piece in chosen:
        hem = hem_of(piece)
        if hem is None:
            raise Stuck(say("the {piece} has no hem", piece=piece.label.lower()), "pieces")
        block = block_of(piece, hem)
        by = []
        for index in (block.before, block.behind):
            edge = piece.edges[index]
            middle = edge.role in CENTRES or edge.finish in ("fold", "opening", "slit")
            by.append(("back" if piece.covers == "back" else "front") if middle else "side")
        with refused_as_stuck(by[0]):
            pattern = pattern.with_piece(redrawn(piece, hem, -float(values[by[0]]), -float(values[by[1]]), _curved))
    return Result(pattern, changes=OF_THE_BODY)


def _curved(edges: Sequence[Edge], start: Point, end: Point) -> list[Edge]:
    """A hem from end to end: square to what it meets as it was, one smooth curve between."""
    old = edges[0].path.start_direction, edges[-1].path.end_direction
    return squared(edges, start, end, old)


register_step(Step(
    "hem_shape", "A shaped hem",
    "The hem goes lower or higher at the centre front, the sides and the centre back, in one smooth curve that stays square to the seams: longer behind, rounded up at the sides, or straight again. A strongly curved hem is faced or bound, it can't be turned up wide.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece with a hem."),
     Parameter("edges", "Hem", "edges", (), optional=True, why="The hem of one piece, in place of the piece."),
     Parameter("front", "Lower at the centre front", "length", 0.0, -900.0, 900.0, why="A minus raises it."),
     Parameter("side", "Lower at the sides", "length", 0.0, -900.0, 900.0, why="A minus raises it."),
     Parameter("back", "Lower at the centre back", "length", 60.0, -900.0, 900.0, hand=Hand("down", "pieces", "hem"), why="A minus raises it.")),
    shape_hem, lambda values: lower_where("hem", values),
    refuses=lambda pattern, chosen: "" if all(key == hem_of(piece) for piece, key in chosen_edges(pattern, chosen.get("edges") or ())) else say("that is no hem"),
    suits={"edge": 2, "piece": 13}, symbol=((-5 - 2j, -1 - 1j, 3 + 2j, 5 + 5j),),
    asked_as=("high low hem", "longer behind", "shirt tail hem", "curved hem", "asymmetric hem", "mullet", "rounded hem"),
    fits=lambda pattern: "" if any(hem_of(p) for p in pattern.pieces) else say("no piece here ends in a hem"),
))  # fmt: skip
