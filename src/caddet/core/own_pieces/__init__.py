"""Pieces of one's own: a recipe of named points and formulas, read, placed and drawn."""
