"""Pages and parts of the Shape station."""
