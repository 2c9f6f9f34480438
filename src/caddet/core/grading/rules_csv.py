"""Grading rules as CSV: one rule a row, the sizes and the base in two rows of their own at the top.

::

    sizes,S,M,L,XL
    base,M
    piece,point,from,to,dx,dy
    front,side-hem,S,L,10,0
    front,side-hem,L,XL,12.5,0

Lengths are in millimetres when no unit is given (``1 cm`` and ``3/8 in`` can be typed); dx goes to the right, dy down.
"""

from __future__ import annotations

import csv
import io

from pydantic import ValidationError

from caddet.core.errors import CaddetError, InputError
from caddet.core.files.tables import at, lines_of
from caddet.core.grading.rules import RuleTable
from caddet.core.lengths import parse_length
from caddet.core.recipe.grading import GradeRule
from caddet.core.sentences import say

HEADER = ("piece", "point", "from", "to", "dx", "dy")
MOST_ROWS = 20_000


def rules_text(table: RuleTable) -> str:
    """The table as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("sizes", *table.sizes))
    writer.writerow(("base", table.base))
    writer.writerow(HEADER)
    for rule in table.rules:
        writer.writerow((rule.piece, rule.point, rule.first, rule.last, f"{rule.dx:g}", f"{rule.dy:g}"))
    return out.getvalue()


def read_rules(text: str, place: str = "") -> RuleTable:
    """The table from CSV. Raises :class:`InputError` with the line and column, and what was expected."""
    rows = [(number, [cell.strip() for cell in row]) for number, row in lines_of(text, place, most=MOST_ROWS + 3)]
    named = {row[0].lower(): (number, [cell for cell in row[1:] if cell]) for number, row in rows[:2] if row}
    for wanted, example in (("sizes", "sizes,S,M,L"), ("base", "base,M")):
        if wanted not in named or not named[wanted][1]:
            raise InputError(say("expected a row “{example}” at the top.", example=example), at(place, 1))
    if len(rows) < 3 or tuple(cell.lower() for cell in rows[2][1][:6]) != HEADER:
        raise InputError(
            say("expected the header “{header}” below the sizes and the base.", header=",".join(HEADER)),
            at(place, rows[2][0] if len(rows) > 2 else len(rows) + 1),
        )
    rules = tuple(_rule(row, at(place, number)) for number, row in rows[3:])
    try:
        return RuleTable(tuple(named["sizes"][1]), named["base"][1][0], rules)
    except InputError as error:
        raise InputError(say("{error}.", error=error.sentence), at(place, named["sizes"][0])) from error


def _rule(row: list[str], where: str) -> GradeRule:
    if len(row) < len(HEADER):
        raise InputError(say("expected {count} values: {header}.", count=6, header=",".join(HEADER)), where)
    try:
        dx, dy = (_mm(cell, f"{where}, column {name}") for cell, name in zip(row[4:6], HEADER[4:], strict=True))
        return GradeRule(piece=row[0], point=row[1], first=row[2], last=row[3], dx=dx, dy=dy)
    except ValidationError as error:
        fault = error.errors()[0]
        column = {"first": "from", "last": "to"}.get(str(fault["loc"][0]), str(fault["loc"][0]))
        raise InputError(say("{what}.", what=str(fault["msg"])), f"{where}, column {column}") from error


def _mm(cell: str, where: str) -> float:
    try:
        return float(cell.replace(",", "."))
    except ValueError:
        pass
    try:
        return parse_length(cell, "cm")
    except CaddetError as error:
        raise InputError(
            say("“{cell}” is no length; expected mm, such as 10 or -2.5.", cell=cell[:30]), where
        ) from error
