"""Blocks: one module each. ``core.library`` imports them all."""
