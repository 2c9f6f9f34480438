"""How much a seam can be eased: by the kind of seam and cloth, from a table that can be changed.

The table ships as ``data/ease_limits.csv`` (seam, cloth, share of the shorter side, most in mm, where along the seam the
ease lies, source); the last column says ``guess`` where nothing but a guess is behind a row.
"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

from caddet.core.pattern.seams import Seam
from caddet.core.recipe.choices import Cloth


@dataclass(frozen=True, slots=True)
class EaseLimit:
    """What a seam takes at most (mm), where the ease lies, and what is behind that."""

    most: float
    where: str
    source: str


@lru_cache(maxsize=1)
def _table() -> dict[tuple[str, str], tuple[float, float, str, str]]:
    text = (resources.files("caddet") / "data/ease_limits.csv").read_text("utf-8")
    return {
        (row["seam"], row["cloth"]): (float(row["share"]), float(row["most"]), row["where"], row["source"])
        for row in csv.DictReader(io.StringIO(text))
    }


def ease_limit(seam: Seam, length: float, cloth: Cloth) -> EaseLimit | None:
    """The limit for a seam of this length (mm) in this cloth; None for one that is not eased or plain."""
    if seam.kind not in ("plain", "eased"):
        return None
    words = f"{seam.name} {seam.label}".lower()
    kinds = [name for name, _ in _table()]
    kind = next((name for name in kinds if name in words), "any")
    if kind == "any" and ("cut" in words or "side front" in words):
        kind = "princess"
    share, most, where, source = _table()[kind, cloth.kind]
    return EaseLimit(min(share * length, most), where, source)
