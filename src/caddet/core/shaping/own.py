"""A step that draws pieces of one's own from points and formulas, beside those there are, and sews them on."""

from __future__ import annotations

from caddet.core.own_pieces.made import make_pieces
from caddet.core.own_pieces.reading import read
from caddet.core.own_pieces.taught import PIECE, WORDING, notes
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Sentence, say


def own_pieces(pattern: Pattern, context: Context, values: Values) -> Result:
    """The pieces of a recipe under the step's id, with their seams. Raises :class:`Stuck` naming the line at fault."""
    made = make_pieces(str(values["recipe"]), context.names, pattern, f"{context.id}.")
    if made.wrong is not None:
        raise Stuck(say("line {line}: {says}", line=made.wrong.line, says=made.wrong.says), "recipe")
    return Result(made.pattern)


def _describe(values: Values) -> Sentence:
    labels = [piece.label for piece in read(str(values.get("recipe") or "")).pieces]
    return say("from points and formulas: {pieces}", pieces=", ".join(labels) or "nothing yet")


register_step(Step(
    "own_pieces", "A piece of your own",
    "A piece is drawn from named points and formulas, beside those there are. Its edges can be sewn to theirs, and its formulas may name their lengths, such as edge_front_waist.",
    (Parameter("recipe", "Recipe", "text", PIECE, why="One thing a line: a point, an edge, a seam. What each line comes to stands beside it.", notes=notes, wording=WORDING),),
    own_pieces, _describe,
    suits={"seam": 9, "piece": 9}, symbol=((-5 + 4j, -5 - 4j, 2 - 4j, 5 + 1j, 5 + 4j, -5 + 4j), (-1 - 0.5j, 1 - 0.5j), (0 - 1.5j, 0 + 0.5j)),
    asked_as=("draw a piece", "from points", "formula", "my own recipe", "draft by instructions", "a panel", "a rectangle"),
    reads=lambda values: read(str(values["recipe"])).measures(),
))  # fmt: skip
