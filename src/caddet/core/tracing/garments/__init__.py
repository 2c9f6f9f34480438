"""The kinds of garment that can be measured flat with the tape, each a declaration."""
