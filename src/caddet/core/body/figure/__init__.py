"""The figure that shows where the tape goes, drawn by Caddet in the person's own proportions."""
