"""From a photograph of a garment laid flat to its outline in millimetres."""
