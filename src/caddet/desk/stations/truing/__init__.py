"""The parts of the True station: seams walked, lines across them, darts folded and hems turned up."""
