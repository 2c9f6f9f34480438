"""Outside devices: the interface each is reached through, and a simulated stand-in that ships with Caddet."""
