"""Finds every block and every step: importing this module registers them all."""

from __future__ import annotations

import importlib
import pkgutil

from caddet.core import blocks, parts, shaping, truing


def _import_all() -> None:
    for package in (blocks, shaping, parts, truing):
        for module in pkgutil.iter_modules(package.__path__, package.__name__ + "."):
            importlib.import_module(module.name)


_import_all()
