"""``python -m bench``: every benchmark, one line each."""

from __future__ import annotations

from bench import blocks, bodies, evaluation, keeping, laying, outside, startup, surgery

for benchmark in (evaluation, keeping, blocks, bodies, laying, outside, startup, surgery):
    benchmark.main()
