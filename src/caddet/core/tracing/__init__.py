"""A pattern from a garment that fits: with the tape, from a rubbed-off sheet, or from a photograph."""
