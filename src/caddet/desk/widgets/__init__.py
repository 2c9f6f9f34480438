"""Fields, rows and sliders that the stations share."""
