"""Whether two values of the core are the same, field by field, and where they are not."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from typing import Any

from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.entries import PiecesSource
from caddet.core.recipe.storing import pattern_of, stored_pattern

NEAR = 1e-7  # mm


def unlike(a: Any, b: Any, where: str = "") -> Iterator[str]:
    """Where two frozen values differ; numbers by more than rounding."""
    if dataclasses.is_dataclass(a) and type(a) is type(b):
        for one in dataclasses.fields(a):
            if one.compare:
                yield from unlike(getattr(a, one.name), getattr(b, one.name), f"{where}.{one.name}")
    elif isinstance(a, tuple) and isinstance(b, tuple) and len(a) == len(b):
        for number, (one, other) in enumerate(zip(a, b, strict=True)):
            yield from unlike(one, other, f"{where}[{number}]")
    elif where.endswith(".angle"):
        if abs((a - b + math.pi) % math.tau - math.pi) > NEAR:
            yield f"{where}: {a} → {b}"
    elif isinstance(a, float | complex) and isinstance(b, int | float | complex):
        if abs(a - b) > NEAR:
            yield f"{where}: {a} → {b}"
    elif a != b:
        yield f"{where}: {a!r:.90} → {b!r:.90}"


def lost_when_stored(pattern: Pattern) -> list[str]:
    """What is another in a pattern after it was stored and read again. Its fits stay behind, and what a step meant."""
    text = stored_pattern(pattern, "stored").model_dump_json()
    again, findings = pattern_of(PiecesSource.model_validate_json(text))
    bare = dataclasses.replace(pattern, fits=(), meant=())
    if pattern.meant:
        bare, again = dataclasses.replace(bare, promises=()), dataclasses.replace(again, promises=())
    gone = [one for one in findings if one.code == "draft.seam"]
    if gone:  # a seam that is lost in the pattern can't be stored
        bare = dataclasses.replace(bare, seams=tuple(s for s in bare.seams if s.name in {t.name for t in again.seams}))
    return list(unlike(bare, again))
