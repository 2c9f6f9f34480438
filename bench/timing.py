"""Timing by the best of several runs, printed as a ratio against a reference measured in the same run."""

from __future__ import annotations

import time
from collections.abc import Callable


def best(work: Callable[[], object], runs: int = 7) -> float:
    """The shortest of some runs, in seconds: the one that was disturbed least."""
    times = []
    for _ in range(runs):
        begun = time.perf_counter()
        work()
        times.append(time.perf_counter() - begun)
    return min(times)


def show(name: str, measured: float, reference: float, aim: float, *, unit: str = "ms") -> None:
    """One line: the ratio, the aim, and the two figures behind it (seconds, shown in ms; or in another unit)."""
    ratio = measured / reference
    word = "within" if ratio <= aim else "over"
    scale = 1e3 if unit == "ms" else 1.0
    figures = f"{measured * scale:,.2f} {unit} / {reference * scale:,.2f} {unit}"
    print(f"{name}: {ratio:.2f} x the reference, {word} the aim of {aim:g} x  ({figures})")
