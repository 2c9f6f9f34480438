"""Finds every block, step, way of tracing and kind of garment: importing this module registers them all."""

from __future__ import annotations

import importlib
import pkgutil

from caddet.core import blocks, parts, shaping, tracing, truing
from caddet.core.tracing import garments, photo


def _import_all() -> None:
    for package in (blocks, shaping, parts, truing, garments, tracing, photo):
        for module in pkgutil.iter_modules(package.__path__, package.__name__ + "."):
            importlib.import_module(module.name)


_import_all()
