"""``python -m bench``: every benchmark, one line each."""

from __future__ import annotations

from bench import (
    blocks,
    bodies,
    designs,
    evaluation,
    grading,
    hands,
    keeping,
    laying,
    outside,
    slips,
    startup,
    steps,
    surgery,
    tracing,
)

for benchmark in (
    evaluation,
    keeping,
    blocks,
    bodies,
    designs,
    grading,
    hands,
    laying,
    outside,
    slips,
    startup,
    steps,
    surgery,
    tracing,
):
    benchmark.main()
