"""How much a seam can be eased: by the kind of seam and cloth, from a table that can be changed.

The table ships as ``data/ease_limits.csv`` (seam, cloth, share of the shorter side, most in mm, where along the seam the
ease lies, source); the last column says ``guess`` where nothing but a guess is behind a row. A file ``ease-limits.csv``
beside the projects takes its place.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

from caddet.core.errors import InputError
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
COLUMNS = ("seam", "cloth", "share", "most", "where", "source")


def read_ease_limits(text: str, place: str = "") -> Table:
    """A table of limits from CSV. Raises :class:`InputError` with the line and column."""
    found: dict[tuple[str, str], tuple[float, float, str, str]] = {}
    reader = csv.DictReader(io.StringIO(text))
    if tuple(reader.fieldnames or ()) != COLUMNS:
        raise InputError(say("expected the columns {columns}.", columns=", ".join(COLUMNS)), place)
    for number, row in enumerate(reader, 2):
        where = f"{place}, line {number}" if place else f"line {number}"
        if row["cloth"] not in ("woven", "knit"):
            raise InputError(
                say("expected woven or knit, found “{cloth}”.", cloth=str(row["cloth"])[:20]), f"{where}, column cloth"
            )
        try:
            share, most = float(row["share"]), float(row["most"])
        except (TypeError, ValueError) as error:
            raise InputError(say("share and most must be numbers, such as 0.05 and 10 (mm)."), where) from error
        found[str(row["seam"]), str(row["cloth"])] = share, most, str(row["where"]), str(row["source"])
    missing = [cloth for cloth in ("woven", "knit") if ("any", cloth) not in found]
    if missing:
        raise InputError(say("expected a row “any” for {cloth}.", cloth=missing[0]), place)
    return found


@lru_cache(maxsize=1)
def shipped_limits() -> Table:
    """The limits that ship."""
    return read_ease_limits((resources.files("caddet") / "data/ease_limits.csv").read_text("utf-8"), "ease_limits.csv")


def ease_limit(seam: Seam, length: float, cloth: Cloth, table: Table | None = None) -> EaseLimit | None:
    """The limit for a seam of this length (mm) in this cloth; None for one that is neither eased nor plain."""
    if seam.kind not in ("plain", "eased"):
        return None
    table = table if table is not None else shipped_limits()
    words = f"{seam.name} {seam.label}".lower()
    kind = next((name for name, cloth_kind in table if name in words and cloth_kind == cloth.kind), "any")
    share, most, where, source = table[kind, cloth.kind]
    return EaseLimit(min(share * length, most), where, source)
