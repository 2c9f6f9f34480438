"""Garments of known shape for the tape: invented from a kind's usual outline by a seed, and read without a fault."""

from __future__ import annotations

import numpy as np

from caddet.core.devices.practice_shots import practice_garment
from caddet.core.recipe.traced import Reading
from caddet.core.tracing.kinds import Kind
from caddet.core.tracing.net import Net, Reals

EIGHTH = 25.4 / 8  # mm


def garment(kind: Kind, seed: int) -> tuple[Net, Reals]:
    """A garment of a kind: a child's to a large one, each measure of it its own; what is read once on two pieces is alike."""
    return practice_garment(kind.name, seed, 0.55, 1.35)


def true_reading(net: Net, x: Reals, kind: Kind, name: str) -> float:
    """What a tape without fault reads, in mm."""
    asked = kind.reading(name)
    assert asked is not None
    return float(np.mean(net.seen(x[None], asked.seen)[0]))


def read_by_tape(kind: Kind, net: Net, x: Reals, *, checks: bool = True, exact: bool = False) -> list[Reading]:
    """Every reading that a kind asks for, to an eighth of an inch; without the checks only what is needed."""
    found = []
    for asked in kind.asked:
        if asked.needed or checks:
            value = true_reading(net, x, kind, asked.name)
            value = value if exact else round(value / EIGHTH) * EIGHTH
            if value > 0:
                found.append(Reading(what=asked.name, values=(value,)))
    return found
