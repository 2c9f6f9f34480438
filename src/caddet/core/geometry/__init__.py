"""Exact lines, arcs and cubics, paths of them, and parallels."""
