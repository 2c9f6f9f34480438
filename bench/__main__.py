"""``python -m bench``: every benchmark, one line each."""

from __future__ import annotations

from bench import bodies, evaluation, laying, startup

for benchmark in (evaluation, bodies, laying, startup):
    benchmark.main()
