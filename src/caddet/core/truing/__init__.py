"""Walking seams against each other, and joins over them."""
