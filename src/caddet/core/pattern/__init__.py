"""Pieces, seams and what is done to them: cut, spread, join, pivot."""
