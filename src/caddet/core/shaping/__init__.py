"""Steps: one module per family. ``core.library`` imports them all."""
