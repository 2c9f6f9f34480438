"""The long tests: kills, bad input, random edits, full disks. ``make soak`` runs them; ``make test`` a small share."""
