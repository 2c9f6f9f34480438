"""What blocks share when they draft: solving, curves, necklines, armholes, caps, waists, legs, bands."""
