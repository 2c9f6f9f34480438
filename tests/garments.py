"""Garments of known shape for the tape: invented from a kind's usual outline by a seed, and read without a fault."""

from __future__ import annotations

import numpy as np
from scipy.optimize import least_squares

from caddet.core.recipe.traced import Reading
from caddet.core.tracing.kinds import Kind
from caddet.core.tracing.net import BOW, COORDINATE, Net, Reals

EIGHTH = 25.4 / 8  # mm


def garment(kind: Kind, seed: int) -> tuple[Net, Reals]:
    """A garment of a kind: a child's to a large one, each measure of it its own; what is read once on two pieces is alike."""
    random = np.random.default_rng(seed)
    scale = random.uniform(0.55, 1.35)
    net = Net(kind.shapes, scale)
    wild = net.usual.copy()
    for n, one in enumerate(net.unknowns):
        reach = {COORDINATE: min(12 * scale, 0.08 * abs(one.usual) + 4), BOW: 0.012}.get(one.kind, 0.05)
        wild[n] += random.normal(0, reach)
    pairs = [(asked.seen[0], other) for asked in kind.asked for other in asked.seen[1:]]
    if not pairs:
        return net, wild
    first, second = [a for a, _ in pairs], [b for _, b in pairs]
    weak = np.array([{COORDINATE: 10.0, BOW: 0.01}.get(one.kind, 0.04) for one in net.unknowns])

    def apart(x: Reals) -> Reals:
        return np.concatenate([(net.seen(x[None], first)[0] - net.seen(x[None], second)[0]) / 5e-4, (x - wild) / weak])

    return net, np.asarray(least_squares(apart, wild).x)


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
