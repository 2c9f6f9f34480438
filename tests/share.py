"""What of a long list ``make test`` tries: a share that turns from case to case. ``make soak`` tries all of it."""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import TypeVar

T = TypeVar("T")
IN_FULL = bool(os.environ.get("CADDET_IN_FULL"))


def share(things: Iterable[T], of: int, turn: int = 0) -> list[T]:
    """Every so many-th of the things, from another one on with every turn; all of them in full."""
    return list(things)[0 if IN_FULL else turn % of :: 1 if IN_FULL else of]
