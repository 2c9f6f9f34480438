"""Figures: the language of formulas and the sums that are worked out from it."""
