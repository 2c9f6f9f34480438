"""Caddet: a desktop workroom for drafting, truing and cutting one's own garment patterns."""

__version__ = "0.1.0"
