"""A rubbed-off sheet: what its tracing begins with, a list of measured points to be written over."""

from __future__ import annotations

from caddet.core.own_pieces.taught import SHEET
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.values import Text


def rubbed_off() -> Recipe:
    """The recipe of points and edges of a rubbed-off sheet, to begin with."""
    return Recipe.of("own.points", options={"recipe": Text(text=SHEET)})
