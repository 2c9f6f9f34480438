"""``own.points``: pieces of one's own from named points and formulas; a recipe one was taught, run on any body."""

from __future__ import annotations

from caddet.core.own_pieces.made import figures_of, make_pieces
from caddet.core.own_pieces.reading import read
from caddet.core.own_pieces.taught import SKIRT, WORDING, notes
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Block, CannotDraft, Parameter, Values, register_block
from caddet.core.sentences import say


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """The pieces of the recipe. Raises :class:`CannotDraft` naming the first line at fault."""
    names = {**context.names, **{name: sum_.quantity for name, sum_ in context.sums.items()}}
    figures = {name: sum_.quantity for name, sum_ in context.sums.items()}
    made = make_pieces(str(options["recipe"]), names, pattern, figures=figures)
    if made.wrong is not None:
        sentence = say("Line {line}: {says}.", line=made.wrong.line, says=made.wrong.says)
        raise CannotDraft(sentence, "recipe.options.recipe")
    return Result(made.pattern)


register_block(Block(
    "own.points", "Points and formulas", "Pieces of your own: a recipe you were taught or worked out, written as points, formulas and edges. It is kept, and runs on another body.",
    (), (),
    (Parameter("recipe", "Recipe", "text", SKIRT, why="One thing a line: a point, an edge, a seam. What each line comes to stands beside it.", notes=notes, wording=WORDING),),
    (), (), draft, family="Your own",
    reads=lambda options: read(str(options["recipe"])).measures(),
    figures_in=lambda options: figures_of(read(str(options["recipe"]))),
))  # fmt: skip
