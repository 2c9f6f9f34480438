"""How steps are made by hand: what can be chosen, what can be done with it, and the gesture that does it. No screen."""
