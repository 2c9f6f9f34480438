"""What a round of the soak counts."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field


@dataclass(slots=True)
class Figures:
    """What a round counted, and what went wrong (with enough to see why)."""

    counts: Counter[str] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)
    worst: dict[str, float] = field(default_factory=dict)

    def at_most(self, name: str, value: float) -> None:
        self.worst[name] = max(self.worst.get(name, 0.0), value)
