"""How much a seam can be eased: by the kind of seam and cloth, from a table that can be changed.

The table ships as ``data/ease_limits.csv`` (seam, cloth, share of the shorter side, most in mm, where along the seam the
ease lies, source); the last column says ``guess`` where nothing but a guess is behind a row. A file ``ease-limits.csv``
beside the projects takes its place.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from caddet.core.errors import InputError
from caddet.core.files.shipped import shipped_text
from caddet.core.files.tables import at, lines_of
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.choices import Cloth
from caddet.core.sentences import say


@dataclass(frozen=True, slots=True)
class EaseLimit:
    """What a seam takes at most (mm), where the ease lies, and what is behind that."""

    most: float
    where: str
    source: str


Table = Mapping[tuple[str, str], tuple[float, float, str, str]]
MOST_ROWS = 1000
MOST = 500.0  # mm that any seam is ever eased by
COLUMNS = ("seam", "cloth", "share", "most", "where", "source")


def read_ease_limits(text: str, place: str = "") -> Table:
    """A table of limits from CSV. Raises :class:`InputError` with the line and column."""
    found: dict[tuple[str, str], tuple[float, float, str, str]] = {}
    rows = lines_of(text, place, most=MOST_ROWS)
    if tuple(cell.strip() for cell in next(rows, (1, []))[1]) != COLUMNS:
        raise InputError(say("expected the columns {columns}.", columns=", ".join(COLUMNS)), at(place, 1))
    for number, cells in rows:
        line = at(place, number)
        if len(cells) != len(COLUMNS):
            raise InputError(say("expected {count} cells: {columns}.", count=6, columns=", ".join(COLUMNS)), line)
        seam, cloth, share, most, where, source = (cell.strip() for cell in cells)
        if cloth not in ("woven", "knit"):
            raise InputError(say("expected woven or knit, found “{cloth}”.", cloth=cloth[:20]), f"{line}, column cloth")
        found[seam, cloth] = (
            _limit(share, 1.0, f"{line}, column share"),
            _limit(most, MOST, f"{line}, column most"),
            where,
            source,
        )
    missing = [cloth for cloth in ("woven", "knit") if ("any", cloth) not in found]
    if missing:
        raise InputError(say("expected a row “any” for {cloth}.", cloth=missing[0]), place)
    return found


def _limit(cell: str, largest: float, where: str) -> float:
    try:
        value = float(cell)
    except ValueError:
        value = math.nan
    if not 0 <= value <= largest:
        raise InputError(
            say("“{cell}” is no limit; expected a number from 0 to {largest}.", cell=cell[:20], largest=largest), where
        )
    return value


@lru_cache(maxsize=1)
def shipped_limits() -> Table:
    """The limits that ship."""
    return read_ease_limits(shipped_text("ease_limits.csv"), "ease_limits.csv")


def ease_limit(seam: Seam, length: float, cloth: Cloth, table: Table | None = None) -> EaseLimit | None:
    """The limit for a seam of this length (mm) in this cloth; None for one that is neither eased nor plain."""
    if seam.kind not in ("plain", "eased"):
        return None
    table = table if table is not None else shipped_limits()
    words = f"{seam.name} {seam.label}".lower()
    kind = next((name for name, cloth_kind in table if name in words and cloth_kind == cloth.kind), "any")
    share, most, where, source = table[kind, cloth.kind]
    return EaseLimit(min(share * length, most), where, source)
