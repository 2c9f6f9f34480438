"""``python -m bench``: every benchmark, one line each."""

from __future__ import annotations

from bench import blocks, bodies, evaluation, keeping, laying, startup, surgery

for benchmark in (evaluation, keeping, blocks, bodies, laying, startup, surgery):
    benchmark.main()
